package order

import (
	"slices"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/si"
)

// problem of the kitchen with the makings of the order in it.
func (r *Estimate) problem(makings []plannedBatch, d *Draft, k *Inputs) *plan.Problem {
	p := k.Planning.Problem
	p.Schema, p.Batches = plan.ProblemSchema, slices.Clone(p.Batches)
	p.Tools = slices.Clone(p.Tools)
	previous := &plan.Plan{Schema: plan.PlanSchema}
	if p.Previous != nil {
		previous.Steps = slices.Clone(p.Previous.Steps)
	}
	p.Previous = previous
	for _, m := range makings {
		b := k.batch(m.id, m.card, d.of(m.line))
		for j := range b.Steps {
			if at, known := k.Planning.Own[m.id][b.Steps[j].ID]; known {
				previous.Steps = append(previous.Steps, plan.ScheduledOperation{Batch: b.ID, Step: b.Steps[j].ID,
					Start: at.Start, Hand: at.Hand})
			}
		}
		p.Batches = append(p.Batches, b)
		p.Tools = withTool(p.Tools, m.card.Tool)
	}
	return &p
}

// batch of a line of an order that is not promised yet: d is the draft of that line.
func (k *Inputs) batch(id ident.Batch, card *batch.Card, d *Draft) plan.Batch {
	b := BatchOf(id, card, d.FreeFrom)
	b.ReleaseMin, b.DueMin = k.Planning.Now, k.Planning.Calendar.Minute(d.From)
	return b
}

// withTool has a tool of which there is no word yet.
func withTool(tools []plan.MouldResource, t *plan.MouldResource) []plan.MouldResource {
	if t == nil || slices.ContainsFunc(tools, func(x plan.MouldResource) bool {
		return x.ID == t.ID &&
			x.Count >= t.Count
	}) {
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

// BatchOf a card, for the planner: what must be free from what, and how long it keeps. When it may begin and is to be
// ready is left to the caller; what says no hours keeps.
func BatchOf(id ident.Batch, card *batch.Card, freeFrom []string) plan.Batch {
	b := plan.Batch{ID: id, Penalty: 1, FreshFrom: card.FreshFrom, Contains: card.Allergens,
		FreeFrom: Threats(freeFrom), Steps: make([]plan.Operation, len(card.Steps))}
	if card.Keeps > 0 {
		b.ShelfLifeMin = new(si.Minutes(card.Keeps * 60))
	}
	for i, s := range card.Steps {
		b.Steps[i] = s.Operation
	}
	return b
}

// Threats are the allergens that break one of the wishes.
func Threats(wishes []string) []string {
	list := []string{}
	for _, a := range food.AllergenNames() {
		if slices.ContainsFunc(wishes, func(w string) bool { return food.ViolatesFreeFrom(a, w) }) {
			list = append(list, a)
		}
	}
	return list
}
