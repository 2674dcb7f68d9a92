package till

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (t *Till) registerInvoices(tags []string) {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/orders/{id}/invoices" + path,
			Summary: summary, Tags: tags}
	}
	web.Register(t.Base, op("list-invoices", "GET", "", "The invoices of an order, and what takes them back"), t.invoices)
	web.Register(t.Base, op("make-invoice", "POST", "",
		"Write an invoice with the next number; where one that says the same stands already, that one"), t.invoice)
	web.Register(t.Base, op("credit-invoice", "POST", "/{number}/credit",
		"Take an invoice back by a credit note with a number of its own"), t.credit)
	file := op("print-invoice", "GET", "/{number}/invoice.pdf", "An invoice or a credit note as PDF")
	file.Responses = web.FileOf("application/pdf", "A PDF")
	web.Register(t.Base, file, t.printInvoice)
}

// Invoice of an order, or a credit note, as it was written: it is never changed.
type Invoice struct {
	Number   int          `json:"number"`
	Credits  *int         `json:"credits,omitempty" doc:"The invoice that it takes back"`
	Credited *int         `json:"credited,omitempty" doc:"The credit note that takes it back"`
	At       time.Time    `json:"at"`
	Content  InvoiceWords `json:"content"`
}

// InvoiceWords is what stands on an invoice.
type InvoiceWords struct {
	Kitchen  string        `json:"kitchen"`
	Address  string        `json:"address,omitempty"`
	Customer string        `json:"customer"`
	Place    string        `json:"place,omitempty"`
	Order    int           `json:"order"`
	Supplied string        `json:"supplied" format:"date" doc:"Day of the handover"`
	Lines    []InvoiceLine `json:"lines"`
	Net      price.Money   `json:"net" doc:"Without tax"`
	Tax      price.Money   `json:"tax"`
	Gross    price.Money   `json:"gross"`
	// Statement on the tax, as the kitchen had it when the invoice was written.
	Statement string `json:"statement,omitempty"`
}

// InvoiceLine is so many of a treat.
type InvoiceLine struct {
	Count int    `json:"count"`
	Name  string `json:"name"`
}

// Invoices of an order.
type Invoices struct {
	Invoices []Invoice `json:"invoices" doc:"By number"`
}

// words of the invoice that an order would get now.
func (t *Till) words(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*InvoiceWords, error) {
	house, err := t.Context(ctx, tx)
	if err != nil {
		return nil, err
	}
	var w InvoiceWords
	var gross, tax *decimal.Decimal
	var state order.State
	var from time.Time
	err = tx.QueryRow(ctx, `select k.name, k.address, k.tax_statement, o.customer,
			case when o.way = 'delivery' then o.place else '' end, o.number, o.from_at, o.gross, o.tax, o.state,
			coalesce((select jsonb_agg(jsonb_build_object('count', l.count,
			'name', t.name) order by l.position) from order_lines l join treats t on t.kitchen_id = l.kitchen_id
			and t.id = l.treat_id where l.kitchen_id = o.kitchen_id and l.order_id = o.id), '[]')
		from orders o join kitchens k on k.id = o.kitchen_id where o.id = $1`, id).
		Scan(&w.Kitchen, &w.Address, &w.Statement, &w.Customer, &w.Place, &w.Order, &from, &gross, &tax,
			&state, &w.Lines)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("order")
	}
	if err != nil {
		return nil, err
	}
	if gross == nil || !state.Planned() {
		return nil, web.Reject(http.StatusConflict, "till.no-invoice-yet")
	}
	if tax == nil {
		tax = &decimal.Zero
	}
	w.Supplied = from.In(house.Zone).Format(time.DateOnly)
	w.Net, w.Tax, w.Gross = price.In(house.Currency, gross.Sub(*tax)), price.In(house.Currency, *tax),
		price.In(house.Currency, *gross)
	return &w, nil
}

func listInvoices(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Invoices, error) {
	rows, err := tx.Query(ctx, `select i.number, i.credits, (select c.number from invoices c
			where c.kitchen_id = i.kitchen_id and c.credits = i.number), i.at, i.content
		from invoices i where i.order_id = $1 order by i.number`, id)
	if err != nil {
		return Invoices{}, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[Invoice])
	return Invoices{list}, err
}

func (t *Till) invoices(ctx context.Context, in *web.ID) (*struct{ Body Invoices }, error) {
	var list Invoices
	err := t.In(ctx, func(tx pgx.Tx) (err error) {
		if _, _, err = t.load(ctx, tx, in.ID); err != nil {
			return err
		}
		list, err = listInvoices(ctx, tx, in.ID)
		return err
	})
	return &struct{ Body Invoices }{list}, err
}

