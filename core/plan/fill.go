package plan

import (
	"cmp"
	"maps"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Filled is a place or a tool that is taken for a while.
type Filled struct {
	Batch    ident.Batch
	Step     ident.Step
	Place    ident.Spot // of the two one is given
	Tool     ident.Mould
	Amount   int
	From, To si.Minutes
}

// Fill is what the steps of a plan take of places and tools, by their begin.
func Fill(p *Problem, plan *Plan) []Filled {
	placed := map[ref]ScheduledOperation{}
	for _, s := range plan.Steps {
		placed[ref{s.Batch, s.Step}] = s
	}
	var list []Filled
	for _, b := range p.Batches {
		for _, step := range b.Steps {
			at, there := placed[ref{b.ID, step.ID}]
			if !there {
				continue
			}
			if step.Storage != "" && step.Trays > 0 {
				f := Filled{Batch: b.ID, Step: step.ID, Place: step.Storage, Amount: step.Trays,
					From: at.Start + step.HandsOnMin, To: at.Start + step.HandsOnMin + step.PassiveMin}
				for latest, i := si.Minutes(-1), 0; i < len(b.Steps); i++ {
					next, known := placed[ref{b.ID, b.Steps[i].ID}]
					if known && slices.ContainsFunc(b.Steps[i].After,
						func(a After) bool { return a.Step == step.ID }) && next.Start > latest {
						latest, f.To = next.Start, next.Start
					}
				}
				list = append(list, f)
			}
			for _, t := range step.Takes {
				f := Filled{Batch: b.ID, Step: step.ID, Tool: t.Tool, Amount: t.Count, From: at.Start,
					To: at.Start + step.HandsOnMin + step.PassiveMin}
				if until, known := placed[ref{b.ID, t.Until}]; known && t.Until != step.ID {
					f.To = until.Start + until.Hands
				}
				list = append(list, f)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b Filled) int { return cmp.Compare(a.From, b.From) })
	return slices.DeleteFunc(list, func(f Filled) bool { return f.From >= f.To })
}

// FillLevel is how much of a resource is taken from a minute on.
type FillLevel struct {
	At     si.Minutes `json:"at"`
	Amount int        `json:"amount"`
}

// FillLevels of one resource from a minute to another, counted from the first: the level there, and each change of it.
func FillLevels(filled []Filled, from, to si.Minutes) []FillLevel {
	changes := map[si.Minutes]int{}
	level := 0
	for _, f := range filled {
		if f.To <= from || f.From >= to {
			continue
		}
		if f.From <= from {
			level += f.Amount
		} else {
			changes[f.From] += f.Amount
		}
		if f.To < to {
			changes[f.To] -= f.Amount
		}
	}
	list := []FillLevel{{0, level}}
	for _, at := range slices.Sorted(maps.Keys(changes)) {
		if changes[at] != 0 {
			level += changes[at]
			list = append(list, FillLevel{at - from, level})
		}
	}
	return list
}

// NearestStart is the start closest to a wished one at which the hands of a step fit into a session in which a person,
// from 0, works, with its set-up before it; false where there is none. All are minutes.
func NearestStart(sessions []Session, person int, wished, hands, setup si.Minutes) (start si.Minutes, ok bool) {
	for _, s := range sessions {
		if s.To-s.From < hands || s.People <= person {
			continue
		}
		at := min(max(wished, s.From+setup), s.To-hands)
		if !ok || abs(at-wished) < abs(start-wished) {
			start, ok = at, true
		}
	}
	return start, ok
}

func abs(n si.Minutes) si.Minutes { return max(n, -n) }

// Moved is a step that stands elsewhere in another plan.
type Moved struct{ From, To ScheduledOperation }

// Moves are the steps of before that stand elsewhere in after, by where they stood.
func Moves(before, after *Plan) []Moved {
	at := map[ref]ScheduledOperation{}
	for _, s := range after.Steps {
		at[ref{s.Batch, s.Step}] = s
	}
	var list []Moved
	for _, s := range before.Steps {
		if now, there := at[ref{s.Batch, s.Step}]; there && (now.Start != s.Start || now.Hand != s.Hand) {
			list = append(list, Moved{s, now})
		}
	}
	slices.SortStableFunc(list, func(a, b Moved) int { return cmp.Compare(a.From.Start, b.From.Start) })
	return list
}

// Free is how many minutes of hands the sessions have beside what is taken.
func Free(sessions []Session, taken []ScheduledOperation) si.Minutes {
	var free si.Minutes
	for _, s := range sessions {
		free += (s.To - s.From) * si.Minutes(s.People)
		for _, p := range taken {
			if p.Hand < s.People {
				free -= max(0, min(p.To(), s.To)-max(p.From(), s.From))
			}
		}
	}
	return max(free, 0)
}
