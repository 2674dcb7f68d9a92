package app_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"net/http"
	"os"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"
)

// mostMemory of the process, in which other tests run meanwhile.
const mostMemory = 2 << 30

// hostile makes requests from the API's document: now and then what is asked for, mostly what nobody should send.
type hostile struct {
	*rand.Rand
	schemas map[string]any
	ids     []string       // that there are
	good    map[string]any // bodies that are taken, by operation
}

// copied is a value of its own.
func copied(v any) (other any) {
	text, _ := json.Marshal(v)
	_ = json.Unmarshal(text, &other)
	return other
}

// bent is a good body with something in it that is not.
func (h *hostile) bent(v any) any {
	switch v := v.(type) {
	case map[string]any:
		keys := slices.Sorted(mapsKeys(v))
		if len(keys) == 0 || h.IntN(12) == 0 {
			v[h.of(nasty)] = h.of(nasty)
			return v
		}
		key := keys[h.IntN(len(keys))]
		if h.IntN(25) == 0 {
			delete(v, key)
		} else {
			v[key] = h.bent(v[key])
		}
		return v
	case []any:
		switch {
		case len(v) == 0:
			return []any{h.of(nasty)}
		case h.IntN(6) == 0: // many of the same
			one := v[h.IntN(len(v))]
			for range []int{1, 40, 900}[h.IntN(3)] {
				v = append(v, one)
			}
			return v
		}
		n := h.IntN(len(v))
		v[n] = h.bent(v[n])
		return v
	case string:
		if h.IntN(5) == 0 {
			return h.of(h.ids)
		}
		return h.of(nasty)
	case float64:
		return []any{v * 1e6, -v, 0, v + 0.5, 1e9, -1e9, 1e308, v * 1.0001, 10000, 100000, "x"}[h.IntN(11)]
	case bool:
		return !v
	}
	return h.of(nasty)
}

var nasty = []string{"", " ", "\x00", "a\x00b", "\xff\xfe", "💥\u202e\ufeff", "'; drop table people; --", "${jndi:x}",
	"../../etc/passwd", "1e308", "-1e308", "1e308 g", "999999999999 kg", "NaN", "Infinity g", "-1", "0", "1/0 cup",
	"9999-12-31", "0001-01-01", "2026-02-30", "2026-09-03", "9999-12-31T23:59:59Z", "0000-01-01T00:00:00Z",
	"2026-09-12T18:00:00Z", "24:00", "23:59", "00:00", "99:99", "USD", "XXX", "100%", "1000000000%", "each", "g",
	"cup", "coat", "in",
	strings.Repeat("x", 1999), strings.Repeat("9", 400), strings.Repeat("1 cup sugar\n", 150),
	strings.Repeat("\u0301", 500), strings.Repeat("(", 900)}

func (h *hostile) of(list []string) string { return list[h.IntN(len(list))] }

// text of a schema's string.
func (h *hostile) text(s map[string]any) any {
	format, _ := s["format"].(string)
	if h.IntN(4) > 0 { // as it should be
		switch {
		case format == "uuid":
			return h.of(h.ids)
		case format == "date":
			return h.of([]string{"2026-09-03", "2026-09-12", "2027-01-01", "9999-12-31", "0001-01-01"})
		case format == "date-time":
			return h.of([]string{"2026-09-12T18:00:00Z", "9999-12-31T23:59:59Z", "0001-01-01T00:00:00Z",
				"2026-09-12T19:00:00Z"})
		case h.IntN(3) == 0:
			return h.of(h.ids)
		}
	}
	return h.of(nasty)
}

func (h *hostile) number(s map[string]any) any {
	least, most := -1e9, 1e9
	if x, ok := s["minimum"].(float64); ok {
		least = x
	}
	if x, ok := s["maximum"].(float64); ok {
		most = x
	}
	return []any{0, 1, -1, 12, least, most, most + 1, math.MaxInt64, 1e308, -1e308, 0.5, 1e-300, "12", nil}[h.IntN(14)]
}

