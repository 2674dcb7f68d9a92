// Package bench serves the run sheet of a day and takes the ticks.
package bench

import (
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

// Bench is the feature.
type Bench struct {
	web.Base
	Deps
}

// Deps is what the bench needs of other rooms.
type Deps struct {
	// Begin tells that the work on an order has begun.
	Begin func(context.Context, pgx.Tx, uuid.UUID) error
	// Turn books what batches took that have been made, or puts it back where they no longer are.
	Turn func(context.Context, pgx.Tx, uuid.UUID) error
	// TurnOwn books a mix that is made ahead, by its batch, or puts it back.
	TurnOwn func(context.Context, pgx.Tx, uuid.UUID) error
	// Hours are the times in which people work on a day, in minutes of that day.
	Hours func(ctx context.Context, tx pgx.Tx, day string) ([]plan.Session, error)
	// Spots are where things wait.
	Spots func(context.Context, pgx.Tx) ([]treat.Spot, error)
	// House is where the kitchen lies, and how warm it is there, in °C.
	House func(context.Context, pgx.Tx) (zone *time.Location, room float64, err error)
	// Heat is what the heat of a day asks for on its drives.
	Heat func(ctx context.Context, tx pgx.Tx, day string) ([]reason.Reason, error)
}

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	b := &Bench{h, needs}
	tags := []string{"Bench"}
	web.Register(h, huma.Operation{OperationID: "get-run-sheet", Method: "GET", Path: "/api/v1/days/{day}/run-sheet",
		Summary: "A day's work in order, with clock times and amounts", Tags: tags}, b.runSheet)
	web.Register(h, huma.Operation{OperationID: "print-run-sheet", Method: "GET",
		Path: "/api/v1/days/{day}/run-sheet.pdf", Summary: "A day's run sheet as PDF, on a page or two", Tags: tags,
		Responses: web.FileOf("application/pdf", "The run sheet")}, b.paper)
	web.Register(h, huma.Operation{OperationID: "tick-step", Method: "PUT", Path: "/api/v1/batches/{id}/steps/{step}",
		Summary: "Tick a step as done, or take the tick back", Tags: tags}, b.tick)
	web.Register(h, huma.Operation{OperationID: "add-losses", Method: "POST",
		Path:    "/api/v1/batches/{id}/steps/{step}/losses",
		Summary: "Pieces broke at a step, or did not after all: they are added to those that broke before", Tags: tags},
		b.lose)
	web.Register(h, huma.Operation{OperationID: "add-step-note", Method: "POST",
		Path: "/api/v1/batches/{id}/steps/{step}/notes", Summary: "Note something at a step", Tags: tags,
		DefaultStatus: 204}, b.addNote)
	web.Register(h, huma.Operation{OperationID: "remove-step-note", Method: "DELETE", Path: "/api/v1/step-notes/{id}",
		Summary: "Take a note of a step back", Tags: tags, DefaultStatus: 204}, b.removeNote)
	web.Register(h, huma.Operation{OperationID: "list-timers", Method: "GET", Path: "/api/v1/timers",
		Summary: "Timers that run, or have ended and nobody has stopped", Tags: tags}, b.timers)
	web.Register(h, huma.Operation{OperationID: "set-timer", Method: "POST", Path: "/api/v1/timers",
		Summary: "Set a timer", Tags: tags, DefaultStatus: 204}, b.setTimer)
	web.Register(h, huma.Operation{OperationID: "stop-timer", Method: "DELETE", Path: "/api/v1/timers/{id}",
		Summary: "Stop a timer", Tags: tags, DefaultStatus: 204}, b.stopTimer)
	web.Register(h, huma.Operation{OperationID: "put-result", Method: "PUT", Path: "/api/v1/batches/{id}/result",
		Summary: "Record how a batch came out: the till sets it against what was expected", Tags: tags}, b.putResult)
}

