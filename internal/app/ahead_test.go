package app_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

// stocked is how much of a thing is in the larder; 0 where it is not listed.
func (p *person) stocked(name string) float64 {
	p.t.Helper()
	for _, i := range p.must(200, "GET", "/stock", nil)["items"].([]any) {
		if i.(object)["name"] == name {
			return amount(i.(object)["stock"])
		}
	}
	return 0
}

// A mix that is made ahead uses what goes into it once, lies in the larder for as long as it keeps, goes into an order
// that it is good for, and what was used comes back with it where it is taken back.
func TestAMixIsMadeAhead(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	mix := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")
	lots := fmt.Sprint("/mixes/", mix["id"], "/lots")
	// A gram of it is made of so much butter: the parts over what they come to, of which 2% stay in the pot.
	butter, yield := 0.0, mix["weighed"].(object)["yield"].(float64)
	for i, part := range mix["parts"].([]any) {
		if p.item("Butter")["id"] == part.(object)["of"] {
			butter = mix["weighed"].(object)["of"].([]any)[i].(object)["mass"].(object)["amount"].(float64) / yield
		}
	}
	before := p.stocked("Butter")
	made := object{"amount": object{"amount": 400, "unit": "g"}}
	p.must(201, "POST", lots, made, "Idempotency-Key", "once")
	of := p.must(201, "POST", lots, made, "Idempotency-Key", "once")
	lot := of["lotList"].([]any)[0].(object)
	// Made on Thursday 3, with cream in it: seven days, the first of them counted.
	if amount(of["stock"]) != 400 || lot["origin"] != "made" || lot["bestBefore"] != "2026-09-09" || of["mix"] != true ||
		lot["paid"].(object)["amount"] == "0.00" {
		t.Fatalf("%v", of)
	}
	if used := before - p.stocked("Butter"); math.Abs(used-400*butter) > 0.01 {
		t.Errorf("400 g took %v g of butter, want %v", used, 400*butter)
	}
	p.must(204, "DELETE", fmt.Sprint("/lots/", lot["id"]), nil)
	if back := p.stocked("Butter"); math.Abs(back-before) > 0.01 || p.stocked("Bergamot ganache") != 0 {
		t.Errorf("taken back there are %v g of butter, were %v", back, before)
	}
	p.must(201, "POST", lots, made, "Idempotency-Key", "again")

	// An order for the 8th takes it; one for the 12th, when it is too old, does not.
	draft := func(day string) object {
		return with(p.draft("Bergamot truffles", 24), object{"from": day + "T18:00:00Z", "to": day + "T19:00:00Z"})
	}
	taken := func(day string) float64 {
		for _, n := range p.must(200, "POST", "/estimates", object{"draft": draft(day)})["needs"].([]any) {
			if n.(object)["name"] == "Bergamot ganache" {
				return amount(n.(object)["used"])
			}
		}
		return 0
	}
	if late := taken("2026-09-12"); late != 0 {
		t.Errorf("takes %v g that are too old then", late)
	}
	// 24 good of 11 g at 5% lost are begun as 27.
	if soon := taken("2026-09-08"); math.Abs(soon-27*11) > 0.01 {
		t.Errorf("takes %v g, want %v", soon, 27*11)
	}
	o := p.must(201, "POST", "/orders", with(draft("2026-09-08"), object{"customer": "Ahead Ann"}))
	p.move(200, o["id"], "promised")
	if i := p.item("Bergamot ganache"); math.Abs(amount(i["reserved"])-27*11) > 0.01 {
		t.Errorf("%v are set aside", i["reserved"])
	}
	// Another of the same is made in one go with it: half of all that there is goes into each.
	if half := taken("2026-09-08"); math.Abs(half-400/2) > 0.01 {
		t.Errorf("the next order takes %v g, want half of 400", half)
	}
	planned := p.day(o["id"])
	sheet := p.must(200, "GET", fmt.Sprint("/days/", planned["day"], "/run-sheet"), nil)["steps"]
	if !strings.Contains(fmt.Sprint(sheet), "made ahead, good until") {
		t.Error("the run sheet does not say that it was made ahead")
	}
	// Gone after all: what it is made of is wanted again.
	wanted := func() float64 { return amount(p.item("Butter")["reserved"]) }
	spared := wanted()
	p.must(200, "POST", fmt.Sprint("/stock/", mix["id"], "/counts"), object{"amount": object{"amount": 100, "unit": "g"},
		"reason": "dropped"})
	if more := wanted() - spared; math.Abs(more-(27*11-100)*butter) > 0.01 {
		t.Errorf("%v g more of butter are set aside, want %v", more, (27*11-100)*butter)
	}
	// Made, the order takes what is there, and for the rest what goes into it.
	before = p.stocked("Butter")
	p.move(200, o["id"], "in the making")
	p.move(200, o["id"], "packed")
	if left := p.stocked("Bergamot ganache"); left != 0 {
		t.Errorf("%v g of ganache are left", left)
	}
	if used := before - p.stocked("Butter"); math.Abs(used-(27*11-100)*butter) > 0.01 {
		t.Errorf("took %v g of butter", used)
	}
	p.problem(422, "body.amount", "how much came out", p.send("POST", lots, object{"amount": object{"amount": 0, "unit": "g"}},
		"Idempotency-Key", "none"))
	p.problem(422, "body.until", "good today", p.send("POST", lots, object{"amount": object{"amount": 5, "unit": "g"},
		"until": "2026-09-01"}, "Idempotency-Key", "old"))
}

// What was made of other parts is another thing: its allergens are not those of the mix as it is now.
func TestAMixChangedSinceIsNotTaken(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	mix := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")
	path := fmt.Sprint("/mixes/", mix["id"])
	p.must(201, "POST", path+"/lots", object{"amount": object{"amount": 400, "unit": "g"}}, "Idempotency-Key", "made")
	takes := func() bool {
		needs := p.must(200, "POST", "/estimates", object{"draft": with(p.draft("Bergamot truffles", 12),
			object{"from": "2026-09-08T18:00:00Z", "to": "2026-09-08T19:00:00Z"})})["needs"].([]any)
		return slices.ContainsFunc(needs, func(n any) bool { return n.(object)["name"] == "Bergamot ganache" })
	}
	if !takes() {
		t.Fatal("it is not taken at all")
	}
	parts := append([]any{}, mix["parts"].([]any)...)
	parts[0] = with(parts[0].(object), object{"amount": object{"amount": 777, "unit": "g"}})
	change := func(parts []any, method string) {
		p.must(200, "PUT", path, object{"name": mix["name"], "parts": parts, "loss": mix["loss"],
			"density": mix["density"], "method": method}, "If-Match", p.tag(path))
	}
	change(parts, "as before")
	if takes() {
		t.Error("what was made of other parts is taken")
	}
	change(mix["parts"].([]any), "other words")
	if !takes() {
		t.Error("what is made of the same is not taken because its method has other words")
	}
}
