package app

import (
	"context"
	"fmt"
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/event"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/account"
	"zestytin/internal/ask"
	"zestytin/internal/customers"
	"zestytin/internal/events"
	"zestytin/internal/handover"
	"zestytin/internal/messages"
	"zestytin/internal/orders"
	"zestytin/internal/planning"
	"zestytin/internal/till"
)

// doorstep wires what has to do with customers: the drives to them, the book of them, and the page on which they ask.
func (a *App) doorstep(o *Options, router chi.Router) {
	h := a.Home
	a.Messages = messages.Register(h, messages.Deps{House: a.sender, Stands: a.stands, Jobs: a.Jobs, Mailer: o.Mailer,
		Texter: o.Texter})
	look := func(next http.Handler) http.Handler {
		return clientOf(o.Proxies)(account.LimitLooks(o.Pool)(next))
	}
	a.Messages.Pages(router, look)
	a.Events = events.Register(h, events.Deps{Paid: till.Paid, Recount: a.Orders.Recount,
		House: func(ctx context.Context, tx pgx.Tx) (events.House, error) {
			k, _, err := account.Load(ctx, tx)
			return events.House{Currency: k.Currency, Zone: k.Zone()}, err
		}})
	a.rounds()
	a.Drives = handover.Register(h, handover.Deps{Calendar: a.calendar, Home: addressOf,
		Hours: planning.HoursOf(a.calendar), Loads: a.Orders.Loads, Advance: a.Orders.Advance,
		Leaves: orders.Leaves, Errands: planning.Errands, SetErrands: a.Plan.SetErrands,
		Underway: a.Messages.Underway, OnTheWay: a.Messages.OnTheWay,
		Roads: o.Roads, Weather: o.Weather,
		Deadlines: a.deadlines})
	a.Customers = customers.Register(h, customers.Deps{Currency: currencyOf, Paid: till.Paid})
	asking := ask.Register(h, ask.Deps{
		Kitchen: func(ctx context.Context, tx pgx.Tx, scope order.Scope) (*order.Inputs, error) {
			return a.kitchen(ctx, tx, uuid.Nil, nil, scope)
		},
		House: func(ctx context.Context, tx pgx.Tx) (ask.House, error) {
			k, _, err := account.Load(ctx, tx)
			if err != nil {
				return ask.House{}, err
			}
			logo, err := account.Logo(ctx, tx)
			return ask.House{Name: k.Name, Address: k.Address, Statement: k.HomeStatement, Logo: logo}, err
		},
		Write: func(ctx context.Context, tx pgx.Tx, d order.Draft) (uuid.UUID, error) {
			made, err := a.Orders.Write(ctx, tx, d)
			return made.ID, err
		},
		Look: look, Send: account.LimitRequests(o.Pool)})
	asking.Pages(router)
}

// deadlines of events, as they stand in the calendar.
func (a *App) deadlines(ctx context.Context, tx pgx.Tx) ([]handover.Deadline, error) {
	list, err := a.Events.Deadlines(ctx, tx)
	out := make([]handover.Deadline, len(list))
	for i, d := range list {
		name := reason.Name(d.Name)
		says := map[event.DeadlineKind]reason.Reason{
			event.CountFinal: reason.Of("events.day-count", name), event.PartDue: reason.Of("events.day-part", name),
			event.RestDue: reason.Of("events.day-rest", name), event.OnTheDay: reason.Of("events.day-itself", name)}
		kind := strings.ReplaceAll(string(d.Kind), " ", "-")
		out[i] = handover.Deadline{Revision: d.Revision, Day: d.By, Says: says[d.Kind],
			UID: fmt.Sprintf("event-%s-%s-%d@zestytin", d.Event, kind, d.Nth)}
	}
	return out, err
}

func addressOf(ctx context.Context, tx pgx.Tx) (string, error) {
	k, _, err := account.Load(ctx, tx)
	return k.Address, err
}
