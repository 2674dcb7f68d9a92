package temper

import (
	"math"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Stage of a bowl.
type Stage string

const (
	Melting Stage = "melting"
	Seeding Stage = "seeding" // it is molten and waits for its seed
	Cooling Stage = "cooling" // down to its band, or to where crystals form
	Warming Stage = "warming" // up to its band again, of the three points
	Testing Stage = "testing" // it is in its band: does it set?
	Working Stage = "working"
	Lost    Stage = "lost" // it was too warm: its crystals are gone
	Cold    Stage = "cold" // too cold to be warmed again
)

// Stages are all of them.
func Stages() []Stage {
	return []Stage{Melting, Seeding, Cooling, Warming, Testing, Working, Lost, Cold}
}

// Touch is a deed that is likely to be next: what one touch says was done.
type Touch struct {
	What    What
	Seconds float64
	Low     bool
	Grams   si.Grams
}

// Advice is what to do next.
type Advice struct {
	Stage   Stage
	Do      reason.Reason   // what to do now
	Then    []reason.Reason // why, and what comes then
	Touches []Touch         // the likely one first
	Aim     chocolate.Range // °C to be in
	Never   float64         // °C not to go above
	Temp    *float64        // °C that is believed, at
	Read    float64         // s
	Due     *pot.Forecast   // when something is to be done
	What    reason.Reason   // what that is
	Ends    float64         // s: when a burst or a smear is over; 0 where none is under way
	In      si.Grams        // in the bowl, by what was said to be put in and taken
	Left    *int            // pieces that can still be dipped, before the pool is touched
	Weigh   si.Grams        // that is being weighed out; 0 where nothing is
	TopUp   si.Grams        // to be melted for the pieces that are left, where the bowl is not enough
	Trouble Trouble         // of the thermometer
	Urgent  bool            // it cannot wait
}

// Watch is all that is known of a bowl.
type Watch struct {
	Bowl
	Probe bool // a probe is in it; else somebody types
	Deeds []Deed
	Said  []pot.Sample
	Now   float64 // s
}

// Advise what to do next.
func (w Watch) Advise() Advice {
	believed, trouble := Heard(w.Said, w.Now, w.Probe)
	c := w.follow(believed)
	a := Advice{Stage: c.stage, Aim: c.work(), Never: c.hottest(), In: c.in, Weigh: c.weigh, Trouble: trouble,
		Touches: []Touch{}, Then: []reason.Reason{}}
	if c.heard {
		a.Temp, a.Read = &c.temp, c.read
	}
	switch c.stage {
	case Melting:
		if a.Aim = c.Bands.Melt; !c.tempered() || c.Method == chocolate.Gentle {
			a.Aim = c.work()
		}
	case Cooling, Warming, Testing, Working:
		if c.tempered() {
			a.Never = chocolate.Ceiling(c.Bands)
		}
		if c.stage == Cooling && c.Method == chocolate.ThreePoint {
			a.Aim, a.Never = c.Bands.Cool, c.hottest()
		}
		if c.stage == Cooling && c.Method == chocolate.Seed {
			a.Never = c.hottest()
		}
	}
	c.pot(&a)
	if c.burst.At+c.burst.Seconds > w.Now && c.burst.What == Burst {
		a.Ends = c.burst.At + c.burst.Seconds
		a.Do = reason.Of("temper.burst-under-way")
		a.Then = append(a.Then, reason.Of("temper.stir-after-it"))
		return a
	}
	if c.stirring(&a, w) {
		return a
	}
	if !c.heard {
		a.Do = reason.Of("temper.measure-first")
		if c.Source == chocolate.Microwave && len(w.Deeds) == 0 {
			c.firstBurst(&a)
		} else if c.Source == chocolate.Bath && !c.on && c.stage == Melting {
			c.onto(&a)
		}
		return a
	}
	if !w.Probe && w.Now-c.read > stale {
		a.Then = append(a.Then, reason.Of("temper.measure-again", reason.Minutes(int((w.Now-c.read)/60))))
	}
	if (c.on || c.chill) && c.tempered() && (c.stage == Testing || c.stage == Working || c.stage == Warming) {
		a.Do, a.Urgent = reason.Of("temper.take-it-off"), true // there it would leave its band
		c.touch(&a, Touch{What: Off})
		return a
	}
	c.advise(&a, believed, w.Now)
	return a
}

// stirring says whether a burst is over and what it did cannot be told yet: it is stirred in, and the probe catches up, or
// somebody is to measure.
func (c *course) stirring(a *Advice, w Watch) bool {
	over := c.burst.At + c.burst.Seconds
	if c.burst.What != Burst || w.Probe && w.Now > over+stirs || !w.Probe && c.heard && c.read >= over {
		return false
	}
	if a.Do = reason.Of("temper.stir-and-measure"); w.Probe {
		a.Ends = over + stirs
	}
	return true
}

// stirs is how many s a burst is stirred in: a probe of 5 to 8 s of lag has then seen nine tenths of what it did.
const stirs = 20

// stale is after how many s what somebody typed says little of what is now.
const stale = 180

func (c *course) touch(a *Advice, t Touch) { a.Touches = append(a.Touches, t) }

func (c *course) firstBurst(a *Advice) {
	seconds := c.longest()
	a.Do = reason.Of("temper.burst", reason.Int(int(seconds)))
	a.Then = append(a.Then, reason.Of("temper.stir-and-measure"))
	c.touch(a, Touch{What: Burst, Seconds: seconds})
}

func (c *course) onto(a *Advice) {
	a.Do = reason.Of("temper.onto-the-bath")
	a.Then = append(a.Then, reason.Of("temper.keep-steam-away"))
	c.touch(a, Touch{What: On})
}

// advise by stage.
func (c *course) advise(a *Advice, said []pot.Sample, now float64) {
	switch c.stage {
	case Melting:
		c.melt(a, said)
	case Seeding:
		grams := c.seedFor(c.in, c.temp)
		a.Aim, a.Urgent = c.work(), true
		a.Do = reason.Of("temper.stir-in-seed", measure.ShowGrams(grams))
		a.Then = append(a.Then, reason.Of("temper.stir-until", reason.Celsius(c.work().To)))
		if c.temp > c.hottest()+0.05 {
			a.Then = append(a.Then, reason.Of("temper.may-be-scorched", reason.Celsius(c.hottest())))
		}
		c.touch(a, Touch{What: Seeded, Grams: grams})
	case Cooling:
		c.cool(a, said, now)
	case Warming:
		c.warm(a)
		a.Do = reason.Of("temper.warm-into-band", c.work().Band())
	case Testing:
		c.test(a, said, now)
	case Working:
		c.working(a, said)
	case Lost:
		c.lost(a)
	case Cold:
		a.Urgent = true
		a.Do = reason.Of("temper.melt-anew", reason.Celsius(c.Bands.Melt.From+1))
		a.Then = append(a.Then, reason.Of("temper.too-cold", reason.Celsius(c.Bands.Cool.From)))
		c.touch(a, Touch{What: Anew})
	}
}

func (c *course) melt(a *Advice, said []pot.Sample) {
	to := c.molten()
	if c.temp > c.hottest()+0.05 {
		a.Urgent = true
		a.Do = reason.Of("temper.off-the-heat-at-once")
		a.Then = append(a.Then, reason.Of("temper.may-be-scorched", reason.Celsius(c.hottest())))
		c.touch(a, Touch{What: Off})
		return
	}
	if c.Source == chocolate.Bath {
		switch {
		case !c.on && c.temp < c.ready():
			c.onto(a)
		case c.soon() >= to:
			a.Urgent = true
			a.Do = reason.Of("temper.take-it-off")
			c.touch(a, Touch{What: Off})
		default:
			a.Do = reason.Of("temper.stop-heating-at", reason.Celsius(to))
			c.touch(a, Touch{What: Off})
			if f, ok := pot.Reaches(said, Steam, to); ok {
				a.Due, a.What = &f, reason.Of("temper.off-in")
			}
		}
		return
	}
	seconds := math.Round(c.Seconds(c.in, c.temp, to, c.watts()))
	a.Do = reason.Of("temper.burst", reason.Int(int(seconds)))
	a.Then = append(a.Then, reason.Of("temper.stir-and-measure"), reason.Of("temper.stop-heating-at",
		reason.Celsius(to)))
	c.touch(a, Touch{What: Burst, Seconds: seconds})
}

// CoolWater in which a bowl is stirred down, °C (memory: cool, not cold; on ice it sets at the wall).
const CoolWater = 18

// Steam is the temperature of water that barely simmers, °C (memory: 85 to 95).
const Steam = 90

// stirsSeed is how many s seed is stirred before more of it is thought of (memory: some two minutes).
const stirsSeed = 120

func (c *course) cool(a *Advice, said []pot.Sample, now float64) {
	to := c.work().To
	if c.Method == chocolate.ThreePoint {
		to = c.Bands.Cool.To
		a.Do = reason.Of("temper.cool-to", reason.Celsius(to))
		switch {
		case !c.chill:
			a.Then = append(a.Then, reason.Of("temper.into-cool-water", reason.Celsius(CoolWater)))
			c.touch(a, Touch{What: Chill})
		default:
			a.Then = append(a.Then, reason.Of("temper.stir-all-the-time"))
			c.touch(a, Touch{What: Off})
		}
	} else {
		a.Do = reason.Of("temper.stir-until", reason.Celsius(to))
		a.Then = append(a.Then, reason.Of("temper.lift-out-what-is-left"))
	}
	around := c.Room
	if c.chill {
		around = CoolWater
	}
	if f, ok := pot.Reaches(said, around, to); ok {
		a.Due, a.What = &f, reason.Of("temper.there-in")
	}
	// Stirred for a while and still far above: the seed was too little, or too warm.
	if grams := c.seedFor(c.in, c.temp); c.Method == chocolate.Seed && c.temp > to+2 && grams > 0 &&
		now > c.stirred+stirsSeed {
		c.touch(a, Touch{What: Seeded, Grams: grams})
	}
}

// warm a bowl that has its crystals.
func (c *course) warm(a *Advice) {
	seconds, low := c.RewarmSeconds(c.in, c.temp, c.watts())
	switch seconds = math.Max(math.Floor(seconds), 1); {
	case c.Source == chocolate.Bath:
		a.Do = reason.Of("temper.over-the-bath-for", reason.Int(int(seconds)))
	case low:
		a.Do = reason.Of("temper.rewarm-low", reason.Int(int(seconds)))
	default:
		a.Do = reason.Of("temper.rewarm", reason.Int(int(seconds)))
	}
	a.Then = append(a.Then, reason.Of("temper.stir-and-measure"))
	c.touch(a, Touch{What: Burst, Seconds: seconds, Low: low})
}

// leaves the band: when.
func (c *course) leaves(a *Advice, said []pot.Sample) {
	if f, ok := pot.Reaches(said, c.Room, c.work().From); ok {
		a.Due, a.What = &f, reason.Of("temper.leaves-the-band-in")
	}
}

// more seed, as a share of the bowl, where a smear did not set (memory: a spoonful to a bowl).
const more = 0.05

func (c *course) test(a *Advice, said []pot.Sample, now float64) {
	if c.temp < c.work().From-0.05 {
		c.warm(a)
		a.Urgent = true
	} else if c.dull && c.Method != chocolate.ThreePoint {
		grams := c.in.Times(more)
		a.Do = reason.Of("temper.stir-in-more-seed", measure.ShowGrams(grams))
		a.Then = append(a.Then, reason.Of("temper.then-test-again"))
		c.touch(a, Touch{What: Seeded, Grams: grams})
	} else {
		a.Do = reason.Of("temper.smear-test")
		a.Then = append(a.Then, reason.Of("temper.sets-glossy-within", reason.Minutes(Smears/60)))
		c.leaves(a, said)
	}
	if !c.tested {
		c.touch(a, Touch{What: Smear})
		return
	}
	if a.Ends = c.smear + Smears; c.temp >= c.work().From-0.05 {
		if a.Do = reason.Of("temper.wait-for-the-smear"); now >= a.Ends {
			a.Do = reason.Of("temper.look-at-the-smear")
		}
	}
	c.touch(a, Touch{What: Good})
	c.touch(a, Touch{What: Dull})
}

func (c *course) working(a *Advice, said []pot.Sample) {
	switch work := c.work(); {
	case c.temp < work.From-0.05:
		c.warm(a)
		a.Then = append(a.Then, reason.Of("temper.below-the-band", work.Band()))
		a.Urgent = true
	case c.temp > work.To+0.05 && !c.tempered():
		a.Do = reason.Of("temper.let-it-rest", reason.Celsius(work.To))
		a.Then = append(a.Then, reason.Of("temper.too-warm-ripples"))
		if f, ok := pot.Reaches(said, c.Room, work.To); ok {
			a.Due, a.What = &f, reason.Of("temper.there-in")
		}
	default:
		if a.Do = reason.Of("temper.work-from-it"); a.Left != nil {
			a.Do = reason.Of("temper.work-pieces", reason.Int(*a.Left))
		}
		c.leaves(a, said)
	}
	c.touch(a, Touch{What: Dipped})
	c.touch(a, Touch{What: Took})
}

// lost crystals: saved with seed, where there is any, or begun anew.
func (c *course) lost(a *Advice) {
	a.Urgent = true
	seed := c.seedFor(c.in, c.temp)
	a.Do = reason.Of("temper.save-with-seed", measure.ShowGrams(seed))
	a.Then = append(a.Then, reason.Of("temper.crystals-are-gone", reason.Celsius(chocolate.Ceiling(c.Bands))),
		reason.Of("temper.or-start-over", reason.Celsius(c.Bands.Melt.From+1)))
	c.touch(a, Touch{What: Seeded, Grams: seed})
	c.touch(a, Touch{What: Anew})
}

// pot is how much is in it, and for how many pieces more.
func (c *course) pot(a *Advice) {
	if c.Coat <= 0 {
		return
	}
	left := max(int((float64(c.in)-float64(c.Pool))/float64(c.Coat)), 0)
	if c.Pieces > 0 {
		still := max(c.Pieces-c.pieces, 0)
		if still > left {
			a.TopUp = c.Coat.Times(float64(still)) + c.Pool - c.in
		}
		left = min(left, still)
	}
	a.Left = &left
}
