package bench

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/treat"
)

func dark(used, melted float64) *treat.Pot {
	show := func(g float64) measure.Shown { return measure.Show(measure.Grams(g), measure.Substance{}) }
	of := food.Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark}
	return &treat.Pot{Ingredient: "dark", Name: "Dark", Chocolate: of, Method: chocolate.Seed, Used: show(used), Melted: show(melted), Tempering: chocolate.Tempering{Bands: of.Temperatures()}}
}

// An evening by hand: berries are washed at 18:00 and dipped at 18:50 after 25 minutes of melting, bombs are cast from the same pot at 19:20. 200 g and half of 600 g are worked with, and
// 250 g stay in the bowl: 750 g are melted at 18:25. What was washed is looked at at 18:45, what was dipped at 19:50.
func TestAnEveningByHand(t *testing.T) {
	berries, bombs := uuid.New(), uuid.New()
	steps := []Step{
		{Batch: berries, Step: "wash", Treat: "Berries", For: []order.Taker{{Customer: "Ada"}}, Start: 1080, Hands: 20, Wait: 25, Place: "counter"},
		{Batch: berries, Step: "dip", Treat: "Berries", For: []order.Taker{{Customer: "Ada"}}, Start: 1130, Hands: 30, Wait: 30, Place: "counter", Melt: 25, pot: dark(200, 450), share: 1},
		{Batch: bombs, Step: "shells-1", Treat: "Bombs", For: []order.Taker{{Customer: "Bo"}}, Start: 1160, Hands: 10, pot: dark(600, 800), share: 0.5},
	}
	list := sessions([]plan.Session{{From: 1080, To: 1290, Hands: 1}}, steps, 21)
	if len(list) != 1 {
		t.Fatalf("%+v", list)
	}
	// What is done needs no set-up any more.
	done := time.Date(2026, 9, 5, 17, 0, 0, 0, time.UTC)
	ticked := slices.Clone(steps)
	for i := range ticked {
		ticked[i].DoneAt = &done
	}
	if after := sessions([]plan.Session{{From: 1080, To: 1290, Hands: 1}}, ticked, 21); len(after[0].Setups) != 0 {
		t.Errorf("%+v", after[0].Setups)
	}
	s := list[0]
	if s.From != 1080 || s.To != 1290 || s.People != 1 || s.Ends != 1170 {
		t.Errorf("%+v", s)
	}
	if len(s.Setups) != 1 || s.Setups[0].At != 1105 || s.Setups[0].Minutes != 25 || s.Setups[0].Melt.Metric != "750 g" || !slices.Equal(s.Setups[0].For, []string{"Berries", "Bombs"}) {
		t.Errorf("%+v", s.Setups)
	}
	if !strings.HasPrefix(steps[1].Advice, "Melt ") || !strings.Contains(steps[2].Advice, "still ready from the step before, with 300 g") {
		t.Errorf("%q, %q", steps[1].Advice, steps[2].Advice)
	}
	if len(s.Looks) != 2 || s.Looks[0].At != 1125 || s.Looks[1].At != 1190 {
		t.Errorf("%+v", s.Looks)
	}
}

// A second melt of the same chocolate, another person's own pot, and a washing down each stand for themselves; work outside of the hours makes a time of its own, which a pause
// does not end.
func TestSetUpsStandForThemselves(t *testing.T) {
	a, b := uuid.New(), uuid.New()
	steps := []Step{
		{Batch: a, Step: "early", Treat: "Bark", Start: 600, Hands: 10, Melt: 25, pot: dark(100, 300), share: 1},
		{Batch: a, Step: "one", Treat: "Bark", Start: 1110, Hands: 10, Melt: 25, pot: dark(500, 600), share: 0.5},
		{Batch: b, Step: "other", Treat: "Truffles", Start: 1115, Hands: 20, Hand: 1, Melt: 25, Wash: 15, pot: dark(400, 600), share: 1},
		{Batch: a, Step: "two", Treat: "Bark", Start: 1240, Hands: 10, Melt: 25, pot: dark(500, 600), share: 0.5},
	}
	steps = slices.Insert(steps, 1, Step{Batch: b, Step: "soon after", Treat: "Truffles", Start: 700, Hands: 10})
	list := sessions([]plan.Session{{From: 1080, To: 1290, Hands: 2}}, steps, 21)
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
	// By their begin: washing at 17:55 before the truffles' own 600 g at 18:10; bark twice, each time 250 g and 100 g in the bowl, at 18:05 and 20:15.
	if !slices.Equal(says, []string{"wash", "350 g", "600 g", "350 g"}) {
		t.Errorf("%v", says)
	}
}
