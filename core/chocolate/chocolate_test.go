package chocolate

import (
	"math"
	"testing"
)

// Handbook 4.3 (heat capacities and latent heat from memory): the share of seed by heat balance.
func TestSeedShare(t *testing.T) {
	for _, c := range []struct{ melt, work, room, want float64 }{
		{46, 31.5, 21, 0.28},
		{48, 31.5, 21, 0.31},
		{45, 29.5, 21, 0.30},
	} {
		if got := SeedShare(c.melt, c.work, c.room); math.Abs(got-c.want) > 0.005 {
			t.Errorf("melt %v to %v with %v seed: %.3f, want %.2f", c.melt, c.work, c.room, got, c.want)
		}
	}
	if got := SeedShare(31, 31.5, 21); got != 0 {
		t.Errorf("a melt below working needs %v seed", got)
	}
}

// Handbook 3.2. Beckett, The Science of Chocolate (memory), and the melting points of the crystal forms, Wille and
// Lutton 1966 (memory): working lies between form IV, 27.5 C, and form V, 33.8 C; cooling reaches below form IV's or to
// it; the melt is above form VI, 36.3 C.
func TestBandsAgainstCrystalForms(t *testing.T) {
	for _, c := range []struct {
		colour           Colour
		melt, cool, work Range
	}{
		{Dark, Range{45, 50}, Range{27, 28}, Range{31, 32}},
		{Milk, Range{40, 45}, Range{26, 27}, Range{29, 30}},
		{White, Range{40, 45}, Range{25, 26}, Range{28, 29}},
	} {
		b := BandsOf(c.colour)
		if b != (Bands{c.melt, c.cool, c.work}) {
			t.Errorf("%s: %v", c.colour, b)
		}
		if b.Work.From <= 27.5 || b.Work.To >= 33.8 || b.Melt.From <= 36.3 || b.Cool.From > 27.5 {
			t.Errorf("%s: %v does not lie right between the crystal forms", c.colour, b)
		}
	}
}
