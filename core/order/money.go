package order

import (
	"math"

	"github.com/shopspring/decimal"

	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Amount is a sum of money and how it came about.
type Amount struct {
	price.Money
	Why batch.Why `json:"why"`
}

// Blank is a without its amount and how it came about.
func (a Amount) Blank() any {
	type bare Amount
	return bare{Money: price.Money{Currency: a.Currency}}
}

// Sum is the money of an order. The lines from Ingredients to Card add up to Total; Base less Discount and with Rush
// and Rounded is Asked; Net and Tax are Gross; Left is Net less Total.
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
	// Listed is what the seller's own price list asks; nil where it does not have all treats.
	Listed *price.Money `json:"listed,omitempty"`
	// Doubts are what the cost rests on that nobody has paid.
	Doubts []reason.Reason `json:"doubts"`
}

// Spent is the cost by what it is for.
func (s *Sum) Spent() price.Spent {
	of := func(a *Amount) decimal.Decimal {
		if a == nil {
			return decimal.Zero
		}
		return decimal.RequireFromString(a.Amount)
	}
	return price.Spent{Cost: price.Cost{Ingredients: of(&s.Ingredients), Packaging: of(&s.Packaging),
		Hands: of(&s.Hands), Overhead: of(&s.Overhead), Drive: of(s.Drive)}, Card: of(s.Card)}
}

// Beside is an order made with what is planned already.
type Beside struct {
	Hands   si.Minutes `json:"hands"`
	Total   Amount     `json:"total"`
	PerHour *Amount    `json:"perHour,omitempty"`
}

// ListPrice is what the seller's own price list asks for so many pieces, or bags of bark, before tax.
type ListPrice struct {
	Price price.Typed `json:"price"` // decimal
	Count int         `json:"count"`
}

// Check finds what cannot be, and writes the price with the currency's decimals. The error is an *invalid.Error.
func (l *ListPrice) Check(currency string) error {
	var f invalid.Faults
	d, err := price.Read(l.Price, currency)
	if err != nil {
		f.Add("price", err)
	} else if !d.IsPositive() {
		f.Add("price", reason.Of("order.list-price-is-above-nothing"))
	}
	if l.Count < 1 || l.Count > 10_000 {
		f.Add("count", reason.Of("order.list-price-is-for-so-many"))
	}
	l.Price = price.Typed(price.In(currency, d).Amount)
	return f.Err()
}

// Listed is what the seller's price list asks for an order; nil where it does not have one of the treats.
func Listed(lines []Line, treats map[ident.Treat]Treat, currency string) *price.Money {
	if len(lines) == 0 {
		return nil
	}
	var sum decimal.Decimal
	for _, l := range lines {
		list := treats[l.Treat].List
		if list == nil || list.Count < 1 {
			return nil
		}
		each, err := decimal.NewFromString(string(list.Price))
		if err != nil {
			return nil
		}
		sum = sum.Add(each.Mul(decimal.NewFromInt(int64(l.Count))).Div(decimal.NewFromInt(int64(list.Count))))
	}
	m := price.In(currency, sum)
	return &m
}

// Market is what others ask for a dozen, as the seller has seen it.
type Market struct {
	Low  price.Typed `json:"low"`
	High price.Typed `json:"high"`
}

// Check finds what cannot be. The error is an *invalid.Error.
func (m *Market) Check(currency string) error {
	var f invalid.Faults
	low, err := price.Read(m.Low, currency)
	if err != nil {
		f.Add("low", err)
	}
	high, err := price.Read(m.High, currency)
	if err != nil {
		f.Add("high", err)
	} else if high.LessThan(low) || high.IsZero() {
		f.Add("high", reason.Of("order.highest-price-that-you-have"))
	}
	return f.Err()
}

// Stand is where a price stands in the market.
type Stand struct {
	Low   price.Money   `json:"low"`
	High  price.Money   `json:"high"`
	Dozen price.Money   `json:"dozen"`
	Text  reason.Reason `json:"text"`
}

func (m *Market) stand(dozen decimal.Decimal, currency string) *Stand {
	low, high := decimal.RequireFromString(string(m.Low)), decimal.RequireFromString(string(m.High))
	s := &Stand{Low: price.In(currency, low), High: price.In(currency, high), Dozen: price.In(currency, dozen)}
	switch {
	case dozen.LessThan(low):
		s.Text = reason.Of("order.dozen-below-all-that-you", s.Dozen.Value(), s.Low.Value(), s.High.Value())
	case dozen.GreaterThan(high):
		s.Text = reason.Of("order.dozen-above-all-that-you", s.Dozen.Value(), s.Low.Value(), s.High.Value())
	case high.Equal(low):
		s.Text = reason.Of("order.dozen-what-others-ask", s.Dozen.Value())
	default:
		share, _ := dozen.Sub(low).Div(high.Sub(low)).Float64()
		s.Text = reason.Of("order.dozen-others-ask-to-this", s.Dozen.Value(), s.Low.Value(), s.High.Value(),
			reason.Share(math.Round(share*100)/100))
	}
	return s
}

