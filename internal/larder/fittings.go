package larder

import (
	"context"
	"fmt"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/box"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
)

// fittingsOf a supply as they are stored: null where there are none, so that no row says "none" in two ways.
func fittingsOf(list []box.Fitting) any {
	if len(list) == 0 {
		return nil
	}
	return list
}

// fitting tells whether what goes with a supply can: packaging of the kitchen, in its own unit, that is no box and has
// nothing that goes with it. One level is enough for a lid and its ribbon, and nothing can go in a circle.
func (s *Supply) fitting(ctx context.Context, tx pgx.Tx) error {
	var faults invalid.Faults
	for i, x := range s.Fittings {
		path := fmt.Sprintf("fittings[%d]", i)
		id, err := uuid.Parse(string(x.Supply))
		if err != nil {
			faults.Add(path+".supply", reason.Of("larder.no-such-packaging"))
			continue
		}
		if id == s.ID {
			faults.Add(path+".supply", reason.Of("larder.does-not-go-with-itself"))
			continue
		}
		rows, err := tx.Query(ctx, `select `+supplyColumns+` from supplies s where s.id = $1 for key share of s`, id)
		if err != nil {
			return err
		}
		of, err := pgx.CollectExactlyOneRow(rows, scanSupply)
		switch {
		case err == pgx.ErrNoRows:
			faults.Add(path+".supply", reason.Of("larder.no-such-packaging"))
		case err != nil:
			return err
		case len(of.Fittings) > 0:
			faults.Add(path+".supply", reason.Of("larder.goes-with-others-itself", reason.Name(of.Name)))
		case of.Inside != nil:
			faults.Add(path+".supply", reason.Of("larder.is-box-itself", reason.Name(of.Name)))
		default:
			if _, err := x.Amount.In(of.Stock.Unit, measure.Substance{}); err != nil {
				faults.Add(path+".amount", err)
			}
		}
	}
	if len(s.Fittings) > 0 || s.Inside != nil {
		var with string
		err := tx.QueryRow(ctx, `select name from supplies where fittings @> jsonb_build_array(jsonb_build_object(
			'supply', $1::text)) limit 1`, s.ID.String()).Scan(&with)
		if err != nil && err != pgx.ErrNoRows {
			return err
		}
		if err == nil {
			faults.Add("fittings", reason.Of("larder.goes-with-a-box-itself", reason.Name(s.Name), reason.Name(with)))
		}
	}
	return faults.Err()
}
