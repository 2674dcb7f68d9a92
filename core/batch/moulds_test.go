package batch

import (
	"errors"
	"math"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

func mm(x float64) *measure.Quantity { return length(x, measure.Millimetre) }

// Volumes worked by hand: of a half ball of 50 mm (2/3) pi 2.5^3; of a cup the frustum of rules 4.5; of a heart 40 mm
// wide the square of side 40/1.7071 = 23.43 mm and two half circles on it, 980.2 mm2, times its depth; of a loaf
// 30/6 (100 x 50 + 4 x 95 x 45 + 90 x 40).
func TestVolumesOfCavities(t *testing.T) {
	for _, x := range []struct {
		of   treat.Cavity
		want float64 // mL
	}{
		{treat.Cavity{Shape: treat.ShapeDome, Across: *mm(50)}, 32.725},
		{treat.Cavity{Shape: treat.ShapeCup, Across: *mm(60), Foot: mm(45), Depth: mm(55)},
			math.Pi * 5.5 / 3 * (9 + 3*2.25 + 2.25*2.25)},
		{treat.Cavity{Shape: treat.ShapeHeart, Across: *mm(40), Depth: mm(15)}, 14.704},
		{treat.Cavity{Shape: treat.ShapeCube, Across: *length(1, measure.Inch)}, 16.387},
		{treat.Cavity{Shape: treat.ShapeBar, Across: *mm(120), Width: mm(60), Depth: mm(8)}, 57.6},
		{treat.Cavity{Shape: treat.ShapeLoaf, Across: *mm(100), Width: mm(50), Foot: mm(40), Depth: mm(30)}, 128.5},
	} {
		if got := x.of.Solid().Volume(); math.Abs(got-x.want) > 0.001 {
			t.Errorf("%s: %.3f mL, want %.3f", x.of.Shape, got, x.want)
		}
	}
}

// Shell, cap and what is left make the cavity again, in every shape; of a bar 120 x 60 x 10 mm with walls of 2 mm and a
// cap of 2 mm 116 x 56 x 6 mm are left: 38.976 of 72 mL.
func TestWallsOfCavities(t *testing.T) {
	bar := treat.Solid{Shape: treat.ShapeBar, Length: 120, Width: 60, Foot: 60, Depth: 10}
	wall, cap := bar.Wall(1-38.976/72-0.2, 0.2)
	if math.Abs(wall-2) > 1e-6 || math.Abs(cap-2) > 1e-6 {
		t.Errorf("walls of %.4f mm and a cap of %.4f mm, want 2 and 2", wall, cap)
	}
	for _, shape := range treat.Shapes() {
		s := treat.Solid{Shape: shape, Length: 40, Width: 40, Foot: 30, Depth: 20}
		for _, shares := range [][2]float64{{0.3, 0}, {0.4, 0.1}, {0.6, 0.3}} {
			wall, cap := s.Wall(shares[0], shares[1])
			if left := s.Within(wall, cap) / s.Volume(); math.Abs(left-(1-shares[0]-shares[1])) > 1e-6 {
				t.Errorf("%s: %.4f is left of the cavity, of shares %v", shape, left, shares)
			}
		}
	}
}

// loaves of two dozen in foil, a mould for each, six worked at a time.
func loaves() *treat.Formula {
	f := moulded()
	f.Mould = &treat.Mould{Cavity: &treat.Cavity{Shape: treat.ShapeLoaf, Across: *mm(100), Width: mm(50), Foot: mm(40),
		Depth: mm(30)}, Cavities: 1, Moulds: 6, Shell: 0.3, Cap: 0.1, Once: "foil"}
	f.Choices = map[string]string{"mould": "foil"}
	f.Finishes = nil
	return stepped(f)
}

// Foil is used up, one for each loaf that is begun; none has to come back before the next, none is counted as a tool.
func TestFoilIsUsedUp(t *testing.T) {
	f := loaves()
	c := card(t, f, 24)
	// Of 27 at 5% loss 24 come out with 95.4% (rules 4.1, the binomial): in rounds of six the last has three.
	if c.Start != 27 || c.Rounds.Count != 5 {
		t.Fatalf("%d started in %d rounds, want 27 in 5", c.Start, c.Rounds.Count)
	}
	foil := c.Packs[len(c.Packs)-1]
	if foil.Supply != "foil" || foil.Amount != measure.Of(27, measure.Each) {
		t.Errorf("packaging ends with %v, want 27 foils", foil)
	}
	if c.Tool != nil {
		t.Errorf("takes %v as a tool", c.Tool)
	}
	turned := false
	for _, s := range c.Steps {
		if len(s.Takes) > 0 {
			t.Errorf("%s takes %v", s.ID, s.Takes)
		}
		turned = turned || strings.HasPrefix(s.Name, "step.leave-in-foil")
	}
	if !turned {
		t.Error("no step leaves them in their foil")
	}
	// 128.5 mL: 30% shell of 1.3 g/mL chocolate is 50.1 g (rules 4.5).
	if got := c.Sizes.Shell.Amount; math.Abs(got-128.5*0.3*1.3) > 0.05 {
		t.Errorf("a shell of %.2f g", got)
	}
	f.Mould.Once = ""
	if c := card(t, f, 24); c.Tool == nil || c.Tool.ID != "loaf-128.5-ml-1" {
		t.Errorf("what comes back is %v", c.Tool)
	}
}

func TestCavitiesThatCannotBe(t *testing.T) {
	for _, x := range []struct {
		why  string
		to   func(*treat.Mould)
		path string
	}{
		{"neither volume nor shape", func(m *treat.Mould) { m.Cavity = nil }, "mould.volume"},
		{"both", func(m *treat.Mould) { m.Volume = new(measure.Of(5, measure.Millilitre)) }, "mould.volume"},
		{"no shape", func(m *treat.Mould) { m.Cavity.Shape = "star" }, "mould.cavity.shape"},
		{"no depth", func(m *treat.Mould) { m.Cavity.Depth = nil }, "mould.cavity.depth"},
		{"a weight", func(m *treat.Mould) { m.Cavity.Width = new(measure.Grams(5)) }, "mould.cavity.width"},
		{"wider below", func(m *treat.Mould) { m.Cavity.Foot = mm(60) }, "mould.cavity.foot"},
		{"a size it does not have", func(m *treat.Mould) { m.Cavity.Shape = treat.ShapeDome }, "mould.cavity.width"},
		{"8 litres", func(m *treat.Mould) {
			m.Cavity.Depth, m.Cavity.Across, m.Cavity.Width = mm(300), *mm(300), mm(100)
		}, "mould.cavity.across"},
		{"no cavities", func(m *treat.Mould) { m.Cavities = 0 }, "mould.cavities"},
		{"no such foil", func(m *treat.Mould) { m.Once = "paper" }, "mould.once"},
	} {
		f := loaves()
		x.to(f.Mould)
		var faults *invalid.Error
		if err := family.Check(f, larder(), supplies); !errors.As(err,
			&faults) || !strings.HasPrefix(faults.Fields[0].Path, x.path) {
			t.Errorf("%s: %v, want a fault at %s", x.why, err, x.path)
		}
	}
}
