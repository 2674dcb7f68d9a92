package batch

import (
	"slices"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Mixed is a mix, how much of it to make for the batch, and how much was made ahead and is taken out of the larder.
type Mixed struct {
	Mix   ident.Ingredient `json:"mix"`
	Name  string           `json:"name"`
	Make  measure.Shown    `json:"make"`
	Ahead *measure.Shown   `json:"ahead,omitempty"`
	Until string           `json:"until,omitempty"` // the last day on which all that is taken is good
	Parts []MixedPart      `json:"parts"`
	Why   Why              `json:"why"`
}

// OfLarder is g of it that the batch takes out of the larder.
func (m *Mixed) OfLarder() si.Grams {
	if m.Ahead == nil {
		return 0
	}
	return si.Grams(m.Ahead.Amount) // a mix is kept in grams
}

// MixedPart is what goes into a mix for the batch.
type MixedPart struct {
	Of     ident.Ingredient `json:"of"`
	Name   string           `json:"name"`
	Amount measure.Shown    `json:"amount"`
}

// take what goes into the treat, and what lies there beside it: of an ingredient as much more as is not fit to use, of a
// mix all that goes into it.
func (n *needs) take(of treat.Item, a amounts, why Why) {
	weigh := func(base float64) si.Grams {
		weight, _ := of.Grams(base)
		return weight
	}
	fresh := 1 - a.ahead
	if of.Mix == nil {
		bought := a.goes/of.Fit + a.lost
		n.unfit += weigh(bought - a.goes).Times(fresh)
		n.back += weigh(a.back)
		fit := 0.0
		if bought > 0 {
			fit = a.goes / bought
		}
		at := n.need(of, bought, (bought+a.back)*fresh, fit, why)
		n.needs[at].Ahead += bought * a.ahead
		return
	}
	w := of.Mix.Weigh(n.k)
	all := a.goes + a.back + a.lost
	m := n.mixed(of)
	m.Why = append(m.Why, why...)
	if here := min(si.Grams(all*fresh), n.ahead[of.ID]); here > 0 {
		n.ahead[of.ID] -= here
		a.ahead += float64(here) / all
		fresh = 1 - a.ahead
		m.Ahead, m.Until = new(measure.Show(measure.Grams(m.OfLarder()+here), of.Substance)), n.k.Ahead[of.ID].Until
		m.Why.Add("batch.of-it-made-ahead", measure.Show(measure.Grams(here), of.Substance))
	}
	// What boils off of what comes back is lost all the same. Of what was made ahead it is gone.
	boiled := w.In.Times(1/float64(w.Yield)) - 1
	n.loose += boiled.Times((a.goes + a.back) * fresh)
	n.back -= boiled.Times(a.back)
	m.Make = measure.Show(measure.Grams(si.Grams(m.Make.Amount+all*fresh)), of.Substance)
	for i, p := range of.Mix.Parts {
		part := n.item(p.Of)
		base, _ := part.Base(p.Amount)
		m.Parts[i].Amount = part.Show(m.Parts[i].Amount.Amount + base*all*fresh/float64(w.Yield))
	}
	for _, p := range of.Mix.Parts {
		part := n.item(p.Of)
		base, _ := part.Base(p.Amount)
		base /= float64(w.Yield)
		n.take(part, a.times(base), because("batch.for", part.Show(base*all), reason.Name(of.Name)))
	}
}

// mixed is the entry of a mix, made when it is first needed. The pointer is good until the next call.
func (n *needs) mixed(of treat.Item) *Mixed {
	for i := range n.mixes {
		if n.mixes[i].Mix == of.ID {
			return &n.mixes[i]
		}
	}
	m := Mixed{Mix: of.ID, Name: of.Name, Parts: make([]MixedPart, len(of.Mix.Parts))}
	for i, p := range of.Mix.Parts {
		part := n.item(p.Of)
		m.Parts[i] = MixedPart{Of: p.Of, Name: part.Name, Amount: part.Show(0)}
	}
	n.mixes = append(n.mixes, m)
	return &n.mixes[len(n.mixes)-1]
}

// order the mixes so that each comes behind all that it is made of.
func (n *needs) order() {
	ordered := make([]Mixed, 0, len(n.mixes))
	var place func(id ident.Ingredient)
	place = func(id ident.Ingredient) {
		at := slices.IndexFunc(n.mixes, func(m Mixed) bool { return m.Mix == id })
		if at < 0 || slices.ContainsFunc(ordered, func(m Mixed) bool { return m.Mix == id }) {
			return
		}
		for _, p := range n.mixes[at].Parts {
			place(p.Of)
		}
		ordered = append(ordered, n.mixes[at])
	}
	for _, m := range n.mixes {
		place(m.Mix)
	}
	n.mixes = ordered
}
