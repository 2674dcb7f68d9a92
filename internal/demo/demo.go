// Package demo fills a kitchen of invented people in a small lakeside town, so that every screen has something true to
// show. Everything goes through the same doors as a person's own work, with the clock set to the day on which it
// happened.
package demo

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/account"
	"zestytin/internal/app"
	"zestytin/internal/planning"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
	"zestytin/internal/till"
)

// SignIn of the demo kitchen.
var SignIn = account.SignIn{Mail: "maren@lakeside.example", Password: "three warm tins"}

// zone of the demo kitchen.
const zone = "America/New_York"

// Mail that signs in to the n-th demo kitchen, from 1; the first is the one that the page offers.
func Mail(n int) string {
	if n <= 1 {
		return SignIn.Mail
	}
	return strings.Replace(SignIn.Mail, "@", fmt.Sprintf("-%d@", n), 1)
}

// Load fills the demo kitchen as of now, unless it is there.
func Load(ctx context.Context, pool *pgxpool.Pool, now time.Time) error {
	return LoadAs(ctx, pool, now, SignIn.Mail)
}

// LoadAs fills a demo kitchen of its own for who signs in with a mail, unless it is there.
func LoadAs(ctx context.Context, pool *pgxpool.Pool, now time.Time, mail string) error {
	var there bool
	err := db.Begin(ctx, pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.mail", mail); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select exists (select from people where mail = $1)`, mail).Scan(&there)
	})
	if err != nil || there {
		return err
	}
	location, err := time.LoadLocation(zone)
	if err != nil {
		return err
	}
	k := &kitchen{ids: map[string]string{}, zone: location, now: now, cal: plan.CalendarFrom(now, location),
		trips: trips()}
	k.clock = k.at(-25, "09:00")
	k.app = app.New(app.Options{Pool: pool, Clock: func() time.Time { return k.clock }})
	who, err := account.Open(ctx, pool, k.clock, account.Opening{Country: "US", Kitchen: "Maren's kitchen",
		Name: "Maren Halloway",
		Mail: mail, Password: SignIn.Password, TimeZone: zone, Currency: "USD"})
	if err != nil {
		return err
	}
	ctx = text.With(web.WithWho(ctx, who), text.For(true)) // what is written down for it is written as it reads
	if err := k.in(ctx, k.larder); err != nil {
		return fmt.Errorf("fill the larder: %w", err)
	}
	if err := k.in(ctx, k.book); err != nil {
		return fmt.Errorf("fill the book: %w", err)
	}
	if err := k.in(ctx, k.workDays); err != nil {
		return fmt.Errorf("fill the work days: %w", err)
	}
	if err := k.in(ctx, k.terms); err != nil {
		return fmt.Errorf("set the terms: %w", err)
	}
	if err := k.in(ctx, k.room); err != nil {
		return fmt.Errorf("set the room: %w", err)
	}
	// What happened, in the order in which it did: a plan is made of what was known then.
	var events []event
	for _, o := range history() {
		events = append(events, k.events(o)...)
	}
	slices.SortStableFunc(events, func(a, b event) int { return a.at.Compare(b.at) })
	for _, e := range events {
		if err := k.shop(ctx, k.cal.DayOf(e.at)); err != nil {
			return err
		}
		k.clock = e.at
		if err := e.do(ctx); err != nil {
			return fmt.Errorf("order of %s: %w", e.customer, err)
		}
	}
	if err := k.shop(ctx, 0); err != nil {
		return err
	}
	if err := k.in(ctx, k.messages); err != nil {
		return fmt.Errorf("tell customers: %w", err)
	}
	if err := k.in(ctx, k.occasions); err != nil {
		return fmt.Errorf("write down events: %w", err)
	}
	if err := k.in(ctx, k.instruments); err != nil {
		return fmt.Errorf("add thermometer and scale: %w", err)
	}
	if err := k.in(ctx, k.outcomes); err != nil {
		return fmt.Errorf("write down how batches came out: %w", err)
	}
	return k.in(ctx, k.offers)
}

type kitchen struct {
	app   *app.App
	ids   map[string]string // by name
	zone  *time.Location
	cal   plan.Calendar
	now   time.Time
	clock time.Time
	trips []trip // that are still to come
}

