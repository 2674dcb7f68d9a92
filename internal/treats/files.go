package treats

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/recipe"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/paper"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Version of a treat's formula.
type Version struct {
	Version int             `json:"version"`
	At      time.Time       `json:"at"`
	By      string          `json:"by"`
	Orders  int             `json:"orders" doc:"Orders that pin it"`
	Changes []family.Change `json:"changes" doc:"Against the version before; empty for the first"`
}

// VersionList is the versions of a treat, newest first.
type VersionList struct {
	Versions []Version `json:"versions"`
}

func (b *Book) versions(ctx context.Context, in *web.ID) (*struct{ Body VersionList }, error) {
	list := VersionList{Versions: []Version{}}
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := one(ctx, tx, in.ID); err != nil {
			return err
		}
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		rows, err := tx.Query(ctx, `select v.version, v.created_at, p.name, v.formula, v.mixes,
				(select count(distinct l.order_id) from order_lines l where l.kitchen_id = v.kitchen_id
				and l.treat_id = v.treat_id and l.treat_version = v.version)
			from treat_versions v join people p on p.id = v.created_by where v.treat_id = $1 order by v.version`, in.ID)
		if err != nil {
			return err
		}
		before := family.Version{}
		list.Versions, err = pgx.CollectRows(rows, func(row pgx.CollectableRow) (Version, error) {
			v, now := Version{Changes: []family.Change{}}, family.Version{}
			err := row.Scan(&v.Version, &v.At, &v.By, &now.Formula, &now.Mixes, &v.Orders)
			if before.Formula != nil && err == nil {
				v.Changes = family.Changes(before, now, &known.Inputs, known.Packaging())
			}
			before = now
			return v, err
		})
		slices.Reverse(list.Versions)
		return err
	})
	return &struct{ Body VersionList }{list}, err
}

// ChangeList is what changed.
type ChangeList struct {
	Changes []family.Change `json:"changes"`
}

func (b *Book) changes(ctx context.Context, in *struct {
	web.ID
	From int `query:"from" minimum:"1" default:"1"`
	To   int `query:"to" minimum:"1" default:"1"`
}) (*struct{ Body ChangeList }, error) {
	var list ChangeList
	err := b.In(ctx, func(tx pgx.Tx) error {
		if _, err := one(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		var versions [2]family.Version
		for i, version := range []int{in.From, in.To} {
			err := tx.QueryRow(ctx, `select formula, mixes from treat_versions where treat_id = $1 and version = $2`,
				in.ID.ID, version).Scan(&versions[i].Formula, &versions[i].Mixes)
			if err == pgx.ErrNoRows {
				return web.NotFound("version")
			}
			if err != nil {
				return err
			}
		}
		list.Changes = family.Changes(versions[0], versions[1], &known.Inputs, known.Packaging())
		return nil
	})
	return &struct{ Body ChangeList }{list}, err
}

// written is a treat that has a formula, and the kitchen.
func (b *Book) written(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Treat, *order.Inputs, error) {
	t, err := one(ctx, tx, id)
	if err != nil {
		return t, nil, err
	}
	if t.Formula == nil {
		return t, nil, &invalid.Error{Fields: []invalid.Field{{Path: "",
			Err: reason.Of("treats.no-formula-yet", reason.Name(t.Name))}}}
	}
	known, err := b.Known(ctx, tx)
	return t, known, err
}

func (b *Book) file(ctx context.Context, in *web.ID) (*web.File, error) {
	var t Treat
	var text []byte
	err := b.In(ctx, func(tx pgx.Tx) (err error) {
		var known *order.Inputs
		if t, known, err = b.written(ctx, tx, in.ID); err != nil {
			return err
		}
		supplies := map[ident.Supply]treat.FileSupply{}
		for id, s := range known.Supplies {
			supplies[id] = treat.FileSupply{ID: id, Name: s.Name, Unit: s.Unit}
		}
		text, err = json.MarshalIndent(treat.NewFile(t.Name, t.Formula, &known.Inputs, supplies), "", "  ")
		return err
	})
	return web.Download(filename(t.Name, "treat.json"), "application/json", append(text, '\n')), err
}

// filename of a treat: its letters and digits.
func filename(name, ending string) string {
	safe := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z' || r >= '0' && r <= '9':
			return r
		default:
			return '-'
		}
	}, strings.ToLower(name))
	return strings.Trim(strings.Join(strings.FieldsFunc(safe, func(r rune) bool { return r == '-' }), "-"), "-") + "." +
		ending
}

