package box

import (
	"math"
	"slices"
)

// This file says what would lie in a room in which what is wanted does not.

// Smaller is the largest that pieces could be, of the same form, so that n of them lie in a room, each in a liner's foot
// where it has one; false where even half the size would be too large, or where they lie in it as they are. Whatever
// lies in a room also lies in it when it is smaller, so halving finds it; sides are rounded down to whole mm.
func Smaller(r Room, of Item, foot Foot, n int) (Item, bool) {
	at := func(share float64) Item {
		s := of
		s.Length, s.Width, s.Height = share*of.Length, share*of.Width, share*of.Height
		s.Mass = of.Mass.Times(share * share * share)
		return s
	}
	lie := func(i Item) bool {
		takes, _ := Most(r, i.In(foot))
		return takes >= n
	}
	low, high := 0.5, 1.0
	if n < 1 || !lie(at(low)) || lie(of) {
		return Item{}, false
	}
	for range 12 {
		if mid := (low + high) / 2; lie(at(mid)) {
			low = mid
		} else {
			high = mid
		}
	}
	s := at(low)
	s.Length, s.Width, s.Height = math.Floor(s.Length+slack), math.Floor(s.Width+slack), math.Floor(s.Height+slack)
	return s, s.Length >= 1 && s.Width >= 1 && s.Height >= 1
}

// Fewer is how many of each item lie in a room where so many do not: one after the other the kind of which there are
// most goes without one, so that the mix stays as it was meant; nil where not two pieces lie together, or nobody knows.
func Fewer(r Room, items []Item, counts []int) []int {
	counts = slices.Clone(counts)
	space := r.Length * r.Width * r.Headroom()
	for tries := 0; tries < mostTries; {
		most, all, volume := 0, 0, 0.0
		for i, n := range counts {
			if all += n; n > counts[most] {
				most = i
			}
			volume += float64(n) * items[i].Length * items[i].Width * items[i].Height
		}
		if all <= 2 {
			return nil
		}
		counts[most]--
		if volume > space*2 { // far too much: it need not be laid to know
			continue
		}
		tries++
		if l, known := Fit(r, items, counts); !known {
			return nil
		} else if l != nil {
			return counts
		}
	}
	return nil
}

// mostTries of laying fewer and fewer pieces: one waits for the answer.
const mostTries = 60
