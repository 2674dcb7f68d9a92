package order

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/treat"
)

// When is on which days it would be made, or why it does not fit.
type When struct {
	Fits    bool      `json:"fits"`
	Text    string    `json:"text" doc:"One sentence"`
	Batches []Batch   `json:"batches"`
	Short   []Missing `json:"short"`
}

// Batch is a line that found its day.
type Batch struct {
	Line   int           `json:"line" doc:"Index of the line"`
	Day    string        `json:"day" format:"date"`
	Free   int           `json:"free" doc:"Minutes of hands that stay free on that day"`
	Hands  int           `json:"hands" doc:"Minutes of hands on that day, melting included"`
	Family treat.Family  `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Pot    string        `json:"pot" doc:"Name of its main chocolate; empty when none is melted"`
	Steps  []plan.Placed `json:"-"`
}

// Missing is a line that found no day.
type Missing struct {
	Line    int    `json:"line"`
	Short   string `json:"short" doc:"hands, wait or window"`
	Day     string `json:"day,omitempty" format:"date" doc:"The day that comes closest"`
	Minutes int    `json:"minutes"`
	Need    int    `json:"need"`
	Free    int    `json:"free"`
	Text    string `json:"text"`
}

// when gives every line a day by the simple rule, what keeps shortest first, since it has the least choice.
func (r *Reckoning) when(d *Draft, k *Kitchen) When {
	w := When{Batches: []Batch{}, Short: []Missing{}}
	if len(r.Lines) == 0 {
		w.Text = "Add a treat to see when it can be made."
		return w
	}
	if d.From.IsZero() || d.CheckWindow(k.Now) != nil {
		w.Text = "Choose a day and a window that are still to come to see when it can be made."
		return w
	}
	pots, taken := pots(k.Ingredients), slices.Clone(k.Taken)
	order := make([]int, len(r.Lines))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(r.Lines[a].Card.Keeps, r.Lines[b].Card.Keeps) })
	for _, i := range order {
		card := r.Lines[i].Card
		steps := make([]plan.Step, len(card.Steps))
		for j, s := range card.Steps {
			steps[j] = s.Step
		}
		keeps := card.Keeps * 60
		placed, short := plan.Latest(k.Sessions, pots, taken, plan.Batch{
			ID: fmt.Sprint(i), NotBefore: k.Calendar.Minute(k.Now), ReadyBy: k.Calendar.Minute(d.From),
			Keeps: &keeps, FreshFrom: card.FreshFrom, Steps: steps,
		})
		if short != nil {
			w.Short = append(w.Short, missing(i, r.Lines[i], short, k.Calendar))
			continue
		}
		taken = append(taken, placed...)
		b := Batch{Line: i, Family: card.Family, Steps: placed, Day: k.Calendar.Date(placed[0].Start / plan.DayMinutes)}
		if len(card.Pots) > 0 {
			b.Pot = card.Pots[0].Name
		}
		for _, p := range placed {
			b.Hands += p.Hands + p.Changeover
		}
		w.Batches = append(w.Batches, b)
	}
	for i := range w.Batches {
		day := w.Batches[i].Steps[0].Start / plan.DayMinutes
		w.Batches[i].Free = plan.Free(onDay(k.Sessions, day), taken)
	}
	slices.SortFunc(w.Batches, func(a, b Batch) int { return cmp.Or(cmp.Compare(a.Day, b.Day), cmp.Compare(a.Line, b.Line)) })
	w.Fits = len(w.Short) == 0
	w.Text = r.whenText(w, k.Calendar)
	return w
}

func (r *Reckoning) whenText(w When, cal plan.Calendar) string {
	if !w.Fits {
		texts := make([]string, len(w.Short))
		for i, s := range w.Short {
			texts[i] = s.Text
		}
		return strings.Join(texts, " ")
	}
	parts := []string{}
	for _, b := range w.Batches {
		parts = append(parts, r.Lines[b.Line].Name+" "+cal.DayName(b.Steps[0].Start/plan.DayMinutes))
	}
	last := w.Batches[len(w.Batches)-1]
	return fmt.Sprintf("It fits. %s. %s of %s stay free.", strings.Join(parts, ", "), measure.Minutes(last.Free), cal.DayName(last.Steps[0].Start/plan.DayMinutes))
}

func missing(i int, l LineCard, s *plan.Shortfall, cal plan.Calendar) Missing {
	m := Missing{Line: i, Short: s.Short, Minutes: s.Minutes, Need: s.Need, Free: s.Free}
	what := fmt.Sprintf("%d %s", l.Count, l.Name)
	if s.Short != "window" {
		m.Day = cal.Date(s.Day)
	}
	switch s.Short {
	case "hands":
		m.Text = fmt.Sprintf("%s of hands short on %s: %s need %s, %s are free.",
			measure.Minutes(s.Minutes), cal.DayName(s.Day), what, measure.Minutes(s.Need), measure.Minutes(s.Free))
	case "wait":
		m.Text = fmt.Sprintf("%s has the hands for %s, but with what sets in between it would be done %s too late.", cal.DayName(s.Day), what, measure.Minutes(s.Minutes))
	default:
		m.Text = fmt.Sprintf("No time to work between %s and the handover: %s need %s of hands and keep %s.",
			cal.Time(s.First).Format("Mon 2, 15:04"), what, measure.Minutes(s.Need), keeps(l.Card.Keeps))
	}
	return m
}

func keeps(hours int) string {
	if hours%24 == 0 && hours > 24 {
		return fmt.Sprintf("%d days", hours/24)
	}
	return fmt.Sprintf("%d hours", hours)
}

func onDay(sessions []plan.Session, day int) []plan.Session {
	var today []plan.Session
	for _, s := range sessions {
		if s.From/plan.DayMinutes == day {
			today = append(today, s)
		}
	}
	return today
}

// pots of the planner: every chocolate of the larder.
func pots(ingredients map[string]food.Ingredient) []plan.Pot {
	var list []plan.Pot
	for id, known := range ingredients {
		if known.Chocolate != nil {
			setup, holds := chocolate.Setup(known.Chocolate.Kind)
			list = append(list, plan.Pot{ID: id, Changeover: setup, Holds: holds})
		}
	}
	return list
}
