package app_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os/exec"
	"strings"
	"testing"

	"zestytin/core/family"
)

func (p *person) formula(name string) object {
	p.t.Helper()
	return p.must(200, "GET", "/treats/"+p.treat(name), nil)["formula"].(object)
}

// Every treat of the demo has its card, whichever way it is counted.
func TestCardsOfAllFamilies(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	seen := map[string]bool{}
	for _, x := range p.must(200, "GET", "/treats", nil)["treats"].([]any) {
		treat := x.(object)
		formula := treat["formula"].(object)
		seen[formula["family"].(string)] = true
		answer := p.must(200, "POST", "/calculators/batch-card",
			object{"formula": formula, "want": object{"amount": 3, "as": "dozen"}})
		card := answer["card"].(object)
		if card["good"] != 36.0 || len(card["needs"].([]any)) == 0 || len(card["steps"].([]any)) == 0 ||
			len(answer["choices"].([]any)) == 0 {
			t.Errorf("%s: %v", treat["name"], card["good"])
		}
		if treat["look"].(object)["colour"] == "" {
			t.Errorf("%s is drawn in nothing", treat["name"])
		}
	}
	if len(seen) != len(family.All()) {
		t.Errorf("families: %v", seen)
	}
	families := p.must(200, "GET", "/families", nil)
	if n := len(families["families"].([]any)); n != len(family.All()) ||
		len(families["methods"].(object)["real"].([]any)) != 4 {
		t.Errorf("%d families, methods %v", n, families["methods"])
	}
	if milk := families["bands"].(object)["milk"].(object)["work"].(object); milk["from"] != 29.0 ||
		milk["to"] != 30.0 {
		t.Errorf("milk is worked at %v, not 29 to 30 C (rules 3.2)", milk)
	}
	fudge := p.formula("Brown-butter walnut fudge")
	// 0 m: 112 to 115 C. The seller's thermometer shows 97.2 in boiling water: 109.2 to 112.2.
	boil := func() string {
		return p.must(200, "POST", "/calculators/batch-card",
			object{"formula": fudge, "want": object{"amount": 1, "as": "pans"}})["card"].(object)["boil"].(object)["text"].(string)
	}
	if got := boil(); !strings.Contains(got, "112 to 115 °C") {
		t.Errorf("soft ball by the sea: %s", got)
	}
	kitchen := p.must(200, "GET", "/kitchen", nil)
	p.must(200, "PUT", "/kitchen", with(kitchen, object{"boiling": 97.2}), "If-Match", p.tag("/kitchen"))
	if got := boil(); !strings.Contains(got, "109.2 to 112.2 °C") {
		t.Errorf("by the thermometer: %s", got)
	}
	p.problem(422, "body.boiling", "thermometer", p.send("PUT", "/kitchen", with(kitchen, object{"boiling": 20}), "If-Match", `"2"`))
	p.problem(422, "body.want.as", "not made in sheets", p.send("POST", "/calculators/batch-card", object{"formula": fudge, "want": object{"amount": 1, "as": "sheets"}}))
}

