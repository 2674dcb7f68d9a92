package temper

import (
	"cmp"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/si"
)

// course of a bowl, as it follows from what was said and done.
type course struct {
	Bowl
	stage   Stage
	in      si.Grams
	stirred float64 // s when the last seed went in
	pieces  int
	on      bool    // over the bath
	chill   bool    // in cool water
	rate    float64 // K/s by which the last readings rise
	burst   Deed    // the last
	smear   float64
	weigh   si.Grams
	tested  bool // a smear lies
	dull    bool // the last did not set
	temp    float64
	read    float64
	heard   bool
	above   int // readings in a row above the ceiling
	below   int // and below where it can be warmed again
	sure    int // readings that it takes to believe either
	bursts  []rise
	pending *rise
}

// sure is how many readings of a probe in a row must say so before a bowl is given up: one may lie. What somebody has
// read and typed is believed.
func (w Watch) sure() int {
	if w.Probe {
		return 3
	}
	return 1
}

// follow what was said and done, in the order of its time.
func (w Watch) follow(said []pot.Sample) *course {
	c := &course{Bowl: w.Bowl, stage: Melting, in: w.Mass - w.Seed(), sure: w.sure()}
	deeds := slices.Clone(w.Deeds)
	slices.SortStableFunc(deeds, func(x, y Deed) int { return cmp.Compare(x.At, y.At) })
	for _, s := range said {
		for len(deeds) > 0 && deeds[0].At <= s.At {
			c.do(deeds[0])
			deeds = deeds[1:]
		}
		c.hear(s)
	}
	for _, d := range deeds {
		if d.At <= w.Now {
			c.do(d)
		}
	}
	return c
}

// do what was done.
func (c *course) do(d Deed) {
	d.Grams, d.Pieces = max(d.Grams, 0), max(d.Pieces, 0)
	switch d.What {
	case Burst:
		c.start(d)
	case On:
		c.on = true
	case Chill:
		c.chill = true
	case Off:
		c.on, c.chill = false, false
		if c.stage == Melting && c.heard && c.temp >= c.ready() {
			c.melted()
		}
	case Seeded:
		c.in, c.stirred, c.dull, c.weigh = c.in+d.Grams, d.At, false, 0
		if c.tempered() {
			c.stage, c.tested = Cooling, false
			c.Method = chocolate.Seed // seeded after all, whatever it was begun with
		}
	case Added:
		c.in, c.weigh = c.in+d.Grams, 0
	case Took:
		c.in, c.weigh = max(c.in-d.Grams, 0), 0
	case Dipped:
		c.pieces += d.Pieces
		c.in = max(c.in-c.Coat.Times(float64(d.Pieces)), 0)
	case Weigh:
		c.weigh = d.Grams
	case Smear:
		c.smear, c.tested = d.At, true
	case Good:
		c.stage, c.tested = Working, false
	case Dull:
		c.tested, c.dull = false, true
		if c.stage = Testing; c.Method == chocolate.ThreePoint {
			c.stage = Cooling
		}
	case Anew:
		*c = course{Bowl: c.Bowl, stage: Melting, in: c.in, pieces: c.pieces, temp: c.temp, read: c.read, heard: c.heard,
			bursts: c.bursts, burst: c.burst, sure: c.sure}
		if c.Method == chocolate.Gentle {
			c.Method = chocolate.Seed // its crystals are gone
		}
	}
}

// ready is from where on a bowl counts as molten.
func (c *course) ready() float64 {
	if c.tempered() && c.Method != chocolate.Gentle {
		return c.Bands.Melt.From
	}
	return c.work().From
}

// melted is what follows on melting.
func (c *course) melted() {
	switch {
	case !c.tempered():
		c.stage = Working
	case c.Method == chocolate.Gentle:
		c.stage = Testing
	case c.Method == chocolate.ThreePoint:
		c.stage = Cooling
	default:
		c.stage = Seeding
	}
}

// hear what the thermometer says.
func (c *course) hear(s pot.Sample) {
	if c.heard && s.At > c.read {
		c.rate += ((s.Value-c.temp)/(s.At-c.read) - c.rate) * min((s.At-c.read)/rateOver, 1)
	}
	c.temp, c.read, c.heard = s.Value, s.At, true
	c.rises(s)
	work := c.work()
	switch c.stage {
	case Melting:
		// Over a bath somebody must take it off; a microwave has stopped by itself.
		if s.Value >= c.molten() && !c.on && s.At >= c.burst.At+c.burst.Seconds {
			c.melted()
		}
	case Cooling:
		switch {
		case c.Method == chocolate.ThreePoint && c.soon() <= c.Bands.Cool.To:
			c.stage = Warming
		case c.Method != chocolate.ThreePoint && s.Value <= work.To:
			c.stage = Testing
		}
	case Warming:
		if s.Value >= work.From {
			c.stage = Testing
		}
	}
	c.judge(s)
}

// judge whether it still has its crystals.
func (c *course) judge(s pot.Sample) {
	if !c.tempered() {
		return
	}
	kept := c.stage == Testing || c.stage == Working || c.stage == Warming ||
		c.stage == Melting && c.Method == chocolate.Gentle
	count := func(n *int, is bool) bool {
		if *n++; !is {
			*n = 0
		}
		return *n >= c.sure
	}
	if count(&c.above, kept && s.Value > chocolate.Ceiling(c.Bands)+0.05) {
		c.stage = Lost
	}
	floor := c.Bands.Cool.From
	if count(&c.below, (c.stage == Testing || c.stage == Working) && s.Value < floor) {
		c.stage = Cold
	}
}

// rateOver is over how many s the rise of the readings is smoothed, behind which the probe itself lies by lag, and a
// hand by reacts (s; memory).
const (
	rateOver = 4.0
	lag      = 6.0
	reacts   = 3.0
)

// soon is how warm the bowl will be when a hand has done something about it: the probe runs behind, and so does a hand.
func (c *course) soon() float64 {
	if c.sure == 1 { // somebody typed it
		return c.temp
	}
	return c.temp + c.rate*(lag+reacts)
}
