package app_test

import (
	"context"
	"encoding/csv"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/web"
)

// A customer is written down, ordered again for under a new name, merged with a double and taken apart again.
func TestTheBookOfCustomers(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	for _, name := range []string{"Ano Lindqvist", "Ano Lindqvist"} {
		d := maren.draft("Milk malt bombs", 6)
		d["customer"], d["phone"] = name, "555 0100"
		maren.must(201, "POST", "/orders", d)
	}
	book := maren.must(200, "GET", "/customers/book?find=lindq", nil)
	if list := book["people"].([]any); len(list) != 2 || find(t, list, "name", "Ano Lindqvist")["orders"] != 2.0 {
		t.Fatalf("%v", book)
	}
	// What is written down is what an order is told of her; the deposit that the Wren family paid stands beside them.
	at := "/customers/person?name=anouk%20lindqvist"
	written := object{"name": "Anouk Lindqvist", "phone": "555 0142", "mail": "anouk@lake.example", "place": "Quay 9",
		"notes": "Her daughter must not have peanuts.", "freeFrom": []string{"peanut"}, "wishes": []string{"vegetarian"}}
	maren.problem(428, "", "If-Match", maren.send("PUT", at, written))
	maren.problem(422, "body.mail", "is not an email address", maren.send("PUT", at, with(written,
		object{"mail": "nowhere"}), "If-Match", maren.tag(at)))
	maren.problem(422, "body.freeFrom[0]", "", maren.send("PUT", at, with(written, object{"freeFrom": []string{"sand"}}),
		"If-Match", maren.tag(at)))
	maren.must(200, "PUT", at, written, "If-Match", maren.tag(at))
	if a := maren.send("PUT", at, written, "If-Match", `"0"`); a.status != 412 {
		t.Errorf("somebody was faster, and it is %d", a.status)
	}
	known := find(t, maren.must(200, "GET", "/customers?find=anouk", nil)["customers"], "name", "Anouk Lindqvist")
	if known["mail"] != "anouk@lake.example" || known["freeFrom"].([]any)[0] != "peanut" {
		t.Errorf("%v", known)
	}
	if wren := find(t, maren.must(200, "GET", "/customers/book", nil)["people"], "name",
		"Wren family"); wren["paid"].(object)["amount"] != "40.00" {
		t.Errorf("%v", wren)
	}

	maren.problem(409, "", "There is already a customer", maren.send("PUT", at, with(written,
		object{"name": "Ano Lindqvist"}), "If-Match", maren.tag(at)))
	split := maren.must(200, "POST", "/customers/merge", object{"from": "Ano Lindqvist", "into": "Anouk Lindqvist"})
	one := maren.must(200, "GET", at, nil)
	if len(one["history"].([]any)) != 3 || one["phone"] != "555 0142" {
		t.Errorf("%v", one)
	}
	maren.problem(404, "", "customer", maren.send("GET", "/customers/person?name=Ano+Lindqvist", nil))
	maren.must(204, "POST", "/customers/split", split)
	if one = maren.must(200, "GET", at, nil); len(one["history"].([]any)) != 1 {
		t.Errorf("%v", one)
	}
	if two := maren.must(200, "GET", "/customers/person?name=Ano+Lindqvist", nil); len(two["history"].([]any)) != 2 {
		t.Errorf("%v", two)
	}
	// A new name goes to the orders.
	maren.must(200, "PUT", at, with(written, object{"name": "Anouk Berg"}), "If-Match", maren.tag(at))
	find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Anouk Berg")

	bo := h.stranger(t)
	if list := bo.must(200, "GET", "/customers/book", nil)["people"].([]any); len(list) != 0 {
		t.Errorf("%v", list)
	}
	maren.problem(404, "", "customer", bo.send("GET", "/customers/person?name=Anouk+Berg", nil))
}

