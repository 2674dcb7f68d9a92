package temper

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
)

// rise of a bowl over one burst.
type rise struct {
	burst  Deed
	before float64 // °C
	most   float64 // °C afterwards
	grams  float64
}

// settles is how many s after a burst the bowl is stirred and the thermometer has caught up.
const settles = 40

// sets is the temperature in °C below which some of it may be solid, and swallow heat that lifts nothing.
const sets = 35

// start a burst: what it does is seen until it has settled, or until the next.
func (c *course) start(d Deed) {
	c.settled()
	if c.burst = d; c.heard && !d.Low && d.Seconds >= 3 {
		c.pending = &rise{burst: d, before: c.temp, most: c.temp, grams: float64(c.in)}
	}
}

// rises by what the thermometer says after a burst.
func (c *course) rises(s pot.Sample) {
	if c.pending == nil {
		return
	}
	if s.At > c.pending.burst.At+c.pending.burst.Seconds+settles {
		c.settled()
		return
	}
	c.pending.most = max(c.pending.most, s.Value)
}

func (c *course) settled() {
	if c.pending != nil && c.pending.before >= sets && c.pending.most > c.pending.before+0.5 {
		c.bursts = append(c.bursts, *c.pending)
	}
	c.pending = nil
}

// watts that a burst brought into molten chocolate.
func (r rise) watts() float64 {
	return (r.most - r.before) * r.grams * chocolate.HeatLiquid / r.burst.Seconds
}

// watts of this bowl's source: what the last bursts brought, or what is known of the kitchen's.
func (c *course) watts() float64 {
	if w, ok := power(c.bursts); ok {
		return w
	}
	return c.power()
}

// power is the median of what bursts brought: one that was not stirred in says little.
func power(bursts []rise) (watts float64, ok bool) {
	if len(bursts) == 0 {
		return 0, false
	}
	list := make([]float64, len(bursts))
	for i, r := range bursts {
		list[i] = r.watts()
	}
	slices.Sort(list)
	if n := len(list); n%2 == 0 {
		return (list[n/2-1] + list[n/2]) / 2, true
	}
	return list[len(list)/2], true
}

// Power in W that the bursts of a bowl brought into it, and from how many that is known: only of bursts of 3 s or more at
// full power, on chocolate that was molten already, since what melts swallows heat that no thermometer shows.
func (w Watch) Power() (watts float64, bursts int) {
	believed, _ := Heard(w.Said, w.Now, w.Probe)
	c := w.follow(believed)
	c.settled()
	watts, _ = power(c.bursts)
	return watts, len(c.bursts)
}
