package plan

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Check that a problem makes sense: the error is an *invalid.Error with the JSON path of each fault.
func (p *Problem) Check() error {
	c := &checking{places: map[ident.Spot]bool{}, tools: map[ident.Mould]bool{}, pots: map[ident.Pot]bool{}}
	c.numbers(p)
	c.sessions(p.Sessions)
	for i, x := range p.Places {
		once(c, c.places, x.ID, fmt.Sprintf("places[%d].id", i))
	}
	for i, x := range p.Tools {
		once(c, c.tools, x.ID, fmt.Sprintf("tools[%d].id", i))
	}
	for i, x := range p.Pots {
		once(c, c.pots, x.ID, fmt.Sprintf("pots[%d].id", i))
	}
	batches := map[ident.Batch]bool{}
	for i := range p.Batches {
		once(c, batches, p.Batches[i].ID, fmt.Sprintf("batches[%d].id", i))
	}
	if steps := p.Size(); steps > MaxSteps {
		c.Add("batches", reason.Of("plan.these-steps-give-at-most", reason.Int(steps), reason.Int(MaxSteps)))
		return c.Err() // nobody reads ten thousand faults
	}
	for i := range p.Batches {
		c.batch(&p.Batches[i], fmt.Sprintf("batches[%d]", i))
	}
	c.pinned(p)
	return c.Err()
}

type checking struct {
	invalid.Faults
	places map[ident.Spot]bool
	tools  map[ident.Mould]bool
	pots   map[ident.Pot]bool
}

func once[T ~string](c *checking, seen map[T]bool, id T, path string) {
	if seen[id] {
		c.Add(path, reason.Of("plan.there-another-give-name-its", reason.Name(id)))
	}
	seen[id] = true
}

// numbers that a caller in Go may get wrong; a document's are checked as they are read.
func (c *checking) numbers(p *Problem) {
	low := func(path string, x int) {
		if x < 0 || x > maxNumber {
			c.Add(path, reason.Of("plan.not-from-to", reason.Int(x), reason.Int(maxNumber)))
		}
	}
	low("washdown", int(p.Washdown))
	for i, b := range p.Batches {
		at := fmt.Sprintf("batches[%d].", i)
		low(at+"worth", b.Penalty)
		low(at+"not_before", int(b.ReleaseMin))
		low(at+"ready_by", int(b.DueMin))
		for j, s := range b.Steps {
			at := fmt.Sprintf("%ssteps[%d].", at, j)
			low(at+"hands", int(s.HandsOnMin))
			low(at+"wait", int(s.PassiveMin))
			low(at+"trays", s.Trays)
			for k, u := range s.Pots {
				low(fmt.Sprintf("%spots[%d].changeover", at, k), int(u.Changeover))
				low(fmt.Sprintf("%spots[%d].holds", at, k), int(u.Holds))
			}
		}
	}
}

func (c *checking) sessions(sessions []Session) {
	order := make([]int, len(sessions))
	for i, s := range sessions {
		if order[i] = i; s.To <= s.From {
			c.Add(fmt.Sprintf("sessions[%d].to", i), reason.Of("plan.session-ends-at-before-starts", reason.Int(s.To),
				reason.Int(s.From)))
		}
		if s.People < 1 || s.People > 100 {
			c.Add(fmt.Sprintf("sessions[%d].hands", i), reason.Of("plan.people-cannot-work-there-give",
				reason.Int(s.People)))
		}
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(sessions[a].From, sessions[b].From) })
	for i := 1; i < len(order); i++ {
		if a, b := sessions[order[i-1]], sessions[order[i]]; a.To > b.From && a.From < a.To && b.From < b.To {
			c.Add(fmt.Sprintf("sessions[%d].from", order[i]),
				reason.Of("plan.session-from-overlaps-one-from", reason.Int(b.From), reason.Int(a.From),
					reason.Int(a.To)))
		}
	}
}

