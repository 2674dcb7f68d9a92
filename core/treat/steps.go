package treat

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/plan"
)

// steps turns the formula's work into steps for this count. A step done by rounds becomes one step a round: the moulds must
// set before they are filled again; steps through which the moulds are held go round together. A step that works with a
// chocolate becomes one for each chocolate that the designs have there.
func (c *computing) steps() {
	n := len(c.f.Steps)
	works := make([]working, len(c.f.Steps))
	for i, w := range c.f.Steps {
		if works[i].Work = w; w.Rounds {
			n += c.rounds
		}
		works[i].shares = c.shares(w)
	}
	s := &stepping{computing: c, melted: map[string]bool{}, afters: make([]plan.After, 0, n), made: make([]string, 0, n), takes: make([]plan.Take, 0, n)}
	c.card.Steps = make([]Step, 0, n)
	for i := 0; i < len(c.f.Steps); {
		group := c.group(i)
		rounds := 1
		if c.f.Steps[i].Rounds {
			rounds = max(c.rounds, 1)
		}
		for r := range rounds {
			for j := i; j < group; j++ {
				s.add(&works[j], turn{round: r, rounds: rounds, again: r > 0 && j == i})
			}
		}
		i = group
	}
	s.hold()
	if c.card.FreshFrom == "" && len(c.card.Steps) > 0 {
		c.card.FreshFrom = c.card.Steps[0].ID
	}
	c.card.HandsWhy = fmt.Sprintf("%s of hands over %s, melting included; %s of waiting need no hands.",
		measure.Minutes(c.card.Hands), plural(len(c.card.Steps), "step", "steps"), measure.Minutes(c.card.Wait))
}

// group is the index behind the last of the steps that go round together with the i-th: those until its moulds are free.
func (c *computing) group(i int) int {
	end := i + 1
	if !c.f.Steps[i].Rounds {
		return end
	}
	for j := i; j < end; j++ {
		w := c.f.Steps[j]
		if until := slices.IndexFunc(c.f.Steps, func(s Work) bool { return s.ID == w.Until }); w.Moulds && until >= end {
			end = until + 1
		}
	}
	return end
}

// stepping is the state while steps are laid out.
type stepping struct {
	*computing
	melted   map[string]bool
	made     []string // ids of all steps
	previous []string // ids of the steps that the next one comes after
	holds    []held
	afters   []plan.After // of all steps: one piece of memory
	takes    []plan.Take
}

// working is a work while its steps are laid out: what is alike for all its rounds is worked out but once.
type working struct {
	Work
	shares []share
	labels []string // id and name of each round, one after the other
	said   []said
}

// said is what goes in, for one chocolate and one part of the batch: full rounds all take the same.
type said struct {
	ingredient string
	part       float64
	lines      []string
}

// held are moulds that are taken by the at-th step until the work with the id is done in the same round.
type held struct {
	at, round, rounds int
	until             string
}

// share is one chocolate of a step and the pieces that it is for.
type share struct {
	ingredient string
	designs    []string
	units      float64
}

// shares of a step: one for each chocolate that it works with, or one for all pieces.
func (c *computing) shares(w Work) []share {
	if w.Pot == "" {
		return []share{{units: c.units}}
	}
	list := []share{}
	for _, d := range c.designs {
		coating, ok := d.coatings[w.Pot]
		if !ok || d.units == 0 {
			continue
		}
		at := slices.IndexFunc(list, func(s share) bool { return s.ingredient == coating.Ingredient })
		if at < 0 {
			list, at = append(list, share{ingredient: coating.Ingredient}), len(list)
		}
		list[at].units += d.units
		list[at].designs = append(list[at].designs, d.Name)
	}
	return list
}

// turn is which part of a work a step is.
type turn struct {
	round, rounds int
	again         bool // the first work of a group, come round again: the gap to the work before it holds but once
	part, parts   int  // of its chocolates
}

// add the steps of a work in one round: one for each chocolate. They all come after the work before, not after each other, since
// nothing of the second has to wait until the first has set.
func (s *stepping) add(w *working, t turn) {
	from := len(s.made)
	t.parts = len(w.shares)
	for n, of := range w.shares {
		t.part = n
		s.made = append(s.made, s.one(w, of, t))
	}
	if len(w.shares) > 0 {
		s.previous = s.made[from:]
	}
}

