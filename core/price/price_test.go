package price

import (
	"math/rand/v2"
	"testing"

	"github.com/shopspring/decimal"
)

func d(s string) decimal.Decimal { return decimal.RequireFromString(s) }

// By hand. 51 minutes at 18.00 an hour are 15.30, at 2.00 overhead 1.70; with ingredients 4.90 and packaging 1.02 the cost
// is 22.92. At a margin of 20 % the price is 22.92 / 0.8 = 28.65. It pays (28.65 - 4.90 - 1.02 - 1.70) x 60 / 51 = 24.741:
// 24.74 an hour.
func TestPriceByHand(t *testing.T) {
	r := Rates{"USD", d("18"), d("2"), d("0.2")}
	c := CostOf(d("4.8965"), d("1.016"), 51, r)
	asked := AtMargin(c, r)
	pay, ok := PayPerHour(asked, c, 51, r)
	for what, got := range map[string][2]decimal.Decimal{
		"hands": {c.Hands, d("15.30")}, "overhead": {c.Overhead, d("1.70")}, "total": {c.Total(), d("22.92")}, "price": {asked, d("28.65")}, "pay": {pay, d("24.74")},
	} {
		if !got[0].Equal(got[1]) {
			t.Errorf("%s: %s, want %s", what, got[0], got[1])
		}
	}
	if !ok {
		t.Error("hands are worked, so an hour pays something")
	}
	if _, ok := PayPerHour(asked, c, 0, r); ok {
		t.Error("without hands there is no pay per hour")
	}
}

// In every currency: the lines add up to the total on paper, and the price leaves at least the margin, by less than the
// smallest unit too much.
func TestSumsAddUp(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 4))
	for _, currency := range []string{"USD", "JPY", "KWD"} { // ISO 4217: 2, 0 and 3 decimals
		smallest := decimal.New(1, -Decimals(currency))
		for range 200 {
			r := Rates{currency, decimal.NewFromFloat(rnd.Float64() * 40), decimal.NewFromFloat(rnd.Float64() * 5), decimal.New(rnd.Int64N(90), -2)}
			c := CostOf(decimal.NewFromFloat(rnd.Float64()*100), decimal.NewFromFloat(rnd.Float64()*20), rnd.IntN(900), r)
			sum := decimal.Zero
			for _, line := range []decimal.Decimal{c.Ingredients, c.Packaging, c.Hands, c.Overhead} {
				sum = sum.Add(d(In(currency, line).Amount))
			}
			if !sum.Equal(c.Total()) {
				t.Fatalf("%s: lines %s, total %s", currency, sum, c.Total())
			}
			price := AtMargin(c, r)
			wanted := c.Total().Div(decimal.NewFromInt(1).Sub(r.Margin))
			if price.LessThan(wanted.Sub(decimal.New(1, -12))) || price.Sub(wanted).GreaterThan(smallest) {
				t.Fatalf("%s: cost %s at margin %s is %s", currency, c.Total(), r.Margin, price)
			}
		}
	}
}

func TestMoneyIsWrittenAndRead(t *testing.T) {
	for currency, want := range map[string]string{"USD": "214.50", "JPY": "215", "KWD": "214.500"} {
		if got := In(currency, d("214.5")); got.Amount != want || got.Currency != currency {
			t.Errorf("%v, want %s", got, want)
		}
	}
	for _, bad := range []string{"", "abc", "-1", "1e9", "12.345", "12,50"} {
		if got, err := Read(bad, "USD"); err == nil {
			t.Errorf("%q is read as %s", bad, got)
		}
	}
	if got, err := Read("168.5", "USD"); err != nil || !got.Equal(d("168.5")) {
		t.Errorf("%s, %v", got, err)
	}
	if _, err := Read("168.5", "JPY"); err == nil {
		t.Error("half a yen is taken")
	}
}
