package batch

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/fault"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// ways in which it is made, as far as faults follow from them.
func (s *steps) ways(c *Card) []fault.Way {
	bed := func(p treat.Addition) bool { return p.Bed != nil }
	on := func(p treat.Addition) bool { return p.Bed == nil && p.Where == treat.On }
	portions := slices.Clone(s.f.Portions)
	bases := 0
	for _, d := range s.f.Designs() {
		portions = append(portions, d.Portions...)
		bases = max(bases, len(s.f.CoatingsOf(&d, treat.RoleBase))+len(s.f.CoatingsOf(&d, treat.RoleLayer)))
	}
	// Real chocolate that is not tempered is hidden by what it is rolled in (rules 2.4).
	hidden := func(p Pot) bool {
		return p.Chocolate.Kind == chocolate.Real && p.Method == chocolate.NoTemper &&
			slices.Contains(p.Roles, treat.RoleCoat)
	}
	inside := slices.ContainsFunc(portions, func(p treat.Addition) bool { return p.Where == treat.In })
	is := map[fault.Way]bool{
		fault.Bowl:    len(c.Pots) > 0,
		fault.Moulded: s.f.Has(treat.RoleShell),
		fault.Halves:  s.lay.Moulds != nil && s.lay.Moulds.Each == 2,
		fault.Filled:  s.f.Has(treat.RoleShell) && (inside || s.f.Centre != nil),
		fault.Dipped:  s.f.Has(treat.RoleCoat),
		fault.Fruit:   slices.ContainsFunc(c.Pots, func(p Pot) bool { return p.Damp }),
		fault.Spread:  bases > 0,
		fault.Layered: bases > 1,
		fault.Lined:   s.f.Has(treat.RoleDrizzle),
		fault.Rolled:  slices.ContainsFunc(portions, bed) || slices.ContainsFunc(c.Pots, hidden),
		fault.Topped:  slices.ContainsFunc(portions, on),
		fault.Mixed:   len(c.Mixes) > 0 && c.Boil == nil,
		fault.Boiled:  c.Boil != nil,
	}
	return slices.DeleteFunc(fault.Ways(), func(w fault.Way) bool { return !is[w] })
}

// hands on: the ways that a step has to do with, by what its chocolate does. A step without one may show anything.
var handsOn = map[treat.Role][]fault.Way{
	treat.RoleShell:   {fault.Bowl, fault.Moulded},
	treat.RoleCap:     {fault.Bowl, fault.Moulded, fault.Filled},
	treat.RoleCoat:    {fault.Bowl, fault.Dipped, fault.Fruit, fault.Rolled, fault.Topped},
	treat.RoleBase:    {fault.Bowl, fault.Spread, fault.Layered, fault.Topped},
	treat.RoleLayer:   {fault.Bowl, fault.Spread, fault.Layered, fault.Topped},
	treat.RoleDab:     {fault.Bowl},
	treat.RoleDrizzle: {fault.Bowl, fault.Lined, fault.Topped},
}

// Standing is what there is of a batch at a step of it.
type Standing struct {
	Ways  []fault.Way    // that the step has to do with
	Each  si.Grams       // of chocolate on one unit, when the step is done
	Full  bool           // something else is in or on it
	Mix   si.Grams       // of what is stirred together or boiled, in all
	Begun int            // units, where they are counted
	Of    reason.Several // what a unit is; empty: a piece
	To    int            // units that make a piece
	Spare int            // units that may be lost before a piece is
}

// Stands at a step, with what its steps take from bowls; false where the card has no such step.
func (c *Card) Stands(step ident.Step, draws map[ident.Step]*ledger.Draw) (Standing, bool) {
	at := slices.IndexFunc(c.Steps, func(s Step) bool { return s.ID == step })
	if at < 0 {
		return Standing{}, false
	}
	of := c.Steps[at].of()
	for i := range c.Steps { // the last of its rounds
		if c.Steps[i].of() == of {
			at = i
		}
	}
	begun := map[ident.Step]bool{}
	out := Standing{Ways: c.Ways, Begun: c.Start, To: 1}
	for i := range c.Steps[:at+1] {
		begun[c.Steps[i].of()] = true
		out.Full = out.Full || c.Steps[i].Fills
	}
	if list := handsOn[c.Steps[at].Role]; list != nil {
		out.Ways = slices.DeleteFunc(slices.Clone(c.Ways), func(w fault.Way) bool { return !slices.Contains(list, w) })
	}
	var on si.Grams
	for i := range c.Steps {
		if d := draws[c.Steps[i].ID]; d != nil && begun[c.Steps[i].of()] {
			on += d.Applied - d.Trimmed
		}
	}
	for _, m := range c.Mixes {
		out.Mix += si.Grams(m.Make.Amount)
	}
	for _, x := range c.Stages {
		end := slices.IndexFunc(c.Steps, func(s Step) bool { return s.of() == x.Step })
		if end >= 0 && end < at && c.Steps[end].of() != of {
			continue
		}
		if out.Begun = x.Begin; slices.Contains(c.Ways, fault.Halves) && x.Of != reason.Several(c.Sold) &&
			x.Begin >= 2*c.Start {
			out.Of, out.To, out.Spare = x.Of, 2, x.Begin-2*c.Start
		}
		break
	}
	if out.Begun > 0 {
		out.Each = on.By(float64(out.Begun))
	}
	return out, true
}

// of is the step of the formula that it is, or a round of.
func (s *Step) of() ident.Step {
	if s.Round != nil {
		return s.Round.Of
	}
	return s.ID
}

// Lost pieces, where so many units of a stage were lost before and so many are now: those that are spare do not count.
func (s Standing) Lost(before, now int) int {
	pieces := func(units int) int { return (max(units-s.Spare, 0) + s.To - 1) / s.To }
	return pieces(before+now) - pieces(before)
}
