package app_test

import (
	"math"
	"testing"
)

// A flavour that is counted in pieces and stirred into a bowl is bought in pieces: the list needs of it as many as the
// order uses.
func TestAFlavourIsBoughtAsItIsKept(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	p.must(201, "POST", "/ingredients", ingredient("Mint tablets",
		object{"kind": "flavour", "unit": "each", "gramsEach": 0.25, "paid": "4.00",
			"paidFor": object{"amount": 50, "unit": "each"}}))
	tablets := p.item("Mint tablets")
	f := p.must(200, "GET", "/families/cluster/formula", nil)
	coat := with(f["coatings"].([]any)[0].(object), object{"ingredient": p.item("White coating")["id"],
		"flavour": object{"ingredient": tablets["id"], "amount": object{"amount": 2, "unit": "each"},
			"to": object{"amount": 100, "unit": "g"}}})
	treat := p.must(201, "POST", "/treats", object{"name": "Mint clusters",
		"formula": with(f, object{"coatings": []any{coat}})})
	draft := with(p.draft("Milk malt bombs", 40), object{"lines": []object{{"treat": treat["id"], "count": 40}}})
	order := p.must(201, "POST", "/orders", draft)
	used := amount(find(t, p.must(200, "POST", "/estimates", object{"order": order["id"], "draft": draft})["needs"],
		"name", "Mint tablets")["used"])
	p.move(200, order["id"], "promised")
	need := func() float64 {
		sum := 0.0
		for _, s := range p.must(200, "GET", "/shopping-list?from=2026-09-03&to=2026-09-20", nil)["shops"].([]any) {
			for _, l := range s.(object)["lines"].([]any) {
				if line := l.(object); line["item"] == tablets["id"] {
					sum = amount(line["need"])
				}
			}
		}
		return sum
	}
	if got := need(); used <= 0 || math.Abs(got-used) > 0.001 {
		t.Errorf("the list needs %v tablets, the order uses %v", got, used)
	}
}

// What has gone into a bowl that is booked is not set aside any more, though the batch is not made yet.
func TestABookedBowlIsNotSetAside(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	id := p.bombs("Ada Quill", 12)
	batch := p.day(id)["batch"]
	before := p.item("Dark 60%")
	for _, s := range p.steps(batch) {
		if step := s["step"].(string); len(step) > 6 && step[:6] == "shells" {
			p.tick(batch, step, true)
		}
	}
	after := p.item("Dark 60%")
	gone := amount(before["stock"]) - amount(after["stock"])
	if released := amount(before["reserved"]) - amount(after["reserved"]); gone <= 0 || math.Abs(gone-released) > 0.01 {
		t.Errorf("%v g are gone from the shelf, %v g less are set aside", gone, released)
	}
	if math.Abs(amount(before["free"])-amount(after["free"])) > 0.01 {
		t.Errorf("free are %v, were %v", after["free"], before["free"])
	}
}
