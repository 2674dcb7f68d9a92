package app_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"os/exec"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/xuri/excelize/v2"
)

// quote writes one for a new order of the treat, and returns the order and the link's token.
func (p *person) quote(treat string, count int) (order object, token string) {
	p.t.Helper()
	o := p.must(201, "POST", "/orders", p.draft(treat, count))
	o = p.must(201, "POST", fmt.Sprint("/orders/", o["id"], "/quotes"), nil)
	return o, o["quote"].(object)["token"].(string)
}

// A quote from the link to the promise: it shows the order and nothing else of the kitchen, and can be accepted once.
func TestQuote(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, customer := h.maren(t), h.visitor(t)
	p.must(201, "POST", "/orders", p.draft("Bergamot truffles", 6)) // of which the customer must see nothing
	order, token := p.quote("Milk malt bombs", 12)
	if order["state"] != "quoted" || len(token) < 26 {
		t.Fatalf("%v, %q", order["state"], token)
	}
	a := customer.send("GET", "/quotes/"+token, nil)
	for _, secret := range []string{order["id"].(string), "Bergamot", "Wren", "cost", "perHour", "number", "lakeside",
		"margin"} {
		if strings.Contains(a.body, secret) {
			t.Errorf("the quote shows %q: %s", secret, a.body)
		}
	}
	if a.header.Get("Cache-Control") != "no-store" && !strings.Contains(a.header.Get("Cache-Control"), "private") ||
		a.header.Get("X-Robots-Tag") != "noindex" {
		t.Errorf("headers %v", a.header)
	}
	page := customer.must(200, "GET", "/quotes/"+token, nil)
	q := page["quote"].(object)
	if page["state"] != "open" || q["customer"] != "Ada Quill" ||
		q["gross"].(object)["amount"] != order["agreed"].(object)["amount"] ||
		!strings.Contains(fmt.Sprint(q["allergens"]), "milk") ||
		!strings.Contains(fmt.Sprint(q["serving"]), "not boiling") {
		t.Errorf("%v", page)
	}
	// The deposit of the demo kitchen is 30 %.
	if q["deposit"] == nil {
		t.Error("no deposit is asked for")
	}
	pdf := customer.send("GET", "/quotes/"+token+"/quote.pdf", nil)
	text := exec.Command("pdftotext", "-layout", "-", "-")
	text.Stdin = strings.NewReader(pdf.body)
	read, err := text.Output()
	if err != nil || !bytes.Contains(read, []byte("12 pieces: Milk malt bombs")) ||
		!bytes.Contains(read, []byte(q["gross"].(object)["amount"].(string))) ||
		bytes.Contains(read, []byte("Bergamot")) {
		t.Errorf("%v: %s", err, read)
	}
	customer.problem(422, "body.text", "would like changed",
		customer.send("POST", "/quotes/"+token+"/request", object{"text": " "}))
	if asked := customer.must(200, "POST", "/quotes/"+token+"/request",
		object{"text": "Two more, please"}); asked["request"] != "Two more, please" {
		t.Errorf("%v", asked)
	}
	if seen := p.order(order["id"])["quote"].(object); seen["request"] != "Two more, please" {
		t.Errorf("the seller sees %v", seen)
	}
	customer.problem(422, "body.name", "Enter your name", customer.send("POST", "/quotes/"+token+"/acceptance",
		object{"name": ""}))
	yes := customer.must(200, "POST", "/quotes/"+token+"/acceptance", object{"name": "Ada"})
	if yes["state"] != "accepted" {
		t.Errorf("%v", yes)
	}
	now := p.order(order["id"])
	if now["state"] != "promised" || len(now["days"].([]any)) != 1 {
		t.Errorf("accepted, and the order is %v", now["state"])
	}
	last := now["history"].([]any)
	if moved := last[len(last)-1].(object); moved["to"] != "promised" ||
		!strings.Contains(moved["who"].(string), "customer") {
		t.Errorf("recorded as %v", moved)
	}
	customer.problem(409, "", "accepted already", customer.send("POST", "/quotes/"+token+"/acceptance",
		object{"name": "Ada"}))
	customer.problem(409, "", "accepted already", customer.send("POST", "/quotes/"+token+"/request",
		object{"text": "more"}))
}

