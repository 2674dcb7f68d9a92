package family

import (
	"fmt"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// moulded is shell, fill and cap in a cavity, or a solid piece (rules 2.7).
type moulded struct{ plain }

func (moulded) Family() treat.Family { return "moulded" }

func (moulded) Traits() Traits {
	t := pieces
	t.Drawn = "cavity"
	t.Rounds, t.Centre, t.Inside = "rounds", "centre.fill", true
	return t
}

func (moulded) Roles() []treat.Role {
	return []treat.Role{treat.RoleShell, treat.RoleCap, treat.RoleDab, treat.RoleDrizzle}
}

func (moulded) Main() treat.Role { return treat.RoleShell }

var mouldedChoices = []Choice{coat.first("drain"), coats, setting.first("freezer"),
	{"mould", append(tools.Options, "foil")}, last}

func (moulded) Choices(map[string]string) []Choice { return mouldedChoices }

func (moulded) Begin(b *Beginning) error {
	b.ShelfLifeHours = 20 * 24
	b.Mould = &treat.Mould{Volume: new(measure.Of(12, measure.Millilitre)), Cavities: 15, Moulds: 1, Shell: 1}
	b.melt(treat.RoleShell, 150, nil)
	return nil
}

func (moulded) Tile() []Pick {
	return []Pick{{"fill", []string{"solid", "nougat"}}, coatPick, {"moulds", []string{"1x15", "2x15"}}}
}

func (moulded) SetOut(o *Outset) error {
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if o.picks["moulds"] == "2x15" {
		o.Mould.Moulds = 2
	}
	if o.picks["fill"] == "nougat" {
		o.Mould.Shell, o.Mould.Cap = 0.4, 0.1
		o.Coatings = append(o.Coatings, treat.ChocolateLayer{Role: treat.RoleCap,
			Ingredient: ident.Ingredient(o.coat()), Pool: measure.Grams(80)})
		o.Formula.Centre = &treat.Centre{Of: "Nougat paste"}
	}
	o.pack("Clear bag", 6)
	o.called("moulded." + o.picks["fill"])
	return nil
}

func (moulded) Check(c *Checking) {
	m := c.F.Mould
	if m == nil {
		c.Add("mould", reason.Of("family.moulded-piece-needs-its-mould"))
		return
	}
	holds := c.cavity(m)
	c.moulds("mould", m.Cavities, m.Moulds, m.AtMost, m.Once)
	if !(m.Shell > 0 && m.Shell <= 1) {
		c.Add("mould.shell", reason.Of("family.shell-more-than-and-at"))
	}
	if !(m.Cap >= 0 && m.Shell+m.Cap <= 1+1e-9) {
		c.Add("mould.cap", reason.Of("family.shell-and-cap-together-at"))
	}
	if m.Cap > 0 != c.F.Has(treat.RoleCap) {
		c.Add("coatings", reason.Of("family.cap-needs-its-chocolate-and"))
	}
	if m.Trim != nil && m.Trim.Amount != 0 {
		c.Under("mould.trim", m.Trim.Check(measure.Mass))
		if holds && treat.Grams(m.Trim) > shellOf(c.F)/2 {
			c.Add("mould.trim", reason.Of("family.more-than-half-shell-trimmed"))
		}
	}
	for path, s := range c.centres() {
		if s == nil {
			continue
		}
		c.poured(path, s, reason.Reason{}, true)
		if m.Shell+m.Cap > 1-1e-9 {
			c.Add(path, reason.Of("family.shell-and-cap-fill-whole"))
		}
	}
}

func (moulded) Steps(f *treat.Formula) []treat.StepTemplate {
	shell := set(f, treat.StepTemplate{ID: "shell", Name: "step.coat-moulds-scrape-set", PerRound: 8,
		Pot: treat.RoleShell, Rounds: true, Moulds: true, Ages: true}, 40, 15, 20)
	steps := []treat.StepTemplate{shell}
	if Chosen(f, "coats") == "two" {
		again := shell
		again.ID, again.Name, again.PerRound, again.Moulds, again.Ages = "second", "step.second-coat-where-thin", 5,
			false, false
		if Chosen(f, "set") == "fridge" { // about 10 minutes a coat (rules 2.7)
			steps[0].Wait, again.Wait = 10, 10
		}
		steps = append(steps, again)
	}
	trimmed := f.Mould != nil && f.Mould.Trim != nil
	turn := turnedOut(f, trimmed)
	if trimmed {
		// Before the cap, which what comes off helps to close (rules 2.7).
		steps = append(steps, treat.StepTemplate{ID: "trim", Name: "step.trim-rims-level-trimmings-go", PerRound: 2,
			Rounds: true, Trims: true})
	}
	if f.Mould == nil || f.Mould.Shell+f.Mould.Cap < 1-1e-9 {
		steps = append(steps, treat.StepTemplate{ID: "fill", Name: "step.fill-leaving-room-for-cap", PerRound: 3,
			PerPiece: 0.1, Wait: 15, Spot: "fridge", Rounds: true, Adds: []treat.Adds{treat.AddsCentre, treat.AddsIn}})
	}
	if f.Has(treat.RoleCap) {
		cap := set(f, treat.StepTemplate{ID: "cap", Name: "step.cap-scrape-level-set", PerRound: 5, Pot: treat.RoleCap,
			Rounds: true}, 40, 30, 20)
		cap.Latest = new(mostOpen) // what is filled is not left open for days
		steps = append(steps, cap)
	}
	steps = append(steps, treat.StepTemplate{ID: "turn", Name: turn, PerRound: 4, Rounds: true})
	steps[0].Until = "turn"
	if f.Has(treat.RoleDab) {
		steps = append(steps, dabbed)
	}
	steps = lined(f, steps, "step.lines-and-what-goes-on", 0.1)
	topped(f, steps)
	return append(steps, treat.StepTemplate{ID: "box", Name: "step.box", PerPiece: 0.2})
}

// turnedOut is how the pieces leave their moulds: out of a hard one they are tapped, a soft one is peeled off them, and
// what is used up is peeled away or sold with them (common practice).
func turnedOut(f *treat.Formula, trimmed bool) string {
	name := "step.tap-or-flex-out"
	switch m := Chosen(f, "mould"); {
	case m == "hard":
		name = "step.tap-out"
	case m == "soft":
		name = "step.flex-out"
	case m == "foil":
		return "step.leave-in-foil"
	}
	if !trimmed {
		name += "-trim"
	}
	return name
}

func (moulded) Lay(f *treat.Formula) Layout {
	m := f.Mould
	if m == nil {
		return Layout{}
	}
	shape := "cavity"
	if m.Cavity != nil {
		shape = string(m.Cavity.Shape)
	}
	return Layout{Moulds: mouldsOf(Moulds{Tool: ident.Mould(fmt.Sprintf("%s-%.1f-ml-%d", shape, m.Millilitres(),
		m.Cavities)), Cavities: m.Cavities, Moulds: m.Moulds, AtMost: m.AtMost, Each: 1, Cells: "piece"}, m.Once)}
}

func (m moulded) Centre(f *treat.Formula, k *treat.Inputs, d *treat.Design) si.Grams {
	fills, _ := Fills(f, k, d)
	room, _ := m.Hollow(f)
	return si.Grams(max(room-fills, 0) * k.Density(f.CentreOf(d).Of))
}

// shellOf a piece in g.
func shellOf(f *treat.Formula) si.Grams {
	return chocolate.Mass(f.Mould.Millilitres() * f.Mould.Shell)
}

func (m moulded) Coat(f *treat.Formula, k *treat.Inputs, d *treat.Design, c treat.ChocolateLayer) Coat {
	brim := chocolate.Mass(f.Mould.Millilitres())
	switch c.Role {
	case treat.RoleShell:
		shell := Coat{Stays: shellOf(f), Trim: treat.Grams(f.Mould.Trim)}
		if f.Mould.Shell < 1 {
			// Turned in it: half of the cavity, or half as much again as stays.
			shell.Pour = poured(f, brim, max(brim/2, shell.Stays*1.5))
		}
		return shell
	case treat.RoleCap:
		return Coat{Stays: brim.Times(f.Mould.Cap)}
	}
	return m.plain.Coat(f, k, d, c)
}

func (moulded) Hollow(f *treat.Formula) (float64, bool) {
	if f.Mould == nil {
		return 0, false
	}
	return f.Mould.Millilitres() * max(1-f.Mould.Shell-f.Mould.Cap, 0), true
}

func (moulded) Sizes(f *treat.Formula, _ *treat.Inputs) Sizes {
	cavity := f.Mould.Solid()
	wall, cap := cavity.Wall(f.Mould.Shell, f.Mould.Cap)
	return Sizes{Wall: wall, Cap: cap, Across: cavity.Length, Shell: shellOf(f)}
}

func (moulded) Ages(f *treat.Formula, k *treat.Inputs) (int, bool) { return creamAge(f, k) }
