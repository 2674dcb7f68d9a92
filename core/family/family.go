// Package family knows which families of treats there are and how each of them works: what its formula must have, where
// people differ, how it is begun and made, how a count is laid out, what stays on a piece, how it is drawn. One file a
// family; nothing outside of this package knows which there are.
package family

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Law is how one family works. A family embeds plain for what most families do alike, and says the rest.
type Law interface {
	// Family is its name, as formulas say it.
	Family() treat.Family
	// Traits are what it is like.
	Traits() Traits
	// Roles of chocolate that it can have, in the order in which they are worked.
	Roles() []treat.Role
	// Main is the role that it cannot do without; empty where there is none.
	Main() treat.Role
	// Choices on which people differ, given those that are made.
	Choices(made map[string]string) []Choice
	// Begin a formula with the numbers that are common practice, of what is in the larder.
	Begin(*Beginning) error
	// Tile is what a kitchen that begins is asked about it, and SetOut the treat that follows.
	Tile() []Pick
	SetOut(*Outset) error
	// Check finds the faults of what the family has of its own.
	Check(*Checking)
	// Steps that it proposes for the choices of a formula. A step whose chocolate the formula does not have is left out
	// by the caller.
	Steps(*treat.Formula) []treat.StepTemplate
	// Lay says how a count is laid out: in moulds, on sheets, or piece by piece.
	Lay(*treat.Formula) Layout
	// Centre is the g of the centre on one unit of a design; a formula without one has none.
	Centre(f *treat.Formula, k *treat.Inputs, d *treat.Design) si.Grams
	// Coat is what a chocolate does on one unit.
	Coat(f *treat.Formula, k *treat.Inputs, d *treat.Design, c treat.ChocolateLayer) Coat
	// Method that a chocolate is brought to work with where the formula does not say.
	Method(f *treat.Formula, kind chocolate.Kind, role treat.Role) chocolate.Method
	// Dips are the centres that go through a bowl of the role; false where none do.
	Dips(f *treat.Formula, k *treat.Inputs, role treat.Role) (Dip, bool)
	// Folds are the ingredients that are folded into the bowl of a role; none where nothing is.
	Folds(f *treat.Formula, role treat.Role) []ident.Ingredient
	// Hollow is the hollow of a piece in mL that the centre and what goes in share; false where nothing goes inside.
	Hollow(*treat.Formula) (float64, bool)
	// Sizes that follow, to draw it.
	Sizes(f *treat.Formula, k *treat.Inputs) Sizes
	// Extent is what a finished piece takes up, in mm; false where it does not follow from the formula.
	Extent(f *treat.Formula, k *treat.Inputs) (Extent, bool)
	// Ages is how many hours it keeps from the making of its centre, where that ends sooner than the treat's own
	// keeping; false where it does not.
	Ages(f *treat.Formula, k *treat.Inputs) (hours int, ok bool)
	// Care are the family's own cautions.
	Care(f *treat.Formula, k *treat.Inputs) []Caution
}

// Traits are what a family is like, for whoever asks without knowing it. Its own name is the term "family." with its
// code.
type Traits struct {
	Drawn   string      // how it is drawn when it is cut open: ball, fruit, rod, sphere, sheet, pan, cavity; empty: by its glyph
	One     reason.Word // what is counted in an order: piece, bag
	Unit    reason.Word // what amounts are for: piece, sheet, pan
	Rounds  string      // how it is counted by what it is made in, as a Want has it: rounds, sheets, pans; empty where it is not
	Centre  reason.Word // what its centre is; empty where it has none
	Lost    reason.Word // what is lost
	Makes   ident.Step  // the step at which the mix of its centre is made; empty where none does that alone
	Picked  bool        // its centres are counted, and more are bought than are fit to use
	Inside  bool        // something can go inside
	Designs bool
	Thick   bool // its coat can be given by its thickness
	Bagged  bool // it is counted in bags, by weight: what is begun are sheets
}

// Term of a family: what it is called.
func Term(f treat.Family) reason.Word { return reason.Word("family." + string(f)) }

// Counted is the term for so many of what is counted: a card keeps it, and so it has a word of its own in the plural.
func (t Traits) Counted(n int) reason.Word {
	if n == 1 {
		return t.One
	}
	return t.One + "s"
}

var pieces = Traits{One: "piece", Unit: "piece", Lost: "lost.at-the-end", Designs: true}

