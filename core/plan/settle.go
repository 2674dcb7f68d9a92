package plan

import (
	"context"
	"slices"

	"zestytin/core/ident"
)

// Settle makes a plan like Make, but where what is done and pinned leaves no room for the rest of a batch, that batch
// is listed as unplaced: the day goes on.
func Settle(ctx context.Context, p *Problem, o Options) (*Plan, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	var out []Unplaced
	worth := 0
	for {
		made, stuck, err := p.planned(ctx, o, 1)
		if err != nil {
			return nil, err
		}
		if stuck < 0 {
			made.Unplaced = append(made.Unplaced, out...)
			made.Score.Unplaced += worth
			return made, nil
		}
		b := p.Batches[stuck]
		out = append(out, Unplaced{Batch: b.ID, Reason: Begun, From: b.ReleaseMin, To: b.DueMin})
		worth += b.Penalty
		without := *p
		without.Batches = slices.Delete(slices.Clone(p.Batches), stuck, stuck+1)
		if past := past(b); len(past.Steps) > 0 {
			without.Batches = append(without.Batches, past)
		}
		p = &without
	}
}

// QuickEffort is how many moves a plan is worth that is asked for while one types, beside a plan that is good already.
func QuickEffort(steps int) int { return min(max(16_000/max(steps, 1), 40), 400) }

// Past begins the name of what is done of a batch that can no longer be finished.
const Past = "past:"

// past is what is done or pinned of a batch, as a batch of its own: whose hands it took, which pot it left warm and
// what it touched with an allergen stays true.
func past(b Batch) Batch {
	p := Batch{ID: Past + b.ID, DueMin: b.DueMin, Contains: b.Contains, FreeFrom: b.FreeFrom}
	kept := func(id ident.Step) bool {
		return slices.ContainsFunc(b.Steps, func(s Operation) bool { return s.ID == id && s.Pinned != nil })
	}
	for _, s := range b.Steps {
		if s.Pinned == nil {
			continue
		}
		s.After = slices.DeleteFunc(slices.Clone(s.After), func(a After) bool { return !kept(a.Step) })
		s.Takes = slices.Clone(s.Takes)
		for i := range s.Takes {
			if !kept(s.Takes[i].Until) {
				s.Takes[i].Until = s.ID
			}
		}
		p.Steps = append(p.Steps, s)
	}
	return p
}
