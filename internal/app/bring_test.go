package app_test

import (
	"fmt"
	"strings"
	"testing"
)

// A seller brings customers and a price list along: they are read, kept once, found, used for an order, and taken back.
func TestCustomersAndPricesAreBroughtAlong(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	read := p.must(200, "POST", "/calculators/brought", object{"kind": "customers",
		"text": "Full name;Mobile;E-Mail\nOona Reyes;555 0144;oona@reyes.example\nPiotr Szalai;;\n;1;\n"})
	if n, bad := len(read["customers"].([]any)), len(read["bad"].([]any)); n != 2 || bad != 1 {
		t.Fatalf("%v", read)
	}
	body := object{"customers": read["customers"]}
	added := p.must(201, "POST", "/customers", body)
	again := p.must(201, "POST", "/customers", body)
	if added["added"] != 2.0 || again["added"] != 0.0 || again["known"] != 2.0 {
		t.Errorf("added %v, then %v", added, again)
	}
	found := func(name string) []any { return p.must(200, "GET", "/customers?find="+name, nil)["customers"].([]any) }
	if list := found("oona"); len(list) != 1 || list[0].(object)["phone"] != "555 0144" {
		t.Errorf("%v", list)
	}
	// Somebody of an order is known too, and once.
	if list := found("szalai"); len(list) != 1 || list[0].(object)["phone"] != "555 0123" {
		t.Errorf("%v", list)
	}
	if list := h.stranger(t).must(200, "GET", "/customers", nil)["customers"].([]any); len(list) != 0 {
		t.Errorf("another kitchen sees %v", list)
	}
	p.problem(422, "body.customers[0]", "is not an email address", p.send("POST", "/customers",
		object{"customers": []object{{"name": "Odd", "mail": "nowhere"}}}))
	p.problem(422, "body.text", "The file is empty", p.send("POST", "/calculators/brought", object{"kind": "prices",
		"text": ""}))
	p.must(204, "DELETE", fmt.Sprint("/customers/brought/", added["brought"]), nil)
	if list := found("oona"); len(list) != 0 {
		t.Errorf("taken back there is %v", list)
	}
	p.problem(404, "", "file", p.send("DELETE", fmt.Sprint("/customers/brought/", added["brought"]), nil))

	prices := p.must(200, "POST", "/calculators/brought", object{"kind": "prices",
		"text": "item,price,per\nMilk malt bombs,$48.00,dozen\nUnicorn cake,90,\n"})["prices"].([]any)
	if prices[0].(object)["treat"] != p.treat("Milk malt bombs") || prices[1].(object)["treat"] != nil {
		t.Fatalf("%v", prices)
	}
	set := object{"prices": []object{{"treat": p.treat("Milk malt bombs"), "price": "48", "count": 12}}}
	before := p.must(200, "PUT", "/list-prices", set)
	estimate := func() any {
		return p.must(200, "POST", "/estimates", object{"draft": p.draft("Milk malt bombs", 6)})["money"].(object)["listed"]
	}
	if m, ok := estimate().(object); !ok || m["amount"] != "24.00" {
		t.Errorf("six bombs are %v on the list", estimate())
	}
	p.must(200, "PUT", "/list-prices", before)
	if estimate() != nil {
		t.Errorf("taken back the list still says %v", estimate())
	}
	for path, bad := range map[string]object{
		"body.prices[0].price": {"treat": p.treat("Milk malt bombs"), "price": "0", "count": 1},
		"body.prices[0].treat": {"treat": "01a21f1a-665a-70e2-b863-ac0cc826be69", "price": "1", "count": 1}} {
		a := p.send("PUT", "/list-prices", object{"prices": []object{bad}})
		if a.status != 422 || !strings.Contains(a.body, path) {
			t.Errorf("%v: %d %s", bad, a.status, a.body)
		}
	}
}
