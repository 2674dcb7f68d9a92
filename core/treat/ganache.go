package treat

import (
	"fmt"

	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Part of a mixture.
type Part struct {
	Name  string           `json:"name"`
	Mass  measure.Quantity `json:"mass"`
	Share float64          `json:"share,omitempty"`
}

// Scale a mixture so that it weighs total grams, keeping its ratio. Masses may be in any unit of mass; they come back
// in grams with their shares. The error is an *invalid.Error with JSON paths from parts.
func Scale(parts []Part, total si.Grams) ([]Part, error) {
	var faults invalid.Faults
	sum := 0.0
	grams := make([]float64, len(parts))
	for i, p := range parts {
		if err := p.Mass.Check(measure.Mass); err != nil {
			faults.Under(fmt.Sprintf("[%d].mass", i), err)
			continue
		}
		grams[i], _ = p.Mass.In(measure.Gram, measure.Substance{})
		sum += grams[i]
	}
	if len(parts) == 0 {
		faults.Add("", reason.Of("treat.mixture-has-at-least-one"))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	scaled := make([]Part, len(parts))
	for i, p := range parts {
		scaled[i] = Part{p.Name, measure.Grams(total.Times(grams[i] / sum)), grams[i] / sum}
	}
	return scaled, nil
}
