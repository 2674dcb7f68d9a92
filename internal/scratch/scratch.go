// Package scratch is the scratch pad: small calculations that stand for themselves. Nothing is saved.
package scratch

import (
	"context"
	"math"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Deps are what the pad asks of other features.
type Deps struct {
	Ingredients func(context.Context, pgx.Tx) (map[ident.Ingredient]food.Ingredient, error) // by id, to convert through
	Names       func(context.Context, pgx.Tx) (map[string]string,
		error) // of ingredients, that were settled
}

// Pad is the feature.
type Pad struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	p := &Pad{h, needs}
	op := func(id, path, summary string) huma.Operation {
		return huma.Operation{MaxBodyBytes: web.MostText, OperationID: id, Method: "POST",
			Path: "/api/v1/calculators/" + path, Summary: summary, Tags: []string{"Calculators"}}
	}
	web.Register(h, op("read-amount", "amount",
		"Read an amount as people write it; of an ingredient, also in its own measures"), p.readAmount)
	web.Register(h, op("read-recipe", "recipe",
		"Read a recipe as people write it, or JSON-LD; doubtful lines say why, and ingredients are suggested"),
		p.readRecipe)
	web.Register(h, op("convert", "convert",
		"An amount in every unit that it can be measured in, through an ingredient"), p.convert)
	web.Register(h, op("extras", "extras", "How many to start for so many good ones"), extras)
	web.Register(h, op("shell", "shell", "A hollow ball: its mass from the wall, or the wall from its mass"), shell)
	web.Register(h, op("sheet", "sheet", "Chocolate for a sheet, and how much more another one takes"), sheet)
	web.Register(h, op("ganache", "ganache", "Scale a mixture, and how many pieces it gives"), ganache)
	web.Register(h, op("seed", "seed", "How much to hold back as seed"), seed)
	web.Register(h, op("bowl", "bowl", "How many centres go into a bowl before it thickens"), bowl)
	web.Register(h, op("cooling", "cooling",
		"When a cooling bowl reaches its working temperature, and when it leaves it"), cooling)
	web.Register(h, op("altitude", "altitude",
		"Boiling water and candy targets at a height, or by the seller's own thermometer"), altitude)
}

// Result says in one line of kitchen language what came out.
type Result struct {
	Text string `json:"text"`
}

// Text is an amount as a person types it.
type Text struct {
	Text       string           `json:"text" maxLength:"100" example:"1 1/2 cups"`
	Ingredient ident.Ingredient `json:"ingredient,omitempty" doc:"Id of what is measured, for its own measures"`
}

func (p *Pad) readAmount(ctx context.Context, in *struct{ Body Text }) (*struct{ Body measure.Shown }, error) {
	known := food.Ingredient{}
	if in.Body.Ingredient != "" {
		err := p.In(ctx, func(tx pgx.Tx) error {
			all, err := p.Ingredients(ctx, tx)
			known = all[in.Body.Ingredient]
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	q, err := measure.ReadOf(in.Body.Text, known.Substance)
	if err != nil {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "text", Err: err}}}
	}
	return &struct{ Body measure.Shown }{measure.Show(text.Of(ctx).Customs().Means(q, in.Body.Text), known.Substance)},
		nil
}

// Conversion asks for an amount in all units.
type Conversion struct {
	Text       string           `json:"text" maxLength:"100" example:"1 1/2 cups"`
	Ingredient ident.Ingredient `json:"ingredient,omitempty" doc:"Id of what is measured"`
}

// Converted is an amount in the units that it can be measured in.
type Converted struct {
	Result
	Amounts []measure.Quantity `json:"amounts"`
	Missing string             `json:"missing,omitempty" doc:"What is not known of the ingredient, so that more units are out of reach"`
}

var kitchenUnits = []measure.Unit{measure.Gram, measure.Kilogram, measure.Ounce, measure.Pound, measure.Millilitre,
	measure.Teaspoon, measure.Tablespoon, measure.FluidOunce, measure.Cup, measure.Each, measure.Millimetre,
	measure.Centimetre, measure.Inch}

