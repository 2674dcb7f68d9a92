package faults

import (
	"context"
	"errors"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/fault"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// scene is where something is seen, with all that is on record about it.
type scene struct {
	fault.Scene
	in       *Where
	day      string
	record   map[fault.Fact]bool
	standing batch.Standing
	all      []fault.Way // in which the treat is made, not only what the step has to do with
	sold     string      // what is counted: pieces; empty: nothing is
	pot      ledger.Pot  // of the bowl that the step works from
	touched  []string
	name     string // of its chocolate
	known    map[ident.Ingredient]food.Ingredient
	output   order.Output
	broken   int // pieces at the step
	before   int // units that were lost at this stage
}

// stored is a batch as a fault needs it.
type stored struct {
	sheet   order.LineCard
	sold    string
	started int
	good    *int
	shares  order.Shares
	steps   []stepRow
}

type stepRow struct {
	Step   ident.Step   `json:"step"`
	Draw   *ledger.Draw `json:"draw"`
	Day    string       `json:"day"`
	Done   *time.Time   `json:"done"`
	Wait   int          `json:"wait"`
	Broken int          `json:"broken"`
}

func load(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*stored, error) {
	var s stored
	err := tx.QueryRow(ctx, `select b.sheet, b.sold, b.started, b.good, batch_for(b.kitchen_id, b.id),
			(select jsonb_agg(jsonb_build_object('step', t.step, 'draw', t.draw, 'day', t.day, 'done', t.done_at,
			'wait', t.wait, 'broken', t.broken) order by t.position) from batch_steps t
			where t.kitchen_id = b.kitchen_id and t.batch_id = b.id)
		from batches b where b.id = $1`, id).Scan(&s.sheet, &s.sold, &s.started, &s.good, &s.shares, &s.steps)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("batch")
	}
	return &s, err
}

func (f *Faults) scene(ctx context.Context, tx pgx.Tx, in *Where) (*scene, error) {
	s := &scene{in: in, record: map[fault.Fact]bool{}, all: in.Ways, touched: []string{}}
	s.Ways, s.Kind, s.Colour, s.Method = in.Ways, in.Kind, in.Colour, in.Method
	if s.Kind == "" {
		s.Kind, s.Colour = chocolate.Real, chocolate.Dark
	}
	if s.Method == "" {
		s.Method = chocolate.MethodFor(s.Kind)
	}
	zone, room, err := f.House(ctx, tx)
	if err != nil {
		return nil, err
	}
	if s.known, err = f.Ingredients(ctx, tx); err != nil {
		return nil, err
	}
	now := f.Clock()
	s.Room, s.day = room, now.In(zone).Format(time.DateOnly)
	if in.Batch != nil {
		if err := f.atStep(ctx, tx, s, now); err != nil {
			return nil, err
		}
	}
	if in.Batch != nil || in.Pot != nil {
		if err := f.atBowl(ctx, tx, s); err != nil {
			return nil, err
		}
	}
	s.Bands = food.Chocolate{Kind: s.Kind, Colour: s.Colour}.Temperatures()
	if in.Bowl != nil {
		s.Bowl = si.Grams(*in.Bowl)
	}
	s.Units = in.Units
	if s.sold != "" { // no more than there are can be seen
		s.Units = min(in.Units, s.standing.Begun)
	}
	s.Facts = maps.Clone(s.record)
	for _, x := range in.Said {
		s.Facts[x.Fact] = x.Is
	}
	return s, nil
}