// Counted is a count in a query.
type Counted struct {
	Amount float64 `query:"amount" default:"12" doc:"How many"`
	As     string  `query:"as" default:"pieces" enum:"pieces,dozen,bags,rounds,sheets,pans,g,kg,oz,lb" doc:"What the amount counts"`
	Bag    float64 `query:"bag" doc:"g of a bag, where pieces are bagged by weight"`
}

func (c Counted) want(f *treat.Formula) batch.Want {
	w := batch.Want{Amount: c.Amount, As: c.As}
	if family.LawOf(f).Traits().Bagged && c.As == "pieces" {
		w.As = "bags"
	}
	if c.Bag > 0 {
		bag := measure.Grams(si.Grams(c.Bag))
		w.Bag = &bag
	}
	return w
}

// counting asks for a treat in a count.
type counting struct {
	web.ID
	Counted
}

// counted is a treat and its card for the count that is asked.
func (b *Book) counted(ctx context.Context, in *counting) (t Treat, card *batch.Card, known *treat.Inputs, err error) {
	err = b.In(ctx, func(tx pgx.Tx) error {
		var inputs *order.Inputs
		var err error
		if t, inputs, err = b.written(ctx, tx, in.ID.ID); err != nil {
			return err
		}
		known = &inputs.Inputs
		card, _, err = cardOf(t.Formula, in.want(t.Formula), known)
		return err
	})
	return t, card, known, err
}

func (b *Book) recipe(ctx context.Context, in *counting) (*web.File, error) {
	t, card, known, err := b.counted(ctx, in)
	if err != nil {
		return nil, err
	}
	file, err := linked(text.Of(ctx), t.Name, card, known)
	return web.Download(filename(t.Name, "recipe.json"), "application/ld+json", file), err
}

// linked writes a card as a schema.org Recipe: amounts as they are used, and for each bowl how much more must be in it
// to work from.
func linked(w *text.Words, name string, card *batch.Card, known *treat.Inputs) ([]byte, error) {
	r := recipe.Recipe{Name: name, Yield: w.Of("paper.yield", reason.Int(card.Good), card.Sold), Lines: []string{}}
	for _, n := range card.Needs {
		r.Lines = append(r.Lines, measure.Number(n.Used.Amount)+" "+string(n.Used.Unit)+" "+n.Name)
	}
	for _, m := range card.Mixes {
		parts := make([]string, len(m.Parts))
		for i, p := range m.Parts {
			parts[i] = w.Amount(p.Amount) + " " + p.Name
		}
		r.Instructions = append(r.Instructions, w.Of("paper.mix-parts", reason.Name(m.Name),
			reason.Name(strings.Join(parts, ", "))))
	}
	for _, p := range card.Pots {
		if p.Reclaimed.Amount > 0 {
			r.Instructions = append(r.Instructions, w.Say(reason.Of("treats.depth-of-the-bowl", reason.Name(p.Name),
				p.Melted, p.Reclaimed)))
		}
		r.Instructions = append(r.Instructions, p.Name+": "+w.Tell(p.Advice))
	}
	for _, s := range card.Steps {
		text := s.Name
		if len(s.Amounts) > 0 {
			text += ": " + strings.Join(w.All(s.Amounts), ", ")
		}
		if s.PassiveMin > 0 {
			text = paper.Plain(w.Of("paper.then-waits", reason.Name(text), reason.Minutes(s.PassiveMin),
				reason.Name(known.SpotName(s.Storage))))
		}
		r.Instructions = append(r.Instructions, strings.TrimSuffix(text, ".")+".")
	}
	return recipe.Write(r, "Chocolate", int(card.Hands+card.Wait))
}

// Opened is a treat that came with a file.
type Opened struct {
	Treat Treat       `json:"treat"`
	Added []string    `json:"added" doc:"Names of ingredients, mixes and packaging that were new to the kitchen"`
	Moved []string    `json:"moved" doc:"Steps that waited in a storage spot that this kitchen does not have: they wait on the counter now"`
	Mixes []uuid.UUID `json:"-"` // that were new to the kitchen
}

// TreatFile is the text of a file.
type TreatFile struct {
	Text string `json:"text" maxLength:"4000000" doc:"zestytin.treat/1"`
}