func (k *kitchen) in(ctx context.Context, fn func(context.Context, pgx.Tx) error) error {
	return k.app.Home.In(ctx, func(tx pgx.Tx) error { return fn(ctx, tx) })
}

// at a time of the day so many days from today.
func (k *kitchen) at(days int, clock string) time.Time {
	t, err := time.Parse("15:04", clock)
	if err != nil {
		panic(err)
	}
	return k.cal.Time(k.cal.At(days, si.Minutes(t.Hour()*60+t.Minute())))
}

func (k *kitchen) workDays(ctx context.Context, tx pgx.Tx) error {
	evening := []planning.Span{{From: "17:30", To: "21:30", Hands: 1}}
	none := []planning.Span{}
	week := [][]planning.Span{none, none, evening, evening, evening, evening, {{From: "08:30", To: "11:30", Hands: 2}}}
	w := planning.WorkDays{Week: week, Exceptions: []planning.Exception{}}
	// On the second Sunday there is time to catch up.
	for day := 7; day < 14; day++ {
		if k.at(day, "12:00").Weekday() == time.Sunday {
			w.Exceptions = append(w.Exceptions, planning.Exception{Day: k.cal.Date(day),
				Reason: "Before the regatta supper", Spans: []planning.Span{{From: "09:00", To: "12:00", Hands: 1}}})
		}
	}
	// The first work day from the ninth day on is a concert.
	for day := 9; day < 16; day++ {
		if weekday := k.at(day, "12:00").Weekday(); weekday >= time.Tuesday && weekday <= time.Friday {
			w.Exceptions = append(w.Exceptions, planning.Exception{Day: k.cal.Date(day), Reason: "Harbour concert",
				Spans: none})
			break
		}
	}
	return planning.StoreWorkDays(ctx, tx, web.ActorOf(ctx), w)
}

// story is an order and how far it has come.
type story struct {
	customer, phone, mail, occasion string
	way                             order.Fulfilment
	place                           string
	km                              float64 // there and back
	written, day                    int     // days from today
	on                              string  // the first such weekday from day on
	from, to                        string
	lines                           map[string]int
	free                            []string
	notes, asked                    string
	deposit                         string
	until                           order.State
	ticks                           int // steps ticked, while in the making
}

