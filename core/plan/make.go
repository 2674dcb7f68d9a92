package plan

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// DefaultEffort for so many steps, in moves. It answers a peak fortnight of 60 batches and 400 steps in well under a second on one core; with fewer
// steps a move costs less, and there are more of them.
func DefaultEffort(steps int) int { return min(max(250_000/max(steps, 1), 1000), 8000) }

// Options of Make.
type Options struct {
	Effort   int                   // moves to improve the plan by; 0: DefaultEffort
	Progress func(done, total int) // told now and then; nil: nobody is told
}

// Make a plan: every batch is put where it adds least, then a large-neighbourhood search takes some batches out that have to do with each
// other and puts them back, again and again. The same problem and effort give the same plan. The error is an *invalid.Error when the problem
// makes no sense, or that of the context when it was stopped.
func Make(ctx context.Context, p *Problem, o Options) (*Plan, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	if o.Effort <= 0 {
		o.Effort = DefaultEffort(p.size())
	}
	s := newSearch(p)
	s.construct()
	if err := s.improve(ctx, o); err != nil {
		return nil, err
	}
	s.recall(&s.best)
	// A batch with a pinned step must be placed: that is worth more moves than a better plan is.
	for more := 0; more < 8 && s.best.score.Unplaced >= mustBePlaced; more++ {
		if err := s.improve(ctx, Options{Effort: max(o.Effort, 1000)}); err != nil {
			return nil, err
		}
		s.recall(&s.best)
	}
	s.polish()
	for j := range s.batches {
		if s.batches[j].pinned && !s.whole(j) {
			return nil, fault(fmt.Sprintf("batches[%d]", j), fmt.Sprintf("%s has a pinned step, and what is pinned leaves no room for the rest of it: unpin one.", p.Batches[j].ID))
		}
	}
	return s.plan(), nil
}

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
type placement struct{ step, session, hand, start int }

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
	s.insert = inserter{state: st, rnd: s.rnd, wander: 2, nodes: 48, caps: make([]int, len(st.batches)), eager: make([]bool, len(st.batches))}
	for j := range s.insert.caps {
		s.insert.caps[j] = unlimited
	}
	s.alone, s.never, s.failed = make([]bool, len(s.batches)), make([]bool, len(s.batches)), make([]int, len(s.batches))
	for j := range s.batches {
		if s.alone[j] = s.fitsAlone(j); !s.alone[j] {
			// In company it may find its pots ready.
			for _, i := range s.batches[j].steps {
				s.steps[i].changeover = 0
			}
			s.never[j] = !s.fitsAlone(j)
			for _, i := range s.batches[j].steps {
				if s.steps[i].pot >= 0 {
					s.steps[i].changeover = p.Pots[s.steps[i].pot].Changeover
				}
			}
		}
	}
	for j := range s.batches {
		s.pin(j)
	}
	return s
}

// fitsAlone tells whether a batch finds a place in an empty kitchen.
func (s *search) fitsAlone(j int) bool {
	thorough := inserter{state: s.state, wander: 6, nodes: 4000, soon: true, any: true}
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

// lift all steps of a batch out that are not pinned.
func (s *search) lift(j int) {
	for _, i := range s.batches[j].steps {
		if !s.steps[i].pinned && s.placed(i) {
			s.take(i)
		}
	}
}

// construct the first plan: pinned batches, then those with the least choice first.
func (s *search) construct() {
	order := make([]int, len(s.batches))
	slack := make([]int, len(s.batches))
	for j := range order {
		order[j] = j
		job := &s.batches[j]
		from, hands := max(job.notBefore, job.readyBy-job.keeps), 1
		for _, i := range job.steps {
			hands += s.steps[i].hands
		}
		for _, x := range s.sessions {
			slack[j] += max(0, min(x.To, job.readyBy)-max(x.From, from)) * x.Hands
		}
		slack[j] = slack[j] * 100 / hands
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := &s.batches[a], &s.batches[b]
		return cmp.Or(cmp.Compare(rank(y.pinned), rank(x.pinned)), cmp.Compare(y.worth, x.worth), cmp.Compare(slack[a], slack[b]))
	})
	s.order = order
	s.keepPrevious()
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
	s.listOut()
	s.score = s.total()
}

