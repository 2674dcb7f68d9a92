package treat

import (
	"fmt"

	"zestytin/core/food"
	"zestytin/core/measure"
)

// Kitchen is what the rules must know of the kitchen in which a treat is made.
type Kitchen struct {
	Ingredients map[string]food.Ingredient // by id
	Mixes       map[string]Mix             // by id
	Sureness    float64                    // probability that the started pieces are enough
	Room        float64                    // C
	Moulds      map[string]int             // how many there are of each kind, by Formula.Tool, where that is more or less than a formula says
	Boiling     float64                    // C at which water boils there, by the seller's thermometer or the altitude
}

// item is an ingredient or a mix: what can go into a treat.
type item struct {
	id        string
	name      string
	unit      measure.Unit
	substance measure.Substance
	fit       float64
	mix       *Mix
	food      *food.Ingredient
}

func (k *Kitchen) item(id string) (item, bool) {
	if i, ok := k.Ingredients[id]; ok {
		fit := i.Fit
		if !(fit > 0) {
			fit = 1
		}
		return item{id, i.Name, i.Unit, i.Substance, fit, nil, &i}, true
	}
	if m, ok := k.Mixes[id]; ok {
		return item{id, m.Name, measure.Gram, m.substance(), 1, &m, nil}, true
	}
	return item{}, false
}

// Name of an ingredient or a mix.
func (k *Kitchen) Name(id string) string {
	i, ok := k.item(id)
	if !ok {
		return "something that is gone"
	}
	return i.name
}

// base is an amount in the unit that the item is kept in.
func (i item) base(q measure.Quantity) (float64, error) {
	if d, ok := q.Unit.Dimension(); ok && d == measure.Length {
		return 0, fmt.Errorf("An amount cannot be a length: use g, tbsp or each.")
	}
	if !(q.Amount > 0) || q.Amount > 1e6 {
		return 0, fmt.Errorf("The amount must be more than 0.")
	}
	return q.In(i.unit, i.substance)
}

// grams of an amount in the unit that the item is kept in; false for counted things whose weight is not known.
func (i item) grams(base float64) (float64, bool) {
	g, err := measure.Of(base, i.unit).In(measure.Gram, i.substance)
	return g, err == nil
}

func (i item) show(base float64) measure.Shown {
	return measure.Show(measure.Of(base, i.unit), i.substance)
}
