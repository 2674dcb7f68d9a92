package plan

import (
	"context"
	"slices"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
)

const day = DayMinutes

// shells are made, filled when they have set, and keep a week: two people on Tuesday evening (day 1), one on the
// evenings before and after.
func shells() (Problem, CommittedBatch) {
	p := Problem{
		Sessions: []Session{{1080, 1290, 1}, {day + 1080, day + 1290, 2}, {2*day + 1080, 2*day + 1290, 1}},
		Places:   []StorageResource{{ID: "fridge", Trays: 4}}, Tools: []MouldResource{{"ball", 4}},
		Pots: []Pot{{"dark", 25, 60}}, Washdown: 15,
	}
	return p, CommittedBatch{Batch{ID: "b", Penalty: 1, DueMin: 4 * day, FreshFrom: "cast",
		ShelfLifeMin: new(si.Minutes(7 * day)), Steps: []Operation{
			{ID: "cast", HandsOnMin: 20, PassiveMin: 30, Storage: "fridge", Trays: 2, Pot: "dark",
				Takes: []Take{{"ball", 4, "turn"}}},
			{ID: "turn", HandsOnMin: 10, After: []After{{Step: "cast"}}},
			{ID: "fill", HandsOnMin: 30, After: []After{{Step: "turn"}}},
		}}, map[ident.Step]Scheduled{"cast": {Start: day + 1105, Changeover: 25}, "turn": {Start: day + 1155},
		"fill": {Start: day + 1165}}}
}

func settle(t *testing.T, p *Problem) *Plan {
	t.Helper()
	made, err := Settle(context.Background(), p, Options{})
	if err != nil {
		t.Fatal(err)
	}
	return made
}

// By hand: it is 18:20 and nothing is melted, so that casting begins at 18:45 and not at 18:25 as planned, though that
// is still to come.
func TestMeltingTakesTimeThatIsStillToCome(t *testing.T) {
	p, b := shells()
	problem := CurrentProblem(p, day+1100, []CommittedBatch{b})
	made := settle(t, problem)
	for _, s := range made.Steps {
		if s.Batch == "b" && s.From() < day+1100 {
			t.Errorf("%s begins at %d, before it is %d", s.Step, s.From(), day+1100)
		}
	}
	if moved := Moves(problem.Previous, made); len(moved) == 0 {
		t.Error("nothing moves")
	}
}

// Nothing has begun: the plan stays as it is, though the last evening would be fresher.
func TestWhatIsPlannedStaysAsItIs(t *testing.T) {
	p, b := shells()
	problem := CurrentProblem(p, 600, []CommittedBatch{b})
	made := settle(t, problem)
	if moved := Moves(problem.Previous, made); len(moved) != 0 || len(made.Steps) != 3 || made.Score.Setup != 25 {
		t.Errorf("%+v %+v", moved, made)
	}
}

// By hand: the casting was to be done by 18:45 and was ticked at 19:10, so it began at 18:50. It sets until 19:40;
// turning then, at 19:40 instead of 19:15, and filling at 19:50 instead of 19:25.
func TestWhatIsLateMovesTheRest(t *testing.T) {
	p, b := shells()
	cast := b.At["cast"]
	cast.Done = new(si.Minutes(day + 1150))
	b.At["cast"] = cast
	problem := CurrentProblem(p, day+1150, []CommittedBatch{b})
	if got := problem.Batches[0].Steps[0].Pinned; got == nil || *got != (Pinned{day + 1130, 0}) {
		t.Fatalf("done at %+v", got)
	}
	made := settle(t, problem)
	moved := Moves(problem.Previous, made)
	if len(moved) != 2 || moved[0].To.Start != day+1180 || moved[1].To.Start != day+1190 {
		t.Errorf("%+v", moved)
	}
}

// Three ticks at once, at 20:30: one person did one after the other as they are written, so the filling lasted from
// 20:00, the turning from 19:50 and the casting from 19:30.
func TestTickedAtOnce(t *testing.T) {
	p, b := shells()
	for id, at := range b.At {
		at.Done = new(si.Minutes(day + 1230))
		b.At[id] = at
	}
	problem := CurrentProblem(p, day+1230, []CommittedBatch{b})
	for i, want := range []si.Minutes{day + 1170, day + 1190, day + 1200} {
		if got := problem.Batches[0].Steps[i].Pinned; got == nil || got.Start != want {
			t.Errorf("step %d at %+v, want %d", i, got, want)
		}
	}
	settle(t, problem)
}

