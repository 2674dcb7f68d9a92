package batch

import (
	"bytes"
	"encoding/json"
	"errors"
	"math"
	"slices"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

// This file has treats as they are really made: steps beside others, baths, beds, designs with centres of their own,
// marbled shells, what fills the rest.

func stepOf(t *testing.T, c *Card, id ident.Step) *Step {
	t.Helper()
	n := slices.IndexFunc(c.Steps, func(s Step) bool { return s.ID == id })
	if n < 0 {
		t.Fatalf("no step %s", id)
	}
	return &c.Steps[n]
}

func after(s *Step) string {
	var list []string
	for _, a := range s.After {
		list = append(list, string(a.Step))
	}
	return strings.Join(list, " ")
}

// Candy for the coat is frozen an hour before it is ground (rules 4.9, common practice), while the fruit is washed: the
// dipping waits for both, the washing for neither.
func TestStepsBesideOthers(t *testing.T) {
	f := fruit()
	f.Steps = append([]treat.StepTemplate{
		{ID: "freeze", Name: "Freeze the candy", PerBatch: 2, Wait: 60, Spot: "freezer", Beside: "dip"},
		{ID: "grind", Name: "Grind it", PerBatch: 6, Beside: "dip", Latest: new(si.Minutes(30))},
	}, f.Steps...)
	c := card(t, f, 12)
	for id, want := range map[ident.Step]string{"freeze": "", "grind": "freeze", "wash": "", "picks": "wash",
		"dip": "picks grind", "box": "dip"} {
		if got := after(stepOf(t, c, id)); got != want {
			t.Errorf("%s comes after %q, want %q", id, got, want)
		}
	}
	grind := stepOf(t, c, "grind").After[0]
	if grind.Max == nil || *grind.Max != 30 {
		t.Errorf("ground at most %v min after", grind.Max)
	}
	// It has no part in what is begun, and the fruit ages from its dipping.
	if alone := card(t, fruit(), 12); c.Start != alone.Start || c.FreshFrom != "dip" || c.Hands != alone.Hands+8 ||
		c.Wait != alone.Wait {
		t.Errorf("start %d, hands %d, wait %d, fresh from %s", c.Start, c.Hands, c.Wait, c.FreshFrom)
	}
	// Between the half shells, which go round, it is still done once.
	b := bomb()
	b.Choices["coats"] = "two"
	b.Steps = slices.Insert(stepped(b).Steps, 1, treat.StepTemplate{ID: "crush", Name: "crush", PerBatch: 4,
		Beside: "fill"})
	with, without := card(t, b, 40), card(t, stepped(b), 40)
	if with.Start != without.Start || len(with.Steps) != len(without.Steps)+1 || len(with.Stages) != len(without.Stages) {
		t.Errorf("%d steps, start %d; without it %d and %d", len(with.Steps), with.Start, len(without.Steps), without.Start)
	}
	if got := after(stepOf(t, with, "fill")); got != "second-8 crush" {
		t.Errorf("filled after %s", got)
	}
}

// By hand: 18 of 18 g are washed, 324 g: one bath covers 450 g. 60 good at 5% are 66 started, 83 bought, 1494 g: four
// baths of 3 cups of water each (rules 2.2), 12 cups of 237 g = 2844 g. Nothing of it goes in.
func TestBaths(t *testing.T) {
	k := larder()
	sugar := k.Ingredients["Sugar"]
	water := sugar.Fields
	water.Name, water.Kind, water.Density, water.Allergens = "Water", "other", new(237/236.5882365), nil
	k.Ingredients["Water"] = food.New("Water", water, sugar.Price)
	f := fruit()
	f.Steps[0].Prepare = []treat.Preparation{{How: treat.Wash, Covers: massOf(450), Bath: []treat.BathPart{
		{Of: "Water", Amount: measure.Of(3, measure.Cup)}}}, {How: "rinse"}, {How: "dry"}}
	if err := family.Check(f, k, supplies); err != nil {
		t.Fatal(err)
	}
	for good, want := range map[int]string{
		12: "Wash 324 g Strawberry. In a bath of 710 mL Water. Rinse 252 g Strawberry",
		60: "Wash 1.49 kg Strawberry. In a bath of 710 mL Water, made 4 times: one covers 450 g. Rinse",
	} {
		c, err := Compute(f, good, k)
		if err != nil {
			t.Fatal(err)
		}
		got := said.Text(stepOf(t, c, "wash").Amounts)
		got = strings.NewReplacer("\n", " ").Replace(got)
		for _, part := range strings.Split(want, ". ") {
			if !strings.Contains(got, part) {
				t.Errorf("%d: %q, want %q in it", good, got, part)
			}
		}
		if strings.Contains(c.Label, "Water") {
			t.Errorf("the label names the bath: %s", c.Label)
		}
		if b := c.Balance; math.Abs(float64(b.House-b.Pieces-b.Lost-b.Reclaimed)) > 1e-6 {
			t.Errorf("%+v", b)
		}
	}
	c, _ := Compute(f, 60, k)
	if got := needed(t, c, "Water"); math.Abs(got-2844) > 0.1 {
		t.Errorf("water %v g", got)
	}
	// Washed the day before is said.
	if len(c.Care) > 0 && strings.Contains(said.Text(c.Care), "softens fast") {
		t.Error("washed in time, and warned")
	}
	f.Steps[1].Latest = nil
	if c, _ = Compute(f, 12, k); !strings.Contains(said.Text(c.Care), "softens fast") {
		t.Error("nothing is said of fruit that lies washed overnight")
	}
}

// By hand: 20 good at 5% are 23 started; of a set of 3 and 1 that is 17 and 6. 17 x 12 g of ganache and 6 x 10 g of
// caramel, which loses 10%: 60 / 0.9 of sugar and cream, 3 to 2. Half a minute more for each of the 6, at the dipping:
// 0.4 x 23 + 3 = 12.2.
func TestDesignsWithCentresOfTheirOwn(t *testing.T) {
	f := truffle()
	f.Portions = nil
	f.Finishes = []treat.Design{{Name: "plain", Parts: 3}, {Name: "caramel", Parts: 1, Minutes: 0.5,
		Centre:   &treat.Centre{Of: "caramel", Each: massOf(10)},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(2), Where: treat.On}}}}
	c := card(t, f, 20)
	if c.Start != 23 || c.Designs[0].Start != 17 || c.Designs[1].Start != 6 {
		t.Fatalf("start %d: %+v", c.Start, c.Designs)
	}
	near(t, "liqueur", needed(t, c, "Liqueur"), 17*12*140./880)
	near(t, "sugar", needed(t, c, "Sugar"), 60/0.9*0.6)
	near(t, "a plain one", c.Designs[0].PieceMass, 17)
	near(t, "one with caramel", c.Designs[1].PieceMass, 10+5+2)
	if got := stepOf(t, c, "dip").HandsOnMin; got != 13 {
		t.Errorf("dipping takes %d min", got)
	}
	if slices.Contains(c.Designs[0].Allergens, "tree nut") || !slices.Contains(c.Designs[1].Allergens, "tree nut") ||
		slices.Contains(c.Designs[0].Diets, "no alcohol") || !slices.Contains(c.Designs[1].Diets, "no alcohol") {
		t.Errorf("%+v", c.Designs)
	}
	centre := said.Text(stepOf(t, c, "centre").Amounts)
	for _, want := range []string{"204 g Ganache", "60 g Caramel", "caramel, 6 of them: 10 g Caramel in each"} {
		if !strings.Contains(centre, want) {
			t.Errorf("%q, want %q", centre, want)
		}
	}
	if dip := said.Text(stepOf(t, c, "dip").Amounts); !strings.Contains(dip, "caramel, 6 of them: 2 g Hazelnut on each") ||
		!strings.Contains(dip, "5 g on each piece") {
		t.Errorf("%q", dip)
	}
}

