package orders

import (
	"fmt"
	"strings"
	"time"

	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/paper"
)

// quotePDF prints a quote for the customer.
func quotePDF(p QuotePage) ([]byte, error) {
	q, words := p.Quote, p.words
	zone, err := time.LoadLocation(q.Zone)
	if err != nil {
		zone = time.UTC
	}
	moment := func(t time.Time) (reason.Date, reason.Clock) {
		t = t.In(zone)
		return reason.Date(t.Format(time.DateOnly)), reason.Clock(t.Hour()*60 + t.Minute())
	}
	whom := reason.Series{reason.Name(q.Customer)}
	if q.Occasion != "" {
		whom = append(whom, reason.Name(q.Occasion))
	}
	day, clock := moment(p.Expires)
	s := paper.Headed(q.Kitchen, words.Of("paper.quote-for", whom, day, clock), p.logo)
	lines := []string{}
	for _, l := range q.Lines {
		lines = append(lines, fmt.Sprintf("%d %s: %s", l.Count, words.Word(l.Sold), l.Name))
	}
	s.Part(words.Of("paper.what"), lines...)
	how := reason.Series{reason.Of("paper.picked-up")}
	if q.Way == order.Delivery {
		how = reason.Series{reason.Of("paper.delivered")}
	}
	if q.Place != "" {
		how = append(how, reason.Name(q.Place))
	}
	day, clock = moment(q.From)
	_, to := moment(q.To)
	s.Part(words.Of("paper.when"), words.Value(how), words.Of("paper.window", day, clock, to))
	amount := func(m price.Money) reason.Money { return reason.Money{Amount: m.Amount, Currency: m.Currency} }
	money := []string{words.Value(amount(q.Price))}
	switch {
	case q.Tax != nil && q.TaxIn:
		money = append(money, words.Of("paper.tax-included", amount(*q.Tax)))
	case q.Tax != nil:
		money = append(money, words.Of("paper.tax", amount(*q.Tax)), words.Of("paper.total-due", amount(q.Gross)))
	}
	if q.Deposit != nil {
		money = append(money, words.Of("paper.deposit", amount(*q.Deposit)))
	}
	s.Part(words.Of("paper.price"), money...)
	contains := words.Of("paper.no-allergens")
	if len(q.Allergens) > 0 {
		contains = strings.Join(q.Allergens, ", ")
	}
	s.Part(words.Of("paper.contains"), contains)
	if len(q.FreeFrom) > 0 {
		s.Part(words.Of("paper.made-without"), strings.Join(q.FreeFrom, ", "))
	}
	s.Part(words.Of("paper.storage"), words.All(q.Keeping)...)
	if len(q.Serving) > 0 {
		s.Part(words.Of("paper.serving"), words.All(q.Serving)...)
	}
	if len(q.Terms) > 0 {
		s.Part(words.Of("paper.cancelling"), words.All(q.Terms)...)
	}
	if len(p.Statements) > 0 {
		s.Part("", p.Statements...)
	}
	return s.Bytes(words.Lacking)
}
