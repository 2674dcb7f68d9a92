package chocolate

import (
	"math"

	"zestytin/core/reason"
)

// Reading of a thermometer in a cooling bowl.
type Reading struct {
	Minute float64 `json:"minute"`
	At     float64 `json:"at"`
}

// Cooling is a bowl that cools by Newton's law: T(t) = room + (T0 - room) e^(-k t).
type Cooling struct {
	Start float64 `json:"start"`
	Rate  float64 `json:"rate"`
	Room  float64 `json:"room"`
}

// Cool fits Newton's law of cooling to two or more readings in a room of known temperature, by least squares on the
// logarithm of the difference to the room (rules 4.3). Errors are plain sentences.
func Cool(readings []Reading, room float64) (Cooling, error) {
	if len(readings) < 2 {
		return Cooling{}, reason.Of("chocolate.two-readings-needed-some-minutes")
	}
	var n, sumT, sumY, sumTT, sumTY float64
	for _, r := range readings {
		if !(r.At > room) {
			return Cooling{}, reason.Of("chocolate.reading-not-warmer-than-room")
		}
		y := math.Log(r.At - room)
		n, sumT, sumY, sumTT, sumTY = n+1, sumT+r.Minute, sumY+y, sumTT+r.Minute*r.Minute, sumTY+r.Minute*y
	}
	spread := n*sumTT - sumT*sumT
	if spread < 1e-9 {
		return Cooling{}, reason.Of("chocolate.readings-same-minute-take-another")
	}
	rate := -(n*sumTY - sumT*sumY) / spread
	if !(rate > 0) {
		return Cooling{}, reason.Of("chocolate.not-cooling-readings-do-not")
	}
	return Cooling{Start: room + math.Exp((sumY+rate*sumT)/n), Rate: rate, Room: room}, nil
}

// At minute t the bowl is so warm, C.
func (c Cooling) At(minute float64) float64 {
	return c.Room + (c.Start-c.Room)*math.Exp(-c.Rate*minute)
}

// Reaches is the minute at which it has fallen to a temperature; false where the room is not colder than that.
func (c Cooling) Reaches(at float64) (minute float64, ok bool) {
	if at <= c.Room {
		return 0, false
	}
	return math.Log((c.Start-c.Room)/(at-c.Room)) / c.Rate, true
}
