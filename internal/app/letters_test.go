package app_test

import (
	"context"
	"fmt"
	"io"
	"mime/quotedprintable"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/pquerna/otp/totp"

	"zestytin/internal/account"
	"zestytin/internal/app"
	"zestytin/internal/demo"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/post/posttest"
)

// postOffice is a house that sends letters of accounts, to a catcher.
func postOffice(t *testing.T) (*house, *posttest.Catcher) {
	t.Helper()
	c := posttest.New(t)
	server, err := post.NewServer(c.URL, "post@sweets.example", 2*time.Second)
	if err != nil {
		t.Fatal(err)
	}
	h := openWith(t, func(o *app.Options) { o.Mailer, o.Public = server, "https://sweets.example" })
	h.work(t)
	return h, c
}

var inLetter = regexp.MustCompile(`https://sweets\.example/link/(\S{26})`)

// letter about a subject that came last to an address, and the path of its link.
func letterTo(t *testing.T, c *posttest.Catcher, mail, subject string) (text, link string) {
	t.Helper()
	for deadline := time.Now().Add(20 * time.Second); time.Now().Before(deadline); time.Sleep(50 * time.Millisecond) {
		list := c.Letters()
		for i := len(list) - 1; i >= 0; i-- {
			if l := list[i]; l.To[0] == mail && l.Header.Get("Subject") == subject {
				plain, err := io.ReadAll(quotedprintable.NewReader(strings.NewReader(l.Text)))
				if err != nil {
					t.Fatal(err)
				}
				if found := inLetter.FindSubmatch(plain); found != nil {
					link = "/account-links/" + string(found[1])
				}
				return string(plain), link
			}
		}
	}
	t.Fatalf("no letter %q to %s", subject, mail)
	return "", ""
}

// none of a subject came to an address, once others have.
func noLetter(t *testing.T, c *posttest.Catcher, mail, subject string) {
	t.Helper()
	for _, l := range c.Letters() {
		if l.To[0] == mail && l.Header.Get("Subject") == subject {
			t.Errorf("%s got: %s", mail, l.Text)
		}
	}
}

// log of what concerns the safety of the kitchen, the last first.
func (p *person) safety() (list []string) {
	p.t.Helper()
	for _, e := range p.must(200, "GET", "/security-log", nil)["events"].([]any) {
		list = append(list, strings.TrimSpace(fmt.Sprint(e.(object)["what"])))
	}
	return list
}

// A kitchen is opened by a link where letters are sent. To a stranger an address with an account looks like any other:
// same status, same answer; whose address it is is told so.
func TestOpeningByALetter(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	p := h.visitor(t)
	opening := object{"kitchen": "Harbour sweets", "name": "Ada", "mail": "Ada@harbour.example",
		"password": "twelve little tins", "timeZone": "America/Chicago", "country": "US"}
	fresh := p.send("POST", "/kitchens", opening)
	known := p.send("POST", "/kitchens", with(opening, object{"mail": demo.SignIn.Mail}))
	if fresh.status != 201 || known.status != 201 || fresh.body != known.body ||
		!strings.Contains(fresh.body, `"mailed":true`) {
		t.Errorf("%d %s\n%d %s", fresh.status, fresh.body, known.status, known.body)
	}
	if s := p.must(200, "GET", "/session", nil); s["signedIn"] != false || s["mails"] != true {
		t.Errorf("nobody is signed in yet: %v", s)
	}
	text, link := letterTo(t, c, "ada@harbour.example", "Open your kitchen")
	if !strings.Contains(text, "Harbour sweets") || strings.Contains(text, "twelve little tins") {
		t.Error(text)
	}
	if text, link := letterTo(t, c, demo.SignIn.Mail, "You have an account already"); link != "" ||
		!strings.Contains(text, "https://sweets.example") {
		t.Error(text)
	}
	p.problem(401, "", "Wrong email", p.send("POST", "/session",
		object{"mail": "ada@harbour.example", "password": "twelve little tins"}))
	if l := p.must(200, "GET", link, nil); l["kind"] != "open" || l["kitchen"] != "Harbour sweets" ||
		l["mail"] != "ada@harbour.example" {
		t.Errorf("the link: %v", l)
	}
	if s := p.must(200, "POST", link, object{}); s["signedIn"] != true || s["kitchen"] != "Harbour sweets" ||
		s["unproven"] == true {
		t.Errorf("opened: %v", s)
	}
	p.problem(410, "", "used already", p.send("POST", link, object{}))
	p.problem(404, "", "not one of ours", p.send("GET", "/account-links/"+strings.Repeat("A", 26), nil))
	// The password stands nowhere.
	owner := h.owned(t)
	var stands int
	if err := owner.QueryRow(context.Background(), `select count(*) from account_letters
		where facts::text like '%twelve little%' or used_at is not null and facts ? 'hash'`).Scan(&stands); err != nil ||
		stands > 0 {
		t.Errorf("%d letters hold a password, or its hash after it was used: %v", stands, err)
	}
}

