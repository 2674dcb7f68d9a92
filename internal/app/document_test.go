package app_test

import (
	"bytes"
	"fmt"
	"os"
	"slices"
	"testing"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/platform/clock"
)

// The committed API document is the one of the code.
func TestDocumentIsCurrent(t *testing.T) {
	t.Parallel()
	kept, err := os.ReadFile("../../docs/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	made, err := app.New(app.Options{Clock: clock.System}).Document()
	if err != nil {
		t.Fatal(err)
	}
	if !bytes.Equal(kept, made) {
		t.Error("docs/openapi.json is stale: run make api")
	}
}

// Whole requests, one after the other, on the demo kitchen and on fifty times as much: orders, work, lots and moves for
// two years ahead.
func BenchmarkRequests(b *testing.B) {
	for _, times := range []int{1, 50} {
		b.Run(fmt.Sprintf("x%d", times), func(b *testing.B) { requests(b, times) })
	}
}

func requests(b *testing.B, times int) {
	h := openFor(b)
	p := h.maren(b)
	ilse := find(b, p.must(200, "GET", "/orders", nil)["orders"], "customer", "Ilse Vantongeren")
	question := object{"draft": p.must(200, "GET", fmt.Sprint("/orders/", ilse["id"]), nil)["draft"]}
	if times > 1 {
		h.multiply(b, times-1)
	}
	for name, ask := range map[string]func() answer{
		"estimate":      func() answer { return p.send("POST", "/estimates", question) },
		"shelf":         func() answer { return p.send("GET", "/shelf", nil) },
		"orders":        func() answer { return p.send("GET", "/orders", nil) },
		"stock":         func() answer { return p.send("GET", "/stock", nil) },
		"shopping list": func() answer { return p.send("GET", "/shopping-list", nil) },
		"till":          func() answer { return p.send("GET", "/till", nil) },
	} {
		b.Run(name, func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				begun := time.Now()
				if a := ask(); a.status != 200 {
					b.Error(a.body)
				}
				took = append(took, time.Since(begun))
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}

// multiply adds n copies of all orders, a fortnight apart each, with their work, and of all lots.
func (h *house) multiply(t testing.TB, n int) {
	t.Helper()
	copies := func(table, change string) {
		h.own(t, `insert into `+table+` select (jsonb_populate_record(null::`+table+
			`, to_jsonb(o) || jsonb_build_object(`+change+`))).* from `+table+` o, generate_series(1, $1::int) n`, n)
	}
	copies("orders",
		`'id', md5(o.id::text || n)::uuid, 'number', o.number + n * 1000, 'from_at', o.from_at + n * interval '14 days', 'to_at', o.to_at + n * interval '14 days'`)
	copies("order_lines", `'order_id', md5(o.order_id::text || n)::uuid`)
	copies("batches", `'id', md5(o.id::text || n)::uuid, 'day', o.day + n * 14`)
	copies("batch_shares", `'batch_id', md5(o.batch_id::text || n)::uuid, 'order_id', md5(o.order_id::text || n)::uuid`)
	copies("batch_steps", `'batch_id', md5(o.batch_id::text || n)::uuid, 'day', o.day + n * 14`)
	copies("batch_needs", `'batch_id', md5(o.batch_id::text || n)::uuid, 'order_id', md5(o.order_id::text || n)::uuid`)
	columns := `kitchen_id, ingredient_id, supply_id, origin, amount, remaining, paid, shop, bought_on, best_before, at`
	h.own(t, `insert into lots (id, `+columns+`) select md5(id::text || n)::uuid, `+columns+
		` from lots, generate_series(1, $1::int) n`, n)
	copies("stock_moves",
		`'id', md5(o.id::text || n)::uuid, 'lot_id', md5(o.lot_id::text || n)::uuid, 'order_id', null, 'batch_id', null`)
	for _, table := range []string{"orders", "order_lines", "batches", "batch_shares", "batch_steps", "batch_needs",
		"lots", "stock_moves"} {
		h.own(t, "analyze "+table)
	}
}