func (b *Book) open(ctx context.Context, in *struct {
	web.OnceKey
	Body TreatFile
}) (*struct{ Body Opened }, error) {
	file, err := family.ReadFile([]byte(in.Body.Text))
	if err != nil {
		var faults invalid.Faults
		faults.Under("text", err)
		return nil, faults.Err()
	}
	var opened Opened
	err = b.In(ctx, func(tx pgx.Tx) (err error) {
		opened, err = web.Once(ctx, tx, in.OnceKey, "import-treat", in.Body,
			func() (Opened, error) { return b.Take(ctx, tx, *file) })
		return err
	})
	return &struct{ Body Opened }{opened}, err
}

// Take a file into the kitchen: what is there already, by id or by name, stands for what came along.
func (b *Book) Take(ctx context.Context, tx pgx.Tx, file treat.File) (Opened, error) {
	opened, ids, who := Opened{Added: []string{}, Moved: []string{}}, map[string]string{}, web.ActorOf(ctx)
	note := func(old, name, id string, added bool) {
		ids[old] = id
		if added {
			opened.Added = append(opened.Added, name)
		}
	}
	for _, i := range file.Ingredients {
		id, added, err := b.AddIngredient(ctx, tx, i)
		if err != nil {
			return opened, err
		}
		note(string(i.ID), i.Name, id, added)
	}
	for _, s := range file.Supplies {
		id, added, err := b.AddSupply(ctx, tx, s)
		if err != nil {
			return opened, err
		}
		note(string(s.ID), s.Name, id, added)
	}
	own, err := Mixes(ctx, tx)
	if err != nil {
		return opened, err
	}
	fresh := map[ident.Ingredient]bool{}
	for _, m := range file.Mixes {
		id, added := mixID(own, m)
		fresh[id] = added
		note(string(m.ID), m.Name, string(id), added)
	}
	file = file.Renamed(ids)
	known, err := b.Known(ctx, tx)
	if err != nil {
		return opened, err
	}
	for _, m := range file.Mixes {
		if fresh[m.ID] {
			known.Mixes[m.ID] = m
		}
	}
	file.Formula.Steps = slices.Clone(file.Formula.Steps)
	for i := range file.Formula.Steps {
		if w := &file.Formula.Steps[i]; w.Spot != "" {
			if _, there := known.Spot(w.Spot); !there {
				opened.Moved = append(opened.Moved, w.Name)
				w.Spot = treat.Counter
			}
		}
	}
	var faults invalid.Faults
	for i, m := range file.Mixes {
		if !fresh[m.ID] {
			continue
		}
		// The kitchen's own ingredients stand for those of the file: what is not known of them is missed here.
		faults.Under(fmt.Sprintf("text.mixes[%d]", i), m.Check(&known.Inputs))
		if faults.Err() != nil {
			continue
		}
		if err := AddMix(ctx, tx, who.Kitchen, m); err != nil {
			return opened, err
		}
		if id, err := uuid.Parse(string(m.ID)); err == nil {
			opened.Mixes = append(opened.Mixes, id)
		}
	}
	if err := faults.Err(); err != nil {
		return opened, err
	}
	fields := Fields{Name: file.Name, Formula: file.Formula}
	if err := tx.QueryRow(ctx,
		`select free.name from (select $1::text || case n when 1 then '' else ' (' || n || ')' end as name, n
			from generate_series(1, 1000) n) free
		where not exists (select from treats t where t.name = free.name) order by n limit 1`, file.Name).Scan(&fields.Name); err != nil {
		return opened, err
	}
	if err := b.check(ctx, tx, &fields); err != nil {
		faults.Under("text", err)
		return opened, faults.Err()
	}
	if known, err = b.Known(ctx, tx); err != nil { // with what came along
		return opened, err
	}
	id := db.NewID()
	if err := Add(ctx, tx, who, b.Clock(), id, fields, &known.Inputs); err != nil {
		return opened, err
	}
	opened.Treat, err = one(ctx, tx, id)
	return opened, err
}

// mixID is the id of the kitchen's own mix that stands for one of a file, or one for a new mix.
func mixID(own map[ident.Ingredient]treat.Mix, m treat.Mix) (id ident.Ingredient, added bool) {
	if _, there := own[m.ID]; there {
		return m.ID, false
	}
	for id, o := range own {
		if strings.EqualFold(o.Name, m.Name) {
			return id, false
		}
	}
	if _, err := uuid.Parse(string(m.ID)); err != nil {
		return ident.Ingredient(db.NewID().String()), true
	}
	return m.ID, true
}
