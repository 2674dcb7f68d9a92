package plan

import (
	"slices"

	"zestytin/core/si"
)

// state is a plan that grows and shrinks, a batch at a time, and is valid whenever a batch is whole. What a step needs
// of setup depends on the steps before it in its session, so a session is worked out anew when a step comes or goes;
// places and tools are sums of spans.
type state struct {
	*model
	start   []si.Minutes // of each step; meaningless while it is not placed
	session []int        // of each step; -1: not placed
	hand    []int
	change  []si.Minutes // changeover of each placed step
	wash    []si.Minutes // washdown of each placed step
	melted  []uint64     // of its pots those that are melted for each placed step, a bit for each
	lists   [][]int
	setup   []si.Minutes // of each session
	sound   []bool       // of each session: the rules hold. Taking a step out can break them, when a later one went on in its pot
	rooms   []spans
	// loose tells which batches are under way: their steps are placed from the last to the first, and a step that could
	// go on in the pot of an earlier one that has no place yet is reckoned as if it did.
	loose  []bool
	lanes  []lane       // scratch
	washes []si.Minutes // scratch
	trial  []int        // scratch
}

func newState(m *model) *state {
	n := len(m.steps)
	st := &state{model: m, start: make([]si.Minutes, n), session: make([]int, n), hand: make([]int, n),
		change: make([]si.Minutes, n), wash: make([]si.Minutes, n), melted: make([]uint64, n),
		lists: make([][]int, len(m.sessions)), setup: make([]si.Minutes, len(m.sessions)),
		sound: make([]bool, len(m.sessions)), rooms: make([]spans, len(m.room)), loose: make([]bool, len(m.batches))}
	for i := range st.session {
		st.session[i] = -1
	}
	for i := range st.sound {
		st.sound[i] = true
	}
	most, days := 1, 1
	var zero si.Minutes
	if len(m.sessions) > 0 {
		zero = m.sessions[0].From
		days = int((m.sessions[len(m.sessions)-1].To-zero)/DayMinutes) + 1
	}
	for _, s := range m.sessions {
		most = max(most, s.People)
	}
	width := si.Minutes(DayMinutes)
	for days > 4096 {
		days, width = days/2+1, width*2
	}
	for r := range st.rooms {
		st.rooms[r] = spans{zero: zero, width: width, buckets: make([][]span, days)}
	}
	st.lanes = make([]lane, most)
	return st
}

// end of a placed step, waiting included.
func (st *state) end(i int) si.Minutes { return st.start[i] + st.steps[i].hands + st.steps[i].wait }

// placed tells whether a step is.
func (st *state) placed(i int) bool { return st.session[i] >= 0 }

// put a step where it is known to fit.
func (st *state) put(i, session, hand int, start si.Minutes) {
	st.start[i], st.session[i], st.hand[i] = start, session, hand
	st.lists[session] = st.with(st.lists[session], i)
	st.settle(session)
	for _, h := range st.steps[i].holds {
		if from, to, known := st.span(h); known {
			st.rooms[st.holds[h].resource].add(span{from, to, st.holds[h].amount, h})
		}
	}
}

// take a step out.
func (st *state) take(i int) {
	for _, h := range st.steps[i].holds {
		if from, to, known := st.span(h); known {
			st.rooms[st.holds[h].resource].remove(from, to, h)
		}
	}
	s := st.session[i]
	n := slices.Index(st.lists[s], i)
	st.lists[s] = slices.Delete(st.lists[s], n, n+1)
	st.session[i] = -1
	st.settle(s)
}

// lift all steps of a batch out that are not pinned.
func (st *state) lift(j int) {
	for _, i := range st.batches[j].steps {
		if !st.steps[i].pinned && st.placed(i) {
			st.take(i)
		}
	}
}

// settle what the steps of a session need.
func (st *state) settle(session int) {
	st.setup[session], st.sound[session] = st.reckon(session, st.lists[session], true)
}

// valid tells whether the rules hold in all sessions.
func (st *state) valid() bool { return !slices.Contains(st.sound, false) }

// with is a list of steps by start with one more.
func (st *state) with(list []int, i int) []int {
	n := len(list)
	for n > 0 && st.start[list[n-1]] > st.start[i] {
		n--
	}
	return slices.Insert(list, n, i)
}

// span of a hold, once all steps that decide on it are placed.
func (st *state) span(h int) (from, to si.Minutes, known bool) {
	x := &st.holds[h]
	if !st.placed(x.owner) {
		return 0, 0, false
	}
	from, to = st.start[x.owner], st.end(x.owner)
	if !x.tool {
		from += st.steps[x.owner].hands
	}
	for n, u := range x.until {
		if !st.placed(u) {
			return 0, 0, false
		}
		at := st.start[u]
		if x.tool {
			at += st.steps[u].hands
		}
		if n == 0 {
			to = at
		}
		to = max(to, at)
	}
	return from, to, true
}

