package batch

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text/said"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// By hand. 24 good at 4% loss: 26 are enough with P(lost <= 2) = 0.96^26 (1 + 26/24 + 325/576) = 0.916, 27 with P(lost
// <= 3) = 0.96^27 (1 + 27/24 + 351/576 + 2925/13824) = 0.978: start 27. 95% come whole: 27 / 0.95 = 28.4, take 29 of
// 10 g. Coating 27 x 8.1 = 218.7 g, used 223.07, with 110 g left melt 333.07. A rod of 9 mm dipped 120 mm: the sleeve
// of t mm and its end hold 8.1 / 1.30 = 6.231 mL: pi ((4.5 + t)^2 (120 + t) - 4.5^2 x 120) = 6231 mm3; t = 1.5 gives
// 6106, t = 1.53 gives 6240: 1.53 mm.
func TestPretzelByHand(t *testing.T) {
	c := card(t, pretzel(), 24)
	if c.Start != 27 {
		t.Errorf("start %d, want 27", c.Start)
	}
	near(t, "rods", needed(t, c, "Rod"), 290)
	near(t, "melted", c.Pots[0].Melted.Amount, 27*8.1*1.02+110)
	if wall := c.Sizes.Wall.Amount; math.Abs(wall-1.53) > 0.01 {
		t.Errorf("the coat is %.3f mm thick, want 1.53", wall)
	}
	if c.Steps[1].Storage != "freezer" || c.Steps[1].PassiveMin != 5 || c.Steps[1].Trays != 2 {
		t.Errorf("dip: %+v", c.Steps[1].Operation)
	}
	near(t, "a piece", c.PieceMass, 10+8.1+1+1)
}

// By hand. 36 good start 40 (at 5%: P(lost <= 4 of 40) = 0.952). 40 centres of 12 g are 480 g of ganache, 480/880 =
// 0.5455 of the recipe: 272.73 g dark, 130.91 g cream, 76.36 g liqueur. Coats 40 x 5 = 200 g, used 204, with 250 g left
// melt 454. Rolling sugar 40 x 1.5 = 60 g: 40 g sugar, 20 g starch. A centre of 12 g at 1.2 g/mL is 10 mL: d = 2
// cbrt(30 / (4 pi)) = 2.673 cm. 5 g of coat: cbrt(1.3365^3 + 3.846 x 3 / (4 pi)) - 1.3365 = 0.1531 cm.
func TestTruffleByHand(t *testing.T) {
	c := card(t, truffle(), 36)
	if c.Start != 40 {
		t.Errorf("start %d, want 40", c.Start)
	}
	near(t, "dark", needed(t, c, "Dark"), 480.*500/880+204)
	near(t, "cream", needed(t, c, "Cream"), 480.*240/880)
	near(t, "liqueur", needed(t, c, "Liqueur"), 480.*140/880)
	near(t, "sugar", needed(t, c, "Sugar"), 40)
	near(t, "starch", needed(t, c, "Starch"), 20)
	near(t, "melted", c.Pots[0].Melted.Amount, 454)
	if math.Abs(c.Sizes.Across.Amount-26.73) > 0.01 || math.Abs(c.Sizes.Wall.Amount-1.531) > 0.005 {
		t.Errorf("centre %v mm, coat %v mm, want 26.73 and 1.531", c.Sizes.Across.Amount, c.Sizes.Wall.Amount)
	}
	if slices.Contains(c.Diets, food.NoAlcohol) || !strings.Contains(said.All(c.Care), "alcohol") {
		t.Errorf("liqueur goes unsaid: %v, %v", c.Diets, c.Care)
	}
	if r := c.Pots[0].Rewarm; r == nil || !r.Cooled || r.Pieces < 1 || r.Pieces > 6 {
		t.Errorf("frozen centres in a small bowl: %+v", r)
	}
	// Given by its size and the thickness of its coat it is the same truffle.
	f := truffle()
	f.Centre.Each, f.Centre.Across = nil, length(26.7301, measure.Millimetre)
	f.Coatings[0].Each, f.Coatings[0].Thick = nil, length(1.5313, measure.Millimetre)
	same := card(t, f, 36)
	if math.Abs(float64(same.PieceMass-c.PieceMass)) > 0.01 {
		t.Errorf("by size it weighs %v, by weight %v", same.PieceMass, c.PieceMass)
	}
	// Rolled, the coat is hidden and need not be tempered (rules 2.4).
	f.Choices["skin"] = "rolled"
	if m := card(t, f, 36).Pots[0].Method; m != chocolate.NoTemper {
		t.Errorf("a rolled truffle is %s", m)
	}
}

