// Package paper lays out printed pages: a title, and parts with their name on the left and their lines beside it.
package paper

import (
	"bytes"
	"strings"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// Sheet is a page in the making: A4 and letter both hold its width.
type Sheet struct{ *fpdf.Fpdf }

// Sizes of a page, mm.
const (
	Margin   = 16
	Width    = 210 - 2*Margin
	Labelled = 26 // where the text of a part begins
	Line     = 5.2
)

// New sheet with its title and a line below it. Letters are the Go fonts, which ship inside the program.
func New(title, below string) Sheet {
	s := Sheet{fpdf.New("P", "mm", "A4", "")}
	s.AddUTF8FontFromBytes("go", "", goregular.TTF)
	s.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	s.SetMargins(Margin, Margin, Margin)
	s.SetAutoPageBreak(true, Margin)
	s.SetTitle(title, true)
	s.SetCreator("Zesty Tin", true)
	s.AddPage()
	s.SetFont("go", "B", 19)
	s.MultiCell(0, 9, title, "", "L", false)
	s.SetFont("go", "", 11)
	s.MultiCell(0, Line, Plain(below), "", "L", false)
	s.Ln(2)
	return s
}

// Plain text: the spaces that do not break on a screen are ordinary ones on paper.
func Plain(text string) string { return strings.ReplaceAll(text, "\u00a0", " ") }

// Room begins a new page where so many mm do not fit on this one any more.
func (s Sheet) Room(height float64) {
	if s.GetY()+height > 297-Margin && s.GetY() > 2*Margin {
		s.AddPage()
	}
}

// Lines that a text takes in a width, in the font that is set.
func (s Sheet) Lines(text string, width float64) float64 {
	return float64(max(len(s.SplitText(Plain(text), width-2*s.GetCellMargin())), 1))
}

// PartHeight is what Part takes.
func (s Sheet) PartHeight(lines ...string) float64 {
	s.SetFont("go", "", 10)
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
	s.SetFont("go", "B", 10)
	s.CellFormat(Labelled, Line, name, "", 0, "L", false, 0, "")
	s.SetFont("go", "", 10)
	for _, text := range lines {
		s.SetX(Margin + Labelled)
		s.MultiCell(Width-Labelled, Line, Plain(text), "", "L", false)
	}
	if len(lines) == 0 {
		s.Ln(Line)
	}
}

// Bytes of the PDF.
func (s Sheet) Bytes() ([]byte, error) {
	var out bytes.Buffer
	err := s.Output(&out)
	return out.Bytes(), err
}
