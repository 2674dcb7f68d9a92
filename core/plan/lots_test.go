package plan

import (
	"context"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// chosen makes a plan with alternatives and proves it as a plan of the problem that has them.
func chosen(t *testing.T, p *Problem, all ...BatchSplit) (*Plan, []BatchSplit) {
	t.Helper()
	without, err := Make(context.Background(), p, Options{Effort: 300})
	if err != nil {
		t.Fatal(err)
	}
	plan, taken, err := ChooseSplits(context.Background(), Make, p, without, all, Options{Effort: 300})
	if err != nil {
		t.Fatal(err)
	}
	score, broken := Check(p.Instead(taken), plan)
	for _, v := range broken {
		t.Error(v)
	}
	if score.Setup != plan.Score.Setup {
		t.Errorf("%+v, its steps come to %+v", plan.Score, score)
	}
	return plan, taken
}

// By hand: two orders of moulded bars, each 15 minutes of casting and 30 of setting, and one mould; from 1080 on, with
// 25 minutes of melting. Apart, the first is cast from 1105 to 1120 and sets until 1150, when the mould is free; the
// second is cast from 1150 to 1165 and set at 1195. That is too late for 1190. In one lot of 20 minutes both are cast
// from 1105 and set at 1155, so they are made together: 50 and 85 minutes old.
func TestALotSavesARound(t *testing.T) {
	bar := func(id string, readyBy, hands int) Batch {
		return Batch{ID: ident.Batch(id), Penalty: 1, DueMin: si.Minutes(readyBy), ShelfLifeMin: new(si.Minutes(1440)),
			FreshFrom: "cast", Steps: []Operation{
				{ID: "cast", HandsOnMin: si.Minutes(hands), PassiveMin: 30, Pot: "dark",
					Takes: []Take{{"mould", 1, "cast"}}}}}
	}
	p := berries()
	p.Batches = []Batch{bar("one", 1155, 15), bar("two", 1190, 15)}
	lot, ok := Merge(bar("both", 0, 20), p.Batches)
	if !ok || lot.DueMin != 1155 || *lot.ShelfLifeMin != 1405 || lot.Penalty != 2 || lot.FreshFrom != "cast" {
		t.Fatalf("%+v %v", lot, ok)
	}
	plan, taken := chosen(t, p, BatchSplit{[]ident.Batch{"one", "two"}, []Batch{lot}})
	if len(taken) != 1 || plan.Score != (Score{Setup: 25, AgeAtHandover: 50 + 85}) {
		t.Errorf("%+v %+v", plan.Score, taken)
	}
	// Five minutes later the second has a round of its own, and apart both would be fresher: the first cast at 1105 and
	// the second at 1150. But the lot saves ten minutes of casting, which counts as setup does.
	p.Batches[1].DueMin = 1195
	plan, taken = chosen(t, p, BatchSplit{[]ident.Batch{"one", "two"}, []Batch{lot}})
	if len(taken) != 1 || plan.Score != (Score{Setup: 25, AgeAtHandover: 50 + 90}) {
		t.Errorf("%+v %+v", plan.Score, taken)
	}
	// Where it saves nothing, they are made apart, since both are fresher so: 65 and 45 minutes old, in a lot 65 and
	// 90.
	p.Batches[0].DueMin = 1170
	lot, _ = Merge(bar("both", 0, 30), p.Batches)
	plan, taken = chosen(t, p, BatchSplit{[]ident.Batch{"one", "two"}, []Batch{lot}})
	if len(taken) != 0 || plan.Score != (Score{Setup: 25, AgeAtHandover: 65 + 45}) {
		t.Errorf("%+v %+v", plan.Score, taken)
	}
}

// By hand: 180 minutes of dipping do not go into evenings of 120; in two parts of 90 they do, for a melt more.
func TestABatchInParts(t *testing.T) {
	p := berries()
	p.Sessions = []Session{{1080, 1200, 1}, {2520, 2640, 1}}
	dip := func(id string, hands int) Batch {
		return Batch{ID: ident.Batch(id), Penalty: 1, DueMin: 2700, ShelfLifeMin: new(si.Minutes(2880)),
			FreshFrom: "dip", Steps: []Operation{{ID: "dip", HandsOnMin: si.Minutes(hands), Pot: "dark"}}}
	}
	p.Batches = []Batch{dip("all", 180)}
	plan, taken := chosen(t, p, BatchSplit{[]ident.Batch{"all"}, []Batch{dip("first", 90), dip("second", 90)}})
	if len(taken) != 1 || plan.Score != (Score{Setup: 50, AgeAtHandover: 2700 - 1110}) {
		t.Errorf("%+v %+v", plan.Score, taken)
	}
}

// By hand: a lot of 100 minutes for two orders does not go into an evening of 90, but what one of them needs does, 60
// minutes: one is left out instead of two.
func TestALotFallsApart(t *testing.T) {
	p := berries()
	p.Sessions = []Session{{1080, 1170, 1}}
	dip := func(id string, worth, hands int) Batch {
		return Batch{ID: ident.Batch(id), Penalty: worth, DueMin: 1200,
			Steps: []Operation{{ID: "dip", HandsOnMin: si.Minutes(hands)}}}
	}
	p.Batches = []Batch{dip("both", 2000, 100)}
	plan, taken := chosen(t, p, BatchSplit{[]ident.Batch{"both"}, []Batch{dip("one", 1000, 60), dip("two", 1000, 50)}})
	if len(taken) != 1 || plan.Score.Unplaced != 1000 || len(plan.Unplaced) != 1 || plan.Unplaced[0].Batch != "two" &&
		plan.Unplaced[0].Batch != "one" {
		t.Errorf("%+v %+v", plan, taken)
	}
}

// What is done of a batch that can no longer be finished does not stand in the way.
func TestALotBesideWhatIsStuck(t *testing.T) {
	p := berries()
	p.Sessions = []Session{{1080, 1170, 1}}
	dip := func(id string, hands int) Batch {
		return Batch{ID: ident.Batch(id), Penalty: 1, DueMin: 1200,
			Steps: []Operation{{ID: "dip", HandsOnMin: si.Minutes(hands)}}}
	}
	p.Batches = []Batch{dip("one", 30), dip("two", 30), {ID: "stuck", Penalty: 1, DueMin: 1150,
		Steps: []Operation{{ID: "wash", HandsOnMin: 20, Pinned: &Pinned{1080, 0}},
			{ID: "dry", HandsOnMin: 80, After: []After{{Step: "wash"}}}}}}
	without, err := Settle(context.Background(), p, Options{Effort: 100})
	if err != nil {
		t.Fatal(err)
	}
	plan, taken, err := ChooseSplits(context.Background(), Settle, p, without,
		[]BatchSplit{{[]ident.Batch{"one", "two"}, []Batch{dip("both", 40)}}}, Options{Effort: 100})
	if err != nil || len(taken) != 1 || plan.Score.Unplaced != 1 || len(plan.Unplaced) != 1 ||
		plan.Unplaced[0].Batch != "stuck" {
		t.Errorf("%+v %+v %v", plan, taken, err)
	}
}

func TestWhatDoesNotKeepIsNotMerged(t *testing.T) {
	berry := func(id string, readyBy int) Batch {
		return Batch{ID: ident.Batch(id), Penalty: 1, DueMin: si.Minutes(readyBy), ShelfLifeMin: new(si.Minutes(1440)),
			FreshFrom: "dip", Steps: []Operation{{ID: "dip", HandsOnMin: 10}}}
	}
	if _, ok := Merge(berry("both", 0), []Batch{berry("one", 1300), berry("two", 2900)}); ok {
		t.Error("what is fresh for the second is too late for the first")
	}
}
