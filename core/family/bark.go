package family

import (
	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// bark goes by sheet area and depth, broken, bagged by weight (rules 2.5).
type bark struct{ plain }

func (bark) Family() treat.Family { return "bark" }

func (bark) Traits() Traits {
	return Traits{Drawn: "sheet", One: "bag", Unit: "sheet", Rounds: "sheets", Lost: "lost.crumbs", Bagged: true}
}

func (bark) Roles() []treat.Role {
	return []treat.Role{treat.RoleBase, treat.RoleLayer, treat.RoleDrizzle}
}

func (bark) Main() treat.Role { return treat.RoleBase }

var barkChoices = []Choice{
	{"style", []string{"plain", "swirl", "trail", "layers"}},
	{"divide", []string{"break", "cut"}},
	setting, wholeSheets(),
}

func (bark) Choices(map[string]string) []Choice { return barkChoices }

func (bark) Begin(b *Beginning) error {
	b.Loss, b.ShelfLifeHours = 0.03, 30*24
	b.Sheet = &treat.Sheet{Length: measure.Of(13, measure.Inch), Width: measure.Of(9.5, measure.Inch),
		Depth: measure.Of(0.125, measure.Inch), Bag: grams(75)}
	b.melt(treat.RoleBase, 60, nil)
	return nil
}

func (bark) Tile() []Pick {
	return []Pick{coatPick, {"topping", []string{"hazelnuts", "cherries", "peppermint", "none"}},
		{"style", []string{"plain", "trail"}}}
}

func (bark) SetOut(o *Outset) error {
	if err := o.begin(o.coat()); err != nil {
		return err
	}
	if o.metric {
		o.Sheet.Length, o.Sheet.Width, o.Sheet.Depth = *length(330, measure.Millimetre),
			*length(240, measure.Millimetre), *length(3, measure.Millimetre)
	}
	if o.picks["style"] == "trail" {
		second := "White chocolate"
		if o.picks["coat"] == "white" {
			second = "Milk chocolate"
		}
		o.Choices["style"] = "trail"
		o.Coatings = append(o.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer,
			Ingredient: ident.Ingredient(second), Share: 0.25, Pool: measure.Grams(60)})
	}
	if of, some := map[string]string{"hazelnuts": "Hazelnuts, chopped", "cherries": "Dried sour cherries",
		"peppermint": "Crushed peppermint"}[o.picks["topping"]]; some {
		o.add(of, 80, treat.On)
	}
	o.pack("Clear bag", 1)
	o.Good = 6
	o.called("bark." + o.picks["topping"])
	return nil
}

func (bark) Check(c *Checking) {
	s := c.F.Sheet
	if !c.sheet("bark") {
		if s == nil {
			return
		}
	}
	if s.Bag == nil {
		c.Add("sheet.bag", reason.Of("family.bark-counted-in-bags-write"))
		return
	}
	c.Under("sheet.bag", s.Bag.Check(measure.Mass))
	if bag := treat.Grams(s.Bag); bag > 0 && bag < 1 || bag > 10000 {
		c.Add("sheet.bag", reason.Of("family.bag-holds-at-least-g"))
	}
	style, layered := Chosen(c.F, "style"), c.F.Has(treat.RoleLayer)
	if style == "plain" && layered {
		c.Add("coatings", reason.Of("family.bark-one-colour-has-no"))
	} else if style != "plain" && !layered {
		c.Add("coatings", reason.Of("family.swirl-layers-and-what-trailed"))
	}
}

func (bark) Steps(f *treat.Formula) []treat.StepTemplate {
	spread := set(f, treat.StepTemplate{ID: "spread", Name: "step.spread-top-while-wet", PerRound: 8,
		Pot: treat.RoleBase, Adds: []treat.Adds{treat.AddsOn}, Ages: true}, 60, 40, 15)
	steps := []treat.StepTemplate{{ID: "toppings", Name: "step.weigh-toppings-line-sheets", PerBatch: 6, PerRound: 1}}
	// The second follows within 5 to 10 minutes, before the first is hard, and nothing else comes between (common
	// practice).
	then := func(first, second treat.StepTemplate, latest si.Minutes) {
		first.Ready = []treat.Role{treat.RoleLayer}
		second.ID, second.Pot, second.Ages, second.Alone, second.Latest = "layer", treat.RoleLayer, false, true,
			new(latest)
		steps = append(steps, first, second)
	}
	switch Chosen(f, "style") {
	case "layers":
		top := spread
		spread.Name, spread.Wait, spread.Spot, spread.Adds = "step.spread-first-layer", 5, "counter", nil
		top.Name = "step.second-layer-on-while-first"
		if top.Wait > 30 && top.Spot == "fridge" {
			top.Wait = 120
		}
		then(spread, top, 5)
	case "swirl":
		top := spread
		spread.Name, spread.Wait, spread.Spot, spread.Adds, spread.PerRound = "step.pour-first-colour", 0, "", nil, 3
		top.Name, top.PerRound = "step.pour-second-beside-drag-tap", 6
		then(spread, top, 5)
	case "trail":
		over := spread
		spread.Name, spread.Wait, spread.Spot = "step.spread-thin-top-at-once", 0, ""
		over.Name, over.PerRound, over.Adds = "step.trail-rest-over-to-hold", 2, nil
		then(spread, over, 10)
	default:
		steps = append(steps, spread)
	}
	steps = append(steps, treat.StepTemplate{ID: "lines", Name: "step.lines-over-sheets", PerBatch: 3, PerRound: 2,
		Wait: 5, Spot: "counter", Pot: treat.RoleDrizzle})
	broken := treat.StepTemplate{ID: "break", Name: "step.break-and-bag-by-weight", PerBatch: 4, PerPiece: 0.9}
	if Chosen(f, "divide") == "cut" {
		broken.Name, broken.PerPiece = "step.cut-and-bag-by-weight", 1.1
	}
	return append(steps, broken)
}

func (bark) Lay(f *treat.Formula) Layout {
	if f.Sheet == nil {
		return Layout{}
	}
	return Layout{Sheet: &Sheet{Bag: treat.Grams(f.Sheet.Bag), Kept: 1}}
}

func (b bark) Coat(f *treat.Formula, k *treat.Inputs, d *treat.Design, c treat.ChocolateLayer) Coat {
	slab := treat.Slab(treat.Millimetres(f.Sheet.Length), treat.Millimetres(f.Sheet.Width),
		treat.Millimetres(f.Sheet.Depth), chocolate.Density)
	switch c.Role {
	case treat.RoleLayer:
		return Coat{Stays: slab.Times(c.Share)}
	case treat.RoleBase:
		share := 1.0
		for _, other := range f.Coatings {
			share -= other.Share
		}
		return Coat{Stays: slab.Times(share)}
	}
	return b.plain.Coat(f, k, d, c)
}
