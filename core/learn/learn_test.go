package learn

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"gonum.org/v1/gonum/stat/distuv"
)

// The example of rules 4.12: 13 of 118 lost in 9 batches, begun from 6 %: about 10 %, between 6 and 15. By hand: Beta
// (0.06 x 20 + 13, 0.94 x 20 + 105) has the mean 14.2 / 138 = 0.1029.
func TestAShareOfWhatIsLost(t *testing.T) {
	nine := []Tally{{11, 1}, {12, 2}, {10, 0}, {13, 3}, {9, 1}, {12, 2}, {14, 1}, {12, 2}, {12, 1}}
	e := Share(0.06, nine, 0)
	if math.Abs(e.Mean-14.2/138) > 1e-12 || e.Batches != 9 || e.Counts != 118 {
		t.Errorf("%+v", e)
	}
	if math.Abs(e.From-0.06) > 0.006 || math.Abs(e.To-0.15) > 0.006 {
		t.Errorf("between %v and %v", e.From, e.To)
	}
	if !e.Suggests(0.05) || e.Suggests(0.08) || Share(0.06, nine[:2], 0).Suggests(0.3) {
		t.Error("it is suggested where enough was seen and does not agree, and else not")
	}
	if e := Share(0.06, nil, 0); math.Abs(e.Mean-0.06) > 1e-12 || e.Counts != 0 {
		t.Errorf("begun: %+v", e)
	}
}

// Fading: by hand, two batches of ten, twenty batches apart: weights 1 and 1/2, counting for 15 x 15 / (10 + 2.5) = 18
// pieces, at the share (2 + 0) / 15.
func TestOldBatchesFade(t *testing.T) {
	batches := make([]Tally, 21)
	batches[0], batches[20] = Tally{8, 2}, Tally{10, 0}
	e := Share(0.05, batches, HalfLife)
	if math.Abs(e.Counts-18) > 1e-9 || math.Abs(e.Mean-(1+18*2.0/15)/38) > 1e-9 {
		t.Errorf("%+v", e)
	}
}

// Quantiles against gonum's (of a Beta with a shape far below 1 they meet in the probability, where both are all but 0
// or 1), and Fisher and Yates, Statistical Tables (memory): t of 5 and 10 degrees at 95 % is 2.015
// and 1.812; chi squared of 10 degrees at 5 and 95 % is 3.940 and 18.307.
func TestQuantiles(t *testing.T) {
	for _, a := range []float64{0.1, 0.5, 1, 2.5, 14.2, 60, 400} {
		for _, p := range []float64{0.001, 0.05, 0.3, 0.5, 0.95, 0.999} {
			for _, b := range []float64{0.5, 1, 18.8, 123.8, 900} {
				want := distuv.Beta{Alpha: a, Beta: b}.Quantile(p)
				if got := BetaQuantile(a, b, p); math.Abs(got-want) > 1e-7*max(want, 1e-3) &&
					math.Abs(betaShare(a, b, got)-p) > 1e-9 {
					t.Errorf("Beta(%v, %v) at %v: %v, gonum says %v", a, b, p, got, want)
				}
			}
			want := distuv.Gamma{Alpha: a, Beta: 1}.Quantile(p)
			if got := GammaQuantile(a, p); math.Abs(got-want) > 1e-6*max(want, 1e-6) {
				t.Errorf("Gamma(%v) at %v: %v, gonum says %v", a, p, got, want)
			}
		}
	}
	for _, c := range []struct{ freedom, want float64 }{{5, 2.015}, {10, 1.812}} {
		if got := StudentQuantile(c.freedom, 0.95); math.Abs(got-c.want) > 5e-4 {
			t.Errorf("t of %v: %v", c.freedom, got)
		}
	}
	if low, high := 2*GammaQuantile(5, 0.05), 2*GammaQuantile(5, 0.95); math.Abs(low-3.940) > 5e-4 ||
		math.Abs(high-18.307) > 5e-4 {
		t.Errorf("chi squared: %v, %v", low, high)
	}
}

// Nine of ten spreads hold what is true, in a thousand kitchens whose shares and paces are as varied as common practice
// supposes: between 88 and 92 %, without fading (fixed seed).
func TestSpreadsHold(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 12))
	source := rand.NewPCG(7, 30)
	const kitchens = 1000
	shares, paces, levels := 0, 0, 0
	for range kitchens {
		truth := distuv.Beta{Alpha: PriorPieces * 0.06, Beta: PriorPieces * 0.94, Src: source}.Rand()
		var batches []Tally
		for range 9 {
			n, lost := 6+rng.IntN(30), 0
			for range n {
				if rng.Float64() < truth {
					lost++
				}
			}
			batches = append(batches, Tally{n - lost, lost})
		}
		if Share(0.06, batches, 0).Holds(truth) {
			shares++
		}
		pace := 1 / (distuv.Gamma{Alpha: PriorBatches*shape + 1, Beta: PriorBatches * shape, Src: source}.Rand())
		var took []Took
		for range 6 {
			reckoned := 10 + 50*rng.Float64()
			took = append(took, Took{Minutes: reckoned * distuv.Gamma{Alpha: shape, Beta: shape / pace, Src: source}.Rand(),
				Reckoned: reckoned})
		}
		if Pace(took, 0).Holds(pace) {
			paces++
		}
		// A level whose spread is unknown: as varied as its begin is worth, drawn as the model has it.
		variance := 0.2 * 0.2 * 50 * 50 * 3 / distuv.ChiSquared{K: 3, Src: source}.Rand()
		level := distuv.Normal{Mu: 50, Sigma: math.Sqrt(variance / 3), Src: source}.Rand()
		var values []float64
		for range 5 {
			values = append(values, distuv.Normal{Mu: level, Sigma: math.Sqrt(variance), Src: source}.Rand())
		}
		if Level(50, 3, 0.2, values, 0).Holds(level) {
			levels++
		}
	}
	for name, held := range map[string]int{"shares": shares, "paces": paces, "levels": levels} {
		if share := float64(held) / kitchens; share < 0.88 || share > 0.92 {
			t.Errorf("%s: %.3f of the spreads hold", name, share)
		}
	}
}

