package planning

import (
	"bytes"
	"context"
	"errors"
	"net/http"

	"zestytin/core/plan"
	"zestytin/internal/platform/web"
)

// most moves that a request may ask for: some seconds of work.
const mostEffort = 20_000 // as the document of the API says

// made is a plan for a problem that stands on its own; nothing of the kitchen goes into it and nothing is saved.
func (p *Planning) made(ctx context.Context, in *struct {
	Effort  int    `query:"effort" minimum:"0" maximum:"20000" doc:"How long to improve the plan, in moves; 0: as long as a fortnight's work deserves"`
	RawBody []byte `contentType:"application/json"`
}) (*struct{ Body plan.Plan }, error) {
	problem, err := plan.Read(bytes.TrimSpace(in.RawBody))
	if err != nil {
		return nil, err
	}
	select {
	case p.room <- struct{}{}:
		defer func() { <-p.room }()
	default:
		return nil, web.Refuse(http.StatusTooManyRequests, "Other plans are being made just now: ask again in a few seconds.")
	}
	made, err := plan.Make(ctx, problem, plan.Options{Effort: min(in.Effort, mostEffort)})
	if errors.Is(err, context.Canceled) {
		return nil, web.Refuse(http.StatusRequestTimeout, "The planning was stopped.")
	}
	if err != nil {
		return nil, err
	}
	return &struct{ Body plan.Plan }{*made}, nil
}
