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

// What an order asks for is kept with it, told where it does not fit with what is in the way, and what would fit has
// been tried; the quote says what holds, and never more.
func TestWishesOfAnOrder(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	draft := with(p.draft("Cardamom-malt bombs", 12), object{"customer": "Vera", "wishes": []string{"no gelatine", "vegan"}})
	o := p.must(201, "POST", "/orders", draft)
	if kept := p.order(o["id"])["draft"].(object)["wishes"]; fmt.Sprint(kept) != "[no gelatine vegan]" {
		t.Errorf("kept %v", kept)
	}
	care := fmt.Sprint(p.must(200, "POST", "/estimates", object{"draft": draft})["care"])
	if !strings.Contains(care, "is not vegan") {
		t.Errorf("%s", care)
	}
	// Made of what suits, it fits, and one swap says what it costs.
	p.must(201, "POST", "/ingredients", ingredient("Vegan dark 60%", object{"kind": "chocolate", "allergens": []string{},
		"diets": []string{"vegan", "no alcohol", "no gelatine"}, "paid": "24.00",
		"chocolate": object{"kind": "real", "colour": "dark"}}))
	plain := p.treat("Cardamom-malt bombs")
	path := "/treats/" + plain
	f := p.must(200, "GET", path, nil)["formula"].(object)
	p.must(200, "PUT", path, object{"name": "Cardamom-malt bombs", "formula": with(f, object{
		"coatings": []any{f["coatings"].([]any)[0]}, "portions": []any{}, "finishes": []any{},
		"steps": p.must(200, "POST", "/calculators/steps", object{"after": with(f, object{
			"coatings": []any{f["coatings"].([]any)[0]}})})["steps"]})}, "If-Match", p.tag(path))
	swaps := p.must(200, "POST", "/swaps", object{"draft": draft})["swaps"].([]any)
	if len(swaps) == 0 || !strings.Contains(fmt.Sprint(swaps[0]), "Vegan dark 60% in place of Dark 60%") {
		t.Errorf("%v", swaps)
	}
	p.problem(422, "body.wishes[0]", "not a wish we know", p.send("POST", "/estimates",
		object{"draft": with(draft, object{"wishes": []string{"paleo"}})}))
}

