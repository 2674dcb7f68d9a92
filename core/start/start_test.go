package start

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

// all answers with everything sold as it is proposed.
func all(country string) Answers {
	a := Answers{Country: country, Sells: map[treat.Family]map[string]string{}}
	for _, of := range family.All() {
		a.Sells[of] = nil
	}
	return a
}

// combined goes through all that can be picked on a tile.
func combined(tile []family.Pick, each func(map[string]string)) {
	picks := map[string]string{}
	var next func(int)
	next = func(n int) {
		if n == len(tile) {
			each(picks)
			return
		}
		for _, o := range tile[n].Options {
			picks[tile[n].ID] = o
			next(n + 1)
		}
	}
	next(0)
}

// TestEveryTileIsATreat: whatever is picked on any tile, in any units, is a treat that the book would keep, made of
// what the starting set and the packs know, with a price for so many as one would ask for.
func TestEveryTileIsATreat(t *testing.T) {
	for _, country := range []string{"US", "FR", "JP"} {
		for _, of := range family.All() {
			law, _ := family.Of(of)
			if n := len(law.Tile()); n < 2 || n > 5 {
				t.Errorf("%s asks %d questions", of, n)
			}
			combined(law.Tile(), func(picks map[string]string) {
				set, err := SetOut(Answers{Country: country,
					Sells: map[treat.Family]map[string]string{of: picks}}, nil)
				if err != nil {
					t.Fatalf("%s %v: %s", of, picks, said.Error(err))
				}
				k := set.Inputs(inputs())
				packaging := k.Packaging()
				for _, m := range set.Mixes {
					if err := m.Check(&k.Inputs); err != nil {
						t.Errorf("%s %v: %s", of, picks, said.Error(err))
					}
				}
				if err := family.Check(set.Treats[0].Formula, &k.Inputs, packaging); err != nil {
					t.Errorf("%s %v: %s", of, picks, said.Error(err))
				}
				r := estimate(t, k, order.Line{Treat: ident.Treat(of), Count: set.Treats[0].Good})
				asked := decimal.RequireFromString(r.Money.Asked.Amount)
				if low, high := set.Country.level.Mul(decimal.NewFromInt(5)),
					set.Country.level.Mul(decimal.NewFromInt(90)); asked.LessThan(low) || asked.GreaterThan(high) {
					t.Errorf("%s %v in %s: %d ask for %s %s", of, picks, country, set.Treats[0].Good, asked,
						set.Country.Currency)
				}
				if z := r.Lines[0].Card.Sizes; z.Fills != nil && z.Fills.Quantity.Amount > z.Holds.Quantity.Amount {
					t.Errorf("%s %v: %v go into %v", of, picks, z.Fills.Quantity, z.Holds.Quantity)
				}
				for _, i := range set.Ingredients {
					if !decimal.RequireFromString(i.Paid).IsPositive() || !i.Estimate {
						t.Errorf("%s costs %s", i.Name, i.Paid)
					}
				}
			})
		}
	}
}

func inputs() order.Inputs {
	var k order.Inputs
	k.Confidence, k.AirTemp, k.Boiling, k.Source, k.Law = 0.95, 21, 100, "microwave", food.LawUS
	k.Rates.Margin = decimal.RequireFromString("0.2")
	k.Now = time.Date(2026, 9, 3, 18, 0, 0, 0, time.UTC)
	k.Calendar = plan.CalendarFrom(k.Now, time.UTC)
	k.Extent = order.FiguresOnly
	return k
}

func estimate(t *testing.T, k *order.Inputs, lines ...order.Line) *order.Estimate {
	t.Helper()
	r, err := order.Compute(t.Context(), &order.Draft{Way: order.Pickup, Lines: lines,
		From: k.Now.AddDate(0, 0, 4), To: k.Now.AddDate(0, 0, 4).Add(time.Hour)}, k)
	if err != nil {
		t.Fatal(said.Error(err))
	}
	return r
}

// TestADozenByHand follows one price from the pack to the dozen: strawberries at 18 g, of which 54 in 100 are fit to
// dip (handbook 4.1), at an estimate of 3.6 x 1.2 = 4.32, in steps of 0.25: 4.25 a pound of 453.59 g.
func TestADozenByHand(t *testing.T) {
	set, err := SetOut(Answers{Country: "US", Sells: map[treat.Family]map[string]string{"fruit": nil}}, nil)
	if err != nil {
		t.Fatal(said.Error(err))
	}
	k := set.Inputs(inputs())
	if b, _ := set.bought("Strawberries"); b.Paid != "4.25" || b.PaidFor != measure.Of(1, measure.Pound) {
		t.Errorf("strawberries: %+v", b)
	}
	r := estimate(t, k, order.Line{Treat: "fruit", Count: 12})
	for _, n := range r.Needs {
		if n.Name != "Strawberries" {
			continue
		}
		start := float64(r.Lines[0].Start)
		want := start * 18 / 0.54 / 453.59237 * 4.25
		got := decimal.RequireFromString(n.Cost.Amount).InexactFloat64()
		if start < 12 || got < want-0.011 || got > want+0.011 { // a cent more or less: the parts add up to the sum
			t.Errorf("%v started cost %v, by hand %.2f", start, got, want)
		}
	}
}

