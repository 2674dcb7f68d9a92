package order

import (
	"context"
	"fmt"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/box"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Treat is one of the book, with the formula of the version that counts; nil when none has been written.
type Treat struct {
	ID      ident.Treat
	Name    string
	Version int
	Formula *treat.Formula
	Mixes   map[ident.Ingredient]treat.Mix // as they were when the version was written
	Market  *Market                        // nil where the seller has not looked
	List    *ListPrice                     // nil where the seller's own price list does not say
}

// Inputs is what the estimate must know beside the order.
type Inputs struct {
	treat.Inputs
	Rates       price.Rates
	Terms       price.Terms
	Stock       map[ident.Ingredient]larder.Stock                // what no other promised order will take
	Held        map[ident.Order]map[ident.Ingredient]treat.Ahead // mixes that are set aside for promised orders
	Supplies    map[ident.Supply]box.Supply
	Treats      map[ident.Treat]Treat
	Calendar    plan.Calendar
	Now         time.Time
	Planning    PlanningContext
	Commitments Commitments
	Extent      Extent
}

// Extent is how far a estimate goes into the plan.
type Extent int

const (
	InFull          Extent = iota // where everything would stand, as good as a quick search finds
	FeasibilityOnly               // whether it fits, wherever it then stands
	FiguresOnly                   // nothing is planned: amounts, cost and price as if it were made in one go
)

// Commitments is what is settled already of the order that is reckoned; the zero value for a new one.
type Commitments struct {
	Written time.Time        // when it was written; notice counts from there
	Agreed  *decimal.Decimal // the price that was quoted
}

// Scope is how much of a kitchen a estimate needs.
type Scope struct {
	Until time.Time // the days to then; none when it has passed
	From  time.Time // the days from then on; zero: from today on
	Lines []Line    // the stock of what they take; nil: all stock
}

// For an extent: where nothing is planned, no days are asked for.
func (s Scope) For(e Extent) Scope {
	if e == FiguresOnly {
		s.From, s.Until = time.Time{}, time.Time{}
	}
	return s
}

// Items are the ingredients, mixes and kinds of packaging that lines take, by id, each once.
func (k *Inputs) Items(lines []Line) []string {
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
				add(string(used))
			}
		}
		for _, supply := range t.Formula.Supplies() {
			add(string(supply))
		}
	}
	return items
}

// Estimate is all that follows from an order.
type Estimate struct {
	Lines    []LineCard `json:"lines"`
	Pots     []Pot      `json:"pots"`
	Needs    []Need     `json:"needs"`
	Packs    []box.Need `json:"packs"`
	Boxes    []Boxed    `json:"boxes"`
	Sets     []SetLaid  `json:"sets"`
	Hands    si.Minutes `json:"hands"`
	Wait     si.Minutes `json:"wait"`
	HandsWhy batch.Why  `json:"handsWhy"`
	Money    Sum        `json:"money"`
	When     When       `json:"when"`
	Care     []Caution  `json:"care"`
}

// LineCard is a line with its batch card.
type LineCard struct {
	Treat   ident.Treat `json:"treat"`
	Name    string      `json:"name"`
	Version int         `json:"version"`
	Count   int         `json:"count"`
	Coating bool        `json:"coating,omitempty"`
	Start   int         `json:"start"`
	Card    *batch.Card `json:"card"`
	Cost    price.Money `json:"cost"`
	Price   price.Money `json:"price"`
	Traces  []string    `json:"traces,omitempty"`
	Market  *Stand      `json:"market,omitempty"`
}

// Part of a line that is made in a batch, with its share of cost and price; the whole line where it is made in one.
func (l LineCard) Part(b Batch) LineCard {
	if b.Part == 0 {
		return l
	}
	share := func(m price.Money) price.Money {
		return price.In(m.Currency, decimal.RequireFromString(m.Amount).Mul(decimal.NewFromInt(int64(b.Count))).Div(
			decimal.NewFromInt(int64(l.Count))))
	}
	l.Cost, l.Price, l.Count, l.Card = share(l.Cost), share(l.Price), b.Count, b.Card
	return l
}

