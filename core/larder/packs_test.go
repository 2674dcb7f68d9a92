package larder

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"zestytin/core/ident"

	"github.com/shopspring/decimal"
)

func show(picked []Picked) string {
	parts := []string{}
	for _, p := range picked {
		parts = append(parts, fmt.Sprintf("%d x %v", p.Count, p.Size))
	}
	return strings.Join(parts, ", ")
}

// By hand, in the comments.
func TestChooseByHand(t *testing.T) {
	for _, c := range []struct {
		need   float64
		offers [][2]string // size, price
		want   string
	}{
		{1300, [][2]string{{"500", "8"}, {"1000", "14.50"}, {"2500", "30"}},
			"1 x 1000, 1 x 500"}, // 22.50; 3 x 500 are 24, 2 x 1000 are 29
		{2100, [][2]string{{"500", "8"}, {"1000", "14.50"}, {"2500", "30"}}, "1 x 2500"}, // 30; 2 x 1000 + 500 are 37
		{600, [][2]string{{"500", "5"}, {"1000", "10"}, {"200", "2"}}, "3 x 200"},        // 6, and nothing is left
		{1000, [][2]string{{"500", "5"}, {"1000", "10"}},
			"1 x 1000"}, // as dear as 2 x 500: fewer packs
		{900, [][2]string{{"1000", "10"}, {"950", "10"}}, "1 x 950"}, // as dear: less is left
		{453.6, [][2]string{{"453.59237", "4.80"}}, "2 x 453.59237"}, // a pound is a little too little
		{453.59237, [][2]string{{"453.59237", "4.80"}}, "1 x 453.59237"},
		{3, [][2]string{{"1", "0"}}, "3 x 1"}, // from the garden
		{0, [][2]string{{"1", "1"}}, ""},
		{5, nil, ""},
	} {
		var list []Offer
		for i, o := range c.offers {
			size, err := strconv.ParseFloat(o[0], 64)
			if err != nil {
				t.Fatal(err)
			}
			list = append(list, Offer{ID: fmt.Sprint(i), Size: size, Price: d(o[1])})
		}
		if got := show(Choose(c.need, list)); got != c.want {
			t.Errorf("%v of %v: %s, want %s", c.need, c.offers, got, c.want)
		}
	}
}

// offers of a random thing: sizes as shops have them, or any; prices that fall with size, or any.
func offers(rnd *rand.Rand) []Offer {
	sizes := []float64{100, 125, 200, 226.796, 250, 283.495, 340.194, 400, 453.592, 500, 750, 907.185, 1000, 2500, 5000}
	list := make([]Offer, 1+rnd.IntN(7))
	for i := range list {
		size := sizes[rnd.IntN(len(sizes))]
		if rnd.IntN(3) == 0 {
			size = float64(1+rnd.IntN(3_000_000)) / 1000
		}
		cents := size * (0.8 + rnd.Float64()*1.4)
		if rnd.IntN(4) == 0 {
			cents = size // all alike for a unit
		}
		list[i] = Offer{ID: fmt.Sprint(i), Size: size, Price: decimal.New(int64(math.Max(math.Round(cents), 1)), -2)}
	}
	return list
}

