package batch

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text/said"
)

func needOf(t *testing.T, c *Card, id ident.Ingredient) *Need {
	t.Helper()
	n := slices.IndexFunc(c.Needs, func(n Need) bool { return n.Ingredient == id })
	if n < 0 {
		t.Fatalf("takes no %s", id)
	}
	return &c.Needs[n]
}

// 24 truffles of 12 g are begun as 27: 324 g of ganache, of which 200 g were made ahead. Of the 880 g of the recipe 240
// are cream: the 124 g that are made take 33.8 g of it, and 54.5 g are in what is there.
func TestSomeOfAMixWasMadeAhead(t *testing.T) {
	k := larder()
	before, err := Compute(truffle(), 24, k)
	if err != nil {
		t.Fatal(err)
	}
	k.Ahead = map[ident.Ingredient]treat.Ahead{"ganache": {Grams: 200, Until: "2026-09-10"}}
	c, err := Compute(truffle(), 24, k)
	if err != nil {
		t.Fatal(err)
	}
	m := c.Mixes[slices.IndexFunc(c.Mixes, func(m Mixed) bool { return m.Mix == "ganache" })]
	if math.Abs(m.Make.Amount-124) > 1e-6 || m.OfLarder() != 200 || m.Until != "2026-09-10" || c.Until != m.Until {
		t.Fatalf("%v made, %v taken until %s", m.Make.Amount, m.OfLarder(), m.Until)
	}
	cream := needOf(t, c, "Cream")
	if math.Abs(cream.Used.Amount-324.*240/880) > 1e-6 || math.Abs(cream.Takes()-124.*240/880) > 1e-6 ||
		math.Abs(cream.House.Amount-cream.Takes()) > 1e-6 {
		t.Errorf("cream: %v used, %v taken, %v in the house", cream.Used.Amount, cream.Takes(), cream.House.Amount)
	}
	// What is in a piece is the same, and so is what a label says of it.
	if c.Label != before.Label || !slices.Equal(c.Allergens, before.Allergens) || c.PieceMass != before.PieceMass {
		t.Errorf("%q of %v, want %q of %v", c.Label, c.Allergens, before.Label, before.Allergens)
	}
	if b := c.Balance; math.Abs(float64(b.House-b.Pieces-b.Lost-b.Reclaimed)) > 1e-6 {
		t.Errorf("%v in the house, %v on pieces, %v lost, %v back", b.House, b.Pieces, b.Lost, b.Reclaimed)
	}
	text := said.Text(stepOf(t, c, "centre").Amounts)
	if !strings.Contains(text, "made ahead") || !strings.Contains(text, "Cream") {
		t.Errorf("the making says %q", text)
	}
}

// Where all of it was made ahead, nothing is made: the step is to take it out.
func TestAllOfAMixWasMadeAhead(t *testing.T) {
	k := larder()
	k.Ahead = map[ident.Ingredient]treat.Ahead{"ganache": {Grams: 500}}
	c, err := Compute(truffle(), 24, k)
	if err != nil {
		t.Fatal(err)
	}
	step := stepOf(t, c, "centre")
	if step.HandsOnMin > takenOut || step.PassiveMin != 0 {
		t.Errorf("%v min of hands and %v of waiting", step.HandsOnMin, step.PassiveMin)
	}
	if text := said.Text(step.Amounts); strings.Contains(text, "Cream") || !strings.Contains(text, "324 g") {
		t.Errorf("the step says %q", text)
	}
	if taken := needOf(t, c, "Cream").Takes(); taken > 1e-9 {
		t.Errorf("takes %v g of cream", taken)
	}
	if !slices.Contains(c.Allergens, "milk") {
		t.Errorf("contains %v: the cream is in it all the same", c.Allergens)
	}
}

