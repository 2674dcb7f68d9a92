package scratch

import (
	"context"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text"
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

func bowl(ctx context.Context, in *struct{ Body Bowl }) (*struct{ Body Dips }, error) {
	var f invalid.Faults
	grams := func(path, text string) si.Grams { return si.Grams(size(&f, path, text, measure.Mass, measure.Gram)) }
	b := chocolate.Bowl{Mass: grams("mass", in.Body.Mass), From: in.Body.From, Until: in.Body.Until,
		Coat: grams("coat", in.Body.Coat)}
	b.Piece = chocolate.Piece{Mass: grams("piece", in.Body.Piece), At: in.Body.At, Heat: chocolate.HeatOfCentre,
		Seconds: in.Body.Seconds}
	if !(b.From > b.Until && b.Until >= 20 && b.From <= 60) {
		f.Add("until", reason.Of("scratch.bowl-goes-from-higher-to"))
	}
	if !(b.Piece.At >= -30 && b.Piece.At <= b.From) {
		f.Add("at", reason.Of("scratch.centre-between-c-and-as"))
	}
	if !(b.Piece.Seconds > 0 && b.Piece.Seconds <= 120) {
		f.Add("seconds", reason.Of("scratch.piece-in-bowl-for-more"))
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	b.Piece.Across = treat.Across(b.Piece.Mass, centreDensity)
	n, cooled := b.Dips()
	d := Dips{Bowl: measure.Show(measure.Grams(b.Mass), measure.Substance{}), Pieces: n, Cooled: cooled,
		Share: b.Piece.Share()}
	if cooled {
		d.Text = text.Of(ctx).Say(reason.Of("scratch.so-many-go-in", reason.Int(n), reason.Celsius(b.From),
			reason.Celsius(b.Until), reason.Share(float64(int(d.Share*100+0.5))/100)))
	} else {
		d.Text = text.Of(ctx).Say(reason.Of("scratch.hardly-cooled", reason.Int(n)))
	}
	return &struct{ Body Dips }{d}, nil
}

// centreDensity of a centre whose kind is not known, g/mL (memory: ganache and fudge lie about 1.2).
const centreDensity = 1.2
