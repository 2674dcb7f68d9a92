package plan

import (
	"slices"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// A valid plan, and each rule broken on its own. Two people from 0 to 400; ganache is made, rests, is dipped in dark by
// person 0; nut bark is poured by person 1 and pops, which must be free of nuts, come after a washdown.
func proven() (*Problem, *Plan) {
	p := &Problem{Schema: ProblemSchema1, Washdown: 15,
		Sessions: []Session{{0, 400, 2}, {1000, 1400, 1}},
		Places:   []StorageResource{{ID: "fridge", Trays: 2}},
		Tools:    []MouldResource{{"mould", 1}},
		Pots:     []Pot{{"dark", 25, 60}},
		Batches: []Batch{
			{ID: "truffles", Penalty: 2, DueMin: 500, ShelfLifeMin: new(si.Minutes(480)), FreshFrom: "ganache",
				Steps: []Operation{
					{ID: "ganache", HandsOnMin: 20, PassiveMin: 60, Storage: "fridge", Trays: 1},
					{ID: "dip", HandsOnMin: 30, PassiveMin: 15, Pot: "dark",
						After: []After{{Step: "ganache", Max: new(si.Minutes(100))}}},
				}},
			{ID: "bark", Penalty: 1, DueMin: 1300, Contains: []string{"tree-nut"}, Steps: []Operation{
				{ID: "pour", HandsOnMin: 20, PassiveMin: 60, Storage: "fridge", Trays: 2,
					Takes: []Take{{"mould", 1, "pour"}}},
			}},
			{ID: "pops", Penalty: 1, DueMin: 1300, FreeFrom: []string{"tree-nut"}, Steps: []Operation{
				{ID: "cast", HandsOnMin: 30, PassiveMin: 20, Pot: "dark", Takes: []Take{{"mould", 1, "cast"}}},
			}},
		},
	}
	// The ganache is in the fridge from 40 to 130, the bark from 160 on; the pot of dark is ready at 130 and holds to
	// 220.
	return p, &Plan{Schema: PlanSchema1, Steps: []ScheduledOperation{
		{Batch: "truffles", Step: "ganache", Start: 20, Hand: 0},
		{Batch: "truffles", Step: "dip", Start: 130, Hand: 0, Changeover: 25},
		{Batch: "bark", Step: "pour", Start: 140, Hand: 1},
		{Batch: "pops", Step: "cast", Start: 250, Hand: 0, Changeover: 25, Washdown: 15},
	}}
}

// By hand: 25 and 25 minutes of changeover and 15 of washdown; the ganache is 480 minutes old at 500, the bark ends at
// 220 and the pops at 300, 1080 and 1000 minutes before 1300.
func TestAValidPlan(t *testing.T) {
	p, plan := proven()
	score, broken := Check(p, plan)
	if len(broken) > 0 || score != (Score{Setup: 65, AgeAtHandover: 480 + 1080 + 1000}) {
		t.Errorf("%v %+v", broken, score)
	}
}

func TestEveryRuleIsFoundBroken(t *testing.T) {
	at := func(plan *Plan, batch ident.Batch, step ident.Step) *ScheduledOperation {
		return &plan.Steps[slices.IndexFunc(plan.Steps, func(s ScheduledOperation) bool {
			return s.Batch == batch &&
				s.Step == step
		})]
	}
	tests := map[string]struct {
		rule  int
		spoil func(p *Problem, plan *Plan)
	}{
		"half a batch":                     {1, func(_ *Problem, plan *Plan) { plan.Steps = plan.Steps[1:] }},
		"a batch neither placed nor named": {1, func(_ *Problem, plan *Plan) { plan.Steps = plan.Steps[:3] }},
		"a batch placed and named": {1, func(_ *Problem,
			plan *Plan) {
			plan.Unplaced = []Unplaced{{Batch: "bark"}}
		}},
		"a step twice":    {1, func(_ *Problem, plan *Plan) { plan.Steps = append(plan.Steps, plan.Steps[0]) }},
		"an unknown step": {1, func(_ *Problem, plan *Plan) { plan.Steps[0].Step = "boil" }},
		"a pinned batch left out": {1, func(p *Problem, plan *Plan) {
			p.Batches[2].Steps[0].Pinned = &Pinned{Start: 250}
			plan.Steps, plan.Unplaced = plan.Steps[:3], []Unplaced{{Batch: "pops"}}
		}},
		"outside of the session":    {2, func(_ *Problem, plan *Plan) { at(plan, "pops", "cast").Start = 380 }},
		"a person who is not there": {2, func(_ *Problem, plan *Plan) { at(plan, "bark", "pour").Hand = 2 }},
		"two things at a time":      {2, func(_ *Problem, plan *Plan) { at(plan, "bark", "pour").Hand = 0 }},
		"setup before the session": {2, func(p *Problem, plan *Plan) {
			p.Sessions[0].From = 10
			p.Pots[0].Changeover = 125
			at(plan, "truffles", "dip").Changeover = 125
		}},
		"setup while busy": {2, func(p *Problem, plan *Plan) {
			p.Pots[0].Changeover = 95
			at(plan,
				"truffles", "dip").Changeover = 95
		}},
		"before what it waits for": {4, func(p *Problem, _ *Plan) { p.Batches[0].Steps[1].After[0].Min = 31 }},
		"too long after it": {4, func(p *Problem, _ *Plan) {
			p.Batches[0].Steps[1].After[0].Max = new(
				si.Minutes(29))
		}},
		"a full place":                {5, func(_ *Problem, plan *Plan) { at(plan, "bark", "pour").Start = 105 }},
		"a tool held twice":           {5, func(p *Problem, _ *Plan) { p.Batches[1].Steps[0].PassiveMin = 91 }},
		"no changeover":               {6, func(_ *Problem, plan *Plan) { at(plan, "truffles", "dip").Changeover = 0 }},
		"a changeover too many":       {6, func(p *Problem, _ *Plan) { p.Pots[0].Holds = 90 }},
		"no washdown":                 {7, func(_ *Problem, plan *Plan) { at(plan, "pops", "cast").Washdown = 0 }},
		"a washdown for nothing":      {7, func(p *Problem, _ *Plan) { p.Batches[2].FreeFrom = []string{"wheat"} }},
		"a washdown while it goes on": {7, func(p *Problem, _ *Plan) { p.Batches[1].Steps[0].HandsOnMin = 71 }},
		"together with what it must be free from": {7, func(p *Problem, plan *Plan) {
			p.Batches[0].FreeFrom = []string{"tree-nut"}
		}},
		"started together": {7, func(p *Problem, plan *Plan) {
			p.Batches[0].FreeFrom = []string{"tree-nut"}
			at(plan, "bark", "pour").Start = 130
		}},
		"before it may":      {8, func(p *Problem, _ *Plan) { p.Batches[1].ReleaseMin = 141 }},
		"too late":           {8, func(p *Problem, _ *Plan) { p.Batches[1].DueMin = 219 }},
		"spoiled":            {8, func(p *Problem, _ *Plan) { p.Batches[0].ShelfLifeMin = new(si.Minutes(479)) }},
		"spoiled at its end": {8, func(p *Problem, _ *Plan) { p.Batches[1].ShelfLifeMin = new(si.Minutes(1079)) }},
		"not where it is pinned": {9, func(p *Problem, _ *Plan) {
			p.Batches[1].Steps[0].Pinned = &Pinned{Start: 141,
				Hand: 1}
		}},
	}
	for name, test := range tests {
		t.Run(name, func(t *testing.T) {
			p, plan := proven()
			test.spoil(p, plan)
			if _, broken := Check(p, plan); !slices.ContainsFunc(broken,
				func(v Violation) bool { return v.Rule == test.rule }) {
				t.Errorf("rule %d is not found broken: %v", test.rule, broken)
			}
		})
	}
}

// What only pinned steps break has happened; what breaks a rule with one that is not pinned has not.
func TestPinnedStepsAreExcusedAmongThemselves(t *testing.T) {
	p, plan := proven()
	plan.Steps[2].Hand = 0 // the bark is poured while the truffles are dipped, by the same person
	for i, batch := range []int{0, 0, 1} {
		step := &p.Batches[batch].Steps[i%2*(1-batch)]
		step.Pinned = &Pinned{plan.Steps[i].Start, plan.Steps[i].Hand}
	}
	if _, broken := Check(p, plan); len(broken) > 0 {
		t.Errorf("%v", broken)
	}
	p.Batches[1].Steps[0].Pinned = nil
	if _, broken := Check(p, plan); len(broken) == 0 {
		t.Error("one of them is not pinned")
	}
}
