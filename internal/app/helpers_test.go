package app_test

import (
	"bufio"
	"context"
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"zestytin/internal/demo"
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
	maren.must(201, "POST", "/orders/"+order+"/payments", object{"kind": "deposit", "amount": "1.00",
		"day": "2026-09-03"})
	id := helper.must(200, "GET", "/session", nil)["id"].(string)
	maren.must(200, "PUT", "/helpers/"+id+"/role", object{"role": "bookkeeper"})
	ends(t, gone)
	topics := map[string]bool{}
	for !topics["orders"] { // what changed first is told at the latest with what changed last
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
	// What somebody made who owns the kitchen no longer, is no way back for them.
	ada := maren.joins(h, "owner", "Ada")
	theirs := secretOf(ada.must(201, "POST", "/helper-links", object{"role": "owner"})["path"].(string))
	kept := secretOf(maren.must(201, "POST", "/helper-links", object{"role": "maker"})["path"].(string))
	maren.must(200, "DELETE", "/helpers/"+ada.must(200, "GET", "/session", nil)["id"].(string), nil)
	ada.problem(410, "", "was ended", ada.send("POST", "/invitations/"+theirs, object{}))
	ada.must(200, "GET", "/invitations/"+kept, nil)
	second := maren.must(201, "POST", "/helper-links", object{"role": "bookkeeper"})
	h.pass(8 * 24 * time.Hour)
	v.problem(410, "", "run out, or was ended", v.send("POST", "/invitations/"+secretOf(second["path"].(string)),
		object{"name": "Ines", "mail": "ines@helps.example", "password": "seven quiet kettles"}))
	if n := h.count(t, "people"); n != 2 {
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
