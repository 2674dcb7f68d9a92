// Package pglocal runs a private PostgreSQL of Debian's package on loopback, in a folder of the project's, as an
// unprivileged user. The demo and the tests use it; DATABASE_URL names any other server.
package pglocal

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/jackc/pgx/v5"
)

// Server is a running private server.
type Server struct {
	Dir     string // where its data is
	pg      tool
	port    int
	secret  string
	options Options
	lock    *os.File // held by the process that the server belongs to, nil in others: its end ends the server
}

// Options of Start.
type Options struct {
	Fast bool // tests: durability against power loss is given up for speed
}

// Start makes a server in dir if there is none, and starts it if it is not running.
func Start(ctx context.Context, dir string, o Options) (*Server, error) {
	pg, err := findTool()
	if err != nil {
		return nil, err
	}
	if dir, err = pg.reachable(dir); err != nil {
		return nil, err
	}
	s := &Server{Dir: dir, pg: pg, lock: lockOf(dir)}
	data := filepath.Join(dir, "data")
	if _, err := os.Stat(filepath.Join(data, "PG_VERSION")); err != nil {
		if err := s.initialise(data, o); err != nil {
			return nil, err
		}
	}
	secret, err := os.ReadFile(filepath.Join(dir, "secret"))
	if err != nil {
		return nil, fmt.Errorf("read the private database's password: %w", err)
	}
	s.secret = string(secret)
	if s.port = runningPort(data); s.port == 0 || s.ping(ctx) != nil {
		if s.port, err = freePort(); err != nil {
			return nil, err
		}
		if err := s.launch(data, o); err != nil {
			return nil, err
		}
	}
	s.options = o
	return s, s.roles(ctx)
}

// Watch the server until ctx ends, and start it again at the same address when it is gone: killed, or out of memory. It
// belongs to whoever started it; another process's is left alone.
func (s *Server) Watch(ctx context.Context) {
	if s.lock == nil {
		return
	}
	data := filepath.Join(s.Dir, "data")
	look := time.NewTicker(time.Second / 2)
	defer look.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-look.C:
		}
		if runningPort(data) != 0 {
			continue
		}
		slog.Warn("the private database is gone: it is started again")
		if err := s.launch(data, s.options); err != nil && ctx.Err() == nil {
			slog.Error("start the private database", "error", err)
		}
	}
}

// Owner is the URL of a database for migrations; Login the one for the server, which owns nothing.
func (s *Server) Owner(database string) string { return s.url("postgres", database) }
func (s *Server) Login(database string) string { return s.url("zestytin_server", database) }

func (s *Server) url(user, database string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", user, s.secret, s.port, database)
}

// Ensure makes the database when there is none.
func (s *Server) Ensure(ctx context.Context, database string) error {
	conn, err := pgx.Connect(ctx, s.Owner("postgres"))
	if err != nil {
		return err
	}
	defer conn.Close(ctx)
	var there bool
	if err := conn.QueryRow(ctx, "select exists (select from pg_database where datname = $1)",
		database).Scan(&there); err != nil || there {
		return err
	}
	_, err = conn.Exec(ctx, "create database "+pgx.Identifier{database}.Sanitize())
	return err
}

// lockOf the folder, nil when another process holds it. It goes with the process, however that ends: the next one then
// takes over a server that was left running.
func lockOf(dir string) *os.File {
	file, err := os.OpenFile(filepath.Join(dir, "lock"), os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return nil
	}
	if err := syscall.Flock(int(file.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		file.Close()
		return nil
	}
	return file
}

// Stop ends the server if it belongs to this process.
func (s *Server) Stop() error {
	if s.lock == nil {
		return nil
	}
	defer s.lock.Close()
	return s.pg.run("pg_ctl", "stop", "-D", filepath.Join(s.Dir, "data"), "-m", "fast", "-w")
}

func (s *Server) initialise(data string, o Options) error {
	secret := rand.Text()
	file := filepath.Join(s.Dir, "secret")
	if err := os.WriteFile(file, []byte(secret), 0o600); err != nil {
		return err
	}
	if err := s.pg.own(file); err != nil {
		return err
	}
	args := []string{"-D", data, "-U", "postgres", "-A", "scram-sha-256", "--pwfile", file, "-E", "UTF8", "--locale",
		"C.UTF-8"}
	if o.Fast {
		args = append(args, "--no-sync")
	}
	return s.pg.run("initdb", args...)
}

func (s *Server) launch(data string, o Options) error {
	settings := fmt.Sprintf(
		"-c listen_addresses=127.0.0.1 -c port=%d -c unix_socket_directories='' -c max_connections=120", s.port)
	if o.Fast {
		settings += " -c fsync=off -c full_page_writes=off" // what is committed survives the process, not the power
	}
	if err := s.pg.run("pg_ctl", "start", "-D", data, "-w", "-t", "60", "-l", filepath.Join(s.Dir, "log"), "-o",
		settings); err != nil {
		return fmt.Errorf("%w (its log is %s)", err, filepath.Join(s.Dir, "log"))
	}
	return nil
}

func (s *Server) ping(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, s.Owner("postgres"))
	if err != nil {
		return err
	}
	return conn.Close(ctx)
}

