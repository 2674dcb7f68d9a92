// Package planning keeps when the kitchen works and what is made on which day.
package planning

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/larder"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Planning is the feature.
type Planning struct {
	web.Home
	calendar Calendar
	room     chan struct{} // of the plans that are made at a time: one, so that a long one holds up nobody else
}

// Calendar of the kitchen from today on.
type Calendar func(context.Context, pgx.Tx) (plan.Calendar, error)

// Horizon is how many days ahead work can be placed: orders lie at most two years ahead.
const Horizon = 740

// Register adds the operations.
func Register(h web.Home, calendar Calendar) {
	p := &Planning{h, calendar, make(chan struct{}, 1)}
	tags := []string{"Plan"}
	web.Register(h, huma.Operation{OperationID: "get-work-days", Method: "GET", Path: "/api/v1/work-days", Summary: "When the kitchen works: a weekly pattern and dates that differ", Tags: tags}, p.workDays)
	web.Register(h, huma.Operation{OperationID: "put-work-days", Method: "PUT", Path: "/api/v1/work-days", Summary: "Change when the kitchen works", Tags: tags}, p.putWorkDays)
	web.Register(h, huma.Operation{OperationID: "make-plan", Method: "POST", Path: "/api/v1/calculators/plan", MaxBodyBytes: web.MostText, SkipValidateBody: true, Tags: []string{"Calculators"},
		Summary: "Make a plan for a problem in the open format, as the command zestytin plan does; nothing is saved"}, p.made)
	web.Register(h, huma.Operation{OperationID: "get-shelf", Method: "GET", Path: "/api/v1/shelf", Summary: "The next days as tins: free minutes, work and handovers", Tags: tags}, p.shelf)
}

// Save gives the lines of an order the days that the reckoning found, in the place of those that they had.
func Save(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Reckoning, cal plan.Calendar) error {
	if err := Drop(ctx, tx, id); err != nil {
		return err
	}
	kitchen := web.WhoOf(ctx).Kitchen
	batch := &pgx.Batch{}
	for _, b := range r.When.Batches {
		batchID := db.NewID()
		line := r.Lines[b.Line]
		card := line.Card
		batch.Queue(`insert into batches (kitchen_id, id, order_id, position, day, sheet, name, count, family, look, sold, started, hands, price, cost) values ($1, $2, $3, $4, $5::text::date, $6, $7, $8, $9, $10, $11, $12, $13, $14::text::numeric, $15::text::numeric)`,
			kitchen, batchID, id, b.Line, b.Day, line, line.Name, line.Count, string(card.Family), card.Look, card.Sold, card.Start, card.Hands, line.Price.Amount, line.Cost.Amount)
		for _, n := range card.Needs {
			batch.Queue(`insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used, pool) values ($1, $2, $3, false, $4, $5)`, kitchen, batchID, n.Ingredient, n.Used.Amount, max(n.House.Amount-n.Used.Amount, 0))
		}
		for _, p := range card.Packs {
			batch.Queue(`insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used) values ($1, $2, $3, true, $4)
				on conflict (kitchen_id, batch_id, item_id) do update set used = batch_needs.used + excluded.used`, kitchen, batchID, p.Supply, p.Amount.Amount)
		}
		for i, s := range b.Steps {
			day := s.Start / plan.DayMinutes
			batch.Queue(`insert into batch_steps (kitchen_id, batch_id, position, step, day, start, hand, hands, wait, changeover, pot)
				values ($1, $2, $3, $4, $5::text::date, $6, $7, $8, $9, $10, $11)`,
				kitchen, batchID, i, s.Step, cal.Date(day), s.Start%plan.DayMinutes, s.Hand, s.Hands, s.Wait, s.Changeover, s.Pot)
		}
	}
	return tx.SendBatch(ctx, batch).Close()
}

// Drop the days of an order. Work that has begun is not dropped silently: the answer is a refusal.
func Drop(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	var done int
	err := tx.QueryRow(ctx, `select count(*) from batch_steps s join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id where b.order_id = $1 and s.done_at is not null`, id).Scan(&done)
	if err != nil {
		return err
	}
	if done > 0 {
		return web.Refuse(http.StatusConflict, fmt.Sprintf("%d steps of this order are ticked as done already, so its days stay as they are: take the ticks back on the Bench first.", done))
	}
	_, err = tx.Exec(ctx, `delete from batches where order_id = $1`, id)
	return err
}

// Taken is the placed steps of all orders but one, for so many days from today on.
func Taken(ctx context.Context, tx pgx.Tx, cal plan.Calendar, days int, except uuid.UUID) ([]plan.Placed, error) {
	rows, err := tx.Query(ctx, `select b.id, s.step, s.day, s.start, s.hand, s.changeover, s.hands, s.wait, s.pot from batch_steps s
		join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id where s.day >= $1::text::date and s.day < $1::text::date + $3::int and b.order_id <> $2`, cal.Date(0), except, days)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (plan.Placed, error) {
		var p plan.Placed
		var id uuid.UUID
		var day time.Time
		err := row.Scan(&id, &p.Step, &day, &p.Start, &p.Hand, &p.Changeover, &p.Hands, &p.Wait, &p.Pot)
		p.Batch = id.String()
		p.Start += dayOf(cal, day) * plan.DayMinutes
		return p, err
	})
}

