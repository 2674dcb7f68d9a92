package account

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Belonging is a kitchen that a person works in.
type Belonging struct {
	ID   uuid.UUID `json:"id"`
	Name string    `json:"name"`
	Role web.Role  `json:"role" doc:"As what"`
	This bool      `json:"this" doc:"The one that they are in"`
}

// belonging are the operations by which a person goes from one kitchen to another, opens one, or leaves.
func (a *Accounts) belonging(tags []string) {
	web.Register(a.Base, huma.Operation{OperationID: "enter-kitchen", Method: "PUT", Path: "/api/v1/session/kitchen",
		Summary: "Go into another kitchen that one works in", Tags: tags}, a.enterKitchen)
	web.Register(a.Base, huma.Operation{OperationID: "open-another", Method: "POST", Path: "/api/v1/account/kitchens",
		Summary: "Open another kitchen, and go into it", Tags: tags, DefaultStatus: http.StatusCreated}, a.openAnother)
	web.Register(a.Base, huma.Operation{OperationID: "leave-kitchen", Method: "DELETE",
		Path: "/api/v1/account/kitchens/{id}", Summary: "Work in a kitchen no longer; its only owner cannot go",
		Tags: tags}, a.leaveKitchen)
	web.Register(a.Base, web.AskAgain(huma.Operation{OperationID: "delete-account", Method: "DELETE",
		Path: "/api/v1/account", Summary: "Delete one's account, once one works in no kitchen", Tags: tags,
		DefaultStatus: http.StatusNoContent}), a.deleteAccount)
}

// placesOf a person, who is the one of tx: kitchens with their role there, the one that they entered last first.
func placesOf(ctx context.Context, tx pgx.Tx, person uuid.UUID) ([]web.Actor, error) {
	rows, err := tx.Query(ctx, `select person_id, kitchen_id, role from memberships where person_id = $1
		and left_at is null order by used_at desc nulls last, kitchen_id`, person)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[web.Actor])
}

// entry is where the person of tx gets to by signing in: no kitchen where they work in none.
func entry(ctx context.Context, tx pgx.Tx, person uuid.UUID) (web.Actor, error) {
	places, err := placesOf(ctx, tx, person)
	if err != nil || len(places) == 0 {
		return web.Actor{Person: person}, err
	}
	return places[0], nil
}

// belongings of the person of tx, by name.
func belongings(ctx context.Context, tx pgx.Tx, who web.Actor) ([]Belonging, error) {
	places, err := placesOf(ctx, tx, who.Person)
	if err != nil {
		return nil, err
	}
	list := make([]Belonging, len(places))
	for i, at := range places { // one after the other: a kitchen sees itself alone
		list[i] = Belonging{ID: at.Kitchen, Role: at.Role, This: at.Kitchen == who.Kitchen}
		if err := db.Set(ctx, tx, "zt.kitchen", at.Kitchen.String()); err != nil {
			return nil, err
		}
		if err := tx.QueryRow(ctx, `select name from kitchens where id = $1`, at.Kitchen).
			Scan(&list[i].Name); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// join the kitchen of tx, now or again.
func join(ctx context.Context, tx pgx.Tx, now time.Time, who web.Actor) error {
	_, err := tx.Exec(ctx, `insert into memberships (kitchen_id, person_id, role, joined_at, used_at)
		values ($1, $2, $3, $4, $4) on conflict (kitchen_id, person_id) do update
		set role = excluded.role, joined_at = excluded.joined_at, used_at = excluded.used_at, left_at = null,
		ended_by = null`,
		who.Kitchen, who.Person, who.Role, now)
	return err
}

// goTo a kitchen with the session that asks.
func (a *Accounts) goTo(ctx context.Context, who web.Actor) (*struct{ Body Session }, error) {
	a.sessions.Put(ctx, "kitchen", who.Kitchen.String())
	return a.answer(ctx, who)
}

func (a *Accounts) enterKitchen(ctx context.Context, in *struct {
	Body struct {
		Kitchen uuid.UUID `json:"kitchen"`
	}
}) (*struct{ Body Session }, error) {
	who := web.Actor{Person: web.ActorOf(ctx).Person, Kitchen: in.Body.Kitchen}
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.kitchen", who.Kitchen.String()); err != nil {
			return err
		}
		err := tx.QueryRow(ctx, `update memberships set used_at = $2 where kitchen_id = zt_kitchen() and person_id = $1
			and left_at is null returning role`, who.Person, a.Clock()).Scan(&who.Role)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("kitchen")
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	return a.goTo(ctx, who)
}

func (a *Accounts) openAnother(ctx context.Context, in *struct {
	Body struct {
		Kitchen  string `json:"kitchen" maxLength:"100"`
		TimeZone string `json:"timeZone" maxLength:"100" example:"America/New_York"`
		Country  string `json:"country,omitempty" maxLength:"2" example:"US"`
	}
}) (*struct{ Body Session }, error) {
	o := Opening{Kitchen: in.Body.Kitchen, TimeZone: in.Body.TimeZone, Country: in.Body.Country}
	var f invalid.Faults
	o.checkKitchen(&f)
	if err := f.Err(); err != nil {
		return nil, err
	}
	who := web.ActorOf(ctx)
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		var mail string
		if err := tx.QueryRow(ctx, `select mail from people where id = $1 for update`, who.Person).
			Scan(&mail); err != nil {
			return err
		}
		if goesNowhere(mail) {
			return web.Reject(http.StatusConflict, "account.is-to-try")
		}
		places, err := placesOf(ctx, tx, who.Person)
		if err == nil && len(places) >= mostKitchens {
			err = web.Reject(http.StatusConflict, "account.enough-kitchens", reason.Int(mostKitchens))
		}
		if err != nil {
			return err
		}
		if who, err = openFor(ctx, tx, a.Clock(), o, who.Person); err != nil {
			return err
		}
		return web.Note(ctx, tx, a.Clock(), web.KitchenOpened, o.Kitchen)
	})
	if err != nil {
		return nil, err
	}
	return a.goTo(ctx, who)
}

