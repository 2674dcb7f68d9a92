// Package treat is what a treat is made of: its formula with its numbers and choices, the mixes and the ingredients of the kitchen that it names, and the shapes that its
// masses follow from. How each family of treats works is in core/family, what follows for a count in core/batch.
package treat

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
)

// Family of a treat, by its name. Which there are is known to core/family alone.
type Family string

// Formula is how a treat is made: its family's numbers as the seller set them, and the choices where people differ. Which of
// Shell, Centre, Sheet and Mould must be there follows from the family.
type Formula struct {
	Family   Family            `json:"family"`
	Loss     float64           `json:"loss" doc:"Share of the pieces (bark: of the mass) that is lost at the last step, with all that is in them, 0 to 0.9; what is lost before is said at its step"`
	Keeps    int               `json:"keeps" doc:"Hours that it keeps, from the first step that starts its age"`
	Choices  map[string]string `json:"choices" doc:"Where people differ, by the id of the choice; one that is not made has its family's default"`
	Shell    *Shell            `json:"shell,omitempty" doc:"Of a bomb"`
	Centre   *Centre           `json:"centre,omitempty" doc:"The fruit, the pretzel, the centre of a truffle, the mix of fudge, the fill of a moulded piece"`
	Sheet    *Sheet            `json:"sheet,omitempty" doc:"The sheet of bark, the pan of fudge"`
	Mould    *Mould            `json:"mould,omitempty" doc:"Of moulded pieces"`
	Coatings []Coating         `json:"coatings" doc:"The chocolate, by what it does"`
	Portions []Portion         `json:"portions" doc:"What else goes in or on it"`
	Finishes []Finish          `json:"finishes" doc:"Designs that a count is split into; none makes all alike"`
	Whole    bool              `json:"whole,omitempty" doc:"Every design must be there in its full number; otherwise another may stand in, and only the sum counts"`
	Packs    []Pack            `json:"packs" doc:"What it is packed in"`
	Steps    []Work            `json:"steps" doc:"How it is made, in order"`
}

// Shell of a drink bomb: a ball of two halves, or a cup with a lid. Its wall is given, or its mass, from which the wall
// follows.
type Shell struct {
	Across   measure.Quantity  `json:"across" doc:"Outside diameter of the ball; of a cup, at its brim"`
	Base     *measure.Quantity `json:"base,omitempty" doc:"Of a cup: across at its foot"`
	Height   *measure.Quantity `json:"height,omitempty" doc:"Of a cup"`
	Wall     *measure.Quantity `json:"wall,omitempty" doc:"Thickness of the wall; or give mass"`
	Mass     *measure.Quantity `json:"mass,omitempty" doc:"Chocolate of a whole piece; or give wall"`
	Mug      *measure.Quantity `json:"mug,omitempty" doc:"The mug that it is for: how much mix follows from it"`
	Cavities int               `json:"cavities" doc:"Half shells in one mould; of cups, how many are filled in one go"`
	Moulds   int               `json:"moulds" doc:"Moulds of this kind, where nobody has counted them in the kitchen"`
	AtMost   int               `json:"atMost,omitempty" doc:"Moulds that this treat uses at a time; not given: all that there are"`
}

// Centre is what is dipped, coated, poured or filled in.
type Centre struct {
	Of     string            `json:"of" doc:"Id of an ingredient or a mix"`
	Share  float64           `json:"share,omitempty" doc:"Share of what is bought that is fit to use, above 0 to 1; not given, it is the ingredient's own"`
	Size   measure.Unit      `json:"size,omitempty" doc:"Size class: one of the ingredient's own measures; not given, its weight per piece"`
	Each   *measure.Quantity `json:"each,omitempty" doc:"Of a truffle: mass of one centre; or give across"`
	Across *measure.Quantity `json:"across,omitempty" doc:"Of a truffle: diameter of one centre; of a rod: its thickness"`
	Length *measure.Quantity `json:"length,omitempty" doc:"Of a rod: how much of its length is dipped"`
}

// Sheet is the sheet that bark is spread on, or the pan of fudge.
type Sheet struct {
	Length  measure.Quantity  `json:"length"`
	Width   measure.Quantity  `json:"width"`
	Depth   measure.Quantity  `json:"depth" doc:"Of bark: of all its chocolate"`
	Bag     *measure.Quantity `json:"bag,omitempty" doc:"Of bark, which is counted in bags: mass of one bag"`
	Rows    int               `json:"rows,omitempty" doc:"Of fudge: the grid it is cut into"`
	Columns int               `json:"columns,omitempty"`
	Trim    *measure.Quantity `json:"trim,omitempty" doc:"Of fudge: cut off at each edge"`
}

