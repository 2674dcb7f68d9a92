package temper

import (
	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/si"
)

// Does is what a deed does to a simulated pot: nothing, where it is only looked at.
func (b Bowl) Does(d Deed) []pot.Deed {
	of := pot.Deed{At: d.At}
	switch d.What {
	case Burst:
		of.What, of.Seconds, of.Watts = pot.Heat, d.Seconds, b.power()
		if d.Low {
			of.Watts *= Low
		}
	case On:
		of.What, of.Bath = pot.Stand, Steam
	case Chill:
		of.What, of.Bath = pot.Stand, CoolWater
	case Off:
		of.What = pot.Stand
	case Seeded, Added:
		of.What, of.Grams, of.Temp = pot.Add, d.Grams, b.Room
	case Took:
		of.What, of.Grams = pot.Take, d.Grams
	case Dipped:
		of.What, of.Coat = pot.Dip, b.Coat
		of.Piece = chocolate.Piece{Mass: usualCentre, At: b.Room, Heat: chocolate.HeatOfCentre, Across: 25,
			Seconds: chocolate.DipSeconds}
		list := make([]pot.Deed, d.Pieces)
		for i := range list {
			list[i] = of
		}
		return list
	default:
		return nil
	}
	return []pot.Deed{of}
}

// usualCentre of a dipped piece, where nobody has said how heavy it is: a truffle's (memory).
const usualCentre si.Grams = 12
