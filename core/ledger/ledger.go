// Package ledger is the account of a melt: what is put into a bowl of chocolate, what each step takes from it, what
// stays on tools, what runs back or is trimmed off and put back, and what is left. It is the only source of grams for
// the batch card, the run sheet, the larder and the shopping list. All amounts are in g.
package ledger

import (
	"slices"
	"strconv"

	"zestytin/core/chocolate"
	"zestytin/core/ident"
	"zestytin/core/si"
)

// Stir is what is stirred into a chocolate: Grams of the ingredient Of to each gram of the chocolate. The zero value is
// nothing.
type Stir struct {
	Of    ident.Ingredient `json:"of"`
	Grams float64          `json:"grams"`
}

// Pot is what may be poured together. What a bowl has of Tint, and what it has touched, is its state in time, not what
// it is.
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
	Pot     Pot        `json:"pot"`
	Applied si.Grams   `json:"applied"`           // stays on the pieces as applied, before anything is trimmed off
	Fill    *Fill      `json:"fill,omitempty"`    // of moulds that are filled and poured off again
	Pool    si.Grams   `json:"pool,omitempty"`    // must be in the bowl beyond that, to work from
	Least   si.Grams   `json:"least"`             // is the least that melts evenly
	Seed    float64    `json:"seed,omitempty"`    // share of a melt that is held back
	Tops    bool       `json:"tops,omitempty"`    // it takes what has drained and was trimmed before, and the bowl is topped up for it
	Trimmed si.Grams   `json:"trimmed,omitempty"` // comes off the pieces and goes back into the bowl; then nothing is taken
	Colour  float64    `json:"colour,omitempty"`  // of the tint to each gram of the chocolate: it deepens, never fades
	Touches []string   `json:"touches,omitempty"` // allergens that the bowl has in it from then on
	Damp    bool       `json:"damp,omitempty"`    // fresh fruit goes through it
	Minutes si.Minutes `json:"minutes,omitempty"` // of hands that melting takes, where the seller knows better than the rule
}

// Fill is how moulds are filled that are poured off again: one after the other, so that what runs back from the first
// fills the next.
type Fill struct {
	Cavities int      `json:"cavities"` // in all
	Mould    int      `json:"mould"`    // in one mould
	Pour     si.Grams `json:"pour"`     // into one cavity
}

// OnTools is the share of what stays on the pieces, as applied, that stays on bowl, brush and paper besides (common
// practice).
const OnTools = 0.02

// takes is what leaves the bowl for good, tools included.
func (d *Draw) takes() si.Grams { return d.Applied * (1 + OnTools) }

// fillings are the moulds of a draw, by how many cavities of each are filled: whole moulds, then what is left.
func (f *Fill) fillings(yield func(cavities int) bool) {
	for left := f.Cavities; left > 0; left -= f.Mould {
		if !yield(min(f.Mould, left)) {
			return
		}
	}
}

// Keep is what stays in one cavity.
func (d *Draw) Keep() si.Grams { return d.Applied.By(float64(d.Fill.Cavities)) }

// Drains is what runs back into the bowl in all.
func (d *Draw) Drains() si.Grams {
	if d.Fill == nil {
		return 0
	}
	return max(d.Fill.Pour.Times(float64(d.Fill.Cavities))-d.Applied, 0)
}

// depth is how much more than what has left it for good a bowl must have held by the end of the draw: the most that is
// poured beyond what stays, with what has stayed of the moulds before.
func (d *Draw) depth() si.Grams {
	most := d.takes()
	if d.Fill == nil || d.Fill.Mould <= 0 {
		return most
	}
	keep, stayed := d.Keep(), si.Grams(0)
	for n := range d.Fill.fillings {
		stayed += keep.Times(float64(n) * (1 + OnTools))
		most = max(most, stayed+max((d.Fill.Pour-keep).Times(float64(n)), 0))
	}
	return most
}

// melts is the mass of the bowl with its additions for each gram of the chocolate in it.
func (p Pot) melts(colour float64) float64 { return 1 + p.Flavour.Grams + p.Thinner.Grams + colour }

// Bowl is one melt: what may be poured together, from when it is melted until it is melted anew or the session ends.
type Bowl struct {
	Pot   Pot
	Draws []Draw

	Melted  si.Grams   // at first
	TopUps  []si.Grams // is melted more, right before each draw
	Before  []si.Grams // is in the bowl before each draw, and before it is topped up
	Applied si.Grams   // on the pieces, before trimming
	Tools   si.Grams   // stays on tools
	Trimmed si.Grams   // comes off the pieces and goes back
	Drained si.Grams   // runs back out of moulds
	Used    si.Grams   // is on the pieces or lost on tools in the end: Applied + Tools - Trimmed
	Left    si.Grams   // is left in the bowl: Melted + TopUps + what colours it deeper - Used
	Pool    si.Grams   // is the most that one of the draws must have left to work from
	Seed    si.Grams   // of Melted, held back
	Touched []string   // allergens that are in it in the end, beside the chocolate's own
	Damp    bool
	Colour  float64 // of the tint to each gram of chocolate, in the end
	Parts   []Part  // what it is made of
}