// value for a schema, no deeper than so much.
func (h *hostile) value(s map[string]any, depth int) any {
	if ref, ok := s["$ref"].(string); ok {
		return h.value(h.schemas[ref[strings.LastIndex(ref, "/")+1:]].(map[string]any), depth)
	}
	if h.IntN(40) == 0 {
		return []any{nil, "x", 1e308, true, []any{}, object{}, []any{[]any{[]any{}}}}[h.IntN(7)]
	}
	if enum, ok := s["enum"].([]any); ok && h.IntN(8) > 0 {
		return enum[h.IntN(len(enum))]
	}
	kinds := fmt.Sprint(s["type"])
	switch {
	case strings.Contains(kinds, "string"):
		return h.text(s)
	case strings.Contains(kinds, "integer"), strings.Contains(kinds, "number"):
		return h.number(s)
	case strings.Contains(kinds, "boolean"):
		return h.IntN(2) == 0
	case strings.Contains(kinds, "array"):
		n := h.IntN(3)
		if most, ok := s["maxItems"].(float64); ok && h.IntN(12) == 0 && depth <= 3 {
			n = int(min(most, 1000)) + h.IntN(2)
		}
		items, _ := s["items"].(map[string]any)
		list := make([]any, n)
		if n > 3 { // many of the same are asked for
			one := h.value(items, depth+1)
			for i := range list {
				list[i] = one
			}
			return list
		}
		for i := range list {
			list[i] = h.value(items, depth+1)
		}
		return list
	}
	o := object{}
	required, _ := s["required"].([]any)
	properties, _ := s["properties"].(map[string]any)
	for name, p := range properties {
		if slices.Contains(required, any(name)) && h.IntN(30) > 0 || depth < 6 && h.IntN(3) == 0 {
			o[name] = h.value(p.(map[string]any), depth+1)
		}
	}
	if more, ok := s["additionalProperties"].(map[string]any); ok {
		for range h.IntN(3) {
			o[h.of(nasty)] = h.value(more, depth+1)
		}
	}
	return o
}

// asked is a request.
type asked struct {
	method, url string
	header      [][2]string
	body        []byte
}

