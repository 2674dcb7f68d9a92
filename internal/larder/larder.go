// Package larder keeps the ingredients and the packaging of a kitchen.
package larder

import (
	"context"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Deps is what the larder needs of other rooms.
type Deps struct {
	// Uses tells what ingredients go into, by id.
	Uses func(ctx context.Context, tx pgx.Tx, ids ...ident.Ingredient) (map[ident.Ingredient][]treat.Use, error)
	// Sound checks that all that is made of the ingredients still can be.
	Sound func(context.Context, pgx.Tx) error
	// Wants is what promised orders take that is not made yet, packaging included, until a day; Reserved is what all of
	// them use up, on which day.
	Wants    func(ctx context.Context, tx pgx.Tx, until string) ([]larder.Want, error)
	Reserved func(ctx context.Context, tx pgx.Tx) ([]larder.Want, error)
	// Mixtures are the mixes of the kitchen, by id.
	Mixtures func(ctx context.Context, tx pgx.Tx) (map[ident.Item]Mixture, error)
	// Context is what the larder must know of the kitchen.
	Context func(context.Context, pgx.Tx) (Context, error)
}

// Context is the kitchen's currency, calendar and shopping days.
type Context struct {
	Currency string
	Calendar plan.Calendar
	Shopping []time.Weekday
}

// Today as a date.
func (h Context) Today() string { return h.Calendar.Date(0) }

// Larder is the feature.
type Larder struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Larder {
	l := &Larder{h, needs}
	tags := []string{"Larder"}
	web.Register(h, huma.Operation{OperationID: "list-ingredients", Method: "GET", Path: "/api/v1/ingredients",
		Summary: "All ingredients", Tags: tags}, l.ingredients)
	web.Register(h, huma.Operation{OperationID: "create-ingredient", Method: "POST", Path: "/api/v1/ingredients",
		Summary: "Add an ingredient", Tags: tags, DefaultStatus: 201}, l.createIngredient)
	web.Register(h, huma.Operation{OperationID: "get-ingredient", Method: "GET", Path: "/api/v1/ingredients/{id}",
		Summary: "An ingredient, and what it is used in", Tags: tags}, l.ingredient)
	web.Register(h, huma.Operation{OperationID: "list-starting-ingredients", Method: "GET",
		Path: "/api/v1/starting-ingredients", Summary: "Common ingredients to begin with, each value with its source",
		Tags: tags}, starting)
	web.Register(h, huma.Operation{OperationID: "name-ingredient", Method: "PUT", Path: "/api/v1/ingredient-names",
		Summary: "Remember which ingredient a written name means", Tags: tags}, l.nameIngredient)
	web.Register(h, huma.Operation{OperationID: "list-allergens", Method: "GET", Path: "/api/v1/allergens",
		Summary: "Allergens, and by which law they are named", Tags: tags}, allergens)
	web.Register(h, huma.Operation{OperationID: "put-ingredient", Method: "PUT", Path: "/api/v1/ingredients/{id}",
		Summary: "Change an ingredient", Tags: tags}, l.putIngredient)
	web.Register(h, huma.Operation{OperationID: "list-supplies", Method: "GET", Path: "/api/v1/supplies",
		Summary: "All packaging, with its stock", Tags: tags}, l.supplies)
	web.Register(h, huma.Operation{OperationID: "create-supply", Method: "POST", Path: "/api/v1/supplies",
		Summary: "Add a kind of packaging", Tags: tags, DefaultStatus: 201}, l.createSupply)
	web.Register(h, huma.Operation{OperationID: "put-supply", Method: "PUT", Path: "/api/v1/supplies/{id}",
		Summary: "Change a kind of packaging, or correct its stock", Tags: tags}, l.putSupply)
	l.registerStock()
	l.registerMade()
	l.registerTrace()
	return l
}

// IngredientFields is what a person sets of an ingredient.
type IngredientFields struct {
	food.Fields
	Paid    price.Typed      `json:"paid" doc:"What was last paid, decimal"`
	PaidFor measure.Quantity `json:"paidFor" doc:"For how much"`
	// Estimated stays true only as long as nobody changes the price.
	Estimated bool `json:"estimated,omitempty" doc:"The price is an estimate: nobody has typed what was paid"`
}

// Ingredient as it is stored. Its revision, in quotes, is the ETag of an edit.
type Ingredient struct {
	ID       uuid.UUID `json:"id"`
	Revision int       `json:"revision"`
	IngredientFields
	PaidForShown measure.Shown `json:"paidForShown"`
	Sizes        []Size        `json:"sizes" doc:"That a piece of it comes in; the usual one is without a name"`
}

// Size of a piece, and what one weighs.
type Size struct {
	Name   string        `json:"name"`
	Weighs measure.Shown `json:"weighs"`
}

// show what follows from its fields.
func (i *Ingredient) show() {
	i.PaidForShown, i.Sizes = measure.Show(i.PaidFor, measure.Substance{}), []Size{}
	for _, m := range i.Fields.Sizes() {
		i.Sizes = append(i.Sizes, Size{m.Name, measure.ShowGrams(m.Grams)})
	}
}

func (f *IngredientFields) check() error {
	var faults invalid.Faults
	faults.Under("", f.Fields.Check())
	if _, err := price.Read(f.Paid, ""); err != nil {
		faults.Add("paid", err)
	}
	if got, err := f.PaidFor.In(f.Unit, f.Weights()); err != nil {
		faults.Add("paidFor", err)
	} else if !(got > 0 && got < 1e9) {
		faults.Add("paidFor", reason.Of("larder.amount-that-was-paid-for"))
	}
	return faults.Err()
}

const ingredientColumns = `id, revision, name, kind, unit, density, grams_each, measures, fit, fresh_days, allergens, diets, chocolate_kind, colour, coalesce(tint, ''), bands, made_of, paid::text, paid_for, estimated`

func scanIngredient(row pgx.CollectableRow) (Ingredient, error) {
	var i Ingredient
	var kind, colour *string
	var tint string
	var bands *chocolate.Bands
	err := row.Scan(&i.ID, &i.Revision, &i.Name, (*string)(&i.Kind), (*string)(&i.Unit), &i.Density, &i.GramsEach,
		&i.Measures, &i.UsableShare, &i.StorageDays, &i.Allergens, &i.Diets, &kind, &colour, &tint, &bands, &i.MadeOf,
		&i.Paid, &i.PaidFor.Amount, &i.Estimated)
	i.PaidFor.Unit = i.Unit
	i.show()
	i.Chocolate = chocolateOf(kind, colour, tint, bands)
	return i, err
}

func list(ctx context.Context, tx pgx.Tx) ([]Ingredient, error) {
	rows, err := tx.Query(ctx, `select `+ingredientColumns+
		` from ingredients order by chocolate_kind nulls last, lower(name)`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanIngredient)
}

// Ingredients of the kitchen, for the rules, by id.
func Ingredients(ctx context.Context, tx pgx.Tx) (map[ident.Ingredient]food.Ingredient, error) {
	all, err := list(ctx, tx)
	if err != nil {
		return nil, err
	}
	known := make(map[ident.Ingredient]food.Ingredient, len(all))
	for _, i := range all {
		id := ident.Ingredient(i.ID.String())
		paid := decimal.RequireFromString(string(i.Paid))
		of := food.New(id, i.Fields, paid.Div(decimal.NewFromFloat(i.PaidFor.Amount)))
		of.Estimated = i.Estimated
		known[id] = of
	}
	return known, nil
}

// IngredientList is all ingredients.
type IngredientList struct {
	Ingredients []Ingredient `json:"ingredients"`
}

func (l *Larder) ingredients(ctx context.Context, _ *struct{}) (*struct{ Body IngredientList }, error) {
	var all []Ingredient
	err := l.In(ctx, func(tx pgx.Tx) (err error) { all, err = list(ctx, tx); return err })
	return &struct{ Body IngredientList }{IngredientList{all}}, err
}

func (l *Larder) createIngredient(ctx context.Context, in *struct {
	web.OnceKey
	Body IngredientFields
}) (*struct{ Body Ingredient }, error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var made Ingredient
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "create-ingredient", in.Body, func() (Ingredient, error) {
			i := Ingredient{ID: db.NewID(), Revision: 1, IngredientFields: in.Body}
			i.show()
			return i, AddIngredient(ctx, tx, web.ActorOf(ctx).Kitchen, i)
		})
		return err
	})
	return &struct{ Body Ingredient }{made}, err
}

