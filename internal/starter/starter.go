// Package starter sets a kitchen out on its first evening, and takes that back. What it sets out is core/start's; what
// the kitchen has is asked of the other features.
package starter

import (
	"context"
	"errors"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/order"
	"zestytin/core/reason"
	"zestytin/core/start"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/web"
	"zestytin/internal/text"
)

// Deps are what the starter asks of other features.
type Deps struct {
	Inputs        func(context.Context, pgx.Tx) (*order.Inputs, error)
	AddIngredient func(context.Context, pgx.Tx, start.Ingredient) (id string, added bool, err error)
	AddSupply     func(context.Context, pgx.Tx, start.Supply) (id string, added bool, err error)
	AddTreat      func(context.Context, pgx.Tx, treat.File) (id uuid.UUID, mixes []uuid.UUID, err error)
	// Remove what is as it came; they return the ids of what stays. Held are those of ingredients and packaging that
	// something is still made with.
	RemoveTreats, RemoveMixes, RemoveGoods, Held func(context.Context, pgx.Tx, []uuid.UUID) ([]uuid.UUID, error)
	// Settings, hours and space of the kitchen. Set returns how they stand then, Restore puts them back where they
	// still stand so.
	Present func(context.Context, pgx.Tx) (Ways, error)
	Set     func(context.Context, pgx.Tx, Ways) (Stand, error)
	Stand   func(context.Context, pgx.Tx) (Stand, error)
	Has     func(context.Context, pgx.Tx) (Has, error)
	// Names of treats, mixes, ingredients and packaging.
	Names func(context.Context, pgx.Tx, []uuid.UUID) ([]string, error)
}

// Has is what a kitchen has already.
type Has struct {
	Treat, Hours, Address, Promised bool
	Guesses                         int // prices that nobody has paid
}

// Ways are how a kitchen works: what it reads, what an hour pays, when it works, how many trays it has where.
type Ways struct {
	Country  string             `json:"country" doc:"ISO 3166"`
	TimeZone string             `json:"timeZone"`
	Currency string             `json:"currency" doc:"ISO 4217"`
	Units    string             `json:"units" enum:"us,metric"`
	Clock    int                `json:"clock" enum:"12,24"`
	Dates    string             `json:"dates" enum:"dmy,mdy,ymd"`
	Degrees  string             `json:"degrees" enum:"C,F"`
	Law      string             `json:"law" enum:"us,eu"`
	Cup      string             `json:"cup" enum:"us,metric,imperial"`
	Hourly   string             `json:"hourly" doc:"What an hour should pay, decimal"`
	Overhead string             `json:"overhead" doc:"Heat, light and wear for an hour, decimal"`
	Week     [][]Span           `json:"week" minItems:"7" maxItems:"7" doc:"Seven days, Sunday first"`
	Trays    map[ident.Spot]int `json:"trays" doc:"By storage spot"`
}

// Span is a time of a day in which people work.
type Span struct {
	From  string `json:"from" example:"18:00" doc:"Wall clock, HH:MM"`
	To    string `json:"to" example:"21:30" doc:"Wall clock, HH:MM; 24:00 is the day's end"`
	Hands int    `json:"hands" doc:"People, 1 to 9"`
}

// Stand tells whether settings, hours and space have been changed since: their revisions.
type Stand struct{ Settings, Hours, Space int }

// Starter is the feature.
type Starter struct {
	web.Base
	Deps
}

