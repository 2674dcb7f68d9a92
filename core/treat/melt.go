package treat

import (
	"math"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
)

// Share of a pot's chocolate: a batch that is worked on in several sessions melts it in parts, and several batches work from one melt.
type Share struct {
	Pot *Pot
	Of  float64 // 0 to 1 of what the batch uses of it
}

// MeltFor is what one melt holds for all that is worked from it, and how it is brought to working condition in a room of so many °C. What is left in the bowl to work from
// is there once, the most that one of them needs; less than what melts evenly is not melted (chocolate.LeastMelt).
func MeltFor(shares []Share, room float64) (melted measure.Shown, advice string) {
	if len(shares) == 0 {
		return measure.Shown{}, ""
	}
	used, pool := 0.0, 0.0
	for _, s := range shares {
		used += s.Pot.Used.Amount * s.Of
		pool = math.Max(pool, s.Pot.Melted.Amount-s.Pot.Used.Amount)
	}
	total := math.Max(used+pool, chocolate.LeastMelt)
	of := shares[0].Pot
	t := chocolate.Temper(of.Method, of.Chocolate.Kind, of.Tempering.Bands, chocolate.Microwave, total, room)
	return measure.Show(measure.Grams(total), measure.Substance{}), strings.Join(t.Steps, " ")
}

// PotShare is which part of a pot's chocolate a step works with: its part of the hands that work from that pot.
func (c *Card) PotShare(step string) float64 {
	var own *Step
	for i := range c.Steps {
		if c.Steps[i].ID == step {
			own = &c.Steps[i]
		}
	}
	if own == nil || own.Pot == "" {
		return 0
	}
	all := 0
	for _, s := range c.Steps {
		if s.Pot == own.Pot {
			all += s.Hands
		}
	}
	return float64(own.Hands) / float64(all)
}
