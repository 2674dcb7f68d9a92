package bench

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

func results(ctx context.Context, tx pgx.Tx, which string, arg any) ([]Result, error) {
	rows, err := tx.Query(ctx, `select b.id, b.name, batch_for(b.kitchen_id, b.id), b.count, b.started, b.sold,
			b.hands, b.good, b.minutes, (select sum(s.broken)::int from batch_steps s where s.kitchen_id = b.kitchen_id
			and s.batch_id = b.id) from batches b where `+which+` order by b.id`, arg)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (r Result, err error) {
		var shares order.Shares
		var broken int
		err = row.Scan(&r.Batch, &r.Treat, &shares, &r.Wanted, &r.Started, &r.Sold, &r.Expected, &r.Good, &r.Minutes,
			&broken)
		r.For, r.Counted = shares.Owners(), r.Sold == "pieces" || r.Sold == "piece"
		out := order.Output{Started: r.Started, Counted: r.Counted, Broken: broken, Shares: shares}
		r.Likely = out.Pieces()
		return r, err
	})
}

func (b *Bench) putResult(ctx context.Context, in *struct {
	web.ID
	Body ResultFields
}) (*struct{ Body Result }, error) {
	var r Result
	err := b.In(ctx, func(tx pgx.Tx) error {
		list, err := results(ctx, tx, `b.id = $1`, in.ID.ID)
		if err != nil {
			return err
		}
		if len(list) == 0 {
			return web.NotFound("batch")
		}
		// A sheet of bark gives several bags: there the pieces that were begun are not counted.
		if r = list[0]; in.Body.Good != nil && r.Counted && *in.Body.Good > r.Started {
			return &invalid.Error{Fields: []invalid.Field{{Path: "good",
				Err: reason.Of("bench.were-started-no-more-than", reason.Int(r.Started))}}}
		}
		r.ResultFields = in.Body
		_, err = tx.Exec(ctx, `update batches set good = $2, minutes = $3 where id = $1`, in.ID.ID, in.Body.Good,
			in.Body.Minutes)
		return err
	})
	return &struct{ Body Result }{r}, err
}

// Tick is whether a step is done.
type Tick struct {
	Done       bool       `json:"done"`
	At         *time.Time `json:"at,omitempty" doc:"When it was done, told later by a device that had no network; now where it is not given"`
	Device     string     `json:"device,omitempty" maxLength:"60" doc:"On which the timer of what then waits rings; none is set where it is not given"`
	Everywhere bool       `json:"everywhere,omitempty" doc:"It rings on all devices"`
}

