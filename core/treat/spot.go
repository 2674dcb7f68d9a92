package treat

import (
	"slices"

	"zestytin/core/ident"
)

// Spot is a place of the kitchen where pieces set and wait: a fridge, a freezer, the counter, and what the seller has
// beside them.
type Spot struct {
	ID      ident.Spot `json:"id,omitempty"`
	Name    string     `json:"name"`
	Celsius *float64   `json:"celsius,omitempty"` // nil: as warm as the kitchen
	Trays   int        `json:"trays"`
}

// The spots that the families propose; every kitchen has them, with as many trays as it likes.
const (
	Fridge  = "fridge"
	Freezer = "freezer"
	Counter = "counter"
)

// Spots that a kitchen begins with (common practice: a fridge at 4 °C, a freezer at -18 °C).
func Spots() []Spot {
	return []Spot{
		{ID: Fridge, Name: "fridge", Celsius: new(4.0), Trays: 6},
		{ID: Freezer, Name: "freezer", Celsius: new(-18.0), Trays: 2},
		{ID: Counter, Name: "counter", Trays: 12},
	}
}

// Spot with the id; false where the kitchen has none.
func (k *Inputs) Spot(id ident.Spot) (Spot, bool) {
	all := k.Spots
	if all == nil {
		all = Spots()
	}
	if n := slices.IndexFunc(all, func(s Spot) bool { return s.ID == id }); n >= 0 {
		return all[n], true
	}
	return Spot{}, false
}

// Celsius is how cold it is in a spot; where nothing else is known, as warm as the kitchen.
func (k *Inputs) Celsius(spot ident.Spot) float64 {
	if s, ok := k.Spot(spot); ok && s.Celsius != nil {
		return *s.Celsius
	}
	return k.AirTemp
}

// SpotName is what a spot is called; its id where it is gone.
func (k *Inputs) SpotName(id ident.Spot) string {
	if s, ok := k.Spot(id); ok {
		return s.Name
	}
	return string(id)
}
