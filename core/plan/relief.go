package plan

import (
	"cmp"
	"context"
	"slices"
	"sort"
)

// Relief is one change that lets a batch in which does not fit. It was tried: with it a plan has the batch and all that the present plan has.
type Relief struct {
	Kind    string // hands: a session goes on for Amount minutes; person: Amount more work in it; place, tool: there are Amount more; later: it is ready Amount minutes later; other: it is made as the Other says
	Session int    // index in the problem's sessions, of hands and person
	ID      string // of the place, the tool or the other
	Amount  int
	Size    int // how much of a change it is, in minutes of somebody's trouble: reliefs come smallest first
	Plan    *Plan
}

// Other is another way to make a batch: fewer pieces, a coating instead of a couverture, an earlier start since it keeps.
type Other struct {
	Name  string
	Size  int // how much of a change it is, in minutes of somebody's trouble
	Batch Batch
}

// What a change costs somebody: a person more is asked to come for some hours, a mould is bought, a tray is found room for, a customer is asked to
// wait. Common practice puts asking a customer last.
const (
	troubleOfAPerson = 120
	troubleOfATool   = 90
	troubleOfATray   = 45
	troubleOfWaiting = 60 // and a minute for every ten
)

// Reliefs of a batch that the present plan of a problem leaves out: single changes, each tried, smallest first. At most one of a kind is given for each
// session, place and tool. The problem makes sense (Problem.Check).
func Reliefs(ctx context.Context, p *Problem, present *Plan, batch string, others []Other) ([]Relief, error) {
	n := slices.IndexFunc(p.Batches, func(b Batch) bool { return b.ID == batch })
	if n < 0 {
		return nil, fault("", "There is no such batch.")
	}
	t := &relieving{ctx: ctx, problem: p, present: present, batch: n}
	b := &p.Batches[n]
	from := max(b.NotBefore, b.ReadyBy-b.keeps())
	for i, s := range p.Sessions {
		if s.From >= b.ReadyBy || s.To <= from {
			continue
		}
		room := 240
		for _, other := range p.Sessions {
			if other.From >= s.To {
				room = min(room, other.From-s.To)
			}
		}
		t.least(Relief{Kind: "hands", Session: i}, room/15, 15, func(p *Problem, amount int) { p.Sessions[i].To += amount }, func(amount int) int { return amount })
		t.least(Relief{Kind: "person", Session: i}, 1, 1, func(p *Problem, amount int) { p.Sessions[i].Hands += amount }, func(int) int { return troubleOfAPerson })
	}
	for i, place := range p.Places {
		if slices.ContainsFunc(b.Steps, func(s Step) bool { return s.Place == place.ID && s.Trays > 0 }) {
			t.least(Relief{Kind: "place", ID: place.ID}, 4, 1, func(p *Problem, amount int) { p.Places[i].Trays += amount }, func(amount int) int { return amount * troubleOfATray })
		}
	}
	for i, tool := range p.Tools {
		if slices.ContainsFunc(b.Steps, func(s Step) bool { return slices.ContainsFunc(s.Takes, func(x Take) bool { return x.Tool == tool.ID }) }) {
			t.least(Relief{Kind: "tool", ID: tool.ID}, 2, 1, func(p *Problem, amount int) { p.Tools[i].Count += amount }, func(amount int) int { return amount * troubleOfATool })
		}
	}
	t.least(Relief{Kind: "later"}, 96, 30, func(p *Problem, amount int) { p.Batches[n].ReadyBy += amount }, func(amount int) int { return troubleOfWaiting + amount/10 })
	for _, o := range others {
		t.least(Relief{Kind: "other", ID: o.Name}, 1, 1, func(p *Problem, _ int) {
			o.Batch.ID = batch
			p.Batches[n] = o.Batch
		}, func(int) int { return o.Size })
	}
	slices.SortStableFunc(t.found, func(a, b Relief) int { return cmp.Compare(a.Size, b.Size) })
	return t.found, t.err
}

// relieving tries changes.
type relieving struct {
	ctx     context.Context
	problem *Problem
	present *Plan
	batch   int
	found   []Relief
	err     error
}

// least finds the least amount of a change that helps, up to most steps of so much, and notes it.
func (t *relieving) least(r Relief, most, step int, change func(*Problem, int), size func(int) int) {
	var plan *Plan
	try := func(n int) bool {
		if t.err = cmp.Or(t.err, t.ctx.Err()); t.err != nil {
			return false
		}
		p := *t.problem
		p.Sessions, p.Places, p.Tools, p.Batches = slices.Clone(p.Sessions), slices.Clone(p.Places), slices.Clone(p.Tools), slices.Clone(p.Batches)
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

// movesForRelief is how long a plan with a change is looked for when the batch finds no place in the present one.
const movesForRelief = 60

// with is a plan that has the batch and leaves out nothing that the present plan has; nil where none is found.
func (t *relieving) with(p *Problem) *Plan {
	s := newSearch(p)
	s.construct()
	enough := func() bool {
		if !s.whole(t.batch) {
			return false
		}
		for j := range s.batches {
			if !s.whole(j) && !slices.ContainsFunc(t.present.Unplaced, func(u Unplaced) bool { return u.Batch == p.Batches[j].ID }) {
				return false
			}
		}
		return true
	}
	if !enough() && !s.never[t.batch] {
		if t.err = s.improve(t.ctx, Options{Effort: movesForRelief}); t.err != nil {
			return nil
		}
		s.recall(&s.best)
	}
	if !enough() {
		return nil
	}
	return s.plan()
}
