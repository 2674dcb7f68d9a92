package measure

import (
	"encoding/json"
	"errors"
	"math"
	"strings"
	"testing"
	"unicode/utf8"
)

func TestRead(t *testing.T) {
	for text, want := range map[string]Quantity{
		"340g": {340, Gram}, "12 oz": {12, Ounce}, "12 oz.": {12, Ounce}, "1 1/2 cups": {1.5, Cup},
		"3/4 c.": {0.75, Cup}, "½ tsp": {0.5, Teaspoon},
		"2 ½ Tbsp": {2.5, Tablespoon}, "1½ cups": {1.5, Cup}, "0,5 kg": {0.5, Kilogram}, "2.5 in": {2.5, Inch},
		"1/8 inch": {0.125, Inch}, "24": {24, Each}, " 3  dozen ": {3, Dozen},
		"8 fl oz": {8, FluidOunce}, "8 fl. oz.": {8, FluidOunce}, "1 1⁄4 lb": {1.25, Pound}, "9 × ": {},
		"3.5mm": {3.5, Millimetre}, "2 pieces": {2, Each}, "1 L": {1, Litre},
	} {
		got, err := Read(text)
		if want == (Quantity{}) {
			if err == nil {
				t.Errorf("Read(%q) = %v, want an error", text, got)
			}
			continue
		}
		if err != nil || math.Abs(got.Amount-want.Amount) > 1e-12 || got.Unit != want.Unit {
			t.Errorf("Read(%q) = %v, %v, want %v", text, got, err, want)
		}
	}
}

func TestReadNeverGuesses(t *testing.T) {
	for _, text := range []string{"", "a pinch", "cups", "1/0 cup", "5 parsecs", "1 1/0 g", "-3 g", "1e400 g", "½½",
		"3 /4 cup"} {
		if q, err := Read(text); err == nil {
			t.Errorf("Read(%q) = %v, want an error", text, q)
		}
	}
	_, err := Read("5 parsecs")
	var unknown *UnknownUnit
	if !errors.As(err, &unknown) || unknown.Unit != "parsecs" {
		t.Errorf("an unknown unit is %v, want an UnknownUnit that names it", err)
	}
}

func FuzzRead(f *testing.F) {
	for _, seed := range []string{"1 1/2 cups", "340g", "½", "0,5 kg", "9999999999999999999999 lb", "1/1/1", "\xff"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		q, err := Read(text)
		if err != nil {
			return
		}
		if _, known := q.Unit.Dimension(); !known || q.Amount < 0 || math.IsNaN(q.Amount) || math.IsInf(q.Amount, 0) {
			t.Errorf("Read(%q) = %v without an error", text, q)
		}
		if s := Show(q, Substance{}); !utf8.ValidString(s.Metric) || s.Metric == "" || s.US == "" {
			t.Errorf("Show(%v) = %q, %q", q, s.Metric, s.US)
		}
	})
}

func TestShow(t *testing.T) {
	fluffy := Substance{Density: 0.211}
	for _, c := range []struct {
		q          Quantity
		s          Substance
		metric, us string
	}{
		{Grams(34), Substance{}, "34 g", "1.2 oz"},
		{Grams(1234), Substance{}, "1.23 kg", "2 lb 11 1/2 oz"},
		{Grams(453.59237), Substance{}, "454 g", "1 lb"},
		{Grams(0.8), Substance{}, "0.8 g", "0.028 oz"},
		{Grams(414), fluffy, "414 g", "8 1/4 cups"},
		{Grams(50), fluffy, "50 g", "1 cup"},
		{Grams(9), fluffy, "9 g", "3 tbsp"},
		{Of(1.5, Cup), Substance{}, "355 mL", "1 1/2 cups"},
		{Of(1, Teaspoon), Substance{}, "4.9 mL", "1 tsp"},
		{Of(30, Centimetre), Substance{}, "30 cm", "11 13/16 in"},
		{Of(36, Metre), Substance{}, "36 m", "118 ft"},
		{Of(3.5, Millimetre), Substance{}, "3.5 mm", "0.14 in"},
		{Of(2.5, Inch), Substance{}, "63.5 mm", "2 1/2 in"},
		{Of(48, Each), Substance{}, "48", "48"},
	} {
		if got := Show(c.q, c.s); got.Metric != c.metric || got.US != c.us {
			t.Errorf("Show(%v) = %q, %q, want %q, %q", c.q, got.Metric, got.US, c.metric, c.us)
		}
	}
	for m, want := range map[int]string{0: "0\u00a0min", 45: "45\u00a0min", 60: "1\u00a0h",
		125: "2\u00a0h\u00a05\u00a0min",
		145: "2\u00a0h\u00a025\u00a0min"} {
		if got := Minutes(m); got != want {
			t.Errorf("Minutes(%d) = %q, want %q", m, got, want)
		}
	}
}

func TestWhatIsMissingIsNamed(t *testing.T) {
	for _, c := range []struct {
		q        Quantity
		to       Unit
		property Property
	}{
		{Of(12, Each), Gram, WeightPerPiece}, {Grams(100), Each, WeightPerPiece}, {Of(1, Cup), Gram, Density},
		{Grams(100), Cup, Density},
	} {
		_, err := c.q.In(c.to, Substance{})
		var missing *MissingProperty
		if !errors.As(err, &missing) || missing.Property != c.property {
			t.Errorf("%v in %s: %v, want a MissingProperty of %s", c.q, c.to, err, c.property)
		}
	}
	for _, q := range []Quantity{Of(1, Inch), Of(1, "furlong"), Of(0, Gram), Of(-1, Gram), Of(math.NaN(), Gram),
		Of(math.Inf(1), Gram)} {
		if q.Check(Mass) == nil {
			t.Errorf("%v passes as a mass", q)
		}
	}
	if _, err := Of(1, Inch).In(Gram, Substance{Density: 1, GramsEach: 1}); err == nil {
		t.Error("an inch has become a mass")
	}
}

func TestConversionsRoundTrip(t *testing.T) {
	s := Substance{Density: 0.8, GramsEach: 18}
	for a := range units {
		for b := range units {
			there, err := Of(7, a).In(b, s)
			if err != nil {
				continue
			}
			back, err := Of(there, b).In(a, s)
			if err != nil || math.Abs(back-7) > 1e-9 {
				t.Errorf("7 %s by way of %s is %v %s (%v)", a, b, back, a, err)
			}
		}
	}
}

func TestUnitsInJSON(t *testing.T) {
	for text, want := range map[string]Unit{"g": Gram, "Cups": Cup, "TBSP": Tablespoon, "mL": Millilitre,
		"ml": Millilitre, "L": Litre, "stone": "stone"} {
		var q Quantity
		if err := json.Unmarshal([]byte(`{"amount":1,"unit":"`+text+`"}`), &q); err != nil || q.Unit != want {
			t.Errorf("unit %q reads as %q, %v, want %q", text, q.Unit, err, want)
		}
	}
	if err := Of(1, "stone").Check(Mass); err == nil || !strings.Contains(err.Error(), `"stone"`) {
		t.Errorf("an unknown unit passes, or is not named: %v", err)
	}
}
