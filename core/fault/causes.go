package fault

import "zestytin/core/chocolate"

// seen is a sign, where it can be seen, and what may be behind it.
type seen struct {
	sign   Sign
	at     []Way
	causes []cause
}

// cause of a sign. The share is how often it is that one, before anything is known (the order is that of rules 5, the
// figures are from memory); tells are the facts that it goes with, or does not go with.
type cause struct {
	code  string
	share float64
	when  func(*Scene) bool // nil: always
	tells map[Fact]bool
	fixes []remedy // the first is what is usually done
	next  string   // what to do otherwise, by its code
}

func tempered(s *Scene) bool { return s.tempered() }
func coating(s *Scene) bool  { return !s.tempered() }
func moulded(s *Scene) bool  { return s.has(Moulded) }
func compound(s *Scene) bool { return s.Kind == chocolate.Compound }

var (
	surface = []remedy{lines, remelt, taste}
	shells  = []remedy{patch, remelt, taste}
	lost    = []remedy{throwBowl}
	layers  = []remedy{taste, remelt, throwAway}
)

type tells = map[Fact]bool

// signs with all of the table of rules 5, and what else is seen at the bench (common practice; the shares from memory).
var signs = []seen{
	{"seized", []Way{Bowl}, []cause{
		{"water", 6, nil, tells{Water: true, Burnt: false, Watery: false}, []remedy{comeBack, sauce, throwBowl},
			"dry-tools"},
		{"watery", 2, nil, tells{Watery: true, Burnt: false, Water: false}, []remedy{comeBack, sauce, throwBowl},
			"oil-based"},
		{"scorched", 2, nil, tells{Burnt: true, Burst: true, Water: false}, lost, "shorter-bursts"}}},
	{"scorched", []Way{Bowl}, []cause{
		{"scorched", 7, nil, tells{Burnt: true, Burst: true, Water: false}, lost, "shorter-bursts"},
		{"water", 3, nil, tells{Burnt: false, Water: true}, []remedy{sauce, throwBowl}, "dry-tools"}}},
	{"thick", []Way{Bowl}, []cause{
		{"bowl-cooled", 6, nil, tells{Many: true, Cold: true, Frozen: true}, []remedy{warmBowl, topUp}, "more-in-bowl"},
		{"too-many-crystals", 2, tempered, tells{Cold: false, Smear: true, Many: false}, []remedy{warmEdge, topUp},
			"warm-edge"},
		{"water", 2, nil, tells{Water: true, Cold: false}, []remedy{sauce, throwBowl}, "dry-tools"}}},
	{"streaked", []Way{Bowl}, []cause{
		{"not-tempered", 5, tempered, tells{Hot: true, Smear: false, Later: false}, surface, "watch-ceiling"},
		{"set-slowly", 3, nil, tells{WarmRoom: true, Chilled: false, Later: false, Hot: false}, surface, "set-cool"},
		{"warmed-again", 2, nil, tells{Later: true, Hot: false}, []remedy{taste, lines, remelt}, "keep-cool"}}},
	{"dull", []Way{Bowl}, []cause{
		{"not-tempered", 5, tempered, tells{Hot: true, Smear: false}, surface, "watch-ceiling"},
		{"fridge-damp", 3, nil, tells{Chilled: true, Humid: true, Hot: false}, []remedy{asIs, lines, remelt}, "dry-cold"},
		{"mould-unclean", 2, moulded, tells{Hot: false, Smear: true}, []remedy{asIs, lines, remelt}, "polish-mould"}}},
	{"soft", []Way{Bowl}, []cause{
		{"not-tempered", 6, tempered, tells{Hot: true, Smear: false}, []remedy{remelt, lines, taste}, "watch-ceiling"},
		{"set-too-warm", 4, nil, tells{WarmRoom: true, Chilled: false, Hot: false}, []remedy{cool, taste}, "set-cool"}}},
	{"rippled", []Way{Dipped, Spread, Lined}, []cause{
		{"dipped-too-warm", 8, nil, tells{Hot: true, Cold: false}, []remedy{lines, restBowl, taste}, "rest-bowl"},
		{"moved-too-soon", 2, nil, tells{Hot: false}, []remedy{lines, taste}, "leave-alone"}}},
	{"sweating", []Way{Bowl}, []cause{
		{"from-fridge", 7, nil, tells{Chilled: true, Long: true}, []remedy{letDry, taste}, "room-temperature"},
		{"damp-air", 3, nil, tells{Humid: true, Chilled: false}, []remedy{letDry, taste}, "dry-air"}}},
	{"foot", []Way{Dipped}, []cause{
		{"too-much-on", 6, nil, tells{Cold: false, Hot: false}, []remedy{trimFoot, taste}, "shake"},
		{"bowl-cooled", 3, nil, tells{Cold: true, Many: true}, []remedy{trimFoot, warmBowl, taste}, "more-in-bowl"},
		{"dipped-too-warm", 1, nil, tells{Hot: true}, []remedy{trimFoot, restBowl, taste}, "rest-bowl"}}},
	{"coat-cracked", []Way{Dipped}, []cause{
		{"centre-expands", 8, nil, tells{Frozen: true}, []remedy{dipAgain, taste}, "temper-centres"},
		{"coat-thin", 2, nil, tells{Frozen: false, Hot: true}, []remedy{dipAgain, taste}, "rest-bowl"}}},
	{"slipped", []Way{Dipped}, []cause{
		{"loose-on-pick", 7, nil, tells{Cold: false}, []remedy{dipAgain, taste, throwAway}, "two-picks"},
		{"bowl-cooled", 3, nil, tells{Cold: true, Many: true}, []remedy{warmBowl, dipAgain, taste}, "more-in-bowl"}}},
	{"juice", []Way{Fruit}, []cause{
		{"bare-foot", 5, nil, tells{Wet: false, Chilled: false}, []remedy{taste, dabFoot, throwAway}, "dab-foot"},
		{"wet-fruit", 3, nil, tells{Wet: true}, []remedy{taste, throwAway}, "dry-fruit"},
		{"from-fridge", 2, nil, tells{Chilled: true, Long: true}, []remedy{taste, throwAway}, "room-temperature"}}},
	{"thin-rim", []Way{Moulded}, []cause{
		{"slid-down", 6, nil, tells{Hot: true}, []remedy{brushRim, remelt}, "second-brush"},
		{"drained-long", 4, nil, tells{Hot: false}, []remedy{brushRim, remelt}, "turn-sooner"}}},
	{"hole", []Way{Moulded, Dipped}, []cause{
		{"air", 5, nil, tells{Thin: false}, []remedy{patch, remelt, taste}, "tap"},
		{"wall-thin", 5, nil, tells{Thin: true, Hot: true}, []remedy{patch, remelt, taste}, "second-brush"}}},
	{"bubble", []Way{Moulded, Dipped}, []cause{
		{"air", 7, nil, tells{Cold: false}, []remedy{asIs, patch, remelt}, "tap"},
		{"bowl-cooled", 3, nil, tells{Cold: true, Many: true}, []remedy{asIs, warmBowl, remelt}, "more-in-bowl"}}},
	{"cracked", []Way{Moulded}, []cause{
		{"rim-thin", 5, nil, tells{Thin: true}, shells, "second-brush"},
		{"pulled-out", 3, nil, tells{Thin: false, Long: false}, shells, "peel-mould"},
		{"too-cold", 2, nil, tells{Thin: false, Long: true}, shells, "less-cold"}}},
	{"stuck", []Way{Moulded}, []cause{
		{"not-set", 4, nil, tells{Chilled: false, WarmRoom: true}, []remedy{chillMould, remelt}, "set-longer"},
		{"not-tempered", 4, tempered, tells{Hot: true, Smear: false, Long: true}, []remedy{freeze, remelt},
			"watch-ceiling"},
		{"wall-thin", 2, nil, tells{Thin: true, Hot: false}, []remedy{chillMould, remelt}, "second-brush"}}},
	{"crooked", []Way{Halves}, []cause{
		{"rims-uneven", 6, nil, tells{HotPlate: false, Thin: true}, []remedy{level, asIs, remelt}, "level-rims"},
		{"rim-ran", 4, nil, tells{HotPlate: true}, []remedy{level, asIs, remelt}, "lukewarm-plate"}}},
	{"seam", []Way{Halves}, []cause{
		{"plate-hot", 6, nil, tells{HotPlate: true}, []remedy{lines, asIs, taste}, "lukewarm-plate"},
		{"rims-uneven", 4, nil, tells{HotPlate: false, Thin: true}, []remedy{lines, asIs, taste}, "level-rims"}}},
	{"leak", []Way{Filled}, []cause{
		{"seal-thin", 5, nil, tells{HotPlate: false, Thin: false}, []remedy{seal, taste, throwAway}, "press-seam"},
		{"wall-thin", 3, nil, tells{Thin: true}, []remedy{seal, taste, throwAway}, "second-brush"},
		{"plate-hot", 2, nil, tells{HotPlate: true}, []remedy{seal, taste, throwAway}, "lukewarm-plate"}}},
	{"lifted", []Way{Layered}, []cause{
		{"first-hard", 7, nil, tells{HardFirst: true}, layers, "pour-on-warm"},
		{"first-chilled", 3, nil, tells{Chilled: true, HardFirst: true}, layers, "never-chilled"}}},
	{"bleeding", []Way{Layered, Lined}, []cause{
		{"first-hot", 8, nil, tells{RunFirst: true}, []remedy{swirl, taste}, "wait"},
		{"watery", 2, nil, tells{Watery: true, RunFirst: false}, []remedy{swirl, taste}, "oil-based"}}},
	{"smeared", []Way{Lined}, []cause{
		{"lines-too-warm", 6, nil, tells{Hot: true}, []remedy{asIs, lines, taste}, "rest-bowl"},
		{"moved-too-soon", 4, nil, tells{Hot: false}, []remedy{asIs, lines, taste}, "leave-alone"}}},
	{"sunk", []Way{Topped}, []cause{
		{"topped-too-soon", 7, nil, tells{Matt: false}, []remedy{topAgain, asIs, taste}, "top-later"},
		{"bowl-hot", 3, nil, tells{Hot: true, Matt: false}, []remedy{topAgain, asIs, taste}, "rest-bowl"}}},
	{"loose", []Way{Topped}, []cause{
		{"topped-too-late", 8, nil, tells{Matt: true}, []remedy{dabTop, asIs, taste}, "top-sooner"},
		{"too-much-on-top", 2, nil, tells{Matt: false}, []remedy{asIs, dabTop, taste}, "less-on-top"}}},
	{"wet-sugar", []Way{Rolled}, []cause{
		{"no-starch", 6, nil, tells{Starch: false}, []remedy{rollAgain, taste}, "two-to-one"},
		{"damp-air", 3, nil, tells{Humid: true, Starch: true}, []remedy{rollAgain, taste}, "dry-air"},
		{"from-fridge", 1, nil, tells{Chilled: true, Starch: true}, []remedy{rollAgain, taste}, "room-temperature"}}},
	{"flat", []Way{Rolled, Dipped}, []cause{
		{"centres-warm", 7, nil, tells{Frozen: false}, []remedy{chillCentres, taste}, "smaller-sets"},
		{"mix-soft", 3, nil, tells{Frozen: true}, []remedy{chillCentres, taste}, "firmer-mix"}}},
	{"stiff", []Way{Mixed}, []cause{
		{"mix-cold", 6, nil, tells{Chilled: true, Cold: true}, []remedy{warmMix, thinMix}, "pipe-warm"},
		{"mix-dry", 4, nil, tells{Chilled: false}, []remedy{thinMix, warmMix}, "weigh-mix"}}},
	{"slack", []Way{Mixed}, []cause{
		{"mix-warm", 6, nil, tells{Chilled: false, WarmRoom: true}, []remedy{chillMix, firmMix}, "rest-mix"},
		{"mix-wet", 4, nil, tells{Chilled: true}, []remedy{firmMix, chillMix}, "weigh-mix"}}},
	{"split", []Way{Mixed}, []cause{
		{"mix-hot", 6, nil, tells{Hot: true}, []remedy{bindMix, throwMix}, "cooler-cream"},
		{"mix-cooled-uneven", 4, nil, tells{Hot: false}, []remedy{bindMix, throwMix}, "stir-slowly"}}},
	{"sandy", []Way{Boiled}, []cause{
		{"stirred-hot", 6, nil, tells{Stirred: true}, []remedy{boilAgain, taste, throwAway}, "cool-undisturbed"},
		{"crystals-at-side", 4, nil, tells{Stirred: false}, []remedy{boilAgain, taste, throwAway}, "wash-side"}}},
	{"runny", []Way{Boiled}, []cause{
		{"boiled-low", 7, nil, tells{Reached: false}, []remedy{boilAgain, taste, throwAway}, "boil-to-target"},
		{"beaten-short", 3, nil, tells{Reached: true}, []remedy{beatMore, taste, throwAway}, "beat-longer"}}},
	{"broken", Ways(), []cause{{"handled", 1, nil, nil, []remedy{taste, remelt, throwAway}, "tools"}}},
}
