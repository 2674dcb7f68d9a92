// Package fault tells from what is seen what has probably gone wrong, what to do now, with amounts, what the pieces are
// then worth, and what to do otherwise next time (rules 5). It knows no family of treats: what can go wrong with
// something follows from how it is made.
package fault

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/si"
)

// Way is how something is made, as far as faults follow from it.
type Way string

// Ways that there are.
const (
	Bowl    Way = "bowl"    // it works from a bowl of chocolate
	Moulded Way = "moulded" // a shell comes out of a mould
	Halves  Way = "halves"  // two of them make a piece
	Filled  Way = "filled"  // something is inside
	Dipped  Way = "dipped"  // a centre goes through the bowl
	Fruit   Way = "fruit"   // which is fresh fruit
	Spread  Way = "spread"  // on a sheet
	Layered Way = "layered" // one chocolate lies on another
	Lined   Way = "lined"   // with lines on top
	Rolled  Way = "rolled"  // in sugar or crumb
	Topped  Way = "topped"
	Mixed   Way = "mixed"  // a filling or centre is stirred together
	Boiled  Way = "boiled" // sugar is boiled
)

// Ways in the order in which a person is asked about them.
func Ways() []Way {
	return []Way{Bowl, Moulded, Halves, Filled, Dipped, Fruit, Spread, Layered, Lined, Rolled, Topped, Mixed, Boiled}
}

// Sign is what is seen.
type Sign string

// Fact narrows down what is behind a sign: it is recorded, or asked for.
type Fact string

// Facts that there are.
const (
	Hot       Fact = "hot"       // above the ceiling while it was worked with
	Cold      Fact = "cold"      // below the working band
	Smear     Fact = "smear"     // a smear set well before
	Burst     Fact = "burst"     // it was heated long or hard
	Burnt     Fact = "burnt"     // it smells burnt
	Water     Fact = "water"     // water or steam got in
	Watery    Fact = "watery"    // something stirred in is made with water
	Chilled   Fact = "chilled"   // it stood in the fridge or freezer
	Long      Fact = "long"      // and longer than it was to
	WarmRoom  Fact = "warm-room" // above 22 °C
	Humid     Fact = "humid"     // the air is damp
	Later     Fact = "later"     // it showed only hours later
	Frozen    Fact = "frozen"    // the centres were colder than a fridge
	Many      Fact = "many"      // many were dipped since the bowl was last warm
	Thin      Fact = "thin"      // the rim is thinner than the rest
	HotPlate  Fact = "hot-plate" // the plate for the rims was more than lukewarm
	Wet       Fact = "wet"       // the fruit was not quite dry
	HardFirst Fact = "hard-first"
	RunFirst  Fact = "run-first" // the first layer still ran
	Matt      Fact = "matt"      // the coat had begun to set
	Starch    Fact = "starch"    // there is starch in the sugar
	Stirred   Fact = "stirred"   // the boiled sugar was stirred while it was hot
	Reached   Fact = "reached"   // it was boiled to its target by a thermometer
)

// Grade is what pieces are worth.
type Grade string

// Grades (rules 5).
const (
	Sell    Grade = "sell"
	Repair  Grade = "repair"
	Eat     Grade = "eat"
	Reclaim Grade = "reclaim" // back to the pot
	Bin     Grade = "bin"
)

// Good says whether a piece of the grade can still be handed over.
func (g Grade) Good() bool { return g == Sell || g == Repair || g == "" }

// Scene is where something is seen. What is not known is zero.
type Scene struct {
	Ways   []Way
	Kind   chocolate.Kind
	Colour chocolate.Colour
	Bands  chocolate.Bands
	Method chocolate.Method
	Room   float64  // °C
	Bowl   si.Grams // that are in the bowl
	Source chocolate.Source
	Units  int      // pieces that it is seen at, or half shells where there are no pieces yet
	Each   si.Grams // of chocolate on one of them
	Mix    si.Grams // of the filling or the boiled sugar
	Damp   bool     // fresh fruit went through the bowl
	Full   bool     // something else is in or on them already: their chocolate cannot be had back
	Facts  map[Fact]bool
}

func (s *Scene) has(w Way) bool { return slices.Contains(s.Ways, w) }

// tempered says whether its chocolate must be in temper to set.
func (s *Scene) tempered() bool { return s.Kind == chocolate.Real && s.Method != chocolate.NoTemper }

// Signs that can be seen at something made in these ways, those of the bowl first; without any ways all of them.
func Signs(ways []Way) []Sign {
	list := make([]Sign, 0, len(signs))
	for _, s := range signs {
		if len(ways) == 0 || slices.ContainsFunc(s.at, func(w Way) bool { return slices.Contains(ways, w) }) {
			list = append(list, s.sign)
		}
	}
	return list
}

// At are the ways of making in which a sign can be seen; none of a sign that there is not.
func At(sign Sign) []Way {
	n := slices.IndexFunc(signs, func(s seen) bool { return s.sign == sign })
	if n < 0 {
		return nil
	}
	return signs[n].at
}

// Facts that there are.
func Facts() []Fact {
	return []Fact{Hot, Cold, Smear, Burst, Burnt, Water, Watery, Chilled, Long, WarmRoom, Humid, Later, Frozen, Many, Thin,
		HotPlate, Wet, HardFirst, RunFirst, Matt, Starch, Stirred, Reached}
}

// Grades that there are, the best first.
func Grades() []Grade { return []Grade{Sell, Repair, Eat, Reclaim, Bin} }
