package web

import (
	"context"
	"errors"
	"io"
	"log/slog"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"
	"github.com/jackc/pgerrcode"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/text"
)

// Problem is how every operation says that it could not be done: RFC 9457 problem details with, where someone else was
// faster, the present state of what was to be changed.
type Problem struct {
	huma.ErrorModel
	Current any               `json:"current,omitempty" doc:"With 412: what it is now"`
	Code    string            `json:"code,omitempty" doc:"What is wrong in a word that does not change with the language"`
	Codes   map[string]string `json:"codes,omitempty" doc:"The same of each fault, by its location"`
	why     reason.Reason     // said in the words of who asks when it is sent
}

// Reject makes a problem of a reason.
func Reject(status int, code string, of ...reason.Value) *Problem {
	return Because(status, reason.Of(code, of...))
}

// Because makes a problem of a reason.
func Because(status int, why reason.Reason) *Problem {
	return &Problem{ErrorModel: huma.ErrorModel{Status: status, Title: http.StatusText(status)}, Code: why.Root().Code,
		why: why}
}

// Later is a refusal that holds for now: the same may be asked again after a while.
func Later(status int, code string, after time.Duration) error {
	return huma.ErrorWithHeaders(Reject(status, code), http.Header{"Retry-After": {strconv.Itoa(int(after.Seconds()))}})
}

// say the problem in words.
func (p *Problem) say(words *text.Words) {
	if p.Detail == "" && !p.why.None() {
		p.Detail = words.Say(p.why)
	}
	if p.Code == reason.AsWritten {
		p.Code = ""
	}
}

// Error for the log.
func (p *Problem) Error() string {
	if p.Detail == "" {
		return p.why.Error()
	}
	return p.Detail
}

// NotFound is the answer for what is not there, or is another kitchen's.
func NotFound(what string) *Problem {
	return Reject(http.StatusNotFound, "web.there-is-no-such", reason.Word(what))
}

// Changed is the answer to an edit of something that has changed meanwhile.
func Changed(current any) *Problem {
	p := Reject(http.StatusPreconditionFailed, "web.someone-changed-this")
	p.Current = current
	return p
}

func init() {
	huma.DefaultArrayNullable = false // an empty list is [], never null
	validation.MsgUnexpectedProperty = text.Format("input.unexpected-property")
	validation.MsgExpectedRFC3339DateTime = text.Format("input.date-time")
	validation.MsgExpectedRFC3339Date = text.Format("input.date")
	validation.MsgExpectedNumber = text.Format("input.number")
	validation.MsgExpectedInteger = text.Format("input.integer")
	validation.MsgExpectedString = text.Format("input.string")
	validation.MsgExpectedBoolean = text.Format("input.boolean")
	validation.MsgExpectedArray = text.Format("input.array")
	validation.MsgExpectedObject = text.Format("input.object")
	validation.MsgExpectedOneOf = text.Format("input.one-of", "value")
	validation.MsgExpectedRequiredProperty = text.Format("input.required-property", "value")
	validation.MsgExpectedMinLength = text.Format("input.min-length", "value")
	validation.MsgExpectedMaxLength = text.Format("input.max-length", "value")
	validation.MsgExpectedMaxItems = text.Format("input.max-items", "value")
	validation.MsgExpectedMinItems = text.Format("input.min-items", "value")
	validation.MsgExpectedMaxProperties = text.Format("input.max-properties", "value")
	validation.MsgExpectedMatchPattern = text.Format("input.match-pattern") + "%.0s" // the only pattern that there is
	validation.MsgExpectedMinimumNumber = text.Format("input.minimum-number", "value")
	validation.MsgExpectedMaximumNumber = text.Format("input.maximum-number", "value")

	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		p := &Problem{ErrorModel: huma.ErrorModel{Status: status, Title: http.StatusText(status),
			Detail: sentenceFor(status, message)}}
		for _, err := range errs {
			if err != nil {
				p.Add(err)
			}
		}
		p.Errors = capped(p.Errors)
		for _, e := range p.Errors {
			e.Message = strings.ReplaceAll(e.Message, "1e+09", "1,000,000,000")
			if strings.HasPrefix(e.Message, "invalid value: invalid UUID") {
				e.Message = "This is not an id that we gave out: check the address."
			}
		}
		return p
	}
}

// What of the faults of an input is told: enough to mend it, and no echo of what was sent.
const (
	mostFaults = 50
	mostEcho   = 200 // letters of a value
)

// capped are the faults that are told.
func capped(faults []*huma.ErrorDetail) []*huma.ErrorDetail {
	faults = faults[:min(len(faults), mostFaults)]
	for _, e := range faults {
		switch v := e.Value.(type) {
		case string:
			e.Value = short(v)
		case map[string]any, []any:
			e.Value = nil // its place says which it is
		}
		e.Location = short(e.Location)
	}
	return faults
}

// logged is an error as it goes into the log: not with all that somebody sent.
func logged(err error) string {
	text := err.Error()
	return text[:min(len(text), 1000)]
}

// short is the begin of a text.
func short(text string) string {
	if letters := []rune(text); len(letters) > mostEcho {
		return string(letters[:mostEcho]) + "…"
	}
	return text
}

// quoted is a reason with what a person wrote cut short.
func quoted(r reason.Reason) reason.Reason {
	r.With = slices.Clone(r.With)
	for i, v := range r.With {
		switch v := v.(type) {
		case reason.Name:
			r.With[i] = reason.Name(short(string(v)))
		case reason.Reason:
			r.With[i] = quoted(v)
		}
	}
	return r
}

