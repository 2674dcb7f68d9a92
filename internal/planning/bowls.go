package planning

import (
	"context"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/order"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// drawn is a step at a bowl, as it stands in the tables.
type drawn struct {
	batch  uuid.UUID
	step   ident.Step
	day    time.Time
	start  si.Minutes
	hand   int
	hands  si.Minutes
	melts  []ident.Pot
	draw   *ledger.Draw
	done   *time.Time
	bowl   *uuid.UUID
	shares order.Shares
}

// bowlsOf the steps that a condition names, which is asked of batch_steps s, batches b.
func (p *Planning) bowlsOf(ctx context.Context, tx pgx.Tx, condition string, args ...any) ([]ledger.Planned,
	map[ident.StepOf]drawn, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return nil, nil, err
	}
	rows, err := tx.Query(ctx, `select s.batch_id, s.step, s.day, s.start, s.hand, s.hands, s.melts, s.draw, s.done_at,
			s.bowl, batch_for(b.kitchen_id, b.id)
		from batch_steps s join batches b on b.kitchen_id = s.kitchen_id and b.id = s.batch_id
		where (s.draw is not null or s.melts <> '{}') and `+condition+` order by s.day, s.start, s.hand, s.batch_id, s.position`, args...)
	if err != nil {
		return nil, nil, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (d drawn, err error) {
		err = row.Scan(&d.batch, &d.step, &d.day, &d.start, &d.hand, &d.hands, &d.melts, &d.draw, &d.done, &d.bowl,
			&d.shares)
		return d, err
	})
	if err != nil || len(list) == 0 {
		return nil, nil, err
	}
	first, last := dayOf(cal, list[0].day), dayOf(cal, list[len(list)-1].day)
	hours, _, err := loadWorkDays(ctx, tx)
	if err != nil {
		return nil, nil, err
	}
	sessions := hours.sessions(cal, first-1, last+1)
	of := make(map[ident.StepOf]drawn, len(list))
	works := make([]ledger.Worked, len(list))
	for i, d := range list {
		start := cal.At(dayOf(cal, d.day), d.start)
		w := ledger.Worked{Batch: ident.Batch(d.batch.String()), Step: d.step, Day: cal.DateOf(start),
			Session: order.SessionOf(sessions, start), Hand: d.hand, Start: start, End: start + d.hands,
			Melts: d.melts, Draw: d.draw, FreeFrom: order.Threats(d.shares.FreeFrom())}
		if w.Session >= 0 {
			w.Day = cal.DateOf(sessions[w.Session].From)
		} else { // work outside of the hours is a time of its own
			w.Session = -1000 + cal.Day(start)
		}
		if d.done != nil {
			w.Done = new(cal.Minute(*d.done))
			w.DoneOn = cal.DateOf(*w.Done)
		}
		works[i], of[ident.StepOf{Batch: w.Batch, Step: w.Step}] = w, d
	}
	return ledger.Bowls(works), of, nil
}

// Melt is a bowl that is still to be melted, and whom it is for.
type Melt struct {
	ledger.Melt
	For []string
}

// Melts are the bowls of promised work that are still to be worked from, until a day, in the order in which they are
// melted.
func (p *Planning) Melts(ctx context.Context, tx pgx.Tx, until string) ([]Melt, error) {
	bowls, of, err := p.bowlsOf(ctx, tx,
		`s.bowl is null and s.day <= $1::text::date and exists (select from batch_shares h join orders o on o.kitchen_id = h.kitchen_id and o.id = h.order_id
		where h.kitchen_id = b.kitchen_id and h.batch_id = b.id and o.state in ('promised', 'in the making'))`, until)
	if err != nil {
		return nil, err
	}
	melts := make([]Melt, len(bowls))
	for i := range bowls {
		melts[i].Melt = bowls[i].Melt
		for _, w := range bowls[i].Works {
			for _, who := range of[ident.StepOf{Batch: w.Batch, Step: w.Step}].shares.Customers() {
				if !slices.Contains(melts[i].For, who) {
					melts[i].For = append(melts[i].For, who)
				}
			}
		}
	}
	return melts, nil
}

// Emptied is a bowl of which the last step is ticked: it can be booked.
type Emptied struct {
	ID uuid.UUID
	ledger.Melt
}

// Emptied bowls that are not booked yet; and, newest first, those that were booked and are worked from again since a
// tick was taken back, with those into which went what was left of them: they are booked anew. What is booked is noted.
func (p *Planning) Emptied(ctx context.Context, tx pgx.Tx) (over []Emptied, again []uuid.UUID, err error) {
	rows, err := tx.Query(ctx, `with recursive again as (select distinct bowl from batch_steps where bowl is not null
			and done_at is null
		union select m.bowl from again a join lots l on l.bowl = a.bowl
		join stock_moves m on m.kitchen_id = l.kitchen_id and m.lot_id = l.id and m.bowl is not null
		and m.bowl <> a.bowl and m.kind = 'used'
			where exists (select from batch_steps s where s.bowl = m.bowl)) select bowl from again order by bowl desc`)
	if err != nil {
		return nil, nil, err
	}
	if again, err = pgx.CollectRows(rows, pgx.RowTo[uuid.UUID]); err != nil {
		return nil, nil, err
	}
	if len(again) > 0 {
		if _, err := tx.Exec(ctx, `update batch_steps set bowl = null where bowl = any($1)`, again); err != nil {
			return nil, nil, err
		}
		if _, err := tx.Exec(ctx, `delete from bowl_shares where bowl = any($1)`, again); err != nil {
			return nil, nil, err
		}
	}
	// On the days of what is done and not booked stands what else is worked from the same bowls; more of its batch may
	// stand on other days.
	const done = `from batch_steps x where x.draw is not null and x.done_at is not null and x.bowl is null`
	bowls, of, err := p.bowlsOf(ctx, tx, `s.bowl is null and (s.day in (select x.day `+done+
		`) or s.batch_id in (select x.batch_id `+done+`))`)
	if err != nil {
		return nil, nil, err
	}
	batch := &pgx.Batch{}
	for i := range bowls {
		if !bowls[i].Over() {
			continue
		}
		e := Emptied{ID: db.NewID(), Melt: bowls[i].Melt}
		own := map[ident.Order]float64{}
		seen := map[uuid.UUID]bool{}
		for _, w := range bowls[i].Works {
			d := of[ident.StepOf{Batch: w.Batch, Step: w.Step}]
			batch.Queue(`update batch_steps set bowl = $3 where batch_id = $1 and step = $2`, d.batch, d.step, e.ID)
			if seen[d.batch] || bowls[i].Used <= 0 {
				continue
			}
			seen[d.batch] = true
			live := d.shares.Live()
			for _, s := range live {
				own[s.Order] += bowls[i].UsedBy(w.Batch).Over(bowls[i].Used) * float64(s.Count) / float64(live.Count())
			}
		}
		for id, share := range own {
			batch.Queue(`insert into bowl_shares (kitchen_id, bowl, order_id, share) values ($1, $2, $3, $4)`,
				web.ActorOf(ctx).Kitchen, e.ID, id, share)
		}
		over = append(over, e)
	}
	slices.SortStableFunc(over, func(a, b Emptied) int { return strings.Compare(a.Day, b.Day) })
	return over, again, tx.SendBatch(ctx, batch).Close()
}
