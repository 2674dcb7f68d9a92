package label

import (
	"zestytin/core/reason"
)

// Symbol is a code for machines as dark and light modules, to be printed on a label.
type Symbol struct {
	Rows   [][]bool // dark modules; a barcode has one row
	Module float64  // mm, the side or the width of a module
	Quiet  int      // modules that stay light around it, beside it where it is a barcode
	High   float64  // mm, of a barcode
}

// Sizes of codes, in mm: 0.33 is the nominal width of a module of EAN-13 (ISO/IEC 15420; memory) and is read by all
// that read labels; a telephone reads a QR code of half a millimetre a module from a hand's breadth away (CP).
const (
	BarModule = 0.33
	BarHigh   = 11.0
	QRModule  = 0.5
)

// Mark is a dark rectangle of a label, in mm from its corner.
type Mark struct {
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	Wide float64 `json:"wide"`
	High float64 `json:"high"`
}

// size with its quiet zone.
func (s *Symbol) size() (wide, high float64) {
	wide = float64(len(s.Rows[0])+2*s.Quiet) * s.Module
	if len(s.Rows) == 1 {
		return wide, s.High
	}
	return wide, float64(len(s.Rows)+2*s.Quiet) * s.Module
}

// FitWith fits paragraphs as Fit does, above a symbol in the lower right corner; nil: there is none.
func FitWith(paragraphs []Paragraph, width, height float64, least Least, face Face, symbol *Symbol) (*Fitted, error) {
	if symbol == nil {
		return Fit(paragraphs, width, height, least, face)
	}
	wide, high := symbol.size()
	if wide > width-edge || high > height-2*edge {
		return nil, reason.Of("label.code-does-not-fit", Millimetres(wide), Millimetres(high+edge))
	}
	f, err := Fit(paragraphs, width, height-high, least, face)
	if err != nil {
		return nil, err
	}
	f.Height = height
	f.Marks = symbol.marks(width-wide, height-edge-high)
	return f, nil
}

// marks of a symbol whose quiet zone begins at a corner: neighbours in a row are one.
func (s *Symbol) marks(x, y float64) []Mark {
	var list []Mark
	x += float64(s.Quiet) * s.Module
	high := s.Module
	if len(s.Rows) == 1 {
		high = s.High
	} else {
		y += float64(s.Quiet) * s.Module
	}
	for r, row := range s.Rows {
		for from := 0; from < len(row); from++ {
			if !row[from] {
				continue
			}
			to := from
			for to < len(row) && row[to] {
				to++
			}
			list = append(list, Mark{x + float64(from)*s.Module, y + float64(r)*high, float64(to-from) * s.Module, high})
			from = to
		}
	}
	return list
}
