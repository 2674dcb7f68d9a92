package app_test

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/app"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/post/posttest"
	"zestytin/internal/platform/web"
)

// mailed is a house whose mail goes to a catcher.
func mailed(t *testing.T) (*house, *posttest.Catcher, *person) {
	t.Helper()
	c := posttest.New(t)
	server, err := post.NewServer(c.URL, "post@sweets.example", 2*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	h := openWith(t, func(o *app.Options) { o.Mailer = server })
	p := h.maren(t)
	kitchen := p.must(200, "GET", "/kitchen", nil)
	kitchen["public"] = "https://sweets.example"
	p.must(200, "PUT", "/kitchen", kitchen, "If-Match", "*")
	return h, c, p
}

// switchOn kinds of messages, with a change of them.
func (p *person) switchOn(change object, kinds ...string) object {
	p.t.Helper()
	s := p.must(200, "GET", "/message-settings", nil)
	for _, k := range kinds {
		find(p.t, s["kinds"], "kind", k)["on"] = true
	}
	return p.must(200, "PUT", "/message-settings", with(s, change), "If-Match", "*")
}

// tellsOf an order, by hand.
func (p *person) tellsOf(order any) any {
	p.t.Helper()
	p.switchOn(nil, "thanks")
	return p.must(201, "POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": "text",
		"subject": "Thanks", "body": "Thanks, {customer}"})["id"]
}

// outbox of an order, the first message first.
func (p *person) outbox(order any) (list []object) {
	p.t.Helper()
	for _, m := range p.must(200, "GET", fmt.Sprint("/orders/", order, "/messages"), nil)["messages"].([]any) {
		list = append([]object{m.(object)}, list...)
	}
	return list
}

// hurry lets all jobs that wait for their time be done at once: they look at the clock themselves.
func (h *house) hurry(t *testing.T) {
	t.Helper()
	if _, err := h.pool.Exec(context.Background(), `update river_job set state = 'available', scheduled_at = now()
		where state in ('scheduled', 'retryable')`); err != nil {
		t.Fatal(err)
	}
}

// becomes waits until a message stands so.
func (h *house) becomes(t *testing.T, p *person, order any, n int, state string) object {
	t.Helper()
	var list []object
	for range 200 {
		if list = p.outbox(order); len(list) > n && list[n]["state"] == state {
			return list[n]
		}
		h.hurry(t)
		time.Sleep(25 * time.Millisecond)
	}
	t.Fatalf("message %d does not become %s: %v", n, state, list)
	return nil
}

// round of the demo kitchen.
func (h *house) round(t *testing.T) {
	t.Helper()
	if err := h.app.Round(web.WithWho(context.Background(), web.Actor{Kitchen: h.kitchen(t)})); err != nil {
		t.Fatal(err)
	}
}