// Two people with the same link at the same time: one yes counts.
func TestAQuoteIsAcceptedOnce(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	order, token := p.quote("Milk malt bombs", 12)
	statuses := make(chan int, 6)
	var wait sync.WaitGroup
	for range 6 {
		customer := h.visitor(t)
		wait.Go(func() {
			statuses <- customer.send("POST", "/quotes/"+token+"/acceptance", object{"name": "Ada"}).status
		})
	}
	wait.Wait()
	close(statuses)
	yes := 0
	for s := range statuses {
		if s == 200 {
			yes++
		}
	}
	promised := 0
	for _, m := range p.order(order["id"])["history"].([]any) {
		if m.(object)["to"] == "promised" {
			promised++
		}
	}
	if yes != 1 || promised != 1 {
		t.Errorf("%d were told yes, it was promised %d times", yes, promised)
	}
}

// Links that end: revoked, written anew, expired, of an order that changed or went on; and links that never were.
func TestQuoteLinksEnd(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, customer := h.maren(t), h.visitor(t)
	gone := func(token string) {
		t.Helper()
		customer.problem(404, "", "no longer works", customer.send("GET", "/quotes/"+token, nil))
		customer.problem(404, "", "no longer works", customer.send("POST", "/quotes/"+token+"/acceptance",
			object{"name": "Ada"}))
	}
	gone(strings.Repeat("A", 26))
	order, first := p.quote("Milk malt bombs", 12)
	second := p.must(201, "POST", fmt.Sprint("/orders/", order["id"], "/quotes"),
		nil)["quote"].(object)["token"].(string)
	if first == second {
		t.Fatal("the same link twice")
	}
	gone(first)
	// The order changes: what the quote says is no longer true.
	path := fmt.Sprint("/orders/", order["id"])
	draft := order["draft"].(object)
	more := with(draft, object{"lines": []object{{"treat": p.treat("Milk malt bombs"), "count": 24}}})
	changed := p.must(200, "PUT", path, more, "If-Match", p.tag(path))
	if changed["agreed"].(object)["amount"] == order["agreed"].(object)["amount"] {
		t.Error("twice as many are agreed at the same price")
	}
	if got := customer.must(200, "GET", "/quotes/"+second, nil); got["state"] != "changed" {
		t.Errorf("%v", got["state"])
	}
	customer.problem(409, "", "new quote is on its way", customer.send("POST", "/quotes/"+second+"/acceptance",
		object{"name": "Ada"}))
	third := p.must(201, "POST", path+"/quotes", nil)["quote"].(object)["token"].(string)
	// A note changes nothing that it says.
	p.must(200, "PUT", path, with(more, object{"notes": "Ring twice."}), "If-Match", p.tag(path))
	if got := customer.must(200, "GET", "/quotes/"+third, nil); got["state"] != "open" {
		t.Errorf("after a note it is %v", got["state"])
	}
	h.own(t, `update quotes set expires_at = $1 where token = $2`, now.AddDate(0, 0, -1), third)
	if got := customer.must(200, "GET", "/quotes/"+third, nil); got["state"] != "expired" {
		t.Errorf("%v", got["state"])
	}
	customer.problem(410, "", "expired", customer.send("POST", "/quotes/"+third+"/acceptance", object{"name": "Ada"}))
	fourth := p.must(201, "POST", path+"/quotes", nil)["quote"].(object)["token"].(string)
	p.must(200, "DELETE", path+"/quotes", nil)
	gone(fourth)
	fifth := p.must(201, "POST", path+"/quotes", nil)["quote"].(object)["token"].(string)
	p.move(200, order["id"], "promised")
	gone(fifth)
	p.problem(409, "", "come before confirming", p.send("POST", path+"/quotes", nil))
}

