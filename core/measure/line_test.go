package measure

import (
	"fmt"
	"math"
	"testing"
	"unicode/utf8"
)

// Handbook 4.1: recipes as people write them.
func TestReadLine(t *testing.T) {
	for text, want := range map[string]Line{
		"1 1/2 cups semi-sweet chips, chopped": {Amount: &Quantity{1.5, Cup}, Ingredient: "semi-sweet chips",
			Note: "chopped"},
		"2-3 tbsp butter (melted)": {Amount: &Quantity{2, Tablespoon}, Upto: 3, Ingredient: "butter",
			Note: "melted"},
		"2 to 3 tablespoons butter": {Amount: &Quantity{2, Tablespoon}, Upto: 3, Ingredient: "butter"},
		"one 14-oz can condensed milk": {Amount: &Quantity{14, Ounce}, Packs: 1, Measure: "can",
			Ingredient: "condensed milk"},
		"2 (14 oz) cans condensed milk": {Amount: &Quantity{28, Ounce}, Packs: 2, Measure: "can",
			Ingredient: "condensed milk"},
		"2 x 125 g soft cheese":        {Amount: &Quantity{250, Gram}, Packs: 2, Ingredient: "soft cheese"},
		"pinch of salt":                {Amount: &Quantity{1, Each}, Measure: "pinch", Ingredient: "salt"},
		"2 pinches salt":               {Amount: &Quantity{2, Each}, Measure: "pinch", Ingredient: "salt"},
		"3/4 c. sugar":                 {Amount: &Quantity{0.75, Cup}, Ingredient: "sugar"},
		"½ tsp vanilla":                {Amount: &Quantity{0.5, Teaspoon}, Ingredient: "vanilla"},
		"1½ T. cocoa":                  {Amount: &Quantity{1.5, Tablespoon}, Ingredient: "cocoa"},
		"1 t salt":                     {Amount: &Quantity{1, Teaspoon}, Ingredient: "salt"},
		"0,5 kg dark chocolate 54%":    {Amount: &Quantity{0.5, Kilogram}, Ingredient: "dark chocolate 54%"},
		"salt, to taste":               {Ingredient: "salt", Note: "to taste"},
		"coarse salt to taste":         {Ingredient: "coarse salt", Note: "to taste"},
		"- 12 large strawberries, dry": {Amount: &Quantity{12, Each}, Ingredient: "large strawberries", Note: "dry"},
		"a dozen eggs":                 {Amount: &Quantity{1, Dozen}, Ingredient: "eggs"},
		"half a cup of walnuts":        {Amount: &Quantity{0.5, Cup}, Ingredient: "walnuts"},
		"two sticks butter":            {Amount: &Quantity{2, Each}, Measure: "stick", Ingredient: "butter"},
		"8 fl oz heavy cream":          {Amount: &Quantity{8, FluidOunce}, Ingredient: "heavy cream"},
		"1 cup plus 2 tbsp sugar":      {Amount: &Quantity{1.125, Cup}, Ingredient: "sugar"},
		"6 drops peppermint oil":       {Amount: &Quantity{6, Each}, Measure: "drop", Ingredient: "peppermint oil"},
		"350g milk chocolate":          {Amount: &Quantity{350, Gram}, Ingredient: "milk chocolate"},
	} {
		got := ReadLine(text)
		if got.Doubt != nil || got.Original != text || got.Ingredient != want.Ingredient || got.Note != want.Note ||
			got.Measure != want.Measure || got.Upto != want.Upto || got.Packs != want.Packs {
			t.Errorf("ReadLine(%q) = %+v, want %+v", text, got, want)
			continue
		}
		if (got.Amount == nil) != (want.Amount == nil) || got.Amount != nil &&
			(got.Amount.Unit != want.Amount.Unit || math.Abs(got.Amount.Amount-want.Amount.Amount) > 1e-12) {
			t.Errorf("ReadLine(%q): amount %v, want %v", text, got.Amount, want.Amount)
		}
	}
}

// Unclear lines are shown to the person, never guessed silently.
func TestDoubtfulLines(t *testing.T) {
	for text, code := range map[string]string{
		"":                          "line-empty",
		"butter":                    "amount-missing",
		"Preheat the kettle":        "amount-missing",
		"8 oz milk":                 "ounces-of-liquid",
		"3-2 tbsp butter":           "range-falls",
		"1 cup":                     "ingredient-missing",
		"2 tbsp sugar 3":            "another-number",
		"1 cup plus 2 oz chips":     "two-amounts",
		"1 cup sugar (the fine one": "bracket",
		"1,000 g flour":             "amount-missing",
	} {
		if got := ReadLine(text); got.Doubt == nil || got.Doubt.Code != "measure."+code || got.Original != text {
			t.Errorf("ReadLine(%q) doubts %v, want %s: %+v", text, got.Doubt, code, got)
		}
	}
	// One thousand or one? Nobody can tell.
	if q, err := Read("1,000 g"); err == nil {
		t.Errorf("1,000 g is read as %v", q)
	}
	if q, err := Read("0,125 kg"); err != nil || q.Amount != 0.125 {
		t.Errorf("0,125 kg is %v, %v", q, err)
	}
}

func FuzzReadLine(f *testing.F) {
	for _, seed := range []string{"1 1/2 cups chips, chopped", "2 (14 oz) cans milk", "one 14-oz can", "½", "a half",
		"((", "2 x", "- ", "\xff\xfe 3", "1 cup plus"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		l := ReadLine(text)
		if l.Original != text {
			t.Errorf("the original of %q is %q", text, l.Original)
		}
		if l.Amount != nil && (math.IsNaN(l.Amount.Amount) || math.IsInf(l.Amount.Amount, 0) || l.Amount.Amount < 0) {
			t.Errorf("%q has an amount of %v", text, l.Amount)
		}
		if l.Doubt == nil && (l.Ingredient == "" || l.Amount == nil && !open.MatchString(text)) {
			t.Errorf("%q is taken for sure as %+v", text, l)
		}
		if utf8.ValidString(text) && !utf8.ValidString(l.Ingredient+l.Note+fmt.Sprint(l.Doubt)) {
			t.Errorf("%q gives %+v", text, l)
		}
	})
}
