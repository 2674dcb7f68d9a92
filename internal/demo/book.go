package demo

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/box"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/larder"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
	"zestytin/internal/treats"
)

// jar is an ingredient of the demo: one of the starting set, under a name of its own where it has one, or one that the
// kitchen describes itself.
type jar struct {
	name, from string
	paid       string
	paidFor    measure.Quantity
	change     func(*food.Fields)
}

func number(x float64) *float64 { return &x }

func jars() []jar {
	q, g := measure.Of, measure.Grams
	coating := func(tint string) func(*food.Fields) {
		return func(f *food.Fields) { f.Chocolate.Tint = tint }
	}
	plain := func(f *food.Fields) { f.Measures = []food.Measure{} }
	own := func(kind food.Kind, density float64, each si.Grams, allergens ...string) func(*food.Fields) {
		return func(f *food.Fields) {
			*f = food.Fields{Name: f.Name, Kind: kind, Unit: measure.Gram, Measures: []food.Measure{}, UsableShare: 1,
				Allergens: allergens, Diets: []food.Diet{food.NoAlcohol, food.NoGelatine}, MadeOf: []string{}}
			if density > 0 {
				f.Density = &density
			}
			if each > 0 {
				f.GramsEach = &each
			}
			if f.Allergens == nil {
				f.Allergens = []string{}
			}
		}
	}
	return []jar{
		{"Dark 60%", "Dark chocolate 60%", "14.50", g(1000), plain},
		{"Milk 38%", "Milk chocolate", "15.20", g(1000), plain},
		{"White coating", "White coating", "3.90", q(12, measure.Ounce), nil},
		{"Lake blue coating", "White coating", "4.60", q(12, measure.Ounce), coating("#7fa8cc")},
		{"Cardamom malt mix", "", "9.80", g(800), own(food.KindFlavour, 0.75, 0, "milk", "wheat")},
		{"Mini marshmallows", "Mini marshmallows", "2.60", q(10, measure.Ounce), nil},
		{"Crushed malt", "Crushed malt", "4.20", g(250), nil},
		// Strawberries go by the piece and have no density here: sellers do not measure them in cups.
		{"Strawberries", "Strawberries", "4.80", q(1, measure.Pound), func(f *food.Fields) { f.Density = nil }},
		{"Dried apricots", "Dried apricots", "7.90", g(500), nil},
		{"Hazelnuts, chopped", "Hazelnuts, chopped", "11.40", g(500), nil},
		{"Pistachios, chopped", "Pistachios", "13.20", g(400), nil},
		{"Sour cherries, dried", "Dried sour cherries", "8.60", g(400), nil},
		{"Sea salt flakes", "Sea salt flakes", "5.00", g(250), nil},
		{"Pretzel rods", "Pretzel rods", "3.20", q(10, measure.Ounce), nil},
		{"Sesame seed", "Sesame seed", "4.40", g(250), nil},
		{"Heavy cream", "Heavy cream", "3.10", q(1, measure.Pint), nil},
		{"Butter", "Butter, unsalted", "4.90", q(1, measure.Pound), nil},
		{"Bergamot oil", "Bergamot oil", "8.50", q(15, measure.Millilitre), nil},
		{"Granulated sugar", "Granulated sugar", "3.20", q(4, measure.Pound), nil},
		{"Icing sugar", "Icing sugar", "2.40", q(2, measure.Pound), nil},
		{"Corn starch", "Corn starch", "1.90", q(1, measure.Pound), nil},
		{"Walnuts, chopped", "Walnuts, chopped", "9.20", q(1, measure.Pound), nil},
		{"Nougat paste", "Nougat paste", "6.80", g(400), nil},
		{"Biscuit crumb", "Biscuit crumb", "3.00", g(300), nil},
	}
}

