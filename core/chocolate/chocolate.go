// Package chocolate knows kinds of chocolate, how they are tempered, and how much of one to melt.
package chocolate

import (
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Kind decides whether a chocolate must be tempered.
type Kind string

const (
	Real     Kind = "real"     // cocoa butter: tempered to set glossy and to snap
	Compound Kind = "compound" // vegetable fat: melted and used
)

// Kinds that there are.
func Kinds() []Kind { return []Kind{Real, Compound} }

// Colour is what a chocolate is: its temperatures follow from it.
type Colour string

const (
	Dark  Colour = "dark"
	Milk  Colour = "milk"
	White Colour = "white"
)

// Colours that there are.
func Colours() []Colour { return []Colour{Dark, Milk, White} }

// Density of solid chocolate, g/mL (rules 4.5, common practice).
const Density = 1.30

// Mass of so many mL of it.
func Mass(ml float64) si.Grams { return si.Grams(ml * Density) }

// Range of temperatures, degrees Celsius.
type Range struct {
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// Band makes a range of temperatures a value of a reason.
func (r Range) Band() reason.Band { return reason.Band{From: r.From, To: r.To} }

// Mid is the middle of the range.
func (r Range) Mid() float64 { return (r.From + r.To) / 2 }

// Bands are the three temperatures of tempering.
type Bands struct {
	Melt Range `json:"melt"`
	Cool Range `json:"cool"`
	Work Range `json:"work"`
}

// Check finds what cannot be: a band that ends before it starts, or a working band that does not lie between cooling
// and melting, within 20 to 60 C.
func (b Bands) Check() error {
	for _, r := range []Range{b.Melt, b.Cool, b.Work} {
		if !(r.From <= r.To) || r.From < 20 || r.To > 60 {
			return reason.Of("chocolate.band-goes-from-lower-to")
		}
	}
	if b.Cool.To > b.Work.From || b.Work.To > b.Melt.From {
		return reason.Of("chocolate.working-temperatures-lie-above-cooling")
	}
	return nil
}

// BandsOf gives the temperatures for real chocolate of a colour (rules 3.2; Beckett, The Science of Chocolate).
// A colour that is not known gets those of white, the lowest, which harm no other.
func BandsOf(c Colour) Bands {
	switch c {
	case Dark:
		return Bands{Range{45, 50}, Range{27, 28}, Range{31, 32}}
	case Milk:
		return Bands{Range{40, 45}, Range{26, 27}, Range{29, 30}}
	default:
		return Bands{Range{40, 45}, Range{25, 26}, Range{28, 29}}
	}
}

// Heat capacities in J/(g K) and the latent heat of cocoa butter in chocolate in J/g (rules 4.3).
const (
	HeatLiquid = 1.65
	HeatSolid  = 1.6
	LatentHeat = 45
)

// SeedShare is the share of all the chocolate to hold back as seed so that stirring it into the melt lands at the
// working temperature. With m melted at melt and s seed at room: s/m = c (melt - work) / (cs (work - room) + L); the
// share is s / (m + s). Temperatures in C. A melt that is not above the working temperature needs none.
func SeedShare(melt, work, room float64) float64 {
	if melt <= work {
		return 0
	}
	ratio := HeatLiquid * (melt - work) / (HeatSolid*(work-room) + LatentHeat)
	return ratio / (1 + ratio)
}

// LeastMelt is the least chocolate that melts evenly in a small bowl, grams (common practice: half of an 8 oz bowl).
const LeastMelt = 115