// RunSheet is a day's work in order.
type RunSheet struct {
	Day       string      `json:"day" format:"date"`
	Begins    *si.Minutes `json:"begins,omitempty" doc:"Minute of the day at which the first work begins"`
	Ends      *si.Minutes `json:"ends,omitempty" doc:"And at which the last is done"`
	Sessions  []Session   `json:"sessions" doc:"The times of work, each with what to set up and when to look at what waits"`
	Handovers []Handover  `json:"handovers" doc:"Of the day"`
	Steps     []Step      `json:"steps"`
	Results   []Result    `json:"results" doc:"How the batches of the day came out, of those that are made"`
}

// Result is how a batch came out.
type Result struct {
	Batch    uuid.UUID          `json:"batch"`
	Treat    string             `json:"treat"`
	For      []order.ShareOwner `json:"for" doc:"Whom it is for, next handover first"`
	Wanted   int                `json:"wanted"`
	Started  int                `json:"started" doc:"Pieces; of bark the sheets"`
	Sold     reason.Word        `json:"sold" doc:"What it is counted in"`
	Counted  bool               `json:"counted" doc:"Of each that is begun one comes out: not bags of a sheet"`
	Expected int                `json:"expected" doc:"Minutes of hands that were reckoned"`
	Likely   int                `json:"likely" doc:"Good pieces, as long as nobody has counted them: what was begun without what broke"`
	ResultFields
}

// ResultFields is what a person records of a batch.
type ResultFields struct {
	Good    *int `json:"good,omitempty" minimum:"0" maximum:"100000" doc:"That came out well"`
	Minutes *int `json:"minutes,omitempty" minimum:"1" maximum:"100000" doc:"Of hands that it really took"`
}

// Step of a run sheet. Times are minutes of the day on the wall clock.
type Step struct {
	Batch     uuid.UUID          `json:"batch"`
	Step      ident.Step         `json:"step"`
	For       []order.ShareOwner `json:"for" doc:"Whom it is for, next handover first"`
	FreeFrom  []string           `json:"freeFrom"`
	Treat     string             `json:"treat"`
	Amount    *measure.Shown     `json:"amount,omitempty" doc:"Of a mix that is made ahead: how much of it"`
	Family    batch.Motif        `json:"family"`
	Name      string             `json:"name"`
	Amounts   []reason.Reason    `json:"amounts"`
	Round     *batch.Round       `json:"round,omitempty" doc:"Which of several rounds it is"`
	Note      string             `json:"note,omitempty" doc:"The seller's own, of the step"`
	Look      string             `json:"look,omitempty" doc:"What to look for"`
	TreatNote string             `json:"treatNote,omitempty" doc:"The seller's own, of the treat; where its batch begins on this day"`
	Melt      si.Minutes         `json:"melt" doc:"Minutes of melting immediately before"`
	Wash      si.Minutes         `json:"wash" doc:"Minutes of washing down before that: what was worked with must not touch this"`
	Advice    []reason.Reason    `json:"advice,omitempty" doc:"Line by line: how to bring the chocolate to working condition, where it is melted for this step"`
	Pot       string             `json:"pot,omitempty" doc:"Name of the chocolate that it works from"`
	TopUp     *measure.Shown     `json:"topUp,omitempty" doc:"Melted more for it, into the bowl that stands there"`
	Start     si.Minutes         `json:"start"`
	Hands     si.Minutes         `json:"hands"`
	Wait      si.Minutes         `json:"wait"`
	Place     string             `json:"place,omitempty" doc:"The storage spot where it waits, by its id"`
	Spot      string             `json:"spot,omitempty" doc:"What that is called"`
	Hand      int                `json:"hand" doc:"Which person, from 0"`
	Chocolate food.Chocolate     `json:"chocolate"`
	DoneAt    *time.Time         `json:"doneAt,omitempty"`
	Who       string             `json:"who,omitempty" doc:"Who ticked it"`
	Short     bool               `json:"short" doc:"Its batch has no room in the plan any more; this is when it was to be done"`
	Broken    int                `json:"broken" doc:"Pieces that broke at it"`
	Notes     []Note             `json:"notes,omitempty" doc:"What was noted at it while it was done"`
	Weighs    []Weigh            `json:"weighs,omitempty" doc:"Of its amounts those that are weighed out"`
	Counted   bool               `json:"counted" doc:"Its pieces are counted as they are begun: one can break; not bags of a sheet"`

	role    treat.Role   // what its chocolate does
	begun   int          // pieces of its batch
	pots    []batch.Pot  // of its card
	draw    *ledger.Draw // what it takes from a bowl
	melts   []ident.Pot  // keys of the pots that are melted right before it
	uses    []plan.Use   // pots that it must have ready
	threats []string     // allergens that must not touch it
	done    *si.Minutes  // minute of its day at which it was ticked, which may lie on another
	until   si.Minutes   // when its waiting is over, as the clock shows it
}

