package measure

import "testing"

// A pack is shown as it is printed: round grams in any kitchen, round ounces in any kitchen.
func TestShowPack(t *testing.T) {
	for _, c := range []struct {
		q          Quantity
		metric, us string
	}{
		{Of(1000, Gram), "1 kg", "1 kg"},
		{Of(250, Gram), "250 g", "250 g"},
		{Of(1, Pound), "1 lb", "1 lb"},
		{Of(12, Ounce), "12 oz", "12 oz"},
		{Of(500, Millilitre), "500 mL", "500 mL"},
		{Of(100, Each), Show(Of(100, Each), Substance{}).Metric, Show(Of(100, Each), Substance{}).US},
		{Of(333, Gram), Show(Of(333, Gram), Substance{}).Metric, Show(Of(333, Gram), Substance{}).US},
		{Of(0, Gram), Show(Of(0, Gram), Substance{}).Metric, Show(Of(0, Gram), Substance{}).US},
	} {
		if got := ShowPack(c.q); got.Metric != c.metric || got.US != c.us {
			t.Errorf("%v: %q and %q, want %q and %q", c.q, got.Metric, got.US, c.metric, c.us)
		}
	}
}
