package order

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

// gifts is the kitchen with boxes measured, and 12 gift boxes of 100 x 70 x 70 mm at 0.50.
func gifts() *Inputs {
	k := boxed()
	k.Supplies["gift"] = box.Supply{ID: "gift", Name: "Gift boxes", Unit: measure.Each,
		Stock: stock(12, decimal.RequireFromString("0.50")), Inside: &box.Room{Length: 100, Width: 70, Height: 70}}
	return k
}

func packsOf(r *Estimate) map[ident.Supply]float64 {
	of := map[ident.Supply]float64{}
	for _, p := range r.Packs {
		of[p.Supply] = p.Amount.Amount
	}
	return of
}

// Each of ten guests gets a berry and a bomb. By hand: a bomb of 63.5 mm and a berry turned to its 33.15 mm are 96.7 of
// 100 mm, and 63.5 of 70 deep. Of 24 berries 14 are left, which take two boxes for a dozen; liners are counted for all.
func TestOneOfEachForEveryGuest(t *testing.T) {
	k := gifts()
	d := draft(Line{Treat: "berry", Count: 24}, Line{Treat: "bomb", Count: 10})
	d.Sets = []BoxSet{{Supply: "gift", Boxes: 10, Pieces: []int{1, 1}}}
	r := reckon(t, d, k)
	if len(r.Sets) != 1 || r.Sets[0].Trouble || !slices.Equal(r.Sets[0].Layout.Count(2), []int{1, 1}) {
		t.Fatalf("%+v", r.Sets)
	}
	if got := packsOf(r); got["gift"] != 10 || got["box"] != 2 || got["liner"] != 24 {
		t.Errorf("packed in %v", got)
	}
	if b := r.Boxes; len(b) != 1 || b[0].Boxes != 2 || b[0].Trouble {
		t.Errorf("%+v", b)
	}
	// All of them in gift boxes: no box for a dozen is left over.
	d.Sets[0].Pieces, d.Sets[0].Boxes, d.Lines[0].Count = []int{2, 1}, 10, 20
	r = reckon(t, d, k)
	if got := packsOf(r); got["gift"] != 10 || got["box"] != 0 || len(r.Boxes) != 0 {
		t.Errorf("packed in %v, %v", got, r.Boxes)
	}
	// Two berries are 33.15 deep each and lie beside the bomb only one behind the other: 66.3 of 70.
	if r.Sets[0].Layout == nil && !r.Sets[0].Trouble {
		t.Errorf("%+v", r.Sets[0])
	}
}

// What does not fit is told, with the boxes in which it would; and what must lie apart.
func TestSetsThatDoNotFit(t *testing.T) {
	k := gifts()
	d := draft(Line{Treat: "berry", Count: 12}, Line{Treat: "bomb", Count: 12})
	d.Sets = []BoxSet{{Supply: "small", Boxes: 12, Pieces: []int{1, 1}}} // 2 in high: a bomb of 2 1/2 in is higher
	s := reckon(t, d, k).Sets[0]
	if !s.Trouble || s.Layout != nil || len(s.Others) != 1 || !slices.Equal(s.Others[0].Boxes, []BoxCount{{"gift", 12}}) ||
		s.Others[0].Cost.Amount != "6.00" {
		t.Errorf("%+v", s)
	}
	d.Sets[0].Supply = "gift"
	d.Lines[0].FreeFrom = []string{"milk"} // and the bombs have milk in their chocolate
	r := reckon(t, d, k)
	if s = r.Sets[0]; !s.Trouble || !strings.Contains(said.Of(s.Text), "pack them apart") || !slices.ContainsFunc(r.Care,
		func(c Caution) bool { return c.Trouble && strings.Contains(said.Of(c.Text), "pack them apart") }) {
		t.Errorf("%+v", s)
	}
	d.Lines[0].FreeFrom = nil
	mint := k.Treats["bomb"]
	formula := *mint.Formula
	formula.Piece = &treat.Piece{Apart: true}
	mint.Formula = &formula
	k.Treats["bomb"] = mint
	if s = reckon(t, d, k).Sets[0]; !s.Trouble || !strings.Contains(said.Of(s.Text), "of its own") {
		t.Errorf("%+v", s)
	}
	// Bags of bark have no size that one knows.
	d = draft(Line{Treat: "bark", Count: 4})
	d.Sets = []BoxSet{{Supply: "gift", Boxes: 4, Pieces: []int{1}}}
	if s = reckon(t, d, gifts()).Sets[0]; !s.Trouble || !strings.Contains(said.Of(s.Text), "measure a piece") {
		t.Errorf("%+v", s)
	}
}

func TestSetsThatCannotBe(t *testing.T) {
	for _, c := range []struct {
		set  BoxSet
		path string
	}{
		{BoxSet{"gift", 0, []int{1}}, "sets[0].boxes"}, {BoxSet{"gift", 1, []int{0, 0}}, "sets[0].pieces"},
		{BoxSet{"gift", 1, nil}, "sets[0].pieces"}, {BoxSet{"gift", 1, []int{-1, 2}}, "sets[0].pieces[0]"},
		{BoxSet{"gift", 7, []int{2}}, "sets[0].pieces[0]"}, {BoxSet{"gift", 1, []int{1, 0, 1}}, "sets[0].pieces[2]"},
		{BoxSet{"liner", 1, []int{1}}, "sets[0].supply"},
	} {
		d := draft(Line{Treat: "berry", Count: 12}, Line{Treat: "bomb", Count: 12})
		d.Sets = []BoxSet{c.set}
		_, err := Compute(context.Background(), d, gifts())
		var faults *invalid.Error
		if !errors.As(err, &faults) || faults.Fields[0].Path != c.path {
			t.Errorf("%v: %v", c.set, err)
		}
	}
	d := draft(Line{Treat: "berry", Count: 12})
	d.Sets = slices.Repeat([]BoxSet{{"gift", 1, []int{1}}}, MostSets+1)
	if _, err := Compute(context.Background(), d, gifts()); err == nil {
		t.Error("too many are taken")
	}
}
