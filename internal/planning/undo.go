package planning

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// past is what a change puts back when it is undone.
type past struct {
	Steps  []pastStep                 `json:"steps"`
	Shorts map[ident.Batch]*shortNote `json:"shorts"`
	Day    string                     `json:"day,omitempty"`
	Usual  bool                       `json:"usual,omitempty"` // the day was as in the week
	Was    *Exception                 `json:"was,omitempty"`
	Spots  []treat.Spot               `json:"spots,omitempty"`
	Moulds map[ident.Mould]int        `json:"moulds,omitempty"`
	Stood  *stood                     `json:"stood,omitempty"`

	Planned uuid.UUID `json:"planned,omitzero"` // a mix to be made ahead: it was not in the plan
	Dropped *dropped  `json:"dropped,omitempty"`

	Skipped   *skipped   `json:"skipped,omitempty"`
	Postponed *postponed `json:"postponed,omitempty"`
}

type pastStep struct {
	Batch      ident.Batch `json:"batch"`
	Step       ident.Step  `json:"step"`
	Day        string      `json:"day"`
	Start      si.Minutes  `json:"start"`
	Hand       int         `json:"hand"`
	Changeover si.Minutes  `json:"changeover"`
	Washdown   si.Minutes  `json:"washdown"`
	Pinned     bool        `json:"pinned"`
	Melts      []ident.Pot `json:"melts"`
}

// keep what was made, and what it takes to undo it.
func (a *applying) keep(s *proposal, out *Outcome) error {
	for _, b := range a.before {
		a.past.Shorts[b.ID] = b.short
		for _, st := range b.steps {
			if at := pinnedAt(&s.work.Problem, b.ID, st.Step); st.Pinned && st.Done == nil && at == nil &&
				!(a.change.Kind == "unpin" && ident.Batch(a.change.Batch.String()) == b.ID &&
					a.change.Step == st.Step) {
				of := a.names[uuid.MustParse(string(b.ID))]
				out.Unpinned = append(out.Unpinned, reason.Of("planning.not-pinned-any-more",
					reason.Name(of.nameOf(st.Step)), reason.Name(of.treat), reason.Day(a.cal.Date(st.Day)),
					reason.Clock(st.Start)))
			}
			if st.Done == nil {
				a.past.Steps = append(a.past.Steps, pastStep{b.ID, st.Step, a.cal.Date(st.Day), st.Start, st.Hand,
					st.Changeover, st.Washdown, st.Pinned, melts(st.Melts)})
			}
		}
	}
	a.past.Stood = s.standing()
	// A pin that cannot hold any more, on a day that is off now, is taken out.
	batch := &pgx.Batch{}
	for _, b := range s.work.Batches {
		for _, st := range b.Steps {
			if st.Pinned == nil {
				batch.Queue(`update batch_steps set pinned = false where batch_id = $1 and step = $2 and pinned
			and done_at is null`, b.ID, st.ID)
			}
		}
	}
	if err := a.tx.SendBatch(a.ctx, batch).Close(); err != nil {
		return err
	}
	if err := s.keep(a.ctx, a.tx); err != nil {
		return err
	}
	if _, err := a.tx.Exec(a.ctx, `delete from plan_changes where id not in (select id from plan_changes
			order by id desc limit $1)`, keptChanges); err != nil {
		return err
	}
	out.Change = db.NewID()
	return a.tx.QueryRow(a.ctx, `insert into plan_changes (kitchen_id, id, revision, says, before, at,
			person_id) select $1, $2, plan_revision, $3, $4, $5, $6 from kitchens returning revision`,
		web.ActorOf(a.ctx).Kitchen, out.Change, stored(reason.Text{out.Message}), a.past, a.Clock(),
		web.ActorOf(a.ctx).Person).Scan(&out.Revision)
}

// keptChanges is how many changes back one can look.
const keptChanges = 50

// lastChange is the one that led to the plan as it is; nil where something else has changed it since.
func lastChange(ctx context.Context, tx pgx.Tx, revision int) (*Undo, error) {
	var u Undo
	var says string
	err := tx.QueryRow(ctx, `select id, says from plan_changes where revision = $1 order by id desc limit 1`,
		revision).Scan(&u.ID, &says)
	u.Says = readStored(says)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	return &u, err
}

// Changed is a change of the plan as it is looked back at.
type Changed struct {
	At   time.Time   `json:"at"`
	Says reason.Text `json:"says"`
	Who  string      `json:"who"`
}

// History of the plan.
type History struct {
	Changes []Changed `json:"changes" doc:"The last first; so many are kept"`
	Kept    int       `json:"kept"`
}

