package larder

import (
	"reflect"

	"zestytin/core/box"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/larder"
	"zestytin/core/table"
	"zestytin/internal/platform/web"
)

// Shapes says what the fields of core's types mean in the API.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[box.Need](): {
			"stock": {Doc: "What is in the house and not set aside for other promised orders"},
			"short": {Doc: "How much is missing"},
		},
		reflect.TypeFor[food.Allergen](): {
			"us": {Doc: "One of the nine of the US (FALCPA, FASTER Act), or sulphites (21 CFR 101.100(a)(4))"},
			"eu": {Doc: "One of the fourteen of the EU (Regulation 1169/2011, Annex II)"},
		},
		reflect.TypeFor[food.Chocolate](): {
			"kind":   {Enum: web.OneOf(chocolate.Kinds())},
			"colour": {Enum: web.OneOf(chocolate.Colours())},
			"tint":   {Doc: "A colour of the coloured chocolate as #rrggbb, empty when it has its own"},
			"bands":  {Doc: "Its own temperatures in C, as its maker gives them; without them those of its colour hold"},
		},
		reflect.TypeFor[food.Fields](): {
			"kind": {Enum: web.OneOf(food.Kinds())},
			"unit": {Doc: "What it is kept and bought in: by weight or by the piece",
				Enum: web.OneOf(food.StockUnits())},
			"density":   {Doc: "g per mL, as it lies in a cup"},
			"gramsEach": {Doc: "g a piece"},
			"measures":  {Doc: "Measures of its own"},
			"fit":       {Doc: "Share of what is bought that is fit to use, above 0 to 1"},
			"fresh":     {Doc: "Days that it stays fresh in the house; none: it keeps"},
			"diets":     {Doc: "That it suits: vegan, no alcohol, no gelatine, low sugar"},
			"madeOf":    {Doc: "Sub-ingredients, for labels, in falling order of weight"},
		},
		reflect.TypeFor[box.Inside](): {
			"layers": {Doc: "That may lie on each other; not given: one"},
			"holds":  {Doc: "At most, by weight"},
			"lid":    {Doc: "How it is closed; not given: flat on the sides", Enum: web.OneOf(box.Lids())},
			"rise":   {Doc: "How much higher than the sides pieces may stand, under a raised lid"},
		},
		reflect.TypeFor[box.Fitting](): {
			"supply": {Format: "uuid"},
			"amount": {Doc: "For one of what it goes with"},
		},
		reflect.TypeFor[food.Measure](): {
			"name":  {Doc: "In the singular: packet, block, drop, punnet, large"},
			"grams": {Doc: "What one of them weighs, g"},
		},
		reflect.TypeFor[food.Starter](): {
			"source": {Doc: "Where each value comes from"},
		},
		reflect.TypeFor[food.Suggestion](): {
			"score": {Doc: "How alike, 0 to 1"},
			"sure":  {Doc: "The very name, or one that was settled before; anything else is for a person to confirm"},
		},
		reflect.TypeFor[table.BadRow](): {
			"line": {Doc: "As a spreadsheet or an editor numbers it: the head is 1"},
			"text": {Doc: "What stands there"},
		},
		reflect.TypeFor[larder.Bought](): {
			"name": {Doc: "As it is written"},
			"size": {Doc: "Of one pack; none when the line does not say"},
			"paid": {Doc: "For all packs, decimal"},
			"day":  {Doc: "On which it was bought"},
		},
		reflect.TypeFor[larder.Columns](): {
			"size":  {Doc: "1 kg; or a number, with its unit in another column"},
			"dates": {Doc: "In which order dates are written", Enum: web.OneOf(larder.DateOrders())},
		},
	}
}
