// Package event is an occasion for which several orders are made: who comes and sits where, until when what must be
// settled, what is due when, and how a count that changes changes orders and prices.
package event

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/price"
	"zestytin/core/reason"
)

// Event as its seller writes it down. Dates are YYYY-MM-DD, in the kitchen.
type Event struct {
	Name    string    `json:"name"`
	Host    string    `json:"host"`  // who has ordered it; may be empty
	Place   string    `json:"place"` // where it is
	Begins  time.Time `json:"begins"`
	Setup   int       `json:"setup"`   // minutes that one needs there before it begins
	CountBy string    `json:"countBy"` // until when the count of guests may change; empty: until the day
	Tables  []Table   `json:"tables"`
	Plan    []Part    `json:"plan"`   // what is paid ahead
	RestBy  string    `json:"restBy"` // when the rest is due; empty: on the day
	Brings  []Bring   `json:"brings"`
	Follow  []Follow  `json:"follow"`
	Notes   string    `json:"notes"`
}

// Table at which guests sit.
type Table struct {
	Name   string `json:"name"`
	Guests int    `json:"guests"`
}

// Part of the price that is paid ahead.
type Part struct {
	Share float64 `json:"share"` // of the price of all orders, above 0 to 1
	By    string  `json:"by"`
}

// Bring is something that somebody brings along.
type Bring struct {
	What string `json:"what"`
	Who  string `json:"who"`
	Done bool   `json:"done"`
}

// Follow is a line of an order whose count follows the guests.
type Follow struct {
	Order ident.Order `json:"order"`
	Treat ident.Treat `json:"treat"`
	Each  float64     `json:"each"` // pieces for a guest
}

// Sizes that an event may have.
const (
	MostTables = 200
	MostGuests = 10_000
	MostParts  = 12
	MostBrings = 200
)

// Guests of all tables.
func (e *Event) Guests() int {
	n := 0
	for _, t := range e.Tables {
		n += t.Guests
	}
	return n
}

// Pieces for so many guests, each of whom gets so many: rounded up, so that nobody goes without.
func Pieces(guests int, each float64) int {
	return int(math.Ceil(math.Round(float64(guests)*each*1000) / 1000))
}

// Check finds what cannot be. The error is an *invalid.Error.
func (e *Event) Check(zone *time.Location) error {
	var f invalid.Faults
	words := func(path, text string, most int) {
		if utf8.RuneCountInString(text) > most {
			f.Because(path, "event.too-long", reason.Int(most))
		}
	}
	if strings.TrimSpace(e.Name) == "" {
		f.Because("name", "event.name-it")
	}
	words("name", e.Name, 100)
	words("host", e.Host, 100)
	words("place", e.Place, 300)
	words("notes", e.Notes, 2000)
	if e.Begins.IsZero() {
		f.Because("begins", "event.when-does-it-begin")
	}
	if e.Setup < 0 || e.Setup > 24*60 {
		f.Because("setup", "event.minutes-of-a-day")
	}
	day := e.Day(zone)
	date := func(path, text string) {
		if text == "" {
			return
		}
		if _, err := time.Parse(time.DateOnly, text); err != nil {
			f.Because(path, "event.not-a-date")
		} else if text > day {
			f.Because(path, "event.before-its-day", reason.Date(day))
		}
	}
	date("countBy", e.CountBy)
	if len(e.Tables) == 0 || len(e.Tables) > MostTables {
		f.Because("tables", "event.so-many-tables", reason.Int(MostTables))
	}
	for i, t := range e.Tables {
		words(fmt.Sprintf("tables[%d].name", i), t.Name, 60)
		if t.Guests < 0 || t.Guests > MostGuests {
			f.Because(fmt.Sprintf("tables[%d].guests", i), "event.so-many-guests", reason.Int(MostGuests))
		}
	}
	if e.Guests() > MostGuests {
		f.Because("tables", "event.so-many-guests", reason.Int(MostGuests))
	}
	e.checkPlan(&f, date)
	if len(e.Brings) > MostBrings {
		f.Because("brings", "event.so-many-things", reason.Int(MostBrings))
	}
	for i, b := range e.Brings {
		if strings.TrimSpace(b.What) == "" {
			f.Because(fmt.Sprintf("brings[%d].what", i), "event.say-what")
		}
		words(fmt.Sprintf("brings[%d].what", i), b.What, 120)
		words(fmt.Sprintf("brings[%d].who", i), b.Who, 60)
	}
	for i, x := range e.Follow {
		if !(x.Each > 0 && x.Each <= 100) {
			f.Because(fmt.Sprintf("follow[%d].each", i), "event.so-many-each")
		}
	}
	return f.Err()
}

