// Package measure knows units, how they convert, and how people read and write amounts.
package measure

import (
	"fmt"
	"math"

	"zestytin/core/reason"
	"zestytin/core/si"
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
	Drop       Unit = "drop"
	MetricCup  Unit = "metric cup"
	UKCup      Unit = "imperial cup"
	UKPint     Unit = "imperial pint"
	UKOunce    Unit = "imperial fl oz"
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
	mlPerUKGallon = 4546.09 // Weights and Measures Act 1985, Schedule 1
	mlPerDrop     = 0.05    // common practice: 20 to the millilitre
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
	Drop: {Volume, mlPerDrop}, MetricCup: {Volume, 250}, UKCup: {Volume, mlPerUKGallon / 16},
	UKPint: {Volume, mlPerUKGallon / 8}, UKOunce: {Volume, mlPerUKGallon / 160},
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
func Grams(g si.Grams) Quantity { return Quantity{float64(g), Gram} }

// UnknownUnit is the error for a unit that this package does not know.
type UnknownUnit struct{ Unit Unit }

func (e *UnknownUnit) Error() string { return fmt.Sprintf("measure: unknown unit %q", e.Unit) }

// Reason of the error.
func (e *UnknownUnit) Reason() reason.Reason {
	if e.Unit == "" {
		return reason.Of("measure.unit-missing")
	}
	return reason.Of("measure.unit-unknown", reason.Name(e.Unit))
}

// MissingProperty is the error for a conversion that needs something about the substance that is not known.
type MissingProperty struct {
	From, To Dimension
	Property Property
}

// Property of a substance.
type Property string

const (
	Density        Property = "density"
	WeightPerPiece Property = "weight-per-piece"
)

func (e *MissingProperty) Error() string {
	return fmt.Sprintf("measure: %s to %s without a %s", e.From, e.To, e.Property)
}

// Reason of the error.
func (e *MissingProperty) Reason() reason.Reason {
	return reason.Of("measure."+string(e.Property)+"-missing", reason.Word(e.From), reason.Word(e.To))
}

// Unconvertible is the error for a conversion that no property of a substance makes possible.
type Unconvertible struct{ From, To Dimension }

func (e *Unconvertible) Error() string { return fmt.Sprintf("measure: %s to %s", e.From, e.To) }

// Reason of the error.
func (e *Unconvertible) Reason() reason.Reason {
	return reason.Of("measure.unconvertible", reason.Word(e.From), reason.Word(e.To))
}

// Substance is what must be known of a thing to convert between mass, volume and count. Zero means not known.
type Substance struct {
	Density   float64           // g per mL
	GramsEach si.Grams          // g a piece
	Measures  map[Unit]si.Grams // g in one of its own named measures: a packet, a block, a drop
}

// unit of a name: one that everything is measured in, or one of the substance's own, which is a mass.
func (s Substance) unit(u Unit) (definition, error) {
	if grams := s.Measures[u]; grams > 0 {
		return definition{Mass, float64(grams)}, nil
	}
	if d, ok := units[u]; ok {
		return d, nil
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
		return 0, &MissingProperty{from, to, Density}
	case from == Count && to != Length:
		if s.GramsEach > 0 {
			return base * float64(s.GramsEach), nil
		}
		return 0, &MissingProperty{from, to, WeightPerPiece}
	}
	return 0, &Unconvertible{from, to}
}

func (s Substance) fromGrams(grams float64, from, to Dimension) (float64, error) {
	switch {
	case to == Mass:
		return grams, nil
	case to == Volume:
		if s.Density > 0 {
			return grams / s.Density, nil
		}
		return 0, &MissingProperty{from, to, Density}
	case to == Count:
		if s.GramsEach > 0 {
			return grams / float64(s.GramsEach), nil
		}
		return 0, &MissingProperty{from, to, WeightPerPiece}
	}
	return 0, &Unconvertible{from, to}
}

// NotPositive is the error for an amount that is not a finite number above zero.
type NotPositive struct{ Amount float64 }

func (e *NotPositive) Error() string { return fmt.Sprintf("measure: %v is not more than 0", e.Amount) }

// Reason of the error.
func (e *NotPositive) Reason() reason.Reason { return reason.Of("measure.not-positive") }

// WrongDimension is the error for a unit that does not measure what is wanted.
type WrongDimension struct {
	Unit      Unit
	Got, Want Dimension
}

func (e *WrongDimension) Error() string {
	return fmt.Sprintf("measure: %s is %s, not %s", e.Unit, e.Got, e.Want)
}

// Reason of the error.
func (e *WrongDimension) Reason() reason.Reason {
	return reason.Of("measure.wrong-dimension", reason.Word(e.Want), reason.Name(e.Unit), reason.Word(e.Got),
		reason.Name(e.Want.Base()))
}

// Check says what is wrong with q as an amount of dimension want; nil when nothing is.
// Errors: *UnknownUnit, *WrongDimension, *NotPositive.
func (q Quantity) Check(want Dimension) error {
	d, ok := q.Unit.Dimension()
	switch {
	case !ok:
		return &UnknownUnit{q.Unit}
	case d != want:
		return &WrongDimension{q.Unit, d, want}
	case math.IsNaN(q.Amount) || math.IsInf(q.Amount, 0) || q.Amount <= 0:
		return &NotPositive{q.Amount}
	}
	return nil
}

// GramsPerOunce, avoirdupois: a sixteenth of a pound (NIST Handbook 44, Appendix C).
const GramsPerOunce = 453.59237 / 16

// Celsius of a temperature in degrees Fahrenheit.
func Celsius(f float64) float64 { return (f - 32) / 1.8 }

// Fahrenheit of a temperature in degrees Celsius.
func Fahrenheit(c float64) float64 { return c*1.8 + 32 }
