package account

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"

	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Limits in a minute.
const (
	perAddress  = 40  // sign-ins of one caller
	perAccount  = 10  // sign-ins to one account
	perOpening  = 30  // kitchens that one caller opens in an hour
	allOpenings = 300 // that all do
	looks       = 120 // requests for quotes of one caller: a page takes one
	perLetters  = 60  // that one caller asks for letters, or follows their links, in an hour
	perSensor   = 240 // posts of one thermometer or scale
	requests    = 20  // that one caller sends by a public page in an hour
)

// failure is the key under which a limiter tells that it could not count.
type failure struct{}

// bodyWait is how long the body of a sign-in may take to come in.
const bodyWait = 5 * time.Second

// limiter makes limits that are counted in the database, so that all servers count together.
func limiter(pool *pgxpool.Pool) func(kind string, n int, window time.Duration, key httprate.KeyFunc,
	says reason.Reason) func(http.Handler) http.Handler {
	return func(kind string, n int, window time.Duration, key httprate.KeyFunc,
		says reason.Reason) func(http.Handler) http.Handler {
		limiter := httprate.NewRateLimiter(n, window, httprate.WithLimitCounter(&attempts{pool, kind}),
			httprate.WithErrorHandler(func(_ http.ResponseWriter, r *http.Request,
				err error) {
				*r.Context().Value(failure{}).(*error) = err
			}))
		return func(next http.Handler) http.Handler {
			return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
				of, err := key(r)
				if err != nil {
					web.WriteProblem(w, r, web.Reject(http.StatusRequestTimeout, "account.body-did-not-come"))
					return
				}
				asked := r.WithContext(context.WithValue(r.Context(), failure{}, &err))
				switch limited := limiter.OnLimit(w, asked, of); {
				case err != nil:
					web.WriteProblem(w, r, err)
				case limited:
					web.WriteProblem(w, r, web.Because(http.StatusTooManyRequests, says))
				default:
					next.ServeHTTP(w, r)
				}
			})
		}
	}
}

// LimitLooks at public pages by the caller's address.
func LimitLooks(pool *pgxpool.Pool) func(http.Handler) http.Handler {
	return limiter(pool)("ask", looks, time.Minute, addressOf, reason.Of("account.too-many-requests"))
}

// LimitRequests that one caller sends by public pages.
func LimitRequests(pool *pgxpool.Pool) func(http.Handler) http.Handler {
	return limiter(pool)("request", requests, time.Hour, addressOf, reason.Of("account.too-many-requests"))
}

// Limit the requests that anybody can make: attempts to sign in, by the caller's address and by the account tried, and
// looks at quotes by their links, by the address.
func Limit(pool *pgxpool.Pool, secure bool) func(http.Handler) http.Handler {
	limit := limiter(pool)
	tries := reason.Of("account.too-many-tries")
	byAddress := limit("address", perAddress, time.Minute, addressOf, tries)
	byAccount := limit("account", perAccount, time.Minute, accountOf, tries)
	byLook := limit("quote", looks, time.Minute, addressOf, reason.Of("account.too-many-requests"))
	byLetter := limit("letter", perLetters, time.Hour, addressOf, reason.Of("account.too-many-requests"))
	bySensor := limit("sensor", perSensor, time.Minute, pathOf, reason.Of("account.too-many-readings",
		reason.Int(perSensor)))
	byDevice := limit("device", perDevice, time.Minute, deviceOf, tries)
	openings := reason.Of("account.too-many-kitchens")
	byChange := limit("password", perAccount, time.Minute, addressOf, tries)
	byOpening := limit("opening", perOpening, time.Hour, addressOf, openings)
	overall := limit("openings", allOpenings, time.Hour, func(*http.Request) (string, error) { return "all", nil },
		openings)
	return func(next http.Handler) http.Handler {
		opening, change := byOpening(overall(next)), byChange(next)
		signIn, device, quote := byAddress(byAccount(next)), byDevice(next), byLook(next)
		sensor, letters, passkey := bySensor(next), byLetter(next), byAddress(next)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			switch {
			case r.Method == http.MethodPut && r.URL.Path == "/api/v1/password":
				r, _ = withBrowser(w, r, secure)
				change.ServeHTTP(w, r)
			case r.Method == http.MethodPost && strings.HasPrefix(r.URL.Path, "/api/v1/session/passkey"):
				r, _ = withBrowser(w, r, secure)
				passkey.ServeHTTP(w, r)
			case r.Method == http.MethodPost && r.URL.Path == "/api/v1/session/confirm":
				change.ServeHTTP(w, r)
			case r.Method == http.MethodPost && r.URL.Path == "/api/v1/password-resets",
				strings.HasPrefix(r.URL.Path, "/api/v1/account-links/"),
				strings.HasPrefix(r.URL.Path, "/api/v1/invitations/"):
				r, _ = withBrowser(w, r, secure)
				letters.ServeHTTP(w, r)
			case r.Method == http.MethodPost && (r.URL.Path == "/api/v1/kitchens" || r.URL.Path == "/api/v1/try-outs"):
				r, _ = withBrowser(w, r, secure)
				opening.ServeHTTP(w, r)
			case r.Method == http.MethodPost && r.URL.Path == "/api/v1/session":
				r, browser := withBrowser(w, r, secure)
				// Whose account it is stands in the body: a body that only drips in is not waited for.
				reading := http.NewResponseController(w)
				_ = reading.SetReadDeadline(time.Now().Add(bodyWait))
				defer func() { _ = reading.SetReadDeadline(time.Time{}) }()
				if browser.token == "" {
					signIn.ServeHTTP(w, r)
					return
				}
				mail, err := mailOf(r)
				if err != nil {
					web.WriteProblem(w, r, web.Reject(http.StatusRequestTimeout, "account.body-did-not-come"))
					return
				}
				known, err := browser.knownFor(r.Context(), pool, mail)
				if err != nil {
					web.WriteProblem(w, r, err)
					return
				}
				if known { // a stranger who guesses does not lock out who has signed in here before
					device.ServeHTTP(w, r)
					return
				}
				signIn.ServeHTTP(w, r)
			case strings.HasPrefix(r.URL.Path, "/api/v1/quotes/"):
				quote.ServeHTTP(w, r)
			case strings.HasPrefix(r.URL.Path, "/api/v1/devices/"):
				sensor.ServeHTTP(w, r)
			default:
				next.ServeHTTP(w, r)
			}
		})
	}
}