// By hand. A pan of 203.2 x 203.2 x 20 mm holds 825.80 mL, at 1.25 g/mL 1032.26 g. 30 good at 4% start 33: one pan of
// 36. The mix yields (400 + 100 + 200) x 0.95 = 665 g: 1.5523 times. Of its caramel 620.91 g, which yields 450 of 500:
// sugar 413.94, cream 275.96; butter 155.23; dark 310.45. Of the slab with its nuts, 1092.26 g, (193.2 / 203.2)^2 =
// 0.9040 is left by the trim: 987.40 g, a piece of 27.43 g.
func TestFudgeByHand(t *testing.T) {
	c := card(t, fudge(), 30)
	if c.Start != 33 || c.Rounds.Count != 1 {
		t.Errorf("start %d in %d pans", c.Start, c.Rounds.Count)
	}
	slab := 203.2 * 203.2 * 20 / 1000 * 1.25
	near(t, "sugar", needed(t, c, "Sugar"), slab/665*400/450*300)
	near(t, "cream", needed(t, c, "Cream"), slab/665*400/450*200)
	near(t, "butter", needed(t, c, "Butter"), slab/665*100)
	near(t, "dark", needed(t, c, "Dark"), slab/665*200)
	if math.Abs(float64(c.PieceMass-27.43)) > 0.01 {
		t.Errorf("a piece weighs %v, want 27.43", c.PieceMass)
	}
	if len(c.Mixes) != 2 || c.Mixes[0].Mix != "caramel" {
		t.Errorf("the caramel is made before the fudge: %+v", c.Mixes)
	}
	near(t, "caramel to make", c.Mixes[0].Make.Amount, slab/665*400)
	if c.Boil == nil || !strings.Contains(said.Of(c.Boil.Text), "112 to 115 °C (234 to 239 °F)") || len(c.Care) == 0 {
		t.Errorf("soft ball: %+v, %v", c.Boil, c.Care)
	}
	if c.Look.Colour != chocolate.Dark {
		t.Errorf("it is drawn as %+v", c.Look)
	}
	// At 1609 m, where water boils at 94.6 C (rules 4.6), 5.4 C less.
	k := larder()
	k.Boiling = 94.6
	high, err := Compute(fudge(), 30, k)
	if err != nil || math.Abs(high.Boil.From-106.6) > 1e-9 || math.Abs(high.Boil.To-109.6) > 1e-9 {
		t.Errorf("at 1609 m: %+v (%v)", high.Boil, err)
	}
	f := fudge()
	f.Choices["cook"] = "quick"
	if quick := card(t, stepped(f), 30); quick.Boil != nil || quick.Steps[0].ID != "melt" {
		t.Errorf("quick fudge is boiled: %+v", quick.Steps[0])
	}
}

// By hand. A cavity of 12 mL holds 15.6 g. Shell 40%: 6.24 g, cap 10%: 1.56 g, fill 6 mL of 1.25 g/mL: 7.5 g. 24 good
// at 5% start 27: one round of 30. Dark 27 x 7.8 = 210.6 g in one pot, used 214.812. The shells take 27 x 6.24 x 1.02
// = 171.85; filled one mould after the other, 15 and 12, the bowl must hold 95.47 + 15 x 9.36 = 235.9 and 171.85 + 12 x
// 9.36 = 284.2, and with the pool of 150 in the end 321.85: melt that. The caps take 42.96, which is topped up.
func TestMouldedByHand(t *testing.T) {
	c := card(t, moulded(), 24)
	if c.Start != 27 || c.Rounds.Count != 1 || len(c.Pots) != 1 {
		t.Errorf("start %d, %d rounds, %d pots", c.Start, c.Rounds.Count, len(c.Pots))
	}
	near(t, "used", c.Pots[0].Used.Amount, 214.812)
	near(t, "melted", c.Pots[0].Melted.Amount, 27*6.24*1.02+150)
	near(t, "topped up", c.Pots[0].TopUp.Amount, 27*1.56*1.02)
	near(t, "drained in all", c.Pots[0].Drained.Amount, 27*9.36)
	near(t, "fill", needed(t, c, "Spread"), 27*7.5)
	near(t, "a piece", c.PieceMass, 6.24+1.56+7.5+1)
	// As a cube of 22.894 mm with a cap of 2.289 mm: (a - 2t)^2 (a - t - 2.289) is half of 12 000 mm3 at t = 2.62:
	// 17.65^2 x 17.98 = 5603; at t = 2.3: 18.29^2 x 18.30 = 6124; at 2.37: 18.15^2 x 18.23 = 6008. So 2.375.
	if wall := c.Sizes.Wall.Amount; math.Abs(wall-2.375) > 0.005 {
		t.Errorf("the shell is %v mm thick", wall)
	}
	// The moulds are held from the shell until the pieces are turned out.
	if takes := c.Steps[0].Takes; len(takes) != 1 || takes[0].Count != 2 || takes[0].Until != "turn" {
		t.Errorf("takes %+v", takes)
	}
	// Three rounds go round: shell, fill, cap, turn, and again.
	many := card(t, moulded(), 70)
	ids := []string{}
	for _, s := range many.Steps[:8] {
		ids = append(ids, string(s.ID))
	}
	if got := strings.Join(ids, " "); got != "shell-1 fill-1 cap-1 turn-1 shell-2 fill-2 cap-2 turn-2" ||
		many.Steps[4].Takes[0].Until != "turn-2" {
		t.Errorf("%s, %+v", got, many.Steps[4].Takes)
	}
	// 70 good start 78: in the first round 30 x 6.24 = 187.2 g, in all 486.7 g.
	if s := many.Steps[0]; len(s.Amounts) != 2 || !strings.HasPrefix(said.Of(s.Amounts[0]), "187 g Dark") ||
		!strings.HasPrefix(said.Of(s.Amounts[1]),
			"pour 16 g into a cavity, 234 g into a mould; 94 g stay, 140 g run back") || len(s.InAll) != 1 ||
		!strings.HasPrefix(said.Of(s.InAll[0]), fmt.Sprintf("%.0f g Dark", float64(many.Start)*6.24)) {
		t.Errorf("amounts %v, in all %v", s.Amounts, s.InAll)
	}
	solid := moulded()
	solid.Centre, solid.Mould.Shell, solid.Mould.Cap = nil, 1, 0
	solid.Coatings = solid.Coatings[:1]
	near(t, "a solid bar", card(t, stepped(solid), 10).PieceMass, 15.6+1)
}