// Session is a time of work. Times are minutes of the day.
type Session struct {
	From   si.Minutes `json:"from"`
	To     si.Minutes `json:"to"`
	People int        `json:"people"`
	Steps  []int      `json:"steps" doc:"The run sheet's steps that are done in it, by their index"`
	Rows   []Row      `json:"rows" doc:"The same, with rounds that follow each other in one"`
	Ends   si.Minutes `json:"ends" doc:"When the hands are free"`
	Setups []Setup    `json:"setups" doc:"What is melted or washed down, and when"`
	Looks  []Look     `json:"looks" doc:"When to look at what waits"`
}

// Row of a run sheet: a step, or rounds of one batch that follow each other.
type Row struct {
	Steps []int         `json:"steps" doc:"By their index"`
	Text  reason.Reason `json:"text,omitzero" doc:"What the rounds are; not given of a step alone"`
}

// Setup is a pot to be melted, or a washing down.
type Setup struct {
	At        si.Minutes      `json:"at"`
	Minutes   si.Minutes      `json:"minutes"`
	Hand      int             `json:"hand"`
	Wash      bool            `json:"wash" doc:"It is a washing down, with clean tools after it"`
	Pot       string          `json:"pot,omitempty" doc:"Name of the chocolate"`
	Chocolate *food.Chocolate `json:"chocolate,omitempty"`
	Method    string          `json:"method,omitempty" enum:"none,gentle,seed,three-point" doc:"How it is brought to working condition"`
	Source    string          `json:"source,omitempty" enum:"microwave,bath"`
	Grams     si.Grams        `json:"grams,omitempty" doc:"That are melted"`
	Pieces    int             `json:"pieces,omitempty" doc:"That are dipped in it"`
	Coat      si.Grams        `json:"coat,omitempty" doc:"g that each of them takes"`
	Pool      si.Grams        `json:"pool,omitempty" doc:"g that must stay in it to work from"`
	Melt      *measure.Shown  `json:"melt,omitempty" doc:"How much is melted, for all that works from the pot until it is melted again"`
	For       []string        `json:"for" doc:"The treats that work from it, or that must be free from something"`
	Advice    []reason.Reason `json:"advice,omitempty" doc:"Seed and temperatures, line by line"`
}

// Look is when something that waits is to be looked at.
type Look struct {
	At    si.Minutes         `json:"at"`
	Spot  string             `json:"spot" doc:"Where it waits"`
	Name  string             `json:"name" doc:"Of the step after which it waits"`
	Treat string             `json:"treat"`
	For   []order.ShareOwner `json:"for"`
}

// Handover of the day.
type Handover struct {
	Order    uuid.UUID        `json:"order"`
	Customer string           `json:"customer"`
	Way      order.Fulfilment `json:"way" enum:"pickup,delivery"`
	Place    string           `json:"place,omitempty"`
	At       si.Minutes       `json:"at" doc:"Minute of the day"`
	Leave    si.Minutes       `json:"leave,omitempty" doc:"When to set out with a delivery: its drive leaves then, or its distance is known; minute of the day"`
}

