package account

import (
	"context"
	"errors"
	"net/http"
	"net/mail"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/mileusna/useragent"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Account of a person: what is theirs, whichever kitchen they work in.
type Account struct {
	Name     string        `json:"name" minLength:"1" maxLength:"100"`
	Mail     string        `json:"mail"`
	Proven   *time.Time    `json:"proven,omitempty" doc:"When it was proven that letters to the address arrive"`
	Mails    bool          `json:"mails" doc:"This server sends letters: addresses are proven, and passwords reset by them"`
	Second   SecondStep    `json:"second"`
	Passkeys []Passkey     `json:"passkeys"`
	CanHave  bool          `json:"canHavePasskeys" doc:"This address can have some: it is a name, reached over TLS, or this computer's"`
	Sessions []OpenSession `json:"sessions" doc:"Where one is signed in, the last used first"`
}

// OpenSession is somewhere where one is signed in.
type OpenSession struct {
	ID      uuid.UUID `json:"id"`
	Browser string    `json:"browser,omitempty" doc:"Empty where it does not say"`
	System  string    `json:"system,omitempty" doc:"That the browser runs on"`
	Address string    `json:"address,omitempty" doc:"Of the network"`
	Began   time.Time `json:"began"`
	Seen    time.Time `json:"seen" doc:"Within an hour"`
	This    bool      `json:"this" doc:"The one that asks"`
}

// browserOf what a browser says it is, and the system that it runs on.
func browserOf(agent string) (name, system string) {
	ua := useragent.Parse(agent)
	return ua.Name, ua.OS
}

func normal(mail string) string { return strings.ToLower(strings.TrimSpace(mail)) }

func (a *Accounts) account(ctx context.Context, _ *struct{}) (*struct{ Body Account }, error) {
	who := web.ActorOf(ctx)
	out := Account{Mails: a.mails(), CanHave: a.relying(ctx) != nil}
	here := stored(a.sessions.Token(ctx))
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, `select name, mail, verified_at, totp_since, (select count(*) from recovery_codes c
				where c.person_id = people.id and c.used_at is null) from people where id = $1`, who.Person).
			Scan(&out.Name, &out.Mail, &out.Proven, &out.Second.Since, &out.Second.Left)
		if err != nil {
			return err
		}
		if out.Passkeys, err = passkeysOf(ctx, tx, who.Person); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select id, agent, address, coalesce(began_at, seen, now()),
				coalesce(seen, began_at, now()), token = $2 from sessions
			where person_id = $1 and expiry > current_timestamp order by token = $2 desc, seen desc nulls last limit 100`,
			who.Person, here)
		if err != nil {
			return err
		}
		out.Sessions, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (s OpenSession, err error) {
			var agent string
			err = row.Scan(&s.ID, &agent, &s.Address, &s.Began, &s.Seen, &s.This)
			s.Browser, s.System = browserOf(agent)
			return s, err
		})
		return err
	})
	return &struct{ Body Account }{out}, err
}

func (a *Accounts) rename(ctx context.Context, in *struct {
	Body struct {
		Name string `json:"name" maxLength:"100"`
	}
}) (*struct{}, error) {
	var f invalid.Faults
	words(&f, "name", in.Body.Name, reason.Of("account.write-your-name"))
	if err := f.Err(); err != nil {
		return nil, err
	}
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `update people set name = $2 where id = $1`, who.Person, strings.TrimSpace(in.Body.Name))
		return err
	})
}

// Moved is what became of a change of address.
type Moved struct {
	Sent bool `json:"sent" doc:"It counts once the link that was sent there is followed; otherwise it counts now"`
}

// move to another address: where letters arrive, by a link that is sent there.
func (a *Accounts) move(ctx context.Context, in *struct {
	Body struct {
		Mail string `json:"mail" maxLength:"200"`
	}
}) (*struct{ Body Moved }, error) {
	to := normal(in.Body.Mail)
	if _, err := mail.ParseAddress(to); err != nil {
		return nil, invalid.At("mail", reason.Of("account.not-mail-address-write-like", reason.Name(in.Body.Mail)))
	}
	who := web.ActorOf(ctx)
	out := Moved{Sent: a.mails()}
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		var present string
		err := tx.QueryRow(ctx, `select mail from people where id = $1 for update`, who.Person).Scan(&present)
		if err != nil || present == to {
			return err
		}
		if goesNowhere(present) {
			return web.Reject(http.StatusConflict, "account.is-to-try")
		}
		other, err := personAt(ctx, tx, to)
		switch {
		case err != nil:
			return err
		case other != nil && a.mails(): // told to that address alone
			return a.write(ctx, tx, letter{Kind: letterKnown, Person: &who.Person, Mail: to})
		case other != nil:
			return invalid.At("mail", reason.Of("account.there-account-with-this-address"))
		case a.mails():
			return a.write(ctx, tx, letter{Kind: letterMove, Person: &who.Person, Mail: to})
		}
		if _, err := tx.Exec(ctx, `update people set mail = $2, verified_at = null where id = $1`, who.Person,
			to); err != nil {
			return err
		}
		return a.noteAll(ctx, tx, who.Person, web.AddressChanged, to)
	})
	return &struct{ Body Moved }{out}, err
}

// verify the address that one has, by a letter.
func (a *Accounts) verify(ctx context.Context, _ *struct{}) (*struct{}, error) {
	if !a.mails() {
		return nil, web.Reject(http.StatusConflict, "account.no-mail-server")
	}
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		var mail string
		var proven *time.Time
		err := tx.QueryRow(ctx, `select mail, verified_at from people where id = $1`, who.Person).Scan(&mail, &proven)
		if err != nil || proven != nil {
			return err
		}
		return a.write(ctx, tx, letter{Kind: letterVerify, Person: &who.Person, Mail: mail})
	})
}

// endSession of one's own, wherever it is.
func (a *Accounts) endSession(ctx context.Context, in *web.ID) (*struct{}, error) {
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		var agent string
		err := tx.QueryRow(ctx, `delete from sessions where id = $1 and person_id = $2 returning agent`, in.ID,
			who.Person).Scan(&agent)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("session")
		}
		if err != nil {
			return err
		}
		name, _ := browserOf(agent)
		return a.noteAll(ctx, tx, who.Person, web.SessionEnded, name)
	})
}

// endOthers but the session that asks.
func (a *Accounts) endOthers(ctx context.Context, _ *struct{}) (*struct{}, error) {
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `delete from sessions where person_id = $1 and token <> $2`, who.Person,
			stored(a.sessions.Token(ctx)))
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		return a.noteAll(ctx, tx, who.Person, web.SessionEnded, "")
	})
}

// sure is how long after somebody said who they are they are not asked again.
const sure = 10 * time.Minute

// isSure says whether who asks has said so lately.
func (a *Accounts) isSure(ctx context.Context) bool {
	at, err := strconv.ParseInt(a.sessions.GetString(ctx, "sure"), 10, 64)
	return err == nil && a.Clock().Sub(time.Unix(at, 0)) < sure
}

func (a *Accounts) beSure(ctx context.Context) {
	a.sessions.Put(ctx, "sure", strconv.FormatInt(a.Clock().Unix(), 10))
}

// confirm that it is still the one who signed in.
func (a *Accounts) confirm(ctx context.Context, in *struct {
	Body struct {
		Password string `json:"password" maxLength:"1000"`
	}
}) (*struct{}, error) {
	who := web.ActorOf(ctx)
	var hash string
	if err := a.as(ctx, who, func(tx pgx.Tx) error {
		return tx.QueryRow(ctx, `select password_hash from people where id = $1`, who.Person).Scan(&hash)
	}); err != nil {
		return nil, err
	}
	match, err := matches(ctx, in.Body.Password, hash)
	if err != nil {
		return nil, err
	}
	if !match {
		return nil, invalid.At("password", reason.Of("account.this-not-your-present-password"))
	}
	a.beSure(ctx)
	return nil, nil
}

// SecurityEvent as it is shown.
type SecurityEvent struct {
	At      time.Time `json:"at"`
	What    web.Event `json:"what"`
	Who     string    `json:"who,omitempty"`
	Browser string    `json:"browser,omitempty"`
	System  string    `json:"system,omitempty"`
	Address string    `json:"address,omitempty" doc:"Of the network"`
	About   string    `json:"about,omitempty"`
}

// SecurityLog of a kitchen.
type SecurityLog struct {
	Events []SecurityEvent `json:"events" doc:"The last first"`
	Days   int             `json:"days" doc:"That it is kept"`
}

// KeptDays that the log is.
const KeptDays = 180

func (a *Accounts) securityLog(ctx context.Context, _ *struct{}) (*struct{ Body SecurityLog }, error) {
	out := SecurityLog{Days: KeptDays}
	err := a.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select e.at, e.what, coalesce(p.name, ''), e.agent, e.address, e.about
			from security_events e left join people p on p.id = e.person_id order by e.at desc, e.id desc limit 500`)
		if err != nil {
			return err
		}
		out.Events, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (e SecurityEvent, err error) {
			var agent string
			err = row.Scan(&e.At, &e.What, &e.Who, &agent, &e.Address, &e.About)
			e.Browser, e.System = browserOf(agent)
			return e, err
		})
		return err
	})
	return &struct{ Body SecurityLog }{out}, err
}

