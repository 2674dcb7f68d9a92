package treat

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"zestytin/core/chocolate"
	"zestytin/core/invalid"
	"zestytin/core/measure"
)

// Check finds every fault of the formula, against the ingredients, mixes and supplies (names by id) of the kitchen.
// The error is an *invalid.Error with JSON paths from the formula.
func (f *Formula) Check(k *Kitchen, supplies map[string]string) error {
	c := &checking{f: f, k: k}
	if !slices.Contains(Families(), f.Family) {
		c.Add("family", fmt.Sprintf("%q is not a family we can compute: choose one of %s.", f.Family, words(Families())))
		return c.Err()
	}
	if !(f.Loss >= 0 && f.Loss <= 0.9) {
		c.Add("loss", "The loss must be between 0 and 90 %: beyond that, mend the recipe before you sell it.")
	}
	if f.Keeps < 1 || f.Keeps > 24*365 {
		c.Add("keeps", "It must keep at least 1 hour and at most a year.")
	}
	c.choices()
	switch f.Family {
	case Bomb:
		c.shell()
	case Fruit, Pretzel:
		c.counted()
	case Truffle:
		c.truffle()
	case Bark:
		c.sheet("bark")
	case Fudge:
		c.fudge()
	case Moulded:
		c.mould()
	}
	c.coatings("coatings", f.Coatings, f.Family.roles())
	if main := f.Family.main(); main != "" && !f.has(main) {
		c.Add("coatings", fmt.Sprintf("A %s needs a chocolate for its %s.", f.Family, main))
	}
	c.portions("portions", f.Portions)
	c.finishes()
	c.packs(supplies)
	c.steps()
	if c.Err() == nil {
		c.fits()
	}
	return c.Err()
}

// checking collects the faults of one formula.
type checking struct {
	invalid.Faults
	f *Formula
	k *Kitchen
}

func words[T ~string](list []T) string {
	text := make([]string, len(list))
	for i, w := range list {
		text[i] = string(w)
	}
	return strings.Join(text[:len(text)-1], ", ") + " or " + text[len(text)-1]
}

func (c *checking) choices() {
	for id, made := range c.f.Choices {
		known := false
		for _, choice := range c.f.Family.Choices(c.f.Choices) {
			if choice.ID != id {
				continue
			}
			known = true
			if !slices.ContainsFunc(choice.Options, func(o Option) bool { return o.ID == made }) {
				c.Add("choices."+id, fmt.Sprintf("%q is not one of the ways: choose one of those offered.", made))
			}
		}
		if !known {
			c.Add("choices."+id, fmt.Sprintf("A %s has no choice %q.", c.f.Family, id))
		}
	}
}

// length that must be there and is at most so many mm.
func (c *checking) length(path string, q *measure.Quantity, most float64) bool {
	if q == nil {
		c.Add(path, "This size is missing: write a length, such as 3.5 mm or 2 1/2 in.")
		return false
	}
	if err := q.Check(measure.Length); err != nil {
		c.Under(path, err)
		return false
	}
	if mm(*q) > most {
		c.Add(path, fmt.Sprintf("More than %s is too much here: check the unit.", show(measure.Of(most, measure.Millimetre))))
		return false
	}
	return true
}

func show(q measure.Quantity) string { return measure.Show(q, measure.Substance{}).Metric }

func (c *checking) moulds(path string, cavities, moulds int) {
	if cavities < 1 || cavities > 500 {
		c.Add(path+".cavities", "A mould has at least 1 cavity and at most 500.")
	}
	if moulds < 1 || moulds > 100 {
		c.Add(path+".moulds", "At least 1 mould is needed, and at most 100.")
	}
}

