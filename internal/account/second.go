package account

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
)

// The second step at the door: a code that changes every 30 s (RFC 6238 with its usual numbers, which every
// authenticator takes), or one of ten codes on paper, each of which works once.
const (
	step     = 30 * time.Second
	drift    = 1 // steps by which the clocks may differ, either way (RFC 6238, 5.2)
	onPaper  = 10
	codeSize = 12 // letters of a code on paper: 60 bits
)

var codes = totp.ValidateOpts{Period: uint(step / time.Second), Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1}

// matching is the step whose code it is, later than one that has been used; 0 where it is none.
func matching(secret, code string, now time.Time, used int64) int64 {
	for by := -drift; by <= drift; by++ {
		at := now.Add(time.Duration(by) * step)
		want, err := totp.GenerateCodeCustom(secret, at, codes)
		n := at.Unix() / int64(step/time.Second)
		if err == nil && n > used && subtle.ConstantTimeCompare([]byte(want), []byte(code)) == 1 {
			return n
		}
	}
	return 0
}

// plainCode is a code as it was typed, without what people put between.
func plainCode(typed string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "-", "").Replace(strings.TrimSpace(typed)))
}

// Wrong codes, from wherever they come, after which a second step waits, and how long.
const (
	mostCodes = 10
	codesWait = 15 * time.Minute
)

// passes the second step with a code: that is used up. tx is the person's.
func passes(ctx context.Context, tx pgx.Tx, person uuid.UUID, typed string, now time.Time) (bool, error) {
	var secret string
	var used int64
	var wrong int
	var last time.Time
	if err := tx.QueryRow(ctx, `select totp, totp_last, codes_wrong, coalesce(codes_wrong_at, 'epoch') from people
		where id = $1 for update`, person).Scan(&secret, &used, &wrong, &last); err != nil {
		return false, err
	}
	if now.Sub(last) >= codesWait {
		wrong = 0
	}
	if wrong >= mostCodes {
		return false, web.Reject(http.StatusTooManyRequests, "account.codes-wait")
	}
	code := plainCode(typed)
	if n := matching(secret, code, now, used); n > 0 {
		_, err := tx.Exec(ctx, `update people set totp_last = $2, codes_wrong = 0 where id = $1`, person, n)
		return err == nil, err
	}
	tag, err := tx.Exec(ctx, `update recovery_codes set used_at = $3 where person_id = $1 and hash = $2
		and used_at is null`, person, stored(code), now)
	if err != nil || tag.RowsAffected() == 1 {
		return err == nil, err
	}
	_, err = tx.Exec(ctx, `update people set codes_wrong = $2, codes_wrong_at = $3 where id = $1`, person, wrong+1, now)
	return false, err
}

// SecondStep at the door.
type SecondStep struct {
	Since *time.Time `json:"since,omitempty" doc:"It is asked for since then; none: it is not"`
	Left  int        `json:"left" doc:"Codes on paper that have not been used"`
}

// Outline of a second step that is being set up.
type Outline struct {
	Secret string `json:"secret" doc:"To be typed where no picture can be taken, in base32"`
	URI    string `json:"uri" doc:"otpauth, as authenticators read it"`
	Size   int    `json:"size" doc:"Of the QR code of that, in modules, without its quiet zone"`
	Path   string `json:"path" doc:"Its dark modules as an SVG path, each 1 by 1"`
}

// OnPaper are codes to be written down.
type OnPaper struct {
	Codes []string `json:"codes" doc:"Shown this once"`
}

func (a *Accounts) second(tags []string) {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/account" + path, Summary: summary, Tags: tags}
	}
	web.Register(a.Base, web.AskAgain(op("outline-second-step", "POST", "/second-step",
		"Begin a second step at the door: it counts once a code of it is told")), a.outline)
	web.Register(a.Base, op("begin-second-step", "PUT", "/second-step", "Tell a code: from now on one is asked for"),
		a.beginSecond)
	end := web.AskAgain(op("end-second-step", "DELETE", "/second-step", "Ask for no second step any more"))
	end.DefaultStatus = http.StatusNoContent
	web.Register(a.Base, end, a.endSecond)
	web.Register(a.Base, web.AskAgain(op("renew-recovery-codes", "POST", "/recovery-codes",
		"New codes on paper; those before do nothing any more")), a.renewCodes)
}

