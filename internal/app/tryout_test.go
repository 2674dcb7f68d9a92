package app_test

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zestytin/internal/app"
	"zestytin/internal/demo"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/post/posttest"
	"zestytin/internal/platform/web"
)

// A visitor has a kitchen with something in it, their own alone, from which no letter leaves, for a day and no longer.
// Where the server does not offer it there is none.
func TestAKitchenToTry(t *testing.T) {
	t.Parallel()
	c := posttest.New(t)
	server, err := post.NewServer(c.URL, "post@sweets.example", 2*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	var h *house
	h = openWith(t, func(o *app.Options) {
		o.Mailer, o.Public = server, "https://sweets.example"
		o.Fill = func(ctx context.Context, mail string) error { return demo.LoadAs(ctx, h.pool, h.clock(), mail) }
	})
	h.work(t)
	one, two := h.visitor(t), h.visitor(t)
	if s := one.must(200, "GET", "/session", nil); s["toTry"] != true || s["signedIn"] != false {
		t.Errorf("it is offered: %v", s)
	}
	s := one.must(201, "POST", "/try-outs", nil)
	at := h.clock().Add(24 * time.Hour).Format(time.RFC3339)
	if s["signedIn"] != true || s["toTry"] != true || s["goneAt"] != at {
		t.Errorf("%v", s)
	}
	two.must(201, "POST", "/try-outs", nil)
	order := one.must(201, "POST", "/orders", with(one.draft("Milk malt bombs", 6), object{"mail": "victim@x.example"}))
	if list := two.must(200, "GET", "/orders?which=all&limit=100", nil); strings.Contains(flat(t, list), "victim") {
		t.Error("two visitors share a kitchen")
	}
	// Nothing leaves it: neither a message to a customer nor a letter to another address.
	id := order["id"].(string)
	one.must(200, "POST", "/orders/"+id+"/moves", object{"to": "quoted"})
	one.switchOn(nil, "thanks")
	one.must(201, "POST", "/orders/"+id+"/messages", object{"kind": "thanks", "way": "mail", "subject": "Buy this",
		"body": "Cheap!"})
	one.problem(409, "", "to be tried", one.send("PUT", "/account/mail", object{"mail": "victim@x.example"}))
	one.problem(409, "", "to be tried", one.send("DELETE", "/kitchen/leaving", nil))
	h.pass(2 * time.Minute)
	h.hurry(t)
	h.becomes(t, one, id, 0, "dropped")
	if list := c.Letters(); len(list) != 0 {
		t.Errorf("%v", list)
	}
	var kitchen uuid.UUID
	if err := h.owned(t).QueryRow(context.Background(), `select kitchen_id from orders where id = $1`, id).Scan(
		&kitchen); err != nil {
		t.Fatal(err)
	}
	h.pass(24 * time.Hour)
	if err := h.app.Round(web.WithWho(context.Background(), web.Actor{Kitchen: kitchen})); err != nil {
		t.Fatal(err)
	}
	one.problem(401, "", "sign in", one.send("GET", "/orders", nil))
	if left, _ := h.rowsOf(t, kitchen); len(left) != 0 {
		t.Errorf("left: %v", left)
	}
	elsewhere := open(t)
	elsewhere.visitor(t).problem(404, "", "no kitchen to try", elsewhere.visitor(t).send("POST", "/try-outs", nil))
}
