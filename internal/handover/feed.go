package handover

import (
	"context"
	"crypto/rand"
	"errors"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

func (o *Handover) registerFeed() {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Handover"}}
	}
	web.Register(o.Base, op("get-calendar-link", "GET", "calendar-link",
		"The secret link that a calendar can follow, where there is one"), o.link)
	web.Register(o.Base, web.AskAgain(op("make-calendar-link", "POST", "calendar-link",
		"Make a secret link that a calendar can follow; an older one ends")), o.makeLink)
	web.Register(o.Base, op("revoke-calendar-link", "DELETE", "calendar-link", "End the link"), o.endLink)
	feed := op("follow-calendar", "GET", "feeds/{token}/zesty-tin.ics", "The calendar, for whoever has its link")
	feed.Security, feed.Responses = web.Open, web.FileOf("text/calendar", "An iCalendar file")
	web.Register(o.Base, feed, o.feed)
}

// Link to the calendar.
type Link struct {
	Path string `json:"path,omitempty" doc:"Behind the address of the server; empty where there is no link"`
}

func linkTo(token *string) Link {
	if token == nil {
		return Link{}
	}
	return Link{"/api/v1/feeds/" + *token + "/zesty-tin.ics"}
}

func (o *Handover) link(ctx context.Context, _ *struct{}) (*struct{ Body Link }, error) {
	var token *string
	err := o.In(ctx, func(tx pgx.Tx) error { return tx.QueryRow(ctx, `select feed from kitchens`).Scan(&token) })
	return &struct{ Body Link }{linkTo(token)}, err
}

func (o *Handover) makeLink(ctx context.Context, _ *struct{}) (*struct{ Body Link }, error) {
	token := rand.Text()
	err := o.In(ctx, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `update kitchens set feed = $1`, token); err != nil {
			return err
		}
		return web.Note(ctx, tx, o.Clock(), web.LinkMade, "calendar")
	})
	return &struct{ Body Link }{linkTo(&token)}, err
}

func (o *Handover) endLink(ctx context.Context, _ *struct{}) (*struct{ Body Link }, error) {
	err := o.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `update kitchens set feed = null where feed is not null`)
		if err != nil || tag.RowsAffected() == 0 {
			return err
		}
		return web.Note(ctx, tx, o.Clock(), web.LinkEnded, "calendar")
	})
	return &struct{ Body Link }{}, err
}

// feed finds the kitchen by the token, which is all that one needs to know.
func (o *Handover) feed(ctx context.Context, in *struct {
	Token string `path:"token" minLength:"26" maxLength:"64"`
}) (*web.File, error) {
	var kitchen uuid.UUID
	err := db.Begin(ctx, o.Pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `select set_config('zt.feed', $1, true)`, in.Token); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select id from kitchens where feed = $1`, in.Token).Scan(&kitchen)
	})
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("calendar")
	}
	if err != nil {
		return nil, err
	}
	text, err := o.written(web.WithWho(ctx, web.Actor{Kitchen: kitchen}))
	return &web.File{CacheControl: "no-store", ContentType: "text/calendar; charset=utf-8",
		Disposition: `inline; filename="zesty-tin.ics"`, Body: text}, err
}
