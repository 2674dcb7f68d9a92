package main

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/demo"
	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/pglocal"
)

// estate is a database of its own with the demo kitchen in it, and servers of the real binary in front of it.
type estate struct {
	t       *testing.T
	dir     string
	pg      *pglocal.Server
	servers []*served
}

// served is one of the servers, at an address that it keeps.
type served struct {
	e    *estate
	addr string
	cmd  *exec.Cmd
}

var pinned = time.Date(2026, 9, 3, 14, 20, 0, 0, time.UTC)

// estateIn a folder with so many servers; "" is a new folder.
func estateIn(t *testing.T, dir string, servers int) *estate {
	t.Helper()
	ctx := context.Background()
	if dir == "" {
		var err error
		if dir, err = os.MkdirTemp("",
			"zestytin-estate-*"); err != nil { // not below TempDir, whose parents the database's own user may not enter
			t.Fatal(err)
		}
		t.Cleanup(func() { _ = os.RemoveAll(dir) })
	}
	pg, err := pglocal.Start(ctx, dir, pglocal.Options{Fast: true})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = pg.Stop() })
	e := &estate{t: t, dir: dir, pg: pg}
	if err := pg.Ensure(ctx, "zestytin"); err != nil {
		t.Fatal(err)
	}
	if err := migrate(ctx, pg.Owner("zestytin"), clock.Pinned(pinned)); err != nil {
		t.Fatal(err)
	}
	pool, err := db.Open(ctx, pg.Login("zestytin"))
	if err == nil {
		err = demo.Load(ctx, pool, pinned)
		pool.Close()
	}
	if err != nil {
		t.Fatal(err)
	}
	for range servers {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		s := &served{e: e, addr: l.Addr().String()}
		l.Close()
		e.servers = append(e.servers, s)
		s.start()
		t.Cleanup(func() { s.end(syscall.SIGKILL) })
	}
	return e
}

// start the server, and wait until it is ready.
func (s *served) start() {
	s.e.t.Helper()
	s.cmd = exec.Command(built(s.e.t), "serve", "--addr", s.addr, "--now", pinned.Format(time.RFC3339))
	s.cmd.Env = append(os.Environ(), "DATABASE_URL="+s.e.pg.Login("zestytin"))
	s.cmd.Stderr = io.Discard
	out, err := s.cmd.StdoutPipe()
	if err != nil {
		s.e.t.Fatal(err)
	}
	if err := s.cmd.Start(); err != nil {
		s.e.t.Fatal(err)
	}
	lines := bufio.NewScanner(out)
	if !lines.Scan() {
		s.e.t.Fatalf("the server at %s did not start", s.addr)
	}
	go io.Copy(io.Discard, out)
}

// end the server by a signal.
func (s *served) end(signal syscall.Signal) {
	_ = s.cmd.Process.Signal(signal)
	_ = s.cmd.Wait()
}

// killDatabase without a word to it.
func (e *estate) killDatabase() {
	e.t.Helper()
	text, err := os.ReadFile(filepath.Join(e.dir, "data", "postmaster.pid"))
	if err != nil {
		e.t.Fatal(err)
	}
	pid, err := strconv.Atoi(strings.Fields(string(text))[0])
	if err == nil {
		err = syscall.Kill(pid, syscall.SIGKILL)
	}
	if err != nil {
		e.t.Fatal(err)
	}
}

// databaseBack waits until the database, once it was gone, answers again, and tells when that was.
func (e *estate) databaseBack() time.Time {
	for gone := false; ; time.Sleep(10 * time.Millisecond) {
		conn, err := pgx.Connect(context.Background(), e.pg.Owner("zestytin"))
		if err == nil {
			conn.Close(context.Background())
		}
		if gone = gone || err != nil; gone && err == nil {
			return time.Now()
		}
	}
}

// saving is eight clients that save one order after the other. What is not answered is sent again, with the same key,
// to one of the servers, until it is.
type saving struct {
	e            *estate
	wait         sync.WaitGroup
	over         atomic.Bool
	acknowledged atomic.Int64
	names        sync.Map // of acknowledged orders, with their ids
	refused      sync.Map // statuses that are neither a success nor a word that it will be back
}