// Nothing is told before it is switched on, nor of what was before; then a quote is told, waits a minute in which it
// can be undone, and leaves once.
func TestAQuoteIsTold(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	h.work(t)
	before, _ := p.quote("Milk malt bombs", 12)
	h.pass(time.Minute)
	p.switchOn(nil, "quote")
	h.round(t)
	if list := p.outbox(before["id"]); len(list) != 0 {
		t.Errorf("of a quote from before it tells %v", list)
	}
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"mail": "Ada@quill.example"}))
	id := order["id"]
	token := p.must(201, "POST", fmt.Sprint("/orders/", id, "/quotes"), nil)["quote"].(object)["token"].(string)
	first := p.outbox(id)[0]
	if first["state"] != "waiting" || first["address"] != "ada@quill.example" || !strings.Contains(first["body"].(string),
		"https://sweets.example/q/"+token) || !strings.Contains(first["body"].(string), "12 Milk malt bombs") {
		t.Errorf("%v", first)
	}
	due, err := time.Parse(time.RFC3339, first["due"].(string))
	if err != nil || due.Sub(h.clock()) != time.Minute {
		t.Errorf("due %s at %s", due, h.clock())
	}
	deed := func(m object, deed string) string { return fmt.Sprint("/messages/", m["id"], "/", deed) }
	p.must(200, "POST", deed(first, "undo"), nil)
	p.problem(409, "", "undone", p.send("POST", deed(first, "now"), nil))
	h.hurry(t)
	h.round(t) // what was undone is not told again
	p.must(201, "POST", fmt.Sprint("/orders/", id, "/quotes"), nil)
	if list := p.outbox(id); len(list) != 2 || list[1]["state"] != "waiting" {
		t.Fatalf("a new quote: %v", list)
	}
	h.pass(59 * time.Second)
	h.hurry(t)
	time.Sleep(300 * time.Millisecond)
	if list := p.outbox(id); list[1]["state"] != "waiting" || len(c.Letters()) != 0 {
		t.Errorf("a second before its time: %v, %d letters", list[1]["state"], len(c.Letters()))
	}
	h.pass(time.Second)
	sent := h.becomes(t, p, id, 1, "sent")
	letters := c.Letters()
	if len(letters) != 1 || letters[0].To[0] != "ada@quill.example" || letters[0].From != "maren@lakeside.example" ||
		letters[0].Header.Get("Message-Id") != fmt.Sprintf("<%s@sweets.example>", sent["id"]) {
		t.Fatalf("%d letters: %+v", len(letters), letters)
	}
	p.problem(409, "", "sent", p.send("POST", deed(sent, "undo"), nil))

	// No more, by one click of a mail program, which has no cookie (RFC 8058): then never.
	link := strings.TrimSuffix(strings.TrimPrefix(letters[0].Header.Get("List-Unsubscribe"), "<https://sweets.example"), ">")
	get := func(method string) (int, string) {
		t.Helper()
		req, err := http.NewRequest(method, h.URL+link, strings.NewReader("List-Unsubscribe=One-Click"))
		if err != nil {
			t.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		text := make([]byte, 4096)
		n, _ := res.Body.Read(text)
		return res.StatusCode, string(text[:n])
	}
	if status, page := get("GET"); status != 200 || !strings.Contains(page, "<form method=\"post\">") {
		t.Errorf("%d %s", status, page)
	}
	if status, page := get("POST"); status != 200 || !strings.Contains(page, "gets no more messages") {
		t.Errorf("%d %s", status, page)
	}
	p.must(201, "POST", fmt.Sprint("/orders/", id, "/quotes"), nil)
	if list := p.outbox(id); len(list) != 3 || list[2]["state"] != "dropped" ||
		!strings.Contains(list[2]["says"].(string), "no more messages") {
		t.Errorf("%v", list[2])
	}
	p.problem(409, "", "no more messages", p.send("POST", fmt.Sprint("/orders/", id, "/messages"), object{"kind": "thanks",
		"way": "mail", "subject": "x", "body": "y"}))
	link = "/no-more/" + strings.Repeat("A", 26)
	if status, _ := get("POST"); status != 404 {
		t.Errorf("a token of nobody: %d", status)
	}
}

// Who replies "stop" is noted by hand, for every address of theirs and every order: nothing goes there any more.
func TestWhoSaysStop(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	h.work(t)
	reach := object{"mail": "ada@quill.example", "phone": "555 0177"}
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), reach))["id"]
	other := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 6), reach))["id"]
	say := func(order any, way string) answer {
		return p.send("POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": way,
			"subject": "Thanks", "body": "Thanks"})
	}
	if a := say(order, "mail"); a.status != 201 {
		t.Fatal(a.body)
	}
	p.must(204, "POST", fmt.Sprint("/orders/", order, "/no-more"), nil)
	p.must(204, "POST", fmt.Sprint("/orders/", order, "/no-more"), nil)
	h.pass(2 * time.Minute)
	h.becomes(t, p, order, 0, "dropped") // what waited does not leave either
	for _, way := range []string{"mail", "text"} {
		p.problem(409, "", "no more messages", say(other, way))
	}
	if !p.must(200, "GET", fmt.Sprint("/orders/", other, "/messages"), nil)["refused"].(bool) || len(c.Letters()) != 0 {
		t.Errorf("%d letters", len(c.Letters()))
	}
	nobody := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 6))["id"]
	p.problem(409, "", "no mail address", p.send("POST", fmt.Sprint("/orders/", nobody, "/no-more"), nil))
}

