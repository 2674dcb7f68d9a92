package app_test

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/demo"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// rowsOf a kitchen in every table that has any, by the catalogue, and how many people there are.
func (h *house) rowsOf(t *testing.T, kitchen uuid.UUID) (rows map[string]int, people int) {
	t.Helper()
	ctx := context.Background()
	owner := h.owned(t)
	list, err := owner.Query(ctx, `select c.relname from pg_class c join pg_attribute a on a.attrelid = c.oid
		and a.attname = 'kitchen_id' where c.relkind = 'r'`)
	if err != nil {
		t.Fatal(err)
	}
	names, err := pgx.CollectRows(list, pgx.RowTo[string])
	if err != nil {
		t.Fatal(err)
	}
	rows = map[string]int{}
	for _, name := range names {
		var n int
		if err := owner.QueryRow(ctx, `select count(*) from `+name+` where kitchen_id = $1`, kitchen).Scan(&n); err != nil {
			t.Fatal(err)
		}
		if n > 0 {
			rows[name] = n
		}
	}
	if err := owner.QueryRow(ctx, `select count(*) from people`).Scan(&people); err != nil {
		t.Fatal(err)
	}
	return rows, people
}

// A kitchen goes a week after it was said, and not before; until then one touch keeps it. With it goes every row of it,
// by the catalogue, and who works in no other; a neighbour keeps all of theirs.
func TestAKitchenGoes(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	ctx := context.Background()
	maren, bo := h.maren(t), h.visitor(t)
	bo.must(201, "POST", "/kitchens", object{"kitchen": "Elsewhere", "name": "Bo", "mail": "bo@elsewhere.example",
		"password": "quite another one", "timeZone": "Europe/Vienna", "currency": "EUR"})
	_, link := letterTo(t, c, "bo@elsewhere.example", "Open your kitchen")
	bo.must(200, "POST", link, object{})
	bo.must(201, "POST", "/ingredients", ingredient("Own sugar", nil))
	kitchen := h.kitchen(t)
	round := func() {
		t.Helper()
		if err := h.app.Round(web.WithWho(ctx, web.Actor{Kitchen: kitchen})); err != nil {
			t.Fatal(err)
		}
	}
	// No code of the server's takes a kitchen away of which nobody said so.
	if err := db.InKitchen(ctx, h.pool, kitchen, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `delete from kitchens where id = $1`, kitchen)
		if err == nil && tag.RowsAffected() != 0 {
			t.Error("a kitchen is taken away of which nobody said so")
		}
		return fmt.Errorf("roll back")
	}); err == nil {
		t.Error("rolled back")
	}
	h.pass(11 * time.Minute)
	maren.problem(403, "", "once more", maren.send("POST", "/kitchen/leaving", nil))
	maren.must(204, "POST", "/session/confirm", object{"password": demo.SignIn.Password})
	at := maren.must(200, "POST", "/kitchen/leaving", nil)["at"]
	if again := maren.must(200, "POST", "/kitchen/leaving", nil)["at"]; again != at {
		t.Errorf("said twice it goes no later: %v, %v", at, again)
	}
	if s := maren.must(200, "GET", "/session", nil); s["goneAt"] != at {
		t.Errorf("it is shown everywhere: %v", s)
	}
	letterTo(t, c, demo.SignIn.Mail, "Your kitchen is to go")
	h.pass(6 * 24 * time.Hour)
	round()
	maren.must(204, "DELETE", "/kitchen/leaving", nil)
	h.pass(2 * 24 * time.Hour)
	round()
	maren.must(200, "GET", "/orders", nil)
	maren.must(204, "POST", "/session/confirm", object{"password": demo.SignIn.Password})
	maren.must(200, "POST", "/kitchen/leaving", nil)
	_, people := h.rowsOf(t, kitchen)
	theirs := uuid.UUID{}
	if err := h.owned(t).QueryRow(ctx, `select id from kitchens where id <> $1`, kitchen).Scan(&theirs); err != nil {
		t.Fatal(err)
	}
	before, _ := h.rowsOf(t, theirs)
	h.pass(7 * 24 * time.Hour)
	round()
	round() // another server's
	left, fewer := h.rowsOf(t, kitchen)
	if len(left) != 0 || fewer != people-1 {
		t.Errorf("left: %v, and %d of %d people", left, fewer, people)
	}
	after, _ := h.rowsOf(t, theirs)
	if fmt.Sprint(after) != fmt.Sprint(before) {
		t.Errorf("a neighbour had %v and has %v", before, after)
	}
	maren.problem(401, "", "sign in", maren.send("GET", "/orders", nil))
	maren.problem(401, "", "Wrong email", maren.send("POST", "/session", demo.SignIn))
	bo.must(200, "POST", "/session", object{"mail": "bo@elsewhere.example", "password": "quite another one"})
	if list := bo.must(200, "GET", "/ingredients", nil)["ingredients"].([]any); len(list) != 1 {
		t.Errorf("%v", list)
	}
}

// When a kitchen goes its helpers keep their account: they sign in, and are in no kitchen.
func TestHelpersStayWhenAKitchenGoes(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	helper := maren.joins(h, "maker", "Ines")
	maren.must(200, "POST", "/kitchen/leaving", nil)
	if s := helper.must(200, "GET", "/session", nil); s["goneAt"] == nil {
		t.Error("a helper is not told that the kitchen is to go")
	}
	helper.must(403, "DELETE", "/kitchen/leaving", nil)
	kitchen := h.kitchen(t)
	h.pass(8 * 24 * time.Hour)
	if err := h.app.Round(web.WithWho(context.Background(), web.Actor{Kitchen: kitchen})); err != nil {
		t.Fatal(err)
	}
	if n := h.count(t, "people"); n != 1 {
		t.Errorf("%d people are left", n)
	}
	v := h.visitor(t)
	if s := v.must(200, "POST", "/session", object{"mail": "ines@helps.example",
		"password": "seven quiet kettles"}); s["signedIn"] != true || s["kitchen"] != nil {
		t.Errorf("%v", s)
	}
	v.problem(403, "", "You work in no kitchen", v.send("GET", "/plan", nil))
	if s := v.must(201, "POST", "/account/kitchens", object{"kitchen": "My own", "timeZone": "Europe/Vienna",
		"country": "AT"}); s["role"] != "owner" {
		t.Errorf("%v", s)
	}
}
