package customers

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Person in the book.
type Person struct {
	Name   string      `json:"name"`
	Phone  string      `json:"phone,omitempty"`
	Mail   string      `json:"mail,omitempty"`
	Orders int         `json:"orders" doc:"Without those that were cancelled"`
	Last   *time.Time  `json:"last,omitempty" doc:"The handover of the last one"`
	Next   *time.Time  `json:"next,omitempty" doc:"And of the next"`
	Paid   price.Money `json:"paid"`
	Wants  []string    `json:"wants" doc:"Allergens that what they get must be free from, and diets that it must suit"`
}

// Book of customers.
type Book struct {
	People []Person `json:"people"`
	All    int      `json:"all" doc:"How many there are in all"`
}

// Customer is one of them. The revision of what was written down is its ETag.
type Customer struct {
	Found
	History []Had       `json:"history" doc:"Their orders, latest first"`
	Paid    price.Money `json:"paid"`
}

// Had is an order of a customer.
type Had struct {
	Order    uuid.UUID    `json:"order"`
	Number   int          `json:"number"`
	State    order.State  `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	From     time.Time    `json:"from"`
	Occasion string       `json:"occasion,omitempty"`
	Lines    []string     `json:"lines"`
	Gross    *price.Money `json:"gross,omitempty"`
}

// Of a customer, by name.
type Of struct {
	Name string `query:"name" required:"true" minLength:"1" maxLength:"100"`
}

func key(name string) string { return strings.ToLower(strings.TrimSpace(name)) }

func (c *Customers) book(ctx context.Context, in *struct {
	Find  string `query:"find" maxLength:"100" doc:"Letters that stand in the name, phone number, or email"`
	Limit int    `query:"limit" minimum:"1" maximum:"2000" default:"300"`
}) (*struct{ Body Book }, error) {
	b := Book{People: []Person{}}
	err := c.In(ctx, func(tx pgx.Tx) error {
		currency, err := c.Currency(ctx, tx)
		if err != nil {
			return err
		}
		now := c.Clock()
		rows, err := tx.Query(ctx, `with best as (select distinct on (lower(name)) lower(name) as key, name, phone, mail,
				free_from || wishes as wants
			from (select customer as name, phone, mail, '{}'::text[] as free_from, '{}'::text[] as wishes, 2 as rank,
					created_at as at from orders
				union all select name, phone, mail, free_from, wishes, case when brought is null then 3 else 1 end, at
					from customers) x
				order by lower(name), rank = 3 desc, (phone <> '' or mail <> '') desc, rank desc, at desc),
			had as (select lower(customer) as key, array_agg(id) as ids,
				count(*) filter (where state <> 'cancelled') as orders,
				max(from_at) filter (where from_at <= $2 and state <> 'cancelled') as last,
				min(from_at) filter (where from_at > $2 and state <> 'cancelled') as next from orders group by 1)
			select b.name, b.phone, b.mail, b.wants, coalesce(h.orders, 0), h.last, h.next, coalesce(h.ids, '{}'),
				count(*) over ()
			from best b left join had h using (key)
			where position($1 in lower(concat_ws(' ', b.name, b.phone, b.mail))) > 0 and b.name <> $4
			order by h.next nulls last, lower(b.name) limit $3`, key(in.Find), now, in.Limit, forgotten(ctx))
		if err != nil {
			return err
		}
		var theirs [][]uuid.UUID
		var all []uuid.UUID
		b.People, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (p Person, err error) {
			var ids []uuid.UUID
			err = row.Scan(&p.Name, &p.Phone, &p.Mail, &p.Wants, &p.Orders, &p.Last, &p.Next, &ids, &b.All)
			theirs, all = append(theirs, ids), append(all, ids...)
			return p, err
		})
		if err != nil {
			return err
		}
		paid, err := c.Deps.Paid(ctx, tx, all)
		for i := range b.People {
			sum := decimal.Zero
			for _, id := range theirs[i] {
				sum = sum.Add(paid[id])
			}
			b.People[i].Paid = price.In(currency, sum)
		}
		return err
	})
	return &struct{ Body Book }{b}, err
}

// find a customer by name; ok is false where nobody has it.
func (c *Customers) find(ctx context.Context, tx pgx.Tx, name string) (x Found, revision int, ok bool, err error) {
	x.FreeFrom, x.Wishes = []string{}, []food.Diet{}
	rows, err := tx.Query(ctx, `select name, phone, mail, place, notes, free_from, wishes, revision from (
			select customer as name, phone, mail, case when way = 'delivery' then place else '' end as place, '' as notes,
				'{}'::text[] as free_from, '{}'::text[] as wishes, 0 as revision, 2 as rank, created_at as at
				from orders where lower(customer) = $1
			union all select name, phone, mail, place, notes, free_from, wishes,
				case when brought is null then revision else 0 end,
				case when brought is null then 3 else 1 end, at from customers where lower(name) = $1) x
		order by rank = 3 desc, (phone <> '' or mail <> '') desc, rank desc, at desc limit 1`, key(name))
	if err != nil {
		return x, 0, false, err
	}
	_, err = pgx.ForEachRow(rows, []any{&x.Name, &x.Phone, &x.Mail, &x.Place, &x.Notes, &x.FreeFrom, &x.Wishes, &revision},
		func() error { ok = true; return nil })
	return x, revision, ok, err
}

func (c *Customers) full(ctx context.Context, tx pgx.Tx, name string) (*Customer, int, error) {
	of, revision, ok, err := c.find(ctx, tx, name)
	if err != nil {
		return nil, 0, err
	}
	if !ok {
		return nil, 0, web.NotFound("customer")
	}
	p := &Customer{Found: of}
	currency, err := c.Currency(ctx, tx)
	if err != nil {
		return nil, 0, err
	}
	rows, err := tx.Query(ctx, `select o.id, o.number, o.state, o.from_at, o.occasion, o.gross,
			coalesce((select array_agg(l.count || ' ' || t.name order by l.position) from order_lines l join treats t
			on t.kitchen_id = l.kitchen_id and t.id = l.treat_id where l.kitchen_id = o.kitchen_id and l.order_id = o.id), '{}')
		from orders o where lower(o.customer) = $1 order by o.from_at desc, o.number desc`, key(name))
	if err != nil {
		return nil, 0, err
	}
	ids := []uuid.UUID{}
	p.History, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (x Had, err error) {
		var gross *decimal.Decimal
		err = row.Scan(&x.Order, &x.Number, &x.State, &x.From, &x.Occasion, &gross, &x.Lines)
		if gross != nil {
			x.Gross = new(price.In(currency, *gross))
		}
		ids = append(ids, x.Order)
		return x, err
	})
	if err != nil {
		return nil, 0, err
	}
	paid, err := c.Deps.Paid(ctx, tx, ids)
	sum := decimal.Zero
	for _, d := range paid {
		sum = sum.Add(d)
	}
	p.Paid = price.In(currency, sum)
	return p, revision, err
}

func (c *Customers) person(ctx context.Context, in *Of) (*web.Tagged[Customer], error) {
	var p *Customer
	var revision int
	err := c.In(ctx, func(tx pgx.Tx) (err error) { p, revision, err = c.full(ctx, tx, in.Name); return err })
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(revision, *p), nil
}

// check what was typed of a customer.
func (x *Found) check() error {
	var f invalid.Faults
	x.Name = strings.Join(strings.Fields(x.Name), " ")
	if says := x.Customer.Fault(); !says.None() {
		at := "name"
		if says.Code == "bring.not-a-mail-address" {
			at = "mail"
		}
		f.Add(at, says)
	}
	for at, text := range map[string]string{"phone": x.Phone, "mail": x.Mail, "place": x.Place} {
		if strings.ContainsAny(text, "\r\n") {
			f.Add(at, reason.Of("order.this-holds-line-break-or"))
		}
	}
	order.CheckAsked(&f, x.FreeFrom, x.Wishes)
	return f.Err()
}

// store a customer in the place of whatever was written down under the names.
func (c *Customers) store(ctx context.Context, tx pgx.Tx, x Found, revision int, names ...string) error {
	keys := []string{key(x.Name)}
	for _, n := range names {
		keys = append(keys, key(n))
	}
	if x.FreeFrom == nil {
		x.FreeFrom = []string{}
	}
	if x.Wishes == nil {
		x.Wishes = []food.Diet{}
	}
	batch := &pgx.Batch{}
	batch.Queue(`delete from customers where lower(name) = any($1)`, keys)
	batch.Queue(`insert into customers (kitchen_id, id, name, phone, mail, place, notes, at, free_from, wishes, revision)
			values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`, web.ActorOf(ctx).Kitchen, db.NewID(), x.Name, x.Phone,
		x.Mail, x.Place, x.Notes, c.Clock(), x.FreeFrom, x.Wishes, revision)
	return tx.SendBatch(ctx, batch).Close()
}

// rename the orders of a customer.
func rename(ctx context.Context, tx pgx.Tx, from, to string) ([]uuid.UUID, error) {
	rows, err := tx.Query(ctx, `update orders set customer = $2, revision = revision + 1 where lower(customer) = $1
			and customer <> $2 returning id`, key(from), to)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
}

func (c *Customers) put(ctx context.Context, in *struct {
	Of
	web.IfMatch
	Body Found
}) (*web.Tagged[Customer], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var p *Customer
	var revision int
	err := c.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		_, was, ok, err := c.find(ctx, tx, in.Name)
		if err != nil {
			return err
		}
		if !ok && key(in.Name) != key(in.Body.Name) {
			return web.NotFound("customer")
		}
		if err := in.Matches(was, func() (any, error) {
			now, _, err := c.full(ctx, tx, in.Name)
			return now, err
		}); err != nil {
			return err
		}
		if key(in.Name) != key(in.Body.Name) {
			if _, _, taken, err := c.find(ctx, tx, in.Body.Name); err != nil || taken {
				if err == nil {
					err = web.Reject(http.StatusConflict, "customers.name-is-taken", reason.Name(in.Body.Name))
				}
				return err
			}
		}
		if _, err := rename(ctx, tx, in.Name, in.Body.Name); err != nil {
			return err
		}
		if err := c.store(ctx, tx, in.Body, was+1, in.Name); err != nil {
			return err
		}
		p, revision, err = c.full(ctx, tx, in.Body.Name)
		return err
	})
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(revision, *p), nil
}

// Anniversary is an order of a year before the coming weeks.
type Anniversary struct {
	Order    uuid.UUID `json:"order"`
	Customer string    `json:"customer"`
	Occasion string    `json:"occasion,omitempty"`
	From     time.Time `json:"from"`
	Lines    []string  `json:"lines"`
}

// Anniversaries in the coming weeks.
type Anniversaries struct {
	YearAgo []Anniversary `json:"yearAgo"`
}

// in time to ask: from two weeks before on, to six.
const soonest, latest = 14, 42

func (c *Customers) yearAgo(ctx context.Context, _ *struct{}) (*struct{ Body Anniversaries }, error) {
	a := Anniversaries{}
	err := c.In(ctx, func(tx pgx.Tx) error {
		now := c.Clock()
		rows, err := tx.Query(ctx, `select o.id, o.customer, o.occasion, o.from_at,
				coalesce((select array_agg(l.count || ' ' || t.name order by l.position) from order_lines l join treats t
				on t.kitchen_id = l.kitchen_id and t.id = l.treat_id where l.kitchen_id = o.kitchen_id and l.order_id = o.id), '{}')
			from orders o where o.state in ('handed over', 'settled') and o.from_at >= $1 and o.from_at < $2
			and o.customer <> $4 and not exists (select from orders n where lower(n.customer) = lower(o.customer)
			and n.state <> 'cancelled' and n.from_at > $3) order by o.from_at limit 20`,
			now.AddDate(-1, 0, soonest), now.AddDate(-1, 0, latest), now.AddDate(0, 0, -30), forgotten(ctx))
		if err != nil {
			return err
		}
		a.YearAgo, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Anniversary])
		return err
	})
	return &struct{ Body Anniversaries }{a}, err
}
