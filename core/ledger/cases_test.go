package ledger

import (
	"math"
	"slices"
	"testing"

	"zestytin/core/chocolate"
	"zestytin/core/si"
)

// The cases below were worked by hand. A half shell of 2.5 in with a wall of 3.5 mm at 1.30 g/cm3 keeps (2/3) pi
// (31.75^3 - 28.25^3) mm3 = 19.814 mL, 25.76 g, and holds 67.03 mL, 87.14 g, when it is filled to the brim.
const keeps, brim = 19.81416 * 1.3, 67.03170 * 1.3

var (
	dark = Pot{Ingredient: "dark", Method: chocolate.Seed, Work: chocolate.Range{From: 31, To: 32},
		Source: chocolate.Microwave}
	seed  = chocolate.SeedShare(47.5, 31.5, 21) // 0.2993
	white = Pot{Ingredient: "white", Method: chocolate.NoTemper, Work: chocolate.Range{From: 38, To: 43},
		Source: chocolate.Microwave}
)

func near[T ~float64](t *testing.T, what string, got T, want float64) {
	t.Helper()
	if math.Abs(float64(got)-want) > 0.06 {
		t.Errorf("%s: %.2f, want %.1f", what, got, want)
	}
}

// Ten balls in two moulds of 6 half cavities: fillings of 6, 6, 6 and 2. One filled holds 522.9, keeps 154.6 and gives
// 368.3 back, which fills the next. Before each filling the bowl must hold what has stayed with tools plus that
// filling: 525.9, 683.6, 841.2, 648.2.
func TestFillAndDrainGoesRound(t *testing.T) {
	d := Draw{Pot: dark, Applied: 20 * keeps, Fill: &Fill{Cavities: 20, Mould: 6, Pour: brim}, Least: 115}
	b := Open([]Draw{d})
	near(t, "melted", b.Melted, 841.2)
	near(t, "used", b.Used, 525.5)
	near(t, "back", b.Left, 315.7)
	near(t, "drained in all", b.Drained, 20*brim-20*keeps)
	stayed, before := 0.0, []float64{525.9, 683.6, 841.2, 648.2}
	n := 0
	for cavities := range d.Fill.fillings {
		stayed += float64(cavities) * keeps * 1.02
		near(t, "before a filling", stayed+float64(cavities)*(brim-keeps), before[n])
		n++
	}
	// Half filled and turned: 2 tbsp, 38.45 g, a cavity. Spooned and brushed with a pool of 200.
	d.Fill = &Fill{Cavities: 20, Mould: 6, Pour: 2 * 14.78676 * 1.3}
	half := Open([]Draw{d})
	near(t, "half filled", half.Melted, 550.9)
	near(t, "back of it", half.Left, 25.4)
	d.Fill, d.Pool = nil, 200
	spoon := Open([]Draw{d})
	near(t, "spooned", spoon.Melted, 725.5)
	near(t, "back of it", spoon.Left, 200)
}

// Six loaves, 40 g of shell in two coats of 60 and 40%, 3 g trimmed off each rim, 15 g of cap, a pool of 60. Melt 240
// x 1.02 + 60 = 304.8; 18 come back; the cap takes 91.8 and leaves the pool: top up 73.8. Fresh 378.6 + trimmings 18 =
// applied 330 + tools 6.6 + left 60; on the pieces 312.
func TestTwoCoatsTrimmingsCap(t *testing.T) {
	b := Open([]Draw{
		{Pot: dark, Applied: 144, Pool: 60, Least: 115}, {Pot: dark, Applied: 96, Pool: 60, Least: 115},
		{Pot: dark, Trimmed: 18},
		{Pot: dark, Applied: 90, Pool: 60, Least: 115, Tops: true},
	})
	near(t, "melted", b.Melted, 304.8)
	near(t, "topped up", b.TopUps[3], 73.8)
	near(t, "fresh", b.In(), 378.6)
	near(t, "applied", b.Applied, 330)
	near(t, "tools", b.Tools, 6.6)
	near(t, "left", b.Left, 60)
	near(t, "on the pieces", b.Applied-b.Trimmed, 312)
	near(t, "used", b.Used, 318.6)
	want := []struct {
		kind         Kind
		grams, holds float64
	}{{Melted, 304.8, 304.8}, {Applied, 144, 160.8}, {Tools, 2.88, 157.92}, {Applied, 96, 61.92}, {Tools, 1.92, 60},
		{Trimmings, 18, 78}, {ToppedUp, 73.8, 151.8}, {Applied, 90, 61.8}, {Tools, 1.8, 60}, {Left, 60, 0}}
	lines := b.Lines()
	if len(lines) != len(want) {
		t.Fatalf("%+v", lines)
	}
	for i, w := range want {
		if l := lines[i]; l.Kind != w.kind || math.Abs(float64(l.Grams-si.Grams(w.grams))) > 1e-9 ||
			math.Abs(float64(l.Holds-si.Grams(w.holds))) > 1e-9 {
			t.Errorf("line %d: %+v, want %+v", i, l, w)
		}
	}
}

