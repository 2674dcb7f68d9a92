// Package price turns amounts and minutes into cost, price and pay. Money is decimal and is rounded once: every line of
// a sum to the currency's smallest unit, halves away from zero; sums add the rounded lines, so that they add up on
// paper.
package price

import (
	"cmp"
	"slices"

	"zestytin/core/reason"

	"github.com/shopspring/decimal"
)

// Money is an amount in a currency of ISO 4217.
type Money struct {
	Amount   string `json:"amount"`
	Currency string `json:"currency"`
}

// Blank is m without its amount.
func (m Money) Blank() any {
	type bare Money
	return bare{Currency: m.Currency}
}

// Typed is an amount of money as it is typed: decimal, empty where nobody has said.
type Typed string

// Blank is nothing.
func (Typed) Blank() any { return "" }

// Decimals of a currency, by its ISO 4217 code: most have 2.
func Decimals(currency string) int32 {
	switch currency {
	case "BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF",
		"XPF":
		return 0
	case "BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND":
		return 3
	case "CLF", "UYW":
		return 4
	default:
		return 2
	}
}

// In writes d in a currency, rounded to its smallest unit.
func In(currency string, d decimal.Decimal) Money {
	return Money{d.StringFixed(Decimals(currency)), currency}
}

// Read a price as it is typed: "168", "168.00". Errors are plain sentences.
func Read[T ~string](text T, currency string) (decimal.Decimal, error) {
	d, err := decimal.NewFromString(string(text))
	switch {
	case err != nil:
		return d, reason.Of("price.not-amount-money-write-digits", reason.Name(text))
	case d.IsNegative():
		return d, reason.Of("price.price-cannot-be-less-than")
	case d.GreaterThan(decimal.NewFromInt(10_000_000)):
		return d, reason.Of("price.price-more-than-million-check")
	case !d.Equal(d.Round(Decimals(currency))):
		return d, reason.Of("price.has-decimals-round-price", reason.Name(currency), reason.Int(Decimals(currency)))
	}
	return d, nil
}

// Split a rounded total by weights into rounded parts that add up to it exactly: each gets its share rounded down, and
// the smallest units that are left go one by one to the largest remainders. Weights that are all 0 count as equal.
func Split(total decimal.Decimal, weights []float64, currency string) []decimal.Decimal {
	parts := make([]decimal.Decimal, len(weights))
	if len(weights) == 0 {
		return parts
	}
	sum := 0.0
	for _, w := range weights {
		sum += w
	}
	type rest struct {
		of   int
		left decimal.Decimal
	}
	places := Decimals(currency)
	rests, given := make([]rest, len(weights)), decimal.Zero
	for i, w := range weights {
		share := 1 / float64(len(weights))
		if sum > 0 {
			share = w / sum
		}
		exact := total.Mul(decimal.NewFromFloat(share))
		parts[i] = exact.RoundFloor(places)
		rests[i] = rest{i, exact.Sub(parts[i])}
		given = given.Add(parts[i])
	}
	slices.SortStableFunc(rests, func(a, b rest) int { return cmp.Or(b.left.Cmp(a.left), cmp.Compare(a.of, b.of)) })
	unit := decimal.New(1, -places)
	// Shares are rounded to the precision of a float, so what is left may be a unit more than there are parts, or less
	// than none.
	for i := 0; !given.Equal(total); i++ {
		step := unit
		if given.GreaterThan(total) {
			step = unit.Neg()
		}
		of := rests[i%len(rests)].of
		parts[of], given = parts[of].Add(step), given.Add(step)
	}
	return parts
}

// Value of a reason.
func (m Money) Value() reason.Money { return reason.Money{Amount: m.Amount, Currency: m.Currency} }
