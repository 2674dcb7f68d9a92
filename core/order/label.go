package order

import (
	"slices"
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
	Side        float64     // cm2, of the largest side of its package
	Pieces      int         // that one label is for
	Labels      int         // that the line takes
	Made        Made        // when
	NotSo       []string    // ingredients that must not be called chocolate
	Parts       []LabelPart // of a box in which several lines lie; its ingredients are those of its parts
}

// LabelPart is what of a line lies in a mixed box.
type LabelPart struct {
	Name        string
	Pieces      int
	Ingredients []label.Span
}

// usualSide of a package of which no measure is known, in cm2: larger than what the EU calls small, so that nothing is
// printed smaller than it may be.
const usualSide = 100

// Label of a line: for so many pieces, or where that is 0 for what its box or bag holds. It takes labels for what does
// not lie in mixed boxes: those have their own.
func (r *Estimate) Label(d *Draft, line, pieces int, made Made, k *Inputs) Labelling {
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
	of.Labels = (max(l.Count-d.inSets(line), 0) + of.Pieces - 1) / of.Pieces
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

// coldest first: what lies together is kept as the most delicate of it.
var coldest = []string{"label.keep-cold", "label.keep-cool-and-dry", "label.keep-in-a-tin"}

// SetLabel is the label of a box in which several lines lie: each with its own ingredients, together with the day of
// what spoils first. It has no day while one of them has none.
func (r *Estimate) SetLabel(d *Draft, set int, made map[int]Made, k *Inputs) Labelling {
	s := &d.Sets[set]
	of := Labelling{Side: usualSide, Labels: s.Boxes, Made: Made{Done: true}}
	for n := range r.Sets {
		if b := &r.Sets[n]; b.Set == set {
			of.Side = b.Room.Length * b.Room.Width / 100
		}
	}
	dated := true
	for i := range r.Lines {
		pieces := s.of(i)
		if pieces == 0 {
			continue
		}
		l := r.Label(d, i, pieces, made[i], k)
		of.Parts = append(of.Parts, LabelPart{l.Name, pieces, l.Ingredients})
		of.Contains, of.Serving = union(of.Contains, l.Contains), append(of.Serving, l.Serving...)
		of.Lots, of.NotSo = treat.Union(of.Lots, l.Lots), treat.Union(of.NotSo, l.NotSo)
		of.Grams, of.Pieces = of.Grams+l.Grams, of.Pieces+pieces
		of.UseBy = of.UseBy || l.UseBy
		if of.Keep.None() || slices.Index(coldest, l.Keep.Code) < slices.Index(coldest, of.Keep.Code) {
			of.Keep = l.Keep
		}
		if dated = dated && l.Until != ""; of.Until == "" || l.Until < of.Until {
			of.Until = l.Until
		}
		if of.Made.Done = of.Made.Done && l.Made.Done; of.Made.Day == "" || l.Made.Day != "" && l.Made.Day < of.Made.Day {
			of.Made.Day = l.Made.Day
		}
	}
	if !dated {
		of.Until = ""
	}
	of.Net = label.Net(of.Grams, k.Law)
	return of
}

func union(a, b []reason.Word) []reason.Word {
	for _, w := range b {
		if !slices.Contains(a, w) {
			a = append(a, w)
		}
	}
	return a
}
