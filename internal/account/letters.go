package account

import (
	"context"
	"crypto/rand"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// letterKind is what a letter of an account is about.
type letterKind string

const (
	letterOpen     letterKind = "open"     // opens a kitchen that was asked for
	letterKnown    letterKind = "known"    // somebody wanted to open one with an address that has an account
	letterVerify   letterKind = "verify"   // proves an address
	letterMove     letterKind = "move"     // to a new address, which proves it
	letterMoved    letterKind = "moved"    // to the old one, which can take the change back
	letterReset    letterKind = "reset"    // a new password
	letterPassword letterKind = "password" // the password was changed
	letterDevice   letterKind = "device"   // a sign-in from a browser that is not known
	letterSecond   letterKind = "second"   // the second step at the door was switched off
	letterLeaving  letterKind = "leaving"  // the kitchen is to go
	letterJoin     letterKind = "join"     // makes an account that joins a kitchen
	letterJoined   letterKind = "joined"   // to the owners: somebody has joined
	letterRemoved  letterKind = "removed"  // somebody works in a kitchen no longer
	letterPasskey  letterKind = "passkey"  // one was added
	letterGuesses  letterKind = "guesses"  // somebody tries to sign in, again and again
)

// works is how long the link of a letter does.
var works = map[letterKind]time.Duration{letterOpen: 24 * time.Hour, letterVerify: 3 * 24 * time.Hour,
	letterMove: 24 * time.Hour, letterJoin: 24 * time.Hour, letterMoved: 7 * 24 * time.Hour,
	letterReset: 30 * time.Minute}

// mostLetters of those that anybody can ask for, to one address in an hour; what is asked beyond that is answered as
// ever, and not sent. What a person is told of their own account is always sent: nobody can use the others up first.
const mostLetters = 5

var asked = []letterKind{letterOpen, letterKnown, letterVerify, letterMove, letterReset, letterJoin}

// facts of a letter that its person does not know.
type facts struct {
	Opening *Opening `json:"opening,omitempty"` // without its password
	Hash    string   `json:"hash,omitempty"`    // of that
	To      string   `json:"to,omitempty"`      // the new address
	Address string   `json:"address,omitempty"` // of the network
	Browser string   `json:"browser,omitempty"`
	Kitchen string   `json:"kitchen,omitempty"`
	Name    string   `json:"name,omitempty"` // of a helper, or of a passkey
	Role    web.Role `json:"role,omitempty"`
	Joins   string   `json:"joins,omitempty"` // hash of the invitation that is followed
}

// letter of an account.
type letter struct {
	ID     uuid.UUID
	Kind   letterKind
	Person *uuid.UUID
	Mail   string
	Facts  facts
	At     time.Time
	Until  *time.Time
	Used   *time.Time
}

// letterJob sends one.
type letterJob struct{ Letter uuid.UUID }

func (letterJob) Kind() string   { return "account-letter" }
func (letterJob) Who() web.Actor { return web.Actor{} }

// mails says whether letters of accounts arrive: there is a mail server, and it is known what links begin with.
func (a *Accounts) mails() bool { return a.Mailer != nil && !a.Mailer.Pretends() && a.Public != "" }

// write a letter, to be sent once tx is through. tx works as the person it is for, or in the name of its address.
func (a *Accounts) write(ctx context.Context, tx pgx.Tx, l letter) error {
	if !a.mails() || goesNowhere(l.Mail) {
		return nil
	}
	if err := db.Set(ctx, tx, "zt.mail", l.Mail); err != nil {
		return err
	}
	now, sent := a.Clock(), 0
	if slices.Contains(asked, l.Kind) {
		if err := tx.QueryRow(ctx, `select count(*) from account_letters where mail = $1 and at > $2 and kind = any($3)`,
			l.Mail, now.Add(-time.Hour), asked).Scan(&sent); err != nil || sent >= mostLetters {
			return err
		}
	}
	l.ID, l.At = db.NewID(), now
	if d := works[l.Kind]; d > 0 {
		l.Until = new(now.Add(d))
	}
	if err := db.Set(ctx, tx, "zt.letter", l.ID.String()); err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, `insert into account_letters (id, kind, person_id, mail, facts, at, until)
		values ($1, $2, $3, $4, $5, $6, $7)`, l.ID, l.Kind, l.Person, l.Mail, l.Facts, l.At, l.Until); err != nil {
		return err
	}
	return a.Jobs.Put(ctx, tx, letterJob{l.ID}, time.Time{})
}

const selectLetter = `select id, kind, person_id, mail, facts, at, until, used_at from account_letters where `

// newSecret of a link: 130 bits.
func newSecret() string { return rand.Text() }

// named is a letter by its id or the hash of its link.
func named(ctx context.Context, tx pgx.Tx, name, where string) (l letter, err error) {
	if err := db.Set(ctx, tx, "zt.letter", name); err != nil {
		return l, err
	}
	rows, err := tx.Query(ctx, selectLetter+where, name)
	if err != nil {
		return l, err
	}
	return pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[letter])
}

