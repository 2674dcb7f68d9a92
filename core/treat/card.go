package treat

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/plan"
)

// Why is how a figure came about, in one line of kitchen language.
type Why = string

// Card is the batch card: all that follows from a formula and a count.
type Card struct {
	Family    Family         `json:"family" enum:"bomb,fruit,pretzel,truffle,bark,fudge,moulded"`
	Good      int            `json:"good" doc:"Good pieces or bags wanted"`
	Sold      string         `json:"sold" doc:"The word for what is counted: pieces or bags"`
	Start     int            `json:"start" doc:"Pieces to start; for bark the sheets to spread"`
	StartWhy  Why            `json:"startWhy"`
	Rounds    *Rounds        `json:"rounds,omitempty" doc:"Fillings of the moulds, sheets or pans"`
	Look      food.Chocolate `json:"look" doc:"The chocolate that it is drawn in"`
	Sizes     Sizes          `json:"sizes"`
	Designs   []Design       `json:"designs" doc:"How the count is split; empty when all are alike"`
	Pots      []Pot          `json:"pots"`
	Mixes     []Mixed        `json:"mixes" doc:"What to make of each mix"`
	Boil      *Boil          `json:"boil,omitempty" doc:"Of cooked fudge: how far to boil it here"`
	Needs     []Need         `json:"needs" doc:"All that goes in, by ingredient"`
	Packs     []Packed       `json:"packs"`
	Steps     []Step         `json:"steps"`
	Tool      *plan.Tool     `json:"tool,omitempty" doc:"The moulds that it takes"`
	Hands     int            `json:"hands" doc:"Hands-on minutes, melting included"`
	Wait      int            `json:"wait" doc:"Waiting minutes, one after the other"`
	HandsWhy  Why            `json:"handsWhy"`
	Spare     string         `json:"spare,omitempty" doc:"What is left over when all goes as expected, and what it is good for"`
	Balance   Balance        `json:"balance" doc:"Where all that is weighed goes"`
	Allergens []string       `json:"allergens" doc:"Of all that goes in, by the names of both laws"`
	Declared  []string       `json:"declared" doc:"As a label in the EU names them"`
	Diets     []food.Diet    `json:"diets" doc:"That all of its ingredients suit"`
	Label     string         `json:"label" doc:"Ingredients in falling order of weight, sub-ingredients in brackets"`
	Care      []string       `json:"care" doc:"Cautions for whoever makes it"`
	Keeps     int            `json:"keeps" doc:"Hours"`
	FreshFrom string         `json:"freshFrom" doc:"Id of the step whose start begins the keeping time"`
	PieceMass float64        `json:"pieceMass" doc:"Grams of one finished piece or bag; of designs, their mean"`
}

// Rounds of moulds, sheets or pans.
type Rounds struct {
	Count int    `json:"count"`
	Word  string `json:"word" doc:"rounds, sheets or pans"`
	Text  string `json:"text" doc:"8 rounds of 12 cavities"`
	Fill  string `json:"fill" doc:"How full they are"`
	Why   Why    `json:"why"`
	Hint  string `json:"hint,omitempty" doc:"What one could do about a last round that is hardly worth its time"`
}

// Sizes that follow from the formula, to draw it and to check it; what does not belong to the family is not given.
type Sizes struct {
	Wall   *measure.Shown `json:"wall,omitempty" doc:"Of a bomb; of a coat, its thickness"`
	Shell  *measure.Shown `json:"shell,omitempty" doc:"Chocolate of one shell"`
	Holds  *measure.Shown `json:"holds,omitempty" doc:"Room inside"`
	Fills  *measure.Shown `json:"fills,omitempty" doc:"What goes in takes so much of it"`
	Centre *measure.Shown `json:"centre,omitempty" doc:"Mass of one centre or fill"`
	Across *measure.Shown `json:"across,omitempty" doc:"Of a centre"`
	Mix    *measure.Shown `json:"mix,omitempty" doc:"Of a bomb for a mug: mix for a medium taste; twice as much is strong"`
	Note   string         `json:"note,omitempty"`
}

// Design is one of a set.
type Design struct {
	Name      string   `json:"name"`
	Good      int      `json:"good"`
	Start     int      `json:"start"`
	PieceMass float64  `json:"pieceMass" doc:"g"`
	Allergens []string `json:"allergens"`
}

// Pot is one melt of one chocolate.
type Pot struct {
	Roles      []Role              `json:"roles"`
	Ingredient string              `json:"ingredient"`
	Name       string              `json:"name"`
	Chocolate  food.Chocolate      `json:"chocolate"`
	Melt       chocolate.Melt      `json:"melt"`
	Melted     measure.Shown       `json:"melted"`
	Used       measure.Shown       `json:"used"`
	Drained    measure.Shown       `json:"drained" doc:"Runs back out of the moulds of one round"`
	Pool       measure.Shown       `json:"pool" doc:"Left in the bowl to work from"`
	Reclaimed  measure.Shown       `json:"reclaimed"`
	Seed       *measure.Shown      `json:"seed,omitempty" doc:"Held back of what is melted, when it is seeded"`
	Method     chocolate.Method    `json:"method" enum:"none,gentle,seed,three-point"`
	Tempering  chocolate.Tempering `json:"tempering"`
	Rewarm     *Rewarm             `json:"rewarm,omitempty" doc:"How many pieces go in before the bowl thickens"`
	Advice     string              `json:"advice" doc:"How to bring it to working condition"`
	Additions  string              `json:"additions" doc:"How much thinner and flavour it takes"`
	Why        Why                 `json:"why"`
}

