package app_test

import (
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
)

// open the page of the demo kitchen.
func (p *person) openPage(change object) {
	p.t.Helper()
	s := p.must(200, "GET", "/ask-page", nil)
	p.must(200, "PUT", "/ask-page", with(with(s, object{"open": true}), change), "If-Match", p.tag("/ask-page"))
}

// page of a visitor, as text.
func (p *person) page(method, path string, form url.Values) (int, string, http.Header) {
	p.t.Helper()
	req, err := http.NewRequest(method, p.base+path, strings.NewReader(form.Encode()))
	if err != nil {
		p.t.Fatal(err)
	}
	if method == "POST" {
		req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	res, err := p.Do(req)
	if err != nil {
		p.t.Fatal(err)
	}
	defer res.Body.Close()
	body, _ := io.ReadAll(res.Body)
	return res.StatusCode, string(body), res.Header
}

var offeredDay = regexp.MustCompile(`name="day" value="([0-9-]+)"`)

// A customer asks on the kitchen's page, and it stands among the requests; what is missing is said, and nothing that was
// typed is lost.
func TestACustomerAsks(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, visitor := h.maren(t), h.visitor(t)
	if status, _, _ := visitor.page("GET", "/ask/marens-kitchen", nil); status != 404 {
		t.Errorf("a closed page answers %d", status)
	}
	maren.problem(422, "body.slug", "does not do", maren.send("PUT", "/ask-page", with(maren.must(200, "GET", "/ask-page",
		nil), object{"slug": "Maren & co"}), "If-Match", maren.tag("/ask-page")))
	maren.openPage(object{"hello": "Hello & welcome", "delivers": true, "hidden": []string{maren.treat("Nougat cubes")}})
	status, page, header := visitor.page("GET", "/ask/marens-kitchen", nil)
	if status != 200 || !strings.Contains(page, "Hello &amp; welcome") || !strings.Contains(page, "Milk malt bombs") ||
		!strings.Contains(page, "Contains milk") || strings.Contains(page, "Nougat cubes") ||
		!strings.Contains(page, "12 for about $") {
		t.Fatalf("%d %s", status, page)
	}
	for _, secret := range []string{"Wren", "Lindqvist", "555 0138", "script", "15.20"} {
		if strings.Contains(page, secret) {
			t.Errorf("it tells of %s", secret)
		}
	}
	if strings.Contains(header.Get("Content-Security-Policy"), "unsafe") || len(page) > 60_000 {
		t.Errorf("%d bytes, %s", len(page), header.Get("Content-Security-Policy"))
	}
	if status, page, _ = visitor.page("GET", "/ask/marens-kitchen/days", nil); status != 422 ||
		!strings.Contains(page, "how many you would like") {
		t.Errorf("%d %s", status, page)
	}

	bombs := "n-" + maren.treat("Milk malt bombs")
	_, page, _ = visitor.page("GET", "/ask/marens-kitchen/days?"+bombs+"=24", nil)
	days := offeredDay.FindAllStringSubmatch(page, -1)
	if len(days) < 10 || days[0][1] < "2026-09-06" || !strings.Contains(page, "24 Milk malt bombs") {
		t.Fatalf("%v %s", days, page)
	}
	form := url.Values{bombs: {"24"}, "name": {"Zoe  Quill"}, "phone": {"555 0188"}, "day": {days[3][1]},
		"wishes": {"Blue ribbon,\r\nplease <b>"}, "way": {"delivery"}, "where": {"Quay 4"}, "free": {"milk", "lead"},
		"occasion": {"a party"}}
	status, page, _ = visitor.page("POST", "/ask/marens-kitchen/days", form)
	if status != 422 || !strings.Contains(page, "Tick that we may keep") || !strings.Contains(page, `value="Zoe Quill"`) ||
		!strings.Contains(page, "please &lt;b&gt;") {
		t.Errorf("%d %s", status, page)
	}
	form.Set("consent", "yes")
	status, page, _ = visitor.page("POST", "/ask/marens-kitchen/days", form)
	if status != 200 || !strings.Contains(page, "has reached Maren") { // the page that it was sent to
		t.Fatalf("%d %s", status, page)
	}
	asked := find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Zoe Quill")
	order := maren.must(200, "GET", "/orders/"+asked["id"].(string), nil)
	draft := order["draft"].(object)
	if asked["state"] != "enquiry" || draft["notes"] != "Asked on your page.\n"+
		"Should be without milk: check with them.\nBlue ribbon,\nplease <b>" ||
		draft["place"] != "Quay 4" || draft["occasion"] != "a party" || !strings.HasPrefix(draft["from"].(string),
		days[3][1]+"T20:00:00") {
		t.Errorf("%v", order)
	}
	// What fills in what nobody sees is thanked, and forgotten.
	form.Set("website", "https://spam.example")
	form.Set("name", "Spam Bot")
	if status, page, _ = visitor.page("POST", "/ask/marens-kitchen/days", form); status != 200 ||
		!strings.Contains(page, "has reached") {
		t.Errorf("%d %s", status, page)
	}
	if list := flat(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)); strings.Contains(list, "Spam Bot") {
		t.Error("the trap is open")
	}
	// From another site nothing can be sent.
	req, _ := http.NewRequest("POST", h.URL+"/ask/marens-kitchen/days", strings.NewReader(form.Encode()))
	req.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	req.Header.Set("Origin", "https://elsewhere.example")
	if res, err := http.DefaultClient.Do(req); err != nil || res.StatusCode != http.StatusForbidden {
		t.Errorf("%v, %v", res.StatusCode, err)
	}
}

