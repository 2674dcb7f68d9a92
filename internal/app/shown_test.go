package app_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/mail"
	"strings"
	"testing"
)

// shows sets how a kitchen shows itself.
func (p *person) shows(change object) {
	p.t.Helper()
	p.must(200, "PUT", "/kitchen", with(p.must(200, "GET", "/kitchen", nil), change), "If-Match", p.tag("/kitchen"))
}

// What a kitchen says of itself stands where it is said to stand: on the tax on quotes and invoices, on being a home
// kitchen on labels, quotes and the page on which customers ask. An invoice that is written keeps its words.
func TestWhatAKitchenSaysOfItself(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, customer := h.maren(t), h.visitor(t)
	const tax, home = "Tax number 12/345. No tax is charged.", "Made in a home kitchen that is not inspected."
	p.shows(object{"taxStatement": "  Tax number 12/345.   No tax is charged. ", "homeStatement": home})
	if k := p.must(200, "GET", "/kitchen", nil); k["taxStatement"] != tax {
		t.Errorf("%v", k["taxStatement"])
	}
	_, token := p.quote("Milk malt bombs", 12)
	page := customer.must(200, "GET", "/quotes/"+token, nil)
	if s := page["statements"].([]any); len(s) != 2 || s[0] != tax || s[1] != home || page["state"] != "open" {
		t.Errorf("%v", page)
	}
	// A quote stays what it is, whatever is said beside it.
	p.shows(object{"homeStatement": home + " Ask us."})
	if page := customer.must(200, "GET", "/quotes/"+token, nil); page["state"] != "open" {
		t.Errorf("%v", page)
	}
	p.shows(object{"homeStatement": home})
	text := func(p *person, path string) string {
		return strings.Join(strings.Fields(read(t, p.send("GET", path, nil).body)), " ")
	}
	if s := text(customer, "/quotes/"+token+"/quote.pdf"); !strings.Contains(s, tax) || !strings.Contains(s, home) {
		t.Error(s)
	}
	wren := find(t, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	p.must(200, "POST", "/orders/"+wren+"/invoices", nil)
	p.shows(object{"taxStatement": "Another one"})
	if s := text(p, "/orders/"+wren+"/invoices/1/invoice.pdf"); !strings.Contains(s, tax) || strings.Contains(s, home) {
		t.Error(s)
	}
	if s := text(p, "/orders/"+wren+"/labels.pdf?sheet=a4-8&line=0"); !strings.Contains(s, home) ||
		strings.Contains(s, "Another one") {
		t.Error(s)
	}
	p.openPage(object{})
	slug := p.must(200, "GET", "/ask-page", nil)["slug"].(string)
	if _, s, _ := customer.page("GET", "/ask/"+slug, nil); !strings.Contains(s, home) ||
		strings.Contains(s, "Another one") {
		t.Error(s)
	}
}

// A logo is made small and encoded anew, stands on quote, invoice and page, and goes again.
func TestTheLogo(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, customer := h.maren(t), h.visitor(t)
	_, token := p.quote("Milk malt bombs", 12)
	pictured := func(p *person, path string) bool {
		return strings.Contains(p.send("GET", path, nil).body, "/Subtype /Image")
	}
	quote := "/quotes/" + token + "/quote.pdf"
	if pictured(customer, quote) {
		t.Error("a picture on a quote without a logo")
	}
	customer.must(404, "GET", "/quotes/"+token+"/logo", nil)
	p.openPage(object{})
	public := "/ask/" + p.must(200, "GET", "/ask-page", nil)["slug"].(string) + "/logo"
	if status, _, _ := customer.page("GET", public, nil); status != 404 {
		t.Errorf("a logo that is not there is %d", status)
	}
	img := image.NewNRGBA(image.Rect(0, 0, 2000, 500))
	for x := range 2000 {
		img.Set(x, x/4, color.NRGBA{200, 80, 10, 255})
	}
	var sent bytes.Buffer
	if err := png.Encode(&sent, img); err != nil {
		t.Fatal(err)
	}
	p.must(204, "PUT", "/kitchen/logo", append(sent.Bytes(), "and something behind it"...))
	if p.must(200, "GET", "/kitchen", nil)["logo"] != true {
		t.Error("the settings know of no logo")
	}
	kept := p.send("GET", "/kitchen/logo", nil).body
	small, err := png.Decode(strings.NewReader(kept))
	if err != nil || small.Bounds().Dx() != 640 || small.Bounds().Dy() != 160 || strings.Contains(kept, "something") {
		t.Fatalf("%v", err)
	}
	if _, _, _, a := small.At(0, 159).RGBA(); a != 0 {
		t.Error("what was transparent is not")
	}
	if a := customer.send("GET", "/quotes/"+token+"/logo", nil); a.body != kept ||
		a.header.Get("Content-Type") != "image/png" {
		t.Errorf("%d", a.status)
	}
	wren := find(t, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	p.must(200, "POST", "/orders/"+wren+"/invoices", nil)
	if !pictured(customer, quote) || !pictured(p, "/orders/"+wren+"/invoices/1/invoice.pdf") {
		t.Error("no picture on quote or invoice")
	}
	if status, body, head := customer.page("GET", public, nil); status != 200 || body != kept ||
		head.Get("Content-Type") != "image/png" {
		t.Errorf("%d %v", status, head)
	}
	p.problem(422, "", "picture", p.send("PUT", "/kitchen/logo", []byte("GIF89a, which is none of both")))
	p.must(204, "DELETE", "/kitchen/logo", nil)
	p.must(404, "GET", "/kitchen/logo", nil)
}

// Mail comes from whom the kitchen says, and replies go where it says; where it says nothing, from the kitchen and to
// whoever owns it, not to whoever came first.
func TestWhomMailComesFrom(t *testing.T) {
	t.Parallel()
	h, c, p := mailed(t)
	p.joins(h, "maker", "Ada")
	h.own(t, `update people set created_at = '2001-01-01' where name = 'Ada'`)
	p.problem(422, "body.replyTo", "to which replies go", p.send("PUT", "/kitchen", with(p.must(200, "GET", "/kitchen",
		nil), object{"replyTo": "nobody"}), "If-Match", "*"))
	h.work(t)
	tell := func(n int) (from, replies string) {
		t.Helper()
		order := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12),
			object{"mail": "ada@quill.example"}))["id"]
		id := p.must(201, "POST", fmt.Sprint("/orders/", order, "/messages"), object{"kind": "thanks", "way": "mail",
			"subject": "Thanks", "body": "Thank you."})["id"]
		p.must(200, "POST", fmt.Sprint("/messages/", id, "/now"), nil)
		h.becomes(t, p, order, 0, "sent")
		l := c.Letters()[n]
		who, err := mail.ParseAddress(l.Header.Get("From"))
		if err != nil {
			t.Fatal(err)
		}
		return who.Name, l.Header.Get("Reply-To")
	}
	if from, replies := tell(0); from != "Maren's kitchen" || !strings.Contains(replies, "maren@lakeside.example") {
		t.Errorf("from %q, replies to %q", from, replies)
	}
	p.shows(object{"sender": "Maren, Lakeside sweets", "replyTo": "orders@lakeside.example"})
	if s := p.must(200, "GET", "/message-settings", nil); s["replyTo"] != "orders@lakeside.example" {
		t.Errorf("%v", s["replyTo"])
	}
	if from, replies := tell(1); from != "Maren, Lakeside sweets" ||
		!strings.Contains(replies, "orders@lakeside.example") {
		t.Errorf("from %q, replies to %q", from, replies)
	}
}
