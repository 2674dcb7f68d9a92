package orders

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/request"
	"zestytin/internal/text"
)

// Request is what a customer asks for, as it is said, and the order that it is put into.
type Request struct {
	Text  string       `json:"text" maxLength:"4000" example:"24 strawberries, 12 bombs Sat 2pm"`
	Draft *order.Draft `json:"draft,omitempty" doc:"None: a new order as it is begun"`
}

// Understood is a request as it was read.
type Understood struct {
	Found  bool            `json:"found" doc:"There is a treat in it"`
	Draft  order.Draft     `json:"draft" doc:"With what was said; the rest is as it was"`
	Lines  []Said          `json:"lines" doc:"What of the order was said"`
	Dated  bool            `json:"dated" doc:"A day or a time was said"`
	Doubts []reason.Reason `json:"doubts" doc:"What could be meant in another way"`
	Unread []string        `json:"unread" doc:"What was not understood"`
}

// Said is a line that was read.
type Said struct {
	Treat ident.Treat `json:"treat"`
	Name  string      `json:"name"`
	Count int         `json:"count"`
}

func (o *Orders) readRequest(ctx context.Context, in *struct{ Body Request }) (*struct{ Body Understood }, error) {
	u := Understood{Lines: []Said{}, Doubts: []reason.Reason{}, Unread: []string{}}
	w := text.Of(ctx)
	err := o.In(ctx, func(tx pgx.Tx) error {
		known, err := o.Kitchen(ctx, tx, uuid.Nil, nil, order.Scope{})
		if err != nil {
			return err
		}
		sold, err := soldOften(ctx, tx)
		if err != nil {
			return err
		}
		k := request.Kitchen{Calendar: known.Calendar, Now: known.Now, Dates: w.Dates}
		for id, t := range known.Treats {
			if t.Formula == nil {
				continue
			}
			kind := strings.Fields(w.Several(reason.Several(family.Term(t.Formula.Family))))
			k.Treats = append(k.Treats, request.Treat{ID: id, Name: t.Name, Family: kind, Sold: sold[id]})
		}
		zone := known.Calendar.Zero.Location()
		if u.Draft = order.Blank(known.Now, zone); in.Body.Draft != nil {
			u.Draft = *in.Body.Draft
		} else {
			u.Draft.Address = w.Of("orders.at-the-door")
		}
		r := request.Parse(in.Body.Text, k)
		u.Draft, u.Found, u.Dated = r.Into(u.Draft, zone), r.Found(), r.Day != "" || r.To > 0
		u.Doubts, u.Unread = append(u.Doubts, r.Doubts...), append(u.Unread, r.Unread...)
		for _, l := range r.Lines {
			u.Lines = append(u.Lines, Said{l.Treat, known.Treats[l.Treat].Name, l.Count})
		}
		return nil
	})
	return &struct{ Body Understood }{u}, err
}

// soldOften is how many orders there are of each treat.
func soldOften(ctx context.Context, tx pgx.Tx) (map[ident.Treat]int, error) {
	rows, err := tx.Query(ctx, `select treat_id::text, count(distinct order_id) from order_lines group by 1`)
	if err != nil {
		return nil, err
	}
	sold := map[ident.Treat]int{}
	var id ident.Treat
	var n int
	_, err = pgx.ForEachRow(rows, []any{&id, &n}, func() error { sold[id] = n; return nil })
	return sold, err
}
