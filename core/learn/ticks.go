package learn

import (
	"cmp"
	"slices"
	"time"
)

// Tick of a step by somebody.
type Tick struct {
	Who     string
	Batch   string
	Step    string
	At      time.Time
	Planned float64 // min of hands
}

// Ticks closer together than this were made in one go, after the work (memory).
const inOneGo = time.Minute

// A time between two ticks is no work any more where it is so many times what was planned, and so many minutes longer:
// somebody was away (memory).
const (
	awayTimes   = 3
	awayMinutes = 20
)

// FromTicks is how many minutes of hands each ticked step took, in the order of the ticks given: from the tick before by
// the same person to its own, where several were ticked in one go shared by what was planned for each. 0 where it cannot
// be told: of the first tick of a person, and where somebody was away in between.
func FromTicks(ticks []Tick) []float64 {
	order := make([]int, len(ticks))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(x, y int) int {
		return cmp.Or(cmp.Compare(ticks[x].Who, ticks[y].Who), ticks[x].At.Compare(ticks[y].At))
	})
	took := make([]float64, len(ticks))
	for from := 0; from < len(order); {
		first := &ticks[order[from]]
		to, planned := from+1, first.Planned
		for to < len(order) && ticks[order[to]].Who == first.Who &&
			ticks[order[to]].At.Sub(ticks[order[to-1]].At) < inOneGo {
			planned += ticks[order[to]].Planned
			to++
		}
		if from > 0 && ticks[order[from-1]].Who == first.Who && planned > 0 {
			minutes := ticks[order[to-1]].At.Sub(ticks[order[from-1]].At).Minutes()
			if minutes <= awayTimes*planned+awayMinutes {
				for _, i := range order[from:to] {
					took[i] = minutes * ticks[i].Planned / planned
				}
			}
		}
		from = to
	}
	return took
}