// Rewarm is when a bowl that pieces are dipped in needs warmth.
type Rewarm struct {
	Pieces int  `json:"pieces"`
	Why    Why  `json:"why"`
	Cooled bool `json:"cooled" doc:"It cools out of its band before it is empty"`
}

// Mixed is a mix and how much of it to make for the batch.
type Mixed struct {
	Mix   string        `json:"mix"`
	Name  string        `json:"name"`
	Make  measure.Shown `json:"make"`
	Parts []MixedPart   `json:"parts"`
	Why   Why           `json:"why"`
}

// MixedPart is what goes into a mix for the batch.
type MixedPart struct {
	Of     string        `json:"of"`
	Name   string        `json:"name"`
	Amount measure.Shown `json:"amount"`
}

// Boil is how far cooked fudge is boiled in this kitchen.
type Boil struct {
	From float64 `json:"from" doc:"C"`
	To   float64 `json:"to" doc:"C"`
	Text string  `json:"text"`
	Why  Why     `json:"why"`
}

// Need is an ingredient in all.
type Need struct {
	Ingredient string          `json:"ingredient"`
	Name       string          `json:"name"`
	Used       measure.Shown   `json:"used" doc:"What is used up: it makes the cost"`
	House      measure.Shown   `json:"house" doc:"What must be in the house, reclaimed chocolate included"`
	Cost       decimal.Decimal `json:"-"`
	Why        Why             `json:"why"`
}

// Packed is packaging in all.
type Packed struct {
	Supply string           `json:"supply"`
	Amount measure.Quantity `json:"amount"` // each, or mm for lengths
	Why    Why              `json:"why"`
}

// Balance is where all that is weighed goes, in grams: House = Pieces + Lost + Reclaimed.
type Balance struct {
	House     float64 `json:"house" doc:"g in the house at the start"`
	Pieces    float64 `json:"pieces" doc:"g of all pieces that are made, broken ones included"`
	Lost      float64 `json:"lost" doc:"g that stay on tools, boil off, crumble, are trimmed or were not fit to use"`
	Reclaimed float64 `json:"reclaimed" doc:"g of chocolate that come back"`
}

// Step is a step for this count, in the shape that the planner places.
type Step struct {
	plan.Step
	Name    string   `json:"name"`
	Role    Role     `json:"role,omitempty"`
	Amounts []string `json:"amounts" doc:"What goes in at this step, readable; in this round where it is done by rounds"`
	InAll   []string `json:"inAll,omitempty" doc:"What goes in over all rounds, at the first of several"`
}

// Compute makes the batch card of count pieces (bark: bags) of a formula that Check has passed, so that they are enough
// with the kitchen's sureness.
func Compute(f *Formula, count int, k *Kitchen) (*Card, error) {
	c := &computing{f: f, k: k, items: make(map[string]item, 8), card: &Card{
		Family: f.Family, Good: count, Sold: f.Family.Sold(count), Keeps: f.Keeps, Designs: []Design{},
		Pots: []Pot{}, Mixes: []Mixed{}, Needs: []Need{}, Packs: []Packed{}, Steps: []Step{}, Allergens: []string{}, Diets: []food.Diet{}, Care: []string{},
	}}
	if err := c.batch(count); err != nil {
		return nil, err
	}
	if c.rounds > MostRounds {
		return nil, &invalid.Error{Fields: []invalid.Field{{Path: "", Says: fmt.Sprintf("%d %s come to more than %d %s: check the sizes and the count.", count, c.card.Sold, MostRounds, c.card.Rounds.Word)}}}
	}
	c.split()
	c.centres()
	c.pots()
	c.portions()
	c.mixes()
	c.balance()
	c.packs()
	c.boil()
	c.steps()
	c.names()
	c.sizes()
	c.care()
	return c.card, nil
}

// MostRounds of moulds, sheets or pans that a card is made for.
const MostRounds = 2000

// computing is the state while a card is made.
type computing struct {
	f        *Formula
	k        *Kitchen
	card     *Card
	units    float64   // what portions and drizzle are counted by: pieces started, or sheets
	rounds   int       // fillings of the moulds, sheets or pans
	perRound float64   // pieces in a full round, 0 without moulds
	buy      int       // centres to buy, pieces
	designs  []portion // of the count
	unfit    float64   // g of what was bought and is not fit to use
	loose    float64   // g of mixes that boil off or stay in the pot
	items    map[string]item
}

// item of the kitchen, looked up but once for a card.
func (c *computing) item(id string) item {
	known, ok := c.items[id]
	if !ok {
		known, _ = c.k.item(id)
		c.items[id] = known
	}
	return known
}

// portion of the count that is one design.
type portion struct {
	Finish
	coatings map[Role]Coating
	units    float64 // pieces, sheets or pans
	piece    float64 // g on one
}

func (c *computing) batch(count int) error {
	switch c.f.Family {
	case Bark:
		c.bark(count)
		return nil
	case Fudge:
		return c.fudge(count)
	}
	start, err := StartFor(count, c.f.Loss, c.k.Sureness)
	if err != nil {
		return err
	}
	enough := start
	if c.f.Family == Bomb || c.f.Family == Moulded {
		start = c.moulds(start)
	}
	c.started(start)
	if start > enough {
		c.card.StartWhy = fmt.Sprintf("%d good at %s loss, %s sure: %d are enough; %d fill the last round.", count, measure.Percent(c.f.Loss), measure.Percent(c.k.Sureness), enough, start)
	}
	return nil
}

