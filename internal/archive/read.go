package archive

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"

	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Taken in from a file.
type Taken struct {
	Kitchen string `json:"kitchen" doc:"What it is called there"`
	Orders  int    `json:"orders"`
	Treats  int    `json:"treats"`
	Rows    int    `json:"rows" doc:"In all"`
}

// reader of a file whose parts have been held against its manifest.
type reader struct {
	Manifest
	bodies map[string][]byte
}

// refused is a file that cannot be taken in.
func refused(why reason.Reason) error { return web.Because(http.StatusUnprocessableEntity, why) }

// open a file: all of it is looked at before anything is written.
func open(file []byte) (*reader, error) {
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		return nil, refused(reason.Of("archive.cut"))
	}
	r := &reader{bodies: map[string][]byte{}}
	room := int64(mostData)
	for _, f := range z.File {
		if int64(f.UncompressedSize64) > room || f.UncompressedSize64 > mostData {
			return nil, web.Because(http.StatusRequestEntityTooLarge, reason.Of("archive.too-large"))
		}
		in, err := f.Open()
		if err != nil {
			return nil, refused(reason.Of("archive.changed", reason.Name(f.Name)))
		}
		body, err := io.ReadAll(io.LimitReader(in, room+1)) // what its head says of its size need not be so
		_ = in.Close()
		if err != nil {
			return nil, refused(reason.Of("archive.changed", reason.Name(f.Name)))
		}
		if room -= int64(len(body)); room < 0 {
			return nil, web.Because(http.StatusRequestEntityTooLarge, reason.Of("archive.too-large"))
		}
		r.bodies[f.Name] = body
	}
	if err := json.Unmarshal(r.bodies[manifestName], &r.Manifest); err != nil || r.Format != Format {
		return nil, refused(reason.Of("archive.not-ours"))
	}
	switch {
	case r.Version > Version:
		return nil, refused(reason.Of("archive.newer", reason.Int(r.Version),
			reason.Int(Version)))
	case r.Version < Version:
		return nil, refused(reason.Of("archive.older", reason.Int(r.Version),
			reason.Int(Version)))
	}
	for name, part := range r.Files {
		body, is := r.bodies[name]
		if !is {
			return nil, refused(reason.Of("archive.missing", reason.Name(name)))
		}
		if sum := sha256.Sum256(body); hex.EncodeToString(sum[:]) != part.SHA256 {
			return nil, refused(reason.Of("archive.changed", reason.Name(name)))
		}
	}
	return r, nil
}

// read a file into the kitchen of tx, which must be empty.
func (a *Archive) read(ctx context.Context, tx pgx.Tx, file []byte) (Taken, error) {
	r, err := open(file)
	if err != nil {
		return Taken{}, err
	}
	var used bool
	if err := tx.QueryRow(ctx, `select exists (select from orders) or exists (select from treats)
		or exists (select from ingredients) or exists (select from customers) or exists (select from pots)
		from kitchens for update`).Scan(&used); err != nil {
		return Taken{}, err
	}
	if used {
		return Taken{}, web.Reject(http.StatusConflict, "archive.kitchen-is-used")
	}
	list, err := tables(ctx, tx)
	if err != nil {
		return Taken{}, err
	}
	if _, err := tx.Exec(ctx, `set constraints all deferred`); err != nil {
		return Taken{}, err
	}
	out := Taken{Kitchen: r.Kitchen}
	for _, t := range list {
		n, err := r.table(ctx, tx, t)
		if err != nil {
			return out, unfit(err, t.Name)
		}
		out.Rows += n
		switch t.Name {
		case "orders":
			out.Orders = n
		case "treats":
			out.Treats = n
		}
	}
	if err := r.kitchen(ctx, tx); err != nil {
		return out, unfit(err, "kitchen")
	}
	// What had not left is not sent from here: nobody knows whether it was sent from there.
	if _, err := tx.Exec(ctx, `update messages set state = 'unsure', told = $1 where state in ('waiting', 'sending')`,
		reason.Of("messages.was-broken-off")); err != nil {
		return out, err
	}
	if _, err := tx.Exec(ctx, `set constraints all immediate`); err != nil {
		return out, unfit(err, "data")
	}
	if err := a.Sound(ctx, tx); err != nil {
		return out, err
	}
	return out, web.Note(ctx, tx, a.Clock(), web.Imported, r.Kitchen)
}

