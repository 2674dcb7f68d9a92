package planning

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// mostMade of a mix in one go, in g.
const mostMade = 1e5

// making puts a mix that is to be made ahead among the batches, on the day on which it is to be there; the plan settles
// when it is made.
func (a *applying) making() error {
	c := a.change
	k, err := a.Kitchen(a.ctx, a.tx, nil)
	if err != nil {
		return err
	}
	var faults invalid.Faults
	mix, known := k.Mixes[ident.Ingredient(c.Mix.String())]
	if !known {
		faults.Add("mix", reason.Of("planning.no-such-mix"))
	}
	grams := si.Grams(0)
	if c.Amount != nil && known {
		of, _ := k.Item(mix.ID)
		g, err := c.Amount.In(measure.Gram, of.Substance)
		if err != nil {
			faults.Add("amount", err)
		}
		grams = si.Grams(g)
	}
	if known && faults.Err() == nil && !(grams > 0 && grams <= mostMade) {
		faults.Add("amount", reason.Of("planning.mix-amount"))
	}
	if c.Minutes < 0 || c.Minutes > 600 {
		faults.Add("minutes", reason.Of("planning.mix-minutes"))
	}
	date, err := time.Parse(time.DateOnly, c.Day)
	if err != nil {
		faults.Add("day", reason.Of("planning.not-date-write-like", reason.Name(c.Day)))
	} else if dayOf(a.cal, date) < 0 {
		faults.Add("day", reason.Of("planning.day-has-passed", reason.Day(c.Day)))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	minutes := c.Minutes
	if minutes == 0 {
		minutes = batch.MethodMinutes(mix.Method)
	}
	card := batch.Making(mix.ID, grams, minutes, &k.Inputs)
	a.past.Planned = db.NewID()
	to := &pgx.Batch{}
	sheet := order.LineCard{Name: mix.Name, Count: 1, Card: card}
	rows := []stepRow{{Step: batch.Stir, Day: dayOf(a.cal, date)}}
	if err := storeBatch(to, web.ActorOf(a.ctx).Kitchen, a.past.Planned, sheet, rows, a.cal); err != nil {
		return err
	}
	to.Queue(`update batches set mix_id = $2, grams = $3, made_of = $4, ready_on = $5::text::date where id = $1`,
		a.past.Planned, c.Mix, grams, k.PerGram(mix.ID), c.Day)
	return a.tx.SendBatch(a.ctx, to).Close()
}

// planned tells when the mix is made, or why it cannot be: it must not take the time of what is promised.
func (a *applying) planned(s *proposal, lost []reason.Reason) (says reason.Reason, err error) {
	names, err := namesOf(a.ctx, a.tx, []promised{{CommittedBatch: plan.CommittedBatch{
		Batch: plan.Batch{ID: ident.Batch(a.past.Planned.String())}}}})
	if err != nil {
		return says, err
	}
	of := names[a.past.Planned]
	n := slices.IndexFunc(s.made.Steps, func(x plan.ScheduledOperation) bool {
		return x.Batch == ident.Batch(a.past.Planned.String())
	})
	if n < 0 {
		return says, web.Reject(http.StatusConflict, "planning.mix-finds-no-time", *of.amount, reason.Name(of.treat),
			reason.Minutes(of.hands), reason.Day(a.change.Day))
	}
	if len(lost) > 0 {
		return says, web.Reject(http.StatusConflict, "planning.mix-takes-the-time-of-others", *of.amount,
			reason.Name(of.treat), reason.Text(lost))
	}
	at, cal := s.made.Steps[n], s.work.Calendar
	return reason.Of("planning.mix-is-planned", *of.amount, reason.Name(of.treat), reason.Day(cal.DateOf(at.Start)),
		reason.Clock(cal.Clock(at.Start)), reason.Clock(cal.Clock(at.To()))), nil
}

// dropped is a mix that was to be made and is not any more, as it stood in the tables.
type dropped struct {
	Batch json.RawMessage `json:"batch"`
	Steps json.RawMessage `json:"steps"`
}

func (a *applying) drop() (says reason.Reason, err error) {
	id := a.change.Batch
	var was dropped
	err = a.tx.QueryRow(a.ctx, `select to_jsonb(b), (select jsonb_agg(to_jsonb(s)) from batch_steps s
			where s.kitchen_id = b.kitchen_id and s.batch_id = b.id)
		from batches b where b.id = $1 and b.mix_id is not null`, id).Scan(&was.Batch, &was.Steps)
	if errors.Is(err, pgx.ErrNoRows) {
		return says, web.Reject(http.StatusConflict, "planning.not-work-of-its-own")
	}
	if err != nil {
		return says, err
	}
	names, err := namesOf(a.ctx, a.tx, []promised{{CommittedBatch: plan.CommittedBatch{
		Batch: plan.Batch{ID: ident.Batch(id.String())}}}})
	if err != nil {
		return says, err
	}
	gone, err := a.tx.Exec(a.ctx, `delete from batches where id = $1 and made_at is null`, id)
	if err == nil && gone.RowsAffected() == 0 {
		err = web.Reject(http.StatusConflict, "planning.step-is-done")
	}
	// What is put back by undoing it is the whole of it, not only where its step stood.
	a.before = slices.DeleteFunc(a.before, func(b promised) bool { return b.ID == ident.Batch(id.String()) })
	a.past.Dropped = &was
	return reason.Of("planning.mix-is-not-planned-any-more", *names[id].amount, reason.Name(names[id].treat)), err
}

// OwnBatch is a mix that is made ahead, as it was planned.
type OwnBatch struct {
	Batch, Mix uuid.UUID
	Grams      float64
	Of         map[ident.Ingredient]float64 // what a gram of it is made of
	Uses       []Need                       // what it takes of the larder
	Made       bool                         // now; before it was the other way round
}

// UpdateOwn notes whether a mix that is made ahead is made, by the tick of its step, and returns it where that has
// changed; ok is false where it has not, or what is made is for orders.
func UpdateOwn(ctx context.Context, tx pgx.Tx, id uuid.UUID, now time.Time) (own OwnBatch, ok bool, err error) {
	err = tx.QueryRow(ctx, `with state as (select b.id, bool_and(s.done_at is not null) as done from batches b
			join batch_steps s on s.kitchen_id = b.kitchen_id and s.batch_id = b.id
			where b.id = $1 and b.mix_id is not null group by b.id)
		update batches b set made_at = case when state.done then $2::timestamptz end from state where b.id = state.id
		and (b.made_at is not null) <> state.done
		returning b.id, b.mix_id, b.grams, b.made_of, (select jsonb_agg(jsonb_build_object('item', n -> 'ingredient',
			'used', n #> '{used,amount}')) from jsonb_array_elements(b.sheet #> '{card,needs}') n), state.done`, id, now).
		Scan(&own.Batch, &own.Mix, &own.Grams, &own.Of, &own.Uses, &own.Made)
	if errors.Is(err, pgx.ErrNoRows) {
		return own, false, nil
	}
	return own, err == nil, err
}
