package app_test

import (
	"fmt"
	"strings"
	"testing"
)

// A copy begins as the other is saved, under the next free name; what is changed of it is told, and the other stays.
func TestCopiesOfTreats(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	path := "/treats/" + p.treat("Cardamom-malt bombs")
	original := p.must(200, "GET", path, nil)
	one := p.must(201, "POST", path+"/copies", object{}, "Idempotency-Key", "copy")
	again := p.must(201, "POST", path+"/copies", object{}, "Idempotency-Key", "copy")
	if one["name"] != "Cardamom-malt bombs 2" || again["id"] != one["id"] || one["version"] != 1.0 ||
		fmt.Sprint(one["formula"]) != fmt.Sprint(original["formula"]) {
		t.Fatalf("%v", one)
	}
	at := fmt.Sprint("/treats/", one["id"])
	if d := p.must(200, "GET", at+"/differences", nil); len(d["changes"].([]any)) != 0 {
		t.Errorf("%v", d)
	}
	formula := with(one["formula"].(object), object{"loss": 0.1, "note": "for the market"})
	p.must(200, "PUT", at, object{"name": "Market bombs", "formula": formula}, "If-Match", p.tag(at))
	d := p.must(200, "GET", at+"/differences", nil)
	if of := d["of"].(object); of["id"] != original["id"] || of["name"] != "Cardamom-malt bombs" || of["version"] != 1.0 {
		t.Errorf("%v", of)
	}
	if told := fmt.Sprint(d["changes"]); len(d["changes"].([]any)) != 2 || !strings.Contains(told, "10%") ||
		!strings.Contains(told, "for the market") {
		t.Errorf("%s", told)
	}
	// A copy of the copy is of the copy; its name counts on from where it began.
	third := p.must(201, "POST", at+"/copies", object{}, "Idempotency-Key", "third")
	if of := third["copyOf"].(object); third["name"] != "Market bombs 2" || of["id"] != one["id"] || of["version"] != 2.0 {
		t.Errorf("%v", third)
	}
	if fourth := p.must(201, "POST", fmt.Sprint("/treats/", third["id"], "/copies"), object{}, "Idempotency-Key",
		"fourth"); fourth["name"] != "Market bombs 3" {
		t.Errorf("%v", fourth["name"])
	}
	p.problem(409, "", "", p.send("POST", path+"/copies", object{"name": "Market bombs"}, "Idempotency-Key", "taken"))
	p.problem(404, "", "no such", p.send("GET", path+"/differences", nil))
}

// The note of a line goes to the bench with its order; it can be changed when the work has been planned, and what is
// planned stays where it is.
func TestNotesReachTheBench(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	o := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"customer": "Noted Nan",
		"from": "2026-09-10T16:00:00Z", "to": "2026-09-10T17:00:00Z",
		"lines": []object{{"treat": p.treat("Milk malt bombs"), "count": 12, "note": "initials in gold"}}}))
	path := fmt.Sprint("/orders/", o["id"])
	p.move(200, o["id"], "promised")
	planned := p.day(o["id"])
	sheet := func() string {
		return fmt.Sprint(p.must(200, "GET", fmt.Sprint("/days/", planned["day"], "/run-sheet"), nil)["steps"])
	}
	if !strings.Contains(sheet(), "initials in gold") {
		t.Errorf("not on the run sheet of %v", planned["day"])
	}
	draft := p.must(200, "GET", path, nil)["draft"].(object)
	draft["lines"].([]any)[0].(object)["note"] = "initials in silver"
	p.must(200, "PUT", path, draft, "If-Match", p.tag(path))
	if now := p.day(o["id"]); now["batch"] != planned["batch"] || now["day"] != planned["day"] {
		t.Errorf("a note moved the work from %v to %v", planned, now)
	}
	if now := sheet(); !strings.Contains(now, "initials in silver") || strings.Contains(now, "in gold") {
		t.Error("the run sheet has the old note")
	}
	draft["lines"].([]any)[0].(object)["note"] = strings.Repeat("x", 501)
	p.problem(422, "body.lines[0].note", "500", p.send("PUT", path, draft, "If-Match", p.tag(path)))
}
