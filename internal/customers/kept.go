package customers

import (
	"context"
	"encoding/json"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// atOnce is how many customers are forgotten in one round: the others are in the next.
const atOnce = 25

// Lapse forgets customers whose last handover was longer ago than the kitchen keeps them. Whoever has an order that is
// not over, or has not paid, is kept.
func (c *Customers) Lapse(ctx context.Context, tx pgx.Tx) error {
	var months int
	if err := tx.QueryRow(ctx, `select customers_kept from kitchens`).Scan(&months); err != nil || months == 0 {
		return err
	}
	words, err := web.Words(ctx, tx)
	if err != nil {
		return err
	}
	instead := forgotten(text.With(ctx, words))
	rows, err := tx.Query(ctx, `select name from (
			select min(customer) as name, lower(customer) as key from orders group by lower(customer)
			having max(to_at) < $1 and bool_and(state in ('enquiry', 'quoted', 'settled', 'cancelled'))
			union all select name, lower(name) from customers k where at < $1
			and not exists (select from orders o where lower(o.customer) = lower(k.name))) x
		where key <> lower($2) order by key limit $3`, c.Clock().AddDate(0, -months, 0), instead, atOnce)
	if err != nil {
		return err
	}
	names, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil || len(names) == 0 {
		return err
	}
	if err := db.LockKitchen(ctx, tx); err != nil {
		return err
	}
	for _, name := range names {
		if err := forgetAll(ctx, tx, name, instead); err != nil {
			return err
		}
	}
	return nil
}

// known of somebody, by the tables in which it stands. $1 is their key.
var known = map[string]string{
	"customer":   `select to_jsonb(x) - 'kitchen_id' from customers x where lower(x.name) = $1`,
	"orders":     `select to_jsonb(x) - 'kitchen_id' from orders x where lower(x.customer) = $1 order by x.number`,
	"orderLines": ofOrders("order_lines", "x.position"),
	"quotes":     `select to_jsonb(x) - 'kitchen_id' - 'token' from quotes x where ` + theirs + ` order by x.made_at`,
	"invoices":   ofOrders("invoices", "x.number"),
	"payments":   ofOrders("payments", "x.at"),
	"messages":   ofOrders("messages", "x.created_at"),
	"doors":      ofOrders("drops", "x.day"),
	"events": `select to_jsonb(x) - 'kitchen_id' from events x where lower(x.content ->> 'host') = $1
		order by x.begins_at`,
}

const theirs = `x.order_id in (select id from orders where lower(customer) = $1)`

func ofOrders(table, order string) string {
	return `select to_jsonb(x) - 'kitchen_id' from ` + table + ` x where ` + theirs + ` order by x.order_id, ` + order
}

// file of all that is known of one customer, to be given to them.
func (c *Customers) file(ctx context.Context, in *struct {
	Name string `query:"name" minLength:"1" maxLength:"100" default:"-"`
}) (*web.File, error) {
	out := map[string]any{"name": in.Name, "at": c.Clock().UTC().Format(time.RFC3339)}
	err := c.In(ctx, func(tx pgx.Tx) error {
		of, _, ok, err := c.find(ctx, tx, in.Name)
		if err != nil {
			return err
		}
		if !ok {
			return web.NotFound("customer")
		}
		out["name"] = of.Name
		for name, question := range known {
			rows, err := tx.Query(ctx, question, key(of.Name))
			if err != nil {
				return err
			}
			if out[name], err = pgx.CollectRows(rows, pgx.RowTo[json.RawMessage]); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	body, err := json.MarshalIndent(out, "", " ")
	file := web.Download("customer.json", "application/json", body)
	file.CacheControl = "no-store"
	return file, err
}
