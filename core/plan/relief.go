package plan

import (
	"cmp"
	"context"
	"slices"
	"sort"

	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Suggestion is one change that lets a batch in which does not fit. It was tried: with it a plan has the batch and all
// that the present plan has.
type Suggestion struct {
	Kind    string // hands: a session goes on for Amount minutes; day: one works for Amount minutes when one otherwise does not; person: Amount more work in a session; place, tool: there are Amount more; later: it is ready Amount minutes later; other: it is made as the Other says
	Session int    // index in the problem's sessions, of hands and person; in those that could be, of day
	ID      string // of the place, the tool or the other
	Amount  int
	Size    int // how much of a change it is, in minutes of somebody's trouble: reliefs come smallest first
	Plan    *Plan
}

// Other is another way to make a batch: fewer pieces, a coating instead of a couverture, more moulds to a round.
type Other struct {
	Name    string
	Size    int             // how much of a change it is, in minutes of somebody's trouble
	Of      []ident.Batch   // these batches make room
	Instead []Batch         // for these
	Tools   []MouldResource // that there have to be so many of; such a tool is not tried by itself
}

// Possible is what could be changed beside the problem's own sessions, places, tools and times.
type Possible struct {
	Sessions []Session // times in which nobody works, and somebody could
	Others   []Other
	Later    []int // by how many minutes later it could be ready, rising
}

// What a change costs somebody: a person more is asked to come for some hours, a mould is bought, a tray is found room
// for, a customer is asked to wait. Common practice puts asking a customer last.
const (
	troubleOfAPerson = 120
	troubleOfATool   = 90
	troubleOfATray   = 45
	troubleOfWaiting = 60 // and a minute for every ten
	troubleOfADay    = 30 // to begin at all on a day that was free
)

// Reliefs of batches that the present plan of a problem leaves out, all of them: single changes, each tried, smallest
// first. At most one of a kind is given for each session, place and tool. The problem makes sense (Problem.Check).
func Reliefs(ctx context.Context, p *Problem, present *Plan, batches []ident.Batch, could Possible) ([]Suggestion,
	error) {
	t := &suggester{ctx: ctx, problem: p, present: present}
	from, by := unlimited, -unlimited
	for i := range p.Batches {
		if b := &p.Batches[i]; slices.Contains(batches, b.ID) {
			t.batches = append(t.batches, i)
			from, by = min(from, max(b.ReleaseMin, b.DueMin-b.keeps())), max(by, b.DueMin)
		}
	}
	if len(t.batches) != len(batches) || len(batches) == 0 {
		return nil, fault("", reason.Of("plan.there-no-such-batch"))
	}
	t.hours(from, by)
	t.days(could.Sessions, from, by)
	t.rooms(could.Others)
	t.later(could.Later)
	for _, o := range could.Others {
		t.least(Suggestion{Kind: "other", ID: o.Name}, 1, 1, func(p *Problem, _ int) {
			p.Batches = slices.DeleteFunc(p.Batches, func(b Batch) bool { return slices.Contains(o.Of, b.ID) })
			p.Batches = append(p.Batches, o.Instead...)
			for _, tool := range o.Tools {
				if n := slices.IndexFunc(p.Tools, func(x MouldResource) bool { return x.ID == tool.ID }); n >= 0 {
					p.Tools[n].Count = max(p.Tools[n].Count, tool.Count)
				}
			}
		}, func(int) int { return o.Size })
	}
	slices.SortStableFunc(t.found, func(a, b Suggestion) int { return cmp.Compare(a.Size, b.Size) })
	return t.found, t.err
}

// hours more, or hands more, in a session that there is.
func (t *suggester) hours(from, by si.Minutes) {
	for i, s := range t.problem.Sessions {
		if s.From >= by || s.To <= from {
			continue
		}
		room := si.Minutes(240)
		for _, other := range t.problem.Sessions {
			if other.From >= s.To {
				room = min(room, other.From-s.To)
			}
		}
		t.least(Suggestion{Kind: "hands", Session: i}, int(room/15), 15,
			func(p *Problem, amount int) { p.Sessions[i].To += si.Minutes(amount) },
			func(amount int) int { return amount })
		t.least(Suggestion{Kind: "person", Session: i}, 1, 1,
			func(p *Problem, amount int) { p.Sessions[i].People += amount }, func(int) int { return troubleOfAPerson })
	}
}

// later: the first of the times that helps. Not every later one does: what is fresh for a day only must be made on that
// day.
func (t *suggester) later(by []int) {
	for _, amount := range by {
		known := len(t.found)
		t.least(Suggestion{Kind: "later"}, 1, amount, func(p *Problem, amount int) {
			for _, n := range t.batches {
				p.Batches[n].DueMin += si.Minutes(amount)
			}
		}, func(amount int) int { return troubleOfWaiting + amount/10 })
		if len(t.found) > known {
			return
		}
	}
}

// days on which nobody works yet.
func (t *suggester) days(could []Session, from, by si.Minutes) {
	for i, s := range could {
		if s.From >= by || s.To <= from || slices.ContainsFunc(t.problem.Sessions,
			func(x Session) bool { return x.From < s.To && s.From < x.To }) {
			continue
		}
		t.least(Suggestion{Kind: "day", Session: i}, int((s.To-s.From)/15), 15, func(p *Problem, amount int) {
			p.Sessions = append(p.Sessions, Session{s.From, s.From + si.Minutes(amount), s.People})
			slices.SortFunc(p.Sessions, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
		}, func(amount int) int { return troubleOfADay + amount })
	}
}

// rooms: trays and tools more, of those that the batches use.
func (t *suggester) rooms(others []Other) {
	uses := func(of func(Operation) bool) bool {
		return slices.ContainsFunc(t.batches, func(n int) bool {
			return slices.ContainsFunc(t.problem.Batches[n].Steps,
				of)
		})
	}
	for i, place := range t.problem.Places {
		if uses(func(s Operation) bool { return s.Storage == place.ID && s.Trays > 0 }) {
			t.least(Suggestion{Kind: "spot", ID: string(place.ID)}, 4, 1,
				func(p *Problem, amount int) { p.Places[i].Trays += amount },
				func(amount int) int { return amount * troubleOfATray })
		}
	}
	for i, tool := range t.problem.Tools {
		other := slices.ContainsFunc(others, func(o Other) bool {
			return slices.ContainsFunc(o.Tools, func(x MouldResource) bool { return x.ID == tool.ID })
		})
		if !other && uses(func(s Operation) bool {
			return slices.ContainsFunc(s.Takes, func(x Take) bool { return x.Tool == tool.ID })
		}) {
			t.least(Suggestion{Kind: "tool", ID: string(tool.ID)}, 2, 1,
				func(p *Problem, amount int) { p.Tools[i].Count += amount },
				func(amount int) int { return amount * troubleOfATool })
		}
	}
}

// suggester tries changes.
type suggester struct {
	ctx     context.Context
	problem *Problem
	present *Plan
	batches []int // that are to get in
	found   []Suggestion
	err     error
}

// least finds the least amount of a change that helps, up to most steps of so much, and notes it.
func (t *suggester) least(r Suggestion, most, step int, change func(*Problem, int), size func(int) int) {
	var plan *Plan
	try := func(n int) bool {
		if t.err = cmp.Or(t.err, t.ctx.Err()); t.err != nil {
			return false
		}
		p := *t.problem
		p.Sessions, p.Places, p.Tools, p.Batches = slices.Clone(p.Sessions), slices.Clone(p.Places),
			slices.Clone(p.Tools), slices.Clone(p.Batches)
		p.Previous = t.present
		change(&p, n*step)
		made := t.with(&p)
		if made != nil {
			plan = made
		}
		return made != nil
	}
	if most < 1 || !try(most) {
		return
	}
	least := 1 + sort.Search(most-1, func(n int) bool { return try(n + 1) }) // whose plan is the last that was made
	if t.err == nil {
		r.Amount, r.Size, r.Plan = least*step, size(least*step), plan
		t.found = append(t.found, r)
	}
}

// movesForRelief is how long a plan with a change is looked for when the batches find no place in the present one: less
// where a move takes longer.
func movesForRelief(steps int) int { return min(max(6000/max(steps, 1), 6), 60) }

// with is a plan that has the batch and leaves out nothing that the present plan has; nil where none is found.
func (t *suggester) with(p *Problem) *Plan {
	s := newSearch(p)
	s.construct(p.Previous)
	left := func(id ident.Batch) bool { // what the present plan leaves out may stay out, unless it is what is asked for
		return slices.ContainsFunc(t.present.Unplaced, func(u Unplaced) bool { return u.Batch == id }) &&
			!slices.ContainsFunc(t.batches, func(n int) bool { return t.problem.Batches[n].ID == id })
	}
	enough := func() bool {
		for j := range s.batches {
			if !s.whole(j) && !left(p.Batches[j].ID) {
				return false
			}
		}
		return true
	}
	possible := func() bool {
		for j := range s.batches {
			if s.never[j] && !left(p.Batches[j].ID) {
				return false
			}
		}
		return true
	}
	if !enough() && possible() {
		if t.err = s.improve(t.ctx, Options{Effort: movesForRelief(p.Size())}); t.err != nil {
			return nil
		}
		s.recall(&s.best)
	}
	if !enough() {
		return nil
	}
	return s.plan()
}
