package order

import "zestytin/core/ident"

// Output is how many good pieces a batch has for its orders.
type Output struct {
	Started int    // pieces; of bark the sheets
	Counted bool   // of each that is begun one comes out: not bags of a sheet
	Broken  int    // pieces that were lost on the way
	Good    *int   // as it was recorded when it was made
	Shares  Shares // next handover first
}

// Pieces that there are, or will be when the rest of the work goes well: what was recorded, otherwise what was begun
// without what broke. Of what is not counted as it is begun, all that was promised is taken to come out.
func (o *Output) Pieces() int {
	switch {
	case o.Good != nil:
		return *o.Good
	case o.Counted:
		return max(o.Started-o.Broken, 0)
	default:
		return o.Shares.Live().Count()
	}
}

// PromisedLine of an order.
type PromisedLine struct {
	Order    ident.Order `json:"order"`
	Number   int         `json:"number"`
	Customer string      `json:"customer"`
	Line     int         `json:"line"` // index of the order's line
	Name     string      `json:"name"` // of the treat
	Wanted   int         `json:"wanted"`
}

// Shortfall is a line of which fewer good pieces are left than were promised.
type Shortfall struct {
	PromisedLine
	Good    int `json:"good"`
	Missing int `json:"missing"`
}

// Shortfalls of promised lines, in their order. From a batch that several orders take from, the next handover is served
// first. A line of which nothing is made in these batches is passed over.
func Shortfalls(lines []PromisedLine, made []Output) []Shortfall {
	type key struct {
		order ident.Order
		line  int
	}
	have := map[key]int{}
	for i := range made {
		left := made[i].Pieces()
		for _, s := range made[i].Shares.Live() {
			served := min(s.Count, left)
			left -= served
			have[key{s.Order, s.Line}] += served
		}
	}
	list := []Shortfall{}
	for _, l := range lines {
		if good, known := have[key{l.Order, l.Line}]; known && good < l.Wanted {
			list = append(list, Shortfall{l, good, l.Wanted - good})
		}
	}
	return list
}
