package account

import (
	"context"

	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// PasswordChange needs the present one.
type PasswordChange struct {
	Present string `json:"present"`
	New     string `json:"new"`
}

func (a *Accounts) changePassword(ctx context.Context, in *struct{ Body PasswordChange }) (*struct{}, error) {
	who := web.ActorOf(ctx)
	var hash, mail string
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		return tx.QueryRow(ctx, `select password_hash, mail from people where id = $1`, who.Person).Scan(&hash, &mail)
	})
	if err != nil {
		return nil, err
	}
	var f invalid.Faults
	password(&f, "new", in.Body.New, mail)
	if err := f.Err(); err != nil {
		return nil, err
	}
	match, err := matches(ctx, in.Body.Present, hash)
	if err != nil {
		return nil, err
	}
	if !match {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "present",
			Err: reason.Of("account.this-not-your-present-password")}}}
	}
	fresh, err := hashed(ctx, in.Body.New)
	if err != nil {
		return nil, err
	}
	var credentials int
	err = a.as(ctx, who, func(tx pgx.Tx) error {
		if err := forgetOthers(ctx, tx, who.Person); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `delete from sessions where person_id = $1 and token <> $2`, who.Person,
			stored(a.sessions.Token(ctx))); err != nil {
			return err
		}
		if err := a.noteAll(ctx, tx, who.Person, web.PasswordChanged, ""); err != nil {
			return err
		}
		if err := a.write(ctx, tx, letter{Kind: letterPassword, Person: &who.Person, Mail: mail}); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `update people set password_hash = $2, credentials = credentials + 1 where id = $1
			and password_hash = $3 returning credentials`, who.Person, fresh, hash).Scan(&credentials)
	})
	if err != nil {
		return nil, err
	}
	return nil, a.begin(ctx, who, credentials)
}
