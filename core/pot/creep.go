package pot

import "math"

// What of a scale is its own doing, and what somebody put on it (common practice; the numbers from memory: a kitchen
// scale beside a warm pot wanders by some grams an hour, a hand moves whole spoons).
const (
	spoon  = 3.0   // g between two readings: somebody put something on it, or took it off
	rest   = 120.0 // s that nothing is moved before a stretch says anything of the scale
	slow   = 200.0 // g an hour: what is faster is a slow hand
	seen   = 2.0   // g that it has wandered in all while nothing was moved, before it is believed
	nought = 1.0   // g from nothing, after a jump: it was set to nothing
)

// Level of a scale that creeps: it hears what the scale says, in the order of its time, and takes off what the scale
// has wandered by itself since it was last set to nothing. The rate is the common slope of all stretches in which
// nothing was moved (least squares with an intercept of its own for each stretch), so that it lasts over a taring.
type Level struct {
	closed stretch // stretches that are over, pooled
	at     stretch // that goes on
	last   Sample
	heard  bool
	tared  float64 // s, when it was last set to nothing; when it was first heard where nobody did
}

// stretch in which nothing is moved: sums for a slope, by Welford (1962).
type stretch struct {
	n, from, to         float64
	time, grams         float64 // means
	ofTime, ofTimeGrams float64 // sums of squares and of products of what differs from the means
	lasted              float64 // s, of those pooled
}

func (s *stretch) add(x Sample) {
	if s.n == 0 {
		s.from = x.At
	}
	s.n++
	s.to = x.At
	off := x.At - s.time
	s.time += off / s.n
	s.grams += (x.Value - s.grams) / s.n
	s.ofTime += off * (x.At - s.time)
	s.ofTimeGrams += off * (x.Value - s.grams)
}

// pool another stretch with these, where it says something of the scale.
func (s stretch) pool(x stretch) stretch {
	lasted := x.to - x.from
	if lasted < rest || math.Abs(x.ofTimeGrams/x.ofTime)*3600 > slow {
		return s
	}
	s.ofTime += x.ofTime
	s.ofTimeGrams += x.ofTimeGrams
	s.lasted += lasted
	return s
}

// Hear what the scale says, and tell what lies on it (g).
func (l *Level) Hear(x Sample) Sample {
	if x.Gone || math.IsNaN(x.Value) {
		return x
	}
	switch moved := l.heard && math.Abs(x.Value-l.last.Value) >= spoon; {
	case !l.heard:
		l.tared = x.At
	case moved:
		l.closed, l.at = l.closed.pool(l.at), stretch{}
		if math.Abs(x.Value) <= nought {
			l.tared = x.At
		}
	}
	l.last, l.heard = x, true
	l.at.add(x)
	x.Value -= l.Off()
	return x
}

// Rate at which it creeps, in g an hour; 0 as long as it cannot be told from standing still.
func (l *Level) Rate() float64 {
	all := l.closed.pool(l.at)
	if all.lasted == 0 {
		return 0
	}
	rate := all.ofTimeGrams / all.ofTime
	if math.Abs(rate)*all.lasted < seen {
		return 0
	}
	return rate * 3600
}

// Off is by how many g it has crept since it was last set to nothing, as of what it said last.
func (l *Level) Off() float64 { return l.Rate() * (l.last.At - l.tared) / 3600 }

// Tared is when it was last set to nothing, in s.
func (l *Level) Tared() float64 { return l.tared }
