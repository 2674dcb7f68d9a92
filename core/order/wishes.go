package order

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// Swap is other ingredients in place of some of a line, tried: with them the line fits all wishes of the order.
type Swap struct {
	Line  int        `json:"line"`
	Pairs []SwapPair `json:"pairs"`
	// Cost is that the ingredients cost more; less where it is below 0; nil where nobody knows what one of them costs.
	Cost  *price.Money  `json:"cost,omitempty"`
	Keeps int           `json:"keeps"`
	Text  reason.Reason `json:"text"`
}

// SwapPair is an ingredient that is in the way, and what takes its place.
type SwapPair struct {
	Out ident.Ingredient `json:"out"`
	In  ident.Ingredient `json:"in"`
}

// CheckAsked finds allergens and wishes that nobody knows.
func CheckAsked(faults *invalid.Faults, freeFrom []string, wishes []food.Diet) {
	checkAsked(faults, "", freeFrom, wishes)
}

// checkAsked finds allergens and wishes that nobody knows, below a path.
func checkAsked(faults *invalid.Faults, path string, freeFrom []string, wishes []food.Diet) {
	for i, a := range freeFrom {
		if !slices.Contains(food.AllergenNames(), a) {
			faults.Add(fmt.Sprintf("%sfreeFrom[%d]", path, i), reason.Of("order.not-allergen-we-know-choose",
				reason.Name(a), reason.Series(reason.Names(food.AllergenNames()))))
		}
	}
	for i, w := range wishes {
		if !slices.Contains(food.Wishes(), w) {
			faults.Add(fmt.Sprintf("%swishes[%d]", path, i), reason.Of("order.not-wish-we-know", reason.Name(w),
				reason.Series(reason.Words(food.Wishes()))))
		}
	}
}

// inTheWay are the ingredients of a card that do not suit the wishes of an order, or that it must be free from.
func (d *Draft) inTheWay(card *batch.Card, k *Inputs) []ident.Ingredient {
	var list []ident.Ingredient
	for _, n := range card.Needs {
		of := k.Ingredients[n.Ingredient]
		if n.Goes() && !d.suits(&of) {
			list = append(list, n.Ingredient)
		}
	}
	return list
}

// suits tells whether an ingredient may be in what an order asks for.
func (d *Draft) suits(of *food.Ingredient) bool {
	return !slices.ContainsFunc(d.Wishes, func(w food.Diet) bool { return !of.Suits(w) }) &&
		!slices.ContainsFunc(of.Allergens, func(a string) bool {
			return slices.ContainsFunc(d.FreeFrom, func(w string) bool { return food.ViolatesFreeFrom(a, w) })
		})
}

// wished are the cautions where a line does not suit a wish, each with what is in the way.
func (r *Estimate) wished(d *Draft, k *Inputs) []Caution {
	var list []Caution
	for i, l := range r.Lines {
		for _, wish := range d.of(i).Wishes {
			var from []string
			for _, n := range l.Card.Needs {
				if of := k.Ingredients[n.Ingredient]; n.Goes() && !of.Suits(wish) {
					from = append(from, n.Name)
				}
			}
			if len(from) > 0 {
				list = append(list, Caution{true, reason.Of("order.does-not-suit", reason.Name(l.Name), reason.Word(wish),
					reason.Names(from))})
				continue
			}
			// What is in the bowl beside it is told: whether it is in the way is the customer's to say.
			if touched := slices.DeleteFunc(slices.Clone(l.Traces), func(a string) bool {
				return !wish.Touched(a)
			}); len(touched) > 0 {
				list = append(list, Caution{false, reason.Of("order.is-touched", reason.Name(l.Name), reason.Word(wish),
					reason.Series(reason.Words(touched)))})
			}
		}
	}
	if _, wishes := d.asked(); slices.Contains(wishes, food.HalalFriendly) {
		list = append(list, Caution{false, reason.Of("order.halal-friendly-says")})
	}
	return list
}

// MostTried swaps of a line: each is a whole card.
const MostTried = 12

// Swaps that were tried for the lines that do not suit the wishes: as alike as the larder has them, all that is in the
// way at once, the likeliest first. Where nothing of the larder fits, common ingredients are tried that are not in it.
func Swaps(d *Draft, k *Inputs, common map[ident.Ingredient]food.Ingredient) ([]Swap, error) {
	var faults invalid.Faults
	faults.Under("", d.CheckLines(k.Treats))
	if err := faults.Err(); err != nil {
		return nil, err
	}
	list := []Swap{}
	for i, l := range d.Lines {
		formula, err := k.formula(l)
		if err != nil {
			continue
		}
		own := k.With(k.Treats[l.Treat].Mixes)
		card, err := batch.Compute(formula, l.Count, own)
		if err != nil {
			continue
		}
		asks := d.of(i)
		if out := asks.inTheWay(card, k); len(out) > 0 {
			found := asks.tried(i, formula, card, out, k, own)
			if len(found) == 0 && len(common) > 0 {
				wide, shop := *k, *own
				wide.Ingredients = maps.Clone(k.Ingredients)
				for id, of := range common {
					if _, there := wide.Ingredients[id]; !there {
						wide.Ingredients[id] = of
					}
				}
				shop.Ingredients = wide.Ingredients
				found = asks.tried(i, formula, card, out, &wide, &shop)
			}
			list = append(list, found...)
		}
	}
	return list, nil
}