// Layout of a count. Without moulds and sheets it is made piece by piece.
type Layout struct {
	Moulds *Moulds
	Sheet  *Sheet
}

// Moulds that pieces are made in.
type Moulds struct {
	Tool     ident.Mould  // names the moulds by their shape, for treats whose moulds are alike; none where they are used up
	Once     ident.Supply // that is used up, one for each mould; empty where they come back
	Cavities int          // in one mould
	Moulds   int          // of this kind, as the formula says
	AtMost   int          // that are used at a time; 0: all that there are
	Each     int          // cavities that a piece takes
	Cells    reason.Word  // what comes out of one: a half shell, a cup, a piece
}

// Sheet or pan that pieces come from.
type Sheet struct {
	Pieces int      // that a whole one is cut into; 0 where it is broken and bagged by weight
	Bag    si.Grams // g of a bag, where it is bagged by weight
	Kept   float64  // share of its area that is not trimmed off
}

// Coat is what a chocolate does on one unit, in g.
type Coat struct {
	Stays si.Grams // as applied
	Pour  si.Grams // into each cavity, where moulds are filled and poured off; 0 where they are not
	Trim  si.Grams // comes off again before the cap, and goes back
}

// Dip is a centre that goes through a bowl.
type Dip struct {
	chocolate.Piece
	Fresh bool // it is fresh fruit, and what is left of the bowl is damp
}

// Sizes that follow from a formula; what does not belong to the family is 0.
type Sizes struct {
	Wall   float64  // mm, of a bomb or a moulded piece; of a coat, its thickness
	Cap    float64  // mm, of a moulded piece: how deep its cap is
	Across float64  // mm, of a centre or a cavity
	Shell  si.Grams // g of chocolate of one shell
	Mix    float64  // mL of mix for the mug that it is for, for a medium taste
}

// Caution for whoever makes it.
type Caution string

// Cautions that families have of their own.
const (
	WetInside  Caution = "wet inside"  // syrup, sauce, cream or spirit inside is best within 24 hours
	PicksOut   Caution = "picks out"   // picks come out before handover, or are declared
	SticksStay Caution = "sticks stay" // sticks are sold with it, counted and declared
	HoldCold   Caution = "hold cold"   // it may have to be kept cold
	BoilsSugar Caution = "boils sugar" // boiling sugar burns
	HotMilk    Caution = "hot milk"    // how it is served
)

// Temperatures that cautions tell.
const HeldCold = reason.Celsius(5) // FDA Food Code 3-501.16: 41 F or below

// MilkForBombs is how hot milk is poured over a bomb, C (common practice: 180 to 190 F).
var MilkForBombs = reason.Band{From: 82, To: 88}

// laws of all families, in the order of the book.
var laws = []Law{bomb{}, fruit{}, pretzel{}, truffle{}, bark{}, fudge{}, moulded{}, cluster{}}

// All families, in the order of the book.
func All() []treat.Family {
	list := make([]treat.Family, len(laws))
	for i, l := range laws {
		list[i] = l.Family()
	}
	return list
}

// Of a name; false where there is no such family.
func Of(name treat.Family) (Law, bool) {
	n := slices.IndexFunc(laws, func(l Law) bool { return l.Family() == name })
	if n < 0 {
		return nil, false
	}
	return laws[n], true
}

// LawOf a formula that has been checked.
func LawOf(f *treat.Formula) Law {
	law, ok := Of(f.Family)
	if !ok {
		return unknown{}
	}
	return law
}

// Tool that a formula's moulds are; empty where it has none.
func Tool(f *treat.Formula) ident.Mould {
	if m := LawOf(f).Lay(f).Moulds; m != nil {
		return m.Tool
	}
	return ""
}

// plain is what most families do alike: it is made piece by piece, its chocolates are given by the piece, nothing goes
// inside.
type plain struct{}

func (plain) Traits() Traits { return pieces }

func (plain) Main() treat.Role { return "" }

func (plain) Lay(*treat.Formula) Layout { return Layout{} }

func (plain) Centre(*treat.Formula, *treat.Inputs, *treat.Design) si.Grams { return 0 }

func (plain) Coat(_ *treat.Formula, _ *treat.Inputs, _ *treat.Design, c treat.ChocolateLayer) Coat {
	return Coat{Stays: treat.Grams(c.Each)}
}

func (plain) Method(_ *treat.Formula, kind chocolate.Kind, _ treat.Role) chocolate.Method {
	return chocolate.MethodFor(kind)
}

