package temper

import (
	"cmp"
	"math"
	"slices"

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

// Advise what to do next.
func (w Watch) Advise() Advice {
	believed, trouble := Heard(w.Said, w.Now, w.Probe)
	c := w.follow(believed)
	a := Advice{Stage: c.stage, Aim: c.work(), Never: c.hottest(), In: c.in, Weigh: c.weigh, Trouble: trouble, Touches: []Touch{},
		Then: []reason.Reason{}}
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
