package chocolate

import (
	"math"
	"testing"

	"zestytin/core/si"
)

// By hand (rules 3.4; memory): 0.27 C a minute at 31.5 C in a room of 20 C is the first minute's fall of 11.5 C x (1 -
// e^(-1/43)) = 0.264; 11.5 / 43 = 0.267 at the instant. Eight times the mass takes twice as long.
func TestABowlCoolsByNewtonsLaw(t *testing.T) {
	if rate := 11.5 / TimeConstant(450); math.Abs(rate-0.27) > 0.005 {
		t.Errorf("%v C a minute", rate)
	}
	if got := TimeConstant(3600); math.Abs(got-86) > 1e-9 {
		t.Errorf("3.6 kg cool with %v min", got)
	}
	if got := Cooled(31.5, 20, 450, 43); math.Abs(got-(20+11.5/math.E)) > 1e-9 {
		t.Errorf("after one time constant it is at %v", got)
	}
	// The same law as the one that readings are fitted to.
	law := Cooling{Start: 40, Rate: 1 / TimeConstant(700), Room: 19}
	for m := 0.; m < 90; m += 7 {
		if got := Cooled(40, 19, 700, m); math.Abs(got-law.At(m)) > 1e-9 {
			t.Errorf("after %v min %v, the law says %v", m, got, law.At(m))
		}
	}
}

// By hand, 450 g of dark at 31.5 C in a room of 21: it leaves 31 C after 43 ln(10.5/10) = 2.1 min and 27 C after 43
// ln(10.5/6) = 24.1. Milk at 29.5 leaves 26 C after 43 ln(8.5/5) = 22.8; white at 28.5 leaves 25 C after 43 ln(7.5/4) =
// 27.0.
func TestHowLongABowlHolds(t *testing.T) {
	for _, c := range []struct {
		colour Colour
		want   si.Minutes
	}{{Dark, 24}, {Milk, 22}, {White, 27}} {
		h := Hold{Microwave, Seed, Real, BandsOf(c.colour), 21}
		if got := h.Minutes(450); got != c.want {
			t.Errorf("%s holds %d min, want %d", c.colour, got, c.want)
		}
		for _, s := range []struct {
			minutes float64
			want    State
		}{{0, Ready}, {2, Ready}, {3.5, Warm}, {float64(c.want), Warm}, {float64(c.want) + 1.2, Anew}, {60, Anew}} {
			if got := h.After(450, s.minutes); got != s.want {
				t.Errorf("%s after %v min: %s, want %s", c.colour, s.minutes, got, s.want)
			}
		}
	}
	bath := Hold{Bath, Seed, Real, BandsOf(Dark), 21}
	if bath.After(450, 300) != Ready || bath.Minutes(450) != AllSession {
		t.Error("over a bath a bowl stands ready all session")
	}
	// Coating at 40.5 C in the same room is solid at 30: 43 ln(19.5/9) = 33.2 min. In a room as warm as that it never
	// is.
	if got := (Hold{Microwave, NoTemper, Compound, BandsOf(White), 21}).Minutes(450); got != 33 {
		t.Errorf("coating holds %d min", got)
	}
	if got := (Hold{Microwave, NoTemper, Compound, BandsOf(White), 31}).Minutes(450); got != AllSession {
		t.Errorf("in a hot room coating holds %d min", got)
	}
}

// Rules 3.1, common practice: 8 oz take 1 to 2 minutes in a microwave; a kilogram over a bath about 20 (memory).
// Against the energy balance, by hand: 3600 g to 42.5 C from 21 take 3600 x (1.6 x 21.5 + 45) J = 285.8 kJ: 11.9 min
// over 400 W, below the 72 min of the rule; 36 of these are hands.
func TestMinutesToMelt(t *testing.T) {
	if m := Minutes(Microwave, NoTemper, 226.8, 42.5, 21); m.Melts < 1 || m.Melts > 2 ||
		math.Abs(m.Hands-m.Melts/2) > 1e-9 {
		t.Errorf("8 oz: %+v", m)
	}
	if m := Minutes(Bath, Seed, 1000, 47.5, 21); m.Melts != 20 || m.Hands != 20 {
		t.Errorf("1 kg over a bath, seeded: %+v", m)
	}
	if m := Minutes(Bath, NoTemper, 3600, 42.5, 21); math.Abs(m.Melts-72) > 1e-9 || math.Abs(m.Hands-36) > 1e-9 {
		t.Errorf("3.6 kg of coating over a bath: %+v", m)
	}
	for _, s := range Sources() {
		for g := 30.; g < 5000; g += 130 {
			floor := g * (HeatSolid*26.5 + LatentHeat) / s.Power() / 60
			if m := Minutes(s, Seed, si.Grams(g), 47.5, 21); m.Melts < floor-1e-9 {
				t.Errorf("%v g from a %s melt in %v min, the heat alone takes %v", g, s, m.Melts, floor)
			}
		}
	}
}

// Against Beckett's table (The Science of Chocolate; memory): every method works within the band of its colour, a
// gentle melt up to 0.8 C above it, and under every ceiling form V, which melts at 33.8 C (Wille and Lutton 1966;
// memory), stays whole while form IV, 27.5 C, does not.
func TestEveryMethodAgainstTheTable(t *testing.T) {
	table := map[Colour]Range{Dark: {31, 32}, Milk: {29, 30}, White: {28, 29}}
	ceilings := map[Colour]float64{Dark: 32.8, Milk: 30.8, White: 29.8}
	for colour, work := range table {
		bands := BandsOf(colour)
		for _, m := range []Method{Gentle, Seed, ThreePoint} {
			if got := Working(m, Real, bands); got != work {
				t.Errorf("%s, %s works at %v, the table says %v", colour, m, got, work)
			}
		}
		ceiling := Ceiling(bands)
		if math.Abs(ceiling-ceilings[colour]) > 1e-9 || ceiling <= work.To || ceiling >= 33.8 || work.From <= 27.5 {
			t.Errorf("%s may go to %v", colour, ceiling)
		}
	}
	// A chocolate's own bands have a ceiling of their own.
	own := Bands{Range{44, 48}, Range{26.5, 27.5}, Range{30, 31}}
	gentle := Temper(Gentle, Real, own, Microwave, 300, 21)
	if math.Abs(gentle.Ceiling-31.8) > 1e-9 || gentle.Floor != 30 {
		t.Errorf("%+v", gentle)
	}
	// To the ceiling it takes less heat than to the melting band: 1.6 x 10.8 + 45 = 62.3 J/g instead of 1.6 x 25 + 45 =
	// 85: 73% of the seconds.
	seconds := func(b *Bursts) int { return b.Thirty*30 + b.Fifteen*15 + b.Short*8 }
	seeded := Temper(Seed, Real, own, Microwave, si.Grams(300/(1-SeedShare(46, 30.5, 21))), 21)
	if g, s := seconds(gentle.Bursts), seconds(seeded.Bursts); g >= s || gentle.Bursts.Thirty != 0 {
		t.Errorf("a gentle melt takes %d s (%+v), 300 g to be seeded %d", g, gentle.Bursts, s)
	}
}
