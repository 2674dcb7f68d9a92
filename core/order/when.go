package order

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/ledger"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// PlanningContext is what an order finds in the kitchen: the problem of all that is promised already, with where it
// stands as the previous plan.
type PlanningContext struct {
	plan.Problem
	Calendar plan.Calendar // of the problem's minutes: it begins before today where work has begun before
	Now      si.Minutes    // in those minutes
	// What is still to be done and stands before First or from Last on lies outside of the days that are planned: it
	// stays as it is.
	First, Last si.Minutes
	// Own is where the batches of the order stand already, by their names in the plan: of an order that is promised and
	// changes.
	Own map[ident.Batch]map[ident.Step]plan.Scheduled
	// Draws are what the steps of promised batches take from which bowl, by the names of batch and step.
	Draws map[ident.Batch]map[ident.Step]*ledger.Draw
	// Combined are the promised batches that have not begun: more of the same could be made with them.
	Combined []CombinedBatch
}

// CombinedBatch is what several orders need of the same treat and finish, made in one go.
type CombinedBatch struct {
	Batch   ident.Batch // its name in the plan
	Treat   ident.Treat
	Version int
	Coating bool
	Count   int // pieces for the orders that take part
	Orders  []ident.Order
	Last    string   // day of the last of their handovers
	For     []string // their customers
}

// ConfirmedPenalty is what it costs to leave a promised batch out: no question whether another order fits pushes one
// out.
const ConfirmedPenalty = 1000

// When is on which days it would be made, or why it does not fit.
type When struct {
	Fits    bool        `json:"fits"`
	Text    reason.Text `json:"text"`
	Batches []Batch     `json:"batches"`
	Short   []Missing   `json:"short"`
	Pending bool        `json:"pending,omitempty"`
	Moves   int         `json:"moves"`

	problem *plan.Problem // that was planned, nil where nothing was
	made    *plan.Plan
	makings []plannedBatch
}

// plannedBatch is what is made in one go: a line, a part of one that does not fit into the days as a whole, or a line
// together with what others are promised of the same.
type plannedBatch struct {
	id         ident.Batch
	line, part int
	card       *batch.Card
	combined   *CombinedBatch // that it is made together with; nil: it is made on its own
}

// Planned is the plan that was made with the order in it, and the problem that it solves; nil where there was nothing
// to plan.
func (w *When) Planned() (*plan.Problem, *plan.Plan) { return w.problem, w.made }

// Batch is a line, or a part of it, that found its days.
type Batch struct {
	Line     int          `json:"line"`
	Part     int          `json:"part,omitempty"`
	Day      string       `json:"day"`
	Days     []Day        `json:"days"`
	Count    int          `json:"count"`
	Hands    si.Minutes   `json:"hands"`
	Combined string       `json:"lot,omitempty"`
	All      int          `json:"all,omitempty"`
	With     []string     `json:"with,omitempty"`
	Family   treat.Family `json:"family"`
	Pot      string       `json:"pot"`

	ID   ident.Batch `json:"-"` // in the plan
	Card *batch.Card `json:"-"`
}

// Day of a batch.
type Day struct {
	Day   string     `json:"day"`
	Hands si.Minutes `json:"hands"`
	Free  si.Minutes `json:"free"`
}

// Missing is a line that found no day.
type Missing struct {
	Line    int           `json:"line"`
	Reason  plan.Reason   `json:"reason"`
	Of      string        `json:"of,omitempty"`
	Day     string        `json:"day,omitempty"`
	Minutes si.Minutes    `json:"minutes"`
	Need    si.Minutes    `json:"need"`
	Free    si.Minutes    `json:"free"`
	Text    reason.Reason `json:"text"`
}

// BatchID names the batch of a line in a plan; part 0 is the whole of it.
func BatchID(line, part int) ident.Batch {
	if part == 0 {
		return ident.Batch(fmt.Sprint("line-", line))
	}
	return ident.Batch(fmt.Sprint("line-", line, "-", part))
}

// when plans every line beside what is promised.
func (r *Estimate) when(ctx context.Context, d *Draft, k *Inputs) (When, error) {
	w := When{Batches: []Batch{}, Short: []Missing{}}
	if len(r.Lines) == 0 {
		w.Text = because("order.add-treat-to-see-when")
		return w, nil
	}
	if d.From.IsZero() || d.CheckWindow(k.Now) != nil {
		w.Text = because("order.choose-day-and-window-that")
		return w, nil
	}
	if k.Extent == FiguresOnly {
		w.Pending = true
		return w, nil
	}
	for i, l := range r.Lines {
		w.makings = append(w.makings, plannedBatch{id: BatchID(i, 0), line: i, card: l.Card})
	}
	err := r.plan(ctx, &w, d, k)
	var faults *invalid.Error
	if errors.As(err, &faults) {
		w.problem, w.made = nil, nil
		w.Text = because("order.cannot-be-planned", reason.Because(faults.Fields[0].Err))
		return w, nil
	}
	if err != nil {
		return w, err
	}
	if err := r.tryCombined(ctx, &w, d, k); err != nil {
		return w, err
	}
	if err := r.trySplit(ctx, &w, d, k); err != nil {
		return w, err
	}
	w.tell(r, d, k)
	return w, nil
}

