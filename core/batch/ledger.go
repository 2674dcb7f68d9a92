package batch

import (
	"cmp"
	"math"
	"slices"

	"zestytin/core/chocolate"
	"zestytin/core/family"
	"zestytin/core/food"
	"zestytin/core/ident"
	"zestytin/core/ledger"
	"zestytin/core/si"
	"zestytin/core/treat"
)

// account is what every turn draws from which pot, and the bowls of the batch alone: all of it worked in one go.
type account struct {
	*rounds
	kinds  []*kind // chocolates of the batch, each as it is brought to work
	has    map[roleOf][]*coated
	worked []worked // what is done, in order
	bowls  []ledger.Melt
	uses   [][]int // of each bowl: the indices of worked that draw from it
}

// roleOf a design.
type roleOf struct {
	role   treat.Role
	design int
}

// coated is a chocolate of a design.
type coated struct {
	kind  *kind
	coat  family.Coat
	pool  si.Grams
	share float64 // of a role that is marbled of several; 1 of one alone
}

// coatings of a design that have the role, in the order in which they are laid.
func (a *account) coatings(role treat.Role, design int) []*coated {
	known, ok := a.has[roleOf{role, design}]
	if ok {
		return known
	}
	d := &a.f.Designs()[design]
	layers, all := a.f.CoatingsOf(d, role), 0.0
	marbled := role == treat.RoleShell && len(layers) > 1
	for _, c := range layers {
		all += c.Share
	}
	for _, c := range layers {
		next := &coated{a.kindOf(c), a.law.Coat(a.f, a.k, d, c), treat.Grams(&c.Pool), 1}
		if marbled {
			next.share = c.Share / all
			next.coat.Stays, next.coat.Pour = next.coat.Stays.Times(next.share), next.coat.Pour.Times(next.share)
			next.coat.Trim = next.coat.Trim.Times(next.share)
		}
		n := slices.IndexFunc(known, func(x *coated) bool { return x.kind == next.kind })
		if n < 0 {
			known = append(known, next)
			continue
		}
		// The same chocolate twice is one.
		same := known[n]
		same.coat.Stays, same.coat.Pour = same.coat.Stays+next.coat.Stays, same.coat.Pour+next.coat.Pour
		same.coat.Trim, same.pool = same.coat.Trim+next.coat.Trim, max(same.pool, next.pool)
		same.share = min(same.share+next.share, 1)
	}
	a.has[roleOf{role, design}] = known
	return known
}

// coating of a design that has the role and is of a kind; nil where it has none.
func (a *account) coating(role treat.Role, design int, of *kind) *coated {
	for _, c := range a.coatings(role, design) {
		if c.kind == of {
			return c
		}
	}
	return nil
}

// kind is one chocolate as it is brought to work, with what is stirred in.
type kind struct {
	pot    ledger.Pot
	food   *food.Ingredient
	colour float64 // of tint to a g of the chocolate
	later  float64 // share of the tint that waits until the colour has been judged
	shade  string  // what the tint comes to; empty where it is not said
	seed   float64 // share that is held back
	hold   chocolate.Hold
	own    si.Minutes // minutes of hands that melting takes, as the seller says; 0: by the rule
}

// worked is one step of the making: a turn, and of it what is worked with one chocolate.
type worked struct {
	turn
	part, parts int       // of the chocolates of its turn
	units       []float64 // by design, of those that it is for
	share       float64   // of the hands of its turn that these units take: below 1 where their shell is marbled
	more        bool      // another chocolate of the same units follows
	over        bool      // it is laid beside the chocolate of the part before it
	kind        *kind     // nil where it works with none
	draw        *ledger.Draw
	ready       []*kind // that must be ready before it begins, its own included
}

