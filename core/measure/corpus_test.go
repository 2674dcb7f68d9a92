package measure

import (
	_ "embed"
	"fmt"
	"math"
	"strconv"
	"strings"
	"testing"
)

//go:embed testdata/lines.tsv
var corpus string

// reading writes what was read as the corpus does.
func reading(l Line) string {
	if l.Amount == nil {
		return "-"
	}
	round := func(x float64) string { return strconv.FormatFloat(math.Round(x*1e6)/1e6, 'g', -1, 64) }
	text := round(l.Amount.Amount)
	if l.Upto != 0 {
		text += "-" + round(l.Upto)
	}
	text += " " + string(l.Amount.Unit)
	if l.Measure != "" {
		text += " " + l.Measure
	}
	if l.Packs != 0 {
		text += " in " + round(l.Packs)
	}
	return text
}

// Four hundred hand-written lines of every awkward kind, with the reading that a person would give: at least 97% are
// read right, and none of the rest is accepted without a mark.
func TestCorpusOfLines(t *testing.T) {
	lines, right := 0, 0
	for _, row := range strings.Split(strings.TrimRight(corpus, "\n"), "\n") {
		if strings.HasPrefix(row, "#") {
			continue
		}
		fields := append(strings.Split(row, "\t"), "", "", "")
		lines++
		got := ReadLine(fields[0])
		if got.Original != fields[0] {
			t.Errorf("the line %q is kept as %q", fields[0], got.Original)
		}
		if fields[1] == "?" {
			if got.Doubt == nil {
				t.Errorf("%q is read as %s of %q without a mark", fields[0], reading(got), got.Ingredient)
			} else {
				right++
			}
			continue
		}
		if reading(got) == fields[1] && got.Ingredient == fields[2] && got.Note == fields[3] && got.Doubt == nil {
			right++
			continue
		}
		said := fmt.Sprintf("%q: %s of %q (%s), doubt %v; want %s of %q (%s)", fields[0], reading(got), got.Ingredient,
			got.Note, got.Doubt, fields[1], fields[2], fields[3])
		if got.Doubt == nil {
			t.Errorf("misread without a mark: %s", said)
		} else {
			t.Log(said)
		}
	}
	if lines < 400 {
		t.Errorf("only %d lines", lines)
	}
	if share := float64(right) / float64(lines); share < 0.97 {
		t.Errorf("%d of %d lines are read right, %.1f %%, want 97%%", right, lines, 100*share)
	}
}

func BenchmarkThousandLines(b *testing.B) {
	var lines []string
	for _, row := range strings.Split(corpus, "\n") {
		if line, _, _ := strings.Cut(row, "\t"); line != "" && line[0] != '#' {
			lines = append(lines, line)
		}
	}
	for b.Loop() {
		for i := range 1000 {
			ReadLine(lines[i%len(lines)])
		}
	}
}
