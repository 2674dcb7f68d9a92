package bring

import (
	"reflect"

	"zestytin/core/bring"
	"zestytin/internal/platform/web"
)

// Shapes says what the fields of core's types mean in the API.
func Shapes() web.Shapes {
	const column = "Counted from 0; -1: in none"
	return web.Shapes{
		reflect.TypeFor[bring.CustomerColumns](): {
			"name": {Doc: column}, "phone": {Doc: column}, "mail": {Doc: column}, "place": {Doc: column},
			"notes": {Doc: column},
		},
		reflect.TypeFor[bring.PriceColumns](): {"name": {Doc: column}, "price": {Doc: column}, "count": {Doc: column}},
		reflect.TypeFor[bring.Customer](): {
			"place": {Doc: "Where it is delivered to"},
		},
	}
}
