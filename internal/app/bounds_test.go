package app_test

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"
)

// Every string, list and number that an operation takes has a bound in its schema.
func TestInputsAreBounded(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../../docs/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	var doc object
	if err := json.Unmarshal(text, &doc); err != nil {
		t.Fatal(err)
	}
	schemas := doc["components"].(map[string]any)["schemas"].(map[string]any)
	seen, checked := map[string]bool{}, 0
	var walk func(at string, schema map[string]any)
	walk = func(at string, s map[string]any) {
		if ref, ok := s["$ref"].(string); ok {
			if !seen[ref] {
				seen[ref] = true
				walk(ref, schemas[ref[strings.LastIndex(ref, "/")+1:]].(map[string]any))
			}
			return
		}
		need := func(bounds ...string) {
			checked++
			for _, b := range bounds {
				if s[b] == nil {
					t.Errorf("%s has no %s", at, b)
				}
			}
		}
		kinds := fmt.Sprint(s["type"])
		switch {
		case s["enum"] != nil:
		case strings.Contains(kinds, "string"):
			need("maxLength")
		case strings.Contains(kinds, "array"):
			need("maxItems")
		case strings.Contains(kinds, "integer"), strings.Contains(kinds, "number"):
			need("minimum", "maximum")
		}
		if items, ok := s["items"].(map[string]any); ok {
			walk(at+"[]", items)
		}
		if of, ok := s["properties"].(map[string]any); ok {
			for name, p := range of {
				walk(at+"."+name, p.(map[string]any))
			}
		}
		if of, ok := s["additionalProperties"].(map[string]any); ok {
			need("maxProperties")
			walk(at+".*", of)
		}
	}
	for path, item := range doc["paths"].(map[string]any) {
		for method, of := range item.(map[string]any) {
			op := of.(map[string]any)
			if list, ok := op["parameters"].([]any); ok {
				for _, p := range list {
					walk(method+" "+path+"?"+p.(map[string]any)["name"].(string),
						p.(map[string]any)["schema"].(map[string]any))
				}
			}
			if body, ok := op["requestBody"].(map[string]any); ok {
				for _, content := range body["content"].(map[string]any) {
					if schema, ok := content.(map[string]any)["schema"].(map[string]any); ok {
						walk(method+" "+path, schema)
					}
				}
			}
		}
	}
	if checked < 300 {
		t.Errorf("only %d bounds were looked for", checked)
	}
}

// What is refused is told in at most 50 faults, none of which echoes much of what was sent; and a request that asks for
// a million faults is answered.
func TestFaultsAreCapped(t *testing.T) {
	t.Parallel()
	p := open(t).maren(t)
	w, tag := p.must(200, "GET", "/work-days", nil), p.tag("/work-days")
	span := object{"from": "18:00", "to": "19:00", "hands": 1}
	day := make([]object, 900)
	for i := range day {
		day[i] = span
	}
	week := []any{day, day, day, day, day, day, day}
	a := p.send("PUT", "/work-days", with(w, object{"week": week}), "If-Match", tag)
	var told struct{ Errors []any }
	if err := json.Unmarshal([]byte(a.body), &told); err != nil || a.status != 422 || len(told.Errors) == 0 ||
		len(told.Errors) > 50 || len(a.body) > 30_000 {
		t.Errorf("%d with %d faults in %d bytes (%v)", a.status, len(told.Errors), len(a.body), err)
	}
	long := strings.Repeat("x", 1900)
	a = p.send("PUT", "/work-days", with(w, object{"week": []any{[]object{{"from": long, "to": long, "hands": 1}}, nil,
		nil, nil, nil, nil, nil}}), "If-Match", tag)
	if a.status != 422 || strings.Contains(a.body, strings.Repeat("x", 210)) {
		t.Errorf("%d: %.400s", a.status, a.body)
	}
	a = p.send("POST", "/estimates", object{"draft": object{"customer": long + long}})
	if a.status != 422 || strings.Contains(a.body, strings.Repeat("x", 210)) {
		t.Errorf("%d: %.400s", a.status, a.body)
	}
}
