package plan

import (
	"cmp"
	"context"
	"math"
	"math/rand/v2"
	"slices"

	"zestytin/core/si"
)

// search is the state with what the moves and their acceptance need.
type search struct {
	*state
	insert inserter
	rnd    *rand.Rand
	order  []int  // batches, those with the least choice first
	out    []int  // batches that are not placed and could be
	alone  []bool // batches that find a place in an empty kitchen
	never  []bool // batches that would not, were all pots ready
	failed []int  // how often a batch found no place: it is tried less then
	best   snapshot
	score  Score
	undo   []placement
	picked []int // scratch
}

// placement of a step.
type placement struct {
	step, session, hand int
	start               si.Minutes
}

// snapshot of a whole plan.
type snapshot struct {
	score Score
	steps []placement
}

// seed of what is left to chance: the same problem and effort give the same plan.
const seed = 1

func newSearch(p *Problem) *search {
	st := newState(compile(p))
	s := &search{state: st, rnd: rand.New(rand.NewPCG(seed, uint64(len(st.steps))))}
	s.insert = inserter{state: st, rnd: s.rnd, discrepancies: 2, nodes: 48, caps: make([]si.Minutes, len(st.batches)),
		eager: make([]bool, len(st.batches))}
	for j := range s.insert.caps {
		s.insert.caps[j] = unlimited
	}
	s.alone, s.never, s.failed = make([]bool, len(s.batches)), make([]bool, len(s.batches)), make([]int, len(s.batches))
	for j := range s.batches {
		if s.alone[j] = s.wasPlanned(j) || s.fitsAlone(j); !s.alone[j] {
			// In company it may find its pots ready.
			var changeovers []si.Minutes
			for _, i := range s.batches[j].steps {
				for k := range s.steps[i].needs {
					n := &s.steps[i].needs[k]
					changeovers, n.changeover = append(changeovers, n.changeover), 0
				}
			}
			s.never[j] = !s.fitsAlone(j)
			for _, i := range s.batches[j].steps {
				for k := range s.steps[i].needs {
					s.steps[i].needs[k].changeover, changeovers = changeovers[0], changeovers[1:]
				}
			}
		}
	}
	for j := range s.batches {
		s.pin(j)
	}
	return s
}

// wasPlanned tells whether the previous plan has all of a batch: then it is taken to fit, as it did.
func (s *search) wasPlanned(j int) bool {
	return !slices.ContainsFunc(s.batches[j].steps, func(i int) bool {
		return s.steps[i].was.Hand < 0 &&
			!s.steps[i].pinned
	})
}

// fitsAlone tells whether a batch finds a place in an empty kitchen.
func (s *search) fitsAlone(j int) bool {
	thorough := inserter{state: s.state, discrepancies: 6, nodes: 4000, soon: true, any: true}
	s.pin(j)
	fits := thorough.insert(j)
	s.lift(j)
	s.unpin(j)
	return fits
}

// pin the pinned steps of a batch to their places.
func (s *search) pin(j int) {
	for _, i := range s.batches[j].steps {
		if t := &s.steps[i]; t.pinned {
			s.put(i, s.model.session(t.pin.Start, t.pin.Start+t.hands, t.pin.Hand), t.pin.Hand, t.pin.Start)
		}
	}
}

func (s *search) unpin(j int) {
	for _, i := range s.batches[j].steps {
		if s.steps[i].pinned {
			s.take(i)
		}
	}
}

// whole tells whether all steps of a batch are placed.
func (s *search) whole(j int) bool {
	return !slices.ContainsFunc(s.batches[j].steps, func(i int) bool { return !s.placed(i) })
}

// total is the score of the plan as it stands.
func (s *search) total() Score {
	var score Score
	for _, x := range s.setup {
		score.Setup += x
	}
	for j := range s.batches {
		if !s.whole(j) {
			score.Unplaced += s.batches[j].worth
			if s.batches[j].pinned {
				score.Unplaced += mustBePlaced
			}
			continue
		}
		score.AgeAtHandover += s.age(j)
		for _, i := range s.batches[j].steps {
			if t := &s.steps[i]; t.was.Hand >= 0 && (t.was.Start != s.start[i] || t.was.Hand != s.hand[i]) {
				score.Moved++
			}
		}
	}
	return score
}

// mustBePlaced is more than all other batches can be worth.
const mustBePlaced = 1 << 40

// improve the plan by so many moves. A move that makes it worse is taken with a chance that falls with the loss and
// with time (simulated annealing).
func (s *search) improve(ctx context.Context, o Options) error {
	if len(s.batches) == 0 {
		return nil
	}
	again := snapshot{score: Score{Unplaced: math.MaxInt}}
	for n := range o.Effort {
		if n == o.Effort/3 && s.problem.Previous == nil { // a second try, from the beginning
			again = s.best
			for j := range s.batches {
				s.lift(j)
			}
			s.build()
			s.best = s.remember()
		}
		if n%64 == 0 {
			if err := ctx.Err(); err != nil {
				return err
			}
			if o.Progress != nil {
				o.Progress(n, o.Effort)
			}
		}
		if n == o.Effort*2/3 { // what remains improves the better one, with losses that hardly matter
			if again.score.Less(s.best.score) {
				s.best = again
			}
			s.recall(&s.best)
			s.score = s.best.score
		}
		heat := cold
		if third := o.Effort/3 + 1; n < 2*o.Effort/3 {
			heat = hot * math.Pow(cold/hot, float64(n%third)/float64(third))
		}
		s.move()
		score := s.total()
		loss := weigh(score) - weigh(s.score)
		if !s.valid() || loss > 0 && s.rnd.Float64() >= math.Exp(-loss/heat) {
			s.rollback()
			continue
		}
		if s.score = score; score.Less(s.best.score) {
			s.best = s.remember()
		}
	}
	return nil
}

