package app

import (
	"context"
	"time"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/account"
)

// zoneAndRoom of the kitchen: its clock, and how warm it is there, in °C.
func zoneAndRoom(ctx context.Context, tx pgx.Tx) (*time.Location, float64, error) {
	k, _, err := account.Load(ctx, tx)
	return k.Zone(), k.AirTemp, err
}
