package app_test

import (
	"bufio"
	"fmt"
	"net"
	"net/url"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"
)

// BenchmarkStream has 200 devices listen on one server, 40 in each of five kitchens, while a probe in each posts: how
// long it takes from the post until a device has the reading and what to do (p95, goal below 250 ms), and how much memory
// a device costs (goal below 64 kB).
func BenchmarkStream(b *testing.B) {
	const kitchens, devices = 5, 40
	h := openFor(b)
	var posts []string
	var people []*person
	for k := range kitchens {
		p := h.visitor(b)
		p.must(201, "POST", "/kitchens", object{"kitchen": fmt.Sprint("Kitchen ", k), "name": "Bo",
			"mail": fmt.Sprintf("bo%d@elsewhere.example", k), "password": "quite another one", "timeZone": "Europe/Vienna",
			"currency": "EUR"})
		probe := p.sensor("probe", "C", false)
		p.bowl(object{"probe": probe["id"]})
		posts, people = append(posts, strings.TrimPrefix(probe["path"].(string), "/api/v1")), append(people, p)
	}
	at := mustURL(b, h.URL)
	runtime.GC()
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	heard := make(chan time.Time, kitchens*devices)
	var open sync.WaitGroup
	for _, p := range people {
		for range devices {
			open.Add(1)
			go func() {
				// A bare connection, so that what is measured is the server's end.
				conn, err := net.Dial("tcp", at.Host)
				if err != nil {
					b.Error(err)
					open.Done()
					return
				}
				b.Cleanup(func() { conn.Close() })
				var cookies []string
				for _, c := range p.Jar.Cookies(at) {
					cookies = append(cookies, c.Name+"="+c.Value)
				}
				fmt.Fprintf(conn, "GET /api/v1/events HTTP/1.1\r\nHost: %s\r\nCookie: %s\r\n\r\n", at.Host,
					strings.Join(cookies, "; "))
				read := bufio.NewReaderSize(conn, 4096)
				for {
					line, err := read.ReadString('\n')
					if err != nil {
						return
					}
					if strings.HasPrefix(line, ": here") {
						open.Done()
					}
					if strings.HasPrefix(line, "event: pot") {
						heard <- time.Now()
					}
				}
			}()
		}
	}
	open.Wait()
	time.Sleep(time.Second)
	runtime.GC()
	runtime.ReadMemStats(&after)
	visitor := h.visitor(b)
	var took []time.Duration
	for b.Loop() {
		h.pass(2 * time.Second)
		for _, at := range posts {
			begun := time.Now()
			if a := visitor.send("POST", at, object{"readings": []object{{"value": 31}}}); a.status != 200 {
				b.Fatal(a.status, a.body)
			}
			for range devices {
				took = append(took, (<-heard).Sub(begun))
			}
		}
	}
	slices.Sort(took)
	b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "ms-p95")
	b.ReportMetric(float64(after.HeapInuse+after.StackInuse-before.HeapInuse-before.StackInuse)/kitchens/devices/1024,
		"kB/device")
}

func mustURL(b *testing.B, text string) *url.URL {
	b.Helper()
	u, err := url.Parse(text)
	if err != nil {
		b.Fatal(err)
	}
	return u
}
