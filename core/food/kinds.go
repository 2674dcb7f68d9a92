package food

import (
	"slices"
	"strings"
)

// PowderBelow is the density in g/mL below which sugars and milk products are powders (rules 4.1: packed brown sugar
// 220 g a cup is 0.93, cream 238 g is 1.006).
const PowderBelow = 0.95

// Wet tells whether it is a liquid with water or alcohol in it: cream and milk, not their powders, and spirits.
func (i *Ingredient) Wet() bool {
	return i.Kind == KindAlcohol || i.Kind == KindDairy && i.Substance.Density > PowderBelow
}

// Watery tells whether a flavour or a colour has water in it, as far as it says so: what is wet, and what names water,
// an extract or alcohol in its name or among what it is made of.
func (i *Ingredient) Watery() bool {
	return i.Wet() || slices.ContainsFunc(append([]string{i.Name}, i.MadeOf...), func(of string) bool {
		words := strings.Fields(Words(of))
		return slices.Contains(words, "water") || slices.Contains(words, "extract") || IsAlcohol(of)
	})
}
