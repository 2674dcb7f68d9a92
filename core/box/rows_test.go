package box

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/shopspring/decimal"
)

const inch = 25.4

func cube(x float64) Item { return Item{Length: x, Width: x, Height: x} }

// holds that a layout keeps to its room: nothing sticks out, nothing lies deeper than its row.
func holds(t *testing.T, r Room, l *Layout) {
	t.Helper()
	long, wide, high := r.Length, r.Width, 0.0
	if l.Across {
		long, wide = wide, long
	}
	for _, layer := range l.Layers {
		deep, top := 0.0, 0.0
		for _, row := range layer.Rows {
			along := 0.0
			for _, p := range row.Pieces {
				along += p.Along
				top = max(top, p.High)
				if p.Deep > row.Deep+slack {
					t.Errorf("%+v is deeper than its row of %v", p, row.Deep)
				}
			}
			deep += row.Deep
			if along > long+1e-3 {
				t.Errorf("a row takes %v of %v", along, long)
			}
		}
		if deep > wide+1e-3 || math.Abs(deep-layer.Deep) > 1e-6 || top != layer.High {
			t.Errorf("rows take %v of %v (%v), %v high (%v)", deep, wide, layer.Deep, top, layer.High)
		}
		high += layer.High
	}
	if high > r.Height+1e-3 || len(l.Layers) > max(r.Layers, 1) {
		t.Errorf("%d layers are %v high of %v", len(l.Layers), high, r.Height)
	}
}

// Common practice: a dozen large berries, on their sides in mini liners, fill a box of 10 x 7 x 2 in. A large berry is
// about 57 mm long and 45 across; its liner takes 2 1/4 in: 4 along 10 in, 3 along 7 in.
func TestADozenLargeBerries(t *testing.T) {
	room := Room{Length: 10 * inch, Width: 7 * inch, Height: 2 * inch}
	n, l := Most(room, Item{Length: 2.25 * inch, Width: 2.25 * inch, Height: 45})
	if n != 12 || len(l.Layers) != 1 || len(l.Layers[0].Rows) != 3 {
		t.Fatalf("%d lie in it: %+v", n, l)
	}
	holds(t, room, l)
	// Standing on their foot they are too high for it, and lie down where they may.
	if n, _ := Most(room, Item{Length: 45, Width: 45, Height: 57}); n != 0 {
		t.Errorf("%d stand in 2 in", n)
	}
	if n, l := Most(room, Item{Length: 45, Width: 45, Height: 57, Lies: true}); n < 12 || l.Layers[0].High != 45 {
		t.Errorf("%d lie in it, %v high", n, l.Layers[0].High)
	}
}

// By hand: in 100 x 70 two rows of 40 x 30 hold 2 each; one of them turned holds 3, and 30 + 40 are 70: 5.
func TestTurnedRowsHoldMore(t *testing.T) {
	room := Room{Length: 100, Width: 70, Height: 20}
	of := Item{Length: 40, Width: 30, Height: 20}
	n, l := Most(room, of)
	if n != 5 {
		t.Fatalf("holds %d, want 5", n)
	}
	holds(t, room, l)
	room.Height, room.Layers = 65, 3
	if n, l := Most(room, of); n != 15 || len(l.Layers) != 3 {
		t.Errorf("in three layers %d", n)
	}
	of.Bare = true
	if n, _ := Most(room, of); n != 5 {
		t.Errorf("%d where nothing may lie on them", n)
	}
	room.Holds, of.Bare, of.Mass = 100, false, 12
	if n, l := Most(room, of); n != 8 || l.Count(1)[0] != 8 {
		t.Errorf("%d of 12 g where 100 g may lie", n)
	}
}

// By hand: a set is a bomb of 66 mm and two truffles of 30. In 192 x 66 rows along the 66 are a bomb, a bomb, two
// truffles and two truffles, 66 + 66 + 30 + 30 = 192 deep: two sets. In 191 that is a mm too much, and one row along it
// has no room for more than one truffle beside two bombs: one set.
func TestSetsOfSeveralKinds(t *testing.T) {
	items := []Item{cube(66), cube(30)}
	for long, want := range map[float64]int{191: 1, 192: 2} {
		room := Room{Length: long, Width: 66, Height: 70}
		n, l, known := Sets(room, items, []int{1, 2})
		if n != want || !known {
			t.Errorf("%d sets in %v x 66, want %d", n, long, want)
			continue
		}
		holds(t, room, l)
		if got := l.Count(2); got[0] != want || got[1] != 2*want {
			t.Errorf("%v lie there", got)
		}
	}
}

