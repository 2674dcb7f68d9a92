package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"sync/atomic"
	"syscall"
	"testing"
	"time"
)

// running is the real binary, serving the demo kitchen.
type running struct {
	cmd  *exec.Cmd
	base string
}

// builds is the folder of the binary, which TestMain makes and takes away.
var builds string

// building makes the binary once for all tests.
var building = sync.OnceValues(func() (string, error) {
	binary := filepath.Join(builds, "zestytin")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		return "", fmt.Errorf("%w: %s", err, out)
	}
	return binary, nil
})

func built(t *testing.T) string {
	t.Helper()
	binary, err := building()
	if err != nil {
		t.Fatal(err)
	}
	return binary
}

func start(t *testing.T, binary, dir string) *running {
	t.Helper()
	cmd := exec.Command(binary, "demo", "--fast", "--data", dir, "--addr", "127.0.0.1:0", "--now",
		"2026-09-03T10:20:00-04:00")
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = cmd.Process.Kill() })
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		if rest, ok := strings.CutPrefix(lines.Text(), "Zesty Tin is at "); ok {
			go io.Copy(io.Discard, out)
			return &running{cmd, strings.Fields(rest)[0]}
		}
	}
	t.Fatal("the server did not start")
	return nil
}

func (r *running) signIn(t *testing.T) *http.Client {
	t.Helper()
	jar, _ := cookiejar.New(nil)
	c := &http.Client{Jar: jar, Timeout: 30 * time.Second, Transport: &http.Transport{MaxIdleConnsPerHost: 200}}
	res, err := c.Post(r.base+"/api/v1/session", "application/json",
		strings.NewReader(`{"mail":"maren@lakeside.example","password":"three warm tins"}`))
	if err != nil || res.StatusCode != 200 {
		t.Fatalf("sign in: %v %v", res, err)
	}
	res.Body.Close()
	return c
}

func get[T any](t *testing.T, c *http.Client, url string) (v T) {
	t.Helper()
	res, err := c.Get(url)
	if err != nil {
		t.Fatal(err)
	}
	defer res.Body.Close()
	if err := json.NewDecoder(res.Body).Decode(&v); err != nil || res.StatusCode != 200 {
		t.Fatalf("%s: %d %v", url, res.StatusCode, err)
	}
	return v
}

type savedOrder struct {
	ID       string
	Customer string
	Lines    []struct{ Count int }
}

// The server is killed in the middle of 200 concurrent saves and started again: every acknowledged order is there, none
// is half there, and the second server, which took over the database that the first left running, stops it in good
// order.
func TestKilledInTheMiddleOfSaves(t *testing.T) {
	binary := built(t)
	// Not below TempDir, whose parents the database's own user may not enter.
	dir, err := os.MkdirTemp("", "zestytin-kill-*")
	if err != nil {
		t.Fatal(err)
	}
	defer os.RemoveAll(dir)

	first := start(t, binary, dir)
	c := first.signIn(t)
	treats := get[struct{ Treats []struct{ ID string } }](t, c, first.base+"/api/v1/treats").Treats
	before := len(get[struct{ Orders []savedOrder }](t, c, first.base+"/api/v1/orders?which=all&limit=500").Orders)
	var acknowledged sync.Map
	var done atomic.Int32
	var wait sync.WaitGroup
	for i := range 200 {
		wait.Go(func() {
			body := fmt.Sprintf(
				`{"customer":"Saver %d","way":"pickup","from":"2026-09-12T18:00:00Z","to":"2026-09-12T19:00:00Z","freeFrom":[],"lines":[{"treat":%q,"count":%d},{"treat":%q,"count":7}]}`, i, treats[0].ID, i+1, treats[1].ID)
			res, err := c.Post(first.base+"/api/v1/orders", "application/json", bytes.NewReader([]byte(body)))
			if err != nil {
				return // cut off: nothing was promised about it
			}
			defer res.Body.Close()
			var o savedOrder
			if res.StatusCode == http.StatusCreated && json.NewDecoder(res.Body).Decode(&o) == nil {
				acknowledged.Store(o.ID, i)
			}
			if done.Add(1) == 60 {
				_ = first.cmd.Process.Signal(syscall.SIGKILL)
			}
		})
	}
	wait.Wait()
	_ = first.cmd.Wait()
	if n := done.Load(); n < 60 || n == 200 {
		t.Fatalf("%d of 200 were answered: the kill came too early or too late", n)
	}

	second := start(t, binary, dir)
	c = second.signIn(t)
	found := map[string]savedOrder{}
	orders := get[struct{ Orders []savedOrder }](t, c, second.base+"/api/v1/orders?which=all&limit=500").Orders
	for _, o := range orders {
		found[o.ID] = o
		var i int
		if _, err := fmt.Sscanf(o.Customer, "Saver %d", &i); err != nil {
			continue
		}
		full := get[struct{ History []struct{ To string } }](t, c, second.base+"/api/v1/orders/"+o.ID)
		if len(o.Lines) != 2 || o.Lines[0].Count != i+1 || o.Lines[1].Count != 7 || len(full.History) != 1 {
			t.Errorf("order of %s is half there: %+v, %+v", o.Customer, o, full)
		}
	}
	kept := 0
	acknowledged.Range(func(id, i any) bool {
		kept++
		if _, ok := found[id.(string)]; !ok {
			t.Errorf("the order of Saver %d was acknowledged and is gone", i)
		}
		return true
	})
	t.Logf("%d acknowledged, %d there", kept, len(orders)-before)
	if kept < 50 {
		t.Errorf("only %d orders were acknowledged before the kill", kept)
	}
	if err := second.cmd.Process.Signal(syscall.SIGTERM); err != nil {
		t.Fatal(err)
	}
	if err := second.cmd.Wait(); err != nil {
		t.Errorf("the second server did not stop in good order: %v", err)
	}
	if _, err := os.Stat(filepath.Join(dir, "data", "postmaster.pid")); !os.IsNotExist(err) {
		t.Errorf("its database still runs (%v)", err)
	}
}

