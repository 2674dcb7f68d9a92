package planning

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
)

// Errands from one date to another, both included, by their begin.
func Errands(ctx context.Context, tx pgx.Tx, from, to string) ([]plan.Errand, error) {
	rows, err := tx.Query(ctx, `select day::text, start, start + minutes, hand, orders::text[] from errands
			where day between $1::text::date and $2::text::date order by day, start`, from, to)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[plan.Errand])
}

// errands of a span of days, counted from the calendar's day 0.
func errands(ctx context.Context, tx pgx.Tx, cal plan.Calendar, span Days) ([]plan.Errand, error) {
	return Errands(ctx, tx, cal.Date(span.From), cal.Date(span.To-1))
}

// busy is an errand as the planner sees it, in the minutes of a calendar.
func busy(e *plan.Errand, cal plan.Calendar, sessions []plan.Session, now si.Minutes) plan.CommittedBatch {
	date, _ := time.Parse(time.DateOnly, e.Day)
	return e.Busy(cal, dayOf(cal, date), sessions, now, order.ConfirmedPenalty)
}

// busySteps of errands, where they take from the time of work.
func busySteps(list []plan.Errand, cal plan.Calendar, sessions []plan.Session) []plan.ScheduledOperation {
	var steps []plan.ScheduledOperation
	for i := range list {
		steps = append(steps, plan.BusySteps(busy(&list[i], cal, sessions, 0))...)
	}
	return steps
}

// SetErrands of a day in the place of those that were there; the plan follows. What finds no room any more is told;
// what cannot move, because it is pinned there, is a reason to refuse.
func (p *Planning) SetErrands(ctx context.Context, tx pgx.Tx, day string, list []plan.Errand) (lost []reason.Reason,
	err error) {
	who, batch := web.ActorOf(ctx), &pgx.Batch{}
	batch.Queue(`delete from errands where day = $1::text::date`, day)
	for _, e := range list {
		batch.Queue(`insert into errands (kitchen_id, day, start, minutes, hand, orders)
			values ($1, $2::text::date, $3, $4, $5, $6::text[]::uuid[])`, who.Kitchen, day, e.From, e.To-e.From, e.Hand,
			e.Orders)
	}
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return nil, err
	}
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return nil, err
	}
	s, err := p.settle(ctx, tx, p.span(cal, day))
	var faults *invalid.Error
	if errors.As(err, &faults) {
		return nil, web.Because(http.StatusConflict, reason.Of("planning.cannot-be-planned-so",
			reason.Because(faults.Fields[0].Err)))
	}
	if err != nil {
		return nil, err
	}
	names, err := namesOf(ctx, tx, s.before)
	if err != nil {
		return nil, err
	}
	a := &applying{p, ctx, tx, &Change{}, cal, s.before, names, past{}}
	out := Outcome{}
	a.compare(s, &out)
	return out.Unscheduled, s.keep(ctx, tx)
}
