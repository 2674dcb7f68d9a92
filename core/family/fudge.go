package family

import (
	"math"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// fudge goes by pan area and depth, cut into a grid (rules 2.6).
type fudge struct{ plain }

func (fudge) Family() treat.Family { return "fudge" }

func (fudge) Traits() Traits {
	return Traits{Drawn: "pan", One: "piece", Unit: "pan", Rounds: "pans", Centre: "centre.mix",
		Lost: "lost.at-the-end"}
}

func (fudge) Roles() []treat.Role { return []treat.Role{treat.RoleDrizzle} }

var fudgeChoices = []Choice{
	{"cook", []string{"cooked", "quick"}},
	setting.first("room"), wholeSheets(),
}

func (fudge) Choices(map[string]string) []Choice { return fudgeChoices }

func (fudge) Begin(b *Beginning) error {
	of, ok := b.firstMix(true, "fudge")
	if !ok {
		return reason.Of("family.fudge-needs-mix-that-poured")
	}
	b.Centre = &treat.Centre{Of: ident.Ingredient(of)}
	b.Sheet = &treat.Sheet{Length: measure.Of(8, measure.Inch), Width: measure.Of(8, measure.Inch),
		Depth: measure.Of(0.75, measure.Inch), Rows: 6, Columns: 6}
	return nil
}

func (fudge) Tile() []Pick {
	return []Pick{{"cook", []string{"quick", "cooked"}}, {"extra", []string{"plain", "walnuts", "salt"}}}
}

// SetOut fills the pan of 8 in: quick fudge of a can of condensed milk, cooked fudge of three cups of sugar (common
// practice).
func (fudge) SetOut(o *Outset) error {
	pan := treat.Mix{Name: "Quick fudge", Loss: 0.03, Density: new(1.25), Parts: []treat.MixPart{
		part(chocolates["dark"], 510), part("Sweetened condensed milk", 397), part("Butter", 30)}}
	o.Choices["cook"] = "quick"
	if o.picks["cook"] == "cooked" {
		pan = treat.Mix{Name: "Cooked fudge", Loss: 0.08, Density: new(1.3), Parts: []treat.MixPart{
			part("Granulated sugar", 600), part("Heavy cream", 360), part("Butter", 85), part(chocolates["milk"], 120)}}
		o.Choices["cook"] = "cooked"
	}
	switch o.picks["extra"] {
	case "walnuts":
		pan.Name, pan.Parts = "Walnut "+strings.ToLower(pan.Name), append(pan.Parts, part("Walnuts, chopped", 115))
	case "salt":
		pan.Name, pan.Parts = "Salted "+strings.ToLower(pan.Name), append(pan.Parts, part("Sea salt flakes", 4))
	}
	o.mix(pan)
	if err := o.begin(chocolates["dark"]); err != nil {
		return err
	}
	if o.metric {
		o.Sheet.Length, o.Sheet.Width, o.Sheet.Depth = *length(200, measure.Millimetre),
			*length(200, measure.Millimetre), *length(20, measure.Millimetre)
	}
	o.pack("Box for 12", 12)
	o.pack("Liner", 1)
	o.Name = reason.Of("start.treat", reason.Word("start.fudge."+o.picks["extra"]))
	return nil
}

func (fudge) Check(c *Checking) {
	right := c.sheet("fudge")
	c.poured("centre", c.F.Centre, reason.Of("family.fudge-needs-mix-that-poured-2"), true)
	s := c.F.Sheet
	if s == nil {
		return
	}
	if s.Rows < 1 || s.Rows > 100 || s.Columns < 1 || s.Columns > 100 {
		c.Add("sheet.rows", reason.Of("family.pan-cut-into-rows-and"))
	}
	if s.Trim != nil && s.Trim.Amount != 0 {
		c.length("sheet.trim", s.Trim, 100)
		if right && 2*treat.Millimetres(*s.Trim) >= math.Min(treat.Millimetres(s.Length), treat.Millimetres(s.Width)) {
			c.Add("sheet.trim", reason.Of("family.trimming-that-much-on-each"))
		}
	}
}

func (fudge) Steps(f *treat.Formula) []treat.StepTemplate {
	pour := set(f, treat.StepTemplate{ID: "pan", Name: "step.beat-until-loses-its-shine", PerRound: 12, Ages: true},
		120, 90, 40)
	steps := []treat.StepTemplate{{ID: "boil", Name: "step.boil-to-soft-ball-without", PerBatch: 10, PerRound: 20,
		Wait: 60, Spot: "counter", Adds: []treat.Adds{treat.AddsCentre}}}
	if Chosen(f, "cook") == "quick" {
		steps[0] = treat.StepTemplate{ID: "melt", Name: "step.melt-together-low-and-stirring", PerBatch: 5,
			PerRound: 10, Adds: []treat.Adds{treat.AddsCentre}}
		pour.Name, pour.PerRound, pour.Wait = "step.pan-and-level", 4, max(pour.Wait, 120)
	}
	pour.Adds = []treat.Adds{treat.AddsOn}
	steps = append(steps, pour,
		treat.StepTemplate{ID: "cut", Name: "step.turn-out-trim-cut-into", PerRound: 4, PerPiece: 0.12},
		treat.StepTemplate{ID: "lines", Name: "step.lines-over-pieces", PerBatch: 3, PerRound: 2, Wait: 5,
			Spot: "counter", Pot: treat.RoleDrizzle})
	return append(steps, treat.StepTemplate{ID: "wrap", Name: "step.wrap", PerPiece: 0.25})
}

func (fudge) Lay(f *treat.Formula) Layout {
	s := f.Sheet
	if s == nil {
		return Layout{}
	}
	trim, long, wide := 0.0, treat.Millimetres(s.Length), treat.Millimetres(s.Width)
	if s.Trim != nil {
		trim = treat.Millimetres(*s.Trim)
	}
	return Layout{Sheet: &Sheet{Pieces: s.Rows * s.Columns, Kept: (long - 2*trim) * (wide - 2*trim) / (long * wide)}}
}

func (fudge) Centre(f *treat.Formula, k *treat.Inputs, _ *treat.Design) si.Grams {
	s := f.Sheet
	return treat.Slab(treat.Millimetres(s.Length), treat.Millimetres(s.Width), treat.Millimetres(s.Depth),
		k.Density(f.Centre.Of))
}

func (fudge) Care(f *treat.Formula, _ *treat.Inputs) []Caution {
	if Chosen(f, "cook") == "cooked" {
		return []Caution{BoilsSugar}
	}
	return nil
}