// started notes how many pieces are begun.
func (c *computing) started(start int) {
	c.card.Start = start
	if c.units == 0 {
		c.units = float64(start)
	}
	c.card.StartWhy = fmt.Sprintf("%d good at %s loss, %s sure: start %d.", c.card.Good, measure.Percent(c.f.Loss), measure.Percent(c.k.Sureness), start)
	if spare := int(math.Round(float64(start)*(1-c.f.Loss))) - c.card.Good; spare > 0 {
		c.card.Spare = fmt.Sprintf("About %d spare when all goes as usual: tasters or shop stock.", spare)
	}
}

// moulds lays the pieces into rounds, and fills the last one up where the seller wants that. It returns how many to start.
func (c *computing) moulds(start int) int {
	cavities, moulds, each, what := 0, 0, 1, "pieces"
	if c.f.Family == Bomb {
		cavities, moulds = c.f.Shell.Cavities, c.f.Shell.Moulds
		if _, cup := c.f.cup(); !cup {
			each, what = 2, "half shells"
		} else {
			what = "cups"
		}
	} else {
		cavities, moulds = c.f.Mould.Cavities, c.f.Mould.Moulds
	}
	if there, known := c.k.Moulds[c.f.Tool()]; known {
		moulds = there
	}
	filling := cavities * moulds
	c.rounds = (start*each + filling - 1) / filling
	if c.f.choice("last") == "whole" {
		start = c.rounds * filling / each
	}
	c.perRound = float64(filling) / float64(each)
	cells := start * each
	lastFill := cells - (c.rounds-1)*filling
	r := &Rounds{Count: c.rounds, Word: "rounds", Text: fmt.Sprintf("%s of %d cavities", plural(c.rounds, "round", "rounds"), filling), Fill: fmt.Sprintf("the last fills %d", lastFill)}
	counted := fmt.Sprintf("%d %s", cells, what)
	if c.f.Family == Bomb && each == 2 {
		counted = fmt.Sprintf("%d bombs are %d half shells", start, cells)
	}
	r.Why = fmt.Sprintf("%s; %d in %s of %d: %s, the last fills %d.", counted, filling, plural(moulds, "mould", "moulds"), cavities, plural(c.rounds, "round", "rounds"), lastFill)
	// A last round of a quarter or less is hardly worth its time (common practice): say how sure one is without it.
	if without := (c.rounds - 1) * filling / each; c.rounds > 1 && lastFill*4 <= filling && without >= c.card.Good {
		r.Hint = fmt.Sprintf("Without the last round you start %d and are still %s sure of %d.", without, measure.Percent(math.Round(SureOf(without, c.card.Good, c.f.Loss)*100)/100), c.card.Good)
	}
	c.card.Rounds = r
	c.card.Tool = &plan.Tool{ID: c.f.Tool(), Count: moulds}
	return start
}

// Tool names the moulds by their shape: treats whose moulds are alike take the same ones. It is empty where a treat has none.
func (f *Formula) Tool() string {
	switch {
	case f.Family == Moulded && f.Mould == nil, f.Family == Bomb && f.Shell == nil, f.Family != Moulded && f.Family != Bomb:
		return ""
	case f.Family == Moulded:
		return fmt.Sprintf("cavity-%.1f-ml-%d", mL(f.Mould.Volume), f.Mould.Cavities)
	case f.choice("shape") == "cup":
		return fmt.Sprintf("cup-%.1f-mm-%d", mm(f.Shell.Across), f.Shell.Cavities)
	default:
		return fmt.Sprintf("ball-%.1f-mm-%d", mm(f.Shell.Across), f.Shell.Cavities)
	}
}

// bark scales by area: a sheet gives its chocolate and its toppings, less the crumbs.
func (c *computing) bark(bags int) {
	s := c.f.Sheet
	bag := g(s.Bag)
	sheet := Slab(mm(s.Length), mm(s.Width), mm(s.Depth), chocolate.Density)
	for _, coating := range c.f.Coatings {
		sheet += g(coating.Each)
	}
	for _, p := range c.f.Portions {
		known := c.item(p.Ingredient)
		base, _ := known.base(p.Each)
		grams, _ := known.grams(base)
		sheet += grams
	}
	want := float64(bags) * bag / (1 - c.f.Loss)
	exact := want / sheet
	text, fill := c.sheets(exact, "sheet", "sheets")
	c.card.Start = c.rounds
	c.card.StartWhy = fmt.Sprintf("%d bags of %s are %s; with %s crumbs spread %s. A sheet gives %s: %s.",
		bags, grams(bag), grams(float64(bags)*bag), measure.Percent(c.f.Loss), grams(want), grams(sheet), text)
	c.card.Rounds = &Rounds{Count: c.rounds, Word: "sheets", Text: text, Fill: fill, Why: c.card.StartWhy}
	if left := int(c.units*sheet*(1-c.f.Loss)/bag+1e-9) - bags; left > 0 {
		c.card.Spare = fmt.Sprintf("Whole sheets give %s more: shop stock.", plural(left, "bag", "bags"))
	}
	c.card.PieceMass = bag
}

// fudge scales by the area of the pan at its depth.
func (c *computing) fudge(count int) error {
	start, err := StartFor(count, c.f.Loss, c.k.Sureness)
	if err != nil {
		return err
	}
	s := c.f.Sheet
	text, fill := c.sheets(float64(start)/float64(s.perSheet()), "pan", "pans")
	c.started(start)
	c.card.Rounds = &Rounds{Count: c.rounds, Word: "pans", Text: text, Fill: fill,
		Why: fmt.Sprintf("%d pieces; a pan is cut into %d rows of %d, %d pieces: %s.", start, s.Rows, s.Columns, s.perSheet(), text)}
	if whole := int(c.units*float64(s.perSheet()) + 1e-9); whole > start {
		c.card.Spare = fmt.Sprintf("Whole pans give %d pieces more than are started for the order: shop stock.", whole-start)
	}
	return nil
}

