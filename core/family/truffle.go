package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// truffle is a centre of any mix, coated (rules 2.4).
type truffle struct{ plain }

func (truffle) Family() treat.Family { return "truffle" }

func (truffle) Traits() Traits {
	t := pieces
	t.Drawn = "sphere"
	t.Centre, t.Makes, t.Thick = "centre.truffle", "centre", true
	return t
}

func (truffle) Roles() []treat.Role { return []treat.Role{treat.RoleCoat, treat.RoleDrizzle} }

func (truffle) Main() treat.Role { return treat.RoleCoat }

var truffleChoices = []Choice{
	{"centres", []string{"freezer", "fridge"}},
	{"skin", []string{"dipped", "rolled"}},
	coats, setting, lines,
}

func (truffle) Choices(map[string]string) []Choice { return truffleChoices }

func (truffle) Begin(b *Beginning) error {
	b.ShelfLifeHours = 10 * 24
	of, ok := b.firstMix(false, "ganache", "truffle", "centre", "center")
	if !ok {
		return reason.Of("family.truffle-needs-mix-for-its")
	}
	b.Centre = &treat.Centre{Of: ident.Ingredient(of), Each: grams(12)}
	b.melt(treat.RoleCoat, 250, grams(5))
	return nil
}

func (truffle) Tile() []Pick {
	return []Pick{{"centre", []string{"plain", "coffee", "orange"}}, coatPick,
		{"skin", []string{"dipped", "rolled"}}}
}

// SetOut takes two parts of dark chocolate to one of cream, which sets firm enough to roll (rules 4.5).
func (truffle) SetOut(o *Outset) error {
	centre := treat.Mix{Name: "Ganache", Loss: 0.03, Parts: []treat.MixPart{part(chocolates["dark"], 240),
		part("Heavy cream", 120), part("Butter", 20)}}
	switch o.picks["centre"] {
	case "coffee":
		centre.Name, centre.Parts = "Coffee ganache", append(centre.Parts, part("Instant coffee", 4))
	case "orange":
		centre.Name, centre.Parts = "Orange ganache", append(centre.Parts, part("Orange zest", 5))
	}
	o.mix(centre)
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if o.picks["skin"] == "rolled" {
		o.Choices["skin"] = "rolled"
		o.add("Cocoa", 1.5, treat.On)
	}
	o.pack("Box for 12", 12)
	o.pack("Paper cup", 1)
	o.called("truffle." + o.picks["centre"])
	return nil
}

func (truffle) Check(c *Checking) {
	for path, s := range c.centres() {
		if s != nil && (s.Each == nil) == (s.Across == nil) {
			c.Add(path+".each", reason.Of("family.give-weight-centre-or-its"))
			continue
		}
		// A size needs the density; so does a coat that is given by its thickness.
		byVolume := s != nil && s.Across != nil
		for _, coating := range c.F.Coatings {
			byVolume = byVolume || coating.Thick != nil
		}
		if _, ok := c.poured(path, s, reason.Of("family.truffle-needs-its-centre-mix"), byVolume); !ok {
			continue
		}
		if s.Each != nil {
			c.Under(path+".each", s.Each.Check(measure.Mass))
			if s.Each.Amount > 0 && treat.Grams(s.Each) > 500 {
				c.Add(path+".each", reason.Of("family.centre-more-than-g-no"))
			}
		} else {
			c.length(path+".across", s.Across, 100)
		}
	}
}

func (truffle) Steps(f *treat.Formula) []treat.StepTemplate {
	wait, place := si.Minutes(15), ident.Spot("freezer")
	if Chosen(f, "centres") == "fridge" {
		wait, place = 30, "fridge"
	}
	dip := set(f, treat.StepTemplate{ID: "dip", Name: "step.dip-or-at-time-lift", PerPiece: 0.4, PerTray: 40,
		Pot: treat.RoleCoat, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 40, 30, 8)
	if Chosen(f, "skin") == "rolled" { // not tempered, it sets more slowly (memory: by a quarter)
		dip.Name, dip.PerPiece, dip.Wait = "step.dip-roll-shake-off", 0.5, dip.Wait*5/4
	}
	steps := []treat.StepTemplate{
		{ID: "centre", Name: "step.make-centre-film-on-its", PerBatch: 20, Wait: 120, Spot: "fridge", PerTray: 120,
			Adds: []treat.Adds{treat.AddsCentre}},
		{ID: "shape", Name: "step.scoop-and-roll-firm-up", PerBatch: 3, PerPiece: 0.35, Wait: wait, Spot: place,
			PerTray: 40},
		dip,
	}
	if Chosen(f, "coats") == "two" {
		steps = append(steps, second(dip))
	}
	steps = lined(f, steps, "step.lines-when-set", 0.1)
	return append(steps, treat.StepTemplate{ID: "box", Name: "step.box-in-liners", PerPiece: 0.2})
}

func (truffle) Centre(f *treat.Formula, k *treat.Inputs, d *treat.Design) si.Grams {
	centre := f.CentreOf(d)
	if centre.Each != nil {
		return treat.Grams(centre.Each)
	}
	across := treat.Millimetres(*centre.Across)
	return 2 * treat.HalfShell(across, across, k.Density(centre.Of))
}

func (t truffle) Coat(f *treat.Formula, k *treat.Inputs, d *treat.Design, c treat.ChocolateLayer) Coat {
	if c.Thick == nil {
		return t.plain.Coat(f, k, d, c)
	}
	across := treat.Across(t.Centre(f, k, d), k.Density(f.CentreOf(d).Of))
	return Coat{Stays: treat.Coat(across, treat.Millimetres(*c.Thick), chocolate.Density)}
}

func (t truffle) Method(f *treat.Formula, kind chocolate.Kind, role treat.Role) chocolate.Method {
	if role == treat.RoleCoat && Chosen(f, "skin") == "rolled" { // hidden under its rolling
		return chocolate.NoTemper
	}
	return t.plain.Method(f, kind, role)
}

func (t truffle) Dips(f *treat.Formula, k *treat.Inputs, role treat.Role) (Dip, bool) {
	first := &f.Designs()[0]
	if role != treat.RoleCoat || f.CentreOf(first) == nil {
		return Dip{}, false
	}
	d := dipped(k, f.CentreOf(first).Of, t.Centre(f, k, first))
	d.At = k.Celsius(ident.Spot(Chosen(f, "centres")))
	return d, true
}

func (t truffle) Sizes(f *treat.Formula, k *treat.Inputs) Sizes {
	first := &f.Designs()[0]
	s := coated(f, treat.Across(t.Centre(f, k, first), k.Density(f.CentreOf(first).Of)))
	if c, ok := f.Coating(first, treat.RoleCoat); ok && c.Thick != nil {
		s.Wall = treat.Millimetres(*c.Thick)
	}
	return s
}

func (truffle) Ages(f *treat.Formula, k *treat.Inputs) (int, bool) { return creamAge(f, k) }
