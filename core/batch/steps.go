package batch

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Step is a step for this count, in the shape that the planner places.
type Step struct {
	plan.Operation
	Name    string          `json:"name"`
	Role    treat.Role      `json:"role,omitempty"`
	Round   *Round          `json:"round,omitempty"`
	Amounts []reason.Reason `json:"amounts"`
	InAll   []reason.Reason `json:"inAll,omitempty"`
	Note    string          `json:"note,omitempty"`
	Look    string          `json:"look,omitempty"`
	Fills   bool            `json:"fills,omitempty"` // something else than chocolate goes in or on at it
	Draw    *ledger.Draw    `json:"-"`               // what it takes from a bowl, or gives back; nil where it does neither
}

// Round is which of several a step is.
type Round struct {
	Of     ident.Step `json:"of"`
	Name   string     `json:"name"`
	At     int        `json:"at"`
	Rounds int        `json:"rounds"`
	Pieces float64    `json:"pieces"`
}

// steps of the making, for this count.
type steps struct {
	*needs
	steps     []Step
	hands     si.Minutes // minutes, melting included
	melting   si.Minutes // of these
	wait      si.Minutes
	freshFrom ident.Step
	holds     []held
	labels    map[int][]string // by step of the formula: id and name of each round, one after the other
	said      map[int][]told
	taking    int // the step that takes the moulds of a turn
}

// held are moulds that are taken by the at-th step until the work with the id is done in the same round.
type held struct {
	at, round, rounds int
	until             ident.Step
}

// line is work of which each turn comes after the one before it.
type line struct {
	at       turn
	made     []ident.Step // of this turn
	previous []ident.Step // of the one before it
	beside   []ident.Step // done beside, which this turn needs
}

// told is what goes in, for one chocolate and one part of the batch: full rounds all take the same.
type told struct {
	kind  *kind
	units []float64
	lines []reason.Reason
}

func (n *needs) layDown() *steps {
	s := &steps{needs: n, steps: make([]Step, 0, len(n.worked)), labels: map[int][]string{}, said: map[int][]told{}}
	melts := n.meltsAt()
	lines := map[ident.Step]*line{} // by what they are done beside; the main one has no name
	for i := range n.worked {
		w := &n.worked[i]
		work := &n.f.Steps[w.step]
		l := lines[work.Beside]
		if l == nil {
			l = &line{}
			lines[work.Beside] = l
		}
		if len(l.made) == 0 || w.turn != l.at {
			l.previous, l.made, l.beside, l.at = l.made, nil, nil, w.turn
			if other := lines[work.ID]; other != nil && w.round == 0 {
				l.beside = other.made
			}
		}
		l.made = append(l.made, s.one(w, melts[i], l))
	}
	s.melted()
	s.shades()
	s.hold()
	if s.freshFrom == "" && len(s.steps) > 0 {
		s.freshFrom = s.steps[0].ID
	}
	return s
}

