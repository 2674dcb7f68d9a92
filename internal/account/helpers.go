package account

import (
	"context"
	"errors"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Helper works in a kitchen.
type Helper struct {
	ID     uuid.UUID  `json:"id"`
	Name   string     `json:"name"`
	Mail   string     `json:"mail"`
	Role   web.Role   `json:"role"`
	Joined *time.Time `json:"joined,omitempty"`
	You    bool       `json:"you"`
}

// Invite is whom a link is made for.
type Invite struct {
	Role web.Role `json:"role"`
	Name string   `json:"name,omitempty" maxLength:"100" doc:"Whom it is for, to tell links apart"`
}

// Invitation is a link by which somebody can join, once.
type Invitation struct {
	ID    uuid.UUID `json:"id"`
	Role  web.Role  `json:"role"`
	Name  string    `json:"name,omitempty"`
	Until time.Time `json:"until"`
	Path  string    `json:"path,omitempty" doc:"Of the link; it is told when it is made, and never again"`
}

// AsRole is what somebody is to work as.
type AsRole struct {
	Role web.Role `json:"role"`
}

// Helpers of a kitchen.
type Helpers struct {
	People      []Helper     `json:"people" doc:"Owners first"`
	Invitations []Invitation `json:"invitations" doc:"That nobody has followed yet"`
}

// invited is how long the link of an invitation works.
const invited = 7 * 24 * time.Hour

// mostHelpers is how many people a kitchen has at most, with the links that are open.
const mostHelpers = 40

func (a *Accounts) helpers(tags []string) {
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary, Tags: tags}
	}
	web.Register(a.Base, op("list-helpers", "GET", "/helpers", "Who works in the kitchen, and who is invited to"),
		a.listHelpers)
	invite := web.AskAgain(op("invite-helper", "POST", "/helper-links", "Make a link by which somebody joins, once"))
	invite.DefaultStatus = http.StatusCreated
	web.Register(a.Base, invite, a.invite)
	uninvite := op("end-invitation", "DELETE", "/helper-links/{id}", "End a link that nobody has followed")
	uninvite.DefaultStatus = http.StatusNoContent
	web.Register(a.Base, uninvite, a.uninvite)
	web.Register(a.Base, web.AskAgain(op("put-role", "PUT", "/helpers/{id}/role",
		"Let somebody work as something else; whoever was removed within the last hour works here again")), a.putRole)
	web.Register(a.Base, op("remove-helper", "DELETE", "/helpers/{id}",
		"Let somebody work here no longer, from now on"), a.removeHelper)
	look := op("get-invitation", "GET", "/invitations/{secret}", "Where the link of an invitation leads")
	look.Security, look.Errors = web.Open, []int{http.StatusGone}
	web.Register(a.Base, look, a.lookAtInvitation)
	follow := op("follow-invitation", "POST", "/invitations/{secret}",
		"Join by it: who is signed in as that, others with a new account; where letters are sent, that is made by one")
	follow.Security, follow.Errors, follow.DefaultStatus = web.Open, []int{http.StatusGone}, http.StatusCreated
	web.Register(a.Base, follow, a.followInvitation)
}

func (a *Accounts) listHelpers(ctx context.Context, _ *struct{}) (*struct{ Body Helpers }, error) {
	var out Helpers
	err := a.In(ctx, func(tx pgx.Tx) (err error) { out, err = a.helpersOf(ctx, tx); return err })
	return &struct{ Body Helpers }{out}, err
}

func (a *Accounts) helpersOf(ctx context.Context, tx pgx.Tx) (out Helpers, err error) {
	rows, err := tx.Query(ctx, `select p.id, p.name, p.mail, m.role, m.joined_at, p.id = $1 from memberships m
		join people p on p.id = m.person_id where m.kitchen_id = zt_kitchen() and m.left_at is null
		order by m.role <> 'owner', p.name, p.id`, web.ActorOf(ctx).Person)
	if err != nil {
		return out, err
	}
	if out.People, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Helper]); err != nil {
		return out, err
	}
	rows, err = tx.Query(ctx, `select id, role, name, until, '' from invitations where used_at is null
		and ended_at is null and until > $1 order by id`, a.Clock())
	if err == nil {
		out.Invitations, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Invitation])
	}
	return out, err
}