const selectSteps = `select t.batch_id, t.step, t.position, batch_for(b.kitchen_id, b.id), b.sheet, b.work,
			t.changeover, t.washdown, t.start, t.hands, t.wait, t.hand, t.pot, t.draw, t.melts, t.done_at,
			coalesce(p.name, ''), b.short is not null, t.broken, b.sold in ('piece', 'pieces'), b.grams, b.started
	from batch_steps t join batches b on b.kitchen_id = t.kitchen_id and b.id = t.batch_id left
	join people p on p.id = t.done_by`

func scan(row pgx.CollectableRow) (Step, error) {
	var s Step
	var position int
	var pot string
	var sheet order.LineCard
	var shares order.Shares
	var work plan.Batch
	var grams *si.Grams
	err := row.Scan(&s.Batch, &s.Step, &position, &shares, &sheet, &work, &s.Melt, &s.Wash, &s.Start, &s.Hands, &s.Wait,
		&s.Hand, &pot, &s.draw, &s.melts, &s.DoneAt, &s.Who, &s.Short, &s.Broken, &s.Counted, &grams,
		&s.begun)
	if err != nil {
		return s, err
	}
	if grams != nil {
		s.Amount = new(measure.ShowGrams(*grams))
	}
	s.For, s.FreeFrom = shares.Owners(), shares.FreeFrom()
	s.Treat, s.Family, s.Amounts = sheet.Name, batch.Motif(sheet.Card.Family), []reason.Reason{}
	if s.Chocolate = sheet.Card.Look; s.Chocolate.Kind == "" &&
		len(sheet.Card.Pots) > 0 { // a sheet of before there were looks
		s.Chocolate = sheet.Card.Pots[0].Chocolate
	}
	s.pots, s.threats = sheet.Card.Pots, order.Threats(s.FreeFrom)
	if p := s.potOf(ident.Ingredient(pot)); p != nil {
		if s.Chocolate = p.Chocolate; s.Melt > 0 {
			s.Advice = p.Advice
		}
	}
	if n := slices.IndexFunc(work.Steps, func(x plan.Operation) bool { return x.ID == s.Step }); n >= 0 {
		s.uses = work.Steps[n].Pots
	}
	if position < len(sheet.Card.Steps) {
		step := sheet.Card.Steps[position]
		s.Name, s.Amounts, s.Place = step.Name, step.Amounts, string(step.Storage)
		s.Weighs = slices.DeleteFunc(weighed(step.Amounts), func(w Weigh) bool { // out of a bowl it is not weighed
			return slices.ContainsFunc(s.pots, func(p batch.Pot) bool { return p.Name == w.Of })
		})
		s.Round, s.Note, s.Look, s.role = step.Round, step.Note, step.Look, step.Role
	}
	if position == 0 {
		s.TreatNote = sheet.Card.Note
	}
	return s, nil
}

// Of is a day.
type Of struct {
	Day string `path:"day" format:"date"`
}

func (b *Bench) runSheet(ctx context.Context, in *Of) (*struct{ Body RunSheet }, error) {
	sheet, err := b.sheet(ctx, in)
	return &struct{ Body RunSheet }{sheet}, err
}

