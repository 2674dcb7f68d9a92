package order

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/price"
	"zestytin/core/treat"
)

// Quote is what a customer is told of an order before they say yes, and nothing more.
type Quote struct {
	Kitchen   string       `json:"kitchen"`
	Customer  string       `json:"customer"`
	Occasion  string       `json:"occasion,omitempty"`
	Way       Way          `json:"way"`
	Place     string       `json:"place,omitempty"`
	From      time.Time    `json:"from"`
	To        time.Time    `json:"to"`
	Zone      string       `json:"zone"`
	Lines     []QuoteLine  `json:"lines"`
	Price     price.Money  `json:"price"`
	Tax       *price.Money `json:"tax,omitempty"`
	TaxIn     bool         `json:"taxIn,omitempty"`
	Gross     price.Money  `json:"gross"`
	Deposit   *price.Money `json:"deposit,omitempty"`
	Allergens []string     `json:"allergens"`
	FreeFrom  []string     `json:"freeFrom"`
	Keeping   []string     `json:"keeping"`
	Serving   []string     `json:"serving"`
}

// QuoteLine is a treat and how many of it.
type QuoteLine struct {
	Name   string         `json:"name"`
	Count  int            `json:"count"`
	Sold   string         `json:"sold"`
	Family treat.Family   `json:"family"`
	Look   food.Chocolate `json:"look"`
}

// Quote of a draft that was reckoned.
func (r *Reckoning) Quote(d *Draft, kitchen string, k *Kitchen) Quote {
	q := Quote{Kitchen: kitchen, Customer: d.Customer, Occasion: d.Occasion, Way: d.Way, Place: d.Place, From: d.From.UTC(), To: d.To.UTC(), Zone: k.Calendar.Zero.Location().String(),
		Lines: []QuoteLine{}, Price: r.Money.Asked.Money, Gross: r.Money.Gross.Money, TaxIn: k.Terms.TaxIncluded, Allergens: []string{}, FreeFrom: d.FreeFrom, Keeping: []string{}, Serving: []string{}}
	for from, to := range map[*Amount]**price.Money{r.Money.Tax: &q.Tax, r.Money.Deposit: &q.Deposit} {
		if from != nil {
			*to = &from.Money
		}
	}
	add := func(list *[]string, text string) {
		if !slices.Contains(*list, text) {
			*list = append(*list, text)
		}
	}
	for _, l := range r.Lines {
		c := l.Card
		q.Lines = append(q.Lines, QuoteLine{l.Name, l.Count, c.Sold, c.Family, c.Look})
		for _, a := range c.Allergens {
			add(&q.Allergens, a)
		}
		add(&q.Keeping, fmt.Sprintf("%s: %s from making, cool and dry.", l.Name, keeps(c.Keeps)))
		if slices.Contains(c.Cautions, family.HotMilk) {
			add(&q.Serving, "Bombs: pour milk of 82 to 88 °C (180 to 190 °F) over one in a mug, not boiling. An adult pours; no hot milk for small children.")
		}
		if slices.Contains(c.Cautions, family.PicksOut) {
			add(&q.Serving, "Dipped fruit: take picks and stems out before eating. At room temperature, not in the fridge, where it sweats.")
		}
		for _, n := range c.Needs {
			known := k.Ingredients[n.Ingredient]
			if known.Kind == food.KindDairy {
				add(&q.Keeping, l.Name+" hold cream or milk: keep them at 5 °C (41 °F) or below until shortly before eating.")
			}
			if known.HasAlcohol() {
				add(&q.Serving, l.Name+" contain alcohol.")
			}
		}
		if len(l.Traces) > 0 {
			add(&q.Serving, fmt.Sprintf("%s may contain traces of %s.", l.Name, strings.Join(l.Traces, ", ")))
		}
	}
	slices.Sort(q.Allergens)
	if len(d.FreeFrom) > 0 {
		add(&q.Serving, "Made in a home kitchen that works with other ingredients as well: traces cannot be ruled out. Speak to us before you rely on it.")
	}
	return q
}
