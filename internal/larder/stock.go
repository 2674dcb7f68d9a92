package larder

import (
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

func (l *Larder) registerStock() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Larder"}}
	}
	created := func(o huma.Operation) huma.Operation { o.DefaultStatus = 201; return o }
	web.Register(l.Base, op("get-stock", "GET", "stock",
		"What is in the house, what is free of it, what runs short and what expires"), l.stock)
	web.Register(l.Base, op("get-item", "GET", "stock/{id}",
		"One ingredient or kind of packaging: its lots, its moves, what was paid for it, where it is sold"), l.item)
	web.Register(l.Base, op("count-item", "POST", "stock/{id}/counts",
		"Correct the stock to what was counted on the shelf"), l.counted)
	web.Register(l.Base, op("put-offers", "PUT", "stock/{id}/offers",
		"Say in which packs it is sold, where and for how much"), l.putOffers)
	web.Register(l.Base, op("put-lot", "PUT", "lots/{id}",
		"Change what is known of a lot: until when it is good, and whether it is open"), l.putLot)
	web.Register(l.Base, op("void-lot", "DELETE", "lots/{id}", "Take back a purchase of which nothing has been used"),
		l.voidLot)
	web.Register(l.Base, created(op("write-receipt", "POST", "receipts", "Book what was bought, line by line")),
		l.receipt)
	read := op("read-slip", "POST", "calculators/slip",
		"Read the lines of a till slip as they are typed; nothing is saved")
	read.Tags = []string{"Calculators"}
	web.Register(l.Base, read, l.readSlip)
	sum := op("sum-receipt", "POST", "calculators/receipt", "What a receipt comes to, of what is typed for its lines")
	sum.Tags = read.Tags
	web.Register(l.Base, sum, l.sumReceipt)
	l.registerTables(op)
	l.registerShopping(op)
}

// PaidLines are the sums of a receipt's lines, as they are typed; what cannot be read counts as nothing.
type PaidLines struct {
	Paid []string `json:"paid" maxItems:"1000"`
}

// ReceiptSum is what a receipt comes to.
type ReceiptSum struct {
	Sum price.Money `json:"sum"`
}

func (l *Larder) sumReceipt(ctx context.Context, in *struct{ Body PaidLines }) (*struct{ Body ReceiptSum }, error) {
	var r ReceiptSum
	err := l.In(ctx, func(tx pgx.Tx) error {
		house, err := l.Context(ctx, tx)
		sum := decimal.Zero
		for _, text := range in.Body.Paid {
			if paid, err := price.Read(text, house.Currency); err == nil {
				sum = sum.Add(paid)
			}
		}
		r.Sum = price.In(house.Currency, sum)
		return err
	})
	return &struct{ Body ReceiptSum }{r}, err
}

// Item is an ingredient or a kind of packaging and how it stands with it.
type Item struct {
	ID        uuid.UUID         `json:"id"`
	Packaging bool              `json:"packaging"`
	Mix       bool              `json:"mix,omitempty" doc:"A mix that was made ahead"`
	Name      string            `json:"name"`
	Kind      food.Kind         `json:"kind,omitempty" doc:"Of an ingredient"`
	Chocolate *food.Chocolate   `json:"chocolate,omitempty"`
	Unit      measure.Unit      `json:"unit"`
	Stock     measure.Shown     `json:"stock" doc:"What is in the house and good"`
	Reserved  measure.Shown     `json:"reserved" doc:"What promised orders will use up"`
	Free      measure.Shown     `json:"free" doc:"Stock less reserved; 0 when there is less than is reserved"`
	Worth     price.Money       `json:"worth" doc:"What was paid for what is left"`
	Lots      int               `json:"lots"`
	Until     string            `json:"until,omitempty" doc:"The first day after which some of it is no longer good"`
	Expires   *Expiry           `json:"expires,omitempty" doc:"What of it expires within the next days, beyond what is reserved until then"`
	Past      *Expiry           `json:"past,omitempty" doc:"What of it is past its day"`
	Runs      *Runs             `json:"runs,omitempty" doc:"When it runs short"`
	Open      *measure.Shown    `json:"unaccounted,omitempty" doc:"Used without being on record, with no receipt and no count since"`
	LastPaid  price.Typed       `json:"lastPaid" doc:"Decimal"`
	PaidFor   measure.Shown     `json:"paidFor"`
	Estimated bool              `json:"estimated,omitempty" doc:"The last price is an estimate"`
	Revision  int               `json:"revision"`
	Substance measure.Substance `json:"-"`

	worth decimal.Decimal
}

// Expiry is what expires soon.
type Expiry struct {
	Day    string        `json:"day" format:"date"`
	Amount measure.Shown `json:"amount"`
	Uses   []treat.Use   `json:"uses" doc:"What would use it up"`
}

// Runs short on a day.
type Runs struct {
	Day    string        `json:"day" format:"date"`
	Amount measure.Shown `json:"amount"`
	For    []string      `json:"for"`
}

// Stock is all items.
type Stock struct {
	Today string      `json:"today" format:"date"`
	Worth price.Money `json:"worth" doc:"What all that is in the house was bought for"`
	Items []Item      `json:"items"`
}

