package handover

import (
	"context"
	"sync"

	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Search is how far the search for the best order of a day's drops has come; both 0 while nothing is sought here.
type Search struct {
	Done int `json:"done"`
	All  int `json:"all"`
}

// searches that are under way in this server, by kitchen and day. Another server knows nothing of them, and says so:
// then nothing but the wait is seen.
type searches struct {
	mu  sync.Mutex
	now map[string]Search
}

func (s *searches) key(ctx context.Context, day string) string {
	return web.ActorOf(ctx).Kitchen.String() + "/" + day
}

// follow a search: what it tells is kept until over is called.
func (s *searches) follow(ctx context.Context, day string) (tell func(done, all int), over func()) {
	key := s.key(ctx, day)
	tell = func(done, all int) {
		s.mu.Lock()
		defer s.mu.Unlock()
		if s.now == nil {
			s.now = map[string]Search{}
		}
		s.now[key] = Search{done, all}
	}
	return tell, func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		delete(s.now, key)
	}
}

func (o *Handover) search(ctx context.Context, in *OnDay) (*struct{ Body Search }, error) {
	o.searches.mu.Lock()
	defer o.searches.mu.Unlock()
	return &struct{ Body Search }{o.searches.now[o.searches.key(ctx, in.Day)]}, nil
}

// Heat is what the heat of a day asks for on its drives: ice, and what to mind at whose door.
func (o *Handover) Heat(ctx context.Context, tx pgx.Tx, day string) ([]reason.Reason, error) {
	d, err := o.drive(ctx, tx, day)
	if err != nil {
		return nil, err
	}
	list := []reason.Reason{}
	for _, v := range d.view.Drives {
		list = append(list, v.Heat...)
		for _, x := range v.Drops {
			if len(x.Care) > 0 {
				list = append(list, reason.Of("handover.care-for", reason.Name(x.Customer), reason.Text(x.Care)))
			}
		}
	}
	return list, nil
}
