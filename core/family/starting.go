package family

import (
	"zestytin/core/measure"
	"zestytin/core/treat"
)

// Starting are the values that a number of a treat begins with when a seller first asks for it, until it is typed over.
// Sizes and weights are those of rules 2.1 to 2.7, what is stirred in and baths those of 3.3 and 2.2 (common practice);
// pools, dabs, beds and what a bath covers are from memory.
type Starting struct {
	Ball      measure.Quantity `json:"ball"`      // across
	Balls     []float64        `json:"balls"`     // common sizes, in
	Brim      measure.Quantity `json:"brim"`      // of a cup, across
	Foot      measure.Quantity `json:"foot"`      // of a cup, across
	Height    measure.Quantity `json:"height"`    // of a cup
	Wall      measure.Quantity `json:"wall"`      // of a shell
	Shell     measure.Quantity `json:"shell"`     // chocolate of one
	Mug       measure.Quantity `json:"mug"`       // that a bomb is for
	Rod       measure.Quantity `json:"rod"`       // thick
	Dipped    measure.Quantity `json:"dipped"`    // of its length
	Centre    measure.Quantity `json:"centre"`    // weighs
	Across    measure.Quantity `json:"across"`    // of a centre
	Coat      measure.Quantity `json:"coat"`      // weighs, on a truffle
	Dip       measure.Quantity `json:"dip"`       // weighs, on a piece of fruit
	Thick     measure.Quantity `json:"thick"`     // of a coat
	Lines     measure.Quantity `json:"lines"`     // on a piece
	LinesOn   measure.Quantity `json:"linesOn"`   // on a sheet or pan
	LinesOf   measure.Quantity `json:"linesOf"`   // on a piece of one design
	Portion   measure.Quantity `json:"portion"`   // of an ingredient in or on a piece
	Layer     float64          `json:"layer"`     // share of a sheet's chocolate that is the second one
	Trail     float64          `json:"trail"`     // the same, trailed over
	Filled    float64          `json:"filled"`    // share of a cavity that is the shell of a filled piece
	Cap       float64          `json:"cap"`       // and its cap
	CapPool   measure.Quantity `json:"capPool"`   // left in the bowl to work from
	LayerPool measure.Quantity `json:"layerPool"` // the same
	LinesPool measure.Quantity `json:"linesPool"`
	DipPool   measure.Quantity `json:"dipPool"`
	Parts     int              `json:"parts"` // of a set, of one design
	Trim      measure.Quantity `json:"trim"`  // off the rim of a moulded piece
	Dab       measure.Quantity `json:"dab"`   // holds a stick
	Bed       measure.Quantity `json:"bed"`   // left to roll in
	Tint      measure.Quantity `json:"tint"`  // to start with
	TintMore  measure.Quantity `json:"tintMore"`
	TintTo    measure.Quantity `json:"tintTo"` // so much chocolate
	Flavour   measure.Quantity `json:"flavour"`
	FlavourTo measure.Quantity `json:"flavourTo"`
	Thinner   measure.Quantity `json:"thinner"`
	ThinnerTo measure.Quantity `json:"thinnerTo"`
	Water     measure.Quantity `json:"water"`   // of a bath
	Vinegar   measure.Quantity `json:"vinegar"` // of a bath
	Covers    measure.Quantity `json:"covers"`  // of fruit, by one bath
	Volume    measure.Quantity `json:"volume"`  // of a cavity

	Cavities map[treat.Shape]treat.Cavity `json:"cavities"` // of each shape (memory: common moulds and foils)
}

// Begins are the starting values.
func Begins() Starting {
	mm := func(x float64) measure.Quantity { return measure.Of(x, measure.Millimetre) }
	return Starting{
		Ball: measure.Of(2.5, measure.Inch), Balls: []float64{2, 2.5}, Brim: mm(60), Foot: mm(45), Height: mm(55),
		Wall: mm(3.5), Shell: measure.Grams(52), Mug: measure.Of(8, measure.FluidOunce),
		Rod: mm(9), Dipped: mm(120), Centre: measure.Grams(12), Across: mm(25), Coat: measure.Grams(5),
		Dip: measure.Grams(8), Thick: mm(1.5),
		Lines: measure.Grams(2), LinesOn: measure.Grams(40), LinesOf: measure.Grams(1.5), Portion: measure.Grams(1),
		Layer: 0.5, Trail: 0.25, Filled: 0.4, Cap: 0.1, CapPool: measure.Grams(80), LayerPool: measure.Grams(60),
		LinesPool: measure.Grams(30), DipPool: measure.Grams(200), Parts: 4,
		Trim: measure.Grams(0.5), Dab: measure.Grams(1), Bed: measure.Grams(200), Tint: measure.Of(2, measure.Drop),
		TintMore: measure.Of(3, measure.Drop), TintTo: measure.Of(8, measure.Ounce), Flavour: measure.Of(5, measure.Drop),
		FlavourTo: measure.Of(8, measure.Ounce), Thinner: measure.Of(2, measure.Tablespoon),
		ThinnerTo: measure.Of(12, measure.Ounce), Water: measure.Of(3, measure.Cup), Vinegar: measure.Of(1, measure.Cup),
		Covers: measure.Grams(450), Volume: measure.Of(12, measure.Millilitre),
		Cavities: map[treat.Shape]treat.Cavity{
			treat.ShapeDome:  {Shape: treat.ShapeDome, Across: mm(30)},
			treat.ShapeCup:   {Shape: treat.ShapeCup, Across: mm(35), Foot: new(mm(25)), Depth: new(mm(20))},
			treat.ShapeHeart: {Shape: treat.ShapeHeart, Across: mm(35), Depth: new(mm(15))},
			treat.ShapeCube:  {Shape: treat.ShapeCube, Across: mm(25)},
			treat.ShapeBar:   {Shape: treat.ShapeBar, Across: mm(120), Width: new(mm(60)), Depth: new(mm(10))},
			treat.ShapeLoaf: {Shape: treat.ShapeLoaf, Across: mm(80), Width: new(mm(40)), Foot: new(mm(32)),
				Depth: new(mm(30))},
		},
	}
}
