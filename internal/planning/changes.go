package planning

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Change of the plan by a person. Which fields count depends on its kind.
type Change struct {
	Kind    string            `json:"kind" enum:"pin,unpin,off,usual,hours,day,spot,mould,settle,make,drop,skip,later" doc:"skip: lines on top are left out; later: an order is handed over later; make: a mix is to be made ahead, as work of its own; drop: it is not after all; pin and unpin a step; a day off, or as in the week again; the hours of one time of work; work on a day too; trays of a storage spot; how many moulds; settle: let the rest follow from now on"`
	Batch   uuid.UUID         `json:"batch,omitempty" doc:"Of pin, unpin, drop and skip"`
	Step    ident.Step        `json:"step,omitempty" maxLength:"60"`
	Day     string            `json:"day,omitempty" format:"date" doc:"Of pin, off, usual, hours and day; of make the day on whose evening it is to be there"`
	Start   si.Minutes        `json:"start,omitempty" minimum:"0" maximum:"1439" doc:"Of pin: minute of the day"`
	Hand    int               `json:"hand,omitempty" minimum:"0" maximum:"8" doc:"Of pin: which person, from 0"`
	Reason  string            `json:"reason,omitempty" maxLength:"200" doc:"Of off"`
	From    string            `json:"from,omitempty" doc:"Of hours and day: when the time of work begins, HH:MM"`
	To      string            `json:"to,omitempty" doc:"Of hours and day: its new end"`
	Hands   int               `json:"hands,omitempty" minimum:"0" maximum:"9" doc:"Of hours and day: people"`
	Spot    ident.Spot        `json:"spot,omitempty" maxLength:"40" doc:"Of spot: which one"`
	Tool    ident.Mould       `json:"tool,omitempty" maxLength:"60"`
	Count   int               `json:"count,omitempty" minimum:"0" maximum:"500" doc:"Of spot: trays; of mould: moulds"`
	Mix     uuid.UUID         `json:"mix,omitempty" doc:"Of make"`
	Amount  *measure.Quantity `json:"amount,omitempty" doc:"Of make: how much is to come out"`
	Order   uuid.UUID         `json:"order,omitempty" doc:"Of later"`
	Minutes si.Minutes        `json:"minutes,omitempty" minimum:"0" maximum:"600" doc:"Of later: by how many; of make: hands-on, beside melting what is melted for it; 0: as its method says"`
	DryRun  bool              `json:"dry,omitempty" doc:"Only tell what would follow"`
}

// Outcome of a change.
type Outcome struct {
	Change      uuid.UUID       `json:"change" doc:"It can be undone by this until the next one"`
	Message     reason.Reason   `json:"says" doc:"What was changed"`
	Moved       []Move          `json:"moved" doc:"Steps that stand elsewhere now, by where they stood"`
	Unscheduled []reason.Reason `json:"lost" doc:"Batches that have no room any more, each in one sentence"`
	Rescheduled []reason.Reason `json:"gained" doc:"Batches that have room again"`
	Regrouped   []reason.Reason `json:"otherwise" doc:"What is made in one go for several orders now, or no longer is, each in one sentence"`
	Unpinned    []reason.Reason `json:"unpinned" doc:"Pins that nothing holds any more, each in one sentence"`
	Revision    int             `json:"revision" doc:"Of the plan"`
}

// Move is a step that stands elsewhere.
type Move struct {
	Batch uuid.UUID          `json:"batch"`
	Step  ident.Step         `json:"step"`
	Name  string             `json:"name"`
	Treat string             `json:"treat"`
	For   []order.ShareOwner `json:"for" doc:"Whom its batch is for"`
	From  Slot               `json:"from"`
	To    Slot               `json:"to"`
}

// Slot of a step in time.
type Slot struct {
	Day   string     `json:"day" format:"date"`
	Start si.Minutes `json:"start" doc:"Minute of the day"`
	Hand  int        `json:"hand"`
}

// proposal is a plan as it was made anew, and what it changes.
type proposal struct {
	work   *order.PlanningContext
	made   *plan.Plan
	before []promised
	groups []regrouped // what is made otherwise in it
}

// span that a change is settled in: four weeks, or until a fortnight after the day that changes.
func (p *Planning) span(cal plan.Calendar, day string) Days {
	span := Days{0, 28}
	if date, err := time.Parse(time.DateOnly, day); err == nil {
		if n := dayOf(cal, date); n > 14 {
			span = Days{n - 14, n + 14}
		}
	}
	return span
}

// settle the plan of a span of days: what is done and pinned stays, and as little else moves as can be.
func (p *Planning) settle(ctx context.Context, tx pgx.Tx, span Days) (*proposal, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return nil, err
	}
	w, all, err := load(ctx, tx, cal, p.Clock(), span, uuid.Nil, nil)
	if err != nil {
		return nil, err
	}
	made, err := plan.Settle(ctx, &w.Problem, plan.Options{Effort: 2 * plan.QuickEffort(w.Size())})
	if err != nil {
		return nil, err
	}
	s := &proposal{work: &w, made: made, before: all}
	// What has no room for all of its orders in one go may have for some of them.
	ways, err := p.reckoned(ctx, tx, s, s.apart())
	if err != nil {
		return nil, err
	}
	return s, s.choose(ctx, ways, plan.Options{Effort: 2 * plan.QuickEffort(w.Size())})
}