func (k *kitchen) larder(ctx context.Context, tx pgx.Tx) error {
	who := web.ActorOf(ctx)
	list, err := food.Starting()
	if err != nil {
		return err
	}
	starting := map[string]food.Fields{}
	for _, s := range list {
		starting[s.Name] = s.Fields
	}
	for _, j := range jars() {
		i := larder.Ingredient{ID: db.NewID(), IngredientFields: larder.IngredientFields{Fields: starting[j.from],
			Paid: price.Typed(j.paid), PaidFor: j.paidFor}}
		i.Name = j.name
		if i.Chocolate != nil {
			own := *i.Chocolate
			i.Chocolate = &own
		}
		if j.change != nil {
			j.change(&i.Fields)
		}
		if err := i.Fields.Check(); err != nil {
			return fmt.Errorf("%s: %w", j.name, err)
		}
		k.ids[j.name] = i.ID.String()
		if err := larder.AddIngredient(ctx, tx, who.Kitchen, i); err != nil {
			return fmt.Errorf("%s: %w", j.name, err)
		}
	}
	// Names from recipes that were settled once.
	for written, name := range map[string]string{"the usual dark": "Dark 60%", "double cream": "Heavy cream",
		"powdered sugar": "Icing sugar"} {
		if err := larder.Remember(ctx, tx, who.Kitchen, food.Words(written), uuid.MustParse(k.ids[name])); err != nil {
			return err
		}
	}
	each := func(n float64) measure.Quantity { return measure.Of(n, measure.Each) }
	metres := func(n float64) measure.Quantity { return measure.Of(n, measure.Metre) }
	inches := func(n float64) measure.Quantity { return measure.Of(n, measure.Inch) }
	for _, s := range []larder.SupplyFields{
		{Name: "Clear bags", Stock: each(460), Paid: "8.40", PaidFor: each(100)},
		{Name: "Boxes for 12", Stock: each(26), Paid: "18.50", PaidFor: each(25),
			Inside: &box.Inside{Length: inches(10), Width: inches(7), Height: inches(2)}},
		{Name: "Mini liners", Stock: each(520), Paid: "6.90", PaidFor: each(300),
			Base: &box.Base{Length: inches(1.25), Width: inches(1.25)}},
		{Name: "Ribbon", Stock: metres(120), Paid: "7.50", PaidFor: metres(45)},
		{Name: "Labels", Stock: each(600), Paid: "12.00", PaidFor: each(250)},
	} {
		id := db.NewID()
		k.ids[s.Name] = id.String()
		if err := larder.AddSupply(ctx, k.app.Home, tx, larder.Supply{ID: id, SupplyFields: s}); err != nil {
			return fmt.Errorf("%s: %w", s.Name, err)
		}
	}
	return nil
}

// mixes of the kitchen, those that others are made of first.
func (k *kitchen) mixes() []treat.Mix {
	part := func(name string, amount float64, unit measure.Unit) treat.MixPart {
		return treat.MixPart{Of: ident.Ingredient(k.ids[name]), Amount: measure.Of(amount, unit)}
	}
	mix := func(name string, loss float64, density *float64, method string, parts ...treat.MixPart) treat.Mix {
		id := db.NewID().String()
		k.ids[name] = id
		return treat.Mix{ID: ident.Ingredient(id), Name: name, Loss: loss, Density: density, Method: method,
			Parts: parts}
	}
	return []treat.Mix{
		mix("Bergamot ganache", 0.02, number(1.2),
			"Boil the cream, pour it on the chopped chocolate, wait a minute, whisk from the middle. Butter at 35 °C, then the oil. Film on the surface, rest.",
			part("Dark 60%", 500, measure.Gram), part("Heavy cream", 1, measure.Cup), part("Butter", 50, measure.Gram),
			part("Bergamot oil", 12, "drop")),
		mix("Rolling sugar", 0, nil, "Sift together: the starch keeps it white in damp air.",
			part("Icing sugar", 200, measure.Gram), part("Corn starch", 100, measure.Gram)),
		mix("Brown butter", 0.18, nil, "Simmer until it smells of nuts and the foam turns brown; strain.",
			part("Butter", 2, "stick")),
		mix("Walnut fudge", 0.08, number(1.3),
			"Boil sugar and cream to soft ball, cool undisturbed, then brown butter, chocolate and walnuts, and beat.",
			part("Granulated sugar", 3, measure.Cup), part("Heavy cream", 1.5, measure.Cup),
			part("Brown butter", 110, measure.Gram), part("Milk 38%", 120, measure.Gram),
			part("Walnuts, chopped", 1, measure.Cup), part("Sea salt flakes", 0.5, measure.Teaspoon)),
	}
}