// mostKitchens of one person.
const mostKitchens = 20

// leaveKitchen of one's own accord.
func (a *Accounts) leaveKitchen(ctx context.Context, in *web.ID) (*struct{ Body Session }, error) {
	who := web.ActorOf(ctx)
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.kitchen", in.ID.String()); err != nil {
			return err
		}
		if _, err := a.place(ctx, tx, who.Person, nil); err != nil {
			return err
		}
		return web.Note(ctx, tx, a.Clock(), web.WentAway, "")
	})
	if err != nil {
		return nil, err
	}
	if who.Kitchen != in.ID {
		return a.answer(ctx, who)
	}
	var next web.Actor
	if err := a.as(ctx, who, func(tx pgx.Tx) (err error) {
		next, err = entry(ctx, tx, who.Person)
		return err
	}); err != nil {
		return nil, err
	}
	return a.goTo(ctx, next)
}

// regrets is how long a removal can be undone.
const regrets = time.Hour

// place somebody in the kitchen of tx anew: as another role, or, where it is nil, as nobody. It says what they were;
// nothing where they had been removed lately. What they are doing is waited for. A kitchen has an owner.
func (a *Accounts) place(ctx context.Context, tx pgx.Tx, person uuid.UUID, role *web.Role) (was web.Role, err error) {
	if err := db.LockKitchen(ctx, tx); err != nil {
		return was, err
	}
	if err := web.LockMember(ctx, tx, person); err != nil {
		return was, err
	}
	owners := 0
	err = tx.QueryRow(ctx, `select case when left_at is null then role else '' end,
		(select count(*) from memberships where kitchen_id = zt_kitchen() and role = 'owner' and left_at is null)
		from memberships where kitchen_id = zt_kitchen() and person_id = $1 and (left_at is null
		or $2 and ended_by is not null and left_at > $3)`, person, role != nil, a.Clock().Add(-regrets)).
		Scan(&was, &owners)
	switch {
	case errors.Is(err, pgx.ErrNoRows):
		return was, web.NotFound("helper")
	case err != nil:
		return was, err
	case was == web.Owner && owners == 1 && (role == nil || *role != web.Owner):
		return was, web.Reject(http.StatusConflict, "account.the-only-owner")
	case role == nil:
		_, err = tx.Exec(ctx, `update memberships set left_at = $2, ended_by = nullif($3::uuid, $1)
			where kitchen_id = zt_kitchen() and person_id = $1`, person, a.Clock(), web.ActorOf(ctx).Person)
	default:
		_, err = tx.Exec(ctx, `update memberships set role = $2, left_at = null, ended_by = null
			where kitchen_id = zt_kitchen() and person_id = $1`, person, *role)
	}
	if err != nil || was != web.Owner || role != nil && *role == web.Owner {
		return was, err
	}
	// Links that they made lead nowhere either: they could come back by one.
	_, err = tx.Exec(ctx, `update invitations set ended_at = $2 where made_by = $1 and used_at is null
		and ended_at is null`, person, a.Clock())
	return was, err
}

// deleteAccount of whoever works in no kitchen any more: a kitchen is left, or deleted, first.
func (a *Accounts) deleteAccount(ctx context.Context, _ *struct{}) (*struct{}, error) {
	who := web.ActorOf(ctx)
	err := a.as(ctx, who, func(tx pgx.Tx) error {
		places, err := placesOf(ctx, tx, who.Person)
		if err == nil && len(places) > 0 {
			err = web.Reject(http.StatusConflict, "account.works-somewhere")
		}
		if err != nil {
			return err
		}
		return a.Forget(ctx, tx, who.Person)
	})
	if err != nil {
		return nil, err
	}
	return nil, a.sessions.Destroy(ctx)
}
