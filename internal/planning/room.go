package planning

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/internal/platform/web"
)

// Capacity is what the kitchen has beside hands: places to wait in, and moulds.
type Capacity struct {
	Fridge   int     `json:"fridge" doc:"Trays that it holds"`
	Freezer  int     `json:"freezer" doc:"Trays that it holds"`
	Counter  int     `json:"counter" doc:"Trays that it holds"`
	Washdown int     `json:"washdown" doc:"Minutes of washing down before work that must be free from what was worked with"`
	Moulds   []Mould `json:"moulds"`
}

// Mould is one kind of mould.
type Mould struct {
	Tool  string   `json:"tool" maxLength:"60"`
	For   []string `json:"for,omitempty" doc:"The treats that take it"`
	Text  string   `json:"text,omitempty" doc:"What it looks like"`
	Count int      `json:"count" doc:"How many there are"`
}

func (r Capacity) places() []plan.StorageResource {
	return []plan.StorageResource{{ID: "fridge", Trays: r.Fridge}, {ID: "freezer", Trays: r.Freezer}, {ID: "counter", Trays: r.Counter}}
}

func (r *Capacity) check() error {
	var f invalid.Faults
	for _, x := range []struct {
		path string
		n    int
	}{{"fridge", r.Fridge}, {"freezer", r.Freezer}, {"counter", r.Counter}} {
		if x.n < 0 || x.n > 500 {
			f.Add(x.path, reason.Of("planning.holds-between-and-trays", reason.Name(x.path)))
		}
	}
	if r.Washdown < 0 || r.Washdown > 240 {
		f.Add("washdown", reason.Of("planning.washing-down-takes-between-and"))
	}
	seen := map[string]bool{}
	for i, m := range r.Moulds {
		path := fmt.Sprintf("moulds[%d]", i)
		switch {
		case m.Tool == "":
			f.Add(path+".tool", reason.Of("planning.say-which-mould"))
		case seen[m.Tool]:
			f.Add(path+".tool", reason.Of("planning.this-mould-stands-here-twice"))
		}
		seen[m.Tool] = true
		if m.Count < 1 || m.Count > 200 {
			f.Add(path+".count", reason.Of("planning.there-between-and-mould"))
		}
	}
	return f.Err()
}

func loadRoom(ctx context.Context, tx pgx.Tx) (r Capacity, revision int, err error) {
	r.Moulds = []Mould{}
	err = tx.QueryRow(ctx, `select fridge, freezer, counter, washdown, room_revision from kitchens`).Scan(&r.Fridge, &r.Freezer, &r.Counter, &r.Washdown, &revision)
	return r, revision, err
}

// Moulds are how many there are of each kind, where a person has said so.
func Moulds(ctx context.Context, tx pgx.Tx) (map[string]int, error) {
	rows, err := tx.Query(ctx, `select tool, count from moulds`)
	if err != nil {
		return nil, err
	}
	m := map[string]int{}
	var tool string
	var count int
	_, err = pgx.ForEachRow(rows, []any{&tool, &count}, func() error { m[tool] = count; return nil })
	return m, err
}

// fullRoom has the moulds of all treats, with their names.
func (p *Planning) fullRoom(ctx context.Context, tx pgx.Tx) (Capacity, int, error) {
	r, revision, err := loadRoom(ctx, tx)
	if err != nil {
		return r, 0, err
	}
	k, err := p.Kitchen(ctx, tx, nil)
	if err != nil {
		return r, 0, err
	}
	r.Moulds = mouldsOf(k)
	return r, revision, nil
}

// mouldsOf all treats that have some, by the names of the treats.
func mouldsOf(k *order.Inputs) []Mould {
	at, list := map[string]int{}, []Mould{}
	for _, t := range k.Treats {
		if t.Formula == nil || family.Tool(t.Formula) == "" {
			continue
		}
		id, count, cavities := family.Tool(t.Formula), 0, 0
		if m := family.LawOf(t.Formula).Lay(t.Formula).Moulds; m != nil {
			count, cavities = m.Moulds, m.Cavities
		}
		i, seen := at[id]
		if !seen {
			i, at[id] = len(list), len(list)
			list = append(list, Mould{Tool: id, Text: fmt.Sprintf("%d cavities each", cavities)})
		}
		list[i].For = append(list[i].For, t.Name)
		list[i].Count = max(list[i].Count, count)
	}
	for i := range list {
		slices.Sort(list[i].For)
		if own, said := k.Moulds[list[i].Tool]; said {
			list[i].Count = own
		}
	}
	slices.SortFunc(list, func(a, b Mould) int { return strings.Compare(a.For[0], b.For[0]) })
	return list
}

func (p *Planning) getRoom(ctx context.Context, _ *struct{}) (*web.Tagged[Capacity], error) {
	var r Capacity
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) (err error) { r, revision, err = p.fullRoom(ctx, tx); return err })
	return web.TaggedBy(revision, r), err
}

// putRoom changes what there is, and the plan follows.
func (p *Planning) putRoom(ctx context.Context, in *struct {
	web.IfMatch
	Body Capacity
}) (*web.Tagged[Capacity], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var r Capacity
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select room_revision from kitchens for update`).Scan(&revision); err != nil {
			return err
		}
		if err := in.Matches(revision, func() (any, error) { now, _, err := p.fullRoom(ctx, tx); return now, err }); err != nil {
			return err
		}
		if err := StoreRoom(ctx, tx, in.Body); err != nil {
			return err
		}
		if _, err := p.resettle(ctx, tx); err != nil {
			return err
		}
		var err error
		r, revision, err = p.fullRoom(ctx, tx)
		return err
	})
	return web.TaggedBy(revision, r), err
}

// StoreRoom puts r, which has been checked, in the place of what was there.
func StoreRoom(ctx context.Context, tx pgx.Tx, r Capacity) error {
	batch := &pgx.Batch{}
	batch.Queue(`update kitchens set fridge = $1, freezer = $2, counter = $3, washdown = $4, room_revision = room_revision + 1`, r.Fridge, r.Freezer, r.Counter, r.Washdown)
	for _, m := range r.Moulds {
		queueMould(batch, web.ActorOf(ctx), m.Tool, m.Count)
	}
	return tx.SendBatch(ctx, batch).Close()
}

func queueMould(batch *pgx.Batch, who web.Actor, tool string, count int) {
	batch.Queue(`insert into moulds (kitchen_id, tool, count) values ($1, $2, $3) on conflict (kitchen_id, tool) do update set count = excluded.count`, who.Kitchen, tool, count)
}
