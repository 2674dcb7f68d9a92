// Package orders keeps the orders, from enquiry to settled.
package orders

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Needs is what the orders need of other rooms.
type Needs struct {
	// Kitchen is what the reckoning must know: with the versions of treats that pins names, and all taken time but that of
	// the order except.
	Kitchen func(ctx context.Context, tx pgx.Tx, except uuid.UUID, pins map[string]int) (*order.Kitchen, error)
	// Plan saves the days of an order, Unplan drops them.
	Plan   func(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Reckoning, cal plan.Calendar) error
	Unplan func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Packs is the packaging that an order takes; Book changes the stock.
	Packs func(ctx context.Context, tx pgx.Tx, id uuid.UUID) (map[string]float64, error)
	Book  func(ctx context.Context, h web.Home, tx pgx.Tx, id uuid.UUID, reason string, changes map[string]float64) error
}

// Orders is the feature.
type Orders struct {
	web.Home
	Needs
}

// Register adds the operations.
func Register(h web.Home, needs Needs) *Orders {
	o := &Orders{h, needs}
	tags := []string{"Orders"}
	web.Register(h, huma.Operation{OperationID: "list-orders", Method: "GET", Path: "/api/v1/orders", Summary: "All orders by handover", Tags: tags}, o.list)
	web.Register(h, huma.Operation{OperationID: "create-order", Method: "POST", Path: "/api/v1/orders", Summary: "Write an order; it begins as an enquiry", Tags: tags, DefaultStatus: 201}, o.create)
	web.Register(h, huma.Operation{OperationID: "get-order", Method: "GET", Path: "/api/v1/orders/{id}", Summary: "An order with its days and its history", Tags: tags}, o.get)
	web.Register(h, huma.Operation{OperationID: "put-order", Method: "PUT", Path: "/api/v1/orders/{id}", Summary: "Change an order", Tags: tags}, o.put)
	web.Register(h, huma.Operation{OperationID: "move-order", Method: "POST", Path: "/api/v1/orders/{id}/moves", Summary: "Move an order on, back or out", Tags: tags}, o.move)
	web.Register(h, huma.Operation{OperationID: "reckon-order", Method: "POST", Path: "/api/v1/reckonings", Summary: "All that follows from an order as it is typed; nothing is saved", Tags: []string{"Calculators"}}, o.reckon)
	return o
}

// Line of an order as it is shown.
type Line struct {
	Treat     string          `json:"treat"`
	Name      string          `json:"name"`
	Version   int             `json:"version"`
	Count     int             `json:"count"`
	Family    treat.Family    `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Chocolate *food.Chocolate `json:"chocolate,omitempty"`
}

// Row is an order in the list.
type Row struct {
	ID       uuid.UUID    `json:"id"`
	Number   int          `json:"number"`
	Revision int          `json:"revision"`
	State    order.State  `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Customer string       `json:"customer"`
	Occasion string       `json:"occasion,omitempty"`
	Way      order.Way    `json:"way" enum:"pickup,delivery"`
	Place    string       `json:"place,omitempty"`
	From     time.Time    `json:"from"`
	To       time.Time    `json:"to"`
	FreeFrom []string     `json:"freeFrom"`
	Notes    string       `json:"notes,omitempty"`
	Phone    string       `json:"phone,omitempty"`
	Lines    []Line       `json:"lines"`
	Price    *price.Money `json:"price,omitempty"`
	Fits     *bool        `json:"fits,omitempty" doc:"Of an order that has no days yet: whether it would fit"`
	FitsText string       `json:"fitsText,omitempty"`
	Steps    int          `json:"steps" doc:"Of its batches"`
	Done     int          `json:"done" doc:"Steps that are ticked"`
}

// List of orders.
type List struct {
	Orders []Row `json:"orders"`
}

// Day is a batch of an order on its day.
type Day struct {
	Batch uuid.UUID `json:"batch"`
	Line  int       `json:"line"`
	Name  string    `json:"name"`
	Day   string    `json:"day" format:"date"`
	Hands int       `json:"hands"`
	Steps int       `json:"steps"`
	Done  int       `json:"done"`
}

// Moved is a move in an order's history.
type Moved struct {
	From string    `json:"from,omitempty"`
	To   string    `json:"to"`
	At   time.Time `json:"at"`
	Who  string    `json:"who"`
}

