package box

import (
	"fmt"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
)

// Fitting is what goes with each of a kind of packaging, itself a kind of packaging: a lid that is sold apart, shred by
// weight, ribbon by length, a sticker, a card, a tag.
type Fitting struct {
	Supply ident.Supply     `json:"supply"`
	Amount measure.Quantity `json:"amount"`
}

// mostFittings that go with one kind of packaging.
const mostFittings = 12

// CheckFittings finds the faults of a list; which packaging there is, and that it has no fittings of its own, is for
// the larder to know.
func CheckFittings(list []Fitting) error {
	var f invalid.Faults
	if len(list) > mostFittings {
		f.Add("", reason.Of("box.at-most-so-many-fittings", reason.Int(mostFittings)))
	}
	seen := map[ident.Supply]bool{}
	for i, x := range list {
		path := fmt.Sprintf("[%d]", i)
		if seen[x.Supply] {
			f.Add(path+".supply", reason.Of("box.fitting-is-there-already"))
		}
		seen[x.Supply] = true
		if _, ok := x.Amount.Unit.Dimension(); !ok {
			f.Add(path+".amount", &measure.UnknownUnit{Unit: x.Amount.Unit})
		} else if !(x.Amount.Amount > 0) || x.Amount.Amount > 1e6 {
			f.Add(path+".amount", reason.Of("box.fitting-is-more-than-nothing"))
		}
	}
	return f.Err()
}

// WithFittings is the packaging of a card with what goes with each of it behind it. Fittings of fittings are not
// followed: there are none.
func WithFittings(packs []batch.Packed, supplies map[ident.Supply]Supply) []batch.Packed {
	list := packs[:len(packs):len(packs)]
	for _, p := range packs {
		of := supplies[p.Supply]
		if of.Unit != measure.Each || !(p.Amount.Amount > 0) {
			continue
		}
		for _, x := range of.Fittings {
			with, known := supplies[x.Supply]
			if !known {
				continue
			}
			one, err := x.Amount.In(with.Unit, measure.Substance{})
			if err != nil {
				continue // the larder refuses it
			}
			each := measure.Show(measure.Of(one, with.Unit), measure.Substance{})
			list = append(list, batch.Packed{Supply: x.Supply, Amount: measure.Of(one*p.Amount.Amount, with.Unit),
				Why: batch.Why{reason.Of("box.goes-with-each", each, reason.Int(p.Amount.Amount),
					reason.Name(of.Name))}})
		}
	}
	return list
}

// Price of one, with all that goes with it, at what was last paid for each.
func (s Supply) Price(supplies map[ident.Supply]Supply) decimal.Decimal {
	sum := s.Latest
	for _, x := range s.Fittings {
		with := supplies[x.Supply]
		if one, err := x.Amount.In(with.Unit, measure.Substance{}); err == nil {
			sum = sum.Add(with.Latest.Mul(decimal.NewFromFloat(one)))
		}
	}
	return sum
}