func addressOf(r *http.Request) (string, error) {
	return httprate.CanonicalizeIP(middleware.GetClientIP(r.Context())), nil
}

// pathOf the link that a sensor posts to, whose secret is told to nobody by its hash.
func pathOf(r *http.Request) (string, error) { return stored(r.URL.Path), nil }

// mostSignIn is how long the body of a sign-in is at most, in bytes.
const mostSignIn = 32 << 10

// accountOf is the account that is tried, with the address that tries it: a stranger who guesses counts against
// himself, and locks nobody else out.
func accountOf(r *http.Request) (string, error) {
	mail, err := mailOf(r)
	if err != nil {
		return "", err
	}
	address, err := addressOf(r)
	return mail + " " + address, err
}

// deviceOf is what stands for a browser that is known.
func deviceOf(r *http.Request) (string, error) {
	return stored(r.Context().Value(browserKey{}).(*browser).token), nil
}

// mailOf reads the account that is tried, and puts the body back.
func mailOf(r *http.Request) (string, error) {
	head, err := io.ReadAll(io.LimitReader(r.Body, mostSignIn))
	if err != nil {
		return "", err
	}
	r.Body = struct {
		io.Reader
		io.Closer
	}{io.MultiReader(bytes.NewReader(head), r.Body), r.Body}
	var tried SignIn
	_ = json.Unmarshal(head, &tried) // what is not JSON is refused later, and shares one count
	return strings.ToLower(strings.TrimSpace(tried.Mail)), nil
}

// attempts counts in the database, so that all servers share the limit. It implements httprate.LimitCounter.
type attempts struct {
	pool *pgxpool.Pool
	kind string
}

func (a *attempts) Config(int, time.Duration) {}

func (a *attempts) Increment(key string, window time.Time) error {
	return a.IncrementBy(key, window, 1)
}

func (a *attempts) IncrementBy(key string, window time.Time, n int) error {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	return a.named(ctx, key, func(asked *pgx.Batch) {
		asked.Queue(`with old as (delete from attempts where begun < $2::timestamptz - interval '3 hours')
			insert into attempts (key, begun, number) values ($1, $2, $3) on conflict (key, begun) do update
			set number = attempts.number + $3`, a.kind+":"+key, window, n)
	})
}

// named runs a question as whoever names the key: the policy of the table goes by it.
func (a *attempts) named(ctx context.Context, key string, question func(*pgx.Batch)) error {
	return db.Do(ctx, a.pool, func(c *pgx.Conn) error {
		asked := &pgx.Batch{}
		asked.Queue("select set_config('zt.attempt', $1, true)", a.kind+":"+key)
		question(asked)
		return c.SendBatch(ctx, asked).Close()
	})
}

func (a *attempts) Get(key string, current, previous time.Time) (now, before int, err error) {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	err = a.named(ctx, key, func(asked *pgx.Batch) {
		asked.Queue(`select coalesce(sum(number) filter (where begun = $2), 0),
			coalesce(sum(number) filter (where begun = $3), 0) from attempts where key = $1`,
			a.kind+":"+key, current, previous).QueryRow(func(row pgx.Row) error { return row.Scan(&now, &before) })
	})
	return now, before, err
}