func (s *Server) roles(ctx context.Context) error {
	conn, err := pgx.Connect(ctx, s.Owner("postgres"))
	if err != nil {
		return fmt.Errorf("connect to the private database: %w", err)
	}
	defer conn.Close(ctx)
	_, err = conn.Exec(ctx, fmt.Sprintf(`do $$ begin
		if not exists (select from pg_roles where rolname = 'zestytin_app') then create role zestytin_app nologin; end if;
		if not exists (select from pg_roles where rolname = 'zestytin_server') then
			create role zestytin_server login password '%s' in role zestytin_app;
		end if;
	end $$`, s.secret))
	return err
}

// tool is the installed PostgreSQL and the user that it runs as.
type tool struct {
	bin  string
	cred *syscall.Credential // nil: as we are
}

func findTool() (tool, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/initdb")
	slices.SortFunc(found, func(a, b string) int { return version(b) - version(a) })
	if len(found) == 0 || version(found[0]) < 15 {
		return tool{},
			errors.New(
				"PostgreSQL 15 or later is missing: install it with `apt-get install postgresql-15`, or set DATABASE_URL")
	}
	t := tool{bin: filepath.Dir(found[0])}
	if os.Geteuid() != 0 {
		return t, nil
	}
	// PostgreSQL refuses to run as root.
	u, err := user.Lookup("postgres")
	if err != nil {
		return tool{}, fmt.Errorf("PostgreSQL does not run as root, and there is no user for it: %w", err)
	}
	uid, _ := strconv.ParseUint(u.Uid, 10, 32)
	gid, _ := strconv.ParseUint(u.Gid, 10, 32)
	t.cred = &syscall.Credential{Uid: uint32(uid), Gid: uint32(gid)}
	return t, nil
}

func version(path string) int {
	n, _ := strconv.Atoi(strings.Split(strings.TrimPrefix(path, "/usr/lib/postgresql/"), "/")[0])
	return n
}

func (t tool) command(name string, args ...string) *exec.Cmd {
	cmd := exec.Command(name, args...)
	cmd.Dir = "/"
	// Its own group: an interrupt at the terminal is for us, who then stop it in good order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Credential: t.cred}
	return cmd
}

func (t tool) run(name string, args ...string) error {
	// The output goes to a file: the server inherits it, and a pipe would stay open as long as the server runs.
	out, err := os.CreateTemp("", "zestytin-pg-*")
	if err != nil {
		return err
	}
	defer os.Remove(out.Name())
	defer out.Close()
	cmd := t.command(filepath.Join(t.bin, name), args...)
	cmd.Stdout, cmd.Stderr = out, out
	if err := cmd.Run(); err != nil {
		said, _ := os.ReadFile(out.Name())
		return fmt.Errorf("%s: %w: %s", name, err, strings.TrimSpace(string(said)))
	}
	return nil
}

func (t tool) own(path string) error {
	if t.cred == nil {
		return nil
	}
	return os.Chown(path, int(t.cred.Uid), int(t.cred.Gid))
}

// reachable makes dir for the server's user, or, where that user cannot enter it, a folder of the machine's state.
func (t tool) reachable(dir string) (string, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", err
	}
	for _, candidate := range []string{dir, filepath.Join("/var/lib/zestytin",
		strings.ReplaceAll(strings.Trim(dir, "/"), "/", "-"))} {
		if err = os.MkdirAll(candidate, 0o755); err != nil {
			continue
		}
		if err = t.own(candidate); err != nil {
			continue
		}
		if err = t.command("/usr/bin/test", "-x", candidate, "-a", "-w", candidate).Run(); err == nil {
			return candidate, nil
		}
	}
	return "", fmt.Errorf("the database's user can enter neither %s nor /var/lib/zestytin: %w", dir, err)
}

// runningPort of the server whose data is there, 0 when none runs.
func runningPort(data string) int {
	text, err := os.ReadFile(filepath.Join(data, "postmaster.pid"))
	lines := strings.Split(string(text), "\n")
	if err != nil || len(lines) < 4 {
		return 0
	}
	pid, _ := strconv.Atoi(strings.TrimSpace(lines[0]))
	if pid <= 0 || errors.Is(syscall.Kill(pid, 0), syscall.ESRCH) {
		return 0
	}
	port, _ := strconv.Atoi(strings.TrimSpace(lines[3]))
	return port
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
