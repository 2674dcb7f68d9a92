// Load puts clients at a running server and tells how long each kind of request took: the median, the 95th and the 99th
// of a hundred, and how many a second were answered in all. It signs in to the demo kitchen. Use it before and after a
// change, at a machine that does nothing else.
//
//	go run ./tools/load -url http://127.0.0.1:8080 -clients 8 -seconds 10
package main

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"net/http"
	"net/http/cookiejar"
	"slices"
	"sync"
	"time"

	"zestytin/internal/demo"
)

// kind of a request.
type kind struct {
	name, method, path string
	body               any
}

func main() {
	url := flag.String("url", "http://127.0.0.1:8080", "of the server")
	clients := flag.Int("clients", 8, "that ask at the same time, each one thing after the other")
	seconds := flag.Int("seconds", 10, "that each kind of request is asked")
	flag.Parse()
	log.SetFlags(0)
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 30 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: *clients}}
	if status, err := ask(c, *url, kind{method: "POST", path: "/api/v1/session", body: demo.SignIn}); err != nil ||
		status != 200 {
		log.Fatalf("sign in to %s: %d %v", *url, status, err)
	}
	var list struct {
		Treats []struct{ ID string }
	}
	res, err := c.Get(*url + "/api/v1/treats")
	if err == nil {
		err = json.NewDecoder(res.Body).Decode(&list)
		res.Body.Close()
	}
	if err != nil || len(list.Treats) == 0 {
		log.Fatalf("the treats: %v", err)
	}
	draft := map[string]any{"customer": "Ada Quill", "way": "pickup", "place": "at the door",
		"from": "2026-09-12T18:00:00Z", "to": "2026-09-12T19:00:00Z",
		"lines": []any{map[string]any{"treat": list.Treats[0].ID, "count": 24}}, "freeFrom": []string{}}
	fmt.Printf("| request | answers/s | median | 95%% | 99%% | not 200 |\n|---|---|---|---|---|---|\n")
	for _, k := range []kind{
		{"alive", "GET", "/healthz", nil},
		{"a page", "GET", "/", nil},
		{"the session", "GET", "/api/v1/session", nil},
		{"the orders", "GET", "/api/v1/orders", nil},
		{"the plan", "GET", "/api/v1/plan", nil},
		{"figures of an order", "POST", "/api/v1/estimates", map[string]any{"draft": draft, "figures": true}},
		{"can I take this?", "POST", "/api/v1/estimates", map[string]any{"draft": draft}},
	} {
		took, odd := load(c, *url, k, *clients, time.Duration(*seconds)*time.Second)
		at := func(share float64) string {
			return fmt.Sprintf("%.2f ms", float64(took[min(int(float64(len(took))*share),
				len(took)-1)].Microseconds())/1000)
		}
		fmt.Printf("| %s | %.0f | %s | %s | %s | %d |\n", k.name, float64(len(took))/float64(*seconds), at(0.5),
			at(0.95), at(0.99), odd)
	}
}

// load asks for so long, and returns how long each answer took, in order, and how many were none.
func load(c *http.Client, url string, k kind, clients int, span time.Duration) (took []time.Duration, odd int) {
	var (
		wait  sync.WaitGroup
		mutex sync.Mutex
	)
	end := time.Now().Add(span)
	for range clients {
		wait.Go(func() {
			for time.Now().Before(end) {
				begun := time.Now()
				status, err := ask(c, url, k)
				mutex.Lock()
				took = append(took, time.Since(begun))
				if err != nil || status != 200 {
					odd++
				}
				mutex.Unlock()
			}
		})
	}
	wait.Wait()
	slices.Sort(took)
	return took, odd
}

func ask(c *http.Client, url string, k kind) (status int, err error) {
	var body io.Reader
	if k.body != nil {
		text, err := json.Marshal(k.body)
		if err != nil {
			return 0, err
		}
		body = bytes.NewReader(text)
	}
	req, err := http.NewRequest(k.method, url+k.path, body)
	if err != nil {
		return 0, err
	}
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	res, err := c.Do(req)
	if err != nil {
		return 0, err
	}
	defer res.Body.Close()
	_, err = io.Copy(io.Discard, res.Body)
	return res.StatusCode, err
}
