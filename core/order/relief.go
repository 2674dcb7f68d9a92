package order

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// ReliefKinds are what can change.
func ReliefKinds() []string {
	return []string{"hours", "person", "day", "spot", "mould", "later", "fewer", "coating"}
}

// Suggestion is one change that would make an order fit, tried for real. What it changes stands in the fields of its
// kind.
type Suggestion struct {
	Kind   string        `json:"kind"`
	Text   reason.Reason `json:"text"`
	Why    batch.Why     `json:"why"`
	Day    string        `json:"day,omitempty"`
	From   string        `json:"from,omitempty"`
	To     string        `json:"to,omitempty"`
	People int           `json:"hands,omitempty"`
	Spot   ident.Spot    `json:"spot,omitempty"`
	Trays  int           `json:"trays,omitempty"`
	Tool   ident.Mould   `json:"tool,omitempty"`
	Count  int           `json:"count,omitempty"`
	Line   int           `json:"line"`
	Starts *time.Time    `json:"starts,omitempty"`
	Ends   *time.Time    `json:"ends,omitempty"`
}

// Reliefs are the single changes that make an order fit which does not, smallest first; none where it fits.
func Reliefs(ctx context.Context, d *Draft, k *Inputs) ([]Suggestion, error) {
	r, err := Compute(ctx, d, k)
	if err != nil {
		return nil, err
	}
	w := &r.When
	if w.made == nil || w.Fits {
		return []Suggestion{}, nil
	}
	s := &suggester{r: r, draft: d, kitchen: k, others: map[string]Suggestion{}}
	own := make([]ident.Batch, len(w.makings)) // all of them: what is handed over later is ready later as a whole
	for i, m := range w.makings {
		own[i] = m.id
	}
	for _, m := range w.Short {
		s.addVariants(m.Line)
	}
	s.could.Later, s.could.Sessions = laterBy(d, k), s.freeDays()
	found, err := plan.Reliefs(ctx, w.problem, w.made, own, s.could)
	if err != nil {
		return nil, err
	}
	list, fewer := []Suggestion{}, map[int]bool{}
	for _, f := range found {
		said := s.say(f)
		if said.Kind == "fewer" && fewer[said.Line] { // the most pieces come first
			continue
		}
		// A line in parts would be parted otherwise once there is more room: then it is tried as it would be reckoned.
		if len(w.makings) > len(r.Lines) {
			if fits, err := said.fits(ctx, d, k); err != nil || !fits {
				continue
			}
		}
		if slices.ContainsFunc(list, func(r Suggestion) bool {
			return r.Text.Same(
				said.Text)
		}) { // in so many parts or as a whole
			continue
		}
		fewer[said.Line] = fewer[said.Line] || said.Kind == "fewer"
		list = append(list, said)
	}
	return list, nil
}

// fits tells whether an order does with a relief.
func (r Suggestion) fits(ctx context.Context, d *Draft, k *Inputs) (bool, error) {
	draft, kitchen := *d, *k
	draft.Lines = slices.Clone(d.Lines)
	kitchen.Planning.Sessions, kitchen.Planning.Places, kitchen.Moulds = slices.Clone(k.Planning.Sessions),
		slices.Clone(k.Planning.Places), maps.Clone(k.Moulds)
	r.apply(&draft, &kitchen)
	then, err := Compute(ctx, &draft, &kitchen)
	return err == nil && then.When.Fits, err
}

// apply a relief to the order or the kitchen that it changes.
func (r Suggestion) apply(d *Draft, k *Inputs) {
	switch r.Kind {
	case "hours", "person":
		from, to := r.span(k.Planning.Calendar)
		if n := slices.IndexFunc(k.Planning.Sessions, func(s plan.Session) bool { return s.From == from }); n >= 0 {
			k.Planning.Sessions[n].To, k.Planning.Sessions[n].People = to, r.People
		}
	case "day":
		from, to := r.span(k.Planning.Calendar)
		k.Planning.Sessions = append(k.Planning.Sessions, plan.Session{From: from, To: to, People: r.People})
		slices.SortFunc(k.Planning.Sessions, func(a, b plan.Session) int { return cmp.Compare(a.From, b.From) })
	case "spot":
		for i := range k.Planning.Places {
			if k.Planning.Places[i].ID == r.Spot {
				k.Planning.Places[i].Trays = r.Trays
			}
		}
	case "mould":
		if k.Moulds == nil {
			k.Moulds = map[ident.Mould]int{}
		}
		k.Moulds[r.Tool] = r.Count
	case "later":
		d.From, d.To = *r.Starts, *r.Ends
	case "fewer":
		d.Lines[r.Line].Count = r.Count
	case "coating":
		d.Lines[r.Line].Coating = true
	}
}

