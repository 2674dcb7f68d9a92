package larder

import (
	"bytes"
	"context"
	"maps"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// book writes what comes into the larder and leaves it. What remains of a lot is what came of it and all of its moves,
// and never negative. Whoever changes the stock of things locks their rows first, in the order of their ids: then it is
// as though one did it after the other.
type book struct {
	ctx context.Context
	web.Base
	tx  pgx.Tx
	day string // today in the kitchen

	mixtures map[ident.Item]Mixture // where mixes are counted
}

func newBook(ctx context.Context, h web.Base, tx pgx.Tx) (*book, error) {
	b := &book{ctx: ctx, Base: h, tx: tx}
	err := tx.QueryRow(ctx, `select ($1::timestamptz at time zone time_zone)::date::text from kitchens`,
		h.Clock()).Scan(&b.day)
	return b, err
}

// stockItem is an ingredient, a kind of packaging or a mix, locked.
type stockItem struct {
	ID        uuid.UUID
	Packaging bool
	Mix       bool
	Name      string
	Unit      measure.Unit
	Each      decimal.Decimal // latest price of one unit
	PaidOn    *time.Time
	Substance measure.Substance
	Estimated bool // nobody has paid the latest price
}

// lock what can be bought and return it by id. One that is not there is left out.
func (b *book) lock(ids ...uuid.UUID) (map[uuid.UUID]stockItem, error) {
	return b.lockIn([]string{"ingredients", "supplies"}, ids)
}

// lockAny of what lies in the larder: mixes too.
func (b *book) lockAny(ids ...uuid.UUID) (map[uuid.UUID]stockItem, error) {
	return b.lockIn([]string{"ingredients", "supplies", "mixes"}, ids)
}

// priced are the columns of a table that say in what and for how much a thing was last paid, and what it is like.
var priced = map[string]string{
	"ingredients": "unit, paid::text, paid_for, paid_on, density, grams_each",
	"supplies":    "unit, paid::text, paid_for, paid_on, null::double precision, null::double precision",
	"mixes":       "'g', '0', 1::double precision, null::date, density, null::double precision",
}

func (b *book) lockIn(tables []string, ids []uuid.UUID) (map[uuid.UUID]stockItem, error) {
	found := map[uuid.UUID]stockItem{}
	for _, table := range tables {
		rows, err := b.tx.Query(b.ctx, `select id, name, `+priced[table]+` from `+table+
			` where id = any($1) order by id for no key update`, ids)
		if err != nil {
			return nil, err
		}
		var t stockItem
		var paid string
		var paidFor float64
		var density *float64
		var each *si.Grams
		_, err = pgx.ForEachRow(rows, []any{&t.ID, &t.Name, (*string)(&t.Unit), &paid, &paidFor, &t.PaidOn, &density,
			&each}, func() error {
			t.Packaging, t.Mix = table == "supplies", table == "mixes"
			t.Each = decimal.RequireFromString(paid).Div(decimal.NewFromFloat(paidFor))
			t.Substance = measure.Substance{}
			if density != nil {
				t.Substance.Density = *density
			}
			if each != nil {
				t.Substance.GramsEach = *each
			}
			found[t.ID] = t
			return nil
		})
		if err != nil {
			return nil, err
		}
	}
	return found, nil
}

// one thing, locked; the error says where it is not there.
func (b *book) one(id uuid.UUID) (stockItem, error) {
	things, err := b.lockAny(id)
	if err != nil {
		return stockItem{}, err
	}
	t, ok := things[id]
	if !ok {
		return t, web.NotFound("ingredient or packaging")
	}
	return t, nil
}

// show an amount of the thing, readable.
func (t stockItem) show(x float64) measure.Shown {
	return measure.Show(measure.Of(x, t.Unit), t.Substance)
}

const lotColumns = `id, item_id::text, remaining, each::text, bought_on::text, coalesce(best_before::text, ''), coalesce(open_until::text, ''), opened_on is not null, origin = 'reclaimed', stirred, touched, damp`

func scanCoreLot(row pgx.CollectableRow) (larder.StockLot, error) {
	var l larder.StockLot
	var id uuid.UUID
	var each string
	var reclaimed bool
	var r restOf
	err := row.Scan(&id, &l.Item, &l.Left, &each, &l.Bought, &l.BestBefore, &l.OpenUntil, &l.Opened, &reclaimed,
		&r.stirred, &r.touched, &r.damp)
	l.Rest = r.rest(&l, reclaimed)
	if err == nil {
		l.ID = ident.Lot(id.String())
		l.Price, err = decimal.NewFromString(each)
	}
	return l, err
}

// lots of a thing with something left, first expired first.
func (b *book) lots(id uuid.UUID) ([]larder.StockLot, error) {
	rows, err := b.tx.Query(b.ctx, `select `+lotColumns+` from lots where item_id = $1 and remaining > 0`, id)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, scanCoreLot)
	larder.SortFEFO(list)
	return list, err
}

