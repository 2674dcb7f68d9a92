// Package archive writes all of a kitchen's data as one file that people can read, and takes it in again.
package archive

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/web"
)

// Format of the files, and the version of the database whose tables they hold. A file of another version is refused:
// what a migration does to rows in a database it does not do to those in a file.
const (
	Format  = "zesty-tin-kitchen"
	Version = 47
)

// Limits of a file that is taken in, in bytes.
const (
	MostFile = 64 << 20
	mostData = 512 << 20 // once it is unpacked
)

// Deps is what it needs of other rooms.
type Deps struct {
	// Tell everybody who works in the kitchen of tx that it is to go.
	Tell func(ctx context.Context, tx pgx.Tx) error
	// Sound says what is wrong with the book and the larder of the kitchen of tx.
	Sound func(ctx context.Context, tx pgx.Tx) error
}

// Archive is the feature.
type Archive struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) *Archive {
	a := &Archive{h, needs}
	out := web.Heavy(web.GivesAway(huma.Operation{OperationID: "export-kitchen", Method: "GET",
		Path: "/api/v1/kitchen.zip", Tags: []string{"Account"},
		Summary:   "All of the kitchen's data, as a zip of JSON, CSV and photos",
		Responses: web.FileOf("application/zip", "The file; README.txt in it says what is what")}))
	web.Register(h, out, a.export)
	in := web.Heavy(web.AskAgain(huma.Operation{OperationID: "import-kitchen", Method: "POST",
		Path: "/api/v1/kitchen.zip", Tags: []string{"Account"},
		Summary: "Take such a file into a kitchen in which nothing has been done yet: all of it, or nothing"}))
	in.MaxBodyBytes, in.BodyReadTimeout = MostFile+1, time.Minute
	web.Register(h, in, a.take)
	web.Register(h, web.AskAgain(huma.Operation{OperationID: "leave", Method: "POST", Path: "/api/v1/kitchen/leaving",
		Tags: []string{"Account"}, Summary: "Let the kitchen go, with all that is in it, in a week"}), a.leave)
	web.Register(h, huma.Operation{OperationID: "stay", Method: "DELETE", Path: "/api/v1/kitchen/leaving",
		Tags: []string{"Account"}, Summary: "Keep it after all", DefaultStatus: http.StatusNoContent}, a.stay)
	return a
}

// left out of the files: what belongs to the server, what can be worked out, and what was noted of safety there.
var leftOut = []string{"memberships", "idempotency_keys", "security_events", "plan_runs", "ask_days",
	"invitations"}

// Secrets stand in no file: whoever has one could follow links that still work. In a kitchen that takes a file in they
// are new, so that the links of the old one end.
var secrets = map[string]string{"quotes": "token", "contacts": "token", "sensors": "secret"}

// lengths of secrets, in letters.
var lengths = map[string]int{"quotes": 40, "contacts": 40, "sensors": 64}

// persons are the columns that say who did something.
var persons = []string{"person_id", "by_id", "created_by", "done_by", "made_by", "began_by"}

// table of a kitchen.
type table struct {
	Name    string
	Columns []string // that are written and read: neither the kitchen nor what is worked out from others
	Key     []string // by which its rows are ordered
}

// tables of the database that belong to kitchens, by its own catalogue: none is forgotten.
func tables(ctx context.Context, tx pgx.Tx) ([]table, error) {
	rows, err := tx.Query(ctx, `select c.relname, array_agg(a.attname::text order by a.attnum)
			filter (where a.attgenerated = '' and a.attname <> 'kitchen_id'),
			coalesce((select array_agg(k.attname::text order by array_position(i.indkey::int2[], k.attnum)) from pg_index i
				join pg_attribute k on k.attrelid = c.oid and k.attnum = any(i.indkey::int2[])
				where i.indrelid = c.oid and i.indisprimary), '{}')
		from pg_class c join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
		where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace and exists (select from pg_attribute k
			where k.attrelid = c.oid and k.attname = 'kitchen_id' and not k.attisdropped)
		group by c.oid, c.relname order by c.relname`)
	if err != nil {
		return nil, err
	}
	list, err := pgx.CollectRows(rows, pgx.RowToStructByPos[table])
	return slices.DeleteFunc(list, func(t table) bool { return slices.Contains(leftOut, t.Name) }), err
}

func (a *Archive) export(ctx context.Context, _ *struct{}) (*web.File, error) {
	var name string
	var body []byte
	err := a.In(ctx, func(tx pgx.Tx) (err error) {
		name, body, err = Write(ctx, tx, a.Clock())
		return err
	})
	file := web.Download(name, "application/zip", body)
	file.CacheControl = "no-store"
	return file, err
}

func (a *Archive) take(ctx context.Context, in *struct {
	RawBody []byte `contentType:"application/zip"`
}) (*struct{ Body Taken }, error) {
	if len(in.RawBody) > MostFile {
		return nil, web.Reject(http.StatusRequestEntityTooLarge, "archive.too-large")
	}
	var out Taken
	err := a.In(ctx, func(tx pgx.Tx) (err error) {
		out, err = a.read(ctx, tx, in.RawBody)
		return err
	})
	return &struct{ Body Taken }{out}, err
}
