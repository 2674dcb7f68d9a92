package handover

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
)

// Setup is the time that one needs at the place of an event before it begins, where no order is brought to it: with one
// that is, it is minutes at that door.
type Setup struct {
	Event uuid.UUID  `json:"event"`
	Name  string     `json:"name"`
	Place string     `json:"place"`
	From  si.Minutes `json:"from"`
	To    si.Minutes `json:"to"`
	Hand  int        `json:"-"` // who sets up; -1: nobody can
}

// atDoor is the order of an event with which its set-up is done: the first that is brought to it.
const atDoor = `(select x.id from orders x where x.kitchen_id = e.kitchen_id and x.event_id = e.id
	and x.way = 'delivery' and x.state in ('promised', 'in the making', 'packed', 'handed over', 'settled')
	order by x.from_at, x.number limit 1)`

// loadSetups of a day.
func (d *driving) loadSetups(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select e.id, e.content ->> 'name', coalesce(e.content ->> 'place', ''), e.begins_at,
			(e.content ->> 'setup')::int from events e where e.begins_at >= $1 and e.begins_at < $2
			and (e.content ->> 'setup')::int > 0 and `+atDoor+` is null order by e.begins_at, e.id`,
		d.cal.Time(d.cal.Begin(d.day)), d.cal.Time(d.cal.Begin(d.day+1)))
	if err != nil {
		return err
	}
	d.view.Setups, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (s Setup, err error) {
		var begins time.Time
		var takes si.Minutes
		err = row.Scan(&s.Event, &s.Name, &s.Place, &begins, &takes)
		s.To = d.clock(d.seconds(begins))
		s.From = max(s.To-takes, 0)
		return s, err
	})
	return err
}

// assign who sets up what: whoever drives, where that is not at the same time, or else somebody who is free; where there
// is nobody it is told.
func (d *driving) assign() {
	type span struct {
		from, to si.Minutes
		hand     int
	}
	var taken []span
	for _, v := range d.view.Drives {
		taken = append(taken, span{v.Leave, max(v.Back, v.Leave+1), d.view.Choices.Hand})
	}
	for i := range d.view.Setups {
		s := &d.view.Setups[i]
		s.Hand = -1
		for n := range max(d.view.People, 1) {
			hand := (d.view.Choices.Hand + n) % max(d.view.People, 1)
			free := true
			for _, t := range taken {
				free = free && (t.hand != hand || t.to <= s.From || t.from >= s.To) && t.from != s.From
			}
			if free {
				s.Hand = hand
				taken = append(taken, span{s.From, s.To, hand})
				break
			}
		}
		if s.Hand < 0 {
			d.view.Says = append(d.view.Says, reason.Of("handover.nobody-to-set-up", reason.Name(s.Name),
				reason.Clock(s.From), reason.Clock(s.To)))
		}
	}
}

// setUps of the day as the plan has them.
func (d *driving) setUps() []plan.Errand {
	var list []plan.Errand
	for _, s := range d.view.Setups {
		if s.Hand >= 0 && s.To > s.From {
			list = append(list, plan.Errand{Day: d.view.Day, From: s.From, To: s.To, Hand: s.Hand, Orders: []ident.Order{}})
		}
	}
	return list
}
