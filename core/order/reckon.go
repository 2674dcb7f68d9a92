package order

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/larder"
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
	Market  *Market              // nil where the seller has not looked
}

// Kitchen is what the reckoning must know beside the order.
type Kitchen struct {
	treat.Kitchen
	Rates    price.Rates
	Terms    price.Terms
	Stock    map[string]larder.Stock // of each ingredient, what no other promised order will take
	Supplies map[string]box.Supply
	Treats   map[string]Treat
	Calendar plan.Calendar
	Now      time.Time
	Work     Work
	Standing Standing
	Rough    bool // whether it fits is all that is asked of the plan
}

// Standing is what is settled already of the order that is reckoned; the zero value for a new one.
type Standing struct {
	Written time.Time        // when it was written; notice counts from there
	Agreed  *decimal.Decimal // the price that was quoted
}

// Scope is how much of a kitchen a reckoning needs.
type Scope struct {
	Until time.Time // the days to then; none when it has passed
	From  time.Time // the days from then on; zero: from today on
	Lines []Line    // the stock of what they take; nil: all stock
}

// Items are the ingredients, mixes and kinds of packaging that lines take, by id, each once.
func (k *Kitchen) Items(lines []Line) []string {
	items := []string{}
	seen := map[string]bool{}
	add := func(id string) {
		if !seen[id] {
			seen[id] = true
			items = append(items, id)
		}
	}
	for _, l := range lines {
		t := k.Treats[l.Treat]
		if t.Formula == nil {
			continue
		}
		own, formula := k.With(t.Mixes), t.Formula
		if coated, err := k.formula(l); err == nil {
			formula = coated
		}
		for _, id := range formula.Items() {
			for _, used := range own.Uses(id) {
				add(used)
			}
		}
		for _, p := range t.Formula.Packs {
			add(p.Supply)
		}
	}
	return items
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
	Coating bool        `json:"coating,omitempty" doc:"It is made in coating instead of couverture"`
	Card    *treat.Card `json:"card"`
	Cost    price.Money `json:"cost" doc:"Its share of the order's cost; the shares of all lines add up to it"`
	Price   price.Money `json:"price" doc:"Its share of the price asked"`
	Market  *Stand      `json:"market,omitempty" doc:"Where its price stands in the seller's own market"`
}

// Part of a line that is made in a batch, with its share of cost and price; the whole line where it is made in one.
func (l LineCard) Part(b Batch) LineCard {
	if b.Part == 0 {
		return l
	}
	share := func(m price.Money) price.Money {
		return price.In(m.Currency, decimal.RequireFromString(m.Amount).Mul(decimal.NewFromInt(int64(b.Count))).Div(decimal.NewFromInt(int64(l.Count))))
	}
	l.Cost, l.Price, l.Count, l.Card = share(l.Cost), share(l.Price), b.Count, b.Card
	return l
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

// Caution is something to take care of.
type Caution struct {
	Trouble bool   `json:"trouble" doc:"It breaks a wish of the order; otherwise a thing to keep in mind"`
	Text    string `json:"text"`
}

// Reckon computes all that follows from a draft. The words and the window need not be complete, the lines and the price must be
// right: the error is an *invalid.Error with JSON paths from the draft.
func Reckon(ctx context.Context, d *Draft, k *Kitchen) (*Reckoning, error) {
	var faults invalid.Faults
	faults.Under("", d.CheckLines(k.Treats))
	faults.Under("", d.CheckPrice(k.Rates.Currency))
	if err := faults.Err(); err != nil {
		return nil, err
	}
	r := &Reckoning{Lines: []LineCard{}, Pots: []Pot{}, Needs: []Need{}}
	var cards []*treat.Card
	for i, l := range d.Lines {
		t := k.Treats[l.Treat]
		if _, err := k.formula(l); err != nil {
			return nil, &invalid.Error{Fields: []invalid.Field{{Path: fmt.Sprintf("lines[%d].coating", i), Says: err.Error()}}}
		}
		card, err := compute(l, k)
		if err != nil {
			var faults invalid.Faults
			faults.Under(fmt.Sprintf("lines[%d].count", i), err)
			return nil, faults.Err()
		}
		cards = append(cards, card)
		r.Lines = append(r.Lines, LineCard{Treat: l.Treat, Name: t.Name, Version: t.Version, Count: l.Count, Coating: l.Coating, Card: card})
		r.Wait += card.Wait
	}
	r.together(k)
	r.sumNeeds(k)
	r.sumPots()
	r.Packs = box.Against(cards, k.Supplies)
	var err error
	if r.When, err = r.when(ctx, d, k); err != nil {
		return nil, err
	}
	if err := r.money(d, k); err != nil {
		return nil, err
	}
	r.Care = r.care(d, k)
	return r, nil
}

// CardOf a line as it is made by a version of its treat; the error is an *invalid.Error where that version is not in the kitchen, or so much cannot be made in one go.
func (k *Kitchen) CardOf(l Line, version int) (*treat.Card, error) {
	if t := k.Treats[l.Treat]; t.Formula == nil || t.Version != version {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "version", Says: fmt.Sprintf("Version %d of this treat is not there.", version)}}}
	}
	return compute(l, k)
}

// compute the card of a line.
func compute(l Line, k *Kitchen) (*treat.Card, error) {
	t := k.Treats[l.Treat]
	formula, err := k.formula(l)
	if err != nil {
		return nil, err
	}
	return treat.Compute(formula, l.Count, k.With(t.Mixes))
}

