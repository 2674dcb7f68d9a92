package planning

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/ledger"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Save plans the batches that a estimate found for an order that has none yet, makes those larger that it joins, and
// moves what has to move for them.
func (p *Planning) Save(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Estimate,
	w *order.PlanningContext) error {
	return p.save(ctx, tx, id, r, w, nil)
}

// SaveAgain plans what an estimate found for more pieces of one of an order's lines, because too few good ones are
// left. They cost nothing more and go into the packaging that is there.
func (p *Planning) SaveAgain(ctx context.Context, tx pgx.Tx, id uuid.UUID, line int, r *order.Estimate,
	w *order.PlanningContext) error {
	return p.save(ctx, tx, id, r, w, &line)
}

// save the batches; again is the line of which they are more, where they come beside what was promised.
func (p *Planning) save(ctx context.Context, tx pgx.Tx, id uuid.UUID, r *order.Estimate, w *order.PlanningContext,
	again *int) error {
	_, made := r.When.Planned()
	kitchen := web.ActorOf(ctx).Kitchen
	touched := []uuid.UUID{}
	batch := &pgx.Batch{}
	for _, b := range r.When.Batches {
		own, sheet, joins := r.Lines[b.Line].Part(b), r.Lines[b.Line].Part(b), uuid.Nil
		at := db.NewID()
		if b.Combined != "" {
			joins = uuid.MustParse(b.Combined)
			at, sheet = joins, order.LineCard{Treat: own.Treat, Name: own.Name, Version: own.Version, Count: b.All,
				Coating: own.Coating, Card: b.Card}
		}
		touched = append(touched, at)
		rows := make([]stepRow, 0, len(b.Card.Steps))
		for _, s := range made.Steps {
			if s.Batch == b.ID {
				rows = append(rows, stepRow{Step: s.Step, Day: w.Calendar.Day(s.Start),
					Start: w.Calendar.Clock(s.Start), Hand: s.Hand, Changeover: s.Changeover, Washdown: s.Washdown,
					Melts: s.Melts})
			}
		}
		if err := storeBatch(batch, kitchen, at, sheet, rows, w.Calendar); err != nil {
			return err
		}
		line, price := b.Line, own.Price.Amount
		if again != nil {
			line, price = *again, "0"
		}
		batch.Queue(`insert into batch_shares (kitchen_id, batch_id, order_id, position, part, count, price, cost,
			since, again) values ($1, $2, $3, $4, $5, $6, $7::text::numeric, $8::text::numeric, $9, $10)`,
			kitchen, at, id, line, b.Part, own.Count, price, own.Cost.Amount, p.Clock(), again != nil)
		queueNeeds(batch, at, sheet.Card)
		if b.Part > 1 || again != nil { // a line is packed as a whole, whatever it is made in
			continue
		}
		for _, n := range r.Lines[b.Line].Card.Packs {
			batch.Queue(`insert into batch_needs (kitchen_id, batch_id, order_id, item_id, packaging, used)
			values ($1, $2, $3, $4, true, $5)
				on conflict (kitchen_id, batch_id, order_id, item_id) do update
				set used = batch_needs.used + excluded.used`, kitchen, at, id, n.Supply, n.Amount.Amount)
		}
	}
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return err
	}
	if err := keep(ctx, tx, w, made); err != nil {
		return err
	}
	// Of events that may have been there before, in another form.
	_, err := tx.Exec(ctx, `update batches set sequence = (select plan_revision from kitchens) where id = any($1)`,
		touched)
	return err
}

