package treat

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"github.com/shopspring/decimal"

	"zestytin/core/chocolate"
	"zestytin/core/measure"
	"zestytin/core/plan"
)

// Why is how a figure came about, in one line of kitchen language.
type Why = string

// Card is the batch card: all that follows from a formula and a count.
type Card struct {
	Family    Family   `json:"family" enum:"bomb,fruit,bark"`
	Good      int      `json:"good" doc:"Good pieces or bags wanted"`
	Sold      string   `json:"sold" doc:"The word for what is counted: pieces or bags"`
	Start     int      `json:"start" doc:"Pieces to start; for bark the sheets to spread"`
	StartWhy  Why      `json:"startWhy"`
	Rounds    *Rounds  `json:"rounds,omitempty" doc:"Fillings of the moulds, or sheets"`
	Pots      []Pot    `json:"pots"`
	Needs     []Need   `json:"needs" doc:"All that goes in, by ingredient"`
	Packs     []Packed `json:"packs"`
	Steps     []Step   `json:"steps"`
	Hands     int      `json:"hands" doc:"Hands-on minutes, melting included"`
	Wait      int      `json:"wait" doc:"Waiting minutes, one after the other"`
	HandsWhy  Why      `json:"handsWhy"`
	Spare     string   `json:"spare,omitempty" doc:"What is left over when all goes as expected, and what it is good for"`
	Allergens []string `json:"allergens"`
	Keeps     int      `json:"keeps" doc:"Hours"`
	FreshFrom string   `json:"freshFrom" doc:"Id of the step whose start begins the keeping time"`
	PieceMass float64  `json:"pieceMass" doc:"Grams of one finished piece or bag"`
}

// Rounds of moulds or sheets.
type Rounds struct {
	Count int    `json:"count"`
	Word  string `json:"word" doc:"rounds or sheets"`
	Text  string `json:"text" doc:"8 rounds of 12 cavities"`
	Why   Why    `json:"why"`
}

