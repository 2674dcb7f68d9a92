// Package treat is what a treat is made of: its formula with its numbers and choices, the mixes and the ingredients of
// the kitchen that it names, and the shapes that its masses follow from. How each family of treats works is in
// core/family, what follows for a count in core/batch.
package treat

import (
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/measure"
	"zestytin/core/si"
)

// Family of a treat, by its name. Which there are is known to core/family alone.
type Family string

// Formula is how a treat is made: its family's numbers as the seller set them, and the choices where people differ.
// Which of Shell, Centre, Sheet and Mould must be there follows from the family.
type Formula struct {
	Family         Family            `json:"family"`
	Loss           float64           `json:"loss"`
	ShelfLifeHours int               `json:"keeps"`
	Choices        map[string]string `json:"choices"`
	Shell          *Shell            `json:"shell,omitempty"`
	Centre         *Centre           `json:"centre,omitempty"`
	Sheet          *Sheet            `json:"sheet,omitempty"`
	Mould          *Mould            `json:"mould,omitempty"`
	Coatings       []ChocolateLayer  `json:"coatings"`
	Portions       []Addition        `json:"portions"`
	Finishes       []Design          `json:"finishes"`
	Whole          bool              `json:"whole,omitempty"`
	Packs          []Pack            `json:"packs"`
	Steps          []StepTemplate    `json:"steps"`
	Note           string            `json:"note,omitempty"`
	Kept           *Kept             `json:"kept,omitempty"`
	Piece          *Piece            `json:"piece,omitempty"`
}

// Shell of a drink bomb: a ball of two halves, or a cup with a lid. Its wall is given, or its mass, from which the wall
// follows. Moulds that are Once are used up, as those of Mould.
type Shell struct {
	Across   measure.Quantity  `json:"across"`
	Base     *measure.Quantity `json:"base,omitempty"`
	Height   *measure.Quantity `json:"height,omitempty"`
	Wall     *measure.Quantity `json:"wall,omitempty"`
	Mass     *measure.Quantity `json:"mass,omitempty"`
	Mug      *measure.Quantity `json:"mug,omitempty"`
	Cavities int               `json:"cavities"`
	Moulds   int               `json:"moulds"`
	AtMost   int               `json:"atMost,omitempty"`
	Once     ident.Supply      `json:"once,omitempty"`
}

// Centre is what is dipped, coated, poured or filled in.
type Centre struct {
	Of     ident.Ingredient  `json:"of"`
	Share  float64           `json:"share,omitempty"`
	Size   measure.Unit      `json:"size,omitempty"`
	Each   *measure.Quantity `json:"each,omitempty"`
	Across *measure.Quantity `json:"across,omitempty"`
	Length *measure.Quantity `json:"length,omitempty"`
}

// Sheet is the sheet that bark is spread on, or the pan of fudge.
type Sheet struct {
	Length  measure.Quantity  `json:"length"`
	Width   measure.Quantity  `json:"width"`
	Depth   measure.Quantity  `json:"depth"`
	Bag     *measure.Quantity `json:"bag,omitempty"`
	Rows    int               `json:"rows,omitempty"`
	Columns int               `json:"columns,omitempty"`
	Trim    *measure.Quantity `json:"trim,omitempty"`
}

// Mould of moulded pieces. A cavity is given by its volume, or by its shape and sizes. Of it, Shell and Cap are filled
// with chocolate and the rest with the fill. What is Once is used up, a foil or paper mould: Moulds of it are worked at
// a time, and none has to come back before the next.
type Mould struct {
	Volume   *measure.Quantity `json:"volume,omitempty"`
	Cavity   *Cavity           `json:"cavity,omitempty"`
	Cavities int               `json:"cavities"`
	Moulds   int               `json:"moulds"`
	AtMost   int               `json:"atMost,omitempty"`
	Once     ident.Supply      `json:"once,omitempty"`
	Shell    float64           `json:"shell"`
	Cap      float64           `json:"cap"`
	Trim     *measure.Quantity `json:"trim,omitempty"`
}

// Role is what a coating does.
type Role string

