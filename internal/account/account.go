// Package account keeps kitchens, the people who work in them, and who is signed in.
package account

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/food"
	"zestytin/internal/platform/db"
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
}

// Register adds the operations. demo is the sign-in that the page offers, nil outside of the demo.
func Register(h web.Base, sessions *scs.SessionManager, demo *SignIn, needs Deps) *Accounts {
	a := &Accounts{h, sessions, demo, needs}
	h.API.UseMiddleware(a.enter)
	tags := []string{"Account"}
	web.Register(h, huma.Operation{OperationID: "create-kitchen", Method: "POST", Path: "/api/v1/kitchens",
		Summary: "Open a kitchen and sign in to it", Tags: tags, Security: web.Open, DefaultStatus: 201}, a.create)
	web.Register(h, huma.Operation{OperationID: "sign-in", Method: "POST", Path: "/api/v1/session", Summary: "Sign in",
		Tags: tags, Security: web.Open}, a.signIn)
	web.Register(h, huma.Operation{OperationID: "sign-out", Method: "DELETE", Path: "/api/v1/session",
		Summary: "Sign out", Tags: tags, Security: web.Open, DefaultStatus: 204}, a.signOut)
	web.Register(h, huma.Operation{OperationID: "get-session", Method: "GET", Path: "/api/v1/session",
		Summary: "Who is signed in", Tags: tags, Security: web.Open}, a.session)
	web.Register(h, huma.Operation{OperationID: "change-password", Method: "PUT", Path: "/api/v1/password",
		Summary: "Change the password; every other session ends", Tags: tags, DefaultStatus: 204}, a.changePassword)
	web.Register(h, huma.Operation{OperationID: "get-kitchen", Method: "GET", Path: "/api/v1/kitchen",
		Summary: "The kitchen's own numbers", Tags: tags}, a.kitchen)
	web.Register(h, huma.Operation{OperationID: "put-kitchen", Method: "PUT", Path: "/api/v1/kitchen",
		Summary: "Change the kitchen's own numbers", Tags: tags}, a.putKitchen)
	return a
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
	if who.Kitchen == uuid.Nil {
		_ = huma.WriteErr(a.API, ctx, http.StatusUnauthorized,
			"You are signed out: sign in and try again. What you typed is still on the page.")
		return
	}
	words, err := a.words(ctx.Context(), who.Kitchen)
	if err != nil {
		refuse(a.API, ctx, err)
		return
	}
	next(huma.WithContext(ctx, text.With(web.WithWho(ctx.Context(), who), words)))
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

// who the session belongs to; the zero value when it has ended, for example because the password was changed.
func (a *Accounts) who(ctx context.Context) (web.Actor, error) {
	person, err := uuid.Parse(a.sessions.GetString(ctx, "person"))
	if err != nil {
		return web.Actor{}, nil
	}
	var credentials int
	var seen *time.Time
	token := stored(a.sessions.Token(ctx))
	err = db.Do(ctx, a.Pool, func(c *pgx.Conn) error {
		asked := &pgx.Batch{} // in one go: every request asks it
		asked.Queue("select set_config('zt.person', $1, true), set_config('zt.session', $2, true)", person.String(),
			token)
		asked.Queue("select credentials, (select seen from sessions where token = $2) from people where id = $1",
			person, token).QueryRow(func(row pgx.Row) error { return row.Scan(&credentials, &seen) })
		return c.SendBatch(ctx, asked).Close()
	})
	if errors.Is(err, pgx.ErrNoRows) || err == nil && credentials != a.sessions.GetInt(ctx, "credentials") {
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
	kitchen, _ := uuid.Parse(a.sessions.GetString(ctx, "kitchen"))
	return web.Actor{Person: person, Kitchen: kitchen}, err
}

// words that a kitchen reads.
func (a *Accounts) words(ctx context.Context, kitchen uuid.UUID) (w *text.Words, err error) {
	err = db.InKitchen(ctx, a.Pool, kitchen, func(tx pgx.Tx) error {
		w, err = web.Words(ctx, tx)
		return err
	})
	return w, err
}

// SignIn is what a person signs in with.
type SignIn struct {
	Mail     string `json:"mail"`
	Password string `json:"password"`
}

// Session is who is signed in, and the kitchen's clock.
type Session struct {
	SignedIn bool      `json:"signedIn"`
	ID       string    `json:"id,omitempty" doc:"Of the person"`
	Person   string    `json:"person,omitempty"`
	Kitchen  string    `json:"kitchen,omitempty"`
	TimeZone string    `json:"timeZone,omitempty"`
	Units    string    `json:"units,omitempty" enum:"us,metric"`
	Country  string    `json:"country,omitempty"`
	Clock    int       `json:"clock,omitempty" enum:"12,24"`
	Dates    string    `json:"dates,omitempty" enum:"dmy,mdy,ymd"`
	Degrees  string    `json:"degrees,omitempty" enum:"C,F"`
	Public   string    `json:"public,omitempty" doc:"Where customers reach the kitchen; empty: as the page was opened"`
	Law      food.Law  `json:"law,omitempty" enum:"us,eu" doc:"By which allergens are declared"`
	Currency string    `json:"currency,omitempty"`
	Now      time.Time `json:"now"`
	Demo     *SignIn   `json:"demo,omitempty" doc:"The demo's sign-in, in demo mode only"`
}

func (a *Accounts) begin(ctx context.Context, who web.Actor, credentials int) error {
	// A new token at every sign-in: one that was planted before is worth nothing after.
	if err := a.sessions.RenewToken(ctx); err != nil {
		return err
	}
	a.sessions.Put(ctx, "person", who.Person.String())
	a.sessions.Put(ctx, "kitchen", who.Kitchen.String())
	a.sessions.Put(ctx, "credentials", credentials)
	return nil
}

// as runs fn in a transaction of a person, who sees themselves.
func (a *Accounts) as(ctx context.Context, who web.Actor, fn func(pgx.Tx) error) error {
	return db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.person", who.Person.String()); err != nil {
			return err
		}
		return fn(tx)
	})
}

