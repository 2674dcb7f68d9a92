package web

import (
	"bytes"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"path"
	"reflect"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"zestytin/internal/platform/db"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promauto"
)

var seconds = promauto.NewHistogramVec(prometheus.HistogramOpts{
	Name: "zestytin_http_seconds", Help: "Time to answer a request.",
	Buckets: []float64{.002, .005, .01, .025, .05, .1, .25, .5, 1, 2.5},
}, []string{"method", "route", "status"})

// NewRouter makes a router with what every request passes through, and the API that operations are registered at.
// files is the built front end.
func NewRouter(files fs.FS, overTLS bool, middlewares ...func(http.Handler) http.Handler) (*chi.Mux, huma.API) {
	r := chi.NewMux()
	r.Use(middleware.RequestID, observe, withCaller, readable, middleware.Recoverer, secure(overTLS), middleware.Compress(5),
		http.NewCrossOriginProtection().Handler)
	for _, m := range middlewares { // pages, styles and health need neither session nor database
		r.Use(onAPI(m))
	}
	r.Use(taggedReads)
	config := huma.DefaultConfig("Zesty Tin", "1")
	config.Info.Description = "Orders, treats, days and packaging of a home chocolate kitchen. Sign in with POST /api/v1/session; the session cookie goes with every other request."
	config.Info.License = &huma.License{Name: "All rights reserved", Identifier: "LicenseRef-Zesty-Tin"}
	config.Servers = []*huma.Server{{URL: "/", Description: "The kitchen's own server"}}
	config.OpenAPIPath = "/api/openapi"
	config.DocsPath = ""
	config.SchemasPath = ""
	config.CreateHooks = nil // no $schema in bodies
	config.Components.Schemas = huma.NewMapRegistry("#/components/schemas/", schemaName)
	config.Components.SecuritySchemes = map[string]*huma.SecurityScheme{"session": {Type: "apiKey", In: "cookie",
		Name: "session"}}
	config.Transformers = append(config.Transformers, speak)
	config.Formats = map[string]huma.Format{"application/json": sayJSON, "json": sayJSON}
	api := humachi.New(r, config)
	r.NotFound(static(files))
	return r, api
}

// Patient lets a request through when a connection to the database is free, or gets so in time; what else comes before
// the operation, such as the session, does not wait for ever then.
func Patient(pool *pgxpool.Pool) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if err := db.Do(r.Context(), pool, func(*pgx.Conn) error { return nil }); err != nil {
				WriteProblem(w, r, err)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

// schemaName puts the package before the name of a type: a treat.Step is not a bench.Step.
func schemaName(t reflect.Type, hint string) string {
	name := huma.DefaultSchemaNamer(t, hint)
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	if t.Name() == "" {
		return name
	}
	room := path.Base(t.PkgPath())
	if strings.HasPrefix(t.PkgPath(), "zestytin/") && !strings.HasPrefix(strings.ToLower(name), room) {
		return strings.ToUpper(room[:1]) + room[1:] + name
	}
	return name
}

// observe logs and measures every request.
func observe(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		begun := time.Now()
		ww := middleware.NewWrapResponseWriter(w, r.ProtoMajor)
		w.Header().Set("X-Request-Id", middleware.GetReqID(r.Context()))
		next.ServeHTTP(ww, r)
		route := chi.RouteContext(r.Context()).RoutePattern()
		if route == "" {
			route = "static"
		}
		took := time.Since(begun)
		seconds.WithLabelValues(methodOf(r), route, strconv.Itoa(ww.Status())).Observe(took.Seconds())
		slog.DebugContext(r.Context(), "request", "id", middleware.GetReqID(r.Context()), "method", r.Method, "path",
			r.URL.Path, "status", ww.Status(), "took", took)
	})
}

// methodOf a request, as a label: methods that clients invent are one.
func methodOf(r *http.Request) string {
	switch r.Method {
	case http.MethodGet, http.MethodHead, http.MethodPost, http.MethodPut, http.MethodPatch, http.MethodDelete,
		http.MethodOptions:
		return r.Method
	}
	return "other"
}

// onAPI passes only requests to the API through a middleware.
func onAPI(m func(http.Handler) http.Handler) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		through := m(next)
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			if strings.HasPrefix(r.URL.Path, "/api/v1/") {
				through.ServeHTTP(w, r)
				return
			}
			next.ServeHTTP(w, r)
		})
	}
}

