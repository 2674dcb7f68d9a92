package chocolate

import (
	"math"

	"zestytin/core/si"
)

// Source is what a bowl is melted and kept warm with. It is the seller's choice for the kitchen or the treat, whatever
// the amount.
type Source string

const (
	Microwave Source = "microwave"
	Bath      Source = "bath" // a bowl over barely simmering water: what is in it can stand warm
)

// Sources that can be chosen, the usual one first.
func Sources() []Source { return []Source{Microwave, Bath} }

// Power into the bowl in W: about 700 from a microwave, 300 to 500 from a small bath (memory).
func (s Source) Power() float64 {
	if s == Bath {
		return 400
	}
	return 700
}

// Melting is how long a bowl takes until it can be worked from, in minutes.
type Melting struct {
	Melts float64 // from solid to melted, stirring and looking included
	Hands float64 // of that, and of tempering, what takes a person's hands
}

// Minutes that grams of a chocolate take where the seller has not said: in a microwave 90 s for 227 g, over a bath 20
// min for 1 kg, never below what the heat takes, mass x (heat capacity x rise + latent heat) / power; half of it are
// hands, and tempering adds 10 minutes of hands (memory; 90 s is the middle of the 1 to 2 minutes that 8 oz take,
// common practice). to is the temperature in C that it is brought to, room where it comes from.
func Minutes(s Source, m Method, grams si.Grams, to, room float64) Melting {
	melts := 1.5 * grams.Over(227)
	if s == Bath {
		melts = 20 * grams.Over(1000)
	}
	melts = math.Max(melts, float64(grams)*(HeatSolid*math.Max(to-room, 0)+LatentHeat)/s.Power()/60)
	hands := melts / 2
	if m != NoTemper {
		hands += 10
	}
	return Melting{melts, hands}
}

// TimeConstant in minutes with which a bowl of so many grams cools to the room: about 43 min for 450 g, growing with
// the cube root of the mass, since what a bowl loses goes by its surface (memory; 0.27 C a minute at 31.5 C in a room
// of 20 C).
func TimeConstant(grams si.Grams) float64 { return 43 * math.Cbrt(grams.Over(450)) }

// Cooled is the temperature in C of a bowl of so many grams that was at from and has stood for so many minutes in a
// room (Newton's law of cooling).
func Cooled(from, room float64, grams si.Grams, minutes float64) float64 {
	if grams <= 0 {
		return room
	}
	return room + (from-room)*math.Exp(-minutes/TimeConstant(grams))
}

// State of a bowl that has stood.
type State string

const (
	Ready State = "ready" // it is in its band
	Warm  State = "warm"  // it has fallen below it and is warmed again
	Anew  State = "anew"  // it has lost its temper or is solid: it is melted anew
)

// RewarmHands is the minutes of hands that warming a tempered bowl again takes: in bursts of 1 to 2 s at the lowest
// power, stirring and measuring (memory).
const RewarmHands = 2

// solid is the temperature in C below which coating, and chocolate that is not tempered, is no longer stirred up by a
// short warming (memory).
const solid = 30

// WarmestToSet is the temperature in C above which tempered chocolate sets slowly and dull (common practice: 18 to 22
// is good, above 24 it is too warm).
const WarmestToSet = 24

// Hold is how a bowl stands between two steps.
type Hold struct {
	Source Source
	Method Method
	Kind   Kind
	Bands  Bands
	Room   float64 // C
}

// floor is the temperature in C at which the bowl is melted anew: of a tempered one the lower edge of its cooling band,
// 27 for dark, 26 for milk, 25 for white.
func (h Hold) floor() float64 {
	if h.Kind == Compound || h.Method == NoTemper {
		return solid
	}
	return h.Bands.Cool.From
}

// After tells how a bowl of so many grams stands after so many minutes, when it was in the middle of its working band
// before. Over a bath it stands ready.
func (h Hold) After(grams si.Grams, minutes float64) State {
	if h.Source == Bath {
		return Ready
	}
	work := Working(h.Method, h.Kind, h.Bands)
	switch at := Cooled(work.Mid(), h.Room, grams, minutes); {
	case at >= work.From:
		return Ready
	case at >= h.floor():
		return Warm
	}
	return Anew
}

// AllSession is the minutes that a bowl holds which stands ready as long as one works: no session is longer.
const AllSession = 1440

// Minutes until a bowl of so many grams is to be melted anew.
func (h Hold) Minutes(grams si.Grams) si.Minutes {
	if h.Source == Bath {
		return AllSession
	}
	from, floor := Working(h.Method, h.Kind, h.Bands).Mid(), h.floor()
	if floor <= h.Room || from <= h.Room {
		return AllSession
	}
	return si.Minutes(math.Min(TimeConstant(grams)*math.Log((from-h.Room)/(floor-h.Room)), AllSession))
}