func (e *estate) save() *saving {
	e.t.Helper()
	s := &saving{e: e}
	jar, _ := cookiejar.New(nil) // cookies are of a host, whatever its port: signed in to one is signed in to all
	c := &http.Client{Jar: jar, Timeout: 15 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 20}}
	first := "http://" + e.servers[0].addr
	res, err := c.Post(first+"/api/v1/session", "application/json",
		strings.NewReader(`{"mail":"`+demo.SignIn.Mail+`","password":"`+demo.SignIn.Password+`"}`))
	if err != nil || res.StatusCode != 200 {
		e.t.Fatalf("sign in: %v %v", res, err)
	}
	res.Body.Close()
	treats := get[struct{ Treats []struct{ ID string } }](e.t, c, first+"/api/v1/treats").Treats
	for client := range 8 {
		s.wait.Go(func() {
			for n := 0; !s.over.Load(); n++ {
				name, key := fmt.Sprintf("Saver %d of %d", n, client), uuid.NewString()
				body := fmt.Sprintf(
					`{"customer":%q,"way":"pickup","from":"2026-09-12T18:00:00Z","to":"2026-09-12T19:00:00Z","freeFrom":[],"lines":[{"treat":%q,"count":%d},{"treat":%q,"count":7}]}`, name, treats[0].ID, n%90+1, treats[1].ID)
				for try := 0; ; try++ {
					if id := s.send(c, e.servers[(client+n+try)%len(e.servers)], body, key); id != "" {
						s.names.Store(name, id)
						s.acknowledged.Add(1)
						time.Sleep(60 * time.Millisecond) // the processors are needed for other tests too
						break
					}
					if s.over.Load() {
						return
					}
					time.Sleep(20 * time.Millisecond)
				}
			}
		})
	}
	return s
}

// send an order: its id where it is acknowledged.
func (s *saving) send(c *http.Client, to *served, body, key string) string {
	req, _ := http.NewRequest("POST", "http://"+to.addr+"/api/v1/orders", bytes.NewReader([]byte(body)))
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("Idempotency-Key", key)
	res, err := c.Do(req)
	if err != nil {
		return ""
	}
	defer res.Body.Close()
	said, err := io.ReadAll(res.Body)
	var o savedOrder
	switch {
	case res.StatusCode == http.StatusCreated && err == nil && json.Unmarshal(said, &o) == nil:
		return o.ID
	case res.StatusCode == http.StatusCreated, res.StatusCode == http.StatusServiceUnavailable &&
		res.Header.Get("Retry-After") != "", res.StatusCode == http.StatusTooManyRequests:
		return ""
	}
	s.refused.Store(res.StatusCode, string(said))
	return ""
}

// until so many more orders are acknowledged.
func (s *saving) until(more int64) {
	s.e.t.Helper()
	for goal, end := s.acknowledged.Load()+more, time.Now().Add(
		60*time.Second); s.acknowledged.Load() < goal; time.Sleep(5 * time.Millisecond) {
		if time.Now().After(end) {
			s.e.t.Fatalf("nothing is saved any more: %d were", s.acknowledged.Load())
		}
	}
}

// check, at the end, that all that was acknowledged is there, nothing twice, and nothing half.
func (s *saving) check() {
	s.e.t.Helper()
	s.over.Store(true)
	s.wait.Wait()
	s.refused.Range(func(status, said any) bool {
		s.e.t.Errorf("answered with %v: %v", status, said)
		return true
	})
	ctx := context.Background()
	owner, err := pgx.Connect(ctx, s.e.pg.Owner("zestytin"))
	if err != nil {
		s.e.t.Fatal(err)
	}
	defer owner.Close(ctx)
	there := map[string]string{}
	rows, _ := owner.Query(ctx, `select o.customer, o.id::text, (select count(*) from order_lines l
			where l.order_id = o.id), (select count(*) from order_moves m where m.order_id = o.id) from orders o
			where o.customer like 'Saver %'`)
	var name, id string
	var lines, moves int
	_, err = pgx.ForEachRow(rows, []any{&name, &id, &lines, &moves}, func() error {
		if other, twice := there[name]; twice {
			s.e.t.Errorf("%s is there twice: %s and %s", name, other, id)
		}
		if there[name] = id; lines != 2 || moves != 1 {
			s.e.t.Errorf("%s is half there: %d lines, %d moves", name, lines, moves)
		}
		return nil
	})
	if err != nil {
		s.e.t.Fatal(err)
	}
	s.names.Range(func(name, id any) bool {
		if there[name.(string)] != id {
			s.e.t.Errorf("%v was acknowledged as %v, and there is %q", name, id, there[name.(string)])
		}
		return true
	})
	s.e.t.Logf("%d acknowledged, %d there", s.acknowledged.Load(), len(there))
}

