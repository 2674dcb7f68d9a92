package pot

import (
	"math"
	"testing"

	"zestytin/core/si"
)

// saidOf a scale, second by second: what lies in the cup at each.
func saidOf(c Scale, seconds int, grams func(at int) float64) []Sample {
	states := make([]State, seconds)
	for i := range states {
		states[i] = State{At: float64(i), Mass: si.Grams(grams(i))}
	}
	return readAll(c.Pan(), states)
}

// Set to nothing at 0 with the cup on it, 100 g poured at 60 s, and 12 g an hour of creep: after 40 min the scale shows
// 100 + 12·40/60 = 108 g. That it creeps is believed once it has wandered 2 g; then 100 g are told, within a step.
// A scale that does not creep is left alone to the gram, and so is one under a slow hand (a gram of sprinkles every ten
// seconds: 360 g an hour).
func TestACreepingScaleIsSetRight(t *testing.T) {
	poured := func(at int) float64 {
		if at < 60 {
			return 0
		}
		return 100
	}
	for _, drift := range []float64{12, -12, 60, 4} {
		said := saidOf(Scale{Lag: 0.6, Step: 1, Drift: drift, Bowl: 86, Tares: []float64{0}}, 2401, poured)
		if shown, want := said[2400].Value, 100+drift*40/60; math.Abs(shown-want) > 0.51 {
			t.Fatalf("%v g an hour: the scale shows %v, by hand %v", drift, shown, want)
		}
		var l Level
		var told Sample
		for _, s := range said {
			told = l.Hear(s)
		}
		if math.Abs(told.Value-100) > 1 {
			t.Errorf("%v g an hour: %v g are told, want 100", drift, told.Value)
		}
		if math.Abs(l.Rate()-drift) > 0.15*math.Abs(drift)+0.5 {
			t.Errorf("%v g an hour: %v found", drift, l.Rate())
		}
	}
	for name, grams := range map[string]func(int) float64{
		"steady":    poured,
		"slow hand": func(at int) float64 { return float64(at / 10) },
	} {
		var l Level
		for _, s := range saidOf(Scale{Lag: 0.6, Step: 1, Bowl: 86, Tares: []float64{0}}, 2401, grams) {
			if told := l.Hear(s); told.Value != s.Value {
				t.Fatalf("%s: %v is told at %v s, the scale said %v", name, told.Value, s.At, s.Value)
			}
		}
	}
}

// By hand: at 36 g an hour, set to nothing at 0 and again at 20 min with something on it: at 30 min 36·10/60 = 6 g are
// taken off, not 18. A gap in the readings, and a reading that is none, change nothing.
func TestATaringBeginsAnew(t *testing.T) {
	c := Scale{Lag: 0.6, Step: 1, Drift: 36, Bowl: 86, Tares: []float64{0, 1200}}
	said := saidOf(c, 1801, func(at int) float64 {
		switch {
		case at < 30:
			return 0
		case at < 1300:
			return 250
		}
		return 290
	})
	var l Level
	var told Sample
	for i, s := range said {
		if i > 400 && i < 700 {
			continue
		}
		if i%50 == 7 {
			s.Gone, s.Value = true, 9999
		}
		told = l.Hear(s)
	}
	if l.Tared() != 1200 {
		t.Errorf("set to nothing at %v s", l.Tared())
	}
	if math.Abs(l.Off()-6) > 0.7 || math.Abs(told.Value-40) > 1.2 {
		t.Errorf("%v g are taken off, %v told; by hand 6 and 40", l.Off(), told.Value)
	}
}