func (r *rounds) account() *account {
	a := &account{rounds: r, has: map[roleOf][]*coated{}}
	for t := range r.turns {
		a.work(t)
	}
	draws, at := make([]ledger.Draw, 0, len(a.worked)), make([]int, 0, len(a.worked))
	for i := range a.worked {
		if d := a.worked[i].draw; d != nil {
			draws, at = append(draws, *d), append(at, i)
		}
	}
	for _, group := range ledger.Group(draws) {
		own, uses := make([]ledger.Draw, len(group)), make([]int, len(group))
		for n, i := range group {
			own[n], uses[n] = draws[i], at[i]
		}
		if b := ledger.Open(own); b.Used > 0 {
			a.bowls, a.uses = append(a.bowls, ledger.Melt{Bowl: b}), append(a.uses, uses)
		}
	}
	ledger.Carry(a.bowls, nil)
	return a
}

// kindOf a coating.
func (a *account) kindOf(c treat.ChocolateLayer) *kind {
	known := a.item(c.Ingredient)
	of := known.Food.Chocolate
	k := &kind{food: known.Food}
	if c.Minutes != nil {
		k.own = *c.Minutes
	}
	method, source := c.Method, cmp.Or(c.Source, a.k.Source, chocolate.Microwave)
	if method == "" {
		method = a.law.Method(a.f, of.Kind, c.Role)
	}
	bands := of.Temperatures()
	k.pot = ledger.Pot{Ingredient: c.Ingredient, Method: method, Work: chocolate.Working(method, of.Kind, bands),
		Source: source}
	stir := func(s *treat.Stirred) ledger.Stir {
		if s == nil {
			return ledger.Stir{}
		}
		share, _ := family.Share(*s, a.item(s.Ingredient))
		return ledger.Stir{Of: s.Ingredient, Grams: share}
	}
	k.pot.Flavour, k.pot.Thinner = stir(c.Flavour), stir(c.Thinner)
	if t := c.Tint; t != nil {
		first, more := stir(&t.Stirred), family.Later(*t, a.item(t.Ingredient))
		k.pot.Tint, k.colour, k.later, k.shade = first.Of, first.Grams*(1+more), more/(1+more), t.Colour
	}
	if method == chocolate.Seed {
		k.seed = chocolate.SeedShare(bands.Melt.Mid(), bands.Work.Mid(), a.k.AirTemp)
	}
	k.hold = HoldOf(k.pot, *of, a.k.AirTemp)
	for _, other := range a.kinds {
		if other.pot == k.pot && other.colour == k.colour && other.shade == k.shade && other.later == k.later {
			return other
		}
	}
	a.kinds = append(a.kinds, k)
	return k
}

// choice of a role in a turn: a chocolate and the designs that have it, and by design its share of them.
type share struct {
	kind  *kind
	units []float64
	parts []float64
}

// shares of the designs by the chocolate that they have of a role, paler ones first.
func (a *account) shares(role treat.Role, units []float64) []share {
	var list []share
	marbled := false
	for d, begun := range a.at(len(a.f.Steps) - 1) {
		of := a.coatings(role, d)
		if begun == 0 {
			continue
		}
		marbled = marbled || len(of) > 1
		for _, c := range of {
			n := slices.IndexFunc(list, func(s share) bool { return s.kind == c.kind })
			if n < 0 {
				n = len(list)
				list = append(list, share{c.kind, make([]float64, len(units)), make([]float64, len(units))})
			}
			list[n].units[d] = units[d]
			list[n].parts[d] = c.share
			if role != treat.RoleShell { // lines of several chocolates: hands are shared alike
				list[n].parts[d] = 1 / float64(len(of))
			}
		}
	}
	if marbled { // in the order in which they are laid
		return list
	}
	first := map[ledger.Pot]int{} // pots in the order in which the designs name them, in each the paler before the deeper
	for n, s := range list {
		if _, known := first[s.kind.pot]; !known {
			first[s.kind.pot] = n
		}
	}
	slices.SortStableFunc(list, func(x, y share) int {
		return cmp.Or(cmp.Compare(first[x.kind.pot], first[y.kind.pot]), cmp.Compare(x.kind.colour, y.kind.colour))
	})
	return list
}

