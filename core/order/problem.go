package order

import (
	"slices"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/plan"
)

// problem of the kitchen with the makings of the order in it.
func (r *Reckoning) problem(makings []making, d *Draft, k *Kitchen) *plan.Problem {
	p := k.Work.Problem
	p.Schema, p.Batches = plan.ProblemSchema, slices.Clone(p.Batches)
	p.Tools = slices.Clone(p.Tools)
	previous := &plan.Plan{Schema: plan.PlanSchema}
	if p.Previous != nil {
		previous.Steps = slices.Clone(p.Previous.Steps)
	}
	p.Previous = previous
	for _, m := range makings {
		b := k.batch(m.id, m.card, d)
		for j := range b.Steps {
			if at, known := k.Work.Own[m.id][b.Steps[j].ID]; known {
				previous.Steps = append(previous.Steps, plan.Placed{Batch: b.ID, Step: b.Steps[j].ID, Start: at.Start, Hand: at.Hand})
			}
		}
		p.Batches = append(p.Batches, b)
		p.Tools = withTool(p.Tools, m.card.Tool)
	}
	return &p
}

// batch of an order that is not promised yet.
func (k *Kitchen) batch(id string, card *batch.Card, d *Draft) plan.Batch {
	b := BatchOf(id, card, d.FreeFrom)
	b.NotBefore, b.ReadyBy = k.Work.Now, k.Work.Calendar.Minute(d.From)
	return b
}

// withTool has a tool of which there is no word yet.
func withTool(tools []plan.Tool, t *plan.Tool) []plan.Tool {
	if t == nil || slices.ContainsFunc(tools, func(x plan.Tool) bool { return x.ID == t.ID && x.Count >= t.Count }) {
		return tools
	}
	for i := range tools {
		if tools[i].ID == t.ID {
			tools[i].Count = t.Count
			return tools
		}
	}
	return append(tools, *t)
}

// BatchOf a card, for the planner: what must be free from what, and how long it keeps. When it may begin and is to be ready is left to the caller.
func BatchOf(id string, card *batch.Card, freeFrom []string) plan.Batch {
	b := plan.Batch{ID: id, Worth: 1, FreshFrom: card.FreshFrom, Keeps: new(card.Keeps * 60), Contains: card.Allergens, FreeFrom: Threats(freeFrom), Steps: make([]plan.Step, len(card.Steps))}
	for i, s := range card.Steps {
		b.Steps[i] = s.Step
	}
	return b
}

// Threats are the allergens that break one of the wishes.
func Threats(wishes []string) []string {
	list := []string{}
	for _, a := range food.AllergenNames() {
		if slices.ContainsFunc(wishes, func(w string) bool { return food.Breaks(a, w) }) {
			list = append(list, a)
		}
	}
	return list
}
