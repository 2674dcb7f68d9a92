// Package ledger is the account of a melt: what is put into a bowl of chocolate, what each step takes from it, what stays on tools, what runs back or is trimmed
// off and put back, and what is left. It is the only source of grams for the batch card, the run sheet, the larder and the shopping list. All amounts are in g.
package ledger

import (
	"math"
	"slices"
	"strconv"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
)

// Stir is what is stirred into a chocolate: Grams of the ingredient Of to each gram of the chocolate. The zero value is nothing.
type Stir struct {
	Of    ident.Ingredient `json:"of"`
	Grams float64          `json:"grams"`
}

// Pot is what may be poured together. What a bowl has of Tint, and what it has touched, is its state in time, not what it is.
type Pot struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Flavour    Stir             `json:"flavour,omitzero"`
	Thinner    Stir             `json:"thinner,omitzero"`
	Tint       ident.Ingredient `json:"tint,omitempty"` // the ingredient that colours it
	Method     chocolate.Method `json:"method"`
	Work       chocolate.Range  `json:"work"` // C
	Source     chocolate.Source `json:"source"`
}

// Key names a pot, in a plan.
func (p Pot) Key() ident.Pot {
	key := make([]byte, 0, 128)
	key = append(key, p.Ingredient...)
	key = append(append(key, ' '), p.Method...)
	key = strconv.AppendFloat(append(key, ' '), p.Work.To, 'g', -1, 64)
	key = append(append(key, ' '), p.Source...)
	for _, s := range [...]Stir{p.Flavour, p.Thinner} {
		if s.Of != "" {
			key = append(append(key, ' '), s.Of...)
			key = strconv.AppendFloat(append(key, ' '), s.Grams, 'g', -1, 64)
		}
	}
	if p.Tint != "" {
		key = append(append(key, ' '), p.Tint...)
	}
	return ident.Pot(key)
}

// Draw is what one step takes from a bowl in one go, and what goes back then.
type Draw struct {
	Pot     Pot      `json:"pot"`
	Applied float64  `json:"applied"`           // stays on the pieces as applied, before anything is trimmed off
	Fill    *Fill    `json:"fill,omitempty"`    // of moulds that are filled and poured off again
	Pool    float64  `json:"pool,omitempty"`    // must be in the bowl beyond that, to work from
	Least   float64  `json:"least"`             // is the least that melts evenly
	Seed    float64  `json:"seed,omitempty"`    // share of a melt that is held back
	Tops    bool     `json:"tops,omitempty"`    // it takes what has drained and was trimmed before, and the bowl is topped up for it
	Trimmed float64  `json:"trimmed,omitempty"` // comes off the pieces and goes back into the bowl; then nothing is taken
	Colour  float64  `json:"colour,omitempty"`  // of the tint to each gram of the chocolate: it deepens, never fades
	Touches []string `json:"touches,omitempty"` // allergens that the bowl has in it from then on
	Damp    bool     `json:"damp,omitempty"`    // fresh fruit goes through it
	Minutes int      `json:"minutes,omitempty"` // of hands that melting takes, where the seller knows better than the rule
}

// Fill is how moulds are filled that are poured off again: one after the other, so that what runs back from the first fills the next.
type Fill struct {
	Cavities int     `json:"cavities"` // in all
	Mould    int     `json:"mould"`    // in one mould
	Pour     float64 `json:"pour"`     // into one cavity
}

// OnTools is the share of what stays on the pieces, as applied, that stays on bowl, brush and paper besides (common practice).
const OnTools = 0.02

// takes is what leaves the bowl for good, tools included.
func (d *Draw) takes() float64 { return d.Applied * (1 + OnTools) }

// fillings are the moulds of a draw, by how many cavities of each are filled: whole moulds, then what is left.
func (f *Fill) fillings(yield func(cavities int) bool) {
	for left := f.Cavities; left > 0; left -= f.Mould {
		if !yield(min(f.Mould, left)) {
			return
		}
	}
}

// Keep is what stays in one cavity.
func (d *Draw) Keep() float64 { return d.Applied / float64(d.Fill.Cavities) }

// Drains is what runs back into the bowl in all.
func (d *Draw) Drains() float64 {
	if d.Fill == nil {
		return 0
	}
	return math.Max(float64(d.Fill.Cavities)*d.Fill.Pour-d.Applied, 0)
}

// depth is how much more than what has left it for good a bowl must have held by the end of the draw: the most that is poured beyond what stays, with what has
// stayed of the moulds before.
func (d *Draw) depth() float64 {
	most := d.takes()
	if d.Fill == nil || d.Fill.Mould <= 0 {
		return most
	}
	keep, stayed := d.Keep(), 0.0
	for n := range d.Fill.fillings {
		stayed += float64(n) * keep * (1 + OnTools)
		most = math.Max(most, stayed+math.Max(float64(n)*(d.Fill.Pour-keep), 0))
	}
	return most
}

// melts is the mass of the bowl with its additions for each gram of the chocolate in it.
func (p Pot) melts(colour float64) float64 { return 1 + p.Flavour.Grams + p.Thinner.Grams + colour }

