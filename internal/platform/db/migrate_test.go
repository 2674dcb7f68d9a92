package db_test

import (
	"context"
	"encoding/json"
	"os"
	"reflect"
	"strings"
	"testing"

	"github.com/jackc/pgx/v5"

	"zestytin/core/batch"
	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/order"
	"zestytin/core/plan"
	"zestytin/core/si"
	"zestytin/core/treat"
	"zestytin/internal/platform/db"
	"zestytin/internal/platform/pglocal/pgtest"
)

func TestMain(m *testing.M) { os.Exit(pgtest.Run(m, nil)) }

// What stood in a book of the first shape, as it was stored.
var firstShape = map[string]string{
	"bomb": `{"family":"bomb","loss":0.06,"keeps":336,"shell":{"across":{"amount":2.5,"unit":"in"},"wall":{"amount":3.5,"unit":"mm"},"cavities":6,"moulds":4,"drain":true},
		"coatings":[{"role":"shell","ingredient":"DARK","pool":{"amount":200,"unit":"g"}}],"portions":[{"ingredient":"MALT","each":{"amount":1,"unit":"tbsp"}}],"packs":[],
		"steps":[{"id":"shells","name":"Coat","perBatch":0,"perRound":10,"perPiece":0,"wait":10,"place":"fridge","pot":"shell","rounds":true,"ages":true},{"id":"fill","name":"Fill","perBatch":5,"perRound":0,"perPiece":0.75,"wait":10,"place":"counter","fills":true}]}`,
	"fruit": `{"family":"fruit","loss":0.05,"keeps":24,"fruit":{"ingredient":"BERRY","share":0.8},"coatings":[{"role":"coat","ingredient":"DARK","each":{"amount":8,"unit":"g"},"pool":{"amount":250,"unit":"g"}}],
		"portions":[],"packs":[],"steps":[{"id":"dip","name":"Dip","perBatch":0,"perRound":0,"perPiece":0.5,"wait":30,"place":"counter","pot":"coat","ages":true}]}`,
	"bark": `{"family":"bark","loss":0.03,"keeps":720,"sheet":{"length":{"amount":13,"unit":"in"},"width":{"amount":9.5,"unit":"in"},"depth":{"amount":0.125,"unit":"in"},"bag":{"amount":75,"unit":"g"},"whole":false},
		"coatings":[{"role":"base","ingredient":"DARK","pool":{"amount":60,"unit":"g"}}],"portions":[{"ingredient":"MALT","each":{"amount":80,"unit":"g"}}],"packs":[],"steps":[{"id":"spread","name":"Spread","perBatch":0,"perRound":8,"perPiece":0,"wait":40,"place":"fridge","pot":"base","fills":true}]}`,
}