// formula of a line: that of its treat, with each couverture replaced by a coating of its colour where the line says so.
func (k *Kitchen) formula(l Line) (*treat.Formula, error) {
	f := k.Treats[l.Treat].Formula
	if !l.Coating {
		return f, nil
	}
	coated, changed := *f, false
	swap := func(list []treat.Coating) ([]treat.Coating, error) {
		list = slices.Clone(list)
		for i := range list {
			of := k.Ingredients[list[i].Ingredient]
			if of.Chocolate == nil || of.Chocolate.Kind != chocolate.Real {
				continue
			}
			other, found := k.coatingLike(of)
			if !found {
				return nil, fmt.Errorf("There is no %s coating in the larder that could take the place of %s: put one there, or make it as it is written.", of.Chocolate.Colour, of.Name)
			}
			list[i].Ingredient, list[i].Method, changed = other, "", true
		}
		return list, nil
	}
	var err error
	if coated.Coatings, err = swap(f.Coatings); err != nil {
		return nil, err
	}
	coated.Finishes = slices.Clone(f.Finishes)
	for i := range coated.Finishes {
		if coated.Finishes[i].Coatings, err = swap(coated.Finishes[i].Coatings); err != nil {
			return nil, err
		}
	}
	if !changed {
		return f, nil
	}
	return &coated, nil
}

// coatingLike a couverture: compound of the same colour and tint, the first by name.
func (k *Kitchen) coatingLike(of food.Ingredient) (id string, found bool) {
	name := ""
	for other, i := range k.Ingredients {
		if i.Chocolate != nil && i.Chocolate.Kind == chocolate.Compound && i.Chocolate.Colour == of.Chocolate.Colour && i.Chocolate.Tint == of.Chocolate.Tint && (!found || i.Name < name) {
			id, name, found = other, i.Name, true
		}
	}
	return id, found
}

// together sums the hands of all lines made in one go: each chocolate is melted once for all that take it.
func (r *Reckoning) together(k *Kitchen) {
	melted, saved, parts := map[string]bool{}, 0, []string{}
	for _, l := range r.Lines {
		r.Hands += l.Card.Hands
		parts = append(parts, fmt.Sprintf("%s %s", l.Name, measure.Minutes(l.Card.Hands)))
		own := map[string]bool{}
		for _, s := range l.Card.Steps {
			if s.Pot == "" || own[s.Pot] {
				continue
			}
			if own[s.Pot] = true; melted[s.Pot] {
				setup, _ := chocolate.Setup(k.Ingredients[s.Pot].Chocolate.Kind)
				saved += setup
			}
			melted[s.Pot] = true
		}
	}
	r.Hands -= saved
	r.HandsWhy = strings.Join(parts, ", ") + ", melting included"
	if saved > 0 {
		r.HandsWhy += fmt.Sprintf("; %s less since each chocolate is melted once for all of them", measure.Minutes(saved))
	}
	r.HandsWhy += fmt.Sprintf(": %s. Waiting needs no hands.", measure.Minutes(r.Hands))
}

// sumNeeds adds the ingredients of all lines, each with its rounded cost. What is left in a pot of one line is there for the next, so
// only the largest of what comes back must be in the house beside what is used.
func (r *Reckoning) sumNeeds(k *Kitchen) {
	at := map[string]int{}
	for _, l := range r.Lines {
		for _, n := range l.Card.Needs {
			i, seen := at[n.Ingredient]
			if !seen {
				at[n.Ingredient] = len(r.Needs)
				r.Needs = append(r.Needs, Need{Ingredient: n.Ingredient, Name: n.Name, Used: n.Used, House: n.House, Why: l.Name + ": " + n.Why})
				continue
			}
			have, of := &r.Needs[i], k.Ingredients[n.Ingredient]
			back := max(have.House.Amount-have.Used.Amount, n.House.Amount-n.Used.Amount)
			used := have.Used.Amount + n.Used.Amount
			have.Used = measure.Show(measure.Of(used, of.Unit), of.Substance)
			have.House = measure.Show(measure.Of(used+back, of.Unit), of.Substance)
			have.Why += " " + l.Name + ": " + n.Why
		}
	}
	for i := range r.Needs {
		n := &r.Needs[i]
		cost, fromLots := k.costOf(n.Ingredient, n.Used.Amount, n.House.Amount)
		n.Cost = price.In(k.Rates.Currency, cost)
		if fromLots > 0 {
			of := k.Ingredients[n.Ingredient]
			n.Why += fmt.Sprintf(" Priced as what is in the house was paid for, first expired first: %s of it.", measure.Show(measure.Of(min(fromLots, n.Used.Amount), of.Unit), of.Substance).Metric)
		}
	}
}

// costOf what is used of an ingredient: what must be in the house is paid for from the lots, and what comes back of it is worth its share
// of that.
func (k *Kitchen) costOf(id string, used, house float64) (cost decimal.Decimal, fromLots float64) {
	stock, ok := k.Stock[id]
	if !ok {
		stock.Latest = k.Ingredients[id].Price
	}
	cost, fromLots = stock.CostOf(house)
	if back := house - used; back > 0 {
		worth := cost.Mul(decimal.NewFromFloat(back / house)).Mul(decimal.NewFromFloat(k.Terms.Reclaim))
		cost = cost.Sub(worth)
	}
	return cost, fromLots
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
