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

	"zestytin/core/batch"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Known loads what the rules must know of the kitchen.
type Known func(context.Context, pgx.Tx) (*order.Inputs, error)

// Deps are what the book asks of other features.
type Deps struct {
	Known         Known
	AddIngredient func(context.Context, pgx.Tx, treat.FileIngredient) (id string, added bool,
		err error) // that came with a file
	AddSupply func(context.Context, pgx.Tx, treat.FileSupply) (id string, added bool, err error)
	Names     func(context.Context, pgx.Tx) (map[string]string, error) // of ingredients, that were settled
}

// Book is the feature.
type Book struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Book {
	b := &Book{h, needs}
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{MaxBodyBytes: web.MostText, OperationID: id, Method: method, Path: "/api/v1/" + path,
			Summary: summary, Tags: []string{"Treats"}}
	}
	created := func(o huma.Operation) huma.Operation { o.DefaultStatus = 201; return o }
	file := func(o huma.Operation, kind, what string) huma.Operation {
		o.Responses = web.FileOf(kind, what)
		return o
	}
	web.Register(h, op("list-treats", "GET", "treats", "The book"), b.list)
	web.Register(h, created(op("create-treat", "POST", "treats", "Add a treat, with or without its formula")), b.create)
	web.Register(h, created(op("copy-treat", "POST", "treats/{id}/copies",
		"Begin a treat as a copy of another")), b.copyTreat)
	web.Register(h, op("list-differences", "GET", "treats/{id}/differences",
		"What differs between a copy and what it was copied from"), b.differences)
	web.Register(h, op("get-treat", "GET", "treats/{id}", "A treat with its formula"), b.get)
	web.Register(h, op("put-treat", "PUT", "treats/{id}", "Change a treat; a changed formula is a new version"), b.put)
	web.Register(h, op("put-market", "PUT", "treats/{id}/market",
		"Say what others ask for a dozen, or with empty prices that it is not known"), b.putMarket)
	web.Register(h, op("put-list-price", "PUT", "treats/{id}/list-price",
		"Say what your own price list asks for so many pieces, or with an empty price that it is not on it"),
		b.putListPrice)
	web.Register(h, op("get-ladder", "GET", "treats/{id}/ladder",
		"What 6, 12, 24, 48 and 96 of it cost, bring and pay"), b.ladder)
	web.Register(h, op("list-treat-versions", "GET", "treats/{id}/versions",
		"The versions of a treat, newest first, and what changed in each"), b.versions)
	web.Register(h, op("compare-treat-versions", "GET", "treats/{id}/changes",
		"What changed from one version of a treat to another"), b.changes)
	web.Register(h, file(op("export-treat", "GET", "treats/{id}/file",
		"The treat with all it needs, to be opened in another kitchen"), "application/json", "zestytin.treat/1"),
		b.file)
	web.Register(h, file(op("export-recipe", "GET", "treats/{id}/recipe",
		"The treat as a schema.org Recipe in JSON-LD, for a count"), "application/ld+json", "JSON-LD"), b.recipe)
	web.Register(h, file(op("print-batch-card", "GET", "treats/{id}/batch-card.pdf",
		"The batch card for a count, to print"), "application/pdf", "PDF"), b.paper)
	web.Register(h, created(op("import-treat", "POST", "treat-files",
		"Open a treat's file: the same treat again, with what it needs")), b.open)
	web.Register(h, op("list-mixes", "GET", "mixes", "All mixes"), b.mixes)
	web.Register(h, created(op("create-mix", "POST", "mixes", "Add a mix")), b.createMix)
	web.Register(h, op("get-mix", "GET", "mixes/{id}", "A mix, what it weighs and what it is used in"), b.mix)
	web.Register(h, op("put-mix", "PUT", "mixes/{id}", "Change a mix; treats that use it get a new version"), b.putMix)
	for _, o := range []struct {
		op      huma.Operation
		handler func(huma.Operation)
	}{
		{op("reckon-batch", "POST", "calculators/batch-card",
			"The batch card of a formula and a count; nothing is saved"),
			func(o huma.Operation) { web.Register(h, o, b.card) }},
		{op("propose-steps", "POST", "calculators/steps",
			"The steps that a family proposes; with the formula as it was, they follow its change and keep what the seller set"), func(o huma.Operation) { web.Register(h, o, proposeSteps) }},
		{op("solve-as-said", "POST", "calculators/as-said",
			"The numbers of a formula as a recipe says them, solved from its words, and what a recipe would say of it"),
			func(o huma.Operation) { web.Register(h, o, b.asSaid) }},
		{op("reckon-makeable", "POST", "calculators/makeable", "How many can be made with what one has"),
			func(o huma.Operation) { web.Register(h, o, b.makeable) }},
		{op("weigh-mix", "POST", "calculators/mix", "What a mix weighs; nothing is saved"),
			func(o huma.Operation) { web.Register(h, o, b.weigh) }},
	} {
		o.op.Tags = []string{"Calculators"}
		o.handler(o.op)
	}
	web.Register(h, op("begin-formula", "GET", "families/{family}/formula",
		"A formula to begin with, of what is in the larder"), b.begin)
	web.Register(h, op("list-families", "GET", "families",
		"The families, with the choices where people differ, the ways to temper and the temperatures of each colour"),
		families)
	return b
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
	// Look is the chocolate that it is drawn in.
	Look   *food.Chocolate `json:"look,omitempty"`
	Market *order.Market   `json:"market,omitempty" doc:"What others ask for a dozen"`
	CopyOf *CopyOf         `json:"copyOf,omitempty" doc:"What it was copied from"`
	// List is the seller's own price.
	List *order.ListPrice `json:"list,omitempty" doc:"What the own price list asks"`
	Fields
}

