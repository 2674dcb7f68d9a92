package larder

import (
	"cmp"
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Offer is a pack as a shop sells it.
type Offer struct {
	Shop  string           `json:"shop" maxLength:"100"`
	Size  measure.Quantity `json:"size"`
	Price price.Typed      `json:"price" doc:"Decimal"`
	Shown *measure.Shown   `json:"shown,omitempty" doc:"The size, readable"`
	Seen  string           `json:"seen,omitempty" doc:"The day on which it was seen"`
}

func (l *Larder) offers(ctx context.Context, tx pgx.Tx, i *Item, currency string) ([]Offer, error) {
	rows, err := tx.Query(ctx, `select shop, size, price::text, seen_on::text from offers where item_id = $1
			order by lower(shop), size`, i.ID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Offer, error) {
		var o Offer
		var paid decimal.Decimal // of several packs, a share that may not be whole
		err := row.Scan(&o.Shop, &o.Size.Amount, &paid, &o.Seen)
		o.Price, o.Size.Unit = price.Typed(price.In(currency, paid).Amount), i.Unit
		shown := packed(i.Unit, o.Size.Amount)
		o.Shown = &shown
		return o, err
	})
}

// Offers of a thing.
type Offers struct {
	Offers []Offer `json:"offers" maxItems:"40"`
}

func (l *Larder) putOffers(ctx context.Context, in *struct {
	web.ID
	Body Offers
}) (*struct{ Body ItemInFull }, error) {
	var full ItemInFull
	err := l.In(ctx, func(tx pgx.Tx) error {
		b, err := newBook(ctx, l.Base, tx)
		if err != nil {
			return err
		}
		house, err := l.Context(ctx, tx)
		if err != nil {
			return err
		}
		t, err := b.one(in.ID.ID)
		if err != nil {
			return err
		}
		if t.Mix { // nobody sells it
			return web.NotFound("ingredient or packaging")
		}
		if _, err := tx.Exec(ctx, `delete from offers where item_id = $1`, t.ID); err != nil {
			return err
		}
		var faults invalid.Faults
		for n, o := range in.Body.Offers {
			path := "offers[" + itoa(n) + "]"
			size, err := t.amount(o.Size)
			switch {
			case err != nil:
				faults.Add(path+".size", err)
			case size <= 0:
				faults.Add(path+".size", reason.Of("larder.pack-holds-more-than-nothing"))
			}
			paid, err := price.Read(o.Price, house.Currency)
			if err != nil {
				faults.Add(path+".price", err)
			}
			if faults.Err() == nil {
				if err := b.offer(t, o.Shop, size, paid, cmp.Or(o.Seen, b.day)); err != nil {
					return err
				}
			}
		}
		if err := faults.Err(); err != nil {
			return err
		}
		full, err = l.inFull(ctx, tx, t.ID)
		return err
	})
	return &struct{ Body ItemInFull }{full}, err
}

// AddOffer notes a pack that a shop sells.
func (l *Larder) AddOffer(ctx context.Context, tx pgx.Tx, item uuid.UUID, o Offer) error {
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	t, err := b.one(item)
	if err != nil {
		return err
	}
	if t.Mix {
		return web.NotFound("ingredient or packaging")
	}
	size, err := t.amount(o.Size)
	if err != nil {
		return err
	}
	paid, err := decimal.NewFromString(string(o.Price))
	if err != nil {
		return err
	}
	return b.offer(t, o.Shop, size, paid, cmp.Or(o.Seen, b.day))
}

// offer notes in which pack, where and for how much a thing was seen; what was seen later counts.
func (b *book) offer(t stockItem, shop string, size float64, paid decimal.Decimal, day string) error {
	batch := &pgx.Batch{}
	b.queueOffer(batch, t, shop, size, paid, day)
	return b.tx.SendBatch(b.ctx, batch).Close()
}

func (b *book) queueOffer(batch *pgx.Batch, t stockItem, shop string, size float64, paid decimal.Decimal, day string) {
	ingredient, supply := &t.ID, (*uuid.UUID)(nil)
	if t.Packaging {
		ingredient, supply = nil, &t.ID
	}
	batch.Queue(`insert into offers (kitchen_id, id, ingredient_id, supply_id, shop, size, price, seen_on)
			values ($1, gen_random_uuid(), $2, $3, $4, $5, $6::text::numeric, $7::text::date)
		on conflict (kitchen_id, item_id, lower(shop), size) do update
		set price = excluded.price, seen_on = excluded.seen_on, shop = excluded.shop
		where offers.seen_on <= excluded.seen_on`,
		web.ActorOf(b.ctx).Kitchen, ingredient, supply, shop, size, paid.String(), day)
}