// A password that is forgotten: the link works once and for half an hour, ends all sessions, and nobody learns which
// addresses have an account. A second letter ends the first once it is used.
func TestAPasswordIsReset(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	maren, p := h.maren(t), h.visitor(t)
	events := maren.stream()
	yes := p.send("POST", "/password-resets", object{"mail": " " + strings.ToUpper(demo.SignIn.Mail)})
	no := p.send("POST", "/password-resets", object{"mail": "nobody@lakeside.example"})
	if yes.status != 204 || no.status != 204 || yes.body != no.body {
		t.Errorf("%d %s, %d %s", yes.status, yes.body, no.status, no.body)
	}
	_, first := letterTo(t, c, demo.SignIn.Mail, "A new password")
	h.pass(31 * time.Minute)
	p.problem(410, "", "run out", p.send("POST", first, object{"password": "five cold little tins"}))
	p.must(204, "POST", "/password-resets", object{"mail": demo.SignIn.Mail})
	link := first
	for deadline := time.Now().Add(20 * time.Second); link == first && time.Now().Before(deadline); {
		_, link = letterTo(t, c, demo.SignIn.Mail, "A new password")
	}
	p.problem(422, "body.password", "at least 12", p.send("POST", link, object{"password": "short"}))
	if s := p.must(200, "POST", link, object{"password": "five cold little tins"}); s["signedIn"] != false {
		t.Errorf("who resets signs in anew: %v", s)
	}
	p.problem(410, "", "used already", p.send("POST", link, object{"password": "five cold little tins"}))
	maren.problem(401, "", "sign in", maren.send("GET", "/orders", nil))
	select {
	case <-events: // the stream of the session that has ended is over
	case <-time.After(10 * time.Second):
		t.Error("the stream of a session that has ended goes on")
	}
	p.problem(401, "", "Wrong email", p.send("POST", "/session", demo.SignIn))
	p.must(200, "POST", "/session", object{"mail": demo.SignIn.Mail, "password": "five cold little tins"})
	if log := p.safety(); log[0] != "signed in" && log[0] != "new browser" || log[1] != "failed" ||
		log[2] != "password reset" {
		t.Errorf("the log: %v", log)
	}
	letterTo(t, c, demo.SignIn.Mail, "Your password was changed")
	noLetter(t, c, "nobody@lakeside.example", "A new password")
}

// stream of events, until it ends.
func (p *person) stream() <-chan bool {
	p.t.Helper()
	res, err := p.Get(p.base + "/api/v1/events")
	if err != nil || res.StatusCode != 200 {
		p.t.Fatal(res, err)
	}
	p.t.Cleanup(func() { res.Body.Close() })
	over := make(chan bool)
	go func() {
		defer close(over)
		for b := make([]byte, 4096); err == nil; {
			_, err = res.Body.Read(b)
		}
	}()
	return over
}

