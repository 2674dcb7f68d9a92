package order

import (
	"testing"

	"zestytin/core/measure"
)

// What boils off is water, and there is no more of it than went in; a syrup at soft ball keeps 12 to 15% water (rules
// 2.6). Water of 100 g: heavy cream 58 g, butter 16 to 18 g (USDA FoodData Central; from memory), of dry things none
// that counts; what stays in pot and sieve is up to 2% (common practice).
func TestLossesOfMixesAgainstTheirWater(t *testing.T) {
	k := demoKitchen(t)
	water := map[string]float64{"Heavy cream": 0.58, "Butter": 0.18}
	seen := 0
	for _, m := range k.Mixes {
		in, wet, sugar := 0.0, 0.0, 0.0
		for _, p := range m.Parts {
			grams, err := p.Amount.In(measure.Gram, k.Ingredients[p.Of].Substance)
			if err != nil {
				t.Fatal(err)
			}
			in, wet = in+grams, wet+grams*water[string(p.Of)]
			if p.Of == "Granulated sugar" {
				sugar += grams
			}
		}
		seen++
		lost := m.Loss * in
		if lost > wet+0.02*in {
			t.Errorf("%s loses %.0f g, and has %.0f g of water", m.Name, lost, wet)
		}
		if sugar == 0 {
			continue
		}
		left := wet - lost
		if share := left / (sugar + left); share < 0.12 || share > 0.15 {
			t.Errorf("%s: its syrup keeps %.1f %% water at soft ball", m.Name, 100*share)
		}
	}
	if seen < 4 {
		t.Errorf("%d mixes", seen)
	}
}
