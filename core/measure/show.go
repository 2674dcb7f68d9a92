package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"zestytin/core/reason"
	"zestytin/core/si"
)

// Shown is a quantity as both schools read it, in the precision that a kitchen can use.
type Shown struct {
	Quantity
	Metric string `json:"metric"`
	US     string `json:"us"`
}

// ReasonValue makes what is shown a value of a reason.
func (Shown) ReasonValue() {}

func (s Shown) String() string { return s.Metric }

// Span is from an amount to another.
type Span struct {
	From Shown `json:"from"`
	To   Shown `json:"to"`
}

// ReasonValue makes a span a value of a reason.
func (Span) ReasonValue() {}

// Other is an amount in the units that the kitchen does not read, beside one that it does.
type Other struct{ Shown }

var _, _, _ = reason.Keep[Shown]("amount"), reason.Keep[Span]("span"), reason.Keep[Other]("other")

// ShowGrams writes a mass of which nothing needs to be known.
func ShowGrams(g si.Grams) Shown { return Show(Grams(g), Substance{}) }

// Show writes q for both schools. A mass of a substance with a density below 1 g/mL (powders, marshmallows, crumbs) is
// written in cups and spoons for the US reader, since that is how it is measured there; other masses in ounces.
func Show(q Quantity, s Substance) Shown {
	shown := Shown{Quantity: q}
	if s.Measures[q.Unit] > 0 {
		name := fine2(q.Amount) + " " + string(q.Unit)
		if q.Amount > 1 {
			name += "s"
		}
		shown.Metric, shown.US = name, name
		return shown
	}
	d, _ := q.Unit.Dimension()
	base, err := q.In(d.Base(), s)
	if err != nil {
		shown.Metric = trimmed(q.Amount, 3) + " " + string(q.Unit)
		shown.US = shown.Metric
		return shown
	}
	switch d {
	case Mass:
		shown.Metric = metricMass(base)
		if n := base / float64(s.GramsEach); s.GramsEach > 0 && base < gramsPerPound/16 && math.Round(n) >= 1 &&
			math.Abs(math.Round(n)-n) <= nearEnough*n { // one rod, not 0.23 oz
			shown.US = counted(math.Round(n))
		} else if own := float64(s.Measures[Drop]); own > 0 && base < mostDrops*own {
			shown.US = inDrops(base / own)
		} else if s.Density > 0 && s.Density < 1 {
			shown.US = usVolume(base/s.Density, s.drop())
		} else {
			shown.US = usMass(base)
		}
	case Volume:
		shown.Metric, shown.US = metricVolume(base), usVolume(base, s.drop())
	case Length:
		shown.Metric, shown.US = metricLength(base), usLength(base)
	default:
		shown.Metric = pieces(base)
		shown.US = shown.Metric
	}
	return shown
}

// mostDrops are counted; more of them is a spoon.
const mostDrops = 20

// What is written is at most this share away from what is meant, so that it reads back as the same amount.
const nearEnough = 0.03

// Spoons and cups are levelled by eye: what is written in them may be this share away.
const nearSpoon = 0.045

func metricMass(g float64) string {
	if g >= 999.5 {
		return significant(g/1000, 3) + " kg"
	}
	return fine(g) + " g"
}

func metricVolume(ml float64) string {
	if ml >= 999.5 {
		return significant(ml/1000, 3) + " L"
	}
	return fine(ml) + " mL"
}

// fine writes whole units from 10 on, tenths from 1 on, and two digits below.
func fine(x float64) string {
	switch {
	case x >= 9.95:
		return trimmed(x, 0)
	case x >= 0.995:
		return trimmed(x, 1)
	default:
		return significant(x, 2)
	}
}

func metricLength(mm float64) string {
	switch {
	case mm >= 999.5:
		return significant(mm/1000, 3) + " m"
	case mm >= 99.5:
		return trimmed(mm/10, 1) + " cm"
	default:
		if mm < 0.995 {
			return significant(mm, 2) + " mm"
		}
		return trimmed(mm, 1) + " mm"
	}
}

