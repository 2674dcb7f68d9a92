package order

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/treat"
)

// Work is what an order finds in the kitchen: the problem of all that is promised already, with where it stands as the previous plan.
type Work struct {
	plan.Problem
	Calendar plan.Calendar // of the problem's minutes: it begins before today where work has begun before
	Now      int           // in those minutes
	// What is still to be done and stands before First or from Last on lies outside of the days that are planned: it stays as it is.
	First, Last int
	// Own is where the batches of the order stand already, by their names in the plan: of an order that is promised and changes.
	Own map[string]map[string]plan.Standing
	// Draws are what the steps of promised batches take from which bowl, by the names of batch and step.
	Draws map[string]map[string]*ledger.Draw
	// Lots are the promised batches that have not begun: more of the same could be made with them.
	Lots []Lot
}

// Lot is what several orders need of the same treat and finish, made in one go.
type Lot struct {
	Batch   string // its name in the plan
	Treat   string
	Version int
	Coating bool
	Count   int      // pieces for the orders that take part
	For     []string // their customers
}

// WorthOfAPromise is what it costs to leave a promised batch out: no question whether another order fits pushes one out.
const WorthOfAPromise = 1000

// When is on which days it would be made, or why it does not fit.
type When struct {
	Fits    bool      `json:"fits"`
	Text    string    `json:"text" doc:"One sentence"`
	Batches []Batch   `json:"batches"`
	Short   []Missing `json:"short"`
	Moves   int       `json:"moves" doc:"Steps of other orders that would be done at another time"`

	problem *plan.Problem // that was planned, nil where nothing was
	made    *plan.Plan
	makings []making
}

// making is what is made in one go: a line, a part of one that does not fit into the days as a whole, or a line together with what others are promised of the same.
type making struct {
	id         string
	line, part int
	card       *batch.Card
	lot        *Lot // that it is made together with; nil: it is made on its own
}

// Planned is the plan that was made with the order in it, and the problem that it solves; nil where there was nothing to plan.
func (w *When) Planned() (*plan.Problem, *plan.Plan) { return w.problem, w.made }

// Batch is a line, or a part of it, that found its days.
type Batch struct {
	Line   int          `json:"line" doc:"Index of the line"`
	Part   int          `json:"part,omitempty" doc:"Where the line is made in parts: which, from 1"`
	Day    string       `json:"day" format:"date" doc:"The first of its days"`
	Days   []Day        `json:"days"`
	Count  int          `json:"count" doc:"How many of the line are made in it: all, unless it is made in parts"`
	Hands  int          `json:"hands" doc:"Minutes of hands in all, melting and washing down included; of a batch that is made for others too, for all of them"`
	Lot    string       `json:"lot,omitempty" format:"uuid" doc:"The promised batch that it is made together with"`
	All    int          `json:"all,omitempty" doc:"Of a batch that is made for others too: how many are made in it"`
	With   []string     `json:"with,omitempty" doc:"The customers for whom it is made as well"`
	Family treat.Family `json:"family"`
	Pot    string       `json:"pot" doc:"Name of its main chocolate; empty when none is melted"`

	ID   string      `json:"-"` // in the plan
	Card *batch.Card `json:"-"`
}

// Day of a batch.
type Day struct {
	Day   string `json:"day" format:"date"`
	Hands int    `json:"hands" doc:"Minutes of hands on that day, melting and washing down included"`
	Free  int    `json:"free" doc:"Minutes of hands that stay free on that day"`
}

// Missing is a line that found no day.
type Missing struct {
	Line    int         `json:"line"`
	Reason  plan.Reason `json:"reason" enum:"hands,scattered,place,tool,window,begun" doc:"What is short; window: not possible even in an empty kitchen"`
	Of      string      `json:"of,omitempty" doc:"Id of the place or the tool that is full"`
	Day     string      `json:"day,omitempty" format:"date" doc:"The day that comes closest"`
	Minutes int         `json:"minutes" doc:"By how much"`
	Need    int         `json:"need" doc:"Minutes of hands that it needs"`
	Free    int         `json:"free" doc:"Minutes of hands that are free in the span"`
	Text    string      `json:"text"`
}

