package jobs_test

import (
	"context"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/pglocal/pgtest"
)

func TestMain(m *testing.M) { os.Exit(pgtest.Run(m, nil)) }

// described is every column, constraint and index of River's tables.
func described(t *testing.T, url string) []string {
	t.Helper()
	ctx := context.Background()
	conn, err := pgx.Connect(ctx, url)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	rows, err := conn.Query(ctx, `select table_name || '.' || column_name || ' ' || udt_name || ' ' || is_nullable || ' '
			|| coalesce(column_default, '') from information_schema.columns where table_name like 'river\_%'
			and table_name <> 'river_migration'
		union all select indexdef from pg_indexes where tablename like 'river\_%' and tablename <> 'river_migration'
		union all select conrelid::regclass || ' ' || conname || ' ' || pg_get_constraintdef(oid) from pg_constraint
			where conrelid::regclass::text like 'river\_%' and conrelid::regclass::text <> 'river_migration'
			and contype <> 'n'
		union all select enumlabel || ' ' || row_number() over (order by enumsortorder) from pg_enum e join pg_type y on y.oid = e.enumtypid
			where typname = 'river_job_state'
		order by 1`)
	if err != nil {
		t.Fatal(err)
	}
	list, err := pgx.CollectRows(rows, pgx.RowTo[string])
	if err != nil || len(list) < 40 {
		t.Fatalf("%d lines, %v", len(list), err)
	}
	for i := range list { // how a default is written out differs, not what it is
		list[i] = strings.ReplaceAll(list[i], "CURRENT_TIMESTAMP", "now()")
	}
	return list
}

// The job queue's tables are as its own migrations make them: when a new version of it brings others, a migration of
// ours is due.
func TestTheSchemaIsRivers(t *testing.T) {
	ctx := context.Background()
	ours, theirs := pgtest.Empty(t), pgtest.Empty(t)
	if err := db.Migrate(ctx, ours); err != nil {
		t.Fatal(err)
	}
	pool, err := pgxpool.New(ctx, theirs)
	if err != nil {
		t.Fatal(err)
	}
	defer pool.Close()
	migrator, err := rivermigrate.New(riverpgxv5.New(pool), nil)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := migrator.Migrate(ctx, rivermigrate.DirectionUp, nil); err != nil {
		t.Fatal(err)
	}
	a, b := described(t, ours), described(t, theirs)
	for _, line := range a {
		if !slices.Contains(b, line) {
			t.Errorf("ours alone: %s", line)
		}
	}
	for _, line := range b {
		if !slices.Contains(a, line) {
			t.Errorf("River's alone: %s", line)
		}
	}
}
