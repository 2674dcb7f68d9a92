// Package treats keeps the book of treats and the versions of their formulas.
package treats

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Known loads what the rules must know of the kitchen.
type Known func(context.Context, pgx.Tx) (*order.Kitchen, error)

// Book is the feature.
type Book struct {
	web.Home
	known Known
}

// Register adds the operations.
func Register(h web.Home, known Known) {
	b := &Book{h, known}
	tags := []string{"Treats"}
	web.Register(h, huma.Operation{OperationID: "list-treats", Method: "GET", Path: "/api/v1/treats", Summary: "The book", Tags: tags}, b.list)
	web.Register(h, huma.Operation{OperationID: "create-treat", Method: "POST", Path: "/api/v1/treats", Summary: "Add a treat, with or without its formula", Tags: tags, DefaultStatus: 201}, b.create)
	web.Register(h, huma.Operation{OperationID: "get-treat", Method: "GET", Path: "/api/v1/treats/{id}", Summary: "A treat with its formula", Tags: tags}, b.get)
	web.Register(h, huma.Operation{OperationID: "put-treat", Method: "PUT", Path: "/api/v1/treats/{id}", Summary: "Change a treat; a changed formula is a new version", Tags: tags}, b.put)
	web.Register(h, huma.Operation{OperationID: "reckon-batch", Method: "POST", Path: "/api/v1/calculators/batch-card", Summary: "The batch card of a formula and a count; nothing is saved", Tags: []string{"Calculators"}}, b.card)
	web.Register(h, huma.Operation{OperationID: "propose-steps", Method: "GET", Path: "/api/v1/families/{family}/steps", Summary: "The steps that a family proposes", Tags: tags}, proposeSteps)
}

// Proposal is the steps of a family.
type Proposal struct {
	Steps []treat.Work `json:"steps"`
}

func proposeSteps(_ context.Context, in *struct {
	Family treat.Family `path:"family" enum:"bomb,fruit,bark"`
}) (*struct{ Body Proposal }, error) {
	return &struct{ Body Proposal }{Proposal{treat.Proposed(in.Family)}}, nil
}

// Fields is what a person sets of a treat.
type Fields struct {
	Name    string         `json:"name"`
	Formula *treat.Formula `json:"formula,omitempty"`
}

// Treat of the book.
type Treat struct {
	ID       uuid.UUID `json:"id"`
	Revision int       `json:"revision"`
	Version  int       `json:"version" doc:"Of the formula; 0 when none has been written"`
	Orders   int       `json:"orders" doc:"Orders that use it"`
	Fields
}

// List is the book.
type List struct {
	Treats []Treat `json:"treats"`
}

const selectTreats = `select t.id, t.revision, t.version, t.name, v.formula,
	(select count(distinct l.order_id) from order_lines l where l.kitchen_id = t.kitchen_id and l.treat_id = t.id)
	from treats t left join treat_versions v on v.kitchen_id = t.kitchen_id and v.treat_id = t.id and v.version = t.version`

func scan(row pgx.CollectableRow) (t Treat, err error) {
	err = row.Scan(&t.ID, &t.Revision, &t.Version, &t.Name, &t.Formula, &t.Orders)
	return t, err
}

// Load the treats of the kitchen for the rules, by id, each with the formula that counts. Treats of an order that pins
// versions come with those.
func Load(ctx context.Context, tx pgx.Tx, pins map[string]int) (map[string]order.Treat, error) {
	rows, err := tx.Query(ctx, `select t.id, t.name, v.version, v.formula from treats t left join treat_versions v
		on v.kitchen_id = t.kitchen_id and v.treat_id = t.id and v.version = coalesce(($1::jsonb ->> t.id::text)::int, t.version)`, pins)
	if err != nil {
		return nil, err
	}
	known := map[string]order.Treat{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var id uuid.UUID
		var version *int
		var t order.Treat
		err := row.Scan(&id, &t.Name, &version, &t.Formula)
		t.ID = id.String()
		if version != nil {
			t.Version = *version
		}
		known[t.ID] = t
		return struct{}{}, err
	})
	return known, err
}

func one(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Treat, error) {
	rows, err := tx.Query(ctx, selectTreats+` where t.id = $1`, id)
	if err != nil {
		return Treat{}, err
	}
	t, err := pgx.CollectExactlyOneRow(rows, scan)
	if errors.Is(err, pgx.ErrNoRows) {
		return t, web.NotFound("treat")
	}
	return t, err
}

func (b *Book) list(ctx context.Context, _ *struct{}) (*struct{ Body List }, error) {
	var l List
	err := b.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, selectTreats+` order by lower(t.name)`)
		if err != nil {
			return err
		}
		l.Treats, err = pgx.CollectRows(rows, scan)
		return err
	})
	return &struct{ Body List }{l}, err
}

