package app_test

import (
	"fmt"
	"reflect"
	"strings"
	"sync"
	"testing"

	ics "github.com/arran4/golang-ical"
)

func (p *person) order(id any) object { return p.must(200, "GET", fmt.Sprint("/orders/", id), nil) }

func (p *person) move(status int, id any, to string) object {
	p.t.Helper()
	return p.must(status, "POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": to})
}

func (p *person) stock(name string) float64 {
	p.t.Helper()
	return find(p.t, p.must(200, "GET", "/supplies", nil)["supplies"], "name",
		name)["stock"].(object)["amount"].(float64)
}

// An order from enquiry to settled, with all that each move entails.
func TestOrderFromEnquiryToSettled(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	made := p.must(201, "POST", "/orders", p.draft("Cardamom-malt bombs", 24))
	id := made["id"]
	if made["state"] != "enquiry" || len(made["days"].([]any)) != 0 || made["agreed"] != nil {
		t.Errorf("written: %v", made)
	}
	asked := p.must(200, "POST", "/estimates", object{"draft": made["draft"]})["money"].(object)["asked"].(object)["amount"]
	promised := p.move(200, id, "promised")
	days := promised["days"].([]any)
	// They are made where dark is melted for others anyway: that saves 25 minutes.
	if len(days) != 1 || days[0].(object)["day"].(string) > "2026-09-12" || days[0].(object)["short"] != false {
		t.Fatalf("its days: %v", days)
	}
	when := days[0].(object)["day"].(string)
	if promised["agreed"].(object)["amount"] != asked {
		t.Errorf("asked %v, reckoned %v", promised["agreed"], asked)
	}
	tin := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", when)
	work := find(t, tin["work"], "batch", days[0].(object)["batch"])
	if work["short"] != false || tin["free"].(float64) > tin["hands"].(float64)-work["minutes"].(float64) {
		t.Errorf("the tin: %v", tin)
	}
	if flags := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", "2026-09-12")["handovers"].([]any); len(flags) != 1 {
		t.Errorf("its flag: %v", flags)
	}

	first := find(t, p.must(200, "GET", fmt.Sprint("/days/", when, "/run-sheet"), nil)["steps"], "batch", days[0].(object)["batch"])
	if first["step"] != "shells-1" || advised(first) == "" || len(first["amounts"].([]any)) == 0 {
		t.Errorf("the first step: %v", first)
	}
	tick := fmt.Sprint("/batches/", first["batch"], "/steps/", first["step"])
	p.must(200, "PUT", tick, object{"done": true})
	if again := p.must(200, "PUT", tick, object{"done": true}); again["who"] != "Maren Halloway" {
		t.Errorf("ticked by %v", again["who"])
	}
	if got := p.order(id)["state"]; got != "in the making" {
		t.Errorf("after the first tick it is %v", got)
	}
	p.move(409, id, "promised") // work has begun
	p.must(200, "PUT", tick, object{"done": false})
	p.move(200, id, "promised")
	p.move(200, id, "in the making")

	before := p.stock("Clear bags")
	p.move(200, id, "packed")
	if got := before - p.stock("Clear bags"); got != 24 {
		t.Errorf("packing 24 took %v bags", got)
	}
	if d := p.order(id)["days"].([]any)[0].(object); d["done"] != d["steps"] {
		t.Errorf("packed implies made: %v", d)
	}
	p.problem(409, "", "cannot be ticked", p.send("PUT", tick, object{"done": false}))
	p.move(200, id, "in the making")
	if p.stock("Clear bags") != before {
		t.Error("unpacking does not put the bags back")
	}
	for _, to := range []string{"packed", "handed over", "settled"} {
		p.move(200, id, to)
	}
	p.problem(409, "", "closed cannot become request", p.send("POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": "enquiry"}))
	var told []string
	for _, m := range p.order(id)["history"].([]any) {
		told = append(told, m.(object)["to"].(string))
		if m.(object)["who"] != "Maren Halloway" || m.(object)["at"] == nil {
			t.Errorf("a move without who and when: %v", m)
		}
	}
	if got := strings.Join(told, ", "); got != "enquiry, promised, in the making, promised, in the making, packed, in the making, packed, handed over, settled" {
		t.Errorf("history: %s", got)
	}
	months := p.must(200, "GET", "/till", nil)["months"].([]any)
	if months[0].(object)["orders"] != 2.0 {
		t.Errorf("the till of September: %v", months[0])
	}
}

