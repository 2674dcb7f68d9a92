package plan

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/si"
)

// second is a random problem of version 2: chocolates by step, with a changeover that depends on how much it is, some
// steps with two pots, some that follow alone.
func second(seed uint64, batches int) *Problem {
	r := rand.New(rand.NewPCG(seed, 6))
	p := busy(seed, batches, 6, 1+r.IntN(2))
	pots := p.Pots
	p.Schema, p.Pots = ProblemSchema, nil
	for i := range p.Batches {
		for j := range p.Batches[i].Steps {
			s := &p.Batches[i].Steps[j]
			if s.Pot == "" {
				continue
			}
			s.Pots = []Use{{s.Pot, si.Minutes(5 + r.IntN(30)), si.Minutes(10 + r.IntN(60))}}
			if other := pots[r.IntN(3)].ID; other != s.Pot && r.IntN(3) == 0 {
				s.Pots = append(s.Pots, Use{other, si.Minutes(5 + r.IntN(20)), si.Minutes(10 + r.IntN(60))})
			}
			s.Pot = ""
			if len(s.After) == 1 && r.IntN(3) == 0 {
				s.After[0].Alone = true
				before := &p.Batches[i].Steps[j-1]
				if before.ID == s.After[0].Step && before.PassiveMin > 30 {
					before.PassiveMin = 10
				}
			}
		}
	}
	return p
}

// Every plan of a random problem of version 2 keeps its rules, by a proof that shares nothing with the planner.
func TestRandomProblemsOfTheSecondVersion(t *testing.T) {
	placed := 0
	for seed := range uint64(60) {
		p := second(seed, 6+int(seed%10))
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			plan := checked(t, p, Options{Effort: 60})
			placed += len(p.Batches) - len(plan.Unplaced)
			for _, u := range plan.Unplaced {
				if u.Reason == "" || u.Short != "" || u.Why != "" {
					t.Errorf("%+v", u)
				}
			}
		})
	}
	if placed < 300 {
		t.Errorf("only %d batches found room", placed)
	}
}

// swirl of two colours: both are melted before either is spread, and the second follows the first with nothing between,
// within 5 minutes.
func swirl() *Problem {
	both := []Use{{"dark", 14, 20}, {"white", 6, 30}}
	return &Problem{Schema: ProblemSchema, Washdown: 15, Sessions: []Session{{1080, 1290, 1}},
		Batches: []Batch{{ID: "bark", Penalty: 1, DueMin: 2000, FreshFrom: "first", Steps: []Operation{
			{ID: "first", HandsOnMin: 4, Pots: both},
			{ID: "second", HandsOnMin: 6, Pots: both[1:], After: []After{{Step: "first", Max: new(si.Minutes(5)),
				Alone: true}}},
		}}}}
}

// By hand: the session ends at 1290, so the second begins at 1284 and the first at 1280; 20 minutes of melting both
// begin at 1260. The score is 20 and 720.
func TestASwirlMeltsBothFirst(t *testing.T) {
	p := swirl()
	plan := checked(t, p, Options{})
	if plan.Schema != PlanSchema || plan.Score != (Score{Setup: 20, AgeAtHandover: 720}) ||
		plan.Steps[0].Changeover != 20 || plan.Steps[1].Changeover != 0 || plan.Steps[1].Start != 1284 {
		t.Errorf("%+v", plan)
	}
	// A truffle of the same dark goes on in it, before or after, and not between.
	p.Batches = append(p.Batches, Batch{ID: "dip", Penalty: 1, DueMin: 2000,
		Steps: []Operation{{ID: "dip", HandsOnMin: 3, Pots: []Use{{"dark", 14, 20}}}}})
	if plan = checked(t, p, Options{}); plan.Score.Setup != 20 && plan.Score.Setup != 26 {
		t.Errorf("%+v", plan)
	}
	between := Plan{Schema: PlanSchema, Steps: []ScheduledOperation{{Batch: "bark", Step: "first", Start: 1200,
		Changeover: 20, Melts: []ident.Pot{"dark", "white"}}, {Batch: "dip", Step: "dip", Start: 1204},
		{Batch: "bark", Step: "second", Start: 1207, Changeover: 6, Melts: []ident.Pot{"white"}}}}
	if _, broken := Check(p, &between); !slices.ContainsFunc(broken, func(v Violation) bool { return v.Rule == 4 }) {
		t.Errorf("what comes between passes: %v", broken)
	}
}