func (c *checking) batch(b *Batch, path string) {
	steps := map[ident.Step]int{}
	for i, s := range b.Steps {
		if _, there := steps[s.ID]; there {
			c.Add(fmt.Sprintf("%s.steps[%d].id", path, i), reason.Of("plan.batch-has-another-step-give",
				reason.Name(s.ID)))
		}
		steps[s.ID] = i
	}
	if len(b.Steps) == 0 {
		c.Add(path+".steps", reason.Of("plan.batch-has-at-least-one"))
	}
	known := func(at string, step ident.Step) {
		if _, there := steps[step]; !there {
			c.Add(at, reason.Of("plan.batch-has-no-step", reason.Name(step)))
		}
	}
	if b.FreshFrom != "" {
		known(path+".fresh_from", b.FreshFrom)
	}
	for i, s := range b.Steps {
		at := fmt.Sprintf("%s.steps[%d]", path, i)
		if s.Storage != "" && !c.places[s.Storage] {
			c.Add(at+".place", reason.Of("plan.there-no-place", reason.Name(s.Storage)))
		}
		if s.Pot != "" && !c.pots[s.Pot] {
			c.Add(at+".pot", reason.Of("plan.there-no-pot", reason.Name(s.Pot)))
		}
		if len(s.Pots) > mostPots {
			c.Add(at+".pots", reason.Of("plan.step-needs-at-most-pots", reason.Int(mostPots), reason.Int(len(s.Pots))))
		}
		for j, u := range s.Pots {
			if slices.ContainsFunc(s.Pots[:j], func(x Use) bool { return x.Pot == u.Pot }) {
				c.Add(fmt.Sprintf("%s.pots[%d].pot", at, j),
					reason.Of("plan.step-needs-pot-twice-name", reason.Name(u.Pot)))
			}
		}
		for j, t := range s.Takes {
			if !c.tools[t.Tool] {
				c.Add(fmt.Sprintf("%s.takes[%d].tool", at, j), reason.Of("plan.there-no-tool", reason.Name(t.Tool)))
			}
			known(fmt.Sprintf("%s.takes[%d].until", at, j), t.Until)
		}
		for j, a := range s.After {
			known(fmt.Sprintf("%s.after[%d].step", at, j), a.Step)
		}
	}
	if around := b.circle(steps); around != nil {
		first := steps[around[0]]
		c.Add(fmt.Sprintf("%s.steps[%d].after", path, first),
			reason.Of("plan.steps-wait-for-each-other", reason.Chain(reason.Names(around))))
	}
}

// circle of steps that come after each other, with the first again at its end; nil when there is none.
func (b *Batch) circle(steps map[ident.Step]int) []ident.Step {
	const fresh, open, done = 0, 1, 2
	state := make([]int, len(b.Steps))
	var path []ident.Step
	var visit func(i int) []ident.Step
	visit = func(i int) []ident.Step {
		path, state[i] = append(path, b.Steps[i].ID), open
		for _, a := range b.Steps[i].After {
			j, there := steps[a.Step]
			switch {
			case !there || state[j] == done:
			case state[j] == open:
				return append(slices.Clone(path[slices.Index(path, a.Step):]), a.Step)
			default:
				if around := visit(j); around != nil {
					return around
				}
			}
		}
		path, state[i] = path[:len(path)-1], done
		return nil
	}
	for i := range b.Steps {
		if state[i] == fresh {
			if around := visit(i); around != nil {
				return around
			}
		}
	}
	return nil
}

// pinned steps lie in a session that there is, and a person does one of them at a time.
func (c *checking) pinned(p *Problem) {
	type pin struct {
		path     string
		from, to si.Minutes
	}
	type hand struct{ session, hand int }
	byHand := map[hand][]pin{}
	for i, b := range p.Batches {
		for j, s := range b.Steps {
			if s.Pinned == nil {
				continue
			}
			at := fmt.Sprintf("batches[%d].steps[%d].pinned", i, j)
			from, to := s.Pinned.Start, s.Pinned.Start+s.HandsOnMin
			n := slices.IndexFunc(p.Sessions, func(s Session) bool { return s.From <= from && to <= s.To })
			if n < 0 {
				c.Add(at+".start", reason.Of("plan.no-session-has-span-from", reason.Int(from), reason.Int(to)))
				continue
			}
			if s.Pinned.Hand < 0 || s.Pinned.Hand >= p.Sessions[n].People {
				c.Add(at+".hand", reason.Of("plan.person-does-not-work-in", reason.Int(s.Pinned.Hand),
					reason.Int(p.Sessions[n].From), reason.Int(p.Sessions[n].People-1)))
				continue
			}
			of := hand{n, s.Pinned.Hand}
			for _, other := range byHand[of] {
				if from < other.to && other.from < to {
					c.Add(at, reason.Of("plan.person-does-from-to-nobody", reason.Int(s.Pinned.Hand),
						reason.Name(strings.TrimSuffix(other.path, ".pinned")), reason.Int(other.from),
						reason.Int(other.to)))
				}
			}
			byHand[of] = append(byHand[of], pin{at, from, to})
		}
	}
}
