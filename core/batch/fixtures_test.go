package batch

import (
	"math"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/core/treat"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
)

// larder of the tests: what the formulas below are made of.
func larder() *treat.Inputs {
	p := func(x float64) *float64 {
		if x == 0 {
			return nil
		}
		return &x
	}
	all := map[ident.Ingredient]food.Ingredient{}
	add := func(id string, kind food.Kind, density, each float64, price string, perGrams int64,
		allergens ...string) food.Ingredient {
		f := food.Fields{Name: id, Kind: kind, Unit: measure.Gram, Density: p(density), GramsEach: (*si.Grams)(p(each)),
			UsableShare: 1, Allergens: allergens, Diets: []food.Diet{food.NoAlcohol}}
		all[ident.Ingredient(id)] = food.New(ident.Ingredient(id), f,
			decimal.RequireFromString(price).Div(decimal.NewFromInt(perGrams)))
		return all[ident.Ingredient(id)]
	}
	of := func(id string, kind chocolate.Kind, colour chocolate.Colour, price string, allergens ...string) {
		i := add(id, food.KindChocolate, 0, 0, price, 1000, allergens...)
		i.Chocolate = &food.Chocolate{Kind: kind, Colour: colour}
		all[ident.Ingredient(id)] = i
	}
	of("Dark", chocolate.Real, chocolate.Dark, "14.50", "milk", "soy")
	of("White", chocolate.Compound, chocolate.White, "12.00", "milk")
	of("Blue", chocolate.Compound, chocolate.White, "13.00", "milk")
	berry := add("Strawberry", food.KindFruit, 0, 18, "10.00", 1000)
	berry.Measures = []food.Measure{{Name: "medium", Grams: 12}, {Name: "extra large", Grams: 27},
		{Name: "punnet", Grams: 454}}
	all["Strawberry"] = food.New(berry.ID, berry.Fields, berry.Price)
	add("Malt", food.KindTopping, 0.75, 0, "9.80", 800, "wheat")
	add("Hazelnut", food.KindNut, 0, 0, "11.40", 500, "tree nut")
	add("Plum", food.KindFruit, 0, 0, "5.00", 1000)
	add("Rod", food.KindBaked, 0, 10, "3.00", 283, "wheat")
	add("Cream", food.KindDairy, 1.006, 0, "4.00", 1000, "milk")
	liqueur := add("Liqueur", food.KindAlcohol, 1.05, 0, "20.00", 1000)
	liqueur.Diets = nil
	all["Liqueur"] = liqueur
	add("Sugar", food.KindSugar, 0.845, 0, "2.00", 1000)
	add("Starch", food.KindBaked, 0.54, 0, "3.00", 1000)
	add("Butter", food.KindFat, 0.96, 0, "9.00", 1000, "milk")
	add("Spread", food.KindNut, 1.25, 0, "9.00", 1000, "tree nut", "milk")
	all["Flower"] = food.New("Flower", food.Fields{Name: "Flower", Kind: food.KindTopping, Unit: measure.Each,
		UsableShare: 0.9}, decimal.RequireFromString("0.20"))
	part := func(of string, grams float64) treat.MixPart {
		return treat.MixPart{Of: ident.Ingredient(of), Amount: measure.Grams(si.Grams(grams))}
	}
	return &treat.Inputs{Confidence: 0.95, AirTemp: 21, Boiling: 100, Ingredients: all,
		Mixes: map[ident.Ingredient]treat.Mix{
			"ganache": {ID: "ganache", Name: "Ganache", Parts: []treat.MixPart{part("Dark", 500), part("Cream", 240),
				part("Liqueur", 140)}, Density: p(1.2)},
			"rolling": {ID: "rolling", Name: "Rolling sugar",
				Parts: []treat.MixPart{part("Sugar", 200), part("Starch", 100)}},
			"caramel": {ID: "caramel", Name: "Caramel", Parts: []treat.MixPart{part("Sugar", 300), part("Cream", 200)},
				Loss: 0.1, Density: p(1.3)},
			"fudge": {ID: "fudge", Name: "Fudge", Parts: []treat.MixPart{part("caramel", 400), part("Butter", 100),
				part("Dark", 200)}, Loss: 0.05, Density: p(1.25)},
		}}
}

var supplies = map[ident.Supply]treat.FileSupply{"bag": {Name: "Bags", Unit: measure.Each},
	"box": {Name: "Boxes", Unit: measure.Each}, "ribbon": {Name: "Ribbon", Unit: measure.Millimetre},
	"foil": {Name: "Loaf foil", Unit: measure.Each}}

func massOf(x float64) *measure.Quantity { q := measure.Grams(si.Grams(x)); return &q }

func length(x float64, u measure.Unit) *measure.Quantity { q := measure.Of(x, u); return &q }

// stepped gives a formula the steps that its family proposes.
func stepped(f *treat.Formula) *treat.Formula {
	if f.Choices == nil {
		f.Choices = map[string]string{}
	}
	f.Steps = family.Proposed(f, nil)
	return f
}