// One line asks for more than the order: it is kept, checked, told, and goes into the file of orders; a swap becomes a
// treat of its own, with a mix of its own, and the other stays.
func TestWishesOfALineAndACopyThatFits(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	truffles := p.treat("Bergamot truffles")
	draft := with(p.draft("Bergamot truffles", 12), object{"customer": "Line Lena", "wishes": []string{"no gelatine"},
		"lines": []object{{"treat": truffles, "count": 12}, {"treat": truffles, "count": 6, "wishes": []string{"vegan"},
			"freeFrom": []string{"milk"}}}})
	o := p.must(201, "POST", "/orders", draft)
	lines := p.order(o["id"])["draft"].(object)["lines"].([]any)
	if kept := lines[1].(object); fmt.Sprint(kept["wishes"], kept["freeFrom"]) != "[vegan] [milk]" ||
		lines[0].(object)["wishes"] != nil {
		t.Fatalf("%v", lines)
	}
	p.problem(409, "", "", p.send("POST", fmt.Sprint("/orders/", o["id"], "/moves"), object{"to": "promised"}))
	if file := p.send("GET", "/orders.csv", nil).body; !strings.Contains(file, ",suits") ||
		!strings.Contains(file, "no gelatine") || !strings.Contains(file, "6 Bergamot truffles {vegan, -milk}") {
		t.Errorf("%s", file)
	} else { // and in again
		head, _, _ := strings.Cut(file, "\n")
		at := strings.LastIndex(file, "\n"+strings.Split(fmt.Sprint(p.order(o["id"])["number"]), ".")[0]+",")
		p.must(200, "POST", "/orders.csv", head+file[at:], "Content-Type", "text/csv")
		found := 0
		for _, x := range p.must(200, "GET", "/orders", nil)["orders"].([]any) {
			if x.(object)["customer"] != "Line Lena" || x.(object)["id"] == o["id"] {
				continue
			}
			found++
			again := p.order(x.(object)["id"])["draft"].(object)
			if second := again["lines"].([]any)[1].(object); fmt.Sprint(second["wishes"], second["freeFrom"],
				again["wishes"]) != "[vegan] [milk] [no gelatine]" {
				t.Errorf("came in as %v", again)
			}
		}
		if found != 1 {
			t.Errorf("%d orders came in", found)
		}
	}
	dark := p.item("Dark 60%")["id"]
	vegan := p.must(201, "POST", "/ingredients", ingredient("Vegan dark", object{"kind": "chocolate",
		"diets": []string{"vegan", "no alcohol", "no gelatine"}, "chocolate": object{"kind": "real", "colour": "dark"}}))
	path := "/treats/" + truffles
	copied := p.must(201, "POST", path+"/copies", object{"name": "Dark bergamot truffles",
		"swaps": []object{{"out": dark, "in": vegan["id"]}}}, "Idempotency-Key", "swapped")
	f := copied["formula"].(object)
	if was := p.must(200, "GET", path, nil)["formula"].(object); fmt.Sprint(f["centre"].(object)["of"]) ==
		fmt.Sprint(was["centre"].(object)["of"]) || strings.Contains(fmt.Sprint(f), fmt.Sprint(dark)) ||
		!strings.Contains(fmt.Sprint(was), fmt.Sprint(dark)) {
		t.Errorf("%v", f)
	}
	mix := p.must(200, "GET", fmt.Sprint("/mixes/", f["centre"].(object)["of"]), nil)
	if mix["name"] != "Bergamot ganache 2" || !strings.Contains(fmt.Sprint(mix["parts"]), fmt.Sprint(vegan["id"])) {
		t.Errorf("%v", mix)
	}
	p.problem(422, "body.swaps[0].in", "", p.send("POST", path+"/copies", object{"swaps": []object{{"out": dark,
		"in": "nothing"}}}, "Idempotency-Key", "wrong"))
}

// The amounts of a treat as a recipe says them: what is given, what follows, and what it would say the other way round.
func TestAsSaid(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	rods := p.formula("Sesame pretzel rods")
	now := p.must(200, "POST", "/calculators/as-said", object{"formula": rods})
	if fmt.Sprint(now["as"]) != "[covers cocoa]" || !strings.Contains(fmt.Sprint(now["recipe"]), "of coating covers a dozen") ||
		now["solved"] != nil {
		t.Errorf("%v", now)
	}
	said := p.must(200, "POST", "/calculators/as-said", object{"formula": rods, "say": object{"as": "covers", "count": 28,
		"amounts": []object{{"amount": 8, "unit": "oz"}}}})["solved"].(object)
	coat := said["formula"].(object)["coatings"].([]any)[0].(object)["each"].(object)
	if coat["amount"] != 8.1 || coat["unit"] != "g" || said["given"] != "Given: 8 oz covers 28." {
		t.Errorf("%v: %v", coat, said["given"])
	}
	p.problem(422, "body.say.count", "between 1 and 10,000", p.send("POST", "/calculators/as-said", object{"formula": rods,
		"say": object{"as": "covers", "amounts": []object{{"amount": 8, "unit": "oz"}}}}))
	p.problem(422, "body.say.as", "not said so", p.send("POST", "/calculators/as-said", object{"formula": rods,
		"say": object{"as": "makes", "count": 3}}))
}

