package account

import (
	"context"
	"net/http"
	"runtime"
	"time"

	"github.com/alexedwards/argon2id"

	"zestytin/internal/platform/web"
)

// hashing is how many passwords are hashed at a time. Each takes 64 MiB (argon2id.DefaultParams) and a processor: more
// at once would only take memory.
var hashing = make(chan struct{}, max(runtime.GOMAXPROCS(0), 2))

// turn waits for a place to hash; whoever waits too long is asked to come again.
func turn(ctx context.Context) (leave func(), err error) {
	timer := time.NewTimer(4 * time.Second)
	defer timer.Stop()
	select {
	case hashing <- struct{}{}:
		return func() { <-hashing }, nil
	case <-timer.C:
		return nil, web.Later(http.StatusTooManyRequests, "web.server-is-busy", 3*time.Second)
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

func hashed(ctx context.Context, password string) (string, error) {
	leave, err := turn(ctx)
	if err != nil {
		return "", err
	}
	defer leave()
	return argon2id.CreateHash(password, argon2id.DefaultParams)
}

func matches(ctx context.Context, password, hash string) (bool, error) {
	leave, err := turn(ctx)
	if err != nil {
		return false, err
	}
	defer leave()
	return argon2id.ComparePasswordAndHash(password, hash)
}
