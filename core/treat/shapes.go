package treat

import (
	"math"

	"zestytin/core/si"
)

// HalfShell is the mass in grams of a hollow hemisphere: (2/3) pi (R^3 - r^3) rho, for the outside diameter across and
// the wall in mm, rho in g/mL (rules 4.5). A wall of the radius or more is a solid half.
func HalfShell(across, wall, rho float64) si.Grams {
	outer := across / 2 / 10 // cm
	inner := math.Max(outer-wall/10, 0)
	return si.Grams(2. / 3 * math.Pi * (outer*outer*outer - inner*inner*inner) * rho)
}

// Wall is the thickness in mm of a hemisphere of the given mass: the inverse of HalfShell. More mass than the solid
// half holds gives the radius.
func Wall(across float64, grams si.Grams, rho float64) float64 {
	outer := across / 2 / 10
	cubed := outer*outer*outer - float64(grams)/(2./3*math.Pi*rho)
	if cubed <= 0 {
		return across / 2
	}
	return (outer - math.Cbrt(cubed)) * 10
}

// Hollow is the volume in mL inside a ball with the given outside diameter and wall in mm.
func Hollow(across, wall float64) float64 {
	inner := math.Max(across/2-wall, 0) / 10
	return 4. / 3 * math.Pi * inner * inner * inner
}

// Across is the diameter in mm of a ball of the given mass and density: the inverse of a solid ball's mass.
func Across(grams si.Grams, rho float64) float64 {
	return 20 * math.Cbrt(float64(grams)/rho*3/(4*math.Pi))
}

// Slab is the mass in grams of a sheet: length x width x depth in mm, rho in g/mL (rules 4.5).
func Slab(length, width, depth, rho float64) si.Grams {
	return si.Grams(length * width * depth / 1000 * rho)
}

// Cup is a cup as a mould: a frustum, wide end up. All mm.
type Cup struct{ Top, Base, Height float64 }

// Frustum is the volume in mL of one: pi h / 3 (R^2 + R r + r^2), for diameters and height in mm.
func Frustum(top, base, height float64) float64 {
	r, s, h := math.Max(top, 0)/20, math.Max(base, 0)/20, math.Max(height, 0)/10
	return math.Pi * h / 3 * (r*r + r*s + s*s)
}

// Hollow is the room in mL that a wall (mm, measured across the cup) on its sides, the same on its floor, and a lid as
// thick leave.
func (c Cup) Hollow(wall float64) float64 {
	// The lid closes the cup at its brim: the room ends a wall's thickness below it.
	slope := (c.Top - c.Base) / c.Height
	top := c.Top - slope*wall - 2*wall
	base := c.Base + slope*wall - 2*wall
	return Frustum(top, base, c.Height-2*wall)
}

// Mass is the chocolate of sides, floor and lid in g.
func (c Cup) Mass(wall, rho float64) si.Grams {
	return si.Grams((Frustum(c.Top, c.Base, c.Height) - c.Hollow(wall)) * rho)
}

// Lid is the chocolate between the sides that closes the cup at its brim, a wall's thickness deep, in g.
func (c Cup) Lid(wall, rho float64) si.Grams {
	slope := (c.Top - c.Base) / c.Height
	return si.Grams(Frustum(c.Top-2*wall, c.Top-slope*wall-2*wall, wall) * rho)
}

// Wall in mm that the given mass makes: the inverse of Mass, by halving. More than a solid cup holds gives the thickest
// wall.
func (c Cup) Wall(grams si.Grams, rho float64) float64 {
	low, high := 0., c.Thickest()
	for range 60 {
		if mid := (low + high) / 2; c.Mass(mid, rho) < grams {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

// Thickest wall that still leaves a hollow, mm.
func (c Cup) Thickest() float64 {
	slope := (c.Top - c.Base) / c.Height
	return min(c.Height/2, c.Base/(2-min(slope, 1.9)), c.Top/(2+slope))
}

// Coat is the mass in g of a coat of the given thickness around a ball, both in mm.
func Coat(across, thick, rho float64) si.Grams { return 2 * HalfShell(across+2*thick, thick, rho) }

// CoatThickness in mm of a coat of grams around a ball across: the inverse of Coat.
func CoatThickness(across float64, grams si.Grams, rho float64) float64 {
	inner := across / 20
	outer := math.Cbrt(inner*inner*inner + float64(grams)/(4./3*math.Pi*rho))
	return (outer - inner) * 10
}

// RodCoat is the thickness in mm of a coat of grams on a length of a rod, across and length in mm: the mass of the
// sleeve, pi ((r + t)^2 - r^2) l rho, and of the disc on its end are solved for t by Newton's method from the sleeve
// alone.
func RodCoat(across, length float64, grams si.Grams, rho float64) float64 {
	r, l, volume := across/20, length/10, float64(grams)/rho
	t := math.Sqrt(r*r+volume/(math.Pi*l)) - r
	for range 20 {
		f := math.Pi*((r+t)*(r+t)*(l+t)-r*r*l) - volume
		slope := math.Pi * (2*(r+t)*(l+t) + (r+t)*(r+t))
		t -= f / slope
	}
	return t * 10
}
