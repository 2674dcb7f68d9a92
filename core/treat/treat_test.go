package treat

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// larder of the tests.
func larder() map[string]Ingredient {
	g := func(id string, s measure.Substance, price string, perGrams int64, allergens ...string) Ingredient {
		return Ingredient{ID: id, Name: id, Unit: measure.Gram, Substance: s, Allergens: allergens, Price: decimal.RequireFromString(price).Div(decimal.NewFromInt(perGrams))}
	}
	dark := g("Dark", measure.Substance{}, "14.50", 1000, "milk", "soy")
	dark.Chocolate = &Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark}
	white := g("White", measure.Substance{}, "12.00", 1000, "milk")
	white.Chocolate = &Chocolate{Kind: chocolate.Compound, Colour: chocolate.White}
	flower := Ingredient{ID: "Flower", Name: "Flower", Unit: measure.Each, Price: decimal.RequireFromString("0.20")}
	all := map[string]Ingredient{}
	for _, i := range []Ingredient{dark, white, flower, g("Strawberry", measure.Substance{GramsEach: 18}, "10.00", 1000), g("Malt", measure.Substance{Density: 0.75}, "9.80", 800, "wheat"),
		g("Hazelnut", measure.Substance{}, "11.40", 500, "tree nut"), g("Plum", measure.Substance{}, "5.00", 1000)} {
		all[i.ID] = i
	}
	return all
}

var supplies = map[string]string{"bag": "Bags", "box": "Boxes", "ribbon": "Ribbon"}

func grams(x float64) *measure.Quantity { q := measure.Grams(x); return &q }

func bomb() *Formula {
	return &Formula{Family: Bomb, Loss: 0.06, Keeps: 336,
		Shell:    &Shell{Across: measure.Of(2.5, measure.Inch), Wall: measure.Of(3.5, measure.Millimetre), Cavities: 6, Moulds: 2},
		Coatings: []Coating{{Role: RoleShell, Ingredient: "Dark", Pool: measure.Grams(200)}, {Role: RoleDrizzle, Ingredient: "White", Each: grams(3), Pool: measure.Grams(30)}},
		Portions: []Portion{{"Malt", measure.Of(1, measure.Tablespoon)}},
		Packs:    []Pack{{"bag", measure.Of(1, measure.Each), 1}, {"ribbon", measure.Of(30, measure.Centimetre), 1}}, Steps: Proposed(Bomb)}
}

func fruit() *Formula {
	return &Formula{Family: Fruit, Loss: 0.05, Keeps: 24, Fruit: &Fit{"Strawberry", 0.8},
		Coatings: []Coating{{Role: RoleCoat, Ingredient: "Dark", Each: grams(8), Pool: measure.Grams(250)}},
		Portions: []Portion{}, Packs: []Pack{{"box", measure.Of(1, measure.Each), 12}}, Steps: without(Proposed(Fruit), "lines")}
}

func bark() *Formula {
	return &Formula{Family: Bark, Loss: 0.03, Keeps: 720,
		Sheet:    &Sheet{Length: measure.Of(13, measure.Inch), Width: measure.Of(9.5, measure.Inch), Depth: measure.Of(0.125, measure.Inch), Bag: measure.Grams(75), Whole: true},
		Coatings: []Coating{{Role: RoleBase, Ingredient: "Dark", Pool: measure.Grams(60)}},
		Portions: []Portion{{"Hazelnut", measure.Grams(80)}}, Packs: []Pack{{"bag", measure.Of(1, measure.Each), 1}}, Steps: Proposed(Bark)}
}

func without(steps []Work, id string) []Work {
	kept := []Work{}
	for _, s := range steps {
		if s.ID != id {
			kept = append(kept, s)
		}
	}
	return kept
}