// Another address counts when its link is followed; the old one is told, and can take it back with a new password,
// which signs out whoever changed it. An address that another has is told so, and nobody else.
func TestAnAddressMoves(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	maren, visitor := h.maren(t), h.visitor(t)
	other := object{"kitchen": "K", "name": "N", "mail": "n@x.example", "password": "kettle orbit plum",
		"timeZone": "UTC", "currency": "EUR"}
	visitor.must(201, "POST", "/kitchens", other)
	_, link := letterTo(t, c, "n@x.example", "Open your kitchen")
	visitor.must(200, "POST", link, object{})
	h.pass(11 * time.Minute)
	maren.problem(403, "", "once more", maren.send("PUT", "/account/mail", object{"mail": "new@lakeside.example"}))
	maren.problem(422, "body.password", "not your present", maren.send("POST", "/session/confirm",
		object{"password": "wrong"}))
	maren.must(204, "POST", "/session/confirm", object{"password": demo.SignIn.Password})
	maren.problem(422, "body.mail", "not an email", maren.send("PUT", "/account/mail", object{"mail": "x"}))
	taken := maren.must(200, "PUT", "/account/mail", object{"mail": "n@x.example"})
	fresh := maren.must(200, "PUT", "/account/mail", object{"mail": "New@lakeside.example"})
	if taken["sent"] != true || fresh["sent"] != true {
		t.Errorf("%v, %v", taken, fresh)
	}
	letterTo(t, c, "n@x.example", "You have an account already")
	_, link = letterTo(t, c, "new@lakeside.example", "Is this your new address?")
	if a := maren.must(200, "GET", "/account", nil); a["mail"] != demo.SignIn.Mail {
		t.Errorf("it is not moved yet: %v", a)
	}
	h.visitor(t).must(200, "POST", link, object{})
	if a := maren.must(200, "GET", "/account", nil); a["mail"] != "new@lakeside.example" || a["proven"] == nil {
		t.Errorf("moved: %v", a)
	}
	text, back := letterTo(t, c, demo.SignIn.Mail, "Your address was changed")
	if !strings.Contains(text, "new@lakeside.example") {
		t.Error(text)
	}
	visitor.problem(422, "body.password", "at least 12", visitor.send("POST", back, object{}))
	visitor.must(200, "POST", back, object{"password": "back in my own tins"})
	maren.problem(401, "", "sign in", maren.send("GET", "/orders", nil))
	again := h.visitor(t)
	again.must(200, "POST", "/session", object{"mail": demo.SignIn.Mail, "password": "back in my own tins"})
	if log := strings.Join(again.safety(), ","); !strings.Contains(log, "address kept,address changed") {
		t.Error(log)
	}
}

// Where one is signed in can be seen and ended, one by one and all; nobody sees or ends another's. A browser that is
// new is told by letter, one that is known is not.
func TestSessionsAreSeenAndEnded(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	const fox = "Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0"
	one, two, three := h.maren(t), h.visitor(t), h.maren(t)
	two.must(200, "POST", "/session", demo.SignIn, "User-Agent", fox)
	text, _ := letterTo(t, c, demo.SignIn.Mail, "Somebody signed in from a new browser")
	if !strings.Contains(text, "10:20") || !strings.Contains(text, "127.0.0.1") {
		t.Error(text)
	}
	sessions := func() []any { return one.must(200, "GET", "/account", nil)["sessions"].([]any) }
	list := sessions()
	if len(list) != 3 || list[0].(object)["this"] != true || list[1].(object)["this"] != false {
		t.Fatalf("%v", list)
	}
	firefox := find(t, list, "browser", "Firefox")
	if firefox["system"] != "Linux" || firefox["address"] != "127.0.0.1" || firefox["began"] == nil {
		t.Errorf("%v", firefox)
	}
	bo := h.visitor(t)
	bo.must(201, "POST", "/kitchens", object{"kitchen": "Elsewhere", "name": "Bo", "mail": "bo@elsewhere.example",
		"password": "quite another one", "timeZone": "Europe/Vienna", "currency": "EUR"})
	_, link := letterTo(t, c, "bo@elsewhere.example", "Open your kitchen")
	bo.must(200, "POST", link, object{})
	at := "/sessions/" + firefox["id"].(string)
	bo.problem(404, "", "session", bo.send("DELETE", at, nil))
	if len(bo.must(200, "GET", "/account", nil)["sessions"].([]any)) != 1 {
		t.Error("another sees sessions that are not theirs")
	}
	two.must(200, "GET", "/orders", nil)
	one.must(204, "DELETE", at, nil)
	two.problem(401, "", "sign in", two.send("GET", "/orders", nil))
	one.problem(404, "", "session", one.send("DELETE", at, nil))
	three.must(200, "GET", "/orders", nil)
	one.must(204, "DELETE", "/sessions", nil)
	three.problem(401, "", "sign in", three.send("GET", "/orders", nil))
	if len(sessions()) != 1 {
		t.Error("only this one is left")
	}
	// It knows the browser by now: no event of a new one.
	two.must(200, "POST", "/session", demo.SignIn)
	if log := one.safety(); log[0] != "signed in" || log[1] != "session ended" || log[2] != "session ended" {
		t.Errorf("%v", log)
	}
	for range 3 {
		h.visitor(t).send("POST", "/session", object{"mail": demo.SignIn.Mail, "password": "guess"})
	}
	if log := one.safety(); log[0] != "failed" || log[1] == "failed" {
		t.Errorf("failures of a minute are one: %v", log)
	}
}

