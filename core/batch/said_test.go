package batch

import (
	"errors"
	"math"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

func solve(t *testing.T, f *treat.Formula, s family.Saying) *family.Solved {
	t.Helper()
	solved, err := family.Solve(f, larder(), s, nil)
	if err != nil {
		t.Fatal(said.Error(err))
	}
	if err := family.Check(solved.Formula, larder(), supplies); err != nil {
		t.Errorf("what follows does not pass: %v", said.Error(err))
	}
	return solved
}

// As recipes say it, by the worked amounts of rules 2 and 4.5 (common practice): 8 oz of coating covered 28 twists, 8.1 g
// each; a chocolate of 52 g makes a ball of 2.5 in with a wall of about 3.5 mm; 329 g on 9.5 x 13 in are 1/8 in deep, and
// 8 oz + 8 oz a half each; a mix that makes 16 to 18.
func TestAsTheRecipeSaysIt(t *testing.T) {
	s := solve(t, pretzel(), family.Saying{As: family.AsCovers, Amounts: []measure.Quantity{measure.Of(8, measure.Ounce)},
		Count: 28})
	near(t, "on a twist", treat.Grams(s.Formula.Coatings[0].Each), 8.1)

	s = solve(t, bomb(), family.Saying{As: family.AsFills, Amounts: []measure.Quantity{measure.Grams(312)}, Count: 6})
	if c := card(t, s.Formula, 6); s.Formula.Shell.Wall != nil || math.Abs(c.Sizes.Wall.Amount-3.54) > 0.01 {
		t.Errorf("a wall of %v", c.Sizes.Wall)
	}

	s = solve(t, bark(), family.Saying{As: family.AsSpread, Amounts: []measure.Quantity{measure.Grams(329)}})
	if d := treat.Millimetres(s.Formula.Sheet.Depth); math.Abs(d-25.4/8) > 0.02 {
		t.Errorf("%v mm deep", d)
	}
	two := bark()
	two.Choices["style"] = "layers"
	two.Coatings = append(two.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White", Share: 0.2,
		Pool: measure.Grams(50)})
	two = stepped(two)
	s = solve(t, two, family.Saying{As: family.AsSpread, Amounts: []measure.Quantity{measure.Of(8, measure.Ounce),
		measure.Of(8, measure.Ounce)}})
	near(t, "the second", s.Formula.Coatings[1].Share, 0.5)
	if back := family.Recipe(s.Formula, larder()); !strings.Contains(said.Of(back[0]), "454 g on this sheet") &&
		!strings.Contains(said.Of(back[0]), "453 g on this sheet") {
		t.Errorf("%v", said.Of(back[0]))
	}

	// The ganache as it is written weighs 880 g: for 70 to 74 pieces 880 / 72 = 12.2 g each.
	s = solve(t, truffle(), family.Saying{As: family.AsMakes, Count: 70, UpTo: 74})
	near(t, "a centre", treat.Grams(s.Formula.Centre.Each), 12.2)
	if got := said.Of(s.Given); got != "Given: the Ganache as it is written, 880 g, makes 70 to 74." {
		t.Error(got)
	}

	// Shells of 120 g, 270 g of filling at 1.25 g/mL and 30 g of caps in 14 cavities: 92.31 + 216 + 23.08 mL are 331.38
	// in all, 23.67 each; the shell is 27.86% of it and the cap 6.96%.
	s = solve(t, moulded(), family.Saying{As: family.AsFills, Count: 14, Amounts: []measure.Quantity{measure.Grams(120),
		measure.Grams(270), measure.Grams(30)}})
	near(t, "a cavity", s.Formula.Mould.Volume.Amount, 23.67)
	near(t, "the shell", math.Round(s.Formula.Mould.Shell*1e4)/1e4, 0.2786)
	near(t, "the cap", math.Round(s.Formula.Mould.Cap*1e4)/1e4, 0.0696)
	// And back: the card of 14 without loss takes those amounts again.
	s.Formula.Loss = 0
	near(t, "shells and caps again", math.Round(card(t, s.Formula, 14).Pots[0].OnPieces.Amount), 150)

	// 90 g of spread at 1.25 g/mL in 12 cavities of 12 mL are 6 mL each, half of it: with a cap of 10% the shell is 40%.
	inside := moulded()
	inside.Mould.Shell = 0.2
	s = solve(t, inside, family.Saying{As: family.AsInside, Count: 12, Amounts: []measure.Quantity{measure.Grams(90)}})
	near(t, "the shell that is left", s.Formula.Mould.Shell, 0.4)
	// The ganache as it is written, 880 g, fills 40 bombs: 22 g in each.
	drink := bomb()
	drink.Portions[0].Ingredient = "ganache"
	s = solve(t, drink, family.Saying{As: family.AsInside, Count: 40})
	near(t, "in each", treat.Grams(&s.Formula.Portions[0].Each), 22)

	// Solid: 300 g in 15 cavities are 15.38 mL each.
	s = solve(t, moulded(), family.Saying{As: family.AsFills, Count: 15, Amounts: []measure.Quantity{measure.Grams(300)}})
	near(t, "a solid cavity", s.Formula.Mould.Volume.Amount, 15.38)
	if s.Formula.Centre != nil || s.Formula.Mould.Shell != 1 {
		t.Errorf("%+v", s.Formula.Mould)
	}
	// What was not said stays, and the formula that was asked about is not changed.
	f := moulded()
	solve(t, f, family.Saying{As: family.AsFills, Count: 15, Amounts: []measure.Quantity{measure.Grams(300)}})
	if f.Centre == nil || len(f.Coatings) != 2 {
		t.Error("the formula itself was changed")
	}
}

