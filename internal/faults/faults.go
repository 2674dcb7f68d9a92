// Package faults is what goes wrong at the bench: what was seen, what is behind it by what was recorded and answered,
// what to do, and what is booked for it, until somebody takes that back.
package faults

import (
	"context"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/chocolate"
	"zestytin/core/fault"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/temper"
	"zestytin/core/treat"
	"zestytin/internal/larder"
	"zestytin/internal/platform/web"
)

// Faults is the feature.
type Faults struct {
	web.Base
	Deps
}

// Deps is what it needs of other rooms.
type Deps struct {
	// House is the kitchen's clock, and how warm it is there, in °C.
	House func(context.Context, pgx.Tx) (zone *time.Location, room float64, err error)
	// Spots are where things wait.
	Spots func(context.Context, pgx.Tx) ([]treat.Spot, error)
	// Ingredients of the larder.
	Ingredients func(context.Context, pgx.Tx) (map[ident.Ingredient]food.Ingredient, error)
	// Bowl is the last one of a day that is called so, or the one with the id; nil where there is none.
	Bowl func(ctx context.Context, tx pgx.Tx, day, name string, id *uuid.UUID) (*Bowl, error)
	// Lose pieces of a batch at a step; fewer than none: they are there after all.
	Lose func(ctx context.Context, tx pgx.Tx, batch uuid.UUID, step string, pieces int) error
	// Book and Unbook what it takes of the larder and brings back.
	Book   func(context.Context, pgx.Tx, larder.Mishap) error
	Unbook func(ctx context.Context, tx pgx.Tx, id uuid.UUID) error
	// Sauce is the mix of a chocolate and half its weight of cream, made where there is none yet.
	Sauce func(ctx context.Context, tx pgx.Tx, name string, chocolate, cream ident.Ingredient) (ident.Ingredient, error)
}

// Bowl on the counter, with what was said of it and done to it.
type Bowl struct {
	ID        uuid.UUID
	Name      string
	Day       string
	Chocolate food.Chocolate
	Watch     temper.Watch
	In        si.Grams // by what was put in and taken
}

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	f := &Faults{h, needs}
	op := func(id, method, path, summary string, status int) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary,
			DefaultStatus: status, Tags: []string{"Bench"}}
	}
	web.Register(h, op("ask-fault", "POST", "/faults/question",
		"What can be behind what is seen, what to do about it, and what to ask next; nothing is booked", 0), f.ask)
	web.Register(h, op("add-fault", "POST", "/faults", "Something went wrong and this is done about it: it is booked",
		http.StatusCreated), f.add)
	web.Register(h, op("list-faults", "GET", "/faults", "What went wrong on a day, at a batch or at a bowl", 0), f.list)
	web.Register(h, op("remove-fault", "DELETE", "/faults/{id}", "It was not so: all that was booked for it is taken back",
		http.StatusNoContent), f.remove)
}

// Where something is seen: at a step of a batch, at a bowl, or nowhere that is on record.
type Where struct {
	Batch   *uuid.UUID       `json:"batch,omitempty" format:"uuid"`
	Step    string           `json:"step,omitempty" maxLength:"60"`
	Pot     *uuid.UUID       `json:"pot,omitempty" format:"uuid" doc:"A bowl on the counter"`
	Kind    chocolate.Kind   `json:"kind,omitempty" enum:"real,compound" doc:"Of the chocolate, where it is not on record"`
	Colour  chocolate.Colour `json:"colour,omitempty" enum:"dark,milk,white"`
	Method  chocolate.Method `json:"method,omitempty" enum:"none,gentle,seed,three-point"`
	Ways    []fault.Way      `json:"ways,omitempty" maxItems:"20" doc:"How it is made, where it is not on record"`
	Units   int              `json:"units,omitempty" minimum:"0" maximum:"10000" doc:"At how many pieces it is seen, or half shells"`
	Bowl    *float64         `json:"bowl,omitempty" minimum:"0" maximum:"20000" doc:"g in the bowl, where somebody knows better than the record"`
	Sign    fault.Sign       `json:"sign,omitempty" maxLength:"40" doc:"What is seen; none: only what can be is asked for"`
	Said    []Said           `json:"said,omitempty" maxItems:"30" doc:"What was answered"`
	Skipped []fault.Fact     `json:"skipped,omitempty" maxItems:"30" doc:"What could not be answered"`
}

// Said is an answer.
type Said struct {
	Fact fault.Fact `json:"fact"`
	Is   bool       `json:"is"`
}

// Told is what is behind it.
type Told struct {
	Signs  []Sign        `json:"signs" doc:"What can be seen there, what fits the step first"`
	Unit   reason.Reason `json:"unit" doc:"What is counted"`
	Begun  int           `json:"begun" doc:"Of them"`
	Broken int           `json:"broken" doc:"Pieces that were lost at the step until now"`
	Bowl   measure.Shown `json:"bowl" doc:"What is in the bowl"`
	Known  []Known       `json:"known" doc:"What the record answers"`
	Ask    *Question     `json:"ask,omitempty" doc:"To be answered next"`
	Causes []Cause       `json:"causes" doc:"The likely one first"`
	Creams []Cream       `json:"creams" doc:"Of the larder, for a sauce"`
	Effect *Effect       `json:"effect,omitempty" doc:"What it does to the orders when all of them are lost"`
}

// Sign that can be seen.
type Sign struct {
	Sign fault.Sign    `json:"sign"`
	Name reason.Reason `json:"name"`
	Fits bool          `json:"fits" doc:"The step can show it"`
}

// Question to be answered.
type Question struct {
	Fact fault.Fact    `json:"fact"`
	Text reason.Reason `json:"text"`
}

// Known answer of the record.
type Known struct {
	Question
	Is bool `json:"is"`
}

// Cause that may be behind it.
type Cause struct {
	Code   string        `json:"code"`
	Why    reason.Reason `json:"why"`
	Likely float64       `json:"likely" doc:"Share; all come to 1"`
	Next   reason.Reason `json:"next" doc:"What to do otherwise next time"`
	Fixes  []Fix         `json:"fixes" doc:"What is usually done first"`
}

// Fix is what can be done.
type Fix struct {
	Key   string          `json:"key"`
	Do    reason.Reason   `json:"do"`
	Grade fault.Grade     `json:"grade" enum:",sell,repair,eat,reclaim,bin" doc:"What the pieces are then worth"`
	Books []reason.Reason `json:"books" doc:"What is booked for it"`
	Lost  bool            `json:"lost" doc:"The pieces are not handed over"`
	Cream bool            `json:"cream" doc:"It takes cream"`
}

// Cream for a sauce.
type Cream struct {
	ID   ident.Ingredient `json:"id"`
	Name string           `json:"name"`
}

// Effect on orders.
type Effect struct {
	Text   reason.Reason `json:"text"`
	Enough bool          `json:"enough"`
	Order  *uuid.UUID    `json:"order,omitempty" doc:"Whose pieces would be missing"`
	Line   int           `json:"line"`
	Count  int           `json:"count" doc:"How many"`
}

func (f *Faults) ask(ctx context.Context, in *struct{ Body Where }) (*struct{ Body Told }, error) {
	var told Told
	err := f.In(ctx, func(tx pgx.Tx) error {
		s, err := f.scene(ctx, tx, &in.Body)
		if err != nil {
			return err
		}
		told, err = s.told(ctx, tx)
		return err
	})
	return &struct{ Body Told }{told}, err
}
