// Package messages tells customers of their orders, by mail or by text message: what is due is written into an outbox
// in the transaction that causes it, and sent from there, once.
package messages

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/price"
	"zestytin/internal/platform/jobs"
	"zestytin/internal/platform/post"
	"zestytin/internal/platform/web"
)

// House is what messages tell of the kitchen.
type House struct {
	Name    string
	Sender  string // whom mail comes from
	ReplyTo string // where replies go
	Zone    *time.Location
	Address string // where things are picked up
	Public  string // where its pages are reached; empty where nobody has said
	ToTry   bool   // of a visitor: nothing leaves it
}

// Standing is how an order stands with its money. A nil amount: there is none.
type Standing struct {
	Price, Deposit, Rest *price.Money
	DepositBy            string // a date; empty: at once
}

// Deps is what messages need of other rooms, and of outside.
type Deps struct {
	House  func(context.Context, pgx.Tx) (House, error)
	Stands func(ctx context.Context, tx pgx.Tx, order uuid.UUID) (Standing, error)
	Jobs   *jobs.Set
	Mailer post.Mailer // nil: there is no mail server
	Texter post.Texter // nil: there is nothing that sends text messages
}

// Messages is the feature.
type Messages struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Messages {
	m := &Messages{h, needs}
	jobs.Add(needs.Jobs, jobs.Way{Queue: "messages", Longest: 2 * post.Patience}, m.send)
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Messages"}}
	}
	web.Register(h, op("get-message-settings", "GET", "message-settings",
		"What is told to customers by itself, when, and in which words"), m.settings)
	web.Register(h, op("put-message-settings", "PUT", "message-settings", "Change that; nothing of before is told"),
		m.putSettings)
	web.Register(h, op("preview-message", "POST", "message-settings/preview",
		"Fill words in with an order: one that is named, or the latest; nothing is saved"), m.preview)
	web.Register(h, op("list-messages", "GET", "messages", "The outbox, latest first"), m.list)
	web.Register(h, op("change-message", "POST", "messages/{id}/{deed}",
		"Undo a message that has not left, send it now, try it again, or note that it was sent otherwise"), m.change)
	web.Register(h, op("draft-messages", "GET", "orders/{id}/messages",
		"What could be told to the customer of an order, filled in, and what was"), m.drafts)
	write := op("write-message", "POST", "orders/{id}/messages", "Tell the customer of an order something, by hand")
	write.DefaultStatus = 201
	web.Register(h, write, m.write)
	web.Register(h, op("refuse-messages", "POST", "orders/{id}/no-more",
		"Note that the customer of an order wants no messages any more, as they have said"), m.refuse)
	return m
}
