package bench

import (
	"context"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Timer of something that waits.
type Timer struct {
	ID         uuid.UUID  `json:"id"`
	Name       string     `json:"name"`
	Place      string     `json:"place" doc:"Where it waits"`
	Batch      *uuid.UUID `json:"batch,omitempty" doc:"Of the step that it times"`
	Step       *string    `json:"step,omitempty"`
	Begun      time.Time  `json:"begun"`
	Ends       time.Time  `json:"ends"`
	Device     string     `json:"device" doc:"On which it rings"`
	Everywhere bool       `json:"everywhere" doc:"It rings on all devices"`
	Who        string     `json:"who,omitempty" doc:"Who set it"`
}

// Timers that run, or have ended and nobody has stopped.
type Timers struct {
	Timers []Timer `json:"timers" doc:"The one that ends first first"`
}

// TimerFields of one that is set.
type TimerFields struct {
	ID         uuid.UUID  `json:"id" format:"uuid" doc:"Of your own making, so that it is set once however often it is sent"`
	Name       string     `json:"name" minLength:"1" maxLength:"200"`
	Place      string     `json:"place,omitempty" maxLength:"100"`
	Seconds    int        `json:"seconds" minimum:"1" maximum:"172800"`
	Device     string     `json:"device" minLength:"1" maxLength:"60" doc:"That sets it"`
	Everywhere bool       `json:"everywhere,omitempty"`
	At         *time.Time `json:"at,omitempty" doc:"When it was set; now where it is not given"`
}

// slack is by how much the clock of a device may be ahead.
const slack = time.Minute

// eldest is how late something may be told that was done without a network.
const eldest = 48 * time.Hour

// when something was done that is told now.
func (b *Bench) when(at *time.Time) (time.Time, error) {
	now := b.Clock()
	switch {
	case at == nil:
		return now, nil
	case at.After(now.Add(slack)):
		return now, invalid.At("at", reason.Of("bench.in-the-future"))
	case at.Before(now.Add(-eldest)):
		return now, invalid.At("at", reason.Of("bench.too-long-ago", reason.Int(int(eldest.Hours()))))
	case at.After(now):
		return now, nil
	}
	return *at, nil
}

func (b *Bench) timers(ctx context.Context, _ *struct{}) (*struct{ Body Timers }, error) {
	var out Timers
	err := b.In(ctx, func(tx pgx.Tx) error {
		// One that ended long ago has been forgotten, not missed.
		rows, err := tx.Query(ctx, `select t.id, t.name, t.place, t.batch_id, t.step, t.begun_at, t.ends_at, t.device,
				t.everywhere, coalesce(p.name, '') from timers t left join people p on p.id = t.by_id
			where t.stopped_at is null and t.ends_at > $1 order by t.ends_at, t.id limit 100`,
			b.Clock().Add(-12*time.Hour))
		if err != nil {
			return err
		}
		out.Timers, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Timer])
		return err
	})
	return &struct{ Body Timers }{out}, err
}

func (b *Bench) setTimer(ctx context.Context, in *struct {
	Body TimerFields
}) (*struct{}, error) {
	return nil, b.In(ctx, func(tx pgx.Tx) error {
		at, err := b.when(in.Body.At)
		if err != nil {
			return err
		}
		t := in.Body
		_, err = tx.Exec(ctx, `insert into timers (kitchen_id, id, name, place, begun_at, ends_at, device, everywhere,
				by_id) values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7, $8) on conflict do nothing`, t.ID, t.Name, t.Place,
			at, at.Add(time.Duration(t.Seconds)*time.Second), t.Device, t.Everywhere, web.ActorOf(ctx).Person)
		return err
	})
}

