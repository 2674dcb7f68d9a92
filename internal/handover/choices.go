package handover

import (
	"context"
	"errors"
	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/web"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

func (c *Choices) check() error {
	var f invalid.Faults
	for _, at := range c.Leaves {
		if at < 0 || at >= plan.DayMinutes {
			f.Add("leaves", reason.Of("handover.leave-on-that-day"))
		}
	}
	for _, m := range c.Doors {
		if m < 0 || m > 240 {
			f.Add("doors", reason.Of("handover.minutes-at-the-door"))
		}
	}
	if len(c.Leaves) > 200 || len(c.Doors) > 200 {
		f.Add("leaves", reason.Of("handover.too-many-choices"))
	}
	return f.Err()
}

// storedChoices with their revision; 0 where nobody has settled anything.
type storedChoices struct {
	Choices
	revision int
}

func loadChoices(ctx context.Context, tx pgx.Tx, day string) (storedChoices, error) {
	c := storedChoices{Choices: Choices{Sequence: []uuid.UUID{}, Leaves: map[uuid.UUID]si.Minutes{},
		Doors: map[uuid.UUID]si.Minutes{}}}
	err := tx.QueryRow(ctx, `select revision, sequence, leaves, doors, stays, hand, warmest, planned from drives
			where day = $1::text::date`, day).
		Scan(&c.revision, &c.Sequence, &c.Leaves, &c.Doors, &c.Stays, &c.Hand, &c.Warmest, &c.Planned)
	if errors.Is(err, pgx.ErrNoRows) {
		err = nil
	}
	return c, err
}

func storeChoices(ctx context.Context, tx pgx.Tx, day string, c *Choices) error {
	if c.Sequence == nil {
		c.Sequence = []uuid.UUID{}
	}
	if c.Leaves == nil {
		c.Leaves = map[uuid.UUID]si.Minutes{}
	}
	if c.Doors == nil {
		c.Doors = map[uuid.UUID]si.Minutes{}
	}
	_, err := tx.Exec(ctx, `insert into drives (kitchen_id, day, sequence, leaves, doors, stays, hand, warmest, planned)
			values ($1, $2::text::date, $3, $4, $5, $6, $7, $8, $9) on conflict (kitchen_id, day) do update
			set revision = drives.revision + 1, sequence = excluded.sequence, leaves = excluded.leaves,
			doors = excluded.doors, stays = excluded.stays, hand = excluded.hand, warmest = excluded.warmest,
			planned = excluded.planned`,
		web.ActorOf(ctx).Kitchen, day, c.Sequence, c.Leaves, c.Doors, c.Stays, c.Hand, c.Warmest, c.Planned)
	return err
}