// sheets rounds to whole ones, or leaves the last as large as it needs to be.
func (c *computing) sheets(exact float64, one, many string) (text, fill string) {
	c.rounds = int(math.Ceil(min(exact, MostRounds+1) - 1e-9))
	c.units = exact
	text, fill = plural(c.rounds, one, many), "all full"
	if c.f.choice("last") == "whole" || c.rounds == 0 {
		c.units = float64(c.rounds)
	} else if part := exact - math.Floor(exact); part > 1e-9 {
		fill = fmt.Sprintf("the last one %s full", measure.Percent(math.Round(part*100)/100))
		text += ", " + fill
	}
	return text, fill
}

func grams(x float64) string { return measure.Show(measure.Grams(x), measure.Substance{}).Metric }

// split the count into the designs. Places go one by one to the design that is furthest behind its share (the divisor method
// of Webster and Sainte-Lague), so that no design ever gets fewer of a larger count.
func (c *computing) split() {
	designs := c.f.designs()
	c.designs = make([]portion, len(designs))
	for i, d := range designs {
		c.designs[i] = portion{Finish: d, coatings: c.f.coatings(d)}
	}
	if len(c.f.Finishes) == 0 {
		c.designs[0].units = c.units
		return
	}
	good, start := apportion(designs, c.card.Good), apportion(designs, c.card.Start)
	for i, d := range designs {
		c.designs[i].units = float64(start[i])
		c.card.Designs = append(c.card.Designs, Design{Name: d.Name, Good: good[i], Start: start[i], Allergens: []string{}})
	}
}

func apportion(designs []Finish, n int) []int {
	got := make([]int, len(designs))
	total := 0
	for _, d := range designs {
		total += d.Parts
	}
	if total == 0 {
		return got
	}
	// Whole sets divide evenly; only the rest has to be handed out one by one.
	for i, d := range designs {
		got[i] = n / total * d.Parts
	}
	base := slices.Clone(got)
	for range n % total {
		next := 0
		for i, d := range designs {
			// (2 have + 1) / parts is smallest where the next place is due.
			if (2*(got[i]-base[i])+1)*designs[next].Parts < (2*(got[next]-base[next])+1)*d.Parts {
				next = i
			}
		}
		got[next]++
	}
	return got
}

// onto adds grams to each piece of a design.
func (c *computing) onto(i int, grams float64) { c.designs[i].piece += grams }

// centres: what is dipped, coated, poured or filled in.
func (c *computing) centres() {
	if c.f.Centre == nil {
		return
	}
	of := c.item(c.f.Centre.Of)
	each := c.centre()
	for i := range c.designs {
		c.onto(i, each)
	}
	switch c.f.Family {
	case Fruit, Pretzel:
		share := c.f.Centre.Share
		if share == 0 {
			share = of.fit
		}
		c.buy = int(math.Ceil(c.units/share - 1e-9))
		amount := float64(c.buy)
		if of.unit == measure.Gram {
			amount *= each
		}
		c.unfit += float64(c.buy)*each - c.units*each
		c.need(of, amount, amount, fmt.Sprintf("%s of what is bought is fit to dip: %d to dip, buy %d of %s each.", measure.Percent(share), c.card.Start, c.buy, grams(each)))
	default:
		c.take(of, each*c.units, fmt.Sprintf("%s in each of %s.", grams(each), c.unitsText()))
	}
}

// centre is the mass of one centre in g: of a piece, or of the slab in a pan.
func (c *computing) centre() float64 {
	s := c.f.Centre
	of := c.item(s.Of)
	switch c.f.Family {
	case Fruit, Pretzel:
		if s.Size != "" {
			return of.substance.Measures[s.Size]
		}
		return of.substance.GramsEach
	case Truffle:
		if s.Each != nil {
			return g(s.Each)
		}
		return 2 * HalfShell(mm(*s.Across), mm(*s.Across), of.substance.Density)
	case Fudge:
		pan := c.f.Sheet
		return Slab(mm(pan.Length), mm(pan.Width), mm(pan.Depth), of.substance.Density)
	default:
		fills, _ := c.k.fills(c.f, c.designs[0].Finish)
		return max(c.f.room()-fills, 0) * of.substance.Density
	}
}

// eachOf is the grams of a coating on one unit (a piece, a sheet, a pan), and what is poured beyond that and drained.
func (c *computing) eachOf(coating Coating) (grams, drained float64) {
	switch coating.Role {
	case RoleShell:
		return c.shell()
	case RoleCap:
		return mL(c.f.Mould.Volume) * c.f.Mould.Cap * chocolate.Density, 0
	case RoleBase, RoleLayer:
		s := c.f.Sheet
		slab, share := Slab(mm(s.Length), mm(s.Width), mm(s.Depth), chocolate.Density), coating.Share
		if coating.Role == RoleBase {
			share = 1
			for _, other := range c.f.Coatings {
				share -= other.Share
			}
		}
		return slab * share, 0
	}
	if coating.Thick != nil {
		return Coat(Across(c.centre(), c.k.density(c.f)), mm(*coating.Thick), chocolate.Density), 0
	}
	return g(coating.Each), 0
}

// shell is the chocolate of one shell in g, and what is drained where the mould is filled to the brim and turned out: all but
// the wall runs back (handbook 2.1).
func (c *computing) shell() (grams, drained float64) {
	brim := 0.0
	if c.f.Family == Moulded {
		brim = mL(c.f.Mould.Volume) * chocolate.Density
		grams = brim * c.f.Mould.Shell
	} else if cup, ok := c.f.cup(); ok {
		brim = frustum(cup.Top, cup.Base, cup.Height) * chocolate.Density
		grams = cup.Mass(c.f.wall(), chocolate.Density)
	} else {
		across := mm(c.f.Shell.Across)
		brim = 2 * HalfShell(across, across, chocolate.Density)
		grams = 2 * HalfShell(across, c.f.wall(), chocolate.Density)
	}
	if c.f.choice("coat") == "drain" {
		drained = max(brim-grams, 0)
	}
	return grams, drained
}

