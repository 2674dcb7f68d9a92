package route

import (
	"cmp"

	"zestytin/core/si"
)

// Drop is where something is handed over: somebody is there from From until To, and it takes Door at the door. A
// pickup at home is one too, at place 0: one is there by From, and stays for Door.
type Drop struct {
	Place          int
	From, To, Door si.Seconds
}

// Problem of a drive that begins and ends at home.
type Problem struct {
	Drops    []Drop
	Ways     Ways
	Earliest si.Seconds // one can leave
}

// Tour is a drive as it goes.
type Tour struct {
	Leave  si.Seconds
	Stops  []Stop     // in the order of the drive
	Back   si.Seconds // when one is home again
	Late   si.Seconds // by how much windows are missed, all together
	Road   si.Seconds // on the road
	Idle   si.Seconds // in the car for a window to open, beyond what one is patient for at each
	Metres float64
}

// Stop of a tour.
type Stop struct {
	Drop   int // index in the problem
	Arrive si.Seconds
	Begin  si.Seconds // when somebody is there: the arrival, or the begin of the window
	Go     si.Seconds // when one drives on
	Late   si.Seconds // by how much its window is missed
	Road   si.Seconds // from the stop before
	Metres float64
}

// Away is how long nobody is at home for anything else.
func (t *Tour) Away() si.Seconds { return t.Back - t.Leave }

// patience is for how long one waits at a door for its window to open as if that were nothing: longer counts as time on
// the road. Otherwise a minute of the rush hour would be worth an afternoon in the car.
const patience si.Seconds = 1800

// Less tells whether a drive is better than another: first the windows, then the least time on the road, then the least
// time away.
func (t *Tour) Less(than *Tour) bool {
	return cmp.Or(cmp.Compare(t.Late, than.Late), cmp.Compare(t.Road+t.Idle, than.Road+than.Idle),
		cmp.Compare(t.Away(), than.Away())) < 0
}

// home as a drop.
const home = -1

// place of a drop.
func (p *Problem) place(drop int) int {
	if drop == home {
		return 0
	}
	return p.Drops[drop].Place
}

// Follow an order of drops, leaving home at a time and driving on whenever one is done.
func (p *Problem) Follow(order []int, leave si.Seconds) Tour {
	t := Tour{Leave: leave, Stops: make([]Stop, 0, len(order))}
	now, here := leave, 0
	drive := func(there int) (road si.Seconds, metres float64) {
		road, metres = p.Ways.Pace.Travel(p.Ways.Free[here][there], now), p.Ways.Metres[here][there]
		t.Road, t.Metres, now, here = t.Road+road, t.Metres+metres, now+road, there
		return road, metres
	}
	for _, i := range order {
		d := &p.Drops[i]
		road, metres := drive(d.Place)
		s := Stop{Drop: i, Arrive: now, Begin: max(now, d.From), Late: max(now-d.To, 0), Road: road, Metres: metres}
		now = full(s.Begin + d.Door)
		s.Go = now
		t.Late += s.Late
		t.Idle += max(s.Begin-s.Arrive-patience, 0)
		t.Stops = append(t.Stops, s)
	}
	drive(0)
	t.Back = now
	return t
}

// Timed is an order of drops at the best time to leave.
func (p *Problem) Timed(order []int) Tour {
	var best Tour
	for i, leave := range p.starts() {
		if t := p.Follow(order, leave); i == 0 || t.Less(&best) {
			best = t
		}
	}
	return best
}

// Grid is how finely times of leaving home are told apart.
const Grid si.Seconds = 300

// minute is how finely all other times are: one who is there within a minute drives on when it is full.
const minute si.Seconds = 60

func full(t si.Seconds) si.Seconds { return (t + minute - 1) / minute * minute }

// starts are the times at which one may leave: as soon as one can, and every five minutes until the last window closes.
func (p *Problem) starts() []si.Seconds {
	list := []si.Seconds{full(p.Earliest)}
	for t := (list[0]/Grid + 1) * Grid; t <= p.end(); t += Grid {
		list = append(list, t)
	}
	return list
}

// end is when the last window closes.
func (p *Problem) end() si.Seconds {
	end := p.Earliest
	for _, d := range p.Drops {
		end = max(end, d.To)
	}
	return end
}