// queueNeeds writes what each order of a batch takes of the larder: its share of what the card of the whole takes, by
// its good pieces.
func queueNeeds(to *pgx.Batch, id uuid.UUID, card *batch.Card) {
	to.Queue(`delete from batch_needs where batch_id = $1 and not packaging`, id)
	take := func(item ident.Ingredient, used, drawn, stands float64) {
		to.Queue(`insert into batch_needs (kitchen_id, batch_id, order_id, item_id, packaging, used, drawn,
			stands)
			select h.kitchen_id, h.batch_id, h.order_id, $2, false, $3::float8 * h.count / sum(h.count) over (),
			least($4::float8, $3::float8) * h.count / sum(h.count) over (),
			$5::float8 * h.count / sum(h.count) over ()
			from batch_shares h join orders o on o.kitchen_id = h.kitchen_id and o.id = h.order_id
			where h.batch_id = $1 and o.state <> 'cancelled'`, id, item, used, drawn, stands)
	}
	for i := range card.Needs {
		n := &card.Needs[i]
		take(n.Ingredient, n.Takes()+n.Drawn, n.Drawn, n.Stands())
	}
	for i := range card.Mixes {
		if ahead := card.Mixes[i].OfLarder(); ahead > 0 {
			take(card.Mixes[i].Mix, float64(ahead), 0, 0)
		}
	}
}

// storeBatch writes what is made in one go and where its steps stand, in the place of what was there under its name.
func storeBatch(batch *pgx.Batch, kitchen, id uuid.UUID, sheet order.LineCard, rows []stepRow,
	cal plan.Calendar) error {
	card := sheet.Card
	work := order.BatchOf("", card, nil)
	text, err := json.Marshal(map[string]any{"steps": work.Steps, "keeps": work.ShelfLifeMin,
		"fresh_from": work.FreshFrom, "contains": work.Contains})
	if err != nil {
		return err
	}
	if len(rows) == 0 {
		return fmt.Errorf("batch %s has no steps", id)
	}
	first := slices.MinFunc(rows, func(a, b stepRow) int { return a.Day - b.Day }).Day
	batch.Queue(`insert into batches (kitchen_id, id, day, sheet, work, name, count, family, look, sold, started,
			hands) values ($1, $2, $3::text::date, $4, $5, $6, $7, $8, $9, $10, $11, $12)
		on conflict (kitchen_id, id) do update
		set day = excluded.day, sheet = excluded.sheet, work = excluded.work, count = excluded.count,
		started = excluded.started, hands = excluded.hands`,
		kitchen, id, cal.Date(first), sheet, string(text), sheet.Name, sheet.Count, string(card.Family), card.Look,
		card.Sold, card.Start, card.Hands)
	batch.Queue(`delete from batch_steps where batch_id = $1`, id)
	for i, s := range card.Steps {
		n := slices.IndexFunc(rows, func(r stepRow) bool { return r.Step == s.ID })
		if n < 0 {
			return fmt.Errorf("step %s of batch %s stands nowhere", s.ID, id)
		}
		r := rows[n]
		batch.Queue(`insert into batch_steps (kitchen_id, batch_id, position, step, day, start, hand, hands, wait,
			changeover, washdown, pot, pinned, melts, draw)
			values ($1, $2, $3, $4, $5::text::date, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15)`,
			kitchen, id, i, s.ID, cal.Date(r.Day), r.Start, r.Hand, s.HandsOnMin, s.PassiveMin, r.Changeover,
			r.Washdown, potOf(s.Draw), r.Pinned, melts(r.Melts), s.Draw)
	}
	return nil
}

// potOf a draw is the chocolate that it takes; empty where it takes none.
func potOf(d *ledger.Draw) string {
	if d == nil || d.Applied == 0 {
		return ""
	}
	return string(d.Pot.Ingredient)
}

// Unschedule takes an order out of the plan. Work that has begun is not dropped silently: the answer is a refusal. What
// is made for others too becomes smaller and has no room until the plan is settled.
func (p *Planning) Unschedule(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	done, err := p.DoneSteps(ctx, tx, id)
	if err != nil {
		return err
	}
	if done > 0 {
		return web.Reject(http.StatusConflict, "planning.steps-are-done", reason.Count{N: done, Of: "step"})
	}
	return p.removeShares(ctx, tx, id)
}

