package standin

import (
	"testing"
	"time"
)

// A July afternoon is warm, a January night cold, and a day is the same whenever it is asked.
func TestSeasons(t *testing.T) {
	day := func(month time.Month) time.Time { return time.Date(2026, month, 20, 0, 0, 0, 0, time.UTC) }
	july, january := Weather(day(time.July)), Weather(day(time.January))
	if july.Warmest() < 22 || july.Warmest() > 36 || january.Warmest() > 12 || july != Weather(day(time.July)) {
		t.Errorf("%v, %v", july, january)
	}
	if july[15] != july.Warmest() || july[4] >= july[12] {
		t.Errorf("%v", july)
	}
}
