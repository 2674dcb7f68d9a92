package batch

import (
	"math"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// This file has the reasons for the figures of a card.

// Why is how a figure came about.
type Why = reason.Text

func grams(x si.Grams) measure.Shown { return measure.ShowGrams(x) }

func show(q measure.Quantity) measure.Shown { return measure.Show(q, measure.Substance{}) }

// percent is a share to the whole percent.
func percent(x float64) reason.Share { return reason.Share(math.Round(x*100) / 100) }

func because(code string, with ...reason.Value) Why { return Why{reason.Of(code, with...)} }

// startWhy is how many are begun, and why.
func (s *steps) startWhy() Why {
	if lay := s.lay.Sheet; lay != nil && lay.Pieces == 0 {
		want := lay.Bag.Times(float64(s.good))
		return because("batch.bags-with-spread-gives", reason.Int(s.good), measure.ShowGrams(lay.Bag),
			measure.ShowGrams(want), reason.Share(s.f.Loss), s.is.Lost, measure.ShowGrams(want.By(1-s.f.Loss)),
			s.is.Unit, measure.ShowGrams(s.sheet), s.sheetsText())
	}
	if early := slices.IndexFunc(s.stages, func(x StageOf) bool {
		return x.Step != s.f.Steps[len(s.f.Steps)-
			1].ID
	}); early >= 0 {
		var parts reason.Series
		for _, x := range s.stages {
			parts = append(parts, reason.Of("batch.which-lost-at", reason.Int(x.Begin), x.Of, reason.Share(x.Loss),
				reason.Name(s.nameOf(x.Step))))
		}
		return because("batch.good-sure-start", reason.Int(s.good), percent(s.sure), parts)
	}
	if s.f.Whole && len(s.f.Finishes) > 0 {
		return because("batch.good-at-loss-sure-that", reason.Int(s.good), reason.Share(s.f.Loss),
			reason.Share(s.k.Confidence), reason.Int(s.start))
	}
	if s.start > s.enough {
		return because("batch.good-at-loss-sure-enough", reason.Int(s.good), reason.Share(s.f.Loss),
			reason.Share(s.k.Confidence), reason.Int(s.enough), reason.Int(s.start))
	}
	text := because("batch.good-at-loss-sure-start", reason.Int(s.good), reason.Share(s.f.Loss),
		reason.Share(s.k.Confidence), reason.Int(s.start))
	if len(s.f.Finishes) > 0 {
		text.Add("batch.one-design-may-stand-in", percent(s.sureOfEach()))
	}
	return text
}

func (s *steps) nameOf(step ident.Step) string {
	return s.f.Steps[slices.IndexFunc(s.f.Steps, func(w treat.StepTemplate) bool { return w.ID == step })].Name
}

// spare is what is left over when all goes as usual.
func (s *steps) spare() reason.Reason {
	switch lay := s.lay.Sheet; {
	case lay != nil && lay.Pieces == 0:
		if left := int(s.sheet.Times(s.units*(1-s.f.Loss)).Over(lay.Bag)+1e-9) - s.good; left > 0 {
			return reason.Of("batch.whole-give-more-shop-stock", reason.Several(s.is.Unit),
				reason.Count{N: left, Of: s.is.One})
		}
		return reason.Reason{}
	case lay != nil:
		if whole := int(s.units*float64(lay.Pieces) + 1e-9); whole > s.start {
			return reason.Of("batch.whole-give-more-than-started", reason.Several(s.is.Unit), reason.Int(whole-s.start),
				reason.Several(s.is.One))
		}
	}
	if spare := int(math.Round(float64(s.start)*(1-s.f.Loss))) - s.good; spare > 0 {
		return reason.Of("batch.about-spare-when-all-goes", reason.Int(spare))
	}
	return reason.Reason{}
}

// sheetsText is how many sheets or pans, and how full the last is.
func (s *steps) sheetsText() reason.Reason {
	of := reason.Count{N: s.rounds.rounds, Of: s.is.Unit}
	if fill := s.sheetsFill(); fill.Code != allFull {
		return reason.Of("batch.sheets-and-fill", of, fill)
	}
	return reason.Of("batch.sheets", of)
}

const allFull = "batch.all-full"

func (s *steps) sheetsFill() reason.Reason {
	if part := s.units - math.Floor(s.units); part > 1e-9 {
		return reason.Of("batch.last-one-full", percent(part))
	}
	return reason.Of(allFull)
}

// littleMore is what of another sheet is hardly worth spreading it (common practice).
const littleMore = 0.1

// thicker is how deep the sheets must be so that one fewer is enough, where little of another is needed; nothing where
// that does not help.
func (s *steps) thicker() reason.Reason {
	whole := math.Floor(s.exact)
	over := s.exact - whole
	if s.lay.Sheet.Pieces > 0 || whole < 1 || over < 1e-9 || over > littleMore {
		return reason.Reason{}
	}
	var spread si.Grams
	for _, c := range s.f.Coatings {
		if c.Role == treat.RoleBase || c.Role == treat.RoleLayer {
			spread += s.law.Coat(s.f, s.k, nil, c).Stays
		}
	}
	depth := treat.Millimetres(s.f.Sheet.Depth)
	deeper := depth * (1 + s.sheet.Times(s.exact/whole-1).Over(spread))
	mm := func(x float64) measure.Shown {
		return measure.Show(measure.Of(x, measure.Millimetre), measure.Substance{})
	}
	return reason.Of("batch.a-little-thicker", percent(over), mm(math.Ceil(deeper*10)/10), mm(math.Round(depth*10)/10),
		reason.Count{N: int(whole), Of: s.is.Unit})
}

func (s *steps) roundsOf() *Rounds {
	n := s.rounds.rounds
	switch {
	case s.lay.Sheet != nil:
		r := &Rounds{Count: n, Word: s.is.Rounds, Text: s.sheetsText(), Fill: s.sheetsFill(), Why: s.startWhy()}
		if p := s.lay.Sheet.Pieces; p > 0 {
			r.Why = because("batch.cut-into", reason.Int(s.start), reason.Several(s.is.One), s.is.Unit, reason.Int(p),
				reason.Several(s.is.One), s.sheetsText())
		}
		r.Hint = s.thicker()
		return r
	case s.lay.Moulds == nil:
		return nil
	}
	m, cells := s.lay.Moulds, 0
	for _, c := range s.cells {
		cells += c
	}
	lastFill := cells - (n-1)*s.filling
	of := s.moulds
	r := &Rounds{Count: n, Word: s.is.Rounds, Text: reason.Of("batch.cavities",
		reason.Count{N: n, Of: reason.Word("round")}, reason.Int(s.filling)),
		Fill: reason.Of("batch.last-fills", reason.Int(lastFill)), Moulds: &of}
	counted := reason.Of("batch.cells", reason.Int(cells), reason.Several(m.Cells))
	if m.Each > 1 && cells == s.start*m.Each {
		counted = reason.Of("batch.pieces-are-cells", reason.Int(s.start), reason.Several(s.is.One), reason.Int(cells),
			reason.Several(m.Cells))
	}
	r.Why = because("batch.in-last-fills", counted, reason.Int(s.filling),
		reason.Count{N: of.Used, Of: reason.Word("mould")}, reason.Int(m.Cavities),
		reason.Count{N: n, Of: reason.Word("round")}, reason.Int(lastFill))
	there := of.Kitchen
	if there == 0 {
		there = of.Treat
	}
	switch {
	case of.AtMost > 0 && of.AtMost < there:
		r.Why.Add("batch.there-moulds-this-treat-uses", reason.Int(there), reason.Int(of.AtMost))
	case of.Kitchen > 0 && of.Kitchen != of.Treat:
		r.Why.Add("batch.kitchen-has-these-moulds-that", reason.Int(of.Kitchen), reason.Int(of.Treat))
	}
	// A last round of a quarter or less is hardly worth its time (common practice): say how sure one is without it.
	if without := (n - 1) * s.filling / m.Each; n > 1 && lastFill*4 <= s.filling && without >= s.good &&
		len(s.spans()) <= 2 && !s.f.Whole {
		r.Hint = reason.Of("batch.without-last-round-you-start", reason.Int(without),
			percent(SureOf(without, s.good, s.f.Loss)), reason.Int(s.good))
	}
	return r
}

func handsWhy(c *Card) Why {
	return because("batch.hands-over-melting-waiting-need", reason.Minutes(c.Hands),
		reason.Count{N: len(c.Steps), Of: reason.Word("step")}, reason.Minutes(c.Melting), reason.Minutes(c.Wait))
}

func packWhy(p treat.Pack, n int, what reason.Word, q measure.Quantity) Why {
	return because("batch.for-every", show(p.Amount), reason.Int(p.Per), reason.Int(n), what, show(q))
}

func boilOf(from, to, boiling float64) *Boil {
	band := reason.Band{From: math.Round(from*10) / 10, To: math.Round(to*10) / 10}
	return &Boil{From: from, To: to, At: reason.Of("batch.at", band),
		Text: reason.Of("batch.boil-to-soft-ball", band, reason.Celsius(43)),
		Why: because("batch.soft-ball-to-c-at", treat.SoftBall.Band(), reason.Celsius(boiling),
			reason.Warmer(100-boiling))}
}

func sizesNote(unknown []string) reason.Reason {
	if len(unknown) == 0 {
		return reason.Reason{}
	}
	return reason.Of("batch.whether-fits-not-known-for", reason.Series(reason.Names(unknown)))
}

// potWhy is how the melt of a bowl came about.
func (n *needs) potWhy(i int) Why {
	b := &n.bowls[i]
	var parts reason.Series
	type part struct {
		role treat.Role
		each si.Grams
	}
	of := map[part]float64{}
	var order []part
	for _, use := range n.uses[i] {
		w := &n.worked[use]
		if w.kind == nil {
			continue
		}
		role := n.f.Steps[w.step].Pot
		for d, units := range w.units {
			if units == 0 {
				continue
			}
			key := part{role, n.coating(role, d, w.kind).coat.Stays}
			if _, seen := of[key]; !seen {
				order = append(order, key)
			}
			share, _ := n.partOf(w.step)
			of[key] += units * share
		}
	}
	for _, key := range order {
		parts = append(parts, reason.Of("batch.on-each-unit", measure.ShowGrams(key.each),
			reason.Number(math.Round(of[key]*100)/100), reason.Several(n.is.Unit)))
	}
	why := because("batch.stays-on-tools-used", parts, reason.Share(ledger.OnTools), measure.ShowGrams(b.Used))
	if b.Trimmed > 0 {
		why.Add("batch.trimmed-off-and-go-back", measure.ShowGrams(b.Trimmed))
	}
	code, with := "batch.melt", []reason.Value{grams(b.Pool), grams(b.Melted), grams(b.Left)}
	more := b.In() - b.Melted
	switch filled := slices.ContainsFunc(b.Draws, func(d ledger.Draw) bool { return d.Fill != nil }); {
	case filled && b.Melted > b.Used+b.Pool+1e-9:
		code = "batch.melt-to-fill"
	case b.Used+b.Pool < b.Melted-1e-9 && more < 1e-9:
		code = "batch.melt-the-least"
	}
	if more > 1e-9 {
		code, with = code+"-and-more", append(with, grams(more))
	}
	why.Add(code, with...)
	if b.Damp {
		why.Add("batch.damp-from-fruit-for-same")
	}
	return why
}

// drawn is what a step does at its bowl beside taking from it.
func drawn(d *ledger.Draw) []reason.Reason {
	var lines []reason.Reason
	if f := d.Fill; f != nil {
		n := min(f.Mould, f.Cavities)
		keep := d.Keep()
		lines = append(lines, reason.Of("batch.pour-into-cavity-into-mould", measure.ShowGrams(f.Pour),
			measure.ShowGrams(f.Pour.Times(float64(n))), measure.ShowGrams(keep.Times(float64(n))),
			measure.ShowGrams(max(f.Pour-keep, 0).Times(float64(n)))))
	}
	if d.Trimmed > 0 {
		lines = append(lines, reason.Of("batch.trimmings-go-back-into-pot", measure.ShowGrams(d.Trimmed)))
	}
	return lines
}

// advice is how to bring a pot to working condition.
func advice(p *Pot) reason.Text {
	text := reason.Text(slices.Clone(p.Tempering.Steps))
	for _, s := range p.Stirred {
		if s.Later != nil {
			text.Add("batch.stir-in-and-judge", s.Amount, reason.Name(s.Name), *s.Later)
		} else {
			text.Add("batch.stir-in", s.Amount, reason.Name(s.Name))
		}
		if s.Watery {
			text.Add("batch.may-seize-and-come-back", reason.Name(s.Name))
		}
	}
	if p.Rewarm != nil && p.Rewarm.Cooled {
		text.Add("batch.about-go-in-then", reason.Int(p.Rewarm.Pieces), WarmAgain(p.Method))
	}
	if p.TopUp != nil {
		text.Add("batch.melt-more-when-what-came", *p.TopUp)
	}
	return text
}

// WarmAgain is how a bowl that has fallen below its band is warmed: a tempered one carefully.
func WarmAgain(m chocolate.Method) reason.Reason {
	if m == chocolate.NoTemper {
		return reason.Of("batch.warm-for-to-stirring")
	}
	return reason.Of("batch.warm-at-lowest-power-in")
}

func rewarmWhy(r *Rewarm, piece chocolate.Piece, melted measure.Shown, work chocolate.Range, tempered bool) Why {
	with := []reason.Value{grams(piece.Mass), reason.Celsius(piece.At), reason.Int(int(piece.Seconds)), melted}
	if !r.Cooled {
		return because("batch.centres-hardly-cool-it", with...)
	}
	method := chocolate.NoTemper
	if tempered {
		method = chocolate.Seed
	}
	return because("batch.centres-cool-it", append(with, reason.Int(r.Pieces), reason.Celsius(work.To),
		reason.Celsius(work.From), WarmAgain(method))...)
}

// additions that a pot takes: thinner where it is compound, and flavour.
func additions(kind chocolate.Kind, grams si.Grams) reason.Text {
	var text reason.Text
	if kind == chocolate.Compound {
		text.Add("batch.too-thick", show(chocolate.Thinner(grams)))
	}
	drops := chocolate.FlavourDrops(grams)
	text.Add("batch.flavour-oil", reason.Int(int(math.Round(drops.From))), reason.Int(int(math.Round(drops.To))))
	if kind == chocolate.Compound {
		text.Add("batch.never-water")
	} else {
		text.Add("batch.never-water-it-seizes")
	}
	return text
}

// pieceWhy is where all that is weighed goes.
func pieceWhy(b Balance) Why {
	return because("batch.where-it-goes", grams(b.House), grams(b.Pieces), grams(b.Lost), grams(b.Reclaimed))
}

func designWhy(d *DesignShare) Why {
	if len(d.Allergens) == 0 {
		return because("batch.design-without-allergens", reason.Int(d.Good), reason.Name(d.Name), reason.Int(d.Start),
			grams(d.PieceMass))
	}
	return because("batch.design", reason.Int(d.Good), reason.Name(d.Name), reason.Int(d.Start), grams(d.PieceMass),
		reason.Series(reason.Words(d.Allergens)))
}
