package demo

import (
	"context"

	"github.com/jackc/pgx/v5"

	"zestytin/internal/pots"
)

// instruments of the bench: they are not there, and follow the bowl that they are put into.
func (k *kitchen) instruments(ctx context.Context, tx pgx.Tx) error {
	for _, s := range []pots.SensorFields{{Kind: pots.Probe, Name: "Bowl thermometer", Unit: "F", Simulated: true},
		{Kind: pots.Scale, Name: "Bench scale", Unit: "g", Simulated: true}} {
		if _, err := k.app.Pots.Add(ctx, tx, s); err != nil {
			return err
		}
	}
	return nil
}