// BatchID names the batch of a line in a plan; part 0 is the whole of it.
func BatchID(line, part int) string {
	if part == 0 {
		return fmt.Sprint("line-", line)
	}
	return fmt.Sprint("line-", line, "-", part)
}

// when plans every line beside what is promised.
func (r *Reckoning) when(ctx context.Context, d *Draft, k *Kitchen) (When, error) {
	w := When{Batches: []Batch{}, Short: []Missing{}}
	if len(r.Lines) == 0 {
		w.Text = "Add a treat to see when it can be made."
		return w, nil
	}
	if d.From.IsZero() || d.CheckWindow(k.Now) != nil {
		w.Text = "Choose a day and a window that are still to come to see when it can be made."
		return w, nil
	}
	for i, l := range r.Lines {
		w.makings = append(w.makings, making{id: BatchID(i, 0), line: i, card: l.Card})
	}
	err := r.plan(ctx, &w, d, k)
	var faults *invalid.Error
	if errors.As(err, &faults) {
		w.problem, w.made = nil, nil
		w.Text = "It cannot be planned: " + faults.Fields[0].Says + " Make two orders of it."
		return w, nil
	}
	if err != nil {
		return w, err
	}
	if err := r.inLots(ctx, &w, d, k); err != nil {
		return w, err
	}
	if err := r.inParts(ctx, &w, d, k); err != nil {
		return w, err
	}
	w.tell(r, d, k)
	return w, nil
}

// tell what became of the makings.
func (w *When) tell(r *Reckoning, d *Draft, k *Kitchen) {
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
	slices.SortStableFunc(w.Batches, func(a, b Batch) int { return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Line, b.Line)) })
	for _, m := range plan.Moves(w.problem.Previous, w.made) {
		if !strings.HasPrefix(m.From.Batch, "line-") {
			w.Moves++
		}
	}
	w.Fits = len(w.Short) == 0
	w.Text = r.whenText(*w, k.Work.Calendar)
}

// more minutes of hands than without the order, melting and washing down included.
func (w *When) more() int {
	type ref struct{ batch, step string }
	was := map[ref]plan.Placed{}
	for _, s := range w.problem.Previous.Steps {
		if whichLine(s.Batch) < 0 {
			was[ref{s.Batch, s.Step}] = s
		}
	}
	own := map[string]bool{}
	for _, m := range w.makings {
		own[m.id] = true
	}
	sum := 0
	for _, s := range w.made.Steps {
		before, stood := was[ref{s.Batch, s.Step}]
		if stood || own[s.Batch] {
			sum += s.To() - s.From()
		}
		if stood {
			sum -= before.To() - before.From()
			delete(was, ref{s.Batch, s.Step})
		}
	}
	for r, s := range was { // of a lot that is made in other steps now
		if own[r.batch] {
			sum -= s.To() - s.From()
		}
	}
	return max(sum, 0)
}

// batch of a making that found its days.
func (w *When) batch(m making, l LineCard, k *Kitchen) Batch {
	b := Batch{Line: m.line, Part: m.part, Count: m.card.Good, Family: m.card.Family, ID: m.id, Card: m.card}
	if m.lot != nil {
		b.Count, b.All, b.Lot, b.With = l.Card.Good, m.card.Good, m.lot.Batch, m.lot.For
	}
	if len(l.Card.Pots) > 0 {
		b.Pot = l.Card.Pots[0].Name
	}
	for _, p := range w.made.Steps {
		if p.Batch != m.id {
			continue
		}
		day := p.Start / plan.DayMinutes
		if date := k.Work.Calendar.Date(day); len(b.Days) == 0 || b.Days[len(b.Days)-1].Day != date {
			b.Days = append(b.Days, Day{Day: date, Free: plan.Free(onDay(k.Work.Sessions, day, k.Work.Now), w.made.Steps)})
		}
		b.Days[len(b.Days)-1].Hands += p.To() - p.From()
		b.Hands += p.To() - p.From()
	}
	b.Day = b.Days[0].Day
	return b
}