// By hand: the shell of TestBombByHand, 51.517 g, marbled of 60% dark and 40% white compound: 46 x 51.517 x 0.6 x 1.02
// = 1450.3 g of dark used, 966.9 g of white, and 3 g of white lines. Hands stay the same but for what melting takes.
func TestMarbledShell(t *testing.T) {
	f := bomb()
	plain := card(t, f, 40)
	f.Coatings[0].Share = 0.6
	f.Coatings = slices.Insert(f.Coatings, 1, treat.ChocolateLayer{Role: treat.RoleShell, Ingredient: "White", Share: 0.4,
		Pool: measure.Grams(200)})
	c := card(t, f, 40)
	shell := 4. / 3 * math.Pi * (math.Pow(3.175, 3) - math.Pow(2.825, 3)) * 1.30
	near(t, "dark", c.Pots[0].Used.Amount, 46*shell*0.6*1.02)
	near(t, "white", c.Pots[1].Used.Amount, 46*(shell*0.4+3)*1.02)
	near(t, "a piece", c.PieceMass, float64(plain.PieceMass))
	if c.Hands-c.Melting != plain.Hands-plain.Melting || c.Wait != plain.Wait || c.Start != plain.Start {
		t.Errorf("hands %d - %d, wait %d; of one chocolate %d - %d, %d", c.Hands, c.Melting, c.Wait, plain.Hands,
			plain.Melting, plain.Wait)
	}
	dark, white := stepOf(t, c, "shells-1-a"), stepOf(t, c, "shells-1-b")
	if dark.PassiveMin != 0 || white.PassiveMin == 0 || len(dark.Pots) != 2 || len(white.Takes) != 0 ||
		dark.Takes[0].Until != white.ID || !strings.HasSuffix(dark.Name, ": Dark") {
		t.Errorf("%+v\n%+v", dark, white)
	}
	if a := white.After[len(white.After)-1]; a.Step != dark.ID || !a.Alone || a.Max == nil || *a.Max != 5 {
		t.Errorf("laid %+v", a)
	}
}

