// Package paper lays out printed pages: a title, and parts with their name on the left and their lines beside it.
package paper

import (
	"bytes"
	"fmt"
	"strings"

	"github.com/go-pdf/fpdf"
)

// Sheet is a page in the making: A4 and letter both hold its width.
type Sheet struct {
	*fpdf.Fpdf
	pen *pen
}

// Sizes of a page, mm.
const (
	Margin   = 16
	Width    = 210 - 2*Margin
	Labelled = 26 // where the text of a part begins
	Line     = 5.2
)

// The box of a logo at the top right of a page, mm.
const (
	logoWidth  = 42
	logoHeight = 21
)

// New sheet with its title and a line below it.
func New(title, below string) Sheet { return Headed(title, below, nil) }

// Headed is New with a logo, a PNG, where there is one.
func Headed(title, below string, logo []byte) Sheet {
	f := fpdf.New("P", "mm", "A4", "")
	s := Sheet{f, newPen(f)}
	s.SetMargins(Margin, Margin, Margin)
	s.SetAutoPageBreak(true, Margin)
	s.SetTitle(title, true)
	s.SetCreator("Zesty Tin", true)
	s.AddPage()
	beside := 0.0 // what the title has of the width
	if logo != nil {
		s.logo(logo)
		beside = Width - logoWidth - 4
	}
	s.Set("B", 19)
	s.Paragraph(beside, 9, title)
	s.Set("", 11)
	s.Paragraph(beside, Line, below)
	s.Ln(2)
	if logo != nil {
		s.SetY(max(s.GetY(), Margin+logoHeight+2))
	}
	return s
}

// logo at the top right, as large as its box takes it.
func (s Sheet) logo(png []byte) {
	options := fpdf.ImageOptions{ImageType: "PNG"}
	info := s.RegisterImageOptionsReader("logo", options, bytes.NewReader(png))
	if info == nil { // the error is the page's
		return
	}
	scale := min(logoWidth/info.Width(), logoHeight/info.Height())
	w, h := info.Width()*scale, info.Height()*scale
	s.ImageOptions("logo", Margin+Width-w, Margin, w, h, false, options, 0, "")
}

// Plain text: the spaces that do not break on a screen are ordinary ones on paper.
func Plain(text string) string { return strings.ReplaceAll(text, "\u00a0", " ") }

// Room begins a new page where so many mm do not fit on this one any more.
func (s Sheet) Room(height float64) {
	if s.GetY()+height > 297-Margin && s.GetY() > 2*Margin {
		s.AddPage()
	}
}

// Set the weight ("B" or "") and the size, in points, of what is written from now on.
func (s Sheet) Set(style string, points float64) { s.pen.set(style, points) }

// Paragraph writes a text in lines of a width, as high as each line is, from where the sheet stands; 0: up to the margin.
func (s Sheet) Paragraph(width, height float64, text string) {
	x := s.GetX()
	if width == 0 {
		width = Margin + Width - x
	}
	for _, line := range s.pen.lines(text, width-2*s.GetCellMargin()) {
		s.SetX(x)
		s.pen.cell(width, height, line, "L")
		s.Ln(height)
	}
}

// Beside writes one line, behind which the sheet stands; align is L, C or R.
func (s Sheet) Beside(width, height float64, text, align string) {
	s.pen.cell(width, height, text, align)
}

// Lines that a text takes in a width, in the font that is set.
func (s Sheet) Lines(text string, width float64) float64 {
	return float64(max(len(s.pen.lines(text, width-2*s.GetCellMargin())), 1))
}

// PartHeight is what Part takes.
func (s Sheet) PartHeight(lines ...string) float64 {
	s.Set("", 10)
	n := 0.0
	for _, text := range lines {
		n += s.Lines(text, Width-Labelled)
	}
	return 2.5 + max(n, 1)*Line
}

// Rule draws a thin line across.
func (s Sheet) Rule() {
	s.SetDrawColor(200, 190, 175)
	s.Fpdf.Line(Margin, s.GetY()+1, Margin+Width, s.GetY()+1)
	s.Ln(2.5)
}

// Part has its name on the left and its lines beside it.
func (s Sheet) Part(name string, lines ...string) {
	s.Rule()
	s.Set("B", 10)
	s.Beside(Labelled, Line, name, "L")
	s.Set("", 10)
	for _, text := range lines {
		s.SetX(Margin + Labelled)
		s.Paragraph(Width-Labelled, Line, text)
	}
	if len(lines) == 0 {
		s.Ln(Line)
	}
}

// Bytes of the PDF. says tells of letters that no font has, by their numbers in Unicode: "?" stands in their place.
func (s Sheet) Bytes(says func(lacking string) string) ([]byte, error) {
	if len(s.pen.lacking) > 0 {
		numbers := make([]string, len(s.pen.lacking))
		for i, r := range s.pen.lacking {
			numbers[i] = fmt.Sprintf("%U", r)
		}
		text := says(strings.Join(numbers, ", "))
		s.Room(s.PartHeight(text))
		s.Rule()
		s.Set("", 8)
		s.Paragraph(0, Line, text)
	}
	var out bytes.Buffer
	err := s.Output(&out)
	return out.Bytes(), err
}
