package treat

import (
	"slices"
	"strings"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
)

// FileSchema is what a file of a treat says it is.
const FileSchema = "zestytin.treat/1"

// File is a treat with all that it needs, so that another kitchen can make it: opened again it gives the same treat,
// exactly.
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
	ID ident.Ingredient `json:"id"`
	food.Fields
}

// FileUnits are what packaging is counted in.
func FileUnits() []measure.Unit { return []measure.Unit{measure.Each, measure.Millimetre} }

// FileSupply is packaging of a file.
type FileSupply struct {
	ID   ident.Supply `json:"id"`
	Name string       `json:"name"`
	Unit measure.Unit `json:"unit"`
}

// NewFile of a treat with what it uses, in the order of names.
func NewFile(name string, f *Formula, k *Inputs, supplies map[ident.Supply]FileSupply) File {
	file := File{Schema: FileSchema, Name: name, Formula: f, Mixes: []Mix{}, Ingredients: []FileIngredient{},
		Supplies: []FileSupply{}}
	seen := []ident.Ingredient{}
	for _, id := range f.Items() {
		seen = Union(seen, k.Uses(id))
	}
	for _, id := range seen {
		if m, ok := k.Mixes[id]; ok {
			file.Mixes = append(file.Mixes, m)
		} else if i, ok := k.Ingredients[id]; ok {
			file.Ingredients = append(file.Ingredients, FileIngredient{id, i.Fields})
		}
	}
	for _, id := range f.Supplies() {
		if s, ok := supplies[id]; ok {
			file.Supplies = append(file.Supplies, s)
		}
	}
	slices.SortFunc(file.Mixes, func(a, b Mix) int { return strings.Compare(a.Name, b.Name) })
	slices.SortFunc(file.Ingredients, func(a, b FileIngredient) int { return strings.Compare(a.Name, b.Name) })
	slices.SortFunc(file.Supplies, func(a, b FileSupply) int { return strings.Compare(a.Name, b.Name) })
	return file
}

// Renamed is the file with other ids in place of its own, for those that the map names; what is not named keeps its id.
func (f File) Renamed(ids map[string]string) File {
	of := func(id *ident.Ingredient) { rename(ids, id) }
	coatings := func(list []ChocolateLayer) []ChocolateLayer {
		list = slices.Clone(list)
		for i := range list {
			c := &list[i]
			of(&c.Ingredient)
			if c.Tint != nil {
				other := *c.Tint
				of(&other.Ingredient)
				c.Tint = &other
			}
			for _, s := range []**Stirred{&c.Flavour, &c.Thinner} {
				if *s != nil {
					other := **s
					of(&other.Ingredient)
					*s = &other
				}
			}
		}
		return list
	}
	portions := func(list []Addition) []Addition {
		list = slices.Clone(list)
		for i := range list {
			of(&list[i].Ingredient)
		}
		return list
	}
	centre := func(c *Centre) *Centre {
		if c == nil {
			return nil
		}
		other := *c
		of(&other.Of)
		return &other
	}
	formula := *f.Formula
	formula.Centre = centre(formula.Centre)
	formula.Coatings, formula.Portions = coatings(formula.Coatings), portions(formula.Portions)
	formula.Finishes, formula.Packs = slices.Clone(formula.Finishes), slices.Clone(formula.Packs)
	for i := range formula.Finishes {
		d := &formula.Finishes[i]
		d.Centre, d.Coatings, d.Portions = centre(d.Centre), coatings(d.Coatings), portions(d.Portions)
	}
	formula.Steps = slices.Clone(formula.Steps)
	for i := range formula.Steps {
		list := slices.Clone(formula.Steps[i].Prepare)
		for n := range list {
			of(&list[n].Of)
			list[n].Bath = slices.Clone(list[n].Bath)
			for b := range list[n].Bath {
				of(&list[n].Bath[b].Of)
			}
		}
		formula.Steps[i].Prepare = list
	}
	for i := range formula.Packs {
		rename(ids, &formula.Packs[i].Supply)
	}
	if formula.Mould != nil {
		other := *formula.Mould
		rename(ids, &other.Once)
		formula.Mould = &other
	}
	if formula.Shell != nil {
		other := *formula.Shell
		rename(ids, &other.Once)
		formula.Shell = &other
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
		rename(ids, &f.Supplies[i].ID)
	}
	return f
}

func rename[T ~string](ids map[string]string, id *T) {
	if other, ok := ids[string(*id)]; ok {
		*id = T(other)
	}
}
