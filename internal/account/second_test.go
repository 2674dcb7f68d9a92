package account

import (
	"testing"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
)

// The test vectors of RFC 6238, appendix B (SHA-1, secret "12345678901234567890"), of which an authenticator shows the
// last six of eight figures.
func TestCodesByTheStandard(t *testing.T) {
	const secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"
	for at, eight := range map[int64]string{59: "94287082", 1111111109: "07081804", 1111111111: "14050471",
		1234567890: "89005924", 2000000000: "69279037", 20000000000: "65353130"} {
		long, err := totp.GenerateCodeCustom(secret, time.Unix(at, 0), totp.ValidateOpts{Period: 30,
			Digits: otp.DigitsEight, Algorithm: otp.AlgorithmSHA1})
		if err != nil || long != eight {
			t.Errorf("at %d: %s, %v", at, long, err)
		}
		code := eight[2:]
		if n := matching(secret, code, time.Unix(at, 0), 0); n != at/30 {
			t.Errorf("at %d: %s is the code of step %d", at, code, n)
		}
		// The clocks may differ by a step, not by two; a code that was used is none any more.
		for by, want := range map[int64]bool{-60: false, -30: true, 30: true, 60: false} {
			if n := matching(secret, code, time.Unix(at+by, 0), 0); (n > 0) != want {
				t.Errorf("%d s later: %v", by, n)
			}
		}
		if n := matching(secret, code, time.Unix(at, 0), at/30); n != 0 {
			t.Errorf("at %d: used twice", at)
		}
	}
	if matching(secret, "", time.Unix(59, 0), 0) != 0 || matching("not base32!", "287082", time.Unix(59, 0), 0) != 0 {
		t.Error("what is none passes")
	}
}

// What people put between the letters of a code is none of it.
func TestCodesAsTheyAreTyped(t *testing.T) {
	for _, typed := range []string{"287082", " 287 082", "287-082 "} {
		if plainCode(typed) != "287082" {
			t.Errorf("%q: %q", typed, plainCode(typed))
		}
	}
	if plainCode("abcd-efgh-2345") != "ABCDEFGH2345" {
		t.Error(plainCode("abcd-efgh-2345"))
	}
}