// A database of before the treat book was whole comes along: its formulas take the new shape, pass their check and give
// the same card, its chocolates know what they are; and all that as a plain owner of the tables, whom row-level
// security binds.
func TestFormulasOfTheFirstShapeComeAlong(t *testing.T) {
	ctx := context.Background()
	owner := pgtest.Empty(t)
	if err := db.MigrateTo(ctx, owner, 1); err != nil {
		t.Fatal(err)
	}
	conn, err := pgx.Connect(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	kitchen, person := db.NewID(), db.NewID()
	ids := map[string]string{"DARK": db.NewID().String(), "MALT": db.NewID().String(), "BERRY": db.NewID().String()}
	do := func(statement string, args ...any) {
		t.Helper()
		if _, err := conn.Exec(ctx, statement, args...); err != nil {
			t.Fatal(err)
		}
	}
	do(`select set_config('zt.kitchen', $1, false)`, kitchen.String())
	do(`insert into kitchens (id, name, time_zone, currency, created_at) values ($1, 'Old', 'UTC', 'USD', now())`,
		kitchen)
	do(`insert into people (id, mail, name, password_hash, created_at) values ($1, 'a@old.example', 'A', '', now())`,
		person)
	do(`insert into ingredients (kitchen_id, id, name, unit, kind, colour, tint)
			values ($1, $2, 'Dark', 'g', 'real', 'dark', '#452818')`, kitchen, ids["DARK"])
	do(`insert into ingredients (kitchen_id, id, name, unit, density) values ($1, $2, 'Malt', 'g', 0.75)`, kitchen,
		ids["MALT"])
	do(`insert into ingredients (kitchen_id, id, name, unit, grams_each) values ($1, $2, 'Berries', 'g', 18)`, kitchen,
		ids["BERRY"])
	treats := map[string]string{}
	for family, formula := range firstShape {
		for name, id := range ids {
			formula = strings.ReplaceAll(formula, name, id)
		}
		treats[family] = db.NewID().String()
		do(`insert into treats (kitchen_id, id, name, version) values ($1, $2, $3, 1)`, kitchen, treats[family], family)
		do(`insert into treat_versions (kitchen_id, treat_id, version, formula, created_at, created_by)
			values ($1, $2, 1, $3, now(), $4)`, kitchen, treats[family], formula, person)
	}
	if err := db.Migrate(ctx, owner); err != nil {
		t.Fatal(err)
	}

	grams, each, density := measure.Gram, si.Grams(18), 0.75
	k := &treat.Inputs{Confidence: 0.95, AirTemp: 21, Boiling: 100, Mixes: map[ident.Ingredient]treat.Mix{},
		Ingredients: map[ident.Ingredient]food.Ingredient{}}
	for _, f := range []food.Ingredient{
		{ID: ident.Ingredient(ids["DARK"]), Fields: food.Fields{Name: "Dark", Kind: food.KindChocolate, Unit: grams,
			UsableShare: 1, Chocolate: &food.Chocolate{Kind: chocolate.Real, Colour: chocolate.Dark}}},
		{ID: ident.Ingredient(ids["MALT"]), Fields: food.Fields{Name: "Malt", Kind: food.KindOther, Unit: grams,
			UsableShare: 1, Density: &density}},
		{ID: ident.Ingredient(ids["BERRY"]), Fields: food.Fields{Name: "Berries", Kind: food.KindFruit, Unit: grams,
			UsableShare: 1, GramsEach: &each}},
	} {
		f.Substance = f.Weights()
		k.Ingredients[f.ID] = f
	}
	for name, id := range treats {
		var formula treat.Formula
		var look *food.Chocolate
		if err := conn.QueryRow(ctx, `select formula, look from treat_versions where treat_id = $1`, id).Scan(&formula,
			&look); err != nil {
			t.Fatal(err)
		}
		if err := family.Check(&formula, k, nil); err != nil {
			text, _ := json.Marshal(formula)
			t.Errorf("%s: %v\n%s", name, err, text)
			continue
		}
		if look == nil || look.Colour != chocolate.Dark || look.Tint != "#452818" {
			t.Errorf("%s is drawn in %+v", name, look)
		}
		card, err := batch.Compute(&formula, 40, k)
		if err != nil {
			t.Fatal(err)
		}
		// The numbers of the first shape's own tests: 46 started in two rounds of 24; 18 of 14 (here 50 of 40) bought;
		// sheets in part.
		switch name {
		case "bomb":
			if card.Start != 46 || card.Rounds.Count != 4 || formula.Choices["coat"] != "drain" ||
				card.Pots[0].Drained.Amount == 0 || len(card.Steps[0].Takes) != 1 || len(card.Steps[4].Amounts) != 1 {
				t.Errorf("bomb: start %d, %+v, drained %v, %+v", card.Start, card.Rounds, card.Pots[0].Drained,
					card.Steps[4])
			}
		case "fruit":
			if formula.Centre == nil || formula.Centre.Share != 0.8 || card.Start != 45 {
				t.Errorf("fruit: %+v, start %d", formula.Centre, card.Start)
			}
		case "bark":
			if formula.Choices["last"] != "part" || len(card.Steps[0].Amounts) != 2 {
				t.Errorf("bark: %v, %v", formula.Choices, card.Steps[0].Amounts)
			}
		}
	}
	var kind string
	if err := conn.QueryRow(ctx, `select kind from ingredients where id = $1`, ids["DARK"]).Scan(&kind); err != nil ||
		kind != "chocolate" {
		t.Errorf("dark is of kind %q (%v)", kind, err)
	}
	// Row-level security binds the owner again.
	do(`select set_config('zt.kitchen', '', false)`)
	var seen int
	if err := conn.QueryRow(ctx, `select (select count(*) from ingredients) + (select count(*)
			from treat_versions) + (select count(*) from mixes)`).Scan(&seen); err != nil || seen != 0 {
		t.Errorf("outside of a kitchen the owner sees %d rows (%v)", seen, err)
	}
	// Migrated again nothing happens.
	if err := db.Migrate(ctx, owner); err != nil {
		t.Error(err)
	}
}

// A database of before there were lots comes along: what stands on the shelf of packaging is a lot, its moves are kept,
// what remains is what came and all of them; the price of an order that was quoted is agreed on; what batches take is
// known.
func TestStockAndPricesComeAlong(t *testing.T) {
	ctx := context.Background()
	owner := pgtest.Empty(t)
	if err := db.MigrateTo(ctx, owner, 2); err != nil {
		t.Fatal(err)
	}
	conn, err := pgx.Connect(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	kitchen, person, boxes, bags, dark, quoted, asked := db.NewID(), db.NewID(), db.NewID(), db.NewID(), db.NewID(),
		db.NewID(), db.NewID()
	do := func(statement string, args ...any) {
		t.Helper()
		if _, err := conn.Exec(ctx, statement, args...); err != nil {
			t.Fatal(err)
		}
	}
	do(`select set_config('zt.kitchen', $1, false)`, kitchen.String())
	do(`insert into kitchens (id, name, time_zone, currency, created_at) values ($1, 'Old', 'UTC', 'USD', now())`,
		kitchen)
	do(`insert into people (id, mail, name, password_hash, created_at) values ($1, 'a@old.example', 'A', '', now())`,
		person)
	do(`insert into ingredients (kitchen_id, id, name, unit, kind, chocolate_kind, colour)
			values ($1, $2, 'Dark', 'g', 'chocolate', 'real', 'dark')`, kitchen, dark)
	do(`insert into supplies (kitchen_id, id, name, unit, stock, paid, paid_for)
			values ($1, $2, 'Boxes', 'each', 17, 18.50, 25), ($1, $3, 'Bags', 'each', 0, 0, 1)`, kitchen, boxes, bags)
	for id, state := range map[any]string{quoted: "promised", asked: "enquiry"} {
		do(`insert into orders (kitchen_id, id, number, state, customer, way, from_at, to_at, asked, created_at,
			updated_at) values ($1, $2, $3, $4, 'Ada', 'pickup', now(), now() + interval '1 hour', 42.50, now(), now())`, kitchen, id, len(state), state)
	}
	// 20 boxes, of which an order took 3; the shelf had been counted down from 22.
	do(`insert into supply_moves (kitchen_id, id, supply_id, change, reason, at, person_id)
			values ($1, $2, $3, -2, 'counted', '2026-08-01', $4)`, kitchen, db.NewID(), boxes, person)
	do(`insert into supply_moves (kitchen_id, id, supply_id, order_id, change, reason, at, person_id)
			values ($1, $2, $3, $4, -3, 'packed', '2026-08-02', $5)`, kitchen, db.NewID(), boxes, quoted, person)
	do(`insert into treats (kitchen_id, id, name, version) values ($1, $2, 'Bark', 1)`, kitchen, person)
	do(`insert into treat_versions (kitchen_id, treat_id, version, formula, created_at, created_by)
			values ($1, $2, 1, '{}', now(), $2)`, kitchen, person)
	do(`insert into order_lines (kitchen_id, order_id, position, treat_id, treat_version, count)
			values ($1, $2, 0, $3, 1, 4)`, kitchen, quoted, person)
	do(`insert into batches (kitchen_id, id, order_id, position, day, sheet) values ($1, $2, $3, 0, '2026-09-09', $4)`,
		kitchen, db.NewID(), quoted,
		`{"card": {"needs": [{"ingredient": "`+dark.String()+
			`", "used": {"amount": 300, "unit": "g"}, "house": {"amount": 450, "unit": "g"}}],
			"pots": [{"ingredient": "`+dark.String()+`", "method": "seed", "used": {"amount": 204, "unit": "g"}, "melted": {"amount": 354, "unit": "g"}}], "packs": [{"supply": "`+boxes.String()+`", "amount": {"amount": 2, "unit": "each"}}]}}`)
	if err := db.Migrate(ctx, owner); err != nil {
		t.Fatal(err)
	}
	var came, remaining, moved float64
	var lots, moves int
	if err := conn.QueryRow(ctx, `select count(distinct l.id), sum(distinct l.amount), sum(distinct l.remaining),
			sum(m.change), count(m.id) from lots l join stock_moves m on m.lot_id = l.id`).Scan(&lots, &came, &remaining, &moved, &moves); err != nil {
		t.Fatal(err)
	}
	if lots != 1 || came != 22 || remaining != 17 || moved != -5 || moves != 2 {
		t.Errorf("%d lots of %v, %v remain, %d moves come to %v", lots, came, remaining, moves, moved)
	}
	var agreed, by, value string
	if err := conn.QueryRow(ctx, `select agreed::text, price_by, price_value::text from orders where id = $1`,
		quoted).Scan(&agreed, &by, &value); err != nil || agreed != "42.50" || by != "price" || value != "42.50" {
		t.Errorf("agreed on %s, by %s %s (%v)", agreed, by, value, err)
	}
	var open bool
	if err := conn.QueryRow(ctx, `select agreed is null from orders where id = $1`, asked).Scan(&open); err != nil ||
		!open {
		t.Errorf("an enquiry has an agreed price (%v)", err)
	}
	var used, drawn, packed float64
	if err := conn.QueryRow(ctx, `select (select used from batch_needs where item_id = $1), (select drawn
			from batch_needs where item_id = $1), (select used from batch_needs where item_id = $2 and packaging)`, dark, boxes).Scan(&used, &drawn, &packed); err != nil || used != 300 || drawn != 204 || packed != 2 {
		t.Errorf("the batch takes %v, %v of them out of a bowl, and %v boxes (%v)", used, drawn, packed, err)
	}
}

// A batch that was promised before there was a planner comes along with its steps in the shape that it reads, and a
// place to stand.
func TestPromisedWorkComesAlong(t *testing.T) {
	ctx := context.Background()
	owner := pgtest.Empty(t)
	if err := db.MigrateTo(ctx, owner, 4); err != nil {
		t.Fatal(err)
	}
	conn, err := pgx.Connect(ctx, owner)
	if err != nil {
		t.Fatal(err)
	}
	defer conn.Close(ctx)
	do := func(statement string, args ...any) {
		t.Helper()
		if _, err := conn.Exec(ctx, statement, args...); err != nil {
			t.Fatal(err)
		}
	}
	kitchen, person, id, batch := db.NewID(), db.NewID(), db.NewID(), db.NewID()
	do(`select set_config('zt.kitchen', $1, false)`, kitchen.String())
	do(`insert into kitchens (id, name, time_zone, currency, created_at) values ($1, 'Old', 'UTC', 'USD', now())`,
		kitchen)
	do(`insert into people (id, mail, name, password_hash, created_at) values ($1, 'a@old.example', 'A', '', now())`,
		person)
	do(`insert into orders (kitchen_id, id, number, state, customer, way, from_at, to_at, created_at, updated_at)
			values ($1, $2, 1, 'promised', 'Ada', 'pickup', now(), now() + interval '1 hour', now(), now())`, kitchen, id)
	do(`insert into treats (kitchen_id, id, name, version) values ($1, $2, 'Bark', 1)`, kitchen, person)
	do(`insert into treat_versions (kitchen_id, treat_id, version, formula, created_at, created_by)
			values ($1, $2, 1, '{}', now(), $2)`, kitchen, person)
	do(`insert into order_lines (kitchen_id, order_id, position, treat_id, treat_version, count)
			values ($1, $2, 0, $3, 1, 4)`, kitchen, id, person)
	do(`insert into batches (kitchen_id, id, order_id, position, day, name, count, family, sheet)
			values ($1, $2, $3, 0, '2026-09-09', 'Bark', 4, 'bark', $4)`, kitchen, batch, id,
		`{"card": {"keeps": 720, "freshFrom": "spread", "allergens": ["milk"], "needs": [], "packs": [],
			"pots": [{"ingredient": "dark", "method": "seed", "used": {"amount": 510, "unit": "g"}, "melted": {"amount": 760, "unit": "g"}, "chocolate": {"kind": "real", "colour": "dark"}, "tempering": {"bands": {"work": {"from": 31, "to": 32}}}}], "steps": [
			{"id": "weigh", "hands": 4, "wait": 0, "name": "Weigh", "amounts": ["1 g"], "inAll": ["2 g"], "role": "base"},
			{"id": "spread", "hands": 12, "wait": 40, "place": "fridge", "trays": 2, "pot": "dark", "name": "Spread", "amounts": [], "after": [{"step": "weigh", "min": 0, "max": 60}], "takes": [{"tool": "t", "count": 1, "until": "spread"}]}]}}`)
	nuts := db.NewID()
	do(`insert into batch_needs (kitchen_id, batch_id, item_id, packaging, used) values ($1, $2, $3, false, 120)`,
		kitchen, batch, nuts)
	if err := db.Migrate(ctx, owner); err != nil {
		t.Fatal(err)
	}
	var work plan.Batch
	var short *string
	if err := conn.QueryRow(ctx, `select work, short::text from batches where id = $1`, batch).Scan(&work,
		&short); err != nil {
		t.Fatal(err)
	}
	want := plan.Batch{ShelfLifeMin: new(si.Minutes(720 * 60)), FreshFrom: "spread", Contains: []string{"milk"},
		Steps: []plan.Operation{
			{ID: "weigh", HandsOnMin: 4},
			{ID: "spread", HandsOnMin: 12, PassiveMin: 40, Storage: "fridge", Trays: 2,
				Pots:  []plan.Use{{Pot: "dark seed 32 microwave", Changeover: 25, Holds: 60}},
				After: []plan.After{{Step: "weigh", Max: new(si.Minutes(60))}},
				Takes: []plan.Take{{Tool: "t", Count: 1, Until: "spread"}}},
		}}
	if !reflect.DeepEqual(work, want) || short != nil {
		t.Errorf("%+v, want %+v", work, want)
	}
	// Of an order that was promised alone the batch is its own, with what it takes.
	var shares order.Shares
	var used float64
	if err := conn.QueryRow(ctx, `select batch_for(kitchen_id, id), (select used from batch_needs where batch_id = b.id
			and order_id = $2 and item_id = $3) from batches b where id = $1`, batch, id, nuts).Scan(&shares, &used); err != nil {
		t.Fatal(err)
	}
	if len(shares) != 1 || shares[0].Order != ident.Order(id.String()) || shares[0].Count != 4 ||
		shares[0].Customer != "Ada" || shares[0].State != order.Promised || used != 120 {
		t.Errorf("%+v, of nuts %v", shares, used)
	}
}
