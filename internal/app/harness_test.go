package app_test

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"os"
	"strings"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/shopspring/decimal"

	"zestytin/internal/app"
	"zestytin/internal/demo"
	"zestytin/internal/platform/pglocal/pgtest"
	"zestytin/internal/platform/standin"
)

// now in the demo kitchen: a Thursday morning.
var now = time.Date(2026, 9, 3, 14, 20, 0, 0, time.UTC)

// Every test begins with the demo kitchen.
func TestMain(m *testing.M) {
	os.Exit(pgtest.Run(m, func(ctx context.Context, pool *pgxpool.Pool) error { return demo.Load(ctx, pool, now) }))
}

// house is a running application with the demo kitchen in it.
type house struct {
	*httptest.Server
	app   *app.App
	pool  *pgxpool.Pool
	owner string
	ahead atomic.Int64 // of now, in nanoseconds: what its clock shows
}

func (h *house) clock() time.Time { return now.Add(time.Duration(h.ahead.Load())) }

// pass lets time go by on its clock.
func (h *house) pass(by time.Duration) { h.ahead.Add(int64(by)) }

// kitchen of the demo.
func (h *house) kitchen(t testing.TB) (id uuid.UUID) {
	t.Helper()
	ctx := context.Background()
	owner, err := pgx.Connect(ctx, h.owner)
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close(ctx)
	if err := owner.QueryRow(ctx, `select id from kitchens order by created_at limit 1`).Scan(&id); err != nil {
		t.Fatal(err)
	}
	return id
}

// work in the background, until the test ends.
func (h *house) work(t testing.TB) {
	t.Helper()
	if err := h.app.Jobs.Start(context.Background()); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
		defer cancel()
		if err := h.app.Jobs.Stop(ctx); err != nil {
			t.Error(err)
		}
	})
}

func open(t *testing.T) *house {
	t.Helper()
	return openFor(t)
}

func openFor(t testing.TB) *house {
	t.Helper()
	return openWith(t, func(*app.Options) {})
}

// openWith options that differ from the usual ones.
func openWith(t testing.TB, change func(*app.Options)) *house {
	t.Helper()
	pool, owner := pgtest.New(t)
	files := fstest.MapFS{"index.html": {Data: []byte(`<meta content="{{nonce}}">`)},
		"docs.html": {Data: []byte("docs")}, "assets/a.js": {Data: []byte("1")}}
	h := &house{pool: pool, owner: owner}
	pretended := &standin.Post{}
	options := app.Options{Pool: pool, Clock: h.clock, Files: files, Demo: &demo.SignIn, Roads: standin.Lakeside(),
		Weather: standin.Weather, Mailer: pretended, Texter: pretended}
	change(&options)
	h.app = app.New(options)
	h.Server = httptest.NewServer(h.app)
	t.Cleanup(h.Close)
	return h
}

// person is somebody at a browser.
type person struct {
	t    testing.TB
	base string
	http.Client
}

func (h *house) visitor(t testing.TB) *person {
	t.Helper()
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	return &person{t, h.URL, http.Client{Jar: jar}}
}

// maren is signed in to the demo kitchen.
func (h *house) maren(t testing.TB) *person {
	t.Helper()
	p := h.visitor(t)
	p.must(200, "POST", "/session", demo.SignIn)
	return p
}

// stranger is signed in to another kitchen, an empty one.
func (h *house) stranger(t testing.TB) *person {
	t.Helper()
	p := h.visitor(t)
	p.must(201, "POST", "/kitchens", object{"kitchen": "Elsewhere", "name": "Bo", "mail": "bo@elsewhere.example",
		"password": "quite another one", "timeZone": "Europe/Vienna", "currency": "EUR"})
	return p
}

type object = map[string]any

// answer of the API.
type answer struct {
	status int
	header http.Header
	body   string
}

// send a request; body is JSON unless it is a string, or a picture in bytes. header holds pairs.
func (p *person) send(method, path string, body any, header ...string) answer {
	p.t.Helper()
	var reader io.Reader
	kind := ""
	switch b := body.(type) {
	case nil:
	case string:
		reader, kind = strings.NewReader(b), "application/json"
	case []byte:
		reader, kind = bytes.NewReader(b), "image/jpeg"
	default:
		text, err := json.Marshal(b)
		if err != nil {
			p.t.Fatal(err)
		}
		reader, kind = bytes.NewReader(text), "application/json"
	}
	if !strings.HasPrefix(path, "/api") {
		path = "/api/v1" + path
	}
	req, err := http.NewRequest(method, p.base+path, reader)
	if err != nil {
		p.t.Fatal(err)
	}
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	for i := 0; i < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := p.Do(req)
	if err != nil {
		p.t.Fatal(err)
	}
	defer res.Body.Close()
	text, err := io.ReadAll(res.Body)
	if err != nil {
		p.t.Fatal(err)
	}
	return answer{res.StatusCode, res.Header, string(text)}
}