// Designs in shells of their own: 6 of 12 in white. At 6% loss 15 are started, 8 dark and 7 white: 16 and 14 half
// shells. A round of 12 has both where the colour changes, and its moulds are taken once.
func TestShellsByDesign(t *testing.T) {
	f := bomb()
	f.Coatings = f.Coatings[:1]
	f.Finishes = []treat.Design{{Name: "dark", Parts: 1}, {Name: "white", Parts: 1, Coatings: []treat.ChocolateLayer{
		{Role: treat.RoleShell, Ingredient: "White", Pool: measure.Grams(100)}}}}
	f = stepped(f)
	c := card(t, f, 12)
	shell := 4. / 3 * math.Pi * (math.Pow(3.175, 3) - math.Pow(2.825, 3)) * 1.30
	near(t, "dark", c.Pots[0].Used.Amount, float64(c.Designs[0].Start)*shell*1.02)
	near(t, "white", c.Pots[1].Used.Amount, float64(c.Designs[1].Start)*shell*1.02)
	if c.Designs[0].Look.Colour != "dark" || c.Designs[1].Look.Colour != "white" {
		t.Errorf("%+v", c.Designs)
	}
	both := stepOf(t, c, "shells-2-a")
	if len(both.Takes) != 1 || len(stepOf(t, c, "shells-2-b").Takes) != 0 || both.Takes[0].Count != 2 {
		t.Errorf("%+v", both.Takes)
	}
}

// By hand: a hollow of 4/3 pi 2.825^3 = 94.437 mL, less a tablespoon of 14.787 mL: 79.650 mL of sugar at 0.845 g/mL are
// 67.304 g in each of 46.
func TestWhatFillsTheRest(t *testing.T) {
	f := bomb()
	f.Portions = append(f.Portions, treat.Addition{Ingredient: "Sugar", Where: treat.In, Rest: true})
	c := card(t, f, 40)
	near(t, "sugar", needed(t, c, "Sugar"), 46*(4./3*math.Pi*math.Pow(2.825, 3)-14.78676478125)*0.845)
	if got := said.Of(c.Sizes.Rest); !strings.Contains(got, "67 g") {
		t.Errorf("%s", got)
	}
	// Over the brim it is said, not refused, and nothing is left to fill.
	f.Portions[0].Each = measure.Of(100, measure.Millilitre)
	c = card(t, f, 40)
	if got := said.Text(c.Care); !strings.Contains(got, "fills 100 mL, but only 94 mL fits") {
		t.Errorf("%s", got)
	}
	for _, n := range c.Needs {
		if n.Ingredient == "Sugar" && n.Used.Amount > 0 {
			t.Errorf("%v g of sugar still fill it", n.Used.Amount)
		}
	}
}

