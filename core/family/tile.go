package family

import (
	"slices"

	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Pick is a choice on the tile of a family, for a kitchen that begins: the ids of what can be picked. The first one is
// proposed. Its code is that of a choice of the family's, "tile." before it.
type Pick struct {
	ID      string
	Options []string
}

// TileCode is the code of a pick of a family's tile; with a point and an option, that of the option.
func TileCode(pick string) string { return "tile." + pick }

// Outset is a treat that a kitchen begins with: common practice (rules 2) as the picks of its tile have it. Ingredients
// and packaging go by their names in the starting set, and so do mixes.
type Outset struct {
	*treat.Formula
	Name   reason.Reason
	Mixes  []treat.Mix
	Good   int // that a customer would ask for: a dozen, half a dozen of what is large
	picks  map[string]string
	law    Law
	pantry map[string]food.Fields
	k      *treat.Inputs
	metric bool
}

// SetOut sets a treat of a family out. What was not picked is as the tile proposes. The pantry is the starting set by
// its names.
func SetOut(of treat.Family, picks map[string]string, pantry map[string]food.Fields, metric bool,
	called Called) (*Outset, error) {
	law, known := Of(of)
	if !known {
		return nil, reason.Of("family.not-family-we-can-compute", reason.Name(of), oneOf(All()))
	}
	made := map[string]string{}
	for _, p := range law.Tile() {
		made[p.ID] = p.Options[0]
		if picked, is := picks[p.ID]; is {
			if !slices.Contains(p.Options, picked) {
				return nil, reason.Of("family.not-on-its-tile", reason.Name(picked), reason.Word(Term(of)))
			}
			made[p.ID] = picked
		}
	}
	o := &Outset{Good: 12, picks: made, law: law, pantry: pantry, metric: metric,
		Formula: &treat.Formula{Family: of, Choices: map[string]string{}, Loss: 0.05, ShelfLifeHours: 14 * 24,
			Coatings: []treat.ChocolateLayer{}, Portions: []treat.Addition{}, Finishes: []treat.Design{},
			Packs: []treat.Pack{}},
		k: &treat.Inputs{Ingredients: map[ident.Ingredient]food.Ingredient{}, Mixes: map[ident.Ingredient]treat.Mix{}},
	}
	if err := law.SetOut(o); err != nil {
		return nil, err
	}
	o.Steps = Proposed(o.Formula, called)
	return o, nil
}

// stock takes ingredients of the starting set, or mixes of this treat, so that there is something to begin with.
func (o *Outset) stock(names ...string) {
	for _, name := range names {
		if f, known := o.pantry[name]; known {
			o.k.Ingredients[ident.Ingredient(name)] = food.Ingredient{ID: ident.Ingredient(name), Fields: f,
				Substance: f.Weights()}
		}
	}
}

// mix is one that this treat brings along.
func (o *Outset) mix(m treat.Mix) {
	m.ID = ident.Ingredient(m.Name)
	o.Mixes = append(o.Mixes, m)
	o.k.Mixes[m.ID] = m
	for _, p := range m.Parts {
		o.stock(string(p.Of))
	}
}

// begin the formula with what has been taken, as a seller would: the main chocolate is the one that there is.
func (o *Outset) begin(main string) error {
	o.stock(main)
	return o.law.Begin(&Beginning{Formula: o.Formula, k: o.k, main: ident.Ingredient(main)})
}

// coating picks of the tiles, by their names in the starting set.
var chocolates = map[string]string{"dark": "Dark chocolate 60%", "milk": "Milk chocolate", "white": "White chocolate",
	"coating": "Dark coating"}

var coatPick = Pick{"coat", []string{"dark", "milk", "white", "coating"}}

// coat is the chocolate that is picked.
func (o *Outset) coat() string { return chocolates[o.picks["coat"]] }

// lined with what is picked for lines: a coating, which needs no tempering, so many g of it on a piece.
func (o *Outset) lined(each si.Grams) {
	of, drawn := map[string]string{"white": "White coating", "dark": "Dark coating"}[o.picks["lines"]]
	if !drawn {
		return
	}
	o.Coatings = append(o.Coatings, treat.ChocolateLayer{Role: treat.RoleDrizzle, Ingredient: ident.Ingredient(of),
		Each: grams(each), Pool: measure.Grams(30)})
}

// add so much of an ingredient in or on one piece.
func (o *Outset) add(name string, each si.Grams, where treat.Where) {
	o.Portions = append(o.Portions, treat.Addition{Ingredient: ident.Ingredient(name), Each: measure.Grams(each),
		Where: where})
}

// pack one of a kind of packaging for so many pieces.
func (o *Outset) pack(supply string, per int) {
	o.Packs = append(o.Packs, treat.Pack{Supply: ident.Supply(supply), Amount: measure.Of(1, measure.Each), Per: per})
}

// called is the name of the treat: what is picked for it, in the chocolate of its coat.
func (o *Outset) called(what string) {
	o.Name = reason.Of("start.treat-in", reason.Word("start."+what), reason.Word("start.in."+o.picks["coat"]))
}

// length as the kitchen's moulds are sold: in inches, or in whole millimetres.
func (o *Outset) length(inches, millimetres float64) measure.Quantity {
	if o.metric {
		return measure.Of(millimetres, measure.Millimetre)
	}
	return measure.Of(inches, measure.Inch)
}

// part of a mix, in g.
func part(name string, g si.Grams) treat.MixPart {
	return treat.MixPart{Of: ident.Ingredient(name), Amount: measure.Grams(g)}
}
