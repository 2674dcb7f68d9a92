package price

import (
	"strings"

	"zestytin/core/reason"
	"zestytin/core/si"

	"github.com/shopspring/decimal"
)

var (
	one   = decimal.NewFromInt(1)
	sixty = decimal.NewFromInt(60)
)

// Cost of an order beside the card's fee, in lines that are already rounded.
type Cost struct {
	Ingredients decimal.Decimal
	Packaging   decimal.Decimal
	Hands       decimal.Decimal
	Overhead    decimal.Decimal
	Drive       decimal.Decimal
}

// Total of the lines.
func (c Cost) Total() decimal.Decimal { return c.Materials().Add(c.Hands) }

// Materials is all but the pay for hands.
func (c Cost) Materials() decimal.Decimal {
	return c.Ingredients.Add(c.Packaging).Add(c.Overhead).Add(c.Drive)
}

// Spent is all that a price has to pay for, by what it is for.
type Spent struct {
	Cost
	Card  decimal.Decimal // the card's fee
	Other decimal.Decimal // what was not kept by its parts
}

// Total of all parts.
func (s Spent) Total() decimal.Decimal { return s.Cost.Total().Add(s.Card).Add(s.Other) }

// Materials is all but the pay for hands.
func (s Spent) Materials() decimal.Decimal { return s.Total().Sub(s.Hands) }

// Plus adds part by part.
func (s Spent) Plus(more Spent) Spent {
	return Spent{
		Cost: Cost{
			Ingredients: s.Ingredients.Add(more.Ingredients), Packaging: s.Packaging.Add(more.Packaging),
			Hands: s.Hands.Add(more.Hands), Overhead: s.Overhead.Add(more.Overhead), Drive: s.Drive.Add(more.Drive),
		},
		Card: s.Card.Add(more.Card), Other: s.Other.Add(more.Other),
	}
}

// CostOf rounds the parts; minutes of hands are paid at the rates, kilometres as the terms say.
func CostOf(ingredients, packaging decimal.Decimal, minutes si.Minutes, kilometres float64, r Rates, t Terms) Cost {
	places := Decimals(r.Currency)
	hours := decimal.NewFromInt(int64(minutes)).Div(sixty)
	c := Cost{
		Ingredients: ingredients.Round(places),
		Packaging:   packaging.Round(places),
		Hands:       r.Hourly.Mul(hours).Round(places),
		Overhead:    r.Overhead.Mul(hours).Round(places),
	}
	if kilometres > 0 {
		c.Drive = number(t.Drive).Mul(decimal.NewFromFloat(kilometres)).Round(places)
	}
	return c
}

// number of a text that was checked; 0 when it is empty.
func number(text string) decimal.Decimal {
	d, err := decimal.NewFromString(text)
	if err != nil {
		return decimal.Zero
	}
	return d
}

// Basis is what a price starts from.
type Basis string

const (
	ByMargin Basis = "margin" // share of the price that is left over, 0.2
	ByMarkup Basis = "markup" // share of the cost that is added, 0.25
	ByHourly Basis = "hourly" // what an hour of hands is to bring, 24.00
	ByPrice  Basis = "price"  // the price itself, 168.00
)

// Bases that there are.
func Bases() []Basis { return []Basis{ByMargin, ByMarkup, ByHourly, ByPrice} }

// PriceTarget is what a price starts from, and how much of it.
type PriceTarget struct {
	By    Basis
	Value decimal.Decimal
}

// Discount as it is typed: "10%" or "5.00"; the zero value is none.
type Discount struct {
	Share  decimal.Decimal
	Amount decimal.Decimal
}

// ReadDiscount reads "10%", "12.5%" or "5.00"; "" is none. Errors are plain sentences.
func ReadDiscount(text, currency string) (Discount, error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return Discount{}, nil
	}
	if share, ok := strings.CutSuffix(text, "%"); ok {
		d, err := decimal.NewFromString(strings.TrimSpace(share))
		if err != nil || d.IsNegative() || d.GreaterThan(decimal.NewFromInt(100)) {
			return Discount{}, reason.Of("price.no-discount-write-share-such", reason.Name(text))
		}
		return Discount{Share: d.Div(decimal.NewFromInt(100))}, nil
	}
	d, err := Read(text, currency)
	return Discount{Amount: d}, err
}

// ReadShare reads a share as a person types it, "35%", or as it is kept, "0.35".
func ReadShare(text string) (decimal.Decimal, error) {
	text = strings.ReplaceAll(strings.TrimSpace(text), ",", ".")
	if percent, ok := strings.CutSuffix(text, "%"); ok {
		d, err := decimal.NewFromString(strings.TrimSpace(percent))
		return d.Div(decimal.NewFromInt(100)), err
	}
	return decimal.NewFromString(text)
}

// Asking is all that a price follows from.
type Asking struct {
	Cost     Cost
	Minutes  si.Minutes // of hands
	Pieces   int        // for the price of one
	Wish     PriceTarget
	Discount Discount
	Notice   int              // days between the order and its handover
	Cash     bool             // no card fee
	Agreed   *decimal.Decimal // what was quoted: it stands as it is
}

