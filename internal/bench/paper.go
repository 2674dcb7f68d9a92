package bench

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"

	"github.com/jackc/pgx/v5"
)

func (b *Bench) paper(ctx context.Context, in *Of) (*web.File, error) {
	sheet, err := b.sheet(ctx, in)
	if err != nil {
		return nil, err
	}
	heat := []reason.Reason{}
	if slices.ContainsFunc(sheet.Handovers, func(h Handover) bool { return h.Way == order.Delivery }) {
		err = b.In(ctx, func(tx pgx.Tx) (err error) {
			heat, err = b.Heat(ctx, tx, in.Day)
			return err
		})
		if err != nil {
			return nil, err
		}
	}
	pdf, err := print(text.Of(ctx), sheet, heat)
	return web.Download("run-sheet-"+in.Day+".pdf", "application/pdf", pdf), err
}

func clock(words *text.Words, minute si.Minutes) string {
	return words.Value(reason.Clock(minute % plan.DayMinutes))
}

// print a run sheet: each time of work with its set-up, its steps with a box to tick, and when to look at what waits.
func print(words *text.Words, r RunSheet, heat []reason.Reason) ([]byte, error) {
	below := words.Of("paper.nothing-is-planned")
	if r.Ends != nil {
		below = words.Of("paper.steps-done-by", reason.Count{N: len(r.Steps), Of: "step"},
			reason.Clock(*r.Ends%plan.DayMinutes))
	}
	p := paper.New(words.Of("paper.run-sheet", reason.Date(r.Day)), below)
	for _, h := range r.Handovers {
		line := words.Of("paper.handed-over", reason.Name(h.Customer))
		if h.Way == order.Delivery && h.Leave != 0 {
			line = words.Of("paper.delivered-leave-at", reason.Name(h.Customer), reason.Name(h.Place),
				reason.Clock(h.Leave))
		} else if h.Way == order.Delivery {
			line = words.Of("paper.delivered-to", reason.Name(h.Customer), reason.Name(h.Place))
		}
		p.Part(clock(words, h.At), line)
	}
	if len(heat) > 0 {
		p.Part(words.Of("paper.on-the-road"), words.All(heat)...)
	}
	for _, s := range r.Sessions {
		if len(s.Steps) == 0 {
			continue
		}
		steps := make([]Step, len(s.Steps))
		for i, n := range s.Steps {
			steps[i] = r.Steps[n]
		}
		blocks := blocksOf(words, p, s, steps)
		heading := 9.0
		p.Room(heading + blocks[0].height)
		p.Ln(2)
		p.Set("B", 13)
		p.Paragraph(0, 7, words.Of("paper.session", reason.Clock(s.From%plan.DayMinutes),
			reason.Clock(s.To%plan.DayMinutes), reason.Count{N: s.People, Of: "person"},
			reason.Clock(s.Ends%plan.DayMinutes)))
		for i, b := range blocks {
			height := b.height
			if i == len(blocks)-2 { // the last never stands alone on a page
				height += blocks[i+1].height
			}
			p.Room(height)
			b.print()
		}
	}
	return p.Bytes(words.Lacking)
}

// block is what stays together on a page.
type block struct {
	at     si.Minutes
	height float64 // mm
	print  func()
}

// blocksOf a time of work, in the order in which they are needed: what is washed and melted at its time, each step, and
// in the end when to look at what waits.
func blocksOf(words *text.Words, p paper.Sheet, s Session, steps []Step) []block {
	var blocks []block
	part := func(at si.Minutes, name string, lines ...string) {
		blocks = append(blocks, block{at, p.PartHeight(lines...), func() { p.Part(name, lines...) }})
	}
	for _, x := range s.Setups {
		if x.Wash {
			part(x.At, clock(words, x.At), words.Of("paper.wash-down", reason.Series(reason.Words(x.For))))
			continue
		}
		part(x.At, clock(words, x.At), words.Of("paper.melt-for", *x.Melt, reason.Name(x.Pot),
			reason.Series(reason.Words(x.For))), words.Tell(x.Advice), words.Of("paper.blanks-of-a-bowl"))
	}
	for _, row := range rows(steps, ordered(steps)) {
		step := steps[row.Steps[0]]
		first, second := stepText(words, step, s.People)
		if len(row.Steps) > 1 {
			last := steps[row.Steps[len(row.Steps)-1]]
			second = roundsWhat(words, steps, row)
			first = words.Of("paper.rounds-until", row.Text, reason.Clock(last.until%plan.DayMinutes))
		}
		second += blanks(words, step)
		p.Set("B", 9.5)
		lines := p.Lines(first, paper.Width-22)
		p.Set("", 9)
		lines += p.Lines(second, paper.Width-22)
		blocks = append(blocks, block{step.Start, lines*stepLine + 0.8,
			func() { printStep(words, p, step, first, second) }})
	}
	slices.SortStableFunc(blocks, func(a, b block) int { return cmp.Compare(a.at, b.at) })
	looks := []string{}
	for _, l := range s.Looks {
		looks = append(looks, words.Of("paper.look", reason.Clock(l.At%plan.DayMinutes), reason.Name(l.Spot),
			reason.Name(l.Treat)))
	}
	if len(looks) > 0 {
		part(1<<30, words.Of("paper.check"), strings.Join(looks, ";  "))
	}
	return blocks
}

