package order

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/shopspring/decimal"

	"zestytin/core/box"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/larder"
	"zestytin/core/price"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// demoKitchen is a kitchen with the treats of testdata/demo.json: eleven of the first seven families with their
// ingredients, mixes, packaging and prices, ids being names.
func demoKitchen(t testing.TB) *Inputs {
	t.Helper()
	text, err := os.ReadFile("testdata/demo.json")
	if err != nil {
		t.Fatal(err)
	}
	var file struct {
		Treats []treat.File               `json:"treats"`
		Prices map[string]decimal.Decimal `json:"prices"`
	}
	if err := json.Unmarshal(text, &file); err != nil {
		t.Fatal(err)
	}
	k := kitchen()
	k.Ingredients, k.Mixes, k.Treats, k.Supplies = map[ident.Ingredient]food.Ingredient{},
		map[ident.Ingredient]treat.Mix{}, map[ident.Treat]Treat{}, map[ident.Supply]box.Supply{}
	k.Terms = price.Usual()
	for _, f := range file.Treats {
		for _, i := range f.Ingredients {
			k.Ingredients[i.ID] = food.New(i.ID, i.Fields, file.Prices[string(i.ID)])
		}
		for _, m := range f.Mixes {
			k.Mixes[m.ID] = m
		}
		for _, s := range f.Supplies {
			k.Supplies[s.ID] = box.Supply{ID: s.ID, Name: s.Name, Unit: s.Unit,
				Stock: larder.Stock{Latest: file.Prices[string(s.ID)]}}
		}
		k.Treats[ident.Treat(f.Name)] = Treat{ID: ident.Treat(f.Name), Name: f.Name, Version: 1, Formula: f.Formula}
	}
	return k
}

// TestGoldens holds cards, prices and packaging of the demo kitchen's treats at 1, 7, 31 and 144 against
// testdata/goldens.tsv. A difference is either a fault, or a mend that is told in the commit which writes the file anew
// (UPDATE_GOLDENS=1).
func TestGoldens(t *testing.T) {
	k := demoKitchen(t)
	names := []string{}
	for name := range k.Treats {
		names = append(names, string(name))
	}
	slices.Sort(names)
	var b strings.Builder
	for _, name := range names {
		for _, count := range []int{1, 7, 31, 144} {
			golden(t, &b, k, name, count)
		}
	}
	const file = "testdata/goldens.tsv"
	if os.Getenv("UPDATE_GOLDENS") != "" {
		if err := os.WriteFile(file, []byte(b.String()), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	want, err := os.ReadFile(file)
	if err != nil {
		t.Fatal(err)
	}
	got, lines := strings.Split(b.String(), "\n"), strings.Split(string(want), "\n")
	if len(got) != len(lines) {
		t.Errorf("%d lines, want %d", len(got), len(lines))
	}
	for i := range min(len(got), len(lines)) {
		if got[i] != lines[i] {
			t.Errorf("line %d\n got %s\nwant %s", i+1, got[i], lines[i])
		}
	}
}

func golden(t *testing.T, b *strings.Builder, k *Inputs, name string, count int) {
	t.Helper()
	r, err := Compute(context.Background(), &Draft{Lines: []Line{{Treat: ident.Treat(name), Count: count}}}, k)
	if err != nil {
		t.Fatalf("%d %s: %v", count, name, err)
	}
	c := r.Lines[0].Card
	row := func(what string, args ...any) {
		fmt.Fprintf(b, "%s\t%d\t%s", name, count, what)
		for _, a := range args {
			switch a.(type) {
			case float64, si.Grams:
				a = fmt.Sprintf("%.3f", a)
			}
			fmt.Fprintf(b, "\t%v", a)
		}
		b.WriteString("\n")
	}
	rounds := 0
	if c.Rounds != nil {
		rounds = c.Rounds.Count
	}
	row("card", "start", c.Start, "rounds", rounds, "hands", c.Hands, "wait", c.Wait, "piece", c.PieceMass,
		"fresh from", c.FreshFrom)
	for _, d := range c.Designs {
		row("design", d.Name, d.Good, d.Start, d.PieceMass)
	}
	for _, p := range c.Pots {
		row("pot", p.Ingredient, "melted", p.Melted.Amount, "used", p.Used.Amount, "back", p.Reclaimed.Amount, p.Method)
	}
	for _, m := range c.Mixes {
		row("mix", m.Name, m.Make.Amount)
	}
	for _, n := range c.Needs {
		row("need", n.Ingredient, "used", n.Used.Amount, "house", n.House.Amount, n.Cost.StringFixed(4))
	}
	for _, p := range c.Packs {
		row("pack", p.Supply, p.Amount.Amount)
	}
	row("money", "cost", r.Money.Total.Amount, "asked", r.Money.Asked.Amount, "ingredients", r.Money.Ingredients.Amount,
		"packaging", r.Money.Packaging.Amount)
	declared := make([]string, len(c.Declared))
	for i, w := range c.Declared {
		declared[i] = string(w)
	}
	row("label", c.Label, strings.Join(declared, ", "))
}
