package order

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/internal/text/said"
)

const inch = 25.4

// boxed is the kitchen with the inside of its box for a dozen measured, 10 x 7 x 2 in, 3 of them at 0.74, and a box of
// 6 x 4 x 2 in, 20 of them at 0.30.
func boxed() *Inputs {
	k := kitchen()
	dozen, small := k.Supplies["box"], box.Supply{ID: "small", Name: "Small boxes", Unit: measure.Each,
		Stock: stock(20, decimal.RequireFromString("0.30"))}
	dozen.Inside = &box.Room{Length: 10 * inch, Width: 7 * inch, Height: 2 * inch}
	small.Inside = &box.Room{Length: 6 * inch, Width: 4 * inch, Height: 2 * inch}
	k.Supplies["box"], k.Supplies["small"] = dozen, small
	return k
}

// By hand: a berry of 18 g is a ball of 32.52 mm, with 8 g of chocolate at 1.30 g/mL one of 35.87 mm, as a berry 41.99 by
// 33.15. Four rows of six and, turned, one of seven take 4 x 33.15 + 41.99 = 174.6 of 177.8 mm: 31 to a box.
func TestBerriesInTheirBoxes(t *testing.T) {
	k := boxed()
	r := reckon(t, draft(Line{Treat: "berry", Count: 24}), k)
	if len(r.Boxes) != 1 {
		t.Fatalf("%d kinds of boxes", len(r.Boxes))
	}
	b := r.Boxes[0]
	if b.Boxes != 2 || b.Each != 12 || b.Takes != 31 || b.Trouble || b.Layout.Count(1)[0] != 12 {
		t.Errorf("%+v", b)
	}
	if text := said.Of(b.Text); !strings.Contains(text, "There is room for 31") {
		t.Error(text)
	}
	// 24 berries lie in one of them too, for half as much.
	if len(b.Instead) != 1 || !slices.Equal(b.Instead[0].Boxes, []BoxCount{{"box", 1}}) ||
		b.Instead[0].Cost.Amount != "0.74" || b.Instead[0].Short {
		t.Errorf("instead %+v", b.Instead)
	}
	// In liners of 2 in they take 50.8 mm each way: 5 x 3.
	liner := k.Supplies["liner"]
	liner.Foot = &box.Foot{Length: 2 * inch, Width: 2 * inch}
	k.Supplies["liner"] = liner
	if b = reckon(t, draft(Line{Treat: "berry", Count: 24}), k).Boxes[0]; b.Takes != 15 {
		t.Errorf("%d in liners of 2 in", b.Takes)
	}
}

// In liners of 3 in six lie in the box for a dozen, two in the small one: a dozen does not fit, two boxes do, 1.48; the
// small ones would be six at 1.80.
func TestADozenThatDoesNotFit(t *testing.T) {
	k := boxed()
	liner := k.Supplies["liner"]
	liner.Foot = &box.Foot{Length: 3 * inch, Width: 3 * inch}
	k.Supplies["liner"] = liner
	r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	b := r.Boxes[0]
	if !b.Trouble || b.Takes != 6 || b.Layout == nil ||
		!slices.ContainsFunc(r.Care, func(c Caution) bool { return c.Trouble && strings.Contains(said.Of(c.Text), "6 do") }) {
		t.Fatalf("%+v, %v", b, r.Care)
	}
	if len(b.Instead) != 1 || !slices.Equal(b.Instead[0].Boxes, []BoxCount{{"box", 2}}) || b.Instead[0].Cost.Amount != "1.48" {
		t.Fatalf("instead %+v", b.Instead)
	}
	// Taken: they are what is counted, paid for and bought, in the place of the treat's own.
	line := Line{Treat: "berry", Count: 12, Boxes: b.Instead[0].Boxes}
	r = reckon(t, draft(line), k)
	if b = r.Boxes[0]; b.Trouble || b.Boxes != 2 || len(b.Instead) != 0 {
		t.Errorf("%+v", b)
	}
	n := slices.IndexFunc(r.Packs, func(p box.Need) bool { return p.Supply == "box" })
	if r.Packs[n].Amount.Amount != 2 {
		t.Errorf("takes %v boxes", r.Packs[n].Amount.Amount)
	}
	// Five dozen of it are ten boxes of which there are three: with what is there, three and 21 small ones are one too
	// few, so that only the cheapest is told.
	r = reckon(t, draft(Line{Treat: "berry", Count: 60}), k)
	if got := r.Boxes[0].Instead; len(got) != 1 || !got[0].Short {
		t.Errorf("instead %+v", got)
	}
	// Of three and a half dozen there are enough: three, and twelve small ones.
	r = reckon(t, draft(Line{Treat: "berry", Count: 42}), k)
	if got := r.Boxes[0].Instead; len(got) != 2 || !slices.Equal(got[1].Boxes, []BoxCount{{"box", 3}, {"small", 12}}) {
		t.Errorf("instead %+v", got)
	}
	// Too few boxes are told as such.
	r = reckon(t, draft(Line{Treat: "berry", Count: 13, Boxes: line.Boxes}), k)
	if b = r.Boxes[0]; !b.Trouble || !strings.Contains(said.Of(b.Text), "12 of the 13") {
		t.Errorf("%v", said.Of(b.Text))
	}
}

