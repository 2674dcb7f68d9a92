package account

import (
	"context"
	"errors"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/internal/platform/db"
)

// store keeps sessions in the database, each behind a policy that goes by its token. It implements scs.CtxStore;
// scs/pgxstore does the same without a policy. Tokens come hashed.
type store struct{ pool *pgxpool.Pool }

// named runs a statement as whoever names the session.
func (s store) named(ctx context.Context, token, statement string, args []any, read func(pgx.Row) error) error {
	return db.Do(ctx, s.pool, func(c *pgx.Conn) error {
		asked := &pgx.Batch{} // one way to the database and back: every request asks
		asked.Queue("select set_config('zt.session', $1, true)", token)
		if q := asked.Queue(statement, args...); read != nil {
			q.QueryRow(read)
		}
		return c.SendBatch(ctx, asked).Close()
	})
}

func (s store) FindCtx(ctx context.Context, token string) (data []byte, found bool, err error) {
	err = s.named(ctx, token, `select data from sessions where token = $1 and expiry > current_timestamp`, []any{token},
		func(row pgx.Row) error { return row.Scan(&data) })
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, false, nil
	}
	return data, err == nil, err
}

// CommitCtx writes a session, and throws away those that have run out.
// Whose it is, and from where, stands beside it: a person looks at their sessions and ends them.
func (s store) CommitCtx(ctx context.Context, token string, data []byte, expiry time.Time) error {
	_, values, err := scs.GobCodec{}.Decode(data)
	if err != nil {
		return err
	}
	text := func(key string) any {
		if v, _ := values[key].(string); v != "" {
			return v
		}
		return nil
	}
	return s.named(ctx, token, `with over as (delete from sessions where expiry < current_timestamp and token <> $1)
		insert into sessions (token, data, expiry, person_id, began_at, address, agent)
		values ($1, $2, $3, $4::text::uuid, $5::text::timestamptz, coalesce($6::text, ''), coalesce($7::text, ''))
		on conflict (token) do update set data = excluded.data, expiry = excluded.expiry,
		person_id = excluded.person_id, began_at = excluded.began_at, address = excluded.address,
		agent = excluded.agent`, []any{token, data, expiry, text("person"), text("began"), text("address"),
		text("agent")}, nil)
}

func (s store) DeleteCtx(ctx context.Context, token string) error {
	return s.named(ctx, token, `delete from sessions where token = $1`, []any{token}, nil)
}

// touch notes that a session was used.
func (s store) touch(ctx context.Context, token string, now time.Time) error {
	return s.named(ctx, token, `update sessions set seen = $2 where token = $1`, []any{token, now}, nil)
}

// Without a context, as the interface asks for.
func (s store) Find(token string) ([]byte, bool, error) {
	return s.FindCtx(context.Background(), token)
}
func (s store) Commit(token string, data []byte, expiry time.Time) error {
	return s.CommitCtx(context.Background(), token, data, expiry)
}
func (s store) Delete(token string) error { return s.DeleteCtx(context.Background(), token) }
