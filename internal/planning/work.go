package planning

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/si"
)

// Days is a span of days, counted from the calendar's: From inclusive, To exclusive.
type Days struct{ From, To int }

// promised is a batch as it is planned.
type promised struct {
	plan.CommittedBatch
	shares order.Shares // of orders that are still to be had, next handover first
	keeps  *si.Minutes  // minutes, of its card: one that waits for several handovers is to be fresh enough for the last
	short  *shortNote
	steps  []stepRow
	mix    *ownWork // nil of what orders take from
}

// ownWork is that a mix is made ahead: no order takes from it.
type ownWork struct {
	mix   uuid.UUID
	grams si.Grams
	ready int // the day on which it is to be there, counted from the calendar's day 0
}

// stepRow is a step as it stands in the table; Day is counted from the calendar's day 0.
type stepRow struct {
	Step       ident.Step   `json:"step"`
	Day        int          `json:"day"`
	Start      si.Minutes   `json:"start"` // minute of the day
	Hand       int          `json:"hand"`
	Changeover si.Minutes   `json:"changeover"`
	Washdown   si.Minutes   `json:"washdown"`
	Melts      []ident.Pot  `json:"melts"`
	Draw       *ledger.Draw `json:"draw"`
	Pinned     bool         `json:"pinned"`
	Done       *time.Time   `json:"done"`
}

// Work is all that is promised and has a step in a span of days, or should have been done before today, as the problem
// that the planner solves. What is made for one order alone is left out of it; where that stands is told apart.
func Work(ctx context.Context, tx pgx.Tx, k *order.Inputs, span Days, except uuid.UUID) (order.PlanningContext, error) {
	rest := func(shares order.Shares) (*batch.Card, error) {
		_, card, err := cardOf(k, shares)
		return card, err
	}
	w, _, err := load(ctx, tx, k.Calendar, k.Now, span, except, rest)
	return w, err
}

// selectPromised batches with where their steps stand, in days from a date.
const selectPromised = `select b.id, batch_for(b.kitchen_id, b.id), b.work, b.short,
		(select jsonb_agg(jsonb_build_object('step', s.step, 'day', s.day - $1::text::date, 'start', s.start, 'hand',
		s.hand, 'changeover', s.changeover, 'washdown', s.washdown, 'melts', s.melts, 'draw', s.draw, 'pinned',
		s.pinned, 'done', s.done_at) order by s.position)
			from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id)
		, b.mix_id, b.grams, b.ready_on - $1::text::date
	from batches b`

// load the work. Where the order except takes part in a batch that is made for others too, rest is the card of what is
// left of it without that order.
func load(ctx context.Context, tx pgx.Tx, cal plan.Calendar, now time.Time, span Days, except uuid.UUID,
	rest func(order.Shares) (*batch.Card, error)) (order.PlanningContext, []promised, error) {
	var w order.PlanningContext
	rows, err := tx.Query(ctx, selectPromised+` where b.work ? 'steps' and (
			b.id in (select s.batch_id from batch_steps s where s.day >= $1::text::date + greatest($2::int, 0) and s.day < $1::text::date + $3::int)
			or $2::int <= 0 and b.made_at is null and b.day < $1::text::date)
		and (b.mix_id is not null or exists (select from batch_shares h join orders o on o.kitchen_id = h.kitchen_id
			and o.id = h.order_id where h.kitchen_id = b.kitchen_id and h.batch_id = b.id
			and o.state in ('promised', 'in the making', 'packed')))
		order by b.id`, cal.Date(0), span.From, span.To)
	if err != nil {
		return w, nil, err
	}
	all, err := pgx.CollectRows(rows, scanPromised)
	if err != nil {
		return w, nil, err
	}
	// The problem's days begin a day before the first that is known: of what was ticked at once some is taken to have
	// been done before.
	first := min(span.From, 0)
	for _, b := range all {
		for _, s := range b.steps {
			first = min(first, s.Day)
		}
	}
	first--
	w.Calendar = plan.Calendar{Zero: cal.Time(cal.Begin(first))}
	w.Now = w.Calendar.Minute(now)
	w.First, w.Last = w.Calendar.Begin(span.From-first), w.Calendar.Begin(span.To-first)
	var hours []plan.Session
	if hours, err = Sessions(ctx, tx, w.Calendar, span.To-first); err != nil {
		return w, nil, err
	}
	from := w.Calendar.Begin(max(span.From-first, 0))
	w.Sessions = slices.DeleteFunc(hours, func(s plan.Session) bool { return s.To <= from })
	room, _, err := loadCapacity(ctx, tx)
	if err != nil {
		return w, nil, err
	}
	w.Places, w.Washdown = resources(room.Spots), room.Washdown
	if w.Tools, err = tools(ctx, tx, all); err != nil {
		return w, nil, err
	}
	w.Own, w.Draws = map[ident.Batch]map[ident.Step]plan.Scheduled{}, map[ident.Batch]map[ident.Step]*ledger.Draw{}
	others := make([]plan.CommittedBatch, 0, len(all))
	kept := all[:0]
	for _, b := range all {
		b.settle(w.Calendar, -first)
		draws := b.draws()
		if b.taken(except, w.Own) {
			if len(b.shares) == 0 {
				continue
			}
			card, err := rest(b.shares)
			if err != nil {
				return w, nil, err
			}
			if card != nil {
				left := order.BatchOf(b.ID, card, nil)
				b.Steps, b.FreshFrom = left.Steps, left.FreshFrom
				clear(draws)
				for _, s := range card.Steps {
					draws[s.ID] = s.Draw
				}
			}
			b.settle(w.Calendar, -first)
		}
		w.Draws[b.ID] = draws
		frozen := b.freeze(&w)
		if b.mix == nil && b.short == nil && b.whole(w.Now) {
			of := b.shares[0]
			w.Combined = append(w.Combined, order.CombinedBatch{Batch: b.ID, Treat: of.Treat, Version: of.Version,
				Coating: of.Coating, Count: b.shares.Count(), Orders: b.shares.Orders(),
				Last: w.Calendar.Date(w.Calendar.DayOf(b.shares.Last())), For: b.shares.Customers()})
		}
		others, kept = append(others, frozen), append(kept, b)
	}
	away, err := errands(ctx, tx, w.Calendar, Days{0, span.To - first})
	if err != nil {
		return w, nil, err
	}
	for i := range away {
		others = append(others, busy(&away[i], w.Calendar, w.Sessions, w.Now))
	}
	w.Problem = *plan.CurrentProblem(w.Problem, w.Now, others)
	return w, kept, nil
}

