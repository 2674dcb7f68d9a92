package logbook

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/internal/platform/photo"
	"zestytin/internal/platform/web"
)

// Correction of what a step came to: what is not given is as ticks and touches have it.
type Correction struct {
	Minutes  *float64 `json:"minutes,omitempty" minimum:"0.1" maximum:"100000" doc:"Of hands"`
	Repaired *int     `json:"repaired,omitempty" minimum:"0" maximum:"100000"`
	Lost     *int     `json:"lost,omitempty" minimum:"0" maximum:"100000"`
	Back     *int     `json:"back,omitempty" minimum:"0" maximum:"100000" doc:"Of those lost, back to the pot"`
	Unfit    *int     `json:"unfit,omitempty" minimum:"0" maximum:"100000" doc:"Of what was bought, not fit to use"`
}

func (l *Logbook) correct(ctx context.Context, in *struct {
	web.ID
	Step string `path:"step" maxLength:"60"`
	Body Correction
}) (*struct{}, error) {
	return nil, l.In(ctx, func(tx pgx.Tx) error {
		b, err := l.one(ctx, tx, in.ID.ID)
		if err != nil {
			return err
		}
		found := false
		for _, s := range b.Steps {
			found = found || string(s.Step) == in.Step
		}
		if !found {
			return web.NotFound("step")
		}
		c := in.Body
		begun := b.Started
		for _, s := range b.card.Stages {
			begun = max(begun, s.Begin)
		}
		var f invalid.Faults
		if b.Counted && c.Lost != nil && *c.Lost > begun {
			f.Add("lost", reason.Of("bench.were-started-no-more-than", reason.Int(begun)))
		}
		if c.Back != nil && c.Lost != nil && *c.Back > *c.Lost {
			f.Add("back", reason.Of("lesson.back-of-lost", reason.Int(*c.Lost)))
		}
		if err := f.Err(); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `insert into step_results (kitchen_id, batch_id, step, minutes, repaired, lost, back, unfit,
				by_id) values (zt_kitchen(), $1, $2, $3, $4, $5, $6, $7, $8)
			on conflict (kitchen_id, batch_id, step) do update set minutes = excluded.minutes, repaired = excluded.repaired,
				lost = excluded.lost, back = excluded.back, unfit = excluded.unfit, by_id = excluded.by_id`, in.ID.ID, in.Step,
			c.Minutes, c.Repaired, c.Lost, c.Back, c.Unfit, web.ActorOf(ctx).ID())
		return err
	})
}

// one batch of which something is done.
func (l *Logbook) one(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*Batch, error) {
	list, err := l.read(ctx, tx, &Which{batch: id}, 1)
	if err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, web.NotFound("batch")
	}
	return &list[0], nil
}

func (l *Logbook) putPhoto(ctx context.Context, in *struct {
	web.ID
	RawBody []byte `contentType:"image/jpeg"`
}) (*struct{}, error) {
	p, err := photo.Read(in.RawBody)
	if err != nil {
		return nil, web.Because(http.StatusUnprocessableEntity, reason.Because(err))
	}
	return nil, l.In(ctx, func(tx pgx.Tx) error {
		var is bool
		if err := tx.QueryRow(ctx, `select exists (select from batches where id = $1)`, in.ID.ID).Scan(&is); err != nil {
			return err
		}
		if !is {
			return web.NotFound("batch")
		}
		_, err := tx.Exec(ctx, `insert into batch_photos (kitchen_id, batch_id, image, width, height, at, by_id)
			values (zt_kitchen(), $1, $2, $3, $4, $5, $6) on conflict (kitchen_id, batch_id) do update
			set image = excluded.image, width = excluded.width, height = excluded.height, at = excluded.at,
				by_id = excluded.by_id`, in.ID.ID, p.Bytes, p.Width, p.Height, l.Clock(),
			web.ActorOf(ctx).ID())
		return err
	})
}