// send a request, and tell what came of it.
func (a asked) send(p *person) (status int, took time.Duration, said string, err error) {
	r, err := http.NewRequest(a.method, p.base+a.url, bytes.NewReader(a.body))
	if err != nil {
		return 0, 0, "", fmt.Errorf("invalid: %w", err)
	}
	for _, x := range a.header {
		r.Header.Set(x[0], x[1])
	}
	begun := time.Now()
	answer, err := p.Do(r)
	if err != nil {
		return 0, 0, "", err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	return answer.StatusCode, time.Since(begun), string(text), err
}

// operations of the document, in its order.
func operations(doc object) (list []object) {
	paths := doc["paths"].(map[string]any)
	for _, path := range slices.Sorted(mapsKeys(paths)) {
		item := paths[path].(map[string]any)
		for _, method := range slices.Sorted(mapsKeys(item)) {
			list = append(list, object{"method": strings.ToUpper(method), "path": path, "op": item[method]})
		}
	}
	return list
}

func mapsKeys(m map[string]any) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

func (h *hostile) request(of object) asked {
	op := of["op"].(map[string]any)
	a := asked{method: of["method"].(string), url: of["path"].(string)}
	query := []string{}
	parameters, _ := op["parameters"].([]any)
	for _, x := range parameters {
		p := x.(map[string]any)
		text := fmt.Sprint(h.value(p["schema"].(map[string]any), 5))
		name := p["name"].(string)
		switch p["in"] {
		case "path":
			escaped := strings.NewReplacer("%", "%25", "/", "%2F", "?", "%3F", "#", "%23", "\x00", "%00", " ", "%20",
				"\n", "%0A", "\xff", "%FF", "\xfe", "%FE").Replace(text)
			a.url = strings.Replace(a.url, "{"+name+"}", escaped, 1)
		case "query":
			if h.IntN(2) == 0 {
				query = append(query, name+"="+strings.NewReplacer("%", "%25", "&", "%26", "#", "%23", "\x00", "%00",
					" ", "+", "\n", "%0A", "\xff", "%FF", "\xfe", "%FE").Replace(text))
			}
		case "header":
			value := h.of([]string{`"1"`, `"1"`, `"2"`, `"0"`, "*", "x", `"-1"`, `"99999999999999999999"`,
				strings.Repeat("y", 1500)})
			if h.IntN(4) > 0 {
				a.header = append(a.header, [2]string{name, value})
			}
		}
	}
	if len(query) > 0 {
		a.url += "?" + strings.Join(query, "&")
	}
	if body, ok := op["requestBody"].(map[string]any); ok {
		for kind, content := range body["content"].(map[string]any) {
			a.header = append(a.header, [2]string{"Content-Type", kind})
			schema, _ := content.(map[string]any)["schema"].(map[string]any)
			switch {
			case kind != "application/json":
				a.body = []byte(h.of(nasty) + "," + h.of(nasty) + "\n" + strings.Repeat(h.of(nasty)+",", h.IntN(2000)))
			case h.good[fmt.Sprint(op["operationId"])] != nil && h.IntN(4) > 0:
				a.body, _ = json.Marshal(h.bent(copied(h.good[fmt.Sprint(op["operationId"])])))
			case h.IntN(25) == 0:
				a.body = []byte(h.of([]string{"{", "[[[[[[", strings.Repeat("[", 20000), `{"a":`, "\xff", "null",
					"1e999", `"\ud800"`, `{"draft":{"lines":null}}`}))
			default:
				a.body, _ = json.Marshal(h.value(schema, 0))
			}
		}
	}
	return a
}

// No request, however hostile, is answered by a failure of the server, or after more than two seconds; it is asked
// again where it took longer, since the machine may have been busy with something else. Not beside other tests, for the
// same reason.
func TestHostileRequests(t *testing.T) {
	n, seed := 2000, uint64(14) // the same ones each time; others by make hostile
	if more, err := strconv.Atoi(os.Getenv("HOSTILE")); err == nil {
		n, seed = more, uint64(time.Now().UnixNano())
	}
	house := open(t)
	text, err := os.ReadFile("../../docs/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	var doc object
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	maren := house.maren(t)
	ids := []string{"018f0000-0000-7000-8000-000000000000", "x"}
	for _, from := range [][2]string{{"/orders", "orders"}, {"/treats", "treats"}, {"/stock", "items"},
		{"/mixes", "mixes"}} {
		for _, x := range maren.must(200, "GET", from[0], nil)[from[1]].([]any) {
			ids = append(ids, x.(object)["id"].(string))
		}
	}
	// Bodies that are taken, to be bent in one place.
	formula := maren.formula("Cardamom-malt bombs")
	want := object{"amount": 24, "as": "pieces"}
	good := map[string]any{"put-work-days": maren.must(200, "GET", "/work-days", nil),
		"put-capacity": maren.must(200, "GET", "/capacity", nil),
		"put-kitchen":  maren.must(200, "GET", "/kitchen", nil)}
	draft := with(maren.draft("Cardamom-malt bombs", 40), object{"pricing": object{"by": "margin", "value": "0.3"},
		"discount": "10%", "distance": 12})
	good["estimate-order"], good["find-reliefs"] = object{"draft": draft}, object{"draft": draft}
	good["estimate-what-if"] = object{"draft": draft, "if": object{"chocolate": 0.2, "loss": 0, "moulds": 1,
		"hourly": "20"}}
	good["create-order"], good["put-order"] = draft, draft
	good["reckon-batch"] = object{"formula": formula, "want": want}
	good["propose-steps"] = object{"formula": formula}
	good["create-treat"] = object{"name": "Bent", "formula": formula}
	good["weigh-mix"] = object{"name": "Bent", "parts": []object{{"of": maren.item("Granulated sugar")["id"],
		"amount": object{"amount": 100, "unit": "g"}}}, "loss": 0.1}
	good["create-mix"] = good["weigh-mix"]
	good["read-recipe"] = object{"text": "1 cup sugar\n8 oz milk chocolate\nsalt"}
	good["write-receipt"] = object{"shop": "Mill", "day": "2026-09-03",
		"lines": []object{{"item": maren.item("Granulated sugar")["id"], "packs": 1,
			"size": object{"amount": 1, "unit": "kg"}, "paid": "3.20", "written": "sugar"}}}
	step, day := maren.stepOf("Lakeside library", "Milk malt bombs", "fill")
	good["change-plan"] = object{"kind": "pin", "batch": step["batch"], "step": "fill", "day": day, "start": 1200,
		"hand": 0, "dry": true}
	good["find-slot"] = object{"batch": step["batch"], "step": "fill", "day": day, "start": 1200, "hand": 0,
		"to": "next-day"}
	list := operations(doc)
	known := map[any]bool{}
	for _, o := range list {
		known[o["op"].(map[string]any)["operationId"]] = true
	}
	for id, body := range good {
		if !known[id] {
			t.Errorf("no operation is called %s", id)
		}
		good[id] = copied(body)
	}
	list = slices.DeleteFunc(list, func(o object) bool { // signing out, and what ends the session, would end the test
		id := o["op"].(map[string]any)["operationId"]
		return id == "sign-out" || id == "change-password" || id == "create-kitchen" ||
			id == "stream-events" // it has no end to wait for
	})
	if own, err := strconv.ParseUint(os.Getenv("SEED"), 10, 64); err == nil {
		seed = own
	}
	t.Logf("SEED=%d", seed)
	h := &hostile{rand.New(rand.NewPCG(seed, 7)), doc["components"].(map[string]any)["schemas"].(map[string]any), ids,
		good}
	var requests []asked
	for i := range n {
		of := list[i%len(list)]
		if i%2 == 1 { // half of them where a good body is known
			for good[fmt.Sprint(of["op"].(map[string]any)["operationId"])] == nil {
				of = list[h.IntN(len(list))]
			}
		}
		requests = append(requests, h.request(of))
	}
	next, statuses := make(chan asked), map[int]int{}
	var mu sync.Mutex
	var wait sync.WaitGroup
	for range 3 {
		wait.Go(func() {
			for a := range next {
				status, took, said, err := a.send(maren)
				if err == nil && took > 2*time.Second {
					status, took, said, err = a.send(maren)
				}
				if err != nil {
					if !strings.Contains(err.Error(), "invalid") { // no client sends it
						t.Errorf("%s %.200s: %v", a.method, a.url, err)
					}
					continue
				}
				mu.Lock()
				statuses[status]++
				mu.Unlock()
				if status >= 500 || took > 2*time.Second {
					t.Errorf("%s %.200s\n%.600s\n%d after %v: %.300s", a.method, a.url, a.body, status, took, said)
				}
			}
		})
	}
	for _, a := range requests {
		next <- a
	}
	close(next)
	wait.Wait()
	var memory runtime.MemStats
	runtime.ReadMemStats(&memory)
	if memory.Sys > mostMemory { // it is never given back: this is the most that there ever was
		t.Errorf("the process took %d MiB", memory.Sys>>20)
	}
	t.Logf("%d requests, %d MiB: %v", n, memory.Sys>>20, statuses)
	if statuses[200]+statuses[201] < n/20 {
		t.Errorf("hardly any request was one: %v", statuses)
	}
}
