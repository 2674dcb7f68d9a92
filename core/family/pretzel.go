package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/treat"
)

// pretzel is rods and twists, dipped (handbook 2.3).
type pretzel struct{ plain }

func (pretzel) Family() treat.Family { return "pretzel" }

func (pretzel) Traits() Traits {
	t := pieces
	t.Word, t.Plural, t.Drawn = "dipped pretzel", "Dipped pretzels", "rod"
	t.Centre, t.Picked = "Pretzel", true
	return t
}

func (pretzel) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (pretzel) Main() treat.Role { return treat.RoleCoat }

var pretzelChoices = []Choice{
	{"shape", "Shape", []Option{
		{"rod", "rods", "Dipped and turned in a tall squeeze bottle held at a slant."},
		{"twist", "twists", "With a fork or tongs in a bowl."},
	}},
	setting.first("freezer"), coats, lines,
}

func (pretzel) Choices(map[string]string) []Choice { return pretzelChoices }

func (pretzel) Begin(b *Beginning) error {
	b.melt(treat.RoleCoat, 200, grams(8.1))
	return b.counted(food.KindBaked, "There are no pretzels in the larder: add them first, as baked goods with a weight per piece.")
}

func (pretzel) Check(c *Checking) { c.counted("dipped pretzel needs its pretzel") }

func (pretzel) Steps(f *treat.Formula) []treat.Work {
	dip := set(f, treat.Work{ID: "dip", Name: "Dip and turn in a tall bottle held at a slant, shake for a thin coat", PerPiece: 0.3, PerTray: 20, Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 30, 10, 5)
	if Chosen(f, "shape") == "twist" {
		dip.Name, dip.PerPiece, dip.PerTray = "Dip with a fork, shake for a thin coat", 0.2, 40
	}
	steps := []treat.Work{{ID: "lay", Name: "Pick out the whole ones, line the trays", PerBatch: 4, PerPiece: 0.03, Adds: []treat.Adds{treat.AddsCentre}}, dip}
	if Chosen(f, "coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = lined(f, steps, "Lines, which set on the table in minutes", 0.1)
	return append(steps, treat.Work{ID: "bag", Name: "Bag and tie", PerPiece: 0.1})
}

func (pretzel) Centre(f *treat.Formula, k *treat.Kitchen, _ *treat.Finish) float64 {
	return counted(f, k)
}

func (pretzel) Dips(f *treat.Formula, k *treat.Kitchen, role treat.Role) (Dip, bool) {
	if role != treat.RoleCoat || f.Centre == nil {
		return Dip{}, false
	}
	return dipped(k, f.Centre.Of, counted(f, k)), true
}

func (pretzel) Sizes(f *treat.Formula, k *treat.Kitchen) Sizes {
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
