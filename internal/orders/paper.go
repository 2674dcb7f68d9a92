package orders

import (
	"fmt"
	"strings"
	"time"

	"zestytin/core/order"
	"zestytin/internal/platform/paper"
)

// quotePDF prints a quote for the customer.
func quotePDF(p QuotePage) ([]byte, error) {
	q, words := p.Quote, p.words
	zone, err := time.LoadLocation(q.Zone)
	if err != nil {
		zone = time.UTC
	}
	below := "A quote for " + q.Customer
	if q.Occasion != "" {
		below += ", " + q.Occasion
	}
	s := paper.New(q.Kitchen, below+". It holds until "+p.Expires.In(zone).Format("Monday 2 January 2006, 15:04")+".")
	lines := []string{}
	for _, l := range q.Lines {
		lines = append(lines, fmt.Sprintf("%d %s: %s", l.Count, l.Sold, l.Name))
	}
	s.Part("What", lines...)
	how := map[order.Fulfilment]string{order.Pickup: "Picked up", order.Delivery: "Delivered"}[q.Way]
	if q.Place != "" {
		how += ", " + q.Place
	}
	s.Part("When", how, q.From.In(zone).Format("Monday 2 January 2006, 15:04")+" to "+q.To.In(zone).Format("15:04"))
	money := []string{q.Price.Amount + " " + q.Price.Currency}
	switch {
	case q.Tax != nil && q.TaxIn:
		money = append(money, "Tax in it: "+q.Tax.Amount)
	case q.Tax != nil:
		money = append(money, "Tax on top: "+q.Tax.Amount, "To pay: "+q.Gross.Amount+" "+q.Gross.Currency)
	}
	if q.Deposit != nil {
		money = append(money, "Of it in advance: "+q.Deposit.Amount)
	}
	s.Part("Price", money...)
	contains := "None of the allergens that the law names, as far as the recipes tell."
	if len(q.Allergens) > 0 {
		contains = strings.Join(q.Allergens, ", ")
	}
	s.Part("Contains", contains)
	if len(q.FreeFrom) > 0 {
		s.Part("Left out", strings.Join(q.FreeFrom, ", "))
	}
	s.Part("Keeping", words.All(q.Keeping)...)
	if len(q.Serving) > 0 {
		s.Part("Serving", words.All(q.Serving)...)
	}
	return s.Bytes()
}
