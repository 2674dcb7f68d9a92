package app_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

func TestIngredients(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	fine := ingredient("Candied ginger", object{"paid": "6.20", "paidFor": object{"amount": 8, "unit": "oz"}})
	made := p.must(201, "POST", "/ingredients", fine)
	if shown := made["paidForShown"].(object); shown["us"] != "8 oz" || shown["metric"] != "227 g" {
		t.Errorf("paid for %v", shown)
	}
	for _, c := range []struct {
		change     object
		path, says string
	}{
		{object{"name": " "}, "body.name", "name"},
		{object{"density": 0}, "body.density", "more than 0"},
		{object{"gramsEach": -1}, "body.gramsEach", "more than 0"},
		{object{"allergens": []string{"pollen"}}, "body.allergens[0]", "pollen"},
		{object{"paid": "dear"}, "body.paid", "not an amount of money"},
		{object{"paidFor": object{"amount": 1, "unit": "cup"}}, "body.paidFor", "density is not known"},
		{object{"paidFor": object{"amount": 12, "unit": "each"}}, "body.paidFor", "weight per piece is not known"},
		{object{"paidFor": object{"amount": 1, "unit": "handful"}}, "body.paidFor", "handful"},
		{object{"paidFor": object{"amount": 0, "unit": "g"}}, "body.paidFor", "more than 0"},
		{object{"unit": "each", "paidFor": object{"amount": 1, "unit": "each"}, "kind": "chocolate",
			"chocolate": object{"kind": "real", "colour": "dark"}}, "body.unit", "by weight"},
	} {
		p.problem(422, c.path, c.says, p.send("POST", "/ingredients",
			with(with(fine, object{"name": "Another"}), c.change)))
	}
	p.problem(409, "", "name already", p.send("POST", "/ingredients", fine))
	path := fmt.Sprint("/ingredients/", made["id"])
	p.problem(422, "body.unit", "cannot change", p.send("PUT", path,
		with(fine, object{"unit": "each", "paidFor": object{"amount": 1, "unit": "each"}}), "If-Match", `"1"`))
	changed := p.must(200, "PUT", path, with(fine, object{"paid": "7.00", "gramsEach": 4}), "If-Match", `"1"`)
	if changed["revision"] != 2.0 {
		t.Errorf("changed: %v", changed)
	}
	p.problem(412, "", "Someone else saved changes", p.send("PUT", path, fine, "If-Match", `"1"`))
}

// What was paid makes the cost: what is in the house at what its lot was paid for, the rest at the latest price.
func TestPaidMakesTheCost(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	question := object{"draft": p.draft("Hazelnut and sour-cherry bark", 20)}
	dark := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Dark 60%")
	cost := func() string {
		needs := p.must(200, "POST", "/estimates", question)["needs"]
		return find(t, needs, "name", "Dark 60%")["cost"].(object)["amount"].(string)
	}
	paid := func(amount string) {
		fields := ingredient("Dark 60%", object{"kind": "chocolate", "allergens": dark["allergens"],
			"chocolate": dark["chocolate"], "paid": amount, "paidFor": object{"amount": 1, "unit": "kg"}})
		p.must(200, "PUT", fmt.Sprint("/ingredients/", dark["id"]), fields, "If-Match",
			p.tag(fmt.Sprint("/ingredients/", dark["id"])))
	}
	p.must(200, "POST", fmt.Sprint("/stock/", dark["id"], "/counts"),
		object{"amount": object{"amount": 0, "unit": "g"}, "reason": "melted away"})
	paid("14.50")
	// By hand: 4 sheets of 329.0 g (rules 4.5; 328.87 to be exact: 33.02 x 24.13 x 0.3175 cm at 1.30)
	// with 2% on the tools are 1341.8 g; at 14.50 a kg 19.456.
	if got := cost(); got != "19.46" {
		t.Errorf("dark costs %s, want 19.46", got)
	}
	paid("29.00")
	if got := cost(); got != "38.91" {
		t.Errorf("at twice the price it costs %s", got)
	}
	// A kilogram that was bought for 10.00 two days ago is used first. In the house must be 60 g more for the bowl,
	// 1401.79 g: 10.00 + 401.79 x 0.029 = 21.652, of which 60 / 1401.79 come back, 0.927: 20.725.
	p.must(201, "POST", "/receipts", object{"shop": "Harbour market", "day": "2026-09-01",
		"lines": []object{{"item": dark["id"], "packs": 1, "size": object{"amount": 1, "unit": "kg"},
			"paid": "10.00"}}})
	// The promised orders have the first claim on it: of the kilogram nothing is free for this one.
	if got := cost(); got != "38.91" {
		t.Errorf("with a kilogram that others reserved it costs %s", got)
	}
	p.must(200, "POST", fmt.Sprint("/stock/", dark["id"], "/counts"),
		object{"amount": object{"amount": 0, "unit": "g"}, "reason": "given away"})
	reserved := find(t, p.must(200, "GET", "/stock", nil)["items"], "name",
		"Dark 60%")["reserved"].(object)["amount"].(float64)
	p.must(201, "POST", "/receipts", object{"shop": "Harbour market", "day": "2026-09-01",
		"lines": []object{{"item": dark["id"], "packs": 1, "size": object{"amount": reserved + 1000, "unit": "g"},
			"paid": fmt.Sprintf("%.2f", (reserved+1000)/100)}}})
	if got := cost(); got != "20.73" && got != "20.72" {
		t.Errorf("with a free kilogram at 10.00 it costs %s, want 20.73", got)
	}
}