// What a mail server can do to a message: put it off, refuse it, break off. What may have arrived is never sent again
// by itself, and sent again by hand it is the same letter.
func TestMailServersThatFail(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	h.work(t)
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"mail": "ada@quill.example"}))["id"]
	write := func() any {
		t.Helper()
		return p.must(201, "POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": "mail",
			"subject": "Thanks, {customer}", "body": "{treats}"})["id"]
	}
	deed := func(id any, deed string) { p.must(200, "POST", fmt.Sprint("/messages/", id, "/", deed), nil) }

	c.Refuse(421, "too busy")
	deed(write(), "now")
	for range 200 {
		if m := p.outbox(order)[0]; m["says"] != nil {
			break
		}
		time.Sleep(25 * time.Millisecond)
	}
	put := p.outbox(order)[0]
	due, _ := time.Parse(time.RFC3339, put["due"].(string))
	if put["state"] != "waiting" || due.Sub(h.clock()) != time.Minute || !strings.Contains(put["says"].(string), "too busy") {
		t.Errorf("put off: %v", put)
	}
	c.Refuse(0, "")
	h.pass(time.Minute)
	h.becomes(t, p, order, 0, "sent")

	c.Refuse(550, "no such mailbox")
	second := write()
	deed(second, "now")
	if m := h.becomes(t, p, order, 1, "failed"); !strings.Contains(m["says"].(string), "no such mailbox") {
		t.Errorf("%v", m)
	}
	c.Refuse(0, "")
	c.Break()
	deed(second, "again")
	h.pass(time.Minute)
	h.becomes(t, p, order, 1, "unsure")
	came := len(c.Letters())
	h.pass(24 * time.Hour)
	h.hurry(t)
	h.round(t)
	time.Sleep(300 * time.Millisecond)
	if got := c.Letters(); len(got) != came {
		t.Errorf("an unsure one was sent again by itself: %d letters, then %d", came, len(got))
	}
	deed(second, "again")
	h.pass(time.Minute)
	h.becomes(t, p, order, 1, "unsure")
	letters := c.Letters()
	if len(letters) != came+1 || letters[came].Header.Get("Message-Id") != letters[came-1].Header.Get("Message-Id") {
		t.Errorf("sent again it is another letter: %v", letters[came].Header)
	}
	deed(second, "sent")
	h.becomes(t, p, order, 1, "sent")

	// The server that was sending has died: whoever finds the message so does not send it.
	third := write()
	owner, err := pgx.Connect(context.Background(), h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(context.Background())
	if _, err := owner.Exec(context.Background(), `update messages set state = 'sending' where id = $1`, third); err != nil {
		t.Fatal(err)
	}
	came = len(c.Letters())
	h.pass(time.Minute)
	if m := h.becomes(t, p, order, 2, "unsure"); !strings.Contains(m["says"].(string), "interrupted") ||
		len(c.Letters()) != came {
		t.Errorf("%v, %d letters more", m, len(c.Letters())-came)
	}
}

