package family

import (
	"fmt"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// Check finds every fault of a formula, against the ingredients, mixes and supplies (names by id) of the kitchen.
// The error is an *invalid.Error with JSON paths from the formula.
func Check(f *treat.Formula, k *treat.Kitchen, supplies map[string]string) error {
	c := &Checking{F: f, K: k}
	law, ok := Of(f.Family)
	if !ok {
		c.Add("family", fmt.Sprintf("%q is not a family we can compute: choose one of %s.", f.Family, words(All())))
		return c.Err()
	}
	c.law = law
	if !(f.Loss >= 0 && f.Loss <= 0.9) {
		c.Add("loss", "The loss must be between 0 and 90 %: beyond that, mend the recipe before you sell it.")
	}
	if f.Keeps < 1 || f.Keeps > 24*365 {
		c.Add("keeps", "It must keep at least 1 hour and at most a year.")
	}
	c.choices()
	c.parts()
	law.Check(c)
	c.coatings("coatings", f.Coatings, law.Roles())
	if main := law.Main(); main != "" && !f.Has(main) {
		c.Add("coatings", fmt.Sprintf("A %s needs a chocolate for its %s.", f.Family, main))
	}
	c.portions("portions", f.Portions)
	c.finishes()
	c.packs(supplies)
	c.steps()
	if c.Err() == nil {
		c.fits()
	}
	return c.Err()
}

// parts that the family does not have are not passed over: they would say something that nothing follows from.
func (c *Checking) parts() {
	is, lay := c.law.Traits(), c.law.Lay(c.F)
	for _, x := range []struct {
		path string
		odd  bool
	}{
		{"centre", c.F.Centre != nil && is.Centre == ""},
		{"shell", c.F.Shell != nil && lay.Moulds == nil},
		{"mould", c.F.Mould != nil && lay.Moulds == nil},
		{"sheet", c.F.Sheet != nil && lay.Sheet == nil},
	} {
		if x.odd {
			c.Add(x.path, fmt.Sprintf("A %s has no %s: leave it out.", is.Word, x.path))
		}
	}
}

// Checking collects the faults of one formula.
type Checking struct {
	invalid.Faults
	F   *treat.Formula
	K   *treat.Kitchen
	law Law
}

func words[T ~string](list []T) string {
	text := make([]string, len(list))
	for i, w := range list {
		text[i] = string(w)
	}
	return strings.Join(text[:len(text)-1], ", ") + " or " + text[len(text)-1]
}

func (c *Checking) choices() {
	for id, made := range c.F.Choices {
		known := false
		for _, choice := range c.law.Choices(c.F.Choices) {
			if choice.ID != id {
				continue
			}
			known = true
			if !slices.ContainsFunc(choice.Options, func(o Option) bool { return o.ID == made }) {
				c.Add("choices."+id, fmt.Sprintf("%q is not one of the ways: choose one of those offered.", made))
			}
		}
		if !known {
			c.Add("choices."+id, fmt.Sprintf("A %s has no choice %q.", c.F.Family, id))
		}
	}
}

// length that must be there and is at most so many mm.
func (c *Checking) length(path string, q *measure.Quantity, most float64) bool {
	if q == nil {
		c.Add(path, "This size is missing: write a length, such as 3.5 mm or 2 1/2 in.")
		return false
	}
	if err := q.Check(measure.Length); err != nil {
		c.Under(path, err)
		return false
	}
	if treat.Millimetres(*q) > most {
		c.Add(path, fmt.Sprintf("More than %s is too much here: check the unit.", show(measure.Of(most, measure.Millimetre))))
		return false
	}
	return true
}

func show(q measure.Quantity) string { return measure.Show(q, measure.Substance{}).Metric }

func (c *Checking) moulds(path string, cavities, moulds, atMost int) {
	if cavities < 1 || cavities > 500 {
		c.Add(path+".cavities", "A mould has at least 1 cavity and at most 500.")
	}
	if moulds < 1 || moulds > 100 {
		c.Add(path+".moulds", "At least 1 mould is needed, and at most 100.")
	}
	if atMost < 0 || atMost > 100 {
		c.Add(path+".atMost", "It uses between 1 and 100 moulds at a time: leave it empty for all that there are.")
	}
}

// counted centres: fruit and pretzels, dipped by the piece and bought by weight.
func (c *Checking) counted(what string) {
	s := c.F.Centre
	if s == nil {
		c.Add("centre", "A "+what+" and the share of it that is fit to dip.")
		return
	}
	if s.Share != 0 && !(s.Share > 0 && s.Share <= 1) {
		c.Add("centre.share", "The share fit to dip must be more than 0 and at most 100 %.")
	}
	of, ok := c.K.Item(s.Of)
	switch {
	case !ok || of.Food == nil:
		c.Add("centre.of", "This is not in the larder: choose an ingredient that is, or add it there first.")
	case s.Size != "" && of.Substance.Measures[s.Size] <= 0:
		c.Add("centre.size", fmt.Sprintf("%s has no size %q: choose one of its own measures, or add it in the larder.", of.Name, s.Size))
	case s.Size == "" && of.Substance.GramsEach <= 0:
		c.Add("centre.of", of.Name+" has no weight per piece: enter it in the larder, since it is dipped by the piece and bought by weight.")
	}
	if s.Across != nil {
		c.length("centre.across", s.Across, 100)
	}
	if s.Length != nil {
		c.length("centre.length", s.Length, 500)
	}
}

// centre that is weighed or poured: an ingredient or a mix. volume asks for its density as well.
func (c *Checking) poured(what string, volume bool) (treat.Item, bool) {
	if c.F.Centre == nil {
		c.Add("centre", what)
		return treat.Item{}, false
	}
	of, ok := c.K.Item(c.F.Centre.Of)
	if !ok {
		c.Add("centre.of", "This is not in the larder, nor a mix of yours: choose one that is, or add it first.")
		return of, false
	}
	if of.Unit != measure.Gram {
		c.Add("centre.of", of.Name+" is kept by the piece: a centre is made of something that is weighed.")
		return of, false
	}
	if volume && of.Substance.Density <= 0 {
		c.Add("centre.of", (&measure.MissingProperty{From: measure.Volume, To: measure.Mass, Property: "density of " + of.Name}).Error())
		return of, false
	}
	return of, true
}

func (c *Checking) sheet(what string) bool {
	s := c.F.Sheet
	if s == nil {
		c.Add("sheet", fmt.Sprintf("A %s needs its sheet or pan: length, width and depth.", what))
		return false
	}
	right := c.length("sheet.length", &s.Length, 2000)
	right = c.length("sheet.width", &s.Width, 2000) && right
	right = c.length("sheet.depth", &s.Depth, 200) && right
	return right
}

func (c *Checking) portions(path string, list []treat.Portion) {
	for i, p := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		if p.Where != treat.In && p.Where != treat.On {
			c.Add(path+".where", "Say where it goes: in or on.")
		} else if p.Where == treat.In && !c.law.Traits().Inside {
			c.Add(path+".where", fmt.Sprintf("Nothing goes inside a %s beside its centre: put it on top, or into the mix.", c.F.Family))
		}
		known, ok := c.K.Item(p.Ingredient)
		if !ok {
			c.Add(path+".ingredient", "This is not in the larder, nor a mix of yours: choose one that is, or add it first.")
			continue
		}
		if _, err := known.Base(p.Each); err != nil {
			c.Add(path+".each", known.Name+": "+err.Error())
		}
	}
}

