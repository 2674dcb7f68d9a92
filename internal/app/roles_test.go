package app_test

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"zestytin/internal/demo"
	"zestytin/internal/platform/db"
)

// joins the kitchen of p by a link, as a role, with an account of their own.
func (p *person) joins(h *house, role, name string) *person {
	p.t.Helper()
	link := p.must(201, "POST", "/helper-links", object{"role": role, "name": name})["path"].(string)
	helper := h.visitor(p.t)
	where := helper.must(200, "GET", "/invitations/"+secretOf(link), nil)
	if where["role"] != role || where["by"] == "" || where["kitchen"] == "" || where["you"] != nil {
		p.t.Errorf("%v", where)
	}
	s := helper.must(201, "POST", "/invitations/"+secretOf(link), object{"name": name,
		"mail": strings.ToLower(name) + "@helps.example", "password": "seven quiet kettles"})
	if s["role"] != role || s["person"] != name || len(s["kitchens"].([]any)) != 1 {
		p.t.Errorf("%v", s)
	}
	return helper
}

func secretOf(link string) string { return link[strings.LastIndex(link, "/")+1:] }

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
				t.Errorf("%s tells a maker of money: %s", op.id, regexp.MustCompile(`.{0,60}[$€£].{0,30}`).FindString(text))
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
	if tried["makertrue"] < 60 || tried["makerfalse"] < 80 || tried["bookkeepertrue"] < 8 || tried["bookkeeperfalse"] < 150 {
		t.Errorf("tried too few: %v", tried)
	}
	// What was refused has changed nothing.
	if now := maren.must(200, "GET", "/orders/"+order["id"].(string), nil); now["revision"] != order["revision"] {
		t.Error("an order was changed by somebody who may not")
	}
}

// money by what a field is called.
var money = regexp.MustCompile(`(?i)^(paid|price|cost|worth|leftWorth|each|total|hourly|overhead|lastPaid|margin|deposit|low|high|listPrice|minimum|cardFixed|yearLimit|drive)$`)

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
	var told []string
	for _, m := range maren.order(id)["history"].([]any) {
		told = append(told, fmt.Sprint(m.(object)["to"], " ", m.(object)["who"]))
	}
	if want := []string{"enquiry Maren Halloway", "<nil> Maren Halloway", "<nil> Ada", "<nil> Ada"}; !slices.Equal(told,
		want) {
		t.Errorf("%v", told)
	}
}

// A helper is removed in the middle of a tick: the tick that is under way is waited for and counts, whole; the next one
// is refused, whole, and so is whatever waits for a lock that the removal has.
func TestAHelperIsRemoved(t *testing.T) {
	t.Parallel()
	h := open(t)
	ctx := context.Background()
	maren := h.maren(t)
	helper := maren.joins(h, "maker", "Ines")
	id := helper.must(200, "GET", "/session", nil)["id"].(string)
	gone := helper.stream()
	step := helper.aStep()
	batch := strings.Split(step, "/")[2]
	// The batch is held, so that the tick waits with all that it has read.
	owner := h.owned(t)
	held, err := owner.Begin(ctx)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := held.Exec(ctx, `select from batch_steps where batch_id = $1 for update`, batch); err != nil {
		t.Fatal(err)
	}
	tick, removed := make(chan answer, 1), make(chan answer, 1)
	go func() { tick <- helper.send("PUT", step, object{"done": true, "device": "one"}) }()
	h.waiting(t, 1)
	go func() { removed <- maren.send("DELETE", "/helpers/"+id, nil) }()
	h.waiting(t, 2)
	select {
	case a := <-removed:
		t.Errorf("removed while a tick of theirs is under way: %d", a.status)
	default:
	}
	if err := held.Rollback(ctx); err != nil {
		t.Fatal(err)
	}
	if a := <-tick; a.status != 200 {
		t.Errorf("the tick: %d %s", a.status, a.body)
	}
	if a := <-removed; a.status != 200 {
		t.Errorf("the removal: %d %s", a.status, a.body)
	}
	ends(t, gone)
	was := h.count(t, "stock_moves")
	helper.problem(403, "", "You work in no kitchen", helper.send("PUT", step, object{"done": false, "device": "one"}))
	helper.problem(403, "", "You work in no kitchen", helper.send("GET", "/days/2026-09-03/run-sheet", nil))
	if now := h.count(t, "stock_moves"); now != was {
		t.Errorf("%d moves of stock were %d", now, was)
	}
	s := helper.must(200, "GET", "/session", nil)
	if s["signedIn"] != true || s["kitchen"] != nil || s["kitchens"] != nil {
		t.Errorf("%v", s)
	}
	// It was not meant so: within the hour it is undone, and later by a new link alone.
	maren.must(200, "PUT", "/helpers/"+id+"/role", object{"role": "maker"})
	helper.must(200, "GET", "/plan", nil)
	maren.must(200, "DELETE", "/helpers/"+id, nil)
	h.pass(2 * time.Hour)
	maren.must(204, "POST", "/session/confirm", object{"password": demo.SignIn.Password})
	maren.problem(404, "", "helper", maren.send("PUT", "/helpers/"+id+"/role", object{"role": "maker"}))
	if !slices.Contains(maren.safety(), "removed") {
		t.Errorf("%v", maren.safety())
	}
}