// batchPot gathers the coatings of one chocolate.
type batchPot struct {
	roles             []Role
	ingredient        string
	onPieces, drained float64
	pool              float64
	method            chocolate.Method
	parts             []string
	coat              float64 // g on a piece, of what is dipped
	dipped            int
}

func (c *computing) pots() {
	pots := []*batchPot{}
	find := func(ingredient string) *batchPot {
		for _, p := range pots {
			if p.ingredient == ingredient {
				return p
			}
		}
		pots = append(pots, &batchPot{ingredient: ingredient})
		return pots[len(pots)-1]
	}
	unit := map[Family]string{Bark: "sheets", Fudge: "pans"}[c.f.Family]
	if unit == "" {
		unit = "pieces"
	}
	for _, role := range c.f.Family.roles() {
		for i := range c.designs {
			d := &c.designs[i]
			coating, ok := d.coatings[role]
			if !ok {
				continue
			}
			each, drained := c.eachOf(coating)
			c.onto(i, each)
			p := find(coating.Ingredient)
			// What is drained from one round is there for the next: only one round of it is ever in the pot at once.
			atOnce := d.units
			if c.perRound > 0 {
				atOnce = math.Min(d.units, c.perRound)
			}
			p.onPieces += each * d.units
			p.drained = math.Max(p.drained, drained*atOnce)
			p.pool = math.Max(p.pool, g(&coating.Pool))
			if p.method == "" {
				p.method = coating.Method
			}
			if !slices.Contains(p.roles, role) {
				p.roles = append(p.roles, role)
			}
			if role == RoleCoat {
				p.coat, p.dipped = each, p.dipped+int(d.units)
			}
			p.parts = append(p.parts, fmt.Sprintf("%s on each of %s %s", grams(each), measure.Number(d.units), unit))
		}
	}
	for _, p := range pots {
		if p.onPieces > 0 {
			c.pot(p)
		}
	}
}

func (c *computing) pot(p *batchPot) {
	known := c.item(p.ingredient)
	of := *known.food.Chocolate
	if p.method == "" {
		p.method = c.methodFor(of.Kind, p.roles)
	}
	melt := chocolate.Plan(p.onPieces, p.drained, p.pool)
	show := func(x float64) measure.Shown { return measure.Show(measure.Grams(x), measure.Substance{}) }
	pot := Pot{
		Roles: p.roles, Ingredient: p.ingredient, Name: known.name, Chocolate: of, Melt: melt,
		Melted: show(melt.Melted), Used: show(melt.Used), Reclaimed: show(melt.Reclaimed), Drained: show(p.drained), Pool: show(p.pool),
		Method: p.method, Tempering: chocolate.Temper(p.method, of.Kind, of.Temperatures(), chocolate.Microwave, melt.Melted, c.k.Room),
	}
	if pot.Tempering.Seed > 0 {
		seed := show(pot.Tempering.Seed)
		pot.Seed = &seed
	}
	pot.Advice = strings.Join(pot.Tempering.Steps, " ")
	pot.Why = fmt.Sprintf("%s, 2 %% stays on the tools: %s used. With ", strings.Join(p.parts, ", "), pot.Used.Metric)
	if p.drained > 0 {
		pot.Why += pot.Drained.Metric + " that drains back and "
	}
	pot.Why += pot.Pool.Metric + " left in the bowl to work from"
	if melt.Used+p.drained+p.pool < melt.Melted-1e-9 {
		pot.Why += fmt.Sprintf(", but never less than the %s that melt evenly", grams(chocolate.LeastMelt))
	}
	pot.Why += fmt.Sprintf(": melt %s, %s comes back.", pot.Melted.Metric, pot.Reclaimed.Metric)
	pot.Additions = additions(of.Kind, melt.Melted)
	if p.dipped > 0 {
		if pot.Rewarm = c.rewarm(p, pot); pot.Rewarm.Cooled {
			pot.Advice += fmt.Sprintf(" About %d go in, then warm it for 5 to 10 s.", pot.Rewarm.Pieces)
		}
	}
	c.card.Pots = append(c.card.Pots, pot)
	c.need(known, melt.Used, melt.Melted, pot.Why)
}

// additions that a pot takes: thinner where it is compound, and flavour.
func additions(kind chocolate.Kind, grams float64) string {
	drops := chocolate.FlavourDrops(grams)
	flavour := fmt.Sprintf("Flavour oil: %.0f to %.0f drops.", drops.From, drops.To)
	if kind == chocolate.Compound {
		thinner := measure.Show(chocolate.Thinner(grams), measure.Substance{})
		return fmt.Sprintf("Too thick: up to %s (%s) of a fat-based thinner. %s Never water, nor colour or flavour with water in it.", thinner.US, thinner.Metric, flavour)
	}
	return flavour + " Never water, nor colour or flavour with water in it: it seizes."
}

// methodFor a chocolate whose method is not given: what will be hidden under rolling need not be tempered.
func (c *computing) methodFor(kind chocolate.Kind, roles []Role) chocolate.Method {
	if c.f.choice("skin") == "rolled" && slices.Equal(roles, []Role{RoleCoat}) {
		return chocolate.NoTemper
	}
	return chocolate.MethodFor(kind)
}