// plan the makings.
func (r *Reckoning) plan(ctx context.Context, w *When, d *Draft, k *Kitchen) error {
	problem := r.problem(w.makings, d, k)
	made, err := plan.Settle(ctx, problem, k.effort(problem))
	if err == nil {
		w.problem, w.made = problem, made
	}
	return err
}

// calm is how many moves an order is worth that finds room beside what is planned: what did not change is not planned again.
const calm = 24

func (k *Kitchen) effort(p *plan.Problem) plan.Options {
	if k.Rough {
		return plan.Options{Effort: plan.Rough}
	}
	return plan.Options{Effort: plan.QuickEffort(p.Size()), Calm: calm}
}

// mostLots that a line is tried together with: those that are handed over nearest to it.
const mostLots = 2

// inLots makes lines together with promised batches of the same treat and finish, where all fits and the plan is better so.
func (r *Reckoning) inLots(ctx context.Context, w *When, d *Draft, k *Kitchen) error {
	if k.Rough && w.whole() {
		return nil // nothing else is asked
	}
	var ways []plan.Alternative
	var merged []making // of each way
	for i, line := range d.Lines {
		for _, lot := range r.lotsFor(line, w.problem, d, k) {
			whole := line
			whole.Count += lot.Count
			card, err := compute(whole, k)
			if err != nil {
				continue // more than can be made at once
			}
			both := []plan.Batch{*batchOf(w.problem, lot.Batch), *batchOf(w.problem, BatchID(i, 0))}
			if b, ok := plan.Merge(BatchOf(lot.Batch, card, nil), both); ok {
				ways = append(ways, plan.Alternative{Of: []string{both[0].ID, both[1].ID}, Instead: []plan.Batch{b}})
				merged = append(merged, making{id: lot.Batch, line: i, card: card, lot: &lot})
			}
		}
	}
	if len(ways) == 0 {
		return nil
	}
	problem := *w.problem
	for _, m := range merged {
		problem.Tools = withTool(slices.Clone(problem.Tools), m.card.Tool)
	}
	effort := k.effort(&problem)
	if w.whole() { // a lot that takes long to find room is not worth it
		effort.Effort = min(effort.Effort, calm/4)
	}
	made, taken, err := plan.Choose(ctx, plan.Settle, &problem, w.made, ways, effort)
	if err != nil || len(taken) == 0 {
		return err
	}
	other := When{problem: problem.Instead(taken), made: made, makings: slices.Clone(w.makings)}
	for _, t := range taken {
		n := slices.IndexFunc(ways, func(a plan.Alternative) bool { return slices.Equal(a.Of, t.Of) })
		other.makings[merged[n].line] = merged[n]
	}
	if other.whole() { // where it does not, what would help is said of the order's own batches
		w.problem, w.made, w.makings = other.problem, other.made, other.makings
	}
	return nil
}

// whole tells whether the plan has room for all of the order.
func (w *When) whole() bool {
	return !slices.ContainsFunc(w.made.Unplaced, func(u plan.Unplaced) bool {
		return slices.ContainsFunc(w.makings, func(m making) bool { return m.id == u.Batch })
	})
}