// taken tells whether an order takes from a batch, and takes it out then, noting where the batch stands.
func (b *promised) taken(id uuid.UUID, own map[ident.Batch]map[ident.Step]plan.Scheduled) bool {
	n := slices.IndexFunc(b.shares, func(s order.Share) bool { return s.Order == ident.Order(id.String()) })
	if n < 0 {
		return false
	}
	if !b.shares[n].Again { // what is made again stands beside what the order asks for
		own[order.BatchID(b.shares[n].Line, b.shares[n].Part)] = b.At
	}
	b.shares = b.shares.Without(ident.Order(id.String()))
	return true
}

// draws of its steps.
func (b *promised) draws() map[ident.Step]*ledger.Draw {
	of := make(map[ident.Step]*ledger.Draw, len(b.steps))
	for _, s := range b.steps {
		of[s.Step] = s.Draw
	}
	return of
}

func scanPromised(row pgx.CollectableRow) (promised, error) {
	var b promised
	var id uuid.UUID
	var mix *uuid.UUID
	var grams *si.Grams
	var ready *int
	if err := row.Scan(&id, &b.shares, &b.Batch, &b.short, &b.steps, &mix, &grams, &ready); err != nil {
		return b, err
	}
	if mix != nil {
		b.mix = &ownWork{*mix, *grams, *ready}
	}
	b.ID, b.shares, b.keeps = ident.Batch(id.String()), b.shares.Live(), b.ShelfLifeMin
	return b, nil
}

// settle the times of a batch, which is to be ready for the first of its orders, or on the evening of its day, in the
// minutes of a calendar whose day 0 lies so many days before today.
func (b *promised) settle(cal plan.Calendar, before int) {
	if len(b.shares) > 0 {
		first, last := cal.Minute(b.shares[0].Ready), cal.Minute(b.shares[len(b.shares)-1].Ready)
		b.DueMin, b.Penalty, b.FreeFrom = first, order.ConfirmedPenalty*len(b.shares),
			order.Threats(b.shares.FreeFrom())
		if b.keeps != nil {
			b.ShelfLifeMin = new(max(*b.keeps-(last-first), 0))
		}
	}
	if b.mix != nil {
		b.DueMin, b.Penalty = cal.Begin(b.mix.ready+before+1), order.ConfirmedPenalty
	}
	b.At = make(map[ident.Step]plan.Scheduled, len(b.steps))
	for _, s := range b.steps {
		at := plan.Scheduled{Start: cal.At(s.Day+before, s.Start), Hand: s.Hand, Changeover: s.Changeover,
			Washdown: s.Washdown, Melts: s.Melts, Pinned: s.Pinned}
		if s.Done != nil {
			at.Done = new(cal.Minute(*s.Done))
		}
		b.At[s.Step] = at
	}
}

