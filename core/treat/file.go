package treat

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// FileSchema is what a file of a treat says it is.
const FileSchema = "zestytin.treat/1"

// File is a treat with all that it needs, so that another kitchen can make it: opened again it gives the same treat, exactly.
type File struct {
	Schema      string           `json:"schema"`
	Name        string           `json:"name"`
	Formula     *Formula         `json:"formula"`
	Mixes       []Mix            `json:"mixes"`
	Ingredients []FileIngredient `json:"ingredients"`
	Supplies    []FileSupply     `json:"supplies"`
}

// FileIngredient is an ingredient of a file.
type FileIngredient struct {
	ID string `json:"id"`
	food.Fields
}

// FileSupply is packaging of a file.
type FileSupply struct {
	ID   string       `json:"id"`
	Name string       `json:"name"`
	Unit measure.Unit `json:"unit" enum:"each,mm"`
}

// NewFile of a treat with what it uses, in the order of names.
func NewFile(name string, f *Formula, k *Kitchen, supplies map[string]FileSupply) File {
	file := File{Schema: FileSchema, Name: name, Formula: f, Mixes: []Mix{}, Ingredients: []FileIngredient{}, Supplies: []FileSupply{}}
	seen := []string{}
	for _, id := range f.Items() {
		seen = union(seen, k.Uses(id))
	}
	for _, id := range seen {
		if m, ok := k.Mixes[id]; ok {
			file.Mixes = append(file.Mixes, m)
		} else if i, ok := k.Ingredients[id]; ok {
			file.Ingredients = append(file.Ingredients, FileIngredient{id, i.Fields})
		}
	}
	for _, p := range f.Packs {
		s, ok := supplies[p.Supply]
		if ok && !slices.Contains(file.Supplies, s) {
			file.Supplies = append(file.Supplies, s)
		}
	}
	slices.SortFunc(file.Mixes, func(a, b Mix) int { return strings.Compare(a.Name, b.Name) })
	slices.SortFunc(file.Ingredients, func(a, b FileIngredient) int { return strings.Compare(a.Name, b.Name) })
	slices.SortFunc(file.Supplies, func(a, b FileSupply) int { return strings.Compare(a.Name, b.Name) })
	return file
}

// ReadFile reads a treat's file and checks that it holds together. The error is a plain sentence, or an *invalid.Error with
// paths from the file.
func ReadFile(data []byte) (*File, error) {
	if err := invalid.Text(data); err != nil {
		return nil, err
	}
	var syntax *json.SyntaxError
	if err := json.Unmarshal(data, new(any)); errors.As(err, &syntax) {
		return nil, fmt.Errorf("This is not JSON: it breaks off or is damaged at character %d.", syntax.Offset)
	}
	var file File
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(&file); err != nil {
		if !bytes.Contains(data, []byte(FileSchema)) {
			return nil, fmt.Errorf("This is not a treat's file: choose one that was written by \"Export\", with the schema %q.", FileSchema)
		}
		return nil, fmt.Errorf("The file does not have the shape of a treat's file: %s.", strings.TrimPrefix(err.Error(), "json: "))
	}
	if file.Schema != FileSchema {
		return nil, fmt.Errorf("This is not a treat's file: its schema is %q, and %q is wanted.", file.Schema, FileSchema)
	}
	return &file, file.check()
}

func (f *File) check() error {
	var faults invalid.Faults
	if strings.TrimSpace(f.Name) == "" || len([]rune(f.Name)) > 100 {
		faults.Add("name", "The treat has a name of at most 100 letters.")
	}
	if f.Formula == nil {
		faults.Add("formula", "The formula is missing.")
		return faults.Err()
	}
	k := &Kitchen{Ingredients: map[string]food.Ingredient{}, Mixes: map[string]Mix{}}
	supplies := map[string]string{}
	once := func(path, id string) {
		_, ingredient := k.Ingredients[id]
		_, mix := k.Mixes[id]
		if id == "" || ingredient || mix {
			faults.Add(path+".id", "Every ingredient and mix of the file has an id of its own.")
		}
	}
	for i := range f.Ingredients {
		path := fmt.Sprintf("ingredients[%d]", i)
		once(path, f.Ingredients[i].ID)
		faults.Under(path, f.Ingredients[i].Check())
		k.Ingredients[f.Ingredients[i].ID] = food.Ingredient{ID: f.Ingredients[i].ID, Fields: f.Ingredients[i].Fields, Substance: f.Ingredients[i].Weights()}
	}
	for i, m := range f.Mixes {
		once(fmt.Sprintf("mixes[%d]", i), m.ID)
		k.Mixes[m.ID] = m
	}
	for i, s := range f.Supplies {
		if s.Name == "" || s.ID == "" || s.Unit != measure.Each && s.Unit != measure.Millimetre {
			faults.Add(fmt.Sprintf("supplies[%d]", i), "Packaging has an id, a name, and a unit: each or mm.")
		}
		supplies[s.ID] = s.Name
	}
	for i := range f.Mixes {
		faults.Under(fmt.Sprintf("mixes[%d]", i), f.Mixes[i].Check(k))
	}
	if faults.Err() == nil {
		faults.Under("formula", f.Formula.Check(k, supplies))
	}
	return faults.Err()
}

// Renamed is the file with other ids in place of its own, for those that the map names; what is not named keeps its id.
func (f File) Renamed(ids map[string]string) File {
	of := func(id *string) {
		if other, ok := ids[*id]; ok {
			*id = other
		}
	}
	coatings := func(list []Coating) []Coating {
		list = slices.Clone(list)
		for i := range list {
			of(&list[i].Ingredient)
		}
		return list
	}
	portions := func(list []Portion) []Portion {
		list = slices.Clone(list)
		for i := range list {
			of(&list[i].Ingredient)
		}
		return list
	}
	formula := *f.Formula
	if formula.Centre != nil {
		centre := *formula.Centre
		of(&centre.Of)
		formula.Centre = &centre
	}
	formula.Coatings, formula.Portions = coatings(formula.Coatings), portions(formula.Portions)
	formula.Finishes, formula.Packs = slices.Clone(formula.Finishes), slices.Clone(formula.Packs)
	for i := range formula.Finishes {
		d := &formula.Finishes[i]
		d.Coatings, d.Portions = coatings(d.Coatings), portions(d.Portions)
	}
	for i := range formula.Packs {
		of(&formula.Packs[i].Supply)
	}
	f.Formula = &formula
	f.Mixes = slices.Clone(f.Mixes)
	for i := range f.Mixes {
		m := &f.Mixes[i]
		of(&m.ID)
		m.Parts = slices.Clone(m.Parts)
		for n := range m.Parts {
			of(&m.Parts[n].Of)
		}
	}
	f.Ingredients, f.Supplies = slices.Clone(f.Ingredients), slices.Clone(f.Supplies)
	for i := range f.Ingredients {
		of(&f.Ingredients[i].ID)
	}
	for i := range f.Supplies {
		of(&f.Supplies[i].ID)
	}
	return f
}
