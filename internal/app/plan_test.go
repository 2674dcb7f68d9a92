package app_test

import (
	"os"
	"strings"
	"testing"
)

// The server makes the plan that the command makes, and tells what is wrong with a problem by its path.
func TestPlanOfAProblem(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	text, err := os.ReadFile("../../core/plan/testdata/two-chocolates.json")
	if err != nil {
		t.Fatal(err)
	}
	plan := p.must(200, "POST", "/calculators/plan", string(text))
	if score := plan["score"].(object); plan["schema"] != "zestytin.plan/1" || score["unplaced"] != 1.0 ||
		score["setup"] != 105.0 || score["age"] != 9145.0 {
		t.Errorf("%v", plan["score"])
	}
	if left := plan["unplaced"].([]any); len(left) != 1 || left[0].(object)["batch"] != "bomb5" ||
		left[0].(object)["short"] != "window" {
		t.Errorf("%v: ten steps of 260 minutes do not go into an evening of 240", left)
	}
	p.problem(422, "body.sessions[0].to", "before it starts",
		p.send("POST", "/calculators/plan", strings.Replace(string(text), `"to": 2730`, `"to": 30`, 1)))
	p.problem(422, "body.batches[0].steps[1].after", "in a circle",
		p.send("POST", "/calculators/plan", strings.Replace(string(text), `"step": "dip"`, `"step": "bag"`, 1)))
	p.problem(422, "query.effort", "at most", p.send("POST", "/calculators/plan?effort=1000000", string(text)))
}

// What fills the days is what is planned on them: by treat and with melting and washing down it comes to the plan's own
// sums, before and after a promise.
func TestWhatFillsTheDays(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	look := func() (byTreat map[string]float64, setup, open float64) {
		view := p.must(200, "GET", "/plan?days=14", nil)
		byTreat = map[string]float64{}
		all := 0.0
		for _, d := range view["days"].([]any) {
			day := d.(object)
			taken := day["setup"].(float64)
			for i, f := range day["fills"].([]any) {
				fill := f.(object)
				minutes := fill["minutes"].(float64)
				byTreat[fill["treat"].(string)] += minutes
				taken += minutes
				if before := day["fills"].([]any); i > 0 && before[i-1].(object)["minutes"].(float64) < minutes {
					t.Errorf("%v: not the most first: %v", day["day"], before)
				}
			}
			steps := 0.0
			for _, s := range day["steps"].([]any) {
				if step := s.(object); step["short"] != true {
					steps += step["hands"].(float64) + step["melt"].(float64) + step["wash"].(float64)
				}
			}
			if taken != steps {
				t.Errorf("%v: %v minutes by treat, %v by step", day["day"], taken, steps)
			}
			if hours := day["hours"].([]any); (len(hours) == 0) != (day["open"].(float64) == 0) {
				t.Errorf("%v has hours %v and %v minutes of hands", day["day"], hours, day["open"])
			}
			setup, open, all = setup+day["setup"].(float64), open+day["open"].(float64), all+taken
		}
		if all != view["planned"].(float64) || setup != view["setup"].(float64) {
			t.Errorf("%v and %v by day, the plan says %v and %v", all, setup, view["planned"], view["setup"])
		}
		return byTreat, setup, open
	}
	before, _, open := look()
	if len(before) == 0 || open == 0 {
		t.Fatalf("nothing is planned: %v", before)
	}
	id := p.must(201, "POST", "/orders", p.draft("Nougat cubes", 24))["id"]
	p.move(200, id, "promised")
	after, _, stays := look()
	if after["Nougat cubes"] <= before["Nougat cubes"] || stays != open {
		t.Errorf("24 cubes take %v, before %v; hours %v and %v", after["Nougat cubes"], before["Nougat cubes"], stays, open)
	}
	// A day off has no hours; what was on it went elsewhere.
	p.must(200, "POST", "/plan/changes", object{"kind": "off", "day": "2026-09-12"})
	if _, _, less := look(); less >= open {
		t.Errorf("with a day off %v minutes of hands, before %v", less, open)
	}
}