// money works out cost and price, and splits both over the lines.
func (r *Estimate) money(d *Draft, k *Inputs) error {
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
	a := price.Asking{Cost: cost, Minutes: r.Hands, Pieces: pieces, Wish: k.usual(), Notice: k.notice(d), Cash: d.Cash,
		Agreed: k.Commitments.Agreed}
	a.Discount, _ = price.ReadDiscount(d.Discount, currency) // checked
	if w, _ := d.wish(currency); w != nil {
		a.Wish = *w
	}
	p, err := price.Of(a, k.Rates, k.Terms)
	if err != nil {
		return invalid.At("pricing.value", err)
	}
	r.Money = r.sum(a, p, k)
	r.Money.Listed = Listed(d.Lines, k.Treats, currency)
	plain := a
	plain.Wish, plain.Agreed = k.usual(), nil
	if at, err := price.Of(plain, k.Rates, k.Terms); err == nil {
		r.Money.AtMargin = Amount{price.In(currency, at.Asked),
			because("order.cost-which-price-to-leave", price.In(currency, at.Total).Value(),
				reason.Share(k.Rates.Margin.InexactFloat64()))}
	}
	r.Money.Doubts = r.doubts()
	if r.When.Fits {
		r.Money.Planned = r.beside(a, p, k)
	}
	r.share(p, k)
	return nil
}

// doubts of the cost: prices that are estimates, and what has none.
func (r *Estimate) doubts() []reason.Reason {
	list, of := []reason.Reason{}, map[larder.Basis]reason.List{}
	for _, n := range r.Needs {
		of[n.Basis] = append(of[n.Basis], reason.Name(n.Name))
	}
	for _, p := range r.Packs {
		of[p.Basis] = append(of[p.Basis], reason.Name(p.Name))
	}
	if guessed := of[larder.OnEstimate]; len(guessed) > 0 {
		list = append(list, reason.Of("order.prices-are-estimates", guessed))
	}
	if free := of[larder.OnNothing]; len(free) > 0 {
		list = append(list, reason.Of("order.no-price-is-known", free))
	}
	return list
}

// usual is the kitchen's own wish.
func (k *Inputs) usual() price.PriceTarget {
	return price.PriceTarget{By: price.ByMargin, Value: k.Rates.Margin}
}

// notice is the days between writing the order and its handover; without a handover there is time enough.
func (k *Inputs) notice(d *Draft) int {
	if d.From.IsZero() {
		return math.MaxInt32
	}
	written := k.Commitments.Written
	if written.IsZero() {
		written = k.Now
	}
	return max(k.Calendar.DayOf(d.From)-k.Calendar.DayOf(written), 0)
}

