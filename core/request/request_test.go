package request

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/plan"
)

// kitchen on a Thursday morning, the third of September 2026.
func kitchen(dates string) Kitchen {
	now := time.Date(2026, 9, 3, 10, 20, 0, 0, time.UTC)
	treat := func(id, name, family string, sold int) Treat {
		return Treat{ID: ident.Treat(id), Name: name, Family: strings.Fields(family), Sold: sold}
	}
	return Kitchen{Now: now, Calendar: plan.CalendarFrom(now, time.UTC), Dates: dates, Treats: []Treat{
		treat("berry", "Strawberries in dark chocolate", "dipped fruit", 9),
		treat("apricot", "Dipped apricots", "dipped fruit", 3),
		treat("cocoa", "Cocoa bombs in milk chocolate", "drink bombs", 7),
		treat("malt", "Cardamom-malt bombs", "drink bombs", 2),
		treat("rod", "Sesame pretzel rods", "dipped pretzels", 4),
		treat("bergamot", "Bergamot truffles", "truffles", 5),
		treat("coffee", "Coffee truffles", "truffles", 1),
		treat("bark", "Hazelnut and sour-cherry bark", "bark", 2),
		treat("fudge", "Brown-butter walnut fudge", "fudge", 6),
		treat("mint", "Mint pieces 60 %", "moulded pieces", 0),
	}}
}

// told is what was read, in a line: counts; day and window; customer; the rest; codes of doubts after a ?, and what was
// not understood after a !.
func told(r Read) string {
	var parts []string
	lines := []string{}
	for _, l := range r.Lines {
		lines = append(lines, fmt.Sprint(l.Count, " ", l.Treat))
	}
	parts = append(parts, strings.Join(lines, ", "))
	when := strings.TrimPrefix(r.Day, "2026-")
	if r.To > 0 {
		when = strings.TrimSpace(when + fmt.Sprintf(" %d:%02d-%d:%02d", r.From/60, r.From%60, r.To/60, r.To%60))
	}
	for _, x := range []string{when, r.Customer, r.Phone} {
		if x != "" {
			parts = append(parts, x)
		}
	}
	if r.Way != "" {
		parts = append(parts, strings.TrimSpace(string(r.Way)+" "+r.Address))
	}
	if len(r.FreeFrom) > 0 {
		parts = append(parts, "free "+strings.Join(r.FreeFrom, " "))
	}
	for _, d := range r.Doubts {
		parts = append(parts, "?"+strings.TrimPrefix(d.Code, "request."))
	}
	for _, u := range r.Unread {
		parts = append(parts, "!"+u)
	}
	return strings.Join(parts, " | ")
}