func (b *Bench) tick(ctx context.Context, in *struct {
	web.ID
	Step string `path:"step" maxLength:"60"`
	Body Tick
}) (*struct{ Body Step }, error) {
	var ticked Step
	err := b.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select o.id, o.customer, o.state from batch_steps t
			join batch_shares h on h.kitchen_id = t.kitchen_id and h.batch_id = t.batch_id
			join orders o on o.kitchen_id = h.kitchen_id and o.id = h.order_id
			where t.batch_id = $1 and t.step = $2 order by o.state = 'cancelled', o.from_at for no key update of o, t`, in.ID.ID, in.Step)
		if err != nil {
			return err
		}
		type taker struct {
			ID       uuid.UUID
			Customer string
			State    order.State
		}
		takers, err := pgx.CollectRows(rows, pgx.RowToStructByPos[taker])
		if err != nil {
			return err
		}
		if len(takers) == 0 {
			ticked, err = b.tickOwn(ctx, tx, in.ID.ID, in.Step, in.Body)
			return err
		}
		for i, o := range takers {
			if o.State != order.Promised && o.State != order.Making && !(o.State == order.Cancelled && i > 0) {
				return web.Reject(http.StatusConflict, "bench.cannot-be-ticked-any-more", reason.Name(o.Customer),
					reason.Word(o.State))
			}
		}
		err = b.mark(ctx, tx, in.ID.ID, in.Step, in.Body)
		for _, o := range takers {
			if err == nil && in.Body.Done {
				err = b.Begin(ctx, tx, o.ID)
			}
		}
		if err == nil {
			err = b.Turn(ctx, tx, takers[0].ID)
		}
		if err != nil {
			return err
		}
		ticked, err = stepOf(ctx, tx, in.ID.ID, in.Step)
		return err
	})
	return &struct{ Body Step }{ticked}, err
}

// tickOwn ticks a step of a mix that is made ahead, for no order.
func (b *Bench) tickOwn(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string, t Tick) (ticked Step,
	err error) {
	var own bool
	if err := tx.QueryRow(ctx, `select exists (select from batches b join batch_steps s on s.kitchen_id = b.kitchen_id
			and s.batch_id = b.id where b.id = $1 and b.mix_id is not null and s.step = $2)`, batch, step).
		Scan(&own); err != nil {
		return ticked, err
	}
	if !own {
		return ticked, web.NotFound("step")
	}
	if err := b.mark(ctx, tx, batch, step, t); err != nil {
		return ticked, err
	}
	if err := b.TurnOwn(ctx, tx, batch); err != nil {
		return ticked, err
	}
	return stepOf(ctx, tx, batch, step)
}

// mark a step as done, or not. Marking twice keeps the first time. What is told late is refused where somebody has set it
// otherwise since.
func (b *Bench) mark(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string, t Tick) error {
	at, err := b.when(t.At)
	if err != nil {
		return err
	}
	if t.At != nil {
		if err := b.undone(ctx, tx, batch, step, t.Done, at); err != nil {
			return err
		}
	}
	who := web.ActorOf(ctx).Person
	set := `update batch_steps set done_at = null, done_by = null where batch_id = $1 and step = $2
			and done_at is not null and $3::timestamptz is not null and $4::uuid is not null`
	if t.Done {
		set = `update batch_steps set done_at = $3, done_by = $4 where batch_id = $1 and step = $2 and done_at is null`
	}
	tag, err := tx.Exec(ctx, set, batch, step, at, who)
	if err != nil || tag.RowsAffected() == 0 {
		return err
	}
	if _, err := tx.Exec(ctx, `insert into step_ticks (kitchen_id, id, batch_id, step, done, at, by_id)
		values (zt_kitchen(), $1, $2, $3, $4, $5, $6)`, db.NewID(), batch, step, t.Done, at, who); err != nil {
		return err
	}
	s, err := stepOf(ctx, tx, batch, step)
	if err != nil {
		return err
	}
	return b.timed(ctx, tx, &s, t.Done, at, t.Device, t.Everywhere)
}

func stepOf(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string) (Step, error) {
	rows, err := tx.Query(ctx, selectSteps+` where t.batch_id = $1 and t.step = $2`, batch, step)
	if err != nil {
		return Step{}, err
	}
	return pgx.CollectExactlyOneRow(rows, scan)
}

// Loss is pieces that broke.
type Loss struct {
	Pieces int `json:"pieces" minimum:"-100000" maximum:"100000" doc:"Less than nothing takes a loss back"`
}

func (b *Bench) lose(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Step string `path:"step" maxLength:"60"`
	Body Loss
}) (*struct{ Body Step }, error) {
	var at Step
	err := b.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		// It adds, so a repeat after a lost answer must not.
		_, err := web.Once(ctx, tx, in.OnceKey, "add-losses "+in.ID.ID.String()+" "+in.Step, in.Body,
			func() (struct{}, error) { return struct{}{}, AddLosses(ctx, tx, in.ID.ID, in.Step, in.Body.Pieces) })
		if err != nil {
			return err
		}
		at, err = stepOf(ctx, tx, in.ID.ID, in.Step)
		return err
	})
	return &struct{ Body Step }{at}, err
}

// AddLosses to a step of a batch; pieces below 0 take some back.
func AddLosses(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string, pieces int) error {
	rows, err := tx.Query(ctx, `select b.started, b.sold in ('piece', 'pieces'),
			(select sum(x.broken)::int from batch_steps x where x.kitchen_id = b.kitchen_id and x.batch_id = b.id),
			t.broken from batch_steps t join batches b on b.kitchen_id = t.kitchen_id and b.id = t.batch_id
		where t.batch_id = $1 and t.step = $2`, batch, step)
	if err != nil {
		return err
	}
	type tally struct {
		Started int
		Counted bool
		Broken  int // at all of its steps
		Here    int
	}
	now, err := pgx.CollectExactlyOneRow(rows, pgx.RowToStructByPos[tally])
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return web.NotFound("step")
	case err != nil:
		return err
	case !now.Counted:
		return web.Reject(http.StatusConflict, "bench.is-counted-at-the-end")
	case now.Broken+pieces > now.Started:
		return invalid.At("pieces", reason.Of("bench.no-more-can-break", reason.Int(now.Started),
			reason.Int(now.Broken)))
	case now.Here+pieces < 0:
		return invalid.At("pieces", reason.Of("bench.fewer-broke-here", reason.Int(now.Here)))
	}
	_, err = tx.Exec(ctx, `update batch_steps set broken = broken + $3 where batch_id = $1 and step = $2`, batch, step,
		pieces)
	return err
}
