package planning

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/web"
)

// MarkAllDone of what is made for an order: every step that was not ticked on the bench is ticked now.
func (p *Planning) MarkAllDone(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, err := tx.Exec(ctx, `update batch_steps s set done_at = $2, done_by = $3 from batch_shares h
			where h.kitchen_id = s.kitchen_id and h.batch_id = s.batch_id and h.order_id = $1 and s.done_at is null`,
		id, p.Clock(), web.ActorOf(ctx).Person)
	return err
}

// OrdersSharingBatches are those with which an order is made: the other orders that take from what is made for it.
func (p *Planning) OrdersSharingBatches(ctx context.Context, tx pgx.Tx, id uuid.UUID) ([]uuid.UUID, error) {
	rows, err := tx.Query(ctx, `select distinct x.order_id from batch_shares h
			join batch_shares x on x.kitchen_id = h.kitchen_id and x.batch_id = h.batch_id where h.order_id = $1
			and x.order_id <> $1`, id)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
}

// BatchMadeChange is a batch whose last step was ticked, or is no longer.
type BatchMadeChange struct {
	Batch uuid.UUID
	Made  bool
	Takes []Take // of the orders that it is made for
}

// Take is what an order's share of a batch takes of the larder.
type Take struct {
	Order uuid.UUID
	Needs []Need
}

// Need is what is taken of an ingredient.
type Need struct {
	Item uuid.UUID `json:"item"`
	Used float64   `json:"used"` // beside what comes out of bowls, which are booked by themselves
}

// UpdateMade notes which batches of an order are made, by their ticks, and returns those for which that has changed.
func UpdateMade(ctx context.Context, tx pgx.Tx, order uuid.UUID, now time.Time) ([]BatchMadeChange, error) {
	rows, err := tx.Query(ctx, `with state as (select b.id, bool_and(s.done_at is not null) as done from batch_shares h
			join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
			join batch_steps s on s.kitchen_id = b.kitchen_id and s.batch_id = b.id where h.order_id = $1
			group by b.kitchen_id, b.id)
		update batches b set made_at = case when state.done then $2::timestamptz end from state where b.id = state.id
		and (b.made_at is not null) <> state.done returning b.id, state.done`, order, now)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (t BatchMadeChange, err error) {
		return t, row.Scan(&t.Batch, &t.Made)
	})
	if err != nil {
		return nil, err
	}
	for i := range list {
		rows, err := tx.Query(ctx, `select h.order_id, coalesce((select jsonb_agg(jsonb_build_object('item', n.item_id,
			'used', n.used - n.drawn)) from batch_needs n
				where n.kitchen_id = h.kitchen_id and n.batch_id = h.batch_id and n.order_id = h.order_id
				and not n.packaging and n.used - n.drawn > 1e-9), '[]')
			from batch_shares h where h.batch_id = $1 order by h.since, h.order_id`, list[i].Batch)
		if err != nil {
			return nil, err
		}
		if list[i].Takes, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Take]); err != nil {
			return nil, err
		}
	}
	return list, nil
}
