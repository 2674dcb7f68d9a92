package demo

import (
	"context"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// outcomes of what was made before today, as it was written down: how long each step took, what was lost, and what went
// wrong once.
func (k *kitchen) outcomes(ctx context.Context, tx pgx.Tx) error {
	const made = `select b.kitchen_id, b.id, b.name, max(s.done_at) as at from batches b join batch_steps s
		on s.kitchen_id = b.kitchen_id and s.batch_id = b.id where b.mix_id is null group by 1, 2, 3
		having count(*) filter (where s.done_at is null) = 0`
	if _, err := tx.Exec(ctx, `with made as (`+made+`),
		steps as (select m.kitchen_id, m.id, m.name, coalesce(c.step #>> '{round,of}', c.step ->> 'id') as step,
			sum(s.hands) as planned, min(c.position) as position,
				case when b.sold in ('piece', 'pieces') then round(b.started * 0.1) end as lost
			from made m join batches b on b.id = m.id
				cross join jsonb_array_elements(b.sheet #> '{card,steps}') with ordinality c(step, position)
				join batch_steps s on s.batch_id = b.id and s.step = c.step ->> 'id'
			group by 1, 2, 3, 4, b.sold, b.started),
		numbered as (select *, row_number() over (order by name, id, position) as n from steps)
		insert into step_results (kitchen_id, batch_id, step, minutes, lost, by_id)
		select kitchen_id, id, step, round((planned * (array[1.1, 0.95, 1.25, 1.05, 0.9, 1.2, 1])[1 + n % 7])::numeric, 1),
			case when position = max(position) over (partition by id) then lost end, $1
		from numbered where planned > 0`, web.ActorOf(ctx).Person); err != nil {
		return err
	}
	_, err := tx.Exec(ctx, `with of as (select m.id, m.at, (select s.step from batch_steps s where s.batch_id = m.id
			order by s.position desc offset 1 limit 1) as step from (`+made+`) m where m.name = 'Nougat cubes' limit 1),
		fault as (insert into faults (kitchen_id, id, day, batch_id, step, sign, cause, fix, grade, units, pieces, back, uses,
			gone, wet, made, facts, at, by_id) select zt_kitchen(), $1, (at at time zone $3)::date, id, step, 'streaked',
			'set-slowly', 'lines', 'repair', 3, 0, 0, 6, 0, 0, 0, '{}', at, $4 from of)
		insert into step_notes (kitchen_id, id, batch_id, step, text, at, by_id) select zt_kitchen(), $2, id, step,
			'The kitchen was warm: set them in the pantry next time.', at, $4 from of`, db.NewID(), db.NewID(),
		k.zone.String(), web.ActorOf(ctx).Person)
	return err
}
