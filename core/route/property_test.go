package route

import (
	"context"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"zestytin/core/si"
)

// keeps tells what is wrong with a tour of a problem; every tour, however it came about, is a drive that can be driven.
func keeps(p *Problem, tour *Tour) string {
	seen := map[int]bool{}
	now, here := tour.Leave, 0
	var road, late si.Seconds
	for _, s := range tour.Stops {
		d := &p.Drops[s.Drop]
		if seen[s.Drop] {
			return "a drop is driven to twice"
		}
		seen[s.Drop] = true
		takes := p.Ways.Pace.Travel(p.Ways.Free[here][d.Place], now)
		if s.Arrive != now+takes || s.Road != takes {
			return "one is there before or after one can be"
		}
		if s.Begin < d.From || s.Begin < s.Arrive {
			return "it is handed over before anybody is there"
		}
		if s.Go < s.Begin+d.Door || s.Go >= s.Begin+d.Door+minute {
			return "the time at the door is another"
		}
		road, late = road+takes, late+max(s.Arrive-d.To, 0)
		now, here = s.Go, d.Place
	}
	home := p.Ways.Pace.Travel(p.Ways.Free[here][0], now)
	switch {
	case len(seen) != len(p.Drops):
		return "a drop is left out"
	case tour.Back != now+home || tour.Road != road+home:
		return "the way home is another"
	case tour.Late != late:
		return "it is late by another time"
	case tour.Leave < p.Earliest:
		return "one leaves before one can"
	}
	return ""
}

// Whatever is asked, the answer is a drive: by the exact way, by the search, in one's own order, at one's own time.
func TestEveryTourCanBeDriven(t *testing.T) {
	for seed := range uint64(30) {
		n := 1 + int(seed)%16
		p := random(n, 500+seed, Usual())
		best, proven := p.Best(context.Background(), Options{Effort: 4000})
		if says := keeps(p, &best); says != "" {
			t.Errorf("%d drops: %s: %+v", n, says, best)
		}
		if proven != (n <= MostExact) {
			t.Errorf("%d drops, proven %v", n, proven)
		}
		order := p.all()
		rand.New(rand.NewPCG(seed, 3)).Shuffle(n, func(i, j int) { order[i], order[j] = order[j], order[i] })
		own := p.Timed(order)
		if says := keeps(p, &own); says != "" {
			t.Errorf("%d drops in an order: %s", n, says)
		}
		if proven && own.Less(&best) {
			t.Errorf("%d drops: %v is better than what is proven: %d, %d and %d, %d", n, order, own.Late, own.Road, best.Late,
				best.Road)
		}
		at := p.Follow(order, 9*oclock)
		if at.Leave != 9*oclock {
			t.Errorf("left at %d", at.Leave)
		}
		half := p.Inserted(order[:n/2], order[n/2:])
		sorted := slices.Sorted(slices.Values(half))
		if !slices.Equal(sorted, p.all()) {
			t.Errorf("inserted: %v", half)
		}
	}
}

// Each drop is in one trip; a pickup at home may be in none, where that trip would be nothing else.
func TestTripsPartTheDrops(t *testing.T) {
	for seed := range uint64(40) {
		p := random(2+int(seed)%12, 900+seed, Usual())
		count := map[int]int{}
		for _, trip := range p.Trips() {
			away := false
			for _, i := range trip {
				count[i]++
				away = away || p.Drops[i].Place != 0
			}
			if !away {
				t.Errorf("drive %d: %v goes nowhere", seed, trip)
			}
		}
		for i, d := range p.Drops {
			if count[i] > 1 || count[i] == 0 && d.Place != 0 {
				t.Errorf("drive %d: drop %d is in %d trips", seed, i, count[i])
			}
		}
	}
}

