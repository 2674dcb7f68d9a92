package route

import (
	"cmp"
	"context"
	"math/rand/v2"
	"slices"

	"zestytin/core/si"
)

// Options of Best.
type Options struct {
	Effort   int                 // how many drives the search weighs; 0: as many as the drops ask for
	Progress func(done, all int) // called now and then; may be nil
}

// Best drive, and whether it is proven to be: up to MostExact drops are ordered exactly, among the drives that leave
// home at every fifth minute and go on whenever a drop is done; of more the best that is found.
// ctx ends the search early, with the best that is found by then.
func (p *Problem) Best(ctx context.Context, o Options) (best Tour, proven bool) {
	if len(p.Drops) == 0 {
		return Tour{Leave: p.Earliest, Back: p.Earliest, Stops: []Stop{}}, true
	}
	if o.Effort == 0 {
		o.Effort = 5000 + 1500*len(p.Drops)*len(p.Drops)/2
	}
	if len(p.Drops) > MostExact {
		return p.search(ctx, o), false
	}
	return p.exact(p.search(ctx, Options{Effort: min(o.Effort, 20000)})), true
}

// searching is a local search: an order of drops and a time of leaving are changed as long as that makes them better,
// then shaken, and again.
type searching struct {
	p      *Problem
	starts []si.Seconds
	random *rand.Rand
	left   int // candidates that may still be weighed
}

// candidate drive.
type candidate struct {
	order []int
	start int // index in starts
	sums
	at []standing // before each of its drops
}

// sums of a candidate, that it is compared by.
type sums struct{ late, road, away si.Seconds }

func (c sums) less(than sums) bool {
	return cmp.Or(cmp.Compare(c.late, than.late), cmp.Compare(c.road, than.road), cmp.Compare(c.away, than.away)) < 0
}

// standing is how far a drive has come.
type standing struct {
	now, late, road si.Seconds
	here            int
}

// weigh a candidate whose first drops are known to be as in at. One that is seen to be worse than than is not weighed
// to its end.
func (s *searching) weigh(c *candidate, same int, at []standing, than *sums) {
	s.left--
	p := s.p
	x := standing{now: s.starts[c.start]}
	if same > 0 {
		x = at[same]
	}
	c.at = append(c.at[:0], at[:same]...)
	for _, i := range c.order[same:] {
		c.at = append(c.at, x)
		d := &p.Drops[i]
		road := p.Ways.Pace.Travel(p.Ways.Free[x.here][d.Place], x.now)
		x.now, x.here, x.road = x.now+road, d.Place, x.road+road
		x.late += max(x.now-d.To, 0)
		x.road += max(d.From-x.now-patience, 0)
		x.now = full(max(x.now, d.From) + d.Door)
		if than != nil && (x.late > than.late || x.late == than.late && x.road > than.road) {
			c.sums = sums{x.late, x.road, 1 << 40}
			return
		}
	}
	road := p.Ways.Pace.Travel(p.Ways.Free[x.here][0], x.now)
	c.sums = sums{x.late, x.road + road, x.now + road - s.starts[c.start]}
}

// copied into c.
func (c *candidate) copy(of *candidate) {
	c.order, c.at = append(c.order[:0], of.order...), append(c.at[:0], of.at...)
	c.start, c.sums = of.start, of.sums
}

func (p *Problem) search(ctx context.Context, o Options) Tour {
	s := &searching{p, p.starts(), rand.New(rand.NewPCG(4, 11)), o.Effort}
	now := s.first()
	var best candidate
	for try := 0; ; try++ {
		s.improve(&now)
		if try == 0 || now.less(best.sums) {
			best.copy(&now)
		} else {
			now.copy(&best)
		}
		if s.left <= 0 || ctx.Err() != nil {
			break
		}
		if o.Progress != nil {
			o.Progress(o.Effort-s.left, o.Effort)
		}
		s.shake(&now)
	}
	return p.Timed(best.order)
}

// first order: by when windows close, each put where it costs least.
func (s *searching) first() candidate {
	sorted := make([]int, len(s.p.Drops))
	for i := range sorted {
		sorted[i] = i
	}
	slices.SortStableFunc(sorted, func(a, b int) int { return int(s.p.Drops[a].To - s.p.Drops[b].To) })
	var c candidate
	for _, drop := range sorted {
		var best candidate
		for at := range len(c.order) + 1 {
			x := candidate{order: slices.Insert(slices.Clone(c.order), at, drop)}
			if s.weigh(&x, 0, nil, nil); at == 0 || x.less(best.sums) {
				best = x
			}
		}
		c = best
	}
	return c
}

// improve a candidate until no single change makes it better: leaving at another time, a stretch of up to three drops
// elsewhere, a stretch turned round, two drops exchanged.
func (s *searching) improve(c *candidate) {
	s.weigh(c, 0, nil, nil)
	try := candidate{order: make([]int, len(c.order))}
	again := func() {
		copy(try.order, c.order)
		try.start = c.start
	}
	keep := func(same int) bool {
		if s.weigh(&try, same, c.at, &c.sums); !try.less(c.sums) {
			return false
		}
		c.copy(&try)
		return true
	}
	for better := true; better && s.left > 0; {
		better = false
		for _, by := range []int{1, 3, 12, 48, -1, -3, -12, -48} {
			for again(); try.start+by >= 0 && try.start+by < len(s.starts); again() {
				if try.start += by; !keep(0) {
					break
				}
				better = true
			}
		}
		n := len(c.order)
		for i := range n {
			for j := range n {
				for length := 1; length <= 3 && max(i, j)+length <= n && i != j; length++ {
					again()
					moveTo(try.order, i, j, length)
					better = keep(min(i, j)) || better
				}
				if j > i {
					again()
					slices.Reverse(try.order[i : j+1])
					better = keep(i) || better
					again()
					try.order[i], try.order[j] = try.order[j], try.order[i]
					better = keep(i) || better
				}
			}
		}
	}
}

// moveTo takes length drops from i on and puts them so that they begin at j.
func moveTo(order []int, i, j, length int) {
	if i < j {
		for range length {
			first := order[i]
			copy(order[i:], order[i+1:j+length])
			order[j+length-1] = first
		}
		return
	}
	for range length {
		last := order[i+length-1]
		copy(order[j+1:i+length], order[j:i+length-1])
		order[j] = last
	}
}

// shake a candidate: three stretches change places, and one leaves at another time.
func (s *searching) shake(c *candidate) {
	n := len(c.order)
	if n >= 4 {
		cut := []int{s.random.IntN(n + 1), s.random.IntN(n + 1), s.random.IntN(n + 1)}
		slices.Sort(cut)
		c.order = slices.Concat(c.order[:cut[0]], c.order[cut[1]:cut[2]], c.order[cut[0]:cut[1]], c.order[cut[2]:])
	}
	c.start = min(max(c.start+s.random.IntN(25)-12, 0), len(s.starts)-1)
}
