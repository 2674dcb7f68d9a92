package account

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgerrcode"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Link of a letter: what it does.
type Link struct {
	Kind    letterKind `json:"kind" enum:"open,verify,move,moved,reset,join" doc:"moved takes a move back"`
	Mail    string     `json:"mail" doc:"The address that it was sent to"`
	Kitchen string     `json:"kitchen,omitempty" doc:"That it opens, or joins"`
	Takes   bool       `json:"takesPassword" doc:"It asks for a new password"`
}

// Secret of a link.
type Secret struct {
	Secret string `path:"secret" minLength:"26" maxLength:"26" doc:"As it stands in the letter"`
}

// asks whether a link needs a new password: whoever had the old one may not come in again.
func (k letterKind) asks() bool { return k == letterReset || k == letterMoved }

// linked is the letter whose link somebody follows; the error says why it does nothing any more.
func (a *Accounts) linked(ctx context.Context, tx pgx.Tx, secret, suffix string) (letter, error) {
	l, err := named(ctx, tx, stored(secret), `hash = $1`+suffix)
	switch now := a.Clock(); {
	case errors.Is(err, pgx.ErrNoRows):
		return l, web.Reject(http.StatusNotFound, "account.link-unknown")
	case err != nil:
		return l, err
	case l.Used != nil:
		return l, web.Reject(http.StatusGone, "account.link-used")
	case l.Until == nil || !now.Before(*l.Until):
		return l, web.Reject(http.StatusGone, "account.link-over")
	}
	return l, nil
}

func (a *Accounts) lookAtLink(ctx context.Context, in *Secret) (*struct{ Body Link }, error) {
	var out Link
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		l, err := a.linked(ctx, tx, in.Secret, "")
		out = Link{Kind: l.Kind, Mail: l.Mail, Takes: l.Kind.asks()}
		if o := l.Facts.Opening; o != nil {
			out.Kitchen = cmp.Or(o.Kitchen, l.Facts.Kitchen)
		}
		return err
	})
	return &struct{ Body Link }{out}, err
}

