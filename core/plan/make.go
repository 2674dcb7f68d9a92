package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"zestytin/core/reason"
	"zestytin/core/si"
)

// DefaultEffort for so many steps, in moves. It answers a peak fortnight of 60 batches and 400 steps in well under a
// second on one core; with fewer steps a move costs less, and there are more of them.
func DefaultEffort(steps int) int { return min(max(250_000/max(steps, 1), 800), 8000) }

// Options of Make.
type Options struct {
	Effort   int                   // moves to improve the plan by; 0: DefaultEffort; Rough: none where all finds room without
	Calm     int                   // moves where all finds room at once; with no more than that only what is new is polished. 0: as many as otherwise, and all
	Progress func(done, total int) // told now and then; nil: nobody is told
	From     *Plan                 // to begin from, of a problem that is much the same; nil: from the problem's previous plan
}

// Rough is the effort where whether all finds room is all that is asked.
const Rough = -1

// Make a plan: every batch is put where it adds least, then a large-neighbourhood search takes some batches out that
// have to do with each other and puts them back, again and again. The same problem and effort give the same plan. The
// error is an *invalid.Error when the problem makes no sense, or that of the context when it was stopped.
func Make(ctx context.Context, p *Problem, o Options) (*Plan, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	made, stuck, err := p.planned(ctx, o, 8)
	if err == nil && stuck >= 0 {
		err = fault(fmt.Sprintf("batches[%d]", stuck), reason.Of("plan.has-pinned-step-and-what",
			reason.Name(p.Batches[stuck].ID)))
	}
	if err != nil {
		return nil, err
	}
	return made, nil
}

// planned is a plan of a problem that makes sense, or a batch that what is pinned leaves no room for, though it has a
// pinned step itself and must be placed: that is worth as many more searches as tries says.
func (p *Problem) planned(ctx context.Context, o Options, tries int) (made *Plan, stuck int, err error) {
	s := newSearch(p)
	s.construct(cmp.Or(o.From, p.Previous))
	if o.Effort == Rough {
		return s.rough(ctx)
	}
	if o.Effort <= 0 {
		o.Effort = DefaultEffort(p.Size())
	}
	calm := o.Calm > 0 && p.Previous != nil && (len(s.out) == 0 || o.Effort <= o.Calm)
	if calm {
		o.Effort = min(o.Effort, o.Calm)
	}
	if err := s.improve(ctx, o); err != nil {
		return nil, -1, err
	}
	s.recall(&s.best)
	for more := 0; more < tries && s.best.score.Unplaced >= mustBePlaced; more++ {
		if err := s.improve(ctx, Options{Effort: max(o.Effort, 1000)}); err != nil {
			return nil, -1, err
		}
		s.recall(&s.best)
	}
	s.polish(calm)
	s.gather()
	for j := range s.batches {
		if s.batches[j].pinned && !s.whole(j) {
			return nil, j, nil
		}
	}
	return s.plan(), -1, nil
}

// rough is a plan that is looked for only until all has room.
func (s *search) rough(ctx context.Context) (*Plan, int, error) {
	const few = 8
	for done := 0; done < QuickEffort(s.problem.Size()) && s.mayFit(); done += few {
		if err := s.improve(ctx, Options{Effort: few}); err != nil {
			return nil, -1, err
		}
		s.recall(&s.best)
	}
	return s.plan(), -1, nil
}

// mayFit tells whether something new is out that could be in.
func (s *search) mayFit() bool {
	for j := range s.batches {
		if !s.whole(j) && !s.never[j] && !s.wasPlanned(j) {
			return true
		}
	}
	return false
}

// construct the first plan: pinned batches, then those with the least choice first.
func (s *search) construct(from *Plan) {
	order := make([]int, len(s.batches))
	slack := make([]int, len(s.batches))
	for j := range order {
		order[j] = j
		job := &s.batches[j]
		from, hands := max(job.notBefore, job.readyBy-job.keeps), si.Minutes(1)
		for _, i := range job.steps {
			hands += s.steps[i].hands
		}
		for _, x := range s.sessions {
			slack[j] += int(max(0, min(x.To, job.readyBy)-max(x.From, from)) * si.Minutes(x.People))
		}
		slack[j] = slack[j] * 100 / int(hands)
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := &s.batches[a], &s.batches[b]
		return cmp.Or(cmp.Compare(rank(y.pinned), rank(x.pinned)), cmp.Compare(y.worth, x.worth),
			cmp.Compare(slack[a], slack[b]))
	})
	s.order = order
	s.begin(from)
	s.build()
	s.best = s.remember()
}

