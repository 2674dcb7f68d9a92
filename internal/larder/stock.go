package larder

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

func (l *Larder) registerStock() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary, Tags: []string{"Larder"}}
	}
	created := func(o huma.Operation) huma.Operation { o.DefaultStatus = 201; return o }
	web.Register(l.Home, op("get-stock", "GET", "stock", "What is in the house, what is free of it, what runs short and what expires"), l.stock)
	web.Register(l.Home, op("get-item", "GET", "stock/{id}", "One ingredient or kind of packaging: its lots, its moves, what was paid for it, where it is sold"), l.item)
	web.Register(l.Home, op("count-item", "POST", "stock/{id}/counts", "Correct the stock to what was counted on the shelf"), l.counted)
	web.Register(l.Home, op("put-offers", "PUT", "stock/{id}/offers", "Say in which packs it is sold, where and for how much"), l.putOffers)
	web.Register(l.Home, op("put-lot", "PUT", "lots/{id}", "Change what is known of a lot: until when it is good, and whether it is open"), l.putLot)
	web.Register(l.Home, op("void-lot", "DELETE", "lots/{id}", "Take back a purchase of which nothing has been used"), l.voidLot)
	web.Register(l.Home, created(op("write-receipt", "POST", "receipts", "Book what was bought, line by line")), l.receipt)
	read := op("read-slip", "POST", "calculators/slip", "Read the lines of a till slip as they are typed; nothing is saved")
	read.Tags = []string{"Calculators"}
	web.Register(l.Home, read, l.readSlip)
	l.registerTables(op)
	l.registerShopping(op)
}

// Item is an ingredient or a kind of packaging and how it stands with it.
type Item struct {
	ID        uuid.UUID         `json:"id"`
	Packaging bool              `json:"packaging"`
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
	LastPaid  string            `json:"lastPaid" doc:"Decimal"`
	PaidFor   measure.Shown     `json:"paidFor"`
	Revision  int               `json:"revision"`
	Substance measure.Substance `json:"-"`
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
	Today string `json:"today" format:"date"`
	Items []Item `json:"items"`
}

// SoonDays is how many days ahead it is told what expires.
const SoonDays = 14

// Foresight is how many days ahead it is told what runs short.
const Foresight = 56

