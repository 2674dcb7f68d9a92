package food_test

import (
	"slices"
	"testing"

	. "zestytin/core/food"
	"zestytin/core/reason"
)

// Falling order of weight (21 CFR 101.4(a)(1); Regulation (EU) 1169/2011, Article 18), sub-ingredients in brackets
// behind the name (21 CFR 101.4(b)(2)); what reads the same is one entry, and its weights count together.
func TestLabelByHand(t *testing.T) {
	dark := Ingredient{Fields: Fields{Name: "Dark 60%", MadeOf: []string{"cocoa mass", "sugar", "cocoa butter"}}}
	drops := Ingredient{Fields: Fields{Name: "Dark 60%", MadeOf: []string{"cocoa mass", "sugar", "cocoa butter"}}}
	other := Ingredient{Fields: Fields{Name: "Dark 60%", MadeOf: []string{"cocoa mass", "sugar", "soy lecithin"}}}
	sugar, cream := Ingredient{Fields: Fields{Name: "Sugar"}}, Ingredient{Fields: Fields{Name: "Cream"}}
	for _, c := range []struct {
		parts []Part
		want  string
	}{
		{[]Part{{cream, 100}, {sugar, 130}, {dark, 120}}, "sugar, dark 60% (cocoa mass, sugar, cocoa butter), cream"},
		{[]Part{{dark, 80}, {sugar, 130}, {drops, 60}}, "dark 60% (cocoa mass, sugar, cocoa butter), sugar"},
		{[]Part{{dark, 80}, {sugar, 130}, {other, 60}},
			"sugar, dark 60% (cocoa mass, sugar, cocoa butter), dark 60% (cocoa mass, sugar, soy lecithin)"},
		{[]Part{{sugar, 5}, {cream, 5}}, "sugar, cream"},
		{nil, ""},
	} {
		if got := Label(c.parts); got != c.want {
			t.Errorf("%q, want %q", got, c.want)
		}
	}
}

// What either law has declared: the nine of FALCPA and the FASTER Act with nuts by their kind and sulphites (21 CFR
// 101.100(a)(4)), and the fourteen of Regulation (EU) 1169/2011, Annex II, with cereals by their kind (Article 21(1)).
func TestDeclaredByEitherLaw(t *testing.T) {
	of := func(name string, allergens ...string) Ingredient {
		return Ingredient{Fields: Fields{Name: name, Allergens: allergens}}
	}
	for _, c := range []struct {
		of     Ingredient
		us, eu []reason.Word
	}{
		{of("Hazelnuts, roasted", "tree nut"), []reason.Word{"hazelnut"}, []reason.Word{"hazelnut"}},
		{of("Nut paste", "tree nut"), []reason.Word{"declare.tree-nuts"}, []reason.Word{"declare.tree-nuts"}},
		{of("Wheat flour", "wheat", "gluten"), []reason.Word{"wheat"}, []reason.Word{"wheat"}},
		{of("Malt extract, barley", "gluten"), []reason.Word{}, []reason.Word{"barley"}},
		{of("Dried apricots", "sulphites"), []reason.Word{"sulphites"}, []reason.Word{"sulphites"}},
		{of("Lupin flour", "lupin"), []reason.Word{}, []reason.Word{"lupin"}},
		{of("Celery salt", "celery"), []reason.Word{}, []reason.Word{"celery"}},
		{of("Mustard seed", "mustard"), []reason.Word{}, []reason.Word{"mustard"}},
		{of("Milk powder", "milk"), []reason.Word{"milk"}, []reason.Word{"milk"}},
	} {
		if got := LawUS.Declare([]Ingredient{c.of}); !slices.Equal(got, c.us) {
			t.Errorf("%s in the US: %v, want %v", c.of.Name, got, c.us)
		}
		if got := LawEU.Declare([]Ingredient{c.of}); !slices.Equal(got, c.eu) {
			t.Errorf("%s in the EU: %v, want %v", c.of.Name, got, c.eu)
		}
	}
	pralines := Ingredient{Fields: Fields{Name: "Pralines", MadeOf: []string{"almonds", "pecans", "sugar"},
		Allergens: []string{"tree nut"}}}
	if got := LawUS.Declare([]Ingredient{pralines, of("Hazelnuts", "tree nut")}); !slices.Equal(got,
		[]reason.Word{"almond", "hazelnut", "pecan"}) {
		t.Errorf("%v", got)
	}
}

// What is alcohol on a label and what is only called so (common practice).
func TestIsAlcohol(t *testing.T) {
	for name, want := range map[string]bool{
		"ethanol": true, "rum": true, "Dark rum": true, "orange liqueur": true, "red wine": true, "alcohol": true,
		"red wine vinegar": false, "sugar alcohol": false, "drum sticks": false, "ginger": false,
		"alcohol-free vanilla": false, "portion": false, "natural flavour": false,
	} {
		if got := IsAlcohol(name); got != want {
			t.Errorf("%s: %v", name, got)
		}
	}
	truffle := Ingredient{Fields: Fields{Name: "Truffle base", MadeOf: []string{"cream", "ethanol"}}}
	if !truffle.HasAlcohol() {
		t.Error("ethanol among what it is made of is alcohol")
	}
}
