package orders

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/order"
	"zestytin/core/route"
)

// Leaves notes when the drives of orders leave, by which they must be ready: of the orders that are handed over on a
// day, those that are not named have no drive.
func Leaves(ctx context.Context, tx pgx.Tx, from, to time.Time, leaves map[uuid.UUID]time.Time) error {
	batch := &pgx.Batch{}
	batch.Queue(`update orders set leaves_at = null where from_at >= $1 and from_at < $2 and leaves_at is not null`, from,
		to)
	for id, at := range leaves {
		batch.Queue(`update orders set leaves_at = $2 where id = $1`, id, at)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// Loads of an order on the road: how cold its lines must be kept, and how heavy they are. Drop of each is 0.
func (o *Orders) Loads(ctx context.Context, tx pgx.Tx, id uuid.UUID) ([]route.Load, error) {
	s, err := load(ctx, tx, id, "")
	if err != nil || len(s.Draft.Lines) == 0 {
		return nil, err
	}
	k, err := o.Kitchen(ctx, tx, s.ID, s.pins, order.Scope{Lines: s.Draft.Lines})
	if err != nil {
		return nil, err
	}
	k.Extent, k.Commitments = order.FiguresOnly, s.standing
	r, err := order.Compute(ctx, &s.Draft, k)
	if err != nil { // the book does not support one of its lines any more; opening the order says so
		return nil, nil
	}
	return r.Loads(), nil
}
