package batch

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// This file turns the figures of a card into today's sentences, and nothing else does.

// Why is how a figure came about, in one line of kitchen language.
type Why = string

func grams(x float64) string { return measure.Show(measure.Grams(x), measure.Substance{}).Metric }

func show(q measure.Quantity) string { return measure.Show(q, measure.Substance{}).Metric }

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

func percent(x float64) string { return measure.Percent(math.Round(x*100) / 100) }

// startWhy is how many are begun, and why.
func (s *steps) startWhy() Why {
	if lay := s.lay.Sheet; lay != nil && lay.Pieces == 0 {
		want := float64(s.good) * lay.Bag
		return fmt.Sprintf("%d bags of %s are %s; with %s %s spread %s. A %s gives %s: %s.", s.good, grams(lay.Bag), grams(want), measure.Percent(s.f.Loss), s.is.Lost,
			grams(want/(1-s.f.Loss)), s.is.Unit, grams(s.sheet), s.sheetsText())
	}
	if early := slices.IndexFunc(s.stages, func(x StageOf) bool { return x.Step != s.f.Steps[len(s.f.Steps)-1].ID }); early >= 0 {
		parts := []string{}
		for _, x := range s.stages {
			parts = append(parts, fmt.Sprintf("%d %s, of which %s are lost at %q", x.Begin, x.Of, measure.Percent(x.Loss), s.nameOf(x.Step)))
		}
		return fmt.Sprintf("%d good, %s sure: start %s.", s.good, percent(s.sure), strings.Join(parts, "; then "))
	}
	if s.f.Whole && len(s.f.Finishes) > 0 {
		return fmt.Sprintf("%d good at %s loss, %s sure that each design is there in full: start %d.", s.good, measure.Percent(s.f.Loss), measure.Percent(s.k.Sureness), s.start)
	}
	if s.start > s.enough {
		return fmt.Sprintf("%d good at %s loss, %s sure: %d are enough; %d fill the last round.", s.good, measure.Percent(s.f.Loss), measure.Percent(s.k.Sureness), s.enough, s.start)
	}
	text := fmt.Sprintf("%d good at %s loss, %s sure: start %d.", s.good, measure.Percent(s.f.Loss), measure.Percent(s.k.Sureness), s.start)
	if len(s.f.Finishes) > 0 {
		text += fmt.Sprintf(" One design may stand in for another: that each comes out in its full number is %s sure.", percent(s.sureOfEach()))
	}
	return text
}

func (s *steps) nameOf(step string) string {
	return s.f.Steps[slices.IndexFunc(s.f.Steps, func(w treat.Work) bool { return w.ID == step })].Name
}

// spare is what is left over when all goes as usual.
func (s *steps) spare() string {
	switch lay := s.lay.Sheet; {
	case lay != nil && lay.Pieces == 0:
		if left := int(s.units*s.sheet*(1-s.f.Loss)/lay.Bag+1e-9) - s.good; left > 0 {
			return fmt.Sprintf("Whole %s give %s more: shop stock.", s.is.Units, plural(left, s.is.One, s.is.Many))
		}
		return ""
	case lay != nil:
		if whole := int(s.units*float64(lay.Pieces) + 1e-9); whole > s.start {
			return fmt.Sprintf("Whole %s give %d %s more than are started for the order: shop stock.", s.is.Units, whole-s.start, s.is.Many)
		}
	}
	if spare := int(math.Round(float64(s.start)*(1-s.f.Loss))) - s.good; spare > 0 {
		return fmt.Sprintf("About %d spare when all goes as usual: tasters or shop stock.", spare)
	}
	return ""
}

// sheetsText is how many sheets or pans, and how full the last is.
func (s *steps) sheetsText() string {
	text := plural(s.rounds.rounds, s.is.Unit, s.is.Units)
	if fill := s.sheetsFill(); fill != allFull {
		text += ", " + fill
	}
	return text
}

const allFull = "all full"

func (s *steps) sheetsFill() string {
	if part := s.units - math.Floor(s.units); part > 1e-9 {
		return fmt.Sprintf("the last one %s full", percent(part))
	}
	return allFull
}

