// Package larder keeps the ingredients and the packaging of a kitchen.
package larder

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Larder is the feature.
type Larder struct {
	web.Home
	reserved Reserved
	uses     Uses
	sound    Sound
}

// Sound checks that all that is made of the ingredients still can be.
type Sound func(context.Context, pgx.Tx) error

// Uses tells where an ingredient or a mix goes into.
type Uses func(ctx context.Context, tx pgx.Tx, id string) ([]treat.Use, error)

// Reserved tells how much of each supply other promised orders will take.
type Reserved func(context.Context, pgx.Tx, uuid.UUID) (map[string]float64, error)

// Register adds the operations.
func Register(h web.Home, reserved Reserved, uses Uses, sound Sound) {
	l := &Larder{h, reserved, uses, sound}
	tags := []string{"Larder"}
	web.Register(h, huma.Operation{OperationID: "list-ingredients", Method: "GET", Path: "/api/v1/ingredients", Summary: "All ingredients", Tags: tags}, l.ingredients)
	web.Register(h, huma.Operation{OperationID: "create-ingredient", Method: "POST", Path: "/api/v1/ingredients", Summary: "Add an ingredient", Tags: tags, DefaultStatus: 201}, l.createIngredient)
	web.Register(h, huma.Operation{OperationID: "get-ingredient", Method: "GET", Path: "/api/v1/ingredients/{id}", Summary: "An ingredient, and what it is used in", Tags: tags}, l.ingredient)
	web.Register(h, huma.Operation{OperationID: "list-starting-ingredients", Method: "GET", Path: "/api/v1/starting-ingredients", Summary: "Common ingredients to begin with, each value with its source", Tags: tags}, starting)
	web.Register(h, huma.Operation{OperationID: "name-ingredient", Method: "PUT", Path: "/api/v1/ingredient-names", Summary: "Remember which ingredient a written name means", Tags: tags}, l.nameIngredient)
	web.Register(h, huma.Operation{OperationID: "list-allergens", Method: "GET", Path: "/api/v1/allergens", Summary: "Allergens, and by which law they are named", Tags: tags}, allergens)
	web.Register(h, huma.Operation{OperationID: "put-ingredient", Method: "PUT", Path: "/api/v1/ingredients/{id}", Summary: "Change an ingredient", Tags: tags}, l.putIngredient)
	web.Register(h, huma.Operation{OperationID: "list-supplies", Method: "GET", Path: "/api/v1/supplies", Summary: "All packaging, with its stock", Tags: tags}, l.supplies)
	web.Register(h, huma.Operation{OperationID: "create-supply", Method: "POST", Path: "/api/v1/supplies", Summary: "Add a kind of packaging", Tags: tags, DefaultStatus: 201}, l.createSupply)
	web.Register(h, huma.Operation{OperationID: "put-supply", Method: "PUT", Path: "/api/v1/supplies/{id}", Summary: "Change a kind of packaging, or correct its stock", Tags: tags}, l.putSupply)
}

// IngredientFields is what a person sets of an ingredient.
type IngredientFields struct {
	food.Fields
	Paid    string           `json:"paid" doc:"What was last paid, decimal"`
	PaidFor measure.Quantity `json:"paidFor" doc:"For how much"`
}

// Ingredient as it is stored. Its revision, in quotes, is the ETag of an edit.
type Ingredient struct {
	ID       uuid.UUID `json:"id"`
	Revision int       `json:"revision"`
	IngredientFields
	PaidForShown measure.Shown `json:"paidForShown"`
}

func (f *IngredientFields) check() error {
	var faults invalid.Faults
	faults.Under("", f.Fields.Check())
	if _, err := price.Read(f.Paid, ""); err != nil {
		faults.Add("paid", err.Error())
	}
	if got, err := f.PaidFor.In(f.Unit, f.Weights()); err != nil {
		faults.Add("paidFor", err.Error())
	} else if !(got > 0 && got < 1e9) {
		faults.Add("paidFor", "The amount that was paid for must be more than 0.")
	}
	return faults.Err()
}

const ingredientColumns = `id, revision, name, kind, unit, density, grams_each, measures, fit, allergens, diets, chocolate_kind, colour, coalesce(tint, ''), bands, made_of, paid::text, paid_for`

