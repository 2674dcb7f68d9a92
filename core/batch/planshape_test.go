package batch

import (
	"bytes"
	"encoding/json"
	"slices"
	"testing"
)

// The steps of every family's card have the shape of the plan format ("zestytin.plan-problem/2"): its names and no
// others, whole minutes, every step after ones that come before it, tools that there are enough of, gaps that can be
// kept.
func TestStepsHaveThePlanFormat(t *testing.T) {
	type planStep struct {
		ID    string `json:"id"`
		Hands int    `json:"hands"`
		Wait  int    `json:"wait"`
		Place string `json:"place"`
		Trays int    `json:"trays"`
		Pots  []struct {
			Pot        string `json:"pot"`
			Changeover int    `json:"changeover"`
			Holds      int    `json:"holds"`
		} `json:"pots"`
		Takes []struct {
			Tool  string `json:"tool"`
			Count int    `json:"count"`
			Until string `json:"until"`
		} `json:"takes"`
		After []struct {
			Step  string `json:"step"`
			Min   int    `json:"min"`
			Max   *int   `json:"max"`
			Alone bool   `json:"alone"`
		} `json:"after"`
	}
	for name, of := range families {
		c := card(t, of(), 90)
		seen := []string{}
		for _, s := range c.Steps {
			text, err := json.Marshal(s.Operation)
			if err != nil {
				t.Fatal(err)
			}
			var step planStep
			d := json.NewDecoder(bytes.NewReader(text))
			d.DisallowUnknownFields()
			if err := d.Decode(&step); err != nil {
				t.Fatalf("%s: %s: %v", name, text, err)
			}
			if step.ID == "" || slices.Contains(seen, step.ID) || step.Hands < 1 || step.Wait < 0 {
				t.Errorf("%s: %s", name, text)
			}
			if (step.Place == "") != (step.Trays == 0) || step.Place != "" &&
				!slices.Contains([]string{"counter", "fridge", "freezer"}, step.Place) {
				t.Errorf("%s: %s fills %d trays of %q", name, step.ID, step.Trays, step.Place)
			}
			for _, a := range step.After {
				if !slices.Contains(seen, a.Step) || a.Min < 0 || a.Max != nil && *a.Max < a.Min {
					t.Errorf("%s: %s comes after %+v", name, step.ID, a)
				}
			}
			for _, take := range step.Takes {
				if c.Tool == nil || take.Tool != string(c.Tool.ID) || take.Count < 1 || take.Count > c.Tool.Count ||
					!slices.ContainsFunc(c.Steps, func(s Step) bool { return string(s.ID) == take.Until }) {
					t.Errorf("%s: %s takes %+v of %+v", name, step.ID, take, c.Tool)
				}
			}
			if len(seen) > 0 && len(step.After) == 0 {
				t.Errorf("%s: %s hangs in the air", name, step.ID)
			}
			for _, u := range step.Pots {
				if u.Changeover < 1 || u.Holds < 1 || !slices.ContainsFunc(c.Pots,
					func(p Pot) bool { return string(p.Key) == u.Pot }) {
					t.Errorf("%s: %s needs %+v", name, step.ID, u)
				}
			}
			seen = append(seen, step.ID)
		}
		if !slices.Contains(seen, string(c.FreshFrom)) {
			t.Errorf("%s: its age begins with %q", name, c.FreshFrom)
		}
	}
}
