package batch

import (
	"math"
	"math/big"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/core/treat"

	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/measure"
)

// Rules 4.2: the smallest n with P(X >= k) >= 0.95, X binomial. Exact values.
func TestExtrasAgainstHandbook(t *testing.T) {
	for _, c := range []struct {
		good int
		loss float64
		want int
	}{{12, 0.05, 14}, {12, 0.10, 16}, {6, 1. / 3, 13}, {48, 0.08, 56}, {100, 0.08, 114}, {60, 0.03, 64},
		{40, 0.06, 46}} {
		got, err := StartFor(c.good, c.loss, 0.95)
		if err != nil || got != c.want {
			t.Errorf("%d good at loss %.2f: start %d (%v), want %d", c.good, c.loss, got, err, c.want)
		}
	}
}

// The definition itself in exact rational arithmetic: P(X >= k) of n - 1 is below the sureness, that of n is not.
func TestExtrasAgainstExactBinomial(t *testing.T) {
	atLeast := func(n, k int, loss *big.Rat) *big.Rat {
		well := new(big.Rat).Sub(big.NewRat(1, 1), loss)
		sum := new(big.Rat)
		for i := k; i <= n; i++ {
			term := new(big.Rat).SetInt(new(big.Int).Binomial(int64(n), int64(i)))
			for range i {
				term.Mul(term, well)
			}
			for range n - i {
				term.Mul(term, loss)
			}
			sum.Add(sum, term)
		}
		return sum
	}
	for _, sure := range []*big.Rat{big.NewRat(4, 5), big.NewRat(19, 20), big.NewRat(99, 100)} {
		for _, percent := range []int64{1, 3, 6, 10, 25, 33} {
			for _, good := range []int{1, 2, 6, 12, 40} {
				loss := big.NewRat(percent, 100)
				lossF, _ := loss.Float64()
				sureF, _ := sure.Float64()
				n, err := StartFor(good, lossF, sureF)
				if err != nil {
					t.Fatal(err)
				}
				if atLeast(n, good, loss).Cmp(sure) < 0 || n > good && atLeast(n-1, good, loss).Cmp(sure) >= 0 {
					t.Errorf("%d good at %d %% loss, %v sure: %d is not the smallest that is enough", good, percent,
						sure, n)
				}
			}
		}
	}
}

func TestExtrasOfLargeCounts(t *testing.T) {
	// The normal approximation, mean n p and variance n p q, with 1.645 for 95%: good to a few pieces for large n.
	got, err := StartFor(10000, 0.08, 0.95)
	if err != nil {
		t.Fatal(err)
	}
	n := float64(got)
	if z := (n*0.92 - 10000) / math.Sqrt(n*0.92*0.08); math.Abs(z-1.645) > 0.05 {
		t.Errorf("10 000 good start %d: %.3f standard deviations to spare, want about 1.645", got, z)
	}
	for _, c := range []struct{ loss, sure float64 }{{1, 0.95}, {-0.1, 0.95}, {math.NaN(), 0.95}, {0.1, 1}, {0.1, 0}} {
		if _, err := StartFor(12, c.loss, c.sure); err == nil {
			t.Errorf("loss %v, sureness %v pass", c.loss, c.sure)
		}
	}
}

