package start

import (
	"zestytin/core/box"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/order"
	"zestytin/core/treat"

	"github.com/shopspring/decimal"
)

// Inputs are the kitchen as it would be with the set, on top of what it is: nothing in the larder, prices as last paid.
func (s *Set) Inputs(k order.Inputs) *order.Inputs {
	k.Ingredients, k.Mixes = map[ident.Ingredient]food.Ingredient{}, map[ident.Ingredient]treat.Mix{}
	k.Stock, k.Supplies = map[ident.Ingredient]larder.Stock{}, map[ident.Supply]box.Supply{}
	k.Treats = map[ident.Treat]order.Treat{}
	k.Rates.Currency = s.Country.Currency
	k.Rates.Hourly, k.Rates.Overhead = decimal.RequireFromString(s.Country.Hourly),
		decimal.RequireFromString(s.Country.Overhead)
	for _, i := range s.Ingredients {
		known := food.Ingredient{ID: i.ID, Fields: i.Fields, Substance: i.Weights()}
		k.Ingredients[i.ID] = known
		k.Stock[i.ID] = larder.Stock{Latest: i.unitPrice(known)}
	}
	for _, m := range s.Mixes {
		k.Mixes[m.ID] = m
	}
	for _, x := range s.Supplies {
		latest := decimal.RequireFromString(x.Paid).Div(decimal.NewFromFloat(x.PaidFor.Amount))
		k.Supplies[x.ID] = box.Supply{ID: x.ID, Name: x.Name, Unit: x.PaidFor.Unit, Stock: larder.Stock{Latest: latest}}
	}
	for _, t := range s.Treats {
		id := ident.Treat(t.Formula.Family)
		k.Treats[id] = order.Treat{ID: id, Version: 1, Formula: t.Formula, Mixes: k.Mixes}
	}
	return &k
}

// unitPrice is the price of one unit of the ingredient, not rounded.
func (b Bought) unitPrice(of food.Ingredient) decimal.Decimal {
	amount, err := b.PaidFor.In(of.Unit, of.Substance)
	if err != nil || !(amount > 0) {
		return decimal.Zero
	}
	return decimal.RequireFromString(b.Paid).Div(decimal.NewFromFloat(amount))
}
