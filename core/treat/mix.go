package treat

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Mix is a sub-recipe that treats and other mixes use: a ganache, a crumb or nut-butter centre, cooked fudge, rolling
// sugar. It yields the sum of its parts less its loss.
type Mix struct {
	ID      ident.Ingredient `json:"id"`
	Name    string           `json:"name"`
	Parts   []MixPart        `json:"parts"`
	Loss    float64          `json:"loss"`
	Density *float64         `json:"density,omitempty"`
	Method  string           `json:"method,omitempty"`
	Keeps   *int             `json:"keeps,omitempty"`
	Spot    ident.Spot       `json:"place,omitempty"`
}

// MixPart is an ingredient or another mix, and how much of it.
type MixPart struct {
	Of     ident.Ingredient `json:"of"`
	Amount measure.Quantity `json:"amount"`
	Melted bool             `json:"melted,omitempty"` // chocolate that is melted before it goes in
}

func (m *Mix) substance() measure.Substance {
	if m.Density == nil {
		return measure.Substance{}
	}
	return measure.Substance{Density: *m.Density}
}

// Check finds the faults of a mix among the ingredients and the other mixes of the kitchen. The error is an
// *invalid.Error.
func (m *Mix) Check(k *Inputs) error {
	var f invalid.Faults
	if strings.TrimSpace(m.Name) == "" || len([]rune(m.Name)) > 100 {
		f.Add("name", reason.Of("treat.give-mix-name-at-most"))
	}
	if !(m.Loss >= 0 && m.Loss < 0.95) {
		f.Add("loss", reason.Of("treat.mix-must-yield-something-loss"))
	}
	if m.Density != nil && !(*m.Density > 0 && *m.Density < 25) {
		f.Add("density", reason.Of("treat.density-more-than-and-less"))
	}
	if len([]rune(m.Method)) > 5000 {
		f.Add("method", reason.Of("treat.method-holds-at-most-letters"))
	}
	if m.Keeps != nil && (*m.Keeps < 1 || *m.Keeps > 24*365) {
		f.Add("keeps", reason.Of("treat.mix-keeps-at-least-hour"))
	}
	if _, there := k.Spot(m.Spot); m.Spot != "" && !there {
		f.Add("place", reason.Of("treat.mix-kept-in-no-such-spot", reason.Name(m.Spot)))
	}
	if len(m.Parts) == 0 {
		f.Add("parts", reason.Of("treat.mix-nothing-yields-nothing-add"))
	}
	if len(m.Parts) > 100 {
		f.Add("parts", reason.Of("treat.mix-has-at-most-parts"))
	}
	own := *k
	own.Mixes = make(map[ident.Ingredient]Mix, len(k.Mixes)+1)
	for id, other := range k.Mixes {
		own.Mixes[id] = other
	}
	if m.ID != "" {
		own.Mixes[m.ID] = *m
	}
	for i, p := range m.Parts {
		path := fmt.Sprintf("parts[%d]", i)
		part, ok := own.Item(p.Of)
		if !ok {
			f.Add(path+".of", reason.Of("treat.this-not-in-larder-nor"))
			continue
		}
		if p.Melted && (part.Food == nil || part.Food.Chocolate == nil) {
			f.Add(path+".melted", reason.Of("treat.only-chocolate-is-melted", reason.Name(part.Name)))
		}
		if chain := own.cycle(m.ID, p.Of); chain != nil {
			f.Add(path+".of", reason.Of("treat.mix-cannot-be-made-itself", reason.Chain(reason.Names(chain))))
			continue
		}
		base, err := part.Base(p.Amount)
		if err == nil {
			if _, weighed := part.Grams(base); !weighed {
				err = &measure.MissingProperty{From: measure.Count, To: measure.Mass, Property: measure.WeightPerPiece}
			}
		}
		if err != nil {
			f.Because(path+".amount", "treat.part-amount", reason.Name(part.Name), reason.Because(err))
		}
	}
	return f.Err()
}

// cycle is the chain of names from the mix with the id back to it through part, or nil.
func (k *Inputs) cycle(id, part ident.Ingredient) []string {
	if id == "" {
		return nil
	}
	var walk func(at ident.Ingredient, chain []string, seen []ident.Ingredient) []string
	walk = func(at ident.Ingredient, chain []string, seen []ident.Ingredient) []string {
		chain = append(chain, k.Name(at))
		if at == id {
			return chain
		}
		if slices.Contains(seen, at) {
			return nil
		}
		for _, p := range k.Mixes[at].Parts {
			if found := walk(p.Of, slices.Clone(chain), append(seen, at)); found != nil {
				return found
			}
		}
		return nil
	}
	return walk(part, []string{k.Name(id)}, nil)
}