// Rules 4.5: shells at 1.30 g/cm3, the mass of a whole ball.
func TestShellsAgainstHandbook(t *testing.T) {
	for _, c := range []struct{ inches, wall, want float64 }{{2.5, 3, 44.9}, {2.5, 3.5, 51.5}, {2, 3, 28.0}} {
		across := c.inches * 25.4
		ball := 2 * treat.HalfShell(across, c.wall, 1.30)
		if math.Abs(float64(ball-si.Grams(c.want))) > 0.05 {
			t.Errorf("%v in, %v mm: %.2f g, want %.1f", c.inches, c.wall, ball, c.want)
		}
		if wall := treat.Wall(across, ball/2, 1.30); math.Abs(wall-c.wall) > 1e-9 {
			t.Errorf("the wall of a %v in ball of %.2f g is %v mm, want %v", c.inches, ball, wall, c.wall)
		}
	}
	// Rules 2.1, common practice: a finished 2.5 in ball of about 52 g has a wall of about 3.5 mm.
	if wall := treat.Wall(63.5, 26, 1.30); math.Abs(wall-3.5) > 0.1 {
		t.Errorf("52 g make a wall of %.2f mm, want about 3.5", wall)
	}
	// A hollow and its shell fill the ball: 4/3 pi R^3.
	if got, want := si.Grams(treat.Hollow(63.5, 3.5))+2*treat.HalfShell(63.5, 3.5, 1),
		4./3*math.Pi*math.Pow(3.175, 3); math.Abs(float64(got-si.Grams(want))) > 1e-9 {
		t.Errorf("shell and hollow make %v mL, the ball has %v", got, want)
	}
}

// Rules 4.5: 1/8 in on two sheets, at 1.30 g/cm3.
func TestSheetsAgainstHandbook(t *testing.T) {
	for _, c := range []struct{ length, width, want float64 }{{13, 9.5, 329}, {18, 13, 623}} {
		if got := treat.Slab(c.length*25.4, c.width*25.4, 25.4/8, 1.30); math.Abs(float64(got-si.Grams(c.want))) > 0.5 {
			t.Errorf("%v x %v in: %.1f g, want %v", c.length, c.width, got, c.want)
		}
	}
}

// Rules 4.6: US Standard Atmosphere 1976 and the Antoine equation of the NIST Chemistry WebBook (memory). IAPWS-IF97,
// region 4, backward equation (release of 2012, equation 31 and table 34; coefficients from memory, proven against its
// table 36): the temperature at which water boils at a pressure in MPa, in K.
func saturation(mpa float64) float64 {
	n := [...]float64{0.11670521452767e4, -0.72421316703206e6, -0.17073846940092e2, 0.12020824702470e5,
		-0.32325550322333e7, 0.14915108613530e2, -0.48232657361591e4, 0.40511340542057e6, -0.23855557567849,
		0.65017534844798e3}
	b := math.Pow(mpa, 0.25)
	e, f, g := b*b+n[2]*b+n[5], n[0]*b*b+n[3]*b+n[6], n[1]*b*b+n[4]*b+n[7]
	d := 2 * g / (-f - math.Sqrt(f*f-4*e*g))
	return (n[9] + d - math.Sqrt((n[9]+d)*(n[9]+d)-4*(n[8]+n[9]*d))) / 2
}

// Water boils where the standard for water and steam says, at the pressures of US Standard Atmosphere 1976, Table I.
func TestBoilingPointsAgainstIAPWS(t *testing.T) {
	for mpa, want := range map[float64]float64{0.1: 372.755919, 1: 453.035632, 10: 584.149488} { // table 36
		if got := saturation(mpa); math.Abs(got-want) > 1e-5 {
			t.Fatalf("at %v MPa: %v K, want %v", mpa, got, want)
		}
	}
	for metres, pascal := range map[float64]float64{0: 101325, 1500: 84556, 3000: 70109, 3500: 65764} {
		if got, want := treat.BoilingPoint(metres), saturation(pascal/1e6)-273.15; math.Abs(got-want) > 0.1 {
			t.Errorf("at %v m water boils at %.2f C, by IAPWS-IF97 at %.2f", metres, got, want)
		}
	}
}

func TestBoilingPointsAtHeights(t *testing.T) {
	for metres, want := range map[float64]float64{0: 100.0, 500: 98.3, 1000: 96.7, 1609: 94.6, 2000: 93.3, 3000: 90.0} {
		if got := treat.BoilingPoint(metres); math.Abs(got-want) > 0.05 {
			t.Errorf("at %v m water boils at %.2f C, want %.1f", metres, got, want)
		}
	}
	for h := -400.; h < 8000; h += 100 {
		if treat.BoilingPoint(h+100) >= treat.BoilingPoint(h) {
			t.Errorf("water boils no lower at %v m", h+100)
		}
	}
	// Soft ball, 235 to 240 F at sea level (Exploratorium; memory), is 112 to 115 C; by hand at 1609 m, where water
	// boils at 94.6 C, 5.4 less: 106.6 to 109.6 C.
	if math.Abs(treat.SoftBall.From*1.8+32-235) > 1.5 || math.Abs(treat.SoftBall.To*1.8+32-240) > 1.5 {
		t.Errorf("soft ball is %v", treat.SoftBall)
	}
	if got := treat.CandyTarget(112, 94.6); math.Abs(got-106.6) > 1e-9 {
		t.Errorf("at 1609 m soft ball begins at %v", got)
	}
}

