package plan

import (
	"context"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// BatchSplit is another way to make some batches: several of the same treat in one lot, which saves setup or a round of
// the moulds, or one in parts, on several days.
type BatchSplit struct {
	Of      []ident.Batch // the batches that it stands for
	Instead []Batch       // one lot for all of them, or several parts of the one
}

// Merge several batches of the same treat into one lot, of which the name, the steps and what it is fresh from are
// given: it is ready for the first of them, fresh enough for the last, and worth as much as all. ok is false where no
// time is fresh enough for all of them.
func Merge(lot Batch, of []Batch) (merged Batch, ok bool) {
	lot = Batch{ID: lot.ID, Steps: lot.Steps, FreshFrom: lot.FreshFrom, DueMin: of[0].DueMin}
	earliest := -unlimited // that it may be fresh from
	for _, b := range of {
		lot.Penalty += b.Penalty
		lot.ReleaseMin, lot.DueMin = max(lot.ReleaseMin, b.ReleaseMin), min(lot.DueMin, b.DueMin)
		if b.ShelfLifeMin != nil {
			earliest = max(earliest, b.DueMin-*b.ShelfLifeMin)
		}
		lot.Contains, lot.FreeFrom = union(lot.Contains, b.Contains), union(lot.FreeFrom, b.FreeFrom)
	}
	if earliest > -unlimited {
		lot.ShelfLifeMin = new(lot.DueMin - earliest)
	}
	return lot, earliest <= lot.DueMin && lot.ReleaseMin < lot.DueMin
}

func union(a, b []string) []string {
	for _, x := range b {
		if !slices.Contains(a, x) {
			a = append(slices.Clip(a), x)
		}
	}
	return a
}

// ChooseSplits makes a plan with those of the alternatives that make it better than the plan that make made of the
// problem without any, one after the other as they are given, and tells which they are. A batch takes part in one
// alternative at most. Plans are compared by what becomes of the problem's own batches: each is as old as the oldest of
// what is made for it, and worth no more than what of that is made. That is the score of the plan that is returned.
// Beside it, minutes of hands that an alternative saves or costs, a round of the moulds or a tidying up, count as
// minutes of setup: that is what a lot is made for.
func ChooseSplits(ctx context.Context, make Maker, p *Problem, without *Plan, all []BatchSplit, o Options) (*Plan,
	[]BatchSplit, error) {
	best, least := without, without.Score
	var taken []BatchSplit
	for _, a := range all {
		if slices.ContainsFunc(taken, func(t BatchSplit) bool {
			return slices.ContainsFunc(t.Of, func(id ident.Batch) bool { return slices.Contains(a.Of, id) })
		}) {
			continue
		}
		with := append(slices.Clip(taken), a)
		other := p.Instead(with)
		o.From = best
		plan, err := make(ctx, other, o)
		if err != nil {
			return nil, nil, err
		}
		plan.Score = p.real(plan, with)
		score := plan.Score
		score.Setup += other.Hands() - p.Hands()
		if score.Less(least) {
			best, least, taken = plan, score, with
		}
	}
	return best, taken, nil
}

// Maker makes a plan: Make or Settle.
type Maker func(context.Context, *Problem, Options) (*Plan, error)

// Hands are the minutes of all steps.
func (p *Problem) Hands() si.Minutes {
	var sum si.Minutes
	for _, b := range p.Batches {
		for _, s := range b.Steps {
			sum += s.HandsOnMin
		}
	}
	return sum
}

// Instead is the problem with alternatives in the place of what they stand for.
func (p *Problem) Instead(taken []BatchSplit) *Problem {
	other := *p
	other.Batches = nil
	for _, b := range p.Batches {
		if !slices.ContainsFunc(taken, func(a BatchSplit) bool { return slices.Contains(a.Of, b.ID) }) {
			other.Batches = append(other.Batches, b)
		}
	}
	for _, a := range taken {
		other.Batches = append(other.Batches, a.Instead...)
	}
	return &other
}

// real is the score of a plan with alternatives, by what becomes of the problem's own batches.
func (p *Problem) real(plan *Plan, taken []BatchSplit) Score {
	made := p.Instead(taken)
	fresh := map[ident.Batch]si.Minutes{} // of each batch that is placed
	for _, s := range plan.Steps {
		n := slices.IndexFunc(made.Batches, func(b Batch) bool { return b.ID == s.Batch })
		if n < 0 { // what is done of a batch that cannot be finished
			continue
		}
		b := &made.Batches[n]
		switch {
		case b.FreshFrom == s.Step:
			fresh[b.ID] = s.Start
		case b.FreshFrom == "":
			fresh[b.ID] = max(fresh[b.ID], s.End())
		}
	}
	score := Score{Setup: plan.Score.Setup, Moved: plan.Score.Moved}
	for _, b := range p.Batches {
		parts := []ident.Batch{b.ID}
		if n := slices.IndexFunc(taken, func(a BatchSplit) bool { return slices.Contains(a.Of, b.ID) }); n >= 0 {
			parts = parts[:0]
			for _, x := range taken[n].Instead {
				parts = append(parts, x.ID)
			}
		}
		oldest, missed := unlimited, 0
		for _, id := range parts {
			if at, placed := fresh[id]; placed {
				oldest = min(oldest, at)
			} else {
				missed += made.Batches[slices.IndexFunc(made.Batches, func(b Batch) bool { return b.ID == id })].Penalty
			}
		}
		score.Unplaced += min(missed, b.Penalty)
		if oldest < unlimited {
			score.AgeAtHandover += b.DueMin - oldest
		}
	}
	return score
}
