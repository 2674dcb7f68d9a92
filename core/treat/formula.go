// Package treat holds the families of treats, the formula of a treat, and the batch maths that follows from a formula
// and a count: how many to start, rounds and sheets, pots, amounts, packaging and steps.
package treat

import (
	"fmt"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// Family fixes the stages and the quantity laws of a treat.
type Family string

const (
	Bomb  Family = "bomb"  // two half shells a piece, filled and sealed (handbook 2.1)
	Fruit Family = "fruit" // picked over, washed, dried, dipped (handbook 2.2)
	Bark  Family = "bark"  // by sheet area and depth, broken, bagged by weight (handbook 2.5)
)

// Ingredient is what the rules must know of one.
type Ingredient struct {
	ID        string
	Name      string
	Substance measure.Substance
	Allergens []string
	Chocolate *Chocolate      // nil when it is not a chocolate
	Unit      measure.Unit    // what it is kept and bought in: measure.Gram or measure.Each
	Price     decimal.Decimal // money for one Unit, as last paid
}

// Chocolate is what makes an ingredient a chocolate.
type Chocolate struct {
	Kind   chocolate.Kind   `json:"kind" enum:"real,compound"`
	Colour chocolate.Colour `json:"colour" enum:"dark,milk,white"`
	Tint   string           `json:"tint,omitempty" doc:"A colour of the coloured chocolate as #rrggbb, empty when it has its own"`
}

// Formula is how a treat is made: its family's numbers as the seller set them. Which of Shell, Fruit and Sheet must be
// there follows from the family.
type Formula struct {
	Family   Family    `json:"family" enum:"bomb,fruit,bark"`
	Loss     float64   `json:"loss" doc:"Share of the pieces (bark: of the mass) that does not come out well, 0 to 0.9"`
	Keeps    int       `json:"keeps" doc:"Hours that it keeps, from the first step that starts its age"`
	Shell    *Shell    `json:"shell,omitempty"`
	Fruit    *Fit      `json:"fruit,omitempty"`
	Sheet    *Sheet    `json:"sheet,omitempty"`
	Coatings []Coating `json:"coatings" doc:"The chocolate, by what it does"`
	Portions []Portion `json:"portions" doc:"What else goes in or on it"`
	Packs    []Pack    `json:"packs" doc:"What it is packed in"`
	Steps    []Work    `json:"steps" doc:"How it is made, in order"`
}

// Shell is the half shell of a drink bomb.
type Shell struct {
	Across   measure.Quantity `json:"across" doc:"Outside diameter of the ball"`
	Wall     measure.Quantity `json:"wall" doc:"Thickness of the wall"`
	Cavities int              `json:"cavities" doc:"Half shells in one mould"`
	Moulds   int              `json:"moulds" doc:"Moulds of this kind in the kitchen"`
	Drain    bool             `json:"drain" doc:"Filled and drained instead of spooned and brushed: more is melted, the rest runs back"`
}

// Fit is the fruit of a dipped fruit.
type Fit struct {
	Ingredient string  `json:"ingredient" doc:"Id of the fruit"`
	Share      float64 `json:"share" doc:"Share of the bought fruit that is fit to dip, more than 0, at most 1"`
}

// Sheet is the sheet that bark is spread on.
type Sheet struct {
	Length measure.Quantity `json:"length"`
	Width  measure.Quantity `json:"width"`
	Depth  measure.Quantity `json:"depth" doc:"Depth of the chocolate"`
	Bag    measure.Quantity `json:"bag" doc:"Mass of one bag: bark is counted in bags"`
	Whole  bool             `json:"whole" doc:"Only whole sheets are spread; otherwise the last one is as large as it needs to be"`
}

// Role is what a coating does.
type Role string

const (
	RoleShell   Role = "shell"   // the wall of a bomb: its mass follows from the shell
	RoleCoat    Role = "coat"    // around a fruit
	RoleBase    Role = "base"    // the sheet of a bark: its mass follows from the sheet
	RoleDrizzle Role = "drizzle" // lines on top, by piece (bark: by sheet)
)

// Coating is one chocolate of a treat, melted in a pot of its own.
type Coating struct {
	Role       Role              `json:"role" enum:"shell,coat,base,drizzle"`
	Ingredient string            `json:"ingredient" doc:"Id of the chocolate"`
	Each       *measure.Quantity `json:"each,omitempty" doc:"Mass on a piece (bark: on a sheet); not given for shell and base, which follow from the sizes"`
	Pool       measure.Quantity  `json:"pool" doc:"What must be left in the bowl to work from; it comes back"`
}

// Portion is something that goes in or on a treat.
type Portion struct {
	Ingredient string           `json:"ingredient"`
	Each       measure.Quantity `json:"each" doc:"Amount for a piece (bark: for a sheet)"`
}

// Pack is packaging: so much of a supply for so many pieces or bags.
type Pack struct {
	Supply string           `json:"supply" doc:"Id of the supply"`
	Amount measure.Quantity `json:"amount" doc:"each, or a length of ribbon"`
	Per    int              `json:"per" doc:"Pieces (bark: bags) that it serves; begun ones count whole"`
}

// Work is one step of the making.
type Work struct {
	ID       string  `json:"id" doc:"Short name, unique in the treat"`
	Name     string  `json:"name" doc:"What to do"`
	PerBatch float64 `json:"perBatch" doc:"Hands-on minutes, once"`
	PerRound float64 `json:"perRound" doc:"Hands-on minutes for each round or sheet"`
	PerPiece float64 `json:"perPiece" doc:"Hands-on minutes for each piece or bag"`
	Wait     int     `json:"wait" doc:"Minutes that it then sets, chills or dries without hands"`
	Place    string  `json:"place,omitempty" enum:"counter,fridge,freezer" doc:"Where it waits"`
	Pot      Role    `json:"pot,omitempty" enum:"shell,coat,base,drizzle" doc:"The coating that it needs ready"`
	Rounds   bool    `json:"rounds,omitempty" doc:"Done once for each filling of the moulds: the next waits for this one to set"`
	Fills    bool    `json:"fills,omitempty" doc:"The portions go in or on at this step"`
	Ages     bool    `json:"ages,omitempty" doc:"Keeping time counts from the start of this step"`
}

// chocolateRoles that a family needs.
func (f Family) roles() []Role {
	switch f {
	case Bomb:
		return []Role{RoleShell, RoleDrizzle}
	case Fruit:
		return []Role{RoleCoat, RoleDrizzle}
	default:
		return []Role{RoleBase, RoleDrizzle}
	}
}

// Sold is the word for what is counted in an order, for one and for many.
func (f Family) Sold(n int) string {
	switch {
	case f == Bark && n == 1:
		return "bag"
	case f == Bark:
		return "bags"
	case n == 1:
		return "piece"
	default:
		return "pieces"
	}
}

// mm of a length that Check has passed.
func mm(q measure.Quantity) float64 {
	v, _ := q.In(measure.Millimetre, measure.Substance{})
	return v
}

// Check finds every fault of the formula, against the ingredients and supplies of the kitchen (names by id).
// The error is an *invalid.Error with JSON paths from the formula.
func (f *Formula) Check(ingredients map[string]Ingredient, supplies map[string]string) error {
	var faults invalid.Faults
	f.checkNumbers(&faults)
	switch f.Family {
	case Bomb:
		f.checkShell(&faults)
	case Fruit:
		f.checkFruit(&faults, ingredients)
	case Bark:
		f.checkSheet(&faults)
	default:
		faults.Add("family", fmt.Sprintf("%q is not a family we can compute: choose bomb, fruit or bark.", f.Family))
		return faults.Err()
	}
	f.checkCoatings(&faults, ingredients)
	for i, p := range f.Portions {
		path := fmt.Sprintf("portions[%d]", i)
		known, ok := ingredients[p.Ingredient]
		if !ok {
			faults.Add(path+".ingredient", "This ingredient is not in the larder: choose one that is, or add it there first.")
			continue
		}
		if _, err := p.base(known); err != nil {
			faults.Add(path+".each", known.Name+": "+err.Error())
		}
	}
	for i, p := range f.Packs {
		path := fmt.Sprintf("packs[%d]", i)
		if _, ok := supplies[p.Supply]; !ok {
			faults.Add(path+".supply", "This packaging is not in the larder: choose one that is, or add it there first.")
		}
		if d, ok := p.Amount.Unit.Dimension(); !ok {
			faults.Add(path+".amount", (&measure.UnknownUnit{Unit: p.Amount.Unit}).Error())
		} else if d != measure.Count && d != measure.Length {
			faults.Add(path+".amount", "Packaging is counted or measured by length: use each or cm.")
		} else if !(p.Amount.Amount > 0) || p.Amount.Amount > 1e6 {
			faults.Add(path+".amount", "The amount must be more than 0.")
		}
		if p.Per < 1 || p.Per > 10000 {
			faults.Add(path+".per", "It must serve at least 1 and at most 10 000 pieces.")
		}
	}
	f.checkSteps(&faults)
	return faults.Err()
}

func (f *Formula) checkNumbers(faults *invalid.Faults) {
	if !(f.Loss >= 0 && f.Loss <= 0.9) {
		faults.Add("loss", "The loss must be between 0 and 90 %: beyond that, mend the recipe before you sell it.")
	}
	if f.Keeps < 1 || f.Keeps > 24*365 {
		faults.Add("keeps", "It must keep at least 1 hour and at most a year.")
	}
}

func (f *Formula) checkShell(faults *invalid.Faults) {
	s := f.Shell
	if s == nil {
		faults.Add("shell", "A drink bomb needs a shell: its size across and its wall.")
		return
	}
	faults.Under("shell.across", s.Across.Check(measure.Length))
	faults.Under("shell.wall", s.Wall.Check(measure.Length))
	if mm(s.Wall) >= mm(s.Across)/2 && mm(s.Across) > 0 {
		faults.Add("shell.wall", fmt.Sprintf("A wall of %s leaves no hollow in a ball %s across: make it less than half of that.",
			measure.Show(s.Wall, measure.Substance{}).Metric, measure.Show(s.Across, measure.Substance{}).Metric))
	}
	if mm(s.Across) > 300 {
		faults.Add("shell.across", "A ball of more than 300 mm is not a drink bomb: check the unit.")
	}
	if s.Cavities < 1 || s.Cavities > 500 {
		faults.Add("shell.cavities", "A mould has at least 1 cavity and at most 500.")
	}
	if s.Moulds < 1 || s.Moulds > 100 {
		faults.Add("shell.moulds", "At least 1 mould is needed, and at most 100.")
	}
}

func (f *Formula) checkFruit(faults *invalid.Faults, ingredients map[string]Ingredient) {
	if f.Fruit == nil {
		faults.Add("fruit", "A dipped fruit needs its fruit and the share of it that is fit to dip.")
		return
	}
	if !(f.Fruit.Share > 0 && f.Fruit.Share <= 1) {
		faults.Add("fruit.share", "The share fit to dip must be more than 0 and at most 100 %.")
	}
	fruit, ok := ingredients[f.Fruit.Ingredient]
	if !ok {
		faults.Add("fruit.ingredient", "This fruit is not in the larder: choose one that is, or add it there first.")
	} else if fruit.Substance.GramsEach <= 0 {
		faults.Add("fruit.ingredient", fruit.Name+" has no weight per piece: enter it in the larder, since fruit is dipped by the piece and bought by weight.")
	}
}

func (f *Formula) checkSheet(faults *invalid.Faults) {
	s := f.Sheet
	if s == nil {
		faults.Add("sheet", "Bark needs its sheet: length, width, depth, and the weight of a bag.")
		return
	}
	for name, q := range map[string]measure.Quantity{"length": s.Length, "width": s.Width, "depth": s.Depth} {
		faults.Under("sheet."+name, q.Check(measure.Length))
		if mm(q) > 2000 {
			faults.Add("sheet."+name, "More than 2 m does not fit a kitchen: check the unit.")
		}
	}
	faults.Under("sheet.bag", s.Bag.Check(measure.Mass))
	if g, _ := s.Bag.In(measure.Gram, measure.Substance{}); g > 0 && g < 1 || g > 10000 {
		faults.Add("sheet.bag", "A bag holds at least 1 g and at most 10 kg.")
	}
}

func (f *Formula) checkCoatings(faults *invalid.Faults, ingredients map[string]Ingredient) {
	seen := map[Role]bool{}
	for i, c := range f.Coatings {
		path := fmt.Sprintf("coatings[%d]", i)
		allowed := false
		for _, role := range f.Family.roles() {
			allowed = allowed || role == c.Role
		}
		switch {
		case !allowed:
			faults.Add(path+".role", fmt.Sprintf("A %s has no %q chocolate.", f.Family, c.Role))
		case seen[c.Role]:
			faults.Add(path+".role", fmt.Sprintf("There is a %q chocolate already: keep one.", c.Role))
		}
		seen[c.Role] = true
		if known, ok := ingredients[c.Ingredient]; !ok {
			faults.Add(path+".ingredient", "This chocolate is not in the larder: choose one that is, or add it there first.")
		} else if known.Chocolate == nil {
			faults.Add(path+".ingredient", known.Name+" is not a chocolate: choose one, or say in the larder what kind it is.")
		}
		byPiece := c.Role == RoleCoat || c.Role == RoleDrizzle
		switch {
		case byPiece && c.Each == nil:
			faults.Add(path+".each", "Say how much of it goes on a piece.")
		case byPiece:
			faults.Under(path+".each", c.Each.Check(measure.Mass))
		case c.Each != nil:
			faults.Add(path+".each", "This mass follows from the sizes: leave it out.")
		}
		if d, ok := c.Pool.Unit.Dimension(); !ok {
			faults.Add(path+".pool", (&measure.UnknownUnit{Unit: c.Pool.Unit}).Error())
		} else if d != measure.Mass || !(c.Pool.Amount >= 0) || c.Pool.Amount > 1e6 {
			faults.Add(path+".pool", "The working pool is a mass of 0 or more, such as 250 g.")
		}
	}
	if main := f.Family.roles()[0]; !seen[main] {
		faults.Add("coatings", fmt.Sprintf("A %s needs a chocolate for its %s.", f.Family, main))
	}
}

func (f *Formula) checkSteps(faults *invalid.Faults) {
	if len(f.Steps) == 0 || len(f.Steps) > 50 {
		faults.Add("steps", "A treat is made in at least 1 step and at most 50.")
	}
	ids, coated := map[string]bool{}, map[Role]bool{"": true}
	for _, c := range f.Coatings {
		coated[c.Role] = true
	}
	hands := 0.0
	for i, s := range f.Steps {
		path := fmt.Sprintf("steps[%d]", i)
		if s.ID == "" || len(s.ID) > 40 || ids[s.ID] {
			faults.Add(path+".id", "Every step has a short name of its own.")
		}
		ids[s.ID] = true
		if s.Name == "" || len(s.Name) > 200 {
			faults.Add(path+".name", "Say what is done, in at most 200 letters.")
		}
		for name, minutes := range map[string]float64{"perBatch": s.PerBatch, "perRound": s.PerRound, "perPiece": s.PerPiece} {
			if !(minutes >= 0 && minutes <= 1440) {
				faults.Add(path+"."+name, "Minutes are between 0 and 1440.")
			}
			hands += minutes
		}
		if s.Wait < 0 || s.Wait > 7*1440 {
			faults.Add(path+".wait", "Waiting is between 0 minutes and a week.")
		}
		if !coated[s.Pot] {
			faults.Add(path+".pot", fmt.Sprintf("The step works with the %s chocolate, which the treat does not have.", s.Pot))
		}
	}
	if len(f.Steps) > 0 && hands == 0 {
		faults.Add("steps", "All steps take no time: enter the hands-on minutes.")
	}
}

// base is the amount of one portion in the unit that the ingredient is kept in.
func (p Portion) base(known Ingredient) (float64, error) {
	if d, ok := p.Each.Unit.Dimension(); ok && d == measure.Length {
		return 0, fmt.Errorf("An amount cannot be a length: use g, tbsp or each.")
	}
	if !(p.Each.Amount > 0) || p.Each.Amount > 1e6 {
		return 0, fmt.Errorf("The amount must be more than 0.")
	}
	return p.Each.In(known.Unit, known.Substance)
}
