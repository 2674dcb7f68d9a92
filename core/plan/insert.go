package plan

import (
	"cmp"
	"math/rand/v2"
	"slices"

	"zestytin/core/si"
)

// inserter finds the best place for one batch among those that are placed: a search in depth over its steps, from the
// last to the first, each as late as it can be. At every step the cheapest places come first, and leaving the first
// choice is allowed a few times only.
type inserter struct {
	*state
	rnd           *rand.Rand   // nil: nothing is left to chance
	caps          []si.Minutes // of each batch: when the hands of all its steps must be done, so that it does not always come as late as it can
	discrepancies int          // how many times, in all, a choice other than the first may be taken
	eager         []bool       // of each batch: within a session it goes first, not last
	soon          bool         // consider also the earliest start in each gap, so that a place or a tool gets free for others
	any           bool         // the first place that is found will do
	nodes         int          // how many places may be tried before the best that was found is taken

	order        []int // the steps that are to be placed
	levels       [][]option
	left         int
	before       []si.Minutes // setup of each session without the batch
	best         outcome
	found        []option // the places of best, one for each of order
	taken        []option
	spare        []option   // scratch
	blockedUntil si.Minutes // no start until then has room: what waits would wait through a time that is full
}

// option is a place for a step.
type option struct {
	session, hand int
	start         si.Minutes
	setup         si.Minutes // of the whole plan, more or less
	moved         int        // 1 where the previous plan has it elsewhere
}

// outcome of placing a batch.
type outcome struct {
	setup, age si.Minutes
	moved      int
}

func (o outcome) less(p outcome) bool {
	return cmp.Or(cmp.Compare(o.setup, p.setup), cmp.Compare(o.moved, p.moved), cmp.Compare(o.age, p.age)) < 0
}

// insert a batch; its pinned steps are placed already. Where it finds no place nothing has changed.
func (s *inserter) insert(j int) bool {
	job := &s.batches[j]
	s.order = s.order[:0]
	for _, i := range slices.Backward(job.steps) {
		if !s.steps[i].pinned {
			s.order = append(s.order, i)
		}
	}
	for len(s.levels) < len(s.order) {
		s.levels = append(s.levels, nil)
	}
	s.left, s.found, s.taken = s.nodes, s.found[:0], s.taken[:0]
	s.best = outcome{setup: unlimited}
	s.before = append(s.before[:0], s.setup...)
	s.loose[j] = true
	s.branch(j, 0, 0, 0, s.discrepancies)
	s.loose[j] = false
	if s.best.setup == unlimited {
		return false
	}
	for n, o := range s.found {
		s.put(s.order[n], o.session, o.hand, o.start)
	}
	return true
}

func (s *inserter) branch(j, depth int, setup si.Minutes, moved, discrepancies int) {
	if depth == len(s.order) {
		s.whole(j, moved)
		return
	}
	i := s.order[depth]
	lo, hi := s.window(i)
	options := s.options(i, lo, hi, s.levels[depth][:0])
	s.levels[depth] = options
	eager := s.eager != nil && s.eager[j]
	slices.SortFunc(options, func(a, b option) int {
		sooner := cmp.Compare(b.start, a.start)
		if eager && a.session == b.session {
			sooner = -sooner
		}
		return cmp.Or(cmp.Compare(a.setup, b.setup), cmp.Compare(a.moved, b.moved), sooner, cmp.Compare(a.hand, b.hand))
	})
	if s.rnd != nil && len(options) > 1 && s.rnd.IntN(20) == 0 {
		options = options[1:] // now and then the best is not seen
	}
	for rank, o := range options {
		if rank > discrepancies || s.left <= 0 || s.any && s.best.setup < unlimited {
			return
		}
		total := outcome{setup: setup + o.setup, moved: moved + o.moved}
		if total.setup > s.best.setup {
			return
		}
		s.left--
		s.put(i, o.session, o.hand, o.start)
		s.taken = append(s.taken, o)
		if early := s.tooEarly(j); !early && !s.best.less(outcome{setup: total.setup, age: s.youngest(j),
			moved: total.moved}) {
			s.branch(j, depth+1, total.setup, total.moved, discrepancies-rank)
		}
		s.taken = s.taken[:len(s.taken)-1]
		s.take(i)
	}
}

