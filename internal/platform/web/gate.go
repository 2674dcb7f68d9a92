package web

import (
	"context"
	"net/http"
	"runtime"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
)

// Deadline is how long an operation may take, streams aside.
const Deadline = 10 * time.Second

// Gate lets as much heavy work in at a time as the server has room for, and no kitchen more than its part.
type Gate struct {
	all  chan struct{}
	wait time.Duration

	mu       sync.Mutex
	kitchens map[uuid.UUID]int
}

// Of the places at the gate, a kitchen has at most so many: two devices that type, and a file that is brought in.
const perKitchen = 6

// NewGate for the processors that there are.
func NewGate() *Gate {
	return &Gate{all: make(chan struct{}, 4*runtime.GOMAXPROCS(0)), wait: 3 * time.Second, kitchens: map[uuid.UUID]int{}}
}

// Enter waits for a place, but not for long: then it is a refusal to be tried again later. leave must be called in the end.
func (g *Gate) Enter(ctx context.Context, kitchen uuid.UUID) (leave func(), err error) {
	if g == nil {
		return func() {}, nil
	}
	g.mu.Lock()
	full := g.kitchens[kitchen] >= perKitchen
	if !full {
		g.kitchens[kitchen]++
	}
	g.mu.Unlock()
	if full {
		return nil, Later(http.StatusTooManyRequests, "web.too-much-at-once", time.Second)
	}
	part := func() {
		g.mu.Lock()
		defer g.mu.Unlock()
		if g.kitchens[kitchen]--; g.kitchens[kitchen] <= 0 {
			delete(g.kitchens, kitchen)
		}
	}
	timer := time.NewTimer(g.wait)
	defer timer.Stop()
	select {
	case g.all <- struct{}{}:
		return func() { <-g.all; part() }, nil
	case <-timer.C:
		part()
		return nil, Later(http.StatusTooManyRequests, "web.server-is-busy", 2*time.Second)
	case <-ctx.Done():
		part()
		return nil, ctx.Err()
	}
}

// Heavy marks an operation that computes much: it passes the gate.
func Heavy(op huma.Operation) huma.Operation {
	if op.Metadata == nil {
		op.Metadata = map[string]any{}
	}
	op.Metadata["heavy"] = true
	return op
}

func isHeavy(op *huma.Operation) bool {
	return op.Metadata["heavy"] == true || slices.Contains(op.Tags, "Calculators")
}
