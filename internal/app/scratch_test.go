package app_test

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

func TestCalculators(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	marshmallows := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Mini marshmallows")["id"]
	for _, c := range []struct {
		path string
		body object
		says string
	}{
		{"convert", object{"text": "1 cup", "ingredient": marshmallows}, "237 mL · 1 cup"},
		{"recipe", object{"text": "1 cup sugar\n\n8 oz milk\nsalt, to taste\n"}, "3 lines read, 3 of them to check."},
		{"extras", object{"good": 12, "loss": 0.1, "sure": 0.95}, "start 16."}, // rules 4.2
		{"shell", object{"across": "2 in", "wall": "3 mm"}, "weighs 0.99 oz"},  // rules 4.5
		{"shell", object{"across": "2.5 in", "mass": "51.5 g"}, "a wall of 0.14 in"},
		{"sheet", object{"length": "18 in", "width": "13 in", "depth": "1/8 in"}, "623 g"}, // rules 4.5
		{"sheet", object{"length": "8 in", "width": "8 in", "depth": "1 in",
			"to": object{"length": "13 in", "width": "9 in"}}, "1.83 times"},
		{"ganache", object{"parts": []object{{"name": "dark", "mass": object{"amount": 500, "unit": "g"}},
			{"name": "cream", "mass": object{"amount": 380, "unit": "g"}}}, "total": "880 g", "piece": "10 g"},
			"88 pieces"},
		{"seed", object{"colour": "dark", "total": "1 kg", "melt": 48, "room": 21}, "31% of it"}, // rules 4.3
		{"altitude", object{"metres": 2000, "target": 115}, "93.3 °C"},                           // rules 4.6
		{"altitude", object{"boiling": 95, "target": 112}, "Boil to 225 °F (107 °C)"},
	} {
		if got := p.must(200, "POST", "/calculators/"+c.path, c.body)["text"].(string); !strings.Contains(got, c.says) {
			t.Errorf("%s %v: %s, want … %s …", c.path, c.body, got, c.says)
		}
	}
	for _, c := range []struct {
		path        string
		body        object
		place, says string
	}{
		{"convert", object{"text": "some"}, "text", "amount"},
		{"convert", object{"text": "1 g", "ingredient": "x"}, "ingredient", "not in the larder"},
		{"recipe", object{"text": "PK\x03\x04\x00"}, "text", "not text"},
		{"recipe", object{"text": strings.Repeat("1 cup sugar\n", 1001)}, "text", "at most 1,000 lines"},
		{"extras", object{"good": 0, "loss": 0.1, "sure": 0.95}, "good", "between 1 and"},
		{"extras", object{"good": 1, "loss": 1, "sure": 0.95}, "loss", "90%"},
		{"extras", object{"good": 1, "loss": 0.1, "sure": 1}, "sure", "no number of pieces"},
		{"shell", object{"across": "2 in", "wall": "1 in"}, "wall", "no hollow"},
		{"shell", object{"across": "2 in", "mass": "1 kg"}, "mass", "solid ball"},
		{"shell", object{"across": "2 g", "wall": "1 mm"}, "across", "must be a length"},
		{"sheet", object{"length": "8 in", "width": "0", "depth": "1 in"}, "width", "must be a length"},
		{"ganache", object{"parts": []object{}, "total": "1 kg"}, "parts", "at least one part"},
		{"ganache", object{"parts": []object{{"name": "cream", "mass": object{"amount": 0, "unit": "g"}}},
			"total": "1 kg"}, "parts[0].mass", "more than 0"},
		{"seed", object{"colour": "dark", "total": "1 kg", "melt": 30, "room": 21}, "melt", "warmer"},
		{"seed", object{"colour": "dark", "total": "1 kg", "melt": 46, "room": 50}, "room", "solid"},
		{"altitude", object{"target": 112}, "metres", "your altitude"},
		{"altitude", object{"metres": 20000, "target": 112}, "metres", "9000 m"},
		{"altitude", object{"boiling": 20, "target": 112}, "boiling", "thermometer"},
		{"altitude", object{"metres": 0, "target": 20}, "target", "80 and 180"},
	} {
		p.problem(422, "body."+c.place, c.says, p.send("POST", "/calculators/"+c.path, c.body))
	}
}

// A cup that is typed in a metric kitchen holds 250 mL, one in a US kitchen 236.6; on the pad and in a recipe.
func TestCupsOfAMetricKitchen(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	sugar := p.item("Granulated sugar")
	grams := func() (pad, recipe float64) {
		shown := p.must(200, "POST", "/calculators/amount", object{"text": "2 cups", "ingredient": sugar["id"]})
		line := p.must(200, "POST", "/calculators/recipe", object{"text": "2 cups granulated sugar"})["recipes"].([]any)[0].(object)["lines"].([]any)[0].(object)
		to := func(q any) float64 {
			return amount(find(t, p.must(200, "POST", "/calculators/convert", object{"text": fmt.Sprint(q.(object)["amount"], " ", q.(object)["unit"]), "ingredient": sugar["id"]})["amounts"], "unit", "mL"))
		}
		return to(shown), to(line["amount"])
	}
	if pad, recipe := grams(); math.Abs(pad-473.176) > 0.01 || math.Abs(recipe-473.176) > 0.01 {
		t.Errorf("two cups in a US kitchen are %v and %v mL", pad, recipe)
	}
	k := p.must(200, "GET", "/kitchen", nil)
	p.must(200, "PUT", "/kitchen", with(k, object{"units": "metric", "cup": "metric"}), "If-Match", p.tag("/kitchen"))
	if pad, recipe := grams(); math.Abs(pad-500) > 0.01 || math.Abs(recipe-500) > 0.01 {
		t.Errorf("two cups in a metric kitchen are %v and %v mL", pad, recipe)
	}
}

// A bare cup is the kitchen's own: 236.6 mL, 250 mL, or the 284 mL of half an imperial pint (Weights and Measures Act
// 1985, Schedule 1).
func TestTheKitchensOwnCup(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	for cup, want := range map[string]float64{"us": 236.588, "metric": 250, "imperial": 284.131} {
		k, tag := p.must(200, "GET", "/kitchen", nil), p.tag("/kitchen")
		p.must(200, "PUT", "/kitchen", with(k, object{"cup": cup}), "If-Match", tag)
		got := 0.0
		for _, a := range p.must(200, "POST", "/calculators/convert", object{"text": "1 cup"})["amounts"].([]any) {
			if a.(object)["unit"] == "mL" {
				got = a.(object)["amount"].(float64)
			}
		}
		if math.Abs(got-want) > 0.01 {
			t.Errorf("a cup of a kitchen with %s cups is %v mL", cup, got)
		}
	}
	k := p.must(200, "GET", "/kitchen", nil)
	p.problem(422, "body.cup", "us", p.send("PUT", "/kitchen", with(k, object{"cup": "tea"}), "If-Match", p.tag("/kitchen")))
}
