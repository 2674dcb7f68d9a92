package plan

import (
	"slices"
	"time"

	"zestytin/core/si"
)

// Calendar turns times of a kitchen's wall clock into the minutes of a plan and back. A minute is a real one, counted
// from midnight of day 0: where the clocks change a day has 23 or 25 hours, or 23 and a half, and what must set or
// keeps does so for as long as on any other day.
type Calendar struct {
	Zero time.Time // midnight of day 0, in the kitchen's zone
}

// CalendarFrom starts at the midnight before t in zone.
func CalendarFrom(t time.Time, zone *time.Location) Calendar {
	y, m, d := t.In(zone).Date()
	return Calendar{midnight(y, m, d, zone)}
}

// midnight is when a day begins: at 0:00, or where the clocks skip that, right after.
func midnight(y int, m time.Month, d int, zone *time.Location) time.Time {
	t := time.Date(y, m, d, 0, 0, 0, 0, zone)
	for t.Day() != time.Date(y, m, d, 12, 0, 0, 0, zone).Day() { // it was taken for a time before the change
		t = t.Add(15 * time.Minute)
	}
	return t
}

// Minute of t; seconds are dropped.
func (c Calendar) Minute(t time.Time) si.Minutes {
	return si.Minutes(floor(t.Sub(c.Zero), time.Minute))
}

// Time of a minute.
func (c Calendar) Time(minute si.Minutes) time.Time {
	return c.Zero.Add(time.Duration(minute) * time.Minute)
}

// DayOf is the number of the calendar day that t falls on.
func (c Calendar) DayOf(t time.Time) int {
	y, m, d := t.In(c.Zero.Location()).Date()
	zy, zm, zd := c.Zero.Date()
	return floor(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Sub(time.Date(zy, zm, zd, 0, 0, 0, 0, time.UTC)),
		24*time.Hour)
}

// Day that a minute falls on.
func (c Calendar) Day(minute si.Minutes) int { return c.DayOf(c.Time(minute)) }

// Begin is the minute at which a day begins.
func (c Calendar) Begin(day int) si.Minutes {
	y, m, d := c.Zero.Date()
	return c.Minute(midnight(y, m, d+day, c.Zero.Location()))
}

// At is the minute at which the clock shows so many minutes from midnight on a day, 1440 being its end: the first of
// two where it does so twice, and where it never does, the one at which the clocks are put forward.
func (c Calendar) At(day int, clock si.Minutes) si.Minutes {
	if clock >= DayMinutes {
		return c.Begin(day+1) + clock - DayMinutes
	}
	begin := c.Begin(day)
	t := begin + clock - c.Clock(begin)
	if c.Clock(t) == clock && c.Day(t) == day {
		if c.Clock(t-60) == clock && c.Day(t-60) == day {
			return t - 60
		}
		return t
	}
	// The clocks have been put forward or back since: the first minute that shows as much or more.
	for t = begin; c.Day(t) == day && c.Clock(t) < clock; t++ {
	}
	return t
}

// Clock is what the clock shows at a minute, in minutes from midnight.
func (c Calendar) Clock(minute si.Minutes) si.Minutes {
	t := c.Time(minute)
	return si.Minutes(t.Hour()*60 + t.Minute())
}

// Span is a piece of time in minutes.
type Span struct{ From, To si.Minutes }

// Spans of a day from one time on its clock to another. Where the clocks are put back, the hour that comes a second
// time is left out, so that a time on the clock names one minute of work.
func (c Calendar) Spans(day int, from, to si.Minutes) []Span {
	all := []Span{{c.At(day, from), c.At(day, to)}}
	if back, again := c.back(day); again > back && all[0].From < again && back < all[0].To {
		all = []Span{{all[0].From, min(all[0].To, back)}, {max(all[0].From, again), all[0].To}}
	}
	return slices.DeleteFunc(all, func(s Span) bool { return s.From >= s.To })
}

// back is the minute of a day at which the clocks are put back, and the one at which they show that time again; both 0
// where they are not.
func (c Calendar) back(day int) (at, again si.Minutes) {
	begin, end := c.Begin(day), c.Begin(day+1)
	if end-begin <= DayMinutes {
		return 0, 0
	}
	for at = begin + 1; at < end && c.Clock(at) > c.Clock(at-1); at++ {
	}
	return at, at + end - begin - DayMinutes
}

// Date of a day, as 2026-09-03.
func (c Calendar) Date(day int) string {
	y, m, d := c.Zero.Date()
	return time.Date(y, m, d+day, 0, 0, 0, 0, time.UTC).Format(time.DateOnly)
}

// DateOf a minute.
func (c Calendar) DateOf(minute si.Minutes) string { return c.Time(minute).Format(time.DateOnly) }

// Weekday of a day.
func (c Calendar) Weekday(day int) time.Weekday {
	y, m, d := c.Zero.Date()
	return time.Date(y, m, d+day, 0, 0, 0, 0, time.UTC).Weekday()
}

// DayName of a day, as people say it on a fortnight's shelf: Tue 15.
func (c Calendar) DayName(day int) string {
	y, m, d := c.Zero.Date()
	return time.Date(y, m, d+day, 0, 0, 0, 0, time.UTC).Format("Mon 2")
}

// floor of a span in units, also of one before zero.
func floor(d, unit time.Duration) int {
	n := int(d / unit)
	if d%unit < 0 {
		n--
	}
	return n
}