// From the promise to the thanks, by the clock: each is told once, at its time, outside of the quiet hours; and not at
// all where its occasion has gone meanwhile.
func TestAnOrderIsToldOfOnTime(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	h.work(t)
	kitchen := p.must(200, "GET", "/kitchen", nil)
	kitchen["terms"].(object)["deposit"] = 0.5
	p.must(200, "PUT", "/kitchen", kitchen, "If-Match", "*")
	p.switchOn(object{"quietFrom": 20 * 60, "quietTo": 9 * 60}, "quote", "reminder", "deposit", "day-before", "ready", "thanks")
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"mail": "ada@quill.example"}))["id"]
	kinds := func() (list []string) {
		for _, m := range p.outbox(order) {
			list = append(list, fmt.Sprint(m["kind"], " ", m["state"]))
		}
		return list
	}
	expect := func(want ...string) {
		t.Helper()
		h.round(t)
		h.round(t)
		if got := kinds(); strings.Join(got, ", ") != strings.Join(want, ", ") {
			t.Fatalf("at %s: %v, want %v", h.clock(), got, want)
		}
	}
	p.must(201, "POST", fmt.Sprint("/orders/", order, "/quotes"), nil)
	h.pass(time.Minute)
	h.becomes(t, p, order, 0, "sent")
	h.pass(3*24*time.Hour - 2*time.Minute)
	expect("quote sent")
	h.pass(2 * time.Minute) // three days after the quote: Sunday, 10:21
	expect("quote sent", "reminder waiting")
	p.move(200, order, "promised") // within the minute: nobody is reminded any more
	expect("quote sent", "reminder waiting", "deposit waiting")
	h.pass(time.Minute)
	h.becomes(t, p, order, 1, "dropped")
	deposit := h.becomes(t, p, order, 2, "sent")
	gross := p.order(order)["estimate"]
	if !strings.Contains(deposit["body"].(string), "$") {
		t.Errorf("%v of %v", deposit["body"], gross)
	}
	h.pass(5 * 24 * time.Hour) // Friday, 10:22: the day before Saturday the 12th
	expect("quote sent", "reminder dropped", "deposit sent", "day-before waiting")
	h.pass(time.Minute)
	h.becomes(t, p, order, 3, "sent")
	h.pass(10 * time.Hour) // Friday, 20:23: quiet
	p.move(200, order, "in the making")
	p.move(200, order, "packed")
	expect("quote sent", "reminder dropped", "deposit sent", "day-before sent", "ready waiting")
	if due := p.outbox(order)[4]["due"]; due != "2026-09-12T13:00:00Z" { // nine o'clock in New York
		t.Errorf("in the quiet hours it is due at %v", due)
	}
	p.move(200, order, "in the making") // something was wrong with the box
	h.pass(13 * time.Hour)
	h.becomes(t, p, order, 4, "dropped")
	p.move(200, order, "packed")
	expect("quote sent", "reminder dropped", "deposit sent", "day-before sent", "ready dropped")
	p.move(200, order, "handed over")
	h.pass(24 * time.Hour) // Sunday, 09:23; thanks come at ten
	expect("quote sent", "reminder dropped", "deposit sent", "day-before sent", "ready dropped")
	h.pass(time.Hour)
	expect("quote sent", "reminder dropped", "deposit sent", "day-before sent", "ready dropped", "thanks waiting")
	h.pass(time.Minute)
	h.becomes(t, p, order, 5, "sent")
	if n := len(c.Letters()); n != 4 {
		t.Errorf("%d letters", n)
	}
	list := p.must(200, "GET", "/messages", nil)
	if len(list["messages"].([]any)) < 6 || list["trouble"].(float64) != 0 || list["more"] != false {
		t.Errorf("%v", list)
	}

	// Forgotten, nothing of it tells whom it went to.
	p.must(204, "POST", "/customers/forget", object{"name": "Ada Quill"})
	if text := p.send("GET", "/messages", nil).body; strings.Contains(text, "quill") || strings.Contains(text, "Ada") {
		t.Errorf("%s", text)
	}
}