func TestSupplies(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	fine := object{"name": "Tins", "stock": object{"amount": 24, "unit": "each"}, "paid": "30.00",
		"paidFor": object{"amount": 2, "unit": "dozen"}}
	made := p.must(201, "POST", "/supplies", fine)
	for _, c := range []struct {
		change     object
		path, says string
	}{
		{object{"name": ""}, "body.name", "name"},
		{object{"stock": object{"amount": -1, "unit": "each"}}, "body.stock", "less than 0"},
		{object{"stock": object{"amount": 1, "unit": "mL"}}, "body.stock", "measured by length"},
		{object{"stock": object{"amount": 1, "unit": "crate"}}, "body.stock", "crate"},
		{object{"paidFor": object{"amount": 1, "unit": "m"}}, "body.paidFor", ""},
		{object{"paid": "-1"}, "body.paid", "less than 0"},
	} {
		p.problem(422, c.path, c.says, p.send("POST", "/supplies",
			with(with(fine, object{"name": "More tins"}), c.change)))
	}
	path := fmt.Sprint("/supplies/", made["id"])
	p.problem(422, "body.stock", "another way", p.send("PUT", path,
		with(fine, object{"stock": object{"amount": 1, "unit": "m"}, "paidFor": object{"amount": 1, "unit": "m"}}),
		"If-Match", `"1"`))
	p.must(200, "PUT", path, with(fine, object{"stock": object{"amount": 2, "unit": "dozen"}}), "If-Match", `"1"`)
	if got := p.stock("Tins"); got != 24 {
		t.Errorf("two dozen are %v", got)
	}
	// What promised orders will take is set aside, and not there for another order.
	ribbon := find(t, p.must(200, "GET", "/supplies", nil)["supplies"], "name", "Ribbon")
	packs := p.must(200, "POST", "/estimates", object{"draft": p.draft("Milk malt bombs", 12)})["packs"]
	inTheHouse := find(t, packs, "name", "Ribbon")["stock"].(object)["amount"].(float64)
	aside := ribbon["setAside"].(object)["amount"].(float64)
	if aside <= 0 || inTheHouse != ribbon["stock"].(object)["amount"].(float64)-aside {
		t.Errorf("%v in all, %v set aside, %v in the house", ribbon["stock"], aside, inTheHouse)
	}
}