// Need is one ingredient over all lines.
type Need struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Name       string           `json:"name"`
	Used       measure.Shown    `json:"used"`
	House      measure.Shown    `json:"house"`
	Cost       price.Money      `json:"cost"`
	Basis      larder.Basis     `json:"basis,omitempty"`
	Why        batch.Why        `json:"why"`
}

// Caution is something to take care of.
type Caution struct {
	Trouble bool          `json:"trouble"`
	Text    reason.Reason `json:"text"`
}

// Compute computes all that follows from a draft. The words and the window need not be complete, the lines and the
// price must be right: the error is an *invalid.Error with JSON paths from the draft.
func Compute(ctx context.Context, d *Draft, k *Inputs) (*Estimate, error) {
	var faults invalid.Faults
	faults.Under("", d.CheckLines(k.Treats))
	faults.Under("", d.CheckPrice(k.Rates.Currency))
	if err := faults.Err(); err != nil {
		return nil, err
	}
	if err := k.knowBoxes(d); err != nil {
		return nil, err
	}
	r := &Estimate{Lines: []LineCard{}, Pots: []Pot{}, Needs: []Need{}}
	var cards []*batch.Card
	own := *k
	own.Ahead = k.madeAhead(d, k.handover(d))
	for i, l := range d.Lines {
		t := k.Treats[l.Treat]
		if _, err := k.formula(l); err != nil {
			return nil, invalid.At(fmt.Sprintf("lines[%d].coating", i), err)
		}
		card, err := compute(l, &own)
		if err != nil {
			var faults invalid.Faults
			faults.Under(fmt.Sprintf("lines[%d].count", i), err)
			return nil, faults.Err()
		}
		take(own.Ahead, card) // each line leaves the next what it does not take
		cards = append(cards, card)
		r.Lines = append(r.Lines, LineCard{Treat: l.Treat, Name: t.Name, Version: t.Version, Count: l.Count,
			Coating: l.Coating, Start: card.Start, Card: card})
		r.Wait += card.Wait
	}
	r.together(k)
	k.packSets(d, cards)
	r.Boxes, r.Sets = r.boxes(d, k), r.sets(d, k)
	for _, card := range cards {
		card.Packs = box.WithFittings(card.Packs, k.Supplies)
	}
	r.Packs = box.Against(cards, k.Supplies)
	var err error
	if r.When, err = r.when(ctx, d, k); err != nil {
		return nil, err
	}
	r.inPartsToo(k)
	real, alone := r.bowls(d, k)
	r.tellPots(real, k)
	r.sumNeeds(alone, k)
	if err := r.money(d, k); err != nil {
		return nil, err
	}
	r.Care = r.care(d, k)
	return r, nil
}

// together sums the hands of all lines made in one go: what may be poured together is melted once for all of them.
func (r *Estimate) together(k *Inputs) {
	if len(r.Lines) == 0 {
		return
	}
	var parts reason.Series
	var apart si.Minutes
	var cards []*batch.Card
	for _, l := range r.Lines {
		r.Hands += l.Card.Hands - l.Card.Melting
		apart += l.Card.Melting
		parts = append(parts, reason.Of("order.takes-hands", reason.Name(l.Name), reason.Minutes(l.Card.Hands)))
		cards = append(cards, l.Card)
	}
	melting := k.melting(cards)
	r.Hands += melting
	r.HandsWhy = because("order.melting-included", parts)
	if saved := apart - melting; saved > 0 {
		r.HandsWhy.Add("order.less-since-what-may-be", reason.Minutes(saved))
	}
	r.HandsWhy.Add("order.waiting-needs-no-hands", reason.Minutes(r.Hands))
}

