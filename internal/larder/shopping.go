package larder

import (
	"bytes"
	"cmp"
	"context"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/larder"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (l *Larder) registerShopping(op func(id, method, path, summary string) huma.Operation) {
	file := func(o huma.Operation, kind, what string) huma.Operation {
		o.Responses = web.FileOf(kind, what)
		return o
	}
	web.Register(l.Base, op("get-shopping-list", "GET", "shopping-list",
		"What to buy for a span of days, by shop: the cheapest packs that cover what promised orders need"), l.shopping)
	web.Register(l.Base, file(op("share-shopping-list", "GET", "shopping-list.txt", "The list as text, to be sent"),
		"text/plain", "Text"), l.shoppingText)
	web.Register(l.Base, file(op("export-shopping-list", "GET", "shopping-list.csv", "The list as CSV"), "text/csv",
		"A CSV file"), l.shoppingCSV)
	tick := op("tick-shopping", "POST", "shopping-list/ticks",
		"Put a line of the list into the basket: its packs are in the larder from then on")
	tick.DefaultStatus = 201
	web.Register(l.Base, tick, l.tick)
}

// ShoppingList is what to buy.
type ShoppingList struct {
	Today  string      `json:"today" format:"date"`
	From   string      `json:"from" format:"date"`
	To     string      `json:"to" format:"date"`
	Shops  []ShopList  `json:"shops"`
	Total  price.Money `json:"total"`
	Basket []InBasket  `json:"basket" doc:"What was ticked today"`
	Ticks  int         `json:"ticks" doc:"How often something was ticked, taken out again or not: two who see the same number see the same list"`
}

// ShopList is what to buy in one shop.
type ShopList struct {
	Shop  string         `json:"shop" doc:"Empty where it is not known"`
	Lines []ShoppingLine `json:"lines"`
	Cost  price.Money    `json:"cost"`
}

// ShoppingLine is one thing to buy in one shop.
type ShoppingLine struct {
	Item      uuid.UUID     `json:"item"`
	Name      string        `json:"name"`
	Packaging bool          `json:"packaging"`
	Need      measure.Shown `json:"need" doc:"What is short, over all shops"`
	Packs     []ShopPack    `json:"packs"`
	Cost      price.Money   `json:"cost"`
	Left      measure.Shown `json:"left" doc:"Beyond the need"`
	LeftWorth price.Money   `json:"leftWorth"`
	On        string        `json:"on" format:"date" doc:"The day to buy it"`
	NotBefore string        `json:"notBefore" format:"date"`
	By        string        `json:"by" format:"date"`
	Needed    string        `json:"needed" format:"date"`
	Late      bool          `json:"late"`
	OffDay    bool          `json:"offDay" doc:"None of the seller's shopping days lies between"`
	For       []string      `json:"for"`
	Estimated bool          `json:"estimated" doc:"Its cost is a guess: nobody has paid this price, and no shop is known"`
}

// ShopPack is a pack and how many of it.
type ShopPack struct {
	Count int              `json:"count"`
	Size  measure.Quantity `json:"size"`
	Shown measure.Shown    `json:"shown"`
	Price price.Typed      `json:"price" doc:"Of one, decimal"`
}

// InBasket is what was ticked.
type InBasket struct {
	Lot  uuid.UUID     `json:"lot"`
	Name string        `json:"name"`
	Came measure.Shown `json:"came"`
	Paid price.Money   `json:"paid"`
	Shop string        `json:"shop,omitempty"`
	Used bool          `json:"used" doc:"Some of it is used already: it stays"`
}

// Days of a shopping list.
type Days struct {
	From string `query:"from" format:"date" doc:"Today when it is not given"`
	To   string `query:"to" format:"date" doc:"A fortnight on when it is not given"`
}

func (l *Larder) shopping(ctx context.Context, in *Days) (*struct{ Body ShoppingList }, error) {
	list, err := l.list(ctx, *in)
	return &struct{ Body ShoppingList }{list}, err
}