// Over 55% cocoa: of the dark chocolates whose names say it the one with the least that is enough; the pot and all that
// was of the other chocolate go along.
func TestSoMuchCocoa(t *testing.T) {
	k := larder()
	for _, name := range []string{"Dark 54%", "Dark 70 %", "Dark 58% drops"} {
		of := k.Ingredients["Dark"]
		of.ID, of.Name = ident.Ingredient(name), name
		k.Ingredients[of.ID] = of
	}
	solved, err := family.Solve(moulded(), k, family.Saying{As: family.AsCocoa, Count: 55}, nil)
	if err != nil {
		t.Fatal(said.Error(err))
	}
	for _, c := range solved.Formula.Coatings {
		if c.Ingredient != "Dark 58% drops" {
			t.Errorf("the %s is of %s", c.Role, c.Ingredient)
		}
	}
	if back := said.Text(family.Recipe(solved.Formula, k)); !strings.Contains(back, "58% cocoa") {
		t.Errorf("%s", back)
	}
}

func TestFaultsOfSayings(t *testing.T) {
	grams := []measure.Quantity{measure.Grams(100)}
	for _, c := range []struct {
		of   func() *treat.Formula
		say  family.Saying
		path string
	}{
		{fruit, family.Saying{As: family.AsMakes, Count: 3}, "as"},
		{fruit, family.Saying{As: family.AsCovers, Amounts: grams}, "count"},
		{fruit, family.Saying{As: family.AsCovers, Amounts: grams, Count: 9, UpTo: 3}, "upTo"},
		{fruit, family.Saying{As: family.AsCovers, Count: 9}, "amounts"},
		{fruit, family.Saying{As: family.AsCovers, Amounts: []measure.Quantity{measure.Of(1, measure.Cup)}, Count: 9},
			"amounts[0]"},
		{bark, family.Saying{As: family.AsSpread, Amounts: append(grams, grams...)}, "amounts"},
		{moulded, family.Saying{As: family.AsInside, Amounts: grams, Count: 3}, "amounts"},
		{moulded, family.Saying{As: family.AsInside, Count: 3}, "amounts"},
		{moulded, family.Saying{As: family.AsCocoa, Count: 101}, "count"},
		{moulded, family.Saying{As: family.AsCocoa, Count: 60}, "count"},
	} {
		var faults *invalid.Error
		if _, err := family.Solve(c.of(), larder(), c.say, nil); !errors.As(err, &faults) || faults.Fields[0].Path != c.path {
			t.Errorf("%+v: %v, want a fault at %s", c.say, err, c.path)
		}
	}
}