func (c *Checking) finishes() {
	if len(c.F.Finishes) > 0 && !c.law.Traits().Designs {
		c.Add("finishes", "A sheet or pan is one design: make another treat for another one.")
		return
	}
	if len(c.F.Finishes) > 12 {
		c.Add("finishes", "A set has at most 12 designs.")
	}
	names := map[string]bool{}
	for i, d := range c.F.Finishes {
		path := fmt.Sprintf("finishes[%d]", i)
		name := strings.ToLower(strings.TrimSpace(d.Name))
		if name == "" || len([]rune(name)) > 60 || names[name] {
			c.Add(path+".name", "Every design has a name of its own, of at most 60 letters.")
		}
		names[name] = true
		if d.Parts < 1 || d.Parts > 1000 {
			c.Add(path+".parts", "A design has at least 1 piece of the set, and at most 1000.")
		}
		roles := []treat.Role{treat.RoleDrizzle}
		if slices.Contains(c.law.Roles(), treat.RoleCoat) {
			roles = append(roles, treat.RoleCoat)
		}
		c.coatings(path+".coatings", d.Coatings, roles)
		c.portions(path+".portions", d.Portions)
	}
}

func (c *Checking) packs(supplies map[string]string) {
	for i, p := range c.F.Packs {
		path := fmt.Sprintf("packs[%d]", i)
		if _, ok := supplies[p.Supply]; !ok {
			c.Add(path+".supply", "This packaging is not in the larder: choose one that is, or add it there first.")
		}
		if d, ok := p.Amount.Unit.Dimension(); !ok {
			c.Add(path+".amount", (&measure.UnknownUnit{Unit: p.Amount.Unit}).Error())
		} else if d != measure.Count && d != measure.Length {
			c.Add(path+".amount", "Packaging is counted or measured by length: use each or cm.")
		} else if !(p.Amount.Amount > 0) || p.Amount.Amount > 1e6 {
			c.Add(path+".amount", "The amount must be more than 0.")
		}
		if p.Per < 1 || p.Per > 10000 {
			c.Add(path+".per", "It must serve at least 1 and at most 10 000 pieces.")
		}
	}
}

