// Package handover brings orders to their customers: the calendar of work and handovers, and the drives of a day.
package handover

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/route"
	"zestytin/core/si"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/roads"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Handover is the feature.
type Handover struct {
	web.Base
	Deps
	searches searches
}

// Deps is what handovers need of other rooms, and of the world outside.
type Deps struct {
	// Calendar of the kitchen from today on.
	Calendar func(context.Context, pgx.Tx) (plan.Calendar, error)
	// Home is the kitchen's own address.
	Home func(context.Context, pgx.Tx) (string, error)
	// Deadlines by which something of an event is to be settled.
	Deadlines func(context.Context, pgx.Tx) ([]Deadline, error)
	// Hours of work of a day.
	Hours func(context.Context, pgx.Tx, string) ([]plan.Session, error)
	// Loads of an order on the road.
	Loads func(context.Context, pgx.Tx, uuid.UUID) ([]route.Load, error)
	// Advance an order to a state, with all that this entails.
	Advance func(context.Context, pgx.Tx, uuid.UUID, order.State) error
	// Leaves notes when the drives of the orders leave that are handed over in a span of time.
	Leaves func(ctx context.Context, tx pgx.Tx, from, to time.Time, leaves map[uuid.UUID]time.Time) error
	// Errands that the plan has from one date to another.
	Errands func(ctx context.Context, tx pgx.Tx, from, to string) ([]plan.Errand, error)
	// SetErrands of a day in the plan, and what finds no room any more.
	SetErrands func(context.Context, pgx.Tx, string, []plan.Errand) ([]reason.Reason, error)
	// Underway tells whether customers are told that one is on the way to them, and who was on a day; OnTheWay tells one
	// that one is in so many minutes.
	Underway func(ctx context.Context, tx pgx.Tx, day string) (bool, map[uuid.UUID]bool, error)
	OnTheWay func(ctx context.Context, tx pgx.Tx, order uuid.UUID, minutes int) error
	Roads    roads.Map                         // nil: nobody has named any
	Weather  func(day time.Time) route.Weather // nil: there is no forecast
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Handover {
	if needs.Roads == nil {
		needs.Roads = roads.None{}
	}
	o := &Handover{Base: h, Deps: needs}
	web.Register(h, huma.Operation{OperationID: "get-calendar", Method: "GET", Path: "/api/v1/calendar.ics",
		Summary: "The planned work and the handovers as an iCalendar file (RFC 5545)",
		Tags:    []string{"Handover"}, Responses: web.FileOf("text/calendar", "An iCalendar file")}, o.file)
	o.registerFeed()
	o.registerDrive()
	return o
}

func (o *Handover) file(ctx context.Context, _ *struct{}) (*web.File, error) {
	file, err := o.written(ctx)
	return web.Download("zesty-tin.ics", "text/calendar; charset=utf-8", file), err
}

// written calendar. An event keeps its UID while its order has that line and that handover, and its SEQUENCE rises
// whenever it changes, so that a calendar that follows the feed moves it instead of adding another.
func (o *Handover) written(ctx context.Context) ([]byte, error) {
	file := ics.NewCalendar()
	file.SetProductId("-//Zesty Tin//Work and handovers//EN")
	file.SetMethod(ics.MethodPublish)
	err := o.In(ctx, func(tx pgx.Tx) error {
		cal, err := o.Calendar(ctx, tx)
		if err != nil {
			return err
		}
		if err := o.handovers(ctx, tx, file); err != nil {
			return err
		}
		if err := o.onTheRoad(ctx, tx, cal, file); err != nil {
			return err
		}
		if err := o.deadlines(ctx, tx, file); err != nil {
			return err
		}
		return o.work(ctx, tx, cal, file)
	})
	return []byte(file.Serialize(ics.WithNewLineWindows)), err
}

func (o *Handover) handovers(ctx context.Context, tx pgx.Tx, file *ics.Calendar) error {
	rows, err := tx.Query(ctx, `select o.id, o.number, o.revision, o.customer, o.phone, o.occasion, o.way, o.place,
			o.from_at, o.to_at, o.notes, o.updated_at,
			coalesce((select string_agg(l.count || ' ' || t.name, ', ' order by l.position) from order_lines l
			join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id where l.kitchen_id = o.kitchen_id
			and l.order_id = o.id), '')
		from orders o where o.state in ('promised', 'in the making', 'packed', 'handed over') order by o.from_at`)
	if err != nil {
		return err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var (
			id                                               uuid.UUID
			number, revision                                 int
			customer, phone, occasion, place, notes, content string
			way                                              order.Fulfilment
			from, to, updated                                time.Time
		)
		if err := row.Scan(&id, &number, &revision, &customer, &phone, &occasion, &way, &place, &from, &to, &notes,
			&updated, &content); err != nil {
			return struct{}{}, err
		}
		e := file.AddEvent("order-" + id.String() + "@zestytin")
		e.SetDtStampTime(o.Clock())
		e.SetLastModifiedAt(updated)
		e.SetSequence(revision)
		e.SetStartAt(from)
		e.SetEndAt(to)
		what := reason.Series{reason.Name(customer)}
		if occasion != "" {
			what = append(what, reason.Name(occasion))
		}
		words := text.Of(ctx)
		summary := words.Of("handover.pickup", what)
		if way == order.Delivery {
			summary = words.Of("handover.delivery", what)
		}
		e.SetSummary(plain(summary))
		e.SetDescription(plain(strings.Join(nonEmpty(words.Of("handover.order", reason.Name(strconv.Itoa(number))),
			content, phone, notes), "\n")))
		if place != "" {
			e.SetLocation(plain(place))
		}
		return struct{}{}, nil
	})
	return err
}

