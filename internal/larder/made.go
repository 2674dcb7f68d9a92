package larder

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// Mixture is what the larder must know of a mix: what a gram of it is made of and what making one takes, by ingredient
// in the unit that it is kept in, and how many hours it keeps; nil: it keeps.
type Mixture struct {
	Of, Takes map[ident.Ingredient]float64
	Keeps     *int
}

// MadeMix is a mix that was made ahead as it had been planned.
type MadeMix struct {
	Mix   uuid.UUID
	Grams float64
	Of    map[ident.Ingredient]float64 // what a gram of it is made of
	Uses  map[uuid.UUID]float64        // what it takes of the larder
}

// PutMade puts down what a batch made, and takes out what went into it.
func (l *Larder) PutMade(ctx context.Context, tx pgx.Tx, batch uuid.UUID, made MadeMix) error {
	mixtures, err := l.Mixtures(ctx, tx)
	if err != nil {
		return err
	}
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	t, err := b.one(made.Mix)
	if err != nil {
		return err
	}
	until := mixtures[ident.Item(made.Mix.String())].until(b.day)
	return b.putMade(t, lot{origin: "made", amount: made.Grams, day: b.day, bestBefore: until, of: made.Of}, made.Uses,
		cause{batch: &batch})
}

// TakeBackMade of a batch: what went into it is back. It is refused where some of it has been used.
func (l *Larder) TakeBackMade(ctx context.Context, tx pgx.Tx, batch uuid.UUID) error {
	rows, err := tx.Query(ctx, `select id from lots where batch_id = $1 and origin = 'made' and not voided`, batch)
	if err != nil {
		return err
	}
	lots, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	for _, id := range lots {
		if err := l.void(ctx, tx, id); err != nil {
			return err
		}
	}
	return err
}

// until when it is good that is made on a day; empty: it keeps.
func (m Mixture) until(day string) string {
	if m.Keeps == nil {
		return ""
	}
	return larder.KeepsUntil(day, *m.Keeps)
}

func (l *Larder) registerMade() {
	web.Register(l.Base, huma.Operation{OperationID: "make-mix", Method: "POST", Path: "/api/v1/mixes/{id}/lots",
		Summary: "Note that some of a mix was made ahead: what went into it is used, and what came out is in the larder",
		Tags:    []string{"Larder"}, DefaultStatus: 201}, l.makeMix)
}

// MadeFields is what a person says of a mix that was made ahead.
type MadeFields struct {
	Amount measure.Quantity `json:"amount" doc:"What came out"`
	Until  string           `json:"until,omitempty" doc:"The last day on which it is good; not given: as the mix keeps"`
}

func (l *Larder) makeMix(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body MadeFields
}) (*struct{ Body ItemInFull }, error) {
	var full ItemInFull
	err := l.In(ctx, func(tx pgx.Tx) error {
		// It adds, so a repeat after a lost answer must not.
		_, err := web.Once(ctx, tx, in.OnceKey, "make-mix "+in.ID.ID.String(), in.Body, func() (struct{}, error) {
			return struct{}{}, l.putMix(ctx, tx, in.ID.ID, in.Body)
		})
		if err != nil {
			return err
		}
		full, err = l.inFull(ctx, tx, in.ID.ID)
		return err
	})
	return &struct{ Body ItemInFull }{full}, err
}

