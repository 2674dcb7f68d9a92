// Package bring takes what a seller brings along: customers and a price list, from CSV files.
package bring

import (
	"context"
	"fmt"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/bring"
	"zestytin/core/invalid"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/table"
	"zestytin/internal/platform/web"
)

// Deps is what it needs of other rooms.
type Deps struct {
	// Currency of the kitchen.
	Currency func(context.Context, pgx.Tx) (string, error)
	// Treats of the book, by name.
	Treats func(context.Context, pgx.Tx) ([]Named, error)
}

// Named is a treat by its name.
type Named struct {
	ID   uuid.UUID
	Name string
}

// Bring is the feature.
type Bring struct {
	web.Base
	Deps
}

// most customers or prices of a file, and bytes of it.
const (
	mostRows = 2000
	mostText = 1 << 20
)

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	b := &Bring{h, needs}
	tags := []string{"Customers"}
	web.Register(h, huma.Operation{OperationID: "read-brought", Method: "POST", Path: "/api/v1/calculators/brought",
		Summary: "Read customers or a price list from the text of a CSV file; nothing is saved",
		Tags:    []string{"Calculators"}, MaxBodyBytes: 2 * mostText}, b.read)
	web.Register(h, huma.Operation{OperationID: "put-list-prices", Method: "PUT", Path: "/api/v1/list-prices",
		Summary: "Set what the own price list asks for treats; gives back what it asked before", Tags: tags}, b.prices)
}

// Kinds of files.
func Kinds() []string { return []string{"customers", "prices"} }

// Text of a file, and how it is to be read.
type Text struct {
	Kind      string                 `json:"kind" enum:"customers,prices"`
	Text      string                 `json:"text" maxLength:"1048576"`
	Customers *bring.CustomerColumns `json:"customers,omitempty" doc:"Which column is which; left out, they are found by their heads"`
	Prices    *bring.PriceColumns    `json:"prices,omitempty"`
}

// Read is what stands in a file.
type Read struct {
	Head            []string               `json:"head"`
	CustomerColumns *bring.CustomerColumns `json:"customerColumns,omitempty"`
	PriceColumns    *bring.PriceColumns    `json:"priceColumns,omitempty"`
	Customers       []bring.Customer       `json:"customers"`
	Prices          []Listed               `json:"prices"`
	Bad             []table.BadRow         `json:"bad" doc:"Rows that cannot be taken, and why"`
}

// Listed is a row of a price list, with the treat that seems to be meant.
type Listed struct {
	bring.Price
	Treat *uuid.UUID `json:"treat,omitempty"`
}

func (b *Bring) read(ctx context.Context, in *struct{ Body Text }) (*struct{ Body Read }, error) {
	file, err := table.Open([]byte(in.Body.Text))
	if err != nil {
		return nil, invalid.At("text", err)
	}
	r := Read{Head: file.Head, Customers: []bring.Customer{}, Prices: []Listed{}}
	if in.Body.Kind == "customers" {
		if r.CustomerColumns = in.Body.Customers; r.CustomerColumns == nil {
			found := bring.GuessCustomers(file.Head)
			r.CustomerColumns = &found
		}
		r.Customers, r.Bad = r.CustomerColumns.Customers(file)
		return &struct{ Body Read }{r}, tooMany(len(r.Customers))
	}
	if r.PriceColumns = in.Body.Prices; r.PriceColumns == nil {
		found := bring.GuessPrices(file.Head)
		r.PriceColumns = &found
	}
	err = b.In(ctx, func(tx pgx.Tx) error {
		currency, err := b.Currency(ctx, tx)
		if err != nil {
			return err
		}
		book, err := b.Treats(ctx, tx)
		if err != nil {
			return err
		}
		names := make([]string, len(book))
		for i, t := range book {
			names[i] = t.Name
		}
		var list []bring.Price
		list, r.Bad = r.PriceColumns.Prices(file, currency)
		for _, p := range list {
			l := Listed{Price: p}
			if n := bring.Match(p.Name, names); n >= 0 {
				l.Treat = &book[n].ID
			}
			r.Prices = append(r.Prices, l)
		}
		return tooMany(len(list))
	})
	return &struct{ Body Read }{r}, err
}

func tooMany(n int) error {
	if n > mostRows {
		return invalid.At("text", reason.Of("bring.too-many-rows", reason.Int(mostRows)))
	}
	return nil
}

// ListPrice of a treat.
type ListPrice struct {
	Treat uuid.UUID `json:"treat"`
	Price string    `json:"price" maxLength:"20" doc:"Decimal, before tax; empty: the treat has none"`
	Count int       `json:"count" minimum:"1" maximum:"10000" doc:"Of how many pieces, or bags of bark"`
}

// ListPrices of treats.
type ListPrices struct {
	Prices []ListPrice `json:"prices" maxItems:"2000"`
}

func (b *Bring) prices(ctx context.Context, in *struct{ Body ListPrices }) (*struct{ Body ListPrices }, error) {
	before := ListPrices{Prices: []ListPrice{}}
	err := b.In(ctx, func(tx pgx.Tx) error {
		currency, err := b.Currency(ctx, tx)
		if err != nil {
			return err
		}
		for i, p := range in.Body.Prices {
			at := fmt.Sprintf("prices[%d]", i)
			var of *string
			count := &in.Body.Prices[i].Count
			if p.Price == "" {
				count = nil
			} else {
				d, err := price.Read(p.Price, currency)
				if err != nil {
					return invalid.At(at+".price", err)
				}
				if !d.IsPositive() {
					return invalid.At(at+".price", reason.Of("bring.a-price-is-more-than-nothing"))
				}
				of = &p.Price
			}
			rows, err := tx.Query(ctx, `update treats t set list_price = $2::text::numeric, list_count = $3
				from treats b where t.id = $1 and b.kitchen_id = t.kitchen_id and b.id = t.id
				returning coalesce(b.list_price::text, ''), coalesce(b.list_count, 1)`, p.Treat, of, count)
			if err != nil {
				return err
			}
			found, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (x ListPrice, err error) {
				x.Treat = p.Treat
				err = row.Scan(&x.Price, &x.Count)
				return x, err
			})
			if err != nil {
				return err
			}
			if len(found) == 0 {
				return invalid.At(at+".treat", reason.Of("bring.no-such-treat"))
			}
			before.Prices = append(before.Prices, found[0])
		}
		return nil
	})
	return &struct{ Body ListPrices }{before}, err
}