// work adds what is done in a turn.
func (a *account) work(t turn) {
	w, units := &a.f.Steps[t.step], a.unitsIn(t)
	if w.Trims && w.Pot == "" {
		a.trims(t, units)
		return
	}
	if w.Pot == "" {
		a.worked = append(a.worked, worked{turn: t, parts: 1, units: units, share: 1})
		return
	}
	shares := a.shares(w.Pot, units)
	for n, s := range shares {
		if t.rounds > 1 && sum(s.units) == 0 { // none of it in this round
			continue
		}
		add := worked{turn: t, part: n, parts: len(shares), units: s.units, kind: s.kind, draw: a.draws(t, s),
			ready: []*kind{s.kind}, share: s.weight()}
		for _, other := range shares[n+1:] {
			if s.meets(other) { // marbled: all of it must be ready before the first is laid
				add.more, add.ready = true, treat.Union(add.ready, []*kind{other.kind})
			}
		}
		add.over = n > 0 && s.meets(shares[n-1])
		for _, role := range w.Ready {
			for _, other := range a.shares(role, units) {
				add.ready = treat.Union(add.ready, []*kind{other.kind})
			}
		}
		a.worked = append(a.worked, add)
	}
}

// meets tells whether some pieces have both chocolates.
func (s share) meets(other share) bool {
	for d := range s.units {
		if s.units[d] > 0 && other.units[d] > 0 {
			return true
		}
	}
	return false
}

// weight is the share of the hands that its pieces take: the mean of its shares of them.
func (s share) weight() float64 {
	all := 0.0
	for d, units := range s.units {
		all += units * s.parts[d]
	}
	if units := sum(s.units); units > 0 {
		return all / units
	}
	return 1
}

// partOf a role's chocolate that a step puts on: what it says, or by how many steps work with it, of two the first 60%
// (memory).
func (a *account) partOf(step int) (part float64, first bool) {
	w := &a.f.Steps[step]
	said, silent, before := 0.0, 0, 0
	for i := range a.f.Steps {
		if other := &a.f.Steps[i]; other.Pot == w.Pot {
			if said += other.Part; other.Part == 0 {
				silent++
			}
			if i < step {
				before++
			}
		}
	}
	switch {
	case w.Part > 0:
		return w.Part, before == 0
	case silent == 2 && said == 0:
		return []float64{0.6, 0.4}[min(before, 1)], before == 0
	default:
		return math.Max(1-said, 0) / float64(silent), before == 0
	}
}

// small is the least that melts evenly in a small cup or a bag, as for lines, g (memory).
const small = 30

// draws of a share in a turn.
func (a *account) draws(t turn, s share) *ledger.Draw {
	w := &a.f.Steps[t.step]
	part, first := a.partOf(t.step)
	d := &ledger.Draw{Pot: s.kind.pot, Colour: s.kind.colour, Seed: s.kind.seed, Least: chocolate.LeastMelt,
		Tops: w.Pot == treat.RoleCap, Minutes: s.kind.own}
	if w.Pot == treat.RoleDrizzle && s.kind.pot.Source != chocolate.Bath {
		d.Least = small
	}
	var pour si.Grams
	cells := 0.0
	for i, units := range s.units {
		if units == 0 {
			continue
		}
		c := a.coating(w.Pot, i, s.kind)
		d.Applied += c.coat.Stays.Times(units * part)
		d.Pool = max(d.Pool, c.pool)
		if c.coat.Pour > 0 && first && a.lay.Moulds != nil {
			pour, cells = c.coat.Pour, cells+units*float64(a.lay.Moulds.Each)
		}
	}
	if cells > 0 {
		d.Fill = &ledger.Fill{Cavities: int(math.Round(cells)), Mould: a.lay.Moulds.Cavities, Pour: pour}
	}
	through := a.law.Folds(a.f, w.Pot)
	if dip, ok := a.law.Dips(a.f, a.k, w.Pot); ok {
		d.Damp = dip.Fresh
		for i, units := range s.units {
			if c := a.f.CentreOf(&a.f.Designs()[i]); c != nil && units > 0 {
				through = treat.Union(through, []ident.Ingredient{c.Of})
			}
		}
	}
	d.Touches = a.touches(s.kind, through)
	return d
}

