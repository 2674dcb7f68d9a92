package larder

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/si"
)

// Mishap is what something that went wrong takes out of the larder and brings back. It stands there under its id.
type Mishap struct {
	ID    uuid.UUID
	Takes map[uuid.UUID]si.Grams // by ingredient
	Back  *ledger.Rest           // chocolate that comes back; nil where none does
	Made  *MadeMix               // of what is taken; nil where nothing is
}

// Book what went wrong.
func (l *Larder) Book(ctx context.Context, tx pgx.Tx, m Mishap) error {
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	ids := make([]uuid.UUID, 0, len(m.Takes))
	for id := range m.Takes {
		ids = append(ids, id)
	}
	things, err := b.lock(ids...)
	if err != nil {
		return err
	}
	uses := make(map[uuid.UUID]float64, len(things))
	for id, t := range things {
		if uses[id], err = measure.Grams(m.Takes[id]).In(t.Unit, t.Substance); err != nil {
			return err
		}
	}
	if m.Made != nil {
		m.Made.Uses = uses
		return l.PutMade(ctx, tx, m.ID, *m.Made)
	}
	if _, err := b.useAll(uses, cause{batch: &m.ID, kind: "used", reason: "went wrong"}); err != nil {
		return err
	}
	if m.Back == nil {
		return nil
	}
	return b.comesBack(m)
}

// comesBack is chocolate that was on pieces: at what it was last paid, good as long as the oldest of its kind.
func (b *book) comesBack(m Mishap) error {
	t, err := b.one(uuid.MustParse(string(m.Back.Pot.Ingredient)))
	if err != nil {
		return err
	}
	lots, err := b.lots(t.ID)
	if err != nil {
		return err
	}
	until := ""
	for i := range lots {
		if u := lots[i].Until(); u != "" && lots[i].GoodOn(b.day) && (until == "" || u < until) {
			until = u
		}
	}
	amount, err := measure.Grams(m.Back.Grams).In(t.Unit, t.Substance)
	if err != nil {
		return err
	}
	_, err = b.put(t, lot{origin: "reclaimed", amount: amount, paid: t.Each.Mul(decimal.NewFromFloat(amount)),
		day: b.day, bestBefore: until, rest: m.Back}, cause{batch: &m.ID, reason: "went wrong"})
	return err
}

// Unbook takes back what was booked for a mishap. What came of it must still be there.
func (l *Larder) Unbook(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	if err := l.TakeBackMade(ctx, tx, id); err != nil {
		return err
	}
	b, err := newBook(ctx, l.Base, tx)
	if err != nil {
		return err
	}
	return b.reverse(`batch_id = $1 and order_id is null and not exists (select from lots m where m.batch_id = $1
			and m.origin = 'made')`, cause{batch: &id, kind: "returned", reason: "taken back"}, id)
}
