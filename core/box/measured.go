package box

import (
	"slices"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Inside of a box as a person measures it.
type Inside struct {
	Length measure.Quantity  `json:"length"`
	Width  measure.Quantity  `json:"width"`
	Height measure.Quantity  `json:"height"`
	Layers int               `json:"layers,omitempty"`
	Holds  *measure.Quantity `json:"holds,omitempty"`
	Lid    Lid               `json:"lid,omitempty"`
	// Rise is how much higher than the sides pieces may stand, under a raised lid.
	Rise *measure.Quantity `json:"rise,omitempty"`
}

// Lid of a box: how high pieces may stand in it.
type Lid string

const (
	LidFlat   Lid = ""       // it closes on the sides
	LidRaised Lid = "raised" // it leaves room above them
	LidNone   Lid = "none"   // a tray: a single layer may be of any height
)

// Lids that there are.
func Lids() []Lid { return []Lid{LidFlat, LidRaised, LidNone} }

// Base of a liner or cup as a person measures it.
type Base struct {
	Length measure.Quantity `json:"length"`
	Width  measure.Quantity `json:"width"`
}

// What a person measures: a side of a box in mm, layers, and what it holds in g.
const (
	longestSide = 2000
	mostLayers  = 12
	mostHeld    = 50_000
)

func side(f *invalid.Faults, path string, q measure.Quantity) {
	if err := q.Check(measure.Length); err != nil {
		f.Under(path, err)
	} else if mm := millimetres(q); !(mm > 0) || mm > longestSide {
		f.Add(path, reason.Of("box.side-is-more-than-nothing", measure.Show(measure.Of(longestSide, measure.Millimetre),
			measure.Substance{})))
	}
}

func millimetres(q measure.Quantity) float64 {
	mm, _ := q.In(measure.Millimetre, measure.Substance{})
	return mm
}

// Check finds the faults of an inside; the error is an *invalid.Error.
func (i *Inside) Check() error {
	var f invalid.Faults
	side(&f, "length", i.Length)
	side(&f, "width", i.Width)
	side(&f, "height", i.Height)
	if !slices.Contains(Lids(), i.Lid) {
		f.Add("lid", reason.Of("box.no-such-lid"))
	}
	if i.Lid == LidRaised {
		if i.Rise == nil {
			f.Add("rise", reason.Of("box.how-high-is-lid"))
		} else {
			side(&f, "rise", *i.Rise)
		}
	}
	if i.Lid == LidNone && i.Layers > 1 {
		f.Add("layers", reason.Of("box.tray-has-one-layer"))
	}
	if i.Layers < 0 || i.Layers > mostLayers {
		f.Add("layers", reason.Of("box.has-at-most-layers", reason.Int(mostLayers)))
	}
	if i.Holds != nil {
		if err := i.Holds.Check(measure.Mass); err != nil {
			f.Under("holds", err)
		} else if g, _ := i.Holds.In(measure.Gram, measure.Substance{}); !(g > 0) || g > mostHeld {
			f.Add("holds", reason.Of("box.holds-more-than-nothing"))
		}
	}
	return f.Err()
}

// Check finds the faults of a base.
func (b *Base) Check() error {
	var f invalid.Faults
	side(&f, "length", b.Length)
	side(&f, "width", b.Width)
	return f.Err()
}

// Room of an inside that has passed Check.
func (i *Inside) Room() *Room {
	if i == nil {
		return nil
	}
	r := &Room{Length: millimetres(i.Length), Width: millimetres(i.Width), Height: millimetres(i.Height),
		Layers: i.Layers, Open: i.Lid == LidNone}
	if i.Lid == LidRaised && i.Rise != nil {
		r.Rise = millimetres(*i.Rise)
	}
	if i.Holds != nil {
		g, _ := i.Holds.In(measure.Gram, measure.Substance{})
		r.Holds = si.Grams(g)
	}
	return r
}

// Foot of a base that has passed Check.
func (b *Base) Foot() *Foot {
	if b == nil {
		return nil
	}
	return &Foot{Length: millimetres(b.Length), Width: millimetres(b.Width)}
}
