package treat

import (
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Inputs is what the rules must know of the kitchen in which a treat is made.
type Inputs struct {
	Ingredients map[ident.Ingredient]food.Ingredient // by id
	Mixes       map[ident.Ingredient]Mix             // by id
	Confidence  float64                              // probability that the started pieces are enough
	AirTemp     float64                              // C
	Spots       []Spot                               // where things set and wait; nil: those that a kitchen begins with
	Moulds      map[ident.Mould]int                  // how many there are of each kind, by the name of the tool; of what is not in it there are as many as a formula uses
	Boiling     float64                              // C at which water boils there, by the seller's thermometer or the altitude
	Source      chocolate.Source                     // what chocolate is melted with, where a treat does not say
	Law         food.Law                             // by which it declares allergens
	Ahead       map[ident.Ingredient]Ahead           // mixes that were made ahead and are free
}

// Ahead is some of a mix that was made ahead: g, and the last day on which all of it is good; empty: it keeps.
type Ahead struct {
	Grams si.Grams
	Until string
}

// Item is an ingredient or a mix: what can go into a treat.
type Item struct {
	ID        ident.Ingredient
	Name      string
	Unit      measure.Unit // that it is kept in
	Substance measure.Substance
	Fit       float64 // share of what is bought that is fit to use
	Mix       *Mix
	Food      *food.Ingredient
}

// Item with the id; false where it is neither an ingredient nor a mix.
func (k *Inputs) Item(id ident.Ingredient) (Item, bool) {
	if i, ok := k.Ingredients[id]; ok {
		fit := i.UsableShare
		if !(fit > 0) {
			fit = 1
		}
		return Item{id, i.Name, i.Unit, i.Substance, fit, nil, &i}, true
	}
	if m, ok := k.Mixes[id]; ok {
		return Item{id, m.Name, measure.Gram, m.substance(), 1, &m, nil}, true
	}
	return Item{}, false
}

// Name of an ingredient or a mix; empty where it is gone.
func (k *Inputs) Name(id ident.Ingredient) string {
	i, ok := k.Item(id)
	if !ok {
		return ""
	}
	return i.Name
}

// With is the kitchen with the mixes of a version in place of its own.
func (k *Inputs) With(mixes map[ident.Ingredient]Mix) *Inputs {
	other := *k
	if mixes != nil {
		other.Mixes = mixes
	}
	return &other
}

// Density of an item in g/mL; chocolate's where it is not known and only drawn.
func (k *Inputs) Density(id ident.Ingredient) float64 {
	if of, ok := k.Item(id); ok && of.Substance.Density > 0 {
		return of.Substance.Density
	}
	return chocolate.Density
}

// Base is an amount in the unit that the item is kept in.
func (i Item) Base(q measure.Quantity) (float64, error) {
	if d, ok := q.Unit.Dimension(); ok && d == measure.Length {
		return 0, reason.Of("treat.amount-cannot-be-length-use")
	}
	if !(q.Amount > 0) || q.Amount > 1e6 {
		return 0, reason.Of("treat.amount-must-be-more-than")
	}
	return q.In(i.Unit, i.Substance)
}

// Grams of an amount in the unit that the item is kept in; false for counted things whose weight is not known.
func (i Item) Grams(base float64) (si.Grams, bool) {
	g, err := measure.Of(base, i.Unit).In(measure.Gram, i.Substance)
	return si.Grams(g), err == nil
}

// Show an amount in the unit that the item is kept in, readable.
func (i Item) Show(base float64) measure.Shown {
	return measure.Show(measure.Of(base, i.Unit), i.Substance)
}
