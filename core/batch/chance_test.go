package batch_test

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	. "zestytin/core/batch"
)

// binomial is P(X = k) of n, each with probability p: NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.6.6.18. The
// coefficient is multiplied up, so that nothing of the code under test is in it.
func binomial(n, k int, p float64) float64 {
	v := 1.0
	for i := range k {
		v *= float64(n-i) / float64(i+1) * p
		if i < n-k {
			v *= 1 - p
		}
	}
	for i := k; i < n-k; i++ {
		v *= 1 - p
	}
	return v
}

// through all stages at once: the probability that good come out, every outcome of every stage counted.
func through(begin []int, stages []Stage, good int) float64 {
	var from func(stage, n int) float64
	from = func(stage, n int) float64 {
		n = min(n, begin[stage])
		sum := 0.0
		for k := 0; k <= n; k++ {
			p := binomial(n, k, 1-stages[stage].Loss)
			switch {
			case stage < len(stages)-1:
				sum += p * from(stage+1, k/stages[stage].Each)
			case k >= good:
				sum += p
			}
		}
		return sum
	}
	return from(0, begin[0])
}

func alone(n int) []int { return []int{n} }

// Six bombs of two halves (rules 4.2): a third of the halves is lost; then 6% at the seal as well.
func TestStartsThroughTwoStages(t *testing.T) {
	for _, c := range []struct {
		seal  float64
		begin []int
		sure  float64
	}{
		{0, []int{23, 6}, 0.952},
		{0.06, []int{26, 8}, 0.958},
	} {
		stages := []Stage{{1. / 3, 2}, {c.seal, 1}}
		got, err := Starts([]int{6}, stages, 0.95, false, alone)
		if err != nil {
			t.Fatal(err)
		}
		begin := []int{got.Begin[0][0], got.Begin[1][0]}
		if !slices.Equal(begin, c.begin) || math.Abs(got.Sure-c.sure) > 0.0005 {
			t.Errorf("%g at the seal: %v with %.4f, want %v with %.3f", c.seal, begin, got.Sure, c.begin, c.sure)
		}
		if by := through(begin, stages, 6); math.Abs(by-got.Sure) > 1e-9 {
			t.Errorf("%v: every outcome counted %.6f, told %.6f", begin, by, got.Sure)
		}
	}
}

// 4 + 4 + 4 at 5% (rules 4.2): 14 where one design may stand in for another, 16 where each must be whole. 5, 5 and 4
// are whole with 0.778 only.
func TestStartsOfASet(t *testing.T) {
	set, stages := []int{4, 4, 4}, []Stage{{0.05, 1}}
	split := func(n int) []int { return []int{(n + 2) / 3, (n + 1) / 3, n / 3} }
	together, err := Starts(set, stages, 0.95, false, split)
	if err != nil {
		t.Fatal(err)
	}
	if !slices.Equal(together.Begin[0], []int{5, 5, 4}) || math.Abs(together.Sure-0.970) > 0.0005 {
		t.Errorf("%v with %.4f", together.Begin, together.Sure)
	}
	whole := 1.0
	for _, n := range together.Begin[0] {
		whole *= SureOf(n, 4, 0.05)
	}
	if math.Abs(whole-0.778) > 0.0005 {
		t.Errorf("each whole with %.4f", whole)
	}
	each, err := Starts(set, stages, 0.95, true, split)
	if err != nil {
		t.Fatal(err)
	}
	if n := each.Begin[0]; n[0]+n[1]+n[2] != 16 || !slices.IsSortedFunc(n, func(a, b int) int { return b - a }) {
		t.Errorf("each whole: %v, ties go to the first", n)
	}
}

// One number fewer at any stage is not enough, or no number at the earlier stages makes up for it; every outcome is
// counted.
func TestStartsAreTheFewest(t *testing.T) {
	r := rand.New(rand.NewPCG(12, 4))
	for range 60 {
		good, each := 1+r.IntN(9), 1+r.IntN(2)
		stages := []Stage{{float64(r.IntN(35)) / 100, each}, {float64(r.IntN(20)) / 100, 1}}
		sure := 0.8 + 0.19*r.Float64()
		got, err := Starts([]int{good}, stages, sure, false, alone)
		if err != nil {
			t.Fatal(err)
		}
		what := fmt.Sprintf("%d good through %v, %.3f sure: %v", good, stages, sure, got.Begin)
		first, last := got.Begin[0][0], got.Begin[1][0]
		if p := through([]int{first, last}, stages, good); p < sure-1e-9 || math.Abs(p-got.Sure) > 1e-9 {
			t.Errorf("%s: it is %.6f, told %.6f", what, p, got.Sure)
		}
		if first > last*each && through([]int{first - 1, last}, stages, good) >= sure {
			t.Errorf("%s: one fewer at the first stage is enough", what)
		}
		if last > good && through([]int{1 << 7, last - 1}, stages, good) >= sure {
			t.Errorf("%s: one fewer at the last stage is enough", what)
		}
	}
	for _, bad := range []Stage{{1, 1}, {-0.1, 1}, {math.NaN(), 1}} {
		if _, err := Starts([]int{6}, []Stage{bad}, 0.95, false, alone); !errors.Is(err, ErrSureness) {
			t.Errorf("a loss of %v: %v", bad.Loss, err)
		}
	}
}
