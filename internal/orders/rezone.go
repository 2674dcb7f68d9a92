package orders

import (
	"context"
	"net/http"

	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Rezone the orders that are ahead when the kitchen's clock becomes that of another time zone. With "clock" their
// handovers keep their time of the day, with "instant" the moment; with neither it is refused while there are any.
func (o *Orders) Rezone(ctx context.Context, tx pgx.Tx, from, to, handovers string) error {
	const ahead = `state not in ('handed over', 'settled', 'cancelled')`
	if handovers == "instant" {
		return nil
	}
	if handovers == "" {
		var n int
		if err := tx.QueryRow(ctx, `select count(*) from orders where `+ahead).Scan(&n); err != nil || n == 0 {
			return err
		}
		return web.Reject(http.StatusConflict, "account.zone-moves-handovers", reason.Count{N: n, Of: "order"})
	}
	_, err := tx.Exec(ctx, `update orders set from_at = from_at at time zone $1 at time zone $2,
			to_at = greatest(to_at at time zone $1 at time zone $2, from_at at time zone $1 at time zone $2
			+ interval '1 minute'), updated_at = $3, revision = revision + 1 where `+ahead, from, to, o.Clock())
	return err
}
