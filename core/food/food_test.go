package food

import (
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/internal/text/said"
)

// The starting set holds together: every ingredient passes the check, every value has a source, names differ.
func TestStartingSet(t *testing.T) {
	all, err := Starting()
	if err != nil {
		t.Fatal(err)
	}
	if len(all) < 120 {
		t.Errorf("%d ingredients, want about 120", len(all))
	}
	seen := map[string]bool{}
	for _, s := range all {
		if err := s.Check(); err != nil {
			t.Errorf("%s: %v", s.Name, err)
		}
		if seen[Words(s.Name)] {
			t.Errorf("%s is there twice", s.Name)
		}
		seen[Words(s.Name)] = true
		for value, given := range map[string]bool{"cup": s.Density != nil, "each": s.GramsEach != nil} {
			if given && !strings.Contains(s.Source, value) {
				t.Errorf("%s: no source for its weight %s", s.Name, value)
			}
		}
		for _, m := range s.Measures {
			if !strings.Contains(s.Source, strings.Fields(m.Name)[len(strings.Fields(m.Name))-1]) &&
				!strings.Contains(s.Source, "sizes") {
				t.Errorf("%s: no source for a %s", s.Name, m.Name)
			}
		}
	}
}

// Handbook 4.1: g a US cup (USDA FoodData Central, SR Legacy; memory), and strawberries by size. Densities go through
// the cup of NIST Handbook 44, and must give the same weights back.
func TestStartingSetAgainstHandbook(t *testing.T) {
	all, err := Starting()
	if err != nil {
		t.Fatal(err)
	}
	cups := map[string]float64{"Granulated sugar": 200, "Icing sugar": 120, "Brown sugar, packed": 220, "Cocoa": 86,
		"Butter": 227, "Heavy cream": 238,
		"Sweetened condensed milk": 306, "Peanut butter": 258, "Semi-sweet chips": 168, "Walnuts, chopped": 117,
		"Pistachios": 123, "Hazelnuts, chopped": 115,
		"Pecans, chopped": 109, "Almonds, whole": 143, "Mini marshmallows": 50, "Honey": 339, "Corn syrup": 341,
		"Water": 237}
	for _, s := range all {
		want, known := cups[s.Name]
		if !known {
			continue
		}
		delete(cups, s.Name)
		if got, err := measure.Of(1, measure.Cup).In(measure.Gram, s.Weights()); err != nil ||
			math.Abs(got-want) > 0.02 {
			t.Errorf("a cup of %s: %.2f g (%v), want %v", s.Name, got, err, want)
		}
	}
	if len(cups) > 0 {
		t.Errorf("not in the starting set: %v", cups)
	}
	at := slices.IndexFunc(all, func(s Starter) bool { return s.Name == "Strawberries" })
	sizes := map[string]float64{}
	for _, m := range all[at].Measures {
		sizes[m.Name] = float64(m.Grams)
	}
	if sizes["medium"] != 12 || sizes["large"] != 18 || sizes["extra large"] != 27 {
		t.Errorf("strawberries: %v", sizes)
	}
}

// US: FALCPA (2004) and the FASTER Act (2021), nine. EU: Regulation (EU) No 1169/2011, Annex II, fourteen.
func TestAllergensAgainstTheLaws(t *testing.T) {
	us, eu := []string{}, []string{}
	for _, a := range Allergens() {
		if a.US {
			us = append(us, a.Name)
		}
		if a.EU {
			eu = append(eu, a.Name)
		}
	}
	wantUS := []string{"milk", "egg", "fish", "shellfish", "tree nut", "wheat", "peanut", "soy", "sesame", "sulphites"}
	if !slices.Equal(us, wantUS) {
		t.Errorf("US: %v", us)
	}
	wantEU := []string{"gluten", "shellfish", "egg", "fish", "peanut", "soy", "milk", "tree nut", "celery", "mustard",
		"sesame", "sulphites", "lupin", "mollusc"}
	slices.Sort(eu)
	slices.Sort(wantEU)
	if !slices.Equal(eu, wantEU) {
		t.Errorf("EU: %v", eu)
	}
	if !ViolatesFreeFrom("wheat", "gluten") || ViolatesFreeFrom("gluten", "wheat") ||
		!ViolatesFreeFrom("milk", "milk") {
		t.Error("wheat holds gluten; barley is no wheat")
	}
}

