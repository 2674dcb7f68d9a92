package chocolate

import (
	"fmt"
	"math"

	"zestytin/core/measure"
)

// Method of bringing a chocolate to working condition (handbook 3.2).
type Method string

const (
	NoTemper   Method = "none"        // compound, or real chocolate that will be hidden
	Gentle     Method = "gentle"      // from tempered solid, never above the ceiling
	Seed       Method = "seed"        // hold back a share and stir it in
	ThreePoint Method = "three-point" // melt, cool, warm again
)

// Methods that there are.
func Methods() []Method { return []Method{NoTemper, Gentle, Seed, ThreePoint} }

// Offer is a method with the reason to choose it.
type Offer struct {
	Method Method `json:"method"`
	Name   string `json:"name"`
	Why    string `json:"why"`
}

// Offers are the methods for a kind of chocolate, the default first.
func Offers(k Kind) []Offer {
	if k == Compound {
		return []Offer{{NoTemper, "melt and use", "Vegetable fat sets glossy without tempering."}}
	}
	return []Offer{
		{Seed, "seed", "The surest in a home kitchen: solid chocolate carries the right crystals into the melt, and no slab is needed."},
		{Gentle, "gentle melt", "For small bowls of chocolate that is tempered already: it keeps its crystals as long as it stays under the ceiling. One degree over, and it is to be seeded after all."},
		{ThreePoint, "three-point", "For chocolate that has lost its temper, such as reclaimed pieces, and when there is no solid chocolate to seed with. It needs a thermometer."},
		{NoTemper, "not tempered", "Only where it will be hidden, as under rolled sugar: it sets soft and dull."},
	}
}

// MethodFor the kind: compound needs no tempering, real chocolate is seeded (handbook 3.2).
func MethodFor(k Kind) Method { return Offers(k)[0].Method }

// Fits says whether the method can be used with the kind.
func (m Method) Fits(k Kind) bool {
	for _, o := range Offers(k) {
		if o.Method == m {
			return true
		}
	}
	return false
}

// Ceiling is the highest temperature of a gentle melt in C: the top of the working band and 0.8 more, 32.8, 30.8 and 29.8 for dark, milk and white (memory; for
// dark common practice says 91 F).
func Ceiling(b Bands) float64 { return b.Work.To + 0.8 }

// Working band of a chocolate in the bowl, C: that of its tempering; coating, and chocolate that is not tempered, flows well
// from about 100 to 110 F (common practice; handbook 2.4 dips at 45 C under rolled sugar).
func Working(m Method, k Kind, b Bands) Range {
	switch {
	case k == Compound:
		return Range{38, 43}
	case m == NoTemper:
		return Range{40, 45}
	default:
		return b.Work
	}
}

// Bursts in a microwave: stir after each even if nothing shows, and stop before the last lumps melt.
type Bursts struct {
	Thirty  int `json:"thirty"`
	Fifteen int `json:"fifteen"`
	Short   int `json:"short"`
}

// BurstsFor a bowl of so many grams: 1 to 2 minutes in all for 8 oz (handbook 3.1, common practice), so 90 s for 227 g, and in
// proportion to the mass, since the same oven gives the same heat. Two thirds of the time in bursts of 30 s, then of 15 s, the
// last 16 s or so in short ones.
func BurstsFor(grams float64) Bursts {
	seconds := 90 * grams / 226.796185
	long := int(seconds * 2 / 3 / 30)
	rest := seconds - float64(long)*30
	fifteen := max(int(math.Round((rest-16)/15)), 0)
	return Bursts{long, fifteen, max(int(math.Ceil((rest-float64(fifteen)*15)/8)), 1)}
}

// gentleBursts never run for 30 s: chocolate that is to keep its crystals must not be hot anywhere. It is brought to the ceiling only, which takes less heat than
// the melting band, in the proportion of the heat balance.
func gentleBursts(grams float64, b Bands, room float64) Bursts {
	heat := func(to float64) float64 { return heatSolid*math.Max(to-room, 0) + latentHeat }
	seconds := 90 * grams / 226.796185 * heat(Ceiling(b)) / heat(b.Melt.Mid())
	fifteen := max(int((seconds-16)/15), 0)
	return Bursts{0, fifteen, max(int(math.Ceil((seconds-float64(fifteen)*15)/8)), 1)}
}

