package order

import (
	"context"
	"errors"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

// spiked is a kitchen with rum truffles, and with what could be in them instead.
func spiked() *Inputs {
	k := kitchen()
	add := func(id ident.Ingredient, kind food.Kind, density float64, price string, diets ...food.Diet) {
		f := food.Fields{Name: strings.ToUpper(string(id[:1])) + string(id[1:]), Kind: kind, Unit: measure.Gram,
			UsableShare: 1, Density: &density, Diets: diets}
		k.Ingredients[id] = food.New(id, f, decimal.RequireFromString(price))
	}
	add("rum", food.KindAlcohol, 0.95, "0.040", food.Vegan, food.NoGelatine)
	add("apple juice", food.KindOther, 1.04, "0.003", food.Vegan, food.NoGelatine, food.NoAlcohol)
	add("cream", food.KindDairy, 1.006, "0.006", food.NoAlcohol, food.NoGelatine)
	add("marshmallow", food.KindTopping, 0.2, "0.010", food.NoAlcohol)
	dark := k.Ingredients["dark"].Fields
	dark.Diets = []food.Diet{food.NoAlcohol, food.NoGelatine}
	k.Ingredients["dark"] = food.New("dark", dark, k.Ingredients["dark"].Price)
	dark.Name, dark.Allergens, dark.Diets = "Dark, vegan", nil, []food.Diet{food.Vegan, food.NoAlcohol, food.NoGelatine}
	k.Ingredients["vegan dark"] = food.New("vegan dark", dark, decimal.RequireFromString("0.020"))
	k.Mixes = map[ident.Ingredient]treat.Mix{"ganache": {ID: "ganache", Name: "Rum ganache", Parts: []treat.MixPart{
		{Of: "dark", Amount: measure.Grams(500)}, {Of: "cream", Amount: measure.Grams(240)},
		{Of: "rum", Amount: measure.Grams(140)}}}}
	each, coat := measure.Grams(12), measure.Grams(5)
	f := &treat.Formula{Family: "truffle", ShelfLifeHours: 240, Centre: &treat.Centre{Of: "ganache", Each: &each},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "dark", Each: &coat, Pool: measure.Grams(250),
			Method: chocolate.Seed}}}
	f.Steps = family.Proposed(f, nil)
	k.Treats["rum"] = Treat{ID: "rum", Name: "Rum truffles", Version: 1, Formula: f,
		Mixes: map[ident.Ingredient]treat.Mix{"ganache": k.Mixes["ganache"]}}
	return k
}

// By hand: 12 truffles without loss take 144 g of ganache, 140 / 880 of it rum: 22.909 g at 0.04 are 0.92. Juice at
// 0.003 costs 0.07: 0.85 less. The cream in it keeps 7 days either way.
func TestSwapsAreTried(t *testing.T) {
	k := spiked()
	d := draft(Line{Treat: "rum", Count: 12})
	d.Wishes = []food.Diet{food.NoAlcohol}
	r, err := Compute(context.Background(), d, k)
	if err != nil {
		t.Fatal(err)
	}
	told := ""
	for _, c := range r.Care {
		told += said.Of(c.Text) + "\n"
	}
	if !strings.Contains(told, "Rum truffles is not no alcohol: Rum.") {
		t.Errorf("%s", told)
	}
	swaps, err := Swaps(d, k, nil)
	if err != nil || len(swaps) != 2 { // cream would do as well
		t.Fatalf("%v, %v", swaps, err)
	}
	s := swaps[0]
	if s.Pairs[0] != (SwapPair{"rum", "apple juice"}) || s.Cost.Amount != "-0.85" || s.Keeps != 168 {
		t.Errorf("%+v", s)
	}
	if got := said.Of(s.Text); !strings.HasPrefix(got, "Apple juice in place of Rum: then Rum truffles fits the wish.") {
		t.Error(got)
	}
	// Halal-friendly asks for the same here, and says what it does not say.
	d.Wishes = []food.Diet{food.HalalFriendly}
	if swaps, _ = Swaps(d, k, nil); len(swaps) != 2 {
		t.Errorf("%+v", swaps)
	}
	// Vegan: cream has nothing that stands in for it, and so no swap fits; with something there, all are swapped at once.
	d.Wishes = []food.Diet{food.Vegan}
	if swaps, _ = Swaps(d, k, nil); len(swaps) != 0 {
		t.Errorf("%+v", swaps)
	}
	oat := k.Ingredients["cream"].Fields
	oat.Name, oat.Diets = "Oat cream", []food.Diet{food.Vegan, food.NoAlcohol, food.NoGelatine}
	k.Ingredients["oat"] = food.New("oat", oat, decimal.RequireFromString("0.007"))
	swaps, _ = Swaps(d, k, nil)
	if len(swaps) != 1 || len(swaps[0].Pairs) != 2 {
		t.Fatalf("%+v", swaps)
	}
	// What must be free from milk as well is the same swap; what is made of it is not a wish at all.
	d.FreeFrom = []string{"milk"}
	if again, _ := Swaps(d, k, nil); len(again) != 1 {
		t.Errorf("%+v", again)
	}
	d.Wishes = []food.Diet{"paleo"}
	_, err = Compute(context.Background(), d, k)
	if err == nil || !strings.Contains(said.Error(err), "not a wish we know") {
		t.Errorf("%v", err)
	}
}

