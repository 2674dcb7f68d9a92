package ledger

import (
	"slices"

	"zestytin/core/si"
)

// Rest is chocolate that is left of a bowl, in the bowl still or as a lot of the larder: with all that is stirred into
// it, what it has touched, and whether it is damp.
type Rest struct {
	Of      string // the name that its owner gives it
	Pot     Pot    // only what it is made of counts: of what has set nobody asks how it was tempered
	Colour  float64
	Grams   si.Grams
	Touched []string
	Damp    bool
	Day     string // on which it was left: what is damp is for the same day only
}

// Melt is a bowl in its place in time.
type Melt struct {
	Bowl
	Of       string // the name that its owner gives it
	Day      string
	FreeFrom []string // allergens that must not touch what is made of it
	From     []Poured // what is left from before that is put into it; the rest of what is melted is fresh
}

// Poured is how much of a rest is put into a bowl.
type Poured struct {
	Of     string
	Grams  si.Grams // with what is stirred into it
	Pure   si.Grams // of them, the chocolate itself
	Colour float64  // of the tint to each gram of the chocolate
}

// Holds is the rest with so many g of the chocolate itself in it, as a lot of the larder counts it.
func (r Rest) Holds(of string, pure si.Grams) Rest {
	r.Of, r.Grams = of, pure.Times(r.Pot.melts(r.Colour))
	return r
}

// Fresh is what is put in beside what was left from before.
func (m *Melt) Fresh() si.Grams {
	sum := m.In()
	for _, p := range m.From {
		sum -= p.Grams
	}
	return sum
}

// FreshPart is how much of the part at n is put in beside what the rests bring along: of what is stirred in, what they
// have in them already.
func (m *Melt) FreshPart(n int) si.Grams {
	part := m.Parts[n]
	fresh := part.In
	for _, from := range m.From {
		if n == 0 {
			fresh -= from.Pure
			continue
		}
		for _, s := range [...]Stir{m.Pot.Flavour, m.Pot.Thinner, {m.Pot.Tint, from.Colour}} {
			if s.Of == part.Of {
				fresh -= from.Pure.Times(s.Grams)
			}
		}
	}
	return max(fresh, 0)
}

// takes tells whether a rest may go into the bowl: the same chocolate with the same in it, no deeper in colour than the
// bowl begins, nothing that must not touch it, and nothing damp of another day.
func (m *Melt) takes(r *Rest) bool {
	p, q := m.Pot, r.Pot
	if p.Ingredient != q.Ingredient || p.Flavour != q.Flavour || p.Thinner != q.Thinner {
		return false
	}
	if r.Colour > 0 && (p.Tint != q.Tint || r.Colour > m.Draws[0].Colour+1e-12) {
		return false
	}
	return !(r.Damp && r.Day != m.Day) && !slices.ContainsFunc(r.Touched,
		func(a string) bool { return slices.Contains(m.FreeFrom, a) })
}

// Rest is what the bowl leaves.
func (m *Melt) Rest() Rest {
	return Rest{Of: m.Of, Pot: m.Pot, Colour: m.Colour, Grams: m.Left, Touched: m.Touched, Damp: m.Damp, Day: m.Day}
}

// nothing is less than this much: what is left of sums of floating point numbers.
const nothing = 1e-6

// Carry puts what is left of each bowl, and what was left before, into the bowls that come after it, in their order,
// oldest first, up to their melted part. What goes in brings along what it has touched, and damp stays damp. It returns
// what is left at the end; damp rests of days before the last are thrown away and not among it.
func Carry(melts []Melt, rests []Rest) []Rest {
	rests = slices.Clone(rests)
	day := ""
	for i := range melts {
		m := &melts[i]
		day = max(day, m.Day)
		m.From = nil
		room := m.Takes()
		for n := range rests {
			r := &rests[n]
			if room <= nothing || r.Grams <= nothing || !m.takes(r) {
				continue
			}
			part := min(room, r.Grams)
			m.From = append(m.From, Poured{r.Of, part, part.By(r.Pot.melts(r.Colour)), r.Colour})
			room, r.Grams = room-part, r.Grams-part
			m.Damp = m.Damp || r.Damp
			for _, a := range r.Touched {
				if !slices.Contains(m.Touched, a) {
					m.Touched = append(slices.Clone(m.Touched), a)
				}
			}
		}
		if m.Left > nothing {
			rests = append(rests, m.Rest())
		}
	}
	return slices.DeleteFunc(rests, func(r Rest) bool { return r.Grams <= nothing || r.Damp && r.Day != day })
}