// The heat at the begin and at the end, in minutes of age.
const (
	hot  = 500.0
	cold = 8.0
)

// weigh a score in minutes of age, for the acceptance alone: what is best is decided by Score.Less.
func weigh(s Score) float64 {
	return float64(s.Unplaced)*200000 + float64(s.Setup)*400 + float64(s.Moved)*200 + float64(s.AgeAtHandover)
}

// polish puts single batches where they are best until nothing gets better; only those that were not planned before,
// where that is asked.
func (s *search) polish(fresh bool) {
	s.insert.rnd, s.insert.nodes, s.insert.soon, s.insert.discrepancies = nil, 100, true, 2
	for better, rounds := true, 0; better && rounds < 4; rounds++ {
		better = false
		for j := range s.batches {
			if s.never[j] || fresh && s.wasPlanned(j) {
				continue
			}
			before := s.total()
			s.picked, s.undo = append(s.picked[:0], j), s.undo[:0]
			for _, i := range s.batches[j].steps {
				if s.placed(i) && !s.steps[i].pinned {
					s.undo = append(s.undo, placement{i, s.session[i], s.hand[i], s.start[i]})
				}
			}
			s.lift(j)
			s.insert.insert(j)
			if s.valid() && s.total().Less(before) {
				better = true
			} else {
				s.rollback()
			}
		}
	}
}

// gather the steps of a batch around the one that decides on its freshness, where that costs nothing: what comes after
// it is not left for the end of an evening, and what comes before it is not done days ahead.
func (s *search) gather() {
	score := s.total()
	var before, after []int
	for i := range s.steps {
		t, fresh := &s.steps[i], s.batches[s.jobs[i]].fresh
		if !s.placed(i) || t.pinned || fresh < 0 || i == fresh || t.was.Hand >= 0 && t.was.Start == s.start[i] &&
			t.was.Hand == s.hand[i] {
			continue
		}
		if s.start[i] > s.start[fresh] {
			after = append(after, i)
		} else {
			before = append(before, i)
		}
	}
	slices.SortStableFunc(before, func(a, b int) int { return cmp.Compare(s.start[b], s.start[a]) })
	slices.SortStableFunc(after, func(a, b int) int { return cmp.Compare(s.start[a], s.start[b]) })
	for _, i := range before {
		s.shift(i, 1, &score)
	}
	for _, i := range after {
		s.shift(i, -1, &score)
	}
}

// shift a step to the earliest (toward -1) or the latest (toward 1) time at which the plan is as good as it is.
func (s *search) shift(i, toward int, score *Score) {
	was := placement{i, s.session[i], s.hand[i], s.start[i]}
	lo, hi := s.insert.window(i)
	var starts []placement
	for n := was.session; n >= 0 && n < len(s.sessions) && s.sessions[n].To > lo &&
		s.sessions[n].From <= hi; n += toward {
		starts = s.startsIn(i, n, lo, hi, toward, starts)
	}
	slices.SortStableFunc(starts, func(a, b placement) int {
		return cmp.Or(toward*cmp.Compare(b.start, a.start), cmp.Compare(rank(a.hand != was.hand),
			rank(b.hand != was.hand)))
	})
	for _, at := range starts {
		if si.Minutes(toward)*at.start <= si.Minutes(toward)*was.start {
			return
		}
		s.take(i)
		s.put(i, at.session, at.hand, at.start)
		if s.valid() && s.inPlace(s.jobs[i]) && !score.Less(s.total()) {
			*score = s.total()
			return
		}
		s.take(i)
		s.put(i, was.session, was.hand, was.start)
	}
}

// startsIn a session that a step could have: as soon as it may or right after what else somebody does, or as late as it
// may or right before.
func (s *search) startsIn(i, session int, lo, hi si.Minutes, toward int, into []placement) []placement {
	x, hands, setup := s.sessions[session], s.steps[i].hands, s.change[i]+s.wash[i]
	hi = min(hi, x.To-hands)
	at := func(hand int, start si.Minutes) {
		if start >= max(lo, x.From) && start <= hi {
			into = append(into, placement{i, session, hand, start})
		}
	}
	for hand := range x.People {
		if toward < 0 {
			at(hand, max(lo, x.From+setup))
		} else {
			at(hand, hi)
		}
		for _, other := range s.lists[session] {
			switch {
			case s.hand[other] != hand || other == i:
			case toward < 0:
				end := s.start[other] + s.steps[other].hands
				at(hand, end)
				at(hand, end+setup)
			default:
				at(hand, s.start[other]-s.change[other]-s.wash[other]-hands)
			}
		}
	}
	return into
}

func (s *search) remember() snapshot {
	snap := snapshot{score: s.total()}
	for i := range s.steps {
		if s.placed(i) && !s.steps[i].pinned {
			snap.steps = append(snap.steps, placement{i, s.session[i], s.hand[i], s.start[i]})
		}
	}
	return snap
}

func (s *search) recall(snap *snapshot) {
	for j := range s.batches {
		s.lift(j)
	}
	for _, p := range snap.steps {
		s.put(p.step, p.session, p.hand, p.start)
	}
	s.refreshUnscheduled()
}
