package demo

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/message"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// messages that the kitchen tells by itself from now on, and what it has told of late.
func (k *kitchen) messages(ctx context.Context, tx pgx.Tx) error {
	type told struct {
		message.Rule
		Way message.Way `json:"way"`
	}
	kinds := map[message.Kind]told{}
	for kind, way := range map[message.Kind]message.Way{message.DayBefore: message.Mail, message.OnTheWay: message.Text,
		message.Thanks: message.Mail} {
		rule := message.Usual(kind)
		rule.On, rule.Since = true, k.now
		kinds[kind] = told{rule, way}
	}
	who := web.ActorOf(ctx)
	if _, err := tx.Exec(ctx, `insert into message_settings (kitchen_id, kinds) values ($1, $2)`, who.Kitchen,
		kinds); err != nil {
		return err
	}
	rows, err := tx.Query(ctx, `select id, customer, from_at from orders where state = 'settled' and from_at < $1
		order by from_at desc limit 3`, k.now.AddDate(0, 0, -1))
	if err != nil {
		return err
	}
	type over struct {
		ID       string
		Customer string
		From     time.Time
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[over])
	if err != nil {
		return err
	}
	for _, o := range list {
		at := o.From.AddDate(0, 0, 1)
		name := strings.Fields(strings.ToLower(o.Customer))[0]
		if _, err := tx.Exec(ctx, `insert into messages (kitchen_id, id, order_id, kind, cause, way, whom, address, subject,
				body, state, created_at, due_at, changed_at)
			values ($1, $2, $3, 'thanks', 'handed over', 'mail', $4, $5, $6, $7, 'sent', $8, $8, $8)`,
			who.Kitchen, db.NewID(), o.ID, o.Customer, name+"@lakeside.example", "Thank you from Maren's kitchen", fmt.Sprintf("Hello %s,\n\nthank you for your "+
				"order. I hope it was just right.\n\nIf something was not, please tell me: just reply.\n\nBest wishes\nMaren's kitchen",
				o.Customer), at); err != nil {
			return err
		}
	}
	return nil
}
