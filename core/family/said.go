package family

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"

	"zestytin/core/chocolate"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/invalid"
	"zestytin/core/measure"
	"zestytin/core/reason"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// As is how a recipe gives an amount that a formula has in another way.
type As string

const (
	AsMakes  As = "makes"  // the mix of the centre, as it is written, makes so many
	AsCovers As = "covers" // so much chocolate covers so many
	AsFills  As = "fills"  // so much chocolate, and of a filled piece so much filling and cap, fill so many
	AsSpread As = "spread" // so much, and of a bark of two chocolates so much of the second, fill the sheet or pan
	AsInside As = "inside" // so much filling, or the mix as it is written, fills so many
	AsCocoa  As = "cocoa"  // of a chocolate with at least so many percent of cocoa
)

// AllAs are the ways that there are.
func AllAs() []As { return []As{AsMakes, AsCovers, AsFills, AsSpread, AsInside, AsCocoa} }

// Saying is an amount as a recipe says it: "makes 16 to 18", "8 oz and 8 oz on this sheet", "300 g fill 14 cavities".
// Amounts are in the order of As; UpTo is the end of a range, 0 where there is none.
type Saying struct {
	As      As                 `json:"as"`
	Amounts []measure.Quantity `json:"amounts,omitempty"`
	Count   int                `json:"count,omitempty"`
	UpTo    int                `json:"upTo,omitempty"`
}

// Solved is a formula as a recipe said it: which numbers were given, and which follow.
type Solved struct {
	Formula *treat.Formula  `json:"formula"`
	Given   reason.Reason   `json:"given"`
	Follows []reason.Reason `json:"follows"`
}

// SaidAs are the ways in which a recipe can say the amounts of a formula.
func SaidAs(f *treat.Formula, k *treat.Inputs) []As {
	list := []As{}
	law, is := LawOf(f), LawOf(f).Traits()
	if c := f.Centre; c != nil && is.Thick {
		if of, ok := k.Item(c.Of); ok && of.Mix != nil {
			list = append(list, AsMakes)
		}
	}
	if slices.Contains(law.Roles(), treat.RoleCoat) && f.Has(treat.RoleCoat) {
		list = append(list, AsCovers)
	}
	if f.Shell != nil || f.Mould != nil {
		list = append(list, AsFills)
	}
	if f.Sheet != nil {
		list = append(list, AsSpread)
	}
	if f.Mould != nil && f.Centre != nil || f.Shell != nil && firstInside(f) >= 0 {
		list = append(list, AsInside)
	}
	if of, ok := mainChocolate(f, k); ok && of.Chocolate.Kind == chocolate.Real {
		list = append(list, AsCocoa)
	}
	return list
}

// firstInside is the index of what goes into a bomb first, by an amount; -1 where nothing does.
func firstInside(f *treat.Formula) int {
	return slices.IndexFunc(f.Portions, func(p treat.Addition) bool { return p.Where == treat.In && !p.Rest })
}

// mainChocolate of a formula; false where it has none.
func mainChocolate(f *treat.Formula, k *treat.Inputs) (food.Ingredient, bool) {
	n := slices.IndexFunc(f.Coatings, func(c treat.ChocolateLayer) bool { return c.Role == LawOf(f).Main() })
	if n < 0 {
		return food.Ingredient{}, false
	}
	of, ok := k.Ingredients[f.Coatings[n].Ingredient]
	return of, ok && of.Chocolate != nil
}

// cocoa is the percent of cocoa that the name of a chocolate says, as labels do; 0 where it does not.
func cocoa(of food.Ingredient) int {
	found := percent.FindStringSubmatch(of.Name)
	if found == nil {
		return 0
	}
	n, _ := strconv.Atoi(found[1])
	return n
}

var percent = regexp.MustCompile(`\b(\d{1,3}) ?%`)

