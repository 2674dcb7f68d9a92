package app_test

import (
	"strings"
	"testing"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/demo"
)

// What is asked of a device, and answers that are none: where the server is reached by a number, nobody asked, the
// answer is nonsense, somebody else's, or late. (That a device's own answer opens the door is tried in the browser, with
// an authenticator of Chromium's.)
func TestPasskeysThatAreNone(t *testing.T) {
	t.Parallel()
	byNumber := open(t)
	maren := byNumber.maren(t)
	if a := maren.must(200, "GET", "/account", nil); a["canHavePasskeys"] != false {
		t.Errorf("an address of figures has none: %v", a)
	}
	maren.problem(409, "", "need a name", maren.send("POST", "/account/passkeys/outline", nil))
	maren.problem(409, "", "need a name", byNumber.visitor(t).send("POST", "/session/passkey/outline", nil))

	h := openWith(t, func(o *app.Options) { o.Public = "https://sweets.example" })
	maren = h.maren(t)
	none := object{"id": "AAAA", "rawId": "AAAA", "type": "public-key", "response": object{"clientDataJSON": "e30",
		"attestationObject": "oA", "authenticatorData": "AAAA", "signature": "AAAA", "userHandle": "AAAA"}}
	tablet := object{"name": "Tablet", "credential": none}
	maren.problem(401, "", "not taken", maren.send("POST", "/account/passkeys", tablet))
	options := maren.must(200, "POST", "/account/passkeys/outline", nil)["options"].(object)
	rp, user := options["rp"].(object), options["user"].(object)
	if rp["id"] != "sweets.example" || user["name"] != demo.SignIn.Mail || len(options["challenge"].(string)) < 40 ||
		options["authenticatorSelection"].(object)["userVerification"] != "required" ||
		options["authenticatorSelection"].(object)["residentKey"] != "required" {
		t.Errorf("%v", options)
	}
	maren.problem(422, "body.credential", "not taken", maren.send("POST", "/account/passkeys", tablet))
	maren.problem(401, "", "not taken", maren.send("POST", "/account/passkeys", tablet))
	maren.must(200, "POST", "/account/passkeys/outline", nil)
	h.pass(6 * time.Minute)
	maren.problem(401, "", "not taken", maren.send("POST", "/account/passkeys", tablet))
	h.pass(6 * time.Minute)
	maren.problem(403, "", "once more", maren.send("POST", "/account/passkeys/outline", nil))

	p := h.visitor(t)
	p.problem(401, "", "not taken", p.send("POST", "/session/passkey", object{"credential": none}))
	asked := p.must(200, "POST", "/session/passkey/outline", nil)["options"].(object)
	if asked["rpId"] != "sweets.example" || asked["allowCredentials"] != nil ||
		strings.Contains(flat(t, asked), demo.SignIn.Mail) {
		t.Errorf("it says nothing of who has an account: %v", asked)
	}
	for _, nonsense := range []any{none, "x", 7, []any{}, object{}, nil} {
		p.must(200, "POST", "/session/passkey/outline", nil)
		if a := p.send("POST", "/session/passkey", object{"credential": nonsense}); a.status != 401 && a.status != 422 {
			t.Errorf("%v: %d %s", nonsense, a.status, a.body)
		}
	}
	if s := p.must(200, "GET", "/session", nil); s["signedIn"] != false {
		t.Error("somebody came in")
	}
}