// A yes to what no longer fits is recorded; the order stays quoted for its seller to sort out, and the customer is not
// told about others.
func TestAYesThatNoLongerFits(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, customer := h.maren(t), h.visitor(t)
	order, token := p.quote("Milk malt bombs", 12)
	off := p.must(200, "GET", "/work-days", nil)
	none := []any{[]any{}, []any{}, []any{}, []any{}, []any{}, []any{}, []any{}}
	p.must(200, "PUT", "/work-days", with(off, object{"week": none, "exceptions": []any{}}), "If-Match",
		p.tag("/work-days"))
	if got := customer.must(200, "POST", "/quotes/"+token+"/acceptance",
		object{"name": "Ada"}); got["state"] != "accepted" {
		t.Errorf("%v", got)
	}
	if now := p.order(order["id"]); now["state"] != "quoted" || now["quote"].(object)["accepted"] == nil ||
		now["quote"].(object)["by"] != "Ada" {
		t.Errorf("%v %v", now["state"], now["quote"])
	}
}

func TestQuotesAreRateLimited(t *testing.T) {
	t.Parallel()
	customer := open(t).visitor(t)
	last := 0
	for range 140 {
		if last = customer.send("GET", "/quotes/"+strings.Repeat("B", 26), nil).status; last == 429 {
			break
		}
	}
	if last != 429 {
		t.Errorf("140 tries in a row end with %d", last)
	}
}

// From the quote on the price stands whatever costs do; and the order's own wish moves it.
func TestThePriceStands(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	o := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	p.move(200, o["id"], "quoted")
	agreed := func() any { return p.order(o["id"])["agreed"].(object)["amount"] }
	before := agreed()
	k := p.must(200, "GET", "/kitchen", nil)
	p.must(200, "PUT", "/kitchen", with(k, object{"hourly": "99"}), "If-Match", p.tag("/kitchen"))
	asked := p.must(200, "POST", "/estimates", object{"order": o["id"], "draft": o["draft"]})["money"].(object)
	if asked["asked"].(object)["amount"] != before || agreed() != before {
		t.Errorf("agreed on %v, asked %v", before, asked["asked"])
	}
	path := fmt.Sprint("/orders/", o["id"])
	p.must(200, "PUT", path, with(o["draft"].(object), object{"pricing": object{"by": "price", "value": "150"},
		"discount": "10%"}), "If-Match", p.tag(path))
	if agreed() != "135.00" {
		t.Errorf("150 less a tenth is agreed on as %v", agreed())
	}
	// What if the same order were worked on for less.
	supposed := p.must(200, "POST", "/what-ifs", object{"order": o["id"], "draft": p.order(o["id"])["draft"],
		"if": object{"chocolate": 0.2, "loss": 0, "moulds": 0, "hourly": "10"}})
	comparison := supposed["comparison"].(object)
	then := supposed["then"].(object)["money"].(object)
	number := func(of any) float64 { x, _ := strconv.ParseFloat(of.(object)["amount"].(string), 64); return x }
	for _, figure := range []string{"cost", "price", "profit", "perHour"} { // the difference is the difference
		c := comparison[figure].(object)
		if diff := number(c["then"]) - number(c["now"]); math.Abs(diff-number(c["change"])) > 1e-9 ||
			c["same"] != (diff == 0) {
			t.Errorf("%s: %v", figure, c)
		}
	}
	if number(comparison["cost"].(object)["then"]) != number(then["total"]) ||
		comparison["price"].(object)["same"] != true {
		t.Errorf("%v beside %v", comparison, then)
	}
	if then["asked"].(object)["amount"] != "135.00" || then["hands"].(object)["amount"] == asked["hands"].(object)["amount"] {
		t.Errorf("%v", then)
	}
	p.problem(422, "body.hourly", "money", p.send("POST", "/what-ifs", object{"draft": o["draft"], "if": object{"chocolate": 0, "loss": 0, "moulds": 0, "hourly": "lots"}}))
	// The ladder, and the market.
	treat := "/treats/" + p.treat("Milk malt bombs")
	p.problem(422, "body.high", "below the lowest", p.send("PUT", treat+"/market", object{"low": "9", "high": "3"}))
	p.must(200, "PUT", treat+"/market", object{"low": "40", "high": "80"})
	rungs := p.must(200, "GET", treat+"/ladder?by=price&value=50", nil)["rungs"].([]any)
	if len(rungs) != 5 || rungs[1].(object)["dozen"].(object)["amount"] != "50.00" || !strings.Contains(rungs[1].(object)["market"].(object)["text"].(string), "25% of the way up") {
		t.Errorf("%v", rungs)
	}
	if cleared := p.must(200, "PUT", treat+"/market", object{"low": "", "high": ""}); cleared["market"] != nil {
		t.Errorf("%v", cleared["market"])
	}
	bad := with(k["terms"].(object), object{"tax": 2, "rush": []object{{"days": -1, "share": 0}}})
	p.problem(422, "body.terms.tax", "between 0 and 100%", p.send("PUT", "/kitchen", with(k, object{"terms": bad}), "If-Match", "*"))
	p.problem(422, "body.shopping[0]", "weekday", p.send("PUT", "/kitchen", with(k, object{"shopping": []int{7}}), "If-Match", "*"))
}