// A tick that begins while the removal is under way waits for it, and is refused, whole.
func TestATickAfterTheRemoval(t *testing.T) {
	t.Parallel()
	h := open(t)
	ctx := context.Background()
	maren := h.maren(t)
	helper := maren.joins(h, "maker", "Ines")
	id := helper.must(200, "GET", "/session", nil)["id"].(string)
	step := helper.aStep()
	held, err := h.owned(t).Begin(ctx) // so that the removal has its lock, and is not through
	if err != nil {
		t.Fatal(err)
	}
	if _, err := held.Exec(ctx, `select from memberships where person_id = $1 for update`, id); err != nil {
		t.Fatal(err)
	}
	tick, removed := make(chan answer, 1), make(chan answer, 1)
	go func() { removed <- maren.send("DELETE", "/helpers/"+id, nil) }()
	h.waiting(t, 1)
	go func() { tick <- helper.send("PUT", step, object{"done": true, "device": "one"}) }()
	h.waiting(t, 2)
	if err := held.Rollback(ctx); err != nil {
		t.Fatal(err)
	}
	if a := <-removed; a.status != 200 {
		t.Errorf("the removal: %d %s", a.status, a.body)
	}
	a := <-tick
	helper.problem(403, "", "Nothing of it was saved", a)
	var done bool
	if err := h.owned(t).QueryRow(ctx, `select done_at is not null from batch_steps where batch_id = $1 and step = $2`,
		strings.Split(step, "/")[2], strings.Split(step, "/")[4]).Scan(&done); err != nil || done {
		t.Errorf("done %v, %v", done, err)
	}
}

// ends says whether a stream does, soon.
func ends(t testing.TB, over <-chan bool) {
	t.Helper()
	select {
	case <-over:
	case <-time.After(10 * time.Second):
		t.Error("the stream goes on")
	}
}

// count the rows of a table.
func (h *house) count(t testing.TB, table string) (n int) {
	t.Helper()
	if err := h.owned(t).QueryRow(context.Background(), `select count(*) from `+table).Scan(&n); err != nil {
		t.Fatal(err)
	}
	return n
}