// span of the work that changes, in the minutes of a calendar.
func (r Suggestion) span(cal plan.Calendar) (from, to si.Minutes) {
	at := func(clock string) si.Minutes {
		if clock == "24:00" {
			clock = "23:59"
		}
		t, err := time.ParseInLocation("2006-01-02 15:04", r.Day+" "+clock, cal.Zero.Location())
		if err != nil {
			return 0
		}
		return cal.Minute(t)
	}
	if from, to = at(r.From), at(r.To); r.To == "24:00" {
		to++
	}
	return from, to
}

// suggester looks for what would help an order.
type suggester struct {
	r       *Estimate
	draft   *Draft
	kitchen *Inputs
	could   plan.Possible
	others  map[string]Suggestion // by the name under which they are tried
}

// addVariants of a line: fewer of it, in coating, with another mould.
func (s *suggester) addVariants(i int) {
	line, now := s.draft.Lines[i], s.r.Lines[i]
	var present []ident.Batch // makings of the line
	for _, m := range s.r.When.makings {
		if m.line == i {
			present = append(present, m.id)
		}
	}
	parts := len(present) // as many as now; where no day could take so much at once, fewer pieces are tried in parts that one could
	if parts == 1 && s.never(i) {
		parts = 3
	}
	try := func(name string, size int, said Suggestion, line Line, k *Inputs, tools ...plan.MouldResource) {
		for _, n := range slices.Compact([]int{1, parts}) { // what is too much at once may not be so any more
			makings, err := s.r.split(line, i, min(n, line.Count), k)
			if err != nil {
				return // no way to make it
			}
			o := plan.Other{Name: name, Size: size, Of: present, Tools: tools}
			for _, m := range makings {
				o.Instead = append(o.Instead, k.batch(m.id, m.card, s.draft.of(m.line)))
			}
			o.Name = fmt.Sprint(name, "/", n)
			s.could.Others = append(s.could.Others, o)
			s.others[o.Name] = said
		}
	}
	seen := map[int]bool{line.Count: true}
	for _, share := range []float64{0.9, 0.8, 2.0 / 3, 0.5, 1.0 / 3} {
		n := int(float64(line.Count) * share)
		if n > 12 {
			n -= n % 6 // people order in sixes
		}
		if n < 1 || seen[n] {
			continue
		}
		seen[n] = true
		less := line
		less.Count = n
		// What is not sold is missed more than an hour of work, and the more of it the more.
		try(fmt.Sprint("fewer ", i, " ", n), 60+(line.Count-n)*120/line.Count,
			Suggestion{Kind: "fewer", Line: i, Count: n, Text: reason.Of("order.instead", reason.Int(n),
				reason.Name(now.Name), reason.Int(line.Count))}, less, s.kitchen)
	}
	if !line.Coating {
		coated := line
		coated.Coating = true
		if f, err := s.kitchen.formula(coated); err == nil && f != s.kitchen.Treats[line.Treat].Formula {
			try(fmt.Sprint("coating ", i), 75, Suggestion{Kind: "coating", Line: i,
				Text: reason.Of("order.in-coating-instead-couverture", reason.Name(now.Name)),
				Why:  because("order.coating-needs-no-tempering-so")}, coated, s.kitchen)
		}
	}
	if tool := now.Card.Tool; tool != nil {
		more := *s.kitchen
		more.Moulds = maps.Clone(s.kitchen.Moulds)
		if more.Moulds == nil {
			more.Moulds = map[ident.Mould]int{}
		}
		there := s.kitchen.tool(tool)
		more.Moulds[tool.ID] = there + 1
		if card, err := compute(line, &more); err == nil && card.Rounds != nil {
			said := Suggestion{Kind: "mould", Tool: tool.ID, Count: there + 1,
				Text: reason.Of("order.one-more-mould-for", reason.Name(now.Name), card.Rounds.Text)}
			try(fmt.Sprint("mould ", tool.ID), 90, said, line, &more, plan.MouldResource{ID: tool.ID, Count: there + 1})
		}
	}
}

// never tells whether a line does not fit into an empty kitchen either.
func (s *suggester) never(line int) bool {
	return slices.ContainsFunc(s.r.When.Short, func(m Missing) bool {
		return m.Line == line &&
			m.Reason == plan.Window
	})
}

// tool is how many there are of a kind of mould.
func (k *Inputs) tool(t *plan.MouldResource) int {
	if n := slices.IndexFunc(k.Planning.Tools, func(x plan.MouldResource) bool { return x.ID == t.ID }); n >= 0 {
		return max(k.Planning.Tools[n].Count, t.Count)
	}
	return t.Count
}

