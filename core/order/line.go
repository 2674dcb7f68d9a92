package order

import (
	"maps"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// CardOf a line as it is made by a version of its treat; the error is an *invalid.Error where that version is not in
// the kitchen, or so much cannot be made in one go.
func (k *Inputs) CardOf(l Line, version int) (*batch.Card, error) {
	if t := k.Treats[l.Treat]; t.Formula == nil || t.Version != version {
		return nil, invalid.At("version", reason.Of("order.version-this-treat-not-there", reason.Int(version)))
	}
	return compute(l, k)
}

// compute the card of a line.
func compute(l Line, k *Inputs) (*batch.Card, error) {
	t := k.Treats[l.Treat]
	formula, err := k.formula(l)
	if err != nil {
		return nil, err
	}
	own := k.With(t.Mixes)
	// What was made ahead is what it is now: a version that makes it otherwise cannot take it.
	own.Ahead = maps.Clone(own.Ahead)
	maps.DeleteFunc(own.Ahead, func(mix ident.Ingredient, _ treat.Ahead) bool {
		return !treat.SameMix(own.PerGram(mix), k.PerGram(mix))
	})
	card, err := batch.Compute(formula, l.Count, own)
	if err == nil {
		k.packed(l, card)
	}
	return card, err
}

// formula of a line: that of its treat, with each couverture replaced by a coating of its colour where the line says
// so.
func (k *Inputs) formula(l Line) (*treat.Formula, error) {
	f := k.Treats[l.Treat].Formula
	if !l.Coating {
		return f, nil
	}
	coated, changed := *f, false
	swap := func(list []treat.ChocolateLayer) ([]treat.ChocolateLayer, error) {
		list = slices.Clone(list)
		for i := range list {
			of := k.Ingredients[list[i].Ingredient]
			if of.Chocolate == nil || of.Chocolate.Kind != chocolate.Real {
				continue
			}
			other, found := k.coatingLike(of)
			if !found {
				return nil, reason.Of("order.there-no-coating-in-larder", reason.Name(of.Chocolate.Colour),
					reason.Name(of.Name))
			}
			list[i].Ingredient, list[i].Method, changed = ident.Ingredient(other), "", true
		}
		return list, nil
	}
	var err error
	if coated.Coatings, err = swap(f.Coatings); err != nil {
		return nil, err
	}
	coated.Finishes = slices.Clone(f.Finishes)
	for i := range coated.Finishes {
		if coated.Finishes[i].Coatings, err = swap(coated.Finishes[i].Coatings); err != nil {
			return nil, err
		}
	}
	if !changed {
		return f, nil
	}
	return &coated, nil
}

// coatingLike a couverture: compound of the same colour and tint, the first by name.
func (k *Inputs) coatingLike(of food.Ingredient) (id string, found bool) {
	name := ""
	for other, i := range k.Ingredients {
		if i.Chocolate != nil && i.Chocolate.Kind == chocolate.Compound && i.Chocolate.Colour == of.Chocolate.Colour &&
			i.Chocolate.Tint == of.Chocolate.Tint && (!found || i.Name < name) {
			id, name, found = string(other), i.Name, true
		}
	}
	return id, found
}
