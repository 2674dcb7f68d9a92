// Package measure knows units, how they convert, and how people read and write amounts.
package measure

import (
	"fmt"
	"math"
)

// Dimension is what a unit measures.
type Dimension string

const (
	Mass   Dimension = "mass"   // base unit: gram
	Volume Dimension = "volume" // base unit: millilitre
	Count  Dimension = "count"  // base unit: each
	Length Dimension = "length" // base unit: millimetre
)

// Unit is the short name of a unit of measure, as it stands in JSON.
type Unit string

const (
	Milligram  Unit = "mg"
	Gram       Unit = "g"
	Kilogram   Unit = "kg"
	Ounce      Unit = "oz"
	Pound      Unit = "lb"
	Millilitre Unit = "mL"
	Centilitre Unit = "cL"
	Decilitre  Unit = "dL"
	Litre      Unit = "L"
	Teaspoon   Unit = "tsp"
	Tablespoon Unit = "tbsp"
	FluidOunce Unit = "fl oz"
	Cup        Unit = "cup"
	Pint       Unit = "pt"
	Quart      Unit = "qt"
	Gallon     Unit = "gal"
	Each       Unit = "each"
	Dozen      Unit = "dozen"
	Millimetre Unit = "mm"
	Centimetre Unit = "cm"
	Metre      Unit = "m"
	Inch       Unit = "in"
	Foot       Unit = "ft"
)

// The exact definitions of NIST Handbook 44, Appendix C.
const (
	gramsPerPound = 453.59237
	mlPerCubicIn  = 2.54 * 2.54 * 2.54
	mlPerGallon   = 231 * mlPerCubicIn
	mlPerCup      = mlPerGallon / 16
)

type definition struct {
	dimension Dimension
	factor    float64 // base units in one of these
}

var units = map[Unit]definition{
	Milligram: {Mass, 0.001}, Gram: {Mass, 1}, Kilogram: {Mass, 1000},
	Ounce: {Mass, gramsPerPound / 16}, Pound: {Mass, gramsPerPound},
	Millilitre: {Volume, 1}, Centilitre: {Volume, 10}, Decilitre: {Volume, 100}, Litre: {Volume, 1000},
	Teaspoon: {Volume, mlPerCup / 48}, Tablespoon: {Volume, mlPerCup / 16},
	FluidOunce: {Volume, mlPerCup / 8}, Cup: {Volume, mlPerCup},
	Pint: {Volume, mlPerCup * 2}, Quart: {Volume, mlPerCup * 4}, Gallon: {Volume, mlPerGallon},
	Each: {Count, 1}, Dozen: {Count, 12},
	Millimetre: {Length, 1}, Centimetre: {Length, 10}, Metre: {Length, 1000},
	Inch: {Length, 25.4}, Foot: {Length, 304.8},
}

// Base is the unit that amounts of a dimension are kept in.
func (d Dimension) Base() Unit {
	switch d {
	case Mass:
		return Gram
	case Volume:
		return Millilitre
	case Length:
		return Millimetre
	default:
		return Each
	}
}

// Dimension of the unit, and whether the unit is known at all.
func (u Unit) Dimension() (Dimension, bool) {
	d, ok := units[u]
	return d.dimension, ok
}

// Quantity is an amount in a unit.
type Quantity struct {
	Amount float64 `json:"amount"`
	Unit   Unit    `json:"unit"`
}

// Of makes a quantity.
func Of(amount float64, unit Unit) Quantity { return Quantity{amount, unit} }

// Grams makes a mass.
func Grams(g float64) Quantity { return Quantity{g, Gram} }

// UnknownUnit is the error for a unit that this package does not know.
type UnknownUnit struct{ Unit Unit }

func (e *UnknownUnit) Error() string {
	if e.Unit == "" {
		return "The unit is missing: write one, such as g, oz, cup, tbsp, each or in."
	}
	return fmt.Sprintf("%q is not a unit we know: use one such as g, kg, oz, lb, mL, tsp, tbsp, cup, each, mm, cm or in.", e.Unit)
}

