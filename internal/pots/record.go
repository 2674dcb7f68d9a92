package pots

import (
	"context"
	"errors"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/si"
	"zestytin/core/temper"
)

// Record of a bowl: what was said of it and done to it, and how many g are in it.
type Record struct {
	Brief
	Watch temper.Watch
	In    si.Grams
}

// Record of the bowl with the id, or of the last one of a day that is called so; nil where there is none.
func (p *Pots) Record(ctx context.Context, tx pgx.Tx, day, name string, id *uuid.UUID) (*Record, error) {
	which := uuid.Nil
	if id != nil {
		which = *id
	} else {
		err := tx.QueryRow(ctx, `select id from pots where day = $1::text::date and lower(name) = lower($2)
			order by began_at desc limit 1`, day, name).Scan(&which)
		if errors.Is(err, pgx.ErrNoRows) {
			return nil, nil
		}
		if err != nil {
			return nil, err
		}
	}
	s, err := p.load(ctx, tx, which, "")
	if err != nil {
		return nil, err
	}
	until := p.Clock()
	if s.Ended != nil {
		until = *s.Ended
	}
	w, _, err := p.watch(ctx, tx, s, until)
	if err != nil {
		return nil, err
	}
	return &Record{s.Brief, w, w.Advise().In}, nil
}
