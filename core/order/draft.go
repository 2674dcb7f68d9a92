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
	"zestytin/core/invalid"
	"zestytin/core/price"
)

// Way that an order reaches its customer.
type Way string

const (
	Pickup   Way = "pickup"
	Delivery Way = "delivery"
)

// Ways that there are.
func Ways() []Way { return []Way{Pickup, Delivery} }

// Line is a treat and how many of it.
type Line struct {
	Treat string `json:"treat"`
	Count int    `json:"count"`
	// Coating is ready sooner than couverture and tastes of less.
	Coating bool `json:"coating,omitempty"`
}

// Draft is an order as a person writes it.
type Draft struct {
	Customer string    `json:"customer"`
	Phone    string    `json:"phone,omitempty"`
	Mail     string    `json:"mail,omitempty"`
	Occasion string    `json:"occasion,omitempty"`
	Way      Way       `json:"way"`
	Place    string    `json:"place,omitempty"`
	From     time.Time `json:"from"`
	To       time.Time `json:"to"`
	Lines    []Line    `json:"lines"`
	FreeFrom []string  `json:"freeFrom"`
	Notes    string    `json:"notes,omitempty"`
	Pricing  *Pricing  `json:"pricing,omitempty"`
	Discount string    `json:"discount,omitempty"`
	Distance float64   `json:"distance,omitempty"`
	Cash     bool      `json:"cash,omitempty"`
}

// Pricing is what the price of an order starts from.
type Pricing struct {
	By    price.Basis `json:"by"`
	Value string      `json:"value"`
}

// CheckPrice finds the faults of what the price follows from.
func (d *Draft) CheckPrice(currency string) error {
	var faults invalid.Faults
	if _, err := d.wish(currency); err != nil {
		faults.Add("pricing.value", err.Error())
	}
	if _, err := price.ReadDiscount(d.Discount, currency); err != nil {
		faults.Add("discount", err.Error())
	}
	if !(d.Distance >= 0 && d.Distance <= 2000) {
		faults.Add("distance", "The way there and back is between 0 and 2000 km.")
	}
	return faults.Err()
}

// wish is nil where the draft wishes nothing.
func (d *Draft) wish(currency string) (*price.Wish, error) {
	if d.Pricing == nil {
		return nil, nil
	}
	w := &price.Wish{By: d.Pricing.By}
	var err error
	switch d.Pricing.By {
	case price.ByHourly, price.ByPrice:
		w.Value, err = price.Read(d.Pricing.Value, currency)
	case price.ByMargin, price.ByMarkup:
		w.Value, err = decimal.NewFromString(d.Pricing.Value)
		switch {
		case err != nil:
			err = fmt.Errorf("%q is not a share: write digits and a point, such as 25 for 25 %%.", d.Pricing.Value)
		case w.By == price.ByMargin && (w.Value.IsNegative() || w.Value.GreaterThan(decimal.RequireFromString("0.95"))):
			err = fmt.Errorf("The margin is a share of the price between 0 and 95 %%.")
		case w.By == price.ByMarkup && (w.Value.IsNegative() || w.Value.GreaterThan(decimal.NewFromInt(20))):
			err = fmt.Errorf("The markup lies between 0 and 2000 %% of the cost.")
		}
	default:
		err = fmt.Errorf("%q is nothing that a price starts from: choose margin, markup, hourly or price.", d.Pricing.By)
	}
	return w, err
}

// MostPieces in one line.
const MostPieces = batch.MostPieces

// CheckLines finds the faults of the lines and the free-from wishes, against the treats of the kitchen.
func (d *Draft) CheckLines(treats map[string]Treat) error {
	var faults invalid.Faults
	if len(d.Lines) > 100 {
		faults.Add("lines", "An order has at most 100 lines: split it in two.")
	}
	for i, l := range d.Lines {
		path := fmt.Sprintf("lines[%d]", i)
		switch {
		case l.Count < 1:
			faults.Add(path+".count", fmt.Sprintf("%d cannot be made: write 1 or more.", l.Count))
		case l.Count > MostPieces:
			faults.Add(path+".count", fmt.Sprintf("%d is more than the %d that one line can hold: check the number, or split it into several lines.", l.Count, MostPieces))
		}
		switch t, ok := treats[l.Treat]; {
		case !ok:
			faults.Add(path+".treat", "This treat is not in your book: choose one that is.")
		case t.Formula == nil:
			faults.Add(path+".treat", fmt.Sprintf("%s has no formula yet, so nothing can be reckoned: write one in Treats first.", t.Name))
		}
	}
	for i, a := range d.FreeFrom {
		if !slices.Contains(food.AllergenNames(), a) {
			faults.Add(fmt.Sprintf("freeFrom[%d]", i), fmt.Sprintf("%q is not an allergen we know: choose one of %s.", a, strings.Join(food.AllergenNames(), ", ")))
		}
	}
	return faults.Err()
}

// CheckWindow finds the faults of the handover's window at the time now.
func (d *Draft) CheckWindow(now time.Time) error {
	var faults invalid.Faults
	switch {
	case d.To.Before(d.From):
		faults.Add("to", "The window ends before it starts: make the end later than the start.")
	case d.To.Equal(d.From):
		faults.Add("to", "The window has no length: leave at least a few minutes between start and end.")
	case d.To.Sub(d.From) > 24*time.Hour:
		faults.Add("to", "The window is longer than a day: choose a day and two times.")
	}
	if d.To.Before(now) {
		faults.Add("from", "The handover lies in the past: choose a day that is still to come.")
	}
	if d.From.After(now.AddDate(2, 0, 0)) {
		faults.Add("from", "The handover is more than two years away: check the year.")
	}
	return faults.Err()
}

// CheckWords finds the faults of what is written about the customer.
func (d *Draft) CheckWords() error {
	var faults invalid.Faults
	if strings.TrimSpace(d.Customer) == "" {
		faults.Add("customer", "Who is it for? Write a name.")
	}
	for name, text := range map[string]string{"customer": d.Customer, "phone": d.Phone, "occasion": d.Occasion, "place": d.Place, "mail": d.Mail} {
		if len([]rune(text)) > 200 {
			faults.Add(name, "This is longer than 200 letters: put the rest into the notes.")
		}
		if strings.ContainsFunc(text, func(r rune) bool { return r < ' ' }) {
			faults.Add(name, "This holds a line break or another control character: keep it to one line.")
		}
	}
	if len([]rune(d.Notes)) > 5000 {
		faults.Add("notes", "Notes hold at most 5000 letters.")
	}
	if d.Mail != "" {
		if _, err := mail.ParseAddress(d.Mail); err != nil {
			faults.Add("mail", fmt.Sprintf("%q is not a mail address: write it like name@place.example.", d.Mail))
		}
	}
	if d.Way != Pickup && d.Way != Delivery {
		faults.Add("way", "Say whether it is picked up or delivered: pickup or delivery.")
	}
	if d.Way == Delivery && strings.TrimSpace(d.Place) == "" {
		faults.Add("place", "Where is it delivered to? Write the place.")
	}
	return faults.Err()
}
