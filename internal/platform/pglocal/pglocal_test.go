package pglocal

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/jackc/pgx/v5"
)

func folder(t *testing.T) string {
	t.Helper()
	dir, err := os.MkdirTemp("", "zestytin-pglocal-*") // not t.TempDir: the server's own user must enter it
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { os.RemoveAll(dir) })
	return dir
}

func ask(t *testing.T, url, question string) (answer string) {
	t.Helper()
	conn, err := pgx.Connect(context.Background(), url)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(context.Background())
	if err := conn.QueryRow(context.Background(), question).Scan(&answer); err != nil {
		t.Fatal(err)
	}
	return answer
}

// What was written is there after a stop and a start; a second process finds the running server and leaves it running.
func TestStopAndStartAgain(t *testing.T) {
	ctx, dir := context.Background(), folder(t)
	first, err := Start(ctx, dir, Options{Fast: true})
	if err != nil {
		t.Fatal(err)
	}
	for range 2 {
		if err := first.Ensure(ctx, "kept"); err != nil {
			t.Fatal(err)
		}
	}
	ask(t, first.Owner("kept"), `with made as (select 1) select set_config('x.y', 'z', false) from made`)
	if got := ask(t, first.Owner("kept"),
		`select rolsuper::text from pg_roles where rolname = 'zestytin_server'`); got != "false" {
		t.Errorf("the server's login is a superuser: %s", got)
	}
	if got := ask(t, first.Login("kept"), `select current_user::text`); got != "zestytin_server" {
		t.Errorf("signed in as %s", got)
	}
	second, err := Start(ctx, dir, Options{Fast: true})
	if err != nil {
		t.Fatal(err)
	}
	if second.Owner("kept") != first.Owner("kept") {
		t.Error("the second start did not find the first server")
	}
	if err := second.Stop(); err != nil {
		t.Fatal(err)
	}
	ask(t, first.Owner("kept"), `select 'still running'`)
	if err := first.Stop(); err != nil {
		t.Fatal(err)
	}
	if runningPort(filepath.Join(dir, "data")) != 0 {
		t.Error("it runs after Stop")
	}
	third, err := Start(ctx, dir, Options{Fast: true})
	if err != nil {
		t.Fatal(err)
	}
	defer third.Stop()
	if got := ask(t, third.Owner("postgres"),
		`select datname::text from pg_database where datname = 'kept'`); got != "kept" {
		t.Errorf("after a new start there is %q", got)
	}
}

// A folder that the server's own user cannot enter is replaced by one of the machine's state, which is named.
func TestAFolderThatCannotBeEntered(t *testing.T) {
	if os.Geteuid() != 0 {
		t.Skip("only root has a folder that the server's user cannot enter")
	}
	closed := folder(t)
	if err := os.Chmod(closed, 0o700); err != nil {
		t.Fatal(err)
	}
	pg, err := findTool()
	if err != nil {
		t.Fatal(err)
	}
	got, err := pg.reachable(filepath.Join(closed, "inside"))
	if err != nil {
		t.Fatal(err)
	}
	defer os.RemoveAll(got)
	if filepath.Dir(got) != "/var/lib/zestytin" {
		t.Errorf("it goes to %s", got)
	}
}
