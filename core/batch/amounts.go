package batch

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// This file has what goes in at each step: amounts in all, by design and by piece, and how mixes are made.

// amounts that go in at a step, readable.
func (s *steps) amounts(w *worked) []reason.Reason {
	for _, was := range s.said[w.step] {
		if was.kind == w.kind && slices.Equal(was.units, w.units) {
			return was.lines
		}
	}
	lines := s.linesOf(w)
	s.said[w.step] = append(s.said[w.step], told{w.kind, w.units, lines})
	return lines
}

func (s *steps) linesOf(w *worked) []reason.Reason {
	work, lines := &s.f.Steps[w.step], []reason.Reason{}
	for _, p := range work.Prepare {
		lines = append(lines, s.prepared(p)...)
	}
	if slices.Contains(work.Adds, treat.AddsCentre) {
		lines = append(lines, s.centred(w)...)
	}
	if w.kind != nil {
		lines = append(lines, s.coatedIn(w))
	}
	if w.draw != nil {
		lines = append(lines, drawn(w.draw)...)
	}
	for _, adds := range []treat.Adds{treat.AddsIn, treat.AddsOn} {
		if slices.Contains(work.Adds, adds) {
			lines = append(lines, s.added(w, treat.Where(adds))...)
		}
	}
	return lines
}

func amountOf(shown measure.Shown, name string) reason.Reason {
	return reason.Of("batch.amount-of", shown, reason.Name(name), measure.Other{Shown: shown})
}

// prepared is how much a preparation is of, and in what.
func (s *steps) prepared(p treat.Preparation) []reason.Reason {
	of, ok := family.Prepared(s.f, s.k, p)
	if !ok {
		return nil
	}
	known := s.item(of)
	times, all := s.bathed(p)
	if p.How != treat.Wash { // only what is fit is worked on
		if n := slices.IndexFunc(s.needs.needs, func(x Need) bool { return x.Ingredient == of }); n >= 0 {
			all = known.Show(s.needs.needs[n].Used.Amount * s.needs.needs[n].fit)
		}
	}
	if n := slices.IndexFunc(s.mixes, func(m Mixed) bool { return m.Mix == of }); n >= 0 {
		all = measure.Show(measure.Grams(si.Grams(s.mixes[n].Make.Amount)+s.mixes[n].OfLarder()), known.Substance)
	}
	lines := []reason.Reason{reason.Of("batch.prepare", reason.Word("prepare."+string(p.How)), all,
		reason.Name(known.Name))}
	if times == 0 {
		return lines
	}
	parts := make(reason.Series, len(p.Bath))
	for i, part := range p.Bath {
		parts[i] = reason.Of("batch.part-of-mix", show(part.Amount), reason.Name(s.item(part.Of).Name))
	}
	if times == 1 {
		return append(lines, reason.Of("batch.bath", parts))
	}
	return append(lines, reason.Of("batch.baths", parts, reason.Int(times), show(*p.Covers)))
}

// centred is what the centres take.
func (s *steps) centred(w *worked) []reason.Reason {
	var lines []reason.Reason
	units := sum(w.units)
	if s.is.Picked {
		if s.f.Centre == nil {
			return nil
		}
		return []reason.Reason{reason.Of("batch.fit-ones", reason.Int(int(sum(s.at(w.step)))), reason.Int(s.buy),
			reason.Name(strings.ToLower(s.item(s.f.Centre.Of).Name)))}
	}
	for _, of := range s.f.Centres() {
		var mass si.Grams
		var own []reason.Reason
		for i, d := range s.f.Designs() {
			if c := s.f.CentreOf(&d); c == nil || c.Of != of || w.units[i] == 0 {
				continue
			}
			each := s.law.Centre(s.f, s.k, &d)
			mass += each.Times(w.units[i])
			if d.Centre != nil {
				own = append(own, reason.Of("batch.design-centre", reason.Name(d.Name), reason.Int(int(w.units[i])),
					measure.ShowGrams(each), reason.Name(s.item(of).Name)))
			}
		}
		if mass == 0 {
			continue
		}
		known := s.item(of)
		lines = append(lines, amountOf(measure.Show(measure.Grams(mass), known.Substance), known.Name))
		if s.is.Thick && units > 0 && len(own) == 0 {
			lines = append(lines, reason.Of("batch.centres", reason.Int(int(units)), measure.ShowGrams(mass.By(units))))
		}
		lines = append(lines, own...)
		if known.Mix != nil && units > sum(s.at(w.step))-1e-9 {
			lines = append(lines, s.recipes(known.ID)...)
		}
	}
	if boil := s.boil(); boil != nil && s.f.Steps[w.step].Pot == "" {
		lines = append(lines, boil.Text)
	}
	return lines
}

