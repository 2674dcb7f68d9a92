package order

import (
	"slices"
	"time"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

func (r *Estimate) whenText(w When) reason.Text {
	if !w.Fits {
		var text reason.Text
		for _, s := range w.Short {
			text = append(text, s.Text)
		}
		return text
	}
	var parts reason.Series
	var free reason.Reason
	last := ""
	inParts := map[int]bool{}
	for _, b := range w.Batches {
		inParts[b.Line] = inParts[b.Line] || b.Count < r.Lines[b.Line].Count
	}
	for _, b := range w.Batches {
		var days reason.Value = reason.List{}
		for _, d := range b.Days {
			days = append(days.(reason.List), reason.Day(d.Day))
			if d.Day >= last {
				last, free = d.Day, reason.Of("order.stay-free", reason.Minutes(d.Free), reason.Day(d.Day))
			}
		}
		if n := len(b.Days); n > 2 {
			days = reason.Of("order.from-day-to-day", reason.Day(b.Days[0].Day), reason.Day(b.Days[n-1].Day))
		}
		var name reason.Value = reason.Name(r.Lines[b.Line].Name)
		if inParts[b.Line] {
			name = reason.Of("order.count-of", reason.Int(b.Count), name)
		}
		if b.Combined != "" {
			parts = append(parts, reason.Of("order.on-days-together", name, days, reason.Int(b.All-b.Count),
				reason.Names(b.With)))
		} else {
			parts = append(parts, reason.Of("order.on-days", name, days))
		}
	}
	text := reason.Text{reason.Of("order.fits", parts, free)}
	switch {
	case w.Moves == 1:
		text.Add("order.one-step-another-order-moves")
	case w.Moves > 1:
		text.Add("order.steps-other-orders-move-for", reason.Int(w.Moves))
	}
	return text
}

// missing says by the calendar what stands in the way of a line.
func (r *Estimate) missing(of plannedBatch, u plan.Unplaced, w *When, d *Draft, k *Inputs) Missing {
	l, cal := r.Lines[of.line], k.Planning.Calendar
	need, there, short := k.tooMuch(of.card, d)
	if short = short && there > 0; short { // plainer than which step is too long, or which session
		u.Reason, u.Minutes = plan.Hands, need-there
		u.From, u.To = max(k.Planning.Now, k.Planning.Calendar.Minute(d.From)-si.Minutes(of.card.Keeps*60)),
			k.Planning.Calendar.Minute(d.From)
	}
	m := Missing{Line: of.line, Reason: u.Reason, Of: u.Of, Minutes: u.Minutes, Need: of.card.Hands}
	what := reason.Of("order.count-of", reason.Int(l.Count), reason.Name(l.Name))
	if of.card.Good < l.Count {
		what = reason.Of("order.count-of-all", reason.Int(of.card.Good), reason.Int(l.Count), reason.Name(l.Name))
	}
	last := u.To
	for _, s := range w.problem.Sessions { // the last day on which one could work
		if s.From < u.To && s.To > u.From {
			last = s.From
			m.Free += plan.Free([]plan.Session{{From: max(s.From, u.From, k.Planning.Now),
				To: max(min(s.To, u.To), s.From, u.From, k.Planning.Now), People: s.People}}, w.made.Steps)
		}
	}
	if u.Reason != plan.Window {
		m.Day = cal.DateOf(min(last, max(u.To-1, u.From)))
	}
	if m.Text = Shortage(u, shown(what, of.card), m.Free, w.problem, cal); short {
		m.Need, m.Free = need, there
		m.Text = reason.Of("order.hands-short-between-and-keep", reason.Minutes(need-there),
			reason.Day(cal.DateOf(u.From)), reason.Day(cal.DateOf(u.To-1)), what, reason.Hours(of.card.Keeps),
			reason.Minutes(need), reason.Minutes(there))
	}
	return m
}

// BatchDescription is a batch as a sentence speaks of it.
type BatchDescription struct {
	What  reason.Value // 48 Bombs
	Hands si.Minutes   // minutes of hands, melting included
	Keeps int          // hours
	Steps []plan.Operation
	Name  func(ident.Step) string
}

// shown is a card as a sentence speaks of it.
func shown(what reason.Value, card *batch.Card) BatchDescription {
	s := BatchDescription{What: what, Hands: card.Hands, Keeps: card.Keeps, Name: func(id ident.Step) string {
		return card.Steps[slices.IndexFunc(card.Steps, func(s batch.Step) bool { return s.ID == id })].Name
	}}
	for _, step := range card.Steps {
		s.Steps = append(s.Steps, step.Operation)
	}
	return s
}

// Shortage is the reason for what stands in the way of a batch; free is how many minutes of hands are free in the span.
func Shortage(u plan.Unplaced, of BatchDescription, free si.Minutes, p *plan.Problem, cal plan.Calendar) reason.Reason {
	span := func() reason.Reason {
		from, to := moment(cal, u.From), moment(cal, u.To)
		if from.Day == to.Day {
			return reason.Of("order.on-from-to", reason.Day(from.Day), reason.Clock(from.Clock), reason.Clock(to.Clock))
		}
		return reason.Of("order.from-to", from, to)
	}
	switch u.Reason {
	case plan.Hands, plan.Scattered:
		when := reason.Of("order.on-day", reason.Day(cal.DateOf(u.From)))
		if cal.Day(u.From) != cal.Day(u.To-1) {
			when = reason.Of("order.between-and", reason.Day(cal.DateOf(u.From)), reason.Day(cal.DateOf(u.To-1)))
		}
		if free >= of.Hands {
			return reason.Of("order.no-room-need-hands-free", when, of.What, reason.Minutes(of.Hands),
				reason.Minutes(free))
		}
		if free == 0 {
			return reason.Of("order.hands-short-and-none-free", reason.Minutes(u.Minutes), when, of.What,
				reason.Minutes(of.Hands))
		}
		return reason.Of("order.hands-short-need-free-then", reason.Minutes(u.Minutes), when, of.What,
			reason.Minutes(of.Hands), reason.Minutes(free))
	case plan.Full:
		return reason.Of("order.full-find-no-tray-there", reason.Name(p.StorageName(ident.Spot(u.Of))), span(), of.What)
	case plan.Begun:
		if text := tooLarge(of, p); !text.None() {
			return text
		}
		return reason.Of("order.what-done-or-pinned-leaves", of.What)
	case plan.Taken:
		return reason.Of("order.moulds-taken-find-none", span(), of.What)
	default:
		if text := tooLarge(of, p); !text.None() {
			return text
		}
		return reason.Of("order.no-time-to-work-between", moment(cal, max(u.From, u.To-si.Minutes(of.Keeps*60))),
			of.What, reason.Minutes(of.Hands), reason.Hours(of.Keeps))
	}
}

// tooLarge says which step of a batch no session is long enough for, or no place large enough; empty where there is
// none.
func tooLarge(of BatchDescription, p *plan.Problem) reason.Reason {
	var longest si.Minutes
	for _, s := range p.Sessions {
		longest = max(longest, s.To-s.From)
	}
	for _, s := range of.Steps {
		if longest > 0 && s.HandsOnMin > longest {
			return reason.Of("order.take-hands-in-one-go", of.What, reason.Minutes(s.HandsOnMin),
				reason.Name(of.Name(s.ID)), reason.Minutes(longest))
		}
		for _, place := range p.Places {
			if place.ID == s.Storage && s.Trays > place.Trays {
				return reason.Of("order.fill-trays-at-once-and", of.What, reason.Int(s.Trays),
					reason.Name(of.Name(s.ID)), reason.Name(p.StorageName(place.ID)), reason.Int(place.Trays))
			}
		}
	}
	return reason.Reason{}
}

// moment of a calendar's minute.
func moment(cal plan.Calendar, minute si.Minutes) reason.Moment {
	t := cal.Time(minute)
	return reason.Moment{Day: t.Format(time.DateOnly), Clock: t.Hour()*60 + t.Minute()}
}

// onDay are the sessions of a day from now on.
func onDay(cal plan.Calendar, sessions []plan.Session, day int, now si.Minutes) []plan.Session {
	var today []plan.Session
	for _, s := range sessions {
		if s.From = max(s.From, now); s.From < s.To && cal.Day(s.From) == day {
			today = append(today, s)
		}
	}
	return today
}