func TestMixes(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	mixes := p.must(200, "GET", "/mixes", nil)["mixes"]
	butter, fudge := find(t, mixes, "name", "Brown butter"), find(t, mixes, "name", "Walnut fudge")
	id := fudge["id"].(string)
	full := p.must(200, "GET", "/mixes/"+id, nil)
	if used := full["usedIn"].([]any); len(used) != 1 || used[0].(object)["name"] != "Brown-butter walnut fudge" {
		t.Errorf("used in %v", used)
	}
	if used := p.must(200, "GET", fmt.Sprint("/mixes/", butter["id"]), nil)["usedIn"].([]any); len(used) != 1 || used[0].(object)["kind"] != "mix" {
		t.Errorf("brown butter is used in %v", used)
	}
	walnuts := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Walnuts, chopped")
	if used := p.must(200, "GET", fmt.Sprint("/ingredients/", walnuts["id"]), nil)["usedIn"].([]any); len(used) != 1 || used[0].(object)["name"] != "Walnut fudge" {
		t.Errorf("walnuts are used in %v", used)
	}
	fields := object{"name": "Walnut fudge", "parts": full["parts"], "loss": full["loss"], "density": full["density"], "method": full["method"]}
	part := func(of any, amount float64, unit string) object {
		return object{"of": of, "amount": object{"amount": amount, "unit": unit}}
	}
	for _, c := range []struct {
		change     object
		path, says string
	}{
		{object{"parts": []object{part(id, 1, "g")}}, "body.parts[0].of", "made of itself"},
		{object{"parts": []object{}}, "body.parts", "Add what goes into the mix"},
		{object{"loss": 1}, "body.loss", "between 0 and 95%"},
		{object{"density": 0}, "body.density", "more than 0"},
		{object{"density": nil}, "", "could not be made any more"},
		{object{"parts": []object{part(walnuts["id"], 2, "punnet")}}, "body.parts[0].amount", "punnet"},
		{object{"parts": []object{part(walnuts["id"], 2, "each")}}, "body.parts[0].amount", "weight per piece"},
		{object{"parts": []object{part("01a212f9-0000-7000-8000-000000000000", 2, "g")}}, "body.parts[0].of", "not in the larder"},
	} {
		p.problem(422, c.path, c.says, p.send("PUT", "/mixes/"+id, with(fields, c.change), "If-Match", `"1"`))
	}
	// A cycle over two: the butter made of the fudge that is made of it.
	p.problem(422, "body.parts[0].of", "Brown butter → Walnut fudge → Brown butter", p.send("PUT", fmt.Sprint("/mixes/", butter["id"]), object{"name": "Brown butter", "loss": 0, "parts": []object{part(id, 1, "g")}}, "If-Match", "*"))
	// A change of the mix is a new version of the treat; what an order pinned stays as it was.
	treat := p.treat("Brown-butter walnut fudge")
	before := p.must(200, "GET", "/treats/"+treat, nil)
	changed := p.must(200, "PUT", "/mixes/"+id, with(fields, object{"loss": 0.2}), "If-Match", `"1"`)
	p.problem(412, "", "Someone else saved changes", p.send("PUT", "/mixes/"+id, fields, "If-Match", `"1"`))
	after := p.must(200, "GET", "/treats/"+treat, nil)
	if changed["revision"] != 2.0 || after["version"] != before["version"].(float64)+1 {
		t.Errorf("revision %v, version %v after %v", changed["revision"], after["version"], before["version"])
	}
	versions := p.must(200, "GET", "/treats/"+treat+"/versions", nil)["versions"].([]any)
	change := versions[0].(object)["changes"].([]any)
	if len(versions) != 2 || len(change) != 1 || fmt.Sprint(change[0].(object)["what"], " ", change[0].(object)["before"], " ", change[0].(object)["after"]) != "Walnut fudge: loss 8% 20%" {
		t.Errorf("what changed: %v", change)
	}
	p.must(200, "PUT", "/mixes/"+id, with(fields, object{"loss": 0.2, "name": "Walnut fudge, darker"}), "If-Match", `"2"`)
	p.must(200, "PUT", "/mixes/"+id, with(fields, object{"loss": 0.1}), "If-Match", `"3"`)
	// Any two can be compared, either way round.
	for query, want := range map[string]string{"from=1&to=4": "8% 10%", "from=4&to=1": "10% 8%"} {
		list := p.must(200, "GET", "/treats/"+treat+"/changes?"+query, nil)["changes"].([]any)
		if len(list) != 1 || fmt.Sprint(list[0].(object)["before"], " ", list[0].(object)["after"]) != want {
			t.Errorf("%s: %v", query, list)
		}
	}
	p.problem(404, "", "no such version", p.send("GET", "/treats/"+treat+"/changes?from=1&to=9", nil))
	if versions[1].(object)["orders"] != 2.0 || versions[0].(object)["orders"] != 0.0 {
		t.Errorf("orders that pin: %v, %v", versions[1].(object)["orders"], versions[0].(object)["orders"])
	}
	weighed := p.must(200, "POST", "/calculators/mix", object{"name": "Two to one", "loss": 0.1, "parts": []object{part(walnuts["id"], 200, "g"), part(walnuts["id"], 100, "g")}})
	if weighed["in"] != 300.0 || weighed["yield"] != 270.0 {
		t.Errorf("weighed %v", weighed)
	}
	p.problem(409, "", "name already", p.send("POST", "/mixes", with(fields, object{"name": "Brown butter", "density": nil})))
	made := p.must(201, "POST", "/mixes", with(fields, object{"name": "Fudge with more"}), "Idempotency-Key", "m1")
	if again := p.must(201, "POST", "/mixes", with(fields, object{"name": "Fudge with more"}), "Idempotency-Key", "m1"); again["id"] != made["id"] {
		t.Error("sent twice it is made twice")
	}
}

