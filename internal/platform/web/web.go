// Package web is what all HTTP operations share: how they are registered, how they fail, who asks, and the static
// files.
package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/http"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/internal/platform/clock"
	"zestytin/internal/platform/db"
)

// Actor asks: a person in one of their kitchens. A person who is in none has no kitchen.
type Actor struct {
	Person  uuid.UUID
	Kitchen uuid.UUID
	Role    Role // empty where it is the application itself that acts
}

// ID of the person who acts; nil where it is a customer or the application itself.
func (a Actor) ID() *uuid.UUID {
	if a.Person == uuid.Nil {
		return nil
	}
	return &a.Person
}

type whoKey struct{}

// WithWho is ctx for a signed-in person.
func WithWho(ctx context.Context, w Actor) context.Context {
	return context.WithValue(ctx, whoKey{}, w)
}

// ActorOf ctx; the zero value when nobody is signed in.
func ActorOf(ctx context.Context) Actor {
	w, _ := ctx.Value(whoKey{}).(Actor)
	return w
}

// Base is what a feature is built on.
type Base struct {
	API   huma.API
	Pool  *pgxpool.Pool
	Clock clock.Clock
	Gate  *Gate // for what computes much; nil: everything is let in
}

// In runs fn in a transaction in the kitchen of who asks, as long as they work in it.
func (h Base) In(ctx context.Context, fn func(pgx.Tx) error) error {
	who := ActorOf(ctx)
	return db.InKitchen(ctx, h.Pool, who.Kitchen, func(tx pgx.Tx) error {
		if who.Role != "" {
			if err := who.stay(ctx, tx); err != nil {
				return err
			}
		}
		return fn(tx)
	})
}

// retries of a request whose transaction the database gave up because another was in its way: it has changed nothing,
// so it is begun anew.
const retries = 3

// pause before a request is begun anew: 5 to 10 ms, then twice that and so on, so that two that were in each other's
// way do not meet again.
func pause(ctx context.Context, try int) {
	wait := 5 * time.Millisecond << (try - 1)
	select {
	case <-time.After(wait + rand.N(wait)):
	case <-ctx.Done():
	}
}

// ByPerson is the security of operations that need a signed-in person. It is the default of Register.
var ByPerson = []map[string][]string{{"session": {}}}

// Open is the security of operations for everyone.
var Open = []map[string][]string{}

// Register adds an operation: its errors become problems, and it needs a signed-in person unless it says Security:
// Open.
func Register[I, O any](h Base, op huma.Operation, handler func(context.Context, *I) (*O, error)) {
	if op.Security == nil {
		op.Security = ByPerson
	}
	if op.OperationID == "" {
		panic("operation without an id: " + op.Path)
	}
	op.Errors = refusals[I](&op)
	_, streams := any(new(O)).(*huma.StreamResponse)
	huma.Register(h.API, op, func(ctx context.Context, in *I) (*O, error) {
		if !streams { // what shows its progress may take its time
			var cancel func()
			ctx, cancel = context.WithTimeout(ctx, Deadline)
			defer cancel()
		}
		if isHeavy(&op) {
			leave, err := h.Gate.Enter(ctx, ActorOf(ctx).Kitchen)
			if err != nil {
				return nil, problemOf(ctx, err)
			}
			defer leave()
		}
		out, err := handler(ctx, in)
		for try := 1; try <= retries && db.Crossed(err) && ctx.Err() == nil; try++ {
			pause(ctx, try)
			out, err = handler(ctx, in)
		}
		if err == nil && op.Metadata[gives] == true {
			err = h.In(ctx, func(tx pgx.Tx) error { return Note(ctx, tx, h.Clock(), Exported, path.Base(op.Path)) })
		}
		if err != nil {
			return nil, problemOf(ctx, err)
		}
		return out, nil
	})
}

// refusals are the answers by which an operation can say no, for the API's document.
func refusals[I any](op *huma.Operation) []int {
	codes := op.Errors
	add := func(when bool, status ...int) {
		if when {
			codes = append(codes, status...)
		}
	}
	_, edit := any(new(I)).(interface {
		Matches(int, func() (any, error)) error
	})
	add(true, http.StatusUnprocessableEntity, http.StatusServiceUnavailable)
	add(isHeavy(op), http.StatusTooManyRequests)
	add(len(op.Security) > 0, http.StatusUnauthorized)
	add(strings.Contains(op.Path, "{"), http.StatusNotFound)
	add(op.Method != http.MethodGet, http.StatusBadRequest, http.StatusForbidden, http.StatusConflict,
		http.StatusRequestEntityTooLarge, http.StatusUnsupportedMediaType)
	add(edit, http.StatusPreconditionFailed, http.StatusPreconditionRequired)
	slices.Sort(codes)
	return slices.Compact(codes)
}

