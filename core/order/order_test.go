package order

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

var now = time.Date(2026, 9, 3, 10, 20, 0, 0, time.UTC) // a Thursday

// kitchen with an evening from 18:00 to 22:00 on every day, one chocolate, and three treats.
func kitchen() *Inputs {
	per := func(money string, grams int64) decimal.Decimal {
		return decimal.RequireFromString(money).Div(decimal.NewFromInt(grams))
	}
	eighteen := si.Grams(18)
	k := &Inputs{
		Terms: price.Usual(),
		Rates: price.Rates{Currency: "USD", Hourly: decimal.NewFromInt(18), Overhead: decimal.NewFromInt(2),
			Margin: decimal.RequireFromString("0.2")},
		Calendar: plan.CalendarFrom(now, time.UTC), Now: now,
		Inputs: treat.Inputs{Confidence: 0.95, AirTemp: 21, Boiling: 100,
			Ingredients: map[ident.Ingredient]food.Ingredient{
				"dark": food.New("dark", food.Fields{Name: "Dark", Kind: food.KindChocolate, Unit: measure.Gram,
					UsableShare: 1, Allergens: []string{"milk"},
					Chocolate: &food.Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark}}, per("14.50", 1000)),
				"berry": food.New("berry", food.Fields{Name: "Strawberries", Kind: food.KindFruit, Unit: measure.Gram,
					UsableShare: 1, GramsEach: &eighteen}, per("10.00", 1000)),
				"nut": food.New("nut", food.Fields{Name: "Hazelnuts", Kind: food.KindNut, Unit: measure.Gram,
					UsableShare: 1, Allergens: []string{"tree nut"}}, per("22.80", 1000)),
			}},
		Supplies: map[ident.Supply]box.Supply{
			"box": {ID: "box", Name: "Boxes", Unit: measure.Each, Stock: stock(3, decimal.RequireFromString("0.74"))},
			"liner": {ID: "liner", Name: "Liners", Unit: measure.Each,
				Stock: stock(500, decimal.RequireFromString("0.023"))},
		},
	}
	each, bag, wall := measure.Grams(8), measure.Grams(75), measure.Of(3.5, measure.Millimetre)
	one := measure.Of(1, measure.Each)
	berry := &treat.Formula{Family: "fruit", Loss: 0.05, ShelfLifeHours: 24,
		Centre: &treat.Centre{Of: "berry", Share: 0.8},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "dark", Each: &each,
			Pool: measure.Grams(250)}},
		Packs: []treat.Pack{{Supply: "box", Amount: one, Per: 12}, {Supply: "liner", Amount: one, Per: 1}}}
	bomb := &treat.Formula{Family: "bomb", Loss: 0.06, ShelfLifeHours: 336,
		Shell:    &treat.Shell{Across: measure.Of(2.5, measure.Inch), Wall: &wall, Cavities: 6, Moulds: 4},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleShell, Ingredient: "dark", Pool: measure.Grams(200)}}}
	bark := &treat.Formula{Family: "bark", Loss: 0.03, ShelfLifeHours: 720,
		Sheet: &treat.Sheet{Length: measure.Of(13, measure.Inch), Width: measure.Of(9.5, measure.Inch),
			Depth: measure.Of(0.125, measure.Inch), Bag: &bag},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleBase, Ingredient: "dark", Pool: measure.Grams(60)}},
		Portions: []treat.Addition{{Ingredient: "nut", Each: measure.Grams(80), Where: treat.On}}}
	for _, f := range []*treat.Formula{berry, bomb, bark} {
		f.Steps = family.Proposed(f, nil)
	}
	k.Treats = map[ident.Treat]Treat{"berry": {ID: "berry", Name: "Berries", Version: 1, Formula: berry},
		"bomb": {ID: "bomb", Name: "Bombs", Version: 1, Formula: bomb}, "bark": {ID: "bark", Name: "Bark", Version: 1, Formula: bark},
		"bare": {ID: "bare", Name: "Bare"}}
	k.Planning = PlanningContext{Calendar: k.Calendar, Now: k.Calendar.Minute(now),
		Problem: plan.Problem{Places: []plan.StorageResource{{ID: "fridge", Trays: 6}, {ID: "freezer", Trays: 2},
			{ID: "counter", Trays: 12}}, Washdown: 15}}
	for d := range 30 {
		k.Planning.Sessions = append(k.Planning.Sessions, plan.Session{From: si.Minutes(d*1440 + 1080),
			To: si.Minutes(d*1440 + 1320), People: 1})
	}
	return k
}

