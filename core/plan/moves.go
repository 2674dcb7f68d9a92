package plan

import (
	"cmp"
	"slices"

	"zestytin/core/si"
)

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
	s.insert.soon, s.insert.discrepancies = s.rnd.IntN(3) == 0, 1+s.rnd.IntN(3)
	for _, j := range s.picked {
		if s.rnd.IntN(4) == 0 {
			s.insert.caps[j] = s.cap(j)
		}
		s.insert.eager[j] = s.insert.soon && s.rnd.IntN(2) == 0
	}
	if s.rnd.IntN(2) == 0 {
		dear, spread := si.Minutes(1)<<s.rnd.IntN(9), 1<<s.rnd.IntN(9)
		s.insert.together(s.picked, dear, func() si.Minutes { return si.Minutes(s.rnd.IntN(spread)) })
	}
	s.rnd.Shuffle(len(s.picked), func(a, b int) { s.picked[a], s.picked[b] = s.picked[b], s.picked[a] })
	switch s.rnd.IntN(3) {
	case 0: // the least choice first
		slices.SortStableFunc(s.picked, func(a, b int) int {
			return cmp.Compare(s.batches[a].readyBy,
				s.batches[b].readyBy)
		})
	case 1: // the longest first
		slices.SortStableFunc(s.picked, func(a, b int) int {
			return cmp.Compare(len(s.batches[b].steps),
				len(s.batches[a].steps))
		})
	}
	for _, j := range s.picked {
		if !s.whole(j) && !s.insert.insert(j) {
			s.failed[j]++
		}
	}
	for _, j := range s.picked {
		s.insert.caps[j], s.insert.eager[j] = unlimited, false
	}
	s.refreshUnscheduled()
}

// cap a batch to some session that it could be made in, and leave room there for some steps of others.
func (s *search) cap(j int) si.Minutes {
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
		at -= s.hands[i] + si.Minutes(s.rnd.IntN(2))*s.steps[i].changeovers() + si.Minutes(s.rnd.IntN(2))*s.washdown
	}
	return at
}

func (s *search) refreshUnscheduled() {
	s.out = s.out[:0]
	for j := range s.batches {
		if !s.never[j] && !s.whole(j) {
			s.out = append(s.out, j)
		}
	}
}

// rollback undoes the last move.
func (s *search) rollback() {
	for _, j := range s.picked {
		s.lift(j)
	}
	for _, p := range s.undo {
		s.put(p.step, p.session, p.hand, p.start)
	}
	s.refreshUnscheduled()
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
			if slices.ContainsFunc(s.batches[j].steps, func(k int) bool {
				return slices.ContainsFunc(s.steps[i].needs, func(n need) bool { return s.steps[k].uses(n.pot) })
			}) {
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