// List is the book.
type List struct {
	Treats []Treat `json:"treats"`
}

const selectTreats = `select t.id, t.revision, t.version, t.name, v.formula, v.look, t.market_low::text,
			t.market_high::text, t.list_price::text, t.list_count, t.copied_from, c.name, t.copied_version,
	(select count(distinct l.order_id) from order_lines l where l.kitchen_id = t.kitchen_id and l.treat_id = t.id)
	from treats t left join treat_versions v on v.kitchen_id = t.kitchen_id and v.treat_id = t.id
	and v.version = t.version left join treats c on c.kitchen_id = t.kitchen_id and c.id = t.copied_from`

func scan(row pgx.CollectableRow) (t Treat, err error) {
	var low, high, list *string
	var count, version *int
	var copied *uuid.UUID
	var of *string
	err = row.Scan(&t.ID, &t.Revision, &t.Version, &t.Name, &t.Formula, &t.Look, &low, &high, &list, &count, &copied, &of,
		&version, &t.Orders)
	if copied != nil {
		t.CopyOf = &CopyOf{*copied, *of, *version}
	}
	t.Market, t.List = market(low, high), listPrice(list, count)
	return t, err
}

func market(low, high *string) *order.Market {
	if low == nil || high == nil {
		return nil
	}
	return &order.Market{Low: price.Typed(*low), High: price.Typed(*high)}
}

func listPrice(amount *string, count *int) *order.ListPrice {
	if amount == nil || count == nil {
		return nil
	}
	return &order.ListPrice{Price: price.Typed(*amount), Count: *count}
}

