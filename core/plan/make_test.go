package plan

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"

	"zestytin/core/si"
	"zestytin/internal/text/said"
)

// berries: an evening from 18:00 to 21:30, a pot, a counter.
func berries() *Problem {
	return &Problem{Schema: ProblemSchema1, Washdown: 15,
		Sessions: []Session{{1080, 1290, 1}},
		Places:   []StorageResource{{ID: "counter", Trays: 2}},
		Tools:    []MouldResource{{"mould", 1}},
		Pots:     []Pot{{"dark", 25, 60}, {"white", 15, 45}},
		Batches: []Batch{{ID: "b1", Penalty: 1, DueMin: 2000, ShelfLifeMin: new(si.Minutes(1440)), FreshFrom: "dip",
			Steps: []Operation{
				{ID: "wash", HandsOnMin: 20, PassiveMin: 30, Storage: "counter", Trays: 1},
				{ID: "dip", HandsOnMin: 35, PassiveMin: 40, Storage: "counter", Trays: 2, Pot: "dark",
					After: []After{{Step: "wash", Max: new(si.Minutes(120))}}},
			}}},
	}
}

// By hand: the session ends at 1290, so dipping starts at 1255 at the latest, and its chocolate is melted from 1230 on.
// The berries dry for 30 minutes before: they are washed from 1205 to 1225. They are fresh from 1255, 745 minutes
// before 2000.
func TestPlanByHand(t *testing.T) {
	plan := checked(t, berries(), Options{})
	want := []ScheduledOperation{{Batch: "b1", Step: "wash", Start: 1205, Hands: 20, Wait: 30},
		{Batch: "b1", Step: "dip", Start: 1255, Changeover: 25, Hands: 35, Wait: 40, Pots: []Use{{"dark", 25, 60}}}}
	if !reflect.DeepEqual(plan.Steps, want) || plan.Score != (Score{Setup: 25, AgeAtHandover: 745}) {
		t.Errorf("%+v %+v", plan.Steps, plan.Score)
	}
}

// By hand: a second batch of the same chocolate goes on in the pot, before or after the first, and needs no melting of
// its own; another chocolate would need 15 minutes more.
func TestMadeTogether(t *testing.T) {
	p := berries()
	p.Batches = append(p.Batches, Batch{ID: "b2", Penalty: 1, DueMin: 2000,
		Steps: []Operation{{ID: "dip", HandsOnMin: 30, Pot: "dark"}}})
	if got := checked(t, p, Options{}).Score.Setup; got != 25 {
		t.Errorf("%d minutes of setup, want 25: one melt for both", got)
	}
	p.Batches[1].Steps[0].Pot = "white"
	if got := checked(t, p, Options{}).Score.Setup; got != 40 {
		t.Errorf("%d minutes of setup, want 25 and 15", got)
	}
}

// By hand: what has nuts comes after what must be free of them, so that nobody needs to wash down, although the other
// order would be fresher.
func TestFreeFromGoesFirst(t *testing.T) {
	p := berries()
	p.Batches = []Batch{
		{ID: "bark", Penalty: 1, DueMin: 1400, Contains: []string{"tree-nut"},
			Steps: []Operation{{ID: "pour", HandsOnMin: 60}}},
		{ID: "pops", Penalty: 1, DueMin: 1400, FreeFrom: []string{"tree-nut"},
			Steps: []Operation{{ID: "dip", HandsOnMin: 30}}},
	}
	plan := checked(t, p, Options{})
	if plan.Score.Setup != 0 || plan.Steps[0].Batch != "pops" {
		t.Errorf("%+v", plan)
	}
	// Once the bark is pinned to the beginning, there is a washdown of 15 minutes.
	p.Batches[0].Steps[0].Pinned = &Pinned{Start: 1080}
	plan = checked(t, p, Options{})
	if plan.Score.Setup != 15 || plan.Steps[1].Washdown != 15 {
		t.Errorf("%+v", plan)
	}
}

