package app

import (
	"reflect"

	"zestytin/core/measure"
	"zestytin/internal/platform/web"
)

// Shapes says what the fields of core's types mean in the API.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[measure.Line](): {
			"amount":  {Doc: "None where the recipe gives none, as with salt to taste"},
			"upto":    {Doc: "The upper end of a range, in the same unit"},
			"measure": {Doc: "A named measure that the amount counts: pinch, packet, stick"},
			"packs":   {Doc: "In how many packs: two in 2 x 125 g"},
		},
		reflect.TypeFor[measure.Quantity](): {
			"amount": {Doc: "How much, in the unit"},
			"unit":   {Doc: "g, kg, oz, lb, mL, L, tsp, tbsp, fl oz, cup, each, dozen, mm, cm, in, ..., or a measure of the ingredient's own"},
		},
		reflect.TypeFor[measure.Shown](): {
			"metric": {Doc: "As a metric kitchen reads it: 1.2 kg"},
			"us":     {Doc: "As a US kitchen reads it: 2 lb 10 oz"},
		},
	}
}