// OwnerMail is the address of whoever has owned the kitchen of tx for the longest time.
func OwnerMail(ctx context.Context, tx pgx.Tx) (mail string, err error) {
	err = tx.QueryRow(ctx, `select p.mail from memberships m join people p on p.id = m.person_id
		where m.kitchen_id = zt_kitchen() and m.role = 'owner' and m.left_at is null
		order by m.joined_at nulls first, p.created_at limit 1`).Scan(&mail)
	if errors.Is(err, pgx.ErrNoRows) {
		err = nil
	}
	return mail, err
}

func (a *Accounts) invite(ctx context.Context, in *struct{ Body Invite }) (*struct{ Body Invitation }, error) {
	now, secret := a.Clock(), newSecret()
	out := Invitation{ID: db.NewID(), Role: in.Body.Role, Name: strings.TrimSpace(in.Body.Name),
		Until: now.Add(invited), Path: "/join/" + secret}
	err := a.In(ctx, func(tx pgx.Tx) error {
		var toTry bool
		if err := tx.QueryRow(ctx, `select to_try from kitchens for no key update`).Scan(&toTry); err != nil {
			return err
		}
		if toTry {
			return web.Reject(http.StatusConflict, "account.is-to-try")
		}
		there, err := a.helpersOf(ctx, tx)
		if err == nil && len(there.People)+len(there.Invitations) >= mostHelpers {
			err = web.Reject(http.StatusConflict, "account.enough-helpers", reason.Int(mostHelpers))
		}
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `insert into invitations (kitchen_id, id, role, name, hash, made_by, at, until)
			values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7)`, out.ID, out.Role, out.Name, stored(secret),
			web.ActorOf(ctx).Person, now, out.Until); err != nil {
			return err
		}
		return web.Note(ctx, tx, now, web.Invited, out.Name)
	})
	return &struct{ Body Invitation }{out}, err
}

func (a *Accounts) uninvite(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, a.In(ctx, func(tx pgx.Tx) error {
		var name string
		err := tx.QueryRow(ctx, `update invitations set ended_at = $2 where id = $1 and used_at is null
			and ended_at is null returning name`, in.ID, a.Clock()).Scan(&name)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("invitation")
		}
		if err != nil {
			return err
		}
		return web.Note(ctx, tx, a.Clock(), web.LinkEnded, name)
	})
}

func (a *Accounts) putRole(ctx context.Context, in *struct {
	web.ID
	Body AsRole
}) (*struct{ Body Helpers }, error) {
	return a.rearrange(ctx, in.ID.ID, &in.Body.Role)
}

func (a *Accounts) removeHelper(ctx context.Context, in *web.ID) (*struct{ Body Helpers }, error) {
	return a.rearrange(ctx, in.ID, nil)
}

// rearrange who works in the kitchen: somebody as something else, or, where role is nil, no longer.
func (a *Accounts) rearrange(ctx context.Context, person uuid.UUID, role *web.Role) (*struct{ Body Helpers }, error) {
	var out Helpers
	err := a.In(ctx, func(tx pgx.Tx) error {
		was, err := a.place(ctx, tx, person, role)
		if err != nil {
			return err
		}
		var name, mail, kitchen string
		if err := tx.QueryRow(ctx, `select p.name, p.mail, k.name from people p, kitchens k where p.id = $1`, person).
			Scan(&name, &mail, &kitchen); err != nil {
			return err
		}
		switch {
		case role == nil:
			if err := web.Note(ctx, tx, a.Clock(), web.Removed, name); err != nil {
				return err
			}
			if person != web.ActorOf(ctx).Person {
				if err := a.write(ctx, tx, letter{Kind: letterRemoved, Person: &person, Mail: mail,
					Facts: facts{Kitchen: kitchen}}); err != nil {
					return err
				}
			}
		case *role != was:
			if err := web.Note(ctx, tx, a.Clock(), web.RoleChanged, name); err != nil {
				return err
			}
		}
		out, err = a.helpersOf(ctx, tx)
		return err
	})
	return &struct{ Body Helpers }{out}, err
}