func TestWhatDoesNotFitNamesItsBottleneck(t *testing.T) {
	tests := map[string]struct {
		change  func(p *Problem)
		short   string
		minutes si.Minutes
	}{
		// 20 and 35 minutes, and 25 of melting in the half hour of drying, of which 5 stick out: 85 in all; a session
		// of 70 is 15 short. With the batch before that takes 140 of 210 minutes, 70 are left.
		"hands": {func(p *Problem) {
			p.Batches = append(p.Batches, Batch{ID: "before", Penalty: 5, DueMin: 1220,
				Steps: []Operation{{ID: "boil", HandsOnMin: 140}}})
			p.Batches[0].DueMin = 1400
		}, "hands", 15},
		"window": {func(p *Problem) { p.Batches[0].ReleaseMin = 1290 }, "window", 55},
		// Another has both trays of the counter for the whole session.
		"place": {func(p *Problem) {
			p.Batches = append(p.Batches, Batch{ID: "other", Penalty: 5, DueMin: 2000,
				Steps: []Operation{{ID: "spread", PassiveMin: 600, Storage: "counter", Trays: 2,
					Pinned: &Pinned{Start: 1080}}}})
			p.Batches[0].DueMin = 1600
		}, "place:counter", 0},
		"tool": {func(p *Problem) {
			p.Batches[0].Steps[1].Takes = []Take{{"mould", 1, "dip"}}
			p.Batches = append(p.Batches, Batch{ID: "other", Penalty: 5, DueMin: 2000,
				Steps: []Operation{{ID: "cast", PassiveMin: 600, Takes: []Take{{"mould", 1, "cast"}},
					Pinned: &Pinned{Start: 1080}}}})
			p.Batches[0].DueMin = 1600
		}, "tool:mould", 0},
	}
	for name, test := range tests {
		t.Run(name, func(t *testing.T) {
			p := berries()
			test.change(p)
			plan := checked(t, p, Options{})
			if len(plan.Unplaced) != 1 {
				t.Fatalf("%+v", plan)
			}
			if u := plan.Unplaced[0]; u.Short != test.short || u.Batch != "b1" || test.minutes > 0 &&
				(u.Minutes < test.minutes || u.Minutes > test.minutes+5) || u.Minutes <= 0 || u.From >= u.To ||
				u.Why == "" {
				t.Errorf("%+v, want %s of %d minutes", u, test.short, test.minutes)
			}
		})
	}
}

// Among plans that leave out as little and need as little setup, the one that moves the fewest steps is kept, though
// others would be fresher.
func TestThePreviousPlanIsKept(t *testing.T) {
	p := busy(11, 12, 5, 1)
	before := checked(t, p, Options{})
	p.Previous = before
	again := checked(t, p, Options{})
	if again.Score.Moved != 0 || again.Score.Unplaced > before.Score.Unplaced ||
		again.Score.Setup > before.Score.Setup {
		t.Errorf("%+v after %+v", again.Score, before.Score)
	}
	p.Batches = append(p.Batches, Batch{ID: "new", Penalty: 1, DueMin: 4*day + 720,
		Steps: []Operation{{ID: "label", HandsOnMin: 10}}})
	if after := checked(t, p, Options{}); after.Score.Moved > 6 || after.Score.Unplaced > before.Score.Unplaced {
		t.Errorf("ten minutes of work more move %d steps: %+v", after.Score.Moved, after.Score)
	}
}

// The same problem gives the same plan, and more effort never a worse one.
func TestTheSameAgain(t *testing.T) {
	p := busy(4, 20, 7, 2)
	one, two := checked(t, p, Options{Effort: 200}), checked(t, p, Options{Effort: 200})
	if !reflect.DeepEqual(one, two) {
		t.Error("two plans of the same problem")
	}
	if none := checked(t, p, Options{Effort: 1}); none.Score.Less(one.Score) {
		t.Errorf("%+v after one move, %+v after two hundred", none.Score, one.Score)
	}
}

