// Package live tells pages that are open what has changed, as topics: they ask for the rest anew. What changed comes
// from the database, by LISTEN and NOTIFY, so that it does not matter which server changed it.
package live

import (
	"context"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
)

// Everything may have changed: the topic after the database could not be heard for a while.
const Everything = "everything"

// MostStreams of one kitchen that are open at a time; a browser has one.
const MostStreams = 40

// Hub hears the database for all streams of a server, as long as there is one.
type Hub struct {
	pool *pgxpool.Pool

	mu      sync.Mutex
	streams map[uuid.UUID]map[*Stream]bool
	stop    context.CancelFunc // of the listening; nil while nobody listens
	closed  bool

	// Heard is told what has changed in which kitchen, before the streams are. Beat is done every second while somebody
	// listens, for the kitchens that do. Both are set before the first stream is opened.
	Heard func(kitchen uuid.UUID, topic string)
	Beat  func(ctx context.Context, kitchens []uuid.UUID)
}

// NewHub of a pool's database.
func NewHub(pool *pgxpool.Pool) *Hub {
	return &Hub{pool: pool, streams: map[uuid.UUID]map[*Stream]bool{}}
}

// Stream of what changes in one kitchen.
type Stream struct {
	mu     sync.Mutex
	topics map[string]bool // that have not been read yet
	said   []Said
	Wake   chan struct{} // there are some
	Done   chan struct{} // the server goes
}

// Said is a topic with what is new of it, so that nobody need ask.
type Said struct {
	Topic, Body string
}

// MostSaid is how much waits for a page that is slow; what does not fit is asked for.
const MostSaid = 32

// Take what has come since: topics, whose rest is to be asked for, and what says itself.
func (s *Stream) Take() (topics []string, said []Said) {
	s.mu.Lock()
	defer s.mu.Unlock()
	topics = make([]string, 0, len(s.topics))
	for t := range s.topics {
		topics = append(topics, t)
	}
	clear(s.topics)
	said, s.said = s.said, nil
	return topics, said
}

func (s *Stream) add(topic, body string) {
	s.mu.Lock()
	switch {
	case body == "":
		s.topics[topic] = true
	case len(s.said) < MostSaid:
		s.said = append(s.said, Said{topic, body})
	default:
		s.said = nil
		s.topics[Everything] = true
	}
	s.mu.Unlock()
	select {
	case s.Wake <- struct{}{}:
	default: // it has been woken already
	}
}

// Open a stream of a kitchen; false where it has too many, or the server goes. Close it with leave.
func (h *Hub) Open(kitchen uuid.UUID) (s *Stream, leave func(), ok bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.closed || len(h.streams[kitchen]) >= MostStreams {
		return nil, nil, false
	}
	s = &Stream{topics: map[string]bool{}, Wake: make(chan struct{}, 1), Done: make(chan struct{})}
	if h.streams[kitchen] == nil {
		h.streams[kitchen] = map[*Stream]bool{}
	}
	h.streams[kitchen][s] = true
	if h.stop == nil {
		ctx, stop := context.WithCancel(context.Background())
		h.stop = stop
		go h.listen(ctx)
		if h.Beat != nil {
			go h.beat(ctx)
		}
	}
	return s, func() { h.leave(kitchen, s) }, true
}

func (h *Hub) leave(kitchen uuid.UUID, s *Stream) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.streams[kitchen], s)
	if len(h.streams[kitchen]) == 0 {
		delete(h.streams, kitchen)
	}
	if len(h.streams) == 0 && h.stop != nil {
		h.stop()
		h.stop = nil
	}
}

// Close ends all streams, so that a server can go.
func (h *Hub) Close() {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.closed {
		return
	}
	h.closed = true
	for _, of := range h.streams {
		for s := range of {
			close(s.Done)
		}
	}
}

// listen until nobody does any more; where the database goes away, again as soon as it is back.
func (h *Hub) listen(ctx context.Context) {
	for first := true; ctx.Err() == nil; first = false {
		if err := h.hear(ctx, first); err != nil && ctx.Err() == nil {
			slog.WarnContext(ctx, "changes cannot be heard", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(time.Second):
		}
	}
}

func (h *Hub) hear(ctx context.Context, first bool) error {
	conn, err := pgx.ConnectConfig(ctx, h.pool.Config().ConnConfig) // one of its own: it is not for queries
	if err != nil {
		return err
	}
	defer conn.Close(context.WithoutCancel(ctx))
	if _, err := conn.Exec(ctx, "listen zt_changes"); err != nil {
		return err
	}
	if !first { // what changed meanwhile was not heard
		for _, kitchen := range h.kitchens() {
			h.pass(kitchen, Everything, "")
		}
	}
	for {
		n, err := conn.WaitForNotification(ctx)
		if err != nil {
			return err
		}
		id, rest, _ := strings.Cut(n.Payload, " ")
		topic, body, _ := strings.Cut(rest, " ")
		kitchen, err := uuid.Parse(id)
		if err != nil {
			continue
		}
		h.pass(kitchen, topic, body)
	}
}

// pass on what was heard.
func (h *Hub) pass(kitchen uuid.UUID, topic, body string) {
	if h.Heard != nil && body == "" {
		h.Heard(kitchen, topic)
	}
	h.Tell(kitchen, topic, body)
}

// Tell the pages of a kitchen that this server has: that something of a topic has changed, or what is new of it.
func (h *Hub) Tell(kitchen uuid.UUID, topic, body string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for s := range h.streams[kitchen] {
		s.add(topic, body)
	}
}

// kitchens of which somebody listens.
func (h *Hub) kitchens() []uuid.UUID {
	h.mu.Lock()
	defer h.mu.Unlock()
	return slices.Collect(maps.Keys(h.streams))
}

// beat every second, until nobody listens any more.
func (h *Hub) beat(ctx context.Context) {
	tick := time.NewTicker(time.Second)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
			h.Beat(ctx, h.kitchens())
		}
	}
}