// Forgotten is forgotten everywhere: no table of the kitchen has the name, the number or the street any more. The sums
// stay.
func TestSomebodyIsForgotten(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	d := maren.draft("Milk malt bombs", 6)
	d["customer"], d["phone"], d["mail"], d["way"], d["place"] = "Zelda Quorn", "555 0777", "zelda@quorn.example",
		"delivery", "Quornstreet 7"
	d["notes"], d["occasion"] = "Zelda rings twice.", "Zelda's birthday"
	id := maren.must(201, "POST", "/orders", d, "Idempotency-Key", "zelda")["id"].(string)
	maren.must(204, "PUT", "/positions", object{"address": "Quornstreet 7", "at": "46.0, -28.01"})
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "quoted"})
	maren.must(201, "POST", "/orders/"+id+"/quotes", nil)
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
	maren.must(201, "POST", "/orders/"+id+"/payments", object{"kind": "deposit", "amount": "5", "day": "2026-09-03",
		"note": "from Zelda Quorn"})
	maren.must(200, "POST", "/orders/"+id+"/invoices", nil)
	maren.problem(409, "", "still has an order ahead", maren.send("POST", "/customers/forget",
		object{"name": "zelda quorn"}))
	maren.must(200, "POST", "/plan/changes", object{"kind": "off", "day": "2026-09-12"})
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "cancelled"})
	maren.must(204, "POST", "/customers/forget", object{"name": "zelda quorn"})
	owner, err := pgx.Connect(context.Background(), h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(context.Background())
	rows, _ := owner.Query(context.Background(), `select table_name from information_schema.tables
		where table_schema = 'public' and table_type = 'BASE TABLE'`)
	tables, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil || len(tables) < 30 {
		t.Fatal(tables, err)
	}
	for _, table := range tables {
		var n int
		if err := owner.QueryRow(context.Background(), `select count(*) from `+pgx.Identifier{table}.Sanitize()+
			` x where x::text ~* 'zelda|quorn|555 0777'`).Scan(&n); err != nil || n > 0 {
			t.Errorf("%s still has %d rows that tell who it was (%v)", table, n, err)
		}
	}
	for _, path := range []string{"/customers/book", "/customers?find=forgotten"} {
		if list := flat(t, maren.must(200, "GET", path, nil)); strings.Contains(list, "Forgotten") {
			t.Errorf("%s still has somebody: %s", path, list)
		}
	}
	order := maren.must(200, "GET", "/orders/"+id, nil)
	if order["draft"].(object)["customer"] != "Forgotten customer" {
		t.Errorf("%v", order)
	}
	if paid := maren.must(200, "GET", "/orders/"+id+"/payments", nil)["payments"].([]any); len(paid) != 1 {
		t.Errorf("%v", paid)
	}
	maren.problem(404, "", "customer", maren.send("POST", "/customers/forget", object{"name": "Zelda Quorn"}))
}

// A customer's own data are one file: every word that is known of them, none of anybody else, no secret; it is noted
// that it was fetched.
func TestACustomersFile(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, bo := h.maren(t), h.stranger(t)
	d := with(maren.draft("Milk malt bombs", 6), object{"customer": "Zelda Quorn", "phone": "555 0777",
		"notes": "Rings twice."})
	id := maren.must(201, "POST", "/orders", d)["id"].(string)
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "quoted"})
	maren.must(201, "POST", "/orders/"+id+"/quotes", nil)
	maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
	maren.must(201, "POST", "/orders/"+id+"/payments", object{"kind": "deposit", "amount": "5", "day": "2026-09-03"})
	file := maren.must(200, "GET", "/customers/file?name=zelda+quorn", nil)
	text := fmt.Sprint(file)
	for _, says := range []string{"Zelda Quorn", "555 0777", "Rings twice.", id, "deposit"} {
		if !strings.Contains(text, says) {
			t.Errorf("%q is missing: %.300s", says, text)
		}
	}
	for _, other := range []string{"Wren", "token", "kitchen_id"} {
		if strings.Contains(text, other) {
			t.Errorf("%q stands in it", other)
		}
	}
	if len(file["orders"].([]any)) != 1 || len(file["quotes"].([]any)) != 1 || maren.safety()[0] != "exported" {
		t.Errorf("%v", file)
	}
	maren.problem(404, "", "customer", maren.send("GET", "/customers/file?name=Nobody", nil))
	maren.problem(404, "", "customer", bo.send("GET", "/customers/file?name=Zelda+Quorn", nil))
}

