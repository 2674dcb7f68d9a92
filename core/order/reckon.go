package order

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/treat"
)

// Treat is one of the book, with the formula of the version that counts; nil when none has been written.
type Treat struct {
	ID      string
	Name    string
	Version int
	Formula *treat.Formula
	Mixes   map[string]treat.Mix // as they were when the version was written
}

// Kitchen is what the reckoning must know beside the order.
type Kitchen struct {
	treat.Kitchen
	Rates    price.Rates
	Supplies map[string]box.Supply
	Treats   map[string]Treat
	Calendar plan.Calendar
	Now      time.Time
	Sessions []plan.Session
	Taken    []plan.Placed // the steps of all other promised orders
}

// Reckoning is all that follows from an order.
type Reckoning struct {
	Lines    []LineCard `json:"lines"`
	Pots     []Pot      `json:"pots"`
	Needs    []Need     `json:"needs"`
	Packs    []box.Need `json:"packs"`
	Hands    int        `json:"hands" doc:"Minutes of hands"`
	Wait     int        `json:"wait" doc:"Minutes of waiting"`
	HandsWhy treat.Why  `json:"handsWhy"`
	Money    Sum        `json:"money"`
	When     When       `json:"when"`
	Care     []Caution  `json:"care"`
}

// LineCard is a line with its batch card.
type LineCard struct {
	Treat   string      `json:"treat"`
	Name    string      `json:"name"`
	Version int         `json:"version"`
	Count   int         `json:"count"`
	Card    *treat.Card `json:"card"`
}

// Pot is one chocolate over all lines.
type Pot struct {
	Ingredient string         `json:"ingredient"`
	Name       string         `json:"name"`
	Chocolate  food.Chocolate `json:"chocolate"`
	Melted     measure.Shown  `json:"melted"`
	Used       measure.Shown  `json:"used"`
	Reclaimed  measure.Shown  `json:"reclaimed"`
	Why        treat.Why      `json:"why"`
}

// Need is one ingredient over all lines.
type Need struct {
	Ingredient string        `json:"ingredient"`
	Name       string        `json:"name"`
	Used       measure.Shown `json:"used"`
	House      measure.Shown `json:"house"`
	Cost       price.Money   `json:"cost"`
	Why        treat.Why     `json:"why"`
}

// Amount is a sum of money and how it came about.
type Amount struct {
	price.Money
	Why treat.Why `json:"why"`
}

// Sum is the money of an order.
type Sum struct {
	Ingredients Amount  `json:"ingredients"`
	Packaging   Amount  `json:"packaging"`
	Hands       Amount  `json:"hands"`
	Overhead    Amount  `json:"overhead"`
	Total       Amount  `json:"total"`
	AtMargin    Amount  `json:"atMargin" doc:"The price at the target margin"`
	Asked       Amount  `json:"asked" doc:"The price that counts: the one asked, else the one at the target margin"`
	Left        Amount  `json:"left" doc:"Asked less the total cost; negative when it costs more than it brings"`
	PerHour     *Amount `json:"perHour,omitempty" doc:"What it pays for an hour of hands after everything else"`
}

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

// Caution is something to take care of.
type Caution struct {
	Trouble bool   `json:"trouble" doc:"It breaks a wish of the order; otherwise a thing to keep in mind"`
	Text    string `json:"text"`
}

