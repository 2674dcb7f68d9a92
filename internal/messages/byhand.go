package messages

import (
	"cmp"
	"context"
	"net/http"
	"time"
	"zestytin/core/invalid"
	"zestytin/core/message"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Draft is what could be told of an order.
type Draft struct {
	Kind message.Kind `json:"kind" enum:"quote,reminder,deposit,day-before,ready,on-the-way,thanks"`
	Way  message.Way  `json:"way" enum:"mail,text"`
	message.Template
	Fits bool `json:"fits" doc:"The order gives occasion for it"`
}

// Drafts of an order, and what was told of it.
type Drafts struct {
	Mail     string    `json:"mail" doc:"Where its customer is reached; empty: nowhere"`
	Phone    string    `json:"phone"`
	Refused  bool      `json:"refused" doc:"They want no messages"`
	Drafts   []Draft   `json:"drafts"`
	Messages []Message `json:"messages" doc:"Latest first"`
}

func (m *Messages) drafts(ctx context.Context, in *web.ID) (*struct{ Body Drafts }, error) {
	out := Drafts{Drafts: []Draft{}}
	err := m.In(ctx, func(tx pgx.Tx) error {
		d, a, err := m.deskOf(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		out.Mail, _ = a.reach(message.Mail)
		out.Phone, _ = a.reach(message.Text)
		for _, address := range []string{out.Mail, out.Phone} {
			no, err := refused(ctx, tx, address)
			if err != nil {
				return err
			}
			out.Refused = out.Refused || no
		}
		for _, k := range message.Kinds() {
			rule := d.ways.rule(k)
			if err := d.deposit(ctx, a); err != nil {
				return err
			}
			_, fits := a.Due(k, rule.Rule, d.house.Zone)
			t, _ := d.ways.template(d.words, k)
			filled, err := d.fill(ctx, &t, a, usualMinutes)
			if err != nil {
				return err
			}
			out.Drafts = append(out.Drafts, Draft{k, rule.Way, filled, fits || k == message.OnTheWay && a.Delivered})
		}
		out.Messages, err = read(tx.Query(ctx, `select `+columns+`where m.order_id = $1 order by m.created_at desc,
			m.id desc limit 50`, in.ID))
		return err
	})
	return &struct{ Body Drafts }{out}, err
}

func (m *Messages) deskOf(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*desk, *about, error) {
	d, err := m.desk(ctx, tx)
	if err != nil {
		return nil, nil, err
	}
	list, err := ordersOf(ctx, tx, oneOrder, id)
	if err != nil {
		return nil, nil, err
	}
	if len(list) == 0 {
		return nil, nil, web.NotFound("order")
	}
	return d, &list[0], nil
}

// Written by a person.
type Written struct {
	Kind    message.Kind `json:"kind" enum:"quote,reminder,deposit,day-before,ready,on-the-way,thanks"`
	Way     message.Way  `json:"way,omitempty" enum:"mail,text" doc:"None: as it is set for the kind"`
	Subject string       `json:"subject,omitempty" doc:"Neither this nor a body: the words that are set for the kind"`
	Body    string       `json:"body,omitempty"`
	Minutes int          `json:"minutes,omitempty" minimum:"0" maximum:"600" doc:"Until one is at the door"`
}

func (m *Messages) write(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body Written
}) (*struct{ Body Message }, error) {
	var out Message
	err := m.In(ctx, func(tx pgx.Tx) (err error) {
		out, err = web.Once(ctx, tx, in.OnceKey, "write-message "+in.ID.ID.String(), in.Body, func() (Message, error) {
			d, a, err := m.deskOf(ctx, tx, in.ID.ID)
			if err != nil {
				return Message{}, err
			}
			l, err := d.byHand(ctx, a, &in.Body)
			if err != nil {
				return Message{}, err
			}
			id, err := d.write(ctx, a, l)
			if err != nil {
				return Message{}, err
			}
			return lock(ctx, tx, id)
		})
		return err
	})
	return &struct{ Body Message }{out}, err
}

// byHand makes a letter of what a person wants to be told.
func (d *desk) byHand(ctx context.Context, a *about, in *Written) (*letter, error) {
	l := &letter{kind: in.Kind, way: in.Way, byHand: true, cause: "by hand " + db.NewID().String()}
	if l.way == "" {
		l.way = d.ways.rule(in.Kind).Way
	}
	words := message.Template{Subject: in.Subject, Body: in.Body}
	if in.Subject+in.Body == "" {
		words, _ = d.ways.template(d.words, in.Kind)
	}
	if in.Kind == message.OnTheWay { // that one is on the way is told once, whoever says so
		l.cause = d.today()
	}
	var f invalid.Faults
	f.Under("", words.Check(in.Kind))
	switch {
	case l.way == message.Text && d.Texter == nil:
		f.Because("way", "messages.no-text-messages")
	case l.way == message.Mail && d.Mailer == nil:
		f.Because("way", "messages.no-mail-server")
	}
	if err := f.Err(); err != nil {
		return nil, err
	}
	address, err := a.reach(l.way)
	if err != nil {
		return nil, web.Because(http.StatusConflict, reason.Because(err))
	}
	no, err := refused(ctx, d.tx, address)
	if err != nil {
		return nil, err
	}
	if no {
		return nil, web.Reject(http.StatusConflict, "messages.wants-none")
	}
	told, err := d.told(ctx, a.id, l)
	if err != nil {
		return nil, err
	}
	if told {
		return nil, web.Reject(http.StatusConflict, "messages.told-before")
	}
	l.Template, err = d.fill(ctx, &words, a, cmp.Or(in.Minutes, usualMinutes))
	return l, err
}

// told tells whether a letter of the same kind and cause stands in the outbox.
func (d *desk) told(ctx context.Context, order uuid.UUID, l *letter) (told bool, err error) {
	err = d.tx.QueryRow(ctx, `select exists (select from messages where order_id = $1 and kind = $2 and cause = $3)`,
		order, l.kind, l.cause).Scan(&told)
	return told, err
}

// today in the kitchen, as a date.
func (d *desk) today() string { return d.Clock().In(d.house.Zone).Format(time.DateOnly) }

// Underway tells whether customers are told that one is on the way to them, and who was told on a day.
func (m *Messages) Underway(ctx context.Context, tx pgx.Tx, day string) (on bool, told map[uuid.UUID]bool, err error) {
	w, err := loadWays(ctx, tx)
	if err != nil {
		return false, nil, err
	}
	rows, err := tx.Query(ctx, `select order_id from messages where kind = $1 and cause = $2`, message.OnTheWay, day)
	if err != nil {
		return false, nil, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowTo[uuid.UUID])
	told = map[uuid.UUID]bool{}
	for _, id := range list {
		told[id] = true
	}
	return w.rule(message.OnTheWay).On, told, err
}

// OnTheWay tells a customer that it will be at their door in so many minutes, where that is switched on. It is told
// once for each day.
func (m *Messages) OnTheWay(ctx context.Context, tx pgx.Tx, id uuid.UUID, minutes int) error {
	d, a, err := m.deskOf(ctx, tx, id)
	if err != nil || !d.ways.rule(message.OnTheWay).On {
		return err
	}
	return d.compose(ctx, a, message.OnTheWay, d.today(), minutes)
}

// refuse notes what a customer has said by a reply or on the telephone: that they want no messages, wherever they are
// reached. It is as good as their own word by the link, and cannot be taken back either.
func (m *Messages) refuse(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, m.In(ctx, func(tx pgx.Tx) error {
		_, a, err := m.deskOf(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		some := false
		for _, way := range []message.Way{message.Mail, message.Text} {
			address, _ := a.reach(way)
			if address == "" {
				continue
			}
			some = true
			if _, err := leaving(ctx, tx, address); err != nil {
				return err
			}
			if _, err := tx.Exec(ctx, `update contacts set refused_at = coalesce(refused_at, $2) where address = $1`,
				address, m.Clock()); err != nil {
				return err
			}
		}
		if !some {
			return web.Reject(http.StatusConflict, "messages.nobody-to-refuse")
		}
		return nil
	})
}
