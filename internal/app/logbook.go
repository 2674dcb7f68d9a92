package app

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/treat"
	"zestytin/internal/faults"
	"zestytin/internal/larder"
	"zestytin/internal/logbook"
	"zestytin/internal/platform/web"
	"zestytin/internal/treats"
)

// logbook is what was made, and what it teaches the treats.
func (a *App) logbook(book *treats.Book) {
	logbook.Register(a.Home, logbook.Deps{Faults: faultsOf, Formula: formulaOf, Write: book.Rewrite, Fit: larder.SetFit,
		Names: func(ctx context.Context, tx pgx.Tx) (map[ident.Ingredient]string, error) {
			known, err := larder.Ingredients(ctx, tx)
			names := make(map[ident.Ingredient]string, len(known))
			for id, of := range known {
				names[id] = of.Name
			}
			return names, err
		}})
}

func faultsOf(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) (map[uuid.UUID][]logbook.Fault, error) {
	list, err := faults.Of(ctx, tx, `f.batch_id = any($1)`, ids)
	of := map[uuid.UUID][]logbook.Fault{}
	for _, f := range list {
		of[*f.Batch] = append(of[*f.Batch], logbook.Fault{Step: *f.Step, Sign: f.Sign, Cause: f.Cause, Grade: string(f.Grade),
			Units: f.Units, Pieces: f.Pieces})
	}
	return of, err
}

func formulaOf(ctx context.Context, tx pgx.Tx, id uuid.UUID) (f *treat.Formula, version int, usable float64, err error) {
	known, err := treats.Load(ctx, tx, nil)
	if err != nil {
		return nil, 0, 0, err
	}
	t, found := known[ident.Treat(id.String())]
	if !found {
		return nil, 0, 0, web.NotFound("treat")
	}
	if f = t.Formula; f == nil || f.Centre == nil {
		return f, t.Version, 1, nil
	}
	ingredients, err := larder.Ingredients(ctx, tx)
	return f, t.Version, ingredients[f.Centre.Of].UsableShare, err
}