func TestPayments(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	o := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 12), object{"pricing": object{"by": "price", "value": "100"}}))
	path := fmt.Sprint("/orders/", o["id"], "/payments")
	pay := func(kind, amount string) object {
		return object{"kind": kind, "amount": amount, "day": "2026-09-03", "way": "cash"}
	}
	p.problem(409, "", "No price is agreed", p.send("POST", path, pay("deposit", "10")))
	p.move(200, o["id"], "promised")
	if got := p.must(200, "GET", path, nil); got["deposit"].(object)["amount"] != "30.00" || got["rest"].(object)["amount"] != "100.00" {
		t.Errorf("%v", got)
	}
	p.must(201, "POST", path, pay("deposit", "30"), "Idempotency-Key", "a")
	p.must(201, "POST", path, pay("deposit", "30"), "Idempotency-Key", "a")
	for _, c := range []struct{ kind, amount, says string }{{"balance", "70.01", "more than the 70.00"}, {"balance", "0", "above 0"}, {"balance", "x", "not an amount"}, {"refund", "30.01", "Only 30.00 was paid"}} {
		p.problem(422, "body.amount", c.says, p.send("POST", path, pay(c.kind, c.amount)))
	}
	owed := func() string {
		for _, w := range p.must(200, "GET", "/till", nil)["owed"].([]any) {
			if w.(object)["order"] == o["id"] {
				rest := w.(object)["rest"].(object)["amount"].(string)
				if w.(object)["stands"] == "excess" {
					return "-" + rest
				}
				return rest
			}
		}
		return "nothing"
	}
	if got := owed(); got != "70.00" {
		t.Errorf("the till says that %s are owed", got)
	}
	back := p.must(201, "POST", path, pay("refund", "5"))["payments"].([]any)
	if owed() != "75.00" {
		t.Errorf("after a refund of 5 %s are owed", owed())
	}
	p.must(200, "DELETE", fmt.Sprint("/payments/", back[1].(object)["id"]), nil)
	p.move(200, o["id"], "cancelled")
	if owed() != "-30.00" {
		t.Errorf("cancelled, %s are owed", owed())
	}
	p.must(201, "POST", path, pay("refund", "30"))
	if owed() != "nothing" {
		t.Errorf("given back, %s are owed", owed())
	}
}

