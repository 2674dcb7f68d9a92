package ledger

import (
	"cmp"
	"math"
	"slices"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// Worked is a step in its place in a plan, as far as bowls go. Times are minutes of any calendar.
type Worked struct {
	Batch      ident.Batch
	Step       ident.Step
	Day        string      // whose run sheet it stands on: work past midnight is on the sheet of the day on which it began
	Session    int         // the time of work that it is in
	Hand       int         // the person: a bowl belongs to one
	Start, End si.Minutes  // of its hands
	Melts      []ident.Pot // keys of the pots that are melted right before it, which it may need only later
	Draw       *Draw       // nil where it takes nothing and gives nothing back
	FreeFrom   []string    // allergens that must not touch it
	Done       *si.Minutes // minute at which it was ticked; nil: it is still to be done
	DoneOn     string      // the day of that

	alone bool // it was done at another time than planned: from a bowl of its batch's own, as far as one knows
	waits bool // and more of its batch is to be worked from such a bowl
}

// elsewhere is how many minutes after its planned end a step counts as done at another time than it was planned for:
// not the same evening.
const elsewhere = 12 * 60

// moved are works in which what was done before it was planned, or on another day, stands where it was done: it was not
// worked from the bowl that the plan has for it.
func moved(works []Worked) []Worked {
	works = slices.Clone(works)
	type chocolate struct {
		batch ident.Batch
		pot   ident.Pot
	}
	open := map[chocolate]bool{}
	for i := range works {
		if w := &works[i]; w.Draw != nil && w.Done == nil {
			open[chocolate{w.Batch, w.Draw.Pot.Key()}] = true
		}
	}
	for i := range works {
		w := &works[i]
		if w.Done == nil || *w.Done >= w.Start && *w.Done < w.End+elsewhere {
			continue
		}
		w.Start, w.End, w.Day = *w.Done-(w.End-w.Start), *w.Done, w.DoneOn
		w.Session = -1000 + floorDay(w.Start)
		w.alone, w.waits = true, w.Draw != nil && open[chocolate{w.Batch, w.Draw.Pot.Key()}]
	}
	return works
}

// floorDay of a minute, which may lie before the calendar's first.
func floorDay(minute si.Minutes) int { return int(math.Floor(float64(minute) / (24 * 60))) }

// Planned is a bowl of a plan: a melt, and the steps that work from it.
type Planned struct {
	Melt
	Works []Worked   // one for each draw
	At    si.Minutes // minute of the start of the step that it is melted for
	Hand  int
}

// Bowls of a plan. A bowl belongs to one person and one time of work, and begins where the plan melts it; a paler
// colour after a deeper one, and what must be free from what the bowl has touched, get a bowl of their own. What was
// done at another time than planned had one then. They are returned in the order in which they are melted.
func Bowls(works []Worked) []Planned {
	works = moved(works)
	slices.SortStableFunc(works, func(a, b Worked) int {
		return cmp.Or(cmp.Compare(a.Start, b.Start),
			cmp.Compare(a.Hand, b.Hand))
	})
	type place struct {
		key           ident.Pot
		session, hand int
		batch         ident.Batch // of what was worked alone
	}
	placed := func(w *Worked, key ident.Pot) place {
		if w.alone {
			return place{key, w.Session, w.Hand, w.Batch}
		}
		return place{key, w.Session, w.Hand, ""}
	}
	type melted struct {
		at    si.Minutes
		bowl  int // -1: nothing has been drawn from it yet
		works []Worked
		deep  float64
		touch []string
		free  []string
	}
	open := map[place]*melted{}
	var all []*melted
	for _, w := range works {
		for _, key := range w.Melts {
			open[placed(&w, key)] = &melted{at: w.Start, bowl: -1}
		}
		d := w.Draw
		if d == nil {
			continue
		}
		at := placed(&w, d.Pot.Key())
		m := open[at]
		clash := m != nil && slices.ContainsFunc(w.FreeFrom, func(a string) bool { return slices.Contains(m.touch, a) })
		if m == nil || clash || d.Applied > 0 && d.Colour < m.deep {
			m = &melted{at: w.Start, bowl: -1}
			open[at] = m
		}
		if m.bowl < 0 {
			m.bowl = len(all)
			all = append(all, m)
		}
		m.works, m.deep = append(m.works, w), max(m.deep, d.Colour)
		m.touch, m.free = union(m.touch, d.Touches), union(m.free, w.FreeFrom)
	}
	list := make([]Planned, len(all))
	for i, m := range all {
		draws := make([]Draw, len(m.works))
		for n, w := range m.works {
			draws[n] = *w.Draw
		}
		first := m.works[0]
		list[i] = Planned{Melt: Melt{Bowl: Open(draws), Of: string(first.Batch) + "/" + string(first.Step),
			Day: first.Day, FreeFrom: m.free}, Works: m.works, At: m.at, Hand: first.Hand}
	}
	slices.SortStableFunc(list, func(a, b Planned) int {
		return cmp.Or(cmp.Compare(a.At, b.At),
			cmp.Compare(a.Hand, b.Hand))
	})
	return list
}

// Made tells whether the bowl has been melted: the first step that works from it is done.
func (p *Planned) Made() bool { return p.Works[0].Done != nil }

// Over tells whether all that works from it is done.
func (p *Planned) Over() bool {
	return !slices.ContainsFunc(p.Works, func(w Worked) bool { return w.Done == nil || w.waits })
}

// UsedBy is what the steps of a batch use of the bowl, with tools and less what is trimmed off.
func (p *Planned) UsedBy(batch ident.Batch) si.Grams {
	var sum si.Grams
	for i := range p.Works {
		if p.Works[i].Batch == batch {
			sum += p.Draws[i].takes() - p.Draws[i].Trimmed
		}
	}
	return sum
}

func union(list, more []string) []string {
	for _, x := range more {
		if !slices.Contains(list, x) {
			list = append(slices.Clip(list), x)
		}
	}
	return list
}
