package demo

import (
	"context"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/order"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/pglocal/pgtest"
)

func TestMain(m *testing.M) { os.Exit(pgtest.Run(m, nil)) }

// Whatever the weekday on which someone tries the demo: fourteen orders in most of the states, one that is impossible
// to fit, one free-from, work on the days ahead, and nothing planned outside of the hours that the kitchen works.
func TestEveryWeekday(t *testing.T) {
	for day := range 7 {
		for _, hour := range []int{7, 22} {
			now := time.Date(2026, 9, 1+day, hour+4, 15, 0, 0, time.UTC) // New York is four hours behind
			t.Run(fmt.Sprint(now.Format("Monday")+" at ", hour), func(t *testing.T) {
				t.Parallel()
				check(t, now)
			})
		}
	}
}

func check(t *testing.T, now time.Time) {
	ctx := context.Background()
	pool, owner := pgtest.New(t)
	for range 2 { // loaded twice it is there once
		if err := Load(ctx, pool, now); err != nil {
			t.Fatal(err)
		}
	}
	conn, err := pgx.Connect(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	rows, err := conn.Query(ctx, `select state, count(*)::int from orders group by 1`)
	if err != nil {
		t.Fatal(err)
	}
	type row struct {
		State order.State
		N     int
	}
	states, err := pgx.CollectRows(rows, pgx.RowToStructByPos[row])
	if err != nil {
		t.Fatal(err)
	}
	total, seen := 0, map[order.State]int{}
	for _, r := range states {
		total += r.N
		seen[r.State] = r.N
	}
	if total != 14 {
		t.Errorf("%d orders: %v", total, seen)
	}
	for _, s := range []order.State{order.Enquiry, order.Quoted, order.Promised, order.HandedOver, order.Settled} {
		if seen[s] == 0 {
			t.Errorf("no order is %s: %v", s, seen)
		}
	}
	var ahead, freeFrom, impossible int
	err = conn.QueryRow(ctx, `select (select count(*) from batch_steps where day >= $1::text::date), (select count(*)
			from orders where free_from <> '{}'),
		(select count(*) from orders o join order_lines l on l.order_id = o.id where l.count = 72
		and o.state = 'enquiry')`, now.Format(time.DateOnly)).Scan(&ahead, &freeFrom, &impossible)
	if err != nil || ahead == 0 || freeFrom == 0 || impossible != 1 {
		t.Errorf("%d steps ahead, %d free-from, %d impossible (%v)", ahead, freeFrom, impossible, err)
	}
	var outside int
	err = conn.QueryRow(ctx, `select count(*) from batch_steps s where not exists (
		select from work_week w where w.weekday = extract(dow from s.day) and s.start - s.changeover >= w.from_minute
		and s.start + s.hands <= w.to_minute and s.hand < w.hands)
		and not exists (select from work_exception_sessions e where e.day = s.day
		and s.start - s.changeover >= e.from_minute and s.start + s.hands <= e.to_minute and s.hand < e.hands)`).Scan(&outside)
	if err != nil || outside != 0 {
		t.Errorf("%d steps lie outside of the hours that the kitchen works (%v)", outside, err)
	}
}

// The demo kitchen is a kitchen like any other: nothing of it is seen from elsewhere.
func TestDemoStaysInItsKitchen(t *testing.T) {
	ctx := context.Background()
	pool, _ := pgtest.New(t)
	if err := Load(ctx, pool, time.Date(2026, 9, 3, 14, 0, 0, 0, time.UTC)); err != nil {
		t.Fatal(err)
	}
	err := db.InKitchen(ctx, pool, db.NewID(), func(tx pgx.Tx) error {
		var n int
		if err := tx.QueryRow(ctx, `select count(*) from orders`).Scan(&n); err != nil || n != 0 {
			t.Errorf("%d orders (%v)", n, err)
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
}
