// Package events keeps occasions for which several orders are made: who comes, what must be settled by when, what is
// paid in which parts, and how a count of guests that changes changes the orders.
package events

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/event"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/internal/orders"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// House is what events must know of the kitchen.
type House struct {
	Currency string
	Zone     *time.Location
}

// Deps is what it needs of other rooms.
type Deps struct {
	House func(context.Context, pgx.Tx) (House, error)
	// Paid is what was paid for orders, less what was given back.
	Paid func(context.Context, pgx.Tx, []uuid.UUID) (map[uuid.UUID]decimal.Decimal, error)
	// Recount gives an order as many pieces of treats as is said, at the price that follows.
	Recount func(context.Context, pgx.Tx, uuid.UUID, map[ident.Treat]int) (*orders.Recount, error)
}

// Events is the feature.
type Events struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Events {
	e := &Events{h, needs}
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/occasions" + path, Summary: summary,
			Tags: []string{"Events"}}
	}
	web.Register(h, op("list-events", "GET", "", "Events, the next first, then those that are over"), e.list)
	made := op("create-event", "POST", "", "Write down an event")
	made.DefaultStatus = 201
	web.Register(h, made, e.create)
	web.Register(h, op("get-event", "GET", "/{id}", "An event with its orders, what is due when, and what is paid"), e.get)
	web.Register(h, op("put-event", "PUT", "/{id}", "Change an event, and which orders are made for it"), e.put)
	gone := op("delete-event", "DELETE", "/{id}", "Take an event out; its orders stay")
	gone.DefaultStatus = 204
	web.Register(h, gone, e.remove)
	web.Register(h, op("count-event", "POST", "/{id}/counts",
		"Give the orders as many pieces as the guests ask for, at the prices that follow; or only look what that would be"),
		e.counts)
	return e
}

// Fields that a person sets of an event.
type Fields struct {
	event.Event
	Orders []uuid.UUID `json:"orders" maxItems:"50" doc:"That are made for it"`
}

// Full event.
type Full struct {
	ID       uuid.UUID `json:"id"`
	Revision int       `json:"revision"`
	Fields
	Guests    int         `json:"guests"`
	Final     bool        `json:"final" doc:"The count may change no more"`
	Made      []Made      `json:"made" doc:"Its orders"`
	Total     price.Money `json:"total" doc:"Of all orders with a price, with tax"`
	Paid      price.Money `json:"paid"`
	Payments  []Payment   `json:"payments" doc:"What is due when, the rest last"`
	Deadlines []Deadline  `json:"deadlines" doc:"From the first on"`
}