// Mould of moulded pieces. Of a cavity, Shell and Cap are filled with chocolate and the rest with the fill.
type Mould struct {
	Volume   measure.Quantity  `json:"volume" doc:"Of one cavity"`
	Cavities int               `json:"cavities" doc:"In one mould"`
	Moulds   int               `json:"moulds" doc:"Moulds of this kind, where nobody has counted them in the kitchen"`
	AtMost   int               `json:"atMost,omitempty" doc:"Moulds that this treat uses at a time; not given: all that there are"`
	Shell    float64           `json:"shell" doc:"Share of the cavity that is shell; 1 for a solid piece"`
	Cap      float64           `json:"cap" doc:"Share of the cavity that is its closing cap"`
	Trim     *measure.Quantity `json:"trim,omitempty" doc:"Mass that is trimmed off the rim of one before it is capped; it goes back into the pot"`
}

// Role is what a coating does.
type Role string

const (
	RoleShell   Role = "shell"   // the wall of a bomb or a moulded piece: its mass follows from the sizes
	RoleCoat    Role = "coat"    // around a fruit, a pretzel, a truffle
	RoleBase    Role = "base"    // the sheet of a bark: its mass follows from the sheet
	RoleLayer   Role = "layer"   // the second chocolate of a bark, a share of the sheet
	RoleCap     Role = "cap"     // closes a moulded piece: its mass follows from the sizes
	RoleDrizzle Role = "drizzle" // lines on top, by piece (bark: by sheet, fudge: by pan)
)

// Roles that a chocolate can have.
func Roles() []Role {
	return []Role{RoleShell, RoleCoat, RoleBase, RoleLayer, RoleCap, RoleDrizzle}
}

// Coating is one chocolate of a treat. Coatings of the same chocolate with the same in it, brought to work in the same way, come out of one pot.
type Coating struct {
	Role       Role              `json:"role"`
	Ingredient string            `json:"ingredient" doc:"Id of the chocolate"`
	Each       *measure.Quantity `json:"each,omitempty" doc:"Of coat and drizzle: mass on a piece (bark: on a sheet, fudge: on a pan)"`
	Thick      *measure.Quantity `json:"thick,omitempty" doc:"Of a truffle's coat, instead of each: its thickness"`
	Share      float64           `json:"share,omitempty" doc:"Of a layer: share of the sheet's chocolate"`
	Pool       measure.Quantity  `json:"pool" doc:"What must be left in the bowl to work from; it comes back"`
	Method     chocolate.Method  `json:"method,omitempty" enum:"none,gentle,seed,three-point" doc:"How it is brought to working condition; not given, the default of its kind"`
	Source     chocolate.Source  `json:"source,omitempty" enum:"microwave,bath" doc:"What it is melted with; not given, what the kitchen melts with"`
	Minutes    *int              `json:"minutes,omitempty" doc:"Of hands that one melt takes, where the seller knows better than the rule"`
	Tint       *Stirred          `json:"tint,omitempty" doc:"Colour that is stirred in: it deepens within one bowl, paler pieces first"`
	Flavour    *Stirred          `json:"flavour,omitempty" doc:"Flavour that is stirred in"`
	Thinner    *Stirred          `json:"thinner,omitempty" doc:"What makes it run"`
}

// Stirred is what is stirred into a bowl of chocolate, by the weight of the chocolate: so much of it to so much.
type Stirred struct {
	Ingredient string           `json:"ingredient" doc:"Id of the ingredient"`
	Amount     measure.Quantity `json:"amount" doc:"Such as 5 drops"`
	To         measure.Quantity `json:"to" doc:"Mass of chocolate that the amount is for, such as 8 oz"`
}

// Where a portion goes.
type Where string

const (
	In Where = "in" // inside, before it is closed
	On Where = "on" // on top, or around
)

// Portion is something that goes in or on a treat.
type Portion struct {
	Ingredient string           `json:"ingredient" doc:"Id of an ingredient or a mix"`
	Each       measure.Quantity `json:"each" doc:"Amount for a piece (bark: for a sheet, fudge: for a pan)"`
	Where      Where            `json:"where" enum:"in,on"`
}

// Finish is one design of a set. Its coatings take the place of those of the same role; its portions come on top.
type Finish struct {
	Name     string    `json:"name"`
	Parts    int       `json:"parts" doc:"How many of each set: 4 of 12"`
	Coatings []Coating `json:"coatings" doc:"Coat or drizzle of this design"`
	Portions []Portion `json:"portions"`
}

// Pack is packaging: so much of a supply for so many pieces or bags.
type Pack struct {
	Supply string           `json:"supply" doc:"Id of the supply"`
	Amount measure.Quantity `json:"amount" doc:"each, or a length of ribbon"`
	Per    int              `json:"per" doc:"Pieces (bark: bags) that it serves; begun ones count whole"`
	Making bool             `json:"making,omitempty" doc:"It is used while making, as sticks, cups and foil moulds are: counted by the pieces that are begun, not by the good ones"`
}