// rewarm works out how many pieces go into the bowl before it thickens (handbook 4.4).
func (c *computing) rewarm(p *batchPot, pot Pot) *Rewarm {
	piece := chocolate.Piece{Mass: c.centre(), At: c.k.Room, Heat: chocolate.HeatOfCentre, Seconds: chocolate.DipSeconds}
	density := c.k.density(c.f)
	switch c.f.Family {
	case Truffle:
		if piece.At = -18; c.f.choice("centres") == "fridge" {
			piece.At = 5
		}
	case Fruit:
		piece.Heat, density = chocolate.HeatOfFruit, 1
	}
	piece.Across = Across(piece.Mass, density)
	work := chocolate.Working(pot.Method, pot.Chocolate.Kind, pot.Tempering.Bands)
	n, cooled := chocolate.Bowl{Mass: pot.Melt.Melted, From: work.To, Until: work.From, Coat: p.coat, Piece: piece}.Dips()
	r := &Rewarm{Pieces: min(n, p.dipped), Cooled: cooled && n < p.dipped}
	centre := fmt.Sprintf("Centres of %s at %s, about %d s in a bowl of %s", grams(piece.Mass), chocolate.Degree(piece.At), int(piece.Seconds), pot.Melted.Metric)
	if r.Cooled {
		r.Why = fmt.Sprintf("%s: about %d go in before it falls from %s to %s and thickens. Then warm it for 5 to 10 s, stirring. A bigger bowl, warmer centres or smaller sets help.",
			centre, r.Pieces, chocolate.Degree(work.To), chocolate.Degree(work.From))
	} else {
		r.Why = centre + " hardly cool it: all of them go in. Warm it when it has stood too long."
	}
	return r
}

func (c *computing) portions() {
	for i := range c.designs {
		d := &c.designs[i]
		for _, p := range slices.Concat(c.f.Portions, d.Portions) {
			known := c.item(p.Ingredient)
			each, _ := known.base(p.Each)
			if grams, ok := known.grams(each); ok {
				c.onto(i, grams)
			}
			if d.units > 0 {
				why := fmt.Sprintf("%s on each of %s.", measure.Show(p.Each, known.substance).Metric, c.unitsOf(d.units))
				if known.fit < 1 {
					why += fmt.Sprintf(" %s of what is bought is fit to use.", measure.Percent(known.fit))
				}
				c.take(known, each*d.units, why)
			}
		}
	}
}

func (c *computing) unitsText() string { return c.unitsOf(c.units) }

func (c *computing) unitsOf(units float64) string {
	switch c.f.Family {
	case Bark:
		return measure.Number(units) + " sheets"
	case Fudge:
		return measure.Number(units) + " pans"
	default:
		return measure.Number(units) + " started"
	}
}

// take an amount (in its own unit) of what goes into the treat: of an ingredient as much more as is not fit to use, of a mix
// all that goes into it.
func (c *computing) take(of item, amount float64, why Why) {
	if of.mix == nil {
		bought := amount / of.fit
		if lost, ok := of.grams(bought - amount); ok {
			c.unfit += lost
		}
		c.need(of, bought, bought, why)
		return
	}
	w := of.mix.Weigh(c.k)
	times := amount / w.Yield
	c.loose += w.In*times - amount
	m := c.mixed(of)
	m.Make = measure.Show(measure.Grams(m.Make.Amount+amount), of.substance)
	m.Why = strings.TrimSpace(m.Why + " " + why)
	for i, p := range of.mix.Parts {
		part := c.item(p.Of)
		base, _ := part.base(p.Amount)
		m.Parts[i].Amount = part.show(m.Parts[i].Amount.Amount + base*times)
	}
	for _, p := range of.mix.Parts {
		part := c.item(p.Of)
		base, _ := part.base(p.Amount)
		c.take(part, base*times, fmt.Sprintf("%s for %s.", part.show(base*times).Metric, of.name))
	}
}

// mixed is the entry of a mix, made when it is first needed. The pointer is good until the next call.
func (c *computing) mixed(of item) *Mixed {
	for i := range c.card.Mixes {
		if c.card.Mixes[i].Mix == of.id {
			return &c.card.Mixes[i]
		}
	}
	m := Mixed{Mix: of.id, Name: of.name, Parts: make([]MixedPart, len(of.mix.Parts))}
	for i, p := range of.mix.Parts {
		part := c.item(p.Of)
		m.Parts[i] = MixedPart{Of: p.Of, Name: part.name, Amount: part.show(0)}
	}
	c.card.Mixes = append(c.card.Mixes, m)
	return &c.card.Mixes[len(c.card.Mixes)-1]
}

// mixes are made before what they go into: each comes behind all that it is made of.
func (c *computing) mixes() {
	ordered := make([]Mixed, 0, len(c.card.Mixes))
	var place func(id string)
	place = func(id string) {
		at := slices.IndexFunc(c.card.Mixes, func(m Mixed) bool { return m.Mix == id })
		if at < 0 || slices.ContainsFunc(ordered, func(m Mixed) bool { return m.Mix == id }) {
			return
		}
		for _, p := range c.card.Mixes[at].Parts {
			place(p.Of)
		}
		ordered = append(ordered, c.card.Mixes[at])
	}
	for _, m := range c.card.Mixes {
		place(m.Mix)
	}
	c.card.Mixes = ordered
}

// need adds to what the batch takes of an ingredient, in the unit that it is kept in.
func (c *computing) need(known item, used, house float64, why Why) {
	for i := range c.card.Needs {
		if n := &c.card.Needs[i]; n.Ingredient == known.id {
			used, house, why = used+n.Used.Amount, house+n.House.Amount, n.Why+" "+why
			c.card.Needs[i] = needOf(known, used, house, why)
			return
		}
	}
	c.card.Needs = append(c.card.Needs, needOf(known, used, house, why))
}