// Against GLPK, an independent solver of integer programmes (Debian's glpk-utils): minimise the price, subject to the
// size covering the need, with whole counts. 300 random cases, the same cost every time.
func TestChooseAgainstASolver(t *testing.T) {
	solver, err := exec.LookPath("glpsol")
	if err != nil {
		t.Fatal("glpsol is missing: make setup installs it (Debian's glpk-utils).")
	}
	dir := t.TempDir()
	rnd := rand.New(rand.NewPCG(7, 8))
	objective := regexp.MustCompile(`Objective:\s+cost = (\S+)`)
	for round := range 300 {
		list, need := offers(rnd), float64(1+rnd.IntN(12_000_000))/1000
		picked := Choose(need, list)
		cost, size := decimal.Zero, 0.0
		for _, p := range picked {
			cost = cost.Add(p.Price.Mul(decimal.NewFromInt(int64(p.Count))))
			size += p.Size * float64(p.Count)
		}
		if size < need-1e-9 {
			t.Fatalf("case %d: %v does not cover %v", round, size, need)
		}
		var lp strings.Builder
		terms := func(of func(Offer) string) string {
			parts := []string{}
			for i, o := range list {
				parts = append(parts, fmt.Sprintf("%s x%d", of(o), i))
			}
			return strings.Join(parts, " + ")
		}
		fmt.Fprintf(&lp, "Minimize\n cost: %s\nSubject To\n cover: %s >= %.3f\nGeneral\n",
			terms(func(o Offer) string { return o.Price.Shift(2).String() }),
			terms(func(o Offer) string { return fmt.Sprintf("%.3f", o.Size) }), need)
		for i := range list {
			fmt.Fprintf(&lp, " x%d\n", i)
		}
		lp.WriteString("End\n")
		problem, answer := filepath.Join(dir, "p.lp"), filepath.Join(dir, "a.txt")
		if err := os.WriteFile(problem, []byte(lp.String()), 0o600); err != nil {
			t.Fatal(err)
		}
		if out, err := exec.Command(solver, "--lp", problem, "--cuts", "-o", answer).CombinedOutput(); err != nil {
			t.Fatalf("%v: %s", err, out)
		}
		text, err := os.ReadFile(answer)
		if err != nil {
			t.Fatal(err)
		}
		m := objective.FindSubmatch(text)
		if m == nil || !strings.Contains(string(text), "INTEGER OPTIMAL") {
			t.Fatalf("case %d: the solver says %s", round, text)
		}
		theirs, err := strconv.ParseFloat(string(m[1]), 64)
		if err != nil {
			t.Fatal(err)
		}
		if ours := cost.Shift(2).InexactFloat64(); math.Abs(ours-theirs) > 0.5 {
			t.Errorf("case %d: need %v of %v: ours costs %v, the solver's %v", round, need, list, ours, theirs)
		}
	}
}

// Of equally dear sets the one with the least left over: against trying all of them, where the counts are small.
func TestChooseLeavesLeastOver(t *testing.T) {
	rnd := rand.New(rand.NewPCG(9, 10))
	for round := range 400 {
		list := make([]Offer, 1+rnd.IntN(4))
		for i := range list {
			list[i] = Offer{ID: fmt.Sprint(i), Size: float64(1 + rnd.IntN(12)),
				Price: decimal.NewFromInt(int64(1 + rnd.IntN(8)))}
		}
		need := float64(1 + rnd.IntN(25))
		price, size := int64(math.MaxInt64), 0.0
		var try func(i int, s float64, p int64)
		try = func(i int, s float64, p int64) {
			if s >= need {
				if p < price || p == price && s < size {
					price, size = p, s
				}
				return
			}
			if i == len(list) {
				return
			}
			try(i+1, s, p)
			try(i, s+list[i].Size, p+list[i].Price.IntPart())
		}
		try(0, 0, 0)
		gotPrice, gotSize := int64(0), 0.0
		for _, p := range Choose(need, list) {
			gotPrice, gotSize = gotPrice+p.Price.IntPart()*int64(p.Count), gotSize+p.Size*float64(p.Count)
		}
		if gotPrice != price || gotSize != size {
			t.Fatalf("round %d: %v of %v: %d for %v, best is %d for %v", round, need, list, gotPrice, gotSize, price,
				size)
		}
	}
}

func BenchmarkChoose(b *testing.B) {
	rnd := rand.New(rand.NewPCG(11, 12))
	cases := make([][]Offer, 64)
	for i := range cases {
		cases[i] = offers(rnd)
	}
	for i := 0; b.Loop(); i++ {
		Choose(float64(1000+i%50_000), cases[i%len(cases)])
	}
}

// The shopping list over 200 orders of 4 batches, 60 things in 4 lots each.
func BenchmarkList(b *testing.B) {
	rnd := rand.New(rand.NewPCG(13, 14))
	things, lots, wants := map[ident.Item]Thing{}, []StockLot{}, []Want{}
	one := 1
	for i := range 60 {
		id := fmt.Sprint(i)
		thing := Thing{ID: ident.Item(id), Offers: offers(rnd)}
		if i%10 == 0 {
			thing.Fresh = &one
		}
		things[ident.Item(id)] = thing
		for j := range 4 {
			lots = append(lots, StockLot{ID: ident.Lot(fmt.Sprint(id, j)), Item: ident.Item(id),
				Left: rnd.Float64() * 800, BestBefore: Days("2026-09-03", rnd.IntN(90))})
		}
	}
	for i := range 200 {
		for range 4 * 8 {
			wants = append(wants, Want{Item: ident.Item(fmt.Sprint(rnd.IntN(60))), Day: Days("2026-09-03", i%30),
				Used: rnd.Float64() * 600, For: fmt.Sprint(i)})
		}
	}
	for b.Loop() {
		List(things, lots, wants, Span{Today: "2026-09-03", From: "2026-09-03", To: "2026-10-03"})
	}
}
