package app_test

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"zestytin/internal/app"
	"zestytin/internal/demo"
)

// An amount is the same wherever it stands. Orders at random are promised beside those of the demo kitchen, some made
// together, some over days, some free from something; the shelves are emptied, and filled with what the shopping list
// says and not a gram more. Then all of it is made, day by day, off the run sheets. In the end
//   - what an order is told to use is what is kept for it,
//   - nothing was missing, and nothing fresh is left over: list, bowls and larder are one account,
//   - what has gone is what the orders use, and the rest of every bowl is in the larder,
//   - what the run sheets melted is what the larder gave for it.
func TestAmountsAgreeEverywhere(t *testing.T) {
	t.Parallel()
	for seed := range uint64(3) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			t.Parallel()
			h := open(t)
			at := now
			server := httptest.NewServer(app.New(app.Options{Pool: h.pool, Clock: func() time.Time { return at },
				Files: fstest.MapFS{"index.html": {}, "docs.html": {}}, Demo: &demo.SignIn}))
			t.Cleanup(server.Close)
			h.Server = server
			p := h.maren(t)
			r := rand.New(rand.NewPCG(12, seed))
			treats := p.must(200, "GET", "/treats", nil)["treats"].([]any)
			p.must(201, "POST", "/ingredients", ingredient("Lemon powder",
				object{"kind": "flavour", "unit": "g", "paid": "4.00", "paidFor": object{"amount": 50, "unit": "g"}}))
			powder, changed := p.item("Lemon powder")["id"], 0
			for _, t := range treats {
				path := fmt.Sprint("/treats/", t.(object)["id"])
				treat := p.must(200, "GET", path, nil)
				formula := treat["formula"].(object)
				if otherwise(r, formula, powder) {
					if a := p.send("PUT", path, object{"name": treat["name"], "formula": formula}, "If-Match",
						p.tag(path)); a.status == 200 {
						changed++
					}
				}
			}
			if changed == 0 {
				t.Error("no treat is made otherwise")
			}
			for range 5 {
				of := treats[r.IntN(len(treats))].(object)
				draft := with(p.draft(of["name"].(string), 5+r.IntN(31)),
					object{"customer": fmt.Sprint("Guest ", r.IntN(100))})
				if r.IntN(4) == 0 {
					draft["freeFrom"] = []string{"peanut"}
				}
				o := p.must(201, "POST", "/orders", draft)
				if a := p.send("POST", fmt.Sprint("/orders/", o["id"], "/moves"),
					object{"to": "promised"}); a.status != 200 && a.status != 422 && a.status != 409 {
					t.Fatalf("%v: %d", of["name"], a.status)
				}
			}

			names, units, used := map[string]string{}, map[string]any{}, map[string]float64{}
			rows := func(statement string, each func(item string, n float64)) {
				t.Helper()
				conn := h.owned(t)
				list, err := conn.Query(context.Background(), statement)
				if err != nil {
					t.Fatal(err)
				}
				for list.Next() {
					var item string
					var n float64
					if err := list.Scan(&item, &n); err != nil {
						t.Fatal(err)
					}
					each(item, n)
				}
				if err := list.Err(); err != nil {
					t.Fatal(err)
				}
			}
			close := func(what string, got, want float64) {
				t.Helper()
				if math.Abs(got-want) > 0.001 {
					t.Errorf("%s: %.3f, want %.3f", what, got, want)
				}
			}

			// What has begun is made first; then the shelves are emptied, and filled by the list.
			begun := [][2]string{}
			rows(`select s.batch_id || ' ' || s.step, 0 from batch_steps s
			join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id and b.made_at is null
				where s.done_at is null and exists (select from batch_steps x where x.batch_id = s.batch_id
				and x.done_at is not null)`,
				func(step string, _ float64) { begun = append(begun, [2]string(strings.Fields(step))) })
			for _, s := range begun {
				p.tick(s[0], s[1], true)
			}
			stock := func() map[string]float64 {
				of := map[string]float64{}
				for _, i := range p.must(200, "GET", "/stock", nil)["items"].([]any) {
					item := i.(object)
					if item["packaging"] == true {
						continue
					}
					names[item["id"].(string)], units[item["id"].(string)] = item["name"].(string),
						item["stock"].(object)["unit"]
					of[item["id"].(string)] = amount(item["stock"])
				}
				return of
			}
			for id, n := range stock() {
				if n > 0 {
					p.must(200, "POST", fmt.Sprint("/stock/", id, "/counts"),
						object{"amount": object{"amount": 0, "unit": units[id]}, "reason": "to begin with"})
				}
			}
			bought, base := map[string]float64{}, map[string]float64{}
			rows(`select item_id::text, sum(remaining) from lots group by 1`,
				func(item string, n float64) { base[item] = n }) // what is not good any more
			buy := func(day, until time.Time) {
				t.Helper()
				lines, seen := []object{}, map[string]bool{}
				for _, s := range p.must(200, "GET", fmt.Sprint("/shopping-list?from=", day.Format(time.DateOnly),
					"&to=", until.Format(time.DateOnly)), nil)["shops"].([]any) {
					for _, l := range s.(object)["lines"].([]any) {
						line := l.(object)
						id := line["item"].(string)
						if line["packaging"] == true || seen[id] ||
							line["notBefore"].(string) > day.Format(
								time.DateOnly) { // what is short is told in every shop that has some of it
							continue
						}
						n := amount(line["need"])
						seen[id], bought[id] = true, bought[id]+n
						lines = append(lines, object{"item": id, "packs": 1,
							"size": object{"amount": n, "unit": units[id]}, "paid": "9.80", "bestBefore": "2026-12-31"})
					}
				}
				if len(lines) > 0 {
					p.must(201, "POST", "/receipts", object{"shop": "Harbour market", "day": day.Format(time.DateOnly),
						"lines": lines})
				}
			}
			buy(now, now.AddDate(0, 0, 37))
			// What is kept for orders and has not left the larder: not that of bowls that were emptied this morning.
			rows(`select n.item_id::text, sum(n.used - coalesce(n.drawn * (select sum((s.draw ->> 'applied')::float8) filter (where s.bowl is not null) / sum((s.draw ->> 'applied')::float8) from batch_steps s
					where s.kitchen_id = n.kitchen_id and s.batch_id = n.batch_id
					and s.draw -> 'pot' ->> 'ingredient' = n.item_id::text), 0)) from batch_needs n
					join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id
					join orders o on o.kitchen_id = n.kitchen_id and o.id = n.order_id
				where not n.packaging and b.made_at is null and o.state in ('promised', 'in the making') group by 1`, func(item string, n float64) { used[item] = n })

			// All of it is made.
			melted := map[string]float64{}
			for day := 0; day < 30; day++ {
				date := now.AddDate(0, 0, day)
				at = time.Date(2026, 9, 3+day, 12, 0, 0, 0, time.UTC)
				if day == 0 {
					at = now
				}
				buy(date, date.AddDate(0, 0, 1)) // what does not keep
				sheet := p.must(200, "GET", fmt.Sprint("/days/", date.Format(time.DateOnly), "/run-sheet"), nil)
				for _, s := range sheet["sessions"].([]any) {
					for _, x := range s.(object)["setups"].([]any) {
						if setup := x.(object); setup["wash"] == false {
							melted[setup["pot"].(string)] += amount(setup["melt"])
						}
					}
				}
				for _, s := range sheet["steps"].([]any) {
					if step := s.(object); step["topUp"] != nil && step["doneAt"] == nil {
						melted[step["pot"].(string)] += amount(step["topUp"])
					}
				}
				steps := slices.DeleteFunc(sheet["steps"].([]any),
					func(s any) bool { return s.(object)["doneAt"] != nil })
				slices.SortStableFunc(steps, func(a, b any) int {
					end := func(s any) float64 { return s.(object)["start"].(float64) + s.(object)["hands"].(float64) }
					return cmp.Compare(end(a), end(b))
				})
				for _, s := range steps {
					step := s.(object)
					midnight := time.Date(2026, 9, 3+day, 4, 0, 0, 0, time.UTC)
					at = midnight.Add(time.Duration(step["start"].(float64)+step["hands"].(float64)) * time.Minute)
					p.must(200, "PUT", fmt.Sprint("/batches/", step["batch"], "/steps/", step["step"]),
						object{"done": true})
				}
			}
			rows(`select b.name || ' on ' || b.day || ': ' || string_agg(s.step || ' ' || s.day, ', '
			order by s.position), count(*) from batches b join batch_steps s on s.kitchen_id = b.kitchen_id
			and s.batch_id = b.id and s.done_at is null
				where exists (select from batch_shares h join orders o on o.kitchen_id = h.kitchen_id
				and o.id = h.order_id where h.batch_id = b.id and o.state in ('promised', 'in the making'))
				group by b.id, b.name, b.day`,
				func(batch string, n float64) { t.Errorf("%g steps are still to be done: %s", n, batch) })
			left := map[string]float64{}
			rows(`select item_id::text, sum(remaining) from lots group by 1`,
				func(item string, n float64) { left[item] = n })
			// What was begun before the shelves were emptied may have used more than stood there: that is taken off
			// what is bought.
			before := map[string]float64{}
			rows(`select l.item_id::text, -sum(m.change) from stock_moves m join lots l on l.kitchen_id = m.kitchen_id
			and l.id = m.lot_id where m.kind = 'corrected' and m.reason = 'used before it was entered' group by 1`,
				func(item string, n float64) { before[item] = n })
			for id, n := range bought {
				if id == powder { // stirred in: it goes by the bowl, not by the piece
					continue
				}
				close("gone of "+names[id], base[id]+n-before[id]-left[id], used[id])
			}
			rows(`select l.item_id::text, sum(l.remaining) from lots l where l.origin <> 'reclaimed'
			and l.remaining > 0 group by 1`, func(item string, n float64) {
				if _, edible := bought[item]; edible {
					close("left over of fresh "+names[item], n, base[item])
				}
			})
			given := map[string]float64{}
			rows(`select (array_agg(l.item_id order by m.change))[1]::text,
			-sum(m.change * (1 + coalesce((l.stirred -> 'flavour' ->> 'grams')::float8, 0))) from stock_moves m
			join lots l on l.kitchen_id = m.kitchen_id and l.id = m.lot_id where m.bowl is not null and m.kind = 'used'
			and m.at > '2026-09-03 14:20:00Z' group by m.bowl`,
				func(item string,
					n float64) {
					given[names[item]] += n
				}) // with what is stirred in, of what is left from before too
			for name, n := range melted {
				close("given for bowls of "+name, given[name], n)
			}
			if len(melted) < 3 {
				t.Errorf("melted %v", melted)
			}
		})
	}
}

// otherwise makes a formula otherwise at random: what is lost at each step, what stays in the bowls, whether designs
// may stand in for one another, and what is stirred into a coat. It tells whether anything is other than before.
func otherwise(r *rand.Rand, formula object, powder any) bool {
	if formula == nil || r.IntN(3) == 0 {
		return false
	}
	formula["loss"], formula["whole"] = float64(r.IntN(20))/100, r.IntN(2) == 0
	for _, s := range list(formula["steps"]) {
		if r.IntN(3) == 0 {
			s["loss"] = float64(1+r.IntN(12)) / 100
		}
	}
	for _, c := range list(formula["coatings"]) {
		c["pool"] = object{"amount": 40 + r.IntN(400), "unit": "g"}
		if r.IntN(3) == 0 {
			c["flavour"] = object{"ingredient": powder, "amount": object{"amount": 1 + r.IntN(9), "unit": "g"},
				"to": object{"amount": 200, "unit": "g"}}
		}
	}
	return true
}

func list(x any) []object {
	var all []object
	for _, o := range x.([]any) {
		all = append(all, o.(object))
	}
	return all
}
