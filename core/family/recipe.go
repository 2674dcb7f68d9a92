package family

import (
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Recipe is what a recipe would say of a formula: the other way round.
func Recipe(f *treat.Formula, k *treat.Inputs) []reason.Reason {
	list := []reason.Reason{}
	law, first := LawOf(f), &f.Designs()[0]
	for _, as := range SaidAs(f, k) {
		switch as {
		case AsMakes:
			of, _ := k.Item(f.Centre.Of)
			yields := of.Mix.Weigh(k).Yield
			list = append(list, reason.Of("family.says-makes", reason.Name(of.Name), measure.ShowGrams(yields),
				reason.Int(int(yields.Over(law.Centre(f, k, first))))))
		case AsCovers:
			c, _ := f.Coating(first, treat.RoleCoat)
			each := law.Coat(f, k, first, c).Stays
			list = append(list, reason.Of("family.says-covers", measure.ShowGrams(each.Times(12))))
		case AsFills:
			var shell, cap si.Grams
			for _, c := range f.CoatingsOf(first, treat.RoleShell) {
				shell = law.Coat(f, k, first, c).Stays
			}
			if c, ok := f.Coating(first, treat.RoleCap); ok {
				cap = law.Coat(f, k, first, c).Stays
			}
			n := law.Lay(f).Moulds
			count := n.Cavities / n.Each
			list = append(list, reason.Of("family.says-fills", measure.ShowGrams((shell+cap).Times(float64(count))),
				reason.Int(count)))
		case AsSpread:
			var all si.Grams
			if f.Centre != nil {
				all = law.Centre(f, k, first)
			}
			for _, c := range f.Coatings {
				if c.Role == treat.RoleBase || c.Role == treat.RoleLayer {
					all += law.Coat(f, k, nil, c).Stays
				}
			}
			list = append(list, reason.Of("family.says-spread", measure.ShowGrams(all)))
		case AsInside:
			id, each := ident.Ingredient(""), si.Grams(0)
			if f.Mould != nil {
				id, each = f.Centre.Of, law.Centre(f, k, first)
			} else {
				p := f.Portions[firstInside(f)]
				of, _ := k.Item(p.Ingredient)
				base, _ := of.Base(p.Each)
				id = p.Ingredient
				each, _ = of.Grams(base)
			}
			of, _ := k.Item(id)
			if of.Mix == nil || each <= 0 {
				continue
			}
			yields := of.Mix.Weigh(k).Yield
			list = append(list, reason.Of("family.says-inside", reason.Name(of.Name), measure.ShowGrams(yields),
				reason.Int(int(yields.Over(each)))))
		case AsCocoa:
			if of, _ := mainChocolate(f, k); cocoa(of) > 0 {
				list = append(list, reason.Of("family.says-cocoa", reason.Name(of.Name), reason.Int(cocoa(of))))
			}
		}
	}
	return list
}