// Register adds the operations.
func Register(h web.Base, needs Deps) {
	s := &Starter{h, needs}
	op := func(id, method, path, summary string) huma.Operation {
		return huma.Operation{OperationID: id, Method: method, Path: "/api/v1/" + path, Summary: summary,
			Tags: []string{"Starter"}}
	}
	web.Register(h, op("get-starter", "GET", "starter",
		"What a kitchen that begins is asked, what is proposed for it, and what is still missing"), s.get)
	preview := op("preview-starter", "POST", "calculators/starter",
		"What the answers would set out, with prices; nothing is saved")
	preview.Tags = []string{"Calculators"}
	web.Register(h, preview, s.preview)
	made := op("run-starter", "POST", "starter", "Set the kitchen out: ingredients, packaging, treats, hours, prices")
	made.DefaultStatus = 201
	web.Register(h, made, s.run)
	one := op("add-starter-treat", "POST", "starter/treats", "Add one treat of a family, with all that it needs")
	one.DefaultStatus = 201
	web.Register(h, one, s.addTreat)
	web.Register(h, op("undo-starter", "DELETE", "starter",
		"Take back what was set out and is not used; what is used stays, and is named"), s.undo)
}

// Answers are what the seller says.
type Answers struct {
	Ways
	Sells map[treat.Family]map[string]string `json:"sells" doc:"For each family that is sold, what is picked on its tile"`
	Paid  map[string]start.Bought            `json:"paid" doc:"What was really paid, by name"`
}

func (a *Answers) core() start.Answers {
	return start.Answers{Country: a.Country, Currency: a.Currency, Units: a.Units, Hourly: a.Hourly, Sells: a.Sells,
		Paid: a.Paid}
}

// Tile is what is asked about a family.
type Tile struct {
	Family treat.Family `json:"family"`
	Name   string       `json:"name"`
	Picks  []Pick       `json:"picks"`
}

// Pick is a choice of a tile; the first option is proposed.
type Pick struct {
	ID      string   `json:"id"`
	Name    string   `json:"name"`
	Options []Option `json:"options"`
}

// Option of a pick.
type Option struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// Missing is something that a kitchen still lacks before its first promise.
type Missing struct {
	ID   string        `json:"id" enum:"treat,hours,prices,address"`
	Text reason.Reason `json:"text"`
}

// Outset is what a kitchen that begins is asked, and how it stands.
type Outset struct {
	Tiles     []Tile          `json:"tiles"`
	Countries []start.Country `json:"countries" doc:"What each proposes"`
	Ways      Ways            `json:"ways" doc:"As the kitchen is now; hours and trays as they are proposed where there are none"`
	Run       bool            `json:"run" doc:"It has been set out, and that can be taken back"`
	Promised  bool            `json:"promised" doc:"An order has been promised: nothing of this is asked any more"`
	Missing   []Missing       `json:"missing"`
}

func tiles(w *text.Words) []Tile {
	list := []Tile{}
	for _, of := range family.All() {
		law, _ := family.Of(of)
		t := Tile{Family: of, Name: w.Several(reason.Several(family.Term(of))), Picks: []Pick{}}
		for _, p := range law.Tile() {
			pick := Pick{ID: p.ID, Name: w.Of(family.TileCode(p.ID))}
			for _, o := range p.Options {
				pick.Options = append(pick.Options, Option{o, w.Of(family.TileCode(p.ID) + "." + o)})
			}
			t.Picks = append(t.Picks, pick)
		}
		list = append(list, t)
	}
	return list
}

// usual hours of a seller with a day job (common practice), and trays of a household's fridge and freezer.
func usual(w *Ways) {
	if slices.IndexFunc(w.Week, func(d []Span) bool { return len(d) > 0 }) >= 0 {
		return
	}
	evening := []Span{{From: "18:00", To: "21:00", Hands: 1}}
	w.Week = [][]Span{{}, {}, evening, evening, evening, evening, {{From: "09:00", To: "12:00", Hands: 1}}}
	w.Trays = map[ident.Spot]int{treat.Fridge: 3, treat.Freezer: 1, treat.Counter: 6}
}

