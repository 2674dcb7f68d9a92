package handover

import (
	"context"
	"math"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/route"
	"zestytin/core/si"
	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/web"
)

const (
	// dawn is when the first drive of a day may leave.
	dawn si.Minutes = 4 * 60
	// usualDoor is how many minutes a handover at the door takes, where nobody has said; common practice.
	usualDoor si.Minutes = 5
	// unnamedHome is what the kitchen's address is called where none is told.
	unnamedHome = "home"
)

// mild is a day of which nothing is known: 12 C before sunrise, 22 C in the afternoon.
var mild = func() (w route.Weather) {
	for h := range w {
		w[h] = 17 - 5*math.Cos(2*math.Pi*float64(h-4)/24)
	}
	return w
}()

// driving is the drives of a day in the making.
type driving struct {
	view     DriveDay
	revision int
	cal      plan.Calendar
	day      int
	orders   []handedOver
	places   []place
	problem  route.Problem
	of       []int                    // of each drop of the problem: index in orders
	typed    map[[2]string]si.Minutes // ways that somebody has typed, between keys of places
}

// handedOver is an order of the day.
type handedOver struct {
	id              uuid.UUID
	number          int
	state           order.State
	customer, phone string
	way             order.Fulfilment
	address, notes  string
	from, to        time.Time
	freeFrom        []string
	lines           []DropLine
	pieces          int
	setup           si.Minutes // at the place, of an event: with the first order that is brought to it
	outcome, note   string
	place           int // index in places; -1: nobody knows where it is
	loads           []route.Load
}

// place that one drives to; 0 is home.
type place struct {
	key string
	at  *roads.Position
}

// shown are the drives of a day to whom its addresses may be shown.
func (o *Handover) shown(ctx context.Context, tx pgx.Tx, day string) (*driving, error) {
	cal, err := o.Calendar(ctx, tx)
	if err != nil {
		return nil, err
	}
	if !web.ActorOf(ctx).SeesAddresses(day, cal.Date(0)) {
		return nil, web.Reject(http.StatusForbidden, "handover.addresses-wait", reason.Day(day))
	}
	return o.drive(ctx, tx, day)
}

// drive reckons the drives of a day.
func (o *Handover) drive(ctx context.Context, tx pgx.Tx, day string) (*driving, error) {
	date, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return nil, notADay(day)
	}
	d := &driving{view: DriveDay{Day: day, Drives: []Drive{}, Unknown: []Unknown{}, Pickups: []Pickup{},
		Says: []reason.Reason{}, Displace: []reason.Reason{}, Proven: true, People: 1}}
	if d.cal, err = o.Calendar(ctx, tx); err != nil {
		return nil, err
	}
	d.day = d.cal.DayOf(time.Date(date.Year(), date.Month(), date.Day(), 12, 0, 0, 0, d.cal.Zero.Location()))
	stored, err := loadChoices(ctx, tx, day)
	if err != nil {
		return nil, err
	}
	d.view.Choices, d.revision = stored.Choices, stored.revision
	if d.orders, err = loadHandovers(ctx, tx, d.cal, d.day); err != nil {
		return nil, err
	}
	hours, err := o.Hours(ctx, tx, day)
	if err != nil {
		return nil, err
	}
	for _, h := range hours {
		d.view.People = max(d.view.People, h.People)
	}
	if d.view.Home, err = o.Home(ctx, tx); err != nil {
		return nil, err
	}
	if err := o.locate(ctx, tx, d); err != nil {
		return nil, err
	}
	d.ask(o.Clock())
	weather := mild
	if o.Weather != nil {
		weather = o.Weather(date)
	} else if d.view.Choices.Warmest == nil {
		d.view.Says = append(d.view.Says, reason.Of("handover.no-forecast"))
	}
	if d.view.Choices.Warmest != nil {
		weather = weather.Scaled(*d.view.Choices.Warmest)
	}
	d.view.Warmest = weather.Warmest()
	for i := range d.orders {
		if x := &d.orders[i]; x.way == order.Delivery && x.place >= 0 {
			if x.loads, err = o.Loads(ctx, tx, x.id); err != nil {
				return nil, err
			}
		}
	}
	if err := d.tours(ctx, o, &weather); err != nil {
		return nil, err
	}
	if err := d.loadSetups(ctx, tx); err != nil {
		return nil, err
	}
	d.assign()
	if err := o.compare(ctx, tx, d); err != nil {
		return nil, err
	}
	on, told, err := o.Underway(ctx, tx, day)
	d.view.Tells = on
	for i := range d.view.Drives {
		for n := range d.view.Drives[i].Drops {
			drop := &d.view.Drives[i].Drops[n]
			drop.Told = told[drop.Order]
		}
	}
	return d, err
}

