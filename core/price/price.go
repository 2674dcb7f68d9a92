// Package price turns amounts and minutes into cost, price and pay. Money is decimal. It is rounded once: every line of a
// sum to the currency's smallest unit, halves away from zero, and sums add the rounded lines, so that they add up on paper.
package price

import (
	"fmt"

	"github.com/shopspring/decimal"
)

// Money is an amount in a currency of ISO 4217.
type Money struct {
	Amount   string `json:"amount" example:"12.50" doc:"Decimal, with the currency's number of decimals"`
	Currency string `json:"currency" example:"USD" doc:"ISO 4217"`
}

// Decimals of a currency (ISO 4217: most have 2).
func Decimals(currency string) int32 {
	switch currency {
	case "BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF":
		return 0
	case "BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND":
		return 3
	default:
		return 2
	}
}

// In writes d in a currency, rounded to its smallest unit.
func In(currency string, d decimal.Decimal) Money {
	return Money{d.StringFixed(Decimals(currency)), currency}
}

// Rates are the kitchen's own numbers.
type Rates struct {
	Currency string
	Hourly   decimal.Decimal // for an hour of hands
	Overhead decimal.Decimal // for an hour: heat, light, wear
	Margin   decimal.Decimal // target share of the price that is left over, 0 to below 1
}

// Cost of an order, in lines that are already rounded.
type Cost struct {
	Ingredients decimal.Decimal
	Packaging   decimal.Decimal
	Hands       decimal.Decimal
	Overhead    decimal.Decimal
}

// Total of the lines.
func (c Cost) Total() decimal.Decimal {
	return c.Ingredients.Add(c.Packaging).Add(c.Hands).Add(c.Overhead)
}

// CostOf rounds the parts; minutes of hands are paid at the rates.
func CostOf(ingredients, packaging decimal.Decimal, minutes int, r Rates) Cost {
	places := Decimals(r.Currency)
	hours := decimal.NewFromInt(int64(minutes)).Div(decimal.NewFromInt(60))
	return Cost{
		Ingredients: ingredients.Round(places),
		Packaging:   packaging.Round(places),
		Hands:       r.Hourly.Mul(hours).Round(places),
		Overhead:    r.Overhead.Mul(hours).Round(places),
	}
}

// AtMargin is the price of which the margin is left after the cost: total / (1 - margin), rounded up so that the margin is
// never less than wanted.
func AtMargin(c Cost, r Rates) decimal.Decimal {
	return c.Total().Div(decimal.NewFromInt(1).Sub(r.Margin)).RoundUp(Decimals(r.Currency))
}

// PayPerHour is what asked pays for an hour of hands after everything else. ok is false without any hands.
func PayPerHour(asked decimal.Decimal, c Cost, minutes int, r Rates) (pay decimal.Decimal, ok bool) {
	if minutes == 0 {
		return decimal.Zero, false
	}
	left := asked.Sub(c.Ingredients).Sub(c.Packaging).Sub(c.Overhead)
	return left.Mul(decimal.NewFromInt(60)).Div(decimal.NewFromInt(int64(minutes))).Round(Decimals(r.Currency)), true
}

// Read a price as it is typed: "168", "168.00", "168,50". Errors are plain sentences.
func Read(text, currency string) (decimal.Decimal, error) {
	d, err := decimal.NewFromString(text)
	switch {
	case err != nil:
		return d, fmt.Errorf("%q is not an amount of money: write digits and a point, such as 168.50.", text)
	case d.IsNegative():
		return d, fmt.Errorf("A price cannot be less than 0.")
	case d.GreaterThan(decimal.NewFromInt(10_000_000)):
		return d, fmt.Errorf("A price of more than 10 million: check the number.")
	case !d.Equal(d.Round(Decimals(currency))):
		return d, fmt.Errorf("%s has %d decimals: round the price.", currency, Decimals(currency))
	}
	return d, nil
}
