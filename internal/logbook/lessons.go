package logbook

import (
	"context"
	"net/http"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/learn"
	"zestytin/core/lesson"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Lesson of a treat's batches.
type Lesson struct {
	What     lesson.What   `json:"what" enum:"loss,pace,coat,pool,fit"`
	Step     ident.Step    `json:"step" doc:"At which; of chocolate and fruit the ingredient"`
	Name     string        `json:"name" doc:"Of it"`
	Text     reason.Reason `json:"text" doc:"What was seen, and what follows"`
	Ask      reason.Reason `json:"ask" doc:"What could be taken"`
	Was      float64       `json:"was"`
	Mean     float64       `json:"mean"`
	From     float64       `json:"from" doc:"In nine of ten cases not less"`
	To       float64       `json:"to" doc:"And not more"`
	Batches  int           `json:"batches"`
	Suggests bool          `json:"suggests" doc:"Enough was seen, and it does not agree with the treat"`
}

// Lessons of a treat.
type Lessons struct {
	Lessons []Lesson `json:"lessons" doc:"Those that are suggested first"`
}

// history is how many batches of a treat are looked back at: older ones count for nothing by then.
const history = 200

// learned of a treat, with its formula and version as they are now.
func (l *Logbook) learned(ctx context.Context, tx pgx.Tx, id uuid.UUID) (list []lesson.Lesson, f *treat.Formula,
	version int, err error) {
	f, version, usable, err := l.Formula(ctx, tx, id)
	if err != nil || f == nil {
		return nil, f, version, err
	}
	batches, err := l.read(ctx, tx, &Which{Treat: id.String()}, history)
	if err != nil {
		return nil, nil, 0, err
	}
	seen := make([]lesson.Batch, 0, len(batches))
	for i := range batches {
		if b := &batches[i]; b.Done && b.formula != nil {
			one, err := b.seen(ctx, tx)
			if err != nil {
				return nil, nil, 0, err
			}
			seen = append(seen, one)
		}
	}
	return lesson.Of(f, usable, seen), f, version, nil
}

// seen of a batch, as lessons are drawn from it.
func (b *Batch) seen(ctx context.Context, tx pgx.Tx) (lesson.Batch, error) {
	x := lesson.Batch{Formula: b.usable(), Begun: map[ident.Step]int{}, Started: b.Started, Counted: b.Counted,
		Told: b.Told, Good: b.Good,
		Lost: map[ident.Step]int{}, Minutes: map[ident.Step]float64{}, Planned: map[ident.Step]float64{},
		Coats: map[ident.Ingredient]float64{}, Left: map[ident.Ingredient]float64{}}
	for _, s := range b.card.Stages {
		x.Begun[s.Step] = s.Begin
	}
	for _, s := range b.Steps {
		x.Lost[s.Step], x.Minutes[s.Step], x.Planned[s.Step] = s.Lost, s.Took, s.Planned
	}
	if b.unfit != nil {
		x.Unfit = &learn.Tally{Good: b.Started, Lost: *b.unfit}
	}
	for _, p := range b.card.Pots {
		n := slices.IndexFunc(b.Bowls, func(o Bowl) bool { return strings.EqualFold(o.Name, p.Name) && o.Remains != nil })
		if n < 0 {
			continue
		}
		// What others worked from the same bowl cannot be told from what this batch took.
		var alone bool
		if err := tx.QueryRow(ctx, `select not exists (select from batch_steps s where s.day = $1::text::date
				and s.batch_id <> $2 and s.draw #>> '{pot,ingredient}' = $3)`, b.Bowls[n].day, b.ID, p.Ingredient).
			Scan(&alone); err != nil {
			return x, err
		}
		x.Left[p.Ingredient] = *b.Bowls[n].Remains
		if taken := b.Bowls[n].mass - *b.Bowls[n].Remains; alone && taken > 0 && p.Used.Amount > 0 {
			x.Coats[p.Ingredient] = taken / p.Used.Amount
		}
	}
	return x, nil
}

func (l *Logbook) lessons(ctx context.Context, in *web.ID) (*struct{ Body Lessons }, error) {
	out := Lessons{Lessons: []Lesson{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		list, f, _, err := l.learned(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		names, err := l.Names(ctx, tx)
		for i := range list {
			out.Lessons = append(out.Lessons, told(&list[i], f, names))
		}
		slices.SortStableFunc(out.Lessons, func(x, y Lesson) int {
			switch {
			case x.Suggests == y.Suggests:
				return 0
			case x.Suggests:
				return -1
			}
			return 1
		})
		return err
	})
	return &struct{ Body Lessons }{out}, err
}

// told is how a lesson is said.
func told(x *lesson.Lesson, f *treat.Formula, names map[ident.Ingredient]string) Lesson {
	out := Lesson{What: x.What, Step: x.Step, Name: names[ident.Ingredient(x.Step)], Was: x.Was, Mean: x.Mean,
		From: x.From, To: x.To, Batches: x.Batches, Suggests: x.Suggests()}
	if s := f.StepOf(x.Step); s != nil && (x.What == lesson.Loss || x.What == lesson.Pace) {
		out.Name = s.Name
	}
	name, n := reason.Name(out.Name), reason.Count{N: x.Batches, Of: "batch"}
	bowls := reason.Count{N: x.Batches, Of: "bowl"}
	share := func(v float64) reason.Share { return reason.Share(v) }
	grams := func(v float64) measure.Shown { return measure.Show(measure.Of(v, measure.Gram), measure.Substance{}) }
	switch x.What {
	case lesson.Loss:
		out.Text = reason.Of("lesson.loss", name, reason.Int(x.Lost), reason.Int(x.Good+x.Lost), n, share(x.Was),
			share(x.Mean), share(x.From), share(x.To))
		out.Ask = reason.Of("lesson.take-share", share(x.Value()))
	case lesson.Fit:
		out.Text = reason.Of("lesson.fit", name, reason.Int(x.Good), reason.Int(x.Good+x.Lost), n, share(x.Was),
			share(x.Mean), share(x.From), share(x.To))
		out.Ask = reason.Of("lesson.take-share", share(x.Value()))
	case lesson.Pool:
		out.Text = reason.Of("lesson.pool", name, bowls, grams(x.Was), grams(x.Mean), grams(x.From), grams(x.To))
		out.Ask = reason.Of("lesson.take-amount", grams(x.Value()))
	case lesson.Coat:
		out.Text = reason.Of("lesson.coat", name, bowls, share(x.Mean), share(x.From), share(x.To))
		out.Ask = reason.Of("lesson.take-times", share(x.Value()))
	case lesson.Pace:
		out.Text = reason.Of("lesson.pace", name, n, share(x.Mean), share(x.From), share(x.To))
		out.Ask = reason.Of("lesson.take-times", share(x.Value()))
		if x.Line != nil {
			out.Ask = reason.Of("lesson.take-line", reason.Number(x.Line.SetUp), reason.Number(x.Line.Piece))
		}
	}
	return out
}

// Taking of a lesson.
type Taking struct {
	What lesson.What `json:"what" enum:"loss,pace,coat,pool,fit"`
	Step ident.Step  `json:"step" maxLength:"60"`
}

// Took is what was taken.
type Took struct {
	Version int `json:"version" doc:"Of the treat, that says it now"`
}

func (l *Logbook) take(ctx context.Context, in *struct {
	web.ID
	Body Taking
}) (*struct{ Body Took }, error) {
	var out Took
	err := l.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		list, f, version, err := l.learned(ctx, tx, in.ID.ID)
		if err != nil {
			return err
		}
		n := slices.IndexFunc(list, func(x lesson.Lesson) bool { return x.What == in.Body.What && x.Step == in.Body.Step })
		if n < 0 {
			return web.Reject(http.StatusConflict, "lesson.nothing-to-take")
		}
		x := &list[n]
		if x.What == lesson.Fit {
			err = l.Fit(ctx, tx, ident.Ingredient(x.Step), x.Value())
		} else {
			x.Take(f)
			err = l.Write(ctx, tx, in.ID.ID, f)
			version++
		}
		if err != nil {
			return err
		}
		out.Version = version
		_, err = tx.Exec(ctx, `insert into lessons (kitchen_id, id, treat_id, what, step, was, mean, low, high, batches,
				counts, version, at, by_id) values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
			db.NewID(), in.ID.ID, x.What, x.Step, x.Was, x.Mean, x.From, x.To, x.Batches, x.Counts, version, l.Clock(),
			web.ActorOf(ctx).ID())
		return err
	})
	return &struct{ Body Took }{out}, err
}