func TestBadInput(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	fine := p.draft("Milk malt bombs", 12)
	lines := func(count any) object {
		return with(fine, object{"lines": []object{{"treat": p.treat("Milk malt bombs"), "count": count}}})
	}
	bare := p.must(201, "POST", "/treats", object{"name": "Not written yet"})
	count := len(p.must(200, "GET", "/orders", nil)["orders"].([]any))
	for name, c := range map[string]struct {
		body       any
		path, says string
	}{
		"a count of 0":              {lines(0), "body.lines[0].count", "1 or more"},
		"a negative count":          {lines(-4), "body.lines[0].count", "-4"},
		"beyond 10 000":             {lines(10001), "body.lines[0].count", "10,001"},
		"half a piece":              {lines(1.5), "body.lines[0].count", "whole number"},
		"a count in words":          {lines("a dozen"), "body.lines[0].count", "whole number"},
		"in the past":               {with(fine, object{"from": "2026-09-01T10:00:00Z", "to": "2026-09-01T11:00:00Z"}), "body.from", "past"},
		"ends before it starts":     {with(fine, object{"to": "2026-09-12T17:00:00Z"}), "body.to", "before it starts"},
		"no time at all":            {with(fine, object{"from": "at noon"}), "body.from", "time such as"},
		"a treat without formula":   {with(fine, object{"lines": []object{{"treat": bare["id"], "count": 1}}}), "body.lines[0].treat", "no recipe yet"},
		"a price in words":          {with(fine, object{"pricing": object{"by": "price", "value": "a lot"}}), "body.pricing.value", "not an amount of money"},
		"nobody":                    {with(fine, object{"customer": ""}), "body.customer", "Enter the customer’s name"},
		"a field that nobody knows": {with(fine, object{"colour": "red"}), "body.colour", "not a field"},
	} {
		t.Run(name, func(t *testing.T) {
			p := *p
			p.t = t
			p.problem(422, c.path, c.says, p.send("POST", "/orders", c.body))
		})
	}
	p.problem(400, "", "not JSON", p.send("POST", "/orders", `{"customer": "Ada", `))
	p.problem(413, "", "more than 1 MB", p.send("POST", "/orders", with(fine, object{"notes": strings.Repeat("x", 1<<20)})))
	p.problem(415, "", "application/json", p.send("POST", "/orders", `customer: Ada`, "Content-Type", "application/yaml"))
	p.problem(404, "", "no such order", p.send("GET", "/orders/01a21257-3e74-731d-9b98-25ca371faaca", nil))
	p.problem(422, "path.id", "not an id", p.send("GET", "/orders/1", nil))
	if got := len(p.must(200, "GET", "/orders", nil)["orders"].([]any)); got != count {
		t.Errorf("%d orders, were %d: something refused was saved", got, count)
	}

	id := p.treat("Milk malt bombs")
	treat := p.must(200, "GET", "/treats/"+id, nil)
	formula := treat["formula"].(object)
	harm := func(change object) object {
		return object{"name": treat["name"], "formula": with(formula, change)}
	}
	shell := formula["shell"].(object)
	for _, c := range []struct {
		body       any
		path, says string
	}{
		{harm(object{"shell": with(shell, object{"across": object{"amount": 2, "unit": "thumbs"}})}), "body.formula.shell.across", "“thumbs”"},
		{harm(object{"portions": []object{{"ingredient": formula["portions"].([]any)[0].(object)["ingredient"], "each": object{"amount": 2, "unit": "each"}, "where": "in"}}}), "body.formula.portions[0].each", "weight per piece"},
		{harm(object{"loss": 1}), "body.formula.loss", "90%"},
		{object{"name": treat["name"]}, "body.formula", "missing"},
	} {
		p.problem(422, c.path, c.says, p.send("PUT", "/treats/"+id, c.body, "If-Match", `"1"`))
	}
	if now := p.must(200, "GET", "/treats/"+id, nil); now["version"] != treat["version"] {
		t.Error("a refused formula was saved")
	}
	p.problem(409, "", "name already", p.send("POST", "/treats", object{"name": "Milk malt bombs"}))
	p.problem(422, "body.text", "parsecs", p.send("POST", "/calculators/amount", object{"text": "3 parsecs"}))
}

