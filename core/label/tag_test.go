package label

import (
	"fmt"
	"math"
	"strings"
	"testing"
)

// even is a face all of whose letters are as wide: half an em, small letters half an em high.
type even struct{}

func (even) Width(text string, _ bool) float64 { return float64(len([]rune(text))) / 2 }
func (even) XHeight() float64                  { return 0.5 }
func (even) FigureHeight() float64             { return 0.7 }
func (even) Lacks(text string) rune {
	for _, r := range text {
		if r == '☃' {
			return r
		}
	}
	return 0
}

// "Ana" on a label of 64 by 20 mm: three letters are 1.5 em wide, 60 mm would hold 40 mm to the em; 16 mm of height hold
// 14.3 with a leading of 1.12, and 14 is the most. In the middle: 21 mm wide from 21.5 on. By hand.
func TestATagByHand(t *testing.T) {
	f, err := Tag("Ana", "", 64, 20, even{})
	if err != nil || len(f.Runs) != 1 || f.Runs[0].Size != 14 || f.Runs[0].X != 21.5 || !f.Runs[0].Bold {
		t.Fatalf("%+v, %v", f, err)
	}
	// With the table below, 1.5 lines share the height: 16 / (1.5 x 1.12) = 9.52 mm.
	f, err = Tag("Ana", "Table 4", 64, 20, even{})
	if err != nil || len(f.Runs) != 2 || math.Abs(f.Runs[0].Size-9.5238) > 1e-3 || f.Runs[1].Size != f.Runs[0].Size/2 ||
		f.Runs[1].Bold || f.Runs[1].Y <= f.Runs[0].Y {
		t.Errorf("%+v, %v", f, err)
	}
	// Two words are parted where that makes them larger.
	f, err = Tag("Wilhelmina Featherstonehaugh", "", 40, 30, even{})
	if err != nil || len(f.Runs) != 2 || f.Runs[0].Text != "Wilhelmina" {
		t.Errorf("%+v, %v", f, err)
	}
}

// Nothing stands outside of a tag, whatever is on it, and what cannot be read is refused.
func TestTagsStayOnTheirLabels(t *testing.T) {
	for _, size := range [][2]float64{{38, 21}, {64, 34}, {99, 68}, {25, 25}} {
		for _, name := range []string{"Bo", "Ana Lucía", "Marie-Therese von und zu Hohenstein", "X"} {
			for _, beside := range []string{"", "Table 12", "The long table by the window"} {
				f, err := Tag(name, beside, size[0], size[1], even{})
				if err != nil {
					t.Errorf("%s, %s on %v: %v", name, beside, size, err)
					continue
				}
				for _, r := range f.Runs {
					if r.X < edge-1e-9 || r.X+r.Width > size[0]-edge+1e-9 || r.Y > size[1]-edge+1e-9 || r.Y-r.Size < 0 {
						t.Errorf("%s, %s on %v: %+v", name, beside, size, r)
					}
				}
			}
		}
	}
	for code, of := range map[string][2]string{"label.name-does-not-fit": {strings.Repeat("w", 80), ""},
		"label.letter-that-no-font-has": {"Ana ☃", ""}} {
		if _, err := Tag(of[0], of[1], 38, 21, even{}); err == nil || !strings.HasPrefix(err.Error(), code) {
			t.Errorf("%v", err)
		}
	}
	if _, err := Tag("Ana", "", 4, 21, even{}); err == nil {
		t.Error("a label of 4 mm is taken")
	}
}

// A list with heads in any order and any of the usual marks, and one that is only names.
func TestGuestLists(t *testing.T) {
	for text, want := range map[string]string{
		"Table;Name\r\n10;Ana\r\n2;Bo  Quay\r\n;Cy\r\n2;Di": "2 Bo Quay, 2 Di, 10 Ana,  Cy",
		"Ana\nBo Quay\n\nCy\n":                              " Ana,  Bo Quay,  Cy",
		"Ana,Lake\nBo,Hill":                                 "Hill Bo, Lake Ana",
		"\ufeffGuest,Seat,Diet\nAna,B 2,vegan\nBo,A 2,":     "A 2 Bo, B 2 Ana",
	} {
		list, bad, err := Guests(text)
		told := []string{}
		for _, g := range list {
			told = append(told, g.Table+" "+g.Name)
		}
		if err != nil || len(bad) > 0 || strings.Join(told, ", ") != want {
			t.Errorf("%q: %q, %v, %v", text, strings.Join(told, ", "), bad, err)
		}
	}
	list, bad, err := Guests("name,table\n,4\n" + strings.Repeat("x", 81) + ",1\nAna,1\n\"open,1\n")
	if err != nil || len(list) != 1 || len(bad) != 3 {
		t.Errorf("%v, %v, %v", list, bad, err)
	}
	if _, _, err := Guests(""); err == nil {
		t.Error("an empty file is a list")
	}
	if _, _, err := Guests("name\n" + strings.Repeat("Ana\n", MostGuests+1)); err == nil {
		t.Error("too many are taken")
	}
	if list, _, err := Guests("name\n" + strings.Repeat("Ana\n", MostGuests)); err != nil || len(list) != MostGuests {
		t.Errorf("%d, %v", len(list), err)
	}
}

func BenchmarkTags(b *testing.B) {
	for b.Loop() {
		for n := range 60 {
			if _, err := Tag(fmt.Sprintf("Guest of the wedding %d", n), "Table 7", 64, 34, even{}); err != nil {
				b.Fatal(err)
			}
		}
	}
}
