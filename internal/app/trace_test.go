package app_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
)

// A mock recall: from the butter of a ganache that was made ahead to the order that got it, and back; and of all lots
// and orders of the demo, each way tells the same.
func TestFromALotToItsOrdersAndBack(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	mix := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")
	p.must(201, "POST", fmt.Sprint("/mixes/", mix["id"], "/lots"), object{"amount": object{"amount": 400, "unit": "g"}},
		"Idempotency-Key", "made")
	o := p.must(201, "POST", "/orders", with(p.draft("Bergamot truffles", 24), object{"customer": "=Recall Ray",
		"phone": "555 0199", "from": "2026-09-08T18:00:00Z", "to": "2026-09-08T19:00:00Z"}))
	lots := func(id any) []any {
		return p.must(200, "GET", fmt.Sprint("/orders/", id, "/lots"), nil)["lots"].([]any)
	}
	orders := func(id any) []any {
		return p.must(200, "GET", fmt.Sprint("/lots/", id, "/orders"), nil)["orders"].([]any)
	}
	p.move(200, o["id"], "promised")
	if got := lots(o["id"]); len(got) != 0 {
		t.Errorf("before it is made %v is in it", got)
	}
	p.move(200, o["id"], "in the making")
	p.move(200, o["id"], "packed")
	in := lots(o["id"])
	butter, ganache := find(t, in, "name", "Butter"), find(t, in, "name", "Bergamot ganache")
	if butter["used"] != nil || ganache["kind"] != "mix" || amount(ganache["used"]) != 27*11 {
		t.Errorf("butter %v, ganache %v", butter, ganache)
	}
	find(t, in, "name", "Dark 60%") // melted in a bowl
	find(t, in, "name", "Boxes for 12")
	got := orders(butter["id"])
	if ray := find(t, got, "customer", "=Recall Ray"); ray["phone"] != "555 0199" || ray["used"] != nil ||
		!strings.Contains(fmt.Sprint(ray["treats"]), "Bergamot truffles") {
		t.Errorf("%v", ray)
	}
	// No cell of the file is a formula to a spreadsheet.
	file := p.send("GET", fmt.Sprint("/lots/", butter["id"], "/orders.csv"), nil)
	if !strings.Contains(file.body, "'=Recall Ray") || !strings.Contains(file.body, "\r\n") {
		t.Errorf("%s", file.body)
	}
	if file = p.send("GET", fmt.Sprint("/orders/", o["id"], "/lots.csv"), nil); !strings.Contains(file.body, "Butter") {
		t.Errorf("%s", file.body)
	}

	// From any order to its lots, to all of their orders, past ones too, to their lots, until nothing new is found.
	both := map[string]int{}
	var askOrder, askLot func(id string)
	asked := map[string]bool{}
	askOrder = func(id string) {
		if asked[id] {
			return
		}
		asked[id] = true
		for _, l := range lots(id) {
			lot := l.(object)["id"].(string)
			both[lot+" "+id]++
			askLot(lot)
		}
	}
	askLot = func(id string) {
		if asked[id] {
			return
		}
		asked[id] = true
		for _, x := range orders(id) {
			of := x.(object)["id"].(string)
			both[id+" "+of]--
			askOrder(of)
		}
	}
	askOrder(o["id"].(string))
	if len(both) < 20 {
		t.Errorf("only %d pairs of lots and orders", len(both))
	}
	var wrong []string
	for pair, n := range both {
		if n != 0 {
			wrong = append(wrong, fmt.Sprint(pair, " ", n))
		}
	}
	slices.Sort(wrong)
	if len(wrong) > 0 {
		t.Errorf("told one way only: %v", wrong)
	}

	// Taken back, it is in nothing.
	p.move(200, o["id"], "in the making")
	for _, name := range []string{"lots/01900000-0000-7000-8000-000000000000/orders", "orders/01900000-0000-7000-8000-000000000000/lots"} {
		if res := p.send("GET", "/"+name, nil); res.status != 404 {
			t.Errorf("%s: %d", name, res.status)
		}
	}
}
