package family

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/reason"
	"zestytin/core/treat"
)

// ReadFile reads a treat's file and checks that it holds together. The error is a plain sentence, or an *invalid.Error
// with paths from the file.
func ReadFile(data []byte) (*treat.File, error) {
	if err := invalid.Text(data); err != nil {
		return nil, err
	}
	var syntax *json.SyntaxError
	if err := json.Unmarshal(data, new(any)); errors.As(err, &syntax) {
		return nil, reason.Of("family.this-not-json-breaks-off", reason.Int(syntax.Offset))
	}
	var file treat.File
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&file); err != nil {
		if !bytes.Contains(data, []byte(treat.FileSchema)) {
			return nil, reason.Of("family.this-not-treat-file-choose", reason.Name(treat.FileSchema))
		}
		return nil, reason.Of("family.file-does-not-have-shape", reason.Name(strings.TrimPrefix(err.Error(), "json: ")))
	}
	if file.Schema != treat.FileSchema {
		return nil, reason.Of("family.this-not-treat-file-its", reason.Name(file.Schema), reason.Name(treat.FileSchema))
	}
	return &file, checkFile(&file)
}

func checkFile(f *treat.File) error {
	var faults invalid.Faults
	if strings.TrimSpace(f.Name) == "" || len([]rune(f.Name)) > 100 {
		faults.Add("name", reason.Of("family.treat-has-name-at-most"))
	}
	if f.Formula == nil {
		faults.Add("formula", reason.Of("family.formula-missing"))
		return faults.Err()
	}
	k := &treat.Inputs{Ingredients: map[ident.Ingredient]food.Ingredient{}, Mixes: map[ident.Ingredient]treat.Mix{},
		Spots: treat.Spots()}
	for _, w := range f.Formula.Steps { // which spots there are is the kitchen's that opens it
		k.Spots = append(k.Spots, treat.Spot{ID: w.Spot, Name: string(w.Spot)})
	}
	supplies := map[ident.Supply]treat.FileSupply{}
	once := func(path string, id ident.Ingredient) {
		_, ingredient := k.Ingredients[id]
		_, mix := k.Mixes[id]
		if id == "" || ingredient || mix {
			faults.Add(path+".id", reason.Of("family.every-ingredient-and-mix-file"))
		}
	}
	for i := range f.Ingredients {
		path := fmt.Sprintf("ingredients[%d]", i)
		once(path, f.Ingredients[i].ID)
		faults.Under(path, f.Ingredients[i].Check())
		k.Ingredients[f.Ingredients[i].ID] = food.Ingredient{ID: f.Ingredients[i].ID, Fields: f.Ingredients[i].Fields,
			Substance: f.Ingredients[i].Weights()}
	}
	for i, m := range f.Mixes {
		once(fmt.Sprintf("mixes[%d]", i), m.ID)
		k.Mixes[m.ID] = m
	}
	for i, s := range f.Supplies {
		if s.Name == "" || s.ID == "" || !slices.Contains(packUnits, s.Unit) {
			faults.Add(fmt.Sprintf("supplies[%d]", i), reason.Of("family.packaging-has-id-name-and"))
		}
		supplies[s.ID] = s
	}
	for i := range f.Mixes {
		faults.Under(fmt.Sprintf("mixes[%d]", i), f.Mixes[i].Check(k))
	}
	if faults.Err() == nil {
		faults.Under("formula", Check(f.Formula, k, supplies))
	}
	return faults.Err()
}