// Taken along to another kitchen and back: the same treat, exactly, for every treat of the demo.
func TestATreatTravels(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	for _, x := range maren.must(200, "GET", "/treats", nil)["treats"].([]any) {
		name, id := x.(object)["name"].(string), x.(object)["id"].(string)
		file := maren.send("GET", "/treats/"+id+"/file", nil)
		if !strings.Contains(file.header.Get("Content-Disposition"), ".treat.json") {
			t.Errorf("%s is called %s", name, file.header.Get("Content-Disposition"))
		}
		opened := bo.must(201, "POST", "/treat-files", object{"text": file.body})
		other := opened["treat"].(object)["id"].(string)
		if back := bo.send("GET", "/treats/"+other+"/file", nil); back.body != file.body {
			t.Errorf("%s came to be another treat:\n%s\n%s", name, file.body, back.body)
		}
		// Read back at home it is a second one, of what is there.
		again := maren.must(201, "POST", "/treat-files", object{"text": file.body})
		if again["treat"].(object)["name"] != name+" (2)" || len(again["added"].([]any)) != 0 {
			t.Errorf("at home: %v, added %v", again["treat"].(object)["name"], again["added"])
		}
		formula, _ := json.Marshal(x.(object)["formula"])
		twin, _ := json.Marshal(again["treat"].(object)["formula"])
		if !bytes.Equal(formula, twin) {
			t.Errorf("%s at home: %s, was %s", name, twin, formula)
		}
	}
	right := maren.send("GET", "/treats/"+maren.treat("Bergamot truffles")+"/file", nil).body
	for _, c := range []struct{ text, says string }{
		{"", "nothing in it"},
		{"{", "breaks off"},
		{"{\"a\": 1}", "not a treat's file"},
		{strings.Replace(right, "zestytin.treat/1", "zestytin.treat/9", 1), "not a treat's file"},
		{strings.Replace(right, "\"loss\"", "\"los\"", 1), "does not have the shape"},
		{right + "{}", "damaged at character"},
		{"\x00\x01", "not text"},
		{strings.Repeat("x", 1<<20+1), "more than 1 MB"},
	} {
		maren.problem(422, "body.text", c.says, maren.send("POST", "/treat-files", object{"text": c.text}))
	}
	maren.problem(422, "body.text.formula.loss", "90%", maren.send("POST", "/treat-files", object{"text": strings.Replace(right, `"loss": 0.05`, `"loss": 1`, 1)}))
	// Another kitchen's own butter knows no stick: said, and nothing is half taken in.
	other := h.visitor(t)
	other.must(201, "POST", "/kitchens", object{"kitchen": "Third", "name": "Cy", "mail": "cy@third.example", "password": "yet another one", "timeZone": "Europe/Vienna", "currency": "EUR"})
	other.must(201, "POST", "/ingredients", ingredient("Butter", nil))
	fudge := maren.send("GET", "/treats/"+maren.treat("Brown-butter walnut fudge")+"/file", nil).body
	other.problem(422, "body.text.mixes[0].parts[0].amount", "stick", other.send("POST", "/treat-files", object{"text": fudge}))
	if n := len(other.must(200, "GET", "/ingredients", nil)["ingredients"].([]any)); n != 1 {
		t.Errorf("%d ingredients stand in the larder after a refused file", n)
	}
	// What is written as JSON-LD can be read as a recipe again.
	recipe := maren.send("GET", "/treats/"+maren.treat("Bergamot truffles")+"/recipe?amount=24", nil)
	read := maren.must(200, "POST", "/calculators/recipe", object{"text": recipe.body})["recipes"].([]any)[0].(object)
	if read["name"] != "Bergamot truffles" || read["yield"] != "24 pieces" || read["doubtful"] != 0.0 {
		t.Errorf("read again: %v", read)
	}
	for _, x := range read["lines"].([]any) {
		l := x.(object)
		if s := l["suggestions"].([]any); len(s) == 0 || s[0].(object)["sure"] != true {
			t.Errorf("%v is not recognised", l["original"])
		}
	}
}

