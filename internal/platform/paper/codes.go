package paper

import (
	"strings"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/code128"
	"github.com/boombuler/barcode/ean"
	"github.com/boombuler/barcode/qr"

	"zestytin/core/label"
	"zestytin/core/reason"
)

// Code is a kind of code for machines.
type Code string

const (
	QR  Code = "qr"  // any text, such as an address
	Lot Code = "lot" // the lot as Code 128 (ISO/IEC 15417)
	EAN Code = "ean" // an article's number, as a shop gives it
)

// SymbolOf a text. The error, a reason, says what cannot be a code.
func SymbolOf(kind Code, says string) (*label.Symbol, error) {
	says = strings.TrimSpace(says)
	s := &label.Symbol{Module: label.BarModule, Quiet: 10, High: label.BarHigh}
	var made barcode.Barcode
	var err error
	switch kind {
	case QR:
		s = &label.Symbol{Module: label.QRModule, Quiet: 4} // ISO/IEC 18004: four modules
		made, err = qr.Encode(says, qr.M, qr.Auto)
		if says == "" || err != nil {
			return nil, reason.Of("label.write-what-the-code-says")
		}
	case Lot:
		made, err = code128.Encode(says)
		if err != nil {
			return nil, reason.Of("label.no-lot-yet")
		}
	case EAN:
		s.Quiet = 11 // ISO/IEC 15420: eleven before it, and as many after
		made, err = ean.Encode(strings.ReplaceAll(says, " ", ""))
		if err != nil {
			return nil, reason.Of("label.not-an-article-number", reason.Name(says))
		}
	}
	at := made.Bounds()
	rows := at.Dy()
	if kind != QR {
		rows = 1
	}
	for y := range rows {
		row := make([]bool, at.Dx())
		for x := range row {
			r, _, _, _ := made.At(at.Min.X+x, at.Min.Y+y).RGBA()
			row[x] = r < 0x8000
		}
		s.Rows = append(s.Rows, row)
	}
	return s, nil
}