// By hand. A cup of 60 mm at the brim, 45 at the foot, 55 high: pi 5.5 / 3 (3^2 + 3 x 2.25 + 2.25^2) = 119.83 mL. With
// a wall of 3 mm the room is between 3 mm above the foot and 3 below the brim, 3 mm in from each side there: 4.9 high,
// 60 - 0.818 - 6 = 53.182 and 45 + 0.818 - 6 = 39.818 across: pi 4.9 / 3 (2.6591^2 + 2.6591 x 1.9909 + 1.9909^2) =
// 83.79 mL. Chocolate 36.04 x 1.30 = 46.85 g.
func TestCupByHand(t *testing.T) {
	cup := treat.Cup{Top: 60, Base: 45, Height: 55}
	if got := cup.Hollow(3); math.Abs(got-83.79) > 0.05 {
		t.Errorf("room %v mL", got)
	}
	if got := cup.Mass(3, 1.30); math.Abs(float64(got-46.85)) > 0.1 {
		t.Errorf("%v g", got)
	}
	near(t, "the wall of its mass", cup.Wall(cup.Mass(3, 1.30), 1.30), 3)
	f := bomb()
	f.Choices["shape"] = "cup"
	f.Shell.Across, f.Shell.Base, f.Shell.Height, f.Shell.Wall = measure.Of(60, measure.Millimetre),
		length(45, measure.Millimetre), length(55, measure.Millimetre), nil
	f.Shell.Mass = massOf(46.85)
	c := card(t, stepped(f), 10)
	if math.Abs(c.Sizes.Wall.Amount-3) > 0.01 || c.Start != 12 || c.Rounds.Count != 1 {
		t.Errorf("wall %v, %d rounds of 12 cups for %d", c.Sizes.Wall.Amount, c.Rounds.Count, c.Start)
	}
	// One coat cracks: two are the default (rules 2.1).
	if c.Steps[1].ID != "second" || c.Steps[0].Takes[0].Until != "second" {
		t.Errorf("steps %s %s, %+v", c.Steps[0].ID, c.Steps[1].ID, c.Steps[0].Takes)
	}
}