// SoonDays is how many days ahead it is told what expires.
const SoonDays = 14

// Foresight is how many days ahead it is told what runs short.
const Foresight = 56

// items of the kitchen, all or one of them.
func (l *Larder) items(ctx context.Context, tx pgx.Tx, only uuid.UUID) ([]Item, Context, error) {
	house, err := l.Context(ctx, tx)
	if err != nil {
		return nil, house, err
	}
	rows, err := tx.Query(ctx, `select id, false, false, name, kind, chocolate_kind, colour, coalesce(tint, ''), unit,
			density, grams_each, paid::text, paid_for, estimated, revision from ingredients
			where $1 = any(array[id, '00000000-0000-0000-0000-000000000000'::uuid])
		union all select id, true, false, name, '', null, null, '', unit, null, null, paid::text, paid_for,
		estimated, revision
		from supplies where $1 = any(array[id, '00000000-0000-0000-0000-000000000000'::uuid])
		union all select id, false, true, name, '', null, null, '', 'g', density, null, '0', 100, false, revision
		from mixes m where id = $1 or $1 = '00000000-0000-0000-0000-000000000000'::uuid and (exists (select from lots l
			where l.kitchen_id = m.kitchen_id and l.item_id = m.id and l.remaining > 0) or exists (select
			from batch_needs n join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id
			where n.kitchen_id = m.kitchen_id and n.item_id = m.id and b.made_at is null)) order by 2, 3, 4`, only)
	if err != nil {
		return nil, house, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (Item, error) {
		var i Item
		var kind, colour *string
		var tint string
		var density *float64
		var each *si.Grams
		var paidFor float64
		err := row.Scan(&i.ID, &i.Packaging, &i.Mix, &i.Name, (*string)(&i.Kind), &kind, &colour, &tint, (*string)(&i.Unit),
			&density, &each, &i.LastPaid, &paidFor, &i.Estimated, &i.Revision)
		if density != nil {
			i.Substance.Density = *density
		}
		if each != nil {
			i.Substance.GramsEach = *each
		}
		i.Chocolate = chocolateOf(kind, colour, tint, nil)
		i.PaidFor = packed(i.Unit, paidFor)
		return i, err
	})
	if err != nil {
		return nil, house, err
	}
	var items []string
	if only != uuid.Nil {
		items = []string{only.String()}
	}
	held, err := holdings(ctx, tx, items)
	if err != nil {
		return nil, house, err
	}
	wants, err := l.Wants(ctx, tx, house.Calendar.Date(Foresight))
	if err != nil {
		return nil, house, err
	}
	aside, err := l.Reserved(ctx, tx)
	if err != nil {
		return nil, house, err
	}
	set := map[ident.Item][]larder.Want{}
	for _, w := range aside {
		set[w.Item] = append(set[w.Item], w)
	}
	own := map[ident.Item][]larder.Want{}
	for _, w := range wants {
		own[w.Item] = append(own[w.Item], w)
	}
	open, err := unaccounted(ctx, tx)
	if err != nil {
		return nil, house, err
	}
	expire := []ident.Ingredient{}
	for n := range list {
		i := &list[n]
		id := ident.Item(i.ID.String())
		i.stand(held[id], own[id], set[id], house)
		if x := open[string(id)]; x > 1e-6 {
			shown := i.show(x)
			i.Open = &shown
		}
		if i.Expires != nil && !i.Packaging {
			expire = append(expire, ident.Ingredient(id))
		}
	}
	uses, err := l.Uses(ctx, tx, expire...)
	for n := range list {
		if of, ok := uses[ident.Ingredient(list[n].ID.String())]; ok {
			list[n].Expires.Uses = of
		}
	}
	return list, house, err
}

func (i *Item) show(x float64) measure.Shown {
	return measure.Show(measure.Of(x, i.Unit), i.Substance)
}

// stand says how it stands with the item.
func (i *Item) stand(held []holding, wants, aside []larder.Want, house Context) {
	s := larder.Stand(lotsOf(held), wants, aside, house.Today(), house.Calendar.Date(SoonDays))
	for _, l := range held {
		i.Lots += l.count
	}
	passing := func(p *larder.Passing) *Expiry {
		if p == nil {
			return nil
		}
		return &Expiry{Day: p.Day, Amount: i.show(p.Amount), Uses: []treat.Use{}}
	}
	i.Until, i.Past, i.Expires = s.Until, passing(s.Past), passing(s.Expires)
	i.Stock, i.Reserved, i.Free, i.Worth = i.show(s.Good), i.show(s.Reserved), i.show(s.Free()),
		price.In(house.Currency, s.Worth)
	i.worth = s.Worth
	if s.Short != nil {
		i.Runs = &Runs{s.Short.Day, i.show(s.Short.Amount), s.Short.For}
	}
}

// holding is all lots of a thing that were bought on one day for one price and are good until the same day: they are
// used one like the other.
type holding struct {
	larder.StockLot
	count int
}

