package plan

import (
	"cmp"
	"slices"
	"sort"

	"zestytin/core/si"
)

// bottleneck of a batch that found no place in the plan as it stands: what would let it in, by relaxing one thing after
// the other and trying. A place or a tool is named where any amount of it would do, hands where a session that goes on
// for some minutes would, and where nothing would alone, the hands that are missing in sum.
func (s *search) bottleneck(j int) Unplaced {
	b := &s.problem.Batches[j]
	u := Unplaced{Batch: b.ID, Reason: Window, From: b.ReleaseMin, To: b.DueMin}
	var need si.Minutes
	for _, step := range b.Steps {
		need += step.HandsOnMin
	}
	if !s.alone[j] {
		u.Minutes = need
		return u
	}
	if session, minutes := s.longer(j); minutes > 0 {
		x := s.sessions[session]
		u.Reason, u.Minutes, u.From, u.To = Hands, minutes, x.From, x.To
	}
	for r := range s.room {
		amount := s.room[r]
		if !slices.ContainsFunc(s.holds, func(h hold) bool { return h.resource == r && s.steps[h.owner].job == j }) {
			continue
		}
		s.room[r] = int(unlimited)
		fits := s.insert.insert(j)
		s.room[r] = amount
		if !fits {
			continue
		}
		reason, id := Full, ""
		if r < len(s.problem.Places) {
			id = string(s.problem.Places[r].ID)
		} else {
			reason, id = Taken, string(s.problem.Tools[r-len(s.problem.Places)].ID)
		}
		from, to := s.overloadedSpan(r)
		s.lift(j)
		if u.Reason == Hands && u.Minutes <= to-from {
			continue // a few minutes of hands are less than a tray for longer
		}
		u.Reason, u.Of, u.Minutes, u.From, u.To = reason, id, to-from, from, to
	}
	if u.Reason == Window { // nothing helps alone
		from := max(b.ReleaseMin, b.DueMin-b.keeps())
		free, first, last := si.Minutes(0), b.DueMin, from
		for n, x := range s.sessions {
			lo, hi := max(x.From, from), min(x.To, b.DueMin)
			if lo >= hi {
				continue
			}
			first, last = min(first, lo), max(last, hi)
			free += (hi - lo) * si.Minutes(x.People)
			for _, i := range s.lists[n] {
				free -= max(0, min(s.start[i]+s.hands[i], hi)-max(s.start[i]-s.change[i]-s.wash[i], lo))
			}
		}
		if first > last { // no session at all
			first, last = from, b.DueMin
		}
		u.Reason, u.Minutes, u.From, u.To = Scattered, max(need-free, 1), first, last
	}
	return u
}

// longer finds the session that would have to go on for the fewest minutes to let a batch in; 0 minutes when none would
// help by a day's work.
func (s *search) longer(j int) (session int, minutes si.Minutes) {
	const most si.Minutes = 240
	b := &s.batches[j]
	for n := range s.sessions {
		x := s.sessions[n]
		if x.From >= b.readyBy || x.To <= max(b.notBefore, b.readyBy-b.keeps) {
			continue
		}
		room := most
		if n+1 < len(s.sessions) {
			room = min(room, s.sessions[n+1].From-x.To)
		}
		try := func(more si.Minutes) bool {
			s.sessions[n].To = x.To + more
			fits := s.insert.insert(j)
			if fits {
				s.lift(j)
			}
			s.sessions[n].To = x.To
			return fits
		}
		if minutes > 0 {
			room = min(room, minutes-5)
		}
		if room <= 0 || !try(room) {
			continue
		}
		fives := 1 + sort.Search(int(room-1)/5, func(n int) bool { return try(si.Minutes(5 * (n + 1))) })
		session, minutes = n, min(si.Minutes(5*fives), room)
	}
	return session, minutes
}

// overloadedSpan is when more of a resource is taken than there is.
func (s *search) overloadedSpan(r int) (from, to si.Minutes) {
	var edges []span
	for h := range s.holds {
		if a, b, known := s.span(h); known && s.holds[h].resource == r && a < b {
			edges = append(edges, span{from: a, amount: s.holds[h].amount}, span{from: b, amount: -s.holds[h].amount})
		}
	}
	slices.SortFunc(edges, func(a, b span) int {
		return cmp.Or(cmp.Compare(a.from, b.from),
			cmp.Compare(a.amount, b.amount))
	})
	sum, over := 0, false
	for _, e := range edges {
		if sum += e.amount; sum > s.room[r] && !over {
			over = true
			if from == 0 && to == 0 {
				from = e.from
			}
		} else if over && sum <= s.room[r] {
			over, to = false, e.from
		}
	}
	return from, to
}
