package planning

import (
	"cmp"
	"context"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// DelayForecast is what being late does to the rest of a day.
type DelayForecast struct {
	Behind  si.Minutes    `json:"behind" doc:"Minutes by which the next step is late; 0 on other days than today"`
	Text    reason.Text   `json:"text" doc:"One or two sentences; empty while all is in time"`
	Trouble bool          `json:"trouble" doc:"Something will not be done in the hours that there are, or not by its handover"`
	Steps   []DelayedStep `json:"steps" doc:"Of the day, those that begin later than planned"`
}

// DelayedStep is a step that begins later.
type DelayedStep struct {
	Batch uuid.UUID  `json:"batch"`
	Step  ident.Step `json:"step"`
	Start si.Minutes `json:"start" doc:"Minute of the day"`
}

// outlook of today: everybody goes on in the order of the plan. Other days are as they are planned.
func (p *Planning) outlook(ctx context.Context, in *struct {
	Day string `path:"day" format:"date"`
}) (*struct{ Body DelayForecast }, error) {
	o := DelayForecast{Steps: []DelayedStep{}}
	err := p.In(ctx, func(tx pgx.Tx) error {
		cal, err := p.Calendar(ctx, tx)
		if err != nil || in.Day != cal.Date(0) {
			return err
		}
		w, all, err := load(ctx, tx, cal, p.Clock(), Days{0, 1}, uuid.Nil, nil)
		if err != nil {
			return err
		}
		today := w.Calendar.Minute(cal.Zero)
		slipped := slices.DeleteFunc(plan.ProjectDelays(&w.Problem, w.Previous, today, today+cal.Begin(1)),
			func(m plan.Moved) bool { return plan.IsErrand(m.To.Batch) })
		slices.SortStableFunc(slipped, func(a, b plan.Moved) int { return cmp.Compare(a.From.From(), b.From.From()) })
		for i, m := range slipped {
			late := m.To.Start - m.From.Start
			if i == 0 {
				o.Behind = late
			}
			if late > 0 {
				o.Steps = append(o.Steps, DelayedStep{uuid.MustParse(string(m.To.Batch)), m.To.Step,
					w.Calendar.Clock(m.To.Start)})
			}
		}
		if o.Behind < grace {
			o.Behind, o.Steps = 0, []DelayedStep{}
			return nil
		}
		names, err := namesOf(ctx, tx, all)
		if err != nil {
			return err
		}
		o.say(slipped, w.Sessions, w.Batches, names, w.Calendar)
		return nil
	})
	return &struct{ Body DelayForecast }{o}, err
}

// grace is how many minutes nobody needs to hear of.
const grace = 5

// say what the lateness does: when the hands are free, what leaves the hours, and which handovers are missed.
func (o *DelayForecast) say(slipped []plan.Moved, sessions []plan.Session, batches []plan.Batch,
	names map[uuid.UUID]named, cal plan.Calendar) {
	clock := func(minute si.Minutes) reason.Clock { return reason.Clock(cal.Clock(minute)) }
	var last, was si.Minutes
	var beyond, late reason.Text
	missed := map[ident.Batch]bool{}
	for _, m := range slipped {
		last, was = max(last, m.To.To()), max(was, m.From.To())
		id := uuid.MustParse(string(m.To.Batch))
		inHours := slices.ContainsFunc(sessions, func(s plan.Session) bool {
			return s.From <= m.To.From() &&
				m.To.To() <= s.To
		})
		if !inHours && len(beyond) == 0 {
			beyond = because("planning.not-done-today", reason.Name(names[id].nameOf(m.To.Step)),
				reason.Name(names[id].treat))
		}
		for _, b := range batches {
			if b.ID == m.To.Batch && m.To.End() > b.DueMin && !missed[b.ID] {
				missed[b.ID] = true
				late.Add("planning.would-miss-the-handover", reason.Name(names[id].treat),
					names[id].whom(), clock(b.DueMin))
			}
		}
	}
	o.Text = because("planning.behind", reason.Minutes(o.Behind), clock(last), clock(was))
	if last <= was {
		o.Text = because("planning.behind-but-absorbed", reason.Minutes(o.Behind), clock(was))
	}
	o.Trouble = len(beyond)+len(late) > 0
	o.Text = append(append(o.Text, beyond...), late...)
	if !o.Trouble {
		o.Text.Add("planning.handovers-are-kept")
	}
}
