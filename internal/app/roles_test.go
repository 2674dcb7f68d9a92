package app_test

import (
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"zestytin/internal/platform/db"
)

// operation of the API's document.
type operation struct {
	id, method, path, tag string
	open, file            bool
}

func (p *person) operations() (list []operation) {
	p.t.Helper()
	var document struct {
		Paths map[string]map[string]struct {
			OperationID string
			Tags        []string
			Security    []any
		}
	}
	if err := json.Unmarshal([]byte(p.send("GET", "/api/openapi.json", nil).body), &document); err != nil {
		p.t.Fatal(err)
	}
	for path, item := range document.Paths {
		for method, op := range item {
			list = append(list, operation{op.OperationID, strings.ToUpper(method), path, op.Tags[0],
				len(op.Security) == 0, strings.HasSuffix(path, ".pdf")})
		}
	}
	slices.SortFunc(list, func(a, b operation) int { return strings.Compare(a.id, b.id) })
	return list
}

// What each role is for, by the parts of the API rather than by their operations: a maker has the bench, the plan and
// the larder, without what makes links, what somebody paid, or what reaches customers; a bookkeeper reads the till.
func forMaker(op operation) bool {
	switch op.tag {
	case "Bench":
		return !slices.Contains([]string{"add-sensor", "remove-sensor", "renew-sensor-link"}, op.id)
	case "Plan", "Packing":
		return true
	case "Logbook":
		return !strings.HasPrefix(op.id, "export-") && op.id != "take-lesson"
	case "Larder":
		return op.method == "GET" && !strings.HasPrefix(op.id, "export-") && op.id != "share-shopping-list" &&
			op.id != "list-starting-ingredients" ||
			slices.Contains([]string{"count-item", "put-lot", "void-lot", "make-mix", "tick-shopping"}, op.id)
	case "Treats":
		return slices.Contains([]string{"list-treats", "get-treat", "list-mixes", "get-mix", "list-families",
			"print-batch-card"}, op.id)
	case "Handover":
		return slices.Contains([]string{"get-drives", "put-drop", "delete-drop", "get-drive-search",
			"get-drive-sheet", "get-road-map"}, op.id)
	case "Labels":
		return op.id != "print-tags"
	case "Kitchen":
		return op.id == "stream-events"
	case "Calculators":
		return slices.Contains([]string{"altitude", "read-amount", "bowl", "convert", "cooling", "extras", "ganache",
			"seed", "sheet", "shell", "read-recipe", "practise", "find-slot", "sum-hours"}, op.id)
	case "Orders":
		return op.id == "when-more"
	case "Account":
		return op.id == "get-kitchen" || forEverybody(op)
	}
	return false
}

func forBookkeeper(op operation) bool {
	return op.tag == "Till" && op.method == "GET" || op.id == "stream-events" || op.tag == "Account" && forEverybody(op)
}

// forEverybody is what is theirs alone.
func forEverybody(op operation) bool {
	return regexp.MustCompile(`^/api/v1/(account|password|session|sessions)(/|$)`).MatchString(op.path)
}

