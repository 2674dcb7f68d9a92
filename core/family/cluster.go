package family

import (
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// cluster is nuts or cereal bound in chocolate and dropped by the spoon (common practice: about as much chocolate as
// there is to bind; a heaped teaspoon is 12 to 15 g).
type cluster struct{ plain }

func (cluster) Family() treat.Family { return "cluster" }

func (cluster) Traits() Traits { return pieces }

func (cluster) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (cluster) Main() treat.Role { return treat.RoleCoat }

var clusterChoices = []Choice{
	{"toast", []string{"toasted", "plain"}},
	{"drop", []string{"spoon", "cups"}},
	setting.first("room"), lines,
}

func (cluster) Choices(map[string]string) []Choice { return clusterChoices }

func (cluster) Begin(b *Beginning) error {
	b.Loss, b.ShelfLifeHours = 0.02, 30*24
	of, ok := first(b.k, func(i food.Ingredient) bool { return i.Kind == food.KindNut || i.Kind == food.KindBaked })
	if !ok {
		return reason.Of("family.there-nothing-in-larder-to")
	}
	b.melt(treat.RoleCoat, 30, grams(7))
	b.Portions = []treat.Addition{{Ingredient: of.ID, Each: *grams(7), Where: treat.On}}
	return nil
}

func (cluster) Tile() []Pick {
	return []Pick{{"of", []string{"almonds", "peanuts", "rice"}}, coatPick}
}

func (cluster) SetOut(o *Outset) error {
	of := map[string]string{"almonds": "Almonds, whole", "peanuts": "Peanuts", "rice": "Crisped rice"}[o.picks["of"]]
	o.stock(of)
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if o.picks["of"] == "rice" {
		o.Choices["toast"], o.Portions[0].Each = "plain", measure.Grams(4)
	}
	o.pack("Clear bag", 6)
	o.called("cluster." + o.picks["of"])
	return nil
}

func (cluster) Check(c *Checking) {
	if len(c.F.Portions) == 0 {
		c.Add("portions", reason.Of("family.cluster-needs-what-its-chocolate"))
	}
}

func (cluster) Steps(f *treat.Formula) []treat.StepTemplate {
	first := treat.StepTemplate{ID: "weigh", Name: "step.toast-in-one-layer-until", PerBatch: 6, PerPiece: 0.02,
		Wait: 45, Spot: "counter"}
	if Chosen(f, "toast") == "plain" {
		first = treat.StepTemplate{ID: "weigh", Name: "step.weigh", PerBatch: 3, PerPiece: 0.02}
	}
	drop := set(f, treat.StepTemplate{ID: "drop", Name: "step.fold-in-until-all-coated", PerBatch: 3, PerPiece: 0.15,
		PerTray: 30, Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 45, 20, 8)
	if Chosen(f, "drop") == "cups" {
		drop.Name, drop.PerPiece = "step.fold-in-until-all-coated-2", 0.2
	}
	return append(lined(f, []treat.StepTemplate{first, drop}, "step.lines-when-set", 0.08),
		treat.StepTemplate{ID: "box", Name: "step.box", PerPiece: 0.1})
}

// Folds what is bound into the bowl: with all that it leaves in it.
func (cluster) Folds(f *treat.Formula, role treat.Role) []ident.Ingredient {
	if role != treat.RoleCoat {
		return nil
	}
	list := make([]ident.Ingredient, 0, len(f.Portions))
	for _, p := range f.Portions {
		list = append(list, p.Ingredient)
	}
	return list
}