func (plain) Dips(*treat.Formula, *treat.Inputs, treat.Role) (Dip, bool) { return Dip{}, false }

func (plain) Folds(*treat.Formula, treat.Role) []ident.Ingredient { return nil }

func (plain) Hollow(*treat.Formula) (float64, bool) { return 0, false }

func (plain) Sizes(*treat.Formula, *treat.Inputs) Sizes { return Sizes{} }

func (plain) Extent(*treat.Formula, *treat.Inputs) (Extent, bool) { return Extent{}, false }

func (plain) Ages(*treat.Formula, *treat.Inputs) (int, bool) { return 0, false }

func (plain) Care(*treat.Formula, *treat.Inputs) []Caution { return nil }

// unknown is the family of a formula that nobody knows: nothing follows from it.
type unknown struct{ plain }

func (unknown) Family() treat.Family                      { return "" }
func (unknown) Roles() []treat.Role                       { return nil }
func (unknown) Choices(map[string]string) []Choice        { return nil }
func (unknown) Begin(*Beginning) error                    { return nil }
func (unknown) Tile() []Pick                              { return nil }
func (unknown) SetOut(*Outset) error                      { return nil }
func (unknown) Check(*Checking)                           {}
func (unknown) Steps(*treat.Formula) []treat.StepTemplate { return nil }

// dipped is a centre of so many g that goes through a bowl of coat, at the kitchen's temperature.
func dipped(k *treat.Inputs, of ident.Ingredient, grams si.Grams) Dip {
	return Dip{Piece: chocolate.Piece{Mass: grams, At: k.AirTemp, Heat: chocolate.HeatOfCentre,
		Across: treat.Across(grams, k.Density(of)), Seconds: chocolate.DipSeconds}}
}

// Fills is the volume in mL of what goes inside a piece of a design, and the names of what has no density. What fills
// the rest is not in it.
func Fills(f *treat.Formula, k *treat.Inputs, d *treat.Design) (volume float64, unknown []string) {
	for _, list := range [][]treat.Addition{f.Portions, d.Portions} {
		for _, p := range list {
			if p.Where != treat.In || p.Rest {
				continue
			}
			known, _ := k.Item(p.Ingredient)
			v, err := p.Each.In(measure.Millilitre, known.Substance)
			if err != nil {
				unknown = append(unknown, known.Name)
				continue
			}
			volume += v
		}
	}
	return volume, unknown
}

// Each is how much of an addition goes into or onto one unit of a design: what it says, or what the others leave of the
// hollow, by the weight of a loose cup of it, which has its packing in it already (rules 4.3).
func Each(f *treat.Formula, k *treat.Inputs, d *treat.Design, p treat.Addition) measure.Quantity {
	if !p.Rest {
		return p.Each
	}
	room, _ := LawOf(f).Hollow(f)
	fills, _ := Fills(f, k, d)
	return measure.Of(max(room-fills, 0), measure.Millilitre)
}

// mainCentre is the centre of the first design; nil where there is none.
func mainCentre(f *treat.Formula) *treat.Centre { return f.CentreOf(&f.Designs()[0]) }

// creamKeeps is how many hours a centre with cream in it keeps from its making, where it must be held cold: 7 days, the
// day of making included (FDA Food Code 3-501.17). The seller may set less.
const creamKeeps = 7 * 24

// creamAge is how long a centre with cream or milk in it, not boiled, keeps from its making: of designs with centres of
// their own, the one that keeps least.
func creamAge(f *treat.Formula, k *treat.Inputs) (hours int, ages bool) {
	for _, centre := range f.Centres() {
		if keeps, short := MixKeeps(centre, k); short && (!ages || keeps < hours) {
			hours, ages = keeps, true
		}
	}
	return hours, ages
}

// MixKeeps is how many hours a mix keeps from its making: as is said of it or of one that it is made of, or as long as
// cream does; false where nothing says that it does not keep.
func MixKeeps(of ident.Ingredient, k *treat.Inputs) (int, bool) {
	for _, id := range k.Uses(of) {
		if m, ok := k.Mixes[id]; ok && m.Keeps != nil {
			return *m.Keeps, true
		}
	}
	for _, id := range k.Uses(of) {
		if known := k.Ingredients[id]; known.Kind == food.KindDairy && known.Wet() {
			return creamKeeps, true
		}
	}
	return 0, false
}