// Solve the numbers of a formula from what a recipe says; its steps follow. The formula has passed Check; it is not
// changed. The error is an *invalid.Error with paths from the saying.
func Solve(f *treat.Formula, k *treat.Inputs, s Saying, called Called) (*Solved, error) {
	var faults invalid.Faults
	if !slices.Contains(SaidAs(f, k), s.As) {
		faults.Add("as", reason.Of("family.is-not-said-so", reason.Word(Term(f.Family)), oneOf(SaidAs(f, k))))
		return nil, faults.Err()
	}
	if s.As != AsSpread {
		if s.As == AsCocoa && (s.Count < 1 || s.Count > 100) {
			faults.Add("count", reason.Of("family.said-percent-between"))
		} else if s.Count < 1 || s.Count > 10000 {
			faults.Add("count", reason.Of("family.said-count-between"))
		} else if s.UpTo != 0 && (s.UpTo < s.Count || s.UpTo > 10000) {
			faults.Add("upTo", reason.Of("family.said-range-ends-before"))
		}
	}
	amounts := make([]si.Grams, 3)
	asWritten := s.As == AsMakes || s.As == AsCocoa || s.As == AsInside || s.As == AsSpread && f.Centre != nil
	if len(s.Amounts) > len(amounts) || len(s.Amounts) == 0 && !asWritten {
		faults.Add("amounts", reason.Of("family.say-how-much"))
	}
	for i, q := range s.Amounts {
		if err := q.Check(measure.Mass); err != nil {
			faults.Under(fmt.Sprintf("amounts[%d]", i), err)
		} else if i < len(amounts) {
			amounts[i] = treat.Grams(&q)
		}
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	solved := &Solved{Formula: f}
	switch s.As {
	case AsMakes:
		solved.makes(k, s)
	case AsCovers:
		solved.covers(amounts[0], s)
	case AsFills:
		faults.Under("amounts", solved.fills(k, amounts, s))
	case AsSpread:
		faults.Under("amounts", solved.spread(k, amounts, len(s.Amounts)))
	case AsInside:
		faults.Under("amounts", solved.inside(k, amounts[0], s))
	case AsCocoa:
		faults.Under("count", solved.cocoa(k, s.Count))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	// A cap that comes or goes takes its steps along.
	solved.Formula.Steps = Follow(f.Steps, f, solved.Formula, called)
	return solved, nil
}

// pieces of a saying: of a range its middle.
func (s Saying) pieces() float64 {
	if s.UpTo > s.Count {
		return float64(s.Count+s.UpTo) / 2
	}
	return float64(s.Count)
}

func (s Saying) counted() reason.Value {
	if s.UpTo > s.Count {
		return reason.Of("family.said-range", reason.Int(s.Count), reason.Int(s.UpTo))
	}
	return reason.Int(s.Count)
}

// rounded to a tenth of a gram: a recipe is not finer.
func rounded(g si.Grams) *measure.Quantity {
	q := measure.Grams(si.Grams(math.Round(float64(g)*10) / 10))
	return &q
}

func hundredths(x float64, u measure.Unit) measure.Quantity {
	return measure.Of(math.Round(x*100)/100, u)
}

// makes so many of the mix as it is written: a piece is its yield over them.
func (s *Solved) makes(k *treat.Inputs, say Saying) {
	f := *s.Formula
	centre := *f.Centre
	of, _ := k.Item(centre.Of)
	yields := of.Mix.Weigh(k).Yield
	centre.Across, centre.Each = nil, rounded(yields.By(say.pieces()))
	f.Centre, s.Formula = &centre, &f
	s.Given = reason.Of("family.given-makes", reason.Name(of.Name), measure.ShowGrams(yields), say.counted())
	s.Follows = []reason.Reason{reason.Of("family.follows-centre", measure.ShowGrams(treat.Grams(centre.Each)))}
}

// covers so many: on each is so much over them. What stays on tools is reckoned beside it, and so it is taken off.
func (s *Solved) covers(all si.Grams, say Saying) {
	f := *s.Formula
	f.Coatings = slices.Clone(f.Coatings)
	each := all.By(say.pieces())
	for i := range f.Coatings {
		if f.Coatings[i].Role == treat.RoleCoat {
			f.Coatings[i].Each, f.Coatings[i].Thick = rounded(each), nil
			break
		}
	}
	s.Formula, s.Given = &f, reason.Of("family.given-covers", measure.ShowGrams(all), say.counted())
	s.Follows = []reason.Reason{reason.Of("family.follows-coat", measure.ShowGrams(each))}
}

// fills so many: of a bomb the chocolate of a shell, of a moulded piece the share of shell and cap in its cavity, or
// where only chocolate is given the cavity itself.
func (s *Solved) fills(k *treat.Inputs, g []si.Grams, say Saying) error {
	f := *s.Formula
	n := say.pieces()
	if f.Shell != nil {
		shell := *f.Shell
		shell.Wall, shell.Mass = nil, rounded(g[0].By(n))
		f.Shell, s.Formula = &shell, &f
		s.Given = reason.Of("family.given-fills", measure.ShowGrams(g[0]), say.counted())
		s.Follows = []reason.Reason{reason.Of("family.follows-shell", measure.ShowGrams(treat.Grams(shell.Mass)),
			measure.Show(measure.Of(wall(&f), measure.Millimetre), measure.Substance{}))}
		return nil
	}
	mould := *f.Mould
	s.Given = reason.Of("family.given-fills", measure.ShowGrams(g[0]), say.counted())
	if g[1] == 0 && g[2] == 0 { // solid: the cavity follows
		mould.Volume = new(hundredths(float64(g[0].By(n))/chocolate.Density, measure.Millilitre))
		mould.Cavity, mould.Shell, mould.Cap = nil, 1, 0
		f.Mould, f.Centre, s.Formula = &mould, nil, &f
		f.Coatings = slices.DeleteFunc(slices.Clone(f.Coatings), func(c treat.ChocolateLayer) bool {
			return c.Role == treat.RoleCap
		})
		s.Follows = []reason.Reason{reason.Of("family.follows-cavity", measure.Show(*mould.Volume,
			measure.Substance{}))}
		return nil
	}
	if f.Centre == nil {
		return reason.Of("family.said-filling-has-none")
	}
	// A filled cavity is as large as what is in it.
	shell, filling, cap := float64(g[0].By(n))/chocolate.Density, float64(g[1].By(n))/k.Density(f.Centre.Of),
		float64(g[2].By(n))/chocolate.Density
	volume := shell + filling + cap
	mould.Volume, mould.Cavity = new(hundredths(volume, measure.Millilitre)), nil
	mould.Shell, mould.Cap = shell/volume, cap/volume
	s.Given = reason.Of("family.given-fills-filled", measure.ShowGrams(g[0]), measure.ShowGrams(g[1]),
		measure.ShowGrams(g[2]), say.counted())
	f.Mould, s.Formula = &mould, &f
	f.Coatings = slices.Clone(f.Coatings)
	capped := slices.IndexFunc(f.Coatings, func(c treat.ChocolateLayer) bool { return c.Role == treat.RoleCap })
	switch {
	case mould.Cap == 0 && capped >= 0:
		f.Coatings = slices.Delete(f.Coatings, capped, capped+1)
	case mould.Cap > 0 && capped < 0:
		f.Coatings = append(f.Coatings, treat.ChocolateLayer{Role: treat.RoleCap, Ingredient: f.Coatings[0].Ingredient,
			Pool: Begins().CapPool})
	}
	s.Follows = []reason.Reason{reason.Of("family.follows-cavity", measure.Show(*mould.Volume, measure.Substance{})),
		reason.Of("family.follows-shares", reason.Share(mould.Shell), reason.Share(mould.Cap))}
	return nil
}

// spread on the sheet, or poured into the pan: its depth follows, and of two chocolates the share of the second.
func (s *Solved) spread(k *treat.Inputs, g []si.Grams, said int) error {
	f := *s.Formula
	sheet := *f.Sheet
	area := treat.Millimetres(sheet.Length) * treat.Millimetres(sheet.Width) / 100 // cm2
	rho, all := chocolate.Density, g[0]+g[1]
	var of treat.Item
	if f.Centre != nil {
		of, _ = k.Item(f.Centre.Of)
		rho = k.Density(f.Centre.Of)
		if said == 0 { // the mix as it is written
			if of.Mix == nil {
				return reason.Of("family.say-how-much")
			}
			all = of.Mix.Weigh(k).Yield
		}
	}
	depth := float64(all) / rho / area * 10
	sheet.Depth = hundredths(depth, measure.Millimetre)
	f.Sheet, s.Formula = &sheet, &f
	s.Given = reason.Of("family.given-spread", measure.ShowGrams(all))
	s.Follows = []reason.Reason{reason.Of("family.follows-depth", measure.Show(sheet.Depth, measure.Substance{}))}
	if g[1] == 0 {
		return nil
	}
	at := slices.IndexFunc(f.Coatings, func(c treat.ChocolateLayer) bool { return c.Role == treat.RoleLayer })
	if at < 0 {
		return reason.Of("family.said-second-has-none")
	}
	f.Coatings = slices.Clone(f.Coatings)
	f.Coatings[at].Share = g[1].Over(all)
	s.Given = reason.Of("family.given-spread-two", measure.ShowGrams(g[0]), measure.ShowGrams(g[1]))
	s.Follows = append(s.Follows, reason.Of("family.follows-second", reason.Share(f.Coatings[at].Share)))
	return nil
}

// inside of so many: of a moulded piece the shell is what the filling leaves, of a bomb so much goes into each.
func (s *Solved) inside(k *treat.Inputs, all si.Grams, say Saying) error {
	f := *s.Formula
	id := ident.Ingredient("")
	if f.Mould != nil {
		id = f.Centre.Of
	} else {
		id = f.Portions[firstInside(&f)].Ingredient
	}
	of, _ := k.Item(id)
	if all == 0 {
		if of.Mix == nil {
			return reason.Of("family.say-how-much")
		}
		all = of.Mix.Weigh(k).Yield
	}
	each := all.By(say.pieces())
	s.Given = reason.Of("family.given-inside", measure.ShowGrams(all), reason.Name(of.Name), say.counted())
	s.Follows = []reason.Reason{reason.Of("family.follows-inside", measure.ShowGrams(each))}
	s.Formula = &f
	if f.Shell != nil {
		f.Portions = slices.Clone(f.Portions)
		f.Portions[firstInside(&f)].Each = *rounded(each)
		return nil
	}
	mould := *f.Mould
	share := float64(each) / k.Density(id) / mould.Millilitres()
	if mould.Shell = 1 - mould.Cap - share; mould.Shell <= 0 {
		return reason.Of("family.more-than-a-cavity-holds", measure.ShowGrams(each),
			measure.Show(measure.Of(mould.Millilitres(), measure.Millilitre), measure.Substance{}))
	}
	f.Mould = &mould
	s.Follows = append(s.Follows, reason.Of("family.follows-shares", reason.Share(mould.Shell),
		reason.Share(mould.Cap)))
	return nil
}

// cocoa of at least so many percent: the chocolate of the kitchen, of the colour of the one that it is made of, whose name
// says the least that is enough.
func (s *Solved) cocoa(k *treat.Inputs, least int) error {
	f := *s.Formula
	now, _ := mainChocolate(&f, k)
	var best food.Ingredient
	for _, of := range k.Ingredients {
		if of.Chocolate == nil || of.Chocolate.Kind != chocolate.Real || of.Chocolate.Colour != now.Chocolate.Colour ||
			cocoa(of) < least {
			continue
		}
		if best.ID == "" || cocoa(of) < cocoa(best) || cocoa(of) == cocoa(best) && of.Name < best.Name {
			best = of
		}
	}
	if best.ID == "" {
		return reason.Of("family.no-chocolate-of-so-much-cocoa", reason.Word(now.Chocolate.Colour), reason.Int(least))
	}
	f.Coatings = slices.Clone(f.Coatings)
	for i := range f.Coatings {
		if f.Coatings[i].Ingredient == now.ID {
			f.Coatings[i].Ingredient = best.ID
		}
	}
	s.Formula, s.Given = &f, reason.Of("family.given-cocoa", reason.Int(least))
	s.Follows = []reason.Reason{reason.Of("family.follows-cocoa", reason.Name(best.Name))}
	return nil
}