// Load the treats of the kitchen for the rules, by id, each with the formula that counts. Treats of an order that pins
// versions come with those.
func Load(ctx context.Context, tx pgx.Tx, pins map[ident.Treat]int) (map[ident.Treat]order.Treat, error) {
	rows, err := tx.Query(ctx, `select t.id, t.name, v.version, v.formula, v.mixes, t.market_low::text,
			t.market_high::text, t.list_price::text, t.list_count from treats t left join treat_versions v
		on v.kitchen_id = t.kitchen_id and v.treat_id = t.id
		and v.version = coalesce(($1::jsonb ->> t.id::text)::int, t.version)`, pins)
	if err != nil {
		return nil, err
	}
	known := map[ident.Treat]order.Treat{}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var id uuid.UUID
		var version *int
		var t order.Treat
		var low, high, list *string
		var count *int
		err := row.Scan(&id, &t.Name, &version, &t.Formula, &t.Mixes, &low, &high, &list, &count)
		t.ID, t.Market, t.List = ident.Treat(id.String()), market(low, high), listPrice(list, count)
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
		faults.Add("name", reason.Of("treats.give-treat-name-at-most"))
	}
	if f.Formula != nil {
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		faults.Under("formula", family.Check(f.Formula, &known.Inputs, known.Packaging()))
	}
	return faults.Err()
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
			known, err := b.Known(ctx, tx)
			if err != nil {
				return Treat{}, err
			}
			if err := Add(ctx, tx, web.ActorOf(ctx), b.Clock(), id, in.Body, &known.Inputs); err != nil {
				return Treat{}, err
			}
			return one(ctx, tx, id)
		})
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

// Add stores a new treat that has been checked.
func Add(ctx context.Context, tx pgx.Tx, who web.Actor, now time.Time, id uuid.UUID, f Fields, k *treat.Inputs) error {
	if _, err := tx.Exec(ctx, `insert into treats (kitchen_id, id, name) values ($1, $2, $3)`, who.Kitchen, id,
		f.Name); err != nil {
		return err
	}
	if f.Formula == nil {
		return nil
	}
	return write(ctx, tx, who, now, id, f.Formula, k)
}

// write the formula as the treat's next version, with the mixes as they are now.
func write(ctx context.Context, tx pgx.Tx, who web.Actor, now time.Time, id uuid.UUID, f *treat.Formula,
	k *treat.Inputs) error {
	_, err := tx.Exec(ctx, `with next as (update treats set version = version + 1 where id = $2 returning version)
		insert into treat_versions (kitchen_id, treat_id, version, formula, created_at, created_by, mixes,
		look) select $1, $2, version, $3, $4, $5, $6, $7 from next`,
		who.Kitchen, id, f, now, who.Person, k.MixesOf(f), batch.Drawn(f, k))
	return err
}

func (b *Book) put(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body Fields
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `select from treats where id = $1 for no key update`, in.ID.ID); err != nil {
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
			return &invalid.Error{Fields: []invalid.Field{{Path: "formula",
				Err: reason.Of("treats.formula-missing-send-too-changed")}}}
		}
		if err := b.check(ctx, tx, &in.Body); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update treats set name = $2, revision = revision + 1 where id = $1`, in.ID.ID,
			in.Body.Name); err != nil {
			return err
		}
		if in.Body.Formula != nil && !same(in.Body.Formula, now.Formula) {
			known, err := b.Known(ctx, tx)
			if err != nil {
				return err
			}
			if err := write(ctx, tx, web.ActorOf(ctx), b.Clock(), in.ID.ID, in.Body.Formula,
				&known.Inputs); err != nil {
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

// Rewrite a treat's formula as its next version, where it is sound.
func (b *Book) Rewrite(ctx context.Context, tx pgx.Tx, id uuid.UUID, f *treat.Formula) error {
	now, err := one(ctx, tx, id)
	if err != nil {
		return err
	}
	if err := b.check(ctx, tx, &Fields{Name: now.Name, Formula: f}); err != nil {
		return err
	}
	known, err := b.Known(ctx, tx)
	if err != nil {
		return err
	}
	if _, err := tx.Exec(ctx, `update treats set revision = revision + 1 where id = $1`, id); err != nil {
		return err
	}
	return write(ctx, tx, web.ActorOf(ctx), b.Clock(), id, f, &known.Inputs)
}