func draft(lines ...Line) *Draft {
	return &Draft{Customer: "Ilse", Way: Pickup, From: now.AddDate(0, 0, 9), To: now.AddDate(0, 0, 9).Add(time.Hour),
		Lines: lines, FreeFrom: []string{}}
}

// By hand: a dozen berries (batch's TestFruitByHand: 114.24 g of dark used and 250 left, 324 g of berries, 38 minutes).
// What is left of the bowl is damp and paid for as well: dark 364.24 x 0.0145 = 5.281: 5.28. Berries 324 x 0.01 = 3.24.
// Together 8.52. A box 0.74, 12 liners 0.276: 0.28; together 1.02. Hands 38 / 60 x 18 = 11.40, overhead 38 / 60 x 2 =
// 1.267: 1.27. In all 22.21; 22.21 / 0.8 = 27.7625: 27.77, which leaves 5.56; (5.56 + 11.40) x 60 / 38 = 26.78 an hour.
func TestEstimateByHand(t *testing.T) {
	r, err := Compute(context.Background(), draft(Line{Treat: "berry", Count: 12}), kitchen())
	if err != nil {
		t.Fatal(err)
	}
	m := r.Money
	for what, got := range map[string][2]string{
		"ingredients": {m.Ingredients.Amount, "8.52"}, "packaging": {m.Packaging.Amount, "1.02"},
		"hands": {m.Hands.Amount, "11.40"}, "overhead": {m.Overhead.Amount, "1.27"},
		"total": {m.Total.Amount, "22.21"}, "asked": {m.Asked.Amount, "27.77"}, "left": {m.Left.Amount, "5.56"},
		"per hour": {m.PerHour.Amount, "26.78"},
	} {
		if got[0] != got[1] {
			t.Errorf("%s: %s, want %s", what, got[0], got[1])
		}
	}
	// The handover is on Saturday 12 at 10:20 and berries keep a day from the dip: Friday evening it is.
	if !r.When.Fits || r.When.Batches[0].Day != "2026-09-11" || r.When.Batches[0].Days[0].Free != 240-38 {
		t.Errorf("when: %+v", r.When)
	}
	if why := said.Text(r.Lines[0].Card.StartWhy); why != "12 good at 5% loss, 95% sure: start 14." {
		t.Errorf("why: %s", why)
	}
}

// The figures alone are those of the whole answer, where a line is made in one go on its own; nothing is said of the
// days.
func TestFiguresAlone(t *testing.T) {
	k, d := kitchen(), draft(Line{Treat: "bomb", Count: 12}, Line{Treat: "berry", Count: 24})
	whole := reckon(t, d, k)
	k.Extent = FiguresOnly
	alone := reckon(t, d, k)
	if !whole.When.Fits || whole.When.Pending {
		t.Fatalf("the whole answer: %+v", whole.When)
	}
	if w := alone.When; !w.Pending || w.Fits || w.Text != nil || len(w.Batches)+len(w.Short) > 0 ||
		alone.Money.Planned != nil {
		t.Errorf("the figures alone know of days: %+v", w)
	}
	same := func(a, b Need) bool { // to the gram that is shown: sums are added in another order
		return a.Ingredient == b.Ingredient && a.Used.Metric == b.Used.Metric && a.House.Metric == b.House.Metric &&
			a.Cost == b.Cost && said.Text(a.Why) == said.Text(b.Why)
	}
	if !slices.EqualFunc(alone.Needs, whole.Needs, same) {
		t.Errorf("needs:\n%+v\n%+v", alone.Needs, whole.Needs)
	}
	if alone.Money.Total.Money != whole.Money.Total.Money || alone.Money.Asked.Money != whole.Money.Asked.Money {
		t.Errorf("cost and price: %v %v, of the whole answer %v %v", alone.Money.Total, alone.Money.Asked,
			whole.Money.Total, whole.Money.Asked)
	}
}

