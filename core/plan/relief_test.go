package plan

import (
	"context"
	"slices"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
)

func reliefs(t *testing.T, p *Problem, could Possible) []Suggestion {
	t.Helper()
	present := checked(t, p, Options{})
	if len(present.Unplaced) == 0 {
		t.Fatal("it fits")
	}
	list, err := Reliefs(context.Background(), p, present, []ident.Batch{present.Unplaced[0].Batch}, could)
	if err != nil {
		t.Fatal(err)
	}
	if !slices.IsSortedFunc(list, func(a, b Suggestion) int { return a.Size - b.Size }) {
		t.Errorf("not the smallest first: %+v", list)
	}
	return list
}

func halfHours() (list []int) {
	for n := 30; n <= 2880; n += 30 {
		list = append(list, n)
	}
	return list
}

func relief(list []Suggestion, kind, id string) *Suggestion {
	n := slices.IndexFunc(list, func(r Suggestion) bool { return r.Kind == kind && r.ID == id })
	if n < 0 {
		return nil
	}
	return &list[n]
}

// By hand, as in the bottleneck's case: 15 minutes of hands are missing, so the session goes on for 15; a second person
// would do; ready later does not help, as there is no session later; half the berries take 10 and 18 minutes and fit.
func TestReliefsOfHands(t *testing.T) {
	p := berries()
	p.Batches = append(p.Batches, Batch{ID: "before", Penalty: 5, DueMin: 1220,
		Steps: []Operation{{ID: "boil", HandsOnMin: 140}}})
	p.Batches[0].DueMin = 1400
	half := p.Batches[0]
	half.Steps = slices.Clone(half.Steps)
	half.Steps[0].HandsOnMin, half.Steps[1].HandsOnMin = 10, 18
	list := reliefs(t, p, Possible{Later: halfHours(), Others: []Other{{Name: "half of it", Size: 100,
		Of: []ident.Batch{half.ID}, Instead: []Batch{half}}}})
	if r := relief(list, "hands", ""); r == nil || r.Amount != 15 || r.Session != 0 || len(r.Plan.Unplaced) != 0 {
		t.Errorf("%+v", r)
	}
	if relief(list, "person", "") == nil || relief(list, "other", "half of it") == nil ||
		relief(list, "later", "") != nil || relief(list, "spot", "counter") != nil {
		t.Errorf("%+v", list)
	}
}

// Another has both trays of the counter: two more are needed, for the berries dry on one and set on two, one after the
// other.
func TestReliefsOfPlaces(t *testing.T) {
	p := berries()
	p.Batches = append(p.Batches, Batch{ID: "other", Penalty: 5, DueMin: 2000,
		Steps: []Operation{{ID: "spread", PassiveMin: 600, Storage: "counter", Trays: 2,
			Pinned: &Pinned{Start: 1080}}}})
	p.Batches[0].DueMin = 1600
	list := reliefs(t, p, Possible{Later: halfHours()})
	if r := relief(list, "spot", "counter"); r == nil || r.Amount != 2 {
		t.Errorf("%+v", list)
	}
	if relief(list, "hands", "") != nil {
		t.Errorf("more hands do not help: %+v", list)
	}
}

// The only mould is taken until tomorrow: one more helps, or to be ready once it is free again: 1080 and 600 minutes is
// 1680, in the second session, where it is cast at 2520 at the latest minute that counts: from 2520 on.
func TestReliefsOfToolsAndTime(t *testing.T) {
	p := berries()
	p.Sessions = append(p.Sessions, Session{2520, 2730, 1})
	p.Batches = []Batch{
		{ID: "b1", Penalty: 1, DueMin: 1600, Steps: []Operation{{ID: "cast", HandsOnMin: 30, PassiveMin: 20,
			Takes: []Take{{"mould", 1, "cast"}}}}},
		{ID: "other", Penalty: 5, DueMin: 2000, Steps: []Operation{{ID: "cast", PassiveMin: 600,
			Takes: []Take{{"mould", 1, "cast"}}, Pinned: &Pinned{Start: 1080}}}},
	}
	list := reliefs(t, p, Possible{Later: halfHours()})
	if r := relief(list, "tool", "mould"); r == nil || r.Amount != 1 {
		t.Errorf("%+v", list)
	}
	// Cast from 2520 to 2550, set at 2570: 970 minutes after 1600, in steps of 30: 990.
	if r := relief(list, "later", ""); r == nil || r.Amount != 990 {
		t.Errorf("%+v", r)
	}
}

// Nobody works on the first day, and the berries have 33 minutes of hands with 30 of drying between them: 63 from 600
// on, in steps of 15: 75. With a pot of dark for the dipping it would be 25 more, melted while they dry.
func TestReliefsOfADayThatWasFree(t *testing.T) {
	p := berries()
	p.Batches = append(p.Batches, Batch{ID: "before", Penalty: 5, DueMin: 1290,
		Steps: []Operation{{ID: "boil", HandsOnMin: 200}}})
	list := reliefs(t, p, Possible{Sessions: []Session{{600, 720, 1}, {1000, 1100, 1}}})
	r := relief(list, "day", "")
	if r == nil || r.Session != 0 || r.Amount%15 != 0 || r.Size != troubleOfADay+r.Amount {
		t.Fatalf("%+v", list)
	}
	longer := *p
	longer.Sessions = append([]Session{{600, si.Minutes(600 + r.Amount), 1}}, p.Sessions...)
	if score, broken := Check(&longer, r.Plan); len(broken) > 0 || score.Unplaced > 0 {
		t.Errorf("%v %v", score, broken)
	}
	if relief(list, "later", "") != nil {
		t.Error("nobody said that it could be ready later")
	}
}

// Two batches of one order are both to get in: what helps one of them alone is no help. Each is 60 minutes of hands and
// nothing is free; an hour more would do for one.
func TestReliefsOfSeveral(t *testing.T) {
	p := &Problem{Sessions: []Session{{0, 60, 1}}, Batches: []Batch{{ID: "old", Penalty: 9, DueMin: 60,
		Steps: []Operation{{ID: "s", HandsOnMin: 60}}}}}
	for _, id := range []string{"a", "b"} {
		p.Batches = append(p.Batches, Batch{ID: ident.Batch(id), Penalty: 1, DueMin: 400,
			Steps: []Operation{{ID: "s", HandsOnMin: 60}}})
	}
	present := checked(t, p, Options{})
	list, err := Reliefs(context.Background(), p, present, []ident.Batch{"a", "b"}, Possible{})
	if err != nil {
		t.Fatal(err)
	}
	if r := relief(list, "hands", ""); r == nil || r.Amount != 120 {
		t.Errorf("%+v", list)
	}
}
