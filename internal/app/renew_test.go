package app_test

import (
	"context"
	"fmt"
	"reflect"
	"testing"
)

// What was promised before there was an account of the chocolate gets one: no order pays more, nothing else is begun,
// and the bench melts what it would have.
func TestRenewal(t *testing.T) {
	t.Parallel()
	h := open(t)
	p := h.maren(t)
	prices := func() map[any]any {
		of := map[any]any{}
		for _, o := range p.must(200, "GET", "/orders", nil)["orders"].([]any) {
			of[o.(object)["id"]] = o.(object)["price"]
		}
		return of
	}
	melts := func() map[string]object {
		of := map[string]object{}
		for _, day := range []string{"2026-09-04", "2026-09-05", "2026-09-06"} {
			sheet := p.must(200, "GET", fmt.Sprint("/days/", day, "/run-sheet"), nil)
			for _, s := range sheet["sessions"].([]any) {
				for _, x := range s.(object)["setups"].([]any) {
					if setup := x.(object); setup["wash"] == false {
						of[fmt.Sprint(day, setup["pot"], setup["at"])] = setup["melt"].(object)
					}
				}
			}
		}
		return of
	}
	paid, before := prices(), melts()
	if len(before) < 3 || len(paid) < 8 {
		t.Fatalf("%d orders, melted %v", len(paid), before)
	}
	h.own(t, `update batch_steps s set draw = null where done_at is null`)
	h.own(t, `update batch_needs set drawn = 0`)
	h.own(t, `insert into ledger_renewals select id from kitchens`)
	if lost := melts(); len(lost) > 0 {
		t.Fatalf("melted without an account: %v", lost)
	}
	if err := h.app.Renew(context.Background()); err != nil {
		t.Fatal(err)
	}
	if after := melts(); !reflect.DeepEqual(after, before) {
		t.Errorf("melted %v, before %v", after, before)
	}
	if after := prices(); !reflect.DeepEqual(after, paid) {
		t.Errorf("they pay %v, before %v", after, paid)
	}
	var left int
	if err := h.pool.QueryRow(context.Background(), `select count(*) from ledger_renewals`).Scan(&left); err != nil ||
		left != 0 {
		t.Errorf("%d kitchens are still to be renewed (%v)", left, err)
	}
}
