package plan

import (
	"context"
	"slices"
)

// Settle makes a plan like Make, but where what is done and pinned leaves no room for the rest of a batch, that batch is listed as unplaced: the day goes on.
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
		out = append(out, Unplaced{Batch: b.ID, Short: "window", From: b.NotBefore, To: b.ReadyBy, Why: "What is done or pinned leaves no time in which the rest of it could be made."})
		worth += b.Worth
		without := *p
		without.Batches = slices.Delete(slices.Clone(p.Batches), stuck, stuck+1)
		p = &without
	}
}

// QuickEffort is how many moves a plan is worth that is asked for while one types, beside a plan that is good already.
func QuickEffort(steps int) int { return min(max(16_000/max(steps, 1), 40), 400) }
