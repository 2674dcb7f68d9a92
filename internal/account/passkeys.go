package account

import (
	"context"
	"encoding/json"
	"errors"
	"net"
	"net/http"
	"net/url"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// A passkey is a pair of keys of which a device keeps the private half and lets its owner use it by finger, face or
// code: it is both steps at the door in one, and no other site gets anything out of it (W3C Web Authentication, level
// 3).

const (
	mostPasskeys = 20
	ceremony     = 5 * time.Minute // that somebody may take from question to answer
)

// Passkey of a person.
type Passkey struct {
	ID   uuid.UUID  `json:"id"`
	Name string     `json:"name"`
	Made time.Time  `json:"made"`
	Used *time.Time `json:"used,omitempty"`
}

// Asking is what a browser is to ask a device, as the standard has it.
type Asking struct {
	Options json.RawMessage `json:"options"`
}

// relying is who asks devices for keys: the name by which this server is reached. nil where it is reached by a number,
// or without TLS from elsewhere: browsers refuse it there.
func (a *Accounts) relying(ctx context.Context) *webauthn.WebAuthn {
	origin := a.Public
	if origin == "" {
		host := web.CallerOf(ctx).Host
		origin = "https://" + host
		if name, _, _ := strings.Cut(host, ":"); name == "localhost" {
			origin = "http://" + host
		}
	}
	at, err := url.Parse(origin)
	if err != nil || at.Hostname() == "" || net.ParseIP(at.Hostname()) != nil ||
		at.Scheme != "https" && at.Hostname() != "localhost" {
		return nil
	}
	w, err := webauthn.New(&webauthn.Config{RPID: at.Hostname(), RPDisplayName: "Zesty Tin", RPOrigins: []string{origin},
		AuthenticatorSelection: protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired,
			UserVerification: protocol.VerificationRequired}})
	if err != nil {
		return nil
	}
	return w
}

// holder of passkeys, as the library asks for one.
type holder struct {
	id         uuid.UUID
	mail, name string
	keys       []webauthn.Credential
}

func (h *holder) WebAuthnID() []byte                         { return h.id[:] }
func (h *holder) WebAuthnName() string                       { return h.mail }
func (h *holder) WebAuthnDisplayName() string                { return h.name }
func (h *holder) WebAuthnCredentials() []webauthn.Credential { return h.keys }

// holderOf the keys of the person of tx.
func holderOf(ctx context.Context, tx pgx.Tx, person uuid.UUID) (*holder, error) {
	h := &holder{id: person}
	if err := tx.QueryRow(ctx, `select mail, name from people where id = $1 for update`, person).Scan(&h.mail,
		&h.name); err != nil {
		return nil, err
	}
	rows, err := tx.Query(ctx, `select credential from passkeys where person_id = $1`, person)
	if err != nil {
		return nil, err
	}
	h.keys, err = pgx.CollectRows(rows, pgx.RowTo[webauthn.Credential])
	return h, err
}

func passkeysOf(ctx context.Context, tx pgx.Tx, person uuid.UUID) ([]Passkey, error) {
	rows, err := tx.Query(ctx, `select id, name, made_at, used_at from passkeys where person_id = $1 order by made_at, id`,
		person)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[Passkey])
}

func (a *Accounts) passkeys(tags []string) {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary, Tags: tags}
	}
	web.Register(a.Base, web.AskAgain(op("outline-passkey", "POST", "/account/passkeys/outline",
		"What a browser is to ask a device so that it makes a passkey")), a.outlineKey)
	add := op("add-passkey", "POST", "/account/passkeys", "Keep the public half of one that was made")
	add.DefaultStatus = http.StatusCreated
	web.Register(a.Base, add, a.addKey)
	gone := web.AskAgain(op("remove-passkey", "DELETE", "/account/passkeys/{id}", "It opens nothing any more"))
	gone.DefaultStatus = http.StatusNoContent
	web.Register(a.Base, gone, a.removeKey)
	ask := op("ask-for-passkey", "POST", "/session/passkey/outline", "What a browser is to ask a device to sign in")
	ask.Security = web.Open
	web.Register(a.Base, ask, a.askForKey)
	enter := op("sign-in-by-passkey", "POST", "/session/passkey", "Sign in by what the device answered")
	enter.Security = web.Open
	web.Register(a.Base, enter, a.signInByKey)
}

// begun keeps what was asked until it is answered, with the session of the browser.
func (a *Accounts) begun(ctx context.Context, s *webauthn.SessionData, options any) (*struct{ Body Asking }, error) {
	s.Expires = a.Clock().Add(ceremony)
	kept, err := json.Marshal(s)
	if err != nil {
		return nil, err
	}
	a.sessions.Put(ctx, "passkey", string(kept))
	told, err := json.Marshal(options)
	return &struct{ Body Asking }{Asking{told}}, err
}

// answered is what was asked, once.
func (a *Accounts) answered(ctx context.Context) (s webauthn.SessionData, err error) {
	kept := a.sessions.PopString(ctx, "passkey")
	if kept == "" || json.Unmarshal([]byte(kept), &s) != nil || !a.Clock().Before(s.Expires) {
		return s, web.Reject(http.StatusUnauthorized, "account.passkey-refused")
	}
	s.Expires = time.Time{} // the library would ask the machine's clock
	return s, nil
}

