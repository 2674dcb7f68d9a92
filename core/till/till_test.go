package till

import (
	"errors"
	"math/rand/v2"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/si"
)

func dec(s string) decimal.Decimal { return decimal.RequireFromString(s) }

// By hand: 90 agreed, half in advance is 45; 45 paid leaves 45; 50 more is too much; 20 given back of it leaves 65.
// Cancelled, what was paid is to be given back.
func TestWhatACustomerOwes(t *testing.T) {
	a := Account{Currency: "USD", Agreed: new(dec("90"))}
	if d := a.Deposit(0.5); d == nil || !d.Equal(dec("45")) {
		t.Errorf("half of 90 in advance is %v", d)
	}
	a.Paid = dec("45")
	if a.Deposit(0.5) != nil {
		t.Error("a deposit is asked again")
	}
	if !a.Owed().Equal(dec("45")) {
		t.Errorf("owed: %v", a.Owed())
	}
	for _, c := range []struct {
		kind   Kind
		amount string
		code   string // of the refusal
	}{
		{Balance, "45", ""}, {Balance, "45.00", ""}, {Balance, "50", "till.that-more-than-that-owed"},
		{Balance, "0", "till.nothing-nothing-to-note-write"},
		{Refund, "45", ""}, {Refund, "45.01", "till.only-was-paid-no-more"},
		{Deposit, "45.01", "till.that-more-than-that-owed"},
	} {
		_, err := a.Take(c.kind, c.amount)
		var why reason.Reason
		if errors.As(err, &why) != (c.code != "") || why.Code != c.code {
			t.Errorf("%s of %s: %v, want %q", c.kind, c.amount, err, c.code)
		}
	}
	a.Paid = a.Paid.Sub(dec("20"))
	if !a.Owed().Equal(dec("65")) {
		t.Errorf("after a refund of 20, %v is owed", a.Owed())
	}
	a.Cancelled = true
	if !a.Owed().Equal(dec("-25")) {
		t.Errorf("cancelled, %v is owed", a.Owed())
	}
	// By the terms half of 90 may be kept: of 25 paid all is, of 60 paid 15 go back, and nothing more is asked for.
	for paid, owed := range map[string]string{"25": "0", "60": "-15", "0": "0"} {
		a := Account{Currency: "USD", Agreed: new(dec("90")), Cancelled: true, Paid: dec(paid)}
		if a.Keep(0.5); !a.Owed().Equal(dec(owed)) {
			t.Errorf("cancelled with %s paid, %v is owed, want %s", paid, a.Owed(), owed)
		}
	}
	if _, err := (Account{Currency: "USD"}).Take(Balance, "5"); !errors.Is(err, ErrNoPrice) {
		t.Errorf("paid before there is a price: %v", err)
	}
	// The deposit first, then the rest; after that what was paid too much.
	for _, c := range []struct {
		paid   string
		stands Standing
		first  Proposal
	}{{"0", Due, Proposal{Deposit, dec("45")}}, {"45", Due, Proposal{Balance, dec("45")}},
		{"90", Paid, Proposal{Balance, dec("0")}}, {"100", Excess, Proposal{Refund, dec("10")}}} {
		a := Account{Currency: "USD", Agreed: new(dec("90")), Paid: dec(c.paid)}
		stands, _ := a.Stands()
		if first := a.Proposals(0.5)[0]; stands != c.stands || first.Kind != c.first.Kind ||
			!first.Amount.Equal(c.first.Amount) {
			t.Errorf("with %s paid it is %s and %v", c.paid, stands, first)
		}
	}
	if stands, _ := (Account{}).Stands(); stands != Open {
		t.Errorf("of nothing: %s", stands)
	}
	// A third of 100 yen: there are no parts of a yen (ISO 4217).
	if d := (Account{Currency: "JPY", Agreed: new(dec("100"))}).Deposit(1.0 / 3); !d.Equal(dec("33")) {
		t.Errorf("a third of 100 yen is %v", d)
	}
}