// The printed card, read by another program: pdftotext of poppler, where it is there.
func TestPrintedCard(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	for _, name := range []string{"Cardamom-malt bombs", "Brown-butter walnut fudge", "A dozen strawberries, three ways"} {
		a := p.send("GET", "/treats/"+p.treat(name)+"/batch-card.pdf?amount=40", nil)
		if a.status != 200 || a.header.Get("Content-Type") != "application/pdf" || !strings.HasPrefix(a.body, "%PDF-") {
			t.Fatalf("%s: %d %s", name, a.status, a.header)
		}
		read := exec.Command("pdftotext", "-layout", "-", "-")
		read.Stdin = strings.NewReader(a.body)
		text, err := read.Output()
		if err != nil {
			t.Fatalf("pdftotext: %v", err)
		}
		for _, want := range []string{name, "40 good", "Ingredients", "min of hands"} {
			if !strings.Contains(string(text), want) && !strings.Contains(string(text), strings.Replace(want, "min of", "h", 1)) && want != "min of hands" {
				t.Errorf("%s: no %q in\n%s", name, want, text)
			}
		}
	}
	p.problem(422, "body.want.amount", "more than 0", p.send("GET", "/treats/"+p.treat("Nougat cubes")+"/batch-card.pdf?amount=0", nil))
}

func TestRecipesAreRead(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	read := func(text string) []any {
		t.Helper()
		return p.must(200, "POST", "/calculators/recipe", object{"text": text})["recipes"].([]any)
	}
	lines := read("1 cup double cream\n200 g hazelnuts\n3 wishes")[0].(object)["lines"].([]any)
	first := func(i int) object { return lines[i].(object)["suggestions"].([]any)[0].(object) }
	if first(0)["name"] != "Heavy cream" || first(0)["sure"] != true {
		t.Errorf("double cream was settled as heavy cream once: %v", first(0))
	}
	if first(1)["name"] != "Hazelnuts, chopped" || first(1)["sure"] != false {
		t.Errorf("hazelnuts: %v", first(1))
	}
	// What is settled is remembered; nobody else's kitchen learns it.
	walnuts := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Walnuts, chopped")["id"]
	p.must(200, "PUT", "/ingredient-names", object{"written": "Hazelnuts", "ingredient": walnuts})
	lines = read("200 g hazelnut")[0].(object)["lines"].([]any)
	if first(0)["name"] != "Walnuts, chopped" || first(0)["sure"] != true {
		t.Errorf("learned: %v", first(0))
	}
	p.problem(422, "body.ingredient", "not in the larder", p.send("PUT", "/ingredient-names", object{"written": "x", "ingredient": "01a212f9-0000-7000-8000-000000000000"}))
	p.problem(422, "body.written", "no letters", p.send("PUT", "/ingredient-names", object{"written": "!?", "ingredient": walnuts}))
	graph := `{"@context":"https://schema.org","@graph":[{"@type":"WebPage","name":"A page"},{"@type":["Recipe","NewsArticle"],"name":"Bark","recipeIngredient":["8 oz dark","1/2 cup nuts"],"recipeInstructions":[{"@type":"HowToSection","itemListElement":[{"@type":"HowToStep","text":"Melt."}]}]}]}`
	if got := read(graph); len(got) != 1 || got[0].(object)["name"] != "Bark" || got[0].(object)["instructions"].([]any)[0] != "Melt." {
		t.Errorf("a graph: %v", got)
	}
	if got := read(`[{"@type":"Recipe","name":"A","recipeIngredient":["1 cup sugar"]},{"@type":"Recipe","name":"B","recipeIngredient":"2 cups sugar"}]`); len(got) != 2 {
		t.Errorf("two recipes: %v", got)
	}
	for _, c := range []struct{ text, says string }{
		{`{"@type":"Person","name":"Nobody"}`, "no recipe in this file"},
		{`{"@type":"Recipe"`, "breaks off"},
		{strings.Repeat("1 cup sugar, ", 90000), "more than 1 MB"},
		{strings.Repeat("1 cup sugar, ", 900), "too many for one ingredient"},
		{"\xff\xfe\x00binary", "not text"},
		{"  \n ", "nothing in it"},
	} {
		a := p.send("POST", "/calculators/recipe", object{"text": c.text})
		if !strings.Contains(a.body, c.says) || a.status != 422 {
			t.Errorf("%.30q: %d %.300s, want … %s …", c.text, a.status, a.body, c.says)
		}
	}
}

