package pot

import (
	"math"
)

// Forecast is when a bowl that cools or warms will be at a temperature, in s from the start of its readings, and between which
// times that lies in nine of ten cases.
type Forecast struct {
	At, From, To float64
}

// What a forecast rests on.
const (
	window  = 240.0 // s of readings: what was before a stir or a burst says nothing of what is now
	fewest  = 12    // readings
	longest = 45.0  // s that they must span at least
	surest  = 0.5   // how wide the nine of ten may be, as a share of the time that is left
	widest  = 60.0  // s that it may be in any case
)

// Reaches fits Newton's law of cooling to the last readings of a bowl in a room of known temperature, by least squares
// on the logarithm of the difference to the room, and says when it comes to a temperature; over a bath, whose water
// takes the place of the room, when it comes up to one. The spread is that of a
// calibration line read backwards (Draper and Smith, Applied Regression Analysis, 3.2; memory), with Student's t for the
// few readings that there are. false where it does not come nearer, is there already, or nobody can know yet: no figure is
// better than a wrong one.
func Reaches(said []Sample, room, temp float64) (Forecast, bool) {
	n := 0.0
	var sumT, sumY, sumTT, sumTY, sumYY, first, last float64
	side := 0.0 // of the room: 1 above it, -1 below
	for i := len(said) - 1; i >= 0; i-- {
		s := said[i]
		if s.Gone {
			continue
		}
		if n == 0 {
			last, side = s.At, math.Copysign(1, s.Value-room)
		}
		if last-s.At > window || side*(s.Value-room) <= 0.5 { // so near to the room a tenth of a degree is minutes
			break
		}
		t, y := s.At-last, math.Log(side*(s.Value-room))
		n, sumT, sumY, sumTT, sumTY, sumYY = n+1, sumT+t, sumY+y, sumTT+t*t, sumTY+t*y, sumYY+y*y
		first = s.At
	}
	if n < fewest || last-first < longest || side*(temp-room) <= 0.5 {
		return Forecast{}, false
	}
	mean, height := sumT/n, sumY/n
	spread := sumTT - n*mean*mean
	slope := (sumTY - n*mean*height) / spread
	rest := max(sumYY-n*height*height-slope*slope*spread, 0)
	noise := math.Sqrt(rest / (n - 2))
	if noise < 1e-9 {
		noise = 1e-9
	}
	t95 := student(int(n) - 2)
	if !(slope < 0) || -slope/(noise/math.Sqrt(spread)) < t95 { // it does not fall, as far as one can tell
		return Forecast{}, false
	}
	at := (math.Log(side*(temp-room))-height)/slope + mean // from the last reading
	if at <= 0 {
		return Forecast{}, false
	}
	half := t95 * noise / -slope * math.Sqrt(1/n+(at-mean)*(at-mean)/spread)
	if 2*half > max(surest*at, widest) {
		return Forecast{}, false
	}
	return Forecast{last + at, last + max(at-half, 0), last + at + half}, true
}

// student is t for 95 % on one side, by degrees of freedom: Fisher and Yates, Statistical Tables, table III (memory);
// between them and beyond by the first terms of its expansion about the normal (Abramowitz and Stegun 26.7.5; memory).
func student(freedom int) float64 {
	table := []float64{6.314, 2.920, 2.353, 2.132, 2.015}
	if freedom < 1 {
		return math.Inf(1)
	}
	if freedom <= len(table) {
		return table[freedom-1]
	}
	const z = 1.6448536269514722
	v := float64(freedom)
	return z + (z*z*z+z)/(4*v) + (5*math.Pow(z, 5)+16*z*z*z+3*z)/(96*v*v)
}