// build places what is not placed, one batch after the other.
func (s *search) build() {
	s.insert.nodes = 400
	for _, j := range s.order {
		if !s.never[j] && !s.whole(j) {
			s.insert.insert(j)
		}
	}
	s.insert.nodes = 48
	s.refreshUnscheduled()
	s.score = s.total()
}

func rank(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// begin with all batches where a plan has them, but for those that cannot be there.
func (s *search) begin(from *Plan) {
	if from == nil {
		return
	}
	stands := make(map[ref]Pinned, len(from.Steps))
	for _, v := range from.Steps {
		stands[ref{v.Batch, v.Step}] = Pinned{v.Start, v.Hand}
	}
	for j := range s.batches {
		b := &s.problem.Batches[j]
		at := make([]Pinned, len(b.Steps))
		there := !s.never[j] && !slices.ContainsFunc(s.batches[j].steps, func(i int) bool {
			t := &s.steps[i]
			was, known := stands[ref{b.ID, b.Steps[t.name].ID}]
			at[t.name] = was
			return !t.pinned && (!known || s.model.session(was.Start, was.Start+t.hands, was.Hand) < 0)
		})
		for _, i := range s.batches[j].steps {
			if t := &s.steps[i]; there && !t.pinned {
				was := at[t.name]
				s.put(i, s.model.session(was.Start, was.Start+t.hands, was.Hand), was.Hand, was.Start)
			}
		}
	}
	for j := range s.batches {
		if s.whole(j) && !s.inPlace(j) {
			s.lift(j)
		}
	}
	for n := range s.sessions {
		for _, i := range slices.Backward(slices.Clone(s.lists[n])) {
			if s.sound[n] {
				break
			}
			s.lift(s.jobs[i])
		}
	}
	for j := range s.batches { // what a pot was warm for may be gone with another
		if slices.ContainsFunc(s.batches[j].steps, func(i int) bool { return s.placed(i) && !s.sound[s.session[i]] }) {
			s.lift(j)
		}
	}
}

// inPlace tells whether the steps of a batch keep to its window, to each other, and to the room that there is.
func (s *search) inPlace(j int) bool {
	for _, i := range s.batches[j].steps {
		if s.steps[i].pinned {
			continue
		}
		if lo, hi := s.insert.window(i); s.start[i] < lo || s.start[i] > hi {
			return false
		}
		for _, h := range s.steps[i].holds {
			from, to, _ := s.span(h)
			if _, over := s.rooms[s.holds[h].resource].over(from, to, 0, s.room[s.holds[h].resource]); over {
				return false
			}
		}
	}
	return !s.insert.tooEarly(j)
}

// plan as it stands.
func (s *search) plan() *Plan {
	p := &Plan{Schema: s.problem.planSchema(), Steps: []ScheduledOperation{}, Unplaced: []Unplaced{}, Score: s.total()}
	for j := range s.batches {
		b := &s.problem.Batches[j]
		if !s.whole(j) {
			u := s.bottleneck(j)
			if s.problem.first() {
				u.withCause()
			}
			p.Unplaced = append(p.Unplaced, u)
			continue
		}
		for _, i := range s.batches[j].steps {
			step := &b.Steps[s.steps[i].name]
			placed := ScheduledOperation{Batch: b.ID, Step: step.ID, Start: s.start[i], Hand: s.hand[i],
				Changeover: s.change[i], Washdown: s.wash[i], Hands: step.HandsOnMin, Wait: step.PassiveMin,
				Pots: s.problem.uses(step)}
			if !s.problem.first() {
				for k, u := range placed.Pots {
					if s.melted[i]&(1<<k) != 0 {
						placed.Melts = append(placed.Melts, u.Pot)
					}
				}
			}
			p.Steps = append(p.Steps, placed)
		}
	}
	slices.SortStableFunc(p.Steps, func(a, b ScheduledOperation) int {
		return cmp.Or(cmp.Compare(a.Start, b.Start), cmp.Compare(a.Hand, b.Hand))
	})
	return p
}