// TestCountriesProposeTheirMoney: no kitchen begins with a price that is off by a hundred times.
func TestCountriesProposeTheirMoney(t *testing.T) {
	seen := map[string]bool{}
	for _, c := range Countries() {
		if seen[c.Code] {
			t.Errorf("%s stands twice", c.Code)
		}
		seen[c.Code] = true
		hourly, overhead := decimal.RequireFromString(c.Hourly), decimal.RequireFromString(c.Overhead)
		// an hour pays some eight to twenty times what a kilogram of sugar costs, in any currency
		sugar := c.level.Mul(decimal.RequireFromString("1.4"))
		if r := hourly.Div(sugar).InexactFloat64(); r < 2 || r > 20 {
			t.Errorf("%s: an hour pays %s, sugar costs %s", c.Code, hourly, sugar)
		}
		if r := overhead.Div(hourly).InexactFloat64(); r < 0.05 || r > 0.2 {
			t.Errorf("%s: overhead is %v of the pay", c.Code, r)
		}
		if _, err := price.Read(c.Hourly, c.Currency); err != nil {
			t.Errorf("%s: %s", c.Code, said.Error(err))
		}
		for name, b := range estimates(c) {
			if _, err := price.Read(b.Paid, c.Currency); err != nil || b.Paid == "0" {
				t.Errorf("%s: %s costs %s", c.Code, name, b.Paid)
			}
		}
		if !slices.Contains([]int{12, 24}, c.Clock) || !slices.Contains([]string{"dmy", "mdy", "ymd"}, c.Dates) ||
			!slices.Contains(food.Laws(), c.Law) || c.Degrees != "C" && c.Degrees != "F" {
			t.Errorf("%+v", c)
		}
		if _, known := measure.Cups()[c.Cup]; !known {
			t.Errorf("%s: a cup of %s", c.Code, c.Cup)
		}
	}
	if c := Of("JP", ""); c.Hourly != "1800" {
		t.Errorf("an hour in yen: %s", c.Hourly)
	}
	if c := Of("FR", "JPY"); c.Hourly != "1800" || c.Units != "metric" || c.Clock != 24 {
		t.Errorf("in France in yen: %+v", c)
	}
	if c := Of("ZZ", "USD"); c.Currency != "USD" || c.Units != "us" {
		t.Errorf("nowhere in dollars: %+v", c)
	}
	if set, err := SetOut(Answers{Country: "AR", Currency: "ARS", Sells: all("").Sells}, nil); err != nil ||
		set.Country.Hourly != "0" || set.Ingredients[0].Paid != "0.00" || set.Country.Currency != "ARS" {
		t.Errorf("no figure is known: %+v %v", set.Country, err)
	}
}

// TestWhatWasPaid takes the place of an estimate, in any unit that the thing can be bought in.
func TestWhatWasPaid(t *testing.T) {
	a := all("GB")
	a.Paid = map[string]Bought{"White coating": {Paid: "21.00", PaidFor: measure.Of(2.5, measure.Kilogram)},
		"Liner": {Paid: "4.5"}, "Saffron": {Paid: "1"}}
	set, err := SetOut(a, nil)
	if err == nil {
		b, _ := set.bought("White coating")
		l, _ := set.bought("Liner")
		if b == nil || b.Paid != "21.00" || b.Estimate || b.PaidFor.Amount != 2.5 || l.Paid != "4.50" ||
			l.PaidFor.Amount != 300 {
			t.Errorf("%+v %+v", b, l)
		}
	} else {
		t.Error(said.Error(err))
	}
	for want, wrong := range map[string]Answers{
		"paid.Liner: A price": {Sells: all("").Sells, Paid: map[string]Bought{"Liner": {Paid: "-1"}}},
		"paid.Liner":          {Sells: all("").Sells, Paid: map[string]Bought{"Liner": {Paid: "a lot"}}},
		"paid.Cocoa": {Sells: map[treat.Family]map[string]string{"truffle": {"skin": "rolled"}},
			Paid: map[string]Bought{"Cocoa": {Paid: "1", PaidFor: measure.Of(1, measure.Metre)}}},
		"sells.fruit": {Sells: map[treat.Family]map[string]string{"fruit": {"fruit": "brick"}}},
		"sells.soup":  {Sells: map[treat.Family]map[string]string{"soup": nil}},
		"hourly":      {Sells: all("").Sells, Hourly: "lots"},
	} {
		_, err := SetOut(wrong, nil)
		if err == nil || !slices.ContainsFunc(strings.Split(want, "|"),
			func(w string) bool { return strings.HasPrefix(said.Error(err), w) }) {
			t.Errorf("%s: %v", want, err)
		}
		if _, is := err.(*invalid.Error); err != nil && !is {
			t.Errorf("%T", err)
		}
	}
}

// TestEverythingHasAPack: what any tile can bring along is in the list of packs.
func TestEverythingHasAPack(t *testing.T) {
	known, used := estimates(Of("US", "")), map[string]bool{}
	for _, of := range family.All() {
		law, _ := family.Of(of)
		combined(law.Tile(), func(picks map[string]string) {
			set, err := SetOut(Answers{Sells: map[treat.Family]map[string]string{of: picks}}, nil)
			if err != nil {
				t.Fatal(said.Error(err))
			}
			for _, i := range set.Ingredients {
				used[i.Name] = true
			}
			for _, s := range set.Supplies {
				used[s.Name] = true
			}
		})
	}
	for name := range used {
		if _, is := known[name]; !is {
			t.Errorf("no pack of %s", name)
		}
	}
	for _, name := range slices.Sorted(maps.Keys(known)) {
		if !used[name] && name != "Milk coating" {
			t.Error(fmt.Sprintf("%s is in the list and in no treat", name))
		}
	}
}
