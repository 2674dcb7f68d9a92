package batch

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
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
	Amounts []reason.Reason `json:"amounts"`
	InAll   []reason.Reason `json:"inAll,omitempty"`
	Draw    *ledger.Draw    `json:"-"` // what it takes from a bowl, or gives back; nil where it does neither
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
}

// held are moulds that are taken by the at-th step until the work with the id is done in the same round.
type held struct {
	at, round, rounds int
	until             ident.Step
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
	last := -1
	var made []ident.Step
	var previous []ident.Step // of this turn, and of the one before it
	var at turn
	for i := range n.worked {
		w := &n.worked[i]
		if last < 0 || w.turn != at {
			previous, made, at = made, nil, w.turn
		}
		last = i
		made = append(made, s.one(w, melts[i], previous))
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
func (s *steps) one(w *worked, melts []melts, previous []ident.Step) ident.Step {
	work := &s.f.Steps[w.step]
	id, name := work.ID, work.Name
	if w.rounds > 1 {
		l := s.labelled(w.step, w.rounds)
		id, name = ident.Step(l[2*w.round]), l[2*w.round+1]
	}
	if w.parts > 1 {
		id, name = id+"-"+ident.Step(rune('a'+w.part)), name+": "+strings.Join(s.names(w.units), ", ")
	}
	step := Step{Name: name, Role: work.Pot, Draw: w.draw, Amounts: s.amounts(w), Operation: plan.Operation{
		ID: id, HandsOnMin: s.minutes(w), PassiveMin: work.Wait, Storage: work.Spot, Trays: s.trays(w),
		After: s.after(w, previous),
	}}
	if w.rounds > 1 && w.round == 0 { // said once: hundreds of rounds are alike
		all := *w
		all.rounds, all.draw, all.units = 1, nil, slices.Clone(s.at(w.step))
		for d := range all.units {
			if w.kind != nil && !(s.coating(work.Pot, d) != nil && s.coating(work.Pot, d).kind == w.kind) {
				all.units[d] = 0
			}
		}
		step.InAll = s.linesOf(&all)
	}
	for i, k := range w.ready {
		step.Pots = append(step.Pots, plan.Use{Pot: k.pot.Key(), Changeover: si.WholeMinutes(melts[i].minutes),
			Holds: melts[i].holds})
	}
	if m := s.lay.Moulds; work.Moulds && m != nil {
		if work.Until != "" {
			s.holds = append(s.holds, held{len(s.steps), w.round, w.rounds, work.Until})
		}
		step.Takes = []plan.Take{{Tool: m.Tool, Count: s.mouldsIn(w), Until: id}}
	}
	if s.freshFrom == "" && (work.Ages || slices.Contains(work.Adds, treat.AddsCentre) && s.agesFromCentre()) {
		s.freshFrom = id
	}
	s.hands += step.HandsOnMin
	if w.part == 0 { // what is dipped in one chocolate sets while the next is dipped
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
	part := 1.0
	if all := sum(s.at(w.step)); all > 0 {
		part = sum(w.units) / all
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
		minutes += work.PerRound
	} else {
		minutes += work.PerRound * float64(max(s.rounds.rounds, 1)) * part
	}
	if w.round == 0 && w.part == 0 {
		minutes += work.PerBatch
	}
	return si.WholeMinutes(minutes)
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
func (s *steps) after(w *worked, previous []ident.Step) []plan.After {
	work := &s.f.Steps[w.step]
	list := make([]plan.After, 0, len(previous))
	for _, id := range previous {
		a := plan.After{Step: id}
		if !w.again {
			a.Min, a.Alone = work.Earliest, work.Alone
			if work.Latest != nil {
				a.Max = new(*work.Latest)
			}
		}
		list = append(list, a)
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
		if slices.ContainsFunc(s.steps[h.at:], func(step Step) bool { return step.ID == id }) {
			s.steps[h.at].Takes[0].Until = id
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

// amounts that go in at a step, readable.
func (s *steps) amounts(w *worked) []reason.Reason {
	for _, was := range s.said[w.step] {
		if was.kind == w.kind && slices.Equal(was.units, w.units) {
			return was.lines
		}
	}
	lines := s.linesOf(w)
	s.said[w.step] = append(s.said[w.step], told{w.kind, w.units, lines})
	return lines
}

func (s *steps) linesOf(w *worked) []reason.Reason {
	work, lines := &s.f.Steps[w.step], []reason.Reason{}
	add := func(shown measure.Shown, name string) {
		lines = append(lines, reason.Of("batch.amount-of", shown, reason.Name(name), measure.Other{Shown: shown}))
	}
	units := sum(w.units)
	if slices.Contains(work.Adds, treat.AddsCentre) && s.f.Centre != nil {
		known := s.item(s.f.Centre.Of)
		if s.is.Picked {
			lines = append(lines, reason.Of("batch.fit-ones", reason.Int(int(sum(s.at(w.step)))), reason.Int(s.buy),
				reason.Name(strings.ToLower(known.Name))))
		} else {
			var mass si.Grams
			for i, d := range s.f.Designs() {
				if w.units[i] > 0 {
					mass += s.law.Centre(s.f, s.k, &d).Times(w.units[i])
				}
			}
			add(measure.Show(measure.Grams(mass), known.Substance), known.Name)
			if s.is.Thick && units > 0 {
				lines = append(lines, reason.Of("batch.centres", reason.Int(int(units)),
					measure.ShowGrams(mass.By(units))))
			}
			if known.Mix != nil && units > sum(s.at(w.step))-1e-9 {
				lines = append(lines, s.recipes(known.ID)...)
			}
			if boil := s.boil(); boil != nil && work.Pot == "" {
				lines = append(lines, boil.Text)
			}
		}
	}
	if w.kind != nil {
		part, _ := s.partOf(w.step)
		var applied si.Grams
		for d, units := range w.units {
			if units > 0 {
				applied += s.coating(work.Pot, d).coat.Stays.Times(units * part)
			}
		}
		add(measure.Show(measure.Grams(applied), measure.Substance{}), s.item(w.kind.pot.Ingredient).Name)
	}
	if w.draw != nil {
		lines = append(lines, drawn(w.draw)...)
	}
	for _, adds := range []treat.Adds{treat.AddsIn, treat.AddsOn} {
		if !slices.Contains(work.Adds, adds) {
			continue
		}
		for i, d := range s.f.Designs() {
			for _, p := range slices.Concat(s.f.Portions, d.Portions) {
				if string(p.Where) == string(adds) && w.units[i] > 0 {
					known := s.item(p.Ingredient)
					add(known.Show(s.each(p)*w.units[i]), known.Name)
				}
			}
		}
	}
	return lines
}

// recipes of a mix and of those that it is made of, for the batch, readable, in the order in which they are made.
func (s *steps) recipes(id ident.Ingredient) []reason.Reason {
	lines := []reason.Reason{}
	for _, m := range s.mixes {
		if !slices.Contains(s.k.Uses(id), m.Mix) {
			continue
		}
		parts := make(reason.Series, len(m.Parts))
		for i, p := range m.Parts {
			parts[i] = reason.Of("batch.part-of-mix", p.Amount, reason.Name(p.Name))
		}
		lines = append(lines, reason.Of("batch.mix-of", reason.Name(m.Name), parts))
	}
	return lines
}
