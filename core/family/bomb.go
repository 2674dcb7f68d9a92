package family

import (
	"fmt"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// bomb is the drink bomb: two half shells a piece, or a cup with a lid, filled and sealed (rules 2.1).
type bomb struct{ plain }

func (bomb) Family() treat.Family { return "bomb" }

func (bomb) Traits() Traits {
	t := pieces
	t.Drawn = "ball"
	t.Rounds, t.Inside = "rounds", true
	return t
}

func (bomb) Roles() []treat.Role {
	return []treat.Role{treat.RoleShell, treat.RoleDab, treat.RoleCap, treat.RoleDrizzle}
}

func (bomb) Main() treat.Role { return treat.RoleShell }

var ballChoices, cupChoices = func() (ball, cup []Choice) {
	shape := Choice{"shape", []string{"ball", "cup"}}
	twice := coats.first("two")
	return []Choice{shape, coat, coats, setting, tools, lines, last}, []Choice{shape, coat, twice, setting, lines, last}
}()

func (bomb) Choices(made map[string]string) []Choice {
	if made["shape"] == "cup" {
		return cupChoices
	}
	return ballChoices
}

func (bomb) Begin(b *Beginning) error {
	b.Loss = 0.08
	b.Shell = &treat.Shell{Across: measure.Of(2.5, measure.Inch), Wall: length(3.5, measure.Millimetre), Cavities: 6,
		Moulds: 2}
	b.melt(treat.RoleShell, 200, nil)
	return nil
}

// cupOf a bomb that is moulded in one.
func cupOf(f *treat.Formula) (treat.Cup, bool) {
	s := f.Shell
	if f.Choices["shape"] != "cup" || s == nil || s.Base == nil || s.Height == nil {
		return treat.Cup{}, false
	}
	return treat.Cup{Top: treat.Millimetres(s.Across), Base: treat.Millimetres(*s.Base),
		Height: treat.Millimetres(*s.Height)}, true
}

// wall of a bomb in mm, given or from its mass.
func wall(f *treat.Formula) float64 {
	s := f.Shell
	if s.Wall != nil {
		return treat.Millimetres(*s.Wall)
	}
	if cup, ok := cupOf(f); ok {
		return cup.Wall(treat.Grams(s.Mass), chocolate.Density)
	}
	return treat.Wall(treat.Millimetres(s.Across), treat.Grams(s.Mass)/2, chocolate.Density)
}

func (bomb) Tile() []Pick {
	return []Pick{{"size", []string{"large", "small"}}, {"moulds", []string{"1x6", "2x6", "4x6"}},
		{"mix", []string{"cocoa", "malt"}}, {"marshmallows", []string{"mini", "vegan", "none"}}, coatPick}
}

// SetOut takes mix for a cup of 8 fl oz, less in a small ball (common practice: two tablespoons and a few
// marshmallows).
func (bomb) SetOut(o *Outset) error {
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	mix, few := si.Grams(26), si.Grams(4)
	o.Shell.Across = o.length(2.5, 65)
	if o.picks["size"] == "small" {
		o.Shell.Across, mix, few = o.length(2, 50), 11, 1.5
	}
	o.Shell.Moulds = map[string]int{"1x6": 1, "2x6": 2, "4x6": 4}[o.picks["moulds"]]
	o.add(map[string]string{"cocoa": "Drink mix with cocoa", "malt": "Malted milk powder"}[o.picks["mix"]], mix,
		treat.In)
	if of, some := map[string]string{"mini": "Mini marshmallows",
		"vegan": "Mini marshmallows, vegan"}[o.picks["marshmallows"]]; some {
		o.add(of, few, treat.In)
	}
	o.pack("Clear bag", 1)
	o.Good = 6
	o.called("bomb." + o.picks["mix"])
	return nil
}

func (bomb) Check(c *Checking) {
	s := c.F.Shell
	if s == nil {
		c.Add("shell", reason.Of("family.drink-bomb-needs-shell-its"))
		return
	}
	right := c.length("shell.across", &s.Across, 300)
	if c.F.Choices["shape"] == "cup" {
		right = c.length("shell.base", s.Base, 300) && right
		right = c.length("shell.height", s.Height, 300) && right
		if right && treat.Millimetres(*s.Base) > treat.Millimetres(s.Across) {
			c.Add("shell.base", reason.Of("family.cup-no-wider-at-its"))
			right = false
		}
	}
	if c.F.Has(treat.RoleCap) && c.F.Choices["shape"] != "cup" {
		c.Add("coatings", reason.Of("family.only-cup-has-lid"))
	}
	c.moulds("shell", s.Cavities, s.Moulds, s.AtMost, s.Once)
	if s.Mug != nil {
		c.Under("shell.mug", s.Mug.Check(measure.Volume))
	}
	switch {
	case (s.Wall == nil) == (s.Mass == nil):
		c.Add("shell.wall", reason.Of("family.give-wall-or-chocolate-whole"))
		return
	case s.Wall != nil:
		right = c.length("shell.wall", s.Wall, 300) && right
	default:
		if err := s.Mass.Check(measure.Mass); err != nil {
			c.Under("shell.mass", err)
			right = false
		}
	}
	if !right {
		return
	}
	thickest := treat.Millimetres(s.Across) / 2
	what := reason.Of("family.ball-across", measure.Show(s.Across, measure.Substance{}))
	if cup, ok := cupOf(c.F); ok {
		thickest, what = cup.Thickest(), reason.Of("family.this-cup")
	}
	if wall(c.F) >= thickest-1e-9 {
		if s.Wall != nil {
			c.Add("shell.wall", reason.Of("family.wall-leaves-no-hollow-in", measure.Show(*s.Wall, measure.Substance{}),
				what, measure.Show(measure.Of(thickest, measure.Millimetre), measure.Substance{})))
		} else {
			c.Add("shell.mass", reason.Of("family.leave-no-hollow-in-take", measure.Show(*s.Mass, measure.Substance{}),
				what))
		}
	}
}

func (bomb) Steps(f *treat.Formula) []treat.StepTemplate {
	shell := set(f, treat.StepTemplate{ID: "shells", Name: "step.coat-moulds-and-set", PerRound: 10,
		Pot: treat.RoleShell, Rounds: true, Moulds: true, Ages: true}, 40, 10, 5)
	fill := treat.StepTemplate{ID: "fill", Name: "step.fill-one-half-seal-with", PerBatch: 5, PerPiece: 0.75, Wait: 10,
		Spot: "counter", PerTray: 24, Adds: []treat.Adds{treat.AddsIn}}
	switch Chosen(f, "mould") {
	case "hard":
		shell.Name = "step.coat-moulds-set-tap-out"
	case "soft":
		shell.Name = "step.coat-moulds-set-flex-out"
	}
	over := "step.lines-over-seam-topping-while"
	if Chosen(f, "shape") == "cup" {
		shell.Name, shell.PerPiece = "step.slit-and-tape-cups-coat", 1
		fill.Name = "step.take-cups-off-fill-close"
		over = "step.lines-over-lid-topping-while"
		if f.Has(treat.RoleCap) {
			fill.Pot = treat.RoleCap
		}
	}
	steps := []treat.StepTemplate{shell}
	if Chosen(f, "coats") == "two" {
		second := shell
		steps[0].Until = "second"
		second.ID, second.Name, second.PerRound, second.PerPiece, second.Moulds, second.Ages = "second",
			"step.brush-bare-and-thin-spots", 6, 0, false, false
		steps = append(steps, second)
	}
	if f.Has(treat.RoleDab) {
		steps = append(steps, dabbed)
	}
	steps = lined(f, append(steps, fill), over, 0.2)
	topped(f, steps)
	return append(steps, treat.StepTemplate{ID: "bag", Name: "step.bag-and-tie-in-gloves", PerPiece: 0.35})
}

func (bomb) Lay(f *treat.Formula) Layout {
	s := f.Shell
	if s == nil {
		return Layout{}
	}
	m := &Moulds{Tool: ident.Mould(fmt.Sprintf("ball-%.1f-mm-%d", treat.Millimetres(s.Across), s.Cavities)),
		Cavities: s.Cavities, Moulds: s.Moulds, AtMost: s.AtMost, Each: 2, Cells: "half shell"}
	if f.Choices["shape"] == "cup" {
		m.Tool, m.Each, m.Cells = ident.Mould(fmt.Sprintf("cup-%.1f-mm-%d", treat.Millimetres(s.Across), s.Cavities)),
			1, "cup"
	}
	return Layout{Moulds: mouldsOf(*m, s.Once)}
}

// mouldsOf are moulds that come back, or that are used up.
func mouldsOf(m Moulds, once ident.Supply) *Moulds {
	if once != "" {
		m.Tool, m.Once = "", once
	}
	return &m
}

// twoSpoons is what is poured into a half of 2.5 in to be turned in it, in mL (rules 2.1, common practice: a little
// over 2 tablespoons); into another by its area.
const twoSpoons = 2 * 14.78676478125

func (b bomb) Coat(f *treat.Formula, k *treat.Inputs, d *treat.Design, c treat.ChocolateLayer) Coat {
	cup, isCup := cupOf(f)
	switch {
	case c.Role == treat.RoleCap && isCup:
		return Coat{Stays: cup.Lid(wall(f), chocolate.Density)}
	case c.Role != treat.RoleShell:
		return b.plain.Coat(f, k, d, c)
	}
	across := treat.Millimetres(f.Shell.Across)
	stays, brim, area := 2*treat.HalfShell(across, wall(f), chocolate.Density),
		treat.HalfShell(across, across, chocolate.Density), across*across/63.5/63.5
	if isCup {
		stays, brim = cup.Mass(wall(f), chocolate.Density), chocolate.Mass(treat.Frustum(cup.Top, cup.Base, cup.Height))
		area *= 2
		if f.Has(treat.RoleCap) { // the lid is of its own
			stays -= cup.Lid(wall(f), chocolate.Density)
		}
	}
	return Coat{Stays: stays, Pour: poured(f, brim, chocolate.Mass(twoSpoons*area))}
}

// poured is what goes into a cavity that is poured off again, by how the mould is coated: to the brim, or as much as is
// turned in it.
func poured(f *treat.Formula, brim, turned si.Grams) si.Grams {
	switch Chosen(f, "coat") {
	case "drain":
		return brim
	case "turn":
		return min(turned, brim)
	}
	return 0
}

func (bomb) Hollow(f *treat.Formula) (float64, bool) {
	if f.Shell == nil {
		return 0, false
	}
	if cup, ok := cupOf(f); ok {
		return cup.Hollow(wall(f)), true
	}
	return treat.Hollow(treat.Millimetres(f.Shell.Across), wall(f)), true
}

func (b bomb) Sizes(f *treat.Formula, k *treat.Inputs) Sizes {
	s := Sizes{Wall: wall(f), Shell: b.Coat(f, k, nil, treat.ChocolateLayer{Role: treat.RoleShell}).Stays}
	if f.Shell.Mug != nil {
		s.Mix = mixFor(treat.Millilitres(*f.Shell.Mug))
	}
	return s
}

// mixFor a mug of so many mL is the mix in mL for a medium taste: a tablespoon for 8 fl oz; twice as much is strong
// (rules 2.1 and 6, common practice).
func mixFor(mug float64) float64 {
	spoon, _ := measure.Of(1, measure.Tablespoon).In(measure.Millilitre, measure.Substance{})
	cup, _ := measure.Of(8, measure.FluidOunce).In(measure.Millilitre, measure.Substance{})
	return spoon * mug / cup
}

func (bomb) Care(f *treat.Formula, k *treat.Inputs) []Caution {
	list := []Caution{HotMilk}
	if f.ShelfLifeHours > 24 && wetInside(f, k) {
		list = append(list, WetInside)
	}
	return list
}

// wetInside tells whether something goes in that is not dry: cream, a spirit, a syrup or sauce, or a mix with one.
// Powders of the same kinds lie loose: a cup of them weighs less than one of water.
func wetInside(f *treat.Formula, k *treat.Inputs) bool {
	for _, d := range f.Designs() {
		for _, list := range [][]treat.Addition{f.Portions, d.Portions} {
			for _, p := range list {
				if p.Where != treat.In {
					continue
				}
				for _, id := range k.Uses(p.Ingredient) {
					if known := k.Ingredients[id]; known.Wet() || known.Kind == food.KindSugar &&
						known.Substance.Density > food.PowderBelow {
						return true
					}
				}
			}
		}
	}
	return false
}
