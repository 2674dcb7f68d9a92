package treats

import (
	"bytes"
	"context"
	"fmt"
	"strings"

	"github.com/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
)

func (b *Book) paper(ctx context.Context, in *counting) (*web.File, error) {
	t, card, err := b.counted(ctx, in)
	if err != nil {
		return nil, err
	}
	pdf, err := print(t, card)
	return web.Download(filename(t.Name, "batch-card.pdf"), "application/pdf", pdf), err
}

// sheet is a page in the making: A4 and letter both hold its width.
type sheet struct{ *fpdf.Fpdf }

// Sizes of the printed card, mm.
const (
	margin    = 16
	labelled  = 26 // where the text begins, behind the name of a part
	textWidth = 182 - labelled
	line      = 5.2
)

// print a batch card. Letters are the Go fonts, which ship inside the program.
func print(t Treat, card *treat.Card) ([]byte, error) {
	s := sheet{fpdf.New("P", "mm", "A4", "")}
	s.AddUTF8FontFromBytes("go", "", goregular.TTF)
	s.AddUTF8FontFromBytes("go", "B", gobold.TTF)
	s.SetMargins(margin, margin, margin)
	s.SetAutoPageBreak(true, margin)
	s.SetTitle(t.Name, true)
	s.SetCreator("Zesty Tin", true)
	s.AddPage()
	s.SetFont("go", "B", 19)
	s.MultiCell(0, 9, t.Name, "", "L", false)
	s.SetFont("go", "", 11)
	s.MultiCell(0, line, fmt.Sprintf("Batch card, version %d: %d good %s. %s", t.Version, card.Good, card.Sold, plain(card.StartWhy)), "", "L", false)
	s.Ln(2)
	if card.Rounds != nil {
		s.part("Rounds", []string{card.Rounds.Text + ". " + plain(card.Rounds.Why)})
	}
	for _, d := range card.Designs {
		s.part("Design", []string{fmt.Sprintf("%s: %d good, start %d", d.Name, d.Good, d.Start)})
	}
	for _, p := range card.Pots {
		s.part("Pot", append([]string{fmt.Sprintf("%s: melt %s, used %s, comes back %s", p.Name, p.Melted.Metric, p.Used.Metric, p.Reclaimed.Metric)}, potLines(p)...))
	}
	for _, m := range card.Mixes {
		lines := []string{fmt.Sprintf("%s: make %s", m.Name, both(m.Make))}
		for _, p := range m.Parts {
			lines = append(lines, "   "+both(p.Amount)+" "+p.Name)
		}
		s.part("Mix", lines)
	}
	if card.Boil != nil {
		s.part("Boil", []string{card.Boil.Text})
	}
	needs := []string{}
	for _, n := range card.Needs {
		text := both(n.House) + " " + n.Name
		if n.House.Amount > n.Used.Amount+1e-9 {
			text += " (" + n.Used.Metric + " of it is used up)"
		}
		needs = append(needs, text)
	}
	s.part("Take", needs)
	s.steps(card)
	s.part("Time", []string{plain(card.HandsWhy)})
	s.part("Contains", []string{strings.Join(card.Allergens, ", ") + ". " + card.Label})
	if len(card.Care) > 0 {
		s.part("Care", card.Care)
	}
	var out bytes.Buffer
	err := s.Output(&out)
	return out.Bytes(), err
}

func potLines(p treat.Pot) []string {
	lines := append([]string{}, p.Tempering.Steps...)
	if p.Rewarm != nil {
		lines = append(lines, p.Rewarm.Why)
	}
	if p.Tempering.Ceiling > 0 {
		lines = append(lines, "Never above "+chocolate.Degree(p.Tempering.Ceiling)+".")
	}
	return lines
}

// plain text: the spaces that do not break on a screen are ordinary ones on paper.
func plain(text string) string { return strings.ReplaceAll(text, "\u00a0", " ") }

func both(q measure.Shown) string {
	if q.Metric == q.US {
		return q.Metric
	}
	return q.Metric + " (" + q.US + ")"
}

// part of the card: its name on the left, its lines beside it.
func (s sheet) part(name string, lines []string) {
	s.SetDrawColor(200, 190, 175)
	s.Line(margin, s.GetY()+1, 210-margin, s.GetY()+1)
	s.Ln(2.5)
	s.SetFont("go", "B", 10)
	y := s.GetY()
	s.CellFormat(labelled, line, name, "", 0, "L", false, 0, "")
	s.SetFont("go", "", 10)
	for i, text := range lines {
		if i > 0 || s.GetY() != y {
			s.SetX(margin + labelled)
		}
		s.SetX(margin + labelled)
		s.MultiCell(textWidth-4, line, plain(text), "", "L", false)
	}
}

// steps with a box to tick.
func (s sheet) steps(card *treat.Card) {
	s.SetDrawColor(200, 190, 175)
	s.Line(margin, s.GetY()+1, 210-margin, s.GetY()+1)
	s.Ln(2.5)
	for _, step := range card.Steps {
		if s.GetY() > 297-margin-14 {
			s.AddPage()
		}
		s.SetDrawColor(60, 40, 30)
		s.Rect(margin+1, s.GetY()+0.9, 3.6, 3.6, "D")
		s.SetX(margin + 8)
		s.SetFont("go", "B", 10)
		time := fmt.Sprintf("%d min", step.Hands)
		if step.Wait > 0 {
			time += fmt.Sprintf(", then %s in the %s", plain(measure.Minutes(step.Wait)), step.Place)
		}
		s.MultiCell(178-8, line, step.Name+"  ("+time+")", "", "L", false)
		if len(step.Amounts) > 0 {
			s.SetX(margin + 8)
			s.SetFont("go", "", 10)
			s.MultiCell(178-8, line, plain(strings.Join(step.Amounts, ", ")), "", "L", false)
		}
	}
}