// One chocolate, two pots: 30 truffles of 4 g, not tempered at 45 C, with a pool of 150, and 24 strawberries of 10 g,
// seeded at 31.5 C, with 200.
func TestOneChocolateTwoPots(t *testing.T) {
	hidden := dark
	hidden.Method, hidden.Work = chocolate.NoTemper, chocolate.Range{From: 40, To: 45}
	truffles := Melt{Bowl: Open([]Draw{{Pot: hidden, Applied: 120, Pool: 150, Least: 115}}), Of: "truffles",
		Day: "2026-09-10"}
	berries := Melt{Bowl: Open([]Draw{{Pot: dark, Applied: 240, Pool: 200, Least: 115, Seed: seed, Damp: true}}),
		Of: "berries", Day: "2026-09-10"}
	near(t, "pot 1", truffles.Melted, 272.4)
	near(t, "pot 2", berries.Melted, 444.8)
	near(t, "seed", berries.Seed, 133.1)
	near(t, "melted part", berries.Takes(), 311.7)
	evening := []Melt{truffles, berries}
	left := Carry(evening, nil)
	near(t, "fresh for pot 2", evening[1].Fresh(), 294.8)
	near(t, "fresh in all", evening[0].Fresh()+evening[1].Fresh(), 567.2)
	near(t, "left", left[0].Grams, 200)
	evening = []Melt{berries, truffles}
	Carry(evening, nil)
	near(t, "the other way round", evening[0].Fresh()+evening[1].Fresh(), 517.2)
}

// One batch on two days: 12 halves by spoon each, pool 200. Each day 309.1 x 1.02 + 200 = 515.3; Thursday's 200 go into
// Saturday's melted part, but not into a gentle melt. Used 630.6 in all.
func TestOneBatchOnTwoDays(t *testing.T) {
	for _, c := range []struct {
		method       chocolate.Method
		fresh, total float64
	}{{chocolate.Seed, 315.3, 830.6}, {chocolate.Gentle, 515.3, 1030.6}} {
		pot, share := dark, seed
		if pot.Method = c.method; c.method == chocolate.Gentle {
			share = 0
		}
		draws := []Draw{{Pot: pot, Applied: 12 * keeps, Pool: 200, Least: 115, Seed: share}}
		days := []Melt{{Bowl: Open(draws), Of: "Thu", Day: "2026-09-10"},
			{Bowl: Open(draws), Of: "Sat", Day: "2026-09-12"}}
		Carry(days, nil)
		near(t, "Thursday", days[0].Melted, 515.3)
		near(t, "Saturday", days[1].Melted, 515.3)
		near(t, "fresh on Saturday", days[1].Fresh(), c.fresh)
		near(t, "fresh in all", days[0].Fresh()+days[1].Fresh(), c.total)
		near(t, "used", days[0].Used+days[1].Used, 630.6) // 24 x 25.758 x 1.02 = 630.56
	}
}

// White coating for 18 peanut centres of 6 g, pool 150, and for a bark of 200 that must be free from peanut. The bark
// first: one melt of 204 + 110.2 + 150. What is left has touched peanut, and the next free-from order does not take it.
func TestWhatABowlHasTouched(t *testing.T) {
	bark := Draw{Pot: white, Applied: 200, Least: 115}
	centres := Draw{Pot: white, Applied: 108, Pool: 150, Least: 115, Touches: []string{"peanut"}}
	both := Melt{Bowl: Open([]Draw{bark, centres}), Of: "both", Day: "2026-09-10"}
	near(t, "one melt", both.Melted, 464.2)
	next := Melt{Bowl: Open([]Draw{bark}), Of: "bark", Day: "2026-09-11", FreeFrom: []string{"peanut"}}
	other := Melt{Bowl: Open([]Draw{bark}), Of: "other", Day: "2026-09-12"}
	days := []Melt{both, next, other}
	left := Carry(days, nil)
	near(t, "the free one takes nothing", days[1].Fresh(), 204)
	near(t, "the other takes what is left", days[2].Fresh(), 54)
	if !slices.Equal(days[2].Touched, []string{"peanut"}) || len(days[1].Touched) != 0 {
		t.Errorf("touched: %v, %v", days[1].Touched, days[2].Touched)
	}
	if len(left) != 0 {
		t.Errorf("%+v", left)
	}
	lots := []Rest{{Of: "lot", Pot: white, Grams: 500, Touched: []string{"peanut"}},
		{Of: "clean", Pot: white, Grams: 100}}
	alone := []Melt{next}
	Carry(alone, lots)
	if len(alone[0].From) != 1 || alone[0].From[0] != (Poured{"clean", 100, 100, 0}) {
		t.Errorf("%+v", alone[0].From)
	}
}

