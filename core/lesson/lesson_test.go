package lesson

import (
	"math"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/learn"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

func bombs() *treat.Formula {
	coat := treat.ChocolateLayer{Role: treat.RoleCoat, Ingredient: "dark", Each: new(measure.Of(10, measure.Gram)),
		Pool: measure.Of(200, measure.Gram)}
	return &treat.Formula{Family: "bomb", Loss: 0.06, Centre: &treat.Centre{Of: "cherry"},
		Coatings: []treat.ChocolateLayer{coat},
		Steps: []treat.StepTemplate{{ID: "cast", PerBatch: 10, PerPiece: 0.5, Loss: 0.1},
			{ID: "fill", PerBatch: 5, PerPiece: 0.3},
			{ID: "seal", PerBatch: 4, PerPiece: 1}}}
}

// nine batches of 118 pieces in all, of which 13 were lost at the seal, as in rules 4.12; each cast took half as long
// again as was reckoned, and its bowl 12 g a piece.
func nine(f *treat.Formula) []Batch {
	var list []Batch
	for _, x := range []learn.Tally{{Good: 11, Lost: 1}, {Good: 12, Lost: 2}, {Good: 10}, {Good: 13, Lost: 3},
		{Good: 9, Lost: 1}, {Good: 12, Lost: 2},
		{Good: 14, Lost: 1}, {Good: 12, Lost: 2}, {Good: 12, Lost: 1}} {
		n := x.Good + x.Lost
		planned := 10 + 0.5*float64(n)
		list = append(list, Batch{Formula: f, Begun: map[ident.Step]int{"cast": 2 * n}, Started: n, Counted: true, Told: true,
			Lost: map[ident.Step]int{"seal": x.Lost}, Planned: map[ident.Step]float64{"cast": planned},
			Minutes: map[ident.Step]float64{"cast": 1.5 * planned}, Coats: map[ident.Ingredient]float64{"dark": 1.2},
			Left: map[ident.Ingredient]float64{"dark": 120}, Unfit: &learn.Tally{Good: 7, Lost: 3}})
	}
	return list
}

func lessonOf(t *testing.T, list []Lesson, what What, step ident.Step) Lesson {
	t.Helper()
	for _, l := range list {
		if l.What == what && l.Step == step {
			return l
		}
	}
	t.Fatalf("nothing is learned of %s at %s: %+v", what, step, list)
	return Lesson{}
}

// What nine batches show is suggested, with its evidence; taken, the treat agrees with what was seen and nothing is
// suggested any more, though all that was seen is of the version before.
func TestLessonsAreTakenOnce(t *testing.T) {
	f := bombs()
	before := bombs()
	list := Of(f, 0.9, nine(before))
	seal := lessonOf(t, list, Loss, "seal")
	if seal.Was != 0.06 || seal.Batches != 9 || seal.Lost != 13 || seal.Good != 105 || math.Abs(seal.Mean-0.10) > 0.01 ||
		!seal.Suggests() {
		t.Errorf("%+v", seal)
	}
	cast := lessonOf(t, list, Pace, "cast")
	if !cast.Suggests() || math.Abs(cast.Mean-1.37) > 0.05 { // towards 1 by what three batches are worth
		t.Errorf("%+v", cast)
	}
	if lost := lessonOf(t, list, Loss, "cast"); lost.Lost != 0 || lost.Good != 236 || lost.Was != 0.1 || !lost.Suggests() {
		t.Errorf("%+v", lost)
	}
	coat, pool, fit := lessonOf(t, list, Coat, "dark"), lessonOf(t, list, Pool, "dark"), lessonOf(t, list, Fit, "cherry")
	if !coat.Suggests() || !pool.Suggests() || !fit.Suggests() || fit.Was != 0.9 || fit.Lost != 27 || fit.Mean > 0.8 {
		t.Errorf("%+v %+v %+v", coat, pool, fit)
	}
	for _, l := range []Lesson{seal, cast, coat} {
		l.Take(f)
	}
	if f.Loss != seal.Value() || f.Steps[0].PerBatch != math.Round(10*cast.Mean*10)/10 || f.Steps[0].Loss != 0.1 {
		t.Errorf("%+v", f)
	}
	if got := treat.Grams(f.Coatings[0].Each); float64(got) != math.Round(100*coat.Mean)/10 {
		t.Errorf("%v g each", got)
	}
	again := Of(f, 0.9, nine(before))
	for _, x := range []struct {
		what What
		step ident.Step
	}{{Loss, "seal"}, {Pace, "cast"}, {Coat, "dark"}} {
		if l := lessonOf(t, again, x.what, x.step); l.Suggests() {
			t.Errorf("suggested again: %+v", l)
		}
	}
}

// A step that has become another one teaches nothing of what it is now; one that only takes longer does.
func TestWhatStayed(t *testing.T) {
	f := bombs()
	f.Steps[2].Pot = treat.RoleShell
	for _, l := range Of(f, 0.9, nine(bombs())) {
		if l.What == Loss && l.Step == "seal" {
			t.Errorf("another step: %+v", l)
		}
	}
	f = bombs()
	f.Steps[2].PerPiece, f.Steps[2].Name = 3, "Seal them"
	lessonOf(t, Of(f, 0.9, nine(bombs())), Loss, "seal")
}

// Set-up and pieces are told apart once the counts differ: 8 minutes and 0.75 a piece.
func TestSetUpAndPieces(t *testing.T) {
	f := bombs()
	var list []Batch
	for _, n := range []int{6, 12, 24, 48, 60, 30} {
		list = append(list, Batch{Formula: bombs(), Started: n, Counted: true,
			Planned: map[ident.Step]float64{"cast": 10 + 0.5*float64(n)},
			Minutes: map[ident.Step]float64{"cast": 8 + 0.75*float64(n)}})
	}
	l := lessonOf(t, Of(f, 1, list), Pace, "cast")
	if l.Line == nil {
		t.Fatalf("%+v", l)
	}
	l.Take(f)
	if f.Steps[0].PerBatch != 8 || f.Steps[0].PerPiece != 0.75 {
		t.Errorf("%+v", f.Steps[0])
	}
}

// What was counted in the end and is missing was lost at the last step.
func TestCountedInTheEnd(t *testing.T) {
	b := Batch{Formula: bombs(), Started: 14, Counted: true, Told: true, Good: new(10),
		Lost:  map[ident.Step]int{"fill": 1},
		Begun: map[ident.Step]int{"cast": 28}}
	l := lessonOf(t, Of(bombs(), 1, []Batch{b}), Loss, "seal")
	if l.Lost != 4 || l.Good != 10 {
		t.Errorf("%+v", l)
	}
}

// What nobody has counted teaches nothing of what is lost.
func TestSilenceIsNoEvidence(t *testing.T) {
	batches := nine(bombs())
	for i := range batches {
		batches[i].Told = false
	}
	for _, l := range Of(bombs(), 0.9, batches) {
		if l.What == Loss {
			t.Errorf("%+v", l)
		}
	}
}