// store an invoice with the next number.
func (t *Till) storeInvoice(ctx context.Context, tx pgx.Tx, id uuid.UUID, credits *int, w *InvoiceWords) error {
	_, err := tx.Exec(ctx, `insert into invoices (kitchen_id, number, order_id, credits, content, at, person_id)
			select $1, coalesce(max(number), 0) + 1, $2, $3, $4, $5, $6 from invoices`, web.ActorOf(ctx).Kitchen, id, credits,
		w, t.Clock(), web.ActorOf(ctx).Person)
	return err
}

func (t *Till) invoice(ctx context.Context, in *web.ID) (*struct{ Body Invoices }, error) {
	var list Invoices
	err := t.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		w, err := t.words(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		if list, err = listInvoices(ctx, tx, in.ID); err != nil {
			return err
		}
		for _, i := range list.Invoices {
			if i.Credits != nil || i.Credited != nil {
				continue
			}
			if same(&i.Content, w) {
				return nil
			}
			return web.Reject(http.StatusConflict, "till.credit-it-first", reason.Int(i.Number))
		}
		if err := t.storeInvoice(ctx, tx, in.ID, nil, w); err != nil {
			return err
		}
		list, err = listInvoices(ctx, tx, in.ID)
		return err
	})
	return &struct{ Body Invoices }{list}, err
}

// same words.
func same(a, b *InvoiceWords) bool {
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && string(x) == string(y)
}

// OfOrder names an invoice of an order.
type OfOrder struct {
	web.ID
	Number int `path:"number" minimum:"1" maximum:"2000000000"`
}

func find(ctx context.Context, tx pgx.Tx, in *OfOrder) (*Invoice, error) {
	list, err := listInvoices(ctx, tx, in.ID.ID)
	if err != nil {
		return nil, err
	}
	for i := range list.Invoices {
		if list.Invoices[i].Number == in.Number {
			return &list.Invoices[i], nil
		}
	}
	return nil, web.NotFound("invoice")
}

func (t *Till) credit(ctx context.Context, in *OfOrder) (*struct{ Body Invoices }, error) {
	var list Invoices
	err := t.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		i, err := find(ctx, tx, in)
		if err != nil {
			return err
		}
		if i.Credits != nil {
			return web.Reject(http.StatusConflict, "till.is-a-credit-note", reason.Int(i.Number))
		}
		if i.Credited == nil {
			if err := t.storeInvoice(ctx, tx, in.ID.ID, &i.Number, &i.Content); err != nil {
				return err
			}
		}
		list, err = listInvoices(ctx, tx, in.ID.ID)
		return err
	})
	return &struct{ Body Invoices }{list}, err
}

func (t *Till) printInvoice(ctx context.Context, in *OfOrder) (*web.File, error) {
	var i *Invoice
	var zone *time.Location
	var logo []byte
	err := t.In(ctx, func(tx pgx.Tx) (err error) {
		house, err := t.Context(ctx, tx)
		if err != nil {
			return err
		}
		zone = house.Zone
		if logo, err = t.Logo(ctx, tx); err != nil {
			return err
		}
		i, err = find(ctx, tx, in)
		return err
	})
	if err != nil {
		return nil, err
	}
	pdf, err := invoicePDF(text.Of(ctx), i, zone, logo)
	return web.Download(fmt.Sprintf("invoice-%d.pdf", i.Number), "application/pdf", pdf), err
}

func invoicePDF(words *text.Words, i *Invoice, zone *time.Location, logo []byte) ([]byte, error) {
	c := &i.Content
	title, sign := words.Of("till.invoice", reason.Int(i.Number)), ""
	if i.Credits != nil {
		title, sign = words.Of("till.credit-note", reason.Int(i.Number), reason.Int(*i.Credits)), "-"
	}
	s := paper.Headed(c.Kitchen, c.Address, logo)
	amount := func(m price.Money) string {
		return sign + words.Value(reason.Money{Amount: m.Amount, Currency: m.Currency})
	}
	s.Part(title, words.Of("till.written-on", reason.Date(i.At.In(zone).Format(time.DateOnly))),
		words.Of("till.supplied-on", reason.Date(c.Supplied), reason.Int(c.Order)))
	whom := []string{c.Customer}
	if c.Place != "" {
		whom = append(whom, c.Place)
	}
	s.Part(words.Of("till.to"), whom...)
	lines := []string{}
	for _, l := range c.Lines {
		lines = append(lines, fmt.Sprintf("%d %s", l.Count, l.Name))
	}
	s.Part(words.Of("paper.what"), lines...)
	s.Part(words.Of("till.net"), amount(c.Net))
	s.Part(words.Of("till.tax"), amount(c.Tax))
	s.Part(words.Of("till.gross"), amount(c.Gross))
	if c.Statement != "" {
		s.Part("", c.Statement)
	}
	if i.Credited != nil {
		s.Part("", words.Of("till.was-credited", reason.Int(*i.Credited)))
	}
	return s.Bytes(words.Lacking)
}
