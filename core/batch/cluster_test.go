package batch

import (
	"slices"
	"testing"

	"zestytin/core/family"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

func init() { families["cluster"] = cluster }

func cluster() *treat.Formula {
	return stepped(&treat.Formula{Family: "cluster", Loss: 0.02, ShelfLifeHours: 720,
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "Dark", Each: massOf(7),
			Pool: measure.Grams(30)}},
		Portions: []treat.Addition{{Ingredient: "Hazelnut", Each: measure.Grams(7), Where: treat.On}},
		Packs:    []treat.Pack{{Supply: "box", Amount: measure.Of(1, measure.Each), Per: 12}}})
}

// By hand. 24 good at 2%: of 25 at most one is lost with 0.911, of 26 at most two with 0.985: start 26. Dark 26 x 7 =
// 182 g, with tools 185.64, and 30 stay in the bowl: melt 215.64. Hazelnuts 182 g, folded into that bowl, which has
// touched tree nut from then on. Two boxes.
func TestClusterByHand(t *testing.T) {
	c := card(t, cluster(), 24)
	if c.Start != 26 {
		t.Errorf("start %d", c.Start)
	}
	near(t, "dark", needed(t, c, "Dark"), 185.64)
	near(t, "hazelnuts", needed(t, c, "Hazelnut"), 182)
	near(t, "a piece", c.PieceMass, 14)
	if len(c.Pots) != 1 || len(c.Packs) != 1 {
		t.Fatalf("%d pots, %d packs", len(c.Pots), len(c.Packs))
	}
	near(t, "melted", c.Pots[0].Melted.Amount, 215.64)
	near(t, "boxes", c.Packs[0].Amount.Amount, 2)
	if !slices.Equal(c.Pots[0].Touches, []string{"tree nut"}) {
		t.Errorf("the bowl has touched %v", c.Pots[0].Touches)
	}
	bare := cluster()
	bare.Portions = nil
	if err := family.Check(bare, larder(), supplies); err == nil {
		t.Error("nothing is bound, and nobody minds")
	}
}
