// Package food knows ingredients: what must be known of one to convert, to warn and to choose it, a starting set of
// common ones, and how a name that somebody wrote finds the ingredient that is meant.
package food

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Kind is what sort of thing an ingredient is.
type Kind string

const (
	KindChocolate Kind = "chocolate"
	KindFruit     Kind = "fruit"
	KindNut       Kind = "nut"
	KindDairy     Kind = "dairy"
	KindAlcohol   Kind = "alcohol"
	KindSugar     Kind = "sugar"
	KindFat       Kind = "fat"
	KindBaked     Kind = "baked"
	KindFlavour   Kind = "flavour"
	KindColour    Kind = "colour"
	KindTopping   Kind = "topping"
	KindOther     Kind = "other"
)

// Kinds in the order in which a larder is sorted.
func Kinds() []Kind {
	return []Kind{KindChocolate, KindFruit, KindNut, KindDairy, KindSugar, KindFat, KindBaked, KindAlcohol, KindFlavour,
		KindColour, KindTopping, KindOther}
}

// StockUnits are what an ingredient can be kept and bought in.
func StockUnits() []measure.Unit { return []measure.Unit{measure.Gram, measure.Each} }

// Fields of an ingredient, as a person sets them and as they stand in files.
type Fields struct {
	Name        string       `json:"name"`
	Kind        Kind         `json:"kind"`
	Unit        measure.Unit `json:"unit"`
	Density     *float64     `json:"density,omitempty"`
	GramsEach   *si.Grams    `json:"gramsEach,omitempty"`
	Measures    []Measure    `json:"measures"`
	UsableShare float64      `json:"fit"`
	StorageDays *int         `json:"fresh,omitempty"`
	Allergens   []string     `json:"allergens"`
	Diets       []Diet       `json:"diets"`
	Chocolate   *Chocolate   `json:"chocolate,omitempty"`
	MadeOf      []string     `json:"madeOf"`
}

// Ingredient is what the rules must know of one.
type Ingredient struct {
	ID ident.Ingredient
	Fields
	Substance measure.Substance // what Fields say of weights
	Price     decimal.Decimal   // money for one Unit, as last paid
	Estimated bool              // nobody has said what was paid: the price is a guess
}

// New makes an ingredient of fields that Check has passed.
func New(id ident.Ingredient, f Fields, price decimal.Decimal) Ingredient {
	return Ingredient{ID: id, Fields: f, Substance: f.Weights(), Price: price}
}

// heaviest that one piece can be: a measure of more is a pack, not a size (memory: the largest strawberries weigh a
// quarter of it).
const heaviest si.Grams = 200

// Sizes that a piece of it comes in, with what one weighs: the usual one, without a name, then those of its measures
// that a piece can be.
func (f *Fields) Sizes() []Measure {
	list := []Measure{}
	if f.GramsEach != nil {
		list = append(list, Measure{Grams: *f.GramsEach})
	}
	for _, m := range f.Measures {
		if m.Grams < heaviest {
			list = append(list, m)
		}
	}
	return list
}

// Weights are what the fields say that is needed to convert.
func (f *Fields) Weights() measure.Substance {
	var s measure.Substance
	if f.Density != nil {
		s.Density = *f.Density
	}
	if f.GramsEach != nil {
		s.GramsEach = *f.GramsEach
	}
	if len(f.Measures) > 0 {
		s.Measures = make(map[measure.Unit]si.Grams, len(f.Measures))
		for _, m := range f.Measures {
			s.Measures[measure.Unit(m.Name)] = m.Grams
		}
	}
	return s
}

// Chocolate is what makes an ingredient a chocolate.
type Chocolate struct {
	Kind   chocolate.Kind   `json:"kind"`
	Colour chocolate.Colour `json:"colour"`
	Tint   string           `json:"tint,omitempty"`
	Bands  *chocolate.Bands `json:"bands,omitempty"`
}

// IsTint tells whether a colour is written as #rrggbb.
func IsTint(colour string) bool { return tint.MatchString(colour) }

// Temperatures that it is tempered with: its own, or those of its colour.
func (c Chocolate) Temperatures() chocolate.Bands {
	if c.Bands != nil {
		return *c.Bands
	}
	return chocolate.BandsOf(c.Colour)
}

// Measure is a measure of an ingredient's own.
type Measure struct {
	Name  string   `json:"name"`
	Grams si.Grams `json:"grams"`
}

// Diet is a wish about what is not in something.
type Diet string

const (
	Vegan      Diet = "vegan"
	NoAlcohol  Diet = "no alcohol"
	NoGelatine Diet = "no gelatine"
	LowSugar   Diet = "low sugar"
)

// Diets that are known.
func Diets() []Diet { return []Diet{Vegan, NoAlcohol, NoGelatine, LowSugar} }