func TestWishesFollowFromDiets(t *testing.T) {
	of := func(allergen string, diets ...food.Diet) *food.Ingredient {
		i := food.New("x", food.Fields{Name: "x", Unit: measure.Gram, Diets: diets}, decimal.Zero)
		if allergen != "" {
			i.Allergens = []string{allergen}
		}
		return &i
	}
	for _, c := range []struct {
		of   *food.Ingredient
		wish food.Diet
		want bool
	}{
		{of("", food.Vegan), food.Vegetarian, true}, {of("milk", food.NoGelatine), food.Vegetarian, true},
		{of("fish", food.NoGelatine), food.Vegetarian, false}, {of("milk"), food.Vegetarian, false},
		{of("", food.NoAlcohol), food.HalalFriendly, false},
		{of("", food.NoAlcohol, food.NoGelatine), food.HalalFriendly, true}, {of("", food.NoGelatine), food.LowSugar, false},
	} {
		if got := c.of.Suits(c.wish); got != c.want {
			t.Errorf("%v with %v suits %s: %v", c.of.Diets, c.of.Allergens, c.wish, got)
		}
	}
}

// What one line asks for is asked of that line alone: rum truffles for those who may, none for those who may not.
func TestWishesOfALine(t *testing.T) {
	k := spiked()
	d := draft(Line{Treat: "rum", Count: 12}, Line{Treat: "rum", Count: 6, Wishes: []food.Diet{food.NoAlcohol},
		FreeFrom: []string{"milk"}})
	r, err := Compute(context.Background(), d, k)
	if err != nil {
		t.Fatal(err)
	}
	trouble := 0
	for _, c := range r.Care {
		if c.Trouble {
			trouble++
		}
	}
	if trouble != 2 { // milk, and rum: of the second line alone
		t.Errorf("%d cautions stop it, want 2", trouble)
	}
	// Both are swapped at once, for the second line: dark with milk in it, and the rum.
	swaps, err := Swaps(d, k, nil)
	if err != nil || len(swaps) == 0 || swaps[0].Line != 1 || len(swaps[0].Pairs) != 2 {
		t.Errorf("%+v (%v)", swaps, err)
	}
	d.Lines[1].Wishes = []food.Diet{"paleo"}
	var faults *invalid.Error
	if _, err := Compute(context.Background(), d, k); !errors.As(err, &faults) ||
		faults.Fields[0].Path != "lines[1].wishes[0]" {
		t.Errorf("%v", err)
	}
}

// Where nothing of the larder fits, what is common is tried; nobody knows what it costs.
func TestSwapsOfWhatIsCommon(t *testing.T) {
	k := spiked()
	juice := k.Ingredients["apple juice"]
	delete(k.Ingredients, "apple juice")
	d := draft(Line{Treat: "rum", Count: 12})
	d.Wishes = []food.Diet{food.NoAlcohol}
	juice.ID, juice.Price = "common Apple juice", decimal.Zero
	if swaps, _ := Swaps(d, k, nil); len(swaps) > 0 && strings.Contains(said.Of(swaps[0].Text), "pple juice") {
		t.Fatal("it is not in the larder")
	}
	delete(k.Ingredients, "cream") // the only liquid beside it
	k.Treats["rum"].Mixes["ganache"] = treat.Mix{ID: "ganache", Name: "Rum ganache", Parts: []treat.MixPart{
		{Of: "dark", Amount: measure.Grams(500)}, {Of: "rum", Amount: measure.Grams(140)}}}
	swaps, err := Swaps(d, k, map[ident.Ingredient]food.Ingredient{juice.ID: juice})
	if err != nil || len(swaps) != 1 || swaps[0].Cost != nil || swaps[0].Pairs[0].In != juice.ID ||
		!strings.Contains(said.Of(swaps[0].Text), "haven’t said yet what it costs") {
		t.Errorf("%+v (%v)", swaps, err)
	}
}

// Vegan by its ingredients, out of a bowl that milk has been in: it is told, stops nothing, and is not claimed to the
// customer.
func TestABowlThatWasTouched(t *testing.T) {
	k := kitchen()
	for _, id := range []ident.Ingredient{"dark", "berry"} {
		f := k.Ingredients[id].Fields
		f.Allergens, f.Diets = nil, food.Diets()
		k.Ingredients[id] = food.New(id, f, k.Ingredients[id].Price)
	}
	rest := &ledger.Rest{Of: "left", Pot: ledger.Pot{Ingredient: "dark"}, Grams: 150, Touched: []string{"milk"},
		Day: "2026-09-02"}
	for _, x := range []struct {
		rest *ledger.Rest
		told int
	}{{nil, 0}, {rest, 1}} {
		k.Stock = map[ident.Ingredient]larder.Stock{"dark": {Lots: []larder.StockLot{
			{ID: "left", Item: "dark", Left: 150, Bought: "2026-09-02", Rest: x.rest},
			{ID: "bag", Item: "dark", Left: 5000, Bought: "2026-09-01"}}}}
		d := draft(Line{Treat: "berry", Count: 12})
		d.Wishes = []food.Diet{food.Vegan}
		r, err := Compute(context.Background(), d, k)
		if err != nil {
			t.Fatal(err)
		}
		told := 0
		for _, c := range r.Care {
			if strings.Contains(said.Of(c.Text), "has touched milk") {
				told++
			}
			if c.Trouble {
				t.Errorf("stops it: %s", said.Of(c.Text))
			}
		}
		claimed := strings.Contains(said.Text(r.Quote(d, "K", k).Serving), "vegan")
		if told != x.told || claimed != (x.told == 0) {
			t.Errorf("told %d times, claimed %v", told, claimed)
		}
	}
}