func TestEditOfSomethingThatHasChanged(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	made := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	path := fmt.Sprint("/orders/", made["id"])
	p.must(200, "PUT", path, with(made["draft"].(object), object{"notes": "hers"}), "If-Match", `"1"`)
	a := p.send("PUT", path, with(made["draft"].(object), object{"notes": "his"}), "If-Match", `"1"`)
	p.problem(412, "", "Someone else saved changes", a)
	if !strings.Contains(a.body, `"current":`) || !strings.Contains(a.body, `"notes":"hers"`) {
		t.Errorf("the present state is not told: %s", a.body)
	}
	if got := p.order(made["id"])["draft"].(object)["notes"]; got != "hers" {
		t.Errorf("notes are %v", got)
	}
	p.problem(428, "", "If-Match", p.send("PUT", path, made["draft"]))
}

func TestACreateIsDoneOnce(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	d := p.draft("Milk malt bombs", 12)
	var wait sync.WaitGroup
	ids := make([]string, 8)
	for i := range ids {
		wait.Go(func() { ids[i] = p.must(201, "POST", "/orders", d, "Idempotency-Key", "tea for two")["id"].(string) })
	}
	wait.Wait()
	for _, id := range ids {
		if id != ids[0] {
			t.Errorf("one key made two orders: %v", ids)
		}
	}
	p.problem(422, "", "was used for something else", p.send("POST", "/orders", with(d, object{"customer": "Bo"}), "Idempotency-Key", "tea for two"))
	// What was refused is not kept: the same key may try again.
	p.problem(422, "body.customer", "name", p.send("POST", "/orders", with(d, object{"customer": ""}), "Idempotency-Key", "another"))
	p.must(201, "POST", "/orders", d, "Idempotency-Key", "another")
}

// Two promises for the same minutes at the same time: one of them gets them.
func TestMinutesArePromisedOnce(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	// Berries keep a day: for Wednesday 16 at 23:00 UTC, 19:00 in the kitchen, only that evening's first hour and a
	// half is there.
	d := with(p.draft("Strawberries with white lines", 12), object{"from": "2026-09-17T01:30:00Z", "to": "2026-09-17T02:00:00Z"})
	d["lines"].([]object)[0]["count"] = 90
	var wait sync.WaitGroup
	states := make([]int, 6)
	for i := range states {
		id := p.must(201, "POST", "/orders", d)["id"]
		wait.Go(func() {
			states[i] = p.send("POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": "promised"}).status
		})
	}
	wait.Wait()
	counts := map[int]int{}
	for _, s := range states {
		counts[s]++
	}
	if counts[200] != 1 || counts[409] != 5 {
		t.Errorf("of six promises for one evening: %v", counts)
	}
	if tin := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", "2026-09-16"); tin["over"] != 0.0 {
		t.Errorf("the evening is promised twice: %v", tin)
	}
}

func TestPromisesThatAreRefused(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	path := func(id any) string { return fmt.Sprint("/orders/", id, "/moves") }
	empty := p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 1), object{"lines": []object{}}))
	p.problem(409, "", "no treats yet", p.send("POST", path(empty["id"]), object{"to": "promised"}))
	huge := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 900))
	p.problem(409, "", "900 Milk malt bombs keep 14 days", p.send("POST", path(huge["id"]), object{"to": "promised"}))
	nuts := p.must(201, "POST", "/orders", with(p.draft("Pistachio milk bark", 4), object{"freeFrom": []string{"tree nut"}}))
	p.problem(409, "", "must be free from it", p.send("POST", path(nuts["id"]), object{"to": "promised"}))
	for _, o := range []object{empty, huge, nuts} {
		if now := p.order(o["id"]); now["state"] != "enquiry" || now["revision"] != o["revision"] || len(now["days"].([]any)) != 0 {
			t.Errorf("a refused promise left %v", now)
		}
	}
	// Not enough packaging: packing is refused as a whole.
	boxes := find(t, p.must(200, "GET", "/supplies", nil)["supplies"], "name", "Clear bags")
	o := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	p.move(200, o["id"], "promised")
	p.move(200, o["id"], "in the making")
	ribbon := p.stock("Ribbon")
	p.must(200, "PUT", fmt.Sprint("/supplies/", boxes["id"]), object{"name": "Clear bags", "stock": object{"amount": 5, "unit": "each"}, "paid": "8.40", "paidFor": object{"amount": 100, "unit": "each"}, "reason": "counted"}, "If-Match", fmt.Sprintf(`"%v"`, boxes["revision"]))
	p.problem(409, "", "7 of clear bags short", p.send("POST", path(o["id"]), object{"to": "packed"}))
	if p.stock("Ribbon") != ribbon || p.stock("Clear bags") != 5 {
		t.Error("packing that was refused took something")
	}
}