// By hand. 12 good of fruit start 14: 4, 4, 4 good and, one by one from the first, 5, 5, 4 started. Dark for 10 pieces,
// blue for 4: 80 and 32 g. Lines 5 x 1.5, malt 5 x 2.
func TestDozenInThreeDesigns(t *testing.T) {
	c := card(t, dozen(), 12)
	for i, want := range []struct {
		good, start int
		mass        float64
	}{{4, 5, 27.5}, {4, 5, 28}, {4, 4, 26}} {
		if d := c.Designs[i]; d.Good != want.good || d.Start != want.start ||
			math.Abs(float64(d.PieceMass-si.Grams(want.mass))) > 1e-9 {
			t.Errorf("%+v, want %+v", d, want)
		}
	}
	near(t, "dark", c.Pots[0].OnPieces.Amount, 80)
	near(t, "blue", c.Pots[1].OnPieces.Amount, 32)
	near(t, "lines", c.Pots[2].OnPieces.Amount, 7.5)
	near(t, "malt", needed(t, c, "Malt"), 10)
	if !slices.Contains(c.Designs[1].Allergens, "wheat") || slices.Contains(c.Designs[0].Allergens, "wheat") {
		t.Errorf("wheat is in the malt: %v, %v", c.Designs[0].Allergens, c.Designs[1].Allergens)
	}
	ids := []string{}
	for _, s := range c.Steps {
		ids = append(ids, string(s.ID))
	}
	if got := strings.Join(ids, " "); got != "wash picks dip-a dip-b box" && got != "wash picks dip-a dip-b lines box" {
		t.Errorf("steps %s", got)
	}
	// Both colours are dipped after the picks are in, and what comes next waits for both.
	if a, b := c.Steps[2].After, c.Steps[3].After; len(a) != 1 || len(b) != 1 || a[0].Step != "picks" ||
		b[0].Step != "picks" || len(c.Steps[4].After) != 2 {
		t.Errorf("after %+v, %+v, %+v", a, b, c.Steps[4].After)
	}
	// Drying 20, setting 30 once though there are two chocolates, lines 5.
	if c.Wait != 55 {
		t.Errorf("it waits %d minutes, want 55", c.Wait)
	}
	// Places are handed out so that no design gets fewer of a larger count.
	designs := []treat.Design{{Parts: 5}, {Parts: 3}, {Parts: 1}}
	before := apportion(designs, 0)
	for n := 1; n < 200; n++ {
		now, sum := apportion(designs, n), 0
		for i := range now {
			sum += now[i]
			if now[i] < before[i] {
				t.Errorf("%d are %v, %d are %v", n-1, before, n, now)
			}
		}
		if sum != n {
			t.Errorf("%d are split into %v", n, now)
		}
		before = now
	}
}

// Two layers of 1/8 in each (rules 2.5, common practice) are two sheets of 329 g; a quarter trailed over leaves three.
func TestLayers(t *testing.T) {
	f := bark()
	f.Choices["style"] = "layers"
	f.Sheet.Depth = measure.Of(0.25, measure.Inch)
	f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White", Share: 0.5,
		Pool: measure.Grams(60)})
	c := card(t, stepped(f), 20)
	sheet := treat.Slab(13*25.4, 9.5*25.4, 25.4/8, chocolate.Density)
	for _, p := range c.Pots {
		near(t, p.Name, p.OnPieces.Amount, float64(sheet*si.Grams(c.Rounds.Count)))
	}
	if gap := c.Steps[2].After[0].Max; c.Steps[2].ID != "layer" || gap == nil || *gap > 60 {
		t.Errorf("the second goes on while the first is warm: %+v", c.Steps[2].After)
	}
	f.Coatings[1].Share = 0.25
	quarter := card(t, f, 20)
	near(t, "base", quarter.Pots[0].OnPieces.Amount, 3*quarter.Pots[1].OnPieces.Amount)
}

// Rules 2.1 and 6, common practice: 1 tbsp of mix for a mug of 8 fl oz, twice as much is strong; syrup inside keeps a
// day.
func TestMugs(t *testing.T) {
	f := bomb()
	f.Shell.Mug = length(12, measure.FluidOunce)
	c := card(t, f, 6)
	near(t, "mix for 12 fl oz", c.Sizes.Mix.Amount, 1.5*14.78676478125)
	if strings.Contains(said.All(c.Care), "24 hours") {
		t.Errorf("dry filling keeps: %v", c.Care)
	}
	f.Portions = append(f.Portions, treat.Addition{Ingredient: "Cream", Each: measure.Of(1, measure.Teaspoon),
		Where: treat.In})
	if c := card(t, f, 6); !strings.Contains(said.All(c.Care), "within 24 hours") {
		t.Errorf("cream inside goes unsaid: %v", c.Care)
	}
	for name, wet := range map[string]bool{"Cream": true, "Liqueur": true, "caramel": true, "Malt": false,
		"Sugar": false, "rolling": false} {
		f.Portions = []treat.Addition{{Ingredient: ident.Ingredient(name), Each: measure.Grams(2), Where: treat.In}}
		if got := strings.Contains(said.All(card(t, f, 6).Care), "within 24 hours"); got != wet {
			t.Errorf("%s inside: cautioned %v", name, got)
		}
	}
	if pot := c.Pots[1]; !strings.Contains(said.Text(pot.Additions), "thinner") ||
		strings.Contains(said.Text(c.Pots[0].Additions), "thinner") {
		t.Errorf("compound is thinned, real chocolate is not: %q, %q", pot.Additions, c.Pots[0].Additions)
	}
}

