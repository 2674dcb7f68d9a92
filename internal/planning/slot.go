package planning

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/web"
)

// Carried is a step in a person's hand: where it is held, and which way it goes.
type Carried struct {
	Batch uuid.UUID `json:"batch"`
	Step  string    `json:"step" maxLength:"60"`
	Slot
	To string `json:"to" enum:"next-day,previous-day,next-person,previous-person"`
}

// slot finds where a step comes to stand that is carried on: as near to its time of the day as its hands fit into the
// hours. Where nobody works further on, it stays.
func (p *Planning) slot(ctx context.Context, in *struct{ Body Carried }) (*struct{ Body Slot }, error) {
	at := in.Body.Slot
	date, err := time.Parse(time.DateOnly, at.Day)
	if err != nil {
		return nil, invalid.At("day", reason.Of("planning.not-date-write-like", reason.Name(at.Day)))
	}
	err = p.In(ctx, func(tx pgx.Tx) error {
		cal, err := p.Calendar(ctx, tx)
		if err != nil {
			return err
		}
		if dayOf(cal, date) > Horizon {
			return invalid.At("day", reason.Of("planning.day-is-too-far", reason.Int(Horizon)))
		}
		var hands, setup si.Minutes
		err = tx.QueryRow(ctx, `select hands, changeover from batch_steps where batch_id = $1 and step = $2`,
			in.Body.Batch, in.Body.Step).Scan(&hands, &setup)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("step")
		}
		if err != nil {
			return err
		}
		w, _, err := loadWorkDays(ctx, tx)
		if err != nil {
			return err
		}
		at = carry(w, cal, dayOf(cal, date), at, in.Body.To, hands, setup)
		return nil
	})
	return &struct{ Body Slot }{at}, err
}

// reach is how many days on a day is looked for on which somebody works.
const reach = 60

// carry a step to another person, or beyond the last to another day. hands and setup are its minutes.
func carry(w WorkDays, cal plan.Calendar, day int, at Slot, to string, hands, setup si.Minutes) Slot {
	sessions := func(day int) (list []plan.Session, people int) {
		people = 1
		for _, h := range dayView(w, cal, day).Hours {
			list = append(list, plan.Session{From: h.From, To: h.To, People: h.Hands})
			people = max(people, h.Hands)
		}
		return list, people
	}
	by := 1
	if to == "previous-day" || to == "previous-person" {
		by = -1
	}
	person := at.Hand
	if to == "next-person" || to == "previous-person" {
		if _, people := sessions(day); at.Hand+by >= 0 && at.Hand+by < people {
			at.Hand += by
			return at
		}
		person = 1 << 20 // the last
		if by > 0 {
			person = 0
		}
	}
	for n := 1; n <= reach; n++ {
		there := day + n*by
		if there < 0 || there > Horizon {
			break
		}
		hours, people := sessions(there)
		if len(hours) == 0 {
			continue
		}
		at.Day, at.Hand = cal.Date(there), min(person, people-1)
		if start, ok := plan.NearestStart(hours, at.Hand, at.Start, hands, setup); ok {
			at.Start = start
		}
		return at
	}
	return at
}

// HoursSum is what times of work come to.
type HoursSum struct {
	Minutes int `json:"minutes" doc:"Hands-on minutes of all people in a usual week"`
}

func sumHours(_ context.Context, in *struct{ Body WorkDays }) (*struct{ Body HoursSum }, error) {
	sum := 0
	for _, day := range in.Body.Week {
		for _, s := range day {
			from, okFrom := minuteOf(s.From)
			to, okTo := minuteOf(s.To)
			if okFrom && okTo {
				sum += max(to-from, 0) * s.Hands
			}
		}
	}
	return &struct{ Body HoursSum }{HoursSum{sum}}, nil
}