func (s *Starter) get(ctx context.Context, _ *struct{}) (*struct{ Body Outset }, error) {
	o := Outset{Tiles: tiles(text.Of(ctx)), Countries: start.Countries(), Missing: []Missing{}}
	err := s.In(ctx, func(tx pgx.Tx) (err error) {
		if o.Ways, err = s.Present(ctx, tx); err != nil {
			return err
		}
		has, err := s.Has(ctx, tx)
		if err != nil {
			return err
		}
		o.Promised = has.Promised
		if err := tx.QueryRow(ctx, `select exists (select from starts)`).Scan(&o.Run); err != nil {
			return err
		}
		miss := func(id string, is bool, why reason.Reason) {
			if is {
				o.Missing = append(o.Missing, Missing{id, why})
			}
		}
		miss("treat", !has.Treat, reason.Of("start.missing-treat"))
		miss("hours", !has.Hours, reason.Of("start.missing-hours"))
		miss("prices", has.Guesses > 0, reason.Of("start.missing-prices", reason.Int(has.Guesses)))
		miss("address", !has.Address, reason.Of("start.missing-address"))
		return nil
	})
	usual(&o.Ways)
	return &struct{ Body Outset }{o}, err
}

// made is what a run of the starter made.
type made struct {
	Treats, Mixes, Goods []uuid.UUID
	Stand                Stand
}

// Set is what was set out.
type Set struct {
	Treats []uuid.UUID `json:"treats"`
}

func (s *Starter) run(ctx context.Context, in *struct {
	web.OnceKey
	Body Answers
}) (*struct{ Body Set }, error) {
	w := text.Of(ctx)
	set, err := start.SetOut(in.Body.core(), w.Step)
	if err != nil {
		return nil, err
	}
	var done Set
	err = s.In(ctx, func(tx pgx.Tx) (err error) {
		done, err = web.Once(ctx, tx, in.OnceKey, "run-starter", in.Body, func() (Set, error) {
			return s.store(ctx, tx, in.Body.Ways, set, w)
		})
		return err
	})
	return &struct{ Body Set }{done}, err
}

func (s *Starter) store(ctx context.Context, tx pgx.Tx, ways Ways, set *start.Set, w *text.Words) (Set, error) {
	if err := db.LockKitchen(ctx, tx); err != nil {
		return Set{}, err
	}
	before, err := s.Present(ctx, tx)
	if err != nil {
		return Set{}, err
	}
	var m made
	if m.Stand, err = s.Set(ctx, tx, ways); err != nil {
		return Set{}, err
	}
	if err := s.goods(ctx, tx, &m, set, w); err != nil {
		return Set{}, err
	}
	done := Set{m.Treats}
	// Run again, all of it is still taken back in one go, to what stood before the first time.
	var earlier made
	switch err := tx.QueryRow(ctx, `select made, before from starts`).Scan(&earlier, &before); {
	case err == nil:
		m.Treats, m.Mixes, m.Goods = slices.Concat(earlier.Treats, m.Treats), slices.Concat(earlier.Mixes, m.Mixes),
			slices.Concat(earlier.Goods, m.Goods)
	case !errors.Is(err, pgx.ErrNoRows):
		return Set{}, err
	}
	_, err = tx.Exec(ctx, `insert into starts (kitchen_id, at, made, before) values ($1, $2, $3, $4)
			on conflict (kitchen_id) do update set at = excluded.at, made = excluded.made, before = excluded.before`,
		web.ActorOf(ctx).Kitchen, s.Clock(), m, before)
	return done, err
}

// goods are ingredients, packaging and treats; what is new to the kitchen is added to what was made.
func (s *Starter) goods(ctx context.Context, tx pgx.Tx, m *made, set *start.Set, w *text.Words) error {
	m.Treats = []uuid.UUID{}
	add := func(id string, added bool, err error) error {
		if own, parsed := uuid.Parse(id); err == nil && parsed == nil && added {
			m.Goods = append(m.Goods, own)
		}
		return err
	}
	for _, i := range set.Ingredients {
		if err := add(s.AddIngredient(ctx, tx, i)); err != nil {
			return err
		}
	}
	for _, x := range set.Supplies {
		if err := add(s.AddSupply(ctx, tx, x)); err != nil {
			return err
		}
	}
	for _, file := range set.Files(w.Say) {
		id, mixes, err := s.AddTreat(ctx, tx, file)
		if err != nil {
			return err
		}
		m.Mixes, m.Treats = append(m.Mixes, mixes...), append(m.Treats, id)
	}
	return nil
}

