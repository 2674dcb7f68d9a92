package family

import (
	"fmt"
	"iter"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// packUnits are what packaging is kept in.
var packUnits = []measure.Unit{measure.Each, measure.Millimetre, measure.Gram}

// Check finds every fault of a formula, against the ingredients, mixes and supplies of the kitchen.
// The error is an *invalid.Error with JSON paths from the formula.
func Check(f *treat.Formula, k *treat.Inputs, supplies map[ident.Supply]treat.FileSupply) error {
	c := &Checking{F: f, K: k, supplies: supplies}
	law, ok := Of(f.Family)
	if !ok {
		c.Add("family", reason.Of("family.not-family-we-can-compute", reason.Name(f.Family), oneOf(All())))
		return c.Err()
	}
	c.law = law
	if !(f.Loss >= 0 && f.Loss <= 0.9) {
		c.Add("loss", reason.Of("family.loss-must-be-between-and"))
	}
	if f.ShelfLifeHours < 1 || f.ShelfLifeHours > 24*365 {
		c.Add("keeps", reason.Of("family.must-keep-at-least-hour"))
	}
	c.choices()
	c.parts()
	law.Check(c)
	c.coatings("coatings", f.Coatings, law.Roles())
	if main := law.Main(); main != "" && !f.Has(main) {
		c.Add("coatings", reason.Of("family.needs-chocolate-for-its", reason.Name(f.Family), reason.Name(main)))
	}
	c.portions("portions", f.Portions)
	c.finishes()
	c.packs()
	c.steps()
	c.told("note", f.Note)
	c.piece()
	c.kept()
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
			c.Add(x.path, reason.Of("family.has-no-leave-out", reason.Word(Term(c.F.Family)), reason.Name(x.path)))
		}
	}
}

// Checking collects the faults of one formula.
type Checking struct {
	invalid.Faults
	F   *treat.Formula
	K   *treat.Inputs
	law Law

	supplies map[ident.Supply]treat.FileSupply
}

// any of some terms.
func oneOf[T ~string](list []T) reason.Any { return reason.Any(reason.Words(list)) }

func (c *Checking) choices() {
	for id, made := range c.F.Choices {
		known := false
		for _, choice := range c.law.Choices(c.F.Choices) {
			if choice.ID != id {
				continue
			}
			known = true
			if !slices.Contains(choice.Options, made) {
				c.Add("choices."+id, reason.Of("family.not-one-ways-choose-one", reason.Name(made)))
			}
		}
		if !known {
			c.Add("choices."+id, reason.Of("family.has-no-choice", reason.Name(c.F.Family), reason.Name(id)))
		}
	}
}

// length that must be there and is at most so many mm.
func (c *Checking) length(path string, q *measure.Quantity, most float64) bool {
	if q == nil {
		c.Add(path, reason.Of("family.this-size-missing-write-length"))
		return false
	}
	if err := q.Check(measure.Length); err != nil {
		c.Under(path, err)
		return false
	}
	if treat.Millimetres(*q) > most {
		c.Add(path, reason.Of("family.more-than-too-much-here",
			measure.Show(measure.Of(most, measure.Millimetre), measure.Substance{})))
		return false
	}
	return true
}

// cavity of moulded pieces, by its volume or by its shape; whether it holds so much that can be computed with.
func (c *Checking) cavity(m *treat.Mould) bool {
	if (m.Volume == nil) == (m.Cavity == nil) {
		c.Add("mould.volume", reason.Of("family.give-volume-or-shape-of-cavity"))
		return false
	}
	if m.Volume != nil {
		err := m.Volume.Check(measure.Volume)
		c.Under("mould.volume", err)
		return err == nil
	}
	s := m.Cavity
	if !slices.Contains(treat.Shapes(), s.Shape) {
		c.Add("mould.cavity.shape", reason.Of("family.no-such-shape", reason.Name(s.Shape), oneOf(treat.Shapes())))
		return false
	}
	right := c.length("mould.cavity.across", &s.Across, 500)
	width, foot, depth := s.Shape.Asks()
	for _, x := range []struct {
		path  string
		given *measure.Quantity
		asked bool
	}{{"width", s.Width, width}, {"foot", s.Foot, foot}, {"depth", s.Depth, depth}} {
		switch path := "mould.cavity." + x.path; {
		case x.asked:
			right = c.length(path, x.given, 500) && right
		case x.given != nil:
			c.Add(path, reason.Of("family.shape-has-no-such-size", reason.Word("shape."+s.Shape)))
			right = false
		}
	}
	if !right {
		return false
	}
	solid := s.Solid()
	if foot && solid.Foot > min(solid.Width, solid.Length) {
		c.Add("mould.cavity.foot", reason.Of("family.no-wider-at-its-foot"))
		return false
	}
	if solid.Volume() > 5000 {
		c.Add("mould.cavity.across", reason.Of("family.cavity-of-more-than", measure.Show(measure.Of(solid.Volume(),
			measure.Millilitre), measure.Substance{})))
		return false
	}
	return true
}

