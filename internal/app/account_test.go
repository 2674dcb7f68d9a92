package app_test

import (
	"context"
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/demo"
	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/pglocal/pgtest"
)

func TestOpeningAKitchen(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.visitor(t)
	if s := p.must(200, "GET", "/session", nil); s["signedIn"] != false || s["demo"] == nil {
		t.Errorf("a visitor is %v", s)
	}
	fine := object{"kitchen": "Harbour sweets", "name": "Ada", "mail": "Ada@harbour.example",
		"password": "twelve little tins", "timeZone": "America/Chicago", "currency": "USD"}
	for field, harm := range map[string]any{"kitchen": " ", "name": "", "mail": "ada", "password": "short",
		"timeZone": "Mars/Olympus", "currency": "dollars"} {
		p.problem(422, "body."+field, "", p.send("POST", "/kitchens", with(fine, object{field: harm})))
	}
	p.problem(422, "body.mail", "Sign in", p.send("POST", "/kitchens",
		with(fine, object{"mail": demo.SignIn.Mail})))
	if s := p.must(201, "POST", "/kitchens", fine); s["kitchen"] != "Harbour sweets" || s["signedIn"] != true ||
		s["demo"] != nil {
		t.Errorf("the new kitchen is %v", s)
	}
	if got := p.must(200, "GET", "/orders", nil)["orders"].([]any); len(got) != 0 {
		t.Errorf("a new kitchen has %d orders", len(got))
	}
	p.must(204, "DELETE", "/session", nil)
	p.problem(401, "", "sign in", p.send("GET", "/orders", nil))
	p.must(200, "POST", "/session", object{"mail": " ADA@harbour.example", "password": "twelve little tins"})
}

// The sign-in is offered in demo mode only.
func TestNoDemoOutsideOfTheDemo(t *testing.T) {
	t.Parallel()
	pool, _ := pgtest.New(t)
	server := httptest.NewServer(app.New(app.Options{Pool: pool, Clock: clock.Pinned(now), Files: fstest.MapFS{}}))
	t.Cleanup(server.Close)
	p := (&house{Server: server}).visitor(t)
	if s := p.must(200, "GET", "/session", nil); s["demo"] != nil || s["signedIn"] != false {
		t.Errorf("outside of the demo a visitor is told %v", s)
	}
}

func TestChangedPasswordEndsOtherSessions(t *testing.T) {
	t.Parallel()
	h := open(t)
	here, there := h.maren(t), h.maren(t)
	here.problem(422, "body.present", "not your present password",
		here.send("PUT", "/password", object{"present": "wrong", "new": "four warm tins"}))
	here.problem(422, "body.new", "at least 12", here.send("PUT", "/password",
		object{"present": demo.SignIn.Password, "new": "x"}))
	there.must(200, "GET", "/orders", nil)
	here.must(204, "PUT", "/password", object{"present": demo.SignIn.Password, "new": "four warm tins"})
	here.must(200, "GET", "/orders", nil)
	there.problem(401, "", "sign in", there.send("GET", "/orders", nil))
	there.problem(401, "", "Wrong email or password", there.send("POST", "/session", demo.SignIn))
	there.must(200, "POST", "/session", object{"mail": demo.SignIn.Mail, "password": "four warm tins"})
}

// An account is tried ten times a minute and no more, whoever tries; another account is not held up by that.
func TestSignInIsLimited(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.visitor(t)
	counts := map[int]int{}
	for range 14 {
		counts[p.send("POST", "/session", object{"mail": demo.SignIn.Mail, "password": "guess"}).status]++
	}
	// The window is counted in whole minutes, so one that ends on the way lets a few more through.
	if counts[401] < 10 || counts[429] < 1 && counts[401] < 14 || counts[401]+counts[429] != 14 {
		t.Errorf("of 14 guesses: %v", counts)
	}
	p.must(201, "POST", "/kitchens", object{"kitchen": "K", "name": "N", "mail": "other@x.example",
		"password": "long enough it is", "timeZone": "UTC", "currency": "EUR"})
	p.must(200, "POST", "/session", object{"mail": "other@x.example", "password": "long enough it is"})
	// From one address forty in a minute, over all accounts.
	limited := false
	for i := range 60 {
		a := p.send("POST", "/session", object{"mail": string(rune('a'+i%26)) + strings.Repeat("x", i) + "@x.example",
			"password": "guess"})
		limited = limited || a.status == 429
	}
	if !limited {
		t.Error("sixty guesses from one address are let through")
	}
}

