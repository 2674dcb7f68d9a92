package batch

import (
	"math"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// starts is how many are begun at each step. A unit is what amounts are for: a piece, a sheet, a pan.
type starts struct {
	*wanted
	begun  [][]float64 // units begun at each step of the formula, by design; of half shells, in pieces
	start  int         // pieces that are begun at the last stage; of what comes from sheets and is bagged, the sheets
	enough int         // pieces that would do without filling up
	cells  []int       // of what is moulded: cavities filled, by design
	moulds Moulds      // that are used
	units  float64     // of all designs at the last step
	sheet  si.Grams    // g of one sheet, where it is bagged by weight
	exact  float64     // sheets or pans that the count takes, before the last is filled up or another is begun
	stages []StageOf
	sure   float64 // how sure one is, of the whole
}

// Moulds that a treat is made in, and why as many.
type Moulds struct {
	Treat   int  `json:"treat"`
	Kitchen int  `json:"kitchen,omitempty"`
	AtMost  int  `json:"atMost,omitempty"`
	Used    int  `json:"used"`
	Once    bool `json:"once,omitempty"`
}

// StageOf is a part of the making in which pieces are lost.
type StageOf struct {
	Step  ident.Step     `json:"step"`
	Loss  float64        `json:"loss"`
	Begin int            `json:"begin"`
	Of    reason.Several `json:"of"`
}

func (w *wanted) starts() (*starts, error) {
	s := &starts{wanted: w, begun: make([][]float64, len(w.f.Steps)), stages: []StageOf{}}
	if w.lay.Sheet != nil {
		return s, s.sheets()
	}
	return s, s.pieces()
}

// span of steps through which the same number goes.
type span struct {
	from, to int // steps, to inclusive
	loss     float64
	each     int // cavities a piece, where they are not put together yet
}

// spans of the steps: a new one begins behind every loss, and where half shells become pieces.
func (s *starts) spans() []span {
	var list []span
	steps := s.f.Steps
	for i := range steps {
		if steps[i].Beside != "" { // it has no pieces in hand
			continue
		}
		each := 1
		if s.lay.Moulds != nil && steps[i].Rounds {
			each = s.lay.Moulds.Each
		}
		if n := len(list); n > 0 && list[n-1].loss == 0 && list[n-1].each == each {
			list[n-1].to = i
		} else {
			list = append(list, span{from: i, to: i, each: each})
		}
		list[len(list)-1].loss = steps[i].Loss
	}
	if n := len(list); n > 0 {
		list[n-1].loss = s.f.Loss
	}
	return list
}

// pieces that are made one by one, or in moulds.
func (s *starts) pieces() error {
	spans := s.spans()
	stages := make([]Stage, len(spans))
	for i, x := range spans {
		stages[i] = Stage{x.loss, 1}
		if i+1 < len(spans) {
			stages[i].Each = x.each / spans[i+1].each
		}
	}
	designs := s.f.Designs()
	if len(stages) == 0 {
		spans, stages = []span{{to: -1, loss: s.f.Loss, each: 1}}, []Stage{{s.f.Loss, 1}}
	}
	c, err := Starts(s.goods, stages, s.k.Confidence, s.f.Whole && len(s.f.Finishes) > 0,
		func(n int) []int { return apportion(designs, n) })
	if err != nil {
		return err
	}
	last := len(c.Begin) - 1
	sum := func(list []int) (n int) {
		for _, x := range list {
			n += x
		}
		return n
	}
	s.sure, s.enough = c.Sure, sum(c.Begin[last])
	if s.lay.Moulds != nil {
		c.Begin = s.fillUp(spans, stages, c.Begin, designs)
	}
	s.start, s.units = sum(c.Begin[last]), float64(sum(c.Begin[last]))
	for i, x := range spans {
		units := make([]float64, len(designs))
		for d := range designs {
			units[d] = float64(c.Begin[i][d]) / float64(x.each)
		}
		for step := x.from; step <= x.to; step++ {
			s.begun[step] = units
		}
		if x.loss > 0 && x.to >= 0 {
			of := reason.Several(s.is.One)
			if x.each > 1 {
				of = reason.Several(s.lay.Moulds.Cells)
			}
			s.stages = append(s.stages, StageOf{s.f.Steps[x.to].ID, x.loss, sum(c.Begin[i]), of})
		}
	}
	for i := len(s.begun) - 2; i >= 0; i-- {
		if s.f.Steps[i].Beside != "" { // for as many as the step that comes next begins
			s.begun[i] = s.begun[i+1]
		}
	}
	return nil
}

// fillUp is how many moulds are used, and the cavities that are filled: where the last round is to be filled up, all of
// it.
func (s *starts) fillUp(spans []span, stages []Stage, begin [][]int, designs []treat.Design) [][]int {
	m := s.lay.Moulds
	s.moulds = Moulds{Treat: m.Moulds, AtMost: m.AtMost, Used: m.Moulds, Once: m.Once != ""}
	if there, known := s.k.Moulds[m.Tool]; known && m.Once == "" {
		s.moulds.Kitchen, s.moulds.Used = there, max(there, 1)
	}
	if m.AtMost > 0 {
		s.moulds.Used = min(s.moulds.Used, m.AtMost)
	}
	// The cavities are those of the first steps that go by rounds.
	first := slices.IndexFunc(spans, func(x span) bool { return x.to >= 0 && s.f.Steps[x.from].Rounds })
	if first < 0 {
		s.cells = make([]int, len(designs))
		for d := range designs {
			s.cells[d] = begin[len(begin)-1][d] * m.Each
		}
		return begin
	}
	if s.choice("last") == "whole" {
		totals := make([]int, len(begin))
		for i := range begin {
			for _, n := range begin[i] {
				totals[i] += n
			}
		}
		filling := m.Cavities * s.moulds.Used
		totals[first] = (totals[first] + filling - 1) / filling * filling
		for i := first; i < len(begin)-1; i++ { // what comes through goes on
			totals[i+1] = max(totals[i+1], int(float64(totals[i])*(1-stages[i].Loss))/stages[i].Each)
		}
		begin = shareOut(totals, stages, func(n int) []int { return apportion(designs, n) })
	}
	s.cells = begin[first]
	return begin
}

// choice that the formula makes, or its family's default.
func (w *wanted) choice(id string) string {
	if made := w.f.Choices[id]; made != "" {
		return made
	}
	for _, c := range w.law.Choices(w.f.Choices) {
		if c.ID == id {
			return c.Options[0]
		}
	}
	return ""
}

// sheets or pans: by what they are cut into, or by the weight of the bags that are filled from them.
func (s *starts) sheets() error {
	exact := 0.0
	if lay := s.lay.Sheet; lay.Pieces > 0 {
		start, err := StartFor(s.good, s.f.Loss, s.k.Confidence)
		if err != nil {
			return err
		}
		s.start, s.enough, s.sure = start, start, s.k.Confidence
		exact = float64(start) / float64(lay.Pieces)
	} else {
		for _, c := range s.f.Coatings {
			s.sheet += s.law.Coat(s.f, s.k, nil, c).Stays
		}
		for _, p := range s.f.Portions {
			known := s.item(p.Ingredient)
			base, _ := known.Base(p.Each)
			grams, _ := known.Grams(base)
			s.sheet += grams
		}
		exact = lay.Bag.Times(float64(s.good) / (1 - s.f.Loss)).Over(s.sheet)
	}
	s.exact = exact
	count := math.Ceil(math.Min(exact, MostRounds+1) - 1e-9)
	if s.units = exact; s.choice("last") == "whole" || count == 0 {
		s.units = count
	}
	if s.lay.Sheet.Pieces == 0 {
		s.start = int(count)
	}
	for i := range s.begun {
		s.begun[i] = []float64{s.units}
	}
	if n := len(s.f.Steps); n > 0 && s.f.Loss > 0 {
		s.stages = append(s.stages, StageOf{s.f.Steps[n-1].ID, s.f.Loss, s.start, reason.Several(s.is.One)})
	}
	return nil
}

// at is the units that are begun at a step, by design.
func (s *starts) at(step int) []float64 { return s.begun[step] }

// adding is the index of the step at which something goes in; the last one where none says so.
func (s *starts) adding(what treat.Adds) int {
	n := slices.IndexFunc(s.f.Steps, func(w treat.StepTemplate) bool { return slices.Contains(w.Adds, what) })
	if n < 0 {
		return len(s.f.Steps) - 1
	}
	return n
}