// What was done when nobody was to work, on the Wednesday morning, widens the past and leaves the day ahead as it is.
func TestDoneOutsideOfTheHours(t *testing.T) {
	p, b := shells()
	cast := b.At["cast"]
	cast.Done, cast.Hand = new(si.Minutes(2*day+660)), 3
	b.At["cast"] = cast
	cast.Start = 2*day + 700
	b.At["cast"] = cast
	problem := CurrentProblem(p, 2*day+660, []CommittedBatch{b})
	// 640 to 660, and 25 minutes of melting before.
	if !slices.Contains(problem.Sessions, Session{2*day + 615, 2*day + 660, 1}) ||
		!slices.Contains(problem.Sessions, p.Sessions[2]) {
		t.Errorf("%+v", problem.Sessions)
	}
	if made := settle(t, problem); len(made.Unplaced) != 0 {
		t.Errorf("%+v", made.Unplaced)
	}
}

// A pin holds while there is such a time: not when the day is off, and not when it has passed.
func TestPinsHoldWhileTheyCan(t *testing.T) {
	p, b := shells()
	turn := b.At["turn"]
	turn.Pinned, turn.Start, turn.Hand = true, day+1200, 1
	b.At["turn"] = turn
	pinned := func(p Problem, now int) bool {
		return CurrentProblem(p, si.Minutes(now), []CommittedBatch{b}).Batches[0].Steps[1].Pinned != nil
	}
	off := p
	off.Sessions = []Session{p.Sessions[0], p.Sessions[2]}
	alone := p
	alone.Sessions = slices.Clone(p.Sessions)
	alone.Sessions[1].People = 1
	if !pinned(p, 600) || pinned(off, 600) || pinned(alone, 600) || pinned(p, day+1201) {
		t.Error("a pin holds where it cannot, or does not where it can")
	}
	if made := settle(t, CurrentProblem(off, 600, []CommittedBatch{b})); len(made.Unplaced) != 0 {
		t.Errorf("a day off is no reason not to make it: %+v", made.Unplaced)
	}
}

// What was to be ready is left out, and so is what is done of it.
func TestTooLateForAPlan(t *testing.T) {
	p, b := shells()
	if got := CurrentProblem(p, 4*day, []CommittedBatch{b}); len(got.Batches) != 0 {
		t.Errorf("%+v", got.Batches)
	}
}

// Nobody works any more before it must be ready, after it was planned: what is short is told from when to when.
func TestShortWhereNobodyWorks(t *testing.T) {
	p, b := shells()
	p.Sessions = []Session{{5*day + 1080, 5*day + 1290, 1}}
	made := settle(t, CurrentProblem(p, 600, []CommittedBatch{b}))
	if len(made.Unplaced) != 1 || made.Unplaced[0].From >= made.Unplaced[0].To {
		t.Errorf("%+v", made.Unplaced)
	}
}

// What is done leaves no time for the rest: that batch is out, the others stay.
func TestStuckBatchesDoNotStopTheOthers(t *testing.T) {
	p, b := shells()
	p.Sessions = p.Sessions[:2]
	cast := b.At["cast"]
	cast.Done = new(si.Minutes(day + 1280))
	b.At["cast"] = cast
	other := CommittedBatch{Batch{ID: "other", Penalty: 1, DueMin: 4 * day,
		Steps: []Operation{{ID: "boil", HandsOnMin: 10}}}, nil}
	made := settle(t, CurrentProblem(p, day+1280, []CommittedBatch{b, other}))
	if len(made.Unplaced) != 1 || made.Unplaced[0].Batch != "b" || made.Unplaced[0].Reason != Begun ||
		!slices.ContainsFunc(made.Steps, func(s ScheduledOperation) bool { return s.Batch == "other" }) ||
		made.Score.Unplaced != 1 {
		t.Errorf("%+v", made)
	}
}

