package app_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/platform/roads"
)

// openOn is a house with other roads, and without a forecast.
func openOn(t *testing.T, of roads.Map) *house {
	t.Helper()
	return openWith(t, func(o *app.Options) { o.Roads, o.Weather = of, nil })
}

// read a PDF as text.
func read(t *testing.T, pdf string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), "a.pdf")
	if err := os.WriteFile(file, []byte(pdf), 0o600); err != nil {
		t.Fatal(err)
	}
	text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	if err != nil {
		t.Fatal(err)
	}
	return string(text)
}

// One time, followed by hand: when the drive leaves, it leaves so on its page, on paper, in the plan, on the run sheet,
// in the list of orders and in the calendar.
func TestOneTimeOfLeavingEverywhere(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	choices := maren.drives(t)["choices"].(object)
	wren := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	choices["planned"], choices["leaves"] = true, object{wren: 11*60 + 35}
	day := maren.must(200, "PUT", "/drives/2026-09-05", choices, "If-Match", "*")
	drive := day["drives"].([]any)[0].(object)
	if drive["leave"] != 695.0 {
		t.Fatalf("%v", drive)
	}
	plan := maren.must(200, "GET", "/plan?from=2026-09-05&days=1", nil)["days"].([]any)[0].(object)
	if away := plan["away"].([]any)[0].(object); away["from"] != 695.0 || away["to"] != drive["back"] {
		t.Errorf("the plan: %v", away)
	}
	sheet := maren.must(200, "GET", "/days/2026-09-05/run-sheet", nil)
	if h := find(t, sheet["handovers"], "customer", "Wren family"); h["leave"] != 695.0 {
		t.Errorf("the run sheet: %v", h)
	}
	row := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")
	if at, err := time.Parse(time.RFC3339, row["leave"].(string)); err != nil || at.UTC().Format("15:04") != "15:35" {
		t.Errorf("the orders: %v", row["leave"])
	}
	if file := maren.send("GET", "/calendar.ics", nil).body; !strings.Contains(file, "DTSTART:20260905T153500Z") {
		t.Errorf("the calendar: %s", file)
	}
	text := read(t, maren.send("GET", "/drives/2026-09-05/sheet.pdf", nil).body)
	for _, says := range []string{"11:35 am", "Wren family", "Orchard barn, Hill Road", "12:00 pm to 12:30 pm", "555 0138",
		"36 Strawberries with white lines", "peanut"} {
		if !strings.Contains(strings.ReplaceAll(text, "\u00a0", " "), says) {
			t.Errorf("the sheet does not say %q:\n%s", says, text)
		}
	}
}

// A routing server of one's own is asked; when it goes, ways are estimates and it is told; when it is back, they are
// its again.
func TestARoutingServerComesAndGoes(t *testing.T) {
	t.Parallel()
	gone := false
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if gone {
			w.WriteHeader(http.StatusBadGateway)
			return
		}
		n := strings.Count(strings.Split(r.URL.Path, "/")[4], ";") + 1
		if strings.HasPrefix(r.URL.Path, "/route/") {
			fmt.Fprint(w, `{"code":"Ok","routes":[{"geometry":{"coordinates":[[1,2],[3,4]]}}]}`)
			return
		}
		table := make([][]float64, n)
		for i := range table {
			table[i] = make([]float64, n)
			for j := range table[i] {
				if i != j {
					table[i][j] = 1200
				}
			}
		}
		_ = json.NewEncoder(w).Encode(object{"code": "Ok", "durations": table, "distances": table})
	}))
	defer server.Close()
	of, err := roads.NewServer(server.URL)
	if err != nil {
		t.Fatal(err)
	}
	maren := openOn(t, of).maren(t)
	// It knows no addresses: those are pasted.
	day := maren.drives(t)
	if len(day["unknown"].([]any)) != 2 || !strings.Contains(flat(t, day), "There is no forecast") {
		t.Fatalf("%v", day)
	}
	maren.must(204, "PUT", "/positions", object{"address": "3 Boathouse Lane, Lakeside", "at": "46.1, 7.0"})
	maren.must(204, "PUT", "/positions", object{"address": "Orchard barn, Hill Road", "at": "46.2, 7.0"})
	road := func() (float64, string) {
		day := maren.drives(t)
		return day["drives"].([]any)[0].(object)["road"].(float64), flat(t, day)
	}
	if minutes, told := road(); minutes < 40 || minutes > 46 || strings.Contains(told, "estimates") {
		t.Errorf("%v min: %s", minutes, told)
	}
	gone = true
	if minutes, told := road(); minutes < 40 || !strings.Contains(told, "does not answer") ||
		!strings.Contains(told, "estimates") { // 11.1 km x 1.3 at 40 km/h, there and back: 43 min and what the pace adds
		t.Errorf("%v min: %s", minutes, told)
	}
	gone = false
	if _, told := road(); strings.Contains(told, "does not answer") {
		t.Errorf("%s", told)
	}
	if m := maren.must(200, "GET", "/road-map", nil); len(m["streets"].([]any)) != 0 {
		t.Errorf("%v", m)
	}
}