func TestWhatIsNoRoomHoldsNothing(t *testing.T) {
	for _, r := range []Room{{}, {Length: 100, Width: 100}, {Length: -1, Width: 5, Height: 5},
		{Length: math.NaN(), Width: 5, Height: 5}, {Length: 10, Width: 10, Height: 10}} {
		if n, l := Most(r, cube(20)); n != 0 || l != nil {
			t.Errorf("%+v holds %d", r, n)
		}
		if n, l, _ := Sets(r, []Item{cube(20), cube(5)}, []int{1, 1}); n != 0 || l != nil {
			t.Errorf("%+v holds %d sets", r, n)
		}
	}
	if n, _ := Most(Room{Length: 1e6, Width: 1e6, Height: 1e6, Layers: 20}, cube(1)); n != mostPieces {
		t.Errorf("%d in a hall", n)
	}
	many := make([]Item, 12)
	pattern := make([]int, 12)
	for i := range many {
		many[i], pattern[i] = cube(10), 4
	}
	if _, _, known := Sets(Room{Length: 500, Width: 500, Height: 20}, many, pattern); known {
		t.Error("twelve kinds are known")
	}
}

// solved by MiniZinc with Gecode, which proves that there is nothing better.
func solved(t *testing.T, model, data string) int {
	t.Helper()
	if _, err := exec.LookPath("minizinc"); err != nil {
		t.Fatal("minizinc is missing: tools/setup test installs it")
	}
	file := filepath.Join(t.TempDir(), "problem.dzn")
	if err := os.WriteFile(file, []byte(data), 0o600); err != nil {
		t.Fatal(err)
	}
	var says bytes.Buffer
	cmd := exec.CommandContext(t.Context(), "minizinc", "--solver", "gecode", "testdata/"+model, file)
	cmd.Stderr = &says
	text, err := cmd.Output()
	found := regexp.MustCompile(`=(\d+)`).FindAllStringSubmatch(string(text), -1)
	if err != nil || !strings.Contains(string(text), "==========") || len(found) == 0 {
		t.Fatalf("%v %s %s", err, text, says.String())
	}
	n, _ := strconv.Atoi(found[len(found)-1][1])
	return n
}

func list[T any](all []T) string { return strings.ReplaceAll(fmt.Sprint(all), " ", ", ") }

// An independent solver finds as many sets in a room, on a dozen small ones, of one kind, of two and of three.
func TestRowsAgainstAnExactSolver(t *testing.T) {
	for seed := range uint64(12) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			t.Parallel()
			r := rand.New(rand.NewPCG(seed, 17))
			room := Room{Length: float64(6 + r.IntN(5)), Width: float64(4 + r.IntN(4)), Height: float64(2 + r.IntN(3)),
				Layers: 1 + int(seed)%2}
			kinds := 1 + int(seed)%3
			items, pattern := make([]Item, kinds), make([]int, kinds)
			for i := range items {
				items[i] = Item{Length: float64(2 + r.IntN(3)), Width: float64(2 + r.IntN(2)), Height: float64(1 + r.IntN(3)),
					Lies: r.IntN(2) > 0}
				pattern[i] = 1 + r.IntN(2)
			}
			if kinds == 1 {
				pattern[0] = 1
			}
			got, l, known := Sets(room, items, pattern)
			if !known {
				t.Fatal("it is not known")
			}
			if l != nil {
				holds(t, room, l)
			}
			want := 0
			for layers := 1; layers <= room.Layers; layers++ {
				for _, across := range []bool{false, true} {
					want = max(want, solved(t, "rows.mzn", rowsData(room, items, pattern, layers, across)))
				}
			}
			if got != want {
				t.Errorf("%d sets of %v of %+v in %+v, the solver has %d", got, pattern, items, room, want)
			}
		})
	}
}