func (b *Bench) stopTimer(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, b.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update timers set stopped_at = coalesce(stopped_at, $2) where id = $1`, in.ID, b.Clock())
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("timer")
		}
		return err
	})
}

// timed sets the timer of a step that was ticked, or takes it away with the tick.
func (b *Bench) timed(ctx context.Context, tx pgx.Tx, s *Step, done bool, at time.Time, device string,
	everywhere bool) error {
	if !done {
		_, err := tx.Exec(ctx, `update timers set stopped_at = $3 where batch_id = $1 and step = $2
			and stopped_at is null`, s.Batch, s.Step, b.Clock())
		return err
	}
	if s.Wait == 0 || device == "" {
		return nil
	}
	spots, err := b.Spots(ctx, tx)
	if err != nil {
		return err
	}
	place := ""
	for _, spot := range spots {
		if string(spot.ID) == s.Place {
			place = spot.Name
		}
	}
	_, err = tx.Exec(ctx, `insert into timers (kitchen_id, id, name, place, batch_id, step, begun_at, ends_at, device,
			everywhere, by_id) values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7, $8, $9, $10) on conflict do nothing`,
		db.NewID(), s.Name+", "+s.Treat, place, s.Batch, s.Step, at, at.Add(time.Duration(s.Wait)*time.Minute), device,
		everywhere, web.ActorOf(ctx).Person)
	return err
}

// Note of somebody at a step.
type Note struct {
	ID   uuid.UUID `json:"id"`
	Text string    `json:"text"`
	At   time.Time `json:"at"`
	Who  string    `json:"who,omitempty"`
}

func (b *Bench) addNote(ctx context.Context, in *struct {
	web.ID
	Step string `path:"step" maxLength:"60"`
	Body struct {
		ID   uuid.UUID  `json:"id" format:"uuid" doc:"Of your own making, so that it is noted once"`
		Text string     `json:"text" minLength:"1" maxLength:"1000"`
		At   *time.Time `json:"at,omitempty" doc:"When; now where it is not given"`
	}
}) (*struct{}, error) {
	return nil, b.In(ctx, func(tx pgx.Tx) error {
		at, err := b.when(in.Body.At)
		if err != nil {
			return err
		}
		var there bool
		if err := tx.QueryRow(ctx, `select exists (select from batch_steps where batch_id = $1 and step = $2)`, in.ID.ID,
			in.Step).Scan(&there); err != nil {
			return err
		}
		if !there {
			return web.NotFound("step")
		}
		_, err = tx.Exec(ctx, `insert into step_notes (kitchen_id, id, batch_id, step, text, at, by_id)
			values (zt_kitchen(), $1, $2, $3, $4, $5, $6) on conflict do nothing`, in.Body.ID, in.ID.ID, in.Step, in.Body.Text,
			at, web.ActorOf(ctx).Person)
		return err
	})
}

func (b *Bench) removeNote(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, b.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `delete from step_notes where id = $1`, in.ID)
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("note")
		}
		return err
	})
}

// noted gives each step what was noted at it.
func noted(ctx context.Context, tx pgx.Tx, steps []Step) error {
	at := make(map[[2]string]*Step, len(steps))
	batches := make([]uuid.UUID, 0, len(steps))
	for i := range steps {
		s := &steps[i]
		at[[2]string{s.Batch.String(), string(s.Step)}] = s
		batches = append(batches, s.Batch)
	}
	rows, err := tx.Query(ctx, `select n.batch_id, n.step, n.id, n.text, n.at, coalesce(p.name, '') from step_notes n
		left join people p on p.id = n.by_id where n.batch_id = any($1) order by n.at, n.id`, batches)
	if err != nil {
		return err
	}
	var batch uuid.UUID
	var step string
	var n Note
	_, err = pgx.ForEachRow(rows, []any{&batch, &step, &n.ID, &n.Text, &n.At, &n.Who}, func() error {
		if s := at[[2]string{batch.String(), step}]; s != nil {
			s.Notes = append(s.Notes, n)
		}
		return nil
	})
	return err
}

// undone is a refusal of a late tick where somebody else has set the step otherwise since.
func (b *Bench) undone(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string, done bool, at time.Time) error {
	var otherwise bool
	var who string
	var when time.Time
	rows, err := tx.Query(ctx, `select t.done <> $3, coalesce(p.name, ''), t.at from step_ticks t
		left join people p on p.id = t.by_id where t.batch_id = $1 and t.step = $2 and t.at > $4
		order by t.at desc, t.id desc limit 1`, batch, step, done, at)
	if err != nil {
		return err
	}
	n, err := pgx.ForEachRow(rows, []any{&otherwise, &who, &when}, func() error { return nil })
	if err != nil || n.RowsAffected() == 0 || !otherwise {
		return err
	}
	zone, _, err := b.House(ctx, tx)
	if err != nil {
		return err
	}
	local := when.In(zone)
	clock := reason.Clock(local.Hour()*60 + local.Minute())
	if done {
		return web.Reject(http.StatusConflict, "bench.taken-back-since", reason.Name(who), clock)
	}
	return web.Reject(http.StatusConflict, "bench.ticked-since", reason.Name(who), clock)
}