func (c *Checking) steps() {
	f := c.F
	if len(f.Steps) == 0 || len(f.Steps) > 50 {
		c.Add("steps", "A treat is made in at least 1 step and at most 50.")
	}
	at := map[string]int{}
	for i, s := range f.Steps {
		at[s.ID] = i
	}
	ids, hands, parts := map[string]bool{}, 0.0, map[treat.Role]float64{}
	for i, s := range f.Steps {
		path := fmt.Sprintf("steps[%d]", i)
		if s.ID == "" || len(s.ID) > 40 || ids[s.ID] {
			c.Add(path+".id", "Every step has a short name of its own.")
		}
		ids[s.ID] = true
		if s.Name == "" || len(s.Name) > 200 {
			c.Add(path+".name", "Say what is done, in at most 200 letters.")
		}
		for name, minutes := range map[string]float64{"perBatch": s.PerBatch, "perRound": s.PerRound, "perPiece": s.PerPiece} {
			if !(minutes >= 0 && minutes <= 1440) {
				c.Add(path+"."+name, "Minutes are between 0 and 1440.")
			}
			hands += minutes
		}
		if !slices.Contains([]string{"", "counter", "fridge", "freezer"}, s.Place) {
			c.Add(path+".place", fmt.Sprintf("%q is no place where it can wait: choose counter, fridge or freezer.", s.Place))
		}
		if s.Wait < 0 || s.Wait > 7*1440 {
			c.Add(path+".wait", "Waiting is between 0 minutes and a week.")
		}
		if s.PerTray < 0 || s.PerTray > 10000 {
			c.Add(path+".perTray", "A tray holds between 1 and 10 000 pieces.")
		}
		if s.Pot != "" && !f.Has(s.Pot) {
			c.Add(path+".pot", fmt.Sprintf("The step works with the %s chocolate, which the treat does not have.", s.Pot))
		}
		for _, r := range s.Ready {
			if !f.Has(r) {
				c.Add(path+".ready", fmt.Sprintf("The %s chocolate is to be ready, which the treat does not have.", r))
			}
		}
		if s.Part != 0 && !(s.Part > 0 && s.Part <= 1) {
			c.Add(path+".part", "A step puts on more than nothing and at most all of its chocolate.")
		}
		parts[s.Pot] += s.Part
		if !(s.Loss >= 0 && s.Loss <= 0.9) {
			c.Add(path+".loss", "What is lost at a step is between 0 and 90 %.")
		} else if s.Loss > 0 && i == len(f.Steps)-1 {
			c.Add(path+".loss", "What is lost at the last step is the loss of the whole treat: write it there.")
		}
		if s.Alone && i == 0 {
			c.Add(path+".alone", "There is no step before the first one.")
		}
		if s.Earliest < 0 || s.Earliest > 7*1440 {
			c.Add(path+".earliest", "The gap before a step is between 0 minutes and a week.")
		}
		if s.Latest != nil && *s.Latest < s.Earliest {
			c.Add(path+".latest", fmt.Sprintf("The gap ends before it begins: at most %d minutes is less than at least %d. Change one of the two.", *s.Latest, s.Earliest))
		}
		if s.Until != "" {
			end, ok := at[s.Until]
			if !ok || end < i {
				c.Add(path+".until", "The moulds are held until a step that comes later: name one of those.")
			}
		}
		for n, a := range s.Adds {
			if a != treat.AddsCentre && a != treat.AddsIn && a != treat.AddsOn {
				c.Add(fmt.Sprintf("%s.adds[%d]", path, n), "What goes in at a step is the centre, what is in it, or what is on it.")
			}
		}
	}
	for role, part := range parts {
		if role != "" && part > 1+1e-9 {
			c.Add("steps", fmt.Sprintf("The steps put on more of the %s chocolate than there is: their parts come to %s.", role, measure.Percent(part)))
		}
	}
	if len(f.Steps) > 0 && hands == 0 {
		c.Add("steps", "All steps take no time: enter the hands-on minutes.")
	}
}

// fits checks that what goes inside has room there. What has no density cannot be checked, and the card says so.
func (c *Checking) fits() {
	room, hollow := c.law.Room(c.F)
	if !hollow {
		return
	}
	for _, d := range c.F.Designs() {
		if fills, _ := Fills(c.F, c.K, &d); fills > room+1e-9 {
			c.Add("portions", fmt.Sprintf("What goes inside fills %s, and the hollow holds %s: take less, a thinner wall, or a larger mould.",
				show(measure.Of(fills, measure.Millilitre)), show(measure.Of(room, measure.Millilitre))))
			return
		}
	}
}

// counted is the mass of a centre that is counted: of its size class, or its usual weight.
func counted(f *treat.Formula, k *treat.Kitchen) float64 {
	of, _ := k.Item(f.Centre.Of)
	if f.Centre.Size != "" {
		return of.Substance.Measures[f.Centre.Size]
	}
	return of.Substance.GramsEach
}

// coated is the size of a centre across and the thickness of its coat, taken as a ball.
func coated(f *treat.Formula, across float64) Sizes {
	s := Sizes{Across: across}
	if c, ok := f.Coating(&f.Designs()[0], treat.RoleCoat); ok {
		s.Wall = treat.CoatThickness(across, treat.Grams(c.Each), chocolate.Density)
	}
	return s
}
