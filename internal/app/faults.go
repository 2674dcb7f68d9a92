package app

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/bench"
	"zestytin/internal/faults"
	"zestytin/internal/larder"
	"zestytin/internal/planning"
	"zestytin/internal/treats"
)

// faults are what goes wrong at the bench: they touch batches, bowls and the larder.
func (a *App) faults() {
	faults.Register(a.Home, faults.Deps{House: zoneAndRoom, Spots: planning.Spots, Ingredients: larder.Ingredients,
		Lose: bench.AddLosses, Book: a.Larder.Book, Unbook: a.Larder.Unbook, Sauce: treats.Sauce,
		Bowl: func(ctx context.Context, tx pgx.Tx, day, name string, id *uuid.UUID) (*faults.Bowl, error) {
			r, err := a.Pots.Record(ctx, tx, day, name, id)
			if err != nil || r == nil {
				return nil, err
			}
			return &faults.Bowl{ID: r.ID, Name: r.Name, Day: r.Day, Chocolate: r.Chocolate, Watch: r.Watch, In: r.In}, nil
		}})
}
