package treats

import (
	"context"
	"fmt"
	"strings"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/internal/platform/paper"
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

// print a batch card.
func print(t Treat, card *batch.Card) ([]byte, error) {
	s := paper.New(t.Name, fmt.Sprintf("Batch card, version %d: %d good %s. %s", t.Version, card.Good, card.Sold, card.StartWhy))
	if card.Rounds != nil {
		s.Part("Rounds", card.Rounds.Text+". "+card.Rounds.Why)
	}
	for _, d := range card.Designs {
		s.Part("Design", fmt.Sprintf("%s: %d good, start %d", d.Name, d.Good, d.Start))
	}
	for _, p := range card.Pots {
		s.Part("Pot", append([]string{fmt.Sprintf("%s: melt %s, used %s, comes back %s", p.Name, p.Melted.Metric, p.Used.Metric, p.Reclaimed.Metric)}, potLines(p)...)...)
	}
	for _, m := range card.Mixes {
		lines := []string{fmt.Sprintf("%s: make %s", m.Name, both(m.Make))}
		for _, p := range m.Parts {
			lines = append(lines, "   "+both(p.Amount)+" "+p.Name)
		}
		s.Part("Mix", lines...)
	}
	if card.Boil != nil {
		s.Part("Boil", card.Boil.Text)
	}
	needs := []string{}
	for _, n := range card.Needs {
		text := both(n.House) + " " + n.Name
		if n.House.Amount > n.Used.Amount+1e-9 {
			text += " (" + n.Used.Metric + " of it is used up)"
		}
		needs = append(needs, text)
	}
	s.Part("Take", needs...)
	steps(s, card)
	s.Part("Time", card.HandsWhy)
	s.Part("Contains", strings.Join(card.Allergens, ", ")+". "+card.Label)
	if len(card.Care) > 0 {
		s.Part("Care", card.Care...)
	}
	return s.Bytes()
}

func potLines(p batch.Pot) []string {
	lines := append([]string{}, p.Tempering.Steps...)
	if p.Rewarm != nil {
		lines = append(lines, p.Rewarm.Why)
	}
	if p.Tempering.Ceiling > 0 {
		lines = append(lines, "Never above "+chocolate.Degree(p.Tempering.Ceiling)+".")
	}
	return lines
}

func both(q measure.Shown) string {
	if q.Metric == q.US {
		return q.Metric
	}
	return q.Metric + " (" + q.US + ")"
}

// steps with a box to tick.
func steps(s paper.Sheet, card *batch.Card) {
	s.Rule()
	for _, step := range card.Steps {
		if s.GetY() > 297-paper.Margin-14 {
			s.AddPage()
		}
		s.SetDrawColor(60, 40, 30)
		s.Rect(paper.Margin+1, s.GetY()+0.9, 3.6, 3.6, "D")
		s.SetX(paper.Margin + 8)
		s.SetFont("go", "B", 10)
		time := fmt.Sprintf("%d min", step.Hands)
		if step.Wait > 0 {
			time += fmt.Sprintf(", then %s in the %s", paper.Plain(measure.Minutes(step.Wait)), step.Place)
		}
		s.MultiCell(paper.Width-8, paper.Line, step.Name+"  ("+time+")", "", "L", false)
		if len(step.Amounts) > 0 {
			s.SetX(paper.Margin + 8)
			s.SetFont("go", "", 10)
			s.MultiCell(paper.Width-8, paper.Line, paper.Plain(strings.Join(step.Amounts, ", ")), "", "L", false)
		}
	}
}
