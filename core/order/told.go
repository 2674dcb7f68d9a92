package order

import (
	"fmt"
	"slices"
	"strings"

	"zestytin/core/batch"
	"zestytin/core/measure"
	"zestytin/core/plan"
)

func (r *Reckoning) whenText(w When, cal plan.Calendar) string {
	if !w.Fits {
		texts := make([]string, len(w.Short))
		for i, s := range w.Short {
			texts[i] = s.Text
		}
		return strings.Join(texts, " ")
	}
	parts, free, last := []string{}, "", ""
	inParts := map[int]bool{}
	for _, b := range w.Batches {
		inParts[b.Line] = inParts[b.Line] || b.Count < r.Lines[b.Line].Count
	}
	for _, b := range w.Batches {
		days := make([]string, len(b.Days))
		for i, d := range b.Days {
			days[i] = dayName(d.Day)
			if d.Day >= last {
				last, free = d.Day, fmt.Sprintf("%s of %s stay free.", measure.Minutes(d.Free), dayName(d.Day))
			}
		}
		if len(days) > 2 {
			days = []string{days[0] + " to " + days[len(days)-1]}
		}
		name := r.Lines[b.Line].Name
		if inParts[b.Line] {
			name = fmt.Sprintf("%d %s", b.Count, name)
		}
		name += " " + and(days)
		if b.Lot != "" {
			name += fmt.Sprintf(" (together with %d for %s)", b.All-b.Count, and(b.With))
		}
		parts = append(parts, name)
	}
	text := fmt.Sprintf("It fits. %s. %s", strings.Join(parts, ", "), free)
	switch {
	case w.Moves == 1:
		text += " One step of another order moves for it."
	case w.Moves > 1:
		text += fmt.Sprintf(" %d steps of other orders move for it.", w.Moves)
	}
	return text
}

// missing says by the calendar what stands in the way of a line.
func (r *Reckoning) missing(of making, u plan.Unplaced, w *When, d *Draft, k *Kitchen) Missing {
	l, cal := r.Lines[of.line], k.Work.Calendar
	need, there, short := k.tooMuch(of.card, d)
	if short = short && there > 0; short { // plainer than which step is too long, or which session
		u.Reason, u.Minutes = plan.Hands, need-there
		u.From, u.To = max(k.Work.Now, k.Work.Calendar.Minute(d.From)-of.card.Keeps*60), k.Work.Calendar.Minute(d.From)
	}
	m := Missing{Line: of.line, Reason: u.Reason, Of: u.Of, Minutes: u.Minutes, Need: of.card.Hands}
	what := fmt.Sprintf("%d %s", l.Count, l.Name)
	if of.card.Good < l.Count {
		what = fmt.Sprintf("%d of the %d %s", of.card.Good, l.Count, l.Name)
	}
	last := u.To
	for _, s := range w.problem.Sessions { // the last day on which one could work
		if s.From < u.To && s.To > u.From {
			last = s.From
			m.Free += plan.Free([]plan.Session{{From: max(s.From, u.From, k.Work.Now), To: max(min(s.To, u.To), s.From, u.From, k.Work.Now), Hands: s.Hands}}, w.made.Steps)
		}
	}
	if u.Reason != plan.Window {
		m.Day = cal.Date(min(last, max(u.To-1, u.From)) / plan.DayMinutes)
	}
	if m.Text = Shortage(u, shown(what, of.card), m.Free, w.problem, cal); short {
		m.Need, m.Free = need, there
		m.Text = fmt.Sprintf("%s of hands short between %s and %s: %s keep %s, so that %s of hands must come then, and %s are free.",
			measure.Minutes(need-there), cal.DayName(u.From/plan.DayMinutes), cal.DayName((u.To-1)/plan.DayMinutes), what, keeps(of.card.Keeps), measure.Minutes(need), measure.Minutes(there))
	}
	return m
}

// Shown is a batch as a sentence speaks of it.
type Shown struct {
	What  string // 48 Bombs
	Hands int    // minutes of hands, melting included
	Keeps int    // hours
	Steps []plan.Step
	Name  func(step string) string
}