func scanIngredient(row pgx.CollectableRow) (Ingredient, error) {
	var i Ingredient
	var kind, colour *string
	var tint string
	var bands *chocolate.Bands
	err := row.Scan(&i.ID, &i.Revision, &i.Name, (*string)(&i.Kind), (*string)(&i.Unit), &i.Density, &i.GramsEach, &i.Measures, &i.Fit, &i.Allergens, &i.Diets, &kind, &colour, &tint, &bands, &i.MadeOf, &i.Paid, &i.PaidFor.Amount)
	i.PaidFor.Unit = i.Unit
	i.PaidForShown = measure.Show(i.PaidFor, measure.Substance{})
	if kind != nil && colour != nil {
		i.Chocolate = &food.Chocolate{Kind: chocolate.Kind(*kind), Colour: chocolate.Colour(*colour), Tint: tint, Bands: bands}
	}
	return i, err
}

func list(ctx context.Context, tx pgx.Tx) ([]Ingredient, error) {
	rows, err := tx.Query(ctx, `select `+ingredientColumns+` from ingredients order by chocolate_kind nulls last, lower(name)`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanIngredient)
}

// Ingredients of the kitchen, for the rules, by id.
func Ingredients(ctx context.Context, tx pgx.Tx) (map[string]food.Ingredient, error) {
	all, err := list(ctx, tx)
	if err != nil {
		return nil, err
	}
	known := make(map[string]food.Ingredient, len(all))
	for _, i := range all {
		known[i.ID.String()] = food.New(i.ID.String(), i.Fields, decimal.RequireFromString(i.Paid).Div(decimal.NewFromFloat(i.PaidFor.Amount)))
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
			i.PaidForShown = measure.Show(i.PaidFor, measure.Substance{})
			return i, AddIngredient(ctx, tx, web.WhoOf(ctx).Kitchen, i)
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
	_, err = tx.Exec(ctx, `insert into ingredients (kitchen_id, id, name, kind, density, grams_each, measures, fit, allergens, diets, chocolate_kind, colour, tint, bands, made_of, paid, paid_for, unit)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16::text::numeric, $17, $18)`, append(append([]any{kitchen, i.ID}, values...), string(i.Unit))...)
	return err
}

// values of the columns from name to paid_for, in order.
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
	return []any{i.Name, string(i.Kind), i.Density, i.GramsEach, i.Measures, i.Fit, i.Allergens, diets, kind, colour, tint, bands, i.MadeOf, i.Paid, paidFor}, nil
}

func (l *Larder) putIngredient(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body IngredientFields
}) (*web.Tagged[Ingredient], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	i := Ingredient{ID: in.ID.ID, IngredientFields: in.Body, PaidForShown: measure.Show(in.Body.PaidFor, measure.Substance{})}
	err := l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select `+ingredientColumns+` from ingredients where id = $1 for update`, i.ID)
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
			return &invalid.Error{Fields: []invalid.Field{{Path: "unit", Says: "The unit it is kept in cannot change, since treats use it: add another ingredient instead."}}}
		}
		values, err := i.values()
		if err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update ingredients set name = $2, kind = $3, density = $4, grams_each = $5, measures = $6, fit = $7, allergens = $8, diets = $9, chocolate_kind = $10, colour = $11, tint = $12, bands = $13,
			made_of = $14, paid = $15::text::numeric, paid_for = $16, revision = $17 where id = $1`, append(append([]any{i.ID}, values...), i.Revision)...)
		if err != nil {
			return err
		}
		return l.sound(ctx, tx)
	})
	return web.TaggedBy(i.Revision, i), err
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

// SupplyFields is what a person sets of a kind of packaging.
type SupplyFields struct {
	Name    string           `json:"name"`
	Stock   measure.Quantity `json:"stock" doc:"What stands on the shelf: each, or a length"`
	Paid    string           `json:"paid" doc:"What was last paid, decimal"`
	PaidFor measure.Quantity `json:"paidFor" doc:"For how much"`
	Reason  string           `json:"reason,omitempty" doc:"Why the stock is corrected"`
}

// Supply as it is stored.
type Supply struct {
	ID       uuid.UUID     `json:"id"`
	Revision int           `json:"revision"`
	Shown    measure.Shown `json:"shown" doc:"The stock, readable"`
	SetAside measure.Shown `json:"setAside" doc:"What promised orders will take"`
	SupplyFields
}

