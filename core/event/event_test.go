package event

import (
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
)

func money(text string) decimal.Decimal { return decimal.RequireFromString(text) }

func wedding() *Event {
	return &Event{Name: "Wedding at the barn", Host: "Wren family", Begins: time.Date(2026, 10, 3, 20, 0, 0, 0, time.UTC),
		Setup: 40, CountBy: "2026-09-26", Tables: []Table{{"Lake", 8}, {"Hill", 8}, {"Children", 5}},
		Plan: []Part{{0.3, "2026-09-10"}, {0.3, "2026-09-20"}}, RestBy: "2026-09-28"}
}

var zone = time.FixedZone("", -4*3600)

// By hand: of 199.99, 30 % are 60.00 (59.997 rounded) twice, and the rest is 79.99, so that all are the price. 100 paid
// cover the first and 40 of the second.
func TestPaymentsAreThePrice(t *testing.T) {
	e := wedding()
	list := e.Payments(money("199.99"), money("100"), "USD", zone)
	for i, want := range [][3]string{{"2026-09-10", "60", "0"}, {"2026-09-20", "60", "20"}, {"2026-09-28", "79.99", "79.99"}} {
		if p := list[i]; p.By != want[0] || p.Amount.String() != want[1] || p.Open.String() != want[2] || p.Rest != (i == 2) {
			t.Errorf("%d: %+v, want %v", i, p, want)
		}
	}
	// Without a plan all is due on the day; paid too much, nothing is open; nothing ordered, nothing is due. Yen have no
	// decimals: a third of 1000 is 333.
	e.Plan, e.RestBy = nil, ""
	if list = e.Payments(money("50"), money("60"), "USD", zone); len(list) != 1 || list[0].By != "2026-10-03" ||
		!list[0].Open.IsZero() {
		t.Errorf("%+v", list)
	}
	e.Plan = []Part{{1.0 / 3, "2026-09-10"}, {2.0 / 3, "2026-09-20"}}
	list = e.Payments(money("1000"), decimal.Zero, "JPY", zone)
	if list[0].Amount.String() != "333" || list[1].Amount.String() != "667" || !list[2].Amount.IsZero() {
		t.Errorf("%+v", list)
	}
}

// For every price and plan the parts are the price, none is below zero, and what is open is what is not paid.
func TestPaymentsAddUp(t *testing.T) {
	e := wedding()
	for cents := int64(0); cents < 5000; cents += 37 {
		total := decimal.New(cents, -2)
		for _, shares := range [][]float64{{}, {0.5}, {0.333, 0.333, 0.334}, {0.1, 0.9}, {0.005, 0.005}} {
			e.Plan = nil
			for _, s := range shares {
				e.Plan = append(e.Plan, Part{s, "2026-09-10"})
			}
			for _, paid := range []decimal.Decimal{decimal.Zero, decimal.New(cents/3, -2), total, total.Add(money("5"))} {
				sum, open := decimal.Zero, decimal.Zero
				for _, p := range e.Payments(total, paid, "USD", zone) {
					if p.Amount.IsNegative() || p.Open.IsNegative() || p.Open.GreaterThan(p.Amount) {
						t.Fatalf("%s of %v: %+v", total, shares, p)
					}
					sum, open = sum.Add(p.Amount), open.Add(p.Open)
				}
				if !sum.Equal(total) || !open.Equal(decimal.Max(total.Sub(paid), decimal.Zero)) {
					t.Fatalf("%s of %v, %s paid: %s, open %s", total, shares, paid, sum, open)
				}
			}
		}
	}
}

// By hand: 24 truffles and 12 bombs for 120, of which the truffles are worth 48 and the bombs 32 (60 and 40 %): a
// truffle is 3.00 and a bomb 4.00. For 30 truffles and 15 bombs that is 150; without bombs 72.
func TestThePriceFollowsTheCount(t *testing.T) {
	for _, c := range []struct {
		truffles, bombs int
		price           string
	}{{24, 12, "120"}, {30, 15, "150"}, {24, 0, "72"}, {25, 12, "123"}, {0, 0, "0"}} {
		lines := []Line{{money("48"), 24, c.truffles}, {money("32"), 12, c.bombs}}
		if got := Follows(money("120"), lines, "USD"); got.String() != c.price {
			t.Errorf("%d and %d: %s, want %s", c.truffles, c.bombs, got, c.price)
		}
	}
	// A third of a cent is rounded; what is worth nothing changes nothing.
	if got := Follows(money("10"), []Line{{money("1"), 3, 4}}, "USD"); got.String() != "13.33" {
		t.Error(got)
	}
	if got := Follows(money("10"), []Line{{decimal.Zero, 3, 4}}, "USD"); got.String() != "10" {
		t.Error(got)
	}
}