// Adds says what goes into a treat at a step.
type Adds string

const (
	AddsCentre Adds = "centre" // the centre or fill, and the mix that it is made of
	AddsIn     Adds = "in"     // the portions that go in
	AddsOn     Adds = "on"     // the portions that go on top
)

// Work is one step of the making.
type Work struct {
	ID       string  `json:"id" doc:"Short name, unique in the treat"`
	Name     string  `json:"name" doc:"What to do"`
	PerBatch float64 `json:"perBatch" doc:"Hands-on minutes, once"`
	PerRound float64 `json:"perRound" doc:"Hands-on minutes for each round, sheet or pan"`
	PerPiece float64 `json:"perPiece" doc:"Hands-on minutes for each piece or bag"`
	Wait     int     `json:"wait" doc:"Minutes that it then sets, chills or dries without hands"`
	Place    string  `json:"place,omitempty" enum:"counter,fridge,freezer" doc:"Where it waits"`
	PerTray  int     `json:"perTray,omitempty" doc:"Pieces on one tray while it waits; not given: a tray for each round, sheet or pan"`
	Pot      Role    `json:"pot,omitempty" doc:"The coating that it works with"`
	Part     float64 `json:"part,omitempty" doc:"Share of that coating which it puts on, where several steps do; not given, the first of two puts on 60 %"`
	Ready    []Role  `json:"ready,omitempty" doc:"Other coatings that must be ready before it begins, such as the second colour of a swirl"`
	Trims    bool    `json:"trims,omitempty" doc:"The rims are trimmed here: what comes off goes back into the pot"`
	Alone    bool    `json:"alone,omitempty" doc:"Nothing else is done between the step before and this one"`
	Loss     float64 `json:"loss,omitempty" doc:"Share of the pieces that is lost here; of those that are gone on with. What is lost at the last step is the treat's own loss"`
	Rounds   bool    `json:"rounds,omitempty" doc:"Done once for each filling of the moulds: the next waits for this one"`
	Until    string  `json:"until,omitempty" doc:"The moulds are held from this step until the one named here is done; not given, until this one has set"`
	Moulds   bool    `json:"moulds,omitempty" doc:"Takes the moulds"`
	Adds     []Adds  `json:"adds,omitempty" doc:"What goes in at this step: centre, in, on"`
	Ages     bool    `json:"ages,omitempty" doc:"Keeping time counts from the start of this step"`
	Earliest int     `json:"earliest,omitempty" doc:"Minutes between the end of the step before and the start of this one, at least"`
	Latest   *int    `json:"latest,omitempty" doc:"And at most, where that matters"`
}

// Millimetres of a length that has been checked.
func Millimetres(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millimetre, measure.Substance{})
	return v
}

// Grams of a mass that has been checked; 0 where there is none.
func Grams(q *measure.Quantity) float64 {
	if q == nil {
		return 0
	}
	v, _ := q.In(measure.Gram, measure.Substance{})
	return v
}

// Millilitres of a volume that has been checked.
func Millilitres(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millilitre, measure.Substance{})
	return v
}

// Designs of the formula: its finishes, or the one that it is without them.
func (f *Formula) Designs() []Finish {
	if len(f.Finishes) == 0 {
		return []Finish{{Parts: 1}}
	}
	return f.Finishes
}

// Coating of a design that has the role.
func (f *Formula) Coating(d *Finish, role Role) (Coating, bool) {
	for _, list := range [][]Coating{d.Coatings, f.Coatings} {
		for _, c := range list {
			if c.Role == role {
				return c, true
			}
		}
	}
	return Coating{}, false
}

// Has tells whether any design has a chocolate of the role.
func (f *Formula) Has(role Role) bool {
	for _, d := range f.Designs() {
		if _, ok := f.Coating(&d, role); ok {
			return true
		}
	}
	return false
}

// Items are the ids of all ingredients and mixes that the formula names itself.
func (f *Formula) Items() []string {
	list := []string{}
	coatings := func(of []Coating) {
		for _, c := range of {
			list = Union(list, []string{c.Ingredient})
			for _, s := range []*Stirred{c.Tint, c.Flavour, c.Thinner} {
				if s != nil {
					list = Union(list, []string{s.Ingredient})
				}
			}
		}
	}
	portions := func(of []Portion) {
		for _, p := range of {
			list = Union(list, []string{p.Ingredient})
		}
	}
	if f.Centre != nil {
		list = Union(list, []string{f.Centre.Of})
	}
	coatings(f.Coatings)
	portions(f.Portions)
	for _, d := range f.Finishes {
		coatings(d.Coatings)
		portions(d.Portions)
	}
	return list
}

// Union is a list with what it does not have yet of another.
func Union[T comparable](list, more []T) []T {
	for _, a := range more {
		if !slices.Contains(list, a) {
			list = append(list, a)
		}
	}
	return list
}
