package fault

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"zestytin/core/chocolate"
	"zestytin/core/pot"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/temper"
)

// everything is a scene in which all can be done.
func everything() *Scene {
	return &Scene{Ways: Ways(), Kind: chocolate.Real, Colour: chocolate.Dark, Bands: chocolate.BandsOf(chocolate.Dark),
		Method: chocolate.Seed, Room: 21, Bowl: 450, Units: 6, Each: 20, Mix: 400, Facts: map[Fact]bool{}}
}

// The table of rules 5 (common practice): what is seen, its likely cause, and what the pieces are then worth.
func TestTheTableOfFaults(t *testing.T) {
	for _, x := range []struct {
		sign  Sign
		facts map[Fact]bool
		cause string
		fix   string
		grade Grade
	}{
		{"streaked", map[Fact]bool{Hot: true}, "not-tempered", "lines", Repair},
		{"streaked", map[Fact]bool{WarmRoom: true, Hot: false}, "set-slowly", "lines", Repair},
		{"streaked", map[Fact]bool{Later: true, Hot: false}, "warmed-again", "taste", Eat},
		{"soft", map[Fact]bool{Hot: true}, "not-tempered", "remelt", Reclaim},
		{"scorched", map[Fact]bool{Burnt: true}, "scorched", "throw-bowl", ""},
		{"seized", map[Fact]bool{Water: true}, "water", "sauce", ""},
		{"rippled", nil, "dipped-too-warm", "lines", Repair},
		{"thick", map[Fact]bool{Many: true}, "bowl-cooled", "warm-bowl", ""},
		{"foot", nil, "too-much-on", "trim-foot", Repair},
		{"cracked", map[Fact]bool{Thin: true}, "rim-thin", "patch", Repair},
		{"cracked", map[Fact]bool{Thin: false}, "pulled-out", "patch", Repair},
		{"seam", map[Fact]bool{HotPlate: true}, "plate-hot", "lines", Repair},
		{"leak", nil, "seal-thin", "seal", Repair},
		{"coat-cracked", map[Fact]bool{Frozen: true}, "centre-expands", "dip-again", Repair},
		{"juice", nil, "bare-foot", "taste", Eat},
		{"sweating", map[Fact]bool{Chilled: true}, "from-fridge", "let-dry", Repair},
		{"lifted", map[Fact]bool{HardFirst: true}, "first-hard", "taste", Eat},
		{"bleeding", map[Fact]bool{RunFirst: true}, "first-hot", "swirl", Sell},
		{"wet-sugar", map[Fact]bool{Starch: false}, "no-starch", "roll-again", Repair},
		{"flat", nil, "centres-warm", "chill-centres", Repair},
	} {
		s := everything()
		for f, is := range x.facts {
			s.Facts[f] = is
		}
		a := Ask(x.sign, s, 0, nil)
		if len(a.Causes) == 0 || a.Causes[0].Code != x.cause || a.Causes[0].Fixes[0].Key != x.fix ||
			a.Causes[0].Fixes[0].Grade != x.grade {
			t.Errorf("%s with %v: %+v", x.sign, x.facts, a.Causes)
		}
	}
}

// By hand: streaks are from no temper, from setting slowly or from warming again as 5 to 3 to 2. It was too warm: that goes
// with the first, 5/6, and not with the others, 1/6 each: 25 to 3 to 2, which is 0.833, 0.1 and 0.067. That is not quite
// enough; no smear was good: 5/6, 1/2, 1/2: 20.83 to 1.5 to 1 or 0.893.
func TestSharesByHand(t *testing.T) {
	s := everything()
	near := func(a Answer, want ...float64) {
		t.Helper()
		for i, c := range a.Causes {
			if math.Abs(c.Likely-want[i]) > 0.001 {
				t.Errorf("%s: %v, not %v", c.Code, c.Likely, want[i])
			}
		}
	}
	near(Ask("streaked", s, 0, nil), 0.5, 0.3, 0.2)
	s.Facts[Hot] = true
	a := Ask("streaked", s, 1, nil)
	near(a, 0.833, 0.1, 0.067)
	if a.Ask == "" {
		t.Error("nothing is asked at 0.83")
	}
	s.Facts[Smear] = false
	a = Ask("streaked", s, 2, nil)
	near(a, 0.893, 0.064, 0.043)
	if a.Ask != "" {
		t.Errorf("%s is asked although it is clear", a.Ask)
	}
}