// The demo's database is killed under its server: pages are served meanwhile, the API says that it will be back and
// saves nothing by halves, the server starts the database again by itself, and within two seconds of that all is as it
// was.
func TestTheDatabaseIsKilled(t *testing.T) {
	binary := built(t)
	dir, err := os.MkdirTemp("", "zestytin-away-*")
	if err != nil {
		t.Fatal(err)
	}
	defer os.RemoveAll(dir)
	server := start(t, binary, dir)
	defer func() {
		_ = server.cmd.Process.Signal(syscall.SIGTERM)
		_ = server.cmd.Wait()
	}()
	c := server.signIn(t)
	before := len(get[struct{ Orders []savedOrder }](t, c, server.base+"/api/v1/orders?which=all&limit=500").Orders)
	status := func(path string) (int, string) {
		res, err := c.Get(server.base + path)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		said, _ := io.ReadAll(res.Body)
		return res.StatusCode, string(said)
	}
	for range 2 {
		text, err := os.ReadFile(filepath.Join(dir, "data", "postmaster.pid"))
		if err != nil {
			t.Fatal(err)
		}
		var pid int
		if _, err := fmt.Sscan(string(text), &pid); err != nil {
			t.Fatal(err)
		}
		if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
			t.Fatal(err)
		}
		away, ready := 0, time.Time{}
		for end := time.Now().Add(40 * time.Second); ; time.Sleep(50 * time.Millisecond) {
			if got, _ := status("/healthz"); got != 200 {
				t.Fatalf("/healthz is %d", got)
			}
			if got, _ := status("/readyz"); got == 200 && away > 0 && ready.IsZero() {
				ready = time.Now()
			}
			got, said := status("/api/v1/orders?which=all&limit=500")
			if got == 200 && away > 0 {
				break
			}
			if got != 200 && got != 503 || strings.Contains(said, "127.0.0.1") || strings.Contains(said, "SQLSTATE") {
				t.Fatalf("while the database is away: %d %s", got, said)
			}
			if got == 503 {
				away++
			}
			if time.Now().After(end) {
				t.Fatalf("the database did not come back; it was away for %d answers", away)
			}
		}
		if !ready.IsZero() && time.Since(ready) > 2*time.Second {
			t.Errorf("%v after the database was back, the orders were", time.Since(ready))
		}
	}
	if after := len(get[struct{ Orders []savedOrder }](t, c,
		server.base+"/api/v1/orders?which=all&limit=500").Orders); after != before {
		t.Errorf("%d orders before, %d after", before, after)
	}
}
