package account

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Invited is where an invitation leads.
type Invited struct {
	Kitchen string    `json:"kitchen"`
	Role    web.Role  `json:"role"`
	By      string    `json:"by" doc:"Who made it"`
	Until   time.Time `json:"until"`
	You     string    `json:"you,omitempty" doc:"Who is signed in, and would join"`
	Here    bool      `json:"here,omitempty" doc:"They work there already"`
}

// found is an invitation and where it leads.
type found struct {
	ID      uuid.UUID
	Kitchen uuid.UUID
	Role    web.Role
	Until   time.Time
	Used    *time.Time
	Ended   *time.Time
	MadeBy  uuid.UUID
}

// invitation by the hash of its link; tx works in its kitchen from then on. The error says why it does nothing any
// more.
func (a *Accounts) invitation(ctx context.Context, tx pgx.Tx, hash, suffix string) (i found, err error) {
	if err := db.Set(ctx, tx, "zt.invitation", hash); err != nil {
		return i, err
	}
	err = tx.QueryRow(ctx, `select kitchen_id from invitations where hash = $1`, hash).Scan(&i.Kitchen)
	if errors.Is(err, pgx.ErrNoRows) {
		return i, web.Reject(http.StatusNotFound, "account.invitation-unknown")
	}
	if err != nil {
		return i, err
	}
	if err := db.Set(ctx, tx, "zt.kitchen", i.Kitchen.String()); err != nil {
		return i, err
	}
	err = tx.QueryRow(ctx, `select id, kitchen_id, role, until, used_at, ended_at, made_by from invitations
		where hash = $1`+suffix, hash).Scan(&i.ID, &i.Kitchen, &i.Role, &i.Until, &i.Used, &i.Ended, &i.MadeBy)
	switch {
	case err != nil:
		return i, err
	case i.Used != nil:
		return i, web.Reject(http.StatusGone, "account.invitation-used")
	case i.Ended != nil || !a.Clock().Before(i.Until):
		return i, web.Reject(http.StatusGone, "account.invitation-over")
	}
	return i, nil
}

func (a *Accounts) lookAtInvitation(ctx context.Context, in *Secret) (*struct{ Body Invited }, error) {
	who, err := a.who(ctx)
	if err != nil {
		return nil, err
	}
	var out Invited
	err = a.as(ctx, who, func(tx pgx.Tx) error {
		i, err := a.invitation(ctx, tx, stored(in.Secret), "")
		if err != nil {
			return err
		}
		out = Invited{Role: i.Role, Until: i.Until}
		return tx.QueryRow(ctx, `select k.name, coalesce((select name from people where id = $1), ''),
			coalesce((select name from people where id = $2), ''), exists (select from memberships where person_id = $2
			and kitchen_id = k.id and left_at is null) from kitchens k where k.id = $3`, i.MadeBy, who.Person,
			i.Kitchen).Scan(&out.Kitchen, &out.By, &out.You, &out.Here)
	})
	return &struct{ Body Invited }{out}, err
}

// followInvitation joins: as whoever is signed in, or with a new account.
func (a *Accounts) followInvitation(ctx context.Context, in *struct {
	Secret
	Body struct {
		Name     string `json:"name,omitempty" maxLength:"1000" doc:"Of a new account, as what follows"`
		Mail     string `json:"mail,omitempty" maxLength:"1000"`
		Password string `json:"password,omitempty" maxLength:"1000"`
	}
}) (*struct{ Body Session }, error) {
	who, err := a.who(ctx)
	if err != nil {
		return nil, err
	}
	hash := stored(in.Secret.Secret)
	if who.Person != uuid.Nil {
		if err := a.as(ctx, who, func(tx pgx.Tx) (err error) {
			who, err = a.comeIn(ctx, tx, hash, who.Person)
			return err
		}); err != nil {
			return nil, err
		}
		return a.goTo(ctx, who)
	}
	o := Opening{Name: in.Body.Name, Mail: in.Body.Mail, Password: in.Body.Password}
	var f invalid.Faults
	o.checkPerson(&f)
	if err := f.Err(); err != nil {
		return nil, err
	}
	made, err := hashed(ctx, o.Password)
	if err != nil {
		return nil, err
	}
	o.Password = ""
	if a.mails() {
		return a.askToJoin(ctx, hash, o, made)
	}
	if err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) (err error) {
		who, err = a.joinAnew(ctx, tx, hash, o, made, nil)
		return err
	}); err != nil {
		return nil, err
	}
	return a.arrive(ctx, who)
}

