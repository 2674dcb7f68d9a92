package route

import (
	"context"
	"math"
	"testing"

	"zestytin/core/si"
)

// Noon at the barn, 20 minutes away, and seven in the evening at the quay, 10 minutes away: two drives. A pickup at
// home at eleven is none, and does not keep anybody from leaving at 11:35.
func TestTwoDrivesADay(t *testing.T) {
	p := &Problem{Ways: Ways{Pace: even(), Free: [][]si.Seconds{{0, 1200, 600}, {1200, 0, 1500}, {600, 1500, 0}},
		Metres: [][]float64{{0, 0, 0}, {0, 0, 0}, {0, 0, 0}}},
		Drops: []Drop{{1, 12 * oclock, 12*oclock + 1800, 300}, {2, 19 * oclock, 20 * oclock, 300},
			{0, 9 * oclock, 9 * oclock, 1800}}}
	trips := p.Trips()
	if len(trips) != 2 || len(trips[0]) != 1 || trips[0][0] != 0 || trips[1][0] != 1 {
		t.Fatalf("%v", trips)
	}
	// Until 18:20 somebody may still be at the barn: there are 10 minutes to be at home between them.
	p.Drops[0].To = 18 * oclock
	if trips = p.Trips(); len(trips) != 1 || len(trips[0]) != 2 {
		t.Errorf("%v", trips)
	}
}

// Two drops in the same quarter of an hour 30 km and 45 minutes apart: one is missed by 45 + 5 - 15 = 35 minutes when
// the other is reached as it opens. Either of them by somebody else helps, or a window that is open for as much longer.
// By hand.
func TestTwoDropsAtTheSameMinute(t *testing.T) {
	p := &Problem{Earliest: 7 * oclock, Ways: Ways{Pace: even(),
		Free:   [][]si.Seconds{{0, 1500, 1500}, {1500, 0, 2700}, {1500, 2700, 0}},
		Metres: [][]float64{{0, 15000, 15000}, {15000, 0, 30000}, {15000, 30000, 0}}},
		Drops: []Drop{{1, 12 * oclock, 12*oclock + 900, 300}, {2, 12 * oclock, 12*oclock + 900, 300}}}
	got, _ := p.Best(context.Background(), Options{})
	if got.Late != 35*60 {
		t.Fatalf("late by %d s", got.Late)
	}
	helps := p.Helps(context.Background(), got)
	if len(helps) != 3 || helps[0] != (Help{Longer, got.Stops[1].Drop, 12*oclock + 50*60}) ||
		helps[1].Kind != Without || helps[2].Kind != Without {
		t.Errorf("%+v", helps)
	}
	// One cannot leave before noon, for a drop that closes at 12:15: leaving at 11:50 does.
	p = p.Of([]int{0}, 12*oclock)
	got, _ = p.Best(context.Background(), Options{})
	helps = p.Helps(context.Background(), got)
	if got.Late != 600 || len(helps) != 3 || helps[1].Kind != Earlier || helps[1].By > 11*oclock+50*60 {
		t.Errorf("late by %d s: %+v", got.Late, helps)
	}
}

func TestADropOfOnesOwnOrder(t *testing.T) {
	p := random(5, 3, even())
	for i := range p.Drops {
		p.Drops[i].From, p.Drops[i].To, p.Drops[i].Place = 9*oclock, 18*oclock, i+1
	}
	p.Ways = flat([][2]float64{{0, 0}, {1000, 0}, {2000, 0}, {3000, 0}, {4000, 0}, {5000, 0}}, 10, even())
	if order := p.Inserted([]int{0, 4}, []int{1, 2, 3}); len(order) != 5 || p.Timed(order).Metres != 10000 {
		t.Errorf("%v, %.0f m", order, p.Timed(order).Metres)
	}
}

