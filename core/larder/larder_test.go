package larder

import (
	_ "embed"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/internal/text/said"

	"github.com/shopspring/decimal"
)

func d(s string) decimal.Decimal { return decimal.RequireFromString(s) }

func close(a, b float64) bool { return math.Abs(a-b) < 1e-6 }

// By hand: 300 g at 0.0145 that expire first, then the opened 200 g at 0.0150, then 1000 g at 0.0160 that keep. 650 g
// cost 4.35 + 3.00 + 150 x 0.016 = 2.40: 9.75; 1600 g take all 1500, and 100 at the latest price of 0.02 are 2.00 more.
func TestFirstExpiredFirst(t *testing.T) {
	lots := []StockLot{
		{ID: "keeps", Left: 1000, Price: d("0.016"), Bought: "2026-08-01"},
		{ID: "open", Left: 200, Price: d("0.015"), Bought: "2026-07-01", BestBefore: "2027-01-01",
			OpenUntil: "2026-10-01", Opened: true},
		{ID: "soon", Left: 300, Price: d("0.0145"), Bought: "2026-09-01", BestBefore: "2026-09-20"},
	}
	SortFEFO(lots)
	s := Stock{Lots: lots, Latest: d("0.02")}
	if cost, from := s.CostOf(650); !cost.Equal(d("9.75")) || from != 650 {
		t.Errorf("650 cost %s of %v", cost, from)
	}
	if cost, from := s.CostOf(1600); !cost.Equal(d("25.35")) || from != 1500 {
		t.Errorf("1600 cost %s of %v", cost, from)
	}
	taken, missing := Take(lots, 650)
	got := ""
	for _, p := range taken {
		got += fmt.Sprintf("%s %.0f for %s; ", p.Lot, p.Amount, p.Cost)
	}
	if want := "soon 300 for 4.35; open 200 for 3; keeps 150 for 2.4; "; got != want || missing != 0 {
		t.Errorf("%s, %v missing", got, missing)
	}
	if _, missing := Take(lots, 900); !close(missing, 50) {
		t.Errorf("%v missing, want 50", missing)
	}
	for _, c := range []struct {
		lot  StockLot
		want string
	}{{StockLot{BestBefore: "2026-09-20"}, "2026-09-20"}, {StockLot{BestBefore: "2026-09-20", OpenUntil: "2026-09-09"},
		"2026-09-09"}, {StockLot{OpenUntil: "2026-09-09"}, "2026-09-09"}, {StockLot{}, ""}} {
		if got := c.lot.Until(); got != c.want {
			t.Errorf("%+v is good until %q", c.lot, got)
		}
	}
}

// By hand. In the house 1000 g, of which 400 are good until the 10th, and 800 g that are left of bowls and do not count
// here. On the 9th two bowls take 300 and 200: 500 are there. The 400 go first, then 100 of the 600 that keep: 500 are
// left. On the 11th 600 are wanted, 100 short. They are bought; nothing stays. On the 12th 200 are short.
func TestShortagesByHand(t *testing.T) {
	lots := []StockLot{{ID: "a", Left: 600}, {ID: "b", Left: 400, BestBefore: "2026-09-10"},
		{ID: "bowl", Left: 800, Rest: &ledger.Rest{}}}
	wants := []Want{
		{Day: "2026-09-12", Used: 200, For: "Choir"}, {Day: "2026-09-09", Used: 300, For: "Library"},
		{Day: "2026-09-09", Used: 200, For: "Wren"},
		{Day: "2026-09-11", Used: 600, For: "Regatta"},
	}
	got := fmt.Sprintf("%v", Shortages(lots, wants, nil, ""))
	if want := "[{2026-09-11 100 [Regatta]} {2026-09-12 200 [Choir]}]"; got != want {
		t.Errorf("%s, want %s", got, want)
	}
	if got := fmt.Sprintf("%v", Shortages(lots, wants, nil, "2026-09-11")); got != "[{2026-09-11 100 [Regatta]}]" {
		t.Errorf("until the 11th: %s", got)
	}
	if lots[0].Left != 600 || wants[0].For != "Choir" {
		t.Error("what was given was changed")
	}
	// Had the 400 expired before the 9th, 500 of the 600 would be gone then and 100 stay; on the 11th 500 are short, on
	// the 12th again 200.
	lots[1].BestBefore = "2026-09-08"
	if got := fmt.Sprintf("%v", Shortages(lots, wants, nil,
		"")); got != "[{2026-09-11 500 [Regatta]} {2026-09-12 200 [Choir]}]" {
		t.Error(got)
	}
}

