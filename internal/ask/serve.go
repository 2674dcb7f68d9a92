package ask

import (
	"context"
	"errors"
	"log/slog"
	"net/http"

	"github.com/go-chi/chi/v5"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// page runs a handler in the kitchen that has the slug, and writes what it made. What asks the planner waits its turn
// before it takes a connection, beside the seller's own work and not before it.
func (a *Ask) page(do func(context.Context, pgx.Tx, *view) error, plans bool) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), web.Deadline)
		defer cancel()
		w.Header().Set("Cache-Control", "no-store")
		v := &view{Slug: chi.URLParam(r, "slug"), Form: map[string]string{}, Checked: map[string]bool{},
			status: http.StatusOK}
		r.Body = http.MaxBytesReader(w, r.Body, mostForm)
		if err := r.ParseForm(); err != nil {
			http.Error(w, text.Of(ctx).Of("ask.cannot-be-read"), http.StatusBadRequest)
			return
		}
		v.form = r.Form
		kitchen, err := a.kitchenOf(ctx, v.Slug)
		if err == nil {
			ctx = web.WithWho(ctx, web.Actor{Kitchen: kitchen})
			if plans {
				var leave func()
				if leave, err = a.Gate.Enter(ctx, uuid.NewSHA1(kitchen, []byte("ask"))); err == nil {
					defer leave()
				}
			}
		}
		if err == nil {
			err = a.In(ctx, func(tx pgx.Tx) error {
				if err := a.begin(ctx, tx, v); err != nil {
					return err
				}
				return do(text.With(ctx, v.words), tx, v)
			})
		}
		switch {
		case errors.Is(err, pgx.ErrNoRows):
			http.Error(w, text.Of(ctx).Of("ask.no-such-page"), http.StatusNotFound)
			return
		case err != nil:
			slog.ErrorContext(ctx, "the page on which customers ask", "error", err)
			status := http.StatusServiceUnavailable
			if p := new(web.Problem); errors.As(err, &p) {
				status = p.Status
			}
			http.Error(w, text.Of(ctx).Of("ask.not-now"), status)
			return
		case v.to != "":
			http.Redirect(w, r, v.to, http.StatusSeeOther)
			return
		}
		if v.image != nil {
			w.Header().Set("Content-Type", "image/png")
			_, _ = w.Write(v.image)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		w.WriteHeader(v.status)
		if err := pages.Execute(w, v); err != nil {
			slog.WarnContext(ctx, "the page on which customers ask broke off", "error", err)
		}
	}
}

// kitchenOf a slug, while its page is open.
func (a *Ask) kitchenOf(ctx context.Context, slug string) (kitchen uuid.UUID, err error) {
	err = db.Begin(ctx, a.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.ask", slug); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select kitchen_id from ask_pages where slug = $1 and open`, slug).Scan(&kitchen)
	})
	return kitchen, err
}
