package web

import (
	"context"
	"errors"
	"net/http"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Role of a person in a kitchen: what they may do and see there. Operations are for owners alone unless somebody says
// otherwise.
type Role string

// Roles.
const (
	Owner      Role = "owner"
	Maker      Role = "maker"      // the bench, the plan and the larder; sees no money, and no address before the day
	Bookkeeper Role = "bookkeeper" // the till, to be read
)

// Roles in their order.
func Roles() []Role { return []Role{Owner, Maker, Bookkeeper} }

// SeesAddresses of customers who are called at on a day, as YYYY-MM-DD: a maker does once it has come.
func (a Actor) SeesAddresses(day, today string) bool { return a.Role != Maker || day <= today }

// memberKey is the lock by which a person is in a kitchen.
const memberKey = `hashtextextended(zt_kitchen()::text || $1::text, 0)`

// stay in the kitchen of tx until tx ends: whoever takes that away waits for what is being done, and after that
// nothing more is. What was begun before they knew is refused whole.
func (a Actor) stay(ctx context.Context, tx pgx.Tx) error {
	var role Role
	asked := &pgx.Batch{}
	asked.Queue(`select pg_advisory_xact_lock_shared(`+memberKey+`)`, a.Person.String())
	asked.Queue(`select role from memberships where person_id = $1 and kitchen_id = zt_kitchen() and left_at is null`,
		a.Person).QueryRow(func(row pgx.Row) error { return row.Scan(&role) })
	if err := tx.SendBatch(ctx, asked).Close(); err != nil && !errors.Is(err, pgx.ErrNoRows) {
		return err
	}
	if role != a.Role {
		return Reject(http.StatusForbidden, "web.no-longer-here")
	}
	return nil
}

// LockMember of the kitchen of tx, whose place there is to change: what they are doing is waited for.
func LockMember(ctx context.Context, tx pgx.Tx, person uuid.UUID) error {
	_, err := tx.Exec(ctx, `select pg_advisory_xact_lock(`+memberKey+`)`, person.String())
	return err
}
