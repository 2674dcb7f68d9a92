package recipe

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

func TestStepsOfAMethod(t *testing.T) {
	for text, want := range map[string]string{
		"Melt the chocolate in bursts of 30 seconds.":              "1 hands",
		"1. Chill for 30 to 45 minutes.":                           "45 waits fridge",
		"Freeze the centres 1 1/2 hours.":                          "90 waits freezer",
		"Let it set at room temperature for about an hour":         "60 waits counter",
		"Refrigerate overnight.":                                   "720 waits fridge",
		"Boil to 235 °F, stirring":                                 "0 hands 113-113",
		"Cook to soft ball, 112-115°C, about 8 min":                "8 hands 112-115",
		"Cool to 90F before you dip":                               "0 hands 32-32",
		"Soak 5 to 10 minutes in water and vinegar, then rinse":    "10 waits counter",
		"Whisk half an hour":                                       "30 hands",
		"Pour into the tin.":                                       "0 hands",
		"Step 3: Keeps two days in the fridge":                     "2880 waits fridge",
		"Bake at 350 degrees F for 12 minutes":                     "12 waits counter 177-177",
		"Add 2 cups of sugar and 1/2 cup of water":                 "0 hands",
		"Temper to 31 to 32 °C and dip within 20 min of tempering": "20 hands 31-32",
	} {
		s := ReadStep(text)
		got := fmt.Sprint(int(s.Minutes), " hands")
		if s.Waits {
			got = fmt.Sprint(int(s.Minutes), " waits ", s.Place)
		}
		if s.To != 0 {
			got += fmt.Sprintf(" %.0f-%.0f", s.From, s.To)
		}
		if got != want {
			t.Errorf("%q: %s, want %s", text, got, want)
		}
		if strings.HasPrefix(s.Text, "1.") || strings.HasPrefix(s.Text, "Step") {
			t.Errorf("%q keeps its number", s.Text)
		}
	}
	steps := Method([]string{"Warm the cream 5 minutes. Pour it on. Chill 2 hours. Whisk for 3 minutes."})
	if len(steps) != 3 || steps[0].Text != "Warm the cream 5 minutes. Pour it on" || steps[1].Minutes != 120 ||
		!steps[1].Waits || steps[2].Minutes != 3 {
		t.Errorf("%+v", steps)
	}
}

// A recipe of an invented treat, as people write them: the yield, ingredients by what they are for, a method.
func TestPartsOfARecipe(t *testing.T) {
	list, err := Of(`Makes 16 to 18 bombs
For the shells:
12 oz dark chips
Filling:
1/2 cup cocoa mix
54 mini marshmallows
For the top
2 oz white coating

Directions
1. Melt and coat the moulds.
2. Chill 10 minutes.
`)
	if err != nil {
		t.Fatal(err)
	}
	r := list[0]
	if r.Yield != "16 to 18 bombs" || !slices.Equal(r.Parts, []string{"shells", "Filling", "Filling", "top"}) ||
		len(r.Lines) != 4 || len(r.Instructions) != 2 {
		t.Errorf("%+v", r)
	}
	// Without headings all is for one, and numbered lines behind the ingredients are the method.
	list, _ = Of("1 cup cream\n8 oz dark\n1) Warm the cream.\n2) Pour.\n")
	if r := list[0]; r.Parts != nil || len(r.Lines) != 2 || len(r.Instructions) != 2 {
		t.Errorf("%+v", r)
	}
}

// A method alone: what would be an ingredient or a heading elsewhere is a step.
func TestAMethodAlone(t *testing.T) {
	list, err := OfMethod("Melt the chocolate.\nFor the top:\n2 cups of nuts go on\n")
	if err != nil || len(list) != 1 || len(list[0].Instructions) != 3 || len(list[0].Lines) != 0 {
		t.Errorf("%+v (%v)", list, err)
	}
	if _, err := OfMethod(strings.Repeat("Stir.\n", MostLines+1)); err == nil {
		t.Error("takes more lines than a recipe has")
	}
}

func FuzzReadStep(f *testing.F) {
	for _, seed := range []string{"Chill 30 min", "112-115°C", "an hour", "9999999999 days", "½ h ½ F"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		s := ReadStep(text)
		if s.Minutes < 0 || s.Minutes > 14*24*60 || math.IsNaN(s.From) || math.IsInf(s.To, 0) ||
			s.Waits && s.Place == "" {
			t.Errorf("%q: %+v", text, s)
		}
	})
}
