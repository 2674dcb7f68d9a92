package orders

import (
	"context"
	"net/http"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Move of an order.
type Move struct {
	To order.State `json:"to" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
}

func (o *Orders) move(ctx context.Context, in *struct {
	web.ID
	Body Move
}) (*web.Tagged[Order], error) {
	var moved Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		s, err := load(ctx, tx, in.ID.ID, "for no key update")
		if err != nil {
			return err
		}
		if err := o.Advance(ctx, tx, s.ID, in.Body.To); err != nil {
			return err
		}
		moved, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(moved.Revision, moved), err
}

// Advance moves an order and does what the move entails: days are given or dropped, packaging is booked, the price is
// fixed. A move that makes no sense is refused.
func (o *Orders) Advance(ctx context.Context, tx pgx.Tx, id uuid.UUID, to order.State) error {
	s, err := load(ctx, tx, id, "for no key update")
	if err != nil {
		return err
	}
	if !s.State.CanTransition(to) {
		return web.Reject(http.StatusConflict, "orders.cannot-become", reason.Word(s.State), reason.Word(to),
			anyOf(s.State.Transitions()))
	}
	if err := o.applyTransition(ctx, tx, s, to); err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, `update orders set state = $2, updated_at = $3, revision = revision + 1 where id = $1`,
		id, to, o.Clock()); err != nil {
		return err
	}
	if err := o.record(ctx, tx, id, &s.State, to); err != nil {
		return err
	}
	return o.Tell(ctx, tx, id)
}

func anyOf(states []order.State) reason.Any {
	words := make(reason.Any, len(states))
	for i, s := range states {
		words[i] = reason.Word(s)
	}
	return words
}

func (o *Orders) applyTransition(ctx context.Context, tx pgx.Tx, s *stored, to order.State) error {
	switch {
	case to == order.Quoted && s.State == order.Enquiry:
		_, err := o.freezeQuote(ctx, tx, s)
		return err
	case to == order.Promised && !s.State.Planned():
		known, err := o.freezeQuote(ctx, tx, s)
		if err != nil {
			return err
		}
		return o.promise(ctx, tx, s.ID, &s.Draft, known)
	case to == order.Promised: // back from the making
		return o.requireNotStarted(ctx, tx, s.ID)
	case to == order.Quoted: // back from promised
		return o.Plan.Release(ctx, tx, s.ID)
	case to == order.Cancelled && s.State.Planned():
		return o.Plan.Cancel(ctx, tx, s.ID)
	case to == order.Packed && s.State == order.Making:
		// Six are not packed where there are four.
		missing, err := Shortfalls(ctx, tx, s.ID)
		if err != nil {
			return err
		}
		if len(missing) > 0 {
			m := missing[0]
			return web.Reject(http.StatusConflict, "orders.too-few-to-pack", reason.Int(m.Good), reason.Int(m.Wanted),
				reason.Name(m.Name), reason.Int(m.Missing))
		}
		// Packed implies made: what was not ticked on the bench is ticked now, for others too where it is made for them
		// in one go.
		if err := o.Plan.MarkAllDone(ctx, tx, s.ID); err != nil {
			return err
		}
		others, err := o.Plan.OrdersSharingBatches(ctx, tx, s.ID)
		if err != nil {
			return err
		}
		for _, other := range others {
			if err := o.Begin(ctx, tx, other); err != nil {
				return err
			}
		}
		if err := o.Turn(ctx, tx, s.ID); err != nil {
			return err
		}
		return o.Pack(ctx, tx, s.ID)
	case to == order.Making && s.State == order.Packed:
		return o.Unpack(ctx, tx, s.ID)
	case to == order.Settled:
		return o.Settle(ctx, tx, s.ID)
	case to == order.HandedOver && s.State == order.Settled:
		return o.Unsettle(ctx, tx, s.ID)
	case to == order.Enquiry && s.State == order.Cancelled:
		// It starts over; what was done for it then is history and does not belong to the new beginning.
		return o.Plan.DeleteHistory(ctx, tx, s.ID)
	}
	return nil
}

// freezeQuote the price and the treats' versions: from the quote on neither changes because a recipe or a price in a
// shop did.
func (o *Orders) freezeQuote(ctx context.Context, tx pgx.Tx, s *stored) (*order.Inputs, error) {
	known, err := o.kitchenOf(ctx, tx, s, &s.Draft)
	if err != nil {
		return nil, err
	}
	if err := check(&s.Draft, known, true); err != nil {
		return nil, err
	}
	if len(s.Draft.Lines) == 0 {
		return nil, web.Reject(http.StatusConflict, "orders.no-treats-yet")
	}
	if s.State == order.Enquiry {
		known.Commitments.Agreed = nil // it starts over
		if err := saveLines(ctx, tx, s.ID, s.Draft.Lines, known); err != nil {
			return nil, err
		}
	}
	return known, o.agree(ctx, tx, s.ID, &s.Draft, known)
}

// agree on the price of a draft, unless one stands.
func (o *Orders) agree(ctx context.Context, tx pgx.Tx, id uuid.UUID, d *order.Draft, known *order.Inputs) error {
	r, err := order.Compute(ctx, d, known)
	if err != nil {
		return err
	}
	agreed := decimal.RequireFromString(r.Money.Asked.Amount)
	known.Commitments.Agreed = &agreed
	tax := "0"
	if r.Money.Tax != nil {
		tax = r.Money.Tax.Amount
	}
	_, err = tx.Exec(ctx, `update orders set agreed = $2::text::numeric, tax = $3::text::numeric,
			gross = $4::text::numeric where id = $1`, id, r.Money.Asked.Amount, tax, r.Money.Gross.Amount)
	return err
}

// promise gives the order its days, or refuses and says what is short.
func (o *Orders) promise(ctx context.Context, tx pgx.Tx, id uuid.UUID, d *order.Draft, known *order.Inputs) error {
	r, err := order.Compute(ctx, d, known)
	if err != nil {
		return err
	}
	for _, c := range r.Care {
		if c.Trouble {
			return web.Because(http.StatusConflict, reason.Of("orders.breaks-a-wish", c.Text))
		}
	}
	if !r.When.Fits {
		return web.Because(http.StatusConflict, reason.Of("orders.does-not-fit", r.When.Text))
	}
	spent := r.Money.Spent()
	if _, err := tx.Exec(ctx, `update orders set cost = $2, materials = $3, minutes = $4, estimated = $5,
		cost_ingredients = $6, cost_packaging = $7, cost_overhead = $8, cost_drive = $9, cost_card = $10 where id = $1`,
		id, spent.Total(), spent.Materials(), r.Hands, len(r.Money.Doubts) > 0,
		spent.Ingredients, spent.Packaging, spent.Overhead, spent.Drive, spent.Card); err != nil {
		return err
	}
	return o.Plan.Save(ctx, tx, id, r, &known.Planning)
}

func (o *Orders) requireNotStarted(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	done, err := o.Plan.DoneSteps(ctx, tx, id)
	if err == nil && done > 0 {
		return web.Reject(http.StatusConflict, "orders.steps-are-done", reason.Count{N: done, Of: "step"})
	}
	return err
}

// Begin moves a promised order into the making: its first step was ticked.
func (o *Orders) Begin(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	var state order.State
	if err := tx.QueryRow(ctx, `select state from orders where id = $1 for no key update`,
		id).Scan(&state); err != nil {
		return err
	}
	if state != order.Promised {
		return nil
	}
	return o.Advance(ctx, tx, id, order.Making)
}
