package measure

import (
	"math"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"zestytin/core/si"
)

func near(t *testing.T, what string, got, want, within float64) {
	t.Helper()
	if math.IsNaN(got) || math.Abs(got-want) > within {
		t.Errorf("%s: got %v, want %v within %v", what, got, want, within)
	}
}

// NIST Rules 44, Appendix C: the exact relations.
func TestUnitsAgainstHandbook44(t *testing.T) {
	for _, c := range []struct {
		from Unit
		to   Unit
		want float64
	}{
		{Pound, Gram, 453.59237},
		{Pound, Ounce, 16},
		{Ounce, Gram, 28.349523125},
		{Gallon, Millilitre, 3785.411784},
		{Gallon, Cup, 16},
		{Gallon, Quart, 4},
		{Gallon, Pint, 8},
		{Cup, FluidOunce, 8},
		{Cup, Tablespoon, 16},
		{Cup, Teaspoon, 48},
		{Cup, Millilitre, 236.5882365},
		{FluidOunce, Millilitre, 29.5735295625},
		{Inch, Millimetre, 25.4},
		{Foot, Inch, 12},
		{Kilogram, Gram, 1000},
		{Litre, Millilitre, 1000},
		{Metre, Centimetre, 100},
		{Dozen, Each, 12},
	} {
		got, err := Of(1, c.from).In(c.to, Substance{})
		if err != nil {
			t.Errorf("1 %s in %s: %v", c.from, c.to, err)
		}
		near(t, "1 "+string(c.from)+" in "+string(c.to), got, c.want, 1e-9*c.want)
	}
}

// GNU units, a general-purpose reference from Debian's packages (package units): every pair of units of one kind.
func TestUnitsAgainstGNUUnits(t *testing.T) {
	program, err := exec.LookPath("units")
	if err != nil {
		t.Fatal("GNU units is missing: `make test` installs it, or run apt-get install units")
	}
	names := map[Unit]string{
		Milligram: "milligram", Gram: "gram", Kilogram: "kilogram", Ounce: "ounce", Pound: "pound",
		Millilitre: "milliliter", Litre: "liter", Teaspoon: "teaspoon", Tablespoon: "tablespoon", FluidOunce: "usfloz",
		Cup: "cup", Pint: "pint", Quart: "quart", Gallon: "gallon",
		Millimetre: "millimeter", Centimetre: "centimeter", Metre: "meter", Inch: "inch", Foot: "foot",
	}
	var questions []string
	var want []float64
	for a := range names {
		for b := range names {
			if got, err := Of(1, a).In(b, Substance{}); err == nil {
				questions = append(questions, names[a], names[b])
				want = append(want, got)
			}
		}
	}
	if len(want) != 5*5+9*9+5*5 {
		t.Fatalf("only %d pairs convert", len(want))
	}
	cmd := exec.Command(program, "--terse", "--digits", "15")
	cmd.Stdin = strings.NewReader(strings.Join(questions, "\n") + "\n")
	out, err := cmd.Output()
	if err != nil {
		t.Fatal(err)
	}
	answers := strings.Fields(string(out))
	if len(answers) != len(want) {
		t.Fatalf("units gave %d answers to %d questions", len(answers), len(want))
	}
	for i, text := range answers {
		theirs, err := strconv.ParseFloat(text, 64)
		if err != nil {
			t.Fatalf("units said %q", text)
		}
		near(t, "1 "+questions[2*i]+" in "+questions[2*i+1], want[i], theirs, 1e-12*theirs)
	}
}

// USDA FoodData Central, SR Legacy, g per US cup (values from memory, rules 4.1): what a cup weighs gives the density.
func TestCupsThroughDensity(t *testing.T) {
	for name, grams := range map[string]float64{"granulated sugar": 200, "icing sugar": 120, "butter": 227,
		"honey": 339, "mini marshmallows": 50, "water": 237} {
		s := Substance{Density: grams / mlPerCup}
		got, err := Of(1.5, Cup).In(Gram, s)
		if err != nil {
			t.Fatal(err)
		}
		near(t, "1 1/2 cups of "+name, got, 1.5*grams, 1e-9*grams)
		back, err := Grams(si.Grams(got)).In(Cup, s)
		if err != nil {
			t.Fatal(err)
		}
		near(t, name+" back in cups", back, 1.5, 1e-12)
	}
	// What a cup weighs by that table is shown to a US kitchen, and read back within 5%: by the cup where it is
	// lighter than water, by weight where it is not.
	for name, grams := range map[string]float64{"all-purpose flour": 125, "cocoa": 86, "icing sugar": 120,
		"granulated sugar": 200, "brown sugar, packed": 220, "butter": 227, "heavy cream": 238, "honey": 339,
		"sweetened condensed milk": 306, "peanut butter": 258, "walnuts, chopped": 117, "mini marshmallows": 50,
		"milk": 244, "water": 237} {
		s := Substance{Density: grams / mlPerCup}
		for _, cups := range []float64{0.25, 1.0 / 3, 0.5, 2.0 / 3, 0.75, 1, 1.5, 2, 3, 7.25} {
			text := Show(Grams(si.Grams(cups*grams)), s).US
			q, err := ReadOf(text, s)
			if err != nil {
				t.Errorf("%v cups of %s are shown as %q: %v", cups, name, text, err)
				continue
			}
			back, err := q.In(Gram, s)
			if err != nil || math.Abs(back-cups*grams) > 0.05*cups*grams {
				t.Errorf("%v cups of %s weigh %v g, are shown as %q, and read back as %v g (%v)", cups, name,
					cups*grams, text, back, err)
			}
			if light := s.Density < 1; light != (strings.Contains(text, "cup") || strings.Contains(text, "tbsp")) {
				t.Errorf("%v cups of %s are shown as %q", cups, name, text)
			}
		}
	}
	// USDA FoodData Central, SR Legacy (memory): a large strawberry weighs 18 g.
	got, err := Of(1, Dozen).In(Gram, Substance{GramsEach: 18})
	if err != nil {
		t.Fatal(err)
	}
	near(t, "a dozen large strawberries", got, 216, 1e-9)
}

// Rules 2.1, common practice: milk at 180 to 190 F is 82 to 88 C.
func TestTemperatures(t *testing.T) {
	near(t, "180 F", Celsius(180), 82.2, 0.05)
	near(t, "190 F", Celsius(190), 87.8, 0.05)
	near(t, "there and back", Fahrenheit(Celsius(113)), 113, 1e-9)
}
