package plan

import (
	"cmp"
	"fmt"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Scheduled is where a step stands in the present plan.
type Scheduled struct {
	Start                si.Minutes
	Hand                 int
	Changeover, Washdown si.Minutes
	Melts                []ident.Pot
	Pinned               bool        // a person has said that it is to be then
	Done                 *si.Minutes // the minute in which it was ticked; nil: it is to be done
}

// CommittedBatch is a batch that has been promised. Its steps are as they were written; At tells where each of them
// stands, by its id, as far as it has been planned.
type CommittedBatch struct {
	Batch
	At map[ident.Step]Scheduled
}

// CurrentProblem is the problem of a kitchen at the minute now: the empty problem p has its sessions, places, tools and
// pots. What is done is pinned to when it was done, what a person pinned to where it was put, as long as there is such
// a time ahead; nothing else begins before now. Where all of it stands is the previous plan. Of batches that were to be
// ready by now and are not done only what is done is left: no plan can help the rest.
func CurrentProblem(p Problem, now si.Minutes, promised []CommittedBatch) *Problem {
	p.Schema, p.Sessions, p.Batches, p.Previous = ProblemSchema, slices.Clone(p.Sessions), nil,
		&Plan{Schema: PlanSchema}
	history := happened(&p, promised)
	for i := range promised {
		b := promised[i].Batch
		b.Steps = slices.Clone(b.Steps)
		b.ReleaseMin = max(b.ReleaseMin, now)
		open := false
		var stands []ScheduledOperation
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
			if at.Pinned && at.Start >= now && slices.ContainsFunc(p.Sessions, func(s Session) bool {
				return s.From <= at.Start && at.Start+step.HandsOnMin <= s.To && at.Hand < s.People
			}) {
				step.Pinned = &Pinned{at.Start, at.Hand}
			}
			stands = append(stands, ScheduledOperation{Batch: b.ID, Step: step.ID, Start: at.Start, Hand: at.Hand,
				Changeover: at.Changeover, Washdown: at.Washdown, Melts: at.Melts, Hands: step.HandsOnMin,
				Wait: step.PassiveMin, Pots: p.uses(step)})
		}
		if len(b.Steps) > 0 && (!open || b.DueMin > now) {
			p.Batches = append(p.Batches, b)
			p.Previous.Steps = append(p.Previous.Steps, stands...)
		} else if past := past(doneOf(b, history)); len(past.Steps) > 0 {
			p.Batches = append(p.Batches, past)
		}
	}
	if gone := gone(&p, now); len(gone.Steps) > 0 {
		p.Batches = append(p.Batches, gone)
	}
	return &p
}

// doneOf a batch has only the pins of what is done.
func doneOf(b Batch, history map[ref]Pinned) Batch {
	b.Steps = slices.Clone(b.Steps)
	for i := range b.Steps {
		if _, done := history[ref{b.ID, b.Steps[i].ID}]; !done {
			b.Steps[i].Pinned = nil
		}
	}
	return b
}

// happened is when the steps that are done were done, and by whom. A step that was ticked on its day ended then; one
// that was ticked on a later day is taken to have kept to its plan. Of several that one person ticked at once each
// ended when the next began. The sessions of p are widened, in the past, by what was done outside of them.
func happened(p *Problem, promised []CommittedBatch) map[ref]Pinned {
	type deed struct {
		of       ref
		from, to si.Minutes
		hand     int
		before   si.Minutes // minutes of setup
	}
	var deeds []deed
	for i := range promised {
		for _, step := range promised[i].Steps {
			at, planned := promised[i].At[step.ID]
			if !planned || at.Done == nil {
				continue
			}
			d := deed{ref{promised[i].ID, step.ID}, at.Start, at.Start + step.HandsOnMin, at.Hand,
				at.Changeover + at.Washdown}
			if *at.Done/DayMinutes == at.Start/DayMinutes || *at.Done < d.to {
				d.from, d.to = *at.Done-step.HandsOnMin, *at.Done
			}
			if n := slices.IndexFunc(p.Sessions, func(s Session) bool {
				return s.From < d.to &&
					d.from < s.To
			}); n >= 0 {
				d.hand = min(d.hand, p.Sessions[n].People-1)
			} else {
				d.hand = 0
			}
			deeds = append(deeds, d)
		}
	}
	slices.Reverse(deeds) // of those that were ticked at once the last that is written was the last to be done
	slices.SortStableFunc(deeds, func(a, b deed) int { return cmp.Compare(b.to, a.to) })
	busy := map[int]si.Minutes{} // from when on each person is
	found := map[ref]Pinned{}
	for _, d := range deeds {
		if next, seen := busy[d.hand]; seen && next < d.to {
			d.from, d.to = d.from-(d.to-next), next
		}
		d.from = max(d.from, 0)
		d.to = max(d.to, d.from)
		busy[d.hand] = d.from
		found[d.of] = Pinned{d.from, d.hand}
		p.Widen(max(d.from-d.before, 0), d.to, d.hand)
	}
	return found
}

// Gone is the batch that stands for the time that has passed today: nobody can begin to melt in it any more.
const Gone = "gone"

// gone is the time between what each person did last and now, in the sessions that have begun.
func gone(p *Problem, now si.Minutes) Batch {
	b := Batch{ID: Gone, DueMin: now}
	for _, s := range p.Sessions {
		if s.From >= now || s.To <= now {
			continue
		}
		for hand := range s.People {
			from := s.From
			for _, other := range p.Batches {
				for _, step := range other.Steps {
					if at := step.Pinned; at != nil && at.Hand == hand && at.Start >= s.From && at.Start < now {
						from = max(from, at.Start+step.HandsOnMin)
					}
				}
			}
			if from < now {
				b.Steps = append(b.Steps, Operation{ID: ident.Step(fmt.Sprint(hand)), HandsOnMin: now - from,
					Pinned: &Pinned{from, hand}})
			}
		}
	}
	return b
}

// Widen the sessions so that one has a span for a person.
func (p *Problem) Widen(from, to si.Minutes, hand int) {
	wide := Session{from, to, hand + 1}
	p.Sessions = slices.DeleteFunc(p.Sessions, func(s Session) bool {
		if s.To < wide.From || wide.To < s.From {
			return false
		}
		wide = Session{min(wide.From, s.From), max(wide.To, s.To), max(wide.People, s.People)}
		return true
	})
	p.Sessions = append(p.Sessions, wide)
	slices.SortFunc(p.Sessions, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
}
