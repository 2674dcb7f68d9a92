package pots

import (
	"context"
	"time"

	"github.com/google/uuid"

	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/practice"
	"zestytin/core/si"
	"zestytin/core/temper"
)

// PracticeRun is an exercise on a bowl that is nobody's, as far as it has come: no data of a kitchen is read or written.
type PracticeRun struct {
	Exercise practice.Exercise `json:"exercise" enum:"temper,rescue,alive"`
	Seed     int64             `json:"seed" minimum:"0" maximum:"9007199254740991" doc:"Of the thermometer"`
	Now      float64           `json:"now" minimum:"0" maximum:"10800" doc:"s since it began"`
	Deeds    []PracticeDeed    `json:"deeds" maxItems:"500"`
	Over     bool              `json:"over,omitempty" doc:"It is over: what cost points is told"`
}

// PracticeDeed of whoever practises.
type PracticeDeed struct {
	At      float64     `json:"at" minimum:"0" maximum:"10800" doc:"s since it began"`
	What    temper.What `json:"what" enum:"burst,on,chill,off,seeded,added,took,dipped,weigh,smear,good,dull,anew"`
	Seconds float64     `json:"seconds,omitempty" minimum:"0" maximum:"600"`
	Low     bool        `json:"low,omitempty"`
	Grams   float64     `json:"grams,omitempty" minimum:"0" maximum:"5000"`
	Pieces  int         `json:"pieces,omitempty" minimum:"0" maximum:"60"`
}

// PracticeSeen is a run as one sees it.
type PracticeSeen struct {
	Pot    Pot              `json:"pot" doc:"The bowl, with its curve and what to do next"`
	Result *practice.Result `json:"result,omitempty"`
}

func (p *Pots) practise(_ context.Context, in *struct{ Body PracticeRun }) (*struct{ Body PracticeSeen }, error) {
	return &struct{ Body PracticeSeen }{seen(&in.Body, p.Clock())}, nil
}

func seen(r *PracticeRun, now time.Time) PracticeSeen {
	run := practice.Run{Exercise: r.Exercise, Seed: uint64(r.Seed), Now: r.Now}
	began := now.Add(-time.Duration(r.Now * float64(time.Second)))
	deeds := make([]Deed, len(r.Deeds))
	for i, d := range r.Deeds {
		run.Deeds = append(run.Deeds, temper.Deed{At: d.At, What: d.What, Seconds: d.Seconds, Low: d.Low,
			Grams: si.Grams(d.Grams), Pieces: d.Pieces})
		at := began.Add(time.Duration(d.At * float64(time.Second)))
		deeds[i] = Deed{ID: uuid.UUID{15: byte(i), 14: byte(i >> 8)}, DeedFields: DeedFields{What: d.What, At: &at,
			Seconds: d.Seconds, Low: d.Low, Grams: d.Grams, Pieces: d.Pieces}}
	}
	w := run.Seen()
	out := PracticeSeen{Pot: Pot{Brief: Brief{Began: began, Day: now.Format(time.DateOnly),
		Chocolate: food.Chocolate{Kind: w.Kind, Colour: w.Colour}}, Method: w.Method, Source: w.Source,
		Mass: measure.ShowGrams(w.Mass), Bands: w.Bands, Room: w.Room, Pieces: w.Pieces, Deeds: deeds,
		Curve: curveOf(w.Said, w.Now), Now: w.Now, Advice: adviceOf(w.Advise())}}
	if r.Over {
		out.Result = new(run.Judge())
	}
	return out
}
