package messages

import (
	"context"
	"errors"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/message"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/web"
)

// sendJob sends a message. That it is "sending" stands in the database before the mail server is spoken to: whoever
// finds it so was not the one who began, and cannot know how far that one came.
//
// Of several jobs for one message only the last that was put in does anything: Turn counts them.
type sendJob struct {
	Kitchen, Message uuid.UUID
	Turn             int
}

func (sendJob) Kind() string     { return "message" }
func (j sendJob) Who() web.Actor { return web.Actor{Kitchen: j.Kitchen} }

// pauses before a message is tried again that a server did not take for now.
var pauses = []time.Duration{time.Minute, 5 * time.Minute, 20 * time.Minute, time.Hour, 3 * time.Hour, 6 * time.Hour}

func (m *Messages) send(ctx context.Context, j sendJob) error {
	var x Message
	var l post.Letter
	err := m.In(ctx, func(tx pgx.Tx) (err error) {
		x, err = lock(ctx, tx, j.Message)
		if err != nil || x.turn != j.Turn {
			return err
		}
		l, err = m.begin(ctx, tx, &x)
		return err
	})
	if errors.Is(err, pgx.ErrNoRows) { // its kitchen is gone
		return nil
	}
	if err != nil || l.ID == uuid.Nil {
		return err
	}
	result := post.Result{Outcome: post.Refused}
	switch {
	case x.Way == message.Text && m.Texter != nil:
		result = m.Texter.Text(ctx, l.To, l.Body)
	case x.Way == message.Mail && m.Mailer != nil:
		result = m.Mailer.Send(ctx, l)
	}
	// What has become of it is kept even where the server is being stopped.
	after, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	var again time.Time
	if err := m.In(after, func(tx pgx.Tx) (err error) {
		again, err = m.note(after, tx, &x, result)
		return err
	}); err != nil {
		return err
	}
	if !again.IsZero() {
		return jobs.NotBefore(again)
	}
	return nil
}

// begin to send a message: what has changed since it was written is looked at once more. The letter is empty where
// nothing is to be sent.
func (m *Messages) begin(ctx context.Context, tx pgx.Tx, x *Message) (post.Letter, error) {
	end := func(state string, why *reason.Reason) (post.Letter, error) {
		return post.Letter{}, m.set(ctx, tx, x.ID, state, why)
	}
	switch x.State {
	case "waiting":
	case "sending":
		return end("unsure", new(reason.Of("messages.was-broken-off")))
	default:
		return post.Letter{}, nil
	}
	if now := m.Clock(); x.Due.After(now) {
		return post.Letter{}, jobs.NotBefore(x.Due)
	}
	d, a, err := m.deskOf(ctx, tx, x.Order)
	if err != nil {
		return post.Letter{}, err
	}
	no, err := refused(ctx, tx, x.Address)
	switch {
	case err != nil:
		return post.Letter{}, err
	case no:
		return end("dropped", new(reason.Of("messages.wants-none")))
	case d.house.ToTry:
		return end("dropped", new(reason.Of("messages.kitchen-is-to-try")))
	case x.Way == message.Mail && m.Mailer == nil:
		return end("failed", new(reason.Of("messages.no-mail-server")))
	case x.Way == message.Text && m.Texter == nil:
		return end("failed", new(reason.Of("messages.no-text-messages")))
	}
	if x.Kind == message.OnTheWay && (a.State == order.HandedOver || a.State == order.Settled) {
		return end("dropped", new(reason.Of("messages.has-changed"))) // one was faster
	}
	if !x.ByHand && x.Kind != message.OnTheWay {
		var cause string
		if err := tx.QueryRow(ctx, `select cause from messages where id = $1`, x.ID).Scan(&cause); err != nil {
			return post.Letter{}, err
		}
		if err := d.deposit(ctx, a); err != nil {
			return post.Letter{}, err
		}
		rule := d.ways.rule(x.Kind)
		o, ok := a.Due(x.Kind, rule.Rule, d.house.Zone)
		if !rule.On || !ok || o.Cause != cause {
			return end("dropped", new(reason.Of("messages.has-changed")))
		}
		if !m.Clock().Before(o.Until) {
			return end("dropped", new(reason.Of("messages.too-late")))
		}
	}
	l := post.Letter{ID: x.ID, From: d.house.Sender, ReplyTo: d.house.ReplyTo, To: x.Address, Subject: x.Subject,
		Body: x.Body, At: m.Clock(), Together: "order." + x.Order.String()}
	if x.Way == message.Mail {
		if err := d.sign(ctx, &l); err != nil {
			return post.Letter{}, err
		}
	}
	return l, m.set(ctx, tx, x.ID, "sending", nil)
}

// sign a letter with how one gets no more of them.
func (d *desk) sign(ctx context.Context, l *post.Letter) error {
	how := d.words.Of("messages.reply-for-no-more", reason.Name(d.house.Name))
	if d.house.Public != "" {
		token, err := leaving(ctx, d.tx, l.To)
		if err != nil {
			return err
		}
		link := d.house.Public + "/no-more/" + token
		how = d.words.Of("messages.link-for-no-more", reason.Name(d.house.Name), reason.Name(link))
		if strings.HasPrefix(link, "https://") { // RFC 8058 asks for it
			l.Leave = link
		}
	}
	l.Body += "\n\n-- \n" + how + "\n"
	return nil
}

// note what became of a message. The time is when it is to be tried again.
func (m *Messages) note(ctx context.Context, tx pgx.Tx, x *Message, r post.Result) (again time.Time, err error) {
	said := reason.Of("messages.no-answer")
	if r.Said != "" {
		said = reason.Of("messages.server-said", reason.Name(r.Said))
	}
	switch {
	case r.Outcome == post.Sent && m.pretends():
		return again, m.set(ctx, tx, x.ID, "sent", new(reason.Of("messages.demo-sends-nothing")))
	case r.Outcome == post.Sent:
		return again, m.set(ctx, tx, x.ID, "sent", nil)
	case r.Outcome == post.Unsure:
		return again, m.set(ctx, tx, x.ID, "unsure", &said)
	case r.Outcome == post.Refused:
		return again, m.set(ctx, tx, x.ID, "failed", &said)
	}
	var tries int
	if err := tx.QueryRow(ctx, `update messages set tries = tries + 1 where id = $1 returning tries`, x.ID).
		Scan(&tries); err != nil {
		return again, err
	}
	if tries > len(pauses) || x.Kind == message.OnTheWay && tries > 2 { // nobody is on the way for an hour
		return again, m.set(ctx, tx, x.ID, "failed", &said)
	}
	again = m.Clock().Add(pauses[tries-1])
	if _, err := tx.Exec(ctx, `update messages set due_at = $2 where id = $1`, x.ID, again); err != nil {
		return again, err
	}
	return again, m.set(ctx, tx, x.ID, "waiting", &said)
}
