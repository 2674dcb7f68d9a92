package bench

import (
	"cmp"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// pause is how many minutes work outside of the hours may stand still.
const pause = 120

// day is a run sheet while it is laid out.
type day struct {
	list  []Session
	hours int // sessions that are hours; behind them those of work outside of them
	steps []Step
	room  float64 // °C
}

// sessions of a day: the hours that people work, with what is set up in them. Work outside of the hours, on a day that
// was changed since, makes a time of its own.
func sessions(hours []plan.Session, steps []Step, room float64) []Session {
	d := &day{list: []Session{}, hours: len(hours), steps: steps, room: room}
	for _, h := range hours {
		d.list = append(d.list, Session{From: h.From, To: h.To, People: h.People, Steps: []int{}, Setups: []Setup{},
			Looks: []Look{}})
	}
	works := make([]ledger.Worked, 0, len(steps))
	for i := range steps {
		s := &steps[i]
		n := d.at(s.Start)
		of := &d.list[n]
		of.Ends = max(of.Ends, s.Start+s.Hands)
		of.Steps = append(of.Steps, i)
		of.To, of.People = max(of.To, s.Start+s.Hands), max(of.People, s.Hand+1)
		if s.Wash > 0 && s.DoneAt == nil {
			of.Setups = append(of.Setups, Setup{At: s.Start - s.Melt - s.Wash, Minutes: s.Wash, Hand: s.Hand,
				Wash: true, For: []string{s.Treat}})
		}
		if s.Wait > 0 {
			of.Looks = append(of.Looks, Look{s.Start + s.Hands + s.Wait, s.Spot, s.Name, s.Treat, s.For})
		}
		works = append(works, ledger.Worked{Batch: ident.Batch(s.Batch.String()), Step: s.Step, Session: n,
			Hand: s.Hand, Start: s.Start, End: s.Start + s.Hands, Melts: s.melts, Draw: s.draw, FreeFrom: s.threats,
			Done: s.done})
	}
	bowls := ledger.Bowls(works)
	melts := make([]ledger.Melt, len(bowls))
	for i := range bowls {
		melts[i] = bowls[i].Melt
	}
	ledger.Carry(melts, nil)
	for i := range bowls {
		bowls[i].From = melts[i].From
		d.bowl(&bowls[i])
	}
	for i := range d.list {
		slices.SortStableFunc(d.list[i].Setups, func(a, b Setup) int { return cmp.Compare(a.At, b.At) })
		slices.SortStableFunc(d.list[i].Looks, func(a, b Look) int { return cmp.Compare(a.At, b.At) })
		d.list[i].Rows = rows(steps, d.list[i].Steps)
	}
	slices.SortStableFunc(d.list, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
	return d.list
}

// fewest rounds that are worth a line of their own.
const fewest = 3

// rows of a time of work: rounds of one batch that follow each other are one.
func rows(steps []Step, of []int) []Row {
	list := []Row{}
	for from := 0; from < len(of); {
		first, to := &steps[of[from]], from+1
		for first.Round != nil && to < len(of) && steps[of[to]].Batch == first.Batch && steps[of[to]].Round != nil {
			to++
		}
		if to-from < fewest {
			list = append(list, Row{Steps: of[from : from+1]})
			from++
			continue
		}
		list = append(list, Row{of[from:to], roundsText(steps, of[from:to])})
		from = to
	}
	return list
}

// roundsText says which rounds of what a row is, and of how many pieces each.
func roundsText(steps []Step, of []int) reason.Reason {
	first, last := steps[of[0]].Round, steps[of[0]].Round
	var names reason.Series
	for _, i := range of {
		r := steps[i].Round
		if name := reason.Name(r.Name); !slices.Contains(names, reason.Value(name)) {
			names = append(names, name)
		}
		if r.At < first.At {
			first = r
		}
		if r.At > last.At {
			last = r
		}
	}
	from, to, all := reason.Int(first.At), reason.Int(last.At), reason.Int(first.Rounds)
	if last.Pieces == first.Pieces {
		return reason.Of("bench.rounds", names, from, to, all, reason.Number(first.Pieces))
	}
	return reason.Of("bench.rounds-and-last", names, from, to, all, reason.Number(first.Pieces), reason.Number(last.Pieces))
}

// at is the index of the time of work that a minute lies in; a pause does not end a time of its own.
func (d *day) at(minute si.Minutes) int {
	for i := range d.list {
		s, own := &d.list[i], i >= d.hours
		if s.From <= minute && (minute < s.To || own && minute <= s.To+pause) {
			return i
		}
	}
	d.list = append(d.list, Session{From: minute, To: minute, Steps: []int{}, Setups: []Setup{}, Looks: []Look{}})
	return len(d.list) - 1
}

// step of a work.
func (d *day) step(w *ledger.Worked) *Step {
	return &d.steps[slices.IndexFunc(d.steps, func(s Step) bool {
		return s.Step == w.Step &&
			s.Batch.String() == string(w.Batch)
	})]
}

// bowl tells how it is melted, and each step that works from it how it finds it.
func (d *day) bowl(b *ledger.Planned) {
	first := d.step(&b.Works[0])
	pot := first.potOf(b.Pot.Ingredient)
	if pot == nil || b.Used <= 0 {
		return
	}
	hold := batch.HoldOf(b.Pot, pot.Chocolate, d.room)
	names := []string{}
	for i := range b.Works {
		s := d.step(&b.Works[i])
		if !slices.Contains(names, s.Treat) {
			names = append(names, s.Treat)
		}
		s.Pot = pot.Name
		if i > 0 {
			s.Advice = stands(b, i, pot.Name, hold)
			if more := b.TopUps[i]; more > 1e-9 {
				s.TopUp = new(measure.Show(measure.Grams(more), measure.Substance{}))
			}
		}
	}
	tempering := chocolate.Temper(b.Pot.Method, pot.Chocolate.Kind, pot.Chocolate.Temperatures(), b.Pot.Source,
		b.Melted, d.room)
	says := reason.Text(slices.Clone(tempering.Steps))
	for n, part := range b.Parts {
		if n > 0 && b.FreshPart(n) > 1e-9 {
			if name := first.stirred(part.Of); name != "" {
				says.Add("bench.stir-in", measure.ShowGrams(b.FreshPart(n)), reason.Name(name))
			}
		}
	}
	for _, from := range b.From {
		says.Add("bench.left-of-the-bowl-before", measure.ShowGrams(from.Grams))
	}
	if r := pot.Rewarm; r != nil && r.Cooled && b.Draws[0].Applied > 0 {
		says.Add("batch.about-go-in-then", reason.Int(r.Pieces), batch.WarmAgain(b.Pot.Method))
	}
	if first.Advice = says; b.Made() { // it has been melted
		return
	}
	melted := measure.Show(measure.Grams(b.Melted), measure.Substance{})
	of := pot.Chocolate
	setup := Setup{Hand: b.Hand, Pot: pot.Name, Chocolate: &of, Melt: &melted, For: names,
		Advice: first.Advice, Method: string(b.Pot.Method), Source: string(b.Pot.Source), Grams: b.Melted}
	setup.At, setup.Minutes = d.meltedAt(b, pot)
	setup.Pieces, setup.Coat, setup.Pool = d.dipped(b)
	n := d.at(first.Start)
	d.list[n].Setups = append(d.list[n].Setups, setup)
}

// dipped is how many pieces go through a bowl, what each of them takes, and what must stay in it to work from.
func (d *day) dipped(b *ledger.Planned) (pieces int, coat, pool si.Grams) {
	var on si.Grams
	for i := range b.Works {
		s := d.step(&b.Works[i])
		if s.role != treat.RoleCoat || !s.Counted {
			continue
		}
		of := s.begun
		if s.Round != nil {
			of = int(s.Round.Pieces)
		}
		pieces, on = pieces+of, on+b.Draws[i].Applied
	}
	if pieces > 0 {
		coat, pool = on.By(float64(pieces)), b.Pool
	}
	return pieces, coat, pool
}

// meltedAt is when a bowl is melted, and how many minutes of hands that takes: right before the step for which the plan
// does, one pot after the other where that needs several.
func (d *day) meltedAt(b *ledger.Planned, pot *batch.Pot) (at, minutes si.Minutes) {
	key := b.Pot.Key()
	for i := range d.steps {
		s := &d.steps[i]
		if s.Start != b.At || s.Hand != b.Hand || !slices.Contains(s.melts, key) {
			continue
		}
		at = s.Start - s.Melt
		for _, melts := range s.melts {
			minutes = s.changeover(melts)
			if melts == key {
				return at, minutes
			}
			at += minutes
		}
	}
	minutes = si.WholeMinutes(batch.Melting(b.Pot, pot.Chocolate, b.Draws[0].Minutes, b.Melted, d.room).Hands)
	return b.At - minutes, minutes
}

// changeover is the minutes of hands that the plan has for melting a pot right before the step.
func (s *Step) changeover(key ident.Pot) si.Minutes {
	if len(s.melts) == 1 {
		return s.Melt
	}
	if n := slices.IndexFunc(s.uses, func(u plan.Use) bool { return u.Pot == key }); n >= 0 {
		return s.uses[n].Changeover
	}
	return 0
}

// potOf an ingredient, from the step's card; nil where it has none.
func (s *Step) potOf(ingredient ident.Ingredient) *batch.Pot {
	if n := slices.IndexFunc(s.pots, func(p batch.Pot) bool { return p.Ingredient == ingredient }); n >= 0 {
		return &s.pots[n]
	}
	return nil
}

// stirred is the name of what is stirred into a bowl, as the card calls it.
func (s *Step) stirred(ingredient ident.Ingredient) string {
	for _, p := range s.pots {
		for _, x := range p.Stirred {
			if x.Ingredient == ingredient {
				return x.Name
			}
		}
	}
	return ""
}

// stands is how the i-th draw of a bowl finds it.
func stands(b *ledger.Planned, i int, name string, hold chocolate.Hold) reason.Text {
	d, before := &b.Draws[i], b.Works[i-1]
	if d.Trimmed > 0 {
		return nil
	}
	gap := b.Works[i].Start - before.End
	takes := measure.ShowGrams(d.Applied * (1 + ledger.OnTools))
	var says reason.Text
	switch hold.After(b.Before[i], float64(gap)) {
	case chocolate.Ready:
		if before.Batch == b.Works[i].Batch && b.TopUps[i] == 0 {
			return nil
		}
		says.Add("bench.pot-still-ready", takes, reason.Name(name))
	case chocolate.Warm:
		says.Add("bench.pot-to-warm", reason.Minutes(gap), batch.WarmAgain(b.Pot.Method), takes, reason.Name(name))
	default:
		says.Add("bench.pot-too-cold", reason.Minutes(gap), takes, reason.Name(name))
	}
	if more := b.TopUps[i]; more > 1e-9 {
		says.Add("bench.melt-more", measure.ShowGrams(more))
	}
	return says
}