// Tempering is how one pot of a chocolate is brought to working condition.
type Tempering struct {
	Method  Method   `json:"method"`
	Bands   Bands    `json:"bands"`
	Source  Source   `json:"source"`
	Floor   float64  `json:"floor,omitempty"`
	Ceiling float64  `json:"ceiling,omitempty"`
	Share   float64  `json:"share,omitempty"`
	Seed    float64  `json:"seed,omitempty"`
	Bursts  *Bursts  `json:"bursts,omitempty"`
	Steps   []string `json:"steps"`
}

// Temper works out a pot of total grams from a source in a room (C) where the seed lies. bands are those of the chocolate.
func Temper(m Method, kind Kind, bands Bands, source Source, total, room float64) Tempering {
	t := Tempering{Method: m, Bands: bands, Source: source}
	melted := total
	if m == Seed {
		t.Share = SeedShare(bands.Melt.Mid(), bands.Work.Mid(), room)
		t.Seed = total * t.Share
		melted -= t.Seed
	}
	melt := "Melt " + mass(melted) + " over barely simmering water, about 2.5 cm (1 in) of it, the bowl not touching; keep steam and drops away"
	if source != Bath {
		b := BurstsFor(melted)
		if m == Gentle {
			b = gentleBursts(melted, bands, room)
		}
		t.Bursts = &b
		melt = fmt.Sprintf("Melt %s in bursts, stirring after each: %s, and stop before the last lumps melt", mass(melted), b)
	}
	switch m {
	case Seed:
		t.Steps = []string{
			melt + ", to " + Degrees(bands.Melt) + ".",
			fmt.Sprintf("Stir in the %s held back (%s), bit by bit, until it is at %s.", mass(t.Seed), measure.Percent(math.Round(t.Share*100)/100), Degrees(bands.Work)),
			"Test a smear on paper: it sets glossy within 5 minutes. Lift out seed that is left.",
		}
	case Gentle:
		t.Floor, t.Ceiling = bands.Work.From, Ceiling(bands)
		t.Steps = []string{
			melt + fmt.Sprintf(", never above %s.", Degree(t.Ceiling)),
			fmt.Sprintf("Work with it at %s; below %s warm it by a second or two at the lowest power, stirring and measuring.", Degrees(bands.Work), Degree(t.Floor)),
			"Once over the ceiling, start over and seed it.",
		}
	case ThreePoint:
		t.Steps = []string{melt + ", to " + Degrees(bands.Melt) + ".", "Cool, stirring, to " + Degrees(bands.Cool) + ".", "Warm gently to " + Degrees(bands.Work) + ", and not above."}
	default:
		t.Steps = []string{melt + "."}
		if kind == Compound {
			t.Steps = append(t.Steps, "Rest 5 minutes before dipping: too warm gives a rippled skin.")
		} else {
			t.Steps = append(t.Steps, fmt.Sprintf("Dip at about %s. It is not tempered: it must be hidden, as under rolled sugar.", Degree(Working(m, kind, bands).To)))
		}
	}
	return t
}

func (b Bursts) String() string {
	text := ""
	add := func(n int, of string) {
		if n > 0 {
			if text != "" {
				text += ", then "
			}
			text += fmt.Sprintf("%d of %s", n, of)
		}
	}
	add(b.Thirty, "30 s")
	add(b.Fifteen, "15 s")
	add(b.Short, "5 to 10 s")
	return text
}

func mass(g float64) string { return measure.Show(measure.Grams(g), measure.Substance{}).Metric }

// Degree writes a temperature in both scales.
func Degree(c float64) string {
	return fmt.Sprintf("%s °C (%s °F)", measure.Number(math.Round(c*10)/10), measure.Number(math.Round(measure.Fahrenheit(c))))
}

// Degrees writes a band in both scales.
func Degrees(r Range) string {
	return fmt.Sprintf("%s to %s °C (%.0f to %.0f °F)", measure.Number(r.From), measure.Number(r.To), measure.Fahrenheit(r.From), measure.Fahrenheit(r.To))
}
