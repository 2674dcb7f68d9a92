package orders

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// priceColumns of an order, and where they are scanned to.
const priceColumns = `coalesce(price_by, ''), coalesce(price_value::text, ''), discount, distance, cash, agreed, created_at`

type priced struct {
	by, value string
	agreed    *string
	written   time.Time
}

func (p *priced) into(d *order.Draft) []any {
	return []any{&p.by, &p.value, &d.Discount, &d.Distance, &d.Cash, &p.agreed, &p.written}
}

// settle the draft and what stands of it once the columns are scanned.
func (p *priced) settle(d *order.Draft) order.Commitments {
	if p.by != "" {
		d.Pricing = &order.Pricing{By: price.Basis(p.by), Value: p.value}
	}
	s := order.Commitments{Written: p.written}
	if p.agreed != nil {
		agreed := decimal.RequireFromString(*p.agreed)
		s.Agreed = &agreed
	}
	return s
}

// pricing as columns.
func pricing(d *order.Draft) (*string, *string) {
	if d.Pricing == nil {
		return nil, nil
	}
	text, value := string(d.Pricing.By), d.Pricing.Value
	if d.Pricing.By == price.ByMargin || d.Pricing.By == price.ByMarkup {
		share, _ := price.ReadShare(value) // it has been checked
		value = share.String()
	}
	return &text, &value
}

// samePrice tells whether two drafts ask for the same price: then what was agreed stands.
func samePrice(a, b *order.Draft) bool {
	same := a.Pricing == nil && b.Pricing == nil || a.Pricing != nil && b.Pricing != nil &&
		a.Pricing.By == b.Pricing.By && equal(a.Pricing.Value, b.Pricing.Value)
	return same && a.Discount == b.Discount && a.Distance == b.Distance && a.Cash == b.Cash &&
		slices.EqualFunc(a.Lines, b.Lines, order.Line.Same)
}

func equal(a, b string) bool {
	x, errX := price.ReadShare(a)
	y, errY := price.ReadShare(b)
	return errX == nil && errY == nil && x.Equal(y)
}

func load(ctx context.Context, tx pgx.Tx, id uuid.UUID, lock string) (*stored, error) {
	s := &stored{pins: map[ident.Treat]int{}}
	d := &s.Draft
	var p priced
	var currency string
	err := tx.QueryRow(ctx, `select id, number, revision, state, customer, phone, mail, occasion, way, place, from_at,
			to_at, free_from, wishes, sets, notes, updated_at, (select currency from kitchens), `+priceColumns+`
		from orders where id = $1 `+lock, id).Scan(append([]any{&s.ID, &s.Number, &s.Revision, &s.State, &d.Customer, &d.Phone, &d.Mail, &d.Occasion, &d.Way, &d.Address, &d.From, &d.To, &d.FreeFrom, &d.Wishes, &d.Sets, &d.Notes, &s.Updated, &currency}, p.into(d)...)...)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, web.NotFound("order")
	}
	if err != nil {
		return nil, err
	}
	if len(d.Sets) == 0 { // as it was sent
		d.Sets = nil
	}
	s.standing = p.settle(d)
	for _, to := range s.State.Transitions() {
		s.Moves = append(s.Moves, Transition{to, s.State.Back(to), to == s.State.Onward()})
	}
	if s.standing.Agreed != nil {
		agreed := price.In(currency, *s.standing.Agreed)
		s.Agreed = &agreed
	}
	rows, err := tx.Query(ctx, `select treat_id::text, treat_version, count, coating, note, free_from, wishes, boxes
			from order_lines where order_id = $1 order by position`, id)
	if err != nil {
		return nil, err
	}
	d.Lines, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (l order.Line, err error) {
		var version int
		err = row.Scan(&l.Treat, &version, &l.Count, &l.Coating, &l.Note, &l.FreeFrom, &l.Wishes, &l.Boxes)
		if len(l.FreeFrom) == 0 { // as it was sent
			l.FreeFrom = nil
		}
		if len(l.Wishes) == 0 {
			l.Wishes = nil
		}
		if len(l.Boxes) == 0 {
			l.Boxes = nil
		}
		s.pins[l.Treat] = version
		return l, err
	})
	if s.State == order.Enquiry {
		s.pins = nil // an enquiry follows the book; from the quote on an order keeps its versions
	}
	return s, err
}

