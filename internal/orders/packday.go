package orders

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

func (o *Orders) registerPacking() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Packing"}}
	}
	web.Register(o.Base, op("get-pack-day", "GET", "days/{day}/packing",
		"What is packed for the handovers of a day: what to take from which tin, and for whom"), o.packDay)
	tick := op("tick-packing", "PUT", "orders/{id}/pack-ticks", "Tick something of an order's pack list, or take it back")
	tick.DefaultStatus = 204
	web.Register(o.Base, tick, o.tickPacking)
}

// PackDay is all that is packed for the handovers of a day.
type PackDay struct {
	Day    string      `json:"day" format:"date"`
	Orders []PackOrder `json:"orders" doc:"By their handovers, those that must be free from something first"`
	Tins   []PackTin   `json:"tins" doc:"What to take from which tin"`
	Packs  []PackThing `json:"packs" doc:"Packaging of all that is not packed yet"`
}

// PackOrder is an order that is packed.
type PackOrder struct {
	ID       uuid.UUID        `json:"id"`
	Number   int              `json:"number"`
	Customer string           `json:"customer"`
	Occasion string           `json:"occasion"`
	From     time.Time        `json:"from"`
	Way      order.Fulfilment `json:"way" enum:"pickup,delivery"`
	State    order.State      `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	FreeFrom []string         `json:"freeFrom"`
	Notes    string           `json:"notes"`
	Lines    []PackLine       `json:"lines"`
	Packs    []PackThing      `json:"packs"`
}

// PackLine is a line of an order, with the tins that it lies in.
type PackLine struct {
	Key   string          `json:"key" doc:"By which it is ticked"`
	Name  string          `json:"name"`
	Count int             `json:"count"`
	Note  string          `json:"note"`
	Lots  []string        `json:"lots" doc:"That it is taken from; none: it is in no plan yet"`
	Made  bool            `json:"made"`
	Boxes []reason.Reason `json:"boxes" doc:"How it lies in its boxes"`
	Done  bool            `json:"done"`
}

// PackThing is packaging.
type PackThing struct {
	Key    string         `json:"key,omitempty" doc:"By which it is ticked"`
	Name   string         `json:"name"`
	Amount measure.Shown  `json:"amount"`
	Short  *measure.Shown `json:"short,omitempty" doc:"How much is missing"`
	Done   bool           `json:"done"`
}

// PackTin is a batch as it lies in its tin.
type PackTin struct {
	Lot  string    `json:"lot"`
	Name string    `json:"name"`
	For  []TinPart `json:"for"`
	Made bool      `json:"made"`
}

// TinPart is what one order takes out of a tin.
type TinPart struct {
	Order    uuid.UUID `json:"order"`
	Customer string    `json:"customer"`
	Count    int       `json:"count"`
}

func (o *Orders) packDay(ctx context.Context, in *struct {
	Day string `path:"day" format:"date"`
}) (*struct{ Body PackDay }, error) {
	out := PackDay{Day: in.Day, Orders: []PackOrder{}, Tins: []PackTin{}, Packs: []PackThing{}}
	err := o.In(ctx, func(tx pgx.Tx) error {
		if _, err := time.Parse(time.DateOnly, in.Day); err != nil {
			return invalid.At("day", reason.Of("till.this-must-be-date-such"))
		}
		rows, err := tx.Query(ctx, `select id from orders where state in ('promised', 'in the making', 'packed')
			and (from_at at time zone (select time_zone from kitchens))::date = $1::text::date
			order by cardinality(free_from) = 0, from_at, number`, in.Day)
		if err != nil {
			return err
		}
		ids, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
		if err != nil || len(ids) == 0 {
			return err
		}
		sum := &packSum{at: map[ident.Supply]int{}}
		for _, id := range ids {
			p, err := o.packOrder(ctx, tx, id, sum)
			if err != nil {
				return err
			}
			out.Orders = append(out.Orders, *p)
		}
		out.Packs = append(out.Packs, sum.list...)
		out.Tins, err = tinsOf(ctx, tx, ids)
		return err
	})
	return &struct{ Body PackDay }{out}, err
}

// packSum adds up packaging over orders.
type packSum struct {
	list []PackThing
	of   []measure.Quantity
	at   map[ident.Supply]int
}

// packOrder is one order of the list.
func (o *Orders) packOrder(ctx context.Context, tx pgx.Tx, id uuid.UUID, sum *packSum) (*PackOrder, error) {
	of, err := o.packing(ctx, tx, id)
	if err != nil {
		return nil, err
	}
	s, r, made := of.stored, of.estimate, of.made
	rows, err := tx.Query(ctx, `select what from pack_ticks where order_id = $1`, id)
	if err != nil {
		return nil, err
	}
	ticks, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return nil, err
	}
	p := &PackOrder{ID: s.ID, Number: s.Number, Customer: s.Draft.Customer, Occasion: s.Draft.Occasion,
		From: s.Draft.From, Way: s.Draft.Way, State: s.State, FreeFrom: s.Draft.FreeFrom, Notes: s.Draft.Notes,
		Lines: []PackLine{}, Packs: []PackThing{}}
	for i, l := range r.Lines {
		line := PackLine{Key: fmt.Sprintf("line:%d", i), Name: l.Name, Count: l.Count, Note: s.Draft.Lines[i].Note,
			Lots: []string{}, Boxes: []reason.Reason{}}
		if m, planned := made[i]; planned {
			line.Lots, line.Made = append(line.Lots, m.Lots...), m.Done
		}
		for _, b := range r.Boxes {
			if b.Line == i {
				line.Boxes = append(line.Boxes, reason.Of("orders.so-many-boxes", reason.Int(b.Boxes), b.Text))
			}
		}
		line.Done = slices.Contains(ticks, line.Key)
		p.Lines = append(p.Lines, line)
	}
	for _, n := range r.Packs {
		t := PackThing{Key: "pack:" + string(n.Supply), Name: n.Name, Amount: n.Amount, Short: n.Short}
		t.Done = slices.Contains(ticks, t.Key)
		p.Packs = append(p.Packs, t)
		if s.State != order.Packed {
			sum.add(n.Supply, t)
		}
	}
	return p, nil
}

// add packaging; what is short is told by the order.
func (s *packSum) add(supply ident.Supply, t PackThing) {
	t.Key, t.Short, t.Done = "", nil, false
	n, seen := s.at[supply]
	if !seen {
		s.at[supply] = len(s.list)
		s.list, s.of = append(s.list, t), append(s.of, t.Amount.Quantity)
		return
	}
	s.of[n].Amount += t.Amount.Quantity.Amount
	s.list[n].Amount = measure.Show(s.of[n], measure.Substance{})
}

// tinsOf orders: their batches, each with what every order takes of it, by name.
func tinsOf(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) ([]PackTin, error) {
	rows, err := tx.Query(ctx, `select b.id, b.name, b.made_at is not null,
			coalesce((s.done_at at time zone (select time_zone from kitchens))::date, s.day)::text, o.id, o.customer, h.count
		from batch_shares h join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
		join orders o on o.kitchen_id = h.kitchen_id and o.id = h.order_id
		join lateral (select x.done_at, x.day from batch_steps x where x.kitchen_id = b.kitchen_id and x.batch_id = b.id
			and (x.step = b.work ->> 'fresh_from' or coalesce(b.work ->> 'fresh_from', '') = '')
			order by x.day desc, x.start desc limit 1) s on true
		where h.order_id = any($1) order by b.name, b.id, o.from_at, o.number`, ids)
	if err != nil {
		return nil, err
	}
	tins := []PackTin{}
	var batch, last uuid.UUID
	var name, day string
	var done bool
	var part TinPart
	into := []any{&batch, &name, &done, &day, &part.Order, &part.Customer, &part.Count}
	_, err = pgx.ForEachRow(rows, into, func() error {
		if len(tins) == 0 || batch != last {
			tins, last = append(tins, PackTin{Lot: lotCode(day, batch), Name: name, Made: done}), batch
		}
		t := &tins[len(tins)-1]
		t.For = append(t.For, part)
		return nil
	})
	return tins, err
}

// PackTick is something of a pack list.
type PackTick struct {
	What string `json:"what" minLength:"1" maxLength:"60" doc:"A key of the list"`
	Done bool   `json:"done"`
}

func (o *Orders) tickPacking(ctx context.Context, in *struct {
	web.ID
	Body PackTick
}) (*struct{}, error) {
	return nil, o.In(ctx, func(tx pgx.Tx) error {
		var there bool
		if err := tx.QueryRow(ctx, `select exists (select from orders where id = $1)`, in.ID.ID).Scan(&there); err != nil {
			return err
		}
		if !there {
			return web.NotFound("order")
		}
		if !in.Body.Done {
			_, err := tx.Exec(ctx, `delete from pack_ticks where order_id = $1 and what = $2`, in.ID.ID, in.Body.What)
			return err
		}
		_, err := tx.Exec(ctx, `insert into pack_ticks (kitchen_id, order_id, what, at) values ($1, $2, $3, $4)
			on conflict do nothing`, web.ActorOf(ctx).Kitchen, in.ID.ID, in.Body.What, o.Clock())
		return err
	})
}
