package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"
)

// Standing is where a step stands in the present plan.
type Standing struct {
	Start, Hand, Changeover, Washdown int
	Pinned                            bool // a person has said that it is to be then
	Done                              *int // the minute in which it was ticked; nil: it is to be done
}

// Promised is a batch that has been promised. Its steps are as they were written; At tells where each of them stands, by its id, as far as it has been planned.
type Promised struct {
	Batch
	At map[string]Standing
}

// Present is the problem of a kitchen at the minute now: the empty problem p has its sessions, places, tools and pots. What is done is pinned to when it was
// done, what a person pinned to where it was put, as long as there is such a time ahead; nothing else begins before now. Where all of it stands is the
// previous plan. Batches that were to be ready by now and are not done are left out: no plan can help them.
func Present(p Problem, now int, promised []Promised) *Problem {
	p.Schema, p.Sessions, p.Batches, p.Previous = ProblemSchema, slices.Clone(p.Sessions), nil, &Plan{Schema: PlanSchema}
	history := happened(&p, promised)
	for i := range promised {
		b := promised[i].Batch
		b.Steps = slices.Clone(b.Steps)
		b.NotBefore = max(b.NotBefore, now)
		open := false
		var stands []Placed
		for j := range b.Steps {
			step := &b.Steps[j]
			at, planned := promised[i].At[step.ID]
			if was, done := history[ref{b.ID, step.ID}]; done {
				step.Pinned = &was
				continue
			}
			open = true
			if !planned {
				continue
			}
			if at.Pinned && at.Start >= now && slices.ContainsFunc(p.Sessions, func(s Session) bool { return s.From <= at.Start && at.Start+step.Hands <= s.To && at.Hand < s.Hands }) {
				step.Pinned = &Pinned{at.Start, at.Hand}
			}
			stands = append(stands, Placed{Batch: b.ID, Step: step.ID, Start: at.Start, Hand: at.Hand, Changeover: at.Changeover, Washdown: at.Washdown, Hands: step.Hands, Wait: step.Wait, Pot: step.Pot})
		}
		if len(b.Steps) > 0 && (!open || b.ReadyBy > now) {
			p.Batches = append(p.Batches, b)
			p.Previous.Steps = append(p.Previous.Steps, stands...)
		}
	}
	if gone := gone(&p, now, promised, history); len(gone.Steps) > 0 {
		p.Batches = append(p.Batches, gone)
	}
	return &p
}

// happened is when the steps that are done were done, and by whom. A step that was ticked on its day ended then; one that was ticked on a later day is taken to have
// kept to its plan. Of several that one person ticked at once each ended when the next began. The sessions of p are widened, in the past, by what was done outside of
// them.
func happened(p *Problem, promised []Promised) map[ref]Pinned {
	type deed struct {
		of       ref
		from, to int
		hand     int
		before   int // minutes of setup
	}
	var deeds []deed
	for i := range promised {
		for _, step := range promised[i].Steps {
			at, planned := promised[i].At[step.ID]
			if !planned || at.Done == nil {
				continue
			}
			d := deed{ref{promised[i].ID, step.ID}, at.Start, at.Start + step.Hands, at.Hand, at.Changeover + at.Washdown}
			if *at.Done/DayMinutes == at.Start/DayMinutes || *at.Done < d.to {
				d.from, d.to = *at.Done-step.Hands, *at.Done
			}
			if n := slices.IndexFunc(p.Sessions, func(s Session) bool { return s.From < d.to && d.from < s.To }); n >= 0 {
				d.hand = min(d.hand, p.Sessions[n].Hands-1)
			} else {
				d.hand = 0
			}
			deeds = append(deeds, d)
		}
	}
	slices.Reverse(deeds) // of those that were ticked at once the last that is written was the last to be done
	slices.SortStableFunc(deeds, func(a, b deed) int { return cmp.Compare(b.to, a.to) })
	busy := map[int]int{} // from when on each person is
	found := map[ref]Pinned{}
	for _, d := range deeds {
		if next, seen := busy[d.hand]; seen && next < d.to {
			d.from, d.to = d.from-(d.to-next), next
		}
		d.from = max(d.from, 0)
		d.to = max(d.to, d.from)
		busy[d.hand] = d.from
		found[d.of] = Pinned{d.from, d.hand}
		p.widen(max(d.from-d.before, 0), d.to, d.hand)
	}
	return found
}