func (c *Checking) moulds(path string, cavities, moulds, atMost int, once ident.Supply) {
	if _, known := c.supplies[once]; once != "" && !known {
		c.Add(path+".once", reason.Of("family.this-packaging-not-in-larder"))
	}
	if cavities < 1 || cavities > 500 {
		c.Add(path+".cavities", reason.Of("family.mould-has-at-least-cavity"))
	}
	if moulds < 1 || moulds > 100 {
		c.Add(path+".moulds", reason.Of("family.at-least-mould-needed-and"))
	}
	if atMost < 0 || atMost > 100 {
		c.Add(path+".atMost", reason.Of("family.uses-between-and-moulds-at"))
	}
}

// counted centres: fruit and pretzels, dipped by the piece and bought by weight.
func (c *Checking) counted(missing reason.Reason) {
	s := c.F.Centre
	if s == nil {
		c.Add("centre", missing)
		return
	}
	if s.Share != 0 && !(s.Share > 0 && s.Share <= 1) {
		c.Add("centre.share", reason.Of("family.share-fit-to-dip-must"))
	}
	of, ok := c.K.Item(s.Of)
	switch {
	case !ok || of.Food == nil:
		c.Add("centre.of", reason.Of("family.this-not-in-larder-choose"))
	case s.Size != "" && of.Substance.Measures[s.Size] <= 0:
		c.Add("centre.size", reason.Of("family.has-no-size-choose-one", reason.Name(of.Name), reason.Name(s.Size)))
	case s.Size == "" && of.Substance.GramsEach <= 0:
		c.Add("centre.of", reason.Of("family.has-no-weight-per-piece", reason.Name(of.Name)))
	}
	if s.Across != nil {
		c.length("centre.across", s.Across, 100)
	}
	if s.Length != nil {
		c.length("centre.length", s.Length, 500)
	}
}

// centre that is weighed or poured: an ingredient or a mix. volume asks for its density as well.
func (c *Checking) poured(path string, s *treat.Centre, missing reason.Reason, volume bool) (treat.Item, bool) {
	if s == nil {
		c.Add(path, missing)
		return treat.Item{}, false
	}
	of, ok := c.K.Item(s.Of)
	if !ok {
		c.Add(path+".of", reason.Of("family.this-not-in-larder-nor"))
		return of, false
	}
	if of.Unit != measure.Gram {
		c.Add(path+".of", reason.Of("family.kept-by-piece-centre-made", reason.Name(of.Name)))
		return of, false
	}
	if volume && of.Substance.Density <= 0 {
		c.Because(path+".of", "family.density-missing", reason.Name(of.Name))
		return of, false
	}
	return of, true
}

// centres of all designs with their paths: that of the treat, where any design has it or none has its own, and those
// that designs have of their own.
func (c *Checking) centres() iter.Seq2[string, *treat.Centre] {
	return func(yield func(string, *treat.Centre) bool) {
		own := 0
		for i, d := range c.F.Finishes {
			if d.Centre == nil {
				continue
			}
			if own++; !yield(fmt.Sprintf("finishes[%d].centre", i), d.Centre) {
				return
			}
		}
		if c.F.Centre != nil || own == 0 || own < len(c.F.Finishes) {
			yield("centre", c.F.Centre)
		}
	}
}

func (c *Checking) sheet(what string) bool {
	s := c.F.Sheet
	if s == nil {
		c.Add("sheet", reason.Of("family.needs-its-sheet-or-pan", reason.Name(what)))
		return false
	}
	right := c.length("sheet.length", &s.Length, 2000)
	right = c.length("sheet.width", &s.Width, 2000) && right
	right = c.length("sheet.depth", &s.Depth, 200) && right
	return right
}

func (c *Checking) portions(path string, list []treat.Addition) {
	seen := false
	for i, p := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		if p.Where != treat.In && p.Where != treat.On {
			c.Add(path+".where", reason.Of("family.say-where-goes-in-or"))
		} else if p.Where == treat.In && !c.law.Traits().Inside {
			c.Add(path+".where", reason.Of("family.nothing-goes-inside-beside-its", reason.Name(c.F.Family)))
		}
		known, ok := c.K.Item(p.Ingredient)
		if !ok {
			c.Add(path+".ingredient", reason.Of("family.this-not-in-larder-nor"))
			continue
		}
		switch _, hollow := c.law.Hollow(c.F); {
		case !p.Rest:
			if _, err := known.Base(p.Each); err != nil {
				c.Because(path+".each", "family.of-it", reason.Name(known.Name), reason.Because(err))
			}
		case p.Where != treat.In || !hollow || c.F.Centre != nil || seen:
			c.Add(path+".rest", reason.Of("family.rest-is-filled-once"))
		default:
			seen = true
			if _, err := known.Base(measure.Of(1, measure.Millilitre)); err != nil {
				c.Because(path+".ingredient", "family.of-it", reason.Name(known.Name), reason.Because(err))
			}
		}
		if p.Bed == nil {
			continue
		}
		if p.Where != treat.On {
			c.Add(path+".bed", reason.Of("family.bed-is-to-roll-in"))
		} else if _, err := known.Base(*p.Bed); err != nil {
			c.Because(path+".bed", "family.of-it", reason.Name(known.Name), reason.Because(err))
		}
	}
}

