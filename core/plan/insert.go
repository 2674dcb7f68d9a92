package plan

import (
	"cmp"
	"math/rand/v2"
	"slices"
)

// inserter finds the best place for one batch among those that are placed: a search in depth over its steps, from the last to the first, each as late as it
// can be. At every step the cheapest places come first, and leaving the first choice is allowed a few times only.
type inserter struct {
	*state
	rnd    *rand.Rand // nil: nothing is left to chance
	caps   []int      // of each batch: when the hands of all its steps must be done, so that it does not always come as late as it can
	wander int        // how many times, in all, a choice other than the first may be taken
	eager  []bool     // of each batch: within a session it goes first, not last
	soon   bool       // consider also the earliest start in each gap, so that a place or a tool gets free for others
	any    bool       // the first place that is found will do
	nodes  int        // how many places may be tried before the best that was found is taken

	order  []int // the steps that are to be placed
	levels [][]option
	left   int
	before []int // setup of each session without the batch
	best   outcome
	found  []option // the places of best, one for each of order
	taken  []option
	spare  []option // scratch
	barred int      // no start until then has room: what waits would wait through a time that is full
}

// option is a place for a step.
type option struct {
	session, hand, start int
	setup                int // of the whole plan, more or less
	moved                int // 1 where the previous plan has it elsewhere
}

// outcome of placing a batch.
type outcome struct{ setup, moved, age int }

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
	s.descend(j, 0, 0, 0, s.wander)
	s.loose[j] = false
	if s.best.setup == unlimited {
		return false
	}
	for n, o := range s.found {
		s.put(s.order[n], o.session, o.hand, o.start)
	}
	return true
}

func (s *inserter) descend(j, depth, setup, moved, wander int) {
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
		if rank > wander || s.left <= 0 || s.any && s.best.setup < unlimited {
			return
		}
		total := outcome{setup: setup + o.setup, moved: moved + o.moved}
		if total.setup > s.best.setup {
			return
		}
		s.left--
		s.put(i, o.session, o.hand, o.start)
		s.taken = append(s.taken, o)
		if early := s.tooEarly(j); !early && !s.best.less(outcome{total.setup, total.moved, s.youngest(j)}) {
			s.descend(j, depth+1, total.setup, total.moved, wander-rank)
		}
		s.taken = s.taken[:len(s.taken)-1]
		s.take(i)
	}
}

// youngest the batch can still be, as far as its steps are placed.
func (s *inserter) youngest(j int) int {
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
	last, whole := 0, true
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
	setup := 0
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
	got := outcome{setup, moved, s.age(j)}
	if got.less(s.best) || got == s.best && s.rnd != nil && s.rnd.IntN(2) == 0 { // one is as good as the other, for this batch
		s.best = got
		s.found = append(s.found[:0], s.taken...)
	}
}