// An order line pins its version: a quoted order does not change its cost because a recipe did; an enquiry follows.
func TestOrdersKeepTheirVersions(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	quoted := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	p.move(200, quoted["id"], "quoted")
	enquiry := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	total := func(id any) any {
		d := p.order(id)["draft"].(object)
		return p.must(200, "POST", "/estimates", object{"order": id, "draft": d})["money"].(object)["total"].(object)["amount"]
	}
	before := total(quoted["id"])
	treat := p.must(200, "GET", "/treats/"+p.treat("Milk malt bombs"), nil)
	formula := with(treat["formula"].(object), object{"loss": 0.3})
	changed := p.must(200, "PUT", fmt.Sprint("/treats/", treat["id"]), object{"name": treat["name"], "formula": formula}, "If-Match", `"1"`)
	if changed["version"] != 2.0 {
		t.Errorf("version %v after a change", changed["version"])
	}
	if again := p.must(200, "PUT", fmt.Sprint("/treats/", treat["id"]), object{"name": "Malt bombs", "formula": formula}, "If-Match", `"2"`); again["version"] != 2.0 {
		t.Errorf("a new name alone made version %v", again["version"])
	}
	if got := total(quoted["id"]); got != before {
		t.Errorf("the quoted order costs %v, was %v", got, before)
	}
	if got := total(enquiry["id"]); got == before {
		t.Errorf("the enquiry still costs %v", got)
	}
	p.move(200, quoted["id"], "promised")
	if got := total(quoted["id"]); got != before {
		t.Errorf("promised it costs %v, was quoted at %v", got, before)
	}
}

func TestAPromisedOrderThatChanges(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	made := p.must(201, "POST", "/orders", p.draft("Milk malt bombs", 12))
	path := fmt.Sprint("/orders/", made["id"])
	now := p.move(200, made["id"], "promised")
	d := now["draft"].(object)
	change := func(count int) object {
		return with(d, object{"lines": []object{{"treat": p.treat("Milk malt bombs"), "count": count}}})
	}
	tag := func() string { return fmt.Sprintf(`"%v"`, p.order(made["id"])["revision"]) }
	longer := p.must(200, "PUT", path, change(30), "If-Match", tag())
	if before, after := now["days"].([]any)[0].(object)["hands"].(float64), longer["days"].([]any)[0].(object)["hands"].(float64); after <= before {
		t.Errorf("30 take %v minutes, 12 took %v", after, before)
	}
	p.problem(409, "", "does not fit", p.send("PUT", path, change(900), "If-Match", tag()))
	if got := p.order(made["id"])["draft"].(object)["lines"].([]any)[0].(object)["count"]; got != 30.0 {
		t.Errorf("a refused change left a count of %v", got)
	}
	batch := longer["days"].([]any)[0].(object)["batch"]
	p.must(200, "PUT", fmt.Sprint("/batches/", batch, "/steps/shells-1"), object{"done": true})
	p.problem(409, "", "ticked as done", p.send("PUT", path, change(12), "If-Match", tag()))
	p.must(200, "PUT", path, with(change(30), object{"notes": "Ring twice."}), "If-Match", tag())
	if p.order(made["id"])["days"].([]any)[0].(object)["done"] != 1.0 {
		t.Error("a note took the ticks away")
	}
	p.move(200, made["id"], "cancelled")
	tin := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", "2026-09-12")
	for _, w := range tin["work"].([]any) {
		if w.(object)["steps"] != 1.0 {
			t.Errorf("cancelled work still takes time: %v", w)
		}
	}
}