// touches are the allergens that what goes through a bowl leaves in it, beyond those of its chocolate.
func (a *account) touches(k *kind, through []ident.Ingredient) []string {
	var list []string
	for _, of := range through {
		for _, id := range a.k.Uses(of) {
			list = treat.Union(list, a.k.Ingredients[id].Allergens)
		}
	}
	list = slices.DeleteFunc(list, func(x string) bool { return slices.Contains(k.food.Allergens, x) })
	slices.Sort(list)
	return list
}

// trims are the rims that come off and go back into the pot of the shells: of shells of several chocolates, each into
// its own.
func (a *account) trims(t turn, units []float64) {
	first := len(a.worked)
	for _, s := range a.shares(treat.RoleShell, units) {
		if t.rounds > 1 && sum(s.units) == 0 {
			continue
		}
		w := worked{turn: t, units: s.units, share: s.weight()}
		d := ledger.Draw{Pot: s.kind.pot, Colour: s.kind.colour}
		for i, n := range s.units {
			if c := a.coating(treat.RoleShell, i, s.kind); c != nil {
				d.Trimmed += c.coat.Trim.Times(n)
			}
		}
		if d.Trimmed > 0 {
			w.draw = &d
		}
		a.worked = append(a.worked, w)
	}
	if len(a.worked) == first {
		a.worked = append(a.worked, worked{turn: t, units: units, share: 1})
	}
	for i := range a.worked[first:] {
		a.worked[first+i].part, a.worked[first+i].parts = i, len(a.worked)-first
	}
}

// melts is what a step would have to melt for itself and all that comes after it in the batch from the same pot.
type melts struct {
	grams   si.Grams
	minutes float64    // of hands
	holds   si.Minutes // minutes that so much holds
}

// meltsAt tells for every worked step and each kind that it must have ready what melting it then would take. It goes
// through the steps from the last to the first.
func (a *account) meltsAt() [][]melts {
	type rest struct{ takes, standing, least si.Grams }
	rests := map[ledger.Pot]*rest{}
	list := make([][]melts, len(a.worked))
	for i := len(a.worked) - 1; i >= 0; i-- {
		w := &a.worked[i]
		if d := w.draw; d != nil {
			r := rests[d.Pot]
			if r == nil {
				r = &rest{}
				rests[d.Pot] = r
			}
			r.takes += d.Applied * (1 + ledger.OnTools)
			r.standing, r.least = max(r.standing, d.Pool), max(r.least, d.Least)
			if d.Fill != nil {
				r.standing = max(r.standing, (d.Fill.Pour - d.Keep()).Times(
					float64(min(d.Fill.Mould, d.Fill.Cavities))))
			}
		}
		for _, k := range w.ready {
			m := melts{}
			if r := rests[k.pot]; r != nil {
				m.grams = max(r.takes+r.standing, r.least)
			}
			m.minutes, m.holds = k.minutes(m.grams), k.hold.Minutes(m.grams)
			list[i] = append(list[i], m)
		}
	}
	return list
}

// minutes of hands that melting so much of it takes.
func (k *kind) minutes(grams si.Grams) float64 {
	return Melting(k.pot, *k.food.Chocolate, k.own, grams, k.hold.Room).Hands
}

// Melting is how long so much of what may be poured together takes to melt in a room of so many C: own is the seller's
// own minutes of hands, 0 where the rule holds.
func Melting(p ledger.Pot, of food.Chocolate, own si.Minutes, grams si.Grams, room float64) chocolate.Melting {
	bands := of.Temperatures()
	to := bands.Melt.Mid()
	switch p.Method {
	case chocolate.Gentle:
		to = chocolate.Ceiling(bands)
	case chocolate.NoTemper:
		to = p.Work.To
	}
	m := chocolate.Minutes(p.Source, p.Method, grams, to, room)
	if own > 0 {
		m.Hands = float64(own)
		m.Melts = math.Max(m.Melts, m.Hands)
	}
	return m
}

// HoldOf is how what may be poured together stands in a room of so many C.
func HoldOf(p ledger.Pot, of food.Chocolate, room float64) chocolate.Hold {
	return chocolate.Hold{Source: p.Source, Method: p.Method, Kind: of.Kind, Bands: of.Temperatures(), Room: room}
}
