package till

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/till"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

func (t *Till) registerPayments(tags []string) {
	web.Register(t.Base, huma.Operation{OperationID: "list-payments", Method: "GET",
		Path: "/api/v1/orders/{id}/payments", Summary: "What was paid for an order, and what is owed", Tags: tags},
		t.payments)
	web.Register(t.Base, huma.Operation{OperationID: "note-payment", Method: "POST",
		Path: "/api/v1/orders/{id}/payments", Summary: "Note a deposit, a balance or a refund", Tags: tags,
		DefaultStatus: 201}, t.pay)
	web.Register(t.Base, huma.Operation{OperationID: "remove-payment", Method: "DELETE", Path: "/api/v1/payments/{id}",
		Summary: "Take a note of a payment back", Tags: tags}, t.deletePayment)
}

// PaymentFields is what a person sets of a payment.
type PaymentFields struct {
	Kind   till.Kind `json:"kind"`
	Amount string    `json:"amount" doc:"Decimal, more than 0"`
	Day    string    `json:"day" format:"date"`
	Way    string    `json:"way,omitempty" maxLength:"40" doc:"Cash, card, transfer"`
	Note   string    `json:"note,omitempty" maxLength:"200"`
}

// Payment as it is stored.
type Payment struct {
	ID      uuid.UUID `json:"id"`
	Who     string    `json:"who" doc:"Who noted it"`
	Settles bool      `json:"settles,omitempty" doc:"The rest, noted when the order was settled"`
	PaymentFields
}

// Payments of an order.
type Payments struct {
	Gross    *price.Money   `json:"gross,omitempty" doc:"What is to be paid in all; none before a price is agreed on"`
	Deposit  *price.Money   `json:"deposit,omitempty" doc:"What is asked in advance, while nothing is paid"`
	Paid     price.Money    `json:"paid"`
	Stands   till.Standing  `json:"stands" doc:"open: nothing is due yet; due; paid; excess: something is to be given back"`
	Rest     price.Money    `json:"rest" doc:"That is due, or to be given back"`
	Payments []Payment      `json:"payments"`
	Next     []Proposal     `json:"next" doc:"What may be noted next, the likeliest first"`
	Kept     *price.Money   `json:"kept,omitempty" doc:"Of what was paid for an order that was cancelled, by the terms of the kitchen"`
	KeptWhy  *reason.Reason `json:"keptWhy,omitempty" doc:"By which of its terms"`
}

// Proposal of a payment.
type Proposal struct {
	Kind   till.Kind `json:"kind"`
	Amount string    `json:"amount" doc:"Decimal; empty where nothing follows"`
}

// Paid is what was paid for orders, less what was given back.
func Paid(ctx context.Context, tx pgx.Tx, orders []uuid.UUID) (map[uuid.UUID]decimal.Decimal, error) {
	rows, err := tx.Query(ctx, `select o.id, `+paidSum+` from orders o where o.id = any($1)`, orders)
	if err != nil {
		return nil, err
	}
	paid := map[uuid.UUID]decimal.Decimal{}
	var id uuid.UUID
	var sum decimal.Decimal
	_, err = pgx.ForEachRow(rows, []any{&id, &sum}, func() error { paid[id] = sum; return nil })
	return paid, err
}

// cancelledAt is when an order was cancelled; null while it is not.
const cancelledAt = `case when o.state = 'cancelled' then coalesce((select max(m.at) from order_moves m
	where m.kitchen_id = o.kitchen_id and m.order_id = o.id and m.to_state = 'cancelled'), o.updated_at) end`

// keep of an account what the terms say of an order that was cancelled at a time, and is handed over from another: with
// how many days of notice that was, and within how many of the terms; -1 where nothing is kept.
func (h *Context) keep(a *till.Account, cancelled *time.Time, from time.Time) (notice, within int) {
	if cancelled == nil {
		return 0, -1
	}
	a.Cancelled = true
	date := func(t time.Time) time.Time {
		y, m, d := t.In(h.Zone).Date()
		return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
	}
	notice = int(date(from).Sub(date(*cancelled)) / (24 * time.Hour))
	share, within := h.Terms.Kept(notice)
	a.Keep(share)
	return notice, within
}

const paidSum = `coalesce((select sum(case when p.kind = 'refund' then -p.amount else p.amount end) from payments p where p.kitchen_id = o.kitchen_id and p.order_id = o.id), 0)`

