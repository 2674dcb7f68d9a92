package label

import (
	"math"
	"slices"
	"strings"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// mono is a font whose letters are all half an em wide, small letters half and figures seven tenths of it high.
type mono struct{}

func (mono) Width(text string, _ bool) float64 { return 0.5 * float64(len([]rune(text))) }
func (mono) XHeight() float64                  { return 0.5 }
func (mono) FigureHeight() float64             { return 0.7 }
func (mono) Lacks(text string) rune {
	for _, r := range text {
		if r > 0x2fff {
			return r
		}
	}
	return 0
}

func of(name string, grams si.Grams, allergens []string, madeOf ...string) food.Part {
	return food.Part{Grams: grams, Ingredient: food.Ingredient{Fields: food.Fields{Name: name, Allergens: allergens,
		MadeOf: madeOf}}}
}

// marked is a list with what is emphasised between stars.
func marked(spans []Span) string {
	var b strings.Builder
	for _, s := range spans {
		if s.Bold {
			b.WriteString("*" + s.Text + "*")
		} else {
			b.WriteString(s.Text)
		}
	}
	return b.String()
}

// By weight; by the law of the EU allergens stand out in the list and the share of what the name promises is told: 75 g
// of hazelnuts in 300 g are 25%. By that of the US the list is plain.
func TestIngredientsByLaw(t *testing.T) {
	parts := []food.Part{of("Hazelnuts, chopped", 75, []string{"tree nut"}), of("Salt", 0.5, nil),
		of("Dark 60%", 180, []string{"milk", "soy"}, "cocoa mass", "sugar", "soya lecithin", "milk powder"),
		of("Malt flour", 44.5, []string{"gluten"}, "barley malt")}
	for law, want := range map[food.Law]string{
		food.LawEU: "dark 60% (cocoa mass, sugar, *soya* lecithin, *milk* powder), *hazelnuts*, chopped 25%, " +
			"malt flour (*barley* malt), salt",
		food.LawUS: "dark 60% (cocoa mass, sugar, soya lecithin, milk powder), hazelnuts, chopped, " +
			"malt flour (barley malt), salt",
	} {
		if got := marked(Ingredients(parts, "Hazelnut bark", law)); got != want {
			t.Errorf("%s: %s", law, got)
		}
	}
	// Where no word of the list names it, it is added: butter is milk. "oat" in coating is no oat.
	got := marked(Ingredients([]food.Part{of("Butter", 50, []string{"milk"}), of("Blue coating", 20, []string{"gluten"},
		"oat flour")}, "Cubes", food.LawEU))
	if got != "butter (*milk*), blue coating (*oat* flour)" {
		t.Errorf("%s", got)
	}
	if got := Ingredients(nil, "", food.LawEU); len(got) != 0 {
		t.Errorf("of nothing %v", got)
	}
}

// 21 CFR 101.7(m) with 16.5 oz, of 467.77 g; 76/211/EEC and Regulation 1169/2011, Art. 23. What is said is there: it is
// rounded down.
func TestNetWeight(t *testing.T) {
	for grams, want := range map[si.Grams][2]string{
		467.78: {"16.5 oz (1 lb 0.5 oz) 467 g", "467 g"}, 453.6: {"16 oz (1 lb) 453 g", "453 g"},
		75: {"2.6 oz 75 g", "75 g"}, 8.25: {"0.29 oz 8.2 g", "8.2 g"}, 1234: {"43.5 oz (2 lb 11.5 oz) 1.23 kg", "1.23 kg"},
	} {
		if got := [2]string{strings.ReplaceAll(Net(grams, food.LawUS), gap, " "),
			strings.ReplaceAll(Net(grams, food.LawEU), gap, " ")}; got != want {
			t.Errorf("%v g: %q", grams, got)
		}
	}
}

// The tables of the laws: Regulation 1169/2011, Art. 13 and Annex IV; 76/211/EEC, Annex I, 3.1; 21 CFR 101.2(c) and
// 101.7(i). 5 in2 are 32.3 cm2, 25 are 161.3.
func TestLeastHeights(t *testing.T) {
	for _, c := range []struct {
		law   food.Law
		side  float64
		grams si.Grams
		want  Least
	}{
		{food.LawEU, 79, 50, Least{0.9, 2}}, {food.LawEU, 80, 51, Least{1.2, 3}}, {food.LawEU, 400, 200.5, Least{1.2, 4}},
		{food.LawEU, 400, 1001, Least{1.2, 6}}, {food.LawUS, 32, 75, Least{25.4 / 16, 25.4 / 16}},
		{food.LawUS, 33, 75, Least{25.4 / 16, 25.4 / 8}}, {food.LawUS, 162, 75, Least{25.4 / 16, 3 * 25.4 / 16}},
		{food.LawUS, 3000, 75, Least{25.4 / 16, 25.4 / 2}},
	} {
		if got := LeastOf(c.law, c.side, c.grams); math.Abs(got.Letter-c.want.Letter) > 1e-9 ||
			math.Abs(got.Figure-c.want.Figure) > 1e-9 {
			t.Errorf("%+v: %+v", c, got)
		}
	}
}

// A coating is not called chocolate.
func TestNotChocolate(t *testing.T) {
	coating := of("White chocolate coating", 10, nil)
	coating.Chocolate = &food.Chocolate{Kind: chocolate.Compound}
	if got := NotChocolate([]food.Part{coating}, "Cups"); !slices.Equal(got, []string{"White chocolate coating"}) {
		t.Errorf("%v", got)
	}
	coating.Name = "White coating"
	if got := NotChocolate([]food.Part{coating}, "Chocolate cups"); len(got) != 1 {
		t.Errorf("%v", got)
	}
	if got := NotChocolate([]food.Part{coating}, "Cups"); len(got) != 0 {
		t.Errorf("%v", got)
	}
}

func text(n int) []Paragraph {
	return []Paragraph{{Title, []Span{{"Bark", true}}},
		{Text, []Span{{"Ingredients: ", true}, {strings.TrimSpace(strings.Repeat("sugar ", n)), false}}},
		{Weight, []Span{{"75 g", true}}}}
}

// Letters are as large as there is room for, and no smaller than the law allows: then it is refused with the reason.
func TestTextIsMadeSmallerToTheLeast(t *testing.T) {
	least := Least{Letter: 1.2, Figure: 3}
	before := math.Inf(1)
	for _, n := range []int{1, 20, 40} {
		f, err := Fit(text(n), 63.5, 38.1, least, mono{})
		if err != nil {
			t.Fatal(err)
		}
		if f.Letter < least.Letter-1e-9 || f.Figure < least.Figure-1e-9 || f.Letter > before {
			t.Errorf("%d words: letters of %v, figures of %v", n, f.Letter, f.Figure)
		}
		before = f.Letter
		for _, r := range f.Runs {
			if r.X < edge-1e-9 || r.X+r.Width > 63.5-edge+1e-6 || r.Y > 38.1-edge || r.Y-r.Size < 0 {
				t.Errorf("%+v lies outside", r)
			}
		}
	}
	if before == largest*0.5 {
		t.Error("it was never made smaller")
	}
	for what, c := range map[string]struct {
		p          []Paragraph
		long, high float64
		code       string
	}{
		"too much":     {text(400), 63.5, 38.1, "label.does-not-fit"},
		"a long word":  {[]Paragraph{{Text, []Span{{strings.Repeat("a", 90), false}}}}, 63.5, 38.1, "label.word-wider-than-label"},
		"no room":      {text(1), 4, 38, "label.too-small"},
		"not a number": {text(1), math.NaN(), 38, "label.too-small"},
		"a letter":     {[]Paragraph{{Text, []Span{{"cocoa 巧", false}}}}, 63.5, 38.1, "label.letter-that-no-font-has"},
	} {
		_, err := Fit(c.p, c.long, c.high, least, mono{})
		if r, ok := err.(reason.Reason); !ok || r.Code != c.code {
			t.Errorf("%s: %v", what, err)
		}
	}
	// 60 ingredients go onto the largest of the common labels.
	if _, err := Fit(text(60), 99.1, 67.7, least, mono{}); err != nil {
		t.Errorf("60 words: %v", err)
	}
}

// What is emphasised in the middle of a word stays in one line with it.
func TestALineBreaksAtSpacesOnly(t *testing.T) {
	lines := wrap([]Span{{"one two (", false}, {"milk", true}, {") three", false}}, 5.5, 1, mono{})
	var got []string
	for _, l := range lines {
		got = append(got, marked(l))
	}
	if want := []string{"one two", "(*milk*)", "three"}; !slices.Equal(got, want) {
		t.Errorf("%q", got)
	}
}

// Every common sheet is one that can be; the 4th label of three columns begins the second row, after the last comes
// another page.
func TestSheets(t *testing.T) {
	for _, s := range Sheets() {
		if err := s.Check(); err != nil {
			t.Errorf("%s: %v", s.ID, err)
		}
	}
	s := Sheets()[0]
	places, err := s.Places(20, 3)
	if err != nil {
		t.Fatal(err)
	}
	if want := []Place{{0, 7.25 + 66.04, 15.15 + 6*38.1}, {0, 7.25 + 2*66.04, 15.15 + 6*38.1}, {1, 7.25, 15.15}}; !slices.EqualFunc(
		places, want, func(a, b Place) bool {
			return a.Page == b.Page && math.Abs(a.X-b.X) < 1e-9 && math.Abs(a.Y-b.Y) < 1e-9
		}) {
		t.Errorf("%+v", places)
	}
	for _, c := range [][2]int{{0, 1}, {22, 1}, {1, 0}, {1, MostLabels + 1}} {
		if _, err := s.Places(c[0], c[1]); err == nil {
			t.Errorf("%v is taken", c)
		}
	}
	for _, change := range []func(*Sheet){func(s *Sheet) { s.Long = 0 }, func(s *Sheet) { s.Rows = 0 },
		func(s *Sheet) { s.Columns = 4 }, func(s *Sheet) { s.PitchY = 20 }, func(s *Sheet) { s.Top = -1 },
		func(s *Sheet) { s.Width = math.NaN() }} {
		bad := Sheets()[0]
		change(&bad)
		if bad.Check() == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}
