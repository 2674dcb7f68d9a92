package larder

import (
	"cmp"
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func itoa(n int) string { return strconv.Itoa(n) }

// amount in the unit that the thing is kept in.
func (t stockItem) amount(q measure.Quantity) (float64, error) {
	x, err := q.In(t.Unit, t.Substance)
	switch {
	case err != nil:
		return 0, err
	case !(x >= 0 && x < 1e8):
		return 0, fmt.Errorf("%v %s of %s is not an amount that fits into a larder: check the number.", q.Amount,
			q.Unit, t.Name)
	}
	return x, nil
}

// Receipt is what was bought at one shop on one day.
type Receipt struct {
	Shop  string        `json:"shop" maxLength:"100"`
	Day   string        `json:"day" format:"date"`
	Lines []ReceiptLine `json:"lines" minItems:"1" maxItems:"200"`
}

// ReceiptLine is so many packs of one thing.
type ReceiptLine struct {
	Item       uuid.UUID        `json:"item" doc:"Ingredient or packaging"`
	Packs      int              `json:"packs" minimum:"1" maximum:"10000"`
	Size       measure.Quantity `json:"size" doc:"Of one pack"`
	Paid       string           `json:"paid" doc:"For all packs, decimal"`
	BestBefore string           `json:"bestBefore,omitempty" doc:"A day"`
	Written    string           `json:"written,omitempty" maxLength:"200" doc:"Its name as it stands on the slip, to be remembered"`
}

// Booked is what came of a receipt.
type Booked struct {
	Lots  []uuid.UUID `json:"lots" doc:"In the order of the lines"`
	Notes []string    `json:"notes" doc:"What should be known"`
}

func (l *Larder) receipt(ctx context.Context, in *struct {
	web.OnceKey
	Body Receipt
}) (*struct{ Body Booked }, error) {
	var booked Booked
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		booked, err = web.Once(ctx, tx, in.OnceKey, "write-receipt", in.Body,
			func() (Booked, error) { return l.Receive(ctx, tx, in.Body, "bought") })
		return err
	})
	return &struct{ Body Booked }{booked}, err
}

// Receive books a receipt, all of it or nothing. The errors are faults with their paths.
func (l *Larder) Receive(ctx context.Context, tx pgx.Tx, r Receipt, origin string) (Booked, error) {
	booked := Booked{Lots: []uuid.UUID{}, Notes: []string{}}
	house, err := l.Context(ctx, tx)
	if err != nil {
		return booked, err
	}
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return booked, err
	}
	var faults invalid.Faults
	if _, err := time.Parse(time.DateOnly, r.Day); err != nil {
		faults.Add("day", reason.Of("larder.this-must-be-date-such"))
	} else if r.Day > b.day {
		faults.Add("day", reason.Of("larder.day-lies-ahead-what-bought"))
	}
	ids := make([]uuid.UUID, len(r.Lines))
	for i, line := range r.Lines {
		ids[i] = line.Item
	}
	things, err := b.lock(ids...)
	if err != nil {
		return booked, err
	}
	for i, line := range r.Lines {
		path := "lines[" + itoa(i) + "]"
		t, ok := things[line.Item]
		if !ok {
			faults.Add(path+".item", reason.Of("larder.this-not-in-your-larder"))
			continue
		}
		size, err := t.amount(line.Size)
		switch {
		case err != nil:
			faults.Add(path+".size", err)
		case size <= 0:
			faults.Add(path+".size", reason.Of("larder.pack-holds-more-than-nothing"))
		}
		paid, err := price.Read(line.Paid, house.Currency)
		if err != nil {
			faults.Add(path+".paid", err)
		}
		if _, err := time.Parse(time.DateOnly, line.BestBefore); err != nil && line.BestBefore != "" {
			faults.Add(path+".bestBefore", reason.Of("larder.this-must-be-date-such-2"))
		}
		if faults.Err() != nil {
			continue
		}
		id, note, err := b.receive(t, line.Packs, size, paid, r.Shop, r.Day, line.BestBefore, origin)
		if err != nil {
			return booked, err
		}
		booked.Lots = append(booked.Lots, id)
		if note != "" {
			booked.Notes = append(booked.Notes, note)
		}
		if words := food.Words(line.Written); words != "" && words != food.Words(t.Name) && !t.Packaging {
			if err := Remember(ctx, tx, web.ActorOf(ctx).Kitchen, words, t.ID); err != nil {
				return booked, err
			}
		}
	}
	return booked, faults.Err()
}

// receive one lot: it goes on the shelf, its price is the latest, its pack is what the shop sells.
func (b *book) receive(t stockItem, packs int, size float64, paid decimal.Decimal, shop, day, bestBefore,
	origin string) (id uuid.UUID, note string, err error) {
	amount := size * float64(packs)
	id, err = b.put(t, lot{origin: origin, amount: amount, paid: paid, shop: shop, day: day, bestBefore: bestBefore},
		cause{reason: shop})
	if err != nil {
		return id, "", err
	}
	if err := b.latest(t, paid.Div(decimal.NewFromInt(int64(packs))), size, day); err != nil {
		return id, "", err
	}
	if err := b.offer(t, shop, size, paid.DivRound(decimal.NewFromInt(int64(packs)), 4), day); err != nil {
		return id, "", err
	}
	before, err := b.settle(t, day, id)
	if before > 0 {
		note = text.Of(b.ctx).Say(reason.Of("larder.used-before-it-was-entered", t.show(before), reason.Name(t.Name)))
	}
	return id, note, err
}

