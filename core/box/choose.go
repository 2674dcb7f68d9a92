package box

import (
	"math"

	"github.com/shopspring/decimal"
)

// Option is a kind of box: how many pieces, or sets, it takes, what one costs, and how many of it are free; fewer than
// 0: as many as are bought.
type Option struct {
	Takes int
	Price decimal.Decimal
	Free  int
}

// mostWanted pieces that boxes are chosen for.
const mostWanted = 20_000

// Choose the cheapest boxes that take n pieces together; of those that cost the same the fewest, and then those with
// the fewest empty places. It returns how many of each option; nil where they do not take as many, or there are more
// than can be reckoned with.
func Choose(n int, options []Option) []int {
	if n <= 0 || n > mostWanted {
		return nil
	}
	// A number of boxes of a kind is made of powers of two, so that each of these lots is taken or not.
	type lot struct{ option, boxes, takes int }
	var lots []lot
	for i, o := range options {
		if o.Takes <= 0 {
			continue
		}
		left := (n + o.Takes - 1) / o.Takes
		if o.Free >= 0 {
			left = min(left, o.Free)
		}
		for boxes := 1; left > 0; boxes *= 2 {
			b := min(boxes, left)
			lots, left = append(lots, lot{i, b, b * o.Takes}), left-b
		}
	}
	type sum struct {
		cost  int64 // in 1/10000 of the currency
		boxes int
		takes int
	}
	less := func(a, b sum) bool {
		if a.cost != b.cost {
			return a.cost < b.cost
		}
		if a.boxes != b.boxes {
			return a.boxes < b.boxes
		}
		return a.takes < b.takes
	}
	best := make([]sum, n+1) // that take at least so many
	for j := 1; j <= n; j++ {
		best[j].cost = math.MaxInt64
	}
	taken := make([][]bool, len(lots))
	for i, l := range lots {
		taken[i] = make([]bool, n+1)
		price := options[l.option].Price.Shift(4).Round(0).IntPart() * int64(l.boxes)
		for j := n; j > 0; j-- {
			from := best[max(j-l.takes, 0)]
			if from.cost == math.MaxInt64 {
				continue
			}
			with := sum{from.cost + price, from.boxes + l.boxes, from.takes + l.takes}
			if less(with, best[j]) {
				best[j], taken[i][j] = with, true
			}
		}
	}
	if best[n].cost == math.MaxInt64 {
		return nil
	}
	chosen := make([]int, len(options))
	for i, j := len(lots)-1, n; i >= 0 && j > 0; i-- {
		if taken[i][j] {
			chosen[lots[i].option] += lots[i].boxes
			j = max(j-lots[i].takes, 0)
		}
	}
	return chosen
}