// one step. It returns its id.
func (s *steps) one(w *worked, melts []melts, l *line) ident.Step {
	work := &s.f.Steps[w.step]
	id, name := work.ID, work.Name
	if w.rounds > 1 {
		l := s.labelled(w.step, w.rounds)
		id, name = ident.Step(l[2*w.round]), l[2*w.round+1]
	}
	if w.parts > 1 {
		id, name = id+"-"+ident.Step(rune('a'+w.part)), name+": "+s.partName(w)
	}
	step := Step{Name: name, Role: work.Pot, Draw: w.draw, Amounts: s.amounts(w), Note: work.Note, Look: work.Look,
		Fills: len(work.Adds) > 0,
		Operation: plan.Operation{ID: id, HandsOnMin: s.minutes(w), PassiveMin: work.Wait, Storage: work.Spot,
			Trays: s.trays(w), After: s.after(w, l)}}
	if s.made(w) {
		step.HandsOnMin, step.PassiveMin, step.Storage, step.Trays = min(step.HandsOnMin, takenOut), 0, "", 0
	}
	if w.more { // another chocolate is laid on it at once
		step.PassiveMin, step.Storage, step.Trays = 0, "", 0
	}
	if w.rounds > 1 {
		step.Round = &Round{Of: work.ID, Name: work.Name, At: w.round + 1, Rounds: w.rounds, Pieces: sum(w.units)}
	}
	if w.rounds > 1 && w.round == 0 { // said once: hundreds of rounds are alike
		all := *w
		all.rounds, all.draw, all.units = 1, nil, slices.Clone(s.at(w.step))
		for d := range all.units {
			if w.kind != nil && s.coating(work.Pot, d, w.kind) == nil {
				all.units[d] = 0
			}
		}
		step.InAll = s.linesOf(&all)
	}
	for i, k := range w.ready {
		step.Pots = append(step.Pots, plan.Use{Pot: k.pot.Key(), Changeover: si.WholeMinutes(melts[i].minutes),
			Holds: melts[i].holds})
	}
	if m := s.lay.Moulds; work.Moulds && m != nil && m.Once == "" {
		if len(l.made) == 0 {
			s.taking = len(s.steps)
			step.Takes = []plan.Take{{Tool: m.Tool, Count: s.mouldsIn(w), Until: id}}
			if work.Until != "" {
				s.holds = append(s.holds, held{len(s.steps), w.round, w.rounds, work.Until})
			}
		} else { // of several chocolates: the first takes the moulds of all
			s.steps[s.taking].Takes[0].Until = id
		}
	}
	if s.freshFrom == "" && (work.Ages || slices.Contains(work.Adds, treat.AddsCentre) && s.agesFromCentre()) {
		s.freshFrom = id
	}
	s.hands += step.HandsOnMin
	if w.part == 0 && work.Beside == "" || w.over { // what is dipped in one chocolate sets while the next is dipped
		s.wait += step.PassiveMin
	}
	s.steps = append(s.steps, step)
	return id
}

// agesFromCentre tells whether its keeping is counted from the making of the centre.
func (s *steps) agesFromCentre() bool {
	_, ages := s.law.Ages(s.f, s.k)
	return ages
}

// keeps is how many hours it keeps from the step that it is fresh from.
func (s *steps) keeps() int {
	if hours, ages := s.law.Ages(s.f, s.k); ages {
		return min(hours, s.f.ShelfLifeHours)
	}
	return s.f.ShelfLifeHours
}

// minutes of hands.
func (s *steps) minutes(w *worked) si.Minutes {
	work := &s.f.Steps[w.step]
	part := w.share
	if all := sum(s.at(w.step)); all > 0 {
		part *= sum(w.units) / all
	}
	// What is counted by the piece: bags of what is bagged by weight, pieces that are begun of what is cut.
	counted := sum(s.at(w.step))
	if lay := s.lay.Sheet; lay != nil {
		counted = float64(s.good)
		if lay.Pieces > 0 {
			counted = float64(s.start)
		}
	}
	minutes := work.PerPiece * counted * part
	if w.rounds > 1 {
		minutes += work.PerRound * w.share
	} else {
		minutes += work.PerRound * float64(max(s.rounds.rounds, 1)) * part
	}
	if w.round == 0 && w.part == 0 {
		minutes += work.PerBatch
	}
	if w.step == s.adding(treat.AddsOn) && len(s.f.Finishes) > 0 { // what a design takes more
		for d, units := range w.units {
			minutes += s.f.Finishes[d].Minutes * units * w.share
		}
	}
	return si.WholeMinutes(minutes) + s.mixing(w)
}

// melted adds the hands that the bowls of the batch alone take, each melted once.
func (s *steps) melted() {
	for i, uses := range s.uses {
		k := s.worked[uses[0]].kind
		if k == nil {
			continue
		}
		s.melting += si.WholeMinutes(k.minutes(s.bowls[i].Melted))
	}
	s.hands += s.melting
}

// after which steps a step comes, and with what gap.
func (s *steps) after(w *worked, l *line) []plan.After {
	work := &s.f.Steps[w.step]
	list := make([]plan.After, 0, len(l.previous)+len(l.beside)+1)
	for _, id := range l.previous {
		a := plan.After{Step: id}
		if !w.again {
			a.Min, a.Alone = work.Earliest, work.Alone
			if work.Latest != nil {
				a.Max = new(*work.Latest)
			}
		}
		list = append(list, a)
	}
	for _, id := range l.beside {
		list = append(list, plan.After{Step: id})
	}
	if n := len(l.made); n > 0 && w.over {
		list = append(list, plan.After{Step: l.made[n-1], Max: new(atOnce), Alone: true})
	} else if m := s.lay.Moulds; n > 0 && work.Moulds && m != nil && m.Once == "" { // the first takes the moulds of all
		list = append(list, plan.After{Step: l.made[n-1]})
	}
	return list
}