// A mix of a mix: cooked fudge is 400 parts caramel of 700, which keeps 90% of what goes in; 5% of the fudge stay in the
// pot. Made ahead, caramel spares its sugar and cream, fudge spares the caramel too.
func TestMixesOfMixesMadeAhead(t *testing.T) {
	k := larder()
	plain, _ := Compute(fudge(), 36, k)
	all := plain.Mixes[slices.IndexFunc(plain.Mixes, func(m Mixed) bool { return m.Mix == "caramel" })].Make.Amount
	k.Ahead = map[ident.Ingredient]treat.Ahead{"caramel": {Grams: 300}}
	c, err := Compute(fudge(), 36, k)
	if err != nil {
		t.Fatal(err)
	}
	caramel := c.Mixes[slices.IndexFunc(c.Mixes, func(m Mixed) bool { return m.Mix == "caramel" })]
	if math.Abs(caramel.Make.Amount-(all-300)) > 1e-6 {
		t.Errorf("makes %v g of caramel, want %v less 300", caramel.Make.Amount, all)
	}
	if b := c.Balance; math.Abs(float64(b.House-b.Pieces-b.Lost-b.Reclaimed)) > 1e-6 {
		t.Errorf("does not balance: %+v", b)
	}
	// 300 of 500 g sugar, of which 90% are left: a gram of caramel has 2/3 g of sugar in it.
	if spared := needOf(t, c, "Sugar").Ahead; math.Abs(spared-200) > 1e-6 {
		t.Errorf("spares %v g of sugar, want 200", spared)
	}
	k.Ahead = map[ident.Ingredient]treat.Ahead{"fudge": {Grams: 1e6}}
	if c, err = Compute(fudge(), 36, k); err != nil {
		t.Fatal(err)
	}
	for _, n := range c.Needs {
		if n.Ingredient != "Hazelnut" && n.Takes() > 1e-9 {
			t.Errorf("takes %v of %s all the same", n.Takes(), n.Name)
		}
	}
	if b := c.Balance; math.Abs(float64(b.House-b.Pieces-b.Lost-b.Reclaimed)) > 1e-6 {
		t.Errorf("does not balance: %+v", b)
	}
}

// 400 g of ganache that are there are 33 centres of 12 g: 29 good ones at 5% lost and 95% sure are begun as 33. It is the
// mix that ends, whatever else there is.
func TestWhatAMixThatIsThereMakes(t *testing.T) {
	m, err := Make(truffle(), []Have{{"ganache", measure.Grams(400)}, {"Dark", measure.Grams(5000)}}, larder())
	if err != nil {
		t.Fatal(err)
	}
	if m.Good != 29 || m.Limit != "ganache" {
		t.Errorf("%d good, until %s ends", m.Good, m.Limit)
	}
	if left := m.Left[0].Amount.Amount; math.Abs(left-(400-33*12)) > 1e-6 {
		t.Errorf("%v g of it are left", left)
	}
}

// Bark of 82 g a bag is spread on whole sheets; not filled up, the same chocolate makes more bags of it, and where 6% of
// another sheet are needed a little more depth does.
func TestSmallerSheets(t *testing.T) {
	f := bark()
	f.Sheet.Bag = massOf(82)
	one := card(t, f, 1)
	sheet := one.Balance.Pieces / si.Grams(1-f.Loss)
	dark := needOf(t, one, "Dark").House.Amount
	// Half as much again as a sheet takes: one sheet whole, or one and a part.
	m, err := Make(f, []Have{{"Dark", measure.Grams(si.Grams(dark * 1.5))}}, larder())
	if err != nil {
		t.Fatal(err)
	}
	whole := int(float64(sheet) * (1 - f.Loss) / float64(treat.Grams(f.Sheet.Bag)))
	// Of one and a half sheets as many bags again as half of one gives.
	part := int(float64(sheet) * 1.5 * (1 - f.Loss) / float64(treat.Grams(f.Sheet.Bag)))
	says, more := said.Text(m.Text), "On a smaller sheet for the last one: "
	if m.Good != whole || !strings.Contains(says, fmt.Sprint(more, part, " bags")) &&
		!strings.Contains(says, fmt.Sprint(more, part-1, " bags")) {
		t.Errorf("%d bags, want %d, and %d on a smaller sheet: %s", m.Good, whole, part, says)
	}
	// So many bags that they need 1 to 1.1 sheets.
	n := whole + 1
	c := card(t, f, n)
	exact := float64(n) * float64(treat.Grams(f.Sheet.Bag)) / (1 - f.Loss) / float64(sheet)
	if exact < 1 || exact > 1.1 {
		t.Fatalf("%v sheets: choose another bag", exact)
	}
	// What is too little for the bags is all chocolate: its depth grows by what it must weigh more.
	slab := float64(treat.Slab(treat.Millimetres(f.Sheet.Length), treat.Millimetres(f.Sheet.Width), 1, 1.3))
	deeper := treat.Millimetres(f.Sheet.Depth) + float64(sheet)*(exact-1)/slab
	if says := said.Of(c.Rounds.Hint); !strings.Contains(says, strconv.FormatFloat(math.Ceil(deeper*10)/10, 'f', 1, 64)+
		" mm deep instead of 3.2 mm") {
		t.Errorf("%q, want %.1f mm", says, deeper)
	}
	if says := said.Of(card(t, f, n+whole/2).Rounds.Hint); says != "" {
		t.Errorf("half a sheet more says %q", says)
	}
}
