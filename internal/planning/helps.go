package planning

import (
	"context"
	"encoding/json"
	"errors"

	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Help is a change that was tried because a day runs late.
type Help struct {
	Change  Change          `json:"change" doc:"To be sent as it is, to take it"`
	Text    reason.Reason   `json:"text" doc:"What to do"`
	Effect  []reason.Reason `json:"effect" doc:"What follows, as the planner has it"`
	Kept    bool            `json:"kept" doc:"All of it is done by its handover"`
	trouble int             // of somebody, in minutes
	done    si.Minutes
}

// Helps when a day runs late.
type Helps struct {
	Helps []Help `json:"helps" doc:"Three at most, what keeps the handovers with the least trouble first"`
}

// Helps that are told.
const (
	mostHelps   = 3
	fewestHelps = 2
)

// What helps cost somebody, beside the minutes that a session goes on (as core/plan's reliefs have it; common practice
// puts asking a customer last).
const (
	troubleOfSkipping = 20
	troubleOfAsking   = 120
	troubleOfWaiting  = 200
)

// helps tries what could help on a day that runs late: going on as planned anew, longer, with somebody more, without
// lines on top, or with a later handover.
func (p *Planning) helps(ctx context.Context, in *struct {
	Day string `path:"day" format:"date"`
}) (*struct{ Body Helps }, error) {
	out := Helps{Helps: []Help{}}
	var tries []Help
	err := p.In(ctx, func(tx pgx.Tx) (err error) {
		cal, err := p.Calendar(ctx, tx)
		if err != nil || in.Day != cal.Date(0) {
			return err
		}
		if late, err := p.late(ctx, tx, cal); err != nil || !late {
			return err
		}
		tries, err = p.tries(ctx, tx, cal, in.Day)
		return err
	})
	if err != nil {
		return nil, err
	}
	seen := map[string]bool{} // kinds of change of which a smaller one keeps all
	for _, h := range tries {
		of := h.Change.Kind + h.Text.Code
		if seen[of] {
			continue
		}
		if err := p.try(ctx, &h, in.Day); err != nil {
			var refused *web.Problem
			if errors.As(err, &refused) {
				continue
			}
			return nil, err
		}
		seen[of] = h.Kept
		out.Helps = append(out.Helps, h)
	}
	slices.SortStableFunc(out.Helps, func(a, b Help) int {
		switch {
		case a.Kept != b.Kept && a.Kept:
			return -1
		case a.Kept != b.Kept:
			return 1
		}
		return a.trouble - b.trouble
	})
	out.Helps = slices.CompactFunc(out.Helps, func(a, b Help) bool {
		return a.Text.Code == b.Text.Code && a.Kept == b.Kept
	})
	// What does not keep all is told only where there is little else.
	kept := 0
	for _, h := range out.Helps {
		if h.Kept {
			kept++
		}
	}
	out.Helps = out.Helps[:min(len(out.Helps), max(min(kept, mostHelps), fewestHelps))]
	return &struct{ Body Helps }{out}, nil
}

// late says whether today runs late, or something has no room.
func (p *Planning) late(ctx context.Context, tx pgx.Tx, cal plan.Calendar) (bool, error) {
	w, all, err := load(ctx, tx, cal, p.Clock(), Days{0, 1}, uuid.Nil, nil)
	if err != nil {
		return false, err
	}
	if slices.ContainsFunc(all, func(b promised) bool { return b.short != nil }) {
		return true, nil
	}
	today := w.Calendar.Minute(cal.Zero)
	for _, m := range plan.ProjectDelays(&w.Problem, w.Previous, today, today+cal.Begin(1)) {
		if m.To.Start-m.From.Start >= grace && !plan.IsErrand(m.To.Batch) {
			return true, nil
		}
	}
	return false, nil
}

// try a change, and take it back.
func (p *Planning) try(ctx context.Context, h *Help, day string) error {
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		out, err := p.changed(ctx, tx, &h.Change)
		if err != nil {
			return err
		}
		var short int
		if err := tx.QueryRow(ctx, `select coalesce((select max(start + hands) from batch_steps
				where day = $1::text::date and done_at is null), 0), (select count(*) from batches b where b.short is not null
				and exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id
				and s.done_at is null))`, day).Scan(&h.done, &short); err != nil {
			return err
		}
		h.Kept = short == 0
		if h.done > 0 {
			h.Effect = append(h.Effect, reason.Of("planning.help-done", reason.Clock(h.done%plan.DayMinutes)))
		}
		if h.Kept {
			h.Effect = append(h.Effect, reason.Of("planning.handovers-are-kept"))
		}
		h.Effect = append(h.Effect, out.Unscheduled...)
		h.Effect = append(h.Effect, out.Rescheduled...)
		return errDry
	})
	if errors.Is(err, errDry) {
		return nil
	}
	return err
}