func (s *steps) roundsOf() *Rounds {
	n := s.rounds.rounds
	switch {
	case s.lay.Sheet != nil:
		r := &Rounds{Count: n, Word: s.is.Rounds, Text: s.sheetsText(), Fill: s.sheetsFill(), Why: s.startWhy()}
		if p := s.lay.Sheet.Pieces; p > 0 {
			r.Why = fmt.Sprintf("%d %s; a %s is cut into %d %s: %s.", s.start, s.is.Many, s.is.Unit, p, s.is.Many, s.sheetsText())
		}
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
	r := &Rounds{Count: n, Word: s.is.Rounds, Text: fmt.Sprintf("%s of %d cavities", plural(n, "round", "rounds"), s.filling), Fill: fmt.Sprintf("the last fills %d", lastFill), Moulds: &of}
	counted := fmt.Sprintf("%d %s", cells, m.Cells)
	if m.Each > 1 && cells == s.start*m.Each {
		counted = fmt.Sprintf("%d %s are %d %s", s.start, s.is.Many, cells, m.Cells)
	}
	r.Why = fmt.Sprintf("%s; %d in %s of %d: %s, the last fills %d.", counted, s.filling, plural(of.Used, "mould", "moulds"), m.Cavities, plural(n, "round", "rounds"), lastFill)
	there := of.Kitchen
	if there == 0 {
		there = of.Treat
	}
	switch {
	case of.AtMost > 0 && of.AtMost < there:
		r.Why += fmt.Sprintf(" There are %d moulds; this treat uses %d at a time.", there, of.AtMost)
	case of.Kitchen > 0 && of.Kitchen != of.Treat:
		r.Why += fmt.Sprintf(" The kitchen has %d of these moulds: that counts, not the %d of the treat.", of.Kitchen, of.Treat)
	}
	// A last round of a quarter or less is hardly worth its time (common practice): say how sure one is without it.
	if without := (n - 1) * s.filling / m.Each; n > 1 && lastFill*4 <= s.filling && without >= s.good && len(s.spans()) <= 2 && !s.f.Whole {
		r.Hint = fmt.Sprintf("Without the last round you start %d and are still %s sure of %d.", without, percent(SureOf(without, s.good, s.f.Loss)), s.good)
	}
	return r
}

func handsWhy(c *Card) Why {
	return fmt.Sprintf("%s of hands over %s, %s of it melting; %s of waiting need no hands.", measure.Minutes(c.Hands), plural(len(c.Steps), "step", "steps"), measure.Minutes(c.Melting), measure.Minutes(c.Wait))
}

func packWhy(p treat.Pack, n int, what string, q measure.Quantity) Why {
	return fmt.Sprintf("%s for every %d of %d %s: %s.", show(p.Amount), p.Per, n, what, show(q))
}

func boilOf(from, to, boiling float64) *Boil {
	return &Boil{From: from, To: to,
		Text: "Boil to soft ball, " + chocolate.Degrees(chocolate.Range{From: math.Round(from*10) / 10, To: math.Round(to*10) / 10}) + "; cool undisturbed to 43 °C (110 °F), then beat.",
		Why:  fmt.Sprintf("Soft ball is %v to %v °C at sea level; water boils at %.1f °C in your kitchen, so it falls by %.1f °C.", treat.SoftBall.From, treat.SoftBall.To, boiling, 100-boiling)}
}

func sizesNote(unknown []string) string {
	if len(unknown) == 0 {
		return ""
	}
	return "Whether it fits is not known for " + strings.Join(unknown, ", ") + ": enter the density in the Larder."
}

// potWhy is how the melt of a bowl came about.
func (n *needs) potWhy(i int) Why {
	b := &n.bowls[i]
	parts := []string{}
	type part struct {
		role treat.Role
		each float64
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
			key := part{role, n.coating(role, d).coat.Stays}
			if _, seen := of[key]; !seen {
				order = append(order, key)
			}
			share, _ := n.partOf(w.step)
			of[key] += units * share
		}
	}
	for _, key := range order {
		parts = append(parts, fmt.Sprintf("%s on each of %s %s", grams(key.each), measure.Number(math.Round(of[key]*100)/100), n.is.Units))
	}
	why := fmt.Sprintf("%s, 2 %% stays on the tools: %s used.", strings.Join(parts, ", "), grams(b.Used))
	if b.Trimmed > 0 {
		why += fmt.Sprintf(" %s are trimmed off and go back.", grams(b.Trimmed))
	}
	switch filled := slices.ContainsFunc(b.Draws, func(d ledger.Draw) bool { return d.Fill != nil }); {
	case filled && b.Melted > b.Used+b.Pool+1e-9:
		why += fmt.Sprintf(" One mould at a time is filled and poured back, so that the bowl must hold its fill and what the others keep: melt %s", grams(b.Melted))
	case b.Used+b.Pool < b.Melted-1e-9 && b.In()-b.Melted < 1e-9:
		why += fmt.Sprintf(" With %s left in the bowl to work from, but never less than the %s that melt evenly: melt %s", grams(b.Pool), grams(b.Melted), grams(b.Melted))
	default:
		why += fmt.Sprintf(" With %s left in the bowl to work from: melt %s", grams(b.Pool), grams(b.Melted))
	}
	if more := b.In() - b.Melted; more > 1e-9 {
		why += fmt.Sprintf(", and %s more when what came back is used", grams(more))
	}
	why += fmt.Sprintf("; %s is left.", grams(b.Left))
	if b.Damp {
		why += " It is damp from the fruit: for the same day only."
	}
	return why
}