// DoneSteps is how many steps of what is made for an order are done.
func (p *Planning) DoneSteps(ctx context.Context, tx pgx.Tx, id uuid.UUID) (done int, err error) {
	err = tx.QueryRow(ctx, `select count(*) from batch_shares h join batch_steps s on s.kitchen_id = h.kitchen_id
			and s.batch_id = h.batch_id where h.order_id = $1 and s.done_at is not null`, id).Scan(&done)
	return done, err
}

// Release the days of an order that is no longer promised, and settle the rest: others may find room now, and what
// worked from its pots must melt its own.
func (p *Planning) Release(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	return p.rescheduleAround(ctx, tx, id, func() error { return p.Unschedule(ctx, tx, id) })
}

// Cancel what is still to be made for an order: what was made stays made, and what is begun for others too is made as
// it was begun.
func (p *Planning) Cancel(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	return p.rescheduleAround(ctx, tx, id, func() error {
		if err := p.removeShares(ctx, tx, id); err != nil {
			return err
		}
		_, err := tx.Exec(ctx, `delete from batch_steps s using batch_shares h where h.kitchen_id = s.kitchen_id
			and h.batch_id = s.batch_id and h.order_id = $1 and s.done_at is null
		and not exists (select from batch_shares x join orders o on o.kitchen_id = x.kitchen_id and o.id = x.order_id
		where x.kitchen_id = h.kitchen_id and x.batch_id = h.batch_id and x.order_id <> $1 and o.state <> 'cancelled')`, id)
		return err
	})
}

// rescheduleAround the work for an order, which drop takes out, the days that it was on are settled.
func (p *Planning) rescheduleAround(ctx context.Context, tx pgx.Tx, id uuid.UUID, drop func() error) error {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return err
	}
	var from, to *time.Time
	if err := tx.QueryRow(ctx, `select min(s.day), max(s.day) from batch_shares h
			join batch_steps s on s.kitchen_id = h.kitchen_id and s.batch_id = h.batch_id where h.order_id = $1
			and s.done_at is null`, id).Scan(&from, &to); err != nil {
		return err
	}
	if err := drop(); err != nil || from == nil {
		return err
	}
	span := Days{0, 28}
	if first, last := dayOf(cal, *from), dayOf(cal, *to); last >= span.To {
		span = Days{max(min(first, last-28), 0), last + 1}
	}
	s, err := p.settle(ctx, tx, span)
	if err != nil {
		return err
	}
	return s.keep(ctx, tx)
}

// DeleteHistory of what was made for an order that was cancelled and begins anew: it is history.
func (p *Planning) DeleteHistory(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, err := dropShares(ctx, tx, id, `true`)
	return err
}

// removeShares the batches of an order that have not begun.
func (p *Planning) removeShares(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	left, err := dropShares(ctx, tx, id,
		`not exists (select from batch_steps s where s.kitchen_id = h.kitchen_id and s.batch_id = h.batch_id and s.done_at is not null)`)
	if err != nil {
		return err
	}
	for _, batch := range left {
		if err := p.shrink(ctx, tx, batch); err != nil {
			return err
		}
	}
	return nil
}

// dropShares of an order, and the batches that nobody takes anything of then; those that others take from are returned.
func dropShares(ctx context.Context, tx pgx.Tx, id uuid.UUID, which string) (left []uuid.UUID, err error) {
	rows, err := tx.Query(ctx, `delete from batch_shares h where h.order_id = $1 and `+which+` returning h.batch_id`,
		id)
	if err != nil {
		return nil, err
	}
	if left, err = pgx.CollectRows(rows, pgx.RowTo[uuid.UUID]); err != nil || len(left) == 0 {
		return nil, err
	}
	if rows, err = tx.Query(ctx, `delete from batches b where b.id = any($1) and not exists (select from batch_shares h
			where h.kitchen_id = b.kitchen_id and h.batch_id = b.id) returning b.id`, left); err != nil {
		return nil, err
	}
	gone, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	return slices.DeleteFunc(left, func(id uuid.UUID) bool { return slices.Contains(gone, id) }), err
}