// one step: the work w with one of its chocolates in one round. It returns its id.
func (s *stepping) one(w *working, of share, t turn) string {
	c := s.computing
	part := c.partOf(of, t)
	id, name := w.ID, w.Name
	if t.rounds > 1 {
		l := w.labelled(t.rounds)
		id, name = l[2*t.round], l[2*t.round+1]
	}
	if t.parts > 1 {
		id, name = id+"-"+string(rune('a'+t.part)), name+": "+strings.Join(of.designs, ", ")
	}
	// What is counted by the piece: bags of bark, pieces of fudge that are started.
	pieces := float64(c.card.Start)
	if c.f.Family == Bark {
		pieces = float64(c.card.Good)
	}
	minutes := w.PerPiece * pieces * part
	if t.rounds > 1 {
		minutes += w.PerRound
	} else {
		minutes += w.PerRound * float64(max(c.rounds, 1)) * of.units / c.units
	}
	if t.round == 0 && t.part == 0 {
		minutes += w.PerBatch
	}
	step := Step{Name: name, Role: w.Pot, Amounts: s.amountsOf(w, of, part), Step: plan.Step{
		ID: id, Hands: max(int(math.Ceil(minutes-1e-9)), 1), Wait: w.Wait, Place: w.Place, Trays: c.trays(w.Work, pieces*part, t.rounds), Pot: of.ingredient, After: s.after(w.Work, t),
	}}
	if t.rounds > 1 && t.round == 0 { // said once: hundreds of rounds are alike
		step.InAll = s.amountsOf(w, of, of.units/c.units)
	}
	if step.Pot != "" && !s.melted[step.Pot] {
		setup, _ := chocolate.Setup(c.k.Ingredients[step.Pot].Chocolate.Kind)
		c.card.Hands += setup
		s.melted[step.Pot] = true
	}
	if w.Moulds && c.card.Tool != nil {
		if w.Until != "" {
			s.holds = append(s.holds, held{len(c.card.Steps), t.round, t.rounds, w.Until})
		}
		s.takes = append(s.takes, plan.Take{Tool: c.card.Tool.ID, Count: c.mouldsIn(t.round, t.rounds), Until: id})
		step.Takes = s.takes[len(s.takes)-1 : len(s.takes) : len(s.takes)]
	}
	if w.Ages && c.card.FreshFrom == "" {
		c.card.FreshFrom = id
	}
	c.card.Hands += step.Hands
	if t.part == 0 { // what is dipped in one chocolate sets while the next is dipped
		c.card.Wait += step.Wait
	}
	c.card.Steps = append(c.card.Steps, step)
	return id
}

// partOf the batch that a step is: its share of the pieces, or those of its round.
func (c *computing) partOf(of share, t turn) float64 {
	switch {
	case t.rounds == 1:
		return of.units / c.units
	case c.perRound > 0:
		return math.Min(c.perRound, c.units-float64(t.round)*c.perRound) / c.units
	default:
		return 1 / float64(t.rounds)
	}
}

// after which steps a step comes, and with what gap.
func (s *stepping) after(w Work, t turn) []plan.After {
	from := len(s.afters)
	for _, id := range s.previous {
		a := plan.After{Step: id}
		if !t.again {
			a.Min = w.Earliest
			if w.Latest != nil {
				latest := *w.Latest
				a.Max = &latest
			}
		}
		s.afters = append(s.afters, a)
	}
	return s.afters[from:len(s.afters):len(s.afters)]
}

// mouldsIn a round: as many as its pieces need.
func (c *computing) mouldsIn(round, rounds int) int {
	pieces := c.units
	if rounds > 1 {
		pieces = math.Min(c.perRound, c.units-float64(round)*c.perRound)
	} else if c.perRound > 0 {
		pieces = math.Min(c.units, c.perRound)
	}
	perMould := c.perRound / float64(c.card.Tool.Count)
	return min(max(int(math.Ceil(pieces/perMould-1e-9)), 1), c.card.Tool.Count)
}

// hold names the step until which each taken mould is held.
func (s *stepping) hold() {
	for _, h := range s.holds {
		id := h.until
		if h.rounds > 1 {
			id = h.until + "-" + strconv.Itoa(h.round+1)
		}
		steps := s.card.Steps
		if slices.ContainsFunc(steps[h.at:], func(step Step) bool { return step.ID == id }) {
			steps[h.at].Takes[0].Until = id
		}
	}
}

