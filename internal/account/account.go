// Package account keeps kitchens, the people who work in them, and who is signed in.
package account

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"log/slog"
	"net/http"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Accounts is the feature.
type Accounts struct {
	web.Base
	sessions *scs.SessionManager
	demo     *SignIn
	Deps
}

// NewSessions makes the manager of the sessions in the database. secure: only over TLS.
func NewSessions(pool *pgxpool.Pool, secure bool) *scs.SessionManager {
	m := scs.New()
	m.Store = store{pool}
	m.Lifetime = 30 * 24 * time.Hour
	m.HashTokenInStore = true
	m.Cookie.Name = "session"
	if secure {
		m.Cookie.Name = "__Host-session" // no other host and no path may set it
	}
	m.Cookie.HttpOnly = true
	m.Cookie.SameSite = http.SameSiteLaxMode
	m.Cookie.Secure = secure
	m.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) { web.WriteProblem(w, r, err) }
	return m
}

// Deps is what the account needs of other rooms.
type Deps struct {
	// Rezone what stands in the clock of a time zone when the kitchen gets another: handovers is "clock", "instant" or
	// empty, which is refused while orders are ahead.
	Rezone func(ctx context.Context, tx pgx.Tx, from, to, handovers string) error

	// May says whether an operation, by its id, is for a role; of no role: for whoever works in no kitchen.
	May func(role web.Role, operation string) bool

	// Forget a person who works in no kitchen.
	Forget func(ctx context.Context, tx pgx.Tx, person uuid.UUID) error

	// Fill a kitchen that a visitor may try, for who signs in with a mail; nil: there is none to try.
	Fill func(ctx context.Context, mail string) error

	Jobs   *jobs.Set
	Mailer post.Mailer // nil: there is no mail server
	Public string      // what links in letters begin with, such as https://sweets.example; empty: no letters are sent
}

// Register adds the operations. demo is the sign-in that the page offers, nil outside of the demo.
func Register(h web.Base, sessions *scs.SessionManager, demo *SignIn, needs Deps) *Accounts {
	a := &Accounts{h, sessions, demo, needs}
	h.API.UseMiddleware(a.enter)
	jobs.Add(needs.Jobs, jobs.Way{Queue: "account-letters"}, a.deliver)
	tags := []string{"Account"}
	web.Register(h, huma.Operation{OperationID: "create-kitchen", Method: "POST", Path: "/api/v1/kitchens",
		Summary: "Open a kitchen and sign in to it; where letters are sent, by the link of one", Tags: tags, Security: web.Open, DefaultStatus: 201}, a.create)
	web.Register(h, huma.Operation{OperationID: "sign-in", Method: "POST", Path: "/api/v1/session", Summary: "Sign in",
		Tags: tags, Security: web.Open}, a.signIn)
	web.Register(h, huma.Operation{OperationID: "sign-out", Method: "DELETE", Path: "/api/v1/session",
		Summary: "Sign out", Tags: tags, Security: web.Open, DefaultStatus: 204}, a.signOut)
	web.Register(h, huma.Operation{OperationID: "get-session", Method: "GET", Path: "/api/v1/session",
		Summary: "Who is signed in", Tags: tags, Security: web.Open}, a.session)
	web.Register(h, huma.Operation{OperationID: "change-password", Method: "PUT", Path: "/api/v1/password",
		Summary: "Change the password; every other session ends", Tags: tags, DefaultStatus: 204}, a.changePassword)
	a.own(tags)
	a.belonging(tags)
	a.helpers(tags)
	a.logos(tags)
	a.second(tags)
	a.passkeys(tags)
	web.Register(h, huma.Operation{OperationID: "get-kitchen", Method: "GET", Path: "/api/v1/kitchen",
		Summary: "The kitchen's own numbers", Tags: tags}, a.kitchen)
	web.Register(h, huma.Operation{OperationID: "put-kitchen", Method: "PUT", Path: "/api/v1/kitchen",
		Summary: "Change the kitchen's own numbers", Tags: tags}, a.putKitchen)
	return a
}