// Weighed is a mix with what its parts weigh.
type Weighed struct {
	In    si.Grams   `json:"in"`
	Yield si.Grams   `json:"yield"`
	Parts []si.Grams `json:"parts"`
}

// Weigh the mix as it is written. It has passed Check.
func (m *Mix) Weigh(k *Inputs) Weighed {
	w := Weighed{Parts: make([]si.Grams, len(m.Parts))}
	for i, p := range m.Parts {
		part, _ := k.Item(p.Of)
		base, _ := part.Base(p.Amount)
		w.Parts[i], _ = part.Grams(base)
		w.In += w.Parts[i]
	}
	w.Yield = w.In.Times(1 - m.Loss)
	return w
}

// LossOf is the share that was lost where so many grams came out; 0 where it is more than went in.
func (w Weighed) LossOf(out si.Grams) float64 {
	if !(w.In > 0) {
		return 0
	}
	return min(max(1-out.Over(w.In), 0), 1)
}

// PerGram is what is in one gram of a mix, down to its ingredients, each in the unit that it is kept in. What boils off
// or stays in the pot is in it too.
func (k *Inputs) PerGram(mix ident.Ingredient) map[ident.Ingredient]float64 {
	return k.perGram(mix, func(Item) float64 { return 1 })
}

// TakesPerGram is what making one gram of a mix takes of the larder: PerGram, and of each ingredient as much more as is
// not fit to use.
func (k *Inputs) TakesPerGram(mix ident.Ingredient) map[ident.Ingredient]float64 {
	return k.perGram(mix, func(of Item) float64 { return of.Fit })
}

func (k *Inputs) perGram(mix ident.Ingredient, fit func(Item) float64) map[ident.Ingredient]float64 {
	of := map[ident.Ingredient]float64{}
	var add func(id ident.Ingredient, base float64)
	add = func(id ident.Ingredient, base float64) {
		m, ok := k.Mixes[id]
		if !ok {
			known, _ := k.Item(id)
			of[id] += base / cmp.Or(fit(known), 1) // of what is gone nothing is known
			return
		}
		w := m.Weigh(k)
		for _, p := range m.Parts {
			known, _ := k.Item(p.Of)
			if part, err := known.Base(p.Amount); err == nil && w.Yield > 0 {
				add(p.Of, part*base/float64(w.Yield))
			}
		}
	}
	add(mix, 1)
	return of
}

// SameMix tells whether two mixes, told by what is in a gram of them, are made of the same.
func SameMix(a, b map[ident.Ingredient]float64) bool {
	return maps.EqualFunc(a, b, func(x, y float64) bool { return math.Abs(x-y) < 1e-6 })
}

// Uses lists the ids of all ingredients and mixes that go into the item with the id, itself included, each once.
func (k *Inputs) Uses(id ident.Ingredient) []ident.Ingredient {
	list := []ident.Ingredient{}
	var walk func(ident.Ingredient)
	walk = func(at ident.Ingredient) {
		if slices.Contains(list, at) {
			return
		}
		list = append(list, at)
		for _, p := range k.Mixes[at].Parts {
			walk(p.Of)
		}
	}
	walk(id)
	return list
}

// UseKinds are what something can go into.
func UseKinds() []string { return []string{"treat", "mix"} }

// Use is a treat or a mix that something goes into.
type Use struct {
	Kind string `json:"kind"`
	ID   string `json:"id"`
	Name string `json:"name"`
}

// MixesWith are the mixes that the item with the id goes into directly, by name.
func (k *Inputs) MixesWith(id ident.Ingredient) []Use {
	uses := []Use{}
	for _, m := range k.Mixes {
		if slices.ContainsFunc(m.Parts, func(p MixPart) bool { return p.Of == id }) {
			uses = append(uses, Use{"mix", string(m.ID), m.Name})
		}
	}
	slices.SortFunc(uses, func(a, b Use) int { return strings.Compare(a.Name, b.Name) })
	return uses
}

// MixesOf are the mixes that a formula needs, with those that they are made of, by id: what a version of it keeps.
func (k *Inputs) MixesOf(f *Formula) map[ident.Ingredient]Mix {
	kept := map[ident.Ingredient]Mix{}
	for _, id := range f.Items() {
		for _, used := range k.Uses(id) {
			if m, ok := k.Mixes[used]; ok {
				kept[used] = m
			}
		}
	}
	return kept
}
