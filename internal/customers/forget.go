package customers

import (
	"context"
	"net/http"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"

	"github.com/jackc/pgx/v5"
)

// forgotten is what an order says in the place of a name.
func forgotten(ctx context.Context) string { return text.Of(ctx).Of("customers.forgotten") }

// forget a customer: every word that tells who it was goes, wherever it stands; what was made and paid stays.
func (c *Customers) forget(ctx context.Context, in *struct {
	Body struct {
		Name string `json:"name" minLength:"1" maxLength:"100"`
	}
}) (*struct{}, error) {
	return nil, c.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		of, _, ok, err := c.find(ctx, tx, in.Body.Name)
		if err != nil {
			return err
		}
		if !ok {
			return web.NotFound("customer")
		}
		var ahead bool
		if err := tx.QueryRow(ctx, `select exists (select from orders where lower(customer) = $1
			and state in ('promised', 'in the making', 'packed'))`, key(of.Name)).Scan(&ahead); err != nil {
			return err
		}
		if ahead {
			return web.Reject(http.StatusConflict, "customers.has-an-order-ahead", reason.Name(of.Name))
		}
		return forgetAll(ctx, tx, of.Name, forgotten(ctx))
	})
}

// forgetAll that tells who somebody is.
func forgetAll(ctx context.Context, tx pgx.Tx, name, instead string) error {
	batch := &pgx.Batch{}
	theirs := `(select id from orders where lower(customer) = $1)`
	batch.Queue(`update quotes set content = content - 'place' - 'occasion' || jsonb_build_object('customer', $2::text),
			accepted_by = '', request = '', revoked_at = coalesce(revoked_at, now()) where order_id in `+theirs, key(name), instead)
	batch.Queue(`update invoices set content = content - 'place' || jsonb_build_object('customer', $2::text)
			where order_id in `+theirs, key(name),
		instead)
	batch.Queue(`delete from contacts where refused_at is null and address in (select address from messages
			where order_id in `+theirs+`)`, key(name))
	batch.Queue(`update messages set whom = $2, address = '', subject = '', body = '', told = null,
			state = case when state in ('waiting', 'failed', 'unsure') then 'dropped' else state end
			where order_id in `+theirs, key(name), instead)
	batch.Queue(`update events set content = content || '{"host": "", "place": "", "notes": ""}'::jsonb
			where lower(content ->> 'host') = $1`, key(name))
	batch.Queue(`update order_lines set note = '' where order_id in `+theirs, key(name))
	batch.Queue(`update payments set note = '' where order_id in `+theirs, key(name))
	batch.Queue(`update drops set note = '' where order_id in `+theirs, key(name))
	// Where they live, unless somebody else lives there too.
	for _, at := range []string{"positions where address", "legs where to_place", "legs where from_place"} {
		batch.Queue(`delete from `+at+` in (select lower(regexp_replace(btrim(replace(place, ',', ' ')), '\s+', ' ', 'g'))
			from orders where lower(customer) = $1 and way = 'delivery'
			except select lower(regexp_replace(btrim(replace(place, ',', ' ')), '\s+', ' ', 'g'))
			from orders where lower(customer) <> $1)`, key(name))
	}
	// Answers that are kept so that a request is done once, and changes of the plan that can be undone, quote names.
	batch.Queue(`delete from idempotency_keys where position($1 in lower(answer::text)) > 0`, key(name))
	batch.Queue(`delete from plan_changes where position($1 in lower(says)) > 0
			or position($1 in lower(before::text)) > 0`,
		key(name))
	batch.Queue(`delete from plan_runs where state <> 'running' and position($1 in lower(says)) > 0`, key(name))
	batch.Queue(`delete from customers where lower(name) = $1`, key(name))
	batch.Queue(`update orders set customer = $2, phone = '', mail = '', place = '', occasion = '', notes = '',
			revision = revision + 1 where lower(customer) = $1`, key(name), instead)
	return tx.SendBatch(ctx, batch).Close()
}