func TestWhatOneHas(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	formula := p.formula("Strawberries with white lines")
	all := p.must(200, "GET", "/ingredients", nil)["ingredients"]
	id := func(name string) any { return find(t, all, "name", name)["id"] }
	ask := func(have ...object) answer {
		have = append([]object{}, have...)
		return p.send("POST", "/calculators/makeable", object{"formula": formula, "have": have})
	}
	made := p.must(200, "POST", "/calculators/makeable", object{"formula": formula, "have": []object{{"ingredient": id("Dark 60%"), "text": "900 g"}, {"ingredient": id("Strawberries"), "text": "3 punnets"}}})
	// As by hand in treat's TestWhatOneHas: 54, and the berries end first.
	if made["good"] != 54.0 || made["limit"] != id("Strawberries") {
		t.Errorf("%v", made)
	}
	p.problem(422, "body.have[0].text", "2 crates"[2:], ask(object{"ingredient": id("Dark 60%"), "text": "2 crates"}))
	p.problem(422, "body.have", "None of this", ask())
	p.problem(422, "body.have[0].amount", "density", ask(object{"ingredient": id("Dark 60%"), "text": "2 cups"}))
}

func TestStepsFollow(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	before := p.formula("Cardamom-malt bombs")
	after := with(before, object{"choices": object{"coats": "two", "set": "freezer"}})
	steps := p.must(200, "POST", "/calculators/steps", object{"before": before, "after": after})["steps"].([]any)
	if len(steps) != 5 || steps[1].(object)["id"] != "second" || steps[0].(object)["place"] != "freezer" {
		t.Errorf("%v", steps)
	}
	if fresh := p.must(200, "POST", "/calculators/steps", object{"after": before})["steps"].([]any); len(fresh) != 4 {
		t.Errorf("%d steps are proposed", len(fresh))
	}
	latest := with(before, object{"steps": []object{with(before["steps"].([]any)[0].(object), object{"earliest": 20, "latest": 10})}})
	p.problem(422, "body.formula.steps[0].latest", "ends before it begins", p.send("POST", "/calculators/batch-card", object{"formula": latest, "want": object{"amount": 12, "as": "pieces"}}))
	full := p.must(200, "POST", "/calculators/batch-card", object{"want": object{"amount": 12, "as": "pieces"},
		"formula": with(before, object{"portions": []object{{"ingredient": before["portions"].([]any)[0].(object)["ingredient"], "each": object{"amount": 1, "unit": "cup"}, "where": "in"}}})})
	if care := fmt.Sprint(full["card"].(object)["care"]); !strings.Contains(care, "fills 1 cup, but only 6 1/2 tbsp fits") {
		t.Errorf("over the brim: %s", care)
	}
}