// What each day of promised work melts, added by hand; 2% of what stays on the pieces stays on bowl and tools. Begun
// are the fewest that are 95% sure.
//   - 3 September: 35 bombs for 30 (6 % lost), 70 half shells of 2/3 pi (31.75^3 - 28.25^3) mm3 at 1.30 g/mL in rounds of 24, 24 and 22, of which two are done; 200 g stay to work from, and 30 g in the cup for 3 g of lines on each.
//   - 5 September: 66 apricots for 60 and 53 strawberries for 48, 5 g of blue and 8 g of dark on each, and 1.5 g of lines on all; 250 g in a bowl that is dipped from. The lines of both come from one cup.
//   - 10 September: 4 sheets of bark of 13 x 9.5 x 1/8 in; 27 rods for 24, 8.5 g on each and 1 g of lines.
//   - 26 September: 27 truffles for 24, 4.5 g on each from a bowl of 300. 14 strawberries for 12, 10 of them in dark and 4 in blue, 10 g on each, 5 with lines of 1.5 g. 14 cubes for 12: a shell of 38% and a cap of 10% of 11 mL, lines of 0.8 g; 2 sheets of bark from
//     the same bowl of milk, 200 g of which stay in the end; the caps are topped up.
func TestADayMeltsWhatItsBowlsTake(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	half := 2. / 3 * math.Pi * (math.Pow(31.75, 3) - math.Pow(28.25, 3)) / 1000 * 1.3
	sheet := 330.2 * 241.3 * 3.175 / 1000 * 1.3
	shared := 0
	for day, by := range map[string]map[string][]float64{
		"03": {"Milk 38%": {22*half*1.02 + 200}, "White coating": {35*3*1.02 + 30}},
		"05": {"Lake blue coating": {66*5*1.02 + 250}, "Dark 60%": {53*8*1.02 + 250},
			"White coating": {(66+53)*1.5*1.02 + 30}},
		"10": {"Dark 60%": {4*sheet*1.02 + 60}, "Milk 38%": {27*8.5*1.02 + 200}, "White coating": {27*1*1.02 + 30}},
		"26": {"Dark 60%": {10*10*1.02 + 250, 27*4.5*1.02 + 300}, "Lake blue coating": {4*10*1.02 + 200},
			"White coating": {(14*0.8+5*1.5)*1.02 + 30},
			"Milk 38%":      {(14*0.38*11*1.3+2*sheet)*1.02 + 200, 14 * 0.1 * 11 * 1.3 * 1.02}},
	} {
		sheet := p.must(200, "GET", "/days/2026-09-"+day+"/run-sheet", nil)
		melts := map[string][]float64{}
		for _, s := range sheet["sessions"].([]any) {
			for _, x := range s.(object)["setups"].([]any) {
				setup := x.(object)
				if setup["wash"] == true {
					continue
				}
				name := setup["pot"].(string)
				melts[name] = append(melts[name], amount(setup["melt"]))
				if !strings.HasPrefix(advised(setup), "Melt ") || len(setup["for"].([]any)) == 0 {
					t.Errorf("melted, and no word how or for what: %v", setup)
				}
			}
		}
		for _, s := range sheet["steps"].([]any) {
			step := s.(object)
			if step["topUp"] != nil {
				melts[step["pot"].(string)] = append(melts[step["pot"].(string)], amount(step["topUp"]))
			}
			advice := advised(step)
			if step["melt"].(float64) > 0 && !strings.HasPrefix(advice, "Melt ") {
				t.Errorf("melted, and no word how: %v", step)
			}
			if day == "05" && strings.Contains(advice, "of White coating are in it for this") {
				shared++
				want := map[string]string{"Wren family and Anouk Lindqvist": "2.9 oz",
					"Wren family and Science night": "3 1/2 oz"}[whom(step)] // 53 and 66 x 1.5 x 1.02: 81 and 101 g
				if want == "" || !strings.Contains(advice, want) {
					t.Errorf("shared: %s for %v", advice, whom(step))
				}
			}
		}
		for name, want := range by {
			slices.Sort(want)
			slices.Sort(melts[name])
			if !slices.EqualFunc(melts[name], want, func(a, b float64) bool { return math.Abs(a-b) < 0.01 }) {
				t.Errorf("%s on the %s: melted %v g, by hand %v g", name, day, melts[name], want)
			}
			delete(melts, name)
		}
		if len(melts) > 0 {
			t.Errorf("melted as well on the %s: %v", day, melts)
		}
	}
	if shared != 1 {
		t.Errorf("%d steps share a bowl", shared)
	}
}

// advised is the advice of a step, its lines one after the other.
func advised(of object) string {
	lines, _ := of["advice"].([]any)
	text := ""
	for _, line := range lines {
		text += line.(string) + " "
	}
	return text
}
