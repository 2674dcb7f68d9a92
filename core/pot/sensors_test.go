package pot

import (
	"math"
	"testing"

	"zestytin/core/chocolate"
)

// readAll of what a sensor says of a list of states.
func readAll(of interface{ Say(State) Sample }, states []State) []Sample {
	list := make([]Sample, len(states))
	for i, s := range states {
		list[i] = of.Say(s)
	}
	return list
}

// A probe that is put into a melt of 46 °C from a room of 20: after one lag it shows 63 % of the difference, after five
// all but 0.7 % (a first-order system). Without noise, drift and gaps that is all it does.
func TestAProbeIsLate(t *testing.T) {
	var list []State
	for i := range 61 {
		list = append(list, State{At: float64(i), Temp: 46})
	}
	said := readAll(Probe{Lag: 6}.In(20), list)
	for at, share := range map[int]float64{6: 1 - math.Exp(-1), 12: 1 - math.Exp(-2), 30: 1 - math.Exp(-5)} {
		if want := 20 + 26*share; math.Abs(said[at].Value-want) > 0.06 {
			t.Errorf("after %d s: %v, want %v", at, said[at].Value, want)
		}
	}
}

// Its tremor has the deviation that it is said to have, its gaps their share, and both are the same whoever asks; over
// an hour it has drifted by what it drifts.
func TestAProbeIsAFunctionOfItsSeed(t *testing.T) {
	var list []State
	for i := range 36_001 {
		list = append(list, State{At: float64(i), Temp: 31})
	}
	p := Probe{Seed: 5, Lag: 5, Noise: 0.2, Drift: 0.3, Gaps: 0.05}
	said, again := readAll(p.In(31), list), readAll(p.In(31), list[:100])
	other := readAll(Probe{Seed: 6, Lag: 5, Noise: 0.2}.In(31), list[:100])
	for i, s := range again {
		if s != said[i] {
			t.Fatalf("%d: %v and %v", i, s, said[i])
		}
	}
	same := 0
	for i := range other {
		if other[i].Value == said[i].Value {
			same++
		}
	}
	if same > 60 {
		t.Errorf("two seeds say the same %d times of 100", same)
	}
	sum, gone := 0.0, 0
	for _, s := range said {
		off := s.Value - 31 - 0.3*s.At/3600
		if sum += off * off; s.Gone {
			gone++
		}
	}
	if d := math.Sqrt(sum / float64(len(said))); math.Abs(d-0.2) > 0.01 {
		t.Errorf("it trembles by %v", d)
	}
	if share := float64(gone) / float64(len(said)); math.Abs(share-0.05) > 0.015 {
		t.Errorf("it is gone %v of the time", share)
	}
	if u := UsualProbe(9); u.Lag < 5 || u.Lag > 8 {
		t.Errorf("%+v", u)
	}
}

// By hand: a bowl of 320 g with 450 in it stands there; tared it shows 0, 105 of seed are 105, and 30 taken out 75. It
// creeps by 4 g an hour, which one sees after half of one.
func TestAScale(t *testing.T) {
	p := Pot{Mass: 450, At: 46, Room: 20, Kind: chocolate.Real, Bands: chocolate.BandsOf(chocolate.Dark)}
	list := states(p, []Deed{{At: 60, What: Add, Grams: 105, Temp: 20}, {At: 120, What: Take, Grams: 30}}, 1860)
	said := readAll(Scale{Lag: 0.6, Step: 1, Bowl: 320, Tares: []float64{30}}.Pan(), list)
	for at, want := range map[int]float64{10: 770, 40: 0, 70: 105, 130: 75} {
		if said[at].Value != want {
			t.Errorf("at %d s: %v, want %v", at, said[at].Value, want)
		}
	}
	if said[61].Value < 50 || said[61].Value > 104 { // it settles
		t.Errorf("a second after: %v", said[61].Value)
	}
	creeps := readAll(Scale{Lag: 0.6, Step: 1, Bowl: 320, Drift: 4, Tares: []float64{30}}.Pan(), list)
	if got := creeps[1830].Value; got != 77 {
		t.Errorf("after half an hour: %v", got)
	}
	if s := UsualScale(3, 300); s.Step != 1 || s.Bowl != 300 {
		t.Errorf("%+v", s)
	}
}