func sentenceFor(status int, message string) string {
	switch status {
	case http.StatusRequestEntityTooLarge:
		return "This is more than 1 MB. Send less at once."
	case http.StatusUnsupportedMediaType:
		return "This is not JSON: send the body as application/json."
	case http.StatusBadRequest:
		if !strings.HasSuffix(message, ".") {
			return "The body is not JSON that we can read: check its brackets, commas and quotes."
		}
	case http.StatusUnprocessableEntity:
		if message == "validation failed" {
			return "Some of it cannot be taken: each fault is listed with its place. Nothing was saved."
		}
	}
	return message
}

// Sentence is what a client is told of an error after its answer has begun.
func Sentence(ctx context.Context, err error) string {
	var told *Problem
	if errors.As(problemOf(ctx, err), &told) {
		told.say(text.Of(ctx))
		return told.Detail
	}
	return problemOf(ctx, err).Error()
}

// toldAway is the second at which the log was last told of a database that is away: it is told again when nobody has
// asked for it for a while, not of every request.
var toldAway atomic.Int64

// quiet seconds between two requests to a database that is away, after which the log is told again.
const quiet = 10

// away tells whether an error says that the database is not there, or not for us: then nothing of the request was done.
func away(err error) bool {
	var connect *pgconn.ConnectError
	var network net.Error
	var stored *pgconn.PgError
	switch {
	case errors.As(err, &stored):
		return pgerrcode.IsConnectionException(stored.Code) || pgerrcode.IsOperatorIntervention(stored.Code) ||
			pgerrcode.IsInsufficientResources(stored.Code) ||
			stored.Code == pgerrcode.ReadOnlySQLTransaction
	case errors.As(err, &connect), errors.As(err, &network), errors.Is(err, io.ErrUnexpectedEOF),
		errors.Is(err, syscall.ECONNREFUSED), errors.Is(err, syscall.ECONNRESET), errors.Is(err, syscall.EPIPE):
		return true
	}
	return pgconn.SafeToRetry(err)
}

// ProblemOf is what a client is told of an error.
func ProblemOf(ctx context.Context, err error) error { return problemOf(ctx, err) }

// problemOf turns an error of a handler into what the client is told.
func problemOf(ctx context.Context, err error) error {
	var (
		faults  *invalid.Error
		known   huma.StatusError
		headers huma.HeadersError
		stored  *pgconn.PgError
		wrong   reason.Reason
		words   = text.Of(ctx)
	)
	switch {
	case err == nil:
		return nil
	case errors.As(err, &headers):
		return err
	case errors.As(err, &known):
		return known
	case errors.As(err, &faults):
		p := Reject(http.StatusUnprocessableEntity, "web.some-of-it-cannot-be-taken")
		p.Codes = map[string]string{}
		for _, f := range faults.Fields[:min(len(faults.Fields), mostFaults)] {
			at := strings.TrimSuffix("body."+f.Path, ".")
			p.Errors = append(p.Errors, &huma.ErrorDetail{Message: words.Say(quoted(reason.Because(f.Err))),
				Location: short(at)})
			if code := reason.Because(f.Err).Root().Code; p.Codes[at] == "" && code != reason.AsWritten {
				p.Codes[at] = code
			}
		}
		if len(faults.Fields) == 1 {
			p.why = quoted(reason.Because(faults.Fields[0].Err))
			p.Code = p.why.Root().Code
		}
		return p
	case errors.As(err, &wrong):
		return Because(http.StatusUnprocessableEntity, quoted(wrong))
	case errors.Is(err, pgx.ErrNoRows):
		return NotFound("thing")
	case errors.Is(err, context.Canceled):
		return Reject(499, "web.given-up")
	case errors.Is(err, db.ErrBusy):
		return Later(http.StatusServiceUnavailable, "web.database-is-busy", 2*time.Second)
	case db.Crossed(err):
		return Later(http.StatusServiceUnavailable, "web.somebody-was-in-the-way", time.Second)
	case errors.Is(err, context.DeadlineExceeded), errors.As(err, &stored) && stored.Code == pgerrcode.QueryCanceled:
		return Later(http.StatusServiceUnavailable, "web.took-too-long", 5*time.Second)
	case away(err):
		if now := time.Now().Unix(); now > toldAway.Swap(now)+quiet {
			slog.WarnContext(ctx, "the database does not answer", "error", logged(err))
		}
		return Later(http.StatusServiceUnavailable, "web.database-is-away", 2*time.Second)
	case errors.As(err, &stored) && slices.Contains([]string{pgerrcode.CharacterNotInRepertoire,
		pgerrcode.UntranslatableCharacter}, stored.Code):
		return Reject(http.StatusUnprocessableEntity, "web.not-text")
	case errors.As(err, &stored) && slices.Contains([]string{pgerrcode.NumericValueOutOfRange,
		pgerrcode.DatetimeFieldOverflow, pgerrcode.InvalidDatetimeFormat}, stored.Code):
		return Reject(http.StatusUnprocessableEntity, "web.out-of-range")
	case errors.As(err, &stored) && stored.Code == "23505":
		return Reject(http.StatusConflict, "web.there-is-one-with-this-name")
	}
	slog.ErrorContext(ctx, "request failed", "error", logged(err))
	return Reject(http.StatusInternalServerError, "web.something-went-wrong")
}