// load the payments of an order, and how its customer stands.
func (t *Till) load(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Payments, till.Account, error) {
	p, a := Payments{}, till.Account{}
	house, err := t.Context(ctx, tx)
	if err != nil {
		return p, a, err
	}
	a.Currency = house.Currency
	var from time.Time
	var cancelled *time.Time
	err = tx.QueryRow(ctx, `select o.gross, `+cancelledAt+`, o.from_at, `+paidSum+` from orders o where o.id = $1`,
		id).Scan(&a.Agreed, &cancelled, &from, &a.Paid)
	if errors.Is(err, pgx.ErrNoRows) {
		return p, a, web.NotFound("order")
	}
	if err != nil {
		return p, a, err
	}
	if a.Agreed != nil {
		p.Gross = new(price.In(a.Currency, *a.Agreed))
	}
	if deposit := a.Deposit(house.Terms.Deposit); deposit != nil {
		p.Deposit = new(price.In(a.Currency, *deposit))
	}
	if notice, within := house.keep(&a, cancelled, from); within >= 0 && a.Due().IsPositive() {
		p.Kept = new(price.In(a.Currency, a.Due()))
		share, _ := house.Terms.Kept(notice)
		p.KeptWhy = new(reason.Of("till.cancelled-late", reason.Count{N: notice, Of: "day"}, reason.Share(share),
			reason.Count{N: within, Of: "day"}))
	}
	stands, rest := a.Stands()
	p.Paid, p.Stands, p.Rest = price.In(a.Currency, a.Paid), stands, price.In(a.Currency, rest)
	for _, x := range a.Proposals(house.Terms.Deposit) {
		amount := ""
		if x.Amount.IsPositive() {
			amount = price.In(a.Currency, x.Amount).Amount
		}
		p.Next = append(p.Next, Proposal{x.Kind, amount})
	}
	rows, err := tx.Query(ctx, `select y.id, p.name, y.kind, y.amount, y.paid_on::text, y.way, y.note, y.settles
			from payments y join people p on p.id = y.person_id where y.order_id = $1 order by y.paid_on, y.id`, id)
	if err != nil {
		return p, a, err
	}
	p.Payments, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (y Payment, err error) {
		var amount decimal.Decimal
		err = row.Scan(&y.ID, &y.Who, &y.Kind, &amount, &y.Day, &y.Way, &y.Note, &y.Settles)
		y.Amount = price.In(a.Currency, amount).Amount
		return y, err
	})
	return p, a, err
}

// Stands is how the customer of an order stands.
func (t *Till) Stands(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Payments, error) {
	p, _, err := t.load(ctx, tx, id)
	return p, err
}

func (t *Till) payments(ctx context.Context, in *web.ID) (*struct{ Body Payments }, error) {
	var p Payments
	err := t.In(ctx, func(tx pgx.Tx) (err error) { p, _, err = t.load(ctx, tx, in.ID); return err })
	return &struct{ Body Payments }{p}, err
}

func (t *Till) pay(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body PaymentFields
}) (*struct{ Body Payments }, error) {
	var p Payments
	err := t.In(ctx, func(tx pgx.Tx) (err error) {
		p, err = web.Once(ctx, tx, in.OnceKey, "note-payment "+in.ID.ID.String(), in.Body, func() (Payments, error) {
			if err := t.Note(ctx, tx, in.ID.ID, in.Body); err != nil {
				return Payments{}, err
			}
			p, _, err := t.load(ctx, tx, in.ID.ID)
			return p, err
		})
		return err
	})
	return &struct{ Body Payments }{p}, err
}

