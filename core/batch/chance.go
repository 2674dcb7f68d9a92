package batch

import (
	"math"
	"sort"

	"zestytin/core/reason"
)

// ErrSureness is returned for a loss or sureness for which no number of pieces is enough.
var ErrSureness = reason.Of("batch.loss-must-be-at-least")

// StartFor is how many pieces to start so that at least good of them come out well with probability sure, when each is
// lost with probability loss: the smallest n with P(X >= good) >= sure, X binomial (rules 4.2, exact).
//
// The n-th start being the one that completes good ones is negative binomial; its terms are summed in logarithms, since
// (1 - loss)^good underflows for large counts.
func StartFor(good int, loss, sure float64) (int, error) {
	if !(loss >= 0 && loss < 1) || !(sure > 0 && sure < 1) {
		return 0, ErrSureness
	}
	if good <= 0 || loss == 0 {
		return max(good, 0), nil
	}
	logTerm := float64(good) * math.Log1p(-loss)
	sum := 0.0
	for bad := 0; ; bad++ {
		if bad > 0 {
			logTerm += math.Log(float64(good-1+bad)/float64(bad)) + math.Log(loss)
		}
		sum += math.Exp(logTerm)
		// A sum of many rounded terms may stay a hair below a target that it reaches exactly.
		if sum >= sure-1e-12 {
			return good + bad, nil
		}
	}
}

// SureOf is the probability that at least good of so many started pieces come out well, when each is lost with
// probability loss: the question of StartFor turned round.
func SureOf(start, good int, loss float64) float64 {
	return (&tail{good: good, loss: loss}).of(start)
}

// tail of the binomial: how sure one is of good pieces, for any number that is started. Each further start adds the
// chance that it is the one that completes them.
type tail struct {
	good    int
	loss    float64
	logTerm float64
	sums    []float64 // by the number of bad ones
}

func (t *tail) of(start int) float64 {
	switch {
	case t.good > start:
		return 0
	case t.loss <= 0 || t.good <= 0:
		return 1
	}
	for bad := len(t.sums); bad <= start-t.good; bad++ {
		sum := 0.0
		if bad == 0 {
			t.logTerm = float64(t.good) * math.Log1p(-t.loss)
		} else {
			t.logTerm += math.Log(float64(t.good-1+bad) / float64(bad) * t.loss)
			sum = t.sums[bad-1]
		}
		t.sums = append(t.sums, math.Min(sum+math.Exp(t.logTerm), 1))
	}
	return t.sums[start-t.good]
}

// Stage is a part of the making in which things are lost: each with the probability Loss. Each of them that come
// through make one of the next stage, such as two half shells a ball.
type Stage struct {
	Loss float64
	Each int
}

// Chances are how many to begin at each stage, for each design, and how sure one is then.
type Chances struct {
	Begin [][]int // by stage, by design
	Sure  float64
}

// Starts are the smallest number at the last stage whose joint probability can reach the sureness, then the fewest at
// the earlier ones (rules 4.2). The wanted good ones are those of each design: together where another design may stand
// in, and each in its full number where whole, so that the probabilities multiply; ties go to the first design. split
// shares a number out over the designs where they are taken together.
func Starts(wants []int, stages []Stage, sure float64, whole bool, split func(n int) []int) (Chances, error) {
	for _, s := range stages {
		if !(s.Loss >= 0 && s.Loss < 1) {
			return Chances{}, ErrSureness
		}
	}
	if !(sure > 0 && sure < 1) {
		return Chances{}, ErrSureness
	}
	ways := []int{0}
	for _, n := range wants {
		ways[0] += n
	}
	if whole {
		ways = wants
	}
	s := &search{stages: stages, sure: sure, begin: make([][]int, len(stages))}
	for _, good := range ways {
		s.wants, s.values = append(s.wants, good), append(s.values, nil)
		s.tails = append(s.tails, tail{good: good, loss: stages[len(stages)-1].Loss})
	}
	for stage := len(stages) - 1; stage >= 0; stage-- {
		if err := s.stage(stage); err != nil {
			return Chances{}, err
		}
	}
	c := Chances{Begin: s.begin, Sure: s.reached}
	if !whole {
		totals := make([]int, len(stages))
		for i := range totals {
			totals[i] = c.Begin[i][0]
		}
		c.Begin = shareOut(totals, stages, split)
	}
	return c, nil
}

