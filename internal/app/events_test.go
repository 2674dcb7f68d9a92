package app_test

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
)

// gala on a Saturday evening, with two tables.
func gala() object {
	return object{"name": "Gala", "host": "Ada Quill", "place": "Quay 12", "begins": "2026-09-12T22:00:00Z", "setup": 30,
		"countBy": "2026-09-08", "tables": []object{{"name": "Lake", "guests": 6}, {"name": "Hill", "guests": 6}},
		"plan": []object{{"share": 0.25, "by": "2026-09-06"}}, "restBy": "2026-09-10",
		"brings": []object{{"what": "cake stands", "who": "Ada", "done": false}}, "follow": []object{}, "notes": "",
		"orders": []any{}}
}

// event for which orders are made.
func (p *person) event(orders ...any) object {
	p.t.Helper()
	return p.must(201, "POST", "/occasions", with(gala(), object{"orders": orders}))
}

func cash(t *testing.T, money any) float64 {
	t.Helper()
	f, err := strconv.ParseFloat(money.(object)["amount"].(string), 64)
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// Two orders for one event: who comes more changes both, each at the price of its pieces; what is due when follows; and
// after the count is final, it takes a word more.
func TestAnEventAndItsCounts(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	bombs, _ := p.quote("Milk malt bombs", 12)
	bark := p.must(201, "POST", "/orders", p.draft("Bergamot truffles", 24))
	first, second := bombs["id"], bark["id"]
	p.move(200, second, "promised")
	e := p.event(first, second)
	follow := []object{{"order": first, "treat": p.treat("Milk malt bombs"), "each": 1},
		{"order": second, "treat": p.treat("Bergamot truffles"), "each": 2}}
	path := fmt.Sprint("/occasions/", e["id"])
	fields := with(gala(), object{"follow": follow, "orders": []any{first, second}})
	e = p.must(200, "PUT", path, fields, "If-Match", "\"1\"")
	made := e["made"].([]any)
	if len(made) != 2 || e["guests"].(float64) != 12 || made[0].(object)["lines"].([]any)[0].(object)["wants"].(float64) == 0 {
		t.Fatalf("%v", e)
	}
	gross := map[any]float64{}
	for _, m := range made {
		gross[m.(object)["id"]] = cash(t, m.(object)["gross"])
	}
	total := cash(t, e["total"])
	if math.Abs(total-gross[first]-gross[second]) > 0.005 {
		t.Errorf("%v is not %v", total, gross)
	}
	// A quarter by the 6th, the rest by the 10th; 5 paid for the second order goes to the quarter.
	payments := e["payments"].([]any)
	quarter := math.Round(total*25) / 100
	if len(payments) != 2 || cash(t, payments[0].(object)["amount"]) != quarter ||
		math.Abs(cash(t, payments[1].(object)["amount"])-total+quarter) > 0.005 || payments[0].(object)["by"] != "2026-09-06" {
		t.Errorf("of %v: %v", total, payments)
	}
	p.must(201, "POST", fmt.Sprint("/orders/", second, "/payments"), object{"kind": "deposit", "amount": "5",
		"day": "2026-09-03"}, "Idempotency-Key", "k")
	e = p.must(200, "GET", path, nil)
	if open := cash(t, e["payments"].([]any)[0].(object)["open"]); math.Abs(open-quarter+5) > 0.005 {
		t.Errorf("open %v of %v", open, quarter)
	}
	var kinds []string
	for _, d := range e["deadlines"].([]any) {
		kinds = append(kinds, fmt.Sprint(d.(object)["kind"], " ", d.(object)["days"]))
	}
	if got := strings.Join(kinds, ", "); got != "part 3, count 5, rest 7, the day 9" {
		t.Errorf("%s", got)
	}

	// Three more at one table: 15 bombs and 30 truffles; each of the prices goes up by a quarter.
	fields["tables"] = []object{{"name": "Lake", "guests": 9}, {"name": "Hill", "guests": 6}}
	p.must(200, "PUT", path, fields, "If-Match", "*")
	tried := p.must(200, "POST", path+"/counts", object{"try": true, "late": false})
	if n := p.order(first)["draft"].(object)["lines"].([]any)[0].(object)["count"]; n.(float64) != 12 {
		t.Errorf("looked at, it is changed: %v", n)
	}
	counted := p.must(200, "POST", path+"/counts", object{"try": false, "late": false})
	if fmt.Sprint(tried) != fmt.Sprint(counted) {
		t.Errorf("it was to be %v, and is %v", tried, counted)
	}
	for _, o := range counted["orders"].([]any) {
		o := o.(object)
		was, now := cash(t, o["was"]), cash(t, o["now"])
		if was != gross[o["id"]] || math.Abs(now-was*1.25) > 0.01 {
			t.Errorf("%v: %v, then %v", o["customer"], was, now)
		}
		if o["requote"] != (o["id"] == first) {
			t.Errorf("%v: a quote that says something else: %v", o["id"], o["requote"])
		}
		line := p.order(o["id"])["draft"].(object)["lines"].([]any)[0].(object)["count"].(float64)
		if l := o["lines"].([]any)[0].(object); l["now"].(float64) != line || line != 15 && line != 30 {
			t.Errorf("%v, the order says %v", l, line)
		}
	}
	h.sound(t, now)
	if again := p.must(200, "POST", path+"/counts", object{"try": false, "late": false}); len(again["orders"].([]any)) != 0 {
		t.Errorf("counted again: %v", again)
	}

	// After the 8th it is final.
	h.pass(6 * 24 * time.Hour)
	fields["tables"] = []object{{"name": "Lake", "guests": 3}}
	p.must(200, "PUT", path, fields, "If-Match", "*")
	p.problem(409, "", "final on", p.send("POST", path+"/counts", object{"try": false, "late": false}))
	p.must(200, "POST", path+"/counts", object{"try": false, "late": true})

	// What has begun follows nobody; then nothing of the others changes either.
	p.move(200, second, "in the making")
	fields["tables"] = []object{{"name": "Lake", "guests": 8}}
	p.must(200, "PUT", path, fields, "If-Match", "*")
	p.problem(409, "", "cannot follow the guests", p.send("POST", path+"/counts", object{"try": false, "late": true}))
	if n := p.order(first)["draft"].(object)["lines"].([]any)[0].(object)["count"].(float64); n != 3 {
		t.Errorf("half of it was done: %v", n)
	}
	p.must(204, "DELETE", path, nil)
	if p.send("GET", path, nil).status != 404 || p.order(first)["id"] != first {
		t.Error("the event is gone, its orders are not")
	}
}

// What cannot be is told where it stands; an event of nobody else's orders.
func TestEventsThatCannotBe(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, bo := h.maren(t), h.stranger(t)
	theirs := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))["id"]
	for path, change := range map[string]object{
		"body.name":             {"name": " "},
		"body.countBy":          {"countBy": "2026-09-13"},
		"body.tables":           {"tables": []object{}},
		"body.tables[0].guests": {"tables": []object{{"name": "", "guests": 10_001}}},
		"body.plan":             {"plan": []object{{"share": 0.6, "by": "2026-09-06"}, {"share": 0.6, "by": "2026-09-07"}}},
		"body.restBy":           {"restBy": "2026-09-01"},
	} {
		p.problem(422, path, "", p.send("POST", "/occasions", with(gala(), change)))
	}
	p.problem(422, "", "not in your book", bo.send("POST", "/occasions", with(gala(), object{"orders": []any{theirs}})))
	if list := bo.must(200, "GET", "/occasions", nil)["events"].([]any); len(list) != 0 {
		t.Errorf("what was refused is there: %v", list)
	}
	e := p.event(theirs)
	p.must(200, "PUT", fmt.Sprint("/occasions/", e["id"]), with(gala(), object{"name": "Ball"}), "If-Match", "\"1\"")
	p.problem(412, "", "", p.send("PUT", fmt.Sprint("/occasions/", e["id"]), gala(), "If-Match", "\"1\""))
	row := p.must(200, "GET", "/occasions", nil)["events"].([]any)[0].(object)
	if row["name"] != "Ball" || row["guests"].(float64) != 12 || row["orders"].(float64) != 0 ||
		row["next"].(object)["kind"] != "count" {
		t.Errorf("%v", row)
	}
}

