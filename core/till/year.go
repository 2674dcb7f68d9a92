package till

import (
	"github.com/shopspring/decimal"

	"zestytin/core/price"
)

// Year is how the sales of a calendar year stand to a limit that the seller has set: many places let a home kitchen
// sell so much a year and no more (common practice; which limit holds, and what counts towards it, local rules say).
type Year struct {
	Year   int          `json:"year"`
	Sold   price.Money  `json:"sold"`
	Ahead  price.Money  `json:"ahead"`
	Limit  price.Money  `json:"limit"`
	Left   price.Money  `json:"left"`
	Share  float64      `json:"share"`
	Stands YearStanding `json:"stands"`
}

// YearStanding is whether sales are within the limit.
type YearStanding string

// Within is fine; Near are four fifths of the limit, with what is promised; Promised is over it with what is promised;
// Over is over it already.
const (
	Within   YearStanding = "within"
	Near     YearStanding = "near"
	Promised YearStanding = "promised"
	Over     YearStanding = "over"
)

// YearStandings that there are.
func YearStandings() []YearStanding { return []YearStanding{Within, Near, Promised, Over} }

// YearOf what was sold and what is promised until its end, both without tax; nil where there is no limit.
func YearOf(year int, sold, ahead, limit decimal.Decimal, currency string) *Year {
	if !limit.IsPositive() {
		return nil
	}
	all := sold.Add(ahead)
	y := &Year{Year: year, Sold: price.In(currency, sold), Ahead: price.In(currency, ahead),
		Limit: price.In(currency, limit), Left: price.In(currency, decimal.Max(limit.Sub(all), decimal.Zero)),
		Share: all.Div(limit).InexactFloat64(), Stands: Within}
	switch {
	case sold.GreaterThan(limit):
		y.Stands = Over
	case all.GreaterThan(limit):
		y.Stands = Promised
	case y.Share >= 0.8:
		y.Stands = Near
	}
	return y
}
