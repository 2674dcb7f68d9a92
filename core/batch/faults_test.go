package batch

import (
	"slices"
	"testing"

	"zestytin/core/fault"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/treat"
)

// What can go wrong follows from how a thing is made, family by family, without a family being named.
func TestWaysOfEachFamily(t *testing.T) {
	layered := bark()
	layered.Choices["style"] = "layers"
	layered.Coatings = append(layered.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White",
		Share: 0.5, Pool: *massOf(60)})
	for name, x := range map[string]struct {
		f    *treat.Formula
		has  []fault.Way
		hasn []fault.Way
	}{
		"bomb": {bomb(), []fault.Way{fault.Bowl, fault.Moulded, fault.Halves, fault.Filled},
			[]fault.Way{fault.Dipped, fault.Fruit, fault.Spread, fault.Boiled}},
		"fruit": {fruit(), []fault.Way{fault.Bowl, fault.Dipped, fault.Fruit},
			[]fault.Way{fault.Moulded, fault.Halves, fault.Rolled, fault.Mixed}},
		"pretzel": {pretzel(), []fault.Way{fault.Bowl, fault.Dipped}, []fault.Way{fault.Fruit, fault.Moulded}},
		"truffle": {truffle(), []fault.Way{fault.Bowl, fault.Dipped, fault.Mixed}, []fault.Way{fault.Boiled, fault.Halves}},
		"bark":    {bark(), []fault.Way{fault.Bowl, fault.Spread}, []fault.Way{fault.Layered, fault.Dipped}},
		"layers":  {stepped(layered), []fault.Way{fault.Spread, fault.Layered}, []fault.Way{fault.Moulded}},
		"fudge":   {fudge(), nil, []fault.Way{fault.Moulded, fault.Dipped, fault.Halves}},
		"moulded": {moulded(), []fault.Way{fault.Bowl, fault.Moulded, fault.Filled}, []fault.Way{fault.Halves, fault.Dipped}},
	} {
		c := card(t, x.f, 12)
		for _, w := range x.has {
			if !slices.Contains(c.Ways, w) {
				t.Errorf("%s is not %s: %v", name, w, c.Ways)
			}
		}
		for _, w := range x.hasn {
			if slices.Contains(c.Ways, w) {
				t.Errorf("%s is %s: %v", name, w, c.Ways)
			}
		}
	}
}

// drawsOf a card, as the tables have them.
func drawsOf(c *Card) map[ident.Step]*ledger.Draw {
	draws := map[ident.Step]*ledger.Draw{}
	for i := range c.Steps {
		draws[c.Steps[i].ID] = c.Steps[i].Draw
	}
	return draws
}

// 6 bombs of which a third of the halves is lost need 23 halves to be sure of 6 with 95 % (rules 4.2): twelve make them,
// and eleven may crack before a bomb is missing; the twelfth costs one, the thirteenth none more, the fourteenth another.
func TestSpareHalvesByHand(t *testing.T) {
	f := bomb()
	f.Loss = 0
	for i := range f.Steps {
		f.Steps[i].Loss = 0
	}
	f.StepOf("shells").Loss = 1.0 / 3
	c := card(t, f, 6)
	s, known := c.Stands(c.Steps[0].ID, drawsOf(c))
	if !known || s.To != 2 || s.Begun < 23 || s.Of == "" {
		t.Fatalf("%+v", s)
	}
	s.Begun, s.Spare = 23, 11 // as rules 4.2 have it, before the last mould is filled up
	for _, x := range []struct{ before, now, pieces int }{{0, 1, 0}, {0, 11, 0}, {0, 12, 1}, {11, 1, 1}, {12, 1, 0},
		{12, 2, 1}, {13, 1, 1}, {0, 23, 6}} {
		if got := s.Lost(x.before, x.now); got != x.pieces {
			t.Errorf("%d more after %d: %d pieces, not %d", x.now, x.before, got, x.pieces)
		}
	}
}

// What is on one unit by a step is what was put on until then: of a berry the coat, of a half its half of the wall, and
// before the first chocolate nothing. What is filled in, or dipped, cannot be melted down any more.
func TestWhatIsOnAUnit(t *testing.T) {
	c := card(t, bomb(), 12)
	first, _ := c.Stands(c.Steps[0].ID, drawsOf(c))
	shell := float64(c.Sizes.Shell.Amount)
	if per := shell / float64(first.To); float64(first.Each) < 0.9*per || float64(first.Each) > 1.1*per || first.Full {
		t.Errorf("%v g on one, of a shell of %v g and %d of them: %+v", first.Each, shell, first.To, first)
	}
	last, _ := c.Stands(c.Steps[len(c.Steps)-1].ID, drawsOf(c))
	if !last.Full || last.Each < first.Each {
		t.Errorf("%+v", last)
	}
	berries := card(t, fruit(), 12)
	for _, s := range berries.Steps {
		at, _ := berries.Stands(s.ID, drawsOf(berries))
		if s.Role == treat.RoleCoat && (at.Each < 5 || at.Each > 15) { // 8 g and what the drip takes (rules 2.2)
			t.Errorf("%v g on a berry", at.Each)
		}
	}
	if before, _ := berries.Stands(berries.Steps[0].ID, drawsOf(berries)); before.Each != 0 {
		t.Errorf("%v g on a berry that is only washed", before.Each)
	}
	if _, known := c.Stands("nonsense", nil); known {
		t.Error("a step that there is not")
	}
}

// A step shows what its chocolate can: a coat no crack of a mould, lines no leak.
func TestSignsOfAStep(t *testing.T) {
	c := card(t, moulded(), 12)
	for _, s := range c.Steps {
		at, _ := c.Stands(s.ID, drawsOf(c))
		switch s.Role {
		case treat.RoleShell:
			if !slices.Contains(at.Ways, fault.Moulded) || slices.Contains(at.Ways, fault.Lined) {
				t.Errorf("%s: %v", s.ID, at.Ways)
			}
		case "":
			if len(at.Ways) != len(c.Ways) {
				t.Errorf("%s shows only %v of %v", s.ID, at.Ways, c.Ways)
			}
		}
	}
}