// MissingProperty is the error for a conversion that needs something about the substance that is not known.
type MissingProperty struct {
	From, To Dimension
	Property string // "weight per piece" or "density"
}

func (e *MissingProperty) Error() string {
	return fmt.Sprintf("A %s cannot be turned into a %s here because the %s is not known: enter it for the ingredient, or give a %s.",
		e.From, e.To, e.Property, e.To)
}

// Substance is what must be known of a thing to convert between mass, volume and count. Zero means not known.
type Substance struct {
	Density   float64          // g per mL
	GramsEach float64          // g a piece
	Measures  map[Unit]float64 // g in one of its own named measures: a packet, a block, a drop
}

// unit of a name: one that everything is measured in, or one of the substance's own, which is a mass.
func (s Substance) unit(u Unit) (definition, error) {
	if d, ok := units[u]; ok {
		return d, nil
	}
	if grams := s.Measures[u]; grams > 0 {
		return definition{Mass, grams}, nil
	}
	return definition{}, &UnknownUnit{u}
}

// In converts q into the unit to, through the substance where the dimensions differ.
// Errors: *UnknownUnit, *MissingProperty.
func (q Quantity) In(to Unit, s Substance) (float64, error) {
	from, err := s.unit(q.Unit)
	if err != nil {
		return 0, err
	}
	target, err := s.unit(to)
	if err != nil {
		return 0, err
	}
	base := q.Amount * from.factor
	if from.dimension == target.dimension {
		return base / target.factor, nil
	}
	grams, err := s.toGrams(base, from.dimension, target.dimension)
	if err != nil {
		return 0, err
	}
	base, err = s.fromGrams(grams, from.dimension, target.dimension)
	return base / target.factor, err
}

func (s Substance) toGrams(base float64, from, to Dimension) (float64, error) {
	switch {
	case from == Mass:
		return base, nil
	case from == Volume && to != Length:
		if s.Density > 0 {
			return base * s.Density, nil
		}
		return 0, &MissingProperty{from, to, "density"}
	case from == Count && to != Length:
		if s.GramsEach > 0 {
			return base * s.GramsEach, nil
		}
		return 0, &MissingProperty{from, to, "weight per piece"}
	}
	return 0, fmt.Errorf("A %s cannot be turned into a %s.", from, to)
}

func (s Substance) fromGrams(grams float64, from, to Dimension) (float64, error) {
	switch {
	case to == Mass:
		return grams, nil
	case to == Volume:
		if s.Density > 0 {
			return grams / s.Density, nil
		}
		return 0, &MissingProperty{from, to, "density"}
	case to == Count:
		if s.GramsEach > 0 {
			return grams / s.GramsEach, nil
		}
		return 0, &MissingProperty{from, to, "weight per piece"}
	}
	return 0, fmt.Errorf("A %s cannot be turned into a %s.", from, to)
}

// Check says what is wrong with q as an amount of dimension want: an unknown unit, the wrong kind of unit, or an
// amount that is not a finite number above zero. nil when nothing is.
func (q Quantity) Check(want Dimension) error {
	d, ok := q.Unit.Dimension()
	switch {
	case !ok:
		return &UnknownUnit{q.Unit}
	case d != want:
		return fmt.Errorf("This must be a %s, and %q measures %s: use a unit such as %s.", want, q.Unit, d, want.Base())
	case math.IsNaN(q.Amount) || math.IsInf(q.Amount, 0) || q.Amount <= 0:
		return fmt.Errorf("The amount must be more than 0.")
	}
	return nil
}

// Celsius of a temperature in degrees Fahrenheit.
func Celsius(f float64) float64 { return (f - 32) / 1.8 }

// Fahrenheit of a temperature in degrees Celsius.
func Fahrenheit(c float64) float64 { return c*1.8 + 32 }