// Settling notes the rest as paid; the till's sums are those of its orders; CSV and workbook say the same, and no text
// becomes a formula.
func TestTill(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	draft := with(p.draft("Milk malt bombs", 12), object{"customer": "=2+3", "occasion": "tea",
		"pricing": object{"by": "price", "value": "80"}})
	money := p.must(200, "POST", "/estimates", object{"draft": draft})["money"].(object)
	o := p.must(201, "POST", "/orders", draft)
	for _, to := range []string{"promised", "in the making", "packed", "handed over", "settled"} {
		p.move(200, o["id"], to)
	}
	paid := p.must(200, "GET", fmt.Sprint("/orders/", o["id"], "/payments"), nil)
	if paid["rest"].(object)["amount"] != "0.00" || len(paid["payments"].([]any)) != 1 {
		t.Errorf("settled: %v", paid)
	}
	// How it came out is recorded, and stands beside what was expected.
	day := p.order(o["id"])["days"].([]any)[0].(object)
	result := fmt.Sprint("/batches/", day["batch"], "/result")
	p.problem(422, "body.good", "were started", p.send("PUT", result, object{"good": 999}))
	p.must(200, "PUT", result, object{"good": 13, "minutes": 70})
	made := find(t, p.must(200, "GET", fmt.Sprint("/days/", day["day"], "/run-sheet"), nil)["results"], "batch", day["batch"])
	till := p.must(200, "GET", "/till", nil)
	malt := find(t, till["treats"], "name", "Milk malt bombs")["real"].(object)
	if want := 1 - 13/made["started"].(float64); malt["minutes"] != 70.0 || malt["batches"] != 1.0 || math.Abs(malt["loss"].(float64)-want) > 1e-9 {
		t.Errorf("really: %v, want a loss of %v", malt, want)
	}
	tea := find(t, till["occasions"], "name", "tea")
	if tea["asked"].(object)["amount"] != "80.00" || tea["pieces"] != 12.0 || tea["real"].(object)["materials"] == nil {
		t.Errorf("%v", tea)
	}
	for _, by := range []string{"months", "occasions"} {
		asked, cost := decimalOf("0"), decimalOf("0")
		for _, s := range till[by].([]any) {
			asked, cost = asked.Add(decimalOf(s.(object)["asked"].(object)["amount"])), cost.Add(decimalOf(s.(object)["cost"].(object)["amount"]))
		}
		treats := decimalOf("0")
		for _, s := range till["treats"].([]any) {
			treats = treats.Add(decimalOf(s.(object)["asked"].(object)["amount"]))
		}
		if asked.Sub(treats).Abs().GreaterThan(decimalOf("0.02")) || !cost.IsPositive() {
			t.Errorf("by %s %s were asked, by treat %s", by, asked, treats)
		}
	}
	// What went where is what the order itself said when it was promised, and adds up.
	for _, by := range []string{"months", "treats", "occasions"} {
		for _, s := range till[by].([]any) {
			parts := decimalOf("0")
			for _, part := range s.(object)["spent"].(object) {
				parts = parts.Add(decimalOf(part.(object)["amount"]))
			}
			if cost := decimalOf(s.(object)["cost"].(object)["amount"]); parts.Sub(cost).Abs().GreaterThan(decimalOf("0.03")) {
				t.Errorf("%v: parts come to %s of %s", s.(object)["name"], parts, cost)
			}
		}
	}
	for _, part := range []string{"ingredients", "packaging", "overhead"} {
		want, got := money[part].(object)["amount"], tea["spent"].(object)[part].(object)["amount"]
		if part != "packaging" && want == "0.00" || got != want {
			t.Errorf("%s of the tea: %v, the order said %v", part, got, want)
		}
	}
	if other := tea["spent"].(object)["other"].(object)["amount"]; other != "0.00" {
		t.Errorf("%v of the tea is for nothing known", other)
	}
	// A treat by month: this order's share under its month.
	id := find(t, till["treats"], "name", "Milk malt bombs")["treat"]
	sales := p.must(200, "GET", fmt.Sprint("/treats/", id, "/sales"), nil)["months"].([]any)
	if m := sales[0].(object); len(sales) != 1 || m["name"] != "2026-09" || m["pieces"] != 12.0 ||
		m["asked"].(object)["amount"] != "80.00" || m["each"].(object)["amount"] != "6.67" { // 80 for 12
		t.Errorf("malt bombs by month: %v", sales)
	}
	p.problem(404, "", "", p.send("GET", "/treats/00000000-0000-4000-8000-000000000000/sales", nil))
	// Promised by an older version, which kept pay and materials alone.
	h.own(t, `update orders set cost_ingredients = null, cost_packaging = null, cost_overhead = null,
		cost_drive = null, cost_card = null where occasion = 'tea'`)
	old := find(t, p.must(200, "GET", "/till", nil)["occasions"], "name", "tea")
	amount := func(of any) decimal.Decimal { return decimalOf(of.(object)["amount"]) }
	if was := old["spent"].(object); !amount(was["other"]).Add(amount(was["hands"])).Equal(amount(old["cost"])) {
		t.Errorf("an old order: %v", was)
	}
	rows, err := csv.NewReader(strings.NewReader(p.send("GET", "/till.csv", nil).body)).ReadAll()
	if err != nil || len(rows) != 6 {
		t.Fatalf("%v: %v", err, rows)
	}
	var mine []string
	for _, r := range rows {
		if r[2] == "'=2+3" {
			mine = r
		}
	}
	if mine == nil || mine[5] != "80.00" || mine[8] != "80.00" || mine[9] != "0.00" {
		t.Errorf("%v", mine)
	}
	// Read back by the library that spreadsheets of this form are read with.
	book, err := excelize.OpenReader(strings.NewReader(p.send("GET", "/till.xlsx", nil).body))
	if err != nil {
		t.Fatal(err)
	}
	sheet, err := book.GetRows("Orders")
	if err != nil || len(sheet) != len(rows) {
		t.Fatalf("%v: %d rows", err, len(sheet))
	}
	for i, r := range sheet {
		if len(r) > 2 && r[2] == "=2+3" {
			if f, _ := book.GetCellFormula("Orders", fmt.Sprint("C", i+1)); f != "" || r[5] != "80.00" {
				t.Errorf("formula %q, row %v", f, r)
			}
		}
	}
	for _, name := range []string{"Months", "Treats", "Occasions"} {
		if rows, err := book.GetRows(name); err != nil || len(rows) < 2 {
			t.Errorf("%s: %v, %d rows", name, err, len(rows))
		}
		for _, cell := range []string{"B2", "C2", "D2", "G2"} { // a number of a type of its own would become text
			if kind, err := book.GetCellType(name, cell); err != nil || kind != excelize.CellTypeUnset && kind != excelize.CellTypeNumber {
				t.Errorf("%s %s is of type %v: %v", name, cell, kind, err)
			}
		}
	}
	// Back from settled the note of the payment goes as well.
	p.move(200, o["id"], "handed over")
	if got := p.must(200, "GET", fmt.Sprint("/orders/", o["id"], "/payments"), nil); got["rest"].(object)["amount"] != "80.00" {
		t.Errorf("unsettled: %v", got)
	}
}

