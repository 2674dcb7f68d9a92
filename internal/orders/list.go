package orders

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/price"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/text"
)

// Line of an order as it is shown.
type Line struct {
	Treat     ident.Treat     `json:"treat"`
	Name      string          `json:"name"`
	Version   int             `json:"version"`
	Count     int             `json:"count"`
	Coating   bool            `json:"coating,omitempty" doc:"Made in coating instead of couverture"`
	Family    treat.Family    `json:"family"`
	Chocolate *food.Chocolate `json:"chocolate,omitempty"`
}

// Row is an order in the list.
type Row struct {
	ID       uuid.UUID        `json:"id"`
	Number   int              `json:"number"`
	Revision int              `json:"revision"`
	State    order.State      `json:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Customer string           `json:"customer"`
	Occasion string           `json:"occasion,omitempty"`
	Way      order.Fulfilment `json:"way" enum:"pickup,delivery"`
	Place    string           `json:"place,omitempty"`
	From     time.Time        `json:"from"`
	To       time.Time        `json:"to"`
	Leave    *time.Time       `json:"leave,omitempty" doc:"When to set out with a delivery: its drive leaves then, or its distance is known"`
	FreeFrom []string         `json:"freeFrom"`
	Notes    string           `json:"notes,omitempty"`
	Phone    string           `json:"phone,omitempty"`
	Lines    []Line           `json:"lines"`
	Price    *price.Money     `json:"price,omitempty"`
	Fits     *bool            `json:"fits,omitempty" doc:"Of an order that has no days yet: whether it would fit"`
	FitsText reason.Text      `json:"fitsText,omitempty"`
	Answer   string           `json:"answer,omitempty" doc:"What the customer answered to its quote that waits for the seller"`
	Steps    int              `json:"steps" doc:"Of its batches"`
	Done     int              `json:"done" doc:"Steps that are ticked"`
}

// List of orders, a page of it.
type List struct {
	Orders    []Row `json:"orders"`
	Ahead     int   `json:"ahead" doc:"How many orders are ahead in all"`
	Enquiries int   `json:"enquiries" doc:"How many of them are enquiries"`
	More      bool  `json:"more" doc:"Whether others come after these"`
	Sums      Sums  `json:"sums" doc:"Of all that is asked for, not of this page alone"`
}

// Sums of the orders that a list is asked for.
type Sums struct {
	Orders int         `json:"orders"`
	Pieces int         `json:"pieces" doc:"Of the treat that is asked for, otherwise of all"`
	Agreed price.Money `json:"agreed" doc:"Of those that have an agreed price, before tax"`
	Open   int         `json:"open" doc:"Orders without an agreed price"`
}

// foresight is how many days ahead the list tells whether an order would fit: later ones are told when they are opened.
const foresight = 28

// Which orders of the list, and how many at once.
type Which struct {
	Which string `query:"which" enum:"ahead,behind,all" default:"ahead" doc:"ahead: not handed over yet, next first; behind: handed over, settled or cancelled, latest first; all: latest first"`
	Find  string `query:"find" maxLength:"100" doc:"Words, each of which must stand in its customer, occasion, state or number"`
	Limit int    `query:"limit" minimum:"1" maximum:"500" default:"30"`
	After string `query:"after" format:"uuid" doc:"The last order of the page before"`
	State string `query:"state" enum:"enquiry,quoted,promised,in the making,packed,handed over,settled,cancelled"`
	Treat string `query:"treat" format:"uuid" doc:"Orders that have it"`
	From  string `query:"from" format:"date" doc:"Handed over on this day of the kitchen or later"`
	To    string `query:"to" format:"date" doc:"Or earlier, this day included"`
}

// selectPage of the list. The page is chosen first, so that what belongs to a row is looked up for its rows alone. The
// query is written out for what is asked: one for all cases would be planned anew each time.
func selectPage(in *Which, w *text.Words) (page string, args []any, sums string, of []any) {
	where, beyond, sorted := "true", "<", "o.from_at desc, o.number desc"
	switch in.Which {
	case "ahead":
		where, beyond, sorted = "o.state not in ('handed over', 'settled', 'cancelled')", ">", "o.from_at, o.number"
	case "behind":
		where = "o.state in ('handed over', 'settled', 'cancelled')"
	}
	arg := func(value any) string {
		of = append(of, value)
		return fmt.Sprintf("$%d", len(of))
	}
	local := "(o.from_at at time zone (select time_zone from kitchens))::date"
	pieces := "true"
	if in.State != "" {
		where += " and o.state = " + arg(in.State)
	}
	if in.Treat != "" {
		treat := arg(in.Treat)
		where += " and exists (select from order_lines x where x.order_id = o.id and x.treat_id = " + treat + "::uuid)"
		pieces = "x.treat_id = " + treat + "::uuid"
	}
	if in.From != "" {
		where += " and " + local + " >= " + arg(in.From) + "::text::date"
	}
	if in.To != "" {
		where += " and " + local + " <= " + arg(in.To) + "::text::date"
	}
	words := strings.Fields(strings.ToLower(in.Find))
	if len(words) > 0 { // a state is found by what the page calls it
		names := map[string]string{}
		for _, s := range order.States() {
			names[string(s)] = w.Word(reason.Word(s))
		}
		state := arg(names)
		for _, word := range words {
			where += fmt.Sprintf(
				" and position(%s in lower(concat_ws(' ', o.customer, o.occasion, %s::jsonb ->> o.state, o.number))) > 0",
				arg(word), state)
		}
	}
	sums = `select count(*), coalesce(sum((select sum(x.count) from order_lines x where x.order_id = o.id and ` +
		pieces + `)), 0)::int, coalesce(sum(o.agreed), 0)::text, count(*) filter (where o.agreed is null)
		from orders o where ` + where
	args = append([]any{}, of...)
	if in.After != "" {
		args = append(args, in.After)
		where += fmt.Sprintf(
			" and (o.from_at, o.number) %s (select a.from_at, a.number from orders a where a.id = $%d::uuid)", beyond,
			len(args))
	}
	args = append(args, in.Limit+1)
	limit := fmt.Sprintf("$%d", len(args))
	return `with page as materialized (select o.* from orders o where ` + where + ` order by ` + sorted + `
		limit ` + limit + `)
	select o.id, o.number, o.revision, o.state, o.customer, o.occasion, o.way, o.place, o.from_at, o.to_at, o.free_from, o.notes, o.phone, o.leaves_at, ` + priceColumns + `,
		coalesce(l.lines, '[]'), coalesce(q.answer, ''), coalesce(w.steps, 0), coalesce(w.done, 0)
	from page o
	left join (select l.order_id, jsonb_agg(jsonb_build_object('treat', l.treat_id, 'version', l.treat_version, 'count', l.count, 'coating', l.coating, 'name', t.name, 'family', v.family, 'chocolate', v.look) order by l.position) as lines
		from order_lines l join treats t on t.kitchen_id = l.kitchen_id and t.id = l.treat_id
			join treat_versions v on v.kitchen_id = l.kitchen_id and v.treat_id = l.treat_id and v.version = l.treat_version
		where l.order_id in (select id from page) group by l.order_id) l on l.order_id = o.id
	left join (select h.order_id, count(*) as steps, count(s.done_at) as done from batch_shares h join batch_steps s on s.kitchen_id = h.kitchen_id and s.batch_id = h.batch_id
		where h.order_id in (select id from page) group by h.order_id) w on w.order_id = o.id
	left join (select distinct on (q.order_id) q.order_id, case when q.accepted_at is not null then 'accepted, but it does not fit' when q.request <> '' then 'a change is asked for' end as answer from quotes q
		where q.order_id in (select id from page where state = 'quoted') and (q.revoked_at is null or q.accepted_at is not null) order by q.order_id, q.id desc) q on q.order_id = o.id
	order by ` + sorted, args, sums, of
}

func (o *Orders) list(ctx context.Context, in *Which) (*struct{ Body List }, error) {
	var l List
	err := o.In(ctx, func(tx pgx.Tx) error {
		var currency string
		if err := tx.QueryRow(ctx, `select (select currency from kitchens),
			count(*) filter (where state not in ('handed over', 'settled', 'cancelled')),
			count(*) filter (where state = 'enquiry') from orders`).Scan(&currency, &l.Ahead, &l.Enquiries); err != nil {
			return err
		}
		query, args, sums, of := selectPage(in, text.Of(ctx))
		var agreed string
		if err := tx.QueryRow(ctx, sums, of...).Scan(&l.Sums.Orders, &l.Sums.Pieces, &agreed,
			&l.Sums.Open); err != nil {
			return err
		}
		l.Sums.Agreed = price.In(currency, decimal.RequireFromString(agreed))
		rows, err := tx.Query(ctx, query, args...)
		if err != nil {
			return err
		}
		var drafts []*order.Draft // of each row; nil where it is not reckoned
		var standings []order.Commitments
		horizon := o.Clock().AddDate(0, 0, foresight)
		open := order.Scope{Until: horizon,
			Lines: []order.Line{}} // what the orders that have no days yet ask for; the same days on every page, so that the same is said
		l.Orders, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Row, error) {
			var r Row
			var p priced
			d := &order.Draft{}
			fields := append([]any{&r.ID, &r.Number, &r.Revision, &r.State, &r.Customer, &r.Occasion, &r.Way, &r.Place,
				&r.From, &r.To, &r.FreeFrom, &r.Notes, &r.Phone, &r.Leave}, p.into(d)...)
			if err := row.Scan(append(fields, &r.Lines, &r.Answer, &r.Steps, &r.Done)...); err != nil {
				return r, err
			}
			d.From, d.To, d.FreeFrom = r.From, r.To, r.FreeFrom
			if takes := order.Leave(d.Distance); r.Leave == nil && r.Way == order.Delivery && takes > 0 {
				leave := r.From.Add(-time.Duration(takes) * time.Minute)
				r.Leave = &leave
			}
			standing := p.settle(d)
			if standing.Agreed != nil {
				m := price.In(currency, *standing.Agreed)
				r.Price = &m
			}
			standings = append(standings, standing)
			if r.State != order.Enquiry && r.State != order.Quoted || len(r.Lines) == 0 || r.From.After(horizon) {
				drafts = append(drafts, nil)
				return r, nil
			}
			for _, line := range r.Lines {
				d.Lines = append(d.Lines, order.Line{Treat: line.Treat, Count: line.Count, Coating: line.Coating})
			}
			open.Lines = append(open.Lines, d.Lines...)
			drafts = append(drafts, d)
			return r, nil
		})
		if err != nil {
			return err
		}
		if l.More = len(l.Orders) > in.Limit; l.More {
			l.Orders = l.Orders[:in.Limit]
		}
		if len(open.Lines) == 0 {
			return nil
		}
		known, err := o.Kitchen(ctx, tx, uuid.Nil, nil, open)
		if err != nil {
			return err
		}
		known.Extent = order.FeasibilityOnly
		for i := range l.Orders {
			if drafts[i] == nil {
				continue
			}
			known.Commitments = standings[i]
			// A line that the book no longer supports leaves the row without a price; opening the order says why.
			if r, err := order.Compute(ctx, drafts[i], known); err == nil {
				row := &l.Orders[i]
				row.Price, row.Fits, row.FitsText = &r.Money.Asked.Money, &r.When.Fits, r.When.Text
			}
		}
		return nil
	})
	return &struct{ Body List }{l}, err
}