// resettle the coming weeks and keep the plan.
func (p *Planning) resettle(ctx context.Context, tx pgx.Tx) (*proposal, error) {
	s, err := p.settle(ctx, tx, Days{0, 28})
	if err != nil {
		return nil, err
	}
	return s, s.keep(ctx, tx)
}

// Settle the coming weeks around what is done and pinned: after work that went another way than planned.
func (p *Planning) Settle(ctx context.Context, tx pgx.Tx) error {
	_, err := p.resettle(ctx, tx)
	return err
}

// errDry rolls a change back that was only tried.
var errDry = errors.New("only tried")

func (p *Planning) change(ctx context.Context, in *struct{ Body Change }) (*struct{ Body Outcome }, error) {
	var out Outcome
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		var err error
		if out, err = p.changed(ctx, tx, &in.Body); err == nil && in.Body.DryRun {
			err = errDry
		}
		return err
	})
	if errors.Is(err, errDry) {
		err = nil
	}
	return &struct{ Body Outcome }{out}, err
}

// changed makes a change and settles the plan around it.
func (p *Planning) changed(ctx context.Context, tx pgx.Tx, c *Change) (Outcome, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return Outcome{}, err
	}
	if date, err := time.Parse(time.DateOnly, c.Day); err == nil && dayOf(cal, date) > Horizon {
		return Outcome{}, invalid.At("day", reason.Of("planning.day-is-too-far", reason.Int(Horizon)))
	}
	span := p.span(cal, c.Day)
	if c.Batch != uuid.Nil { // the step may come from far away
		var from, to *time.Time
		if err := tx.QueryRow(ctx, `select min(day), max(day) from batch_steps where batch_id = $1`,
			c.Batch).Scan(&from, &to); err != nil {
			return Outcome{}, err
		}
		if from != nil {
			span.From, span.To = max(min(span.From, dayOf(cal, *from)), 0), max(span.To, dayOf(cal, *to)+1)
		}
	}
	_, before, err := load(ctx, tx, cal, p.Clock(), span, uuid.Nil, nil)
	if err != nil {
		return Outcome{}, err
	}
	names, err := namesOf(ctx, tx, before)
	if err != nil {
		return Outcome{}, err
	}
	a := &applying{p, ctx, tx, c, cal, before, names, past{Shorts: map[ident.Batch]*shortNote{}}}
	says, err := a.apply()
	if err != nil {
		return Outcome{}, err
	}
	s, err := p.settle(ctx, tx, span)
	var faults *invalid.Error
	if errors.As(err, &faults) {
		return Outcome{}, web.Because(http.StatusConflict, reason.Of("planning.cannot-be-planned-so",
			reason.Because(faults.Fields[0].Err)))
	}
	if err != nil {
		return Outcome{}, err
	}
	out := Outcome{Message: says, Moved: moves(s.work.Previous, s.made, s.work.Calendar, names),
		Unscheduled: []reason.Reason{}, Rescheduled: []reason.Reason{}, Regrouped: []reason.Reason{},
		Unpinned: []reason.Reason{}}
	if c.Kind == "pin" { // the pinned step itself moves first of all
		out.Moved = slices.DeleteFunc(out.Moved, func(m Move) bool { return m.Batch == c.Batch && m.Step == c.Step })
		out.Moved = append(a.moved(), out.Moved...)
	}
	a.compare(s, &out)
	if c.Kind == "make" {
		out.Moved = slices.DeleteFunc(out.Moved, func(m Move) bool { return m.Batch == a.past.Planned })
		if out.Message, err = a.planned(s, out.Unscheduled); err != nil {
			return Outcome{}, err
		}
	}
	if c.Kind == "pin" && len(out.Unscheduled) > 0 {
		return Outcome{}, web.Because(http.StatusConflict, a.whyNot(s, out.Unscheduled))
	}
	return out, a.keep(s, &out)
}

// moves between the plan that stood and the one that was made.
func moves(previous, made *plan.Plan, cal plan.Calendar, names map[uuid.UUID]named) []Move {
	list := []Move{}
	for _, m := range plan.Moves(previous, made) {
		if plan.IsErrand(m.From.Batch) {
			continue
		}
		id := uuid.MustParse(string(m.From.Batch))
		list = append(list, Move{id, m.From.Step, names[id].nameOf(m.From.Step), names[id].treat,
			names[id].shares.Owners(), placeOf(m.From, cal), placeOf(m.To, cal)})
	}
	return list
}

func placeOf(s plan.ScheduledOperation, cal plan.Calendar) Slot {
	return Slot{cal.DateOf(s.Start), cal.Clock(s.Start), s.Hand}
}