// guesses are so many minutes of an hour in which somebody failed to sign in that their owner is told, once a day.
const guesses = 5

// failed to sign in: noted for the kitchens of whom it was tried, once a minute from one address.
func (a *Accounts) failed(ctx context.Context, person uuid.UUID) error {
	return a.as(ctx, web.Actor{Person: person}, func(tx pgx.Tx) error {
		if err := a.noteFailure(ctx, tx, person); err != nil {
			return err
		}
		now := a.Clock()
		var many, told bool
		var mail string
		err := tx.QueryRow(ctx, `select mail, (select count(*) >= $3 from security_events where what = $2
				and person_id = $1 and at > $4),
				exists (select from account_letters where person_id = $1 and kind = $5 and at > $6)
			from people where id = $1`, person, web.Failed, guesses, now.Add(-time.Hour), letterGuesses,
			now.Add(-24*time.Hour)).Scan(&mail, &many, &told)
		if err != nil || !many || told {
			return err
		}
		return a.write(ctx, tx, letter{Kind: letterGuesses, Person: &person, Mail: mail,
			Facts: facts{Address: web.CallerOf(ctx).Address}})
	})
}

// noteFailure in every kitchen of the person of tx.
func (a *Accounts) noteFailure(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	return inEach(ctx, tx, person, func() error {
		now, lately := a.Clock(), false
		err := tx.QueryRow(ctx, `select exists (select from security_events where what = $1 and address = $2
			and at > $3)`, web.Failed, web.CallerOf(ctx).Address, now.Add(-time.Minute)).Scan(&lately)
		if err != nil || lately {
			return err
		}
		return web.Note(web.WithWho(ctx, web.Actor{Person: person}), tx, now, web.Failed, "")
	})
}
