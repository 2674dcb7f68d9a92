package logbook

import (
	"context"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/learn"
	"zestytin/core/order"
	"zestytin/core/treat"
)

// ticked is a step of a batch as it stands in the tables, with what a person said of it.
type ticked struct {
	Step   ident.Step `json:"step"`
	Hands  float64    `json:"hands"`
	Melt   float64    `json:"melt"`
	Broken int        `json:"broken"`
	Done   *time.Time `json:"done"`
	Who    *string    `json:"who"`
}

type said struct {
	Step     ident.Step `json:"step"`
	Minutes  *float64   `json:"minutes"`
	Repaired *int       `json:"repaired"`
	Lost     *int       `json:"lost"`
	Back     *int       `json:"back"`
	Unfit    *int       `json:"unfit"`
}

const selectBatches = `select b.id, b.sheet, batch_for(b.kitchen_id, b.id), b.started, b.sold, b.good, b.minutes,
		d.last::text, d.open = 0, (select jsonb_agg(jsonb_build_object('step', s.step, 'hands', s.hands,
			'melt', s.changeover, 'broken', s.broken, 'done', s.done_at, 'who', p.name) order by s.position)
			from batch_steps s left join people p on p.id = s.done_by where s.kitchen_id = b.kitchen_id and s.batch_id = b.id),
		coalesce((select jsonb_agg(to_jsonb(r)) from step_results r where r.kitchen_id = b.kitchen_id and r.batch_id = b.id),
			'[]'),
		coalesce((select array_agg(n.text order by n.at) from step_notes n where n.kitchen_id = b.kitchen_id
			and n.batch_id = b.id), '{}'),
		exists (select from batch_photos f where f.kitchen_id = b.kitchen_id and f.batch_id = b.id),
		(select v.formula from treat_versions v where v.treat_id = nullif(b.sheet->>'treat', '')::uuid
			and v.version = (b.sheet->>'version')::int)
	from batches b join lateral (select max((s.done_at at time zone k.time_zone)::date) as last,
			count(*) filter (where s.done_at is null) as open from batch_steps s join kitchens k on k.id = s.kitchen_id
			where s.kitchen_id = b.kitchen_id and s.batch_id = b.id) d on d.last is not null
	where b.mix_id is null and ($6 = '00000000-0000-0000-0000-000000000000'::uuid or b.id = $6)
		and ($1 = '' or b.sheet->>'treat' = $1)
		and ($2 = '' or exists (select from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id
			and s.done_at is not null and s.day = nullif($2, '')::date))
		and ($3 = '' or b.name ilike $3 or exists (select from batch_shares h join orders o on o.id = h.order_id
			where h.kitchen_id = b.kitchen_id and h.batch_id = b.id and o.customer ilike $3) or exists (select from step_notes n
			where n.kitchen_id = b.kitchen_id and n.batch_id = b.id and n.text ilike $3))
		and ($4 = '' or d.last < nullif($4, '')::date)
	order by d.last desc, b.id limit $5`

// read batches, the last first.
func (l *Logbook) read(ctx context.Context, tx pgx.Tx, of *Which, limit int) ([]Batch, error) {
	find := ""
	if of.Find != "" {
		find = "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(of.Find) + "%"
	}
	rows, err := tx.Query(ctx, selectBatches, of.Treat, of.Day, find, of.Before, limit, of.batch)
	if err != nil {
		return nil, err
	}
	var steps [][]ticked
	var results [][]said
	var minutes []*int
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (b Batch, err error) {
		var sheet order.LineCard
		var shares order.Shares
		var of []ticked
		var by []said
		var took *int
		err = row.Scan(&b.ID, &sheet, &shares, &b.Started, &b.Sold, &b.Good, &took, &b.Day, &b.Done, &of, &by, &b.Notes,
			&b.Photo, &b.formula)
		if err != nil {
			return b, err
		}
		b.Treat, _ = uuid.Parse(string(sheet.Treat))
		b.Version, b.Name, b.Family, b.Cost = sheet.Version, sheet.Name, batch.Motif(sheet.Card.Family), sheet.Cost
		b.For, b.Wanted, b.card = shares.Owners(), shares.Count(), sheet.Card
		b.Counted = b.Sold == "piece" || b.Sold == "pieces"
		steps, results, minutes = append(steps, of), append(results, by), append(minutes, took)
		return b, nil
	})
	if err != nil || len(list) == 0 {
		return list, err
	}
	ids := make([]uuid.UUID, len(list))
	for i := range list {
		ids[i] = list[i].ID
	}
	faults, err := l.Faults(ctx, tx, ids)
	if err != nil {
		return nil, err
	}
	took, err := l.minutes(ctx, tx, ids)
	if err != nil {
		return nil, err
	}
	bowls, err := bowlsOf(ctx, tx, list)
	if err != nil {
		return nil, err
	}
	for i := range list {
		b := &list[i]
		b.Faults = append([]Fault{}, faults[b.ID]...)
		b.Bowls = append([]Bowl{}, bowls[i]...)
		b.gather(steps[i], results[i], took)
		if minutes[i] != nil {
			b.Took = float64(*minutes[i])
		}
	}
	return list, nil
}

// of the formula that a step of a card is.
func of(card *batch.Card, step ident.Step) (ident.Step, string) {
	n := slices.IndexFunc(card.Steps, func(s batch.Step) bool { return s.ID == step })
	switch {
	case n < 0:
		return step, string(step)
	case card.Steps[n].Round != nil:
		return card.Steps[n].Round.Of, card.Steps[n].Round.Name
	}
	return step, card.Steps[n].Name
}

