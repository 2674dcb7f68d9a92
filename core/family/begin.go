package family

import (
	"cmp"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Beginning is a formula that is begun, of what is in the larder.
type Beginning struct {
	*treat.Formula
	k    *treat.Inputs
	main ident.Ingredient // the chocolate to take
}

// Begin is a formula to begin with, of what is in the larder, with the numbers that are common practice (rules 2).
// Where something is missing the error says what to add first.
func Begin(name treat.Family, k *treat.Inputs, called Called) (*treat.Formula, error) {
	law, ok := Of(name)
	if !ok {
		return nil, reason.Of("family.not-family-we-can-compute", reason.Name(name), oneOf(All()))
	}
	f := &treat.Formula{Family: name, Choices: map[string]string{}, Loss: 0.05, ShelfLifeHours: 14 * 24,
		Coatings: []treat.ChocolateLayer{}, Portions: []treat.Addition{}, Finishes: []treat.Design{},
		Packs: []treat.Pack{}}
	b := &Beginning{Formula: f, k: k}
	main, found := first(k, func(i food.Ingredient) bool {
		return i.Chocolate != nil &&
			i.Chocolate.Kind == chocolate.Real
	}, "dark", "milk")
	if !found {
		main, found = first(k, func(i food.Ingredient) bool { return i.Chocolate != nil }, "dark", "milk")
	}
	if !found && law.Main() != "" {
		return nil, reason.Of("family.there-no-chocolate-in-larder")
	}
	b.main = main.ID
	err := law.Begin(b)
	f.Steps = Proposed(f, called)
	return f, err
}

// melt adds a chocolate with its working pool in g.
func (b *Beginning) melt(role treat.Role, pool si.Grams, each *measure.Quantity) {
	b.Coatings = append(b.Coatings, treat.ChocolateLayer{Role: role, Ingredient: b.main, Each: each,
		Pool: measure.Grams(pool)})
}

// counted begins with a centre that has a weight per piece.
func (b *Beginning) counted(kind food.Kind, missing reason.Reason, likely ...string) error {
	of, ok := first(b.k, func(i food.Ingredient) bool {
		return i.Kind == kind && i.GramsEach != nil &&
			i.Unit == measure.Gram
	}, likely...)
	if !ok {
		return missing
	}
	b.Centre = &treat.Centre{Of: of.ID}
	return nil
}

func grams(x si.Grams) *measure.Quantity { q := measure.Grams(x); return &q }

func length(x float64, u measure.Unit) *measure.Quantity { q := measure.Of(x, u); return &q }

// likeliest is how soon one of the likely words comes in a name; behind all of them where none does.
func likeliest(name string, likely []string) int {
	name = strings.ToLower(name)
	n := slices.IndexFunc(likely, func(word string) bool { return strings.Contains(name, word) })
	if n < 0 {
		return len(likely)
	}
	return n
}

// first ingredient that is such: one whose name has a likely word before others, then by name.
func first(k *treat.Inputs, such func(food.Ingredient) bool, likely ...string) (food.Ingredient, bool) {
	list := []food.Ingredient{}
	for _, i := range k.Ingredients {
		if such(i) {
			list = append(list, i)
		}
	}
	if len(list) == 0 {
		return food.Ingredient{}, false
	}
	return slices.MinFunc(list, func(a, b food.Ingredient) int {
		return cmp.Or(cmp.Compare(likeliest(a.Name, likely), likeliest(b.Name, likely)), cmp.Compare(a.Name, b.Name),
			cmp.Compare(a.ID, b.ID))
	}), true
}

// firstMix, of those that can be poured by volume where that is wanted: one whose name has a likely word before others,
// then by name.
func (b *Beginning) firstMix(poured bool, likely ...string) (string, bool) {
	list := []treat.Mix{}
	for _, m := range b.k.Mixes {
		if !poured || m.Density != nil {
			list = append(list, m)
		}
	}
	if len(list) == 0 {
		return "", false
	}
	return string(slices.MinFunc(list, func(a, b treat.Mix) int {
		return cmp.Or(cmp.Compare(likeliest(a.Name, likely), likeliest(b.Name, likely)), cmp.Compare(a.Name, b.Name),
			cmp.Compare(a.ID, b.ID))
	}).ID), true
}
