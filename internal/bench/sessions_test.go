package bench

import (
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/text"
)

var dark = ledger.Pot{Ingredient: "dark", Method: chocolate.Seed, Work: chocolate.Range{From: 31, To: 32},
	Source: chocolate.Microwave}

// at a bowl of dark, a step that puts so many g on, with a pool.
func at(s Step, pot ledger.Pot, applied, pool float64, melts bool) Step {
	s.draw = &ledger.Draw{Pot: pot, Applied: si.Grams(applied), Pool: si.Grams(pool), Least: chocolate.LeastMelt}
	s.pots = []batch.Pot{{Ingredient: "dark", Name: "Dark", Chocolate: food.Chocolate{Kind: chocolate.Real,
		Colour: chocolate.Dark}}}
	if melts {
		s.melts = []ident.Pot{pot.Key()}
	}
	return s
}

// An evening by hand: berries are washed at 18:00 and dipped at 18:50 after 12 minutes of melting, bombs are cast from
// the same bowl at 19:22. 200 g go on the berries and 300 on the first round of the bombs, 510 g with tools, and 250
// stay in the bowl: 760 g are melted at 18:38. What was washed is looked at at 18:45, what was dipped at 19:50. Two
// minutes after the berries 556 g at 31.5 C have fallen to 21 + 10.5 e^(-2 / 46.1) = 31.05: they are ready. Half an
// hour later they are at 26.5: to be melted anew; after ten minutes at 29.5: to be warmed.
func TestAnEveningByHand(t *testing.T) {
	berries, bombs := uuid.New(), uuid.New()
	evening := func(gap int) []Step {
		return []Step{
			{Batch: berries, Step: "wash", Treat: "Berries", For: []order.ShareOwner{{Customer: "Ada"}}, Start: 1080,
				Hands: 20, Wait: 25, Place: "counter", Spot: "counter"},
			at(Step{Batch: berries, Step: "dip", Treat: "Berries", For: []order.ShareOwner{{Customer: "Ada"}},
				Start: 1130, Hands: 30, Wait: 30, Place: "counter", Spot: "counter", Melt: 12}, dark, 200, 250, true),
			at(Step{Batch: bombs, Step: "shells-1", Treat: "Bombs", For: []order.ShareOwner{{Customer: "Bo"}},
				Start: si.Minutes(1160 + gap), Hands: 10}, dark, 300, 200, false),
		}
	}
	steps := evening(2)
	hours := []plan.Session{{From: 1080, To: 1290, People: 1}}
	list := sessions(hours, steps, 21)
	if len(list) != 1 {
		t.Fatalf("%+v", list)
	}
	s := list[0]
	if s.From != 1080 || s.To != 1290 || s.People != 1 || s.Ends != 1172 {
		t.Errorf("%+v", s)
	}
	if len(s.Setups) != 1 || s.Setups[0].At != 1118 || s.Setups[0].Minutes != 12 ||
		s.Setups[0].Melt.Metric != "760 g" || !slices.Equal(s.Setups[0].For, []string{"Berries", "Bombs"}) {
		t.Errorf("%+v", s.Setups)
	}
	// 24 berries go through the bowl with 200 g on them: 8.33 g each, while 250 g stay to work from. Nobody dips a bomb.
	steps[1].role, steps[1].Counted, steps[1].begun = treat.RoleCoat, true, 24
	steps[2].role, steps[2].Counted, steps[2].begun = treat.RoleShell, true, 12
	of := sessions(hours, steps, 21)[0].Setups[0]
	if of.Pieces != 24 || math.Abs(float64(of.Coat)-200.0/24) > 1e-9 || of.Pool != 250 || of.Grams != 760 {
		t.Errorf("%+v", of)
	}
	if !strings.HasPrefix(text.For(false).Tell(steps[1].Advice), "Melt 533 g in bursts") ||
		!strings.Contains(text.For(false).Tell(steps[2].Advice), "still ready from the step before, with 306 g") {
		t.Errorf("%q, %q", steps[1].Advice, steps[2].Advice)
	}
	if len(s.Looks) != 2 || s.Looks[0].At != 1125 || s.Looks[1].At != 1190 {
		t.Errorf("%+v", s.Looks)
	}
	for gap, says := range map[int]string{10: "bursts of 1 to 2 s", 40: "too cold. Melt and temper it again"} {
		steps := evening(gap)
		if sessions(hours, steps, 21); !strings.Contains(text.For(false).Tell(steps[2].Advice), says) {
			t.Errorf("after %d min: %q", gap, steps[2].Advice)
		}
	}
	// What is done has been melted: it is not asked for again, also where something is still to be worked from it.
	done := time.Date(2026, 9, 5, 17, 0, 0, 0, time.UTC)
	begun := evening(2)
	for i := range 2 {
		begun[i].DoneAt, begun[i].done = &done, new(begun[i].Start+begun[i].Hands)
	}
	if after := sessions(hours, begun, 21); len(after[0].Setups) != 0 {
		t.Errorf("%+v", after[0].Setups)
	}
}