// Each operation is tried by each role: what is theirs is not refused for that, and all else is, before anything of it
// is looked at. What a maker is answered has no money in it, and no address of a customer before the day.
func TestEachOperationByEachRole(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	order := maren.must(201, "POST", "/orders", maren.draft("Milk malt bombs", 12))
	wren := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")
	where := maren.must(200, "GET", "/orders/"+wren["id"].(string), nil)["draft"].(object)
	private := []string{where["place"].(string)}
	for _, key := range []string{"mail", "phone"} {
		if text, is := where[key].(string); is && text != "" {
			private = append(private, text)
		}
	}
	if len(private) < 2 || private[0] == "" {
		t.Fatalf("the demo's order tells too little to be looked for: %v", where)
	}
	bodies, ids := maren.bodies(h.stranger(t)), maren.ids(order)
	ids["/api/v1/orders/{id}"] = wren["id"].(string)
	helper, books := maren.joins(h, "maker", "Ines"), maren.joins(h, "bookkeeper", "Otto")
	tried := map[string]int{}
	for _, who := range []struct {
		role string
		*person
		may func(operation) bool
	}{{"maker", helper, forMaker}, {"bookkeeper", books, forBookkeeper}} {
		for _, op := range maren.operations() {
			if op.open || op.id == "stream-events" { // who may hear the stream: TestStreamsByRole
				continue
			}
			may := who.may(op)
			if may && op.method != "GET" && op.tag == "Account" {
				continue // one's own account: the tests of accounts have it
			}
			id, of := ids[op.path], op.path
			for id == "" && strings.Contains(of, "{id}/") {
				of = of[:strings.LastIndex(of, "/")]
				id = ids[of]
			}
			at := strings.NewReplacer("{id}", id, "{step}", "wash", "{day}", "2026-09-05", "{deed}", "undo", "{number}",
				"1", "{was}", db.NewID().String(), "{family}", "bomb").Replace(op.path)
			if op.id == "print-labels" {
				at += "?sheet=a4-8&line=0"
			}
			body := bodies[op.id]
			if body == nil && op.method != "GET" && !strings.HasSuffix(op.path, "photo") {
				body = object{}
			}
			var header []string
			if op.method == "PUT" {
				header = []string{"If-Match", "*"}
			}
			a := who.send(op.method, at, body, header...)
			refused := a.status == http.StatusForbidden && strings.Contains(a.body, "is not for a "+who.role)
			tried[fmt.Sprint(who.role, may)]++
			if refused == may {
				t.Errorf("%s by a %s: %d %s", op.id, who.role, a.status, a.body[:min(len(a.body), 200)])
			}
			if a.status == http.StatusInternalServerError {
				t.Errorf("%s by a %s: %s", op.id, who.role, a.body)
			}
			if who.role != "maker" || a.status >= 300 {
				continue
			}
			text := a.body
			if op.file {
				text = read(t, text)
				tried["printed"]++
			}
			for _, p := range private {
				if strings.Contains(text, p) {
					t.Errorf("%s tells a maker %q two days before", op.id, p)
				}
			}
			if strings.ContainsAny(text, "$€£") {
				t.Errorf("%s tells a maker of money: %s", op.id,
					regexp.MustCompile(`.{0,60}[$€£].{0,30}`).FindString(text))
			}
			var answer any
			if json.Unmarshal([]byte(a.body), &answer) == nil {
				noMoney(t, op.id, "", answer)
			}
		}
	}
	if tried["printed"] != 5 {
		t.Errorf("%d papers were read, want a run sheet, a card, a slip, labels and the sheet of their place",
			tried["printed"])
	}
	if tried["makertrue"] < 60 || tried["makerfalse"] < 80 || tried["bookkeepertrue"] < 8 ||
		tried["bookkeeperfalse"] < 150 {
		t.Errorf("tried too few: %v", tried)
	}
	// What was refused is noted, once an hour.
	refused := 0
	for _, e := range maren.must(200, "GET", "/security-log", nil)["events"].([]any) {
		if e := e.(object); e["what"] == "refused" && e["about"] == "put-order" && e["who"] == "Ines" {
			refused++
		}
	}
	if helper.must(403, "GET", "/till", nil); refused != 1 {
		t.Errorf("a refusal was noted %d times", refused)
	}
	// What was refused has changed nothing.
	if now := maren.must(200, "GET", "/orders/"+order["id"].(string), nil); now["revision"] != order["revision"] {
		t.Error("an order was changed by somebody who may not")
	}
}

// money by what a field is called.
var money = regexp.MustCompile(`(?i)^(paid|price|cost|worth|leftWorth|each|total|hourly|overhead|lastPaid|margin|` +
	`deposit|low|high|listPrice|minimum|cardFixed|yearLimit|drive)$`)

// noMoney stands in an answer: amounts with a currency are blank, and so is all that is called like one.
func noMoney(t *testing.T, op, path string, x any) {
	t.Helper()
	switch x := x.(type) {
	case []any:
		for _, y := range x {
			noMoney(t, op, path+"[]", y)
		}
	case object:
		if amount, is := x["amount"]; is && x["currency"] != nil && amount != "" {
			t.Errorf("%s: %s is %v", op, path, x)
		}
		for k, y := range x {
			if text, is := y.(string); is && money.MatchString(k) && strings.Trim(text, "0.") != "" {
				t.Errorf("%s: %s.%s is %q", op, path, k, text)
			}
			if k == "margin" && y != 0.0 {
				t.Errorf("%s: %s.margin is %v", op, path, y)
			}
			noMoney(t, op, path+"."+k, y)
		}
	}
}