// Made is an order of an event.
type Made struct {
	ID       uuid.UUID    `json:"id"`
	Number   int          `json:"number"`
	Customer string       `json:"customer"`
	Occasion string       `json:"occasion"`
	State    order.State  `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	From     time.Time    `json:"from"`
	Gross    *price.Money `json:"gross,omitempty" doc:"With tax; none before a price is agreed on"`
	Lines    []MadeLine   `json:"lines"`
}

// MadeLine is a line of an order of an event.
type MadeLine struct {
	Treat uuid.UUID `json:"treat"`
	Name  string    `json:"name"`
	Count int       `json:"count"`
	Wants int       `json:"wants" doc:"As many as the guests ask for; 0: it does not follow them"`
}

// Payment that is due.
type Payment struct {
	By     string      `json:"by" format:"date"`
	Share  float64     `json:"share"`
	Rest   bool        `json:"rest"`
	Amount price.Money `json:"amount"`
	Open   price.Money `json:"open" doc:"Still to be paid of it"`
	Late   bool        `json:"late"`
}

// Deadline of an event.
type Deadline struct {
	Kind event.DeadlineKind `json:"kind" enum:"count,part,rest,the day"`
	By   string             `json:"by" format:"date"`
	Days int                `json:"days" doc:"From today; below 0: it has passed"`
	Done bool               `json:"done"`
}

// stored event.
type stored struct {
	id       uuid.UUID
	revision int
	event.Event
}

func read(ctx context.Context, tx pgx.Tx, id uuid.UUID, lock string) (*stored, error) {
	s := &stored{id: id}
	err := tx.QueryRow(ctx, `select revision, content from events where id = $1`+lock, id).Scan(&s.revision, &s.Event)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("event")
	}
	return s, err
}

// made are the orders of an event, in the order of their handovers.
func (e *Events) made(ctx context.Context, tx pgx.Tx, s *stored, currency string) ([]Made, error) {
	rows, err := tx.Query(ctx, `select o.id, o.number, o.customer, o.occasion, o.state, o.from_at, o.gross,
			coalesce((select jsonb_agg(jsonb_build_object('treat', l.treat_id, 'name', t.name, 'count', l.count)
				order by l.position) from order_lines l join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
				where l.kitchen_id = o.kitchen_id and l.order_id = o.id), '[]')
		from orders o where o.event_id = $1 order by o.from_at, o.number`, s.id)
	if err != nil {
		return nil, err
	}
	guests := s.Guests()
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (m Made, err error) {
		var gross *decimal.Decimal
		err = row.Scan(&m.ID, &m.Number, &m.Customer, &m.Occasion, &m.State, &m.From, &gross, &m.Lines)
		if gross != nil {
			m.Gross = new(price.In(currency, *gross))
		}
		for i := range m.Lines {
			l := &m.Lines[i]
			for _, f := range s.Follow {
				if string(f.Order) == m.ID.String() && string(f.Treat) == l.Treat.String() {
					l.Wants = event.Pieces(guests, f.Each)
				}
			}
		}
		return m, err
	})
	if list == nil {
		list = []Made{}
	}
	return list, err
}

// full event, with all that follows.
func (e *Events) full(ctx context.Context, tx pgx.Tx, s *stored) (*Full, error) {
	house, err := e.House(ctx, tx)
	if err != nil {
		return nil, err
	}
	f := &Full{ID: s.id, Revision: s.revision, Fields: Fields{Event: s.Event, Orders: []uuid.UUID{}}, Guests: s.Guests()}
	if f.Made, err = e.made(ctx, tx, s, house.Currency); err != nil {
		return nil, err
	}
	total, sum := decimal.Zero, decimal.Zero
	for _, m := range f.Made {
		f.Orders = append(f.Orders, m.ID)
		if m.Gross != nil && m.State != order.Cancelled {
			total = total.Add(decimal.RequireFromString(m.Gross.Amount))
		}
	}
	paid, err := e.Paid(ctx, tx, f.Orders)
	if err != nil {
		return nil, err
	}
	for _, p := range paid {
		sum = sum.Add(p)
	}
	money := func(d decimal.Decimal) price.Money { return price.In(house.Currency, d) }
	f.Total, f.Paid = money(total), money(sum)
	today := e.Clock().In(house.Zone).Format(time.DateOnly)
	f.Final = s.CountIsFinal(today, house.Zone)
	payments := s.Payments(total, sum, house.Currency, house.Zone)
	f.Payments = []Payment{}
	for _, p := range payments {
		f.Payments = append(f.Payments, Payment{By: p.By, Share: p.Share, Rest: p.Rest, Amount: money(p.Amount),
			Open: money(p.Open), Late: p.Open.IsPositive() && p.By < today})
	}
	f.Deadlines = []Deadline{}
	for _, d := range s.Deadlines(payments, today, house.Zone) {
		f.Deadlines = append(f.Deadlines, Deadline(d))
	}
	return f, nil
}

// Row of the list.
type Row struct {
	ID     uuid.UUID `json:"id"`
	Name   string    `json:"name"`
	Host   string    `json:"host"`
	Begins time.Time `json:"begins"`
	Guests int       `json:"guests"`
	Orders int       `json:"orders"`
	Next   *Deadline `json:"next,omitempty" doc:"What must be settled next"`
}

// List of events.
type List struct {
	Events []Row `json:"events"`
}

func (e *Events) list(ctx context.Context, _ *struct{}) (*struct{ Body List }, error) {
	out := List{Events: []Row{}}
	err := e.In(ctx, func(tx pgx.Tx) error {
		all, err := e.all(ctx, tx)
		for _, f := range all {
			r := Row{ID: f.ID, Name: f.Name, Host: f.Host, Begins: f.Begins, Guests: f.Guests, Orders: len(f.Orders)}
			for n := range f.Deadlines {
				if d := &f.Deadlines[n]; !d.Done && r.Next == nil {
					r.Next = d
				}
			}
			out.Events = append(out.Events, r)
		}
		return err
	})
	return &struct{ Body List }{out}, err
}

// all events in full: those to come from the first on, then those that were.
func (e *Events) all(ctx context.Context, tx pgx.Tx) ([]*Full, error) {
	rows, err := tx.Query(ctx, `select id, revision, content from events
		order by begins_at < $1, case when begins_at >= $1 then begins_at end, begins_at desc limit 200`,
		e.Clock().AddDate(0, 0, -1))
	if err != nil {
		return nil, err
	}
	found, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (s stored, err error) {
		err = row.Scan(&s.id, &s.revision, &s.Event)
		return s, err
	})
	if err != nil {
		return nil, err
	}
	list := make([]*Full, len(found))
	for i := range found {
		if list[i], err = e.full(ctx, tx, &found[i]); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// Dated is a day by which something of an event is to be settled.
type Dated struct {
	Event    uuid.UUID
	Nth      int // of those of its kind
	Kind     event.DeadlineKind
	Revision int
	Name     string
	By       string
}

// Deadlines of all events that are not settled yet.
func (e *Events) Deadlines(ctx context.Context, tx pgx.Tx) ([]Dated, error) {
	all, err := e.all(ctx, tx)
	list := []Dated{}
	for _, f := range all {
		nth := map[event.DeadlineKind]int{}
		for _, d := range f.Deadlines {
			nth[d.Kind]++
			if !d.Done {
				list = append(list, Dated{f.ID, nth[d.Kind], d.Kind, f.Revision, f.Name, d.By})
			}
		}
	}
	return list, err
}

func (e *Events) get(ctx context.Context, in *web.ID) (*web.Tagged[Full], error) {
	var f *Full
	err := e.In(ctx, func(tx pgx.Tx) error {
		s, err := read(ctx, tx, in.ID, "")
		if err == nil {
			f, err = e.full(ctx, tx, s)
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return web.TaggedBy(f.Revision, *f), nil
}

func (e *Events) create(ctx context.Context, in *struct {
	web.OnceKey
	Body Fields
}) (*web.Tagged[Full], error) {
	var f Full
	err := e.In(ctx, func(tx pgx.Tx) (err error) {
		f, err = web.Once(ctx, tx, in.OnceKey, "create-event", in.Body, func() (Full, error) {
			s := &stored{id: db.NewID(), revision: 1, Event: in.Body.Event}
			return e.save(ctx, tx, s, &in.Body)
		})
		return err
	})
	return web.TaggedBy(f.Revision, f), err
}

func (e *Events) put(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body Fields
}) (*web.Tagged[Full], error) {
	var f Full
	err := e.In(ctx, func(tx pgx.Tx) error {
		s, err := read(ctx, tx, in.ID.ID, " for update")
		if err != nil {
			return err
		}
		if err := in.Matches(s.revision, func() (any, error) { return e.full(ctx, tx, s) }); err != nil {
			return err
		}
		s.revision++
		f, err = e.save(ctx, tx, s, &in.Body)
		return err
	})
	return web.TaggedBy(f.Revision, f), err
}

// save an event as a person set it, with its orders.
func (e *Events) save(ctx context.Context, tx pgx.Tx, s *stored, in *Fields) (Full, error) {
	house, err := e.House(ctx, tx)
	if err != nil {
		return Full{}, err
	}
	if err := in.Check(house.Zone); err != nil {
		return Full{}, err
	}
	if s.Event = in.Event; s.Follow == nil {
		s.Follow = []event.Follow{}
	}
	if _, err := tx.Exec(ctx, `insert into events (kitchen_id, id, begins_at, content, revision)
		values ($1, $2, $3, $4, $5) on conflict (kitchen_id, id) do update set begins_at = excluded.begins_at,
		content = excluded.content,
		revision = excluded.revision`, web.ActorOf(ctx).Kitchen, s.id, s.Begins, s.Event, s.revision); err != nil {
		return Full{}, err
	}
	if _, err := tx.Exec(ctx, `update orders set event_id = null where event_id = $1 and not id = any($2)`, s.id,
		in.Orders); err != nil {
		return Full{}, err
	}
	tag, err := tx.Exec(ctx, `update orders set event_id = $1 where id = any($2)`, s.id, in.Orders)
	if err != nil {
		return Full{}, err
	}
	if int(tag.RowsAffected()) != len(in.Orders) {
		return Full{}, web.Reject(http.StatusUnprocessableEntity, "events.no-such-order")
	}
	f, err := e.full(ctx, tx, s)
	if err != nil {
		return Full{}, err
	}
	return *f, nil
}

func (e *Events) remove(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, e.In(ctx, func(tx pgx.Tx) error {
		if _, err := read(ctx, tx, in.ID, " for update"); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update orders set event_id = null where event_id = $1`, in.ID); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from events where id = $1`, in.ID)
		return err
	})
}
