package app_test

import (
	"fmt"
	"strings"
	"testing"
)

// The pack list of a day, and what it says against the orders themselves: every piece comes out of a tin, free-from is
// first, packaging is the sum of what is not packed yet, and a tick stays for whoever packs along.
func TestThePackListOfADay(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, other := h.maren(t), h.maren(t)
	ada := p.delivery("Ada Quill", "Quay 12", "12:40", "13:30")
	one := p.delivery("Bo Ray", "Quay 14", "12:40", "13:30")
	day := p.must(200, "GET", "/days/2026-09-05/packing", nil)
	orders := day["orders"].([]any)
	if len(orders) < 4 {
		t.Fatalf("%v", orders)
	}
	if first := orders[0].(object); len(first["freeFrom"].([]any)) == 0 {
		t.Errorf("%v is first, though others must be free from something", first["customer"])
	}
	pieces, sums := map[string]int{}, map[string]float64{}
	for _, o := range orders {
		o := o.(object)
		for i, l := range o["lines"].([]any) {
			l := l.(object)
			pieces[fmt.Sprint(o["id"], l["name"])] += int(l["count"].(float64))
			if want := p.order(o["id"])["draft"].(object)["lines"].([]any)[i].(object)["count"]; l["count"] != want {
				t.Errorf("%v of %v, the order says %v", l, o["customer"], want)
			}
			if len(l["lots"].([]any)) == 0 || !strings.HasPrefix(fmt.Sprint(l["lots"].([]any)[0]), "L2609") {
				t.Errorf("%v is in no tin: %v", l["name"], l["lots"])
			}
		}
		for _, x := range o["packs"].([]any) {
			sums[x.(object)["name"].(string)] += x.(object)["amount"].(object)["amount"].(float64)
		}
	}
	for _, x := range day["tins"].([]any) {
		tin := x.(object)
		for _, part := range tin["for"].([]any) {
			part := part.(object)
			pieces[fmt.Sprint(part["order"], tin["name"])] -= int(part["count"].(float64))
		}
	}
	for what, left := range pieces {
		if left != 0 {
			t.Errorf("%s: %d pieces more in the list than in the tins", what, left)
		}
	}
	for _, x := range day["packs"].([]any) {
		x := x.(object)
		if got := x["amount"].(object)["amount"].(float64); got != sums[x["name"].(string)] {
			t.Errorf("%v: %v, the orders come to %v", x["name"], got, sums[x["name"].(string)])
		}
	}
	// Ada's and Bo's bombs are made in one go: one tin for both.
	for _, x := range day["tins"].([]any) {
		if tin := fmt.Sprint(x); strings.Contains(tin, ada) != strings.Contains(tin, one) {
			t.Errorf("one of two that are made together: %s", tin)
		}
	}
	tick := func(done bool) {
		p.must(204, "PUT", "/orders/"+ada+"/pack-ticks", object{"what": "line:0", "done": done})
	}
	line := func() any {
		o := find(t, other.must(200, "GET", "/days/2026-09-05/packing", nil)["orders"], "id", ada)
		return o["lines"].([]any)[0].(object)["done"]
	}
	tick(true)
	tick(true)
	if line() != true {
		t.Error("a tick is not seen by who packs along")
	}
	tick(false)
	if line() != false {
		t.Error("a tick that was taken back is still there")
	}
	if empty := p.must(200, "GET", "/days/2026-09-06/packing", nil); len(empty["orders"].([]any)) != 0 {
		t.Errorf("%v", empty)
	}
	p.problem(422, "path.day", "", p.send("GET", "/days/tomorrow/packing", nil))
}