func rank(yes bool) int {
	if yes {
		return 1
	}
	return 0
}

// keepPrevious puts all batches where the previous plan has them, and takes those out again that can no longer be there.
func (s *search) keepPrevious() {
	if s.problem.Previous == nil {
		return
	}
	for j := range s.batches {
		if s.never[j] || slices.ContainsFunc(s.batches[j].steps, func(i int) bool {
			t := &s.steps[i]
			return t.was.Hand < 0 || !t.pinned && s.model.session(t.was.Start, t.was.Start+t.hands, t.was.Hand) < 0
		}) {
			continue
		}
		for _, i := range s.batches[j].steps {
			if t := &s.steps[i]; !t.pinned {
				s.put(i, s.model.session(t.was.Start, t.was.Start+t.hands, t.was.Hand), t.was.Hand, t.was.Start)
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
		score.Age += s.age(j)
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

// improve the plan by so many moves. A move that makes it worse is taken with a chance that falls with the loss and with time (simulated annealing).
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
			s.back()
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
	return float64(s.Unplaced)*200000 + float64(s.Setup)*400 + float64(s.Moved)*200 + float64(s.Age)
}

// move takes some batches out and puts them and all that are out back, in another order.
func (s *search) move() {
	s.picked = s.pick(s.picked[:0])
	s.undo = s.undo[:0]
	for _, j := range s.picked {
		for _, i := range s.batches[j].steps {
			if s.placed(i) && !s.steps[i].pinned {
				s.undo = append(s.undo, placement{i, s.session[i], s.hand[i], s.start[i]})
			}
		}
		s.lift(j)
	}
	s.rnd.Shuffle(len(s.out), func(a, b int) { s.out[a], s.out[b] = s.out[b], s.out[a] })
	for tries, j := range s.out {
		if tries < 2 && (s.batches[j].pinned || s.rnd.IntN(1+min(s.failed[j]/50, 3)) == 0) {
			s.picked = append(s.picked, j)
		}
	}
	s.insert.soon, s.insert.wander = s.rnd.IntN(3) == 0, 1+s.rnd.IntN(3)
	for _, j := range s.picked {
		if s.rnd.IntN(4) == 0 {
			s.insert.caps[j] = s.cap(j)
		}
		s.insert.eager[j] = s.insert.soon && s.rnd.IntN(2) == 0
	}
	if s.rnd.IntN(2) == 0 {
		dear, spread := 1<<s.rnd.IntN(9), 1<<s.rnd.IntN(9)
		s.insert.together(s.picked, dear, func() int { return s.rnd.IntN(spread) })
	}
	s.rnd.Shuffle(len(s.picked), func(a, b int) { s.picked[a], s.picked[b] = s.picked[b], s.picked[a] })
	switch s.rnd.IntN(3) {
	case 0: // the least choice first
		slices.SortStableFunc(s.picked, func(a, b int) int { return cmp.Compare(s.batches[a].readyBy, s.batches[b].readyBy) })
	case 1: // the longest first
		slices.SortStableFunc(s.picked, func(a, b int) int { return cmp.Compare(len(s.batches[b].steps), len(s.batches[a].steps)) })
	}
	for _, j := range s.picked {
		if !s.whole(j) && !s.insert.insert(j) {
			s.failed[j]++
		}
	}
	for _, j := range s.picked {
		s.insert.caps[j], s.insert.eager[j] = unlimited, false
	}
	s.listOut()
}

// cap a batch to some session that it could be made in, and leave room there for some steps of others.
func (s *search) cap(j int) int {
	b := &s.batches[j]
	n := 0
	for n < len(s.sessions) && s.sessions[n].From < b.readyBy {
		n++
	}
	if n == 0 {
		return unlimited
	}
	at := s.sessions[max(n-1-s.rnd.IntN(min(n, 6)), 0)].To
	for range s.rnd.IntN(4) {
		i := s.rnd.IntN(len(s.steps))
		at -= s.hands[i] + s.rnd.IntN(2)*s.steps[i].changeover + s.rnd.IntN(2)*s.washdown
	}
	return at
}

func (s *search) listOut() {
	s.out = s.out[:0]
	for j := range s.batches {
		if !s.never[j] && !s.whole(j) {
			s.out = append(s.out, j)
		}
	}
}

// back undoes the last move.
func (s *search) back() {
	for _, j := range s.picked {
		s.lift(j)
	}
	for _, p := range s.undo {
		s.put(p.step, p.session, p.hand, p.start)
	}
	s.listOut()
}

// pick the batches of a move: some that share a session with one, that share a pot with it, or any.
func (s *search) pick(into []int) []int {
	seed := s.rnd.IntN(len(s.batches))
	if len(s.out) > 0 && s.rnd.IntN(2) == 0 {
		seed = s.out[s.rnd.IntN(len(s.out))]
	}
	count := 1 + s.rnd.IntN(min(6, len(s.batches)))
	var near []int
	switch s.rnd.IntN(4) {
	case 0: // any
		near = s.rnd.Perm(len(s.batches))
	case 1: // whose windows overlap
		for _, j := range s.rnd.Perm(len(s.batches)) {
			a, b := &s.batches[j], &s.batches[seed]
			if overlap(max(a.notBefore, a.readyBy-a.keeps), a.readyBy, max(b.notBefore, b.readyBy-b.keeps), b.readyBy) {
				near = append(near, j)
			}
		}
	case 2: // that need a pot of the same chocolate
		i := s.batches[seed].steps[s.rnd.IntN(len(s.batches[seed].steps))]
		for _, j := range s.rnd.Perm(len(s.batches)) {
			if slices.ContainsFunc(s.batches[j].steps, func(k int) bool { return s.steps[k].pot >= 0 && s.steps[k].pot == s.steps[i].pot }) {
				near = append(near, j)
			}
		}
	default: // that share a session, or its neighbours
		i := s.batches[seed].steps[s.rnd.IntN(len(s.batches[seed].steps))]
		at := s.session[i]
		if at < 0 {
			at = s.rnd.IntN(max(len(s.sessions), 1))
		}
		for n := max(at-s.rnd.IntN(2), 0); n <= at && n < len(s.lists); n++ {
			for _, k := range s.lists[n] {
				if !slices.Contains(near, s.steps[k].job) {
					near = append(near, s.steps[k].job)
				}
			}
		}
		s.rnd.Shuffle(len(near), func(a, b int) { near[a], near[b] = near[b], near[a] })
	}
	into = append(into, seed)
	for _, j := range near {
		if len(into) >= count {
			break
		}
		if j != seed {
			into = append(into, j)
		}
	}
	return slices.DeleteFunc(into, func(j int) bool { return !s.whole(j) })
}

// polish puts single batches where they are best until nothing gets better.
func (s *search) polish() {
	s.insert.rnd, s.insert.nodes, s.insert.soon, s.insert.wander = nil, 100, true, 2
	for better, rounds := true, 0; better && rounds < 4; rounds++ {
		better = false
		for j := range s.batches {
			if s.never[j] {
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
				s.back()
			}
		}
	}
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
	s.listOut()
}

// plan as it stands.
func (s *search) plan() *Plan {
	p := &Plan{Schema: PlanSchema, Steps: []Placed{}, Unplaced: []Unplaced{}, Score: s.total()}
	for j := range s.batches {
		b := &s.problem.Batches[j]
		if !s.whole(j) {
			p.Unplaced = append(p.Unplaced, s.bottleneck(j))
			continue
		}
		for _, i := range s.batches[j].steps {
			step := &b.Steps[s.steps[i].name]
			p.Steps = append(p.Steps, Placed{Batch: b.ID, Step: step.ID, Start: s.start[i], Hand: s.hand[i], Changeover: s.change[i], Washdown: s.wash[i], Hands: step.Hands, Wait: step.Wait, Pot: step.Pot})
		}
	}
	slices.SortStableFunc(p.Steps, func(a, b Placed) int { return cmp.Or(cmp.Compare(a.Start, b.Start), cmp.Compare(a.Hand, b.Hand)) })
	return p
}
