// Package larder knows what is in the house and what must be bought: lots, what orders need of them and when, and the
// cheapest packs that cover a need. Amounts are in the unit that a thing is kept in: g, each, or mm for ribbon. Days
// are dates as 2026-09-12.
package larder

import (
	"cmp"
	"slices"

	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/ledger"
)

// StockLot is some of one thing that came into the house at once.
type StockLot struct {
	ID         ident.Lot
	Item       ident.Item      // id of the ingredient or the packaging
	Left       float64         // what is left of it
	Price      decimal.Decimal // money for one unit, as it was paid
	Bought     string          // day
	BestBefore string          // day; empty: it keeps
	OpenUntil  string          // day that it is good until since it was opened; empty: as long as unopened
	Opened     bool
	Rest       *ledger.Rest // what it is, where it came out of a bowl; nil for what was bought
}

// Plain are the lots that came out of no bowl: only these are the seed of a melt, and what goes into a mix.
func Plain(lots []StockLot) []StockLot {
	return slices.DeleteFunc(slices.Clone(lots), func(l StockLot) bool { return l.Rest != nil })
}

// Until is the last day on which the lot is good; empty when it keeps. Opened lots spoil sooner.
func (l *StockLot) Until() string {
	switch {
	case l.OpenUntil == "":
		return l.BestBefore
	case l.BestBefore == "":
		return l.OpenUntil
	}
	return min(l.BestBefore, l.OpenUntil)
}

// GoodOn tells whether the lot can be used on a day.
func (l *StockLot) GoodOn(day string) bool { return l.Until() == "" || day <= l.Until() }

// SortFEFO lots as they are to be used: first expired first, what is open before what is closed, older before newer.
func SortFEFO(lots []StockLot) {
	slices.SortFunc(lots, func(a, b StockLot) int {
		return cmp.Or(cmp.Compare(sortDate(a.Until()), sortDate(b.Until())), openFirst(a, b),
			cmp.Compare(a.Bought, b.Bought), cmp.Compare(a.ID, b.ID))
	})
}

func sortDate(day string) string {
	if day == "" {
		return "9999"
	}
	return day
}

func openFirst(a, b StockLot) int {
	switch {
	case a.Opened == b.Opened:
		return 0
	case a.Opened:
		return -1
	default:
		return 1
	}
}

// Taken is what is used of a lot.
type Taken struct {
	Lot    ident.Lot
	Amount float64
	Cost   decimal.Decimal // not rounded
}

// nothing is less than this much of a unit: what is left of sums of floating point numbers.
const nothing = 1e-6

// Take an amount out of lots in their Order, and say how much of it is missing. Lots are changed.
func Take(lots []StockLot, amount float64) (taken []Taken, missing float64) {
	for i := range lots {
		if amount <= nothing {
			return taken, 0
		}
		l := &lots[i]
		if l.Left <= nothing {
			continue
		}
		part := min(l.Left, amount)
		if l.Left-part <= nothing {
			part = l.Left // no crumbs stay behind
		}
		taken = append(taken, Taken{l.ID, part, l.Price.Mul(decimal.NewFromFloat(part))})
		l.Left -= part
		amount -= part
	}
	if amount <= nothing {
		amount = 0
	}
	return taken, amount
}

// Stock of one thing to reckon with.
type Stock struct {
	Lots   []StockLot      // in Order
	Latest decimal.Decimal // price of one unit, as last paid
	// Estimated tells that nobody has said what was paid: the price is a guess.
	Estimated bool
}

// Basis is what a cost rests on.
type Basis string

// What a cost rests on: what was paid, an estimate, or no price at all, so that it counts as nothing.
const (
	OnPaid     Basis = ""
	OnEstimate Basis = "estimate"
	OnNothing  Basis = "nothing"
)

// Bases that there are, beside what was paid.
func Bases() []Basis { return []Basis{OnEstimate, OnNothing} }

// Basis of what an amount of it costs.
func (s Stock) Basis(cost decimal.Decimal) Basis {
	switch {
	case s.Estimated:
		return OnEstimate
	case s.Latest.IsZero() && cost.IsZero():
		return OnNothing
	}
	return OnPaid
}

// CostOf an amount: of the lots in their order, and for what they do not hold the latest price. fromLots is how much
// they hold of it. The stock is not changed.
func (s Stock) CostOf(amount float64) (cost decimal.Decimal, fromLots float64) {
	rest := amount
	for i := range s.Lots {
		if rest <= nothing {
			break
		}
		part := min(s.Lots[i].Left, rest)
		if part <= 0 {
			continue
		}
		cost = cost.Add(s.Lots[i].Price.Mul(decimal.NewFromFloat(part)))
		rest -= part
	}
	rest = max(rest, 0)
	return cost.Add(s.Latest.Mul(decimal.NewFromFloat(rest))), amount - rest
}

// Free is how much the lots hold.
func (s Stock) Free() float64 {
	free := 0.0
	for _, l := range s.Lots {
		free += l.Left
	}
	return free
}

// WithPriceFactor is the same stock at prices times a factor.
func (s Stock) WithPriceFactor(factor decimal.Decimal) Stock {
	s.Lots = slices.Clone(s.Lots)
	for i := range s.Lots {
		s.Lots[i].Price = s.Lots[i].Price.Mul(factor)
	}
	s.Latest = s.Latest.Mul(factor)
	return s
}

// KeepsUntil is the last day on which what is made on a day is good, that keeps so many hours: the day of making is the
// first of them (FDA Food Code 3-501.17 counts so), and a day that has only begun counts.
func KeepsUntil(day string, hours int) string { return Days(day, max((hours+23)/24-1, 0)) }
