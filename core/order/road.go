package order

import (
	"zestytin/core/chocolate"
	"zestytin/core/route"
	"zestytin/core/treat"
)

// Loads of an order on the road: how cold the pieces of each line must be kept, by how they are kept and what they are
// coated with, and how heavy they are.
func (r *Estimate) Loads() []route.Load {
	list := make([]route.Load, 0, len(r.Lines))
	for i := range r.Lines {
		c := r.Lines[i].Card
		l := route.Load{Care: route.Mild, Grams: c.PieceMass.Times(float64(r.Lines[i].Count))}
		for _, p := range c.Pots {
			if p.Chocolate.Kind == chocolate.Real {
				l.Care = route.Cool
			}
		}
		if c.Kept.Where == treat.InFridge {
			l.Care = route.Cold
		}
		list = append(list, l)
	}
	return list
}
