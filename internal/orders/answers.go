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

// Lapse quotes that have run out without an answer: their seller is told.
func (o *Orders) Lapse(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select q.id from quotes q join orders o on o.kitchen_id = q.kitchen_id
		and o.id = q.order_id where o.state = 'quoted' and q.lapsed_at is null and q.revoked_at is null
		and q.accepted_at is null and q.expires_at < $1 for update of q`, o.Clock())
	if err != nil {
		return err
	}
	over, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil || len(over) == 0 { // whoever looks on is not told of a change where there is none
		return err
	}
	_, err = tx.Exec(ctx, `update quotes set lapsed_at = expires_at where id = any($1)`, over)
	return err
}