// Of an order without lines nothing is said: there is nothing to explain.
func TestAnEmptyOrderTakesNothing(t *testing.T) {
	if r := reckon(t, draft(), kitchen()); r.Hands != 0 || len(r.HandsWhy) != 0 {
		t.Errorf("%d minutes: %s", r.Hands, said.Text(r.HandsWhy))
	}
}

func TestPriceThatIsGiven(t *testing.T) {
	d := draft(Line{Treat: "berry", Count: 12})
	d.Pricing = &Pricing{price.ByPrice, "20.00"}
	r, err := Compute(context.Background(), d, kitchen())
	if err != nil {
		t.Fatal(err)
	}
	if r.Money.Asked.Amount != "20.00" || r.Money.Left.Amount != "-2.21" || r.Money.AtMargin.Amount != "27.77" {
		t.Errorf("%+v", r.Money)
	}
}

// Berries keep a day, so that they are dipped on Friday evening, which has 240 minutes of hands. 200 of them need 237
// and are not dipped in one go, melting included: no evening could take that, and of two parts one finds room.
func TestWhatDoesNotFitIsSaid(t *testing.T) {
	r := reckon(t, draft(Line{Treat: "berry", Count: 200}), kitchen())
	w := r.When
	if w.Fits || len(w.Short) != 1 || w.Short[0].Reason != plan.Hands || w.Short[0].Day != "2026-09-11" ||
		w.Short[0].Minutes < r.Hands-240 {
		t.Fatalf("%+v", w)
	}
	if !strings.Contains(said.Text(w.Text), "short: 100 of the 200 Berries need") {
		t.Error(w.Text)
	}
	k := kitchen()
	k.Planning.Sessions = nil
	if r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k); r.When.Fits ||
		r.When.Short[0].Reason != plan.Window || !strings.Contains(said.Text(r.When.Text), "No working hours") {
		t.Errorf("%+v", r.When)
	}
	// With four moulds 900 bombs are cast in 77 rounds, each of which has to set.
	if r := reckon(t, draft(Line{Treat: "bomb", Count: 900}), kitchen()); r.When.Fits ||
		!strings.Contains(said.Text(r.When.Text), "of the 900 Bombs") {
		t.Errorf("%+v", r.When.Text)
	}
	k = kitchen()
	k.Planning.Places[2].Trays = 0
	if r := reckon(t, draft(Line{Treat: "berry", Count: 40}), k); r.When.Fits ||
		!strings.Contains(said.Text(r.When.Text), "trays at once") ||
		!strings.Contains(said.Text(r.When.Text), "the counter holds 0") {
		t.Errorf("%+v", r.When.Text)
	}
}

// 400 bombs are filled in 5 hours and more, in one go; no evening is as long, so that they are made in two parts, on
// days of their own.
func TestALineIsMadeInPartsWhereItMust(t *testing.T) {
	r := reckon(t, draft(Line{Treat: "bomb", Count: 400}), kitchen())
	if !r.When.Fits || len(r.When.Batches) != 2 || r.When.Batches[0].Count+r.When.Batches[1].Count != 400 ||
		!strings.Contains(said.Text(r.When.Text), "200 Bombs Thu 3 Sep to Sun 6 Sep") {
		t.Errorf("%s", r.When.Text)
	}
	problem, made := r.When.Planned()
	if _, broken := plan.Check(problem, made); len(broken) > 0 {
		t.Error(broken)
	}
}

