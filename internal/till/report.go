package till

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/family"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/till"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

func (t *Till) registerReport(tags []string) {
	op := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: "GET", Path: "/api/v1/" + path, Summary: summary, Tags: tags}
	}
	file := func(o huma.Operation, kind, what string) huma.Operation {
		o.Responses = web.FileOf(kind, what)
		return o
	}
	web.Register(t.Base, op("get-till", "till",
		"What was earned, by month of handover, by treat and by occasion, and who owes what"), t.report)
	web.Register(t.Base, op("get-treat-sales", "treats/{id}/sales",
		"What one treat brought, by month of handover"), t.treatSales)
	web.Register(t.Base, web.GivesAway(file(op("export-till-csv", "till.csv",
		"All orders that are handed over, with price, tax, payments and cost, as CSV"), "text/csv", "A CSV file")),
		t.csv)
	web.Register(t.Base, web.GivesAway(file(op("export-till-xlsx", "till.xlsx",
		"The same with sums by month, treat and occasion, as a workbook"),
		"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "An XLSX file")), t.workbook)
}

// Sum over some orders, or over some lines of orders.
type Sum struct {
	Name      string       `json:"name" doc:"2026-09; or the treat's or occasion's name"`
	Treat     *uuid.UUID   `json:"treat,omitempty" doc:"Of a sum by treat"`
	Family    treat.Family `json:"family,omitempty"`
	Orders    int          `json:"orders"`
	Pieces    int          `json:"pieces" doc:"That were promised"`
	Asked     price.Money  `json:"asked" doc:"Without tax"`
	Cost      price.Money  `json:"cost" doc:"As it was reckoned when it was promised"`
	Spent     Spent        `json:"spent" doc:"The cost by what it is for"`
	Left      price.Money  `json:"left"`
	Minutes   si.Minutes   `json:"minutes"`
	Each      *price.Money `json:"each,omitempty" doc:"What a piece brought"`
	CostEach  *price.Money `json:"costEach,omitempty" doc:"What a piece cost"`
	PerHour   *price.Money `json:"perHour,omitempty" doc:"What an hour of hands brought after everything else"`
	Loss      *float64     `json:"loss,omitempty" doc:"Share of the pieces that was expected to be lost"`
	Real      Real         `json:"real"`
	Estimated bool         `json:"estimated" doc:"Some of the cost rests on prices that nobody had paid when it was promised"`
}

// Spent is the cost of some orders by what it is for. Of a treat only the pay is known, the rest is other.
type Spent struct {
	Ingredients price.Money `json:"ingredients"`
	Packaging   price.Money `json:"packaging"`
	Hands       price.Money `json:"hands" doc:"Pay for people's time"`
	Overhead    price.Money `json:"overhead"`
	Drive       price.Money `json:"drive"`
	Card        price.Money `json:"card"`
	Other       price.Money `json:"other" doc:"Of orders that were promised before costs were kept by their parts"`
}

// Real is what the bench and the larder recorded, of what was recorded.
type Real struct {
	Batches   int          `json:"batches" doc:"Of which it was recorded how they came out"`
	Loss      *float64     `json:"loss,omitempty"`
	Minutes   si.Minutes   `json:"minutes,omitempty" doc:"Of batches with recorded minutes"`
	Expected  si.Minutes   `json:"expected,omitempty" doc:"Minutes that were reckoned for the same batches"`
	Materials *price.Money `json:"materials,omitempty" doc:"What the ingredients that left the larder were paid for"`
}

// Report is the till.
type Report struct {
	Months    []Sum      `json:"months" doc:"Latest first"`
	Treats    []Sum      `json:"treats"`
	Occasions []Sum      `json:"occasions"`
	Owed      []Owed     `json:"owed" doc:"Of orders that are promised or further: what is still to be paid, or to be given back"`
	Kept      []Kept     `json:"kept" doc:"What was kept of cancelled orders, by the terms; it is in none of the sums above"`
	Year      *till.Year `json:"year,omitempty" doc:"This year's sales against the limit that the seller has set"`
}

// Kept is what was kept of the orders that were cancelled in a month.
type Kept struct {
	Month  string      `json:"month" doc:"2026-09; latest first"`
	Orders int         `json:"orders"`
	Amount price.Money `json:"amount" doc:"With tax, as it was paid"`
}

// Owed is what a customer owes.
type Owed struct {
	Order    uuid.UUID     `json:"order"`
	Number   int           `json:"number"`
	Customer string        `json:"customer"`
	State    order.State   `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	From     time.Time     `json:"from"`
	Gross    price.Money   `json:"gross"`
	Paid     price.Money   `json:"paid"`
	Stands   till.Standing `json:"stands" doc:"due, or excess: something is to be given back"`
	Rest     price.Money   `json:"rest" doc:"That is due, or to be given back"`
	Late     bool          `json:"late" doc:"It is handed over already"`
}

// done are the orders that count: handed over or settled, with a price and a cost.
const done = `o.state in ('handed over', 'settled') and o.agreed is not null and o.cost is not null`

func (t *Till) report(ctx context.Context, _ *struct{}) (*struct{ Body Report }, error) {
	r, _, err := t.sums(ctx)
	return &struct{ Body Report }{r}, err
}

func (t *Till) sums(ctx context.Context) (r Report, zone *time.Location, err error) {
	err = t.In(ctx, func(tx pgx.Tx) error {
		house, err := t.Context(ctx, tx)
		if err != nil {
			return err
		}
		zone = house.Zone
		whole, err := orders(ctx, tx, house)
		if err != nil {
			return err
		}
		if err := addLines(ctx, tx, whole, &r, house); err != nil {
			return err
		}
		if r.Year, err = t.year(ctx, tx, house); err != nil {
			return err
		}
		if r.Owed, err = t.owed(ctx, tx, house); err != nil {
			return err
		}
		r.Kept, err = kept(ctx, tx, house)
		return err
	})
	return r, zone, err
}

// year is this year's sales, by the day of the handover, against the limit; nil where there is none.
func (t *Till) year(ctx context.Context, tx pgx.Tx, house Context) (*till.Year, error) {
	if !house.Terms.Year().IsPositive() {
		return nil, nil
	}
	now := t.Clock().In(house.Zone)
	first := time.Date(now.Year(), 1, 1, 0, 0, 0, 0, house.Zone)
	var sold, ahead decimal.Decimal
	err := tx.QueryRow(ctx, `select coalesce(sum(agreed) filter (where state in ('handed over', 'settled')), 0),
			coalesce(sum(agreed) filter (where state in ('promised', 'in the making', 'packed')), 0)
		from orders where from_at >= $1 and from_at < $2`, first, first.AddDate(1, 0, 0)).Scan(&sold, &ahead)
	return till.YearOf(now.Year(), sold, ahead, house.Terms.Year(), house.Currency), err
}

// whole is an order that counts.
type whole struct {
	id              uuid.UUID
	month, occasion string
	sales           decimal.Decimal // without tax
	spent           price.Spent
	minutes         si.Minutes
	used            *decimal.Decimal // what left the larder for it
	estimated       bool             // its cost rests on prices that nobody had paid
}

// orders that count, latest first.
func orders(ctx context.Context, tx pgx.Tx, h Context) ([]whole, error) {
	rows, err := tx.Query(ctx, `with used as (select order_id, sum(used) as materials from (
				select m.order_id, -m.change * (l.paid / nullif(l.amount, 0)::numeric)::float8 as used
				from stock_moves m join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id
					where m.order_id is not null and m.batch_id is not null and l.ingredient_id is not null
					and l.amount > 0
				union all select order_id, -paid::float8 from lots where order_id is not null and origin = 'reclaimed'
				union all select s.order_id, s.share * -m.change * (l.paid / nullif(l.amount, 0)::numeric)::float8
				from bowl_shares s join stock_moves m on m.kitchen_id = s.kitchen_id and m.bowl = s.bowl
					join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id where l.ingredient_id is not null
					and l.amount > 0
				union all select s.order_id, s.share * -l.paid::float8 from bowl_shares s
				join lots l on l.kitchen_id = s.kitchen_id and l.bowl = s.bowl where l.origin = 'reclaimed') x
				group by 1)
		select o.id, to_char(o.from_at at time zone $1, 'YYYY-MM'), coalesce(nullif(o.occasion, ''), 'no occasion'),
		o.gross - o.tax, coalesce(o.cost_ingredients, 0), coalesce(o.cost_packaging, 0), o.cost - o.materials,
		coalesce(o.cost_overhead, 0), coalesce(o.cost_drive, 0), coalesce(o.cost_card, 0), o.materials
		- coalesce(o.cost_ingredients + o.cost_packaging + o.cost_overhead + o.cost_drive + o.cost_card, 0),
		o.minutes, u.materials, o.estimated from orders o left join used u on u.order_id = o.id
		where `+done+` order by o.from_at desc, o.number`,
		h.Zone.String())
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (w whole, err error) {
		var used *float64
		s := &w.spent
		if err = row.Scan(&w.id, &w.month, &w.occasion, &w.sales, &s.Ingredients, &s.Packaging, &s.Hands, &s.Overhead,
			&s.Drive, &s.Card, &s.Other, &w.minutes, &used, &w.estimated); used != nil {
			w.used = new(decimal.NewFromFloat(*used))
		}
		return w, err
	})
}

// apportion a number of a batch, where there is one, to the order that has mine of all its pieces.
func apportion[T ~int](n *T, before, mine, all int) {
	if n != nil {
		*n = till.Apportion(*n, before, mine, all)
	}
}

// bagged tells whether a family is counted in bags: there what is begun are sheets.
func bagged(name treat.Family) bool {
	law, ok := family.Of(name)
	return ok && law.Traits().Bagged
}

// tally is a Sum in the making.
type tally struct {
	till.Tally
	name      string
	treat     *uuid.UUID
	family    treat.Family
	estimated bool
}

// tallies by key, in the order in which they were first met.
type tallies struct {
	list []*tally
	at   map[string]*tally
}

func (t *tallies) of(key, name string) *tally {
	if t.at == nil {
		t.at = map[string]*tally{}
	}
	if t.at[key] == nil {
		t.at[key] = &tally{name: name}
		t.list = append(t.list, t.at[key])
	}
	return t.at[key]
}

// sums of the tallies, as they stand.
func (t *tallies) sums(currency string) []Sum {
	sums := make([]Sum, len(t.list))
	for i, x := range t.list {
		sums[i] = x.sum(currency)
	}
	return sums
}

// byMostSales sorts the tallies.
func (t *tallies) byMostSales() {
	slices.SortStableFunc(t.list, func(a, b *tally) int {
		return cmp.Or(b.Sales.Cmp(a.Sales), cmp.Compare(a.name, b.name))
	})
}

// line of an order that counts. Of a batch that is made for several orders it has the share of its pieces.
type line struct {
	till.Line
	order       uuid.UUID
	treat       uuid.UUID
	name        string // that the treat has now
	family      treat.Family
	price, cost *decimal.Decimal // its shares, of lines that were promised since they are split
}

// sum writes the tally down.
func (t *tally) sum(currency string) Sum {
	money := func(d decimal.Decimal) price.Money { return price.In(currency, d) }
	maybe := func(d *decimal.Decimal) *price.Money {
		if d == nil {
			return nil
		}
		return new(money(*d))
	}
	each, costEach := t.Each()
	return Sum{Name: t.name, Treat: t.treat, Family: t.family, Estimated: t.estimated,
		Each: maybe(each), CostEach: maybe(costEach), Orders: t.Orders, Pieces: t.Pieces, Minutes: t.Minutes,
		Asked: money(t.Sales), Cost: money(t.Spent.Total()), Left: money(t.Profit()),
		Spent: Spent{money(t.Spent.Ingredients), money(t.Spent.Packaging), money(t.Spent.Hands),
			money(t.Spent.Overhead), money(t.Spent.Drive), money(t.Spent.Card), money(t.Spent.Other)},
		PerHour: maybe(t.PayPerHour()), Loss: t.Loss(),
		Real: Real{Batches: t.Made.Batches, Loss: t.Made.Loss(), Minutes: t.Made.Minutes, Expected: t.Made.Expected,
			Materials: maybe(t.Used)}}
}

// addTo a tally the line's share of its order.
func (l *line) addTo(t *tally, w whole, lines int, h Context) {
	sales, cost := till.Split(w.sales, w.spent.Total(), lines, l.price, l.cost)
	pay := till.Pay(h.Hourly, l.HandsOn)
	t.treat, t.family, t.estimated = &l.treat, l.family, t.estimated || w.estimated
	t.Add(sales, price.Spent{Cost: price.Cost{Hands: pay}, Other: cost.Sub(pay)}, l.HandsOn, nil)
	t.AddLine(l.Line)
}

// addLines sums the orders by month and by occasion, and their lines by treat. Months and occasions take price, cost
// and minutes of whole orders, treats take their lines' shares of them.
func addLines(ctx context.Context, tx pgx.Tx, all []whole, r *Report, h Context) error {
	var months, occasions, byTreat tallies
	orders := make(map[uuid.UUID]whole, len(all))
	for _, w := range all {
		orders[w.id] = w
		for _, t := range []*tally{months.of(w.month, w.month), occasions.of(w.occasion, w.occasion)} {
			t.Add(w.sales, w.spent, w.minutes, w.used)
			t.estimated = t.estimated || w.estimated
		}
	}
	list, number, err := lines(ctx, tx)
	if err != nil {
		return err
	}
	for _, l := range list {
		w := orders[l.order]
		l.addTo(byTreat.of(l.treat.String(), l.name), w, number[l.order], h)
		months.of(w.month, w.month).AddLine(l.Line)
		occasions.of(w.occasion, w.occasion).AddLine(l.Line)
	}
	occasions.byMostSales()
	byTreat.byMostSales()
	r.Months, r.Occasions, r.Treats = months.sums(h.Currency), occasions.sums(h.Currency), byTreat.sums(h.Currency)
	return nil
}

// Sales of a treat.
type Sales struct {
	Months []Sum `json:"months" doc:"Latest first; months without sales are left out"`
}

func (t *Till) treatSales(ctx context.Context, in *web.ID) (*struct{ Body Sales }, error) {
	var s Sales
	err := t.In(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, `select exists (select from treats where id = $1)`, in.ID).Scan(&there); err != nil {
			return err
		}
		if !there {
			return web.NotFound("treat")
		}
		house, err := t.Context(ctx, tx)
		if err != nil {
			return err
		}
		all, err := orders(ctx, tx, house)
		if err != nil {
			return err
		}
		list, number, err := lines(ctx, tx)
		if err != nil {
			return err
		}
		ofOrder := map[uuid.UUID][]line{}
		for _, l := range list {
			if l.treat == in.ID {
				ofOrder[l.order] = append(ofOrder[l.order], l)
			}
		}
		var months tallies
		for _, w := range all { // latest first
			for _, l := range ofOrder[w.id] {
				l.addTo(months.of(w.month, w.month), w, number[l.order], house)
			}
		}
		s.Months = months.sums(house.Currency)
		return nil
	})
	return &struct{ Body Sales }{s}, err
}

// lines of the orders that count, and how many each order has.
func lines(ctx context.Context, tx pgx.Tx) (list []line, number map[uuid.UUID]int, err error) {
	rows, err := tx.Query(ctx, `select h.order_id, l.treat_id, t.name, b.family, h.count,
			coalesce((select sum(x.count) from batch_shares x where x.kitchen_id = h.kitchen_id
			and x.batch_id = h.batch_id and (x.since, x.order_id) < (h.since, h.order_id)), 0)::int, b.count, b.hands,
			b.started, h.price * (o.gross - o.tax) / nullif(o.agreed, 0), h.cost,
			coalesce((v.formula ->> 'loss')::float8, 0), b.good, b.minutes
		from orders o join batch_shares h on h.kitchen_id = o.kitchen_id and h.order_id = o.id
		join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
		join order_lines l on l.kitchen_id = h.kitchen_id and l.order_id = h.order_id and l.position = h.position
		join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
		join treat_versions v on v.kitchen_id = l.kitchen_id and v.treat_id = l.treat_id
		and v.version = l.treat_version where `+done)
	if err != nil {
		return nil, nil, err
	}
	list, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (l line, err error) {
		var before, all int // pieces of the batch for the orders before it, and for all
		if err := row.Scan(&l.order, &l.treat, &l.name, (*string)(&l.family), &l.Pieces, &before, &all, &l.HandsOn,
			&l.Begun, &l.price, &l.cost, &l.Loss, &l.Good, &l.Recorded); err != nil {
			return l, err
		}
		apportion(&l.Begun, before, l.Pieces, all)
		apportion(l.Good, before, l.Pieces, all)
		apportion(&l.HandsOn, before, l.Pieces, all)
		apportion(l.Recorded, before, l.Pieces, all)
		l.First, l.Bagged = before == 0, bagged(l.family)
		return l, nil
	})
	number = map[uuid.UUID]int{}
	for _, l := range list {
		number[l.order]++
	}
	return list, number, err
}