// tries that are worth it today, with the least trouble of each kind first.
func (p *Planning) tries(ctx context.Context, tx pgx.Tx, cal plan.Calendar, day string) ([]Help, error) {
	list := []Help{{Change: Change{Kind: "settle"}, Text: reason.Of("planning.help-settle")}}
	w, _, err := loadWorkDays(ctx, tx)
	if err != nil {
		return nil, err
	}
	now := cal.Clock(cal.Minute(p.Clock()))
	hours := dayView(w, cal, 0).Hours
	for i, h := range hours {
		if h.To <= now || i+1 < len(hours) && hours[i+1].To <= now {
			continue
		}
		room := plan.DayMinutes - h.To
		if i+1 < len(hours) {
			room = hours[i+1].From - h.To
		}
		change := Change{Kind: "hours", Day: day, From: clockOf(h.From), To: clockOf(h.To), Hands: h.Hands}
		for _, more := range []si.Minutes{30, 60} {
			if longer := change; more <= room {
				longer.To = clockOf(h.To + more)
				list = append(list, Help{Change: longer, trouble: int(more), Text: reason.Of("planning.help-longer",
					reason.Clock(h.To+more), reason.Minutes(more))})
			}
		}
		change.Hands++
		from := max(h.From, (now+29)/30*30) // somebody has to come
		if h.Hands < 9 && from < h.To {
			list = append(list, Help{Change: change, trouble: troubleOfAsking,
				Text: reason.Of("planning.help-person", reason.Clock(from))})
		}
		break
	}
	skips, err := p.skips(ctx, tx, day)
	if err != nil {
		return nil, err
	}
	waits, err := p.waits(ctx, tx, cal, day)
	return append(append(list, skips...), waits...), err
}

// skips are the lines on top that are still to be drawn today.
func (p *Planning) skips(ctx context.Context, tx pgx.Tx, day string) ([]Help, error) {
	rows, err := tx.Query(ctx, `select s.batch_id, s.step, c ->> 'name', b.name from batch_steps s
			join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id
			cross join jsonb_array_elements(b.sheet #> '{card,steps}') c
		where s.day = $1::text::date and s.done_at is null and c ->> 'id' = s.step and c ->> 'role' = $2
		order by s.hands desc, s.batch_id, s.position limit 2`, day, treat.RoleDrizzle)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (h Help, err error) {
		var step, name string
		h.Change.Kind, h.trouble = "skip", troubleOfSkipping
		err = row.Scan(&h.Change.Batch, &h.Change.Step, &step, &name)
		h.Text = reason.Of("planning.help-skip", reason.Name(step), reason.Name(name))
		return h, err
	})
}

// waits are handovers of what is still to be made today that could be a little later.
func (p *Planning) waits(ctx context.Context, tx pgx.Tx, cal plan.Calendar, day string) ([]Help, error) {
	rows, err := tx.Query(ctx, `select distinct o.id, o.customer, o.from_at from orders o
			join batch_shares h on h.kitchen_id = o.kitchen_id and h.order_id = o.id
			join batch_steps s on s.kitchen_id = h.kitchen_id and s.batch_id = h.batch_id
		where s.day = $1::text::date and s.done_at is null and o.state in ('promised', 'in the making')
			and o.from_at < $2::timestamptz + interval '36 hours' order by o.from_at, o.id limit 2`, day, p.Clock())
	if err != nil {
		return nil, err
	}
	var list []Help
	var id uuid.UUID
	var customer string
	var from time.Time
	_, err = pgx.ForEachRow(rows, []any{&id, &customer, &from}, func() error {
		for _, more := range []si.Minutes{30, 60} {
			to := cal.Clock(cal.Minute(from.Add(time.Duration(more) * time.Minute)))
			list = append(list, Help{Change: Change{Kind: "later", Order: id, Minutes: more},
				trouble: troubleOfWaiting + int(more), Text: reason.Of("planning.help-later", reason.Name(customer),
					reason.Clock(to), reason.Minutes(more))})
		}
		return nil
	})
	return list, err
}