// Every change that is said to help does: with it alone the order fits.
func TestReliefsHelp(t *testing.T) {
	seen := map[string]bool{}
	for name, c := range map[string]struct {
		line Line
		k    func(*Inputs)
	}{
		"hands": {Line{Treat: "berry", Count: 200}, func(*Inputs) {}},
		"days off": {Line{Treat: "bomb", Count: 60},
			func(k *Inputs) { k.Planning.Sessions = k.Planning.Sessions[8:9]; k.Planning.Sessions[0].To -= 120 }},
		"trays": {Line{Treat: "berry", Count: 100}, func(k *Inputs) { k.Planning.Places[2].Trays = 1 }},
		"melting": {Line{Treat: "berry", Count: 100}, func(k *Inputs) {
			k.Planning.Sessions[8].To -= 72
			k.Ingredients["coating"] = food.New("coating", food.Fields{Name: "Dark coating", Kind: food.KindChocolate,
				Unit: measure.Gram, UsableShare: 1, Chocolate: &food.Chocolate{Kind: chocolate.Compound,
					Colour: chocolate.Dark}}, decimal.NewFromInt(1))
		}},
		"moulds": {Line{Treat: "bomb", Count: 36}, func(k *Inputs) {
			k.Planning.Sessions = []plan.Session{{From: 8*1440 + 1080, To: 8*1440 + 1280, People: 1}}
			k.Moulds = map[ident.Mould]int{"ball-63.5-mm-6": 2}
		}},
	} {
		t.Run(name, func(t *testing.T) {
			k, d := kitchen(), draft(c.line)
			c.k(k)
			if r := reckon(t, d, k); r.When.Fits {
				t.Fatal("it fits: ", r.When.Text)
			}
			list, err := Reliefs(context.Background(), d, k)
			if err != nil || len(list) == 0 {
				t.Fatal(list, err)
			}
			for _, relief := range list {
				seen[relief.Kind] = true
				k, d := kitchen(), draft(c.line)
				c.k(k)
				relief.apply(d, k)
				if r := reckon(t, d, k); !r.When.Fits {
					t.Errorf("%s: %s does not help: %s", relief.Kind, relief.Text, r.When.Text)
				}
			}
		})
	}
	for _, kind := range []string{"hours", "person", "day", "spot", "mould", "later", "fewer", "coating"} {
		if !seen[kind] {
			t.Errorf("no relief of the kind %s was seen", kind)
		}
	}
}

func TestCoatingMustBeInTheLarder(t *testing.T) {
	_, err := Compute(context.Background(), draft(Line{Treat: "berry", Count: 12, Coating: true}), kitchen())
	var faults *invalid.Error
	if !errors.As(err, &faults) || faults.Fields[0].Path != "lines[0].coating" ||
		!strings.Contains(said.Error(faults.Fields[0].Err), "no dark coating in the larder") {
		t.Error(err)
	}
}

// By hand: 24 km there and back are 12 there, 18 minutes at 40 km/h; with 10 for the door 28, in steps of five 30.
func TestLeaveByHand(t *testing.T) {
	for km, want := range map[float64]si.Minutes{0: 0, 24: 30, 3: 15, 80: 70} {
		if got := Leave(km); got != want {
			t.Errorf("%v km: %d minutes, want %d", km, got, want)
		}
	}
}

// What keeps shortest has the least choice: berries take Friday though they stand last.
func TestFruitGoesLast(t *testing.T) {
	r, err := Compute(context.Background(), draft(Line{Treat: "bomb", Count: 70}, Line{Treat: "bark", Count: 20},
		Line{Treat: "berry", Count: 48}), kitchen())
	if err != nil {
		t.Fatal(err)
	}
	days := map[int]string{}
	for _, b := range r.When.Batches {
		days[b.Line] = b.Day
	}
	if !r.When.Fits || days[2] != "2026-09-11" || days[0] != "2026-09-10" {
		t.Errorf("%v: %s", days, r.When.Text)
	}
}

func TestPackagingAgainstStock(t *testing.T) {
	r, err := Compute(context.Background(), draft(Line{Treat: "berry", Count: 30}, Line{Treat: "berry", Count: 20}),
		kitchen())
	if err != nil {
		t.Fatal(err)
	}
	boxes, liners := r.Packs[0], r.Packs[1]
	// 30 berries are 3 boxes, 20 are 2: 5, and 3 are in the house.
	if boxes.Amount.Amount != 5 || boxes.Short == nil || boxes.Short.Amount != 2 {
		t.Errorf("boxes: %+v", boxes)
	}
	if liners.Amount.Amount != 50 || liners.Short != nil {
		t.Errorf("liners: %+v", liners)
	}
}

