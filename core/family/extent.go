package family

import (
	"math"

	"zestytin/core/reason"
	"zestytin/core/treat"
)

// Extent of a piece as it stands on its foot, in mm: Length is no less than Width.
type Extent struct {
	Length float64 `json:"length"`
	Width  float64 `json:"width"`
	Height float64 `json:"height"`
}

// ExtentOf a finished piece: as the seller has measured it, else as it follows from the formula; false where neither
// says.
func ExtentOf(f *treat.Formula, k *treat.Inputs) (Extent, bool) {
	if p := f.Piece; p != nil && p.Length != nil {
		return Extent{treat.Millimetres(*p.Length), treat.Millimetres(*p.Width), treat.Millimetres(*p.Height)}, true
	}
	return LawOf(f).Extent(f, k)
}

// largest side of a piece that a person makes at home, in mm.
const largestPiece = 1000

// piece as the seller has measured it: all three sides, or none.
func (c *Checking) piece() {
	p := c.F.Piece
	if p == nil || p.Length == nil && p.Width == nil && p.Height == nil {
		return
	}
	long := c.length("piece.length", p.Length, largestPiece)
	wide := c.length("piece.width", p.Width, largestPiece)
	c.length("piece.height", p.Height, largestPiece)
	if long && wide && treat.Millimetres(*p.Width) > treat.Millimetres(*p.Length)+1e-9 {
		c.Add("piece.width", reason.Of("family.piece-no-wider-than-long"))
	}
}

// ball of a diameter.
func ball(across float64) Extent { return Extent{across, across, across} }

func (bomb) Extent(f *treat.Formula, _ *treat.Inputs) (Extent, bool) {
	if f.Shell == nil {
		return Extent{}, false
	}
	across := treat.Millimetres(f.Shell.Across)
	if f.Shell.Height != nil {
		return Extent{across, across, treat.Millimetres(*f.Shell.Height)}, true
	}
	return ball(across), true
}

// Fruit of a form as it lies, against a ball of the same volume: an ellipsoid whose three diameters multiplied are
// those of the ball. A large berry is about 57 mm by 45 (memory); of the rest the shares are memory.
func (fr fruit) Extent(f *treat.Formula, k *treat.Inputs) (Extent, bool) {
	if f.Centre == nil {
		return Extent{}, false
	}
	s := fr.Sizes(f, k)
	d := s.Across + 2*s.Wall
	switch Chosen(f, "form") {
	case "round":
		return ball(d), d > 0
	case "slice":
		return Extent{1.4 * d, d, d / 1.4}, d > 0
	case "long":
		return Extent{2 * d, d * math.Sqrt(0.5), d * math.Sqrt(0.5)}, d > 0
	default:
		wide := d / math.Cbrt(57./45)
		return Extent{57. / 45 * wide, wide, wide}, d > 0
	}
}

func (t truffle) Extent(f *treat.Formula, k *treat.Inputs) (Extent, bool) {
	if f.Centre == nil {
		return Extent{}, false
	}
	s := t.Sizes(f, k)
	d := s.Across + 2*s.Wall
	return ball(d), d > 0
}

func (moulded) Extent(f *treat.Formula, _ *treat.Inputs) (Extent, bool) {
	if f.Mould == nil {
		return Extent{}, false
	}
	c := f.Mould.Solid()
	return Extent{max(c.Length, c.Width), min(c.Length, c.Width), c.Depth}, c.Length > 0
}

func (fudge) Extent(f *treat.Formula, _ *treat.Inputs) (Extent, bool) {
	s := f.Sheet
	if s == nil || s.Rows < 1 || s.Columns < 1 {
		return Extent{}, false
	}
	trim := 0.0
	if s.Trim != nil {
		trim = treat.Millimetres(*s.Trim)
	}
	long := (treat.Millimetres(s.Length) - 2*trim) / float64(s.Columns)
	wide := (treat.Millimetres(s.Width) - 2*trim) / float64(s.Rows)
	return Extent{max(long, wide), min(long, wide), treat.Millimetres(s.Depth)}, true
}
