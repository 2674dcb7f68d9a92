package batch

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"zestytin/core/family"
	"zestytin/core/ident"
	"zestytin/core/treat"
	"zestytin/internal/text/said"

	"github.com/shopspring/decimal"

	"zestytin/core/food"
	"zestytin/core/measure"
)

func fileOf(t testing.TB, f *treat.Formula) []byte {
	t.Helper()
	k := larder()
	shelf := map[ident.Supply]treat.FileSupply{"bag": {ID: "bag", Name: "Bags", Unit: measure.Each},
		"box":    {ID: "box", Name: "Boxes", Unit: measure.Each},
		"ribbon": {ID: "ribbon", Name: "Ribbon", Unit: measure.Millimetre}}
	text, err := json.MarshalIndent(treat.NewFile("It", f, k, shelf), "", " ")
	if err != nil {
		t.Fatal(err)
	}
	return text
}

// Read back, a file is the same to the byte, for every family.
func TestFilesComeBackTheSame(t *testing.T) {
	for name, of := range families {
		text := fileOf(t, of())
		file, err := family.ReadFile(text)
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		again, err := json.MarshalIndent(file, "", " ")
		if err != nil || !bytes.Equal(again, text) {
			t.Errorf("%s came back as\n%s\nwas\n%s", name, again, text)
		}
		// There and back under other names it is the same as well.
		there := file.Renamed(map[string]string{"Dark": "d", "ganache": "g", "box": "b"})
		back, _ := json.MarshalIndent(there.Renamed(map[string]string{"d": "Dark", "g": "ganache", "b": "box"}), "",
			" ")
		if !bytes.Equal(back, text) {
			t.Errorf("%s renamed and named back is\n%s", name, back)
		}
	}
}

func TestFaultsOfFiles(t *testing.T) {
	right := string(fileOf(t, truffle()))
	for _, c := range []struct{ from, to, says string }{
		{`"name": "It"`, `"name": ""`, "name"},
		{`"fit": 1`, `"fit": 2`, "fit"},
		{`"loss": 0.05`, `"loss": 2`, "formula.loss"},
		{`"id": "rolling"`, `"id": "ganache"`, "an id of its own"},
		{`"of": "Cream"`, `"of": "ganache"`, "made of itself"},
	} {
		if !strings.Contains(right, c.from) {
			if c.says != "" {
				t.Errorf("the file has no %s", c.from)
			}
			continue
		}
		_, err := family.ReadFile([]byte(strings.Replace(right, c.from, c.to, 1)))
		if err == nil || !strings.Contains(said.Error(err), c.says) {
			t.Errorf("%s: %v, want … %s …", c.to, err, c.says)
		}
	}
	if _, err := family.ReadFile([]byte(`{"schema":"` + treat.FileSchema + `","name":"x"}`)); err == nil ||
		!strings.Contains(said.Error(err), "formula is missing") {
		t.Errorf("no formula: %v", err)
	}
}

// Whatever is opened: a treat that can be computed, or a plain sentence; never a panic.
func FuzzReadFile(f *testing.F) {
	for _, of := range families {
		f.Add(fileOf(f, of()))
	}
	f.Add([]byte(`{"schema":"zestytin.treat/1","name":"x","formula":{"family":"bomb"}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		file, err := family.ReadFile(data)
		if err != nil {
			return
		}
		k := &treat.Inputs{Confidence: 0.95, AirTemp: 21, Boiling: 100, Ingredients: larder().Ingredients,
			Mixes: map[ident.Ingredient]treat.Mix{}}
		for _, i := range file.Ingredients {
			k.Ingredients[i.ID] = newIngredient(i)
		}
		for _, m := range file.Mixes {
			k.Mixes[m.ID] = m
		}
		if _, err := Compute(file.Formula, 3, k); err != nil {
			t.Errorf("it was let in and cannot be computed: %v", err)
		}
	})
}

func newIngredient(i treat.FileIngredient) food.Ingredient {
	return food.New(i.ID, i.Fields, decimal.Zero)
}
