package label

import (
	"zestytin/core/invalid"
	"zestytin/core/reason"
)

// Sheet is a page of labels, or one of a roll, which is a page of its own. All in mm.
type Sheet struct {
	ID      string  `json:"id,omitempty"`
	Page    string  `json:"page,omitempty"` // what it is called: A4, Letter; empty of a roll
	Width   float64 `json:"width"`          // of the page
	Height  float64 `json:"height"`
	Columns int     `json:"columns"`
	Rows    int     `json:"rows"`
	Left    float64 `json:"left"` // to the first label
	Top     float64 `json:"top"`
	Long    float64 `json:"long"` // of a label, along the page's width
	High    float64 `json:"high"`
	PitchX  float64 `json:"pitchX"` // from one to the next
	PitchY  float64 `json:"pitchY"`
}

// Sheets that are common, by their measures (memory): the maker of a sheet prints its own on the pack.
func Sheets() []Sheet {
	a4 := func(id string, columns, rows int, left, top, long, high, pitchX, pitchY float64) Sheet {
		return Sheet{id, "A4", 210, 297, columns, rows, left, top, long, high, pitchX, pitchY}
	}
	letter := func(id string, columns, rows int, left, top, long, high, pitchX, pitchY float64) Sheet {
		return Sheet{id, "Letter", 215.9, 279.4, columns, rows, left, top, long, high, pitchX, pitchY}
	}
	roll := func(id string, long, high float64) Sheet {
		return Sheet{id, "", long, high, 1, 1, 0, 0, long, high, long, high}
	}
	return []Sheet{
		a4("a4-21", 3, 7, 7.25, 15.15, 63.5, 38.1, 66.04, 38.1), a4("a4-14", 2, 7, 4.65, 15.15, 99.1, 38.1, 101.6, 38.1),
		a4("a4-8", 2, 4, 4.65, 13.1, 99.1, 67.7, 101.6, 67.7), a4("a4-24", 3, 8, 0, 0.5, 70, 37, 70, 37),
		letter("letter-30", 3, 10, 4.8, 12.7, 66.7, 25.4, 69.8, 25.4),
		letter("letter-10", 2, 5, 4, 12.7, 101.6, 50.8, 106.4, 50.8),
		letter("letter-6", 2, 3, 4, 12.7, 101.6, 84.6, 106.4, 84.6),
		roll("roll-57-32", 57, 32), roll("roll-102-51", 102, 51), roll("roll-102-76", 102, 76),
	}
}

// Check that all labels lie on the page and none on another; the error is an *invalid.Error.
func (s *Sheet) Check() error {
	var f invalid.Faults
	positive := func(path string, x, most float64) {
		if !(x > 0 && x <= most) {
			f.Add(path, reason.Of("label.length-of-more-than-nothing", Millimetres(most)))
		}
	}
	positive("width", s.Width, 1000)
	positive("height", s.Height, 1000)
	positive("long", s.Long, 1000)
	positive("high", s.High, 1000)
	for path, n := range map[string]int{"columns": s.Columns, "rows": s.Rows} {
		if n < 1 || n > 50 {
			f.Add(path, reason.Of("label.between-one-and", reason.Int(50)))
		}
	}
	if f.Err() != nil {
		return f.Err()
	}
	for path, of := range map[string][5]float64{"columns": {s.Left, s.PitchX, s.Long, float64(s.Columns), s.Width},
		"rows": {s.Top, s.PitchY, s.High, float64(s.Rows), s.Height}} {
		first, pitch, size, n, page := of[0], of[1], of[2], of[3], of[4]
		end := first + pitch*(n-1) + size
		switch {
		case !(first >= 0) || !(end <= page+0.05):
			f.Add(path, reason.Of("label.beyond-the-page", Millimetres(end), Millimetres(page)))
		case n > 1 && !(pitch >= size-0.05):
			f.Add(path, reason.Of("label.on-each-other", Millimetres(pitch), Millimetres(size)))
		}
	}
	return f.Err()
}

// Place of a label: its page, from 0, and its upper left corner there in mm.
type Place struct {
	Page int
	X, Y float64
}

// mostLabels that are printed at a time.
const MostLabels = 2000

// Places of n labels, the first of which is the start-th of the sheet, from 1: the others are used up.
func (s *Sheet) Places(start, n int) ([]Place, error) {
	all := s.Columns * s.Rows
	switch {
	case start < 1 || start > all:
		return nil, invalid.At("start", reason.Of("label.start-between", reason.Int(all)))
	case n < 1 || n > MostLabels:
		return nil, invalid.At("count", reason.Of("label.between-one-and", reason.Int(MostLabels)))
	}
	places := make([]Place, n)
	for i := range places {
		at := start - 1 + i
		on := at % all
		places[i] = Place{at / all, s.Left + float64(on%s.Columns)*s.PitchX, s.Top + float64(on/s.Columns)*s.PitchY}
	}
	return places, nil
}