// dayOf a date as the database gives it: midnight UTC.
func dayOf(cal plan.Calendar, date time.Time) int {
	y, m, d := date.Date()
	return cal.DayOf(time.Date(y, m, d, 12, 0, 0, 0, cal.Zero.Location()))
}

// Wants is what promised orders take that is not made yet, on the day of the work, and the packaging of what is not packed, on the day
// of the handover, until a day.
func Wants(ctx context.Context, tx pgx.Tx, cal plan.Calendar, until string) ([]larder.Want, error) {
	rows, err := tx.Query(ctx, `select n.item_id::text, b.day::text, n.used, n.pool, o.customer
			from batches b join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id join batch_needs n on n.kitchen_id = b.kitchen_id and n.batch_id = b.id
			where o.state in ('promised', 'in the making') and b.made_at is null and not n.packaging and b.day <= $1::text::date
		union all select n.item_id::text, (o.from_at at time zone $2)::date::text, n.used, n.pool, o.customer
			from orders o join batches b on b.kitchen_id = o.kitchen_id and b.order_id = o.id join batch_needs n on n.kitchen_id = b.kitchen_id and n.batch_id = b.id
			where o.state in ('promised', 'in the making') and n.packaging and o.from_at < ($1::text::date + 1)::timestamp at time zone $2`, until, cal.Zero.Location().String())
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[larder.Want])
}

// Reserved is how much of each thing promised orders will use up, but for one order: Wants in sums.
func Reserved(ctx context.Context, tx pgx.Tx, except uuid.UUID) (map[string]float64, error) {
	rows, err := tx.Query(ctx, `select n.item_id::text, sum(n.used) from batch_needs n join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id
		where o.state in ('promised', 'in the making') and o.id <> $1 and (n.packaging or b.made_at is null) group by n.item_id`, except)
	if err != nil {
		return nil, err
	}
	return sums(rows)
}

func sums(rows pgx.Rows) (map[string]float64, error) {
	m := map[string]float64{}
	var id string
	var amount float64
	_, err := pgx.ForEachRow(rows, []any{&id, &amount}, func() error { m[id] = amount; return nil })
	return m, err
}

// Packs is how much of each supply an order takes when it is packed.
func Packs(ctx context.Context, tx pgx.Tx, id uuid.UUID) (map[string]float64, error) {
	rows, err := tx.Query(ctx, `select n.item_id::text, sum(n.used) from batch_needs n join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id where b.order_id = $1 and n.packaging group by 1`, id)
	if err != nil {
		return nil, err
	}
	return sums(rows)
}

// Turned is a batch of an order whose last step was ticked, or is no longer.
type Turned struct {
	Batch uuid.UUID
	Made  bool
	Needs []Need // of what was made
}

// Need is what a batch takes of an ingredient.
type Need struct {
	Item uuid.UUID
	Used float64
	Pool float64
}

// Turn notes which batches of an order are made, by their ticks, and returns those for which that has changed.
func Turn(ctx context.Context, tx pgx.Tx, order uuid.UUID, now time.Time) ([]Turned, error) {
	rows, err := tx.Query(ctx, `with state as (select b.id, bool_and(s.done_at is not null) as done from batches b join batch_steps s on s.kitchen_id = b.kitchen_id and s.batch_id = b.id where b.order_id = $1 group by b.kitchen_id, b.id)
		update batches b set made_at = case when state.done then $2::timestamptz end from state where b.id = state.id and (b.made_at is not null) <> state.done returning b.id, state.done`, order, now)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (t Turned, err error) {
		return t, row.Scan(&t.Batch, &t.Made)
	})
	if err != nil {
		return nil, err
	}
	for i := range list {
		rows, err := tx.Query(ctx, `select item_id, used, pool from batch_needs where batch_id = $1 and not packaging`, list[i].Batch)
		if err != nil {
			return nil, err
		}
		if list[i].Needs, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Need]); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// Tin is a day on the shelf.
type Tin struct {
	Day       string     `json:"day" format:"date"`
	Hands     int        `json:"hands" doc:"Minutes of hands that the day has"`
	Free      int        `json:"free" doc:"Minutes that can still be promised; today, from now on"`
	Over      int        `json:"over" doc:"Minutes of planned work beyond what the day has"`
	Spans     []Span     `json:"spans"`
	Reason    string     `json:"reason,omitempty" doc:"Why the day differs from the weekly pattern"`
	Work      []Work     `json:"work"`
	Handovers []Handover `json:"handovers"`
}

