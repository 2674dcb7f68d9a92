package treats

import (
	"context"
	"slices"
	"strconv"

	"github.com/jackc/pgx/v5"

	"zestytin/core/fault"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Sauce is the mix of two parts of a chocolate and one of cream: the kitchen's, or a new one of the name.
func Sauce(ctx context.Context, tx pgx.Tx, name string, chocolate, cream ident.Ingredient) (ident.Ingredient, error) {
	keeps := fault.Keeps
	mix := treat.Mix{Name: name, Keeps: &keeps, Parts: []treat.MixPart{{Of: chocolate, Amount: measure.Of(2, measure.Gram)},
		{Of: cream, Amount: measure.Of(1, measure.Gram)}}}
	known, err := Mixes(ctx, tx)
	if err != nil {
		return "", err
	}
	taken := map[string]bool{}
	for id, m := range known {
		if taken[m.Name] = true; m.Loss == 0 && slices.Equal(m.Parts, mix.Parts) {
			return id, nil
		}
	}
	if short := []rune(name); len(short) > 95 {
		mix.Name = string(short[:95])
	}
	for n := 2; taken[mix.Name]; n++ {
		mix.Name = name + " " + strconv.Itoa(n)
	}
	mix.ID = ident.Ingredient(db.NewID().String())
	return mix.ID, AddMix(ctx, tx, web.ActorOf(ctx).Kitchen, mix)
}
