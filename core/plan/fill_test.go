package plan

import (
	"math/rand/v2"
	"slices"
	"testing"

	"zestytin/core/si"
)

// By hand: 3 trays from 10 to 40 and 2 from 20 to 60, looked at from 15 to 50: 3 at first, 5 from 20 on (5 minutes
// after 15), 2 from 40 on.
func TestFillLevels(t *testing.T) {
	got := FillLevels([]Filled{{Amount: 3, From: 10, To: 40}, {Amount: 2, From: 20, To: 60},
		{Amount: 9, From: 50, To: 55}}, 15, 50)
	if want := []FillLevel{{0, 3}, {5, 5}, {25, 2}}; !slices.Equal(got, want) {
		t.Errorf("%v, want %v", got, want)
	}
	// At every minute the level is the sum of what is held then.
	r := rand.New(rand.NewPCG(3, 4))
	for range 300 {
		var filled []Filled
		for range r.IntN(8) {
			from := r.IntN(100)
			filled = append(filled, Filled{Amount: 1 + r.IntN(4), From: si.Minutes(from),
				To: si.Minutes(from + 1 + r.IntN(40))})
		}
		levels := FillLevels(filled, 20, 90)
		for minute := si.Minutes(20); minute < 90; minute++ {
			sum, told := 0, 0
			for _, f := range filled {
				if f.From <= minute && minute < f.To {
					sum += f.Amount
				}
			}
			for _, l := range levels {
				if l.At <= minute-20 {
					told = l.Amount
				}
			}
			if sum != told {
				t.Fatalf("at %d: %d, told %d: %v", minute, sum, told, levels)
			}
		}
	}
}

// By hand: hours 18:00 to 21:00 for one and 19:00 to 20:00 for two. A step of 40 minutes with 10 of melting that is
// held at 17:30 comes to 18:10; at 20:50 to 20:20; the second person has only the hour, so 18:00 comes to 19:10. An
// hour and a half find nothing there.
func TestNearestStart(t *testing.T) {
	hours := []Session{{1080, 1260, 1}, {1140, 1200, 2}}
	for _, c := range []struct {
		person                     int
		wished, hands, setup, want si.Minutes
	}{
		{0, 1050, 40, 10, 1090}, {0, 1250, 40, 10, 1220}, {0, 1100, 40, 10, 1100}, {1, 1080, 40, 10, 1150},
		{1, 1080, 90, 0, -1}, {2, 1080, 10, 0, -1},
	} {
		got, ok := NearestStart(hours, c.person, c.wished, c.hands, c.setup)
		if !ok {
			got = -1
		}
		if got != c.want {
			t.Errorf("person %d at %d: %d, want %d", c.person, c.wished, got, c.want)
		}
	}
}
