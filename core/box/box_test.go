package box

import (
	"errors"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
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

// By hand: 3 boxes, each with 25 g of shred, 1.2 m of ribbon and a lid: 75 g, 3.6 m and 3 lids; one with all of it
// costs 0.74 + 25 x 0.02 + 1200 x 0.00015 + 0.10 = 1.52. A bag on the same card brings nothing.
func TestWithFittings(t *testing.T) {
	price := decimal.RequireFromString
	supplies := map[ident.Supply]Supply{
		"box": {ID: "box", Name: "Boxes", Unit: measure.Each, Stock: stock(9, price("0.74")), Fittings: []Fitting{
			{"shred", measure.Of(25, measure.Gram)}, {"ribbon", measure.Of(1.2, measure.Metre)},
			{"lid", measure.Of(1, measure.Each)}, {"gone", measure.Of(1, measure.Each)}}},
		"bag":    {ID: "bag", Name: "Bags", Unit: measure.Each},
		"lid":    {ID: "lid", Name: "Lids", Unit: measure.Each, Stock: stock(2, price("0.10"))},
		"shred":  {ID: "shred", Name: "Shred", Unit: measure.Gram, Stock: stock(500, price("0.02"))},
		"ribbon": {ID: "ribbon", Name: "Ribbon", Unit: measure.Millimetre, Stock: stock(9000, price("0.00015"))},
	}
	packs := []batch.Packed{{Supply: "box", Amount: measure.Of(3, measure.Each)},
		{Supply: "bag", Amount: measure.Of(4, measure.Each)},
		{Supply: "ribbon", Amount: measure.Of(500, measure.Millimetre)}}
	with := WithFittings(packs, supplies)
	if len(packs) != 3 || len(with) != 6 {
		t.Fatalf("%d of %d", len(with), len(packs))
	}
	needs := Against([]*batch.Card{{Packs: with}}, supplies)
	for name, want := range map[string]string{"Boxes": "3", "Bags": "4", "Shred": "75 g", "Ribbon": "4.1 m",
		"Lids": "3"} {
		i := slices.IndexFunc(needs, func(n Need) bool { return n.Name == name })
		if i < 0 || needs[i].Amount.Metric != want || (needs[i].Short != nil) != (name == "Lids" || name == "Bags") {
			t.Errorf("%s: %+v", name, needs)
		}
	}
	if got := supplies["box"].Price(supplies); got.StringFixed(4) != "1.5200" {
		t.Errorf("one costs %v", got)
	}
	if text := said.Text(with[3].Why); text != "25 g with each of 3 Boxes." {
		t.Error(text)
	}
}

func TestFaultsOfFittings(t *testing.T) {
	err := CheckFittings([]Fitting{{"a", measure.Of(1, measure.Each)}, {"a", measure.Of(0, measure.Gram)},
		{"b", measure.Of(1, "furlong")}})
	var faults *invalid.Error
	if !errors.As(err, &faults) || len(faults.Fields) != 3 || faults.Fields[0].Path != "[1].supply" {
		t.Errorf("%v", err)
	}
	if err := CheckFittings(make([]Fitting, 13)); err == nil {
		t.Error("thirteen things go with a box")
	}
}

// By hand: a cube of 40 mm stands in a box of 30 mm only under a lid that leaves 10 mm more, or without a lid; in two
// layers, as high as the half, neither helps.
func TestLids(t *testing.T) {
	box := Inside{Length: measure.Of(100, "mm"), Width: measure.Of(100, "mm"), Height: measure.Of(30, "mm")}
	for _, x := range []struct {
		lid   Lid
		rise  float64
		takes int
	}{{LidFlat, 0, 0}, {LidRaised, 9, 0}, {LidRaised, 10, 4}, {LidNone, 0, 4}} {
		of := box
		if of.Lid = x.lid; x.rise > 0 {
			of.Rise = new(measure.Of(x.rise, "mm"))
		}
		if err := of.Check(); err != nil {
			t.Fatal(err)
		}
		if n, _ := Most(*of.Room(), cube(40)); n != x.takes {
			t.Errorf("%d under a lid %q of %v mm", n, x.lid, x.rise)
		}
	}
	wrong := []Inside{box, box, box}
	wrong[0].Lid, wrong[1].Lid, wrong[2].Lid = "domed", LidRaised, LidNone
	wrong[2].Layers = 2
	for _, x := range wrong {
		if x.Check() == nil {
			t.Errorf("%+v passes", x)
		}
	}
	tray := Room{Length: 100, Width: 100, Height: 30, Open: true}
	if n, l, known := Sets(tray, []Item{cube(40), cube(20)}, []int{1, 1}); n < 2 || !known || l == nil {
		t.Errorf("%d sets in a tray", n)
	}
}

// By hand: 9 cubes lie in 100 x 100 mm where each is at most 33 mm, 12 never under 26; in cups of 34 mm they never do.
func TestSmallerPieces(t *testing.T) {
	room := Room{Length: 100, Width: 100, Height: 50}
	s, found := Smaller(room, cube(40), Foot{}, 9)
	if !found || s.Length != 33 || s.Height != 33 {
		t.Errorf("%+v %v", s, found)
	}
	if n, _ := Most(room, s); n < 9 {
		t.Errorf("%d of what was said to fit", n)
	}
	for name, none := range map[string]struct {
		foot Foot
		n    int
	}{"they fit": {Foot{}, 4}, "half is too large": {Foot{}, 30}, "the cups": {Foot{34, 34}, 9}} {
		if s, found := Smaller(room, cube(40), none.foot, none.n); found {
			t.Errorf("%s: %+v", name, s)
		}
	}
}

// By hand: in 100 x 100 mm four cubes of 50 lie; of 4 and 2 one more of the first kind goes, and then, of 3 and 2, one
// of the first again: 2 and 2. Where not two lie together there is nothing to say.
func TestFewer(t *testing.T) {
	room := Room{Length: 100, Width: 100, Height: 50}
	if got := Fewer(room, []Item{cube(50), cube(50)}, []int{4, 2}); !slices.Equal(got, []int{2, 2}) {
		t.Errorf("%v", got)
	}
	if got := Fewer(Room{Length: 60, Width: 50, Height: 50}, []Item{cube(50), cube(50)}, []int{1, 1}); got != nil {
		t.Errorf("%v", got)
	}
	if got := Fewer(Room{Length: 10, Width: 10, Height: 10}, []Item{cube(50)}, []int{5000}); got != nil {
		t.Errorf("%v", got)
	}
}