// together places the steps of several batches that have none, from the last to the first of all of them, each as late as it can be, so that they
// find room between each other. dear says how many minutes earlier a step may be for a minute of setup less; lag is how much a batch is held
// back against the others. What finds no place is left out.
func (s *inserter) together(batches []int, dear int, lag func() int) {
	type turn struct {
		job, lag int
		left     []int // steps that have no place yet, the last one last
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
				if options[n].session == options[best].session && options[n].setup <= options[best].setup && options[n].start < options[best].start {
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
func (s *state) age(j int) int {
	job := &s.batches[j]
	if job.fresh >= 0 {
		return job.readyBy - s.start[job.fresh]
	}
	last := 0
	for _, i := range job.steps {
		last = max(last, s.end(i))
	}
	return job.readyBy - last
}

// window of the starts of a step, by its batch and those of its steps that are placed.
func (s *inserter) window(i int) (lo, hi int) {
	t := &s.steps[i]
	job := &s.batches[t.job]
	takes := t.hands + t.wait
	lo, hi = job.notBefore, job.readyBy-takes
	if s.caps != nil {
		hi = min(hi, s.caps[t.job]-t.hands)
	}
	if i == job.fresh {
		lo = max(lo, job.readyBy-job.keeps)
	}
	for _, l := range t.after {
		if s.placed(l.step) {
			lo, hi = max(lo, s.start[l.step]-l.max-takes), min(hi, s.start[l.step]-l.min-takes)
		}
	}
	for _, l := range t.before {
		if s.placed(l.step) {
			lo, hi = max(lo, s.end(l.step)+l.min), min(hi, s.end(l.step)+l.max)
		} else {
			lo = max(lo, s.reach(l.step)+l.min)
		}
	}
	return lo, hi
}

// reach is the earliest end of a step that is not placed yet.
func (s *inserter) reach(i int) int {
	t := &s.steps[i]
	from := s.batches[t.job].notBefore
	for _, l := range t.before {
		if s.placed(l.step) {
			from = max(from, s.end(l.step)+l.min)
		} else {
			from = max(from, s.reach(l.step)+l.min)
		}
	}
	return from + t.hands + t.wait
}

// options for a step with a start from lo to hi: in each gap between the steps of a person the latest start, and the latest at which the pot is still ready.
func (s *inserter) options(i, lo, hi int, into []option) []option {
	t := &s.steps[i]
	if t.was.Hand >= 0 && lo <= t.was.Start && t.was.Start <= hi {
		if session := s.model.session(t.was.Start, t.was.Start+t.hands, t.was.Hand); session >= 0 {
			into = s.consider(i, session, t.was.Hand, t.was.Start, t.was.Start, into)
		}
	}
	last, _ := slices.BinarySearchFunc(s.sessions, hi+1, func(x Session, at int) int { return cmp.Compare(x.From, at) })
	deferred := s.defers(t)
	s.barred = lo - 1
	for n := last - 1; n >= 0 && s.sessions[n].To > s.barred; n-- {
		if len(into) >= many && (len(t.needs) == 0 || !s.melts(n, t)) {
			continue
		}
		for hand := range s.sessions[n].Hands {
			into = s.gaps(i, n, hand, lo, hi, into)
		}
		if len(into) >= 3*many || !deferred && enough(into) {
			break
		}
	}
	return into
}

// many options: from here on only sessions that have the chocolate of the step are looked at, and not all of these.
const many = 8

// melts tells whether somebody melts the chocolate in a session.
func (s *inserter) melts(session int, t *task) bool {
	return slices.ContainsFunc(s.lists[session], func(i int) bool {
		return slices.ContainsFunc(t.needs, func(n need) bool { return s.steps[i].uses(n.pot) })
	})
}

// enough options that need no more setup: earlier sessions have nothing better.
func enough(options []option) bool {
	free := 0
	for _, o := range options {
		if o.setup <= 0 {
			free++
		}
	}
	return free >= 3
}

func (s *inserter) gaps(i, session, hand, lo, hi int, into []option) []option {
	t := &s.steps[i]
	at := &s.sessions[session]
	list := s.lists[session]
	next := -1 // the step of the person after the gap
	lo = max(lo, s.barred+1)
	for n := len(list) - 1; n >= -1; n-- {
		if n >= 0 && s.hand[list[n]] != hand {
			continue
		}
		latest, floor := at.To-t.hands, at.From
		if next >= 0 {
			latest = s.start[next] - s.wash[next] - s.changeAfter(next, t) - t.hands
		}
		if n >= 0 {
			floor = s.start[list[n]] + s.steps[list[n]].hands
		}
		lo = max(lo, s.barred+1)
		if latest = min(latest, hi); latest >= max(floor, lo) {
			into = s.consider(i, session, hand, latest, max(floor, lo), into)
			if warm := s.warmUntil(list[:n+1], hand, t); warm < latest && warm >= max(floor, lo) {
				into = s.consider(i, session, hand, warm, max(floor, lo), into)
			}
			if s.soon {
				first := floor
				if len(t.needs) > 0 && !s.defers(t) && s.warmUntil(list[:n+1], hand, t) < floor {
					first += t.changeovers()
				}
				if first = max(first, lo); first < latest {
					into = s.consider(i, session, hand, first, first, into)
				}
			}
			if job := &s.batches[t.job]; at.Hands > 1 && (job.wary || job.feared) {
				into = s.aside(i, session, hand, latest, max(floor, lo), into)
			}
		}
		if n >= 0 {
			if next = list[n]; s.start[next] <= lo {
				break
			}
		}
	}
	return into
}

// changeAfter is the changeover that a step needs when another comes right before it.
func (s *inserter) changeAfter(next int, t *task) int {
	x := &s.steps[next]
	if len(t.needs) == 0 {
		return s.change[next]
	}
	sum := 0
	for _, n := range x.needs {
		if !t.uses(n.pot) { // else as long as it holds, which is found out when it is tried
			sum += n.changeover
		}
	}
	return sum
}

// warmUntil is the latest start of a step at which the pot of the person's step before it is ready; before everything when it is another one.
func (s *inserter) warmUntil(list []int, hand int, t *task) int {
	if len(t.needs) == 0 {
		return -unlimited
	}
	for _, v := range slices.Backward(list) {
		if s.hand[v] != hand || len(s.steps[v].needs) == 0 {
			continue
		}
		until := -unlimited
		for _, n := range t.needs {
			if !s.steps[v].uses(n.pot) {
				continue
			}
			if at := s.start[v] + s.steps[v].hands + n.holds; until == -unlimited || at < until {
				until = at
			}
		}
		return until
	}
	return -unlimited
}

// aside considers to be done before what others do in the session that the step must be free from, or that must be free from it.
func (s *inserter) aside(i, session, hand, latest, floor int, into []option) []option {
	t := &s.steps[i]
	for _, v := range s.lists[session] {
		o := s.jobs[v]
		if s.hand[v] == hand || !s.clash[t.job][o] && !s.clash[o][t.job] {
			continue
		}
		before := s.start[v] - s.wash[v] - s.change[v] - t.hands
		if !s.clash[o][t.job] {
			before = s.start[v] - t.hands
		}
		if before < latest && before >= floor {
			into = s.consider(i, session, hand, before, floor, into)
		}
	}
	return into
}

// consider a start, or the latest one before it, not before floor, at which there is room for what waits.
func (s *inserter) consider(i, session, hand, start, floor int, into []option) []option {
	t := &s.steps[i]
	s.start[i], s.session[i], s.hand[i] = start, session, hand
	ok := s.findRoom(i, floor)
	if ok {
		s.trial = s.with(append(s.trial[:0], s.lists[session]...), i)
		var total int
		if total, ok = s.reckon(session, s.trial, false); ok {
			o := option{session: session, hand: hand, start: s.start[i], setup: total - s.setup[session]}
			if t.was.Hand >= 0 && (t.was.Start != o.start || t.was.Hand != hand) {
				o.moved = 1
			}
			into = append(into, o)
		}
	}
	s.session[i] = -1
	return into
}

// findRoom moves the start of a step earlier until the places and tools have room for what it decides on, and tells whether they do.
func (s *inserter) findRoom(i, floor int) bool {
	for tries := 0; tries < 16; tries++ {
		clear := true
		for _, h := range s.steps[i].holds {
			x := &s.holds[h]
			from, to, known := s.span(h)
			if !known {
				continue
			}
			at, over := s.rooms[x.resource].over(from, to, x.amount, s.room[x.resource])
			if !over {
				continue
			}
			if x.owner == i && len(x.until) > 0 {
				if !x.tool {
					at -= s.steps[i].hands
				}
				s.barred = max(s.barred, at) // earlier it would only be taken for longer
				return false
			}
			if at <= from && x.owner != i {
				return false
			}
			if at <= from { // what is there when it begins must not have begun: end before the latest of it
				if at = s.rooms[x.resource].beginning(from, to, x.amount, s.room[x.resource]); at <= -unlimited {
					return false
				}
			}
			s.start[i] -= to - at
			clear = false
			break
		}
		if s.start[i] < floor {
			return false
		}
		if clear {
			return true
		}
	}
	return false
}

// beginning is the latest start, at or before from, of what is taken at from, such that before it there is room for the amount.
func (s *spans) beginning(from, to, amount, there int) int {
	if amount > there {
		return -unlimited
	}
	at := -unlimited
	for _, x := range s.near { // as over left it
		if x.from <= from && from < x.to {
			at = max(at, x.from)
		}
	}
	return at
}