// Spread and trailed (rules 2.5, common practice): the toppings go on before the last quarter holds them.
func TestTrailed(t *testing.T) {
	f := bark()
	f.Choices["style"] = "trail"
	f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "Dark", Share: 0.25,
		Pool: measure.Grams(60)})
	c := card(t, stepped(f), 20)
	if len(c.Pots) != 1 || len(c.Steps[1].Amounts) != 2 || len(c.Steps[2].Amounts) != 1 {
		t.Errorf("%d pots, amounts %v, %v", len(c.Pots), c.Steps[1].Amounts, c.Steps[2].Amounts)
	}
	near(t, "the sheet is one in all", c.Pots[0].OnPieces.Amount,
		float64(si.Grams(c.Rounds.Count)*treat.Slab(13*25.4, 9.5*25.4, 25.4/8, chocolate.Density)))
}

// Size classes are measures of the fruit's own: extra large berries of 27 g.
func TestSizeClass(t *testing.T) {
	f := fruit()
	f.Centre.Size = "extra large"
	c := card(t, f, 12)
	near(t, "strawberries", needed(t, c, "Strawberry"), 18*27)
	near(t, "a piece", c.PieceMass, 27+8)
}

func TestLastRound(t *testing.T) {
	f := bomb()
	f.Loss = 0
	// 13 bombs are 26 half shells: two rounds of 12 and 2 more.
	part := card(t, f, 13)
	if part.Rounds.Count != 3 || part.Start != 13 || !part.Rounds.Hint.None() {
		t.Errorf("%+v", part.Rounds)
	}
	f.Choices["last"] = "whole"
	if whole := card(t, f, 13); whole.Start != 18 || whole.Spare.None() ||
		!strings.Contains(said.Text(whole.StartWhy), "13 are enough; 18 fill the last round") {
		t.Errorf("filled up: start %d, %q", whole.Start, whole.Spare)
	}
	// 12 good at 6% start 14, 28 half shells: without the last 4 of 12 one starts 12 and is 0.94^12 = 48% sure. A
	// quarter would be 3: no hint. 11 good start 13, 26: the last fills 2; without it 12, P(lost <= 1 of 12) = 0.4759 +
	// 0.3645 = 84 %.
	g := bomb()
	if c := card(t, g, 11); c.Start != 13 || !strings.Contains(said.Of(c.Rounds.Hint),
		"start 12 and are still 84% sure of 11") {
		t.Errorf("start %d, hint %q", c.Start, c.Rounds.Hint)
	}
}

// A sheet of a millimetre would come to a million sheets: said, not tried.
func TestTooManyRounds(t *testing.T) {
	f := bark()
	f.Sheet.Length, f.Sheet.Width = measure.Of(1, measure.Millimetre), measure.Of(1, measure.Millimetre)
	f.Portions = nil
	if _, err := Compute(f, 1000, larder()); err == nil || !strings.Contains(said.Error(err), "check the sizes") {
		t.Errorf("%v", err)
	}
}

func TestCounts(t *testing.T) {
	k := larder()
	for _, c := range []struct {
		of   func() *treat.Formula
		want Want
		good int
	}{
		{fruit, Want{Amount: 3, As: "dozen"}, 36},
		{fruit, Want{Amount: 40, As: "pieces"}, 40},
		{bark, Want{Amount: 1.5, As: "kg"}, 20},                      // bags of 75 g
		{truffle, Want{Amount: 3, As: "bags", Bag: massOf(100)}, 17}, // 300 g at 18.5 g
		{truffle, Want{Amount: 1, As: "lb"}, 25},                     // 453.6 g at 18.5 g
		{fudge, Want{Amount: 1, As: "pans"},
			32}, // 36 started: P(lost <= 3 of 36) = 0.945 is not enough for 33
		{moulded, Want{Amount: 1, As: "rounds"}, 26}, // 30 started: P(lost <= 3 of 30) = 0.939 is not enough for 27
	} {
		good, _, err := c.want.Good(c.of(), k)
		if err != nil || good != c.good {
			t.Errorf("%v %s: %d (%v), want %d", c.want.Amount, c.want.As, good, err, c.good)
		}
	}
	// As many sheets as were asked for, and no more.
	good, _, err := Want{Amount: 4, As: "sheets"}.Good(bark(), k)
	if err != nil || card(t, bark(), good).Rounds.Count != 4 || card(t, bark(), good+1).Rounds.Count != 5 {
		t.Errorf("4 sheets give %d bags (%v)", good, err)
	}
	for _, bad := range []struct {
		of   func() *treat.Formula
		want Want
		path string
	}{
		{fruit, Want{Amount: 0, As: "pieces"}, "amount"}, {fruit, Want{Amount: 2.5, As: "pieces"}, "amount"},
		{fruit, Want{Amount: 2, As: "sheets"}, "as"},
		{fruit, Want{Amount: 2, As: "bags"}, "bag"}, {bark, Want{Amount: 2, As: "pieces"}, "as"},
		{fruit, Want{Amount: 2, As: "crates"}, "as"}, {fruit, Want{Amount: 900, As: "kg"}, "amount"},
		{fruit, Want{Amount: math.NaN(), As: "pieces"}, "amount"}, {fruit, Want{Amount: 1e9, As: "pieces"}, "amount"},
		{bark, Want{Amount: 1e9, As: "kg"}, "amount"}, {fruit,
			Want{Amount: 1, As: "bags", Bag: length(2, measure.Inch)}, "bag"},
	} {
		var faults *invalid.Error
		if _, _, err := bad.want.Good(bad.of(), k); !errors.As(err, &faults) || faults.Fields[0].Path != bad.path {
			t.Errorf("%+v: %v, want a fault at %s", bad.want, err, bad.path)
		}
	}
}

