package messages

import (
	"context"
	"fmt"
	"strconv"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/message"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// about is an order as messages know it.
type about struct {
	message.Facts
	id                          uuid.UUID
	number                      int
	customer, mail, phone       string
	occasion, place, quoteToken string
	to                          time.Time
	lines                       []string
}

// Which orders are read.
const (
	oneOrder = `o.id = $1::uuid order by o.id`
	// Those that may give occasion for something by itself. Thanks come at most so many days after the handover.
	live = `(o.state in ('quoted', 'promised', 'in the making', 'packed')
		or o.state in ('handed over', 'settled') and o.from_at > $1) order by o.from_at`
	latestPriced = `o.gross is not null order by q.id is not null desc, o.from_at desc limit 1`
)

// ordersOf the kitchen, which is a condition and an order.
func ordersOf(ctx context.Context, tx pgx.Tx, which string, args ...any) ([]about, error) {
	rows, err := tx.Query(ctx, `select o.id, o.number, o.state, o.customer, coalesce(nullif(o.mail, ''), c.mail, ''),
			coalesce(nullif(o.phone, ''), c.phone, ''), o.occasion, o.way = 'delivery', o.place, o.from_at, o.to_at,
			coalesce(l.lines, '{}'), m.promised, m.packed, m.over, q.id, q.token, q.made_at, q.expires_at,
			q.revoked_at is null and q.accepted_at is null and q.requested_at is null
		from orders o
		left join lateral (select c.mail, c.phone from customers c where c.kitchen_id = o.kitchen_id
			and lower(c.name) = lower(o.customer) limit 1) c on true
		left join lateral (select array_agg(l.count || ' ' || t.name order by l.position) as lines from order_lines l
			join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
			where l.kitchen_id = o.kitchen_id and l.order_id = o.id) l on true
		left join lateral (select max(at) filter (where to_state = 'promised') as promised,
			max(at) filter (where to_state = 'packed') as packed, max(at) filter (where to_state = 'handed over') as over
			from order_moves m where m.kitchen_id = o.kitchen_id and m.order_id = o.id) m on true
		left join lateral (select * from quotes q where q.kitchen_id = o.kitchen_id and q.order_id = o.id
			order by q.id desc limit 1) q on true
		where `+which, args...)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (about, error) {
		var a about
		var promised, packed, over, made, expires *time.Time
		var quote *uuid.UUID
		var token *string
		var open *bool
		err := row.Scan(&a.id, &a.number, &a.State, &a.customer, &a.mail, &a.phone, &a.occasion, &a.Delivered, &a.place,
			&a.From, &a.to, &a.lines, &promised, &packed, &over, &quote, &token, &made, &expires, &open)
		a.Promised, a.Packed, a.HandedOver = moment(promised), moment(packed), moment(over)
		if quote != nil {
			a.Quote = &message.Offer{ID: quote.String(), Made: *made, Expires: *expires, Open: *open}
			a.quoteToken = *token
		}
		return a, err
	})
}

func moment(t *time.Time) time.Time {
	if t == nil {
		return time.Time{}
	}
	return *t
}

// desk at which messages are written: what is needed for any order of the kitchen.
type desk struct {
	*Messages
	tx    pgx.Tx
	house House
	ways  *ways
	words *text.Words
}

func (m *Messages) desk(ctx context.Context, tx pgx.Tx) (*desk, error) {
	d := &desk{Messages: m, tx: tx}
	var err error
	if d.ways, err = loadWays(ctx, tx); err != nil {
		return nil, err
	}
	if d.house, err = m.House(ctx, tx); err != nil {
		return nil, err
	}
	d.words, err = web.Words(ctx, tx)
	return d, err
}

// fill a template in for an order.
func (d *desk) fill(ctx context.Context, t *message.Template, a *about, minutes int) (message.Template, error) {
	stands, err := d.Stands(ctx, d.tx, a.id)
	if err != nil {
		return message.Template{}, err
	}
	zone, words := d.house.Zone, d.words
	day := func(t time.Time) string { return words.Value(reason.Date(t.In(zone).Format(time.DateOnly))) }
	clock := func(t time.Time) string {
		t = t.In(zone)
		return words.Value(reason.Clock(t.Hour()*60 + t.Minute()))
	}
	money := func(m *price.Money) string {
		if m == nil {
			return ""
		}
		return words.Value(reason.Money(*m))
	}
	treats := make(reason.Series, len(a.lines))
	for i, line := range a.lines {
		treats[i] = reason.Name(line)
	}
	values := map[string]string{"customer": a.customer, "kitchen": d.house.Name, "treats": words.Value(treats),
		"occasion": a.occasion, "day": day(a.From), "from": clock(a.From), "to": clock(a.to), "place": a.place,
		"price": money(stands.Price), "deposit": money(stands.Deposit), "balance": money(stands.Rest),
		"minutes": strconv.Itoa(minutes)}
	if stands.DepositBy != "" {
		values["by"] = words.Value(reason.Date(stands.DepositBy))
	}
	if !a.Delivered {
		values["place"] = d.house.Address
	}
	if a.Quote != nil {
		values["until"] = day(a.Quote.Expires)
		if d.house.Public != "" {
			values["link"] = d.house.Public + "/q/" + a.quoteToken
		}
	}
	return t.Fill(values), nil
}

