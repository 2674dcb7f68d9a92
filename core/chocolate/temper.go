package chocolate

import (
	"math"
	"slices"

	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Method of bringing a chocolate to working condition (rules 3.2).
type Method string

const (
	NoTemper   Method = "none"        // compound, or real chocolate that will be hidden
	Gentle     Method = "gentle"      // from tempered solid, never above the ceiling
	Seed       Method = "seed"        // hold back a share and stir it in
	ThreePoint Method = "three-point" // melt, cool, warm again
)

// Methods that there are.
func Methods() []Method { return []Method{NoTemper, Gentle, Seed, ThreePoint} }

// Offers are the methods for a kind of chocolate, the default first.
func Offers(k Kind) []Method {
	if k == Compound {
		return []Method{NoTemper}
	}
	return []Method{Seed, Gentle, ThreePoint, NoTemper}
}

// Why is the reason to choose a method for a kind.
func (m Method) Why(k Kind) reason.Reason {
	if k == Compound {
		return reason.Of("chocolate.compound-sets-without-tempering")
	}
	return reason.Of("chocolate.choose-" + string(m))
}

// MethodFor the kind: compound needs no tempering, real chocolate is seeded (rules 3.2).
func MethodFor(k Kind) Method { return Offers(k)[0] }

// Fits says whether the method can be used with the kind.
func (m Method) Fits(k Kind) bool { return slices.Contains(Offers(k), m) }

// Ceiling is the highest temperature of a gentle melt in C: the top of the working band and 0.8 more, 32.8, 30.8 and
// 29.8 for dark, milk and white (memory; for dark common practice says 91 F).
func Ceiling(b Bands) float64 { return b.Work.To + 0.8 }

// Working band of a chocolate in the bowl, C: that of its tempering; coating, and chocolate that is not tempered, flows
// well from about 100 to 110 F (common practice; rules 2.4 dips at 45 C under rolled sugar).
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

// BurstsFor a bowl of so many grams: 1 to 2 minutes in all for 8 oz (rules 3.1, common practice), so 90 s for 227 g,
// and in proportion to the mass, since the same oven gives the same heat. Two thirds of the time in bursts of 30 s,
// then of 15 s, the last 16 s or so in short ones.
func BurstsFor(grams si.Grams) Bursts {
	seconds := 90 * grams.Over(8*ounce)
	long := int(seconds * 2 / 3 / 30)
	rest := seconds - float64(long)*30
	fifteen := max(int(math.Round((rest-16)/15)), 0)
	return Bursts{long, fifteen, max(int(math.Ceil((rest-float64(fifteen)*15)/8)), 1)}
}

// gentleBursts never run for 30 s: chocolate that is to keep its crystals must not be hot anywhere. It is brought to
// the ceiling only, which takes less heat than the melting band, in the proportion of the heat balance.
func gentleBursts(grams si.Grams, b Bands, room float64) Bursts {
	heat := func(to float64) float64 { return HeatSolid*math.Max(to-room, 0) + LatentHeat }
	seconds := 90 * grams.Over(8*ounce) * heat(Ceiling(b)) / heat(b.Melt.Mid())
	fifteen := max(int((seconds-16)/15), 0)
	return Bursts{0, fifteen, max(int(math.Ceil((seconds-float64(fifteen)*15)/8)), 1)}
}

// Tempering is how one pot of a chocolate is brought to working condition.
type Tempering struct {
	Method  Method          `json:"method"`
	Bands   Bands           `json:"bands"`
	Source  Source          `json:"source"`
	Floor   float64         `json:"floor,omitempty"`
	Ceiling float64         `json:"ceiling,omitempty"`
	Share   float64         `json:"share,omitempty"`
	Seed    si.Grams        `json:"seed,omitempty"`
	Bursts  *Bursts         `json:"bursts,omitempty"`
	Steps   []reason.Reason `json:"steps"`
}

// Temper works out a pot of total grams from a source in a room (C) where the seed lies. bands are those of the
// chocolate.
func Temper(m Method, kind Kind, bands Bands, source Source, total si.Grams, room float64) Tempering {
	t := Tempering{Method: m, Bands: bands, Source: source}
	melted := total
	if m == Seed {
		t.Share = SeedShare(bands.Melt.Mid(), bands.Work.Mid(), room)
		t.Seed = total.Times(t.Share)
		melted -= t.Seed
	}
	say := func(code string, with ...reason.Value) { t.Steps = append(t.Steps, reason.Of(code, with...)) }
	bowl := reason.Of("chocolate.melt-over-water", measure.ShowGrams(melted))
	if source != Bath {
		b := BurstsFor(melted)
		if m == Gentle {
			b = gentleBursts(melted, bands, room)
		}
		t.Bursts = &b
		bowl = reason.Of("chocolate.melt-in-bursts", measure.ShowGrams(melted), b.told())
	}
	switch m {
	case Seed:
		say("chocolate.melt-to", bowl, bands.Melt.Band())
		say("chocolate.stir-in-seed", measure.ShowGrams(t.Seed), reason.Share(math.Round(t.Share*100)/100),
			bands.Work.Band())
		say("chocolate.test-a-smear")
	case Gentle:
		t.Floor, t.Ceiling = bands.Work.From, Ceiling(bands)
		say("chocolate.melt-never-above", bowl, reason.Celsius(t.Ceiling))
		say("chocolate.work-at-and-warm", bands.Work.Band(), reason.Celsius(t.Floor))
		say("chocolate.over-the-ceiling")
	case ThreePoint:
		say("chocolate.melt-to", bowl, bands.Melt.Band())
		say("chocolate.cool-to", bands.Cool.Band())
		say("chocolate.warm-to", bands.Work.Band())
	default:
		say("chocolate.melt", bowl)
		if kind == Compound {
			say("chocolate.rest-before-dipping")
		} else {
			say("chocolate.dip-untempered", reason.Celsius(Working(m, kind, bands).To))
		}
	}
	return t
}

// told are the bursts one after the other.
func (b Bursts) told() reason.List {
	var list reason.List
	for _, of := range []struct {
		n    int
		code string
	}{{b.Thirty, "chocolate.bursts-of-30"}, {b.Fifteen, "chocolate.bursts-of-15"},
		{b.Short, "chocolate.short-bursts"}} {
		if of.n > 0 {
			list = append(list, reason.Of(of.code, reason.Int(of.n)))
		}
	}
	return list
}