// What was seized becomes sauce with half its weight of cream: 450 g, 225 g, 675 g, a week cold (common practice).
func TestAmountsByHand(t *testing.T) {
	s := everything()
	fix := func(sign Sign, key string) Fix {
		t.Helper()
		for _, c := range Ask(sign, s, 0, nil).Causes {
			if n := slices.IndexFunc(c.Fixes, func(f Fix) bool { return f.Key == key }); n >= 0 {
				return c.Fixes[n]
			}
		}
		t.Fatalf("%s cannot be mended by %s", sign, key)
		return Fix{}
	}
	if b := fix("seized", "sauce").Books; b != (Books{Gone: 450, Wet: 225, Made: 675}) || Keeps != 168 {
		t.Errorf("%+v", b)
	}
	if b := fix("streaked", "lines").Books; b != (Books{Uses: 12}) { // 6 at 2 g
		t.Errorf("%+v", b)
	}
	if b := fix("cracked", "remelt").Books; b != (Books{Lost: 6, Back: 120}) {
		t.Errorf("%+v", b)
	}
	if b := fix("coat-cracked", "dip-again").Books; math.Abs(float64(b.Uses)-48) > 1e-9 { // 6 at 40 % of 20 g
		t.Errorf("%+v", b)
	}
	if b := fix("stiff", "thin-mix").Books; math.Abs(float64(b.Wet)-20) > 1e-9 { // 5 % of 400 g
		t.Errorf("%+v", b)
	}
	// 450 g by 1.5 K at 1.65 J/(g K) are 1114 J: 16 s at 70 W.
	if do := fix("thick", "warm-bowl").Do; do.Code != "fault.do-warm-tempered" || do.With[0] != reason.Int(16) {
		t.Errorf("%v", do)
	}
	for _, change := range []func(){func() { s.Full = true }, func() { s.Full, s.Damp = false, true }} {
		change()
		for _, c := range Ask("cracked", s, 0, nil).Causes {
			for _, f := range c.Fixes {
				if f.Grade == Reclaim {
					t.Errorf("what is filled or damp is melted down: %+v", f)
				}
			}
		}
	}
}

// At every sign, in whatever order the answers come: at most three questions, shares that come to one, something to do
// for every cause, and a question is never put twice.
func TestThreeQuestionsAtMost(t *testing.T) {
	for _, of := range signs {
		var walk func(s *Scene, asked int)
		walk = func(s *Scene, asked int) {
			a := Ask(of.sign, s, asked, nil)
			sum := 0.0
			for i, c := range a.Causes {
				sum += c.Likely
				if len(c.Fixes) == 0 || i > 0 && c.Likely > a.Causes[i-1].Likely {
					t.Errorf("%s, %s: %+v", of.sign, c.Code, c)
				}
			}
			if math.Abs(sum-1) > 1e-9 {
				t.Errorf("%s: %v", of.sign, sum)
			}
			if _, known := s.Facts[a.Ask]; known || asked > Most {
				t.Fatalf("%s: %s is asked after %v", of.sign, a.Ask, s.Facts)
			}
			if a.Ask == "" {
				return
			}
			for _, is := range []bool{true, false} {
				s.Facts[a.Ask] = is
				walk(s, asked+1)
				delete(s.Facts, a.Ask)
			}
		}
		walk(everything(), 0)
		compound := everything()
		compound.Kind, compound.Method = chocolate.Compound, chocolate.NoTemper
		walk(compound, 0)
	}
	s := everything()
	first := Ask("streaked", s, 0, nil).Ask
	if second := Ask("streaked", s, 1, []Fact{first}).Ask; second == first || second == "" {
		t.Errorf("%q is asked after %q could not be answered", second, first)
	}
	if a := Ask("nonsense", s, 0, nil); len(a.Causes) != 0 || a.Ask != "" {
		t.Errorf("%+v", a)
	}
}

// What can be seen follows from how it is made.
func TestSignsFit(t *testing.T) {
	bark := Signs([]Way{Bowl, Spread, Layered})
	for _, no := range []Sign{"cracked", "foot", "juice", "seam", "runny"} {
		if slices.Contains(bark, no) {
			t.Errorf("bark shows %s", no)
		}
	}
	if !slices.Contains(bark, "lifted") || len(Signs(nil)) != len(signs) || At("nonsense") != nil {
		t.Error(bark)
	}
}