// coatedIn is how much of its chocolate goes on: in all, and on each where that is the same.
func (s *steps) coatedIn(w *worked) reason.Reason {
	part, _ := s.partOf(w.step)
	var applied, each si.Grams
	alike := true
	for d, units := range w.units {
		if units == 0 {
			continue
		}
		one := s.coating(s.f.Steps[w.step].Pot, d, w.kind).coat.Stays.Times(part)
		applied += one.Times(units)
		alike = alike && (each == 0 || each == one)
		each = one
	}
	shown, name := measure.Show(measure.Grams(applied), measure.Substance{}), s.item(w.kind.pot.Ingredient).Name
	if sum(w.units) <= 1 || !alike {
		return amountOf(shown, name)
	}
	return onEach(treat.On, shown, name, measure.ShowGrams(each), s.is.Unit)
}

// onEach is an amount in all and by the unit.
func onEach(where treat.Where, all measure.Shown, name string, each measure.Shown, unit reason.Word) reason.Reason {
	if where == treat.In {
		return reason.Of("batch.amount-in-each", all, reason.Name(name), measure.Other{Shown: all}, each, unit)
	}
	return reason.Of("batch.amount-on-each", all, reason.Name(name), measure.Other{Shown: all}, each, unit)
}

// added is what goes in or on: of what all designs have in all and by the unit, and of what one has by the unit of it.
func (s *steps) added(w *worked, where treat.Where) []reason.Reason {
	var lines []reason.Reason
	designs := s.f.Designs()
	for _, p := range s.f.Portions {
		if p.Where != where {
			continue
		}
		known, all, each, alike := s.item(p.Ingredient), 0.0, 0.0, true
		var says measure.Quantity
		for i, d := range designs {
			if w.units[i] == 0 {
				continue
			}
			base := s.each(d, p)
			alike = alike && (each == 0 || each == base)
			all, each, says = all+base*w.units[i], base, family.Each(s.f, s.k, &d, p)
		}
		switch {
		case all == 0:
			continue
		case sum(w.units) > 1 && alike:
			lines = append(lines, onEach(where, known.Show(all), known.Name, measure.Show(says, known.Substance),
				s.is.Unit))
		default:
			lines = append(lines, amountOf(known.Show(all), known.Name))
		}
	}
	for i, d := range designs {
		var parts reason.Series
		for _, p := range d.Portions {
			if p.Where == where && w.units[i] > 0 {
				known := s.item(p.Ingredient)
				parts = append(parts, reason.Of("batch.part-of-mix",
					measure.Show(family.Each(s.f, s.k, &d, p), known.Substance), reason.Name(known.Name)))
			}
		}
		if len(parts) > 0 {
			name, units := reason.Name(d.Name), reason.Int(int(math.Round(w.units[i])))
			if where == treat.In {
				lines = append(lines, reason.Of("batch.design-in", name, units, parts))
			} else {
				lines = append(lines, reason.Of("batch.design-on", name, units, parts))
			}
		}
	}
	if where == treat.On {
		for _, b := range s.beds() {
			name, made := reason.Name(b.of.Name), b.of.Show(b.taken+b.left)
			taken, left := b.of.Show(b.taken), b.of.Show(b.left)
			if b.lost {
				lines = append(lines, reason.Of("batch.bed-lost", name, made, taken, left))
			} else {
				lines = append(lines, reason.Of("batch.bed", name, made, taken, left))
			}
		}
	}
	// What is a mix is made for it.
	for _, p := range s.f.AllPortions() {
		if known := s.item(p.Ingredient); known.Mix != nil && p.Where == where && w.round == 0 && w.part == 0 {
			lines = append(lines, s.recipes(known.ID)...)
		}
	}
	return lines
}

