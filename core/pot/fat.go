package pot

import (
	"math"

	"zestytin/core/chocolate"
)

// fat is how the fat of a chocolate melts and sets. Cocoa butter sets in six forms, of which the fifth is wanted; in the
// dark chocolate that the numbers are of it melts at 33.8 °C and the fourth at 27.5 (Wille and Lutton 1966; memory).
// Milk fat lowers both, by as much as it lowers the working band.
type fat struct {
	good     float64 // °C at which the last of its good crystals melt
	loose    float64 // °C at which those melt that do not last
	compound bool    // it sets well whatever one does
}

func fatOf(kind chocolate.Kind, bands chocolate.Bands) fat {
	below := bands.Work.To - chocolate.BandsOf(chocolate.Dark).Work.To
	return fat{good: 33.8 + below, loose: 27.5 + below, compound: kind == chocolate.Compound}
}

// How fast fat melts and sets, in s (memory, of stirred chocolate: crystals melt within a minute; a seeded bowl thickens
// within some five minutes; one without seed sets below the fourth form, over half an hour).
const (
	melting   = 20.0
	setting   = 600.0
	seeded    = 0.01 // share of good crystals that sets so fast; with more of them faster
	fastest   = 2.0
	unseeded  = 1800.0
	walled    = 400.0 // s in which good ones form on the cold wall of a bowl that is stirred in cool water
	wide      = 13.8  // K over which it melts: all is solid at 20 °C
	curvature = 2.2   // of that: at 31.5 °C about 2 % is solid, as a temper has it (memory: 1 to 3 %)
)

// solid that a fat comes to at a temperature, of crystals that melt at another.
func solid(temp, melts float64) float64 {
	return math.Pow(min(max((melts-temp)/wide, 0), 1), curvature)
}

// after one step at a temperature: the shares in good crystals and in others. On a wall that is chilled both form, and
// warming melts those that do not last: that is what the three points are for.
func (f fat) after(temp, good, loose float64, chilled bool) (float64, float64) {
	toward := func(now, then, seconds float64) float64 { return then + (now-then)*math.Exp(-step/seconds) }
	// Those that do not last melt above their own temperature, whatever else there is.
	if temp > f.loose {
		loose = toward(loose, 0, melting)
	}
	most := solid(temp, f.good)
	switch {
	case good+loose > most:
		good = toward(good, max(most-loose, 0), melting)
	case f.compound:
		good = toward(good, most-loose, setting)
	default:
		if good > 0 {
			speed := min(good/seeded, fastest)
			good = toward(good, most-loose, setting/max(speed, 1e-3))
		}
		if chilled && good < seeded && temp < f.good {
			good = toward(good, most-loose, walled)
		}
		if good < seeded && temp < f.loose {
			loose = toward(loose, max(most-good, 0), unseeded)
		}
	}
	return good, loose
}

// Temper of a pot: how it would set.
type Temper string

const (
	Molten Temper = "molten" // no crystals: it would set dull and streaked
	Ready  Temper = "ready"  // good crystals, as many as it wants
	Thick  Temper = "thick"  // so many that it does not flow
	Wrong  Temper = "wrong"  // it has begun to set in crystals that do not last
)

// Shares of crystals between which a temper is right (memory: 1 to 3 %; what it does beyond comes slowly).
const (
	leastGood = 0.005
	mostGood  = 0.06
)

// Temper of the chocolate at this moment; of compound the same, since it sets well from any.
func (s State) Temper() Temper {
	switch {
	case s.Loose > 0.002 && s.Loose > s.Good/4:
		return Wrong
	case s.Solid() > mostGood:
		return Thick
	case s.Good >= leastGood:
		return Ready
	}
	return Molten
}
