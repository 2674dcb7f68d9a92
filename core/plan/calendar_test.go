package plan

import (
	"slices"
	"testing"
	"time"
	_ "time/tzdata" // the zones that a machine has may be old or missing

	"zestytin/core/si"
)

// A day on which the clocks change, by the IANA time zone database.
type change struct {
	zone, day string
	minutes   si.Minutes // of the day
	clock     si.Minutes // a time that the clock skips, or shows twice
	at        si.Minutes // minute of the day at which work can be then
	spans     []Span     // of work from 01:00 to 05:00, in minutes of the day
}

// Berlin skips 02:00 to 03:00 and repeats it; New York skips the same; Lord Howe changes by half an hour and repeats
// 01:30 to 02:00.
var changes = []change{
	{"Europe/Berlin", "2027-03-28", 23 * 60, 150, 120, []Span{{60, 240}}},
	{"Europe/Berlin", "2027-10-31", 25 * 60, 150, 150, []Span{{60, 180}, {240, 360}}},
	{"America/New_York", "2027-03-14", 23 * 60, 150, 120, []Span{{60, 240}}},
	{"Australia/Lord_Howe", "2027-04-04", 24*60 + 30, 100, 100, []Span{{60, 120}, {150, 330}}},
	{"Europe/Berlin", "2027-06-06", 24 * 60, 150, 150, []Span{{60, 300}}},
}

func (c change) calendar(t *testing.T) Calendar {
	t.Helper()
	zone, err := time.LoadLocation(c.zone)
	if err != nil {
		t.Fatal(err)
	}
	day, err := time.ParseInLocation(time.DateOnly, c.day, zone)
	if err != nil {
		t.Fatal(err)
	}
	return CalendarFrom(day.AddDate(0, 0, -2), zone)
}

func TestDaysOfOtherLengths(t *testing.T) {
	for _, c := range changes {
		cal := c.calendar(t)
		begin := cal.Begin(2)
		if cal.Date(2) != c.day || cal.Begin(3)-begin != c.minutes || begin != 2*DayMinutes {
			t.Errorf("%s %s: day %s from %d on has %d minutes, want %d", c.zone, c.day, cal.Date(2), begin,
				cal.Begin(3)-begin, c.minutes)
		}
		if got := cal.At(2, c.clock) - begin; got != c.at {
			t.Errorf("%s %s: the clock shows %d at minute %d, want %d", c.zone, c.day, c.clock, got, c.at)
		}
		got := cal.Spans(2, 60, 300)
		for i := range got {
			got[i].From, got[i].To = got[i].From-begin, got[i].To-begin
		}
		if !slices.Equal(got, c.spans) {
			t.Errorf("%s %s: work from 1 to 5 is %v, want %v", c.zone, c.day, got, c.spans)
		}
	}
}

// Of any minute of the days around a change: its time is its own, its day and clock lead back to it where the clock
// shows that once, and a minute of work is always one that the clock names.
func TestMinutesAndTimes(t *testing.T) {
	for _, c := range changes {
		cal := c.calendar(t)
		for m := si.Minutes(-DayMinutes); m < 5*DayMinutes; m += 7 {
			at := cal.Time(m)
			if cal.Minute(at) != m || cal.Minute(at.Add(59*time.Second)) != m {
				t.Fatalf("%s: minute %d is %v, and that minute %d", c.zone, m, at, cal.Minute(at))
			}
			if day := cal.Day(m); cal.DateOf(m) != cal.Date(day) || m < cal.Begin(day) || m >= cal.Begin(day+1) {
				t.Fatalf("%s: minute %d of day %d is on %s", c.zone, m, day, cal.DateOf(m))
			}
		}
		for day := range 4 {
			for _, s := range cal.Spans(day, 0, DayMinutes) {
				for m := s.From; m < s.To; m++ {
					if cal.Day(m) != day || cal.At(day, cal.Clock(m)) != m {
						t.Fatalf("%s: minute %d of work is %d:%02d on day %d, and that minute %d", c.zone, m,
							cal.Clock(m)/60, cal.Clock(m)%60, cal.Day(m), cal.At(day, cal.Clock(m)))
					}
				}
			}
		}
	}
}

// What sets for five hours from 23:00 on is ready at 05:00 in the night in which an hour is skipped, and at 03:00 where
// one is repeated.
func TestWaitingIsReal(t *testing.T) {
	for day, want := range map[string]string{"2027-03-28": "05:00", "2027-10-31": "03:00"} {
		cal := change{zone: "Europe/Berlin", day: day}.calendar(t)
		if got := cal.Time(cal.At(1, 23*60) + 5*60).Format("15:04"); got != want {
			t.Errorf("%s: ready at %s, want %s", day, got, want)
		}
	}
}

// Days before the first count down, as on a sheet of what was ticked late.
func TestDaysBefore(t *testing.T) {
	cal := changes[0].calendar(t)
	if got := cal.DayOf(cal.Zero.Add(-time.Minute)); got != -1 || cal.Date(-1) != "2027-03-25" ||
		cal.DayName(2) != "Sun 28" || cal.Weekday(2) != time.Sunday {
		t.Errorf("day %d, %s, %s", got, cal.Date(-1), cal.DayName(2))
	}
}
