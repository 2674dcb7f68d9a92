package route

import (
	"math/bits"
	"slices"

	"zestytin/core/si"
)

// MostExact is how many drops are ordered exactly; more are searched.
const MostExact = 12

// label is one way of having done some drops, the last of them just now.
type label struct {
	now, road, late si.Seconds // road with what one waits beyond patience
	before          int32      // the label that it goes on from; -1: home
	last            int8
}

// exact finds the best drive: dynamic programming over the sets of drops that are done, for each time of leaving home.
// By the hour one who is somewhere earlier may have been longer on the road, so that one label for a set and its last
// drop does not do: Desrochers, Soumis, A generalized permanent labelling algorithm for the shortest path problem with
// time windows, INFOR 26 (1988) (memory). What cannot be as good as the best that is known is not followed; known is a
// drive to begin with.
func (p *Problem) exact(known Tour) Tour {
	n := len(p.Drops)
	all := 1<<n - 1
	l := &labels{p: p, toGo: p.toGo(), direct: closure(p.Ways.Free), least: known, end: p.end(),
		at: make([][]int32, (all+1)*n)}
	for _, start := range p.starts() {
		l.arena = l.arena[:0]
		for i := range l.at {
			l.at[i] = l.at[i][:0]
		}
		for next := range n {
			l.add(label{now: start, last: home}, -1, 0, next)
		}
		for set := 1; set < all; set++ {
			for last := range n {
				for _, id := range l.at[set*n+last] {
					from := l.arena[id]
					if !l.hopeful(&from, set) { // since it was put there a better drive may have been found
						continue
					}
					for rest := all &^ set; rest != 0; rest &= rest - 1 {
						l.add(from, id, set, bits.TrailingZeros(uint(rest)))
					}
				}
			}
		}
		for last := range n {
			for _, id := range l.at[all*n+last] {
				if t := p.Follow(l.order(id), start); t.Less(&l.least) {
					l.least = t
				}
			}
		}
	}
	return l.least
}

// labels of drives that leave home at one time: of those with the same set of drops and the same last of them none is
// worse than another in everything.
type labels struct {
	p      *Problem
	arena  []label
	at     [][]int32 // by set and last
	toGo   []si.Seconds
	direct [][]si.Seconds // from a place to another on free roads, through whatever place
	least  Tour           // the best that is known
	end    si.Seconds     // when the last window closes
}

// add what goes on from a label by a drop, unless another is as good in everything.
func (l *labels) add(from label, id int32, set, next int) {
	p, n := l.p, len(l.p.Drops)
	d := &p.Drops[next]
	road := p.Ways.Pace.Travel(p.Ways.Free[p.place(int(from.last))][d.Place], from.now)
	there := from.now + road
	x := label{now: full(max(there, d.From) + d.Door), road: from.road + road + max(d.From-there-patience, 0),
		late: from.late + max(there-d.To, 0), before: id, last: int8(next)}
	set |= 1 << next
	if !l.hopeful(&x, set) {
		return
	}
	at := &l.at[set*n+next]
	for _, other := range *at {
		if l.dominates(&l.arena[other], &x) {
			return
		}
	}
	*at = append(slices.DeleteFunc(*at, func(other int32) bool { return l.dominates(&x, &l.arena[other]) }),
		int32(len(l.arena)))
	l.arena = append(l.arena, x)
}

// dominates tells whether a is no worse than b whatever follows. Who is earlier is never later in the end; but on a
// road whose pace changes, or where one waits, it may cost as much more as one is earlier, and no more.
func (l *labels) dominates(a, b *label) bool {
	return a.now <= b.now && a.late <= b.late && a.road+(b.now-a.now) <= b.road
}

// hopeful tells whether a drive that begins so may still be as good as the best that is known.
func (l *labels) hopeful(x *label, set int) bool {
	p, n := l.p, len(l.p.Drops)
	fastest := p.Ways.Pace.fastest(x.now, max(l.end, x.now)+hour)
	late := x.late
	if late <= l.least.Late {
		here := p.Drops[x.last].Place
		for rest := (1<<n - 1) &^ set; rest != 0; rest &= rest - 1 {
			d := &p.Drops[bits.TrailingZeros(uint(rest))]
			late += max(x.now+sooner(l.direct[here][d.Place], fastest)-d.To, 0)
		}
	}
	road := x.road + sooner(l.toGo[set*n+int(x.last)], fastest)
	return late < l.least.Late || late == l.least.Late && road <= l.least.Road+l.least.Idle
}

// sooner than on a road of the fastest pace nobody is there.
func sooner(free si.Seconds, fastest float64) si.Seconds {
	return si.Seconds(float64(free)/fastest - 1e-6)
}

// order of the drops that lead to a label.
func (l *labels) order(id int32) []int {
	var order []int
	for ; id >= 0; id = l.arena[id].before {
		order = append(order, int(l.arena[id].last))
	}
	slices.Reverse(order)
	return order
}

// toGo is the least time on a free road from the last drop of a set through all the others and home, by set and last.
func (p *Problem) toGo() []si.Seconds {
	n := len(p.Drops)
	all := 1<<n - 1
	best := make([]si.Seconds, (all+1)*n)
	free := p.Ways.Free
	for set := all; set > 0; set-- {
		for last := range n {
			if set&(1<<last) == 0 {
				continue
			}
			here := p.Drops[last].Place
			if set == all {
				best[set*n+last] = free[here][0]
				continue
			}
			least := si.Seconds(1 << 40)
			for next := range n {
				if set&(1<<next) == 0 {
					least = min(least, free[here][p.Drops[next].Place]+best[(set|1<<next)*n+next])
				}
			}
			best[set*n+last] = least
		}
	}
	return best
}

// closure of ways: the shortest one through whatever place.
func closure(free [][]si.Seconds) [][]si.Seconds {
	direct := make([][]si.Seconds, len(free))
	for i := range free {
		direct[i] = append(direct[i], free[i]...)
	}
	for k := range direct {
		for i := range direct {
			for j := range direct {
				direct[i][j] = min(direct[i][j], direct[i][k]+direct[k][j])
			}
		}
	}
	return direct
}