func (f *SupplyFields) check() (unit measure.Unit, stock, paidFor float64, err error) {
	var faults invalid.Faults
	if strings.TrimSpace(f.Name) == "" || len([]rune(f.Name)) > 100 {
		faults.Add("name", "Give it a name of at most 100 letters.")
	}
	d, ok := f.Stock.Unit.Dimension()
	switch {
	case !ok:
		faults.Add("stock", (&measure.UnknownUnit{Unit: f.Stock.Unit}).Error())
	case d != measure.Count && d != measure.Length:
		faults.Add("stock", "Packaging is counted or measured by length: use each, cm or ft.")
	default:
		unit = d.Base()
		stock, _ = f.Stock.In(unit, measure.Substance{})
		if !(stock >= 0 && stock < 1e9) {
			faults.Add("stock", "The stock cannot be less than 0.")
		}
		var err error
		if paidFor, err = f.PaidFor.In(unit, measure.Substance{}); err != nil {
			faults.Add("paidFor", err.Error())
		} else if !(paidFor > 0 && paidFor < 1e9) {
			faults.Add("paidFor", "The amount that was paid for must be more than 0.")
		}
	}
	if _, err := price.Read(f.Paid, ""); err != nil {
		faults.Add("paid", err.Error())
	}
	if len([]rune(f.Reason)) > 200 {
		faults.Add("reason", "Keep the reason to 200 letters.")
	}
	return unit, stock, paidFor, faults.Err()
}

const supplyColumns = `id, revision, name, unit, stock, paid::text, paid_for`

func scanSupply(row pgx.CollectableRow) (Supply, error) {
	var s Supply
	err := row.Scan(&s.ID, &s.Revision, &s.Name, (*string)(&s.Stock.Unit), &s.Stock.Amount, &s.Paid, &s.PaidFor.Amount)
	s.PaidFor.Unit = s.Stock.Unit
	s.Shown = measure.Show(s.Stock, measure.Substance{})
	return s, err
}

func listSupplies(ctx context.Context, tx pgx.Tx) ([]Supply, error) {
	rows, err := tx.Query(ctx, `select `+supplyColumns+` from supplies order by lower(name)`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanSupply)
}

// Supplies of the kitchen, for the rules, by id.
func Supplies(ctx context.Context, tx pgx.Tx) (map[string]box.Supply, error) {
	all, err := listSupplies(ctx, tx)
	if err != nil {
		return nil, err
	}
	known := make(map[string]box.Supply, len(all))
	for _, s := range all {
		known[s.ID.String()] = box.Supply{ID: s.ID.String(), Name: s.Name, Unit: s.Stock.Unit, Stock: s.Stock.Amount,
			Price: decimal.RequireFromString(s.Paid).Div(decimal.NewFromFloat(s.PaidFor.Amount))}
	}
	return known, nil
}

// SupplyList is all packaging.
type SupplyList struct {
	Supplies []Supply `json:"supplies"`
}

func (l *Larder) supplies(ctx context.Context, _ *struct{}) (*struct{ Body SupplyList }, error) {
	var all []Supply
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		if all, err = listSupplies(ctx, tx); err != nil {
			return err
		}
		reserved, err := l.reserved(ctx, tx, uuid.Nil)
		for i := range all {
			all[i].SetAside = measure.Show(measure.Of(reserved[all[i].ID.String()], all[i].Stock.Unit), measure.Substance{})
		}
		return err
	})
	return &struct{ Body SupplyList }{SupplyList{all}}, err
}

func (l *Larder) createSupply(ctx context.Context, in *struct {
	web.OnceKey
	Body SupplyFields
}) (*struct{ Body Supply }, error) {
	if _, _, _, err := in.Body.check(); err != nil {
		return nil, err
	}
	var made Supply
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "create-supply", in.Body, func() (Supply, error) {
			s := Supply{ID: db.NewID(), Revision: 1, SupplyFields: in.Body, Shown: measure.Show(in.Body.Stock, measure.Substance{})}
			return s, AddSupply(ctx, tx, web.WhoOf(ctx).Kitchen, s)
		})
		return err
	})
	return &struct{ Body Supply }{made}, err
}