func usMass(g float64) string {
	oz := g / (gramsPerPound / 16)
	switch {
	case oz >= 15.75:
		whole := math.Round(oz*2) / 2
		pounds := math.Floor(whole / 16)
		text := trimmed(pounds, 0) + " lb"
		if rest := whole - 16*pounds; rest > 0 {
			text += " " + mixed(rest, 2) + " oz"
		}
		return text
	case oz >= 0.995:
		return nearest(oz, []int{4}, 1) + " oz"
	default:
		return significant(oz, 2) + " oz"
	}
}

// drop is the mL of one: of a substance that has drops of its own, those; 0 where they are known by weight alone.
func (s Substance) drop() float64 {
	own := float64(s.Measures[Drop])
	switch {
	case own == 0:
		return mlPerDrop
	case s.Density == 0:
		return 0
	default:
		return own / s.Density
	}
}

// usVolume writes cups with the fractions that cups have, then tablespoons with teaspoons, teaspoons, and below an
// eighth of one drops of so many mL.
func usVolume(ml, drop float64) string {
	cups := ml / mlPerCup
	switch {
	case cups >= 0.243:
		if text, ok := fraction(cups, []int{4, 3}, nearSpoon); ok {
			if cups < 1.01 {
				return text + " cup"
			}
			return text + " cups"
		}
		if whole := math.Floor(cups); whole >= 1 {
			text := trimmed(whole, 0) + " cup"
			if whole > 1 {
				text += "s"
			}
			return text + " " + spoons(cups*16-16*whole, cups*16)
		}
		return spoons(cups*16, cups*16)
	case cups*16 >= 0.995:
		return spoons(cups*16, cups*16)
	case cups*48 >= 0.122:
		return nearest(cups*48, []int{8, 3}, 2) + " tsp"
	default:
		if drop == 0 {
			return significant(cups*48, 2) + " tsp"
		}
		return inDrops(ml / drop)
	}
}

func inDrops(n float64) string {
	if n < 1.5 {
		return "1 drop"
	}
	return trimmed(math.Round(n), 0) + " drops"
}

// spoons writes tablespoons, with teaspoons where they are not whole or half; of is all of which they are a part.
func spoons(tbsp, of float64) string {
	if n := math.Round(tbsp); n >= 1 && math.Abs(n-tbsp) <= nearSpoon*of {
		return trimmed(n, 0) + " tbsp"
	}
	if text, ok := fraction(tbsp, []int{2}, nearSpoon); ok {
		return text + " tbsp"
	}
	quarters := math.Round(tbsp * 12) // of a teaspoon
	text := trimmed(math.Floor(quarters/12), 0) + " tbsp"
	if rest := math.Mod(quarters, 12); rest > 0 {
		text += " " + mixed(rest/4, 4) + " tsp"
	}
	return text
}

// fraction writes x as a mixed number of one of the parts, the first that is near enough; ok tells whether one is.
func fraction(x float64, parts []int, within float64) (text string, ok bool) {
	for _, p := range parts {
		if n := math.Round(x * float64(p)); n > 0 && math.Abs(n/float64(p)-x) <= within*x {
			return mixed(x, p), true
		}
	}
	return "", false
}

// nearest writes x as a mixed number of one of the parts, or where none is near enough in decimals.
func nearest(x float64, parts []int, decimals int) string {
	if text, ok := fraction(x, parts, nearEnough); ok {
		return text
	}
	return trimmed(x, decimals)
}

// fine2 writes two decimals, or two digits of what is less than that.
func fine2(x float64) string {
	if x < 0.105 {
		return significant(x, 2)
	}
	return trimmed(x, 2)
}

// pieces as a number.
func pieces(n float64) string {
	if n < 1 {
		return significant(n, 2)
	}
	return trimmed(n, 1)
}

func counted(n float64) string {
	if n == 1 {
		return "1 piece"
	}
	return trimmed(n, 0) + " pieces"
}

func usLength(mm float64) string {
	in := mm / 25.4
	switch {
	case in >= 36:
		return significant(in/12, 3) + " ft"
	default:
		if fraction := math.Round(in*16) / 16; math.Abs(fraction-in) < min(0.01, nearEnough*in) && fraction > 0 {
			return mixed(in, 16) + " in"
		}
		if in < 0.1 {
			return significant(in, 2) + " in"
		}
		return trimmed(in, 2) + " in"
	}
}