// Part is one ingredient of a bowl. What is stirred in is used in full: nothing of it is worth anything in what is
// left.
type Part struct {
	Of   ident.Ingredient
	In   si.Grams // is put in
	Used si.Grams
	Left si.Grams // comes back
}

// Open a bowl for draws of one pot, in the order in which they are worked. The melt is what stays until the next melt,
// with tools, plus the largest standing need: the pool, or what is poured into a mould beyond what it keeps. Draws that
// take what came back are topped up instead, once something has.
func Open(draws []Draw) Bowl {
	if len(draws) == 0 {
		return Bowl{}
	}
	room := make([]si.Grams, 2*len(draws))
	b := Bowl{Pot: draws[0].Pot, Draws: draws, TopUps: room[:len(draws):len(draws)], Before: room[len(draws):]}
	topped := make([]bool, len(draws))
	least, back, seed := si.Grams(0), false, 0.0
	for i := range draws {
		d := &draws[i]
		topped[i] = d.Tops && back
		back = back || d.Trimmed > 0 || d.Drains() > 0
		b.Pool, least, seed = max(b.Pool, d.Pool), max(least, d.Least), max(seed, d.Seed)
		b.Damp = b.Damp || d.Damp
		for _, a := range d.Touches {
			if !slices.Contains(b.Touched, a) {
				b.Touched = append(b.Touched, a)
			}
		}
	}
	slices.Sort(b.Touched)
	b.Melted = max(b.needs(0, topped), least)
	b.Seed = b.Melted.Times(seed)
	b.pour(topped)
	return b
}

// needs is what must be in the bowl before the draw at i for all from there on that are not topped up, the pool
// included.
func (b *Bowl) needs(i int, topped []bool) si.Grams {
	most, taken := si.Grams(0), si.Grams(0)
	for n := i; n < len(b.Draws); n++ {
		if d := &b.Draws[n]; !topped[n] {
			most = max(most, taken+d.depth())
			taken += d.takes()
		}
	}
	return max(most, taken+b.Pool)
}

// pour follows the bowl through its draws.
func (b *Bowl) pour(topped []bool) {
	content, colour := b.Melted, b.Draws[0].Colour
	per := b.Pot.melts(colour)
	pure := content.By(per) // of the chocolate itself
	in, tint, used := pure, pure.Times(colour), si.Grams(0)
	stirred := pure // chocolate that flavour and thinner were stirred into
	for i := range b.Draws {
		d := &b.Draws[i]
		b.Before[i] = content
		if d.Colour > colour { // more of it is stirred into what is there
			more := pure.Times(d.Colour - colour)
			colour, tint, content = d.Colour, tint+more, content+more
			per = b.Pot.melts(colour)
		}
		if topped[i] {
			if more := d.takes() + b.needs(i+1, topped) - content; more > 0 {
				b.TopUps[i] = more
				of := more.By(per)
				content, pure, in, stirred, tint = content+more, pure+of, in+of, stirred+of, tint+of.Times(colour)
			}
		}
		takes := d.takes()
		gone := (takes - d.Trimmed).By(per)
		content, pure, used = content-takes+d.Trimmed, pure-gone, used+gone
		b.Applied, b.Tools, b.Trimmed, b.Drained = b.Applied+d.Applied, b.Tools+d.Applied*OnTools, b.Trimmed+d.Trimmed,
			b.Drained+d.Drains()
	}
	b.Used, b.Left, b.Colour = b.Applied+b.Tools-b.Trimmed, max(content, 0), colour
	b.Parts = append(b.Parts, Part{b.Pot.Ingredient, in, used, max(pure, 0)})
	add := func(of ident.Ingredient, grams si.Grams) {
		if of != "" && grams > 0 {
			b.Parts = append(b.Parts, Part{of, grams, grams, 0})
		}
	}
	add(b.Pot.Flavour.Of, stirred.Times(b.Pot.Flavour.Grams))
	add(b.Pot.Thinner.Of, stirred.Times(b.Pot.Thinner.Grams))
	add(b.Pot.Tint, tint)
}

// In is all that is melted for the bowl: at first and more.
func (b *Bowl) In() si.Grams {
	sum := b.Melted
	for _, x := range b.TopUps {
		sum += x
	}
	return sum
}

// Takes is how much of the melt's melted part could be of what is left from before: none of a gentle melt, which starts
// from tempered solid, and none of the seed.
func (b *Bowl) Takes() si.Grams {
	if b.Pot.Method == chocolate.Gentle {
		return 0
	}
	return b.Melted - b.Seed
}