func TestFreeFromIsMinded(t *testing.T) {
	d := draft(Line{Treat: "bark", Count: 4}, Line{Treat: "berry", Count: 12})
	d.FreeFrom = []string{"tree nut"}
	r, err := Compute(context.Background(), d, kitchen())
	if err != nil {
		t.Fatal(err)
	}
	if len(r.Care) == 0 || !r.Care[0].Trouble || !strings.Contains(said.Of(r.Care[0].Text),
		"Bark contain tree nut (Hazelnuts)") {
		t.Errorf("%+v", r.Care)
	}
	for _, c := range r.Care[1:] {
		if c.Trouble {
			t.Errorf("more trouble: %s", c.Text)
		}
	}
}

// Whatever the order, made in one go: used + reclaimed = melted in every pot, costs are the sum of their lines, and
// neither amounts nor cost fall when a count rises. (On the days of a plan they may, where fewer pieces must be made in
// parts.)
func TestEstimateLaws(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	k := kitchen()
	names := []string{"berry", "bomb", "bark"}
	for range 100 {
		var lines []Line
		for range 1 + r.IntN(5) {
			lines = append(lines, Line{Treat: ident.Treat(names[r.IntN(3)]), Count: 1 + r.IntN(90)})
		}
		a, err := Compute(context.Background(), &Draft{Lines: lines}, k)
		if err != nil {
			t.Fatal(err)
		}
		lines = slices.Clone(lines)
		lines[r.IntN(len(lines))].Count += 1 + r.IntN(20)
		b, err := Compute(context.Background(), &Draft{Lines: lines}, k)
		if err != nil {
			t.Fatal(err)
		}
		for i, p := range a.Pots {
			if math.Abs(p.Used.Amount+p.Reclaimed.Amount-p.Melted.Amount) > 1e-6 {
				t.Errorf("%+v does not add up", p)
			}
			if b.Pots[i].Melted.Amount < p.Melted.Amount-1e-6 {
				t.Errorf("more pieces melt less: %v, then %v", p.Melted, b.Pots[i].Melted)
			}
		}
		sum := decimal.Zero
		for i, n := range a.Needs {
			sum = sum.Add(decimal.RequireFromString(n.Cost.Amount))
			if b.Needs[i].Used.Amount < n.Used.Amount-1e-6 {
				t.Errorf("more pieces take less %s", n.Name)
			}
		}
		if sum.StringFixed(2) != a.Money.Ingredients.Amount {
			t.Errorf("the ingredients cost %s, their sum is %s", sum, a.Money.Ingredients.Amount)
		}
		if money(b) < money(a) {
			t.Errorf("more pieces cost less: %v, then %v", a.Money.Total, b.Money.Total)
		}
	}
}

func money(r *Estimate) float64 {
	return decimal.RequireFromString(r.Money.Total.Amount).InexactFloat64()
}

