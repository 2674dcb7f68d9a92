package measure

import (
	"math"
	"strconv"
	"strings"

	"zestytin/core/reason"
)

var spellings = map[string]Unit{
	"mg": Milligram, "milligram": Milligram, "g": Gram, "gr": Gram, "gram": Gram, "gm": Gram, "kg": Kilogram,
	"kilo": Kilogram, "kilogram": Kilogram,
	"oz": Ounce, "ounce": Ounce, "lb": Pound, "pound": Pound,
	"ml": Millilitre, "milliliter": Millilitre, "millilitre": Millilitre, "cl": Centilitre, "centilitre": Centilitre,
	"centiliter": Centilitre, "dl": Decilitre, "decilitre": Decilitre, "deciliter": Decilitre, "l": Litre,
	"liter": Litre, "litre": Litre,
	"tsp": Teaspoon, "teaspoon": Teaspoon, "t": Teaspoon, "tbsp": Tablespoon, "tablespoon": Tablespoon,
	"tbs":   Tablespoon,
	"fl oz": FluidOunce, "floz": FluidOunce, "fluid ounce": FluidOunce, "c": Cup, "cup": Cup,
	"pt": Pint, "pint": Pint, "qt": Quart, "quart": Quart, "gal": Gallon, "gallon": Gallon,
	"drop": Drop, "metric cup": MetricCup, "imperial cup": UKCup, "imperial pint": UKPint, "uk pint": UKPint,
	"imperial fl oz": UKOunce, "imperial fluid ounce": UKOunce, "us cup": Cup, "us pint": Pint,
	"": Each, "each": Each, "piece": Each, "pc": Each, "x": Each, "dozen": Dozen, "doz": Dozen, "dz": Dozen,
	"mm": Millimetre, "cm": Centimetre, "m": Metre, "in": Inch, "inch": Inch, "inche": Inch, "\"": Inch, "″": Inch,
	"ft": Foot, "foot": Foot,
}

var vulgar = map[rune]float64{
	'½': 1. / 2, '⅓': 1. / 3, '⅔': 2. / 3, '¼': 1. / 4, '¾': 3. / 4, '⅕': 1. / 5, '⅖': 2. / 5, '⅗': 3. / 5, '⅘': 4. / 5,
	'⅙': 1. / 6, '⅚': 5. / 6, '⅐': 1. / 7, '⅛': 1. / 8, '⅜': 3. / 8, '⅝': 5. / 8, '⅞': 7. / 8,
}

// Read understands an amount as people write it: "1 1/2 cups", "340g", "2 ½ tbsp", "0,5 kg", "12 oz.", "1/8 in", "24".
// A number alone counts pieces. It never guesses: what it cannot read is an error that says so.
func Read(text string) (Quantity, error) { return ReadOf(text, Substance{}) }

// ReadOf reads an amount of a substance, which may have measures of its own: "2 blocks", "1 packet", "3 drops".
func ReadOf(text string, of Substance) (Quantity, error) {
	s := strings.TrimSpace(strings.ReplaceAll(text, "⁄", "/"))
	q, rest, err := readOne(s, text, of)
	if err != nil {
		return Quantity{}, err
	}
	for rest != "" { // 1 lb 10 1/2 oz, 6 tbsp 1 tsp: the smaller unit is added
		more, after, err := readOne(rest, text, of)
		if err != nil {
			return Quantity{}, err
		}
		extra, err := more.In(q.Unit, of)
		if d, e := dimensionOf(q.Unit, of), dimensionOf(more.Unit, of); err != nil || d != e || d == Count ||
			!(extra < q.Amount || extra < 1) {
			return Quantity{}, reason.Of("measure.not-one-amount", reason.Name(text))
		}
		q.Amount, rest = q.Amount+extra, after
	}
	return q, nil
}

func dimensionOf(u Unit, of Substance) Dimension {
	d, _ := of.unit(u)
	return d.dimension
}

