package larder

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/box"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// SupplyFields is what a person sets of a kind of packaging.
type SupplyFields struct {
	Name    string           `json:"name"`
	Stock   measure.Quantity `json:"stock" doc:"What stands on the shelf: each, or a length"`
	Paid    price.Typed      `json:"paid" doc:"What was last paid, decimal"`
	PaidFor measure.Quantity `json:"paidFor" doc:"For how much"`
	// Estimated stays true only as long as nobody changes the price.
	Estimated bool   `json:"estimated,omitempty" doc:"The price is an estimate: nobody has typed what was paid"`
	Reason    string `json:"reason,omitempty" doc:"Why the stock is corrected"`

	Inside *box.Inside `json:"inside,omitempty" doc:"Of a box: its sides inside"`
	Base   *box.Base   `json:"base,omitempty" doc:"Of a liner or cup: what it takes up in a box"`
	// Fittings are what goes with each of it.
	Fittings []box.Fitting `json:"fittings,omitempty" doc:"What goes with each: a lid, shred, ribbon, a card, a tag"`
}

// Supply as it is stored.
type Supply struct {
	ID       uuid.UUID     `json:"id"`
	Revision int           `json:"revision"`
	Shown    measure.Shown `json:"shown" doc:"The stock, readable"`
	SetAside measure.Shown `json:"setAside" doc:"What promised orders will take"`
	SupplyFields
}

func (f *SupplyFields) check() (unit measure.Unit, stock, paidFor float64, err error) {
	var faults invalid.Faults
	if strings.TrimSpace(f.Name) == "" || len([]rune(f.Name)) > 100 {
		faults.Add("name", reason.Of("larder.give-name-at-most-letters"))
	}
	d, ok := f.Stock.Unit.Dimension()
	switch {
	case !ok:
		faults.Add("stock", (&measure.UnknownUnit{Unit: f.Stock.Unit}))
	case d != measure.Count && d != measure.Length && d != measure.Mass:
		faults.Add("stock", reason.Of("larder.packaging-counted-or-measured-by"))
	default:
		unit = d.Base()
		stock, _ = f.Stock.In(unit, measure.Substance{})
		if !(stock >= 0 && stock < 1e9) {
			faults.Add("stock", reason.Of("larder.stock-cannot-be-less-than"))
		}
		var err error
		if paidFor, err = f.PaidFor.In(unit, measure.Substance{}); err != nil {
			faults.Add("paidFor", err)
		} else if !(paidFor > 0 && paidFor < 1e9) {
			faults.Add("paidFor", reason.Of("larder.amount-that-was-paid-for"))
		}
	}
	if _, err := price.Read(f.Paid, ""); err != nil {
		faults.Add("paid", err)
	}
	if f.Inside != nil {
		faults.Under("inside", f.Inside.Check())
	}
	if f.Base != nil {
		faults.Under("base", f.Base.Check())
	}
	faults.Under("fittings", box.CheckFittings(f.Fittings))
	if len(f.Fittings) > 0 && ok && d != measure.Count {
		faults.Add("fittings", reason.Of("larder.fittings-go-with-what-is-counted"))
	}
	if (f.Inside != nil || f.Base != nil) && ok && d != measure.Count {
		faults.Add("stock", reason.Of("larder.measured-box-is-counted"))
	}
	if len([]rune(f.Reason)) > 200 {
		faults.Add("reason", reason.Of("larder.keep-reason-to-letters"))
	}
	return unit, stock, paidFor, faults.Err()
}

// supplyColumns of a row s, its stock summed over its lots.
const supplyColumns = `s.id, s.revision, s.name, s.unit, (select coalesce(sum(l.remaining), 0) from lots l
	where l.kitchen_id = s.kitchen_id and l.item_id = s.id), s.paid::text, s.paid_for, s.estimated, s.inside, s.foot, s.fittings`

func scanSupply(row pgx.CollectableRow) (Supply, error) {
	var s Supply
	err := row.Scan(&s.ID, &s.Revision, &s.Name, (*string)(&s.Stock.Unit), &s.Stock.Amount, &s.Paid, &s.PaidFor.Amount,
		&s.Estimated, &s.Inside, &s.Base, &s.Fittings)
	s.PaidFor.Unit = s.Stock.Unit
	s.Shown = measure.Show(s.Stock, measure.Substance{})
	return s, err
}

func listSupplies(ctx context.Context, tx pgx.Tx) ([]Supply, error) {
	rows, err := tx.Query(ctx, `select `+supplyColumns+` from supplies s order by lower(s.name)`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanSupply)
}