// "I have 900 g of dark and 3 punnets: how many can I make?" By hand: 3 x 454 = 1362 g are 75 berries of 18 g, 80% of
// them fit: 60 to dip (75 x 0.8), and 54 good are 60 started (at 5%, P(lost <= 6 of 60) = 0.965). Dark: 60 x 8 x 1.02
// + 250 = 739.6 g, there is enough.
func TestWhatOneHas(t *testing.T) {
	m, err := Make(fruit(), []Have{{"Dark", measure.Grams(900)}, {"Strawberry", measure.Of(3, "punnet")}}, larder())
	if err != nil || m.Good != 54 || m.Limit != "Strawberry" {
		t.Fatalf("%+v (%v), want 54 and berries that end first", m, err)
	}
	if c := card(t, fruit(), 55); needed(t, c, "Strawberry") <= 1362 {
		t.Error("one more would have been possible")
	}
	near(t, "dark left", m.Left[0].Amount.Amount, 900-60*8*1.02)
	if m, err := Make(fruit(), []Have{{"Dark", measure.Grams(100)}}, larder()); err != nil || m.Good != 0 ||
		!strings.Contains(said.Text(m.Text), "too little Dark") {
		t.Errorf("100 g of dark: %+v (%v)", m, err)
	}
	for _, bad := range [][]Have{nil, {{"Starch", measure.Grams(5)}}, {{"nothing", measure.Grams(5)}},
		{{"Dark", measure.Of(1, measure.Cup)}}} {
		var faults *invalid.Error
		if _, err := Make(fruit(), bad, larder()); !errors.As(err, &faults) {
			t.Errorf("%v: %v", bad, err)
		}
	}
}

// The seller's own minutes stay when a choice changes; what was only proposed follows.
func TestStepsFollowTheChoices(t *testing.T) {
	before := bomb()
	mine := slices.Clone(before.Steps)
	mine[0].PerRound = 14                                                                  // the seller's
	mine = append(mine, treat.StepTemplate{ID: "card", Name: "Tie a card", PerPiece: 0.1}) // a step of their own
	after := bomb()
	after.Choices = map[string]string{"set": "freezer", "coats": "two"}
	got := family.Follow(mine, before, after, nil)
	if got[0].PerRound != 14 || got[0].Spot != "freezer" || got[0].Wait != 5 || got[0].Until != "second" {
		t.Errorf("shells: %+v", got[0])
	}
	if got[1].ID != "second" || got[len(got)-1].ID != "card" {
		t.Errorf("%+v", got)
	}
	back := family.Follow(got, after, before, nil)
	if slices.ContainsFunc(back, func(w treat.StepTemplate) bool { return w.ID == "second" }) ||
		back[0].PerRound != 14 || back[0].Until != "" || back[0].Spot != "fridge" {
		t.Errorf("back: %+v", back)
	}
	// A step that the seller took out does not come back.
	if got := family.Follow(slices.DeleteFunc(slices.Clone(before.Steps),
		func(w treat.StepTemplate) bool { return w.ID == "bag" }), before, after, nil); slices.ContainsFunc(got,
		func(w treat.StepTemplate) bool { return w.ID == "bag" }) {
		t.Error("the step that was taken out is back")
	}
}

