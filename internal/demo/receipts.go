package demo

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/internal/account"
	"zestytin/internal/larder"
)

// terms of the demo kitchen.
func terms() price.Terms {
	t := price.Usual()
	t.Minimum, t.Deposit, t.Drive, t.QuoteDays = "20", 0.3, "0.35", 5
	t.Rush = []price.Notice{{Days: 3, Share: 0.15}}
	return t
}

func (k *kitchen) terms(ctx context.Context, tx pgx.Tx) error {
	if err := account.SetTerms(ctx, tx, terms(), []int{2, 6}); err != nil { // Maren shops on Tuesdays and Saturdays
		return err
	}
	own, _, err := account.Load(ctx, tx)
	if err != nil {
		return err
	}
	own.Hourly, own.Address = "18", "3 Boathouse Lane, Lakeside"
	_, err = account.Store(ctx, tx, own)
	return err
}

// bought is a line of a receipt.
type bought struct {
	name  string
	packs int
	size  measure.Quantity
	paid  string
	keeps int // days from the purchase; 0: long
}

// trip to a shop.
type trip struct {
	day   int // from today
	shop  string
	lines []bought
}

// trips of the last weeks, in order.
func trips() []trip {
	q, g := measure.Of, measure.Grams
	return []trip{
		{-25, "Mill Street wholesale", []bought{
			{"Dark 60%", 2, g(2500), "66.00", 330}, {"Milk 38%", 1, g(2500), "34.50", 300},
			{"Hazelnuts, chopped", 1, g(1000), "19.80", 120}, {"Nougat paste", 1, g(400), "6.80", 200},
			{"Granulated sugar", 1, q(4, measure.Pound), "3.20", 0}, {"Corn starch", 1, q(1, measure.Pound), "1.90", 0},
			{"Icing sugar", 1, q(2, measure.Pound), "2.40", 0},
		}},
		{-24, "Harbour market", []bought{
			{"White coating", 2, q(12, measure.Ounce), "7.60", 240},
			{"Lake blue coating", 2, q(12, measure.Ounce), "9.20", 240}, {"Cardamom malt mix", 2, g(800), "19.60", 180},
			{"Mini marshmallows", 2, q(10, measure.Ounce), "5.00", 60},
			{"Crushed malt", 1, g(250), "4.20", 120}, {"Dried apricots", 1, g(500), "7.60", 100},
			{"Sour cherries, dried", 1, g(400), "8.60", 150}, {"Sea salt flakes", 1, g(250), "5.00", 0},
			{"Pistachios, chopped", 1, g(400), "13.20", 90},
			{"Heavy cream", 2, q(1, measure.Pint), "6.20", 21}, {"Butter", 1, q(1, measure.Pound), "4.80", 60},
			{"Walnuts, chopped", 1, q(1, measure.Pound), "9.20", 90},
			{"Bergamot oil", 1, q(15, measure.Millilitre), "8.50", 400},
			{"Pretzel rods", 1, q(10, measure.Ounce), "3.20", 60}, {"Sesame seed", 1, g(250), "4.40", 120},
		}},
		{-14, "Harbour market", []bought{{"Dark 60%", 1, g(1000), "14.50", 320},
			{"Milk 38%", 2, g(1000), "29.40", 280}, {"Cardamom malt mix", 1, g(800), "9.60", 180},
			{"Pistachios, chopped", 1, g(400), "12.60", 100}}},
		{-9, "Mill Street wholesale", []bought{{"Dark 60%", 1, g(2500), "34.00", 340},
			{"Hazelnuts, chopped", 1, g(500), "11.40", 120}, {"Clear bags", 1, q(100, measure.Each), "8.40", 0},
			{"Boxes for 12", 1, q(10, measure.Each), "8.20", 0}}},
		{-5, "Harbour market", []bought{{"Milk 38%", 1, g(1000), "15.20", 290},
			{"Heavy cream", 1, q(1, measure.Pint), "3.10", 12},
			{"Mini marshmallows", 1, q(10, measure.Ounce), "2.60", 60}}},
		{-2, "Farm stand", []bought{{"Strawberries", 1, q(1, measure.Pound), "4.80", 2}}},
		{-2, "Harbour market", []bought{{"Butter", 1, q(1, measure.Pound), "4.90", 70}}},
	}
}

// shop does the trips up to a day that were not done before.
func (k *kitchen) shop(ctx context.Context, until int) error {
	for len(k.trips) > 0 && k.trips[0].day <= until {
		t := k.trips[0]
		k.trips = k.trips[1:]
		k.clock = k.at(t.day, "07:40")
		r := larder.Receipt{Shop: t.shop, Day: k.cal.Date(t.day)}
		for _, b := range t.lines {
			id, ok := k.ids[b.name]
			if !ok {
				return fmt.Errorf("%s is not in the larder", b.name)
			}
			line := larder.ReceiptLine{Item: uuid.MustParse(id), Packs: b.packs, Size: b.size, Paid: b.paid}
			if b.keeps > 0 {
				line.BestBefore = k.cal.Date(t.day + b.keeps)
			}
			r.Lines = append(r.Lines, line)
		}
		if err := k.in(ctx, func(ctx context.Context, tx pgx.Tx) error {
			_, err := k.app.Larder.Receive(ctx, tx, r, "bought")
			return err
		}); err != nil {
			return fmt.Errorf("%s on day %d: %w", t.shop, t.day, err)
		}
	}
	return nil
}

// offers that Maren knows of without having bought them.
func (k *kitchen) offers(ctx context.Context, tx pgx.Tx) error {
	g := measure.Grams
	for _, o := range []struct {
		name string
		of   larder.Offer
	}{
		{"Dark 60%", larder.Offer{Shop: "Harbour market", Size: g(500), Price: "8.20"}},
		{"Strawberries", larder.Offer{Shop: "Farm stand", Size: measure.Of(2, measure.Pound), Price: "8.90"}},
		{"Milk 38%", larder.Offer{Shop: "Mill Street wholesale", Size: g(2500), Price: "35.00"}},
	} {
		if err := k.app.Larder.AddOffer(ctx, tx, uuid.MustParse(k.ids[o.name]), o.of); err != nil {
			return fmt.Errorf("%s: %w", o.name, err)
		}
	}
	return nil
}
