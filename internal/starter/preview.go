package starter

import (
	"context"
	"fmt"

	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/start"
	"zestytin/core/treat"
	"zestytin/internal/text"
)

// Row is something that must be bought, in its usual pack.
type Row struct {
	Name      string        `json:"name"`
	Packaging bool          `json:"packaging"`
	Shown     measure.Shown `json:"shown" doc:"The pack, readable"`
	start.Bought
}

// Offer is what a treat would be sold for.
type Offer struct {
	Family treat.Family `json:"family"`
	Name   string       `json:"name"`
	Count  int          `json:"count" doc:"Good pieces or bags that a customer would ask for"`
	Start  int          `json:"start"`
	Hands  si.Minutes   `json:"hands"`
	Price  price.Money  `json:"price"`
	Why    batch.Why    `json:"why"`
}

// Preview is what the answers would set out.
type Preview struct {
	Rows     []Row   `json:"rows"`
	Offers   []Offer `json:"offers"`
	Holds    *Holds  `json:"holds,omitempty" doc:"What the longest day has time for; not there where nobody works"`
	Hourly   string  `json:"hourly"`
	Overhead string  `json:"overhead"`
	Currency string  `json:"currency"`
}

// Holds is how many of the first treat the longest day of the week has time for.
type Holds struct {
	Weekday int    `json:"weekday" doc:"0 is Sunday"`
	Name    string `json:"name"`
	Count   int    `json:"count" doc:"Of the treat; nothing else made that day"`
}

// longest day of a week by the minutes of hands that it has.
func longest(week [][]Span) (weekday int, minutes si.Minutes) {
	for d, spans := range week {
		var sum si.Minutes
		for _, x := range spans {
			from, to := clockMinute(x.From), clockMinute(x.To)
			sum += max(to-from, 0) * si.Minutes(x.Hands)
		}
		if sum > minutes {
			weekday, minutes = d, sum
		}
	}
	return weekday, minutes
}

// clockMinute of HH:MM; 0 where it is none, which is refused elsewhere.
func clockMinute(text string) si.Minutes {
	var h, m int
	if n, err := fmt.Sscanf(text, "%d:%d", &h, &m); err != nil || n != 2 {
		return 0
	}
	return si.Minutes(60*h + m)
}

func (s *Starter) preview(ctx context.Context, in *struct{ Body Answers }) (*struct{ Body Preview }, error) {
	w := text.Of(ctx)
	set, err := start.SetOut(in.Body.core(), w.Step)
	if err != nil {
		return nil, err
	}
	p := Preview{Rows: []Row{}, Offers: []Offer{}, Hourly: set.Country.Hourly, Overhead: set.Country.Overhead,
		Currency: set.Country.Currency}
	for _, i := range set.Ingredients {
		p.Rows = append(p.Rows, Row{i.Name, false, measure.Show(i.PaidFor, measure.Substance{}), i.Bought})
	}
	for _, x := range set.Supplies {
		p.Rows = append(p.Rows, Row{x.Name, true, measure.Show(x.PaidFor, measure.Substance{}), x.Bought})
	}
	var base *order.Inputs
	if err := s.In(ctx, func(tx pgx.Tx) (err error) { base, err = s.Inputs(ctx, tx); return err }); err != nil {
		return nil, err
	}
	base.Extent = order.FiguresOnly
	k := set.Inputs(*base)
	estimate := func(t start.Treat, times int) (*order.Estimate, error) {
		return order.Compute(ctx, &order.Draft{Way: order.Pickup,
			Lines: []order.Line{{Treat: ident.Treat(t.Formula.Family), Count: t.Good * times}}}, k)
	}
	for i, t := range set.Treats {
		of := t.Formula.Family
		r, err := estimate(t, 1)
		if err != nil {
			return nil, err
		}
		if day, minutes := longest(in.Body.Week); i == 0 && minutes > 0 {
			times, err := start.TimesIn(minutes, func(times int) (si.Minutes, error) {
				more, err := estimate(t, times)
				if err != nil {
					return 0, err
				}
				return more.Hands, nil
			})
			if err != nil {
				return nil, err
			}
			p.Holds = &Holds{day, w.Say(t.Name), times * t.Good}
		}
		p.Offers = append(p.Offers, Offer{Family: of, Name: w.Say(t.Name), Count: t.Good, Start: r.Lines[0].Start,
			Hands: r.Hands, Price: r.Money.Asked.Money, Why: r.Money.Asked.Why})
	}
	return &struct{ Body Preview }{p}, nil
}