// readable refuses addresses and tags that are not text: neither a file nor a row of the database is called so.
func readable(next http.Handler) http.Handler {
	isText := func(s string) bool { return utf8.ValidString(s) && !strings.ContainsRune(s, 0) }
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		query, err := url.QueryUnescape(r.URL.RawQuery)
		if err != nil || !isText(query) || !isText(r.URL.Path) ||
			!isText(r.Header.Get("If-Match")+r.Header.Get("Idempotency-Key")) {
			WriteProblem(w, r, Reject(http.StatusBadRequest, "web.address-is-not-text"))
			return
		}
		next.ServeHTTP(w, r)
	})
}

// secure sets the headers that keep a page to itself.
func secure(overTLS bool) func(http.Handler) http.Handler {
	return func(next http.Handler) http.Handler {
		return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			h := w.Header()
			h.Set("X-Content-Type-Options", "nosniff")
			h.Set("Referrer-Policy", "same-origin")
			h.Set("Cross-Origin-Opener-Policy", "same-origin")
			h.Set("Content-Security-Policy", policy("'self'"))
			if overTLS || r.TLS != nil {
				h.Set("Strict-Transport-Security", "max-age=31536000")
			}
			next.ServeHTTP(w, r)
		})
	}
}

func policy(styles string) string {
	return "default-src 'self'; script-src 'self'; style-src " + styles +
		"; img-src 'self' data:; font-src 'self' data:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
}

// buffered keeps an answer until its tag is known.
type buffered struct {
	http.ResponseWriter
	status int
	body   bytes.Buffer
}

func (b *buffered) WriteHeader(status int)      { b.status = status }
func (b *buffered) Write(p []byte) (int, error) { return b.body.Write(p) }

// taggedReads gives every successful read of the API an ETag and answers 304 to a client that has it already.
func taggedReads(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		// A stream has no end to wait for.
		if r.Method != http.MethodGet || !strings.HasPrefix(r.URL.Path, "/api/v1/") ||
			strings.HasSuffix(r.URL.Path, "/events") {
			next.ServeHTTP(w, r)
			return
		}
		b := &buffered{ResponseWriter: w, status: http.StatusOK}
		next.ServeHTTP(b, r)
		if w.Header().Get("Cache-Control") == "" {
			w.Header().Set("Cache-Control", "private, no-cache")
		}
		if b.status == http.StatusOK {
			// The revision alone would not do: what is shown beside it may have changed.
			sum := sha256.Sum256(b.body.Bytes())
			tag := w.Header().Get("ETag")
			if tag == "" {
				tag = `"` + hex.EncodeToString(sum[:12]) + `"`
				w.Header().Set("ETag", tag)
				if r.Header.Get("If-None-Match") == tag {
					w.WriteHeader(http.StatusNotModified)
					return
				}
			}
		}
		w.WriteHeader(b.status)
		_, _ = w.Write(b.body.Bytes())
	})
}

// static serves the built front end; what is not a file is a place of the application, which starts at index.html.
func static(files fs.FS) http.HandlerFunc {
	server := http.FileServerFS(files)
	return func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if strings.HasPrefix(name, "api/") && name != "api/docs" {
			w.Header().Set("Content-Type", "application/problem+json")
			w.WriteHeader(http.StatusNotFound)
			fmt.Fprintf(w,
				`{"title":"Not Found","status":404,"detail":"There is no such operation: /api/docs lists them."}`)
			return
		}
		if r.Method != http.MethodGet && r.Method != http.MethodHead {
			http.Error(w, "Pages can only be read.", http.StatusMethodNotAllowed)
			return
		}
		page := "index.html"
		if name == "api/docs" {
			page = "docs.html"
		} else if strings.HasPrefix(name, "q/") {
			page = "quote.html"
		} else if info, err := fs.Stat(files, name); err == nil && !info.IsDir() && path.Ext(name) != ".html" {
			if strings.HasPrefix(name, "assets/") {
				w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			} else {
				w.Header().Set("Cache-Control", "no-cache")
			}
			server.ServeHTTP(w, r)
			return
		} else if path.Ext(name) != "" { // a file that there is not; places of the application have no extension
			http.NotFound(w, r)
			return
		}
		text, err := fs.ReadFile(files, page)
		if err != nil {
			http.Error(w, "The front end has not been built: run make build.", http.StatusInternalServerError)
			return
		}
		nonce := rand.Text()
		styles := "'self' 'nonce-" + nonce + "'"
		if page == "docs.html" {
			styles = "'self' 'unsafe-inline'" // the documentation viewer writes style elements without a nonce
		}
		w.Header().Set("Content-Security-Policy", policy(styles))
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.Header().Set("Cache-Control", "no-store")
		_, _ = w.Write(bytes.ReplaceAll(text, []byte("{{nonce}}"), []byte(nonce)))
	}
}