// Rules 2.4, common practice: 500 g chocolate to 240 g cream and 140 g liqueur make 880 g. By hand for 440 g: half of
// each; shares 0.568, 0.273, 0.159.
func TestGanacheByHand(t *testing.T) {
	parts := []treat.Part{{Name: "dark", Mass: measure.Grams(500)}, {Name: "cream", Mass: measure.Grams(240)},
		{Name: "liqueur", Mass: measure.Of(140, measure.Gram)}}
	scaled, err := treat.Scale(parts, 440)
	if err != nil {
		t.Fatal(err)
	}
	for i, want := range []struct{ grams, share float64 }{{250, 0.568}, {120, 0.273}, {70, 0.159}} {
		if math.Abs(scaled[i].Mass.Amount-want.grams) > 1e-9 || math.Abs(scaled[i].Share-want.share) > 0.0005 {
			t.Errorf("%s: %+v, want %+v", scaled[i].Name, scaled[i], want)
		}
	}
	for _, bad := range [][]treat.Part{nil, {{Name: "cream", Mass: measure.Of(1, measure.Cup)}},
		{{Name: "cream", Mass: measure.Grams(0)}}} {
		if got, err := treat.Scale(bad, 100); err == nil {
			t.Errorf("%v is scaled to %v", bad, got)
		}
	}
}

// starting gives the starting set's ingredients by name.
func starting(t *testing.T) map[ident.Ingredient]food.Ingredient {
	t.Helper()
	list, err := food.Starting()
	if err != nil {
		t.Fatal(err)
	}
	all := map[ident.Ingredient]food.Ingredient{}
	for _, s := range list {
		all[ident.Ingredient(s.Name)] = food.New(ident.Ingredient(s.Name), s.Fields, decimal.Zero)
	}
	return all
}

// Rules 2.1, common practice: 2 tsp of mix fit a 2 in ball; a single-serve packet of 1 oz fills 3, between the 1 and 2
// tablespoons that make a medium and a strong mug; milk at 180 to 190 F is 82 to 88 C.
func TestDrinkBombsAgainstHandbook(t *testing.T) {
	all := starting(t)
	spoons := measure.Of(2, measure.Teaspoon)
	if v, _ := spoons.In(measure.Millilitre, measure.Substance{}); v >= treat.Hollow(50.8, 3) {
		t.Errorf("2 tsp are %v mL, a 2 in ball with a wall of 3 mm holds %v", v, treat.Hollow(50.8, 3))
	}
	mix := all["Drink mix with cocoa"]
	third, err := measure.Of(1./3, "packet").In(measure.Tablespoon, mix.Substance)
	if err != nil || third < 1 || third > 2 {
		t.Errorf("a third of a packet is %v tbsp (%v)", third, err)
	}
	for f, c := range map[float64]float64{180: 82, 190: 88, 235: 112.8, 110: 43.3, 41: 5, 115: 46.1, 120: 48.9} {
		if got := measure.Celsius(f); math.Abs(got-c) > 0.3 {
			t.Errorf("%v F is %v C, want %v", f, got, c)
		}
	}
}

