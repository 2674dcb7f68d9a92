package app_test

import (
	"bytes"
	"fmt"
	"os"
	"slices"
	"sync"
	"testing"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/platform/clock"
)

// The committed API document is the one of the code.
func TestDocumentIsCurrent(t *testing.T) {
	t.Parallel()
	kept, err := os.ReadFile("../../docs/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	made, err := app.New(app.Options{Clock: clock.System}).Document()
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(kept, made) {
		t.Error("docs/openapi.json is stale: run make api")
	}
}

// Whole requests over HTTP on the demo kitchen, from four clients at once; p95 in ms beside the mean.
func BenchmarkRequests(b *testing.B) {
	h := openFor(b)
	p := h.maren(b)
	ilse := find(b, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Ilse Vantongeren")
	question := object{"draft": p.must(200, "GET", fmt.Sprint("/orders/", ilse["id"]), nil)["draft"]}
	for name, ask := range map[string]func() answer{
		"reckoning": func() answer { return p.send("POST", "/reckonings", question) },
		"shelf":     func() answer { return p.send("GET", "/shelf", nil) },
		"orders":    func() answer { return p.send("GET", "/orders", nil) },
	} {
		b.Run(name, func(b *testing.B) {
			var mu sync.Mutex
			var took []time.Duration
			b.SetParallelism(2) // times two cores
			b.RunParallel(func(pb *testing.PB) {
				for pb.Next() {
					begun := time.Now()
					if a := ask(); a.status != 200 {
						b.Error(a.body)
					}
					mu.Lock()
					took = append(took, time.Since(begun))
					mu.Unlock()
				}
			})
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}
