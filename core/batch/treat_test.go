package batch

import (
	"errors"
	"math"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text/said"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// By hand. 40 good at 6% loss, 95% sure: start 46 (TestExtrasAgainstHandbook), 92 half shells. Two moulds of 6 hold
// 12: 92 / 12 = 7.67, so 8 rounds, the last of 92 - 84 = 8 halves. A 2.5 in ball with a 3.5 mm wall: R = 3.175 cm, r =
// 2.825 cm, R^3 - r^3 = 32.0060 - 22.5453 = 9.4607; 4/3 pi x 9.4607 x 1.30 = 51.517 g. 46 of them: 2369.8 g, with 2%
// on the tools 2417.2 g used; with 200 g left in the bowl melt 2617.2 g. Hands: melting 2617 g takes 1.5 x 2617.2 / 227
// = 17.3 min in a microwave, half of it hands and 10 for the temper: 19; 170.8 g of lines 1; rounds 8 x 10 = 80;
// filling 5 + 0.75 x 46 = 39.5, so 40; lines 3 + 0.2 x 46 = 12.2, so 13; bagging 0.35 x 46 = 16.1, so 17. In all 170.
// Waiting: 8 x 10 + 10 + 5 = 95.
func TestBombByHand(t *testing.T) {
	c := card(t, bomb(), 40)
	if c.Start != 46 || c.Rounds.Count != 8 || !strings.Contains(said.Text(c.Rounds.Why), "the last fills 8") {
		t.Errorf("start %d, %+v", c.Start, c.Rounds)
	}
	shell := 4. / 3 * math.Pi * (math.Pow(3.175, 3) - math.Pow(2.825, 3)) * 1.30
	if math.Abs(shell-51.517) > 0.001 {
		t.Errorf("the hand's own shell is %v", shell)
	}
	near(t, "used", c.Pots[0].Used.Amount, 46*shell*1.02)
	near(t, "melted", c.Pots[0].Melted.Amount, 46*shell*1.02+200)
	near(t, "lines", c.Pots[1].Used.Amount, 46*3*1.02)
	near(t, "malt", needed(t, c, "Malt"), 46*14.78676478125*0.75)
	if c.Hands != 170 || c.Melting != 20 || c.Wait != 95 {
		t.Errorf("hands %d, wait %d, want 170 and 95", c.Hands, c.Wait)
	}
	near(t, "ribbon, mm", c.Packs[1].Amount.Amount, 40*300)
	// A piece: the ball, 3 g of lines, a tablespoon of malt: 51.517 + 3 + 11.090 = 65.607 g.
	near(t, "a piece", c.PieceMass, shell+3+14.78676478125*0.75)
	// Seed, from the middle of the melting band, 47.5 C, to that of the working band, 31.5 C, with seed at 21 C (rules
	// 4.3): 1.65 x 16 / (1.6 x 10.5 + 45) = 0.4272 of the melt, 0.2993 of the whole.
	near(t, "seed", c.Pots[0].Seed.Amount, (46*shell*1.02+200)*0.4271844660/1.4271844660)
	if c.Pots[1].Seed != nil {
		t.Error("compound is seeded")
	}
	if len(c.Steps) != 8+3 || c.Steps[7].After[0].Step != "shells-7" || c.FreshFrom != "shells-1" {
		t.Errorf("steps %d, fresh from %s", len(c.Steps), c.FreshFrom)
	}
	if got := strings.Join(c.Allergens, ", "); got != "milk, soy, wheat" {
		t.Errorf("allergens %s", got)
	}
}

// Filled and drained, the mould takes its whole hollow: 2/3 pi R^3 x 1.30 = 87.14 g a half, of which 25.76 g stay and
// 61.38 run back: one mould at a time, that fills the next. Of 92 halves, 15 moulds and 2 more, the bowl holds most
// before the 15th: 90 / 92 x 2417.2 + 6 x 61.38 = 2732.9 g, 115.8 more than with a pool of 200. Used stays the same.
func TestDrainMeltsMoreAndUsesTheSame(t *testing.T) {
	f := bomb()
	spooned := card(t, f, 40)
	f.Choices["coat"] = "drain"
	drained := card(t, f, 40)
	near(t, "used", drained.Pots[0].Used.Amount, spooned.Pots[0].Used.Amount)
	if more := drained.Pots[0].Melted.Amount - spooned.Pots[0].Melted.Amount; math.Abs(more-115.8) > 0.5 {
		t.Errorf("draining melts %.1f g more, want 115.8", more)
	}
}

// By hand. 12 good at 5% loss: start 14; 80% of the fruit is fit: 14 / 0.8 = 17.5, buy 18 of 18 g: 324 g. Coat 14 x 8
// = 112 g, used 114.24, melted 364.24 (chocolate's TestPotByHand). Hands: melting 1.5 x 364.24 / 227 / 2 + 10 = 11.2,
// so 12; wash 10 + 2.1, so 13; picks 1.4, so 2; dip 7; box 3.5, so 4: 38.
func TestFruitByHand(t *testing.T) {
	c := card(t, fruit(), 12)
	if c.Start != 14 || c.Hands != 38 {
		t.Errorf("start %d, hands %d, want 14 and 38", c.Start, c.Hands)
	}
	near(t, "strawberries", needed(t, c, "Strawberry"), 324)
	near(t, "melted", c.Pots[0].Melted.Amount, 364.24)
	if got := c.Packs[0].Amount.Amount; got != 1 {
		t.Errorf("%v boxes for a dozen", got)
	}
	if got := card(t, fruit(), 13).Packs[0].Amount.Amount; got != 2 {
		t.Errorf("%v boxes for 13: a begun one counts whole", got)
	}
	near(t, "a piece", c.PieceMass, 18+8)
	if c.FreshFrom != "dip" {
		t.Errorf("it ages from %s", c.FreshFrom)
	}
}

// By hand. 20 bags of 75 g are 1500 g; with 3% crumbs spread 1546.4 g. A sheet gives 329 g of chocolate (rules 4.5)
// and 80 g of nuts: 409 g. 1546.4 / 409 = 3.78: 4 sheets, or 3.78 when the last may be smaller.
func TestBarkByHand(t *testing.T) {
	f := bark()
	c := card(t, f, 20)
	sheet := treat.Slab(13*25.4, 9.5*25.4, 25.4/8, chocolate.Density)
	if c.Start != 4 {
		t.Errorf("%d sheets, want 4", c.Start)
	}
	near(t, "chocolate", c.Pots[0].OnPieces.Amount, float64(4*sheet))
	near(t, "nuts", needed(t, c, "Hazelnut"), 320)
	f.Choices["last"] = "part"
	part := card(t, f, 20)
	near(t, "chocolate of the area needed", part.Pots[0].OnPieces.Amount, float64(1500/0.97/(sheet+80)*sheet))
	if part.Start != 4 || !strings.Contains(said.Of(part.Rounds.Text), "the last one 78% full") {
		t.Errorf("%d: %s", part.Start, part.Rounds.Text)
	}
}

func needed(t *testing.T, c *Card, id ident.Ingredient) float64 {
	t.Helper()
	for _, n := range c.Needs {
		if n.Ingredient == id {
			return n.Used.Amount
		}
	}
	t.Fatalf("no %s in the card", id)
	return 0
}

func TestFaultsOfAFormula(t *testing.T) {
	for _, c := range []struct {
		name string
		of   func() *treat.Formula
		harm func(*treat.Formula)
		path string
		says string
	}{
		{"wall and mass", bomb, func(f *treat.Formula) { f.Shell.Mass = massOf(50) }, "shell.wall", "one of the two"},
		{"more chocolate than a solid ball", bomb, func(f *treat.Formula) {
			f.Shell.Wall, f.Shell.Mass = nil,
				massOf(400)
		}, "shell.mass", "leave no space inside"},
		{"a cup wider at its foot", bomb, func(f *treat.Formula) {
			f.Choices["shape"] = "cup"
			f.Shell.Base, f.Shell.Height = length(3, measure.Inch), length(2, measure.Inch)
		}, "shell.base", "no wider"},
		{"a choice that is none", bomb, func(f *treat.Formula) { f.Choices["set"] = "oven" }, "choices.set",
			"not one of the ways"},
		{"a choice of others", bark, func(f *treat.Formula) { f.Choices["skin"] = "rolled" }, "choices.skin",
			"no choice"},
		{"a gap that ends before it begins", bomb, func(f *treat.Formula) {
			f.Steps[1].Earliest, f.Steps[1].Latest = 10,
				new(si.Minutes(5))
		}, "steps[1].latest", "ends before it begins"},
		{"moulds held until a step before", bomb, func(f *treat.Formula) { f.Steps[1].Until = "shells" },
			"steps[1].until", "comes later"},
		{"it waits in the oven", bomb, func(f *treat.Formula) { f.Steps[0].Spot = "oven" }, "steps[0].place",
			"no storage spot"},
		{"compound seeded", pretzel, func(f *treat.Formula) { f.Coatings[0].Method = "seed" }, "coatings[0].method",
			"compound"},
		{"an unknown size", fruit, func(f *treat.Formula) { f.Centre.Size = "giant" }, "centre.size", "no size"},
		{"a truffle of no weight", truffle, func(f *treat.Formula) { f.Centre.Each = nil }, "centre.each",
			"one of the two"},
		{"a size without a density", truffle, func(f *treat.Formula) {
			f.Centre = &treat.Centre{Of: "rolling",
				Across: length(2, measure.Centimetre)}
		}, "centre.of", "density of Rolling sugar"},
		{"a centre that is counted", truffle, func(f *treat.Formula) { f.Centre.Of = "Flower" }, "centre.of",
			"kept by the piece"},
		{"fudge of nuts", fudge, func(f *treat.Formula) { f.Centre.Of = "Hazelnut" }, "centre.of", "density"},
		{"no grid", fudge, func(f *treat.Formula) { f.Sheet.Rows = 0 }, "sheet.rows", "rows and columns"},
		{"all trim", fudge, func(f *treat.Formula) {
			f.Sheet.Trim = length(99, measure.Millimetre)
			f.Sheet.Width = *length(7, measure.Inch)
		}, "sheet.trim", "leaves nothing"},
		{"shell and cap over the brim", moulded, func(f *treat.Formula) { f.Mould.Shell = 0.95 }, "mould.cap",
			"at most the whole"},
		{"a cap without chocolate", moulded, func(f *treat.Formula) { f.Coatings = f.Coatings[:1] }, "coatings",
			"give both or neither"},
		{"a fill without room", moulded, func(f *treat.Formula) { f.Mould.Shell = 0.9 }, "centre",
			"Remove the filling"},
		{"swirl of one", bark, func(f *treat.Formula) { f.Choices["style"] = "swirl" }, "coatings", "second chocolate"},
		{"a layer that is the whole", bark, func(f *treat.Formula) {
			f.Choices["style"] = "layers"
			f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White", Share: 1})
		}, "coatings[1].share", "between 0 and 100%"},
		{"something inside a strawberry", fruit, func(f *treat.Formula) {
			f.Portions = []treat.Addition{{Ingredient: "Malt", Each: measure.Grams(1), Where: treat.In}}
		}, "portions[0].where", "holds nothing besides its centre"},
		{"designs of one name", dozen, func(f *treat.Formula) { f.Finishes[1].Name = f.Finishes[0].Name },
			"finishes[1].name", "its own name"},
		{"a design of none", dozen, func(f *treat.Formula) { f.Finishes[1].Parts = 0 }, "finishes[1].parts",
			"at least 1"},
		{"a design of nuts", dozen, func(f *treat.Formula) { f.Finishes[2].Coatings[0].Ingredient = "Hazelnut" },
			"finishes[2].coatings[0].ingredient", "not a chocolate"},
		{"designs of bark", bark, func(f *treat.Formula) { f.Finishes = []treat.Design{{Name: "a", Parts: 1}} },
			"finishes", "one design"},
		{"no shell", bomb, func(f *treat.Formula) { f.Shell = nil }, "shell", "needs a shell"},
		{"wall thicker than the radius", bomb, func(f *treat.Formula) { f.Shell.Wall = length(2, measure.Inch) },
			"shell.wall", "no hollow"},
		{"unknown unit", bomb, func(f *treat.Formula) { f.Shell.Across.Unit = "thumb" }, "shell.across", "“thumb”"},
		{"a mass for a length", bomb, func(f *treat.Formula) { f.Shell.Wall.Unit = "g" }, "shell.wall",
			"must be a length"},
		{"a mass where only a count makes sense", bomb, func(f *treat.Formula) {
			f.Portions[0] = treat.Addition{Ingredient: "Flower", Each: measure.Grams(2), Where: treat.In}
		}, "portions[0].each", "weight per piece"},
		{"a count of something weighed", bomb, func(f *treat.Formula) {
			f.Portions[0].Each = measure.Of(1,
				measure.Each)
		}, "portions[0].each", "weight per piece"},
		{"a volume without a density", bark, func(f *treat.Formula) { f.Portions[0].Each = measure.Of(1, measure.Cup) },
			"portions[0].each", "density"},
		{"fruit without a weight", fruit, func(f *treat.Formula) { f.Centre.Of = "Plum" }, "centre.of",
			"weight per piece"},
		{"nothing fit to use", fruit, func(f *treat.Formula) { f.Centre.Share = -1 }, "centre.share", "more than 0"},
		{"a loss of 100%", fruit, func(f *treat.Formula) { f.Loss = 1 }, "loss", "90%"},
		{"not a number", fruit, func(f *treat.Formula) { f.Loss = math.NaN() }, "loss", "90%"},
		{"no chocolate", fruit, func(f *treat.Formula) { f.Coatings = nil; f.Steps = f.Steps[:1] }, "coatings",
			"needs a chocolate"},
		{"nuts for chocolate", bark, func(f *treat.Formula) { f.Coatings[0].Ingredient = "Hazelnut" },
			"coatings[0].ingredient", "not a chocolate"},
		{"a coat on bark", bark, func(f *treat.Formula) { f.Coatings[0].Role = treat.RoleCoat }, "coatings[0].role",
			"no"},
		{"unknown ingredient", bark, func(f *treat.Formula) { f.Portions[0].Ingredient = "x" },
			"portions[0].ingredient", "not in the larder"},
		{"packaging by volume", bark, func(f *treat.Formula) { f.Packs[0].Amount.Unit = "mL" }, "packs[0].amount",
			"counted"},
		{"bags by length", bark, func(f *treat.Formula) { f.Packs[0].Amount.Unit = "cm" }, "packs[0].amount", "length"},
		{"a box for nobody", bark, func(f *treat.Formula) { f.Packs[0].Per = 0 }, "packs[0].per", "at least 1"},
		{"two steps of one name", bark, func(f *treat.Formula) { f.Steps[1].ID = f.Steps[0].ID }, "steps[1].id",
			"of its own"},
		{"a pot that is not there", fruit, func(f *treat.Formula) { f.Steps[0].Pot = treat.RoleDrizzle },
			"steps[0].pot", "does not have"},
		{"no steps", fruit, func(f *treat.Formula) { f.Steps = nil }, "steps", "at least 1 step"},
		{"a shell of fruit", fruit, func(f *treat.Formula) { f.Shell = bomb().Shell }, "shell",
			"A dipped fruit has no shell: leave it out."},
		{"a sheet of bombs", bomb, func(f *treat.Formula) { f.Sheet = bark().Sheet }, "sheet", "has no sheet"},
		{"a centre of clusters", cluster, func(f *treat.Formula) { f.Centre = fruit().Centre }, "centre",
			"A cluster has no centre"},
		{"a family of later", fruit, func(f *treat.Formula) { f.Family = "pie" }, "family", "bomb, fruit"},
	} {
		f := c.of()
		c.harm(f)
		var faults *invalid.Error
		if err := family.Check(f, larder(), supplies); !errors.As(err, &faults) {
			t.Errorf("%s: passes (%v)", c.name, err)
			continue
		}
		found := false
		for _, fault := range faults.Fields {
			found = found || fault.Path == c.path && strings.Contains(said.Error(fault.Err), c.says)
		}
		if !found {
			t.Errorf("%s: got %v, want %s: … %s …", c.name, faults, c.path, c.says)
		}
	}
}

func BenchmarkCard(b *testing.B) {
	k := larder()
	for name, of := range families {
		f := of()
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				if _, err := Compute(f, 1000, k); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
