package planning

import (
	"cmp"
	"slices"

	"zestytin/core/batch"
	"zestytin/core/food"
	"zestytin/core/si"
)

// DayFill is what a treat takes of a day's hands.
type DayFill struct {
	Treat     string         `json:"treat"`
	Family    batch.Motif    `json:"family"`
	Chocolate food.Chocolate `json:"chocolate" doc:"That the treat is drawn in"`
	Minutes   si.Minutes     `json:"minutes" doc:"Hands-on, without melting and washing down"`
}

// fill tells what the day's steps take of its hours: by treat, most first, and melting and washing down apart, which is
// nobody's alone. What has no room takes nothing. look is what a treat is drawn in, by its name.
func (d *PlanDay) fill(look map[string]food.Chocolate) {
	d.Fills = []DayFill{}
	for _, h := range d.Hours {
		d.Open += (h.To - h.From) * si.Minutes(h.Hands)
	}
	for _, s := range d.Steps {
		if s.Short {
			continue
		}
		d.Setup += s.Melt + s.Wash
		n := slices.IndexFunc(d.Fills, func(f DayFill) bool { return f.Treat == s.Treat })
		if n < 0 {
			n = len(d.Fills)
			d.Fills = append(d.Fills, DayFill{Treat: s.Treat, Family: s.Family, Chocolate: look[s.Treat]})
		}
		d.Fills[n].Minutes += s.Hands
	}
	slices.SortStableFunc(d.Fills, func(a, b DayFill) int {
		return cmp.Or(cmp.Compare(b.Minutes, a.Minutes), cmp.Compare(a.Treat, b.Treat))
	})
}
