package order

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// withPaste is the kitchen with a nut paste, half dark and half hazelnut, and a truffle of it of 12 g without a coat to
// speak of.
func withPaste() *Inputs {
	k := kitchen()
	k.Mixes = map[ident.Ingredient]treat.Mix{"paste": {ID: "paste", Name: "Nut paste", Parts: []treat.MixPart{
		{Of: "dark", Amount: measure.Grams(100)}, {Of: "nut", Amount: measure.Grams(100)}}}}
	f := &treat.Formula{Family: "truffle", Loss: 0.05, ShelfLifeHours: 240, Choices: map[string]string{},
		Centre: &treat.Centre{Of: "paste", Each: new(measure.Grams(12))},
		Coatings: []treat.ChocolateLayer{{Role: treat.RoleCoat, Ingredient: "dark", Each: new(measure.Grams(5)),
			Pool: measure.Grams(250)}}}
	f.Steps = family.Proposed(f, nil)
	k.Treats["truffle"] = Treat{ID: "truffle", Name: "Truffles", Version: 1, Formula: f, Mixes: k.Mixes}
	return k
}

func lotOf(grams float64, until string) larder.StockLot {
	return larder.StockLot{ID: ident.Lot("of " + until), Left: grams, Price: decimal.RequireFromString("0.02"),
		BestBefore: until}
}

func takes(r *Estimate, id ident.Ingredient) float64 {
	n := slices.IndexFunc(r.Needs, func(n Need) bool { return n.Ingredient == id })
	if n < 0 {
		return 0
	}
	return r.Needs[n].Used.Amount
}

// A dozen truffles are begun as 14: 168 g of paste. Handed over on the 12th, what is good until the 11th is too old for
// it: a mix that is older than it keeps goes into nothing. Two lines share what there is.
func TestAMixMadeAheadIsTaken(t *testing.T) {
	for _, x := range []struct {
		why   string
		lots  []larder.StockLot
		lines int
		ahead float64 // g that are taken
	}{
		{"none is there", nil, 1, 0},
		{"too old on the day", []larder.StockLot{lotOf(500, "2026-09-11")}, 1, 0},
		{"good until the day", []larder.StockLot{lotOf(100, "2026-09-12")}, 1, 100},
		{"one too old, one not", []larder.StockLot{lotOf(100, "2026-09-05"), lotOf(60, "2026-09-20")}, 1, 60},
		{"keeps for ever", []larder.StockLot{lotOf(500, "")}, 1, 168},
		{"two lines share it", []larder.StockLot{lotOf(200, "2026-09-12")}, 2, 200},
	} {
		k := withPaste()
		k.Stock = map[ident.Ingredient]larder.Stock{"paste": {Lots: x.lots}}
		lines := make([]Line, x.lines)
		for i := range lines {
			lines[i] = Line{Treat: "truffle", Count: 12}
		}
		r, err := Compute(context.Background(), draft(lines...), k)
		if err != nil {
			t.Fatal(err)
		}
		all := 168 * float64(x.lines)
		if got := takes(r, "paste"); math.Abs(got-x.ahead) > 1e-6 {
			t.Errorf("%s: takes %v g of paste, want %v", x.why, got, x.ahead)
		}
		if got := takes(r, "nut"); math.Abs(got-(all-x.ahead)/2) > 1e-6 {
			t.Errorf("%s: takes %v g of nuts, want half of %v", x.why, got, all-x.ahead)
		}
	}
}

// What another version of the mix was made of is not what this one is made of.
func TestAnOtherMixIsNotTaken(t *testing.T) {
	k := withPaste()
	k.Stock = map[ident.Ingredient]larder.Stock{"paste": {Lots: []larder.StockLot{lotOf(500, "")}}}
	of := k.Treats["truffle"]
	of.Mixes = map[ident.Ingredient]treat.Mix{"paste": {ID: "paste", Name: "Nut paste", Parts: []treat.MixPart{
		{Of: "dark", Amount: measure.Grams(150)}, {Of: "nut", Amount: measure.Grams(50)}}}}
	k.Treats["truffle"] = of
	r, err := Compute(context.Background(), draft(Line{Treat: "truffle", Count: 12}), k)
	if err != nil {
		t.Fatal(err)
	}
	if got := takes(r, "paste"); got != 0 {
		t.Errorf("takes %v g of paste of other parts", got)
	}
	if !strings.Contains(strings.Join(r.Lines[0].Card.Allergens, " "), "tree nut") {
		t.Error("says nothing of its nuts")
	}
}

// What is made in one go for several orders takes what is good for whoever fetches theirs last.
func TestWhatSeveralOrdersHold(t *testing.T) {
	k := withPaste()
	k.Held = map[ident.Order]map[ident.Ingredient]treat.Ahead{"a": {"paste": {Grams: 100, Until: "2026-09-12"}},
		"b": {"paste": {Grams: 50}}}
	if got := k.Holding("2026-09-12", "a", "b").Ahead["paste"]; got.Grams != 150 || got.Until != "2026-09-12" {
		t.Errorf("%+v", got)
	}
	if got := k.Holding("2026-09-13", "a", "b").Ahead; len(got) != 0 {
		t.Errorf("too old for the last of them: %v", got)
	}
	for last, want := range map[string]bool{"2026-09-12": true, "2026-09-14": false} {
		k := withPaste()
		k.Stock = map[ident.Ingredient]larder.Stock{"paste": {Lots: []larder.StockLot{lotOf(1000, "2026-09-12")}}}
		promised(t, k, Line{Treat: "truffle", Count: 12}, "Wren")
		k.Planning.Combined[0].Last = last
		r, err := Compute(context.Background(), draft(Line{Treat: "truffle", Count: 12}), k)
		if err != nil {
			t.Fatal(err)
		}
		if len(r.When.Batches) != 1 || r.When.Batches[0].Combined == "" {
			t.Fatalf("it is not made in one go with the other: %+v", r.When.Text)
		}
		if took := r.When.Batches[0].Card.Mixes[0].OfLarder() > 0; took != want {
			t.Errorf("the other is handed over on %s: takes what is good until the 12th: %v", last, took)
		}
	}
}