// latest price of a thing, unless a later one is known.
func (b *book) latest(t stockItem, paid decimal.Decimal, size float64, day string) error {
	table := "ingredients"
	if t.Packaging {
		table = "supplies"
	}
	_, err := b.tx.Exec(b.ctx, `update `+table+
		` set paid = $2::text::numeric, paid_for = $3, paid_on = $4::text::date, estimated = false,
			revision = revision + 1 where id = $1 and (paid_on is null or paid_on <= $4::text::date)`,
		t.ID, paid.Round(4).String(), size, day)
	return err
}

// settle what was used without being on record since a day from lots that were entered only now, and say how much that
// was.
func (b *book) settle(t stockItem, day string, fresh ...uuid.UUID) (float64, error) {
	rows, err := b.tx.Query(b.ctx, `select id, unaccounted from lots where item_id = $1 and unaccounted > 0
			and bought_on >= $2::text::date order by bought_on, id`, t.ID, day)
	if err != nil {
		return 0, err
	}
	type debt struct {
		ID     uuid.UUID
		Amount float64
	}
	debts, err := pgx.CollectRows(rows, pgx.RowToStructByPos[debt])
	if err != nil || len(debts) == 0 {
		return 0, err
	}
	settled := 0.0
	for _, id := range fresh {
		var left float64
		if err := b.tx.QueryRow(b.ctx, `select remaining from lots where id = $1`, id).Scan(&left); err != nil {
			return 0, err
		}
		for i := range debts {
			part := min(left, debts[i].Amount)
			if part <= 1e-9 {
				continue
			}
			if _, err := b.tx.Exec(b.ctx, `update lots set unaccounted = greatest(unaccounted - $2, 0) where id = $1`,
				debts[i].ID, part); err != nil {
				return 0, err
			}
			if err := b.change(cause{kind: "corrected", reason: "used before it was entered"},
				map[uuid.UUID]float64{id: -part}); err != nil {
				return 0, err
			}
			left, debts[i].Amount, settled = left-part, debts[i].Amount-part, settled+part
		}
	}
	return settled, nil
}

// SlipLine is a line of a till slip, read, with what it may mean.
type SlipLine struct {
	larder.Receipt
	Item        *uuid.UUID        `json:"item,omitempty" doc:"What it means, where that is sure"`
	Suggestions []food.Suggestion `json:"suggestions"`
	Guessed     bool              `json:"guessed,omitempty" doc:"The size is that of the pack that was bought last, since the line does not say"`
}

// SlipLines are the lines that were read.
type SlipLines struct {
	Lines []SlipLine `json:"lines"`
}

// SlipText is a till slip as it is typed.
type SlipText struct {
	Text string `json:"text" maxLength:"20000"`
}

func (l *Larder) readSlip(ctx context.Context, in *struct{ Body SlipText }) (*struct{ Body SlipLines }, error) {
	out := SlipLines{Lines: []SlipLine{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		house, err := l.Context(ctx, tx)
		if err != nil {
			return err
		}
		names, err := l.names(ctx, tx)
		if err != nil {
			return err
		}
		for _, text := range strings.Split(in.Body.Text, "\n") {
			if text = strings.TrimSpace(text); text == "" {
				continue
			}
			line := SlipLine{Receipt: larder.ReadSlip(text, house.Currency), Suggestions: []food.Suggestion{}}
			line.Suggestions = names.suggest(line.Name)
			if item := names.sure(line.Suggestions); item != nil {
				line.Item = &item.ID
				if line.Size == nil && line.Doubt == nil {
					size := measure.Of(item.paidFor, item.Unit)
					line.Size, line.Guessed = &size, true
				}
			}
			out.Lines = append(out.Lines, line)
		}
		return nil
	})
	return &struct{ Body SlipLines }{out}, err
}

// named is a thing that a written name may mean.
type named struct {
	stockItem
	paidFor float64
}

// known names of ingredients and packaging.
type knownNames struct {
	names   map[string]string
	learned map[string]string
	byID    map[string]named
	exact   map[string]string // by food.Words
}

func (l *Larder) names(ctx context.Context, tx pgx.Tx) (*knownNames, error) {
	k := &knownNames{names: map[string]string{}, byID: map[string]named{}, exact: map[string]string{}}
	rows, err := tx.Query(ctx, `select id, false, name, unit, density, grams_each, paid_for, measures from ingredients
			union all select id, true, name, unit, null, null, paid_for, '[]' from supplies`)
	if err != nil {
		return nil, err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var n named
		f := food.Fields{}
		if err := row.Scan(&n.ID, &n.Packaging, &n.Name, (*string)(&n.Unit), &f.Density, &f.GramsEach, &n.paidFor,
			&f.Measures); err != nil {
			return struct{}{}, err
		}
		n.Substance = f.Weights()
		id := n.ID.String()
		k.names[id], k.byID[id], k.exact[food.Words(n.Name)] = n.Name, n, id
		return struct{}{}, nil
	})
	if err != nil {
		return nil, err
	}
	k.learned, err = Names(ctx, tx)
	for words, id := range k.learned {
		k.exact[words] = cmp.Or(k.exact[words], id)
	}
	return k, err
}

func (k *knownNames) suggest(name string) []food.Suggestion {
	return food.Suggest(name, k.names, k.learned)
}

// sure is the thing that the suggestions leave no doubt about, or nil.
func (k *knownNames) sure(list []food.Suggestion) *named {
	if len(list) == 0 || !list[0].Sure {
		return nil
	}
	n := k.byID[list[0].ID]
	return &n
}