// shareOut the numbers of all stages out over the designs: no design has fewer at a stage than its pieces of the next
// one take.
func shareOut(totals []int, stages []Stage, split func(n int) []int) [][]int {
	begin := make([][]int, len(totals))
	for i := len(totals) - 1; i >= 0; i-- {
		if i == len(totals)-1 {
			begin[i] = split(totals[i])
			continue
		}
		extra := totals[i]
		for _, n := range begin[i+1] {
			extra -= n * stages[i].Each
		}
		begin[i] = split(max(extra, 0))
		for d, n := range begin[i+1] {
			begin[i][d] += n * stages[i].Each
		}
	}
	return begin
}

// search goes through the stages from the last to the first. values[d][m] is the probability that design d comes out,
// when m are begun at the stage after.
type search struct {
	stages  []Stage
	sure    float64
	wants   []int
	begin   [][]int
	values  [][]float64
	tails   []tail // of the last stage, by design
	reached float64
}

// mostBegun pieces at a stage.
const mostBegun = 1 << 20

func (s *search) stage(at int) error {
	loss, last := s.stages[at].Loss, at == len(s.stages)-1
	value := func(d, n int) float64 {
		if last {
			return s.tails[d].of(n)
		}
		return s.through(n, loss, s.stages[at].Each, s.values[d])
	}
	n := make([]int, len(s.wants))
	joint, chances := 1.0, make([]float64, len(n))
	for d := range n {
		if n[d] = s.wants[d]; !last {
			n[d] = s.begin[at+1][d] * s.stages[at].Each
		}
		chances[d] = value(d, n[d])
		joint *= chances[d]
	}
	if joint < s.sure-1e-12 && len(n) == 1 {
		// What one more piece adds only grows less: the smallest number that is enough is found by halving.
		low, enough := n[0], n[0]+1
		for ; value(0, enough) < s.sure-1e-12; enough += enough - low {
			if enough > mostBegun {
				return ErrSureness
			}
		}
		n[0] = low + sort.Search(enough-low, func(i int) bool { return value(0, low+i) >= s.sure-1e-12 })
		joint = value(0, n[0])
	}
	for sum := 0; joint < s.sure-1e-12; sum++ {
		best, gain := 0, 0.0
		for d := range n {
			if g := value(d, n[d]+1) / math.Max(chances[d], 1e-300); g > gain*(1+1e-12) {
				best, gain = d, g
			}
		}
		n[best]++
		chances[best] = value(best, n[best])
		joint = 1
		for _, c := range chances {
			joint *= c
		}
		if sum > mostBegun {
			return ErrSureness
		}
	}
	s.begin[at], s.reached = n, joint
	if at > 0 {
		for d := range n {
			table := make([]float64, n[d]+1)
			// Much below what is wanted nothing comes out: the table is filled from the top until it is nothing.
			for m := n[d]; m >= 0; m-- {
				if table[m] = value(d, m); table[m] < 1e-15 {
					break
				}
			}
			s.values[d] = table
		}
	}
	return nil
}

// through a stage: the mean of the values of what comes through, of n begun, when as many as there are values for go on
// at most.
func (s *search) through(n int, loss float64, each int, values []float64) float64 {
	goesOn := func(good int) float64 { return values[min(good/each, len(values)-1)] }
	if loss == 0 {
		return goesOn(n)
	}
	mean, wide := float64(n)*(1-loss), 9*math.Sqrt(float64(n)*loss*(1-loss))+2
	from, to := max(int(mean-wide), 0), min(int(mean+wide)+1, n)
	lg := func(x int) float64 { v, _ := math.Lgamma(float64(x + 1)); return v }
	logTerm := lg(n) - lg(from) - lg(n-from) + float64(from)*math.Log1p(-loss) + float64(n-from)*math.Log(loss)
	odds := math.Log1p(-loss) - math.Log(loss)
	sum := 0.0
	for good := from; good <= to; good++ {
		if good > from {
			logTerm += math.Log(float64(n-good+1)/float64(good)) + odds
		}
		sum += math.Exp(logTerm) * goesOn(good)
	}
	return sum
}
