package plan

import (
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/si"
	"zestytin/internal/text/said"
)

const sound = `{"schema": "zestytin.plan-problem/1", "sessions": [{"from": 1080, "to": 1290, "hands": 2}], "places": [{"id": "fridge", "trays": 4}],
	"tools": [{"id": "mould", "count": 2}], "pots": [{"id": "dark", "changeover": 25, "holds": 60}], "washdown": 15,
	"batches": [{"id": "b1", "ready_by": 4320, "keeps": 2880, "fresh_from": "dip", "contains": ["milk"], "free_from": ["peanut"], "steps": [
		{"id": "wash", "hands": 20, "wait": 30, "place": "fridge", "trays": 1},
		{"id": "dip", "hands": 35, "pot": "dark", "takes": [{"tool": "mould", "count": 1, "until": "dip"}], "after": [{"step": "wash", "max": 120}], "pinned": {"start": 1180, "hand": 0}}]}]}`

func TestReadingAProblem(t *testing.T) {
	p, err := Read([]byte(sound))
	if err != nil {
		t.Fatal(err)
	}
	want := Batch{ID: "b1", Penalty: 1, DueMin: 4320, ShelfLifeMin: new(si.Minutes(2880)), FreshFrom: "dip",
		Contains: []string{"milk"}, FreeFrom: []string{"peanut"}, Steps: []Operation{
			{ID: "wash", HandsOnMin: 20, PassiveMin: 30, Storage: "fridge", Trays: 1, Takes: []Take{},
				After: []After{}},
			{ID: "dip", HandsOnMin: 35, Pot: "dark", Takes: []Take{{"mould", 1, "dip"}},
				After: []After{{"wash", 0, new(si.Minutes(120)), false}}, Pinned: &Pinned{1180, 0}}}}
	if !reflect.DeepEqual(p.Batches, []Batch{want}) || p.Washdown != 15 || p.Sessions[0] != (Session{1080, 1290, 2}) {
		t.Errorf("%+v", p)
	}
	if p, err = Read([]byte(`{"sessions": [{"from": 0, "to": 5}]}`)); err != nil || p.Sessions[0].People != 1 ||
		p.Washdown != 0 {
		t.Errorf("%+v %v: what is optional has its default", p, err)
	}
	if text, err := Write(p); err != nil || !json.Valid(text) {
		t.Error(err)
	}
}

// Each fault is told with its path in one sentence.
func TestBadProblems(t *testing.T) {
	tests := map[string]struct{ old, new, path, says string }{
		"not JSON":       {`{"schema"`, `{schema`, "", "This is not JSON"},
		"another schema": {"plan-problem/1", "plan-problem/9", "schema", "a problem is"},
		"no list":        {`"pots": [`, `"pots": 3, "x": [`, "pots", "must be a list"},
		"no number":      {`"hands": 35`, `"hands": "many"`, "batches[0].steps[1].hands", "whole number"},
		"half a minute": {`"hands": 35`, `"hands": 3.5`, "batches[0].steps[1].hands",
			"3.5 is not a whole number"},
		"a missing number":        {`"ready_by": 4320, `, ``, "batches[0].ready_by", "missing"},
		"a negative number":       {`"wait": 30`, `"wait": -30`, "batches[0].steps[0].wait", "-30 is negative"},
		"a number beyond all":     {`"wait": 30`, `"wait": 1e30`, "batches[0].steps[0].wait", "too large"},
		"an end before its start": {`"to": 1290`, `"to": 1000`, "sessions[0].to", "before it starts"},
		"sessions that overlap": {`"sessions": [`, `"sessions": [{"from": 1200, "to": 1400},`, "sessions[0].from",
			"overlaps"},
		"an unknown place": {`"place": "fridge"`, `"place": "moon"`, "batches[0].steps[0].place",
			`no place “moon”`},
		"an unknown pot": {`"pot": "dark"`, `"pot": "pink"`, "batches[0].steps[1].pot", `no pot “pink”`},
		"an unknown tool": {`"tool": "mould"`, `"tool": "spoon"`, "batches[0].steps[1].takes[0].tool",
			`no tool “spoon”`},
		"an unknown step": {`"step": "wash"`, `"step": "rinse"`, "batches[0].steps[1].after[0].step",
			`no step “rinse”`},
		"until an unknown step": {`"until": "dip"`, `"until": "end"`, "batches[0].steps[1].takes[0].until",
			`no step “end”`},
		"fresh from nowhere": {`"fresh_from": "dip"`, `"fresh_from": "x"`, "batches[0].fresh_from", `no step “x”`},
		"a circle": {`"wait": 30,`, `"wait": 30, "after": [{"step": "dip"}],`,
			"batches[0].steps[0].after", "wash → dip → wash"},
		"one id twice":         {`"id": "wash"`, `"id": "dip"`, "batches[0].steps[1].id", `another step “dip”`},
		"no steps":             {`"steps": [`, `"steps": [], "x": [`, "batches[0].steps", "at least one step"},
		"pinned to no session": {`"start": 1180`, `"start": 9000`, "batches[0].steps[1].pinned.start", "No session"},
		"pinned to nobody": {`"hand": 0`, `"hand": 2`, "batches[0].steps[1].pinned.hand",
			"Person 2 does not work"},
		"two pinned on one hand": {`"wait": 30,`, `"wait": 30, "pinned": {"start": 1170, "hand": 0},`,
			"batches[0].steps[1].pinned", "nobody does two steps at a time"},
	}
	for name, test := range tests {
		t.Run(name, func(t *testing.T) {
			text := strings.Replace(sound, test.old, test.new, 1)
			if text == sound {
				t.Fatal("nothing was changed")
			}
			_, err := Read([]byte(text))
			var faults *invalid.Error
			if !errors.As(err, &faults) {
				t.Fatalf("%v", err)
			}
			for _, f := range faults.Fields {
				if f.Path == test.path && strings.Contains(said.Error(f.Err), test.says) {
					return
				}
			}
			t.Errorf("%v, want %s: %s", err, test.path, test.says)
		})
	}
}

func TestTooManySteps(t *testing.T) {
	p := berries()
	for n := range 5000 {
		p.Batches = append(p.Batches, Batch{ID: ident.Batch(fmt.Sprint("x", n)),
			Steps: []Operation{{ID: "a"}, {ID: "b"}}})
	}
	if err := p.Check(); err == nil || !strings.HasPrefix(said.Error(err),
		"batches: These are 10,002 steps; give at most 5,000") {
		t.Error(err)
	}
}

// A step longer than any session is no fault of the problem: its batch finds no place.
func TestAStepLongerThanAnySession(t *testing.T) {
	p := berries()
	p.Batches[0].Steps[0].HandsOnMin = 500
	if plan := checked(t, p, Options{}); len(plan.Unplaced) != 1 || plan.Unplaced[0].Reason != Window &&
		plan.Unplaced[0].Short != "window" {
		t.Errorf("%+v", plan)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(sound)
	f.Add(`{"sessions": null, "batches": [{}]}`)
	f.Fuzz(func(t *testing.T, text string) {
		if p, err := Read([]byte(text)); err == nil && p.Check() != nil {
			t.Error("it was read and does not make sense")
		}
	})
}
