package larder

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/start"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// AddForeign takes in an ingredient that came with a file. One of the kitchen's own with the same id, else with the
// same name, is used instead: what the seller measured counts more. It returns the id that stands for it here, and
// whether it is new.
func AddForeign(ctx context.Context, tx pgx.Tx, i treat.FileIngredient) (id string, added bool, err error) {
	found, own, err := known(ctx, tx, "ingredients", string(i.ID), i.Name)
	if err != nil || found {
		return own.String(), false, err
	}
	one := Ingredient{ID: own, IngredientFields: IngredientFields{Fields: i.Fields, Paid: "0",
		PaidFor: measure.Of(1, i.Unit)}}
	return own.String(), true, AddIngredient(ctx, tx, web.ActorOf(ctx).Kitchen, one)
}

// AddForeignSupply takes in packaging that came with a file, as AddForeign does.
func AddForeignSupply(ctx context.Context, h web.Base, tx pgx.Tx, s treat.FileSupply) (id string, added bool,
	err error) {
	found, own, err := known(ctx, tx, "supplies", string(s.ID), s.Name)
	if err != nil || found {
		return own.String(), false, err
	}
	nothing := measure.Of(0, s.Unit)
	return own.String(), true, AddSupply(ctx, h, tx, Supply{ID: own,
		SupplyFields: SupplyFields{Name: s.Name, Stock: nothing, Paid: "0", PaidFor: measure.Of(1, s.Unit)}})
}

// AddStarting takes in an ingredient of the starter with the price that it proposes, or that was typed there. One of
// the kitchen's own with the same name is used instead.
func AddStarting(ctx context.Context, tx pgx.Tx, i start.Ingredient) (id string, added bool, err error) {
	found, own, err := known(ctx, tx, "ingredients", string(i.ID), i.Name)
	if err != nil || found {
		return own.String(), false, err
	}
	one := Ingredient{ID: own, IngredientFields: IngredientFields{Fields: i.Fields, Paid: price.Typed(i.Paid),
		PaidFor:   i.PaidFor,
		Estimated: i.Estimate}}
	return own.String(), true, AddIngredient(ctx, tx, web.ActorOf(ctx).Kitchen, one)
}

// AddStartingSupply takes in packaging of the starter, as AddStarting does; none of it is on the shelf.
func AddStartingSupply(ctx context.Context, h web.Base, tx pgx.Tx, s start.Supply) (id string, added bool,
	err error) {
	found, own, err := known(ctx, tx, "supplies", string(s.ID), s.Name)
	if err != nil || found {
		return own.String(), false, err
	}
	return own.String(), true, AddSupply(ctx, h, tx, Supply{ID: own, SupplyFields: SupplyFields{Name: s.Name,
		Stock: measure.Of(0, measure.Each), Paid: price.Typed(s.Paid), PaidFor: s.PaidFor, Estimated: s.Estimate}})
}

// Remove ingredients and packaging that are as they came: not changed since, with nothing of them ever in the house.
// What is in use must have been left out. It returns the ids of those that stay, because something holds them.
func Remove(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) (stay []uuid.UUID, err error) {
	rows, err := tx.Query(ctx, `with gone as (
			delete from ingredients i where i.id = any($1) and i.revision = 1
				and not exists (select from lots l where l.kitchen_id = i.kitchen_id and l.item_id = i.id)
				returning i.id),
		went as (
			delete from supplies s where s.id = any($1) and s.revision = 1
				and not exists (select from lots l where l.kitchen_id = s.kitchen_id and l.item_id = s.id)
				and not exists (select from supplies b where b.kitchen_id = s.kitchen_id and b.id <> all($1)
					and b.fittings @> jsonb_build_array(jsonb_build_object('supply', s.id::text))) -- it goes with a box
				returning s.id)
		select id from unnest($1::uuid[]) as of(id) where id not in (select id from gone union all select id from went)`,
		ids)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
}

// known finds a row by its id, else by its name; where there is none it gives the id for a new one: the foreign id, so
// that the file means the same here, unless it is no UUID.
func known(ctx context.Context, tx pgx.Tx, table, id, name string) (found bool, own uuid.UUID, err error) {
	foreign, parsed := uuid.Parse(id)
	err = tx.QueryRow(ctx, `select id from `+table+
		` where id = $1 or lower(name) = lower($2) order by id = $1 desc limit 1`, foreign, name).Scan(&own)
	switch {
	case err == nil:
		return true, own, nil
	case err != pgx.ErrNoRows:
		return false, own, err
	case parsed != nil:
		return false, db.NewID(), nil
	default:
		return false, foreign, nil
	}
}
