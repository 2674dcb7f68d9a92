package label

import (
	"math"
	"strings"

	"zestytin/core/food"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Role of a paragraph on a label.
type Role string

const (
	Title  Role = "title"  // the name of the food, larger and emphasised
	Text   Role = "text"   // what must be read: ingredients, allergens, date, keeping, lot, maker
	Weight Role = "weight" // the net weight, whose figures have a height of their own
)

// Paragraph of a label in its final words.
type Paragraph struct {
	Role  Role
	Spans []Span
}

// Face is a font as a label needs it: how wide a text is, and how high its small letters and its figures are, all in
// mm for letters of 1 mm from line to line of the font's own measure (1 em).
type Face interface {
	Width(text string, bold bool) float64
	XHeight() float64
	FigureHeight() float64
	// Lacks is the first letter of a text that no font has; 0 where all are there.
	Lacks(text string) rune
}

// Least heights of letters in mm that a law allows on a label.
type Least struct {
	Letter float64 // of small letters
	Figure float64 // of the figures of the net weight
}

// LeastOf a law, for a package whose largest side, and whose main panel, has so many cm2, and that holds so many g.
//
// The EU: an x-height of 1.2 mm, 0.9 where the largest side has less than 80 cm2 (Regulation 1169/2011, Art. 13(2) and
// (3), Annex IV); figures of the net quantity of 2 mm up to 50 g, 3 up to 200, 4 up to 1000 and 6 beyond (76/211/EEC,
// Annex I, 3.1). The US: letters of 1/16 in (21 CFR 101.2(c)); of the net contents 1/16 in on a panel of up to 5 in2,
// 1/8 up to 25, 3/16 up to 100, 1/4 up to 400, 1/2 beyond (21 CFR 101.7(i)).
func LeastOf(law food.Law, side float64, grams si.Grams) Least {
	const inch = 25.4
	if law == food.LawUS {
		l := Least{Letter: inch / 16, Figure: inch / 2}
		for _, of := range []struct{ area, height float64 }{{5, inch / 16}, {25, inch / 8}, {100, 3 * inch / 16},
			{400, inch / 4}} {
			if side/(inch/10*inch/10) <= of.area {
				l.Figure = of.height
				break
			}
		}
		return l
	}
	l := Least{Letter: 1.2, Figure: 6}
	if side < 80 {
		l.Letter = 0.9
	}
	for _, of := range []struct {
		upTo   si.Grams
		height float64
	}{{50, 2}, {200, 3}, {1000, 4}} {
		if grams <= of.upTo {
			l.Figure = of.height
			break
		}
	}
	return l
}

// Run is a piece of text where it stands: its left end and its baseline, in mm from the label's corner.
type Run struct {
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Size  float64 `json:"size"`  // mm, 1 em
	Width float64 `json:"width"` // mm
	Text  string  `json:"text"`
	Bold  bool    `json:"bold,omitempty"`
}

// Fitted is a label as it is printed.
type Fitted struct {
	Width  float64 `json:"width"`  // mm
	Height float64 `json:"height"` // mm
	Runs   []Run   `json:"runs"`
	Letter float64 `json:"letter"`          // mm, the height of its smallest small letters
	Figure float64 `json:"figure"`          // mm, the height of the figures of the net weight
	Marks  []Mark  `json:"marks,omitempty"` // of a code for machines
}

// What a label looks like, in shares of the size of its text.
const (
	edge     = 2.0  // mm that stay free all around
	leading  = 1.12 // from line to line
	between  = 0.25 // between paragraphs
	title    = 1.3  // the name of the food
	largest  = 3.2  // mm, the text where there is room for it
	fineness = 0.99 // by which it is made smaller, again and again
)

// Fit paragraphs on a label of so many mm, with letters as large as there is room for, and never smaller than the law
// allows; the error, a reason, says that they do not fit, or what cannot be printed.
func Fit(paragraphs []Paragraph, width, height float64, least Least, face Face) (*Fitted, error) {
	if !(width > 2*edge+1) || !(height > 2*edge+1) {
		return nil, reason.Of("label.too-small", Millimetres(width), Millimetres(height))
	}
	for _, p := range paragraphs {
		for _, s := range p.Spans {
			if r := face.Lacks(s.Text); r != 0 {
				return nil, reason.Of("label.letter-that-no-font-has", reason.Name(string(r)), reason.Name(s.Text))
			}
		}
	}
	smallest := least.Letter / face.XHeight()
	for size := max(largest, smallest); ; size = max(size*fineness, smallest) {
		f := &Fitted{Width: width, Height: height, Letter: size * face.XHeight()}
		bottom, longest := f.lay(paragraphs, size, least, face)
		if bottom <= height-edge+1e-9 && longest <= width-2*edge+1e-9 {
			return f, nil
		}
		if size <= smallest {
			if longest > width-2*edge {
				return nil, reason.Of("label.word-wider-than-label", Millimetres(longest), Millimetres(width-2*edge))
			}
			return nil, reason.Of("label.does-not-fit", Millimetres(bottom+edge), Millimetres(height), Millimetres(least.Letter))
		}
	}
}

// Millimetres as they are read, to a tenth.
func Millimetres(x float64) measure.Shown {
	return measure.Show(measure.Of(math.Round(x*10)/10, measure.Millimetre), measure.Substance{})
}

// lay the paragraphs down, with a text of a size, and tell how far down they come and how wide the widest word is.
func (f *Fitted) lay(paragraphs []Paragraph, size float64, least Least, face Face) (bottom, longest float64) {
	y := edge
	for n, p := range paragraphs {
		em := size
		switch p.Role {
		case Title:
			em *= title
		case Weight:
			em = max(em, least.Figure/face.FigureHeight())
			f.Figure = em * face.FigureHeight()
		}
		if n > 0 {
			y += between * size
		}
		for _, line := range wrap(p.Spans, f.Width-2*edge, em, face) {
			y += em * leading
			x := edge
			for _, s := range line {
				w := face.Width(s.Text, s.Bold) * em
				f.Runs = append(f.Runs, Run{X: x, Y: y - em*(leading-1), Size: em, Width: w,
					Text: strings.ReplaceAll(s.Text, gap, " "), Bold: s.Bold})
				x += w
			}
			longest = max(longest, x-edge)
		}
	}
	return y, longest
}

// wrap spans into lines of a width, at spaces that break.
func wrap(spans []Span, width, em float64, face Face) [][]Span {
	type word struct{ parts []Span } // with the space before it
	var all []word
	for _, s := range spans {
		from := 0
		for i, r := range s.Text {
			if r == ' ' && i > from {
				all = append(all, word{[]Span{{s.Text[from:i], s.Bold}}})
				from = i
			}
		}
		all = append(all, word{[]Span{{s.Text[from:], s.Bold}}})
	}
	// What no space parts is one word, though it may be emphasised in part.
	var joined []word
	for _, w := range all {
		if n := len(joined) - 1; n >= 0 && !strings.HasPrefix(w.parts[0].Text, " ") && w.parts[0].Text != "" {
			joined[n].parts = append(joined[n].parts, w.parts...)
		} else if w.parts[0].Text != "" {
			joined = append(joined, w)
		}
	}
	var lines [][]Span
	var line []Span
	used := 0.0
	for _, w := range joined {
		wide := 0.0
		for _, s := range w.parts {
			wide += face.Width(s.Text, s.Bold) * em
		}
		if len(line) > 0 && used+wide > width+1e-9 {
			lines, line, used = append(lines, line), nil, 0
		}
		for i, s := range w.parts {
			if len(line) == 0 && i == 0 {
				s.Text = strings.TrimLeft(s.Text, " ")
			}
			used += face.Width(s.Text, s.Bold) * em
			if n := len(line) - 1; n >= 0 && line[n].Bold == s.Bold {
				line[n].Text += s.Text
			} else if s.Text != "" {
				line = append(line, s)
			}
		}
	}
	if len(line) > 0 {
		lines = append(lines, line)
	}
	return lines
}
