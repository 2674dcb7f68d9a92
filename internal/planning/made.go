package planning

import (
	"bytes"
	"context"
	"errors"
	"net/http"
	"time"

	"zestytin/core/plan"
	"zestytin/internal/platform/web"
)

// patience is how long a request waits for the plan of another to be made.
const patience = 5 * time.Second

// made is a plan for a problem that stands on its own; nothing of the kitchen goes into it and nothing is saved.
func (p *Planning) made(ctx context.Context, in *struct {
	Effort  int    `query:"effort" minimum:"0" maximum:"8000" doc:"How long to improve the plan, in moves; 0: as long as a fortnight's work deserves"`
	RawBody []byte `contentType:"application/json"`
}) (*struct{ Body plan.Plan }, error) {
	problem, err := plan.Read(bytes.TrimSpace(in.RawBody))
	if err != nil {
		return nil, err
	}
	select {
	case p.room <- struct{}{}:
		defer func() { <-p.room }()
	case <-time.After(patience):
		return nil, web.Reject(http.StatusTooManyRequests, "planning.other-plans-are-being-made")
	}
	made, err := plan.Make(ctx, problem, plan.Options{Effort: in.Effort})
	if errors.Is(err, context.Canceled) {
		return nil, web.Reject(http.StatusRequestTimeout, "planning.was-stopped")
	}
	if err != nil {
		return nil, err
	}
	return &struct{ Body plan.Plan }{*made}, nil
}
