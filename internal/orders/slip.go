package orders

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// packingSlip of an order: what is in it, how it lies in its boxes, the lots, and the packaging to take.
func (o *Orders) packingSlip(ctx context.Context, in *web.ID) (*web.File, error) {
	var pdf []byte
	err := o.In(ctx, func(tx pgx.Tx) error {
		p, err := o.packing(ctx, tx, in.ID)
		if err != nil {
			return err
		}
		d := p.stored.Draft
		if cal := p.kitchen.Calendar; !web.ActorOf(ctx).SeesAddresses(cal.Date(cal.DayOf(d.From)), cal.Date(0)) {
			d.Address = ""
		}
		pdf, err = slipPDF(text.Of(ctx), &d, p.estimate, p.made, p.kitchen)
		return err
	})
	return web.Download("packing-slip.pdf", "application/pdf", pdf), err
}

// packing is what slip, labels and pack list rest on: an order as it is stored and reckoned, and when it was made.
type packing struct {
	stored   *stored
	kitchen  *order.Inputs
	estimate *order.Estimate
	made     map[int]order.Made
}

func (o *Orders) packing(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*packing, error) {
	s, err := load(ctx, tx, id, "")
	if err != nil {
		return nil, err
	}
	k, err := o.Kitchen(ctx, tx, s.ID, s.pins, order.Scope{Lines: s.Draft.Lines})
	if err != nil {
		return nil, err
	}
	k.Extent, k.Commitments = order.FiguresOnly, s.standing
	r, err := order.Compute(ctx, &s.Draft, k)
	if err != nil {
		return nil, err
	}
	made, err := madeOf(ctx, tx, s.ID)
	return &packing{s, k, r, made}, err
}

func slipPDF(words *text.Words, d *order.Draft, r *order.Estimate, made map[int]order.Made, k *order.Inputs) ([]byte,
	error) {
	zone := k.Calendar.Zero.Location()
	moment := func(t time.Time) (reason.Date, reason.Clock) {
		t = t.In(zone)
		return reason.Date(t.Format(time.DateOnly)), reason.Clock(t.Hour()*60 + t.Minute())
	}
	day, from := moment(d.From)
	_, to := moment(d.To)
	s := paper.New(d.Customer, words.Of("paper.packing-slip", day, from, to))
	if d.Address != "" {
		s.Part(words.Of("paper.where"), d.Address)
	}
	for i, l := range r.Lines {
		lines := []string{}
		for _, b := range r.Boxes {
			if b.Line == i {
				lines = append(lines, fmt.Sprintf("%d × %s", b.Boxes, words.Value(b.Text)))
			}
		}
		if lots := made[i].Lots; len(lots) > 0 {
			lines = append(lines, words.Of("paper.lots", reason.Name(strings.Join(lots, ", "))))
		}
		if d.Lines[i].Note != "" {
			lines = append(lines, d.Lines[i].Note)
		}
		s.Part(fmt.Sprintf("[ ] %d", l.Count), append([]string{l.Name}, lines...)...)
	}
	packs := []string{}
	for _, p := range r.Packs {
		packs = append(packs, fmt.Sprintf("[ ] %s %s", words.Value(p.Amount), p.Name))
	}
	s.Part(words.Of("paper.take"), packs...)
	if len(d.FreeFrom) > 0 {
		s.Part(words.Of("paper.made-without"), strings.Join(d.FreeFrom, ", "))
	}
	if d.Notes != "" {
		s.Part(words.Of("paper.notes"), d.Notes)
	}
	return s.Bytes(words.Lacking)
}