// Reckon computes all that follows from a draft. The words and the window need not be complete, the lines must be right:
// the error is an *invalid.Error with JSON paths from the draft.
func Reckon(d *Draft, k *Kitchen) (*Reckoning, error) {
	var faults invalid.Faults
	faults.Under("", d.CheckLines(k.Treats))
	asked := decimal.Zero
	if d.Asked != "" {
		var err error
		if asked, err = price.Read(d.Asked, k.Rates.Currency); err != nil {
			faults.Add("asked", err.Error())
		}
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	r := &Reckoning{Lines: []LineCard{}, Pots: []Pot{}, Needs: []Need{}}
	var cards []*treat.Card
	for i, l := range d.Lines {
		t := k.Treats[l.Treat]
		card, err := treat.Compute(t.Formula, l.Count, k.With(t.Mixes))
		if err != nil {
			var faults invalid.Faults
			faults.Under(fmt.Sprintf("lines[%d].count", i), err)
			return nil, faults.Err()
		}
		cards = append(cards, card)
		r.Lines = append(r.Lines, LineCard{l.Treat, t.Name, t.Version, l.Count, card})
		r.Hands += card.Hands
		r.Wait += card.Wait
	}
	r.HandsWhy = r.handsWhy()
	ingredients := r.sumNeeds(k)
	r.sumPots()
	r.Packs = box.Against(cards, k.Supplies)
	packaging := decimal.Zero
	for _, p := range r.Packs {
		packaging = packaging.Add(p.Cost.Round(price.Decimals(k.Rates.Currency)))
	}
	r.Money = r.sum(price.CostOf(ingredients, packaging, r.Hands, k.Rates), d.Asked != "", asked, k.Rates)
	r.When = r.when(d, k)
	r.Care = r.care(d, k)
	return r, nil
}

func (r *Reckoning) handsWhy() string {
	parts := []string{}
	for _, l := range r.Lines {
		parts = append(parts, fmt.Sprintf("%s %s", l.Name, measure.Minutes(l.Card.Hands)))
	}
	return strings.Join(parts, ", ") + ": " + measure.Minutes(r.Hands) + ", melting included. Waiting needs no hands."
}

// sumNeeds adds the ingredients of all lines and returns their cost, each ingredient rounded.
func (r *Reckoning) sumNeeds(k *Kitchen) decimal.Decimal {
	at, total := map[string]int{}, decimal.Zero
	costs := []decimal.Decimal{}
	for _, l := range r.Lines {
		for _, n := range l.Card.Needs {
			known := k.Ingredients[n.Ingredient]
			i, seen := at[n.Ingredient]
			if !seen {
				at[n.Ingredient] = len(r.Needs)
				costs = append(costs, n.Cost)
				r.Needs = append(r.Needs, Need{Ingredient: n.Ingredient, Name: n.Name, Used: n.Used, House: n.House, Why: l.Name + ": " + n.Why})
				continue
			}
			have := &r.Needs[i]
			costs[i] = costs[i].Add(n.Cost)
			have.Used = measure.Show(measure.Of(have.Used.Amount+n.Used.Amount, known.Unit), known.Substance)
			have.House = measure.Show(measure.Of(have.House.Amount+n.House.Amount, known.Unit), known.Substance)
			have.Why += " " + l.Name + ": " + n.Why
		}
	}
	for i := range r.Needs {
		r.Needs[i].Cost = price.In(k.Rates.Currency, costs[i])
		total = total.Add(costs[i].Round(price.Decimals(k.Rates.Currency)))
	}
	return total
}

func (r *Reckoning) sumPots() {
	at := map[string]int{}
	for _, l := range r.Lines {
		for _, p := range l.Card.Pots {
			why := l.Name + ": " + p.Why + " " + p.Advice
			i, seen := at[p.Ingredient]
			if !seen {
				at[p.Ingredient] = len(r.Pots)
				r.Pots = append(r.Pots, Pot{p.Ingredient, p.Name, p.Chocolate, p.Melted, p.Used, p.Reclaimed, why})
				continue
			}
			have := &r.Pots[i]
			add := func(a, b measure.Shown) measure.Shown {
				return measure.Show(measure.Grams(a.Amount+b.Amount), measure.Substance{})
			}
			have.Melted, have.Used, have.Reclaimed = add(have.Melted, p.Melted), add(have.Used, p.Used), add(have.Reclaimed, p.Reclaimed)
			have.Why += " " + why
		}
	}
}

func (r *Reckoning) sum(c price.Cost, given bool, asked decimal.Decimal, rates price.Rates) Sum {
	money := func(d decimal.Decimal, why string, args ...any) Amount {
		return Amount{price.In(rates.Currency, d), fmt.Sprintf(why, args...)}
	}
	text := func(d decimal.Decimal) string { return price.In(rates.Currency, d).Amount }
	atMargin := price.AtMargin(c, rates)
	s := Sum{
		Ingredients: money(c.Ingredients, "What is used up of %d ingredients, at the price last paid; reclaimed chocolate is not counted.", len(r.Needs)),
		Packaging:   money(c.Packaging, "%d kinds of packaging, piece by piece.", len(r.Packs)),
		Hands:       money(c.Hands, "%s of hands at %s an hour.", measure.Minutes(r.Hands), text(rates.Hourly)),
		Overhead:    money(c.Overhead, "%s at %s an hour for heat, light and wear.", measure.Minutes(r.Hands), text(rates.Overhead)),
		Total: money(c.Total(), "Ingredients %s + packaging %s + hands %s + overhead %s.",
			text(c.Ingredients), text(c.Packaging), text(c.Hands), text(c.Overhead)),
		AtMargin: money(atMargin, "Cost %s, of which the price is to leave %s: %s / (1 - %s).",
			text(c.Total()), measure.Percent(rates.Margin.InexactFloat64()), text(c.Total()), rates.Margin.String()),
	}
	if !given {
		asked = atMargin
		s.Asked = s.AtMargin
	} else {
		s.Asked = money(asked, "The price you set. At your target margin it would be %s.", text(atMargin))
	}
	s.Left = money(asked.Sub(c.Total()), "Price %s less cost %s.", text(asked), text(c.Total()))
	if pay, ok := price.PayPerHour(asked, c, r.Hands, rates); ok {
		amount := money(pay, "Price %s less ingredients %s, packaging %s and overhead %s, over %s of hands.",
			text(asked), text(c.Ingredients), text(c.Packaging), text(c.Overhead), measure.Minutes(r.Hands))
		s.PerHour = &amount
	}
	return s
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
		placed, short := plan.Latest(k.Sessions, pots, taken, plan.Batch{
			ID: fmt.Sprint(i), NotBefore: k.Calendar.Minute(k.Now), ReadyBy: k.Calendar.Minute(d.From),
			Keeps: card.Keeps * 60, FreshFrom: card.FreshFrom, Steps: steps,
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

func (r *Reckoning) care(d *Draft, k *Kitchen) []Caution {
	list, all := []Caution{}, []string{}
	for _, l := range r.Lines {
		for _, a := range l.Card.Allergens {
			for _, wish := range d.FreeFrom {
				if !food.Breaks(a, wish) {
					continue
				}
				from := []string{}
				for _, n := range l.Card.Needs {
					if slices.Contains(k.Ingredients[n.Ingredient].Allergens, a) {
						from = append(from, n.Name)
					}
				}
				list = append(list, Caution{true, fmt.Sprintf("%s contain %s (%s), and the order must be free from it.", l.Name, wish, strings.Join(from, ", "))})
			}
			if !slices.Contains(all, a) {
				all = append(all, a)
			}
		}
	}
	if len(d.FreeFrom) > 0 {
		list = append(list, Caution{false, "A home kitchen is shared: make the free-from work first or after a full wash-down, with clean tools, and tell the customer so."})
	}
	if len(all) > 0 {
		slices.Sort(all)
		list = append(list, Caution{false, "Contains, from the recipes: " + strings.Join(all, ", ") + "."})
	}
	families := map[treat.Family]bool{}
	for _, l := range r.Lines {
		families[l.Card.Family] = true
	}
	if families[treat.Bomb] {
		list = append(list, Caution{false, "Serve bombs with milk at 82 to 88 °C (180 to 190 °F), not boiling; an adult pours."})
	}
	said := map[string]bool{}
	for _, l := range r.Lines {
		for _, care := range l.Card.Care {
			if !said[care] {
				list = append(list, Caution{false, care})
			}
			said[care] = true
		}
	}
	return list
}