// By hand: 1.3 kg of dark are short, in bags of 500 g for 8.00, 1 kg for 14.50, 2.5 kg for 30.00. 500 + 1000 cost 22.50
// and leave 200 g, which is 200 / 1500 x 22.50 = 3.00. Berries of a day are bought the day before; it is Thursday the
// 3rd, and one shops on Tuesdays and Saturdays.
func TestListByHand(t *testing.T) {
	one := 1
	things := map[ident.Item]Thing{
		"dark": {ID: "dark", Offers: []Offer{{"500", "Market", 500, d("8.00")}, {"1000", "Market", 1000, d("14.50")},
			{"2500", "Wholesale", 2500, d("30.00")}}},
		"berry": {ID: "berry", Fresh: &one, Offers: []Offer{{"punnet", "Farm", 453.59237, d("4.80")}}},
		"salt":  {ID: "salt", Latest: d("0.02")},
	}
	wants := []Want{
		{Item: "dark", Day: "2026-09-07", Used: 1300, For: "Wren"}, {Item: "berry", Day: "2026-09-06", Used: 400, For: "Wren"},
		{Item: "berry", Day: "2026-09-09", Used: 900, For: "Choir"},
		{Item: "salt", Day: "2026-09-04", Used: 10, For: "Wren"}, {Item: "dark", Day: "2026-10-01", Used: 5000, For: "Later"},
		{Item: "gone", Day: "2026-09-04", Used: 1, For: ""},
	}
	span := Span{Today: "2026-09-03", From: "2026-09-03", To: "2026-09-12",
		Days: []time.Weekday{time.Tuesday, time.Saturday}}
	got := ""
	for _, b := range List(things, nil, wants, span) {
		got += fmt.Sprintf("%s %.0f:", b.Item, b.Need)
		for _, p := range b.Packs {
			got += fmt.Sprintf(" %dx%s", p.Count, p.ID)
		}
		got += fmt.Sprintf(" cost %s left %.0f worth %s on %s (%s to %s)", b.Cost, b.Left, b.LeftWorth.Round(2),
			b.On[8:], b.NotBefore[8:], b.By[8:])
		if b.OffDay {
			got += " off day"
		}
		got += "\n"
	}
	want := "salt 10: cost 0.2 left 0 worth 0 on 03 (03 to 03) off day\n" +
		"berry 400: 1xpunnet cost 4.8 left 54 worth 0.57 on 05 (05 to 05)\n" +
		"dark 1300: 1x1000 1x500 cost 22.5 left 200 worth 3 on 05 (03 to 06)\n" +
		"berry 900: 2xpunnet cost 9.6 left 7 worth 0.08 on 08 (08 to 08)\n"
	if got != want {
		t.Errorf("got\n%swant\n%s", got, want)
	}
	// On the day itself it is late; without shopping days what keeps is bought at once.
	span.Today, span.Days = "2026-09-07", nil
	list := List(things, nil, wants, span)
	if b := list[0]; b.Item != "berry" || !b.Late && b.Needed == "2026-09-06" || list[1].On != "2026-09-07" ||
		!list[1].Late {
		t.Errorf("%+v", list)
	}
}