// Rolling sugar of 2 parts to 1: 450 g were made, 154 g taken by 70 (rules 4.3, common practice): 2.2 g each. Without
// loss 70 are started; 296 g lie there at the end and come back: sugar 300 g in the house, 102.67 g of it used. After
// fresh fruit what lies there is thrown away.
func TestBeds(t *testing.T) {
	f := truffle()
	f.Loss = 0
	f.Portions[0].Each, f.Portions[0].Bed = measure.Grams(2.2), massOf(296)
	c := card(t, f, 70)
	n := c.Needs[slices.IndexFunc(c.Needs, func(n Need) bool { return n.Ingredient == "Sugar" })]
	near(t, "sugar in the house", n.House.Amount, 300)
	near(t, "sugar used", n.Used.Amount, 154./450*300)
	if m := c.Mixes[slices.IndexFunc(c.Mixes, func(m Mixed) bool { return m.Mix == "rolling" })]; math.Abs(
		m.Make.Amount-450) > 1e-9 {
		t.Errorf("make %v g", m.Make.Amount)
	}
	got := said.Text(stepOf(t, c, "dip").Amounts)
	if !strings.Contains(got, "450 g. 154 g of it sticks, 296 g comes back") {
		t.Errorf("%s", got)
	}
	berry := fruit()
	berry.Portions = []treat.Addition{{Ingredient: "Malt", Each: measure.Grams(2), Where: treat.On, Bed: massOf(100)}}
	c = card(t, berry, 12)
	near(t, "malt", needed(t, c, "Malt"), 14*2+100)
	if got := said.Text(stepOf(t, c, "dip").Amounts); !strings.Contains(got, "throw it away") {
		t.Errorf("%s", got)
	}
}

func TestFaultsOfWhatIsMade(t *testing.T) {
	for _, c := range []struct {
		name string
		of   func() *treat.Formula
		harm func(*treat.Formula)
		path string
	}{
		{"beside a step that is gone", fruit, func(f *treat.Formula) { f.Steps[0].Beside = "x" }, "steps[0].beside"},
		{"beside an earlier step", fruit, func(f *treat.Formula) { f.Steps[1].Beside = "wash" }, "steps[1].beside"},
		{"beside, by rounds", bomb, func(f *treat.Formula) { f.Steps[0].Beside = "bag" }, "steps[0].beside"},
		{"prepares what is not in it", fruit, func(f *treat.Formula) {
			f.Steps[0].Prepare = []treat.Preparation{{How: "chop", Of: "Hazelnut"}}
		}, "steps[0].prepare[0].of"},
		{"prepares in no known way", fruit, func(f *treat.Formula) { f.Steps[0].Prepare[0].How = "boil" },
			"steps[0].prepare[0].how"},
		{"a bath to chop in", fruit, func(f *treat.Formula) {
			f.Steps[0].Prepare[0] = treat.Preparation{How: "chop", Covers: massOf(10),
				Bath: []treat.BathPart{{Of: "Cream", Amount: measure.Grams(1)}}}
		}, "steps[0].prepare[0].bath"},
		{"a bath that covers nothing", fruit, func(f *treat.Formula) {
			f.Steps[0].Prepare[0].Bath = []treat.BathPart{{Of: "Cream", Amount: measure.Grams(1)}}
		}, "steps[0].prepare[0].covers"},
		{"shares that do not make 100%", bomb, func(f *treat.Formula) {
			f.Coatings = slices.Insert(f.Coatings, 1, f.Coatings[0])
			f.Coatings[0].Share, f.Coatings[1].Share, f.Coatings[1].Ingredient = 0.5, 0.3, "White"
		}, "coatings[0].share"},
		{"a share of nothing", bomb, func(f *treat.Formula) {
			f.Coatings = slices.Insert(f.Coatings, 1, f.Coatings[0])
			f.Coatings[0].Share = 1
		}, "coatings[1].share"},
		{"two fill the rest", bomb, func(f *treat.Formula) {
			f.Portions = []treat.Addition{{Ingredient: "Malt", Where: treat.In, Rest: true},
				{Ingredient: "Sugar", Where: treat.In, Rest: true}}
		}, "portions[1].rest"},
		{"the rest of what has a filling", moulded, func(f *treat.Formula) {
			f.Portions = []treat.Addition{{Ingredient: "Malt", Where: treat.In, Rest: true}}
		}, "portions[0].rest"},
		{"a bed inside", bomb, func(f *treat.Formula) { f.Portions[0].Bed = massOf(5) }, "portions[0].bed"},
		{"a bed of a length", truffle, func(f *treat.Formula) { f.Portions[0].Bed = length(5, measure.Inch) },
			"portions[0].bed"},
		{"a fruit of its own", dozen, func(f *treat.Formula) { f.Finishes[0].Centre = &treat.Centre{Of: "Plum"} },
			"finishes[0].centre"},
		{"a design of ten hours", dozen, func(f *treat.Formula) { f.Finishes[0].Minutes = 600 }, "finishes[0].minutes"},
		{"a long note", fruit, func(f *treat.Formula) { f.Note = strings.Repeat("x", 1001) }, "note"},
		{"a long note of a step", fruit, func(f *treat.Formula) { f.Steps[2].Look = strings.Repeat("x", 1001) },
			"steps[2].look"},
		{"a cup of 5 litres", bomb, func(f *treat.Formula) {
			f.Choices["shape"], f.Shell.Across = "cup", *length(300.1, measure.Millimetre)
			f.Shell.Base, f.Shell.Height = length(200, measure.Millimetre), length(100, measure.Millimetre)
		}, "shell.across"},
		{"a tray with no cavities", moulded, func(f *treat.Formula) { f.Mould.Cavities = 0 }, "mould.cavities"},
	} {
		f := c.of()
		c.harm(f)
		var faults *invalid.Error
		if err := family.Check(f, larder(), supplies); !errors.As(err, &faults) {
			t.Errorf("%s: passes (%v)", c.name, err)
		} else if !slices.ContainsFunc(faults.Fields, func(x invalid.Field) bool { return x.Path == c.path }) {
			t.Errorf("%s: %v, want a fault at %s", c.name, said.Error(err), c.path)
		}
	}
}

