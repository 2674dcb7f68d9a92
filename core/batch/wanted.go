// Package batch is what follows from a formula and a count: a pipeline of values, wanted, starts, rounds, ledger,
// needs, steps, card, each in a file of its own. Every value holds the one before it, and none is changed by what comes
// after.
package batch

import (
	"slices"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/treat"
)

// wanted is so many good ones of a formula in a kitchen.
type wanted struct {
	f     *treat.Formula
	k     *treat.Inputs
	law   family.Law
	is    family.Traits
	lay   family.Layout
	good  int   // pieces; bags of what is bagged by weight
	goods []int // of each design
	items map[ident.Ingredient]treat.Item
}

// want so many good ones, split into the designs.
func want(f *treat.Formula, count int, k *treat.Inputs) *wanted {
	w := &wanted{f: f, k: k, law: family.LawOf(f), good: count, items: make(map[ident.Ingredient]treat.Item, 8)}
	w.is, w.lay = w.law.Traits(), w.law.Lay(f)
	w.goods = apportion(f.Designs(), count)
	return w
}

// item of the kitchen, looked up but once for a card.
func (w *wanted) item(id ident.Ingredient) treat.Item {
	known, ok := w.items[id]
	if !ok {
		known, _ = w.k.Item(id)
		w.items[id] = known
	}
	return known
}

// apportion a number over the designs. Places go one by one to the design that is furthest behind its share (the
// divisor method of Webster and Sainte-Lague), so that no design ever gets fewer of a larger count.
func apportion(designs []treat.Design, n int) []int {
	got := make([]int, len(designs))
	total := 0
	for _, d := range designs {
		total += d.Parts
	}
	if total == 0 {
		return got
	}
	// Whole sets divide evenly; only the rest has to be handed out one by one.
	for i, d := range designs {
		got[i] = n / total * d.Parts
	}
	base := slices.Clone(got)
	for range n % total {
		next := 0
		for i, d := range designs {
			// (2 have + 1) / parts is smallest where the next place is due.
			if (2*(got[i]-base[i])+1)*designs[next].Parts < (2*(got[next]-base[next])+1)*d.Parts {
				next = i
			}
		}
		got[next]++
	}
	return got
}