func (p *Planning) history(ctx context.Context, _ *struct{}) (*struct{ Body History }, error) {
	out := History{Kept: keptChanges}
	err := p.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select c.at, c.says, coalesce(p.name, '') from plan_changes c
			left join people p on p.id = c.person_id order by c.id desc`)
		if err != nil {
			return err
		}
		out.Changes, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (c Changed, err error) {
			var says string
			err = row.Scan(&c.At, &says, &c.Who)
			c.Says = readStored(says)
			return c, err
		})
		return err
	})
	return &struct{ Body History }{out}, err
}

// undo a change, the last one.
func (p *Planning) undo(ctx context.Context, in *web.ID) (*struct{ Body Outcome }, error) {
	var out Outcome
	err := p.In(ctx, func(tx pgx.Tx) error {
		var now int
		if err := tx.QueryRow(ctx, `select plan_revision from kitchens for no key update`).Scan(&now); err != nil {
			return err
		}
		var revision int
		var says string
		var was past
		err := tx.QueryRow(ctx, `select revision, says, before from plan_changes where id = $1`, in.ID).Scan(&revision,
			&says, &was)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("change of the plan")
		}
		if err != nil {
			return err
		}
		if revision != now {
			return web.Reject(http.StatusConflict, "planning.changed-since")
		}
		if err := p.restore(ctx, tx, &was); err != nil {
			return err
		}
		// The change before it is the last one again.
		batch := &pgx.Batch{}
		batch.Queue(`update kitchens set plan_revision = plan_revision + 1`)
		batch.Queue(`delete from plan_changes where id = $1`, in.ID)
		batch.Queue(`update plan_changes set revision = (select plan_revision from kitchens) where id = (select id
			from plan_changes where revision = $1 - 1 order by id desc limit 1)`, revision)
		if err := tx.SendBatch(ctx, batch).Close(); err != nil {
			return err
		}
		out = Outcome{Change: in.ID, Message: reason.Of("planning.undone", readStored(says)), Moved: []Move{},
			Unscheduled: []reason.Reason{}, Rescheduled: []reason.Reason{}, Regrouped: []reason.Reason{},
			Unpinned: []reason.Reason{}, Revision: now + 1}
		return nil
	})
	return &struct{ Body Outcome }{out}, err
}

func (p *Planning) restore(ctx context.Context, tx pgx.Tx, was *past) error {
	who := web.ActorOf(ctx)
	if was.Day != "" {
		w, _, err := loadWorkDays(ctx, tx)
		if err != nil {
			return err
		}
		w.Exceptions = slices.DeleteFunc(w.Exceptions, func(e Exception) bool { return e.Day == was.Day })
		if was.Was != nil {
			w.Exceptions = append(w.Exceptions, *was.Was)
		}
		if err := StoreWorkDays(ctx, tx, who, w); err != nil {
			return err
		}
	}
	batch := &pgx.Batch{}
	if was.Spots != nil {
		queueSpots(batch, who.Kitchen, was.Spots)
		batch.Queue(`update kitchens set capacity_revision = capacity_revision + 1`)
	}
	for tool, count := range was.Moulds {
		if count == 0 {
			batch.Queue(`delete from moulds where tool = $1`, tool)
		} else {
			queueMould(batch, who, tool, count)
		}
		batch.Queue(`update kitchens set capacity_revision = capacity_revision + 1`)
	}
	if was.Planned != uuid.Nil {
		batch.Queue(`delete from batches where id = $1 and mix_id is not null and made_at is null`, was.Planned)
	}
	if was.Dropped != nil {
		batch.Queue(`insert into batches select * from jsonb_populate_record(null::batches, $1)`, was.Dropped.Batch)
		batch.Queue(`insert into batch_steps select * from jsonb_populate_recordset(null::batch_steps, $1)`,
			was.Dropped.Steps)
	}
	if x := was.Skipped; x != nil {
		batch.Queue(`update batch_steps set done_at = null, done_by = null, draw = $3 where batch_id = $1 and step = $2`,
			x.Batch, x.Step, x.Draw)
		batch.Queue(`update batches set work = $2 where id = $1`, x.Batch, x.Work)
	}
	if x := was.Postponed; x != nil {
		batch.Queue(`update orders set from_at = from_at - $2 * interval '1 minute',
				to_at = to_at - $2 * interval '1 minute', revision = revision + 1 where id = $1`, x.Order, x.Minutes)
	}
	if was.Stood != nil {
		if err := p.putBack(ctx, tx, was); err != nil {
			return err
		}
	}
	batch.Queue(`with was as (select * from jsonb_to_recordset($1::jsonb) as w(batch uuid, step text, day date,
			start int, hand int, changeover int, washdown int, pinned boolean, melts text[])),
		moved as (update batch_steps s set day = w.day, start = w.start, hand = w.hand, changeover = w.changeover,
		washdown = w.washdown, pinned = w.pinned, melts = coalesce(w.melts, s.melts) from was w
			where s.batch_id = w.batch and s.step = w.step and s.done_at is null
			and (s.day, s.start, s.hand, s.changeover, s.washdown, s.pinned, s.melts) is distinct
			from (w.day, w.start, w.hand, w.changeover, w.washdown, w.pinned, coalesce(w.melts, s.melts))
			returning s.batch_id)
		update batches b set sequence = (select plan_revision + 1 from kitchens) where b.id in (select batch_id
		from moved)`, was.Steps)
	batch.Queue(`update batches b set day = (select min(s.day) from batch_steps s where s.kitchen_id = b.kitchen_id
			and s.batch_id = b.id) where b.sequence = (select plan_revision + 1 from kitchens)`)
	for id, note := range was.Shorts {
		batch.Queue(`update batches set short = $2 where id = $1`, id, note)
	}
	return tx.SendBatch(ctx, batch).Close()
}