// lane is how far a person has got in a session.
type lane struct {
	free si.Minutes // the hands are busy until then
	firm si.Minutes // the same, of steps that are not pinned
	pot  int        // the last step with a pot; -1: none
}

// reckon a session: the setup of its steps, which are sorted by their start, and whether the rules 2, 6 and 7 hold.
// With keep, what each step needs is noted. What only pinned steps break has happened (rule 9).
func (st *state) reckon(session int, list []int, keep bool) (total si.Minutes, ok bool) {
	s := st.sessions[session]
	lanes := st.lanes[:s.People]
	for h := range lanes {
		lanes[h] = lane{s.From, -unlimited, -1}
	}
	st.washes, ok = st.washes[:0], true
	for n, i := range list {
		t := &st.steps[i]
		l := &lanes[st.hand[i]]
		at, change, wash, melted := st.start[i], si.Minutes(0), si.Minutes(0), uint64(0)
		if len(t.needs) > 0 {
			change, melted = st.changeover(l.pot, t, at)
			l.pot = i
		}
		at -= change
		if st.batches[t.job].needsAllergenFree {
			needed, free := st.washdownNeeded(list, n, at)
			if full := t.changeovers(); needed && st.empties && change < full { // with the pots it is melted anew
				at -= full - change
				change, melted = full, ^uint64(0)
				needed, free = st.washdownNeeded(list, n, at)
			}
			if ok = ok && free; needed {
				wash = st.washdown
				at -= wash
				st.washes = append(st.washes, at)
			}
		}
		switch done := st.start[i] + t.hands; {
		case t.pinned:
			ok = ok && at >= l.firm
			l.free = max(l.free, done)
		default:
			ok = ok && at >= l.free && done <= s.To
			l.free, l.firm = max(l.free, done), max(l.firm, done)
		}
		if st.alone && !st.isAlone(list, n) {
			ok = false
		}
		if keep {
			st.change[i], st.wash[i], st.melted[i] = change, wash, melted
		} else if !ok {
			return 0, false
		}
		total += change + wash
	}
	return total, ok
}

// changeover of a step at its start, when the last step of the person with a pot is last, and a bit for each pot that
// is melted in it: of the pots that are not ready, and that an earlier step of its batch without a place yet could not
// have made so.
func (st *state) changeover(last int, t *operation, start si.Minutes) (minutes si.Minutes, melted uint64) {
	for k := range t.needs {
		if n := &t.needs[k]; !st.warm(last, n, start) && !st.deferred(t, n) {
			minutes, melted = minutes+n.changeover, melted|1<<k
		}
	}
	return minutes, melted
}

// changeovers of all pots of a step.
func (t *operation) changeovers() si.Minutes {
	var sum si.Minutes
	for _, n := range t.needs {
		sum += n.changeover
	}
	return sum
}

// warm tells whether a pot is still ready at a minute from the last step with one.
func (st *state) warm(last int, n *need, start si.Minutes) bool {
	return last >= 0 && st.steps[last].uses(n.pot) && start <= st.start[last]+st.hands[last]+n.holds
}

// deferred tells whether a step may still find a pot ready, since an earlier one of its batch has no place yet.
func (st *state) deferred(t *operation, n *need) bool {
	return st.loose[t.job] && !t.pinned && slices.ContainsFunc(n.earlier, func(e int) bool { return !st.placed(e) })
}

// defers tells whether it may of any of its pots.
func (st *state) defers(t *operation) bool {
	return slices.ContainsFunc(t.needs, func(n need) bool { return st.deferred(t, &n) })
}

// isAlone tells whether nothing comes between the n-th step of a session and those that it must follow alone, as far as
// they have a place. Two parts of one step, such as two chocolates of it, may both follow.
func (st *state) isAlone(list []int, n int) bool {
	i := list[n]
	t := &st.steps[i]
	for _, l := range t.before {
		if !l.alone || !st.placed(l.step) || t.pinned && st.steps[l.step].pinned {
			continue
		}
		at := slices.Index(list[:n], l.step)
		if at < 0 || st.hand[l.step] != st.hand[i] {
			return false
		}
		for _, v := range list[at+1 : n] {
			if st.hand[v] == st.hand[i] && !st.steps[v].follows(l.step) && !t.follows(v) &&
				!(t.pinned && st.steps[v].pinned) {
				return false
			}
		}
	}
	for _, l := range t.after {
		if l.alone && st.placed(l.step) && !(t.pinned && st.steps[l.step].pinned) &&
			(st.session[l.step] != st.session[i] || st.hand[l.step] != st.hand[i]) {
			return false
		}
	}
	return true
}

