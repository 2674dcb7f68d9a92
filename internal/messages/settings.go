package messages

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/message"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Choice is how a kind of message is told.
type Choice struct {
	Kind message.Kind `json:"kind" enum:"quote,reminder,deposit,day-before,ready,on-the-way,thanks"`
	On   bool         `json:"on"`
	Days int          `json:"days" doc:"So many days after its occasion: reminder, thanks"`
	At   int          `json:"at" doc:"Minute of the day: day before, thanks"`
	Way  message.Way  `json:"way" enum:"mail,text"`
	message.Template
	Own    bool     `json:"own" readOnly:"true" doc:"The words are the seller's own"`
	Fields []string `json:"fields" readOnly:"true" doc:"That its words may have, each in braces"`
}

// Settings of what is told.
type Settings struct {
	ReplyTo   string   `json:"replyTo" readOnly:"true" doc:"Where replies go, and what cannot be delivered, as the kitchen's settings have it"`
	QuietFrom int      `json:"quietFrom" doc:"Minute of the day from which nothing is told"`
	QuietTo   int      `json:"quietTo" doc:"Until this minute of the day; the same: never quiet"`
	Kinds     []Choice `json:"kinds" maxItems:"7"`
	Sender    string   `json:"sender" readOnly:"true" doc:"The address that mail comes from; empty: there is no mail server"`
	Texts     bool     `json:"texts" readOnly:"true" doc:"Text messages can be sent"`
	Demo      bool     `json:"demo" readOnly:"true" doc:"What is sent goes nowhere"`
	Public    string   `json:"public" readOnly:"true" doc:"Where links in messages lead; empty: there are none"`
}

// kept form of a choice.
type kept struct {
	message.Rule
	Way     message.Way `json:"way"`
	Subject string      `json:"subject,omitempty"` // empty: the usual words
	Body    string      `json:"body,omitempty"`
}

// ways are the settings as they are stored.
type ways struct {
	quiet    message.Quiet
	kinds    map[message.Kind]kept
	revision int
}

// usual words of a kind.
func usual(w *text.Words, k message.Kind) message.Template {
	return message.Template{Subject: w.Of("message.subject-" + string(k)), Body: w.Of("message.body-" + string(k))}
}

// template of a kind: the seller's own words, or the usual ones.
func (w *ways) template(words *text.Words, k message.Kind) (message.Template, bool) {
	if own := w.kinds[k]; own.Subject != "" {
		return message.Template{Subject: own.Subject, Body: own.Body}, true
	}
	return usual(words, k), false
}

// rule of a kind.
func (w *ways) rule(k message.Kind) kept {
	if own, set := w.kinds[k]; set {
		return own
	}
	return kept{Rule: message.Usual(k), Way: message.Mail}
}

// on are the kinds that are switched on.
func (w *ways) on() []message.Kind {
	list := []message.Kind{}
	for _, k := range message.Kinds() {
		if w.rule(k).On {
			list = append(list, k)
		}
	}
	return list
}

func loadWays(ctx context.Context, tx pgx.Tx) (*ways, error) {
	w := &ways{quiet: message.Quiet{From: 21 * 60, To: 8 * 60}}
	err := tx.QueryRow(ctx, `select quiet_from, quiet_to, kinds, revision from message_settings`).
		Scan(&w.quiet.From, &w.quiet.To, &w.kinds, &w.revision)
	if errors.Is(err, pgx.ErrNoRows) {
		err = nil
	}
	return w, err
}

func (m *Messages) shown(ctx context.Context, tx pgx.Tx, w *ways) (Settings, error) {
	words, err := web.Words(ctx, tx)
	if err != nil {
		return Settings{}, err
	}
	house, err := m.House(ctx, tx)
	s := Settings{ReplyTo: house.ReplyTo, QuietFrom: w.quiet.From, QuietTo: w.quiet.To, Texts: m.Texter != nil,
		Demo: m.pretends(), Public: house.Public}
	if m.Mailer != nil {
		s.Sender = m.Mailer.Sender()
	}
	for _, k := range message.Kinds() {
		r := w.rule(k)
		c := Choice{Kind: k, On: r.On, Days: r.Days, At: r.At, Way: r.Way, Fields: message.Fields(k)}
		c.Template, c.Own = w.template(words, k)
		s.Kinds = append(s.Kinds, c)
	}
	return s, err
}

// pretends tells whether what is sent goes nowhere.
func (m *Messages) pretends() bool { return m.Mailer != nil && m.Mailer.Pretends() }

