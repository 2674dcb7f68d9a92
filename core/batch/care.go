package batch

import (
	"slices"
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// care are the cautions for whoever makes it (rules 7).
func (s *steps) care(c *Card) []reason.Reason {
	list := []reason.Reason{}
	own := s.law.Care(s.f, s.k)
	has := func(of family.Caution) bool { return slices.Contains(own, of) }
	if has(family.BoilsSugar) {
		list = append(list, reason.Of("batch.boiling-sugar-sticks-and-burns"))
	}
	if slices.ContainsFunc(c.Pots, func(p Pot) bool { return p.Tempering.Bursts == nil }) {
		list = append(list, reason.Of("batch.steam-burns-and-steam-water"))
	}
	if !slices.Contains(c.Diets, food.NoAlcohol) && slices.ContainsFunc(c.Needs,
		func(n Need) bool { i := s.k.Ingredients[n.Ingredient]; return i.HasAlcohol() }) {
		list = append(list, reason.Of("batch.contains-alcohol-say-so-on"))
	}
	if has(family.WetInside) {
		list = append(list, reason.Of("batch.syrup-sauce-cream-or-spirit"))
	}
	if has(family.PicksOut) {
		list = append(list, reason.Of("batch.picks-come-out-or-declared"))
	}
	if has(family.SticksStay) {
		list = append(list, reason.Of("batch.sticks-are-sold-with-it"))
		if !slices.ContainsFunc(s.f.Packs, func(p treat.Pack) bool { return p.Making }) {
			list = append(list, reason.Of("batch.sticks-are-not-counted"))
		}
	}
	if _, ages := s.law.Ages(s.f, s.k); ages {
		list = append(list, reason.Of("batch.its-centre-has-cream-in", reason.Int(c.Keeps/24)))
	}
	if has(family.HoldCold) || slices.ContainsFunc(c.Needs, func(
		n Need) bool {
		return s.k.Ingredients[n.Ingredient].Kind == food.KindDairy
	}) {
		list = append(list, reason.Of("batch.cream-butter-rich-and-cut", family.HeldCold))
	}
	for _, w := range s.f.Steps {
		if at := s.k.Celsius(w.Spot); w.Pot != "" && w.Wait > 0 && at > chocolate.WarmestToSet {
			list = append(list, reason.Of("batch.sets-where-it-is-too-warm", reason.Name(w.Name),
				reason.Name(s.k.SpotName(w.Spot)), reason.Celsius(at)))
		}
	}
	if hollow, inside := s.law.Hollow(s.f); inside {
		for _, d := range s.f.Designs() {
			if fills, _ := family.Fills(s.f, s.k, &d); fills > hollow+1e-9 {
				list = append(list, reason.Of("batch.over-the-brim", measure.Show(measure.Of(fills, measure.Millilitre),
					measure.Substance{}), measure.Show(measure.Of(hollow, measure.Millilitre), measure.Substance{})))
				break
			}
		}
	}
	list = append(list, s.designsAsked()...)
	if early, is := s.washedEarly(); is {
		list = append(list, early)
	}
	if has(family.HotMilk) {
		list = append(list, reason.Of("batch.serve-bombs-with-milk-at", family.MilkForBombs))
	}
	return list
}

// designsAsked are the designs that do not suit what they are to, each with what is in the way.
func (s *steps) designsAsked() []reason.Reason {
	var list []reason.Reason
	for i := range s.f.Finishes {
		d := &s.f.Finishes[i]
		if len(d.FreeFrom)+len(d.Wishes) == 0 {
			continue
		}
		made := s.madeOf(d)
		in := func(way func(of *food.Ingredient) bool) (names []string) {
			for n := range made {
				if way(&made[n]) {
					names = append(names, made[n].Name)
				}
			}
			return names
		}
		for _, wish := range d.Wishes {
			if names := in(func(of *food.Ingredient) bool { return !of.Suits(wish) }); len(names) > 0 {
				list = append(list, reason.Of("batch.design-does-not-suit", reason.Name(d.Name), reason.Word(wish),
					reason.Names(names)))
			}
		}
		for _, free := range d.FreeFrom {
			if names := in(func(of *food.Ingredient) bool {
				return slices.ContainsFunc(of.Allergens, func(a string) bool { return food.ViolatesFreeFrom(a, free) })
			}); len(names) > 0 {
				list = append(list, reason.Of("batch.design-is-not-free-from", reason.Name(d.Name), reason.Name(free),
					reason.Names(names)))
			}
		}
	}
	return list
}

// washedDay is how long washed fruit may lie before it is dipped: never before the day (rules 2.2, common practice).
const washedDay si.Minutes = 12 * 60

// washedEarly tells where fruit can be washed long before it is dipped: it softens fast.
func (s *steps) washedEarly() (reason.Reason, bool) {
	from := slices.IndexFunc(s.f.Steps, func(w treat.StepTemplate) bool {
		return slices.ContainsFunc(w.Prepare, func(p treat.Preparation) bool {
			of, ok := family.Prepared(s.f, s.k, p)
			return ok && p.How == treat.Wash && s.k.Ingredients[of].Kind == food.KindFruit
		})
	})
	if from < 0 {
		return reason.Reason{}, false
	}
	var gap si.Minutes
	for _, w := range s.f.Steps[from+1:] {
		if w.Beside != "" {
			continue
		}
		if w.Latest == nil {
			gap = washedDay + 1
			break
		}
		if gap += *w.Latest; w.Pot != "" {
			break
		}
	}
	if gap <= washedDay {
		return reason.Reason{}, false
	}
	return reason.Of("batch.washed-early", reason.Name(s.f.Steps[from].Name)), true
}

// creamy tells whether it has cream, milk or something as wet of them in it that was not boiled: it stays cold (FDA Food
// Code 3-501.16).
func (s *steps) creamy() bool {
	if _, ages := s.law.Ages(s.f, s.k); ages {
		return true
	}
	if slices.Contains(s.law.Care(s.f, s.k), family.BoilsSugar) {
		return false
	}
	return slices.ContainsFunc(s.needs.needs, func(n Need) bool {
		of := s.k.Ingredients[n.Ingredient]
		return n.Goes() && of.Kind == food.KindDairy && of.Wet()
	})
}

// kept is how it is kept: as the seller says, or what follows from what is in it: cold where it is creamy, fresh fruit
// and all else cool and dry (common practice).
func (s *steps) kept() Kept {
	k := Kept{Where: treat.CoolDry}
	if s.creamy() {
		k.Where = treat.InFridge
	}
	said := s.f.Kept
	if said != nil && said.Where != "" {
		k.Where = said.Where
	}
	hours := reason.Hours(s.keeps())
	switch k.Where {
	case treat.InFridge:
		k.Text = append(k.Text, reason.Of("batch.kept-cold", hours, family.HeldCold))
	case treat.InTin:
		k.Text = append(k.Text, reason.Of("batch.kept-in-a-tin", hours))
	default:
		k.Text = append(k.Text, reason.Of("batch.kept-cool-and-dry", hours))
	}
	if said != nil && said.Frozen > 0 {
		k.Text = append(k.Text, reason.Of("batch.kept-frozen", reason.Int(said.Frozen)))
		if said.Thaw > 0 {
			k.Text = append(k.Text, reason.Of("batch.thaws", reason.Minutes(said.Thaw)))
		}
	}
	if k.Where != treat.InFridge && s.creamy() {
		k.Text = append(k.Text, reason.Of("batch.kept-warmer-than-usual", family.HeldCold))
	}
	if day := s.until(); day != "" {
		k.Text = append(k.Text, reason.Of("batch.kept-until", reason.Day(day)))
	}
	return k
}

// until is the last day on which all that was made ahead and is taken is good; empty: it keeps, or nothing is taken.
func (s *steps) until() (day string) {
	for i := range s.mixes {
		if of := s.mixes[i].Until; of != "" && (day == "" || of < day) {
			day = of
		}
	}
	return day
}