func TestFaultsOfAnOrder(t *testing.T) {
	long := strings.Repeat("x", 201)
	for name, c := range map[string]struct {
		harm func(*Draft)
		path string
		says string
	}{
		"nothing":             {func(d *Draft) { d.Lines[0].Count = 0 }, "lines[0].count", "1 or more"},
		"less than nothing":   {func(d *Draft) { d.Lines[0].Count = -3 }, "lines[0].count", "-3"},
		"too many":            {func(d *Draft) { d.Lines[0].Count = 10001 }, "lines[0].count", "10,000"},
		"an unknown treat":    {func(d *Draft) { d.Lines[0].Treat = "pie" }, "lines[0].treat", "not in your book"},
		"no formula":          {func(d *Draft) { d.Lines[0].Treat = "bare" }, "lines[0].treat", "no recipe yet"},
		"an unknown allergen": {func(d *Draft) { d.FreeFrom = []string{"dust"} }, "freeFrom[0]", "dust"},
		"in the past": {func(d *Draft) { d.From, d.To = now.Add(-2*time.Hour), now.Add(-time.Hour) }, "from",
			"past"},
		"ends before it is": {func(d *Draft) { d.To = d.From.Add(-time.Minute) }, "to", "ends before it starts"},
		"no length":         {func(d *Draft) { d.To = d.From }, "to", "no length"},
		"far away": {func(d *Draft) { d.From = now.AddDate(3, 0, 0); d.To = d.From.Add(time.Hour) }, "from",
			"two years"},
		"nobody":               {func(d *Draft) { d.Customer = " " }, "customer", "Enter the customer’s name"},
		"a long name":          {func(d *Draft) { d.Customer = long }, "customer", "200"},
		"a name of two lines":  {func(d *Draft) { d.Customer = "a\nb" }, "customer", "Keep this to one line"},
		"no mail":              {func(d *Draft) { d.Mail = "ilse" }, "mail", "not an email address"},
		"no way":               {func(d *Draft) { d.Way = "drone" }, "way", "pickup or delivery"},
		"delivered to nowhere": {func(d *Draft) { d.Way = Delivery }, "place", "Enter the delivery address"},
	} {
		d := draft(Line{Treat: "berry", Count: 12})
		c.harm(d)
		found := false
		for _, err := range []error{d.CheckLines(kitchen().Treats), d.CheckWindow(now), d.CheckWords()} {
			var faults *invalid.Error
			if errors.As(err, &faults) {
				for _, f := range faults.Fields {
					found = found || f.Path == c.path && strings.Contains(said.Error(f.Err), c.says)
				}
			}
		}
		if !found {
			t.Errorf("%s: no fault at %s that says %q", name, c.path, c.says)
		}
	}
}

func TestMoves(t *testing.T) {
	for from, to := range map[State][]State{
		Enquiry: {Quoted, Promised, Cancelled}, Promised: {Making, Quoted, Cancelled}, HandedOver: {Settled, Packed},
		Cancelled: {Enquiry},
	} {
		for _, s := range States() {
			allowed := false
			for _, x := range to {
				allowed = allowed || x == s
			}
			if from.CanTransition(s) != allowed {
				t.Errorf("%s to %s: %v", from, s, from.CanTransition(s))
			}
		}
	}
	// From everywhere there is a way on to settled, and nowhere a move to where one is.
	for _, s := range States() {
		seen := map[State]bool{s: true}
		for todo := []State{s}; len(todo) > 0; todo = todo[1:] {
			for _, n := range todo[0].Transitions() {
				if n == todo[0] {
					t.Errorf("%s moves to itself", n)
				}
				if !seen[n] {
					seen[n] = true
					todo = append(todo, n)
				}
			}
		}
		if !seen[Settled] {
			t.Errorf("%s never gets settled", s)
		}
	}
}

func BenchmarkReckon(b *testing.B) {
	k, d := kitchen(), draft()
	for i := range 12 {
		d.Lines = append(d.Lines, Line{Treat: ident.Treat([]string{"berry", "bomb", "bark"}[i%3]), Count: 10 + i})
	}
	for b.Loop() {
		if _, err := Compute(context.Background(), d, k); err != nil {
			b.Fatal(err)
		}
	}
}

// stock of one lot at what was last paid.
func stock(left float64, price decimal.Decimal) larder.Stock {
	return larder.Stock{Lots: []larder.StockLot{{Left: left, Price: price}}, Latest: price}
}

// By hand: 400 berries keep a day; 429 are begun, of which dipping takes half a minute each, 215, and boxing a quarter,
// 108: 323 between Friday 10:20 and the handover on Saturday, and the evening has 240. 83 are short, in whatever parts
// it is made.
func TestMoreThanThereAreHandsFor(t *testing.T) {
	r := reckon(t, draft(Line{Treat: "berry", Count: 400}), kitchen())
	if len(r.When.Short) != 1 {
		t.Fatalf("%+v", r.When)
	}
	if s := r.When.Short[0]; s.Reason != plan.Hands || s.Need != 323 || s.Free != 240 || s.Minutes != 83 ||
		!strings.Contains(said.Of(s.Text), "between Fri 11 Sep and Sat 12 Sep: 400 Berries keep 24 hours") {
		t.Errorf("%+v", s)
	}
}