// Deadline stands in the calendar for all of a day.
type Deadline struct {
	UID      string
	Revision int
	Day      string
	Says     reason.Reason
}

func (o *Handover) deadlines(ctx context.Context, tx pgx.Tx, file *ics.Calendar) error {
	list, err := o.Deadlines(ctx, tx)
	for _, d := range list {
		day, err := time.Parse(time.DateOnly, d.Day)
		if err != nil {
			return err // Check has refused it
		}
		e := file.AddEvent(d.UID)
		e.SetDtStampTime(o.Clock())
		e.SetSequence(d.Revision)
		e.SetAllDayStartAt(day)
		e.SetAllDayEndAt(day.AddDate(0, 0, 1))
		e.SetTimeTransparency(ics.TransparencyTransparent) // it takes nobody's time
		e.SetSummary(plain(text.Of(ctx).Say(d.Says)))
	}
	return err
}

// plain text of an event: a carriage return alone would begin a line of the file (RFC 5545, 3.1).
func plain(text string) string { return strings.NewReplacer("\r\n", "\n", "\r", "\n").Replace(text) }

func nonEmpty(lines ...string) []string {
	kept := lines[:0]
	for _, l := range lines {
		if l != "" {
			kept = append(kept, l)
		}
	}
	return kept
}

// work is one event for each batch and day, from the first melt to the last pair of hands. It is named after the line
// of the order that it was first made for and which of the batch's days it is: the day itself may change, and others
// may come to it.
func (o *Handover) work(ctx context.Context, tx pgx.Tx, cal plan.Calendar, file *ics.Calendar) error {
	rows, err := tx.Query(ctx, `select coalesce(h.order_id, b.id), coalesce(h.position, 0), coalesce(h.part, 0), s.nth, s.day,
			b.sequence, b.name, b.count,
			batch_for(b.kitchen_id, b.id), s.first, s.setup, s.last, s.lasts, s.hands, b.grams
		from (select kitchen_id, batch_id, day, row_number() over (partition by kitchen_id, batch_id
		order by day) as nth, 
				(array_agg(start order by start - changeover - washdown))[1] as first, (array_agg(changeover + washdown
				order by start - changeover - washdown))[1] as setup,
				(array_agg(start order by start + hands desc))[1] as last, (array_agg(hands
				order by start + hands desc))[1] as lasts, sum(hands + changeover + washdown)::int as hands
				from batch_steps group by kitchen_id, batch_id, day) s
			join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id
			left join lateral (select order_id, position, part from batch_shares h where h.kitchen_id = b.kitchen_id
			and h.batch_id = b.id order by h.since, h.order_id limit 1) h on true
		order by s.day, s.first - s.setup`)
	if err != nil {
		return err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var (
			id                  uuid.UUID
			position, part, nth int
			day                 time.Time
			revision, count     int
			name                string
			shares              order.Shares
			first, setup        si.Minutes // when the first step begins, and what is set up before it
			last, lasts         si.Minutes // when the last begins, and how long it takes
			handsOn             int
			grams               *si.Grams // of a mix that is made ahead
		)
		if err := row.Scan(&id, &position, &part, &nth, &day, &revision, &name, &count, &shares, &first, &setup, &last,
			&lasts, &handsOn, &grams); err != nil {
			return struct{}{}, err
		}
		y, m, d := day.Date()
		own := plan.CalendarFrom(time.Date(y, m, d, 12, 0, 0, 0, cal.Zero.Location()), cal.Zero.Location())
		e := file.AddEvent(fmt.Sprintf("work-%s-%d-%d-%d@zestytin", id, position, part, nth))
		e.SetDtStampTime(o.Clock())
		e.SetSequence(revision)
		e.SetStartAt(own.Time(own.At(0, first) - setup))
		e.SetEndAt(own.Time(own.At(0, last) + lasts))
		how, whom := reason.Value(reason.Int(count)), shares.CustomerNames()
		if grams != nil {
			how, whom = measure.ShowGrams(*grams), reason.List{reason.Of("planning.the-larder")}
		}
		e.SetSummary(plain(text.Of(ctx).Of("handover.make", how, reason.Name(name))))
		e.SetDescription(plain(paper.Plain(text.Of(ctx).Of("handover.for", whom, reason.Minutes(handsOn)))))
		return struct{}{}, nil
	})
	return err
}

// noon of a day that the database gave, in the kitchen's zone.
func noon(day string, cal plan.Calendar) time.Time {
	date, _ := time.Parse(time.DateOnly, day)
	return time.Date(date.Year(), date.Month(), date.Day(), 12, 0, 0, 0, cal.Zero.Location())
}
