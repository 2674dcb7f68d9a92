package paper

import (
	"bytes"
	"fmt"

	"github.com/go-pdf/fpdf"

	"zestytin/core/label"
)

const pointsPerMM = 72 / 25.4

// page of labels, of its own size, on which nothing is moved or scaled.
func labelPage(title string, width, height float64) (*fpdf.Fpdf, *pen) {
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "mm", Size: fpdf.SizeType{Wd: width, Ht: height}})
	f.SetMargins(0, 0, 0)
	f.SetAutoPageBreak(false, 0)
	f.SetTitle(title, true)
	f.SetCreator("Zesty Tin", true)
	return f, newPen(f)
}

// Tags, at each place one of its own.
func Tags(title string, width, height float64, places []label.Place, tags []*label.Fitted) ([]byte, error) {
	f, pen := labelPage(title, width, height)
	page := -1
	for n, p := range places {
		for ; page < p.Page; page++ {
			f.AddPageFormat("P", fpdf.SizeType{Wd: width, Ht: height})
		}
		for _, r := range tags[n].Runs {
			style := ""
			if r.Bold {
				style = "B"
			}
			pen.set(style, r.Size*pointsPerMM)
			pen.put(p.X+r.X, p.Y+r.Y, r.Text)
		}
		for _, m := range tags[n].Marks {
			f.Rect(p.X+m.X, p.Y+m.Y, m.Wide, m.High, "F")
		}
	}
	return written(f)
}

// Outlines of the labels of a sheet, and a ruler, to hold against it.
func Outlines(says string, width, height, long, high float64, places []label.Place) ([]byte, error) {
	f, pen := labelPage(says, width, height)
	f.AddPageFormat("P", fpdf.SizeType{Wd: width, Ht: height})
	f.SetLineWidth(0.15)
	for n, p := range places {
		f.Rect(p.X, p.Y, long, high, "D")
		x, y := p.X+long/2, p.Y+high/2
		f.Line(x-3, y, x+3, y)
		f.Line(x, y-3, x, y+3)
		pen.set("", 7)
		pen.put(p.X+2, p.Y+4, fmt.Sprint(n+1))
	}
	ruler := min(width-10, 100)
	for at := 0.0; at <= ruler; at++ {
		tick := 1.5
		if int(at)%10 == 0 {
			tick = 3
		}
		f.Line(5+at, 5, 5+at, 5+tick)
	}
	f.Line(5, 5, 5+ruler, 5)
	pen.set("", 7)
	pen.put(6, 11, says)
	return written(f)
}

func written(f *fpdf.Fpdf) ([]byte, error) {
	var out bytes.Buffer
	err := f.Output(&out)
	return out.Bytes(), err
}
