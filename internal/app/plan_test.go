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