func card(t *testing.T, f *Formula, count int) *Card {
	t.Helper()
	if err := f.Check(larder(), supplies); err != nil {
		t.Fatal(err)
	}
	c, err := Compute(f, count, 0.95, 21, larder())
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func near(t *testing.T, what string, got, want float64) {
	t.Helper()
	if math.Abs(got-want) > 1e-6*math.Max(1, math.Abs(want)) {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}

// By hand. 40 good at 6 % loss, 95 % sure: start 46 (TestExtrasAgainstHandbook), 92 half shells. Two moulds of 6 hold 12:
// 92 / 12 = 7.67, so 8 rounds, the last of 92 - 84 = 8 halves. A 2.5 in ball with a 3.5 mm wall: R = 3.175 cm,
// r = 2.825 cm, R^3 - r^3 = 32.0060 - 22.5453 = 9.4607; 4/3 pi x 9.4607 x 1.30 = 51.517 g. 46 of them: 2369.8 g, with
// 2 % on the tools 2417.2 g used; with 200 g left in the bowl melt 2617.2 g.
// Hands: melting 25 + 10; rounds 8 x 10 = 80; filling 5 + 0.75 x 46 = 39.5, so 40; lines 3 + 0.2 x 46 = 12.2, so 13;
// bagging 0.35 x 46 = 16.1, so 17. In all 185. Waiting: 8 x 10 + 10 + 5 = 95.
func TestBombByHand(t *testing.T) {
	c := card(t, bomb(), 40)
	if c.Start != 46 || c.Rounds.Count != 8 || !strings.Contains(c.Rounds.Why, "the last fills 8") {
		t.Errorf("start %d, %+v", c.Start, c.Rounds)
	}
	shell := 4. / 3 * math.Pi * (math.Pow(3.175, 3) - math.Pow(2.825, 3)) * 1.30
	if math.Abs(shell-51.517) > 0.001 {
		t.Errorf("the hand's own shell is %v", shell)
	}
	near(t, "used", c.Pots[0].Melt.Used, 46*shell*1.02)
	near(t, "melted", c.Pots[0].Melt.Melted, 46*shell*1.02+200)
	near(t, "lines", c.Pots[1].Melt.Used, 46*3*1.02)
	near(t, "malt", needed(t, c, "Malt"), 46*14.78676478125*0.75)
	if c.Hands != 185 || c.Wait != 95 {
		t.Errorf("hands %d, wait %d, want 185 and 95", c.Hands, c.Wait)
	}
	near(t, "ribbon, mm", c.Packs[1].Amount.Amount, 40*300)
	// A piece: the ball, 3 g of lines, a tablespoon of malt: 51.517 + 3 + 11.090 = 65.607 g.
	near(t, "a piece", c.PieceMass, shell+3+14.78676478125*0.75)
	// Seed, from the middle of the melting band, 47.5 C, to that of the working band, 31.5 C, with seed at 21 C (handbook
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

// Filled and drained, the mould takes its whole hollow: 2/3 pi R^3 x 1.30 = 87.14 g a half, of which 25.76 g stay. What
// drains from one round of 12 halves, 12 x 61.38 = 736.6 g, is there for the next. Used stays the same.
func TestDrainMeltsMoreAndUsesTheSame(t *testing.T) {
	f := bomb()
	spooned := card(t, f, 40)
	f.Shell.Drain = true
	drained := card(t, f, 40)
	near(t, "used", drained.Pots[0].Melt.Used, spooned.Pots[0].Melt.Used)
	if more := drained.Pots[0].Melt.Melted - spooned.Pots[0].Melt.Melted; math.Abs(more-736.6) > 0.5 {
		t.Errorf("draining melts %.1f g more, want 736.6", more)
	}
}

// By hand. 12 good at 5 % loss: start 14; 80 % of the fruit is fit: 14 / 0.8 = 17.5, buy 18 of 18 g: 324 g. Coat 14 x 8 =
// 112 g, used 114.24, melted 364.24 (chocolate's TestPotByHand). Hands: 25 + wash 10 + 2.1, so 13; picks 1.4, so 2;
// dip 7; box 3.5, so 4: 51.
func TestFruitByHand(t *testing.T) {
	c := card(t, fruit(), 12)
	if c.Start != 14 || c.Hands != 51 {
		t.Errorf("start %d, hands %d, want 14 and 51", c.Start, c.Hands)
	}
	near(t, "strawberries", needed(t, c, "Strawberry"), 324)
	near(t, "melted", c.Pots[0].Melt.Melted, 364.24)
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

// By hand. 20 bags of 75 g are 1500 g; with 3 % crumbs spread 1546.4 g. A sheet gives 329 g of chocolate (handbook 4.5) and
// 80 g of nuts: 409 g. 1546.4 / 409 = 3.78: 4 sheets, or 3.78 when the last may be smaller.
func TestBarkByHand(t *testing.T) {
	f := bark()
	c := card(t, f, 20)
	sheet := Slab(13*25.4, 9.5*25.4, 25.4/8, chocolate.Density)
	if c.Start != 4 {
		t.Errorf("%d sheets, want 4", c.Start)
	}
	near(t, "chocolate", c.Pots[0].Melt.OnPieces, 4*sheet)
	near(t, "nuts", needed(t, c, "Hazelnut"), 320)
	f.Sheet.Whole = false
	part := card(t, f, 20)
	near(t, "chocolate of the area needed", part.Pots[0].Melt.OnPieces, 1500/0.97/(sheet+80)*sheet)
	if part.Start != 4 || !strings.Contains(part.Rounds.Text, "the last one 78 % full") {
		t.Errorf("%d: %s", part.Start, part.Rounds.Text)
	}
}

func needed(t *testing.T, c *Card, id string) float64 {
	t.Helper()
	for _, n := range c.Needs {
		if n.Ingredient == id {
			return n.Used.Amount
		}
	}
	t.Fatalf("no %s in the card", id)
	return 0
}

// randomFormula of any family, within what Check allows.
func randomFormula(r *rand.Rand) *Formula {
	f := []func() *Formula{bomb, fruit, bark}[r.IntN(3)]()
	f.Loss = r.Float64() * 0.5
	f.Coatings[0].Pool = measure.Grams(r.Float64() * 500)
	switch f.Family {
	case Bomb:
		f.Shell.Wall = measure.Of(1+r.Float64()*6, measure.Millimetre)
		f.Shell.Cavities, f.Shell.Moulds, f.Shell.Drain = 1+r.IntN(20), 1+r.IntN(4), r.IntN(2) == 0
	case Fruit:
		f.Fruit.Share = 0.2 + 0.8*r.Float64()
	case Bark:
		f.Sheet.Bag, f.Sheet.Whole = measure.Grams(20+r.Float64()*400), r.IntN(2) == 0
	}
	return f
}

// Whatever the treat: used + reclaimed = melted, and no amount falls when the count rises.
func TestAmountsNeverFall(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		f := randomFormula(r)
		count := 1 + r.IntN(300)
		a, b := card(t, f, count), card(t, f, count+1+r.IntN(30))
		for i, p := range a.Pots {
			near(t, "used + reclaimed", p.Melt.Used+p.Melt.Reclaimed, p.Melt.Melted)
			if b.Pots[i].Melt.Melted < p.Melt.Melted-1e-9 || b.Pots[i].Melt.Used < p.Melt.Used-1e-9 {
				t.Errorf("%s: %d melt %v, %d melt %v", f.Family, a.Good, p.Melt, b.Good, b.Pots[i].Melt)
			}
		}
		for i, n := range a.Needs {
			if m := b.Needs[i]; m.Used.Amount < n.Used.Amount-1e-9 || m.House.Amount < n.House.Amount-1e-9 || m.Cost.LessThan(n.Cost.Sub(decimal.New(1, -9))) {
				t.Errorf("%s: %d take %v of %s, %d take %v", f.Family, a.Good, n.Used.Amount, n.Name, b.Good, m.Used.Amount)
			}
			if n.House.Amount < n.Used.Amount-1e-9 {
				t.Errorf("%s is used but not in the house", n.Name)
			}
		}
		if a.Start > b.Start || a.Hands > b.Hands {
			t.Errorf("%s: %d start %d in %d min, %d start %d in %d min", f.Family, a.Good, a.Start, a.Hands, b.Good, b.Start, b.Hands)
		}
		sum := 0.0
		for _, s := range a.Steps {
			if s.Hands < 1 {
				t.Errorf("step %s takes %d minutes", s.ID, s.Hands)
			}
			sum += float64(s.Hands)
		}
		if sum > float64(a.Hands) {
			t.Errorf("steps take %v of %d minutes", sum, a.Hands)
		}
	}
}

func TestFaultsOfAFormula(t *testing.T) {
	for _, c := range []struct {
		name string
		of   func() *Formula
		harm func(*Formula)
		path string
		says string
	}{
		{"no shell", bomb, func(f *Formula) { f.Shell = nil }, "shell", "needs a shell"},
		{"wall thicker than the radius", bomb, func(f *Formula) { f.Shell.Wall = measure.Of(2, measure.Inch) }, "shell.wall", "no hollow"},
		{"unknown unit", bomb, func(f *Formula) { f.Shell.Across.Unit = "thumb" }, "shell.across", `"thumb"`},
		{"a mass for a length", bomb, func(f *Formula) { f.Shell.Wall.Unit = "g" }, "shell.wall", "must be a length"},
		{"a mass where only a count makes sense", bomb, func(f *Formula) { f.Portions[0] = Portion{"Flower", measure.Grams(2)} }, "portions[0].each", "weight per piece"},
		{"a count of something weighed", bomb, func(f *Formula) { f.Portions[0].Each = measure.Of(1, measure.Each) }, "portions[0].each", "weight per piece"},
		{"a volume without a density", bark, func(f *Formula) { f.Portions[0].Each = measure.Of(1, measure.Cup) }, "portions[0].each", "density"},
		{"fruit without a weight", fruit, func(f *Formula) { f.Fruit.Ingredient = "Plum" }, "fruit.ingredient", "weight per piece"},
		{"nothing fit to use", fruit, func(f *Formula) { f.Fruit.Share = 0 }, "fruit.share", "more than 0"},
		{"a loss of 100 %", fruit, func(f *Formula) { f.Loss = 1 }, "loss", "90 %"},
		{"not a number", fruit, func(f *Formula) { f.Loss = math.NaN() }, "loss", "90 %"},
		{"no chocolate", fruit, func(f *Formula) { f.Coatings = nil; f.Steps = f.Steps[:1] }, "coatings", "needs a chocolate"},
		{"nuts for chocolate", bark, func(f *Formula) { f.Coatings[0].Ingredient = "Hazelnut" }, "coatings[0].ingredient", "not a chocolate"},
		{"a coat on bark", bark, func(f *Formula) { f.Coatings[0].Role = RoleCoat }, "coatings[0].role", "no"},
		{"unknown ingredient", bark, func(f *Formula) { f.Portions[0].Ingredient = "x" }, "portions[0].ingredient", "not in the larder"},
		{"packaging by weight", bark, func(f *Formula) { f.Packs[0].Amount.Unit = "g" }, "packs[0].amount", "counted"},
		{"a box for nobody", bark, func(f *Formula) { f.Packs[0].Per = 0 }, "packs[0].per", "at least 1"},
		{"two steps of one name", bark, func(f *Formula) { f.Steps[1].ID = f.Steps[0].ID }, "steps[1].id", "of its own"},
		{"a pot that is not there", fruit, func(f *Formula) { f.Steps[0].Pot = RoleDrizzle }, "steps[0].pot", "does not have"},
		{"no steps", fruit, func(f *Formula) { f.Steps = nil }, "steps", "at least 1 step"},
		{"a family of later", fruit, func(f *Formula) { f.Family = "pie" }, "family", "bomb, fruit or bark"},
	} {
		f := c.of()
		c.harm(f)
		var faults *invalid.Error
		if err := f.Check(larder(), supplies); !errors.As(err, &faults) {
			t.Errorf("%s: passes (%v)", c.name, err)
			continue
		}
		found := false
		for _, fault := range faults.Fields {
			found = found || fault.Path == c.path && strings.Contains(fault.Says, c.says)
		}
		if !found {
			t.Errorf("%s: got %v, want %s: … %s …", c.name, faults, c.path, c.says)
		}
	}
}

func BenchmarkCard(b *testing.B) {
	f, all := bomb(), larder()
	for b.Loop() {
		if _, err := Compute(f, 60, 0.95, 21, all); err != nil {
			b.Fatal(err)
		}
	}
}
