package till

import (
	"testing"

	"github.com/shopspring/decimal"
)

// Of 50 000 a year: 30 000 sold and 5 000 promised leave 15 000; at 40 000 it is time to look; 45 000 and 6 000 are
// 1 000 too many.
func TestTheYearsLimit(t *testing.T) {
	n := decimal.NewFromInt
	for _, c := range []struct {
		sold, ahead int64
		left        string
		stands      YearStanding
	}{{30_000, 5_000, "15000.00", Within}, {35_000, 5_000, "10000.00", Near}, {45_000, 6_000, "0.00", Promised},
		{50_000, 0, "0.00", Near}, {50_001, 0, "0.00", Over}, {0, 0, "50000.00", Within}} {
		y := YearOf(2026, n(c.sold), n(c.ahead), n(50_000), "USD")
		if y.Stands != c.stands || y.Left.Amount != c.left {
			t.Errorf("%d sold, %d promised: %+v", c.sold, c.ahead, y)
		}
	}
	if YearOf(2026, n(1), n(1), decimal.Zero, "USD") != nil {
		t.Error("there is no limit")
	}
}