func (c *checking) shell() {
	s := c.f.Shell
	if s == nil {
		c.Add("shell", "A drink bomb needs a shell: its size across and its wall.")
		return
	}
	right := c.length("shell.across", &s.Across, 300)
	if c.f.choice("shape") == "cup" {
		right = c.length("shell.base", s.Base, 300) && right
		right = c.length("shell.height", s.Height, 300) && right
		if right && mm(*s.Base) > mm(s.Across) {
			c.Add("shell.base", "A cup is no wider at its foot than at its brim: the chocolate could not come out.")
			right = false
		}
	}
	c.moulds("shell", s.Cavities, s.Moulds)
	if s.Mug != nil {
		c.Under("shell.mug", s.Mug.Check(measure.Volume))
	}
	switch {
	case (s.Wall == nil) == (s.Mass == nil):
		c.Add("shell.wall", "Give the wall, or the chocolate of a whole piece: one of the two, the other follows.")
		return
	case s.Wall != nil:
		right = c.length("shell.wall", s.Wall, 300) && right
	default:
		if err := s.Mass.Check(measure.Mass); err != nil {
			c.Under("shell.mass", err)
			right = false
		}
	}
	if !right {
		return
	}
	thickest := mm(s.Across) / 2
	what := "a ball " + show(s.Across) + " across"
	if cup, ok := c.f.cup(); ok {
		thickest, what = cup.thickest(), "this cup"
	}
	if wall := c.f.wall(); wall >= thickest-1e-9 {
		if s.Wall != nil {
			c.Add("shell.wall", fmt.Sprintf("A wall of %s leaves no hollow in %s: make it less than %s.", show(*s.Wall), what, show(measure.Of(thickest, measure.Millimetre))))
		} else {
			c.Add("shell.mass", fmt.Sprintf("%s leave no hollow in %s: take less chocolate, or a larger mould.", show(*s.Mass), what))
		}
	}
}

// counted centres: fruit and pretzels, dipped by the piece and bought by weight.
func (c *checking) counted() {
	what := map[Family]string{Fruit: "dipped fruit needs its fruit", Pretzel: "dipped pretzel needs its pretzel"}[c.f.Family]
	s := c.f.Centre
	if s == nil {
		c.Add("centre", "A "+what+" and the share of it that is fit to dip.")
		return
	}
	if s.Share != 0 && !(s.Share > 0 && s.Share <= 1) {
		c.Add("centre.share", "The share fit to dip must be more than 0 and at most 100 %.")
	}
	of, ok := c.k.item(s.Of)
	switch {
	case !ok || of.food == nil:
		c.Add("centre.of", "This is not in the larder: choose an ingredient that is, or add it there first.")
	case s.Size != "" && of.substance.Measures[s.Size] <= 0:
		c.Add("centre.size", fmt.Sprintf("%s has no size %q: choose one of its own measures, or add it in the larder.", of.name, s.Size))
	case s.Size == "" && of.substance.GramsEach <= 0:
		c.Add("centre.of", of.name+" has no weight per piece: enter it in the larder, since it is dipped by the piece and bought by weight.")
	}
	if s.Across != nil {
		c.length("centre.across", s.Across, 100)
	}
	if s.Length != nil {
		c.length("centre.length", s.Length, 500)
	}
}

// centre that is weighed or poured: an ingredient or a mix. volume asks for its density as well.
func (c *checking) poured(what string, volume bool) (item, bool) {
	if c.f.Centre == nil {
		c.Add("centre", what)
		return item{}, false
	}
	of, ok := c.k.item(c.f.Centre.Of)
	if !ok {
		c.Add("centre.of", "This is not in the larder, nor a mix of yours: choose one that is, or add it first.")
		return of, false
	}
	if of.unit != measure.Gram {
		c.Add("centre.of", of.name+" is kept by the piece: a centre is made of something that is weighed.")
		return of, false
	}
	if volume && of.substance.Density <= 0 {
		c.Add("centre.of", (&measure.MissingProperty{From: measure.Volume, To: measure.Mass, Property: "density of " + of.name}).Error())
		return of, false
	}
	return of, true
}

func (c *checking) truffle() {
	s := c.f.Centre
	if s != nil && (s.Each == nil) == (s.Across == nil) {
		c.Add("centre.each", "Give the weight of a centre, or its size across: one of the two, the other follows.")
		return
	}
	// A size needs the density; so does a coat that is given by its thickness.
	byVolume := s != nil && s.Across != nil
	for _, coating := range c.f.Coatings {
		byVolume = byVolume || coating.Thick != nil
	}
	if _, ok := c.poured("A truffle needs its centre: a mix, and what one weighs.", byVolume); !ok {
		return
	}
	if s.Each != nil {
		c.Under("centre.each", s.Each.Check(measure.Mass))
		if s.Each.Amount > 0 && g(s.Each) > 500 {
			c.Add("centre.each", "A centre of more than 500 g is no truffle: check the unit.")
		}
	} else {
		c.length("centre.across", s.Across, 100)
	}
}

