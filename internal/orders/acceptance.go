package orders

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"

	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Acceptance of a quote.
type Acceptance struct {
	Name string `json:"name" maxLength:"100" doc:"Who says yes"`
}

func (o *Orders) accept(ctx context.Context, in *struct {
	Token
	Body Acceptance
}) (*struct{ Body QuotePage }, error) {
	name := strings.TrimSpace(in.Body.Name)
	if name == "" {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "name",
			Err: reason.Of("orders.write-your-name-so-that")}}}
	}
	return o.answer(ctx, in.Token.Token, func(ctx context.Context, tx pgx.Tx, q *found, s *stored) error {
		if _, err := tx.Exec(ctx, `update quotes set accepted_at = $2, accepted_by = $3 where id = $1`, q.id, o.Clock(),
			name); err != nil {
			return err
		}
		if err := web.Note(ctx, tx, o.Clock(), web.QuoteAccepted, fmt.Sprintf("quote %d", s.Number)); err != nil {
			return err
		}
		// Should it not be possible any more, the yes is recorded and the seller sorts it out: the customer is not told
		// about the kitchen.
		inner, err := tx.Begin(ctx)
		if err != nil {
			return err
		}
		var refused *web.Problem
		var faults *invalid.Error
		switch err := o.Advance(ctx, inner, s.ID, order.Promised); {
		case errors.As(err, &refused), errors.As(err, &faults):
			return inner.Rollback(ctx)
		case err != nil:
			return err
		}
		return inner.Commit(ctx)
	})
}

// answer of a customer to a quote that is open: do records it. The page is then as it is after that.
func (o *Orders) answer(ctx context.Context, token string, do func(context.Context, pgx.Tx, *found, *stored) error) (
	*struct{ Body QuotePage }, error) {
	err := o.byLink(ctx, token, true, func(ctx context.Context, tx pgx.Tx, q *found) error {
		state, s, err := o.state(ctx, tx, q)
		if err != nil {
			return err
		}
		if err := answerable(state); err != nil {
			return err
		}
		return do(ctx, tx, q, s)
	})
	if err != nil {
		return nil, err
	}
	p, err := o.page(ctx, token)
	return &struct{ Body QuotePage }{p}, err
}

// answerable tells whether a quote in this state can be answered.
func answerable(state string) error {
	switch state {
	case "open":
		return nil
	case "accepted":
		return web.Reject(http.StatusConflict, "orders.accepted-already")
	case "expired":
		return web.Reject(http.StatusGone, "orders.quote-has-expired")
	case "changed":
		return web.Reject(http.StatusConflict, "orders.changed-since-the-quote")
	default:
		return gone()
	}
}

// ChangeRequest is what a customer would have otherwise.
type ChangeRequest struct {
	Text string `json:"text" maxLength:"2000" doc:"What should be different"`
}

func (o *Orders) request(ctx context.Context, in *struct {
	Token
	Body ChangeRequest
}) (*struct{ Body QuotePage }, error) {
	text := strings.TrimSpace(in.Body.Text)
	if text == "" {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "text",
			Err: reason.Of("orders.write-what-should-be-different")}}}
	}
	return o.answer(ctx, in.Token.Token, func(ctx context.Context, tx pgx.Tx, q *found, s *stored) error {
		if _, err := tx.Exec(ctx, `update quotes set request = $2, requested_at = $3 where id = $1`, q.id, text,
			o.Clock()); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `update orders set updated_at = $2, revision = revision + 1 where id = $1`, s.ID,
			o.Clock())
		return err
	})
}