// rowsData tells the solver each way in which a piece may lie by itself: it picks them one by one, not by depth.
func rowsData(room Room, items []Item, pattern []int, layers int, across bool) string {
	long, wide := room.Length, room.Width
	if across {
		long, wide = wide, long
	}
	var kind, along, deep []int
	thinnest, smallest, volume := wide, math.Inf(1), 0.0
	for i, of := range items {
		for _, w := range of.ways() {
			if w.high <= room.Height/float64(layers)+slack {
				kind, along, deep = append(kind, i+1), append(along, int(w.along)), append(deep, int(w.deep))
				thinnest = min(thinnest, w.deep)
			}
		}
		smallest = min(smallest, of.Length*of.Width*of.Height)
		volume += of.Length * of.Width * of.Height * float64(pattern[i])
	}
	return fmt.Sprintf("K=%d; L=%d; W=%d; G=%d; R=%d; V=%d; most=%d; pattern=%s; kind=%s; along=%s; deep=%s;",
		len(items), int(long), int(wide), layers, int(wide/thinnest), len(kind),
		int(room.Length*room.Width*room.Height/volume), list(pattern), list(kind), list(along), list(deep))
}

// By hand: 30 pieces in boxes of 12 at 1.35, 6 at 0.80 and 4 at 0.60 are two of 12 and one of 6, 3.50. With one box of 12
// left it is one and three of 6, 3.75.
func TestChooseByHand(t *testing.T) {
	of := func(takes int, price string, free int) Option {
		return Option{takes, decimal.RequireFromString(price), free}
	}
	options := []Option{of(12, "1.35", -1), of(6, "0.80", -1), of(4, "0.60", -1)}
	if got := Choose(30, options); !slices.Equal(got, []int{2, 1, 0}) {
		t.Errorf("%v", got)
	}
	options[0].Free = 1
	if got := Choose(30, options); !slices.Equal(got, []int{1, 3, 0}) {
		t.Errorf("%v with one left", got)
	}
	// Of what costs the same the fewest boxes, and of these the fewest empty places.
	if got := Choose(8, []Option{of(4, "1", -1), of(8, "2", -1), of(10, "2", -1)}); !slices.Equal(got, []int{0, 1, 0}) {
		t.Errorf("%v", got)
	}
	for n, options := range map[int][]Option{0: options, 5: {of(0, "1", -1)}, 6: {of(3, "1", 1)},
		mostWanted + 1: options} {
		if got := Choose(n, options); got != nil {
			t.Errorf("%d: %v", n, got)
		}
	}
}

func TestChooseAgainstAnExactSolver(t *testing.T) {
	for seed := range uint64(8) {
		t.Run(fmt.Sprint(seed), func(t *testing.T) {
			t.Parallel()
			r := rand.New(rand.NewPCG(seed, 18))
			n := 5 + r.IntN(90)
			var takes, price, free []int
			var options []Option
			for range 2 + r.IntN(3) {
				o := Option{Takes: 1 + r.IntN(24), Free: r.IntN(8) - 2}
				cents := 20 + r.IntN(300)
				o.Price = decimal.New(int64(cents), -2)
				options, takes, price, free = append(options, o), append(takes, o.Takes), append(price, cents),
					append(free, max(o.Free, -1))
			}
			options[0].Free, free[0] = -1, -1 // some set is always enough
			got := 0
			for i, boxes := range Choose(n, options) {
				got += boxes * price[i]
			}
			want := solved(t, "boxes.mzn", fmt.Sprintf("O=%d; N=%d; takes=%s; price=%s; free=%s;", len(options), n,
				list(takes), list(price), list(free)))
			if got != want {
				t.Errorf("%d cents, the solver has %d: %d in %+v", got, want, n, options)
			}
		})
	}
}

func BenchmarkSixtyFavours(b *testing.B) {
	room := Room{Length: 150, Width: 100, Height: 50, Layers: 2}
	items := []Item{{Length: 30, Width: 30, Height: 20}, {Length: 45, Width: 25, Height: 20, Lies: true},
		{Length: 20, Width: 20, Height: 25}}
	for b.Loop() {
		n, _, _ := Sets(room, items, []int{1, 1, 2})
		Choose(60, []Option{{n, decimal.New(1, 0), -1}, {3, decimal.New(5, -1), -1}})
	}
}

func BenchmarkTenThousandFavours(b *testing.B) {
	for b.Loop() {
		Choose(10_000, []Option{{12, decimal.New(135, -2), -1}, {6, decimal.New(8, -1), -1}, {4, decimal.New(6, -1), -1}})
	}
}
