package web

import (
	"context"
	"encoding/json"
	"errors"
	"io"
	"net/http"
	"reflect"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/text"
)

// spoken is an answer and the words that its reasons are said in.
type spoken struct {
	words *text.Words
	body  any
}

// Words of the kitchen that tx works in.
func Words(ctx context.Context, tx pgx.Tx) (*text.Words, error) {
	var w text.Ways
	err := tx.QueryRow(ctx, `select country = 'US', units = 'us', degrees = 'F', clock = 12, cup, dates from kitchens`).
		Scan(&w.American, &w.US, &w.Fahrenheit, &w.Clock12, &w.Cup, &w.Dates)
	if errors.Is(err, pgx.ErrNoRows) { // it has been deleted meanwhile
		return text.Of(nil), nil
	}
	return text.Kitchen(w), err
}

// Spoken is an answer that knows its words: of a page that needs no sign-in.
type Spoken interface{ Words() *text.Words }

// speak keeps with an answer the words of who asks.
func speak(ctx huma.Context, _ string, body any) (any, error) {
	if s, ok := body.(Spoken); ok {
		return spoken{s.Words(), body}, nil
	}
	words := text.Of(ctx.Context())
	if p, ok := body.(*Problem); ok {
		p.say(words)
	}
	return spoken{words, body}, nil
}

// sayJSON writes answers with a sentence for every reason in them.
var sayJSON = huma.Format{
	Marshal: func(w io.Writer, v any) error {
		if s, ok := v.(spoken); ok {
			return s.words.JSON(w, s.body)
		}
		return text.Of(nil).JSON(w, v)
	},
	Unmarshal: json.Unmarshal,
}

// Write a problem as an answer.
func Write(api huma.API, ctx huma.Context, p huma.StatusError) {
	if told, ok := p.(*Problem); ok {
		told.say(text.Of(ctx.Context()))
	}
	ctx.SetHeader("Content-Type", "application/problem+json")
	ctx.SetStatus(p.GetStatus())
	_ = api.Marshal(ctx.BodyWriter(), "application/json", p)
}

// WriteProblem answers with an error where no operation has been reached.
func WriteProblem(w http.ResponseWriter, r *http.Request, err error) {
	told := problemOf(r.Context(), err)
	var headers huma.HeadersError
	if errors.As(told, &headers) {
		for name, values := range headers.GetHeaders() {
			w.Header()[name] = values
		}
	}
	var p *Problem
	if !errors.As(told, &p) {
		p = Reject(http.StatusInternalServerError, "web.something-went-wrong")
	}
	p.say(text.Of(r.Context()))
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	_ = sayJSON.Marshal(w, p)
}

// sentence is what a reason is in an answer.
type sentence string

// Sentences tells the API's document that reasons are sentences.
func Sentences(r huma.Registry) {
	r.RegisterTypeAlias(reflect.TypeFor[reason.Reason](), reflect.TypeFor[sentence]())
	r.RegisterTypeAlias(reflect.TypeFor[reason.Text](), reflect.TypeFor[sentence]())
}
