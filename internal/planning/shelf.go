package planning

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/si"
)

// taken are the steps of the coming days that have their room and are still to be done.
func taken(ctx context.Context, tx pgx.Tx, cal plan.Calendar, days int) ([]plan.ScheduledOperation, error) {
	rows, err := tx.Query(ctx, `select b.id, s.step, s.day, s.start, s.hand, s.changeover, s.washdown, s.hands, s.wait
			from batch_steps s
		join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id where s.day >= $1::text::date
		and s.day < $1::text::date + $2::int and b.short is null and s.done_at is null`, cal.Date(0), days)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (plan.ScheduledOperation, error) {
		var p plan.ScheduledOperation
		var id uuid.UUID
		var day time.Time
		err := row.Scan(&id, &p.Step, &day, &p.Start, &p.Hand, &p.Changeover, &p.Washdown, &p.Hands, &p.Wait)
		p.Batch = ident.Batch(id.String())
		p.Start = cal.At(dayOf(cal, day), p.Start)
		return p, err
	})
}

// Tin is a day on the shelf.
type Tin struct {
	Day       string     `json:"day" format:"date"`
	Hands     si.Minutes `json:"hands" doc:"Minutes of hands that the day has"`
	Free      si.Minutes `json:"free" doc:"Minutes that can still be promised; today, from now on"`
	Over      si.Minutes `json:"over" doc:"Minutes of planned work beyond what the day has"`
	Spans     []Span     `json:"spans"`
	Reason    string     `json:"reason,omitempty" doc:"Why the day differs from the weekly pattern"`
	Work      []TinWork  `json:"work"`
	Handovers []Handover `json:"handovers"`
	Away      si.Minutes `json:"away" doc:"Minutes of the time of work in which somebody is on the road"`
}

// TinWork is a batch in a tin.
type TinWork struct {
	Batch     uuid.UUID          `json:"batch"`
	For       []order.ShareOwner `json:"for" doc:"Whom it is for, next handover first"`
	Treat     string             `json:"treat"`
	Count     int                `json:"count"`
	Amount    *measure.Shown     `json:"amount,omitempty" doc:"Of a mix that is made ahead: how much of it"`
	Family    batch.Motif        `json:"family"`
	Chocolate food.Chocolate     `json:"chocolate"`
	Minutes   si.Minutes         `json:"minutes"`
	Steps     int                `json:"steps"`
	Done      int                `json:"done" doc:"Steps that are ticked"`
	Short     bool               `json:"short" doc:"It has no room in the plan: it stands over the rim"`
}

// Handover is a flag below a tin.
type Handover struct {
	Order    uuid.UUID        `json:"order"`
	Customer string           `json:"customer"`
	Way      order.Fulfilment `json:"way" enum:"pickup,delivery"`
	At       time.Time        `json:"at"`
	State    order.State      `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
}

// Shelf is the days in a row.
type Shelf struct {
	Today   string     `json:"today" format:"date"`
	Planned si.Minutes `json:"planned" doc:"Hands-on minutes of the work in all tins"`
	Free    si.Minutes `json:"free" doc:"Minutes that can still be promised"`
	Tins    []Tin      `json:"tins"`
}

func (p *Planning) shelf(ctx context.Context, in *struct {
	Days int `query:"days" minimum:"1" maximum:"60" default:"14"`
}) (*struct{ Body Shelf }, error) {
	var s Shelf
	err := p.In(ctx, func(tx pgx.Tx) error {
		cal, err := p.Calendar(ctx, tx)
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
		taken, err := taken(ctx, tx, cal, in.Days)
		if err != nil {
			return err
		}
		errands, err := errands(ctx, tx, cal, Days{0, in.Days})
		if err != nil {
			return err
		}
		away := busySteps(errands, cal, sessions)
		s = Shelf{Today: cal.Date(0), Tins: make([]Tin, in.Days)}
		now := cal.Minute(p.Clock())
		for day := range s.Tins {
			s.Tins[day] = tin(w, cal, day, now, sessions, taken, away)
		}
		if err := fillWork(ctx, tx, cal, s.Tins); err != nil {
			return err
		}
		for i := range s.Tins {
			s.Free += s.Tins[i].Free
			for _, w := range s.Tins[i].Work {
				s.Planned += w.Minutes
			}
		}
		return fillHandovers(ctx, tx, cal, s.Tins)
	})
	return &struct{ Body Shelf }{s}, err
}

func tin(w WorkDays, cal plan.Calendar, day int, now si.Minutes, sessions []plan.Session,
	taken, away []plan.ScheduledOperation) Tin {
	t := Tin{Day: cal.Date(day), Spans: w.spansOn(cal, day), Work: []TinWork{}, Handovers: []Handover{}}
	for _, e := range w.Exceptions {
		if e.Day == t.Day {
			t.Reason = e.Reason
		}
	}
	var today, ahead []plan.Session
	var planned si.Minutes
	for _, s := range sessions {
		if cal.Day(s.From) == day {
			today = append(today, s)
			t.Hands += (s.To - s.From) * si.Minutes(s.People)
			if s.From = max(s.From, now); s.From < s.To {
				ahead = append(ahead, s)
			}
		}
	}
	for _, p := range taken {
		if cal.Day(p.Start) == day {
			planned += p.To() - p.From()
		}
	}
	for _, p := range away {
		if cal.Day(p.Start) == day {
			t.Away += p.Hands
		}
	}
	planned += t.Away
	taken = append(slices.Clip(taken), away...)
	t.Free = plan.Free(ahead, taken)
	// What lies outside of the sessions has no room in the tin.
	t.Over = max(0, planned-(t.Hands-plan.Free(today, taken)))
	return t
}

func fillWork(ctx context.Context, tx pgx.Tx, cal plan.Calendar, tins []Tin) error {
	rows, err := tx.Query(ctx, `select b.id, batch_for(b.kitchen_id, b.id), b.name, b.count, b.family, b.look, b.grams,
			s.minutes, s.steps, s.done, b.short is not null, s.day
		from (select kitchen_id, batch_id, day, sum(hands + changeover + washdown)::int as minutes,
		count(*)::int as steps, count(done_at)::int as done, min(start) as start from batch_steps
				where day >= $1::text::date and day < $1::text::date + $2::int group by kitchen_id, batch_id, day) s
			join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id order by s.start`, cal.Date(0), len(tins))
	if err != nil {
		return err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var w TinWork
		var day time.Time
		var shares order.Shares
		var grams *si.Grams
		err := row.Scan(&w.Batch, &shares, &w.Treat, &w.Count, &w.Family, &w.Chocolate, &grams, &w.Minutes, &w.Steps, &w.Done,
			&w.Short, &day)
		w.For = shares.Owners()
		if grams != nil {
			w.Amount = new(measure.ShowGrams(*grams))
		}
		if i := dayOf(cal, day); err == nil && i >= 0 && i < len(tins) {
			tins[i].Work = append(tins[i].Work, w)
			if w.Short {
				tins[i].Over += w.Minutes
			}
		}
		return struct{}{}, err
	})
	return err
}

func fillHandovers(ctx context.Context, tx pgx.Tx, cal plan.Calendar, tins []Tin) error {
	rows, err := tx.Query(ctx, `select id, customer, way, from_at, state from orders
		where from_at >= $1 and from_at < $2 and state in ('promised', 'in the making', 'packed', 'handed over')
		order by from_at`, cal.Time(0), cal.Time(cal.Begin(len(tins))))
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
