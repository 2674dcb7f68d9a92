package messages

import (
	"context"
	"crypto/rand"
	"errors"
	"net/http"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/message"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Pause before a message leaves, in which it can be undone.
const Pause = time.Minute

// Message of the outbox.
type Message struct {
	ID      uuid.UUID    `json:"id"`
	Order   uuid.UUID    `json:"order"`
	Number  int          `json:"number" doc:"Of the order"`
	Kind    message.Kind `json:"kind" enum:"quote,reminder,deposit,day-before,ready,on-the-way,thanks"`
	Way     message.Way  `json:"way" enum:"mail,text"`
	Whom    string       `json:"whom"`
	Address string       `json:"address" doc:"Empty where none is known"`
	message.Template
	State   string         `json:"state" enum:"waiting,sending,sent,failed,unsure,undone,dropped" doc:"unsure: it was broken off and may have been sent, so it is not sent again by itself; dropped: it was not sent, since its occasion has gone or nobody can be reached"`
	Says    *reason.Reason `json:"says,omitempty" doc:"Why it stands so"`
	ByHand  bool           `json:"byHand" doc:"A person wrote it"`
	Written time.Time      `json:"written"`
	Due     time.Time      `json:"due" doc:"When it leaves, while it waits"`
	Changed time.Time      `json:"changed"`
	Deeds   []string       `json:"deeds" doc:"What can be done with it: undo, now, again, sent"`

	turn int
}

// deeds that a state allows.
var deeds = map[string][]string{"waiting": {"undo", "now"}, "failed": {"again", "sent"}, "unsure": {"sent", "again"},
	"undone": {"again"}, "dropped": {"again"}, "sending": {}, "sent": {}}

// Outbox is a page of messages.
type Outbox struct {
	Messages []Message `json:"messages"`
	Waiting  int       `json:"waiting" doc:"How many have not left yet, in all"`
	Trouble  int       `json:"trouble" doc:"How many of the last week failed or are unsure"`
	More     bool      `json:"more" doc:"Whether there are older ones"`
}

const columns = `m.id, m.order_id, o.number, m.kind, m.way, m.whom, m.address, m.subject, m.body, m.state, m.told,
	m.by_hand, m.created_at, m.due_at, m.changed_at, m.turn from messages m
	join orders o on o.kitchen_id = m.kitchen_id and o.id = m.order_id `

func read(rows pgx.Rows, err error) ([]Message, error) {
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (x Message, err error) {
		err = row.Scan(&x.ID, &x.Order, &x.Number, &x.Kind, &x.Way, &x.Whom, &x.Address, &x.Subject, &x.Body, &x.State,
			&x.Says, &x.ByHand, &x.Written, &x.Due, &x.Changed, &x.turn)
		x.Deeds = deeds[x.State]
		return x, err
	})
}

const page = 50

