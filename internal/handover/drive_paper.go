package handover

import (
	"context"
	"fmt"
	"strings"

	ics "github.com/arran4/golang-ical"
	"github.com/jackc/pgx/v5"

	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// driveSheet is the drives of a day on paper: when to leave, each drop with its time, its door and what is handed over.
func (o *Handover) driveSheet(ctx context.Context, in *OnDay) (*web.File, error) {
	var d *driving
	err := o.In(ctx, func(tx pgx.Tx) (err error) { d, err = o.shown(ctx, tx, in.Day); return err })
	if err != nil {
		return nil, err
	}
	words := text.Of(ctx)
	s := paper.New(words.Of("handover.drives-of", reason.Date(in.Day)), d.view.Home)
	say := func(list []reason.Reason) []string {
		lines := make([]string, len(list))
		for i, r := range list {
			lines[i] = words.Value(r)
		}
		return lines
	}
	for _, v := range d.view.Drives {
		s.Part(words.Value(reason.Clock(v.Leave)), append([]string{words.Of("handover.leave-and-back", reason.Clock(v.Leave),
			reason.Clock(v.Back), v.Distance, reason.Minutes(v.Road))}, append(say(v.Says), say(v.Heat)...)...)...)
		for _, x := range v.Drops {
			s.Room(30)
			s.Part("[ ] "+words.Value(reason.Clock(x.Arrive)), nonEmpty(append([]string{
				strings.Join(nonEmpty(x.Customer, x.Phone), ", "), x.Address,
				words.Of("handover.between", reason.Clock(x.From), reason.Clock(x.To)), strings.Join(listed(x.Lines), ", "),
				freeFrom(words, x.FreeFrom), x.Notes}, say(x.Care)...)...)...)
		}
	}
	pdf, err := s.Bytes(words.Lacking)
	return web.Download("drive-"+in.Day+".pdf", "application/pdf", pdf), err
}

// listed lines: 24 Truffles.
func listed(lines []DropLine) []string {
	list := make([]string, len(lines))
	for i, l := range lines {
		list[i] = fmt.Sprintf("%d %s", l.Count, l.Name)
	}
	return list
}

func freeFrom(words *text.Words, list []string) string {
	if len(list) == 0 {
		return ""
	}
	return fmt.Sprint(words.Of("paper.made-without"), ": ", strings.Join(list, ", "))
}

// onTheRoad are the drives that are in the plan, as events.
func (o *Handover) onTheRoad(ctx context.Context, tx pgx.Tx, cal plan.Calendar, file *ics.Calendar) error {
	list, err := o.Errands(ctx, tx, "0001-01-01", "9999-12-31")
	if err != nil {
		return err
	}
	words, nth, last := text.Of(ctx), 0, ""
	for _, e := range list {
		if nth++; e.Day != last {
			nth, last = 1, e.Day
		}
		var revision int
		var whom []string
		if err := tx.QueryRow(ctx, `select coalesce((select revision from drives where day = $1::text::date), 1),
				(select array_agg(o.customer || case when o.place = '' then '' else ', ' || o.place end
				order by array_position($2::text[]::uuid[], o.id)) from orders o where o.id = any($2::text[]::uuid[]))`,
			e.Day, e.Orders).Scan(&revision, &whom); err != nil {
			return err
		}
		day := cal.DayOf(noon(e.Day, cal))
		event := file.AddEvent(fmt.Sprintf("drive-%s-%d@zestytin", e.Day, nth))
		event.SetDtStampTime(o.Clock())
		event.SetSequence(revision)
		event.SetStartAt(cal.Time(cal.At(day, e.From)))
		event.SetEndAt(cal.Time(cal.At(day, e.To)))
		event.SetSummary(plain(words.Of("handover.drive-to", reason.Count{N: len(e.Orders), Of: "drop"})))
		if len(e.Orders) == 0 {
			event.SetSummary(plain(words.Of("handover.setting-up")))
		}
		event.SetDescription(plain(strings.Join(whom, "\n")))
	}
	return nil
}