// skipped is a step that is left out, as it stood.
type skipped struct {
	Batch uuid.UUID       `json:"batch"`
	Step  ident.Step      `json:"step"`
	Draw  json.RawMessage `json:"draw"`
	Work  json.RawMessage `json:"work"` // of its batch, as the planner had it
}

// skip lines on top: nothing is taken from the bowl for them, and nobody waits for them any more.
func (a *applying) skip() (says reason.Reason, err error) {
	c := a.change
	b, s := a.find()
	if s == nil {
		return says, web.NotFound("step")
	}
	if s.Done != nil {
		return says, web.Reject(http.StatusConflict, "planning.step-is-done")
	}
	was := skipped{Batch: c.Batch, Step: c.Step}
	var role string
	if err := a.tx.QueryRow(a.ctx, `select coalesce((select c ->> 'role' from jsonb_array_elements(b.sheet
			#> '{card,steps}') c where c ->> 'id' = s.step), ''), s.draw from batch_steps s join batches b
			on b.kitchen_id = s.kitchen_id and b.id = s.batch_id where s.batch_id = $1 and s.step = $2`, c.Batch, c.Step).
		Scan(&role, &was.Draw); err != nil {
		return says, err
	}
	of := a.names[uuid.MustParse(string(b.ID))]
	if treat.Role(role) != treat.RoleDrizzle {
		return says, web.Reject(http.StatusConflict, "planning.only-lines-are-skipped", reason.Name(of.nameOf(c.Step)))
	}
	a.past.Skipped = &was
	var work plan.Batch
	if err := a.tx.QueryRow(a.ctx, `select work, work from batches where id = $1`, c.Batch).Scan(&work,
		&was.Work); err != nil {
		return says, err
	}
	work.Steps = without(work.Steps, c.Step)
	batch := &pgx.Batch{}
	batch.Queue(`update batches set work = $2 where id = $1`, c.Batch, work)
	batch.Queue(`update batch_steps set done_at = $3, done_by = $4, draw = null where batch_id = $1 and step = $2`, c.Batch,
		c.Step, a.Clock(), web.ActorOf(a.ctx).Person)
	err = a.tx.SendBatch(a.ctx, batch).Close()
	return reason.Of("planning.skipped", reason.Name(of.nameOf(c.Step)), reason.Name(of.treat)), err
}

// without a step: what came after it comes after what it came after.
func without(steps []plan.Operation, id ident.Step) []plan.Operation {
	n := slices.IndexFunc(steps, func(s plan.Operation) bool { return s.ID == id })
	if n < 0 {
		return steps
	}
	gone := steps[n]
	steps = slices.Delete(slices.Clone(steps), n, n+1)
	for i := range steps {
		after := slices.DeleteFunc(slices.Clone(steps[i].After), func(x plan.After) bool { return x.Step == id })
		if len(after) < len(steps[i].After) {
			for _, x := range gone.After {
				if !slices.ContainsFunc(after, func(y plan.After) bool { return y.Step == x.Step }) {
					after = append(after, x)
				}
			}
			steps[i].After = after
		}
	}
	return steps
}

// postponed is a handover that is later than it was asked for, by so many minutes.
type postponed struct {
	Order   uuid.UUID  `json:"order"`
	Minutes si.Minutes `json:"minutes"`
}

// later is a handover put off. Whoever gets it has been asked.
func (a *applying) later() (says reason.Reason, err error) {
	c := a.change
	if c.Minutes < 1 {
		return says, web.Reject(http.StatusConflict, "planning.later-by-how-much")
	}
	a.past.Postponed = &postponed{c.Order, c.Minutes}
	var customer string
	var at time.Time
	var state order.State
	err = a.tx.QueryRow(a.ctx, `update orders set from_at = from_at + $2 * interval '1 minute',
			to_at = to_at + $2 * interval '1 minute', revision = revision + 1, updated_at = $3
			where id = $1 returning customer, from_at, state`, c.Order, c.Minutes, a.Clock()).Scan(&customer, &at, &state)
	if errors.Is(err, pgx.ErrNoRows) {
		return says, web.NotFound("order")
	}
	if err == nil && state != order.Promised && state != order.Making {
		err = web.Reject(http.StatusConflict, "planning.handover-is-fixed", reason.Name(customer), reason.Word(state))
	}
	return reason.Of("planning.handed-over-later", reason.Name(customer), reason.Clock(a.cal.Clock(a.cal.Minute(at))),
		reason.Minutes(c.Minutes)), err
}
