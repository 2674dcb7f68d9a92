package logbook

import (
	"context"

	"github.com/jackc/pgx/v5"

	"zestytin/core/lesson"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/temper"
)

// Kitchen is what all batches and bowls of a kitchen show, whatever was made.
type Kitchen struct {
	Shows []reason.Reason `json:"shows"`
}

// lastBowls that are looked at.
const lastBowls = 60

func (l *Logbook) kitchen(ctx context.Context, _ *struct{}) (*struct{ Body Kitchen }, error) {
	out := Kitchen{Shows: []reason.Reason{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select bowl, coalesce(curve -> 'temps', '[]'), coalesce((select array_agg(
				extract(epoch from d.at - p.began_at)::float) from pot_deeds d where d.kitchen_id = p.kitchen_id
				and d.pot_id = p.id), '{}')
			from pots p where ended_at is not null and curve is not null order by ended_at desc limit $1`, lastBowls)
		if err != nil {
			return err
		}
		bowls, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (b lesson.Bowl, err error) {
			var of temper.Bowl
			var curve []Point
			err = row.Scan(&of, &curve, &b.Done)
			b.Mass, b.Room = of.Mass, of.Room
			for _, p := range curve {
				b.Curve = append(b.Curve, pot.Sample{At: p.At, Value: p.Value})
			}
			return b, err
		})
		if err != nil {
			return err
		}
		if e, shown := lesson.Cools(bowls); shown {
			out.Shows = append(out.Shows, reason.Of("lesson.cools", reason.Count{N: e.Batches, Of: "bowl"}, reason.Share(e.Mean),
				reason.Share(e.From), reason.Share(e.To)))
		}
		return nil
	})
	return &struct{ Body Kitchen }{out}, err
}