// shrink a batch to what those need who still take from it. Its steps stay about where they are, and it is noted to
// have no room until it is settled.
func (p *Planning) shrink(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	ready, err := p.rewrite(ctx, tx, id, func(*batch.Card) bool { return true })
	if err != nil || ready.IsZero() {
		return err
	}
	_, err = tx.Exec(ctx, `update batches set short = $2 where id = $1`, id,
		shortNote{Reason: plan.Window, From: p.Clock(), To: ready})
	return err
}

// Renew the account of promised batches that have not begun, from the version that each is promised in: as many are
// started as were, and who pays what for them stays. A batch of which the recipe gives another number now stays as it
// is.
func (p *Planning) Renew(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select b.id, b.started from batches b where b.made_at is null
		and not exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id
		and s.done_at is not null)
		and exists (select from batch_shares h join orders o on o.kitchen_id = h.kitchen_id and o.id = h.order_id
		where h.kitchen_id = b.kitchen_id and h.batch_id = b.id and o.state in ('promised', 'in the making'))
		order by b.id`)
	if err != nil {
		return err
	}
	type old struct {
		ID      uuid.UUID
		Started int
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[old])
	if err != nil || len(list) == 0 {
		return err
	}
	for _, b := range list {
		if _, err := p.rewrite(ctx, tx, b.ID,
			func(card *batch.Card) bool { return card.Start == b.Started }); err != nil {
			return fmt.Errorf("renew batch %s: %w", b.ID, err)
		}
	}
	return p.Settle(ctx, tx)
}

// rewrite a batch from the version that it is promised in, for those who take from it, where the new card is one to
// keep; zero where it is left as it is, otherwise when it is to be ready. Its steps stay about where they are.
func (p *Planning) rewrite(ctx context.Context, tx pgx.Tx, id uuid.UUID, good func(*batch.Card) bool) (ready time.Time,
	err error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return ready, err
	}
	rows, err := tx.Query(ctx, selectPromised+` where b.id = $2`, cal.Date(0), id)
	if err != nil {
		return ready, err
	}
	b, err := pgx.CollectExactlyOneRow(rows, scanPromised)
	if err != nil || len(b.shares) == 0 || len(b.steps) == 0 {
		return ready, err
	}
	k, err := p.Kitchen(ctx, tx, map[ident.Treat]int{b.shares[0].Treat: b.shares[0].Version})
	if err != nil {
		return ready, err
	}
	line, card, err := cardOf(k, b.shares)
	if err != nil || card == nil || !good(card) {
		return ready, err
	}
	places := make([]stepRow, len(card.Steps))
	for i, s := range card.Steps {
		n := max(slices.IndexFunc(b.steps, func(r stepRow) bool { return r.Step == s.ID }), 0)
		places[i] = b.steps[n]
		places[i].Step = s.ID
	}
	sheet := order.LineCard{Treat: line.Treat, Name: k.Treats[line.Treat].Name, Version: b.shares[0].Version,
		Count: line.Count, Coating: line.Coating, Card: card}
	batch := &pgx.Batch{}
	if err := storeBatch(batch, web.ActorOf(ctx).Kitchen, id, sheet, places, cal); err != nil {
		return ready, err
	}
	queueNeeds(batch, id, card)
	return b.shares[0].Ready, tx.SendBatch(ctx, batch).Close()
}

// cardOf what several orders take; nil where it cannot be reckoned any more, as when the recipe's chocolate has become
// something else: then as much is made as was promised.
func cardOf(k *order.Inputs, shares order.Shares) (order.Line, *batch.Card, error) {
	line := order.Line{Treat: shares[0].Treat, Count: shares.Count(), Coating: shares[0].Coating}
	card, err := k.Holding(k.Calendar.Date(k.Calendar.DayOf(shares.Last())), shares.Orders()...).CardOf(line, shares[0].Version)
	var faults *invalid.Error
	if errors.As(err, &faults) {
		return line, nil, nil
	}
	return line, card, err
}