const (
	RoleShell   Role = "shell"   // the wall of a bomb or a moulded piece: its mass follows from the sizes
	RoleCoat    Role = "coat"    // around a fruit, a pretzel, a truffle
	RoleBase    Role = "base"    // the sheet of a bark: its mass follows from the sheet
	RoleLayer   Role = "layer"   // the second chocolate of a bark, a share of the sheet
	RoleCap     Role = "cap"     // closes a moulded piece or a cup: its mass follows from the sizes
	RoleDab     Role = "dab"     // holds a stick, by piece
	RoleDrizzle Role = "drizzle" // lines on top, by piece (bark: by sheet, fudge: by pan)
)

// ByPiece tells whether so much of a role goes on each unit; of others the mass follows from the sizes.
func (r Role) ByPiece() bool { return r == RoleCoat || r == RoleDrizzle || r == RoleDab }

// Roles that a chocolate can have.
func Roles() []Role {
	return []Role{RoleShell, RoleCoat, RoleBase, RoleLayer, RoleCap, RoleDab, RoleDrizzle}
}

// ChocolateLayer is one chocolate of a treat. Coatings of the same chocolate with the same in it, brought to work in
// the same way, come out of one pot. A shell can be marbled of several, each with its share of it, in the order in which
// they are laid; lines can be of several, each with its own amount.
type ChocolateLayer struct {
	Role       Role              `json:"role"`
	Ingredient ident.Ingredient  `json:"ingredient"`
	Each       *measure.Quantity `json:"each,omitempty"`
	Thick      *measure.Quantity `json:"thick,omitempty"`
	Share      float64           `json:"share,omitempty"`
	Pool       measure.Quantity  `json:"pool"`
	Method     chocolate.Method  `json:"method,omitempty"`
	Source     chocolate.Source  `json:"source,omitempty"`
	Minutes    *si.Minutes       `json:"minutes,omitempty"`
	Tint       *Tint             `json:"tint,omitempty"`
	Flavour    *Stirred          `json:"flavour,omitempty"`
	Thinner    *Stirred          `json:"thinner,omitempty"`
}

// Stirred is what is stirred into a bowl of chocolate, by the weight of the chocolate: so much of it to so much.
type Stirred struct {
	Ingredient ident.Ingredient `json:"ingredient"`
	Amount     measure.Quantity `json:"amount"`
	To         measure.Quantity `json:"to"`
}

// Tint is stirred in by eye: so much to start with, and so much more as the colour may need. Colour is what it comes to,
// to draw it: #rrggbb.
type Tint struct {
	Stirred
	More   *measure.Quantity `json:"more,omitempty"`
	Colour string            `json:"colour,omitempty"`
}

// Stirs is what is stirred into the bowl of a chocolate, in the order of Stirrings; nil where it is not.
func (c *ChocolateLayer) Stirs() [3]*Stirred {
	of := [3]*Stirred{nil, c.Flavour, c.Thinner}
	if c.Tint != nil {
		of[0] = &c.Tint.Stirred
	}
	return of
}

// Stirrings are the fields of what is stirred in.
var Stirrings = [3]string{"tint", "flavour", "thinner"}

// Where a portion goes.
type Where string

const (
	In Where = "in" // inside, before it is closed
	On Where = "on" // on top, or around
)

// Wheres that there are.
func Wheres() []Where { return []Where{In, On} }

// Addition is something that goes in or on a treat. Rest fills what the others leave of the hollow, whatever Each says.
// Bed is what it lies in, to be rolled in: so much stays behind.
type Addition struct {
	Ingredient ident.Ingredient  `json:"ingredient"`
	Each       measure.Quantity  `json:"each"`
	Where      Where             `json:"where"`
	Rest       bool              `json:"rest,omitempty"`
	Bed        *measure.Quantity `json:"bed,omitempty"`
}

// Design is one design of a set. Its coatings take the place of those of the same role, its centre that of all; its
// portions come on top, and so do the minutes of hands that one piece of it takes.
type Design struct {
	Name     string           `json:"name"`
	Parts    int              `json:"parts"`
	Centre   *Centre          `json:"centre,omitempty"`
	Coatings []ChocolateLayer `json:"coatings"`
	Portions []Addition       `json:"portions"`
	Minutes  float64          `json:"minutes,omitempty"`
	FreeFrom []string         `json:"freeFrom,omitempty"` // allergens that none of it may have
	Wishes   []food.Diet      `json:"wishes,omitempty"`   // what it is to suit
}