// waiting until so many wait for a lock of the database.
func (h *house) waiting(t testing.TB, n int) {
	t.Helper()
	for range 300 {
		var are int
		if err := h.owned(t).QueryRow(context.Background(), `select count(*) from pg_stat_activity
			where datname = current_database() and wait_event_type = 'Lock'`).Scan(&are); err != nil {
			t.Fatal(err)
		}
		if are >= n {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("nobody waits for %d locks", n)
}

// A stream ends when its helper becomes something else, and a bookkeeper hears of the till alone.
func TestStreamsByRole(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	helper, books := maren.joins(h, "maker", "Ines"), maren.joins(h, "bookkeeper", "Otto")
	heard := books.hears()
	gone := helper.stream()
	maren.must(200, "POST", "/plan/changes", object{"kind": "off", "day": "2026-09-15"})
	order := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	maren.must(201, "POST", "/orders/"+order+"/payments", object{"kind": "deposit", "amount": "1.00", "day": "2026-09-03"})
	id := helper.must(200, "GET", "/session", nil)["id"].(string)
	maren.must(200, "PUT", "/helpers/"+id+"/role", object{"role": "bookkeeper"})
	ends(t, gone)
	topics := map[string]bool{}
	for !topics["orders"] { // they are told in any order, and what changed first is told at the latest with what changed last
		select {
		case topic := <-heard:
			topics[topic] = true
		case <-time.After(10 * time.Second):
			topics["orders"] = true
			t.Error("nothing is heard")
		}
	}
	if !topics["orders"] || topics["plan"] || topics["larder"] {
		t.Errorf("a bookkeeper heard %v", topics)
	}
	helper.must(200, "GET", "/till", nil)
	helper.problem(403, "", "not for a bookkeeper", helper.send("GET", "/plan", nil))
}

// hears what a stream tells, topic by topic.
func (p *person) hears() <-chan string {
	p.t.Helper()
	res, err := p.Get(p.base + "/api/v1/events")
	if err != nil || res.StatusCode != 200 {
		p.t.Fatal(res, err)
	}
	p.t.Cleanup(func() { res.Body.Close() })
	topics := make(chan string, 100)
	go func() {
		for lines := bufio.NewScanner(res.Body); lines.Scan(); {
			if topic, is := strings.CutPrefix(lines.Text(), "data: "); is {
				topics <- topic
			}
		}
	}()
	return topics
}

// Somebody works in two kitchens, goes from one to the other, and leaves.
func TestTwoKitchens(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	link := maren.must(201, "POST", "/helper-links", object{"role": "maker"})["path"].(string)
	if s := bo.must(200, "GET", "/invitations/"+secretOf(link), nil); s["you"] != "Bo" {
		t.Errorf("%v", s)
	}
	s := bo.must(201, "POST", "/invitations/"+secretOf(link), object{})
	if s["role"] != "maker" || len(s["kitchens"].([]any)) != 2 {
		t.Errorf("%v", s)
	}
	bo.problem(410, "", "joined by this link already", bo.send("GET", "/invitations/"+secretOf(link), nil))
	h.visitor(t).problem(410, "", "joined by this link already", h.visitor(t).send("POST", "/invitations/"+secretOf(link),
		object{"name": "Cy", "mail": "cy@elsewhere.example", "password": "quite another one"}))
	bo.must(403, "GET", "/orders", nil)
	home := find(t, s["kitchens"], "role", "owner")["id"].(string)
	away := find(t, s["kitchens"], "role", "maker")["id"].(string)
	bo.must(200, "PUT", "/session/kitchen", object{"kitchen": home})
	if n := len(bo.must(200, "GET", "/orders", nil)["orders"].([]any)); n != 0 {
		t.Errorf("%d orders in a kitchen that is empty", n)
	}
	maren.problem(404, "", "kitchen", maren.send("PUT", "/session/kitchen", object{"kitchen": home}))
	// Where one was last, one gets to by signing in.
	bo.must(200, "PUT", "/session/kitchen", object{"kitchen": away})
	bo.must(204, "DELETE", "/session", nil)
	if s := bo.must(200, "POST", "/session", object{"mail": "bo@elsewhere.example",
		"password": "quite another one"}); s["role"] != "maker" {
		t.Errorf("%v", s)
	}
	// What one does not work in is nobody's business.
	if s := bo.must(200, "DELETE", "/account/kitchens/"+away, nil); s["role"] != "owner" {
		t.Errorf("%v", s)
	}
	bo.problem(404, "", "kitchen", bo.send("PUT", "/session/kitchen", object{"kitchen": away}))
	// Somebody has to own it.
	bo.problem(409, "", "make somebody else one first", bo.send("DELETE", "/account/kitchens/"+home, nil))
	maren.problem(409, "", "make somebody else one first", maren.send("PUT",
		"/helpers/"+maren.must(200, "GET", "/session", nil)["id"].(string)+"/role", object{"role": "maker"}))
	bo.problem(409, "", "leave it, or delete it, first", bo.send("DELETE", "/account", nil))
	if s := bo.must(201, "POST", "/account/kitchens", object{"kitchen": "Second", "timeZone": "Europe/Vienna",
		"country": "AT"}); s["kitchen"] != "Second" || s["currency"] != "EUR" || len(s["kitchens"].([]any)) != 2 {
		t.Errorf("%v", s)
	}
	bo.problem(422, "body.kitchen", "Give the kitchen a name", bo.send("POST", "/account/kitchens",
		object{"kitchen": " ", "timeZone": "Europe/Vienna"}))
}

// Links that do nothing: unknown, ended, run out, and for somebody who is there already.
func TestInvitationsThatAreOver(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	v := h.visitor(t)
	v.problem(404, "", "not one of ours", v.send("GET", "/invitations/ABCDEFGHIJKLMNOPQRSTUVWXYZ", nil))
	made := maren.must(201, "POST", "/helper-links", object{"role": "maker", "name": "Ines"})
	maren.problem(409, "", "already", maren.send("POST", "/invitations/"+secretOf(made["path"].(string)), object{}))
	if list := maren.must(200, "GET", "/helpers", nil); len(list["invitations"].([]any)) != 1 ||
		list["invitations"].([]any)[0].(object)["path"] != nil {
		t.Errorf("%v", list)
	}
	v.problem(422, "body.password", "12", v.send("POST", "/invitations/"+secretOf(made["path"].(string)),
		object{"name": "Ines", "mail": "ines@helps.example", "password": "short"}))
	maren.must(204, "DELETE", "/helper-links/"+made["id"].(string), nil)
	v.problem(410, "", "run out, or was ended", v.send("GET", "/invitations/"+secretOf(made["path"].(string)), nil))
	second := maren.must(201, "POST", "/helper-links", object{"role": "bookkeeper"})
	h.pass(8 * 24 * time.Hour)
	v.problem(410, "", "run out, or was ended", v.send("POST", "/invitations/"+secretOf(second["path"].(string)),
		object{"name": "Ines", "mail": "ines@helps.example", "password": "seven quiet kettles"}))
	if n := h.count(t, "people"); n != 1 {
		t.Errorf("%d people", n)
	}
}

// Where letters are sent, an account that joins is made by one, whether there is one is told to its address alone, and
// owners hear of who has joined.
func TestJoiningByALetter(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	maren := h.maren(t)
	kitchen := maren.must(200, "GET", "/session", nil)["kitchen"].(string)
	link := secretOf(maren.must(201, "POST", "/helper-links", object{"role": "maker"})["path"].(string))
	v := h.visitor(t)
	account := object{"name": "Ines", "mail": "ines@helps.example", "password": "seven quiet kettles"}
	s := v.must(201, "POST", "/invitations/"+link, account)
	if s["signedIn"] != false || s["mailed"] != true {
		t.Errorf("%v", s)
	}
	// Somebody else's address is answered alike.
	if again := h.visitor(t).must(201, "POST", "/invitations/"+link, with(account, object{
		"mail": "maren@lakeside.example"})); fmt.Sprint(again) != fmt.Sprint(s) {
		t.Errorf("%v, and %v", again, s)
	}
	letterTo(t, c, "maren@lakeside.example", "You have an account already")
	_, letter := letterTo(t, c, "ines@helps.example", "Join the kitchen "+kitchen)
	secret := secretOf(letter)
	if l := v.must(200, "GET", "/account-links/"+secret, nil); l["kind"] != "join" || l["kitchen"] == nil {
		t.Errorf("%v", l)
	}
	if s := v.must(200, "POST", "/account-links/"+secret, object{}); s["role"] != "maker" || s["unproven"] == true {
		t.Errorf("%v", s)
	}
	letterTo(t, c, "maren@lakeside.example", "Ines has joined "+kitchen)
	v.problem(410, "", "used already", v.send("POST", "/account-links/"+secret, object{}))
	maren.must(200, "DELETE", "/helpers/"+v.must(200, "GET", "/session", nil)["id"].(string), nil)
	letterTo(t, c, "ines@helps.example", "You do not work in "+kitchen+" any more")
}