// lot as it is put down.
type lot struct {
	origin     string
	amount     float64
	paid       decimal.Decimal
	shop, day  string
	bestBefore string
	unrecorded float64
	rest       *ledger.Rest                 // that it is, of what is left of a bowl
	of         map[ident.Ingredient]float64 // what a gram of it is made of, of a mix
}

// what a change of the stock belongs to.
type cause struct {
	order, batch *uuid.UUID
	kind, reason string
	bowl         *uuid.UUID
}

// put a new lot of a thing down.
func (b *book) put(t stockItem, l lot, c cause) (uuid.UUID, error) {
	id := db.NewID()
	var ingredient, supply, mix *uuid.UUID
	switch {
	case t.Packaging:
		supply = &t.ID
	case t.Mix:
		mix = &t.ID
	default:
		ingredient = &t.ID
	}
	who := web.ActorOf(b.ctx)
	var stirred *stirredIn
	touched, damp := []string{}, false
	if l.rest != nil {
		stirred, damp = stirredOf(l.rest), l.rest.Damp
		touched = append(touched, l.rest.Touched...)
	}
	_, err := b.tx.Exec(b.ctx, `insert into lots (kitchen_id, id, ingredient_id, supply_id, origin, amount, remaining,
			paid, shop, bought_on, best_before, unaccounted, order_id, batch_id, note, at, person_id, bowl, stirred,
			touched, damp, mix_id, made_of)
		values ($1, $2, $3, $4, $5, $6, $6, $7::text::numeric, $8, $9::text::date, nullif($10, '')::date, $11, $12,
		$13, $14, $15, $16, $17, $18, $19, $20, $21, $22)`,
		who.Kitchen, id, ingredient, supply, l.origin, l.amount, l.paid.String(), l.shop, l.day, l.bestBefore,
		l.unrecorded, c.order, c.batch, c.reason, b.Clock(), who.ID(), c.bowl, stirred, touched, damp, mix, l.of)
	return id, err
}