// What the seller set themselves stays, every field of it, and what was done beside a step that goes is before the next.
func TestOwnStepsStay(t *testing.T) {
	before := fruit()
	before.Choices["coats"] = "two"
	before.Steps = family.Proposed(before, nil)
	own := treat.StepTemplate{ID: "own", Name: "Freeze candy", PerBatch: 5, Wait: 60, Spot: "freezer", Beside: "second"}
	steps := append([]treat.StepTemplate{own}, before.Steps...)
	steps[3].Note, steps[3].Look, steps[3].Loss, steps[3].Wait = "mind the leaves", "dull all over", 0.02, 45
	after := *before
	after.Choices = map[string]string{"coats": "one", "foot": "sealed"}
	now := family.Follow(steps, before, &after, nil)
	at := func(id ident.Step) treat.StepTemplate {
		return now[slices.IndexFunc(now, func(w treat.StepTemplate) bool { return w.ID == id })]
	}
	if dip := at("dip"); dip.Note != "mind the leaves" || dip.Look != "dull all over" || dip.Loss != 0.02 ||
		dip.Wait != 45 || dip.Name != "step.dip-to-shoulder-shake-seal" {
		t.Errorf("%+v", dip)
	}
	if got := at("own").Beside; got != "wash" {
		t.Errorf("beside %s", got)
	}
}

// Two drops to 8 oz, and up to three more when the colour has been judged (rules 3.3, common practice): 5 drops of 0.05
// mL to 226.8 g are bought and stirred in, and the treat is drawn in the colour they come to.
func TestTintIsJudged(t *testing.T) {
	k := larder()
	drops := k.Ingredients["Malt"].Fields
	drops.Name, drops.Density, drops.Allergens = "Blue oil colour", new(0.92), nil
	k.Ingredients["Oil"] = food.New("Oil", drops, k.Ingredients["Malt"].Price)
	f := pretzel()
	f.Coatings[0].Tint = &treat.Tint{Stirred: treat.Stirred{Ingredient: "Oil", Amount: measure.Of(2, measure.Drop),
		To: measure.Of(8, measure.Ounce)},
		More: new(measure.Of(3, measure.Drop)), Colour: "#3366aa"}
	if err := family.Check(f, k, supplies); err != nil {
		t.Fatal(err)
	}
	c, err := Compute(f, 24, k)
	if err != nil {
		t.Fatal(err)
	}
	p := c.Pots[0]
	stirred := p.Stirred[0]
	grams := 5 * 0.05 * 0.92
	share := grams / (226.796185 + grams)
	near(t, "in all", stirred.Amount.Amount+stirred.Later.Amount, p.Melted.Amount*share)
	near(t, "to start with", stirred.Amount.Amount*3, stirred.Later.Amount*2)
	if p.Chocolate.Tint != "#3366aa" || c.Look.Tint != "#3366aa" ||
		!strings.Contains(said.Text(p.Advice), "judge the colour") {
		t.Errorf("%+v %+v: %s", p.Chocolate, c.Look, said.Text(p.Advice))
	}
	f.Coatings[0].Tint.Colour = "blue"
	if err := family.Check(f, k, supplies); err == nil {
		t.Error("a colour in words passes")
	}
}

