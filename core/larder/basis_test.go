package larder

import (
	"testing"

	"github.com/shopspring/decimal"
)

// TestBasis: what was paid is sure, an estimate stays one whatever it comes to, and no price is told apart from both.
func TestBasis(t *testing.T) {
	d := decimal.RequireFromString
	for name, c := range map[string]struct {
		stock Stock
		cost  string
		want  Basis
	}{
		"paid":                       {Stock{Latest: d("0.02")}, "1.20", OnPaid},
		"an estimate":                {Stock{Latest: d("0.02"), Estimated: true}, "1.20", OnEstimate},
		"an estimate of nothing":     {Stock{Estimated: true}, "0", OnEstimate},
		"no price":                   {Stock{}, "0", OnNothing},
		"no price, but lots have":    {Stock{Lots: []StockLot{{Left: 5, Price: d("1")}}}, "5", OnPaid},
		"a price that comes to none": {Stock{Latest: d("0.02")}, "0", OnPaid},
	} {
		if got := c.stock.Basis(d(c.cost)); got != c.want {
			t.Errorf("%s: %q, want %q", name, got, c.want)
		}
	}
}
