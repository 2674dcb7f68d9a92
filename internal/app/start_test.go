package app_test

import (
	"fmt"
	"strings"
	"testing"
)

// answers of a seller who leaves everything as it is proposed, but for what is said here.
func (p *person) answers(change object) object {
	p.t.Helper()
	ways := p.must(200, "GET", "/starter", nil)["ways"].(object)
	a := with(ways, object{"sells": object{"fruit": object{}, "bomb": object{"moulds": "2x6"}}, "paid": object{}})
	return with(a, change)
}

// TestTheFirstEvening: an empty kitchen is set out, and its first order is promised; what the order needs cannot be
// taken back any more, all else can.
func TestTheFirstEvening(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	state := p.must(200, "GET", "/starter", nil)
	if ids := missing(state); ids != "treat hours address" {
		t.Errorf("an empty kitchen misses %s", ids)
	}
	if n := len(state["tiles"].([]any)); n != 8 {
		t.Errorf("%d tiles", n)
	}
	a := p.answers(object{"paid": object{"Strawberries": object{"paid": "3.90"}}})
	seen := p.must(200, "POST", "/calculators/starter", a)
	var shown object
	for _, o := range seen["offers"].([]any) {
		if o := o.(object); o["family"] == "fruit" {
			shown = o
		}
	}
	if shown["name"] != "Strawberries in dark chocolate" || shown["count"] != 12. {
		t.Errorf("offered: %v", shown)
	}
	made := p.must(201, "POST", "/starter", a)
	treats := p.must(200, "GET", "/treats", nil)["treats"].([]any)
	if len(treats) != 2 || len(made["treats"].([]any)) != 2 {
		t.Fatalf("%d treats, %v", len(treats), made)
	}
	if ids := missing(p.must(200, "GET", "/starter", nil)); ids != "prices address" {
		t.Errorf("then it misses %s", ids)
	}
	for _, i := range p.must(200, "GET", "/ingredients", nil)["ingredients"].([]any) {
		i := i.(object)
		guess, paid := i["estimated"] == true, i["name"] == "Strawberries"
		if guess == paid || paid && i["paid"] != "3.90" {
			t.Errorf("%s: %s, estimated %v", i["name"], i["paid"], guess)
		}
		if i["kind"] == "chocolate" && len(i["allergens"].([]any)) == 0 {
			t.Errorf("%s has no allergens", i["name"])
		}
	}

	// The price that the page showed is that of the order, and tells what it rests on.
	line := func(count int) object {
		return object{"customer": "Tilda", "way": "pickup", "from": "2026-09-05T10:00:00Z",
			"to":       "2026-09-05T11:00:00Z",
			"freeFrom": []any{}, "lines": []any{object{"treat": p.treat("Strawberries in dark chocolate"),
				"count": count}}}
	}
	r := p.must(200, "POST", "/estimates", object{"draft": line(12)})
	money := r["money"].(object)
	if got, want := money["asked"].(object)["amount"], shown["price"].(object)["amount"]; got != want {
		t.Errorf("a dozen is %v on the page and %v in an order", want, got)
	}
	if doubts := fmt.Sprint(money["doubts"]); !strings.Contains(doubts, "Box for 12") ||
		!strings.Contains(doubts, "Dark chocolate") || strings.Contains(doubts, "Strawberries") {
		t.Errorf("it rests on %s", doubts)
	}
	order := p.must(201, "POST", "/orders", line(12))
	p.move(200, order["id"], "promised")
	if state := p.must(200, "GET", "/starter", nil); state["promised"] != true {
		t.Error("nothing was promised")
	}
	kept := p.must(200, "DELETE", "/starter", nil)["kept"].([]any)
	if told := fmt.Sprint(kept); !strings.Contains(told, "Strawberries in dark chocolate") ||
		!strings.Contains(told, "Liner") || strings.Contains(told, "bombs") || strings.Contains(told, "marsh") {
		t.Errorf("kept: %s", told)
	}
	if hours := p.must(200, "GET", "/work-days", nil)["week"].([]any)[2].([]any); len(hours) != 1 {
		t.Errorf("the order has lost its hours: %v", hours)
	}
}

