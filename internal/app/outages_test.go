package app_test

import (
	"context"
	"fmt"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/internal/app"
	"zestytin/internal/platform/db"
)

// Many at once at the same few orders, batches and hours: somebody's transaction is given up now and then because two
// waited for each other. It is begun anew, and nobody is told of it: all are answered, none with a failure.
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
					a = q.send("POST", fmt.Sprint("/orders/", id, "/moves"),
						object{"to": []string{"promised", "in the making", "cancelled", "enquiry",
							"packed"}[rnd.IntN(5)]})
				case 2:
					a = q.send("PUT", fmt.Sprint("/batches/", batches[rnd.IntN(len(batches))], "/steps/",
						steps[rnd.IntN(len(steps))]["step"]), object{"done": rnd.IntN(2) == 0})
				case 3:
					a = q.send("PUT", "/capacity", q.must(200, "GET", "/capacity", nil), "If-Match", q.tag("/capacity"))
				case 4:
					o := q.send("GET", fmt.Sprint("/orders/", id), nil)
					a = q.send("PUT", fmt.Sprint("/orders/", id),
						with(q.draft("Cardamom-malt bombs", 4+rnd.IntN(9)), object{"customer": "Ada Quill"}),
						"If-Match", o.header.Get("ETag"))
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

// The database gives a transaction up three times: it is begun anew, and the fourth time it is done, once. When it
// gives up every time, the request is told to come back, and nothing of it is there.
func TestGivenUpAndBegunAnew(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	h.own(t, `create sequence tries; grant usage on sequence tries to public;
		create table give_up (times int); grant select on give_up to public; insert into give_up values (3);
		create function gives_up() returns trigger language plpgsql as $$ begin
			if nextval('tries') <= (select times
			from give_up) then raise exception 'crossed' using errcode = '40P01'; end if; return new; end $$;
		create trigger gives_up before insert on orders for each row execute function gives_up()`)
	draft := with(p.draft("Cardamom-malt bombs", 12), object{"customer": "Guest of a deadlock"})
	p.must(201, "POST", "/orders", draft)
	h.own(t, `update give_up set times = 1000`)
	a := p.send("POST", "/orders", draft)
	p.problem(503, "", "Nothing of yours was saved", a)
	if a.header.Get("Retry-After") == "" {
		t.Error("it does not say when to come back")
	}
	if found := p.must(200, "GET", "/orders?which=all&find=Guest+of+a+deadlock",
		nil)["orders"].([]any); len(found) != 1 {
		t.Errorf("%d orders are there, want the one that was answered", len(found))
	}
}

// After a failover the database may answer and take nothing, being the one that only follows: what is read is answered,
// what would be written is told to come back and is not there; when it takes it again, so does the server, without a
// restart.
func TestADatabaseThatOnlyFollows(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	draft := with(p.draft("Cardamom-malt bombs", 12), object{"customer": "Guest of a failover"})
	follows := func(only bool) {
		t.Helper()
		ctx := context.Background()
		conn, err := pgx.Connect(ctx, h.owner)
		if err != nil {
			t.Fatal(err)
		}
		defer conn.Close(ctx)
		name := conn.Config().Database
		for _, statement := range []string{"set default_transaction_read_only = off",
			fmt.Sprintf("alter database %s set default_transaction_read_only = %t", name, only),
			"select pg_terminate_backend(pid) from pg_stat_activity where datname = '" + name +
				"' and pid <> pg_backend_pid()"} {
			if _, err := conn.Exec(ctx, statement); err != nil {
				t.Fatal(err)
			}
		}
	}
	follows(true)
	for range 15 { // connections that were cut are told like a database that is away
		if p.send("GET", "/orders", nil).status == 200 {
			break
		}
	}
	for _, path := range []string{"/orders", "/treats", "/plan", "/larder", "/till"} {
		if a := p.send("GET", path, nil); a.status >= 500 && a.status != 503 || path == "/orders" && a.status != 200 {
			t.Errorf("GET %s: %d %s", path, a.status, a.body)
		}
	}
	for range 3 {
		a := p.send("POST", "/orders", draft)
		p.problem(503, "", "nothing was saved", a)
		if a.header.Get("Retry-After") == "" || strings.Contains(a.body, "read-only") {
			t.Errorf("%v %s", a.header, a.body)
		}
	}
	follows(false)
	begun := time.Now()
	for p.send("POST", "/orders", draft).status != 201 {
		if time.Since(begun) > 2*time.Second {
			t.Fatal("two seconds after it takes orders again, none is taken")
		}
	}
	if found := p.must(200, "GET", "/orders?which=all&find=Guest+of+a+failover",
		nil)["orders"].([]any); len(found) != 1 {
		t.Errorf("%d orders are there, want one", len(found))
	}
}

