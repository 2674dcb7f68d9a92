package batch

import (
	"math"
	"slices"

	"zestytin/core/family"
	"zestytin/core/fault"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/measure"
	"zestytin/core/plan"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// Card is the batch card: all that follows from a formula and a count.
type Card struct {
	Family    treat.Family        `json:"family"`
	Good      int                 `json:"good"`
	Sold      reason.Word         `json:"sold"`
	Start     int                 `json:"start"`
	StartWhy  Why                 `json:"startWhy"`
	Stages    []StageOf           `json:"stages"`
	Sure      float64             `json:"sure,omitempty"`
	SureWhole *float64            `json:"sureWhole,omitempty"`
	Rounds    *Rounds             `json:"rounds,omitempty"`
	Look      food.Chocolate      `json:"look"`
	Sizes     Sizes               `json:"sizes"`
	Designs   []DesignShare       `json:"designs"`
	Pots      []Pot               `json:"pots"`
	Mixes     []Mixed             `json:"mixes"`
	Until     string              `json:"until,omitempty"` // the last day of what was made ahead and is in it
	Boil      *Boil               `json:"boil,omitempty"`
	Needs     []Need              `json:"needs"`
	Packs     []Packed            `json:"packs"`
	Steps     []Step              `json:"steps"`
	Tool      *plan.MouldResource `json:"tool,omitempty"`
	Hands     si.Minutes          `json:"hands"`
	Melting   si.Minutes          `json:"melting"`
	Wait      si.Minutes          `json:"wait"`
	HandsWhy  Why                 `json:"handsWhy"`
	Spare     reason.Reason       `json:"spare,omitzero"`
	Balance   Balance             `json:"balance"`
	Allergens []string            `json:"allergens"`
	Declared  []reason.Word       `json:"declared"`
	Diets     []food.Diet         `json:"diets"`
	Label     string              `json:"label"`
	Care      []reason.Reason     `json:"care"`
	Cautions  []family.Caution    `json:"-"` // the family's own
	Parts     []food.Part         `json:"-"` // what is in it, for its label
	Keeps     int                 `json:"keeps"`
	FreshFrom ident.Step          `json:"freshFrom"`
	PieceMass si.Grams            `json:"pieceMass"`
	Piece     measure.Shown       `json:"piece"`
	PieceWhy  Why                 `json:"pieceWhy"`
	Counts    []Want              `json:"counts"`
	Extent    *Extent             `json:"extent,omitempty"` // of a piece, where it is known
	Note      string              `json:"note,omitempty"`
	Kept      Kept                `json:"kept"`
	Ways      []fault.Way         `json:"ways,omitempty"` // how it is made, as far as faults follow from it
}

// Extent of a finished piece, in mm and as it is read.
type Extent struct {
	family.Extent
	Sides [3]measure.Shown `json:"sides"`
}

// Kept is how finished pieces are kept: one truth for the card, the label and the quote.
type Kept struct {
	Where treat.Storage   `json:"where"`
	Text  []reason.Reason `json:"text"`
}

// Rounds of moulds, sheets or pans.
type Rounds struct {
	Count  int           `json:"count"`
	Word   string        `json:"word"`
	Text   reason.Reason `json:"text"`
	Fill   reason.Reason `json:"fill"`
	Why    Why           `json:"why"`
	Hint   reason.Reason `json:"hint,omitzero"`
	Moulds *Moulds       `json:"moulds,omitempty"`
}

// Sizes that follow from the formula, to draw it and to check it; what does not belong to the family is not given.
type Sizes struct {
	Wall   *measure.Shown `json:"wall,omitempty"`
	Shell  *measure.Shown `json:"shell,omitempty"`
	Holds  *measure.Shown `json:"holds,omitempty"`
	Fills  *measure.Shown `json:"fills,omitempty"`
	Centre *measure.Shown `json:"centre,omitempty"`
	Across *measure.Shown `json:"across,omitempty"`
	Mix    *measure.Shown `json:"mix,omitempty"`
	Note   reason.Reason  `json:"note,omitzero"`
	Rest   reason.Reason  `json:"rest,omitzero"`
	Drawn  Lengths        `json:"drawn"`
}

// Lengths of a treat for whoever draws it to scale: what was typed, in whatever unit, in mm, and what follows.
type Lengths struct {
	Mould  *measure.Shown `json:"mould,omitempty"`  // across, of a ball, at the brim of a cup, of a cavity
	Foot   *measure.Shown `json:"foot,omitempty"`   // across, of a cup or a loaf
	Height *measure.Shown `json:"height,omitempty"` // of a cup; of a cavity its depth
	Cap    *measure.Shown `json:"cap,omitempty"`    // of a moulded piece, how deep
	Dipped *measure.Shown `json:"dipped,omitempty"` // of a rod
	Length *measure.Shown `json:"length,omitempty"` // of a sheet or pan
	Width  *measure.Shown `json:"width,omitempty"`
	Depth  *measure.Shown `json:"depth,omitempty"`
	Trim   *measure.Shown `json:"trim,omitempty"`
	Coated *measure.Shown `json:"coated,omitempty"` // across, of a centre with its coat
}

// DesignShare is one of a set.
type DesignShare struct {
	Name      string         `json:"name"`
	Good      int            `json:"good"`
	Start     int            `json:"start"`
	PieceMass si.Grams       `json:"pieceMass"`
	Why       Why            `json:"why"`
	Allergens []string       `json:"allergens"`
	Diets     []food.Diet    `json:"diets"`
	Look      food.Chocolate `json:"look"`
}

// Boil is how far cooked fudge is boiled in this kitchen.
type Boil struct {
	At   reason.Reason `json:"at"`
	From float64       `json:"from"`
	To   float64       `json:"to"`
	Text reason.Reason `json:"text"`
	Why  Why           `json:"why"`
}

// Packed is packaging in all.
type Packed struct {
	Supply ident.Supply     `json:"supply"`
	Amount measure.Quantity `json:"amount"` // each, or mm for lengths
	Why    Why              `json:"why"`
}

// Compute makes the batch card of count pieces (of what is bagged by weight: bags) of a formula that family.Check has
// passed, so that they are enough with the kitchen's sureness.
func Compute(f *treat.Formula, count int, k *treat.Inputs) (*Card, error) {
	starts, err := want(f, count, k).starts()
	if err != nil {
		return nil, err
	}
	rounds, err := starts.layOut()
	if err != nil {
		return nil, err
	}
	return rounds.account().needs().layDown().card(), nil
}

// KeptOf a treat of a name is how it is kept, in one sentence.
func (c *Card) KeptOf(name string) reason.Reason {
	return reason.Of("batch.kept-of", reason.Name(name), reason.Text(c.Kept.Text))
}

// Draw is what a step of the card takes from a bowl; nil where it takes nothing.
func (c *Card) Draw(step ident.Step) *ledger.Draw {
	if n := slices.IndexFunc(c.Steps, func(s Step) bool { return s.ID == step }); n >= 0 {
		return c.Steps[n].Draw
	}
	return nil
}

// card gathers all of it.
func (s *steps) card() *Card {
	c := &Card{
		Family: s.f.Family, Good: s.good, Sold: s.is.Counted(s.good), Start: s.start, StartWhy: s.startWhy(),
		Stages: s.stages, Sure: s.sure,
		Rounds: s.roundsOf(), Designs: s.designs(), Pots: s.pots(), Mixes: s.mixes, Boil: s.boil(),
		Needs: s.needs.needs, Packs: s.packs(),
		Steps: s.steps, Hands: s.hands, Melting: s.melting, Wait: s.wait, Spare: s.spare(), Balance: s.balance,
		Keeps: s.keeps(), FreshFrom: s.freshFrom, PieceMass: s.mass, Piece: grams(s.mass),
		PieceWhy: pieceWhy(s.balance), Note: s.f.Note,
	}
	c.Counts = c.counts()
	c.Until = s.until()
	c.HandsWhy = handsWhy(c)
	if m := s.lay.Moulds; m != nil && m.Once == "" {
		c.Tool = &plan.MouldResource{ID: m.Tool, Count: s.moulds.Used}
	}
	if len(s.f.Finishes) > 0 && !s.f.Whole {
		c.SureWhole = new(s.sureOfEach())
	}
	s.name(c)
	s.size(c)
	c.Kept, c.Ways = s.kept(), s.ways(c)
	if of, known := family.ExtentOf(s.f, s.k); known {
		c.Extent = &Extent{Extent: of}
		for i, mm := range []float64{of.Length, of.Width, of.Height} {
			c.Extent.Sides[i] = measure.Show(measure.Of(mm, measure.Millimetre), measure.Substance{})
		}
	}
	c.Care, c.Cautions = s.care(c), s.law.Care(s.f, s.k)
	return c
}

// sureOfEach is how sure one is that every design comes out in its full number.
func (s *steps) sureOfEach() float64 {
	joint := 1.0
	for d, units := range s.at(len(s.f.Steps) - 1) {
		joint *= SureOf(int(units), s.goods[d], s.f.Loss)
	}
	return joint
}

func (s *steps) designs() []DesignShare {
	list := []DesignShare{}
	for d, f := range s.f.Finishes {
		one := DesignShare{Name: f.Name, Good: s.goods[d], Start: int(s.at(len(s.f.Steps) - 1)[d]),
			PieceMass: s.pieces[d], Allergens: []string{}, Diets: food.Diets(), Look: s.look(&f, nil)}
		for _, of := range s.madeOf(&f) {
			one.Allergens = treat.Union(one.Allergens, of.Allergens)
			one.Diets = slices.DeleteFunc(one.Diets, func(x food.Diet) bool { return !slices.Contains(of.Diets, x) })
		}
		slices.Sort(one.Allergens)
		one.Why = designWhy(&one)
		list = append(list, one)
	}
	return list
}

// madeOf are the ingredients of one design: of its own coatings and portions and of its centre.
func (s *steps) madeOf(d *treat.Design) []food.Ingredient {
	var list []food.Ingredient
	var seen []ident.Ingredient
	add := func(id ident.Ingredient) {
		for _, used := range s.k.Uses(id) {
			if of, ok := s.k.Ingredients[used]; ok && !slices.Contains(seen, used) {
				list, seen = append(list, of), append(seen, used)
			}
		}
	}
	for _, role := range s.law.Roles() {
		for _, c := range s.f.CoatingsOf(d, role) {
			add(c.Ingredient)
			for _, x := range c.Stirs() {
				if x != nil {
					add(x.Ingredient)
				}
			}
		}
	}
	for _, p := range slices.Concat(s.f.Portions, d.Portions) {
		add(p.Ingredient)
	}
	if c := s.f.CentreOf(d); c != nil {
		add(c.Of)
	}
	return list
}

func (s *steps) packs() []Packed {
	list := []Packed{}
	for _, p := range s.f.Packs {
		d, _ := p.Amount.Unit.Dimension()
		one, _ := p.Amount.In(d.Base(), measure.Substance{})
		for_, what := s.good, s.is.Counted(s.good)
		if p.Making {
			for_, what = s.begunFirst(), "started"
		}
		q := measure.Of(one*float64((for_+p.Per-1)/p.Per), d.Base())
		list = append(list, Packed{Supply: p.Supply, Amount: q, Why: packWhy(p, for_, what, q)})
	}
	if m := s.lay.Moulds; m != nil && m.Once != "" {
		cells := 0
		for _, n := range s.cells {
			cells += n
		}
		used := (cells + m.Cavities - 1) / m.Cavities
		list = append(list, Packed{Supply: m.Once, Amount: measure.Of(float64(used), measure.Each),
			Why: because("batch.moulds-used-up", reason.Count{N: used, Of: reason.Word("mould")}, reason.Int(cells),
				reason.Several(m.Cells), reason.Int(m.Cavities))})
	}
	return list
}

// begunFirst is how many pieces the first step begins: what is used while making is used for all of them.
func (s *steps) begunFirst() int {
	if len(s.begun) == 0 {
		return s.start
	}
	if lay := s.lay.Sheet; lay != nil {
		return s.start
	}
	return int(math.Ceil(sum(s.at(0)) - 1e-9))
}

// boil is how far cooked fudge is boiled here: soft ball falls with the boiling point of water (rules 4.6).
func (s *steps) boil() *Boil {
	if !slices.Contains(s.law.Care(s.f, s.k), family.BoilsSugar) {
		return nil
	}
	return boilOf(treat.CandyTarget(treat.SoftBall.From, s.k.Boiling),
		treat.CandyTarget(treat.SoftBall.To, s.k.Boiling), s.k.Boiling)
}

// name allergens, diets and the label from all that goes in.
func (s *steps) name(c *Card) {
	c.Allergens, c.Diets = []string{}, food.Diets()
	parts, all := make([]food.Part, 0, len(c.Needs)), make([]food.Ingredient, 0, len(c.Needs))
	for _, n := range c.Needs {
		if n.fit == 0 { // something is washed in it: it does not go in
			continue
		}
		known := s.k.Ingredients[n.Ingredient]
		c.Allergens = treat.Union(c.Allergens, known.Allergens)
		c.Diets = slices.DeleteFunc(c.Diets, func(d food.Diet) bool { return !slices.Contains(known.Diets, d) })
		weight, _ := s.item(n.Ingredient).Grams(n.Used.Amount * n.fit)
		parts, all = append(parts, food.Part{Ingredient: known, Grams: weight}), append(all, known)
	}
	c.Parts = parts
	c.Label, c.Declared = food.Label(parts), s.k.Law.Declare(all)
	slices.Sort(c.Allergens)
}

// size what follows, and the chocolate that the treat is drawn in.
func (s *steps) size(c *Card) {
	show := func(x float64, u measure.Unit) *measure.Shown {
		if x == 0 {
			return nil
		}
		shown := measure.Show(measure.Of(x, u), measure.Substance{})
		return &shown
	}
	of, first := s.law.Sizes(s.f, s.k), s.f.Designs()[0]
	z := &c.Sizes
	z.Wall, z.Across, z.Shell, z.Mix = show(of.Wall, measure.Millimetre), show(of.Across, measure.Millimetre),
		show(float64(of.Shell), measure.Gram), show(of.Mix, measure.Millilitre)
	if room, hollow := s.law.Hollow(s.f); hollow {
		fills, unknown := family.Fills(s.f, s.k, &first)
		holds, takes := measure.Show(measure.Of(room, measure.Millilitre), measure.Substance{}),
			measure.Show(measure.Of(fills, measure.Millilitre), measure.Substance{})
		z.Holds, z.Fills = &holds, &takes
		z.Note, z.Rest = sizesNote(unknown), s.rest(&first)
	}
	z.Drawn = s.lengths(of)
	if s.f.CentreOf(&first) != nil {
		centre := measure.Show(measure.Grams(s.law.Centre(s.f, s.k, &first)), measure.Substance{})
		z.Centre = &centre
	}
	c.Look = s.look(&first, c.Needs)
}

// rest is how much fills the rest of a piece, in all ways in which one would measure it; nothing where nothing does.
func (s *steps) rest(d *treat.Design) reason.Reason {
	for _, p := range slices.Concat(s.f.Portions, d.Portions) {
		if !p.Rest {
			continue
		}
		known := s.item(p.Ingredient)
		grams, _ := known.Grams(s.each(*d, p))
		says := measure.Show(measure.Grams(grams), known.Substance)
		if one := known.Substance.GramsEach; one > 0 {
			return reason.Of("batch.rest-in-pieces", reason.Name(known.Name), says, measure.Other{Shown: says},
				reason.Int(int(grams.Over(one))))
		}
		return reason.Of("batch.rest", reason.Name(known.Name), says, measure.Other{Shown: says})
	}
	return reason.Reason{}
}

func (s *steps) lengths(of family.Sizes) Lengths {
	show := func(q *measure.Quantity) *measure.Shown {
		if q == nil {
			return nil
		}
		shown := measure.Show(measure.Of(treat.Millimetres(*q), measure.Millimetre), measure.Substance{})
		return &shown
	}
	var l Lengths
	if shell := s.f.Shell; shell != nil {
		l.Mould, l.Foot, l.Height = show(&shell.Across), show(shell.Base), show(shell.Height)
	}
	if s.f.Mould != nil {
		mm := func(x float64) *measure.Shown { return show(new(measure.Of(x, measure.Millimetre))) }
		cavity := s.f.Mould.Solid()
		l.Mould, l.Width, l.Foot, l.Height, l.Cap = mm(cavity.Length), mm(cavity.Width), mm(cavity.Foot),
			mm(cavity.Depth), mm(of.Cap)
	}
	if sheet := s.f.Sheet; sheet != nil {
		l.Length, l.Width, l.Depth, l.Trim = show(&sheet.Length), show(&sheet.Width), show(&sheet.Depth),
			show(sheet.Trim)
	}
	if centre := s.f.CentreOf(&s.f.Designs()[0]); centre != nil {
		l.Dipped = show(centre.Length)
		if of.Across > 0 {
			coated := measure.Of(of.Across+2*of.Wall, measure.Millimetre)
			l.Coated = show(&coated)
		}
	}
	return l
}

// look is the main chocolate, or where there is none the one there is most of in its mix, or milk: the colour of
// caramel.
func (s *steps) look(d *treat.Design, needs []Need) food.Chocolate {
	for _, role := range s.law.Roles() {
		if coating, ok := s.f.Coating(d, role); ok && role != treat.RoleDrizzle && role != treat.RoleDab {
			look := *s.k.Ingredients[coating.Ingredient].Chocolate
			if t := coating.Tint; t != nil && t.Colour != "" {
				look.Tint = t.Colour
			}
			return look
		}
	}
	return mostOf(needs, s.k)
}
