package order

import (
	"slices"
	"time"

	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// Quote is what a customer is told of an order before they say yes, and nothing more.
type Quote struct {
	Kitchen   string          `json:"kitchen"`
	Customer  string          `json:"customer"`
	Occasion  string          `json:"occasion,omitempty"`
	Way       Fulfilment      `json:"way"`
	Place     string          `json:"place,omitempty"`
	From      time.Time       `json:"from"`
	To        time.Time       `json:"to"`
	Zone      string          `json:"zone"`
	Lines     []QuoteLine     `json:"lines"`
	Price     price.Money     `json:"price"`
	Tax       *price.Money    `json:"tax,omitempty"`
	TaxIn     bool            `json:"taxIn,omitempty"`
	Gross     price.Money     `json:"gross"`
	Deposit   *price.Money    `json:"deposit,omitempty"`
	Allergens []string        `json:"allergens"`
	FreeFrom  []string        `json:"freeFrom"`
	Keeping   []reason.Reason `json:"keeping"`
	Serving   []reason.Reason `json:"serving"`
	Terms     []reason.Reason `json:"terms,omitempty"` // what cancelling costs
}

// QuoteLine is a treat and how many of it.
type QuoteLine struct {
	Name   string         `json:"name"`
	Count  int            `json:"count"`
	Sold   reason.Word    `json:"sold"`
	Family treat.Family   `json:"family"`
	Look   food.Chocolate `json:"look"`
}

// Quote of a draft that was reckoned.
func (r *Estimate) Quote(d *Draft, kitchen string, k *Inputs) Quote {
	q := Quote{Kitchen: kitchen, Customer: d.Customer, Occasion: d.Occasion, Way: d.Way, Place: d.Address,
		From: d.From.UTC(), To: d.To.UTC(), Zone: k.Calendar.Zero.Location().String(),
		Lines: []QuoteLine{}, Price: r.Money.Asked.Money, Gross: r.Money.Gross.Money, TaxIn: k.Terms.TaxIncluded,
		Allergens: []string{}, FreeFrom: d.FreeFrom, Keeping: []reason.Reason{}, Serving: []reason.Reason{}}
	for from, to := range map[*Amount]**price.Money{r.Money.Tax: &q.Tax, r.Money.Deposit: &q.Deposit} {
		if from != nil {
			*to = &from.Money
		}
	}
	add := func(list *[]reason.Reason, code string, with ...reason.Value) {
		*list = reason.AddOnce(*list, reason.Of(code, with...))
	}
	for _, l := range r.Lines {
		c := l.Card
		q.Lines = append(q.Lines, QuoteLine{l.Name, l.Count, c.Sold, c.Family, c.Look})
		for _, a := range c.Allergens {
			if !slices.Contains(q.Allergens, a) {
				q.Allergens = append(q.Allergens, a)
			}
		}
		q.Keeping = reason.AddOnce(q.Keeping, c.KeptOf(l.Name))
		for _, care := range serving(&l, k) {
			q.Serving = reason.AddOnce(q.Serving, care)
		}
	}
	slices.Sort(q.Allergens)
	if len(d.Wishes) > 0 && len(r.wished(&Draft{Wishes: slices.DeleteFunc(slices.Clone(d.Wishes), func(w food.Diet) bool {
		return w == food.HalalFriendly
	})}, k)) == 0 { // halal-friendly is never claimed to a customer
		if suits := slices.DeleteFunc(slices.Clone(d.Wishes), func(w food.Diet) bool {
			return w == food.HalalFriendly
		}); len(suits) > 0 {
			add(&q.Serving, "order.suits-by-its-ingredients", reason.Series(reason.Words(suits)))
		}
	}
	if free, _ := d.asked(); len(free) > 0 {
		add(&q.Serving, "order.made-in-home-kitchen-that")
	}
	steps := slices.Clone(k.Terms.Cancel)
	slices.SortFunc(steps, func(a, b price.Notice) int { return b.Days - a.Days })
	for _, s := range steps {
		add(&q.Terms, "order.cancelled-so-late", reason.Count{N: s.Days, Of: "day"}, reason.Share(s.Share))
	}
	return q
}

// serving of a line: what whoever eats it is told, on the quote and on the label.
func serving(l *LineCard, k *Inputs) []reason.Reason {
	var list []reason.Reason
	c := l.Card
	if slices.Contains(c.Cautions, family.HotMilk) {
		list = append(list, reason.Of("order.bombs-pour-milk-to-c", family.MilkForBombs))
	}
	if slices.Contains(c.Cautions, family.SticksStay) {
		list = append(list, reason.Of("order.sold-on-the-stick", reason.Name(l.Name)))
	}
	if slices.Contains(c.Cautions, family.PicksOut) {
		list = append(list, reason.Of("order.dipped-fruit-take-picks-and"))
	}
	for _, n := range c.Needs {
		if known := k.Ingredients[n.Ingredient]; known.HasAlcohol() {
			list = reason.AddOnce(list, reason.Of("order.contain-alcohol", reason.Name(l.Name)))
		}
	}
	if len(l.Traces) > 0 {
		list = append(list, reason.Of("order.may-contain-traces", reason.Name(l.Name),
			reason.Series(reason.Words(l.Traces))))
	}
	return list
}
