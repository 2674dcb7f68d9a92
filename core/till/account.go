// Package till is what orders bring: what a customer owes, and what is left of prices after cost.
package till

import (
	"github.com/shopspring/decimal"

	"zestytin/core/price"
	"zestytin/core/reason"
)

// Kind of a payment.
type Kind string

// Deposit and Balance are paid by the customer, Refund is given back.
const (
	Deposit Kind = "deposit"
	Balance Kind = "balance"
	Refund  Kind = "refund"
)

// Kinds that there are.
func Kinds() []Kind { return []Kind{Deposit, Balance, Refund} }

// Account is how a customer stands with an order, in the currency of the kitchen.
type Account struct {
	Currency  string
	Agreed    *decimal.Decimal // with tax; nil before there is a price
	Paid      decimal.Decimal  // less what was given back
	Cancelled bool             // nothing is due any more but what is kept
	Kept      decimal.Decimal  // by the terms for cancelling: at most what was paid
}

// Due is what is to be paid in all.
func (a Account) Due() decimal.Decimal {
	if a.Agreed == nil {
		return decimal.Zero
	}
	if a.Cancelled { // what was not paid is not asked for
		return decimal.Max(decimal.Min(a.Kept, a.Paid), decimal.Zero)
	}
	return *a.Agreed
}

// Owed is what is still to be paid; below zero it is to be given back.
func (a Account) Owed() decimal.Decimal { return a.Due().Sub(a.Paid) }

// Keep a share from 0 to 1 of the price of an order that was cancelled, rounded to the currency.
func (a *Account) Keep(share float64) {
	if a.Agreed != nil {
		a.Kept = a.Agreed.Mul(decimal.NewFromFloat(share)).Round(price.Decimals(a.Currency))
	}
}

// Deposit is what is asked in advance, a share from 0 to 1 of the price, rounded to the currency; nil where none is
// asked, or something is paid already.
func (a Account) Deposit(share float64) *decimal.Decimal {
	if a.Agreed == nil || !(share > 0) || a.Paid.IsPositive() {
		return nil
	}
	return new(a.Agreed.Mul(decimal.NewFromFloat(share)).Round(price.Decimals(a.Currency)))
}

// Standing is in a word how a customer stands.
type Standing string

const (
	Open   Standing = "open"   // nothing is due and nothing was paid
	Due    Standing = "due"    // something is still to be paid
	Paid   Standing = "paid"   // in full
	Excess Standing = "excess" // something is to be given back
)

// Standings that there are.
func Standings() []Standing { return []Standing{Open, Due, Paid, Excess} }

// Stands is how the customer stands, and how much is due or to be given back.
func (a Account) Stands() (Standing, decimal.Decimal) {
	owed := a.Owed()
	switch {
	case owed.IsPositive():
		return Due, owed
	case owed.IsNegative():
		return Excess, owed.Neg()
	case a.Paid.IsPositive():
		return Paid, decimal.Zero
	}
	return Open, decimal.Zero
}

// Proposal of what a payment of a kind would be.
type Proposal struct {
	Kind   Kind
	Amount decimal.Decimal // zero where nothing follows
}

// Proposals are what may be noted next, the likeliest first: what is to be given back, or the deposit before anything
// was paid, or the rest.
func (a Account) Proposals(deposit float64) []Proposal {
	stands, amount := a.Stands()
	refund, balance, first := Proposal{Kind: Refund}, Proposal{Kind: Balance}, Proposal{Kind: Deposit}
	if stands == Excess {
		refund.Amount = amount
		return []Proposal{refund, balance, first}
	}
	balance.Amount, first.Amount = amount, amount
	if d := a.Deposit(deposit); d != nil {
		first.Amount = *d
		return []Proposal{first, balance, refund}
	}
	return []Proposal{balance, first, refund}
}

// Take reads the amount of a payment as it is typed. It is above 0; nobody pays more than is owed, and no more is given
// back than was paid. The errors are of amount; before there is a price there is nothing to pay: ErrNoPrice.
func (a Account) Take(kind Kind, amount string) (decimal.Decimal, error) {
	of, err := price.Read(amount, a.Currency)
	show := func(d decimal.Decimal) reason.Name { return reason.Name(price.In(a.Currency, d).Amount) }
	switch {
	case err != nil:
		return of, err
	case of.IsZero():
		return of, reason.Of("till.nothing-nothing-to-note-write")
	case kind == Refund && of.GreaterThan(a.Paid):
		return of, reason.Of("till.only-was-paid-no-more", show(a.Paid))
	case kind != Refund && a.Agreed == nil:
		return of, ErrNoPrice
	case kind != Refund && of.GreaterThan(a.Owed()):
		return of, reason.Of("till.that-more-than-that-owed", show(a.Owed()))
	}
	return of, nil
}

// ErrNoPrice is that nothing can be paid, as no price is agreed on.
var ErrNoPrice = reason.Of("till.no-price-is-agreed-on")
