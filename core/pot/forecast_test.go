package pot

import (
	"math"
	"testing"

	"gonum.org/v1/gonum/stat/distuv"

	"zestytin/core/chocolate"
	"zestytin/core/si"
)

// Without noise the forecast is Newton's law: of a bowl of 46 °C in a room of 20, with a time constant of 43 min, down to
// 31.5: by hand 43 x ln(26 / 11.5) = 35.08 min.
func TestAForecastByHand(t *testing.T) {
	var said []Sample
	for s := 0.0; s <= 200; s++ {
		said = append(said, Sample{At: s, Value: chocolate.Cooled(46, 20, 450, s/60)})
	}
	f, known := Reaches(said, 20, 31.5)
	if !known || math.Abs(f.At/60-35.08) > 0.02 || f.From > f.At || f.To < f.At || f.To-f.From > 1 {
		t.Errorf("%+v %v", f, known)
	}
	// Gaps and what was before the window change nothing.
	before := append([]Sample{{At: -900, Value: 90}, {At: -600, Value: 21}}, said...)
	before = append(before, Sample{At: 201, Gone: true, Value: 900})
	if g, known := Reaches(before, 20, 31.5); !known || math.Abs(g.At-f.At) > 1e-6 {
		t.Errorf("%+v %v", g, known)
	}
}

// It is silent until it knows: of too few readings, of too short a time, of a bowl that is heated or stands, of one that
// is there already, of what the room never lets happen.
func TestAForecastThatNobodyKnows(t *testing.T) {
	line := func(n int, every, from, by float64) []Sample {
		var list []Sample
		for i := range n {
			list = append(list, Sample{At: float64(i) * every, Value: from + by*float64(i)})
		}
		return list
	}
	shaky := line(60, 1, 40, 0)
	for i := range shaky {
		shaky[i].Value += float64(i%3) - 1
	}
	gone := line(60, 2, 40, -0.02)
	for i := range gone {
		gone[i].Gone = true
	}
	for name, c := range map[string]struct {
		said []Sample
		to   float64
	}{"nothing": {nil, 31}, "few": {line(8, 20, 40, -0.1), 31}, "a short time": {line(30, 1, 40, -0.01), 31},
		"heated": {line(90, 1, 30, 0.1), 31}, "it stands": {line(90, 1, 40, 0), 31}, "it trembles": {shaky, 31},
		"there already": {line(90, 1, 30, -0.01), 31}, "colder than the room": {line(90, 2, 40, -0.02), 19},
		"all gone": {gone, 31}} {
		if f, known := Reaches(c.said, 20, c.to); known {
			t.Errorf("%s: %+v", name, f)
		}
	}
}

// Nine of ten: over 400 simulated melts with a probe each, the temperature that the probe would show is reached between
// the times that were named in 85 to 95 % of the forecasts.
func TestForecastsHoldWhatTheySay(t *testing.T) {
	held, told := 0, 0
	for seed := range uint64(400) {
		grams := 150 + 800*uniform(seed, 1, 'g')
		p := Pot{Mass: si.Grams(grams), At: 44 + 4*uniform(seed, 2, 'g'), Room: 19 + 5*uniform(seed, 3, 'g'),
			Kind: chocolate.Real, Bands: dark}
		probe := Probe{Seed: seed, Lag: 6, Noise: 0.08, Gaps: 0.02}
		list := states(p, nil, 1800)
		said := readAll(probe.In(p.At), list)
		const to = 36 // nothing has set there yet
		f, known := Reaches(said[60:301], p.Room, to)
		if !known {
			continue
		}
		told++
		// What the probe would show without its tremor, to the last digit.
		at, felt := math.Inf(1), p.At
		for i, s := range list[1:] {
			felt = s.Temp + (felt-s.Temp)*math.Exp(-(s.At-list[i].At)/probe.Lag)
			if felt <= to {
				at = s.At
				break
			}
		}
		if at >= f.From-0.5 && at <= f.To+0.5 { // looked at every second
			held++
		}
	}
	share := float64(held) / float64(told)
	if told < 200 || share < 0.85 || share > 0.97 {
		t.Errorf("%d of %d forecasts held: %v", held, told, share)
	}
}

// Student's t against gonum's.
func TestStudent(t *testing.T) {
	for _, v := range []int{1, 2, 5, 6, 8, 10, 30, 120, 1000} {
		want := distuv.StudentsT{Mu: 0, Sigma: 1, Nu: float64(v)}.Quantile(0.95)
		if got := student(v); math.Abs(got-want) > 0.006 {
			t.Errorf("%d: %v, want %v", v, got, want)
		}
	}
	if !math.IsInf(student(0), 1) {
		t.Error("of nothing")
	}
}