// By hand. White for peanut centres at first; then a bark that must be free from peanut, of the same white, in the same
// session: 15 minutes of washing down, and the pot is emptied with it: 8 minutes of melting. In version 1 the pot
// stayed ready. The bark first: one melt, no washing.
func TestAWashdownEmptiesThePots(t *testing.T) {
	use := []Use{{"white", 8, 200}}
	p := &Problem{Schema: ProblemSchema, Washdown: 15, Sessions: []Session{{0, 200, 1}}, Batches: []Batch{
		{ID: "centres", Penalty: 1, DueMin: 1000, Contains: []string{"peanut"},
			Steps: []Operation{{ID: "dip", HandsOnMin: 20, Pots: use, Pinned: &Pinned{20, 0}}}},
		{ID: "bark", Penalty: 1, DueMin: 1000, FreeFrom: []string{"peanut"}, ReleaseMin: 40,
			Steps: []Operation{{ID: "spread", HandsOnMin: 10, Pots: use}}},
	}}
	plan := checked(t, p, Options{})
	if s := plan.Steps[1]; s.Batch != "bark" || s.Washdown != 15 || s.Changeover != 8 || plan.Score.Setup != 8+8+15 {
		t.Errorf("%+v", plan)
	}
	p.Batches[0].Steps[0].Pinned, p.Batches[1].ReleaseMin = nil, 0
	if plan = checked(t, p, Options{}); plan.Score.Setup != 8 || plan.Steps[0].Batch != "bark" {
		t.Errorf("the bark does not go first: %+v", plan)
	}
}

func TestReadingTheSecondVersion(t *testing.T) {
	want := swirl()
	text, err := Write(want)
	if err != nil {
		t.Fatal(err)
	}
	got, err := Read(text)
	if err != nil || !reflect.DeepEqual(got.Batches[0].Steps[0].Pots, want.Batches[0].Steps[0].Pots) ||
		!got.Batches[0].Steps[1].After[0].Alone {
		t.Fatalf("%+v (%v)", got, err)
	}
	for name, bad := range map[string]struct{ text, path string }{
		"a list of pots":           {`{"schema": "zestytin.plan-problem/2", "pots": []}`, "pots"},
		"a pot as before":          {`{"schema": "zestytin.plan-problem/2", "batches": [{"id": "b", "ready_by": 9, "steps": [{"id": "s", "hands": 1, "pot": "dark"}]}]}`, "batches[0].steps[0].pot"},
		"seventeen pots":           {`{"schema": "zestytin.plan-problem/2", "batches": [{"id": "b", "ready_by": 9, "steps": [{"id": "s", "hands": 1, "pots": [` + strings.Repeat(`{"pot": "p", "changeover": 1, "holds": 1},`, 16) + `{"pot": "q", "changeover": 1, "holds": 1}]}]}]}`, "batches[0].steps[0].pots"},
		"a pot twice":              {`{"schema": "zestytin.plan-problem/2", "batches": [{"id": "b", "ready_by": 9, "steps": [{"id": "s", "hands": 1, "pots": [{"pot": "a", "changeover": 1, "holds": 1}, {"pot": "a", "changeover": 1, "holds": 1}]}]}]}`, "batches[0].steps[0].pots[1].pot"},
		"without a changeover":     {`{"schema": "zestytin.plan-problem/2", "batches": [{"id": "b", "ready_by": 9, "steps": [{"id": "s", "hands": 1, "pots": [{"pot": "a", "holds": 1}]}]}]}`, "batches[0].steps[0].pots[0].changeover"},
		"alone in words":           {`{"schema": "zestytin.plan-problem/2", "batches": [{"id": "b", "ready_by": 9, "steps": [{"id": "r", "hands": 1}, {"id": "s", "hands": 1, "after": [{"step": "r", "alone": "yes"}]}]}]}`, "batches[0].steps[1].after[0].alone"},
		"of a version of tomorrow": {`{"schema": "zestytin.plan-problem/3"}`, "schema"},
	} {
		_, err := Read([]byte(bad.text))
		if err == nil || !json.Valid([]byte(bad.text)) {
			t.Errorf("%s passes", name)
			continue
		}
		if faults := faultsOf(err); len(faults) == 0 || faults[0] != bad.path {
			t.Errorf("%s: %v, want %s", name, faults, bad.path)
		}
	}
}

func faultsOf(err error) (paths []string) {
	var faults *invalid.Error
	if errors.As(err, &faults) {
		for _, f := range faults.Fields {
			paths = append(paths, f.Path)
		}
	}
	return paths
}

// The problem in the document gives the plan in the document.
func TestTheDocumentedExample(t *testing.T) {
	text, err := os.ReadFile("../../docs/plan-problem-2.md")
	if err != nil {
		t.Fatal(err)
	}
	blocks := strings.Split(string(text), "```")
	problem, err := Read([]byte(strings.TrimPrefix(blocks[1], "json")))
	if err != nil {
		t.Fatal(err)
	}
	made, err := Make(context.Background(), problem, Options{})
	if err != nil {
		t.Fatal(err)
	}
	var want Plan
	if err := json.Unmarshal([]byte(strings.TrimPrefix(blocks[len(blocks)-2], "json")), &want); err != nil {
		t.Fatal(err)
	}
	got, err := json.Marshal(made)
	if err != nil {
		t.Fatal(err)
	}
	if told, _ := json.Marshal(want); string(got) != string(told) {
		t.Errorf("got %s, documented %s", got, told)
	}
}
