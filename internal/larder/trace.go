package larder

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
)

func (l *Larder) registerTrace() {
	op := func(id, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: "GET", Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Lots"}}
	}
	file := func(o huma.Operation) huma.Operation {
		o.Responses = web.FileOf("text/csv", "A CSV file")
		return o
	}
	web.Register(l.Base, op("trace-lot", "lots/{id}/orders",
		"Every order that got some of a lot of the larder, through bowls, what was left of them and mixes made ahead"), l.traceLot)
	web.Register(l.Base, file(op("export-lot-trace", "lots/{id}/orders.csv", "The same as CSV")), l.traceLotCSV)
	web.Register(l.Base, op("trace-order", "orders/{id}/lots", "Every lot of the larder that is in an order"), l.traceOrder)
	web.Register(l.Base, file(op("export-order-trace", "orders/{id}/lots.csv", "The same as CSV")), l.traceOrderCSV)
}

// net is what was taken of each lot for an order, into a bowl, or into a mix that was made ahead, which is a lot again;
// what was put back since does not count. The amount is in the unit of the thing.
const net = `net as (select lot_id, order_id, bowl,
		case when order_id is null and bowl is null then batch_id end as made, -sum(change) as used from stock_moves
	where order_id is not null or bowl is not null or batch_id is not null group by 1, 2, 3, 4 having sum(change) < -1e-9)`

// LotTrace is where a lot went.
type LotTrace struct {
	Lot    TracedLot     `json:"lot"`
	Orders []TracedOrder `json:"orders" doc:"By handover, next or last first"`
}

// TracedLot is a lot.
type TracedLot struct {
	ID         uuid.UUID      `json:"id"`
	Item       uuid.UUID      `json:"item"`
	Name       string         `json:"name"`
	Kind       string         `json:"kind" enum:"ingredient,packaging,mix"`
	Origin     string         `json:"origin" enum:"bought,shopping,counted,reclaimed,unrecorded,made"`
	Day        string         `json:"day" format:"date" doc:"On which it was bought or made"`
	BestBefore string         `json:"bestBefore,omitempty"`
	Shop       string         `json:"shop,omitempty"`
	Used       *measure.Shown `json:"used,omitempty" doc:"By the order itself; not given of what is in something else that it used"`
}

