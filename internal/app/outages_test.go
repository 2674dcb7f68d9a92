package app_test

import (
	"fmt"
	"math/rand/v2"
	"net/http"
	"sync"
	"testing"
)

// Many at once at the same few orders, batches and hours: somebody's transaction is given up now and then because two waited for each other. It is begun anew, and nobody is told
// of it: all are answered, none with a failure.
func TestManyAtTheSameOrders(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	var ids, batches []any
	for n := range 4 {
		id := p.bombs(fmt.Sprint("Guest ", n), 6+n)
		ids = append(ids, id)
		batches = append(batches, p.day(id)["batch"])
	}
	steps := p.steps(batches[0])
	var (
		wait  sync.WaitGroup
		mutex sync.Mutex
		told  = map[int]int{}
	)
	for n := range 6 {
		q := h.maren(t)
		rnd := rand.New(rand.NewPCG(uint64(n), 14))
		wait.Go(func() {
			for range 20 {
				var a answer
				id := ids[rnd.IntN(len(ids))]
				switch rnd.IntN(5) {
				case 0, 1:
					a = q.send("POST", fmt.Sprint("/orders/", id, "/moves"), object{"to": []string{"promised", "in the making", "cancelled", "enquiry", "packed"}[rnd.IntN(5)]})
				case 2:
					a = q.send("PUT", fmt.Sprint("/batches/", batches[rnd.IntN(len(batches))], "/steps/", steps[rnd.IntN(len(steps))]["step"]), object{"done": rnd.IntN(2) == 0})
				case 3:
					a = q.send("PUT", "/capacity", q.must(200, "GET", "/capacity", nil), "If-Match", q.tag("/capacity"))
				case 4:
					o := q.send("GET", fmt.Sprint("/orders/", id), nil)
					a = q.send("PUT", fmt.Sprint("/orders/", id), with(q.draft("Cardamom-malt bombs", 4+rnd.IntN(9)), object{"customer": "Ada Quill"}), "If-Match", o.header.Get("ETag"))
				}
				mutex.Lock()
				told[a.status]++
				mutex.Unlock()
				if a.status >= http.StatusInternalServerError {
					t.Errorf("%d: %s", a.status, a.body)
				}
			}
		})
	}
	wait.Wait()
	if told[200] < 20 {
		t.Errorf("hardly anything was done: %v", told)
	}
	t.Log(told)
}
