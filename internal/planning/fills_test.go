package planning

import (
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/si"
)

// By hand: two people from 18:00 to 20:00 and one until 21:00 have 5 h. Berries take 40 + 25 min, bombs 90, melting and
// washing down 12 + 6 + 15; what has no room takes nothing.
func TestWhatFillsADay(t *testing.T) {
	d := PlanDay{Hours: []Hours{{1080, 1200, 2}, {1200, 1260, 1}}, Steps: []PlanStep{
		{Treat: "Berries", Hands: 40, Melt: 12, Wash: 6}, {Treat: "Bombs", Hands: 90, Melt: 15},
		{Treat: "Berries", Hands: 25}, {Treat: "Bark", Hands: 70, Melt: 9, Short: true}}}
	d.fill(map[string]food.Chocolate{"Bombs": {Colour: chocolate.Milk}})
	if d.Open != 300 || d.Setup != 33 || len(d.Fills) != 2 {
		t.Fatalf("%+v", d)
	}
	bombs := DayFill{Treat: "Bombs", Chocolate: food.Chocolate{Colour: chocolate.Milk}, Minutes: 90}
	if d.Fills[0] != bombs || d.Fills[1].Minutes != si.Minutes(65) {
		t.Errorf("%+v", d.Fills)
	}
	var off PlanDay
	off.fill(nil)
	if off.Open != 0 || off.Fills == nil || len(off.Fills) != 0 {
		t.Errorf("a day off: %+v", off)
	}
}
