package treat

import (
	"cmp"
	"errors"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
)

// Begin is a formula to begin with, of what is in the larder, with the numbers that are common practice (handbook 2). Where
// something is missing the error says what to add first.
func Begin(family Family, k *Kitchen) (*Formula, error) {
	f := &Formula{Family: family, Choices: map[string]string{}, Loss: 0.05, Keeps: 14 * 24, Coatings: []Coating{}, Portions: []Portion{}, Finishes: []Finish{}, Packs: []Pack{}}
	main, found := k.first(func(i food.Ingredient) bool { return i.Chocolate != nil && i.Chocolate.Kind == chocolate.Real })
	if !found {
		main, found = k.first(func(i food.Ingredient) bool { return i.Chocolate != nil })
	}
	if !found && family != Fudge {
		return nil, errors.New("There is no chocolate in the larder: add one first, then begin.")
	}
	grams := func(x float64) *measure.Quantity { q := measure.Grams(x); return &q }
	length := func(x float64, u measure.Unit) *measure.Quantity { q := measure.Of(x, u); return &q }
	melt := func(role Role, pool float64, each *measure.Quantity) {
		f.Coatings = append(f.Coatings, Coating{Role: role, Ingredient: main.ID, Each: each, Pool: measure.Grams(pool)})
	}
	counted := func(kind food.Kind, missing string) error {
		of, ok := k.first(func(i food.Ingredient) bool { return i.Kind == kind && i.GramsEach != nil && i.Unit == measure.Gram })
		if !ok {
			return errors.New(missing)
		}
		f.Centre = &Centre{Of: of.ID}
		return nil
	}
	var err error
	switch family {
	case Bomb:
		f.Loss = 0.08
		f.Shell = &Shell{Across: measure.Of(2.5, measure.Inch), Wall: length(3.5, measure.Millimetre), Cavities: 6, Moulds: 2}
		melt(RoleShell, 200, nil)
	case Fruit:
		f.Keeps = 24
		err = counted(food.KindFruit, "There is no fruit with a weight per piece in the larder: add one first, then begin.")
		melt(RoleCoat, 250, grams(8))
	case Pretzel:
		err = counted(food.KindBaked, "There are no pretzels in the larder: add them first, as baked goods with a weight per piece.")
		melt(RoleCoat, 200, grams(8.1))
	case Truffle:
		f.Keeps = 10 * 24
		of, ok := k.firstMix(false)
		if !ok {
			return nil, errors.New("A truffle needs a mix for its centre: write one first, such as a ganache, then begin.")
		}
		f.Centre = &Centre{Of: of, Each: grams(12)}
		melt(RoleCoat, 250, grams(5))
	case Bark:
		f.Loss, f.Keeps = 0.03, 30*24
		f.Sheet = &Sheet{Length: measure.Of(13, measure.Inch), Width: measure.Of(9.5, measure.Inch), Depth: measure.Of(0.125, measure.Inch), Bag: grams(75)}
		melt(RoleBase, 60, nil)
	case Fudge:
		of, ok := k.firstMix(true)
		if !ok {
			return nil, errors.New("Fudge needs the mix that is poured, with its density: write one first, then begin.")
		}
		f.Centre = &Centre{Of: of}
		f.Sheet = &Sheet{Length: measure.Of(8, measure.Inch), Width: measure.Of(8, measure.Inch), Depth: measure.Of(0.75, measure.Inch), Rows: 6, Columns: 6}
	case Moulded:
		f.Keeps = 20 * 24
		f.Mould = &Mould{Volume: measure.Of(12, measure.Millilitre), Cavities: 15, Moulds: 1, Shell: 1}
		melt(RoleShell, 150, nil)
	}
	f.Steps = Proposed(f)
	return f, err
}

// first ingredient by name that is such.
func (k *Kitchen) first(such func(food.Ingredient) bool) (food.Ingredient, bool) {
	list := []food.Ingredient{}
	for _, i := range k.Ingredients {
		if such(i) {
			list = append(list, i)
		}
	}
	if len(list) == 0 {
		return food.Ingredient{}, false
	}
	return slices.MinFunc(list, func(a, b food.Ingredient) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID)) }), true
}

// firstMix by name, of those that can be poured by volume where that is wanted.
func (k *Kitchen) firstMix(poured bool) (string, bool) {
	list := []Mix{}
	for _, m := range k.Mixes {
		if !poured || m.Density != nil {
			list = append(list, m)
		}
	}
	if len(list) == 0 {
		return "", false
	}
	return slices.MinFunc(list, func(a, b Mix) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.ID, b.ID)) }).ID, true
}
