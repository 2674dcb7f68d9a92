package ledger

import (
	"fmt"
	"math"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/si"
)

// One batch on two days, in a plan: 24 halves by spoon, twelve on Thursday and twelve on Saturday, and on Saturday
// other work from the same bowl. Thursday melts 515.3; Saturday 309.1 x 1.02 + 100 x 1.02 + 200 = 617.3, of which 200
// were left.
func TestBowlsOfAPlan(t *testing.T) {
	half := Draw{Pot: dark, Applied: 12 * keeps, Pool: 200, Least: 115, Seed: seed}
	other := Draw{Pot: dark, Applied: 100, Pool: 60, Least: 115, Seed: seed}
	melt := []ident.Pot{dark.Key()}
	works := []Worked{
		{Batch: "a", Step: "shells-2", Day: "2026-09-12", Session: 2, Start: 4000, End: 4010, Melts: melt, Draw: &half},
		{Batch: "a", Step: "shells-1", Day: "2026-09-10", Session: 0, Start: 1100, End: 1110, Melts: melt, Draw: &half},
		{Batch: "b", Step: "spread", Day: "2026-09-12", Session: 2, Start: 4010, End: 4020, Draw: &other},
		{Batch: "b", Step: "break", Day: "2026-09-12", Session: 2, Start: 4030, End: 4040},
	}
	bowls := Bowls(works)
	if len(bowls) != 2 {
		t.Fatalf("%+v", bowls)
	}
	near(t, "Thursday", bowls[0].Melted, 515.3)
	near(t, "Saturday", bowls[1].Melted, 617.3)
	near(t, "of a on Saturday", bowls[1].UsedBy("a"), 12*keeps*1.02)
	near(t, "of b on Saturday", bowls[1].UsedBy("b"), 102)
	melts := []Melt{bowls[0].Melt, bowls[1].Melt}
	Carry(melts, nil)
	near(t, "fresh on Saturday", melts[1].Fresh(), 417.3)
	near(t, "before the spreading", bowls[1].Before[1], 617.3-12*keeps*1.02)
	// Another person has a bowl of their own; so has what is melted again, and a session more.
	for name, change := range map[string]func(*Worked){"another person": func(w *Worked) { w.Hand = 1 },
		"melted again": func(w *Worked) { w.Melts = melt }, "another session": func(w *Worked) { w.Session = 3 }} {
		changed := append([]Worked{}, works...)
		change(&changed[2])
		if got := Bowls(changed); len(got) != 3 {
			t.Errorf("%s: %d bowls", name, len(got))
		}
	}
	// The second colour of a swirl is melted before the first is spread: its bowl is there from then on.
	spread := Draw{Pot: white, Applied: 50, Least: 115}
	swirl := []Worked{
		{Batch: "s", Step: "first", Day: "d", Start: 10, End: 14, Melts: []ident.Pot{dark.Key(), white.Key()},
			Draw: &other},
		{Batch: "s", Step: "second", Day: "d", Start: 14, End: 20, Draw: &spread},
	}
	if got := Bowls(swirl); len(got) != 2 || got[0].At != 10 || got[1].At != 10 {
		t.Errorf("%+v", got)
	}
}

// What has touched peanut makes no bowl for what must be free from it, on one day as over two; and a paler shade is not
// made of a deeper one.
func TestBowlsThatMustNotBeShared(t *testing.T) {
	centres := Draw{Pot: white, Applied: 108, Pool: 150, Least: 115, Touches: []string{"peanut"}}
	bark := Draw{Pot: white, Applied: 200, Least: 115}
	works := []Worked{{Batch: "c", Step: "dip", Start: 10, End: 20, Draw: &centres},
		{Batch: "b", Step: "spread", Start: 30, End: 40, Draw: &bark, FreeFrom: []string{"peanut"}}}
	if got := Bowls(works); len(got) != 2 || len(got[1].Touched) != 0 {
		t.Errorf("%+v", got)
	}
	works[0].Start, works[0].End = 50, 60
	got := Bowls(works)
	if len(got) != 1 || math.Abs(float64(got[0].Melted-464.16)) > 0.01 {
		t.Errorf("the bark first: %+v", got)
	}
	tinted := Pot{Ingredient: "white", Tint: "blue", Method: chocolate.NoTemper}
	deep, pale := Draw{Pot: tinted, Applied: 50, Colour: 0.02, Least: 30},
		Draw{Pot: tinted, Applied: 50, Colour: 0.01, Least: 30}
	shades := []Worked{{Batch: "d", Step: "deep", Start: 10, End: 20, Draw: &deep},
		{Batch: "p", Step: "pale", Start: 30, End: 40, Draw: &pale}}
	if got := Bowls(shades); len(got) != 2 {
		t.Errorf("%d bowls for a pale shade after a deep one", len(got))
	}
	shades[1].Start, shades[1].End = 0, 5
	if got := Bowls(shades); len(got) != 1 || got[0].Colour != 0.02 {
		t.Errorf("%+v", got)
	}
}

// What is ticked before its time was worked from a bowl of that time, with all that is ticked with it; the bowl is over
// when nothing more of its batch is to be worked from such a one. What is ticked in its evening stays with the bowl
// that the plan has for it, however late.
func TestWhatIsDoneAtAnotherTime(t *testing.T) {
	shell := Draw{Pot: Pot{Ingredient: "milk"}, Applied: 100, Pool: 50, Least: 20}
	works := func(done ...*si.Minutes) []Worked {
		list := make([]Worked, len(done))
		for i, at := range done {
			list[i] = Worked{Batch: "b", Step: ident.Step(fmt.Sprint(i)), Day: "2026-09-05", Session: 1,
				Start: si.Minutes(1140 + 20*i), End: si.Minutes(1150 + 20*i), Draw: &shell, Done: at,
				DoneOn: "2026-09-05"}
		}
		return list
	}
	for _, c := range []struct {
		works []Worked
		melts []float64
		over  []bool
	}{
		{works(nil, nil, nil), []float64{356}, []bool{false}},
		{works(new(si.Minutes(1152)), nil, nil), []float64{356}, []bool{false}},
		{works(new(si.Minutes(1152)), new(si.Minutes(1180)), new(si.Minutes(1230))), []float64{356}, []bool{true}},
		{works(new(si.Minutes(620)), nil, nil), []float64{152, 254}, []bool{false, false}},
		{works(new(si.Minutes(620)), new(si.Minutes(640)), nil), []float64{254, 152}, []bool{false, false}},
		{works(new(si.Minutes(620)), new(si.Minutes(640)), new(si.Minutes(1200))), []float64{254, 152},
			[]bool{true, true}},
		{works(new(si.Minutes(1140+1500)), new(si.Minutes(1160+1500)), new(si.Minutes(1180+1500))), []float64{356},
			[]bool{true}}, // the next day, all of it
	} {
		bowls := Bowls(c.works)
		if len(bowls) != len(c.melts) {
			t.Errorf("%d bowls, want %v", len(bowls), c.melts)
			continue
		}
		for i := range bowls {
			if math.Abs(float64(bowls[i].Melted-si.Grams(c.melts[i]))) > 1e-9 || bowls[i].Over() != c.over[i] {
				t.Errorf("bowl %d of %v: %g g, over %v", i, c.melts, bowls[i].Melted, bowls[i].Over())
			}
		}
	}
}