// What cannot be told so is refused where it is set, and nothing is lost.
func TestMessageSettings(t *testing.T) {
	t.Parallel()
	h := openWith(t, func(o *app.Options) { o.Mailer, o.Texter = nil, nil })
	p := h.maren(t)
	s := p.must(200, "GET", "/message-settings", nil)
	if s["replyTo"] != "maren@lakeside.example" || s["sender"] != "" {
		t.Errorf("%v", s)
	}
	kinds := s["kinds"].([]any)
	for _, k := range kinds {
		k.(object)["on"] = false
	}
	put := func(change func()) answer {
		change()
		return p.send("PUT", "/message-settings", s, "If-Match", "*")
	}
	p.problem(422, "body.kinds[0].on", "no mail server", put(func() { kinds[0].(object)["on"] = true }))
	p.problem(422, "body.kinds[0].way", "cannot send text messages", put(func() { kinds[0].(object)["way"] = "text" }))
	kinds[0].(object)["on"] = false
	p.problem(422, "body.kinds[1].body", "{total} stands for nothing", put(func() { kinds[1].(object)["body"] = "{total}" }))
	p.problem(422, "body.kinds[1].subject", "one line", put(func() {
		kinds[1].(object)["body"], kinds[1].(object)["subject"] = "{customer}", "a\nb"
	}))
	p.problem(422, "body.kinds[1].days", "0 to 60", put(func() {
		kinds[1].(object)["subject"], kinds[1].(object)["days"] = "x", 61
	}))
	kinds[1].(object)["days"] = 2
	p.problem(422, "body.quietTo", "time of day", put(func() { s["quietTo"] = 1440 }))
	s["quietTo"] = 480
	if a := put(func() {}); a.status != 200 {
		t.Errorf("%s", a.body)
	}
	own := p.must(200, "GET", "/message-settings", nil)["kinds"].([]any)[1].(object)
	if own["own"] != true || own["subject"] != "x" || own["body"] != "{customer}" || own["days"].(float64) != 2 {
		t.Errorf("%v", own)
	}
	p.problem(428, "", "If-Match", p.send("PUT", "/message-settings", s))
	filled := p.must(200, "POST", "/message-settings/preview", object{"kind": "on-the-way", "subject": "{kitchen}",
		"body": "{minutes} min"})
	if filled["subject"] != "Maren's kitchen" && filled["subject"] == "" || filled["body"] != "15 min" {
		t.Errorf("%v", filled)
	}
	wren := find(t, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"]
	p.problem(422, "body.way", "no mail server", p.send("POST", fmt.Sprint("/orders/", wren, "/messages"),
		object{"kind": "thanks", "way": "mail", "subject": "x", "body": "y"}))
	p.problem(404, "", "message", p.send("POST", fmt.Sprint("/messages/", wren, "/undo"), nil))
}

// On the day of the drives: whoever is next is told so when a door is done, with the minutes of that road; the first by
// hand; each once a day, and not who was faster at the door than the message.
func TestOnTheWay(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	first := p.delivery("Reading circle", "Reading room, Mill Street", "11:00", "11:30")
	last := p.delivery("Ana Quay", "Quay 12", "12:40", "13:30")
	for _, id := range []string{first, last} {
		o := p.order(id)["draft"].(object)
		o["phone"] = "+1 555 010 0199"
		p.must(200, "PUT", "/orders/"+id, o, "If-Match", "*")
	}
	h.pass(46 * time.Hour) // Saturday, 08:20 on the kitchen's clock: 3 September 10:20 and 46 hours
	h.work(t)
	wren := find(t, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	for _, id := range []string{first, last, wren} {
		if p.order(id)["state"] == "promised" { // unless it was begun with another, in one go
			p.move(200, id, "in the making")
		}
		p.move(200, id, "packed")
	}
	drop := func(id, outcome string) object {
		t.Helper()
		return p.must(200, "PUT", "/drives/2026-09-05/drops/"+id, object{"outcome": outcome})
	}
	off := p.must(200, "GET", "/message-settings", nil)
	find(t, off["kinds"], "kind", "on-the-way")["on"] = false
	p.must(200, "PUT", "/message-settings", off, "If-Match", "*")
	drop(first, "nobody there")
	if day := p.drives(t); day["tells"] != false || len(p.outbox(wren)) != 0 {
		t.Errorf("nothing is switched on: %v", p.outbox(wren))
	}
	s := p.must(200, "GET", "/message-settings", nil)
	way := find(t, s["kinds"], "kind", "on-the-way")
	way["on"], way["way"], way["body"] = true, "text", "{minutes} min"
	p.must(200, "PUT", "/message-settings", s, "If-Match", "*")
	write := func(id string, minutes int) answer {
		return p.send("POST", "/orders/"+id+"/messages", object{"kind": "on-the-way", "minutes": minutes})
	}
	if a := write(first, 7); a.status != 201 || p.outbox(first)[0]["body"] != "7 min" ||
		p.outbox(first)[0]["address"] != "+15550100199" {
		t.Errorf("by hand: %s", a.body)
	}
	p.problem(409, "", "told so today", write(first, 8))
	day := drop(wren, "handed over")
	var road float64
	for _, d := range day["drives"].([]any)[0].(object)["drops"].([]any) {
		if d.(object)["order"] == last {
			road = d.(object)["road"].(float64)
			if d.(object)["told"] != true {
				t.Errorf("%v", d)
			}
		}
	}
	list := p.outbox(last)
	if len(list) != 1 || list[0]["body"] != fmt.Sprintf("%d min", int(road)) || road == 0 {
		t.Fatalf("%v, road %v", list, road)
	}
	drop(wren, "in part") // corrected: not told once more
	drop(last, "handed over")
	h.pass(time.Minute)
	if m := h.becomes(t, p, last, 0, "dropped"); !strings.Contains(m["says"].(string), "changed meanwhile") {
		t.Errorf("%v", m)
	}
	h.becomes(t, p, first, 0, "sent")
}

// A quote that nobody has answered runs out: its seller is told once, its order stays where it is, and a new one begins
// anew.
func TestAQuoteRunsOut(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	order, token := p.quote("Milk malt bombs", 12)
	lapsed := func() (n int) {
		t.Helper()
		for _, a := range p.must(200, "GET", "/quote-answers", nil)["answers"].([]any) {
			if a := a.(object); a["order"] == order["id"] && a["lapsed"] == true && a["accepted"] == false {
				n++
			}
		}
		return n
	}
	h.round(t)
	if lapsed() != 0 {
		t.Error("a quote that holds has run out")
	}
	h.pass(8 * 24 * time.Hour)
	h.round(t)
	h.round(t)
	if n := lapsed(); n != 1 {
		t.Errorf("it has run out %d times", n)
	}
	if page := p.must(200, "GET", "/quotes/"+token, nil); page["state"] != "expired" {
		t.Errorf("its page says %v", page["state"])
	}
	if state := p.order(order["id"])["state"]; state != "quoted" {
		t.Errorf("the order is %v", state)
	}
	p.must(201, "POST", fmt.Sprint("/orders/", order["id"], "/quotes"), nil)
	h.round(t)
	if old := p.send("GET", "/quotes/"+token, nil); old.status != 404 {
		t.Errorf("the old link says %d %s", old.status, old.body)
	}
}

// A message whose job is gone is taken up again by the next round, and one that still has its job is not sent twice by
// it.
func TestWhatWaitsTooLongIsTakenUp(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	ctx := context.Background()
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12),
		object{"mail": "ada@quill.example"}))["id"]
	for range 2 {
		p.must(201, "POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": "mail",
			"subject": "x", "body": "y"})
	}
	// Of one the job is lost, of the other it is there and late.
	if _, err := h.pool.Exec(ctx, `delete from river_job where id = (select min(id) from river_job
		where kind = 'message')`); err != nil {
		t.Fatal(err)
	}
	h.pass(20 * time.Minute)
	h.round(t)
	h.work(t)
	h.becomes(t, p, order, 0, "sent")
	h.becomes(t, p, order, 1, "sent")
	h.round(t)
	h.hurry(t)
	time.Sleep(300 * time.Millisecond)
	if n := len(c.Letters()); n != 2 {
		t.Errorf("%d letters of two messages", n)
	}
}

// Two who send the same message at once, and one who undoes it meanwhile: it leaves once or not at all.
func TestOneOfManyDeeds(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	h.work(t)
	order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12),
		object{"mail": "ada@quill.example"}))["id"]
	sent := 0
	for range 5 {
		m := p.must(201, "POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": "mail",
			"subject": "x", "body": "y"})["id"]
		done := make(chan int, 4)
		for _, deed := range []string{"now", "now", "undo", "now"} {
			go func() { done <- p.send("POST", fmt.Sprint("/messages/", m, "/", deed), nil).status }()
		}
		for range 4 {
			if status := <-done; status != 200 && status != 409 {
				t.Errorf("it is answered with %d", status)
			}
		}
		var state any
		for range 100 {
			list := p.outbox(order)
			if state = list[len(list)-1]["state"]; state == "sent" || state == "undone" {
				break
			}
			time.Sleep(20 * time.Millisecond)
		}
		if state == "sent" {
			sent++
		} else if state != "undone" {
			t.Errorf("it is %v", state)
		}
	}
	time.Sleep(300 * time.Millisecond)
	if n := len(c.Letters()); n != sent {
		t.Errorf("%d letters of %d messages that are sent", n, sent)
	}
}