// lotsFor a line: what it could be made together with, nearest first.
func (r *Reckoning) lotsFor(l Line, p *plan.Problem, d *Draft, k *Kitchen) []Lot {
	var list []Lot
	for _, lot := range k.Work.Lots {
		if lot.Treat == l.Treat && lot.Version == k.Treats[l.Treat].Version && lot.Coating == l.Coating && batchOf(p, lot.Batch) != nil {
			list = append(list, lot)
		}
	}
	ready := k.Work.Calendar.Minute(d.From)
	apart := func(l Lot) int {
		n := batchOf(p, l.Batch).ReadyBy - ready
		return max(n, -n)
	}
	slices.SortStableFunc(list, func(a, b Lot) int { return cmp.Compare(apart(a), apart(b)) })
	return list[:min(len(list), mostLots)]
}

// batchOf a problem; nil where it has none of that name.
func batchOf(p *plan.Problem, id string) *plan.Batch {
	if n := slices.IndexFunc(p.Batches, func(b plan.Batch) bool { return b.ID == id }); n >= 0 {
		return &p.Batches[n]
	}
	return nil
}

// left are the worth of what a plan leaves out, and of that the makings that no day could ever take.
func (w *When) left() (worth, never int) {
	for _, u := range w.made.Unplaced {
		if u.Reason == plan.Window && strings.HasPrefix(u.Batch, "line-") {
			never++
		}
	}
	return w.made.Score.Unplaced, never
}

// inParts makes lines that do not fit as a whole in as few parts as fit, on days of their own. Where no number of parts fits, a line that no day could take as a whole
// is left in parts that a day could take, so that what is short is said of them.
func (r *Reckoning) inParts(ctx context.Context, w *When, d *Draft, k *Kitchen) error {
	for i, l := range r.Lines {
		if _, _, short := k.tooMuch(l.Card, d); short {
			continue // there are not the hands for it, in whatever parts
		}
		least := leastParts(l.Card, w.problem)
		for _, parts := range []int{least, least + 1, least + 2, 2*least + 1, 3 * least} {
			if l.Count < parts || !slices.ContainsFunc(w.made.Unplaced, func(u plan.Unplaced) bool {
				return strings.HasPrefix(u.Batch, BatchID(i, 0)) && whichLine(u.Batch) == i
			}) {
				break
			}
			other := *w
			split, err := r.split(d.Lines[i], i, parts, k)
			if err != nil {
				break
			}
			other.makings = slices.Concat(slices.DeleteFunc(slices.Clone(w.makings), func(m making) bool { return m.line == i }), split)
			var faults *invalid.Error
			if err := r.plan(ctx, &other, d, k); errors.As(err, &faults) { // too many steps
				break
			} else if err != nil {
				return err
			}
			whole, never := w.left()
			left, neverLeft := other.left()
			// Each part is worth as much as a line: what counts is that nothing is left out.
			if left == 0 || left < whole || never > 0 && neverLeft == 0 {
				*w = other
			}
		}
	}
	return nil
}

// leastParts that a line is to be made in so that no step is longer than every time of work and none fills more trays than there are.
func leastParts(card *batch.Card, p *plan.Problem) int {
	longest, least := 1, 2
	for _, s := range p.Sessions {
		longest = max(longest, s.To-s.From)
	}
	for _, s := range card.Steps {
		least = max(least, (s.Hands+longest-1)/longest)
		for _, place := range p.Places {
			if place.ID == s.Place && place.Trays > 0 {
				least = max(least, (s.Trays+place.Trays-1)/place.Trays)
			}
		}
	}
	return least
}

// tooMuch tells whether the work that must be fresh is more than all the hands between the time from which it keeps and the handover, beside what is planned already: need and
// free are in minutes.
func (k *Kitchen) tooMuch(card *batch.Card, d *Draft) (need, free int, short bool) {
	fresh := map[string]bool{card.FreshFrom: true}
	for _, s := range card.Steps { // in the order in which they are done
		if fresh[s.ID] || slices.ContainsFunc(s.After, func(a plan.After) bool { return fresh[a.Step] }) {
			fresh[s.ID] = true
			need += s.Hands
		}
	}
	ready := k.Work.Calendar.Minute(d.From)
	var taken []plan.Placed
	if k.Work.Previous != nil {
		taken = k.Work.Previous.Steps
	}
	for _, s := range k.Work.Sessions {
		if s.From, s.To = max(s.From, k.Work.Now, ready-card.Keeps*60), min(s.To, ready); s.From < s.To {
			free += plan.Free([]plan.Session{s}, taken)
		}
	}
	return need, free, need > free
}

