package handover

import (
	"context"
	"slices"

	"zestytin/core/reason"
	"zestytin/core/route"
	"zestytin/core/si"
)

// says whether a drive reaches all windows, and what would help where it does not.
func (d *driving) says(ctx context.Context, q *route.Problem, trip []int, tour, best route.Tour) []reason.Reason {
	name := func(drop int) reason.Name { return reason.Name(d.orders[d.of[trip[drop]]].customer) }
	clock := func(s si.Seconds) reason.Clock { return reason.Clock(d.clock(s)) }
	list := []reason.Reason{}
	if tour.Late == 0 {
		if len(tour.Stops) > 1 {
			order := []int{}
			for _, s := range tour.Stops {
				order = append(order, s.Drop)
			}
			slices.Reverse(order)
			for _, s := range q.Timed(order).Stops {
				if s.Late > 0 {
					return append(list, reason.Of("handover.in-time-unlike-the-other-way", name(s.Drop),
						reason.Minutes(s.Late.Minutes())))
				}
			}
		}
		return append(list, reason.Of("handover.in-time"))
	}
	for _, s := range tour.Stops {
		if s.Late > 0 {
			list = append(list, reason.Of("handover.window-is-missed", name(s.Drop), reason.Minutes(s.Late.Minutes()),
				clock(s.Arrive)))
		}
	}
	if best.Late == 0 {
		return append(list, reason.Of("handover.the-best-way-is-in-time", clock(best.Leave)))
	}
	if len(trip) > route.MostExact {
		return list
	}
	for _, h := range q.Helps(ctx, best) {
		switch h.Kind {
		case route.Earlier:
			list = append(list, reason.Of("handover.leaving-earlier-helps", clock(h.By)))
		case route.Longer:
			list = append(list, reason.Of("handover.a-longer-window-helps", name(h.Drop), clock(h.By)))
		case route.Without:
			if q.Drops[h.Drop].Place == 0 {
				list = append(list, reason.Of("handover.somebody-at-home-helps", name(h.Drop)))
			} else {
				list = append(list, reason.Of("handover.somebody-else-helps", name(h.Drop)))
			}
		}
	}
	return list
}

// heat of a drive: the cool boxes and what to mind.
func (d *driving) heat(v *Drive, tour route.Tour, trip []int, weather *route.Weather, loads []route.Load) {
	hottest := tour.Leave
	warmth := tour.Warmth(weather)
	at := 0
	for i, s := range warmth {
		v.Warmth = append(v.Warmth, Warmth{d.clock(s.At), s.Air, s.Car})
		if s.Car > warmth[at].Car {
			at, hottest = i, s.At
		}
	}
	for _, c := range tour.Chests(weather, loads) {
		shown := Chest{Care: c.Care, Packs: c.Packs, Lasts: d.clock(c.Lasts), For: []string{}}
		for _, drop := range c.Drops {
			if name := d.orders[d.of[trip[drop]]].customer; !slices.Contains(shown.For, name) {
				shown.For = append(shown.For, name)
			}
		}
		v.Chests = append(v.Chests, shown)
		packs, lasts := reason.Count{N: c.Packs, Of: "ice pack"}, reason.Clock(shown.Lasts)
		switch c.Care {
		case route.Cold:
			v.Heat = append(v.Heat, reason.Of("handover.ice-for-what-is-cold", packs, lasts))
		case route.Cool:
			v.Heat = append(v.Heat, reason.Of("handover.ice-for-chocolate", packs, lasts))
		default:
			v.Heat = append(v.Heat, reason.Of("handover.ice-for-coating", packs, lasts))
		}
	}
	if len(loads) > 0 && len(v.Chests) == 0 {
		v.Heat = append(v.Heat, reason.Of("handover.no-ice", reason.Celsius(warmth[at].Car)))
	} else if len(v.Chests) > 0 {
		v.Heat = append(v.Heat, reason.Of("handover.warmest-in-the-car", reason.Celsius(warmth[at].Car),
			reason.Clock(d.clock(hottest))))
	}
}

// doorCare is what the heat asks for at a door: what may not be left there, and until when in the morning it might be.
func doorCare(weather *route.Weather, at si.Seconds, loads []route.Load) []reason.Reason {
	list := []reason.Reason{}
	const stands = 3600 // s, that something is taken to stand at a door
	shade, sun := weather.Doorstep(at, at+stands)
	care := route.Mild
	for _, l := range loads {
		if l.Care.Softens() < care.Softens() {
			care = l.Care
		}
	}
	switch {
	case len(loads) == 0:
	case care == route.Cold && shade > care.Softens():
		list = append(list, reason.Of("handover.never-leave-what-is-cold"))
	case shade >= care.Softens():
		list = append(list, reason.Of("handover.not-at-the-door", reason.Celsius(shade)))
		if until := weather.Morning(care); until > 0 && until < at {
			list = append(list, reason.Of("handover.cool-in-the-morning", reason.Clock(until.Minutes())))
		}
	case sun >= care.Softens():
		list = append(list, reason.Of("handover.only-in-the-shade", reason.Celsius(sun)))
	}
	return list
}