// The days are asked of the planner: a day off disappears, and comes back; what was reckoned is kept while nothing
// changes.
func TestOfferedDaysCanBeKept(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, visitor := h.maren(t), h.visitor(t)
	maren.openPage(object{"notice": 0, "weekdays": []int{6}})
	bombs := maren.treat("Milk malt bombs")
	days := func(n string) string {
		_, page, _ := visitor.page("GET", "/ask/marens-kitchen/days?n-"+bombs+"="+n, nil)
		list := []string{}
		for _, d := range offeredDay.FindAllStringSubmatch(page, -1) {
			list = append(list, d[1])
		}
		if len(list) == 0 && !strings.Contains(page, "there is no day") {
			t.Errorf("%s", page)
		}
		return strings.Join(list, " ")
	}
	first := days("24")
	if first != days("24") || !strings.HasPrefix(first, "2026-09-05 2026-09-12") {
		t.Errorf("%s, then %s", first, days("24"))
	}
	if many := days("1000"); many != "" {
		t.Errorf("a thousand by %s", many)
	}
	// Nobody works before the fifth any more: it is too late for that day.
	for _, day := range []string{"2026-09-03", "2026-09-04", "2026-09-05"} {
		maren.must(200, "POST", "/plan/changes", object{"kind": "off", "day": day})
	}
	if got := days("24"); strings.Contains(got, "2026-09-05") || !strings.Contains(got, "2026-09-12") {
		t.Errorf("%s", got)
	}
	for _, nonsense := range []string{"99999999999999999999", "1e9", "many", "-3", "1001"} {
		if status, page, _ := visitor.page("GET", "/ask/marens-kitchen/days?n-"+bombs+"="+nonsense, nil); status != 422 ||
			!strings.Contains(page, `role="alert"`) {
			t.Errorf("%s: %d", nonsense, status)
		}
	}
}

// A flood of one caller is held back; the seller does not notice, and a second kitchen cannot take the address.
func TestTheAskPageIsFlooded(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, visitor, bo := h.maren(t), h.visitor(t), h.stranger(t)
	maren.openPage(object{})
	held := 0
	for range 200 {
		if status, _, _ := visitor.page("GET", "/ask/marens-kitchen/thanks", nil); status == 429 {
			held++
		}
	}
	if held < 60 {
		t.Errorf("%d of 200 were held back", held)
	}
	maren.must(200, "GET", "/orders", nil)
	bo.problem(422, "body.slug", "another kitchen's already", bo.send("PUT", "/ask-page", with(bo.must(200, "GET",
		"/ask-page", nil), object{"slug": "marens-kitchen", "open": true}), "If-Match", bo.tag("/ask-page")))
}

// One price and one day, followed by hand: what the page says of two dozen is what their request is reckoned at, and the
// day is one on which the planner confirms it.
func TestWhatThePageSaysIsWhatTheOrderSays(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, visitor := h.maren(t), h.visitor(t)
	maren.openPage(object{})
	bombs := "n-" + maren.treat("Milk malt bombs")
	_, page, _ := visitor.page("GET", "/ask/marens-kitchen/days?"+bombs+"=24", nil)
	total := regexp.MustCompile(`class="total">\$([0-9.,]+) in all`).FindStringSubmatch(page)
	days := offeredDay.FindAllStringSubmatch(page, -1)
	if total == nil || len(days) == 0 {
		t.Fatal(page)
	}
	// The first of them comes in a hurry, and costs more: that stands beside it.
	hurried := regexp.MustCompile(`value="` + days[0][1] + `" required> [^<]*, \$([0-9.,]+)<`).FindStringSubmatch(page)
	if hurried == nil {
		t.Fatal(page)
	}
	for day, price := range map[string]string{days[0][1]: hurried[1], days[len(days)-1][1]: total[1]} {
		form := url.Values{bombs: {"24"}, "name": {"Ida " + day}, "mail": {"ida@lake.example"}, "day": {day},
			"consent": {"yes"}}
		if status, answer, _ := visitor.page("POST", "/ask/marens-kitchen/days", form); status != 200 {
			t.Fatalf("%d %s", status, answer)
		}
		row := find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Ida "+day)
		draft := maren.must(200, "GET", "/orders/"+row["id"].(string), nil)["draft"]
		r := maren.must(200, "POST", "/estimates", object{"draft": draft, "order": row["id"]})
		if when := r["when"].(object); when["fits"] != true {
			t.Errorf("%s was offered, and does not fit: %v", day, when["text"])
		}
		if got := r["money"].(object)["gross"].(object)["amount"]; got != price {
			t.Errorf("%s: the page says %s, the order %v", day, price, got)
		}
	}
	// What is promised for the first of them is not another customer's matter: the page is as before, but for the days.
	row := find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Ida "+days[0][1])
	maren.must(200, "POST", "/orders/"+row["id"].(string)+"/moves", object{"to": "promised"})
	_, after, _ := visitor.page("GET", "/ask/marens-kitchen/days?"+bombs+"=24", nil)
	if strings.Contains(after, "Ida") || offeredDay.ReplaceAllString(after, "") == "" {
		t.Errorf("%s", after)
	}
}

