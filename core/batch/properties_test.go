package batch

import (
	"math"
	"math/rand/v2"
	"testing"

	"zestytin/core/family"
	"zestytin/core/si"
	"zestytin/core/treat"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
)

// randomFormula of any family, within what Check allows.
func randomFormula(r *rand.Rand) *treat.Formula {
	of := []func() *treat.Formula{bomb, fruit, pretzel, truffle, bark, fudge, moulded, dozen}
	f := of[r.IntN(len(of))]()
	f.Loss = r.Float64() * 0.5
	for i := range f.Coatings {
		f.Coatings[i].Pool = measure.Grams(si.Grams(r.Float64() * 500))
	}
	for _, c := range family.Choices(f) {
		if c.ID != "shape" && c.ID != "style" {
			f.Choices[c.ID] = c.Options[r.IntN(len(c.Options))]
		}
	}
	switch f.Family {
	case "bomb":
		f.Shell.Wall = length(1+r.Float64()*6, measure.Millimetre)
		f.Shell.Cavities, f.Shell.Moulds = 2+2*r.IntN(10), 1+r.IntN(4) // an odd number leaves a lone half
	case "fruit":
		f.Centre.Share = 0.2 + 0.8*r.Float64()
	case "truffle":
		if r.IntN(2) == 0 {
			f.Centre.Each, f.Centre.Across = nil, length(15+15*r.Float64(), measure.Millimetre)
			f.Coatings[0].Each, f.Coatings[0].Thick = nil, length(0.5+2*r.Float64(), measure.Millimetre)
		}
	case "bark":
		f.Sheet.Bag = massOf(20 + r.Float64()*400)
		if r.IntN(2) == 0 {
			f.Choices["style"] = "layers"
			f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleLayer, Ingredient: "White",
				Share: 0.1 + 0.8*r.Float64(), Pool: measure.Grams(50)})
		}
	case "fudge":
		f.Sheet.Rows, f.Sheet.Columns, f.Sheet.Trim = 1+r.IntN(9), 1+r.IntN(9),
			length(r.Float64()*20+0.1, measure.Millimetre)
	case "moulded":
		f.Mould.Shell = 0.2 + 0.5*r.Float64()
		f.Mould.Cavities, f.Mould.Moulds = 1+r.IntN(30), 1+r.IntN(3)
	}
	return asMade(r, stepped(f))
}

// asMade adds some of what a seller adds: a shell of two chocolates, something to roll in, what fills the rest, a bath,
// designs with centres of their own, and a step beside the others.
func asMade(r *rand.Rand, f *treat.Formula) *treat.Formula {
	some := func() bool { return r.IntN(3) == 0 }
	if (f.Family == "bomb" || f.Family == "moulded") && some() {
		share := 0.1 + 0.8*r.Float64()
		f.Coatings[0].Share = share
		f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleShell, Ingredient: "Blue", Share: 1 - share,
			Pool: measure.Grams(40)})
	}
	if f.Family == "bomb" && some() {
		f.Portions = append(f.Portions, treat.Addition{Ingredient: "Sugar", Where: treat.In, Rest: true})
	}
	if f.Family == "truffle" && some() {
		f.Portions[0].Bed = massOf(300)
		f.Finishes = []treat.Design{{Name: "plain", Parts: 1 + r.IntN(5)},
			{Name: "other", Parts: 1, Centre: &treat.Centre{Of: "caramel", Each: massOf(9)}, Minutes: r.Float64()}}
	}
	if f.Family == "fruit" && some() {
		f.Steps[0].Prepare = []treat.Preparation{{How: treat.Wash, Of: "Strawberry", Covers: massOf(450), Bath: []treat.BathPart{
			{Of: "Cream", Amount: measure.Of(1, measure.Cup)}}}}
	}
	if some() {
		last := f.Steps[len(f.Steps)-1].ID
		f.Steps = append([]treat.StepTemplate{{ID: "candy", Name: "candy", PerBatch: 5, Wait: 60, Spot: "freezer",
			Beside: last}}, f.Steps...)
	}
	return f
}

// Whatever the treat: used + reclaimed = melted and topped up, and no amount falls when the count rises.
func TestAmountsNeverFall(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 400 {
		f := randomFormula(r)
		count := 1 + r.IntN(300)
		if len(f.Finishes) > 0 {
			count += 3 // every design has a piece
		}
		a, b := card(t, f, count), card(t, f, count+1+r.IntN(30))
		for i, p := range a.Pots {
			more := 0.0
			if p.TopUp != nil {
				more = p.TopUp.Amount
			}
			near(t, "used + reclaimed", p.Used.Amount+p.Reclaimed.Amount, p.Melted.Amount+more)
			if b.Pots[i].Melted.Amount < p.Melted.Amount-1e-9 || b.Pots[i].Used.Amount < p.Used.Amount-1e-9 {
				t.Errorf("%s: %d melt %v, %d melt %v", f.Family, a.Good, p, b.Good, b.Pots[i])
			}
		}
		for i, n := range a.Needs {
			if m := b.Needs[i]; m.Used.Amount < n.Used.Amount-1e-9 || m.House.Amount < n.House.Amount-1e-9 ||
				m.Cost.LessThan(n.Cost.Sub(decimal.New(1, -9))) {
				t.Errorf("%s: %d take %v of %s, %d take %v", f.Family, a.Good, n.Used.Amount, n.Name, b.Good,
					m.Used.Amount)
			}
			if n.House.Amount < n.Used.Amount-1e-9 {
				t.Errorf("%s is used but not in the house", n.Name)
			}
		}
		if a.Start > b.Start || a.Hands > b.Hands {
			t.Errorf("%s: %d start %d in %d min, %d start %d in %d min", f.Family, a.Good, a.Start, a.Hands, b.Good,
				b.Start, b.Hands)
		}
		sum := 0.0
		for _, s := range a.Steps {
			if s.HandsOnMin < 1 {
				t.Errorf("step %s takes %d minutes", s.ID, s.HandsOnMin)
			}
			sum += float64(s.HandsOnMin)
		}
		if sum > float64(a.Hands) {
			t.Errorf("steps take %v of %d minutes", sum, a.Hands)
		}
	}
}