// What is left of a flavoured bowl brings its flavour along. 2 g to 100 g: 306 g are 300 of chocolate and 6 of flavour,
// 102 leave it, 204 are left: 200 and 4. The next bowl of 306 g takes them, and 100 of chocolate and 2 of flavour
// besides.
func TestARestBringsItsFlavour(t *testing.T) {
	mint := Pot{Ingredient: "white", Flavour: Stir{"mint", 0.02}, Method: chocolate.NoTemper}
	days := []Melt{{Of: "1", Day: "2026-09-11", Bowl: Open([]Draw{{Pot: mint, Applied: 100, Pool: 204}})},
		{Of: "2", Day: "2026-09-12", Bowl: Open([]Draw{{Pot: mint, Applied: 200, Pool: 102}})}}
	Carry(days, nil)
	for n, want := range [][2]float64{{300, 6}, {100, 2}} {
		near(t, "fresh chocolate", days[n].FreshPart(0), want[0])
		near(t, "fresh flavour", days[n].FreshPart(1), want[1])
	}
	if lot := days[0].Rest().Holds("lot", 50); lot.Of != "lot" || math.Abs(float64(lot.Grams-51)) > 1e-9 {
		t.Errorf("a lot of 50 g of chocolate: %+v", lot)
	}
}

// Shared by two orders: 66 started at 5.1 g are 336.6, with tools 343.3, pool 150: melt 493.3. By good pieces, 36 and
// 24, they use 206.0 and 137.3.
func TestSharedByTwoOrders(t *testing.T) {
	b := Open([]Draw{{Pot: dark, Applied: 66 * 5.1, Pool: 150, Least: 115}})
	near(t, "used", b.Used, 343.3)
	near(t, "melted", b.Melted, 493.3)
	near(t, "36 of 60", b.Used*36/60, 206.0)
	near(t, "24 of 60", b.Used*24/60, 137.3)
}

// A pool that fresh fruit went through is damp: it is for the same day, and thrown away after it.
func TestDampIsForTheSameDay(t *testing.T) {
	berries := Melt{Bowl: Open([]Draw{{Pot: dark, Applied: 100, Pool: 250, Least: 115, Seed: seed, Damp: true}}),
		Of: "berries", Day: "2026-09-10"}
	bark := Melt{Bowl: Open([]Draw{{Pot: dark, Applied: 400, Least: 115, Seed: seed}}), Of: "bark", Day: "2026-09-10"}
	same := []Melt{berries, bark}
	if Carry(same, nil); len(same[1].From) != 1 || !same[1].Damp {
		t.Errorf("on the same day: %+v", same[1].From)
	}
	bark.Day = "2026-09-11"
	next := []Melt{berries, bark}
	if left := Carry(next, nil); len(next[1].From) != 0 || len(left) != 0 {
		t.Errorf("on the next: %+v, left %+v", next[1].From, left)
	}
}

// By hand: 300 g of coating with a thinner of 0.05 and a tint of 0.01, later of 0.02. It melts as 300 / 1.06 = 283.02 g
// of coating, 14.15 of thinner and 2.83 of tint. 100 x 1.02 are taken: of what is left, 198, 186.79 are coating, and
// 0.01 of that, 1.87, makes the next shade. Colour that is paler is not made of it.
func TestWhatIsStirredIn(t *testing.T) {
	pot := white
	pot.Thinner, pot.Tint = Stir{"oil", 0.05}, "blue"
	pale := Draw{Pot: pot, Applied: 100, Pool: 198, Least: 115, Colour: 0.01}
	deep := Draw{Pot: pot, Pool: 100, Colour: 0.02}
	b := Open([]Draw{pale, deep})
	if math.Abs(float64(b.Melted-300)) > 1e-9 {
		t.Fatalf("melt %v", b.Melted)
	}
	want := []Part{{"white", 283.0189, 96.2264, 186.7925}, {"oil", 14.1509, 14.1509, 0},
		{"blue", 2.8302 + 1.8679, 2.8302 + 1.8679, 0}}
	for i, w := range want {
		p := b.Parts[i]
		if p.Of != w.Of || math.Abs(float64(p.In-w.In)) > 1e-3 || math.Abs(float64(p.Used-w.Used)) > 1e-3 ||
			math.Abs(float64(p.Left-w.Left)) > 1e-3 {
			t.Errorf("%+v, want %+v", p, w)
		}
	}
	near(t, "left", b.Left, 198+1.8679)
	rest := (&Melt{Bowl: b, Of: "deep", Day: "d"}).Rest()
	paler := []Melt{{Bowl: Open([]Draw{pale}), Day: "d"}}
	if Carry(paler, []Rest{rest}); len(paler[0].From) != 0 {
		t.Error("a pale bowl takes what is deep")
	}
	plain := []Melt{{Bowl: Open([]Draw{{Pot: white, Applied: 100, Least: 115}}), Day: "d"}}
	if Carry(plain, []Rest{rest}); len(plain[0].From) != 0 {
		t.Error("a plain bowl takes what is thinned")
	}
}
