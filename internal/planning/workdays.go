package planning

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
)

// Span is a time of a day in which people work.
type Span struct {
	From  string `json:"from" example:"18:00" doc:"Wall clock, HH:MM"`
	To    string `json:"to" example:"21:30" doc:"Wall clock, HH:MM; 24:00 is the day's end"`
	Hands int    `json:"hands" doc:"People, 1 to 9"`
}

// Exception is a date that differs from the weekly pattern; without spans it is a day off.
type Exception struct {
	Day    string `json:"day" format:"date"`
	Reason string `json:"reason,omitempty"`
	Spans  []Span `json:"spans"`
}

// WorkDays is when the kitchen works.
type WorkDays struct {
	Week       [][]Span    `json:"week" minItems:"7" maxItems:"7" doc:"Seven days, Sunday first"`
	Exceptions []Exception `json:"exceptions"`
}

func minuteOf(clock string) (int, bool) {
	if clock == "24:00" {
		return plan.DayMinutes, true
	}
	t, err := time.Parse("15:04", clock)
	return t.Hour()*60 + t.Minute(), err == nil && len(clock) == 5
}

func clockOf(minute si.Minutes) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// mostSpans of hours on a day.
const mostSpans = 24

func checkSpans(f *invalid.Faults, path string, spans []Span) {
	type interval struct{ from, to int }
	var seen []interval
	if len(spans) > mostSpans {
		f.Add(path, reason.Of("planning.day-has-at-most-spans", reason.Int(mostSpans)))
		return
	}
	for i, s := range spans {
		at := fmt.Sprintf("%s[%d]", path, i)
		from, fine := minuteOf(s.From)
		if !fine {
			f.Add(at+".from", reason.Of("planning.not-time-day-write-like", reason.Name(s.From)))
			continue
		}
		to, fine := minuteOf(s.To)
		if !fine {
			f.Add(at+".to", reason.Of("planning.not-time-day-write-like-2", reason.Name(s.To)))
			continue
		}
		if to <= from {
			f.Add(at+".to", reason.Of("planning.work-from-cannot-end-at", reason.Name(s.From), reason.Name(s.To)))
		}
		if s.Hands < 1 || s.Hands > 9 {
			f.Add(at+".hands", reason.Of("planning.at-least-person-works-and"))
		}
		for _, o := range seen {
			if from < o.to && o.from < to {
				f.Add(at, reason.Of("planning.to-overlaps-another-time-that", reason.Name(s.From), reason.Name(s.To)))
				break // said once of each
			}
		}
		seen = append(seen, interval{from, to})
	}
}

func (w *WorkDays) check() error {
	var f invalid.Faults
	for i, spans := range w.Week {
		checkSpans(&f, fmt.Sprintf("week[%d]", i), spans)
	}
	if len(w.Exceptions) > 1000 {
		f.Add("exceptions", reason.Of("planning.there-more-than-dates-remove"))
	}
	days := map[string]bool{}
	for i, e := range w.Exceptions {
		path := fmt.Sprintf("exceptions[%d]", i)
		if _, err := time.Parse(time.DateOnly, e.Day); err != nil {
			f.Add(path+".day", reason.Of("planning.not-date-write-like", reason.Name(e.Day)))
		}
		if days[e.Day] {
			f.Add(path+".day", reason.Of("planning.stands-here-twice-keep-one", reason.Name(e.Day)))
		}
		days[e.Day] = true
		if len([]rune(e.Reason)) > 200 {
			f.Add(path+".reason", reason.Of("planning.keep-reason-to-letters"))
		}
		checkSpans(&f, path+".spans", e.Spans)
	}
	return f.Err()
}

type storedSpan struct {
	Weekday int
	Day     *time.Time
	From    si.Minutes
	To      si.Minutes
	Hands   int
}

// LoadWorkDays of the kitchen.
func LoadWorkDays(ctx context.Context, tx pgx.Tx) (WorkDays, error) {
	w, _, err := loadWorkDays(ctx, tx)
	return w, err
}

// SetHours checks and stores work days, and the plan follows.
func (p *Planning) SetHours(ctx context.Context, tx pgx.Tx, who web.Actor, w WorkDays) error {
	if err := w.check(); err != nil {
		return err
	}
	if err := StoreWorkDays(ctx, tx, who, w); err != nil {
		return err
	}
	_, err := p.resettle(ctx, tx)
	return err
}

