package order

import (
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// Fulfilment that an order reaches its customer.
type Fulfilment string

const (
	Pickup   Fulfilment = "pickup"
	Delivery Fulfilment = "delivery"
)

// Ways that there are.
func Ways() []Fulfilment { return []Fulfilment{Pickup, Delivery} }

// Line is a treat and how many of it.
type Line struct {
	Treat ident.Treat `json:"treat"`
	Count int         `json:"count"`
	// Coating is ready sooner than couverture and tastes of less.
	Coating bool `json:"coating,omitempty"`
	// Note goes to the bench with it: what this customer wants of it.
	Note string `json:"note,omitempty"`
	// FreeFrom and Wishes are asked of this line beside what is asked of the whole order.
	FreeFrom []string    `json:"freeFrom,omitempty"`
	Wishes   []food.Diet `json:"wishes,omitempty"`
	// Boxes that this line is packed in, in the place of those of its treat.
	Boxes []BoxCount `json:"boxes,omitempty"`
}

// Same work: lines that differ in their notes alone are made alike.
func (l Line) Same(other Line) bool {
	return l.Treat == other.Treat && l.Count == other.Count && l.Coating == other.Coating &&
		slices.Equal(l.FreeFrom, other.FreeFrom) && slices.Equal(l.Wishes, other.Wishes) && slices.Equal(l.Boxes, other.Boxes)
}

// of a line: the draft with what is asked of that line beside what is asked of all.
func (d *Draft) of(line int) *Draft {
	if line < 0 || line >= len(d.Lines) || len(d.Lines[line].FreeFrom)+len(d.Lines[line].Wishes) == 0 {
		return d
	}
	own := *d
	own.FreeFrom = treat.Union(slices.Clone(d.FreeFrom), d.Lines[line].FreeFrom)
	own.Wishes = treat.Union(slices.Clone(d.Wishes), d.Lines[line].Wishes)
	return &own
}

// asked of the order or of any of its lines.
func (d *Draft) asked() (freeFrom []string, wishes []food.Diet) {
	freeFrom, wishes = slices.Clone(d.FreeFrom), slices.Clone(d.Wishes)
	for _, l := range d.Lines {
		freeFrom, wishes = treat.Union(freeFrom, l.FreeFrom), treat.Union(wishes, l.Wishes)
	}
	return freeFrom, wishes
}

// Draft is an order as a person writes it.
type Draft struct {
	Customer string     `json:"customer"`
	Phone    string     `json:"phone,omitempty"`
	Mail     string     `json:"mail,omitempty"`
	Occasion string     `json:"occasion,omitempty"`
	Way      Fulfilment `json:"way"`
	Address  string     `json:"place,omitempty"`
	From     time.Time  `json:"from"`
	To       time.Time  `json:"to"`
	Lines    []Line     `json:"lines"`
	FreeFrom []string   `json:"freeFrom"`
	// Wishes are what all of it is to suit: vegan, no alcohol.
	Wishes   []food.Diet `json:"wishes,omitempty"`
	Notes    string      `json:"notes,omitempty"`
	Pricing  *Pricing    `json:"pricing,omitempty"`
	Discount string      `json:"discount,omitempty"`
	Distance float64     `json:"distance,omitempty"`
	Cash     bool        `json:"cash,omitempty"`
	Sets     []BoxSet    `json:"sets,omitempty"` // boxes in which several lines lie together
}

// Pricing is what the price of an order starts from.
type Pricing struct {
	By    price.Basis `json:"by"`
	Value string      `json:"value"`
}

// Blank is a new order as it is begun: to be picked up a week from now, in the afternoon.
func Blank(now time.Time, zone *time.Location) Draft {
	y, m, d := now.In(zone).AddDate(0, 0, 7).Date()
	return Draft{Way: Pickup, From: time.Date(y, m, d, 14, 0, 0, 0, zone), To: time.Date(y, m, d, 15, 0, 0, 0, zone),
		Lines: []Line{}, FreeFrom: []string{}}
}

// CheckPrice finds the faults of what the price follows from.
func (d *Draft) CheckPrice(currency string) error {
	var faults invalid.Faults
	if _, err := d.wish(currency); err != nil {
		faults.Add("pricing.value", err)
	}
	if _, err := price.ReadDiscount(d.Discount, currency); err != nil {
		faults.Add("discount", err)
	}
	if !(d.Distance >= 0 && d.Distance <= 2000) {
		faults.Add("distance", reason.Of("order.way-there-and-back-between"))
	}
	return faults.Err()
}

// wish is nil where the draft wishes nothing.
func (d *Draft) wish(currency string) (*price.PriceTarget, error) {
	if d.Pricing == nil {
		return nil, nil
	}
	w := &price.PriceTarget{By: d.Pricing.By}
	var err error
	switch d.Pricing.By {
	case price.ByHourly, price.ByPrice:
		w.Value, err = price.Read(d.Pricing.Value, currency)
	case price.ByMargin, price.ByMarkup:
		w.Value, err = price.ReadShare(d.Pricing.Value)
		switch {
		case err != nil:
			err = reason.Of("order.not-share-write-digits-and", reason.Name(d.Pricing.Value))
		case w.By == price.ByMargin && (w.Value.IsNegative() || w.Value.GreaterThan(decimal.RequireFromString("0.95"))):
			err = reason.Of("order.margin-share-price-between-and")
		case w.By == price.ByMarkup && (w.Value.IsNegative() || w.Value.GreaterThan(decimal.NewFromInt(20))):
			err = reason.Of("order.markup-lies-between-and-cost")
		}
	default:
		err = reason.Of("order.nothing-that-price-starts-from", reason.Name(d.Pricing.By))
	}
	return w, err
}

// MostLines of an order: how long it takes to find its days grows with them.
const MostLines = 40

// MostPieces in one line.
const MostPieces = batch.MostPieces

// CheckLines finds the faults of the lines and the free-from wishes, against the treats of the kitchen.
func (d *Draft) CheckLines(treats map[ident.Treat]Treat) error {
	var faults invalid.Faults
	if len(d.Lines) > MostLines {
		faults.Add("lines", reason.Of("order.order-has-at-most-lines", reason.Int(MostLines)))
	}
	for i, l := range d.Lines {
		path := fmt.Sprintf("lines[%d]", i)
		switch {
		case l.Count < 1:
			faults.Add(path+".count", reason.Of("order.cannot-be-made-write-or", reason.Int(l.Count)))
		case l.Count > MostPieces:
			faults.Add(path+".count", reason.Of("order.more-than-that-one-line", reason.Int(l.Count),
				reason.Int(MostPieces)))
		}
		switch t, ok := treats[l.Treat]; {
		case !ok:
			faults.Add(path+".treat", reason.Of("order.this-treat-not-in-your"))
		case t.Formula == nil:
			faults.Add(path+".treat", reason.Of("order.has-no-formula-yet-so", reason.Name(t.Name)))
		}
	}
	d.checkBoxes(&faults)
	d.checkSets(&faults)
	checkAsked(&faults, "", d.FreeFrom, d.Wishes)
	for i, l := range d.Lines {
		checkAsked(&faults, fmt.Sprintf("lines[%d].", i), l.FreeFrom, l.Wishes)
	}
	return faults.Err()
}

// CheckWindow finds the faults of the handover's window at the time now.
func (d *Draft) CheckWindow(now time.Time) error {
	var faults invalid.Faults
	switch {
	case d.To.Before(d.From):
		faults.Add("to", reason.Of("order.window-ends-before-starts-make"))
	case d.To.Equal(d.From):
		faults.Add("to", reason.Of("order.window-has-no-length-leave"))
	case d.To.Sub(d.From) > 24*time.Hour:
		faults.Add("to", reason.Of("order.window-longer-than-day-choose"))
	}
	if d.To.Before(now) {
		faults.Add("from", reason.Of("order.handover-lies-in-past-choose"))
	}
	if d.From.After(now.AddDate(2, 0, 0)) {
		faults.Add("from", reason.Of("order.handover-more-than-two-years"))
	}
	return faults.Err()
}

// CheckWords finds the faults of what is written about the customer.
func (d *Draft) CheckWords() error {
	var faults invalid.Faults
	if strings.TrimSpace(d.Customer) == "" {
		faults.Add("customer", reason.Of("order.who-for-write-name"))
	}
	for name, text := range map[string]string{"customer": d.Customer, "phone": d.Phone, "occasion": d.Occasion,
		"place": d.Address, "mail": d.Mail} {
		if len([]rune(text)) > 200 {
			faults.Add(name, reason.Of("order.this-longer-than-letters-put"))
		}
		if strings.ContainsFunc(text, func(r rune) bool { return r < ' ' }) {
			faults.Add(name, reason.Of("order.this-holds-line-break-or"))
		}
	}
	for i, l := range d.Lines {
		if len([]rune(l.Note)) > 500 {
			faults.Add(fmt.Sprintf("lines[%d].note", i), reason.Of("order.line-note-holds-at-most"))
		}
	}
	if len([]rune(d.Notes)) > 5000 {
		faults.Add("notes", reason.Of("order.notes-hold-at-most-letters"))
	}
	if d.Mail != "" {
		if _, err := mail.ParseAddress(d.Mail); err != nil {
			faults.Add("mail", reason.Of("order.not-mail-address-write-like", reason.Name(d.Mail)))
		}
	}
	if d.Way != Pickup && d.Way != Delivery {
		faults.Add("way", reason.Of("order.say-whether-picked-up-or"))
	}
	if d.Way == Delivery && strings.TrimSpace(d.Address) == "" {
		faults.Add("place", reason.Of("order.where-delivered-to-write-place"))
	}
	return faults.Err()
}