// Pot is one melt of one chocolate.
type Pot struct {
	Role       Role             `json:"role"`
	Ingredient string           `json:"ingredient"`
	Name       string           `json:"name"`
	Chocolate  Chocolate        `json:"chocolate"`
	Melt       chocolate.Melt   `json:"melt"`
	Melted     measure.Shown    `json:"melted"`
	Used       measure.Shown    `json:"used"`
	Reclaimed  measure.Shown    `json:"reclaimed"`
	Seed       *measure.Shown   `json:"seed,omitempty" doc:"Held back of what is melted, when it is seeded"`
	Method     chocolate.Method `json:"method"`
	Bands      chocolate.Bands  `json:"bands"`
	Advice     string           `json:"advice" doc:"How to bring it to working condition"`
	Why        Why              `json:"why"`
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

// Step is a step for this count, in the shape that the planner places.
type Step struct {
	plan.Step
	Name    string   `json:"name"`
	Role    Role     `json:"role,omitempty"`
	Amounts []string `json:"amounts" doc:"What goes in at this step, readable"`
}

// Compute makes the batch card of count pieces (bark: bags) of a formula that Check has passed, so that they are enough
// with probability sure. room is the kitchen's temperature in C, for the seed.
func Compute(f *Formula, count int, sure, room float64, ingredients map[string]Ingredient) (*Card, error) {
	c := &computing{f: f, ingredients: ingredients, room: room, card: &Card{
		Family: f.Family, Good: count, Sold: f.Family.Sold(count), Keeps: f.Keeps,
		Pots: []Pot{}, Needs: []Need{}, Packs: []Packed{}, Steps: []Step{}, Allergens: []string{},
	}}
	if err := c.batch(count, sure); err != nil {
		return nil, err
	}
	c.pots()
	c.portions()
	c.packs()
	c.steps()
	c.allergens()
	return c.card, nil
}

// computing is the state while a card is made.
type computing struct {
	f           *Formula
	card        *Card
	ingredients map[string]Ingredient
	room        float64

	units    float64 // what portions and drizzle are counted by: pieces started, or sheets
	rounds   int     // fillings of the moulds, or sheets
	perRound float64 // pieces in a full round, 0 without moulds
	buy      int     // fruit to buy, pieces
}

func (c *computing) batch(count int, sure float64) error {
	if c.f.Family == Bark {
		c.bark(count)
		return nil
	}
	start, err := StartFor(count, c.f.Loss, sure)
	if err != nil {
		return err
	}
	c.card.Start, c.units = start, float64(start)
	c.card.StartWhy = fmt.Sprintf("%d good at %s loss, %s sure: start %d.", count, measure.Percent(c.f.Loss), measure.Percent(sure), start)
	if spare := int(math.Round(float64(start)*(1-c.f.Loss))) - count; spare > 0 {
		c.card.Spare = fmt.Sprintf("About %d spare when all goes as usual: tasters or shop stock.", spare)
	}
	if c.f.Family == Bomb {
		c.bomb(start)
	} else {
		c.fruit(start)
	}
	return nil
}

func (c *computing) bomb(start int) {
	s := c.f.Shell
	halves, filling := 2*start, s.Cavities*s.Moulds
	c.rounds = (halves + filling - 1) / filling
	c.perRound = float64(filling) / 2
	last := halves - (c.rounds-1)*filling
	c.card.Rounds = &Rounds{
		Count: c.rounds, Word: "rounds", Text: fmt.Sprintf("%s of %d cavities", plural(c.rounds, "round", "rounds"), filling),
		Why: fmt.Sprintf("%d bombs are %d half shells; %d in %s of %d: %d rounds, the last fills %d.", start, halves, filling, plural(s.Moulds, "mould", "moulds"), s.Cavities, c.rounds, last),
	}
}

func (c *computing) fruit(start int) {
	c.rounds = 1
	c.buy = int(math.Ceil(float64(start)/c.f.Fruit.Share - 1e-9))
	fruit := c.ingredients[c.f.Fruit.Ingredient]
	grams := float64(c.buy) * fruit.Substance.GramsEach
	c.need(fruit, grams, grams, fmt.Sprintf("%s of the bought fruit is fit to dip: %d to dip, buy %d of %s each.",
		measure.Percent(c.f.Fruit.Share), start, c.buy, measure.Show(measure.Grams(fruit.Substance.GramsEach), measure.Substance{}).Metric))
}

// bark scales by area: a sheet gives its chocolate and its toppings, less the crumbs.
func (c *computing) bark(bags int) {
	s := c.f.Sheet
	bag, _ := s.Bag.In(measure.Gram, measure.Substance{})
	sheet := Slab(mm(s.Length), mm(s.Width), mm(s.Depth), chocolate.Density)
	for _, coating := range c.f.Coatings {
		if coating.Each != nil {
			g, _ := coating.Each.In(measure.Gram, measure.Substance{})
			sheet += g
		}
	}
	for _, p := range c.f.Portions {
		known := c.ingredients[p.Ingredient]
		amount, _ := p.base(known)
		g, err := measure.Of(amount, known.Unit).In(measure.Gram, known.Substance)
		if err == nil {
			sheet += g
		}
	}
	want := float64(bags) * bag / (1 - c.f.Loss)
	exact := want / sheet
	c.rounds = int(math.Ceil(exact - 1e-9))
	c.units = exact
	text := plural(c.rounds, "sheet", "sheets")
	if c.f.Sheet.Whole || c.rounds == 0 {
		c.units = float64(c.rounds)
	} else if part := exact - math.Floor(exact); part > 1e-9 {
		text += fmt.Sprintf(", the last one %s full", measure.Percent(math.Round(part*100)/100))
	}
	c.card.Start = c.rounds
	show := func(g float64) string { return measure.Show(measure.Grams(g), measure.Substance{}).Metric }
	c.card.StartWhy = fmt.Sprintf("%d bags of %s are %s; with %s crumbs spread %s. A sheet gives %s: %s.",
		bags, show(bag), show(float64(bags)*bag), measure.Percent(c.f.Loss), show(want), show(sheet), text)
	c.card.Rounds = &Rounds{Count: c.rounds, Word: "sheets", Text: text, Why: c.card.StartWhy}
	if left := int(c.units*sheet*(1-c.f.Loss)/bag+1e-9) - bags; left > 0 {
		c.card.Spare = fmt.Sprintf("Whole sheets give %s more: shop stock.", plural(left, "bag", "bags"))
	}
	c.card.PieceMass = bag
}

// eachOf is the grams of a coating on one unit (a piece, for bark a sheet), and what is poured beyond that and drained.
func (c *computing) eachOf(coating Coating) (grams, drained float64) {
	switch coating.Role {
	case RoleShell:
		s := c.f.Shell
		half := HalfShell(mm(s.Across), mm(s.Wall), chocolate.Density)
		if s.Drain {
			// The mould is filled to the brim and turned out: all but the wall runs back (handbook 2.1).
			drained = 2 * (HalfShell(mm(s.Across), mm(s.Across), chocolate.Density) - half)
		}
		return 2 * half, drained
	case RoleBase:
		s := c.f.Sheet
		return Slab(mm(s.Length), mm(s.Width), mm(s.Depth), chocolate.Density), 0
	default:
		grams, _ = coating.Each.In(measure.Gram, measure.Substance{})
		return grams, 0
	}
}

func (c *computing) pots() {
	for _, coating := range c.f.Coatings {
		known := c.ingredients[coating.Ingredient]
		each, drained := c.eachOf(coating)
		pool, _ := coating.Pool.In(measure.Gram, measure.Substance{})
		// What is drained from one round is there for the next: only one round of it is ever in the pot at once.
		atOnce := c.units
		if c.perRound > 0 {
			atOnce = math.Min(c.units, c.perRound)
		}
		melt := chocolate.Plan(each*c.units, drained*atOnce, pool)
		show := func(g float64) measure.Shown { return measure.Show(measure.Grams(g), measure.Substance{}) }
		pot := Pot{
			Role: coating.Role, Ingredient: coating.Ingredient, Name: known.Name, Chocolate: *known.Chocolate, Melt: melt,
			Melted: show(melt.Melted), Used: show(melt.Used), Reclaimed: show(melt.Reclaimed),
			Method: chocolate.MethodFor(known.Chocolate.Kind), Bands: chocolate.BandsOf(known.Chocolate.Colour),
		}
		if pot.Method == chocolate.Seed {
			share := chocolate.SeedShare(pot.Bands.Melt.Mid(), pot.Bands.Work.Mid(), c.room)
			seed := show(melt.Melted * share)
			pot.Seed = &seed
			pot.Advice = fmt.Sprintf("Melt %s to %s, stir in the %s held back (%s), work at %s.",
				show(melt.Melted*(1-share)).Metric, degrees(pot.Bands.Melt), seed.Metric, measure.Percent(math.Round(share*100)/100), degrees(pot.Bands.Work))
		} else {
			pot.Advice = "Melt in short bursts, stir, rest 5 minutes: compound needs no tempering."
		}
		unit := "pieces"
		if c.f.Family == Bark {
			unit = "sheets"
		}
		pot.Why = fmt.Sprintf("%s on each of %s %s, 2 %% stays on the tools: %s used. With ", show(each).Metric, measure.Number(c.units), unit, pot.Used.Metric)
		if drained > 0 {
			pot.Why += show(drained*atOnce).Metric + " that drains back and "
		}
		pot.Why += fmt.Sprintf("%s left in the bowl to work from", show(pool).Metric)
		if melt.Used+drained*atOnce+pool < melt.Melted-1e-9 {
			pot.Why += fmt.Sprintf(", but never less than the %s that melt evenly", show(chocolate.LeastMelt).Metric)
		}
		pot.Why += fmt.Sprintf(": melt %s, %s comes back.", pot.Melted.Metric, pot.Reclaimed.Metric)
		c.card.Pots = append(c.card.Pots, pot)
		c.need(known, melt.Used, melt.Melted, pot.Why)
		if c.f.Family != Bark {
			c.card.PieceMass += each
		}
	}
}

func degrees(r chocolate.Range) string {
	return fmt.Sprintf("%s to %s °C (%.0f to %.0f °F)", measure.Number(r.From), measure.Number(r.To), measure.Fahrenheit(r.From), measure.Fahrenheit(r.To))
}

func (c *computing) portions() {
	for _, p := range c.f.Portions {
		known := c.ingredients[p.Ingredient]
		each, _ := p.base(known)
		amount := each * c.units
		c.need(known, amount, amount, fmt.Sprintf("%s on each of %s.", measure.Show(p.Each, known.Substance).Metric, c.unitsText()))
		if g, err := measure.Of(each, known.Unit).In(measure.Gram, known.Substance); err == nil && c.f.Family != Bark {
			c.card.PieceMass += g
		}
	}
	if c.f.Family == Fruit {
		c.card.PieceMass += c.ingredients[c.f.Fruit.Ingredient].Substance.GramsEach
	}
}

func (c *computing) unitsText() string {
	if c.f.Family == Bark {
		return measure.Number(c.units) + " sheets"
	}
	return measure.Number(c.units) + " started"
}

// need adds to what the batch takes of an ingredient, in the unit that it is kept in.
func (c *computing) need(known Ingredient, used, house float64, why Why) {
	for i := range c.card.Needs {
		if n := &c.card.Needs[i]; n.Ingredient == known.ID {
			used, house, why = used+n.Used.Amount, house+n.House.Amount, n.Why+" "+why
			c.card.Needs[i] = needOf(known, used, house, why)
			return
		}
	}
	c.card.Needs = append(c.card.Needs, needOf(known, used, house, why))
}

func needOf(known Ingredient, used, house float64, why Why) Need {
	return Need{
		Ingredient: known.ID, Name: known.Name, Why: why,
		Used:  measure.Show(measure.Of(used, known.Unit), known.Substance),
		House: measure.Show(measure.Of(house, known.Unit), known.Substance),
		Cost:  decimal.NewFromFloat(used).Mul(known.Price),
	}
}

func (c *computing) packs() {
	for _, p := range c.f.Packs {
		d, _ := p.Amount.Unit.Dimension()
		one, _ := p.Amount.In(d.Base(), measure.Substance{})
		groups := (c.card.Good + p.Per - 1) / p.Per
		q := measure.Of(one*float64(groups), d.Base())
		c.card.Packs = append(c.card.Packs, Packed{Supply: p.Supply, Amount: q,
			Why: fmt.Sprintf("%s for every %d of %d %s: %s.", measure.Show(p.Amount, measure.Substance{}).Metric, p.Per, c.card.Good, c.card.Sold, measure.Show(q, measure.Substance{}).Metric)})
	}
}

// steps turns the formula's work into steps for this count. A step done by rounds becomes one step a round: the moulds
// must set before they are filled again.
func (c *computing) steps() {
	card, melted := c.card, map[string]bool{}
	previous := ""
	pieces := float64(card.Start)
	if c.f.Family == Bark {
		pieces = float64(card.Good)
	}
	for i, w := range c.f.Steps {
		n := 1
		if w.Rounds {
			n = max(c.rounds, 1)
		}
		for r := range n {
			share, rounds := 1/float64(n), float64(c.rounds)
			id, name := w.ID, w.Name
			if n > 1 {
				rounds = 1
				id, name = fmt.Sprintf("%s-%d", w.ID, r+1), fmt.Sprintf("%s, %d of %d", w.Name, r+1, n)
				if c.perRound > 0 {
					share = math.Min(c.perRound, pieces-float64(r)*c.perRound) / pieces
				}
			}
			minutes := w.PerRound*rounds + w.PerPiece*pieces*share
			if r == 0 {
				minutes += w.PerBatch
			}
			s := Step{Name: name, Role: w.Pot, Amounts: c.amounts(i, w, share), Step: plan.Step{
				ID: id, Hands: max(int(math.Ceil(minutes-1e-9)), 1), Wait: w.Wait, Place: w.Place, Trays: trays(w, c.f.Family, pieces*share),
			}}
			for _, coating := range c.f.Coatings {
				if w.Pot != "" && coating.Role == w.Pot {
					s.Pot = coating.Ingredient
				}
			}
			if s.Pot != "" && !melted[s.Pot] {
				setup, _ := chocolate.Setup(c.ingredients[s.Pot].Chocolate.Kind)
				card.Hands += setup
				melted[s.Pot] = true
			}
			if previous != "" {
				s.After = []plan.After{{Step: previous}}
			}
			if w.Ages && card.FreshFrom == "" {
				card.FreshFrom = id
			}
			card.Hands += s.Hands
			card.Wait += s.Wait
			previous = id
			card.Steps = append(card.Steps, s)
		}
	}
	if card.FreshFrom == "" && len(card.Steps) > 0 {
		card.FreshFrom = card.Steps[0].ID
	}
	card.HandsWhy = fmt.Sprintf("%s of hands over %s, melting included; %s of waiting need no hands.",
		measure.Minutes(card.Hands), plural(len(card.Steps), "step", "steps"), measure.Minutes(card.Wait))
}

// trays that a waiting step fills: a mould or a sheet each, or two dozen dipped pieces.
func trays(w Work, f Family, pieces float64) int {
	switch {
	case w.Place == "":
		return 0
	case f == Bark || w.Rounds:
		return 1
	default:
		return int(math.Ceil(pieces / 24))
	}
}

// amounts lists what goes in at the i-th step, for a share of the batch.
func (c *computing) amounts(i int, w Work, share float64) []string {
	lines := []string{}
	if i == 0 && c.f.Family == Fruit {
		lines = append(lines, fmt.Sprintf("%d of %d %s, the fit ones", c.card.Start, c.buy, strings.ToLower(c.ingredients[c.f.Fruit.Ingredient].Name)))
	}
	for _, pot := range c.card.Pots {
		if pot.Role == w.Pot && w.Pot != "" {
			shown := measure.Show(measure.Grams(pot.Melt.OnPieces*share), measure.Substance{})
			lines = append(lines, fmt.Sprintf("%s %s (%s)", shown.Metric, pot.Name, shown.US))
		}
	}
	if w.Fills {
		for _, p := range c.f.Portions {
			known := c.ingredients[p.Ingredient]
			each, _ := p.base(known)
			shown := measure.Show(measure.Of(each*c.units*share, known.Unit), known.Substance)
			lines = append(lines, fmt.Sprintf("%s %s (%s)", shown.Metric, known.Name, shown.US))
		}
	}
	return lines
}

func (c *computing) allergens() {
	for _, n := range c.card.Needs {
		for _, a := range c.ingredients[n.Ingredient].Allergens {
			if !slices.Contains(c.card.Allergens, a) {
				c.card.Allergens = append(c.card.Allergens, a)
			}
		}
	}
	slices.Sort(c.card.Allergens)
}

func plural(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
