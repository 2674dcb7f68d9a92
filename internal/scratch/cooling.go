package scratch

import (
	"context"
	"fmt"
	"math"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/text"
)

// CoolingBowl is readings of a bowl that cools.
type CoolingBowl struct {
	Colour   chocolate.Colour    `json:"colour" enum:"dark,milk,white"`
	Room     float64             `json:"room" doc:"C"`
	Readings []chocolate.Reading `json:"readings" maxItems:"100"`
}

// Forecast is when a bowl is in its working band.
type Forecast struct {
	Result
	chocolate.Cooling
	Left    *int     `json:"left,omitempty" doc:"Minutes until then, from the last reading"`
	Ready   *float64 `json:"ready,omitempty" doc:"Minute at which the upper edge of the band is reached"`
	TooCold *float64 `json:"tooCold,omitempty" doc:"Minute at which the lower edge is passed"`
}

func cooling(ctx context.Context, in *struct{ Body CoolingBowl }) (*struct{ Body Forecast }, error) {
	var f invalid.Faults
	for i, r := range in.Body.Readings {
		if !(r.Minute >= 0 && r.Minute < 1440) || !(r.At > -30 && r.At < 130) {
			f.Add(fmt.Sprintf("readings[%d]", i), reason.Of("scratch.reading-has-minute-and-temperature"))
		}
	}
	c, err := chocolate.Cool(in.Body.Readings, in.Body.Room)
	if f.Err() == nil {
		f.Under("readings", err)
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	work := chocolate.BandsOf(in.Body.Colour).Work
	forecast := Forecast{Cooling: c}
	ready, ok := c.Reaches(work.To)
	if !ok {
		forecast.Text = text.Of(ctx).Say(reason.Of("scratch.room-not-colder", reason.Celsius(work.To)))
		return &struct{ Body Forecast }{forecast}, nil
	}
	forecast.Ready = &ready
	last := 0.0
	for _, r := range in.Body.Readings {
		last = max(last, r.Minute)
	}
	forecast.Left = new(max(int(math.Round(ready-last)), 0))
	forecast.Text = text.Of(ctx).Say(reason.Of("scratch.ready-at", reason.Celsius(work.To),
		reason.Int(int(math.Round(ready)))))
	if cold, ok := c.Reaches(work.From); ok {
		forecast.TooCold = &cold
		forecast.Text = text.Of(ctx).Say(reason.Of("scratch.ready-and-too-cold-at", reason.Celsius(work.To),
			reason.Int(int(math.Round(ready))), reason.Celsius(work.From), reason.Int(int(math.Round(cold)))))
	}
	return &struct{ Body Forecast }{forecast}, nil
}
