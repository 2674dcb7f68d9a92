package app_test

import (
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
