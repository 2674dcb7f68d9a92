package scratch

import (
	"context"
	"fmt"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// Bowl that centres are dipped in.
type Bowl struct {
	Mass    string  `json:"mass" example:"500 g" doc:"Chocolate in the bowl"`
	From    float64 `json:"from" doc:"C"`
	Until   float64 `json:"until" doc:"C at which it is too thick"`
	Coat    string  `json:"coat" example:"5 g" doc:"On each piece"`
	Piece   string  `json:"piece" example:"12 g" doc:"Of one centre"`
	At      float64 `json:"at" doc:"Temperature of the centres, C"`
	Seconds float64 `json:"seconds" doc:"In the bowl"`
}

// Dips is how many go in.
type Dips struct {
	Result
	Bowl   measure.Shown `json:"bowl" doc:"Chocolate in it at the start"`
	Pieces int           `json:"pieces"`
	Cooled bool          `json:"cooled" doc:"It cools before it is empty"`
	Share  float64       `json:"share" doc:"Of the heat that would warm a centre through which it takes in the bowl"`
}

func bowl(_ context.Context, in *struct{ Body Bowl }) (*struct{ Body Dips }, error) {
	var f invalid.Faults
	grams := func(path, text string) float64 { return size(&f, path, text, measure.Mass, measure.Gram) }
	b := chocolate.Bowl{Mass: grams("mass", in.Body.Mass), From: in.Body.From, Until: in.Body.Until, Coat: grams("coat", in.Body.Coat)}
	b.Piece = chocolate.Piece{Mass: grams("piece", in.Body.Piece), At: in.Body.At, Heat: chocolate.HeatOfCentre, Seconds: in.Body.Seconds}
	if !(b.From > b.Until && b.Until >= 20 && b.From <= 60) {
		f.Add("until", "The bowl goes from a higher to a lower temperature, between 60 and 20 °C.")
	}
	if !(b.Piece.At >= -30 && b.Piece.At <= b.From) {
		f.Add("at", "A centre is between -30 °C and as warm as the bowl.")
	}
	if !(b.Piece.Seconds > 0 && b.Piece.Seconds <= 120) {
		f.Add("seconds", "A piece is in the bowl for more than 0 and at most 120 seconds.")
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	b.Piece.Across = treat.Across(b.Piece.Mass, centreDensity)
	n, cooled := b.Dips()
	d := Dips{Bowl: measure.Show(measure.Grams(b.Mass), measure.Substance{}), Pieces: n, Cooled: cooled, Share: b.Piece.Share()}
	if cooled {
		d.Text = fmt.Sprintf("About %d go in before it falls from %s to %s; each takes %s of what would warm it through. Then warm it for 5 to 10 s, stirring. A bigger bowl, warmer centres or smaller sets help.",
			n, chocolate.Degree(b.From), chocolate.Degree(b.Until), measure.Percent(float64(int(d.Share*100+0.5))/100))
	} else {
		d.Text = fmt.Sprintf("They hardly cool it: its chocolate is enough for %d.", n)
	}
	return &struct{ Body Dips }{d}, nil
}

// centreDensity of a centre whose kind is not known, g/mL (memory: ganache and fudge lie about 1.2).
const centreDensity = 1.2