func (a *Accounts) outline(ctx context.Context, _ *struct{}) (*struct{ Body Outline }, error) {
	who := web.ActorOf(ctx)
	var out Outline
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		var mail string
		var since *time.Time
		if err := tx.QueryRow(ctx, `select mail, totp_since from people where id = $1 for update`, who.Person).Scan(&mail,
			&since); err != nil {
			return err
		}
		if since != nil {
			return web.Reject(http.StatusConflict, "account.second-step-is-on")
		}
		key, err := totp.Generate(totp.GenerateOpts{Issuer: "Zesty Tin", AccountName: mail, Period: codes.Period,
			Digits: codes.Digits, Algorithm: codes.Algorithm})
		if err != nil {
			return err
		}
		out.Secret, out.URI = key.Secret(), key.URL()
		if out.Size, out.Path, err = drawn(out.URI); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update people set totp = $2 where id = $1`, who.Person, out.Secret)
		return err
	})
	return &struct{ Body Outline }{out}, err
}

// drawn is a text as a QR code.
func drawn(text string) (size int, path string, err error) {
	code, err := paper.SymbolOf(paper.QR, text)
	if err != nil {
		return 0, "", err
	}
	var b strings.Builder
	for y, row := range code.Rows {
		for x, dark := range row {
			if dark {
				fmt.Fprintf(&b, "M%d %dh1v1h-1z", x, y)
			}
		}
	}
	return len(code.Rows), b.String(), nil
}

func (a *Accounts) beginSecond(ctx context.Context, in *struct {
	Body struct {
		Code string `json:"code" maxLength:"40"`
	}
}) (*struct{ Body OnPaper }, error) {
	who := web.ActorOf(ctx)
	var out OnPaper
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		var secret *string
		var since *time.Time
		if err := tx.QueryRow(ctx, `select totp, totp_since from people where id = $1 for update`, who.Person).Scan(&secret,
			&since); err != nil {
			return err
		}
		if secret == nil || since != nil {
			return web.Reject(http.StatusConflict, "account.second-step-not-begun")
		}
		n := matching(*secret, plainCode(in.Body.Code), a.Clock(), 0)
		if n == 0 {
			return invalid.At("code", reason.Of("account.wrong-code"))
		}
		if _, err := tx.Exec(ctx, `update people set totp_since = $2, totp_last = $3 where id = $1`, who.Person, a.Clock(),
			n); err != nil {
			return err
		}
		if err := a.noteAll(ctx, tx, who.Person, web.SecondStepOn, ""); err != nil {
			return err
		}
		var err error
		out.Codes, err = a.freshCodes(ctx, tx, who.Person)
		return err
	})
	return &struct{ Body OnPaper }{out}, err
}

// freshCodes on paper, in place of those before.
func (a *Accounts) freshCodes(ctx context.Context, tx pgx.Tx, person uuid.UUID) ([]string, error) {
	if _, err := tx.Exec(ctx, `delete from recovery_codes where person_id = $1`, person); err != nil {
		return nil, err
	}
	list := make([]string, onPaper)
	for i := range list {
		code := rand.Text()[:codeSize]
		list[i] = code[:4] + "-" + code[4:8] + "-" + code[8:]
		if _, err := tx.Exec(ctx, `insert into recovery_codes (person_id, hash) values ($1, $2)`, person,
			stored(code)); err != nil {
			return nil, err
		}
	}
	return list, nil
}

func (a *Accounts) endSecond(ctx context.Context, _ *struct{}) (*struct{}, error) {
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		var mail string
		var since *time.Time
		err := tx.QueryRow(ctx, `select mail, totp_since from people where id = $1 for update`, who.Person).Scan(&mail,
			&since)
		if err != nil || since == nil { // it was off already
			return err
		}
		if err := noSecond(ctx, tx, who.Person); err != nil {
			return err
		}
		if err := a.write(ctx, tx, letter{Kind: letterSecond, Person: &who.Person, Mail: mail}); err != nil {
			return err
		}
		return a.noteAll(ctx, tx, who.Person, web.SecondStepOff, "")
	})
}

// noSecond step of the person of tx any more.
func noSecond(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	if _, err := tx.Exec(ctx, `update people set totp = null, totp_since = null, totp_last = 0 where id = $1`,
		person); err != nil {
		return err
	}
	_, err := tx.Exec(ctx, `delete from recovery_codes where person_id = $1`, person)
	return err
}

func (a *Accounts) renewCodes(ctx context.Context, _ *struct{}) (*struct{ Body OnPaper }, error) {
	who := web.ActorOf(ctx)
	var out OnPaper
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		var since *time.Time
		err := tx.QueryRow(ctx, `select totp_since from people where id = $1 for update`, who.Person).Scan(&since)
		if err != nil {
			return err
		}
		if since == nil {
			return web.Reject(http.StatusConflict, "account.second-step-not-begun")
		}
		out.Codes, err = a.freshCodes(ctx, tx, who.Person)
		return err
	})
	return &struct{ Body OnPaper }{out}, err
}
