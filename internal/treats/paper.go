package treats

import (
	"context"
	"strings"

	"zestytin/core/batch"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (b *Book) paper(ctx context.Context, in *counting) (*web.File, error) {
	t, card, known, err := b.counted(ctx, in)
	if err != nil {
		return nil, err
	}
	pdf, err := print(text.Of(ctx), t, card, known)
	return web.Download(filename(t.Name, "batch-card.pdf"), "application/pdf", pdf), err
}

// print a batch card.
func print(w *text.Words, t Treat, card *batch.Card, known *treat.Inputs) ([]byte, error) {
	s := paper.New(t.Name, w.Of("paper.batch-card", reason.Int(t.Version), reason.Int(card.Good), card.Sold,
		card.StartWhy))
	if card.Rounds != nil {
		s.Part(w.Of("paper.rounds"), w.Say(card.Rounds.Text)+". "+w.Tell(card.Rounds.Why))
	}
	for _, d := range card.Designs {
		s.Part(w.Of("paper.design"), w.Of("paper.design-line", reason.Name(d.Name), reason.Int(d.Good),
			reason.Int(d.Start)))
	}
	for _, p := range card.Pots {
		s.Part(w.Of("paper.pot"), append([]string{w.Of("paper.pot-line", reason.Name(p.Name), p.Melted, p.Used,
			p.Reclaimed)}, potLines(w, p)...)...)
	}
	for _, m := range card.Mixes {
		lines := []string{w.Of("paper.mix-line", reason.Name(m.Name), reason.Name(both(w, m.Make)))}
		for _, p := range m.Parts {
			lines = append(lines, "   "+both(w, p.Amount)+" "+p.Name)
		}
		s.Part(w.Of("paper.mix"), lines...)
	}
	if card.Boil != nil {
		s.Part(w.Of("paper.boil"), w.Say(card.Boil.Text))
	}
	needs := []string{}
	for _, n := range card.Needs {
		line := both(w, n.House) + " " + n.Name
		if n.House.Amount > n.Used.Amount+1e-9 {
			line = w.Of("paper.of-it-used", reason.Name(line), n.Used)
		}
		needs = append(needs, line)
	}
	s.Part(w.Of("paper.ingredients"), needs...)
	steps(w, s, card, known)
	s.Part(w.Of("paper.time"), w.Tell(card.HandsWhy))
	s.Part(w.Of("paper.contains"), append([]string{strings.Join(card.Allergens, ", ") + ". " + card.Label},
		w.All(card.Kept.Text)...)...)
	if len(card.Care) > 0 {
		s.Part(w.Of("paper.watch-out"), w.All(card.Care)...)
	}
	return s.Bytes(w.Lacking)
}

func potLines(w *text.Words, p batch.Pot) []string {
	lines := w.All(p.Tempering.Steps)
	if p.Rewarm != nil {
		lines = append(lines, w.Tell(p.Rewarm.Why))
	}
	if p.Tempering.Ceiling > 0 {
		lines = append(lines, w.Say(reason.Of("treats.never-above", reason.Celsius(p.Tempering.Ceiling))))
	}
	return lines
}

// both ways to write an amount, the kitchen's own first.
func both(w *text.Words, q measure.Shown) string {
	if q.Metric == q.US {
		return q.Metric
	}
	return w.Amount(q) + " (" + w.Value(measure.Other{Shown: q}) + ")"
}

// steps with a box to tick.
func steps(w *text.Words, s paper.Sheet, card *batch.Card, known *treat.Inputs) {
	s.Rule()
	for _, step := range card.Steps {
		if s.GetY() > 297-paper.Margin-14 {
			s.AddPage()
		}
		s.SetDrawColor(60, 40, 30)
		s.Rect(paper.Margin+1, s.GetY()+0.9, 3.6, 3.6, "D")
		s.SetX(paper.Margin + 8)
		s.Set("B", 10)
		line := w.Of("paper.step", reason.Name(step.Name), reason.Minutes(step.HandsOnMin))
		if step.PassiveMin > 0 {
			line = w.Of("paper.step-then-waits", reason.Name(step.Name), reason.Minutes(step.HandsOnMin),
				reason.Minutes(step.PassiveMin), reason.Name(known.SpotName(step.Storage)))
		}
		s.Paragraph(paper.Width-8, paper.Line, line)
		if len(step.Amounts) > 0 {
			s.SetX(paper.Margin + 8)
			s.Set("", 10)
			s.Paragraph(paper.Width-8, paper.Line, strings.Join(w.All(step.Amounts), ", "))
		}
	}
}