// whichLine a making belongs to.
func whichLine(id string) int {
	line := -1
	fmt.Sscanf(id, "line-%d", &line)
	return line
}

// split a line in parts.
func (r *Reckoning) split(l Line, i, parts int, k *Kitchen) ([]making, error) {
	var list []making
	for n := range parts {
		part := l
		part.Count = l.Count*(n+1)/parts - l.Count*n/parts
		card, err := compute(part, k)
		if err != nil {
			return nil, err
		}
		list = append(list, making{id: BatchID(i, n+1), line: i, part: n + 1, card: card})
	}
	return list, nil
}

// problem of the kitchen with the makings of the order in it.
func (r *Reckoning) problem(makings []making, d *Draft, k *Kitchen) *plan.Problem {
	p := k.Work.Problem
	p.Schema, p.Batches = plan.ProblemSchema, slices.Clone(p.Batches)
	p.Tools = slices.Clone(p.Tools)
	previous := &plan.Plan{Schema: plan.PlanSchema}
	if p.Previous != nil {
		previous.Steps = slices.Clone(p.Previous.Steps)
	}
	p.Previous = previous
	for _, m := range makings {
		b := k.batch(m.id, m.card, d)
		for j := range b.Steps {
			if at, known := k.Work.Own[m.id][b.Steps[j].ID]; known {
				previous.Steps = append(previous.Steps, plan.Placed{Batch: b.ID, Step: b.Steps[j].ID, Start: at.Start, Hand: at.Hand})
			}
		}
		p.Batches = append(p.Batches, b)
		p.Tools = withTool(p.Tools, m.card.Tool)
	}
	return &p
}

// batch of an order that is not promised yet.
func (k *Kitchen) batch(id string, card *batch.Card, d *Draft) plan.Batch {
	b := BatchOf(id, card, d.FreeFrom)
	b.NotBefore, b.ReadyBy = k.Work.Now, k.Work.Calendar.Minute(d.From)
	return b
}

// withTool has a tool of which there is no word yet.
func withTool(tools []plan.Tool, t *plan.Tool) []plan.Tool {
	if t == nil || slices.ContainsFunc(tools, func(x plan.Tool) bool { return x.ID == t.ID && x.Count >= t.Count }) {
		return tools
	}
	for i := range tools {
		if tools[i].ID == t.ID {
			tools[i].Count = t.Count
			return tools
		}
	}
	return append(tools, *t)
}

// BatchOf a card, for the planner: what must be free from what, and how long it keeps. When it may begin and is to be ready is left to the caller.
func BatchOf(id string, card *batch.Card, freeFrom []string) plan.Batch {
	b := plan.Batch{ID: id, Worth: 1, FreshFrom: card.FreshFrom, Keeps: new(card.Keeps * 60), Contains: card.Allergens, FreeFrom: Threats(freeFrom), Steps: make([]plan.Step, len(card.Steps))}
	for i, s := range card.Steps {
		b.Steps[i] = s.Step
	}
	return b
}

// Threats are the allergens that break one of the wishes.
func Threats(wishes []string) []string {
	list := []string{}
	for _, a := range food.AllergenNames() {
		if slices.ContainsFunc(wishes, func(w string) bool { return food.Breaks(a, w) }) {
			list = append(list, a)
		}
	}
	return list
}