func (l *Logbook) getPhoto(ctx context.Context, in *web.ID) (*web.File, error) {
	var image []byte
	err := l.In(ctx, func(tx pgx.Tx) error {
		err := tx.QueryRow(ctx, `select image from batch_photos where batch_id = $1`, in.ID).Scan(&image)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.NotFound("photo")
		}
		return err
	})
	return &web.File{ContentType: "image/jpeg", Body: image, CacheControl: "private, no-cache"}, err
}

func (l *Logbook) removePhoto(ctx context.Context, in *web.ID) (*struct{}, error) {
	return nil, l.In(ctx, func(tx pgx.Tx) error {
		tag, err := tx.Exec(ctx, `delete from batch_photos where batch_id = $1`, in.ID)
		if err == nil && tag.RowsAffected() == 0 {
			return web.NotFound("photo")
		}
		return err
	})
}

// all of the logbook.
const all = 100_000

func (l *Logbook) csv(ctx context.Context, in *Which) (*web.File, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	w.UseCRLF = true // RFC 4180
	err := l.In(ctx, func(tx pgx.Tx) error {
		list, err := l.read(ctx, tx, in, all)
		if err != nil {
			return err
		}
		if err := w.Write([]string{"day", "treat", "version", "for", "who", "wanted", "started", "good", "step", "lost",
			"repaired", "back to the pot", "minutes planned", "minutes", "faults", "notes", "cost", "currency"}); err != nil {
			return err
		}
		for i := range list {
			b := &list[i]
			good := ""
			if b.Good != nil {
				good = strconv.Itoa(*b.Good)
			}
			for n, s := range b.Steps {
				minutes, notes, cost := "", "", ""
				if s.Took > 0 {
					minutes = strconv.FormatFloat(s.Took, 'f', 1, 64)
				}
				if n == 0 { // once, so that sums are right
					notes, cost = strings.Join(b.Notes, "; "), b.Cost.Amount
				}
				faults := []string{}
				for _, f := range b.Faults {
					if id, _ := of(b.card, ident.Step(f.Step)); id == s.Step {
						faults = append(faults, f.Sign.Code[len("fault.sign-"):]+" x "+strconv.Itoa(f.Units))
					}
				}
				record := []string{b.Day, b.Name, strconv.Itoa(b.Version), b.owners(), strings.Join(b.Who, "; "),
					strconv.Itoa(b.Wanted), strconv.Itoa(b.Started), good, s.Name, strconv.Itoa(s.Lost), strconv.Itoa(s.Repaired),
					strconv.Itoa(s.Back), strconv.FormatFloat(s.Planned, 'f', -1, 64), minutes, strings.Join(faults, "; "), notes,
					cost, b.Cost.Currency}
				for c := range record {
					record[c] = web.Cell(record[c])
				}
				if err := w.Write(record); err != nil {
					return err
				}
			}
		}
		w.Flush()
		return w.Error()
	})
	return web.Download("logbook.csv", "text/csv; charset=utf-8", out.Bytes()), err
}

// owners of a batch.
func (b *Batch) owners() string {
	names := make([]string, len(b.For))
	for i, o := range b.For {
		names[i] = o.Customer
	}
	return strings.Join(names, "; ")
}

// Whole is all of the logbook.
type Whole struct {
	Batches []Batch           `json:"batches"`
	Photos  map[string][]byte `json:"photos" doc:"JPEGs in base64, by batch"`
}

func (l *Logbook) whole(ctx context.Context, _ *struct{}) (*struct{ Body Whole }, error) {
	out := Whole{Photos: map[string][]byte{}}
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		if out.Batches, err = l.read(ctx, tx, &Which{}, all); err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select batch_id, image from batch_photos`)
		if err != nil {
			return err
		}
		var id uuid.UUID
		var image []byte
		_, err = pgx.ForEachRow(rows, []any{&id, &image}, func() error {
			out.Photos[id.String()] = bytes.Clone(image)
			return nil
		})
		return err
	})
	return &struct{ Body Whole }{out}, err
}