// recipes of a mix and of those that it is made of, for the batch, readable, in the order in which they are made.
func (s *steps) recipes(id ident.Ingredient) []reason.Reason {
	lines := []reason.Reason{}
	for _, m := range s.mixes {
		if !slices.Contains(s.k.Uses(id), m.Mix) {
			continue
		}
		if m.Ahead != nil {
			lines = append(lines, madeAhead(&m))
		}
		if m.Make.Amount <= nothing {
			continue
		}
		parts := make(reason.Series, len(m.Parts))
		for i, p := range m.Parts {
			parts[i] = reason.Of("batch.part-of-mix", p.Amount, reason.Name(p.Name))
		}
		lines = append(lines, reason.Of("batch.mix-of", reason.Name(m.Name), parts))
		for _, melt := range s.melts(m) {
			lines = append(lines, reason.Of("batch.mix-melt", measure.ShowGrams(melt.grams), reason.Name(melt.name),
				reason.Minutes(melt.hands), melt.how))
		}
		lines = append(lines, methodOf(s.k.Mixes[m.Mix].Method)...)
	}
	return lines
}

// nothing is less than this much of a mix, in g: what is left of sums of floating point numbers.
const nothing = 1e-6

// madeAhead is what of a mix is taken out of the larder.
func madeAhead(m *Mixed) reason.Reason {
	if m.Until == "" {
		return reason.Of("batch.take-what-was-made-ahead", *m.Ahead, reason.Name(m.Name))
	}
	return reason.Of("batch.take-what-was-made-ahead-until", *m.Ahead, reason.Name(m.Name), reason.Day(m.Until))
}

// made is whether a step makes nothing any more: that at which the mix of the centre is made, where all of it was made
// ahead.
func (s *steps) made(w *worked) bool {
	if s.is.Makes == "" || s.f.Steps[w.step].ID != s.is.Makes {
		return false
	}
	for _, m := range s.mixes {
		for _, id := range s.f.Centres() {
			if m.Mix == id && m.Make.Amount > nothing {
				return false
			}
		}
	}
	return len(s.f.Centres()) > 0
}

// takenOut is how many minutes of hands it takes to get out what was made ahead (memory).
const takenOut si.Minutes = 2

// mixMelt is chocolate that is melted for a mix: hidden in it, it need not be tempered.
type mixMelt struct {
	name  string
	grams si.Grams
	hands si.Minutes
	how   reason.Text
}

func (s *steps) melts(m Mixed) []mixMelt {
	var list []mixMelt
	for i, p := range s.k.Mixes[m.Mix].Parts {
		known := s.item(p.Of)
		if !p.Melted || known.Food == nil || known.Food.Chocolate == nil || m.Make.Amount <= nothing {
			continue
		}
		of, grams := *known.Food.Chocolate, si.Grams(m.Parts[i].Amount.Amount) // chocolate is kept in grams
		source := cmp.Or(s.k.Source, chocolate.Microwave)
		bands := of.Temperatures()
		pot := ledger.Pot{Ingredient: p.Of, Method: chocolate.NoTemper,
			Work: chocolate.Working(chocolate.NoTemper, of.Kind, bands), Source: source}
		list = append(list, mixMelt{known.Name, grams, si.WholeMinutes(Melting(pot, of, 0, grams, s.k.AirTemp).Hands),
			chocolate.Temper(chocolate.NoTemper, of.Kind, bands, source, grams, s.k.AirTemp).Steps[:1]})
	}
	return list
}

// mixing is the minutes of hands that melting for the mixes of a step takes: of those that are made at it.
func (s *steps) mixing(w *worked) (minutes si.Minutes) {
	if w.round > 0 || w.part > 0 {
		return 0
	}
	var made []ident.Ingredient
	work := &s.f.Steps[w.step]
	if slices.Contains(work.Adds, treat.AddsCentre) {
		made = append(made, s.f.Centres()...)
	}
	for _, p := range s.f.AllPortions() {
		if slices.Contains(work.Adds, treat.Adds(p.Where)) {
			made = append(made, p.Ingredient)
		}
	}
	for _, m := range s.mixes {
		if slices.ContainsFunc(made, func(id ident.Ingredient) bool { return slices.Contains(s.k.Uses(id), m.Mix) }) {
			for _, melt := range s.melts(m) {
				minutes += melt.hands
			}
		}
	}
	return minutes
}

// methodOf a mix, line by line as the seller wrote it.
func methodOf(text string) []reason.Reason {
	var lines []reason.Reason
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(line); line != "" {
			lines = append(lines, reason.Of("batch.method-line", reason.Name(line)))
		}
	}
	return lines
}