// Check finds what cannot be true of an ingredient. The error is an *invalid.Error.
func (i *Fields) Check() error {
	var f invalid.Faults
	if strings.TrimSpace(i.Name) == "" || len([]rune(i.Name)) > 100 {
		f.Add("name", reason.Of("food.give-name-at-most-letters"))
	}
	if !slices.Contains(Kinds(), i.Kind) {
		f.Add("kind", reason.Of("food.not-kind-we-know-choose", reason.Name(i.Kind), reason.Name(join(Kinds()))))
	}
	if (i.Chocolate != nil) != (i.Kind == KindChocolate) {
		f.Add("kind", reason.Of("food.chocolate-says-whether-real-or"))
	}
	if c := i.Chocolate; c != nil {
		if c.Kind != chocolate.Real && c.Kind != chocolate.Compound {
			f.Add("chocolate.kind", reason.Of("food.no-kind-chocolate-choose-real", reason.Name(c.Kind)))
		}
		if !slices.Contains([]chocolate.Colour{chocolate.Dark, chocolate.Milk, chocolate.White}, c.Colour) {
			f.Add("chocolate.colour", reason.Of("food.no-colour-chocolate-choose-dark", reason.Name(c.Colour)))
		}
		if c.Tint != "" && !IsTint(c.Tint) {
			f.Add("chocolate.tint", reason.Of("food.no-tint-write-as-rrggbb", reason.Name(c.Tint)))
		}
	}
	if i.Chocolate != nil && i.Chocolate.Bands != nil {
		if err := i.Chocolate.Bands.Check(); err != nil {
			f.Add("chocolate.bands", err)
		}
	}
	if d := i.Density; d != nil && !(*d > 0 && *d < 25) {
		f.Add("density", reason.Of("food.density-more-than-and-less"))
	}
	if g := i.GramsEach; g != nil && !(*g > 0 && *g < 1e5) {
		f.Add("gramsEach", reason.Of("food.piece-weighs-more-than-g"))
	}
	if !(i.UsableShare > 0 && i.UsableShare <= 1) {
		f.Add("fit", reason.Of("food.share-that-fit-to-use"))
	}
	if i.StorageDays != nil && (*i.StorageDays < 1 || *i.StorageDays > 365) {
		f.Add("fresh", reason.Of("food.what-fresh-stays-so-for"))
	}
	if i.Unit != measure.Gram && i.Unit != measure.Each {
		f.Add("unit", reason.Of("food.ingredient-kept-by-weight-or"))
	} else if i.Chocolate != nil && i.Unit != measure.Gram {
		f.Add("unit", reason.Of("food.chocolate-kept-by-weight-choose"))
	}
	seen := map[string]bool{}
	for n, m := range i.Measures {
		path := fmt.Sprintf("measures[%d]", n)
		name := strings.ToLower(strings.TrimSpace(m.Name))
		_, reserved := measure.Unit(name).Dimension()
		switch {
		case name == "" || len([]rune(name)) > 30 || seen[name]:
			f.Add(path+".name", reason.Of("food.every-measure-has-name-its"))
		case reserved && measure.Unit(name) != measure.Drop: // a drop of this oil weighs what it weighs
			f.Add(path+".name", reason.Of("food.unit-already-choose-another-name", reason.Name(m.Name)))
		}
		if !(m.Grams > 0 && m.Grams < 1e6) {
			f.Add(path+".grams", reason.Of("food.one-them-weighs-more-than"))
		}
		seen[name] = true
	}
	if err := CheckAllergens(i.Allergens); err != nil {
		f.Under("allergens", err)
	}
	for n, d := range i.Diets {
		if !slices.Contains(Diets(), d) {
			f.Add(fmt.Sprintf("diets[%d]", n), reason.Of("food.not-diet-we-know-choose", reason.Name(d),
				reason.Name(join(Diets()))))
		} else if d == NoAlcohol && i.Kind == KindAlcohol {
			f.Add(fmt.Sprintf("diets[%d]", n), reason.Of("food.alcohol-does-not-suit-no"))
		} else if d == Vegan && slices.ContainsFunc(i.Allergens, animal) {
			f.Add(fmt.Sprintf("diets[%d]", n), reason.Of("food.contains-milk-egg-fish-or"))
		}
	}
	for n, of := range i.MadeOf {
		if strings.TrimSpace(of) == "" || len([]rune(of)) > 100 {
			f.Add(fmt.Sprintf("madeOf[%d]", n), reason.Of("food.sub-ingredient-name-at-most"))
		}
	}
	return f.Err()
}

var tint = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)

func animal(allergen string) bool {
	return slices.Contains([]string{"milk", "egg", "fish", "shellfish", "mollusc"}, allergen)
}

func join[T ~string](list []T) string {
	words := make([]string, len(list))
	for i, w := range list {
		words[i] = string(w)
	}
	return strings.Join(words, ", ")
}
