package box

import (
	"math"
	"slices"

	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Room is the inside of a box. Lengths are in mm.
type Room struct {
	Length float64  `json:"length"`
	Width  float64  `json:"width"`
	Height float64  `json:"height"`
	Rise   float64  `json:"rise,omitempty"`   // that pieces may stand higher than the sides, under a raised lid
	Open   bool     `json:"open,omitempty"`   // there is no lid: a single layer may be of any height
	Layers int      `json:"layers,omitempty"` // that may lie on each other; 0: one
	Holds  si.Grams `json:"holds,omitempty"`  // at most; 0: nobody has said
}

// Item is a piece as it goes into a box: in its liner, where it has one. It stands as it is given, its height up.
type Item struct {
	Length float64  `json:"length"` // mm
	Width  float64  `json:"width"`  // mm
	Height float64  `json:"height"` // mm
	Lies   bool     `json:"lies,omitempty"`
	Bare   bool     `json:"bare,omitempty"` // nothing may be laid on it
	Mass   si.Grams `json:"mass,omitempty"`
}

// Foot is what a liner or cup takes up in a box, in mm, where that is more than the piece in it.
type Foot struct {
	Length float64 `json:"length"`
	Width  float64 `json:"width"`
}

// In a liner, a piece takes up at least the liner's foot.
func (i Item) In(f Foot) Item {
	i.Length, i.Width = max(i.Length, f.Length, f.Width), max(i.Width, min(f.Length, f.Width))
	return i
}

// slack is what floating point may add to lengths that just fit, in mm.
const slack = 1e-6

// way in which a piece lies in a row: what it takes along the row, across it, and in height.
type way struct{ along, deep, high float64 }

// ways in which a piece may lie: it may always be turned on its foot, and laid on a side where it may lie.
func (i Item) ways() []way {
	l, w, h := i.Length, i.Width, i.Height
	list := []way{{l, w, h}, {w, l, h}}
	if i.Lies {
		list = append(list, way{l, h, w}, way{h, l, w}, way{w, h, l}, way{h, w, l})
	}
	return list
}

// Layout is how pieces lie in a box: layers from the bottom up, each in rows.
type Layout struct {
	Across bool    `json:"across,omitempty"` // the rows run along the width of the box
	Layers []Layer `json:"layers"`
}

// Layer of a layout. Lengths are in mm.
type Layer struct {
	High float64 `json:"high"` // as high as its highest piece
	Deep float64 `json:"deep"` // that its rows take
	Rows []Row   `json:"rows"`
}

// Row of pieces, from the corner on.
type Row struct {
	Deep   float64  `json:"deep"` // mm
	Pieces []Placed `json:"pieces"`
}

// Placed is a piece in its row: which of the items it is, and what it takes along the row, across it and in height, in
// mm.
type Placed struct {
	Item  int     `json:"item"`
	Along float64 `json:"along"`
	Deep  float64 `json:"deep"`
	High  float64 `json:"high"`
}

// Count of pieces of each of so many items.
func (l *Layout) Count(items int) []int {
	n := make([]int, items)
	for _, layer := range l.Layers {
		for _, r := range layer.Rows {
			for _, p := range r.Pieces {
				n[p.Item]++
			}
		}
	}
	return n
}

// Headroom is how high pieces may stand, in mm; infinite where there is no lid.
func (r Room) Headroom() float64 {
	if r.Open {
		return math.Inf(1)
	}
	return r.Height + r.Rise
}

// layerHeight is the highest that layers may be, where so many lie on each other.
func (r Room) layerHeight(layers int) float64 { return r.Headroom() / float64(layers) }

// tooSmall tells whether nothing fits into a room, or an item has no size.
func tooSmall(r Room, items []Item) bool {
	if !(r.Length > 0 && r.Width > 0 && r.Height > 0) {
		return true
	}
	return slices.ContainsFunc(items, func(i Item) bool { return !(i.Length > 0 && i.Width > 0 && i.Height > 0) })
}

// carries is how many pieces of a mass a box holds by its weight; as good as any number where nobody has said.
func (r Room) carries(mass si.Grams) int {
	if !(r.Holds > 0) || !(mass > 0) {
		return math.MaxInt32
	}
	return int(r.Holds.Over(mass) + 1e-9)
}

// Sides of a room: length, width and height.
func (r Room) Sides() (sides [3]measure.Shown) {
	for i, mm := range []float64{r.Length, r.Width, r.Height} {
		sides[i] = measure.Show(measure.Of(mm, measure.Millimetre), measure.Substance{})
	}
	return sides
}

// Says the inside of a room: 10 x 7 x 2 in.
func (r Room) Says() reason.Reason { return sides(r.Length, r.Width, r.Height) }

// Says what an item takes up.
func (i Item) Says() reason.Reason { return sides(i.Length, i.Width, i.Height) }

func sides(of ...float64) reason.Reason {
	shown := make([]reason.Value, len(of))
	for i, mm := range of {
		shown[i] = measure.Show(measure.Of(mm, measure.Millimetre), measure.Substance{})
	}
	return reason.Of("box.sides", shown...)
}
