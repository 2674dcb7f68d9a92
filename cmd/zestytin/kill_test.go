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

func start(t *testing.T, binary, dir string) *running {
	t.Helper()
	cmd := exec.Command(binary, "demo", "--fast", "--data", dir, "--addr", "127.0.0.1:0", "--now", "2026-09-03T10:20:00-04:00")
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
	res, err := c.Post(r.base+"/api/v1/session", "application/json", strings.NewReader(`{"mail":"maren@lakeside.example","password":"three warm tins"}`))
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

// The server is killed in the middle of 200 concurrent saves and started again: every acknowledged order is there, none is
// half there, and the second server, which took over the database that the first left running, stops it in good order.
func TestKilledInTheMiddleOfSaves(t *testing.T) {
	work := t.TempDir()
	binary := filepath.Join(work, "zestytin")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
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
			body := fmt.Sprintf(`{"customer":"Saver %d","way":"pickup","from":"2026-09-12T18:00:00Z","to":"2026-09-12T19:00:00Z","freeFrom":[],"lines":[{"treat":%q,"count":%d},{"treat":%q,"count":7}]}`, i, treats[0].ID, i+1, treats[1].ID)
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