// mixed writes x to the nearest 1/parts as a mixed number: 2 3/4.
func mixed(x float64, parts int) string {
	n := int(math.Round(x * float64(parts)))
	if n == 0 {
		n = 1
	}
	whole, above, below := n/parts, n%parts, parts
	for above > 0 && above%2 == 0 && below%2 == 0 {
		above, below = above/2, below/2
	}
	switch {
	case above == 0:
		return strconv.Itoa(whole)
	case whole == 0:
		return strconv.Itoa(above) + "/" + strconv.Itoa(below)
	default:
		return strconv.Itoa(whole) + " " + strconv.Itoa(above) + "/" + strconv.Itoa(below)
	}
}

// trimmed writes x with at most the given decimals and no trailing zeros.
func trimmed(x float64, decimals int) string {
	s := strconv.FormatFloat(x, 'f', decimals, 64)
	if strings.Contains(s, ".") {
		s = strings.TrimRight(strings.TrimRight(s, "0"), ".")
	}
	if s == "-0" {
		return "0"
	}
	return s
}

func significant(x float64, digits int) string {
	if x == 0 {
		return "0"
	}
	decimals := digits - 1 - int(math.Floor(math.Log10(math.Abs(x))))
	return trimmed(x, max(decimals, 0))
}

// Minutes writes a span of time as a kitchen says it: 45 min, 2 h, 2 h 5 min. Its spaces do not break at the end of a
// line.
func Minutes(m int) string {
	h, rest := m/60, m%60
	switch {
	case h == 0:
		return strconv.Itoa(rest) + "\u00a0min"
	case rest == 0:
		return strconv.Itoa(h) + "\u00a0h"
	default:
		return fmt.Sprintf("%d\u00a0h\u00a0%d\u00a0min", h, rest)
	}
}

// Percent writes a share: 0.06 is "6%".
func Percent(share float64) string { return trimmed(share*100, 1) + "%" }

// Number writes x with at most two decimals.
func Number(x float64) string { return trimmed(x, 2) }

// UnmarshalText reads a unit as people spell it, so that "Cups" in JSON is a cup. What is not known stays as written
// and fails Check.
func (u *Unit) UnmarshalText(text []byte) error {
	if exact := Unit(text); units[exact].factor > 0 {
		*u = exact
		return nil
	}
	name := strings.ToLower(string(text))
	if known, ok := spellings[strings.TrimSuffix(name, "s")]; ok && name != "" {
		*u = known
		return nil
	}
	*u = Unit(text)
	return nil
}

// ShowPack shows a pack as it is printed on it: a bag of 1 kg is 1 kg in any kitchen, and a bag of 12 oz is 12 oz. What
// is round in neither school, or in both, is shown as other amounts are.
func ShowPack(q Quantity) Shown {
	shown := Show(q, Substance{})
	grams, err := q.In(Gram, Substance{})
	metric, us := 50.0, GramsPerOunce/2 // g; half an ounce, avoirdupois
	if err != nil {
		if grams, err = q.In(Millilitre, Substance{}); err != nil {
			return shown // counted, or by length
		}
		us = 29.5735295625 // mL; a fluid ounce of the US
	}
	round := func(step float64) bool {
		n := math.Round(grams / step)
		return n >= 1 && math.Abs(grams-n*step) <= 0.0005*grams
	}
	switch m, u := round(metric), round(us); {
	case m && !u:
		shown.US = shown.Metric
	case u && !m:
		shown.Metric = shown.US
	}
	return shown
}

// ShowDistance of a way on the road, m: to a tenth of a kilometre or mile, and from ten on to a whole one.
func ShowDistance(metres float64) Shown {
	const mile = 1609.344 // m, exactly: NIST SP 811, B.6
	write := func(x float64, unit string) string {
		digits := 1
		if x >= 9.95 {
			digits = 0
		}
		return strconv.FormatFloat(x, 'f', digits, 64) + "\u00a0" + unit
	}
	return Shown{Of(metres, Metre), write(metres/1000, "km"), write(metres/mile, "mi")}
}