// OneTreat is a treat that is missed somewhere: of a family, as its tile is picked.
type OneTreat struct {
	Family treat.Family      `json:"family"`
	Picks  map[string]string `json:"picks"`
}

// addTreat makes one treat with all that it needs, where it is missed; hours and prices stay as they are.
func (s *Starter) addTreat(ctx context.Context, in *struct {
	web.OnceKey
	Body OneTreat
}) (*struct{ Body Set }, error) {
	var done Set
	w := text.Of(ctx)
	err := s.In(ctx, func(tx pgx.Tx) (err error) {
		done, err = web.Once(ctx, tx, in.OnceKey, "add-starter-treat", in.Body, func() (Set, error) {
			if err := db.LockKitchen(ctx, tx); err != nil {
				return Set{}, err
			}
			now, err := s.Present(ctx, tx)
			if err != nil {
				return Set{}, err
			}
			set, err := start.SetOut(start.Answers{Country: now.Country, Currency: now.Currency, Units: now.Units,
				Sells: map[treat.Family]map[string]string{in.Body.Family: in.Body.Picks}}, w.Step)
			if err != nil {
				return Set{}, err
			}
			var m made
			err = s.goods(ctx, tx, &m, set, w)
			return Set{m.Treats}, err
		})
		return err
	})
	return &struct{ Body Set }{done}, err
}

// Undone is what taking it back came to.
type Undone struct {
	Kept []string `json:"kept" doc:"What is used or was changed since, and stays"`
}

func (s *Starter) undo(ctx context.Context, _ *struct{}) (*struct{ Body Undone }, error) {
	done := Undone{Kept: []string{}}
	err := s.In(ctx, func(tx pgx.Tx) error {
		if err := db.LockKitchen(ctx, tx); err != nil {
			return err
		}
		var m made
		var before Ways
		var at time.Time
		err := tx.QueryRow(ctx, `select at, made, before from starts`).Scan(&at, &m, &before)
		if errors.Is(err, pgx.ErrNoRows) {
			return web.Reject(409, "start.nothing-to-undo")
		}
		if err != nil {
			return err
		}
		left, err := s.takeBack(ctx, tx, m, before)
		if err != nil {
			return err
		}
		if len(left.Treats)+len(left.Mixes)+len(left.Goods) == 0 {
			_, err = tx.Exec(ctx, `delete from starts`)
			return err
		}
		if done.Kept, err = s.Names(ctx, tx, slices.Concat(left.Treats, left.Mixes, left.Goods)); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `update starts set made = $1`, left)
		return err
	})
	return &struct{ Body Undone }{done}, err
}

// takeBack what was made, and return what of it stays. Settings, hours and space go back where nothing stays that needs
// them and nobody has changed them since.
func (s *Starter) takeBack(ctx context.Context, tx pgx.Tx, m made, before Ways) (left made, err error) {
	left.Stand = m.Stand
	if left.Treats, err = s.RemoveTreats(ctx, tx, m.Treats); err != nil {
		return left, err
	}
	if left.Mixes, err = s.RemoveMixes(ctx, tx, m.Mixes); err != nil {
		return left, err
	}
	held, err := s.Held(ctx, tx, m.Goods)
	if err != nil {
		return left, err
	}
	free := slices.DeleteFunc(slices.Clone(m.Goods), func(id uuid.UUID) bool { return slices.Contains(held, id) })
	stay, err := s.RemoveGoods(ctx, tx, free)
	if err != nil {
		return left, err
	}
	left.Goods = append(held, stay...)
	if len(left.Treats) > 0 {
		return left, nil
	}
	now, err := s.Stand(ctx, tx)
	if err != nil || now != m.Stand {
		return left, err
	}
	_, err = s.Set(ctx, tx, before)
	return left, err
}