// All connections are taken: who asks is told within four seconds to come back, the server itself answers, and as soon
// as one is free again, so is the kitchen.
func TestAllConnectionsAreTaken(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	ctx := context.Background()
	var taken []*pgxpool.Conn
	for range h.pool.Config().MaxConns {
		c, err := h.pool.Acquire(ctx)
		if err != nil {
			t.Fatal(err)
		}
		taken = append(taken, c)
	}
	var wait sync.WaitGroup
	begun := time.Now()
	for range 5 {
		wait.Go(func() {
			a := p.send("GET", "/orders", nil)
			if a.status != 503 || a.header.Get("Retry-After") == "" {
				t.Errorf("%d %s", a.status, a.body)
			}
		})
	}
	if a := p.send("GET", "/api/../healthz", nil); a.status != 200 && a.status != 404 {
		t.Errorf("the server itself: %d", a.status)
	}
	if res, err := http.Get(h.URL + "/healthz"); err != nil || res.StatusCode != 200 {
		t.Errorf("/healthz: %v %v", res, err)
	}
	wait.Wait()
	if took := time.Since(begun); took > 4*time.Second {
		t.Errorf("told after %v", took)
	}
	for _, c := range taken {
		c.Release()
	}
	if a := p.send("GET", "/orders", nil); a.status != 200 {
		t.Errorf("with connections free again: %d %s", a.status, a.body)
	}
}

// The server's clock steps back by two hours, as it does when it is set right: who is signed in stays so, what is saved
// before and after is there in the order of saving, edits go on by their tags, and limits let through what they let
// through before.
func TestTheClockStepsBack(t *testing.T) {
	t.Parallel()
	h := open(t)
	var back atomic.Int64
	clock := func() time.Time { return now.Add(-time.Duration(back.Load())) }
	pool, err := db.Open(context.Background(), h.pool.Config().ConnString())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(pool.Close)
	server := httptest.NewServer(app.New(app.Options{Pool: pool, Clock: clock,
		Files: fstest.MapFS{"index.html": {Data: []byte("x")}}}))
	t.Cleanup(server.Close)
	h.URL = server.URL
	p := h.maren(t)
	first := p.must(201, "POST", "/orders", with(p.draft("Cardamom-malt bombs", 12),
		object{"customer": "Guest of a clock"}))
	p.move(200, first["id"], "promised")
	back.Store(int64(2 * time.Hour))
	second := p.must(201, "POST", "/orders", with(p.draft("Cardamom-malt bombs", 6),
		object{"customer": "Guest of a clock"}))
	if second["number"].(float64) <= first["number"].(float64) {
		t.Errorf("numbered %v after %v", second["number"], first["number"])
	}
	at := fmt.Sprint("/orders/", first["id"])
	p.must(200, "PUT", at, with(p.draft("Cardamom-malt bombs", 10), object{"customer": "Guest of a clock"}), "If-Match",
		p.tag(at))
	batch := p.day(first["id"])["batch"]
	steps := p.steps(batch)
	p.tick(batch, steps[0]["step"], true)
	p.move(200, second["id"], "promised")
	for _, path := range []string{"/plan", "/till", "/larder", "/days/2026-09-03/run-sheet", "/calendar.ics"} {
		if a := p.send("GET", path, nil); a.status != 200 && a.status != 404 {
			t.Errorf("%s: %d %s", path, a.status, a.body)
		}
	}
	h.maren(t) // one may still sign in
	if found := p.must(200, "GET", "/orders?which=all&find=Guest+of+a+clock", nil)["orders"].([]any); len(found) != 2 {
		t.Errorf("%d orders are there, want two", len(found))
	}
}
