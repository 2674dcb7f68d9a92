package order

import (
	"slices"
	"zestytin/core/food"
	"zestytin/core/reason"
)

// care are the cautions of an order: what stops it first.
func (r *Estimate) care(d *Draft, k *Inputs) []Caution {
	list, all := []Caution{}, []string{}
	for i, l := range r.Lines {
		for _, a := range l.Card.Allergens {
			for _, wish := range d.of(i).FreeFrom {
				if !food.ViolatesFreeFrom(a, wish) {
					continue
				}
				from := []string{}
				for _, n := range l.Card.Needs {
					if slices.Contains(k.Ingredients[n.Ingredient].Allergens, a) {
						from = append(from, n.Name)
					}
				}
				list = append(list, Caution{true, reason.Of("order.contain-and-order-must-be", reason.Name(l.Name),
					reason.Word(wish), reason.Names(from))})
			}
			if !slices.Contains(all, a) {
				all = append(all, a)
			}
		}
	}
	list = append(append(list, r.wished(d, k)...), r.boxCautions()...)
	if free, _ := d.asked(); len(free) > 0 {
		list = append(list, Caution{false, reason.Of("order.home-kitchen-shared-make-free")})
	}
	if len(all) > 0 {
		slices.Sort(all)
		list = append(list, Caution{false, reason.Of("order.contains-from-recipes", reason.Series(reason.Words(all)))})
	}
	for _, l := range r.Lines {
		if len(l.Traces) > 0 {
			list = append(list, Caution{false, reason.Of("order.may-contain-traces-from-bowl", reason.Name(l.Name),
				reason.Series(reason.Words(l.Traces)))})
		}
	}
	var said []reason.Reason
	for _, l := range r.Lines {
		for _, care := range l.Card.Care {
			if n := len(said); len(reason.AddOnce(said, care)) > n {
				said, list = append(said, care), append(list, Caution{false, care})
			}
		}
	}
	return list
}
