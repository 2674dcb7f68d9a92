package treats

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// CopyOf is what a treat was copied from.
type CopyOf struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name"`
	Version int       `json:"version" doc:"As it was copied"`
}

// Differences of a copy from what it was copied from.
type Differences struct {
	Of      CopyOf          `json:"of"`
	Changes []family.Change `json:"changes" doc:"In the order of the formula; its name is not among them"`
}

// CopyFields are how a copy is to differ from what it is copied from.
type CopyFields struct {
	Name  string           `json:"name,omitempty" maxLength:"100" doc:"Not given, it is that of the other with a number"`
	Swaps []order.SwapPair `json:"swaps,omitempty" maxItems:"20" doc:"Ingredients in place of others, in its mixes too: these are copied along"`
}

// copyTreat begins a treat as a copy of another, as that is saved.
func (b *Book) copyTreat(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body CopyFields
}) (*web.Tagged[Treat], error) {
	var t Treat
	err := b.In(ctx, func(tx pgx.Tx) (err error) {
		t, err = web.Once(ctx, tx, in.OnceKey, "copy-treat "+in.ID.ID.String(), in.Body, func() (Treat, error) {
			of, known, err := b.written(ctx, tx, in.ID.ID)
			if err != nil {
				return Treat{}, err
			}
			f := Fields{Name: in.Body.Name, Formula: of.Formula}
			if strings.TrimSpace(f.Name) == "" {
				if f.Name, err = nextName(ctx, tx, of.Name); err != nil {
					return Treat{}, err
				}
			}
			if len(in.Body.Swaps) > 0 {
				if f.Formula, err = b.swapped(ctx, tx, of.Formula, known, in.Body.Swaps); err != nil {
					return Treat{}, err
				}
				if known, err = b.Known(ctx, tx); err != nil {
					return Treat{}, err
				}
			}
			// What it is made of may be gone from the larder since it was saved.
			if err := b.check(ctx, tx, &f); err != nil {
				return Treat{}, err
			}
			id := db.NewID()
			if err := Add(ctx, tx, web.ActorOf(ctx), b.Clock(), id, f, &known.Inputs); err != nil {
				return Treat{}, err
			}
			if _, err := tx.Exec(ctx, `update treats set copied_from = $2, copied_version = $3 where id = $1`, id, of.ID,
				of.Version); err != nil {
				return Treat{}, err
			}
			return one(ctx, tx, id)
		})
		return err
	})
	return web.TaggedBy(t.Revision, t), err
}

// swapped is a formula with other ingredients; the mixes that have one of those that go are copied with the others.
func (b *Book) swapped(ctx context.Context, tx pgx.Tx, f *treat.Formula, known *order.Inputs,
	pairs []order.SwapPair) (*treat.Formula, error) {
	ids := map[string]string{}
	for i, p := range pairs {
		if _, there := known.Ingredients[p.In]; !there {
			return nil, invalid.At(fmt.Sprintf("swaps[%d].in", i), reason.Of("family.this-not-in-larder-choose"))
		}
		ids[string(p.Out)] = string(p.In)
	}
	file := treat.NewFile("", f, &known.Inputs, nil)
	var touched []treat.Mix
	for _, m := range file.Mixes {
		if slices.ContainsFunc(known.Uses(m.ID), func(id ident.Ingredient) bool { return ids[string(id)] != "" }) {
			touched = append(touched, m)
		}
	}
	for _, m := range touched {
		ids[string(m.ID)] = db.NewID().String()
	}
	renamed := file.Renamed(ids)
	for _, m := range renamed.Mixes {
		if !slices.ContainsFunc(touched, func(old treat.Mix) bool { return ids[string(old.ID)] == string(m.ID) }) {
			continue
		}
		var err error
		if m.Name, err = nextOf(ctx, tx, "mixes", m.Name); err != nil {
			return nil, err
		}
		if err := AddMix(ctx, tx, web.ActorOf(ctx).Kitchen, m); err != nil {
			return nil, err
		}
	}
	return renamed.Formula, nil
}

// nextName is a name with the next number that no treat has: of "Malt bombs" and of "Malt bombs 2" it is "Malt bombs 3".
func nextName(ctx context.Context, tx pgx.Tx, name string) (string, error) {
	return nextOf(ctx, tx, "treats", name)
}

// nextOf is a name with the next number that nothing in a table has.
func nextOf(ctx context.Context, tx pgx.Tx, table, name string) (string, error) {
	words := strings.Fields(name)
	if last := len(words) - 1; last > 0 {
		if n, err := strconv.Atoi(words[last]); err == nil && n > 1 && n < 1000 {
			name = strings.Join(words[:last], " ")
		}
	}
	if letters := []rune(name); len(letters) > 95 {
		name = strings.TrimSpace(string(letters[:95]))
	}
	rows, err := tx.Query(ctx, `select lower(name) from `+table)
	if err != nil {
		return "", err
	}
	names, err := pgx.CollectRows(rows, pgx.RowTo[string])
	taken := make(map[string]bool, len(names))
	for _, n := range names {
		taken[n] = true
	}
	for n := 2; ; n++ {
		if next := name + " " + strconv.Itoa(n); !taken[strings.ToLower(next)] {
			return next, err
		}
	}
}

// differences of a copy from what it was copied from, both as they are saved.
func (b *Book) differences(ctx context.Context, in *web.ID) (*struct{ Body Differences }, error) {
	var d Differences
	err := b.In(ctx, func(tx pgx.Tx) error {
		t, err := one(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		if t.CopyOf == nil {
			return web.NotFound("copy")
		}
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		var from, to family.Version
		err = tx.QueryRow(ctx, `select v.formula, v.mixes, n.formula, n.mixes from treat_versions v, treat_versions n
			where v.treat_id = $1 and v.version = $2 and n.treat_id = $3 and n.version = $4`, t.CopyOf.ID, t.CopyOf.Version,
			t.ID, t.Version).Scan(&from.Formula, &from.Mixes, &to.Formula, &to.Mixes)
		d.Of, d.Changes = *t.CopyOf, family.Changes(from, to, &known.Inputs, known.Packaging())
		return err
	})
	return &struct{ Body Differences }{d}, err
}