// A bowl that was good at 31.5, then went to 34, answers two questions; a coating at 46 one.
func TestTheBowlAnswers(t *testing.T) {
	w := temper.Watch{Bowl: temper.Bowl{Kind: chocolate.Real, Bands: chocolate.BandsOf(chocolate.Dark),
		Method: chocolate.Seed, Mass: 450}, Now: 900, Deeds: []temper.Deed{{At: 10, What: temper.Burst, Seconds: 45},
		{At: 600, What: temper.Good}, {At: 700, What: temper.Dipped, Pieces: 14}},
		Said: []pot.Sample{{At: 100, Value: 46}, {At: 600, Value: 31.5}, {At: 700, Value: 34}, {At: 890, Value: 30}}}
	f := OfBowl(w)
	for fact, want := range map[Fact]bool{Smear: true, Hot: true, Cold: true, Burst: true, Many: true} {
		if is, known := f[fact]; !known || is != want {
			t.Errorf("%s: %v %v", fact, is, known)
		}
	}
	w.Deeds, w.Said = w.Deeds[:1], w.Said[:1]
	if _, known := OfBowl(w)[Hot]; known {
		t.Error("what is being melted is called too warm")
	}
	w.Bowl.Method, w.Now = chocolate.NoTemper, 110
	if f := OfBowl(w); !f[Hot] {
		t.Errorf("%v", f)
	}
	at := time.Date(2026, 9, 3, 12, 0, 0, 0, time.UTC)
	d := OfDay(Day{Room: 24, Done: at, Wait: 20 * time.Minute, Cold: true, Dips: true, Frozen: true, Now: at.Add(time.Hour),
		Between: 12 * time.Minute})
	for fact, want := range map[Fact]bool{WarmRoom: true, Chilled: true, Long: true, Later: false, Frozen: true,
		HardFirst: true, RunFirst: false, Watery: false} {
		if is, known := d[fact]; !known || is != want {
			t.Errorf("%s: %v %v", fact, is, known)
		}
	}
}

// Whatever the scene: what is lost cannot be handed over and what can is not lost, nothing is booked that is less than
// nothing, no more chocolate comes back than is on the pieces, and sauce weighs what went into it.
func TestBooksBalance(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 11))
	some := func() []Way {
		return slices.DeleteFunc(Ways(), func(Way) bool { return rng.IntN(2) == 0 })
	}
	fixes := 0
	for range 3000 {
		s := everything()
		s.Ways, s.Units, s.Bowl, s.Each = some(), rng.IntN(40), si.Grams(rng.IntN(3000)), si.Grams(rng.Float64()*60)
		s.Mix, s.Full, s.Damp = si.Grams(rng.IntN(900)), rng.IntN(2) == 0, rng.IntN(2) == 0
		if rng.IntN(2) == 0 {
			s.Kind, s.Method = chocolate.Compound, chocolate.NoTemper
		}
		for _, f := range Facts() {
			if rng.IntN(3) == 0 {
				s.Facts[f] = rng.IntN(2) == 0
			}
		}
		for _, sign := range Signs(s.Ways) {
			for _, c := range Ask(sign, s, rng.IntN(4), nil).Causes {
				for _, f := range c.Fixes {
					fixes++
					switch b := f.Books; {
					case b.Lost < 0 || b.Back < 0 || b.Uses < 0 || b.Gone < 0 || b.Wet < 0 || b.Made < 0:
						t.Fatalf("%s, %s: less than nothing: %+v", sign, c.Code, f)
					case b.Lost > s.Units || (b.Lost > 0) != (f.Grade == Eat || f.Grade == Reclaim || f.Grade == Bin):
						t.Fatalf("%s, %s: %+v of %d", sign, c.Code, f, s.Units)
					case float64(b.Back) > float64(s.Each)*float64(s.Units)+1e-9 || b.Back > 0 && (s.Full || s.Damp):
						t.Fatalf("%s, %s: %+v comes back of %v each", sign, c.Code, f, s.Each)
					case b.Made > 0 && math.Abs(float64(b.Made-b.Gone-b.Wet)) > 1e-9 || b.Gone > s.Bowl:
						t.Fatalf("%s, %s: %+v of %v g", sign, c.Code, f, s.Bowl)
					case f.Grade != "" && s.Units == 0 && f.Key != "boil-again":
						t.Fatalf("%s, %s: %+v of nothing", sign, c.Code, f)
					}
				}
			}
		}
	}
	if fixes < 10000 {
		t.Errorf("only %d fixes were looked at", fixes)
	}
}