func needOf(known item, used, house float64, why Why) Need {
	return Need{
		Ingredient: known.id, Name: known.name, Why: why, Used: known.show(used), House: known.show(house),
		Cost: decimal.NewFromFloat(used).Mul(known.food.Price),
	}
}

// balance sums where all that is weighed goes, and the mass of a piece.
func (c *computing) balance() {
	b := &c.card.Balance
	for _, n := range c.card.Needs {
		of := c.item(n.Ingredient)
		if grams, ok := of.grams(n.House.Amount); ok {
			b.House += grams
		}
	}
	spread := 0.0
	for i, d := range c.designs {
		spread += d.piece * d.units
		if len(c.card.Designs) > 0 {
			c.card.Designs[i].PieceMass = d.piece
		}
	}
	for _, p := range c.card.Pots {
		b.Reclaimed += p.Melt.Reclaimed
		b.Lost += p.Melt.Lost
	}
	b.Lost += c.unfit + c.loose
	switch c.f.Family {
	case Bark:
		b.Pieces = spread * (1 - c.f.Loss)
	case Fudge:
		s := c.f.Sheet
		trim := 0.0
		if s.Trim != nil {
			trim = mm(*s.Trim)
		}
		kept := (mm(s.Length) - 2*trim) * (mm(s.Width) - 2*trim) / (mm(s.Length) * mm(s.Width))
		b.Pieces = spread * kept
		c.card.PieceMass = spread * kept / (c.units * float64(s.perSheet()))
	default:
		b.Pieces = spread
		c.card.PieceMass = spread / c.units
	}
	b.Lost += spread - b.Pieces
}

func (c *computing) packs() {
	for _, p := range c.f.Packs {
		d, _ := p.Amount.Unit.Dimension()
		one, _ := p.Amount.In(d.Base(), measure.Substance{})
		groups := (c.card.Good + p.Per - 1) / p.Per
		q := measure.Of(one*float64(groups), d.Base())
		c.card.Packs = append(c.card.Packs, Packed{Supply: p.Supply, Amount: q,
			Why: fmt.Sprintf("%s for every %d of %d %s: %s.", show(p.Amount), p.Per, c.card.Good, c.card.Sold, show(q))})
	}
}

// names gathers allergens, diets and the label from all that goes in.
func (c *computing) names() {
	type weighed struct {
		text  string
		grams float64
	}
	label := make([]weighed, 0, len(c.card.Needs))
	diets := food.Diets()
	for _, n := range c.card.Needs {
		known := c.k.Ingredients[n.Ingredient]
		c.card.Allergens = union(c.card.Allergens, known.Allergens)
		diets = slices.DeleteFunc(diets, func(d food.Diet) bool { return !slices.Contains(known.Diets, d) })
		of := c.item(n.Ingredient)
		grams, _ := of.grams(n.Used.Amount)
		text := strings.ToLower(known.Name)
		if len(known.MadeOf) > 0 {
			text += " (" + strings.Join(known.MadeOf, ", ") + ")"
		}
		label = append(label, weighed{text, grams})
	}
	slices.SortStableFunc(label, func(a, b weighed) int { return cmp.Compare(b.grams, a.grams) })
	texts := make([]string, len(label))
	for i, l := range label {
		texts[i] = l.text
	}
	c.card.Label, c.card.Diets = strings.Join(texts, ", "), diets
	slices.Sort(c.card.Allergens)
	c.card.Declared = food.Declared(c.card.Allergens)
	for i := range c.card.Designs {
		c.card.Designs[i].Allergens = c.allergensOf(c.designs[i])
	}
}

// allergensOf one design: of its own coatings and portions and of the centre.
func (c *computing) allergensOf(d portion) []string {
	list := []string{}
	add := func(id string) {
		for _, used := range c.k.Uses(id) {
			list = union(list, c.k.Ingredients[used].Allergens)
		}
	}
	for _, coating := range d.coatings {
		add(coating.Ingredient)
	}
	for _, p := range slices.Concat(c.f.Portions, d.Portions) {
		add(p.Ingredient)
	}
	if c.f.Centre != nil {
		add(c.f.Centre.Of)
	}
	slices.Sort(list)
	return list
}

func union(list, more []string) []string {
	for _, a := range more {
		if !slices.Contains(list, a) {
			list = append(list, a)
		}
	}
	return list
}

