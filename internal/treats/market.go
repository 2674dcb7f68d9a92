package treats

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/internal/platform/web"
)

func (b *Book) putMarket(ctx context.Context, in *struct {
	web.ID
	Body order.Market
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := one(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		m := &in.Body
		if m.Low == "" && m.High == "" {
			m = nil
		} else {
			known, err := b.Known(ctx, tx)
			if err != nil {
				return err
			}
			if err := m.Check(known.Rates.Currency); err != nil {
				return err
			}
		}
		if err := StoreMarket(ctx, tx, in.ID.ID, m); err != nil {
			return err
		}
		var err error
		t, err = one(ctx, tx, in.ID.ID)
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

func (b *Book) putListPrice(ctx context.Context, in *struct {
	web.ID
	Body order.ListPrice
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := one(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		var amount *price.Typed
		var count *int
		if l := &in.Body; l.Price != "" {
			known, err := b.Known(ctx, tx)
			if err != nil {
				return err
			}
			if err := l.Check(known.Rates.Currency); err != nil {
				return err
			}
			amount, count = &l.Price, &l.Count
		}
		if _, err := tx.Exec(ctx, `update treats set list_price = $2::text::numeric, list_count = $3 where id = $1`,
			in.ID.ID, amount, count); err != nil {
			return err
		}
		var err error
		t, err = one(ctx, tx, in.ID.ID)
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

// Ladder of a treat.
type Ladder struct {
	Rungs []order.Rung `json:"rungs"`
}

func (b *Book) ladder(ctx context.Context, in *struct {
	web.ID
	By    string `query:"by" enum:"margin,markup,hourly,price" doc:"What the price starts from; without it the kitchen's margin"`
	Value string `query:"value" doc:"Decimal"`
}) (*struct{ Body Ladder }, error) {
	var l Ladder
	err := b.In(ctx, func(tx pgx.Tx) error {
		t, err := one(ctx, tx, in.ID.ID)
		if err != nil {
			return err
		}
		if t.Formula == nil {
			l.Rungs = []order.Rung{}
			return nil
		}
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		var wish *order.Pricing
		if in.By != "" {
			wish = &order.Pricing{By: price.Basis(in.By), Value: in.Value}
		}
		l.Rungs, err = order.Ladder(ctx, ident.Treat(t.ID.String()), wish, known)
		return err
	})
	return &struct{ Body Ladder }{l}, err
}

// StoreMarket of a treat; nil where it is not known.
func StoreMarket(ctx context.Context, tx pgx.Tx, id uuid.UUID, m *order.Market) error {
	var low, high *price.Typed
	if m != nil {
		low, high = &m.Low, &m.High
	}
	_, err := tx.Exec(ctx, `update treats set market_low = $2::text::numeric, market_high = $3::text::numeric
			where id = $1`, id, low, high)
	return err
}
