package app_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/internal/demo"
	"zestytin/internal/platform/db"
)

// Every table that has a kitchen_id, by the catalogue: another kitchen's rows can be neither read nor written.
func TestRowLevelSecurity(t *testing.T) {
	t.Parallel()
	h := open(t)
	ctx := context.Background()
	maren := h.maren(t)
	maren.must(201, "POST", "/orders", maren.draft("Milk malt bombs", 12), "Idempotency-Key",
		"one") // so that there is a key
	owner, err := pgx.Connect(ctx, h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(ctx)
	rows, err := owner.Query(ctx, `select c.relname, c.relrowsecurity and c.relforcerowsecurity,
			pg_get_userbyid(c.relowner),
			(select string_agg(quote_ident(g.attname), ', ') from pg_attribute g where g.attrelid = c.oid
			and g.attnum > 0 and not g.attisdropped and g.attgenerated = '')
		from pg_class c
		join pg_attribute a on a.attrelid = c.oid and a.attname = 'kitchen_id' and not a.attisdropped
		where c.relkind in ('r', 'p') order by 1`)
	if err != nil {
		t.Fatal(err)
	}
	type table struct {
		Name    string
		Forced  bool
		Owner   string
		Columns string // but those that are generated
	}
	tables, err := pgx.CollectRows(rows, pgx.RowToStructByPos[table])
	if err != nil || len(tables) < 15 {
		t.Fatalf("%d tables, %v", len(tables), err)
	}
	var mine uuid.UUID
	if err := owner.QueryRow(ctx, `select id from kitchens`).Scan(&mine); err != nil {
		t.Fatal(err)
	}
	// What the demo has no row of yet.
	maren.must(201, "POST", "/starter", maren.answers(object{"sells": object{"fudge": object{}}}))
	maren.must(200, "POST", "/plan/changes", object{"kind": "off", "day": "2026-09-15"})
	maren.must(200, "POST", "/plan/runs", object{})
	maren.must(201, "POST", "/customers", object{"customers": []object{{"name": "Oona Reyes"}}})
	maren.must(200, "PUT", "/drives/2026-09-05", object{"sequence": []string{}, "leaves": object{}, "doors": object{},
		"hand": 0, "planned": true}, "If-Match", "*")
	wren := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	maren.must(200, "PUT", "/drives/2026-09-05/drops/"+wren, object{"outcome": "nobody there"})
	maren.must(204, "PUT", "/positions", object{"address": "Far farm", "at": "46, -27.9"})
	maren.must(204, "PUT", "/positions", object{"address": "Far farm", "minutes": 12})
	maren.must(200, "POST", "/orders/"+wren+"/invoices", nil)
	maren.tellsOf(wren)
	maren.event(wren)
	maren.must(204, "PUT", "/orders/"+wren+"/pack-ticks", object{"what": "line:0", "done": true})
	step := maren.aStep()
	maren.must(200, "PUT", step, object{"done": true, "device": "one"})
	maren.must(204, "POST", step+"/notes", object{"id": db.NewID(), "text": "thin"})
	maren.must(204, "POST", "/timers", object{"id": db.NewID(), "name": "Tea", "seconds": 60, "device": "one"})
	at := maren.sheetSteps("2026-09-05")[0]
	maren.must(201, "POST", "/faults", object{"batch": at["batch"], "step": at["step"], "units": 1, "sign": "broken",
		"cause": "handled", "fix": "taste"})
	batch, tried := fmt.Sprint(at["batch"]), fmt.Sprint(at["step"])
	maren.must(204, "PUT", "/batches/"+batch+"/results/"+tried, object{"minutes": 12})
	maren.must(204, "PUT", "/batches/"+batch+"/photo", aPicture(t))
	if _, err := owner.Exec(ctx, `insert into lessons (kitchen_id, id, treat_id, what, step, was, mean, low, high, batches,
			counts, version, at) values ($1, $2, $3, 'loss', 'seal', 0.1, 0.1, 0, 1, 1, 1, 1, now())`, mine, db.NewID(),
		maren.treat("Milk malt bombs")); err != nil {
		t.Fatal(err)
	}
	bowl := maren.bowl(object{"probe": maren.sensor("probe", "C", true)["id"]})["id"].(string)
	maren.must(201, "POST", "/pots/"+bowl+"/deeds", object{"what": "smear"})
	maren.must(204, "POST", "/pots/"+bowl+"/readings", object{"kind": "probe", "value": 31})
	if _, err := owner.Exec(ctx, `insert into contacts (kitchen_id, address, token) values ($1, 'a@b.example', 'x')`,
		mine); err != nil {
		t.Fatal(err)
	}
	maren.openPage(object{})
	maren.must(201, "POST", "/helper-links", object{"role": "maker"})
	maren.page("GET", "/ask/marens-kitchen/days?n-"+maren.treat("Milk malt bombs")+"=3", nil)
	maren.must(204, "PUT", "/kitchen/logo", aPicture(t))
	maren.must(200, "PUT", "/orders/"+wren, with(maren.must(200, "GET", "/orders/"+wren, nil)["draft"].(object),
		object{"notes": "Ring twice"}), "If-Match", "*")
	theirs := db.NewID()
	for _, table := range tables {
		if !table.Forced || table.Owner == db.Role || table.Owner == "zestytin_server" {
			t.Errorf("%s: forced %v, owned by %s", table.Name, table.Forced, table.Owner)
		}
		name := pgx.Identifier{table.Name}.Sanitize()
		var row []byte
		err := db.InKitchen(ctx, h.pool, mine, func(tx pgx.Tx) error {
			return tx.QueryRow(ctx, `select to_jsonb(x) from `+name+` x limit 1`).Scan(&row)
		})
		if err != nil {
			t.Errorf("%s: the demo kitchen has no row to try with: %v", table.Name, err)
			continue
		}
		for _, attempt := range []func(tx pgx.Tx) error{
			func(tx pgx.Tx) error {
				var n int
				if err := tx.QueryRow(ctx, `select count(*) from `+name).Scan(&n); err != nil || n != 0 {
					t.Errorf("%s: another kitchen sees %d rows (%v)", table.Name, n, err)
				}
				return nil
			},
			func(tx pgx.Tx) error {
				tag, err := tx.Exec(ctx, `update `+name+` set kitchen_id = $1`, theirs)
				if refused := (*pgconn.PgError)(nil); errors.As(err, &refused) && refused.Code == "42501" {
					return err // nobody changes it, whoever they are
				}
				if err != nil || tag.RowsAffected() != 0 {
					t.Errorf("%s: another kitchen changes %d rows (%v)", table.Name, tag.RowsAffected(), err)
				}
				return nil
			},
			func(tx pgx.Tx) error {
				tag, err := tx.Exec(ctx, `delete from `+name)
				if err != nil || tag.RowsAffected() != 0 {
					t.Errorf("%s: another kitchen deletes %d rows (%v)", table.Name, tag.RowsAffected(), err)
				}
				return nil
			},
			func(tx pgx.Tx) error {
				_, err := tx.Exec(ctx, `insert into `+name+` (`+table.Columns+`) select `+table.Columns+
					` from jsonb_populate_record(null::`+name+`, $1)`, row)
				var refused *pgconn.PgError
				if !errors.As(err, &refused) || refused.Code != "42501" {
					t.Errorf("%s: another kitchen inserts a row of ours: %v", table.Name, err)
				}
				return errors.New("roll back")
			},
		} {
			_ = db.InKitchen(ctx, h.pool, theirs, attempt)
		}
	}
	// Without a kitchen there is nothing at all.
	var n int
	if err := h.pool.QueryRow(ctx, `select count(*) from orders`).Scan(&n); err != nil || n != 0 {
		t.Errorf("outside of a kitchen %d orders are seen (%v)", n, err)
	}
	if err := h.pool.QueryRow(ctx, `select count(*) from kitchens`).Scan(&n); err != nil || n != 0 {
		t.Errorf("outside of a kitchen %d kitchens are seen (%v)", n, err)
	}
}

// Every operation of the OpenAPI document with another kitchen's ids: 404 where the path names one, and nowhere a word
// of the other kitchen.
func TestEveryOperationKeepsToItsKitchen(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	order := maren.must(201, "POST", "/orders", maren.draft("Milk malt bombs", 12))
	treat := maren.treat("Milk malt bombs")
	ids, bodies := maren.ids(order), maren.bodies(bo)
	document := bo.must(200, "GET", "/api/openapi.json", nil)
	tried := 0
	for path, item := range document["paths"].(object) {
		for method, op := range item.(object) {
			id := op.(object)["operationId"].(string)
			if id == "stream-events" { // it has no end; what is heard of whom is TestChangesAreHeard's
				continue
			}
			if method == "get" && !strings.Contains(path, "{id}") {
				at := strings.NewReplacer("{day}", "2026-09-05", "{family}", "bomb").Replace(path)
				seen := bo.send("GET", at, nil).body
				for _, secret := range append([]string{"Maren", "Wren", "Milk malt", "Lake blue", "Harbour market"},
					values(ids)...) {
					if strings.Contains(seen, secret) {
						t.Errorf("%s shows another kitchen's %s", id, secret)
					}
				}
			}
			if !strings.Contains(path, "{id}") {
				continue
			}
			tried++
			known, of := ids[path], path
			for known == "" && strings.Contains(of, "{id}/") { // something of it: /moves, /versions, /file
				of = of[:strings.LastIndex(of, "/")]
				known = ids[of]
			}
			body, ok := bodies[id]
			if known == "" || !ok && method != "get" {
				t.Errorf("this test does not know %s yet: teach it an id and a body", id)
				continue
			}
			at := strings.NewReplacer("{id}", known, "{step}", "wash", "{day}", "2026-09-05",
				"{deed}", "undo", "{number}", "1", "{was}", order["id"].(string)).Replace(path)
			if a := bo.send(strings.ToUpper(method), at, body, "If-Match", "*"); a.status != http.StatusNotFound {
				t.Errorf("%s with another kitchen's id: %d %s", id, a.status, a.body)
			}
		}
	}
	if tried < 14 {
		t.Errorf("only %d operations have ids", tried)
	}
	// Ids in bodies are no way in either.
	stolen := with(maren.draft("Milk malt bombs", 3), nil)
	bo.problem(422, "body.lines[0].treat", "not in your book", bo.send("POST", "/orders", stolen))
	bo.problem(422, "body.lines[0].treat", "not in your book", bo.send("POST", "/estimates", object{"draft": stolen}))
	bo.problem(404, "", "order", bo.send("POST", "/estimates",
		object{"draft": with(stolen, object{"lines": []object{}}), "order": order["id"]}))
	formula := maren.must(200, "GET", "/treats/"+treat, nil)["formula"]
	bo.problem(422, "body.formula.coatings[0].ingredient", "not in the larder",
		bo.send("POST", "/treats", object{"name": "Stolen", "formula": formula}))
	if now := maren.must(200, "GET", "/orders/"+order["id"].(string), nil); now["revision"] != order["revision"] {
		t.Error("the order was changed from outside")
	}
}

// ids of things of a kitchen, of each that an operation is about, by the path that names it; one is an order.
func (p *person) ids(order object) map[string]string {
	p.t.Helper()
	promised := find(p.t, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")
	days := p.must(200, "GET", "/orders/"+promised["id"].(string), nil)["days"].([]any)
	ids := map[string]string{
		"/api/v1/orders/{id}": order["id"].(string), "/api/v1/treats/{id}": p.treat("Milk malt bombs"),
		"/api/v1/ingredients/{id}": find(p.t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name",
			"Dark 60%")["id"].(string),
		"/api/v1/mixes/{id}": find(p.t, p.must(200, "GET", "/mixes", nil)["mixes"], "name",
			"Brown butter")["id"].(string),
		"/api/v1/supplies/{id}": find(p.t, p.must(200, "GET", "/supplies", nil)["supplies"], "name",
			"Ribbon")["id"].(string),
		"/api/v1/batches/{id}/steps/{step}": days[0].(object)["batch"].(string),
		"/api/v1/batches/{id}":              days[0].(object)["batch"].(string),
		"/api/v1/stock/{id}": find(p.t, p.must(200, "GET", "/ingredients", nil)["ingredients"], "name",
			"Dark 60%")["id"].(string),
		"/api/v1/payments/{id}": p.must(200, "GET", "/orders/"+promised["id"].(string)+"/payments",
			nil)["payments"].([]any)[0].(object)["id"].(string),
	}
	ids["/api/v1/plan/changes/{id}"] = p.must(200, "POST", "/plan/changes",
		object{"kind": "off", "day": "2026-09-15"})["change"].(string)
	ids["/api/v1/customers/brought/{id}"] = p.must(201, "POST", "/customers",
		object{"customers": []object{{"name": "Maren's aunt"}}})["brought"].(string)
	ids["/api/v1/plan/runs/{id}"] = p.must(200, "POST", "/plan/runs", object{})["id"].(string)
	dark := p.must(200, "GET", "/stock/"+ids["/api/v1/stock/{id}"], nil)
	ids["/api/v1/lots/{id}"] = dark["lotList"].([]any)[0].(object)["id"].(string)
	ids["/api/v1/drives/{day}/drops/{id}"] = promised["id"].(string)
	ids["/api/v1/occasions/{id}"] = p.event(promised["id"])["id"].(string)
	ids["/api/v1/timers/{id}"], ids["/api/v1/step-notes/{id}"] = db.NewID().String(), db.NewID().String()
	p.must(204, "POST", "/timers", object{"id": ids["/api/v1/timers/{id}"], "name": "Tea", "seconds": 60,
		"device": "one"})
	p.must(204, "POST", p.aStep()+"/notes", object{"id": ids["/api/v1/step-notes/{id}"], "text": "thin"})
	at := p.sheetSteps("2026-09-05")[0]
	ids["/api/v1/faults/{id}"] = p.must(201, "POST", "/faults", object{"batch": at["batch"], "step": at["step"],
		"units": 1, "sign": "broken", "cause": "handled", "fix": "taste"})["id"].(string)
	ids["/api/v1/sessions/{id}"] = p.must(200, "GET", "/account", nil)["sessions"].([]any)[0].(object)["id"].(string)
	ids["/api/v1/account/passkeys/{id}"] = db.NewID().String()
	ids["/api/v1/sensors/{id}"] = p.sensor("probe", "C", false)["id"].(string)
	ids["/api/v1/pots/{id}"] = p.bowl(nil)["id"].(string)
	here := p.must(200, "GET", "/session", nil)["kitchens"].([]any)[0].(object)
	ids["/api/v1/account/kitchens/{id}"] = here["id"].(string)
	ids["/api/v1/helpers/{id}"] = p.must(200, "GET", "/session", nil)["id"].(string)
	ids["/api/v1/helper-links/{id}"] = p.must(201, "POST", "/helper-links", object{"role": "maker"})["id"].(string)
	ids["/api/v1/messages/{id}"] = p.tellsOf(promised["id"]).(string)
	return ids
}

// bodies for operations that name a thing, right in themselves, so that only the id can be wrong. other is somebody of
// another kitchen, whom they are meant for.
func (p *person) bodies(other *person) map[string]any {
	return map[string]any{
		"put-order":      with(p.draft("Milk malt bombs", 3), object{"lines": []object{}}),
		"move-order":     object{"to": "quoted"},
		"put-treat":      object{"name": "Mine now"},
		"copy-treat":     object{"name": "Mine now"},
		"put-ingredient": ingredient("Mine now", nil),
		"put-mix": object{"name": "Mine now", "loss": 0,
			"parts": []object{{"of": other.must(201, "POST", "/ingredients", ingredient("Own sugar", nil))["id"],
				"amount": object{"amount": 1, "unit": "g"}}}},
		"put-supply": object{"name": "Mine now", "stock": object{"amount": 1, "unit": "m"}, "paid": "1.00",
			"paidFor": object{"amount": 1, "unit": "m"}},
		"tick-step":     object{"done": true},
		"add-step-note": object{"id": db.NewID(), "text": "thin"}, "remove-step-note": nil, "stop-timer": nil,
		"refuse-messages": nil, "renew-sensor-link": nil, "remove-sensor": nil,
		"note-deed": object{"what": "smear"}, "note-reading": object{"kind": "probe", "value": 31},
		"put-pot-instruments": object{}, "end-pot": object{"result": ""}, "resume-pot": nil, "undo-deed": nil,
		"write-message": object{"kind": "thanks", "way": "text", "subject": "x", "body": "x"}, "change-message": nil,
		"tick-packing": object{"what": "line:0", "done": true},
		"put-event":    gala(), "delete-event": nil, "count-event": object{"try": false, "late": true},
		"make-invoice": nil, "credit-invoice": nil,
		"put-drop": object{"outcome": "nobody there"}, "delete-drop": nil,
		"put-market":       object{"low": "1", "high": "2"},
		"put-list-price":   object{"price": "3", "count": 1},
		"count-item":       object{"amount": object{"amount": 1, "unit": "g"}, "reason": "mine now"},
		"put-offers":       object{"offers": []object{}},
		"make-mix":         object{"amount": object{"amount": 1, "unit": "g"}},
		"put-lot":          object{"bestBefore": "", "opened": "", "openUntil": ""},
		"undo-plan-change": nil, "stop-plan-run": nil, "take-plan-run": nil, "void-lot": nil, "make-quote": nil,
		"revoke-quotes": nil, "remove-payment": nil,
		"put-result": object{"good": 3}, "end-session": nil, "remove-passkey": nil,
		"make-more": object{"line": 0, "count": 1}, "hand-over-fewer": object{"line": 0, "count": 1},
		"leave-kitchen": nil, "remove-helper": nil, "end-invitation": nil, "put-role": object{"role": "maker"},
		"put-photo": aPicture(p.t), "remove-photo": nil, "put-step-result": object{"minutes": 3}, "remove-fault": nil,
		"take-lesson": object{"what": "loss", "step": "seal"},
		"add-losses":  object{"pieces": 1}, "remove-brought": nil,
		"note-payment": object{"kind": "deposit", "amount": "1", "day": "2026-09-03"},
	}
}

func values(m map[string]string) []string {
	var list []string
	for _, v := range m {
		list = append(list, v)
	}
	return list
}

// Every operation that is not open to all answers 401 to somebody who is not signed in.
func TestClosedDoor(t *testing.T) {
	t.Parallel()
	h := open(t)
	visitor := h.visitor(t)
	var document struct {
		Paths map[string]map[string]struct {
			OperationID string
			Security    []map[string][]string
		}
	}
	if err := json.Unmarshal([]byte(visitor.send("GET", "/api/openapi.json", nil).body), &document); err != nil {
		t.Fatal(err)
	}
	openToAll := 0
	for path, item := range document.Paths {
		for method, op := range item {
			if len(op.Security) == 0 {
				openToAll++
				continue
			}
			at := strings.NewReplacer("{id}", db.NewID().String(), "{token}", "x", "{step}", "x", "{day}", "2026-09-05",
				"{family}", "bomb").Replace(path)
			if a := visitor.send(strings.ToUpper(method), at, object{}); a.status != http.StatusUnauthorized {
				t.Errorf("%s: %d", op.OperationID, a.status)
			}
		}
	}
	if openToAll != 19 {
		t.Errorf("%d operations are open to all, want opening a kitchen, trying one, signing in, by a passkey too (two), "+
			"signing out, asking who is, asking for a new password, the two of a letter's link, "+
			"the two of an invitation, the five of a quote's, "+
			"the calendar's and a thermometer's", openToAll)
	}
}

// A browser that has signed in before is let through while a stranger at the same address guesses: whoever guesses
// counts against himself. A change of the password makes all other browsers strangers again.
func TestAKnownBrowserIsNotLockedOut(t *testing.T) {
	t.Parallel()
	h := open(t)
	known, fresh, stranger := h.maren(t), h.visitor(t), h.visitor(t)
	other := h.maren(t)
	guess := object{"mail": demo.SignIn.Mail, "password": "a guess of a stranger"}
	for status := 0; status != 429; {
		status = stranger.send("POST", "/session", guess).status
		if status != 401 && status != 429 {
			t.Fatalf("a guess is answered with %d", status)
		}
	}
	if a := fresh.send("POST", "/session", demo.SignIn); a.status != 429 {
		t.Errorf("from the stranger's address: %d", a.status)
	}
	known.must(200, "POST", "/session", demo.SignIn)
	known.must(401, "POST", "/session", guess) // known, and still not who it says

	known.must(204, "PUT", "/password", object{"present": demo.SignIn.Password, "new": "four cooler boxes"})
	if a := other.send("POST", "/session", object{"mail": demo.SignIn.Mail,
		"password": "four cooler boxes"}); a.status != 429 {
		t.Errorf("another browser is still known after a change of the password: %d", a.status)
	}
	known.must(200, "POST", "/session", object{"mail": demo.SignIn.Mail, "password": "four cooler boxes"})
	for range perMinute { // nor may a known browser guess for ever
		if known.send("POST", "/session", guess).status == 429 {
			return
		}
	}
	t.Error("a known browser may guess without an end")
}

// perMinute is more than what any limit lets through in a minute.
const perMinute = 100

// The server's own role sees nobody of the tables of people and browsers unless it says whom: neither all of them, nor
// those of another kitchen, and it changes nobody else.
func TestPeopleAreFenced(t *testing.T) {
	t.Parallel()
	h := open(t)
	h.maren(t)
	h.stranger(t)
	ctx := context.Background()
	count := func(tx pgx.Tx, question string, args ...any) (n int) {
		if err := tx.QueryRow(ctx, question, args...).Scan(&n); err != nil {
			t.Fatal(err)
		}
		return n
	}
	var sessions, attempts int
	if err := h.owned(t).QueryRow(ctx, `select (select count(*) from sessions), (select count(*) from attempts)`).Scan(
		&sessions, &attempts); err != nil || sessions < 2 || attempts < 1 {
		t.Fatalf("%d sessions and %d counts of attempts are there: %v", sessions, attempts, err)
	}
	h.own(t, `insert into account_letters (id, kind, mail, at) values (gen_random_uuid(), 'known', 'x@y.example', now())`)
	var theirs uuid.UUID
	if err := h.owned(t).QueryRow(ctx, `select id from people where mail = 'bo@elsewhere.example'`).Scan(
		&theirs); err != nil {
		t.Fatal(err)
	}
	err := db.Begin(ctx, h.pool, func(tx pgx.Tx) error {
		if n := count(tx, `select count(*) from people`); n != 0 {
			t.Errorf("without a word %d people are seen", n)
		}
		if n := count(tx, `select count(*) from devices`); n != 0 {
			t.Errorf("without a word %d browsers are seen", n)
		}
		if n := count(tx, `select count(*) from sessions`); n != 0 {
			t.Errorf("without a word %d sessions are seen", n)
		}
		if n := count(tx, `select count(*) from account_letters`); n != 0 {
			t.Errorf("without a word %d letters are seen", n)
		}
		if n := count(tx, `select count(*) from attempts`); n != 0 {
			t.Errorf("without a word %d counts of attempts are seen", n)
		}
		if err := db.Set(ctx, tx, "zt.mail", demo.SignIn.Mail); err != nil {
			return err
		}
		if n := count(tx, `select count(*) from people`); n != 1 {
			t.Errorf("by one address %d people are seen", n)
		}
		tag, err := tx.Exec(ctx, `update people set name = 'Somebody'`)
		if err == nil && tag.RowsAffected() != 0 {
			t.Error("somebody is changed who has only said an address")
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	var kitchen uuid.UUID
	if err := h.owned(t).QueryRow(ctx, `select kitchen_id from memberships where person_id <> $1`,
		theirs).Scan(&kitchen); err != nil {
		t.Fatal(err)
	}
	err = db.InKitchen(ctx, h.pool, kitchen, func(tx pgx.Tx) error {
		if n := count(tx, `select count(*) from people`); n != 1 {
			t.Errorf("in a kitchen of one %d people are seen", n)
		}
		if n := count(tx, `select count(*) from people where id = $1`, theirs); n != 0 {
			t.Error("somebody of another kitchen is seen")
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
