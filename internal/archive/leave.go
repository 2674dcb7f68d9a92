package archive

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgerrcode"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Way back from leaving.
const wayBack = 7 * 24 * time.Hour

// Leaving is when a kitchen goes.
type Leaving struct {
	At time.Time `json:"at" doc:"Until then it can be kept"`
}

func (a *Archive) leave(ctx context.Context, _ *struct{}) (*struct{ Body Leaving }, error) {
	var out Leaving
	err := a.In(ctx, func(tx pgx.Tx) error {
		var at *time.Time
		if err := tx.QueryRow(ctx, `select gone_at from kitchens for update`).Scan(&at); err != nil {
			return err
		}
		if at != nil { // it has been said
			out.At = *at
			return nil
		}
		out.At = a.Clock().Add(wayBack)
		if _, err := tx.Exec(ctx, `update kitchens set gone_at = $1`, out.At); err != nil {
			return err
		}
		if err := web.Note(ctx, tx, a.Clock(), web.Leaving, ""); err != nil {
			return err
		}
		return a.Tell(ctx, tx)
	})
	return &struct{ Body Leaving }{out}, err
}

func (a *Archive) stay(ctx context.Context, _ *struct{}) (*struct{}, error) {
	return nil, a.In(ctx, func(tx pgx.Tx) error {
		var toTry bool
		if err := tx.QueryRow(ctx, `select to_try from kitchens for update`).Scan(&toTry); err != nil {
			return err
		}
		if toTry {
			return web.Reject(http.StatusConflict, "archive.kitchen-is-to-try")
		}
		tag, err := tx.Exec(ctx, `update kitchens set gone_at = null where gone_at is not null`)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		return web.Note(ctx, tx, a.Clock(), web.Staying, "")
	})
}

// Round lets the kitchen of tx go where its week is over: true where it is gone. With it go all its rows, and owners
// who work in no other kitchen; helpers keep their account. What was written in backups before stays there until those
// are thrown away.
func (a *Archive) Round(ctx context.Context, tx pgx.Tx) (gone bool, err error) {
	err = tx.QueryRow(ctx, `select coalesce(gone_at <= $1, false) from kitchens for update`, a.Clock()).Scan(&gone)
	if errors.Is(err, pgx.ErrNoRows) { // another server was faster
		return true, nil
	}
	if err != nil || !gone {
		return false, err
	}
	rows, err := tx.Query(ctx, `select person_id from memberships where kitchen_id = zt_kitchen()
		and left_at is null and role = 'owner'`)
	if err != nil {
		return false, err
	}
	people, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	if err != nil {
		return false, err
	}
	list, err := tables(ctx, tx)
	if err != nil {
		return false, err
	}
	if _, err := tx.Exec(ctx, `set constraints all deferred`); err != nil {
		return false, err
	}
	for _, t := range append(list, left()...) {
		if _, err := tx.Exec(ctx, `delete from `+pgx.Identifier{t.Name}.Sanitize()); err != nil {
			return false, err
		}
	}
	if _, err := tx.Exec(ctx, `delete from kitchens where id = zt_kitchen()`); err != nil {
		return false, err
	}
	if _, err := tx.Exec(ctx, `set constraints all immediate`); err != nil {
		return false, err
	}
	for _, p := range people {
		if err := Forget(ctx, tx, p); err != nil {
			return false, err
		}
	}
	return true, nil
}

// left are the tables that stand in no file.
func left() (list []table) {
	for _, name := range leftOut {
		list = append(list, table{Name: name})
	}
	return list
}

// Forget a person who works in no kitchen any more. One whose name stands beside what they did in a kitchen that goes
// on stays there as somebody without address or password.
func Forget(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
		return err
	}
	var elsewhere bool
	if err := tx.QueryRow(ctx, `select exists (select from memberships where person_id = $1
		and left_at is null)`, person).
		Scan(&elsewhere); err != nil || elsewhere {
		return err
	}
	for _, name := range []string{"sessions", "devices", "recovery_codes", "passkeys", "account_letters"} {
		if _, err := tx.Exec(ctx, `delete from `+name+` where person_id = $1`, person); err != nil {
			return err
		}
	}
	inner, err := tx.Begin(ctx)
	if err != nil {
		return err
	}
	tag, err := inner.Exec(ctx, `delete from people where id = $1`, person)
	var refused *pgconn.PgError
	switch {
	case err == nil && tag.RowsAffected() == 1:
		return inner.Commit(ctx)
	case err != nil && (!errors.As(err, &refused) || refused.Code != pgerrcode.ForeignKeyViolation):
		return err
	}
	if err := inner.Rollback(ctx); err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `update people set mail = $1 || '@gone.invalid', name = '–', password_hash = '', totp = null,
		totp_since = null, verified_at = null, credentials = credentials + 1 where id = $1`, person.String())
	return err
}
