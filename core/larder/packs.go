package larder

import (
	"cmp"
	"math"
	"slices"

	"github.com/shopspring/decimal"
)

// Offer is a pack as a shop sells it.
type Offer struct {
	ID    string
	Shop  string
	Size  float64 // in the unit that the thing is kept in
	Price decimal.Decimal
}

// Picked is an offer and how many of it.
type Picked struct {
	Offer
	Count int
}

// Choose the cheapest packs that cover a need: exact; of equally dear ones those that leave least over, then the fewest
// packs. Nothing is needed or offered: nothing is picked.
//
// It is the covering form of the unbounded knapsack problem. Sizes are whole thousandths of a unit. Let e be the offer
// with the lowest price for a unit. Every other offer i is taken fewer than S_e / gcd(S_i, S_e) times, since so many of
// i can be replaced by S_i / gcd of e, which weigh the same and cost no more. So the counts of all others are
// enumerated and e fills up, where
//   - a part that must come to more than the best whole found, even if all that is missing were bought at e's price for a unit, is dropped;
//   - of two parts the smaller one that costs more is dropped: whatever completes it completes the other.
func Choose(need float64, offers []Offer) []Picked {
	c := chooser{need: int64(math.Round(need * scale))}
	for _, o := range offers {
		if size := int64(math.Round(o.Size * scale)); size > 0 {
			c.packs = append(c.packs, pack{o, size, o.Price.Shift(4).Round(0).IntPart()})
		}
	}
	if c.need <= 0 || len(c.packs) == 0 {
		return nil
	}
	// The cheapest for a unit comes last, the largest of equals.
	slices.SortStableFunc(c.packs, func(a, b pack) int {
		return cmp.Or(cmp.Compare(b.each(), a.each()), cmp.Compare(a.size, b.size), cmp.Compare(b.ID, a.ID))
	})
	return c.choose()
}

// scale of sizes: whole thousandths of a unit.
const scale = 1000

type pack struct {
	Offer
	size  int64 // thousandths of a unit
	price int64 // ten-thousandths of the currency's unit
}

func (p pack) each() float64 { return float64(p.price) / float64(p.size) }

// part is a set of packs.
type part struct {
	size, price int64
	count       int
	last        *part // what it was before the last pack was added
	pack        int   // which one that was
}

type chooser struct {
	need  int64
	packs []pack
	best  *part
}

func (c *chooser) choose() []Picked {
	e := len(c.packs) - 1
	parts := []*part{{pack: -1}}
	c.finish(parts[0])
	for i := range c.packs[:e] {
		c.finish(c.with(parts[0], i)) // a good whole early drops many parts
	}
	for i := range c.packs[:e] {
		most := c.packs[e].size/gcd(c.packs[i].size, c.packs[e].size) - 1
		grown := parts
		for _, p := range parts {
			for n := int64(0); n < most && p.size < c.need; n++ {
				if p = c.with(p, i); c.tooDear(p) {
					break
				}
				grown = append(grown, p)
			}
		}
		parts = thin(grown)
		for _, p := range parts {
			c.finish(p)
		}
	}
	counts := make([]int, len(c.packs))
	for p := c.best; p.last != nil; p = p.last {
		counts[p.pack]++
	}
	var picked []Picked
	for i := len(counts) - 1; i >= 0; i-- {
		if counts[i] > 0 {
			picked = append(picked, Picked{c.packs[i].Offer, counts[i]})
		}
	}
	slices.SortStableFunc(picked, func(a, b Picked) int {
		return cmp.Or(cmp.Compare(b.Size, a.Size),
			cmp.Compare(a.ID, b.ID))
	})
	return picked
}

func (c *chooser) with(p *part, i int) *part {
	return &part{p.size + c.packs[i].size, p.price + c.packs[i].price, p.count + 1, p, i}
}

// finish a part with the cheapest packs, and keep it when it is the best so far.
func (c *chooser) finish(p *part) {
	e := len(c.packs) - 1
	missing := max((c.need-p.size+c.packs[e].size-1)/c.packs[e].size, 0)
	size, price, count := p.size+missing*c.packs[e].size, p.price+missing*c.packs[e].price, p.count+int(missing)
	if b := c.best; b != nil && cmp.Or(cmp.Compare(price, b.price), cmp.Compare(size, b.size),
		cmp.Compare(count, b.count)) >= 0 {
		return
	}
	for range missing {
		p = c.with(p, e)
	}
	c.best = p
}

// tooDear tells whether a part comes to more than the best whole even with the rest at the lowest price for a unit.
func (c *chooser) tooDear(p *part) bool {
	least := float64(p.price) + float64(max(c.need-p.size, 0))*c.packs[len(c.packs)-1].each()
	return least > float64(c.best.price)*(1+1e-12)+1e-6
}

// thin drops parts that another one makes needless, and of equal ones all but one with the fewest packs.
func thin(parts []*part) []*part {
	slices.SortStableFunc(parts, func(a, b *part) int {
		return cmp.Or(cmp.Compare(b.size, a.size), cmp.Compare(a.price, b.price), cmp.Compare(a.count, b.count))
	})
	kept := parts[:0:0]
	cheapest, size := int64(math.MaxInt64), int64(-1)
	for _, p := range parts {
		if p.price > cheapest || p.size == size {
			continue
		}
		kept, cheapest, size = append(kept, p), p.price, p.size
	}
	return kept
}

func gcd(a, b int64) int64 {
	for b != 0 {
		a, b = b, a%b
	}
	return a
}
