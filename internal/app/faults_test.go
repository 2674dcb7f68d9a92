package app_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"zestytin/core/fault"
)

// asked about what is seen somewhere.
func (p *person) asked(where object) object {
	p.t.Helper()
	return p.must(200, "POST", "/faults/question", where)
}

// larderOf is what is left of everything.
func (p *person) larderOf() map[string]float64 {
	p.t.Helper()
	left := map[string]float64{}
	for _, i := range p.must(200, "GET", "/stock", nil)["items"].([]any) {
		item := i.(object)
		left[item["name"].(string)] = item["stock"].(object)["amount"].(float64)
	}
	return left
}

// Every sign that can be seen at what this kitchen makes, from the sign to the booking and back: each of its fixes is
// offered with what it books, and then exactly that is booked; taken back, everything is as it was.
func TestEveryFaultFromSignToBooking(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	maren.everyTreat()
	seen := map[string]bool{}
	var days []string
	for d := 3; d <= 12; d++ {
		days = append(days, fmt.Sprintf("2026-09-%02d", d))
	}
	for _, day := range days {
		for _, step := range maren.sheetSteps(day) {
			where := object{"batch": step["batch"], "step": step["step"], "units": 1, "bowl": 450}
			for _, s := range maren.asked(where)["signs"].([]any) {
				sign := s.(object)["sign"].(string)
				if seen[sign] || !s.(object)["fits"].(bool) {
					continue
				}
				seen[sign] = true
				maren.mend(t, with(where, object{"sign": sign}))
			}
		}
	}
	for _, sign := range fault.Signs(nil) {
		if !seen[string(sign)] {
			t.Errorf("%s is seen nowhere", sign)
		}
	}
}

// everyTreat that nobody has ordered yet is, and a bark of two layers.
func (p *person) everyTreat() {
	p.t.Helper()
	bark := p.formula("Pistachio milk bark")
	layer := with(bark["coatings"].([]any)[0].(object), object{"role": "layer", "share": 0.5})
	steps := append(slices.Clone(bark["steps"].([]any)), object{"id": "layer", "name": "Second layer", "perRound": 8,
		"perBatch": 0, "perPiece": 0, "wait": 40, "place": "fridge", "pot": "layer"})
	p.must(201, "POST", "/treats", object{"name": "Two layers", "formula": with(bark, object{"steps": steps,
		"choices":  with(bark["choices"].(object), object{"style": "layers"}),
		"coatings": []any{bark["coatings"].([]any)[0], layer}})})
	for _, name := range []string{"Bergamot truffles", "Brown-butter walnut fudge", "Two layers"} {
		order := p.must(201, "POST", "/orders", p.draft(name, 12))
		p.move(200, order["id"], "promised")
	}
	cream := p.item("Heavy cream")
	p.must(200, "POST", fmt.Sprint("/stock/", cream["id"], "/counts"), object{"amount": object{"amount": 2000, "unit": "g"},
		"reason": "counted"})
}

// mend a fault in every way that is offered, and take it back.
func (p *person) mend(t *testing.T, where object) {
	t.Helper()
	told := p.asked(where)
	cream := told["creams"].([]any)[0].(object)
	var done []string
	for _, c := range told["causes"].([]any) {
		cause := c.(object)
		for _, x := range cause["fixes"].([]any) {
			fix := x.(object)
			key := fix["key"].(string)
			if slices.Contains(done, key) {
				continue
			}
			done = append(done, key)
			name := fmt.Sprintf("%s, %s, %s", where["sign"], cause["code"], key)
			if fix["do"] == "" || cause["next"] == "" || cause["why"] == "" {
				t.Errorf("%s: something is not said", name)
			}
			before, broken := p.larderOf(), p.brokenAt(where)
			made := p.must(201, "POST", "/faults", with(where, object{"cause": cause["code"], "fix": key, "cream": cream["id"]}))
			lost := int(made["pieces"].(float64))
			if now := p.brokenAt(where); now != broken+lost || lost > 1 || lost > 0 != (fix["lost"].(bool) && lost > 0) {
				t.Errorf("%s: %d broke, %d before, %d lost by it", name, now, broken, lost)
			}
			after := p.larderOf()
			moved := 0.0
			for item, left := range after {
				moved += math.Abs(left - before[item])
			}
			if says := len(fix["books"].([]any)); lost == 0 && (moved > 1e-6) != (says > 0) && !fix["lost"].(bool) {
				t.Errorf("%s: %v moved, and it says %v", name, moved, fix["books"])
			}
			if key == "sauce" {
				if d := after[cream["name"].(string)] - before[cream["name"].(string)]; math.Abs(d+225) > 1e-6 {
					t.Errorf("%s: %v g of cream", name, d)
				}
			}
			p.must(204, "DELETE", "/faults/"+made["id"].(string), nil)
			for item, left := range p.larderOf() {
				if math.Abs(left-before[item]) > 1e-6 {
					t.Errorf("%s: %s is at %v after it was taken back, was %v", name, item, left, before[item])
				}
			}
			if now := p.brokenAt(where); now != broken {
				t.Errorf("%s: %d are broken after it was taken back, were %d", name, now, broken)
			}
		}
	}
}

// brokenAt a step, as its run sheet has it.
func (p *person) brokenAt(where object) int {
	p.t.Helper()
	step := p.must(200, "POST", "/faults/question", object{"batch": where["batch"], "step": where["step"]})
	return int(step["broken"].(float64))
}
