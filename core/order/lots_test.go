package order

import (
	"context"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/plan"
	"zestytin/internal/text/said"
)

// promised puts a dozen berries for somebody else into the plan of a kitchen, handed over at the time of draft.
func promised(t *testing.T, k *Inputs, l Line, customer string, others ...plan.Batch) {
	t.Helper()
	card, err := compute(l, k)
	if err != nil {
		t.Fatal(err)
	}
	b := k.batch("other", card, draft())
	b.Penalty = ConfirmedPenalty
	k.Planning.Batches, k.Planning.Tools = append(others, b), withTool(nil, card.Tool)
	k.Planning.Schema, k.Planning.Draws = plan.ProblemSchema, map[ident.Batch]map[ident.Step]*ledger.Draw{"other": {}}
	for _, s := range card.Steps {
		k.Planning.Draws["other"][s.ID] = s.Draw
	}
	k.Planning.Combined = []CombinedBatch{{Batch: "other", Treat: l.Treat, Version: 1, Coating: l.Coating,
		Count: l.Count, For: []string{customer}}}
	if k.Planning.Previous, err = plan.Make(context.Background(), &k.Planning.Problem, plan.Options{}); err != nil {
		t.Fatal(err)
	}
}

// By hand, from the cards of 12 and of 24 berries: washing 13 or 15 minutes, picks 2 or 3, dipping 7 or 14, lines and
// boxes 4 or 7. Apart that is twice 26, together 39, so that 13 minutes are saved; with one melt of 12 for the first
// dozen, and of 12 for both, the lot takes 51.
func TestALineIsMadeInALot(t *testing.T) {
	k := kitchen()
	promised(t, k, Line{Treat: "berry", Count: 12}, "Anouk")
	r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	w := r.When
	if more := r.Money.Planned.Hands; more != 51-38 {
		t.Errorf("%d minutes more", more)
	}
	if !w.Fits || len(w.Batches) != 1 {
		t.Fatalf("%+v", w)
	}
	b := w.Batches[0]
	if b.ID != "other" || b.Combined != "other" || b.Count != 12 || b.All != 24 || b.Hands != 51 ||
		!slices.Equal(b.With, []string{"Anouk"}) {
		t.Errorf("%+v", b)
	}
	if !strings.Contains(said.Text(w.Text), "Berries Fri 11 Sep, together with 12 for Anouk") {
		t.Error(w.Text)
	}
	problem, made := w.Planned()
	if score, broken := plan.Check(problem, made); len(broken) > 0 || score.Unplaced > 0 || len(problem.Batches) != 1 ||
		problem.Batches[0].Penalty != ConfirmedPenalty+1 {
		t.Errorf("%v %+v %+v", broken, score, problem.Batches)
	}
}

// Another finish, another version, a batch that is not open, or one that does not keep until then, is not joined.
func TestWhatIsNotMadeInALot(t *testing.T) {
	for what, change := range map[string]func(k *Inputs, d *Draft){
		"another version": func(k *Inputs, _ *Draft) { k.Planning.Combined[0].Version = 2 },
		"in coating":      func(k *Inputs, _ *Draft) { k.Planning.Combined[0].Coating = true },
		"another treat":   func(k *Inputs, _ *Draft) { k.Planning.Combined[0].Treat = "bark" },
		"begun":           func(k *Inputs, _ *Draft) { k.Planning.Combined = nil },
		"two days later":  func(_ *Inputs, d *Draft) { d.From, d.To = d.From.AddDate(0, 0, 2), d.To.AddDate(0, 0, 2) },
	} {
		k, d := kitchen(), draft(Line{Treat: "berry", Count: 12})
		promised(t, k, Line{Treat: "berry", Count: 12}, "Anouk")
		change(k, d)
		if w := reckon(t, d, k).When; !w.Fits || w.Batches[0].Combined != "" || w.Batches[0].ID != "line-0" {
			t.Errorf("%s: %+v", what, w)
		}
	}
}

// Only Friday evening has time, 200 minutes, and small things that can be done at any time take 100 of them. A dozen
// bombs for somebody else take 66 with the melt; a dozen more would take another 41: 207. In one lot two dozens take
// 91, since a round of the moulds is saved: 191. Where a lot does not fit either, what would help is said of the order
// alone.
func TestALotFindsRoom(t *testing.T) {
	evening := func() *Inputs {
		k := kitchen()
		k.Planning.Sessions = []plan.Session{{From: 8*1440 + 1080, To: 8*1440 + 1280, People: 1}}
		small := plan.Batch{ID: "small", Penalty: ConfirmedPenalty, DueMin: k.Calendar.Minute(draft().From)}
		for n := range 20 {
			small.Steps = append(small.Steps, plan.Operation{ID: ident.Step(fmt.Sprint("thing-", n)), HandsOnMin: 5})
		}
		promised(t, k, Line{Treat: "bomb", Count: 12}, "Anouk", small)
		return k
	}
	for _, extent := range []Extent{InFull, FeasibilityOnly} {
		k := evening()
		k.Extent = extent
		if w := reckon(t, draft(Line{Treat: "bomb", Count: 12}), k).When; !w.Fits || w.Batches[0].All != 24 {
			t.Errorf("extent %v: %+v", extent, w)
		}
	}
	k, d := evening(), draft(Line{Treat: "bomb", Count: 36})
	w := reckon(t, d, k).When
	if w.Fits || len(w.Short) != 1 || !strings.Contains(said.Text(w.Text), "36 Bombs") {
		t.Errorf("%+v", w)
	}
	reliefs, err := Reliefs(context.Background(), d, k)
	if err != nil {
		t.Fatal(err)
	}
	n := slices.IndexFunc(reliefs, func(r Suggestion) bool { return r.Kind == "hours" })
	if n < 0 {
		t.Fatalf("%+v", reliefs)
	}
	if fits, err := reliefs[n].fits(context.Background(), d, k); err != nil || !fits {
		t.Errorf("%+v does not help: %v", reliefs[n], err)
	}
	before := evening()
	if !reflect.DeepEqual(k.Planning, before.Planning) {
		t.Error("asking changed the kitchen")
	}
}