func TestWorkDays(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	a := p.send("GET", "/work-days", nil)
	tag := a.header.Get("ETag")
	w := p.must(200, "GET", "/work-days", nil)
	week := w["week"].([]any)
	for _, c := range []struct {
		span       object
		path, says string
	}{
		{object{"from": "21:00", "to": "18:00", "hands": 1}, "body.week[2][0].to", "cannot end"},
		{object{"from": "late", "to": "18:00", "hands": 1}, "body.week[2][0].from", "late"},
		{object{"from": "18:00", "to": "25:00", "hands": 1}, "body.week[2][0].to", "25:00"},
		{object{"from": "18:00", "to": "19:00", "hands": 0}, "body.week[2][0].hands", "At least 1"},
	} {
		bad := append([]any{}, week...)
		bad[2] = []object{c.span}
		p.problem(422, c.path, c.says, p.send("PUT", "/work-days", with(w, object{"week": bad}), "If-Match", tag))
	}
	off := with(w, object{"exceptions": []object{{"day": "2026-09-05", "reason": "Ferry trip", "spans": []object{}}}})
	p.must(200, "PUT", "/work-days", off, "If-Match", tag)
	p.problem(412, "", "Someone else saved changes", p.send("PUT", "/work-days", w, "If-Match", tag))
	tin := find(t, p.must(200, "GET", "/shelf", nil)["tins"], "day", "2026-09-05")
	if tin["hands"] != 0.0 || tin["reason"] != "Ferry trip" || len(tin["work"].([]any)) != 0 || tin["over"] != 0.0 {
		t.Errorf("a day off has work planned in it still: %v", tin)
	}
}

func TestTakingItAway(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	file := p.send("GET", "/calendar.ics", nil)
	if !strings.HasPrefix(file.header.Get("Content-Type"), "text/calendar") || !strings.Contains(file.header.Get("Content-Disposition"), "zesty-tin.ics") {
		t.Errorf("headers %v", file.header)
	}
	cal, err := ics.ParseCalendar(strings.NewReader(file.body))
	if err != nil {
		t.Fatal(err)
	}
	handovers, work := 0, 0
	for _, e := range cal.Events() {
		start, err := e.GetStartAt()
		end, err2 := e.GetEndAt()
		if err != nil || err2 != nil || !end.After(start) {
			t.Errorf("event %s from %v to %v", e.Id(), start, end)
		}
		if strings.HasPrefix(e.Id(), "order-") {
			handovers++
		} else {
			work++
		}
		if s := e.GetProperty(ics.ComponentPropertySummary).Value; strings.Contains(s, "Wren") && start.UTC().Format("2006-01-02 15:04") != "2026-09-05 16:00" {
			t.Errorf("the Wren family is handed over at %v", start)
		}
	}
	if handovers < 6 || work < handovers {
		t.Errorf("%d handovers, %d batches", handovers, work)
	}
	for _, line := range strings.Split(file.body, "\r\n") {
		if len(line) > 75 { // RFC 5545, 3.1: lines are folded
			t.Errorf("a line of %d octets: %s", len(line), line)
		}
	}
	// Customers' words cannot become a formula of a spreadsheet.
	p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 2), object{"customer": "=1+1", "occasion": "said \"yes\", twice"}))
	csv := p.send("GET", "/orders.csv", nil).body
	if !strings.Contains(csv, ",'=1+1,") || !strings.Contains(csv, `"said ""yes"", twice"`) {
		t.Errorf("csv: %s", csv)
	}
}