// atOnce is how many minutes may pass between two shades of one bowl.
const atOnce si.Minutes = 5

// shades of one bowl follow each other, paler first, with nothing between: the colour deepens in it, and what was paler
// sets beside what is deeper.
func (s *steps) shades() {
	for i := 1; i < len(s.worked); i++ {
		pale, deep := &s.worked[i-1], &s.worked[i]
		if pale.turn != deep.turn || pale.kind == nil || deep.kind == nil || pale.kind.pot != deep.kind.pot ||
			pale.kind.colour >= deep.kind.colour {
			continue
		}
		before, step := &s.steps[i-1], &s.steps[i]
		step.After = append(slices.Clone(step.After), plan.After{Step: before.ID, Max: new(atOnce), Alone: true})
		step.Trays += before.Trays
		before.PassiveMin, before.Storage, before.Trays = 0, "", 0
	}
}

// mouldsIn a turn: as many as its pieces need.
func (s *steps) mouldsIn(w *worked) int {
	cells := 0
	for d := range s.cells {
		if w.rounds > 1 {
			cells += s.cellsIn(w.round, d)
		} else {
			cells += s.cells[d]
		}
	}
	m := s.lay.Moulds
	return min(max((cells+m.Cavities-1)/m.Cavities, 1), s.moulds.Used)
}

// hold names the step until which each taken mould is held.
func (s *steps) hold() {
	for _, h := range s.holds {
		id := h.until
		if h.rounds > 1 {
			id = h.until + "-" + ident.Step(strconv.Itoa(h.round+1))
		}
		for _, step := range s.steps[h.at:] { // of one with several chocolates, until the last
			if step.ID == id || len(step.ID) == len(id)+2 && strings.HasPrefix(string(step.ID), string(id)+"-") &&
				step.ID[len(id)+1] >= 'a' {
				s.steps[h.at].Takes[0].Until = step.ID
			}
		}
	}
}

// trays that a waiting step fills.
func (s *steps) trays(w *worked) int {
	work := &s.f.Steps[w.step]
	pieces := sum(w.units)
	if s.lay.Sheet != nil {
		pieces = float64(s.good) * pieces / s.units
		if s.lay.Sheet.Pieces > 0 {
			pieces = float64(s.start) * sum(w.units) / s.units
		}
	}
	switch {
	case work.Spot == "":
		return 0
	case work.PerTray > 0:
		return max(int(math.Ceil(pieces/float64(work.PerTray)-1e-9)), 1)
	case w.rounds == 1 && s.lay.Sheet != nil:
		return max(s.rounds.rounds, 1)
	default:
		return 1
	}
}

// labelled gives id and name of every round of a step, one after the other. They share one piece of memory: a thousand
// pieces can have hundreds of rounds.
func (s *steps) labelled(step, rounds int) []string {
	if known := s.labels[step]; known != nil {
		return known
	}
	w := &s.f.Steps[step]
	var text strings.Builder
	text.Grow(rounds * (len(w.ID) + len(w.Name) + 16))
	ends := make([]int, 0, 2*rounds)
	of := "/" + strconv.Itoa(rounds)
	for r := 1; r <= rounds; r++ {
		number := strconv.Itoa(r)
		for _, part := range []string{string(w.ID), "-", number} {
			text.WriteString(part)
		}
		ends = append(ends, text.Len())
		for _, part := range []string{w.Name, ", ", number, of} {
			text.WriteString(part)
		}
		ends = append(ends, text.Len())
	}
	labels := make([]string, len(ends))
	from := 0
	for i, end := range ends {
		labels[i], from = text.String()[from:end], end
	}
	s.labels[step] = labels
	return labels
}

// partName is what tells one chocolate of a turn from the others: the designs that have it, or where it is marbled, it.
func (s *steps) partName(w *worked) string {
	list := s.names(w.units)
	if w.more || w.over {
		if len(list) == len(s.f.Designs()) {
			list = nil
		}
		list = append(list, s.item(w.kind.pot.Ingredient).Name)
	}
	return strings.Join(list, ", ")
}

// names of the designs that have units.
func (s *steps) names(units []float64) []string {
	var list []string
	for d, f := range s.f.Designs() {
		if units[d] > 0 {
			list = append(list, f.Name)
		}
	}
	return list
}
