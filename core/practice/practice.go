// Package practice is what one learns at a bowl that is not there: exercises on the simulated pot, and what cost points
// in the end. Nothing of a kitchen is in it.
package practice

import (
	"cmp"
	"math"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/temper"
)

// Exercise that one can do.
type Exercise string

const (
	Temper Exercise = "temper" // 450 g of dark by seed, from the bag to the bench
	Rescue Exercise = "rescue" // a bowl that became too warm after it was tempered
	Alive  Exercise = "alive"  // 60 frozen centres through one bowl
)

// Exercises that there are, the first one first.
func Exercises() []Exercise { return []Exercise{Temper, Rescue, Alive} }

// Longest that an exercise may last, s.
const Longest = 3 * 3600

// task of an exercise.
type task struct {
	bowl  temper.Bowl
	start pot.Pot
	done  []temper.Deed // before it begins
	par   float64       // s that a practised hand takes
	piece chocolate.Piece
}

const room = 21.0

// frozen centre: a ball of 12 g of ganache from the freezer (rules 4.4).
var frozen = chocolate.Piece{Mass: 12, At: -18, Heat: chocolate.HeatOfCentre, Across: 27, Seconds: chocolate.DipSeconds}

func (e Exercise) task() task {
	bands := chocolate.BandsOf(chocolate.Dark)
	b := temper.Bowl{Kind: chocolate.Real, Colour: chocolate.Dark, Bands: bands, Method: chocolate.Seed,
		Source: chocolate.Microwave, Mass: 450, Room: room}
	t := task{bowl: b, par: 15 * 60, piece: frozen}
	t.start = pot.Pot{Mass: b.Mass - b.Seed(), At: room, Solid: 1, Room: room, Kind: b.Kind, Bands: bands}
	switch e {
	case Rescue:
		// It was in its temper and stood on the heat a moment too long: warm, and hardly a crystal left.
		t.bowl.Method = chocolate.Gentle
		t.start.Mass, t.start.At, t.start.Solid, t.par = b.Mass, 35.5, 0.001, 12*60
		t.done = []temper.Deed{{What: temper.Good}}
	case Alive:
		t.bowl.Method, t.bowl.Mass, t.bowl.Pieces, t.bowl.Coat, t.bowl.Pool = chocolate.Gentle, 750, Centres, 7, 200
		t.start.Mass, t.start.At, t.start.Solid, t.par = 750, 31.6, 0.02, 20*60
		t.done = []temper.Deed{{What: temper.Good}}
	}
	return t
}

// Centres that are dipped.
const Centres = 60

// Run of an exercise: what was done in it, and how far it has come.
type Run struct {
	Exercise Exercise
	Seed     uint64
	Deeds    []temper.Deed
	Now      float64 // s
}

// Seen is a run as one sees it: what the thermometer has said, with all that the guide must know.
func (r Run) Seen() temper.Watch {
	w, _ := r.play(nil)
	return w
}

// play the run; each second is told as it really is.
func (r Run) play(tell func(pot.State, temper.Deed)) (temper.Watch, pot.State) {
	t := r.Exercise.task()
	now := min(r.Now, Longest)
	deeds := slices.Clone(r.Deeds)
	slices.SortStableFunc(deeds, func(a, b temper.Deed) int { return cmp.Compare(a.At, b.At) })
	w := temper.Watch{Bowl: t.bowl, Probe: true, Deeds: append(slices.Clone(t.done), deeds...), Now: now}
	c := t.start.Begin()
	needle := pot.UsualProbe(r.Seed).In(t.start.At)
	next := 0.0
	for ; c.At <= now; c.Pass() {
		for len(deeds) > 0 && deeds[0].At <= c.At {
			t.do(c, deeds[0])
			if tell != nil {
				tell(c.State, deeds[0])
			}
			deeds = deeds[1:]
		}
		if c.At >= next {
			w.Said = append(w.Said, needle.Say(c.State))
			if tell != nil {
				tell(c.State, temper.Deed{})
			}
			next++
		}
	}
	return w, c.State
}

func (t *task) do(c *pot.Course, d temper.Deed) {
	if d.What != temper.Dipped {
		for _, x := range t.bowl.Does(d) {
			c.Do(x)
		}
		return
	}
	for range min(d.Pieces, Centres) {
		c.Do(pot.Deed{What: pot.Dip, Piece: t.piece, Coat: t.bowl.Coat})
	}
}

// Cost of something in points, with the reason.
type Cost struct {
	Points int           `json:"points"`
	Why    reason.Reason `json:"why"`
}

// Result of a run that is over.
type Result struct {
	Points int    `json:"points"` // of 100
	Costs  []Cost `json:"costs"`
}

// Judge a run that is over by what the bowl really was, second by second, not by what the thermometer said. What costs
// how much is a choice of ours: what spoils the work costs most.
func (r Run) Judge() Result {
	t := r.Exercise.task()
	work, ceiling := t.bowl.Bands.Work, chocolate.Ceiling(t.bowl.Bands)
	hottest, never := 0.0, t.bowl.Bands.Melt.To
	var dipped, bad int
	var seeded si.Grams
	smear := false
	_, end := r.play(func(s pot.State, d temper.Deed) {
		hottest = max(hottest, s.Temp)
		switch d.What {
		case temper.Dipped:
			dipped += d.Pieces
			if s.Temper() != pot.Ready || s.Temp > ceiling {
				bad += d.Pieces
			}
		case temper.Seeded:
			seeded += d.Grams
		case temper.Smear:
			smear = true
		}
	})
	var costs []Cost
	cost := func(points float64, why reason.Reason) {
		if n := int(math.Round(points)); n > 0 {
			costs = append(costs, Cost{n, why})
		}
	}
	cost(min((hottest-never)*8, 60), reason.Of("practice.was-too-hot", reason.Celsius(math.Round(hottest*10)/10),
		reason.Celsius(never)))
	if end.Mass > 0 {
		switch now := end.Temper(); {
		case now == pot.Molten, end.Temp > ceiling+0.3: // what crystals there are melt
			cost(40, reason.Of("practice.ended-molten"))
		case now == pot.Wrong:
			cost(40, reason.Of("practice.ended-wrong"))
		case now == pot.Thick:
			cost(25, reason.Of("practice.ended-thick"))
		default:
			if end.Temp < work.From-0.3 || end.Temp > work.To+0.3 {
				cost(10, reason.Of("practice.ended-outside", reason.Celsius(math.Round(end.Temp*10)/10), work.Band()))
			}
		}
	}
	if r.Exercise != Alive {
		if !smear {
			cost(10, reason.Of("practice.no-smear"))
		}
		if need := t.bowl.Mass.Times(0.35); seeded > need {
			cost(5, reason.Of("practice.much-seed"))
		}
	} else {
		cost(float64(min(bad, 40)), reason.Of("practice.dipped-badly", reason.Int(bad)))
		if left := Centres - dipped; left > 0 {
			cost(float64(left), reason.Of("practice.centres-left", reason.Int(left)))
		}
	}
	if late := (r.Now - t.par) / 60; late > 0 {
		cost(min(late, 20), reason.Of("practice.took-long", reason.Minutes(int(math.Ceil(r.Now/60))),
			reason.Minutes(int(t.par/60))))
	}
	result := Result{Points: 100, Costs: costs}
	slices.SortStableFunc(result.Costs, func(a, b Cost) int { return cmp.Compare(b.Points, a.Points) })
	for _, c := range costs {
		result.Points -= c.Points
	}
	result.Points = max(result.Points, 0)
	return result
}