// melting is the minutes of hands that melting takes for several cards, worked in one go.
func (k *Inputs) melting(cards []*batch.Card) si.Minutes {
	if len(cards) == 1 {
		return cards[0].Melting
	}
	var draws []ledger.Draw
	for _, c := range cards {
		for _, s := range c.Steps {
			if s.Draw != nil {
				draws = append(draws, *s.Draw)
			}
		}
	}
	var minutes si.Minutes
	for _, group := range ledger.Group(draws) {
		own := make([]ledger.Draw, len(group))
		for i, n := range group {
			own[i] = draws[n]
		}
		b := ledger.Open(own)
		if of := k.Ingredients[b.Pot.Ingredient].Chocolate; of != nil && b.Used > 0 {
			minutes += si.WholeMinutes(batch.Melting(b.Pot, *of, own[0].Minutes, b.Melted, k.AirTemp).Hands)
		}
	}
	return minutes
}

// inPartsToo takes what a line is made in, where that is in parts: each part begins its own pieces and melts its own
// chocolate.
func (r *Estimate) inPartsToo(k *Inputs) {
	if r.When.made == nil || !r.When.Fits {
		return
	}
	for i := range r.Lines {
		l := &r.Lines[i]
		start, hands := 0, si.Minutes(0)
		for _, m := range r.When.makings {
			if m.line == i && m.part > 0 {
				start, hands = start+m.card.Start, hands+m.card.Hands
			}
		}
		if start > 0 {
			l.Start = start
			if more := hands - l.Card.Hands; more > 0 {
				r.Hands += more
				r.HandsWhy.Add("order.made-in-parts-takes-more", reason.Name(l.Name), reason.Minutes(more))
			}
		}
	}
}

// sumNeeds adds the ingredients of all lines, each with its rounded cost.
func (r *Estimate) sumNeeds(alone []bowl, k *Inputs) {
	ids, of := r.takings(alone, k)
	for _, id := range ids {
		t, known := of[id], k.thing(id)
		if t.used <= 0 && t.house <= 0 { // all of it is in what was made ahead
			continue
		}
		show := func(x float64) measure.Shown { return measure.Show(measure.Of(x, known.Unit), known.Substance) }
		cost, fromLots := k.costOf(id, *t)
		n := Need{Ingredient: id, Name: known.Name, Used: show(t.used), House: show(t.house),
			Cost: price.In(k.Rates.Currency, cost), Basis: k.stock(id).Basis(cost), Why: t.why}
		if fromLots > 0 {
			n.Why.Add("order.priced-as-what-in-house", show(min(fromLots, t.used)))
		}
		if t.damp > 1e-9 {
			n.Why.Add("order.damp-from-fruit-in-end", show(t.damp))
		}
		r.Needs = append(r.Needs, n)
	}
}

// thing that an order takes: an ingredient, or a mix that was made ahead.
func (k *Inputs) thing(id ident.Ingredient) treat.Item {
	of, _ := k.Item(id)
	return of
}

// stock of an ingredient to reckon with: where none is told, what it last cost.
func (k *Inputs) stock(id ident.Ingredient) larder.Stock {
	if s, told := k.Stock[id]; told {
		return s
	}
	of := k.Ingredients[id]
	return larder.Stock{Latest: of.Price, Estimated: of.Estimated}
}

// costOf what is used of an ingredient: what must be in the house is paid for from the lots, and what comes back of it
// is worth its share of that. What is damp does not come back.
func (k *Inputs) costOf(id ident.Ingredient, t taking) (cost decimal.Decimal, fromLots float64) {
	cost, fromLots = k.stock(id).CostOf(t.house)
	if back := t.house - t.used - t.damp; back > 0 {
		worth := cost.Mul(decimal.NewFromFloat(back / t.house)).Mul(decimal.NewFromFloat(k.Terms.Reclaim))
		cost = cost.Sub(worth)
	}
	return cost, fromLots
}
