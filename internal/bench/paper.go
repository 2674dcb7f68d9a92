package bench

import (
	"context"
	"fmt"
	"strings"
	"time"

	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (b *Bench) paper(ctx context.Context, in *Of) (*web.File, error) {
	sheet, err := b.sheet(ctx, in)
	if err != nil {
		return nil, err
	}
	pdf, err := print(text.Of(ctx), sheet)
	return web.Download("run-sheet-"+in.Day+".pdf", "application/pdf", pdf), err
}

func clock(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60%24, minute%60) }

// print a run sheet: each time of work with its set-up, its steps with a box to tick, and when to look at what waits.
func print(words *text.Words, r RunSheet) ([]byte, error) {
	day, err := time.Parse(time.DateOnly, r.Day)
	if err != nil {
		return nil, err
	}
	below := "Nothing is planned."
	if len(r.Steps) > 0 {
		last := 0
		for _, s := range r.Steps {
			last = max(last, s.Start+s.Hands)
		}
		below = fmt.Sprintf("%d steps. Hands are free at %s.", len(r.Steps), clock(last))
	}
	p := paper.New("Run sheet, "+day.Format("Monday 2 January"), below)
	for _, h := range r.Handovers {
		verb := "picked up"
		if h.Way == order.Delivery {
			verb = "delivered to " + h.Place
			if h.Leave != 0 {
				verb += ", leave at " + clock(h.Leave)
			}
		}
		p.Part(clock(h.At), h.Customer+": "+verb)
	}
	for _, s := range r.Sessions {
		steps := stepsIn(r.Steps, s)
		if len(steps) == 0 {
			continue
		}
		p.Ln(2)
		p.SetFont("go", "B", 13)
		people := "1 pair of hands"
		if s.People > 1 {
			people = fmt.Sprintf("%d pairs of hands", s.People)
		}
		p.CellFormat(0, 7, fmt.Sprintf("%s to %s, %s; free at %s", clock(s.From), clock(s.To), people, clock(s.Ends)), "", 1, "L", false, 0, "")
		for _, x := range s.Setups {
			if x.Wash {
				p.Part(clock(x.At), "Wash down, clean tools: "+strings.Join(x.For, ", "))
				continue
			}
			p.Part(clock(x.At), fmt.Sprintf("Melt %s of %s, for %s", words.Amount(*x.Melt), x.Pot, strings.Join(x.For, ", ")), words.Tell(x.Advice))
		}
		p.Rule()
		for _, step := range steps {
			printStep(words, p, step, s.People)
		}
		looks := []string{}
		for _, l := range s.Looks {
			looks = append(looks, fmt.Sprintf("%s %s: %s", clock(l.At), place(l.Place), l.Treat))
		}
		if len(looks) > 0 {
			p.Part("Look at", strings.Join(looks, ";  "))
		}
	}
	return p.Bytes()
}

func place(id string) string {
	return map[string]string{"fridge": "fridge", "freezer": "freezer", "counter": "counter"}[id]
}

func stepsIn(steps []Step, s Session) (list []Step) {
	for _, step := range steps {
		if s.From <= step.Start && step.Start < max(s.To, s.From+1) {
			list = append(list, step)
		}
	}
	return list
}

func printStep(words *text.Words, p paper.Sheet, s Step, people int) {
	if p.GetY() > 297-paper.Margin-11 {
		p.AddPage()
	}
	const line = 4.5
	p.SetDrawColor(60, 40, 30)
	p.Rect(paper.Margin, p.GetY()+0.6, 3.4, 3.4, "D")
	p.SetX(paper.Margin + 6)
	p.SetFont("go", "B", 9.5)
	p.CellFormat(12, line, clock(s.Start), "", 0, "L", false, 0, "")
	says := fmt.Sprintf("%s (%s", s.Name, paper.Plain(measure.Minutes(s.Hands)))
	if people > 1 {
		says += fmt.Sprintf(", person %d", s.Hand+1)
	}
	says += ")"
	if s.Wait > 0 {
		says += fmt.Sprintf(", then %s until %s", place(s.Place), clock(s.until))
	}
	p.MultiCell(paper.Width-18, line, says, "", "L", false)
	p.SetX(paper.Margin + 18)
	p.SetFont("go", "", 9)
	what := s.Treat + ", " + words.Value(order.Whom(s.For))
	if s.Short {
		what = "NO ROOM IN THE PLAN: " + what
	}
	if len(s.FreeFrom) > 0 {
		what += ", FREE FROM " + strings.Join(s.FreeFrom, ", ")
	}
	if len(s.Amounts) > 0 {
		what += ": " + strings.Join(words.All(s.Amounts), ", ")
	}
	p.MultiCell(paper.Width-18, line, paper.Plain(what), "", "L", false)
	p.Ln(0.8)
}
