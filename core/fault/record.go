package fault

import (
	"time"

	"zestytin/core/chocolate"
	"zestytin/core/temper"
)

// Limits by which a record answers a question (memory, but for the minutes of layers: rules 4.9).
const (
	warmRoom   = 22.0            // °C
	longBurst  = 30.0            // s at full power, of a bowl of half a kilo or less (rules 3.1)
	smallBowl  = 500.0           // g
	many       = 12              // pieces since the bowl was last warmed
	overdue    = 10              // min in the cold beyond what was planned
	laterHours = 6               // h after it was done
	runs       = 3 * time.Minute // of a layer that the next is poured on
	hard       = 10 * time.Minute
	offBand    = 0.3 // K
)

// OfBowl is what the thermometer and what was done to a bowl answer.
func OfBowl(w temper.Watch) map[Fact]bool {
	facts := map[Fact]bool{}
	said, _ := temper.Heard(w.Said, w.Now, w.Probe)
	from, pieces := -1.0, 0
	for _, d := range w.Deeds {
		switch d.What {
		case temper.Good:
			facts[Smear], from = true, d.At
		case temper.Dull:
			facts[Smear], from = false, -1
		case temper.Anew:
			delete(facts, Smear)
			from = -1
		case temper.Burst:
			facts[Burst] = facts[Burst] || !d.Low && d.Seconds > longBurst && float64(w.Bowl.Mass) <= smallBowl
			pieces = 0
		case temper.On, temper.Added:
			pieces = 0
		case temper.Dipped:
			pieces += d.Pieces
			facts[Many] = pieces >= many
		}
	}
	work := chocolate.Working(w.Bowl.Method, w.Bowl.Kind, w.Bowl.Bands)
	ceiling := chocolate.Ceiling(w.Bowl.Bands)
	tempered := w.Bowl.Kind == chocolate.Real && w.Bowl.Method != chocolate.NoTemper
	if !tempered {
		ceiling = work.To + offBand
	}
	if w.Bowl.Method == chocolate.Gentle {
		from = 0
	}
	for _, s := range said {
		if from >= 0 && s.At >= from || !tempered && s.At >= w.Now-600 {
			facts[Hot] = facts[Hot] || s.Value > ceiling+0.05
		}
	}
	if n := len(said); n > 0 && w.Now-said[n-1].At < 600 {
		facts[Cold] = said[n-1].Value < work.From-offBand
	}
	return facts
}

// Day is what a run sheet knows of where something is seen.
type Day struct {
	Room    float64       // °C
	Done    time.Time     // when the last step of it was ticked; zero: none was
	Wait    time.Duration // that it was to stand then
	Cold    bool          // in the fridge or freezer
	Watery  bool          // something made with water is stirred into the bowl
	Dips    bool          // centres are dipped
	Frozen  bool          // which are colder than a fridge
	Between time.Duration // from one layer to the next; 0: nobody knows
	Now     time.Time
}

// OfDay is what the run sheet answers.
func OfDay(d Day) map[Fact]bool {
	facts := map[Fact]bool{Watery: d.Watery, WarmRoom: d.Room > warmRoom}
	if d.Dips {
		facts[Frozen] = d.Frozen
	}
	if !d.Done.IsZero() {
		stood := d.Now.Sub(d.Done)
		facts[Later], facts[Chilled] = stood >= laterHours*time.Hour, d.Cold
		facts[Long] = d.Cold && stood > d.Wait+overdue*time.Minute
	}
	if d.Between > 0 {
		facts[HardFirst], facts[RunFirst] = d.Between > hard, d.Between < runs
	}
	return facts
}
