package plan

import (
	"cmp"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// model is a problem made ready for the search: names are numbers, and what follows from the problem alone is worked
// out once.
type model struct {
	problem  *Problem
	sessions []Session // by start
	washdown si.Minutes
	empties  bool // a washdown empties the pots
	alone    bool // something must follow with nothing between
	batches  []batch
	steps    []operation
	jobs     []int // of each step, and its hands: what is asked most often lies together
	hands    []si.Minutes
	holds    []hold
	room     []int    // how much there is of each resource: the places, then the tools
	clash    [][]bool // clash[f][c]: c contains what f must be free from
}

// batch is a batch.
type batch struct {
	steps             []int // in an order that respects after
	worth             int
	notBefore         si.Minutes
	readyBy           si.Minutes
	keeps             si.Minutes
	fresh             int // step whose start makes it fresh; -1: the end of the one that ends last
	pinned            bool
	needsAllergenFree bool // something contains what it must be free from
	isAllergenSource  bool // it contains what something must be free from
}

// operation is a step.
type operation struct {
	job         int
	name        int // index in its batch
	hands, wait si.Minutes
	needs       []need
	before      []link
	after       []link
	holds       []int // that this step decides on
	pinned      bool
	pin         Pinned
	was         Pinned // where the previous plan has it; Hand is -1 where it does not say
}

// need of a pot that must be ready.
type need struct {
	pot        int
	changeover si.Minutes
	holds      si.Minutes // how long after its last use it still is
	earlier    []int      // all steps of the batch that come before with the same pot
}

// uses tells whether a step needs a pot.
func (t *operation) uses(pot int) bool {
	return slices.ContainsFunc(t.needs, func(n need) bool { return n.pot == pot })
}

// link to a step that comes directly before or after: min and max minutes from the end of the one to the start of the
// other.
type link struct {
	step     int
	min, max si.Minutes
	alone    bool
}

// unlimited minutes.
const unlimited si.Minutes = 1 << 40

// hold takes an amount of a resource from when owner's hands begin (a tool) or end (a place) until the latest start of
// the steps in until (a place), until the hands of the one step in until are done (a tool), or until owner's own end
// where there is none.
type hold struct {
	resource int
	amount   int
	owner    int
	until    []int
	tool     bool
	pinned   bool // all steps that decide on it are
}

func compile(p *Problem) *model {
	m := &model{problem: p, washdown: p.Washdown, empties: !p.first(), sessions: slices.Clone(p.Sessions)}
	slices.SortFunc(m.sessions, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
	places, tools, pots := map[ident.Spot]int{}, map[ident.Mould]int{}, map[ident.Pot]int{}
	for _, x := range p.Places {
		places[x.ID] = len(m.room)
		m.room = append(m.room, x.Trays)
	}
	for _, x := range p.Tools {
		tools[x.ID] = len(m.room)
		m.room = append(m.room, x.Count)
	}
	was := map[ref]Pinned{}
	if p.Previous != nil {
		for _, s := range p.Previous.Steps {
			was[ref{s.Batch, s.Step}] = Pinned{s.Start, s.Hand}
		}
	}
	for n := range p.Batches {
		m.addJob(&p.Batches[n], places, tools, pots, was)
	}
	m.clash = make([][]bool, len(m.batches))
	for f := range m.batches {
		m.clash[f] = make([]bool, len(m.batches))
		for c := range m.batches {
			if allergensConflict(&p.Batches[f], &p.Batches[c]) {
				m.clash[f][c] = true
				m.batches[f].needsAllergenFree, m.batches[c].isAllergenSource = true, true
			}
		}
	}
	return m
}

func (m *model) addJob(b *Batch, places map[ident.Spot]int, tools map[ident.Mould]int, pots map[ident.Pot]int,
	was map[ref]Pinned) {
	first := len(m.steps)
	index := map[ident.Step]int{}
	for i, s := range b.Steps {
		index[s.ID] = first + i
	}
	j := batch{worth: b.Penalty, notBefore: b.ReleaseMin, readyBy: b.DueMin, keeps: b.keeps(), fresh: -1}
	if b.FreshFrom != "" {
		j.fresh = index[b.FreshFrom]
	}
	for i, s := range b.Steps {
		t := operation{job: len(m.batches), name: i, hands: s.HandsOnMin, wait: s.PassiveMin, was: Pinned{Hand: -1}}
		for _, u := range m.problem.uses(&b.Steps[i]) {
			if _, known := pots[u.Pot]; !known {
				pots[u.Pot] = len(pots)
			}
			t.needs = append(t.needs, need{pot: pots[u.Pot], changeover: u.Changeover, holds: u.Holds})
		}
		if s.Pinned != nil {
			t.pinned, t.pin, j.pinned = true, *s.Pinned, true
		}
		if at, ok := was[ref{b.ID, s.ID}]; ok {
			t.was = at
		}
		for _, a := range s.After {
			l := link{index[a.Step], a.Min, unlimited, a.Alone}
			m.alone = m.alone || a.Alone
			if a.Max != nil {
				l.max = *a.Max
			}
			t.before = append(t.before, l)
		}
		m.steps = append(m.steps, t)
		m.jobs, m.hands = append(m.jobs, t.job), append(m.hands, t.hands)
	}
	for i := range b.Steps {
		for _, l := range m.steps[first+i].before {
			m.steps[l.step].after = append(m.steps[l.step].after, link{first + i, l.min, l.max, l.alone})
		}
	}
	j.steps = m.sorted(first, len(m.steps))
	for n, i := range j.steps {
		t := &m.steps[i]
		for k := range t.needs {
			for _, e := range j.steps[:n] {
				if m.steps[e].uses(t.needs[k].pot) && !m.steps[e].pinned {
					t.needs[k].earlier = append(t.needs[k].earlier, e)
				}
			}
		}
	}
	for i, s := range b.Steps {
		if s.Storage != "" && s.Trays > 0 {
			h := hold{resource: places[s.Storage], amount: s.Trays, owner: first + i}
			for _, l := range m.steps[first+i].after {
				h.until = append(h.until, l.step)
			}
			m.addHold(h)
		}
		for _, t := range s.Takes {
			h := hold{resource: tools[t.Tool], amount: t.Count, owner: first + i, tool: true}
			if t.Until != s.ID {
				h.until = []int{index[t.Until]}
			}
			m.addHold(h)
		}
	}
	m.batches = append(m.batches, j)
}

func (m *model) addHold(h hold) {
	n := len(m.holds)
	h.pinned = m.steps[h.owner].pinned
	m.steps[h.owner].holds = append(m.steps[h.owner].holds, n)
	for _, u := range h.until {
		h.pinned = h.pinned && m.steps[u].pinned
		m.steps[u].holds = append(m.steps[u].holds, n)
	}
	m.holds = append(m.holds, h)
}

// sorted steps from first to end, so that each comes after those that it waits for, else as they are written.
func (m *model) sorted(first, end int) []int {
	order, done := []int{}, make([]bool, end-first)
	for len(order) < end-first {
		for i := first; i < end; i++ {
			ready := !done[i-first]
			for _, l := range m.steps[i].before {
				ready = ready && done[l.step-first]
			}
			if ready {
				done[i-first] = true
				order = append(order, i)
			}
		}
	}
	return order
}

// session whose span has [from, to) and has the person; -1 when there is none.
func (m *model) session(from, to si.Minutes, hand int) int {
	n, found := slices.BinarySearchFunc(m.sessions, from, func(s Session,
		from si.Minutes) int {
		return cmp.Compare(s.From, from)
	})
	if !found {
		n--
	}
	if n < 0 || to > m.sessions[n].To || hand < 0 || hand >= m.sessions[n].People {
		return -1
	}
	return n
}