func (c *checking) sheet(what string) bool {
	s := c.f.Sheet
	if s == nil {
		c.Add("sheet", fmt.Sprintf("A %s needs its sheet or pan: length, width and depth.", what))
		return false
	}
	right := c.length("sheet.length", &s.Length, 2000)
	right = c.length("sheet.width", &s.Width, 2000) && right
	right = c.length("sheet.depth", &s.Depth, 200) && right
	if what != "bark" {
		return right
	}
	if s.Bag == nil {
		c.Add("sheet.bag", "Bark is counted in bags: write what one weighs.")
		return false
	}
	c.Under("sheet.bag", s.Bag.Check(measure.Mass))
	if bag := g(s.Bag); bag > 0 && bag < 1 || bag > 10000 {
		c.Add("sheet.bag", "A bag holds at least 1 g and at most 10 kg.")
	}
	style, layered := c.f.choice("style"), c.f.has(RoleLayer)
	if style == "plain" && layered {
		c.Add("coatings", "Bark of one colour has no second chocolate: take it out, or choose swirl or layers.")
	} else if style != "plain" && !layered {
		c.Add("coatings", "Swirl, layers and what is trailed over need a second chocolate: add it, with its share of the sheet.")
	}
	return right
}

func (c *checking) fudge() {
	right := c.sheet("fudge")
	c.poured("Fudge needs the mix that is poured into the pan.", true)
	s := c.f.Sheet
	if s == nil {
		return
	}
	if s.Rows < 1 || s.Rows > 100 || s.Columns < 1 || s.Columns > 100 {
		c.Add("sheet.rows", "The pan is cut into rows and columns: 1 to 100 of each.")
	}
	if s.Trim != nil && s.Trim.Amount != 0 {
		c.length("sheet.trim", s.Trim, 100)
		if right && 2*mm(*s.Trim) >= math.Min(mm(s.Length), mm(s.Width)) {
			c.Add("sheet.trim", "Trimming that much on each edge leaves nothing: make it less than half of the pan.")
		}
	}
}

func (c *checking) mould() {
	m := c.f.Mould
	if m == nil {
		c.Add("mould", "A moulded piece needs its mould: what a cavity holds, and how many there are.")
		return
	}
	c.Under("mould.volume", m.Volume.Check(measure.Volume))
	c.moulds("mould", m.Cavities, m.Moulds)
	if !(m.Shell > 0 && m.Shell <= 1) {
		c.Add("mould.shell", "The shell is more than 0 and at most 100 % of the cavity.")
	}
	if !(m.Cap >= 0 && m.Shell+m.Cap <= 1+1e-9) {
		c.Add("mould.cap", "Shell and cap together are at most the whole cavity.")
	}
	if m.Cap > 0 != c.f.has(RoleCap) {
		c.Add("coatings", "A cap needs its chocolate, and a chocolate for the cap needs a share of the cavity: give both or neither.")
	}
	if c.f.Centre != nil {
		c.poured("", true)
		if m.Shell+m.Cap > 1-1e-9 {
			c.Add("centre", "Shell and cap fill the whole cavity, so there is no room for a fill: take it out, or make them less.")
		}
	}
}

func (c *checking) coatings(path string, list []Coating, allowed []Role) {
	seen, methods := map[Role]bool{}, map[string]chocolate.Method{}
	for i, coating := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		if other, ok := methods[coating.Ingredient]; ok && coating.Method != "" && other != "" && other != coating.Method {
			c.Add(path+".method", "The same chocolate is melted in one pot, which is brought to work in one way: choose the same as above.")
		} else if !ok {
			methods[coating.Ingredient] = coating.Method
		}
		switch {
		case !slices.Contains(allowed, coating.Role):
			c.Add(path+".role", fmt.Sprintf("A %s has no %q chocolate here.", c.f.Family, coating.Role))
		case seen[coating.Role]:
			c.Add(path+".role", fmt.Sprintf("There is a %q chocolate already: keep one.", coating.Role))
		}
		seen[coating.Role] = true
		known, ok := c.k.Ingredients[coating.Ingredient]
		switch {
		case !ok:
			c.Add(path+".ingredient", "This chocolate is not in the larder: choose one that is, or add it there first.")
		case known.Chocolate == nil:
			c.Add(path+".ingredient", known.Name+" is not a chocolate: choose one, or say in the larder what kind it is.")
		case coating.Method != "" && !coating.Method.Fits(known.Chocolate.Kind):
			c.Add(path+".method", fmt.Sprintf("%s is %s chocolate, which is not brought to work by %q: choose one of the methods offered.", known.Name, known.Chocolate.Kind, coating.Method))
		}
		c.coatingAmount(path, coating)
		if d, ok := coating.Pool.Unit.Dimension(); !ok {
			c.Add(path+".pool", (&measure.UnknownUnit{Unit: coating.Pool.Unit}).Error())
		} else if d != measure.Mass || !(coating.Pool.Amount >= 0) || coating.Pool.Amount > 1e6 {
			c.Add(path+".pool", "The working pool is a mass of 0 or more, such as 250 g.")
		}
	}
}

