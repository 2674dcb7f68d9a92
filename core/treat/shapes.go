package treat

import "math"

// HalfShell is the mass in grams of a hollow hemisphere: (2/3) pi (R^3 - r^3) rho, for the outside diameter across and the
// wall in mm, rho in g/mL (handbook 4.5). A wall of the radius or more is a solid half.
func HalfShell(across, wall, rho float64) float64 {
	outer := across / 2 / 10 // cm
	inner := math.Max(outer-wall/10, 0)
	return 2. / 3 * math.Pi * (outer*outer*outer - inner*inner*inner) * rho
}

// Wall is the thickness in mm of a hemisphere of the given mass: the inverse of HalfShell. More mass than the solid half
// holds gives the radius.
func Wall(across, grams, rho float64) float64 {
	outer := across / 2 / 10
	cubed := outer*outer*outer - grams/(2./3*math.Pi*rho)
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

// Slab is the mass in grams of a sheet: length x width x depth in mm, rho in g/mL (handbook 4.5).
func Slab(length, width, depth, rho float64) float64 { return length * width * depth / 1000 * rho }
