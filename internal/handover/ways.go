package handover

import (
	"context"
	"errors"
	"log/slog"
	"slices"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/route"
	"zestytin/core/si"
	"zestytin/internal/platform/roads"

	"github.com/jackc/pgx/v5"
)

// locate the addresses, and find the ways between them.
func (o *Handover) locate(ctx context.Context, tx pgx.Tx, d *driving) error {
	known, err := tx.Query(ctx, `select address, lat, lon from positions`)
	if err != nil {
		return err
	}
	positions, own := map[string]roads.Position{}, roads.Position{}
	var key string
	if _, err := pgx.ForEachRow(known, []any{&key, &own.Lat, &own.Lon}, func() error {
		positions[key] = own
		return nil
	}); err != nil {
		return err
	}
	d.typed, err = loadLegs(ctx, tx)
	if err != nil {
		return err
	}
	find := func(address string) *roads.Position {
		if p, ok := positions[roads.Key(address)]; ok {
			return &p
		}
		if p, ok := roads.Read(address); ok {
			return &p
		}
		if p, err := o.Roads.Find(ctx, address); err == nil {
			return &p
		}
		return nil
	}
	home := roads.Key(d.view.Home)
	if home == "" {
		home = unnamedHome
	}
	d.places = []place{{home, find(home)}}
	d.view.HomeAt = d.places[0].at
	deliveries := 0
	for i := range d.orders {
		x := &d.orders[i]
		if x.way != order.Delivery {
			x.place = 0
			continue
		}
		deliveries++
		at := place{roads.Key(x.address), find(x.address)}
		if _, told := d.typed[[2]string{home, at.key}]; at.at == nil && !told || d.places[0].at == nil && !told {
			if at.at == nil {
				d.view.Unknown = append(d.view.Unknown, Unknown{&x.id, x.customer, x.address})
			}
			continue
		}
		if x.place = slices.IndexFunc(d.places, func(p place) bool { return p.key == at.key }); x.place < 0 {
			x.place = len(d.places)
			d.places = append(d.places, at)
		}
	}
	if deliveries > 0 && d.places[0].at == nil {
		d.view.Unknown = append([]Unknown{{Address: d.view.Home}}, d.view.Unknown...)
	}
	o.ways(ctx, d)
	return nil
}

func loadLegs(ctx context.Context, tx pgx.Tx) (map[[2]string]si.Minutes, error) {
	rows, err := tx.Query(ctx, `select from_place, to_place, minutes from legs`)
	if err != nil {
		return nil, err
	}
	legs := map[[2]string]si.Minutes{}
	var from, to string
	var minutes si.Minutes
	_, err = pgx.ForEachRow(rows, []any{&from, &to, &minutes}, func() error {
		legs[[2]string{from, to}] = minutes
		if _, back := legs[[2]string{to, from}]; !back {
			legs[[2]string{to, from}] = minutes
		}
		return nil
	})
	return legs, err
}

// ways between the places: by the map, where it has them; by what was typed; otherwise by a straight line, or, where
// it is only known how far something is from home, by way of that.
func (o *Handover) ways(ctx context.Context, d *driving) {
	n := len(d.places)
	w := route.Ways{Pace: route.Usual(), Free: make([][]si.Seconds, n), Metres: make([][]float64, n)}
	var at []roads.Position
	index := make([]int, n) // of each place: in at
	for i, p := range d.places {
		w.Free[i], w.Metres[i] = make([]si.Seconds, n), make([]float64, n)
		if index[i] = -1; p.at != nil {
			index[i], at = len(at), append(at, *p.at)
		}
	}
	table, err := o.Roads.Table(ctx, at)
	if err != nil && len(at) > 1 {
		if !errors.Is(err, roads.ErrOffTheMap) {
			slog.WarnContext(ctx, "the road map does not answer", "error", err)
			d.view.Says = append(d.view.Says, reason.Of("handover.roads-are-silent"))
		}
		d.view.Says = append(d.view.Says, reason.Of("handover.ways-are-estimates"))
	}
	if err == nil {
		w.Pace = table.Pace
	}
	const speed = 40 / 3.6 // m/s of minutes that were typed; common practice
	told := func(i, j int) bool {
		m, ok := d.typed[[2]string{d.places[i].key, d.places[j].key}]
		if ok {
			w.Free[i][j], w.Metres[i][j] = m.Seconds(), float64(m.Seconds())*speed
		}
		return ok
	}
	for i := range n {
		for j := range n {
			a, b := index[i], index[j]
			switch {
			case i == j || told(i, j):
			case a >= 0 && b >= 0 && err == nil:
				w.Free[i][j], w.Metres[i][j] = table.Free[a][b], table.Metres[a][b]
			case a >= 0 && b >= 0:
				w.Free[i][j], w.Metres[i][j] = roads.Estimate(at[a], at[b])
			}
		}
	}
	for i := range n {
		for j := range n {
			if i != j && w.Metres[i][j] == 0 && w.Free[i][j] == 0 && (index[i] < 0 || index[j] < 0) && i > 0 && j > 0 {
				w.Free[i][j], w.Metres[i][j] = w.Free[i][0]+w.Free[0][j], w.Metres[i][0]+w.Metres[0][j]
			}
		}
	}
	d.problem.Ways = w
}
