package app_test

import (
	"bufio"
	"net/http"
	"strings"
	"testing"
	"time"
)

// events opens the stream of a person, and gives the topics as they come.
func (p *person) events() <-chan string {
	p.t.Helper()
	answer, err := p.Get(p.base + "/api/v1/events")
	if err != nil {
		p.t.Fatal(err)
	}
	p.t.Cleanup(func() { answer.Body.Close() })
	if kind := answer.Header.Get("Content-Type"); answer.StatusCode != 200 || kind != "text/event-stream" {
		p.t.Fatalf("%d %s", answer.StatusCode, kind)
	}
	topics := make(chan string, 100)
	read := bufio.NewScanner(answer.Body)
	read.Scan() // it is open
	go func() {
		defer close(topics)
		for read.Scan() {
			if topic, is := strings.CutPrefix(read.Text(), "data: "); is {
				topics <- topic
			}
		}
	}()
	time.Sleep(300 * time.Millisecond) // until the database is listened to
	return topics
}

// TestChangesAreHeard on every device of a kitchen, within ten seconds, whichever server they were made at: a yes of
// the customer too, who is not signed in; and by nobody of another kitchen.
func TestChangesAreHeard(t *testing.T) {
	t.Parallel()
	h := open(t)
	maren, other := h.maren(t), h.stranger(t)
	order, token := maren.quote("Cardamom-malt bombs", 12)
	heard, elsewhere := maren.events(), other.events()
	hears := func(topic string) {
		t.Helper()
		for end := time.After(10 * time.Second); ; {
			select {
			case got, open := <-heard:
				if !open {
					t.Fatal("the stream has ended")
				}
				if got == topic {
					return
				}
			case <-end:
				t.Fatalf("nothing is heard of %s", topic)
			}
		}
	}
	customer := h.visitor(t)
	customer.must(200, "POST", "/quotes/"+token+"/acceptance", object{"name": "Ada"})
	hears("orders")
	k := maren.must(200, "GET", "/kitchen", nil)
	maren.must(200, "PUT", "/kitchen", with(k, object{"hourly": "33.00"}), "If-Match", maren.tag("/kitchen"))
	hears("kitchen")
	_ = order
	select {
	case topic := <-elsewhere:
		t.Errorf("another kitchen hears of %s", topic)
	default:
	}
	if a := h.visitor(t).send("GET", "/events", nil); a.status != http.StatusUnauthorized {
		t.Errorf("a stranger: %d", a.status)
	}
	h.app.Live.Close()
	for end := time.After(5 * time.Second); ; {
		select {
		case _, open := <-heard:
			if !open {
				return
			}
		case <-end:
			t.Fatal("the stream does not end with the server")
		}
	}
}
