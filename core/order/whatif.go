package order

import (
	"context"
	"maps"

	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// WhatIf is how the world might be. The zero value changes nothing.
type WhatIf struct {
	Chocolate float64 `json:"chocolate"`
	Loss      float64 `json:"loss"`
	Moulds    int     `json:"moulds"`
	Hourly    string  `json:"hourly,omitempty"`
}

// Reckon a draft as it would be. Neither the draft nor the kitchen is changed.
func (w WhatIf) Reckon(ctx context.Context, d *Draft, k *Inputs) (*Estimate, error) {
	other, err := w.of(k)
	if err != nil {
		return nil, err
	}
	return Compute(ctx, d, other)
}

func (w WhatIf) of(k *Inputs) (*Inputs, error) {
	other := *k
	if w.Hourly != "" {
		hourly, err := price.Read(w.Hourly, k.Rates.Currency)
		if err != nil {
			return nil, invalid.At("hourly", err)
		}
		other.Rates.Hourly = hourly
	}
	if w.Chocolate != 0 {
		dearer := decimal.NewFromFloat(1 + w.Chocolate)
		other.Ingredients, other.Stock = map[ident.Ingredient]food.Ingredient{}, map[ident.Ingredient]larder.Stock{}
		for id, i := range k.Ingredients {
			stock, kept := k.Stock[id]
			if i.Chocolate != nil {
				i.Price = i.Price.Mul(dearer)
				stock = stock.WithPriceFactor(dearer)
			}
			if other.Ingredients[id] = i; kept {
				other.Stock[id] = stock
			}
		}
	}
	if w.Moulds != 0 {
		other.Moulds = maps.Clone(k.Moulds)
		for tool := range other.Moulds {
			other.Moulds[tool] += w.Moulds
		}
	}
	if w.Loss != 0 || w.Moulds != 0 {
		other.Treats = make(map[ident.Treat]Treat, len(k.Treats))
		for id, t := range k.Treats {
			if t.Formula != nil {
				t.Formula = w.formula(t.Formula)
			}
			other.Treats[id] = t
		}
	}
	return &other, nil
}

func (w WhatIf) formula(f *treat.Formula) *treat.Formula {
	changed := *f
	changed.Loss = min(f.Loss*(1+w.Loss), 0.9)
	if f.Shell != nil {
		shell := *f.Shell
		shell.Moulds += w.Moulds
		changed.Shell = &shell
	}
	if f.Mould != nil {
		mould := *f.Mould
		mould.Moulds += w.Moulds
		changed.Mould = &mould
	}
	return &changed
}

// Compared is a figure as it is, as it would be, and the difference.
type Compared struct {
	Now    price.Money `json:"now"`
	Then   price.Money `json:"then"`
	Change price.Money `json:"change"`
	Same   bool        `json:"same"`
}

// Comparison of an order with how it would be.
type Comparison struct {
	Cost    Compared  `json:"cost"`
	Price   Compared  `json:"price"`
	Profit  Compared  `json:"profit"`
	PerHour *Compared `json:"perHour,omitempty"`
	// Minutes of hands.
	Now    si.Minutes `json:"now"`
	Then   si.Minutes `json:"then"`
	Change si.Minutes `json:"change"`
}

// Compare an order as it is with how it would be.
func Compare(now, then *Estimate) Comparison {
	compared := func(a, b price.Money) Compared {
		change := decimal.RequireFromString(b.Amount).Sub(decimal.RequireFromString(a.Amount))
		return Compared{a, b, price.In(a.Currency, change), change.IsZero()}
	}
	c := Comparison{Cost: compared(now.Money.Total.Money, then.Money.Total.Money),
		Price:  compared(now.Money.Asked.Money, then.Money.Asked.Money),
		Profit: compared(now.Money.Left.Money, then.Money.Left.Money),
		Now:    now.Hands, Then: then.Hands, Change: then.Hands - now.Hands}
	if now.Money.PerHour != nil && then.Money.PerHour != nil {
		c.PerHour = new(compared(now.Money.PerHour.Money, then.Money.PerHour.Money))
	}
	return c
}

// Rung of a ladder: what so many pieces of a treat come to, since set-up is shared by more of them.
type Rung struct {
	Count     int          `json:"count"`
	Hands     si.Minutes   `json:"hands"`
	Cost      price.Money  `json:"cost"`
	Each      price.Money  `json:"each"`
	Price     price.Money  `json:"price"`
	Dozen     price.Money  `json:"dozen"`
	DozenCost price.Money  `json:"dozenCost"`
	PerHour   *price.Money `json:"perHour,omitempty"`
	Market    *Stand       `json:"market,omitempty"`
}

// Counts of a ladder.
func Counts() []int { return []int{6, 12, 24, 48, 96} }

// Ladder of a treat, priced as a wish says; nil: by the kitchen's margin. The error is an *invalid.Error, as Reckon's.
func Ladder(ctx context.Context, id ident.Treat, wish *Pricing, k *Inputs) ([]Rung, error) {
	rungs := make([]Rung, 0, len(Counts()))
	for _, n := range Counts() {
		r, err := Compute(ctx, &Draft{Lines: []Line{{Treat: id, Count: n}}, Pricing: wish}, k)
		if err != nil {
			return nil, err
		}
		each := func(m price.Money, of int) price.Money {
			return price.In(m.Currency, decimal.RequireFromString(m.Amount).Mul(decimal.NewFromInt(int64(of))).Div(
				decimal.NewFromInt(int64(n))))
		}
		m := r.Money
		rung := Rung{Count: n, Hands: r.Hands, Cost: m.Total.Money, Each: each(m.Total.Money, 1), Price: m.Asked.Money,
			Dozen: each(m.Asked.Money, 12), DozenCost: each(m.Total.Money, 12), Market: r.Lines[0].Market}
		if m.PerHour != nil {
			rung.PerHour = &m.PerHour.Money
		}
		rungs = append(rungs, rung)
	}
	return rungs, nil
}
