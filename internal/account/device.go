package account

import (
	"context"
	"crypto/rand"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/internal/platform/db"
)

const (
	keptFor     = 180 * 24 * time.Hour // that a browser is known without signing in
	mostDevices = 20                   // of one person: the longest unseen goes
	perDevice   = 30                   // sign-ins of a known browser in a minute
)

// browser is who asks, for the operations that sign in: the cookie of a known one, and where to put one.
type browser struct {
	w      http.ResponseWriter
	cookie string // its name
	token  string // what it holds; empty where it is not known
	secure bool
}

type browserKey struct{}

// withBrowser puts the browser into the context.
func withBrowser(w http.ResponseWriter, r *http.Request, secure bool) (*http.Request, *browser) {
	b := &browser{w: w, cookie: "device", secure: secure}
	if secure {
		b.cookie = "__Host-device"
	}
	if c, err := r.Cookie(b.cookie); err == nil && len(c.Value) == 26 {
		b.token = c.Value
	}
	return r.WithContext(context.WithValue(r.Context(), browserKey{}, b)), b
}

// knownFor tells whether somebody has signed in to an account from the browser before.
func (b *browser) knownFor(ctx context.Context, pool *pgxpool.Pool, mail string) (known bool, err error) {
	if b.token == "" {
		return false, nil
	}
	err = db.Begin(ctx, pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.mail", mail, "zt.device", stored(b.token)); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select exists (select from devices d join people p on p.id = d.person_id
			where d.token = $1 and p.mail = $2)`, stored(b.token), mail).Scan(&known)
	})
	return known, err
}

// remember the browser of who has just signed in; stranger where others are known, and this one is not.
func remember(ctx context.Context, pool *pgxpool.Pool, person uuid.UUID, now time.Time) (stranger bool, err error) {
	b, _ := ctx.Value(browserKey{}).(*browser)
	if b == nil {
		return false, nil
	}
	fresh := rand.Text()
	err = db.Begin(ctx, pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
			return err
		}
		tag, err := tx.Exec(ctx, `update devices set seen = $2 where token = $1`, stored(b.token), now)
		if err != nil || tag.RowsAffected() > 0 {
			fresh = ""
			return err
		}
		if err := tx.QueryRow(ctx, `select exists (select from devices where person_id = $1)`, person).
			Scan(&stranger); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `insert into devices (token, person_id, seen) values ($1, $2, $3)`, stored(fresh),
			person, now); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `delete from devices where person_id = $1 and (seen < $2 or token in (select token
			from devices where person_id = $1 order by seen desc offset $3))`, person, now.Add(-keptFor), mostDevices)
		return err
	})
	if err == nil && fresh != "" {
		http.SetCookie(b.w, &http.Cookie{Name: b.cookie, Value: fresh, Path: "/", MaxAge: int(keptFor / time.Second),
			HttpOnly: true, Secure: b.secure, SameSite: http.SameSiteLaxMode})
	}
	return stranger, err
}

// forgetOthers after a change of the password: only the browser that changed it is still known.
func forgetOthers(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	token := ""
	if b, _ := ctx.Value(browserKey{}).(*browser); b != nil {
		token = stored(b.token)
	}
	_, err := tx.Exec(ctx, `delete from devices where person_id = $1 and token <> $2`, person, token)
	return err
}