func TestPlanningIsStopped(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	told := 0
	_, err := Make(ctx, busy(5, 30, 10, 1), Options{Effort: 100_000, Progress: func(done, total int) {
		if told++; told == 3 {
			stop()
		}
	}})
	if !errors.Is(err, context.Canceled) || told != 3 {
		t.Errorf("%v after it was told %d times", err, told)
	}
}

// Random problems, with pins at random: every plan is valid, and says what it comes to.
func TestRandomProblems(t *testing.T) {
	for n := range uint64(60) {
		r := rand.New(rand.NewPCG(n, 8))
		p := busy(n, 1+r.IntN(18), 2+r.IntN(6), 1+r.IntN(3))
		if n%3 == 0 { // what a plan placed is pinned, some of it
			for _, s := range checked(t, p, Options{Effort: 20}).Steps {
				b := slices.IndexFunc(p.Batches, func(b Batch) bool { return b.ID == s.Batch })
				k := slices.IndexFunc(p.Batches[b].Steps, func(x Operation) bool { return x.ID == s.Step })
				if r.IntN(3) == 0 {
					p.Batches[b].Steps[k].Pinned = &Pinned{s.Start, s.Hand}
				}
			}
		}
		checked(t, p, Options{Effort: 100})
		if t.Failed() {
			t.Fatalf("problem %d", n)
		}
	}
}

// A pin that the rules do not allow has happened: the rest is planned around it.
func TestPinnedStepsMayBreakRulesAmongThemselves(t *testing.T) {
	p := berries()
	p.Batches[0].Steps[0].Pinned, p.Batches[0].Steps[1].Pinned = &Pinned{Start: 1100},
		&Pinned{Start: 1125} // it has not dried, and nothing is melted
	p.Batches = append(p.Batches, Batch{ID: "b2", Penalty: 1, DueMin: 2000,
		Steps: []Operation{{ID: "dip", HandsOnMin: 30, Pot: "dark"}}})
	plan := checked(t, p, Options{})
	if len(plan.Unplaced) != 0 || len(plan.Steps) != 3 {
		t.Errorf("%+v", plan)
	}
}

func TestWhatPinsLeaveNoRoomForIsSaid(t *testing.T) {
	p := berries()
	p.Batches[0].Steps[1].Pinned = &Pinned{Start: 1085} // there is no time to wash before
	_, err := Make(context.Background(), p, Options{})
	if err == nil ||
		said.Error(err) != "batches[0]: b1 has a pinned step, and what is pinned leaves no room for the rest of it: unpin one." {
		t.Error(err)
	}
}

func FuzzPlan(f *testing.F) {
	f.Add(uint64(1), uint8(5), uint8(3), uint8(1))
	f.Fuzz(func(t *testing.T, seed uint64, batches, days, hands uint8) {
		p := busy(seed, int(batches%20)+1, int(days%8)+2, int(hands%3)+1)
		plan, err := Make(context.Background(), p, Options{Effort: 30})
		if err != nil {
			t.Fatal(err)
		}
		if score, broken := Check(p, plan); len(broken) > 0 || score != plan.Score {
			t.Fatal(fmt.Sprint(broken, score, plan.Score))
		}
	})
}

// Roughly planned, what fits fits too, and the plan is as valid; a batch more than there are hands for stays out.
func TestRoughPlans(t *testing.T) {
	p := busy(11, 24, 7, 2)
	thorough, rough := checked(t, p, Options{}), checked(t, p, Options{Effort: Rough})
	if rough.Score.Unplaced > thorough.Score.Unplaced {
		t.Errorf("%v roughly, %v thoroughly", rough.Score, thorough.Score)
	}
	b := berries()
	b.Batches = append(b.Batches, Batch{ID: "more", Penalty: 1, DueMin: 1290,
		Steps: []Operation{{ID: "boil", HandsOnMin: 200}}})
	if out := checked(t, b, Options{Effort: Rough}).Unplaced; len(out) != 1 {
		t.Errorf("%+v", out)
	}
}
