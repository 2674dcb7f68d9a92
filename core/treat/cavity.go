package treat

import (
	"math"

	"zestytin/core/measure"
)

// Shape of a cavity of a mould.
type Shape string

const (
	ShapeDome  Shape = "dome"  // half a ball, flat at its mouth
	ShapeCup   Shape = "cup"   // round, wider at its mouth than at its foot
	ShapeHeart Shape = "heart" // a square on its corner and two half circles on its upper sides, as deep all over
	ShapeCube  Shape = "cube"
	ShapeBar   Shape = "bar"  // straight sides
	ShapeLoaf  Shape = "loaf" // sides that lean out by as much all around, as those of a small bread tin
)

// Shapes that there are.
func Shapes() []Shape {
	return []Shape{ShapeDome, ShapeCup, ShapeHeart, ShapeCube, ShapeBar, ShapeLoaf}
}

// Cavity of a mould by its shape and its sizes at the mouth: Across is the diameter of what is round, the width of a
// heart, the side of a cube, the length of a bar or loaf. Foot is the diameter of a cup at its foot, or the width of a
// loaf there. Asks says which a shape has.
type Cavity struct {
	Shape  Shape             `json:"shape"`
	Across measure.Quantity  `json:"across"`
	Width  *measure.Quantity `json:"width,omitempty"`
	Foot   *measure.Quantity `json:"foot,omitempty"`
	Depth  *measure.Quantity `json:"depth,omitempty"`
}

// Asks are the sizes that a shape has beside Across.
func (s Shape) Asks() (width, foot, depth bool) {
	return s == ShapeBar || s == ShapeLoaf, s == ShapeCup || s == ShapeLoaf, s != ShapeDome && s != ShapeCube
}

// Solid of a cavity that has been checked.
func (c *Cavity) Solid() Solid {
	s := Solid{Shape: c.Shape, Length: Millimetres(c.Across)}
	s.Width, s.Foot, s.Depth = s.Length, s.Length, s.Length
	for _, x := range []struct {
		given *measure.Quantity
		to    *float64
	}{{c.Width, &s.Width}, {c.Foot, &s.Foot}, {c.Depth, &s.Depth}} {
		if x.given != nil {
			*x.to = Millimetres(*x.given)
		}
	}
	if c.Shape == ShapeDome {
		s.Depth = s.Length / 2
	}
	return s
}

// Solid is the inside of a cavity, all in mm: at its mouth Length by Width, Depth deep; Foot as in Cavity.
type Solid struct {
	Shape                      Shape
	Length, Width, Foot, Depth float64
}

// CubeOf so many mL: what a cavity is taken for of which only the volume is known.
func CubeOf(volume float64) Solid {
	a := 10 * math.Cbrt(volume)
	return Solid{ShapeCube, a, a, a, a}
}

// A heart of a square of side a has the area a^2 + pi a^2/4, the outline 2a + pi a, and the width (1/sqrt 2 + 1) a: by
// its width w that is heartArea w^2 and heartOutline w.
var (
	heartWidth   = 1 + 1/math.Sqrt2
	heartArea    = (1 + math.Pi/4) / heartWidth / heartWidth
	heartOutline = (2 + math.Pi) / heartWidth
)

// area in mm2 that walls of t mm leave of the cut at a depth of z mm below the mouth. What walls leave of a heart is
// taken as a smaller heart, smaller by what its outline loses.
func (s Solid) area(z, t float64) float64 {
	switch s.Shape {
	case ShapeDome:
		r := math.Max(s.Length/2-t, 0)
		return math.Pi * math.Max(r*r-z*z, 0)
	case ShapeHeart:
		w := math.Max(s.Length-heartOutline/heartArea*t/2, 0)
		return heartArea * w * w
	}
	leans := 0.
	if s.Depth > 0 && (s.Shape == ShapeCup || s.Shape == ShapeLoaf) {
		leans = (s.Width - s.Foot) * z / s.Depth
	}
	length, width := math.Max(s.Length-leans-2*t, 0), math.Max(s.Width-leans-2*t, 0)
	if s.Shape == ShapeCup {
		return math.Pi / 4 * width * width
	}
	return length * width
}

// Within is the volume in mL inside walls and floor of t mm, from cap mm below the mouth on: by the prismatoid formula,
// h/6 (top + 4 middle + foot), which is exact for all of these shapes.
func (s Solid) Within(t, cap float64) float64 {
	floor := s.Depth - t
	if floor <= cap {
		return 0
	}
	return (floor - cap) / 6 * (s.area(cap, t) + 4*s.area((cap+floor)/2, t) + s.area(floor, t)) / 1000
}

// Volume of the cavity in mL.
func (s Solid) Volume() float64 { return s.Within(0, 0) }

// Wall in mm, and the depth of the cap in mm, of a shell and a cap that are shares of the cavity: the cap a slab at its
// mouth, the shell on its sides and floor. Both are solved for by halving.
func (s Solid) Wall(shell, cap float64) (wall, deep float64) {
	all := s.Volume()
	deep = halved(s.Depth, func(z float64) bool { return all-s.Within(0, z) < cap*all })
	left := math.Max(1-shell-cap, 0) * all
	return halved(s.Depth, func(t float64) bool { return s.Within(t, deep) > left }), deep
}

// halved is the least x up to most for which less no longer holds.
func halved(most float64, less func(float64) bool) float64 {
	low, high := 0., most
	for range 60 {
		if mid := (low + high) / 2; less(mid) {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

// Solid of a mould's cavity: of its shape, or the cube of its volume; of neither nothing.
func (m *Mould) Solid() Solid {
	switch {
	case m.Cavity != nil:
		return m.Cavity.Solid()
	case m.Volume != nil:
		return CubeOf(Millilitres(*m.Volume))
	}
	return Solid{}
}

// Millilitres that a cavity holds.
func (m *Mould) Millilitres() float64 {
	if m.Cavity == nil && m.Volume != nil {
		return Millilitres(*m.Volume)
	}
	return m.Solid().Volume()
}
