package plan

import "time"

// Calendar turns times of a kitchen's wall clock into the minutes of a plan and back. A day always has 1440 minutes: on
// the two days a year with another length the wall clock is what people work by.
type Calendar struct {
	Zero time.Time // midnight of day 0, in the kitchen's zone
}

// CalendarFrom starts at the midnight before t in zone.
func CalendarFrom(t time.Time, zone *time.Location) Calendar {
	y, m, d := t.In(zone).Date()
	return Calendar{time.Date(y, m, d, 0, 0, 0, 0, zone)}
}

// Minute of t; seconds are dropped.
func (c Calendar) Minute(t time.Time) int {
	t = t.In(c.Zero.Location())
	return c.DayOf(t)*DayMinutes + t.Hour()*60 + t.Minute()
}

// DayOf is the number of the calendar day that t falls on.
func (c Calendar) DayOf(t time.Time) int {
	y, m, d := t.In(c.Zero.Location()).Date()
	zy, zm, zd := c.Zero.Date()
	return int(time.Date(y, m, d, 0, 0, 0, 0, time.UTC).Sub(time.Date(zy, zm, zd, 0, 0, 0, 0, time.UTC)).Hours() / 24)
}

// Time of a minute on the wall clock.
func (c Calendar) Time(minute int) time.Time {
	y, m, d := c.Zero.Date()
	return time.Date(y, m, d, 0, minute, 0, 0, c.Zero.Location())
}

// Date of a day, as 2026-09-03.
func (c Calendar) Date(day int) string { return c.Time(day * DayMinutes).Format(time.DateOnly) }

// DayName of a day, as people say it on a fortnight's shelf: Tue 15.
func (c Calendar) DayName(day int) string { return c.Time(day * DayMinutes).Format("Mon 2") }
