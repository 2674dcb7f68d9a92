package larder

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// ShownLot as it is shown.
type ShownLot struct {
	ID         uuid.UUID     `json:"id"`
	Revision   int           `json:"revision"`
	Origin     string        `json:"origin" enum:"bought,shopping,counted,reclaimed,unrecorded,made"`
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

// ItemInFull is an item with all that is known of it.
type ItemInFull struct {
	Item
	LotList []ShownLot `json:"lotList" doc:"With something left, as they will be used"`
	Prices  []Paid     `json:"prices" doc:"What was paid, oldest first"`
	Moves   []Moved    `json:"moves" doc:"The latest first"`
	Offers  []Offer    `json:"offers"`
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
	rows, err := tx.Query(ctx, `select id, revision, origin, amount, remaining, paid::text, shop, bought_on::text,
			coalesce(best_before::text, ''), coalesce(opened_on::text, ''), coalesce(open_until::text, '')
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
	full.LotList, full.Prices = []ShownLot{}, []Paid{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var lot ShownLot
		var came, left float64
		var paid string
		if err := row.Scan(&lot.ID, &lot.Revision, &lot.Origin, &came, &left, &paid, &lot.Shop, &lot.Bought,
			&lot.BestBefore, &lot.Opened, &lot.OpenUntil); err != nil {
			return struct{}{}, err
		}
		p := decimal.RequireFromString(paid)
		lot.Came, lot.Left, lot.Paid, lot.Each = i.show(came), i.show(left), price.In(house.Currency, p), money(p, came)
		if lot.Origin == "bought" || lot.Origin == "shopping" {
			full.Prices = append(full.Prices, Paid{lot.Bought, lot.Shop, lot.Each})
		}
		core := larder.StockLot{BestBefore: lot.BestBefore, OpenUntil: lot.OpenUntil}
		if lot.Good = core.GoodOn(house.Today()); left > 0 {
			full.LotList = append(full.LotList, lot)
		}
		return struct{}{}, nil
	})
	if err != nil {
		return full, err
	}
	slices.SortStableFunc(full.LotList, func(a, b ShownLot) int { return cmp.Compare(last(a), last(b)) })
	if full.Offers, err = l.offers(ctx, tx, i, house.Currency); err != nil {
		return full, err
	}
	rows, err = tx.Query(ctx, `select x.at, x.kind, x.change, x.reason, coalesce(o.customer, ''), coalesce(p.name, '')
			from (
			select m.id, m.at, m.kind, m.change, m.reason, coalesce(m.order_id, (select s.order_id from bowl_shares s
			where s.bowl = m.bowl order by s.share desc limit 1)) as order_id, m.person_id from stock_moves m
			join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id where l.item_id = $1
			union all select id, at, 'in', amount,
			case origin when 'reclaimed' then 'reclaimed' when 'made' then 'made' when 'unrecorded' then 'not on record' else coalesce(nullif(shop, ''), note) end, coalesce(order_id, (select s.order_id from bowl_shares s where s.bowl = lots.bowl order by s.share desc limit 1)), person_id from lots where item_id = $1) x
		left join orders o on o.id = x.order_id left join people p on p.id = x.person_id order by x.at desc, x.id desc
		limit 40`, id)
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
func last(l ShownLot) string {
	core := larder.StockLot{BestBefore: l.BestBefore, OpenUntil: l.OpenUntil}
	return cmp.Or(core.Until(), "9999")
}

// Counted is what was counted on a shelf.
type Counted struct {
	Amount measure.Quantity `json:"amount"`
	Reason string           `json:"reason" maxLength:"200" doc:"Why it differs"`
}

// Count sets the stock of a thing to what was counted, in its unit.
func (l *Larder) Count(ctx context.Context, tx pgx.Tx, item uuid.UUID, amount float64, reason string) error {
	b, err := newBook(ctx, l.Base, tx)
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
		b, err := newBook(ctx, l.Base, tx)
		if err != nil {
			return err
		}
		t, err := b.one(in.ID.ID)
		if err != nil {
			return err
		}
		if t.Mix { // what is found is made as it is made now
			if b.mixtures, err = l.Mixtures(ctx, tx); err != nil {
				return err
			}
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
	for path, day := range map[string]string{"bestBefore": in.Body.BestBefore, "opened": in.Body.Opened,
		"openUntil": in.Body.OpenUntil} {
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
		err := tx.QueryRow(ctx, `select item_id, revision from lots where id = $1 and not voided for no key update`,
			in.ID.ID).Scan(&item, &revision)
		if err != nil {
			return notFound(err, "lot")
		}
		if err := in.Matches(revision, func() (any, error) { return l.inFull(ctx, tx, item) }); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update lots set best_before = nullif($2, '')::date, opened_on = nullif($3,
			'')::date, open_until = nullif($4, '')::date, revision = revision + 1 where id = $1`,
			in.ID.ID, in.Body.BestBefore, in.Body.Opened, in.Body.OpenUntil); err != nil {
			return err
		}
		full, err = l.inFull(ctx, tx, item)
		return err
	})
	return &struct{ Body ItemInFull }{full}, err
}

func (l *Larder) voidLot(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, l.In(ctx, func(tx pgx.Tx) error { return l.void(ctx, tx, in.ID) })
}

// void a lot: it never came. Of what was made, what went into it is back.
func (l *Larder) void(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	var item uuid.UUID
	if err := tx.QueryRow(ctx, `select item_id from lots where id = $1`, id).Scan(&item); err != nil {
		return notFound(err, "lot")
	}
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	if _, err := b.lockAny(item); err != nil {
		return err
	}
	var origin string
	var amount, remaining float64
	var voided bool
	if err := tx.QueryRow(ctx, `select origin, amount, remaining, voided from lots where id = $1`, id).Scan(&origin,
		&amount, &remaining, &voided); err != nil {
		return err
	}
	switch {
	case voided:
		return nil // it is done
	case origin != "bought" && origin != "shopping" && origin != "made":
		return web.Reject(http.StatusConflict, "larder.only-a-purchase")
	case remaining != amount:
		return web.Reject(http.StatusConflict, "larder.some-has-been-used")
	}
	if origin == "made" {
		if err := b.reverse(`batch_id = $1 and order_id is null`, cause{batch: &id, kind: "returned",
			reason: "taken back"}, id); err != nil {
			return err
		}
	}
	if _, err := tx.Exec(ctx, `update lots set voided = true where id = $1`, id); err != nil {
		return err
	}
	return b.change(cause{kind: "voided", reason: "taken back"}, map[uuid.UUID]float64{id: -remaining})
}
