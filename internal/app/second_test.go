package app_test

import (
	"context"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"zestytin/internal/demo"
)

// The second step at the door: it counts once a code of it was told, is asked for after the password and not before,
// takes a code once, or one on paper once; a wrong one is noted. Whoever switches it off says who they are.
func TestTheSecondStep(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	code := func(secret any) string {
		c, err := totp.GenerateCode(secret.(string), h.clock())
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	maren.problem(409, "", "no second step", maren.send("PUT", "/account/second-step", object{"code": "123456"}))
	outline := maren.must(200, "POST", "/account/second-step", nil)
	uri, err := url.Parse(outline["uri"].(string))
	if err != nil || uri.Scheme != "otpauth" || uri.Host != "totp" || uri.Query().Get("secret") != outline["secret"] ||
		uri.Query().Get("issuer") != "Zesty Tin" || outline["size"].(float64) < 21 ||
		!strings.HasPrefix(outline["path"].(string), "M0 0h1v1h-1z") { // a finder stands in the corner
		t.Errorf("%v", outline)
	}
	h.visitor(t).must(200, "POST", "/session", demo.SignIn) // it does not count yet
	maren.problem(422, "body.code", "not right", maren.send("PUT", "/account/second-step", object{"code": "000000"}))
	paper := maren.must(200, "PUT", "/account/second-step", object{"code": code(outline["secret"])})["codes"].([]any)
	if len(paper) != 10 || len(paper[0].(string)) != 14 {
		t.Fatal(paper)
	}
	maren.problem(409, "", "already", maren.send("POST", "/account/second-step", nil))

	p := h.visitor(t)
	with2 := func(code string) object {
		return object{"mail": demo.SignIn.Mail, "password": demo.SignIn.Password, "code": code}
	}
	p.problem(401, "", "six figures", p.send("POST", "/session", demo.SignIn))
	p.problem(401, "", "Wrong email or password", p.send("POST", "/session",
		object{"mail": demo.SignIn.Mail, "password": "guess", "code": code(outline["secret"])}))
	p.problem(401, "", "used already", p.send("POST", "/session", with2(code(outline["secret"])))) // when it was begun
	h.pass(30 * time.Second)
	now := code(outline["secret"])
	p.must(200, "POST", "/session", with2(now[:3]+" "+now[3:]))
	q := h.visitor(t)
	q.problem(401, "", "used already", q.send("POST", "/session", with2(now)))
	first := strings.ToLower(paper[0].(string))
	q.must(200, "POST", "/session", with2(first))
	q.problem(401, "", "used already", p.send("POST", "/session", with2(first)))
	if s := q.must(200, "GET", "/account", nil)["second"].(object); s["left"] != 9.0 || s["since"] == nil {
		t.Errorf("%v", s)
	}
	// New ones end those before.
	h.pass(11 * time.Minute)
	maren.problem(403, "", "once more", maren.send("POST", "/account/recovery-codes", nil))
	maren.must(204, "POST", "/session/confirm", object{"password": demo.SignIn.Password})
	fresh := maren.must(200, "POST", "/account/recovery-codes", nil)["codes"].([]any)
	q.problem(401, "", "used already", p.send("POST", "/session", with2(paper[1].(string))))
	p.must(200, "POST", "/session", with2(fresh[1].(string)))
	maren.must(204, "DELETE", "/account/second-step", nil)
	p.must(200, "POST", "/session", demo.SignIn)
	log := strings.Join(maren.safety(), ",")
	if !strings.Contains(log, "second step off") || !strings.Contains(log, "second step on") ||
		!strings.Contains(log, "failed") {
		t.Error(log)
	}
}

// Codes are guessed by nobody, from however many places: after ten that were wrong the step waits, also for the right
// one, and one that was right lets it begin anew.
func TestCodesAreNotGuessed(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren := h.maren(t)
	secret := maren.must(200, "POST", "/account/second-step", nil)["secret"].(string)
	code := func() object {
		h.pass(30 * time.Second)
		c, err := totp.GenerateCode(secret, h.clock())
		if err != nil {
			t.Fatal(err)
		}
		return object{"mail": demo.SignIn.Mail, "password": demo.SignIn.Password, "code": c}
	}
	maren.must(200, "PUT", "/account/second-step", object{"code": code()["code"]})
	maren.must(401, "POST", "/session", with(code(), object{"code": "000000"}))
	h.own(t, `update people set codes_wrong = codes_wrong + 8`) // from elsewhere
	maren.must(200, "POST", "/session", code())
	maren.must(401, "POST", "/session", with(code(), object{"code": "000000"}))
	var wrong int
	if err := h.owned(t).QueryRow(context.Background(), `select codes_wrong from people`).Scan(&wrong); err != nil ||
		wrong != 1 {
		t.Errorf("%d wrong codes after a right one, %v", wrong, err)
	}
	h.own(t, `update people set codes_wrong = 10`)
	maren.problem(429, "", "quarter of an hour", maren.send("POST", "/session", code()))
	h.pass(15 * time.Minute)
	maren.must(200, "POST", "/session", code())
}

// Who tries again and again is told to whose account it is, once a day.
func TestGuessesAreTold(t *testing.T) {
	t.Parallel()
	h, c := postOffice(t)
	maren := h.maren(t)
	v := h.visitor(t)
	for n := range 7 {
		if n == 4 {
			noLetter(t, c, demo.SignIn.Mail, "Somebody tries to sign in to your account")
		}
		v.must(401, "POST", "/session", object{"mail": demo.SignIn.Mail, "password": "a guess of a stranger"})
		h.pass(61 * time.Second)
	}
	letterTo(t, c, demo.SignIn.Mail, "Somebody tries to sign in to your account")
	maren.must(204, "POST", "/account/verification", nil)
	letterTo(t, c, demo.SignIn.Mail, "Is this your address?") // whatever came before has come by now
	n := 0
	for _, l := range c.Letters() {
		if l.Header.Get("Subject") == "Somebody tries to sign in to your account" {
			n++
		}
	}
	if n != 1 {
		t.Errorf("%d letters of guesses", n)
	}
}
