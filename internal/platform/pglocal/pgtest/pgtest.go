// Package pgtest gives every test a database of its own on a real private PostgreSQL: one server for a test binary, one
// migrated template, a clone for each test.
package pgtest

import (
	"context"
	"fmt"
	neturl "net/url"
	"os"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/pglocal"
)

var (
	server *pglocal.Server
	clones atomic.Int64
	// PostgreSQL makes one clone of a template at a time.
	cloning sync.Mutex
)

// Run the tests of a package with a server. Use it in TestMain: os.Exit(pgtest.Run(m, fill)). fill puts into the
// template what every test begins with; nil for the bare schema.
func Run(m *testing.M, fill func(context.Context, *pgxpool.Pool) error) int {
	dir, err := os.MkdirTemp("", "zestytin-test-*")
	if err == nil {
		err = os.Chmod(dir, 0o755) // the server's own user must enter it
	}
	if err == nil {
		defer os.RemoveAll(dir)
		server, err = pglocal.Start(context.Background(), dir, pglocal.Options{Fast: true})
	}
	if err == nil {
		defer server.Stop()
		err = template(context.Background(), fill)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "the tests' database:", err)
		return 1
	}
	return m.Run()
}

func template(ctx context.Context, fill func(context.Context, *pgxpool.Pool) error) error {
	if err := server.Ensure(ctx, "template_zt"); err != nil {
		return err
	}
	if err := db.Migrate(ctx, server.Owner("template_zt")); err != nil {
		return err
	}
	if fill == nil {
		return nil
	}
	pool, err := db.Open(ctx, server.Login("template_zt"))
	if err != nil {
		return err
	}
	defer pool.Close()
	return fill(ctx, pool)
}

// New is a database of the test's own: a pool as the server has it, and the URL of the owner.
func New(t testing.TB) (pool *pgxpool.Pool, owner string) {
	t.Helper()
	name := fmt.Sprintf("test_%d", clones.Add(1))
	asSuperuser(t, "create database "+name+" template template_zt")
	pool, err := db.Open(context.Background(), server.Login(name))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(pool.Close)
	return pool, server.Owner(name)
}

// Empty is a database without a schema, and the URL of a plain owner of it, who is bound by row-level security.
func Empty(t testing.TB) (owner string) {
	t.Helper()
	name := fmt.Sprintf("empty_%d", clones.Add(1))
	url, err := neturl.Parse(server.Owner(name))
	if err != nil {
		t.Fatal(err)
	}
	password, _ := url.User.Password()
	asSuperuser(t,
		"create role "+name+" login password '"+password+"'",
		"grant "+db.Role+" to "+name+" with admin option",
		"create database "+name+" owner "+name)
	url.User = neturl.UserPassword(name, password)
	return url.String()
}

// asSuperuser does what makes a database.
func asSuperuser(t testing.TB, statements ...string) {
	t.Helper()
	ctx := context.Background()
	cloning.Lock()
	defer cloning.Unlock()
	conn, err := pgx.Connect(ctx, server.Owner("postgres"))
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	for _, statement := range statements {
		if _, err := conn.Exec(ctx, statement); err != nil {
			t.Fatal(err)
		}
	}
}
