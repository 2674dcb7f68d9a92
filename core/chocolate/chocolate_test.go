package chocolate

import (
	"math"
	"testing"
	"testing/quick"
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

// Handbook 3.2. Beckett, The Science of Chocolate (memory), and the melting points of the crystal forms, Wille and Lutton
// 1966 (memory): working lies between form IV, 27.5 C, and form V, 33.8 C; cooling reaches below form IV's or to it; the
// melt is above form VI, 36.3 C.
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

// Whatever is asked of a pot: used and reclaimed make up what was melted, nothing is negative, and it holds what is needed.
func TestPotsConserveMass(t *testing.T) {
	law := func(a, b, c uint32) bool {
		on, drained, pool := float64(a%5_000_000)/100, float64(b%1_000_000)/100, float64(c%100_000)/100
		m := Plan(on, drained, pool)
		if on == 0 {
			return m == Melt{}
		}
		return math.Abs(m.Used+m.Reclaimed-m.Melted) < 1e-9 && math.Abs(m.OnPieces+m.Lost-m.Used) < 1e-9 &&
			m.Reclaimed >= drained+pool-1e-9 && m.Melted >= LeastMelt && m.Lost > 0
	}
	if err := quick.Check(law, nil); err != nil {
		t.Error(err)
	}
}

// By hand: 112 g on the pieces, 2 % of it stays on the tools: 2.24 g, so 114.24 g are used; 250 g must be left to dip
// from: melt 364.24 g, 250 g come back.
func TestPotByHand(t *testing.T) {
	m := Plan(112, 0, 250)
	if math.Abs(m.Used-114.24) > 1e-9 || math.Abs(m.Melted-364.24) > 1e-9 || math.Abs(m.Reclaimed-250) > 1e-9 {
		t.Errorf("got %+v", m)
	}
	if m := Plan(20, 0, 10); m.Melted != LeastMelt || math.Abs(m.Reclaimed-(LeastMelt-20.4)) > 1e-9 {
		t.Errorf("a small pot is %+v: no less than %v melts evenly", m, LeastMelt)
	}
}