// Every family, with every option of every choice: its proposal passes its own check and can be computed.
func TestEveryChoice(t *testing.T) {
	for name, of := range families {
		for _, choice := range family.Choices(of()) {
			if len(choice.Options) < 2 {
				t.Errorf("%s: %s is no choice", name, choice.ID)
			}
			for _, o := range choice.Options {
				if code := family.ChoiceCode(of().Family, choice.ID) + "." + o; said.Of(reason.Of(code)) == "" ||
					said.Of(reason.Of(code+".why")) == "" {
					t.Errorf("%s: %s %s has no name or no reason", name, choice.ID, o)
				}
				f := of()
				f.Choices[choice.ID] = o
				if o == "cup" {
					f.Shell.Base, f.Shell.Height = length(50, measure.Millimetre), length(60, measure.Millimetre)
				}
				if choice.ID == "style" && o != "plain" {
					f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White",
						Share: 0.5, Pool: measure.Grams(60)})
				}
				c := card(t, stepped(f), 30)
				placed := map[string]bool{}
				for _, s := range c.Steps {
					for _, a := range s.After {
						if !placed[string(a.Step)] {
							t.Errorf("%s %s=%s: %s comes after %s, which is not before it", name, choice.ID, o, s.ID,
								a.Step)
						}
					}
					if s.PassiveMin > 0 && s.Storage == "" {
						t.Errorf("%s %s=%s: %s waits nowhere", name, choice.ID, o, s.ID)
					}
					placed[string(s.ID)] = true
				}
				for _, s := range c.Steps {
					for _, take := range s.Takes {
						if !placed[string(take.Until)] || take.Count < 1 || take.Tool != c.Tool.ID {
							t.Errorf("%s %s=%s: %s takes %+v", name, choice.ID, o, s.ID, take)
						}
					}
				}
			}
		}
	}
}

func TestWhatChanged(t *testing.T) {
	before, after := truffle(), truffle()
	after.Loss, after.Centre.Each = 0.08, massOf(14)
	after.Choices["skin"] = "rolled"
	after.Packs = nil
	was, is := larder().MixesOf(before), larder().MixesOf(after)
	ganache := is["ganache"]
	ganache.Parts = slices.Clone(ganache.Parts)
	ganache.Parts[1].Amount = measure.Grams(220)
	is["ganache"] = ganache
	changes := family.Changes(family.Version{Formula: before, Mixes: was}, family.Version{Formula: after, Mixes: is},
		larder(), supplies)
	want := []string{"Lost on the way: 5% to 8%", "Skin: dipped to dipped and rolled", "Centre, weight: 12 g to 14 g",
		"Ganache: Cream: 240 g to 220 g", "Boxes: 1 each for 12 to "}
	var told []string
	for _, c := range changes {
		told = append(told, said.Of(c.What)+": "+said.Of(c.Before)+" to "+said.Of(c.After))
	}
	if !slices.Equal(told, want) {
		t.Errorf("%q", told)
	}
	if none := family.Changes(family.Version{Formula: before, Mixes: was},
		family.Version{Formula: truffle(), Mixes: was}, larder(), supplies); len(none) != 0 {
		t.Errorf("nothing changed, and yet %+v", none)
	}
}

// A mix that is met again inside of another is made before both, in whatever order they are met.
func TestMixesAreMadeInOrder(t *testing.T) {
	k := larder()
	k.Mixes["crisp"] = treat.Mix{ID: "crisp", Name: "Crisp",
		Parts: []treat.MixPart{{Of: "ganache", Amount: measure.Grams(100)}, {Of: "Malt", Amount: measure.Grams(50)}}}
	f := truffle()
	f.Portions = []treat.Addition{{Ingredient: "crisp", Each: measure.Grams(2), Where: treat.On}}
	c, err := Compute(f, 12, k)
	if err != nil || len(c.Mixes) != 2 || c.Mixes[0].Mix != "ganache" || c.Mixes[1].Mix != "crisp" {
		t.Fatalf("%+v (%v)", c.Mixes, err)
	}
	// 12 good start 14: 14 x 12 g for the centres, and two thirds of 14 x 2 g for the crisp.
	near(t, "ganache", c.Mixes[0].Make.Amount, 14*12+28.*2/3)
}

