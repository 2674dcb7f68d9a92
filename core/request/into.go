package request

import (
	"slices"
	"time"

	"zestytin/core/order"
)

// Into puts what was read into a draft: lines are added, what was not said stays as it is.
func (r *Read) Into(d order.Draft, zone *time.Location) order.Draft {
	d.Lines, d.FreeFrom = slices.Clone(d.Lines), slices.Clone(d.FreeFrom)
	for _, l := range r.Lines {
		n := slices.IndexFunc(d.Lines, func(x order.Line) bool { return x.Treat == l.Treat && !x.Coating })
		if n < 0 {
			d.Lines = append(d.Lines, l)
			continue
		}
		d.Lines[n].Count = min(d.Lines[n].Count+l.Count, order.MostPieces)
	}
	day, from, to := d.From.In(zone), d.From.In(zone), d.To.In(zone)
	if t, err := time.ParseInLocation(time.DateOnly, r.Day, zone); err == nil {
		day = t
	}
	clock := func(t time.Time) int { return t.Hour()*60 + t.Minute() }
	begin, end := clock(from), clock(from)+int(to.Sub(from).Minutes())
	if r.To > 0 {
		begin, end = r.From, r.To
	}
	if r.Day != "" || r.To > 0 {
		y, m, n := day.Date()
		d.From, d.To = time.Date(y, m, n, 0, begin, 0, 0, zone), time.Date(y, m, n, 0, end, 0, 0, zone)
	}
	for _, said := range []struct{ to, what *string }{{&d.Customer, &r.Customer}, {&d.Phone, &r.Phone},
		{&d.Address, &r.Address}} {
		if *said.what != "" {
			*said.to = *said.what
		}
	}
	if r.Way != "" {
		d.Way = r.Way
	}
	for _, a := range r.FreeFrom {
		if !slices.Contains(d.FreeFrom, a) {
			d.FreeFrom = append(d.FreeFrom, a)
		}
	}
	return d
}
