package chocolate

import (
	"math"
	"slices"
	"strings"
	"testing"

	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/text"
	"zestytin/internal/text/said"
)

// Rules 3.2: four methods, each with its reason; compound needs none, real chocolate is seeded.
func TestMethods(t *testing.T) {
	if MethodFor(Compound) != NoTemper || MethodFor(Real) != Seed {
		t.Error("compound needs no tempering, real chocolate does")
	}
	methods := []Method{}
	for _, o := range Offers(Real) {
		methods = append(methods, o)
		if said.Of(o.Why(Real)) == "" {
			t.Errorf("%s is offered without a reason", o)
		}
	}
	slices.Sort(methods)
	if !slices.Equal(methods, []Method{Gentle, NoTemper, Seed, ThreePoint}) {
		t.Errorf("real chocolate: %v", methods)
	}
	if Seed.Fits(Compound) || !NoTemper.Fits(Real) {
		t.Error("compound is not seeded; real chocolate may be left untempered")
	}
}

// Rules 3.1, common practice: about 1 to 2 minutes in all for 8 oz, in bursts of 30 s, then 15, then 5 to 10.
// By hand: 90 s; two bursts of 30 leave 30 s: one of 15, and 15 s in two of 8.
func TestBurstsOfEightOunces(t *testing.T) {
	eight, _ := measure.Of(8, measure.Ounce).In(measure.Gram, measure.Substance{})
	if b := BurstsFor(si.Grams(eight)); b != (Bursts{2, 1, 2}) ||
		text.Names(b.told()) != "2 of 30 s, 1 of 15 s and 2 of 5 to 10 s" {
		t.Errorf("%+v: %v", b, b)
	}
	for g := 20.; g <= 2000; g += 7 {
		b := BurstsFor(si.Grams(g))
		low, high := b.Thirty*30+b.Fifteen*15+b.Short*5, b.Thirty*30+b.Fifteen*15+b.Short*10
		if each := g / eight; float64(high) < 60*each || float64(low) > 120*each+5 {
			t.Errorf("%.0f g: %d to %d s, want 1 to 2 minutes for each 8 oz", g, low, high)
		}
	}
}

func TestCelsius(t *testing.T) {
	for c, want := range map[float64]string{-18: "-18 °C (0 °F)", 5: "5 °C (41 °F)",
		32.78: "32.8 °C (91 °F)"} { // 5 C: FDA Food Code 3-501.16
		if got := text.For(false).Value(reason.Celsius(c)); got != want {
			t.Errorf("%v is written %s, want %s", c, got, want)
		}
	}
}

func TestTempering(t *testing.T) {
	seed := Temper(Seed, Real, BandsOf(Dark), Microwave, 1000, 21)
	// By hand, as for the bomb of the treat package: 0.2993 of the whole.
	if math.Abs(float64(seed.Seed-299.33)) > 0.05 || seed.Bursts == nil ||
		!strings.Contains(said.All(seed.Steps), "31 to 32 °C (88 to 90 °F)") {
		t.Errorf("%+v", seed)
	}
	if gentle := Temper(Gentle, Real, BandsOf(Dark), Microwave, 300, 21); gentle.Seed != 0 ||
		!strings.Contains(said.Of(gentle.Steps[0]), "never above 32.8 °C (91 °F)") {
		t.Errorf("%+v", gentle)
	}
	three := Temper(ThreePoint, Real, BandsOf(Milk), Bath, 2000, 21)
	if three.Bursts != nil || len(three.Steps) != 3 || !strings.Contains(said.Of(three.Steps[1]), "26 to 27 °C") ||
		!strings.Contains(said.Of(three.Steps[0]), "water") {
		t.Errorf("%+v", three)
	}
	// Rules 2.4, common practice: 45 C under rolled sugar.
	if hidden := Temper(NoTemper, Real, BandsOf(Dark), Microwave, 300, 21); !strings.Contains(said.Of(hidden.Steps[1]),
		"at about 45 °C (113 °F)") {
		t.Errorf("%+v", hidden)
	}
	if none := Temper(NoTemper, Compound, BandsOf(White), Microwave, 300, 21); !strings.Contains(said.Of(none.Steps[1]),
		"5 minutes") {
		t.Errorf("%+v", none)
	}
}

// By hand. 500 g at 32 C may fall to 31 C. A centre of 12 g, 22 mm across, at -18 C, 3 s in the bowl: its share is 2
// sqrt(1e-7 x 3 / pi) x 3 / 0.011 = 0.1686; it takes 0.1686 x 12 x 2.2 x 50 = 222.5 J, which cools 500 g by 0.27 C.
// With 8 g carried away each time: 0.270, 0.273, 0.275 are 0.818; the fourth would make it 1.096. So 3 go in: "3 or 4
// at a time" (rules 2.4, common practice).
func TestDipsByHand(t *testing.T) {
	piece := Piece{Mass: 12, At: -18, Heat: HeatOfCentre, Across: 22, Seconds: 3}
	if got := piece.Share(); math.Abs(got-0.1686) > 0.0001 {
		t.Errorf("share %v", got)
	}
	b := Bowl{Mass: 500, From: 32, Until: 31, Coat: 8, Piece: piece}
	if n, cooled := b.Dips(); n != 3 || !cooled {
		t.Errorf("%d pieces, cooled %v", n, cooled)
	}
	// What rules 4.4 says helps: a bigger bowl, warmer centres.
	bigger, warmer := b, b
	bigger.Mass, warmer.Piece.At = 1000, 5
	if n, _ := bigger.Dips(); n <= 3 {
		t.Errorf("a bowl of 1 kg takes %d", n)
	}
	if n, _ := warmer.Dips(); n <= 3 {
		t.Errorf("centres at 5 C: %d", n)
	}
	// Centres as warm as the bowl do not cool it: its chocolate ends first. 500 / 8 = 62.
	warm := b
	warm.Piece.At = 32
	if n, cooled := warm.Dips(); n != 62 || cooled {
		t.Errorf("warm centres: %d, cooled %v", n, cooled)
	}
	// Left in until they are warm through, the balance is the whole one: n m c (T - Tp) = M C dT. 500 x 1.65 x 1 = 825
	// J; one takes 1320 J: none goes in.
	through := b
	through.Piece.Seconds = 3600
	if n, _ := through.Dips(); n != 0 || through.Piece.Share() != 1 {
		t.Errorf("left in for an hour: %d, share %v", n, through.Piece.Share())
	}
}

// Heat is conserved: what the pieces took is what the bowl lost, up to the piece that would have been too many.
func TestBowlConservesHeat(t *testing.T) {
	for _, mass := range []float64{200, 500, 1500} {
		for _, coat := range []float64{0, 3, 12} {
			b := Bowl{Mass: si.Grams(mass), From: 45, Until: 40, Coat: si.Grams(coat),
				Piece: Piece{Mass: 10, At: -18, Heat: HeatOfCentre, Across: 20, Seconds: 4}}
			n, _ := b.Dips()
			left, at := mass, 45.0
			for range n {
				at -= b.Piece.Share() * 10 * HeatOfCentre * (at + 18) / (left * HeatLiquid)
				left -= coat
			}
			if at < 40 {
				t.Errorf("%v g, coat %v: after %d the bowl is at %v", mass, coat, n, at)
			}
		}
	}
}
