package account

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// SignIn is what a person signs in with.
type SignIn struct {
	Mail     string `json:"mail"`
	Password string `json:"password"`
	Code     string `json:"code,omitempty" maxLength:"40" doc:"Of the second step, where one is asked for"`
}

// Session is who is signed in, and the kitchen's clock.
type Session struct {
	SignedIn bool        `json:"signedIn"`
	Mailed   bool        `json:"mailed,omitempty" doc:"A letter with a link is on its way: the kitchen is opened by that"`
	Mails    bool        `json:"mails,omitempty" doc:"This server sends letters: a password can be reset by one"`
	Sure     bool        `json:"sure,omitempty" doc:"Who asks has said lately who they are: what asks again does not ask now"`
	GoneAt   *time.Time  `json:"goneAt,omitempty" doc:"The kitchen and all that is in it go then"`
	ToTry    bool        `json:"toTry,omitempty" doc:"A visitor's kitchen: it goes after a day. Of nobody: there is one to try"`
	Passkeys bool        `json:"passkeys,omitempty" doc:"One can sign in by a passkey at this address"`
	Role     web.Role    `json:"role,omitempty" doc:"As what one works there"`
	Kitchens []Belonging `json:"kitchens,omitempty" doc:"All kitchens that one works in. Signed in without a kitchen: one has to choose, or works in none"`
	Unproven bool        `json:"unproven,omitempty" doc:"A letter could prove one's address, and none has"`
	ID       string      `json:"id,omitempty" doc:"Of the person"`
	Person   string      `json:"person,omitempty"`
	Kitchen  string      `json:"kitchen,omitempty"`
	TimeZone string      `json:"timeZone,omitempty"`
	Units    string      `json:"units,omitempty" enum:"us,metric"`
	Country  string      `json:"country,omitempty"`
	Clock    int         `json:"clock,omitempty" enum:"12,24"`
	Dates    string      `json:"dates,omitempty" enum:"dmy,mdy,ymd"`
	Degrees  string      `json:"degrees,omitempty" enum:"C,F"`
	Public   string      `json:"public,omitempty" doc:"Where customers reach the kitchen; empty: as the page was opened"`
	Law      food.Law    `json:"law,omitempty" enum:"us,eu" doc:"By which allergens are declared"`
	Currency string      `json:"currency,omitempty"`
	Now      time.Time   `json:"now"`
	Demo     *SignIn     `json:"demo,omitempty" doc:"The demo's sign-in, in demo mode only"`
}

