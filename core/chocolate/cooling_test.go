package chocolate

import (
	"math"
	"testing"

	"zestytin/core/measure"
	"zestytin/core/si"
)

// By hand: 46 C falls to 40 C in 6 minutes in a room of 21 C: 25 e^(-6k) = 19, k = ln(25/19) / 6 = 0.04574. It is at 32
// C when 25 e^(-kt) = 11: t = ln(25/11) / k = 17.95 min, and at 31 C after ln(25/10) / k = 20.03 min.
func TestCoolingByHand(t *testing.T) {
	c, err := Cool([]Reading{{0, 46}, {6, 40}}, 21)
	if err != nil || math.Abs(c.Rate-0.04574) > 1e-5 || math.Abs(c.Start-46) > 1e-9 {
		t.Fatalf("%+v (%v)", c, err)
	}
	for at, want := range map[float64]float64{32: 17.95, 31: 20.03} {
		if got, ok := c.Reaches(at); !ok || math.Abs(got-want) > 0.01 {
			t.Errorf("%v C after %v min, want %v", at, got, want)
		}
	}
	if _, ok := c.Reaches(20); ok {
		t.Error("it gets colder than the room")
	}
}

// What the law itself says is found again, from any two or more readings of it; and noise of a tenth of a degree moves
// the forecast by less than a minute.
func TestCoolingFindsTheLaw(t *testing.T) {
	law := Cooling{Start: 48, Rate: 0.037, Room: 19}
	readings := []Reading{}
	for m := 2.; m < 20; m += 3 {
		readings = append(readings, Reading{m, law.At(m)})
		if len(readings) < 2 {
			continue
		}
		got, err := Cool(readings, 19)
		if err != nil || math.Abs(got.Rate-law.Rate) > 1e-9 || math.Abs(got.Start-law.Start) > 1e-6 {
			t.Errorf("%d readings: %+v (%v)", len(readings), got, err)
		}
	}
	for i := range readings {
		readings[i].At += 0.1 * float64(1-2*(i%2))
	}
	noisy, _ := Cool(readings, 19)
	a, _ := noisy.Reaches(31.5)
	b, _ := law.Reaches(31.5)
	if math.Abs(a-b) > 1 {
		t.Errorf("with noise %v min, the law says %v", a, b)
	}
	for name, bad := range map[string][]Reading{"one": {{0, 46}}, "none": nil, "the same minute": {{3, 46}, {3, 45}},
		"warming": {{0, 40}, {5, 45}}, "colder than the room": {{0, 46}, {5, 18}}} {
		if c, err := Cool(bad, 19); err == nil {
			t.Errorf("%s gives %+v", name, c)
		}
	}
}

// Handbook 3, common practice: about 2 tbsp of thinner to 12 oz; 4 to 6 drops of flavour oil to 8 oz.
func TestAdditions(t *testing.T) {
	grams := func(oz float64) float64 {
		g, _ := measure.Of(oz, measure.Ounce).In(measure.Gram, measure.Substance{})
		return g
	}
	if q := Thinner(si.Grams(grams(12))); math.Abs(q.Amount-2) > 1e-9 || q.Unit != measure.Tablespoon {
		t.Errorf("12 oz take %+v", q)
	}
	if r := FlavourDrops(si.Grams(grams(8))); math.Abs(r.From-4) > 1e-9 || math.Abs(r.To-6) > 1e-9 {
		t.Errorf("8 oz take %+v drops", r)
	}
}