func (b *Book) get(ctx context.Context, in *web.ID) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) (err error) { t, err = one(ctx, tx, in.ID); return err })
	return web.TaggedBy(t.Revision, t), err
}

// check the fields against the larder of the kitchen.
func (b *Book) check(ctx context.Context, tx pgx.Tx, f *Fields) error {
	var faults invalid.Faults
	if strings.TrimSpace(f.Name) == "" || len([]rune(f.Name)) > 100 {
		faults.Add("name", "Give the treat a name of at most 100 letters.")
	}
	if f.Formula != nil {
		known, err := b.known(ctx, tx)
		if err != nil {
			return err
		}
		faults.Under("formula", f.Formula.Check(known.Ingredients, names(known)))
	}
	return faults.Err()
}

func names(k *order.Kitchen) map[string]string {
	m := make(map[string]string, len(k.Supplies))
	for id, s := range k.Supplies {
		m[id] = s.Name
	}
	return m
}

func (b *Book) create(ctx context.Context, in *struct {
	web.OnceKey
	Body Fields
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) (err error) {
		t, err = web.Once(ctx, tx, in.OnceKey, "create-treat", in.Body, func() (Treat, error) {
			if err := b.check(ctx, tx, &in.Body); err != nil {
				return Treat{}, err
			}
			id := db.NewID()
			if err := Add(ctx, tx, web.WhoOf(ctx), b.Clock(), id, in.Body); err != nil {
				return Treat{}, err
			}
			return one(ctx, tx, id)
		})
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

// Add stores a new treat that has been checked.
func Add(ctx context.Context, tx pgx.Tx, who web.Who, now time.Time, id uuid.UUID, f Fields) error {
	if _, err := tx.Exec(ctx, `insert into treats (kitchen_id, id, name) values ($1, $2, $3)`, who.Kitchen, id, f.Name); err != nil {
		return err
	}
	if f.Formula == nil {
		return nil
	}
	return write(ctx, tx, who, now, id, f.Formula)
}

// write the formula as the treat's next version.
func write(ctx context.Context, tx pgx.Tx, who web.Who, now time.Time, id uuid.UUID, f *treat.Formula) error {
	_, err := tx.Exec(ctx, `with next as (update treats set version = version + 1 where id = $2 returning version)
		insert into treat_versions (kitchen_id, treat_id, version, formula, created_at, created_by) select $1, $2, version, $3, $4, $5 from next`,
		who.Kitchen, id, f, now, who.Person)
	return err
}

func (b *Book) put(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body Fields
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `select from treats where id = $1 for update`, in.ID.ID); err != nil {
			return err
		}
		now, err := one(ctx, tx, in.ID.ID)
		if err != nil {
			return err
		}
		if err := in.Matches(now.Revision, func() (any, error) { return now, nil }); err != nil {
			return err
		}
		if in.Body.Formula == nil && now.Formula != nil {
			return &invalid.Error{Fields: []invalid.Field{{Path: "formula", Says: "The formula is missing: send it too, changed or not."}}}
		}
		if err := b.check(ctx, tx, &in.Body); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update treats set name = $2, revision = revision + 1 where id = $1`, in.ID.ID, in.Body.Name); err != nil {
			return err
		}
		if in.Body.Formula != nil && !same(in.Body.Formula, now.Formula) {
			if err := write(ctx, tx, web.WhoOf(ctx), b.Clock(), in.ID.ID, in.Body.Formula); err != nil {
				return err
			}
		}
		t, err = one(ctx, tx, in.ID.ID)
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

func same(a, b *treat.Formula) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && string(x) == string(y)
}

// BatchQuestion is a formula and a count.
type BatchQuestion struct {
	Formula treat.Formula `json:"formula"`
	Count   int           `json:"count"`
}

func (b *Book) card(ctx context.Context, in *struct{ Body BatchQuestion }) (*struct{ Body *treat.Card }, error) {
	var card *treat.Card
	err := b.In(ctx, func(tx pgx.Tx) error {
		known, err := b.known(ctx, tx)
		if err != nil {
			return err
		}
		var faults invalid.Faults
		faults.Under("formula", in.Body.Formula.Check(known.Ingredients, names(known)))
		if in.Body.Count < 1 || in.Body.Count > order.MostPieces {
			faults.Add("count", "The count is between 1 and 10000.")
		}
		if err := faults.Err(); err != nil {
			return err
		}
		card, err = treat.Compute(&in.Body.Formula, in.Body.Count, known.Sureness, known.Room, known.Ingredients)
		return err
	})
	return &struct{ Body *treat.Card }{card}, err
}