// What a family begins with passes its check, or says what is missing.
func TestBegin(t *testing.T) {
	k := larder()
	for _, name := range family.All() {
		f, err := family.Begin(name, k, nil)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if err := family.Check(f, k, supplies); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	bare := &treat.Inputs{Ingredients: map[ident.Ingredient]food.Ingredient{"Sugar": k.Ingredients["Sugar"]},
		Mixes: map[ident.Ingredient]treat.Mix{}}
	for _, name := range family.All() {
		if _, err := family.Begin(name, bare, nil); err == nil || !strings.Contains(said.Error(err), "first") {
			t.Errorf("%s of sugar alone: %v", name, err)
		}
	}
}

func TestMixes(t *testing.T) {
	k := larder()
	for name, m := range k.Mixes {
		if err := m.Check(k); err != nil {
			t.Errorf("%s: %v", name, err)
		}
	}
	fudge := k.Mixes["fudge"]
	w := fudge.Weigh(k)
	near(t, "in", w.In, 700)
	near(t, "yield", w.Yield, 665)
	// The caramel of the fudge made of fudge: a cycle over two.
	caramel := k.Mixes["caramel"]
	caramel.Parts = append(slices.Clone(caramel.Parts), treat.MixPart{Of: "fudge", Amount: measure.Grams(10)})
	none := 0.0
	for _, c := range []struct {
		name string
		mix  treat.Mix
		path string
		says string
	}{
		{"a cycle over two", caramel, "parts[2].of", "Caramel → Fudge → Caramel"},
		{"made of itself", treat.Mix{ID: "fudge", Name: "Fudge",
			Parts: []treat.MixPart{{Of: "fudge", Amount: measure.Grams(1)}}}, "parts[0].of", "Fudge → Fudge"},
		{"of nothing", treat.Mix{Name: "Air"}, "parts", "Add what goes into the mix"},
		{"loses all", treat.Mix{Name: "Steam", Loss: 1, Parts: []treat.MixPart{{Of: "Sugar",
			Amount: measure.Grams(1)}}}, "loss", "between 0 and 95%"},
		{"a density of 0", treat.Mix{Name: "Void", Density: &none,
			Parts: []treat.MixPart{{Of: "Sugar", Amount: measure.Grams(1)}}}, "density", "more than 0"},
		{"0 g of sugar", treat.Mix{Name: "Sweet", Parts: []treat.MixPart{{Of: "Sugar", Amount: measure.Grams(0)}}},
			"parts[0].amount", "more than 0"},
		{"a cup of hazelnuts", treat.Mix{Name: "Nutty", Parts: []treat.MixPart{{Of: "Hazelnut",
			Amount: measure.Of(1, measure.Cup)}}}, "parts[0].amount", "density is not known"},
		{"flowers unweighed", treat.Mix{Name: "Posy", Parts: []treat.MixPart{{Of: "Flower",
			Amount: measure.Of(3, measure.Each)}}}, "parts[0].amount", "weight per piece"},
		{"of what is not there", treat.Mix{Name: "Myth", Parts: []treat.MixPart{{Of: "unicorn",
			Amount: measure.Grams(1)}}}, "parts[0].of", "not in the larder"},
		{"without a name", treat.Mix{Parts: []treat.MixPart{{Of: "Sugar", Amount: measure.Grams(1)}}}, "name",
			"a name"},
	} {
		var faults *invalid.Error
		if err := c.mix.Check(k); !errors.As(err, &faults) || faults.Fields[0].Path != c.path ||
			!strings.Contains(said.Error(faults.Fields[0].Err), c.says) {
			t.Errorf("%s: %v, want %s: … %s …", c.name, err, c.path, c.says)
		}
	}
}

// Three shades, named deep, dark and pale: the pale ones are dipped first and the deep ones right after them from the
// same bowl, with nothing between, on the trays of both; dark has a bowl of its own.
func TestShadesOfOneBowl(t *testing.T) {
	f := fruit()
	coat := func(of string, drops float64) []treat.ChocolateLayer {
		c := treat.ChocolateLayer{Role: treat.RoleCoat, Ingredient: ident.Ingredient(of), Each: massOf(8),
			Pool: measure.Grams(200)}
		if drops > 0 {
			c.Tint = &treat.Tint{Stirred: treat.Stirred{Ingredient: "Sugar", Amount: measure.Grams(si.Grams(drops)),
				To: measure.Grams(100)}}
		}
		return []treat.ChocolateLayer{c}
	}
	f.Finishes = []treat.Design{{Name: "deep", Parts: 4, Coatings: coat("White", 0.3)},
		{Name: "dark", Parts: 4, Coatings: coat("Dark", 0)}, {Name: "pale", Parts: 4, Coatings: coat("White", 0.1)}}
	c := card(t, stepped(f), 60)
	at := map[string]int{}
	for i, s := range c.Steps {
		for _, design := range []string{"pale", "deep", "dark"} {
			if s.Role == treat.RoleCoat && strings.HasSuffix(s.Name, ": "+design) {
				at[design] = i
			}
		}
	}
	if len(at) != 3 || at["deep"] != at["pale"]+1 {
		t.Fatalf("the order of the dips: %v", at)
	}
	pale, deep, dark := c.Steps[at["pale"]], c.Steps[at["deep"]], c.Steps[at["dark"]]
	last := deep.After[len(deep.After)-1]
	if last.Step != pale.ID || !last.Alone || pale.PassiveMin != 0 || pale.Trays != 0 ||
		deep.PassiveMin != dark.PassiveMin || deep.Trays < 2*dark.Trays {
		t.Errorf("after %+v; pale waits %d on %d trays, deep %d on %d, dark %d on %d", last, pale.PassiveMin,
			pale.Trays, deep.PassiveMin, deep.Trays, dark.PassiveMin, dark.Trays)
	}
	whites := 0
	for _, p := range c.Pots {
		if p.Name == "White" {
			whites++
		}
	}
	if whites != 1 {
		t.Errorf("white is melted %d times", whites)
	}
}
