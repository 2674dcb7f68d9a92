package plan

import (
	"cmp"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// ProjectDelays tells when the steps of a day would be done if everybody went on in the order of the present plan, from
// the problem's beginning (not_before) on: each as soon as its hands are free and what it comes after is over, and not
// before it was planned. Nothing is planned anew, so that places and tools are not minded. What is pinned has happened.
func ProjectDelays(p *Problem, present *Plan, from, to si.Minutes) []Moved {
	type hand struct{ session, hand int }
	at := map[ref]ScheduledOperation{}
	free := map[hand]si.Minutes{}
	session := func(start si.Minutes) int {
		return slices.IndexFunc(p.Sessions, func(s Session) bool { return s.From <= start && start < s.To })
	}
	batches := map[ident.Batch]*Batch{}
	for i := range p.Batches {
		b := &p.Batches[i]
		batches[b.ID] = b
		for _, s := range b.Steps {
			if s.Pinned != nil {
				x := ScheduledOperation{Batch: b.ID, Step: s.ID, Start: s.Pinned.Start, Hand: s.Pinned.Hand,
					Hands: s.HandsOnMin, Wait: s.PassiveMin}
				at[ref{b.ID, s.ID}] = x
				h := hand{session(x.Start), x.Hand}
				free[h] = max(free[h], x.To())
			}
		}
	}
	var open []ScheduledOperation
	for _, s := range present.Steps {
		if _, happened := at[ref{s.Batch, s.Step}]; !happened && batches[s.Batch] != nil && s.Start >= from &&
			s.Start < to {
			open = append(open, s)
		}
	}
	slices.SortStableFunc(open, func(a, b ScheduledOperation) int { return cmp.Compare(a.From(), b.From()) })
	var list []Moved
	for _, s := range open {
		b := batches[s.Batch]
		step := &b.Steps[slices.IndexFunc(b.Steps, func(x Operation) bool { return x.ID == s.Step })]
		h := hand{session(s.Start), s.Hand}
		start := max(s.Start, b.ReleaseMin+s.Start-s.From(), free[h]+s.Start-s.From())
		for _, a := range step.After {
			if before, known := at[ref{s.Batch, a.Step}]; known {
				start = max(start, before.End()+a.Min)
			}
		}
		now := s
		now.Start = start
		now.Hands, now.Wait = step.HandsOnMin, step.PassiveMin
		at[ref{s.Batch, s.Step}] = now
		free[h] = now.To()
		list = append(list, Moved{s, now})
	}
	return list
}
