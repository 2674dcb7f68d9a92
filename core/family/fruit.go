package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/treat"
)

// fruit is dipped fruit: picked over, washed, dried, dipped (handbook 2.2).
type fruit struct{ plain }

func (fruit) Family() treat.Family { return "fruit" }

func (fruit) Traits() Traits {
	t := pieces
	t.Word, t.Plural, t.Drawn = "dipped fruit", "Dipped fruit", "fruit"
	t.Centre, t.Picked = "Fruit", true
	return t
}

func (fruit) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (fruit) Main() treat.Role { return treat.RoleCoat }

var fruitChoices = []Choice{
	{"stand", "How it sets", []Option{
		{"flat", "flat on paper", "Quick, needs no pick to stand in; one side is flat."},
		{"standing", "standing in a glass", "Round all over; every piece needs its pick and its place."},
	}},
	setting.first("room"),
	{"wash", "Wash", []Option{
		{"soak", "soak", "3 parts water to 1 part white vinegar, 5 to 10 minutes, then rinse."},
		{"spray", "produce wash", "Rubbed for about 30 seconds, then rinsed: quicker for a few."},
		{"none", "wipe only", "For dried fruit, which must not get wet."},
	}},
	coats, lines,
}

func (fruit) Choices(map[string]string) []Choice { return fruitChoices }

func (fruit) Begin(b *Beginning) error {
	b.Keeps = 24
	b.melt(treat.RoleCoat, 250, grams(8))
	return b.counted(food.KindFruit, "There is no fruit with a weight per piece in the larder: add one first, then begin.")
}

func (fruit) Check(c *Checking) { c.counted("dipped fruit needs its fruit") }

func (fruit) Steps(f *treat.Formula) []treat.Work {
	wash := treat.Work{ID: "wash", Name: "Pick over, wash, dry completely", PerBatch: 10, PerPiece: 0.15, Wait: 20, Place: "counter", PerTray: 24, Adds: []treat.Adds{treat.AddsCentre}}
	switch Chosen(f, "wash") {
	case "spray":
		wash.PerBatch = 6
	case "none":
		wash.Name, wash.PerBatch, wash.Wait, wash.Place = "Pick over, wipe dry", 4, 0, ""
	}
	dip := set(f, treat.Work{ID: "dip", Name: "Dip to the shoulder, shake, wipe the foot", PerPiece: 0.5, PerTray: 24, Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 30, 12, 6)
	if Chosen(f, "stand") == "standing" {
		dip.Name, dip.PerPiece, dip.PerTray = "Dip to the shoulder, shake, stand in a glass", 0.6, 12
	}
	picks := treat.Work{ID: "picks", Name: "Picks in, all of them before dipping", PerPiece: 0.1}
	if wash.Wait > 0 { // never before the day: washed fruit softens fast (handbook 2.2)
		picks.Latest, dip.Latest = new(180), new(180)
	}
	steps := []treat.Work{wash, picks, dip}
	if Chosen(f, "coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = lined(f, steps, "Lines when set", 0.15)
	return append(steps, treat.Work{ID: "box", Name: "Picks out, box in liners", PerPiece: 0.25})
}

func (fruit) Centre(f *treat.Formula, k *treat.Kitchen, _ *treat.Finish) float64 {
	return counted(f, k)
}

func (fruit) Dips(f *treat.Formula, k *treat.Kitchen, role treat.Role) (Dip, bool) {
	if role != treat.RoleCoat || f.Centre == nil {
		return Dip{}, false
	}
	d := dipped(k, f.Centre.Of, counted(f, k))
	d.Heat, d.Across = chocolate.HeatOfFruit, treat.Across(d.Mass, water)
	d.Fresh = Chosen(f, "wash") != "none"
	return d, true
}

// water is the density of fresh fruit, which is nearly all water, g/mL.
const water = 1

func (fruit) Sizes(f *treat.Formula, k *treat.Kitchen) Sizes {
	return coated(f, treat.Across(counted(f, k), water))
}

func (fruit) Care(*treat.Formula, *treat.Kitchen) []Caution { return []Caution{PicksOut, HoldCold} }
