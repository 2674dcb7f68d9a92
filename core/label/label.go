// Package label says what stands on the label of a treat, by the law of the place that the kitchen has chosen, and lays
// it out. It never says that a label is sufficient: local rules decide.
package label

import (
	"cmp"
	"math"
	"slices"
	"strconv"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/si"
)

// Span is a part of a text, emphasised or not.
type Span struct {
	Text string `json:"text"`
	Bold bool   `json:"bold,omitempty"`
}

// Ingredients in falling order of weight (21 CFR 101.4(a)(1); Regulation 1169/2011, Art. 18), sub-ingredients in
// brackets. By the law of the EU allergens are emphasised in the list (Art. 21(1)(b)), and of what the name of the food
// promises the share of the weight that went in is said (Art. 22, Annex VIII).
func Ingredients(parts []food.Part, name string, law food.Law) []Span {
	type entry struct {
		food.Ingredient
		text  string
		grams si.Grams
	}
	var list []entry
	total := si.Grams(0)
	for _, p := range parts {
		text := strings.ToLower(p.Name)
		if len(p.MadeOf) > 0 {
			text += " (" + strings.Join(p.MadeOf, ", ") + ")"
		}
		total += p.Grams
		if n := slices.IndexFunc(list, func(e entry) bool { return e.text == text }); n >= 0 {
			list[n].grams += p.Grams
			continue
		}
		list = append(list, entry{p.Ingredient, text, p.Grams})
	}
	slices.SortStableFunc(list, func(a, b entry) int { return cmp.Compare(b.grams, a.grams) })
	var spans []Span
	add := func(text string, bold bool) {
		if n := len(spans) - 1; n >= 0 && spans[n].Bold == bold {
			spans[n].Text += text
		} else if text != "" {
			spans = append(spans, Span{text, bold})
		}
	}
	for i, e := range list {
		if i > 0 {
			add(", ", false)
		}
		text := e.text
		if law == food.LawEU && total > 0 && promised(name, e.Name) {
			own := strings.ToLower(e.Name)
			text = own + " " + percent(float64(e.grams.Over(total))) + text[len(own):]
		}
		if law != food.LawEU {
			add(text, false)
			continue
		}
		emphasise(&e.Ingredient, text, add)
	}
	return spans
}

// percent of a share, whole; less than one is said so.
func percent(share float64) string {
	n := math.Round(share * 100)
	if n < 1 {
		return "<1%"
	}
	return figure(n) + "%"
}

// common words of the trade that promise nothing.
var common = []string{"chocolate", "with", "and", "bark", "bomb", "truffle", "dozen", "three", "ways", "lines", "white",
	"dark", "milk", "coating", "mini", "box", "cube", "cup", "the", "sugar", "mix", "of", "in", "a"}

// promised tells whether the name of a food names an ingredient, by a word that is not of the trade: hazelnuts of
// "Hazelnut and sour-cherry bark".
func promised(name, ingredient string) bool {
	of := strings.Fields(food.Words(name))
	for _, w := range strings.Fields(food.Words(ingredient)) {
		if len(w) > 2 && !slices.Contains(common, w) && slices.Contains(of, w) {
			return true
		}
	}
	return false
}

// words that name an allergen in a list.
var words = map[string][]string{
	"milk": {"milk"}, "egg": {"eggs", "egg"}, "fish": {"fish"}, "shellfish": {"shellfish"},
	"peanut": {"peanuts", "peanut"},
	"soy":    {"soya", "soy"}, "sesame": {"sesame"}, "celery": {"celery"}, "mustard": {"mustard"},
	"sulphites": {"sulphites", "sulphite", "sulphur dioxide"}, "lupin": {"lupin"}, "mollusc": {"molluscs", "mollusc"},
	"wheat":  {"wheat"},
	"gluten": {"rye", "barley", "oats", "oat", "spelt", "kamut", "wheat"},
	"tree nut": {"almonds", "almond", "hazelnuts", "hazelnut", "walnuts", "walnut", "cashews", "cashew", "pecans", "pecan",
		"brazil nuts", "brazil nut", "pistachios", "pistachio", "macadamias", "macadamia"},
}