// The set-up at the place is minutes at the door of the first drop there, and the deposit of an order is what its
// event's plan asks for next.
func TestAnEventOnTheRoadAndInTheTill(t *testing.T) {
	t.Parallel()
	_, _, p := mailed(t)
	one := p.delivery("Ana Quay", "Quay 12", "12:40", "13:30")
	two := p.delivery("Ana Quay", "Quay 12", "12:40", "13:30")
	p.must(201, "POST", "/occasions", with(gala(), object{"begins": "2026-09-05T18:00:00Z", "countBy": "", "restBy": "",
		"plan": []object{{"share": 0.5, "by": "2026-09-04"}}, "orders": []any{one, two}}))
	doors := map[any]float64{}
	for _, v := range p.drives(t)["drives"].([]any) {
		for _, d := range v.(object)["drops"].([]any) {
			doors[d.(object)["order"]] = d.(object)["door"].(float64)
		}
	}
	if doors[one] != 30 || doors[two] != 5 {
		t.Errorf("minutes at the door: %v", doors)
	}
	gross := cash(t, p.must(200, "GET", "/orders/"+one+"/payments", nil)["gross"])
	for _, d := range p.must(200, "GET", "/orders/"+one+"/messages", nil)["drafts"].([]any) {
		if d := d.(object); d["kind"] == "deposit" {
			half := fmt.Sprintf("The deposit is $%.2f", math.Round(gross*50)/100)
			if body := d["body"].(string); !strings.Contains(body, half) || !strings.Contains(body,
				"by Friday 4 September 2026") || d["fits"] != true {
				t.Errorf("%v, want %s", d, half)
			}
		}
	}
	// What is due stands in the calendar all day, and takes nobody's time; the day itself too.
	cal, err := ics.ParseCalendar(strings.NewReader(p.send("GET", "/calendar.ics", nil).body))
	if err != nil {
		t.Fatal(err)
	}
	due := map[string]string{}
	for _, e := range cal.Events() {
		if strings.HasPrefix(e.Id(), "event-") {
			due[e.GetProperty(ics.ComponentPropertyDtStart).Value] += e.GetProperty(ics.ComponentPropertySummary).Value + "; "
			if e.GetProperty(ics.ComponentPropertyTransp).Value != "TRANSPARENT" {
				t.Errorf("%v", e)
			}
		}
	}
	if due["20260904"] != "Gala: a part of the price is due; " ||
		due["20260905"] != "Gala: the rest of the price is due; Gala; " {
		t.Errorf("%v", due)
	}
}

