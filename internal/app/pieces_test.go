package app_test

import (
	"fmt"
	"net/http"
	"sync"
	"testing"
)

// stepsOf an order's first batch, in order.
func (p *person) stepsOf(order any) (batch string, steps []object) {
	p.t.Helper()
	days := p.order(order)["days"].([]any)
	first := days[0].(object)
	batch = first["batch"].(string)
	for _, day := range first["days"].([]any) {
		for _, s := range p.must(200, "GET", fmt.Sprint("/days/", day, "/run-sheet"), nil)["steps"].([]any) {
			if s.(object)["batch"] == batch {
				steps = append(steps, s.(object))
			}
		}
	}
	return batch, steps
}

func (p *person) missing(order any) int {
	p.t.Helper()
	n := 0
	for _, s := range p.must(200, "GET", "/shortfalls", nil)["shortfalls"].([]any) {
		if s.(object)["order"] == order {
			n += int(s.(object)["missing"].(float64))
		}
	}
	return n
}

// Too few good pieces: it is told, nothing is packed that is not there, more are made once, or the order takes fewer
// and costs less.
func TestTooFewGoodPieces(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	order := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	id := order["id"]
	p.move(200, id, "promised")
	batch, steps := p.stepsOf(id)
	at := fmt.Sprint("/batches/", batch, "/steps/", steps[0]["step"], "/losses")
	lines := p.must(200, "POST", "/estimates", object{"order": id, "draft": order["draft"]})["lines"].([]any)
	started := int(lines[0].(object)["card"].(object)["start"].(float64))

	// Nonsense is refused.
	p.problem(422, "body.pieces", "no more than that can break", p.send("POST", at, object{"pieces": started + 1}))
	p.problem(422, "body.pieces", "no more than that can be taken back", p.send("POST", at, object{"pieces": -1}))
	p.problem(404, "", "step", p.send("POST", fmt.Sprint("/batches/", batch, "/steps/nothing/losses"),
		object{"pieces": 1}))

	// Sent again after a lost answer it is one piece, at this step of this batch; then it is taken back.
	for range 2 {
		if s := p.must(200, "POST", at, object{"pieces": 1}, "Idempotency-Key", "broke-one"); s["broken"] != 1.0 {
			t.Fatalf("sent twice, %v broke", s["broken"])
		}
	}
	p.problem(422, "", "used for something else", p.send("POST", at, object{"pieces": 2}, "Idempotency-Key", "broke-one"))
	p.must(200, "POST", at, object{"pieces": -1})

	// What is more than was promised may break.
	for i := range started - 12 {
		if s := p.must(200, "POST", at, object{"pieces": 1}); int(s["broken"].(float64)) != i+1 {
			t.Fatalf("%v broke, want %d", s["broken"], i+1)
		}
	}
	if n := p.missing(id); n != 0 {
		t.Fatalf("%d are missing of 12 good ones", n)
	}
	p.must(200, "POST", at, object{"pieces": 3})
	p.must(200, "POST", at, object{"pieces": -1})
	if n := p.missing(id); n != 2 {
		t.Fatalf("%d are missing, want 2", n)
	}
	p.move(200, id, "in the making")
	p.problem(409, "", "Only 10 of 12 Milk malt bombs are good. Make 2 more", p.send("POST",
		fmt.Sprint("/orders/", id, "/moves"), object{"to": "packed"}))

	// Both people touch "make 2 more" at once: two are made, not four.
	more := fmt.Sprint("/orders/", id, "/remakes")
	p.problem(422, "body.count", "Between 1 and 2", p.send("POST", more, object{"line": 0, "count": 3}))
	p.problem(422, "body.line", "has no line 2", p.send("POST", more, object{"line": 1, "count": 1}))
	before := p.order(id)
	answers := make([]answer, 2)
	var both sync.WaitGroup
	for i := range answers {
		both.Go(func() { answers[i] = p.send("POST", more, object{"line": 0, "count": 2}) })
	}
	both.Wait()
	if a, b := answers[0].status, answers[1].status; min(a, b) != http.StatusOK || max(a, b) != http.StatusConflict {
		t.Fatalf("made more twice: %d %d\n%s\n%s", a, b, answers[0].body, answers[1].body)
	}
	after := p.order(id)
	if n := len(after["days"].([]any)); n != 2 || p.missing(id) != 0 {
		t.Errorf("%d batches and %d missing, want 2 and none", n, p.missing(id))
	}
	if before["agreed"].(object)["amount"] != after["agreed"].(object)["amount"] {
		t.Errorf("the price went from %v to %v", before["agreed"], after["agreed"])
	}
	// The order can be looked at and estimated as before.
	r := p.must(200, "POST", "/estimates", object{"order": id, "draft": after["draft"]})
	if r["money"].(object)["asked"].(object)["amount"] != after["agreed"].(object)["amount"] {
		t.Errorf("asks %v", r["money"])
	}

	// One of those breaks too: now the order takes eleven.
	for _, d := range after["days"].([]any) {
		if d := d.(object); d["batch"] != batch {
			sheet := p.must(200, "GET", fmt.Sprint("/days/", d["day"], "/run-sheet"), nil)
			again := find(t, sheet["steps"], "batch", d["batch"])
			begun := 2
			for n := range 12 { // as many as leave one of two
				s := p.send("POST", fmt.Sprint("/batches/", d["batch"], "/steps/", again["step"], "/losses"),
					object{"pieces": 1})
				if begun = n; s.status != 200 || p.missing(id) == 1 {
					break
				}
			}
			if p.missing(id) != 1 {
				t.Fatalf("after %d of the new ones broke %d are missing, want 1", begun, p.missing(id))
			}
		}
	}
	counts := fmt.Sprint("/orders/", id, "/counts")
	p.problem(422, "body.count", "Between 1 and 12", p.send("POST", counts, object{"line": 0, "count": 13}))
	p.problem(422, "body.agreed", "", p.send("POST", counts, object{"line": 0, "count": 11, "agreed": "much"}))
	was := decimalOf(after["agreed"].(object)["amount"])
	fewer := p.must(200, "POST", counts, object{"line": 0, "count": 11})
	now, want := decimalOf(fewer["agreed"].(object)["amount"]), was.Mul(decimalOf("11")).Div(decimalOf("12")).Round(2)
	if !now.Equal(want) {
		t.Errorf("11 of 12 cost %v, want %v", now, want)
	}
	back := p.must(200, "POST", counts, object{"line": 0, "count": 12, "agreed": was.String()})
	if now := decimalOf(back["agreed"].(object)["amount"]); !now.Equal(was) || p.missing(id) != 1 {
		t.Errorf("taken back it costs %v, was %v", now, was)
	}
	p.must(200, "POST", counts, object{"line": 0, "count": 11, "agreed": "20"})
	p.move(200, id, "packed")
	p.problem(409, "", "cannot change any more", p.send("POST", counts, object{"line": 0, "count": 10}))
	p.move(200, id, "handed over")
	owed := find(t, p.must(200, "GET", "/till", nil)["owed"], "order", id)
	if owed["rest"].(object)["amount"] != "20.00" {
		t.Errorf("the till asks for %v", owed["rest"])
	}
}

