package orders

import (
	"bytes"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

func (o *Orders) registerQuotes() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Quotes"}}
	}
	open := func(h huma.Operation) huma.Operation { h.Security = web.Open; return h }
	made := op("make-quote", "POST", "orders/{id}/quotes",
		"Write a quote that the customer can look at by its link; an older link of the order ends")
	made.DefaultStatus = 201
	web.Register(o.Base, made, o.makeQuote)
	web.Register(o.Base, op("revoke-quotes", "DELETE", "orders/{id}/quotes", "End the link of an order's quote"),
		o.revoke)
	web.Register(o.Base, op("list-answers", "GET", "quote-answers",
		"What customers answered to their quotes in the last week, latest first"), o.answers)
	web.Register(o.Base, open(op("get-quote", "GET", "quotes/{token}", "A quote, for whoever has its link")), o.quote)
	logo := open(op("get-quote-logo", "GET", "quotes/{token}/logo", "The logo of the kitchen that a quote is from"))
	logo.Responses = web.FileOf("image/png", "A PNG")
	web.Register(o.Base, logo, o.quoteLogo)
	paper := open(op("print-quote", "GET", "quotes/{token}/quote.pdf", "The quote as PDF"))
	paper.Responses = web.FileOf("application/pdf", "PDF")
	web.Register(o.Base, paper, o.quotePaper)
	web.Register(o.Base, open(op("accept-quote", "POST", "quotes/{token}/acceptance", "Say yes, once")), o.accept)
	web.Register(o.Base, open(op("answer-quote", "POST", "quotes/{token}/request", "Ask for a change")), o.request)
}

// QuoteState is a quote as its seller sees it.
type QuoteState struct {
	Token     string     `json:"token" doc:"Its page is /q/ and this"`
	Made      time.Time  `json:"made"`
	Expires   time.Time  `json:"expires"`
	Revoked   bool       `json:"revoked"`
	Accepted  *time.Time `json:"accepted,omitempty"`
	By        string     `json:"by,omitempty" doc:"Who accepted it"`
	Request   string     `json:"request,omitempty" doc:"The change that was asked for"`
	Requested *time.Time `json:"requested,omitempty"`
}

// lastQuote of an order, or nil.
func lastQuote(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*QuoteState, error) {
	var q QuoteState
	err := tx.QueryRow(ctx, `select token, made_at, expires_at, revoked_at is not null, accepted_at, accepted_by,
			request, requested_at from quotes where order_id = $1 order by id desc limit 1`, id).
		Scan(&q.Token, &q.Made, &q.Expires, &q.Revoked, &q.Accepted, &q.By, &q.Request, &q.Requested)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	return &q, err
}

// content of the quote of an order as it is now.
func (o *Orders) content(ctx context.Context, tx pgx.Tx, s *stored) (order.Quote, int, error) {
	known, err := o.kitchenOf(ctx, tx, s, &s.Draft)
	if err != nil {
		return order.Quote{}, 0, err
	}
	r, err := order.Compute(ctx, &s.Draft, known)
	if err != nil {
		return order.Quote{}, 0, err
	}
	var name string
	if err := tx.QueryRow(ctx, `select name from kitchens`).Scan(&name); err != nil {
		return order.Quote{}, 0, err
	}
	return r.Quote(&s.Draft, name, known), known.Terms.QuoteDays, nil
}

func (o *Orders) makeQuote(ctx context.Context, in *web.ID) (*web.Tagged[Order], error) {
	var changed Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		s, err := load(ctx, tx, in.ID, "for no key update")
		if err != nil {
			return err
		}
		switch s.State {
		case order.Enquiry:
			if err := o.Advance(ctx, tx, s.ID, order.Quoted); err != nil {
				return err
			}
			if s, err = load(ctx, tx, in.ID, ""); err != nil {
				return err
			}
		case order.Quoted:
		default:
			return web.Reject(http.StatusConflict, "orders.a-quote-comes-before", reason.Word(s.State))
		}
		if err := o.WriteQuote(ctx, tx, s.ID); err != nil {
			return err
		}
		changed, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(changed.Revision, changed), err
}