// Note a payment of an order.
func (t *Till) Note(ctx context.Context, tx pgx.Tx, id uuid.UUID, f PaymentFields) error {
	if _, err := tx.Exec(ctx, `select from orders where id = $1 for no key update`, id); err != nil {
		return err
	}
	_, account, err := t.load(ctx, tx, id)
	if err != nil {
		return err
	}
	var faults invalid.Faults
	amount, err := account.Take(f.Kind, f.Amount)
	if errors.Is(err, till.ErrNoPrice) {
		return web.Because(http.StatusConflict, till.ErrNoPrice)
	}
	if err != nil {
		faults.Add("amount", err)
	}
	if _, err := time.Parse(time.DateOnly, f.Day); err != nil {
		faults.Add("day", reason.Of("till.this-must-be-date-such"))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return t.store(ctx, tx, id, f, amount, false)
}

// store a payment that has been checked.
func (t *Till) store(ctx context.Context, tx pgx.Tx, id uuid.UUID, f PaymentFields, amount decimal.Decimal,
	settles bool) error {
	who := web.ActorOf(ctx)
	_, err := tx.Exec(ctx, `insert into payments (kitchen_id, id, order_id, kind, amount, paid_on, way, note, at,
			person_id, settles) values ($1, $2, $3, $4, $5, $6::text::date, $7, $8, $9, $10, $11)`,
		who.Kitchen, db.NewID(), id, f.Kind, amount, f.Day, f.Way, f.Note, t.Clock(), who.Person, settles)
	return err
}

func (t *Till) deletePayment(ctx context.Context, in *web.ID) (*struct{ Body Payments }, error) {
	var p Payments
	err := t.In(ctx, func(tx pgx.Tx) error {
		var id uuid.UUID
		err := tx.QueryRow(ctx, `delete from payments where id = $1 returning order_id`, in.ID).Scan(&id)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("payment")
		}
		if err != nil {
			return err
		}
		p, _, err = t.load(ctx, tx, id)
		return err
	})
	return &struct{ Body Payments }{p}, err
}

// owed by orders that are promised or further, and what is to be given back of those that were cancelled.
func (t *Till) owed(ctx context.Context, tx pgx.Tx, house Context) ([]Owed, error) {
	rows, err := tx.Query(ctx, `select id, number, customer, state, from_at, gross, paid, cancelled from (select o.*, `+
		paidSum+` as paid, `+cancelledAt+` as cancelled from orders o where o.gross is not null and o.state not in ('enquiry', 'quoted')) x
		where case when state = 'cancelled' then paid <> 0 else gross <> paid and state <> 'settled' end order by from_at, number`)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (Owed, error) {
		var o Owed
		a := till.Account{Currency: house.Currency}
		var cancelled *time.Time
		err := row.Scan(&o.Order, &o.Number, &o.Customer, &o.State, &o.From, &a.Agreed, &a.Paid, &cancelled)
		house.keep(&a, cancelled, o.From)
		var rest decimal.Decimal
		o.Stands, rest = a.Stands()
		o.Gross, o.Paid, o.Rest = price.In(a.Currency, a.Due()), price.In(a.Currency, a.Paid),
			price.In(a.Currency, rest)
		o.Late = o.State == order.HandedOver
		return o, err
	})
	// Of one that was cancelled all that was paid may be kept.
	return slices.DeleteFunc(list, func(o Owed) bool { return o.Stands == till.Paid }), err
}

// kept of cancelled orders, by the month in which they were.
func kept(ctx context.Context, tx pgx.Tx, house Context) ([]Kept, error) {
	rows, err := tx.Query(ctx, `select gross, paid, cancelled, from_at from (select o.gross, o.from_at, `+paidSum+` as paid, `+
		cancelledAt+` as cancelled from orders o where o.gross is not null and o.state = 'cancelled') x
		where paid > 0 order by cancelled desc`)
	if err != nil {
		return nil, err
	}
	list, sum := []Kept{}, decimal.Zero
	a := till.Account{Currency: house.Currency}
	var at *time.Time
	var from time.Time
	_, err = pgx.ForEachRow(rows, []any{&a.Agreed, &a.Paid, &at, &from}, func() error {
		house.keep(&a, at, from)
		due := a.Due()
		if !due.IsPositive() {
			return nil
		}
		month := at.In(house.Zone).Format("2006-01")
		if n := len(list); n == 0 || list[n-1].Month != month {
			list, sum = append(list, Kept{Month: month}), decimal.Zero
		}
		sum = sum.Add(due)
		last := &list[len(list)-1]
		last.Orders++
		last.Amount = price.In(house.Currency, sum)
		return nil
	})
	return list, err
}

// Settle notes that what is still owed for an order was paid.
func (t *Till) Settle(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, account, err := t.load(ctx, tx, id)
	if err != nil || !account.Owed().IsPositive() {
		return err
	}
	house, err := t.Context(ctx, tx)
	if err != nil {
		return err
	}
	return t.store(ctx, tx, id, PaymentFields{Kind: till.Balance, Day: t.Clock().In(house.Zone).Format(time.DateOnly)},
		account.Owed(), true)
}

// Unsettle takes that back.
func (t *Till) Unsettle(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, err := tx.Exec(ctx, `delete from payments where order_id = $1 and settles`, id)
	return err
}