// own operations of a person, and those of links in letters.
func (a *Accounts) own(tags []string) {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary, Tags: tags}
	}
	silent := func(op huma.Operation) huma.Operation {
		op.DefaultStatus = http.StatusNoContent
		return op
	}
	forAll := func(op huma.Operation) huma.Operation {
		op.Security = web.Open
		return op
	}
	web.Register(a.Base, forAll(silent(op("ask-for-reset", "POST", "/password-resets",
		"Send a link by which a new password is set; the answer is the same where nobody has the address"))), a.askReset)
	made := forAll(op("try-out", "POST", "/try-outs",
		"A kitchen with something in it, for a visitor to try for a day, where the server offers that"))
	made.DefaultStatus = http.StatusCreated
	web.Register(a.Base, made, a.tryOut)
	link := forAll(op("get-account-link", "GET", "/account-links/{secret}", "What the link of a letter does"))
	link.Errors = []int{http.StatusGone}
	web.Register(a.Base, link, a.lookAtLink)
	use := forAll(op("use-account-link", "POST", "/account-links/{secret}", "Do it, once"))
	use.Errors = []int{http.StatusGone}
	web.Register(a.Base, use, a.useLink)
	web.Register(a.Base, op("get-account", "GET", "/account", "One's own account, and where one is signed in"),
		a.account)
	web.Register(a.Base, silent(op("rename-person", "PUT", "/account/name", "Change one's own name")), a.rename)
	web.Register(a.Base, web.AskAgain(op("change-mail", "PUT", "/account/mail", "Move to another address")), a.move)
	web.Register(a.Base, silent(op("ask-for-verification", "POST", "/account/verification",
		"Send a link that proves the address")), a.verify)
	web.Register(a.Base, silent(op("confirm-session", "POST", "/session/confirm",
		"Say again who one is, by the password")), a.confirm)
	web.Register(a.Base, silent(op("end-other-sessions", "DELETE", "/sessions", "End all sessions but this one")),
		a.endOthers)
	web.Register(a.Base, silent(op("end-session", "DELETE", "/sessions/{id}", "End a session of one's own")),
		a.endSession)
	web.Register(a.Base, op("get-security-log", "GET", "/security-log", "What concerns the safety of the kitchen"),
		a.securityLog)
}

// enter lets signed-in people through to the operations that need one, and nobody else.
func (a *Accounts) enter(ctx huma.Context, next func(huma.Context)) {
	if len(ctx.Operation().Security) == 0 {
		next(ctx)
		return
	}
	who, err := a.who(ctx.Context())
	if err != nil {
		refuse(a.API, ctx, err)
		return
	}
	if who.Person == uuid.Nil {
		_ = huma.WriteErr(a.API, ctx, http.StatusUnauthorized,
			"You are signed out: sign in and try again. What you typed is still on the page.")
		return
	}
	if !a.May(who.Role, ctx.Operation().OperationID) {
		if who.Kitchen == uuid.Nil {
			refuse(a.API, ctx, web.Reject(http.StatusForbidden, "account.in-no-kitchen"))
		} else {
			err := a.noteRefusal(ctx.Context(), who, ctx.Operation().OperationID)
			if err == nil {
				err = web.Reject(http.StatusForbidden, "account.not-for", reason.Word(who.Role))
			}
			refuse(a.API, ctx, err)
		}
		return
	}
	if web.AsksAgain(ctx.Operation()) && !a.isSure(ctx.Context()) {
		refuse(a.API, ctx, web.Reject(http.StatusForbidden, "account.say-again"))
		return
	}
	words, err := a.words(ctx.Context(), who)
	if err != nil {
		refuse(a.API, ctx, err)
		return
	}
	next(huma.WithContext(ctx, text.With(web.WithWho(ctx.Context(), who), words)))
}

