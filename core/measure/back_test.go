package measure

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/reason"
	"zestytin/core/si"
)

// What is written reads back as the same amount, within 5% or half a drop: of every kind of substance, in every unit,
// as both kitchens write it.
func TestWhatIsWrittenReadsBack(t *testing.T) {
	r := rand.New(rand.NewPCG(13, 3))
	all := []Unit{Milligram, Gram, Kilogram, Ounce, Pound, Millilitre, Centilitre, Decilitre, Litre, Teaspoon,
		Tablespoon, FluidOunce, Cup, Pint, Quart, Gallon, Drop, MetricCup, UKCup, UKPint, UKOunce,
		Each, Dozen, Millimetre, Centimetre, Metre, Inch, Foot, "packet"}
	for range 200_000 {
		s := Substance{Measures: map[Unit]si.Grams{"packet": 125}}
		if r.IntN(3) > 0 {
			s.Density = 0.1 + 1.4*r.Float64()
		}
		if r.IntN(4) == 0 {
			s.Measures[Drop] = si.Grams(0.02 + 0.03*r.Float64())
		}
		if r.IntN(2) > 0 {
			s.GramsEach = si.Grams(0.5 + 60*r.Float64())
		}
		u := all[r.IntN(len(all))]
		q := Of(math.Exp(r.Float64()*12-4), u)
		grams, err := q.In(Gram, s)
		if base, e := q.In(Millimetre, s); err != nil && e == nil && (base < 0.5 || base > 1e6) || err == nil &&
			(grams < 0.05 || grams > 1e6) {
			continue // nothing that a kitchen measures
		}
		if drops, err := q.In(Drop, s); err == nil && drops < 0.75 {
			continue // less than the least
		}
		shown := Show(q, s)
		for _, text := range []string{shown.Metric, shown.US} {
			back, err := ReadOf(text, s)
			if err != nil {
				t.Fatalf("%v of %+v is written %q, which reads as nothing: %v", q, s, text, err)
			}
			got, err := back.In(u, s)
			if err != nil {
				t.Fatalf("%v is written %q, and that is no %s: %v", q, text, u, err)
			}
			least := 0.0
			for _, drops := range []Substance{s, {Density: s.Density, GramsEach: s.GramsEach}} {
				if half, err := Of(0.5, Drop).In(u, drops); err == nil {
					least = max(least, half)
				}
			}
			if math.Abs(got-q.Amount) > max(0.05*q.Amount, least) {
				t.Fatalf("%v of %+v is written %q, and read back %v %s", q, s, text, got, u)
			}
		}
	}
}

// By hand: 1 T is 3 t; 1 lb 10 1/2 oz are 26.5 oz; 6 tbsp 1 tsp are 19 tsp; a cup of Europe holds 250 mL, one of
// Britain 284.13 and a pint of Britain 568.26 (Weights and Measures Act 1985); an amount in two units of different
// kinds is none. One cup: 236.588 mL in the US (NIST Handbook 44, Appendix C), 250 in a metric kitchen, 284.131 in a
// British one; on a label it is 240 (21 CFR 101.9(b)(5)(viii)), which is no unit that one cooks by.
func TestCupsByKitchen(t *testing.T) {
	for cup, want := range map[Unit]float64{"": 236.5882365, Cup: 236.5882365, MetricCup: 250, UKCup: 284.130625} {
		for written, q := range map[string]Quantity{"2 cups": Of(2, Cup), "3 tbsp": Of(3, Tablespoon),
			"2 US cups": Of(2, Cup)} {
			got, err := (Customs{cup}).Means(q, written).In(Millilitre, Substance{})
			if err != nil {
				t.Fatal(err)
			}
			mL := map[string]float64{"2 cups": 2 * want, "3 tbsp": 44.36029434375, "2 US cups": 473.176473}[written]
			if math.Abs(got-mL) > 1e-6 || math.Abs(got-480) < 1 {
				t.Errorf("%s where a cup is %q: %v mL, want %v", written, cup, got, mL)
			}
		}
	}
}

func TestReadingTwoUnits(t *testing.T) {
	for text, want := range map[string]Quantity{
		"1 T": Of(3, Teaspoon), "1 t": Of(1, Teaspoon), "2 Tb": Of(6, Teaspoon), "1 lb 10 1/2 oz": Of(26.5, Ounce),
		"6 tbsp 1 tsp": Of(19, Teaspoon), "2 cups 1 tbsp": Of(99, Teaspoon),
		"1 metric cup": Of(250, Millilitre), "1 imperial cup": Of(284.130625, Millilitre),
		"1 imperial pint": Of(568.26125, Millilitre), "4 drops": Of(0.2, Millilitre), "1 ft 2 in": Of(14, Inch),
	} {
		q, err := Read(text)
		if err != nil {
			t.Errorf("%s: %v", text, err)
			continue
		}
		if got, err := q.In(want.Unit, Substance{}); err != nil || math.Abs(got-want.Amount) > 1e-6 {
			t.Errorf("%s: %v %s, want %v", text, got, want.Unit, want.Amount)
		}
	}
	for _, text := range []string{"1 lb 2 cups", "1 oz 3 lb", "3 g x 4", "2 cups 3", "1 stone 2 lb"} {
		if q, err := Read(text); err == nil {
			t.Errorf("%q reads as %v", text, q)
		}
	}
	var says reason.Reason
	if _, err := Read("1 lb 2 oz 3"); !errors.As(err, &says) || says.Code != "measure.not-one-amount" ||
		says.With[0] != reason.Name("1 lb 2 oz 3") {
		t.Errorf("%v", says)
	}
}