// By hand: two orders sold for 150 cost 90, 40 of it for 2 h of work: 60 are left, and an hour brought (60 + 40) / 2 =
// 50. The second was promised when its materials were not kept by their parts.
func TestProfit(t *testing.T) {
	var of Tally
	of.Add(dec("100"), price.Spent{Cost: price.Cost{Ingredients: dec("21.50"), Packaging: dec("4.50"),
		Hands: dec("25"), Overhead: dec("2.50"), Drive: dec("3.30")}, Card: dec("3.20")}, 75, nil)
	of.Add(dec("50"), price.Spent{Cost: price.Cost{Hands: dec("15")}, Other: dec("15")}, 45, new(dec("11.5")))
	if s := of.Spent; !s.Total().Equal(dec("90")) || !s.Hands.Equal(dec("40")) || !s.Ingredients.Equal(dec("21.5")) ||
		!s.Other.Equal(dec("15")) || !s.Materials().Equal(dec("50")) {
		t.Errorf("what went where: %+v", s)
	}
	of.AddLine(Line{Pieces: 24, Begun: 27, HandsOn: 75, Loss: 0.1, First: true, Good: new(26),
		Recorded: new(si.Minutes(90))})
	of.AddLine(Line{Pieces: 6, Begun: 2, HandsOn: 45, Loss: 0.05, Bagged: true,
		Good: new(6)}) // two sheets for six bags
	if !of.Profit().Equal(dec("60")) || !of.PayPerHour().Equal(dec("50")) || of.Orders != 2 || of.Pieces != 30 ||
		!of.Used.Equal(dec("11.5")) {
		t.Errorf("profit %v, an hour %v: %+v", of.Profit(), of.PayPerHour(), of)
	}
	// 150 for 30 pieces, which cost 90.
	if sales, cost := of.Each(); !sales.Equal(dec("5")) || !cost.Equal(dec("3")) {
		t.Errorf("a piece brought %v and cost %v", sales, cost)
	}
	// 2.7 of 27 and 0.3 of 6: 3 of 33. Recorded: one of 27.
	if loss := *of.Loss(); loss < 3.0/33-1e-12 || loss > 3.0/33+1e-12 {
		t.Errorf("expected loss %v", loss)
	}
	if loss := *of.Made.Loss(); loss < 1.0/27-1e-12 || loss > 1.0/27+1e-12 || of.Made.Batches != 1 ||
		of.Made.Minutes != 90 || of.Made.Expected != 75 {
		t.Errorf("recorded %+v", of.Made)
	}
	if sales, _ := (&Tally{}).Each(); sales != nil {
		t.Errorf("no piece brought %v", sales)
	}
	if none := (&Tally{}); none.PayPerHour() != nil || none.Loss() != nil || none.Made.Loss() != nil {
		t.Error("of nothing something is told")
	}
}

// What all orders of a batch get adds up to the whole, and nobody gets more than one unit more or less than the exact
// share.
func TestApportion(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 2000 {
		counts, all := make([]int, 1+r.IntN(5)), 0
		for i := range counts {
			counts[i] = 1 + r.IntN(60)
			all += counts[i]
		}
		n, before, sum := r.IntN(400), 0, 0
		for _, mine := range counts {
			part := Apportion(n, before, mine, all)
			if exact := float64(n) * float64(mine) / float64(all); float64(part) < exact-1 || float64(part) > exact+1 {
				t.Fatalf("%d of %d get %d of %d", mine, all, part, n)
			}
			before, sum = before+mine, sum+part
		}
		if sum != n {
			t.Fatalf("%d became %d", n, sum)
		}
	}
}

// By hand: an order of 90 over three lines is 30 each, unless a line has its own part.
func TestSplit(t *testing.T) {
	if sales, cost := Split(dec("90"), dec("45"), 3, nil, nil); !sales.Equal(dec("30")) || !cost.Equal(dec("15")) {
		t.Errorf("a third is %v and %v", sales, cost)
	}
	if sales, cost := Split(dec("90"), dec("45"), 3, new(dec("50")), new(dec("20"))); !sales.Equal(dec("50")) ||
		!cost.Equal(dec("20")) {
		t.Errorf("its own part is %v and %v", sales, cost)
	}
	if pay := Pay(dec("24"), 50); !pay.Equal(dec("20")) { // 24 * 50 / 60
		t.Errorf("50 minutes at 24 an hour are %v", pay)
	}
}

// Whatever is sold: the parts add up to the cost, profit and cost to the sales, and pieces to the sales too.
func TestTalliesAddUp(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 24))
	cents := func(n int) decimal.Decimal { return decimal.New(int64(r.IntN(n)), -2) }
	for range 300 {
		var all Tally
		sales, spent, minutes, pieces := decimal.Zero, decimal.Zero, si.Minutes(0), 0
		for range 1 + r.IntN(12) {
			s := price.Spent{Cost: price.Cost{Ingredients: cents(9000), Packaging: cents(900), Hands: cents(5000),
				Overhead: cents(700), Drive: cents(300)}, Card: cents(400), Other: cents(2)}
			sold, took, n := cents(30000), si.Minutes(r.IntN(300)), 1+r.IntN(60)
			all.Add(sold, s, took, nil)
			all.AddLine(Line{Pieces: n, Begun: n + r.IntN(9), HandsOn: took, Loss: r.Float64() / 5})
			sales, minutes, pieces = sales.Add(sold), minutes+took, pieces+n
			for _, part := range []decimal.Decimal{s.Ingredients, s.Packaging, s.Hands, s.Overhead, s.Drive, s.Card,
				s.Other} {
				spent = spent.Add(part)
			}
		}
		if !all.Spent.Total().Equal(spent) || !all.Spent.Materials().Add(all.Spent.Hands).Equal(spent) {
			t.Fatalf("spent %v, the parts are %v", all.Spent.Total(), spent)
		}
		if !all.Profit().Add(spent).Equal(sales) || all.Minutes != minutes || all.Pieces != pieces {
			t.Fatalf("%+v does not add up to %v", all, sales)
		}
		each, cost := all.Each()
		n := decimal.NewFromInt(int64(pieces))
		if each.Mul(n).Sub(sales).Abs().GreaterThan(dec("0.0001")) ||
			cost.Mul(n).Sub(spent).Abs().GreaterThan(dec("0.0001")) {
			t.Fatalf("%d pieces at %v and %v", pieces, each, cost)
		}
		if pay := all.PayPerHour(); (pay == nil) != (minutes == 0) {
			t.Fatalf("pay %v for %d minutes", pay, minutes)
		}
		if loss := all.Loss(); *loss < 0 || *loss > 0.2 {
			t.Fatalf("loss %v", *loss)
		}
	}
}
