// Package db is the way to PostgreSQL: the pool, the migrations, and the one door to a kitchen's rows.
package db

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgerrcode"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/pgxpool"
	_ "github.com/jackc/pgx/v5/stdlib" // goose speaks database/sql
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Role that the server works as. It owns nothing and cannot bypass row-level security.
const Role = "zestytin_app"

// Migrate brings the schema at url up to date. url must name the owner of the tables.
func Migrate(ctx context.Context, url string) error { return MigrateTo(ctx, url, newest) }

// newest is above every migration's number.
const newest = 1 << 31

// MigrateTo brings the schema at url up to a migration's number, for tests of what a later one makes of what is there.
func MigrateTo(ctx context.Context, url string, version int64) error {
	conn, err := sql.Open("pgx", url)
	if err != nil {
		return fmt.Errorf("open the database to migrate it: %w", err)
	}
	defer conn.Close()
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectPostgres, conn, files)
	if err != nil {
		return fmt.Errorf("read the migrations: %w", err)
	}
	if _, err := provider.UpTo(ctx, version); err != nil {
		return fmt.Errorf("migrate: %w", err)
	}
	// The login that the server uses may take the server's role.
	_, err = conn.ExecContext(ctx, "grant "+Role+" to current_user")
	return err
}

// Open makes a pool whose every connection works as Role, whoever url signs in as.
func Open(ctx context.Context, url string) (*pgxpool.Pool, error) {
	return open(ctx, url, "current_user, session_user")
}

// OpenAsOwner is Open for the owner of the tables, whose login may do anything: for what is reckoned again after a
// migration. The role that it works in is the server's.
func OpenAsOwner(ctx context.Context, url string) (*pgxpool.Pool, error) {
	return open(ctx, url, "current_user")
}

// open the pool, whose users must not be able to bypass row-level security.
func open(ctx context.Context, url, users string) (*pgxpool.Pool, error) {
	config, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("read DATABASE_URL: %w", err)
	}
	config.ConnConfig.RuntimeParams["role"] = Role
	config.ConnConfig.RuntimeParams["application_name"] = "zestytin"
	// What a request asks of the database ends with the request, also where the server that asked is gone.
	config.ConnConfig.RuntimeParams["statement_timeout"] = "10s"
	config.ConnConfig.RuntimeParams["idle_in_transaction_session_timeout"] = "15s"
	config.MaxConns = max(config.MaxConns, 12)
	config.MaxConnIdleTime = 5 * time.Minute
	pool, err := pgxpool.NewWithConfig(ctx, config)
	if err != nil {
		return nil, err
	}
	var bypass bool
	err = pool.QueryRow(ctx, "select bool_or(rolsuper or rolbypassrls) from pg_roles where rolname in ("+users+
		")").Scan(&bypass)
	if err == nil && bypass {
		err = errors.New(
			"the server's login or its role may bypass row-level security: take that right from the login, or from " +
				Role)
	}
	if err != nil {
		pool.Close()
		return nil, fmt.Errorf("connect to the database: %w", err)
	}
	return pool, nil
}

// InKitchen runs fn in a transaction that sees and writes the rows of one kitchen only. It commits when fn returns nil.
// It is the only door to the tables that have a kitchen_id.
func InKitchen(ctx context.Context, pool *pgxpool.Pool, kitchen uuid.UUID, fn func(pgx.Tx) error) error {
	return Begin(ctx, pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, "select set_config('zt.kitchen', $1, true)", kitchen.String()); err != nil {
			return err
		}
		return fn(tx)
	})
}

// Set what the policies of the tables go by, for the rest of a transaction: pairs of a setting and its value.
func Set(ctx context.Context, tx pgx.Tx, pairs ...string) error {
	for i := 0; i < len(pairs); i += 2 {
		if _, err := tx.Exec(ctx, "select set_config($1, $2, true)", pairs[i], pairs[i+1]); err != nil {
			return err
		}
	}
	return nil
}

// Patience is how long a request waits for a connection before it is told to come back.
const Patience = 3 * time.Second

// ErrBusy is that all connections are taken, and stayed so.
var ErrBusy = errors.New("all connections to the database are taken")

// Do something with a connection of the pool, which is given back. A connection to a database that only follows another
// is closed: after a failover the next one may find the other.
func Do(ctx context.Context, pool *pgxpool.Pool, fn func(*pgx.Conn) error) error {
	patient, cancel := context.WithTimeout(ctx, Patience)
	defer cancel()
	conn, err := pool.Acquire(patient)
	if err != nil && patient.Err() != nil && ctx.Err() == nil {
		return ErrBusy
	}
	if err != nil {
		return err
	}
	defer conn.Release()
	err = fn(conn.Conn())
	var stored *pgconn.PgError
	if errors.As(err, &stored) && stored.Code == pgerrcode.ReadOnlySQLTransaction {
		_ = conn.Conn().Close(ctx)
	}
	return err
}

// Begin runs fn in a transaction. It commits when fn returns nil.
func Begin(ctx context.Context, pool *pgxpool.Pool, fn func(pgx.Tx) error) error {
	return Do(ctx, pool, func(conn *pgx.Conn) error { return pgx.BeginFunc(ctx, conn, fn) })
}

// NewID is a new key: UUIDv7, so that keys follow the order of creation.
func NewID() uuid.UUID { return uuid.Must(uuid.NewV7()) }

// Crossed tells whether the database gave a transaction up because another was in its way: a deadlock, a snapshot that
// is too old, a lock that was not to be had in time. Nothing of it was done; done again, it may succeed.
func Crossed(err error) bool {
	var stored *pgconn.PgError
	return errors.As(err, &stored) && slices.Contains([]string{pgerrcode.SerializationFailure,
		pgerrcode.DeadlockDetected, pgerrcode.LockNotAvailable}, stored.Code)
}

// LockKitchen is the first lock of whoever changes orders, batches or hours: it keeps two people from promising the
// same minutes. After it come orders, then batches and their steps, then what the larder holds, by id; who takes locks
// in another order waits for somebody who waits for them.
func LockKitchen(ctx context.Context, tx pgx.Tx) error {
	_, err := tx.Exec(ctx, `select from kitchens for no key update`)
	return err
}
