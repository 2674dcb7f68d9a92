package route

import (
	"cmp"
	"context"
	"slices"

	"zestytin/core/si"
)

// rest is how long one must be able to stay at home between two drives, for coming home to be worth the way.
const rest si.Seconds = 1800

// Trips are the drives of a day: the drops of each, by when their windows open. Where there is time to be at home for
// half an hour between the windows of some drops and those of all later ones, one drives twice. What is only to be at
// home for is no drive.
func (p *Problem) Trips() [][]int {
	sorted := make([]int, len(p.Drops))
	for i := range sorted {
		sorted[i] = i
	}
	slices.SortStableFunc(sorted, func(a, b int) int { return cmp.Compare(p.Drops[a].From, p.Drops[b].From) })
	var trips [][]int
	var until si.Seconds // when the last of them is done, and one is home, at the latest
	for _, i := range sorted {
		d := &p.Drops[i]
		out := p.Ways.Pace.Travel(p.Ways.Free[0][d.Place], d.From)
		if len(trips) == 0 || d.From-out-until >= rest {
			trips = append(trips, nil)
		}
		n := len(trips) - 1
		trips[n] = append(trips[n], i)
		done := d.To + d.Door
		until = max(until, done+p.Ways.Pace.Travel(p.Ways.Free[d.Place][0], done))
	}
	return slices.DeleteFunc(trips, func(trip []int) bool {
		return !slices.ContainsFunc(trip, func(i int) bool { return p.Drops[i].Place != 0 })
	})
}

// Of the problem only some drops, and no leaving before a time.
func (p *Problem) Of(drops []int, earliest si.Seconds) *Problem {
	q := &Problem{Ways: p.Ways, Earliest: max(p.Earliest, earliest)}
	for _, i := range drops {
		q.Drops = append(q.Drops, p.Drops[i])
	}
	return q
}

// HelpKind is what would bring a drive to all of its windows.
type HelpKind string

// What would help.
const (
	Earlier HelpKind = "earlier" // to be able to leave By then
	Without HelpKind = "without" // somebody else takes the Drop, or it is on another day
	Longer  HelpKind = "longer"  // the window of the Drop is open until By
)

// Help is a way to be everywhere in time.
type Help struct {
	Kind HelpKind
	Drop int // index in the problem
	By   si.Seconds
}

// Helps are the ways to be everywhere in time, each enough on its own, for a drive that is not; what costs least first.
func (p *Problem) Helps(ctx context.Context, late Tour) []Help {
	list := []Help{}
	missed := []int{}
	for _, s := range late.Stops {
		if s.Late > 0 {
			missed = append(missed, s.Drop)
		}
		if s.Late > 0 && s.Late == late.Late {
			list = append(list, Help{Longer, s.Drop, full(s.Arrive)})
		}
	}
	early := p.Of(p.all(), 0)
	early.Earliest = 0
	if t, _ := early.Best(ctx, Options{}); t.Late == 0 {
		list = append(list, Help{Kind: Earlier, Drop: missed[0], By: t.Leave})
	}
	for i := range p.Drops {
		rest := slices.DeleteFunc(p.all(), func(j int) bool { return i == j })
		if t, _ := p.Of(rest, 0).Best(ctx, Options{Effort: 5000}); t.Late == 0 {
			list = append(list, Help{Kind: Without, Drop: i})
		}
	}
	return list
}

func (p *Problem) all() []int {
	list := make([]int, len(p.Drops))
	for i := range list {
		list[i] = i
	}
	return list
}

// Inserted puts drops into an order that somebody has chosen, each where it costs least.
func (p *Problem) Inserted(order, drops []int) []int {
	for _, drop := range drops {
		var best Tour
		var in []int
		for at := range len(order) + 1 {
			try := slices.Insert(slices.Clone(order), at, drop)
			if t := p.Timed(try); in == nil || t.Less(&best) {
				best, in = t, try
			}
		}
		order = in
	}
	return order
}