// shown is a card as a sentence speaks of it.
func shown(what string, card *batch.Card) Shown {
	s := Shown{What: what, Hands: card.Hands, Keeps: card.Keeps, Name: func(id string) string {
		return card.Steps[slices.IndexFunc(card.Steps, func(s batch.Step) bool { return s.ID == id })].Name
	}}
	for _, step := range card.Steps {
		s.Steps = append(s.Steps, step.Step)
	}
	return s
}

// Shortage is the sentence for what stands in the way of a batch; free is how many minutes of hands are free in the span.
func Shortage(u plan.Unplaced, of Shown, free int, p *plan.Problem, cal plan.Calendar) string {
	span := func() string {
		from, to := cal.Time(u.From), cal.Time(u.To)
		if u.From/plan.DayMinutes == u.To/plan.DayMinutes {
			return fmt.Sprintf("on %s from %s to %s", from.Format("Mon 2"), from.Format("15:04"), to.Format("15:04"))
		}
		return fmt.Sprintf("from %s to %s", from.Format("Mon 2, 15:04"), to.Format("Mon 2, 15:04"))
	}
	switch u.Reason {
	case plan.Hands, plan.Scattered:
		when := "on " + cal.DayName(u.From/plan.DayMinutes)
		if u.From/plan.DayMinutes != (u.To-1)/plan.DayMinutes {
			when = fmt.Sprintf("between %s and %s", cal.DayName(u.From/plan.DayMinutes), cal.DayName((u.To-1)/plan.DayMinutes))
		}
		if free >= of.Hands {
			return fmt.Sprintf("No room %s: %s need %s of hands; %s are free, but not where the setting between leaves room.", when, of.What, measure.Minutes(of.Hands), measure.Minutes(free))
		}
		there := measure.Minutes(free) + " are"
		if free == 0 {
			there = "none are"
		}
		return fmt.Sprintf("%s of hands short %s: %s need %s, %s free then.", measure.Minutes(u.Minutes), when, of.What, measure.Minutes(of.Hands), there)
	case plan.Full:
		return fmt.Sprintf("The %s is full %s: %s find no tray there.", u.Of, span(), of.What)
	case plan.Begun:
		if text := tooLarge(of, p); text != "" {
			return text
		}
		return fmt.Sprintf("What is done or pinned of %s leaves no time in which the rest of it could be made.", of.What)
	case plan.Taken:
		return fmt.Sprintf("The moulds are taken %s: %s find none.", span(), of.What)
	default:
		if text := tooLarge(of, p); text != "" {
			return text
		}
		return fmt.Sprintf("No time to work between %s and the handover: %s need %s of hands and keep %s.", cal.Time(max(u.From, u.To-of.Keeps*60)).Format("Mon 2, 15:04"), of.What, measure.Minutes(of.Hands), keeps(of.Keeps))
	}
}

// tooLarge says which step of a batch no session is long enough for, or no place large enough; empty where there is none.
func tooLarge(of Shown, p *plan.Problem) string {
	longest := 0
	for _, s := range p.Sessions {
		longest = max(longest, s.To-s.From)
	}
	for _, s := range of.Steps {
		if longest > 0 && s.Hands > longest {
			return fmt.Sprintf("%s take %s of hands in one go (%s), and the longest time of work is %s.", of.What, measure.Minutes(s.Hands), of.Name(s.ID), measure.Minutes(longest))
		}
		for _, place := range p.Places {
			if place.ID == s.Place && s.Trays > place.Trays {
				return fmt.Sprintf("%s fill %d trays at once (%s), and the %s holds %d.", of.What, s.Trays, of.Name(s.ID), place.ID, place.Trays)
			}
		}
	}
	return ""
}

func keeps(hours int) string {
	if hours%24 == 0 && hours > 24 {
		return fmt.Sprintf("%d days", hours/24)
	}
	return fmt.Sprintf("%d hours", hours)
}

// onDay are the sessions of a day from now on.
func onDay(sessions []plan.Session, day, now int) []plan.Session {
	var today []plan.Session
	for _, s := range sessions {
		if s.From = max(s.From, now); s.From < s.To && s.From/plan.DayMinutes == day {
			today = append(today, s)
		}
	}
	return today
}
