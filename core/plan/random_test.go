package plan

import (
	"fmt"
	"math/rand/v2"

	"zestytin/core/ident"
	"zestytin/core/si"
)

// The kitchen of the cases: evenings, two spans on Saturdays and Sundays, three places, two kinds of moulds, three
// chocolates.
func kitchen(days, hands int) *Problem {
	p := &Problem{Schema: ProblemSchema1, Washdown: 15,
		Places: []StorageResource{{ID: "fridge", Trays: 4}, {ID: "freezer", Trays: 2}, {ID: "counter", Trays: 6}},
		Tools:  []MouldResource{{"sphere-mould", 2}, {"bar-mould", 1}},
		Pots:   []Pot{{"dark", 25, 60}, {"milk", 25, 60}, {"white", 15, 45}},
	}
	for d := range days {
		switch d % 7 {
		case 5, 6:
			p.Sessions = append(p.Sessions, Session{si.Minutes(d*day + 540), si.Minutes(d*day + 780), hands},
				Session{si.Minutes(d*day + 840), si.Minutes(d*day + 1020), hands})
		default:
			p.Sessions = append(p.Sessions, Session{si.Minutes(d*day + 1050), si.Minutes(d*day + 1290), hands})
		}
	}
	return p
}

// made is a batch of one of the families of treats, of a size, with the steps that it takes.
func made(r *rand.Rand, id string, readyBy int) Batch {
	pots := []string{"dark", "milk", "white"}
	pot, other := pots[r.IntN(3)], pots[r.IntN(3)]
	n := 1 + r.IntN(4) // size
	after := func(step string, max si.Minutes) []After {
		if max == 0 {
			return []After{{Step: ident.Step(step)}}
		}
		return []After{{Step: ident.Step(step), Max: &max}}
	}
	b := Batch{ID: ident.Batch(id), Penalty: 1, DueMin: si.Minutes(readyBy)}
	switch r.IntN(6) {
	case 0:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(1680)), "dip"
		b.Steps = []Operation{
			{ID: "wash", HandsOnMin: si.Minutes(5 * n), PassiveMin: 30, Storage: "counter", Trays: 1},
			{ID: "pick", HandsOnMin: si.Minutes(5 * n), After: after("wash", 120)},
			{ID: "dip", HandsOnMin: si.Minutes(10 * n), PassiveMin: 40, Storage: "counter", Trays: 2,
				Pot: ident.Pot(pot), After: after("pick", 60)},
			{ID: "drizzle", HandsOnMin: si.Minutes(5 * n), PassiveMin: 20, Storage: "counter", Trays: 1,
				Pot: ident.Pot(other), After: after("dip", 480)},
			{ID: "box", HandsOnMin: si.Minutes(5 * n), After: after("drizzle", 0)},
		}
	case 1:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(10080)), "ganache"
		b.Steps = []Operation{
			{ID: "ganache", HandsOnMin: 20, PassiveMin: 240, Storage: "fridge", Trays: 1},
			{ID: "pipe", HandsOnMin: si.Minutes(5 * n), PassiveMin: 60, Storage: "freezer", Trays: 1,
				After: after("ganache", 2880)},
			{ID: "dip", HandsOnMin: si.Minutes(10 * n), PassiveMin: 15, Storage: "counter", Trays: 1,
				Pot: ident.Pot(pot), After: after("pipe", 4320)},
			{ID: "box", HandsOnMin: si.Minutes(5 * n), After: after("dip", 0)},
		}
	case 2:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(10080)), "fill"
		last := []After{}
		for k := range (n + 1) / 2 {
			shell := Operation{ID: ident.Step(fmt.Sprint("shell", k)), HandsOnMin: 15, PassiveMin: 20,
				Storage: "fridge", Trays: 1, Pot: ident.Pot(pot),
				Takes: []Take{{"sphere-mould", 1, ident.Step(fmt.Sprint("free", k))}}}
			if k > 0 {
				shell.After = after(fmt.Sprint("shell", k-1), 0)
			}
			b.Steps = append(b.Steps, shell, Operation{ID: ident.Step(fmt.Sprint("free", k)), HandsOnMin: 5,
				After: after(string(shell.ID), 0)})
			last = append(last, After{Step: ident.Step(fmt.Sprint("free", k))})
		}
		b.Steps = append(b.Steps, Operation{ID: "fill", HandsOnMin: si.Minutes(10 * n), PassiveMin: 10,
			Storage: "counter", Trays: 1, After: last},
			Operation{ID: "drizzle", HandsOnMin: 5, PassiveMin: 15, Storage: "counter", Trays: 1, Pot: ident.Pot(other),
				After: after("fill", 0)})
	case 3:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(30240)), "pour"
		b.Steps = []Operation{{ID: "pour", HandsOnMin: 20, PassiveMin: 120, Storage: "fridge", Trays: 1,
			Pot: ident.Pot(pot)}, {ID: "break", HandsOnMin: si.Minutes(5 * n), After: after("pour", 2880)}}
	case 4:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(20160)), "coat"
		b.Steps = []Operation{
			{ID: "coat", HandsOnMin: 15, PassiveMin: 20, Storage: "freezer", Trays: 1, Pot: ident.Pot(pot),
				Takes: []Take{{"bar-mould", 1, "turn-out"}}},
			{ID: "fill", HandsOnMin: 15, PassiveMin: 10, Storage: "fridge", Trays: 1, After: after("coat", 0)},
			{ID: "cap", HandsOnMin: 10, PassiveMin: 20, Storage: "freezer", Trays: 1, Pot: ident.Pot(pot),
				After: after("fill", 0)},
			{ID: "turn-out", HandsOnMin: 10, After: after("cap", 0)},
		}
	default:
		b.ShelfLifeMin, b.FreshFrom = new(si.Minutes(20160)), "dip"
		b.Steps = []Operation{
			{ID: "dip", HandsOnMin: si.Minutes(10 * n), PassiveMin: 5, Storage: "freezer", Trays: 1,
				Pot: ident.Pot(pot)},
			{ID: "drizzle", HandsOnMin: 5, PassiveMin: 5, Storage: "counter", Trays: 1, Pot: ident.Pot(other),
				After: after("dip", 2880)},
			{ID: "bag", HandsOnMin: si.Minutes(5 * n), After: after("drizzle", 0)},
		}
	}
	for _, allergen := range []string{"milk", "peanut", "tree-nut", "wheat"} {
		switch r.IntN(8) {
		case 0, 1:
			b.Contains = append(b.Contains, allergen)
		case 2:
			b.FreeFrom = append(b.FreeFrom, allergen)
		}
	}
	return b
}

// busy is a problem of so many batches, due over the days.
func busy(seed uint64, batches, days, hands int) *Problem {
	r := rand.New(rand.NewPCG(seed, 5))
	p := kitchen(days, hands)
	for n := range batches {
		p.Batches = append(p.Batches, made(r, fmt.Sprint("b", n), (1+r.IntN(days-1))*day+720+r.IntN(10)*60))
	}
	return p
}