func lotsOf(held []holding) []larder.StockLot {
	lots := make([]larder.StockLot, len(held))
	for i := range held {
		lots[i] = held[i].StockLot
	}
	return lots
}

// holdings of things, or of everything where they are nil, in the order of use.
func holdings(ctx context.Context, tx pgx.Tx, items []string) (map[ident.Item][]holding, error) {
	some, args := ``, []any{}
	if items != nil { // a query of its own: one that asks for all or some is planned for all
		// Boxes are looked at beside those that are asked for: others may hold an order for less.
		some, args = ` and (item_id = any($1::text[]::uuid[]) or supply_id in (select id from supplies
			where inside is not null))`, append(args, items)
	}
	rows, err := tx.Query(ctx, `select item_id, least(best_before, open_until), opened_on is not null, bought_on, each,
			origin = 'reclaimed', stirred, touched, damp, sum(remaining), count(*)
		from lots where remaining > 0`+some+` group by 1, 2, 3, 4, 5, 6, 7, 8, 9 order by 2, 3 desc, 4, 5`, args...)
	if err != nil {
		return nil, err
	}
	by := map[ident.Item][]holding{}
	var item uuid.UUID
	var until *time.Time
	var bought time.Time
	var h holding
	var reclaimed bool
	var r restOf
	_, err = pgx.ForEachRow(rows, []any{&item, &until, &h.Opened, &bought, &h.Price, &reclaimed, &r.stirred, &r.touched,
		&r.damp, &h.Left, &h.count}, func() error {
		h.Item, h.BestBefore, h.Bought = ident.Item(item.String()), date(until), bought.Format(time.DateOnly)
		h.Rest = r.rest(&h.StockLot, reclaimed)
		r = restOf{}
		by[h.Item] = append(by[h.Item], h)
		return nil
	})
	return by, err
}

func date(t *time.Time) string {
	if t == nil {
		return ""
	}
	return t.Format(time.DateOnly)
}

func unaccounted(ctx context.Context, tx pgx.Tx) (map[string]float64, error) {
	rows, err := tx.Query(ctx, `select item_id::text, sum(unaccounted) from lots where unaccounted > 0 group by 1`)
	if err != nil {
		return nil, err
	}
	open := map[string]float64{}
	var id string
	var x float64
	_, err = pgx.ForEachRow(rows, []any{&id, &x}, func() error { open[id] = x; return nil })
	return open, err
}

// Available is the stock of everything for the estimate: what is good today and not set aside, and the latest price.
// ingredients are those of the kitchen; lots are read of the items only, or of all where they are nil.
func Available(ctx context.Context, tx pgx.Tx, reserved []larder.Want, today string,
	ingredients map[ident.Ingredient]food.Ingredient, items []string) (stock map[ident.Ingredient]larder.Stock,
	supplies map[ident.Supply]box.Supply, err error) {
	held, err := holdings(ctx, tx, items)
	if err != nil {
		return nil, nil, err
	}
	wants := map[ident.Item][]larder.Want{}
	for _, w := range reserved {
		wants[w.Item] = append(wants[w.Item], w)
	}
	free := func(id ident.Item, latest decimal.Decimal, guess bool) larder.Stock {
		return larder.Stock{Lots: larder.SetAside(lotsOf(held[id]), wants[id], today), Latest: latest,
			Estimated: guess}
	}
	stock, supplies = make(map[ident.Ingredient]larder.Stock, len(ingredients)), map[ident.Supply]box.Supply{}
	for id, i := range ingredients {
		stock[id] = free(ident.Item(id), i.Price, i.Estimated)
	}
	rows, err := tx.Query(ctx, `select id, name, unit, paid::text, paid_for, estimated, inside, foot,
			fittings from supplies`)
	if err != nil {
		return nil, nil, err
	}
	var id uuid.UUID
	var name, unit, paid string
	var paidFor float64
	var guess bool
	var inside *box.Inside
	var base *box.Base
	var fittings []box.Fitting
	scan := []any{&id, &name, &unit, &paid, &paidFor, &guess, &inside, &base, &fittings}
	_, err = pgx.ForEachRow(rows, scan, func() error {
		latest := decimal.RequireFromString(paid).Div(decimal.NewFromFloat(paidFor))
		of := ident.Supply(id.String())
		supplies[of] = box.Supply{ID: of, Name: name, Unit: measure.Unit(unit), Inside: inside.Room(), Foot: base.Foot(),
			Fittings: slices.Clone(fittings), Stock: free(ident.Item(id.String()), latest, guess)}
		return nil
	})
	return stock, supplies, err
}

func (l *Larder) stock(ctx context.Context, _ *struct{}) (*struct{ Body Stock }, error) {
	var s Stock
	err := l.In(ctx, func(tx pgx.Tx) error {
		items, house, err := l.items(ctx, tx, uuid.Nil)
		worth := decimal.Zero
		for _, i := range items {
			worth = worth.Add(i.worth)
		}
		s = Stock{Today: house.Today(), Worth: price.In(house.Currency, worth), Items: items}
		return err
	})
	return &struct{ Body Stock }{s}, err
}
