package bench

import (
	"cmp"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/treat"
)

// pause is how many minutes work outside of the hours may stand still.
const pause = 120

// sessions of a day: the hours that people work, with what is set up in them. Work outside of the hours, on a day that was changed since, makes a time of its own.
func sessions(hours []plan.Session, steps []Step, room float64) []Session {
	list := []Session{}
	for _, h := range hours {
		list = append(list, Session{From: h.From, To: h.To, People: h.Hands, Setups: []Setup{}, Looks: []Look{}})
	}
	at := func(minute int) *Session {
		for i := range list {
			s, own := &list[i], i >= len(hours) // a pause does not end a time of its own
			if s.From <= minute && (minute < s.To || own && minute <= s.To+pause) {
				return s
			}
		}
		list = append(list, Session{From: minute, To: minute, Setups: []Setup{}, Looks: []Look{}})
		return &list[len(list)-1]
	}
	type bowl struct {
		hand int
		id   string
	}
	melts := map[bowl]*melt{}
	var all []*melt
	for i := range steps {
		s := &steps[i]
		of := at(s.Start)
		of.Ends = max(of.Ends, s.Start+s.Hands)
		of.To, of.People = max(of.To, s.Start+s.Hands), max(of.People, s.Hand+1)
		if s.Wash > 0 && s.DoneAt == nil {
			of.Setups = append(of.Setups, Setup{At: s.Start - s.Melt - s.Wash, Minutes: s.Wash, Hand: s.Hand, Wash: true, For: []string{s.Treat}})
		}
		if s.Wait > 0 {
			of.Looks = append(of.Looks, Look{s.Start + s.Hands + s.Wait, s.Place, s.Name, s.Treat, s.For})
		}
		if s.pot == nil {
			continue
		}
		key := bowl{s.Hand, s.pot.Ingredient}
		m := melts[key]
		if m == nil || s.Melt > 0 {
			m = &melt{}
			melts[key] = m
			all = append(all, m)
		}
		m.steps = append(m.steps, s)
	}
	for _, m := range all {
		// What is warm still from before has no melt on this sheet, and what is done needs none.
		if m.steps[0].Melt > 0 && slices.ContainsFunc(m.steps, func(s *Step) bool { return s.DoneAt == nil }) {
			of := at(m.steps[0].Start)
			of.Setups = append(of.Setups, m.setup(room))
		}
	}
	for i := range list {
		slices.SortStableFunc(list[i].Setups, func(a, b Setup) int { return cmp.Compare(a.At, b.At) })
		slices.SortStableFunc(list[i].Looks, func(a, b Look) int { return cmp.Compare(a.At, b.At) })
	}
	slices.SortStableFunc(list, func(a, b Session) int { return cmp.Compare(a.From, b.From) })
	return list
}

// melt is the steps that work from one pot until it is melted again.
type melt struct{ steps []*Step }

// setup of a melt. The step that it is melted for is told how, and of others the first step of a batch that they need not melt.
func (m *melt) setup(room float64) Setup {
	first := m.steps[0]
	shares := map[uuid.UUID]*treat.Share{}
	names := []string{}
	for _, s := range m.steps {
		if shares[s.Batch] == nil {
			shares[s.Batch] = &treat.Share{Pot: s.pot}
		}
		shares[s.Batch].Of += s.share
		if !slices.Contains(names, s.Treat) {
			names = append(names, s.Treat)
		}
	}
	list := []treat.Share{}
	told := map[uuid.UUID]bool{}
	for _, s := range m.steps { // in the order of the day, so that the sums are alike each time
		if told[s.Batch] {
			continue
		}
		told[s.Batch] = true
		share := shares[s.Batch]
		list = append(list, *share)
		if s.Melt == 0 && s.Batch != first.Batch {
			more := measure.Show(measure.Grams(s.pot.Used.Amount*share.Of), measure.Substance{})
			s.Advice = fmt.Sprintf("The pot is still ready from the step before, with %s (%s) of %s in it for this.", more.Metric, more.US, s.pot.Name)
		}
	}
	melted, advice := treat.MeltFor(list, room)
	chocolate := first.pot.Chocolate
	if first.Advice = advice; first.pot.Rewarm != nil && first.pot.Rewarm.Cooled {
		first.Advice += fmt.Sprintf(" About %d go in, then warm it for 5 to 10 s.", first.pot.Rewarm.Pieces)
	}
	return Setup{At: first.Start - first.Melt, Minutes: first.Melt, Hand: first.Hand, Pot: first.pot.Name, Chocolate: &chocolate, Melt: &melted, For: names, Advice: first.Advice}
}
