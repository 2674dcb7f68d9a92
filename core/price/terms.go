package price

import (
	"cmp"
	"fmt"

	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/reason"
)

// Rates are what the kitchen's hours are worth.
type Rates struct {
	Currency string
	Hourly   decimal.Decimal // for an hour of hands
	Overhead decimal.Decimal // for an hour: heat, light, wear
	Margin   decimal.Decimal // target share of the price that is left over, 0 to below 1
}

// Ending is the habit of rounding a price up.
type Ending string

const (
	EndExact Ending = "exact" // to the smallest unit
	EndWhole Ending = "00"    // to whole units
	EndHalf  Ending = "50"    // to the next half
	End95    Ending = "95"    // to the next .95
)

// Endings that there are.
func Endings() []Ending { return []Ending{EndExact, EndWhole, EndHalf, End95} }

// Terms are the seller's habits of pricing. Shares are 0 to below 1; money is decimal in the kitchen's currency.
type Terms struct {
	Ending      Ending   `json:"ending"`
	PerPiece    bool     `json:"perPiece"`
	Minimum     string   `json:"minimum"`
	Rush        []Notice `json:"rush"`
	Tax         float64  `json:"tax"`
	TaxIncluded bool     `json:"taxIncluded"`
	Deposit     float64  `json:"deposit"`
	CardShare   float64  `json:"cardShare"`
	CardFixed   string   `json:"cardFixed"`
	Drive       string   `json:"drive"`
	Reclaim     float64  `json:"reclaim"`
	QuoteDays   int      `json:"quoteDays"`
	YearLimit   string   `json:"yearLimit,omitempty"` // that local rules let one sell in a calendar year; empty: none
	// Cancel is what share of the price is kept of what was paid, by the notice at which an order is cancelled.
	Cancel []Notice `json:"cancel,omitempty"`
}

// Notice is a share of a price that goes with so many whole days of notice or fewer: a surcharge, or what is kept.
type Notice struct {
	Days  int     `json:"days"`
	Share float64 `json:"share"`
}

// Usual terms, to begin with: nothing is added to a price, and a quote holds a week.
func Usual() Terms {
	return Terms{Ending: EndExact, Minimum: "0", Rush: []Notice{}, CardFixed: "0", Drive: "0", Reclaim: 1, QuoteDays: 7}
}

// Check finds what cannot be. The error is an *invalid.Error.
func (t *Terms) Check(currency string) error {
	var f invalid.Faults
	switch t.Ending {
	case EndExact, EndWhole, EndHalf, End95:
	default:
		f.Add("ending", reason.Of("price.no-ending-choose-exact-or", reason.Name(t.Ending)))
	}
	for _, m := range []struct{ path, text string }{{"minimum", t.Minimum}, {"cardFixed", t.CardFixed}} {
		if _, err := Read(m.text, currency); err != nil {
			f.Add(m.path, err)
		}
	}
	if _, err := Read(cmp.Or(t.YearLimit, "0"), currency); err != nil {
		f.Add("yearLimit", err)
	}
	// A kilometre may well cost fractions of the smallest unit.
	if d, err := decimal.NewFromString(t.Drive); err != nil || d.IsNegative() ||
		d.GreaterThan(decimal.NewFromInt(1_000_000)) {
		f.Add("drive", reason.Of("price.not-what-kilometre-costs-write", reason.Name(t.Drive)))
	}
	for _, s := range []struct {
		path  string
		share float64
		most  float64
	}{{"tax", t.Tax, 1}, {"deposit", t.Deposit, 1}, {"cardShare", t.CardShare, 0.5}, {"reclaim", t.Reclaim, 1}} {
		if !(s.share >= 0 && s.share <= s.most) {
			f.Add(s.path, reason.Of("price.this-lies-between-and", reason.Number(s.most*100)))
		}
	}
	checkSteps(&f, "rush", t.Rush, 5, reason.Of("price.surcharge-lies-between-and"))
	checkSteps(&f, "cancel", t.Cancel, 1, reason.Of("price.what-is-kept-lies-between"))
	if t.QuoteDays < 1 || t.QuoteDays > 365 {
		f.Add("quoteDays", reason.Of("price.quote-holds-between-and-days"))
	}
	return f.Err()
}

func checkSteps(f *invalid.Faults, of string, steps []Notice, most float64, wrong reason.Reason) {
	seen := map[int]bool{}
	for i, s := range steps {
		path := fmt.Sprintf("%s[%d]", of, i)
		if s.Days < 0 || s.Days > 365 || seen[s.Days] {
			f.Add(path+".days", reason.Of("price.every-step-has-its-own"))
		}
		if !(s.Share >= 0 && s.Share <= most) {
			f.Add(path+".share", wrong)
		}
		seen[s.Days] = true
	}
	if len(steps) > 10 {
		f.Add(of, reason.Of("price.ten-steps-enough-leave-some"))
	}
}

// Surcharge for so many whole days of notice, and within how many that is; -1 where there is none.
func (t *Terms) Surcharge(notice int) (share float64, within int) { return step(t.Rush, notice) }

// Kept of the price of an order that is cancelled with so many whole days of notice, as a share, and within how many
// days that is; -1 where nothing is kept.
func (t *Terms) Kept(notice int) (share float64, within int) { return step(t.Cancel, notice) }

// step with the fewest days that a notice lies within.
func step(steps []Notice, notice int) (share float64, within int) {
	within = -1
	for _, s := range steps {
		if notice <= s.Days && (within < 0 || s.Days < within) {
			share, within = s.Share, s.Days
		}
	}
	return share, within
}

// Round up to the ending, so that a price never falls when what it covers rises.
func (t *Terms) Round(d decimal.Decimal, currency string) decimal.Decimal {
	unit := decimal.NewFromInt(1)
	if Decimals(currency) == 0 {
		unit = decimal.NewFromInt(100)
	}
	up := func(d, step decimal.Decimal) decimal.Decimal { return d.Div(step).RoundCeil(0).Mul(step) }
	// The last digits of a division are no reason for a unit more.
	d = d.Round(Decimals(currency) + 6).RoundCeil(Decimals(currency))
	switch t.Ending {
	case EndWhole:
		return up(d, unit)
	case EndHalf:
		return up(d, unit.Div(decimal.NewFromInt(2)))
	case End95:
		end := unit.Mul(decimal.RequireFromString("0.95"))
		if d.IsZero() {
			return d
		}
		return up(d.Sub(end), unit).Add(end)
	default:
		return d
	}
}

// Year is the limit of a year's sales; 0 where there is none.
func (t *Terms) Year() decimal.Decimal { return number(cmp.Or(t.YearLimit, "0")) }