// tell what became of the makings.
func (w *When) tell(r *Estimate, d *Draft, k *Inputs) {
	short := map[int]bool{}
	for _, m := range w.makings {
		if n := slices.IndexFunc(w.made.Unplaced, func(u plan.Unplaced) bool { return u.Batch == m.id }); n >= 0 {
			if !short[m.line] {
				w.Short = append(w.Short, r.missing(m, w.made.Unplaced[n], w, d, k))
			}
			short[m.line] = true
			continue
		}
		w.Batches = append(w.Batches, w.batch(m, r.Lines[m.line], k))
	}
	slices.SortStableFunc(w.Batches, func(a, b Batch) int {
		return cmp.Or(cmp.Compare(a.Day, b.Day),
			cmp.Compare(a.Line, b.Line))
	})
	for _, m := range plan.Moves(w.problem.Previous, w.made) {
		if w.lineOf(m.From.Batch) < 0 {
			w.Moves++
		}
	}
	w.Fits = len(w.Short) == 0
	w.Text = r.whenText(*w)
}

// addedMinutes of hands, against the plan without the order, melting and washing down included.
func (w *When) addedMinutes() si.Minutes {
	was := map[ident.StepOf]plan.ScheduledOperation{}
	for _, s := range w.problem.Previous.Steps {
		if w.lineOf(s.Batch) < 0 {
			was[ident.StepOf{Batch: s.Batch, Step: s.Step}] = s
		}
	}
	own := map[ident.Batch]bool{}
	for _, m := range w.makings {
		own[m.id] = true
	}
	var sum si.Minutes
	for _, s := range w.made.Steps {
		before, stood := was[ident.StepOf{Batch: s.Batch, Step: s.Step}]
		if stood || own[s.Batch] {
			sum += s.To() - s.From()
		}
		if stood {
			sum -= before.To() - before.From()
			delete(was, ident.StepOf{Batch: s.Batch, Step: s.Step})
		}
	}
	for r, s := range was { // of a lot that is made in other steps now
		if own[r.Batch] {
			sum -= s.To() - s.From()
		}
	}
	return max(sum, 0)
}

// batch of a making that found its days.
func (w *When) batch(m plannedBatch, l LineCard, k *Inputs) Batch {
	b := Batch{Line: m.line, Part: m.part, Count: m.card.Good, Family: m.card.Family, ID: m.id, Card: m.card}
	if m.combined != nil {
		b.Count, b.All, b.Combined, b.With = l.Card.Good, m.card.Good, string(m.combined.Batch), m.combined.For
	}
	if len(l.Card.Pots) > 0 {
		b.Pot = l.Card.Pots[0].Name
	}
	for _, p := range w.made.Steps {
		if p.Batch != m.id {
			continue
		}
		day := k.Planning.Calendar.Day(p.Start)
		if date := k.Planning.Calendar.Date(day); len(b.Days) == 0 || b.Days[len(b.Days)-1].Day != date {
			b.Days = append(b.Days, Day{Day: date, Free: plan.Free(onDay(k.Planning.Calendar, k.Planning.Sessions, day,
				k.Planning.Now), w.made.Steps)})
		}
		b.Days[len(b.Days)-1].Hands += p.To() - p.From()
		b.Hands += p.To() - p.From()
	}
	b.Day = b.Days[0].Day
	return b
}

// plan the makings.
func (r *Estimate) plan(ctx context.Context, w *When, d *Draft, k *Inputs) error {
	problem := r.problem(w.makings, d, k)
	made, err := plan.Settle(ctx, problem, k.effort(problem))
	if err == nil {
		w.problem, w.made = problem, made
	}
	return err
}

// calm is how many moves an order is worth that finds room beside what is planned: what did not change is not planned
// again.
const calm = 18

func (k *Inputs) effort(p *plan.Problem) plan.Options {
	if k.Extent == FeasibilityOnly {
		return plan.Options{Effort: plan.Rough}
	}
	return plan.Options{Effort: plan.QuickEffort(p.Size()), Calm: calm}
}