func TestStartingSet(t *testing.T) {
	t.Parallel()
	p := open(t).stranger(t)
	list := p.must(200, "GET", "/starting-ingredients", nil)["ingredients"].([]any)
	if len(list) < 120 {
		t.Errorf("%d ingredients", len(list))
	}
	// Each can be taken into the larder as it is.
	for _, x := range list[:20] {
		i := x.(object)
		delete(i, "source")
		p.must(201, "POST", "/ingredients", with(i, object{"paid": "0.00", "paidFor": object{"amount": 1, "unit": "g"}}))
	}
	if n := len(p.must(200, "GET", "/allergens", nil)["allergens"].([]any)); n != 15 {
		t.Errorf("%d allergens", n)
	}
	// Own measures are read where the ingredient is known.
	coating := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "White coating")
	if got := p.must(200, "POST", "/calculators/amount", object{"text": "2 blocks", "ingredient": coating["id"]}); got["unit"] != "block" || got["metric"] != "2 blocks" {
		t.Errorf("two blocks are %v", got)
	}
	p.problem(422, "body.text", "not a unit", p.send("POST", "/calculators/amount", object{"text": "2 blocks"}))
	if got := p.must(200, "POST", "/calculators/amount", object{"text": "1 1/2 cups"}); got["amount"] != 1.5 || got["unit"] != "metric cup" || got["metric"] != "375 mL" {
		t.Errorf("read as %v", got)
	}
	bowl := object{"mass": "500 g", "from": 32, "until": 31, "coat": "8 g", "piece": "12 g", "at": -18, "seconds": 3}
	if got := p.must(200, "POST", "/calculators/bowl", bowl); got["pieces"].(float64) < 3 || got["pieces"].(float64) > 4 || got["cooled"] != true {
		t.Errorf("a bowl takes %v", got)
	}
	// By hand in chocolate's TestCoolingByHand: at 32 C after 18 minutes, below 31 C from 20 on.
	readings := func(pairs ...float64) []object {
		list := []object{}
		for i := 0; i < len(pairs); i += 2 {
			list = append(list, object{"minute": pairs[i], "at": pairs[i+1]})
		}
		return list
	}
	cools := object{"colour": "dark", "room": 21, "readings": readings(0, 46, 6, 40)}
	if got := p.must(200, "POST", "/calculators/cooling", cools); got["text"] != "At 32 °C (90 °F) about minute 18, and below 31 °C (88 °F) from minute 20." {
		t.Errorf("cooling: %v", got["text"])
	}
	if got := p.must(200, "POST", "/calculators/cooling", with(cools, object{"room": 33}))["text"].(string); !strings.Contains(got, "does not get there by itself") {
		t.Errorf("in a hot room: %s", got)
	}
	p.problem(422, "body.readings", "Two readings", p.send("POST", "/calculators/cooling", with(cools, object{"readings": readings(0, 46)})))
	p.problem(422, "body.readings", "do not fall", p.send("POST", "/calculators/cooling", with(cools, object{"readings": readings(0, 40, 5, 46)})))
	p.problem(422, "body.readings[1]", "temperature in C", p.send("POST", "/calculators/cooling", with(cools, object{"readings": readings(0, 46, 5, 400)})))
	p.problem(422, "body.until", "lower", p.send("POST", "/calculators/bowl", with(bowl, object{"until": 33})))
	p.problem(422, "body.seconds", "120 seconds", p.send("POST", "/calculators/bowl", with(bowl, object{"seconds": 0})))
	p.problem(422, "body.at", "as warm as", p.send("POST", "/calculators/bowl", with(bowl, object{"at": 80})))
}

// A promise is a promise: when a mix changes, what was promised keeps its recipe, its needs and its price; an enquiry
// follows.
func TestAPromisedOrderKeepsItsMix(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	cream := func(id any) float64 {
		t.Helper()
		draft := p.must(200, "GET", fmt.Sprint("/orders/", id), nil)["draft"]
		needs := p.must(200, "POST", "/estimates", object{"order": id, "draft": draft})["needs"]
		return find(t, needs, "name", "Heavy cream")["used"].(object)["amount"].(float64)
	}
	draft := func(name string) object { return with(p.draft("Bergamot truffles", 24), object{"customer": name}) }
	promised := p.must(201, "POST", "/orders", draft("Promised"))
	asking := p.must(201, "POST", "/orders", draft("Asking"))
	path := fmt.Sprint("/orders/", promised["id"])
	p.must(200, "POST", path+"/moves", object{"to": "promised"})
	before := cream(promised["id"])
	ganache := find(t, p.must(200, "GET", "/mixes", nil)["mixes"], "name", "Bergamot ganache")
	parts := ganache["parts"].([]any)
	for _, x := range parts {
		if part := x.(object); part["amount"].(object)["unit"] == "cup" {
			part["amount"] = object{"amount": 2, "unit": "cup"}
		}
	}
	p.must(200, "PUT", fmt.Sprint("/mixes/", ganache["id"]), object{"name": ganache["name"], "parts": parts, "loss": ganache["loss"], "density": ganache["density"], "method": ganache["method"]}, "If-Match", `"1"`)
	if after := cream(promised["id"]); after != before {
		t.Errorf("the promised order takes %v g of cream, was %v", after, before)
	}
	if now := cream(asking["id"]); now <= before {
		t.Errorf("the enquiry takes %v g of cream and does not follow the mix (%v)", now, before)
	}
}

