package customers

import (
	"context"
	"net/http"
	"strings"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Merge of two customers.
type Merge struct {
	From string `json:"from" minLength:"1" maxLength:"100"`
	Into string `json:"into" minLength:"1" maxLength:"100"`
}

// Split is what takes a merge back.
type Split struct {
	From   Found       `json:"from" doc:"As they were before"`
	Into   Found       `json:"into"`
	Orders []uuid.UUID `json:"orders" maxItems:"2000" doc:"That are those of the first"`
}

func (c *Customers) merge(ctx context.Context, in *struct{ Body Merge }) (*struct{ Body Split }, error) {
	var back Split
	err := c.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		if key(in.Body.From) == key(in.Body.Into) {
			return web.Reject(http.StatusConflict, "customers.already-the-same")
		}
		from, _, ok, err := c.find(ctx, tx, in.Body.From)
		if err != nil {
			return err
		}
		into, revision, there, err := c.find(ctx, tx, in.Body.Into)
		if err != nil {
			return err
		}
		if !ok || !there {
			return web.NotFound("customer")
		}
		back.From, back.Into = from, into
		if back.Orders, err = rename(ctx, tx, from.Name, into.Name); err != nil {
			return err
		}
		return c.store(ctx, tx, into.with(from), revision+1, from.Name)
	})
	return &struct{ Body Split }{back}, err
}

// with what another one says where this one says nothing, and what both must be spared.
func (x Found) with(other Found) Found {
	fill := func(to *string, from string) {
		if *to == "" {
			*to = from
		}
	}
	fill(&x.Phone, other.Phone)
	fill(&x.Mail, other.Mail)
	fill(&x.Place, other.Place)
	if other.Notes != "" && !strings.Contains(x.Notes, other.Notes) {
		notes := []rune(strings.TrimSpace(x.Notes + "\n" + other.Notes))
		x.Notes = string(notes[:min(len(notes), 1000)])
	}
	x.FreeFrom, x.Wishes = union(x.FreeFrom, other.FreeFrom), union(x.Wishes, other.Wishes)
	return x
}

func (c *Customers) split(ctx context.Context, in *struct{ Body Split }) (*struct{}, error) {
	for _, x := range []*Found{&in.Body.From, &in.Body.Into} {
		if err := x.check(); err != nil {
			return nil, err
		}
	}
	return nil, c.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update orders set customer = $2, revision = revision + 1 where id = any($1)
			and lower(customer) = $3`, in.Body.Orders, in.Body.From.Name, key(in.Body.Into.Name)); err != nil {
			return err
		}
		_, revision, _, err := c.find(ctx, tx, in.Body.Into.Name)
		if err != nil {
			return err
		}
		if err := c.store(ctx, tx, in.Body.Into, revision+1); err != nil {
			return err
		}
		return c.store(ctx, tx, in.Body.From, 1)
	})
}

func union[T comparable](a, b []T) []T {
	list, seen := []T{}, map[T]bool{}
	for _, x := range append(append([]T{}, a...), b...) {
		if !seen[x] {
			seen[x], list = true, append(list, x)
		}
	}
	return list
}