// useLink does what the link of a letter is for, once.
func (a *Accounts) useLink(ctx context.Context, in *struct {
	Secret
	Body struct {
		Password string `json:"password,omitempty" maxLength:"1000" doc:"The new one, where it takes one"`
	}
}) (*struct{ Body Session }, error) {
	var seen letter
	if err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) (err error) {
		seen, err = a.linked(ctx, tx, in.Secret.Secret, "")
		return err
	}); err != nil {
		return nil, err
	}
	hash := ""
	if seen.Kind.asks() {
		var f invalid.Faults
		password(&f, "password", in.Body.Password, seen.Mail)
		if err := f.Err(); err != nil {
			return nil, err
		}
		var err error
		if hash, err = hashed(ctx, in.Body.Password); err != nil {
			return nil, err
		}
	}
	var opened *web.Actor
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		opened = nil
		l, err := a.linked(ctx, tx, in.Secret.Secret, " for update")
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update account_letters set used_at = $2, facts = facts - 'hash' where id = $1`, l.ID,
			a.Clock()); err != nil {
			return err
		}
		if l.Kind == letterOpen {
			who, err := open(ctx, tx, a.Clock(), *l.Facts.Opening, l.Facts.Hash, new(a.Clock()))
			opened = &who
			if errors.As(err, new(*invalid.Error)) { // somebody has opened one with the address meanwhile
				return web.Reject(http.StatusConflict, "account.there-account-with-this-address")
			}
			return err
		}
		if l.Kind == letterJoin {
			who, err := a.joinByLetter(ctx, tx, &l)
			opened = &who
			return err
		}
		return a.follow(ctx, tx, &l, hash)
	})
	switch {
	case err != nil:
		return nil, taken(err)
	case opened != nil:
		return a.arrive(ctx, *opened)
	case seen.Kind.asks(): // whoever is signed in here signs in anew
		if err := a.sessions.Destroy(ctx); err != nil {
			return nil, err
		}
	}
	return a.session(ctx, nil)
}

// taken is an address that somebody else proved meanwhile.
func taken(err error) error {
	if refused := (*pgconn.PgError)(nil); errors.As(err, &refused) && refused.Code == pgerrcode.UniqueViolation {
		return web.Reject(http.StatusConflict, "account.there-account-with-this-address")
	}
	return err
}

// follow a link of a person: hash is that of their new password, where it takes one.
func (a *Accounts) follow(ctx context.Context, tx pgx.Tx, l *letter, hash string) error {
	person := *l.Person
	ctx = web.WithWho(ctx, web.Actor{Person: person})
	if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
		return err
	}
	var old string
	if err := tx.QueryRow(ctx, `select mail from people where id = $1 for update`, person).Scan(&old); err != nil {
		return err
	}
	now := a.Clock()
	note := func(what web.Event, about string) error { return a.noteAll(ctx, tx, person, what, about) }
	switch l.Kind {
	case letterVerify, letterReset:
		if old != l.Mail { // it was sent to an address that is not theirs any more
			return web.Reject(http.StatusGone, "account.link-over")
		}
	case letterMove:
		if _, err := tx.Exec(ctx, `update people set mail = $2, verified_at = $3 where id = $1`, person, l.Mail,
			now); err != nil {
			return err
		}
		if err := note(web.AddressChanged, l.Mail); err != nil {
			return err
		}
		return a.write(ctx, tx, letter{Kind: letterMoved, Person: &person, Mail: old, Facts: facts{To: l.Mail}})
	}
	if l.Kind == letterVerify {
		if _, err := tx.Exec(ctx, `update people set verified_at = $2 where id = $1`, person, now); err != nil {
			return err
		}
		return note(web.AddressProven, "")
	}
	// A new password: what the old one opened is closed, and other links that set one do nothing any more.
	if _, err := tx.Exec(ctx, `update people set mail = $2, verified_at = $3, password_hash = $4,
			credentials = credentials + 1 where id = $1`, person, l.Mail, now, hash); err != nil {
		return err
	}
	if err := closeAll(ctx, tx, person); err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, `update account_letters set used_at = $2 where person_id = $1 and used_at is null
		and until is not null`, person, now); err != nil {
		return err
	}
	if l.Kind == letterMoved { // whoever took the account may have locked its owner out
		if err := noSecond(ctx, tx, person); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `delete from passkeys where person_id = $1`, person); err != nil {
			return err
		}
		return note(web.AddressKept, l.Mail)
	}
	if err := a.write(ctx, tx, letter{Kind: letterPassword, Person: &person, Mail: l.Mail}); err != nil {
		return err
	}
	return note(web.PasswordReset, "")
}

// closeAll that is open to the person of tx: sessions, and browsers that are known.
func closeAll(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	if _, err := tx.Exec(ctx, `delete from devices where person_id = $1`, person); err != nil {
		return err
	}
	_, err := tx.Exec(ctx, `delete from sessions where person_id = $1`, person)
	return err
}

// noteAll notes an event in every kitchen of the person of tx.
func (a *Accounts) noteAll(ctx context.Context, tx pgx.Tx, person uuid.UUID, what web.Event, about string) error {
	return inEach(ctx, tx, person, func() error { return web.Note(ctx, tx, a.Clock(), what, about) })
}

// inEach kitchen of the person of tx, one after the other.
func inEach(ctx context.Context, tx pgx.Tx, person uuid.UUID, do func() error) error {
	places, err := placesOf(ctx, tx, person)
	if err != nil {
		return err
	}
	for _, at := range places {
		if err := db.Set(ctx, tx, "zt.kitchen", at.Kitchen.String()); err != nil {
			return err
		}
		if err := do(); err != nil {
			return err
		}
	}
	return nil
}

// askReset answers everybody the same: whether an address has an account is told to that address alone.
func (a *Accounts) askReset(ctx context.Context, in *struct {
	Body struct {
		Mail string `json:"mail" maxLength:"200"`
	}
}) (*struct{}, error) {
	if !a.mails() {
		return nil, web.Reject(http.StatusConflict, "account.no-mail-server")
	}
	mail := normal(in.Body.Mail)
	return nil, db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		person, err := personAt(ctx, tx, mail)
		if err != nil || person == nil {
			return err
		}
		return a.write(ctx, tx, letter{Kind: letterReset, Person: person, Mail: mail})
	})
}

// personAt an address; nil where there is none.
func personAt(ctx context.Context, tx pgx.Tx, mail string) (*uuid.UUID, error) {
	if err := db.Set(ctx, tx, "zt.mail", mail); err != nil {
		return nil, err
	}
	var person uuid.UUID
	err := tx.QueryRow(ctx, `select id from people where mail = $1`, mail).Scan(&person)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	return &person, err
}

// ResetLink is the path of a link by which somebody sets a new password, made by whoever runs the server. without: they
// have lost their second step too, and none is asked for any more.
func ResetLink(ctx context.Context, tx pgx.Tx, now time.Time, mail string, without bool) (path string, err error) {
	mail = normal(mail)
	person, err := personAt(ctx, tx, mail)
	if err != nil {
		return "", err
	}
	if person == nil {
		return "", reason.Of("account.nobody-has-this-address", reason.Name(mail))
	}
	if without {
		if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
			return "", err
		}
		if err := noSecond(ctx, tx, *person); err != nil {
			return "", err
		}
	}
	id, secret := db.NewID(), newSecret()
	if err := db.Set(ctx, tx, "zt.letter", id.String()); err != nil {
		return "", err
	}
	_, err = tx.Exec(ctx, `insert into account_letters (id, kind, person_id, mail, state, hash, at, until)
		values ($1, 'reset', $2, $3, 'sent', $4, $5, $6)`, id, *person, mail, stored(secret), now,
		now.Add(works[letterReset]))
	return "/link/" + secret, err
}