// atStep of a batch: what the card and the ticks know.
func (f *Faults) atStep(ctx context.Context, tx pgx.Tx, s *scene, now time.Time) error {
	b, err := load(ctx, tx, *s.in.Batch)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(b.steps, func(x stepRow) bool { return x.Step == ident.Step(s.in.Step) })
	draws := make(map[ident.Step]*ledger.Draw, len(b.steps))
	for _, x := range b.steps {
		draws[x.Step] = x.Draw
	}
	card := b.sheet.Card
	standing, known := card.Stands(ident.Step(s.in.Step), draws)
	if at < 0 || !known {
		return web.NotFound("step")
	}
	s.broken = b.steps[at].Broken
	s.standing, s.day, s.all = standing, b.steps[at].Day, card.Ways
	s.Ways, s.Each, s.Full, s.Mix = s.all, standing.Each, standing.Full, standing.Mix
	if b.sold == "piece" || b.sold == "pieces" {
		s.sold = b.sold
	}
	s.output = order.Output{Started: b.started, Counted: s.sold != "", Good: b.good, Shares: b.shares}
	for _, x := range b.steps {
		s.output.Broken += x.Broken
	}
	// What it works from, or what is on it already; before there is any, what is melted next.
	around := slices.Concat(b.steps[at:at+1], reversed(b.steps[:at]), b.steps[at+1:])
	if n := slices.IndexFunc(around, func(x stepRow) bool { return x.Draw != nil }); n >= 0 {
		d := around[n].Draw
		s.pot, s.touched, s.Damp = d.Pot, append(s.touched, d.Touches...), d.Damp
	}
	s.Method, s.Source = s.pot.Method, s.pot.Source
	if s.Method == "" {
		s.Method = chocolate.NoTemper
	}
	for i := range card.Pots {
		p := &card.Pots[i]
		if p.Ingredient != s.pot.Ingredient {
			continue
		}
		s.name, s.Kind, s.Colour, s.Bowl = p.Name, p.Chocolate.Kind, p.Chocolate.Colour, si.Grams(p.Melted.Amount)
		s.record[fault.Watery] = slices.ContainsFunc(p.Stirred, func(x batch.Stirred) bool { return x.Watery })
		if p.Rewarm != nil {
			s.record[fault.Frozen] = p.Rewarm.Cooled
		}
	}
	if err := tx.QueryRow(ctx, `select coalesce(sum(units), 0)::int from faults where batch_id = $1 and undone_at is null
			and grade in ('eat', 'reclaim', 'bin')`, s.in.Batch).Scan(&s.before); err != nil {
		return err
	}
	return f.ticked(ctx, tx, s, b, at, now)
}

func reversed(steps []stepRow) []stepRow {
	list := slices.Clone(steps)
	slices.Reverse(list)
	return list
}

// ticked is what the ticks of a batch answer.
func (f *Faults) ticked(ctx context.Context, tx pgx.Tx, s *scene, b *stored, at int, now time.Time) error {
	spots, err := f.Spots(ctx, tx)
	if err != nil {
		return err
	}
	d := fault.Day{Room: s.Room, Now: now, Watery: s.record[fault.Watery]}
	d.Frozen, d.Dips = s.record[fault.Frozen], slices.Contains(s.all, fault.Dipped)
	card := b.sheet.Card
	for i := at; i >= 0; i-- {
		x := &b.steps[i]
		if x.Done == nil {
			continue
		}
		n := slices.IndexFunc(card.Steps, func(c batch.Step) bool { return c.ID == x.Step })
		d.Done, d.Wait = *x.Done, time.Duration(x.Wait)*time.Minute
		if n >= 0 {
			spot := slices.IndexFunc(spots, func(p treat.Spot) bool { return p.ID == card.Steps[n].Storage })
			d.Cold = spot >= 0 && spots[spot].Celsius != nil && *spots[spot].Celsius < s.Room-5
		}
		break
	}
	if at > 0 && slices.Contains(s.all, fault.Layered) && b.steps[at-1].Done != nil {
		d.Between = now.Sub(*b.steps[at-1].Done)
		if b.steps[at].Done != nil {
			d.Between = b.steps[at].Done.Sub(*b.steps[at-1].Done)
		}
	}
	maps.Copy(s.record, fault.OfDay(d))
	return nil
}

// atBowl is what the bowl knows.
func (f *Faults) atBowl(ctx context.Context, tx pgx.Tx, s *scene) error {
	bowl, err := f.Bowl(ctx, tx, s.day, s.name, s.in.Pot)
	if err != nil || bowl == nil {
		return err
	}
	maps.Copy(s.record, fault.OfBowl(bowl.Watch))
	s.Bowl, s.Kind, s.Colour, s.Method = bowl.In, bowl.Chocolate.Kind, bowl.Chocolate.Colour, bowl.Watch.Bowl.Method
	s.Source = bowl.Watch.Bowl.Source
	if s.in.Batch != nil {
		return nil
	}
	s.day, s.name, s.all = bowl.Day, bowl.Name, []fault.Way{fault.Bowl}
	s.Ways, s.pot.Ingredient = s.all, ""
	for id, of := range s.known {
		if of.Name == bowl.Name {
			s.pot.Ingredient = id
		}
	}
	return nil
}

