package archive

import (
	"archive/zip"
	"bytes"
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/web"
)

// Manifest of a file: what it is, and what must be in it.
type Manifest struct {
	Format  string          `json:"format"`
	Version int             `json:"version"`
	Made    time.Time       `json:"made"`
	Kitchen string          `json:"kitchen"`
	Files   map[string]Part `json:"files"`
}

// Part of a file, by its SHA-256: one that was cut or changed on the way is known.
type Part struct {
	Rows   int    `json:"rows,omitempty"`
	SHA256 string `json:"sha256"`
}

// unplain are letters that a name of a file in a header had better not have.
var unplain = regexp.MustCompile(`[^a-z0-9]+`)

// readable are tables that are also written as CSV, for a spreadsheet.
var readable = []string{"customers", "orders", "order_lines", "payments", "ingredients", "supplies", "lots", "treats",
	"batches", "events", "messages"}

const readme = `All data of a kitchen, as Zesty Tin keeps it.

manifest.json   what this is, of when, and the SHA-256 of every other file
kitchen.json    the kitchen's own numbers
people.json     who worked in it: names by the ids that stand beside what they did
data/*.json     one file for each table, a row on each line. Amounts are g and mL, temperatures °C, lengths m,
                money decimal in the kitchen's currency, times UTC, minutes of a day on the kitchen's clock
csv/*.csv       some of the same, for a spreadsheet (UTF-8)
photos/*.jpg    photos, called by their batches
logo.png        the kitchen's logo, where it has one

Passwords, sessions and the secrets of links stand in none of them. Another kitchen of the same version of Zesty Tin in
which nothing has been done yet takes this file in as it is: links that customers, calendars and thermometers follow
have to be made anew there.
`

// writer of a file.
type writer struct {
	zip   *zip.Writer
	parts map[string]Part
	at    time.Time
}

func (w *writer) add(name string, body []byte, rows int) error {
	f, err := w.zip.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: w.at})
	if err != nil {
		return err
	}
	if name != manifestName {
		sum := sha256.Sum256(body)
		w.parts[name] = Part{Rows: rows, SHA256: hex.EncodeToString(sum[:])}
	}
	_, err = f.Write(body)
	return err
}

const manifestName = "manifest.json"

// Write the kitchen of tx as a file, with what it is to be called.
func Write(ctx context.Context, tx pgx.Tx, at time.Time) (name string, body []byte, err error) {
	var b bytes.Buffer
	w := &writer{zip: zip.NewWriter(&b), parts: map[string]Part{}, at: at.UTC()}
	m := Manifest{Format: Format, Version: Version, Made: at.UTC(), Files: w.parts}
	var kitchen, people json.RawMessage
	if err := tx.QueryRow(ctx, `select k.name, to_jsonb(k) - array['id', 'feed', 'gone_at', 'to_try'],
			coalesce((select jsonb_agg(jsonb_build_object('id', p.id, 'name', p.name) order by p.id) from people p
			where exists (select from memberships m where m.person_id = p.id)), '[]') from kitchens k`).
		Scan(&m.Kitchen, &kitchen, &people); err != nil {
		return "", nil, err
	}
	if err := w.add("README.txt", []byte(readme), 0); err != nil {
		return "", nil, err
	}
	for name, body := range map[string]json.RawMessage{"kitchen.json": kitchen, "people.json": people} {
		if err := w.add(name, append(body, '\n'), 0); err != nil {
			return "", nil, err
		}
	}
	list, err := tables(ctx, tx)
	if err != nil {
		return "", nil, err
	}
	for _, t := range list {
		if err := w.table(ctx, tx, t); err != nil {
			return "", nil, fmt.Errorf("%s: %w", t.Name, err)
		}
	}
	manifest, err := json.MarshalIndent(m, "", " ")
	if err == nil {
		err = w.add(manifestName, append(manifest, '\n'), 0)
	}
	if err == nil {
		err = w.zip.Close()
	}
	plain := strings.Trim(unplain.ReplaceAllString(strings.ToLower(m.Kitchen), "-"), "-")
	return fmt.Sprintf("%s-%s.zip", cmp.Or(plain, "kitchen"), at.Format(time.DateOnly)), b.Bytes(), err
}

// table and its photos.
func (w *writer) table(ctx context.Context, tx pgx.Tx, t table) error {
	of := pgx.Identifier{t.Name}.Sanitize()
	row := `to_jsonb(x) - 'kitchen_id'`
	if secret, is := secrets[t.Name]; is { // that there is one is told, not which
		row += fmt.Sprintf(` || case when x.%[1]s is null then '{}'::jsonb else '{"%[1]s": ""}' end`, secret)
	}
	pictures, pictured := pictures[t.Name]
	if pictured {
		row += ` || '{"image": ""}'`
	}
	var order []string
	for _, k := range t.Key {
		order = append(order, "x."+pgx.Identifier{k}.Sanitize())
	}
	rows, err := tx.Query(ctx, `select `+row+` from `+of+` x order by `+strings.Join(order, ", "))
	if err != nil {
		return err
	}
	list, err := pgx.CollectRows(rows, pgx.RowTo[json.RawMessage])
	if err != nil {
		return err
	}
	var b bytes.Buffer
	b.WriteString("[")
	for i, r := range list {
		if i > 0 {
			b.WriteString(",")
		}
		b.WriteString("\n")
		b.Write(r)
	}
	b.WriteString("\n]\n")
	if err := w.add("data/"+t.Name+".json", b.Bytes(), len(list)); err != nil {
		return err
	}
	if slices.Contains(readable, t.Name) {
		if err := w.sheet(t, list); err != nil {
			return err
		}
	}
	if !pictured {
		return nil
	}
	images, err := tx.Query(ctx, `select `+pictures.id+`::text, image from `+of+` order by 1`)
	if err != nil {
		return err
	}
	var id string
	var image []byte
	_, err = pgx.ForEachRow(images, []any{&id, &image}, func() error { return w.add(pictures.file(id), image, 0) })
	return err
}

// picture is what the images of a table are called in the file: each by what tells its row from others.
type picture struct {
	id     string // the column, or a constant
	folder string
	ending string
}

func (p picture) file(id string) string { return p.folder + id + p.ending }

// pictures that rows have, by their tables.
var pictures = map[string]picture{
	"batch_photos": {"batch_id", "photos/", ".jpg"},
	"logos":        {"'logo'", "", ".png"},
}

// sheet of a table, as CSV: what is not plain stands there as JSON.
func (w *writer) sheet(t table, list []json.RawMessage) error {
	var b bytes.Buffer
	to := csv.NewWriter(&b)
	_ = to.Write(t.Columns)
	for _, r := range list {
		var fields map[string]json.RawMessage
		if err := json.Unmarshal(r, &fields); err != nil {
			return err
		}
		line := make([]string, len(t.Columns))
		for i, c := range t.Columns {
			var text string
			switch v := fields[c]; {
			case len(v) == 0 || string(v) == "null":
			case json.Unmarshal(v, &text) == nil:
				line[i] = web.Cell(text)
			default:
				line[i] = string(v)
			}
		}
		_ = to.Write(line)
	}
	to.Flush()
	if err := to.Error(); err != nil {
		return err
	}
	return w.add("csv/"+t.Name+".csv", b.Bytes(), 0)
}