// WriteQuote of an order that is quoted; older links of it end.
func (o *Orders) WriteQuote(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	s, err := load(ctx, tx, id, "")
	if err != nil {
		return err
	}
	q, days, err := o.content(ctx, tx, s)
	if err != nil {
		return err
	}
	if err := revokeAll(ctx, tx, s.ID, o.Clock()); err != nil {
		return err
	}
	who := web.ActorOf(ctx)
	// It ends with the handover at the latest: a yes after that helps nobody.
	expires := o.Clock().AddDate(0, 0, days)
	if s.Draft.From.Before(expires) {
		expires = s.Draft.From
	}
	_, err = tx.Exec(ctx, `insert into quotes (kitchen_id, id, order_id, token, content, made_at, made_by, expires_at)
			values ($1, $2, $3, $4, $5, $6, $7, $8)`,
		who.Kitchen, db.NewID(), s.ID, rand.Text(), q, o.Clock(), who.Person, expires)
	if err != nil {
		return err
	}
	if err := web.Note(ctx, tx, o.Clock(), web.LinkMade, fmt.Sprintf("quote %d", s.Number)); err != nil {
		return err
	}
	return o.Tell(ctx, tx, s.ID)
}

func revokeAll(ctx context.Context, tx pgx.Tx, id uuid.UUID, now time.Time) error {
	_, err := tx.Exec(ctx, `update quotes set revoked_at = $2 where order_id = $1 and revoked_at is null
			and accepted_at is null`, id, now)
	return err
}

func (o *Orders) revoke(ctx context.Context, in *web.ID) (*web.Tagged[Order], error) {
	var changed Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		s, err := load(ctx, tx, in.ID, "for no key update")
		if err != nil {
			return err
		}
		if err := revokeAll(ctx, tx, s.ID, o.Clock()); err != nil {
			return err
		}
		changed, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(changed.Revision, changed), err
}

// Token of a quote, from its link.
type Token struct {
	Token string `path:"token" minLength:"26" maxLength:"64"`
}

// QuotePage is what the customer sees.
type QuotePage struct {
	Quote    order.Quote `json:"quote"`
	Expires  time.Time   `json:"expires"`
	Clock    int         `json:"clock" enum:"12,24" doc:"That the kitchen goes by"`
	State    string      `json:"state" enum:"open,accepted,expired,ended,changed" doc:"changed: the order is no longer what this says; a new quote is to come"`
	Accepted *time.Time  `json:"accepted,omitempty"`
	Request  string      `json:"request,omitempty" doc:"The change that was asked for"`

	Statements []string `json:"statements,omitempty" doc:"What the kitchen says on its tax, and on being a home kitchen"`
	Logo       bool     `json:"logo,omitempty" doc:"It has a logo"`

	logo  []byte
	words *text.Words
}

// Words of the kitchen that it is from.
func (p QuotePage) Words() *text.Words { return p.words }

// gone is the answer for a link that leads nowhere, whatever the reason: it tells nothing.
func gone() error {
	return web.Reject(http.StatusNotFound, "orders.link-no-longer-works")
}

// found is a quote behind a link.
type found struct {
	words              *text.Words
	id, kitchen, order uuid.UUID
	content            order.Quote
	expires            time.Time
	revoked, accepted  *time.Time
	request            string
}

