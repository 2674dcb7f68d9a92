package order

import (
	"math"
	"testing"

	"zestytin/core/route"
	"zestytin/core/treat"
)

// How cold the treats of the demo kitchen must be on their way: what is kept in the fridge cold, what has real chocolate
// cool, coating and sugar mild; and as heavy as so many of their pieces.
func TestLoadsOfTheDemoTreats(t *testing.T) {
	k := demoKitchen(t)
	k.Extent = FiguresOnly
	seen := map[route.Care]int{}
	for name, of := range k.Treats {
		d := draft(Line{Treat: name, Count: 24})
		r := reckon(t, d, k)
		loads := r.Loads()
		if len(loads) != 1 {
			t.Fatalf("%s: %v", name, loads)
		}
		card, l := r.Lines[0].Card, loads[0]
		seen[l.Care]++
		if want := card.PieceMass.Times(24); math.Abs(float64(l.Grams-want)) > 1e-9 || l.Grams <= 0 {
			t.Errorf("%s: %.1f g, 24 pieces are %.1f", name, l.Grams, want)
		}
		real := false
		for _, p := range card.Pots {
			real = real || p.Chocolate.Kind == "real"
		}
		want := route.Mild
		if real {
			want = route.Cool
		}
		if card.Kept.Where == treat.InFridge {
			want = route.Cold
		}
		if l.Care != want {
			t.Errorf("%s: %s, kept %s, real %v", name, l.Care, card.Kept.Where, real)
		}
		// In coating it stands more, unless it is to be kept cold.
		if of.Formula != nil && want == route.Cool {
			d.Lines[0].Coating = true
			if coated, err := Compute(t.Context(), d, k); err == nil && len(coated.Loads()) == 1 &&
				coated.Loads()[0].Care == route.Cold {
				t.Errorf("%s in coating is %s", name, coated.Loads()[0].Care)
			}
		}
	}
	if seen[route.Cool] == 0 || seen[route.Mild]+seen[route.Cold] == 0 {
		t.Errorf("all are alike: %v", seen)
	}
}

// An order of several lines has a load of each, in their order.
func TestLoadsFollowTheLines(t *testing.T) {
	k := kitchen()
	k.Extent = FiguresOnly
	r := reckon(t, draft(Line{Treat: "bomb", Count: 12}, Line{Treat: "berry", Count: 24}), k)
	loads := r.Loads()
	if len(loads) != 2 || loads[1].Grams != r.Lines[1].Card.PieceMass.Times(24) {
		t.Errorf("%+v", loads)
	}
	var none Estimate
	if got := none.Loads(); len(got) != 0 {
		t.Errorf("%v", got)
	}
}
