// Package route orders the drops of a drive: in which order, when to leave, when one is where, and what does not reach
// its window. Times are seconds since the midnight of the day of the drive; positions are by the compass, distances in
// metres.
package route

import (
	"math"

	"zestytin/core/si"
)

// Pace is how fast the road is in each hour of the day, beside one with nobody on it: 1 is free, 0.75 takes a third
// longer. A speed that changes by the hour, and not the time that a way takes, is what makes leaving later never arrive
// earlier: Ichoua, Gendreau, Potvin, Vehicle dispatching with time-dependent travel times, European Journal of
// Operational Research 144 (2003) (memory).
type Pace [24]float64

const (
	hour = 3600
	// slowest that a road gets: less is taken for a slip.
	slowest = 0.05
)

// Usual pace where nothing is known of the roads: slower while people drive to work and home. Common practice.
func Usual() Pace {
	var p Pace
	for h := range p {
		switch h {
		case 7, 8, 16, 17:
			p[h] = 0.75
		case 9, 12, 15, 18:
			p[h] = 0.9
		default:
			p[h] = 1
		}
	}
	return p
}

// at a time of day; hours beyond midnight are those of the next day.
func (p *Pace) at(t si.Seconds) float64 {
	h := int(t) / hour % 24
	if t < 0 {
		h = (int(t)%(24*hour) + 24*hour) % (24 * hour) / hour
	}
	return max(p[h], slowest)
}

// Travel is how long a way takes that takes free seconds where nothing is in the way, left at a time. Whoever leaves
// later is never there earlier.
func (p *Pace) Travel(free, leave si.Seconds) si.Seconds {
	if free <= 0 {
		return 0
	}
	left, t := float64(free), leave
	for {
		pace := p.at(t)
		next := (t/hour + 1) * hour
		if t < 0 {
			next = -(-t - 1) / hour * hour
		}
		if goes := float64(next-t) * pace; goes < left {
			left -= goes
			t = next
			continue
		}
		return t + si.Seconds(math.Ceil(left/pace-1e-9)) - leave
	}
}

// fastest pace from one time to another.
func (p *Pace) fastest(from, to si.Seconds) float64 {
	best := p.at(from)
	for t := (from/hour + 1) * hour; t <= to && t < from+24*hour; t += hour {
		best = max(best, p.at(t))
	}
	return best
}

// Ways between places: Free[i][j] is the time from i to j with nothing in the way, Metres[i][j] how far it is. Place 0
// is home.
type Ways struct {
	Free   [][]si.Seconds
	Metres [][]float64
	Pace   Pace
}
