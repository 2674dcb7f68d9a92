package chocolate

import (
	"math"

	"zestytin/core/si"
)

// Bowl is a bowl that cold or warm centres are dipped in, one after the other (rules 4.4).
type Bowl struct {
	Mass  si.Grams // g of chocolate in it at the start
	From  float64  // C at the start
	Until float64  // C at which it is too thick: the lower edge of its working band
	Coat  si.Grams // g that each piece carries away
	Piece Piece
}

// Piece is a centre that is dipped.
type Piece struct {
	Mass    si.Grams // g
	At      float64  // C
	Heat    float64  // J/(g K)
	Across  float64  // mm, of a ball of its size
	Seconds float64  // in the bowl
}

// Heat capacities of centres, J/(g K) (memory: ganache and other fat-and-sugar centres about 2.2, fresh fruit nearly
// that of water).
const (
	HeatOfCentre = 2.2
	HeatOfFruit  = 3.8
)

// diffusivity of heat in a fat-and-sugar centre, m2/s (memory: foods of little water lie about 1e-7).
const diffusivity = 1e-7

// DipSeconds that a practised hand leaves a piece in the bowl (common practice).
const DipSeconds = 3

// Share of the heat that would bring the whole piece to the bowl's temperature which it takes while it is in the bowl:
// heat enters a body whose surface is kept at one temperature as 2 sqrt(a t / pi) A / V, for its surface A and volume V
// (Carslaw and Jaeger, Conduction of Heat in Solids, semi-infinite solid; memory), 3/r for a ball, and at most all of
// it.
func (p Piece) Share() float64 {
	if p.Across <= 0 {
		return 1
	}
	radius := p.Across / 2 / 1000
	return math.Min(2*math.Sqrt(diffusivity*p.Seconds/math.Pi)*3/radius, 1)
}

// endless is returned by Dips for centres that do not cool the bowl below its edge before it is empty.
const endless = math.MaxInt32

// Dips is how many pieces go in before the bowl falls to Until and is to be warmed, or before the coats have emptied
// it, and which of the two comes first. Each piece takes its share of m c (T - Tp) and then carries its coat away at
// the bowl's temperature, so that the rest of the bowl is less and cools faster.
func (b Bowl) Dips() (pieces int, cooled bool) {
	mass, coat, at := float64(b.Mass), float64(b.Coat), b.From
	piece := b.Piece.Share() * float64(b.Piece.Mass) * b.Piece.Heat // J/K
	for n := 0; n < endless; n++ {
		if mass < coat || mass <= 0 {
			return n, false
		}
		next := at - piece*(at-b.Piece.At)/(mass*HeatLiquid)
		if next < b.Until {
			return n, true
		}
		if coat <= 0 && next >= at {
			return endless, false
		}
		mass, at = mass-coat, next
	}
	return endless, false
}
