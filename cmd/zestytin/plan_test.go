package main

import (
	"bytes"
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

const cases = "../../core/plan/testdata"

// The command answers with the plan that the core makes, the same each time, and a bad problem with one sentence and
// its path.
func TestPlanCommand(t *testing.T) {
	problem, err := os.ReadFile(filepath.Join(cases, "evening-rush.json"))
	if err != nil {
		t.Fatal(err)
	}
	run := func(input string, args ...string) (string, error) {
		var out, says bytes.Buffer
		err := makePlan(context.Background(), args, strings.NewReader(input), &out, &says)
		return out.String(), err
	}
	one, err := run(string(problem), "--effort", "300")
	if err != nil || !strings.Contains(one, `"schema": "zestytin.plan/1"`) || !strings.Contains(one, `"unplaced": 1`) {
		t.Fatalf("%v\n%s", err, one)
	}
	if two, _ := run(string(problem), "--effort", "300"); two != one {
		t.Error("another plan of the same problem")
	}
	for input, want := range map[string]string{
		"nope": "This is not JSON",
		strings.Replace(string(problem), `"hands": 1`, `"hands": -1`,
			1): "sessions[0].hands: -1 is negative",
		strings.ReplaceAll(string(problem), `"trays": 1`,
			`"trays": "x"`): "batches[0].steps[0].trays: This must be a whole number. There are 8 more faults.",
		strings.Replace(string(problem), `"step": "coat"`, `"step": "turn-out"`,
			1): "batches[0].steps[1].after: The steps wait for each other in a circle",
	} {
		_, err := run(input)
		if !errors.As(err, new(badInput)) || !strings.HasPrefix(err.Error(), want) {
			t.Errorf("%v, want %s", err, want)
		}
	}
	for _, args := range [][]string{{"--effort", "-3"}, {"--effort", "x"}, {"problem.json"}} {
		if _, err := run(string(problem), args...); !errors.As(err, new(badInput)) {
			t.Errorf("%v: %v", args, err)
		}
	}
}