// follows tells whether a step must follow another alone.
func (t *operation) follows(step int) bool {
	return slices.ContainsFunc(t.before, func(l link) bool { return l.alone && l.step == step })
}

// washdownNeeded tells whether the n-th step of a session must be washed down for, right before the minute at, and
// whether it is free of overlaps with what it must be free from. Where it would depend on the reading whether a
// washdown of somebody else stands between, the answer is that it is not free.
func (st *state) washdownNeeded(list []int, n int, at si.Minutes) (needed, free bool) {
	i := list[n]
	t := &st.steps[i]
	clash := st.clash[t.job]
	start, done := st.start[i], st.start[i]+t.hands
	latest := -unlimited // when the hands of the last of what threatens it are done
	for _, v := range list[:n] {
		if !clash[st.jobs[v]] {
			continue
		}
		over := st.start[v] + st.hands[v]
		happened := t.pinned && st.steps[v].pinned
		if (st.start[v] == start || over > start) && !happened {
			return false, false
		}
		if st.start[v] == start {
			continue
		}
		cleared, unclear := false, false
		for _, w := range st.washes {
			if w >= over && w+st.washdown <= start {
				cleared, unclear = true, unclear || w+st.washdown > at
			}
		}
		if unclear && !happened {
			return false, false
		}
		if !cleared {
			needed = true
			if !happened {
				latest = max(latest, over)
			}
		}
	}
	for _, v := range list[n+1:] {
		if st.start[v] > start && st.start[v] >= done {
			break
		}
		if clash[st.jobs[v]] && !(t.pinned && st.steps[v].pinned) {
			return false, false
		}
	}
	if !needed || st.washdown == 0 {
		return false, true
	}
	w := at - st.washdown
	if latest > w {
		return true, false
	}
	for _, v := range list { // somebody else's work between this washdown and its step, or at the same time
		if v != i && st.start[v] >= at && st.start[v] <= start && st.batches[st.jobs[v]].needsAllergenFree &&
			!(t.pinned && st.steps[v].pinned) {
			return true, false
		}
	}
	return true, true
}

// span of time in which an amount of a resource is taken.
type span struct {
	from, to     si.Minutes
	amount, hold int
}

// spans of a resource, in buckets by time, so that a question looks only at what is near.
type spans struct {
	zero, width si.Minutes
	buckets     [][]span
	near        []span // scratch
}

func (s *spans) bucket(t si.Minutes) int {
	return min(max(int((t-s.zero)/s.width), 0), len(s.buckets)-1)
}

func (s *spans) add(x span) {
	if x.from < x.to {
		for b := s.bucket(x.from); b <= s.bucket(x.to-1); b++ {
			s.buckets[b] = append(s.buckets[b], x)
		}
	}
}

func (s *spans) remove(from, to si.Minutes, hold int) {
	if from < to {
		for b := s.bucket(from); b <= s.bucket(to-1); b++ {
			list := s.buckets[b]
			n := slices.IndexFunc(list, func(x span) bool { return x.hold == hold })
			list[n] = list[len(list)-1]
			s.buckets[b] = list[:len(list)-1]
		}
	}
}

// over finds the latest minute at which an amount more in [from, to) is more than there is: the start of the span that
// makes it so, or from.
func (s *spans) over(from, to si.Minutes, amount, there int) (at si.Minutes, is bool) {
	if from >= to {
		return 0, false
	}
	s.near = s.near[:0]
	sum, first := amount, s.bucket(from)
	for b, last := first, s.bucket(to-1); b <= last; b++ {
		seen := -unlimited // what began before this bucket was in the one before
		if b > first {
			seen = s.zero + si.Minutes(b)*s.width
		}
		for _, x := range s.buckets[b] {
			if x.from < to && from < x.to && x.from >= seen {
				s.near = append(s.near, x)
				sum += x.amount
			}
		}
	}
	if sum <= there {
		return 0, false
	}
	at = -unlimited
	for n := -1; n < len(s.near); n++ {
		point := from
		if n >= 0 {
			if point = s.near[n].from; point <= from {
				continue
			}
		}
		sum := amount
		for _, x := range s.near {
			if x.from <= point && point < x.to {
				sum += x.amount
			}
		}
		if sum > there {
			at, is = max(at, point), true
		}
	}
	return at, is
}
