package events

import (
	"context"
	"errors"
	"net/http"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/event"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/orders"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Counting of the guests into the orders.
type Counting struct {
	Try  bool `json:"try" doc:"Only look what it would be"`
	Late bool `json:"late" doc:"Though the count is final"`
}

// Counted orders.
type Counted struct {
	Orders []CountedOrder `json:"orders" doc:"Those that change"`
	Total  price.Money    `json:"total" doc:"Of all orders then, with tax"`
}

// CountedOrder is an order whose count changes.
type CountedOrder struct {
	ID       uuid.UUID `json:"id"`
	Customer string    `json:"customer"`
	orders.Recount
}

// errTry ends a transaction of which nothing is to be kept.
var errTry = errors.New("it was only to be looked at")

func (e *Events) counts(ctx context.Context, in *struct {
	web.ID
	Body Counting
}) (*struct{ Body Counted }, error) {
	out := Counted{Orders: []CountedOrder{}}
	err := e.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		s, err := read(ctx, tx, in.ID.ID, " for update")
		if err != nil {
			return err
		}
		f, err := e.full(ctx, tx, s)
		if err != nil {
			return err
		}
		if f.Final && !in.Body.Late && !in.Body.Try {
			return web.Reject(http.StatusConflict, "events.count-is-final", reason.Date(s.CountBy))
		}
		for _, m := range f.Made {
			counts := map[ident.Treat]int{}
			for _, l := range m.Lines {
				if l.Wants > 0 {
					counts[ident.Treat(l.Treat.String())] = l.Wants
				}
			}
			if len(counts) == 0 || m.State == order.Cancelled {
				continue
			}
			r, err := e.Recount(ctx, tx, m.ID, counts)
			if err != nil {
				return err
			}
			if len(r.Lines) > 0 {
				out.Orders = append(out.Orders, CountedOrder{m.ID, m.Customer, *r})
			}
		}
		if f, err = e.full(ctx, tx, s); err != nil {
			return err
		}
		if out.Total = f.Total; in.Body.Try {
			return errTry
		}
		return nil
	})
	if errors.Is(err, errTry) {
		err = nil
	}
	return &struct{ Body Counted }{out}, err
}

// NextPart of the price of one order of an event that is to be paid ahead and is not: its date and amount; nil where
// the order is for no event with a plan, or has paid all of it.
func (e *Events) NextPart(ctx context.Context, tx pgx.Tx, id uuid.UUID) (part *event.Payment, planned bool, err error) {
	var s stored
	var gross *decimal.Decimal
	err = tx.QueryRow(ctx, `select e.id, e.revision, e.content, o.gross from orders o join events e
		on e.kitchen_id = o.kitchen_id and e.id = o.event_id where o.id = $1`, id).Scan(&s.id, &s.revision, &s.Event, &gross)
	if errors.Is(err, pgx.ErrNoRows) || err == nil && (len(s.Plan) == 0 || gross == nil) {
		return nil, false, nil
	}
	if err != nil {
		return nil, false, err
	}
	house, err := e.House(ctx, tx)
	if err != nil {
		return nil, false, err
	}
	paid, err := e.Paid(ctx, tx, []uuid.UUID{id})
	if err != nil {
		return nil, false, err
	}
	for _, p := range s.Payments(*gross, paid[id], house.Currency, house.Zone) {
		if !p.Rest && p.Open.IsPositive() {
			return &p, true, nil
		}
	}
	return nil, true, nil
}