func (l *Larder) list(ctx context.Context, days Days) (ShoppingList, error) {
	list := ShoppingList{Shops: []ShopList{}, Basket: []InBasket{}}
	err := l.In(ctx, func(tx pgx.Tx) error {
		house, err := l.Context(ctx, tx)
		if err != nil {
			return err
		}
		list.Today = house.Today()
		list.From, list.To = cmp.Or(days.From, list.Today), cmp.Or(days.To, house.Calendar.Date(SoonDays))
		if list.To < list.From {
			return &invalid.Error{Fields: []invalid.Field{{Path: "to",
				Err: reason.Of("larder.span-ends-before-starts-choose")}}}
		}
		things, names, err := l.things(ctx, tx)
		if err != nil {
			return err
		}
		wants, err := l.Wants(ctx, tx, list.To)
		if err != nil {
			return err
		}
		held, err := holdings(ctx, tx, nil)
		if err != nil {
			return err
		}
		var all []larder.StockLot
		for _, of := range held {
			all = append(all, lotsOf(of)...)
		}
		buys := larder.List(things, all, wants, larder.Span{Today: list.Today, From: list.From, To: list.To,
			Days: house.Shopping})
		list.fill(buys, names, house.Currency)
		if list.Basket, err = basket(ctx, tx, names, list.Today, house.Currency); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select count(*) from lots where origin = 'shopping'`).Scan(&list.Ticks)
	})
	return list, err
}

// things of the larder with the packs they are sold in; where no pack is known, the last one that was bought.
func (l *Larder) things(ctx context.Context, tx pgx.Tx) (map[ident.Item]larder.Thing, map[ident.Item]stockItem, error) {
	things, names := map[ident.Item]larder.Thing{}, map[ident.Item]stockItem{}
	rows, err := tx.Query(ctx, `select id, false, name, unit, paid::text, paid_for, fresh_days, density, grams_each,
			estimated, (select coalesce(jsonb_agg(jsonb_build_object('id', o.id, 'shop', o.shop, 'size', o.size, 'price',
			o.price::text)), '[]') from offers o where o.kitchen_id = i.kitchen_id and o.item_id = i.id)
			from ingredients i
		union all select id, true, name, unit, paid::text, paid_for, null, null, null,
		estimated, (select coalesce(jsonb_agg(jsonb_build_object('id', o.id, 'shop', o.shop, 'size', o.size, 'price',
		o.price::text)), '[]') from offers o where o.kitchen_id = s.kitchen_id and o.item_id = s.id) from supplies s`)
	if err != nil {
		return nil, nil, err
	}
	_, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (struct{}, error) {
		var t stockItem
		var of larder.Thing
		var paid string
		var paidFor float64
		var density *float64
		var each *si.Grams
		var offers []struct {
			ID, Shop, Price string
			Size            float64
		}
		if err := row.Scan(&t.ID, &t.Packaging, &t.Name, (*string)(&t.Unit), &paid, &paidFor, &of.Fresh, &density,
			&each, &t.Estimated, &offers); err != nil {
			return struct{}{}, err
		}
		if density != nil {
			t.Substance.Density = *density
		}
		if each != nil {
			t.Substance.GramsEach = *each
		}
		of.ID = ident.Item(t.ID.String())
		whole := decimal.RequireFromString(paid)
		of.Latest = whole.Div(decimal.NewFromFloat(paidFor))
		for _, o := range offers {
			of.Offers = append(of.Offers, larder.Offer{ID: o.ID, Shop: o.Shop, Size: o.Size,
				Price: decimal.RequireFromString(o.Price)})
		}
		t.Estimated = t.Estimated && len(of.Offers) == 0 // what a shop asks is known
		if len(of.Offers) == 0 {
			of.Offers = []larder.Offer{{Size: paidFor, Price: whole}}
		}
		things[of.ID], names[of.ID] = of, t
		return struct{}{}, nil
	})
	return things, names, err
}

// fill the list with what is to be bought, by shop.
func (s *ShoppingList) fill(buys []larder.Buy, names map[ident.Item]stockItem, currency string) {
	total := decimal.Zero
	at := map[string]int{}
	costs := []decimal.Decimal{}
	for _, b := range buys {
		t := names[b.Item]
		line := ShoppingLine{Item: t.ID, Name: t.Name, Packaging: t.Packaging, Need: t.show(b.Need),
			Left: t.show(b.Left), LeftWorth: price.In(currency, b.LeftWorth),
			On: b.On, NotBefore: b.NotBefore, By: b.By, Needed: b.Needed, Late: b.Late, OffDay: b.OffDay, For: b.For,
			Estimated: t.Estimated}
		shops := []string{}
		for _, p := range b.Packs {
			if !slices.Contains(shops, p.Shop) {
				shops = append(shops, p.Shop)
			}
		}
		for _, shop := range shops {
			own, cost := line, decimal.Zero
			for _, p := range b.Packs {
				if p.Shop == shop {
					own.Packs = append(own.Packs, ShopPack{p.Count, measure.Of(p.Size, t.Unit), packed(t.Unit, p.Size),
						price.Typed(p.Price.StringFixed(price.Decimals(currency)))})
					cost = cost.Add(p.Price.Mul(decimal.NewFromInt(int64(p.Count))).Round(price.Decimals(currency)))
				}
			}
			own.Cost = price.In(currency, cost)
			i, ok := at[shop]
			if !ok {
				i = len(s.Shops)
				at[shop] = i
				s.Shops, costs = append(s.Shops, ShopList{Shop: shop, Lines: []ShoppingLine{}}),
					append(costs, decimal.Zero)
			}
			s.Shops[i].Lines = append(s.Shops[i].Lines, own)
			costs[i] = costs[i].Add(cost)
			total = total.Add(cost)
		}
	}
	for i := range s.Shops {
		s.Shops[i].Cost = price.In(currency, costs[i])
		slices.SortStableFunc(s.Shops[i].Lines, func(a, b ShoppingLine) int {
			return cmp.Or(cmp.Compare(a.On, b.On),
				cmp.Compare(a.Name, b.Name))
		})
	}
	slices.SortStableFunc(s.Shops, func(a, b ShopList) int { return cmp.Compare(a.Shop, b.Shop) })
	s.Total = price.In(currency, total)
}

// packed is the size of a pack as a shop prints it: by weight, not in cups.
func packed(unit measure.Unit, size float64) measure.Shown {
	return measure.ShowPack(measure.Of(size, unit))
}

func basket(ctx context.Context, tx pgx.Tx, names map[ident.Item]stockItem, today, currency string) ([]InBasket, error) {
	rows, err := tx.Query(ctx, `select id, item_id::text, amount, remaining, paid::text, shop from lots
			where origin = 'shopping' and not voided and bought_on = $1::text::date order by id`, today)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (InBasket, error) {
		var b InBasket
		var item ident.Item
		var paid string
		var came, left float64
		err := row.Scan(&b.Lot, &item, &came, &left, &paid, &b.Shop)
		if err != nil {
			return b, err
		}
		t := names[item]
		b.Name, b.Came, b.Used, b.Paid = t.Name, t.show(came), left != came,
			price.In(currency, decimal.RequireFromString(paid))
		return b, nil
	})
}

// Ticked is a line of the list that lies in the basket.
type Ticked struct {
	Item       uuid.UUID  `json:"item"`
	Shop       string     `json:"shop" maxLength:"100"`
	Packs      []ShopPack `json:"packs" minItems:"1" maxItems:"20"`
	BestBefore string     `json:"bestBefore,omitempty" doc:"A day"`
}

func (l *Larder) tick(ctx context.Context, in *struct {
	web.OnceKey
	Body Ticked
}) (*struct{ Body Booked }, error) {
	var booked Booked
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		booked, err = web.Once(ctx, tx, in.OnceKey, "tick-shopping", in.Body, func() (Booked, error) {
			house, err := l.Context(ctx, tx)
			if err != nil {
				return Booked{}, err
			}
			r := Receipt{Shop: in.Body.Shop, Day: house.Today()}
			var faults invalid.Faults
			for i, p := range in.Body.Packs {
				each, err := price.Read(p.Price, house.Currency)
				if err != nil {
					faults.Add("packs["+itoa(i)+"].price", err)
				}
				if p.Count < 1 || p.Count > 10_000 {
					faults.Add("packs["+itoa(i)+"].count", reason.Of("larder.between-and-packs"))
				}
				r.Lines = append(r.Lines, ReceiptLine{Item: in.Body.Item, Packs: p.Count, Size: p.Size,
					Paid: each.Mul(decimal.NewFromInt(int64(p.Count))).String(), BestBefore: in.Body.BestBefore})
			}
			if err := faults.Err(); err != nil {
				return Booked{}, err
			}
			return l.Receive(ctx, tx, r, "shopping")
		})
		return err
	})
	return &struct{ Body Booked }{booked}, err
}

// text of the packs: 2 x 1 kg, 1 x 500 g.
func (line ShoppingLine) text(of func(measure.Shown) string) string {
	parts := make([]string, len(line.Packs))
	for i, p := range line.Packs {
		parts[i] = strconv.Itoa(p.Count) + " x " + of(p.Shown)
	}
	return strings.Join(parts, ", ")
}

func (line ShoppingLine) when() reason.Reason {
	switch {
	case line.Late:
		return reason.Of("larder.buy-today", reason.Day(line.Needed))
	case line.On == line.NotBefore && line.On == line.By:
		return reason.Of("larder.buy-on", reason.Day(line.On))
	default:
		return reason.Of("larder.buy-on-by", reason.Day(line.On), reason.Day(line.By))
	}
}

func (l *Larder) shoppingText(ctx context.Context, in *Days) (*web.File, error) {
	list, err := l.list(ctx, *in)
	if err != nil {
		return nil, err
	}
	var out strings.Builder
	words := text.Of(ctx)
	out.WriteString(words.Of("larder.to-buy", reason.Day(list.From), reason.Day(list.To)) + "\n")
	for _, shop := range list.Shops {
		shopName := cmp.Or(shop.Shop, words.Of("larder.anywhere"))
		out.WriteString("\n" + words.Of("larder.at-shop", reason.Name(shopName),
			reason.Money{Amount: shop.Cost.Amount, Currency: shop.Cost.Currency}) + "\n")
		for _, line := range shop.Lines {
			fmt.Fprintf(&out, "[ ] %s: %s, %s\n", line.Name, line.text(words.Amount), words.Say(line.when()))
		}
	}
	if len(list.Shops) == 0 {
		out.WriteString("\n" + words.Of("larder.nothing-to-buy") + "\n")
	}
	return web.Download("shopping-list.txt", "text/plain; charset=utf-8", []byte(out.String())), nil
}

func (l *Larder) shoppingCSV(ctx context.Context, in *Days) (*web.File, error) {
	list, err := l.list(ctx, *in)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true // RFC 4180
	_ = w.Write([]string{"shop", "name", "packs", "size", "unit", "price of one", "currency", "need", "left over",
		"buy on", "not before", "at the latest", "for"})
	for _, shop := range list.Shops {
		for _, line := range shop.Lines {
			for _, p := range line.Packs {
				_ = w.Write([]string{web.Cell(shop.Shop), web.Cell(line.Name), itoa(p.Count), fmt.Sprint(p.Size.Amount),
					string(p.Size.Unit), string(p.Price), line.Cost.Currency, fmt.Sprint(line.Need.Amount),
					fmt.Sprint(line.Left.Amount),
					line.On, line.NotBefore, line.By, web.Cell(strings.Join(line.For, "; "))})
			}
		}
	}
	w.Flush()
	return web.Download("shopping-list.csv", "text/csv; charset=utf-8", out.Bytes()), w.Error()
}
