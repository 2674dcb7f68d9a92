package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// fruit is dipped fruit: picked over, washed, dried, dipped (rules 2.2).
type fruit struct{ plain }

func (fruit) Family() treat.Family { return "fruit" }

func (fruit) Traits() Traits {
	t := pieces
	t.Drawn = "fruit"
	t.Centre, t.Picked = "centre.fruit", true
	return t
}

func (fruit) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (fruit) Main() treat.Role { return treat.RoleCoat }

var fruitChoices = []Choice{
	{"stand", []string{"flat", "standing"}},
	setting.first("room"),
	{"wash", []string{"soak", "spray", "none"}},
	{"foot", []string{"wiped", "sealed"}},
	{"stick", []string{"out", "stays"}},
	{"form", []string{"berry", "round", "slice", "long"}},
	coats, lines,
}

func (fruit) Choices(map[string]string) []Choice { return fruitChoices }

func (fruit) Begin(b *Beginning) error {
	b.ShelfLifeHours = 24
	b.melt(treat.RoleCoat, 250, grams(8))
	return b.counted(food.KindFruit, reason.Of("family.there-no-fruit-with-weight"), "strawberr", "berr")
}

func (fruit) Tile() []Pick {
	return []Pick{{"fruit", []string{"strawberries", "apricots", "clementines", "figs"}}, coatPick,
		{"lines", []string{"white", "dark", "none"}}}
}

func (fruit) SetOut(o *Outset) error {
	o.stock(map[string]string{"strawberries": "Strawberries", "apricots": "Dried apricots",
		"clementines": "Clementine segments", "figs": "Dried figs"}[o.picks["fruit"]])
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if dried := o.picks["fruit"]; dried == "apricots" || dried == "figs" {
		o.Choices["wash"], o.Choices["form"], o.ShelfLifeHours = "none", "round", 14*24
	}
	if o.picks["fruit"] == "clementines" {
		o.Choices["form"] = "slice"
	}
	o.lined(2)
	o.pack("Box for 12", 12)
	o.pack("Liner", 1)
	o.called("fruit." + o.picks["fruit"])
	return nil
}

func (fruit) Check(c *Checking) { c.counted(reason.Of("family.dipped-fruit-needs-its-fruit")) }

func (fruit) Steps(f *treat.Formula) []treat.StepTemplate {
	wash := treat.StepTemplate{ID: "wash", Name: "step.pick-over-wash-dry-completely", PerBatch: 10, PerPiece: 0.15,
		Wait: 20, Spot: "counter", PerTray: 24, Adds: []treat.Adds{treat.AddsCentre},
		Prepare: []treat.Preparation{{How: treat.Wash}}}
	switch Chosen(f, "wash") {
	case "spray":
		wash.PerBatch = 6
	case "none":
		wash.Name, wash.PerBatch, wash.Wait, wash.Spot, wash.Prepare = "step.pick-over-wipe-dry", 4, 0, "", nil
	}
	dip := set(f, treat.StepTemplate{ID: "dip", Name: "step.dip-to-shoulder-shake-wipe", PerPiece: 0.5, PerTray: 24,
		Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 30, 12, 6)
	standing := Chosen(f, "stand") == "standing"
	if standing {
		dip.Name, dip.PerPiece, dip.PerTray = "step.dip-to-shoulder-shake-stand", 0.6, 12
	}
	if Chosen(f, "foot") == "sealed" { // a bare foot leaks (rules 2.2)
		dip.Name, dip.PerPiece = "step.dip-to-shoulder-shake-seal", dip.PerPiece+0.1
		if standing {
			dip.Name = "step.dip-to-shoulder-seal-stand"
		}
	}
	picks := treat.StepTemplate{ID: "picks", Name: "step.picks-in-all-them-before", PerPiece: 0.1}
	if wash.Wait > 0 { // never before the day: washed fruit softens fast (rules 2.2)
		picks.Latest, dip.Latest = new(si.Minutes(180)), new(si.Minutes(180))
	}
	steps := []treat.StepTemplate{wash, picks, dip}
	if Chosen(f, "coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = lined(f, steps, "step.lines-when-set", 0.15)
	box := treat.StepTemplate{ID: "box", Name: "step.picks-out-box-in-liners", PerPiece: 0.25}
	if Chosen(f, "stick") == "stays" {
		steps[1].Name, box.Name = "step.sticks-in-all-them-before", "step.box-in-liners-on-sticks"
	}
	return append(steps, box)
}

func (fruit) Centre(f *treat.Formula, k *treat.Inputs, _ *treat.Design) si.Grams {
	return counted(f, k)
}

func (fruit) Dips(f *treat.Formula, k *treat.Inputs, role treat.Role) (Dip, bool) {
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

func (fruit) Sizes(f *treat.Formula, k *treat.Inputs) Sizes {
	return coated(f, treat.Across(counted(f, k), water))
}

func (fruit) Care(f *treat.Formula, _ *treat.Inputs) []Caution {
	if Chosen(f, "stick") == "stays" {
		return []Caution{SticksStay, HoldCold}
	}
	return []Caution{PicksOut, HoldCold}
}
