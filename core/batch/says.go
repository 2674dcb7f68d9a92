package batch

import (
	"math"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
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
