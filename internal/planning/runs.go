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

	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Run is a plan that is made in the background. It stands in the database, so that any server can tell of it and stop
// it.
type Run struct {
	ID     uuid.UUID   `json:"id"`
	State  string      `json:"state" enum:"running,ready,dropped,stopped,taken,failed" doc:"dropped: the orders or the days have changed meanwhile"`
	Done   int         `json:"done" doc:"Moves tried so far"`
	Total  int         `json:"total"`
	Says   reason.Text `json:"says" doc:"What came of it"`
	Moved  []Move      `json:"moved" doc:"Of a plan that is ready: what would move"`
	Better bool        `json:"better" doc:"It is ready, better than the plan that stands, and can be taken"`
}

const (
	runEffort = 3                // times the usual effort
	beat      = time.Second / 4  // between two looks at whether it is to stop
	lost      = 20 * time.Second // without a beat: its server is gone
	longest   = 2 * time.Minute
)

func (p *Planning) startRun(ctx context.Context, _ *struct{}) (*struct{ Body Run }, error) {
	var r Run
	who := web.ActorOf(ctx)
	err := p.In(ctx, func(tx pgx.Tx) error {
		s, ways, err := p.anew(ctx, tx)
		if err != nil {
			return err
		}
		r = Run{ID: db.NewID(), State: "running", Total: (runEffort + len(ways)) * plan.DefaultEffort(s.work.Size()),
			Moved: []Move{}}
		batch := &pgx.Batch{}
		batch.Queue(`update plan_runs set state = 'stopped' where state = 'running'`)
		batch.Queue(`insert into plan_runs (kitchen_id, id, revision, state, total, at, beat, person_id) select $1, $2,
			plan_revision, 'running', $3, $4, now(), $5 from kitchens`, who.Kitchen, r.ID, r.Total, p.Clock(), who.Person)
		if err := tx.SendBatch(ctx, batch).Close(); err != nil {
			return err
		}
		return p.Jobs.Put(ctx, tx, runJob{who.Kitchen, who.Person, r.ID}, time.Time{})
	})
	return &struct{ Body Run }{r}, err
}

// runJob makes the plan of a run. It is tried once: a run that was broken off says so, and is begun anew by whoever
// wants it.
type runJob struct{ Kitchen, Person, Run uuid.UUID }

func (runJob) Kind() string     { return "plan-run" }
func (j runJob) Who() web.Actor { return web.Actor{Kitchen: j.Kitchen, Person: j.Person} }

func (p *Planning) doRun(ctx context.Context, j runJob) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	select {
	case p.room <- struct{}{}:
		defer func() { <-p.room }()
	case <-ctx.Done():
		return ctx.Err()
	}
	if err := p.run(ctx, cancel, j.Run); err != nil && !errors.Is(err, context.Canceled) {
		return err
	}
	return nil
}

// anew is the coming four weeks, and what of them could be made in one go.
func (p *Planning) anew(ctx context.Context, tx pgx.Tx) (*proposal, []Regrouping, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return nil, nil, err
	}
	w, all, err := load(ctx, tx, cal, p.Clock(), Days{0, 28}, uuid.Nil, nil)
	if err != nil {
		return nil, nil, err
	}
	s := &proposal{work: &w, before: all}
	return s, s.together(), err
}

