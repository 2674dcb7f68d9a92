package treats

import (
	"context"
	"strconv"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
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

// copyTreat begins a treat as a copy of another, as that is saved.
func (b *Book) copyTreat(ctx context.Context, in *struct {
	web.ID
	web.OnceKey
	Body struct {
		Name string `json:"name,omitempty" maxLength:"100" doc:"Not given, it is that of the other with a number"`
	}
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

// nextName is a name with the next number that no treat has: of "Malt bombs" and of "Malt bombs 2" it is "Malt bombs 3".
func nextName(ctx context.Context, tx pgx.Tx, name string) (string, error) {
	words := strings.Fields(name)
	if last := len(words) - 1; last > 0 {
		if n, err := strconv.Atoi(words[last]); err == nil && n > 1 && n < 1000 {
			name = strings.Join(words[:last], " ")
		}
	}
	if letters := []rune(name); len(letters) > 95 {
		name = strings.TrimSpace(string(letters[:95]))
	}
	rows, err := tx.Query(ctx, `select lower(name) from treats`)
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
		d.Of, d.Changes = *t.CopyOf, family.Changes(from, to, &known.Inputs, names(known))
		return err
	})
	return &struct{ Body Differences }{d}, err
}
