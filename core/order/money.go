package order

import (
	"fmt"
	"math"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
)

// Amount is a sum of money and how it came about.
type Amount struct {
	price.Money
	Why batch.Why `json:"why"`
}

// Sum is the money of an order. The lines from Ingredients to Card add up to Total; Base less Discount and with Rush and Rounded is Asked;
// Net and Tax are Gross; Left is Net less Total.
type Sum struct {
	Ingredients Amount   `json:"ingredients"`
	Packaging   Amount   `json:"packaging"`
	Hands       Amount   `json:"hands"`
	Overhead    Amount   `json:"overhead"`
	Drive       *Amount  `json:"drive,omitempty"`
	Card        *Amount  `json:"card,omitempty"`
	Total       Amount   `json:"total"`
	Base        Amount   `json:"base"`
	Discount    *Amount  `json:"discount,omitempty"`
	Rush        *Amount  `json:"rush,omitempty"`
	Rounded     *Amount  `json:"rounded,omitempty"`
	AtMargin    Amount   `json:"atMargin"`
	Asked       Amount   `json:"asked"`
	Net         Amount   `json:"net"`
	Tax         *Amount  `json:"tax,omitempty"`
	Gross       Amount   `json:"gross"`
	Deposit     *Amount  `json:"deposit,omitempty"`
	Left        Amount   `json:"left"`
	Margin      *float64 `json:"margin,omitempty"`
	Markup      *float64 `json:"markup,omitempty"`
	PerHour     *Amount  `json:"perHour,omitempty"`
	Planned     *Beside  `json:"planned,omitempty"`
}

// Beside is an order made with what is planned already.
type Beside struct {
	Hands   int     `json:"hands"`
	Total   Amount  `json:"total"`
	PerHour *Amount `json:"perHour,omitempty"`
}

// Market is what others ask for a dozen, as the seller has seen it.
type Market struct {
	Low  string `json:"low"`
	High string `json:"high"`
}

// Check finds what cannot be. The error is an *invalid.Error.
func (m *Market) Check(currency string) error {
	var f invalid.Faults
	low, err := price.Read(m.Low, currency)
	if err != nil {
		f.Add("low", err.Error())
	}
	high, err := price.Read(m.High, currency)
	if err != nil {
		f.Add("high", err.Error())
	} else if high.LessThan(low) || high.IsZero() {
		f.Add("high", "The highest price that you have seen cannot be below the lowest, nor 0.")
	}
	return f.Err()
}

// Stand is where a price stands in the market.
type Stand struct {
	Low   price.Money `json:"low"`
	High  price.Money `json:"high"`
	Dozen price.Money `json:"dozen"`
	Text  string      `json:"text"`
}

func (m *Market) stand(dozen decimal.Decimal, currency string) *Stand {
	low, high := decimal.RequireFromString(m.Low), decimal.RequireFromString(m.High)
	s := &Stand{Low: price.In(currency, low), High: price.In(currency, high), Dozen: price.In(currency, dozen)}
	switch {
	case dozen.LessThan(low):
		s.Text = fmt.Sprintf("%s a dozen is below all that you have seen: others ask %s to %s.", s.Dozen.Amount, s.Low.Amount, s.High.Amount)
	case dozen.GreaterThan(high):
		s.Text = fmt.Sprintf("%s a dozen is above all that you have seen: others ask %s to %s.", s.Dozen.Amount, s.Low.Amount, s.High.Amount)
	case high.Equal(low):
		s.Text = fmt.Sprintf("%s a dozen is what others ask.", s.Dozen.Amount)
	default:
		share, _ := dozen.Sub(low).Div(high.Sub(low)).Float64()
		s.Text = fmt.Sprintf("%s a dozen: others ask %s to %s, this is %s of the way up.", s.Dozen.Amount, s.Low.Amount, s.High.Amount, measure.Percent(math.Round(share*100)/100))
	}
	return s
}