func TestBringingOrdersIn(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	p.must(201, "POST", "/orders", with(p.draft("Milk malt bombs", 7), object{"customer": "=Quill, Ada", "notes": "two\nlines", "freeFrom": []string{"egg", "sesame"}}))
	rows := strings.SplitAfter(p.send("GET", "/orders.csv", nil).body, "\n")
	last := rows[0] + strings.Join(rows[len(rows)-3:], "") // the newest, whose notes take two lines
	before := p.must(200, "GET", "/orders", nil)["orders"].([]any)
	if got := p.must(200, "POST", "/orders.csv", last, "Content-Type", "text/csv"); got["orders"] != 1.0 {
		t.Fatalf("brought in: %v", got)
	}
	after := p.must(200, "GET", "/orders", nil)["orders"].([]any)
	if len(after) != len(before)+1 {
		t.Errorf("%d orders, were %d", len(after), len(before))
	}
	var twins []object
	for _, o := range after {
		if o.(object)["customer"] == "=Quill, Ada" {
			twins = append(twins, o.(object))
		}
	}
	if len(twins) != 2 || fmt.Sprint(twins[0]["lines"], twins[0]["from"], twins[0]["freeFrom"], twins[0]["notes"]) != fmt.Sprint(twins[1]["lines"], twins[1]["from"], twins[1]["freeFrom"], twins[1]["notes"]) {
		t.Errorf("out and in again is not the same: %v", twins)
	}
	good := "customer;from;to;treats\nAda;2026-09-12T14:00:00-04:00;2026-09-12T15:00:00-04:00;3 Milk malt bombs\n"
	p.must(200, "POST", "/orders.csv", "\ufeff"+good, "Content-Type", "text/csv")
	for name, c := range map[string]struct {
		file       string
		status     int
		path, says string
	}{
		"a picture":      {"\x89PNG\r\n\x1a\n\x00\x00", 415, "", "not a CSV file but image/png"},
		"a PDF":          {"%PDF-1.7\n", 415, "", "application/pdf"},
		"nothing":        {"", 400, "", ""},
		"other columns":  {"name,when\nAda,noon\n", 422, "", `no column “customer”`},
		"no rows":        {"customer,from,to,treats\n", 422, "", "no orders below"},
		"a bad row":      {good + "Bo;noon;2026-09-12T15:00:00-04:00;x\n", 422, "body.rows[3].from", "noon"},
		"a bad treat":    {good + "Bo;2026-09-12T14:00:00-04:00;2026-09-12T15:00:00-04:00;3 Pies\n", 422, "body.rows[3].treats", "Pies"},
		"a bad count":    {good + "Bo;2026-09-12T14:00:00-04:00;2026-09-12T15:00:00-04:00;0 Milk malt bombs\n", 422, "body.rows[3].lines[0].count", "1 or more"},
		"unclosed quote": {"customer,from,to,treats\n\"Ada,x", 422, "", "Row 2"},
	} {
		a := p.send("POST", "/orders.csv", c.file, "Content-Type", "text/csv")
		t.Run(name, func(t *testing.T) {
			p := *p
			p.t = t
			p.problem(c.status, c.path, c.says, a)
		})
	}
	if got := len(p.must(200, "GET", "/orders", nil)["orders"].([]any)); got != len(after)+1 {
		t.Errorf("%d orders: a file with a bad row left some of its rows", got)
	}
}

func TestReadsAreCacheable(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	for _, path := range []string{"/orders", "/shelf", "/treats", "/ingredients", "/supplies", "/till"} {
		first := p.send("GET", path, nil)
		if tag := first.header.Get("ETag"); tag == "" || p.send("GET", path, nil, "If-None-Match", tag).status != 304 {
			t.Errorf("%s has the tag %q and is not answered with 304", path, tag)
		}
	}
}