func (s *stored) fill(ctx context.Context, tx pgx.Tx) error {
	rows, err := tx.Query(ctx, `select b.id, h.position, b.name, b.day::text, t.hands, t.steps, t.done,
			b.short is not null, t.days, h.count, h.part, b.count,
			(select coalesce(array_agg(distinct w.customer), '{}') from batch_shares x
			join orders w on w.kitchen_id = x.kitchen_id and w.id = x.order_id where x.kitchen_id = h.kitchen_id
			and x.batch_id = h.batch_id and x.order_id <> h.order_id and w.state <> 'cancelled')
		from batch_shares h join batches b on b.kitchen_id = h.kitchen_id and b.id = h.batch_id
			join lateral (select sum(s.hands + s.changeover + s.washdown)::int as hands, count(*)::int as steps,
			count(s.done_at)::int as done, array_agg(distinct s.day::text order by s.day::text) as days
				from batch_steps s where s.kitchen_id = b.kitchen_id and s.batch_id = b.id and ($2
				or s.done_at is not null)) t on t.steps > 0
		where h.order_id = $1 order by b.day, h.position`, s.ID, s.State != order.Cancelled)
	if err != nil {
		return err
	}
	if s.Days, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Day]); err != nil {
		return err
	}
	rows, err = tx.Query(ctx, `select x.came, x.went, x.at, coalesce(p.name, x.otherwise) from (
			select id, coalesce(from_state, '') as came, to_state as went, at, person_id,
				'the customer, by the quote' as otherwise from order_moves where order_id = $1
			union all select id, '', '', at, person_id, '' from order_edits where order_id = $1) x
		left join people p on p.id = x.person_id order by x.at, x.id`, s.ID)
	if err != nil {
		return err
	}
	s.History, err = pgx.CollectRows(rows, pgx.RowToStructByPos[Moved])
	return err
}

func full(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Order, error) {
	s, err := load(ctx, tx, id, "")
	if err != nil {
		return Order{}, err
	}
	if s.Quote, err = lastQuote(ctx, tx, id); err != nil {
		return Order{}, err
	}
	if s.Door, err = atDoor(ctx, tx, id); err != nil {
		return Order{}, err
	}
	return s.Order, s.fill(ctx, tx)
}

// atDoor is what was told of an order on a drive; nil where nothing was.
func atDoor(ctx context.Context, tx pgx.Tx, id uuid.UUID) (*AtDoor, error) {
	d := AtDoor{Back: []reason.Reason{}}
	var given bool
	err := tx.QueryRow(ctx, `select outcome, note, at, given is not null from drops where order_id = $1`, id).
		Scan(&d.Outcome, &d.Note, &d.At, &given)
	if errors.Is(err, pgx.ErrNoRows) {
		return nil, nil
	}
	if err != nil || !given {
		return &d, err
	}
	var currency string
	if err := tx.QueryRow(ctx, `select currency from kitchens`).Scan(&currency); err != nil {
		return nil, err
	}
	rows, err := tx.Query(ctx, `select t.name, l.count, coalesce((d.given ->> l.position)::int, l.count),
			coalesce((select sum(h.price) from batch_shares h where h.kitchen_id = l.kitchen_id
				and h.order_id = l.order_id and h.position = l.position), 0)::text
		from order_lines l join drops d on d.kitchen_id = l.kitchen_id and d.order_id = l.order_id
			join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
		where l.order_id = $1 order by l.position`, id)
	if err != nil {
		return nil, err
	}
	lines, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (g order.Given, err error) {
		var share string
		if err = row.Scan(&g.Name, &g.Count, &g.Given, &share); err == nil {
			g.Price, err = decimal.NewFromString(share)
		}
		return g, err
	})
	var worth price.Money
	d.Back, worth = order.CameBack(lines, currency)
	d.Worth = &worth
	return &d, err
}
