package planning

import (
	"context"
	"maps"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// applying a change.
type applying struct {
	*Planning
	ctx    context.Context
	tx     pgx.Tx
	change *Change
	cal    plan.Calendar
	before []promised
	names  map[uuid.UUID]named
	past   past
}

func (a *applying) apply() (says reason.Reason, err error) {
	c := a.change
	switch c.Kind {
	case "pin":
		return a.pin()
	case "unpin":
		b, s := a.find()
		if s == nil || !s.Pinned {
			return says, web.Reject(http.StatusConflict, "planning.step-is-not-pinned")
		}
		_, err := a.tx.Exec(a.ctx, `update batch_steps set pinned = false where batch_id = $1 and step = $2`, c.Batch,
			c.Step)
		return reason.Of("planning.step-is-free-to-move", reason.Name(
			a.names[uuid.MustParse(string(b.ID))].nameOf(c.Step)),
			reason.Name(a.names[uuid.MustParse(string(b.ID))].treat)), err
	case "off", "usual", "hours", "day":
		return a.hours()
	case "spot":
		return a.trays()
	case "mould":
		if c.Tool == "" || c.Count < 1 || c.Count > 200 {
			return says, invalid.At("count", reason.Of("planning.there-between-and-mould"))
		}
		moulds, err := Moulds(a.ctx, a.tx)
		if err != nil {
			return says, err
		}
		a.past.Moulds = map[ident.Mould]int{c.Tool: moulds[c.Tool]} // 0: nobody had said
		batch := &pgx.Batch{}
		queueMould(batch, web.ActorOf(a.ctx), c.Tool, c.Count)
		batch.Queue(`update kitchens set capacity_revision = capacity_revision + 1`)
		return reason.Of("planning.so-many-of-that-mould", reason.Int(c.Count)), a.tx.SendBatch(a.ctx, batch).Close()
	case "make":
		return says, a.making()
	case "drop":
		return a.drop()
	case "skip":
		return a.skip()
	case "later":
		return a.later()
	case "settle":
		return reason.Of("planning.the-rest-follows"), nil
	default:
		return says, invalid.At("kind", reason.Of("planning.not-a-change", reason.Name(c.Kind)))
	}
}

// trays changes how many a spot holds.
func (a *applying) trays() (says reason.Reason, err error) {
	spots, err := Spots(a.ctx, a.tx)
	if err != nil {
		return says, err
	}
	n := slices.IndexFunc(spots, func(s treat.Spot) bool { return s.ID == a.change.Spot })
	if n < 0 {
		return says, invalid.At("spot", reason.Of("planning.not-a-spot", reason.Name(a.change.Spot)))
	}
	a.past.Spots = slices.Clone(spots)
	spots[n].Trays = a.change.Count
	batch := &pgx.Batch{}
	queueSpots(batch, web.ActorOf(a.ctx).Kitchen, spots)
	batch.Queue(`update kitchens set capacity_revision = capacity_revision + 1`)
	return reason.Of("planning.spot-holds", reason.Name(spots[n].Name), reason.Count{N: a.change.Count, Of: "tray"}),
		a.tx.SendBatch(a.ctx, batch).Close()
}

// find the step that is changed.
func (a *applying) find() (*promised, *stepRow) {
	for i := range a.before {
		if a.before[i].ID != ident.Batch(a.change.Batch.String()) {
			continue
		}
		for j := range a.before[i].steps {
			if a.before[i].steps[j].Step == a.change.Step {
				return &a.before[i], &a.before[i].steps[j]
			}
		}
	}
	return nil, nil
}

// pin a step, where somebody works then and nothing else is pinned there.
func (a *applying) pin() (says reason.Reason, err error) {
	c := a.change
	b, s := a.find()
	if s == nil {
		return says, web.NotFound("step")
	}
	if s.Done != nil {
		return says, web.Reject(http.StatusConflict, "planning.step-is-done")
	}
	date, err := time.Parse(time.DateOnly, c.Day)
	if err != nil {
		return says, invalid.At("day", reason.Of("planning.not-date-write-like", reason.Name(c.Day)))
	}
	day := dayOf(a.cal, date)
	step := b.step(c.Step)
	name := a.names[c.Batch].nameOf(c.Step)
	from, to := c.Start, c.Start+step.HandsOnMin
	when := func(minute si.Minutes) reason.Clock { return reason.Clock(minute % plan.DayMinutes) }
	on := reason.Day(a.cal.Date(day))
	if a.cal.At(day, from) < a.cal.Minute(a.Clock()) {
		return says, web.Reject(http.StatusConflict, "planning.time-has-passed", when(from), on)
	}
	w, _, err := loadWorkDays(a.ctx, a.tx)
	if err != nil {
		return says, err
	}
	hours := dayView(w, a.cal, day).Hours
	n := slices.IndexFunc(hours, func(h Hours) bool { return h.From <= from && to <= h.To })
	switch {
	case n < 0 && len(hours) == 0:
		return says, web.Reject(http.StatusConflict, "planning.nobody-works-on", on)
	case n < 0:
		return says, web.Reject(http.StatusConflict, "planning.nobody-works-then", reason.Name(name),
			reason.Minutes(step.HandsOnMin), when(from), when(to), on)
	case c.Hand >= hours[n].Hands:
		return says, web.Reject(http.StatusConflict, "planning.no-such-person",
			reason.Count{N: hours[n].Hands, Of: "person"}, on, when(from), reason.Int(c.Hand+1))
	}
	for _, other := range a.before {
		for _, o := range other.steps {
			if takes := other.step(o.Step).HandsOnMin; (o.Pinned || o.Done != nil) && o.Hand == c.Hand &&
				o.Day == day && o.Start < to && from < o.Start+takes && (other.ID != b.ID || o.Step != c.Step) {
				of := a.names[uuid.MustParse(string(other.ID))]
				return says, web.Reject(http.StatusConflict, "planning.pinned-there", reason.Name(of.nameOf(o.Step)),
					reason.Name(of.treat), when(o.Start), when(o.Start+takes))
			}
		}
	}
	batch := &pgx.Batch{}
	batch.Queue(`update batch_steps set day = $3::text::date, start = $4, hand = $5, pinned = true where batch_id = $1
			and step = $2`, c.Batch, c.Step, c.Day, c.Start, c.Hand)
	// Keeping the plan raises its revision by one; it does not see that this step was elsewhere.
	batch.Queue(`update batches b set sequence = (select plan_revision + 1 from kitchens), day = (select min(s.day)
			from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id) where id = $1`, c.Batch)
	err = a.tx.SendBatch(a.ctx, batch).Close()
	return reason.Of("planning.step-is-pinned", reason.Name(name), reason.Name(a.names[c.Batch].treat), on, when(from)),
		err
}

// moved is the pinned step's own move.
func (a *applying) moved() []Move {
	c := a.change
	b, s := a.find()
	if b == nil || a.cal.Date(s.Day) == c.Day && s.Start == c.Start && s.Hand == c.Hand {
		return nil
	}
	of := a.names[c.Batch]
	return []Move{{c.Batch, c.Step, of.nameOf(c.Step), of.treat, of.shares.Owners(),
		Slot{a.cal.Date(s.Day), s.Start, s.Hand}, Slot{c.Day, c.Start, c.Hand}}}
}

// hours of a day change.
func (a *applying) hours() (says reason.Reason, err error) {
	c := a.change
	date, err := time.Parse(time.DateOnly, c.Day)
	if err != nil {
		return says, invalid.At("day", reason.Of("planning.not-date-write-like", reason.Name(c.Day)))
	}
	day := dayOf(a.cal, date)
	if day < 0 {
		return says, web.Reject(http.StatusConflict, "planning.day-has-passed", reason.Day(a.cal.Date(day)))
	}
	w, _, err := loadWorkDays(a.ctx, a.tx)
	if err != nil {
		return says, err
	}
	a.past.Day, a.past.Usual = c.Day, true
	e := Exception{Day: c.Day, Reason: c.Reason, Spans: slices.Clone(w.spansOn(a.cal, day))}
	if n := slices.IndexFunc(w.Exceptions, func(e Exception) bool { return e.Day == c.Day }); n >= 0 {
		was := w.Exceptions[n]
		a.past.Usual, a.past.Was = false, &was
		e.Reason = was.Reason
		w.Exceptions = slices.Delete(w.Exceptions, n, n+1)
	}
	name := reason.Day(a.cal.Date(day))
	switch c.Kind {
	case "off":
		e.Spans, e.Reason = []Span{}, c.Reason
		says = reason.Of("planning.day-is-off", name)
	case "usual":
		if a.past.Usual {
			return says, web.Reject(http.StatusConflict, "planning.as-in-the-week-already", name)
		}
		says = reason.Of("planning.as-in-the-week-again", name)
	case "hours":
		n := slices.IndexFunc(e.Spans, func(s Span) bool { return s.From == c.From })
		if n < 0 {
			return says, web.Reject(http.StatusConflict, "planning.nobody-begins-then", reason.Name(c.From), name)
		}
		e.Spans[n].To, e.Spans[n].Hands = c.To, max(c.Hands, 1)
		says = reason.Of("planning.so-many-work", name, reason.Count{N: e.Spans[n].Hands, Of: "person"},
			reason.Name(c.From), reason.Name(c.To))
	case "day":
		e.Spans = append(e.Spans, Span{c.From, c.To, max(c.Hands, 1)})
		says = reason.Of("planning.there-is-work", name, reason.Name(c.From), reason.Name(c.To))
	}
	if c.Kind != "usual" {
		w.Exceptions = append(w.Exceptions, e)
	}
	if err := w.check(); err != nil {
		return says, err
	}
	return says, StoreWorkDays(a.ctx, a.tx, web.ActorOf(a.ctx), w)
}

// compare which batches lost their room, and which found one.
func (a *applying) compare(s *proposal, out *Outcome) {
	short := map[ident.Batch]bool{}
	for _, u := range s.made.Unplaced {
		short[u.Batch] = true
	}
	list := slices.Clone(a.before)
	for _, r := range s.groups {
		out.Regrouped = append(out.Regrouped, r.says())
		was := list[slices.IndexFunc(list, func(b promised) bool { return b.ID == r.Of[0] })]
		list = slices.DeleteFunc(list, func(b promised) bool { return slices.Contains(r.Of, b.ID) })
		for _, b := range r.batches {
			b.short = was.short
			list = append(list, b)
		}
		maps.Copy(a.names, r.names)
	}
	for i := range list {
		b := &list[i]
		of := a.names[uuid.MustParse(string(b.ID))]
		switch {
		case short[b.ID] && b.short == nil:
			u := s.made.Unplaced[slices.IndexFunc(s.made.Unplaced,
				func(u plan.Unplaced) bool { return u.Batch == b.ID })]
			after := *b
			after.short = &shortNote{u.Reason, u.Of, u.Minutes, s.work.Calendar.Time(u.From),
				s.work.Calendar.Time(u.To)}
			w := *s.work
			w.Previous = s.made
			out.Unscheduled = append(out.Unscheduled, reason.Of("planning.of-whom", of.whom(),
				after.shortage(uuid.MustParse(string(b.ID)), of, &w).Text))
		case !short[b.ID] && b.short != nil && slices.ContainsFunc(s.made.Steps,
			func(x plan.ScheduledOperation) bool { return x.Batch == b.ID }):
			out.Rescheduled = append(out.Rescheduled, reason.Of("planning.find-room-again", reason.Name(of.treat),
				of.whom()))
		}
	}
}

// whyNot says why a step cannot be pinned.
func (a *applying) whyNot(s *proposal, lost []reason.Reason) reason.Reason {
	b, _ := a.find()
	step := b.step(a.change.Step)
	of := a.names[a.change.Batch]
	stuck := slices.ContainsFunc(s.made.Unplaced, func(u plan.Unplaced) bool { return u.Batch == b.ID })
	if !stuck {
		return reason.Of("planning.something-else-finds-no-room", reason.Text(lost))
	}
	what, treat, whom := reason.Name(of.nameOf(a.change.Step)), reason.Name(of.treat), of.whom()
	if len(step.Pots) > 0 {
		return reason.Of("planning.the-rest-or-its-pot-finds-no-time", what, treat, whom)
	}
	return reason.Of("planning.the-rest-finds-no-time", what, treat, whom)
}