// Work is a batch in a tin.
type Work struct {
	Batch     uuid.UUID      `json:"batch"`
	Order     uuid.UUID      `json:"order"`
	Customer  string         `json:"customer"`
	Treat     string         `json:"treat"`
	Count     int            `json:"count"`
	Family    treat.Family   `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Chocolate food.Chocolate `json:"chocolate"`
	Minutes   int            `json:"minutes"`
	Steps     int            `json:"steps"`
	Done      int            `json:"done" doc:"Steps that are ticked"`
}

// Handover is a flag below a tin.
type Handover struct {
	Order    uuid.UUID   `json:"order"`
	Customer string      `json:"customer"`
	Way      order.Way   `json:"way" enum:"pickup,delivery"`
	At       time.Time   `json:"at"`
	State    order.State `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
}

// Shelf is the days in a row.
type Shelf struct {
	Today string `json:"today" format:"date"`
	Tins  []Tin  `json:"tins"`
}

func (p *Planning) shelf(ctx context.Context, in *struct {
	Days int `query:"days" minimum:"1" maximum:"60" default:"14"`
}) (*struct{ Body Shelf }, error) {
	var s Shelf
	err := p.In(ctx, func(tx pgx.Tx) error {
		cal, err := p.calendar(ctx, tx)
		if err != nil {
			return err
		}
		w, _, err := loadWorkDays(ctx, tx)
		if err != nil {
			return err
		}
		sessions, err := Sessions(ctx, tx, cal, in.Days)
		if err != nil {
			return err
		}
		taken, err := Taken(ctx, tx, cal, in.Days, uuid.Nil)
		if err != nil {
			return err
		}
		s = Shelf{Today: cal.Date(0), Tins: make([]Tin, in.Days)}
		now := cal.Minute(p.Clock())
		for day := range s.Tins {
			s.Tins[day] = tin(w, cal, day, now, sessions, taken)
		}
		if err := fillWork(ctx, tx, cal, s.Tins); err != nil {
			return err
		}
		return fillHandovers(ctx, tx, cal, s.Tins)
	})
	return &struct{ Body Shelf }{s}, err
}

func tin(w WorkDays, cal plan.Calendar, day, now int, sessions []plan.Session, taken []plan.Placed) Tin {
	t := Tin{Day: cal.Date(day), Spans: w.spansOn(cal, day), Work: []Work{}, Handovers: []Handover{}}
	for _, e := range w.Exceptions {
		if e.Day == t.Day {
			t.Reason = e.Reason
		}
	}
	var today, ahead []plan.Session
	planned := 0
	for _, s := range sessions {
		if s.From/plan.DayMinutes == day {
			today = append(today, s)
			t.Hands += (s.To - s.From) * s.Hands
			if s.From = max(s.From, now); s.From < s.To {
				ahead = append(ahead, s)
			}
		}
	}
	for _, p := range taken {
		if p.Start/plan.DayMinutes == day {
			planned += p.Hands + p.Changeover
		}
	}
	t.Free = plan.Free(ahead, taken)
	// What lies outside of the sessions has no room in the tin.
	t.Over = max(0, planned-(t.Hands-plan.Free(today, taken)))
	return t
}

func fillWork(ctx context.Context, tx pgx.Tx, cal plan.Calendar, tins []Tin) error {
	rows, err := tx.Query(ctx, `select b.id, o.id, o.customer, b.name, b.count, b.family, b.look,
			sum(s.hands + s.changeover)::int, count(*)::int, count(s.done_at)::int, s.day
		from batch_steps s join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id
		where s.day >= $1::text::date and s.day < $1::text::date + $2::int group by b.kitchen_id, b.id, o.kitchen_id, o.id, s.day order by min(s.start)`, cal.Date(0), len(tins))
	if err != nil {
		return err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var w Work
		var day time.Time
		err := row.Scan(&w.Batch, &w.Order, &w.Customer, &w.Treat, &w.Count, &w.Family, &w.Chocolate, &w.Minutes, &w.Steps, &w.Done, &day)
		if i := dayOf(cal, day); err == nil && i >= 0 && i < len(tins) {
			tins[i].Work = append(tins[i].Work, w)
		}
		return struct{}{}, err
	})
	return err
}

func fillHandovers(ctx context.Context, tx pgx.Tx, cal plan.Calendar, tins []Tin) error {
	rows, err := tx.Query(ctx, `select id, customer, way, from_at, state from orders
		where from_at >= $1 and from_at < $2 and state in ('promised', 'in the making', 'packed', 'handed over') order by from_at`, cal.Time(0), cal.Time(len(tins)*plan.DayMinutes))
	if err != nil {
		return err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var h Handover
		err := row.Scan(&h.Order, &h.Customer, &h.Way, &h.At, &h.State)
		if i := cal.DayOf(h.At); err == nil && i >= 0 && i < len(tins) {
			tins[i].Handovers = append(tins[i].Handovers, h)
		}
		return struct{}{}, err
	})
	return err
}
