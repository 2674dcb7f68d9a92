// Package planning keeps when the kitchen works and what is made on which day.
package planning

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/si"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/web"
)

// Planning is the feature.
type Planning struct {
	web.Base
	Deps
	room chan struct{} // of the plans that are made at a time: one, so that a long one holds up nobody else
}

// Deps is what planning needs of other rooms.
type Deps struct {
	// Calendar of the kitchen from today on.
	Calendar    func(context.Context, pgx.Tx) (plan.Calendar, error)
	Ingredients func(context.Context, pgx.Tx) (map[ident.Ingredient]food.Ingredient, error)
	// Kitchen with the versions of treats that pins names.
	Kitchen func(ctx context.Context, tx pgx.Tx, pins map[ident.Treat]int) (*order.Inputs, error)
	Jobs    *jobs.Set
}

// Horizon is how many days ahead work can be placed: orders lie at most two years ahead.
const Horizon = 740

// Register adds the operations.
func Register(h web.Base, needs Deps) *Planning {
	p := &Planning{h, needs, make(chan struct{}, 1)}
	jobs.Add(needs.Jobs, jobs.Way{Queue: "plan", AtATime: 1, Longest: longest, Attempts: 1}, p.doRun)
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Plan"}}
	}
	web.Register(h, op("get-work-days", "GET", "work-days",
		"When the kitchen works: a weekly pattern and dates that differ"), p.workDays)
	web.Register(h, op("put-work-days", "PUT", "work-days", "Change when the kitchen works; the plan follows"),
		p.putWorkDays)
	sum := op("sum-hours", "POST", "calculators/hours", "How many hands-on minutes a usual week has, as it is typed")
	sum.Tags = []string{"Calculators"}
	web.Register(h, sum, sumHours)
	web.Register(h, op("get-capacity", "GET", "capacity", "The spots to wait in, and the moulds"), p.getCapacity)
	web.Register(h, op("put-capacity", "PUT", "capacity",
		"Change what there is to wait in and to mould with; the plan follows"), p.putCapacity)
	web.Register(h, op("get-plan", "GET", "plan",
		"The days in large: who does what when, what waits where, what has no room"), p.view)
	web.Register(h, op("change-plan", "POST", "plan/changes",
		"Pin a step, mark a day off, change hours, trays or moulds: the plan settles around it, or says why it cannot"),
		p.change)
	web.Register(h, op("list-plan-changes", "GET", "plan/changes", "The last changes of the plan, and who made them"),
		p.history)
	slot := op("find-slot", "POST", "calculators/slot",
		"Where a step that is carried to another day or person comes to stand; nothing is saved")
	slot.Tags = []string{"Calculators"}
	web.Register(h, slot, p.slot)
	web.Register(h, op("undo-plan-change", "POST", "plan/changes/{id}/undo", "Undo the last change of the plan"),
		p.undo)
	web.Register(h, op("get-outlook", "GET", "days/{day}/outlook",
		"What being late does to the rest of a day, and to the handovers"), p.outlook)
	web.Register(h, op("get-helps", "GET", "days/{day}/helps",
		"What would help on a day that runs late, each tried; nothing is saved"), p.helps)
	web.Register(h, op("start-plan-run", "POST", "plan/runs", "Plan the coming weeks anew, in the background"),
		p.startRun)
	web.Register(h, op("get-plan-run", "GET", "plan/runs/{id}", "How far it has come, and what it would move"),
		p.getRun)
	web.Register(h, op("stop-plan-run", "DELETE", "plan/runs/{id}", "Stop it"), p.stopRun)
	web.Register(h, op("take-plan-run", "POST", "plan/runs/{id}/take", "Take the plan that it made"), p.takeRun)
	web.Register(h, huma.Operation{OperationID: "make-plan", Method: "POST", Path: "/api/v1/calculators/plan",
		MaxBodyBytes: web.MostText, SkipValidateBody: true, Tags: []string{"Calculators"},
		Summary: "Make a plan for a problem in the open format, as the command zestytin plan does; nothing is saved"},
		p.made)
	web.Register(h, op("get-shelf", "GET", "shelf", "The next days as tins: free minutes, work and handovers"), p.shelf)
	return p
}

// dayOf a date as the database gives it: midnight UTC.
func dayOf(cal plan.Calendar, date time.Time) int {
	y, m, d := date.Date()
	return cal.DayOf(time.Date(y, m, d, 12, 0, 0, 0, cal.Zero.Location()))
}

