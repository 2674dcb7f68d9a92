package paper

import (
	"bytes"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"unicode"

	"github.com/go-fonts/dejavu/dejavusans"
	"github.com/go-fonts/dejavu/dejavusansbold"
	"github.com/go-text/typesetting/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// installed are fonts of Debian's packages fonts-droid-fallback (Chinese, Japanese) and fonts-nanum (Korean), plain and
// bold: too large to carry along for the kitchens that never write these. Without them their letters are told as such
// that no font has.
var installed = []struct{ name, plain, bold string }{
	{"droid", "droid/DroidSansFallbackFull.ttf", "droid/DroidSansFallbackFull.ttf"},
	{"nanum", "nanum/NanumGothic.ttf", "nanum/NanumGothicBold.ttf"},
}

const installedIn = "/usr/share/fonts/truetype"

// typeface is a font in its two weights; one without a bold weight is the same in both.
type typeface struct {
	name  string // as a document knows it
	files [2][]byte
	plain *font.Font
	wide  [2][]float32      // em that each of the letters that a document can have takes; less than 0: it is not there
	runes map[font.GID]rune // of the glyphs of the plain weight that letters become where they are joined
}

const (
	letters    = 0x10000 // that a document can have
	joinedFrom = 0xFB50  // where the forms of Arabic letters begin that stand beside others
)

func newTypeface(name string, plain, bold []byte) (*typeface, error) {
	t := &typeface{name: name, files: [2][]byte{plain, bold}, runes: map[font.GID]rune{}}
	for i, text := range t.files {
		if i == 1 && &text[0] == &plain[0] {
			t.wide[1] = t.wide[0]
			break
		}
		face, err := font.ParseTTF(bytes.NewReader(text))
		if err != nil {
			return nil, err
		}
		t.wide[i] = slices.Repeat([]float32{-1}, letters)
		for all := face.Cmap.Iter(); all.Next(); {
			r, g := all.Char()
			if r < letters && g != 0 {
				t.wide[i][r] = face.HorizontalAdvance(g) / float32(face.Upem())
			}
			if _, there := t.runes[g]; i == 0 && (!there || r >= joinedFrom) { // the joined form, not the letter by itself
				t.runes[g] = r
			}
		}
		if i == 0 {
			t.plain = face.Font
		}
	}
	return t, nil
}

func (t *typeface) has(r rune) bool { return r < letters && t.wide[0][r] >= 0 && t.wide[1][r] >= 0 }

// advance of a letter in em.
func (t *typeface) advance(r rune, bold bool) float64 {
	wide := t.wide[0]
	if bold {
		wide = t.wide[1]
	}
	if r >= letters {
		return 0
	}
	return float64(max(wide[r], 0))
}

// Face measures the letters of the sheets, in shares of 1 em: each in the first of the fonts that has it. The zero value
// is not useful; Letters are what there is.
type Face struct {
	fonts             []*typeface        // that ship inside
	more              func() []*typeface // that are installed, read when the first letter is asked of them
	xHeight, ofFigure float64
}

// Letters are the Go fonts (Latin, Greek, Cyrillic), behind them DejaVu (the rest of Latin, Hebrew, Arabic, Armenian,
// Georgian, signs), and what is installed of others.
var Letters = sync.OnceValue(func() *Face {
	f := &Face{}
	for _, of := range []struct {
		name        string
		plain, bold []byte
	}{{"go", goregular.TTF, gobold.TTF}, {"dejavu", dejavusans.TTF, dejavusansbold.TTF}} {
		t, err := newTypeface(of.name, of.plain, of.bold)
		if err != nil {
			panic(err) // a font that ships inside
		}
		f.fonts = append(f.fonts, t)
	}
	f.more = sync.OnceValue(func() (list []*typeface) {
		for _, of := range installed {
			plain, err := os.ReadFile(filepath.Join(installedIn, of.plain))
			bold := plain
			if err == nil && of.bold != of.plain {
				bold, err = os.ReadFile(filepath.Join(installedIn, of.bold))
			}
			if err != nil {
				continue // it is not there
			}
			if t, err := newTypeface(of.name, plain, bold); err == nil { // one that cannot be read is as good as none
				list = append(list, t)
			}
		}
		return list
	})
	f.xHeight, f.ofFigure = f.high('x'), f.high('0')
	return f
})

// high is how far a letter of the first font stands above the baseline.
func (f *Face) high(r rune) float64 {
	of := font.NewFace(f.fonts[0].plain)
	g, _ := of.NominalGlyph(r)
	extents, _ := of.GlyphExtents(g)
	return float64(extents.YBearing) / float64(of.Upem())
}

// of is the first font that has a letter; nil where none does.
func (f *Face) of(r rune) *typeface {
	for _, t := range f.fonts {
		if t.has(r) {
			return t
		}
	}
	if unicode.IsSpace(r) || unicode.IsControl(r) {
		return nil
	}
	for _, t := range f.more() {
		if t.has(r) {
			return t
		}
	}
	return nil
}

// Width of a text in em, as it is written.
func (f *Face) Width(text string, bold bool) float64 {
	sum := 0.0
	for _, s := range f.spans(text) {
		for _, r := range s.text {
			sum += s.in.advance(r, bold)
		}
	}
	return sum
}

// XHeight is the height of a small letter in em.
func (f *Face) XHeight() float64 { return f.xHeight }

// FigureHeight is the height of a figure in em.
func (f *Face) FigureHeight() float64 { return f.ofFigure }

// Lacks is the first letter of a text that no font has; 0 where all are there.
func (f *Face) Lacks(text string) rune {
	for _, r := range composed(text) {
		if f.of(r) == nil && !unicode.IsSpace(r) && !unicode.Is(unicode.Cf, r) {
			return r
		}
	}
	return 0
}