// A cup of 60 mm at the brim, 45 at the foot, 55 high, with a wall of 3 mm: slope 15 / 55; the lid lies between 54 mm
// and 53.18 mm, 3 mm deep: pi 0.3 / 3 (2.7^2 + 2.7 x 2.6591 + 2.6591^2) = 6.7672 mL, at 1.30 g/mL 8.797 g. Shell and lid
// are what the cup weighs of one chocolate. A dab of 1 g holds each stick, before it is filled.
func TestCupWithALidAndAStick(t *testing.T) {
	cup := bomb()
	cup.Choices["shape"] = "cup"
	cup.Shell.Across, cup.Shell.Base, cup.Shell.Height = *length(60, measure.Millimetre), length(45, measure.Millimetre),
		length(55, measure.Millimetre)
	cup.Shell.Wall = length(3, measure.Millimetre)
	cup.Coatings = cup.Coatings[:1]
	plain := card(t, stepped(cup), 12)
	cup.Coatings = append(cup.Coatings,
		treat.ChocolateLayer{Role: treat.RoleCap, Ingredient: "White", Pool: measure.Grams(60)},
		treat.ChocolateLayer{Role: treat.RoleDab, Ingredient: "Dark", Each: massOf(1), Pool: measure.Grams(0)})
	c := card(t, stepped(cup), 12)
	white := c.Pots[slices.IndexFunc(c.Pots, func(p Pot) bool { return p.Ingredient == "White" })]
	near(t, "lids", math.Round(white.OnPieces.Amount/float64(c.Start)*1000)/1000, 8.797)
	near(t, "a piece", c.PieceMass, float64(plain.PieceMass)+1)
	if got := after(stepOf(t, c, "fill")); got != "stick" {
		t.Errorf("filled after %s", got)
	}
	if fill := stepOf(t, c, "fill"); fill.Role != treat.RoleCap || len(fill.Pots) != 1 {
		t.Errorf("%+v", fill)
	}
	ball := bomb()
	ball.Coatings = append(ball.Coatings, treat.ChocolateLayer{Role: treat.RoleCap, Ingredient: "White"})
	if err := family.Check(ball, larder(), supplies); err == nil {
		t.Error("a ball has a lid")
	}
}

// grown is a treat of 40 steps and 12 designs, each with a coat, lines and toppings of its own.
func grown() *treat.Formula {
	f := truffle()
	for i := range 12 {
		f.Finishes = append(f.Finishes, treat.Design{Name: string(rune('a' + i)), Parts: 1 + i%3, Minutes: 0.1,
			Centre: &treat.Centre{Of: "ganache", Each: massOf(float64(10 + i))},
			Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "White", Each: massOf(5), Pool: measure.Grams(100),
				Tint: &treat.Tint{Stirred: treat.Stirred{Ingredient: "Sugar", Amount: measure.Grams(si.Grams(1 + i)),
					To: measure.Grams(1000)}}}, {Role: treat.RoleDrizzle, Ingredient: "Dark", Each: massOf(1),
				Pool: measure.Grams(30)}},
			Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(1), Where: treat.On}}})
	}
	f.Steps = family.Proposed(f, nil)
	for len(f.Steps) < 40 {
		f.Steps = slices.Insert(f.Steps, 1, treat.StepTemplate{ID: ident.Step("own" + string(rune('A'+len(f.Steps)))),
			Name: "own", PerBatch: 1})
	}
	return f
}

func BenchmarkGrown(b *testing.B) {
	f, k := grown(), larder()
	if err := family.Check(f, k, supplies); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := Compute(f, 144, k); err != nil {
			b.Fatal(err)
		}
	}
}

