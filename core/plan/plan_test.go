package plan

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"
)

const day = DayMinutes

// evenings of one person, 18:00 to 21:00, on days 0 to n-1.
func evenings(n int) []Session {
	var list []Session
	for d := range n {
		list = append(list, Session{d*day + 18*60, d*day + 21*60, 1})
	}
	return list
}

var pots = []Pot{{"dark", 25, 60}, {"white", 10, 45}}

func batch(readyBy, keeps int, steps ...Step) Batch {
	b := Batch{ID: "b", ReadyBy: readyBy, Keeps: &keeps, Steps: steps, FreshFrom: steps[0].ID}
	for i := range b.Steps[1:] {
		b.Steps[i+1].After = []After{{Step: b.Steps[i].ID}}
	}
	return b
}

// By hand: dipping needs a pot, so it starts 25 minutes into the session at 18:25 and takes 30; it sets from 18:55 to
// 19:35; boxing takes 10, to 19:45. The handover is on day 3 at noon: day 2 is the latest evening before it.
func TestLatestByHand(t *testing.T) {
	b := batch(3*day+12*60, 2*day, Step{ID: "dip", Hands: 30, Wait: 40, Pot: "dark"}, Step{ID: "box", Hands: 10})
	placed, short := Latest(evenings(4), pots, nil, b)
	if short != nil {
		t.Fatalf("does not fit: %+v", short)
	}
	dip, box := placed[0], placed[1]
	if dip.Start != 2*day+18*60+25 || dip.Changeover != 25 || dip.End() != 2*day+19*60+35 || box.Start != dip.End() {
		t.Errorf("dip at %d after %d of melting, box at %d", dip.Start-2*day, dip.Changeover, box.Start-2*day)
	}
}

func TestKeepingTimeLimitsHowEarly(t *testing.T) {
	steps := []Step{{ID: "dip", Hands: 150}}
	taken := []Placed{{Start: 2*day + 18*60, Hands: 60}} // too little is left on day 2
	if placed, _ := Latest(evenings(4), pots, taken, batch(3*day+12*60, 3*day, steps...)); placed == nil || placed[0].Start/day != 1 {
		t.Errorf("what keeps three days goes to day 1: %v", placed)
	}
	_, short := Latest(evenings(4), pots, taken, batch(3*day+12*60, day, steps...))
	if short == nil || short.Short != "hands" || short.Day != 2 || short.Minutes != 30 || short.Free != 120 || short.Need != 150 {
		t.Errorf("what keeps one day is 30 minutes short on day 2: %+v", short)
	}
}

func TestPotsAreSharedWhileTheyHold(t *testing.T) {
	taken := []Placed{{Batch: "a", Step: "dip", Start: 18*60 + 25, Hands: 30, Changeover: 25, Pot: "dark"}}
	dip := Step{ID: "dip", Hands: 20, Pot: "dark"}
	placed, short := Latest(evenings(1), pots, taken, batch(day, day, dip))
	if short != nil || placed[0].Changeover != 0 || placed[0].Start != 18*60+55 {
		t.Errorf("the pot is ready at 18:55 and holds: %+v, %+v", placed, short)
	}
	dip.Pot = "white"
	placed, _ = Latest(evenings(1), pots, taken, batch(day, day, dip))
	if placed[0].Changeover != 10 || placed[0].From() != 18*60+55 {
		t.Errorf("another chocolate is another pot: %+v", placed)
	}
	// A step between two that share a pot must not take it away.
	taken = append(taken, Placed{Batch: "c", Step: "dip", Start: 19*60 + 40, Hands: 80, Pot: "dark"})
	if placed, short := Latest(evenings(1), pots, taken, batch(day, day, dip)); short == nil {
		t.Errorf("white was put between two darks of one pot: %+v", placed)
	}
}

func TestWhatSetsTooLong(t *testing.T) {
	// 20 + 10 minutes of hands are free on the evening, but 170 minutes of setting in between end at 21:10.
	b := batch(21*60, day, Step{ID: "pour", Hands: 20, Wait: 170}, Step{ID: "cut", Hands: 10})
	_, short := Latest(evenings(1), pots, nil, b)
	if short == nil || short.Short != "wait" || short.Minutes != 20 {
		t.Errorf("done at 21:20, that is 20 minutes late: %+v", short)
	}
	_, short = Latest(nil, pots, nil, b)
	if short == nil || short.Short != "window" || short.Minutes != 30 {
		t.Errorf("without sessions there is no window: %+v", short)
	}
	if _, short = Latest(evenings(3), pots, nil, Batch{ID: "b", NotBefore: 3 * day, ReadyBy: 4 * day, Keeps: new(day), Steps: b.Steps}); short == nil {
		t.Error("it was placed in the past")
	}
}