// Making a and b together is never more than making each alone: of pieces, chocolate in the house, ingredients of
// treats of one design, rounds and minutes.
func TestTogetherIsNeverMore(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 400 {
		f := randomFormula(r)
		x, y := 3+r.IntN(120), 3+r.IntN(120)
		a, b, both := card(t, f, x), card(t, f, y), card(t, f, x+y)
		if both.Start > a.Start+b.Start || both.Hands > a.Hands+b.Hands || both.Rounds != nil &&
			both.Rounds.Count > a.Rounds.Count+b.Rounds.Count {
			t.Errorf("%s %v: %d + %d: start %d of %d + %d, hands %d of %d + %d", f.Family, f.Choices, x, y, both.Start,
				a.Start, b.Start, both.Hands, a.Hands, b.Hands)
		}
		for i, n := range both.Needs {
			if len(f.Finishes) == 0 && n.House.Amount > a.Needs[i].House.Amount+b.Needs[i].House.Amount+1e-6 {
				t.Errorf("%s: %d + %d need %v of %s, alone %v and %v", f.Family, x, y, n.House.Amount, n.Name,
					a.Needs[i].House.Amount, b.Needs[i].House.Amount)
			}
		}
	}
}

// Mass is conserved to 1 mg: what is in the house ends in pieces, in loss, or comes back. The pieces are weighed here
// from the card's own piece, not from its balance.
func TestMassIsConserved(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	for range 400 {
		f := randomFormula(r)
		c := card(t, f, 1+r.IntN(500))
		b := c.Balance
		if gone := b.House - b.Pieces - b.Lost - b.Reclaimed; math.Abs(float64(gone)) > 0.001 {
			t.Errorf("%s %d: %v g in the house, %v in pieces, %v lost, %v back: %v g are nowhere", f.Family, c.Good,
				b.House, b.Pieces, b.Lost, b.Reclaimed, gone)
		}
		if b.Lost < -1e-9 || b.Reclaimed < -1e-9 {
			t.Errorf("%s: %+v", f.Family, b)
		}
		house := 0.0
		for _, n := range c.Needs {
			house += n.House.Amount // all of the tests' random treats are weighed in g
		}
		near(t, "house", house, float64(b.House))
		pieces := 0.0
		switch {
		case len(c.Designs) > 0:
			for _, d := range c.Designs {
				pieces += float64(d.PieceMass * si.Grams(d.Start))
			}
		case f.Family == "bark": // in bags it can only be said of what is not crumbs
			pieces = float64(b.Pieces)
		case f.Family == "fudge" && family.Chosen(f, "last") == "whole":
			pieces = float64(c.PieceMass * si.Grams(c.Rounds.Count*f.Sheet.Rows*f.Sheet.Columns))
		default:
			pieces = float64(c.PieceMass * si.Grams(c.Start))
		}
		if math.Abs(float64(si.Grams(pieces)-b.Pieces)) > 0.001 {
			t.Errorf("%s: the pieces weigh %v g, the balance says %v", f.Family, pieces, b.Pieces)
		}
	}
}

// Linear where it should be: without loss, twice the pieces take twice of what goes on each. Stepped where it should
// be: the pool is in the bowl but once, rounds are whole ones.
func TestScaling(t *testing.T) {
	for name, of := range families {
		f := of()
		f.Loss = 0
		if f.Family == "bark" || f.Family == "fudge" {
			f.Choices["last"] = "part"
		}
		a, b := card(t, f, 120), card(t, f, 240)
		for i, n := range a.Needs {
			slack := 1e-6 * n.Used.Amount
			if n.Name == "Strawberry" || n.Name == "Rod" {
				slack = 18 // bought by the whole piece
			}
			if math.Abs(b.Needs[i].Used.Amount-2*n.Used.Amount) > slack {
				t.Errorf("%s: 120 use %v of %s, 240 use %v", name, n.Used.Amount, n.Name, b.Needs[i].Used.Amount)
			}
		}
		for i, p := range a.Pots {
			if p.Melted.Amount == chocolate.LeastMelt || p.Melted.Amount == small || p.Drained.Amount > 0 {
				continue
			}
			near(t, name+": the pool", b.Pots[i].Melted.Amount-b.Pots[i].Used.Amount, p.Melted.Amount-p.Used.Amount)
		}
		if a.Rounds != nil && (b.Rounds.Count < a.Rounds.Count*2-1 || b.Rounds.Count > a.Rounds.Count*2) {
			t.Errorf("%s: %d and %d rounds", name, a.Rounds.Count, b.Rounds.Count)
		}
	}
}