func (c *Checking) finishes() {
	if len(c.F.Finishes) > 0 && !c.law.Traits().Designs {
		c.Add("finishes", reason.Of("family.sheet-or-pan-one-design"))
		return
	}
	if len(c.F.Finishes) > 12 {
		c.Add("finishes", reason.Of("family.set-has-at-most-designs"))
	}
	is, names := c.law.Traits(), map[string]bool{}
	for i, d := range c.F.Finishes {
		path := fmt.Sprintf("finishes[%d]", i)
		name := strings.ToLower(strings.TrimSpace(d.Name))
		if name == "" || len([]rune(name)) > 60 || names[name] {
			c.Add(path+".name", reason.Of("family.every-design-has-name-its"))
		}
		names[name] = true
		if d.Parts < 1 || d.Parts > 1000 {
			c.Add(path+".parts", reason.Of("family.design-has-at-least-piece"))
		}
		if d.Centre != nil && (is.Centre == "" || is.Picked) {
			c.Add(path+".centre", reason.Of("family.designs-share-their-centre", reason.Word(Term(c.F.Family))))
		}
		if !(d.Minutes >= 0 && d.Minutes <= 60) {
			c.Add(path+".minutes", reason.Of("family.design-takes-at-most-minutes"))
		}
		for n, a := range d.FreeFrom {
			if !slices.Contains(food.AllergenNames(), a) {
				c.Add(fmt.Sprintf("%s.freeFrom[%d]", path, n), reason.Of("family.not-an-allergen", reason.Name(a),
					reason.Series(reason.Names(food.AllergenNames()))))
			}
		}
		for n, w := range d.Wishes {
			if !slices.Contains(food.Wishes(), w) {
				c.Add(fmt.Sprintf("%s.wishes[%d]", path, n), reason.Of("family.not-a-wish", reason.Name(w),
					oneOf(food.Wishes())))
			}
		}
		c.coatings(path+".coatings", d.Coatings, c.law.Roles())
		c.portions(path+".portions", d.Portions)
	}
}

func (c *Checking) packs() {
	for i, p := range c.F.Packs {
		path := fmt.Sprintf("packs[%d]", i)
		of, known := c.supplies[p.Supply]
		if !known {
			c.Add(path+".supply", reason.Of("family.this-packaging-not-in-larder"))
		}
		if d, ok := p.Amount.Unit.Dimension(); !ok {
			c.Add(path+".amount", &measure.UnknownUnit{Unit: p.Amount.Unit})
		} else if d != measure.Count && d != measure.Length && d != measure.Mass {
			c.Add(path+".amount", reason.Of("family.packaging-counted-or-measured-by"))
		} else if !(p.Amount.Amount > 0) || p.Amount.Amount > 1e6 {
			c.Add(path+".amount", reason.Of("family.amount-must-be-more-than"))
		} else if _, err := p.Amount.In(of.Unit, measure.Substance{}); known && err != nil {
			c.Add(path+".amount", err) // a ribbon is not counted, a box not measured
		}
		if p.Per < 1 || p.Per > 10000 {
			c.Add(path+".per", reason.Of("family.must-serve-at-least-and"))
		}
	}
}

// kept is how it is kept: what has cream in it stays cold.
func (c *Checking) kept() {
	kept := c.F.Kept
	if kept == nil {
		return
	}
	if kept.Where != "" && !slices.Contains(treat.Storages(), kept.Where) {
		c.Add("kept.where", reason.Of("family.kept-one-of", oneOf(treat.Storages())))
	}
	if kept.Frozen < 0 || kept.Frozen > 104 {
		c.Add("kept.frozen", reason.Of("family.kept-frozen-at-most"))
	}
	if kept.Thaw < 0 || kept.Thaw > 2880 {
		c.Add("kept.thaw", reason.Of("family.thaws-at-most"))
	}
}

// told is a note that the seller writes.
func (c *Checking) told(path, text string) {
	if len([]rune(text)) > 1000 {
		c.Add(path, reason.Of("family.note-holds-at-most"))
	}
}

// counted is the mass of a centre that is counted: of its size class, or its usual weight.
func counted(f *treat.Formula, k *treat.Inputs) si.Grams {
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
