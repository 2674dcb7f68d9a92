package larder

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Pack takes packaging off the shelf for an order, by supply. Nothing goes below zero: what is missing is named, and
// nothing is taken.
func Pack(ctx context.Context, h web.Base, tx pgx.Tx, order uuid.UUID, amounts map[string]float64) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	ids := make([]uuid.UUID, 0, len(amounts))
	for id := range amounts {
		parsed, err := uuid.Parse(id)
		if err != nil {
			return err
		}
		ids = append(ids, parsed)
	}
	slices.SortFunc(ids, func(a, b uuid.UUID) int { return strings.Compare(a.String(), b.String()) })
	things, err := b.lock(ids...)
	if err != nil {
		return err
	}
	var missing reason.Series
	for _, id := range ids {
		t, ok := things[id]
		if !ok {
			continue
		}
		lots, err := b.lots(id)
		if err != nil {
			return err
		}
		_, _, short, err := b.take(lots, amounts[id.String()], cause{order: &order, kind: "used", reason: "packed"})
		if err != nil {
			return err
		}
		if short > 0 {
			missing = append(missing, reason.Of("larder.amount-of", t.show(short),
				reason.Name(strings.ToLower(t.Name))))
		}
	}
	if len(missing) > 0 {
		return web.Because(http.StatusConflict, reason.Of("larder.not-enough-packaging", missing))
	}
	return nil
}

// Unpack puts the packaging of an order back on the shelf.
func Unpack(ctx context.Context, h web.Base, tx pgx.Tx, order uuid.UUID) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	return b.reverse(`order_id = $1 and batch_id is null and bowl is null`,
		cause{order: &order, kind: "returned", reason: "unpacked"}, order)
}
