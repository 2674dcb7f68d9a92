package orders

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/order"
)

// Question is an order as it is typed.
type Question struct {
	Order *uuid.UUID  `json:"order,omitempty" doc:"The order that is being changed, so that its own days count as free"`
	Draft order.Draft `json:"draft"`
}

// FiguresQuestion is an order as it is typed, of which the figures may be wanted before the plan is known.
type FiguresQuestion struct {
	Question
	Figures bool `json:"figures,omitempty" doc:"The figures alone, quickly: amounts, cost and price as if it were made in one go. Whether it fits into the days, and what it would share with other orders, is not looked for."`
}

func (o *Orders) reckon(ctx context.Context, in *struct{ Body FiguresQuestion }) (*struct{ Body *order.Estimate },
	error) {
	var r *order.Estimate
	err := o.In(ctx, func(tx pgx.Tx) error {
		extent := order.InFull
		if in.Body.Figures {
			extent = order.FiguresOnly
		}
		known, err := o.asked(ctx, tx, &in.Body.Question, extent)
		if err != nil {
			return err
		}
		r, err = order.Compute(ctx, &in.Body.Draft, known)
		return err
	})
	return &struct{ Body *order.Estimate }{r}, err
}

// Reliefs are the changes that help.
type Reliefs struct {
	Reliefs []order.Suggestion `json:"reliefs"`
}

func (o *Orders) reliefs(ctx context.Context, in *struct{ Body Question }) (*struct{ Body Reliefs }, error) {
	var r Reliefs
	err := o.In(ctx, func(tx pgx.Tx) error {
		known, err := o.asked(ctx, tx, &in.Body, order.InFull)
		if err != nil {
			return err
		}
		r.Reliefs, err = order.Reliefs(ctx, &in.Body.Draft, known)
		return err
	})
	return &struct{ Body Reliefs }{r}, err
}

// SwapList is what was tried.
type SwapList struct {
	Swaps []order.Swap `json:"swaps" doc:"The most alike first"`
}

// commonIngredients that are not in the larder, under ids of their own: "common" and their name. Nobody knows what they
// cost.
func commonIngredients(k *order.Inputs) (map[ident.Ingredient]food.Ingredient, error) {
	starting, err := food.Starting()
	if err != nil {
		return nil, err
	}
	there := make(map[string]bool, len(k.Ingredients))
	for _, i := range k.Ingredients {
		there[strings.ToLower(i.Name)] = true
	}
	common := make(map[ident.Ingredient]food.Ingredient, len(starting))
	for _, s := range starting {
		if !there[strings.ToLower(s.Name)] {
			id := ident.Ingredient("common " + s.Name)
			common[id] = food.New(id, s.Fields, decimal.Zero)
		}
	}
	return common, nil
}

func (o *Orders) swaps(ctx context.Context, in *struct{ Body Question }) (*struct{ Body SwapList }, error) {
	list := SwapList{}
	err := o.In(ctx, func(tx pgx.Tx) error {
		known, err := o.asked(ctx, tx, &in.Body, order.InFull)
		if err != nil {
			return err
		}
		common, err := commonIngredients(known)
		if err != nil {
			return err
		}
		list.Swaps, err = order.Swaps(&in.Body.Draft, known, common)
		return err
	})
	return &struct{ Body SwapList }{list}, err
}

// Supposition is an order as it is typed, and how the world might be.
type Supposition struct {
	Question
	If order.WhatIf `json:"if"`
}

// Supposed is how an order would be, beside how it is.
type Supposed struct {
	Then       *order.Estimate  `json:"then"`
	Comparison order.Comparison `json:"comparison"`
}

func (o *Orders) whatIf(ctx context.Context, in *struct{ Body Supposition }) (*struct{ Body Supposed }, error) {
	var s Supposed
	err := o.In(ctx, func(tx pgx.Tx) error {
		known, err := o.asked(ctx, tx, &in.Body.Question, order.InFull)
		if err != nil {
			return err
		}
		now, err := order.Compute(ctx, &in.Body.Draft, known)
		if err != nil {
			return err
		}
		if s.Then, err = in.Body.If.Reckon(ctx, &in.Body.Draft, known); err == nil {
			s.Comparison = order.Compare(now, s.Then)
		}
		return err
	})
	return &struct{ Body Supposed }{s}, err
}

// asked is the kitchen for a question: what was agreed stands while the draft asks for the same price.
func (o *Orders) asked(ctx context.Context, tx pgx.Tx, q *Question, extent order.Extent) (*order.Inputs, error) {
	scope, s := scopeOf(&q.Draft), &stored{}
	if q.Order != nil {
		var err error
		if s, err = load(ctx, tx, *q.Order, ""); err != nil {
			return nil, err
		}
		scope = s.scope(&q.Draft)
	}
	known, err := o.kitchenIn(ctx, tx, s, &q.Draft, scope.For(extent))
	if err != nil {
		return nil, err
	}
	known.Extent = extent
	return known, nil
}

// scopeOf a draft: the days before its handover, and the stock of what it takes.
func scopeOf(d *order.Draft) order.Scope {
	// Four days after the handover are known too: it might be later. What keeps longest keeps a month or so.
	return order.Scope{From: d.From.AddDate(0, 0, -35), Until: d.From.AddDate(0, 0, 5),
		Lines: append([]order.Line{}, d.Lines...)}
}

// kitchenOf an order that may be changed to a draft.
func (o *Orders) kitchenOf(ctx context.Context, tx pgx.Tx, s *stored, d *order.Draft) (*order.Inputs, error) {
	return o.kitchenIn(ctx, tx, s, d, s.scope(d))
}

// scope of an order that may be changed to a draft: what it leaves behind where it was is settled as well.
func (s *stored) scope(d *order.Draft) order.Scope {
	scope := scopeOf(d)
	if was := scopeOf(&s.Draft); s.State.Planned() && s.State.Ahead() {
		if was.From.Before(scope.From) {
			scope.From = was.From
		}
		if was.Until.After(scope.Until) {
			scope.Until = was.Until
		}
	}
	return scope
}

func (o *Orders) kitchenIn(ctx context.Context, tx pgx.Tx, s *stored, d *order.Draft, scope order.Scope) (*order.Inputs,
	error) {
	known, err := o.Kitchen(ctx, tx, s.ID, s.pins, scope)
	if err != nil {
		return nil, err
	}
	if known.Commitments = s.standing; !samePrice(&s.Draft, d) {
		known.Commitments.Agreed = nil
	}
	return known, nil
}