func TestCookieAndHeaders(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.visitor(t)
	a := p.send("POST", "/session", demo.SignIn)
	cookie := a.header.Get("Set-Cookie")
	if !strings.Contains(cookie, "HttpOnly") || !strings.Contains(cookie, "SameSite=Lax") {
		t.Errorf("cookie %q", cookie)
	}
	a = p.send("GET", "/orders", nil)
	if csp := a.header.Get("Content-Security-Policy"); !strings.Contains(csp, "script-src 'self';") ||
		strings.Contains(csp, "unsafe") {
		t.Errorf("policy %q", csp)
	}
	// Another site's page cannot act in the name of who is signed in.
	if a := p.send("POST", "/orders", object{}, "Sec-Fetch-Site", "cross-site"); a.status != http.StatusForbidden {
		t.Errorf("a request from another site: %d", a.status)
	}
	if a := p.send("POST", "/orders", object{}, "Origin",
		"https://elsewhere.example"); a.status != http.StatusForbidden {
		t.Errorf("a request from another origin: %d", a.status)
	}
}

func TestKitchensNumbers(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	k, tag := p.must(200, "GET", "/kitchen", nil), p.tag("/kitchen")
	question := object{"draft": p.draft("Milk malt bombs", 12)}
	before := p.must(200, "POST", "/estimates", question)["money"].(object)["hands"].(object)["amount"]
	p.problem(422, "body.margin", "between 0 and 90%", p.send("PUT", "/kitchen", with(k, object{"margin": 1}),
		"If-Match", tag))
	p.problem(422, "body.hourly", "money", p.send("PUT", "/kitchen", with(k, object{"hourly": "much"}), "If-Match",
		tag))
	p.problem(428, "", "If-Match", p.send("PUT", "/kitchen", k))
	p.must(200, "PUT", "/kitchen", with(k, object{"hourly": "36"}), "If-Match", tag)
	p.problem(412, "", "Someone else saved changes", p.send("PUT", "/kitchen", k, "If-Match", tag))
	if after := p.must(200, "POST", "/estimates", question)["money"].(object)["hands"].(object)["amount"]; after == before {
		t.Errorf("hands cost %v at twice the rate", after)
	}
}

