package treats

import (
	"context"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
)

// MixFields is what a person sets of a mix.
type MixFields struct {
	Name    string          `json:"name"`
	Parts   []treat.MixPart `json:"parts"`
	Loss    float64         `json:"loss" doc:"Share of what goes in that boils off or stays in the pot"`
	Density *float64        `json:"density,omitempty" doc:"g per mL"`
	Method  string          `json:"method,omitempty"`
	Keeps   *int            `json:"keeps,omitempty" doc:"Hours from its making"`
	Spot    ident.Spot      `json:"place,omitempty" doc:"Where it is kept: id of a storage spot"`
}

func (f MixFields) mix(id ident.Ingredient) treat.Mix {
	return treat.Mix{ID: id, Name: f.Name, Parts: f.Parts, Loss: f.Loss, Density: f.Density, Method: f.Method,
		Keeps: f.Keeps, Spot: f.Spot}
}

// MixQuestion is a mix, and its id when it is one of the book.
type MixQuestion struct {
	ID  ident.Ingredient `json:"id,omitempty"`
	Out *float64         `json:"out,omitempty" minimum:"0" maximum:"1e6" doc:"g that came out: the answer says what was lost"`
	MixFields
}

// Weighed is what goes into a mix and comes of it, as the kitchen reads it.
type Weighed struct {
	treat.Weighed
	Yields measure.Shown `json:"yields"`
	Lost   *float64      `json:"lost,omitempty" doc:"Share that was lost, where it was said what came out"`
	GoesIn measure.Shown `json:"goesIn"`
	Of     []WeighedPart `json:"of" doc:"Each part, in order"`
}

// WeighedPart is one of the parts.
type WeighedPart struct {
	Mass  measure.Shown `json:"mass"`
	Share float64       `json:"share" doc:"Of all that goes in"`
}

func weighed(w treat.Weighed) Weighed {
	told := Weighed{Weighed: w, Yields: measure.ShowGrams(w.Yield), GoesIn: measure.ShowGrams(w.In),
		Of: make([]WeighedPart, len(w.Parts))}
	for i, g := range w.Parts {
		told.Of[i] = WeighedPart{Mass: measure.ShowGrams(g)}
		if w.In > 0 {
			told.Of[i].Share = g.Over(w.In)
		}
	}
	return told
}

// Mix of the book.
type Mix struct {
	ID       uuid.UUID `json:"id"`
	Revision int       `json:"revision"`
	MixFields
	Weighed   Weighed     `json:"weighed"`
	UsedIn    []treat.Use `json:"usedIn"`
	Allergens []string    `json:"allergens"`
}

// MixList is all mixes.
type MixList struct {
	Mixes []Mix `json:"mixes"`
}

type mixRow struct {
	treat.Mix
	revision int
}

func mixRows(ctx context.Context, tx pgx.Tx) ([]mixRow, error) {
	rows, err := tx.Query(ctx, `select id::text, revision, name, parts, loss, density, method, keeps, place from mixes
			order by lower(name)`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(row pgx.CollectableRow) (m mixRow, err error) {
		err = row.Scan(&m.ID, &m.revision, &m.Name, &m.Parts, &m.Loss, &m.Density, &m.Method, &m.Keeps, &m.Spot)
		return m, err
	})
}

// Mixes of the kitchen, for the rules, by id.
func Mixes(ctx context.Context, tx pgx.Tx) (map[ident.Ingredient]treat.Mix, error) {
	rows, err := mixRows(ctx, tx)
	known := make(map[ident.Ingredient]treat.Mix, len(rows))
	for _, m := range rows {
		known[m.ID] = m.Mix
	}
	return known, err
}