// change what is left of lots, by lot, and note it. What is used for the first time is open from then on.
func (b *book) change(c cause, by map[uuid.UUID]float64) error {
	who, batch := web.ActorOf(b.ctx), &pgx.Batch{}
	for lot, amount := range by {
		batch.Queue(`update lots set remaining = case when remaining + $2 < 1e-6 then 0 else remaining + $2 end,
			revision = revision + 1,
			opened_on = case when $3 = 'used'
			and ingredient_id is not null then coalesce(opened_on, $4::text::date) else opened_on end where id = $1`, lot, amount, c.kind, b.day)
		batch.Queue(`insert into stock_moves (kitchen_id, id, lot_id, order_id, batch_id, kind, change, reason, at,
			person_id, bowl) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
			who.Kitchen, db.NewID(), lot, c.order, c.batch, c.kind, amount, c.reason, b.Clock(), who.ID(), c.bowl)
	}
	return b.tx.SendBatch(b.ctx, batch).Close()
}

// take an amount out of lots in their order, and say when the first of them expires and what is missing.
func (b *book) take(lots []larder.StockLot, amount float64, c cause) (taken []larder.Taken, oldest string,
	missing float64, err error) {
	until := map[ident.Lot]string{}
	for _, l := range lots {
		until[l.ID] = l.Until()
	}
	taken, missing = larder.Take(lots, amount)
	by := make(map[uuid.UUID]float64, len(taken))
	for _, p := range taken {
		if u := until[p.Lot]; u != "" && (oldest == "" || u < oldest) {
			oldest = u
		}
		by[uuid.MustParse(string(p.Lot))] = -p.Amount
	}
	return taken, oldest, missing, b.change(c, by)
}

// count sets the stock of a thing to what was counted: what is missing is taken off, first expired first; what is more
// is a lot of its own.
func (b *book) count(id uuid.UUID, amount float64, reason string) error {
	t, err := b.one(id)
	if err != nil {
		return err
	}
	lots, err := b.lots(id)
	if err != nil {
		return err
	}
	// What was used without being on record is accounted for by the count.
	if _, err := b.tx.Exec(b.ctx, `update lots set unaccounted = 0 where item_id = $1 and unaccounted > 0`,
		id); err != nil {
		return err
	}
	c := cause{kind: "corrected", reason: reason}
	switch diff := amount - (larder.Stock{Lots: lots}).Free(); {
	case diff > 1e-9:
		_, err = b.put(t, lot{origin: "counted", amount: diff, paid: t.Each.Mul(decimal.NewFromFloat(diff)),
			day: b.day, of: b.mixtures[ident.Item(t.ID.String())].Of}, c)
	case diff < 0:
		_, _, _, err = b.take(lots, -diff, c)
	}
	return err
}

// Use is what a batch takes of a thing when it is made, beside what came out of bowls.
type Use struct {
	Item uuid.UUID
	Used float64
}

// ConsumeForBatch takes what a batch uses for an order out of the larder, first expired first. What is not on record is
// noted as such: nothing goes below zero silently, and nobody at the bench is held up. Of a mix that was to be there and
// is not, what it is made of is taken: it was made.
func ConsumeForBatch(ctx context.Context, h web.Base, tx pgx.Tx, order, batch uuid.UUID, uses []Use,
	mixtures map[ident.Item]Mixture) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	c := cause{order: &order, batch: &batch, kind: "used", reason: "made"}
	all := map[uuid.UUID]float64{}
	for _, u := range uses {
		of, mixed := mixtures[ident.Item(u.Item.String())]
		if !mixed {
			all[u.Item] += u.Used
			continue
		}
		missing, err := b.useMix(u, of, c)
		if err != nil {
			return err
		}
		for id, each := range of.Takes {
			if x := each * missing; x > 0 {
				all[uuid.MustParse(string(id))] += x
			}
		}
	}
	_, err = b.useAll(all, c)
	return err
}

// useMix takes of a mix what is good and made as it is now, and says how much of it is missing.
func (b *book) useMix(u Use, of Mixture, c cause) (missing float64, err error) {
	t, err := b.one(u.Item)
	if err != nil {
		return 0, err
	}
	lots, err := mixLots(b.ctx, b.tx, of.Of, t.ID)
	if err != nil {
		return 0, err
	}
	lots = slices.DeleteFunc(lots, func(l larder.StockLot) bool { return !l.GoodOn(b.day) })
	_, _, missing, err = b.take(lots, u.Used, c)
	return missing, err
}

// useAll of so much of things by id, in the order of their ids, and returns what was paid for it.
func (b *book) useAll(all map[uuid.UUID]float64, c cause) (cost decimal.Decimal, err error) {
	ids := slices.SortedFunc(maps.Keys(all), func(x, y uuid.UUID) int { return bytes.Compare(x[:], y[:]) })
	things, err := b.lock(ids...)
	if err != nil {
		return cost, err
	}
	for _, id := range ids {
		t, ok := things[id]
		if !ok {
			continue
		}
		lots, err := b.lots(t.ID)
		if err != nil {
			return cost, err
		}
		// What is past its day is not used: it stands there until it is counted out.
		lots = slices.DeleteFunc(lots, func(l larder.StockLot) bool { return !l.GoodOn(b.day) })
		paid, _, err := b.use(t, larder.Plain(lots), all[id], c)
		if err != nil {
			return cost, err
		}
		cost = cost.Add(paid)
	}
	return cost, nil
}

// use an amount of a thing out of lots in their order; what they do not hold is noted as not on record. It returns what
// was paid for it, and when the first of it expires.
func (b *book) use(t stockItem, lots []larder.StockLot, amount float64, c cause) (cost decimal.Decimal, oldest string,
	err error) {
	taken, oldest, missing, err := b.take(lots, amount, c)
	if err != nil {
		return cost, oldest, err
	}
	for _, p := range taken {
		cost = cost.Add(p.Cost)
	}
	if missing > 0 {
		paid := t.Each.Mul(decimal.NewFromFloat(missing))
		cost = cost.Add(paid)
		noted := c
		noted.kind, noted.reason = "", "not on record"
		id, err := b.put(t, lot{origin: "unrecorded", amount: missing, paid: paid, day: b.day, unrecorded: missing},
			noted)
		if err != nil {
			return cost, oldest, err
		}
		err = b.change(c, map[uuid.UUID]float64{id: -missing})
		return cost, oldest, err
	}
	return cost, oldest, nil
}

// ReverseConsumption puts back what a batch took for an order. Where it took for several, the last to take is the first
// to put back. Chocolate that came back from it must still be there.
func ReverseConsumption(ctx context.Context, h web.Base, tx pgx.Tx, order, batch uuid.UUID) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	return b.reverse(`batch_id = $1 and order_id = $2`, cause{order: &order, batch: &batch, kind: "returned",
		reason: "taken back"}, batch, order)
}

// reverse what the moves that a condition names came to, lot by lot, and what came back with them.
func (b *book) reverse(condition string, c cause, args ...any) error {
	rows, err := b.tx.Query(b.ctx, `select id, sum(change) from (select lot_id as id, change from stock_moves where `+
		condition+` union all select id, amount from lots where `+condition+`) x group by 1`, args...)
	if err != nil {
		return err
	}
	net := map[uuid.UUID]float64{}
	var lot uuid.UUID
	var change float64
	if _, err := pgx.ForEachRow(rows, []any{&lot, &change},
		func() error { net[lot] = change; return nil }); err != nil {
		return err
	}
	touched := slices.Collect(maps.Keys(net))
	rows, err = b.tx.Query(b.ctx, `select distinct item_id from lots where id = any($1)`, touched)
	if err != nil {
		return err
	}
	ids, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil {
		return err
	}
	things, err := b.lockAny(ids...)
	if err != nil {
		return err
	}
	type touch struct {
		Lot       uuid.UUID
		Item      uuid.UUID
		Origin    string
		Remaining float64
	}
	rows, err = b.tx.Query(b.ctx, `select id, item_id, origin, remaining from lots where id = any($1) order by id`,
		touched)
	if err != nil {
		return err
	}
	nets, err := pgx.CollectRows(rows, pgx.RowToStructByPos[touch])
	if err != nil {
		return err
	}
	by := map[uuid.UUID]float64{}
	for _, n := range nets {
		if net[n.Lot]-n.Remaining > 1e-6 {
			return web.Because(http.StatusConflict, reason.Of("larder.came-back-and-was-used",
				things[n.Item].show(net[n.Lot]), reason.Name(things[n.Item].Name)))
		}
		if n.Origin == "unrecorded" {
			// It was never on record: it is not now either.
			if _, err := b.tx.Exec(b.ctx, `update lots set unaccounted = 0, voided = true where id = $1`,
				n.Lot); err != nil {
				return err
			}
		}
		if x := net[n.Lot]; x > 1e-9 || x < -1e-9 {
			by[n.Lot] = -x
		}
	}
	return b.change(c, by)
}