func TestPages(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.visitor(t)
	get := func(path string) answer {
		res, err := p.Get(h.URL + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		b := make([]byte, 1000)
		n, _ := res.Body.Read(b)
		return answer{res.StatusCode, res.Header, string(b[:n])}
	}
	page := get("/orders/anything")
	nonce := strings.TrimSuffix(strings.TrimPrefix(page.body, `<meta content="`), `">`)
	if page.status != 200 || len(nonce) < 20 || !strings.Contains(page.header.Get("Content-Security-Policy"), "'nonce-"+nonce+"'") {
		t.Errorf("%d %q with policy %q", page.status, page.body, page.header.Get("Content-Security-Policy"))
	}
	if a := get("/assets/a.js"); a.status != 200 || !strings.Contains(a.header.Get("Cache-Control"), "immutable") {
		t.Errorf("script: %d %v", a.status, a.header)
	}
	for path, want := range map[string]int{"/assets/none.js": 404, "/api/v1/nothing": 404, "/api/docs": 200, "/api/openapi.json": 200, "/healthz": 200, "/readyz": 200} {
		if a := get(path); a.status != want {
			t.Errorf("%s: %d, want %d", path, a.status, want)
		}
	}
}

// New passwords are long, counted in characters, and none of those that are tried first.
func TestPasswordsThatAreGuessed(t *testing.T) {
	t.Parallel()
	h := open(t)
	for password, says := range map[string]string{"short": "at least 12", "äöüäöüäöüäö": "at least 12", "passwordpassword": "easily guessed", "123456789012": "easily guessed", "qwertyuiop12": "easily guessed", "marenhalloway": "easily guessed",
		strings.Repeat("x", 201): "at most 200"} {
		h.visitor(t).problem(422, "body.password", says, h.visitor(t).send("POST", "/kitchens", object{"kitchen": "K", "name": "N", "mail": "marenhalloway@x.example", "password": password, "timeZone": "UTC", "currency": "EUR"}))
	}
	h.visitor(t).must(201, "POST", "/kitchens", object{"kitchen": "K", "name": "N", "mail": "a@x.example", "password": "kettle orbit plum", "timeZone": "UTC", "currency": "EUR"})
}

// What stands in the table of sessions signs nobody in, is written by signing in and at most once an hour after that,
// and ends when it has not been used for a fortnight.
func TestSessionsAtRest(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	p.must(200, "GET", "/orders", nil)
	ctx := context.Background()
	var token, before, after string
	if err := h.owned(t).QueryRow(ctx, `select token, xmin::text from sessions`).Scan(&token, &before); err != nil {
		t.Fatal(err)
	}
	at, err := url.Parse(p.base)
	if err != nil {
		t.Fatal(err)
	}
	cookies := p.Jar.Cookies(at)
	cookie := cookies[slices.IndexFunc(cookies, func(c *http.Cookie) bool { return c.Name == "session" })]
	if cookie.Value == token {
		t.Errorf("the table has the cookie itself: %v", cookie)
	}
	thief := h.visitor(t)
	thief.Jar.SetCookies(at, []*http.Cookie{{Name: cookie.Name, Value: token}})
	thief.problem(401, "", "signed out", thief.send("GET", "/orders", nil))
	for range 3 {
		p.must(200, "GET", "/orders", nil)
	}
	if err := h.owned(t).QueryRow(ctx, `select xmin::text from sessions where token = $1`, token).Scan(&after); err != nil || after != before {
		t.Errorf("reading writes the session: %s, %s (%v)", before, after, err)
	}
	if _, err := h.owned(t).Exec(ctx, `update sessions set seen = $1`, now.Add(-15*24*time.Hour)); err != nil {
		t.Fatal(err)
	}
	p.problem(401, "", "signed out", p.send("GET", "/orders", nil))
}

// Behind a proxy that is trusted each client is counted by its own address; what anybody else says of addresses is not
// believed. A stranger who guesses locks nobody else out, and spaces before the JSON do not begin a new count.
func TestLimitsBehindAProxy(t *testing.T) {
	t.Parallel()
	h := open(t)
	behind := httptest.NewServer(app.New(app.Options{Pool: h.pool, Clock: clock.Pinned(now), Files: fstest.MapFS{}, Proxies: []string{"127.0.0.1/32", "::1/128"}}))
	t.Cleanup(behind.Close)
	try := func(base, client, body string) int {
		r, err := http.NewRequest("POST", base+"/api/v1/session", strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("X-Forwarded-For", client)
		answer, err := http.DefaultClient.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		answer.Body.Close()
		return answer.StatusCode
	}
	guess := `{"mail":"` + demo.SignIn.Mail + `","password":"guess"}`
	right := `{"mail":"` + demo.SignIn.Mail + `","password":"` + demo.SignIn.Password + `"}`
	last := 0
	for i := range 22 { // the count is by the minute: one that ends meanwhile lets ten more through
		last = try(behind.URL, "198.51.100.7", strings.Repeat(" ", 300*i)+guess)
	}
	if last != 429 {
		t.Errorf("after 22 guesses from one address: %d", last)
	}
	if got := try(behind.URL, "203.0.113.9", right); got != 200 {
		t.Errorf("the seller, from another address, is answered %d", got)
	}
	refused := 0
	for i := range 22 { // nobody is trusted here: invented addresses are one
		if try(h.URL, fmt.Sprintf("192.0.2.%d", i), guess) == 429 {
			refused++
		}
	}
	if refused == 0 {
		t.Error("addresses that clients invent are believed")
	}
}