// Uses of ingredients or mixes: the treats that they stand in themselves, then the mixes; by id.
func Uses(ctx context.Context, tx pgx.Tx, ids ...ident.Ingredient) (map[ident.Ingredient][]treat.Use, error) {
	uses := make(map[ident.Ingredient][]treat.Use, len(ids))
	if len(ids) == 0 {
		return uses, nil
	}
	mixes, err := Mixes(ctx, tx)
	if err != nil {
		return nil, err
	}
	all, err := Load(ctx, tx, nil)
	if err != nil {
		return nil, err
	}
	for _, id := range ids {
		direct := []treat.Use{}
		for _, t := range all {
			if t.Formula != nil && slices.Contains(t.Formula.Items(), id) {
				direct = append(direct, treat.Use{Kind: "treat", ID: string(t.ID), Name: t.Name})
			}
		}
		slices.SortFunc(direct, func(a, b treat.Use) int {
			return strings.Compare(strings.ToLower(a.Name),
				strings.ToLower(b.Name))
		})
		uses[id] = append(direct, (&treat.Inputs{Mixes: mixes}).MixesWith(id)...)
	}
	return uses, nil
}

func (b *Book) mixes(ctx context.Context, _ *struct{}) (*struct{ Body MixList }, error) {
	list := MixList{Mixes: []Mix{}}
	err := b.In(ctx, func(tx pgx.Tx) error {
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		rows, err := mixRows(ctx, tx)
		for _, m := range rows {
			list.Mixes = append(list.Mixes, shownMix(m, &known.Inputs))
		}
		return err
	})
	return &struct{ Body MixList }{list}, err
}

func shownMix(m mixRow, k *treat.Inputs) Mix {
	shown := Mix{ID: uuid.MustParse(string(m.ID)), Revision: m.revision,
		MixFields: MixFields{m.Name, m.Parts, m.Loss, m.Density, m.Method, m.Keeps, m.Spot}, Weighed: weighed(m.Weigh(k)),
		UsedIn: []treat.Use{}, Allergens: []string{}}
	for _, id := range k.Uses(m.ID) {
		for _, a := range k.Ingredients[id].Allergens {
			if !slices.Contains(shown.Allergens, a) {
				shown.Allergens = append(shown.Allergens, a)
			}
		}
	}
	slices.Sort(shown.Allergens)
	return shown
}

// oneMix with what it is used in.
func (b *Book) oneMix(ctx context.Context, tx pgx.Tx, id ident.Ingredient) (Mix, error) {
	known, err := b.Known(ctx, tx)
	if err != nil {
		return Mix{}, err
	}
	rows, err := mixRows(ctx, tx)
	if err != nil {
		return Mix{}, err
	}
	for _, m := range rows {
		if m.ID == id {
			shown := shownMix(m, &known.Inputs)
			var uses map[ident.Ingredient][]treat.Use
			uses, err = Uses(ctx, tx, id)
			shown.UsedIn = uses[id]
			return shown, err
		}
	}
	return Mix{}, web.NotFound("mix")
}

func (b *Book) mix(ctx context.Context, in *web.ID) (*web.Tagged[Mix], error) {
	var m Mix
	err := b.In(ctx, func(tx pgx.Tx) (err error) {
		m, err = b.oneMix(ctx, tx,
			ident.Ingredient(in.ID.String()))
		return err
	})
	return web.TaggedBy(m.Revision, m), err
}

func (b *Book) createMix(ctx context.Context, in *struct {
	web.OnceKey
	Body MixFields
}) (*web.Tagged[Mix], error) {
	var m Mix
	err := b.In(ctx, func(tx pgx.Tx) (err error) {
		m, err = web.Once(ctx, tx, in.OnceKey, "create-mix", in.Body, func() (Mix, error) {
			known, err := b.Known(ctx, tx)
			if err != nil {
				return Mix{}, err
			}
			mix := in.Body.mix(ident.Ingredient(db.NewID().String()))
			if err := mix.Check(&known.Inputs); err != nil {
				return Mix{}, err
			}
			if err := AddMix(ctx, tx, web.ActorOf(ctx).Kitchen, mix); err != nil {
				return Mix{}, err
			}
			return b.oneMix(ctx, tx, mix.ID)
		})
		return err
	})
	return web.TaggedBy(m.Revision, m), err
}