func history() []story {
	return []story{
		{customer: "Odalys Brandt", phone: "555 0101", occasion: "house warming", way: order.Pickup,
			place: "at the door", written: -24, day: -18, from: "11:00", to: "12:00",
			lines: map[string]int{"Hazelnut and sour-cherry bark": 12, "Bergamot truffles": 24}, until: order.Settled,
			asked: "128.00"},
		{customer: "Regatta club", mail: "galley@regatta.example", occasion: "opening supper", way: order.Delivery,
			place: "Boathouse, Pier Lane", written: -24, day: -13, from: "17:00", to: "17:30",
			lines: map[string]int{"Cardamom-malt bombs": 24, "Pistachio milk bark": 10}, until: order.Settled,
			asked: "196.00"},
		{customer: "Tamsin Oduya", phone: "555 0117", occasion: "thank-you gift", way: order.Pickup,
			place: "at the door", written: -16, day: -8, from: "18:00", to: "19:00",
			lines: map[string]int{"Apricots in lake blue": 24, "Nougat cubes": 24}, until: order.Settled,
			asked: "118.00"},
		{customer: "Ferry office", mail: "office@ferry.example", occasion: "last day of Joss", way: order.Pickup,
			place: "at the door", written: -12, day: -2, from: "12:00", to: "13:00",
			lines: map[string]int{"Cardamom-malt bombs": 12, "Brown-butter walnut fudge": 30}, until: order.HandedOver,
			asked: "94.00"},
		{customer: "Piotr Szalai", phone: "555 0123", occasion: "leaving lunch", way: order.Pickup,
			place: "at the door", written: -9, day: 0, from: "13:00", to: "14:00",
			lines: map[string]int{"Brown-butter walnut fudge": 20}, until: order.Packed, asked: "62.00"},
		{customer: "Lakeside library", mail: "desk@library.example", occasion: "fiftieth birthday", way: order.Delivery,
			place: "Reading room, Mill Street", written: -8, day: 1, from: "09:30", to: "10:00",
			lines: map[string]int{"Milk malt bombs": 30}, notes: "Side entrance, ask for the desk.",
			until: order.Making, ticks: 2},
		{customer: "Wren family", phone: "555 0138", occasion: "wedding brunch", way: order.Delivery,
			place: "Orchard barn, Hill Road", km: 14, written: -6, day: 2, on: "Sat", from: "12:00", to: "12:30",
			lines: map[string]int{"Strawberries with white lines": 36, "Apricots in lake blue": 24},
			free:  []string{"peanut"}, until: order.Promised, deposit: "40.00"},
		{customer: "Anouk Lindqvist", phone: "555 0142", occasion: "a birthday, in a hurry", way: order.Pickup,
			place: "at the door", written: 0, day: 2, from: "19:00", to: "20:00",
			lines: map[string]int{"Strawberries with white lines": 12}, notes: "Rush: rang this morning.",
			until: order.Promised},
		{customer: "Science night", mail: "nights@school.example", occasion: "school science night",
			way: order.Delivery, place: "School hall", written: -3, day: 7, on: "Fri", from: "16:30", to: "17:00",
			lines: map[string]int{"Hazelnut and sour-cherry bark": 20, "Apricots in lake blue": 36,
				"Sesame pretzel rods": 24}, until: order.Promised, deposit: "60.00"},
		{customer: "Ilse Vantongeren", phone: "555 0155", mail: "ilse@choir.example", occasion: "choir reunion",
			way: order.Pickup, place: "at the door", written: -2, day: 8, on: "Sat", from: "14:00", to: "15:00",
			lines: map[string]int{"Cardamom-malt bombs": 40, "Strawberries with white lines": 48,
				"Hazelnut and sour-cherry bark": 20}, free: []string{"peanut"}, notes: "A note in each box.",
			until: order.Enquiry},
		{customer: "Regatta club", mail: "galley@regatta.example", occasion: "regatta supper", way: order.Delivery,
			place: "Boathouse, Pier Lane", written: -2, day: 9, on: "Sun", from: "17:30", to: "18:00",
			lines: map[string]int{"Cardamom-malt bombs": 24, "Pistachio milk bark": 24}, until: order.Quoted},
		{customer: "Brookhollow school", mail: "office@brookhollow.example", occasion: "lantern walk",
			way: order.Pickup, place: "at the door", written: -1, day: 12, on: "Wed", from: "18:00", to: "18:30",
			lines: map[string]int{"Strawberries with white lines": 72}, until: order.Enquiry},
		{customer: "Emeka Strand", phone: "555 0160", occasion: "a gift", way: order.Pickup, place: "at the door",
			written: -1, day: 18, on: "Sat", from: "13:00", to: "14:00",
			lines: map[string]int{"Pistachio milk bark": 6, "Bergamot truffles": 24,
				"A dozen strawberries, three ways": 12, "Nougat cubes": 12}, until: order.Promised},
		{customer: "Harbour cafe", mail: "cafe@harbour.example", occasion: "counter jars", way: order.Delivery,
			place: "Quay 3", written: -5, day: 6, from: "09:00", to: "09:30",
			lines: map[string]int{"Pistachio milk bark": 40}, until: order.Cancelled},
	}
}

// event of an order's story.
type event struct {
	at       time.Time
	customer string
	do       func(context.Context) error
}