// said are a hundred ways in which people ask for treats, with what is meant.
var said = []struct{ text, want string }{
	// counts and treats
	{"24 strawberries, 12 bombs Sat 2pm", "24 berry, 12 cocoa | 09-05 14:00-15:00 | ?which-treat"},
	{"24 strawberries", "24 berry"},
	{"24 strawberry", "24 berry"},
	{"24 strawberrys", "24 berry"},
	{"24 stawberries", "24 berry"},
	{"24x strawberries", "24 berry"},
	{"24 x strawberries", "24 berry"},
	{"strawberries x24", "24 berry"},
	{"strawberries 24", "24 berry"},
	{"24strawberries", "24 berry"},
	{"strawberries: 24", "24 berry"},
	{"a dozen strawberries", "12 berry"},
	{"two dozen strawberries", "24 berry"},
	{"2 dozen strawberries and half a dozen cocoa bombs", "24 berry, 6 cocoa"},
	{"half a dozen apricots", "6 apricot"},
	{"1 dz apricots", "12 apricot"},
	{"1.5 dozen apricots", "18 apricot"},
	{"twenty truffles", "20 bergamot | ?which-treat"},
	{"twelve bergamot truffles", "12 bergamot"},
	{"12 coffee truffles + 12 bergamot", "12 coffee, 12 bergamot"},
	{"12 coffee & 6 bergamot truffles", "12 coffee, 6 bergamot"},
	{"24 strawberries 12 cocoa bombs 6 fudge", "24 berry, 12 cocoa, 6 fudge"},
	{"6 bags of bark", "6 bark"},
	{"3 boxes of 12 strawberries", "36 berry | ?in-all"},
	{"1,200 strawberries", "1200 berry"},
	{"10000000 strawberries", fmt.Sprint(order.MostPieces, " berry | ?too-many")},
	{"about 30 strawberries", "30 berry | ?about-so-many"},
	{"some strawberries please", "12 berry | ?no-count"},
	{"strawberries", "12 berry | ?no-count"},
	{"12 strawberries and 12 strawberries", "24 berry"},
	{"24 drink bombs", "24 cocoa | ?which-treat"},
	{"24 malt bombs", "24 malt"},
	{"24 cardamom malt bombs", "24 malt"},
	{"24 cardamom bombs", "24 malt"},
	{"10 pretzels", "10 rod"},
	{"10 sesame rods", "10 rod"},
	{"36 walnut fudge", "36 fudge"},
	{"12 mint pieces", "12 mint"},
	{"12 mint pieces 60 %", "12 mint"},
	{"24 éclairs", " | !24 éclairs"},
	{"24 strawberries and 3 balloons", "24 berry | !3 balloons"},
	{"2 hundred strawberries", "200 berry"},
	{"a hundred strawberries", "100 berry"},
	{"24 STRAWBERRIES, 12 COCOA BOMBS", "24 berry, 12 cocoa"},
	{"24 strawberries;12 fudge\n6 bark", "24 berry, 12 fudge, 6 bark"},
	{"hi! can I get 24 strawberries please? thanks", "24 berry"},
	{"we would like 24 strawberries, and also 12 fudge", "24 berry, 12 fudge"},
	{"2.5 strawberries", "3 berry | ?not-whole"},
	{"0 strawberries", "1 berry | ?not-whole"},

	// days
	{"24 strawberries saturday", "24 berry | 09-05"},
	{"24 strawberries on Sat", "24 berry | 09-05"},
	{"24 strawberries this sat.", "24 berry | 09-05"},
	{"24 strawberries next Saturday", "24 berry | 09-12 | ?next-weekday"},
	{"24 strawberries today", "24 berry | 09-03"},
	{"24 strawberries tonight", "24 berry | 09-03 17:00-20:00"},
	{"24 strawberries tomorrow", "24 berry | 09-04"},
	{"24 strawberries the day after tomorrow", "24 berry | 09-05"},
	{"24 strawberries for Thursday", "24 berry | 09-03"},
	{"24 strawberries a week on Saturday", "24 berry | 09-12"},
	{"24 strawberries Saturday week", "24 berry | 09-12"},
	{"24 strawberries in 3 days", "24 berry | 09-06"},
	{"24 strawberries in two weeks", "24 berry | 09-17"},
	{"24 strawberries 12 Sept", "24 berry | 09-12"},
	{"24 strawberries on the 12th of September", "24 berry | 09-12"},
	{"24 strawberries September 12th", "24 berry | 09-12"},
	{"24 strawberries, Sat Sep 12", "24 berry | 09-12"},
	{"24 strawberries on Saturday, 12 September 2026", "24 berry | 09-12"},
	{"24 strawberries 2026-09-12", "24 berry | 09-12"},
	{"24 strawberries 9/12", "24 berry | 09-12 | ?day-or-month-first"},
	{"24 strawberries 9/30", "24 berry | 09-30"},
	{"24 strawberries 30/9", "24 berry | 09-30"},
	{"24 strawberries on the 12th", "24 berry | 09-12"},
	{"24 strawberries on the 2nd", "24 berry | 10-02"},
	{"24 strawberries 14 February", "24 berry | 2027-02-14"},
	{"24 strawberries 2026-08-30", "24 berry | 08-30 | ?day-is-past"},
	{"may I have 24 strawberries", "24 berry"},

	// times
	{"24 strawberries Sat 2:30 pm", "24 berry | 09-05 14:30-15:30"},
	{"24 strawberries Sat 14:00", "24 berry | 09-05 14:00-15:00"},
	{"24 strawberries Sat 14h", "24 berry | 09-05 14:00-15:00"},
	{"24 strawberries Sat at 2", "24 berry | 09-05 14:00-15:00 | ?am-or-pm"},
	{"24 strawberries Sat at 10", "24 berry | 09-05 10:00-11:00 | ?am-or-pm"},
	{"24 strawberries Sat 2-3pm", "24 berry | 09-05 14:00-15:00"},
	{"24 strawberries Sat 2 pm - 4 pm", "24 berry | 09-05 14:00-16:00"},
	{"24 strawberries Sat 11 am to 1 pm", "24 berry | 09-05 11:00-13:00"},
	{"24 strawberries Sat between 2 and 4 pm", "24 berry | 09-05 14:00-16:00"},
	{"24 strawberries Sat 14:00–16:00", "24 berry | 09-05 14:00-16:00"},
	{"24 strawberries by 3pm on Sat", "24 berry | 09-05 14:00-15:00"},
	{"24 strawberries Sat before noon", "24 berry | 09-05 11:00-12:00"},
	{"24 strawberries Sat at noon", "24 berry | 09-05 12:00-13:00"},
	{"24 strawberries Sat after 5 pm", "24 berry | 09-05 17:00-18:00"},
	{"24 strawberries Sat morning", "24 berry | 09-05 9:00-12:00"},
	{"24 strawberries in the afternoon", "24 berry | 13:00-17:00"},
	{"24 strawberries Sat 2 o'clock", "24 berry | 09-05 14:00-15:00 | ?am-or-pm"},

	// who, how, without what
	{"24 strawberries for Ada", "24 berry | Ada"},
	{"24 strawberries for Ada Lindqvist on Sat", "24 berry | 09-05 | Ada Lindqvist"},
	{"Ada: 24 strawberries", "24 berry | Ada"},
	{"Ada Lindqvist wants 24 strawberries Sat 2pm", "24 berry | 09-05 14:00-15:00 | Ada Lindqvist"},
	{"for Bo and Tilda, 24 strawberries", "24 berry | Bo and Tilda"},
	{"24 strawberries for Ada, 555 0134 222", "24 berry | Ada | 555 0134 222"},
	{"24 strawberries, call +1 (555) 013-4222", "24 berry | +1 (555) 013-4222"},
	{"24 strawberries delivered Sat", "24 berry | 09-05 | delivery"},
	{"24 strawberries, deliver to 12 Birch Lane, Sat", "24 berry | 09-05 | delivery 12 Birch Lane"},
	{"24 strawberries, will be picked up Sat", "24 berry | 09-05 | pickup"},
	{"24 strawberries, nut-free", "24 berry | free tree nut peanut | ?nuts-of-both-kinds"},
	{"24 strawberries, no dairy, gluten free", "24 berry | free milk gluten"},
	{"24 strawberries without peanuts for Bo", "24 berry | Bo | free peanut"},

	// nonsense
	{"", ""},
	{"hello", ""},
	{"?!?", ""},
	{"99999999999999999999 1e9 --- 25:99 32/13", " | !100000000000000000000 1e9 | !25 | !99 32/13"},
}