func bomb() *treat.Formula {
	return stepped(&treat.Formula{Family: "bomb", Loss: 0.06, ShelfLifeHours: 336,
		Shell: &treat.Shell{Across: measure.Of(2.5, measure.Inch), Wall: length(3.5, measure.Millimetre),
			Cavities: 6, Moulds: 2},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleShell, Ingredient: "Dark", Pool: measure.Grams(200)},
			{Role: treat.RoleDrizzle, Ingredient: "White", Each: massOf(3), Pool: measure.Grams(30)}},
		Portions: []treat.Addition{{Ingredient: "Malt", Each: measure.Of(1, measure.Tablespoon), Where: treat.In}},
		Packs: []treat.Pack{{Supply: "bag", Amount: measure.Of(1, measure.Each), Per: 1},
			{Supply: "ribbon", Amount: measure.Of(30, measure.Centimetre), Per: 1}}})
}

func fruit() *treat.Formula {
	return stepped(&treat.Formula{Family: "fruit", Loss: 0.05, ShelfLifeHours: 24,
		Centre: &treat.Centre{Of: "Strawberry", Share: 0.8},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "Dark", Each: massOf(8),
			Pool: measure.Grams(250)}},
		Packs: []treat.Pack{{Supply: "box", Amount: measure.Of(1, measure.Each), Per: 12}}})
}

func bark() *treat.Formula {
	return stepped(&treat.Formula{Family: "bark", Loss: 0.03, ShelfLifeHours: 720,
		Sheet: &treat.Sheet{Length: measure.Of(13, measure.Inch), Width: measure.Of(9.5, measure.Inch),
			Depth: measure.Of(0.125, measure.Inch), Bag: massOf(75)},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleBase, Ingredient: "Dark", Pool: measure.Grams(60)}},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(80), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "bag", Amount: measure.Of(1, measure.Each), Per: 1}}})
}

func pretzel() *treat.Formula {
	return stepped(&treat.Formula{Family: "pretzel", Loss: 0.04, ShelfLifeHours: 336,
		Centre: &treat.Centre{Of: "Rod", Share: 0.95, Across: length(9, measure.Millimetre),
			Length: length(120, measure.Millimetre)},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "White", Each: massOf(8.1),
			Pool: measure.Grams(110)}, {Role: treat.RoleDrizzle, Ingredient: "Dark", Each: massOf(1),
			Pool: measure.Grams(20)}},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(1), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "bag", Amount: measure.Of(1, measure.Each), Per: 6}}})
}

func truffle() *treat.Formula {
	return stepped(&treat.Formula{Family: "truffle", Loss: 0.05, ShelfLifeHours: 240,
		Centre: &treat.Centre{Of: "ganache", Each: massOf(12)},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "Dark", Each: massOf(5),
			Pool: measure.Grams(250)}},
		Portions: []treat.Addition{{Ingredient: "rolling", Each: measure.Grams(1.5), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "box", Amount: measure.Of(1, measure.Each), Per: 12}}})
}

func fudge() *treat.Formula {
	return stepped(&treat.Formula{Family: "fudge", Loss: 0.04, ShelfLifeHours: 336, Centre: &treat.Centre{Of: "fudge"},
		Sheet: &treat.Sheet{Length: measure.Of(8, measure.Inch), Width: measure.Of(8, measure.Inch),
			Depth: measure.Of(20, measure.Millimetre), Rows: 6, Columns: 6, Trim: length(5, measure.Millimetre)},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(60), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "bag", Amount: measure.Of(1, measure.Each), Per: 6}}})
}

func moulded() *treat.Formula {
	return stepped(&treat.Formula{Family: "moulded", Loss: 0.05, ShelfLifeHours: 480,
		Centre: &treat.Centre{Of: "Spread"}, Mould: &treat.Mould{Volume: new(measure.Of(12, measure.Millilitre)),
			Cavities: 15, Moulds: 2, Shell: 0.4, Cap: 0.1},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleShell, Ingredient: "Dark", Pool: measure.Grams(150)},
			{Role: treat.RoleCap, Ingredient: "Dark", Pool: measure.Grams(100)}},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(1), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "box", Amount: measure.Of(1, measure.Each), Per: 12}}})
}

// dozen is fruit in three designs: of 12, 4 with lines, 4 in crumb, 4 in a second colour.
func dozen() *treat.Formula {
	f := fruit()
	f.Finishes = []treat.Design{
		{Name: "with lines", Parts: 4, Coatings: []treat.ChocolateLayer{{Role: treat.RoleDrizzle, Ingredient: "White",
			Each: massOf(1.5), Pool: measure.Grams(30)}}},
		{Name: "in malt", Parts: 4, Portions: []treat.Addition{{Ingredient: "Malt", Each: measure.Grams(2),
			Where: treat.On}}},
		{Name: "in blue", Parts: 4, Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "Blue",
			Each: massOf(8), Pool: measure.Grams(200)}}},
	}
	return stepped(f)
}

var families = map[string]func() *treat.Formula{"bomb": bomb, "fruit": fruit, "pretzel": pretzel, "truffle": truffle,
	"bark": bark, "fudge": fudge, "moulded": moulded, "dozen": dozen}

func card(t *testing.T, f *treat.Formula, count int) *Card {
	t.Helper()
	if err := family.Check(f, larder(), supplies); err != nil {
		t.Fatal(err)
	}
	c, err := Compute(f, count, larder())
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func near[T ~float64](t *testing.T, what string, got T, want float64) {
	t.Helper()
	if math.Abs(float64(got)-want) > 1e-6*math.Max(1, math.Abs(want)) {
		t.Errorf("%s: got %v, want %v", what, got, want)
	}
}