// A second melt of the same chocolate, another person's own bowl, another way to bring it to work, and a washing down
// each stand for themselves; work outside of the hours makes a time of its own, which a pause does not end.
func TestSetUpsStandForThemselves(t *testing.T) {
	a, b := uuid.New(), uuid.New()
	hidden := dark
	hidden.Method, hidden.Work = chocolate.NoTemper, chocolate.Range{From: 40, To: 45}
	steps := []Step{
		at(Step{Batch: a, Step: "early", Treat: "Bark", Start: 600, Hands: 10, Melt: 12}, dark, 100, 200, true),
		{Batch: b, Step: "soon after", Treat: "Truffles", Start: 700, Hands: 10},
		at(Step{Batch: a, Step: "one", Treat: "Bark", Start: 1110, Hands: 10, Melt: 12}, dark, 250, 100, true),
		at(Step{Batch: b, Step: "other", Treat: "Truffles", Start: 1115, Hands: 20, Hand: 1, Melt: 4, Wash: 15}, hidden,
			400, 200, true),
		at(Step{Batch: a, Step: "two", Treat: "Bark", Start: 1240, Hands: 10, Melt: 12}, dark, 250, 100, true),
	}
	list := sessions([]plan.Session{{From: 1080, To: 1290, People: 2}}, steps, 21)
	if len(list) != 2 || list[0].From != 600 || list[0].To != 710 {
		t.Fatalf("%+v", list)
	}
	var says []string
	for _, x := range list[1].Setups {
		what := "wash"
		if !x.Wash {
			what = x.Melt.Metric
		}
		says = append(says, what)
	}
	// By their begin: washing at 18:16, bark at 18:18, the truffles' own 408 g and 200 at 18:31, and bark again, 255 g
	// and 100, at 20:28.
	if !slices.Equal(says, []string{"wash", "355 g", "608 g", "355 g"}) {
		t.Errorf("%v", says)
	}
}

// Both colours of a swirl are melted before the first is spread, one after the other: 14 and 6 minutes before 19:00, at
// 18:40 and 18:54.
func TestASwirlIsMeltedBefore(t *testing.T) {
	id := uuid.New()
	white := ledger.Pot{Ingredient: "white", Method: chocolate.NoTemper, Work: chocolate.Range{From: 38, To: 43},
		Source: chocolate.Microwave}
	first := at(Step{Batch: id, Step: "spread", Treat: "Swirl", Start: 1140, Hands: 4, Melt: 20}, dark, 300, 0, true)
	second := at(Step{Batch: id, Step: "layer", Treat: "Swirl", Start: 1144, Hands: 6}, white, 200, 0, false)
	first.melts = append(first.melts, white.Key())
	first.uses = []plan.Use{{Pot: dark.Key(), Changeover: 14}, {Pot: white.Key(), Changeover: 6}}
	second.pots = []batch.Pot{{Ingredient: "white", Name: "White",
		Chocolate: food.Chocolate{Kind: chocolate.Compound, Colour: chocolate.White}}}
	list := sessions([]plan.Session{{From: 1080, To: 1290, People: 1}}, []Step{first, second}, 21)
	if s := list[0].Setups; len(s) != 2 || s[0].At != 1120 || s[0].Minutes != 14 || s[1].At != 1134 ||
		s[1].Minutes != 6 || s[1].Pot != "White" {
		t.Errorf("%+v", s)
	}
}

// Rounds of a batch that follow each other are one row, whatever of it goes round; a step of another batch ends it, and
// two alone are two.
func TestRoundsAreOneRow(t *testing.T) {
	bars, other := uuid.New(), uuid.New()
	var steps []Step
	for n := 1; n <= 4; n++ {
		pieces := 15.
		if n == 4 {
			pieces = 7
		}
		for _, name := range []string{"Coat", "Fill"} {
			steps = append(steps, Step{Batch: bars, Step: ident.Step(name), Round: &batch.Round{Of: ident.Step(name),
				Name: name, At: n, Rounds: 4, Pieces: pieces}})
		}
	}
	steps = append(steps, Step{Batch: other}, Step{Batch: bars, Round: &batch.Round{At: 5}},
		Step{Batch: bars, Round: &batch.Round{At: 6}})
	got := rows(steps, ordered(steps))
	if len(got) != 4 || len(got[0].Steps) != 8 || got[1].Steps[0] != 8 || len(got[3].Steps) != 1 {
		t.Fatalf("%+v", got)
	}
	if says := text.For(false).Say(got[0].Text); says != "Coat, Fill: rounds 1 to 4 of 4, 15 pieces each, the last 7" {
		t.Errorf("%s", says)
	}
}

// On paper a row of rounds has the amounts of every step that goes round, each once.
func TestRoundsOnPaperKeepTheirAmounts(t *testing.T) {
	bars := uuid.New()
	var steps []Step
	for n := 1; n <= 3; n++ {
		for _, name := range []string{"Coat", "Fill"} {
			steps = append(steps, Step{Batch: bars, Treat: "Bars", For: []order.ShareOwner{{Customer: "Ada"}},
				Amounts: []reason.Reason{reason.Said(name + " with 15 g")},
				Round:   &batch.Round{Of: ident.Step(name), Name: name, At: n, Rounds: 3, Pieces: 15}})
		}
	}
	got := roundsWhat(text.For(false), steps, rows(steps, ordered(steps))[0])
	if strings.Count(got, "Coat with 15 g") != 1 || strings.Count(got, "Fill with 15 g") != 1 {
		t.Errorf("%s", got)
	}
}

// What is weighed out of a step's amounts is so much of a named thing by its weight: not what is counted, and no sentence
// about a bowl.
func TestWhatIsWeighedOut(t *testing.T) {
	grams := func(x float64) measure.Shown { return measure.ShowGrams(si.Grams(x)) }
	list := weighed([]reason.Reason{
		reason.Of("batch.amount-of", grams(120), reason.Name("Hazelnuts"), measure.Other{Shown: grams(120)},
			grams(30)),
		reason.Of("batch.amount-of", measure.Show(measure.Of(12, measure.Each), measure.Substance{}), reason.Name("Picks")),
		reason.Of("batch.that-makes", grams(300)),
		reason.Of("batch.amount-of", grams(0), reason.Name("Salt")),
	})
	if len(list) != 1 || list[0].Of != "Hazelnuts" || list[0].Grams != 120 || list[0].Amount.Metric != "120 g" {
		t.Errorf("%+v", list)
	}
}
