package till

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

func (t *Till) registerPayments(tags []string) {
	web.Register(t.Base, huma.Operation{OperationID: "list-payments", Method: "GET", Path: "/api/v1/orders/{id}/payments", Summary: "What was paid for an order, and what is owed", Tags: tags}, t.payments)
	web.Register(t.Base, huma.Operation{OperationID: "note-payment", Method: "POST", Path: "/api/v1/orders/{id}/payments", Summary: "Note a deposit, a balance or a refund", Tags: tags, DefaultStatus: 201}, t.pay)
	web.Register(t.Base, huma.Operation{OperationID: "remove-payment", Method: "DELETE", Path: "/api/v1/payments/{id}", Summary: "Take a note of a payment back", Tags: tags}, t.deletePayment)
}

// PaymentFields is what a person sets of a payment.
type PaymentFields struct {
	Kind   string `json:"kind" enum:"deposit,balance,refund"`
	Amount string `json:"amount" doc:"Decimal, more than 0"`
	Day    string `json:"day" format:"date"`
	Way    string `json:"way,omitempty" maxLength:"40" doc:"Cash, card, transfer"`
	Note   string `json:"note,omitempty" maxLength:"200"`
}

// Payment as it is stored.
type Payment struct {
	ID  uuid.UUID `json:"id"`
	Who string    `json:"who" doc:"Who noted it"`
	PaymentFields
}

// Payments of an order.
type Payments struct {
	Gross    *price.Money `json:"gross,omitempty" doc:"What is to be paid in all; none before a price is agreed on"`
	Deposit  *price.Money `json:"deposit,omitempty" doc:"What is asked in advance, while nothing is paid"`
	Paid     price.Money  `json:"paid"`
	Owed     price.Money  `json:"owed" doc:"Below zero: to be given back"`
	Payments []Payment    `json:"payments"`
}

const paidSum = `coalesce((select sum(case when p.kind = 'refund' then -p.amount else p.amount end) from payments p where p.kitchen_id = o.kitchen_id and p.order_id = o.id), 0)`

func (t *Till) load(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Payments, decimal.Decimal, decimal.Decimal, error) {
	p := Payments{}
	house, err := t.Context(ctx, tx)
	if err != nil {
		return p, decimal.Zero, decimal.Zero, err
	}
	var gross *string
	var state order.State
	var paid decimal.Decimal
	err = tx.QueryRow(ctx, `select o.gross::text, o.state, `+paidSum+` from orders o where o.id = $1`, id).Scan(&gross, &state, &paid)
	if errors.Is(err, pgx.ErrNoRows) {
		return p, decimal.Zero, decimal.Zero, web.NotFound("order")
	}
	if err != nil {
		return p, decimal.Zero, decimal.Zero, err
	}
	due := decimal.Zero
	if gross != nil {
		due = decimal.RequireFromString(*gross)
		m := price.In(house.Currency, due)
		p.Gross = &m
		if share := house.Deposit; share > 0 && !paid.IsPositive() {
			deposit := price.In(house.Currency, due.Mul(decimal.NewFromFloat(share)))
			p.Deposit = &deposit
		}
	}
	if state == order.Cancelled {
		due = decimal.Zero
	}
	p.Paid, p.Owed = price.In(house.Currency, paid), price.In(house.Currency, due.Sub(paid))
	rows, err := tx.Query(ctx, `select y.id, p.name, y.kind, y.amount::text, y.paid_on::text, y.way, y.note from payments y join people p on p.id = y.person_id where y.order_id = $1 order by y.paid_on, y.id`, id)
	if err != nil {
		return p, due, paid, err
	}
	p.Payments, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (y Payment, err error) {
		err = row.Scan(&y.ID, &y.Who, &y.Kind, &y.Amount, &y.Day, &y.Way, &y.Note)
		return y, err
	})
	return p, due, paid, err
}

func (t *Till) payments(ctx context.Context, in *web.ID) (*struct{ Body Payments }, error) {
	var p Payments
	err := t.In(ctx, func(tx pgx.Tx) (err error) { p, _, _, err = t.load(ctx, tx, in.ID); return err })
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
			p, _, _, err := t.load(ctx, tx, in.ID.ID)
			return p, err
		})
		return err
	})
	return &struct{ Body Payments }{p}, err
}