// tag that an edit of what is at the path must carry.
func (p *person) tag(path string) string {
	p.t.Helper()
	return p.send("GET", path, nil).header.Get("ETag")
}

// must get the status, and returns the body.
func (p *person) must(status int, method, path string, body any, header ...string) object {
	p.t.Helper()
	a := p.send(method, path, body, header...)
	if a.status != status {
		p.t.Fatalf("%s %s: %d, want %d: %s", method, path, a.status, status, a.body)
	}
	var o object
	if a.body != "" {
		if err := json.Unmarshal([]byte(a.body), &o); err != nil {
			p.t.Fatalf("%s %s: %v: %s", method, path, err, a.body)
		}
	}
	return o
}

// problem that the API must answer with: its status, and a fault at the path ("" for none in particular) that says so.
func (p *person) problem(status int, path, says string, a answer) {
	p.t.Helper()
	var told struct {
		Status int
		Detail string
		Errors []struct{ Location, Message string }
	}
	if err := json.Unmarshal([]byte(a.body), &told); err != nil || a.status != status || told.Status != status ||
		a.header.Get("Content-Type") != "application/problem+json" {
		p.t.Errorf("got %d %s %q, want problem %d", a.status, a.header.Get("Content-Type"), a.body, status)
		return
	}
	if path == "" {
		if !strings.Contains(told.Detail, says) {
			p.t.Errorf("it says %q, want … %s …", told.Detail, says)
		}
		return
	}
	for _, e := range told.Errors {
		if e.Location == path && strings.Contains(e.Message, says) {
			return
		}
	}
	p.t.Errorf("no fault at %s that says %q: %s", path, says, a.body)
}

// find the first object of a list whose key has the value.
func find(t testing.TB, list any, key string, value any) object {
	t.Helper()
	for _, x := range list.([]any) {
		if o := x.(object); o[key] == value {
			return o
		}
	}
	t.Fatalf("nothing with %s = %v", key, value)
	return nil
}

// whom a batch is for.
func whom(x object) string {
	names := []string{}
	for _, t := range x["for"].([]any) {
		names = append(names, t.(object)["customer"].(string))
	}
	return strings.Join(names, " and ")
}

func decimalOf(text any) decimal.Decimal { return decimal.RequireFromString(text.(string)) }

// owned is a connection as the owner of the tables, in the demo kitchen.
func (h *house) owned(t testing.TB) *pgx.Conn {
	t.Helper()
	ctx := context.Background()
	owner, err := pgx.Connect(ctx, h.owner)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { owner.Close(ctx) })
	if _, err := owner.Exec(ctx,
		`select set_config('zt.kitchen', (select id::text from kitchens limit 1), false)`); err != nil {
		t.Fatal(err)
	}
	return owner
}

// own runs a statement as the owner of the tables, in the demo kitchen.
func (h *house) own(t testing.TB, statement string, args ...any) {
	t.Helper()
	owner := h.owned(t)
	defer owner.Close(context.Background())
	if _, err := owner.Exec(context.Background(), statement, args...); err != nil {
		t.Fatal(err)
	}
}

func (p *person) treat(name string) string {
	p.t.Helper()
	return find(p.t, p.must(200, "GET", "/treats", nil)["treats"], "name", name)["id"].(string)
}

// draft of an order of the treat, for Saturday 12 at two.
func (p *person) draft(treat string, count int) object {
	return object{"customer": "Ada Quill", "way": "pickup", "place": "at the door", "from": "2026-09-12T18:00:00Z",
		"to":    "2026-09-12T19:00:00Z",
		"lines": []object{{"treat": p.treat(treat), "count": count}}, "freeFrom": []string{}}
}

// ingredient as one writes a new one, kept by weight.
func ingredient(name string, change object) object {
	return with(object{"name": name, "kind": "other", "unit": "g", "measures": []object{}, "fit": 1,
		"allergens": []string{}, "diets": []string{}, "madeOf": []string{}, "paid": "1.00",
		"paidFor": object{"amount": 1, "unit": "g"}}, change)
}

func with(o object, change object) object {
	c := object{}
	for k, v := range o {
		c[k] = v
	}
	for k, v := range change {
		c[k] = v
	}
	return c
}