// tried swaps of a line: the candidates of each ingredient in the way, from the most alike on.
func (d *Draft) tried(line int, f *treat.Formula, card *batch.Card, out []ident.Ingredient, k *Inputs,
	own *treat.Inputs) []Swap {
	options := make([][]ident.Ingredient, len(out))
	for i, id := range out {
		if options[i] = d.alike(id, k); len(options[i]) == 0 {
			return nil
		}
	}
	var list []Swap
	for n := range MostTried {
		pairs := make([]SwapPair, len(out))
		ids, beyond := map[string]string{}, true
		for i, id := range out {
			at := min(n, len(options[i])-1)
			beyond = beyond && n >= len(options[i])
			pairs[i] = SwapPair{id, options[i][at]}
			ids[string(id)] = string(options[i][at])
		}
		if beyond || len(list) == 3 {
			break
		}
		if s, ok := d.try(line, f, card, pairs, ids, k, own); ok {
			list = append(list, s)
		}
	}
	return list
}

// try a formula with other ingredients: it must pass its check, and all of it must suit.
func (d *Draft) try(line int, f *treat.Formula, card *batch.Card, pairs []SwapPair, ids map[string]string, k *Inputs,
	own *treat.Inputs) (Swap, bool) {
	file := treat.File{Formula: f, Mixes: slices.Collect(maps.Values(own.Mixes))}.Renamed(ids)
	mixes := make(map[ident.Ingredient]treat.Mix, len(file.Mixes))
	for _, m := range file.Mixes {
		mixes[m.ID] = m
	}
	with := own.With(mixes)
	if family.Check(file.Formula, with, k.Packaging()) != nil {
		return Swap{}, false
	}
	other, err := batch.Compute(file.Formula, card.Good, with)
	if err != nil || len(d.inTheWay(other, k)) > 0 {
		return Swap{}, false
	}
	cost := func(c *batch.Card) (all decimal.Decimal) {
		for _, n := range c.Needs {
			all = all.Add(n.Cost)
		}
		return all
	}
	s := Swap{Line: line, Pairs: pairs, Keeps: other.Keeps}
	var names reason.Series
	for _, p := range pairs {
		names = append(names, reason.Of("order.in-place-of", reason.Name(k.Name(p.In)), reason.Name(k.Name(p.Out))))
	}
	name, keeps := reason.Name(k.Treats[d.Lines[line].Treat].Name), reason.Hours(other.Keeps)
	unpriced := slices.ContainsFunc(pairs, func(p SwapPair) bool { return k.Ingredients[p.In].Price.IsZero() })
	more := cost(other).Sub(cost(card))
	if !unpriced {
		s.Cost = new(price.In(k.Rates.Currency, more))
	}
	switch {
	case unpriced:
		s.Text = reason.Of("order.swap-of-unknown-cost", names, name, keeps)
	case more.IsNegative():
		s.Text = reason.Of("order.swap-costs-less", names, name, price.In(k.Rates.Currency, more.Neg()).Value(), keeps)
	default:
		s.Text = reason.Of("order.swap-costs-more", names, name, price.In(k.Rates.Currency, more).Value(), keeps)
	}
	return s, true
}

// alike are the ingredients of the larder that suit and can stand in for another: chocolate for chocolate of its kind,
// a liquid for a spirit, else what is of the same kind; of the same colour and the likest name first.
func (d *Draft) alike(id ident.Ingredient, k *Inputs) []ident.Ingredient {
	of := k.Ingredients[id]
	names := map[string]string{}
	for other, i := range k.Ingredients {
		if other == id || !d.suits(&i) || i.Unit != of.Unit {
			continue
		}
		same := i.Kind == of.Kind
		if of.Kind == food.KindAlcohol || of.Kind == food.KindFlavour && of.HasAlcohol() {
			same = i.Chocolate == nil && i.Substance.Density > 0.9 && i.Substance.Density < 1.2 && i.Kind != food.KindFat
		}
		if of.Chocolate != nil {
			same = i.Chocolate != nil && i.Chocolate.Kind == of.Chocolate.Kind
		}
		if same {
			names[string(other)] = i.Name
		}
	}
	score := map[string]float64{}
	for _, s := range food.Suggest(of.Name, names, nil) {
		score[s.ID] = s.Score
	}
	list := slices.Collect(maps.Keys(names))
	slices.SortFunc(list, func(a, b string) int {
		colour := func(id string) int {
			if c := k.Ingredients[ident.Ingredient(id)].Chocolate; c != nil && c.Colour == of.Chocolate.Colour {
				return 0
			}
			return 1
		}
		return cmp.Or(cmp.Compare(colour(a), colour(b)), cmp.Compare(score[b], score[a]), cmp.Compare(names[a], names[b]))
	})
	ids := make([]ident.Ingredient, len(list))
	for i, other := range list {
		ids[i] = ident.Ingredient(other)
	}
	return ids
}