// A treat begins with what its family is mostly made of, not with what comes first in the alphabet.
func TestBeginsWithWhatIsLikely(t *testing.T) {
	k := larder()
	apple := k.Ingredients["Strawberry"].Fields
	apple.Name = "Apple rings"
	k.Ingredients["Apple"] = food.New("Apple", apple, k.Ingredients["Strawberry"].Price)
	almond := k.Mixes["ganache"]
	almond.ID, almond.Name = "almond", "Almond paste"
	k.Mixes["almond"] = almond
	for name, want := range map[treat.Family]ident.Ingredient{"fruit": "Strawberry", "truffle": "ganache",
		"fudge": "fudge"} {
		if f, err := family.Begin(name, k, nil); err != nil || f.Centre.Of != want {
			t.Errorf("%s begins with %v (%v), want %s", name, f.Centre, err, want)
		}
	}
}

// A page reads every list of a card: none is left out, also where nothing is lost and nothing is in it.
func TestNoListIsMissing(t *testing.T) {
	for name, of := range families {
		f := of()
		if f.Loss = 0; f.Family != "cluster" { // which is nothing without what is folded in
			f.Portions = nil
		}
		encoded, err := json.Marshal(card(t, f, 5))
		if err != nil {
			t.Fatal(err)
		}
		if at := bytes.Index(encoded, []byte(`null`)); at >= 0 {
			t.Errorf("%s: …%s", name, encoded[max(0, at-80):min(len(encoded), at+20)])
		}
	}
}

// Dark chocolate of a mix that is melted first is melted like any other, by the kitchen's way: its minutes are hands of
// the step at which the mix is made, and its method stands there line by line. 23 x 12 g of ganache hold 500 / 880 of
// dark: 156.8 g, 1.5 x 156.8 / 227 / 2 = 0.52: one minute.
func TestChocolateInsideAMixIsMelted(t *testing.T) {
	k := larder()
	m := k.Mixes["ganache"]
	plain, err := Compute(truffle(), 20, k)
	if err != nil {
		t.Fatal(err)
	}
	m.Parts = slices.Clone(m.Parts)
	m.Parts[0].Melted, m.Method, m.Keeps = true, "Boil the cream.\nPour it over.", new(48)
	k.Mixes["ganache"] = m
	c, err := Compute(truffle(), 20, k)
	if err != nil {
		t.Fatal(err)
	}
	centre := stepOf(t, c, "centre")
	if got := centre.HandsOnMin - stepOf(t, plain, "centre").HandsOnMin; got != 1 {
		t.Errorf("melting takes %d min more", got)
	}
	told := said.Text(centre.Amounts)
	for _, want := range []string{"Melt 157 g Dark for it", "Boil the cream.", "Pour it over."} {
		if !strings.Contains(told, want) {
			t.Errorf("%q, want %q", told, want)
		}
	}
	if plain.Keeps != 168 || c.Keeps != 48 {
		t.Errorf("keeps %d, and of a ganache of two days %d", plain.Keeps, c.Keeps)
	}
	m.Parts[1].Melted, m.Spot, m.Keeps = true, "cellar", new(0)
	var faults *invalid.Error
	if err := m.Check(k); !errors.As(err, &faults) || len(faults.Fields) != 3 {
		t.Errorf("%v", said.Error(err))
	}
}

// One design of a set may ask for more than the others: it is warned with what is in its way, and the others are not.
func TestADesignAsksForMore(t *testing.T) {
	f := dozen()
	f.Finishes[1].FreeFrom = []string{"wheat"}
	f.Finishes[2].Wishes = []food.Diet{food.Vegan}
	care := said.Text(card(t, f, 12).Care)
	for _, want := range []string{"in malt is to be free from wheat: Malt is in the way", "in blue is to be vegan: "} {
		if !strings.Contains(care, want) {
			t.Errorf("does not say %q: %s", want, care)
		}
	}
	f.Finishes[1].FreeFrom, f.Finishes[2].Wishes = []string{"stones"}, []food.Diet{"paleo"}
	var faults *invalid.Error
	if err := family.Check(f, larder(), supplies); !errors.As(err, &faults) || len(faults.Fields) != 2 ||
		faults.Fields[0].Path != "finishes[1].freeFrom[0]" || faults.Fields[1].Path != "finishes[2].wishes[0]" {
		t.Errorf("%v", err)
	}
}