// unfit is what the database refuses of a file: nothing of it is kept.
func unfit(err error, part string) error {
	var wrong *json.SyntaxError
	var said *pgconn.PgError
	if errors.As(err, &wrong) || errors.As(err, &said) && (strings.HasPrefix(said.Code, "22") ||
		strings.HasPrefix(said.Code, "23")) {
		return refused(reason.Of("archive.changed", reason.Name(part)))
	}
	return err
}

// table of a file, in place of what a new kitchen has in it.
func (r *reader) table(ctx context.Context, tx pgx.Tx, t table) (int, error) {
	body, is := r.bodies["data/"+t.Name+".json"]
	if !is {
		return 0, refused(reason.Of("archive.missing", reason.Name("data/"+t.Name+".json")))
	}
	var list []json.RawMessage
	if err := json.Unmarshal(body, &list); err != nil {
		return 0, err
	}
	of := pgx.Identifier{t.Name}.Sanitize()
	if _, err := tx.Exec(ctx, `delete from `+of); err != nil {
		return 0, err
	}
	if len(list) == 0 {
		return 0, nil
	}
	who := web.ActorOf(ctx).Person.String()
	pictures, pictured := pictures[t.Name]
	columns := make([]string, 0, len(t.Columns)+1)
	values := make([]string, 0, len(t.Columns)+1)
	columns, values = append(columns, "kitchen_id"), append(values, "zt_kitchen()")
	for _, c := range t.Columns {
		name := pgx.Identifier{c}.Sanitize()
		columns = append(columns, name)
		switch {
		case slices.Contains(persons, c): // whoever it was, they are not known here
			values = append(values, fmt.Sprintf(`case when x.%s is not null then '%s'::uuid end`, name, who))
		case secrets[t.Name] == c:
			values = append(values, fmt.Sprintf(`case when x.%s is not null then
				left(encode(sha256(convert_to($2::text || row_number() over (), 'UTF8')), 'hex'), %d) end`, name,
				lengths[t.Name]))
		case pictured && c == "image":
			values = append(values, "decode(r ->> 'image', 'base64')")
		default:
			values = append(values, "x."+name)
		}
	}
	if pictured {
		if err := r.images(list, pictures); err != nil {
			return 0, err
		}
	}
	rows, err := json.Marshal(list)
	if err != nil {
		return 0, err
	}
	args := []any{rows}
	if _, is := secrets[t.Name]; is {
		args = append(args, rand.Text())
	}
	_, err = tx.Exec(ctx, `insert into `+of+` (`+strings.Join(columns, ", ")+`) select `+strings.Join(values, ", ")+
		` from jsonb_array_elements($1) r, jsonb_populate_record(null::`+of+`, r - 'image') x`, args...)
	return len(list), err
}

// images go into their rows.
func (r *reader) images(list []json.RawMessage, pictures picture) error {
	for i, row := range list {
		var fields map[string]json.RawMessage
		if err := json.Unmarshal(row, &fields); err != nil {
			return err
		}
		id := strings.Trim(pictures.id, "'") // a constant
		if id == pictures.id {
			if err := json.Unmarshal(fields[pictures.id], &id); err != nil {
				return err
			}
		}
		image, is := r.bodies[pictures.file(id)]
		if !is {
			return refused(reason.Of("archive.missing", reason.Name(pictures.file(id))))
		}
		var err error
		if fields["image"], err = json.Marshal(image); err != nil { // bytes are base64 in JSON
			return err
		}
		if list[i], err = json.Marshal(fields); err != nil {
			return err
		}
	}
	return nil
}

// kitchen's own numbers.
func (r *reader) kitchen(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select attname::text from pg_attribute where attrelid = 'kitchens'::regclass and attnum > 0
		and not attisdropped and attname not in ('id', 'feed', 'gone_at', 'to_try')`)
	if err != nil {
		return err
	}
	columns, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil {
		return err
	}
	set := make([]string, len(columns))
	for i, c := range columns {
		set[i] = pgx.Identifier{c}.Sanitize() + " = x." + pgx.Identifier{c}.Sanitize()
	}
	_, err = tx.Exec(ctx, `update kitchens k set `+strings.Join(set, ", ")+
		` from jsonb_populate_record(null::kitchens, $1) x where k.id = zt_kitchen()`, r.bodies["kitchen.json"])
	return err
}