// Pack is packaging: so much of a supply for so many pieces or bags.
type Pack struct {
	Supply ident.Supply     `json:"supply"`
	Amount measure.Quantity `json:"amount"`
	Per    int              `json:"per"`
	Making bool             `json:"making,omitempty"`
}

// Adds says what goes into a treat at a step.
type Adds string

const (
	AddsCentre Adds = "centre" // the centre or fill, and the mix that it is made of
	AddsIn     Adds = "in"     // the portions that go in
	AddsOn     Adds = "on"     // the portions that go on top
)

// How an ingredient is prepared before it goes in.
type How string

// Hows that there are, in the order in which they are usually done.
func Hows() []How {
	return []How{Wash, "rinse", "dry", "chop", "crush", "grind", "toast", "freeze", Warm, "weigh"}
}

const (
	Wash How = "wash" // in a bath
	Warm How = "warm" // what is too cold to pipe or too thick: a mix as well
)

// Preparation is what a step does to something that goes into the treat, all that the batch takes of it; where it does
// not say to what, to the centre. A bath covers so much of it, and is made anew as often as that takes.
type Preparation struct {
	How    How               `json:"how"`
	Of     ident.Ingredient  `json:"of,omitempty"`
	Bath   []BathPart        `json:"bath,omitempty"`
	Covers *measure.Quantity `json:"covers,omitempty"`
}

// BathPart is so much of something that is washed in.
type BathPart struct {
	Of     ident.Ingredient `json:"of"`
	Amount measure.Quantity `json:"amount"`
}

// StepTemplate is one step of the making. It comes after the one before it; beside another, it has only to be done
// before that one begins, and those beside the same one come after each other.
type StepTemplate struct {
	ID       ident.Step    `json:"id"`
	Name     string        `json:"name"`
	PerBatch float64       `json:"perBatch"`
	PerRound float64       `json:"perRound"`
	PerPiece float64       `json:"perPiece"`
	Wait     si.Minutes    `json:"wait"`
	Spot     ident.Spot    `json:"place,omitempty"`
	PerTray  int           `json:"perTray,omitempty"`
	Pot      Role          `json:"pot,omitempty"`
	Part     float64       `json:"part,omitempty"`
	Ready    []Role        `json:"ready,omitempty"`
	Trims    bool          `json:"trims,omitempty"`
	Alone    bool          `json:"alone,omitempty"`
	Loss     float64       `json:"loss,omitempty"`
	Rounds   bool          `json:"rounds,omitempty"`
	Until    ident.Step    `json:"until,omitempty"`
	Moulds   bool          `json:"moulds,omitempty"`
	Adds     []Adds        `json:"adds,omitempty"`
	Ages     bool          `json:"ages,omitempty"`
	Earliest si.Minutes    `json:"earliest,omitempty"`
	Latest   *si.Minutes   `json:"latest,omitempty"`
	Beside   ident.Step    `json:"beside,omitempty"`
	Prepare  []Preparation `json:"prepare,omitempty"`
	Note     string        `json:"note,omitempty"`
	Look     string        `json:"look,omitempty"`
}

// Millimetres of a length that has been checked.
func Millimetres(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millimetre, measure.Substance{})
	return v
}

// Grams of a mass that has been checked; 0 where there is none.
func Grams(q *measure.Quantity) si.Grams {
	if q == nil {
		return 0
	}
	v, _ := q.In(measure.Gram, measure.Substance{})
	return si.Grams(v)
}

// Millilitres of a volume that has been checked.
func Millilitres(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millilitre, measure.Substance{})
	return v
}

// Stayed tells whether a step is the same work in two versions of a formula: what was learned of it still holds, whatever
// its minutes, its loss and its words say now.
func (s *StepTemplate) Stayed(before *StepTemplate) bool {
	return s.ID == before.ID && s.Pot == before.Pot && s.Rounds == before.Rounds && s.Moulds == before.Moulds &&
		s.Trims == before.Trims && s.Part == before.Part && s.Beside == before.Beside && slices.Equal(s.Adds, before.Adds)
}

// StepOf the id; nil where there is none.
func (f *Formula) StepOf(id ident.Step) *StepTemplate {
	for i := range f.Steps {
		if f.Steps[i].ID == id {
			return &f.Steps[i]
		}
	}
	return nil
}