// drawn is what a step does at its bowl beside taking from it.
func drawn(d *ledger.Draw) []string {
	var lines []string
	if f := d.Fill; f != nil {
		n := min(f.Mould, f.Cavities)
		keep := d.Keep()
		lines = append(lines, fmt.Sprintf("pour %s into a cavity, %s into a mould; %s stay, %s run back: fill the next", grams(f.Pour), grams(f.Pour*float64(n)), grams(keep*float64(n)), grams(math.Max(f.Pour-keep, 0)*float64(n))))
	}
	if d.Trimmed > 0 {
		lines = append(lines, fmt.Sprintf("%s of trimmings go back into the pot", grams(d.Trimmed)))
	}
	return lines
}

// advice is how to bring a pot to working condition.
func advice(p *Pot) string {
	text := strings.Join(p.Tempering.Steps, " ")
	for _, s := range p.Stirred {
		text += fmt.Sprintf(" Stir in %s (%s) of %s.", s.Amount.Metric, s.Amount.US, s.Name)
	}
	if p.Rewarm != nil && p.Rewarm.Cooled {
		text += fmt.Sprintf(" About %d go in, then %s.", p.Rewarm.Pieces, WarmAgain(p.Method))
	}
	if p.TopUp != nil {
		text += fmt.Sprintf(" Melt %s more when what came back is used.", p.TopUp.Metric)
	}
	return text
}

// WarmAgain is how a bowl that has fallen below its band is warmed: a tempered one carefully.
func WarmAgain(m chocolate.Method) string {
	if m == chocolate.NoTemper {
		return "warm it for 5 to 10 s, stirring"
	}
	return "warm it at the lowest power in bursts of 1 to 2 s, stirring and measuring, about 2 min"
}

func rewarmWhy(r *Rewarm, piece chocolate.Piece, melted measure.Shown, work chocolate.Range, tempered bool) Why {
	centre := fmt.Sprintf("Centres of %s at %s, about %d s in a bowl of %s", grams(piece.Mass), chocolate.Degree(piece.At), int(piece.Seconds), melted.Metric)
	if !r.Cooled {
		return centre + " hardly cool it: all of them go in. Warm it when it has stood too long."
	}
	method := chocolate.NoTemper
	if tempered {
		method = chocolate.Seed
	}
	return fmt.Sprintf("%s: about %d go in before it falls from %s to %s and thickens. Then %s. A bigger bowl, warmer centres or smaller sets help.",
		centre, r.Pieces, chocolate.Degree(work.To), chocolate.Degree(work.From), WarmAgain(method))
}

// additions that a pot takes: thinner where it is compound, and flavour.
func additions(kind chocolate.Kind, grams float64) string {
	drops := chocolate.FlavourDrops(grams)
	flavour := fmt.Sprintf("Flavour oil: %.0f to %.0f drops.", drops.From, drops.To)
	if kind == chocolate.Compound {
		thinner := measure.Show(chocolate.Thinner(grams), measure.Substance{})
		return fmt.Sprintf("Too thick: up to %s (%s) of a fat-based thinner. %s Never water, nor colour or flavour with water in it.", thinner.US, thinner.Metric, flavour)
	}
	return flavour + " Never water, nor colour or flavour with water in it: it seizes."
}

// care are the cautions for whoever makes it (handbook 7).
func (s *steps) care(c *Card) []string {
	list := []string{}
	own := s.law.Care(s.f, s.k)
	has := func(of family.Caution) bool { return slices.Contains(own, of) }
	if has(family.BoilsSugar) {
		list = append(list, "Boiling sugar sticks and burns: keep children away, and cold water at hand.")
	}
	if slices.ContainsFunc(c.Pots, func(p Pot) bool { return p.Tempering.Bursts == nil }) {
		list = append(list, "Steam burns, and steam is water: keep it from the chocolate.")
	}
	if !slices.Contains(c.Diets, food.NoAlcohol) && slices.ContainsFunc(c.Needs, func(n Need) bool { i := s.k.Ingredients[n.Ingredient]; return i.HasAlcohol() }) {
		list = append(list, "It contains alcohol: say so on the label, and ask your licensing office whether a home kitchen may sell it.")
	}
	if has(family.WetInside) {
		list = append(list, "Syrup, sauce, cream or spirit inside is best within 24 hours of making, and the seal must be tight: check how long you say that it keeps.")
	}
	if has(family.PicksOut) {
		list = append(list, "Picks come out, or are declared, before handover.")
	}
	if _, ages := s.law.Ages(s.f, s.k); ages {
		list = append(list, fmt.Sprintf("Its centre has cream in it: it keeps %d days from the making of the centre, held cold, and less where you say so.", c.Keeps/24))
	}
	if has(family.HoldCold) || slices.ContainsFunc(c.Needs, func(n Need) bool { return s.k.Ingredients[n.Ingredient].Kind == food.KindDairy }) {
		list = append(list, "Cream, butter-rich and cut-fruit pieces may need to be kept at 5 °C (41 °F) or below: ask your local rules.")
	}
	if has(family.HotMilk) {
		list = append(list, "Serve bombs with milk at 82 to 88 °C (180 to 190 °F), not boiling; an adult pours.")
	}
	return list
}
