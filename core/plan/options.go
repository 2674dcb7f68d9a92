package plan

import (
	"cmp"
	"slices"

	"zestytin/core/si"
)

// window of the starts of a step, by its batch and those of its steps that are placed.
func (s *inserter) window(i int) (lo, hi si.Minutes) {
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
func (s *inserter) reach(i int) si.Minutes {
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

// options for a step with a start from lo to hi: in each gap between the steps of a person the latest start, and the
// latest at which the pot is still ready.
func (s *inserter) options(i int, lo, hi si.Minutes, into []option) []option {
	t := &s.steps[i]
	if t.was.Hand >= 0 && lo <= t.was.Start && t.was.Start <= hi {
		if session := s.model.session(t.was.Start, t.was.Start+t.hands, t.was.Hand); session >= 0 {
			into = s.consider(i, session, t.was.Hand, t.was.Start, t.was.Start, into)
		}
	}
	last, _ := slices.BinarySearchFunc(s.sessions, hi+1, func(x Session,
		at si.Minutes) int {
		return cmp.Compare(x.From, at)
	})
	deferred := s.defers(t)
	s.blockedUntil = lo - 1
	for n := last - 1; n >= 0 && s.sessions[n].To > s.blockedUntil; n-- {
		if len(into) >= many && (len(t.needs) == 0 || !s.melts(n, t)) {
			continue
		}
		for hand := range s.sessions[n].People {
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
func (s *inserter) melts(session int, t *operation) bool {
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

func (s *inserter) gaps(i, session, hand int, lo, hi si.Minutes, into []option) []option {
	t := &s.steps[i]
	at := &s.sessions[session]
	list := s.lists[session]
	next := -1 // the step of the person after the gap
	lo = max(lo, s.blockedUntil+1)
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
		lo = max(lo, s.blockedUntil+1)
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
			if job := &s.batches[t.job]; at.People > 1 && (job.needsAllergenFree || job.isAllergenSource) {
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
func (s *inserter) changeAfter(next int, t *operation) si.Minutes {
	x := &s.steps[next]
	if len(t.needs) == 0 {
		return s.change[next]
	}
	var sum si.Minutes
	for _, n := range x.needs {
		if !t.uses(n.pot) { // else as long as it holds, which is found out when it is tried
			sum += n.changeover
		}
	}
	return sum
}

// warmUntil is the latest start of a step at which the pot of the person's step before it is ready; before everything
// when it is another one.
func (s *inserter) warmUntil(list []int, hand int, t *operation) si.Minutes {
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

// aside considers to be done before what others do in the session that the step must be free from, or that must be free
// from it.
func (s *inserter) aside(i, session, hand int, latest, floor si.Minutes, into []option) []option {
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
func (s *inserter) consider(i, session, hand int, start, floor si.Minutes, into []option) []option {
	t := &s.steps[i]
	s.start[i], s.session[i], s.hand[i] = start, session, hand
	ok := s.findRoom(i, floor)
	if ok {
		s.trial = s.with(append(s.trial[:0], s.lists[session]...), i)
		var total si.Minutes
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

// findRoom moves the start of a step earlier until the places and tools have room for what it decides on, and tells
// whether they do.
func (s *inserter) findRoom(i int, floor si.Minutes) bool {
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
				s.blockedUntil = max(s.blockedUntil, at) // earlier it would only be taken for longer
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

// beginning is the latest start, at or before from, of what is taken at from, such that before it there is room for the
// amount.
func (s *spans) beginning(from, to si.Minutes, amount, there int) si.Minutes {
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
