// Package treat holds the families of treats, the formula of a treat, and the batch maths that follows from a formula
// and a count: how many to start, rounds and sheets, pots, amounts, packaging and steps.
package treat

import (
	"zestytin/core/chocolate"
	"zestytin/core/measure"
)

// Formula is how a treat is made: its family's numbers as the seller set them, and the choices where people differ. Which of
// Shell, Centre, Sheet and Mould must be there follows from the family.
type Formula struct {
	Family   Family            `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Loss     float64           `json:"loss" doc:"Share of the pieces (bark: of the mass) that does not come out well, 0 to 0.9"`
	Keeps    int               `json:"keeps" doc:"Hours that it keeps, from the first step that starts its age"`
	Choices  map[string]string `json:"choices" doc:"Where people differ, by the id of the choice; one that is not made has its family's default"`
	Shell    *Shell            `json:"shell,omitempty" doc:"Of a bomb"`
	Centre   *Centre           `json:"centre,omitempty" doc:"The fruit, the pretzel, the centre of a truffle, the mix of fudge, the fill of a moulded piece"`
	Sheet    *Sheet            `json:"sheet,omitempty" doc:"The sheet of bark, the pan of fudge"`
	Mould    *Mould            `json:"mould,omitempty" doc:"Of moulded pieces"`
	Coatings []Coating         `json:"coatings" doc:"The chocolate, by what it does"`
	Portions []Portion         `json:"portions" doc:"What else goes in or on it"`
	Finishes []Finish          `json:"finishes" doc:"Designs that a count is split into; none makes all alike"`
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
	Moulds   int               `json:"moulds" doc:"Moulds of this kind in the kitchen"`
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
	Volume   measure.Quantity `json:"volume" doc:"Of one cavity"`
	Cavities int              `json:"cavities" doc:"In one mould"`
	Moulds   int              `json:"moulds" doc:"Moulds of this kind in the kitchen"`
	Shell    float64          `json:"shell" doc:"Share of the cavity that is shell; 1 for a solid piece"`
	Cap      float64          `json:"cap" doc:"Share of the cavity that is its closing cap"`
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

// Coating is one chocolate of a treat. Coatings of the same chocolate are melted in one pot.
type Coating struct {
	Role       Role              `json:"role" enum:"shell,coat,base,layer,cap,drizzle"`
	Ingredient string            `json:"ingredient" doc:"Id of the chocolate"`
	Each       *measure.Quantity `json:"each,omitempty" doc:"Of coat and drizzle: mass on a piece (bark: on a sheet, fudge: on a pan)"`
	Thick      *measure.Quantity `json:"thick,omitempty" doc:"Of a truffle's coat, instead of each: its thickness"`
	Share      float64           `json:"share,omitempty" doc:"Of a layer: share of the sheet's chocolate"`
	Pool       measure.Quantity  `json:"pool" doc:"What must be left in the bowl to work from; it comes back"`
	Method     chocolate.Method  `json:"method,omitempty" enum:"none,gentle,seed,three-point" doc:"How it is brought to working condition; not given, the default of its kind"`
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
	Pot      Role    `json:"pot,omitempty" enum:"shell,coat,base,layer,cap,drizzle" doc:"The coating that it needs ready"`
	Rounds   bool    `json:"rounds,omitempty" doc:"Done once for each filling of the moulds: the next waits for this one"`
	Until    string  `json:"until,omitempty" doc:"The moulds are held from this step until the one named here is done; not given, until this one has set"`
	Moulds   bool    `json:"moulds,omitempty" doc:"Takes the moulds"`
	Adds     []Adds  `json:"adds,omitempty" doc:"What goes in at this step: centre, in, on"`
	Ages     bool    `json:"ages,omitempty" doc:"Keeping time counts from the start of this step"`
	Earliest int     `json:"earliest,omitempty" doc:"Minutes between the end of the step before and the start of this one, at least"`
	Latest   *int    `json:"latest,omitempty" doc:"And at most, where that matters"`
}

// mm of a length that Check has passed.
func mm(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millimetre, measure.Substance{})
	return v
}

// g of a mass that Check has passed.
func g(q *measure.Quantity) float64 {
	if q == nil {
		return 0
	}
	v, _ := q.In(measure.Gram, measure.Substance{})
	return v
}

// mL of a volume that Check has passed.
func mL(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millilitre, measure.Substance{})
	return v
}

// designs of the formula: its finishes, or the one that it is without them.
func (f *Formula) designs() []Finish {
	if len(f.Finishes) == 0 {
		return []Finish{{Parts: 1}}
	}
	return f.Finishes
}

// coatings of a design, by role.
func (f *Formula) coatings(d Finish) map[Role]Coating {
	of := make(map[Role]Coating, 3)
	for _, c := range f.Coatings {
		of[c.Role] = c
	}
	for _, c := range d.Coatings {
		of[c.Role] = c
	}
	return of
}

// has tells whether any design has a chocolate of the role.
func (f *Formula) has(role Role) bool {
	for _, d := range f.designs() {
		if _, ok := f.coatings(d)[role]; ok {
			return true
		}
	}
	return false
}

// cup that a bomb is moulded in, when it is one.
func (f *Formula) cup() (Cup, bool) {
	s := f.Shell
	if f.Family != Bomb || f.choice("shape") != "cup" || s == nil || s.Base == nil || s.Height == nil {
		return Cup{}, false
	}
	return Cup{mm(s.Across), mm(*s.Base), mm(*s.Height)}, true
}

// wall of a bomb in mm, given or from its mass.
func (f *Formula) wall() float64 {
	s := f.Shell
	if s.Wall != nil {
		return mm(*s.Wall)
	}
	if cup, ok := f.cup(); ok {
		return cup.Wall(g(s.Mass), chocolate.Density)
	}
	return Wall(mm(s.Across), g(s.Mass)/2, chocolate.Density)
}

// room inside a bomb or beside shell and cap of a moulded piece, mL.
func (f *Formula) room() float64 {
	if f.Family == Moulded {
		return mL(f.Mould.Volume) * max(1-f.Mould.Shell-f.Mould.Cap, 0)
	}
	if cup, ok := f.cup(); ok {
		return cup.Hollow(f.wall())
	}
	return Hollow(mm(f.Shell.Across), f.wall())
}

// mixFor a mug of so many mL is the mix in mL for a medium taste: a tablespoon for 8 fl oz; twice as much is strong (handbook 2.1
// and 6, common practice).
func mixFor(mug float64) float64 {
	spoon, _ := measure.Of(1, measure.Tablespoon).In(measure.Millilitre, measure.Substance{})
	cup, _ := measure.Of(8, measure.FluidOunce).In(measure.Millilitre, measure.Substance{})
	return spoon * mug / cup
}

// perSheet is how many pieces a whole pan of fudge is cut into.
func (s *Sheet) perSheet() int { return s.Rows * s.Columns }