// What is left of a bowl that nuts were dipped in is put into the next one: what is dipped there may contain traces of
// them, and the order is told so. An order that must be free from nuts takes none of it.
func TestTracesAreTold(t *testing.T) {
	reckon := func(wish ...string) (*Estimate, []string) {
		k := kitchen()
		k.Stock = map[ident.Ingredient]larder.Stock{"dark": {Latest: k.Ingredients["dark"].Price,
			Lots: []larder.StockLot{
				{ID: "left", Item: "dark", Left: 150, Bought: "2026-09-02",
					Rest: &ledger.Rest{Of: "left", Pot: ledger.Pot{Ingredient: "dark"}, Grams: 150,
						Touched: []string{"tree nut"}, Day: "2026-09-02"}},
				{ID: "bag", Item: "dark", Left: 5000, Bought: "2026-09-01"},
			}}}
		d := draft(Line{Treat: "berry", Count: 12})
		d.FreeFrom = append(d.FreeFrom, wish...)
		r, err := Compute(context.Background(), d, k)
		if err != nil {
			t.Fatal(err)
		}
		var says []string
		for _, c := range r.Care {
			if strings.Contains(said.Of(c.Text), "traces") {
				says = append(says, said.Of(c.Text))
			}
		}
		if q := r.Quote(d, "K", k); slices.ContainsFunc(q.Serving,
			func(s reason.Reason) bool { return strings.Contains(said.Of(s), "traces of tree nut") }) != (len(wish) == 0) {
			t.Errorf("the customer is told %q", q.Serving)
		}
		return r, says
	}
	if r, says := reckon(); !slices.Equal(r.Lines[0].Traces, []string{"tree nut"}) || len(says) != 1 || !strings.Contains(says[0], "Berries may contain traces of tree nut") {
		t.Errorf("%v: %v", r.Lines[0].Traces, says)
	}
	if r, says := reckon("tree nut"); len(r.Lines[0].Traces) != 0 || len(says) != 0 {
		t.Errorf("%v: %v", r.Lines[0].Traces, says)
	}
}

// In one bowl a line is worked before somebody else's nuts: it has no trace of them, unless what is left from before
// brought some along.
func TestTracesInOneBowl(t *testing.T) {
	pot := ledger.Pot{Ingredient: "dark"}
	works := []ledger.Worked{
		{Batch: "line-0", Step: "dip", Day: "2026-09-05", Start: 10, End: 20, Draw: &ledger.Draw{Pot: pot, Applied: 100, Pool: 50}},
		{Batch: "other", Step: "drop", Day: "2026-09-05", Start: 20, End: 30, Draw: &ledger.Draw{Pot: pot, Applied: 100, Pool: 50, Touches: []string{"tree nut"}}},
	}
	rest := &ledger.Rest{Of: "left", Pot: pot, Grams: 40, Touched: []string{"tree nut"}, Day: "2026-09-02"}
	for _, c := range []struct {
		lots []larder.StockLot
		want []string
	}{{nil, nil}, {[]larder.StockLot{{ID: "left", Item: "dark", Left: 40, Rest: rest}}, []string{"tree nut"}}} {
		k := kitchen()
		k.Stock = map[ident.Ingredient]larder.Stock{"dark": {Lots: c.lots}}
		card, err := k.CardOf(Line{Treat: "berry", Count: 12}, 1)
		if err != nil {
			t.Fatal(err)
		}
		r := &Estimate{Lines: []LineCard{{Card: card}}}
		r.own(works, []plannedBatch{{id: "line-0", line: 0, card: card}}, k)
		if !slices.Equal(r.Lines[0].Traces, c.want) {
			t.Errorf("with %d lots: %v, want %v", len(c.lots), r.Lines[0].Traces, c.want)
		}
	}
}