// Gone is the batch that stands for the time that has passed today: nobody can begin to melt in it any more.
const Gone = "gone"

// gone is the time between what each person did last and now, in the sessions that have begun.
func gone(p *Problem, now int, promised []Promised, history map[ref]Pinned) Batch {
	b := Batch{ID: Gone, ReadyBy: now}
	for _, s := range p.Sessions {
		if s.From >= now || s.To <= now {
			continue
		}
		for hand := range s.Hands {
			from := s.From
			for i := range promised {
				for _, step := range promised[i].Steps {
					if at, done := history[ref{promised[i].ID, step.ID}]; done && at.Hand == hand && at.Start >= s.From && at.Start < now {
						from = max(from, at.Start+step.Hands)
					}
				}
			}
			if from < now {
				b.Steps = append(b.Steps, Step{ID: fmt.Sprint(hand), Hands: now - from, Pinned: &Pinned{from, hand}})
			}
		}
	}
	return b
}

// widen the sessions so that one has a span.
func (p *Problem) widen(from, to, hand int) {
	wide := Session{from, to, hand + 1}
	p.Sessions = slices.DeleteFunc(p.Sessions, func(s Session) bool {
		if s.To < wide.From || wide.To < s.From {
			return false
		}
		wide = Session{min(wide.From, s.From), max(wide.To, s.To), max(wide.Hands, s.Hands)}
		return true
	})
	p.Sessions = append(p.Sessions, wide)
	slices.SortFunc(p.Sessions, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
}

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

// Filled is a place or a tool that is taken for a while.
type Filled struct {
	Batch, Step string
	Place       string // of the two one is given
	Tool        string
	Amount      int
	From, To    int
}

// Fill is what the steps of a plan take of places and tools, by their begin.
func Fill(p *Problem, plan *Plan) []Filled {
	placed := map[ref]Placed{}
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
			if step.Place != "" && step.Trays > 0 {
				f := Filled{Batch: b.ID, Step: step.ID, Place: step.Place, Amount: step.Trays, From: at.Start + step.Hands, To: at.Start + step.Hands + step.Wait}
				for latest, i := -1, 0; i < len(b.Steps); i++ {
					next, known := placed[ref{b.ID, b.Steps[i].ID}]
					if known && slices.ContainsFunc(b.Steps[i].After, func(a After) bool { return a.Step == step.ID }) && next.Start > latest {
						latest, f.To = next.Start, next.Start
					}
				}
				list = append(list, f)
			}
			for _, t := range step.Takes {
				f := Filled{Batch: b.ID, Step: step.ID, Tool: t.Tool, Amount: t.Count, From: at.Start, To: at.Start + step.Hands + step.Wait}
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

// Moved is a step that stands elsewhere in another plan.
type Moved struct{ From, To Placed }

// Moves are the steps of before that stand elsewhere in after, by where they stood.
func Moves(before, after *Plan) []Moved {
	at := map[ref]Placed{}
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
func Free(sessions []Session, taken []Placed) int {
	free := 0
	for _, s := range sessions {
		free += (s.To - s.From) * s.Hands
		for _, p := range taken {
			if p.Hand < s.Hands {
				free -= max(0, min(p.To(), s.To)-max(p.From(), s.From))
			}
		}
	}
	return max(free, 0)
}

// AgeOf a plan by its times alone: how long before they must be ready the batches that are wholly in it are fresh, in minutes, summed.
func AgeOf(p *Problem, plan *Plan) int {
	at := map[ref]Placed{}
	for _, s := range plan.Steps {
		at[ref{s.Batch, s.Step}] = s
	}
	age := 0
	for _, b := range p.Batches {
		last, whole, fresh := 0, true, -1
		for _, s := range b.Steps {
			x, there := at[ref{b.ID, s.ID}]
			whole = whole && there
			last = max(last, x.Start+s.Hands+s.Wait)
			if s.ID == b.FreshFrom {
				fresh = x.Start
			}
		}
		if fresh < 0 {
			fresh = last
		}
		if whole {
			age += b.ReadyBy - fresh
		}
	}
	return age
}
