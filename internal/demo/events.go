package demo

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	coreevent "zestytin/core/event"
	"zestytin/core/ident"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// events that orders are made for.
func (k *kitchen) occasions(ctx context.Context, tx pgx.Tx) error {
	var id, treat uuid.UUID
	if err := tx.QueryRow(ctx, `select o.id, l.treat_id from orders o join order_lines l on l.kitchen_id = o.kitchen_id
		and l.order_id = o.id where o.customer = 'Emeka Strand' order by o.from_at desc, l.count desc limit 1`).
		Scan(&id, &treat); err != nil {
		return err
	}
	day := func(n int) string { return k.cal.Date(n) }
	e := coreevent.Event{Name: "Boathouse dinner", Host: "Emeka Strand", Place: "Boathouse, Harbour Street",
		Begins: k.at(23, "18:00"), Setup: 45, CountBy: day(16), RestBy: day(20),
		Tables: []coreevent.Table{{Name: "Lake side", Guests: 8}, {Name: "Window", Guests: 8}, {Name: "Children", Guests: 8}},
		Plan:   []coreevent.Part{{Share: 0.3, By: day(7)}},
		Brings: []coreevent.Bring{{What: "Tablecloths", Who: "Emeka", Done: true}, {What: "Cake stands", Who: "Maren"},
			{What: "Name cards", Who: "Emeka"}},
		Follow: []coreevent.Follow{{Order: ident.Order(id.String()), Treat: ident.Treat(treat.String()), Each: 1}}}
	of := db.NewID()
	if _, err := tx.Exec(ctx, `insert into events (kitchen_id, id, begins_at, content) values ($1, $2, $3, $4)`,
		web.ActorOf(ctx).Kitchen, of, e.Begins, e); err != nil {
		return err
	}
	_, err := tx.Exec(ctx, `update orders set event_id = $1 where id = $2`, of, id)
	return err
}