func (e *Event) checkPlan(f *invalid.Faults, date func(path, text string)) {
	if len(e.Plan) > MostParts {
		f.Because("plan", "event.so-many-parts", reason.Int(MostParts))
	}
	sum := 0.0
	for i, p := range e.Plan {
		path := fmt.Sprintf("plan[%d]", i)
		if !(p.Share > 0 && p.Share <= 1) {
			f.Because(path+".share", "event.share-of-the-price")
		}
		sum += p.Share
		if p.By == "" {
			f.Because(path+".by", "event.not-a-date")
		}
		date(path+".by", p.By)
		if i > 0 && p.By < e.Plan[i-1].By {
			f.Because(path+".by", "event.one-after-the-other")
		}
	}
	if sum > 1+1e-9 {
		f.Because("plan", "event.more-than-all")
	}
	if n := len(e.Plan); n > 0 && e.RestBy != "" && e.RestBy < e.Plan[n-1].By {
		f.Because("restBy", "event.one-after-the-other")
	}
	date("restBy", e.RestBy)
}

// Day of the event in the kitchen.
func (e *Event) Day(zone *time.Location) string { return e.Begins.In(zone).Format(time.DateOnly) }

// Payment that is due, and how far it is paid.
type Payment struct {
	By     string
	Share  float64 // of all; of the rest what is left
	Rest   bool
	Amount decimal.Decimal
	Open   decimal.Decimal // of it, still to be paid
}

// Payments of the plan for a price of all orders in a currency, of which something is paid: it goes to what is due
// first. Amounts are rounded to the currency, and the rest is what makes them the price.
func (e *Event) Payments(total, paid decimal.Decimal, currency string, zone *time.Location) []Payment {
	digits := price.Decimals(currency)
	list := []Payment{}
	left, share := total, 1.0
	for _, p := range e.Plan {
		amount := decimal.Min(total.Mul(decimal.NewFromFloat(p.Share)).Round(digits), left)
		list = append(list, Payment{By: p.By, Share: p.Share, Amount: amount})
		left, share = left.Sub(amount), share-p.Share
	}
	rest := e.RestBy
	if rest == "" {
		rest = e.Day(zone)
	}
	list = append(list, Payment{By: rest, Share: max(share, 0), Rest: true, Amount: left})
	for i := range list {
		p := &list[i]
		covered := decimal.Max(decimal.Min(paid, p.Amount), decimal.Zero)
		p.Open, paid = p.Amount.Sub(covered), paid.Sub(covered)
	}
	return list
}

// Line of an order whose count changes.
type Line struct {
	Worth    decimal.Decimal // its part of the price, in any measure
	Was, Now int
}

// Follows is the price that was agreed once counts have changed: each line keeps what a piece of it costs. Rounded to
// the currency.
func Follows(agreed decimal.Decimal, lines []Line, currency string) decimal.Decimal {
	was, now := decimal.Zero, decimal.Zero
	for _, l := range lines {
		was = was.Add(l.Worth)
		if l.Was > 0 {
			now = now.Add(l.Worth.Mul(decimal.NewFromInt(int64(l.Now))).Div(decimal.NewFromInt(int64(l.Was))))
		}
	}
	if !was.IsPositive() {
		return agreed
	}
	return agreed.Mul(now).Div(was).Round(price.Decimals(currency))
}

// Deadline of an event.
type Deadline struct {
	Kind DeadlineKind
	By   string // a date
	Days int    // from today; below 0: it has passed
	Done bool
}

// DeadlineKind is what must be settled by then.
type DeadlineKind string

const (
	CountFinal DeadlineKind = "count"   // the count of guests may change no more
	PartDue    DeadlineKind = "part"    // a part of the price is to be paid
	RestDue    DeadlineKind = "rest"    // the rest of it
	OnTheDay   DeadlineKind = "the day" // it takes place
)

// Deadlines from the first on. Payments are those of Payments; what is paid is done, and so is what has passed of the
// rest.
func (e *Event) Deadlines(payments []Payment, today string, zone *time.Location) []Deadline {
	list := []Deadline{}
	add := func(kind DeadlineKind, by string, done bool) {
		list = append(list, Deadline{kind, by, days(today, by), done})
	}
	if e.CountBy != "" {
		add(CountFinal, e.CountBy, e.CountBy < today)
	}
	for _, p := range payments {
		if kind := PartDue; p.Amount.IsPositive() {
			if p.Rest {
				kind = RestDue
			}
			add(kind, p.By, p.Open.IsZero())
		}
	}
	day := e.Day(zone)
	add(OnTheDay, day, day < today)
	slices.SortStableFunc(list, func(a, b Deadline) int { return strings.Compare(a.By, b.By) })
	return list
}

// days from one date to another.
func days(from, to string) int {
	a, errA := time.Parse(time.DateOnly, from)
	b, errB := time.Parse(time.DateOnly, to)
	if errA != nil || errB != nil {
		return 0
	}
	return int(b.Sub(a) / (24 * time.Hour))
}

// CountIsFinal tells whether the count may change no more on a day.
func (e *Event) CountIsFinal(today string, zone *time.Location) bool {
	by := e.CountBy
	if by == "" {
		by = e.Day(zone)
	}
	return today > by
}
