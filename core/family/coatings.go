package family

import (
	"fmt"
	"math"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

func (c *Checking) coatings(path string, list []treat.ChocolateLayer, allowed []treat.Role) {
	alike, shares := map[treat.Role]int{}, map[treat.Role]float64{}
	for _, coating := range list {
		alike[coating.Role]++
		shares[coating.Role] += coating.Share
	}
	seen := map[treat.Role]bool{}
	for i, coating := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		marbled := coating.Role == treat.RoleShell && alike[coating.Role] > 1
		switch {
		case !slices.Contains(allowed, coating.Role):
			c.Add(path+".role", reason.Of("family.has-no-chocolate-here", reason.Name(c.F.Family),
				reason.Name(coating.Role)))
		case seen[coating.Role] && !marbled && coating.Role != treat.RoleDrizzle:
			c.Add(path+".role", reason.Of("family.there-chocolate-already-keep-one", reason.Name(coating.Role)))
		case marbled && (alike[coating.Role] > 3 || !(coating.Share > 0 && coating.Share < 1)):
			c.Add(path+".share", reason.Of("family.marbled-of-two-or-three"))
		case marbled && !seen[coating.Role] && math.Abs(shares[coating.Role]-1) > 0.005:
			c.Add(path+".share", reason.Of("family.marbled-shares-make-all", reason.Share(shares[coating.Role])))
		}
		seen[coating.Role] = true
		known, ok := c.K.Ingredients[coating.Ingredient]
		switch {
		case !ok:
			c.Add(path+".ingredient", reason.Of("family.this-chocolate-not-in-larder"))
		case known.Chocolate == nil:
			c.Add(path+".ingredient", reason.Of("family.not-chocolate-choose-one-or", reason.Name(known.Name)))
		case coating.Method != "" && !coating.Method.Fits(known.Chocolate.Kind):
			c.Add(path+".method", reason.Of("family.chocolate-which-not-brought-to", reason.Name(known.Name),
				reason.Name(known.Chocolate.Kind), reason.Name(coating.Method)))
		}
		c.coatingAmount(path, coating, marbled)
		if d, ok := coating.Pool.Unit.Dimension(); !ok {
			c.Add(path+".pool", &measure.UnknownUnit{Unit: coating.Pool.Unit})
		} else if d != measure.Mass || !(coating.Pool.Amount >= 0) || coating.Pool.Amount > 1e6 {
			c.Add(path+".pool", reason.Of("family.working-pool-mass-or-more"))
		}
		c.stirred(path, coating)
	}
}

// stirred into a chocolate: by weight of it, in amounts that can be weighed, and nothing with water in it where it is
// tempered.
func (c *Checking) stirred(path string, coating treat.ChocolateLayer) {
	if coating.Source != "" && !slices.Contains(chocolate.Sources(), coating.Source) {
		c.Add(path+".source", reason.Of("family.melts-nothing-choose-one", reason.Name(coating.Source),
			oneOf(chocolate.Sources())))
	}
	if coating.Minutes != nil && (*coating.Minutes < 1 || *coating.Minutes > 480) {
		c.Add(path+".minutes", reason.Of("family.melting-takes-between-minute-and"))
	}
	main := c.K.Ingredients[coating.Ingredient].Chocolate
	mosts := [3]float64{0.2, 0.2, 0.5}
	for i, of := range coating.Stirs() {
		if of == nil {
			continue
		}
		path, most := path+"."+treat.Stirrings[i], mosts[i]
		known, ok := c.K.Item(of.Ingredient)
		if !ok || known.Food == nil {
			c.Add(path+".ingredient", reason.Of("family.this-not-in-larder-choose"))
			continue
		}
		if known.Food.Watery() && main != nil && main.Kind == chocolate.Real {
			c.Add(path+".ingredient", reason.Of("family.has-water-in-and-seizes", reason.Name(known.Name)))
		}
		if err := of.To.Check(measure.Mass); err != nil {
			c.Under(path+".to", err)
			continue
		}
		share, err := Share(*of, known)
		if t := coating.Tint; i == 0 {
			if t.Colour != "" && !food.IsTint(t.Colour) {
				c.Add(path+".colour", reason.Of("food.no-tint-write-as-rrggbb", reason.Name(t.Colour)))
			}
			if t.More != nil {
				if _, err := known.Base(*t.More); err != nil {
					c.Because(path+".more", "family.of-it", reason.Name(known.Name), reason.Because(err))
				}
			}
			share *= 1 + Later(*t, known)
		}
		if err != nil {
			c.Because(path+".amount", "family.of-it", reason.Name(known.Name), reason.Because(err))
		} else if share > most {
			c.Add(path+".amount", reason.Of("family.more-than-what-stirred-into", reason.Share(most)))
		}
	}
}

// Share is how many g of what is stirred in go to a g of chocolate. The error is a plain sentence.
func Share(s treat.Stirred, of treat.Item) (float64, error) {
	base, err := of.Base(s.Amount)
	if err != nil {
		return 0, err
	}
	grams, ok := of.Grams(base)
	if !ok {
		return 0, &measure.MissingProperty{From: measure.Count, To: measure.Mass, Property: measure.WeightPerPiece}
	}
	return grams.Over(treat.Grams(&s.To)), nil
}

// Later is how much of a tint waits until the colour has been judged, as a share of what is stirred in before.
func Later(t treat.Tint, of treat.Item) float64 {
	if t.More == nil {
		return 0
	}
	first, _ := of.Base(t.Amount)
	more, err := of.Base(*t.More)
	if err != nil || first == 0 {
		return 0
	}
	return more / first
}

func (c *Checking) coatingAmount(path string, coating treat.ChocolateLayer, marbled bool) {
	if coating.Role == treat.RoleLayer {
		if !(coating.Share > 0 && coating.Share < 1) {
			c.Add(path+".share", reason.Of("family.second-chocolate-share-sheet-between"))
		}
	} else if coating.Share != 0 && !marbled {
		c.Add(path+".share", reason.Of("family.only-second-chocolate-bark-has"))
	}
	byPiece := coating.Role.ByPiece()
	switch {
	case !byPiece && (coating.Each != nil || coating.Thick != nil):
		c.Add(path+".each", reason.Of("family.this-mass-follows-from-sizes"))
	case coating.Thick != nil && !(c.law.Traits().Thick && coating.Role == treat.RoleCoat):
		c.Add(path+".thick", reason.Of("family.only-coat-truffle-can-be"))
	case byPiece && (coating.Each == nil) == (coating.Thick == nil):
		c.Add(path+".each", reason.Of("family.say-how-much-goes-on"))
	case coating.Thick != nil:
		c.length(path+".thick", coating.Thick, 20)
	case byPiece:
		c.Under(path+".each", coating.Each.Check(measure.Mass))
	}
}