// money works out cost and price, and splits both over the lines.
func (r *Reckoning) money(d *Draft, k *Kitchen) error {
	currency := k.Rates.Currency
	ingredients, packaging, pieces := decimal.Zero, decimal.Zero, 0
	for _, n := range r.Needs {
		ingredients = ingredients.Add(decimal.RequireFromString(n.Cost.Amount))
	}
	for _, p := range r.Packs {
		packaging = packaging.Add(p.Cost.Round(price.Decimals(currency)))
	}
	for _, l := range r.Lines {
		pieces += l.Count
	}
	cost := price.CostOf(ingredients, packaging, r.Hands, d.Distance, k.Rates, k.Terms)
	a := price.Asking{Cost: cost, Minutes: r.Hands, Pieces: pieces, Wish: k.usual(), Notice: k.notice(d), Cash: d.Cash, Agreed: k.Standing.Agreed}
	a.Discount, _ = price.ReadDiscount(d.Discount, currency) // checked
	if w, _ := d.wish(currency); w != nil {
		a.Wish = *w
	}
	p, err := price.Of(a, k.Rates, k.Terms)
	if err != nil {
		return &invalid.Error{Fields: []invalid.Field{{Path: "pricing.value", Says: err.Error()}}}
	}
	r.Money = r.sum(a, p, k)
	plain := a
	plain.Wish, plain.Agreed = k.usual(), nil
	if at, err := price.Of(plain, k.Rates, k.Terms); err == nil {
		r.Money.AtMargin = Amount{price.In(currency, at.Asked), fmt.Sprintf("Cost %s, of which the price is to leave %s.", at.Total.StringFixed(price.Decimals(currency)), measure.Percent(k.Rates.Margin.InexactFloat64()))}
	}
	if r.When.Fits {
		r.Money.Planned = r.beside(a, p, k)
	}
	r.share(p, k)
	return nil
}

// usual is the kitchen's own wish.
func (k *Kitchen) usual() price.Wish { return price.Wish{By: price.ByMargin, Value: k.Rates.Margin} }

// notice is the days between writing the order and its handover; without a handover there is time enough.
func (k *Kitchen) notice(d *Draft) int {
	if d.From.IsZero() {
		return math.MaxInt32
	}
	written := k.Standing.Written
	if written.IsZero() {
		written = k.Now
	}
	return max(k.Calendar.DayOf(d.From)-k.Calendar.DayOf(written), 0)
}

func (r *Reckoning) sum(a price.Asking, p price.Price, k *Kitchen) Sum {
	c, rates, terms := a.Cost, k.Rates, k.Terms
	places := price.Decimals(rates.Currency)
	money := func(d decimal.Decimal, why string, args ...any) Amount {
		return Amount{price.In(rates.Currency, d), fmt.Sprintf(why, args...)}
	}
	maybe := func(d decimal.Decimal, why string, args ...any) *Amount {
		if d.IsZero() {
			return nil
		}
		amount := money(d, why, args...)
		return &amount
	}
	text := func(d decimal.Decimal) string { return d.StringFixed(places) }
	s := Sum{
		Ingredients: money(c.Ingredients, "What is used up of %d ingredients, at what was paid for it; reclaimed chocolate counts %s of its price.", len(r.Needs), measure.Percent(terms.Reclaim)),
		Packaging:   money(c.Packaging, "%d kinds of packaging, piece by piece.", len(r.Packs)),
		Hands:       money(c.Hands, "%s of hands at %s an hour.", measure.Minutes(r.Hands), text(rates.Hourly)),
		Overhead:    money(c.Overhead, "%s at %s an hour for heat, light and wear.", measure.Minutes(r.Hands), text(rates.Overhead)),
		Drive:       maybe(c.Drive, "The way there and back at %s a kilometre.", terms.Drive),
		Card:        maybe(p.Card, "%s of the %s that the customer pays, and %s.", measure.Percent(terms.CardShare), text(p.Gross), terms.CardFixed),
		Base:        money(p.Base, "%s", baseWhy(a, p, text)),
		Discount:    maybe(p.Discount.Neg(), "A discount of %s on %s.", discountText(a.Discount, text), text(p.Base)),
		Rush:        maybe(p.Rush, "With %d days of notice or fewer you add %s.", p.Within, measure.Percent(shareOf(terms, a.Notice))),
		Asked:       money(p.Asked, "%s", askedWhy(a, p, text)),
		Net:         money(p.Net, "%s less tax %s.", text(p.Gross), text(p.Tax)),
		Tax:         maybe(p.Tax, "%s tax, %s the price.", measure.Percent(terms.Tax), map[bool]string{true: "in", false: "on top of"}[terms.TaxIncluded]),
		Gross:       money(p.Gross, "%s and tax %s.", text(p.Net), text(p.Tax)),
		Deposit:     maybe(p.Deposit, "%s of %s in advance.", measure.Percent(terms.Deposit), text(p.Gross)),
		Left:        money(p.Left, "Price %s less cost %s.", text(p.Net), text(p.Total)),
		Margin:      share(p.Margin), Markup: share(p.Markup),
	}
	lines := []string{"Ingredients " + text(c.Ingredients), "packaging " + text(c.Packaging), "hands " + text(c.Hands), "overhead " + text(c.Overhead)}
	for _, l := range []struct {
		name string
		d    decimal.Decimal
	}{{"driving ", c.Drive}, {"card ", p.Card}} {
		if !l.d.IsZero() {
			lines = append(lines, l.name+text(l.d))
		}
	}
	s.Total = money(p.Total, "%s.", strings.Join(lines, " + "))
	if p.Least {
		s.Rounded = maybe(p.Rounded, "Up to your minimum of %s for an order.", terms.Minimum)
	} else {
		s.Rounded = maybe(p.Rounded, "Rounded up, as is your habit.")
	}
	if p.PerHour != nil {
		s.PerHour = maybe(*p.PerHour, "Price %s less all cost but hands, %s, over %s of hands.", text(p.Net), text(p.Total.Sub(c.Hands)), measure.Minutes(r.Hands))
		if s.PerHour == nil {
			zero := money(decimal.Zero, "Price %s less all cost but hands leaves nothing.", text(p.Net))
			s.PerHour = &zero
		}
	}
	return s
}