// What is known is never asked, what is asked tells something, and of two causes that every answer moves alike nothing is
// asked at all.
func TestQuestionsAreWorthIt(t *testing.T) {
	for _, sign := range Signs(nil) {
		s := everything()
		for _, f := range Facts() {
			s.Facts[f] = false
		}
		if a := Ask(sign, s, 0, nil); a.Ask != "" {
			t.Errorf("%s: %s is asked although all is known", sign, a.Ask)
		}
		s.Facts = map[Fact]bool{}
		a := Ask(sign, s, 0, nil)
		if a.Ask != "" && !Tells(sign, a.Ask) {
			t.Errorf("%s: %s tells nothing", sign, a.Ask)
		}
		if a := Ask(sign, s, Most, nil); a.Ask != "" {
			t.Errorf("%s: a fourth question: %s", sign, a.Ask)
		}
		if len(a.Causes) > 1 && a.Ask == "" && a.Causes[0].Likely < enough {
			t.Errorf("%s: nothing is asked at %v", sign, a.Causes[0].Likely)
		}
	}
}

// Only coating comes back after a watery flavour; only what must be in temper is called out of temper.
func TestKindsOfChocolate(t *testing.T) {
	has := func(s *Scene, sign Sign, key string) bool {
		return slices.ContainsFunc(Ask(sign, s, 0, nil).Causes, func(c Cause) bool {
			return c.Code == key || slices.ContainsFunc(c.Fixes, func(f Fix) bool { return f.Key == key })
		})
	}
	tempered, coated := everything(), everything()
	coated.Kind, coated.Method = chocolate.Compound, chocolate.NoTemper
	if has(tempered, "seized", "come-back") || !has(coated, "seized", "come-back") {
		t.Error("what comes back after water")
	}
	if !has(tempered, "streaked", "not-tempered") || has(coated, "streaked", "not-tempered") {
		t.Error("what is not in temper")
	}
	coated.Kind = chocolate.Real // hidden under sugar: it need not be in temper either
	if has(coated, "dull", "not-tempered") || has(coated, "seized", "come-back") {
		t.Error("real chocolate that is hidden")
	}
}

// Grades of rules 5, the best first; what can be handed over is good.
func TestGrades(t *testing.T) {
	want := map[Grade]bool{Sell: true, Repair: true, Eat: false, Reclaim: false, Bin: false}
	if len(Grades()) != len(want) || Grades()[0] != Sell || Grades()[4] != Bin {
		t.Error(Grades())
	}
	for g, good := range want {
		if g.Good() != good {
			t.Errorf("%s: %v", g, g.Good())
		}
	}
}

// Nobody said anything yet: a bowl knows nothing. A smear that did not set is known; begun anew, it is forgotten; what
// was dipped before the bowl was warmed again does not count.
func TestABowlForgets(t *testing.T) {
	w := temper.Watch{Bowl: temper.Bowl{Kind: chocolate.Real, Bands: chocolate.BandsOf(chocolate.Milk),
		Method: chocolate.ThreePoint, Mass: 800}, Now: 100}
	if f := OfBowl(w); len(f) != 0 {
		t.Errorf("%v", f)
	}
	w.Deeds = []temper.Deed{{At: 1, What: temper.Burst, Seconds: 45}, {At: 50, What: temper.Dull}}
	if f := OfBowl(w); f[Smear] || f[Burst] { // 45 s are not long for 800 g
		t.Errorf("%v", f)
	}
	if _, known := OfBowl(w)[Smear]; !known {
		t.Error("a smear that did not set is not known")
	}
	w.Deeds = append(w.Deeds, temper.Deed{At: 60, What: temper.Anew}, temper.Deed{At: 70, What: temper.Dipped, Pieces: 30},
		temper.Deed{At: 80, What: temper.Burst, Seconds: 2, Low: true}, temper.Deed{At: 90, What: temper.Dipped, Pieces: 3})
	f := OfBowl(w)
	if _, known := f[Smear]; known || f[Many] {
		t.Errorf("%v", f)
	}
}