// Order in full.
type Order struct {
	ID       uuid.UUID     `json:"id"`
	Number   int           `json:"number"`
	Revision int           `json:"revision"`
	State    order.State   `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Moves    []order.State `json:"moves" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled" doc:"Where it can go from here"`
	Draft    order.Draft   `json:"draft"`
	Days     []Day         `json:"days"`
	History  []Moved       `json:"history"`
	Updated  time.Time     `json:"updated"`
}

// stored is an order's own row, locked or not.
type stored struct {
	Order
	pins map[string]int
}

func load(ctx context.Context, tx pgx.Tx, id uuid.UUID, lock string) (*stored, error) {
	s := &stored{pins: map[string]int{}}
	d := &s.Draft
	err := tx.QueryRow(ctx, `select id, number, revision, state, customer, phone, mail, occasion, way, place, from_at, to_at, free_from, notes, coalesce(asked::text, ''), updated_at
		from orders where id = $1 `+lock, id).Scan(&s.ID, &s.Number, &s.Revision, &s.State, &d.Customer, &d.Phone, &d.Mail, &d.Occasion, &d.Way, &d.Place, &d.From, &d.To, &d.FreeFrom, &d.Notes, &d.Asked, &s.Updated)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("order")
	}
	if err != nil {
		return nil, err
	}
	s.Moves = s.State.Moves()
	rows, err := tx.Query(ctx, `select treat_id::text, treat_version, count from order_lines where order_id = $1 order by position`, id)
	if err != nil {
		return nil, err
	}
	d.Lines, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (l order.Line, err error) {
		var version int
		err = row.Scan(&l.Treat, &version, &l.Count)
		s.pins[l.Treat] = version
		return l, err
	})
	if s.State == order.Enquiry {
		s.pins = nil // an enquiry follows the book; from the quote on an order keeps its versions
	}
	return s, err
}

func (s *stored) fill(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select b.id, b.position, b.sheet ->> 'name', b.day::text, sum(t.hands + t.changeover)::int, count(*)::int, count(t.done_at)::int
		from batches b join batch_steps t on t.kitchen_id = b.kitchen_id and t.batch_id = b.id where b.order_id = $1 group by b.kitchen_id, b.id order by b.day, b.position`, s.ID)
	if err != nil {
		return err
	}
	if s.Days, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Day]); err != nil {
		return err
	}
	rows, err = tx.Query(ctx, `select coalesce(m.from_state, ''), m.to_state, m.at, p.name from order_moves m join people p on p.id = m.person_id where m.order_id = $1 order by m.id`, s.ID)
	if err != nil {
		return err
	}
	s.History, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Moved])
	return err
}

func full(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Order, error) {
	s, err := load(ctx, tx, id, "")
	if err != nil {
		return Order{}, err
	}
	return s.Order, s.fill(ctx, tx)
}

func (o *Orders) get(ctx context.Context, in *web.ID) (*web.Tagged[Order], error) {
	var found Order
	err := o.In(ctx, func(tx pgx.Tx) (err error) { found, err = full(ctx, tx, in.ID); return err })
	return web.TaggedBy(found.Revision, found), err
}

func (o *Orders) list(ctx context.Context, _ *struct{}) (*struct{ Body List }, error) {
	var l List
	err := o.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select o.id, o.number, o.revision, o.state, o.customer, o.occasion, o.way, o.place, o.from_at, o.to_at, o.free_from, o.notes, o.phone, o.mail, coalesce(o.asked::text, ''),
			(select coalesce(jsonb_agg(jsonb_build_object('treat', l.treat_id, 'version', l.treat_version, 'count', l.count, 'name', t.name, 'family', v.formula ->> 'family',
				'chocolate', v.look) order by l.position), '[]')
				from order_lines l join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
				join treat_versions v on v.kitchen_id = l.kitchen_id and v.treat_id = l.treat_id and v.version = l.treat_version where l.kitchen_id = o.kitchen_id and l.order_id = o.id),
			(select count(*) from batches b join batch_steps s on s.kitchen_id = b.kitchen_id and s.batch_id = b.id where b.kitchen_id = o.kitchen_id and b.order_id = o.id),
			(select count(s.done_at) from batches b join batch_steps s on s.kitchen_id = b.kitchen_id and s.batch_id = b.id where b.kitchen_id = o.kitchen_id and b.order_id = o.id)
			from orders o order by o.from_at, o.number`)
		if err != nil {
			return err
		}
		var drafts []*order.Draft // of each row
		l.Orders, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Row, error) {
			var r Row
			var mail, asked string
			err := row.Scan(&r.ID, &r.Number, &r.Revision, &r.State, &r.Customer, &r.Occasion, &r.Way, &r.Place, &r.From, &r.To, &r.FreeFrom, &r.Notes, &r.Phone, &mail, &asked, &r.Lines, &r.Steps, &r.Done)
			d := &order.Draft{From: r.From, To: r.To, FreeFrom: r.FreeFrom, Asked: asked}
			for _, line := range r.Lines {
				d.Lines = append(d.Lines, order.Line{Treat: line.Treat, Count: line.Count})
			}
			drafts = append(drafts, d)
			return r, err
		})
		if err != nil {
			return err
		}
		known, err := o.Kitchen(ctx, tx, uuid.Nil, nil)
		if err != nil {
			return err
		}
		for i := range l.Orders {
			row, d := &l.Orders[i], drafts[i]
			if d.Asked != "" {
				row.Price = moneyOf(d.Asked, known)
			}
			if row.State != order.Enquiry && row.State != order.Quoted || len(d.Lines) == 0 {
				continue
			}
			// A line that the book no longer supports leaves the row without a price; opening the order says why.
			if r, err := order.Reckon(d, known); err == nil {
				row.Price, row.Fits, row.FitsText = &r.Money.Asked.Money, &r.When.Fits, r.When.Text
			}
		}
		return nil
	})
	return &struct{ Body List }{l}, err
}