func (l *Larder) putMix(ctx context.Context, tx pgx.Tx, id uuid.UUID, in MadeFields) error {
	mixtures, err := l.Mixtures(ctx, tx)
	if err != nil {
		return err
	}
	of, known := mixtures[ident.Item(id.String())]
	if !known {
		return web.NotFound("mix")
	}
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	t, err := b.one(id)
	if err != nil {
		return err
	}
	var faults invalid.Faults
	grams, err := in.Amount.In(measure.Gram, t.Substance)
	switch {
	case err != nil:
		faults.Add("amount", err)
	case !(grams > 0 && grams <= 1e5):
		faults.Add("amount", reason.Of("larder.made-more-than-nothing"))
	}
	until := cmp.Or(in.Until, of.until(b.day))
	if _, err := time.Parse(time.DateOnly, until); err != nil && until != "" {
		faults.Add("until", reason.Of("larder.this-must-be-date-such-2"))
	} else if until != "" && until < b.day {
		faults.Add("until", reason.Of("larder.made-today-is-good-today"))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	uses := make(map[uuid.UUID]float64, len(of.Takes))
	for item, each := range of.Takes {
		if each > 0 {
			uses[uuid.MustParse(string(item))] = each * grams
		}
	}
	return b.putMade(t, lot{origin: "made", amount: grams, day: b.day, bestBefore: until, of: of.Of}, uses, cause{})
}

// putMade puts down a lot of a mix, and takes out what it was made of. That leaves under the id of the lot, so that it
// can be taken back with it.
func (b *book) putMade(t stockItem, made lot, uses map[uuid.UUID]float64, c cause) error {
	id, err := b.put(t, made, c)
	if err != nil {
		return err
	}
	paid, err := b.useAll(uses, cause{batch: &id, kind: "used", reason: "made ahead"})
	if err != nil {
		return err
	}
	_, err = b.tx.Exec(b.ctx, `update lots set paid = $2::text::numeric where id = $1`, id, paid.String())
	return err
}

// mixLots are the lots of a mix that are made of what it is made of now, first expired first: what was made otherwise is
// another thing, whose allergens and diets are not those of the mix.
func mixLots(ctx context.Context, tx pgx.Tx, of map[ident.Ingredient]float64, id uuid.UUID) ([]larder.StockLot, error) {
	all, err := allMixLots(ctx, tx, map[ident.Item]Mixture{ident.Item(id.String()): {Of: of}})
	return all[ident.Item(id.String())], err
}

func allMixLots(ctx context.Context, tx pgx.Tx, mixtures map[ident.Item]Mixture) (map[ident.Item][]larder.StockLot,
	error) {
	rows, err := tx.Query(ctx, `select id, item_id::text, remaining, each::text, bought_on::text,
			coalesce(best_before::text, ''), made_of from lots where mix_id is not null and remaining > 0`)
	if err != nil {
		return nil, err
	}
	by := map[ident.Item][]larder.StockLot{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var l larder.StockLot
		var id uuid.UUID
		var each string
		var of map[ident.Ingredient]float64
		if err := row.Scan(&id, &l.Item, &l.Left, &each, &l.Bought, &l.BestBefore, &of); err != nil {
			return struct{}{}, err
		}
		l.ID = ident.Lot(id.String())
		if m, known := mixtures[l.Item]; known && treat.SameMix(of, m.Of) {
			l.Price = decimal.RequireFromString(each)
			by[l.Item] = append(by[l.Item], l)
		}
		return struct{}{}, nil
	})
	for _, lots := range by {
		larder.SortFEFO(lots)
	}
	return by, err
}

// MadeAhead is the stock of mixes for the estimate: what is good today, made as it is now, and not set aside; and how
// long what there is of each is good, set aside or not.
func MadeAhead(ctx context.Context, tx pgx.Tx, mixtures map[ident.Item]Mixture, reserved []larder.Want,
	today string) (stock map[ident.Ingredient]larder.Stock, until map[ident.Ingredient]string, err error) {
	lots, err := allMixLots(ctx, tx, mixtures)
	if err != nil || len(lots) == 0 {
		return nil, nil, err
	}
	stock, until = map[ident.Ingredient]larder.Stock{}, map[ident.Ingredient]string{}
	for mix, own := range lots {
		wants := slices.DeleteFunc(slices.Clone(reserved), func(w larder.Want) bool { return w.Item != mix })
		stock[ident.Ingredient(mix)] = larder.Stock{Lots: larder.SetAside(own, wants, today)}
		for i := range own { // first expired first
			if own[i].GoodOn(today) {
				until[ident.Ingredient(mix)] = own[i].Until()
				break
			}
		}
	}
	return stock, until, nil
}

// Unmade adds to what is wanted what mixes are made of that were to be there and are not.
func Unmade(ctx context.Context, tx pgx.Tx, mixtures map[ident.Item]Mixture, wants []larder.Want) ([]larder.Want,
	error) {
	if !slices.ContainsFunc(wants, func(w larder.Want) bool { _, mixed := mixtures[w.Item]; return mixed }) {
		return wants, nil
	}
	lots, err := allMixLots(ctx, tx, mixtures)
	made := make(map[ident.Item]map[ident.Ingredient]float64, len(mixtures))
	for id, m := range mixtures {
		made[id] = m.Takes
	}
	return larder.Unmade(wants, lots, made), err
}