func TestRequests(t *testing.T) {
	if len(said) < 100 {
		t.Fatalf("only %d lines", len(said))
	}
	for _, s := range said {
		if got := told(Parse(s.text, kitchen("mdy"))); got != s.want {
			t.Errorf("%q\n got %s\nwant %s", s.text, got, s.want)
		}
	}
}

// TestDatesByKitchen: 9/12 is the ninth of December where one writes the day first.
func TestDatesByKitchen(t *testing.T) {
	for dates, want := range map[string]string{"dmy": "2026-12-09", "mdy": "2026-09-12", "ymd": "2026-12-09"} {
		if r := Parse("24 strawberries 9/12", kitchen(dates)); r.Day != want || len(r.Doubts) != 1 {
			t.Errorf("%s: %s, %v", dates, r.Day, r.Doubts)
		}
	}
}

func FuzzParse(f *testing.F) {
	for _, s := range said {
		f.Add(s.text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		r := Parse(text, kitchen("mdy"))
		for _, l := range r.Lines {
			if l.Count < 1 || l.Count > order.MostPieces {
				t.Errorf("%q: %d pieces", text, l.Count)
			}
		}
		if r.To > 24*60 || r.To < r.From || r.From < 0 {
			t.Errorf("%q: from %d to %d", text, r.From, r.To)
		}
	})
}

// TestInto: what was said is put into an order, across a change of the clocks too; what was not said stays.
func TestInto(t *testing.T) {
	zone, err := time.LoadLocation("America/New_York")
	if err != nil {
		t.Fatal(err)
	}
	k := kitchen("mdy")
	k.Now = time.Date(2026, 10, 30, 9, 0, 0, 0, zone)
	k.Calendar = plan.CalendarFrom(k.Now, zone)
	d := order.Blank(k.Now, zone)
	d.Customer, d.Lines = "Ada", []order.Line{{Treat: "berry", Count: 6}}
	r := Parse("12 strawberries, 6 fudge, Sunday 2pm, no milk, delivered", k) // the clocks go back that night
	d = r.Into(d, zone)
	if want := time.Date(2026, 11, 1, 14, 0, 0, 0, zone); !d.From.Equal(want) || !d.To.Equal(want.Add(time.Hour)) {
		t.Errorf("from %v to %v", d.From, d.To)
	}
	if d.Customer != "Ada" || len(d.Lines) != 2 || d.Lines[0].Count != 18 || d.Lines[1].Treat != "fudge" ||
		d.Way != order.Delivery || len(d.FreeFrom) != 1 {
		t.Errorf("%+v", d)
	}
	only := Parse("Tuesday", k)
	if again := only.Into(d, zone); again.From.In(zone).Format("Mon 15:04") != "Tue 14:00" || len(again.Lines) != 2 {
		t.Errorf("%v", again.From)
	}
}