func (b *Bench) sheet(ctx context.Context, in *Of) (RunSheet, error) {
	sheet := RunSheet{Day: in.Day}
	err := b.In(ctx, func(tx pgx.Tx) error {
		hours, err := b.Hours(ctx, tx, in.Day)
		if err != nil {
			return err
		}
		zone, room, err := b.House(ctx, tx)
		if err != nil {
			return err
		}
		if sheet.Handovers, err = handovers(ctx, tx, in.Day, zone); err != nil {
			return err
		}
		if !web.ActorOf(ctx).SeesAddresses(in.Day, b.Clock().In(zone).Format(time.DateOnly)) {
			for i := range sheet.Handovers {
				sheet.Handovers[i].Place = ""
			}
		}
		rows, err := tx.Query(ctx, selectSteps+
			` where t.day = $1::text::date order by t.start - t.changeover - t.washdown, t.hand, t.batch_id, t.position`, in.Day)
		if err != nil {
			return err
		}
		if sheet.Steps, err = pgx.CollectRows(rows, scan); err != nil {
			return err
		}
		if err := noted(ctx, tx, sheet.Steps); err != nil {
			return err
		}
		spots, err := b.Spots(ctx, tx)
		if err != nil {
			return err
		}
		where := treat.Inputs{Spots: spots}
		midnight, err := time.ParseInLocation(time.DateOnly, in.Day, zone)
		if err != nil {
			return err
		}
		// Laid out in real minutes, as they pass also in the night in which the clocks change; shown as the clock shows
		// them.
		cal := plan.CalendarFrom(midnight, zone)
		for i := range sheet.Steps {
			s := &sheet.Steps[i]
			s.Start, s.Spot = cal.At(0, s.Start), where.SpotName(ident.Spot(s.Place))
			if s.DoneAt != nil {
				s.done = new(cal.Minute(*s.DoneAt))
			}
		}
		var spans []plan.Session
		for _, h := range hours {
			for _, x := range cal.Spans(0, h.From, h.To) {
				spans = append(spans, plan.Session{From: x.From, To: x.To, People: h.People})
			}
		}
		sheet.Sessions = sessions(spans, sheet.Steps, room)
		sheet.show(cal)
		sheet.Results, err = results(ctx, tx,
			`b.mix_id is null and b.made_at is not null and exists (select from batch_steps s
				where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and s.day = $1::text::date)`, in.Day)
		return err
	})
	return sheet, err
}

// show all times as the clock shows them: minutes from the day's midnight, beyond 1440 on the day after.
func (r *RunSheet) show(cal plan.Calendar) {
	clock := func(minutes ...*si.Minutes) {
		for _, m := range minutes {
			*m = si.Minutes(cal.Day(*m)*plan.DayMinutes) + cal.Clock(*m)
		}
	}
	for i := range r.Steps {
		s := &r.Steps[i]
		s.until = s.Start + s.Hands + s.Wait
		begins, ends := s.Start-s.Melt-s.Wash, s.Start+s.Hands
		clock(&s.Start, &s.until, &begins, &ends)
		if r.Begins == nil || begins < *r.Begins {
			r.Begins = &begins
		}
		if r.Ends == nil || ends > *r.Ends {
			r.Ends = &ends
		}
	}
	for i := range r.Sessions {
		s := &r.Sessions[i]
		clock(&s.From, &s.To)
		if s.Ends > 0 {
			clock(&s.Ends)
		}
		for n := range s.Setups {
			clock(&s.Setups[n].At)
		}
		for n := range s.Looks {
			clock(&s.Looks[n].At)
		}
	}
}

func handovers(ctx context.Context, tx pgx.Tx, day string, zone *time.Location) ([]Handover, error) {
	rows, err := tx.Query(ctx, `select id, customer, way, place, (extract(epoch
			from from_at at time zone $2 - $1::text::date) / 60)::int, distance,
			(extract(epoch from leaves_at at time zone $2 - $1::text::date) / 60)::int from orders
		where (from_at at time zone $2)::date = $1::text::date and state in ('promised', 'in the making', 'packed')
		order by from_at`, day, zone.String())
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Handover, error) {
		var h Handover
		var km float64
		var leaves *si.Minutes
		err := row.Scan(&h.Order, &h.Customer, &h.Way, &h.Place, &h.At, &km, &leaves)
		if leaves != nil {
			h.Leave = *leaves
		} else if takes := order.Leave(km); h.Way == order.Delivery && takes > 0 && takes < h.At {
			h.Leave = h.At - takes
		}
		return h, err
	})
}