// run makes the plan, tells how far it is, and looks whether somebody has stopped it.
func (p *Planning) run(ctx context.Context, cancel context.CancelFunc, id uuid.UUID) error {
	var s *proposal
	var ways []regrouped
	err := p.In(ctx, func(tx pgx.Tx) error {
		now, could, err := p.anew(ctx, tx)
		if err != nil {
			return err
		}
		s = now
		ways, err = p.reckoned(ctx, tx, s, could)
		return err
	})
	if err != nil {
		return err
	}
	previous := s.work.Previous
	s.work.Previous = nil // nothing holds the plan to where it stands
	one, before, last := plan.DefaultEffort(s.work.Size()), 0, 0
	var looked time.Time
	progress := func(done, _ int) {
		if done < last { // the next plan has begun
			before += last
		}
		if last = done; time.Since(looked) < beat {
			return
		}
		looked = time.Now()
		state := "running"
		err := p.In(ctx, func(tx pgx.Tx) error {
			return tx.QueryRow(ctx, `update plan_runs set done = least($2, total), beat = now() where id = $1
			returning state`, id, before+done).Scan(&state)
		})
		if err != nil || state != "running" {
			cancel()
		}
	}
	apart := s.work.Problem // as the orders are made now
	// As it stands, from there, from scratch, and then with what could be made in one go.
	var stands *plan.Plan
	for _, o := range []plan.Options{{Effort: plan.Rough, From: previous},
		{Effort: one, From: previous, Progress: progress}, {Effort: (runEffort - 1) * one, Progress: progress}} {
		var made *plan.Plan
		if made, err = plan.Settle(ctx, &s.work.Problem, o); err != nil {
			break
		}
		if stands == nil {
			stands, s.made = made, made
		} else if made.Score.Less(s.made.Score) {
			s.made = made
		}
	}
	if err == nil {
		err = s.choose(ctx, ways, plan.Options{Effort: one, Progress: progress})
	}
	if errors.Is(err, context.Canceled) {
		return err // whoever stopped it has said so
	}
	after := context.WithoutCancel(ctx)
	return p.In(after, func(tx pgx.Tx) error {
		state, says := "ready", reason.Text{}
		var text []byte
		switch {
		case err != nil:
			state, says = "failed", because("planning.run-failed")
		default:
			says = s.better(&apart, stands)
			var err error
			if text, err = plan.Write(s.made); err != nil {
				return err
			}
		}
		_, err := tx.Exec(after, `update plan_runs r set state = case when r.revision = k.plan_revision
			or $2 <> 'ready' then $2 else 'dropped' end,
			done = total, says = $3, made = $4, zero = $5::text::date, groups = $6, beat = now() from kitchens k
			where r.id = $1 and r.state = 'running'`, id, state, stored(says), nullText(text), s.work.Calendar.Date(0), s.regroupings())
		return err
	})
}

func nullText(text []byte) *string {
	if text == nil {
		return nil
	}
	s := string(text)
	return &s
}

// because is a text of one reason.
func because(code string, with ...reason.Value) reason.Text {
	return reason.Text{reason.Of(code, with...)}
}

// stored form of what is said: its reasons, so that it is read in the words of whoever reads it.
func stored(says reason.Text) string {
	if len(says) == 0 {
		return ""
	}
	text, err := json.Marshal(says)
	if err != nil {
		panic(err) // reasons are made of values that can be written
	}
	return string(text)
}

// readStored is what was said; a sentence of the versions before as it was written.
func readStored(text string) reason.Text {
	var says reason.Text
	if text == "" || json.Unmarshal([]byte(text), &says) == nil {
		return says
	}
	return reason.Text{reason.Said(text)}
}

// better tells in which way the plan is better than the one that stands for a problem; empty where it is not.
func (s *proposal) better(p *plan.Problem, stands *plan.Plan) reason.Text {
	saves, fresher := stands.Score.Setup-s.made.Score.Setup+p.Hands()-s.work.Hands(),
		stands.Score.AgeAtHandover-s.made.Score.AgeAtHandover
	switch {
	case s.made.Score.Unplaced < stands.Score.Unplaced:
		return because("planning.finds-room")
	case saves > 0 && len(s.groups) > 0:
		says := because("planning.saves-work", reason.Minutes(saves))
		for _, r := range s.groups {
			says = append(says, r.says())
		}
		return says
	case saves > 0:
		return because("planning.saves-setup", reason.Minutes(saves))
	case saves == 0 && fresher > 0:
		return because("planning.is-fresher", reason.Minutes(fresher))
	default:
		return nil
	}
}

func (p *Planning) getRun(ctx context.Context, in *web.ID) (*struct{ Body Run }, error) {
	var r Run
	err := p.In(ctx, func(tx pgx.Tx) (err error) { r, _, err = p.runOf(ctx, tx, in.ID, ""); return err })
	return &struct{ Body Run }{r}, err
}