// On the day itself whoever drives knows where to.
func TestAddressesOnTheirDay(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	wren := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")
	place := maren.must(200, "GET", "/orders/"+wren["id"].(string), nil)["draft"].(object)["place"].(string)
	helper := maren.joins(h, "maker", "Ines")
	slip := "/orders/" + wren["id"].(string) + "/packing-slip.pdf"
	day := "/days/2026-09-05/run-sheet"
	tells := func(p *person) (list []bool) {
		return []bool{strings.Contains(p.send("GET", "/drives/2026-09-05", nil).body, place),
			strings.Contains(read(t, p.send("GET", slip, nil).body), place),
			strings.Contains(p.send("GET", day, nil).body, place),
			strings.Contains(read(t, p.send("GET", day+".pdf", nil).body), place)}
	}
	if is := tells(maren); slices.Contains(is, false) {
		t.Errorf("the owner is told %v", is)
	}
	if is := tells(helper); slices.Contains(is, true) {
		t.Errorf("two days before a maker is told %v", is)
	}
	helper.problem(403, "", "on that day", helper.send("GET", "/drives/2026-09-05", nil))
	helper.problem(403, "", "on that day", helper.send("GET", "/drives/2026-09-05/sheet.pdf", nil))
	drop := "/drives/2026-09-05/drops/" + wren["id"].(string)
	helper.problem(403, "", "on that day", helper.send("PUT", drop, object{"outcome": "nobody there"}))
	if n := h.count(t, "drops"); n != 0 {
		t.Errorf("%d drops were noted by a maker who may not see them", n)
	}
	h.pass(48 * time.Hour)
	if is := tells(helper); slices.Contains(is, false) {
		t.Errorf("on the day a maker is told %v", is)
	}
	helper.must(200, "PUT", drop, object{"outcome": "nobody there"})
}

// What a maker does stands with their name in the histories of plan, bench and larder, also after they have left.
func TestWhoDidWhat(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	helper := maren.joins(h, "maker", "Ines")
	helper.must(200, "POST", "/plan/changes", object{"kind": "off", "day": "2026-09-15"})
	step := helper.aStep()
	helper.must(200, "PUT", step, object{"done": true, "device": "one"})
	dark := find(t, helper.must(200, "GET", "/stock", nil)["items"], "name", "Dark 60%")["id"].(string)
	helper.must(200, "POST", "/stock/"+dark+"/counts", object{"amount": object{"amount": 812, "unit": "g"},
		"reason": "weighed"})
	histories := func() (list []string) {
		changes := maren.must(200, "GET", "/plan/changes", nil)["changes"].([]any)[0].(object)
		list = append(list, fmt.Sprint(changes["who"]))
		for _, m := range maren.must(200, "GET", "/stock/"+dark, nil)["moves"].([]any) {
			if m.(object)["reason"] == "weighed" {
				list = append(list, fmt.Sprint(m.(object)["who"]))
				break
			}
		}
		for _, s := range maren.must(200, "GET", "/days/2026-09-05/run-sheet", nil)["steps"].([]any) {
			if s.(object)["who"] == "Ines" {
				list = append(list, "Ines")
				break
			}
		}
		return list
	}
	want := []string{"Ines", "Ines", "Ines"}
	if is := histories(); !slices.Equal(is, want) {
		t.Errorf("the histories say %v", is)
	}
	id := helper.must(200, "GET", "/session", nil)["id"].(string)
	maren.must(200, "DELETE", "/helpers/"+id, nil)
	if is := histories(); !slices.Equal(is, want) {
		t.Errorf("after they have left the histories say %v", is)
	}
	// Also when they delete their account: then it was somebody.
	helper.must(204, "DELETE", "/account", nil)
	if is := histories(); len(is) < 2 || slices.Contains(is, "Ines") {
		t.Errorf("after their account is gone the histories say %v", is)
	}
	h.visitor(t).must(401, "POST", "/session", object{"mail": "ines@helps.example", "password": "seven quiet kettles"})
}

// Who changed what an order says stands in its history; what one person changes within an hour is one.
func TestWhoChangedAnOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	ada := maren.joins(h, "owner", "Ada")
	id := maren.must(201, "POST", "/orders", maren.draft("Milk malt bombs", 12))["id"]
	change := func(p *person, count int) {
		p.must(200, "PUT", fmt.Sprint("/orders/", id), p.draft("Milk malt bombs", count), "If-Match", "*")
	}
	change(maren, 13)
	h.pass(20 * time.Minute)
	change(maren, 14)
	h.pass(20 * time.Minute)
	change(ada, 15)
	h.pass(2 * time.Hour)
	change(ada, 16)
	h.pass(2 * time.Hour)
	change(ada, 16) // which changes nothing
	var told []string
	for _, m := range maren.order(id)["history"].([]any) {
		told = append(told, fmt.Sprint(m.(object)["to"], " ", m.(object)["who"]))
	}
	if want := []string{"enquiry Maren Halloway", "<nil> Maren Halloway", "<nil> Ada", "<nil> Ada"}; !slices.Equal(told,
		want) {
		t.Errorf("%v", told)
	}
}
