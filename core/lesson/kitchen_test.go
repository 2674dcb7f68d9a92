package lesson

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/si"
)

// left to a room of 21 °C from 40 °C on, by Newton's law, so many times as slowly as is reckoned; read by a probe with
// noise every five seconds, for so many minutes.
func left(mass si.Grams, times, minutes float64, rng *rand.Rand) Bowl {
	b := Bowl{Mass: mass, Room: 21}
	tau := times * chocolate.TimeConstant(mass)
	for at := 0.0; at <= minutes*60; at += 5 {
		b.Curve = append(b.Curve, pot.Sample{At: at, Value: 21 + 19*math.Exp(-at/60/tau) + rng.NormFloat64()*0.05})
	}
	return b
}

// By hand: 450 g cool with 43 min, and here 30 % slower. Six bowls that show it are believed for two thirds, since three
// are what common practice is worth: about 1.2; the curve says 1.3 of each.
func TestHowBowlsCoolHere(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	var bowls []Bowl
	for i := range 6 {
		b := left(si.Grams(300+100*i), 1.3, 12, rng)
		if r, shown := b.cools(); !shown || math.Abs(r-1.3) > 0.03 {
			t.Errorf("%v g: %v, %v", b.Mass, r, shown)
		}
		bowls = append(bowls, b)
	}
	e, shown := Cools(bowls)
	if !shown || math.Abs(e.Mean-1.2) > 0.02 || e.Batches != 6 || e.From > e.Mean || e.To < e.Mean || e.From < 1 {
		t.Errorf("%+v", e)
	}
}

// What does not show it is not asked: a curve that is short, one that is warmed again and again, one without readings,
// and the part before something was done to the bowl.
func TestWhatShowsNoCooling(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	short := left(450, 1, 2, rng)
	warmed := left(450, 1, 12, rng)
	for i := range warmed.Curve {
		warmed.Curve[i].Value = 31 + math.Sin(float64(i)/6)
	}
	stirred := left(450, 1, 12, rng)
	for at := 60.0; at < 720; at += 120 {
		stirred.Done = append(stirred.Done, at)
	}
	for name, b := range map[string]Bowl{"short": short, "warmed": warmed, "stirred": stirred, "empty": {Mass: 450, Room: 21},
		"colder than the room": {Mass: 450, Room: 50, Curve: left(450, 1, 12, rng).Curve}} {
		if r, shown := b.cools(); shown {
			t.Errorf("%s: %v", name, r)
		}
	}
	if _, shown := Cools([]Bowl{short, warmed}); shown {
		t.Error("nothing shows it, and it is told")
	}
	// Seed that went in after two minutes: only what came then is taken.
	late := left(450, 0.8, 12, rng)
	late.Done = []float64{120}
	if r, shown := late.cools(); !shown || math.Abs(r-0.8) > 0.03 {
		t.Errorf("%v, %v", r, shown)
	}
}
