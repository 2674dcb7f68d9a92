package faults

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/fault"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/ledger"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/internal/larder"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Taken is what is done about a fault.
type Taken struct {
	Where
	Cause string            `json:"cause" minLength:"1" maxLength:"40"`
	Fix   string            `json:"fix" minLength:"1" maxLength:"40"`
	Cream *ident.Ingredient `json:"cream,omitempty" maxLength:"60" doc:"Of the larder, where the fix takes it; none: it is not booked, and neither is what comes of it"`
}

// Fault that was noted.
type Fault struct {
	ID     uuid.UUID     `json:"id"`
	At     time.Time     `json:"at"`
	Who    string        `json:"who,omitempty"`
	Batch  *uuid.UUID    `json:"batch,omitempty"`
	Step   *string       `json:"step,omitempty"`
	Pot    *uuid.UUID    `json:"pot,omitempty"`
	Sign   reason.Reason `json:"sign"`
	Cause  reason.Reason `json:"cause"`
	Next   reason.Reason `json:"next"`
	Grade  fault.Grade   `json:"grade" enum:",sell,repair,eat,reclaim,bin"`
	Fix    string        `json:"fix"`
	Units  int           `json:"units" doc:"At how many it was seen"`
	Pieces int           `json:"pieces" doc:"That were lost by it"`
}

// List of faults.
type List struct {
	Faults []Fault `json:"faults" doc:"The last one first"`
}

const columns = `select f.id, f.at, coalesce(p.name, ''), f.batch_id, f.step, f.pot_id, f.sign, f.cause, f.fix, f.grade,
		f.units, f.pieces from faults f left join people p on p.id = f.by_id where f.undone_at is null and `

func scan(row pgx.CollectableRow) (Fault, error) {
	var f Fault
	var sign fault.Sign
	var cause string
	err := row.Scan(&f.ID, &f.At, &f.Who, &f.Batch, &f.Step, &f.Pot, &sign, &cause, &f.Fix, &f.Grade, &f.Units, &f.Pieces)
	f.Sign = sign.Named()
	f.Cause, f.Next = fault.Said(sign, cause)
	return f, err
}

// Of a condition, the last one first.
func Of(ctx context.Context, tx pgx.Tx, which string, with ...any) ([]Fault, error) {
	rows, err := tx.Query(ctx, columns+which+` order by f.at desc, f.id`, with...)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scan)
}

func (f *Faults) list(ctx context.Context, in *struct {
	Day   string `query:"day" format:"date"`
	Batch string `query:"batch" format:"uuid"`
	Pot   string `query:"pot" format:"uuid"`
}) (*struct{ Body List }, error) {
	var out List
	err := f.In(ctx, func(tx pgx.Tx) (err error) {
		out.Faults, err = Of(ctx, tx, `($1 = '' or f.day = $1::text::date) and ($2 = '' or f.batch_id = $2::text::uuid)
			and ($3 = '' or f.pot_id = $3::text::uuid) and ($1 || $2 || $3 <> '')`, in.Day, in.Batch, in.Pot)
		return err
	})
	return &struct{ Body List }{out}, err
}

func (f *Faults) add(ctx context.Context, in *struct {
	web.OnceKey
	Body Taken
}) (*struct{ Body Fault }, error) {
	var made Fault
	err := f.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "add-fault", in.Body, func() (Fault, error) {
			if err := db.LockKitchen(ctx, tx); err != nil {
				return Fault{}, err
			}
			return f.take(ctx, tx, &in.Body)
		})
		return err
	})
	return &struct{ Body Fault }{made}, err
}