// laterBy are the minutes by which a handover could be later: by half hours until eight in the evening, and at the same
// time on the days after.
func laterBy(d *Draft, k *Inputs) []int {
	from := d.From.In(k.Planning.Calendar.Zero.Location())
	var list []int
	for n := 30; from.Hour()*60+from.Minute()+n <= 20*60; n += 30 {
		list = append(list, n)
	}
	for days := 1; days <= 4; days++ {
		list = append(list, days*plan.DayMinutes)
	}
	return list
}

// freeDays are times on days before the handover on which nobody works: from the usual hour on, for up to four hours.
func (s *suggester) freeDays() []plan.Session {
	w := &s.kitchen.Planning
	usual, most := si.Minutes(18*60), 0 // when work begins most often
	begins := map[si.Minutes]int{}
	for _, x := range w.Sessions {
		at := w.Calendar.Clock(x.From)
		if begins[at]++; begins[at] > most {
			usual, most = at, begins[at]
		}
	}
	var list []plan.Session
	for day := w.Calendar.Day(w.Calendar.Minute(s.draft.From) - 1); day >= w.Calendar.Day(w.Now) &&
		len(list) < daysTried; day-- {
		from := max(w.Calendar.At(day, usual), w.Now)
		to := min(from+240, w.Calendar.Begin(day+1))
		if to-from >= 30 && !slices.ContainsFunc(w.Sessions,
			func(x plan.Session) bool { return w.Calendar.Day(x.From) == day }) {
			list = append(list, plan.Session{From: from, To: to, People: 1})
		}
	}
	return list
}

// daysTried of those on which nobody works: the last before the handover.
const daysTried = 3

// say what a relief is by the calendar.
func (s *suggester) say(f plan.Suggestion) Suggestion {
	cal := s.kitchen.Planning.Calendar
	at := func(minute si.Minutes) string { return cal.Time(minute).Format("15:04") }
	timed := func(x plan.Session) Suggestion {
		end := at(x.To)
		if cal.Clock(x.To) == 0 {
			end = "24:00"
		}
		return Suggestion{Day: cal.DateOf(x.From), From: at(x.From), To: end, People: x.People}
	}
	switch f.Kind {
	case "hands":
		x := s.r.When.problem.Sessions[f.Session]
		x.To += si.Minutes(f.Amount)
		said := timed(x)
		said.Kind, said.Text = "hours", reason.Of("order.more-on-until", reason.Minutes(f.Amount), reason.Day(said.Day),
			reason.Name(said.To))
		return said
	case "person":
		x := s.r.When.problem.Sessions[f.Session]
		x.People += f.Amount
		said := timed(x)
		said.Kind, said.Text = "person", reason.Of("order.one-person-more-on-to", reason.Day(said.Day),
			reason.Name(said.From), reason.Name(said.To))
		return said
	case "day":
		x := s.could.Sessions[f.Session]
		x.To = x.From + si.Minutes(f.Amount)
		said := timed(x)
		said.Kind, said.Text = "day", reason.Of("order.work-on-too-to", reason.Day(said.Day), reason.Name(said.From),
			reason.Name(said.To))
		if len(s.r.When.Short) == 1 {
			l := s.r.Lines[s.r.When.Short[0].Line]
			said.Why = because("order.keep-so-they-can-be", reason.Name(l.Name), reason.Hours(l.Card.Keeps))
		}
		return said
	case "spot":
		n := slices.IndexFunc(s.r.When.problem.Places, func(
			p plan.StorageResource) bool {
			return p.ID == ident.Spot(f.ID)
		})
		trays := s.r.When.problem.Places[n].Trays + f.Amount
		return Suggestion{Kind: "spot", Text: reason.Of("order.more-trays-in", reason.Count{N: f.Amount, Of: "tray"},
			reason.Name(s.r.When.problem.StorageName(ident.Spot(f.ID)))), Spot: ident.Spot(f.ID), Trays: trays}
	case "later":
		starts, ends := s.draft.From.Add(time.Duration(f.Amount)*time.Minute),
			s.draft.To.Add(time.Duration(f.Amount)*time.Minute)
		if f.Amount%plan.DayMinutes == 0 { // the same time of the day, also when the clocks change
			starts, ends = s.draft.From.In(cal.Zero.Location()).AddDate(0, 0, f.Amount/plan.DayMinutes),
				s.draft.To.In(cal.Zero.Location()).AddDate(0, 0, f.Amount/plan.DayMinutes)
		}
		return Suggestion{Kind: "later", Text: reason.Of("order.hand-over-on", moment(cal, cal.Minute(starts))),
			Starts: &starts, Ends: &ends}
	default:
		return s.others[f.ID]
	}
}