// Without any roads: what is typed counts, one way and back, and by way of home where nothing else is known.
func TestMinutesAreTyped(t *testing.T) {
	t.Parallel()
	maren := openOn(t, nil).maren(t)
	maren.delivery("First door", "Lane 1", "11:00", "11:40")
	maren.delivery("Second door", "Lane 2", "11:00", "13:00")
	if day := maren.drives(t); len(day["unknown"].([]any)) != 4 { // home, Lane 1, Lane 2, the barn
		t.Errorf("%v", day["unknown"])
	}
	for address, minutes := range map[string]int{"Lane 1": 10, "Lane 2": 15, "Orchard barn, Hill Road": 30} {
		maren.must(204, "PUT", "/positions", object{"address": address, "minutes": minutes})
	}
	drive := maren.drives(t)["drives"].([]any)[0].(object)
	if len(drive["drops"].([]any)) != 3 {
		t.Fatalf("%v", drive)
	}
	far := drive["road"].(float64)
	// The two lanes are neighbours: 3 minutes, not 25 by way of home.
	maren.must(204, "PUT", "/positions", object{"address": "Lane 2", "from": "Lane 1", "minutes": 3})
	near := maren.drives(t)["drives"].([]any)[0].(object)["road"].(float64)
	if near > far-20 {
		t.Errorf("%v min, before that %v", near, far)
	}
	for _, wrong := range []object{{"address": "", "minutes": 3}, {"address": "x", "minutes": 601},
		{"address": "x", "minutes": -1}, {"address": "x"}, {"address": strings.Repeat("x", 301), "minutes": 3}} {
		if a := maren.send("PUT", "/positions", wrong); a.status != 422 {
			t.Errorf("%v: %d", wrong, a.status)
		}
	}
}

// Sixteen doors in one day: all are driven to, in time as far as that goes, and it is not said that no order is better.
func TestADayOfManyDoors(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	streets := []string{"Mill Street", "Lake Road", "School Lane", "Main Street", "Hill Road", "Quay", "Station Road",
		"Ferry Road"}
	names := map[string]bool{"Wren family": true}
	for n := range 15 {
		d := maren.draft("Milk malt bombs", 1)
		name := fmt.Sprintf("Door %d", n)
		d["customer"], d["way"], d["place"] = name, "delivery", fmt.Sprintf("%s %d", streets[n%8], 5+n*3)
		d["from"], d["to"] = "2026-09-05T12:00:00-04:00", "2026-09-05T16:00:00-04:00"
		d["lines"] = []object{}
		id := maren.must(201, "POST", "/orders", d)["id"].(string)
		if a := maren.send("POST", "/orders/"+id+"/moves", object{"to": "promised"}); a.status != 200 {
			d["lines"] = []object{{"treat": maren.treat("Milk malt bombs"), "count": 1}}
			maren.must(200, "PUT", "/orders/"+id, d, "If-Match", maren.tag("/orders/"+id))
			if a := maren.send("POST", "/orders/"+id+"/moves", object{"to": "promised"}); a.status != 200 {
				continue // there is no room for all of them
			}
		}
		names[name] = true
	}
	day := maren.drives(t)
	got := map[string]bool{}
	for _, v := range day["drives"].([]any) {
		for _, x := range v.(object)["drops"].([]any) {
			name := x.(object)["customer"].(string)
			if got[name] {
				t.Errorf("%s is driven to twice", name)
			}
			got[name] = true
		}
	}
	for name := range names {
		if !got[name] {
			t.Errorf("nobody drives to %s", name)
		}
	}
	if many := len(names) > 12; many && day["proven"] != false {
		t.Errorf("%d doors, and it is proven", len(names))
	}
}