func moneyOf(asked string, known *order.Kitchen) *price.Money {
	d, err := price.Read(asked, known.Rates.Currency)
	if err != nil {
		return nil
	}
	m := price.In(known.Rates.Currency, d)
	return &m
}

// Question is an order as it is typed.
type Question struct {
	Order *uuid.UUID  `json:"order,omitempty" doc:"The order that is being changed, so that its own days count as free"`
	Draft order.Draft `json:"draft"`
}

func (o *Orders) reckon(ctx context.Context, in *struct{ Body Question }) (*struct{ Body *order.Reckoning }, error) {
	var r *order.Reckoning
	err := o.In(ctx, func(tx pgx.Tx) error {
		id, pins := uuid.Nil, map[string]int(nil)
		if in.Body.Order != nil {
			s, err := load(ctx, tx, *in.Body.Order, "")
			if err != nil {
				return err
			}
			id, pins = s.ID, s.pins
		}
		known, err := o.Kitchen(ctx, tx, id, pins)
		if err != nil {
			return err
		}
		r, err = order.Reckon(&in.Body.Draft, known)
		return err
	})
	return &struct{ Body *order.Reckoning }{r}, err
}

// check a draft that is to be saved.
func check(d *order.Draft, known *order.Kitchen, window bool) error {
	var f invalid.Faults
	f.Under("", d.CheckWords())
	if window {
		f.Under("", d.CheckWindow(known.Now))
	}
	f.Under("", d.CheckLines(known.Treats))
	if d.Asked != "" {
		if _, err := price.Read(d.Asked, known.Rates.Currency); err != nil {
			f.Add("asked", err.Error())
		}
	}
	return f.Err()
}

func (o *Orders) create(ctx context.Context, in *struct {
	web.OnceKey
	Body order.Draft
}) (*web.Tagged[Order], error) {
	var made Order
	err := o.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "create-order", in.Body, func() (Order, error) { return o.Write(ctx, tx, in.Body) })
		return err
	})
	return web.TaggedBy(made.Revision, made), err
}