func (k *kitchen) book(ctx context.Context, tx pgx.Tx) error {
	who := web.ActorOf(ctx)
	known := &treat.Inputs{Mixes: map[ident.Ingredient]treat.Mix{}, Confidence: 0.95, AirTemp: 21, Boiling: 100}
	var err error
	if known.Ingredients, err = larder.Ingredients(ctx, tx); err != nil {
		return err
	}
	for _, m := range k.mixes() {
		if err := m.Check(known); err != nil {
			return fmt.Errorf("%s: %w", m.Name, err)
		}
		if err := treats.AddMix(ctx, tx, who.Kitchen, m); err != nil {
			return err
		}
		known.Mixes[m.ID] = m
	}
	_, supplies, err := larder.Available(ctx, tx, nil, k.cal.Date(0), nil, nil)
	if err != nil {
		return err
	}
	packaging := map[ident.Supply]treat.FileSupply{}
	for id, s := range supplies {
		packaging[id] = treat.FileSupply{ID: id, Name: s.Name, Unit: s.Unit}
	}
	for _, t := range k.treats() {
		if err := family.Check(t.Formula, known, packaging); err != nil {
			return fmt.Errorf("%s: %w", t.Name, err)
		}
		id := db.NewID()
		k.ids[t.Name] = id.String()
		if err := treats.Add(ctx, tx, who, k.clock, id, t, known); err != nil {
			return err
		}
	}
	// What others ask for a dozen, as Maren has seen it.
	for name, seen := range map[string]order.Market{"Strawberries with white lines": {Low: "25", High: "60"},
		"A dozen strawberries, three ways": {Low: "30", High: "60"}, "Cardamom-malt bombs": {Low: "42", High: "84"},
		"Bergamot truffles": {Low: "18", High: "36"}, "Brown-butter walnut fudge": {Low: "12", High: "24"},
		"Hazelnut and sour-cherry bark": {Low: "66", High: "108"}} {
		if err := treats.StoreMarket(ctx, tx, uuid.MustParse(k.ids[name]), &seen); err != nil {
			return err
		}
	}
	return nil
}

