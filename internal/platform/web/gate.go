package web

import (
	"cmp"
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
	kitchens map[uuid.UUID]*part
}

// part of the gate that a kitchen has.
type part struct {
	places chan struct{}
	asking int // that are in, or wait to be let in
}

const (
	perKitchen  = 6  // places of one: two devices that type, and a file that is brought in
	mostWaiting = 30 // of one: more is no kitchen at work
)

// NewGate for the processors that there are.
func NewGate() *Gate {
	return &Gate{all: make(chan struct{}, 4*runtime.GOMAXPROCS(0)), wait: 3 * time.Second,
		kitchens: map[uuid.UUID]*part{}}
}

// Enter waits for a place, but not for long: then it is a refusal to be tried again later. leave must be called in the
// end.
func (g *Gate) Enter(ctx context.Context, kitchen uuid.UUID) (leave func(), err error) {
	if g == nil {
		return func() {}, nil
	}
	p := g.partOf(kitchen)
	if p == nil {
		return nil, Later(http.StatusTooManyRequests, "web.too-much-at-once", time.Second)
	}
	patient, cancel := context.WithTimeout(ctx, g.wait)
	defer cancel()
	select {
	case p.places <- struct{}{}:
	case <-patient.Done():
		g.done(kitchen)
		return nil, cmp.Or(ctx.Err(), error(Later(http.StatusTooManyRequests, "web.too-much-at-once", time.Second)))
	}
	select {
	case g.all <- struct{}{}:
		return func() { <-g.all; <-p.places; g.done(kitchen) }, nil
	case <-patient.Done():
		<-p.places
		g.done(kitchen)
		return nil, cmp.Or(ctx.Err(), error(Later(http.StatusTooManyRequests, "web.server-is-busy", 2*time.Second)))
	}
}

// partOf a kitchen, with one more that asks; nil where too many do.
func (g *Gate) partOf(kitchen uuid.UUID) *part {
	g.mu.Lock()
	defer g.mu.Unlock()
	p := g.kitchens[kitchen]
	if p == nil {
		p = &part{places: make(chan struct{}, perKitchen)}
		g.kitchens[kitchen] = p
	}
	if p.asking >= perKitchen+mostWaiting {
		return nil
	}
	p.asking++
	return p
}

// done is one less that asks.
func (g *Gate) done(kitchen uuid.UUID) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if p := g.kitchens[kitchen]; p.asking > 1 {
		p.asking--
	} else {
		delete(g.kitchens, kitchen)
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
