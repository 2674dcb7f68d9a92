package web

import (
	"context"
	"maps"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
)

// Caller is from where a request comes.
type Caller struct {
	Address string // of the network
	Agent   string // what the browser says it is
	Host    string // that it asked, with the port
}

type callerKey struct{}

// longestAgent that is kept of a browser, in bytes.
const longestAgent = 300

// withCaller puts what the browser says it is into the context.
func withCaller(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		agent := strings.ToValidUTF8(r.UserAgent(), "")
		agent = strings.ToValidUTF8(agent[:min(len(agent), longestAgent)], "")
		caller := Caller{Agent: strings.ReplaceAll(agent, "\x00", ""), Host: r.Host}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), callerKey{}, caller)))
	})
}

// CallerOf ctx; nothing is known outside of a request.
func CallerOf(ctx context.Context) Caller {
	caller, _ := ctx.Value(callerKey{}).(Caller)
	caller.Address = middleware.GetClientIP(ctx)
	return caller
}

// Event that concerns the safety of a kitchen.
type Event string

// Events.
const (
	SignedIn        Event = "signed in"
	NewBrowser      Event = "new browser" // signed in from one that nobody has signed in from before
	Failed          Event = "failed"      // to sign in
	PasswordChanged Event = "password changed"
	PasswordReset   Event = "password reset"
	AddressProven   Event = "address proven"
	AddressChanged  Event = "address changed"
	AddressKept     Event = "address kept" // the change was taken back by a letter to the old one
	SecondStepOn    Event = "second step on"
	SecondStepOff   Event = "second step off"
	PasskeyAdded    Event = "passkey added"
	PasskeyRemoved  Event = "passkey removed"
	SessionEnded    Event = "session ended"
	Exported        Event = "exported"
	LinkMade        Event = "link made"
	LinkEnded       Event = "link ended"
	QuoteAccepted   Event = "quote accepted"
	Imported        Event = "imported"
	KitchenOpened   Event = "kitchen opened"
	Invited         Event = "invited" // a link was made by which somebody can join
	Joined          Event = "joined"
	RoleChanged     Event = "role changed"
	Removed         Event = "removed"   // somebody, who works here no longer
	WentAway        Event = "went away" // by themselves
	Refused         Event = "refused"   // what is not for their role
	Leaving         Event = "leaving"   // the kitchen is to go in a week
	Staying         Event = "staying"   // it is not after all
)

// Events in their order.
func Events() []Event {
	return []Event{SignedIn, NewBrowser, Failed, PasswordChanged, PasswordReset, AddressProven, AddressChanged,
		AddressKept, SecondStepOn, SecondStepOff, PasskeyAdded, PasskeyRemoved, SessionEnded, Exported,
		LinkMade, LinkEnded, QuoteAccepted, Imported, KitchenOpened, Invited, Joined, RoleChanged, Removed, WentAway,
		Refused, Leaving, Staying}
}

// Note an event in the log of the kitchen of tx, with who and from where, and what it is about.
func Note(ctx context.Context, tx pgx.Tx, at time.Time, what Event, about string) error {
	caller := CallerOf(ctx)
	_, err := tx.Exec(ctx, `insert into security_events (kitchen_id, id, at, what, person_id, address, agent, about)
		values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7)`, db.NewID(), at, what, ActorOf(ctx).ID(), caller.Address,
		caller.Agent, about)
	return err
}

// Marks of operations: before them one is asked again who one is, and that they were done is noted.
const (
	again = "again"
	gives = "gives"
)

// GivesAway what is known of many: one is asked again, and it is noted.
func GivesAway(op huma.Operation) huma.Operation { return marked(op, again, gives) }

func marked(op huma.Operation, marks ...string) huma.Operation {
	all := maps.Clone(op.Metadata)
	if all == nil {
		all = map[string]any{}
	}
	for _, m := range marks {
		all[m] = true
	}
	op.Metadata = all
	return op
}

// AskAgain before an operation who it is: what it gives away, or takes away, cannot be got back.
func AskAgain(op huma.Operation) huma.Operation { return marked(op, again) }

// AsksAgain whether an operation does.
func AsksAgain(op *huma.Operation) bool { return op.Metadata[again] == true }