// blanks to be filled in by hand, of what the bench would ask: nothing of a step that is ticked already.
func blanks(words *text.Words, s Step) string {
	switch {
	case s.DoneAt != nil:
		return ""
	case s.Counted:
		return "   " + words.Of("paper.blanks-of-pieces")
	}
	return "   " + words.Of("paper.blanks")
}

// roundsWhat is what goes in at the rounds of a row: at the first round of each step that goes round.
func roundsWhat(words *text.Words, steps []Step, row Row) string {
	var seen []ident.Step
	var list []string
	for _, n := range row.Steps {
		if s := steps[n]; !slices.Contains(seen, s.Round.Of) {
			_, what := stepText(words, s, 1)
			seen, list = append(seen, s.Round.Of), append(list, what)
		}
	}
	return strings.Join(list, "; ")
}

// ordered are the indices of a list.
func ordered(steps []Step) []int {
	list := make([]int, len(steps))
	for i := range list {
		list[i] = i
	}
	return list
}

const stepLine = 4.5 // mm

// stepText is what a step says: what is done when, and with how much of what.
func stepText(words *text.Words, s Step, people int) (says, what string) {
	says = words.Of("paper.run-step", reason.Name(s.Name), reason.Minutes(s.Hands))
	if people > 1 {
		says = words.Of("paper.run-step-by", reason.Name(s.Name), reason.Minutes(s.Hands), reason.Int(s.Hand+1))
	}
	if s.Wait > 0 {
		says = words.Of("paper.waits-until", reason.Name(says), reason.Name(s.Spot),
			reason.Clock(s.until%plan.DayMinutes))
	}
	what = words.Of("paper.treat-for", reason.Name(s.Treat), order.OwnerNames(s.For))
	if s.Amount != nil {
		what = words.Of("order.amount-of", *s.Amount, reason.Of("paper.treat-for", reason.Name(s.Treat),
			reason.Of("planning.the-larder")))
	}
	if s.Short {
		what = words.Of("paper.not-scheduled", reason.Name(what))
	}
	if len(s.FreeFrom) > 0 {
		what = words.Of("paper.free-from", reason.Name(what), reason.Series(reason.Words(s.FreeFrom)))
	}
	if len(s.Amounts) > 0 {
		what += ": " + strings.Join(words.All(s.Amounts), ", ")
	}
	notes := []string{}
	if s.Look != "" {
		notes = append(notes, words.Of("paper.look-for", reason.Name(s.Look)))
	}
	for _, note := range []string{s.Note, s.TreatNote} {
		if note != "" {
			notes = append(notes, words.Of("paper.note", reason.Name(note)))
		}
	}
	for _, of := range s.For {
		if of.Note != "" {
			notes = append(notes, words.Of("paper.note-of", reason.Name(of.Customer), reason.Name(of.Note)))
		}
	}
	if len(notes) > 0 {
		what = strings.Join(append([]string{what}, notes...), ". ")
	}
	return paper.Plain(says), what
}

func printStep(words *text.Words, p paper.Sheet, s Step, says, what string) {
	p.SetDrawColor(60, 40, 30)
	p.Rect(paper.Margin, p.GetY()+0.6, 3.4, 3.4, "D")
	p.SetX(paper.Margin + 6)
	p.Set("B", 9.5)
	p.Beside(16, stepLine, clock(words, s.Start), "L")
	p.Paragraph(paper.Width-22, stepLine, says)
	p.SetX(paper.Margin + 22)
	p.Set("", 9)
	p.Paragraph(paper.Width-22, stepLine, what)
	p.Ln(0.8)
}
