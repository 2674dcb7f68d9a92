package treat

import (
	"slices"
	"zestytin/core/ident"
)

// Designs of the formula: its finishes, or the one that it is without them.
func (f *Formula) Designs() []Design {
	if len(f.Finishes) == 0 {
		return []Design{{Parts: 1}}
	}
	return f.Finishes
}

// Supplies that it uses: packaging, and moulds that are used up.
func (f *Formula) Supplies() []ident.Supply {
	var list []ident.Supply
	for _, p := range f.Packs {
		list = Union(list, []ident.Supply{p.Supply})
	}
	if m := f.Mould; m != nil && m.Once != "" {
		list = Union(list, []ident.Supply{m.Once})
	}
	if s := f.Shell; s != nil && s.Once != "" {
		list = Union(list, []ident.Supply{s.Once})
	}
	return list
}

// CentreOf a design: its own, or that of all; nil where it has none.
func (f *Formula) CentreOf(d *Design) *Centre {
	if d != nil && d.Centre != nil {
		return d.Centre
	}
	return f.Centre
}

// Centres of all designs, each ingredient or mix once.
func (f *Formula) Centres() []ident.Ingredient {
	var list []ident.Ingredient
	for _, d := range f.Designs() {
		if c := f.CentreOf(&d); c != nil {
			list = Union(list, []ident.Ingredient{c.Of})
		}
	}
	return list
}

// CoatingsOf a design that have the role, in the order in which they are laid: its own, or where it has none those of
// all.
func (f *Formula) CoatingsOf(d *Design, role Role) []ChocolateLayer {
	for _, list := range [][]ChocolateLayer{d.Coatings, f.Coatings} {
		var such []ChocolateLayer
		for _, c := range list {
			if c.Role == role {
				such = append(such, c)
			}
		}
		if len(such) > 0 {
			return such
		}
	}
	return nil
}

// Coating of a design that has the role: the first, where there are several.
func (f *Formula) Coating(d *Design, role Role) (ChocolateLayer, bool) {
	if such := f.CoatingsOf(d, role); len(such) > 0 {
		return such[0], true
	}
	return ChocolateLayer{}, false
}

// Has tells whether any design has a chocolate of the role.
func (f *Formula) Has(role Role) bool {
	for _, d := range f.Designs() {
		if _, ok := f.Coating(&d, role); ok {
			return true
		}
	}
	return false
}

// AllPortions of the treat and of its designs, one after the other.
func (f *Formula) AllPortions() []Addition {
	list := slices.Clone(f.Portions)
	for _, d := range f.Finishes {
		list = append(list, d.Portions...)
	}
	return list
}

// Items are the ids of all ingredients and mixes that the formula names itself: what goes in, and what that is washed
// in.
func (f *Formula) Items() []ident.Ingredient {
	list := f.Goes()
	for _, s := range f.Steps {
		for _, p := range s.Prepare {
			if p.Of != "" {
				list = Union(list, []ident.Ingredient{p.Of})
			}
			for _, b := range p.Bath {
				list = Union(list, []ident.Ingredient{b.Of})
			}
		}
	}
	return list
}

// Goes are the ids of all ingredients and mixes that go into the treat.
func (f *Formula) Goes() []ident.Ingredient {
	list := []ident.Ingredient{}
	coatings := func(of []ChocolateLayer) {
		for _, c := range of {
			list = Union(list, []ident.Ingredient{c.Ingredient})
			for _, s := range c.Stirs() {
				if s != nil {
					list = Union(list, []ident.Ingredient{s.Ingredient})
				}
			}
		}
	}
	portions := func(of []Addition) {
		for _, p := range of {
			list = Union(list, []ident.Ingredient{p.Ingredient})
		}
	}
	if f.Centre != nil {
		list = Union(list, []ident.Ingredient{f.Centre.Of})
	}
	coatings(f.Coatings)
	portions(f.Portions)
	for _, d := range f.Finishes {
		if d.Centre != nil {
			list = Union(list, []ident.Ingredient{d.Centre.Of})
		}
		coatings(d.Coatings)
		portions(d.Portions)
	}
	return list
}

// Union is a list with what it does not have yet of another.
func Union[T comparable](list, more []T) []T {
	for _, a := range more {
		if !slices.Contains(list, a) {
			list = append(list, a)
		}
	}
	return list
}
