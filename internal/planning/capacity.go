package planning

import (
	"cmp"
	"reflect"
	"regexp"

	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Capacity is what the kitchen has beside people: spots to wait in, and moulds.
type Capacity struct {
	Spots    []treat.Spot `json:"spots" minItems:"3" maxItems:"20" doc:"Where things set and wait, as they are listed; one without an id is new"`
	Washdown si.Minutes   `json:"washdown" doc:"Minutes of washing down before work that must be free from what was worked with"`
	Moulds   []Mould      `json:"moulds" maxItems:"200"`
}

// Shapes are the API's words on what core hands out.
func Shapes() web.Shapes {
	return web.Shapes{
		reflect.TypeFor[plan.Errand](): {
			"hand":   {Doc: "Which person, from 0"},
			"from":   {Doc: "Minute of the day"},
			"to":     {Doc: "Minute of the day"},
			"orders": {Doc: "That it is for"},
		},
		reflect.TypeFor[treat.Spot](): {
			"id":      {Doc: "Steps of treats name it by this; empty: a new one", MaxLength: 40},
			"name":    {Doc: "What the seller calls it", MaxLength: 40},
			"celsius": {Doc: "How cold it is there, C; not given: as warm as the kitchen"},
			"trays":   {Doc: "How many it holds"},
		},
	}
}

// Mould is one kind of mould.
type Mould struct {
	Tool  ident.Mould `json:"tool" maxLength:"60"`
	For   []string    `json:"for,omitempty" doc:"The treats that take it"`
	Text  string      `json:"text,omitempty" doc:"What it looks like"`
	Count int         `json:"count" doc:"How many there are"`
}

// resources of the spots, as the planner sees them.
func resources(spots []treat.Spot) []plan.StorageResource {
	list := make([]plan.StorageResource, len(spots))
	for i, s := range spots {
		list[i] = plan.StorageResource{ID: s.ID, Trays: s.Trays, Name: s.Name}
	}
	return list
}

// check what was typed, and give new spots their ids.
func (r *Capacity) check() error {
	var f invalid.Faults
	ids, names := map[ident.Spot]bool{}, map[string]bool{}
	for i := range r.Spots {
		s, path := &r.Spots[i], fmt.Sprintf("spots[%d]", i)
		s.Name = strings.TrimSpace(s.Name)
		if s.ID == "" {
			s.ID = newSpot(s.Name, r.Spots)
		}
		switch name := strings.ToLower(s.Name); {
		case s.Name == "" || len([]rune(s.Name)) > 40:
			f.Add(path+".name", reason.Of("planning.name-the-spot"))
		case names[name]:
			f.Add(path+".name", reason.Of("planning.this-spot-stands-here-twice"))
		default:
			names[name] = true
		}
		if ids[s.ID] || !spotID.MatchString(string(s.ID)) {
			f.Add(path+".id", reason.Of("planning.not-a-spot", reason.Name(s.ID)))
		}
		ids[s.ID] = true
		if s.Trays < 0 || s.Trays > 500 {
			f.Add(path+".trays", reason.Of("planning.holds-between-and-trays", reason.Name(s.Name)))
		}
		if s.Celsius != nil && !(*s.Celsius >= -40 && *s.Celsius <= 40) {
			f.Add(path+".celsius", reason.Of("planning.spot-as-cold-as", reason.Celsius(-40), reason.Celsius(40)))
		}
	}
	for _, s := range treat.Spots() {
		if !ids[s.ID] {
			f.Add("spots", reason.Of("planning.families-propose-this-spot", reason.Name(s.Name)))
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
		case seen[string(m.Tool)]:
			f.Add(path+".tool", reason.Of("planning.this-mould-stands-here-twice"))
		}
		seen[string(m.Tool)] = true
		if m.Count < 1 || m.Count > 200 {
			f.Add(path+".count", reason.Of("planning.there-between-and-mould"))
		}
	}
	return f.Err()
}

// spotID is how a spot is named in steps and files.
var spotID = regexp.MustCompile(`^[a-z0-9-]{1,40}$`)

// newSpot is an id for a spot by its name, as no other has it.
func newSpot(name string, others []treat.Spot) ident.Spot {
	var b strings.Builder
	for _, r := range strings.ToLower(name) {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			b.WriteRune(r)
		} else if b.Len() > 0 {
			b.WriteByte('-')
		}
	}
	base := strings.Trim(b.String()[:min(b.Len(), 36)], "-")
	base = cmp.Or(base, "spot")
	id := ident.Spot(base)
	for n := 2; slices.ContainsFunc(others, func(s treat.Spot) bool { return s.ID == id }); n++ {
		id = ident.Spot(fmt.Sprintf("%s-%d", base, n))
	}
	return id
}