// SupplyList is all packaging.
type SupplyList struct {
	Supplies []Supply `json:"supplies"`
}

func (l *Larder) supplies(ctx context.Context, _ *struct{}) (*struct{ Body SupplyList }, error) {
	var all []Supply
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		if all, err = listSupplies(ctx, tx); err != nil {
			return err
		}
		aside, err := l.Reserved(ctx, tx)
		reserved := map[ident.Item]float64{}
		for _, w := range aside {
			reserved[w.Item] += w.Used
		}
		for i := range all {
			all[i].SetAside = measure.Show(measure.Of(reserved[ident.Item(all[i].ID.String())], all[i].Stock.Unit),
				measure.Substance{})
		}
		return err
	})
	return &struct{ Body SupplyList }{SupplyList{all}}, err
}

func (l *Larder) createSupply(ctx context.Context, in *struct {
	web.OnceKey
	Body SupplyFields
}) (*struct{ Body Supply }, error) {
	if _, _, _, err := in.Body.check(); err != nil {
		return nil, err
	}
	var made Supply
	err := l.In(ctx, func(tx pgx.Tx) (err error) {
		made, err = web.Once(ctx, tx, in.OnceKey, "create-supply", in.Body, func() (Supply, error) {
			s := Supply{ID: db.NewID(), Revision: 1, SupplyFields: in.Body,
				Shown: measure.Show(in.Body.Stock, measure.Substance{})}
			return s, AddSupply(ctx, l.Base, tx, s)
		})
		return err
	})
	return &struct{ Body Supply }{made}, err
}

// AddSupply stores a new kind of packaging. What is on the shelf of it becomes its first lot.
func AddSupply(ctx context.Context, h web.Base, tx pgx.Tx, s Supply) error {
	unit, stock, paidFor, err := s.check()
	if err != nil {
		return err
	}
	if err := s.fitting(ctx, tx); err != nil {
		return err
	}
	_, err = tx.Exec(ctx, `insert into supplies (kitchen_id, id, name, unit, paid, paid_for, estimated, inside,
			foot, fittings) values ($1, $2, $3, $4, $5::text::numeric, $6, $7, $8, $9, $10)`,
		web.ActorOf(ctx).Kitchen, s.ID, s.Name, string(unit), s.Paid, paidFor, s.Estimated, s.Inside, s.Base,
		fittingsOf(s.Fittings))
	if err != nil || stock == 0 {
		return err
	}
	b, err := newBook(ctx, h, tx)
	if err != nil {
		return err
	}
	return b.count(s.ID, stock, "on the shelf")
}

func (l *Larder) putSupply(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body SupplyFields
}) (*web.Tagged[Supply], error) {
	unit, stock, paidFor, err := in.Body.check()
	if err != nil {
		return nil, err
	}
	s := Supply{ID: in.ID.ID, SupplyFields: in.Body, Shown: measure.Show(in.Body.Stock, measure.Substance{})}
	err = l.In(ctx, func(tx pgx.Tx) error {
		rows, err := tx.Query(ctx, `select `+supplyColumns+` from supplies s where s.id = $1 for no key update`, s.ID)
		if err != nil {
			return err
		}
		now, err := pgx.CollectExactlyOneRow(rows, scanSupply)
		if err != nil {
			return notFound(err, "packaging")
		}
		if err := in.Matches(now.Revision, func() (any, error) { return now, nil }); err != nil {
			return err
		}
		if unit != now.Stock.Unit {
			return &invalid.Error{Fields: []invalid.Field{{Path: "stock",
				Err: reason.Of("larder.counted-in-another-way-already")}}}
		}
		if err := s.fitting(ctx, tx); err != nil {
			return err
		}
		s.Revision = now.Revision + 1
		s.Estimated = s.Estimated && now.Estimated && s.Paid == now.Paid && s.PaidFor == now.PaidFor
		if _, err := tx.Exec(ctx, `update supplies set name = $2, paid = $3::text::numeric, paid_for = $4,
			revision = $5, estimated = $6, inside = $7, foot = $8, fittings = $9 where id = $1`, s.ID, s.Name, s.Paid,
			paidFor, s.Revision, s.Estimated, s.Inside, s.Base, fittingsOf(s.Fittings)); err != nil {
			return err
		}
		if stock == now.Stock.Amount {
			return nil
		}
		reason := in.Body.Reason
		if reason == "" {
			reason = "counted"
		}
		b, err := newBook(ctx, l.Base, tx)
		if err != nil {
			return err
		}
		return b.count(s.ID, stock, reason)
	})
	return web.TaggedBy(s.Revision, s), err
}
