package plan

import (
	"context"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"zestytin/core/si"
)

// casesDir has the planning cases that came with the problem, and the best scores that were known of them.
const casesDir = "testdata"

func readCase(t testing.TB, name string) *Problem {
	t.Helper()
	text, err := os.ReadFile(filepath.Join(casesDir, name+".json"))
	if err != nil {
		t.Fatal(err)
	}
	p, err := Read(text)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// checked makes a plan and proves it.
func checked(t testing.TB, p *Problem, o Options) *Plan {
	t.Helper()
	plan, err := Make(context.Background(), p, o)
	if err != nil {
		t.Fatal(err)
	}
	score, broken := Check(p, plan)
	for _, v := range broken {
		t.Error(v)
	}
	if score != plan.Score {
		t.Errorf("the plan says %+v, its steps come to %+v", plan.Score, score)
	}
	return plan
}

// The best scores known for the cases, reached or beaten.
func TestBestKnown(t *testing.T) {
	text, err := os.ReadFile(filepath.Join(casesDir, "best-known.json"))
	if err != nil {
		t.Fatal(err)
	}
	var best map[string][3]int
	if err := json.Unmarshal(text, &best); err != nil {
		t.Fatal(err)
	}
	for name, want := range best {
		t.Run(name, func(t *testing.T) {
			got := checked(t, readCase(t, name), Options{}).Score
			if (Score{Unplaced: want[0], Setup: si.Minutes(want[1]), AgeAtHandover: si.Minutes(want[2])}).Less(got) {
				t.Errorf("%+v, best known is %v", got, want)
			}
		})
	}
}