// loadHandovers of a day: what is still to be handed over, and what was on a drive of the day.
func loadHandovers(ctx context.Context, tx pgx.Tx, cal plan.Calendar, day int) ([]handedOver, error) {
	rows, err := tx.Query(ctx, `select o.id, o.number, o.state, o.customer, o.phone, o.way, o.place, o.notes, o.from_at,
			o.to_at, o.free_from, coalesce(d.outcome, ''), coalesce(d.note, ''),
			coalesce(l.lines, '[]'), coalesce(l.pieces, 0),
			coalesce((select (e.content ->> 'setup')::int from events e where e.kitchen_id = o.kitchen_id
				and e.id = o.event_id and o.id = `+atDoor+`), 0)
		from orders o left join drops d on d.kitchen_id = o.kitchen_id and d.order_id = o.id and d.day = $3::text::date
		left join lateral (select jsonb_agg(jsonb_build_object('name', t.name, 'count', l.count,
			'given', d.given -> l.position) order by l.position) as lines,
			sum(l.count)::int as pieces from order_lines l
			join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
			where l.kitchen_id = o.kitchen_id and l.order_id = o.id) l on true
		where o.from_at >= $1 and o.from_at < $2
		and (o.state in ('promised', 'in the making', 'packed') or d.outcome is not null)
		order by o.from_at, o.number`, cal.Time(cal.Begin(day)), cal.Time(cal.Begin(day+1)), cal.Date(day))
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (handedOver, error) {
		x := handedOver{place: -1}
		err := row.Scan(&x.id, &x.number, &x.state, &x.customer, &x.phone, &x.way, &x.address, &x.notes, &x.from, &x.to,
			&x.freeFrom, &x.outcome, &x.note, &x.lines, &x.pieces, &x.setup)
		return x, err
	})
}

// seconds of the day at an instant.
func (d *driving) seconds(t time.Time) si.Seconds {
	return (d.cal.Minute(t) - d.cal.Begin(d.day)).Seconds()
}

// clock is what the clock shows at a second of the day.
func (d *driving) clock(s si.Seconds) si.Minutes {
	return d.cal.Clock(d.cal.Begin(d.day) + s.Minutes())
}

// at is the second of the day at which the clock shows a minute.
func (d *driving) at(clock si.Minutes) si.Seconds {
	return (d.cal.At(d.day, clock) - d.cal.Begin(d.day)).Seconds()
}

// ask the drops of the problem, and the pickups for which one must be at home.
func (d *driving) ask(now time.Time) {
	c := &d.view.Choices
	d.view.Stays = d.view.People == 1
	if c.Stays != nil {
		d.view.Stays = *c.Stays
	}
	d.problem.Earliest = max(d.at(dawn), min(d.seconds(now), si.Minutes(plan.DayMinutes).Seconds()))
	for i := range d.orders {
		x := &d.orders[i]
		from, to := d.seconds(x.from), d.seconds(x.to)
		drop := route.Drop{Place: x.place, From: from, To: to, Door: max(usualDoor, x.setup).Seconds()}
		if m, told := c.Doors[x.id]; told {
			drop.Door = m.Seconds()
		}
		if x.way != order.Delivery {
			d.view.Pickups = append(d.view.Pickups, Pickup{x.id, x.customer, d.clock(from), d.clock(to)})
			if !d.view.Stays {
				continue
			}
			drop.To, drop.Door = from, to-from
		}
		if x.place >= 0 {
			d.problem.Drops = append(d.problem.Drops, drop)
			d.of = append(d.of, i)
		}
	}
}

// tours of the day, each after the one before.
func (d *driving) tours(ctx context.Context, o *Handover, weather *route.Weather) error {
	c := &d.view.Choices
	var back si.Seconds
	tell, over := o.searches.follow(ctx, d.view.Day)
	defer over()
	for _, trip := range d.problem.Trips() {
		q := d.problem.Of(trip, back)
		own := []int{} // of the trip's drops, in one's own order
		for _, id := range c.Sequence {
			if n := slices.IndexFunc(trip, func(i int) bool { return d.orders[d.of[i]].id == id }); n >= 0 {
				own = append(own, n)
			}
		}
		best, proven := q.Best(ctx, route.Options{Progress: tell})
		tour := best
		if len(own) > 0 {
			rest := []int{}
			for i := range trip {
				if !slices.Contains(own, i) {
					rest = append(rest, i)
				}
			}
			tour = q.Timed(q.Inserted(own, rest))
		}
		for _, s := range tour.Stops {
			if leave, told := c.Leaves[d.orders[d.of[trip[s.Drop]]].id]; told {
				order := make([]int, len(tour.Stops))
				for i, s := range tour.Stops {
					order[i] = s.Drop
				}
				tour = q.Follow(order, d.at(leave))
				break
			}
		}
		d.view.Proven = d.view.Proven && proven
		d.view.Drives = append(d.view.Drives, d.show(ctx, o, q, trip, tour, best, weather))
		back = tour.Back
	}
	return nil
}

