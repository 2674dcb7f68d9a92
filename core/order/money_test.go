package order

import (
	"context"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/internal/text/said"
)

func d(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func reckon(t *testing.T, d *Draft, k *Inputs) *Estimate {
	t.Helper()
	r, err := Compute(context.Background(), d, k)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// By hand: a dozen berries use 114.24 g of dark and leave 250 g in the bowl: 364.24 g in the house. A lot holds 100 g
// at 0.010, the rest costs the latest 0.0145: 1.00 + 264.24 x 0.0145 = 4.83148: 4.83, since what is left is damp. Of
// dried fruit it comes back, 250 / 364.24 of it, 3.31614: 1.51534 stay, 1.52. Worth half of its price, 3.17341 stay:
// 3.17.
func TestCostFromLotsByHand(t *testing.T) {
	k := kitchen()
	k.Stock = map[ident.Ingredient]larder.Stock{"dark": {Lots: []larder.StockLot{{Left: 100, Price: d("0.010")}},
		Latest: d("0.0145")}}
	if washed := reckon(t, draft(Line{Treat: "berry", Count: 12}), k).Needs[1]; washed.Cost.Amount != "4.83" {
		t.Errorf("washed: %+v", washed)
	}
	dried := *k.Treats["berry"].Formula
	dried.Choices = map[string]string{"wash": "none"}
	k.Treats["berry"] = Treat{ID: "berry", Name: "Berries", Version: 1, Formula: &dried, Market: nil}
	r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	dark := r.Needs[1]
	if dark.Name != "Dark" || dark.Cost.Amount != "1.52" || !strings.Contains(said.Text(dark.Why), "100 g of it") {
		t.Errorf("%+v", dark)
	}
	k.Terms.Reclaim = 0.5
	if dark := reckon(t, draft(Line{Treat: "berry", Count: 12}), k).Needs[1]; dark.Cost.Amount != "3.17" {
		t.Errorf("half: %+v", dark.Cost)
	}
}

// Made together, a chocolate is melted once: berries and bombs take the same dark. In the house is what both use, and
// the larger pool.
func TestSetUpIsShared(t *testing.T) {
	k := kitchen()
	both, berries, bombs := reckon(t, draft(Line{Treat: "berry", Count: 12}, Line{Treat: "bomb", Count: 12}), k),
		reckon(t, draft(Line{Treat: "berry", Count: 12}), k), reckon(t, draft(Line{Treat: "bomb", Count: 12}), k)
	// By hand: 114.24 + 250 g take 12 minutes of hands to melt, 14 x 51.517 x 1.02 + 200 = 935.7 g 14, and both
	// together with the larger pool, 1099.9 g, 14.
	if got, want := both.Hands, berries.Hands+bombs.Hands-12; got != want {
		t.Errorf("together %d minutes, want %d", got, want)
	}
	if !strings.Contains(said.Text(both.HandsWhy), "less since what may be poured together is melted once") {
		t.Error(both.HandsWhy)
	}
	dark := func(r *Estimate) Need {
		for _, n := range r.Needs {
			if n.Ingredient == "dark" {
				return n
			}
		}
		return Need{}
	}
	pool := func(n Need) float64 { return n.House.Amount - n.Used.Amount }
	if got, want := pool(dark(both)), max(pool(dark(berries)), pool(dark(bombs))); math.Abs(got-want) > 1e-9 {
		t.Errorf("the pool is %v, want %v", got, want)
	}
}

// Over a bath a bowl stands ready all session. On days when a pot is still ready from other work it is not melted
// again: alone and beside what is planned are both told.
func TestBesideWhatIsPlanned(t *testing.T) {
	k := kitchen()
	k.Source = chocolate.Bath
	alone := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	if alone.Money.Planned == nil || alone.Money.Planned.Hands != alone.Hands {
		t.Fatalf("%+v", alone.Money.Planned)
	}
	const setup = 14 // to melt 364 g over a bath: 7.3 min, half of it hands, and 10 for the temper
	// On Friday 11 the dark is melted at 18:00 and worked with until the berries are dry: for two hours.
	friday := 8*plan.DayMinutes + 1080
	other := plan.Batch{ID: "x", Penalty: ConfirmedPenalty, DueMin: 9 * plan.DayMinutes,
		Steps: []plan.Operation{{ID: "dip", HandsOnMin: 60, Pots: alone.Lines[0].Card.Steps[2].Pots,
			Pinned: &plan.Pinned{Start: si.Minutes(friday + setup)}}}}
	k.Planning.Batches = []plan.Batch{other}
	beside := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	if got, want := beside.Money.Planned.Hands, alone.Hands-setup; got != want {
		t.Errorf("%d minutes beside the other work, want %d", got, want)
	}
	if beside.Hands != alone.Hands || beside.Money.Asked.Money != alone.Money.Asked.Money {
		t.Error("what it costs alone, and the price, depend on other orders")
	}
	if !d(beside.Money.Planned.PerHour.Amount).GreaterThan(d(alone.Money.PerHour.Amount)) {
		t.Errorf("it pays %s an hour beside other work, alone %s", beside.Money.Planned.PerHour.Amount,
			alone.Money.PerHour.Amount)
	}
}

// Notice counts from the day on which the order was written, in the kitchen's own days.
func TestRush(t *testing.T) {
	k := kitchen()
	k.Terms.Rush = []price.Notice{{Days: 9, Share: 0.1}}
	o := draft(Line{Treat: "berry", Count: 12})
	if r := reckon(t, o, k); r.Money.Rush == nil || r.Money.Rush.Amount != "2.78" ||
		r.Money.Asked.Amount != "30.55" { // a tenth of 27.77
		t.Errorf("%+v", r.Money.Rush)
	}
	k.Commitments.Written = now.AddDate(0, 0, -1)
	if r := reckon(t, o, k); r.Money.Rush != nil {
		t.Error("ten days of notice are charged as nine")
	}
	agreed := d("30")
	k.Commitments.Agreed = &agreed
	if r := reckon(t, o, k); r.Money.Asked.Amount != "30.00" || r.Money.AtMargin.Amount != "27.77" {
		t.Errorf("%+v", r.Money.Asked)
	}
}

// Over currencies, terms and orders: the shares of the lines add up to cost and price, and the lines on paper to their
// sums.
func TestMoneyAddsUpOnPaper(t *testing.T) {
	rnd := rand.New(rand.NewPCG(1, 9))
	for _, currency := range []string{"USD", "JPY", "KWD"} {
		for range 40 {
			k := kitchen()
			k.Rates.Currency = currency
			k.Terms = price.Terms{Ending: price.End95, Minimum: "20", Rush: []price.Notice{{Days: 30, Share: 0.15}},
				Tax: 0.08, TaxIncluded: rnd.IntN(2) == 0, Deposit: 0.5, CardShare: 0.029, CardFixed: "0", Drive: "0.3",
				Reclaim: 1, QuoteDays: 7}
			o := draft()
			for _, id := range []string{"berry", "bomb", "bark"} {
				if rnd.IntN(3) > 0 {
					o.Lines = append(o.Lines, Line{Treat: ident.Treat(id), Count: 1 + rnd.IntN(60)})
				}
			}
			if len(o.Lines) == 0 {
				continue
			}
			o.Discount, o.Distance = "7%", rnd.Float64()*40
			m := reckon(t, o, k)
			costs, prices, needs := decimal.Zero, decimal.Zero, decimal.Zero
			for _, l := range m.Lines {
				costs, prices = costs.Add(d(l.Cost.Amount)), prices.Add(d(l.Price.Amount))
			}
			for _, n := range m.Needs {
				needs = needs.Add(d(n.Cost.Amount))
			}
			sum := func(amounts ...*Amount) decimal.Decimal {
				s := decimal.Zero
				for _, a := range amounts {
					if a != nil {
						s = s.Add(d(a.Amount))
					}
				}
				return s
			}
			s := m.Money
			for what, pair := range map[string][2]decimal.Decimal{
				"cost of the lines": {costs, d(s.Total.Amount)}, "price of the lines": {prices, d(s.Asked.Amount)},
				"ingredients": {needs, d(s.Ingredients.Amount)},
				"total": {sum(&s.Ingredients, &s.Packaging, &s.Hands, &s.Overhead, s.Drive, s.Card),
					d(s.Total.Amount)},
				"asked": {sum(&s.Base, s.Discount, s.Rush, s.Rounded), d(s.Asked.Amount)},
				"gross": {sum(&s.Net, s.Tax), d(s.Gross.Amount)}, "left": {sum(&s.Left, &s.Total), d(s.Net.Amount)},
			} {
				if !pair[0].Equal(pair[1]) {
					t.Fatalf("%s: %s: %s on paper, %s written", currency, what, pair[0], pair[1])
				}
			}
		}
	}
}

// By hand, from TestEstimateByHand: chocolate is 5.281 of the cost; a fifth more is 6.338: 6.34 instead of 5.28. The
// total rises from 22.21 to 23.27, the price at 20% from 27.77 to 29.09 (23.27 / 0.8 = 29.0875).
func TestWhatIf(t *testing.T) {
	k := kitchen()
	o := draft(Line{Treat: "berry", Count: 12})
	before := reckon(t, o, k)
	dearer, err := WhatIf{Chocolate: 0.2}.Reckon(context.Background(), o, k)
	if err != nil || dearer.Money.Total.Amount != "23.27" || dearer.Money.Asked.Amount != "29.09" {
		t.Errorf("%v, %+v", err, dearer.Money)
	}
	if same, err := (WhatIf{}).Reckon(context.Background(), o, k); err != nil ||
		same.Money.Asked.Money != before.Money.Asked.Money || same.Hands != before.Hands {
		t.Errorf("nothing changes, and the price is %+v", same.Money.Asked)
	}
	// Half the loss of 5%: 13 are enough for 12 (binomial: 0.975^13 + 13 x 0.025 x 0.975^12 = 0.96).
	if less, err := (WhatIf{Loss: -0.5}).Reckon(context.Background(), o, k); err != nil ||
		less.Lines[0].Card.Start != 13 {
		t.Errorf("start %d", less.Lines[0].Card.Start)
	}
	// 40 bombs are 88 half shells or so: four moulds of 6 need four rounds, eight need two.
	bombs := draft(Line{Treat: "bomb", Count: 40})
	rounds := reckon(t, bombs, k).Lines[0].Card.Rounds.Count
	if more, err := (WhatIf{Moulds: 4}).Reckon(context.Background(), bombs, k); err != nil ||
		more.Lines[0].Card.Rounds.Count != (rounds+1)/2 {
		t.Errorf("%d rounds with twice the moulds, %d before", more.Lines[0].Card.Rounds.Count, rounds)
	}
	if other, err := (WhatIf{Hourly: "36"}).Reckon(context.Background(), o, k); err != nil ||
		other.Money.Hands.Amount != "22.80" {
		t.Errorf("%+v", other.Money.Hands)
	}
	if _, err := (WhatIf{Hourly: "much"}).Reckon(context.Background(), o, k); err == nil {
		t.Error("an hourly rate in words is taken")
	}
	if after := reckon(t, o, k); after.Money.Asked.Money != before.Money.Asked.Money ||
		k.Treats["bomb"].Formula.Shell.Moulds != 4 {
		t.Error("the kitchen was changed")
	}
}

// More of the same costs less a piece, and pays more an hour at the same price a piece.
func TestLadder(t *testing.T) {
	k := kitchen()
	berry := k.Treats["berry"]
	berry.Market = &Market{"25", "60"} // rules 1, common practice
	k.Treats["berry"] = berry
	rungs, err := Ladder(context.Background(), "berry", nil, k)
	if err != nil || len(rungs) != 5 {
		t.Fatalf("%v, %d rungs", err, len(rungs))
	}
	if r := rungs[1]; r.Count != 12 || r.Price.Amount != "27.77" || r.Each.Amount != "1.85" ||
		said.Of(r.Market.Text) != "$27.77 a dozen: others ask $25.00 to $60.00, this is 8% of the way up." {
		t.Errorf("%+v %+v", r, r.Market)
	}
	for i := 1; i < len(rungs); i++ {
		if d(rungs[i].Each.Amount).GreaterThan(d(rungs[i-1].Each.Amount)) {
			t.Errorf("one of %d costs %s, one of %d %s", rungs[i].Count, rungs[i].Each.Amount, rungs[i-1].Count,
				rungs[i-1].Each.Amount)
		}
	}
	for dozen, want := range map[string]string{"20": "below all", "61": "above all", "60": "100% of the way up"} {
		if got := berry.Market.stand(d(dozen), "USD").Text; !strings.Contains(said.Of(got), want) {
			t.Errorf("%s: %s", dozen, got)
		}
	}
	for _, bad := range []Market{{"x", "1"}, {"3", "2"}, {"0", "0"}} {
		if bad.Check("USD") == nil {
			t.Errorf("%+v is taken", bad)
		}
	}
}

func TestPricesThatCannotBe(t *testing.T) {
	for path, change := range map[string]func(*Draft){
		"pricing.value: “a lot” is not an amount of money": func(o *Draft) {
			o.Pricing = &Pricing{price.ByPrice,
				"a lot"}
		},
		"pricing.value: The margin is a share": func(o *Draft) {
			o.Pricing = &Pricing{price.ByMargin,
				"0.99"}
		},
		"pricing.value: The markup lies between": func(o *Draft) {
			o.Pricing = &Pricing{price.ByMarkup,
				"-1"}
		},
		"pricing.value: “x” is not a share": func(o *Draft) {
			o.Pricing = &Pricing{price.ByMarkup,
				"x"}
		},
		"pricing.value: Choose margin, markup, hourly or price.": func(o *Draft) { o.Pricing = &Pricing{"wish", "1"} },
		"discount: “half” is not an amount":                      func(o *Draft) { o.Discount = "half" },
		"distance: The way there and back":                       func(o *Draft) { o.Distance = math.NaN() },
	} {
		o := draft(Line{Treat: "berry", Count: 12})
		change(o)
		if _, err := Compute(context.Background(), o, kitchen()); err == nil ||
			!strings.Contains(said.Error(err), path) {
			t.Errorf("%v, want %s", err, path)
		}
	}
}

// An order of 12 lines, with lots and days.
func BenchmarkTwelveLines(b *testing.B) {
	k := kitchen()
	k.Stock = map[ident.Ingredient]larder.Stock{"dark": {Lots: []larder.StockLot{{Left: 500, Price: d("0.010")},
		{Left: 5000, Price: d("0.012")}}, Latest: d("0.0145")}}
	o := draft()
	for i := range 12 {
		o.Lines = append(o.Lines, Line{Treat: ident.Treat([]string{"berry", "bomb", "bark"}[i%3]), Count: 6 + i})
	}
	o.From = now.Add(20 * 24 * time.Hour)
	o.To = o.From.Add(time.Hour)
	for b.Loop() {
		if _, err := Compute(context.Background(), o, k); err != nil {
			b.Fatal(err)
		}
	}
}