// The list comes a page at a time, ahead or behind, and is searched by words.
func TestTheListInPages(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	all := p.must(200, "GET", "/orders?which=all", nil)["orders"].([]any)
	ahead := p.must(200, "GET", "/orders", nil)
	open := ahead["orders"].([]any)
	behind := p.must(200, "GET", "/orders?which=behind", nil)["orders"].([]any)
	if len(open)+len(behind) != len(all) || ahead["ahead"] != float64(len(open)) || len(behind) == 0 || ahead["more"] != false {
		t.Fatalf("%d ahead, %d behind, %d in all: %v", len(open), len(behind), len(all), ahead["ahead"])
	}
	for which, want := range map[string][]any{"ahead": open, "behind": behind, "all": all} {
		var got []any
		for after, more := "", true; more; {
			page := p.must(200, "GET", fmt.Sprintf("/orders?which=%s&limit=2&after=%s", which, after), nil)
			rows := page["orders"].([]any)
			got, more = append(got, rows...), page["more"].(bool)
			if len(rows) > 2 || more && len(rows) < 2 || len(got) > len(want) {
				t.Fatalf("%s: a page of %d after %d", which, len(rows), len(got))
			}
			after = rows[len(rows)-1].(object)["id"].(string)
		}
		if !reflect.DeepEqual(got, want) {
			t.Errorf("%s in pages is not the whole", which)
		}
		for i := 1; i < len(want); i++ {
			a, b := want[i-1].(object)["from"].(string), want[i].(object)["from"].(string)
			if (which == "ahead") != (a <= b) && a != b {
				t.Errorf("%s: %s stands before %s", which, a, b)
			}
		}
	}
	found := p.must(200, "GET", "/orders?which=all&find=VANTONGEREN+"+fmt.Sprint(find(t, open, "customer", "Ilse Vantongeren")["number"]), nil)["orders"].([]any)
	if len(found) != 1 || found[0].(object)["customer"] != "Ilse Vantongeren" {
		t.Errorf("found %v", found)
	}
	if got := p.must(200, "GET", "/orders?which=all&find=vantongeren+zzz", nil)["orders"].([]any); len(got) != 0 {
		t.Errorf("found %v: every word must fit", got)
	}
	p.problem(422, "query.after", "", p.send("GET", "/orders?after=1", nil))
}

// The list is filtered by state, treat, customer and days, and its sums are of all that is asked for, not of a page.
func TestTheListIsFiltered(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	treat := p.treat("Milk malt bombs")
	for i, count := range []int{6, 12, 24} {
		d := p.draft("Milk malt bombs", count)
		d["from"], d["to"] = fmt.Sprintf("2027-03-%02dT15:00:00Z", 3+7*i), fmt.Sprintf("2027-03-%02dT16:00:00Z", 3+7*i)
		p.must(201, "POST", "/orders", d)
	}
	ask := func(query string) (object, []any) {
		t.Helper()
		list := p.must(200, "GET", "/orders?"+query, nil)
		return list["sums"].(object), list["orders"].([]any)
	}
	// A page of one, and the sums of three.
	sums, page := ask("find=quill&limit=1")
	if sums["orders"] != 3.0 || sums["pieces"] != 42.0 || sums["open"] != 3.0 || len(page) != 1 {
		t.Errorf("%v of %d shown", sums, len(page))
	}
	for query, want := range map[string]float64{"find=quill&from=2027-03-04": 2, "find=quill&to=2027-03-03": 1,
		"find=quill&from=2027-03-10&to=2027-03-10": 1, "find=quill&state=promised": 0, "find=quill&state=enquiry": 3,
		"find=quill&treat=" + treat: 3, "find=quill&treat=" + p.treat("Cardamom-malt bombs"): 0} {
		sums, page := ask(query)
		if sums["orders"] != want || float64(len(page)) != want {
			t.Errorf("%s: %v, %d shown, want %v", query, sums, len(page), want)
		}
	}
	// What is agreed adds up, and pages follow one another within a filter.
	sums, all := ask("which=all&limit=500")
	total := decimalOf("0")
	for _, o := range all {
		if a := p.order(o.(object)["id"])["agreed"]; a != nil {
			total = total.Add(decimalOf(a.(object)["amount"]))
		}
	}
	if got := decimalOf(sums["agreed"].(object)["amount"]); !got.Equal(total) || sums["orders"] != float64(len(all)) {
		t.Errorf("the sums say %v of %v orders, the orders %v of %d", got, sums["orders"], total, len(all))
	}
	_, first := ask("find=quill&limit=2&treat=" + treat)
	_, rest := ask("find=quill&limit=2&treat=" + treat + "&after=" + first[1].(object)["id"].(string))
	if len(rest) != 1 || rest[0].(object)["id"] == first[0].(object)["id"] {
		t.Errorf("%d on the second page", len(rest))
	}
	p.problem(422, "query.state", "", p.send("GET", "/orders?state=lost", nil))
}
