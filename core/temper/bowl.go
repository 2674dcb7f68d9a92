// Package temper tells what to do next with a bowl of chocolate on the counter, from what a thermometer has said and
// what has been done to it. It knows no device and no clock: times are in s from when the bowl was begun.
package temper

import (
	"zestytin/core/chocolate"
	"zestytin/core/si"
)

// Bowl as it is begun.
type Bowl struct {
	Kind   chocolate.Kind   `json:"kind"`
	Colour chocolate.Colour `json:"colour"`
	Bands  chocolate.Bands  `json:"bands"`
	Method chocolate.Method `json:"method"`
	Source chocolate.Source `json:"source"`
	Mass   si.Grams         `json:"mass"`  // of all, what is held back as seed included
	Room   float64          `json:"room"`  // °C, where the seed lies
	Watts  float64          `json:"watts"` // that the microwave or the bath brings into a bowl; 0: as usual
	Pieces int              `json:"pieces,omitempty"`
	Coat   si.Grams         `json:"coat,omitempty"` // that a piece carries away; 0: nobody knows
	Pool   si.Grams         `json:"pool,omitempty"` // that must stay in the bowl to work from
}

// Seed that is held back when the bowl is begun: the share of the heat balance from the middle of the melting band to
// that of the working one (rules 4.3).
func (b Bowl) Seed() si.Grams {
	if b.Method != chocolate.Seed {
		return 0
	}
	return b.Mass.Times(chocolate.SeedShare(b.Bands.Melt.Mid(), b.work().Mid(), b.Room))
}

func (b Bowl) work() chocolate.Range { return chocolate.Working(b.Method, b.Kind, b.Bands) }

// tempered says whether it must keep its crystals once it has them.
func (b Bowl) tempered() bool { return b.Kind == chocolate.Real && b.Method != chocolate.NoTemper }

// hottest that it may become while it melts: the top of the melting band, the ceiling of a gentle melt, and 50 °C where
// it is not tempered (memory; coating scorches as chocolate does).
func (b Bowl) hottest() float64 {
	switch {
	case b.Method == chocolate.Gentle:
		return chocolate.Ceiling(b.Bands)
	case b.tempered():
		return b.Bands.Melt.To
	}
	return 50
}

// molten is where to stop heating: a degree into the melting band, since it goes on rising; short of its top where it
// must keep its crystals or is not tempered.
func (b Bowl) molten() float64 {
	switch {
	case b.Method == chocolate.Gentle:
		return b.work().Mid()
	case b.tempered():
		return b.Bands.Melt.From + 1
	}
	return b.work().Mid()
}

// power into the bowl in W.
func (b Bowl) power() float64 {
	if b.Watts > 0 {
		return b.Watts
	}
	return b.Source.Power()
}

// Deed is something that somebody did to the bowl and said so.
type Deed struct {
	At      float64 // s
	What    What
	Seconds float64  // Burst
	Low     bool     // Burst: at the lowest power
	Grams   si.Grams // Seeded, Added, Took; Weigh: that are wanted
	Pieces  int      // Dipped
}

// What was done.
type What string

const (
	Burst  What = "burst"  // the microwave runs, or it is held over the bath for a moment
	On     What = "on"     // onto the bath
	Chill  What = "chill"  // into cool water, stirring
	Off    What = "off"    // off the bath, or out of the water
	Seeded What = "seeded" // seed is in
	Added  What = "added"  // more of the bag, to be melted
	Took   What = "took"   // poured or piped out
	Dipped What = "dipped" // pieces went through
	Weigh  What = "weigh"  // the scale is set to nothing, and so much is to be weighed out
	Smear  What = "smear"  // a smear lies on the paper
	Good   What = "good"   // and has set glossy
	Dull   What = "dull"   // or has not
	Anew   What = "anew"   // it is melted anew
)

// Whats are all deeds.
func Whats() []What {
	return []What{Burst, On, Chill, Off, Seeded, Added, Took, Dipped, Weigh, Smear, Good, Dull, Anew}
}

// Low power of a microwave, as a share of its whole (memory: ovens are set in tenths, and the
// lowest that melt at all bring about a fifth).
const Low = 0.2

// Smears set within 5 minutes (rules 3.5).
const Smears = 300

// seedFor is what cools so many g of a melt from a temperature to the middle of the working band.
func (b Bowl) seedFor(grams si.Grams, from float64) si.Grams {
	share := chocolate.SeedShare(from, b.work().Mid(), b.Room)
	if share >= 1 || share <= 0 {
		return 0
	}
	return grams.Times(share / (1 - share))
}

// Longest bursts in s: chocolate that must keep its crystals must not be hot anywhere, and milk and white burn sooner
// than dark (rules 3.1, common practice: 30 s, then 15, then 5 to 10).
func (b Bowl) longest() float64 {
	switch {
	case b.Method == chocolate.Gentle:
		return 15
	case b.Colour == chocolate.Milk, b.Colour == chocolate.White:
		return 20
	}
	return 30
}

// Seconds of the next burst for so many g that are at a temperature: what would bring them there if nothing of them
// were solid, so that it never runs too long; what is solid takes the difference, and another burst follows.
func (b Bowl) Seconds(grams si.Grams, from, to, watts float64) float64 {
	return min(max((to-from)*float64(grams)*chocolate.HeatLiquid/watts, 2), b.longest())
}

// RewarmSeconds of a bowl in its temper at the lowest power, to the middle of its band and never within 0.3 K of the
// ceiling; of coating at full power, 5 to 10 s (rules 3.4).
func (b Bowl) RewarmSeconds(grams si.Grams, from, watts float64) (seconds float64, low bool) {
	to := b.work().Mid()
	if !b.tempered() {
		return min(max((to-from)*float64(grams)*chocolate.HeatLiquid/watts, 5), 10), false
	}
	to = min(to, chocolate.Ceiling(b.Bands)-0.3)
	if b.Source == chocolate.Bath { // steam has no lowest power
		return (to - from) * float64(grams) * chocolate.HeatLiquid / watts, false
	}
	return max((to-from)*float64(grams)*chocolate.HeatLiquid/(watts*Low), 1), true
}
