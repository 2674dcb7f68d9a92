package handover

import (
	"context"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// DropLine is what is handed over of a treat.
type DropLine struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
	Given *int   `json:"given,omitempty" doc:"How many of them were, where only a part was"`
}

// Outcome of a drop.
type Outcome struct {
	Outcome string `json:"outcome" enum:"handed over,in part,nobody there,brought back"`
	Note    string `json:"note,omitempty" maxLength:"500"`
	Given   []int  `json:"given,omitempty" maxItems:"200" doc:"Handed over in part: how many pieces of each line"`
}

func (o *Handover) putDrop(ctx context.Context, in *struct {
	OnDay
	web.ID
	Body Outcome
}) (*web.Tagged[DriveDay], error) {
	return o.dropped(ctx, in.Day, func(tx pgx.Tx) error {
		if err := in.Body.check(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `insert into drops (kitchen_id, order_id, day, outcome, note, given, at, person_id)
			values ($1, $2, $3::text::date, $4, $5, $6, $7, $8) on conflict (kitchen_id, order_id) do update
			set day = excluded.day, outcome = excluded.outcome, note = excluded.note, given = excluded.given,
			at = excluded.at, person_id = excluded.person_id`, web.ActorOf(ctx).Kitchen, in.ID.ID, in.Day,
			in.Body.Outcome, in.Body.Note, in.Body.Given, o.Clock(), web.ActorOf(ctx).Person)
		if err != nil {
			return err
		}
		return o.follow(ctx, tx, in.ID.ID, in.Body.Outcome)
	}, in.ID.ID)
}

// check how many pieces were handed over, where that was told: only of what was handed over in part.
func (b *Outcome) check(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	if b.Outcome != "in part" {
		b.Given = nil
	}
	if b.Given == nil {
		return nil
	}
	rows, err := tx.Query(ctx, `select count from order_lines where order_id = $1 order by position`, id)
	if err != nil {
		return err
	}
	counts, err := pgx.CollectRows(rows, pgx.RowTo[int])
	if err != nil {
		return err
	}
	var faults invalid.Faults
	faults.Under("given", order.CheckGiven(counts, b.Given))
	return faults.Err()
}

func (o *Handover) deleteDrop(ctx context.Context, in *struct {
	OnDay
	web.ID
}) (*web.Tagged[DriveDay], error) {
	return o.dropped(ctx, in.Day, func(tx pgx.Tx) error {
		gone, err := tx.Exec(ctx, `delete from drops where order_id = $1 and day = $2::text::date`, in.ID.ID, in.Day)
		if err != nil || gone.RowsAffected() == 0 {
			return err
		}
		return o.follow(ctx, tx, in.ID.ID, "")
	}, in.ID.ID)
}

func (o *Handover) dropped(ctx context.Context, day string, change func(pgx.Tx) error,
	id uuid.UUID) (*web.Tagged[DriveDay], error) {
	var d *driving
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		var there bool
		if err := tx.QueryRow(ctx, `select exists (select from orders where id = $1)`, id).Scan(&there); err != nil {
			return err
		}
		if !there {
			return web.NotFound("order")
		}
		if err := change(tx); err != nil {
			return err
		}
		var err error
		d, err = o.shown(ctx, tx, day) // who is not shown it changes nothing of it
		if err == nil {
			err = o.next(ctx, tx, d, id)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(d.revision, d.view), nil
}

// next on the road after a drop of today is told that one is on the way.
func (o *Handover) next(ctx context.Context, tx pgx.Tx, d *driving, after uuid.UUID) error {
	if d.day != 0 || !d.view.Tells {
		return nil
	}
	for i := range d.view.Drives {
		drops := d.view.Drives[i].Drops
		n := slices.IndexFunc(drops, func(x Drop) bool { return x.Order == after })
		if n < 0 || drops[n].Outcome == "" || n+1 == len(drops) {
			continue
		}
		if x := &drops[n+1]; !x.AtHome && !x.Told && x.Outcome == "" && x.State == order.Packed {
			x.Told = true
			return o.OnTheWay(ctx, tx, x.Order, int(x.Road))
		}
	}
	return nil
}

// follow an outcome with the state of the order: what is handed over, if only in part, is; what is not is packed still.
func (o *Handover) follow(ctx context.Context, tx pgx.Tx, id uuid.UUID, outcome string) error {
	var state order.State
	if err := tx.QueryRow(ctx, `select state from orders where id = $1`, id).Scan(&state); err != nil {
		return err
	}
	over := outcome == "handed over" || outcome == "in part"
	switch {
	case over && state == order.Settled:
		return nil
	case over && state != order.HandedOver:
		return o.Advance(ctx, tx, id, order.HandedOver)
	case !over && state == order.HandedOver:
		return o.Advance(ctx, tx, id, order.Packed)
	}
	return nil
}
