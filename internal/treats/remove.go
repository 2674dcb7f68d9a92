package treats

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Remove treats that are as they came, with no order of them. It returns the ids of those that stay.
func Remove(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) (stay []uuid.UUID, err error) {
	rows, err := tx.Query(ctx, `select id from treats t where t.id = any($1) and (t.revision > 1 or t.version > 1
			or exists (select from order_lines l where l.kitchen_id = t.kitchen_id and l.treat_id = t.id))`, ids)
	if err != nil {
		return nil, err
	}
	if stay, err = pgx.CollectRows(rows, pgx.RowTo[uuid.UUID]); err != nil {
		return nil, err
	}
	if _, err := tx.Exec(ctx, `delete from treat_versions where treat_id = any($1) and not treat_id = any($2)`, ids,
		stay); err != nil {
		return nil, err
	}
	_, err = tx.Exec(ctx, `delete from treats where id = any($1) and not id = any($2)`, ids, stay)
	return stay, err
}

// RemoveMixes that are as they came and that nothing is made with any more. It returns the ids of those that stay.
func RemoveMixes(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) (stay []uuid.UUID, err error) {
	held, err := Held(ctx, tx, ids)
	if err != nil {
		return nil, err
	}
	rows, err := tx.Query(ctx, `with gone as (delete from mixes where id = any($1) and not id = any($2) and revision = 1
			and not exists (select from lots l where l.kitchen_id = mixes.kitchen_id and l.mix_id = mixes.id)
			and not exists (select from batches b where b.kitchen_id = mixes.kitchen_id and b.mix_id = mixes.id)
			returning id)
		select id from unnest($1::uuid[]) as of(id) where id not in (select id from gone)`, ids, held)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
}

// Held are those of ingredients, mixes and packaging that some version of a treat, or a mix, still names.
func Held(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) ([]uuid.UUID, error) {
	rows, err := tx.Query(ctx, `select id from unnest($1::uuid[]) as of(id)
		where exists (select from treat_versions v
				where v.formula::text like '%' || id || '%' or v.mixes::text like '%' || id || '%')
			or exists (select from mixes m where m.parts::text like '%' || id || '%')`, ids)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
}