func (p *Pad) convert(ctx context.Context, in *struct{ Body Conversion }) (*struct{ Body Converted }, error) {
	var known food.Ingredient
	err := p.In(ctx, func(tx pgx.Tx) error {
		all, err := p.Ingredients(ctx, tx)
		if err != nil || in.Body.Ingredient == "" {
			return err
		}
		var ok bool
		if known, ok = all[in.Body.Ingredient]; !ok {
			return &invalid.Error{Fields: []invalid.Field{{Path: "ingredient",
				Err: reason.Of("scratch.this-ingredient-not-in-larder")}}}
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	q, err := measure.ReadOf(in.Body.Text, known.Substance)
	if err != nil {
		return nil, invalid.At("text", err)
	}
	words := text.Of(ctx)
	q = words.Customs().Means(q, in.Body.Text)
	c := Converted{Amounts: []measure.Quantity{}}
	units := slices.Clone(kitchenUnits)
	for _, m := range known.Measures {
		units = append(units, measure.Unit(m.Name))
	}
	for _, unit := range units {
		unit = words.Customs().Means(measure.Of(1, unit), "").Unit
		amount, err := q.In(unit, known.Substance)
		if err == nil {
			c.Amounts = append(c.Amounts, measure.Of(amount, unit))
			continue
		}
		if missing, ok := err.(*measure.MissingProperty); ok && c.Missing == "" && known.ID != "" {
			c.Missing = words.Say(reason.Of("scratch.missing-"+string(missing.Property), reason.Name(known.Name)))
		}
	}
	shown := measure.Show(q, known.Substance)
	c.Text = shown.Metric + " · " + shown.US
	if known.ID == "" {
		c.Missing = "Choose an ingredient to turn weight into cups or pieces."
	}
	return &struct{ Body Converted }{c}, nil
}

// Good pieces wanted.
type Good struct {
	Good int     `json:"good"`
	Loss float64 `json:"loss" doc:"Share that does not come out well"`
	Sure float64 `json:"sure" doc:"Probability that they are enough"`
}

// Start is how many to start.
type Start struct {
	Result
	Start int `json:"start"`
}

func extras(ctx context.Context, in *struct{ Body Good }) (*struct{ Body Start }, error) {
	g := in.Body
	var f invalid.Faults
	if g.Good < 1 || g.Good > 10000 {
		f.Add("good", reason.Of("scratch.between-and-good-ones-can"))
	}
	if !(g.Loss >= 0 && g.Loss <= 0.9) {
		f.Add("loss", reason.Of("scratch.loss-lies-between-and"))
	}
	if !(g.Sure >= 0.5 && g.Sure <= 0.999) {
		f.Add("sure", reason.Of("scratch.choose-sureness-between-and-no"))
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	start, err := batch.StartFor(g.Good, g.Loss, g.Sure)
	if err != nil {
		return nil, err
	}
	return &struct{ Body Start }{Start{Result{text.Of(ctx).Of("scratch.start", reason.Int(g.Good), reason.Share(g.Loss),
		reason.Share(g.Sure), reason.Int(start))}, start}}, nil
}

// Ball is a hollow ball, given by its wall or by its mass.
type Ball struct {
	Across string `json:"across" example:"2.5 in"`
	Wall   string `json:"wall,omitempty" example:"3.5 mm"`
	Mass   string `json:"mass,omitempty" example:"52 g" doc:"Of the whole ball"`
}

// Shell is what a ball is.
type Shell struct {
	Result
	Across measure.Shown `json:"across"`
	Wall   measure.Shown `json:"wall"`
	Mass   measure.Shown `json:"mass" doc:"Of the whole ball"`
	Hollow measure.Shown `json:"hollow" doc:"The room inside"`
}

func shell(ctx context.Context, in *struct{ Body Ball }) (*struct{ Body Shell }, error) {
	var f invalid.Faults
	across := size(&f, "across", in.Body.Across, measure.Length, measure.Millimetre)
	wall, mass := 0.0, si.Grams(0)
	if in.Body.Mass != "" {
		mass = si.Grams(size(&f, "mass", in.Body.Mass, measure.Mass, measure.Gram))
	} else {
		wall = size(&f, "wall", in.Body.Wall, measure.Length, measure.Millimetre)
	}
	if across > 0 && in.Body.Mass != "" {
		if wall = treat.Wall(across, mass/2, chocolate.Density); wall >= across/2 {
			f.Add("mass", reason.Of("scratch.solid-ball-this-size-weighs"))
		}
	} else if across > 0 && wall >= across/2 {
		f.Add("wall", reason.Of("scratch.wall-leaves-no-hollow-make"))
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	show := func(x float64, u measure.Unit) measure.Shown {
		return measure.Show(measure.Of(x, u), measure.Substance{})
	}
	s := Shell{Across: show(across, measure.Millimetre), Wall: show(wall, measure.Millimetre),
		Mass:   show(float64(2*treat.HalfShell(across, wall, chocolate.Density)), measure.Gram),
		Hollow: show(treat.Hollow(across, wall), measure.Millilitre)}
	s.Text = text.Of(ctx).Say(reason.Of("scratch.ball", s.Across, s.Wall, s.Mass, s.Hollow))
	return &struct{ Body Shell }{s}, nil
}

// size reads an amount of the dimension, in base units; 0 after a fault.
func size(f *invalid.Faults, path, text string, d measure.Dimension, unit measure.Unit) float64 {
	q, err := measure.Read(text)
	if err == nil {
		err = q.Check(d)
	}
	if err != nil {
		f.Add(path, err)
		return 0
	}
	x, _ := q.In(unit, measure.Substance{})
	return x
}

// Sheets are one sheet and, where given, another.
type Sheets struct {
	Length string `json:"length" example:"13 in"`
	Width  string `json:"width" example:"9.5 in"`
	Depth  string `json:"depth" example:"1/8 in"`
	To     *struct {
		Length string `json:"length"`
		Width  string `json:"width"`
	} `json:"to,omitempty" doc:"Another sheet or pan of the same depth"`
}

// Slab is what a sheet takes.
type Slab struct {
	Result
	Length measure.Shown `json:"length"`
	Width  measure.Shown `json:"width"`
	Depth  measure.Shown `json:"depth"`
	Mass   measure.Shown `json:"mass"`
	Factor float64       `json:"factor,omitempty" doc:"Times as much for the other one"`
}

func sheet(ctx context.Context, in *struct{ Body Sheets }) (*struct{ Body Slab }, error) {
	var f invalid.Faults
	at := func(path, text string) float64 { return size(&f, path, text, measure.Length, measure.Millimetre) }
	length, width, depth := at("length", in.Body.Length), at("width", in.Body.Width), at("depth", in.Body.Depth)
	factor := 0.0
	if to := in.Body.To; to != nil {
		factor = at("to.length", to.Length) * at("to.width", to.Width) / (length * width)
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	s := Slab{Mass: measure.Show(measure.Grams(treat.Slab(length, width, depth, chocolate.Density)),
		measure.Substance{}), Factor: factor}
	for q, mm := range map[*measure.Shown]float64{&s.Length: length, &s.Width: width, &s.Depth: depth} {
		*q = measure.Show(measure.Of(mm, measure.Millimetre), measure.Substance{})
	}
	says := reason.Text{reason.Of("scratch.sheet-takes", s.Mass, measure.Other{Shown: s.Mass})}
	if factor > 0 {
		says.Add("scratch.other-sheet-takes", reason.Number(factor))
	}
	s.Text = text.Of(ctx).Tell(says)
	return &struct{ Body Slab }{s}, nil
}

// Mixture is to be scaled.
type Mixture struct {
	Parts []treat.Part `json:"parts"`
	Total string       `json:"total" example:"440 g"`
	Piece string       `json:"piece,omitempty" example:"12 g"`
}

// Scaled mixture.
type Scaled struct {
	Result
	Parts  []treat.Part   `json:"parts"`
	Pieces int            `json:"pieces,omitempty"`
	Piece  *measure.Shown `json:"piece,omitempty"`
}

func ganache(ctx context.Context, in *struct{ Body Mixture }) (*struct{ Body Scaled }, error) {
	var f invalid.Faults
	total := size(&f, "total", in.Body.Total, measure.Mass, measure.Gram)
	parts, err := treat.Scale(in.Body.Parts, si.Grams(total))
	f.Under("parts", err)
	piece := 0.0
	if in.Body.Piece != "" {
		piece = size(&f, "piece", in.Body.Piece, measure.Mass, measure.Gram)
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	s := Scaled{Parts: parts}
	list := make(reason.Series, len(parts))
	for i, p := range parts {
		list[i] = reason.Of("scratch.part", measure.Show(p.Mass, measure.Substance{}), reason.Name(p.Name),
			reason.Share(math.Round(p.Share*1000)/1000))
	}
	says := reason.Of("scratch.scaled", list)
	if piece > 0 {
		s.Pieces = int(total/piece + 1e-9)
		one := measure.Show(measure.Grams(si.Grams(piece)), measure.Substance{})
		s.Piece = &one
		says = reason.Of("scratch.scaled-to-pieces", list, reason.Count{N: s.Pieces, Of: "piece"})
	}
	s.Text = text.Of(ctx).Say(says)
	return &struct{ Body Scaled }{s}, nil
}

// Melt that is to be seeded.
type Melt struct {
	Colour chocolate.Colour `json:"colour" enum:"dark,milk,white"`
	Total  string           `json:"total" example:"600 g"`
	Melt   float64          `json:"melt" doc:"C"`
	Room   float64          `json:"room" doc:"C"`
}

// Seed to hold back.
type Seed struct {
	Result
	Share float64       `json:"share"`
	Seed  measure.Shown `json:"seed"`
}

func seed(ctx context.Context, in *struct{ Body Melt }) (*struct{ Body Seed }, error) {
	var f invalid.Faults
	total := size(&f, "total", in.Body.Total, measure.Mass, measure.Gram)
	work := chocolate.BandsOf(in.Body.Colour).Work.Mid()
	if !(in.Body.Melt > work && in.Body.Melt <= 60) {
		f.Add("melt", reason.Of("scratch.melt-warmer-than-c-worked", reason.Number(work)))
	}
	if !(in.Body.Room >= 0 && in.Body.Room < work) {
		f.Add("room", reason.Of("scratch.seed-solid-between-c-and"))
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	share := chocolate.SeedShare(in.Body.Melt, work, in.Body.Room)
	s := Seed{Share: share, Seed: measure.Show(measure.Grams(si.Grams(total*share)), measure.Substance{})}
	s.Text = text.Of(ctx).Say(reason.Of("scratch.hold-back", s.Seed, reason.Share(math.Round(share*100)/100),
		reason.Celsius(in.Body.Melt), reason.Celsius(work)))
	return &struct{ Body Seed }{s}, nil
}

// Altitude is a height, or a reading of boiling water there.
type Altitude struct {
	Metres  *float64 `json:"metres,omitempty"`
	Boiling *float64 `json:"boiling,omitempty" doc:"What the seller's own thermometer shows in boiling water, C"`
	Target  float64  `json:"target" doc:"The candy's temperature at sea level, C"`
}

// Corrected temperatures.
type Corrected struct {
	Result
	Boiling float64 `json:"boiling" doc:"C"`
	Target  float64 `json:"target" doc:"C"`
	Caution string  `json:"caution"`
}

func altitude(ctx context.Context, in *struct{ Body Altitude }) (*struct{ Body Corrected }, error) {
	var f invalid.Faults
	boiling := 100.0
	switch {
	case in.Body.Boiling != nil:
		if boiling = *in.Body.Boiling; !(boiling >= 70 && boiling <= 110) {
			f.Add("boiling", reason.Of("scratch.thermometer-in-boiling-water-shows"))
		}
	case in.Body.Metres != nil:
		if m := *in.Body.Metres; !(m >= -500 && m <= 9000) {
			f.Add("metres", reason.Of("scratch.kitchen-lies-between-m-below"))
		} else {
			boiling = treat.BoilingPoint(m)
		}
	default:
		f.Add("metres", reason.Of("scratch.say-how-high-kitchen-lies"))
	}
	if !(in.Body.Target >= 80 && in.Body.Target <= 180) {
		f.Add("target", reason.Of("scratch.candy-boiled-to-between-and"))
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	c := Corrected{Boiling: boiling, Target: treat.CandyTarget(in.Body.Target, boiling),
		Caution: "Boiling sugar sticks and burns: keep children away, and cold water at hand."}
	c.Text = text.Of(ctx).Say(reason.Of("scratch.boil-to", reason.Celsius(c.Boiling), reason.Celsius(c.Target),
		reason.Celsius(in.Body.Target)))
	return &struct{ Body Corrected }{c}, nil
}
