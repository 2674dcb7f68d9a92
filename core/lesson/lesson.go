// Package lesson turns what batches of a treat have shown into what its formula could say instead: what is lost at a
// step, how long it takes, what of the chocolate a piece really takes, what is left in the bowl, and how much of the
// fruit is fit to use. Each lesson has its evidence and its spread; it is taken by a person, never silently (rules 4.12).
package lesson

import (
	"math"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/learn"
	"zestytin/core/measure"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// What is learned.
type What string

// What can be learned.
const (
	Loss What = "loss" // share of the units that are lost at a step
	Pace What = "pace" // minutes of a step, as a multiple of what the treat says
	Coat What = "coat" // chocolate that a piece takes, as a multiple of it
	Pool What = "pool" // g that are left in the bowl
	Fit  What = "fit"  // share of the centres that are fit to use
)

// Whats that there are.
func Whats() []What { return []What{Loss, Pace, Coat, Pool, Fit} }

// Batch that was made, as far as something can be learned of it.
type Batch struct {
	Formula *treat.Formula               // by which it was made
	Begun   map[ident.Step]int           // units at the steps at which something is lost; of others Started
	Started int                          // units
	Counted bool                         // of each that is begun one comes out
	Lost    map[ident.Step]int           // units, by step of the formula
	Told    bool                         // somebody has said what was lost: of a batch of which nobody did, nobody knows
	Good    *int                         // pieces, as they were counted in the end
	Minutes map[ident.Step]float64       // of hands that a step took
	Planned map[ident.Step]float64       // and that were reckoned for it
	Coats   map[ident.Ingredient]float64 // what was taken of a chocolate, as a multiple of what was reckoned
	Left    map[ident.Ingredient]float64 // g in the bowl
	Unfit   *learn.Tally                 // of the centres: fit to use, and not
}

// Lesson of the batches of a treat.
type Lesson struct {
	What What
	Step ident.Step // at which; of chocolate the ingredient
	Was  float64    // as the treat says it
	learn.Estimate
	Good, Lost int         // of a share: what was seen
	Line       *learn.Line // of a pace: set-up and what each piece takes, where they can be told apart
}

// Prior worth and spread of what is weighed: three bowls that lie 15 % about the treat's value (memory).
const (
	priorBowls  = 3
	priorSpread = 0.15
)

// Of the batches of a treat, the last one first, beside its formula as it is now and the share of its centres that the
// larder says is fit to use.
func Of(f *treat.Formula, usable float64, batches []Batch) []Lesson {
	list := losses(f, batches)
	list = append(list, paces(f, batches)...)
	list = append(list, chocolates(f, batches)...)
	if l, seen := fit(f, usable, batches); seen {
		list = append(list, l)
	}
	return list
}

// lossAt is what a formula says is lost at a step: the last one has the loss of the whole.
func lossAt(f *treat.Formula, i int) float64 {
	if i == lastStep(f) {
		return f.Loss
	}
	return f.Steps[i].Loss
}

// lastStep that has pieces in hand.
func lastStep(f *treat.Formula) int {
	for i := len(f.Steps) - 1; i >= 0; i-- {
		if f.Steps[i].Beside == "" {
			return i
		}
	}
	return -1
}

func losses(f *treat.Formula, batches []Batch) []Lesson {
	var list []Lesson
	from := 0
	for i := range f.Steps {
		if lossAt(f, i) <= 0 && i != lastStep(f) {
			continue
		}
		span := f.Steps[from : i+1]
		from = i + 1
		l := Lesson{What: Loss, Step: f.Steps[i].ID, Was: lossAt(f, i)}
		var tallies []learn.Tally
		for _, b := range batches {
			if t, known := b.tally(span, i == lastStep(f)); known {
				tallies = append(tallies, t)
				l.Good, l.Lost = l.Good+t.Good, l.Lost+t.Lost
			}
		}
		if l.Estimate = learn.Share(l.Was, tallies, learn.HalfLife); len(tallies) > 0 {
			list = append(list, l)
		}
	}
	return list
}

// tally of a batch over the steps that a loss is of; false where they were other steps then.
func (b *Batch) tally(span []treat.StepTemplate, last bool) (learn.Tally, bool) {
	end := &span[len(span)-1]
	was := b.Formula.StepOf(end.ID)
	if !b.Counted || !b.Told || was == nil || !end.Stayed(was) {
		return learn.Tally{}, false
	}
	lost := 0
	for _, s := range span {
		lost += b.Lost[s.ID]
	}
	begun, known := b.Begun[end.ID]
	if !known {
		begun = b.Started
	}
	if last && b.Good != nil { // counted in the end: what else is missing was lost here
		elsewhere := 0
		for step, n := range b.Lost {
			if !slices.ContainsFunc(span, func(s treat.StepTemplate) bool { return s.ID == step }) && b.Begun[step] == 0 {
				elsewhere += n
			}
		}
		lost = max(lost, b.Started-*b.Good-elsewhere)
	}
	lost = min(lost, begun)
	return learn.Tally{Good: begun - lost, Lost: lost}, begun > 0
}

// reckoned minutes of a step for so many pieces in so many rounds.
func reckoned(s *treat.StepTemplate, pieces float64) float64 {
	return s.PerBatch + s.PerRound + s.PerPiece*pieces
}

func paces(f *treat.Formula, batches []Batch) []Lesson {
	var list []Lesson
	for i := range f.Steps {
		s := &f.Steps[i]
		var took []learn.Took
		for _, b := range batches {
			was := b.Formula.StepOf(s.ID)
			minutes, planned := b.Minutes[s.ID], b.Planned[s.ID]
			if was == nil || !s.Stayed(was) || minutes <= 0 || planned <= 0 {
				continue
			}
			pieces := float64(b.Started)
			if before := reckoned(was, pieces); before > 0 { // as it would be reckoned now
				planned *= reckoned(s, pieces) / before
			}
			took = append(took, learn.Took{Minutes: minutes, Reckoned: planned, Pieces: pieces})
		}
		if len(took) == 0 {
			continue
		}
		l := Lesson{What: Pace, Step: s.ID, Was: 1, Estimate: learn.Pace(took, learn.HalfLife)}
		if line, told := learn.Regress(took); told && s.PerRound == 0 && line.SetUp >= 0 && line.Piece >= 0 {
			l.Line = &line
		}
		list = append(list, l)
	}
	return list
}

func chocolates(f *treat.Formula, batches []Batch) []Lesson {
	var list []Lesson
	seen := map[ident.Ingredient]bool{}
	for _, c := range f.Coatings {
		if seen[c.Ingredient] {
			continue
		}
		seen[c.Ingredient] = true
		var ratios, left []float64
		for _, b := range batches {
			if r, weighed := b.Coats[c.Ingredient]; weighed {
				if was := each(b.Formula, c.Ingredient); was > 0 && c.Each != nil { // as it would be reckoned now
					r *= was.Over(treat.Grams(c.Each))
				}
				ratios = append(ratios, r)
			}
			if g, weighed := b.Left[c.Ingredient]; weighed {
				left = append(left, g)
			}
		}
		if len(ratios) > 0 && c.Role.ByPiece() && c.Each != nil {
			list = append(list, Lesson{What: Coat, Step: ident.Step(c.Ingredient), Was: 1,
				Estimate: learn.Level(1, priorBowls, priorSpread, ratios, learn.HalfLife)})
		}
		if pool := float64(treat.Grams(&c.Pool)); len(left) > 0 && pool > 0 {
			list = append(list, Lesson{What: Pool, Step: ident.Step(c.Ingredient), Was: pool,
				Estimate: learn.Level(pool, priorBowls, priorSpread, left, learn.HalfLife)})
		}
	}
	return list
}

// each is what goes on a piece of a chocolate, in g.
func each(f *treat.Formula, of ident.Ingredient) si.Grams {
	for i := range f.Coatings {
		if c := &f.Coatings[i]; c.Ingredient == of && c.Role.ByPiece() && c.Each != nil {
			return treat.Grams(c.Each)
		}
	}
	return 0
}

// fit is how much of the centres is fit to use.
func fit(f *treat.Formula, usable float64, batches []Batch) (Lesson, bool) {
	l := Lesson{What: Fit}
	var tallies []learn.Tally
	for _, b := range batches {
		if b.Unfit == nil || f.Centre == nil || b.Formula.Centre == nil || b.Formula.Centre.Of != f.Centre.Of {
			continue
		}
		// What is fit is counted where a share counts what is lost.
		tallies = append(tallies, learn.Tally{Good: b.Unfit.Lost, Lost: b.Unfit.Good})
		l.Good, l.Lost = l.Good+b.Unfit.Good, l.Lost+b.Unfit.Lost
	}
	if len(tallies) == 0 {
		return l, false
	}
	l.Step, l.Was = ident.Step(f.Centre.Of), usable
	l.Estimate = learn.Share(l.Was, tallies, learn.HalfLife)
	return l, true
}

// Suggests says whether the treat should be asked to say it otherwise: enough was seen, and it does not agree.
func (l *Lesson) Suggests() bool {
	switch l.What {
	case Loss, Fit:
		return l.Estimate.Suggests(l.Was) && math.Abs(l.Mean-l.Was) >= 0.005
	}
	return l.Counts >= priorBowls && !l.Holds(l.Was)
}

// Value that is taken, rounded as a person would write it.
func (l *Lesson) Value() float64 {
	switch l.What {
	case Loss, Fit:
		return math.Round(l.Mean*200) / 200
	case Pool:
		return math.Round(l.Mean/10) * 10
	}
	return math.Round(l.Mean*20) / 20
}

// Take a lesson into a formula. What is fit to use stands in the larder, and is not changed here.
func (l *Lesson) Take(f *treat.Formula) {
	value := l.Value()
	tenth := func(x float64) float64 { return math.Round(x*10) / 10 }
	hundredth := func(x float64) float64 { return math.Round(x*100) / 100 }
	switch l.What {
	case Loss:
		for i := range f.Steps {
			if f.Steps[i].ID == l.Step {
				if i == lastStep(f) {
					f.Loss = value
				} else {
					f.Steps[i].Loss = value
				}
			}
		}
	case Pace:
		s := f.StepOf(l.Step)
		if s == nil {
			return
		}
		if l.Line != nil {
			s.PerBatch, s.PerPiece = tenth(l.Line.SetUp), hundredth(l.Line.Piece)
			return
		}
		s.PerBatch, s.PerRound, s.PerPiece = tenth(s.PerBatch*l.Mean), tenth(s.PerRound*l.Mean), hundredth(s.PerPiece*l.Mean)
	case Coat, Pool:
		for i := range f.Coatings {
			c := &f.Coatings[i]
			if c.Ingredient != ident.Ingredient(l.Step) {
				continue
			}
			if l.What == Pool {
				c.Pool = measure.Of(value, measure.Gram)
			} else if c.Role.ByPiece() && c.Each != nil {
				each := measure.Of(tenth(float64(treat.Grams(c.Each))*l.Mean), measure.Gram)
				c.Each = &each
			}
		}
	}
}
