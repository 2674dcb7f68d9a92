package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"zestytin/core/reason"
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
func ShowGrams(g float64) Shown { return Show(Grams(g), Substance{}) }

// Show writes q for both schools. A mass of a substance with a density below 1 g/mL (powders, marshmallows, crumbs) is
// written in cups and spoons for the US reader, since that is how it is measured there; other masses in ounces.
func Show(q Quantity, s Substance) Shown {
	shown := Shown{Quantity: q}
	if s.Measures[q.Unit] > 0 {
		name := trimmed(q.Amount, 2) + " " + string(q.Unit)
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
		if s.Density > 0 && s.Density < 1 {
			shown.US = usVolume(base / s.Density)
		} else {
			shown.US = usMass(base)
		}
	case Volume:
		shown.Metric, shown.US = metricVolume(base), usVolume(base)
	case Length:
		shown.Metric, shown.US = metricLength(base), usLength(base)
	default:
		shown.Metric = trimmed(base, 1)
		shown.US = shown.Metric
	}
	return shown
}

func metricMass(g float64) string {
	switch {
	case g >= 999.5:
		return significant(g/1000, 3) + " kg"
	case g >= 9.95:
		return trimmed(g, 0) + " g"
	default:
		return trimmed(g, 1) + " g"
	}
}

func metricVolume(ml float64) string {
	switch {
	case ml >= 999.5:
		return significant(ml/1000, 3) + " L"
	case ml >= 9.95:
		return trimmed(ml, 0) + " mL"
	default:
		return trimmed(ml, 1) + " mL"
	}
}

func metricLength(mm float64) string {
	switch {
	case mm >= 999.5:
		return significant(mm/1000, 3) + " m"
	case mm >= 99.5:
		return trimmed(mm/10, 1) + " cm"
	default:
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
	case oz >= 1:
		return mixed(oz, 4) + " oz"
	default:
		return trimmed(oz, 2) + " oz"
	}
}

func usVolume(ml float64) string {
	cups := ml / mlPerCup
	switch {
	case cups >= 0.245:
		if math.Round(cups*4) <= 4 {
			return mixed(cups, 4) + " cup"
		}
		return mixed(cups, 4) + " cups"
	case cups*16 >= 0.995:
		return mixed(cups*16, 2) + " tbsp"
	case cups*48 >= 0.124:
		return mixed(cups*48, 8) + " tsp"
	default:
		return "under 1/8 tsp"
	}
}

func usLength(mm float64) string {
	in := mm / 25.4
	switch {
	case in >= 36:
		return significant(in/12, 3) + " ft"
	default:
		if fraction := math.Round(in*16) / 16; math.Abs(fraction-in) < 0.01 && fraction > 0 {
			return mixed(in, 16) + " in"
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
	for above > 0 && above%2 == 0 {
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

// Minutes writes a span of time as a kitchen says it: 45 min, 2 h, 2 h 05. Its spaces do not break at the end of a line.
func Minutes(m int) string {
	h, rest := m/60, m%60
	switch {
	case h == 0:
		return strconv.Itoa(rest) + "\u00a0min"
	case rest == 0:
		return strconv.Itoa(h) + "\u00a0h"
	default:
		return fmt.Sprintf("%d\u00a0h\u00a0%02d", h, rest)
	}
}

// Percent writes a share: 0.06 is "6 %".
func Percent(share float64) string { return trimmed(share*100, 1) + " %" }

// Number writes x with at most two decimals.
func Number(x float64) string { return trimmed(x, 2) }

// UnmarshalText reads a unit as people spell it, so that "Cups" in JSON is a cup. What is not known stays as written and
// fails Check.
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
