package practice

import (
	"math"
	"testing"

	"zestytin/core/pot"
	"zestytin/core/temper"
)

// follow the guide through an exercise: what is said is done, some seconds later; a smear is judged as it really is.
func follow(t *testing.T, e Exercise, most float64) Run {
	t.Helper()
	r := Run{Exercise: e, Seed: 11}
	dipped, wait := 0, 0
	for ; r.Now < most; r.Now++ {
		if wait--; wait > 0 {
			continue
		}
		a := r.Seen().Advise()
		if a.Ends > r.Now && (len(a.Touches) == 0 || a.Touches[0].What == temper.Good) {
			continue
		}
		if a.Stage == temper.Working && r.Now > 5 && (e != Alive || dipped == Centres) {
			return r
		}
		if len(a.Touches) == 0 || a.Stage == temper.Cooling {
			continue
		}
		next := a.Touches[0]
		d := temper.Deed{At: r.Now, What: next.What, Seconds: next.Seconds, Low: next.Low, Grams: next.Grams}
		if next.What == temper.Dipped {
			d.Pieces = 2
			dipped += d.Pieces
		}
		if next.What == temper.Good {
			if _, s := r.play(nil); s.Temper() != pot.Ready {
				d.What = temper.Dull
			}
		}
		r.Deeds, wait = append(r.Deeds, d), 8
	}
	t.Fatalf("%s is not over after %v s", e, most)
	return r
}

// Whoever does what is said loses few points, in every exercise.
func TestTheGuideLosesFewPoints(t *testing.T) {
	for _, e := range Exercises() {
		r := follow(t, e, 2400)
		if result := r.Judge(); result.Points < 85 {
			t.Errorf("%s after %v s: %+v", e, r.Now, result)
		}
	}
}

func costs(r Result) map[string]int {
	m := map[string]int{}
	for _, c := range r.Costs {
		m[c.Why.Code] = c.Points
	}
	return m
}

// What spoils the work is told, and costs. By hand: nothing but 90 s at 700 W on 315 g brings it far above 50 °C, and it
// ends molten; nothing done for 40 minutes is neither molten nor tested; seed doubled is much of it, and ends thick.
func TestWhatCostsPoints(t *testing.T) {
	hot := Run{Exercise: Temper, Seed: 1, Now: 120, Deeds: []temper.Deed{{At: 1, What: temper.Burst, Seconds: 90}}}
	if c := costs(hot.Judge()); c["practice.was-too-hot"] != 60 || c["practice.ended-molten"] != 40 ||
		c["practice.no-smear"] != 10 {
		t.Errorf("overheated: %v", c)
	}
	if p := hot.Judge().Points; p != 0 {
		t.Errorf("%d points", p)
	}
	much := follow(t, Temper, 2400)
	for i := range much.Deeds {
		if much.Deeds[i].What == temper.Seeded {
			much.Deeds[i].Grams *= 2
			break
		}
	}
	if c := costs(much.Judge()); c["practice.much-seed"] != 5 ||
		c["practice.ended-thick"] == 0 && c["practice.ended-outside"] == 0 {
		t.Errorf("twice the seed: %v", c)
	}
	idle := Run{Exercise: Alive, Seed: 1, Now: 2400}
	if c := costs(idle.Judge()); c["practice.centres-left"] != 60 || c["practice.took-long"] != 20 {
		t.Errorf("idle: %v", c)
	}
	cold := Run{Exercise: Alive, Seed: 1, Now: 600, Deeds: []temper.Deed{{At: 5, What: temper.Dipped, Pieces: 60}}}
	if c := costs(cold.Judge()); c["practice.dipped-badly"] == 0 && c["practice.ended-thick"] == 0 {
		t.Errorf("sixty at once: %v", c)
	}
	// A bowl that is left as it was found, too warm, would set dull.
	left := Run{Exercise: Rescue, Seed: 1, Now: 60}
	if c := costs(left.Judge()); c["practice.ended-molten"] != 40 {
		t.Errorf("left: %v", c)
	}
}

// The same run is the same whoever looks, and a bowl beyond its longest time stands still.
func TestARunIsAFunctionOfWhatWasDone(t *testing.T) {
	r := Run{Exercise: Temper, Seed: 3, Now: 200, Deeds: []temper.Deed{{At: 2, What: temper.Burst, Seconds: 20}}}
	a, b := r.Seen(), r.Seen()
	for i := range a.Said {
		if a.Said[i] != b.Said[i] {
			t.Fatal("it differs")
		}
	}
	if r.Now = 1e12; len(r.Seen().Said) != Longest+1 {
		t.Errorf("%d seconds", len(r.Seen().Said))
	}
	if r.Now = math.Inf(-1); len(r.Seen().Said) != 0 {
		t.Error("before it began")
	}
}