// AddMix stores a new mix that has been checked.
func AddMix(ctx context.Context, tx pgx.Tx, kitchen uuid.UUID, m treat.Mix) error {
	_, err := tx.Exec(ctx, `insert into mixes (kitchen_id, id, name, parts, loss, density, method, keeps,
			place) values ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		kitchen, m.ID, m.Name, m.Parts, m.Loss, m.Density, m.Method, m.Keeps, m.Spot)
	return err
}

func (b *Book) putMix(ctx context.Context, in *struct {
	web.ID
	web.IfMatch
	Body MixFields
}) (*web.Tagged[Mix], error) {
	var m Mix
	id := in.ID.ID.String()
	err := b.In(ctx, func(tx pgx.Tx) error {
		// One change of the mixes at a time, so that two cannot close a circle together.
		if _, err := tx.Exec(ctx, `select from mixes order by id for no key update`); err != nil {
			return err
		}
		now, err := b.oneMix(ctx, tx, ident.Ingredient(id))
		if err != nil {
			return err
		}
		if err := in.Matches(now.Revision, func() (any, error) { return now, nil }); err != nil {
			return err
		}
		known, err := b.Known(ctx, tx)
		if err != nil {
			return err
		}
		mix := in.Body.mix(ident.Ingredient(id))
		if err := mix.Check(&known.Inputs); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update mixes set name = $2, parts = $3, loss = $4, density = $5, method = $6,
			keeps = $7, place = $8, revision = revision + 1 where id = $1`,
			id, mix.Name, mix.Parts, mix.Loss, mix.Density, mix.Method, mix.Keeps, mix.Spot); err != nil {
			return err
		}
		known.Mixes[ident.Ingredient(id)] = mix
		if err := b.renew(ctx, tx, ident.Ingredient(id), known); err != nil {
			return err
		}
		m, err = b.oneMix(ctx, tx, ident.Ingredient(id))
		return err
	})
	return web.TaggedBy(m.Revision, m), err
}

// renew writes a new version of every treat that the mix goes into, directly or by another mix: orders that pinned the
// old one keep the mix as it was. A treat that the change makes impossible refuses it.
func (b *Book) renew(ctx context.Context, tx pgx.Tx, id ident.Ingredient, known *order.Inputs) error {
	all, err := Load(ctx, tx, nil)
	if err != nil {
		return err
	}
	for _, t := range all {
		if t.Formula == nil || t.Mixes[id].ID == "" {
			continue
		}
		if err := possible(t.Name, family.Check(t.Formula, &known.Inputs, known.Packaging())); err != nil {
			return err
		}
		if err := write(ctx, tx, web.ActorOf(ctx), b.Clock(), uuid.MustParse(string(t.ID)), t.Formula,
			&known.Inputs); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update treats set revision = revision + 1 where id = $1`, t.ID); err != nil {
			return err
		}
	}
	return nil
}

// possible says of a change that what has the name could not be made any more, where err says so.
func possible(name string, err error) error {
	var broken *invalid.Error
	if !errors.As(err, &broken) {
		return err
	}
	return &invalid.Error{Fields: []invalid.Field{{Path: "",
		Err: reason.Of("treats.with-this-change-could-not", reason.Name(name), reason.Because(broken.Fields[0].Err))}}}
}

// Sound checks that every mix, and every formula that counts or that an order holds to, can still be made with what the
// kitchen knows: an ingredient cannot lose what they need of it. The error is an *invalid.Error that names what could
// not.
func Sound(ctx context.Context, tx pgx.Tx, known *order.Inputs) error {
	for _, m := range known.Mixes {
		if err := possible(m.Name, m.Check(&known.Inputs)); err != nil {
			return err
		}
	}
	rows, err := tx.Query(ctx, `select t.name, v.formula, v.mixes from treats t
			join treat_versions v on v.kitchen_id = t.kitchen_id and v.treat_id = t.id
		where v.version = t.version or exists (select from order_lines l where l.kitchen_id = v.kitchen_id
		and l.treat_id = v.treat_id and l.treat_version = v.version) order by lower(t.name)`)
	if err != nil {
		return err
	}
	versions, err := pgx.CollectRows(rows, func(row pgx.CollectableRow) (t order.Treat, err error) {
		err = row.Scan(&t.Name, &t.Formula, &t.Mixes)
		return t, err
	})
	for _, t := range versions {
		if err := possible(t.Name, family.Check(t.Formula, known.With(t.Mixes), known.Packaging())); err != nil {
			return err
		}
	}
	return err
}