func (a *Accounts) begin(ctx context.Context, who web.Actor, credentials int) error {
	// A new token at every sign-in: one that was planted before is worth nothing after.
	if err := a.sessions.RenewToken(ctx); err != nil {
		return err
	}
	a.sessions.Put(ctx, "person", who.Person.String())
	a.sessions.Put(ctx, "kitchen", who.Kitchen.String())
	a.sessions.Put(ctx, "credentials", credentials)
	caller := web.CallerOf(ctx)
	a.sessions.Put(ctx, "address", caller.Address)
	a.sessions.Put(ctx, "agent", caller.Agent)
	a.sessions.Put(ctx, "began", a.Clock().Format(time.RFC3339))
	a.beSure(ctx)
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
		second      bool
	)
	mail := normal(in.Body.Mail)
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.mail", mail); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select id, password_hash, credentials, totp_since is not null from people
			where mail = $1`, mail).Scan(&who.Person, &hash, &credentials, &second)
	})
	if err != nil && !errors.Is(err, pgx.ErrNoRows) {
		return nil, err
	}
	match, err := matches(ctx, in.Body.Password, hash)
	if err != nil {
		return nil, err
	}
	if !match || who.Person == uuid.Nil {
		if who.Person != uuid.Nil {
			if err := a.failed(ctx, who.Person); err != nil {
				return nil, err
			}
		}
		return nil, web.Reject(http.StatusUnauthorized, "account.wrong-address-or-password")
	}
	if second {
		if err := a.secondStep(ctx, who.Person, in.Body.Code); err != nil {
			return nil, err
		}
	}
	if err := a.as(ctx, who, func(tx pgx.Tx) error {
		who, err = entry(ctx, tx, who.Person)
		return err
	}); err != nil {
		return nil, err
	}
	return a.enters(ctx, who, mail, credentials)
}

// enters a kitchen, who has shown who they are: a session begins, and that is noted.
func (a *Accounts) enters(ctx context.Context, who web.Actor, mail string, credentials int) (*struct{ Body Session },
	error) {
	if err := a.begin(ctx, who, credentials); err != nil {
		return nil, err
	}
	stranger, err := remember(ctx, a.Pool, who.Person, a.Clock())
	if err != nil {
		return nil, err
	}
	if err := a.noteSignIn(ctx, who, mail, stranger); err != nil {
		return nil, err
	}
	return a.answer(ctx, who)
}

// secondStep at the door, after the password.
func (a *Accounts) secondStep(ctx context.Context, person uuid.UUID, code string) error {
	if code == "" {
		return web.Reject(http.StatusUnauthorized, "account.code-needed")
	}
	passed := false
	err := a.as(ctx, web.Actor{Person: person}, func(tx pgx.Tx) (err error) {
		passed, err = passes(ctx, tx, person, code, a.Clock())
		return err
	})
	if err != nil || passed {
		return err
	}
	if err := a.failed(ctx, person); err != nil {
		return err
	}
	return web.Reject(http.StatusUnauthorized, "account.wrong-code")
}

// noteSignIn, and tell whose account it is where it was from a browser that nobody has signed in from before.
func (a *Accounts) noteSignIn(ctx context.Context, who web.Actor, mail string, stranger bool) error {
	ctx = web.WithWho(ctx, who)
	return a.as(ctx, who, func(tx pgx.Tx) error {
		if !stranger {
			return a.noteAll(ctx, tx, who.Person, web.SignedIn, "")
		}
		if err := a.noteAll(ctx, tx, who.Person, web.NewBrowser, ""); err != nil {
			return err
		}
		caller := web.CallerOf(ctx)
		name, system := browserOf(caller.Agent)
		return a.write(ctx, tx, letter{Kind: letterDevice, Person: &who.Person, Mail: mail,
			Facts: facts{Address: caller.Address, Browser: strings.Trim(name+", "+system, ", ")}})
	})
}

func (a *Accounts) signOut(ctx context.Context, _ *struct{}) (*struct{}, error) {
	return nil, a.sessions.Destroy(ctx)
}

func (a *Accounts) session(ctx context.Context, _ *struct{}) (*struct{ Body Session }, error) {
	who, err := a.who(ctx)
	if err != nil {
		return nil, err
	}
	if who.Person == uuid.Nil {
		return &struct{ Body Session }{Session{Passkeys: a.relying(ctx) != nil, Now: a.Clock(), Demo: a.demo,
			Mails: a.mails(), ToTry: a.Fill != nil}}, nil
	}
	return a.answer(ctx, who)
}

func (a *Accounts) answer(ctx context.Context, who web.Actor) (*struct{ Body Session }, error) {
	s := Session{SignedIn: true, ID: who.Person.String(), Now: a.Clock(), Mails: a.mails(), Sure: a.isSure(ctx)}
	err := a.as(ctx, who, func(tx pgx.Tx) (err error) {
		if err := tx.QueryRow(ctx, `select name, verified_at is null from people where id = $1`, who.Person).
			Scan(&s.Person, &s.Unproven); err != nil {
			return err
		}
		if s.Kitchens, err = belongings(ctx, tx, who); err != nil || who.Kitchen == uuid.Nil {
			return err
		}
		s.Role = who.Role
		if err := db.Set(ctx, tx, "zt.kitchen", who.Kitchen.String()); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select k.name, k.time_zone, k.units, k.law, k.currency, k.country,
			k.clock, k.dates, k.degrees, k.public_address, k.gone_at, k.to_try from kitchens k where k.id = $1`,
			who.Kitchen).Scan(&s.Kitchen, &s.TimeZone, &s.Units, &s.Law, &s.Currency, &s.Country, &s.Clock, &s.Dates,
			&s.Degrees, &s.Public, &s.GoneAt, &s.ToTry)
	})
	s.Unproven = s.Unproven && s.Mails && !s.ToTry
	return &struct{ Body Session }{s}, err
}