// items of the kitchen, all or one of them.
func (l *Larder) items(ctx context.Context, tx pgx.Tx, only uuid.UUID) ([]Item, House, error) {
	house, err := l.House(ctx, tx)
	if err != nil {
		return nil, house, err
	}
	rows, err := tx.Query(ctx, `select id, false, name, kind, chocolate_kind, colour, coalesce(tint, ''), unit, density, grams_each, paid::text, paid_for, revision from ingredients where $1 = any(array[id, '00000000-0000-0000-0000-000000000000'::uuid])
		union all select id, true, name, '', null, null, '', unit, null, null, paid::text, paid_for, revision from supplies where $1 = any(array[id, '00000000-0000-0000-0000-000000000000'::uuid]) order by 2, 3`, only)
	if err != nil {
		return nil, house, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (Item, error) {
		var i Item
		var kind, colour *string
		var tint string
		var density, each *float64
		var paidFor float64
		err := row.Scan(&i.ID, &i.Packaging, &i.Name, (*string)(&i.Kind), &kind, &colour, &tint, (*string)(&i.Unit), &density, &each, &i.LastPaid, &paidFor, &i.Revision)
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
	reserved := map[string]float64{}
	set := map[string][]larder.Want{}
	for _, w := range aside {
		reserved[w.Item] += w.Used
		set[w.Item] = append(set[w.Item], w)
	}
	own := map[string][]larder.Want{}
	for _, w := range wants {
		own[w.Item] = append(own[w.Item], w)
	}
	open, err := unaccounted(ctx, tx)
	if err != nil {
		return nil, house, err
	}
	expire := []string{}
	for n := range list {
		i := &list[n]
		id := i.ID.String()
		i.stand(held[id], own[id], set[id], reserved[id], house)
		if x := open[id]; x > 1e-6 {
			shown := i.show(x)
			i.Open = &shown
		}
		if i.Expires != nil && !i.Packaging {
			expire = append(expire, id)
		}
	}
	uses, err := l.Uses(ctx, tx, expire...)
	for n := range list {
		if of, ok := uses[list[n].ID.String()]; ok {
			list[n].Expires.Uses = of
		}
	}
	return list, house, err
}

func (i *Item) show(x float64) measure.Shown {
	return measure.Show(measure.Of(x, i.Unit), i.Substance)
}

// stand works out how it stands with the item.
func (i *Item) stand(held []holding, wants, aside []larder.Want, reserved float64, house House) {
	today, soon := house.Today(), house.Calendar.Date(SoonDays)
	stock, expiring, past, worth := 0.0, 0.0, 0.0, decimal.Zero
	for _, l := range held {
		i.Lots += l.count
		worth = worth.Add(l.Price.Mul(decimal.NewFromFloat(l.Left)))
		if until := l.Until(); until != "" && (i.Until == "" || until < i.Until) {
			i.Until = until
		}
		if l.GoodOn(today) {
			stock += l.Left
		}
	}
	day := ""
	for _, l := range held {
		if until := l.Until(); until != "" && until < today {
			past += l.Left
		}
	}
	if past > 1e-6 {
		i.Past = &Expiry{Day: i.Until, Amount: i.show(past), Uses: []treat.Use{}}
	}
	// What is set aside for a day on which a lot is still good is not lost; for a later day it is.
	for _, l := range larder.SetAside(lotsOf(held), aside, today) {
		if until := l.Until(); until != "" && until >= today && until <= soon {
			expiring += l.Left
			if day == "" || until < day {
				day = until
			}
		}
	}
	if expiring > 1e-6 {
		i.Expires = &Expiry{Day: day, Amount: i.show(expiring), Uses: []treat.Use{}}
	}
	i.Stock, i.Reserved, i.Free, i.Worth = i.show(stock), i.show(reserved), i.show(max(stock-reserved, 0)), price.In(house.Currency, worth)
	if short := larder.Shortages(lotsOf(held), wants, nil, ""); len(short) > 0 {
		i.Runs = &Runs{short[0].Day, i.show(short[0].Amount), short[0].For}
	}
}

// holding is all lots of a thing that were bought on one day for one price and are good until the same day: they are used one like the other.
type holding struct {
	larder.Lot
	count int
}

func lotsOf(held []holding) []larder.Lot {
	lots := make([]larder.Lot, len(held))
	for i := range held {
		lots[i] = held[i].Lot
	}
	return lots
}

// holdings of things, or of everything where they are nil, in the order of use.
func holdings(ctx context.Context, tx pgx.Tx, items []string) (map[string][]holding, error) {
	some, args := ``, []any{}
	if items != nil { // a query of its own: one that asks for all or some is planned for all
		some, args = ` and item_id = any($1::text[]::uuid[])`, append(args, items)
	}
	rows, err := tx.Query(ctx, `select item_id, least(best_before, open_until), opened_on is not null, bought_on, each, origin = 'reclaimed', stirred, touched, damp, sum(remaining), count(*)
		from lots where remaining > 0`+some+` group by 1, 2, 3, 4, 5, 6, 7, 8, 9 order by 2, 3 desc, 4, 5`, args...)
	if err != nil {
		return nil, err
	}
	by := map[string][]holding{}
	var item uuid.UUID
	var until *time.Time
	var bought time.Time
	var h holding
	var reclaimed bool
	var r restOf
	_, err = pgx.ForEachRow(rows, []any{&item, &until, &h.Opened, &bought, &h.Price, &reclaimed, &r.stirred, &r.touched, &r.damp, &h.Left, &h.count}, func() error {
		h.Item, h.BestBefore, h.Bought = item.String(), date(until), bought.Format(time.DateOnly)
		h.Rest = r.rest(&h.Lot, reclaimed)
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

// Free is the stock of everything for the reckoning: what is good today and not set aside, and the latest price. ingredients are
// those of the kitchen; lots are read of the items only, or of all where they are nil.
func Free(ctx context.Context, tx pgx.Tx, reserved []larder.Want, today string, ingredients map[string]food.Ingredient, items []string) (stock map[string]larder.Stock, supplies map[string]box.Supply, err error) {
	held, err := holdings(ctx, tx, items)
	if err != nil {
		return nil, nil, err
	}
	wants := map[string][]larder.Want{}
	for _, w := range reserved {
		wants[w.Item] = append(wants[w.Item], w)
	}
	free := func(id string, latest decimal.Decimal) larder.Stock {
		return larder.Stock{Lots: larder.SetAside(lotsOf(held[id]), wants[id], today), Latest: latest}
	}
	stock, supplies = make(map[string]larder.Stock, len(ingredients)), map[string]box.Supply{}
	for id, i := range ingredients {
		stock[id] = free(id, i.Price)
	}
	rows, err := tx.Query(ctx, `select id, name, unit, paid::text, paid_for from supplies`)
	if err != nil {
		return nil, nil, err
	}
	var id uuid.UUID
	var name, unit, paid string
	var paidFor float64
	_, err = pgx.ForEachRow(rows, []any{&id, &name, &unit, &paid, &paidFor}, func() error {
		latest := decimal.RequireFromString(paid).Div(decimal.NewFromFloat(paidFor))
		supplies[id.String()] = box.Supply{ID: id.String(), Name: name, Unit: measure.Unit(unit), Stock: free(id.String(), latest)}
		return nil
	})
	return stock, supplies, err
}

func (l *Larder) stock(ctx context.Context, _ *struct{}) (*struct{ Body Stock }, error) {
	var s Stock
	err := l.In(ctx, func(tx pgx.Tx) error {
		items, house, err := l.items(ctx, tx, uuid.Nil)
		s = Stock{house.Today(), items}
		return err
	})
	return &struct{ Body Stock }{s}, err
}

// Lot as it is shown.
type Lot struct {
	ID         uuid.UUID     `json:"id"`
	Revision   int           `json:"revision"`
	Origin     string        `json:"origin" enum:"bought,shopping,counted,reclaimed,unrecorded"`
	Came       measure.Shown `json:"came"`
	Left       measure.Shown `json:"left"`
	Paid       price.Money   `json:"paid" doc:"For all that came"`
	Each       price.Money   `json:"each" doc:"For the amount that the item's last price is told for"`
	Shop       string        `json:"shop,omitempty"`
	Bought     string        `json:"bought" format:"date"`
	BestBefore string        `json:"bestBefore,omitempty"`
	Opened     string        `json:"opened,omitempty"`
	OpenUntil  string        `json:"openUntil,omitempty"`
	Good       bool          `json:"good" doc:"Still good today"`
}

// Moved is a change of the stock.
type Moved struct {
	At     time.Time     `json:"at"`
	Kind   string        `json:"kind" enum:"in,used,returned,corrected,voided"`
	Change measure.Shown `json:"change"`
	Reason string        `json:"reason,omitempty"`
	Order  string        `json:"order,omitempty" doc:"Whose order it was for"`
	Who    string        `json:"who,omitempty"`
}

// Offer is a pack as a shop sells it.
type Offer struct {
	Shop  string           `json:"shop" maxLength:"100"`
	Size  measure.Quantity `json:"size"`
	Price string           `json:"price" doc:"Decimal"`
	Shown *measure.Shown   `json:"shown,omitempty" doc:"The size, readable"`
	Seen  string           `json:"seen,omitempty" doc:"The day on which it was seen"`
}

// ItemInFull is an item with all that is known of it.
type ItemInFull struct {
	Item
	LotList []Lot   `json:"lotList" doc:"With something left, as they will be used"`
	Prices  []Paid  `json:"prices" doc:"What was paid, oldest first"`
	Moves   []Moved `json:"moves" doc:"The latest first"`
	Offers  []Offer `json:"offers"`
}

// Paid is a point of an item's price history.
type Paid struct {
	Day   string      `json:"day" format:"date"`
	Shop  string      `json:"shop,omitempty"`
	Price price.Money `json:"price" doc:"For the amount that the item's last price is told for"`
}

func (l *Larder) item(ctx context.Context, in *web.ID) (*struct{ Body ItemInFull }, error) {
	var full ItemInFull
	err := l.In(ctx, func(tx pgx.Tx) (err error) { full, err = l.inFull(ctx, tx, in.ID); return err })
	return &struct{ Body ItemInFull }{full}, err
}

func (l *Larder) inFull(ctx context.Context, tx pgx.Tx, id uuid.UUID) (ItemInFull, error) {
	var full ItemInFull
	items, house, err := l.items(ctx, tx, id)
	if err != nil {
		return full, err
	}
	if len(items) == 0 {
		return full, web.NotFound("ingredient or packaging")
	}
	full.Item = items[0]
	i := &full.Item
	rows, err := tx.Query(ctx, `select id, revision, origin, amount, remaining, paid::text, shop, bought_on::text, coalesce(best_before::text, ''), coalesce(opened_on::text, ''), coalesce(open_until::text, '')
		from lots where item_id = $1 and not voided order by bought_on, id`, id)
	if err != nil {
		return full, err
	}
	per := i.PaidFor.Amount
	money := func(paid decimal.Decimal, amount float64) price.Money {
		if amount <= 0 {
			return price.In(house.Currency, decimal.Zero)
		}
		return price.In(house.Currency, paid.Mul(decimal.NewFromFloat(per)).Div(decimal.NewFromFloat(amount)))
	}
	full.LotList, full.Prices = []Lot{}, []Paid{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var lot Lot
		var came, left float64
		var paid string
		if err := row.Scan(&lot.ID, &lot.Revision, &lot.Origin, &came, &left, &paid, &lot.Shop, &lot.Bought, &lot.BestBefore, &lot.Opened, &lot.OpenUntil); err != nil {
			return struct{}{}, err
		}
		p := decimal.RequireFromString(paid)
		lot.Came, lot.Left, lot.Paid, lot.Each = i.show(came), i.show(left), price.In(house.Currency, p), money(p, came)
		if lot.Origin == "bought" || lot.Origin == "shopping" {
			full.Prices = append(full.Prices, Paid{lot.Bought, lot.Shop, lot.Each})
		}
		core := larder.Lot{BestBefore: lot.BestBefore, OpenUntil: lot.OpenUntil}
		if lot.Good = core.GoodOn(house.Today()); left > 0 {
			full.LotList = append(full.LotList, lot)
		}
		return struct{}{}, nil
	})
	if err != nil {
		return full, err
	}
	slices.SortStableFunc(full.LotList, func(a, b Lot) int { return cmp.Compare(last(a), last(b)) })
	if full.Offers, err = l.offers(ctx, tx, i, house.Currency); err != nil {
		return full, err
	}
	rows, err = tx.Query(ctx, `select x.at, x.kind, x.change, x.reason, coalesce(o.customer, ''), coalesce(p.name, '') from (
			select m.id, m.at, m.kind, m.change, m.reason, coalesce(m.order_id, (select s.order_id from bowl_shares s where s.bowl = m.bowl order by s.share desc limit 1)) as order_id, m.person_id from stock_moves m join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id where l.item_id = $1
			union all select id, at, 'in', amount, case origin when 'reclaimed' then 'reclaimed' when 'unrecorded' then 'not on record' else coalesce(nullif(shop, ''), note) end, coalesce(order_id, (select s.order_id from bowl_shares s where s.bowl = lots.bowl order by s.share desc limit 1)), person_id from lots where item_id = $1) x
		left join orders o on o.id = x.order_id left join people p on p.id = x.person_id order by x.at desc, x.id desc limit 40`, id)
	if err != nil {
		return full, err
	}
	full.Moves, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Moved, error) {
		var m Moved
		var change float64
		err := row.Scan(&m.At, &m.Kind, &change, &m.Reason, &m.Order, &m.Who)
		m.Change = i.show(change)
		return m, err
	})
	return full, err
}

// last day on which a lot is good, for sorting: what keeps comes last.
func last(l Lot) string {
	core := larder.Lot{BestBefore: l.BestBefore, OpenUntil: l.OpenUntil}
	return cmp.Or(core.Until(), "9999")
}

// Counted is what was counted on a shelf.
type Counted struct {
	Amount measure.Quantity `json:"amount"`
	Reason string           `json:"reason" maxLength:"200" doc:"Why it differs"`
}

// Count sets the stock of a thing to what was counted, in its unit.
func (l *Larder) Count(ctx context.Context, tx pgx.Tx, item uuid.UUID, amount float64, reason string) error {
	b, err := newBook(ctx, l.Home, tx)
	if err != nil {
		return err
	}
	return b.count(item, amount, reason)
}

func (l *Larder) counted(ctx context.Context, in *struct {
	web.ID
	Body Counted
}) (*struct{ Body ItemInFull }, error) {
	var full ItemInFull
	err := l.In(ctx, func(tx pgx.Tx) error {
		b, err := newBook(ctx, l.Home, tx)
		if err != nil {
			return err
		}
		t, err := b.one(in.ID.ID)
		if err != nil {
			return err
		}
		amount, err := t.amount(in.Body.Amount)
		if err != nil {
			return &invalid.Error{Fields: []invalid.Field{{Path: "amount", Err: err}}}
		}
		reason := in.Body.Reason
		if reason == "" {
			reason = "counted"
		}
		if err := b.count(t.ID, amount, reason); err != nil {
			return err
		}
		full, err = l.inFull(ctx, tx, t.ID)
		return err
	})
	return &struct{ Body ItemInFull }{full}, err
}

func (l *Larder) offers(ctx context.Context, tx pgx.Tx, i *Item, currency string) ([]Offer, error) {
	rows, err := tx.Query(ctx, `select shop, size, price::text, seen_on::text from offers where item_id = $1 order by lower(shop), size`, i.ID)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Offer, error) {
		var o Offer
		var paid decimal.Decimal // of several packs, a share that may not be whole
		err := row.Scan(&o.Shop, &o.Size.Amount, &paid, &o.Seen)
		o.Price, o.Size.Unit = price.In(currency, paid).Amount, i.Unit
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
		b, err := newBook(ctx, l.Home, tx)
		if err != nil {
			return err
		}
		house, err := l.House(ctx, tx)
		if err != nil {
			return err
		}
		t, err := b.one(in.ID.ID)
		if err != nil {
			return err
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
	b, err := newBook(ctx, l.Home, tx)
	if err != nil {
		return err
	}
	t, err := b.one(item)
	if err != nil {
		return err
	}
	size, err := t.amount(o.Size)
	if err != nil {
		return err
	}
	paid, err := decimal.NewFromString(o.Price)
	if err != nil {
		return err
	}
	return b.offer(t, o.Shop, size, paid, cmp.Or(o.Seen, b.day))
}

// offer notes in which pack, where and for how much a thing was seen; what was seen later counts.
func (b *book) offer(t thing, shop string, size float64, paid decimal.Decimal, day string) error {
	batch := &pgx.Batch{}
	b.queueOffer(batch, t, shop, size, paid, day)
	return b.tx.SendBatch(b.ctx, batch).Close()
}

func (b *book) queueOffer(batch *pgx.Batch, t thing, shop string, size float64, paid decimal.Decimal, day string) {
	ingredient, supply := &t.ID, (*uuid.UUID)(nil)
	if t.Packaging {
		ingredient, supply = nil, &t.ID
	}
	batch.Queue(`insert into offers (kitchen_id, id, ingredient_id, supply_id, shop, size, price, seen_on) values ($1, gen_random_uuid(), $2, $3, $4, $5, $6::text::numeric, $7::text::date)
		on conflict (kitchen_id, item_id, lower(shop), size) do update set price = excluded.price, seen_on = excluded.seen_on, shop = excluded.shop where offers.seen_on <= excluded.seen_on`,
		web.WhoOf(b.ctx).Kitchen, ingredient, supply, shop, size, paid.String(), day)
}

// LotFields is what a person sets of a lot.
type LotFields struct {
	BestBefore string `json:"bestBefore" doc:"A day; empty: it keeps"`
	Opened     string `json:"opened" doc:"The day on which it was opened; empty: it is closed"`
	OpenUntil  string `json:"openUntil" doc:"Until when it is good, now that it is open; empty: as long as closed"`
}

func (l *Larder) putLot(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body LotFields
}) (*struct{ Body ItemInFull }, error) {
	var faults invalid.Faults
	for path, day := range map[string]string{"bestBefore": in.Body.BestBefore, "opened": in.Body.Opened, "openUntil": in.Body.OpenUntil} {
		if _, err := time.Parse(time.DateOnly, day); err != nil && day != "" {
			faults.Add(path, reason.Of("larder.this-must-be-date-such-2"))
		}
	}
	if in.Body.OpenUntil != "" && in.Body.Opened == "" {
		faults.Add("openUntil", reason.Of("larder.say-when-was-opened-first"))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	var full ItemInFull
	err := l.In(ctx, func(tx pgx.Tx) error {
		var item uuid.UUID
		var revision int
		err := tx.QueryRow(ctx, `select item_id, revision from lots where id = $1 and not voided for update`, in.ID.ID).Scan(&item, &revision)
		if err != nil {
			return notFound(err, "lot")
		}
		if err := in.Matches(revision, func() (any, error) { return l.inFull(ctx, tx, item) }); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update lots set best_before = nullif($2, '')::date, opened_on = nullif($3, '')::date, open_until = nullif($4, '')::date, revision = revision + 1 where id = $1`,
			in.ID.ID, in.Body.BestBefore, in.Body.Opened, in.Body.OpenUntil); err != nil {
			return err
		}
		full, err = l.inFull(ctx, tx, item)
		return err
	})
	return &struct{ Body ItemInFull }{full}, err
}

func (l *Larder) voidLot(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, l.In(ctx, func(tx pgx.Tx) error {
		var item uuid.UUID
		if err := tx.QueryRow(ctx, `select item_id from lots where id = $1`, in.ID).Scan(&item); err != nil {
			return notFound(err, "lot")
		}
		b, err := newBook(ctx, l.Home, tx)
		if err != nil {
			return err
		}
		if _, err := b.lock(item); err != nil {
			return err
		}
		var origin string
		var amount, remaining float64
		var voided bool
		if err := tx.QueryRow(ctx, `select origin, amount, remaining, voided from lots where id = $1`, in.ID).Scan(&origin, &amount, &remaining, &voided); err != nil {
			return err
		}
		switch {
		case voided:
			return nil // it is done
		case origin != "bought" && origin != "shopping":
			return web.Refuse(http.StatusConflict, "Only a purchase can be taken back: count the shelf to correct the rest.")
		case remaining != amount:
			return web.Refuse(http.StatusConflict, "Some of it has been used already: count the shelf to correct it.")
		}
		if _, err := tx.Exec(ctx, `update lots set voided = true where id = $1`, in.ID); err != nil {
			return err
		}
		return b.change(cause{kind: "voided", reason: "taken back"}, map[uuid.UUID]float64{in.ID: -remaining})
	})
}