// Customers are forgotten so many months after their last handover: by hand, an order that was settled on 12 September
// goes with 3 months on 12 December and not the day before. One who has not paid is kept, and nobody is forgotten where
// nobody said so.
func TestCustomersAreKeptForSoLong(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	kitchen := h.kitchen(t)
	take := func(name, state string) {
		id := maren.must(201, "POST", "/orders", with(maren.draft("Milk malt bombs", 6), object{"customer": name}))["id"]
		h.own(t, `update orders set state = $2 where id = $1`, id, state)
	}
	take("Zelda Quorn", "settled")
	take("Owen Debt", "handed over")
	take("Ada Again", "settled")
	later := with(maren.draft("Milk malt bombs", 6), object{"customer": "ada again", "from": "2026-10-12T18:00:00Z",
		"to": "2026-10-12T19:00:00Z"})
	maren.must(201, "POST", "/orders", later)
	names := func() string {
		if err := h.app.Round(web.WithWho(context.Background(), web.Actor{Kitchen: kitchen})); err != nil {
			t.Fatal(err)
		}
		return fmt.Sprint(h.maren(t).must(200, "GET", "/customers/book?limit=100", nil)["people"])
	}
	h.pass(time.Date(2026, 12, 12, 18, 0, 0, 0, time.UTC).Sub(h.clock()))
	if all := names(); !strings.Contains(all, "Zelda Quorn") {
		t.Error("nobody said so, and she is forgotten")
	}
	maren = h.maren(t)
	k := maren.must(200, "GET", "/kitchen", nil)
	maren.problem(422, "body.customersKept", "", maren.send("PUT", "/kitchen", with(k, object{"customersKept": 121}),
		"If-Match", "*"))
	maren.must(200, "PUT", "/kitchen", with(k, object{"customersKept": 3}), "If-Match", "*")
	if all := names(); !strings.Contains(all, "Zelda Quorn") {
		t.Error("forgotten before her time")
	}
	h.pass(2 * time.Hour)
	all := names()
	if strings.Contains(all, "Zelda Quorn") || !strings.Contains(all, "Owen Debt") ||
		!strings.Contains(strings.ToLower(all), "ada again") {
		t.Error(all)
	}
}

