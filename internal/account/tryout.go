package account

import (
	"context"
	"crypto/rand"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

const (
	tryingOut = 24 * time.Hour  // that a visitor's kitchen stays
	nowhere   = "@demo.invalid" // addresses of visitors: no letter goes there (RFC 2606)
)

// fillingAtATime is how many kitchens for visitors are filled at once.
var fillingAtATime = make(chan struct{}, 2)

// tryOut gives a visitor a kitchen with something in it, for a day. Nothing leaves it: no letter, no message.
func (a *Accounts) tryOut(ctx context.Context, _ *struct{}) (*struct{ Body Session }, error) {
	if a.Fill == nil {
		return nil, web.Reject(http.StatusNotFound, "account.nothing-to-try")
	}
	select {
	case fillingAtATime <- struct{}{}:
		defer func() { <-fillingAtATime }()
	default:
		return nil, web.Later(http.StatusTooManyRequests, "web.server-is-busy", 5*time.Second)
	}
	mail := strings.ToLower(rand.Text()) + nowhere
	if err := a.Fill(ctx, mail); err != nil {
		return nil, err
	}
	var who web.Actor
	err := db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		person, err := personAt(ctx, tx, mail)
		if err != nil || person == nil {
			return err
		}
		if err := db.Set(ctx, tx, "zt.person", person.String()); err != nil {
			return err
		}
		if who, err = entry(ctx, tx, *person); err != nil || who.Kitchen == uuid.Nil {
			return err
		}
		if err := db.Set(ctx, tx, "zt.kitchen", who.Kitchen.String()); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update kitchens set to_try = true, gone_at = $1`, a.Clock().Add(tryingOut))
		return err
	})
	if err == nil && who.Kitchen == uuid.Nil {
		err = web.Reject(http.StatusNotFound, "account.nothing-to-try")
	}
	if err != nil {
		return nil, err
	}
	if err := a.begin(ctx, who, 1); err != nil {
		return nil, err
	}
	return a.answer(ctx, who)
}

// goesNowhere says whether an address is a visitor's.
func goesNowhere(mail string) bool { return strings.HasSuffix(mail, nowhere) }
