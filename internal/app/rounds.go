package app

import (
	"cmp"
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/price"
	"zestytin/internal/account"
	"zestytin/internal/messages"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/web"
)

// everyKitchen is a round through all kitchens, and oneKitchen what is due in one of them.
type (
	everyKitchen struct{}
	oneKitchen   struct{ Kitchen uuid.UUID }
)

func (everyKitchen) Kind() string   { return "round" }
func (everyKitchen) Who() web.Actor { return web.Actor{} }
func (oneKitchen) Kind() string     { return "kitchen-round" }
func (k oneKitchen) Who() web.Actor { return web.Actor{Kitchen: k.Kitchen} }

// rounds are gone every minute: what has become due is told, quotes that have run out end, and what is kept for some
// days only is thrown away.
func (a *App) rounds() {
	jobs.Add(a.Jobs, jobs.Way{Queue: "rounds", Once: true, Attempts: 1}, func(ctx context.Context, _ everyKitchen) error {
		return db.Begin(ctx, a.Home.Pool, func(tx pgx.Tx) error {
			if err := db.Set(ctx, tx, "zt.round", "on"); err != nil {
				return err
			}
			rows, err := tx.Query(ctx, `select id from kitchens order by id`)
			if err != nil {
				return err
			}
			kitchens, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
			if err != nil {
				return err
			}
			for _, id := range kitchens {
				if err := a.Jobs.Put(ctx, tx, oneKitchen{id}, time.Time{}); err != nil {
					return err
				}
			}
			return nil
		})
	})
	jobs.Add(a.Jobs, jobs.Way{Queue: "rounds", Once: true, Attempts: 1}, func(ctx context.Context, _ oneKitchen) error {
		return a.Round(ctx)
	})
	a.Jobs.Every(time.Minute, everyKitchen{})
}

// Round of the kitchen of ctx.
func (a *App) Round(ctx context.Context) error {
	return a.Home.In(ctx, func(tx pgx.Tx) error {
		if gone, err := a.Archive.Round(ctx, tx); gone || err != nil {
			return err
		}
		if err := a.Messages.Round(ctx, tx); err != nil {
			return err
		}
		if err := a.Orders.Lapse(ctx, tx); err != nil {
			return err
		}
		if err := a.Customers.Lapse(ctx, tx); err != nil {
			return err
		}
		return sweep(ctx, tx)
	})
}

// sweep away what is kept for some days only: a repeat of a request comes within minutes, a plan that was made anew is
// taken or not.
func sweep(ctx context.Context, tx pgx.Tx) error {
	batch := &pgx.Batch{}
	for _, statement := range []string{
		`delete from idempotency_keys where created_at < now() - interval '7 days'`,
		`delete from ask_days where at < now() - interval '7 days'`,
		`delete from readings r using pots p where p.kitchen_id = r.kitchen_id and p.id = r.pot_id
			and p.ended_at < now() - interval '7 days'`,
		`delete from security_events where at < now() - interval '180 days'`,
		`delete from account_letters where made_at < now() - interval '30 days'
			or kind in ('open', 'join') and made_at < now() - interval '2 days'`,
		`delete from plan_runs where beat < now() - interval '30 days'`,
	} {
		batch.Queue(statement)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// house that messages come from.
func (a *App) sender(ctx context.Context, tx pgx.Tx) (messages.House, error) {
	k, _, err := account.Load(ctx, tx)
	if err != nil {
		return messages.House{}, err
	}
	h := messages.House{Name: k.Name, Sender: cmp.Or(k.Sender, k.Name), ReplyTo: k.ReplyTo, Zone: k.Zone(),
		Address: k.Address, Public: k.Public}
	if h.ReplyTo == "" {
		if h.ReplyTo, err = account.OwnerMail(ctx, tx); err != nil {
			return h, err
		}
	}
	return h, tx.QueryRow(ctx, `select to_try from kitchens`).Scan(&h.ToTry)
}

// stands is how an order stands with its money, as messages tell it.
func (a *App) stands(ctx context.Context, tx pgx.Tx, id uuid.UUID) (messages.Standing, error) {
	p, err := a.Till.Stands(ctx, tx, id)
	s := messages.Standing{Price: p.Gross, Deposit: p.Deposit}
	if err != nil {
		return s, err
	}
	if p.Stands == "due" {
		s.Rest = &p.Rest
	}
	// What is made for an event is paid by the event's plan.
	part, planned, err := a.Events.NextPart(ctx, tx, id)
	if planned {
		s.Deposit = nil
		if part != nil {
			s.Deposit, s.DepositBy = new(price.In(p.Paid.Currency, part.Open)), part.By
		}
	}
	return s, err
}