// take what was chosen: it is booked as it was told.
func (f *Faults) take(ctx context.Context, tx pgx.Tx, in *Taken) (Fault, error) {
	s, err := f.scene(ctx, tx, &in.Where)
	if err != nil {
		return Fault{}, err
	}
	if in.Batch == nil && in.Pot == nil {
		return Fault{}, web.Reject(http.StatusConflict, "fault.nowhere")
	}
	x, found := chosen(s, in)
	if !found {
		return Fault{}, invalid.At("fix", reason.Of("fault.no-such-fix"))
	}
	pieces := 0
	if in.Batch != nil && s.sold != "" && x.Lost > 0 {
		if pieces = s.standing.Lost(s.before, x.Lost); pieces > 0 {
			if err := f.Lose(ctx, tx, *in.Batch, in.Step, pieces); err != nil {
				return Fault{}, err
			}
		}
	}
	id := db.NewID()
	if err := f.book(ctx, tx, s, x, in.Cream, id); err != nil {
		return Fault{}, err
	}
	var step *string
	if in.Batch != nil {
		step = &in.Step
	}
	if _, err := tx.Exec(ctx, `insert into faults (kitchen_id, id, day, batch_id, step, pot_id, sign, cause, fix, grade,
			units, pieces, back, uses, gone, wet, made, facts, at, by_id)
		values (zt_kitchen(), $1, $2::text::date, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16, $17, $18,
		$19)`, id, s.day, in.Batch, step, in.Pot, in.Sign, in.Cause, in.Fix, x.Grade, s.Units, pieces, x.Back, x.Uses, x.Gone,
		x.Wet, x.Made, s.Facts, f.Clock(), web.ActorOf(ctx).ID()); err != nil {
		return Fault{}, err
	}
	list, err := Of(ctx, tx, `f.id = $1`, id)
	if err != nil {
		return Fault{}, err
	}
	return list[0], nil
}

// chosen fix of a cause.
func chosen(s *scene, in *Taken) (fault.Fix, bool) {
	for _, c := range fault.Ask(in.Sign, &s.Scene, fault.Most, nil).Causes {
		if c.Code != in.Cause {
			continue
		}
		if n := slices.IndexFunc(c.Fixes, func(x fault.Fix) bool { return x.Key == in.Fix }); n >= 0 {
			return c.Fixes[n], true
		}
	}
	return fault.Fix{}, false
}

// book what a fix takes of the larder and brings back. What nobody can tell apart there is not booked.
func (f *Faults) book(ctx context.Context, tx pgx.Tx, s *scene, x fault.Fix, cream *ident.Ingredient,
	id uuid.UUID) error {
	chocolate, err := uuid.Parse(string(s.pot.Ingredient))
	if err != nil {
		return nil // no chocolate of the larder
	}
	m := larder.Mishap{ID: id, Takes: map[uuid.UUID]si.Grams{}}
	if takes := x.Uses + x.Gone; takes > 0 {
		m.Takes[chocolate] = takes
	}
	if x.Back > 0 {
		m.Back = &ledger.Rest{Pot: s.pot, Grams: x.Back, Touched: s.touched, Damp: s.Damp, Day: s.day}
	}
	if x.Wet > 0 && cream != nil {
		of, known := s.known[*cream]
		if !known {
			return invalid.At("cream", reason.Of("fault.no-such-cream"))
		}
		m.Takes[uuid.MustParse(string(*cream))] += x.Wet
		if x.Made > 0 {
			name := text.Of(ctx).Of("fault.sauce-of", reason.Name(s.name), reason.Name(of.Name))
			mix, err := f.Sauce(ctx, tx, name, s.pot.Ingredient, *cream)
			if err != nil {
				return err
			}
			m.Made = &larder.MadeMix{Mix: uuid.MustParse(string(mix)), Grams: float64(x.Made),
				Of: map[ident.Ingredient]float64{s.pot.Ingredient: 2.0 / 3, *cream: 1.0 / 3}}
		}
	}
	if len(m.Takes) == 0 && m.Back == nil {
		return nil
	}
	return f.Book(ctx, tx, m)
}

func (f *Faults) remove(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, f.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		var batch *uuid.UUID
		var step *string
		var pieces int
		err := tx.QueryRow(ctx, `select batch_id, step, pieces from faults where id = $1 and undone_at is null`, in.ID).
			Scan(&batch, &step, &pieces)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("fault")
		}
		if err != nil {
			return err
		}
		if pieces > 0 {
			if err := f.Lose(ctx, tx, *batch, *step, -pieces); err != nil {
				return err
			}
		}
		if err := f.Unbook(ctx, tx, in.ID); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update faults set undone_at = $2 where id = $1`, in.ID, f.Clock())
		return err
	})
}