// trays that a waiting step fills.
func (c *computing) trays(w Work, pieces float64, rounds int) int {
	switch {
	case w.Place == "":
		return 0
	case w.PerTray > 0:
		return max(int(math.Ceil(pieces/float64(w.PerTray)-1e-9)), 1)
	case rounds == 1 && (c.f.Family == Bark || c.f.Family == Fudge):
		return max(c.rounds, 1)
	default:
		return 1
	}
}

// labelled gives id and name of every round, one after the other. They share one piece of memory: a thousand pieces can have
// hundreds of rounds.
func (w *working) labelled(rounds int) []string {
	if w.labels != nil {
		return w.labels
	}
	var text strings.Builder
	text.Grow(rounds * (len(w.ID) + len(w.Name) + 16))
	ends := make([]int, 0, 2*rounds)
	of := " of " + strconv.Itoa(rounds)
	for r := 1; r <= rounds; r++ {
		number := strconv.Itoa(r)
		for _, part := range []string{w.ID, "-", number} {
			text.WriteString(part)
		}
		ends = append(ends, text.Len())
		for _, part := range []string{w.Name, ", ", number, of} {
			text.WriteString(part)
		}
		ends = append(ends, text.Len())
	}
	w.labels = make([]string, len(ends))
	from := 0
	for i, end := range ends {
		w.labels[i], from = text.String()[from:end], end
	}
	return w.labels
}

func (s *stepping) amountsOf(w *working, of share, part float64) []string {
	for _, was := range w.said {
		if was.ingredient == of.ingredient && was.part == part {
			return was.lines
		}
	}
	lines := s.amountsAt(w.Work, of, part)
	w.said = append(w.said, said{of.ingredient, part, lines})
	return lines
}

// amountsAt lists what goes in at a step, for a part of the batch.
func (c *computing) amountsAt(w Work, of share, part float64) []string {
	lines := []string{}
	add := func(shown measure.Shown, name string) {
		lines = append(lines, fmt.Sprintf("%s %s (%s)", shown.Metric, name, shown.US))
	}
	if slices.Contains(w.Adds, AddsCentre) && c.f.Centre != nil {
		known := c.item(c.f.Centre.Of)
		switch c.f.Family {
		case Fruit, Pretzel:
			lines = append(lines, fmt.Sprintf("%d of %d %s, the fit ones", c.card.Start, c.buy, strings.ToLower(known.name)))
		default:
			add(measure.Show(measure.Grams(c.centre()*c.units*part), known.substance), known.name)
			if c.f.Family == Truffle {
				lines = append(lines, fmt.Sprintf("%d centres of %s", c.card.Start, grams(c.centre())))
			}
			if known.mix != nil && part > 1-1e-9 {
				lines = append(lines, c.recipes(known.id)...)
			}
			if c.card.Boil != nil && w.Pot == "" {
				lines = append(lines, c.card.Boil.Text)
			}
		}
	}
	if w.Pot != "" {
		total := 0.0
		for _, d := range c.designs {
			if coating, ok := d.coatings[w.Pot]; ok && coating.Ingredient == of.ingredient {
				each, _ := c.eachOf(coating)
				total += each * d.units
			}
		}
		if of.units > 0 {
			total *= part * c.units / of.units
		}
		add(measure.Show(measure.Grams(total), measure.Substance{}), c.k.Name(of.ingredient))
	}
	if slices.Contains(w.Adds, AddsIn) || slices.Contains(w.Adds, AddsOn) {
		for _, d := range c.designs {
			if w.Pot != "" && d.coatings[w.Pot].Ingredient != of.ingredient {
				continue
			}
			for _, p := range slices.Concat(c.f.Portions, d.Portions) {
				if !slices.Contains(w.Adds, Adds(p.Where)) || d.units == 0 {
					continue
				}
				known := c.item(p.Ingredient)
				each, _ := known.base(p.Each)
				units := d.units
				if w.Pot == "" || c.units == of.units {
					units *= part
				}
				add(known.show(each*units), known.name)
			}
		}
	}
	return lines
}

// recipes of a mix and of those that it is made of, for the batch, readable, in the order in which they are made.
func (c *computing) recipes(id string) []string {
	lines := []string{}
	for _, m := range c.card.Mixes {
		if !slices.Contains(c.k.Uses(id), m.Mix) {
			continue
		}
		parts := make([]string, len(m.Parts))
		for i, p := range m.Parts {
			parts[i] = p.Amount.Metric + " " + p.Name
		}
		lines = append(lines, fmt.Sprintf("%s of %s", m.Name, strings.Join(parts, ", ")))
	}
	return lines
}