// arrive with a new account.
func (a *Accounts) arrive(ctx context.Context, who web.Actor) (*struct{ Body Session }, error) {
	if err := a.begin(ctx, who, 1); err != nil {
		return nil, err
	}
	if _, err := remember(ctx, a.Pool, who.Person, a.Clock()); err != nil {
		return nil, err
	}
	return a.answer(ctx, who)
}

// joinAnew makes an account that joins by an invitation.
func (a *Accounts) joinAnew(ctx context.Context, tx pgx.Tx, hash string, o Opening, made string, proven *time.Time) (
	who web.Actor, err error) {
	if _, err := a.invitation(ctx, tx, hash, ""); err != nil { // before an address is asked after
		return who, err
	}
	person, err := newPerson(ctx, tx, a.Clock(), o, made, proven)
	if err != nil {
		return who, err
	}
	if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
		return who, err
	}
	return a.comeIn(ctx, tx, hash, person)
}

// comeIn an invitation, once, as the person of tx: they work in its kitchen from then on, and its owners are told.
func (a *Accounts) comeIn(ctx context.Context, tx pgx.Tx, hash string, person uuid.UUID) (who web.Actor, err error) {
	i, err := a.invitation(ctx, tx, hash, " for update")
	if err != nil {
		return who, err
	}
	who = web.Actor{Person: person, Kitchen: i.Kitchen, Role: i.Role}
	var here bool
	if err := tx.QueryRow(ctx, `select exists (select from memberships where person_id = $1 and kitchen_id = $2
		and left_at is null)`, person, i.Kitchen).Scan(&here); err != nil {
		return who, err
	}
	if here {
		return who, web.Reject(http.StatusConflict, "account.works-here-already")
	}
	now := a.Clock()
	if _, err := tx.Exec(ctx, `update invitations set used_at = $2 where id = $1`, i.ID, now); err != nil {
		return who, err
	}
	if err := join(ctx, tx, now, who); err != nil {
		return who, err
	}
	if err := web.Note(web.WithWho(ctx, who), tx, now, web.Joined, ""); err != nil {
		return who, err
	}
	var told facts
	if err := tx.QueryRow(ctx, `select p.name, k.name from people p, kitchens k where p.id = $1 and k.id = $2`, person,
		i.Kitchen).Scan(&told.Name, &told.Kitchen); err != nil {
		return who, err
	}
	told.Role = i.Role
	rows, err := tx.Query(ctx, `select p.id, p.mail from memberships m join people p on p.id = m.person_id
		where m.kitchen_id = $1 and m.role = 'owner' and m.left_at is null and p.id <> $2`, i.Kitchen, person)
	if err != nil {
		return who, err
	}
	owners, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (l letter, err error) {
		l = letter{Kind: letterJoined, Person: new(uuid.UUID), Facts: told}
		err = row.Scan(l.Person, &l.Mail)
		return l, err
	})
	for _, l := range owners {
		if err := a.write(ctx, tx, l); err != nil {
			return who, err
		}
	}
	return who, err
}

// askToJoin where letters are sent: the account is made by the link of one, as askToOpen has it.
func (a *Accounts) askToJoin(ctx context.Context, hash string, o Opening, made string) (*struct{ Body Session },
	error) {
	mail := normal(o.Mail)
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		i, err := a.invitation(ctx, tx, hash, "")
		if err != nil {
			return err
		}
		l := letter{Kind: letterJoin, Mail: mail, Facts: facts{Opening: &o, Hash: made, Joins: hash}}
		if err := tx.QueryRow(ctx, `select name, country, time_zone from kitchens where id = $1`, i.Kitchen).
			Scan(&l.Facts.Kitchen, &o.Country, &o.TimeZone); err != nil {
			return err
		}
		person, err := personAt(ctx, tx, mail)
		if err != nil {
			return err
		}
		if person != nil {
			l.Kind, l.Facts = letterKnown, facts{Opening: &Opening{Country: o.Country, TimeZone: o.TimeZone}}
		}
		return a.write(ctx, tx, l)
	})
	return &struct{ Body Session }{Session{Now: a.Clock(), Mails: true, Mailed: true, Demo: a.demo}}, err
}

// joinByLetter makes the account that a letter was asked for.
func (a *Accounts) joinByLetter(ctx context.Context, tx pgx.Tx, l *letter) (web.Actor, error) {
	who, err := a.joinAnew(ctx, tx, l.Facts.Joins, *l.Facts.Opening, l.Facts.Hash, new(a.Clock()))
	if errors.As(err, new(*invalid.Error)) { // somebody has made one with the address meanwhile
		err = web.Reject(http.StatusConflict, "account.there-account-with-this-address")
	}
	return who, err
}