// Write a new enquiry.
func (o *Orders) Write(ctx context.Context, tx pgx.Tx, d order.Draft) (Order, error) {
	known, err := o.Kitchen(ctx, tx, uuid.Nil, nil)
	if err != nil {
		return Order{}, err
	}
	if err := check(&d, known, true); err != nil {
		return Order{}, err
	}
	who, id := web.WhoOf(ctx), db.NewID()
	_, err = tx.Exec(ctx, `with n as (update kitchens set next_order = next_order + 1 returning next_order - 1 as number)
		insert into orders (kitchen_id, id, number, state, customer, phone, mail, occasion, way, place, from_at, to_at, free_from, notes, asked, created_at, updated_at)
		select $1, $2, number, 'enquiry', $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, nullif($13, '')::numeric, $14, $14 from n`,
		who.Kitchen, id, d.Customer, d.Phone, d.Mail, d.Occasion, d.Way, d.Place, d.From, d.To, d.FreeFrom, d.Notes, d.Asked, o.Clock())
	if err != nil {
		return Order{}, err
	}
	if err := saveLines(ctx, tx, id, d.Lines, known); err != nil {
		return Order{}, err
	}
	if err := o.record(ctx, tx, id, nil, order.Enquiry); err != nil {
		return Order{}, err
	}
	return full(ctx, tx, id)
}

func saveLines(ctx context.Context, tx pgx.Tx, id uuid.UUID, lines []order.Line, known *order.Kitchen) error {
	batch := &pgx.Batch{}
	batch.Queue(`delete from order_lines where order_id = $1`, id)
	for i, l := range lines {
		batch.Queue(`insert into order_lines (kitchen_id, order_id, position, treat_id, treat_version, count) values ($1, $2, $3, $4, $5, $6)`,
			web.WhoOf(ctx).Kitchen, id, i, l.Treat, known.Treats[l.Treat].Version, l.Count)
	}
	return tx.SendBatch(ctx, batch).Close()
}

func (o *Orders) record(ctx context.Context, tx pgx.Tx, id uuid.UUID, from *order.State, to order.State) error {
	who := web.WhoOf(ctx)
	_, err := tx.Exec(ctx, `insert into order_moves (kitchen_id, id, order_id, from_state, to_state, at, person_id) values ($1, $2, $3, $4, $5, $6, $7)`,
		who.Kitchen, db.NewID(), id, from, to, o.Clock(), who.Person)
	return err
}

func (o *Orders) put(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body order.Draft
}) (*web.Tagged[Order], error) {
	var changed Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := lockKitchen(ctx, tx); err != nil {
			return err
		}
		s, err := load(ctx, tx, in.ID.ID, "for update")
		if err != nil {
			return err
		}
		if err := in.Matches(s.Revision, func() (any, error) { return full(ctx, tx, s.ID) }); err != nil {
			return err
		}
		if err := o.change(ctx, tx, s, &in.Body); err != nil {
			return err
		}
		changed, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(changed.Revision, changed), err
}

// lockKitchen keeps two people from promising the same minutes.
func lockKitchen(ctx context.Context, tx pgx.Tx) error {
	_, err := tx.Exec(ctx, `select from kitchens for update`)
	return err
}

func (o *Orders) change(ctx context.Context, tx pgx.Tx, s *stored, d *order.Draft) error {
	known, err := o.Kitchen(ctx, tx, s.ID, s.pins)
	if err != nil {
		return err
	}
	moved := !d.From.Equal(s.Draft.From) || !d.To.Equal(s.Draft.To)
	if err := check(d, known, moved); err != nil {
		return err
	}
	work := moved || len(d.Lines) != len(s.Draft.Lines)
	for i := range d.Lines {
		work = work || d.Lines[i] != s.Draft.Lines[i]
	}
	if work && !s.State.Ahead() || work && s.State == order.Packed {
		return web.Refuse(http.StatusConflict, fmt.Sprintf("This order is %s: its treats and its handover cannot change any more. Move it back first.", s.State))
	}
	if _, err := tx.Exec(ctx, `update orders set customer = $2, phone = $3, mail = $4, occasion = $5, way = $6, place = $7, from_at = $8, to_at = $9, free_from = $10, notes = $11,
		asked = nullif($12, '')::numeric, updated_at = $13, revision = revision + 1 where id = $1`,
		s.ID, d.Customer, d.Phone, d.Mail, d.Occasion, d.Way, d.Place, d.From, d.To, d.FreeFrom, d.Notes, d.Asked, o.Clock()); err != nil {
		return err
	}
	if !work && s.State != order.Enquiry {
		return nil
	}
	if s.State.Planned() {
		if err := o.Unplan(ctx, tx, s.ID); err != nil {
			return err
		}
	}
	if err := saveLines(ctx, tx, s.ID, d.Lines, known); err != nil {
		return err
	}
	if s.State.Planned() {
		return o.promise(ctx, tx, s.ID, d, known)
	}
	return nil
}