// TracedOrder is an order that got some of a lot.
type TracedOrder struct {
	ID       uuid.UUID      `json:"id"`
	Number   int            `json:"number"`
	Customer string         `json:"customer"`
	Phone    string         `json:"phone,omitempty"`
	Mail     string         `json:"mail,omitempty"`
	State    order.State    `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	From     time.Time      `json:"from" doc:"When it is or was handed over"`
	Treats   []string       `json:"treats"`
	Used     *measure.Shown `json:"used,omitempty" doc:"Of the lot itself; not given where it was in something else"`
}

const tracedLots = `select l.id, l.item_id, coalesce(i.name, s.name, m.name) as name, coalesce(i.unit, s.unit, 'g') as unit,
		case when l.ingredient_id is not null then 'ingredient' when l.supply_id is not null then 'packaging'
			else 'mix' end as kind,
		l.origin, l.bought_on::text as day, coalesce(l.best_before::text, '') as best_before, l.shop, i.density, i.grams_each
	from lots l left join ingredients i on i.kitchen_id = l.kitchen_id and i.id = l.ingredient_id
		left join supplies s on s.kitchen_id = l.kitchen_id and s.id = l.supply_id
		left join mixes m on m.kitchen_id = l.kitchen_id and m.id = l.mix_id`

// scanned lot, with what an amount of it is shown by.
type scanned struct {
	TracedLot
	unit measure.Unit
	of   measure.Substance
}

func (s *scanned) into() ([]any, func()) {
	var density *float64
	var each *si.Grams
	return []any{&s.ID, &s.Item, &s.Name, (*string)(&s.unit), &s.Kind, &s.Origin, &s.Day, &s.BestBefore, &s.Shop, &density,
			&each}, func() {
			if density != nil {
				s.of.Density = *density
			}
			if each != nil {
				s.of.GramsEach = *each
			}
		}
}

func (s *scanned) show(used *float64) *measure.Shown {
	if used == nil {
		return nil
	}
	return new(measure.Show(measure.Of(*used, s.unit), s.of))
}

func (l *Larder) lotTrace(ctx context.Context, id uuid.UUID) (LotTrace, error) {
	trace := LotTrace{Orders: []TracedOrder{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		var lot scanned
		into, done := lot.into()
		if err := tx.QueryRow(ctx, tracedLots+` where l.id = $1`, id).Scan(into...); err != nil {
			return notFound(err, "lot")
		}
		done()
		trace.Lot = lot.TracedLot
		rows, err := tx.Query(ctx, `with recursive `+net+`,
			reach(lot) as (select $1::uuid union select x.id from reach r join net n on n.lot_id = r.lot
				join lots x on x.id = n.made or x.origin = 'reclaimed' and x.bowl = n.bowl where not x.voided),
			got as (select coalesce(n.order_id, s.order_id) as id,
					sum(n.used * coalesce(s.share, 1)) filter (where r.lot = $1) as used
				from reach r join net n on n.lot_id = r.lot left join bowl_shares s on s.bowl = n.bowl group by 1)
			select o.id, o.number, o.customer, o.phone, o.mail, o.state, o.from_at,
				(select array_agg(t.name order by ol.position) from order_lines ol join treats t on t.id = ol.treat_id
					where ol.order_id = o.id), g.used
			from got g join orders o on o.id = g.id order by o.from_at, o.number`, id)
		if err != nil {
			return err
		}
		trace.Orders, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (o TracedOrder, err error) {
			var used *float64
			err = row.Scan(&o.ID, &o.Number, &o.Customer, &o.Phone, &o.Mail, &o.State, &o.From, &o.Treats, &used)
			o.Used = lot.show(used)
			return o, err
		})
		return err
	})
	return trace, err
}

func (l *Larder) traceLot(ctx context.Context, in *web.ID) (*struct{ Body LotTrace }, error) {
	trace, err := l.lotTrace(ctx, in.ID)
	return &struct{ Body LotTrace }{trace}, err
}

// OrderTrace is what is in an order.
type OrderTrace struct {
	Lots []TracedLot `json:"lots" doc:"By name; of what is not made or packed yet there are none"`
}

func (l *Larder) orderTrace(ctx context.Context, id uuid.UUID) (OrderTrace, error) {
	trace := OrderTrace{Lots: []TracedLot{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		var known bool
		if err := tx.QueryRow(ctx, `select exists (select from orders where id = $1)`, id).Scan(&known); err != nil {
			return err
		}
		if !known {
			return web.NotFound("order")
		}
		rows, err := tx.Query(ctx, `with recursive `+net+`,
			own as (select n.lot_id as id, sum(n.used * coalesce(s.share, 1)) as used from net n
				left join bowl_shares s on s.bowl = n.bowl and s.order_id = $1
				where n.order_id = $1 or s.order_id is not null group by 1),
			came(lot) as (select id from own union select n.lot_id from came c join lots x on x.id = c.lot
				join net n on n.made = x.id or x.origin = 'reclaimed' and n.bowl = x.bowl)
			select t.*, own.used from (`+tracedLots+`) t join came on came.lot = t.id left join own on own.id = t.id
			order by lower(t.name), t.day, t.id`, id)
		if err != nil {
			return err
		}
		trace.Lots, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (TracedLot, error) {
			var lot scanned
			var used *float64
			into, done := lot.into()
			err := row.Scan(append(into, &used)...)
			done()
			lot.Used = lot.show(used)
			return lot.TracedLot, err
		})
		return err
	})
	return trace, err
}

func (l *Larder) traceOrder(ctx context.Context, in *web.ID) (*struct{ Body OrderTrace }, error) {
	trace, err := l.orderTrace(ctx, in.ID)
	return &struct{ Body OrderTrace }{trace}, err
}

func (l *Larder) traceLotCSV(ctx context.Context, in *web.ID) (*web.File, error) {
	trace, err := l.lotTrace(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true // RFC 4180
	_ = w.Write([]string{"lot", "of", "bought or made on", "order", "customer", "phone", "mail", "state", "handed over",
		"used", "unit"})
	for _, o := range trace.Orders {
		_ = w.Write(append([]string{trace.Lot.ID.String(), web.Cell(trace.Lot.Name), trace.Lot.Day, itoa(o.Number),
			web.Cell(o.Customer), web.Cell(o.Phone), web.Cell(o.Mail), string(o.State), o.From.UTC().Format(time.RFC3339)},
			amountCells(o.Used)...))
	}
	w.Flush()
	return web.Download("lot.csv", "text/csv; charset=utf-8", out.Bytes()), w.Error()
}

func (l *Larder) traceOrderCSV(ctx context.Context, in *web.ID) (*web.File, error) {
	trace, err := l.orderTrace(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true // RFC 4180
	_ = w.Write([]string{"lot", "of", "kind", "origin", "bought or made on", "best before", "shop", "used", "unit"})
	for _, x := range trace.Lots {
		_ = w.Write(append([]string{x.ID.String(), web.Cell(x.Name), x.Kind, x.Origin, x.Day, x.BestBefore,
			web.Cell(x.Shop)}, amountCells(x.Used)...))
	}
	w.Flush()
	return web.Download("lots.csv", "text/csv; charset=utf-8", out.Bytes()), w.Error()
}

func amountCells(used *measure.Shown) []string {
	if used == nil {
		return []string{"", ""}
	}
	return []string{fmt.Sprint(used.Amount), string(used.Unit)}
}