// There is no time for more: it says so, and nothing is changed.
func TestNoTimeForMore(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	id := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))["id"]
	p.move(200, id, "promised")
	p.move(200, id, "in the making")
	_, steps := p.stepsOf(id)
	for _, s := range steps {
		p.must(200, "PUT", fmt.Sprint("/batches/", s["batch"], "/steps/", s["step"]), object{"done": true})
	}
	p.must(200, "PUT", fmt.Sprint("/batches/", steps[0]["batch"], "/result"), object{"good": 9})
	// Every day before the handover is taken off.
	for day := 3; day <= 12; day++ {
		p.send("POST", "/plan/changes", object{"kind": "off", "day": fmt.Sprintf("2026-09-%02d", day)})
	}
	p.problem(409, "", "There is no room for 3 more Milk malt bombs before the handover", p.send("POST",
		fmt.Sprint("/orders/", id, "/remakes"), object{"line": 0, "count": 3}))
	if n := p.missing(id); n != 3 {
		t.Errorf("%d are missing, want 3", n)
	}
}

// Promised by an older version, which kept no price: fewer are handed over, and the price stays open.
func TestFewerWithoutAFixedPrice(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	id := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))["id"]
	p.move(200, id, "promised")
	p.move(200, id, "in the making")
	h.own(t, "update orders set agreed = null, gross = null, tax = null where id = $1", id)
	counts := fmt.Sprint("/orders/", id, "/counts")
	now := p.must(200, "POST", counts, object{"line": 0, "count": 9})
	if n := now["draft"].(object)["lines"].([]any)[0].(object)["count"]; n != 9.0 {
		t.Errorf("%v are handed over, want 9", n)
	}
	if agreed, there := now["agreed"]; there && agreed != nil {
		t.Errorf("a price came from nowhere: %v", agreed)
	}
	p.problem(422, "body.agreed", "no fixed price", p.send("POST", counts, object{"line": 0, "count": 10, "agreed": "25"}))
}
