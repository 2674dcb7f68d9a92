package larder

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// UsedIngredient is an ingredient and what it goes into.
type UsedIngredient struct {
	Ingredient
	UsedIn []treat.Use `json:"usedIn"`
}

func (l *Larder) ingredient(ctx context.Context, in *web.ID) (*web.Tagged[UsedIngredient], error) {
	var used UsedIngredient
	err := l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select `+ingredientColumns+` from ingredients where id = $1`, in.ID)
		if err != nil {
			return err
		}
		if used.Ingredient, err = pgx.CollectExactlyOneRow(rows, scanIngredient); err != nil {
			return notFound(err, "ingredient")
		}
		uses, err := l.Uses(ctx, tx, ident.Ingredient(in.ID.String()))
		used.UsedIn = uses[ident.Ingredient(in.ID.String())]
		return err
	})
	return web.TaggedBy(used.Revision, used), err
}

// StartingList is the starting set.
type StartingList struct {
	Ingredients []food.Starter `json:"ingredients"`
}

func starting(context.Context, *struct{}) (*struct{ Body StartingList }, error) {
	list, err := food.Starting()
	return &struct{ Body StartingList }{StartingList{list}}, err
}

// AllergenList is all allergens that are known.
type AllergenList struct {
	Allergens []food.Allergen `json:"allergens"`
}

func allergens(context.Context, *struct{}) (*struct{ Body AllergenList }, error) {
	return &struct{ Body AllergenList }{AllergenList{food.Allergens()}}, nil
}

// Named is what a written name means.
type Named struct {
	Written    string    `json:"written" maxLength:"200" doc:"As it stands in a recipe"`
	Ingredient uuid.UUID `json:"ingredient"`
}

func (l *Larder) nameIngredient(ctx context.Context, in *struct{ Body Named }) (*struct{ Body Named }, error) {
	words := food.Words(in.Body.Written)
	if words == "" {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "written",
			Err: reason.Of("larder.there-no-letters-in-this")}}}
	}
	err := l.In(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, `select exists (select from ingredients where id = $1)`,
			in.Body.Ingredient).Scan(&there); err != nil {
			return err
		}
		if !there {
			return &invalid.Error{Fields: []invalid.Field{{Path: "ingredient",
				Err: reason.Of("larder.this-ingredient-not-in-larder")}}}
		}
		return Remember(ctx, tx, web.ActorOf(ctx).Kitchen, words, in.Body.Ingredient)
	})
	return &struct{ Body Named }{in.Body}, err
}

// Remember that the words of a name mean an ingredient.
func Remember(ctx context.Context, tx pgx.Tx, kitchen uuid.UUID, words string, ingredient uuid.UUID) error {
	_, err := tx.Exec(ctx, `insert into ingredient_names (kitchen_id, words, ingredient_id) values ($1, $2, $3)
		on conflict (kitchen_id, words) do update set ingredient_id = excluded.ingredient_id`, kitchen, words, ingredient)
	return err
}

// Names that were settled, by their words.
func Names(ctx context.Context, tx pgx.Tx) (map[string]string, error) {
	rows, err := tx.Query(ctx, `select words, ingredient_id from ingredient_names`)
	if err != nil {
		return nil, err
	}
	learned := map[string]string{}
	var words string
	var id uuid.UUID
	_, err = pgx.ForEachRow(rows, []any{&words, &id}, func() error {
		learned[words] = id.String()
		return nil
	})
	return learned, err
}