func loadWorkDays(ctx context.Context, tx pgx.Tx) (w WorkDays, revision int, err error) {
	if err = tx.QueryRow(ctx, `select work_revision from kitchens`).Scan(&revision); err != nil {
		return w, 0, err
	}
	w = WorkDays{Week: make([][]Span, 7), Exceptions: []Exception{}}
	for i := range w.Week {
		w.Week[i] = []Span{}
	}
	rows, err := tx.Query(ctx, `select weekday, null::date, from_minute, to_minute, hands from work_week
			order by weekday, from_minute`)
	if err != nil {
		return w, 0, err
	}
	week, err := pgx.CollectRows(rows, pgx.RowToStructByPos[storedSpan])
	if err != nil {
		return w, 0, err
	}
	for _, s := range week {
		w.Week[s.Weekday] = append(w.Week[s.Weekday], Span{clockOf(s.From), clockOf(s.To), s.Hands})
	}
	rows, err = tx.Query(ctx, `select e.day::text, e.reason, coalesce(jsonb_agg(jsonb_build_object('from',
			s.from_minute, 'to', s.to_minute, 'hands', s.hands) order by s.from_minute)
		filter (where s.day is not null), '[]') from work_exceptions e left
		join work_exception_sessions s using (kitchen_id, day) group by e.day, e.reason order by e.day`)
	if err != nil {
		return w, 0, err
	}
	w.Exceptions, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Exception, error) {
		e := Exception{Spans: []Span{}}
		var spans []plan.Session
		err := row.Scan(&e.Day, &e.Reason, &spans)
		for _, s := range spans {
			e.Spans = append(e.Spans, Span{clockOf(s.From), clockOf(s.To), s.People})
		}
		return e, err
	})
	return w, revision, err
}

func (p *Planning) workDays(ctx context.Context, _ *struct{}) (*web.Tagged[WorkDays], error) {
	var w WorkDays
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) (err error) { w, revision, err = loadWorkDays(ctx, tx); return err })
	return web.TaggedBy(revision, w), err
}

func (p *Planning) putWorkDays(ctx context.Context, in *struct {
	web.IfMatch
	Body WorkDays
}) (*web.Tagged[WorkDays], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var w WorkDays
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select work_revision from kitchens for no key update`).Scan(&revision); err != nil {
			return err
		}
		if err := in.Matches(revision, func() (any, error) {
			now, _, err := loadWorkDays(ctx, tx)
			return now,
				err
		}); err != nil {
			return err
		}
		if err := StoreWorkDays(ctx, tx, web.ActorOf(ctx), in.Body); err != nil {
			return err
		}
		if _, err := p.resettle(ctx, tx); err != nil {
			return err
		}
		var err error
		w, revision, err = loadWorkDays(ctx, tx)
		return err
	})
	return web.TaggedBy(revision, w), err
}

// StoreWorkDays puts w, which has been checked, in the place of what was there.
func StoreWorkDays(ctx context.Context, tx pgx.Tx, who web.Actor, w WorkDays) error {
	batch := &pgx.Batch{}
	batch.Queue(`delete from work_week`)
	batch.Queue(`delete from work_exceptions`)
	batch.Queue(`update kitchens set work_revision = work_revision + 1`)
	for day, spans := range w.Week {
		for _, s := range spans {
			from, _ := minuteOf(s.From)
			to, _ := minuteOf(s.To)
			batch.Queue(`insert into work_week values ($1, $2, $3, $4, $5)`, who.Kitchen, day, from, to, s.Hands)
		}
	}
	for _, e := range w.Exceptions {
		batch.Queue(`insert into work_exceptions values ($1, $2::text::date, $3)`, who.Kitchen, e.Day, e.Reason)
		for _, s := range e.Spans {
			from, _ := minuteOf(s.From)
			to, _ := minuteOf(s.To)
			batch.Queue(`insert into work_exception_sessions values ($1, $2::text::date, $3, $4, $5)`, who.Kitchen,
				e.Day, from, to, s.Hands)
		}
	}
	return tx.SendBatch(ctx, batch).Close()
}

// Sessions of a number of days from day 0 of the calendar on.
func Sessions(ctx context.Context, tx pgx.Tx, cal plan.Calendar, days int) ([]plan.Session, error) {
	w, _, err := loadWorkDays(ctx, tx)
	if err != nil {
		return nil, err
	}
	return w.sessions(cal, 0, days), nil
}

// sessions from a day, inclusive, to a day, exclusive.
func (w WorkDays) sessions(cal plan.Calendar, first, end int) []plan.Session {
	var sessions []plan.Session
	for day := first; day < end; day++ {
		for _, s := range w.spansOn(cal, day) {
			from, _ := minuteOf(s.From)
			to, _ := minuteOf(s.To)
			for _, x := range cal.Spans(day, si.Minutes(from), si.Minutes(to)) {
				sessions = append(sessions, plan.Session{From: x.From, To: x.To, People: s.Hands})
			}
		}
	}
	return sessions
}

// HoursOf a day, in minutes of that day.
func HoursOf(calendar func(context.Context, pgx.Tx) (plan.Calendar, error)) func(context.Context, pgx.Tx,
	string) ([]plan.Session, error) {
	return func(ctx context.Context, tx pgx.Tx, day string) ([]plan.Session, error) {
		date, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return nil, err
		}
		cal, err := calendar(ctx, tx)
		if err != nil {
			return nil, err
		}
		w, _, err := loadWorkDays(ctx, tx)
		if err != nil {
			return nil, err
		}
		list := []plan.Session{}
		for _, h := range dayView(w, cal, dayOf(cal, date)).Hours {
			list = append(list, plan.Session{From: h.From, To: h.To, People: h.Hands})
		}
		return list, nil
	}
}

func (w *WorkDays) spansOn(cal plan.Calendar, day int) []Span {
	date := cal.Date(day)
	if i := slices.IndexFunc(w.Exceptions, func(e Exception) bool { return e.Day == date }); i >= 0 {
		return w.Exceptions[i].Spans
	}
	return w.Week[cal.Weekday(day)]
}
