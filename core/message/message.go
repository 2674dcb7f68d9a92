// Package message is what a kitchen tells its customers by itself: on which occasions, when, and in which words.
package message

import (
	"slices"
	"time"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
)

// Kind of a message: its occasion.
type Kind string

const (
	Quote     Kind = "quote"      // a quote was made
	Reminder  Kind = "reminder"   // it has not been answered
	Deposit   Kind = "deposit"    // an order is promised, and its deposit is not paid
	DayBefore Kind = "day-before" // it is handed over tomorrow
	Ready     Kind = "ready"      // it is packed, and can be picked up
	OnTheWay  Kind = "on-the-way" // it will be at the door in so many minutes
	Thanks    Kind = "thanks"     // it was handed over
)

// Kinds that there are, in the order in which a customer gets them.
func Kinds() []Kind { return []Kind{Quote, Reminder, Deposit, DayBefore, Ready, OnTheWay, Thanks} }

// Rule of a kind: whether and when it is told.
type Rule struct {
	On    bool      `json:"on"`
	Since time.Time `json:"since"` // it was switched on: nothing from before is told of
	Days  int       `json:"days"`  // after its occasion: of Reminder and Thanks
	At    int       `json:"at"`    // minute of the day: of DayBefore and Thanks
}

// Usual rule of a kind, to begin with: it is off.
func Usual(k Kind) Rule {
	switch k {
	case Reminder:
		return Rule{Days: 3}
	case DayBefore:
		return Rule{At: 10 * 60}
	case Thanks:
		return Rule{Days: 1, At: 10 * 60}
	}
	return Rule{}
}

// MostDays that a rule may wait.
const MostDays = 60

// Check finds what cannot be. The error is an *invalid.Error.
func (r Rule) Check() error {
	var f invalid.Faults
	if r.Days < 0 || r.Days > MostDays {
		f.Because("days", "message.wait-so-many-days", reason.Int(MostDays))
	}
	if r.At < 0 || r.At >= 24*60 {
		f.Because("at", "message.choose-a-time-of-day")
	}
	return f.Err()
}

// Facts of an order that messages rest on. A time that is zero has not come.
type Facts struct {
	State       order.State
	From        time.Time // its window opens
	Delivered   bool      // it is brought to its customer
	Promised    time.Time // when it became so last
	Packed      time.Time
	HandedOver  time.Time
	DepositOpen bool      // a deposit is asked, and not paid
	DepositBy   time.Time // by when; zero: at once
	Quote       *Offer
}

// Offer is the last quote of an order.
type Offer struct {
	ID      string
	Made    time.Time
	Expires time.Time
	Open    bool // neither answered nor taken back
}

// Stale is how long after its time a message is still worth telling: a server that was off overnight catches up, one
// that was off for a week does not send last week's.
const Stale = 24 * time.Hour

// Occasion for a message: of each cause it is told once, from a time on and until another, after which it would be
// wrong or of no use.
type Occasion struct {
	At    time.Time
	Until time.Time
	Cause string
}

// Due is the occasion that an order gives for a message of a kind; ok is false where it gives none.
func (f *Facts) Due(k Kind, r Rule, zone *time.Location) (o Occasion, ok bool) {
	switch k {
	case Quote, Reminder:
		if f.State != order.Quoted || f.Quote == nil || !f.Quote.Open {
			return o, false
		}
		o.At, o.Cause = f.Quote.Made, f.Quote.ID
		if k == Reminder {
			o.At = on(o.At, r.Days, -1, zone)
		}
		o.Until = f.Quote.Expires
		ok = o.At.Before(f.Quote.Expires)
	case Deposit:
		o.At, o.Cause = f.Promised, "promised"
		if !f.DepositBy.IsZero() { // a part of several is asked for a week ahead
			if at := on(f.DepositBy, -7, 10*60, zone); at.After(o.At) {
				o.At = at
			}
			o.Cause = "by " + f.DepositBy.In(zone).Format(time.DateOnly)
		}
		ok = f.State == order.Promised && f.DepositOpen && !f.Promised.IsZero()
	case DayBefore:
		// One that is moved to another day is told again; and "tomorrow" is said on the day before alone.
		o.At, o.Until, o.Cause = on(f.From, -1, r.At, zone), on(f.From, 0, 0, zone), f.From.In(zone).Format(time.DateOnly)
		ahead := slices.Contains([]order.State{order.Promised, order.Making, order.Packed}, f.State)
		ok = ahead && o.At.After(f.Promised)
	case Ready:
		o.At, o.Cause = f.Packed, "packed"
		ok = f.State == order.Packed && !f.Delivered && !f.Packed.IsZero()
	case Thanks:
		o.At, o.Cause = on(f.HandedOver, r.Days, r.At, zone), "handed over"
		ok = (f.State == order.HandedOver || f.State == order.Settled) && !f.HandedOver.IsZero()
	default:
		return o, false // OnTheWay is told by whoever is
	}
	if stale := o.At.Add(Stale); o.Until.IsZero() || o.Until.After(stale) {
		o.Until = stale
	}
	return o, ok
}

// on a day so many days from t, at a minute of it; a minute below 0 is that of t.
func on(t time.Time, days, minute int, zone *time.Location) time.Time {
	t = t.In(zone)
	y, m, d := t.Date()
	if minute < 0 {
		return time.Date(y, m, d+days, t.Hour(), t.Minute(), t.Second(), 0, zone)
	}
	return time.Date(y, m, d+days, minute/60, minute%60, 0, 0, zone)
}

// Told tells whether something is to be told now: its time has come, after its kind was switched on, and is not over.
func (r Rule) Told(o Occasion, now time.Time) bool {
	return r.On && !o.At.Before(r.Since) && !o.At.After(now) && now.Before(o.Until)
}

// Quiet hours in which nothing is told, in minutes of the day; From may lie after To, then they go over midnight.
// Equal, there are none.
type Quiet struct{ From, To int }

// Next is t, or when the quiet hours end that it lies in.
func (q Quiet) Next(t time.Time, zone *time.Location) time.Time {
	local := t.In(zone)
	minute := local.Hour()*60 + local.Minute()
	over := q.From > q.To
	switch {
	case q.From == q.To, !over && (minute < q.From || minute >= q.To), over && minute < q.From && minute >= q.To:
		return t
	case over && minute >= q.From: // it ends tomorrow
		return on(t, 1, q.To, zone)
	}
	return on(t, 0, q.To, zone)
}

// Check finds what cannot be. The error is an *invalid.Error.
func (q Quiet) Check() error {
	var f invalid.Faults
	for path, minute := range map[string]int{"quietFrom": q.From, "quietTo": q.To} {
		if minute < 0 || minute >= 24*60 {
			f.Because(path, "message.choose-a-time-of-day")
		}
	}
	return f.Err()
}