// MostText is the largest body in bytes of an operation that takes pasted text or a file: somewhat more than what is
// read, so that it is the operation that says what is too long.
const MostText = 4 << 20

// ID is a path parameter.
type ID struct {
	ID uuid.UUID `path:"id" format:"uuid"`
}

// Tagged is an answer with the revision of what it shows.
type Tagged[T any] struct {
	ETag string `header:"ETag"`
	Body T
}

// Tag of a revision.
func Tag(revision int) string { return `"` + strconv.Itoa(revision) + `"` }

// TaggedBy makes an answer with its revision.
func TaggedBy[T any](revision int, body T) *Tagged[T] {
	return &Tagged[T]{ETag: Tag(revision), Body: body}
}

// IfMatch is the header of an edit: the ETag that it was based on.
type IfMatch struct {
	IfMatch string `header:"If-Match" doc:"The ETag that the edit is based on"`
}

// Matches checks an edit against the present revision. current is made only when someone was faster.
func (m IfMatch) Matches(revision int, current func() (any, error)) error {
	switch m.IfMatch {
	case "":
		return Reject(http.StatusPreconditionRequired, "web.an-edit-must-carry-if-match")
	case Tag(revision), "*":
		return nil
	}
	now, err := current()
	if err != nil {
		return err
	}
	return Changed(now)
}

// OnceKey is the header of a create that is to be done once however often it is sent.
type OnceKey struct {
	Key string `header:"Idempotency-Key" maxLength:"200" doc:"Any text of your own; the same key gets the first answer again"`
}

// Once runs create in tx, or, when the key was used before, gives the first answer again. A key that was used for
// something else is refused. Of two at the same time the second waits for the first.
func Once[T any](ctx context.Context, tx pgx.Tx, k OnceKey, operation string, body any, create func() (T, error)) (T,
	error) {
	var answer T
	if k.Key == "" {
		return create()
	}
	text, err := json.Marshal(body)
	if err != nil {
		return answer, err
	}
	sum := sha256.Sum256(text)
	request := operation + " " + hex.EncodeToString(sum[:])
	kitchen := ActorOf(ctx).Kitchen
	tag, err := tx.Exec(ctx, `insert into idempotency_keys (kitchen_id, key, request) values ($1, $2, $3)
			on conflict do nothing`, kitchen, k.Key, request)
	if err != nil {
		return answer, err
	}
	if tag.RowsAffected() == 0 {
		var first string
		var stored []byte
		if err := tx.QueryRow(ctx, `select request, answer from idempotency_keys where key = $1`, k.Key).Scan(&first,
			&stored); err != nil {
			return answer, err
		}
		if first != request {
			return answer, Reject(http.StatusUnprocessableEntity, "web.this-key-was-used")
		}
		return answer, json.Unmarshal(stored, &answer)
	}
	if answer, err = create(); err != nil {
		return answer, err
	}
	stored, err := json.Marshal(answer)
	if err != nil {
		return answer, err
	}
	_, err = tx.Exec(ctx, `update idempotency_keys set answer = $2 where key = $1`, k.Key, stored)
	return answer, err
}

// File is a download.
type File struct {
	CacheControl string `header:"Cache-Control"`
	ContentType  string `header:"Content-Type"`
	Disposition  string `header:"Content-Disposition"`
	Body         []byte
}

// Download makes a File.
func Download(name, contentType string, body []byte) *File {
	return &File{ContentType: contentType, Disposition: fmt.Sprintf("attachment; filename=%q", name), Body: body}
}

// FileOf describes a download in the OpenAPI document.
func FileOf(contentType, what string) map[string]*huma.Response {
	return map[string]*huma.Response{"200": {Description: what,
		Content: map[string]*huma.MediaType{contentType: {Schema: &huma.Schema{Type: "string"}}}}}
}

// Cell makes text safe in a spreadsheet: one that would be taken for a formula is quoted.
func Cell(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r", rune(text[0])) {
		return "'" + text
	}
	return text
}
