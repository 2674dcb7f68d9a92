package chocolate

import (
	"zestytin/core/measure"
	"zestytin/core/si"
)

// Thinner that compound chocolate of so many grams takes at most: about 2 tbsp of a fat-based one to 12 oz (rules 3,
// common practice). Water, and colour or flavour with water in it, seizes it.
func Thinner(grams si.Grams) measure.Quantity {
	return measure.Of(2*grams.Over(12*ounce), measure.Tablespoon)
}

// FlavourDrops of a flavour oil for so many grams: 4 to 6 to 8 oz (rules 3, common practice).
func FlavourDrops(grams si.Grams) Range {
	return Range{4 * grams.Over(8*ounce), 6 * grams.Over(8*ounce)}
}

// ounce in g (NIST Rules 44, Appendix C).
const ounce = measure.GramsPerOunce