// How a treat is kept is one truth: the card and the quote say the same, and never both cool and cold.
func TestKeptIsOneTruth(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	card := func(f object) (string, string) {
		c := p.must(200, "POST", "/calculators/batch-card", object{"formula": f,
			"want": object{"amount": 12, "as": "pieces"}})["card"].(object)["kept"].(object)
		return c["where"].(string), fmt.Sprint(c["text"])
	}
	truffles := p.formula("Bergamot truffles")
	if where, text := card(truffles); where != "fridge" || !strings.Contains(text, "41 °F") {
		t.Errorf("truffles with cream: %s %s", where, text)
	}
	where, text := card(with(truffles, object{"kept": object{"where": "tin", "frozen": 6, "thaw": 90}}))
	if where != "tin" || !strings.Contains(text, "Frozen: 6 weeks.") || !strings.Contains(text, "local rules") {
		t.Errorf("as the seller says: %s %s", where, text)
	}
	if where, _ := card(p.formula("Nougat cubes")); where != "cool" {
		t.Errorf("nougat: %s", where)
	}
	o := p.must(201, "POST", "/orders", with(p.draft("Bergamot truffles", 12), object{"customer": "Cold Cal"}))
	p.move(200, o["id"], "quoted")
	quote := p.must(201, "POST", fmt.Sprint("/orders/", o["id"], "/quotes"), object{})
	told := fmt.Sprint(quote)
	if strings.Contains(told, "cool and dry") {
		t.Errorf("%s", told)
	}
	p.problem(422, "body.formula.kept.frozen", "104 weeks", p.send("POST", "/calculators/batch-card", object{
		"formula": with(truffles, object{"kept": object{"frozen": 500}}), "want": object{"amount": 12, "as": "pieces"}}))
}

// Hostile and awkward steps and designs: a sentence at the field, and nothing is lost or saved.
func TestAwkwardFormulas(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	bombs, berries := p.formula("Cardamom-malt bombs"), p.formula("A dozen strawberries, three ways")
	ask := func(f object) answer {
		return p.send("POST", "/calculators/batch-card", object{"formula": f, "want": object{"amount": 12, "as": "pieces"}})
	}
	step := func(f object, at int, change object) object {
		steps := append([]any{}, f["steps"].([]any)...)
		steps[at] = with(steps[at].(object), change)
		return with(f, object{"steps": steps})
	}
	shells := func(shares ...float64) object {
		coatings := []any{}
		for i, share := range shares {
			c := with(bombs["coatings"].([]any)[0].(object), object{"share": share})
			if i > 0 {
				c["ingredient"] = bombs["coatings"].([]any)[1].(object)["ingredient"]
			}
			coatings = append(coatings, c)
		}
		return with(bombs, object{"coatings": append(coatings, bombs["coatings"].([]any)[1])})
	}
	for _, c := range []struct {
		f    object
		path string
		says string
	}{
		{step(berries, 0, object{"beside": "nowhere"}), "steps[0].beside", "choose that step"},
		{step(berries, 0, object{"note": strings.Repeat("x", 1001)}), "steps[0].note", "1000 letters"},
		{step(berries, 0, object{"prepare": []object{{"how": "chop", "of": "00000000-0000-0000-0000-000000000000"}}}),
			"steps[0].prepare[0].of", "goes into this treat"},
		{shells(0.5, 0.2), "coatings[0].share", "must make 100%"},
		{shells(0.25, 0.25, 0.25, 0.25), "coatings[0].share", "two or three"},
	} {
		p.problem(422, "body.formula."+c.path, c.says, ask(c.f))
	}
	if a := ask(shells(0.7, 0.3)); a.status != 200 {
		t.Errorf("a marbled bomb: %d %.300s", a.status, a.body)
	}
	// What no field is is refused whole; twelve designs pass, thirteen do not.
	if a := ask(step(berries, 0, object{"besides": "dip"})); a.status != 422 {
		t.Errorf("an unknown field: %d", a.status)
	}
	designs := func(n int) object {
		list := []object{}
		for i := range n {
			list = append(list, object{"name": fmt.Sprint("d", i), "parts": 1, "coatings": []any{}, "portions": []any{}})
		}
		list[0]["coatings"] = berries["finishes"].([]any)[0].(object)["coatings"] // the lines that a step works with
		return with(berries, object{"finishes": list})
	}
	if a := ask(designs(12)); a.status != 200 {
		t.Errorf("twelve designs: %d %.300s", a.status, a.body)
	}
	p.problem(422, "body.formula.finishes", "at most 12", ask(designs(13)))
}
