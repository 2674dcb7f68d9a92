package fault

import (
	"math"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Fix is what can be done now, and what is booked for it.
type Fix struct {
	Key   string
	Do    reason.Reason
	Grade Grade // what the pieces are then worth; empty where it is the bowl or the filling that is mended
	Books
}

// Books is what a fix takes and gives, in g.
type Books struct {
	Lost int      // pieces, or half shells, that are not handed over
	Back si.Grams // chocolate that comes back
	Uses si.Grams // chocolate that is taken for it, beside what was reckoned
	Gone si.Grams // chocolate of the bowl that is no chocolate any more
	Wet  si.Grams // cream that is taken for it
	Made si.Grams // sauce that comes of it
}

// remedy is a fix for a scene; false where it does not fit.
type remedy func(*Scene) (Fix, bool)

// Chocolate that repairs take of a unit, in g (memory), and a second dip as a share of the coat: what two coats on one
// wall leave to the second (rules 4.3).
const (
	onLines   = 2.0
	onPatch   = 3.0
	onDab     = 1.0
	secondDip = 0.4
)

// Keeps is how many hours a sauce of chocolate and cream keeps cold: a week (common practice).
const Keeps = 7 * 24

func shown(g si.Grams) measure.Shown { return measure.ShowGrams(g) }

// piecewise takes so much chocolate for each unit, and they can be handed over again.
func piecewise(key string, each float64) remedy {
	return func(s *Scene) (Fix, bool) {
		uses := si.Grams(each * float64(s.Units))
		return Fix{Key: key, Grade: Repair, Do: reason.Of("fault.do-"+key, shown(uses), reason.Int(s.Units)),
			Books: Books{Uses: uses}}, s.Units > 0
	}
}

// plainly is done to the units, and takes nothing that is booked.
func plainly(key string, grade Grade) remedy {
	return func(s *Scene) (Fix, bool) {
		return Fix{Key: key, Grade: grade, Do: reason.Of("fault.do-"+key, reason.Int(s.Units))}, s.Units > 0
	}
}

// away they go, with what is on them.
func away(key string, grade Grade) remedy {
	return func(s *Scene) (Fix, bool) {
		return Fix{Key: key, Grade: grade, Do: reason.Of("fault.do-"+key, reason.Int(s.Units)),
			Books: Books{Lost: s.Units}}, s.Units > 0
	}
}

// toBowl is done to the bowl.
func toBowl(key string, with ...reason.Value) remedy {
	return func(s *Scene) (Fix, bool) {
		return Fix{Key: key, Do: reason.Of("fault.do-"+key, with...)}, s.has(Bowl)
	}
}

// toMix is done to the filling, with so much of its mass; 0: with nothing.
func toMix(key string, cream, chocolate float64) remedy {
	return func(s *Scene) (Fix, bool) {
		b := Books{Wet: s.Mix.Times(cream), Uses: s.Mix.Times(chocolate)}
		return Fix{Key: key, Do: reason.Of("fault.do-"+key, shown(max(b.Wet, b.Uses)), shown(s.Mix)), Books: b},
			s.has(Mixed) && (cream+chocolate == 0 || s.Mix > 0)
	}
}

var (
	asIs         = plainly("as-is", Sell)
	swirl        = plainly("swirl", Sell)
	lines        = piecewise("lines", onLines)
	patch        = piecewise("patch", onPatch)
	brushRim     = piecewise("brush-rim", onPatch)
	seal         = piecewise("seal", onPatch)
	dabFoot      = piecewise("dab-foot", onDab)
	dabTop       = piecewise("dab-top", onDab)
	cool         = plainly("cool", Repair)
	letDry       = plainly("let-dry", Repair)
	trimFoot     = plainly("trim-foot", Repair)
	chillMould   = plainly("chill-mould", Repair)
	freeze       = plainly("freeze", Repair)
	level        = plainly("level", Repair)
	topAgain     = plainly("top-again", Repair)
	rollAgain    = plainly("roll-again", Repair)
	chillCentres = plainly("chill-centres", Repair)
	beatMore     = plainly("beat-more", Repair)
	taste        = away("taste", Eat)
	throwAway    = away("throw-away", Bin)
	restBowl     = toBowl("rest-bowl", reason.Minutes(5)) // rules 3: about 5 min
	warmEdge     = toBowl("warm-edge")
	topUp        = toBowl("top-up")
	warmMix      = toMix("warm-mix", 0, 0)
	chillMix     = toMix("chill-mix", 0, 0)
	thinMix      = toMix("thin-mix", 0.05, 0)
	bindMix      = toMix("bind-mix", 0.05, 0)
	firmMix      = toMix("firm-mix", 0, 0.1)
)

// dipAgain is a second, thin dip.
func dipAgain(s *Scene) (Fix, bool) {
	uses := s.Each.Times(secondDip * float64(s.Units))
	return Fix{Key: "dip-again", Grade: Repair, Do: reason.Of("fault.do-dip-again", shown(uses), reason.Int(s.Units)),
		Books: Books{Uses: uses}}, s.Units > 0 && s.has(Dipped)
}

// remelt what is nothing but chocolate; what fresh fruit has touched is not kept.
func remelt(s *Scene) (Fix, bool) {
	back := s.Each.Times(float64(s.Units))
	return Fix{Key: "remelt", Grade: Reclaim, Do: reason.Of("fault.do-remelt", shown(back), reason.Int(s.Units)),
		Books: Books{Lost: s.Units, Back: back}}, s.Units > 0 && back > 0 && !s.Full && !s.Damp
}

// sauce of a bowl that is no coating any more, with half its weight of warm cream.
func sauce(s *Scene) (Fix, bool) {
	cream := s.Bowl / 2
	return Fix{Key: "sauce", Do: reason.Of("fault.do-sauce", shown(s.Bowl), shown(cream), shown(s.Bowl+cream),
			reason.Hours(Keeps)), Books: Books{Gone: s.Bowl, Wet: cream, Made: s.Bowl + cream}},
		s.Bowl > 0 && s.has(Bowl)
}

// comeBack: coating often does (rules 3.3).
func comeBack(s *Scene) (Fix, bool) {
	return Fix{Key: "come-back", Do: reason.Of("fault.do-come-back")}, compound(s) && s.has(Bowl)
}

func throwBowl(s *Scene) (Fix, bool) {
	return Fix{Key: "throw-bowl", Do: reason.Of("fault.do-throw-bowl", shown(s.Bowl)), Books: Books{Gone: s.Bowl}},
		s.Bowl > 0 && s.has(Bowl)
}

func throwMix(s *Scene) (Fix, bool) {
	return Fix{Key: "throw-mix", Do: reason.Of("fault.do-throw-mix", shown(s.Mix))}, s.has(Mixed) && s.Mix > 0
}

// boilAgain with a little water, which boils off: a tenth of its mass (memory).
func boilAgain(s *Scene) (Fix, bool) {
	return Fix{Key: "boil-again", Grade: Repair,
		Do: reason.Of("fault.do-boil-again", shown(s.Mix.Times(0.1)), shown(s.Mix))}, s.Mix > 0
}

// warmBowl back into its band: a coating by 5 to 10 s at a time (rules 5), a tempered one gently by so much heat as lifts
// it from the lower end of its band to the middle: m c ΔT over the lowest power.
func warmBowl(s *Scene) (Fix, bool) {
	f := Fix{Key: "warm-bowl", Do: reason.Of("fault.do-warm-bowl")}
	if s.tempered() && s.Bowl > 0 {
		work := chocolate.Working(s.Method, s.Kind, s.Bands)
		heat := float64(s.Bowl) * chocolate.HeatLiquid * (work.Mid() - work.From + 1)
		seconds := math.Max(math.Round(heat/lowest), 1)
		f.Do = reason.Of("fault.do-warm-tempered", reason.Int(int(seconds)), work.Band())
	}
	return f, s.has(Bowl)
}

// lowest power that a microwave brings into a bowl, W: a tenth of what it gives (memory).
const lowest = 70.0