func TestBoxesThatCannotBe(t *testing.T) {
	for _, c := range []struct {
		boxes []BoxCount
		path  string
	}{
		{[]BoxCount{{"box", 0}}, "lines[0].boxes[0].count"},
		{[]BoxCount{{"liner", 1}}, "lines[0].boxes[0].supply"},
		{[]BoxCount{{"box", 1}, {"gone", 1}}, "lines[0].boxes[1].supply"},
		{slices.Repeat([]BoxCount{{"box", 1}}, 21), "lines[0].boxes"},
	} {
		_, err := Compute(context.Background(), draft(Line{Treat: "berry", Count: 12, Boxes: c.boxes}), boxed())
		var faults *invalid.Error
		if !errors.As(err, &faults) || faults.Fields[0].Path != c.path {
			t.Errorf("%v: %v", c.boxes, err)
		}
	}
	// A piece larger than every box is said to be, and nothing is offered.
	k := boxed()
	liner := k.Supplies["liner"]
	liner.Foot = &box.Foot{Length: 300, Width: 300}
	k.Supplies["liner"] = liner
	r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k)
	if b := r.Boxes[0]; !b.Trouble || b.Takes != 0 || b.Layout != nil || len(b.Instead) != 0 {
		t.Errorf("%+v", b)
	}
	for id := range k.Supplies { // boxes that nobody has measured are packed as before, and nothing is said of them
		s := k.Supplies[id]
		s.Inside = nil
		k.Supplies[id] = s
	}
	if r := reckon(t, draft(Line{Treat: "berry", Count: 12}), k); len(r.Boxes) != 0 || len(r.Packs) != 2 {
		t.Errorf("%v, %v", r.Boxes, r.Packs)
	}
}

// By hand: 24 berries in 2 boxes of their treat take 2 lids at 0.26 and 2 x 30 g of shred at 0.01: 1.12 more. In the
// place of one box for 1.30 with all of it stand 3 small ones for 0.90: cheaper, though a box alone would be 0.74.
func TestWhatGoesWithABox(t *testing.T) {
	k := boxed()
	plain := reckon(t, draft(Line{Treat: "berry", Count: 24}), k)
	k.Supplies["lid"] = box.Supply{ID: "lid", Name: "Lids", Unit: measure.Each,
		Stock: stock(1, decimal.RequireFromString("0.26"))}
	k.Supplies["shred"] = box.Supply{ID: "shred", Name: "Shred", Unit: measure.Gram,
		Stock: stock(900, decimal.RequireFromString("0.01"))}
	dozen := k.Supplies["box"]
	dozen.Fittings = []box.Fitting{{Supply: "lid", Amount: measure.Of(1, measure.Each)},
		{Supply: "shred", Amount: measure.Of(30, measure.Gram)}}
	k.Supplies["box"] = dozen
	r := reckon(t, draft(Line{Treat: "berry", Count: 24}), k)
	if len(r.Packs) != len(plain.Packs)+2 {
		t.Fatalf("%+v", r.Packs)
	}
	lids, shred := r.Packs[len(r.Packs)-2], r.Packs[len(r.Packs)-1]
	if lids.Amount.Amount != 2 || lids.Short == nil || shred.Amount.Amount != 60 ||
		shred.Cost.StringFixed(2) != "0.60" {
		t.Errorf("%+v, %+v", lids, shred)
	}
	packaging := func(r *Estimate) decimal.Decimal { return decimal.RequireFromString(r.Money.Packaging.Amount) }
	if more := packaging(r).Sub(packaging(plain)); more.StringFixed(2) != "1.12" { // 2 x 0.26 + 0.60
		t.Errorf("%v more", more)
	}
	small := r.Boxes[0].Instead[0]
	if !slices.Equal(small.Boxes, []BoxCount{{"small", 3}}) || small.Cost.Amount != "0.90" {
		t.Errorf("instead %+v", small)
	}
	// Boxes that a line names, and those of a set, bring theirs too.
	own := reckon(t, draft(Line{Treat: "berry", Count: 24, Boxes: []BoxCount{{"box", 3}}}), k)
	if n := own.Packs[len(own.Packs)-1]; n.Supply != "shred" || n.Amount.Amount != 90 {
		t.Errorf("own boxes: %+v", n)
	}
	d := draft(Line{Treat: "berry", Count: 24})
	d.Sets = []BoxSet{{Supply: "box", Boxes: 6, Pieces: []int{4}}}
	if n := reckon(t, d, k).Packs; n[len(n)-1].Supply != "shred" || n[len(n)-1].Amount.Amount != 180 {
		t.Errorf("a set: %+v", n)
	}
}

func TestPiecesThatWouldLieInABox(t *testing.T) {
	k := boxed()
	low := k.Supplies["box"]
	low.Inside = &box.Room{Length: 120, Width: 90, Height: 50}
	k.Supplies["box"] = low
	b := reckon(t, draft(Line{Treat: "berry", Count: 12}), k).Boxes[0]
	if !b.Trouble || b.Takes >= 12 || b.Smaller == nil ||
		!strings.HasPrefix(said.Of(*b.Smaller), "12 would fit if each") {
		t.Errorf("%+v", b)
	}
}
