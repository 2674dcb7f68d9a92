// Package customers keeps who orders: how to reach them, what they always want, and what they had.
package customers

import (
	"context"
	"fmt"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/bring"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Customers is the feature.
type Customers struct {
	web.Base
	Deps
}

// Deps is what it needs of other rooms.
type Deps struct {
	// Currency of the kitchen.
	Currency func(context.Context, pgx.Tx) (string, error)
	// Paid is what was paid for orders, less what was given back.
	Paid func(context.Context, pgx.Tx, []uuid.UUID) (map[uuid.UUID]decimal.Decimal, error)
}

// mostBytes of a file of customers.
const mostBytes = 4 << 20

// Register adds the operations.
func Register(h web.Base, needs Deps) *Customers {
	c := &Customers{h, needs}
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/customers" + path, Summary: summary,
			Tags: []string{"Customers"}}
	}
	web.Register(h, op("list-customers", "GET", "",
		"Customers by name: those that were written down, and those of orders as they were written last"), c.customers)
	bringing := op("add-customers", "POST", "", "Bring customers along; who is there already is passed over")
	bringing.DefaultStatus, bringing.MaxBodyBytes = 201, mostBytes
	web.Register(h, bringing, c.add)
	back := op("remove-brought", "DELETE", "/brought/{id}", "Take the customers of a file back")
	back.DefaultStatus = 204
	web.Register(h, back, c.remove)
	web.Register(h, op("list-people", "GET", "/book", "Who ordered, with what they had and paid"), c.book)
	web.Register(h, op("get-customer", "GET", "/person", "A customer, with all orders"), c.person)
	web.Register(h, op("put-customer", "PUT", "/person",
		"Write down how to reach a customer and what they always want; a new name goes to their orders too"), c.put)
	web.Register(h, op("merge-customers", "POST", "/merge", "Two that are one: the orders of one become the other's"),
		c.merge)
	web.Register(h, op("split-customers", "POST", "/split", "They are two after all"), c.split)
	all := op("export-customer", "GET", "/file", "All that is known of one customer, as JSON")
	all.Responses = web.FileOf("application/json", "What is known, table by table")
	web.Register(h, web.GivesAway(all), c.file)
	gone := op("forget-customer", "POST", "/forget",
		"Take everything out that tells who somebody is; the sums of their orders stay. This cannot be undone")
	web.Register(h, gone, c.forget)
	web.Register(h, op("list-anniversaries", "GET", "/year-ago",
		"Who ordered something a year before the coming weeks, and nothing since"), c.yearAgo)
	cards := op("get-vcards", "GET", "/all.vcf", "All customers as vCards (RFC 6350)")
	cards.Responses = web.FileOf("text/vcard", "vCards")
	web.Register(h, web.GivesAway(cards), c.cards)
	sheet := op("get-customers-csv", "GET", "/all.csv", "All customers as a CSV file")
	sheet.Responses = web.FileOf("text/csv", "A CSV file")
	web.Register(h, web.GivesAway(sheet), c.sheet)
	reading := op("read-vcards", "POST", "/vcards", "Read vCards; nothing is saved")
	reading.MaxBodyBytes = mostBytes
	web.Register(h, reading, c.readCards)
	return c
}

// Known customers.
type Known struct {
	Customers []Found `json:"customers"`
}

// Found is a customer with what they always want.
type Found struct {
	bring.Customer
	FreeFrom []string    `json:"freeFrom" doc:"Allergens that what they get must be free from"`
	Wishes   []food.Diet `json:"wishes"`
}

func (c *Customers) customers(ctx context.Context, in *struct {
	Find  string `query:"find" maxLength:"100" doc:"Letters that stand in the name"`
	Limit int    `query:"limit" minimum:"1" maximum:"2000" default:"20"`
}) (*struct{ Body Known }, error) {
	var list Known
	err := c.In(ctx, func(tx pgx.Tx) error {
		// What was written down here comes first; then the order of that name that was written last knows best how to
		// reach them.
		rows, err := tx.Query(ctx, `select distinct on (lower(name)) name, phone, mail, place, notes, free_from, wishes
			from (select customer as name, phone, mail, case when way = 'delivery' then place else '' end as place,
					'' as notes, '{}'::text[] as free_from, '{}'::text[] as wishes, 2 as rank, created_at as at from orders
				union all select name, phone, mail, place, notes, free_from, wishes,
					case when brought is null then 3 else 1 end, at from customers) x
			where position(lower($1) in lower(name)) > 0 and name <> $3
			order by lower(name), rank = 3 desc, (phone <> '' or mail <> '') desc, rank desc, at desc
			limit $2`, strings.TrimSpace(in.Find), in.Limit, forgotten(ctx))
		if err != nil {
			return err
		}
		list.Customers, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (x Found, err error) {
			err = row.Scan(&x.Name, &x.Phone, &x.Mail, &x.Place, &x.Notes, &x.FreeFrom, &x.Wishes)
			return x, err
		})
		return err
	})
	return &struct{ Body Known }{list}, err
}

// Added is what came of bringing customers along.
type Added struct {
	Brought uuid.UUID `json:"brought" doc:"By which they can be taken back"`
	Added   int       `json:"added"`
	Known   int       `json:"known" doc:"Who was there already"`
}

func (c *Customers) add(ctx context.Context, in *struct {
	web.OnceKey
	Body struct {
		Customers []bring.Customer `json:"customers" maxItems:"2000"`
	}
}) (*struct{ Body Added }, error) {
	var f invalid.Faults
	for i, x := range in.Body.Customers {
		if says := x.Fault(); !says.None() {
			f.Add(fmt.Sprintf("customers[%d]", i), says)
		}
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	var done Added
	err := c.In(ctx, func(tx pgx.Tx) (err error) {
		done, err = web.Once(ctx, tx, in.OnceKey, "add-customers", in.Body, func() (Added, error) {
			a := Added{Brought: db.NewID()}
			for _, x := range in.Body.Customers {
				tag, err := tx.Exec(ctx, `insert into customers (kitchen_id, id, brought, name, phone,
					mail, place, notes, at) select $1, $2, $3, $4, $5, $6, $7, $8, $9 where not exists (select from customers
					where lower(name) = lower($4) and phone = $5 and mail = $6)`,
					web.ActorOf(ctx).Kitchen, db.NewID(), a.Brought, x.Name, x.Phone, x.Mail, x.Place, x.Notes, c.Clock())
				if err != nil {
					return a, err
				}
				a.Added += int(tag.RowsAffected())
			}
			a.Known = len(in.Body.Customers) - a.Added
			return a, nil
		})
		return err
	})
	return &struct{ Body Added }{done}, err
}

func (c *Customers) remove(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, c.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `delete from customers where brought = $1`, in.ID)
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("file")
		}
		return err
	})
}