func (k *kitchen) treats() []treats.Fields {
	q := measure.Of
	mass := func(g si.Grams) *measure.Quantity { v := measure.Grams(g); return &v }
	size := func(x float64, u measure.Unit) *measure.Quantity { v := measure.Of(x, u); return &v }
	pack := func(name string, amount measure.Quantity, per int) treat.Pack {
		return treat.Pack{Supply: ident.Supply(k.ids[name]), Amount: amount, Per: per}
	}
	one := q(1, measure.Each)
	bagged := []treat.Pack{pack("Clear bags", one, 1), pack("Ribbon", q(30, measure.Centimetre), 1),
		pack("Labels", one, 1)}
	sixes := []treat.Pack{pack("Clear bags", one, 6), pack("Ribbon", q(30, measure.Centimetre), 6),
		pack("Labels", one, 6)}
	boxed := []treat.Pack{pack("Boxes for 12", one, 12), pack("Mini liners", one, 1),
		pack("Ribbon", q(70, measure.Centimetre), 12), pack("Labels", one, 12)}
	portion := func(name string, each measure.Quantity, where treat.Where) treat.Addition {
		return treat.Addition{Ingredient: ident.Ingredient(k.ids[name]), Each: each, Where: where}
	}
	chocolateOf := func(role treat.Role, name string, each, pool float64) treat.ChocolateLayer {
		c := treat.ChocolateLayer{Role: role, Ingredient: ident.Ingredient(k.ids[name]),
			Pool: measure.Grams(si.Grams(pool))}
		if each > 0 {
			c.Each = mass(si.Grams(each))
		}
		return c
	}
	drizzle := func(name string, each float64) treat.ChocolateLayer {
		return chocolateOf(treat.RoleDrizzle, name, each, 30)
	}
	stepped := func(f *treat.Formula, choices ...string) *treat.Formula {
		f.Choices = map[string]string{}
		for i := 0; i+1 < len(choices); i += 2 {
			f.Choices[choices[i]] = choices[i+1]
		}
		if f.Portions == nil {
			f.Portions = []treat.Addition{}
		}
		if f.Finishes == nil {
			f.Finishes = []treat.Design{}
		}
		f.Steps = family.Proposed(f, text.For(true).Step)
		return f
	}
	bomb := func(shell, lines string) *treat.Formula {
		return stepped(&treat.Formula{
			Family: "bomb", Loss: 0.06, ShelfLifeHours: 14 * 24, Packs: bagged,
			Shell: &treat.Shell{Across: q(2.5, measure.Inch), Wall: size(3.5, measure.Millimetre), Cavities: 6,
				Moulds: 4},
			Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleShell, shell, 0, 200), drizzle(lines, 3)},
			Portions: []treat.Addition{portion("Cardamom malt mix", q(1, measure.Tablespoon), treat.In),
				portion("Mini marshmallows", measure.Grams(9), treat.In),
				portion("Crushed malt", measure.Grams(0.8), treat.On)},
		})
	}
	fruit := func(of, coat, lines string, grams float64, keeps int, choices ...string) *treat.Formula {
		return stepped(&treat.Formula{
			Family: "fruit", Loss: 0.05, ShelfLifeHours: keeps,
			Centre: &treat.Centre{Of: ident.Ingredient(k.ids[of]), Share: 0.8}, Packs: boxed,
			Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat, coat, grams, 250), drizzle(lines, 1.5)},
		}, choices...)
	}
	bark := func(base string, bag float64, toppings ...treat.Addition) *treat.Formula {
		return stepped(&treat.Formula{
			Family: "bark", Loss: 0.03, ShelfLifeHours: 30 * 24, Packs: bagged,
			Sheet: &treat.Sheet{Length: q(13, measure.Inch), Width: q(9.5, measure.Inch),
				Depth: q(0.125, measure.Inch), Bag: mass(si.Grams(bag))},
			Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleBase, base, 0, 60)}, Portions: toppings,
		})
	}
	dozen := &treat.Formula{
		Family: "fruit", Loss: 0.05, ShelfLifeHours: 24, Centre: &treat.Centre{Of: ident.Ingredient(
			k.ids["Strawberries"]), Share: 0.8, Size: "extra large"}, Packs: boxed,
		Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat, "Dark 60%", 10, 250)},
		Finishes: []treat.Design{
			{Name: "White lines", Parts: 4, Coatings: []treat.ChocolateLayer{drizzle("White coating", 1.5)},
				Portions: []treat.Addition{}},
			{Name: "Rolled in crumb", Parts: 4, Coatings: []treat.ChocolateLayer{},
				Portions: []treat.Addition{portion("Biscuit crumb", q(2, measure.Teaspoon), treat.On)}},
			{Name: "Lake blue", Parts: 4, Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat,
				"Lake blue coating", 10, 200)}, Portions: []treat.Addition{}},
		},
	}
	rods := &treat.Formula{
		Family: "pretzel", Loss: 0.04, ShelfLifeHours: 14 * 24,
		Centre: &treat.Centre{Of: ident.Ingredient(k.ids["Pretzel rods"]), Across: size(9, measure.Millimetre),
			Length: size(5, measure.Inch)}, Packs: sixes,
		Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat, "Milk 38%", 8.5, 200),
			drizzle("White coating", 1)},
		Portions: []treat.Addition{portion("Sesame seed", q(0.5, measure.Teaspoon), treat.On)},
	}
	truffles := &treat.Formula{
		Family: "truffle", Loss: 0.05, ShelfLifeHours: 10 * 24,
		Centre: &treat.Centre{Of: ident.Ingredient(k.ids["Bergamot ganache"]), Each: mass(11)}, Packs: boxed,
		Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat, "Dark 60%", 4.5, 300)},
		Portions: []treat.Addition{portion("Rolling sugar", measure.Grams(1.2), treat.On)},
	}
	fudge := &treat.Formula{
		Family: "fudge", Loss: 0.04, ShelfLifeHours: 14 * 24,
		Centre: &treat.Centre{Of: ident.Ingredient(k.ids["Walnut fudge"])}, Packs: sixes,
		Sheet: &treat.Sheet{Length: q(8, measure.Inch), Width: q(8, measure.Inch), Depth: q(0.75, measure.Inch),
			Rows: 6, Columns: 6, Trim: size(5, measure.Millimetre)},
		Coatings: []treat.ChocolateLayer{}, Portions: []treat.Addition{portion("Sea salt flakes", measure.Grams(2),
			treat.On)},
	}
	cubes := &treat.Formula{
		Family: "moulded", Loss: 0.05, ShelfLifeHours: 20 * 24,
		Centre: &treat.Centre{Of: ident.Ingredient(k.ids["Nougat paste"])}, Packs: boxed,
		Mould: &treat.Mould{Volume: new(q(11, measure.Millilitre)), Cavities: 15, Moulds: 2, Shell: 0.38, Cap: 0.1},
		Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleShell, "Milk 38%", 0, 200),
			chocolateOf(treat.RoleCap, "Milk 38%", 0, 100), drizzle("White coating", 0.8)},
	}
	clusters := &treat.Formula{
		Family: "cluster", Loss: 0.02, ShelfLifeHours: 30 * 24, Packs: boxed,
		Coatings: []treat.ChocolateLayer{chocolateOf(treat.RoleCoat, "Dark 60%", 7, 30)},
		Portions: []treat.Addition{portion("Hazelnuts, chopped", measure.Grams(7), treat.On),
			portion("Sea salt flakes", measure.Grams(0.1), treat.On)},
	}
	return []treats.Fields{
		{Name: "Cardamom-malt bombs", Formula: bomb("Dark 60%", "White coating")},
		{Name: "Milk malt bombs", Formula: bomb("Milk 38%", "White coating")},
		{Name: "Strawberries with white lines", Formula: fruit("Strawberries", "Dark 60%", "White coating", 8, 24)},
		{Name: "A dozen strawberries, three ways", Formula: stepped(dozen, "stand", "standing")},
		{Name: "Apricots in lake blue", Formula: fruit("Dried apricots", "Lake blue coating", "White coating", 5, 7*24,
			"wash", "none")},
		{Name: "Sesame pretzel rods", Formula: stepped(rods)},
		{Name: "Bergamot truffles", Formula: stepped(truffles, "skin", "rolled")},
		{Name: "Hazelnut and sour-cherry bark", Formula: bark("Dark 60%", 75,
			portion("Hazelnuts, chopped", measure.Grams(80), treat.On),
			portion("Sour cherries, dried", measure.Grams(60), treat.On),
			portion("Sea salt flakes", measure.Grams(2), treat.On))},
		{Name: "Pistachio milk bark", Formula: bark("Milk 38%", 75,
			portion("Pistachios, chopped", measure.Grams(90), treat.On))},
		{Name: "Brown-butter walnut fudge", Formula: stepped(fudge)},
		{Name: "Nougat cubes", Formula: stepped(cubes)},
		{Name: "Salted hazelnut clusters", Formula: stepped(clusters)},
	}
}