// TestTheStarterIsTakenBack whole, as long as nothing uses it; and what was changed by hand stays.
func TestTheStarterIsTakenBack(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	before := p.must(200, "GET", "/kitchen", nil)
	p.must(201, "POST", "/starter", p.answers(object{"sells": object{"truffle": object{}, "fudge": object{}},
		"hourly": "25.50", "trays": object{"fridge": 9}}))
	if k := p.must(200, "GET", "/kitchen", nil); k["hourly"] != "25.50" {
		t.Errorf("an hour pays %v", k["hourly"])
	}
	if len(p.must(200, "GET", "/mixes", nil)["mixes"].([]any)) != 2 {
		t.Error("no mixes")
	}
	if kept := p.must(200, "DELETE", "/starter", nil)["kept"].([]any); len(kept) != 0 {
		t.Errorf("kept: %v", kept)
	}
	for path, of := range map[string]string{"/treats": "treats", "/mixes": "mixes", "/ingredients": "ingredients",
		"/supplies": "supplies"} {
		if left := p.must(200, "GET", path, nil)[of].([]any); len(left) != 0 {
			t.Errorf("%s are left: %v", of, left)
		}
	}
	if k := p.must(200, "GET", "/kitchen", nil); k["hourly"] != before["hourly"] {
		t.Errorf("an hour pays %v", k["hourly"])
	}
	if a := p.send("DELETE", "/starter", nil); a.status != 409 || !strings.Contains(a.body, "nothing to take back") {
		t.Errorf("%d %s", a.status, a.body)
	}

	p.must(201, "POST", "/starter", p.answers(object{"sells": object{"bark": object{}}}))
	for _, i := range p.must(200, "GET", "/ingredients", nil)["ingredients"].([]any) {
		if i := i.(object); i["name"] == "Hazelnuts, chopped" {
			delete(i, "sizes")
			delete(i, "paidForShown")
			id, tag := i["id"], fmt.Sprintf("%q", fmt.Sprint(i["revision"]))
			delete(i, "id")
			delete(i, "revision")
			i["paid"] = "6.00"
			after := p.must(200, "PUT", fmt.Sprint("/ingredients/", id), i, "If-Match", tag)
			if after["estimated"] == true {
				t.Error("what was paid is still an estimate")
			}
		}
	}
	if kept := fmt.Sprint(p.must(200, "DELETE", "/starter", nil)["kept"]); kept != "[Hazelnuts, chopped]" {
		t.Errorf("kept: %s", kept)
	}

	// Packaging that by now goes with a box of one's own stays too: the box would ask for what is not there.
	p.must(201, "POST", "/starter", p.answers(object{"sells": object{"truffle": object{}}}))
	cup := find(t, p.must(200, "GET", "/supplies", nil)["supplies"], "name", "Paper cup")
	p.must(201, "POST", "/supplies", object{"name": "Gift boxes", "stock": object{"amount": 5, "unit": "each"},
		"paid": "5.00", "paidFor": object{"amount": 5, "unit": "each"},
		"fittings": []object{{"supply": cup["id"], "amount": object{"amount": 4, "unit": "each"}}}})
	if kept := fmt.Sprint(p.must(200, "DELETE", "/starter", nil)["kept"]); kept != "[Hazelnuts, chopped Paper cup]" {
		t.Errorf("kept: %s", kept)
	}
}