// What stays fresh three days is bought once for two days that lie within, and again for the next.
func TestFreshForSomeDays(t *testing.T) {
	three := 3
	things := map[ident.Item]Thing{"cream": {ID: "cream", Fresh: &three, Offers: []Offer{{"pint", "", 470, d("3")}}}}
	wants := []Want{{Item: "cream", Day: "2026-09-10", Used: 300}, {Item: "cream", Day: "2026-09-12", Used: 300, For: ""},
		{Item: "cream", Day: "2026-09-14", Used: 300, For: ""}}
	list := List(things, nil, wants, Span{Today: "2026-09-03", From: "2026-09-03", To: "2026-09-20"})
	if len(list) != 2 || list[0].Need != 600 || list[0].On != "2026-09-09" || list[0].NotBefore != "2026-09-07" ||
		list[1].Need != 300 {
		t.Errorf("%+v", list)
	}
}

// Properties of a list: with what it says bought, nothing is short; without need nothing is bought.
func TestAListIsEnough(t *testing.T) {
	rnd := rand.New(rand.NewPCG(5, 6))
	for round := range 300 {
		things := map[ident.Item]Thing{"x": {ID: "x", Offers: offers(rnd)}}
		var lots []StockLot
		for i := range rnd.IntN(5) {
			l := StockLot{ID: ident.Lot(fmt.Sprint(i)), Item: "x", Left: rnd.Float64() * 500}
			if rnd.IntN(2) == 0 {
				l.BestBefore = Days("2026-09-03", rnd.IntN(20))
			}
			lots = append(lots, l)
		}
		var wants []Want
		for range rnd.IntN(12) {
			wants = append(wants, Want{Item: "x", Day: Days("2026-09-04", rnd.IntN(14)), Used: rnd.Float64() * 400, For: "o"})
		}
		for _, b := range List(things, lots, wants, Span{Today: "2026-09-03", From: "2026-09-03", To: "2026-12-31"}) {
			size := 0.0
			for _, p := range b.Packs {
				size += p.Size * float64(p.Count)
			}
			if size < b.Need-1e-3 {
				t.Fatalf("round %d: %v bought, %v needed", round, size, b.Need)
			}
			lots = append(lots, StockLot{ID: "bought", Item: "x", Left: size})
		}
		if short := Shortages(lots, wants, nil, ""); len(short) > 0 {
			t.Fatalf("round %d: still short: %v", round, short)
		}
	}
}

//go:embed testdata/slips.tsv
var slips string

// Sixty hand-written lines of till slips, each read as a person would, or marked.
func TestCorpusOfSlips(t *testing.T) {
	lines := 0
	for _, row := range strings.Split(strings.TrimRight(slips, "\n"), "\n") {
		text, want, _ := strings.Cut(row, "\t")
		if strings.HasPrefix(row, "#") {
			continue
		}
		lines++
		s := ReadSlip(text, "USD")
		if s.Doubt != nil {
			if want != "?" {
				t.Errorf("%q is marked: %s, want %s", text, said.Of(*s.Doubt), want)
			}
			continue
		}
		size := ""
		if s.Size != nil {
			size = fmt.Sprintf("%v %s", s.Size.Amount, s.Size.Unit)
		}
		if got := fmt.Sprintf("%s|%d|%s|%s", s.Name, s.Packs, size, s.Paid); got != want {
			t.Errorf("%q: %s, want %s", text, got, want)
		}
	}
	if lines < 60 {
		t.Errorf("only %d lines", lines)
	}
}

