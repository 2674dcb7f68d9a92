package app_test

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// making is the change by which a mix is to be made ahead.
func making(mix any, grams float64, day string, minutes int) object {
	return object{"kind": "make", "mix": mix, "day": day, "minutes": minutes,
		"amount": object{"amount": grams, "unit": "g"}}
}

// planned is where a mix stands in the plan.
func (p *person) planned(mix any) []object {
	p.t.Helper()
	var list []object
	for _, d := range p.must(200, "GET", "/plan", nil)["days"].([]any) {
		for _, s := range d.(object)["steps"].([]any) {
			if s.(object)["mix"] == mix {
				list = append(list, with(s.(object), object{"day": d.(object)["day"]}))
			}
		}
	}
	return list
}

// A mix that is to be made ahead is work of its own: it stands in the plan and on the bench, what it takes is set aside
// and bought, its tick puts it into the larder, and an order takes it from there.
func TestAMixIsPlannedAsWorkOfItsOwn(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	mix := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")
	id := mix["id"]
	butter, yield := 0.0, mix["weighed"].(object)["yield"].(float64)
	for i, part := range mix["parts"].([]any) {
		if p.item("Butter")["id"] == part.(object)["of"] {
			butter = mix["weighed"].(object)["of"].([]any)[i].(object)["mass"].(object)["amount"].(float64) / yield
		}
	}
	aside := func() float64 { return amount(p.item("Butter")["reserved"]) }
	before := aside()
	made := p.must(200, "POST", "/plan/changes", making(id, 400, "2026-09-08", 35))
	if says := made["says"].(string); !strings.Contains(says, "14 oz") || !strings.Contains(says, "Bergamot ganache") {
		t.Errorf("says %q", says)
	}
	at := p.planned(id)
	if len(at) != 1 || at[0]["day"].(string) > "2026-09-08" || at[0]["family"] != "mix" ||
		amount(at[0]["amount"]) != 400 || at[0]["hands"].(float64) < 35 {
		t.Fatalf("stands at %v", at)
	}
	if more := aside() - before; math.Abs(more-400*butter) > 0.01 {
		t.Errorf("%v g more of butter are set aside, want %v", more, 400*butter)
	}
	paper := p.send("GET", "/days/"+at[0]["day"].(string)+"/run-sheet.pdf", nil).body
	if !strings.HasPrefix(paper, "%PDF") {
		t.Error("the run sheet is not printed")
	}
	sheet := p.must(200, "GET", fmt.Sprint("/days/", at[0]["day"], "/run-sheet"), nil)
	step := find(t, sheet["steps"], "treat", "Bergamot ganache")
	if amount(step["amount"]) != 400 || !strings.Contains(fmt.Sprint(step["amounts"]), "Butter") {
		t.Errorf("the bench says %v", step)
	}

	// Another day off moves it, and never out of the plan while there is time.
	p.must(200, "POST", "/plan/changes", object{"kind": "off", "day": at[0]["day"], "reason": "away"})
	if now := p.planned(id); len(now) != 1 || now[0]["day"] == at[0]["day"] {
		t.Errorf("stands at %v with its day off", now)
	}
	p.must(200, "POST", "/plan/changes", object{"kind": "usual", "day": at[0]["day"]})

	// Not after all, and yet.
	batch := at[0]["batch"]
	dropped := p.must(200, "POST", "/plan/changes", object{"kind": "drop", "batch": batch})
	if len(p.planned(id)) != 0 || math.Abs(aside()-before) > 0.01 {
		t.Error("it is still in the plan, or its butter set aside")
	}
	p.must(200, "POST", fmt.Sprint("/plan/changes/", dropped["change"], "/undo"), nil)
	if len(p.planned(id)) != 1 {
		t.Fatal("undone, it is not in the plan again")
	}

	// Done: in the larder for seven days. Not done after all: what went into it is back.
	tick := fmt.Sprint("/batches/", batch, "/steps/", step["step"])
	there := p.stocked("Butter")
	p.must(200, "PUT", tick, object{"done": true})
	p.must(200, "PUT", tick, object{"done": true})
	lot := p.must(200, "GET", fmt.Sprint("/stock/", id), nil)["lotList"].([]any)[0].(object)
	if p.stocked("Bergamot ganache") != 400 || lot["bestBefore"] != "2026-09-09" || math.Abs(aside()-before) > 0.01 {
		t.Errorf("%v g in the larder, %v", p.stocked("Bergamot ganache"), lot)
	}
	if used := there - p.stocked("Butter"); math.Abs(used-400*butter) > 0.01 {
		t.Errorf("took %v g of butter, want %v", used, 400*butter)
	}
	p.must(200, "PUT", tick, object{"done": false})
	if back := p.stocked("Butter"); math.Abs(back-there) > 0.01 || p.stocked("Bergamot ganache") != 0 {
		t.Errorf("%v g of butter are back of %v", back, there)
	}
	p.must(200, "PUT", tick, object{"done": true})
	o := p.must(201, "POST", "/orders", with(p.draft("Bergamot truffles", 24), object{"customer": "Ahead Ann",
		"from": "2026-09-08T18:00:00Z", "to": "2026-09-08T19:00:00Z"}))
	p.move(200, o["id"], "promised")
	p.move(200, o["id"], "in the making")
	p.move(200, o["id"], "packed")
	if left := p.stocked("Bergamot ganache"); math.Abs(left-(400-27*11)) > 0.01 {
		t.Errorf("%v g are left", left)
	}
	// Some of it is in a treat: now it cannot have been made.
	if res := p.send("PUT", tick, object{"done": false}); res.status != 409 {
		t.Errorf("the tick is taken back: %d", res.status)
	}
}

// What cannot be planned is refused with its reason, and nothing of it stays.
func TestAMixThatCannotBePlanned(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	id := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")["id"]
	refused := func(mix any, grams float64, day string, minutes int) answer {
		return p.send("POST", "/plan/changes", making(mix, grams, day, minutes))
	}
	p.problem(422, "body.mix", "one of the mixes", refused(p.item("Butter")["id"], 400, "2026-09-08", 0))
	p.problem(422, "body.amount", "how much", refused(id, 0, "2026-09-08", 0))
	p.problem(422, "body.amount", "how much", refused(id, 2e5, "2026-09-08", 0))
	p.problem(422, "body.day", "has passed", refused(id, 400, "2026-09-01", 0))
	p.problem(422, "body.minutes", "600", refused(id, 400, "2026-09-08", 601))
	for day := 3; day <= 8; day++ {
		p.must(200, "POST", "/plan/changes", object{"kind": "off", "day": fmt.Sprintf("2026-09-%02d", day)})
	}
	if res := p.send("POST", "/plan/changes", making(id, 400, "2026-09-08", 30)); res.status != 409 || !strings.Contains(res.body, "no time") {
		t.Errorf("without a day to work on: %d %s", res.status, res.body)
	}
	if len(p.planned(id)) != 0 {
		t.Error("what was refused is in the plan")
	}
	other := p.must(200, "GET", "/plan", nil)["days"].([]any)
	for _, d := range other {
		for _, s := range d.(object)["steps"].([]any) {
			if res := p.send("POST", "/plan/changes", object{"kind": "drop", "batch": s.(object)["batch"]}); res.status != 409 {
				t.Fatalf("what is promised is taken out of the plan: %d", res.status)
			}
			return
		}
	}
}