func (c *checking) coatingAmount(path string, coating Coating) {
	if coating.Role == RoleLayer {
		if !(coating.Share > 0 && coating.Share < 1) {
			c.Add(path+".share", "The second chocolate is a share of the sheet, between 0 and 100 %.")
		}
	} else if coating.Share != 0 {
		c.Add(path+".share", "Only the second chocolate of bark has a share: leave it out.")
	}
	byPiece := coating.Role == RoleCoat || coating.Role == RoleDrizzle
	switch {
	case !byPiece && (coating.Each != nil || coating.Thick != nil):
		c.Add(path+".each", "This mass follows from the sizes: leave it out.")
	case coating.Thick != nil && (c.f.Family != Truffle || coating.Role != RoleCoat):
		c.Add(path+".thick", "Only the coat of a truffle can be given by its thickness: write what goes on a piece.")
	case byPiece && (coating.Each == nil) == (coating.Thick == nil):
		c.Add(path+".each", "Say how much of it goes on a piece.")
	case coating.Thick != nil:
		c.length(path+".thick", coating.Thick, 20)
	case byPiece:
		c.Under(path+".each", coating.Each.Check(measure.Mass))
	}
}

func (c *checking) portions(path string, list []Portion) {
	for i, p := range list {
		path := fmt.Sprintf("%s[%d]", path, i)
		if p.Where != In && p.Where != On {
			c.Add(path+".where", "Say where it goes: in or on.")
		} else if p.Where == In && c.f.Family != Bomb && c.f.Family != Moulded {
			c.Add(path+".where", fmt.Sprintf("Nothing goes inside a %s beside its centre: put it on top, or into the mix.", c.f.Family))
		}
		known, ok := c.k.item(p.Ingredient)
		if !ok {
			c.Add(path+".ingredient", "This is not in the larder, nor a mix of yours: choose one that is, or add it first.")
			continue
		}
		if _, err := known.base(p.Each); err != nil {
			c.Add(path+".each", known.name+": "+err.Error())
		}
	}
}

func (c *checking) finishes() {
	if len(c.f.Finishes) > 0 && (c.f.Family == Bark || c.f.Family == Fudge) {
		c.Add("finishes", "A sheet or pan is one design: make another treat for another one.")
		return
	}
	if len(c.f.Finishes) > 12 {
		c.Add("finishes", "A set has at most 12 designs.")
	}
	names := map[string]bool{}
	for i, d := range c.f.Finishes {
		path := fmt.Sprintf("finishes[%d]", i)
		name := strings.ToLower(strings.TrimSpace(d.Name))
		if name == "" || len([]rune(name)) > 60 || names[name] {
			c.Add(path+".name", "Every design has a name of its own, of at most 60 letters.")
		}
		names[name] = true
		if d.Parts < 1 || d.Parts > 1000 {
			c.Add(path+".parts", "A design has at least 1 piece of the set, and at most 1000.")
		}
		roles := []Role{RoleDrizzle}
		if slices.Contains(c.f.Family.roles(), RoleCoat) {
			roles = append(roles, RoleCoat)
		}
		c.coatings(path+".coatings", d.Coatings, roles)
		c.portions(path+".portions", d.Portions)
	}
}

func (c *checking) packs(supplies map[string]string) {
	for i, p := range c.f.Packs {
		path := fmt.Sprintf("packs[%d]", i)
		if _, ok := supplies[p.Supply]; !ok {
			c.Add(path+".supply", "This packaging is not in the larder: choose one that is, or add it there first.")
		}
		if d, ok := p.Amount.Unit.Dimension(); !ok {
			c.Add(path+".amount", (&measure.UnknownUnit{Unit: p.Amount.Unit}).Error())
		} else if d != measure.Count && d != measure.Length {
			c.Add(path+".amount", "Packaging is counted or measured by length: use each or cm.")
		} else if !(p.Amount.Amount > 0) || p.Amount.Amount > 1e6 {
			c.Add(path+".amount", "The amount must be more than 0.")
		}
		if p.Per < 1 || p.Per > 10000 {
			c.Add(path+".per", "It must serve at least 1 and at most 10 000 pieces.")
		}
	}
}