// Without a mail server nothing is proven and nobody is asked to; who runs the server makes a link.
func TestAResetWithoutLetters(t *testing.T) {
	t.Parallel()
	h := open(t)
	p, maren := h.visitor(t), h.maren(t)
	if s := maren.must(200, "GET", "/session", nil); s["mails"] == true || s["unproven"] == true {
		t.Errorf("%v", s)
	}
	p.problem(409, "", "sends no letters", p.send("POST", "/password-resets", object{"mail": demo.SignIn.Mail}))
	maren.problem(409, "", "sends no letters", maren.send("POST", "/account/verification", object{}))
	if m := maren.must(200, "PUT", "/account/mail", object{"mail": "two@lakeside.example"}); m["sent"] != false {
		t.Errorf("it counts at once: %v", m)
	}
	outline := maren.must(200, "POST", "/account/second-step", nil)
	code, err := totp.GenerateCode(outline["secret"].(string), h.clock())
	if err != nil {
		t.Fatal(err)
	}
	maren.must(200, "PUT", "/account/second-step", object{"code": code}) // and the telephone is lost
	var path string
	err = db.Begin(context.Background(), h.pool, func(tx pgx.Tx) (err error) {
		if _, err := account.ResetLink(context.Background(), tx, h.clock(), "nobody@lakeside.example", false); err == nil {
			t.Error("nobody has this address")
		}
		path, err = account.ResetLink(context.Background(), tx, h.clock(), "Two@lakeside.example", true)
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	p.must(200, "POST", "/account-links/"+strings.TrimPrefix(path, "/link/"), object{"password": "five cold little tins"})
	p.must(200, "POST", "/session", object{"mail": "two@lakeside.example", "password": "five cold little tins"})
	maren.problem(401, "", "sign in", maren.send("GET", "/orders", nil))
}

// Letters to one address are few: whoever asks again and again sends no flood.
func TestLettersAreFew(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	p := h.visitor(t)
	for range 9 {
		p.must(204, "POST", "/password-resets", object{"mail": demo.SignIn.Mail})
	}
	letterTo(t, c, demo.SignIn.Mail, "A new password")
	time.Sleep(2 * time.Second) // the last of them have been sent by then
	if n := len(c.Letters()); n != 5 {
		t.Errorf("%d letters", n)
	}
	// Whoever has used them up cannot keep the old address from hearing that it was changed.
	maren := h.maren(t)
	maren.must(200, "PUT", "/account/mail", object{"mail": "thief@x.example"})
	_, link := letterTo(t, c, "thief@x.example", "Is this your new address?")
	p.must(200, "POST", link, object{})
	letterTo(t, c, demo.SignIn.Mail, "Your address was changed")
}

// What somebody typed to open a kitchen, and never came back for, goes a day after its link has run out, by the clock of
// the database.
func TestOpeningsAreForgotten(t *testing.T) {
	t.Parallel()
	h := open(t)
	h.own(t, `insert into account_letters (id, kind, mail, facts, at, made_at) select gen_random_uuid(), kind,
			'x@y.example', '{"hash": "x"}', now() - age, now() - age
		from unnest(array['open', 'join', 'verify']) kind, unnest(array[interval '1 hour', interval '3 days']) age`)
	h.round(t)
	rows, err := h.owned(t).Query(context.Background(), `select kind from account_letters order by kind, at`)
	if err != nil {
		t.Fatal(err)
	}
	left, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if want := []string{"join", "open", "verify", "verify"}; err != nil || !slices.Equal(left, want) {
		t.Errorf("%v %v", left, err)
	}
}