func TestGuestsAndPieces(t *testing.T) {
	if e := wedding(); e.Guests() != 21 {
		t.Error(e.Guests())
	}
	for _, c := range []struct {
		guests int
		each   float64
		pieces int
	}{{21, 1, 21}, {21, 0.5, 11}, {20, 0.1, 2}, {0, 3, 0}, {30, 0.7, 21}, {7, 1.0 / 7, 1}} {
		if got := Pieces(c.guests, c.each); got != c.pieces {
			t.Errorf("%v each of %d: %d, want %d", c.each, c.guests, got, c.pieces)
		}
	}
}

func TestDeadlines(t *testing.T) {
	e := wedding()
	list := e.Deadlines(e.Payments(money("200"), money("60"), "USD", zone), "2026-09-22", zone)
	var got []string
	for _, d := range list {
		word := string(d.Kind) + " " + d.By
		if d.Done {
			word += " done"
		}
		if d.Days < 0 {
			word += " past"
		}
		got = append(got, word)
	}
	want := "part 2026-09-10 done past, part 2026-09-20 past, count 2026-09-26, rest 2026-09-28, the day 2026-10-03"
	if strings.Join(got, ", ") != want || list[4].Days != 11 {
		t.Errorf("%v", got)
	}
	for today, final := range map[string]bool{"2026-09-26": false, "2026-09-27": true} {
		if e.CountIsFinal(today, zone) != final {
			t.Errorf("on %s: %v", today, !final)
		}
	}
	e.CountBy = ""
	if e.CountIsFinal("2026-10-03", zone) || !e.CountIsFinal("2026-10-04", zone) {
		t.Error("without a date the count is final after the day")
	}
}

func TestWhatIsNoEvent(t *testing.T) {
	if err := wedding().Check(zone); err != nil {
		t.Error(err)
	}
	for want, do := range map[string]func(*Event){
		"name: event.name-it":                func(e *Event) { e.Name = " " },
		"begins: event.when":                 func(e *Event) { e.Begins, e.CountBy, e.RestBy, e.Plan = time.Time{}, "", "", nil },
		"setup: event.minutes":               func(e *Event) { e.Setup = 1441 },
		"countBy: event.before-its-day":      func(e *Event) { e.CountBy = "2026-10-04" },
		"countBy: event.not-a-date":          func(e *Event) { e.CountBy = "soon" },
		"tables: event.so-many-tables":       func(e *Event) { e.Tables = nil },
		"tables[1].guests: event.so-many":    func(e *Event) { e.Tables[1].Guests = -1 },
		"tables: event.so-many-guests":       func(e *Event) { e.Tables[0].Guests, e.Tables[1].Guests = 6000, 6000 },
		"plan[0].share: event.share":         func(e *Event) { e.Plan[0].Share = 0 },
		"plan: event.more-than-all":          func(e *Event) { e.Plan[0].Share = 0.8 },
		"plan[1].by: event.one-after":        func(e *Event) { e.Plan[1].By = "2026-09-01" },
		"plan[0].by: event.not-a-date":       func(e *Event) { e.Plan[0].By = "" },
		"restBy: event.one-after":            func(e *Event) { e.RestBy = "2026-09-15" },
		"brings[0].what: event.say-what":     func(e *Event) { e.Brings = []Bring{{"", "Maren", false}} },
		"follow[0].each: event.so-many-each": func(e *Event) { e.Follow = []Follow{{"a", "b", 0}} },
		"tables[0].name: event.too-long(60)": func(e *Event) { e.Tables[0].Name = strings.Repeat("ü", 61) },
		"place: event.too-long(300)":         func(e *Event) { e.Place = strings.Repeat("x", 301) },
		"plan: event.so-many-parts(12)":      func(e *Event) { e.Plan = make([]Part, 13) },
		"brings: event.so-many-things(200)":  func(e *Event) { e.Brings = make([]Bring, 201) },
		"plan[0].by: event.before-its-day":   func(e *Event) { e.Plan, e.RestBy = []Part{{0.3, "2026-12-01"}}, "" },
	} {
		e := wedding()
		do(e)
		if err := e.Check(zone); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%v, want %s", err, want)
		}
	}
}