// Whatever is asked: steps lie inside sessions, nobody does two things at once, steps keep their order, pots are ready,
// and the batch is in time and fresh.
func TestPlacesAreValid(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	placedSome, refusedSome := 0, 0
	for range 200 {
		sessions := evenings(5)
		for i := range sessions {
			sessions[i].Hands = 1 + r.IntN(2)
		}
		var taken []Placed
		for n := range 12 {
			b := Batch{ID: fmt.Sprint(n), NotBefore: r.IntN(2 * day), ReadyBy: 2*day + r.IntN(3*day), Keeps: new(day/2 + r.IntN(4*day))}
			for i := range 1 + r.IntN(5) {
				s := Step{ID: fmt.Sprint(i), Hands: 5 + r.IntN(40), Wait: r.IntN(30), Pot: []string{"", "dark", "white"}[r.IntN(3)]}
				if i > 0 {
					s.After = []After{{Step: fmt.Sprint(i - 1), Min: r.IntN(10)}}
				}
				b.Steps = append(b.Steps, s)
			}
			b.FreshFrom = b.Steps[r.IntN(len(b.Steps))].ID
			placed, short := Latest(sessions, pots, taken, b)
			if (placed == nil) == (short == nil) {
				t.Fatal("exactly one of plan and shortfall is wanted")
			}
			if short != nil {
				refusedSome++
				if short.Minutes <= 0 || short.Need <= 0 {
					t.Errorf("short by nothing: %+v", short)
				}
				continue
			}
			placedSome++
			taken = append(taken, placed...)
			checkBatch(t, b, placed)
		}
		checkDay(t, sessions, taken)
	}
	if placedSome < 100 || refusedSome < 100 {
		t.Errorf("placed %d, refused %d: the test sees too little", placedSome, refusedSome)
	}
}

func checkBatch(t *testing.T, b Batch, placed []Placed) {
	t.Helper()
	ends := map[string]int{}
	for i, p := range placed {
		s := b.Steps[i]
		if p.Step != s.ID || p.Hands != s.Hands || p.From() < b.NotBefore || p.End() > b.ReadyBy {
			t.Errorf("%+v of %+v", p, b)
		}
		for _, a := range s.After {
			if p.Start < ends[a.Step]+a.Min {
				t.Errorf("step %s before its turn", s.ID)
			}
		}
		if s.ID == b.FreshFrom && p.Start < b.ReadyBy-b.keeps() {
			t.Errorf("it would be stale: %+v", p)
		}
		ends[s.ID] = p.End()
	}
}

func checkDay(t *testing.T, sessions []Session, taken []Placed) {
	t.Helper()
	for _, s := range sessions {
		for hand := range s.Hands {
			var mine []Placed
			for _, p := range taken {
				if p.Hand == hand && p.From() < s.To && p.To() > s.From {
					if p.From() < s.From || p.To() > s.To {
						t.Errorf("%+v leaves its session %+v", p, s)
					}
					mine = append(mine, p)
				}
			}
			for i, p := range mine {
				last := (*Placed)(nil)
				for j, q := range mine {
					if i != j && p.From() < q.To() && q.From() < p.To() {
						t.Errorf("person %d does %+v and %+v at once", hand, p, q)
					}
					if q.Pot != "" && q.Start < p.Start && (last == nil || q.Start > last.Start) {
						last = &mine[j]
					}
				}
				if p.Pot != "" && p.Changeover == 0 && (last == nil || last.Pot != p.Pot || p.Start > last.To()+potOf(pots, p.Pot).Holds) {
					t.Errorf("the pot of %+v is not ready after %+v", p, last)
				}
			}
		}
	}
}

func TestCalendarAcrossTheChangeOfClocks(t *testing.T) {
	zone, err := time.LoadLocation("America/New_York")
	if err != nil {
		t.Fatal(err)
	}
	// Clocks go back on 1 November 2026: that day has 25 hours, and still 1440 minutes on the wall.
	cal := CalendarFrom(time.Date(2026, 10, 30, 15, 0, 0, 0, zone), zone)
	at := time.Date(2026, 11, 2, 14, 30, 0, 0, zone)
	if got := cal.Minute(at); got != 3*day+14*60+30 {
		t.Errorf("minute %d", got)
	}
	if got := cal.Time(3*day + 14*60 + 30); !got.Equal(at) {
		t.Errorf("%v, want %v", got, at)
	}
	if cal.Date(3) != "2026-11-02" || cal.DayName(3) != "Mon 2" {
		t.Errorf("%s, %s", cal.Date(3), cal.DayName(3))
	}
	if got := cal.DayOf(time.Date(2026, 10, 28, 23, 59, 0, 0, zone)); got != -2 {
		t.Errorf("two days ago is day %d", got)
	}
}

func BenchmarkLatest(b *testing.B) {
	sessions := evenings(14)
	var taken []Placed
	for n := range 40 {
		placed, _ := Latest(sessions, pots, taken, batch(14*day, 14*day, Step{ID: "a", Hands: 10 + n%20, Pot: "dark"}, Step{ID: "b", Hands: 15}))
		taken = append(taken, placed...)
	}
	one := batch(14*day, 14*day, Step{ID: "a", Hands: 20, Wait: 10, Pot: "white"}, Step{ID: "b", Hands: 30})
	for b.Loop() {
		Latest(sessions, pots, taken, one)
	}
}