// Norris, of the Statistical Reference Datasets of NIST (the data and the certified values from memory): intercept
// -0.262323073774029, slope 1.00211681802045, residual deviation 0.884796396144373, with standard deviations 0.232818234301152
// and 0.429796848199937e-3.
func TestSetUpAndPiecesToldApart(t *testing.T) {
	norris := [][2]float64{{0.1, 0.2}, {338.8, 337.4}, {118.1, 118.2}, {888.0, 884.6}, {9.2, 10.1}, {228.1, 226.5},
		{668.5, 666.3}, {998.5, 996.3}, {449.1, 448.6}, {778.9, 777.0}, {559.2, 558.2}, {0.3, 0.4}, {0.1, 0.6}, {778.1, 775.5},
		{668.8, 666.9}, {339.3, 338.0}, {448.9, 447.5}, {10.8, 11.6}, {557.7, 556.0}, {228.3, 228.1}, {998.0, 995.8},
		{888.8, 887.6}, {119.6, 120.2}, {0.3, 0.3}, {0.6, 0.3}, {557.6, 556.8}, {339.3, 339.1}, {888.0, 887.2}, {998.5, 999.0},
		{778.9, 779.0}, {10.2, 11.1}, {117.6, 118.3}, {228.9, 229.2}, {668.4, 669.1}, {449.2, 448.9}, {0.2, 0.5}}
	var took []Took
	for _, row := range norris {
		took = append(took, Took{Minutes: row[0], Pieces: row[1]})
	}
	l, ok := Regress(took)
	for name, pair := range map[string][2]float64{"set-up": {l.SetUp, -0.262323073774029}, "piece": {l.Piece, 1.00211681802045},
		"off": {l.Off, 0.884796396144373}, "set-up off": {l.SetUpOff, 0.232818234301152},
		"piece off": {l.PieceOff, 0.429796848199937e-3}} {
		if !ok || math.Abs(pair[0]-pair[1]) > 1e-9*math.Abs(pair[1]) {
			t.Errorf("%s: %v, certified %v", name, pair[0], pair[1])
		}
	}
	// Counts that are alike tell nothing apart.
	if _, ok := Regress([]Took{{20, 20, 24}, {22, 20, 24}, {19, 20, 25}}); ok {
		t.Error("24, 24 and 25 pieces are told apart")
	}
}

// By hand: three batches at 1.2 times of what was reckoned, begun at 1 worth three: (48 + 48 x 1.2) / 96 = 1.1.
func TestPace(t *testing.T) {
	e := Pace([]Took{{12, 10, 0}, {24, 20, 0}, {36, 30, 0}, {0, 10, 0}}, 0)
	if math.Abs(e.Mean-1.1) > 1e-12 || e.Batches != 3 || e.Counts != 3 || e.From > 1 || e.To < 1.1 {
		t.Errorf("%+v", e)
	}
	var slow []Took
	for range 12 {
		slow = append(slow, Took{15, 10, 0})
	}
	if e := Pace(slow, 0); !e.SuggestsPace() {
		t.Errorf("twelve batches at half as long again: %+v", e)
	}
}

// By hand: Maren ticks at 10:00, 10:12 and twice at 10:42, of which 20 and 10 minutes were planned; Bo at 10:05. Her second
// step took 12 minutes, the two 20 and 10; the first of each cannot be told, nor what follows on three hours away.
func TestMinutesFromTicks(t *testing.T) {
	at := func(minute float64) time.Time {
		return time.Date(2026, 9, 3, 10, 0, 0, 0, time.UTC).Add(time.Duration(minute * float64(time.Minute)))
	}
	took := FromTicks([]Tick{{"maren", "a", "wash", at(0), 10}, {"bo", "b", "melt", at(5), 10},
		{"maren", "a", "dip", at(12), 15}, {"maren", "a", "line", at(42), 20}, {"maren", "a", "box", at(42.5), 10},
		{"maren", "c", "cut", at(222), 10}, {"bo", "b", "pour", at(9), 5}})
	want := []float64{0, 0, 12, 30.5 * 2 / 3, 30.5 / 3, 0, 4}
	for i := range want {
		if math.Abs(took[i]-want[i]) > 1e-9 {
			t.Errorf("%d: %v minutes, not %v", i, took[i], want[i])
		}
	}
}
