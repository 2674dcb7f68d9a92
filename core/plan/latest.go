package plan

import (
	"cmp"
	"slices"
)

// Shortfall says why a batch does not fit.
type Shortfall struct {
	Short   string // "hands": too few free minutes; "window": no session while it keeps; "wait": enough minutes, but what sets between them makes it late
	Day     int    // the day that comes closest, counted from minute 0; meaningless for "window"
	Minutes int    // by how many minutes it is short or late
	Need    int    // minutes of hands that the batch needs, set-up included
	Free    int    // minutes of hands that are free on Day before the batch must be ready
	First   int    // the first and the last minute in which it could be made
	Last    int
}

// Latest places a batch whole on the latest day with enough free minutes before it must be ready that its keeping time
// allows, each step as early on that day as the steps before it, the hands and the pots permit. Steps already taken stay
// where they are. Exactly one of the results is set.
func Latest(sessions []Session, pots []Pot, taken []Placed, b Batch) ([]Placed, *Shortfall) {
	earliest := max(b.NotBefore, b.ReadyBy-b.keeps())
	days := map[int][]Session{}
	for _, s := range sessions {
		from, to := max(s.From, b.NotBefore), min(s.To, b.ReadyBy)
		if from < to {
			day := from / DayMinutes
			days[day] = append(days[day], Session{from, to, s.Hands})
		}
	}
	short := &Shortfall{Short: "window", Need: need(pots, b), First: earliest, Last: b.ReadyBy}
	short.Minutes = short.Need
	order := make([]int, 0, len(days))
	for day := range days {
		order = append(order, day)
	}
	slices.SortFunc(order, func(a, b int) int { return cmp.Compare(b, a) })
	byDay := map[int][]Placed{}
	for _, p := range taken {
		if _, ours := days[p.Start/DayMinutes]; ours {
			byDay[p.Start/DayMinutes] = append(byDay[p.Start/DayMinutes], p)
		}
	}
	for _, day := range order {
		today, taken := days[day], byDay[day] // hands work within a day: those of other days are in no one's way
		if lastTo(today) <= b.ReadyBy-b.keeps() {
			break
		}
		free := Free(today, taken)
		kind, gap := "hands", short.Need-free
		if gap <= 0 {
			l := layout{sessions: today, pots: pots, taken: slices.Clone(taken)}
			placed, end := l.lay(b)
			if placed != nil && end <= b.ReadyBy {
				return placed, nil
			}
			kind, gap = "wait", late(today, pots, taken, b)
		}
		if short.Short == "window" || gap < short.Minutes {
			*short = Shortfall{kind, day, gap, short.Need, free, earliest, b.ReadyBy}
		}
	}
	return nil, short
}

// late is how long after the last session, or after the batch must be ready, it would be done if the last session went on.
func late(sessions []Session, pots []Pot, taken []Placed, b Batch) int {
	longer := slices.Clone(sessions)
	last := 0
	for i, s := range longer {
		if s.To > longer[last].To {
			last = i
		}
	}
	closes := longer[last].To
	longer[last].To += DayMinutes
	l := layout{sessions: longer, pots: pots, taken: slices.Clone(taken)}
	placed, end := l.lay(b)
	over := end - b.ReadyBy
	for _, p := range placed {
		over = max(over, p.To()-closes)
	}
	return max(over, 1)
}

// Free is how many minutes of hands the sessions have beside what is taken.
func Free(sessions []Session, taken []Placed) int {
	free := 0
	for _, s := range sessions {
		free += (s.To - s.From) * s.Hands
		for _, p := range taken {
			if p.Hand < s.Hands {
				free -= max(0, min(p.To(), s.To)-max(p.From(), s.From))
			}
		}
	}
	return max(free, 0)
}

func lastTo(sessions []Session) int {
	last := 0
	for _, s := range sessions {
		last = max(last, s.To)
	}
	return last
}

// need is the least hands that the batch can be made with: all its steps and each of its pots once.
func need(pots []Pot, b Batch) int {
	total, seen := 0, map[string]bool{"": true}
	for _, s := range b.Steps {
		total += s.Hands
		if !seen[s.Pot] {
			total += potOf(pots, s.Pot).Changeover
			seen[s.Pot] = true
		}
	}
	return total
}

func potOf(pots []Pot, id string) Pot {
	for _, p := range pots {
		if p.ID == id {
			return p
		}
	}
	return Pot{ID: id}
}

// layout lays steps into the gaps of one day.
type layout struct {
	sessions []Session
	pots     []Pot
	taken    []Placed
}

// lay places all steps of b and says when the last of them ends; nil when one finds no gap.
func (l *layout) lay(b Batch) (placed []Placed, end int) {
	ends := map[string]int{}
	for _, step := range b.Steps {
		from, latest := b.NotBefore, 1<<60
		if step.ID == b.FreshFrom {
			from = max(from, b.ReadyBy-b.keeps())
		}
		for _, a := range step.After {
			from = max(from, ends[a.Step]+a.Min)
			if a.Max != nil {
				latest = min(latest, ends[a.Step]+*a.Max)
			}
		}
		p, ok := l.gap(step, from)
		if !ok || p.Start > latest {
			return nil, 0
		}
		p.Batch = b.ID
		placed = append(placed, p)
		l.taken = append(l.taken, p)
		ends[step.ID] = p.End()
		end = max(end, p.End())
	}
	return placed, end
}

// gap is the earliest place of a step at or after from.
func (l *layout) gap(step Step, from int) (best Placed, found bool) {
	for _, s := range l.sessions {
		for hand := range s.Hands {
			if p, ok := l.gapOf(step, from, s, hand); ok && (!found || p.Start < best.Start) {
				best, found = p, true
			}
		}
	}
	return best, found
}

func (l *layout) gapOf(step Step, from int, s Session, hand int) (Placed, bool) {
	var mine []Placed
	for _, p := range l.taken {
		if p.Hand == hand && p.To() > s.From && p.From() < s.To {
			mine = append(mine, p)
		}
	}
	slices.SortFunc(mine, func(a, b Placed) int { return cmp.Compare(a.From(), b.From()) })
	// Between the i-1st and the i-th of mine is a gap.
	free, before := s.From, (*Placed)(nil)
	for i := 0; i <= len(mine); i++ {
		until, next := s.To, (*Placed)(nil)
		if i < len(mine) {
			until, next = mine[i].From(), nextPot(mine[i:])
		}
		p := Placed{Step: step.ID, Hand: hand, Hands: step.Hands, Wait: step.Wait, Pot: step.Pot, Start: max(from, free)}
		if step.Pot != "" {
			pot := potOf(l.pots, step.Pot)
			if before == nil || before.Pot != step.Pot || p.Start > before.To()+pot.Holds {
				// Melting may begin while the step before it still waits.
				p.Changeover = pot.Changeover
				p.Start = max(from, free+pot.Changeover)
			}
		}
		spoils := step.Pot != "" && next != nil && next.Changeover == 0 && next.Pot != step.Pot
		if p.To() <= until && !spoils {
			return p, true
		}
		if i < len(mine) {
			free = max(free, mine[i].To())
			if mine[i].Pot != "" {
				before = &mine[i]
			}
		}
	}
	return Placed{}, false
}

// nextPot is the first of the steps that works with chocolate.
func nextPot(steps []Placed) *Placed {
	for i := range steps {
		if steps[i].Pot != "" {
			return &steps[i]
		}
	}
	return nil
}