// The price list in the treat: kept, refused with its field, offered in an order, and taken off again.
func TestListPriceOfATreat(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	path := "/treats/" + p.treat("Milk malt bombs") + "/list-price"
	listed := func() any {
		return p.must(200, "POST", "/estimates", object{"draft": p.draft("Milk malt bombs", 18)})["money"].(object)["listed"]
	}
	p.problem(422, "body.price", "above 0", p.send("PUT", path, object{"price": "0", "count": 12}))
	p.problem(422, "body.count", "", p.send("PUT", path, object{"price": "24", "count": 0}))
	if was := listed(); was != nil {
		t.Errorf("it is on the list already: %v", was)
	}
	p.must(200, "PUT", path, object{"price": "24", "count": 12})
	if now, _ := listed().(object); now["amount"] != "36.00" { // by hand: 24 for 12 is 36 for 18
		t.Errorf("the list asks %v for 18", now)
	}
	if l := p.must(200, "PUT", path, object{"price": "", "count": 0})["list"]; l != nil || listed() != nil {
		t.Errorf("taken off the list, it is %v", l)
	}
}

// A customer cancels: by the terms that the quote told, a part of what was paid is kept, and no more than that; before,
// all of it goes back.
func TestACancelledOrder(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	kitchen := p.must(200, "GET", "/kitchen", nil)
	kitchen["terms"] = with(kitchen["terms"].(object), object{"cancel": []object{{"days": 7, "share": 0.5},
		{"days": 2, "share": 1.2}}})
	p.problem(422, "body.terms.cancel[1].share", "between 0 and 100%", p.send("PUT", "/kitchen", kitchen, "If-Match", "*"))
	kitchen["terms"].(object)["cancel"].([]object)[1]["share"] = 1
	p.must(200, "PUT", "/kitchen", kitchen, "If-Match", "*")
	order, token := p.quote("Milk malt bombs", 12) // for the 12th
	page := p.must(200, "GET", "/quotes/"+token, nil)["quote"].(object)
	if terms := fmt.Sprint(page["terms"]); !strings.Contains(terms, "7 days before the day or later, 50% of the price") {
		t.Errorf("the quote tells %s", terms)
	}
	if text := read(t, p.send("GET", "/quotes/"+token+"/quote.pdf", nil).body); !strings.Contains(text, "Cancelling") &&
		!strings.Contains(text, "Canceling") {
		t.Errorf("the paper tells %s", text)
	}
	id := order["id"]
	path := fmt.Sprint("/orders/", id, "/payments")
	p.move(200, id, "promised")
	gross := cash(t, p.must(200, "GET", path, nil)["gross"])
	p.must(201, "POST", path, object{"kind": "balance", "amount": fmt.Sprintf("%.2f", gross), "day": "2026-09-03"})
	p.move(200, id, "cancelled") // nine days ahead
	if got := p.must(200, "GET", path, nil); got["kept"] != nil || cash(t, got["rest"]) != gross || got["stands"] != "excess" {
		t.Errorf("nine days ahead: %v", got)
	}
	p.move(200, id, "enquiry")
	p.move(200, id, "promised")
	h.pass(3 * 24 * time.Hour)
	p.move(200, id, "cancelled") // six days ahead: half is kept
	got := p.must(200, "GET", path, nil)
	half := math.Round(gross*50) / 100
	if kept := cash(t, got["kept"]); kept != half || math.Abs(cash(t, got["rest"])-gross+half) > 0.005 ||
		!strings.Contains(got["keptWhy"].(string), "6 days before its day") {
		t.Errorf("six days ahead: %v", got)
	}
	p.must(201, "POST", path, object{"kind": "refund", "amount": fmt.Sprintf("%.2f", gross-half), "day": "2026-09-06"})
	if got := p.must(200, "GET", path, nil); got["stands"] != "paid" || cash(t, got["kept"]) != half {
		t.Errorf("given back: %v", got)
	}
	report := p.must(200, "GET", "/till", nil)
	for _, o := range report["owed"].([]any) {
		if o.(object)["order"] == id {
			t.Errorf("the till still has it among what is owed: %v", o)
		}
	}
	// What is kept is no sale, and stands by itself under the month in which it was cancelled.
	if kept := report["kept"].([]any); len(kept) != 1 || kept[0].(object)["month"] != "2026-09" ||
		kept[0].(object)["orders"] != 1.0 || cash(t, kept[0].(object)["amount"]) != half {
		t.Errorf("the till has kept %v", kept)
	}
}
