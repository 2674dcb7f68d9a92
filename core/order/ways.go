package order

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// mostLots that a line is tried together with: those that are handed over nearest to it.
const mostLots = 2

// tryCombined makes lines together with promised batches of the same treat and finish, where all fits and the plan is
// better so.
func (r *Estimate) tryCombined(ctx context.Context, w *When, d *Draft, k *Inputs) error {
	if k.Extent == FeasibilityOnly && w.allScheduled() {
		return nil // nothing else is asked
	}
	var ways []plan.BatchSplit
	var merged []plannedBatch // of each way
	for i, line := range d.Lines {
		for _, lot := range r.combinableWith(line, w.problem, d, k) {
			whole := line
			whole.Count += lot.Count
			// It must be good for whoever fetches theirs last.
			day := max(k.handover(d), lot.Last)
			own := k.Holding(day, lot.Orders...)
			addAhead(own.Ahead, r.aheadFor(i, d, day, k))
			card, err := compute(whole, own)
			if err != nil {
				continue // more than can be made at once
			}
			both := []plan.Batch{*batchOf(w.problem, lot.Batch), *batchOf(w.problem, BatchID(i, 0))}
			if b, ok := plan.Merge(BatchOf(lot.Batch, card, nil), both); ok {
				ways = append(ways, plan.BatchSplit{Of: []ident.Batch{both[0].ID, both[1].ID},
					Instead: []plan.Batch{b}})
				merged = append(merged, plannedBatch{id: lot.Batch, line: i, card: card, combined: &lot})
			}
		}
	}
	if len(ways) == 0 {
		return nil
	}
	problem := *w.problem
	for _, m := range merged {
		problem.Tools = withTool(slices.Clone(problem.Tools), m.card.Tool)
	}
	effort := k.effort(&problem)
	if w.allScheduled() { // a lot that takes long to find room is not worth it
		effort.Effort = min(effort.Effort, calm/3)
	}
	made, taken, err := plan.ChooseSplits(ctx, plan.Settle, &problem, w.made, ways, effort)
	if err != nil || len(taken) == 0 {
		return err
	}
	other := When{problem: problem.Instead(taken), made: made, makings: slices.Clone(w.makings)}
	for _, t := range taken {
		n := slices.IndexFunc(ways, func(a plan.BatchSplit) bool { return slices.Equal(a.Of, t.Of) })
		other.makings[merged[n].line] = merged[n]
	}
	if other.allScheduled() { // where it does not, what would help is said of the order's own batches
		w.problem, w.made, w.makings = other.problem, other.made, other.makings
	}
	return nil
}

// aheadFor a line is what there is of mixes made ahead, good on a day, that the other lines of the order do not
// take.
func (r *Estimate) aheadFor(line int, d *Draft, day string, k *Inputs) map[ident.Ingredient]treat.Ahead {
	ahead := k.madeAhead(d, day)
	for i, l := range r.Lines {
		if i != line {
			take(ahead, l.Card)
		}
	}
	return ahead
}

// allScheduled tells whether the plan has room for all of the order.
func (w *When) allScheduled() bool {
	return !slices.ContainsFunc(w.made.Unplaced, func(u plan.Unplaced) bool {
		return slices.ContainsFunc(w.makings, func(m plannedBatch) bool { return m.id == u.Batch })
	})
}

// combinableWith a line: what it could be made together with, nearest first.
func (r *Estimate) combinableWith(l Line, p *plan.Problem, d *Draft, k *Inputs) []CombinedBatch {
	var list []CombinedBatch
	for _, lot := range k.Planning.Combined {
		if lot.Treat == l.Treat && lot.Version == k.Treats[l.Treat].Version && lot.Coating == l.Coating &&
			batchOf(p, lot.Batch) != nil {
			list = append(list, lot)
		}
	}
	ready := k.Planning.Calendar.Minute(d.From)
	apart := func(l CombinedBatch) si.Minutes {
		n := batchOf(p, l.Batch).DueMin - ready
		return max(n, -n)
	}
	slices.SortStableFunc(list, func(a, b CombinedBatch) int { return cmp.Compare(apart(a), apart(b)) })
	return list[:min(len(list), mostLots)]
}

// batchOf a problem; nil where it has none of that name.
func batchOf(p *plan.Problem, id ident.Batch) *plan.Batch {
	if n := slices.IndexFunc(p.Batches, func(b plan.Batch) bool { return b.ID == id }); n >= 0 {
		return &p.Batches[n]
	}
	return nil
}