// AddIngredient stores a new ingredient that has been checked.
func AddIngredient(ctx context.Context, tx pgx.Tx, kitchen uuid.UUID, i Ingredient) error {
	values, err := i.values()
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into ingredients (kitchen_id, id, name, kind, density, grams_each, measures, fit,
			fresh_days, allergens, diets, chocolate_kind, colour, tint, bands, made_of, paid, paid_for, estimated, unit)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17::text::numeric, $18, $19,
		$20)`, append(append([]any{kitchen, i.ID}, values...), string(i.Unit))...)
	return err
}

// values of the columns from name to estimated, in order.
func (i *Ingredient) values() ([]any, error) {
	paidFor, err := i.PaidFor.In(i.Unit, i.Weights())
	if err != nil {
		return nil, err
	}
	diets := make([]string, len(i.Diets))
	for n, d := range i.Diets {
		diets[n] = string(d)
	}
	kind, colour, tint, bands := chocolateColumns(i.Chocolate)
	return []any{i.Name, string(i.Kind), i.Density, i.GramsEach, i.Measures, i.UsableShare, i.StorageDays, i.Allergens,
		diets, kind, colour, tint, bands, i.MadeOf, i.Paid, paidFor, i.Estimated}, nil
}

func (l *Larder) putIngredient(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body IngredientFields
}) (*web.Tagged[Ingredient], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	i := Ingredient{ID: in.ID.ID, IngredientFields: in.Body}
	i.show()
	err := l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select `+ingredientColumns+` from ingredients where id = $1 for no key update`,
			i.ID)
		if err != nil {
			return err
		}
		now, err := pgx.CollectExactlyOneRow(rows, scanIngredient)
		if err != nil {
			return notFound(err, "ingredient")
		}
		if err := in.Matches(now.Revision, func() (any, error) { return now, nil }); err != nil {
			return err
		}
		if i.Revision = now.Revision + 1; i.Unit != now.Unit {
			return &invalid.Error{Fields: []invalid.Field{{Path: "unit",
				Err: reason.Of("larder.unit-kept-in-cannot-change")}}}
		}
		i.Estimated = i.Estimated && now.Estimated && i.Paid == now.Paid && i.PaidFor == now.PaidFor
		values, err := i.values()
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update ingredients set name = $2, kind = $3, density = $4, grams_each = $5,
			measures = $6, fit = $7, fresh_days = $8, allergens = $9, diets = $10, chocolate_kind = $11, colour = $12,
			tint = $13, bands = $14,
			made_of = $15, paid_on = case when paid / paid_for::numeric = $16::text::numeric / $17::numeric then paid_on else ($20::timestamptz at time zone (select time_zone from kitchens))::date end,
			paid = $16::text::numeric, paid_for = $17,
			estimated = $18,
			revision = $19 where id = $1`, append(append([]any{i.ID}, values...), i.Revision, l.Clock())...)
		if err != nil {
			return err
		}
		return l.Sound(ctx, tx)
	})
	return web.TaggedBy(i.Revision, i), err
}

// chocolateOf the columns of an ingredient; nil when it is none.
func chocolateOf(kind, colour *string, tint string, bands *chocolate.Bands) *food.Chocolate {
	if kind == nil || colour == nil {
		return nil
	}
	return &food.Chocolate{Kind: chocolate.Kind(*kind), Colour: chocolate.Colour(*colour), Tint: tint, Bands: bands}
}

func chocolateColumns(c *food.Chocolate) (kind, colour, tint *string, bands *chocolate.Bands) {
	if c == nil {
		return nil, nil, nil, nil
	}
	k, o := string(c.Kind), string(c.Colour)
	if c.Tint != "" {
		t := strings.ToLower(c.Tint)
		tint = &t
	}
	return &k, &o, tint, c.Bands
}

func notFound(err error, what string) error {
	if err == pgx.ErrNoRows {
		return web.NotFound(what)
	}
	return err
}

// SetFit sets the share of an ingredient that is fit to use.
func SetFit(ctx context.Context, tx pgx.Tx, id ident.Ingredient, share float64) error {
	_, err := tx.Exec(ctx, `update ingredients set fit = $2, revision = revision + 1 where id = $1::text::uuid`, id,
		min(max(share, 0.01), 1))
	return err
}
