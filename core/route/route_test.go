package route

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zestytin/core/si"
)

const oclock si.Seconds = 3600

// flat roads between points in a plane, so many metres a second on a free road.
func flat(points [][2]float64, speed float64, pace Pace) Ways {
	w := Ways{Pace: pace}
	for _, a := range points {
		free, metres := []si.Seconds{}, []float64{}
		for _, b := range points {
			d := math.Hypot(a[0]-b[0], a[1]-b[1])
			free, metres = append(free, si.Seconds(math.Ceil(d/speed))), append(metres, d)
		}
		w.Free, w.Metres = append(w.Free, free), append(w.Metres, metres)
	}
	return w
}

func even() Pace {
	var p Pace
	for h := range p {
		p[h] = 1
	}
	return p
}

// random drive of n drops within 8 km of home, with windows of one to three hours and some pickups at home.
func random(n int, seed uint64, pace Pace) *Problem {
	r := rand.New(rand.NewPCG(seed, 7))
	points := [][2]float64{{0, 0}}
	p := &Problem{Earliest: 7*oclock + 600}
	for i := range n {
		points = append(points, [2]float64{r.Float64()*16000 - 8000, r.Float64()*16000 - 8000})
		from := si.Seconds(8*60+r.IntN(9*60)) * 60
		d := Drop{Place: i + 1, From: from, To: from + si.Seconds(60+r.IntN(120))*60, Door: si.Seconds(2+r.IntN(9)) * 60}
		if i%5 == 4 {
			d.Place, d.To, d.Door = 0, d.From, 1200
		}
		p.Drops = append(p.Drops, d)
	}
	p.Ways = flat(points, 40/3.6, pace)
	return p
}

// The way is 30 minutes long on a free road. Left at 8:45 with a pace of 0.5 until 9:00, a quarter of an hour covers
// 7.5 minutes of it, and 22.5 are left: there at 9:22:30. By hand.
func TestAWayThatBeginsInTheRush(t *testing.T) {
	pace := even()
	pace[8] = 0.5
	for _, c := range []struct{ leave, takes si.Seconds }{
		{8*oclock + 45*60, 37*60 + 30}, {9 * oclock, 1800}, {8 * oclock, 3600}, {7*oclock + 45*60, 15*60 + 1800},
		{32*oclock + 45*60, 37*60 + 30}, {-oclock / 2, 1800},
	} {
		if got := pace.Travel(1800, c.leave); got != c.takes {
			t.Errorf("left at %d: %d s, not %d", c.leave, got, c.takes)
		}
	}
}

func TestWhoeverLeavesLaterIsNeverThereEarlier(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 1))
	for range 200 {
		var pace Pace
		for h := range pace {
			pace[h] = 0.2 + r.Float64()
		}
		free := si.Seconds(r.IntN(3 * 3600))
		for leave := si.Seconds(0); leave < 26*oclock; leave += 97 {
			if a, b := leave+pace.Travel(free, leave), leave+1+pace.Travel(free, leave+1); b < a {
				t.Fatalf("left at %d one is there at %d, a second later at %d", leave, a, b)
			}
		}
	}
}