func TestSlip(t *testing.T) {
	for text, want := range map[string]string{
		"2 x 1 kg Dark 60 % 29.00":            "Dark 60 %|2|1 kg|29.00|",
		"strawberries 1 lb 4.80":              "strawberries|1|1 lb|4.80|",
		"Dark 60 % 1kg $14.50":                "Dark 60 %|1|1 kg|14.50|",
		"Mini marshmallows 10 oz @ 2.60 2.60": "Mini marshmallows|1|10 oz|2.60|",
		"3 mini marshmallows 10 oz 7,80 A":    "mini marshmallows|3|10 oz|7.80|",
		"Labels 250 ct 12.00":                 "Labels|1|250 each|12.00|",
		"butter (1 lb) 4.90*":                 "butter|1|1 lb|4.90|",
		"2 butter 9.80":                       "butter|2||9.80|",
		"heavy cream 1 pt € 3.10":             "heavy cream|1|1 pt|3.10|",
		"Walnuts 1,234":                       `Walnuts|1|||“1,234” can be read in two ways: write it with its decimals.`,
		"sugar 1 kg":                          "sugar|1|1 kg||Add the price at the end, such as 14.50.",
		"sugar 3":                             "sugar|1||3|Is 3 the price? Write it with its decimals.",
		"14.50":                               "|1||14.50|Add what it was.",
		"0 x 1 kg sugar 3.00":                 "sugar|0|1 kg|3.00|0 packs: check the number.",
		"ribbon 45 m 7.50":                    "ribbon|1|45 m|7.50|",
	} {
		s := ReadSlip(text, "USD")
		size := ""
		if s.Size != nil {
			size = fmt.Sprintf("%v %s", s.Size.Amount, s.Size.Unit)
		}
		if got := fmt.Sprintf("%s|%d|%s|%s|%s", s.Name, s.Packs, size, s.Paid, doubted(s.Doubt)); got != want {
			t.Errorf("%q: %s, want %s", text, got, want)
		}
	}
	if s := ReadSlip("sugar 1 kg ¥300", "JPY"); s.Paid != "300" || s.Doubt != nil {
		t.Errorf("%+v", s)
	}
}

func rowsOf(t *testing.T, file string, c Columns) (good []string, bad []string) {
	t.Helper()
	opened, err := table.Open([]byte(file))
	if err != nil {
		t.Fatal(err)
	}
	err = c.Rows(opened, "EUR", func(line int, b Bought) error {
		size := "-"
		if b.Size != nil {
			size = fmt.Sprintf("%v %s", b.Size.Amount, b.Size.Unit)
		}
		good = append(good, fmt.Sprint(line, " ", b.Name, " ", b.Packs, "x", size, " ", b.Paid, " ", b.Shop, " ", b.Day,
			" ", b.BestBefore))
		return nil
	}, func(r table.BadRow) { bad = append(bad, fmt.Sprint(r.Line, ": ", said.Of(r.Says))) })
	if err != nil {
		t.Fatal(err)
	}
	return good, bad
}

func TestCSV(t *testing.T) {
	all := Columns{Name: 0, Packs: 1, Size: 2, Unit: 3, Paid: 4, Shop: 5, Day: 6, BestBefore: 7, Dates: "dmy"}
	good, bad := rowsOf(t, "\ufeffName;Packs;Size;Unit;Paid;Shop;Day;Until\n"+
		"\"Dark; \"\"couverture\"\"\";2;1,5;kg;29,00;Market;3.9.2026;01.02.2027\n"+
		"\n;;;;;;;\n"+
		"Sugar;;1 kg;;1.234,50 €;;2026-09-03;\n"+
		"Sugar;x;1;kg;3,20;;;\nSugar;1;1;stone;3,20;;;\nSugar;1;1;kg;cheap;;;\nSugar;1;1;kg;3,20;;31.02.2026;\n;1;1;kg;3,20;;;\nSalt \"fine\";1;1;kg;3,20;;;\n", all)
	if want := "2 Dark; \"couverture\" 2x1.5 kg 29 Market 2026-09-03 2027-02-01\n5 Sugar 1x1 kg 1234.5  2026-09-03 "; strings.Join(good, "\n") != want {
		t.Errorf("good: %s", strings.Join(good, "\n"))
	}
	for i, says := range []string{"6: “x” is no number", "7: “stone” is not a unit",
		"8: “cheap” is not an amount of money", "9: “31.02.2026” is not a date", "10: It does not say",
		"11: There is a stray quotation mark"} {
		if i >= len(bad) || !strings.HasPrefix(bad[i], says) {
			t.Errorf("bad rows: %q, want %q at %d", bad, says, i)
			break
		}
	}
	// A quote that is never closed swallows nothing silently.
	if _, bad := rowsOf(t, "a,b\n1,2\n\"3,4\n5,6\n7,8\n", Columns{Name: 0, Paid: 1, Packs: -1, Size: -1, Unit: -1,
		Shop: -1, Day: -1, BestBefore: -1}); len(bad) != 1 ||
		!strings.Contains(bad[0], "3: A quotation mark opens here and is not closed: the rows from here to 5") {
		t.Errorf("%q", bad)
	}
	for _, file := range []string{"", "\x00\x01", "\xff\xfe"} {
		if _, err := table.Open([]byte(file)); err == nil {
			t.Errorf("%q is opened", file)
		}
	}
}