// Wants is what promised orders and mixes that are to be made ahead take, and is not made yet, on the day of the work,
// beside what comes out of bowls, and the packaging of what is not packed, on the day of the handover, until a day.
func Wants(ctx context.Context, tx pgx.Tx, cal plan.Calendar, until string) ([]larder.Want, error) {
	rows, err := tx.Query(ctx, `select n.item_id::text, b.day::text, n.used - n.drawn, o.customer, n.stands
			from batch_needs n join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id
			join orders o on o.kitchen_id = n.kitchen_id and o.id = n.order_id
			where o.state in ('promised', 'in the making') and b.made_at is null and not n.packaging
			and n.used - n.drawn + n.stands > 1e-9 and b.day <= $1::text::date
		union all select n.item_id::text, (o.from_at at time zone $2)::date::text, n.used, o.customer, 0
			from orders o join batch_needs n on n.kitchen_id = o.kitchen_id and n.order_id = o.id
			where o.state in ('promised', 'in the making') and n.packaging
			and o.from_at < ($1::text::date + 1)::timestamp at time zone $2
		union all select n ->> 'ingredient', b.day::text, (n #>> '{used,amount}')::float8, b.name, 0
			from batches b cross join lateral jsonb_array_elements(b.sheet #> '{card,needs}') n
			where b.mix_id is not null and b.made_at is null and b.day <= $1::text::date
		order by 2, 1, 4, 3`, until, cal.Zero.Location().String())
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[larder.Want])
}

// Reserved is how much of each thing promised orders and mixes that are to be made ahead will use up, and on which day,
// but for one order.
func Reserved(ctx context.Context, tx pgx.Tx, cal plan.Calendar, except uuid.UUID) ([]larder.Want, error) {
	rows, err := tx.Query(ctx,
		`select n.item_id::text, case when n.packaging then (o.from_at at time zone $2)::date else b.day end::text,
			sum(n.used - case when n.drawn > 0 then n.drawn * coalesce((select sum((s.draw ->> 'applied')::float8) filter (where s.bowl is not null) / nullif(sum((s.draw ->> 'applied')::float8), 0) from batch_steps s
				where s.kitchen_id = n.kitchen_id and s.batch_id = n.batch_id
				and s.draw #>> '{pot,ingredient}' = n.item_id::text), 0) else 0 end), '', 0
		from batch_needs n join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id
		join orders o on o.kitchen_id = n.kitchen_id and o.id = n.order_id
		where o.state in ('promised', 'in the making') and o.id <> $1 and (n.packaging or b.made_at is null)
		group by 1, 2
		union all select n ->> 'ingredient', b.day::text, (n #>> '{used,amount}')::float8, '', 0
			from batches b cross join lateral jsonb_array_elements(b.sheet #> '{card,needs}') n
			where b.mix_id is not null and b.made_at is null
		order by 2, 1, 3`, except, cal.Zero.Location().String())
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[larder.Want])
}

// Held are the mixes that are set aside for promised orders, in g, but for one order.
func Held(ctx context.Context, tx pgx.Tx, except uuid.UUID) (map[ident.Order]map[ident.Ingredient]si.Grams, error) {
	rows, err := tx.Query(ctx, `select n.order_id::text, n.item_id::text, sum(n.used) from batch_needs n
			join mixes m on m.kitchen_id = n.kitchen_id and m.id = n.item_id
			join batches b on b.kitchen_id = n.kitchen_id and b.id = n.batch_id
			join orders o on o.kitchen_id = n.kitchen_id and o.id = n.order_id
		where o.state in ('promised', 'in the making') and b.made_at is null and o.id <> $1 group by 1, 2`, except)
	if err != nil {
		return nil, err
	}
	held := map[ident.Order]map[ident.Ingredient]si.Grams{}
	var id ident.Order
	var mix ident.Ingredient
	var grams si.Grams
	_, err = pgx.ForEachRow(rows, []any{&id, &mix, &grams}, func() error {
		if held[id] == nil {
			held[id] = map[ident.Ingredient]si.Grams{}
		}
		held[id][mix] = grams
		return nil
	})
	return held, err
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
	rows, err := tx.Query(ctx, `select item_id::text, sum(used) from batch_needs where order_id = $1 and packaging
			group by 1`, id)
	if err != nil {
		return nil, err
	}
	return sums(rows)
}