func (m *Messages) settings(ctx context.Context, _ *struct{}) (*web.Tagged[Settings], error) {
	var s Settings
	var revision int
	err := m.In(ctx, func(tx pgx.Tx) error {
		w, err := loadWays(ctx, tx)
		if err != nil {
			return err
		}
		revision = w.revision
		s, err = m.shown(ctx, tx, w)
		return err
	})
	return web.TaggedBy(revision, s), err
}

// check what was sent, and make of it what is stored.
func (m *Messages) check(in *Settings, was *ways, words *text.Words, public string, now time.Time) (*ways, error) {
	var f invalid.Faults
	w := &ways{quiet: message.Quiet{From: in.QuietFrom, To: in.QuietTo}, kinds: map[message.Kind]kept{}}
	f.Under("", w.quiet.Check())
	for i, c := range in.Kinds {
		path := fmt.Sprintf("kinds[%d]", i)
		k := kept{Rule: message.Rule{On: c.On, Days: c.Days, At: c.At, Since: was.rule(c.Kind).Since}, Way: c.Way}
		f.Under(path, k.Check())
		if c.Template != usual(words, c.Kind) {
			f.Under(path, c.Check(c.Kind))
			k.Subject, k.Body = c.Subject, c.Body
		}
		if c.On && !was.rule(c.Kind).On {
			k.Since = now
		}
		switch {
		case !c.On:
		case c.Way == message.Text && m.Texter == nil:
			f.Because(path+".way", "messages.no-text-messages")
		case c.Way == message.Mail && m.Mailer == nil:
			f.Because(path+".on", "messages.no-mail-server")
		case (c.Kind == message.Quote || c.Kind == message.Reminder) && public == "":
			f.Because(path+".on", "messages.say-where-pages-are")
		}
		w.kinds[c.Kind] = k
	}
	return w, f.Err()
}

func (m *Messages) putSettings(ctx context.Context, in *struct {
	web.IfMatch
	Body Settings
}) (*web.Tagged[Settings], error) {
	var s Settings
	var revision int
	err := m.In(ctx, func(tx pgx.Tx) error {
		was, err := loadWays(ctx, tx)
		if err != nil {
			return err
		}
		if err := in.Matches(was.revision, func() (any, error) { return m.shown(ctx, tx, was) }); err != nil {
			return err
		}
		words, err := web.Words(ctx, tx)
		if err != nil {
			return err
		}
		house, err := m.House(ctx, tx)
		if err != nil {
			return err
		}
		w, err := m.check(&in.Body, was, words, house.Public, m.Clock())
		if err != nil {
			return err
		}
		err = tx.QueryRow(ctx, `insert into message_settings (kitchen_id, quiet_from, quiet_to, kinds)
			values ($1, $2, $3, $4) on conflict (kitchen_id) do update set quiet_from = excluded.quiet_from,
			quiet_to = excluded.quiet_to, kinds = excluded.kinds,
			revision = message_settings.revision + 1 returning revision`,
			web.ActorOf(ctx).Kitchen, w.quiet.From, w.quiet.To, w.kinds).Scan(&revision)
		if err != nil {
			return err
		}
		s, err = m.shown(ctx, tx, w)
		return err
	})
	return web.TaggedBy(revision, s), err
}

// Wording that is tried.
type Wording struct {
	Kind message.Kind `json:"kind" enum:"quote,reminder,deposit,day-before,ready,on-the-way,thanks"`
	message.Template
	Order string `json:"order,omitempty" format:"uuid" doc:"With which order; none: the latest that has a price"`
}

// Filled is words as a customer would read them.
type Filled struct {
	message.Template
	Whom string `json:"whom,omitempty" doc:"Whose order it was filled in with; none where there is no order yet"`
}

func (m *Messages) preview(ctx context.Context, in *struct{ Body Wording }) (*struct{ Body Filled }, error) {
	if err := in.Body.Check(in.Body.Kind); err != nil {
		return nil, err
	}
	var out Filled
	err := m.In(ctx, func(tx pgx.Tx) error {
		which, args := latestPriced, []any{}
		if in.Body.Order != "" {
			which, args = oneOrder, []any{in.Body.Order}
		}
		d, err := m.desk(ctx, tx)
		if err != nil {
			return err
		}
		list, err := ordersOf(ctx, tx, which, args...)
		if err != nil {
			return err
		}
		if len(list) == 0 {
			out.Template = in.Body.Template
			return nil
		}
		out.Whom = list[0].customer
		out.Template, err = d.fill(ctx, &in.Body.Template, &list[0], usualMinutes)
		return err
	})
	return &struct{ Body Filled }{out}, err
}

// usualMinutes that a preview is of.
const usualMinutes = 15
