package orders

import (
	"context"
	"net/http"
	"slices"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

func (o *Orders) registerPieces() {
	tags := []string{"Orders"}
	web.Register(o.Base, huma.Operation{OperationID: "list-shortfalls", Method: "GET", Path: "/api/v1/shortfalls",
		Summary: "Lines of orders in work of which fewer good pieces are left than were promised", Tags: tags},
		o.shortfalls)
	web.Register(o.Base, huma.Operation{OperationID: "make-more", Method: "POST", Path: "/api/v1/orders/{id}/remakes",
		Summary: "Plan more pieces of a line, because too few good ones are left; they cost the customer nothing",
		Tags:    tags}, o.makeMore)
	web.Register(o.Base, huma.Operation{OperationID: "when-more", Method: "GET", Path: "/api/v1/orders/{id}/remakes",
		Summary: "When more pieces of a line could be made; nothing is planned", Tags: tags}, o.whenMore)
	web.Register(o.Base, huma.Operation{OperationID: "hand-over-fewer", Method: "POST",
		Path:    "/api/v1/orders/{id}/counts",
		Summary: "Change how many pieces of a line an order in work gets, and what it costs then", Tags: tags},
		o.handOverFewer)
}

// ShortfallList is what is missing of orders in work.
type ShortfallList struct {
	Shortfalls []order.Shortfall `json:"shortfalls" doc:"By handover, next first"`
}

func (o *Orders) shortfalls(ctx context.Context, _ *struct{}) (*struct{ Body ShortfallList }, error) {
	var list ShortfallList
	err := o.In(ctx, func(tx pgx.Tx) (err error) { list.Shortfalls, err = Shortfalls(ctx, tx, uuid.Nil); return err })
	return &struct{ Body ShortfallList }{list}, err
}

// Shortfalls of an order in work, or of all of them, next handover first.
func Shortfalls(ctx context.Context, tx pgx.Tx, id uuid.UUID) ([]order.Shortfall, error) {
	// Of most orders nothing broke: they are not looked at further.
	const troubled = `with troubled as (select o.id, o.number, o.customer, o.from_at from orders o
		where o.state in ('promised', 'in the making')
		and ($1::uuid = '00000000-0000-0000-0000-000000000000' or o.id = $1)
		and exists (select from batch_shares h join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
			where h.order_id = o.id and (b.good is not null or exists (select from batch_steps s
			where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and s.broken > 0)))) `
	rows, err := tx.Query(ctx, troubled+`select o.id::text, o.number, o.customer, l.position, t.name, l.count
		from troubled o join order_lines l on l.order_id = o.id join treats t on t.id = l.treat_id
		order by o.from_at, o.number, l.position`, id)
	if err != nil {
		return nil, err
	}
	lines, err := pgx.CollectRows(rows, pgx.RowToStructByPos[order.PromisedLine])
	if err != nil || len(lines) == 0 {
		return []order.Shortfall{}, err
	}
	if rows, err = tx.Query(ctx, troubled+`select b.started, b.sold in ('piece', 'pieces'),
			(select sum(s.broken)::int from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id),
			b.good, batch_for(b.kitchen_id, b.id) from batches b
		where exists (select from batch_shares h join troubled o on o.id = h.order_id
			where h.kitchen_id = b.kitchen_id and h.batch_id = b.id) order by b.id`, id); err != nil {
		return nil, err
	}
	made, err := pgx.CollectRows(rows, pgx.RowToStructByPos[order.Output])
	return order.Shortfalls(lines, made), err
}

// More pieces of a line.
type More struct {
	Line  int `json:"line" minimum:"0" maximum:"1000" doc:"Index of the order's line"`
	Count int `json:"count" minimum:"1" maximum:"10000"`
}

func (o *Orders) makeMore(ctx context.Context, in *struct {
	web.ID
	Body More
}) (*web.Tagged[Order], error) {
	return o.changeInWork(ctx, in.ID.ID, in.Body.Line, func(tx pgx.Tx, s *stored) error {
		return o.more(ctx, tx, s, in.Body)
	})
}

// changeInWork changes a line of an order of which pieces may still break.
func (o *Orders) changeInWork(ctx context.Context, id uuid.UUID, line int, change func(pgx.Tx, *stored) error) (
	*web.Tagged[Order], error) {
	var changed Order
	err := o.In(ctx, func(tx pgx.Tx) error {
		s, err := o.inWork(ctx, tx, id, line)
		if err != nil {
			return err
		}
		if err := change(tx, s); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update orders set updated_at = $2, revision = revision + 1 where id = $1`, s.ID,
			o.Clock()); err != nil {
			return err
		}
		changed, err = full(ctx, tx, s.ID)
		return err
	})
	return web.TaggedBy(changed.Revision, changed), err
}

// more pieces of a line are planned, no more than are missing: who asks twice is told that they are on their way.
func (o *Orders) more(ctx context.Context, tx pgx.Tx, s *stored, m More) error {
	missing, err := Shortfalls(ctx, tx, s.ID)
	if err != nil {
		return err
	}
	r, known, err := o.beside(ctx, tx, s, m)
	if err != nil {
		return err
	}
	name := reason.Name(known.Treats[s.Draft.Lines[m.Line].Treat].Name)
	n := slices.IndexFunc(missing, func(x order.Shortfall) bool { return x.Line == m.Line })
	if n < 0 {
		return web.Reject(http.StatusConflict, "orders.none-are-missing", reason.Int(s.Draft.Lines[m.Line].Count), name)
	}
	if m.Count > missing[n].Missing {
		return invalid.At("count", reason.Of("orders.so-many-are-missing", reason.Int(missing[n].Missing)))
	}
	if !r.When.Fits {
		return web.Reject(http.StatusConflict, "orders.no-time-for-more", reason.Int(m.Count), name, r.When.Text)
	}
	// Parts that were not kept when it was promised stay unknown.
	spent := r.Money.Spent()
	if _, err := tx.Exec(ctx, `update orders set cost = cost + $2, materials = materials + $3, minutes = minutes + $4,
		cost_ingredients = cost_ingredients + $5, cost_packaging = cost_packaging + $6,
		cost_overhead = cost_overhead + $7, cost_drive = cost_drive + $8, cost_card = cost_card + $9 where id = $1`,
		s.ID, spent.Total(), spent.Materials(), r.Hands, spent.Ingredients, spent.Packaging, spent.Overhead,
		spent.Drive, spent.Card); err != nil {
		return err
	}
	return o.Plan.SaveAgain(ctx, tx, s.ID, m.Line, r, &known.Planning)
}

// beside all that is promised, this order's own batches too: more pieces of a line.
func (o *Orders) beside(ctx context.Context, tx pgx.Tx, s *stored, m More) (*order.Estimate, *order.Inputs, error) {
	line, d := s.Draft.Lines[m.Line], s.Draft
	line.Count = m.Count
	d.Lines, d.Pricing, d.Discount, d.Distance = []order.Line{line}, nil, "", 0
	known, err := o.Kitchen(ctx, tx, uuid.Nil, s.pins, scopeOf(&d))
	if err != nil {
		return nil, nil, err
	}
	// An order has one share of a batch: what is made of it already is not made larger.
	known.Planning.Combined = slices.DeleteFunc(known.Planning.Combined, func(c order.CombinedBatch) bool {
		return slices.Contains(c.For, s.Draft.Customer)
	})
	r, err := order.Compute(ctx, &d, known)
	return r, known, err
}

// WhenMore is when more pieces could be made.
type WhenMore struct {
	Fits bool        `json:"fits"`
	Text reason.Text `json:"text"`
}

func (o *Orders) whenMore(ctx context.Context, in *struct {
	web.ID
	Line  int `query:"line" minimum:"0" maximum:"1000" doc:"Index of the order's line"`
	Count int `query:"count" minimum:"1" maximum:"10000" default:"1"`
}) (*struct{ Body WhenMore }, error) {
	var out WhenMore
	err := o.In(ctx, func(tx pgx.Tx) error {
		s, err := o.inWork(ctx, tx, in.ID.ID, in.Line)
		if err != nil {
			return err
		}
		r, _, err := o.beside(ctx, tx, s, More{in.Line, in.Count})
		if err != nil {
			return err
		}
		out = WhenMore{r.When.Fits, r.When.Text}
		return nil
	})
	return &struct{ Body WhenMore }{out}, err
}

// Fewer pieces of a line, or as many as before.
type Fewer struct {
	Line   int    `json:"line" minimum:"0" maximum:"1000" doc:"Index of the order's line"`
	Count  int    `json:"count" minimum:"1" maximum:"10000" doc:"Pieces that the order gets of it"`
	Agreed string `json:"agreed,omitempty" maxLength:"20" doc:"The price of the order then, before tax; when left out it goes down by the share of the pieces that are not handed over"`
}

func (o *Orders) handOverFewer(ctx context.Context, in *struct {
	web.ID
	Body Fewer
}) (*web.Tagged[Order], error) {
	return o.changeInWork(ctx, in.ID.ID, in.Body.Line, func(tx pgx.Tx, s *stored) error {
		return o.fewer(ctx, tx, s, in.Body)
	})
}

func (o *Orders) fewer(ctx context.Context, tx pgx.Tx, s *stored, f Fewer) error {
	var promised int // at first
	var paid decimal.Decimal
	if err := tx.QueryRow(ctx, `select coalesce(sum(count), 0)::int, coalesce(sum(price), 0) from batch_shares
		where order_id = $1 and position = $2 and not again`, s.ID, f.Line).Scan(&promised, &paid); err != nil {
		return err
	}
	if f.Count > promised {
		return invalid.At("count", reason.Of("orders.so-many-at-most", reason.Int(promised)))
	}
	known, err := o.Kitchen(ctx, tx, s.ID, s.pins, scopeOf(&s.Draft))
	if err != nil {
		return err
	}
	if s.standing.Agreed == nil { // promised by a version that fixed no price: there is none to change
		if f.Agreed != "" {
			return invalid.At("agreed", reason.Of("orders.has-no-fixed-price"))
		}
		_, err := tx.Exec(ctx, `update order_lines set count = $3 where order_id = $1 and position = $2`, s.ID, f.Line,
			f.Count)
		return err
	}
	// The line's part of the price goes with its pieces; a price that is given is spread over all lines.
	was, now := decimal.NewFromInt(int64(s.Draft.Lines[f.Line].Count)), decimal.NewFromInt(int64(f.Count))
	unrounded := s.standing.Agreed.Sub(paid).Add(paid.Mul(now).Div(was))
	agreed := unrounded.Round(price.Decimals(known.Rates.Currency))
	if f.Agreed != "" {
		if agreed, err = price.Read(f.Agreed, known.Rates.Currency); err != nil {
			return invalid.At("agreed", err)
		}
	}
	spread := decimal.NewFromInt(1)
	if !unrounded.IsZero() {
		spread = agreed.Div(unrounded)
	}
	batch := &pgx.Batch{}
	batch.Queue(`update order_lines set count = $3 where order_id = $1 and position = $2`, s.ID, f.Line, f.Count)
	batch.Queue(`update batch_shares set price = price * $4::numeric
		* case when position = $2 then $3::numeric else 1 end where order_id = $1`, s.ID, f.Line, now.Div(was), spread)
	if err := tx.SendBatch(ctx, batch).Close(); err != nil {
		return err
	}
	d := s.Draft
	d.Lines = slices.Clone(d.Lines)
	d.Lines[f.Line].Count = f.Count
	known.Commitments = s.standing
	known.Commitments.Agreed = &agreed
	return o.agree(ctx, tx, s.ID, &d, known)
}

// inWork is an order of which pieces may still break, with its line.
func (o *Orders) inWork(ctx context.Context, tx pgx.Tx, id uuid.UUID, line int) (*stored, error) {
	if err := db.LockKitchen(ctx, tx); err != nil {
		return nil, err
	}
	s, err := load(ctx, tx, id, "for no key update")
	if err != nil {
		return nil, err
	}
	if s.State != order.Promised && s.State != order.Making {
		return nil, web.Reject(http.StatusConflict, "orders.pieces-are-fixed", reason.Word(s.State))
	}
	if line >= len(s.Draft.Lines) {
		return nil, invalid.At("line", reason.Of("orders.order-has-no-line", reason.Int(line+1)))
	}
	return s, nil
}
