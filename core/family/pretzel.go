package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// pretzel is rods and twists, dipped (rules 2.3).
type pretzel struct{ plain }

func (pretzel) Family() treat.Family { return "pretzel" }

func (pretzel) Traits() Traits {
	t := pieces
	t.Drawn = "rod"
	t.Centre, t.Picked = "centre.pretzel", true
	return t
}

func (pretzel) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (pretzel) Main() treat.Role { return treat.RoleCoat }

var pretzelChoices = []Choice{
	{"shape", []string{"rod", "twist"}},
	setting.first("freezer"), coats, lines,
}

func (pretzel) Choices(map[string]string) []Choice { return pretzelChoices }

func (pretzel) Begin(b *Beginning) error {
	b.melt(treat.RoleCoat, 200, grams(8.1))
	return b.counted(food.KindBaked, reason.Of("family.there-no-pretzels-in-larder"), "pretzel rod", "pretzel")
}

func (pretzel) Tile() []Pick {
	return []Pick{{"shape", []string{"rods", "twists"}}, coatPick,
		{"topping", []string{"none", "sprinkles", "salt", "sesame"}}}
}

func (pretzel) SetOut(o *Outset) error {
	topping := si.Grams(1)
	if o.picks["shape"] == "twists" {
		o.stock("Pretzel twists")
		o.Choices["shape"], topping = "twist", 0.3
	} else {
		o.stock("Pretzel rods")
	}
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if o.picks["shape"] == "twists" {
		o.Coatings[0].Each = grams(3)
	}
	switch o.picks["topping"] {
	case "sprinkles":
		o.add("Sprinkles", topping, treat.On)
	case "sesame":
		o.add("Sesame seed", topping, treat.On)
	case "salt":
		o.add("Sea salt flakes", topping/4, treat.On)
	}
	o.pack("Clear bag", 6)
	o.called("pretzel." + o.picks["shape"])
	return nil
}

func (pretzel) Check(c *Checking) { c.counted(reason.Of("family.dipped-pretzel-needs-its-pretzel")) }

func (pretzel) Steps(f *treat.Formula) []treat.StepTemplate {
	dip := set(f, treat.StepTemplate{ID: "dip", Name: "step.dip-and-turn-in-tall", PerPiece: 0.3, PerTray: 20,
		Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 30, 10, 5)
	if Chosen(f, "shape") == "twist" {
		dip.Name, dip.PerPiece, dip.PerTray = "step.dip-with-fork-shake-for", 0.2, 40
	}
	steps := []treat.StepTemplate{{ID: "lay", Name: "step.pick-out-whole-ones-line", PerBatch: 4, PerPiece: 0.03,
		Adds: []treat.Adds{treat.AddsCentre}}, dip}
	if Chosen(f, "coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = lined(f, steps, "step.lines-which-set-on-table", 0.1)
	return append(steps, treat.StepTemplate{ID: "bag", Name: "step.bag-and-tie", PerPiece: 0.1})
}

func (pretzel) Centre(f *treat.Formula, k *treat.Inputs, _ *treat.Design) si.Grams {
	return counted(f, k)
}

func (pretzel) Dips(f *treat.Formula, k *treat.Inputs, role treat.Role) (Dip, bool) {
	if role != treat.RoleCoat || f.Centre == nil {
		return Dip{}, false
	}
	return dipped(k, f.Centre.Of, counted(f, k)), true
}

func (pretzel) Sizes(f *treat.Formula, k *treat.Inputs) Sizes {
	across := treat.Across(counted(f, k), k.Density(f.Centre.Of))
	if f.Centre.Across != nil {
		across = treat.Millimetres(*f.Centre.Across)
	}
	s := coated(f, across)
	if f.Centre.Length != nil {
		if c, ok := f.Coating(&f.Designs()[0], treat.RoleCoat); ok {
			s.Wall = treat.RodCoat(across, treat.Millimetres(*f.Centre.Length), treat.Grams(c.Each), chocolate.Density)
		}
	}
	return s
}