// Home, the reading room 10 minutes away, the barn 20 minutes from both: 9:00 to 9:10 at the barn, 9:30 to 10:00 at the
// reading room, five minutes at each door. Barn first: leave 8:40, there 9:00, on at 9:05, there 9:25, begin 9:30, on
// at 9:35, home 9:45: 50 minutes on the road, 65 away. Leaving 8:45 one is at the barn at 9:05, on at 9:10, at the
// reading room at 9:30, on at 9:35, home at 9:45: 60 away, with five minutes to spare at the barn. Reading room first,
// the barn is missed. By hand.
func TestThreePlacesByHand(t *testing.T) {
	p := &Problem{Earliest: 6 * oclock, Ways: Ways{Pace: even(),
		Free:   [][]si.Seconds{{0, 600, 1200}, {600, 0, 1200}, {1200, 1200, 0}},
		Metres: [][]float64{{0, 6000, 12000}, {6000, 0, 12000}, {12000, 12000, 0}}},
		Drops: []Drop{{1, 9*oclock + 1800, 10 * oclock, 300}, {2, 9 * oclock, 9*oclock + 600, 300}}}
	got, proven := p.Best(context.Background(), Options{})
	if !proven || got.Late != 0 || got.Road != 3000 || got.Away() != 3600 || got.Leave != 8*oclock+2700 ||
		got.Metres != 30000 || got.Stops[0].Drop != 1 || got.Stops[1].Arrive != 9*oclock+1800 ||
		got.Stops[1].Go != 9*oclock+2100 {
		t.Errorf("%+v", got)
	}
	// It is not possible to leave before 9:00: the barn is reached at 9:20, ten minutes late.
	p.Earliest = 9 * oclock
	if got, _ = p.Best(context.Background(), Options{}); got.Late != 600 || got.Stops[0].Late != 600 {
		t.Errorf("%+v", got)
	}
}

// In the rush the way to the only drop takes an hour and 20 minutes once it is over; the window is open all morning: it
// is better to leave at 9:00 and to be there for the same door.
func TestItPaysToLetTheRushPass(t *testing.T) {
	pace := even()
	pace[7], pace[8] = 0.3, 0.3
	p := &Problem{Earliest: 7 * oclock, Ways: Ways{Pace: pace, Free: [][]si.Seconds{{0, 1200}, {1200, 0}},
		Metres: [][]float64{{0, 9000}, {9000, 0}}}, Drops: []Drop{{1, 7 * oclock, 12 * oclock, 300}}}
	if got, _ := p.Best(context.Background(), Options{}); got.Leave < 9*oclock || got.Road != 2400 {
		t.Errorf("%+v", got)
	}
	// But nobody leaves hours before a window opens in the rush, to have the road for themselves.
	pace[16] = 0.9
	p.Ways.Pace, p.Drops[0].From, p.Drops[0].To = pace, 17*oclock, 17*oclock+600
	if got, _ := p.Best(context.Background(), Options{}); got.Leave < 16*oclock || got.Idle != 0 {
		t.Errorf("%+v", got)
	}
}

// brute tries every order and every time of leaving.
func brute(p *Problem) Tour {
	var best Tour
	first := true
	var next func(order []int)
	next = func(order []int) {
		if len(order) == len(p.Drops) {
			for _, leave := range p.starts() {
				if t := p.Follow(order, leave); first || t.Less(&best) {
					best, first = t, false
				}
			}
			return
		}
		for i := range p.Drops {
			if !slices.Contains(order, i) {
				next(append(slices.Clip(order), i))
			}
		}
	}
	next(nil)
	return best
}

// All orders of six drops, and all times of leaving: the same lateness, road and time away.
func TestNoOrderIsBetter(t *testing.T) {
	rush := Usual()
	rush[10], rush[11], rush[14] = 0.5, 0.6, 0.4
	late := 0
	for seed := range uint64(18) {
		p := random(6, seed, []Pace{even(), Usual(), rush}[seed%3])
		if seed%2 == 1 {
			p.Earliest = 11 * oclock // some windows are missed
		}
		got, proven := p.Best(context.Background(), Options{})
		want := brute(p)
		if !proven || got.Late != want.Late || got.Road+got.Idle != want.Road+want.Idle || got.Away() != want.Away() {
			t.Errorf("drive %d: late %d, road %d, away %d; by trying all %d, %d, %d", seed, got.Late, got.Road, got.Away(),
				want.Late, want.Road, want.Away())
		}
		if want.Late > 0 {
			late++
		}
	}
	if late < 3 {
		t.Errorf("windows are missed in %d only", late)
	}
}