// show a tour.
func (d *driving) show(ctx context.Context, o *Handover, q *route.Problem, trip []int, tour, best route.Tour,
	weather *route.Weather) Drive {
	v := Drive{Leave: d.clock(tour.Leave), Back: d.clock(tour.Back), Road: tour.Road.Minutes(),
		Distance: measure.ShowDistance(tour.Metres), Late: tour.Late.Minutes(), Drops: []Drop{},
		Ways: [][]roads.Position{}, Chests: []Chest{}, Warmth: []Warmth{}, Heat: []reason.Reason{}}
	var loads []route.Load
	var through []roads.Position
	if d.places[0].at != nil {
		through = append(through, *d.places[0].at)
	}
	before := d.places[0].key
	for _, s := range tour.Stops {
		x, drop := &d.orders[d.of[trip[s.Drop]]], &q.Drops[s.Drop]
		shown := Drop{Order: x.id, Number: x.number, Customer: x.customer, Phone: x.phone, Address: x.address,
			AtHome: x.way != order.Delivery, From: d.clock(drop.From), To: d.clock(d.seconds(x.to)),
			Arrive: d.clock(s.Arrive), Go: d.clock(s.Go), Door: drop.Door.Minutes(), Road: s.Road.Minutes(),
			Late: s.Late.Minutes(), Pieces: x.pieces, Lines: x.lines, FreeFrom: x.freeFrom, Notes: x.notes,
			State: x.state, Outcome: x.outcome, Note: x.note, Care: []reason.Reason{}}
		key := d.places[x.place].key
		if m, told := d.typed[[2]string{before, key}]; told {
			shown.Typed = &m
		}
		before = key
		if at := d.places[x.place].at; at != nil {
			shown.At, through = at, append(through, *at)
			if !shown.AtHome {
				shown.Geo = at.Geo()
			}
		}
		if !shown.AtHome {
			for _, l := range x.loads {
				l.Drop = s.Drop
				loads = append(loads, l)
			}
			shown.Care = doorCare(weather, s.Begin, x.loads)
		}
		v.Drops = append(v.Drops, shown)
	}
	if d.places[0].at != nil && len(through) > 1 {
		through = append(through, *d.places[0].at)
		if lines, err := o.Roads.Lines(ctx, through); err == nil {
			v.Ways = lines
		} else {
			for i := 1; i < len(through); i++ {
				v.Ways = append(v.Ways, through[i-1:i+1])
			}
		}
	}
	v.Says = d.says(ctx, q, trip, tour, best)
	d.heat(&v, tour, trip, weather, loads)
	return v
}

// errands that the drives are in the plan.
func (d *driving) errands() []plan.Errand {
	list := []plan.Errand{}
	for _, v := range d.view.Drives {
		e := plan.Errand{Day: d.view.Day, From: v.Leave, To: max(v.Back, v.Leave+1), Hand: d.view.Choices.Hand,
			Orders: []ident.Order{}}
		for _, x := range v.Drops {
			if !x.AtHome {
				e.Orders = append(e.Orders, ident.Order(x.Order.String()))
			}
		}
		list = append(list, e)
	}
	list = append(list, d.setUps()...)
	slices.SortStableFunc(list, func(a, b plan.Errand) int { return int(a.From - b.From) }) // as the plan keeps them
	return list
}

// compare the drives with what the plan has of them.
func (o *Handover) compare(ctx context.Context, tx pgx.Tx, d *driving) error {
	if !d.view.Choices.Planned {
		return nil
	}
	was, err := o.Errands(ctx, tx, d.view.Day, d.view.Day)
	if err != nil {
		return err
	}
	d.view.Stale = !slices.EqualFunc(was, d.errands(), func(a, b plan.Errand) bool {
		return a.From == b.From && a.To == b.To && a.Hand == b.Hand && slices.Equal(a.Orders, b.Orders)
	})
	return nil
}
