package live

import (
	"context"
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"

	"zestytin/internal/platform/web"
)

// beat is how often a stream in which nothing happens says that it is still there.
const beat = 20 * time.Second

// Account is the topic after which it is asked anew whether somebody is still let in.
const Account = "account"

// Register adds the stream of events. still says whether who opened it is still signed in.
func Register(h web.Base, hub *Hub, still func(context.Context) bool) {
	web.Register(h, huma.Operation{OperationID: "stream-events", Method: "GET", Path: "/api/v1/events",
		Summary: "What changes in the kitchen, as server-sent events: topics, whose rest is to be asked for anew",
		Tags:    []string{"Kitchen"},
		Responses: map[string]*huma.Response{"200": {Description: "A stream of events, each with a topic as its data; an event that is named carries what is new of it, as JSON: pot, what has been said of a bowl and what to do next",
			Content: map[string]*huma.MediaType{"text/event-stream": {Schema: &huma.Schema{Type: "string"}}}}}},
		func(ctx context.Context, _ *struct{}) (*huma.StreamResponse, error) {
			s, leave, ok := hub.Open(web.ActorOf(ctx).Kitchen)
			if !ok {
				return nil, web.Reject(http.StatusServiceUnavailable, "web.too-many-streams")
			}
			return &huma.StreamResponse{Body: func(hc huma.Context) {
				defer leave()
				hc.SetHeader("Content-Type", "text/event-stream")
				hc.SetHeader("Cache-Control", "no-store")
				hc.SetHeader("X-Accel-Buffering", "no") // a proxy in front passes it on at once
				_, w := humachi.Unwrap(hc)
				send(hc.Context(), w, s, still)
			}}, nil
		})
}

// hears says whether what changed concerns somebody: a bookkeeper hears of orders, whose money the till has.
func hears(who web.Actor, topic string) bool {
	return who.Role != web.Bookkeeper || slices.Contains([]string{"orders", "kitchen", Account, Everything}, topic)
}

// send what comes until the browser or the server goes.
func send(ctx context.Context, w http.ResponseWriter, s *Stream, still func(context.Context) bool) {
	control := http.NewResponseController(w)
	_ = control.SetReadDeadline(time.Time{}) // the request has been read
	say := func(text string) bool {
		// The time to write an answer is counted anew for each event.
		_ = control.SetWriteDeadline(time.Now().Add(2 * beat))
		if _, err := fmt.Fprint(w, text); err != nil {
			return false
		}
		return control.Flush() == nil
	}
	if !say("retry: 2000\n: here\n\n") {
		return
	}
	tick := time.NewTicker(beat)
	defer tick.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-s.Done:
			return
		case <-tick.C:
			if !say(": still here\n\n") {
				return
			}
		case <-s.Wake:
			topics, said := s.Take()
			if slices.Contains(topics, Account) && !still(ctx) {
				_ = say("data: " + Account + "\n\n") // nothing else is told any more
				return
			}
			who := web.ActorOf(ctx)
			for _, topic := range topics {
				if hears(who, topic) && !say("data: "+topic+"\n\n") {
					return
				}
			}
			for _, x := range said {
				if hears(who, x.Topic) && !say("event: "+x.Topic+"\ndata: "+x.Body+"\n\n") {
					return
				}
			}
		}
	}
}