// Spots of the kitchen, as they are listed.
func Spots(ctx context.Context, tx pgx.Tx) ([]treat.Spot, error) {
	rows, err := tx.Query(ctx, `select id, name, celsius, trays from spots order by n, id`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[treat.Spot])
}

// loadCapacity without the moulds.
func loadCapacity(ctx context.Context, tx pgx.Tx) (r Capacity, revision int, err error) {
	r.Moulds = []Mould{}
	if err = tx.QueryRow(ctx, `select washdown, capacity_revision from kitchens`).Scan(&r.Washdown,
		&revision); err != nil {
		return r, 0, err
	}
	r.Spots, err = Spots(ctx, tx)
	return r, revision, err
}

// Moulds are how many there are of each kind, where a person has said so.
func Moulds(ctx context.Context, tx pgx.Tx) (map[ident.Mould]int, error) {
	rows, err := tx.Query(ctx, `select tool, count from moulds`)
	if err != nil {
		return nil, err
	}
	m := map[ident.Mould]int{}
	var tool ident.Mould
	var count int
	_, err = pgx.ForEachRow(rows, []any{&tool, &count}, func() error { m[tool] = count; return nil })
	return m, err
}

// fullCapacity has the moulds of all treats, with their names.
func (p *Planning) fullCapacity(ctx context.Context, tx pgx.Tx) (Capacity, int, error) {
	r, revision, err := loadCapacity(ctx, tx)
	if err != nil {
		return r, 0, err
	}
	k, err := p.Kitchen(ctx, tx, nil)
	if err != nil {
		return r, 0, err
	}
	r.Moulds = mouldsOf(ctx, k)
	return r, revision, nil
}