// Bowl is one melt: what may be poured together, from when it is melted until it is melted anew or the session ends.
type Bowl struct {
	Pot   Pot
	Draws []Draw

	Melted  float64   // at first
	TopUps  []float64 // is melted more, right before each draw
	Before  []float64 // is in the bowl before each draw, and before it is topped up
	Applied float64   // on the pieces, before trimming
	Tools   float64   // stays on tools
	Trimmed float64   // comes off the pieces and goes back
	Drained float64   // runs back out of moulds
	Used    float64   // is on the pieces or lost on tools in the end: Applied + Tools - Trimmed
	Left    float64   // is left in the bowl: Melted + TopUps + what colours it deeper - Used
	Pool    float64   // is the most that one of the draws must have left to work from
	Seed    float64   // of Melted, held back
	Touched []string  // allergens that are in it in the end, beside the chocolate's own
	Damp    bool
	Colour  float64 // of the tint to each gram of chocolate, in the end
	Parts   []Part  // what it is made of
}

// Part is one ingredient of a bowl. What is stirred in is used in full: nothing of it is worth anything in what is left.
type Part struct {
	Of   ident.Ingredient
	In   float64 // is put in
	Used float64
	Left float64 // comes back
}

// Open a bowl for draws of one pot, in the order in which they are worked. The melt is what stays until the next melt, with tools, plus the largest standing need:
// the pool, or what is poured into a mould beyond what it keeps. Draws that take what came back are topped up instead, once something has.
func Open(draws []Draw) Bowl {
	if len(draws) == 0 {
		return Bowl{}
	}
	room := make([]float64, 2*len(draws))
	b := Bowl{Pot: draws[0].Pot, Draws: draws, TopUps: room[:len(draws):len(draws)], Before: room[len(draws):]}
	topped := make([]bool, len(draws))
	least, back, seed := 0.0, false, 0.0
	for i := range draws {
		d := &draws[i]
		topped[i] = d.Tops && back
		back = back || d.Trimmed > 0 || d.Drains() > 0
		b.Pool, least, seed = math.Max(b.Pool, d.Pool), math.Max(least, d.Least), math.Max(seed, d.Seed)
		b.Damp = b.Damp || d.Damp
		for _, a := range d.Touches {
			if !slices.Contains(b.Touched, a) {
				b.Touched = append(b.Touched, a)
			}
		}
	}
	slices.Sort(b.Touched)
	b.Melted = math.Max(b.needs(0, topped), least)
	b.Seed = b.Melted * seed
	b.pour(topped)
	return b
}

// needs is what must be in the bowl before the draw at i for all from there on that are not topped up, the pool included.
func (b *Bowl) needs(i int, topped []bool) float64 {
	most, taken := 0.0, 0.0
	for n := i; n < len(b.Draws); n++ {
		if d := &b.Draws[n]; !topped[n] {
			most = math.Max(most, taken+d.depth())
			taken += d.takes()
		}
	}
	return math.Max(most, taken+b.Pool)
}

// pour follows the bowl through its draws.
func (b *Bowl) pour(topped []bool) {
	content, colour := b.Melted, b.Draws[0].Colour
	per := b.Pot.melts(colour)
	pure := content / per // of the chocolate itself
	in, tint, used := pure, pure*colour, 0.0
	stirred := pure // chocolate that flavour and thinner were stirred into
	for i := range b.Draws {
		d := &b.Draws[i]
		b.Before[i] = content
		if d.Colour > colour { // more of it is stirred into what is there
			more := pure * (d.Colour - colour)
			colour, tint, content = d.Colour, tint+more, content+more
			per = b.Pot.melts(colour)
		}
		if topped[i] {
			if more := d.takes() + b.needs(i+1, topped) - content; more > 0 {
				b.TopUps[i] = more
				content, pure, in, stirred, tint = content+more, pure+more/per, in+more/per, stirred+more/per, tint+more/per*colour
			}
		}
		takes := d.takes()
		content, pure, used = content-takes+d.Trimmed, pure-(takes-d.Trimmed)/per, used+(takes-d.Trimmed)/per
		b.Applied, b.Tools, b.Trimmed, b.Drained = b.Applied+d.Applied, b.Tools+d.Applied*OnTools, b.Trimmed+d.Trimmed, b.Drained+d.Drains()
	}
	b.Used, b.Left, b.Colour = b.Applied+b.Tools-b.Trimmed, math.Max(content, 0), colour
	b.Parts = append(b.Parts, Part{b.Pot.Ingredient, in, used, math.Max(pure, 0)})
	for _, s := range []Stir{{b.Pot.Flavour.Of, stirred * b.Pot.Flavour.Grams}, {b.Pot.Thinner.Of, stirred * b.Pot.Thinner.Grams}, {b.Pot.Tint, tint}} {
		if s.Of != "" && s.Grams > 0 {
			b.Parts = append(b.Parts, Part{s.Of, s.Grams, s.Grams, 0})
		}
	}
}

// In is all that is melted for the bowl: at first and more.
func (b *Bowl) In() float64 {
	sum := b.Melted
	for _, x := range b.TopUps {
		sum += x
	}
	return sum
}

// Takes is how much of the melt's melted part could be of what is left from before: none of a gentle melt, which starts from tempered solid, and none of the seed.
func (b *Bowl) Takes() float64 {
	if b.Pot.Method == chocolate.Gentle {
		return 0
	}
	return b.Melted - b.Seed
}
