// Package bench serves the run sheet of a day and takes the ticks.
package bench

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// Bench is the feature.
type Bench struct {
	web.Home
	Needs
}

// Needs is what the bench needs of other rooms.
type Needs struct {
	// Begin tells that the work on an order has begun.
	Begin func(context.Context, pgx.Tx, uuid.UUID) error
	// Turn books what batches took that have been made, or puts it back where they no longer are.
	Turn func(context.Context, pgx.Tx, uuid.UUID) error
}

// Register adds the operations.
func Register(h web.Home, needs Needs) {
	b := &Bench{h, needs}
	tags := []string{"Bench"}
	web.Register(h, huma.Operation{OperationID: "get-run-sheet", Method: "GET", Path: "/api/v1/days/{day}/run-sheet", Summary: "A day's work in order, with clock times and amounts", Tags: tags}, b.runSheet)
	web.Register(h, huma.Operation{OperationID: "tick-step", Method: "PUT", Path: "/api/v1/batches/{id}/steps/{step}", Summary: "Tick a step as done, or take the tick back", Tags: tags}, b.tick)
	web.Register(h, huma.Operation{OperationID: "put-result", Method: "PUT", Path: "/api/v1/batches/{id}/result", Summary: "Record how a batch came out: the till sets it against what was expected", Tags: tags}, b.putResult)
}

// RunSheet is a day's work in order.
type RunSheet struct {
	Day     string   `json:"day" format:"date"`
	Steps   []Step   `json:"steps"`
	Results []Result `json:"results" doc:"How the batches of the day came out, of those that are made"`
}

// Result is how a batch came out.
type Result struct {
	Batch    uuid.UUID `json:"batch"`
	Treat    string    `json:"treat"`
	Customer string    `json:"customer"`
	Wanted   int       `json:"wanted"`
	Started  int       `json:"started" doc:"Pieces; of bark the sheets"`
	Sold     string    `json:"sold" doc:"pieces or bags"`
	Expected int       `json:"expected" doc:"Minutes of hands that were reckoned"`
	ResultFields
}

// ResultFields is what a person records of a batch.
type ResultFields struct {
	Good    *int `json:"good,omitempty" minimum:"0" maximum:"100000" doc:"That came out well"`
	Minutes *int `json:"minutes,omitempty" minimum:"1" maximum:"100000" doc:"Of hands that it really took"`
}