// A chocolate's own temperatures, as its maker gives them, go before those of its colour; and its ingredients know what
// measures they have.
func TestOwnTemperatures(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	dark := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Dark 60%")
	path := fmt.Sprint("/ingredients/", dark["id"])
	band := func(from, to float64) object { return object{"from": from, "to": to} }
	fields := func(work object) object {
		return ingredient("Dark 60%", object{"kind": "chocolate", "allergens": dark["allergens"], "measures": []object{{"name": "slab", "grams": 2500}}, "paid": "14.50", "paidFor": object{"amount": 2, "unit": "slab"},
			"chocolate": object{"kind": "real", "colour": "dark", "bands": object{"melt": band(46, 48), "cool": band(27, 28), "work": work}}})
	}
	p.problem(422, "body.chocolate.bands", "check the order", p.send("PUT", path, fields(band(47, 49)), "If-Match", p.tag(path)))
	p.problem(422, "body.chocolate.bands", "between 20 and 60", p.send("PUT", path, fields(band(88, 90)), "If-Match", p.tag(path)))
	p.must(200, "PUT", path, fields(band(31.5, 32.5)), "If-Match", p.tag(path))
	card := p.must(200, "POST", "/calculators/batch-card", object{"formula": p.formula("Cardamom-malt bombs"), "want": object{"amount": 40, "as": "pieces"}})["card"].(object)
	pot := card["pots"].([]any)[0].(object)
	if advice := pot["advice"].(string); !strings.Contains(advice, "89 to 91 °F (31.5 to 32.5 °C)") || !strings.Contains(advice, "(46 to 48 °C)") {
		t.Errorf("advice: %s", advice)
	}
	// Paid for two slabs of 2.5 kg: 5 kg.
	now := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Dark 60%")
	if got := now["paidFor"].(object)["amount"]; got != 5000.0 {
		t.Errorf("two slabs are %v g", got)
	}
}

// An ingredient cannot lose what is needed of it: neither what the book measures through, nor what a promised order
// holds to.
func TestIngredientsStaySound(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	put := func(name string, change object) answer {
		t.Helper()
		now := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", name)
		id, revision := now["id"], now["revision"]
		delete(now, "id")
		delete(now, "revision")
		delete(now, "paidForShown")
		delete(now, "sizes")
		for key, value := range change {
			if now[key] = value; value == nil {
				delete(now, key)
			}
		}
		return p.send("PUT", fmt.Sprint("/ingredients/", id), now, "If-Match", fmt.Sprintf("%q", fmt.Sprint(revision)))
	}
	p.problem(422, "", "With this change Cardamom-malt bombs could not be made any more (Cardamom malt mix:", put("Cardamom malt mix", object{"density": nil}))
	p.problem(422, "", "is not a chocolate", put("Milk 38%", object{"kind": "sugar", "chocolate": nil}))
	p.problem(422, "", "With this change Walnut fudge could not be made", put("Walnuts, chopped", object{"density": nil}))
	p.problem(422, "", "has no size", put("Strawberries", object{"measures": []object{}}))
	if a := put("Sea salt flakes", object{"paid": "6.00"}); a.status != 200 {
		t.Errorf("a price is changed: %d %s", a.status, a.body)
	}
	// Too many rounds of a small mould: the fault lies at the line's count.
	draft := with(p.draft("Cardamom-malt bombs", 10000), nil)
	formula := p.formula("Cardamom-malt bombs")
	small := p.must(201, "POST", "/treats", object{"name": "One by one", "formula": with(formula, object{"shell": with(formula["shell"].(object), object{"cavities": 1, "moulds": 1})})})
	draft["lines"] = []object{{"treat": small["id"], "count": 10000}}
	p.problem(422, "body.lines[0].count", "more than 2,000 rounds", p.send("POST", "/estimates", object{"draft": draft}))
}

// Two people change two mixes at once so that together they would close a circle: one of them is refused.
func TestNoCircleIsClosedTogether(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	sugar := find(t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name", "Icing sugar")["id"]
	mix := func(name string, of any) object {
		return object{"name": name, "loss": 0, "parts": []object{{"of": of, "amount": object{"amount": 10, "unit": "g"}}}}
	}
	for round := range 5 {
		a := p.must(201, "POST", "/mixes", mix(fmt.Sprint("A", round), sugar))["id"].(string)
		b := p.must(201, "POST", "/mixes", mix(fmt.Sprint("B", round), sugar))["id"].(string)
		done := make(chan int, 2)
		for _, change := range [][2]string{{a, b}, {b, a}} {
			name := map[string]string{a: fmt.Sprint("A", round), b: fmt.Sprint("B", round)}[change[0]]
			go func() { done <- p.send("PUT", "/mixes/"+change[0], mix(name, change[1]), "If-Match", `"1"`).status }()
		}
		if first, second := <-done, <-done; first+second != 200+422 {
			t.Errorf("both were answered: %d and %d", first, second)
		}
	}
}
