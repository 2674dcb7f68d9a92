package order

import (
	"zestytin/core/food"
	"zestytin/core/label"
	"zestytin/core/larder"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Made is when a line was made, or is to be, and in which lots.
type Made struct {
	Day  string // the first day from which it ages; empty: it is not in the plan yet
	Lots []string
	Done bool // it has been made: the day is that on which it really was
}

// Labelling is what stands on the label of a line, before it is put into words.
type Labelling struct {
	Name        string
	Ingredients []label.Span
	Contains    []reason.Word // by the laws that want a statement of its own
	Grams       si.Grams      // of what one label is for
	Net         string
	UseBy       bool   // it spoils: a day of use instead of a best before (Regulation 1169/2011, Art. 24)
	Until       string // the last day
	Lots        []string
	Keep        reason.Reason
	Serving     []reason.Reason
	Side        float64  // cm2, of the largest side of its package
	Pieces      int      // that one label is for
	Labels      int      // that the line takes
	Made        Made     // when
	NotSo       []string // ingredients that must not be called chocolate
}

// usualSide of a package of which no measure is known, in cm2: larger than what the EU calls small, so that nothing is
// printed smaller than it may be.
const usualSide = 100

// Label of a line: for so many pieces, or where that is 0 for what its box or bag holds.
func (r *Estimate) Label(line, pieces int, made Made, k *Inputs) Labelling {
	l := &r.Lines[line]
	c := l.Card
	of := Labelling{Name: l.Name, Ingredients: label.Ingredients(c.Parts, l.Name, k.Law), Lots: made.Lots, Made: made,
		Side: usualSide, Serving: serving(l, k), NotSo: label.NotChocolate(c.Parts, l.Name)}
	if k.Law != food.LawEU { // who emphasises in the list says nothing beside it (Art. 21(2))
		of.Contains = c.Declared
	}
	of.Pieces, of.Labels = 1, l.Count
	for _, p := range k.Treats[l.Treat].Formula.Packs {
		if p.Per > of.Pieces && !p.Making {
			of.Pieces = p.Per
		}
	}
	for _, b := range r.Boxes {
		if b.Line == line {
			of.Pieces, of.Side = min(b.Each, max(b.Takes, 1)), b.Room.Length*b.Room.Width/100
			break
		}
	}
	if pieces > 0 {
		of.Pieces = pieces
	}
	of.Labels = (l.Count + of.Pieces - 1) / of.Pieces
	of.Grams = c.PieceMass.Times(float64(of.Pieces))
	of.Net = label.Net(of.Grams, k.Law)
	of.UseBy = c.Kept.Where == treat.InFridge || c.Keeps <= 72
	switch c.Kept.Where {
	case treat.InFridge:
		of.Keep = reason.Of("label.keep-cold")
	case treat.InTin:
		of.Keep = reason.Of("label.keep-in-a-tin")
	default:
		of.Keep = reason.Of("label.keep-cool-and-dry")
	}
	if made.Day != "" {
		of.Until = larder.KeepsUntil(made.Day, c.Keeps)
		if c.Until != "" && c.Until < of.Until {
			of.Until = c.Until
		}
	}
	return of
}