// decoy takes as long to compare as a real hash, so that the time does not tell whether an address has an account.
var decoy, _ = argon2id.CreateHash("nobody signs in with this", argon2id.DefaultParams)

func (a *Accounts) signIn(ctx context.Context, in *struct{ Body SignIn }) (*struct{ Body Session }, error) {
	var (
		who         web.Actor
		hash        = decoy
		credentials int
	)
	mail := strings.ToLower(strings.TrimSpace(in.Body.Mail))
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.mail", mail); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select id, password_hash, credentials from people where mail = $1`,
			mail).Scan(&who.Person, &hash, &credentials)
	})
	if err != nil && !errors.Is(err, pgx.ErrNoRows) {
		return nil, err
	}
	match, err := matches(ctx, in.Body.Password, hash)
	if err != nil {
		return nil, err
	}
	if !match || who.Person == uuid.Nil {
		return nil, web.Reject(http.StatusUnauthorized, "account.wrong-address-or-password")
	}
	err = db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.person", who.Person.String()); err != nil {
			return err
		}
		return tx.QueryRow(ctx, "select kitchen_id from memberships where person_id = $1 order by kitchen_id limit 1",
			who.Person).Scan(&who.Kitchen)
	})
	if err != nil {
		return nil, err
	}
	if err := a.begin(ctx, who, credentials); err != nil {
		return nil, err
	}
	if err := remember(ctx, a.Pool, who.Person, a.Clock()); err != nil {
		return nil, err
	}
	return a.answer(ctx, who)
}

func (a *Accounts) signOut(ctx context.Context, _ *struct{}) (*struct{}, error) {
	return nil, a.sessions.Destroy(ctx)
}

func (a *Accounts) session(ctx context.Context, _ *struct{}) (*struct{ Body Session }, error) {
	who, err := a.who(ctx)
	if err != nil {
		return nil, err
	}
	if who.Kitchen == uuid.Nil {
		return &struct{ Body Session }{Session{Now: a.Clock(), Demo: a.demo}}, nil
	}
	return a.answer(ctx, who)
}

func (a *Accounts) answer(ctx context.Context, who web.Actor) (*struct{ Body Session }, error) {
	s := Session{SignedIn: true, ID: who.Person.String(), Now: a.Clock()}
	err := db.InKitchen(ctx, a.Pool, who.Kitchen, func(tx pgx.Tx) error {
		return tx.QueryRow(ctx, `select p.name, k.name, k.time_zone, k.units, k.law, k.currency, k.country,
			k.clock, k.dates, k.degrees, k.public_address
			from people p, kitchens k where p.id = $1 and k.id = $2`,
			who.Person, who.Kitchen).Scan(&s.Person, &s.Kitchen, &s.TimeZone, &s.Units, &s.Law, &s.Currency,
			&s.Country, &s.Clock, &s.Dates, &s.Degrees, &s.Public)
	})
	return &struct{ Body Session }{s}, err
}
