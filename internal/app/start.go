package app

import (
	"cmp"
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/start"
	"zestytin/core/treat"
	"zestytin/internal/account"
	"zestytin/internal/larder"
	"zestytin/internal/planning"
	"zestytin/internal/platform/web"
	"zestytin/internal/starter"
	"zestytin/internal/treats"
)

// starter is what the starter asks of the other features.
func (a *App) starter(book *treats.Book, known func(context.Context, pgx.Tx) (*order.Inputs, error)) starter.Deps {
	return starter.Deps{
		Inputs: known, AddIngredient: larder.AddStarting,
		AddSupply: func(ctx context.Context, tx pgx.Tx, s start.Supply) (string, bool, error) {
			return larder.AddStartingSupply(ctx, a.Home, tx, s)
		},
		AddTreat: func(ctx context.Context, tx pgx.Tx, f treat.File) (uuid.UUID, []uuid.UUID, error) {
			opened, err := book.Take(ctx, tx, f)
			return opened.Treat.ID, opened.Mixes, err
		},
		RemoveTreats: treats.Remove, RemoveMixes: treats.RemoveMixes, RemoveGoods: larder.Remove, Held: treats.Held,
		Present: ways, Set: a.setWays, Stand: stand, Has: has, Names: namesOf,
	}
}

// ways of the kitchen as they are.
func ways(ctx context.Context, tx pgx.Tx) (starter.Ways, error) {
	k, _, err := account.Load(ctx, tx)
	if err != nil {
		return starter.Ways{}, err
	}
	w := starter.Ways{Country: k.Country, TimeZone: k.TimeZone, Currency: k.Currency, Units: k.Units, Clock: k.Clock,
		Dates: k.Dates, Degrees: k.Degrees, Law: string(k.Law), Cup: k.Cup, Hourly: string(k.Hourly),
		Overhead: string(k.Overhead),
		Week:     make([][]starter.Span, 7), Trays: map[ident.Spot]int{}}
	hours, err := planning.LoadWorkDays(ctx, tx)
	if err != nil {
		return w, err
	}
	for day, spans := range hours.Week {
		w.Week[day] = []starter.Span{}
		for _, s := range spans {
			w.Week[day] = append(w.Week[day], starter.Span(s))
		}
	}
	spots, err := planning.Spots(ctx, tx)
	for _, s := range spots {
		w.Trays[s.ID] = s.Trays
	}
	return w, err
}

// setWays of the kitchen; what else it has set stays as it is.
func (a *App) setWays(ctx context.Context, tx pgx.Tx, w starter.Ways) (starter.Stand, error) {
	k, _, err := account.Load(ctx, tx)
	if err != nil {
		return starter.Stand{}, err
	}
	k.Country, k.Currency, k.Units = w.Country, w.Currency, w.Units
	k.TimeZone = cmp.Or(w.TimeZone, k.TimeZone)
	k.Clock, k.Dates, k.Degrees = w.Clock, w.Dates, w.Degrees
	k.Law, k.Cup, k.Hourly, k.Overhead = food.Law(w.Law), w.Cup, price.Typed(w.Hourly),
		price.Typed(w.Overhead)
	if _, err := account.Store(ctx, tx, k); err != nil {
		return starter.Stand{}, err
	}
	hours, err := planning.LoadWorkDays(ctx, tx)
	if err != nil {
		return starter.Stand{}, err
	}
	for day, spans := range w.Week {
		hours.Week[day] = []planning.Span{}
		for _, s := range spans {
			hours.Week[day] = append(hours.Week[day], planning.Span(s))
		}
	}
	if err := a.Plan.SetHours(ctx, tx, web.ActorOf(ctx), hours); err != nil {
		return starter.Stand{}, err
	}
	if err := a.Plan.SetTrays(ctx, tx, w.Trays); err != nil {
		return starter.Stand{}, err
	}
	return stand(ctx, tx)
}

// stand of settings, hours and space.
func stand(ctx context.Context, tx pgx.Tx) (s starter.Stand, err error) {
	err = tx.QueryRow(ctx, `select revision, work_revision, capacity_revision from kitchens`).
		Scan(&s.Settings, &s.Hours, &s.Space)
	return s, err
}

// has tells what the kitchen has already of what an order needs.
func has(ctx context.Context, tx pgx.Tx) (h starter.Has, err error) {
	err = tx.QueryRow(ctx, `select exists (select from treats where version > 0), exists (select from work_week),
			exists (select from orders where state not in ('enquiry', 'quoted', 'cancelled')), address <> '',
			(select count(*) from ingredients where estimated or paid = 0) +
			(select count(*) from supplies where estimated or paid = 0) from kitchens`).
		Scan(&h.Treat, &h.Hours, &h.Promised, &h.Address, &h.Guesses)
	return h, err
}

// namesOf treats, mixes, ingredients and packaging.
func namesOf(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) ([]string, error) {
	rows, err := tx.Query(ctx, `select name from treats where id = any($1) union all
			select name from mixes where id = any($1) union all select name from ingredients where id = any($1)
			union all
			select name from supplies where id = any($1)`, ids)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}