// emphasise the words that name the allergens of an ingredient in its text; where none does the allergen is added.
func emphasise(i *food.Ingredient, text string, add func(string, bool)) {
	type at struct{ from, to int }
	var found []at
	var missing []string
	lower := strings.ToLower(text)
	for _, a := range i.Allergens {
		if !food.LawEU.Requires(a) && a != "wheat" {
			continue
		}
		named := false
		for _, w := range words[a] {
			for from := 0; ; {
				n := strings.Index(lower[from:], w)
				if n < 0 {
					break
				}
				x := at{from + n, from + n + len(w)}
				from = x.to
				if x.from > 0 && letter(lower[x.from-1]) || x.to < len(lower) && letter(lower[x.to]) {
					continue // a part of another word: oat in coating
				}
				named = true
				if !slices.ContainsFunc(found, func(o at) bool { return x.from < o.to && o.from < x.to }) {
					found = append(found, x)
				}
			}
		}
		if !named && !(a == "gluten" && slices.Contains(i.Allergens, "wheat")) {
			missing = append(missing, a)
		}
	}
	slices.SortFunc(found, func(a, b at) int { return a.from - b.from })
	from := 0
	for _, x := range found {
		add(text[from:x.from], false)
		add(text[x.from:x.to], true)
		from = x.to
	}
	add(text[from:], false)
	for n, a := range missing {
		add([]string{" (", ", "}[min(n, 1)], false)
		add(declared[a], true)
	}
	if len(missing) > 0 {
		add(")", false)
	}
}

func letter(b byte) bool { return b >= 'a' && b <= 'z' || b >= 0x80 }

// declared is how an allergen is named where the list does not say it.
var declared = map[string]string{"milk": "milk", "egg": "egg", "fish": "fish", "shellfish": "crustaceans",
	"tree nut": "nuts", "peanut": "peanut", "soy": "soya", "sesame": "sesame", "celery": "celery", "mustard": "mustard",
	"sulphites": "sulphites", "lupin": "lupin", "mollusc": "molluscs", "gluten": "gluten", "wheat": "wheat"}

// NotChocolate are the ingredients that a name calls chocolate and that are none: compound coating, whose fat is not
// cocoa butter (Directive 2000/36/EC, Annex I; 21 CFR 163).
func NotChocolate(parts []food.Part, name string) []string {
	var list []string
	calls := func(text string) bool { return strings.Contains(" "+food.Words(text)+" ", " chocolate ") }
	for _, p := range parts {
		if p.Chocolate != nil && p.Chocolate.Kind == chocolate.Compound && (calls(p.Name) || calls(name)) {
			list = append(list, p.Name)
		}
	}
	return list
}

// Net weight in figures: by the law of the US in ounces, from one pound on in pounds as well, and in grams beside it
// (15 USC 1453(a)(2), 21 CFR 101.7(j) to (m)); elsewhere in grams, from 1000 g in kilograms (Regulation 1169/2011, Art.
// 23). It is rounded down: what is said is there.
func Net(grams si.Grams, law food.Law) string {
	g := math.Floor(float64(grams) + 1e-6)
	metric := figure(g) + gap + "g"
	if g < 10 {
		metric = figure(math.Floor(float64(grams)*10+1e-6)/10) + gap + "g"
	}
	if g >= 1000 {
		metric = figure(math.Floor(g/10)/100) + gap + "kg"
	}
	if law != food.LawUS {
		return metric
	}
	const gramsPerOunce = measure.GramsPerOunce
	oz := math.Floor(float64(grams)/gramsPerOunce*10+1e-6) / 10
	if oz < 1 {
		oz = math.Floor(float64(grams)/gramsPerOunce*100+1e-6) / 100
	}
	text := figure(oz) + gap + "oz"
	if oz >= 16 {
		pounds := math.Floor(oz / 16)
		text += " (" + figure(pounds) + gap + "lb"
		if rest := math.Round((oz-16*pounds)*10) / 10; rest > 0 {
			text += gap + figure(rest) + gap + "oz"
		}
		text += ")"
	}
	return text + " " + metric
}

// gap does not break: a figure stays with its unit.
const gap = "\u00a0"

func figure(x float64) string { return strconv.FormatFloat(x, 'f', -1, 64) }
