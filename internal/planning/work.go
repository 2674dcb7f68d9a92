package planning

import (
	"cmp"
	"context"
	"encoding/json"
	"maps"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Days is a span of days, counted from the calendar's: From inclusive, To exclusive.
type Days struct{ From, To int }

// promised is a batch as it is planned.
type promised struct {
	plan.Promised
	order    uuid.UUID
	position int
	part     int
	ready    time.Time
	short    *shortNote
	steps    []stepRow
}

// stepRow is a step as it stands in the table; Day is counted from the calendar's day 0.
type stepRow struct {
	Step       string     `json:"step"`
	Day        int        `json:"day"`
	Start      int        `json:"start"` // minute of the day
	Hand       int        `json:"hand"`
	Changeover int        `json:"changeover"`
	Washdown   int        `json:"washdown"`
	Pinned     bool       `json:"pinned"`
	Done       *time.Time `json:"done"`
}

// Work is all that is promised and has a step in a span of days, or should have been done before today, as the problem that the planner solves. Its pots are those of
// the whole larder and are left to the caller. The batches of one order are left out of it; where they stand is told apart.
func Work(ctx context.Context, tx pgx.Tx, cal plan.Calendar, now time.Time, span Days, except uuid.UUID) (order.Work, error) {
	w, _, err := load(ctx, tx, cal, now, span, except)
	return w, err
}

func load(ctx context.Context, tx pgx.Tx, cal plan.Calendar, now time.Time, span Days, except uuid.UUID) (order.Work, []promised, error) {
	var w order.Work
	rows, err := tx.Query(ctx, `select b.id, b.position, b.part, o.id, o.from_at, o.free_from, b.work, b.short,
			(select jsonb_agg(jsonb_build_object('step', s.step, 'day', s.day - $1::text::date, 'start', s.start, 'hand', s.hand, 'changeover', s.changeover, 'washdown', s.washdown, 'pinned', s.pinned, 'done', s.done_at))
				from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id)
		from batches b join orders o on o.kitchen_id = b.kitchen_id and o.id = b.order_id
		where o.state in ('promised', 'in the making', 'packed') and b.work ? 'steps' and (
			b.id in (select s.batch_id from batch_steps s where s.day >= $1::text::date + greatest($2::int, 0) and s.day < $1::text::date + $3::int)
			or $2::int <= 0 and b.made_at is null and b.day < $1::text::date)
		order by b.id`, cal.Date(0), span.From, span.To)
	if err != nil {
		return w, nil, err
	}
	all, err := pgx.CollectRows(rows, scanPromised)
	if err != nil {
		return w, nil, err
	}
	// The problem's days begin a day before the first that is known: of what was ticked at once some is taken to have been done before.
	first := min(span.From, 0)
	for _, b := range all {
		for _, s := range b.steps {
			first = min(first, s.Day)
		}
	}
	first--
	w.Calendar = plan.Calendar{Zero: cal.Time(first * plan.DayMinutes)}
	w.Now = w.Calendar.Minute(now)
	var hours []plan.Session
	if hours, err = Sessions(ctx, tx, w.Calendar, span.To-first); err != nil {
		return w, nil, err
	}
	from := max(span.From-first, 0) * plan.DayMinutes
	w.Sessions = slices.DeleteFunc(hours, func(s plan.Session) bool { return s.To <= from })
	room, _, err := loadRoom(ctx, tx)
	if err != nil {
		return w, nil, err
	}
	w.Places, w.Washdown = room.places(), room.Washdown
	if w.Tools, err = tools(ctx, tx, all); err != nil {
		return w, nil, err
	}
	w.Own = map[string]map[string]plan.Standing{}
	others := make([]plan.Promised, 0, len(all))
	for i := range all {
		b := &all[i]
		b.settle(w.Calendar, -first)
		if b.order == except {
			w.Own[order.BatchID(b.position, b.part)] = b.At
			continue
		}
		b.freeze(&w, span, -first)
		others = append(others, b.Promised)
	}
	w.Problem = *plan.Present(w.Problem, w.Now, others)
	return w, slices.DeleteFunc(all, func(b promised) bool { return b.order == except }), nil
}

func scanPromised(row pgx.CollectableRow) (promised, error) {
	var b promised
	var id uuid.UUID
	var freeFrom []string
	if err := row.Scan(&id, &b.position, &b.part, &b.order, &b.ready, &freeFrom, &b.Batch, &b.short, &b.steps); err != nil {
		return b, err
	}
	b.ID, b.Worth, b.FreeFrom = id.String(), order.WorthOfAPromise, order.Threats(freeFrom)
	return b, nil
}

// settle the times of a batch in the minutes of a calendar whose day 0 lies so many days before today.
func (b *promised) settle(cal plan.Calendar, before int) {
	b.ReadyBy = cal.Minute(b.ready)
	b.At = make(map[string]plan.Standing, len(b.steps))
	for _, s := range b.steps {
		at := plan.Standing{Start: (s.Day+before)*plan.DayMinutes + s.Start, Hand: s.Hand, Changeover: s.Changeover, Washdown: s.Washdown, Pinned: s.Pinned}
		if s.Done != nil {
			at.Done = new(cal.Minute(*s.Done))
		}
		b.At[s.Step] = at
	}
}

// freeze what a batch has beyond the span of days that are planned: who else works then is not known here, so that it stays where it is.
func (b *promised) freeze(w *order.Work, span Days, before int) {
	for _, step := range b.Steps {
		at, planned := b.At[step.ID]
		day := at.Start/plan.DayMinutes - before
		beyond := day >= span.To || day < span.From && at.Start >= w.Now
		if !planned || at.Done != nil || b.short != nil || !beyond {
			continue
		}
		at.Pinned = true
		b.At[step.ID] = at
		w.Widen(at.Start-at.Changeover-at.Washdown, at.Start+step.Hands, at.Hand)
	}
}

// tools that the batches take: as many as the kitchen says there are, or as one of them takes at once.
func tools(ctx context.Context, tx pgx.Tx, all []promised) ([]plan.Tool, error) {
	moulds, err := Moulds(ctx, tx)
	if err != nil {
		return nil, err
	}
	count := map[string]int{}
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
	list := make([]plan.Tool, 0, len(count))
	for id, n := range count {
		list = append(list, plan.Tool{ID: id, Count: n})
	}
	slices.SortFunc(list, func(a, b plan.Tool) int { return strings.Compare(a.ID, b.ID) })
	return list, nil
}

// Save plans the batches that a reckoning found for an order, in the place of those that it had, and moves what has to move for them.
func Save(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Reckoning, w *order.Work) error {
	if err := Drop(ctx, tx, id); err != nil {
		return err
	}
	problem, made := r.When.Planned()
	kitchen := web.WhoOf(ctx).Kitchen
	ids := map[string]uuid.UUID{}
	batch := &pgx.Batch{}
	for _, b := range r.When.Batches {
		ids[b.ID] = db.NewID()
		line, card := r.Lines[b.Line].Part(b), b.Card
		work := order.BatchOf("", card, nil)
		text, err := json.Marshal(map[string]any{"steps": work.Steps, "keeps": work.Keeps, "fresh_from": work.FreshFrom, "contains": work.Contains})
		if err != nil {
			return err
		}
		batch.Queue(`insert into batches (kitchen_id, id, order_id, position, part, day, sheet, work, name, count, family, look, sold, started, hands, price, cost) values ($1, $2, $3, $4, $5, $6::text::date, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16::text::numeric, $17::text::numeric)`,
			kitchen, ids[b.ID], id, b.Line, b.Part, b.Day, line, string(text), line.Name, line.Count, string(card.Family), card.Look, card.Sold, card.Start, card.Hands, line.Price.Amount, line.Cost.Amount)
		for _, n := range card.Needs {
			batch.Queue(`insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used, pool) values ($1, $2, $3, false, $4, $5)`, kitchen, ids[b.ID], n.Ingredient, n.Used.Amount, max(n.House.Amount-n.Used.Amount, 0))
		}
		for _, p := range card.Packs {
			batch.Queue(`insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used) values ($1, $2, $3, true, $4)
				on conflict (kitchen_id, batch_id, item_id) do update set used = batch_needs.used + excluded.used`, kitchen, ids[b.ID], p.Supply, p.Amount.Amount)
		}
		position := map[string]int{}
		for i, s := range card.Steps {
			position[s.ID] = i
		}
		for _, s := range made.Steps {
			if s.Batch != b.ID {
				continue
			}
			batch.Queue(`insert into batch_steps (kitchen_id, batch_id, position, step, day, start, hand, hands, wait, changeover, washdown, pot)
				values ($1, $2, $3, $4, $5::text::date, $6, $7, $8, $9, $10, $11, $12)`,
				kitchen, ids[b.ID], position[s.Step], s.Step, w.Calendar.Date(s.Start/plan.DayMinutes), s.Start%plan.DayMinutes, s.Hand, s.Hands, s.Wait, s.Changeover, s.Washdown, s.Pot)
		}
	}
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return err
	}
	if err := keep(ctx, tx, w.Calendar, problem, made); err != nil {
		return err
	}
	batch = &pgx.Batch{}
	for _, id := range ids { // of events that may have been there before, in another form
		batch.Queue(`update batches set sequence = (select plan_revision from kitchens) where id = $1`, id)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// keep a plan: the steps of promised batches go where it has them, and batches that it leaves out are noted with the reason; their steps stay where they were. Batches
// of the plan that are not in the tables are passed over.
func keep(ctx context.Context, tx pgx.Tx, cal plan.Calendar, problem *plan.Problem, made *plan.Plan) error {
	batch := &pgx.Batch{}
	batch.Queue(`update kitchens set plan_revision = plan_revision + 1`)
	was := map[[2]string]plan.Placed{}
	if problem.Previous != nil {
		for _, s := range problem.Previous.Steps {
			was[[2]string{s.Batch, s.Step}] = s
		}
	}
	moved := map[uuid.UUID]bool{}
	placed := []uuid.UUID{}
	for _, s := range made.Steps {
		id, err := uuid.Parse(s.Batch)
		if err != nil {
			continue
		}
		if len(placed) == 0 || placed[len(placed)-1] != id {
			placed = append(placed, id)
		}
		before, known := was[[2]string{s.Batch, s.Step}]
		if !known || before.Start == s.Start && before.Hand == s.Hand && before.Changeover == s.Changeover && before.Washdown == s.Washdown {
			continue
		}
		moved[id] = true
		batch.Queue(`update batch_steps set day = $3::text::date, start = $4, hand = $5, changeover = $6, washdown = $7 where batch_id = $1 and step = $2 and done_at is null`,
			id, s.Step, cal.Date(s.Start/plan.DayMinutes), s.Start%plan.DayMinutes, s.Hand, s.Changeover, s.Washdown)
	}
	batch.Queue(`update batches set short = null where id = any($1) and short is not null`, placed)
	for _, u := range made.Unplaced {
		if id, err := uuid.Parse(u.Batch); err == nil {
			batch.Queue(`update batches set short = $2 where id = $1`, id, shortNote{u.Short, u.Minutes, cal.Time(u.From), cal.Time(u.To), u.Why})
		}
	}
	for _, id := range slices.SortedFunc(maps.Keys(moved), func(a, b uuid.UUID) int { return cmp.Compare(a.String(), b.String()) }) {
		batch.Queue(`update batches b set sequence = (select plan_revision from kitchens), day = (select min(s.day) from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id) where id = $1`, id)
	}
	return tx.SendBatch(ctx, batch).Close()
}

// shortNote is why a batch has no room, in instants: the problem's minutes are counted from another day tomorrow.
type shortNote struct {
	Short   string    `json:"short"`
	Minutes int       `json:"minutes"`
	From    time.Time `json:"from"`
	To      time.Time `json:"to"`
	Why     string    `json:"why"`
}
