package recipe

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"zestytin/internal/text/said"
)

// The shapes in which schema.org's Recipe is written (schema.org/Recipe; JSON-LD 1.1, W3C Recommendation 2020): one
// object, an array, a graph, below a page; ingredients as a list or one text; instructions as text, steps or sections
// of steps.
func TestShapesOfLinkedRecipes(t *testing.T) {
	want := Recipe{Name: "Slate bark", Yield: "20 bags", Lines: []string{"8 oz dark", "1/2 cup nuts"},
		Instructions: []string{"Melt.", "Spread."}}
	for name, text := range map[string]string{
		"one":          `{"@context":"https://schema.org","@type":"Recipe","name":"Slate bark","recipeYield":"20 bags","recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":"Melt.\nSpread."}`,
		"an array":     `[{"@type":"Person","name":"x"},{"@type":["Recipe"],"name":"Slate bark","recipeYield":["20 bags"],"recipeIngredient":["8 oz dark"," 1/2  cup nuts "],"recipeInstructions":["Melt.","Spread."]}]`,
		"a graph":      `{"@graph":[{"@type":"WebSite"},{"@type":"https://schema.org/Recipe","name":{"@value":"Slate bark"},"recipeYield":"20 bags","recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":[{"@type":"HowToStep","text":"Melt."},{"@type":"HowToStep","name":"Spread."}]}]}`,
		"below a page": `{"@type":"WebPage","mainEntity":{"@type":"schema:Recipe","name":"Slate bark","recipeYield":"20 bags","recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":[{"@type":"HowToSection","itemListElement":[{"@type":"HowToStep","text":"Melt."},{"@type":"HowToStep","text":"Spread."}]}]}}`,
		"with a mark": "\ufeff" +
			`{"@type":"Recipe","name":"Slate bark","recipeYield":"20 bags","recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":["Melt.","Spread."]}`,
		"yield a number": `{"@type":"Recipe","name":"Slate bark","recipeYield":[20,"bags"],"recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":["Melt.","Spread."]}`,
	} {
		list, err := Of(text)
		if err != nil || len(list) != 1 {
			t.Errorf("%s: %d recipes (%v)", name, len(list), err)
			continue
		}
		got := list[0]
		if name == "yield a number" {
			got.Yield = strings.Replace(got.Yield, "20, bags", "20 bags", 1)
		}
		if got.Name != want.Name || got.Yield != want.Yield || !slices.Equal(got.Lines, want.Lines) ||
			!slices.Equal(got.Instructions, want.Instructions) {
			t.Errorf("%s: %+v", name, got)
		}
	}
	if list, err := Of(`{"@graph":[{"@type":"Recipe","name":"A"},{"@type":"Recipe","name":"B"}]}`); err != nil ||
		len(list) != 2 {
		t.Errorf("two: %v (%v)", list, err)
	}
}

func TestFaultsOfLinkedRecipes(t *testing.T) {
	for text, says := range map[string]string{
		"": "nothing in it", " \n": "nothing in it", "\x82\xe9": "not text", "1 egg\x00": "not text",
		strings.Repeat("1 egg\n", 200_000): "more than 1 MB",
		`{"@type":"Person"}`:               "no recipe in this file", `[{}]`: "no recipe",
		`{"@type":"Recipe"`: "breaks off",
		strings.Repeat(`{"@graph":[`, 30) + `{"@type":"Recipe"}` + strings.Repeat(`]}`, 30): "no recipe",
		`{"@type":"Recipe","recipeIngredient":["` + strings.Repeat("x", 1001) +
			`"]}`: "too many for one ingredient",
		`{"@type":"Recipe","recipeIngredient":[` + strings.Repeat(`"1 egg",`, MostLines) +
			`"1 egg"]}`: "at most 1,000 lines",
	} {
		if _, err := Of(text); err == nil || !strings.Contains(said.Error(err), says) {
			t.Errorf("%.40q: %v, want … %s …", text, err, says)
		}
	}
}

// Text is one recipe, line by line; and what is written is read back the same.
func TestTextAndBack(t *testing.T) {
	list, err := Of("\n 1 cup sugar \r\n\n2 eggs\n")
	if err != nil || !slices.Equal(list[0].Lines, []string{"1 cup sugar", "2 eggs"}) {
		t.Errorf("%v (%v)", list, err)
	}
	r := Recipe{Name: "Ganache \"dark\"", Yield: "24 pieces", Lines: []string{"500 g Dark 54%", "1 cup cream"},
		Instructions: []string{"Boil <gently>.", "Pour."}}
	text, err := Write(r, "Chocolate", 95)
	if err != nil || !json.Valid(text) || !strings.Contains(string(text), `"PT95M"`) {
		t.Fatalf("%s (%v)", text, err)
	}
	back, err := Of(string(text))
	if err != nil || len(back) != 1 || back[0].Name != r.Name || back[0].Yield != r.Yield ||
		!slices.Equal(back[0].Lines, r.Lines) || !slices.Equal(back[0].Instructions, r.Instructions) {
		t.Errorf("read back: %+v (%v)", back, err)
	}
}

// Whatever is pasted: a recipe of clean lines or a plain sentence, and what was read can be written and read again.
func FuzzOf(f *testing.F) {
	for _, seed := range []string{"1 cup sugar", `{"@type":"Recipe","name":"A","recipeIngredient":["1 egg"]}`,
		`[{"@graph":[{"@type":["Recipe"]}]}]`, "{", "[{}", "\ufeff{}",
		`{"@type":{"@value":"Recipe"},"recipeInstructions":[[["x"]]]}`} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		list, err := Of(text)
		if err != nil {
			if !strings.HasSuffix(said.Error(err), ".") {
				t.Errorf("%q is no sentence", err)
			}
			return
		}
		for _, r := range list {
			for _, l := range r.Lines {
				if strings.TrimSpace(l) == "" || len([]rune(l)) > 1000 {
					t.Errorf("the line %q of %q", l, text)
				}
			}
			written, err := Write(r, "", 0)
			if err != nil {
				t.Fatal(err)
			}
			again, err := Of(string(written))
			if err != nil || len(again) != 1 {
				t.Fatalf("%s: %v", written, err)
			}
			if strings.HasPrefix(strings.TrimSpace(text), "{") && !slices.Equal(again[0].Lines, r.Lines) {
				t.Errorf("%q came back as %q", r.Lines, again[0].Lines)
			}
		}
	})
}
