package app

import (
	"context"
	"maps"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	corelarder "zestytin/core/larder"
	"zestytin/core/order"
	"zestytin/core/treat"
	"zestytin/internal/larder"
	"zestytin/internal/planning"
	"zestytin/internal/treats"
)

// unmade adds to what is wanted what mixes are made of that were to be there and are not.
func (a *App) unmade(ctx context.Context, tx pgx.Tx, wants []corelarder.Want) ([]corelarder.Want, error) {
	mixtures, err := a.mixtures(ctx, tx)
	if err != nil || len(mixtures) == 0 {
		return wants, err
	}
	return larder.Unmade(ctx, tx, mixtures, wants)
}

// mixtures are the mixes of the kitchen as the larder must know them.
func (a *App) mixtures(ctx context.Context, tx pgx.Tx) (map[ident.Item]larder.Mixture, error) {
	mixes, err := treats.Mixes(ctx, tx)
	if err != nil || len(mixes) == 0 {
		return nil, err
	}
	ingredients, err := larder.Ingredients(ctx, tx)
	if err != nil {
		return nil, err
	}
	return mixturesOf(&treat.Inputs{Ingredients: ingredients, Mixes: mixes}), nil
}

func mixturesOf(k *treat.Inputs) map[ident.Item]larder.Mixture {
	of := make(map[ident.Item]larder.Mixture, len(k.Mixes))
	for id := range k.Mixes {
		m := larder.Mixture{Of: k.PerGram(id), Takes: k.TakesPerGram(id)}
		if hours, ages := family.MixKeeps(id, k); ages {
			m.Keeps = &hours
		}
		of[ident.Item(id)] = m
	}
	return of
}

// turnOwn puts a mix that has been made ahead into the larder and takes out what went into it; and back where it is not
// made after all.
func (a *App) turnOwn(ctx context.Context, tx pgx.Tx, batch uuid.UUID) error {
	own, turned, err := planning.UpdateOwn(ctx, tx, batch, a.Home.Clock())
	if err != nil || !turned {
		return err
	}
	if !own.Made {
		return a.Larder.TakeBackMade(ctx, tx, batch)
	}
	uses := make(map[uuid.UUID]float64, len(own.Uses))
	for _, n := range own.Uses {
		uses[n.Item] = n.Used
	}
	return a.Larder.PutMade(ctx, tx, batch, larder.MadeMix{Mix: own.Mix, Grams: own.Grams, Of: own.Of, Uses: uses})
}

// ahead gathers what of mixes was made ahead, free or set aside for promised orders.
func (a *App) ahead(ctx context.Context, tx pgx.Tx, k *order.Inputs, reserved []corelarder.Want,
	except uuid.UUID) error {
	if len(k.Mixes) == 0 {
		return nil
	}
	stock, until, err := larder.MadeAhead(ctx, tx, mixturesOf(&k.Inputs), reserved, k.Calendar.Date(0))
	if err != nil || len(stock) == 0 {
		return err
	}
	maps.Copy(k.Stock, stock)
	held, err := planning.Held(ctx, tx, except)
	k.Held = make(map[ident.Order]map[ident.Ingredient]treat.Ahead, len(held))
	for id, mixes := range held {
		k.Held[id] = map[ident.Ingredient]treat.Ahead{}
		for mix, grams := range mixes {
			k.Held[id][mix] = treat.Ahead{Grams: grams, Until: until[mix]}
		}
	}
	return err
}
