package paper

import (
	"slices"
	"strings"
	"unicode"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
	"golang.org/x/text/unicode/bidi"
	"golang.org/x/text/unicode/norm"
)

// This file puts a text into the order in which its letters stand on paper, from left to right: what is written from the
// right is turned round (Unicode Standard Annex 9), Arabic letters take the forms in which they are joined, and each
// letter is in a font that has it.

// span of a text that stands in one font.
type span struct {
	in   *typeface
	text string
}

// unknown stands where no font has a letter.
const unknown = "?"

// composed text: letters and their accents are one where Unicode has them as one, and spaces that do not break on a
// screen are ordinary ones on paper.
func composed(text string) string { return norm.NFC.String(Plain(text)) }

// spans of a text as it is written, from the left.
func (f *Face) spans(text string) []span {
	text = composed(text)
	if !strings.ContainsFunc(text, fromTheRight) {
		return f.inFonts(nil, text)
	}
	var p bidi.Paragraph
	if _, err := p.SetString(text); err != nil {
		return f.inFonts(nil, text)
	}
	order, err := p.Order()
	if err != nil {
		return f.inFonts(nil, text)
	}
	runs := make([]bidi.Run, order.NumRuns())
	for i := range runs {
		runs[i] = order.Run(i)
	}
	if !p.IsLeftToRight() {
		slices.Reverse(runs)
	}
	var list []span
	for _, r := range runs {
		if r.Direction() == bidi.RightToLeft {
			parts := f.inFonts(nil, r.String())
			slices.Reverse(parts)
			behind := 0
			for i, part := range parts {
				text := part.in.joined(part.text)
				if i == 0 && p.IsLeftToRight() { // spaces before what is written from the left again stand before it, not first
					behind += len(text) - len(strings.TrimLeft(text, " "))
					text = strings.TrimLeft(text, " ")
				}
				list = append(list, span{part.in, text})
			}
			if behind > 0 {
				list = append(list, span{f.fonts[0], strings.Repeat(" ", behind)})
			}
		} else {
			list = f.inFonts(list, r.String())
		}
	}
	return list
}

// fromTheRight tells whether a letter is written from right to left.
func fromTheRight(r rune) bool {
	if r < 0x0590 {
		return false
	}
	p, _ := bidi.LookupRune(r)
	return p.Class() == bidi.R || p.Class() == bidi.AL
}

// inFonts adds a text in the order of its letters, parted where the font changes. A space stays in the font before it.
func (f *Face) inFonts(list []span, text string) []span {
	var now strings.Builder
	var in *typeface
	end := func() {
		if now.Len() > 0 {
			list = append(list, span{in, now.String()})
			now.Reset()
		}
	}
	for _, r := range text {
		if unicode.Is(unicode.Cf, r) { // marks of direction and the like have no form of their own
			continue
		}
		of, letter := f.of(r), string(r)
		if in != nil && unicode.IsSpace(r) {
			of, letter = in, " "
		}
		if of == nil {
			of, letter = f.fonts[0], unknown
		}
		if of != in {
			end()
			in = of
		}
		now.WriteString(letter)
	}
	end()
	return list
}

// joined letters of a text that is written from the right, as they stand from the left. Letters whose joined form has
// no place of its own in the font stay as they are by themselves.
func (t *typeface) joined(text string) string {
	of := []rune(text)
	script := language.Hebrew
	if slices.ContainsFunc(of, func(r rune) bool { return unicode.Is(unicode.Arabic, r) }) {
		script = language.Arabic
	}
	var shaper shaping.HarfbuzzShaper
	out := shaper.Shape(shaping.Input{Text: of, RunEnd: len(of), Direction: di.DirectionRTL,
		Face: font.NewFace(t.plain), Size: fixed.I(100), Script: script})
	var b strings.Builder
	for _, g := range out.Glyphs {
		if r, known := t.runes[g.GlyphID]; known {
			b.WriteRune(r)
		} else {
			b.WriteString(string(of[g.ClusterIndex]))
		}
	}
	return b.String()
}
