package orders

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Answer of a customer to a quote.
type Answer struct {
	Order    uuid.UUID `json:"order"`
	Customer string    `json:"customer"`
	Accepted bool      `json:"accepted" doc:"They said yes; otherwise they ask for a change"`
	Request  string    `json:"request,omitempty" doc:"The change that they ask for"`
	Lapsed   bool      `json:"lapsed,omitempty" doc:"They have not answered, and the quote has run out"`
	At       time.Time `json:"at"`
}

// Answers of the last week.
type Answers struct {
	Answers []Answer `json:"answers"`
}

func (o *Orders) answers(ctx context.Context, _ *struct{}) (*struct{ Body Answers }, error) {
	var a Answers
	err := o.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select q.order_id, o.customer, q.accepted_at is not null,
				case when q.accepted_at is null then q.request else '' end,
				q.lapsed_at is not null and q.accepted_at is null and q.requested_at is null,
				coalesce(q.accepted_at, q.requested_at, q.lapsed_at) as at
			from quotes q join orders o on o.kitchen_id = q.kitchen_id and o.id = q.order_id
			where coalesce(q.accepted_at, q.requested_at, q.lapsed_at) > $1 order by at desc limit 20`,
			o.Clock().AddDate(0, 0, -7))
		if err != nil {
			return err
		}
		a.Answers, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Answer])
		return err
	})
	return &struct{ Body Answers }{a}, err
}
