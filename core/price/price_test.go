package price

import (
	"errors"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
	"golang.org/x/text/currency"

	"zestytin/core/invalid"
	"zestytin/core/si"
	"zestytin/internal/text/said"
)

func d(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func wish(by Basis, v string) PriceTarget { return PriceTarget{by, d(v)} }

func must(t *testing.T, a Asking, r Rates, terms Terms) Price {
	t.Helper()
	p, err := Of(a, r, terms)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func same(t *testing.T, got map[string][2]string) {
	t.Helper()
	for what, g := range got {
		if !d(g[0]).Equal(d(g[1])) {
			t.Errorf("%s: %s, want %s", what, g[0], g[1])
		}
	}
}

// By hand. 51 minutes at 18.00 an hour are 15.30, at 2.00 overhead 1.70; with ingredients 4.90 and packaging 1.02 the
// cost is 22.92. At a margin of 20% the price is 22.92 / 0.8 = 28.65. It pays (28.65 - 4.90 - 1.02 - 1.70) x 60 / 51 =
// 24.741: 24.74 an hour. The markup is 5.73 / 22.92 = 25 %.
func TestPriceByHand(t *testing.T) {
	r := Rates{"USD", d("18"), d("2"), d("0.2")}
	c := CostOf(d("4.8965"), d("1.016"), 51, 0, r, Usual())
	p := must(t, Asking{Cost: c, Minutes: 51, Wish: wish(ByMargin, "0.2")}, r, Usual())
	same(t, map[string][2]string{
		"hands": {c.Hands.String(), "15.30"}, "overhead": {c.Overhead.String(), "1.70"},
		"total": {p.Total.String(), "22.92"}, "price": {p.Asked.String(), "28.65"},
		"pay": {p.PayPerHour.String(), "24.74"}, "margin": {p.Margin.String(), "0.2"},
		"markup": {p.Markup.String(), "0.25"},
	})
	if p := must(t, Asking{Cost: c, Wish: wish(ByMargin, "0.2")}, r, Usual()); p.PayPerHour != nil {
		t.Error("without hands there is no pay per hour")
	}
}

// By hand, all of it at once: cost 22.92, 12 km at 0.35 are 4.20: 27.12. Tax of 8% on top, a card that takes 2.9% and
// 0.30. Margin 20%: (27.12 + 0.30) / (0.8 - 0.029 x 1.08) = 27.42 / 0.76868 = 35.6715: 35.68. Discount of 10% is
// 3.568: 3.57. Two days of notice cost 15%: 5.352: 5.35. 35.68 - 3.57 + 5.35 = 37.46, to the next .95: 37.95, which is
// 0.49 more. Tax 3.036: gross 40.99, tax 3.04. Deposit of a half 20.495: 20.50. The card 0.029 x 40.99 + 0.30 =
// 1.48871: 1.49. Total 28.61, left 37.95 - 28.61 = 9.34: a margin of 24.6113%, and (9.34 + 15.30) x 60 / 51 = 28.988:
// 28.99 an hour.
func TestAllTermsByHand(t *testing.T) {
	r := Rates{"USD", d("18"), d("2"), d("0.2")}
	terms := Terms{Ending: End95, Minimum: "25", Rush: []Notice{{7, 0.05}, {2, 0.15}}, Tax: 0.08, Deposit: 0.5,
		CardShare: 0.029, CardFixed: "0.30", Drive: "0.35", Reclaim: 1, QuoteDays: 7}
	c := CostOf(d("4.8965"), d("1.016"), 51, 12, r, terms)
	tenth, err := ReadDiscount("10%", "USD")
	if err != nil {
		t.Fatal(err)
	}
	a := Asking{Cost: c, Minutes: 51, Pieces: 12, Wish: wish(ByMargin, "0.2"), Discount: tenth, Notice: 2}
	p := must(t, a, r, terms)
	same(t, map[string][2]string{
		"drive": {c.Drive.String(), "4.20"}, "base": {p.Base.String(), "35.68"},
		"discount": {p.Discount.String(), "3.57"}, "rush": {p.Rush.String(), "5.35"},
		"rounded": {p.Rounded.String(), "0.49"}, "asked": {p.Asked.String(), "37.95"}, "tax": {p.Tax.String(), "3.04"},
		"gross":   {p.Gross.String(), "40.99"},
		"deposit": {p.Deposit.String(), "20.50"}, "card": {p.Card.String(), "1.49"},
		"total": {p.Total.String(), "28.61"}, "left": {p.Left.String(), "9.34"},
		"margin": {p.Margin.String(), "0.246113"}, "pay": {p.PayPerHour.String(), "28.99"},
	})
	if p.Within != 2 {
		t.Errorf("the surcharge of %d days applies, want that of 2", p.Within)
	}
	// Per piece: 37.46 / 12 = 3.1217, to .95: 3.95 a piece, 47.40.
	terms.PerPiece = true
	if p := must(t, a, r, terms); !p.Asked.Equal(d("47.40")) {
		t.Errorf("rounded by the piece: %s, want 47.40", p.Asked)
	}
	// Half the discount needs no surcharge a week ahead; below the minimum the minimum is asked.
	terms.PerPiece, terms.Minimum = false, "60"
	if p := must(t, a, r, terms); !p.Asked.Equal(d("60")) || !p.Least || !p.Rounded.Equal(d("22.54")) {
		t.Errorf("minimum: %+v", p)
	}
	// A price that is given takes the discount and nothing else; one that is agreed stands.
	a.Wish = wish(ByPrice, "50")
	if p := must(t, a, r, terms); !p.Asked.Equal(d("45")) || !p.Rush.IsZero() || p.Least {
		t.Errorf("given: %+v", p)
	}
	agreed := d("41")
	a.Agreed = &agreed
	if p := must(t, a, r, terms); !p.Asked.Equal(agreed) || !p.Discount.IsZero() {
		t.Errorf("agreed: %+v", p)
	}
}

// Tax that is in the price. By hand: cost 22.92, tax 20%, no card: margin 20% of the net price wants a net of 28.65,
// so 34.38 asked, of which 5.73 are tax. The form "gross times rate over 1 plus rate" is that of the VAT fraction, 1/6
// at 20% (common practice).
func TestTaxIncluded(t *testing.T) {
	r := Rates{"EUR", d("18"), d("2"), d("0.2")}
	terms := Usual()
	terms.Tax, terms.TaxIncluded = 0.2, true
	p := must(t, Asking{Cost: CostOf(d("4.8965"), d("1.016"), 51, 0, r, terms), Minutes: 51,
		Wish: wish(ByMargin, "0.2")}, r, terms)
	same(t, map[string][2]string{"asked": {p.Asked.String(), "34.38"}, "net": {p.Net.String(), "28.65"},
		"tax": {p.Tax.String(), "5.73"}, "gross": {p.Gross.String(), "34.38"}})
}

func TestEndings(t *testing.T) {
	for _, c := range []struct {
		ending       Ending
		currency     string
		price, wants string
	}{
		{EndExact, "USD", "12.341", "12.35"}, {EndWhole, "USD", "12.01", "13"}, {EndWhole, "USD", "12", "12"},
		{EndHalf, "USD", "12.01", "12.5"}, {EndHalf, "USD", "12.51", "13"},
		{End95, "USD", "12.95", "12.95"}, {End95, "USD", "12.96", "13.95"}, {End95, "USD", "0.20", "0.95"},
		{End95, "USD", "0", "0"},
		{EndWhole, "JPY", "1201", "1300"}, {EndHalf, "JPY", "1201", "1250"}, {End95, "JPY", "1201", "1295"},
		{EndExact, "JPY", "1200.2", "1201"},
		{End95, "KWD", "4.951", "5.95"}, {EndExact, "KWD", "4.9501", "4.951"},
		// 28.65 reached by a division is 28.65.
		{EndExact, "USD", "28.6500000000000001", "28.65"},
	} {
		terms := Terms{Ending: c.ending}
		if got := terms.Round(d(c.price), c.currency); !got.Equal(d(c.wants)) {
			t.Errorf("%s %s to %s: %s, want %s", c.price, c.currency, c.ending, got, c.wants)
		}
	}
}

// In every currency, with whatever terms: what stands on paper adds up to the smallest unit; what was wanted is
// reached; margin and markup agree (m = k / (1 + k)); asking for what the price came to gives the price again; and it
// never falls when the cost rises.
func TestSumsAddUp(t *testing.T) {
	rnd := rand.New(rand.NewPCG(3, 4))
	for _, currency := range []string{"USD", "JPY", "KWD"} { // ISO 4217: 2, 0 and 3 decimals
		places := Decimals(currency)
		unit := decimal.New(1, -places)
		for range 400 {
			terms := Terms{Ending: []Ending{EndExact, EndWhole, EndHalf, End95}[rnd.IntN(4)],
				PerPiece: rnd.IntN(2) == 0, Minimum: decimal.New(rnd.Int64N(30), 0).String(), Rush: []Notice{{3, 0.1}},
				Tax: float64(rnd.IntN(25)) / 100, TaxIncluded: rnd.IntN(2) == 0, Deposit: 0.3,
				CardShare: float64(rnd.IntN(40)) / 1000, CardFixed: decimal.New(rnd.Int64N(40),
					-min(places, 2)).String(), Drive: "0.35", Reclaim: 1, QuoteDays: 7}
			r := Rates{currency, decimal.NewFromFloat(rnd.Float64() * 40), decimal.NewFromFloat(rnd.Float64() * 5),
				d("0.2")}
			minutes := 1 + rnd.IntN(900)
			c := CostOf(decimal.NewFromFloat(1+rnd.Float64()*100), decimal.NewFromFloat(rnd.Float64()*20),
				si.Minutes(minutes), rnd.Float64()*50, r, terms)
			sum := decimal.Zero
			for _, line := range []decimal.Decimal{c.Ingredients, c.Packaging, c.Hands, c.Overhead, c.Drive} {
				sum = sum.Add(d(In(currency, line).Amount))
			}
			if !sum.Equal(c.Total()) {
				t.Fatalf("%s: lines %s, total %s", currency, sum, c.Total())
			}
			a := Asking{Cost: c, Minutes: si.Minutes(minutes), Pieces: 1 + rnd.IntN(60), Notice: rnd.IntN(8),
				Wish: PriceTarget{[]Basis{ByMargin, ByMarkup, ByHourly}[rnd.IntN(3)], decimal.New(rnd.Int64N(60), -2)}}
			if rnd.IntN(2) == 0 {
				a.Discount = Discount{Share: d("0.1")}
			}
			p := must(t, a, r, terms)
			for what, equal := range map[string][2]decimal.Decimal{
				"asked": {p.Base.Sub(p.Discount).Add(p.Rush).Add(p.Rounded), p.Asked},
				"gross": {p.Net.Add(p.Tax), p.Gross},
				"total": {c.Total().Add(p.Card), p.Total}, "left": {p.Net.Sub(p.Total), p.Left},
			} {
				if !equal[0].Equal(equal[1]) || !equal[1].Equal(equal[1].Round(places)) {
					t.Fatalf("%s: %s is %s, written %s: %+v", currency, what, equal[0], equal[1], p)
				}
			}
			if m, k := p.Margin, p.Markup; m != nil && k != nil {
				if m.Mul(one.Add(*k)).Sub(*k).Abs().GreaterThan(
					d("0.000001").Mul(d("2").Add(k.Abs()).Add(m.Abs()))) { // both have six decimals
					t.Fatalf("margin %s and markup %s do not agree", m, k)
				}
			}
			dearer := a
			dearer.Cost.Ingredients = c.Ingredients.Add(unit.Mul(decimal.New(rnd.Int64N(500), 0)))
			if q := must(t, dearer, r, terms); q.Asked.LessThan(p.Asked) {
				t.Fatalf("%s: cost rose from %s to %s and the price fell from %s to %s", currency, c.Total(),
					dearer.Cost.Total(), p.Asked, q.Asked)
			}
			// Without rounding, rush, discount and minimum each basis is reached, by less than what two units change.
			plain := terms
			plain.Ending, plain.Minimum, plain.PerPiece, plain.Rush = EndExact, "0", false, nil
			a.Discount = Discount{}
			p = must(t, a, r, plain)
			two := unit.Add(unit)
			missed := decimal.Zero
			switch a.Wish.By {
			case ByMargin:
				missed = a.Wish.Value.Mul(p.Net).Sub(p.Left)
			case ByMarkup:
				missed = a.Wish.Value.Mul(p.Total).Sub(p.Left)
			case ByHourly:
				missed = a.Wish.Value.Mul(decimal.New(int64(minutes), 0)).Div(sixty).Sub(p.Left.Add(c.Hands))
			}
			if missed.Abs().GreaterThan(two) {
				t.Fatalf("%s: wanted %v, missed by %s: %+v", currency, a.Wish, missed, p)
			}
			// Any one fixes the others: the margin that it came to asks the same price, to the precision of the margin.
			again := a
			again.Wish = PriceTarget{ByMargin, *p.Margin}
			if q := must(t, again, r, plain); q.Asked.Sub(p.Asked).Abs().GreaterThan(
				two.Add(p.Asked.Mul(d("0.00001")))) {
				t.Fatalf("%s: %s by %s, %s by the margin of %s", currency, p.Asked, a.Wish.By, q.Asked, p.Margin)
			}
		}
	}
}

func TestNoPriceIsHighEnough(t *testing.T) {
	terms := Usual()
	terms.CardShare = 0.3
	_, err := Of(Asking{Cost: Cost{Hands: d("10")}, Wish: wish(ByMargin, "0.75")}, Rates{Currency: "USD"}, terms)
	if err == nil || !strings.Contains(said.Error(err), "Lower the target") {
		t.Errorf("%v", err)
	}
}

// A total split over lines adds up, and no part is more than a unit from its share.
func TestSplit(t *testing.T) {
	// By hand: 10.00 in thirds is 3.34, 3.33 and 3.33; 100 yen by 1 to 2 is 33 and 67.
	for _, c := range []struct {
		currency, total string
		weights         []float64
		wants           []string
	}{{"USD", "10", []float64{1, 1, 1}, []string{"3.34", "3.33", "3.33"}},
		{"JPY", "100", []float64{1, 2}, []string{"33", "67"}}, {"USD", "-1", []float64{1, 1}, []string{"-0.5", "-0.5"}},
		{"USD", "1", []float64{0, 0}, []string{"0.5", "0.5"}}, {"USD", "1", nil, nil}} {
		for i, got := range Split(d(c.total), c.weights, c.currency) {
			if !got.Equal(d(c.wants[i])) {
				t.Errorf("%s of %s: %s, want %s", c.total, c.currency, got, c.wants[i])
			}
		}
	}
	rnd := rand.New(rand.NewPCG(1, 2))
	for range 500 {
		currency := []string{"USD", "JPY", "KWD"}[rnd.IntN(3)]
		total := decimal.New(rnd.Int64N(2_000_000)-1_000_000, -Decimals(currency))
		weights := make([]float64, 1+rnd.IntN(15))
		all := 0.0
		for i := range weights {
			weights[i] = rnd.Float64() * 1000
			all += weights[i]
		}
		sum := decimal.Zero
		for i, part := range Split(total, weights, currency) {
			sum = sum.Add(part)
			if off := part.Sub(total.Mul(decimal.NewFromFloat(weights[i] / all))).Abs(); off.GreaterThan(decimal.New(1,
				-Decimals(currency)).Mul(d("1.001"))) {
				t.Fatalf("part %d of %s is off by %s", i, total, off)
			}
		}
		if !sum.Equal(total) {
			t.Fatalf("parts come to %s, want %s", sum, total)
		}
	}
}

func TestTermsThatCannotBe(t *testing.T) {
	usual := Usual()
	if err := usual.Check("USD"); err != nil {
		t.Errorf("the usual terms: %v", err)
	}
	bad := Terms{Ending: "99", Minimum: "-1", CardFixed: "x", Drive: "y", Tax: 2, Deposit: -1, CardShare: 0.9,
		Reclaim: 1.5, Rush: []Notice{{3, 0.1}, {3, 9}, {-1, 0}},
		Cancel: []Notice{{3, 1.1}}}
	err := bad.Check("USD")
	var faults *invalid.Error
	if !errors.As(err, &faults) {
		t.Fatal(err)
	}
	found := map[string]bool{}
	for _, f := range faults.Fields {
		found[f.Path] = true
	}
	for _, path := range []string{"ending", "minimum", "cardFixed", "drive", "tax", "deposit", "cardShare", "reclaim",
		"rush[1].days", "rush[1].share", "rush[2].days", "cancel[0].share", "quoteDays"} {
		if !found[path] {
			t.Errorf("%s is taken", path)
		}
	}
}

// By hand: of an order that is cancelled with a week or less half is kept, with two days or less all of it.
func TestWhatIsKeptOfACancelledOrder(t *testing.T) {
	terms := Terms{Cancel: []Notice{{7, 0.5}, {2, 1}}}
	for notice, want := range map[int][2]float64{30: {0, -1}, 8: {0, -1}, 7: {0.5, 7}, 3: {0.5, 7}, 2: {1, 2}, 0: {1, 2},
		-1: {1, 2}} {
		if share, within := terms.Kept(notice); share != want[0] || within != int(want[1]) {
			t.Errorf("%d days ahead %v is kept, within %d", notice, share, within)
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
	for _, bad := range []string{"101%", "-5%", "ten", "x %", "1.234"} {
		if got, err := ReadDiscount(bad, "USD"); err == nil {
			t.Errorf("the discount %q is read as %v", bad, got)
		}
	}
	if got, err := ReadDiscount(" 12.5% ", "USD"); err != nil || !got.Share.Equal(d("0.125")) {
		t.Errorf("%v, %v", got, err)
	}
}

// ISO 4217, list one (memory): the active currencies of countries with their minor units. That each is a code is
// checked against golang.org/x/text, which has them from CLDR.
func TestMinorUnits(t *testing.T) {
	const two = `AED AFN ALL AMD AOA ARS AUD AWG AZN BAM BBD BDT BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF CHF CNY COP CRC CUP CVE CZK DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL
		GHS GIP GMD GTQ GYD HKD HNL HTG HUF IDR ILS INR IRR JMD KES KGS KHR KPW KYD KZT LAK LBP LKR LRD LSL MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD
		PAB PEN PGK PHP PKR PLN QAR RON RSD RUB SAR SBD SCR SDG SEK SGD SHP SOS SRD SSP STN SYP SZL THB TJS TMT TOP TRY TTD TWD TZS UAH USD UZS VES WST XCD YER ZAR ZMW`
	for digits, codes := range map[int32]string{0: "BIF CLP DJF GNF ISK JPY KMF KRW PYG RWF UGX UYI VND VUV XAF XOF XPF", 2: two, 3: "BHD IQD JOD KWD LYD OMR TND", 4: "CLF UYW"} {
		for _, code := range strings.Fields(codes) {
			if _, err := currency.ParseISO(code); err != nil && code != "UYW" && code != "MRU" &&
				code != "VES" { // of 2018: newer than the library's list
				t.Errorf("%s is no currency: %v", code, err)
			}
			if Decimals(code) != digits {
				t.Errorf("%s has %d digits, by ISO 4217 %d", code, Decimals(code), digits)
			}
		}
	}
}
