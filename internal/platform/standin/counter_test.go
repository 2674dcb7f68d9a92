package standin

import (
	"math"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/temper"
)

// Two servers that look at one counter see the same, whether one has watched it from the start or begins in the middle;
// and what is done at the end changes nothing of what was said before.
func TestAnyServerGivesTheSameReading(t *testing.T) {
	b := temper.Bowl{Kind: chocolate.Real, Colour: chocolate.Dark, Bands: chocolate.BandsOf(chocolate.Dark),
		Method: chocolate.Seed, Source: chocolate.Microwave, Mass: 450, Room: 21}
	deeds := []temper.Deed{{At: 3, What: temper.Burst, Seconds: 30},
		{At: 60.5, What: temper.Weigh, Grams: 120}, {At: 80, What: temper.Seeded, Grams: 120}}
	type said struct{ Temp, Grams pot.Sample }
	var watched, late []said
	first := NewCounter(b, 7, deeds)
	for s := range 301 {
		first.Until(float64(s)+0.4, func(t, g pot.Sample) { watched = append(watched, said{t, g}) })
	}
	NewCounter(b, 7, append(deeds, temper.Deed{At: 300, What: temper.Burst, Seconds: 10})).Until(300,
		func(t, g pot.Sample) { late = append(late, said{t, g}) })
	if len(watched) != 301 || len(late) != 301 {
		t.Fatalf("%d and %d seconds", len(watched), len(late))
	}
	for i := range watched {
		if watched[i] != late[i] {
			t.Fatalf("second %d: %+v and %+v", i, watched[i], late[i])
		}
	}
	// What was asked for lies in the cup after 120 / 14 s, within some grams; then it is in the bowl.
	if g := watched[75].Grams.Value; math.Abs(g-120) > 5 || watched[62].Grams.Value > 40 {
		t.Errorf("the scale shows %v", g)
	}
	if g := watched[90].Grams.Value; math.Abs(g) > 2 {
		t.Errorf("emptied, it shows %v", g)
	}
}