// Note a payment of an order.
func (t *Till) Note(ctx context.Context, tx pgx.Tx, id uuid.UUID, f PaymentFields) error {
	if _, err := tx.Exec(ctx, `select from orders where id = $1 for update`, id); err != nil {
		return err
	}
	now, due, paid, err := t.load(ctx, tx, id)
	if err != nil {
		return err
	}
	house, err := t.Context(ctx, tx)
	if err != nil {
		return err
	}
	var faults invalid.Faults
	amount, err := price.Read(f.Amount, house.Currency)
	switch {
	case err != nil:
		faults.Add("amount", err)
	case amount.IsZero():
		faults.Add("amount", reason.Of("till.nothing-nothing-to-note-write"))
	case f.Kind == "refund" && amount.GreaterThan(paid):
		faults.Add("amount", reason.Of("till.only-was-paid-no-more", reason.Name(now.Paid.Amount)))
	case f.Kind != "refund" && now.Gross == nil:
		return web.Reject(http.StatusConflict, "No price is agreed on yet: quote or promise the order first.")
	case f.Kind != "refund" && amount.GreaterThan(due.Sub(paid)):
		faults.Add("amount", reason.Of("till.that-more-than-that-owed", reason.Name(now.Owed.Amount)))
	}
	if _, err := time.Parse(time.DateOnly, f.Day); err != nil {
		faults.Add("day", reason.Of("till.this-must-be-date-such"))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	who := web.ActorOf(ctx)
	_, err = tx.Exec(ctx, `insert into payments (kitchen_id, id, order_id, kind, amount, paid_on, way, note, at, person_id) values ($1, $2, $3, $4, $5::text::numeric, $6::text::date, $7, $8, $9, $10)`,
		who.Kitchen, db.NewID(), id, f.Kind, f.Amount, f.Day, f.Way, f.Note, t.Clock(), who.Person)
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
		p, _, _, err = t.load(ctx, tx, id)
		return err
	})
	return &struct{ Body Payments }{p}, err
}

// owed by orders that are promised or further, and what is to be given back of those that were cancelled.
func (t *Till) owed(ctx context.Context, tx pgx.Tx, house Context) ([]Owed, error) {
	rows, err := tx.Query(ctx, `select id, number, customer, state, from_at, gross, paid from (select o.*, `+paidSum+` as paid from orders o where o.gross is not null and o.state not in ('enquiry', 'quoted')) x
		where case when state = 'cancelled' then paid <> 0 else gross <> paid and state <> 'settled' end order by from_at`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (Owed, error) {
		var o Owed
		var gross, paid decimal.Decimal
		err := row.Scan(&o.Order, &o.Number, &o.Customer, &o.State, &o.From, &gross, &paid)
		if o.State == order.Cancelled {
			gross = decimal.Zero
		}
		o.Gross, o.Paid, o.Owed = price.In(house.Currency, gross), price.In(house.Currency, paid), price.In(house.Currency, gross.Sub(paid))
		o.Late = o.State == order.HandedOver
		return o, err
	})
}

// settledNote marks the payment that settling an order notes by itself.
const settledNote = "the rest, when it was settled"

// Settle notes that what is still owed for an order was paid.
func (t *Till) Settle(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, due, paid, err := t.load(ctx, tx, id)
	if err != nil || !due.GreaterThan(paid) {
		return err
	}
	house, err := t.Context(ctx, tx)
	if err != nil {
		return err
	}
	return t.Note(ctx, tx, id, PaymentFields{Kind: "balance", Amount: price.In(house.Currency, due.Sub(paid)).Amount, Day: t.Clock().In(house.Zone).Format(time.DateOnly), Note: settledNote})
}

// Unsettle takes that note back.
func (t *Till) Unsettle(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	_, err := tx.Exec(ctx, `delete from payments where order_id = $1 and note = $2`, id, settledNote)
	return err
}