// A form that nobody has made on the page: treats that are hidden or another kitchen's, days that were not offered,
// fields without end, two of everything.
func TestAFormOfSomebodysOwn(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, visitor, bo := h.maren(t), h.visitor(t), h.stranger(t)
	nougat, bombs := maren.treat("Nougat cubes"), maren.treat("Milk malt bombs")
	maren.openPage(object{"hidden": []string{nougat}})
	bo.must(201, "POST", "/starter", bo.answers(object{}))
	theirs := bo.treat("Strawberries in dark chocolate")
	good := func() url.Values {
		return url.Values{"n-" + bombs: {"12"}, "name": {"Ivo"}, "phone": {"555 0101"}, "day": {"2026-09-12"},
			"consent": {"yes"}}
	}
	for name, of := range map[string]struct {
		change func(url.Values)
		says   string
	}{
		"a hidden treat": {func(f url.Values) { f.Del("n-" + bombs); f.Set("n-"+nougat, "12") }, "how many you would like"},
		"another kitchen's": {func(f url.Values) { f.Del("n-" + bombs); f.Set("n-"+theirs, "12") },
			"how many you would like"},
		"no such treat":   {func(f url.Values) { f.Del("n-" + bombs); f.Set("n-x", "12") }, "how many you would like"},
		"yesterday":       {func(f url.Values) { f.Set("day", "2026-09-02") }, "Choose one of the days"},
		"no day":          {func(f url.Values) { f.Set("day", "soon") }, "Choose one of the days"},
		"too soon":        {func(f url.Values) { f.Set("day", "2026-09-03") }, "Choose one of the days"},
		"no name":         {func(f url.Values) { f.Set("name", "  ") }, "Write your name"},
		"no way to reach": {func(f url.Values) { f.Del("phone") }, "phone number or your email"},
		"no email":        {func(f url.Values) { f.Set("mail", "nowhere") }, "is not an email address"},
		"a long name":     {func(f url.Values) { f.Set("name", strings.Repeat("x", 101)) }, "Shorten it to 100"},
		"long wishes":     {func(f url.Values) { f.Set("wishes", strings.Repeat("x", 1001)) }, "Shorten it to 1,000"},
	} {
		form := good()
		of.change(form)
		status, page, _ := visitor.page("POST", "/ask/marens-kitchen/days", form)
		if status != 422 || !strings.Contains(page, of.says) {
			t.Errorf("%s: %d, it does not say %q: %.300s", name, status, of.says, page[max(strings.Index(page, "alert"), 0):])
		}
	}
	// Delivery where none is offered is a pickup; a second value of a field is nobody's.
	form := good()
	form["name"] = []string{"Ivo", "Eve"}
	form.Set("way", "delivery")
	form.Set("where", "Quay 4")
	if status, page, _ := visitor.page("POST", "/ask/marens-kitchen/days", form); status != 200 {
		t.Fatalf("%d %s", status, page)
	}
	row := find(t, maren.must(200, "GET", "/orders?which=all&limit=100", nil)["orders"], "customer", "Ivo")
	if row["way"] != "pickup" || row["place"] == "Quay 4" {
		t.Errorf("%v", row)
	}
	// More than a form can hold, and what is none.
	if status, _, _ := visitor.page("POST", "/ask/marens-kitchen/days", url.Values{"wishes": {strings.Repeat("x",
		80_000)}}); status != 400 {
		t.Errorf("%d", status)
	}
	for path, want := range map[string]int{"/ask/nobody": 404, "/ask/marens-kitchen'--": 404, "/ask/%00": 400,
		"/ask/marens-kitchen/else": 200} { // the last is the application's own page
		if status, _, _ := visitor.page("GET", path, nil); status != want {
			t.Errorf("%s: %d", path, status)
		}
	}
}