// Price of an order, and what it comes to. Asked = Base - Discount + Rush + Rounded, and is Gross where the tax is in
// it, else Net; Gross = Net + Tax; Left = Net - Total; Total = the cost's lines + Card. All are rounded to the smallest
// unit.
type Price struct {
	Base       decimal.Decimal
	Discount   decimal.Decimal
	Rush       decimal.Decimal
	Rounded    decimal.Decimal // by the seller's habit, or up to the minimum
	Within     int             // days of the rush step that applies, -1 for none
	Least      bool            // it is the minimum
	Asked      decimal.Decimal
	Net        decimal.Decimal
	Tax        decimal.Decimal
	Gross      decimal.Decimal
	Deposit    decimal.Decimal
	Card       decimal.Decimal
	Total      decimal.Decimal
	Left       decimal.Decimal
	Margin     *decimal.Decimal // of the net price; nil where that is 0
	Markup     *decimal.Decimal // on the cost; nil where that is 0
	PayPerHour *decimal.Decimal // for an hour of hands after everything else; nil without hands
}

// Of computes the price. The card's fee depends on the price and the price on the fee, so the base solves, for a price
// A of which n is net and q is paid by the customer (n = 1 and q = 1 + tax where tax comes on top, n = 1 / (1 + tax)
// and q = 1 where it is in it), a fee of f q A + g, and a cost C beside it of which H is hands:
//
//	margin m:  A = (C + g) / ((1 - m) n - f q)
//	markup k:  A = (1 + k) (C + g) / (n - (1 + k) f q)
//	hourly w:  A = (C - H + g + w hours) / (n - f q)
//
// It is rounded up, so that what was wanted is never missed. An error says that no price is high enough.
func Of(a Asking, r Rates, t Terms) (Price, error) {
	places := Decimals(r.Currency)
	tax := decimal.NewFromFloat(t.Tax)
	n, q := one, one.Add(tax)
	if t.TaxIncluded {
		n, q = one.Div(one.Add(tax)), one
	}
	f, g := decimal.NewFromFloat(t.CardShare), number(t.CardFixed)
	if a.Cash {
		f, g = decimal.Zero, decimal.Zero
	}
	p := Price{Within: -1}
	switch {
	case a.Agreed != nil:
		p.Base, p.Asked = *a.Agreed, *a.Agreed
	case a.Wish.By == ByPrice:
		p.Base = a.Wish.Value
		p.Discount = a.Discount.of(p.Base, places)
		p.Asked = p.Base.Sub(p.Discount)
	default:
		above, below := a.Cost.Total().Add(g), decimal.Zero
		switch v := a.Wish.Value; a.Wish.By {
		case ByMarkup:
			above, below = above.Mul(one.Add(v)), n.Sub(one.Add(v).Mul(f).Mul(q))
		case ByHourly:
			above = a.Cost.Materials().Add(g).Add(v.Mul(decimal.NewFromInt(int64(a.Minutes))).Div(sixty))
			below = n.Sub(f.Mul(q))
		default:
			below = one.Sub(v).Mul(n).Sub(f.Mul(q))
		}
		if below.LessThanOrEqual(decimal.New(1, -6)) {
			return p, reason.Of("price.no-price-high-enough-for")
		}
		p.Base = roundUp(above.Div(below), places)
		p.Discount = a.Discount.of(p.Base, places)
		p.Rush, p.Within = p.rush(a.Notice, t, places)
		t.settle(&p, a.Pieces, r.Currency)
	}
	p.comesTo(a, n, f, g, t, places)
	return p, nil
}

func roundUp(d decimal.Decimal, places int32) decimal.Decimal {
	return d.Round(places + 6).RoundCeil(places)
}

func (d Discount) of(base decimal.Decimal, places int32) decimal.Decimal {
	return decimal.Min(base, base.Mul(d.Share).Add(d.Amount).Round(places))
}

func (p *Price) rush(notice int, t Terms, places int32) (decimal.Decimal, int) {
	share, within := t.Surcharge(notice)
	return p.Base.Mul(decimal.NewFromFloat(share)).Round(places), within
}

// settle rounds by the habit and keeps to the minimum.
func (t *Terms) settle(p *Price, pieces int, currency string) {
	before := p.Base.Sub(p.Discount).Add(p.Rush)
	p.Asked = t.Round(before, currency)
	if t.PerPiece && pieces > 0 {
		count := decimal.NewFromInt(int64(pieces))
		p.Asked = t.Round(before.Div(count), currency).Mul(count)
	}
	if least := number(t.Minimum); p.Asked.LessThan(least) {
		p.Asked, p.Least = least, true
	}
	p.Rounded = p.Asked.Sub(before)
}

// comesTo works out what the asked price means.
func (p *Price) comesTo(a Asking, n, f, g decimal.Decimal, t Terms, places int32) {
	p.Net, p.Gross = p.Asked, p.Asked
	if t.TaxIncluded {
		p.Net = p.Asked.Mul(n).Round(places)
	} else {
		p.Gross = p.Asked.Mul(one.Add(decimal.NewFromFloat(t.Tax))).Round(places)
	}
	p.Tax = p.Gross.Sub(p.Net)
	p.Deposit = p.Gross.Mul(decimal.NewFromFloat(t.Deposit)).Round(places)
	if !p.Gross.IsZero() {
		p.Card = f.Mul(p.Gross).Add(g).Round(places)
	}
	p.Total = a.Cost.Total().Add(p.Card)
	p.Left = p.Net.Sub(p.Total)
	ratio := func(of decimal.Decimal) *decimal.Decimal {
		if of.IsZero() {
			return nil
		}
		d := p.Left.DivRound(of, 6)
		return &d
	}
	p.Margin, p.Markup = ratio(p.Net), ratio(p.Total)
	if a.Minutes > 0 {
		pay := p.Left.Add(a.Cost.Hands).Mul(sixty).DivRound(decimal.NewFromInt(int64(a.Minutes)), places)
		p.PayPerHour = &pay
	}
}