// Rules 2.2, common practice: two punnets for 18 fit berries; about an hour and a half from wash to set for a dozen and
// a half, the melting while the fruit dries.
func TestFruitAgainstHandbook(t *testing.T) {
	berry := starting(t)["Strawberries"]
	bought, _ := measure.Of(2, "punnet").In("extra large", berry.Substance)
	if fit := bought * berry.UsableShare; math.Abs(fit-18) > 0.5 {
		t.Errorf("two punnets of extra large ones give %.1f fit, want 18", fit)
	}
	f := fruit()
	f.Loss = 0
	c, err := Compute(f, 18, larder())
	if err != nil {
		t.Fatal(err)
	}
	minutes := 0
	for _, s := range c.Steps {
		if s.ID != "box" {
			minutes += int(s.HandsOnMin + s.PassiveMin)
		}
	}
	if minutes < 70 || minutes > 110 {
		t.Errorf("a dozen and a half take %d minutes, want about 90", minutes)
	}
}

// Rules 2.3, common practice: 8 oz of coating covered 28 twists, 8.1 g each; blocks of 2 oz, 8 to a packet of 16 oz.
func TestPretzelsAgainstHandbook(t *testing.T) {
	eight, _ := measure.Of(8, measure.Ounce).In(measure.Gram, measure.Substance{})
	if got := eight / 28; math.Abs(got-8.1) > 0.05 {
		t.Errorf("%v g on a twist, want 8.1", got)
	}
	coating := starting(t)["White coating"].Substance
	if got, err := measure.Of(1, "packet").In("block", coating); err != nil || math.Abs(got-8) > 0.01 {
		t.Errorf("%v blocks in a packet (%v), want 8", got, err)
	}
	if got, _ := measure.Of(1, "block").In(measure.Ounce, coating); math.Abs(got-2) > 0.001 {
		t.Errorf("a block is %v oz, want 2", got)
	}
}

// Rules 2.4, common practice: 880 g of ganache; 1 cup icing sugar, 1/2 cup nut butter and 3 tbsp butter give 16 to 18
// balls of about 1 in; rolling sugar is 2 parts to 1 by weight.
func TestTruffleCentresAgainstHandbook(t *testing.T) {
	k := &treat.Inputs{Ingredients: starting(t), Mixes: map[ident.Ingredient]treat.Mix{}}
	ganache := treat.Mix{Name: "Ganache", Parts: []treat.MixPart{{Of: "Dark chocolate 54%",
		Amount: measure.Grams(500)}, {Of: "Heavy cream", Amount: measure.Grams(240)},
		{Of: "Orange liqueur", Amount: measure.Grams(140)}}}
	near(t, "ganache", ganache.Weigh(k).Yield, 880)
	nut := treat.Mix{Name: "Nut butter", Parts: []treat.MixPart{{Of: "Icing sugar", Amount: measure.Of(1, measure.Cup)},
		{Of: "Peanut butter", Amount: measure.Of(0.5, measure.Cup)},
		{Of: "Butter", Amount: measure.Of(3, measure.Tablespoon)}}}
	// By hand: 120 + 129 + 3/16 x 227 = 291.6 g. Packed without air its parts take 120/1.6 (sucrose 1.59 g/mL; memory)
	// + 129/1.09 + 42.6/0.96 mL = 238 mL, a density of 1.23.
	if got := nut.Weigh(k).Yield; math.Abs(float64(got-291.6)) > 0.1 {
		t.Errorf("nut-butter centre: %v g", got)
	}
	for _, balls := range []float64{16, 18} {
		if inches := treat.Across(nut.Weigh(k).Yield/si.Grams(balls), 1.23) / 25.4; inches < 0.9 || inches > 1.25 {
			t.Errorf("%v balls are %v in across, want about 1", balls, inches)
		}
	}
	rolling := larder().Mixes["rolling"]
	if w := rolling.Weigh(larder()); math.Abs(float64(w.Parts[0]/w.Parts[1]-2)) > 1e-9 {
		t.Errorf("rolling sugar %v", w.Parts)
	}
}