// sizes that follow, and the chocolate that the treat is drawn in.
func (c *computing) sizes() {
	length := func(x float64) *measure.Shown {
		s := measure.Show(measure.Of(x, measure.Millimetre), measure.Substance{})
		return &s
	}
	mass := func(x float64) *measure.Shown {
		s := measure.Show(measure.Grams(x), measure.Substance{})
		return &s
	}
	volume := func(x float64) *measure.Shown {
		s := measure.Show(measure.Of(x, measure.Millilitre), measure.Substance{})
		return &s
	}
	s := &c.card.Sizes
	main := c.designs[0].coatings
	switch c.f.Family {
	case Bomb, Moulded:
		shell, _ := c.shell()
		s.Shell, s.Holds = mass(shell), volume(c.f.room())
		fills, unknown := c.k.fills(c.f, c.designs[0].Finish)
		s.Fills = volume(fills)
		if c.f.Family == Bomb {
			s.Wall = length(c.f.wall())
		}
		if c.f.Family == Bomb && c.f.Shell.Mug != nil {
			s.Mix = volume(mixFor(mL(*c.f.Shell.Mug)))
		}
		if len(unknown) > 0 {
			s.Note = "Whether it fits is not known for " + strings.Join(unknown, ", ") + ": enter the density in the Larder."
		}
		if c.f.Family == Moulded {
			s.Wall = length(CubeWall(mL(c.f.Mould.Volume), c.f.Mould.Shell, c.f.Mould.Cap))
			s.Across = length(10 * math.Cbrt(mL(c.f.Mould.Volume)))
		}
	case Fruit, Truffle, Pretzel:
		centre, density := c.centre(), c.k.density(c.f)
		if c.f.Family == Fruit {
			density = 1 // nearly all water
		}
		across := Across(centre, density)
		if c.f.Family == Pretzel && c.f.Centre.Across != nil {
			across = mm(*c.f.Centre.Across)
		}
		s.Across = length(across)
		if coating, ok := main[RoleCoat]; ok {
			each, _ := c.eachOf(coating)
			thick := CoatThickness(across, each, chocolate.Density)
			if c.f.Family == Pretzel && c.f.Centre.Length != nil {
				thick = RodCoat(across, mm(*c.f.Centre.Length), each, chocolate.Density)
			}
			s.Wall = length(thick)
		}
	}
	if c.f.Centre != nil {
		s.Centre = mass(c.centre())
	}
	c.card.Look = c.look(main)
}

// look is the main chocolate, or for fudge the one there is most of in its mix, or milk: the colour of caramel.
func (c *computing) look(main map[Role]Coating) food.Chocolate {
	for _, role := range c.f.Family.roles() {
		if coating, ok := main[role]; ok && role != RoleDrizzle {
			return *c.k.Ingredients[coating.Ingredient].Chocolate
		}
	}
	most, look := 0.0, food.Chocolate{Kind: chocolate.Real, Colour: chocolate.Milk}
	for _, n := range c.card.Needs {
		if of := c.k.Ingredients[n.Ingredient].Chocolate; of != nil && n.Used.Amount > most {
			most, look = n.Used.Amount, *of
		}
	}
	return look
}

// boil is how far cooked fudge is boiled here: soft ball falls with the boiling point of water (handbook 4.6).
func (c *computing) boil() {
	if c.f.Family != Fudge || c.f.choice("cook") != "cooked" {
		return
	}
	from, to := CandyTarget(SoftBall.From, c.k.Boiling), CandyTarget(SoftBall.To, c.k.Boiling)
	c.card.Boil = &Boil{From: from, To: to,
		Text: "Boil to soft ball, " + chocolate.Degrees(chocolate.Range{From: math.Round(from*10) / 10, To: math.Round(to*10) / 10}) + "; cool undisturbed to 43 °C (110 °F), then beat.",
		Why:  fmt.Sprintf("Soft ball is %v to %v °C at sea level; water boils at %.1f °C in your kitchen, so it falls by %.1f °C.", SoftBall.From, SoftBall.To, c.k.Boiling, 100-c.k.Boiling)}
}

// care are the cautions for whoever makes it (handbook 7).
func (c *computing) care() {
	if c.card.Boil != nil {
		c.card.Care = append(c.card.Care, "Boiling sugar sticks and burns: keep children away, and cold water at hand.")
	}
	for _, p := range c.card.Pots {
		if p.Tempering.Bursts == nil {
			c.card.Care = append(c.card.Care, "Steam burns, and steam is water: keep it from the chocolate.")
			break
		}
	}
	if !slices.Contains(c.card.Diets, food.NoAlcohol) && c.containsAlcohol() {
		c.card.Care = append(c.card.Care, "It contains alcohol: say so on the label, and ask your licensing office whether a home kitchen may sell it.")
	}
	if c.f.Family == Bomb && c.f.Keeps > 24 && c.wetInside() {
		c.card.Care = append(c.card.Care, "Syrup, sauce, cream or spirit inside is best within 24 hours of making, and the seal must be tight: check how long you say that it keeps.")
	}
	if c.f.choice("stand") == "standing" || c.f.Family == Fruit {
		c.card.Care = append(c.card.Care, "Picks come out, or are declared, before handover.")
	}
	if c.f.Family == Fruit || slices.ContainsFunc(c.card.Needs, func(n Need) bool { return c.k.Ingredients[n.Ingredient].Kind == food.KindDairy }) {
		c.card.Care = append(c.card.Care, "Cream, butter-rich and cut-fruit pieces may need to be kept at 5 °C (41 °F) or below: ask your local rules.")
	}
}

// wetInside tells whether something goes in that is not dry: cream, a spirit, a syrup or sauce, or a mix with one. Powders of the
// same kinds lie loose: a cup of them weighs less than one of water.
func (c *computing) wetInside() bool {
	for _, d := range c.designs {
		for _, p := range slices.Concat(c.f.Portions, d.Portions) {
			if p.Where != In {
				continue
			}
			for _, id := range c.k.Uses(p.Ingredient) {
				known := c.k.Ingredients[id]
				wet := slices.Contains([]food.Kind{food.KindDairy, food.KindAlcohol, food.KindSugar}, known.Kind)
				if wet && (known.Substance.Density > powderBelow || known.Kind == food.KindAlcohol) {
					return true
				}
			}
		}
	}
	return false
}

// powderBelow is the density in g/mL below which sugars and milk products are powders (handbook 4.1: packed brown sugar 220 g a cup is
// 0.93, cream 238 g is 1.006).
const powderBelow = 0.95

func (c *computing) containsAlcohol() bool {
	return slices.ContainsFunc(c.card.Needs, func(n Need) bool {
		known := c.k.Ingredients[n.Ingredient]
		return known.Kind == food.KindAlcohol || slices.Contains(known.MadeOf, "alcohol")
	})
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
