package messages

import (
	"context"
	"embed"
	"errors"
	"html/template"
	"log/slog"
	"net/http"

	"github.com/go-chi/chi/v5"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

//go:embed leave.html
var files embed.FS

var leavePage = template.Must(template.ParseFS(files, "leave.html"))

type leaveView struct{ Title, Says, Button string }

// Pages adds the public page on which one asks for no more messages, behind a limit. A mail program asks by itself, by
// a POST without a cookie (RFC 8058, 3.1); a person who follows the link is asked once more, since links are also
// looked at by machines.
func (m *Messages) Pages(r chi.Router, limit func(http.Handler) http.Handler) {
	r.With(limit).Get("/no-more/{token}", m.leave(false))
	r.With(limit).Post("/no-more/{token}", m.leave(true))
}

func (m *Messages) leave(now bool) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		ctx, cancel := context.WithTimeout(r.Context(), web.Deadline)
		defer cancel()
		w.Header().Set("Cache-Control", "no-store")
		v, err := m.leaving(ctx, chi.URLParam(r, "token"), now)
		switch {
		case errors.Is(err, pgx.ErrNoRows):
			http.Error(w, text.Of(ctx).Of("orders.link-no-longer-works"), http.StatusNotFound)
			return
		case err != nil:
			slog.ErrorContext(ctx, "the page for no more messages", "error", err)
			http.Error(w, text.Of(ctx).Of("ask.not-now"), http.StatusServiceUnavailable)
			return
		}
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		if err := leavePage.Execute(w, v); err != nil {
			slog.WarnContext(ctx, "the page for no more messages broke off", "error", err)
		}
	}
}

func (m *Messages) leaving(ctx context.Context, token string, now bool) (leaveView, error) {
	var v leaveView
	var kitchen uuid.UUID
	var address string
	if err := db.Begin(ctx, m.Pool, func(tx pgx.Tx) error {
		if err := db.Set(ctx, tx, "zt.contact", token); err != nil {
			return err
		}
		return tx.QueryRow(ctx, `select kitchen_id, address from contacts where token = $1`, token).Scan(&kitchen, &address)
	}); err != nil {
		return v, err
	}
	ctx = web.WithWho(ctx, web.Actor{Kitchen: kitchen})
	err := m.In(ctx, func(tx pgx.Tx) error {
		var over bool
		statement := `select refused_at is not null from contacts where address = $1`
		args := []any{address}
		if now {
			statement = `update contacts set refused_at = coalesce(refused_at, $2) where address = $1 returning true`
			args = append(args, m.Clock())
		}
		if err := tx.QueryRow(ctx, statement, args...).Scan(&over); err != nil {
			return err
		}
		words, err := web.Words(ctx, tx)
		if err != nil {
			return err
		}
		house, err := m.House(ctx, tx)
		name := reason.Name(house.Name)
		v.Title = words.Of("messages.no-more-title", name)
		if over {
			v.Says = words.Of("messages.no-more-come", reason.Name(address), name)
		} else {
			v.Says = words.Of("messages.really-no-more", reason.Name(address), name)
			v.Button = words.Of("messages.no-more")
		}
		return err
	})
	return v, err
}