// Rules 2.7, common practice: shells of 120 g, a filling of 100 g spread, 130 g white and 40 g nuts; a crunch bar of
// 1.5 cups chocolate, 3 tbsp nut butter, 2 tbsp puffed grain. By hand: 252 + 48.375 + 1.75 = 302.1 g.
func TestMouldedAgainstHandbook(t *testing.T) {
	k := &treat.Inputs{Ingredients: starting(t), Mixes: map[ident.Ingredient]treat.Mix{}}
	filling := treat.Mix{Name: "Filling", Parts: []treat.MixPart{{Of: "Hazelnut spread", Amount: measure.Grams(100)},
		{Of: "White chocolate", Amount: measure.Grams(130)}, {Of: "Hazelnuts, chopped", Amount: measure.Grams(40)}}}
	near(t, "filling", filling.Weigh(k).Yield, 270)
	bar := treat.Mix{Name: "Crunch", Parts: []treat.MixPart{{Of: "Semi-sweet chips",
		Amount: measure.Of(1.5, measure.Cup)}, {Of: "Peanut butter", Amount: measure.Of(3, measure.Tablespoon)},
		{Of: "Puffed rice", Amount: measure.Of(2, measure.Tablespoon)}}}
	if got := bar.Weigh(k).Yield; math.Abs(float64(got-302.1)) > 0.1 {
		t.Errorf("a crunch bar: %v g, want 302.1", got)
	}
}

// Rules 4.5: from a pan of 8 x 8 to one of 9 x 13 in, times 1.83.
func TestPansAgainstHandbook(t *testing.T) {
	small, large := fudge(), fudge()
	large.Sheet.Length, large.Sheet.Width = measure.Of(13, measure.Inch), measure.Of(9, measure.Inch)
	a, b := needed(t, card(t, small, 1), "Butter"), needed(t, card(t, large, 1), "Butter")
	if got := b / a; math.Abs(got-1.83) > 0.005 {
		t.Errorf("times %v, want 1.83", got)
	}
}

// Where and how long things set, as proposed, against rules 2.1 to 2.7 (common practice), in minutes.
func TestProposedWaitsAgainstHandbook(t *testing.T) {
	for _, c := range []struct {
		of       func() *treat.Formula
		choices  map[string]string
		step     ident.Step
		place    ident.Spot
		low, top si.Minutes
	}{
		{bomb, nil, "shells", "fridge", 5,
			20}, // 5 thin, 15 to 20 thick
		{pretzel, nil, "dip", "freezer", 5, 5},                                                  // about 5
		{truffle, nil, "shape", "freezer", 15, 15},                                              // crumb centres
		{truffle, map[string]string{"centres": "fridge"}, "shape", "fridge", 30, 30},            // nut-butter centres
		{truffle, nil, "dip", "fridge", 30, 30},                                                 // coat, chill 30
		{bark, nil, "spread", "fridge", 30, 45},                                                 // thin
		{bark, map[string]string{"set": "room"}, "spread", "counter", 60, 60},                   // about 1 h
		{bark, map[string]string{"style": "layers"}, "layer", "fridge", 120, 120},               // two layers
		{fudge, map[string]string{"cook": "quick", "set": "fridge"}, "pan", "fridge", 120, 720}, // 2 h or more
		{moulded, nil, "shell", "freezer", 20, 20},
		{moulded, nil, "cap", "freezer", 20, 20},
		{moulded, map[string]string{"set": "fridge", "coats": "two"}, "shell", "fridge", 10, 10}, // about 10 a coat
		{moulded, map[string]string{"set": "fridge", "coats": "two"}, "second", "fridge", 10, 10},
	} {
		f := c.of()
		for id, made := range c.choices {
			f.Choices[id] = made
		}
		if c.choices["style"] == "layers" {
			f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White",
				Share: 0.5})
		}
		found := false
		for _, w := range family.Proposed(f, nil) {
			if w.ID == c.step {
				found = true
				if w.Spot != c.place || w.Wait < c.low || w.Wait > c.top {
					t.Errorf("%s %v: %s waits %d min in the %s, want %d to %d in the %s", f.Family, c.choices, w.ID,
						w.Wait, w.Spot, c.low, c.top, c.place)
				}
			}
		}
		if !found {
			t.Errorf("%s %v: no step %s", f.Family, c.choices, c.step)
		}
	}
}