// told is what is said about a scene.
func (s *scene) told(ctx context.Context, tx pgx.Tx) (Told, error) {
	t := Told{Signs: []Sign{}, Known: []Known{}, Causes: []Cause{}, Creams: s.creams(), Begun: s.standing.Begun,
		Broken: s.broken,
		Unit:   reason.Of("fault.pieces"), Bowl: measure.ShowGrams(s.Bowl)}
	if s.standing.Of != "" {
		t.Unit = reason.Of("fault.units", s.standing.Of)
	}
	here := s.standing.Ways
	if s.in.Batch == nil {
		here = s.all
	}
	for _, fits := range []bool{true, false} {
		for _, sign := range fault.Signs(s.all) {
			if of := slices.ContainsFunc(fault.At(sign), func(w fault.Way) bool { return slices.Contains(here, w) }) ||
				len(s.all) == 0; of == fits {
				t.Signs = append(t.Signs, Sign{sign, sign.Named(), fits})
			}
		}
	}
	if s.in.Sign == "" {
		return t, nil
	}
	a := fault.Ask(s.in.Sign, &s.Scene, len(s.in.Said)+len(s.in.Skipped), s.in.Skipped)
	if len(a.Causes) == 0 {
		return t, web.NotFound("sign")
	}
	if a.Ask != "" {
		t.Ask = &Question{a.Ask, a.Ask.Question()}
	}
	for fact, is := range s.record {
		if fault.Tells(s.in.Sign, fact) {
			t.Known = append(t.Known, Known{Question{fact, fact.Question()}, is})
		}
	}
	slices.SortFunc(t.Known, func(x, y Known) int { return strings.Compare(string(x.Fact), string(y.Fact)) })
	for _, c := range a.Causes {
		of := Cause{Code: c.Code, Why: c.Why, Likely: c.Likely, Next: c.Next, Fixes: []Fix{}}
		for _, x := range c.Fixes {
			of.Fixes = append(of.Fixes, Fix{Key: x.Key, Do: x.Do, Grade: x.Grade, Books: s.books(&x), Lost: x.Lost > 0,
				Cream: x.Wet > 0})
		}
		t.Causes = append(t.Causes, of)
	}
	var err error
	if s.sold != "" && s.Units > 0 {
		t.Effect, err = s.effect(ctx, tx, s.standing.Lost(s.before, s.Units))
	}
	return t, err
}

// books says what is booked for a fix.
func (s *scene) books(x *fault.Fix) []reason.Reason {
	list := []reason.Reason{}
	add := func(code reason.Reason, is bool) {
		if is {
			list = append(list, code)
		}
	}
	if s.sold != "" && x.Lost > 0 {
		pieces := s.standing.Lost(s.before, x.Lost)
		add(reason.Of("fault.books-lost", reason.Int(pieces)), pieces > 0)
		add(reason.Of("fault.books-spare"), pieces == 0)
	}
	if s.pot.Ingredient == "" {
		return list
	}
	name := reason.Name(s.name)
	add(reason.Of("fault.books-back", measure.ShowGrams(x.Back), name), x.Back > 0)
	add(reason.Of("fault.books-uses", measure.ShowGrams(x.Uses), name), x.Uses > 0)
	add(reason.Of("fault.books-gone", measure.ShowGrams(x.Gone), name), x.Gone > 0)
	add(reason.Of("fault.books-wet", measure.ShowGrams(x.Wet)), x.Wet > 0)
	add(reason.Of("fault.books-made", measure.ShowGrams(x.Made)), x.Made > 0)
	return list
}

// creams of the larder that a sauce can be made with, the likely one first.
func (s *scene) creams() []Cream {
	list := []Cream{}
	for id, of := range s.known {
		if of.Kind == food.KindDairy && of.Density != nil {
			list = append(list, Cream{id, of.Name})
		}
	}
	// Cream weighs about as much as water, milk a little more, butter and condensed milk something else (rules 4.1).
	off := func(c Cream) float64 { return max(*s.known[c.ID].Density/1.006, 1.006 / *s.known[c.ID].Density) }
	slices.SortFunc(list, func(x, y Cream) int {
		if d := off(x) - off(y); d != 0 {
			return int(d * 1e6)
		}
		return strings.Compare(x.Name, y.Name)
	})
	return list
}

// effect on the orders of a batch when so many pieces of it are lost.
func (s *scene) effect(ctx context.Context, tx pgx.Tx, pieces int) (*Effect, error) {
	after := s.output
	after.Broken += pieces
	if after.Good != nil {
		after.Good = new(max(*after.Good-pieces, 0))
	}
	left, wanted := after.Pieces(), s.output.Shares.Live().Count()
	e := &Effect{Enough: left >= wanted, Text: reason.Of("fault.enough-left", reason.Int(left), reason.Int(wanted))}
	if e.Enough {
		return e, nil
	}
	for _, x := range s.output.Shares.Live() {
		if got := min(x.Count, left); got < x.Count {
			id := uuid.MustParse(string(x.Order))
			e.Order, e.Line, e.Count = &id, x.Line, x.Count-got
			e.Text = reason.Of("fault.too-few", reason.Int(left), reason.Int(wanted), reason.Int(e.Count),
				reason.Name(x.Customer))
			break
		}
		left -= x.Count
	}
	return e, nil
}