func (r *Estimate) sum(a price.Asking, p price.Price, k *Inputs) Sum {
	c, rates, terms := a.Cost, k.Rates, k.Terms
	text := func(d decimal.Decimal) reason.Money { return price.In(rates.Currency, d).Value() }
	money := func(d decimal.Decimal, why string, with ...reason.Value) Amount {
		return Amount{price.In(rates.Currency, d), because(why, with...)}
	}
	maybe := func(d decimal.Decimal, why string, with ...reason.Value) *Amount {
		if d.IsZero() {
			return nil
		}
		return new(money(d, why, with...))
	}
	of := func(amount string) reason.Money { return reason.Money{Amount: amount, Currency: rates.Currency} }
	tax := "order.tax-on-top-of-price"
	if terms.TaxIncluded {
		tax = "order.tax-in-price"
	}
	s := Sum{
		Ingredients: money(c.Ingredients, "order.what-used-up-ingredients-at", reason.Int(len(r.Needs)),
			reason.Share(terms.Reclaim)),
		Packaging: money(c.Packaging, "order.kinds-packaging-piece-by-piece", reason.Int(len(r.Packs))),
		Hands:     money(c.Hands, "order.hands-at-hour", reason.Minutes(r.Hands), text(rates.Hourly)),
		Overhead:  money(c.Overhead, "order.at-hour-for-heat-light", reason.Minutes(r.Hands), text(rates.Overhead)),
		Drive:     maybe(c.Drive, "order.way-there-and-back-at", of(terms.Drive)),
		Card: maybe(p.Card, "order.that-customer-pays-and", reason.Share(terms.CardShare), text(p.Gross),
			of(terms.CardFixed)),
		Base:     Amount{price.In(rates.Currency, p.Base), batch.Why{baseWhy(a, text)}},
		Discount: maybe(p.Discount.Neg(), "order.discount-on", discountOf(a.Discount, text), text(p.Base)),
		Rush: maybe(p.Rush, "order.with-days-notice-or-fewer", reason.Int(p.Within),
			reason.Share(shareOf(terms, a.Notice))),
		Asked:   Amount{price.In(rates.Currency, p.Asked), askedWhy(a, p, text)},
		Net:     money(p.Net, "order.less-tax", text(p.Gross), text(p.Tax)),
		Tax:     maybe(p.Tax, tax, reason.Share(terms.Tax)),
		Gross:   money(p.Gross, "order.and-tax", text(p.Net), text(p.Tax)),
		Deposit: maybe(p.Deposit, "order.in-advance", reason.Share(terms.Deposit), text(p.Gross)),
		Left:    money(p.Left, "order.price-less-cost", text(p.Net), text(p.Total)),
		Margin:  share(p.Margin), Markup: share(p.Markup),
	}
	var lines reason.List
	for _, l := range []struct {
		code string
		d    decimal.Decimal
	}{{"ingredients", c.Ingredients}, {"packaging", c.Packaging}, {"hands", c.Hands}, {"overhead", c.Overhead},
		{"drive", c.Drive}, {"card", p.Card}} {
		if len(lines) < 4 || !l.d.IsZero() {
			lines = append(lines, reason.Of("order.cost-of-"+l.code, text(l.d)))
		}
	}
	s.Total = money(p.Total, "order.total", lines)
	if p.Least {
		s.Rounded = maybe(p.Rounded, "order.up-to-your-minimum-for", of(terms.Minimum))
	} else {
		s.Rounded = maybe(p.Rounded, "order.rounded-up-as-your-habit")
	}
	if p.PayPerHour != nil {
		s.PerHour = maybe(*p.PayPerHour, "order.price-less-all-cost-but", text(p.Net), text(p.Total.Sub(c.Hands)),
			reason.Minutes(r.Hands))
		if s.PerHour == nil {
			s.PerHour = new(money(decimal.Zero, "order.price-less-all-cost-but-2", text(p.Net)))
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

func discountOf(d price.Discount, text func(decimal.Decimal) reason.Money) reason.Value {
	if d.Share.IsZero() {
		return text(d.Amount)
	}
	return reason.Share(d.Share.InexactFloat64())
}

func baseWhy(a price.Asking, text func(decimal.Decimal) reason.Money) reason.Reason {
	share := reason.Share(a.Wish.Value.InexactFloat64())
	switch {
	case a.Agreed != nil:
		return reason.Of("order.price-that-was-quoted-stands")
	case a.Wish.By == price.ByPrice:
		return reason.Of("order.price-you-set")
	case a.Wish.By == price.ByMarkup:
		return reason.Of("order.cost-and-on-top", share)
	case a.Wish.By == price.ByHourly:
		return reason.Of("order.all-cost-but-hands-and", text(a.Wish.Value))
	default:
		return reason.Of("order.cost-which-price-to-leave-2", share, reason.Name(a.Wish.Value.String()))
	}
}

func askedWhy(a price.Asking, p price.Price, text func(decimal.Decimal) reason.Money) batch.Why {
	why := batch.Why{baseWhy(a, text), reason.Of("order.comes-to", text(p.Base))}
	for _, l := range []struct {
		code string
		d    decimal.Decimal
	}{{"order.less-discount", p.Discount}, {"order.plus-for-short-notice", p.Rush},
		{"order.rounded-up-by", p.Rounded}} {
		if !l.d.IsZero() {
			why.Add(l.code, text(l.d))
		}
	}
	return why
}

// beside is what the order comes to on the days that were found for it.
func (r *Estimate) beside(a price.Asking, p price.Price, k *Inputs) *Beside {
	b := &Beside{Hands: r.When.addedMinutes()}
	c := price.CostOf(a.Cost.Ingredients, a.Cost.Packaging, b.Hands, 0, k.Rates, k.Terms)
	c.Drive = a.Cost.Drive
	a.Cost, a.Minutes, a.Agreed = c, b.Hands, &p.Asked
	with, err := price.Of(a, k.Rates, k.Terms)
	if err != nil {
		return nil
	}
	why := because("order.hands-more-than-without-on", reason.Minutes(b.Hands))
	b.Total = Amount{price.In(k.Rates.Currency, with.Total), why}
	if with.PayPerHour != nil {
		b.PerHour = &Amount{price.In(k.Rates.Currency, *with.PayPerHour), why}
	}
	return b
}

// share splits cost and price over the lines by what each would cost by itself.
func (r *Estimate) share(p price.Price, k *Inputs) {
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
			l.Market = m.stand(prices[i].Mul(decimal.NewFromInt(12)).Div(decimal.NewFromInt(int64(l.Count))),
				k.Rates.Currency)
		}
	}
}
