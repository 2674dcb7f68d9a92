package plan

import (
	"context"
	"fmt"
	"testing"

	"zestytin/core/ident"
)

// Growth: batches per day and effort per batch stay the same.
func BenchmarkGrowth(b *testing.B) {
	for _, n := range []int{15, 30, 60, 120, 240} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			p := busy(7, n, max(3, n*14/60), 2)
			var plan *Plan
			b.ReportAllocs()
			for b.Loop() {
				var err error
				if plan, err = Make(context.Background(), p, Options{Effort: n * 1000 / 60}); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(plan.Score.Unplaced), "unplaced")
			b.ReportMetric(float64(plan.Score.Setup), "setup")
			b.ReportMetric(float64(plan.Score.AgeAtHandover), "age")
			b.ReportMetric(float64(p.Size()), "steps")
		})
	}
}

// A peak fortnight at the default effort.
func BenchmarkPeakFortnight(b *testing.B) {
	p := busy(3, 60, 14, 2)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Make(context.Background(), p, Options{}); err != nil {
			b.Fatal(err)
		}
	}
}

// Whether another order fits beside the 40 that are promised: its batches find their places while the others keep
// theirs.
func BenchmarkAnotherOrder(b *testing.B) {
	p := busy(9, 80, 28, 2)
	present, err := Make(context.Background(), p, Options{})
	if err != nil {
		b.Fatal(err)
	}
	more := *p
	more.Batches = append(more.Batches[:80:80], busy(10, 3, 14, 2).Batches...)
	for i := range more.Batches[80:] {
		more.Batches[80+i].ID = ident.Batch(fmt.Sprint("new", i))
	}
	more.Previous = present
	b.ReportAllocs()
	for b.Loop() {
		if _, err := Make(context.Background(), &more, Options{Effort: 40}); err != nil {
			b.Fatal(err)
		}
	}
}

// What would let a batch in that does not fit.
func BenchmarkReliefs(b *testing.B) {
	p := busy(3, 60, 14, 1)
	present, err := Make(context.Background(), p, Options{})
	if err != nil || len(present.Unplaced) == 0 {
		b.Fatal(err, "all fits")
	}
	for b.Loop() {
		if _, err := Reliefs(context.Background(), p, present, []ident.Batch{present.Unplaced[0].Batch},
			Possible{}); err != nil {
			b.Fatal(err)
		}
	}
}
