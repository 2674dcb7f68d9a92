// Package pot is a bowl of chocolate as physics has it: what heat does to it, what the room takes from it, how its fat
// melts and sets, what seed and cold centres do. It stands in for the bowl on the counter, behind a probe and a scale,
// and is what one practises on; nothing of a kitchen is reckoned with it.
//
// All of it follows from where a pot begins and from what is done to it, so that any server comes to the same.
package pot

import (
	"cmp"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/si"
)

// Pot as it stands before anything is done to it. Temperatures are in °C.
type Pot struct {
	Mass  si.Grams
	At    float64
	Solid float64 // share of it that is solid, 0 to 1, in good crystals: a bar is 1, a melt 0
	Room  float64
	Kind  chocolate.Kind
	Bands chocolate.Bands
}

// Deed is something that is done to a pot. Which of its fields count is said by what it is.
type Deed struct {
	At      float64 // s from the start
	What    What
	Watts   float64  // Heat: into the bowl
	Seconds float64  // Heat: for so long
	Bath    float64  // Stand: the temperature of the water under it, hot or cool; 0: it is lifted off
	Grams   si.Grams // Add: of solid, tempered chocolate; Take: of what is in the pot
	Temp    float64  // Add: of what is added
	Piece   chocolate.Piece
	Coat    si.Grams // Dip: what the piece carries away
}

// What is done.
type What string

const (
	Heat  What = "heat"  // a burst of the microwave, or a flame
	Stand What = "stand" // over a bath or in cool water, or out of it
	Add   What = "add"   // seed, or more of the bag
	Take  What = "take"  // poured or piped out
	Dip   What = "dip"   // a centre goes in and comes out coated
)

// State of a pot at a time.
type State struct {
	At     float64  // s from the start
	Temp   float64  // °C
	Mass   si.Grams // g
	Good   float64  // share of it that is solid in the crystals of a temper
	Loose  float64  // share that is solid in crystals that do not last
	Heated float64  // J that came in as heat
	Lost   float64  // J that the room and cool water took
	Moved  float64  // J that came with what was added, less what went with what was taken and into centres
}

// Solid is the share of a pot that is solid.
func (s State) Solid() float64 { return s.Good + s.Loose }

// bath is what one K between the water and the bowl drives through its wall, W/K: about 400 W where the water barely
// simmers under a bowl of 35 °C (rules 3.4; memory).
const bath = 8

// step in s. At it a pot of 30 g under 700 W rises by 3.5 K, and one of 450 g by a quarter of that.
const step = 0.25

// Enthalpy of a state in J, against the same mass, molten, at 0 °C.
func (s State) Enthalpy() float64 { return float64(s.Mass) * enthalpy(s.Temp, s.Solid()) }

// enthalpy of 1 g: heat capacities and the latent heat are those of rules 4.3, in proportion to what is solid.
func enthalpy(temp, solid float64) float64 {
	return capacity(solid)*temp - chocolate.LatentHeat*solid
}

func capacity(solid float64) float64 {
	return chocolate.HeatLiquid - (chocolate.HeatLiquid-chocolate.HeatSolid)*solid
}

// Run tells the states of a pot from its start until so many s have gone by, every so many s, with what is done to it
// in the order of its time.
func (p Pot) Run(deeds []Deed, until, every float64, tell func(State)) {
	deeds = slices.Clone(deeds)
	slices.SortStableFunc(deeds, func(a, b Deed) int { return cmp.Compare(a.At, b.At) })
	c := p.Begin()
	next := 0.0
	for {
		for len(deeds) > 0 && deeds[0].At <= c.At {
			c.Do(deeds[0])
			deeds = deeds[1:]
		}
		if c.At >= next-step/2 {
			tell(c.State)
			next += every
		}
		if c.At >= until {
			return
		}
		c.Pass()
	}
}

// Course of a pot: where it has come to, and what is under way. It goes on from there, so that nobody must reckon an
// evening anew to know the next second of it.
type Course struct {
	State
	pot    Pot
	fat    fat
	steps  int
	bursts []Deed // that are not over
	water  float64
}

// Begin the course of a pot.
func (p Pot) Begin() *Course {
	return &Course{State: State{Temp: p.At, Mass: p.Mass, Good: p.Solid}, pot: p, fat: fatOf(p.Kind, p.Bands)}
}

// Do what is done now, whatever time the deed names.
func (c *Course) Do(d Deed) {
	switch d.What {
	case Heat:
		d.At = c.At
		c.bursts = append(c.bursts, d)
	case Stand:
		c.water = d.Bath
	case Add:
		if d.Grams > 0 {
			c.mix(d.Grams, enthalpy(d.Temp, 1), 1)
		}
	case Take:
		c.take(d.Grams)
	case Dip:
		if c.Mass <= 0 {
			return
		}
		joule := d.Piece.Share() * float64(d.Piece.Mass) * d.Piece.Heat * (c.Temp - d.Piece.At)
		c.Moved -= joule
		c.warm(-joule)
		c.take(d.Coat)
	}
}

// mix in so many g with so many J a g, of which a share is solid in good crystals.
func (c *Course) mix(grams si.Grams, joule, solid float64) {
	all := c.Mass + grams
	whole := c.Enthalpy() + float64(grams)*joule
	c.Good = (c.Good*float64(c.Mass) + solid*float64(grams)) / float64(all)
	c.Loose *= c.Mass.Over(all)
	c.Mass, c.Moved = all, c.Moved+float64(grams)*joule
	c.settle(whole)
}

func (c *Course) take(grams si.Grams) {
	grams = min(max(grams, 0), c.Mass)
	c.Moved -= float64(grams) * enthalpy(c.Temp, c.Solid())
	c.Mass -= grams
}

// warm by so many J.
func (c *Course) warm(joule float64) { c.settle(c.Enthalpy() + joule) }

// settle on the temperature that a heat content comes to, with as much solid as there is.
func (c *Course) settle(joule float64) {
	if c.Mass > 0 {
		c.Temp = (joule/float64(c.Mass) + chocolate.LatentHeat*c.Solid()) / capacity(c.Solid())
	}
}

// Pass one step of time: heat comes in, the room takes some, fat melts or sets.
func (c *Course) Pass() {
	c.steps++
	began := c.At
	c.At = float64(c.steps) * step
	if c.Mass <= 0 {
		return
	}
	in := 0.0
	c.bursts = slices.DeleteFunc(c.bursts, func(d Deed) bool {
		left := d.At + d.Seconds - began
		in += d.Watts * min(max(left, 0), step)
		return left <= step
	})
	chilled := c.water > 0 && c.water < c.Temp
	if c.water > 0 && !chilled {
		in += bath * (c.water - c.Temp) * step
	}
	// Newton's law with the time constant of rules 3.4, of a bowl that is molten.
	wall := float64(c.Mass) * chocolate.HeatLiquid / (chocolate.TimeConstant(c.Mass) * 60) // W/K
	out := wall * (c.Temp - c.pot.Room) * step
	if chilled {
		out += bath * (c.Temp - c.water) * step
	}
	c.Heated, c.Lost = c.Heated+in, c.Lost+out
	whole := c.Enthalpy() + in - out
	c.settle(whole)
	c.Good, c.Loose = c.fat.after(c.Temp, c.Good, c.Loose, chilled)
	c.settle(whole) // what has set gives its heat, what has melted takes it
}