func share(d *decimal.Decimal) *float64 {
	if d == nil {
		return nil
	}
	f := d.InexactFloat64()
	return &f
}

func shareOf(t price.Terms, notice int) float64 {
	s, _ := t.Surcharge(notice)
	return s
}

func discountText(d price.Discount, text func(decimal.Decimal) string) string {
	if d.Share.IsZero() {
		return text(d.Amount)
	}
	return measure.Percent(d.Share.InexactFloat64())
}

func baseWhy(a price.Asking, p price.Price, text func(decimal.Decimal) string) string {
	percent := func() string { return measure.Percent(a.Wish.Value.InexactFloat64()) }
	switch {
	case a.Agreed != nil:
		return "The price that was quoted: it stands, also when cost or terms change."
	case a.Wish.By == price.ByPrice:
		return "The price you set."
	case a.Wish.By == price.ByMarkup:
		return fmt.Sprintf("Cost and %s of it on top.", percent())
	case a.Wish.By == price.ByHourly:
		return fmt.Sprintf("All cost but hands, and %s for each hour of them.", text(a.Wish.Value))
	default:
		return fmt.Sprintf("Cost, of which the price is to leave %s: cost / (1 - %s), the card's fee and the tax reckoned in.", percent(), a.Wish.Value.String())
	}
}

func askedWhy(a price.Asking, p price.Price, text func(decimal.Decimal) string) string {
	parts := []string{strings.TrimSuffix(baseWhy(a, p, text), ".") + " (" + text(p.Base) + ")"}
	for _, l := range []struct {
		word string
		d    decimal.Decimal
	}{{"less discount ", p.Discount}, {"plus for the short notice ", p.Rush}, {"rounded up by ", p.Rounded}} {
		if !l.d.IsZero() {
			parts = append(parts, l.word+text(l.d))
		}
	}
	return strings.Join(parts, ", ") + "."
}

// beside is what the order comes to on the days that were found for it.
func (r *Reckoning) beside(a price.Asking, p price.Price, k *Kitchen) *Beside {
	b := &Beside{Hands: r.When.more()}
	c := price.CostOf(a.Cost.Ingredients, a.Cost.Packaging, b.Hands, 0, k.Rates, k.Terms)
	c.Drive = a.Cost.Drive
	a.Cost, a.Minutes, a.Agreed = c, b.Hands, &p.Asked
	with, err := price.Of(a, k.Rates, k.Terms)
	if err != nil {
		return nil
	}
	why := fmt.Sprintf("%s of hands more than without it on the days that were found: a pot that is still ready from other work is not melted again, and what is made in one go with others is tidied up once.", measure.Minutes(b.Hands))
	b.Total = Amount{price.In(k.Rates.Currency, with.Total), why}
	if with.PerHour != nil {
		b.PerHour = &Amount{price.In(k.Rates.Currency, *with.PerHour), why}
	}
	return b
}

// share splits cost and price over the lines by what each would cost by itself.
func (r *Reckoning) share(p price.Price, k *Kitchen) {
	weights := make([]float64, len(r.Lines))
	for i, l := range r.Lines {
		for _, n := range l.Card.Needs {
			weights[i] += n.Cost.InexactFloat64()
		}
		for _, pack := range l.Card.Packs {
			if s, ok := k.Supplies[pack.Supply]; ok {
				weights[i] += pack.Amount.Amount * s.Latest.InexactFloat64()
			}
		}
		hour := k.Rates.Hourly.Add(k.Rates.Overhead).InexactFloat64()
		weights[i] += hour * float64(l.Card.Hands) / 60
	}
	costs, prices := price.Split(p.Total, weights, k.Rates.Currency), price.Split(p.Asked, weights, k.Rates.Currency)
	for i := range r.Lines {
		l := &r.Lines[i]
		l.Cost, l.Price = price.In(k.Rates.Currency, costs[i]), price.In(k.Rates.Currency, prices[i])
		if m := k.Treats[l.Treat].Market; m != nil {
			l.Market = m.stand(prices[i].Mul(decimal.NewFromInt(12)).Div(decimal.NewFromInt(int64(l.Count))), k.Rates.Currency)
		}
	}
}