// runOf reads a run, and what its plan would move.
func (p *Planning) runOf(ctx context.Context, tx pgx.Tx, id uuid.UUID, lock string) (Run, *proposal, error) {
	r := Run{ID: id, Moved: []Move{}}
	var text *string
	var zero, says string
	var groups []Regrouping
	var revision, now int
	var silent bool
	err := tx.QueryRow(ctx, `select r.state, r.done, r.total, r.says, r.made::text, coalesce(r.zero::text, ''),
			r.groups, r.revision, k.plan_revision, r.beat < now() - $2::interval from plan_runs r, kitchens k
			where r.id = $1 `+lock, id, lost).
		Scan(&r.State, &r.Done, &r.Total, &says, &text, &zero, &groups, &revision, &now, &silent)
	if errors.Is(err, pgx.ErrNoRows) {
		return r, nil, web.NotFound("plan run")
	}
	if err != nil {
		return r, nil, err
	}
	r.Says = readStored(says)
	if r.State == "ready" && revision != now {
		r.State = "dropped"
	}
	if r.State == "running" && silent {
		r.State = "failed"
	}
	switch r.State {
	case "dropped":
		r.Says = because("planning.run-is-dropped")
	case "failed":
		r.Says = because("planning.run-was-broken-off")
	case "stopped":
		r.Says = because("planning.run-was-stopped")
	}
	if r.State != "ready" || text == nil {
		return r, nil, nil
	}
	if len(r.Says) == 0 {
		r.Says = because("planning.no-better-plan")
		return r, nil, nil
	}
	s, err := p.fromRun(ctx, tx, *text, zero, groups)
	if err != nil {
		return r, nil, err
	}
	names, err := namesOf(ctx, tx, s.before)
	if err != nil {
		return r, nil, err
	}
	r.Better = true
	r.Moved = moves(s.work.Previous, s.made, s.work.Calendar, names)
	return r, s, nil
}

func (p *Planning) stopRun(ctx context.Context, in *web.ID) (*struct{ Body Run }, error) {
	var r Run
	err := p.In(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `update plan_runs set state = 'stopped' where id = $1
			and state in ('running', 'ready')`, in.ID); err != nil {
			return err
		}
		var err error
		r, _, err = p.runOf(ctx, tx, in.ID, "")
		return err
	})
	return &struct{ Body Run }{r}, err
}

// takeRun keeps the plan that a run made, while nothing has changed since; it can be undone like any other change.
func (p *Planning) takeRun(ctx context.Context, in *web.ID) (*struct{ Body Outcome }, error) {
	var out Outcome
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		r, s, err := p.runOf(ctx, tx, in.ID, "for no key update of r")
		if err != nil {
			return err
		}
		if s == nil {
			return web.Because(http.StatusConflict, reason.Of("planning.this-is-said", r.Says))
		}
		cal, err := p.Calendar(ctx, tx)
		if err != nil {
			return err
		}
		names, err := namesOf(ctx, tx, s.before)
		if err != nil {
			return err
		}
		a := &applying{p, ctx, tx, &Change{Kind: "settle"}, cal, s.before, names,
			past{Shorts: map[ident.Batch]*shortNote{}}}
		out = Outcome{Message: reason.Of("planning.new-plan-is-taken"), Moved: r.Moved, Unscheduled: []reason.Reason{},
			Rescheduled: []reason.Reason{}, Regrouped: []reason.Reason{}, Unpinned: []reason.Reason{}}
		a.compare(s, &out)
		if err := a.keep(s, &out); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update plan_runs set state = 'taken' where id = $1`, in.ID)
		return err
	})
	return &struct{ Body Outcome }{out}, err
}

// fromRun is the plan of a run beside the problem as it is now. Time has gone on since, a minute perhaps: what the plan
// had a minute ago is still to come, or it is refused.
func (p *Planning) fromRun(ctx context.Context, tx pgx.Tx, text, zero string, groups []Regrouping) (*proposal, error) {
	cal, err := p.Calendar(ctx, tx)
	if err != nil {
		return nil, err
	}
	w, all, err := load(ctx, tx, cal, p.Clock(), Days{0, 28}, uuid.Nil, nil)
	if err != nil {
		return nil, err
	}
	if w.Calendar.Date(0) != zero {
		return nil, web.Reject(http.StatusConflict, "planning.a-day-has-gone-by")
	}
	made, err := plan.ReadPlan([]byte(text))
	if err != nil {
		return nil, err
	}
	found := &proposal{work: &w, made: made, before: all}
	ways, err := p.reckoned(ctx, tx, found, groups)
	if err != nil {
		return nil, err
	}
	if len(ways) < len(groups) {
		return nil, web.Reject(http.StatusConflict, "planning.cannot-be-combined-any-more")
	}
	for _, way := range ways {
		found.take(way)
	}
	for i := range made.Steps {
		s := &made.Steps[i]
		n := slices.IndexFunc(w.Batches, func(b plan.Batch) bool { return b.ID == s.Batch })
		if n < 0 {
			continue
		}
		b := &promised{CommittedBatch: plan.CommittedBatch{Batch: w.Batches[n]}}
		step := b.step(s.Step)
		if s.Hands, s.Wait, s.Pots = step.HandsOnMin, step.PassiveMin, step.Pots; step.Pinned == nil &&
			s.From() < w.Now {
			return nil, web.Reject(http.StatusConflict, "planning.time-has-gone-on")
		}
	}
	return found, nil
}