// Whatever the file, every row is taken or named, and what is taken is sound.
func FuzzCSV(f *testing.F) {
	f.Add("name,paid\nDark,14.50\n", 0, 1, "ymd")
	f.Add("\ufeffname;size;paid\n\"a;b\";1,5 kg;\"29,00\"\n", 0, 2, "dmy")
	f.Add("a\tb\n\"\n", 0, 1, "mdy")
	f.Fuzz(func(t *testing.T, file string, name, paid int, dates string) {
		opened, err := table.Open([]byte(file))
		if err != nil {
			return
		}
		last := 0
		c := Columns{Name: name, Packs: 2, Size: 1, Unit: 3, Paid: paid, Shop: 4, Day: 5, BestBefore: 6, Dates: dates}
		_ = c.Rows(opened, "USD", func(line int, b Bought) error {
			if line <= last || b.Name == "" || b.Packs < 1 || b.Size != nil && !(b.Size.Amount > 0) ||
				d(b.Paid).IsNegative() {
				t.Errorf("line %d after %d: %+v", line, last, b)
			}
			last = line
			return nil
		}, func(r table.BadRow) {
			if r.Line <= last || r.Says.None() {
				t.Errorf("%+v after line %d", r, last)
			}
			last = r.Line
		})
	})
}

func FuzzSlip(f *testing.F) {
	f.Add("2 x 1 kg Dark 60 % 29.00")
	f.Add("@ 1/0 kg ¥,")
	f.Fuzz(func(t *testing.T, text string) {
		s := ReadSlip(text, "USD")
		if s.Original != text || s.Doubt == nil && (s.Name == "" || s.Paid == "" || s.Packs < 1 || s.Size != nil &&
			!(s.Size.Amount > 0)) {
			t.Errorf("%q: %+v", text, s)
		}
	})
}

// Stock that is good today is not spent on a day on which it is not: of 500 g that expire on the 5th and 300 that keep,
// 200 for the 4th and 250 for the 9th leave 300 that expire, for the 9th takes what keeps; 50 of that are left.
func TestSetAsideByDay(t *testing.T) {
	lots := []StockLot{{ID: "keeps", Left: 300}, {ID: "soon", Left: 500, BestBefore: "2026-09-05"},
		{ID: "gone", Left: 40, BestBefore: "2026-09-01"}}
	left := SetAside(lots, []Want{{Day: "2026-09-09", Used: 250}, {Day: "2026-09-04", Used: 200}}, "2026-09-03")
	if got := fmt.Sprintf("%v %v, %v %v", left[0].ID, left[0].Left, left[1].ID, left[1].Left); len(left) != 2 ||
		got != "soon 300, keeps 50" {
		t.Error(got)
	}
	if lots[0].Left != 300 {
		t.Error("what was given was changed")
	}
}

func doubted(r *reason.Reason) string {
	if r == nil {
		return ""
	}
	return said.Of(*r)
}

// 24 g stick and 150 g lie there to roll in: 174 g must be in the house, 24 of them go. With 100 g there 74 are missing;
// a second day that takes 20 finds 150 left and is short of nothing.
func TestWhatStandsIsBoughtAndComesBack(t *testing.T) {
	wants := []Want{{Day: "2026-09-09", Used: 24, For: "Ann", Stands: 150}, {Day: "2026-09-10", Used: 20, For: "Bo"}}
	short := Shortages([]StockLot{{Left: 100}}, wants, nil, "")
	if len(short) != 1 || math.Abs(short[0].Amount-74) > 1e-9 || short[0].Day != "2026-09-09" {
		t.Errorf("%+v", short)
	}
}