// A pack of 400 g from -18 C takes up 400 x (333.55 + 37) = 148 220 J. In a car at 35 C for 40 minutes and ten minutes at
// 32 C before, a box at 5 C of 1 W/K lets in 30 x 2400 + 27 x 600 = 88 200 J; 600 g of fruit and cream bring 1.6 x 600 x
// 5/3 = 1600 J, one opening 4000 J: 93 800 J, one pack. Three hours more and it would be three. By hand.
func TestIcePacksByHand(t *testing.T) {
	even := Weather{}
	for h := range even {
		even[h] = 32
	}
	at := func(minutes si.Seconds) Tour {
		return Tour{Leave: 12 * oclock, Back: 12*oclock + 3*minutes*60,
			Stops: []Stop{{Arrive: 12*oclock + minutes*60, Begin: 12*oclock + minutes*60, Go: 12*oclock + minutes*60}}}
	}
	tour := at(40)
	chests := tour.Chests(&even, []Load{{Cold, 600, 0}})
	if len(chests) != 1 || math.Abs(chests[0].Joule-93800) > 1 || chests[0].Packs != 1 || chests[0].Inside != 5 ||
		chests[0].From != 12*oclock-600 || chests[0].Lasts != 12*oclock-600+(3000*148220/93800)/60*60 {
		t.Errorf("%+v", chests)
	}
	tour = at(220) // 93 800 + 30 x 10 800 = 417 800 J
	if chests = tour.Chests(&even, []Load{{Cold, 600, 0}}); chests[0].Packs != 3 {
		t.Errorf("%+v", chests)
	}
}

// Real chocolate needs no ice on a mild day, and a cool box on a hot one; coating stands a little more. At 45 C all do.
func TestWhatNeedsACoolBox(t *testing.T) {
	tour := Tour{Leave: 12 * oclock, Back: 13 * oclock, Stops: []Stop{{Arrive: 12*oclock + 1800, Go: 12*oclock + 1800}}}
	loads := []Load{{Cold, 500, 0}, {Cool, 500, 0}, {Mild, 500, 0}}
	for _, c := range []struct {
		air  float64
		care []Care
	}{{12, []Care{Cold}}, {20, []Care{Cold}}, {25, []Care{Cold, Cool}}, {31, []Care{Cold, Cool, Mild}},
		{45, []Care{Cold, Cool, Mild}}, {-4, nil}} {
		var w Weather
		for h := range w {
			w[h] = c.air
		}
		chests := tour.Chests(&w, loads)
		if len(chests) != len(c.care) {
			t.Errorf("at %.0f C: %+v", c.air, chests)
			continue
		}
		for i, care := range c.care {
			if chests[i].Care != care || chests[i].Packs < 1 || chests[i].Lasts < chests[i].Until {
				t.Errorf("at %.0f C: %+v", c.air, chests[i])
			}
		}
	}
}

// A parked car gains four fifths of its warmth in half an hour.
func TestAParkedCar(t *testing.T) {
	tour := Tour{Leave: 12 * oclock, Back: 14 * oclock,
		Stops: []Stop{{Arrive: 12 * oclock, Begin: 12 * oclock, Go: 13 * oclock}}}
	var w Weather
	for h := range w {
		w[h] = 20
	}
	warmth := tour.Warmth(&w)
	if got := warmth[6].Car - 20; math.Abs(got-(parked-(parked-driven)*0.2)) > 0.2 {
		t.Errorf("%.1f C more after half an hour", got)
	}
	if last := warmth[len(warmth)-1]; last.At != tour.Back || last.Car-20 > 3.2 {
		t.Errorf("%+v", last)
	}
}

// At 9:00 it is 20 C, at 10:00 24, at noon 31: chocolate may be left in the shade until ten.
func TestTheMorningIsCool(t *testing.T) {
	w := Weather{}
	for h := range w {
		w[h] = []float64{18, 18, 20, 24, 28, 31}[min(max(h-7, 0), 5)]
	}
	if got := w.Morning(Cool); got != 10*oclock {
		t.Errorf("until %d", got)
	}
	if shade, sun := w.Doorstep(9*oclock, 10*oclock); shade != 24 || sun != 32 {
		t.Errorf("%.0f, %.0f", shade, sun)
	}
	mild := w.Scaled(22)
	if mild.Warmest() != 22 || mild.Morning(Cool) != 0 || w.Morning(Cold) != 0 {
		t.Errorf("%+v", mild)
	}
}
