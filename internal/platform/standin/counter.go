package standin

import (
	"cmp"
	"math"
	"slices"

	"zestytin/core/pot"
	"zestytin/core/si"
	"zestytin/core/temper"
)

// Counter is a kitchen counter that is not there: a bowl of chocolate with a probe in it, and beside it a scale with a
// cup on which things are weighed out. What they say follows from the bowl, the seed and what was done alone, so that
// any server gives the same reading; one that has said a second goes on from there.
type Counter struct {
	bowl   temper.Bowl
	deeds  []temper.Deed // that are still to come
	course *pot.Course
	needle *pot.Needle
	pan    *pot.Pan
	hand   hand
	next   float64
}

// hand that weighs something out: so many g a second, until about as much is in the cup as was asked for.
type hand struct {
	since, want, got float64
}

const (
	pours = 14.0 // g a second of a hand that weighs out pieces
	cup   = 86.0 // g of the cup
)

// NewCounter for a bowl that is begun, with what is done to it in s from then. seed tells one probe from another.
func NewCounter(b temper.Bowl, seed uint64, deeds []temper.Deed) *Counter {
	deeds = slices.Clone(deeds)
	slices.SortStableFunc(deeds, func(a, b temper.Deed) int { return cmp.Compare(a.At, b.At) })
	p := pot.Pot{Mass: b.Mass - b.Seed(), At: b.Room, Solid: 1, Room: b.Room, Kind: b.Kind, Bands: b.Bands}
	scale := pot.UsualScale(seed, cup)
	scale.Tares = []float64{0} // one switches it on with the cup upon it
	for _, d := range deeds {
		if d.What == temper.Weigh {
			scale.Tares = append(scale.Tares, d.At)
		}
	}
	return &Counter{bowl: b, deeds: deeds, course: p.Begin(), needle: pot.UsualProbe(seed).In(b.Room), pan: scale.Pan()}
}

// Until tells what thermometer (°C) and scale (g) say of each second that has not been told yet, up to a time in s.
func (c *Counter) Until(seconds float64, tell func(temp, grams pot.Sample)) {
	for c.next <= seconds {
		for len(c.deeds) > 0 && c.deeds[0].At <= c.course.At {
			c.do(c.deeds[0])
			c.deeds = c.deeds[1:]
		}
		if c.course.At >= c.next {
			c.hand.pour(c.course.At)
			state := c.course.State
			state.Mass = si.Grams(c.hand.got)
			tell(c.needle.Say(c.course.State), c.pan.Say(state))
			c.next++
		}
		c.course.Pass()
	}
}

func (c *Counter) do(d temper.Deed) {
	switch d.What {
	case temper.Weigh:
		c.hand = hand{since: d.At + 1.5, want: float64(d.Grams)}
	case temper.Seeded, temper.Added:
		c.hand = hand{} // the cup is emptied into the bowl
	}
	for _, x := range c.bowl.Does(d) {
		c.course.Do(x)
	}
}

// pour up to a time; a hand stops a little early or late, each time otherwise.
func (h *hand) pour(at float64) {
	stops := h.want * (1 + 0.03*math.Sin(h.since))
	h.got = min(max(at-h.since, 0)*pours, stops)
}