// By hand: the trays are filled from 18:45, when the hands are off, until the turning begins at 19:15; the moulds are
// held from 18:25 until it is done at 19:25.
func TestFillByHand(t *testing.T) {
	p, b := shells()
	problem := CurrentProblem(p, 600, []CommittedBatch{b})
	want := []Filled{{"b", "cast", "", "ball", 4, day + 1105, day + 1165},
		{"b", "cast", "fridge", "", 2, day + 1125, day + 1155}}
	if got := Fill(problem, settle(t, problem)); !slices.Equal(got, want) {
		t.Errorf("%+v", got)
	}
}

// In whatever plan: nowhere is more filled than there is, as the independent proof of rule 5 says too.
func TestFillIsNeverTooMuch(t *testing.T) {
	p := busy(5, 30, 7, 2)
	list := Fill(p, checked(t, p, Options{Effort: 100}))
	for _, at := range list {
		sum, there := 0, 0
		for _, f := range list {
			if f.Place == at.Place && f.Tool == at.Tool && f.From <= at.From && at.From < f.To {
				sum += f.Amount
			}
		}
		for _, x := range p.Places {
			if x.ID == at.Place {
				there = x.Trays
			}
		}
		for _, x := range p.Tools {
			if x.ID == at.Tool {
				there = x.Count
			}
		}
		if sum > there {
			t.Errorf("%d of %d are taken at %+v", sum, there, at)
		}
	}
	if len(list) < 20 {
		t.Errorf("the test sees too little: %d", len(list))
	}
}

// By hand: casting was to begin at 18:05 with the melting and nobody is there before 18:30. It is melted by 18:55, cast
// by 19:15 and set at 19:45; turned then, filled from 19:55. What is done by another person is not held up.
func TestSlipByHand(t *testing.T) {
	p, b := shells()
	other := CommittedBatch{Batch{ID: "other", Penalty: 1, DueMin: 4 * day,
		Steps: []Operation{{ID: "boil", HandsOnMin: 10}, {ID: "beat", HandsOnMin: 5, After: []After{{Step: "boil"}}}}},
		map[ident.Step]Scheduled{"boil": {Start: day + 1090, Hand: 1, Done: new(si.Minutes(day + 1100))},
			"beat": {Start: day + 1200, Hand: 1}}}
	problem := CurrentProblem(p, day+1110, []CommittedBatch{b, other})
	got := map[string]int{}
	for _, m := range ProjectDelays(problem, problem.Previous, day, 2*day) {
		got[string(m.To.Step)] = int(m.To.Start - day)
	}
	for step, want := range map[string]int{"cast": 1135, "turn": 1185, "fill": 1195, "beat": 1200} {
		if got[step] != want {
			t.Errorf("%s at %d, want %d", step, got[step], want)
		}
	}
	if len(got) != 4 {
		t.Errorf("%v", got)
	}
}

// What is half done stays where it is, and so does what works from its pot: at 1110 the shells of one batch are done,
// its lines are to come at 1140 from a pot that is melted for them, and another batch works from it at 1150.
func TestASearchBeginsWithWhatIsHalfDone(t *testing.T) {
	p := berries()
	p.Sessions = []Session{{1080, 1320, 1}}
	p.Batches = []Batch{
		{ID: "half", Penalty: 1, DueMin: 1400, Steps: []Operation{{ID: "wash", HandsOnMin: 20,
			Pinned: &Pinned{1080, 0}}, {ID: "dip", HandsOnMin: 10, Pot: "dark", After: []After{{Step: "wash"}}}}},
		{ID: "other", Penalty: 1, DueMin: 1400, Steps: []Operation{{ID: "dip", HandsOnMin: 10, Pot: "dark"}}},
	}
	p.Previous = &Plan{Steps: []ScheduledOperation{{Batch: "half", Step: "dip", Start: 1140},
		{Batch: "other", Step: "dip", Start: 1150}}}
	s := newSearch(p)
	s.begin(p.Previous)
	for j := range s.batches {
		if !s.whole(j) {
			t.Errorf("%s is not where it stands", p.Batches[j].ID)
		}
	}
}