// noteRefusal of an operation that is not for somebody, once an hour.
func (a *Accounts) noteRefusal(ctx context.Context, who web.Actor, operation string) error {
	ctx = web.WithWho(ctx, who)
	return a.In(ctx, func(tx pgx.Tx) error {
		now, lately := a.Clock(), false
		err := tx.QueryRow(ctx, `select exists (select from security_events where what = $1 and person_id = $2
			and about = $3 and at > $4)`, web.Refused, who.Person, operation, now.Add(-time.Hour)).Scan(&lately)
		if err != nil || lately {
			return err
		}
		return web.Note(ctx, tx, now, web.Refused, operation)
	})
}

// refuse a request for an error that came before its operation.
func refuse(api huma.API, ctx huma.Context, err error) {
	told := web.ProblemOf(ctx.Context(), err)
	var headers huma.HeadersError
	if errors.As(told, &headers) {
		for name, values := range headers.GetHeaders() {
			ctx.SetHeader(name, values[0])
		}
	}
	var status huma.StatusError
	if !errors.As(told, &status) {
		status = web.Reject(http.StatusInternalServerError, "web.something-went-wrong")
	}
	web.Write(api, ctx, status)
}

// A session that nobody uses ends after idle; that it is used is noted at most once in touch.
const (
	idle  = 14 * 24 * time.Hour
	touch = time.Hour
)

// stored form of a session's token, as the session manager keeps it.
func stored(token string) string {
	sum := sha256.Sum256([]byte(token))
	return base64.RawURLEncoding.EncodeToString(sum[:])
}

// who the session belongs to; the zero value when it has ended, for example because the password was changed. Somebody
// who works no longer in the session's kitchen is in none.
func (a *Accounts) who(ctx context.Context) (web.Actor, error) {
	person, err := uuid.Parse(a.sessions.GetString(ctx, "person"))
	if err != nil {
		return web.Actor{}, nil
	}
	var credentials int
	var seen *time.Time
	var is bool
	token := stored(a.sessions.Token(ctx))
	kitchen, _ := uuid.Parse(a.sessions.GetString(ctx, "kitchen"))
	who := web.Actor{Person: person}
	err = db.Do(ctx, a.Pool, func(c *pgx.Conn) error {
		asked := &pgx.Batch{} // in one go: every request asks it
		asked.Queue("select set_config('zt.person', $1, true), set_config('zt.session', $2, true)", person.String(),
			token)
		asked.Queue(`select p.credentials, s.seen, s.token is not null, coalesce(m.role, '') from people p
			left join sessions s on s.token = $2
			left join memberships m on m.person_id = p.id and m.kitchen_id = $3 and m.left_at is null
			where p.id = $1`, person, token, kitchen).
			QueryRow(func(row pgx.Row) error { return row.Scan(&credentials, &seen, &is, &who.Role) })
		return c.SendBatch(ctx, asked).Close()
	})
	if errors.Is(err, pgx.ErrNoRows) || err == nil && (!is || credentials != a.sessions.GetInt(ctx, "credentials")) {
		return web.Actor{}, nil
	}
	if err == nil {
		switch now := a.Clock(); {
		case seen != nil && now.Sub(*seen) > idle:
			return web.Actor{}, nil
		case seen == nil || now.Sub(*seen) > touch: // what is read or saved does not wait for it, nor fails with it
			if err := (store{a.Pool}).touch(ctx, token, now); err != nil {
				slog.WarnContext(ctx, "the session could not be touched", "error", err)
			}
		}
	}
	if who.Role != "" {
		who.Kitchen = kitchen
	}
	return who, err
}

// Still says whether who asks by ctx is signed in and works in the kitchen as they did, as far as it can be told.
func (a *Accounts) Still(ctx context.Context) bool {
	who, err := a.who(ctx)
	return err != nil || who == web.ActorOf(ctx)
}

// words that somebody reads in a kitchen.
func (a *Accounts) words(ctx context.Context, who web.Actor) (w *text.Words, err error) {
	err = db.InKitchen(ctx, a.Pool, who.Kitchen, func(tx pgx.Tx) error {
		w, err = web.Words(ctx, tx)
		return err
	})
	if err == nil && who.Role == web.Maker {
		w = w.WithoutMoney()
	}
	return w, err
}