// Set-up at an event to which nothing is brought takes a person's time like a drive: it stands on its day, goes into the
// plan, and comes out of it; who drives at that time cannot set up, and where nobody else is there that is told.
func TestSettingUpWithNothingToBring(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	p.must(201, "POST", "/occasions", with(gala(), object{"begins": "2026-09-05T13:30:00Z", "countBy": "", "restBy": "",
		"plan": []object{}, "setup": 45})) // half past nine: from 8:45
	day := p.drives(t)
	setup := day["setups"].([]any)[0].(object)
	if setup["from"] != 525.0 || setup["to"] != 570.0 || setup["name"] != "Gala" || setup["place"] != "Quay 12" {
		t.Fatalf("%v", setup)
	}
	free := func() float64 {
		return p.must(200, "GET", "/plan?from=2026-09-05&days=1", nil)["days"].([]any)[0].(object)["free"].(float64)
	}
	before := free()
	settle := func(planned bool) object {
		return p.must(200, "PUT", "/drives/2026-09-05", with(day["choices"].(object), object{"planned": planned}),
			"If-Match", p.tag("/drives/2026-09-05"))
	}
	settle(true)
	plan := p.must(200, "GET", "/plan?from=2026-09-05&days=1", nil)["days"].([]any)[0].(object)
	found := false
	for _, a := range plan["away"].([]any) {
		found = found || a.(object)["from"] == 525.0 && a.(object)["to"] == 570.0
	}
	if !found || free() > before-45 {
		t.Errorf("away %v, %v minutes free of %v", plan["away"], free(), before)
	}
	if cal := p.send("GET", "/calendar.ics", nil).body; !strings.Contains(cal, "SUMMARY:Set-up at an event") {
		t.Error("it is not in the calendar")
	}
	if again := p.drives(t); again["stale"] != false {
		t.Errorf("%v", again)
	}
	settle(false)
	if free() != before {
		t.Errorf("%v minutes free, before %v", free(), before)
	}
	// With three at once, of two people, one is left over.
	for _, name := range []string{"Fair", "Feast"} {
		p.must(201, "POST", "/occasions", with(gala(), object{"name": name, "begins": "2026-09-05T13:40:00Z",
			"countBy": "", "restBy": "", "plan": []object{}, "setup": 45}))
	}
	if told := flat(t, p.drives(t)); !strings.Contains(told, "Nobody is free to set up") {
		t.Errorf("%s", told)
	}
}