func (a *Accounts) outlineKey(ctx context.Context, _ *struct{}) (*struct{ Body Asking }, error) {
	who, w := web.ActorOf(ctx), a.relying(ctx)
	if w == nil {
		return nil, web.Reject(http.StatusConflict, "account.no-passkeys-here")
	}
	var h *holder
	if err := a.as(ctx, who, func(tx pgx.Tx) (err error) {
		h, err = holderOf(ctx, tx, who.Person)
		return err
	}); err != nil {
		return nil, err
	}
	if len(h.keys) >= mostPasskeys {
		return nil, web.Reject(http.StatusConflict, "account.too-many-passkeys", reason.Int(mostPasskeys))
	}
	known := make([]protocol.CredentialDescriptor, len(h.keys))
	for i := range h.keys {
		known[i] = h.keys[i].Descriptor()
	}
	made, s, err := w.BeginRegistration(h, webauthn.WithExclusions(known))
	if err != nil {
		return nil, err
	}
	return a.begun(ctx, s, made.Response)
}

func (a *Accounts) addKey(ctx context.Context, in *struct {
	Body struct {
		Name       string          `json:"name" minLength:"1" maxLength:"100" doc:"What its owner calls it"`
		Credential json.RawMessage `json:"credential" doc:"As the browser tells it in JSON"`
	}
}) (*struct{ Body Passkey }, error) {
	who, w := web.ActorOf(ctx), a.relying(ctx)
	if w == nil {
		return nil, web.Reject(http.StatusConflict, "account.no-passkeys-here")
	}
	s, err := a.answered(ctx)
	if err != nil {
		return nil, err
	}
	refuse := invalid.At("credential", reason.Of("account.passkey-refused"))
	parsed, err := protocol.ParseCredentialCreationResponseBytes(in.Body.Credential)
	if err != nil {
		return nil, refuse
	}
	made := Passkey{ID: db.NewID(), Name: strings.TrimSpace(in.Body.Name), Made: a.Clock()}
	if made.Name == "" {
		return nil, invalid.At("name", reason.Of("account.write-your-name"))
	}
	err = a.as(ctx, who, func(tx pgx.Tx) error {
		h, err := holderOf(ctx, tx, who.Person)
		if err != nil {
			return err
		}
		key, err := w.CreateCredential(h, s, parsed)
		if err != nil {
			return refuse
		}
		if _, err := tx.Exec(ctx, `insert into passkeys (person_id, id, key_id, name, credential, made_at)
			values ($1, $2, $3, $4, $5, $6)`, who.Person, made.ID, key.ID, made.Name, key, made.Made); err != nil {
			return err
		}
		if err := a.noteAll(ctx, tx, who.Person, web.PasskeyAdded, made.Name); err != nil {
			return err
		}
		return a.write(ctx, tx, letter{Kind: letterPasskey, Person: &who.Person, Mail: h.mail,
			Facts: facts{Name: made.Name}})
	})
	return &struct{ Body Passkey }{made}, err
}

func (a *Accounts) removeKey(ctx context.Context, in *web.ID) (*struct{}, error) {
	who := web.ActorOf(ctx)
	return nil, a.as(ctx, who, func(tx pgx.Tx) error {
		var name string
		err := tx.QueryRow(ctx, `delete from passkeys where person_id = $1 and id = $2 returning name`, who.Person, in.ID).
			Scan(&name)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("passkey")
		}
		if err != nil {
			return err
		}
		return a.noteAll(ctx, tx, who.Person, web.PasskeyRemoved, name)
	})
}

func (a *Accounts) askForKey(ctx context.Context, _ *struct{}) (*struct{ Body Asking }, error) {
	w := a.relying(ctx)
	if w == nil {
		return nil, web.Reject(http.StatusConflict, "account.no-passkeys-here")
	}
	asked, s, err := w.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return nil, err
	}
	return a.begun(ctx, s, asked.Response)
}

func (a *Accounts) signInByKey(ctx context.Context, in *struct {
	Body struct {
		Credential json.RawMessage `json:"credential" doc:"As the browser tells it in JSON"`
	}
}) (*struct{ Body Session }, error) {
	w := a.relying(ctx)
	if w == nil {
		return nil, web.Reject(http.StatusConflict, "account.no-passkeys-here")
	}
	s, err := a.answered(ctx)
	if err != nil {
		return nil, err
	}
	refuse := web.Reject(http.StatusUnauthorized, "account.passkey-refused")
	parsed, err := protocol.ParseCredentialRequestResponseBytes(in.Body.Credential)
	if err != nil {
		return nil, refuse
	}
	person, err := uuid.FromBytes(parsed.Response.UserHandle)
	if err != nil {
		return nil, refuse
	}
	who, mail, credentials := web.Actor{Person: person}, "", 0
	err = a.as(ctx, who, func(tx pgx.Tx) error {
		h, err := holderOf(ctx, tx, person)
		if errors.Is(err, pgx.ErrNoRows) {
			return refuse
		}
		if err != nil {
			return err
		}
		key, err := w.ValidateDiscoverableLogin(func(_, _ []byte) (webauthn.User, error) { return h, nil }, s, parsed)
		if err != nil || key.Authenticator.CloneWarning {
			return refuse
		}
		if _, err := tx.Exec(ctx, `update passkeys set credential = $3, used_at = $4 where person_id = $1 and key_id = $2`,
			person, key.ID, key, a.Clock()); err != nil {
			return err
		}
		mail = h.mail
		if err := tx.QueryRow(ctx, `select credentials from people where id = $1`, person).Scan(&credentials); err != nil {
			return err
		}
		who, err = entry(ctx, tx, person)
		return err
	})
	if err != nil {
		return nil, err
	}
	return a.enters(ctx, who, mail, credentials)
}
