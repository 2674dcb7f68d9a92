package pots

import (
	"context"
	"log/slog"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/pot"
	"zestytin/core/temper"
	"zestytin/internal/platform/live"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Topic of an update, on the stream of events.
const Topic = "pot"

// Update of a bowl that is watched: what has been said since, and what is to be done now.
type Update struct {
	Pot    uuid.UUID `json:"pot"`
	Now    float64   `json:"now" doc:"s since it was begun"`
	Temps  []Point   `json:"temps,omitempty"`
	Grams  []Point   `json:"grams,omitempty"`
	Advice *Advice   `json:"advice"`
}

// inWords of a kitchen, as JSON.
func (u *Update) inWords(words *text.Words) (string, error) {
	var b strings.Builder
	err := words.JSON(&b, u)
	return strings.TrimSpace(b.String()), err
}

// longest update that goes through the database's notifications, which take 8000 bytes: a longer one says only that
// there is more to be asked for.
const longest = 7500

// tell the pages of all servers, when the transaction is through.
func (p *Pots) tell(ctx context.Context, tx pgx.Tx, u *Update) error {
	words, err := web.Words(ctx, tx)
	if err != nil {
		return err
	}
	body, err := u.inWords(words)
	if err != nil {
		return err
	}
	kitchen := web.ActorOf(ctx).Kitchen.String()
	message := kitchen + " " + Topic + " " + body
	if len(message) > longest {
		message = kitchen + " pots"
	}
	_, err = tx.Exec(ctx, `select pg_notify('zt_changes', $1)`, message)
	return err
}

// feed of the bowls with simulated probes: each server tells its own pages, since all would tell the same.
type feed struct {
	p *Pots

	mu       sync.Mutex // of a beat
	kitchens map[uuid.UUID]*watched

	changes sync.Mutex // of what has changed since the last beat: a beat that waits for the database holds up nobody
	changed map[uuid.UUID]bool
}

// watched are the bowls of one kitchen on whose counters something simulated stands.
type watched struct {
	fresh bool // what is known of them still holds
	words *text.Words
	bowls []*simulation
}

type simulation struct {
	of      *stored
	counter Counter
	scale   bool
	level   pot.Level
	watch   temper.Watch
}

func newFeed(p *Pots) *feed {
	f := &feed{p: p, kitchens: map[uuid.UUID]*watched{}, changed: map[uuid.UUID]bool{}}
	p.Live.Heard = f.heard
	p.Live.Beat = f.beat
	return f
}

// heard that something has changed: the next beat asks anew.
func (f *feed) heard(kitchen uuid.UUID, topic string) {
	f.changes.Lock()
	defer f.changes.Unlock()
	if topic == "pots" || topic == "kitchen" || topic == live.Everything {
		f.changed[kitchen] = true
	}
}

// stale says whether something has changed since it was asked last.
func (f *feed) stale(kitchen uuid.UUID) bool {
	f.changes.Lock()
	defer f.changes.Unlock()
	changed := f.changed[kitchen]
	delete(f.changed, kitchen)
	return changed
}

// beat of every second, for the kitchens that somebody looks at here.
func (f *feed) beat(ctx context.Context, looked []uuid.UUID) {
	f.mu.Lock()
	defer f.mu.Unlock()
	open := make(map[uuid.UUID]bool, len(looked))
	for _, kitchen := range looked {
		open[kitchen] = true
		w := f.kitchens[kitchen]
		if w == nil {
			w = &watched{}
			f.kitchens[kitchen] = w
		}
		if w.fresh = w.fresh && !f.stale(kitchen); !w.fresh {
			if err := f.load(web.WithWho(ctx, web.Actor{Kitchen: kitchen}), w); err != nil {
				slog.WarnContext(ctx, "simulated probes cannot be read", "error", err)
				continue
			}
		}
		for _, s := range w.bowls {
			f.say(ctx, kitchen, w.words, s)
		}
	}
	for kitchen := range f.kitchens {
		if !open[kitchen] {
			delete(f.kitchens, kitchen)
		}
	}
}

// load the bowls of a kitchen whose probes are simulated, as they stand now.
func (f *feed) load(ctx context.Context, w *watched) error {
	ctx, cancel := context.WithTimeout(ctx, 5*time.Second)
	defer cancel()
	return f.p.In(ctx, func(tx pgx.Tx) (err error) {
		if w.words, err = web.Words(ctx, tx); err != nil {
			return err
		}
		list, err := find(ctx, tx, `p.ended_at is null and t.secret is null and t.id is not null`)
		if err != nil {
			return err
		}
		w.bowls = w.bowls[:0]
		for _, s := range list {
			sim := &simulation{of: s, counter: f.p.counter(s), scale: s.Scale != nil && s.Scale.Simulated,
				watch: temper.Watch{Bowl: s.Bowl, Probe: true, Deeds: s.told()}}
			sim.until(s.since(f.p.Clock()) - 1)
			w.bowls = append(w.bowls, sim)
		}
		w.fresh = true
		return nil
	})
}

// until tells what was said of the seconds up to one.
func (s *simulation) until(seconds float64) (temps, grams []Point) {
	point := func(list []Point, x pot.Sample) []Point {
		if x.Gone {
			return list
		}
		return append(list, Point{x.At, x.Value})
	}
	s.counter.Until(seconds, func(temp, weight pot.Sample) {
		s.watch.Said = append(s.watch.Said, temp)
		temps = point(temps, temp)
		if s.scale {
			grams = point(grams, s.level.Hear(weight))
		}
	})
	s.watch.Now = seconds
	return temps, grams
}

// mostSaid at once: after a gap the page asks for the curve.
const mostSaid = 120

func (f *feed) say(ctx context.Context, kitchen uuid.UUID, words *text.Words, s *simulation) {
	u := Update{Pot: s.of.ID, Now: s.of.since(f.p.Clock())}
	u.Temps, u.Grams = s.until(u.Now)
	if len(u.Temps) > mostSaid {
		f.p.Live.Tell(kitchen, "pots", "")
		return
	}
	u.Advice = adviceOf(s.watch.Advise())
	u.Advice.Scale = wrong(&s.level)
	body, err := u.inWords(words)
	if err != nil {
		slog.WarnContext(ctx, "a bowl cannot be told", "error", err)
		return
	}
	f.p.Live.Tell(kitchen, Topic, body)
}