// AddSupply stores a new kind of packaging.
func AddSupply(ctx context.Context, tx pgx.Tx, kitchen uuid.UUID, s Supply) error {
	unit, stock, paidFor, err := s.check()
	if err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into supplies (kitchen_id, id, name, unit, stock, paid, paid_for) values ($1, $2, $3, $4, $5, $6::text::numeric, $7)`,
		kitchen, s.ID, s.Name, string(unit), stock, s.Paid, paidFor)
	return err
}

func (l *Larder) putSupply(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body SupplyFields
}) (*web.Tagged[Supply], error) {
	unit, stock, paidFor, err := in.Body.check()
	if err != nil {
		return nil, err
	}
	s := Supply{ID: in.ID.ID, SupplyFields: in.Body, Shown: measure.Show(in.Body.Stock, measure.Substance{})}
	err = l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select `+supplyColumns+` from supplies where id = $1 for update`, s.ID)
		if err != nil {
			return err
		}
		now, err := pgx.CollectExactlyOneRow(rows, scanSupply)
		if err != nil {
			return notFound(err, "packaging")
		}
		if err := in.Matches(now.Revision, func() (any, error) { return now, nil }); err != nil {
			return err
		}
		if unit != now.Stock.Unit {
			return &invalid.Error{Fields: []invalid.Field{{Path: "stock", Says: "It is counted in another way already: use a unit of the same kind."}}}
		}
		s.Revision = now.Revision + 1
		if _, err := tx.Exec(ctx, `update supplies set name = $2, stock = $3, paid = $4::text::numeric, paid_for = $5, revision = $6 where id = $1`,
			s.ID, s.Name, stock, s.Paid, paidFor, s.Revision); err != nil {
			return err
		}
		if stock == now.Stock.Amount {
			return nil
		}
		reason := in.Body.Reason
		if reason == "" {
			reason = "counted"
		}
		return l.note(ctx, tx, s.ID, nil, stock-now.Stock.Amount, reason)
	})
	return web.TaggedBy(s.Revision, s), err
}

func (l *Larder) note(ctx context.Context, tx pgx.Tx, supply uuid.UUID, order *uuid.UUID, change float64, reason string) error {
	who := web.WhoOf(ctx)
	_, err := tx.Exec(ctx, `insert into supply_moves (kitchen_id, id, supply_id, order_id, change, reason, at, person_id) values ($1, $2, $3, $4, $5, $6, $7, $8)`,
		who.Kitchen, db.NewID(), supply, order, change, reason, l.Clock(), who.Person)
	return err
}

// Book changes the stock of packaging for an order, by supply: negative when packing takes it off the shelf. Nothing goes below zero: what is missing is named, and nothing is booked.
func Book(ctx context.Context, h web.Home, tx pgx.Tx, order uuid.UUID, reason string, changes map[string]float64) error {
	l := &Larder{Home: h}
	var missing []string
	ids := make([]string, 0, len(changes))
	for id := range changes {
		ids = append(ids, id)
	}
	slices.Sort(ids) // the same order everywhere: two packers do not wait for each other in a circle
	for _, id := range ids {
		supply, err := uuid.Parse(id)
		if err != nil {
			return err
		}
		var name, unit string
		var stock float64
		if err := tx.QueryRow(ctx, `select name, unit, stock from supplies where id = $1 for update`, supply).Scan(&name, &unit, &stock); err != nil {
			return err
		}
		if short := -changes[id] - stock; short > 1e-6 {
			missing = append(missing, fmt.Sprintf("%s of %s", measure.Show(measure.Of(short, measure.Unit(unit)), measure.Substance{}).Metric, strings.ToLower(name)))
			continue
		}
		if _, err := tx.Exec(ctx, `update supplies set stock = greatest(stock + $2, 0), revision = revision + 1 where id = $1`, supply, changes[id]); err != nil {
			return err
		}
		if err := l.note(ctx, tx, supply, &order, changes[id], reason); err != nil {
			return err
		}
	}
	if len(missing) > 0 {
		return web.Refuse(http.StatusConflict, "Not enough packaging: "+strings.Join(missing, ", ")+" short. Count the shelf in the Larder, or buy what is missing.")
	}
	return nil
}
