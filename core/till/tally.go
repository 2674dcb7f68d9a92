package till

import (
	"github.com/shopspring/decimal"

	"zestytin/core/price"
	"zestytin/core/si"
)

// Tally sums orders, or lines of orders, up to what they brought.
type Tally struct {
	Orders  int
	Pieces  int              // that were promised
	Sales   decimal.Decimal  // without tax
	Spent   price.Spent      // estimated when it was promised
	Minutes si.Minutes       // hands-on, estimated
	Used    *decimal.Decimal // what the ingredients that left the larder were paid for; nil where none did
	Made    Made

	begun, lost float64 // pieces; those that were expected to be lost
}

// Made is what the bench recorded of the batches of a tally, where it recorded something.
type Made struct {
	Batches           int        // with a count of good pieces
	Good, Begun       int        // pieces of them
	Minutes, Expected si.Minutes // of batches with recorded minutes
}

// Add an order, or the share of one that a line has.
func (t *Tally) Add(sales decimal.Decimal, spent price.Spent, minutes si.Minutes, used *decimal.Decimal) {
	t.Orders++
	t.Sales, t.Spent, t.Minutes = t.Sales.Add(sales), t.Spent.Plus(spent), t.Minutes+minutes
	if used != nil {
		sum := *used
		if t.Used != nil {
			sum = sum.Add(*t.Used)
		}
		t.Used = &sum
	}
}

// Line is what an order has of a batch.
type Line struct {
	Pieces   int         // that it was promised
	Begun    int         // of the batch, its share
	HandsOn  si.Minutes  // minutes, its share
	Loss     float64     // share of the pieces that was expected to be lost
	Bagged   bool        // sheets were begun, bags are wanted: what was begun and what was good do not compare
	First    bool        // of the batch, which is counted once
	Good     *int        // its share of the good pieces that were recorded
	Recorded *si.Minutes // its share of the minutes that were recorded
}

// AddLine adds what became of a line's pieces and minutes.
func (t *Tally) AddLine(l Line) {
	begun := l.Begun
	if l.Bagged {
		begun = l.Pieces
	}
	t.Pieces += l.Pieces
	t.begun, t.lost = t.begun+float64(begun), t.lost+l.Loss*float64(begun)
	if l.Good != nil && !l.Bagged {
		if l.First {
			t.Made.Batches++
		}
		t.Made.Good, t.Made.Begun = t.Made.Good+*l.Good, t.Made.Begun+begun
	}
	if l.Recorded != nil {
		t.Made.Minutes, t.Made.Expected = t.Made.Minutes+*l.Recorded, t.Made.Expected+l.HandsOn
	}
}

// Profit is what is left of the sales after all cost.
func (t *Tally) Profit() decimal.Decimal { return t.Sales.Sub(t.Spent.Total()) }

// PayPerHour is what an hour hands-on brought after everything else: (profit + pay) / hours. Nil where no time was
// spent.
func (t *Tally) PayPerHour() *decimal.Decimal {
	if t.Minutes <= 0 {
		return nil
	}
	return new(t.Profit().Add(t.Spent.Hands).Mul(decimal.NewFromInt(60)).Div(decimal.NewFromInt(int64(t.Minutes))))
}

// Each is what a piece brought and what it cost; nil where none was sold.
func (t *Tally) Each() (sales, cost *decimal.Decimal) {
	if t.Pieces <= 0 {
		return nil, nil
	}
	n := decimal.NewFromInt(int64(t.Pieces))
	return new(t.Sales.Div(n)), new(t.Spent.Total().Div(n))
}

// Loss is the share of the pieces that was expected to be lost; nil where nothing was begun.
func (t *Tally) Loss() *float64 {
	if t.begun <= 0 {
		return nil
	}
	return new(t.lost / t.begun)
}

// Loss is the share of the pieces that was lost; nil where it was not recorded.
func (m Made) Loss() *float64 {
	if m.Begun <= 0 {
		return nil
	}
	return new(1 - float64(m.Good)/float64(m.Begun))
}

// Apportion whole units of a batch to an order by its pieces: it has mine of all, and before of them belong to the
// orders before it. What all orders get adds up to n.
func Apportion[T ~int](n T, before, mine, all int) T {
	if all <= 0 {
		return 0
	}
	return n*T(before+mine)/T(all) - n*T(before)/T(all)
}

// Pay for minutes of work at so much an hour.
func Pay(hourly decimal.Decimal, minutes si.Minutes) decimal.Decimal {
	return hourly.Mul(decimal.NewFromInt(int64(minutes))).Div(decimal.NewFromInt(60))
}

// Split of a line's price and cost from its order's. Where the order was promised before prices were split, it is split
// evenly over the lines.
func Split(sales, cost decimal.Decimal, lines int, own, ownCost *decimal.Decimal) (decimal.Decimal, decimal.Decimal) {
	if own != nil && ownCost != nil {
		return *own, *ownCost
	}
	n := decimal.NewFromInt(int64(max(lines, 1)))
	return sales.Div(n), cost.Div(n)
}