// tick names a step of a batch.
type tick struct {
	batch uuid.UUID
	step  ident.Step
}

// gather the steps of a batch: rounds in one, with what was lost and mended at them, and what a person said of it.
func (b *Batch) gather(steps []ticked, by []said, took map[tick]float64) {
	b.Steps, b.Who = []Step{}, []string{}
	known := map[ident.Step]bool{}
	for _, s := range steps {
		id, name := of(b.card, s.Step)
		n := slices.IndexFunc(b.Steps, func(x Step) bool { return x.Step == id })
		if n < 0 {
			b.Steps, n = append(b.Steps, Step{Step: id, Name: name}), len(b.Steps)
			known[id] = true
		}
		x := &b.Steps[n]
		x.Planned += s.Hands
		x.Lost += s.Broken
		if minutes := took[tick{b.ID, s.Step}]; minutes > 0 {
			x.Took += minutes
		} else {
			known[id] = false // a round of it cannot be told
		}
		if x.Done = s.Done; s.Who != nil && !slices.Contains(b.Who, *s.Who) {
			b.Who = append(b.Who, *s.Who)
		}
	}
	for i := range b.Steps {
		x := &b.Steps[i]
		if !known[x.Step] {
			x.Took = 0
		}
		lost := 0
		for _, f := range b.Faults {
			if id, _ := of(b.card, ident.Step(f.Step)); id != x.Step {
				continue
			}
			switch f.Grade {
			case "repair":
				x.Repaired += f.Units
			case "reclaim":
				x.Back += f.Units
				lost += f.Units
			case "eat", "bin":
				lost += f.Units
			}
		}
		x.Lost = max(x.Lost, lost)
		x.correct(by)
		b.Lost, b.Repaired, b.Back, b.Planned = b.Lost+x.Lost, b.Repaired+x.Repaired, b.Back+x.Back, b.Planned+x.Planned
		b.Took += x.Took
		if x.Unfit != nil {
			b.unfit = x.Unfit
		}
	}
	b.Told = b.Good != nil || b.Lost > 0 || slices.ContainsFunc(by, func(x said) bool { return x.Lost != nil })
}

// correct a step by what a person said of it.
func (s *Step) correct(by []said) {
	n := slices.IndexFunc(by, func(x said) bool { return x.Step == s.Step })
	if n < 0 {
		return
	}
	set := func(to *int, by *int) {
		if by != nil {
			*to = *by
		}
	}
	set(&s.Lost, by[n].Lost)
	set(&s.Repaired, by[n].Repaired)
	set(&s.Back, by[n].Back)
	s.Unfit = by[n].Unfit
	if by[n].Minutes != nil {
		s.Took, s.ByHand = *by[n].Minutes, true
	}
}

// minutes of the steps of batches, from all ticks on their days: somebody may have done something else in between.
func (l *Logbook) minutes(ctx context.Context, tx pgx.Tx, ids []uuid.UUID) (map[tick]float64, error) {
	rows, err := tx.Query(ctx, `with days as (select distinct day from batch_steps where batch_id = any($1))
		select s.batch_id, s.step, s.done_at, coalesce(s.done_by::text, '') || s.day, s.hands + s.changeover
		from batch_steps s where s.done_at is not null and s.day in (select day from days)`, ids)
	if err != nil {
		return nil, err
	}
	var keys []tick
	var ticks []learn.Tick
	var key tick
	var one learn.Tick
	if _, err := pgx.ForEachRow(rows, []any{&key.batch, &key.step, &one.At, &one.Who, &one.Planned}, func() error {
		keys, ticks = append(keys, key), append(ticks, one)
		return nil
	}); err != nil {
		return nil, err
	}
	took := make(map[tick]float64, len(keys))
	for i, minutes := range learn.FromTicks(ticks) {
		took[keys[i]] = minutes
	}
	return took, nil
}

// bowlsOf batches: those of their days that are called as one of their chocolates.
func bowlsOf(ctx context.Context, tx pgx.Tx, list []Batch) ([][]Bowl, error) {
	days := make([]string, len(list))
	for i := range list {
		days[i] = list[i].Day
	}
	rows, err := tx.Query(ctx, `select p.id, p.name, p.result, p.remains, p.day::text, coalesce(p.curve->'temps', '[]'),
			(p.bowl->>'mass')::float + coalesce((select sum(case d.what when 'took' then -d.grams else d.grams end)
			from pot_deeds d where d.kitchen_id = p.kitchen_id and d.pot_id = p.id and d.what in ('added', 'took')), 0),
			coalesce((select sum(d.pieces) from pot_deeds d where d.kitchen_id = p.kitchen_id and d.pot_id = p.id
			and d.what = 'dipped'), 0)::int
		from pots p where p.day = any($1::date[]) order by p.began_at`, days)
	if err != nil {
		return nil, err
	}
	all, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (b Bowl, err error) {
		err = row.Scan(&b.ID, &b.Name, &b.Result, &b.Remains, &b.day, &b.Curve, &b.mass, &b.dipped)
		return b, err
	})
	of := make([][]Bowl, len(list))
	for i := range list {
		for _, b := range all {
			called := func(p batch.Pot) bool { return strings.EqualFold(p.Name, b.Name) }
			if b.day == list[i].Day && slices.ContainsFunc(list[i].card.Pots, called) {
				of[i] = append(of[i], b)
			}
		}
	}
	return of, err
}

// usable formula of a batch: the one that it was made by.
func (b *Batch) usable() *treat.Formula {
	if b.formula == nil {
		return &treat.Formula{}
	}
	return b.formula
}
