package treat

import (
	"errors"
	"math"
)

// ErrSureness is returned for a loss or sureness for which no number of pieces is enough.
var ErrSureness = errors.New("the loss must be at least 0 and less than 100 %, the sureness more than 0 and less than 100 %")

// StartFor is how many pieces to start so that at least good of them come out well with probability sure, when each is
// lost with probability loss: the smallest n with P(X >= good) >= sure, X binomial (handbook 4.2, exact).
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

// SureOf is the probability that at least good of so many started pieces come out well, when each is lost with probability
// loss: the question of StartFor turned round.
func SureOf(start, good int, loss float64) float64 {
	if good > start {
		return 0
	}
	if loss <= 0 {
		return 1
	}
	logTerm, sum := float64(good)*math.Log1p(-loss), 0.0
	for bad := 0; bad <= start-good; bad++ {
		if bad > 0 {
			logTerm += math.Log(float64(good-1+bad)/float64(bad)) + math.Log(loss)
		}
		sum += math.Exp(logTerm)
	}
	return math.Min(sum, 1)
}
