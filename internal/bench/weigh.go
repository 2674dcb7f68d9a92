package bench

import (
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Weigh is an amount that is weighed out for a step.
type Weigh struct {
	Of     string        `json:"of"`
	Grams  si.Grams      `json:"grams"`
	Amount measure.Shown `json:"amount" doc:"The same, to be read"`
}

// weighed are the amounts that are so much of a thing by its weight.
func weighed(amounts []reason.Reason) (list []Weigh) {
	for _, r := range amounts {
		var w Weigh
		for _, v := range r.With {
			switch v := v.(type) {
			case measure.Shown:
				if w.Amount.Unit == "" { // in all: what follows is of each
					w.Amount = v
				}
			case reason.Name:
				if w.Of == "" {
					w.Of = string(v)
				}
			}
		}
		if w.Of != "" && w.Amount.Unit == measure.Gram && w.Amount.Amount > 0 {
			w.Grams = si.Grams(w.Amount.Amount)
			list = append(list, w)
		}
	}
	return list
}