// times that a thing is done: fewer where everything is tested, as many as the environment says in `make kills`.
func times(name string, usual int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return usual
}

// Two servers of one database under eight clients, as in a deploy, only worse: one after the other is killed and
// started again, every fifth time as it should be ended. Nothing that was acknowledged is lost, nothing is there twice,
// nothing half; and a server that is asked to end ends in good order, with what it had begun.
func TestServersAreKilled(t *testing.T) {
	t.Parallel()
	e := estateIn(t, "", 2)
	s := e.save()
	for n := range times("KILLS", 50) {
		s.until(3)
		server := e.servers[n%2]
		if n%5 == 4 {
			if err := server.cmd.Process.Signal(syscall.SIGTERM); err != nil {
				t.Fatal(err)
			}
			if err := server.cmd.Wait(); err != nil {
				t.Errorf("asked to end, it ended with %v", err)
			}
		} else {
			server.end(syscall.SIGKILL)
		}
		server.start()
	}
	s.until(5)
	s.check()
}

// The database is killed under two servers and eight clients, and started again: these servers go on with it within two
// seconds, and nothing is lost, twice or half.
func TestTheDatabaseOfTwoServersIsKilled(t *testing.T) {
	t.Parallel()
	e := estateIn(t, "", 2)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	go e.pg.Watch(ctx)
	s := e.save()
	for range times("DATABASE_KILLS", 5) {
		s.until(20)
		e.killDatabase()
		back := e.databaseBack()
		s.until(1)
		if took := time.Since(back); took > 2*time.Second {
			t.Errorf("%v after the database was back, the first order was saved", took)
		}
	}
	s.until(20)
	s.check()
}

// The disk of the database is full: servers go on, orders are refused with the word that it will be back, none is told
// as saved that is not. Within ten seconds of there being room again they are saved. It needs a small file system of
// its own, and so root.
func TestTheDiskIsFull(t *testing.T) {
	t.Parallel()
	dir, err := os.MkdirTemp("", "zestytin-full-*")
	if err != nil {
		t.Fatal(err)
	}
	defer os.Remove(dir)
	if err := syscall.Mount("tmpfs", dir, "tmpfs", 0, "size=256m,mode=0755"); err != nil {
		t.Skipf("NOT TESTED: a full disk. It needs a small file system, and so root: %v", err)
	}
	t.Cleanup(func() { _ = syscall.Unmount(dir, syscall.MNT_DETACH) })
	e := estateIn(t, dir, 1)
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	go e.pg.Watch(ctx)
	s := e.save()
	s.until(20)
	filler := filepath.Join(dir, "filler")
	f, err := os.Create(filler)
	if err != nil {
		t.Fatal(err)
	}
	for block := make([]byte, 64<<10); err == nil; {
		_, err = f.Write(block)
	}
	f.Close()
	stuck := func() bool {
		before := s.acknowledged.Load()
		time.Sleep(2 * time.Second)
		return s.acknowledged.Load() == before
	}
	for end := time.Now().Add(60 * time.Second); !stuck(); {
		if time.Now().After(end) {
			t.Fatal("orders are saved on a full disk")
		}
	}
	if got, err := http.Get("http://" + e.servers[0].addr + "/healthz"); err != nil || got.StatusCode != 200 {
		t.Errorf("on a full disk the server itself: %v %v", got, err)
	}
	if err := os.Remove(filler); err != nil {
		t.Fatal(err)
	}
	room := time.Now()
	s.until(1)
	if took := time.Since(room); took > 10*time.Second {
		t.Errorf("%v after there was room again, the first order was saved", took)
	}
	s.until(20)
	s.check()
	t.Logf("saved again %v after there was room", time.Since(room))
}
