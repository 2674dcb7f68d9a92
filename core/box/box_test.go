package box

import (
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/internal/text/said"
)

// By hand: two batches take 4 and 2 of 5 boxes, so 1 is missing; 40 and 20 ribbons of 30 cm are 18 m of 20 m. A box
// costs 0.74: 6 x 0.74 = 4.44; ribbon costs 7.50 for 45 m: 18 m are 3.00.
func TestAgainstByHand(t *testing.T) {
	card := func(boxes, ribbonMM float64) *batch.Card {
		return &batch.Card{Packs: []batch.Packed{
			{Supply: "box", Amount: measure.Of(boxes, measure.Each), Why: reason.Text{reason.Said("Boxes.")}},
			{Supply: "ribbon", Amount: measure.Of(ribbonMM, measure.Millimetre),
				Why: reason.Text{reason.Said("Ribbon.")}}, {Supply: "gone", Amount: measure.Of(1, measure.Each)},
		}}
	}
	needs := Against([]*batch.Card{card(4, 12000), card(2, 6000)}, map[ident.Supply]Supply{
		"box": {ID: "box", Name: "Boxes", Unit: measure.Each, Stock: stock(5, decimal.RequireFromString("0.74"))},
		"ribbon": {ID: "ribbon", Name: "Ribbon", Unit: measure.Millimetre,
			Stock: stock(20000, decimal.RequireFromString("7.50").Div(decimal.NewFromInt(45000)))},
	})
	if len(needs) != 2 {
		t.Fatalf("%d needs", len(needs))
	}
	boxes, ribbon := needs[0], needs[1]
	if boxes.Amount.Amount != 6 || boxes.Short == nil || boxes.Short.Amount != 1 ||
		boxes.Cost.StringFixed(2) != "4.44" || !strings.HasSuffix(said.Text(boxes.Why),
		"In the house: 5, so 1 are missing.") {
		t.Errorf("boxes: %+v", boxes)
	}
	if ribbon.Amount.Metric != "18 m" || ribbon.Short != nil || ribbon.Cost.StringFixed(2) != "3.00" {
		t.Errorf("ribbon: %+v", ribbon)
	}
	if got := Against(nil, nil); got == nil || len(got) != 0 {
		t.Errorf("nothing takes %v", got)
	}
}

// stock of one lot at what was last paid.
func stock(left float64, price decimal.Decimal) larder.Stock {
	return larder.Stock{Lots: []larder.StockLot{{Left: left, Price: price}}, Latest: price}
}