// unscheduledPenalty are the worth of what a plan leaves out, and of that the makings that no day could ever take.
func (w *When) unscheduledPenalty() (worth, never int) {
	for _, u := range w.made.Unplaced {
		if u.Reason == plan.Window && w.lineOf(u.Batch) >= 0 {
			never++
		}
	}
	return w.made.Score.Unplaced, never
}

// splitTries is how many plans are tried with lines in parts: one takes the longer the more lines there are, and
// somebody waits for the answer.
func splitTries(lines int) int { return max(5, min(25, 200/max(lines, 1))) }

// trySplit makes lines that do not fit as a whole in as few parts as fit, on days of their own. Where no number of
// parts fits, a line that no day could take as a whole is left in parts that a day could take, so that what is short is
// said of them.
func (r *Estimate) trySplit(ctx context.Context, w *When, d *Draft, k *Inputs) error {
	tries := splitTries(len(r.Lines))
	for i, l := range r.Lines {
		if _, _, short := k.tooMuch(l.Card, d); short {
			continue // there are not the hands for it, in whatever parts
		}
		least := leastParts(l.Card, w.problem)
		for _, parts := range []int{least, least + 1, least + 2, 2*least + 1, 3 * least} {
			if l.Count < parts || !slices.ContainsFunc(w.made.Unplaced, func(u plan.Unplaced) bool {
				return w.lineOf(u.Batch) == i
			}) {
				break
			}
			if tries--; tries < 0 {
				return nil
			}
			other := *w
			split, err := r.split(d.Lines[i], i, parts, k)
			if err != nil {
				break
			}
			other.makings = slices.Concat(slices.DeleteFunc(slices.Clone(w.makings),
				func(m plannedBatch) bool { return m.line == i }), split)
			var faults *invalid.Error
			if err := r.plan(ctx, &other, d, k); errors.As(err, &faults) { // too many steps
				break
			} else if err != nil {
				return err
			}
			whole, never := w.unscheduledPenalty()
			left, neverLeft := other.unscheduledPenalty()
			// Each part is worth as much as a line: what counts is that nothing is left out.
			if left == 0 || left < whole || never > 0 && neverLeft == 0 {
				*w = other
			}
		}
	}
	return nil
}

// leastParts that a line is to be made in so that no step is longer than every time of work and none fills more trays
// than there are.
func leastParts(card *batch.Card, p *plan.Problem) int {
	longest, least := si.Minutes(1), 2
	for _, s := range p.Sessions {
		longest = max(longest, s.To-s.From)
	}
	for _, s := range card.Steps {
		least = max(least, int((s.HandsOnMin+longest-1)/longest))
		for _, place := range p.Places {
			if place.ID == s.Storage && place.Trays > 0 {
				least = max(least, (s.Trays+place.Trays-1)/place.Trays)
			}
		}
	}
	return least
}

// tooMuch tells whether the work that must be fresh is more than all the hands between the time from which it keeps and
// the handover, beside what is planned already: need and free are in minutes.
func (k *Inputs) tooMuch(card *batch.Card, d *Draft) (need, free si.Minutes, short bool) {
	fresh := map[ident.Step]bool{card.FreshFrom: true}
	for _, s := range card.Steps { // in the order in which they are done
		if fresh[s.ID] || slices.ContainsFunc(s.After, func(a plan.After) bool { return fresh[a.Step] }) {
			fresh[s.ID] = true
			need += s.HandsOnMin
		}
	}
	ready := k.Planning.Calendar.Minute(d.From)
	var taken []plan.ScheduledOperation
	if k.Planning.Previous != nil {
		taken = k.Planning.Previous.Steps
	}
	for _, s := range k.Planning.Sessions {
		if s.From, s.To = max(s.From, k.Planning.Now, ready-si.Minutes(card.Keeps*60)),
			min(s.To, ready); s.From < s.To {
			free += plan.Free([]plan.Session{s}, taken)
		}
	}
	return need, free, need > free
}

// lineOf the order that a batch of the plan is made for alone; -1 for what others take part in, or is none of the
// order's.
func (w *When) lineOf(batch ident.Batch) int {
	for i := range w.makings {
		if m := &w.makings[i]; m.id == batch && m.combined == nil {
			return m.line
		}
	}
	return -1
}

// split a line in parts.
func (r *Estimate) split(l Line, i, parts int, k *Inputs) ([]plannedBatch, error) {
	var list []plannedBatch
	for n := range parts {
		part := l
		part.Count = l.Count*(n+1)/parts - l.Count*n/parts
		card, err := compute(part, k)
		if err != nil {
			return nil, err
		}
		list = append(list, plannedBatch{id: BatchID(i, n+1), line: i, part: n + 1, card: card})
	}
	return list, nil
}