func (m *Messages) list(ctx context.Context, in *struct {
	After string `query:"after" format:"uuid" doc:"The last message of the page before"`
}) (*struct{ Body Outbox }, error) {
	var out Outbox
	err := m.In(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select count(*) filter (where state in ('waiting', 'sending')),
			count(*) filter (where state in ('failed', 'unsure') and changed_at > $1) from messages`,
			m.Clock().AddDate(0, 0, -7)).Scan(&out.Waiting, &out.Trouble); err != nil {
			return err
		}
		var err error
		out.Messages, err = read(tx.Query(ctx, `select `+columns+`where $1 = '' or (m.created_at, m.id) <
			(select created_at, id from messages where id = nullif($1, '')::uuid)
			order by m.created_at desc, m.id desc limit $2`, in.After, page+1))
		if len(out.Messages) > page {
			out.Messages, out.More = out.Messages[:page], true
		}
		return err
	})
	return &struct{ Body Outbox }{out}, err
}

// letter that is to be written.
type letter struct {
	kind   message.Kind
	cause  string
	way    message.Way
	byHand bool
	message.Template
}

// write a message into the outbox, and have it sent once its time has come. One that cannot be sent stands there with
// the reason.
func (d *desk) write(ctx context.Context, a *about, l *letter) (uuid.UUID, error) {
	now, id := d.Clock(), db.NewID()
	state, due := "waiting", now.Add(Pause)
	var told *reason.Reason
	if !l.byHand && l.kind != message.OnTheWay {
		due = d.ways.quiet.Next(due, d.house.Zone)
	}
	address, err := a.reach(l.way)
	if err != nil {
		state, told = "dropped", new(reason.Because(err))
	} else if no, err := refused(ctx, d.tx, address); err != nil {
		return id, err
	} else if no {
		state, told = "dropped", new(reason.Of("messages.wants-none"))
	}
	who := web.ActorOf(ctx)
	var person *uuid.UUID
	if who.Person != uuid.Nil {
		person = &who.Person
	}
	tag, err := d.tx.Exec(ctx, `insert into messages (kitchen_id, id, order_id, kind, cause, way, whom, address, subject,
			body, state, told, by_hand, created_at, due_at, changed_at, person_id)
		values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $14, $16) on conflict do nothing`,
		who.Kitchen, id, a.id, l.kind, l.cause, l.way, a.customer, address, l.Subject, l.Body, state, told, l.byHand, now,
		due, person)
	if err != nil || tag.RowsAffected() == 0 || state != "waiting" {
		return id, err
	}
	return id, d.Jobs.Put(ctx, d.tx, sendJob{who.Kitchen, id, 0}, due)
}

// refused tells whether whoever has the address wants no messages.
func refused(ctx context.Context, tx pgx.Tx, address string) (no bool, err error) {
	err = tx.QueryRow(ctx, `select exists (select from contacts where address = $1 and refused_at is not null)`,
		address).Scan(&no)
	return no, err
}

// leaving is the token by which whoever has an address gets no more.
func leaving(ctx context.Context, tx pgx.Tx, address string) (token string, err error) {
	err = tx.QueryRow(ctx, `insert into contacts (kitchen_id, address, token) values ($1, $2, $3)
		on conflict (kitchen_id, address) do update set address = excluded.address returning token`,
		web.ActorOf(ctx).Kitchen, address, rand.Text()).Scan(&token)
	return token, err
}

// lock a message until the transaction ends.
func lock(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Message, error) {
	list, err := read(tx.Query(ctx, `select `+columns+`where m.id = $1 for update of m`, id))
	if err == nil && len(list) == 0 {
		err = pgx.ErrNoRows
	}
	if err != nil {
		return Message{}, err
	}
	return list[0], nil
}

func (m *Messages) set(ctx context.Context, tx pgx.Tx, id uuid.UUID, state string, told *reason.Reason) error {
	_, err := tx.Exec(ctx, `update messages set state = $2, told = $3, changed_at = $4 where id = $1`, id, state, told,
		m.Clock())
	return err
}

// change what becomes of a message.
func (m *Messages) change(ctx context.Context, in *struct {
	web.ID
	Deed string `path:"deed" enum:"undo,now,again,sent" doc:"sent: it was sent otherwise, or has arrived"`
}) (*struct{ Body Message }, error) {
	var out Message
	err := m.In(ctx, func(tx pgx.Tx) error {
		x, err := lock(ctx, tx, in.ID.ID)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("message")
		}
		if err != nil {
			return err
		}
		allowed := false
		for _, d := range x.Deeds {
			allowed = allowed || d == in.Deed
		}
		if !allowed {
			return web.Reject(http.StatusConflict, "messages.not-any-more", reason.Word("message."+x.State))
		}
		if err := m.do(ctx, tx, &x, in.Deed); err != nil {
			return err
		}
		out, err = lock(ctx, tx, x.ID)
		return err
	})
	return &struct{ Body Message }{out}, err
}

func (m *Messages) do(ctx context.Context, tx pgx.Tx, x *Message, deed string) error {
	switch deed {
	case "undo":
		return m.set(ctx, tx, x.ID, "undone", nil)
	case "sent":
		return m.set(ctx, tx, x.ID, "sent", new(reason.Of("messages.by-hand")))
	}
	due, way := m.Clock(), x.Way
	if deed == "again" {
		due = due.Add(Pause)
		// Where it could not be told to anybody, somebody may have written down an address since.
		list, err := ordersOf(ctx, tx, oneOrder, x.Order)
		if err != nil {
			return err
		}
		if x.Address, err = list[0].reach(way); err != nil {
			return web.Because(http.StatusConflict, reason.Because(err))
		}
		if no, err := refused(ctx, tx, x.Address); err != nil {
			return err
		} else if no {
			return web.Reject(http.StatusConflict, "messages.wants-none")
		}
	}
	// Whoever sends it again has looked at it: its occasion is not asked for any more.
	if _, err := tx.Exec(ctx, `update messages set state = 'waiting', told = null, address = $2, due_at = $3,
		changed_at = $4, by_hand = by_hand or $5, tries = 0, turn = turn + 1 where id = $1`, x.ID, x.Address, due, m.Clock(),
		deed == "again"); err != nil {
		return err
	}
	return m.Jobs.Put(ctx, tx, sendJob{web.ActorOf(ctx).Kitchen, x.ID, x.turn + 1}, due)
}
