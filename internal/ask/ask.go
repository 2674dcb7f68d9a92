// Package ask is the kitchen's public page: a customer sees its treats, asks for some on a day on which they can be
// made, and the order stands among the requests. The page is HTML without scripts and needs nothing else of the
// application.
package ask

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"reflect"
	"regexp"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Ask is the feature.
type Ask struct {
	web.Base
	Deps
}

// Deps is what it needs of other rooms.
type Deps struct {
	// Kitchen as far as a scope asks for it.
	Kitchen func(context.Context, pgx.Tx, order.Scope) (*order.Inputs, error)
	House   func(context.Context, pgx.Tx) (House, error)
	// Write an order among the requests.
	Write func(context.Context, pgx.Tx, order.Draft) (uuid.UUID, error)
	// Limit how often one caller may look, and ask.
	Look, Send func(http.Handler) http.Handler
}

// House is how a kitchen shows itself.
type House struct {
	Name      string
	Address   string
	Statement string // on being a home kitchen
	Logo      []byte // a PNG; nil: it has none
}

// Settings of the page.
type Settings struct {
	Slug     string      `json:"slug" maxLength:"60" doc:"Its page is /ask/ and this"`
	Open     bool        `json:"open" doc:"Whoever has the address can ask"`
	Hello    string      `json:"hello" maxLength:"1000" doc:"What the seller says first"`
	Notice   int         `json:"notice" minimum:"0" maximum:"60" doc:"Days from today on that are not offered"`
	Weekdays []int       `json:"weekdays" maxItems:"7" doc:"On which one hands over, 0 is Sunday"`
	From     si.Minutes  `json:"from" minimum:"0" maximum:"1439" doc:"When one hands over, minute of the day"`
	To       si.Minutes  `json:"to" minimum:"1" maximum:"1440"`
	Delivers bool        `json:"delivers" doc:"One can ask for delivery"`
	Hidden   []uuid.UUID `json:"hidden" maxItems:"500" doc:"Treats that are not shown"`
}

// Shapes is empty: all types are the feature's own.
func Shapes() web.Shapes { return map[reflect.Type]map[string]web.Shape{} }

// Register adds the operations of the seller; Pages adds the page.
func Register(h web.Base, needs Deps) *Ask {
	a := &Ask{h, needs}
	op := func(id, method, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/ask-page", Summary: summary,
			Tags: []string{"Kitchen"}}
	}
	web.Register(h, op("get-ask-page", "GET", "The page on which customers ask, as it is set up"), a.get)
	web.Register(h, op("put-ask-page", "PUT", "Set it up, open it, close it"), a.put)
	return a
}

var slugs = regexp.MustCompile(`^[a-z0-9][a-z0-9-]{1,58}[a-z0-9]$`)

func (s *Settings) check() error {
	var f invalid.Faults
	s.Slug = strings.ToLower(strings.TrimSpace(s.Slug))
	if !slugs.MatchString(s.Slug) {
		f.Add("slug", reason.Of("ask.not-a-slug", reason.Name(s.Slug)))
	}
	if s.To <= s.From {
		f.Add("to", reason.Of("ask.ends-before-it-begins"))
	}
	if len(s.Weekdays) == 0 {
		f.Add("weekdays", reason.Of("ask.choose-a-weekday"))
	}
	for i, d := range s.Weekdays {
		if d < 0 || d > 6 {
			f.Add(fmt.Sprintf("weekdays[%d]", i), reason.Of("ask.choose-a-weekday"))
		}
	}
	return f.Err()
}

// load the settings, or those that a kitchen begins with.
func load(ctx context.Context, tx pgx.Tx) (s Settings, revision int, err error) {
	err = tx.QueryRow(ctx, `select slug, open, hello, notice, weekdays, from_time, to_time, delivers, hidden, revision
			from ask_pages where kitchen_id = zt_kitchen()`).
		Scan(&s.Slug, &s.Open, &s.Hello, &s.Notice, &s.Weekdays, &s.From, &s.To, &s.Delivers, &s.Hidden, &revision)
	if errors.Is(err, pgx.ErrNoRows) {
		s = Settings{Notice: 3, Weekdays: []int{0, 1, 2, 3, 4, 5, 6}, From: 16 * 60, To: 18 * 60, Hidden: []uuid.UUID{}}
		var name string
		err = tx.QueryRow(ctx, `select name from kitchens`).Scan(&name)
		s.Slug = slugOf(name)
	}
	return s, revision, err
}

// slugOf a name: its letters and figures, with dashes between the words.
func slugOf(name string) string {
	slug := strings.Trim(regexp.MustCompile(`[^a-z0-9]+`).ReplaceAllString(strings.ToLower(
		strings.ReplaceAll(name, "'", "")), "-"), "-")
	if slug = slug[:min(len(slug), 50)]; len(slug) < 3 {
		slug = "my-kitchen"
	}
	return slug
}

func (a *Ask) get(ctx context.Context, _ *struct{}) (*web.Tagged[Settings], error) {
	var s Settings
	var revision int
	err := a.In(ctx, func(tx pgx.Tx) (err error) { s, revision, err = load(ctx, tx); return err })
	return web.TaggedBy(revision, s), err
}

func (a *Ask) put(ctx context.Context, in *struct {
	web.IfMatch
	Body Settings
}) (*web.Tagged[Settings], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	s := &in.Body
	if s.Hidden == nil {
		s.Hidden = []uuid.UUID{}
	}
	var revision int
	err := a.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		_, was, err := load(ctx, tx)
		if err != nil {
			return err
		}
		if err := in.Matches(was, func() (any, error) { now, _, err := load(ctx, tx); return now, err }); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `insert into ask_pages (kitchen_id, slug, open, hello, notice, weekdays, from_time, to_time,
			delivers, hidden) values ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10) on conflict (kitchen_id) do update
			set slug = excluded.slug, open = excluded.open, hello = excluded.hello, notice = excluded.notice,
			weekdays = excluded.weekdays, from_time = excluded.from_time, to_time = excluded.to_time,
			delivers = excluded.delivers, hidden = excluded.hidden, revision = ask_pages.revision + 1 returning revision`,
			web.ActorOf(ctx).Kitchen, s.Slug, s.Open, s.Hello, s.Notice, s.Weekdays, s.From, s.To, s.Delivers, s.Hidden).
			Scan(&revision)
	})
	var taken *pgconn.PgError
	if errors.As(err, &taken) && taken.ConstraintName == "ask_pages_slug_key" {
		return nil, invalid.At("slug", reason.Of("ask.slug-is-taken", reason.Name(s.Slug)))
	}
	return web.TaggedBy(revision, *s), err
}
