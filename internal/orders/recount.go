package orders

import (
	"context"
	"net/http"
	"slices"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/event"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// Recount of an order: how many pieces of its treats it gets, and what follows for its price.
type Recount struct {
	Lines []Recounted `json:"lines"`
	// Was and Now are the price with tax; nil while none is agreed on.
	Was *price.Money `json:"was,omitempty"`
	Now *price.Money `json:"now,omitempty"`
	// Requote: its quote no longer says what the order is.
	Requote bool `json:"requote" doc:"The quote that its customer has no longer says what the order is"`
}

// Recounted line.
type Recounted struct {
	Name string `json:"name"`
	Was  int    `json:"was"`
	Now  int    `json:"now"`
}

// Recount gives an order as many pieces of treats as is said. A price that was agreed on follows: each line keeps what
// a piece of it costs. Work that is planned is planned anew; where it no longer fits, or has begun, nothing changes and
// the error says so. Nothing to change: the answer has no lines.
func (o *Orders) Recount(ctx context.Context, tx pgx.Tx, id uuid.UUID, counts map[ident.Treat]int) (*Recount, error) {
	if err := db.LockKitchen(ctx, tx); err != nil {
		return nil, err
	}
	s, err := load(ctx, tx, id, "for no key update")
	if err != nil {
		return nil, err
	}
	d := s.Draft
	d.Lines = slices.Clone(d.Lines)
	out := &Recount{Lines: []Recounted{}}
	for i := range d.Lines {
		l := &d.Lines[i]
		n, said := counts[l.Treat]
		if !said || n == l.Count {
			continue
		}
		out.Lines = append(out.Lines, Recounted{Was: l.Count, Now: n})
		l.Count = n
	}
	if len(out.Lines) == 0 {
		return out, nil
	}
	if s.State != order.Enquiry && s.State != order.Quoted && s.State != order.Promised {
		return nil, web.Reject(http.StatusConflict, "orders.count-is-fixed", reason.Name(s.Draft.Customer),
			reason.Word(s.State))
	}
	known, err := o.kitchenOf(ctx, tx, s, &d)
	if err != nil {
		return nil, err
	}
	for i, n := 0, 0; i < len(d.Lines); i++ {
		if d.Lines[i].Count != s.Draft.Lines[i].Count {
			out.Lines[n].Name = known.Treats[d.Lines[i].Treat].Name
			n++
		}
	}
	if err := o.follow(ctx, s, &d, known, out); err != nil {
		return nil, err
	}
	if err := o.change(ctx, tx, s, &d); err != nil {
		return nil, err
	}
	if s.standing.Agreed == nil {
		return out, nil
	}
	known.Commitments = s.standing
	if err := o.agree(ctx, tx, s.ID, &d, known); err != nil {
		return nil, err
	}
	var gross decimal.Decimal
	if err := tx.QueryRow(ctx, `select gross, state = 'quoted' and exists (select from quotes q
		where q.order_id = orders.id and q.revoked_at is null) from orders where id = $1`, s.ID).
		Scan(&gross, &out.Requote); err != nil {
		return nil, err
	}
	out.Now = new(price.In(known.Rates.Currency, gross))
	return out, nil
}

// follow sets the price that stands to what the new counts make of it.
func (o *Orders) follow(ctx context.Context, s *stored, d *order.Draft, known *order.Inputs, out *Recount) error {
	if s.standing.Agreed == nil {
		return nil
	}
	k := *known
	k.Extent, k.Commitments = order.FiguresOnly, s.standing
	r, err := order.Compute(ctx, &s.Draft, &k)
	if err != nil {
		return err
	}
	out.Was = &r.Money.Gross.Money
	lines := make([]event.Line, len(r.Lines))
	for i := range r.Lines {
		lines[i] = event.Line{Worth: decimal.RequireFromString(r.Lines[i].Price.Amount), Was: s.Draft.Lines[i].Count,
			Now: d.Lines[i].Count}
	}
	s.standing.Agreed = new(event.Follows(*s.standing.Agreed, lines, known.Rates.Currency))
	return nil
}
