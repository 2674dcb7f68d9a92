package plan

import (
	"fmt"
	"math/rand/v2"
)

// The kitchen of the cases: evenings, two spans on Saturdays and Sundays, three places, two kinds of moulds, three chocolates.
func kitchen(days, hands int) *Problem {
	p := &Problem{Schema: ProblemSchema1, Washdown: 15,
		Places: []Place{{"fridge", 4}, {"freezer", 2}, {"counter", 6}},
		Tools:  []Tool{{"sphere-mould", 2}, {"bar-mould", 1}},
		Pots:   []Pot{{"dark", 25, 60}, {"milk", 25, 60}, {"white", 15, 45}},
	}
	for d := range days {
		switch d % 7 {
		case 5, 6:
			p.Sessions = append(p.Sessions, Session{d*day + 540, d*day + 780, hands}, Session{d*day + 840, d*day + 1020, hands})
		default:
			p.Sessions = append(p.Sessions, Session{d*day + 1050, d*day + 1290, hands})
		}
	}
	return p
}

// made is a batch of one of the families of treats, of a size, with the steps that it takes.
func made(r *rand.Rand, id string, readyBy int) Batch {
	pots := []string{"dark", "milk", "white"}
	pot, other := pots[r.IntN(3)], pots[r.IntN(3)]
	n := 1 + r.IntN(4) // size
	after := func(step string, max int) []After {
		if max == 0 {
			return []After{{Step: step}}
		}
		return []After{{Step: step, Max: &max}}
	}
	b := Batch{ID: id, Worth: 1, ReadyBy: readyBy}
	switch r.IntN(6) {
	case 0:
		b.Keeps, b.FreshFrom = new(1680), "dip"
		b.Steps = []Step{
			{ID: "wash", Hands: 5 * n, Wait: 30, Place: "counter", Trays: 1},
			{ID: "pick", Hands: 5 * n, After: after("wash", 120)},
			{ID: "dip", Hands: 10 * n, Wait: 40, Place: "counter", Trays: 2, Pot: pot, After: after("pick", 60)},
			{ID: "drizzle", Hands: 5 * n, Wait: 20, Place: "counter", Trays: 1, Pot: other, After: after("dip", 480)},
			{ID: "box", Hands: 5 * n, After: after("drizzle", 0)},
		}
	case 1:
		b.Keeps, b.FreshFrom = new(10080), "ganache"
		b.Steps = []Step{
			{ID: "ganache", Hands: 20, Wait: 240, Place: "fridge", Trays: 1},
			{ID: "pipe", Hands: 5 * n, Wait: 60, Place: "freezer", Trays: 1, After: after("ganache", 2880)},
			{ID: "dip", Hands: 10 * n, Wait: 15, Place: "counter", Trays: 1, Pot: pot, After: after("pipe", 4320)},
			{ID: "box", Hands: 5 * n, After: after("dip", 0)},
		}
	case 2:
		b.Keeps, b.FreshFrom = new(10080), "fill"
		last := []After{}
		for k := range (n + 1) / 2 {
			shell := Step{ID: fmt.Sprint("shell", k), Hands: 15, Wait: 20, Place: "fridge", Trays: 1, Pot: pot, Takes: []Take{{"sphere-mould", 1, fmt.Sprint("free", k)}}}
			if k > 0 {
				shell.After = after(fmt.Sprint("shell", k-1), 0)
			}
			b.Steps = append(b.Steps, shell, Step{ID: fmt.Sprint("free", k), Hands: 5, After: after(shell.ID, 0)})
			last = append(last, After{Step: fmt.Sprint("free", k)})
		}
		b.Steps = append(b.Steps, Step{ID: "fill", Hands: 10 * n, Wait: 10, Place: "counter", Trays: 1, After: last},
			Step{ID: "drizzle", Hands: 5, Wait: 15, Place: "counter", Trays: 1, Pot: other, After: after("fill", 0)})
	case 3:
		b.Keeps, b.FreshFrom = new(30240), "pour"
		b.Steps = []Step{{ID: "pour", Hands: 20, Wait: 120, Place: "fridge", Trays: 1, Pot: pot}, {ID: "break", Hands: 5 * n, After: after("pour", 2880)}}
	case 4:
		b.Keeps, b.FreshFrom = new(20160), "coat"
		b.Steps = []Step{
			{ID: "coat", Hands: 15, Wait: 20, Place: "freezer", Trays: 1, Pot: pot, Takes: []Take{{"bar-mould", 1, "turn-out"}}},
			{ID: "fill", Hands: 15, Wait: 10, Place: "fridge", Trays: 1, After: after("coat", 0)},
			{ID: "cap", Hands: 10, Wait: 20, Place: "freezer", Trays: 1, Pot: pot, After: after("fill", 0)},
			{ID: "turn-out", Hands: 10, After: after("cap", 0)},
		}
	default:
		b.Keeps, b.FreshFrom = new(20160), "dip"
		b.Steps = []Step{
			{ID: "dip", Hands: 10 * n, Wait: 5, Place: "freezer", Trays: 1, Pot: pot},
			{ID: "drizzle", Hands: 5, Wait: 5, Place: "counter", Trays: 1, Pot: other, After: after("dip", 2880)},
			{ID: "bag", Hands: 5 * n, After: after("drizzle", 0)},
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
