package order

import (
	"fmt"

	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/price"
	"zestytin/core/reason"
)

// Given is how many pieces of a line were handed over at the door, of how many, and the line's share of the price.
type Given struct {
	Name  string
	Count int
	Given int
	Price decimal.Decimal
}

// CheckGiven tells whether so many pieces of each line can have been handed over of an order of which others came back:
// as many as there are or fewer, some, and not all. The error is an *invalid.Error with paths from the list.
func CheckGiven(counts, given []int) error {
	var f invalid.Faults
	if len(given) != len(counts) {
		f.Add("", reason.Of("order.given-of-each-line", reason.Int(len(counts))))
		return f.Err()
	}
	some, all := false, true
	for i, n := range given {
		if n < 0 || n > counts[i] {
			f.Add(fmt.Sprintf("[%d]", i), reason.Of("order.given-at-most", reason.Int(counts[i])))
		}
		some, all = some || n > 0, all && n == counts[i]
	}
	switch {
	case all:
		f.Add("", reason.Of("order.given-in-full"))
	case !some:
		f.Add("", reason.Of("order.given-nothing"))
	}
	return f.Err()
}

// CameBack is what was not handed over, and its share of the price.
func CameBack(lines []Given, currency string) (list []reason.Reason, worth price.Money) {
	list = []reason.Reason{}
	sum := decimal.Zero
	for _, l := range lines {
		if back := l.Count - l.Given; back > 0 {
			list = append(list, reason.Of("order.came-back", reason.Int(back), reason.Int(l.Count),
				reason.Name(l.Name)))
			sum = sum.Add(l.Price.Mul(decimal.NewFromInt(int64(back))).Div(decimal.NewFromInt(int64(l.Count))))
		}
	}
	return list, price.In(currency, sum)
}