// byLink finds the quote of a token and runs fn in its kitchen, as the customer. lock keeps others from answering
// meanwhile.
func (o *Orders) byLink(ctx context.Context, token string, lock bool,
	fn func(context.Context, pgx.Tx, *found) error) error {
	var q found
	err := db.Begin(ctx, o.Pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `select set_config('zt.quote', $1, true)`, token); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select kitchen_id, id from quotes where token = $1`, token).Scan(&q.kitchen, &q.id)
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return gone()
	}
	if err != nil {
		return err
	}
	ctx = web.WithWho(ctx, web.Actor{Kitchen: q.kitchen})
	return o.In(ctx, func(tx pgx.Tx) error {
		suffix := ""
		if lock {
			if err := db.LockKitchen(ctx, tx); err != nil {
				return err
			}
			suffix = " for no key update"
		}
		err := tx.QueryRow(ctx, `select order_id, content, expires_at, revoked_at, accepted_at, request from quotes
			where id = $1`+suffix, q.id).Scan(&q.order, &q.content, &q.expires, &q.revoked, &q.accepted, &q.request)
		if err != nil {
			return err
		}
		if q.words, err = web.Words(ctx, tx); err != nil {
			return err
		}
		return fn(ctx, tx, &q)
	})
}

// statements of a kitchen that stand under its quotes: on its tax, and on being a home kitchen.
func statements(ctx context.Context, tx pgx.Tx) (list []string, err error) {
	rows, err := tx.Query(ctx, `select s from kitchens,
		unnest(array[tax_statement, home_statement]) with ordinality x(s, n) where s <> '' order by n`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[string])
}

// state of a quote at a time, and its order.
func (o *Orders) state(ctx context.Context, tx pgx.Tx, q *found) (string, *stored, error) {
	s, err := load(ctx, tx, q.order, "")
	if err != nil {
		return "", nil, err
	}
	switch {
	case q.accepted != nil:
		return "accepted", s, nil
	case q.revoked != nil:
		return "ended", s, nil
	case o.Clock().After(q.expires):
		return "expired", s, nil
	case s.State != order.Quoted:
		return "ended", s, nil
	}
	now, _, err := o.content(ctx, tx, s)
	if err != nil {
		// The order can no longer be reckoned as it was: whoever wrote it must look at it.
		var faults *invalid.Error
		if errors.As(err, &faults) {
			return "changed", s, nil
		}
		return "", s, err
	}
	if !sameQuote(now, q.content) {
		return "changed", s, nil
	}
	return "open", s, nil
}

// sameQuote tells whether two quotes say the same, also where one was kept as sentences by a version before.
func sameQuote(a, b order.Quote) bool {
	var x, y bytes.Buffer
	errX, errY := text.For(false).JSON(&x, a), text.For(false).JSON(&y, b)
	return errX == nil && errY == nil && bytes.Equal(x.Bytes(), y.Bytes())
}

func (o *Orders) page(ctx context.Context, token string) (QuotePage, error) {
	var p QuotePage
	err := o.byLink(ctx, token, false, func(ctx context.Context, tx pgx.Tx, q *found) error {
		state, _, err := o.state(ctx, tx, q)
		if err != nil {
			return err
		}
		if state == "ended" {
			return gone()
		}
		p = QuotePage{Clock: q.words.Hours(), Quote: q.content, Expires: q.expires, State: state, Accepted: q.accepted,
			Request: q.request,
			words:   q.words}
		if p.Statements, err = statements(ctx, tx); err != nil {
			return err
		}
		p.logo, err = o.Logo(ctx, tx)
		p.Logo = p.logo != nil
		return err
	})
	return p, err
}

func (o *Orders) quote(ctx context.Context, in *Token) (*struct {
	CacheControl string `header:"Cache-Control"`
	Robots       string `header:"X-Robots-Tag"`
	Body         QuotePage
}, error) {
	p, err := o.page(ctx, in.Token)
	return &struct {
		CacheControl string `header:"Cache-Control"`
		Robots       string `header:"X-Robots-Tag"`
		Body         QuotePage
	}{"no-store", "noindex", p}, err
}

func (o *Orders) quoteLogo(ctx context.Context, in *Token) (*web.File, error) {
	p, err := o.page(ctx, in.Token)
	if err == nil && !p.Logo {
		err = web.NotFound("logo")
	}
	return &web.File{ContentType: "image/png", Body: p.logo, CacheControl: "private, no-cache"}, err
}

func (o *Orders) quotePaper(ctx context.Context, in *Token) (*web.File, error) {
	p, err := o.page(ctx, in.Token)
	if err != nil {
		return nil, err
	}
	pdf, err := quotePDF(p)
	return web.Download("quote.pdf", "application/pdf", pdf), err
}