// readOne reads a number with its unit, up to the next number.
func readOne(s, text string, of Substance) (q Quantity, rest string, err error) {
	amount, rest, ok := readNumber(s)
	if !ok {
		return Quantity{}, "", reason.Of("measure.no-amount", reason.Name(text))
	}
	next := ""
	if at := strings.IndexFunc(rest, func(r rune) bool { return r >= '0' && r <= '9' || vulgar[r] != 0 }); at > 0 &&
		strings.TrimSpace(rest[:at]) != "" && rest[at-1] == ' ' {
		rest, next = rest[:at], rest[at:]
	}
	name := strings.TrimSuffix(strings.Join(strings.Fields(rest), " "), ".")
	if unit, own := of.named(strings.ToLower(name)); own {
		return Quantity{amount, unit}, next, nil
	}
	unit, known := unitOf(name)
	if !known {
		return Quantity{}, "", &UnknownUnit{Unit(strings.ToLower(name))}
	}
	return Quantity{amount, unit}, next, nil
}

// unitOf a name as people spell it. By custom T is a tablespoon and t a teaspoon.
func unitOf(name string) (Unit, bool) {
	if name == "T" || name == "Tb" || name == "Tbl" {
		return Tablespoon, true
	}
	name = strings.ToLower(name)
	unit, known := spellings[name]
	if !known {
		unit, known = spellings[strings.TrimSuffix(strings.ReplaceAll(name, ".", ""), "s")]
	}
	return unit, known
}

// Customs is what a kitchen means by a measure that differs from place to place. The zero value is the US one.
type Customs struct {
	Cup Unit // that a bare cup is: Cup, MetricCup or UKCup
}

// Cups that a kitchen may measure with, by the word for it: 236.6 mL (NIST Handbook 44, Appendix C), 250 mL, and a half
// imperial pint.
func Cups() map[string]Unit {
	return map[string]Unit{"us": Cup, "metric": MetricCup, "imperial": UKCup}
}

// Means is what the kitchen means by an amount that was written: a bare cup is its own, a US cup stays one.
func (c Customs) Means(q Quantity, written string) Quantity {
	if q.Unit == Cup && c.Cup != "" && !strings.Contains(strings.ToLower(written), "us cup") {
		q.Unit = c.Cup
	}
	return q
}

// named finds one of the substance's own measures by its name, also in the plural.
func (s Substance) named(name string) (Unit, bool) {
	for own := range s.Measures {
		one := strings.ToLower(string(own))
		if name == one || name == one+"s" || name == one+"es" {
			return own, true
		}
	}
	return "", false
}

// readNumber reads a leading "3", "3.5", "3,5", "1/2", "1 1/2", "½" or "1 ½" and returns what follows.
func readNumber(s string) (amount float64, rest string, ok bool) {
	amount, rest, ok = readDecimal(s)
	if ok && strings.HasPrefix(rest, "/") {
		below, after, fine := readDecimal(rest[1:])
		if !fine || below == 0 {
			return 0, s, false
		}
		return amount / below, after, true
	}
	whole := strings.TrimLeft(rest, " ")
	if !ok {
		whole = s
	}
	for glyph, value := range vulgar {
		if strings.HasPrefix(whole, string(glyph)) {
			return amount + value, whole[len(string(glyph)):], true
		}
	}
	if !ok {
		return 0, s, false
	}
	if above, after, fine := readDecimal(whole); fine && whole != rest && strings.HasPrefix(after, "/") {
		if below, end, fine := readDecimal(after[1:]); fine && below != 0 {
			return amount + above/below, end, true
		}
		return 0, s, false
	}
	return amount, rest, true
}

// readDecimal reads digits with a decimal point or comma. A comma before exactly three digits may separate thousands as
// well, so "1,000" is no number that can be told; "0,125" is one.
func readDecimal(s string) (amount float64, rest string, ok bool) {
	end := 0
	for end < len(s) && (isDigit(s[end]) || (s[end] == '.' || s[end] == ',') && end+1 < len(s) && isDigit(s[end+1])) {
		end++
	}
	if whole, decimals, comma := strings.Cut(s[:end], ","); comma && len(decimals) == 3 &&
		strings.Trim(whole, "0") != "" {
		return 0, s, false
	}
	amount, err := strconv.ParseFloat(strings.ReplaceAll(s[:end], ",", "."), 64)
	return amount, s[end:], err == nil && !math.IsInf(amount, 0)
}

func isDigit(b byte) bool { return b >= '0' && b <= '9' }