// TestTheStarterIsRunTwice: both runs are taken back in one go, to what stood before the first.
func TestTheStarterIsRunTwice(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	before := p.must(200, "GET", "/kitchen", nil)["hourly"]
	p.must(201, "POST", "/starter", p.answers(object{"sells": object{"bark": object{}}, "hourly": "21"}))
	p.must(201, "POST", "/starter", p.answers(object{"sells": object{"fudge": object{}}, "hourly": "22"}))
	if kept := p.must(200, "DELETE", "/starter", nil)["kept"].([]any); len(kept) != 0 {
		t.Errorf("kept: %v", kept)
	}
	if left := p.must(200, "GET", "/treats", nil)["treats"].([]any); len(left) != 0 {
		t.Errorf("%d treats are left", len(left))
	}
	if now := p.must(200, "GET", "/kitchen", nil)["hourly"]; now != before {
		t.Errorf("an hour pays %v, before %v", now, before)
	}
}

// TestACountryThatIsNotInTheTable begins in its own money, with no figures rather than wrong ones.
func TestACountryThatIsNotInTheTable(t *testing.T) {
	t.Parallel()
	p := open(t).visitor(t)
	p.must(201, "POST", "/kitchens", object{"kitchen": "Far south", "name": "Bo", "mail": "bo@south.example",
		"password": "quite another one", "timeZone": "America/Argentina/Ushuaia", "country": "AR"})
	if k := p.must(200, "GET", "/kitchen", nil); k["currency"] != "ARS" || k["hourly"] != "0" || k["units"] != "metric" {
		t.Errorf("%v, %v an hour, %v", k["currency"], k["hourly"], k["units"])
	}
}

// TestATreatWhereItIsMissed is made with all that it needs, in a kitchen that has nothing; its hours stay none.
func TestATreatWhereItIsMissed(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	one := object{"family": "truffle", "picks": object{"centre": "orange"}}
	made := p.must(201, "POST", "/starter/treats", one, "Idempotency-Key", "once")
	if again := p.must(201, "POST", "/starter/treats", one, "Idempotency-Key",
		"once"); fmt.Sprint(again) != fmt.Sprint(made) {
		t.Errorf("%v, then %v", made, again)
	}
	t1 := p.must(200, "GET", fmt.Sprint("/treats/", made["treats"].([]any)[0]), nil)
	if t1["name"] != "Orange truffles in dark chocolate" || t1["version"] != 1. {
		t.Errorf("%v", t1["name"])
	}
	if ids := missing(p.must(200, "GET", "/starter", nil)); ids != "hours prices address" {
		t.Errorf("it misses %s", ids)
	}
	if a := p.send("POST", "/starter/treats", object{"family": "soup", "picks": object{}}); a.status != 422 {
		t.Errorf("%d %s", a.status, a.body)
	}
}

// TestTheStarterRefuses nonsense whole: nothing of it stays.
func TestTheStarterRefuses(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	for _, c := range []struct {
		change object
		path   string
	}{
		{object{"sells": object{"soup": object{}}}, "sells.soup"},
		{object{"sells": object{"fruit": object{"fruit": "bricks"}}}, "sells.fruit"},
		{object{"paid": object{"Strawberries": object{"paid": "-3"}}}, "paid.Strawberries"},
		{object{"hourly": "a lot"}, "hourly"},
		{object{"trays": object{"fridge": -4}}, "spots[0].trays"},
		{object{"week": []any{[]any{}, []any{object{"from": "25:00", "to": "26:00", "hands": 1}}, []any{}, []any{},
			[]any{},
			[]any{}, []any{}}}, "week[1][0].from"},
		{object{"timeZone": "Moon/Crater"}, "timeZone"},
	} {
		a := p.send("POST", "/starter", p.answers(c.change))
		if a.status != 422 || !strings.Contains(a.body, c.path) {
			t.Errorf("%v: %d %s", c.change, a.status, a.body)
		}
	}
	if n := len(p.must(200, "GET", "/ingredients", nil)["ingredients"].([]any)); n != 0 {
		t.Errorf("%d ingredients", n)
	}
}

func missing(state object) string {
	ids := []string{}
	for _, m := range state["missing"].([]any) {
		ids = append(ids, m.(object)["id"].(string))
	}
	return strings.Join(ids, " ")
}
