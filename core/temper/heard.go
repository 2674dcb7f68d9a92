package temper

import (
	"math"

	"zestytin/core/pot"
)

// What a thermometer can say of chocolate, °C; beyond it is broken or read in the wrong unit.
const (
	coldest = -20
	hottest = 110
)

// A jump of so many K within so many s is no chocolate: the probe was moved, or it lies.
const (
	jump   = 8.0
	within = 10.0
	agree  = 2.0 // K within which the next ones must lie to be believed after all
	needed = 3   // of them
)

// Quiet is after how many s without a reading a probe is said to be silent.
const Quiet = 30

// Trouble of a thermometer.
type Trouble string

const (
	Silent  Trouble = "silent"  // it has said nothing for a while
	Absurd  Trouble = "absurd"  // what it says cannot be
	Jumping Trouble = "jumping" // it has jumped, and nobody knows yet whether it is right
)

// Heard are the readings that can be believed, of all that were said until now, and what is wrong with the last ones. A
// jump is believed once three readings agree on it: then the probe was put into the bowl, or out of it. What somebody has
// read and typed, without a probe, is believed as it is, and nobody is expected to type all the time.
func Heard(said []pot.Sample, now float64, probe bool) (believed []pot.Sample, trouble Trouble) {
	var doubt []pot.Sample
	believed = make([]pot.Sample, 0, len(said))
	for _, s := range said {
		switch {
		case s.Gone || s.At > now:
			continue
		case s.Value < coldest || s.Value > hottest || math.IsNaN(s.Value):
			trouble = Absurd
			continue
		}
		if n := len(believed); probe && n > 0 && math.Abs(s.Value-believed[n-1].Value) > jump &&
			s.At-believed[n-1].At < within+float64(len(doubt)) {
			if d := len(doubt); d > 0 && math.Abs(s.Value-doubt[d-1].Value) > agree {
				doubt = doubt[:0]
			}
			if doubt = append(doubt, s); len(doubt) < needed {
				trouble = Jumping
				continue
			}
			believed = append(believed, doubt...)
			doubt, trouble = nil, ""
			continue
		}
		believed, doubt, trouble = append(believed, s), nil, ""
	}
	if n := len(believed); probe && trouble == "" && n > 0 && now-believed[n-1].At > Quiet {
		trouble = Silent
	}
	return believed, trouble
}
