package paper

import (
	"sync"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/image/math/fixed"
)

// Face measures the letters of the sheets, in shares of 1 em.
type Face struct {
	plain, bold       *sfnt.Font
	xHeight, ofFigure float64
}

// Letters are the Go fonts, which ship inside the program: Latin, Greek and Cyrillic.
var Letters = sync.OnceValue(func() *Face {
	read := func(text []byte) *sfnt.Font {
		f, err := sfnt.Parse(text)
		if err != nil {
			panic(err) // a font that ships inside
		}
		return f
	}
	f := &Face{plain: read(goregular.TTF), bold: read(gobold.TTF)}
	f.xHeight, f.ofFigure = f.high('x'), f.high('0')
	return f
})

// fine is the size at which letters are measured, so that rounding does not matter.
const fine = 4096

// high is how far a letter stands above the baseline.
func (f *Face) high(r rune) float64 {
	var b sfnt.Buffer
	n, err := f.plain.GlyphIndex(&b, r)
	if err != nil {
		panic(err)
	}
	bounds, _, err := f.plain.GlyphBounds(&b, n, fixed.I(fine), font.HintingNone)
	if err != nil {
		panic(err)
	}
	return float64(-bounds.Min.Y) / 64 / fine
}

// Width of a text in em. What the font lacks is as wide as what is printed in its place.
func (f *Face) Width(text string, bold bool) float64 {
	of := f.plain
	if bold {
		of = f.bold
	}
	var b sfnt.Buffer
	sum := 0.0
	for _, r := range text {
		n, err := of.GlyphIndex(&b, r)
		if err != nil {
			continue
		}
		wide, err := of.GlyphAdvance(&b, n, fixed.I(fine), font.HintingNone)
		if err == nil {
			sum += float64(wide) / 64 / fine
		}
	}
	return sum
}

// XHeight is the height of a small letter in em.
func (f *Face) XHeight() float64 { return f.xHeight }

// FigureHeight is the height of a figure in em.
func (f *Face) FigureHeight() float64 { return f.ofFigure }

// Lacks is the first letter of a text that the font does not have; 0 where all are there.
func (f *Face) Lacks(text string) rune {
	var b sfnt.Buffer
	for _, r := range text {
		if r == ' ' || r == '\u00a0' {
			continue
		}
		if n, err := f.plain.GlyphIndex(&b, r); err != nil || n == 0 {
			return r
		}
	}
	return 0
}
