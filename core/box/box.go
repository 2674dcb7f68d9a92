// Package box counts packaging: what an order takes, against what stands on the shelf.
package box

import (
	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/measure"
)

// Supply is a kind of packaging, and what no other promised order will take of it.
type Supply struct {
	ID     ident.Supply
	Name   string
	Unit   measure.Unit // measure.Each, measure.Millimetre for ribbon, or measure.Gram for shred
	Inside *Room        // of a box; nil where nobody has measured it
	Foot   *Foot        // of a liner or cup, what it takes up in a box
	// Fittings go with each of it.
	Fittings []Fitting
	larder.Stock
}

// Need of one supply over a whole order.
type Need struct {
	Supply ident.Supply    `json:"supply"`
	Name   string          `json:"name"`
	Amount measure.Shown   `json:"amount"`
	Stock  measure.Shown   `json:"stock"`
	Short  *measure.Shown  `json:"short,omitempty"`
	Cost   decimal.Decimal `json:"-"`
	Basis  larder.Basis    `json:"basis,omitempty"`
	Why    batch.Why       `json:"why"`
}

// Against sums the packaging of several batch cards and sets it against the stock. Supplies come in the order in which
// the cards name them; one that is not known is left out (Formula.Check has refused it).
func Against(cards []*batch.Card, supplies map[ident.Supply]Supply) []Need {
	needs, at := []Need{}, map[ident.Supply]int{}
	show := func(x float64, u measure.Unit) measure.Shown {
		return measure.Show(measure.Of(x, u), measure.Substance{})
	}
	for _, card := range cards {
		for _, p := range card.Packs {
			s, ok := supplies[p.Supply]
			if !ok {
				continue
			}
			amount, err := p.Amount.In(s.Unit, measure.Substance{})
			if err != nil {
				continue
			}
			i, seen := at[p.Supply]
			if !seen {
				i = len(needs)
				at[p.Supply] = i
				needs = append(needs, Need{Supply: s.ID, Name: s.Name})
			}
			n := &needs[i]
			total := n.Amount.Quantity.Amount + amount
			free := s.Free()
			n.Amount, n.Stock = show(total, s.Unit), show(free, s.Unit)
			n.Cost, _ = s.CostOf(total)
			n.Basis = s.Basis(n.Cost)
			n.Why = append(n.Why, p.Why...)
			if total > free+1e-9 {
				short := show(total-free, s.Unit)
				n.Short = &short
			}
		}
	}
	for i := range needs {
		n := &needs[i]
		if n.Short != nil {
			n.Why.Add("box.in-house-so-missing", n.Stock, *n.Short)
		} else {
			n.Why.Add("box.in-house", n.Stock)
		}
	}
	return needs
}