// A window that is open for longer, a door that takes less, an earlier start: none of them makes a drive worse.
func TestMoreRoomIsNeverWorse(t *testing.T) {
	for seed := range uint64(25) {
		p := random(5, 1300+seed, Usual())
		p.Earliest = 11 * oclock
		best, _ := p.Best(context.Background(), Options{})
		r := rand.New(rand.NewPCG(seed, 8))
		easier := *p
		easier.Drops = slices.Clone(p.Drops)
		i := r.IntN(5)
		switch seed % 3 {
		case 0:
			easier.Drops[i].To += si.Seconds(r.IntN(7200))
			if easier.Drops[i].Place == 0 {
				continue
			}
		case 1:
			easier.Earliest -= 3600
		default:
			rest := slices.Delete(easier.all(), i, i+1)
			q := easier.Of(rest, 0)
			if got, _ := q.Best(context.Background(), Options{}); got.Late > best.Late {
				t.Errorf("drive %d: with one drop less it is later: %d, not %d", seed, got.Late, best.Late)
			}
			continue
		}
		if got, _ := easier.Best(context.Background(), Options{}); got.Late > best.Late {
			t.Errorf("drive %d: with more room it is later: %d, not %d", seed, got.Late, best.Late)
		}
	}
}

// A drive that is stopped while it is searched is still one.
func TestTheSearchCanBeStopped(t *testing.T) {
	p := random(30, 77, Usual())
	ctx, cancel := context.WithCancel(context.Background())
	told := 0
	best, proven := p.Best(ctx, Options{Effort: 1 << 30, Progress: func(done, all int) {
		if told++; told == 2 {
			cancel()
		}
		if done < 0 || done > all {
			t.Errorf("%d of %d", done, all)
		}
	}})
	if says := keeps(p, &best); says != "" || proven || told < 2 {
		t.Errorf("%s, proven %v, told %d times", says, proven, told)
	}
	if none, proven := (&Problem{Earliest: 9 * oclock}).Best(context.Background(), Options{}); !proven ||
		none.Leave != 9*oclock || len(none.Stops) != 0 {
		t.Errorf("%+v", none)
	}
}

// Whatever gets hotter asks for no less ice, and the ice lasts no longer; so does whatever takes longer.
func TestMoreHeatIsNeverLessIce(t *testing.T) {
	tour := func(minutes si.Seconds) Tour {
		arrive := 12*oclock + minutes*60
		return Tour{Leave: 12 * oclock, Back: arrive + 1800, Stops: []Stop{{Arrive: arrive, Begin: arrive, Go: arrive + 300}}}
	}
	for _, care := range []Care{Cold, Cool, Mild} {
		was := map[string]float64{}
		for air := -10.0; air <= 48; air += 2 {
			var w Weather
			for h := range w {
				w[h] = air
			}
			for _, minutes := range []si.Seconds{10, 40, 120} {
				drive := tour(minutes)
				joule := 0.0
				for _, c := range drive.Chests(&w, []Load{{care, 800, 0}}) {
					joule = c.Joule
					if c.Lasts < c.Until || c.Packs < 1 || math.IsNaN(c.Joule) {
						t.Errorf("%s at %.0f C: %+v", care, air, c)
					}
				}
				at := string(care) + string(rune('0'+minutes/10))
				if joule < was[at]-1e-6 {
					t.Errorf("%s for %d min: %.0f J at %.0f C, %.0f J when it was cooler", care, minutes, joule, air, was[at])
				}
				was[at] = joule
			}
		}
	}
	if Cold.Limit() >= Cool.Limit() || Cool.Limit() >= Mild.Limit() || Cool.Softens() <= Cool.Limit() {
		t.Error("what is cold is not colder")
	}
}

// FuzzTravel: no pace and no time makes a way take less than nothing, or later leave earlier.
func FuzzTravel(f *testing.F) {
	f.Add(int64(1800), int64(30000), 0.5, uint8(8))
	f.Add(int64(0), int64(-90), 1.0, uint8(0))
	f.Add(int64(90000), int64(86399), 0.0, uint8(23))
	f.Fuzz(func(t *testing.T, free, leave int64, pace float64, hour uint8) {
		if free < 0 || free > 1e6 || leave < -1e6 || leave > 1e6 || math.IsNaN(pace) || math.Abs(pace) > 3 {
			t.Skip()
		}
		p := Usual()
		p[hour%24] = pace
		takes := p.Travel(si.Seconds(free), si.Seconds(leave))
		later := p.Travel(si.Seconds(free), si.Seconds(leave+1)) + 1
		if takes < 0 || free > 0 && takes == 0 || later < takes {
			t.Errorf("%d s left at %d with pace %g at %d: %d, a second later %d", free, leave, pace, hour%24, takes, later)
		}
	})
}