// Cards and sheets go out and come in again: commas, line breaks, letters of other alphabets, and what a sheet would
// take for a formula.
func TestCustomersAsFiles(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	odd := object{"name": "Łucja “Lu”, the 2nd; of Ζάκυνθος", "phone": "+1 555 0142", "mail": "lu@lake.example",
		"place": "Quay 9; back door", "notes": "=1+1, rings\ntwice", "freeFrom": []string{"peanut"}, "wishes": []string{}}
	maren.must(200, "PUT", "/customers/person?name=x", with(odd, object{"name": "x"}), "If-Match", "*")
	at := "/customers/person?name=x"
	maren.must(200, "PUT", at, odd, "If-Match", maren.tag(at))
	cards := maren.send("GET", "/customers/all.vcf", nil)
	if !strings.HasPrefix(cards.body, "BEGIN:VCARD\r\nVERSION:4.0\r\n") {
		t.Errorf("%q", cards.body)
	}
	read := maren.must(200, "POST", "/customers/vcards", object{"text": cards.body})
	got := find(t, read["customers"], "name", odd["name"])
	if got["phone"] != odd["phone"] || got["mail"] != odd["mail"] || got["place"] != "Quay 9, back door" {
		t.Errorf("%v", got)
	}
	if notes := got["notes"].(string); !strings.Contains(notes, "Free from peanut") || !strings.HasSuffix(notes,
		"=1+1, rings\ntwice") {
		t.Errorf("%q", notes)
	}
	// As other programs write them: an older version, folded lines, several numbers, and one that breaks off.
	read = maren.must(200, "POST", "/customers/vcards", object{"text": "BEGIN:VCARD\r\nVERSION:3.0\r\nN:Quay;Ana;;;\r\n" +
		"FN:Ana\r\n  Quay\r\nTEL;TYPE=CELL:555 0111\r\nTEL;TYPE=HOME,PREF:555 0112\r\n" +
		"ADR;TYPE=HOME:;;Quay 3;Lakeside;;12345;\r\nEND:VCARD\r\nBEGIN:VCARD\r\nVERSION:3.0\r\nFN:\r\nEND:VCARD\r\n"})
	ana := read["customers"].([]any)[0].(object)
	if ana["name"] != "Ana Quay" || ana["place"] != "Quay 3, 12345 Lakeside" || len(read["bad"].([]any)) != 1 {
		t.Errorf("%v", read)
	}
	maren.problem(422, "body.text", "no vCards", maren.send("POST", "/customers/vcards", object{"text": ""}))
	maren.problem(422, "body.text", "no vCards", maren.send("POST", "/customers/vcards", object{"text": "what?"}))
	rows, err := csv.NewReader(strings.NewReader(maren.send("GET", "/customers/all.csv", nil).body)).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range rows[1:] {
		if row[0] == odd["name"] && (row[4] != "'=1+1, rings\ntwice" || !strings.HasSuffix(row[1], "+1 555 0142")) {
			t.Errorf("%q", row)
		}
	}
	back := maren.must(200, "POST", "/calculators/brought", object{"kind": "customers",
		"text": maren.send("GET", "/customers/all.csv", nil).body})
	find(t, back["customers"], "name", odd["name"])
}

