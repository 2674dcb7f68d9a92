package plan

import (
	"cmp"
	"fmt"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Violation is a rule that a plan breaks.
type Violation struct {
	Rule  int         // number of the rule in the plan format
	Batch ident.Batch // and the step that breaks it
	Step  ident.Step
	Says  reason.Reason
}

func (v Violation) String() string {
	return fmt.Sprintf("rule %d: %s %s: %s", v.Rule, v.Batch, v.Step, v.Says)
}

// Check proves that a plan is valid, and computes its score from the problem and the times alone. It shares nothing
// with the planner: rule by rule, as the plan format tells them, and slow where that makes it plain. The problem must
// be one that makes sense (Problem.Check).
func Check(p *Problem, plan *Plan) (Score, []Violation) {
	c := &proof{problem: p, batches: map[ident.Batch]*Batch{}, placed: map[ref]*work{}}
	for i := range p.Batches {
		c.batches[p.Batches[i].ID] = &p.Batches[i]
	}
	c.gather(plan)
	c.whole(plan)
	c.hands()
	c.after()
	c.room()
	c.setups()
	c.window()
	return c.score(plan), c.found
}

// ref names a step.
type ref struct {
	batch ident.Batch
	step  ident.Step
}

// work is a placed step with all that is known of it.
type work struct {
	ScheduledOperation
	name    ref
	of      *Batch
	step    *Operation
	session int // -1: in none
	pinned  bool
}

// done is when its hands are free again, end when its waiting is over.
func (w *work) done() si.Minutes { return w.Start + w.step.HandsOnMin }
func (w *work) end() si.Minutes  { return w.done() + w.step.PassiveMin }

type proof struct {
	problem *Problem
	batches map[ident.Batch]*Batch
	placed  map[ref]*work
	all     []*work // by start
	found   []Violation
}

func (c *proof) breaks(rule int, w ref, says reason.Reason) {
	c.found = append(c.found, Violation{rule, w.batch, w.step, says})
}

func (c *proof) gather(plan *Plan) {
	for _, s := range plan.Steps {
		r := ref{s.Batch, s.Step}
		b := c.batches[s.Batch]
		if b == nil {
			c.breaks(1, r, reason.Of("plan.there-no-such-batch-2"))
			continue
		}
		i := slices.IndexFunc(b.Steps, func(x Operation) bool { return x.ID == s.Step })
		if i < 0 {
			c.breaks(1, r, reason.Of("plan.batch-has-no-such-step"))
			continue
		}
		if c.placed[r] != nil {
			c.breaks(1, r, reason.Of("plan.placed-twice"))
			continue
		}
		w := &work{ScheduledOperation: s, name: r, of: b, step: &b.Steps[i], pinned: b.Steps[i].Pinned != nil}
		w.session = slices.IndexFunc(c.problem.Sessions, func(x Session) bool {
			return x.From <= w.Start && w.done() <= x.To && s.Hand >= 0 && s.Hand < x.People
		})
		if w.pinned && (s.Start != w.step.Pinned.Start || s.Hand != w.step.Pinned.Hand) {
			c.breaks(9, r, reason.Of("plan.pinned-to-by-and-placed", reason.Int(w.step.Pinned.Start),
				reason.Int(w.step.Pinned.Hand), reason.Int(s.Start), reason.Int(s.Hand)))
		}
		c.placed[r] = w
		c.all = append(c.all, w)
	}
	slices.SortStableFunc(c.all, func(a, b *work) int { return cmp.Compare(a.Start, b.Start) })
}

// whole: rule 1.
func (c *proof) whole(plan *Plan) {
	left := map[ident.Batch]bool{}
	for _, u := range plan.Unplaced {
		if c.batches[u.Batch] == nil || left[u.Batch] {
			c.breaks(1, ref{batch: u.Batch}, reason.Of("plan.listed-as-unplaced-and-unknown"))
		}
		left[u.Batch] = true
	}
	for _, b := range c.problem.Batches {
		n, pinned := 0, false
		for _, s := range b.Steps {
			pinned = pinned || s.Pinned != nil
			if c.placed[ref{b.ID, s.ID}] != nil {
				n++
			}
		}
		switch {
		case n != 0 && n != len(b.Steps):
			c.breaks(1, ref{batch: b.ID}, reason.Of("plan.its-steps-placed", reason.Int(n), reason.Int(len(b.Steps))))
		case n == 0 && pinned:
			c.breaks(1, ref{batch: b.ID}, reason.Of("plan.has-pinned-step-and-not"))
		case (n == 0) != left[b.ID]:
			c.breaks(1, ref{batch: b.ID}, reason.Of("plan.steps-placed-and-listed-as", reason.Int(n),
				reason.Name(fmt.Sprint(left[b.ID]))))
		}
	}
}

// hands: rule 2. What only pinned steps break has happened.
func (c *proof) hands() {
	for i, w := range c.all {
		if w.session < 0 {
			if !w.pinned {
				c.breaks(2, w.name, reason.Of("plan.its-hands-from-to-lie", reason.Int(w.Start), reason.Int(w.done()),
					reason.Int(w.Hand)))
			}
			continue
		}
		if w.From() < c.problem.Sessions[w.session].From && !w.pinned {
			c.breaks(2, w.name, reason.Of("plan.its-setup-begins-at-before", reason.Int(w.From())))
		}
		for _, v := range c.all[i+1:] {
			if v.session == w.session && v.Hand == w.Hand && !(v.pinned && w.pinned) &&
				overlap(w.From(), w.done(), v.From(), v.done()) {
				c.breaks(2, v.name, reason.Of("plan.person-busy-with-at-that", reason.Int(v.Hand), reason.Name(w.Step),
					reason.Name(w.Batch)))
			}
		}
	}
}

// overlap of two half-open intervals.
func overlap(a, b, c, d si.Minutes) bool { return max(a, c) < min(b, d) }

// after: rule 4.
func (c *proof) after() {
	for _, w := range c.all {
		for _, a := range w.step.After {
			v := c.placed[ref{w.Batch, a.Step}]
			if v == nil || v.pinned && w.pinned {
				continue
			}
			if w.Start < v.end()+a.Min {
				c.breaks(4, w.name, reason.Of("plan.starts-at-less-than-after", reason.Int(w.Start), reason.Int(a.Min),
					reason.Name(a.Step), reason.Int(v.end())))
			}
			if a.Max != nil && w.Start > v.end()+*a.Max {
				c.breaks(4, w.name, reason.Of("plan.starts-at-more-than-after", reason.Int(w.Start), reason.Int(*a.Max),
					reason.Name(a.Step), reason.Int(v.end())))
			}
			if a.Alone {
				c.alone(v, w)
			}
		}
	}
}

// alone: w follows v by the same person in the same session, and nothing that need not follow it so comes between.
func (c *proof) alone(v, w *work) {
	if v.Hand != w.Hand || v.session != w.session {
		c.breaks(4, w.name, reason.Of("plan.follows-by-another-person-or", reason.Name(v.Step)))
		return
	}
	for _, x := range c.all {
		between := x != v && x != w && x.Hand == v.Hand && x.session == v.session && x.Start >= v.Start &&
			x.Start < w.Start
		beside := x.Batch == w.Batch && slices.ContainsFunc(x.step.After,
			func(a After) bool { return a.Alone && a.Step == v.Step })
		if between && !beside && !(x.pinned && w.pinned) && !slices.ContainsFunc(w.step.After,
			func(a After) bool { return a.Alone && a.Step == x.Step && x.Batch == w.Batch }) {
			c.breaks(4, w.name, reason.Of("plan.comes-between-and", reason.Name(x.Step), reason.Name(x.Batch),
				reason.Name(v.Step)))
		}
	}
}

// filling of a place or a tool.
type filling struct {
	by       *work
	from, to si.Minutes
	amount   int
	pinned   bool // all steps that decide on it are
}

// room: rule 5, of each place and each tool on its own.
func (c *proof) room() {
	for _, place := range c.problem.Places {
		var list []filling
		for _, w := range c.all {
			if w.step.Storage != place.ID {
				continue
			}
			f := filling{w, w.done(), w.end(), w.step.Trays, w.pinned}
			latest, named := si.Minutes(0), false
			for i := range w.of.Steps {
				s := &w.of.Steps[i]
				v := c.placed[ref{w.Batch, s.ID}]
				if v != nil && slices.ContainsFunc(s.After, func(a After) bool { return a.Step == w.step.ID }) {
					latest, named = max(latest, v.Start), true
					f.pinned = f.pinned && v.pinned
				}
			}
			if named {
				f.to = latest
			}
			list = append(list, f)
		}
		c.fits("place "+string(place.ID), place.Trays, list)
	}
	for _, tool := range c.problem.Tools {
		var list []filling
		for _, w := range c.all {
			for _, t := range w.step.Takes {
				if t.Tool != tool.ID {
					continue
				}
				f := filling{w, w.Start, w.end(), t.Count, w.pinned}
				if t.Until != w.step.ID {
					v := c.placed[ref{w.Batch, t.Until}]
					if v == nil {
						continue
					}
					f.to, f.pinned = v.done(), w.pinned && v.pinned
				}
				list = append(list, f)
			}
		}
		c.fits("tool "+string(tool.ID), tool.Count, list)
	}
}

func (c *proof) fits(what string, there int, list []filling) {
	for _, at := range list { // the sum is largest where something begins
		if at.from >= at.to {
			continue
		}
		sum, pinned := 0, true
		for _, f := range list {
			if f.from <= at.from && at.from < f.to {
				sum += f.amount
				pinned = pinned && f.pinned
			}
		}
		if sum > there && !pinned {
			c.breaks(5, at.by.name, reason.Of("plan.at-minute-taken-and-there", reason.Int(at.from), reason.Int(sum),
				reason.Name(what), reason.Int(there)))
		}
	}
}

// window: rule 8.
func (c *proof) window() {
	for i := range c.problem.Batches {
		b := &c.problem.Batches[i]
		last, whole, pinned := si.Minutes(0), true, true
		for _, s := range b.Steps {
			w := c.placed[ref{b.ID, s.ID}]
			if w == nil {
				whole = false
				continue
			}
			last = max(last, w.end())
			if w.pinned {
				continue
			}
			pinned = false
			if w.Start < b.ReleaseMin {
				c.breaks(8, w.name, reason.Of("plan.starts-at-before", reason.Int(w.Start), reason.Int(b.ReleaseMin)))
			}
			if w.end() > b.DueMin {
				c.breaks(8, w.name, reason.Of("plan.ends-at-after", reason.Int(w.end()), reason.Int(b.DueMin)))
			}
		}
		if !whole || b.ShelfLifeMin == nil {
			continue
		}
		fresh := last
		if b.FreshFrom != "" {
			w := c.placed[ref{b.ID, b.FreshFrom}]
			fresh, pinned = w.Start, w.pinned
		}
		if fresh < b.DueMin-*b.ShelfLifeMin && !pinned {
			c.breaks(8, ref{b.ID, b.FreshFrom}, reason.Of("plan.fresh-from-and-keeps-that", reason.Int(fresh),
				reason.Int(*b.ShelfLifeMin), reason.Int(b.DueMin)))
		}
	}
}

// score of the plan: from its times, not from what it says.
func (c *proof) score(plan *Plan) Score {
	var s Score
	for _, u := range plan.Unplaced {
		if b := c.batches[u.Batch]; b != nil {
			s.Unplaced += b.Penalty
		}
	}
	for _, w := range c.all {
		s.Setup += w.Changeover + w.Washdown
	}
	for i := range c.problem.Batches {
		b := &c.problem.Batches[i]
		fresh, whole := si.Minutes(0), true
		for _, step := range b.Steps {
			w := c.placed[ref{b.ID, step.ID}]
			if w == nil {
				whole = false
			} else if b.FreshFrom == "" {
				fresh = max(fresh, w.end())
			} else if step.ID == b.FreshFrom {
				fresh = w.Start
			}
		}
		if whole {
			s.AgeAtHandover += b.DueMin - fresh
		}
	}
	if c.problem.Previous != nil {
		for _, v := range c.problem.Previous.Steps {
			if w := c.placed[ref{v.Batch, v.Step}]; w != nil && (w.Start != v.Start || w.Hand != v.Hand) {
				s.Moved++
			}
		}
	}
	return s
}