func (r *Reckoning) whenText(w When, cal plan.Calendar) string {
	if !w.Fits {
		texts := make([]string, len(w.Short))
		for i, s := range w.Short {
			texts[i] = s.Text
		}
		return strings.Join(texts, " ")
	}
	parts, free, last := []string{}, "", ""
	inParts := map[int]bool{}
	for _, b := range w.Batches {
		inParts[b.Line] = inParts[b.Line] || b.Count < r.Lines[b.Line].Count
	}
	for _, b := range w.Batches {
		days := make([]string, len(b.Days))
		for i, d := range b.Days {
			days[i] = dayName(d.Day)
			if d.Day >= last {
				last, free = d.Day, fmt.Sprintf("%s of %s stay free.", measure.Minutes(d.Free), dayName(d.Day))
			}
		}
		if len(days) > 2 {
			days = []string{days[0] + " to " + days[len(days)-1]}
		}
		name := r.Lines[b.Line].Name
		if inParts[b.Line] {
			name = fmt.Sprintf("%d %s", b.Count, name)
		}
		name += " " + and(days)
		if b.Lot != "" {
			name += fmt.Sprintf(" (together with %d for %s)", b.All-b.Count, and(b.With))
		}
		parts = append(parts, name)
	}
	text := fmt.Sprintf("It fits. %s. %s", strings.Join(parts, ", "), free)
	switch {
	case w.Moves == 1:
		text += " One step of another order moves for it."
	case w.Moves > 1:
		text += fmt.Sprintf(" %d steps of other orders move for it.", w.Moves)
	}
	return text
}

// missing says by the calendar what stands in the way of a line.
func (r *Reckoning) missing(of making, u plan.Unplaced, w *When, d *Draft, k *Kitchen) Missing {
	l, cal := r.Lines[of.line], k.Work.Calendar
	need, there, short := k.tooMuch(of.card, d)
	if short = short && there > 0; short { // plainer than which step is too long, or which session
		u.Reason, u.Minutes = plan.Hands, need-there
		u.From, u.To = max(k.Work.Now, k.Work.Calendar.Minute(d.From)-of.card.Keeps*60), k.Work.Calendar.Minute(d.From)
	}
	m := Missing{Line: of.line, Reason: u.Reason, Of: u.Of, Minutes: u.Minutes, Need: of.card.Hands}
	what := fmt.Sprintf("%d %s", l.Count, l.Name)
	if of.card.Good < l.Count {
		what = fmt.Sprintf("%d of the %d %s", of.card.Good, l.Count, l.Name)
	}
	last := u.To
	for _, s := range w.problem.Sessions { // the last day on which one could work
		if s.From < u.To && s.To > u.From {
			last = s.From
			m.Free += plan.Free([]plan.Session{{From: max(s.From, u.From, k.Work.Now), To: max(min(s.To, u.To), s.From, u.From, k.Work.Now), Hands: s.Hands}}, w.made.Steps)
		}
	}
	if u.Reason != plan.Window {
		m.Day = cal.Date(min(last, max(u.To-1, u.From)) / plan.DayMinutes)
	}
	if m.Text = Shortage(u, shown(what, of.card), m.Free, w.problem, cal); short {
		m.Need, m.Free = need, there
		m.Text = fmt.Sprintf("%s of hands short between %s and %s: %s keep %s, so that %s of hands must come then, and %s are free.",
			measure.Minutes(need-there), cal.DayName(u.From/plan.DayMinutes), cal.DayName((u.To-1)/plan.DayMinutes), what, keeps(of.card.Keeps), measure.Minutes(need), measure.Minutes(there))
	}
	return m
}

// Shown is a batch as a sentence speaks of it.
type Shown struct {
	What  string // 48 Bombs
	Hands int    // minutes of hands, melting included
	Keeps int    // hours
	Steps []plan.Step
	Name  func(step string) string
}

// shown is a card as a sentence speaks of it.
func shown(what string, card *batch.Card) Shown {
	s := Shown{What: what, Hands: card.Hands, Keeps: card.Keeps, Name: func(id string) string {
		return card.Steps[slices.IndexFunc(card.Steps, func(s batch.Step) bool { return s.ID == id })].Name
	}}
	for _, step := range card.Steps {
		s.Steps = append(s.Steps, step.Step)
	}
	return s
}