// youngest the batch can still be, as far as its steps are placed.
func (s *inserter) youngest(j int) si.Minutes {
	job := &s.batches[j]
	if job.fresh < 0 || !s.placed(job.fresh) {
		return -unlimited
	}
	return job.readyBy - s.start[job.fresh]
}

// tooEarly tells whether a batch that is fresh from its end will not keep: its last steps are placed first.
func (s *inserter) tooEarly(j int) bool {
	job := &s.batches[j]
	if job.fresh >= 0 {
		return false
	}
	last, whole := si.Minutes(0), true
	for _, i := range job.steps {
		if s.placed(i) {
			last = max(last, s.end(i))
		} else {
			whole = false
		}
	}
	return whole && last < job.readyBy-job.keeps
}

// whole keeps the placement of a batch when it is the best so far, now that nothing of it is deferred.
func (s *inserter) whole(j, moved int) {
	s.loose[j] = false
	defer func() { s.loose[j] = true }()
	var setup si.Minutes
	for n, i := range s.order {
		at := s.session[i]
		if slices.ContainsFunc(s.order[:n], func(k int) bool { return s.session[k] == at }) {
			continue
		}
		total, ok := s.reckon(at, s.lists[at], false)
		if !ok {
			return
		}
		setup += total - s.before[at]
	}
	got := outcome{setup: setup, age: s.age(j), moved: moved}
	if got.less(s.best) || got == s.best && s.rnd != nil && s.rnd.IntN(
		2) == 0 { // one is as good as the other, for this batch
		s.best = got
		s.found = append(s.found[:0], s.taken...)
	}
}

// together places the steps of several batches that have none, from the last to the first of all of them, each as late
// as it can be, so that they find room between each other. dear says how many minutes earlier a step may be for a
// minute of setup less; lag is how much a batch is held back against the others. What finds no place is left out.
func (s *inserter) together(batches []int, dear si.Minutes, lag func() si.Minutes) {
	type turn struct {
		job  int
		lag  si.Minutes
		left []int // steps that have no place yet, the last one last
	}
	var turns []turn
	for _, j := range batches {
		t := turn{job: j, lag: lag()}
		for _, i := range s.batches[j].steps {
			if !s.placed(i) {
				t.left = append(t.left, i)
			}
		}
		s.loose[j] = true
		turns = append(turns, t)
	}
	fail := func(j int) {
		s.lift(j)
		s.loose[j] = false
	}
	for {
		next, step, latest := -1, 0, -unlimited
		for n := range turns {
			for k, i := range turns[n].left {
				if slices.ContainsFunc(s.steps[i].after, func(l link) bool { return !s.placed(l.step) }) {
					continue
				}
				if _, hi := s.window(i); hi-turns[n].lag > latest {
					next, step, latest = n, k, hi-turns[n].lag
				}
			}
		}
		if next < 0 {
			break
		}
		t := &turns[next]
		i := t.left[step]
		lo, hi := s.window(i)
		options := s.options(i, lo, hi, s.spare[:0])
		s.spare = options
		best := -1
		for n := range options {
			if best < 0 || options[n].start-dear*options[n].setup > options[best].start-dear*options[best].setup {
				best = n
			}
		}
		if best < 0 {
			fail(t.job)
			turns = slices.Delete(turns, next, next+1)
			continue
		}
		if s.eager != nil && s.eager[t.job] {
			for n := range options {
				if options[n].session == options[best].session && options[n].setup <= options[best].setup &&
					options[n].start < options[best].start {
					best = n
				}
			}
		}
		s.put(i, options[best].session, options[best].hand, options[best].start)
		t.left = slices.Delete(t.left, step, step+1)
		if s.tooEarly(t.job) {
			fail(t.job)
			turns = slices.Delete(turns, next, next+1)
		}
	}
	// What was counted on to be in a pot already must be now.
	for _, t := range turns {
		s.loose[t.job] = false
		for _, i := range s.batches[t.job].steps {
			s.settle(s.session[i])
		}
	}
	for _, t := range turns {
		if slices.ContainsFunc(s.batches[t.job].steps, func(i int) bool { return !s.sound[s.session[i]] }) {
			fail(t.job)
		}
	}
}

// age of a placed batch.
func (s *state) age(j int) si.Minutes {
	job := &s.batches[j]
	if job.fresh >= 0 {
		return job.readyBy - s.start[job.fresh]
	}
	var last si.Minutes
	for _, i := range job.steps {
		last = max(last, s.end(i))
	}
	return job.readyBy - last
}
