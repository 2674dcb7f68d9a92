package account

import (
	"reflect"

	"zestytin/core/price"
	"zestytin/internal/platform/web"
)

// Shapes says what the fields of core's types mean in the API.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[price.Money](): {
			"amount":   {Doc: "Decimal, with the currency's number of decimals", Example: "12.50"},
			"currency": {Doc: "ISO 4217", Example: "USD"},
		},
		reflect.TypeFor[SecurityEvent](): {
			"what": {Enum: web.OneOf(web.Events())},
		},
		reflect.TypeFor[Session](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[Belonging](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[Helper](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[Invitation](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[AsRole](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[Invite](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[Invited](): {
			"role": {Enum: web.OneOf(web.Roles())},
		},
		reflect.TypeFor[price.Notice](): {
			"days": {Doc: "With so many days of notice or fewer"},
		},
		reflect.TypeFor[price.Terms](): {
			"ending":      {Doc: "What a price is rounded up to. In a currency without decimals the endings are those of hundreds", Enum: web.OneOf(price.Endings())},
			"perPiece":    {Doc: "It is the price of a piece that is rounded, not that of the order"},
			"minimum":     {Doc: "No order is sold for less"},
			"yearLimit":   {Doc: "How much local rules let one sell in a calendar year, before tax; empty: there is no limit"},
			"rush":        {Doc: "Surcharges by notice"},
			"cancel":      {Doc: "Shares of the price that are kept of an order that is cancelled, by notice"},
			"tax":         {Doc: "Sales tax that is charged, as a share; 0 where none is"},
			"taxIncluded": {Doc: "Prices are asked with the tax in them; otherwise it comes on top"},
			"deposit":     {Doc: "Share to be paid in advance"},
			"cardShare":   {Doc: "Of what the customer pays, what a card payment costs"},
			"cardFixed":   {Doc: "What a card payment costs beside that"},
			"drive":       {Doc: "What driving costs for a kilometre"},
			"reclaim":     {Doc: "What reclaimed chocolate is worth, as a share of what was paid; 1: as much as new"},
			"quoteDays":   {Doc: "How many days a quote holds"},
		},
	}
}
