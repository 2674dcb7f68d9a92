package app_test

import (
	"fmt"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	ics "github.com/arran4/golang-ical"

	"zestytin/core/plan"
	"zestytin/core/si"
	"zestytin/internal/app"
	"zestytin/internal/demo"
)

// In the night in which the clocks change nothing is begun in an hour that does not exist, nor in one that the clock
// shows twice, the second time; what sets does so for real minutes; and the calendar has the work where the run sheet
// has it. Work is from 0:30 to 5:30 only; by IANA's database Berlin skips 2:00 to 3:00 on 28 March 2027, and has it
// twice on 31 October.
func TestTheNightOfTheClocks(t *testing.T) {
	t.Parallel()
	berlin, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	for _, night := range []string{"2027-03-28", "2027-10-31", "2027-06-06"} {
		t.Run(night, func(t *testing.T) {
			t.Parallel()
			h := open(t)
			day, err := time.ParseInLocation(time.DateOnly, night, berlin)
			if err != nil {
				t.Fatal(err)
			}
			at := day.AddDate(0, 0, -1).Add(12 * time.Hour)
			server := httptest.NewServer(app.New(app.Options{Pool: h.pool, Clock: func() time.Time { return at },
				Files: fstest.MapFS{"index.html": {}, "docs.html": {}}, Demo: &demo.SignIn}))
			t.Cleanup(server.Close)
			h.Server = server
			p := h.maren(t)
			kitchen := p.must(200, "GET", "/kitchen", nil)
			p.must(200, "PUT", "/kitchen?handovers=instant", with(kitchen, object{"timeZone": "Europe/Berlin"}), "If-Match",
				p.tag("/kitchen"))
			none := [7][]any{}
			for i := range none {
				none[i] = []any{}
			}
			work := p.must(200, "GET", "/work-days", nil)
			p.must(200, "PUT", "/work-days", with(work, object{"week": none,
				"exceptions": []object{{"day": night, "spans": []object{{"from": "00:30", "to": "05:30",
					"hands": 1}}}}}), "If-Match", p.tag("/work-days"))
			ready := time.Date(day.Year(), day.Month(), day.Day(), 9, 0, 0, 0, berlin)
			o := p.must(201, "POST", "/orders", with(p.draft("Strawberries with white lines", 96),
				object{"from": ready, "to": ready.Add(time.Hour)}))
			p.move(200, o["id"], "promised")

			cal := plan.CalendarFrom(day, berlin)
			sheet := p.must(200, "GET", fmt.Sprint("/days/", night, "/run-sheet"), nil)
			first, busy, set := si.Minutes(1<<20), si.Minutes(0), si.Minutes(0)
			for _, x := range sheet["steps"].([]any) {
				s := x.(object)
				clock, hands := si.Minutes(s["start"].(float64)), si.Minutes(s["hands"].(float64))
				begins := cal.At(0, clock)
				if cal.Clock(begins) != clock {
					t.Errorf("%v begins at %d:%02d, which the clock never shows", s["name"], clock/60, clock%60)
				}
				if begins < busy || begins < set {
					t.Errorf("%v begins at minute %d, while what is before it takes until %d and sets until %d",
						s["name"], begins, busy, set)
				}
				first = min(first, begins-si.Minutes(s["melt"].(float64))-si.Minutes(s["wash"].(float64)))
				busy = begins + hands
				set = busy + si.Minutes(s["wait"].(float64))
			}
			if len(sheet["steps"].([]any)) < 3 || busy < 150 {
				t.Fatalf("the night is not worked through: %v", sheet["steps"])
			}
			events, err := ics.ParseCalendar(strings.NewReader(p.send("GET", "/calendar.ics", nil).body))
			if err != nil {
				t.Fatal(err)
			}
			found := false
			for _, e := range events.Events() {
				if strings.HasPrefix(e.GetProperty(ics.ComponentPropertySummary).Value, "Make 96 Strawberries") {
					found = true
					begins, _ := e.GetStartAt()
					ends, _ := e.GetEndAt()
					if cal.Minute(begins) != first || cal.Minute(ends) != busy {
						t.Errorf("in the calendar from minute %d to %d, on the sheet from %d to %d", cal.Minute(begins),
							cal.Minute(ends), first, busy)
					}
				}
			}
			if !found {
				t.Error("the work is not in the calendar")
			}
		})
	}
}

// Another time zone asks what becomes of the handovers that are ahead: two o'clock stays two o'clock, or the moment
// stays; what is handed over stays as it was.
func TestAnotherTimeZone(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	order := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12)) // 2 to 3 pm in New York
	p.move(200, order["id"], "promised")
	put := func(status int, zone, how string) answer {
		t.Helper()
		k := p.must(200, "GET", "/kitchen", nil)
		k["timeZone"] = zone
		path := "/kitchen"
		if how != "" {
			path += "?handovers=" + how
		}
		a := p.send("PUT", path, k, "If-Match", p.tag("/kitchen"))
		if a.status != status {
			t.Fatalf("%s %q: %d, want %d: %s", zone, how, a.status, status, a.body)
		}
		return a
	}
	p.problem(409, "", "say whether the handovers keep their time", put(409, "America/Los_Angeles", ""))
	window := func() [2]string {
		d := p.order(order["id"])["draft"].(object)
		return [2]string{d["from"].(string), d["to"].(string)}
	}
	want := func(name string, from, to string) {
		t.Helper()
		for i, w := range []string{from, to} {
			got, err := time.Parse(time.RFC3339, window()[i])
			if err != nil || got.UTC().Format(time.RFC3339) != w {
				t.Errorf("%s: %v, want %v", name, window()[i], w)
			}
		}
	}
	put(200, "America/Los_Angeles", "clock") // 2 pm there is three hours later
	want("clock", "2026-09-12T21:00:00Z", "2026-09-12T22:00:00Z")
	put(200, "America/New_York", "instant")
	want("instant", "2026-09-12T21:00:00Z", "2026-09-12T22:00:00Z")
	put(200, "America/New_York", "") // the same one asks nothing
	// The plan holds what was promised, or says what has no room.
	if s := p.order(order["id"])["state"]; s != "promised" {
		t.Errorf("the order is %v", s)
	}
	// An address for customers is that of a server.
	for address, ok := range map[string]bool{"https://sweets.example": true, "https://sweets.example/": true, "": true,
		"http://192.168.1.20:8080": true, "sweets.example": false, "https://sweets.example/q": false,
		"javascript:alert(1)": false, "https://me@sweets.example": false, "https://": false} {
		k := p.must(200, "GET", "/kitchen", nil)
		k["public"] = address
		a := p.send("PUT", "/kitchen", k, "If-Match", p.tag("/kitchen"))
		if ok && a.status != 200 {
			t.Errorf("%q: %d %s", address, a.status, a.body)
		}
		if !ok {
			p.problem(422, "body.public", "is not an address that a browser opens", a)
		}
	}
	if got := p.must(200, "GET", "/session", nil)["public"]; got == "https://sweets.example/" {
		t.Errorf("the session has %v", got)
	}
}
