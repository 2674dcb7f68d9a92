package family

import (
	"fmt"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

func (c *Checking) coatings(path string, list []treat.Coating, allowed []treat.Role) {
	seen := map[treat.Role]bool{}
	for i, coating := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		switch {
		case !slices.Contains(allowed, coating.Role):
			c.Add(path+".role", fmt.Sprintf("A %s has no %q chocolate here.", c.F.Family, coating.Role))
		case seen[coating.Role]:
			c.Add(path+".role", fmt.Sprintf("There is a %q chocolate already: keep one.", coating.Role))
		}
		seen[coating.Role] = true
		known, ok := c.K.Ingredients[coating.Ingredient]
		switch {
		case !ok:
			c.Add(path+".ingredient", "This chocolate is not in the larder: choose one that is, or add it there first.")
		case known.Chocolate == nil:
			c.Add(path+".ingredient", known.Name+" is not a chocolate: choose one, or say in the larder what kind it is.")
		case coating.Method != "" && !coating.Method.Fits(known.Chocolate.Kind):
			c.Add(path+".method", fmt.Sprintf("%s is %s chocolate, which is not brought to work by %q: choose one of the methods offered.", known.Name, known.Chocolate.Kind, coating.Method))
		}
		c.coatingAmount(path, coating)
		if d, ok := coating.Pool.Unit.Dimension(); !ok {
			c.Add(path+".pool", (&measure.UnknownUnit{Unit: coating.Pool.Unit}).Error())
		} else if d != measure.Mass || !(coating.Pool.Amount >= 0) || coating.Pool.Amount > 1e6 {
			c.Add(path+".pool", "The working pool is a mass of 0 or more, such as 250 g.")
		}
		c.stirred(path, coating)
	}
}

// stirred into a chocolate: by weight of it, in amounts that can be weighed, and nothing with water in it where it is tempered.
func (c *Checking) stirred(path string, coating treat.Coating) {
	if coating.Source != "" && !slices.Contains(chocolate.Sources(), coating.Source) {
		c.Add(path+".source", fmt.Sprintf("%q melts nothing: choose one of %s.", coating.Source, words(chocolate.Sources())))
	}
	if coating.Minutes != nil && (*coating.Minutes < 1 || *coating.Minutes > 480) {
		c.Add(path+".minutes", "Melting takes between 1 minute and 8 hours of hands.")
	}
	main := c.K.Ingredients[coating.Ingredient].Chocolate
	for _, s := range []struct {
		name string
		of   *treat.Stirred
		most float64
	}{{"tint", coating.Tint, 0.2}, {"flavour", coating.Flavour, 0.2}, {"thinner", coating.Thinner, 0.5}} {
		if s.of == nil {
			continue
		}
		path := path + "." + s.name
		known, ok := c.K.Item(s.of.Ingredient)
		if !ok || known.Food == nil {
			c.Add(path+".ingredient", "This is not in the larder: choose an ingredient that is, or add it there first.")
			continue
		}
		if known.Food.Watery() && main != nil && main.Kind == chocolate.Real {
			c.Add(path+".ingredient", known.Name+" has water in it and seizes chocolate that is tempered: take one that is made with oil.")
		}
		if err := s.of.To.Check(measure.Mass); err != nil {
			c.Under(path+".to", err)
			continue
		}
		share, err := Share(*s.of, known)
		if err != nil {
			c.Add(path+".amount", known.Name+": "+err.Error())
		} else if share > s.most {
			c.Add(path+".amount", fmt.Sprintf("More than %s of what it is stirred into is too much: check the unit.", measure.Percent(s.most)))
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
		return 0, &measure.MissingProperty{From: measure.Count, To: measure.Mass, Property: "weight per piece"}
	}
	return grams / treat.Grams(&s.To), nil
}

func (c *Checking) coatingAmount(path string, coating treat.Coating) {
	if coating.Role == treat.RoleLayer {
		if !(coating.Share > 0 && coating.Share < 1) {
			c.Add(path+".share", "The second chocolate is a share of the sheet, between 0 and 100 %.")
		}
	} else if coating.Share != 0 {
		c.Add(path+".share", "Only the second chocolate of bark has a share: leave it out.")
	}
	byPiece := coating.Role == treat.RoleCoat || coating.Role == treat.RoleDrizzle
	switch {
	case !byPiece && (coating.Each != nil || coating.Thick != nil):
		c.Add(path+".each", "This mass follows from the sizes: leave it out.")
	case coating.Thick != nil && !(c.law.Traits().Thick && coating.Role == treat.RoleCoat):
		c.Add(path+".thick", "Only the coat of a truffle can be given by its thickness: write what goes on a piece.")
	case byPiece && (coating.Each == nil) == (coating.Thick == nil):
		c.Add(path+".each", "Say how much of it goes on a piece.")
	case coating.Thick != nil:
		c.length(path+".thick", coating.Thick, 20)
	case byPiece:
		c.Under(path+".each", coating.Each.Check(measure.Mass))
	}
}