// What the search finds alone is compared with what is proven.
func TestSearchIsNearToWhatIsProven(t *testing.T) {
	same := 0
	for seed := range uint64(12) {
		p := random(9, 100+seed, Usual())
		exact, _ := p.Best(context.Background(), Options{})
		found := p.search(context.Background(), Options{Effort: 20000})
		if found.Less(&exact) {
			t.Errorf("drive %d: the search found %d s late, %d s of road; proven were %d, %d", seed, found.Late, found.Road,
				exact.Late, exact.Road)
		}
		if found.Late == exact.Late && found.Road == exact.Road {
			same++
		}
		if float64(found.Road) > 1.05*float64(exact.Road) && found.Late == exact.Late {
			t.Errorf("drive %d: %d s of road, proven are %d", seed, found.Road, exact.Road)
		}
	}
	if same < 9 {
		t.Errorf("only %d of 12 are as good as proven", same)
	}
}

// No tour through all points is shorter than any of its 1-trees with weights on its points: Held, Karp, The
// traveling-salesman problem and minimum spanning trees, Operations Research 18 (1970) (memory).
func heldKarp(free [][]si.Seconds) float64 {
	n := len(free)
	weight, best := make([]float64, n), 0.0
	for round := range 400 {
		cost := func(i, j int) float64 { return float64(free[i][j]) + weight[i] + weight[j] }
		degree, total := make([]int, n), 0.0
		in, from, near := make([]bool, n), make([]int, n), make([]float64, n)
		for i := range n {
			near[i], from[i] = cost(1, i), 1
		}
		in[0], in[1] = true, true
		for range n - 2 {
			next := -1
			for i := range n {
				if !in[i] && (next < 0 || near[i] < near[next]) {
					next = i
				}
			}
			in[next] = true
			total += near[next]
			degree[next]++
			degree[from[next]]++
			for i := range n {
				if c := cost(next, i); !in[i] && c < near[i] {
					near[i], from[i] = c, next
				}
			}
		}
		first, second := -1, -1
		for i := 1; i < n; i++ {
			switch c := cost(0, i); {
			case first < 0 || c < cost(0, first):
				first, second = i, first
			case second < 0 || c < cost(0, second):
				second = i
			}
		}
		total += cost(0, first) + cost(0, second)
		degree[0], degree[first], degree[second] = 2, degree[first]+1, degree[second]+1
		for _, w := range weight {
			total -= 2 * w
		}
		best = max(best, total)
		step := 200 * math.Pow(0.985, float64(round))
		for i := range weight {
			weight[i] += step * float64(degree[i]-2)
		}
	}
	return best
}

// Of forty drops without windows the road is within a tenth of what no drive can be shorter than.
func TestManyDropsAreNearToTheBound(t *testing.T) {
	p := random(40, 5, even())
	for i := range p.Drops {
		p.Drops[i].Place, p.Drops[i].From, p.Drops[i].To = i+1, 0, 100*oclock
	}
	p.Earliest = 30 * oclock
	got, proven := p.Best(context.Background(), Options{})
	bound := heldKarp(p.Ways.Free)
	if proven || float64(got.Road) < bound || float64(got.Road) > 1.1*bound {
		t.Errorf("%d s of road, proven %v; no drive is shorter than %.0f", got.Road, proven, bound)
	}
}

func BenchmarkBest(b *testing.B) {
	for _, n := range []int{5, 12, 40} {
		for _, kind := range []string{"windows", "wide", "impossible"} {
			b.Run(fmt.Sprintf("%d/%s", n, kind), func(b *testing.B) {
				p := random(n, 3, Usual())
				for i := range p.Drops {
					switch kind {
					case "wide":
						p.Drops[i].From, p.Drops[i].To = 9*oclock, 18*oclock
					case "impossible":
						p.Drops[i].From = p.Drops[i%3].From
						p.Drops[i].To = p.Drops[i].From + 900
					}
				}
				for b.Loop() {
					p.Best(context.Background(), Options{})
				}
			})
		}
	}
}