// Last September somebody had a birthday; there is a month to ask whether they want the same again.
func TestAYearAgo(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	owner, err := pgx.Connect(context.Background(), h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(context.Background())
	list := func() []any { return maren.must(200, "GET", "/customers/year-ago", nil)["yearAgo"].([]any) }
	if got := list(); len(got) != 0 {
		t.Fatalf("%v", got)
	}
	if _, err := owner.Exec(context.Background(), `update orders set from_at = '2025-10-04T16:00:00Z',
			to_at = '2025-10-04T17:00:00Z' where customer in ('Tamsin Oduya', 'Ferry office')`); err != nil {
		t.Fatal(err)
	}
	if got := list(); len(got) != 2 || got[0].(object)["occasion"] == "" {
		t.Fatalf("%v", got)
	}
	d := maren.draft("Milk malt bombs", 6)
	d["customer"] = "tamsin oduya"
	maren.must(201, "POST", "/orders", d)
	if got := list(); len(got) != 1 || got[0].(object)["customer"] != "Ferry office" {
		t.Errorf("%v", got)
	}
}

// The year's sales against a limit: what was handed over and what is promised, before tax.
func TestTheYearsSalesAgainstALimit(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	if year := maren.must(200, "GET", "/till", nil)["year"]; year != nil {
		t.Errorf("%v", year)
	}
	set := func(limit string) answer {
		k := maren.must(200, "GET", "/kitchen", nil)
		k["terms"].(object)["yearLimit"] = limit
		return maren.send("PUT", "/kitchen", k, "If-Match", maren.tag("/kitchen"))
	}
	maren.problem(422, "body.terms.yearLimit", "", set("much"))
	if a := set("100000"); a.status != 200 {
		t.Fatal(a.body)
	}
	year := maren.must(200, "GET", "/till", nil)["year"].(object)
	if year["year"] != 2026.0 || year["stands"] != "within" || year["sold"].(object)["amount"] == "0.00" ||
		year["ahead"].(object)["amount"] == "0.00" {
		t.Errorf("%v", year)
	}
	set(year["sold"].(object)["amount"].(string))
	if year = maren.must(200, "GET", "/till", nil)["year"].(object); year["stands"] != "promised" {
		t.Errorf("%v", year)
	}
	set("")
	if year := maren.must(200, "GET", "/till", nil)["year"]; year != nil {
		t.Errorf("%v", year)
	}
}

// Invoices are numbered without gaps and never change: one that is wrong is taken back by a credit note.
func TestInvoices(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	wren := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Wren family")["id"].(string)
	ilse := find(t, maren.must(200, "GET", "/orders", nil)["orders"], "customer", "Ilse Vantongeren")["id"].(string)
	at := "/orders/" + wren + "/invoices"
	maren.problem(409, "", "no agreed price", maren.send("POST", "/orders/"+ilse+"/invoices", nil))
	one := maren.must(200, "POST", at, nil)["invoices"].([]any)
	if again := maren.must(200, "POST", at, nil)["invoices"].([]any); len(one) != 1 || len(again) != 1 {
		t.Fatalf("%v, %v", one, again)
	}
	content := one[0].(object)["content"].(object)
	paid := maren.must(200, "GET", "/orders/"+wren+"/payments", nil)
	if content["gross"].(object)["amount"] != paid["gross"].(object)["amount"] || content["supplied"] != "2026-09-05" ||
		content["place"] != "Orchard barn, Hill Road" {
		t.Errorf("%v", content)
	}
	maren.must(200, "PUT", "/customers/person?name=Wren+family", object{"name": "The Wrens", "freeFrom": []string{},
		"wishes": []string{}}, "If-Match", "*")
	maren.problem(409, "", "credit note for it first", maren.send("POST", at, nil))
	if list := maren.must(200, "POST", at+"/1/credit", nil)["invoices"].([]any); len(list) != 2 ||
		list[0].(object)["credited"] != 2.0 || list[1].(object)["credits"] != 1.0 {
		t.Fatalf("%v", list)
	}
	maren.must(200, "POST", at+"/1/credit", nil) // twice
	maren.problem(409, "", "is a credit note itself", maren.send("POST", at+"/2/credit", nil))
	list := maren.must(200, "POST", at, nil)["invoices"].([]any)
	if len(list) != 3 || list[2].(object)["number"] != 3.0 ||
		list[2].(object)["content"].(object)["customer"] != "The Wrens" {
		t.Errorf("%v", list)
	}
	for n, status := range map[string]int{"/1": 200, "/2": 200, "/4": 404, "/0": 422} {
		if pdf := maren.send("GET", at+n+"/invoice.pdf", nil); pdf.status != status {
			t.Errorf("%s: %d %s", n, pdf.status, pdf.body[:min(len(pdf.body), 200)])
		}
	}
}

// What is brought along does not stand above what is known: the last order does, and above that what was written down.
func TestWhoKnowsACustomerBest(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	phone := func() any {
		return find(t, maren.must(200, "GET", "/customers?find=pia", nil)["customers"], "name", "Pia Reed")["phone"]
	}
	maren.must(201, "POST", "/customers", object{"customers": []object{{"name": "Pia Reed", "phone": "1"}}})
	if got := phone(); got != "1" {
		t.Errorf("brought along: %v", got)
	}
	d := maren.draft("Milk malt bombs", 6)
	d["customer"], d["phone"] = "pia reed", "2"
	maren.must(201, "POST", "/orders", d)
	if got := find(t, maren.must(200, "GET", "/customers?find=pia", nil)["customers"], "name",
		"pia reed")["phone"]; got != "2" {
		t.Errorf("ordered: %v", got)
	}
	at := "/customers/person?name=PIA+REED"
	maren.must(200, "PUT", at, object{"name": "Pia Reed", "phone": "3", "freeFrom": []string{}, "wishes": []string{}},
		"If-Match", maren.tag(at))
	if got := phone(); got != "3" {
		t.Errorf("written down: %v", got)
	}
	d["phone"] = "4"
	maren.must(201, "POST", "/orders", d)
	if got := phone(); got != "3" {
		t.Errorf("ordered again: %v", got)
	}
	// All orders have the name as it was written down at last, whatever its capitals.
	if p := maren.must(200, "GET", at, nil); len(p["history"].([]any)) != 2 || p["name"] != "Pia Reed" {
		t.Errorf("%v", p)
	}
}

// Merging and splitting lose nothing, whoever is merged into whom.
func TestMergingIsTakenBackWhole(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	names := []string{"Wren family", "Anouk Lindqvist", "Lakeside library"}
	for i, name := range names {
		at := "/customers/person?name=" + strings.ReplaceAll(name, " ", "+")
		was := maren.must(200, "GET", at, nil)
		maren.must(200, "PUT", at, object{"name": name, "phone": was["phone"], "notes": strings.Repeat(name[:1], 300+i),
			"freeFrom": []string{[]string{"peanut", "sesame", "milk"}[i]}, "wishes": []string{}}, "If-Match", maren.tag(at))
	}
	all := func() string {
		text := ""
		for _, name := range names {
			p := maren.must(200, "GET", "/customers/person?name="+strings.ReplaceAll(name, " ", "+"), nil)
			text += flat(t, p) + "\n"
		}
		return text
	}
	before := all()
	for _, pair := range [][2]string{{names[0], names[1]}, {names[1], names[0]}, {names[2], names[0]}} {
		back := maren.must(200, "POST", "/customers/merge", object{"from": pair[0], "into": pair[1]})
		one := maren.must(200, "GET", "/customers/person?name="+strings.ReplaceAll(pair[1], " ", "+"), nil)
		if len(one["freeFrom"].([]any)) != 2 || len(one["history"].([]any)) < 2 || len(one["notes"].(string)) < 600 {
			t.Errorf("%v into %v: %v", pair[0], pair[1], one)
		}
		maren.must(204, "POST", "/customers/split", back)
		if after := all(); after != before {
			t.Errorf("%v and back:\n%s\nbefore:\n%s", pair, after, before)
		}
	}
	maren.problem(409, "", "somebody else", maren.send("POST", "/customers/merge", object{"from": "wren family",
		"into": "Wren Family"}))
	maren.problem(404, "", "customer", maren.send("POST", "/customers/merge", object{"from": "Nobody",
		"into": "Wren family"}))
}

// 100.00 with 10% on it are 110.00; with 10% in it 9.09 of tax and 90.91 net. By hand.
func TestTaxOfAnInvoice(t *testing.T) {
	t.Parallel()
	maren := open(t).maren(t)
	for i, c := range []struct {
		in              bool
		net, tax, gross string
	}{{false, "100.00", "10.00", "110.00"}, {true, "90.91", "9.09", "100.00"}} {
		k := maren.must(200, "GET", "/kitchen", nil)
		k["terms"] = with(k["terms"].(object), object{"tax": 0.1, "taxIncluded": c.in, "rush": []object{}, "ending": "exact"})
		maren.must(200, "PUT", "/kitchen", k, "If-Match", maren.tag("/kitchen"))
		d := maren.draft("Milk malt bombs", 6)
		d["pricing"] = object{"by": "price", "value": "100"}
		id := maren.must(201, "POST", "/orders", d)["id"].(string)
		maren.must(200, "POST", "/orders/"+id+"/moves", object{"to": "promised"})
		list := maren.must(200, "POST", "/orders/"+id+"/invoices", nil)["invoices"].([]any)
		got := list[0].(object)["content"].(object)
		for what, want := range map[string]string{"net": c.net, "tax": c.tax, "gross": c.gross} {
			if is := got[what].(object)["amount"]; is != want {
				t.Errorf("%d: %s %v, by hand %s", i, what, is, want)
			}
		}
	}
}