// events of a story: it is written and promised, made and packed, handed over, as far as it has come.
func (k *kitchen) events(s story) []event {
	for s.on != "" && k.at(s.day, "12:00").Format("Mon") != s.on {
		s.day++
	}
	d := order.Draft{Customer: s.customer, Phone: s.phone, Mail: s.mail, Occasion: s.occasion, Way: s.way,
		Address: s.place, Distance: s.km,
		From: k.at(s.day, s.from), To: k.at(s.day, s.to), FreeFrom: s.free, Notes: s.notes, Lines: []order.Line{}}
	if s.asked != "" {
		d.Pricing = &order.Pricing{By: price.ByPrice, Value: s.asked}
	}
	if d.FreeFrom == nil {
		d.FreeFrom = []string{}
	}
	for _, t := range k.treats() {
		if n := s.lines[t.Name]; n > 0 {
			d.Lines = append(d.Lines, order.Line{Treat: ident.Treat(k.ids[t.Name]), Count: n})
		}
	}
	var id uuid.UUID
	refused := false
	var list []event
	then := func(at time.Time, do func(context.Context, pgx.Tx) error) {
		list = append(list, event{earlier(at, k.now), s.customer, func(ctx context.Context) error {
			if refused {
				return nil
			}
			return k.in(ctx, do)
		}})
	}
	to := func(at time.Time, states ...order.State) {
		for _, state := range states {
			then(at, func(ctx context.Context, tx pgx.Tx) error {
				if state == order.Making {
					return k.app.Orders.Begin(ctx, tx,
						id) // it may have begun with another that it is made together with
				}
				return k.app.Orders.Advance(ctx, tx, id, state)
			})
		}
	}
	written := k.at(s.written, "08:15")
	then(written, func(ctx context.Context, tx pgx.Tx) error {
		made, err := k.app.Orders.Write(ctx, tx, d)
		id = made.ID
		return err
	})
	if s.until == order.Enquiry {
		return list
	}
	if s.until == order.Quoted {
		to(written, order.Quoted)
		then(written, func(ctx context.Context, tx pgx.Tx) error { return k.app.Orders.WriteQuote(ctx, tx, id) })
		return list
	}
	list = append(list, event{earlier(written, k.now), s.customer, func(ctx context.Context) error {
		err := k.in(ctx, func(ctx context.Context, tx pgx.Tx) error {
			return k.app.Orders.Advance(ctx, tx, id,
				order.Promised)
		})
		var problem *web.Problem
		if refused = errors.As(err, &problem); refused {
			return nil // on some weekdays one of them finds no place: it stays an enquiry
		}
		return err
	}})
	if s.deposit != "" {
		deposit := till.PaymentFields{Kind: "deposit", Amount: s.deposit, Day: k.cal.Date(s.written), Way: "transfer"}
		then(written, func(ctx context.Context, tx pgx.Tx) error { return k.app.Till.Note(ctx, tx, id, deposit) })
	}
	packed, handed := d.From.Add(-time.Hour), d.From.Add(10*time.Minute)
	switch s.until {
	case order.Cancelled:
		to(written, order.Cancelled)
	case order.Packed:
		to(packed, order.Making, order.Packed)
	case order.HandedOver:
		to(packed, order.Making, order.Packed)
		to(handed, order.HandedOver)
	case order.Settled:
		to(packed, order.Making, order.Packed)
		to(handed, order.HandedOver, order.Settled)
	}
	if s.ticks > 0 {
		then(k.now, func(ctx context.Context, tx pgx.Tx) error { return k.tick(ctx, tx, id, s.ticks) })
	}
	return list
}

// room of the demo kitchen: a fridge with six trays, a small freezer, and the moulds that the formulas speak of.
func (k *kitchen) room(ctx context.Context, tx pgx.Tx) error {
	balls := treat.Formula{Family: "bomb", Shell: &treat.Shell{Across: measure.Of(2.5, measure.Inch), Cavities: 6}}
	return planning.StoreCapacity(ctx, tx, planning.Capacity{Spots: treat.Spots(), Washdown: 15,
		Moulds: []planning.Mould{{Tool: family.Tool(&balls), Count: 4}}})
}

// tick the first steps of an order.
func (k *kitchen) tick(ctx context.Context, tx pgx.Tx, id uuid.UUID, n int) error {
	_, err := tx.Exec(ctx, `update batch_steps t set done_at = $2, done_by = $3 from batch_shares h
			where h.kitchen_id = t.kitchen_id and h.batch_id = t.batch_id and h.order_id = $1 and t.position < $4`,
		id, k.clock, web.ActorOf(ctx).Person, n)
	if err != nil {
		return err
	}
	if err := k.app.Orders.Begin(ctx, tx, id); err != nil {
		return err
	}
	if err := k.app.Plan.Settle(ctx, tx); err != nil {
		return err
	}
	return k.app.Book(ctx, tx)
}

func earlier(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}