// deposit tells whether a deposit is asked of an order, and nothing is paid.
func (d *desk) deposit(ctx context.Context, a *about) error {
	if a.State != order.Promised {
		return nil
	}
	stands, err := d.Stands(ctx, d.tx, a.id)
	if a.DepositOpen = stands.Deposit != nil; stands.DepositBy != "" && err == nil {
		a.DepositBy, err = time.ParseInLocation(time.DateOnly, stands.DepositBy, d.house.Zone)
	}
	return err
}

// reach is where a customer is reached.
func (a *about) reach(way message.Way) (string, error) { return message.Reach(way, a.mail, a.phone) }

// Tell what the order gives occasion for at this moment, for what has just been done to it.
func (m *Messages) Tell(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	w, err := loadWays(ctx, tx)
	if err != nil || len(w.on()) == 0 { // every move of every order comes by here
		return err
	}
	d, err := m.desk(ctx, tx)
	if err != nil {
		return err
	}
	return d.tell(ctx, oneOrder, id)
}

// Round writes what has become due of all orders of the kitchen.
func (m *Messages) Round(ctx context.Context, tx pgx.Tx) error {
	d, err := m.desk(ctx, tx)
	if err != nil {
		return err
	}
	if err := d.resume(ctx); err != nil {
		return err
	}
	return d.tell(ctx, live, m.Clock().AddDate(0, 0, -message.MostDays-2))
}

// lost is how long after its time a message that still waits has no job any more.
const lost = 15 * time.Minute

// resume what waits though its time came long ago: whoever was to send it has given up or is gone.
func (d *desk) resume(ctx context.Context) error {
	rows, err := d.tx.Query(ctx, `select id, turn from messages where state = 'waiting' and due_at < $1 for update`,
		d.Clock().Add(-lost))
	if err != nil {
		return err
	}
	type one struct {
		ID   uuid.UUID
		Turn int
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[one])
	if err != nil || len(list) == 0 {
		return err
	}
	for _, x := range list {
		if _, err := d.tx.Exec(ctx, `update messages set turn = turn + 1 where id = $1`, x.ID); err != nil {
			return err
		}
		if err := d.Jobs.Put(ctx, d.tx, sendJob{web.ActorOf(ctx).Kitchen, x.ID, x.Turn + 1}, time.Time{}); err != nil {
			return err
		}
	}
	return nil
}

// tell what is due of orders, each once.
func (d *desk) tell(ctx context.Context, which string, args ...any) error {
	on := d.ways.on()
	if len(on) == 0 {
		return nil
	}
	list, err := ordersOf(ctx, d.tx, which, args...)
	if err != nil {
		return err
	}
	now := d.Clock()
	for i := range list {
		a := &list[i]
		for _, k := range on {
			rule := d.ways.rule(k)
			if k == message.Deposit {
				if err := d.deposit(ctx, a); err != nil {
					return err
				}
			}
			o, ok := a.Due(k, rule.Rule, d.house.Zone)
			if !ok || !rule.Told(o, now) {
				continue
			}
			if err := d.compose(ctx, a, k, o.Cause, 0); err != nil {
				return fmt.Errorf("tell of order %d: %w", a.number, err)
			}
		}
	}
	return nil
}

// compose a message of the seller's words, unless it was told before.
func (d *desk) compose(ctx context.Context, a *about, k message.Kind, cause string, minutes int) error {
	l := &letter{kind: k, cause: cause, way: d.ways.rule(k).Way}
	if told, err := d.told(ctx, a.id, l); err != nil || told {
		return err
	}
	t, _ := d.ways.template(d.words, k)
	var err error
	if l.Template, err = d.fill(ctx, &t, a, minutes); err != nil {
		return err
	}
	_, err = d.write(ctx, a, l)
	return err
}