// Step of a run sheet. Times are minutes of the day on the wall clock.
type Step struct {
	Batch     uuid.UUID      `json:"batch"`
	Step      string         `json:"step"`
	Order     uuid.UUID      `json:"order"`
	Number    int            `json:"number" doc:"Of the order"`
	Customer  string         `json:"customer"`
	FreeFrom  []string       `json:"freeFrom"`
	Treat     string         `json:"treat"`
	Family    treat.Family   `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Name      string         `json:"name"`
	Amounts   []string       `json:"amounts"`
	Melt      int            `json:"melt" doc:"Minutes of melting immediately before"`
	Wash      int            `json:"wash" doc:"Minutes of washing down before that: what was worked with must not touch this"`
	Advice    string         `json:"advice,omitempty" doc:"How to bring the chocolate to working condition, where it is melted for this step"`
	Start     int            `json:"start"`
	Hands     int            `json:"hands"`
	Wait      int            `json:"wait"`
	Place     string         `json:"place,omitempty"`
	Hand      int            `json:"hand" doc:"Which person, from 0"`
	Chocolate food.Chocolate `json:"chocolate"`
	DoneAt    *time.Time     `json:"doneAt,omitempty"`
	Who       string         `json:"who,omitempty" doc:"Who ticked it"`

	pot *treat.Pot // that it works from
}

const selectSteps = `select t.batch_id, t.step, t.position, o.id, o.number, o.customer, o.free_from, b.sheet, t.changeover, t.washdown, t.start, t.hands, t.wait, t.hand, t.pot, t.done_at, coalesce(p.name, '')
	from batch_steps t join batches b on b.kitchen_id = t.kitchen_id and b.id = t.batch_id
	join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id left join people p on p.id = t.done_by`

func scan(row pgx.CollectableRow) (Step, error) {
	var s Step
	var position int
	var pot string
	var sheet order.LineCard
	err := row.Scan(&s.Batch, &s.Step, &position, &s.Order, &s.Number, &s.Customer, &s.FreeFrom, &sheet, &s.Melt, &s.Wash, &s.Start, &s.Hands, &s.Wait, &s.Hand, &pot, &s.DoneAt, &s.Who)
	if err != nil {
		return s, err
	}
	s.Treat, s.Family, s.Amounts = sheet.Name, sheet.Card.Family, []string{}
	if s.Chocolate = sheet.Card.Look; s.Chocolate.Kind == "" && len(sheet.Card.Pots) > 0 { // a sheet of before there were looks
		s.Chocolate = sheet.Card.Pots[0].Chocolate
	}
	for _, p := range sheet.Card.Pots {
		if p.Ingredient == pot {
			s.Chocolate, s.pot = p.Chocolate, &p
			if s.Melt > 0 {
				s.Advice = p.Advice
			}
		}
	}
	if position < len(sheet.Card.Steps) {
		step := sheet.Card.Steps[position]
		s.Name, s.Amounts, s.Place = step.Name, step.Amounts, step.Place
	}
	return s, nil
}

func (b *Bench) runSheet(ctx context.Context, in *struct {
	Day string `path:"day" format:"date"`
}) (*struct{ Body RunSheet }, error) {
	sheet := RunSheet{Day: in.Day}
	err := b.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, selectSteps+` where t.day = $1::text::date order by t.start - t.changeover - t.washdown, t.hand, t.batch_id, t.position`, in.Day)
		if err != nil {
			return err
		}
		if sheet.Steps, err = pgx.CollectRows(rows, scan); err != nil {
			return err
		}
		sharedPots(sheet.Steps)
		sheet.Results, err = results(ctx, tx, `b.made_at is not null and exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and s.day = $1::text::date)`, in.Day)
		return err
	})
	return &struct{ Body RunSheet }{sheet}, err
}

func results(ctx context.Context, tx pgx.Tx, which string, arg any) ([]Result, error) {
	rows, err := tx.Query(ctx, `select b.id, b.name, o.customer, b.count, b.started, b.sold, b.hands, b.good, b.minutes
		from batches b join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id where `+which+` order by b.id`, arg)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (r Result, err error) {
		err = row.Scan(&r.Batch, &r.Treat, &r.Customer, &r.Wanted, &r.Started, &r.Sold, &r.Expected, &r.Good, &r.Minutes)
		return r, err
	})
}

func (b *Bench) putResult(ctx context.Context, in *struct {
	web.ID
	Body ResultFields
}) (*struct{ Body Result }, error) {
	var r Result
	err := b.In(ctx, func(tx pgx.Tx) error {
		list, err := results(ctx, tx, `b.id = $1`, in.ID.ID)
		if err != nil {
			return err
		}
		if len(list) == 0 {
			return web.NotFound("batch")
		}
		// A sheet of bark gives several bags: there the pieces that were begun are not counted.
		if r = list[0]; in.Body.Good != nil && r.Sold == "pieces" && *in.Body.Good > r.Started {
			return &invalid.Error{Fields: []invalid.Field{{Path: "good", Says: fmt.Sprintf("%d were started: no more than that can have come out well.", r.Started)}}}
		}
		r.ResultFields = in.Body
		_, err = tx.Exec(ctx, `update batches set good = $2, minutes = $3 where id = $1`, in.ID.ID, in.Body.Good, in.Body.Minutes)
		return err
	})
	return &struct{ Body Result }{r}, err
}

// sharedPots tells where a batch goes on in a pot that was melted for another one: that pot must hold more.
func sharedPots(steps []Step) {
	begun := map[string]bool{}
	for i := range steps {
		s := &steps[i]
		if s.pot == nil {
			continue
		}
		key := s.Batch.String() + s.pot.Ingredient
		if s.Melt == 0 && !begun[key] {
			s.Advice = "The pot is still ready from the step before: have " + s.pot.Used.Metric + " (" + s.pot.Used.US + ") more of " + s.pot.Name + " in it for this."
		}
		begun[key] = true
	}
}

// Tick is whether a step is done.
type Tick struct {
	Done bool `json:"done"`
}

func (b *Bench) tick(ctx context.Context, in *struct {
	web.ID
	Step string `path:"step" maxLength:"60"`
	Body Tick
}) (*struct{ Body Step }, error) {
	var ticked Step
	err := b.In(ctx, func(tx pgx.Tx) error {
		var id uuid.UUID
		var state order.State
		err := tx.QueryRow(ctx, `select o.id, o.state from batches b join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id
			join batch_steps t on t.kitchen_id = b.kitchen_id and t.batch_id = b.id where b.id = $1 and t.step = $2 for update of o, t`, in.ID.ID, in.Step).Scan(&id, &state)
		if err == pgx.ErrNoRows {
			return web.NotFound("step")
		}
		if err != nil {
			return err
		}
		if state != order.Promised && state != order.Making {
			return web.Refuse(http.StatusConflict, "This order is "+string(state)+": its steps cannot be ticked any more. Move it back first.")
		}
		// Ticking twice keeps the first time.
		if in.Body.Done {
			_, err = tx.Exec(ctx, `update batch_steps set done_at = $3, done_by = $4 where batch_id = $1 and step = $2 and done_at is null`, in.ID.ID, in.Step, b.Clock(), web.WhoOf(ctx).Person)
		} else {
			_, err = tx.Exec(ctx, `update batch_steps set done_at = null, done_by = null where batch_id = $1 and step = $2`, in.ID.ID, in.Step)
		}
		if err == nil && in.Body.Done {
			err = b.Begin(ctx, tx, id)
		}
		if err == nil {
			err = b.Turn(ctx, tx, id)
		}
		if err != nil {
			return err
		}
		rows, err := tx.Query(ctx, selectSteps+` where t.batch_id = $1 and t.step = $2`, in.ID.ID, in.Step)
		if err != nil {
			return err
		}
		ticked, err = pgx.CollectExactlyOneRow(rows, scan)
		return err
	})
	return &struct{ Body Step }{ticked}, err
}
