package larder

import (
	"context"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
)

// stirredIn is what a lot that came out of a bowl has stirred in, as it stands in the table.
type stirredIn struct {
	Flavour ledger.Stir `json:"flavour,omitzero"`
	Thinner ledger.Stir `json:"thinner,omitzero"`
	Tint    string      `json:"tint,omitempty"`
	Colour  float64     `json:"colour,omitempty"`
}

// stirredOf a rest; nil where it is plain chocolate.
func stirredOf(r *ledger.Rest) *stirredIn {
	s := stirredIn{r.Pot.Flavour, r.Pot.Thinner, string(r.Pot.Tint), r.Colour}
	if s == (stirredIn{}) {
		return nil
	}
	return &s
}

// restOf a lot, as it stands in the table.
type restOf struct {
	stirred *stirredIn
	touched []string
	damp    bool
}

// rest that a lot is; nil where it came out of no bowl.
func (r restOf) rest(l *larder.StockLot, reclaimed bool) *ledger.Rest {
	if !reclaimed {
		return nil
	}
	rest := &ledger.Rest{Of: string(l.ID), Pot: ledger.Pot{Ingredient: ident.Ingredient(l.Item)},
		Grams: si.Grams(l.Left), Touched: r.touched, Damp: r.damp, Day: l.Bought}
	if s := r.stirred; s != nil {
		rest.Pot.Flavour, rest.Pot.Thinner, rest.Pot.Tint, rest.Colour = s.Flavour, s.Thinner, ident.Ingredient(s.Tint),
			s.Colour
	}
	return rest
}

// Rests of bowls that stand in the larder and are still good, oldest first.
func Rests(ctx context.Context, tx pgx.Tx, today string) ([]ledger.Rest, error) {
	rows, err := tx.Query(ctx, `select `+lotColumns+
		` from lots where remaining > 0 and origin = 'reclaimed' order by bought_on, id`)
	if err != nil {
		return nil, err
	}
	lots, err := pgx.CollectRows(rows, scanCoreLot)
	if err != nil {
		return nil, err
	}
	var rests []ledger.Rest
	for i := range lots {
		if l := &lots[i]; l.GoodOn(today) {
			rests = append(rests, l.Rest.Holds(string(l.ID), si.Grams(l.Left)))
		}
	}
	return rests, nil
}

// Empty books a bowl whose last step is done: what was melted for it leaves the larder, first what was left from before
// where it may go in, then what is fresh, first expired first; what is stirred in is used; and what is left is a lot
// that knows what it has in it and has touched, good as long as the oldest that went in, at what that was paid.
func Empty(ctx context.Context, h web.Base, tx pgx.Tx, bowl uuid.UUID, melt ledger.Melt) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	var ids []uuid.UUID
	for _, p := range melt.Parts {
		if id, err := uuid.Parse(string(p.Of)); err == nil {
			ids = append(ids, id)
		}
	}
	things, err := b.lock(ids...)
	if err != nil {
		return err
	}
	c := cause{bowl: &bowl, kind: "used", reason: "melted"}
	melts := []ledger.Melt{melt}
	melts[0].Day = b.day
	for n, part := range melt.Parts {
		id, err := uuid.Parse(string(part.Of))
		t, known := things[id]
		if err != nil || !known {
			continue
		}
		lots, err := b.lots(t.ID)
		if err != nil {
			return err
		}
		lots = slices.DeleteFunc(lots, func(l larder.StockLot) bool { return !l.GoodOn(b.day) })
		if n > 0 { // stirred in
			amount, err := measure.Grams(melts[0].FreshPart(n)).In(t.Unit, t.Substance)
			if err != nil {
				return err
			}
			if _, _, err := b.use(t, lots, amount, c); err != nil {
				return err
			}
			continue
		}
		if err := b.empty(t, lots, melts, part, c); err != nil {
			return err
		}
	}
	return nil
}

// empty books the chocolate of a bowl, the only one of melts, and notes in it what of it was left from before.
func (b *book) empty(t stockItem, lots []larder.StockLot, melts []ledger.Melt, part ledger.Part, c cause) error {
	var rests []ledger.Rest
	for i := range lots {
		if l := &lots[i]; l.Rest != nil {
			rests = append(rests, l.Rest.Holds(string(l.ID), si.Grams(l.Left)))
		}
	}
	ledger.Carry(melts, rests)
	cost, oldest := decimal.Zero, ""
	for _, from := range melts[0].From {
		l := &lots[slices.IndexFunc(lots, func(l larder.StockLot) bool { return string(l.ID) == from.Of })]
		if u := l.Until(); u != "" && (oldest == "" || u < oldest) {
			oldest = u
		}
		cost = cost.Add(l.Price.Mul(decimal.NewFromFloat(float64(from.Pure))))
		if err := b.change(c, map[uuid.UUID]float64{uuid.MustParse(string(l.ID)): -float64(from.Pure)}); err != nil {
			return err
		}
	}
	paid, until, err := b.use(t, larder.Plain(lots), float64(melts[0].FreshPart(0)), c)
	if err != nil {
		return err
	}
	if cost = cost.Add(paid); until != "" && (oldest == "" || until < oldest) {
		oldest = until
	}
	if part.Left <= 1e-6 {
		return nil
	}
	rest := melts[0].Rest()
	if rest.Damp { // for the same day only
		oldest = b.day
	}
	back := c
	back.kind, back.reason = "", "reclaimed"
	worth := cost.Mul(decimal.NewFromFloat(part.Left.Over(part.In)))
	_, err = b.put(t, lot{origin: "reclaimed", amount: float64(part.Left), paid: worth, day: b.day, bestBefore: oldest,
		rest: &rest}, back)
	return err
}

// Refill takes back what was booked for a bowl: it is worked from again. What came back from it must still be there.
func Refill(ctx context.Context, h web.Base, tx pgx.Tx, bowl uuid.UUID) error {
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	return b.reverse(`bowl = $1`, cause{bowl: &bowl, kind: "returned", reason: "taken back"}, bowl)
}
