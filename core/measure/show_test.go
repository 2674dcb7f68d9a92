package measure

import (
	"testing"
	"zestytin/core/si"
)

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

// Drops of its own are counted as they were typed: 12 of 0.03 g are 12, not the 8 that 0.4 mL would be at 20 to the mL.
func TestDropsOfItsOwn(t *testing.T) {
	oil := Substance{Density: 0.9, Measures: map[Unit]si.Grams{Drop: 0.03}}
	for n, want := range map[float64]string{12: "12 drops", 0.4: "1 drop", 19: "19 drops", 75: "1/2 tsp"} {
		grams, err := Of(n, Drop).In(Gram, oil)
		if got := Show(Grams(si.Grams(grams)), oil).US; err != nil || got != want {
			t.Errorf("%v drops are written %q, want %q (%v)", n, got, want, err)
		}
	}
	heavy := Substance{Measures: map[Unit]si.Grams{Drop: 0.05}} // nothing is known of it but that
	if got := Show(Grams(0.4), heavy).US; got != "8 drops" {
		t.Errorf("0.4 g are written %q", got)
	}
}
