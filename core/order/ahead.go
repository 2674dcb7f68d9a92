package order

import (
	"maps"
	"zestytin/core/batch"
	"zestytin/core/ident"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// handover of a draft: the day on which what is made ahead must be good still.
func (k *Inputs) handover(d *Draft) string {
	if d.To.IsZero() {
		return k.Calendar.Date(k.Calendar.DayOf(d.From))
	}
	return k.Calendar.Date(k.Calendar.DayOf(d.To))
}

// madeAhead is what there is of mixes that can go into an order: lots that no other order takes and that are good still
// on a day.
func (k *Inputs) madeAhead(d *Draft, day string) map[ident.Ingredient]treat.Ahead {
	ahead := map[ident.Ingredient]treat.Ahead{}
	if d.From.IsZero() {
		return ahead
	}
	for mix := range k.Mixes {
		var of treat.Ahead
		for _, l := range k.Stock[mix].Lots {
			if until := l.Until(); l.GoodOn(day) {
				of.Grams += si.Grams(l.Left)
				if until != "" && (of.Until == "" || until < of.Until) {
					of.Until = until
				}
			}
		}
		if of.Grams > 0 {
			ahead[mix] = of
		}
	}
	return ahead
}

// take out of what was made ahead what a card takes.
func take(ahead map[ident.Ingredient]treat.Ahead, card *batch.Card) {
	for i := range card.Mixes {
		m := &card.Mixes[i]
		if left, ok := ahead[m.Mix]; ok {
			left.Grams = max(left.Grams-m.OfLarder(), 0)
			ahead[m.Mix] = left
		}
	}
}

// Holding is the kitchen with what is set aside for some orders of mixes made ahead: what is made for them can take it,
// as long as it is good on the day of the last of their handovers.
func (k *Inputs) Holding(day string, orders ...ident.Order) *Inputs {
	own := *k
	own.Ahead = map[ident.Ingredient]treat.Ahead{}
	for _, id := range orders {
		addAhead(own.Ahead, k.Held[id])
	}
	maps.DeleteFunc(own.Ahead, func(_ ident.Ingredient, of treat.Ahead) bool {
		return of.Until != "" && of.Until < day
	})
	return &own
}

func addAhead(to, more map[ident.Ingredient]treat.Ahead) {
	for mix, of := range more {
		sum := to[mix]
		sum.Grams += of.Grams
		if of.Until != "" && (sum.Until == "" || of.Until < sum.Until) {
			sum.Until = of.Until
		}
		to[mix] = sum
	}
}