// freeze what a batch has beyond the span of days that are planned: who else works then is not known here, so that it
// stays where it is, and so is with what it is melted, so that no pot is asked for.
func (b *promised) freeze(w *order.PlanningContext) plan.CommittedBatch {
	frozen := b.CommittedBatch
	frozen.Steps = slices.Clone(b.Steps)
	for i, step := range b.Steps {
		at, planned := b.At[step.ID]
		if !planned || at.Done != nil || b.short != nil || !beyond(w, at.Start) {
			continue
		}
		at.Pinned = true
		b.At[step.ID] = at
		frozen.Steps[i].Pots = nil
		w.Widen(at.Start-at.Washdown, at.Start+step.HandsOnMin, at.Hand)
	}
	return frozen
}

// beyond tells whether a minute that is still to come lies outside of the days that are planned.
func beyond(w *order.PlanningContext, minute si.Minutes) bool {
	return minute >= w.Last || minute < w.First && minute >= w.Now
}

// tools that the batches take: as many as the kitchen says there are, or as one of them takes at once.
func tools(ctx context.Context, tx pgx.Tx, all []promised) ([]plan.MouldResource, error) {
	moulds, err := Moulds(ctx, tx)
	if err != nil {
		return nil, err
	}
	count := map[ident.Mould]int{}
	for _, b := range all {
		for _, s := range b.Steps {
			for _, t := range s.Takes {
				count[t.Tool] = max(count[t.Tool], t.Count)
			}
		}
	}
	for tool, n := range moulds {
		count[tool] = n
	}
	list := make([]plan.MouldResource, 0, len(count))
	for id, n := range count {
		list = append(list, plan.MouldResource{ID: id, Count: n})
	}
	slices.SortFunc(list, func(a, b plan.MouldResource) int { return strings.Compare(string(a.ID), string(b.ID)) })
	return list, nil
}

// keep a plan: the steps of promised batches go where it has them, and batches that it leaves out are noted with the
// reason; their steps stay where they were. Batches of the plan that are not in the tables are passed over, and so is
// what lies beyond the days that are planned: what it is melted with then is not known here.
func keep(ctx context.Context, tx pgx.Tx, w *order.PlanningContext, made *plan.Plan) error {
	cal := w.Calendar
	batch := &pgx.Batch{}
	batch.Queue(`update kitchens set plan_revision = plan_revision + 1`)
	was := map[ident.StepOf]plan.ScheduledOperation{}
	for _, s := range w.Previous.Steps {
		was[ident.StepOf{Batch: s.Batch, Step: s.Step}] = s
	}
	moved := map[uuid.UUID]bool{}
	placed := []uuid.UUID{}
	for _, s := range made.Steps {
		id, err := uuid.Parse(string(s.Batch))
		if err != nil {
			continue
		}
		if len(placed) == 0 || placed[len(placed)-1] != id {
			placed = append(placed, id)
		}
		before, known := was[ident.StepOf{Batch: s.Batch, Step: s.Step}]
		if !known && pinnedAt(&w.Problem, s.Batch, s.Step) != nil { // done
			continue
		}
		if known && (beyond(w, before.Start) || before.Start == s.Start && before.Hand == s.Hand &&
			before.Changeover == s.Changeover && before.Washdown == s.Washdown && slices.Equal(before.Melts, s.Melts)) {
			continue
		}
		moved[id] = true
		batch.Queue(`update batch_steps set day = $3::text::date, start = $4, hand = $5, changeover = $6,
			washdown = $7, melts = $8 where batch_id = $1 and step = $2 and done_at is null`,
			id, s.Step, cal.DateOf(s.Start), cal.Clock(s.Start), s.Hand, s.Changeover, s.Washdown, melts(s.Melts))
	}
	batch.Queue(`update batches set short = null where id = any($1) and short is not null`, placed)
	for _, u := range made.Unplaced {
		if id, err := uuid.Parse(string(u.Batch)); err == nil {
			batch.Queue(`update batches set short = $2 where id = $1`, id,
				shortNote{u.Reason, u.Of, u.Minutes, cal.Time(u.From), cal.Time(u.To)})
		}
	}
	for _, id := range slices.SortedFunc(maps.Keys(moved), func(a,
		b uuid.UUID) int {
		return cmp.Compare(a.String(), b.String())
	}) {
		batch.Queue(`update batches b set sequence = (select plan_revision from kitchens), day = (select min(s.day)
			from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id) where id = $1`, id)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// shortNote is why a batch has no room, in instants: the problem's minutes are counted from another day tomorrow.
type shortNote struct {
	Reason  plan.Reason `json:"reason"`
	Of      string      `json:"of"`
	Minutes si.Minutes  `json:"minutes"`
	From    time.Time   `json:"from"`
	To      time.Time   `json:"to"`
}

// melts are never null in the table.
func melts(list []ident.Pot) []ident.Pot {
	if list == nil {
		return []ident.Pot{}
	}
	return list
}