// mouldsOf all treats that have some, by the names of the treats.
func mouldsOf(ctx context.Context, k *order.Inputs) []Mould {
	at, list := map[string]int{}, []Mould{}
	for _, t := range k.Treats {
		if t.Formula == nil || family.Tool(t.Formula) == "" {
			continue
		}
		id, count, cavities := family.Tool(t.Formula), 0, 0
		if m := family.LawOf(t.Formula).Lay(t.Formula).Moulds; m != nil {
			count, cavities = m.Moulds, m.Cavities
		}
		i, seen := at[string(id)]
		if !seen {
			i, at[string(id)] = len(list), len(list)
			list = append(list, Mould{Tool: id, Text: text.Of(ctx).Of("planning.cavities-each", reason.Int(cavities))})
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

func (p *Planning) getCapacity(ctx context.Context, _ *struct{}) (*web.Tagged[Capacity], error) {
	var r Capacity
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) (err error) { r, revision, err = p.fullCapacity(ctx, tx); return err })
	return web.TaggedBy(revision, r), err
}

// SetTrays of storage spots that the kitchen has, and the plan follows.
func (p *Planning) SetTrays(ctx context.Context, tx pgx.Tx, trays map[ident.Spot]int) error {
	r, _, err := p.fullCapacity(ctx, tx)
	if err != nil {
		return err
	}
	for i := range r.Spots {
		if n, said := trays[r.Spots[i].ID]; said {
			r.Spots[i].Trays = n
		}
	}
	own, err := Moulds(ctx, tx)
	if err != nil {
		return err
	}
	// What nobody has counted stays uncounted.
	r.Moulds = slices.DeleteFunc(r.Moulds, func(m Mould) bool { _, counted := own[m.Tool]; return !counted })
	if err := r.check(); err != nil {
		return err
	}
	if err := StoreCapacity(ctx, tx, r); err != nil {
		return err
	}
	_, err = p.resettle(ctx, tx)
	return err
}

// putCapacity changes what there is, and the plan follows.
func (p *Planning) putCapacity(ctx context.Context, in *struct {
	web.IfMatch
	Body Capacity
}) (*web.Tagged[Capacity], error) {
	if err := in.Body.check(); err != nil {
		return nil, err
	}
	var r Capacity
	var revision int
	err := p.In(ctx, func(tx pgx.Tx) error {
		if err := tx.QueryRow(ctx, `select capacity_revision from kitchens for no key update`).Scan(
			&revision); err != nil {
			return err
		}
		if err := in.Matches(revision, func() (any, error) {
			now, _, err := p.fullCapacity(ctx, tx)
			return now,
				err
		}); err != nil {
			return err
		}
		if err := p.unused(ctx, tx, in.Body.Spots); err != nil {
			return err
		}
		if err := StoreCapacity(ctx, tx, in.Body); err != nil {
			return err
		}
		if _, err := p.resettle(ctx, tx); err != nil {
			return err
		}
		var err error
		r, revision, err = p.fullCapacity(ctx, tx)
		return err
	})
	return web.TaggedBy(revision, r), err
}

// unused tells whether the spots that are no longer kept are needed nowhere: neither by a treat nor by what is still to
// be made.
func (p *Planning) unused(ctx context.Context, tx pgx.Tx, kept []treat.Spot) error {
	had, err := Spots(ctx, tx)
	if err != nil {
		return err
	}
	had = slices.DeleteFunc(had, func(s treat.Spot) bool {
		return slices.ContainsFunc(kept, func(k treat.Spot) bool { return k.ID == s.ID })
	})
	if len(had) == 0 {
		return nil
	}
	k, err := p.Kitchen(ctx, tx, nil)
	if err != nil {
		return err
	}
	var f invalid.Faults
	for _, s := range had {
		for _, t := range k.Treats {
			if t.Formula != nil && slices.ContainsFunc(t.Formula.Steps,
				func(w treat.StepTemplate) bool { return w.Spot == s.ID }) {
				f.Add("spots", reason.Of("planning.spot-is-used-by", reason.Name(s.Name), reason.Name(t.Name)))
				break
			}
		}
		var due bool
		if err := tx.QueryRow(ctx, `select exists (select from batches where made_at is null
			and work -> 'steps' @> jsonb_build_array(jsonb_build_object('place', $1::text)))`, s.ID).Scan(&due); err != nil {
			return err
		}
		if due && f.Err() == nil {
			f.Add("spots", reason.Of("planning.spot-is-planned-with", reason.Name(s.Name)))
		}
	}
	return f.Err()
}

// StoreCapacity puts r, which has been checked, in the place of what was there.
func StoreCapacity(ctx context.Context, tx pgx.Tx, r Capacity) error {
	who, batch := web.ActorOf(ctx), &pgx.Batch{}
	batch.Queue(`update kitchens set washdown = $1, capacity_revision = capacity_revision + 1`, r.Washdown)
	queueSpots(batch, who.Kitchen, r.Spots)
	for _, m := range r.Moulds {
		queueMould(batch, who, m.Tool, m.Count)
	}
	return tx.SendBatch(ctx, batch).Close()
}

func queueSpots(batch *pgx.Batch, kitchen uuid.UUID, spots []treat.Spot) {
	batch.Queue(`delete from spots`)
	for n, s := range spots {
		batch.Queue(`insert into spots (kitchen_id, id, name, celsius, trays, n) values ($1, $2, $3, $4, $5, $6)`,
			kitchen, s.ID, s.Name, s.Celsius, s.Trays, n)
	}
}

func queueMould(batch *pgx.Batch, who web.Actor, tool ident.Mould, count int) {
	batch.Queue(`insert into moulds (kitchen_id, tool, count) values ($1, $2, $3)
			on conflict (kitchen_id, tool) do update set count = excluded.count`, who.Kitchen, tool, count)
}
