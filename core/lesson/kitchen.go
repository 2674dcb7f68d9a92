package lesson

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/learn"
	"zestytin/core/pot"
	"zestytin/core/si"
)

// Bowl that is over, with its curve.
type Bowl struct {
	Mass  si.Grams
	Room  float64      // °C
	Curve []pot.Sample // °C by s
	Done  []float64    // s at which something was done to it
}

// A stretch of a curve that shows how a bowl cools: so long, so deep, without rising by more than a probe's noise
// (memory).
const (
	stretch = 180.0 // s
	deep    = 2.0   // K
	noise   = 0.3   // K
)

// Cools is how much longer or shorter bowls of this kitchen keep their warmth than is reckoned (rules 3.4): the time
// constant of Newton's law over 43 min (m / 450 g)^(1/3). false where no curve shows it.
func Cools(bowls []Bowl) (learn.Estimate, bool) {
	var ratios []float64
	for i := range bowls {
		if r, shown := bowls[i].cools(); shown {
			ratios = append(ratios, r)
		}
	}
	return learn.Level(1, priorBowls, priorSpread, ratios, learn.HalfLife), len(ratios) > 0
}

// cools by the longest stretch in which a bowl was left to the room.
func (b *Bowl) cools() (ratio float64, shown bool) {
	from, best, end := 0, 0, 0
	lowest := 0.0
	for i, s := range b.Curve {
		if i == from {
			lowest = s.Value
		}
		done := func(at float64) bool { return i > 0 && at > b.Curve[i-1].At && at <= s.At }
		if s.Value > lowest+noise || slices.ContainsFunc(b.Done, done) {
			from, lowest = i, s.Value
		}
		lowest = min(lowest, s.Value)
		if s.At-b.Curve[from].At > b.Curve[end].At-b.Curve[best].At {
			best, end = from, i
		}
	}
	if len(b.Curve) == 0 || b.Curve[end].At-b.Curve[best].At < stretch ||
		b.Curve[best].Value-b.Curve[end].Value < deep {
		return 0, false
	}
	readings := make([]chocolate.Reading, 0, end-best+1)
	for _, s := range b.Curve[best : end+1] {
		if s.Value > b.Room {
			readings = append(readings, chocolate.Reading{Minute: s.At / 60, At: s.Value})
		}
	}
	c, err := chocolate.Cool(readings, b.Room)
	if err != nil || c.Rate <= 0 || b.Mass <= 0 {
		return 0, false
	}
	return 1 / c.Rate / chocolate.TimeConstant(b.Mass), true
}