// Shortage is the sentence for what stands in the way of a batch; free is how many minutes of hands are free in the span.
func Shortage(u plan.Unplaced, of Shown, free int, p *plan.Problem, cal plan.Calendar) string {
	span := func() string {
		from, to := cal.Time(u.From), cal.Time(u.To)
		if u.From/plan.DayMinutes == u.To/plan.DayMinutes {
			return fmt.Sprintf("on %s from %s to %s", from.Format("Mon 2"), from.Format("15:04"), to.Format("15:04"))
		}
		return fmt.Sprintf("from %s to %s", from.Format("Mon 2, 15:04"), to.Format("Mon 2, 15:04"))
	}
	switch u.Reason {
	case plan.Hands, plan.Scattered:
		when := "on " + cal.DayName(u.From/plan.DayMinutes)
		if u.From/plan.DayMinutes != (u.To-1)/plan.DayMinutes {
			when = fmt.Sprintf("between %s and %s", cal.DayName(u.From/plan.DayMinutes), cal.DayName((u.To-1)/plan.DayMinutes))
		}
		if free >= of.Hands {
			return fmt.Sprintf("No room %s: %s need %s of hands; %s are free, but not where the setting between leaves room.", when, of.What, measure.Minutes(of.Hands), measure.Minutes(free))
		}
		there := measure.Minutes(free) + " are"
		if free == 0 {
			there = "none are"
		}
		return fmt.Sprintf("%s of hands short %s: %s need %s, %s free then.", measure.Minutes(u.Minutes), when, of.What, measure.Minutes(of.Hands), there)
	case plan.Full:
		return fmt.Sprintf("The %s is full %s: %s find no tray there.", u.Of, span(), of.What)
	case plan.Begun:
		if text := tooLarge(of, p); text != "" {
			return text
		}
		return fmt.Sprintf("What is done or pinned of %s leaves no time in which the rest of it could be made.", of.What)
	case plan.Taken:
		return fmt.Sprintf("The moulds are taken %s: %s find none.", span(), of.What)
	default:
		if text := tooLarge(of, p); text != "" {
			return text
		}
		return fmt.Sprintf("No time to work between %s and the handover: %s need %s of hands and keep %s.", cal.Time(max(u.From, u.To-of.Keeps*60)).Format("Mon 2, 15:04"), of.What, measure.Minutes(of.Hands), keeps(of.Keeps))
	}
}

// tooLarge says which step of a batch no session is long enough for, or no place large enough; empty where there is none.
func tooLarge(of Shown, p *plan.Problem) string {
	longest := 0
	for _, s := range p.Sessions {
		longest = max(longest, s.To-s.From)
	}
	for _, s := range of.Steps {
		if longest > 0 && s.Hands > longest {
			return fmt.Sprintf("%s take %s of hands in one go (%s), and the longest time of work is %s.", of.What, measure.Minutes(s.Hands), of.Name(s.ID), measure.Minutes(longest))
		}
		for _, place := range p.Places {
			if place.ID == s.Place && s.Trays > place.Trays {
				return fmt.Sprintf("%s fill %d trays at once (%s), and the %s holds %d.", of.What, s.Trays, of.Name(s.ID), place.ID, place.Trays)
			}
		}
	}
	return ""
}

func keeps(hours int) string {
	if hours%24 == 0 && hours > 24 {
		return fmt.Sprintf("%d days", hours/24)
	}
	return fmt.Sprintf("%d hours", hours)
}

// onDay are the sessions of a day from now on.
func onDay(sessions []plan.Session, day, now int) []plan.Session {
	var today []plan.Session
	for _, s := range sessions {
		if s.From = max(s.From, now); s.From < s.To && s.From/plan.DayMinutes == day {
			today = append(today, s)
		}
	}
	return today
}