// deliver a letter. That it is being sent stands in the database before the mail server is spoken to: one that was
// broken off is not sent again, since whoever waits for it can ask for another.
func (a *Accounts) deliver(ctx context.Context, j letterJob) error {
	if a.Mailer == nil {
		return nil
	}
	var l letter
	secret := ""
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) (err error) {
		if l, err = named(ctx, tx, j.Letter.String(), `id::text = $1 and state = 'waiting' for update`); err != nil {
			return err
		}
		var hash *string
		if l.Until != nil {
			secret = newSecret()
			hash = new(stored(secret))
		}
		_, err = tx.Exec(ctx, `update account_letters set state = 'sending', hash = $2 where id = $1`, l.ID, hash)
		return err
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil
	}
	if err != nil {
		return err
	}
	words, zone, err := a.tongueOf(ctx, &l)
	if err != nil {
		return err
	}
	subject, body := l.say(words, zone, a.Public, secret)
	result := a.Mailer.Send(ctx, post.Letter{ID: l.ID, From: "Zesty Tin", ReplyTo: a.Mailer.Sender(), To: l.Mail,
		Subject: subject, Body: body, At: l.At})
	state := map[post.Outcome]string{post.Sent: "sent", post.Unsure: "sent", post.Later: "waiting"}[result.Outcome]
	if state == "" {
		state = "failed"
	}
	after, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	if err := db.Begin(after, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(after, tx, "zt.letter", l.ID.String()); err != nil {
			return err
		}
		_, err := tx.Exec(after, `update account_letters set state = $2 where id = $1`, l.ID, state)
		return err
	}); err != nil {
		return err
	}
	if state == "waiting" {
		return jobs.NotBefore(a.Clock().Add(time.Minute))
	}
	return nil
}

// TellLeaving that the kitchen of tx is to go, to everybody who works in it.
func (a *Accounts) TellLeaving(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select p.id, p.mail, k.name from memberships m join people p on p.id = m.person_id
		join kitchens k on k.id = m.kitchen_id where m.left_at is null`)
	if err != nil {
		return err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (l letter, err error) {
		l.Person, l.Kind = new(uuid.UUID), letterLeaving
		err = row.Scan(l.Person, &l.Mail, &l.Facts.Kitchen)
		return l, err
	})
	for _, l := range list {
		if err := a.write(ctx, tx, l); err != nil {
			return err
		}
	}
	return err
}

// tongueOf whoever gets a letter, and the clock of their first kitchen.
func (a *Accounts) tongueOf(ctx context.Context, l *letter) (*text.Words, *time.Location, error) {
	if o := l.Facts.Opening; o != nil {
		zone, err := time.LoadLocation(o.TimeZone)
		return text.For(o.Country == "US"), zone, err
	}
	words, zone := text.For(false), time.UTC
	if l.Person == nil {
		return words, zone, nil
	}
	err := a.as(ctx, web.Actor{Person: *l.Person}, func(tx pgx.Tx) error {
		places, err := placesOf(ctx, tx, *l.Person)
		if err != nil || len(places) == 0 {
			return err
		}
		if err := db.Set(ctx, tx, "zt.kitchen", places[0].Kitchen.String()); err != nil {
			return err
		}
		if words, err = web.Words(ctx, tx); err != nil {
			return err
		}
		k, _, err := Load(ctx, tx)
		zone = k.Zone()
		return err
	})
	return words, zone, err
}

// say a letter: its subject and its body.
func (l *letter) say(w *text.Words, zone *time.Location, public, secret string) (subject, body string) {
	link := reason.Name(public + "/link/" + secret)
	door := reason.Name(public)
	at := l.At.In(zone)
	when := reason.Name(w.Time(at) + ", " + w.Value(reason.Day(at.Format(time.DateOnly))))
	switch l.Kind {
	case letterOpen:
		return w.Of("account.letter-open"), w.Of("account.letter-open-body", reason.Name(l.Facts.Opening.Kitchen), link)
	case letterKnown:
		return w.Of("account.letter-known"), w.Of("account.letter-known-body", door)
	case letterVerify:
		return w.Of("account.letter-verify"), w.Of("account.letter-verify-body", link)
	case letterMove:
		return w.Of("account.letter-move"), w.Of("account.letter-move-body", link)
	case letterMoved:
		return w.Of("account.letter-moved"), w.Of("account.letter-moved-body", reason.Name(l.Facts.To), link)
	case letterReset:
		return w.Of("account.letter-reset"), w.Of("account.letter-reset-body", link)
	case letterPassword:
		return w.Of("account.letter-password"), w.Of("account.letter-password-body", when, door)
	case letterLeaving:
		return w.Of("account.letter-leaving"), w.Of("account.letter-leaving-body", reason.Name(l.Facts.Kitchen), door)
	case letterJoin:
		return w.Of("account.letter-join", reason.Name(l.Facts.Kitchen)),
			w.Of("account.letter-join-body", reason.Name(l.Facts.Kitchen), link)
	case letterJoined:
		return w.Of("account.letter-joined", reason.Name(l.Facts.Name), reason.Name(l.Facts.Kitchen)),
			w.Of("account.letter-joined-body", reason.Name(l.Facts.Name), reason.Name(l.Facts.Kitchen),
				reason.Word(l.Facts.Role), door)
	case letterRemoved:
		return w.Of("account.letter-removed", reason.Name(l.Facts.Kitchen)),
			w.Of("account.letter-removed-body", reason.Name(l.Facts.Kitchen))
	case letterGuesses:
		return w.Of("account.letter-guesses"), w.Of("account.letter-guesses-body", reason.Name(l.Facts.Address), door)
	case letterPasskey:
		return w.Of("account.letter-passkey"),
			w.Of("account.letter-passkey-body", when, reason.Name(l.Facts.Name), door)
	case letterSecond:
		return w.Of("account.letter-second"), w.Of("account.letter-second-body", when, door)
	case letterDevice:
		return w.Of("account.letter-device"), w.Of("account.letter-device-body", when, reason.Name(l.Facts.Browser),
			reason.Name(l.Facts.Address), door)
	}
	return "", ""
}