func TestFaultsOfAnIngredient(t *testing.T) {
	right := func() Fields {
		return Fields{Name: "Heavy cream", Kind: KindDairy, Unit: measure.Gram, UsableShare: 1,
			Allergens: []string{"milk"}, Measures: []Measure{{"carton", 237}}}
	}
	if i := right(); i.Check() != nil {
		t.Fatal(i.Check())
	}
	zero := 0.0
	bands := chocolate.BandsOf(chocolate.Dark)
	bands.Work = chocolate.Range{From: 46, To: 47}
	for name, c := range map[string]struct {
		harm func(*Fields)
		path string
		says string
	}{
		"no name":            {func(i *Fields) { i.Name = " " }, "name", "Give it a name"},
		"a density of 0":     {func(i *Fields) { i.Density = &zero }, "density", "more than 0"},
		"nothing fit to use": {func(i *Fields) { i.UsableShare = 0 }, "fit", "more than 0"},
		"an unknown kind":    {func(i *Fields) { i.Kind = "gas" }, "kind", "not a kind"},
		"a chocolate of dairy": {func(i *Fields) {
			i.Chocolate = &Chocolate{Kind: chocolate.Real,
				Colour: chocolate.Dark}
		}, "kind", "set both"},
		"a measure of nothing": {func(i *Fields) { i.Measures[0].Grams = 0 }, "measures[0].grams", "more than 0 g"},
		"a measure named cup":  {func(i *Fields) { i.Measures[0].Name = "Cup" }, "measures[0].name", "a unit already"},
		"a measure unnamed":    {func(i *Fields) { i.Measures[0].Name = "" }, "measures[0].name", "its own name"},
		"unknown allergen":     {func(i *Fields) { i.Allergens[0] = "dust" }, "allergens[0]", "not an allergen"},
		"vegan milk":           {func(i *Fields) { i.Diets = []Diet{Vegan} }, "diets[0]", "not vegan"},
		"rum without alcohol": {func(i *Fields) { i.Kind, i.Diets = KindAlcohol, []Diet{NoAlcohol} }, "diets[0]",
			"no alcohol"},
		"unknown diet":    {func(i *Fields) { i.Diets = []Diet{"moon"} }, "diets[0]", "not a diet"},
		"kept by the cup": {func(i *Fields) { i.Unit = measure.Cup }, "unit", "by weight or by the piece"},
		"no kind of chocolate": {func(i *Fields) {
			i.Kind, i.Chocolate = KindChocolate, &Chocolate{Kind: "ersatz", Colour: chocolate.Dark}
		}, "chocolate.kind", "real or compound"},
		"no colour": {func(i *Fields) {
			i.Kind, i.Chocolate = KindChocolate,
				&Chocolate{Kind: chocolate.Real, Colour: "blue"}
		}, "chocolate.colour", "dark, milk or white"},
		"no tint": {func(i *Fields) {
			i.Kind, i.Chocolate = KindChocolate, &Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark, Tint: "blue"}
		}, "chocolate.tint", "#rrggbb"},
		"work above melt": {func(i *Fields) {
			i.Kind, i.Chocolate = KindChocolate, &Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark, Bands: &bands}
		}, "chocolate.bands", "working"},
	} {
		i := right()
		c.harm(&i)
		var faults *invalid.Error
		if err := i.Check(); !errors.As(err, &faults) || faults.Fields[0].Path != c.path ||
			!strings.Contains(said.Error(faults.Fields[0].Err), c.says) {
			t.Errorf("%s: %v, want %s: … %s …", name, err, c.path, c.says)
		}
	}
}

func TestSuggest(t *testing.T) {
	names := map[string]string{"chips": "Semi-sweet chips", "milk": "Whole milk",
		"condensed": "Sweetened condensed milk", "butter": "Butter", "walnut": "Walnuts, chopped",
		"cream": "Heavy cream", "chilli": "Chilli flakes", "straw": "Strawberries"}
	for written, want := range map[string]string{
		"semi-sweet chips": "chips", "semisweet chocolate chips": "chips", "condensed milk": "condensed",
		"chopped walnuts": "walnut", "strawberry": "straw", "strawberrys": "straw", "melted butter": "butter",
		"heavy whipping cream": "cream",
	} {
		got := Suggest(written, names, nil)
		if len(got) == 0 || got[0].ID != want {
			t.Errorf("%q suggests %v, want %s", written, got, want)
		}
	}
	if got := Suggest("Semi-Sweet Chips", names, nil); !got[0].Sure || got[0].Score != 1 {
		t.Errorf("the very name is %+v", got[0])
	}
	if got := Suggest("condensed milk", names, nil); got[0].Sure {
		t.Error("a likeness is taken for sure")
	}
	if got := Suggest("gravel", names, nil); len(got) != 0 {
		t.Errorf("gravel suggests %v", got)
	}
	// What a person settled is remembered, and wins.
	learned := map[string]string{Words("The usual chips"): "chips", Words("Butter"): "cream"}
	if got := Suggest("the usual chip", names, learned); got[0].ID != "chips" || !got[0].Sure {
		t.Errorf("learned: %v", got)
	}
	if got := Suggest("butter", names, learned); got[0].ID != "cream" {
		t.Errorf("what was learned does not win: %v", got)
	}
}