func (c *checking) steps() {
	f := c.f
	if len(f.Steps) == 0 || len(f.Steps) > 50 {
		c.Add("steps", "A treat is made in at least 1 step and at most 50.")
	}
	at := map[string]int{}
	for i, s := range f.Steps {
		at[s.ID] = i
	}
	ids, hands := map[string]bool{}, 0.0
	for i, s := range f.Steps {
		path := fmt.Sprintf("steps[%d]", i)
		if s.ID == "" || len(s.ID) > 40 || ids[s.ID] {
			c.Add(path+".id", "Every step has a short name of its own.")
		}
		ids[s.ID] = true
		if s.Name == "" || len(s.Name) > 200 {
			c.Add(path+".name", "Say what is done, in at most 200 letters.")
		}
		for name, minutes := range map[string]float64{"perBatch": s.PerBatch, "perRound": s.PerRound, "perPiece": s.PerPiece} {
			if !(minutes >= 0 && minutes <= 1440) {
				c.Add(path+"."+name, "Minutes are between 0 and 1440.")
			}
			hands += minutes
		}
		if !slices.Contains([]string{"", "counter", "fridge", "freezer"}, s.Place) {
			c.Add(path+".place", fmt.Sprintf("%q is no place where it can wait: choose counter, fridge or freezer.", s.Place))
		}
		if s.Wait < 0 || s.Wait > 7*1440 {
			c.Add(path+".wait", "Waiting is between 0 minutes and a week.")
		}
		if s.PerTray < 0 || s.PerTray > 10000 {
			c.Add(path+".perTray", "A tray holds between 1 and 10 000 pieces.")
		}
		if s.Pot != "" && !f.has(s.Pot) {
			c.Add(path+".pot", fmt.Sprintf("The step works with the %s chocolate, which the treat does not have.", s.Pot))
		}
		if s.Earliest < 0 || s.Earliest > 7*1440 {
			c.Add(path+".earliest", "The gap before a step is between 0 minutes and a week.")
		}
		if s.Latest != nil && *s.Latest < s.Earliest {
			c.Add(path+".latest", fmt.Sprintf("The gap ends before it begins: at most %d minutes is less than at least %d. Change one of the two.", *s.Latest, s.Earliest))
		}
		if s.Until != "" {
			end, ok := at[s.Until]
			if !ok || end < i {
				c.Add(path+".until", "The moulds are held until a step that comes later: name one of those.")
			}
		}
		for n, a := range s.Adds {
			if a != AddsCentre && a != AddsIn && a != AddsOn {
				c.Add(fmt.Sprintf("%s.adds[%d]", path, n), "What goes in at a step is the centre, what is in it, or what is on it.")
			}
		}
	}
	if len(f.Steps) > 0 && hands == 0 {
		c.Add("steps", "All steps take no time: enter the hands-on minutes.")
	}
}

// fits checks that what goes inside has room there. What has no density cannot be checked, and the card says so.
func (c *checking) fits() {
	if c.f.Family != Bomb && c.f.Family != Moulded {
		return
	}
	room := c.f.room()
	for _, d := range c.f.designs() {
		fills, _ := c.k.fills(c.f, d)
		if fills > room+1e-9 {
			c.Add("portions", fmt.Sprintf("What goes inside fills %s, and the hollow holds %s: take less, a thinner wall, or a larger mould.",
				show(measure.Of(fills, measure.Millilitre)), show(measure.Of(room, measure.Millilitre))))
			return
		}
	}
}

// fills is the volume in mL of what goes inside a piece of a design, and the names of what has no density.
func (k *Kitchen) fills(f *Formula, d Finish) (volume float64, unknown []string) {
	for _, p := range slices.Concat(f.Portions, d.Portions) {
		if p.Where != In {
			continue
		}
		known, _ := k.item(p.Ingredient)
		v, err := p.Each.In(measure.Millilitre, known.substance)
		if err != nil {
			unknown = append(unknown, known.name)
			continue
		}
		volume += v
	}
	return volume, unknown
}

// density of what the centre is made of, g/mL; chocolate's where it is not known and only drawn.
func (k *Kitchen) density(f *Formula) float64 {
	if f.Centre != nil {
		if of, ok := k.item(f.Centre.Of); ok && of.substance.Density > 0 {
			return of.substance.Density
		}
	}
	return chocolate.Density
}
