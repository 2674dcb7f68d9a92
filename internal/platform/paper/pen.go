package paper

import (
	"slices"
	"strings"

	"github.com/go-pdf/fpdf"
)

// pen writes into a document with the fonts of Letters; each goes into the document with its first letter.
type pen struct {
	to      *fpdf.Fpdf
	has     map[string]bool
	style   string
	lacking []rune // that no font has, and "?" stands for
}

func newPen(to *fpdf.Fpdf) *pen { return &pen{to: to, has: map[string]bool{}} }

// use a font at the size that is set.
func (p *pen) use(t *typeface, style string) {
	weight := 0
	if style == "B" {
		weight = 1
	}
	if key := t.name + style; !p.has[key] {
		p.has[key] = true
		p.to.AddUTF8FontFromBytes(t.name, style, t.files[weight])
	}
	p.to.SetFont(t.name, style, 0)
}

// set the weight and the size, in points, of what is written from now on.
func (p *pen) set(style string, points float64) {
	p.style = style
	p.use(Letters().fonts[0], style)
	p.to.SetFontSize(points)
}

// put a text with its left end and its baseline at a place.
func (p *pen) put(x, y float64, text string) {
	for _, s := range Letters().spans(text) {
		p.use(s.in, p.style)
		p.to.Text(x, y, s.text)
		x += p.to.GetStringWidth(s.text)
	}
}

// wide is how many mm a text takes.
func (p *pen) wide(text string) float64 {
	_, mm := p.to.GetFontSize()
	return Letters().Width(text, p.style == "B") * mm
}

// lines of a text in a width: parted between words, and within one that is longer than a line, or has no spaces as
// Chinese and Japanese have none.
func (p *pen) lines(text string, width float64) []string {
	var list []string
	for _, paragraph := range strings.Split(Plain(text), "\n") {
		line, taken := "", 0.0
		for _, word := range strings.SplitAfter(paragraph, " ") {
			w := p.wide(word)
			if taken+p.wide(strings.TrimRight(word, " ")) > width && line != "" {
				list, line, taken = append(list, line), "", 0
			}
			for w > width && strings.TrimSpace(word) != "" {
				letters := []rune(word)
				n := 1
				for n < len(letters) && p.wide(string(letters[:n+1])) <= width {
					n++
				}
				if n == len(letters) {
					break
				}
				list, word = append(list, string(letters[:n])), string(letters[n:])
				w = p.wide(word)
			}
			line, taken = line+word, taken+w
		}
		list = append(list, line)
	}
	for i := range list {
		list[i] = strings.TrimRight(list[i], " ")
	}
	return list
}

// cell of one line from where the document stands, which then stands behind it.
func (p *pen) cell(width, height float64, line, align string) {
	x, margin := p.to.GetX(), p.to.GetCellMargin()
	p.note(line)
	if width == 0 {
		page, _ := p.to.GetPageSize()
		_, _, right, _ := p.to.GetMargins()
		width = page - right - x
	}
	at := x + margin
	switch w := p.wide(line); align {
	case "R":
		at = x + width - margin - w
	case "C":
		at = x + (width-w)/2
	}
	p.to.SetCellMargin(0)
	for _, s := range Letters().spans(line) {
		p.use(s.in, p.style)
		p.to.SetX(at)
		w := p.to.GetStringWidth(s.text)
		p.to.CellFormat(w, height, s.text, "", 0, "L", false, 0, "")
		at += w
	}
	p.to.SetCellMargin(margin)
	p.use(Letters().fonts[0], p.style)
	p.to.SetX(x + width)
}

// note what no font has.
func (p *pen) note(text string) {
	for _, r := range composed(text) {
		if l := Letters().Lacks(string(r)); l != 0 && !slices.Contains(p.lacking, l) {
			p.lacking = append(p.lacking, l)
		}
	}
}
