package ask

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/internal/platform/web"
)

// ahead is how many days the page offers.
const ahead = 35

// days of the coming weeks on which the lines can be handed over: those that the planner finds room for. What it said
// is kept until something changes that it rests on: what is planned, when one works, the treats, or the day.
func (a *Ask) days(ctx context.Context, tx pgx.Tx, s *Settings, lines []order.Line) ([]time.Time, error) {
	known, err := a.Kitchen(ctx, tx, order.Scope{Until: a.Clock().AddDate(0, 0, ahead+1), Lines: lines})
	if err != nil {
		return nil, err
	}
	key, err := a.key(ctx, tx, s, lines, known)
	if err != nil {
		return nil, err
	}
	rows, err := tx.Query(ctx, `select unnest(days) from ask_days where asked = $1`, key)
	if err != nil {
		return nil, err
	}
	kept, err := pgx.CollectRows(rows, pgx.RowTo[time.Time])
	if err != nil {
		return nil, err
	}
	var was bool
	err = tx.QueryRow(ctx, `select exists (select from ask_days where asked = $1)`, key).Scan(&was)
	if err != nil || was {
		return kept, err
	}
	known.Extent = order.FeasibilityOnly
	fit := []time.Time{}
	for day := s.Notice; day < ahead; day++ {
		if !slices.Contains(s.Weekdays, int(known.Calendar.Weekday(day))) {
			continue
		}
		d := order.Draft{Customer: "?", Way: order.Pickup, Lines: lines, FreeFrom: []string{}}
		d.From, d.To = window(known.Calendar, day, s)
		if d.From.Before(a.Clock()) {
			continue
		}
		r, err := order.Compute(ctx, &d, known)
		if err != nil {
			return nil, err
		}
		if r.When.Fits {
			date, _ := time.Parse(time.DateOnly, known.Calendar.Date(day))
			fit = append(fit, date)
		}
	}
	batch := &pgx.Batch{}
	batch.Queue(`delete from ask_days where at < $1`, a.Clock().Add(-48*time.Hour))
	batch.Queue(`insert into ask_days (kitchen_id, asked, days, at) values ($1, $2, $3, $4)
			on conflict (kitchen_id, asked) do nothing`, web.ActorOf(ctx).Kitchen, key, fit, a.Clock())
	return fit, tx.SendBatch(ctx, batch).Close()
}

// dayOf a date, counted from the calendar's day 0.
func dayOf(cal plan.Calendar, date time.Time) int {
	return cal.DayOf(time.Date(date.Year(), date.Month(), date.Day(), 12, 0, 0, 0, cal.Zero.Location()))
}

// window of a day's handovers.
func window(cal plan.Calendar, day int, s *Settings) (from, to time.Time) {
	return cal.Time(cal.At(day, s.From)), cal.Time(cal.At(day, s.To))
}

// key of what the days rest on.
func (a *Ask) key(ctx context.Context, tx pgx.Tx, s *Settings, lines []order.Line, k *order.Inputs) (string, error) {
	var planned, hours, capacity, settings int
	var batches string
	if err := tx.QueryRow(ctx, `select plan_revision, work_revision, capacity_revision, revision,
			(select count(*) || '/' || coalesce(max(sequence), 0) from batches) from kitchens`).
		Scan(&planned, &hours, &capacity, &settings, &batches); err != nil {
		return "", err
	}
	h := sha256.New()
	fmt.Fprintln(h, k.Calendar.Date(0), a.Clock().Hour(), planned, hours, capacity, settings, batches, s.Notice,
		s.Weekdays, s.From, s.To)
	for _, l := range lines {
		fmt.Fprintln(h, l.Treat, k.Treats[l.Treat].Version, l.Count)
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}
