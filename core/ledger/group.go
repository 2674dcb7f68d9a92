package ledger

// Group draws, in the order in which they are worked, by the bowls that they come from: one for each pot, and another
// where a paler colour comes after a deeper one. It returns the indices of the draws of each bowl.
func Group(draws []Draw) [][]int {
	type open struct {
		bowl   int
		colour float64
	}
	var bowls [][]int
	at := map[Pot]open{}
	for i := range draws {
		d := &draws[i]
		o, ok := at[d.Pot]
		if !ok || d.Applied > 0 && d.Colour < o.colour {
			o = open{bowl: len(bowls)}
			bowls = append(bowls, nil)
		}
		o.colour = max(o.colour, d.Colour)
		at[d.Pot] = o
		bowls[o.bowl] = append(bowls[o.bowl], i)
	}
	return bowls
}
