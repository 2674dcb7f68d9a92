package start

import (
	"errors"
	"testing"

	"zestytin/core/si"
)

// By hand: with 20 min to set up and 26 min for each dozen, 180 min hold 6 dozen: 20 + 6 x 26 = 176.
func TestTimesIn(t *testing.T) {
	of := func(setUp, each si.Minutes) func(int) (si.Minutes, error) {
		return func(times int) (si.Minutes, error) { return setUp + each*si.Minutes(times), nil }
	}
	for _, c := range []struct {
		minutes, setUp, each si.Minutes
		want                 int
	}{
		{180, 20, 26, 6}, {176, 20, 26, 6}, {175, 20, 26, 5}, {45, 20, 26, 0}, {46, 20, 26, 1}, {0, 0, 1, 0},
		{1440, 0, 1, most}, {64, 0, 1, 64}, {63, 0, 1, 63}, {33, 0, 1, 33}, {5, 0, 0, most},
	} {
		if got, err := TimesIn(c.minutes, of(c.setUp, c.each)); err != nil || got != c.want {
			t.Errorf("%+v: %d, %v", c, got, err)
		}
	}
	// Against trying one after the other.
	for minutes := si.Minutes(0); minutes < 400; minutes += 7 {
		want := 0
		for want < most && 15+11*si.Minutes(want+1) <= minutes {
			want++
		}
		if got, _ := TimesIn(minutes, of(15, 11)); got != want {
			t.Errorf("%d minutes hold %d, counted %d", minutes, got, want)
		}
	}
	broken := errors.New("no")
	if _, err := TimesIn(60, func(int) (si.Minutes, error) { return 0, broken }); !errors.Is(err, broken) {
		t.Errorf("%v", err)
	}
}
