package account

import (
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/jackc/pgx/v5"

	"zestytin/core/reason"
	"zestytin/internal/platform/photo"
	"zestytin/internal/platform/web"
)

func (a *Accounts) logos(tags []string) {
	put := huma.Operation{OperationID: "put-logo", Method: "PUT", Path: "/api/v1/kitchen/logo", Tags: tags,
		Summary:       "The kitchen's logo: JPEG or PNG, at most 5 MB; it is made small and encoded anew",
		DefaultStatus: http.StatusNoContent, MaxBodyBytes: photo.MostBytes + 1, BodyReadTimeout: time.Minute}
	web.Register(a.Base, put, a.putLogo)
	web.Register(a.Base, huma.Operation{OperationID: "get-logo", Method: "GET", Path: "/api/v1/kitchen/logo",
		Summary: "The kitchen's logo, as a PNG", Tags: tags, Responses: web.FileOf("image/png", "A PNG")}, a.getLogo)
	web.Register(a.Base, huma.Operation{OperationID: "remove-logo", Method: "DELETE", Path: "/api/v1/kitchen/logo",
		Summary: "Show none", Tags: tags, DefaultStatus: http.StatusNoContent}, a.removeLogo)
}

func (a *Accounts) putLogo(ctx context.Context, in *struct {
	RawBody []byte `contentType:"image/jpeg"`
}) (*struct{}, error) {
	p, err := photo.Logo(in.RawBody)
	if err != nil {
		return nil, web.Because(http.StatusUnprocessableEntity, reason.Because(err))
	}
	return nil, a.In(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `insert into logos (kitchen_id, image, width, height, at)
			values (zt_kitchen(), $1, $2, $3, $4) on conflict (kitchen_id) do update set image = excluded.image,
			width = excluded.width, height = excluded.height, at = excluded.at`, p.Bytes, p.Width, p.Height, a.Clock())
		return err
	})
}

// Logo of the kitchen of tx, a PNG; nil where it has none.
func Logo(ctx context.Context, tx pgx.Tx) (image []byte, err error) {
	err = tx.QueryRow(ctx, `select image from logos`).Scan(&image)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	return image, err
}

func (a *Accounts) getLogo(ctx context.Context, _ *struct{}) (*web.File, error) {
	var image []byte
	err := a.In(ctx, func(tx pgx.Tx) (err error) {
		if image, err = Logo(ctx, tx); err == nil && image == nil {
			err = web.NotFound("logo")
		}
		return err
	})
	return &web.File{ContentType: "image/png", Body: image, CacheControl: "private, no-cache"}, err
}

func (a *Accounts) removeLogo(ctx context.Context, _ *struct{}) (*struct{}, error) {
	return nil, a.In(ctx, func(tx pgx.Tx) error {
		_, err := tx.Exec(ctx, `delete from logos`)
		return err
	})
}
